"""The database: migrations that match the models, honest times, nothing dangling."""

from __future__ import annotations

import os
import time
from datetime import UTC, timedelta
from pathlib import Path

import pytest
from alembic import command
from alembic.autogenerate import compare_metadata
from alembic.config import Config
from alembic.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, delete, inspect, text
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session, sessionmaker

from aspectum.core.practice.skills import KINDS
from aspectum.pictures.opening import OpenedPicture
from aspectum.service.errors import Missing, Stale
from aspectum.service.people.people import class_exists, person_here, settle_in
from aspectum.service.practice.logbook import log_rows
from aspectum.service.school.classes import join, one_more_tutor
from aspectum.service.sheets import sheets
from aspectum.service.sheets.pictures import keep_picture, sweep
from aspectum.store.assignments import Assignment, HandIn, Remark
from aspectum.store.classes import ClassRow, Member
from aspectum.store.database import MIGRATIONS, migrate, newest_schema, open_engine, session_factory
from aspectum.store.models import Drawing, Person, Picture, Reading, Sheet, now
from aspectum.store.picture_files import PictureFiles
from aspectum.store.room import RoomQuestion
from aspectum.store.tables import Base
from tests.databases import only_sqlite, url_in


@pytest.fixture
def engine(tmp_path: Path) -> Engine:
    engine = open_engine(url_in(tmp_path))
    migrate(engine)
    settle_in(session_factory(engine))
    return engine


def owner(sessions: sessionmaker[Session]) -> str:
    with sessions() as session:
        return person_here(session).id


def picture(person: Person) -> Picture:
    return Picture(
        person_id=person.id, name="crates.jpg", sha256="0" * 64, width_px=1280, height_px=960, focal_35mm=28.0
    )


def engine_at(revision: str, folder: Path) -> Engine:
    """On a database as an earlier version left it."""
    (folder / "old").mkdir()
    engine, config = open_engine(url_in(folder / "old")), Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, revision)
    return engine


def test_migrations_build_what_the_models_describe(engine: Engine) -> None:
    with engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []
    migrate(engine)  # a second time changes nothing


def test_everything_a_person_makes_carries_their_id(engine: Engine) -> None:
    for table in ("pictures", "sheets"):
        columns = {c["name"]: c for c in inspect(engine).get_columns(table)}
        assert columns["person_id"]["nullable"] is False


@only_sqlite
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
        assert document.picture is not None
        document.picture.width_px = 640
        with pytest.raises(ValueError, match="640 × 960 px"):
            sheets.make_sheet(session, person, photo, document)


@only_sqlite
def test_a_save_is_on_the_disk_before_it_is_answered(engine: Engine) -> None:
    with engine.connect() as connection:
        assert connection.execute(text("PRAGMA synchronous")).scalar() == 2  # FULL


def test_several_persons_that_first_use_once_made_become_one(tmp_path: Path) -> None:
    engine = engine_at("0001", tmp_path)
    with engine.begin() as connection:
        for k in range(3):
            connection.execute(
                text("insert into people values (:id, 'At this easel', :at)"),
                {"id": f"p{k}", "at": f"2026-01-0{k + 1} 00:00:00"},
            )
            values = {"id": f"x{k}", "person": f"p{k}", "at": "2026-01-05 00:00:00"}
            connection.execute(
                text("insert into pictures values (:id, :person, 'a.jpg', 'aa', 100, 100, null, :at)"), values
            )
    migrate(engine)
    settle_in(session_factory(engine))
    with session_factory(engine)() as session:
        assert session.query(Person).count() == 1 and person_here(session).id == "p0"
        assert session.query(Picture).filter_by(person_id="p0").count() == 3
    with engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []


