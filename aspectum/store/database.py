"""Engine, sessions and migrations."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.orm import Session, sessionmaker

MIGRATIONS = Path(__file__).parent / "migrations"


def open_engine(url: str) -> Engine:
    """An engine; SQLite gets write-ahead logging, foreign keys and a patient lock."""
    engine = create_engine(url)
    if engine.dialect.name == "sqlite":

        @event.listens_for(engine, "connect")
        def prepare(connection: Any, _: Any) -> None:
            cursor = connection.cursor()
            for pragma in ("journal_mode=WAL", "foreign_keys=ON", "busy_timeout=5000", "synchronous=NORMAL"):
                cursor.execute(f"PRAGMA {pragma}")
            cursor.close()

    return engine


def migrate(engine: Engine) -> None:
    """Bring the database to the newest schema."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")


def session_factory(engine: Engine) -> sessionmaker[Session]:
    return sessionmaker(engine, expire_on_commit=False)
