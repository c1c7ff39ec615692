"""The commands that serve the application and make its tutors."""

from __future__ import annotations

import os
import signal
import sys
from dataclasses import replace
from pathlib import Path
from threading import Thread
from typing import TYPE_CHECKING, Any
from urllib.parse import urlsplit

import click

from aspectum.language import say

if TYPE_CHECKING:
    from flask import Flask

    from aspectum.settings import Settings

EVERYWHERE = ("0.0.0.0", "::")  # of all addresses of this machine
LOOPBACK = ("127.0.0.1", "localhost", "::1")


@click.command()
@click.option("--host", default="127.0.0.1", show_default=True)
@click.option("--port", default=8340, show_default=True, help="0 picks a free port.")
@click.option(
    "--data",
    type=click.Path(path_type=Path),
    default=None,
    help="Folder of the database and pictures; ASPECTUM_DATA or ./data by default.",
)
@click.option(
    "--classroom",
    is_flag=True,
    help="Serve a class in the school's own network, and show where: its addresses and a QR code.",
)
@click.option(
    "--demo", is_flag=True, help="Fill an empty database with the demo class and its sheets; on this machine only."
)
@click.option(
    "--proxy",
    default=None,
    help="Address of the TLS proxy in front, such as 127.0.0.1, whose X-Forwarded headers are believed.",
)
@click.option(
    "--processes",
    default=None,
    type=click.IntRange(0, 64),
    help="That compute beside the server's own: one for each processor, none on this machine alone.",
)
@click.option(
    "--log", "log_requests", is_flag=True, help="Write a line for every request, not only for failures and slow ones."
)
def serve(
    host: str,
    port: int,
    data: Path | None,
    classroom: bool,
    demo: bool,
    proxy: str | None,
    processes: int | None,
    log_requests: bool,
) -> None:
    """Serve the application.

    For a lesson on the school's own network: --classroom. Beyond that, put a TLS proxy in front, pass its address as
    --proxy, and set ASPECTUM_ADDRESS to the https address that people use (docs/security.md shows how).
    """
    from aspectum import machine_code
    from aspectum.service.paper import recorded_again
    from aspectum.service.people.people import class_exists
    from aspectum.service.school import hand_ins
    from aspectum.web.log import begin
    from aspectum.web.serving import allow_files

    begin(log_requests)
    allow_files()
    if classroom and (host != "127.0.0.1" or proxy):
        raise click.ClickException(
            say(
                "--classroom finds this machine's addresses by itself, and has no proxy in front: leave --host and "
                "--proxy out"
            )
        )
    if classroom:
        host = EVERYWHERE[0]
    settings, addresses = allowed(data, host, classroom, proxy, demo, processes)
    app = opened_app(settings, demo)
    server = listening(app, host, port, proxy)
    at_port = getattr(server, "effective_port", port)
    if classroom:
        # what is shown on the projector leads there, also where the tutor's own browser asked at 127.0.0.1
        app.extensions["aspectum settings"] = replace(
            settings, address=settings.address or f"http://{addresses[0]}:{at_port}"
        )
    elif not settings.loopback and proxy is None:
        click.echo(
            say(
                "Without TLS everything goes over the network in the clear, passphrases too. Put a TLS proxy in "
                "front, pass its address as --proxy, and set ASPECTUM_ADDRESS; docs/security.md shows how."
            ),
            err=True,
        )
    recorded_again.begin(app.extensions["aspectum"])
    Thread(
        target=hand_ins.judge_waiting,
        args=(app.extensions["aspectum"].sessions,),
        name="judges what waits",
        daemon=True,
    ).start()
    machine_code.make_ready()
    open_at = [f"http://{at}:{at_port}/" for at in addresses or [host]]
    if classroom:
        with app.extensions["aspectum"].sessions() as session:
            begun = class_exists(session)
        click.echo(classroom_words(open_at, begun))
    else:
        click.echo(say("Aspectum is at {open_at}  (stop with Ctrl+C)", open_at="  and  ".join(open_at)))
    # as Ctrl+C: what is being answered is answered, for some seconds
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    server.run()
    app.extensions["aspectum"].computing.workers.close()


def allowed(
    data: Path | None, host: str, classroom: bool, proxy: str | None, demo: bool, processes: int | None
) -> tuple[Settings, list[str]]:
    """The settings to serve with, and this machine's addresses where it is open on all of them. Raises
    ``ClickException`` for what would let others in: the demo beyond this machine, a secret that anybody knows.
    """
    from aspectum.settings import settings_from_environment
    from aspectum.store.secret import is_weak
    from aspectum.web.own_addresses import own_addresses, own_names

    settings = settings_from_environment(data)
    inside = host in LOOPBACK and proxy is None
    if not inside and demo:
        raise click.ClickException(
            say(
                "the demo signs people in without a passphrase; it is served on this machine only, without "
                "--classroom, --host and --proxy"
            )
        )
    addresses = own_addresses() if host in EVERYWHERE and proxy is None else []
    if classroom and not addresses:
        raise click.ClickException(
            say("this machine is in no network: connect it to the one that the class is in, and start again")
        )
    if not inside and settings.secret and is_weak(settings.secret):
        raise click.ClickException(
            say(
                "ASPECTUM_SECRET is the one from the documents, or shorter than 32 characters; with it anybody could "
                "sign cookies and links. Leave it out, and a random one is kept in the data folder, or set one from: "
                "python3 -c 'import secrets; print(secrets.token_urlsafe(48))'"
            )
        )
    if processes is None:
        processes = 0 if inside else os.cpu_count() or 1
    settings = replace(settings, loopback=inside, one_click=demo, processes=processes)
    # a foreign page can be given a name that leads here, but no page can be given this machine's own address
    for name in (host, urlsplit(settings.address).hostname, *addresses, *(own_names() if classroom else ())):
        if name and name not in (*settings.hosts, *EVERYWHERE):
            settings = replace(settings, hosts=(*settings.hosts, name))
    return settings, addresses


