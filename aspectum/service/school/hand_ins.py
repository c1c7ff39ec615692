"""Handing in and giving back: a frozen copy, the tutor's mark, word and remarks."""

from __future__ import annotations

import logging
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError
from sqlalchemy import delete, or_, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session, sessionmaker

from aspectum.core.tolerance import Verdict, worst
from aspectum.formats.critique import Critique
from aspectum.formats.reading import FormatError
from aspectum.formats.report import Report
from aspectum.formats.sheet import SightingSheet
from aspectum.language import Text, say
from aspectum.service.errors import Missing, Refused, Unfit
from aspectum.service.paper.critique import judge_drawing
from aspectum.service.paper.drawings import drawings_of
from aspectum.service.paper.improvement import numbers, since
from aspectum.service.school.assignment_kinds import HandInPart
from aspectum.service.school.assignments import begun_by, hand_ins_of
from aspectum.service.sheets import sheets
from aspectum.service.sheets.checking import check_kept, naming
from aspectum.service.sheets.readings import judged
from aspectum.service.words.common import several
from aspectum.store.assignments import Assignment, HandIn, Phrase, Remark
from aspectum.store.classes import ClassRow
from aspectum.store.models import Drawing, Person, Sheet, now

log = logging.getLogger(__name__)

MOST_REMARKS, MOST_PHRASES = 100, 60
COME_FIRST = {
    HandInPart.SIGHTINGS: Text("Nothing is sighted on the sheet yet."),
    HandInPart.DRAWING: Text("Bring your drawing in under “Paper” first."),
    HandInPart.CRITIQUE: Text("Bring your drawing in under “Paper”, and sight its lines first."),
    HandInPart.NOTE: Text("Write what you will watch next time."),
}


def hand_in(session: Session, assignment: Assignment, person: Person, note: str) -> HandIn:
    """Freeze a copy of the person's work on an assignment; it is judged after it is kept. Raises ``Unfit`` naming what
    is missing, and ``Refused`` when no try is left.
    """
    if session.get_one(ClassRow, assignment.class_id).closed_at is not None:
        raise Refused(say("The class is closed: nothing is handed in any more."))
    tries = hand_ins_of(session, assignment, person.id)
    if len(tries) >= assignment.tries:
        raise Refused(say("All {tries} tries are used.", tries=assignment.tries))
    if tries and tries[-1].returned_at is None:
        raise Refused(say("Your last try is with the tutor. It can be handed in again once it came back."))
    begun = begun_by(session, assignment, person)
    sheet = None if begun is None else begun.sheet
    if sheet is None or sheet.deleted_at is not None:
        raise Unfit(say("Begin the assignment first."))
    drawing = _drawing_of(session, person, sheet)
    for part in _missing(assignment, sheets.document_of(sheet), drawing, note):
        raise Unfit(COME_FIRST[part])
    made = HandIn(
        assignment_id=assignment.id,
        person_id=person.id,
        number=len(tries) + 1,
        sheet_id=sheet.id,
        document=sheet.document,
        picture_id=sheet.picture_id,
        drawing_id=None if drawing is None else drawing.sheet_id,
        drawing=None if drawing is None else drawing.sheet.document,
        drawing_picture_id=None if drawing is None else drawing.sheet.picture_id,
        note=note.strip(),
        found={},
    )
    try:
        with session.begin_nested():
            session.add(made)
    except IntegrityError:
        raise Refused(say("It was handed in from another tab at this moment.")) from None
    return made


def missing(session: Session, assignment: Assignment, person: Person) -> list[HandInPart]:
    """What the person's work on an assignment still lacks before it can be handed in, in the order of the work; its
    note among it, which is written then.
    """
    begun = begun_by(session, assignment, person)
    if begun is None or begun.sheet is None or begun.sheet.deleted_at is not None:
        return [part for part in HandInPart if part.value in assignment.hand_in]
    return _missing(assignment, sheets.document_of(begun.sheet), _drawing_of(session, person, begun.sheet), "")


def _drawing_of(session: Session, person: Person, sheet: Sheet) -> Drawing | None:
    drawings = drawings_of(session, person, sheet.id)
    return drawings[0] if drawings else None


