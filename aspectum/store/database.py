"""Engine, sessions and migrations."""

from __future__ import annotations

import sqlite3
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from sqlalchemy import URL, Engine, create_engine, event, inspect, make_url, text
from sqlalchemy.orm import Session, sessionmaker

MIGRATIONS = Path(__file__).parent / "migrations"


PATIENCE_S = 30.0
MIGRATING = 1126  # the lock that servers which start together wait for
CONNECTIONS = 20  # kept open by one server, and as many more where its threads all ask at once
LOCK_WAIT_S = 0.05


def open_engine(url: str) -> Engine:
    """An engine; SQLite gets write-ahead logging, foreign keys, a patient lock and saves that are on
    the disk before they are answered (``synchronous=FULL``), since the page then lets go of its copy.
    """
    # what is saved is somebody's: it must not stand in the log beside an error
    address = driven(url)
    pool: dict[str, Any] = (
        {} if address.database in (None, "", ":memory:") else {"pool_size": CONNECTIONS, "max_overflow": CONNECTIONS}
    )
    if address.get_backend_name() == "postgresql":
        pool["pool_pre_ping"] = True  # a server that was restarted meanwhile costs nobody an answer
    engine = create_engine(address, hide_parameters=True, **pool)
    if engine.dialect.name == "sqlite":

        @event.listens_for(engine, "connect")
        def prepare(connection: Any, _: Any) -> None:
            cursor = connection.cursor()
            for pragma in (f"busy_timeout={int(PATIENCE_S * 1000)}", "foreign_keys=ON", "synchronous=FULL"):
                cursor.execute(f"PRAGMA {pragma}")
            patiently(lambda: cursor.execute("PRAGMA journal_mode=WAL"))
            cursor.close()

    return engine


def driven(url: str) -> URL:
    """``url`` with the driver that comes with Aspectum, where PostgreSQL's names none."""
    address = make_url(url.replace("postgres://", "postgresql://", 1) if url.startswith("postgres://") else url)
    return address.set(drivername="postgresql+psycopg") if address.drivername == "postgresql" else address


def patiently(act: Callable[[], object]) -> None:
    """Wait where another process holds a lock that SQLite does not itself wait for: the one taken
    to turn a fresh database to write-ahead logging.
    """
    until = time.monotonic() + PATIENCE_S
    while True:
        try:
            act()
            return
        except sqlite3.OperationalError as error:
            if "locked" not in str(error) or time.monotonic() > until:
                raise
            time.sleep(LOCK_WAIT_S)


def migrate(engine: Engine) -> None:
    """Bring the database to the newest schema. Of several servers that start on one database, the
    first does it and the others wait.
    """
    if schema_of(engine) == newest_schema():
        return
    # loaded where there is something to do: it is a tenth of a start
    from alembic import command
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.connect() as connection:
        if engine.dialect.name == "sqlite":
            # takes the write lock at once; batch changes must not trip over the keys of half a change
            connection.exec_driver_sql("PRAGMA foreign_keys=OFF")
            connection.exec_driver_sql("BEGIN IMMEDIATE")
        elif engine.dialect.name == "postgresql":
            connection.exec_driver_sql(f"SELECT pg_advisory_xact_lock({MIGRATING})")
        config.attributes["connection"] = connection
        command.upgrade(config, "head")
        connection.commit()
        if engine.dialect.name == "sqlite":
            connection.exec_driver_sql("PRAGMA foreign_keys=ON")


def newest_schema() -> str:
    """The revision that this Aspectum's migrations lead to: they are numbered in order, and named by their numbers."""
    return max(path.name[:4] for path in (MIGRATIONS / "versions").glob("[0-9]*.py"))


def schema_of(engine: Engine) -> str | None:
    """The revision that a database is at; None where it is empty."""
    with engine.connect() as connection:
        if not inspect(connection).has_table("alembic_version"):
            return None
        found: str | None = connection.execute(text("SELECT version_num FROM alembic_version")).scalar()
        return found


def session_factory(engine: Engine) -> sessionmaker[Session]:
    return sessionmaker(engine, expire_on_commit=False)