def test_a_picture_goes_for_good_with_the_last_sheet_that_needs_it(engine: Engine, tmp_path: Path) -> None:
    sessions, files = session_factory(engine), PictureFiles(tmp_path / "pictures")
    opened = OpenedPicture(1280, 960, None, b"whole", b"view", b"thumb")
    first, second = (
        keep_picture(sessions, files, owner(sessions), name, opened) for name in ("a.jpg", "b.jpg")
    )  # one content, two pictures
    lone = keep_picture(
        sessions, files, owner(sessions), "lone.jpg", OpenedPicture(1280, 960, None, b"lone", b"view", b"thumb")
    )
    with sessions.begin() as session:
        person = person_here(session)
        made = [
            sheets.make_sheet(session, person, session.get_one(Picture, p.id), title=p.name)
            for p in (first, first, second)
        ]
        ids = [sheet.id for sheet in made]
        for picture in session.query(Picture):
            picture.created_at = now() - timedelta(days=60)

    def put_aside(id: str, days: int) -> None:
        with sessions.begin() as session:
            session.get_one(Sheet, id).deleted_at = now() - timedelta(days=days)
        sweep(sessions, files)

    def names() -> set[str]:
        with sessions() as session:
            return {picture.name for picture in session.query(Picture)}

    put_aside(ids[0], 31)
    assert names() == {"a.jpg", "b.jpg"}  # a second sheet needs the one; the lone one became no sheet
    assert not files.path(lone.sha256).exists()
    put_aside(ids[1], 29)
    assert names() == {"a.jpg", "b.jpg"}  # it can still be brought back
    put_aside(ids[1], 31)
    assert names() == {"b.jpg"} and files.path(first.sha256).exists()
    put_aside(ids[2], 31)
    assert names() == set() and not list((tmp_path / "pictures").rglob("*.jpg"))


def test_a_photo_just_opened_is_kept_until_it_becomes_a_sheet(engine: Engine, tmp_path: Path) -> None:
    sessions, files = session_factory(engine), PictureFiles(tmp_path / "pictures")
    kept = keep_picture(
        sessions, files, owner(sessions), "new.jpg", OpenedPicture(1280, 960, None, b"new", b"view", b"thumb")
    )
    orphan = files.keep(b"written by a process that was killed", {})
    long_ago = time.time() - 3 * 24 * 3600
    os.utime(files.path(orphan), (long_ago, long_ago))
    sweep(sessions, files)
    assert files.path(kept.sha256).exists() and not files.path(orphan).exists()


def test_sheets_from_life_came_with_the_third_migration(tmp_path: Path) -> None:
    """What was there before is kept, and a sheet may lack a picture from then on."""
    engine = engine_at("0002", tmp_path)
    with engine.begin() as connection:
        connection.execute(
            text("insert into people (id, name, place, created_at) values ('p', 'At this easel', 'here', '2026-01-01')")
        )
        connection.execute(
            text(
                "insert into pictures (id, person_id, name, sha256, width_px, height_px, created_at) values ('q', "
                "'p', 'a', '0', 8, 6, '2026-01-01')"
            )
        )
        columns = "id, person_id, picture_id, title, document, revision, created_at, updated_at"
        connection.execute(
            text(f"insert into sheets ({columns}) values ('s', 'p', 'q', 't', '{{}}', 1, '2026-01-01', '2026-01-01')")
        )
    migrate(engine)
    with session_factory(engine).begin() as session:
        person = person_here(session)
        made = sheets.make_sheet(session, person, None)
        assert made.picture is None and made.title == "From life"
        assert {s.id for s in sheets.list_sheets(session, person)} == {"s", made.id}


def test_drawings_and_readings_came_with_the_fourth_migration(tmp_path: Path) -> None:
    """What was there stays, and a photo that a drawing was flattened from is kept with it."""
    engine = engine_at("0003", tmp_path)
    with engine.begin() as connection:
        connection.execute(
            text(
                "insert into people (id, name, place, created_at) values ('p', 'At this easel', 'here', '2026-01-01 "
                "00:00:00')"
            )
        )
        for k in ("photo", "flat"):
            connection.execute(
                text(f"insert into pictures values ('{k}', 'p', 'a.jpg', '{k}', 100, 100, null, '2026-01-05 00:00:00')")
            )
    migrate(engine)
    settle_in(session_factory(engine))
    with session_factory(engine).begin() as session:
        person = person_here(session)
        sheet = sheets.make_sheet(session, person, session.get(Picture, "flat"))
        session.add(Drawing(sheet_id=sheet.id, photo_id="photo", flattening={}, content="", next_time=["Look longer."]))
        session.add(
            Reading(
                person_id=person.id,
                sheet_id=sheet.id,
                skill="other edge",
                source="critique",
                sighting="e",
                judged=3.0,
                truth=1.0,
                unit="degrees",
            )
        )
    sweep(session_factory(engine), PictureFiles(tmp_path))
    with session_factory(engine)() as session:
        assert session.query(Picture).count() == 2 and session.query(Drawing).one().next_time == ["Look longer."]
        session.execute(text("delete from sheets"))
        session.commit()
        assert session.query(Drawing).count() == 0 and session.query(Reading).one().sheet_id is None
    sweep(session_factory(engine), PictureFiles(tmp_path))
    with session_factory(engine)() as session:
        assert session.query(Picture).count() == 0


