"""The commands that look after an installation: backup, restore, doctor."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import TYPE_CHECKING

import click

from aspectum.language import figure, say

if TYPE_CHECKING:
    from aspectum.settings import Settings
    from aspectum.store.backup import Progress

DATA = click.option(
    "--data",
    type=click.Path(path_type=Path),
    default=None,
    help="Folder of the database and pictures; ASPECTUM_DATA or ./data by default.",
)


@click.command()
@click.argument("to", type=click.Path(path_type=Path, dir_okay=False))
@DATA
def backup(to: Path, data: Path | None) -> None:
    """Write everything, database and pictures, into the new file TO, also while it is served.

    The secret that cookies are signed with is not in it: after a restore on another machine everybody signs in once
    more.
    """
    from aspectum.settings import settings_from_environment
    from aspectum.store.backup import BackupError, back_up
    from aspectum.store.picture_files import PictureFiles

    settings = settings_from_environment(data)
    try:
        made = back_up(
            sqlite_of(settings, say("pg_dump and a copy of the picture folder")),
            PictureFiles(settings.picture_folder),
            to,
            progress_line(say("Packing pictures")),
        )
    except (BackupError, OSError) as error:
        raise click.ClickException(say("no backup was made: {error}", error=error)) from error
    click.echo(
        say(
            "{to}: schema {schema}, {pictures} picture files, {st_size} MB.",
            to=to,
            schema=made.schema,
            pictures=made.pictures,
            st_size=figure(to.stat().st_size / (1 << 20), 1),
        )
    )
    if made.missing:
        click.echo(
            say(
                "{missing} pictures are not on the disk any more: {name}.",
                missing=len(made.missing),
                name=", ".join(name[:8] for name in made.missing[:5]),
            ),
            err=True,
        )


@click.command()
@click.argument("file", type=click.Path(path_type=Path, exists=True, dir_okay=False))
@DATA
@click.option("--yes", is_flag=True, help="Do not ask before what is there is replaced.")
def restore(file: Path, data: Path | None, yes: bool) -> None:
    """Put the backup FILE in place of what is there, also while it is served.

    Every part is proved first; what is there now is backed up beside the data folder's database before anything
    changes.
    """
    from datetime import datetime

    from sqlalchemy.exc import DBAPIError

    from aspectum.settings import settings_from_environment
    from aspectum.store.backup import BackupError, back_up, put_back
    from aspectum.store.database import migrate, newest_schema, open_engine
    from aspectum.store.picture_files import PictureFiles
    from aspectum.store.privacy import make_private

    settings = settings_from_environment(data)
    database = sqlite_of(settings, say("pg_restore and a copy of the picture folder"))
    there = database.exists() and database.stat().st_size > 0
    if there and not yes:
        click.confirm(say("Replace all that is in {data} by {file}?", data=settings.data, file=file), abort=True)
    try:
        make_private(settings.data, settings.picture_folder, database)
        files = PictureFiles(settings.picture_folder)

        def keep_what_is_there() -> None:
            if there:
                kept = settings.data / f"before-restore-{datetime.now():%Y%m%d-%H%M%S-%f}.zip"
                back_up(database, files, kept)
                click.echo(say("What was there is kept in {kept}.", kept=kept))

        manifest = put_back(
            file, database, files, newest_schema(), keep_what_is_there, progress_line(say("Proving its parts"))
        )
        migrate(open_engine(settings.database_url))
    except (BackupError, OSError, DBAPIError) as error:
        raise click.ClickException(say("nothing was put back: {error}", error=error)) from error
    click.echo(
        say(
            "Put back as it was on {at} UTC. Pages that are open ask before they overwrite anything.",
            at=manifest.at[:16].replace("T", " "),
        )
    )


@click.command()
@DATA
def doctor(data: Path | None) -> None:
    """Say what is wrong with an installation, and what to do. Exits 1 where something is."""
    from aspectum.service.runtime.doctor import Looked, State, examine
    from aspectum.settings import settings_from_environment
    from aspectum.web.app import FRONT_END

    settings = settings_from_environment(data)
    where = Looked(settings.data, settings.database_file, settings.picture_folder, FRONT_END, settings.secret)
    wrong = False
    for checked in examine(where):
        mark = {State.FINE: "✓", State.LOOK: "?", State.WRONG: "✗"}[checked.state]
        click.echo(f"{mark} {checked.what:<12} {checked.words}")
        wrong |= checked.state is State.WRONG
    sys.exit(1 if wrong else 0)


def sqlite_of(settings: Settings, instead: str) -> Path:
    """The database's file. Raises where it is another engine's."""
    if settings.database_file is None:
        raise click.ClickException(say("the database is not SQLite; use {instead}", instead=instead))
    return settings.database_file


def progress_line(what: str) -> Progress:
    """Progress on a terminal: a line that counts."""

    def tell(done: int, of: int) -> None:
        if sys.stderr.isatty():
            click.echo(say("\r{what}: {done} of {of}", what=what, done=done, of=of), nl=done == of, err=True)

    return tell