def _missing(assignment: Assignment, document: SightingSheet, drawing: Drawing | None, note: str) -> list[HandInPart]:
    there = {
        HandInPart.SIGHTINGS: bool(document.accepted),
        HandInPart.DRAWING: drawing is not None,
        HandInPart.CRITIQUE: drawing is not None and bool(drawing.sheet.document.get("sightings")),
        HandInPart.NOTE: bool(note.strip()),
    }
    return [part for part in HandInPart if part.value in assignment.hand_in and not there[part]]


@dataclass(frozen=True)
class JudgedPiece:
    """What came out of a piece. ``critique``: None where there is no drawing, or it cannot be judged."""

    report: Report
    critique: Critique | None


def frozen(made: HandIn) -> tuple[SightingSheet, SightingSheet | None]:
    """The sheet of a piece and its drawing, as they were handed in."""
    return SightingSheet.model_validate(made.document), None if made.drawing is None else SightingSheet.model_validate(
        made.drawing
    )


def judge_piece(document: SightingSheet, drawing: SightingSheet | None) -> JudgedPiece:
    """Check and critique of a piece. It takes longer than keeping it, and nobody else could keep anything meanwhile: it
    is computed within no transaction.
    """
    return JudgedPiece(check_kept(document), None if drawing is None else _critique(document, drawing))


def _critique(document: SightingSheet, drawing: SightingSheet) -> Critique | None:
    try:
        return judge_drawing(document, drawing)
    except FormatError:
        return None
    except Exception:
        # what was handed in is kept and looked at whatever the critique makes of it
        log.exception("a drawing of %d sightings could not be judged", len(drawing.sightings))
        return None


def judged_piece(made: HandIn) -> JudgedPiece | None:
    """What was kept of a piece's judging; None where it is not judged yet, or was by an Aspectum whose reports this one
    does not read.
    """
    try:
        if made.report is None:
            return None
        return JudgedPiece(
            Report.model_validate(made.report),
            None if made.critique is None else Critique.model_validate(made.critique),
        )
    except ValidationError:
        return None


def keep_judged(session: Session, hand_in_id: str, came_out: JudgedPiece) -> None:
    """Keep what came out of a piece; what was counted on the day it was handed in stays."""
    made = session.get(HandIn, hand_in_id)
    if made is None:
        return
    made.report = came_out.report.model_dump(mode="json", exclude_none=True)
    made.critique = None if came_out.critique is None else came_out.critique.model_dump(mode="json", exclude_none=True)
    made.found = made.found or found_in(made, came_out)


def judge_waiting(sessions: sessionmaker[Session]) -> int:
    """Judge the pieces that were handed in and not judged any more before the server stopped; answers how many."""
    with sessions() as session:
        waiting = {
            row.id: frozen(row)
            for row in session.scalars(select(HandIn).where(HandIn.report.is_(None)))
            if not row.found
        }
    for hand_in_id, given in waiting.items():
        try:
            came_out = judge_piece(*given)
            with sessions.begin() as session:
                keep_judged(session, hand_in_id, came_out)
        except Exception:
            log.exception("a piece that waited could not be judged")
    return len(waiting)


def compared(before: JudgedPiece, after: JudgedPiece, document: SightingSheet) -> list[str]:
    """What changed from one try to the next, in sentences: of the drawings where both were judged, else of the
    sightings that both have. ``document``: the sheet of the later one, which names them.
    """
    named = naming(document)
    if before.critique is not None and after.critique is not None:
        return since(before.critique, after.critique, named).words
    was, now_is = ({f.sighting: f.verdict for f in piece.report.findings} for piece in (before, after))
    changed = [id for id, verdict in now_is.items() if id in was and was[id] is not verdict]
    said = [
        f"{words}: {several([named(id) for id in ids])}."
        for words, ids in (
            (say("Hold now"), [id for id in changed if now_is[id] is Verdict.HOLDS]),
            (say("Off now"), [id for id in changed if now_is[id] is Verdict.OFF]),
            (say("Sighted since"), [id for id in now_is if id not in was]),
        )
        if ids
    ]
    counts = [sum(verdict is Verdict.OFF for verdict in verdicts.values()) for verdicts in (was, now_is)]
    return [*said, say("Off before: {counts}; off now: {counts2}.", counts=counts[0], counts2=counts[1])]


