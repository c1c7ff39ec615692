"""Worksheets: looked at, made, printed, and brought back."""

from __future__ import annotations

import base64
from datetime import datetime
from enum import StrEnum
from typing import Annotated, Any

from flask import Response
from pydantic import BeforeValidator, Field
from sqlalchemy.orm import Session

from aspectum.core.worksheet.exercise import ExerciseKind, Grade
from aspectum.core.worksheet.make import OF_PICTURES
from aspectum.formats.reading import written
from aspectum.formats.sightings import Name, number
from aspectum.formats.worksheet import Worksheet
from aspectum.language import say
from aspectum.service.errors import Unfit
from aspectum.service.pages.worksheet_page import worksheet_svg
from aspectum.service.people.may import Action, Owner, may
from aspectum.service.school import worksheets
from aspectum.service.school.brought_back import AsksWhose, bring_back
from aspectum.service.school.worksheets import MOST_COPIES, PAPERS, SEEDS, Wanted
from aspectum.service.sheets import pictures, sheets
from aspectum.service.words.worksheets import TITLES, sentence
from aspectum.store.worksheets import WorksheetSet
from aspectum.web.api.base import Mark, Message, computed, feature, here, owner, work
from aspectum.web.api.stand_files import download
from aspectum.web.routes import OWN_WORK, SVG, Queue, changes, file_of, reads

routes = feature("worksheets")

Seed = Annotated[int, BeforeValidator(number), Field(ge=0, lt=SEEDS)]
Copies = Annotated[int, BeforeValidator(number), Field(ge=1, le=MOST_COPIES)]


class PrintedPart(StrEnum):
    """What is printed of a set."""

    SHEETS = "sheets"
    ANSWERS = "answers"
    ALL = "all"


class ExerciseLine(Message):
    """``sentences`` by grade, as they are printed; ``of_picture``: it asks about a picture, one's own photo where a
    sheet is given.
    """

    kind: ExerciseKind
    title: str
    sentences: dict[Grade, str]
    of_picture: bool


class ExerciseList(Message):
    exercises: list[ExerciseLine]
    papers: list[str]
    most_copies: int


class WantedSet(Message):
    """``names``: one copy for each, with the name on it; else ``copies``. ``sheet_id``: of whose photo the exercises
    about a picture ask.
    """

    exercises: list[ExerciseKind] = Field(min_length=1, max_length=len(ExerciseKind))
    grade: Grade
    paper: str = Field(max_length=10)
    copies: Copies = 1
    title: Name = ""
    class_line: Name = ""
    names: list[Name] = Field(default_factory=list, max_length=MOST_COPIES)
    seed: Seed | None = None
    sheet_id: str | None = None


class ReturnLine(Message):
    """A worksheet that came back, with the drawing made on it where that is still kept."""

    code: int
    kind: ExerciseKind
    title: str
    copy_number: int
    person: str
    drawing_id: str | None
    subject_id: str | None
    made_at: datetime


class SetOfWorksheets(Message):
    """``made``: copies that are made so far."""

    id: str
    title: str
    exercises: list[ExerciseKind]
    grade: Grade
    paper: str
    copies: int
    made: int
    class_line: str
    names: list[str]
    seed: int
    returned: list[ReturnLine]
    made_at: datetime


class SetsOfWorksheets(Message):
    sets: list[SetOfWorksheets]


class Photographed(Message):
    """``ticket``: as of a photo that is opened; ``whose``: the person whose sheet it is, where no name is printed on it
    and a tutor brings it in.
    """

    photo_id: str
    ticket: Mark
    whose: str | None = None


class WhoseChoice(Message):
    person_id: str
    name: str


class WorksheetBack(Message):
    """``subject_id``: the sheet of the truth; ``drawing_id``: the sheet of what was drawn, both null where they are
    nothing that one may look at; how many of the ``asked`` lines were found. ``students``: where nothing was brought in
    yet, since it bears no name and must be said whose it is: one of these, or one's own.
    """

    subject_id: str | None
    drawing_id: str | None
    students: list[WhoseChoice]
    code: int
    kind: ExerciseKind
    title: str
    copy_number: int
    laid: int
    asked: int
    words: str


@routes.get("/worksheets/exercises", OWN_WORK, "listExercises", ExerciseList)
def exercises() -> ExerciseList:
    """Every kind of exercise, and the papers they can be printed on."""
    lines = [
        ExerciseLine(
            kind=kind,
            title=str(TITLES[kind]),
            sentences={grade: sentence(kind, grade) for grade in Grade},
            of_picture=kind in OF_PICTURES,
        )
        for kind in ExerciseKind
    ]
    return ExerciseList(exercises=lines, papers=list(PAPERS), most_copies=MOST_COPIES)


class PreviewAsked(Message):
    kind: ExerciseKind
    grade: Grade
    paper: str = Field(max_length=10)
    seed: int = Field(ge=0, lt=SEEDS)
    answer: bool = False
    sheet_id: str | None = None


@routes.get("/worksheets/preview.svg", OWN_WORK, "previewWorksheet", SVG, misses=True)
def preview(query: PreviewAsked) -> Response:
    """The field of a worksheet as its first copy would be."""
    if query.paper not in PAPERS:
        raise Unfit(say("Worksheets are printed on {papers}.", papers=" or ".join(PAPERS)))
    with work() as (session, person):
        seen = None if query.sheet_id is None else sheets.sheet_of(session, person, query.sheet_id)
        made = worksheets.preview(
            query.kind, query.grade, query.paper, query.seed, None if seen is None else sheets.document_of(seen)
        )
        photo = None
        if seen is not None and seen.picture is not None and made.picture_box is not None:
            thumb = pictures.picture_path(here().files, seen.picture, "thumb").read_bytes()
            # a picture within a picture loads nothing from elsewhere
            photo = f"data:image/jpeg;base64,{base64.b64encode(thumb).decode()}"
    return Response(worksheet_svg(made, query.answer, photo), mimetype="image/svg+xml")


