"""What follows a save: the sheet's report, and the readings for the record.

It is computed after the save is on the disk: a check takes longer than a save, and nobody else could save meanwhile.
"""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy.orm import Session

from aspectum.core.practice.recorded import ReadFrom, SkillReading
from aspectum.formats.report import Report
from aspectum.formats.sheet import SightingSheet
from aspectum.service.paper.drawings import critiqued_on
from aspectum.service.sheets.checking import judge_kept, kept_report
from aspectum.service.sheets.readings import judgements, record
from aspectum.store.models import Person, Sheet


@dataclass(frozen=True)
class AfterSave:
    """``critiqued``: None where there is nothing to judge a drawing by, or too little laid on it."""

    report: Report
    judged: list[SkillReading]
    critiqued: list[SkillReading] | None


def after_save(document: SightingSheet, against: SightingSheet | None) -> AfterSave:
    """What a saved sheet is answered; ``against``: what it is a drawing of."""
    judged = judge_kept(document)
    return AfterSave(
        kept_report(document, judged), judgements(judged), None if against is None else critiqued_on(against, document)
    )


def record_saved(session: Session, person: Person, sheet_id: str, revision: int, found: AfterSave) -> None:
    """Keep the readings of the save that made ``revision``; a newer one keeps its own."""
    sheet = session.get(Sheet, sheet_id)
    if sheet is None or sheet.revision != revision:
        return
    record(session, person, sheet, ReadFrom.JUDGEMENT, found.judged)
    if found.critiqued is not None:
        record(session, person, sheet, ReadFrom.CRITIQUE, found.critiqued)
