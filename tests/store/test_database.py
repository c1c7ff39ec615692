"""The database: migrations that match the models, honest times, nothing dangling."""

from __future__ import annotations

from datetime import UTC, timedelta
from pathlib import Path

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import Engine, inspect, text
from sqlalchemy.exc import IntegrityError

from aspectum.service import sheets
from aspectum.service.errors import Missing, Stale
from aspectum.service.people import person_here, settle_in
from aspectum.store.database import migrate, open_engine, session_factory
from aspectum.store.models import Base, Person, Picture, Sheet, now


@pytest.fixture
def engine(tmp_path: Path) -> Engine:
    engine = open_engine(f"sqlite:///{tmp_path / 'a.sqlite'}")
    migrate(engine)
    settle_in(session_factory(engine))
    return engine


def picture(person: Person) -> Picture:
    return Picture(person_id=person.id, name="crates.jpg", sha256="0" * 64, width_px=1280, height_px=960, focal_35mm=28.0)


def test_migrations_build_what_the_models_describe(engine: Engine) -> None:
    with engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []
    migrate(engine)  # a second time changes nothing


def test_everything_a_person_makes_carries_their_id(engine: Engine) -> None:
    for table in ("pictures", "sheets"):
        columns = {c["name"]: c for c in inspect(engine).get_columns(table)}
        assert columns["person_id"]["nullable"] is False


def test_sqlite_writes_ahead_and_keeps_references_whole(engine: Engine) -> None:
    with engine.connect() as connection:
        assert connection.execute(text("PRAGMA journal_mode")).scalar() == "wal"
        assert connection.execute(text("PRAGMA foreign_keys")).scalar() == 1
    with pytest.raises(IntegrityError), session_factory(engine).begin() as session:
        session.add(Sheet(person_id="nobody", picture_id="nothing", title="x", document={}))


def test_moments_come_back_in_utc(engine: Engine) -> None:
    with session_factory(engine)() as session:
        made = session.query(Person).one().created_at
    assert made.tzinfo is UTC and abs(now() - made) < timedelta(minutes=1)


def test_one_person_is_here_however_often_asked(engine: Engine) -> None:
    sessions = session_factory(engine)
    ids = set()
    for _ in range(3):
        with sessions.begin() as session:
            ids.add(person_here(session).id)
    assert len(ids) == 1


def test_saving_counts_revisions_and_refuses_old_ones(engine: Engine) -> None:
    with session_factory(engine).begin() as session:
        person = person_here(session)
        photo = picture(person)
        session.add(photo)
        session.flush()
        sheet = sheets.make_sheet(session, person, photo, title="Slipway")
        document = sheets.document_of(sheet)
        for revision in (1, 2, 3):
            assert sheets.save_sheet(session, person, sheet.id, revision, document).revision == revision + 1
        with pytest.raises(Stale) as caught:
            sheets.save_sheet(session, person, sheet.id, 2, document)
        assert caught.value.revision == 4


def test_deleted_sheets_can_be_brought_back_for_thirty_days(engine: Engine) -> None:
    with session_factory(engine).begin() as session:
        person = person_here(session)
        photo = picture(person)
        session.add(photo)
        session.flush()
        old, young, other = (sheets.make_sheet(session, person, photo, title=t) for t in ("old", "young", "other"))
        old.deleted_at = now() - timedelta(days=31)
        sheets.delete_sheet(session, person, young.id)
        session.flush()
        sheets.purge(session)
        session.expire_all()
        assert [s.title for s in sheets.list_sheets(session, person)] == ["other"]
        assert sheets.restore_sheet(session, person, young.id).deleted_at is None
        with pytest.raises(Missing):
            sheets.restore_sheet(session, person, old.id)
        assert other.title == "other"


def test_a_sheet_for_another_picture_size_is_refused(engine: Engine) -> None:
    with session_factory(engine).begin() as session:
        person = person_here(session)
        photo = picture(person)
        session.add(photo)
        session.flush()
        document = sheets.blank_document(photo, "x")
        document.picture.width_px = 640
        with pytest.raises(ValueError, match="640 × 960 px"):
            sheets.make_sheet(session, person, photo, document)