def found_in(made: HandIn, came_out: JudgedPiece) -> dict[str, Any]:
    """Verdicts counted, of the drawing where one was judged, else of the sightings; how many were judged by eye; the
    drawing's causes.
    """
    report, critique = came_out.report, came_out.critique
    drawn = critique is not None and bool(critique.findings)
    verdicts = (
        [worst(r.verdict for r in numbers(f)) for f in critique.findings]
        if drawn and critique is not None
        else [f.verdict for f in report.findings if not f.measure]
    )
    counted = Counter(verdicts)
    return {
        "of": "drawing" if drawn else "sightings",
        "holds": counted[Verdict.HOLDS],
        "off": counted[Verdict.OFF],
        "unsure": len(verdicts) - counted[Verdict.HOLDS] - counted[Verdict.OFF],
        "judged": sum(judged(s) for s in SightingSheet.model_validate(made.document).accepted),
        "sightings": len(made.document.get("sightings", [])),
        "causes": [] if critique is None else [{"cause": c.cause.value, "words": c.words} for c in critique.causes],
    }


def hand_in_row(session: Session, hand_in_id: str) -> HandIn:
    found = session.get(HandIn, hand_in_id)
    if found is None:
        raise Missing(say("There is no such piece."))
    return found


def tries_of(session: Session, made: HandIn) -> Sequence[HandIn]:
    """All tries at the same assignment by the same person."""
    return hand_ins_of(session, made.assignment, made.person_id)


def remarks_of(session: Session, made: HandIn) -> Sequence[Remark]:
    return session.scalars(select(Remark).where(Remark.hand_in_id == made.id).order_by(Remark.number)).all()


@dataclass(frozen=True)
class GivenRemark:
    """A remark: of a sighting, of a place (px), or of the whole."""

    words: str
    sighting: str | None
    at_px: tuple[float, float] | None


def review(
    session: Session, made: HandIn, mark: str, word: str, remarks: Sequence[GivenRemark], returned: bool
) -> None:
    """Keep a tutor's mark, word and remarks in place of those so far; with ``returned`` give the piece back. Raises
    ``Unfit`` for what cannot be.
    """
    if len(remarks) > MOST_REMARKS:
        raise Unfit(say("A piece takes {most_remarks} remarks at most.", most_remarks=MOST_REMARKS))
    known = {s["id"] for s in made.document.get("sightings", [])} | {
        s["id"] for s in (made.drawing or {}).get("sightings", [])
    }
    for n, given in enumerate(remarks):
        if given.sighting is not None and given.sighting not in known:
            raise Unfit(say("Remark {n} is about a sighting that is not on this piece.", n=n + 1))
    made.mark, made.word = mark.strip(), word.strip()
    if returned and made.returned_at is None:
        made.returned_at = now()
    session.execute(delete(Remark).where(Remark.hand_in_id == made.id))
    for n, given in enumerate((s for s in remarks if s.words.strip()), 1):
        x, y = given.at_px or (None, None)
        session.add(
            Remark(hand_in_id=made.id, number=n, sighting=given.sighting, x_px=x, y_px=y, words=given.words.strip())
        )
    session.flush()


def returned_on(session: Session, sheet: Sheet) -> HandIn | None:
    """The last piece given back that was made of a sheet, as subject or as drawing."""
    query = select(HandIn).where(
        or_(HandIn.sheet_id == sheet.id, HandIn.drawing_id == sheet.id), HandIn.returned_at.is_not(None)
    )
    return session.scalars(query.order_by(HandIn.number.desc())).first()


def phrases_of(session: Session, tutor: Person) -> list[str]:
    return list(session.scalars(select(Phrase.words).where(Phrase.person_id == tutor.id).order_by(Phrase.number)))


def keep_phrases(session: Session, tutor: Person, phrases: Sequence[str]) -> None:
    """Keep a tutor's phrases in place of those so far."""
    session.execute(delete(Phrase).where(Phrase.person_id == tutor.id))
    said = dict.fromkeys(p.strip() for p in phrases if p.strip())
    for n, words in enumerate(list(said)[:MOST_PHRASES], 1):
        session.add(Phrase(person_id=tutor.id, number=n, words=words))
