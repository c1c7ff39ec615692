"""What was handed in: looked at by whoever made it and by their tutor, who gives it back."""

from __future__ import annotations

from contextlib import suppress
from datetime import datetime
from typing import Annotated

from pydantic import Field
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from aspectum.formats.critique import Critique
from aspectum.formats.report import Report
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import Point
from aspectum.service.people.may import leads
from aspectum.service.school import hand_ins
from aspectum.service.school.assignment_kinds import HandInPart
from aspectum.service.sheets import sheets
from aspectum.store.assignments import HandIn, Remark
from aspectum.store.models import Person
from aspectum.web.api.base import Message, asking, computed, feature, here, work
from aspectum.web.api.pictures import PictureOut
from aspectum.web.routes import OWN_WORK, READS_SHEET, Queue, reads, tutor_of

routes = feature("hand_ins")

Wording = Annotated[str, Field(min_length=1, max_length=1000)]


class RemarkOut(Message):
    """``number``: as it stands on the picture. ``at``: px of the drawing's picture, or of the sheet's where there is no
    drawing.
    """

    number: int
    words: str
    sighting: str | None
    at: Point | None

    @classmethod
    def of(cls, row: Remark) -> RemarkOut:
        at = None if row.x_px is None or row.y_px is None else (row.x_px, row.y_px)
        return cls(number=row.number, words=row.words, sighting=row.sighting, at=at)


class PieceFound(Message):
    """Verdicts counted, ``of`` the drawing or the sightings; ``judged``: how many sightings were judged by eye."""

    of: str
    holds: int
    off: int
    unsure: int
    judged: int
    sightings: int
    causes: list[str]

    @classmethod
    def out(cls, made: HandIn) -> PieceFound:
        counts = {key: int(made.found.get(key, 0)) for key in ("holds", "off", "unsure", "judged", "sightings")}
        return cls(
            of=str(made.found.get("of", "sightings")),
            causes=[str(c["words"]) for c in made.found.get("causes", [])],
            **counts,
        )


class TryLine(Message):
    hand_in_id: str
    number: int
    at: datetime
    found: PieceFound


class Piece(Message):
    """A piece as it was handed in. ``compared``: what changed since the try before, in sentences. Mark, word and
    remarks are its tutor's, and before it came back nobody else's.
    """

    id: str
    assignment_id: str
    assignment: str
    asked_for: list[HandInPart]
    person_id: str
    name: str
    number: int
    tries: list[TryLine]
    at: datetime
    document: SightingSheet
    picture: PictureOut | None
    report: Report
    drawing: SightingSheet | None
    drawing_picture: PictureOut | None
    critique: Critique | None
    note: str
    found: PieceFound
    compared: list[str]
    mark: str
    word: str
    remarks: list[RemarkOut]
    returned_at: datetime | None


class RemarkIn(Message):
    words: Wording
    sighting: Annotated[str, Field(max_length=80)] | None
    at: Point | None


class Review(Message):
    """``returned``: give the piece back; one that is back stays back."""

    mark: Annotated[str, Field(max_length=20)]
    word: Annotated[str, Field(max_length=2000)]
    remarks: list[RemarkIn] = Field(max_length=hand_ins.MOST_REMARKS)
    returned: bool


class Phrases(Message):
    """A tutor's own phrases."""

    phrases: list[Wording] = Field(max_length=hand_ins.MOST_PHRASES)


class RemarksOn(Message):
    """What came back on a sheet or drawing: the last try that did. ``hand_in_id`` is null where nothing has."""

    hand_in_id: str | None
    assignment: str
    mark: str
    word: str
    remarks: list[RemarkOut]


@routes.get("/hand-ins/<hand_in_id>", reads("hand_in", "hand_in_id"), "readPiece", Piece, queue=Queue.OPENS)
def read_piece(hand_in_id: str) -> Piece:
    """A piece with its check and its critique."""
    return piece(hand_in_id)


@routes.put("/hand-ins/<hand_in_id>/review", tutor_of("hand_in", "hand_in_id"), "reviewPiece", Piece, queue=Queue.OPENS)
def review_piece(hand_in_id: str, json: Review) -> Piece:
    """Keep the tutor's mark, word and remarks, and give the piece back."""
    with work() as (session, _):
        made = hand_ins.hand_in_row(session, hand_in_id)
        said = [hand_ins.GivenRemark(r.words, r.sighting, r.at) for r in json.remarks]
        hand_ins.review(session, made, json.mark, json.word, said, json.returned)
    return piece(hand_in_id)


