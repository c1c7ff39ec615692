"""The record of every judgement and critique, by skill."""

from __future__ import annotations

import logging

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from aspectum.core.check import check
from aspectum.core.practice.skills import ReadFrom, SkillReading, judgement_readings, top_rim_readings
from aspectum.core.tolerance import FREEHAND
from aspectum.formats.sheet import SightingSheet
from aspectum.service.from_sheet import laid_on
from aspectum.service.life import life_on, not_laid
from aspectum.store.models import Person, Reading, Sheet

JUDGED = ("judged_tilt_deg", "judged_degree_deg", "judged_ratio", "judged_part", "judged_m", "judged_beside")

log = logging.getLogger(__name__)


def judged_on(sheet: SightingSheet) -> list[SkillReading]:
    """The readings that the judgements on a sheet are; none where its check fails, which the sheet itself tells."""
    laid = laid_on(sheet)
    if not any(judged(s) for s in sheet.sightings):
        return []
    try:
        findings = [] if laid.setup is None else check(laid.setup, laid.edges, laid.rims, laid.measured).findings
        life = life_on(sheet)
        if life is not None:
            findings = findings + not_laid(life.findings(FREEHAND), findings)
    except Exception:
        log.exception("the judgements of a sheet could not be read")
        return []
    return judgement_readings(findings, laid.rims, top_rim_readings([] if life is None else life.rims))


def judged(sighting: object) -> bool:
    return any(
        getattr(sighting, name, None) is not None
        for name in ("judged_tilt_deg", "judged_degree_deg", "judged_ratio", "judged_part", "judged_m", "judged_beside")
    )


def record_judgements(session: Session, person: Person, sheet: Sheet, document: SightingSheet) -> None:
    """Keep the readings of what was judged by eye on a sheet."""
    record(session, person, sheet, ReadFrom.JUDGEMENT, judged_on(document))


def record(session: Session, person: Person, sheet: Sheet, source: ReadFrom, readings: list[SkillReading]) -> None:
    """Keep what now stands on a sheet: what did not change keeps its moment, what is gone from it goes."""
    kept = {(r.skill, r.sighting): r for r in session.scalars(select(Reading).where(Reading.sheet_id == sheet.id, Reading.source == source))}
    for r in readings:
        old = kept.pop((r.skill, r.sighting), None)
        if old is not None and (old.judged, old.truth) == (r.judged, r.truth):
            continue
        values = {"judged": r.judged, "truth": r.truth, "truth_sd": r.truth_sd, "unit": r.unit.value}
        if old is None:
            session.add(Reading(person_id=person.id, sheet_id=sheet.id, skill=r.skill.value, source=source.value, sighting=r.sighting, **values))
        else:
            for name, value in values.items():
                setattr(old, name, value)
    if kept:
        session.execute(delete(Reading).where(Reading.id.in_([r.id for r in kept.values()])).execution_options(synchronize_session=False))
