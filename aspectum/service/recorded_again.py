"""Drawings whose readings an older Aspectum recorded by other rules: they are recorded again, one after another, while the pages are served."""

from __future__ import annotations

import logging
from threading import Thread

from sqlalchemy import select

from aspectum.core.practice.recorded import ReadFrom
from aspectum.service import sheets
from aspectum.service.computing import Order
from aspectum.service.drawings import critiqued_on, subject_under
from aspectum.service.installation import Installation
from aspectum.service.readings import record
from aspectum.store.models import RECORDED, Drawing, Person, Sheet

log = logging.getLogger(__name__)


def begin(here: Installation) -> None:
    """Record them in the background; a server that is stopped meanwhile goes on the next time."""
    Thread(target=record_again, args=(here,), name="records again", daemon=True).start()


def record_again(here: Installation) -> int:
    """Record all of them; answers how many. One that cannot be judged keeps what it has."""
    with here.sessions() as session:
        waiting = list(session.scalars(select(Drawing.sheet_id).where(Drawing.recorded < RECORDED).order_by(Drawing.sheet_id)))
    for sheet_id in waiting:
        try:
            record_one(here, sheet_id)
        except Exception:
            log.exception("the readings of a drawing could not be recorded again")
    return len(waiting)


def record_one(here: Installation, sheet_id: str) -> None:
    """Record a drawing's readings anew, as it is kept; one that is saved at this moment records its own."""
    with here.sessions() as session:
        sheet = session.get_one(Sheet, sheet_id)
        revision, against, document = sheet.revision, subject_under(session, sheet), sheets.document_of(sheet)
    readings = None if against is None else here.computing.run(Order.PAGE, None, critiqued_on, against, document)
    with here.sessions.begin() as session:
        drawing = session.get(Drawing, sheet_id)
        if drawing is None:
            return
        drawing.recorded = RECORDED
        # without a subject to judge by any more, what was found then can only be kept
        if readings is not None and drawing.sheet.revision == revision:
            record(session, session.get_one(Person, drawing.sheet.person_id), drawing.sheet, ReadFrom.CRITIQUE, readings)
