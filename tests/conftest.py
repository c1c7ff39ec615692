"""Shared fixtures: an application on an empty data folder, and one with the demo sheets, served."""

from __future__ import annotations

import fcntl
import os
import threading
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest
from flask import Flask
from flask.testing import FlaskClient
from hypothesis import settings as hypothesis_settings
from playwright.sync_api import expect
from waitress import wasyncore

from aspectum.demo.fill import PHOTOS, fill
from aspectum.demo.filled import put_demo
from aspectum.language import ENGLISH, speak
from aspectum.settings import Settings
from aspectum.web.app import create_app
from aspectum.web.serving import make_server
from tests import computing_watch
from tests.databases import copy_folder, drop_made, keep, made, url_in
from tests.pictures_once import keep_pictures, read_anew
from tests.routes_once import keep_routes
from tests.school import School, open_school, reopened

# the same examples each time, so that a failure is the change's own; `make bench` looks at fresh ones
# (and no example is held against the clock: how busy the machine is is nobody's fault)
hypothesis_settings.register_profile("fixed", derandomize=True, database=None, deadline=None)
hypothesis_settings.register_profile("free", database=None, deadline=None)
hypothesis_settings.load_profile(os.environ.get("SEEDS", "fixed"))


keep_routes()


def settings_in(folder: Path) -> Settings:
    return Settings(folder, url_in(folder))


def stop_server(server: Any, running: threading.Thread) -> None:
    """Close a waitress server that runs in a thread, and every connection to it.

    Its own loop closes them, which would else wait out a second on sockets that are gone. The pipe that wakes the loop
    stays open till nobody writes to it any more: its number may be another file's by then.
    """

    def close_sockets() -> None:
        wasyncore.dispatcher.close(server)
        for channel in list(server.active_channels.values()):
            channel.handle_close()  # with the files that it was sending
        server.trigger.del_channel()

    server.trigger.pull_trigger(close_sockets)
    running.join(timeout=5)
    server.task_dispatcher.shutdown()
    server.trigger.close()


class Served:
    """The application behind a real server on a free port; it can be stopped and started again."""

    def __init__(self, folder: Path, proxy: str | None = None, **changed: Any) -> None:
        """``changed``: settings that are not as usual."""
        self.folder, self.proxy, self.changed = folder, proxy, changed
        self.port = 0
        self.start()

    def start(self) -> None:
        self.app: Flask = create_app(replace(settings_in(self.folder), **self.changed))
        self.server = make_server(self.app, "127.0.0.1", self.port, threads=6, proxy=self.proxy)
        self.port = int(self.server.effective_port)
        self.thread = threading.Thread(target=self.server.run, daemon=True)
        self.thread.start()

    def stop(self) -> None:
        """As a killed process: the port and every open connection are gone."""
        stop_server(self.server, self.thread)

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"


@pytest.fixture(scope="session", autouse=True)
def watching() -> None:
    computing_watch.watch()


@pytest.fixture(autouse=True)
def nothing_computes_in_a_write(watching: None) -> Iterator[None]:
    """Nobody else saves while one request writes: what takes long is computed before, or after the commit."""
    computing_watch.seen.clear()
    yield
    assert not computing_watch.seen


@pytest.fixture(autouse=True)
def english() -> None:
    """Whatever the terminal speaks, and whatever a request asked for before."""
    speak(ENGLISH)


@pytest.fixture(scope="session", autouse=True)
def pictures(tmp_path_factory: pytest.TempPathFactory) -> None:
    keep_pictures(once(tmp_path_factory, "pictures", lambda folder: None))


@pytest.fixture
def pictures_anew() -> Iterator[None]:
    with read_anew():
        yield


@pytest.fixture(autouse=True)
def databases() -> Iterator[None]:
    """Those of a server that a test made go with it."""
    before = set(made)
    yield
    drop_made(before)


