"""Sheets whose readings an older Aspectum recorded by other rules: they are recorded again, one after another, while
the pages are served.
"""

from __future__ import annotations

import logging
from threading import Thread

from sqlalchemy import exists, select, update

from aspectum.core.practice.recorded import ReadFrom
from aspectum.service.paper.drawings import critiqued_on, subject_under
from aspectum.service.runtime.computing import Order
from aspectum.service.runtime.installation import Installation
from aspectum.service.sheets import sheets
from aspectum.service.sheets.readings import judged_on, record
from aspectum.store.models import RECORDED, Person, Reading, Sheet

log = logging.getLogger(__name__)


def begin(here: Installation) -> None:
    """Record them in the background; a server that is stopped meanwhile goes on the next time."""
    Thread(target=record_again, args=(here,), name="records again", daemon=True).start()


def record_again(here: Installation) -> int:
    """Record all of them; answers how many. What cannot be judged any more keeps the readings that it has."""
    of_it = exists().where(Reading.sheet_id == Sheet.id)
    with here.sessions.begin() as session:
        session.execute(
            update(Sheet)
            .where(Sheet.recorded < RECORDED, ~of_it)
            .values(recorded=RECORDED)
            .execution_options(synchronize_session=False)
        )
    with here.sessions() as session:
        waiting = list(session.scalars(select(Sheet.id).where(Sheet.recorded < RECORDED).order_by(Sheet.id)))
    for sheet_id in waiting:
        try:
            record_one(here, sheet_id)
        except Exception:
            log.exception("the readings of a sheet could not be recorded again")
    return len(waiting)


def record_one(here: Installation, sheet_id: str) -> None:
    """Record a sheet's readings anew, as it is kept; one that is saved at this moment records its own."""
    with here.sessions() as session:
        sheet = session.get_one(Sheet, sheet_id)
        revision, against, document = sheet.revision, subject_under(session, sheet), sheets.document_of(sheet)
    found = {ReadFrom.JUDGEMENT: here.computing.run(Order.PAGE, None, judged_on, document)}
    critiqued = None if against is None else here.computing.run(Order.PAGE, None, critiqued_on, against, document)
    if critiqued is not None:
        found[ReadFrom.CRITIQUE] = critiqued
    with here.sessions.begin() as session:
        kept = session.get(Sheet, sheet_id)
        if kept is None:
            return
        kept.recorded = RECORDED
        if kept.revision == revision:
            person = session.get_one(Person, kept.person_id)
            for source, readings in found.items():
                record(session, person, kept, source, readings)
