"""A database for each test's folder: SQLite's own file in it, or, where a server is named, a database there that goes
with the folder.
"""

from __future__ import annotations

import hashlib
import os
import shutil
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
from sqlalchemy import Connection, create_engine, make_url, text
from sqlalchemy.exc import OperationalError

SERVER = os.environ.get(
    "ASPECTUM_TEST_SERVER", ""
)  # such as postgresql+psycopg://postgres@127.0.0.1:5433/postgres; `make test-postgres` sets it
only_sqlite = pytest.mark.skipif(bool(SERVER), reason="of SQLite alone")
made: set[str] = set()  # by this process, and to be dropped when their test is over


def url_in(folder: Path) -> str:
    """The address of a folder's database, which is there from then on."""
    if not SERVER:
        return f"sqlite:///{folder / 'aspectum.sqlite'}"
    name = name_of(folder)
    with administering() as server:
        if not server.scalar(text("SELECT 1 FROM pg_database WHERE datname = :name"), {"name": name}):
            server.execute(text(f'CREATE DATABASE "{name}"'))
            made.add(name)
    return make_url(SERVER).set(database=name).render_as_string(hide_password=False)


def copy_folder(source: Path, target: Path) -> None:
    """Copy a data folder that nobody serves, its database too."""
    shutil.copytree(source, target, dirs_exist_ok=True)
    if not SERVER:
        return
    name = name_of(target)
    until = time.monotonic() + 30
    with administering() as server:
        server.execute(text(f'DROP DATABASE IF EXISTS "{name}" WITH (FORCE)'))
        while True:  # another test may be copying the same one at this moment, which PostgreSQL refuses
            try:
                server.execute(text(f'CREATE DATABASE "{name}" TEMPLATE "{name_of(source)}" STRATEGY file_copy'))
                break
            except OperationalError:
                if time.monotonic() > until:
                    raise
                time.sleep(0.1)
    made.add(name)


def keep(folder: Path) -> None:
    """A folder's database outlives the test in which it was made."""
    made.discard(name_of(folder))


def drop_made(before: set[str]) -> None:
    """Drop what was made since ``before``."""
    if not SERVER:
        return
    with administering() as server:
        for name in made - before:
            server.execute(text(f'DROP DATABASE IF EXISTS "{name}" WITH (FORCE)'))
            made.discard(name)


def name_of(folder: Path) -> str:
    return f"aspectum_{hashlib.sha256(str(folder).encode()).hexdigest()[:24]}"


@contextmanager
def administering() -> Iterator[Connection]:
    engine = create_engine(SERVER, isolation_level="AUTOCOMMIT")
    try:
        with engine.connect() as connection:
            yield connection
    finally:
        engine.dispose()