def once(factory: pytest.TempPathFactory, name: str, make: Callable[[Path], None]) -> Path:
    """A folder that is filled once for all processes of this run: whoever comes second waits for the first."""
    run = os.environ.get("PYTEST_XDIST_TESTRUNUID")
    folder = factory.mktemp(name) if run is None else factory.getbasetemp().parent / f"{name}-{run}"
    folder.mkdir(exist_ok=True)
    with (folder.parent / f"{folder.name}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        done = folder.parent / f"{folder.name}.done"
        if not done.exists():
            make(folder)
            done.touch()
    return folder


@pytest.fixture(scope="session")
def fresh(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A data folder in which nobody has worked yet, made once: building its tables takes a third of a second."""
    folder = tmp_path_factory.mktemp("fresh")
    settled(create_app(settings_in(folder)))
    return folder


def settled(app: Flask) -> None:
    """Write the log back into the database and let go of it, so that its folder can be copied."""
    here = app.extensions["aspectum"]
    here.sessions.kw["bind"].dispose()
    keep(here.files.folder.parent)


@pytest.fixture
def app(tmp_path: Path, fresh: Path) -> Flask:
    copy_folder(fresh, tmp_path)
    return create_app(settings_in(tmp_path))


@pytest.fixture(scope="session")
def first_school(tmp_path_factory: pytest.TempPathFactory) -> School:
    """The school as it opens, made once: eight passphrases are made and proved."""
    app = create_app(settings_in(tmp_path_factory.mktemp("school")))
    made = open_school(app)
    settled(app)
    return made


@pytest.fixture
def school(tmp_path: Path, first_school: School) -> School:
    """The school in a folder of its own, everybody signed in."""
    copied(first_school, tmp_path)
    return reopened(first_school, create_app(settings_in(tmp_path)))


def copied(school: School, folder: Path) -> None:
    """Put a school's data into another folder."""
    copy_folder(school.folder, folder)


@pytest.fixture
def client(app: Flask) -> FlaskClient:
    return app.test_client()


@pytest.fixture(scope="session")
def filled(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A data folder with the demo in it, made once: opening and flattening its photos takes seconds."""

    def make(folder: Path) -> None:
        app = create_app(settings_in(folder))
        fill(app.extensions["aspectum"])
        settled(app)

    return once(tmp_path_factory, "demo", make)


@pytest.fixture(scope="session")
def term(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A data folder with the demo's harbour class in mid-term, as it is shipped."""

    def make(folder: Path) -> None:
        app = create_app(settings_in(folder))
        assert put_demo(app.extensions["aspectum"])
        settled(app)

    return once(tmp_path_factory, "term", make)


@pytest.fixture
def harbour(tmp_path: Path, term: Path) -> Iterator[Served]:
    """The harbour class, served; one click signs its people in."""
    copy_folder(term, tmp_path)
    server = Served(tmp_path, one_click=True)
    yield server
    server.stop()


@pytest.fixture
def served(tmp_path: Path, filled: Path) -> Iterator[Served]:
    copy_folder(filled, tmp_path)
    server = Served(tmp_path)
    yield server
    server.stop()


@pytest.fixture
def empty(tmp_path: Path, fresh: Path) -> Iterator[Served]:
    """Served with nothing in it."""
    copy_folder(fresh, tmp_path)
    server = Served(tmp_path)
    yield server
    server.stop()


@pytest.fixture
def demo(tmp_path: Path, filled: Path) -> FlaskClient:
    """A client of an application with the demo data."""
    copy_folder(filled, tmp_path)
    return create_app(settings_in(tmp_path)).test_client()


@pytest.fixture
def crates_jpeg() -> bytes:
    return (PHOTOS / "crates.jpg").read_bytes()


# what must appear is waited for: on a busy machine a page takes its time, and is no less right for it
expect.set_options(timeout=20_000)


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, object]:
    flags = [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--no-first-run",
    ]
    return {"executable_path": "/usr/bin/chromium-headless-shell", "args": flags}