@routes.get("/worksheets", OWN_WORK, "listWorksheets", SetsOfWorksheets)
def list_sets() -> SetsOfWorksheets:
    """One's sets, the newest first, with what came back of each."""
    with work() as (session, person):
        return SetsOfWorksheets(sets=[told(session, made) for made in worksheets.list_sets(session, person)])


@routes.post("/worksheets", OWN_WORK, "beginWorksheets", SetOfWorksheets, misses=True)
def begin(json: WantedSet) -> SetOfWorksheets:
    """Begin a set; its copies are then made one by one."""
    with work() as (session, person):
        wanted = Wanted(
            tuple(json.exercises),
            json.grade,
            json.paper,
            json.copies,
            json.title.strip(),
            json.class_line.strip(),
            tuple(json.names),
            json.seed,
            json.sheet_id,
        )
        return told(session, worksheets.begin_set(session, person, wanted))


@routes.post("/worksheets/<set_id>/copies", changes("worksheet_set", "set_id"), "makeWorksheetCopy", SetOfWorksheets)
def make_copy(set_id: str) -> SetOfWorksheets:
    """Make the next copy of a set; once all are made nothing changes."""
    with work() as (session, person):
        return told(session, worksheets.make_copy(session, person, set_id))


# no other of the fixed names below it
@routes.delete(
    "/worksheets/<string(minlength=32, maxlength=32):set_id>",
    changes("worksheet_set", "set_id"),
    "deleteWorksheets",
    SetsOfWorksheets,
)
def delete(set_id: str) -> SetsOfWorksheets:
    """Forget a set: its printed sheets are no longer known by their corners."""
    with work() as (session, person):
        worksheets.delete_set(session, person, set_id)
        return SetsOfWorksheets(sets=[told(session, made) for made in worksheets.list_sets(session, person)])


PRINTED = file_of("application/pdf", choices={"part": list(PrintedPart)})


@routes.get(
    "/worksheets/<set_id>/<part>.pdf", reads("worksheet_set", "set_id"), "printWorksheets", PRINTED, queue=Queue.FILE
)
def printed(set_id: str, part: str) -> Response:
    """A set as PDF: its sheets, its answers, or both."""
    if part not in list(PrintedPart):
        raise Unfit(say("What is printed is one of {PrintedPart}.", PrintedPart=", ".join(PrintedPart)))
    with work() as (session, person):
        made = worksheets.set_of(session, person, set_id)
        documents, photo = worksheets.pages_of(session, made), worksheets.photo_of(session, here().files, made)
        title = made.title
    content = computed(
        worksheets.set_pdf, title, documents, photo, part != PrintedPart.ANSWERS, part != PrintedPart.SHEETS
    )
    return download(content, "application/pdf", title if part == PrintedPart.ALL else f"{title}, {part}", "pdf")


@routes.get(
    "/worksheets/<set_id>/<int:code>.json",
    reads("worksheet_set", "set_id"),
    "worksheetFile",
    file_of("application/json"),
)
def worksheet_file(set_id: str, code: int) -> Response:
    """One printed sheet in the open format, its truth too."""
    with work() as (session, person):
        made: Worksheet = worksheets.one_of(session, worksheets.set_of(session, person, set_id), code)
    return download(written(made), "application/json", f"worksheet {code}", "worksheet.json")


@routes.post("/worksheets/back", OWN_WORK, "bringWorksheetBack", WorksheetBack, misses=True)
def bring(json: Photographed) -> WorksheetBack:
    """Bring a photographed worksheet in: known by its corners, flattened, its pencil lines laid beside the truth, and
    filed with the work of the student printed on it.
    """
    with here().photos.turn(json.ticket):
        back = bring_back(here().sessions, here().files, owner(), json.photo_id, json.whose)
    sheet = back.worksheet
    told: dict[str, Any] = {
        "code": sheet.code,
        "kind": sheet.kind,
        "title": str(TITLES[sheet.kind]),
        "copy_number": sheet.copy_number,
    }
    if isinstance(back, AsksWhose):
        choices = [WhoseChoice(person_id=one.id, name=one.name) for one in back.students]
        return WorksheetBack(subject_id=None, drawing_id=None, students=choices, laid=0, asked=0, words="", **told)
    with work() as (session, person):
        seen = may(session, person, Action.READ, Owner(back.person_id))
    return WorksheetBack(
        subject_id=back.subject_id if seen else None,
        drawing_id=back.drawing_id if seen else None,
        students=[],
        laid=back.laid,
        asked=back.asked,
        words=back.words,
        **told,
    )


def told(session: Session, made: WorksheetSet) -> SetOfWorksheets:
    returned = [
        ReturnLine(
            code=back.code,
            kind=ExerciseKind(sheet.document["kind"]),
            title=str(TITLES[ExerciseKind(sheet.document["kind"])]),
            copy_number=sheet.copy_number,
            person=person.name,
            drawing_id=back.drawing_id,
            subject_id=back.subject_id,
            made_at=back.made_at,
        )
        for back, sheet, person in worksheets.returned_of(session, made)
    ]
    return SetOfWorksheets(
        id=made.id,
        title=made.title,
        exercises=[ExerciseKind(kind) for kind in made.exercises],
        grade=Grade(made.grade),
        paper=made.paper,
        copies=made.copies,
        made=worksheets.copies_made(session, made),
        class_line=made.class_line,
        names=made.names,
        seed=made.seed,
        returned=returned,
        made_at=made.made_at,
    )
