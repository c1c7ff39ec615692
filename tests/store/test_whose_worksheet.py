"""The twelfth migration: a worksheet that a tutor brought in becomes its student's, and what was recorded
wrongly goes.
"""

from __future__ import annotations

import pytest
from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, select, update
from sqlalchemy.orm import Session, sessionmaker

from aspectum.core.practice.skills import Skill
from aspectum.demo.worksheets import bring_one_back, print_set
from aspectum.formats.worksheet import Worksheet
from aspectum.service.paper.recorded_again import record_again
from aspectum.service.school.brought_back import BroughtBack
from aspectum.store.database import MIGRATIONS, migrate
from aspectum.store.models import Drawing, Picture, Reading, Sheet
from aspectum.store.worksheets import PrintedWorksheet, ReturnedWorksheet
from tests.school import NAMES, OTHER, STUDENT, TUTOR, School


def without_given(sheet: dict[str, object]) -> dict[str, object]:
    """A document as it was kept before what is printed was marked."""
    sightings = sheet["sightings"]
    assert isinstance(sightings, list)
    return {k: v for k, v in sheet.items() if k != "given"} | {
        "sightings": [{k: v for k, v in s.items() if k != "given"} for s in sightings]
    }


def as_it_was(sessions: sessionmaker[Session], back: BroughtBack, tutor: str) -> None:
    """File what came back as an earlier version did: with whoever brought it in, what is printed recorded as drawn."""
    with sessions.begin() as session:
        mine = [back.subject_id, back.drawing_id]
        for sheet in session.scalars(select(Sheet).where(Sheet.id.in_(mine))):
            sheet.person_id, sheet.document = tutor, without_given(sheet.document)
            assert sheet.picture is not None
            sheet.picture.person_id = tutor
        session.get_one(Drawing, back.drawing_id).photo.person_id = tutor
        session.execute(update(ReturnedWorksheet).values(person_id=tutor))
        session.execute(update(Reading).where(Reading.sheet_id == back.drawing_id).values(person_id=tutor))
        for id, skill in (("g1", "upper rim"), ("eye level", "eye level")):
            told = {"source": "critique", "sighting": id, "judged": 20.0001, "truth": 20.0, "unit": "degrees"}
            session.add(Reading(person_id=tutor, sheet_id=back.drawing_id, skill=skill, **told))
        for row in session.scalars(select(PrintedWorksheet)):
            row.document = row.document | {"subject": without_given(row.document["subject"])}


def downgraded(engine: Engine) -> None:
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.connect() as connection:
        if engine.dialect.name == "sqlite":
            connection.exec_driver_sql("PRAGMA foreign_keys=OFF")
        config.attributes["connection"] = connection
        command.downgrade(config, "0011")
        connection.commit()
        if engine.dialect.name == "sqlite":
            connection.exec_driver_sql("PRAGMA foreign_keys=ON")


@pytest.mark.parametrize("name", [STUDENT, None], ids=["with a name", "without"])
def test_what_a_tutor_brought_in_of_a_students_sheet_moves_to_the_student(school: School, name: str | None) -> None:
    here = school.app.extensions["aspectum"]
    engine = here.sessions.kw["bind"]
    tutor = school.ids[TUTOR]
    print_set(here, tutor, (NAMES[STUDENT] if name else "",), "", None)
    back = bring_one_back(here, school.ids[STUDENT])
    with here.sessions() as session:
        drawn = {r.sighting for r in session.scalars(select(Reading).where(Reading.sheet_id == back.drawing_id))}
        levels = {
            row.code: Worksheet.model_validate(row.document).subject.given
            for row in session.scalars(select(PrintedWorksheet))
        }
    as_it_was(here.sessions, back, tutor)
    downgraded(engine)
    migrate(engine)
    owner = school.ids[STUDENT] if name else tutor
    with here.sessions() as session:
        for sheet in session.scalars(select(Sheet).where(Sheet.id.in_([back.subject_id, back.drawing_id]))):
            assert (sheet.person_id, session.get_one(Picture, sheet.picture_id).person_id) == (owner, owner)
            assert {s["id"] for s in sheet.document["sightings"] if s.get("given")} == {"g1", "g3", "g5"}
        assert session.get_one(Drawing, back.drawing_id).photo.person_id == owner
        assert session.scalars(select(ReturnedWorksheet)).one().person_id == owner
        now = {
            row.code: Worksheet.model_validate(row.document).subject.given
            for row in session.scalars(select(PrintedWorksheet))
        }
        assert now == levels, "every kind of exercise is told what it prints as if it were printed today"
    assert record_again(here) == 1 and record_again(here) == 0
    with here.sessions() as session:
        mine = list(session.scalars(select(Reading).where(Reading.sheet_id == back.drawing_id)))
    assert {r.person_id for r in mine} == {owner} and {r.sighting for r in mine} == drawn
    assert Skill.EYE_LEVEL not in {r.skill for r in mine}
    assert not school.ask(OTHER, "GET", "/api/sheets")["sheets"]