def test_old_readings_came_into_the_one_list_of_skills_with_the_seventh_migration(tmp_path: Path) -> None:
    """Tilts become steepness, a vanishing point per cent; nothing is lost, and every reading can be shown
    and written.
    """
    old = [
        ("a", "edge tilt", 14.0, 11.0, None, "degrees"),
        ("b", "edge tilt", -12.0, -17.0, 1.0, "degrees"),
        ("c", "proportion", 108.0, 100.0, 2.0, "per cent"),
        ("d", "alignment", 33.0, 30.0, None, "degrees"),
        ("e", "alignment", 0.1, 0.0, None, "near uprights"),
        ("f", "VP", 0.05, 0.0, 0.02, "near uprights"),
        ("g", "axis", 4.0, 1.0, None, "degrees"),
        ("h", "lower rim", 12.0, 17.0, None, "degrees"),
        ("i", "eye level", 0.3, 0.0, 0.1, "near uprights"),
    ]
    engine = engine_at("0006", tmp_path)
    with engine.begin() as connection:
        connection.execute(
            text("insert into people (id, name, place, created_at) values ('p', 'At this easel', 'here', '2026-01-01')")
        )
        columns = "id, person_id, made_at, source, sighting, skill, judged, truth, truth_sd, unit"
        for id, skill, judged, truth, sd, unit in old:
            values = {"id": id, "skill": skill, "judged": judged, "truth": truth, "sd": sd, "unit": unit}
            made = "values (:id, 'p', '2026-01-02 00:00:00', 'judgement', 's', :skill, :judged, :truth, :sd, :unit)"
            connection.execute(text(f"insert into readings ({columns}) {made}"), values)
    migrate(engine)
    with session_factory(engine)() as session:
        rows = {r.id: (r.skill, r.judged, r.truth, r.truth_sd, r.unit) for r in session.query(Reading)}
        written = log_rows(session, person_here(session))
    assert rows == {
        "a": ("other edge", 14.0, 11.0, None, "degrees"),
        "b": ("other edge", 12.0, 17.0, 1.0, "degrees"),
        "c": ("length along", 108.0, 100.0, 2.0, "per cent"),
        "d": ("corner to corner", 33.0, 30.0, None, "degrees"),
        "e": ("alignment", 0.1, 0.0, None, "near uprights"),
        "f": ("vanishing point", 5.0, 0.0, 2.0, "per cent"),
        "g": ("minor axis", 4.0, 1.0, None, "degrees"),
        "h": ("lower rim", 12.0, 17.0, None, "degrees"),
        "i": ("eye level", 0.3, 0.0, 0.1, "near uprights"),
    }
    assert {(r.skill.value, KINDS[r.skill].unit.value) for r in written} == {
        (skill, unit) for skill, *_, unit in rows.values()
    }


def test_the_seventh_migration_can_be_taken_back(tmp_path: Path) -> None:
    engine = engine_at("head", tmp_path)
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.downgrade(config, "0006")
        tables = set(inspect(connection).get_table_names())
    assert "readings" in tables and not tables & {"practice_sets", "practice_questions", "timed_drawings"}
    migrate(engine)


def test_classes_come_to_a_database_in_use_and_go_again(tmp_path: Path) -> None:
    """Migrations 0008 and 0009: whoever worked alone keeps everything, and is still alone."""
    engine = engine_at("0007", tmp_path)
    with engine.begin() as connection:
        connection.execute(
            text(
                "INSERT INTO people (id, name, place, created_at) VALUES ('p0', 'At this easel', 'here', '2026-01-01')"
            )
        )
        connection.execute(
            text(
                "INSERT INTO sheets (id, person_id, title, document, revision, created_at, updated_at)"
                " VALUES ('s0', 'p0', 'Crates', '{}', 3, '2026-01-01', '2026-01-01')"
            )
        )
    migrate(engine)
    sessions = session_factory(engine)
    settle_in(sessions)
    with sessions() as session:
        alone = person_here(session)
        assert (alone.id, alone.sign_in_name, alone.passphrase) == ("p0", None, None)
        assert [sheet.title for sheet in sheets.list_sheets(session, alone)] == ["Crates"]
        assert not class_exists(session)
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.connect() as connection:
        if engine.dialect.name == "sqlite":
            connection.exec_driver_sql("PRAGMA foreign_keys=OFF")
        config.attributes["connection"] = connection
        command.downgrade(config, "0007")
        connection.commit()
        assert connection.execute(text("SELECT id, name FROM people")).all() == [("p0", "At this easel")]
        tables = set(inspect(connection).get_table_names())
    assert not tables & {
        "classes",
        "members",
        "sign_ins",
        "arrived",
        "assignments",
        "begun",
        "hand_ins",
        "remarks",
        "phrases",
        "room_questions",
        "room_answers",
    }


