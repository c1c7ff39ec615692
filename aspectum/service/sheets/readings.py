"""The record of every judgement and critique, by skill."""

from __future__ import annotations

import logging

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from aspectum.core.practice.recorded import ReadFrom, SkillReading, SkillsOn
from aspectum.core.practice.skills import Skill
from aspectum.formats.sheet import SightingSheet
from aspectum.service.sheets.checking import JudgedSheet, judge_kept, sheet_readings, skills_of
from aspectum.service.sheets.from_sheet import laid_on
from aspectum.service.sheets.life import life_on
from aspectum.store.models import Person, Reading, Sheet

JUDGED = ("judged_tilt_deg", "judged_degree_deg", "judged_ratio", "judged_part", "judged_m", "judged_beside")

log = logging.getLogger(__name__)


def judged_on(sheet: SightingSheet) -> list[SkillReading]:
    """The readings that the judgements on a sheet are; none where its check fails, which the sheet itself tells."""
    return (
        judgements(judge_kept(sheet))
        if sheet.judged_eye_level is not None or any(judged(s) for s in sheet.accepted)
        else []
    )


def judgements(found: JudgedSheet | None) -> list[SkillReading]:
    """``judged_on`` of a sheet that was checked already. A tolerance changes a verdict and none of the numbers that are
    kept.
    """
    return [] if found is None else sheet_readings(found)


def skills_on(sheet: SightingSheet) -> SkillsOn:
    """What the sightings of a sheet are of, laid on its picture and read from life."""
    return skills_of(sheet, laid_on(sheet), life_on(sheet))


def judged(sighting: object) -> bool:
    return any(getattr(sighting, name, None) is not None for name in JUDGED)


def record_judgements(session: Session, person: Person, sheet: Sheet, document: SightingSheet) -> None:
    """Keep the readings of what was judged by eye on a sheet."""
    record(session, person, sheet, ReadFrom.JUDGEMENT, judged_on(document))


def _number_of(skill: str) -> str:
    """Which number of a sighting a skill is of: its skill may change as more is laid on the sheet, and its moment
    stays.
    """
    return skill if skill in (Skill.MINOR_AXIS, Skill.LENGTH_ACROSS, Skill.LENGTH_UP, Skill.LENGTH_ALONG) else ""


def record(session: Session, person: Person, sheet: Sheet, source: ReadFrom, readings: list[SkillReading]) -> None:
    """Keep what now stands on a sheet: what did not change keeps its moment, what is gone from it goes."""
    kept = {
        (_number_of(r.skill), r.sighting): r
        for r in session.scalars(select(Reading).where(Reading.sheet_id == sheet.id, Reading.source == source))
    }
    for r in readings:
        old = kept.pop((_number_of(r.skill), r.sighting), None)
        if old is not None and (old.skill, old.judged, old.truth) == (r.skill, r.judged, r.truth):
            continue
        values = {
            "judged": r.judged,
            "truth": r.truth,
            "truth_sd": r.truth_sd,
            "unit": r.unit.value,
            "skill": r.skill.value,
        }
        if old is None:
            session.add(
                Reading(person_id=person.id, sheet_id=sheet.id, source=source.value, sighting=r.sighting, **values)
            )
        else:
            for name, value in values.items():
                setattr(old, name, value)
    if kept:
        session.execute(
            delete(Reading)
            .where(Reading.id.in_([r.id for r in kept.values()]))
            .execution_options(synchronize_session=False)
        )