def opened_app(settings: Settings, demo: bool) -> Flask:
    """The application on its data folder, with the ``demo``'s class in it where that is asked for. Raises
    ``ClickException`` for a folder or database that cannot be used.
    """
    from sqlalchemy.exc import DBAPIError

    from aspectum.service.errors import NoRoom
    from aspectum.web.app import create_app

    try:
        app = create_app(settings)
        if demo:
            from aspectum.demo.filled import put_demo

            put_demo(app.extensions["aspectum"])
    except (OSError, DBAPIError, NoRoom) as error:
        what = str(error.orig) if isinstance(error, DBAPIError) else getattr(error, "strerror", None) or str(error)
        raise click.ClickException(
            say(
                "the data folder {data} cannot be used: {what}. Make room on its disk and see that you may write "
                "there, or name another with --data.",
                data=settings.data,
                what=what,
            )
        ) from error
    return app


def listening(app: Flask, host: str, port: int, proxy: str | None) -> Any:
    """A server at a port, not yet running. Raises ``ClickException`` where the port cannot be used."""
    from aspectum.web.serving import make_server

    try:
        return make_server(app, host, port, proxy=proxy)
    except OSError as error:
        raise click.ClickException(
            say(
                "port {port} on {host} cannot be used: {strerror}",
                port=port,
                host=host,
                strerror=error.strerror or error,
            )
        ) from error


def classroom_words(open_at: list[str], begun: bool) -> str:
    """What a tutor is told who serves a class: where it is open, the first address as a QR code, what goes in the
    clear, and, where there is none yet, how to make a class.
    """
    from aspectum.service.pages.qr import qr_text

    further = "".join(f"\n  or  {address}" for address in open_at[1:])
    make = (
        ""
        if begun
        else say(
            '\nThere is no class here yet, and nobody is let in before: stop, run  aspectum tutor "Your name"  and '
            "start again.\n"
        )
    )
    return say(
        "Aspectum is open to the room at\n\n      {open_at}{further}\n\n{open_at2}\n{make}What goes over this network "
        "is not encrypted: names, passphrases, photos and drawings can be read along by whoever shares it. Use it in "
        "a network that you trust, with passphrases that are used nowhere else, for the lesson, and stop it "
        "afterwards with Ctrl+C.\nIf a student's browser does not get there, this machine's firewall may have to let "
        "it in, and both must be in the same network.",
        open_at=open_at[0],
        further=further,
        open_at2=qr_text(open_at[0]),
        make=make,
    )


@click.command()
@click.argument("name")
@click.option("--class", "class_name", prompt="Name of the class", help="Name of the class to make.")
@click.option(
    "--passphrase",
    prompt=True,
    hide_input=True,
    confirmation_prompt=True,
    help="Asked for when left out, and then in no history of the shell.",
)
@click.option(
    "--data",
    type=click.Path(path_type=Path),
    default=None,
    help="Folder of the database and pictures; ASPECTUM_DATA or ./data by default.",
)
def tutor(name: str, class_name: str, passphrase: str, data: Path | None) -> None:
    """Make NAME a tutor with a class of their own, and print the code that students join it by.

    The first tutor takes over what was made here without signing in. From then on everyone signs in.
    """
    from sqlalchemy.exc import DBAPIError

    from aspectum.service.errors import Unfit
    from aspectum.service.people.people import settle_in
    from aspectum.service.school.classes import one_more_tutor
    from aspectum.settings import settings_from_environment
    from aspectum.store.database import migrate, open_engine, session_factory
    from aspectum.store.privacy import make_private

    settings = settings_from_environment(data)
    try:
        make_private(settings.data, settings.picture_folder, settings.database_file)
        engine = open_engine(settings.database_url)
        migrate(engine)
        sessions = session_factory(engine)
        settle_in(sessions)
        with sessions.begin() as session:
            person, made = one_more_tutor(session, name, passphrase, class_name)
            click.echo(
                say(
                    "{name} is tutor of {name2}. Students join with the code {code}-{code2}.",
                    name=person.name,
                    name2=made.name,
                    code=made.code[:4],
                    code2=made.code[4:],
                )
            )
    except Unfit as error:
        raise click.ClickException(str(error)) from error
    except (OSError, DBAPIError) as error:
        raise click.ClickException(
            say("the data folder {data} cannot be used: {error}", data=settings.data, error=error)
        ) from error
