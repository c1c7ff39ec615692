"""Drawings on paper: brought in, judged, noted, and brought in again."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from typing import Annotated, Any

from flask import Response
from pydantic import BeforeValidator, Field, model_validator

from aspectum.core.drawing.hand import HANDS, Steadiness
from aspectum.formats.critique import Critique
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import Millimetres, Name, Point, Sighting, number
from aspectum.language import say
from aspectum.service.pages.critique_page import Page, critique_pdf, critique_png
from aspectum.service.paper import drawings, laying
from aspectum.service.paper.critique import judge_drawing
from aspectum.service.sheets import pictures, sheets
from aspectum.service.words.paper import flattened_words, slant_words
from aspectum.store.models import Drawing
from aspectum.web.api.base import Mark, Message, computed, feature, here, owner, work
from aspectum.web.api.exports import file_names
from aspectum.web.api.pictures import PictureOut
from aspectum.web.api.plans import PaperSize, paper_sizes
from aspectum.web.problems import problem
from aspectum.web.routes import CHANGES_SHEET, OWN_WORK, READS_SHEET, Queue, file_by_kind

routes = feature("drawings")

Px = Annotated[int, BeforeValidator(number), Field(ge=0, le=100_000)]
Line = Annotated[str, Field(max_length=300)]


class FindPaper(Message):
    """``subject_id``, ``before_id``: as when the drawing is brought in; they may tell the size of its paper."""

    picture_id: str
    subject_id: str | None = None
    before_id: str | None = None


class FoundPaper(Message):
    """``corners``: px, from the sheet's top left clockwise, null where none is found; ``sure``: whether its sides are
    seen well enough; ``upright``: whether it lies taller than wide; ``paper_mm``: the size that the sheet probably has:
    the one it had when the drawing was brought in before, or the one of the subject's plan.
    """

    corners: list[Point] | None
    sure: bool
    upright: bool
    paper_mm: tuple[float, float] | None
    sizes: list[PaperSize]


class SlantRequest(Message):
    picture_id: str
    corners: tuple[Point, Point, Point, Point]
    paper_mm: tuple[Millimetres, Millimetres]


class SlantAnswer(Message):
    """``slant_deg``: between the line of sight and the sheet's normal; what the corners' error costs a line in tilt
    (degrees) and length (share).
    """

    slant_deg: float
    tilt_sd_deg: float
    length_sd: float
    words: str


class BringIn(Message):
    """A photo of a drawing, flattened by its sheet's ``corners`` and ``paper_mm``, or with a ``box`` (left, top, right,
    bottom; px) cut out plainly. ``subject_id``: the sheet it was drawn from; ``before_id``: the same drawing, as it was
    brought in before.
    """

    photo_id: str
    corners: tuple[Point, Point, Point, Point] | None = None
    paper_mm: tuple[Millimetres, Millimetres] | None = None
    box: tuple[Px, Px, Px, Px] | None = None
    subject_id: str | None = None
    before_id: str | None = None
    title: Name | None = None

    @model_validator(mode="after")
    def _either(self) -> BringIn:
        if self.corners is not None and self.paper_mm is None:
            raise ValueError(say("paper_mm: the size of the sheet goes with its corners"))
        if self.box is not None and not (self.box[0] < self.box[2] and self.box[1] < self.box[3]):
            raise ValueError(say("box: left before right, top before bottom"))
        return self


class DrawingLine(Message):
    """A drawing as its subject lists it."""

    sheet_id: str
    title: str
    before_id: str | None
    picture: PictureOut
    sightings: int
    created_at: datetime

    @classmethod
    def of(cls, drawing: Drawing) -> DrawingLine:
        sheet = drawing.sheet
        assert sheet.picture is not None
        count = len(sheet.document.get("sightings", []))
        return cls(
            sheet_id=sheet.id,
            title=sheet.title,
            before_id=drawing.before_id,
            picture=PictureOut.of(sheet.picture),
            sightings=count,
            created_at=sheet.created_at,
        )


class DrawingList(Message):
    drawings: list[DrawingLine]


class DrawingFull(Message):
    """A drawing beside its sheet. ``subject``: the document it is judged against, null from imagination; ``before``:
    the drawing as it was brought in before.
    """

    sheet_id: str
    subject_id: str | None
    subject: SightingSheet | None
    subject_picture: PictureOut | None
    before_id: str | None
    before: SightingSheet | None
    photo: PictureOut
    flattened: str
    content: str
    next_time: list[str]
    noted_at: datetime | None


class NextTime(Message):
    """What a student wrote on the last drawing of such forms; empty where nothing is."""

    notes: list[str]
    drawing: str | None
    noted_at: datetime | None


class Notes(Message):
    content: Annotated[str, Field(max_length=1000)] = ""
    next_time: list[Line] = Field(default_factory=list, max_length=2)


class CritiqueRequest(Message):
    """``subject``: null for a drawing from imagination; ``hand``: how steady it is taken to be; ``page``:
    as a check's.
    """

    subject: SightingSheet | None
    drawing: SightingSheet
    hand: Steadiness = Steadiness.USUAL
    page: Mark | None = None


class DrawnNow(Message):
    document: SightingSheet


class DrawnLine(Message):
    p: Point
    q: Point


class DrawnProposal(Message):
    """``snapped``: it lies on a pencil line, whose tilt is known to ``sd_deg`` (standard deviation); ``light``: much
    lighter than the others, as construction is; ``others``: lines that restate it; ``doubtful``: it may be another's
    line.
    """

    sighting: Sighting
    snapped: bool
    sd_deg: float | None
    light: bool
    others: list[DrawnLine]
    doubtful: bool


class DrawnProposals(Message):
    proposals: list[DrawnProposal]


@routes.post("/paper/find", OWN_WORK, "findPaper", FoundPaper, stores=False, misses=True)
def find_paper(json: FindPaper) -> FoundPaper:
    """Look for the four corners of a sheet of paper in a photo."""
    with work() as (session, person):
        photo = pictures.picture_of(session, person, json.picture_id)
        before = (
            None
            if json.before_id is None
            else sheets.document_of(drawings.drawing_of(session, person, json.before_id).sheet)
        )
        subject = (
            None if json.subject_id is None else sheets.document_of(sheets.sheet_of(session, person, json.subject_id))
        )
    with here().photos.turn(f"paper-{photo.id}"):
        found = drawings.find_paper(here().files, photo)
    return FoundPaper(**vars(found), paper_mm=drawings.paper_of(before, subject), sizes=paper_sizes())


@routes.post("/paper/slant", OWN_WORK, "slant", SlantAnswer, stores=False, misses=True)
def slant(json: SlantRequest) -> SlantAnswer:
    """How slanted a photo of a sheet is, by its corners."""
    with work() as (session, person):
        photo = pictures.picture_of(session, person, json.picture_id)
    found = drawings.slant_of(photo, list(json.corners), json.paper_mm)
    return SlantAnswer(**vars(found), words=slant_words(found))


@routes.post("/drawings", OWN_WORK, "bringInDrawing", DrawingFull, misses=True)
def bring_in(json: BringIn) -> DrawingFull:
    """Flatten a photo of a drawing and make its sheet."""
    how = drawings.Flattening(
        None if json.corners is None else list(json.corners), json.paper_mm if json.corners else None, json.box
    )
    with here().photos.turn(f"flatten-{json.photo_id}"):
        made = drawings.bring_in(
            here().sessions, here().files, owner(), json.photo_id, how, json.subject_id, json.before_id, json.title
        )
    return full(made)


@routes.get("/drawings/<sheet_id>", READS_SHEET, "readDrawing", DrawingFull)
def read_drawing(sheet_id: str) -> DrawingFull:
    """A drawing with the subject that it is judged against."""
    return full(sheet_id)


def full(sheet_id: str) -> DrawingFull:
    with work() as (session, person):
        drawing = drawings.drawing_of(session, person, sheet_id)
        subject = drawings.subject_of(session, drawing)
        return DrawingFull(
            sheet_id=drawing.sheet_id,
            subject_id=None if subject is None else subject.id,
            subject=None if subject is None else sheets.document_of(subject),
            subject_picture=None if subject is None or subject.picture is None else PictureOut.of(subject.picture),
            before_id=drawing.before_id,
            before=drawings.before_of(session, drawing),
            photo=PictureOut.of(drawing.photo),
            flattened=flattened_words(drawing.flattening.get("slant")),
            content=drawing.content,
            next_time=drawing.next_time,
            noted_at=drawing.noted_at,
        )


@routes.put("/drawings/<sheet_id>/notes", CHANGES_SHEET, "writeNotes", NextTime)
def write_notes(sheet_id: str, json: Notes) -> NextTime:
    """Keep what the student is content with and what to watch next time."""
    with work() as (session, person):
        drawing = drawings.write_notes(session, person, sheet_id, json.content, json.next_time)
        return NextTime(notes=drawing.next_time, drawing=drawing.sheet.title, noted_at=drawing.noted_at)


@routes.get("/sheets/<sheet_id>/drawings", READS_SHEET, "listDrawings", DrawingList)
def list_drawings(sheet_id: str) -> DrawingList:
    """Everything drawn from a subject, the last first."""
    with work() as (session, person):
        sheets.sheet_of(session, person, sheet_id)
        return DrawingList(drawings=[DrawingLine.of(d) for d in drawings.drawings_of(session, person, sheet_id)])


@routes.get("/sheets/<sheet_id>/next-time", READS_SHEET, "nextTime", NextTime)
def next_time(sheet_id: str) -> NextTime:
    """What was noted on the last drawing of forms such as this sheet has."""
    with work() as (session, person):
        found = drawings.for_next_time(session, person, sheet_id)
        if found is None:
            return NextTime(notes=[], drawing=None, noted_at=None)
        return NextTime(notes=found.next_time, drawing=found.sheet.title, noted_at=found.noted_at)


@routes.post("/critique", OWN_WORK, "critique", Critique, queue=Queue.HAND, stores=False)
def critique(json: CritiqueRequest) -> Critique:
    """Judge a drawing against its subject, or by itself."""
    return computed(judge_drawing, json.subject, json.drawing, hand=HANDS[json.hand])


@routes.post("/drawings/<sheet_id>/propose", READS_SHEET, "proposeDrawn", DrawnProposals, stores=False)
def propose(sheet_id: str, json: DrawnNow) -> DrawnProposals:
    """What the subject has and the drawing does not yet, at its expected place on the pencil lines; or all of it, found
    there without help.
    """
    with work() as (session, person):
        drawing = drawings.drawing_of(session, person, sheet_id)
        subject, flat = drawings.subject_of(session, drawing), drawing.sheet.picture
        against, before = None if subject is None else sheets.document_of(subject), drawings.before_of(session, drawing)
    if flat is None or (against is None and before is None):
        return DrawnProposals(proposals=[])
    proposed = laying.propose(here().files, flat, against, json.document, before)
    found: list[Any] = [vars(p) | {"others": [{"p": a, "q": b} for a, b in p.others]} for p in proposed]
    return DrawnProposals.model_validate({"proposals": found})


class ComparedNow(DrawnNow):
    """``partly``: compare what stands, though not all that was laid before does."""

    partly: bool = False


class SinceBefore(Message):
    """What changed since the drawing was brought in before: ids of sightings, and causes in words; all empty for one
    brought in once. ``waits``: not all that was laid before stands again.
    """

    moved: list[str] = Field(default_factory=list)
    nearer: list[str] = Field(default_factory=list)
    farther: list[str] = Field(default_factory=list)
    gone: list[str] = Field(default_factory=list)
    left: list[str] = Field(default_factory=list)
    new: list[str] = Field(default_factory=list)
    words: list[str] = Field(default_factory=list)
    waits: bool = False


@routes.post("/drawings/<sheet_id>/since", READS_SHEET, "sinceBefore", SinceBefore, stores=False)
def since(sheet_id: str, json: ComparedNow) -> SinceBefore:
    """What changed since the same drawing was brought in before."""
    with work() as (session, person):
        found = drawings.since_before(
            session, drawings.drawing_of(session, person, sheet_id), json.document, json.partly
        )
    return SinceBefore() if found is None else SinceBefore(**vars(found))


PAGES: dict[str, tuple[str, Callable[[Page], bytes]]] = {
    "pdf": ("application/pdf", critique_pdf),
    "png": ("image/png", critique_png),
    "json": ("application/json", lambda page: (page.critique.model_dump_json(indent=1) + "\n").encode()),
}


@routes.get("/drawings/<sheet_id>/critique.<kind>", READS_SHEET, "critiquePage", file_by_kind(PAGES), queue=Queue.FILE)
def page(sheet_id: str, kind: str) -> Response:
    """The critique on one page, as a PDF, a PNG or as it is (JSON)."""
    if kind not in PAGES:
        return problem(404, say("Not found"), say("A critique is written as pdf, png or json."))
    with work() as (session, person):
        drawing = drawings.drawing_of(session, person, sheet_id)
        made = drawings.page_of(session, here().files, drawing)
        title = drawing.sheet.title
    response = Response(computed(written_page, made, kind), mimetype=PAGES[kind][0])
    response.headers.set("Content-Disposition", "attachment", **file_names(title, f"critique.{kind}"))
    return response


def written_page(made: Page, kind: str) -> bytes:
    return PAGES[kind][1](made)