@routes.get("/sheets/<sheet_id>/remarks", READS_SHEET, "readRemarks", RemarksOn)
def read_remarks(sheet_id: str) -> RemarksOn:
    """What the tutor said of a sheet, or of a drawing, when it last came back."""
    with work() as (session, person):
        made = hand_ins.returned_on(session, sheets.sheet_of(session, person, sheet_id))
        if made is None:
            return RemarksOn(hand_in_id=None, assignment="", mark="", word="", remarks=[])
        said = [RemarkOut.of(r) for r in hand_ins.remarks_of(session, made)]
        return RemarksOn(
            hand_in_id=made.id, assignment=made.assignment.title, mark=made.mark, word=made.word, remarks=said
        )


@routes.get("/phrases", OWN_WORK, "listPhrases", Phrases)
def list_phrases() -> Phrases:
    """One's own phrases."""
    with work() as (session, person):
        return Phrases(phrases=hand_ins.phrases_of(session, person))


@routes.put("/phrases", OWN_WORK, "keepPhrases", Phrases)
def keep_phrases(json: Phrases) -> Phrases:
    """Keep one's own phrases, in order."""
    with work() as (session, person):
        hand_ins.keep_phrases(session, person, json.phrases)
        session.flush()
        return Phrases(phrases=hand_ins.phrases_of(session, person))


def piece(hand_in_id: str) -> Piece:
    """A piece as it is told; one that is not judged yet is judged now, in this route's queue."""
    with work() as (session, _):
        made = hand_ins.hand_in_row(session, hand_in_id)
        before = next((t for t in hand_ins.tries_of(session, made) if t.number == made.number - 1), None)
        kept = {row.id: (hand_ins.frozen(row), hand_ins.judged_piece(row)) for row in (made, before) if row is not None}
    came_out = {id: known or judged_now(id, given) for id, (given, known) in kept.items()}
    with work() as (session, _):
        made = hand_ins.hand_in_row(session, hand_in_id)
        changed = (
            [] if before is None else hand_ins.compared(came_out[before.id], came_out[made.id], kept[made.id][0][0])
        )
        return told(session, made, came_out[made.id], changed)


def judged_now(hand_in_id: str, given: tuple[SightingSheet, SightingSheet | None]) -> hand_ins.JudgedPiece:
    """What comes out of a piece, kept for the next time where there is room to keep it."""
    came_out = computed(hand_ins.judge_piece, *given)
    with suppress(DBAPIError), here().sessions.begin() as session:
        hand_ins.keep_judged(session, hand_in_id, came_out)
    return came_out


def told(session: Session, made: HandIn, came_out: hand_ins.JudgedPiece, changed: list[str]) -> Piece:
    """A piece and what came out of it; ``changed``: from the try before."""
    tutor = leads(session, session.get_one(Person, asking()), made.assignment.class_id)
    shown = tutor or made.returned_at is not None
    document, drawing = hand_ins.frozen(made)
    return Piece(
        id=made.id,
        assignment_id=made.assignment_id,
        assignment=made.assignment.title,
        asked_for=[HandInPart(part) for part in made.assignment.hand_in],
        person_id=made.person_id,
        name=made.person.name,
        number=made.number,
        tries=[
            TryLine(hand_in_id=t.id, number=t.number, at=t.made_at, found=PieceFound.out(t))
            for t in hand_ins.tries_of(session, made)
        ],
        at=made.made_at,
        document=document,
        picture=None if made.picture is None else PictureOut.of(made.picture),
        report=came_out.report,
        drawing=drawing,
        drawing_picture=None if made.drawing_picture is None else PictureOut.of(made.drawing_picture),
        critique=came_out.critique,
        note=made.note,
        found=PieceFound.out(made),
        compared=changed,
        mark=made.mark if shown else "",
        word=made.word if shown else "",
        remarks=[RemarkOut.of(r) for r in hand_ins.remarks_of(session, made)] if shown else [],
        returned_at=made.returned_at,
    )