def test_what_hangs_on_a_class_goes_with_it_and_what_hangs_on_a_piece_too(engine: Engine) -> None:
    sessions = session_factory(engine)
    with sessions.begin() as session:
        tutor, of = one_more_tutor(session, "Maren", "tern rope lantern", "Harbour class")
        student = join(session, of, "Ilse", "pump house gable")
        assignment = Assignment(
            class_id=of.id, kind="free", title="Free", subject="own", hand_in=["note"], tolerance="freehand"
        )
        session.add(assignment)
        session.flush()
        made = HandIn(assignment_id=assignment.id, person_id=student.id, number=1, document={}, found={})
        session.add(made)
        session.flush()
        session.add(Remark(hand_in_id=made.id, number=1, words="Steeper."))
        session.add(RoomQuestion(class_id=of.id, title="x", document={}))
        ids = (of.id, tutor.id, student.id)
    with sessions.begin() as session:
        session.execute(delete(ClassRow).where(ClassRow.id == ids[0]))
    with sessions() as session:
        for table in (Member, Assignment, HandIn, Remark, RoomQuestion):
            assert session.query(table).count() == 0, table
        assert {person.id for person in session.query(Person)} >= set(ids[1:])  # the people themselves stay


def test_a_person_hands_in_each_try_once(engine: Engine) -> None:
    sessions = session_factory(engine)
    with sessions.begin() as session:
        _, of = one_more_tutor(session, "Maren", "tern rope lantern", "Harbour class")
        student = join(session, of, "Ilse", "pump house gable")
        assignment = Assignment(
            class_id=of.id, kind="free", title="Free", subject="own", hand_in=["note"], tolerance="freehand"
        )
        session.add(assignment)
        session.flush()
        ids = assignment.id, student.id
    with pytest.raises(IntegrityError), sessions.begin() as session:
        for _ in range(2):
            session.add(HandIn(assignment_id=ids[0], person_id=ids[1], number=1, document={}, found={}))


def test_the_newest_schema_is_where_the_migrations_lead() -> None:
    """It is read off their names, so that a start that has nothing to migrate need not load what migrates."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    assert newest_schema() == ScriptDirectory.from_config(config).get_current_head()


@pytest.mark.parametrize("released", [f"{n:04d}" for n in range(1, int(newest_schema()) + 1)])
def test_from_every_released_schema_one_comes_to_this_one_with_everything_kept(tmp_path: Path, released: str) -> None:
    """Whatever a school installed when: its people, pictures and sheets are there after the update, and the tables are
    as described.
    """
    engine = engine_at(released, tmp_path)
    with engine.begin() as connection:
        connection.execute(
            text("insert into people (id, name, created_at) values ('p', 'At this easel', '2026-01-01 00:00:00')")
        )
        picture = (
            "insert into pictures (id, person_id, name, sha256, width_px, height_px, created_at) values ('q', 'p', "
            "'a', '0', 8, 6, '2026-01-01 00:00:00')"
        )
        connection.execute(text(picture))
        columns = "id, person_id, picture_id, title, document, revision, created_at, updated_at"
        connection.execute(
            text(
                f"insert into sheets ({columns}) values ('s', 'p', 'q', 'Kept', '{{}}', 3, '2026-01-01 00:00:00', "
                "'2026-01-02 00:00:00')"
            )
        )
    migrate(engine)
    with engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []
        if engine.dialect.name == "sqlite":
            assert connection.execute(text("pragma foreign_key_check")).fetchall() == []
    with session_factory(engine)() as session:
        sheet = session.get_one(Sheet, "s")
        assert (sheet.title, sheet.revision, sheet.picture_id) == ("Kept", 3, "q") and session.query(
            Person
        ).count() == 1
