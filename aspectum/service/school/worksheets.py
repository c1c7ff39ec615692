"""Sets of worksheets: made from a seed, printed, and kept as they were printed."""

from __future__ import annotations

import secrets
from collections.abc import Collection, Iterable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from aspectum.core.plane.lines import tilt_deg
from aspectum.core.plane.projection import focal_35mm_of
from aspectum.core.sightings import Alignment, Division, Edge, Face, Family, Length, Point, Rim
from aspectum.core.worksheet.exercise import (
    Asked,
    Cross,
    Exercise,
    ExerciseKind,
    Grade,
    Printed,
    Round,
    Sighted,
    Stroke,
    Tag,
)
from aspectum.core.worksheet.levels import PictureEdge, PictureGiven
from aspectum.core.worksheet.make import OF_PICTURES, make
from aspectum.formats.sheet import GivenOnPaper, SightingSheet
from aspectum.formats.sightings import EdgeSighting, Form, GivenEyeLevel, LengthSighting, PictureInfo
from aspectum.formats.worksheet import (
    AskedLine,
    CrossMark,
    EllipsePart,
    PrintedMark,
    RoundMark,
    StrokeMark,
    TagMark,
    Worksheet,
)
from aspectum.language import say
from aspectum.pictures.corner_marks import CODES
from aspectum.pictures.papers import FLAT_LONG_PX, ISO_216
from aspectum.service.errors import Missing, Unfit
from aspectum.service.pages.worksheet_page import Field, Page, field_of, worksheets_pdf
from aspectum.service.people.passphrases import folded
from aspectum.service.school.classes import taught_by
from aspectum.service.sheets import pictures, sheets
from aspectum.service.sheets.checking import check_sheet
from aspectum.service.words.worksheets import TITLES
from aspectum.store.models import Person, Picture
from aspectum.store.picture_files import PictureFiles
from aspectum.store.worksheets import PrintedWorksheet, ReturnedWorksheet, WorksheetSet

PAPERS = ("A4", "A3", "A2")  # that a worksheet can be printed on (handbook section 4)
MOST_COPIES = 40
TRUTH_SD_PX = 0.5  # of a point of the truth: it is exact, and its picture is whole pixels
CODE_TRIES = 50
SEEDS = 2**31


@dataclass(frozen=True)
class Wanted:
    """What a set is to be made of."""

    exercises: tuple[ExerciseKind, ...]
    grade: Grade = Grade.EASY
    paper: str = "A4"
    copies: int = 1
    title: str = ""
    class_line: str = ""
    names: tuple[str, ...] = ()
    seed: int | None = None
    sheet_id: str | None = None


def begin_set(session: Session, person: Person, wanted: Wanted) -> WorksheetSet:
    """Begin a set; its pages are made by ``make_copy``. Raises ``Unfit`` for what cannot be printed, and ``Missing``
    for another's sheet.
    """
    if not wanted.exercises:
        raise Unfit(say("Choose one exercise at least."))
    if wanted.paper not in PAPERS:
        raise Unfit(say("Worksheets are printed on {papers}.", papers=" or ".join(PAPERS)))
    copies = len(wanted.names) or wanted.copies
    if not 1 <= copies <= MOST_COPIES:
        raise Unfit(say("A set has 1 to {most_copies} copies.", most_copies=MOST_COPIES))
    photo: Picture | None = None
    about_it = [kind for kind in wanted.exercises if kind in OF_PICTURES]
    if wanted.sheet_id is not None and about_it:
        sheet = sheets.sheet_of(session, person, wanted.sheet_id)
        if sheet.picture is None:
            raise Unfit(say("This sheet is from life and has no picture to print."))
        photo, given = sheet.picture, given_of(sheets.document_of(sheet))
        for kind in about_it:
            fit_for(kind, given)
    made = WorksheetSet(
        person_id=person.id,
        title=wanted.title or "Worksheets",
        exercises=[kind.value for kind in dict.fromkeys(wanted.exercises)],
        grade=wanted.grade.value,
        paper=wanted.paper,
        copies=copies,
        class_line=wanted.class_line,
        names=list(wanted.names),
        seed=secrets.randbelow(SEEDS) if wanted.seed is None else wanted.seed,
        photo_id=None if photo is None else photo.id,
        sheet_id=None if photo is None else wanted.sheet_id,
    )
    session.add(made)
    session.flush()
    return made


def fit_for(kind: ExerciseKind, given: PictureGiven) -> None:
    """Raise ``Unfit`` where a sheet does not know what the exercise asks."""
    if kind is ExerciseKind.EYE_LEVEL and (given.eye_level is None or given.upright is None):
        raise Unfit(
            say("This sheet's edges fix no eye level yet, or none of its uprights is the unit. Sight it first.")
        )
    if kind is ExerciseKind.TILTS and not given.edges:
        raise Unfit(say("No edge is sighted on this sheet yet."))


def given_of(sheet: SightingSheet) -> PictureGiven:
    """What a sheet knows of its picture, for the exercises that print it."""
    assert sheet.picture is not None
    wide, high = sheet.picture.width_px, sheet.picture.height_px

    def part(p: Point) -> Point:
        return p[0] / wide, p[1] / high

    edges = tuple(
        PictureEdge(part(s.p), part(s.q), float(tilt_deg(s.p, s.q)))
        for s in sheet.accepted
        if isinstance(s, EdgeSighting) and s.p is not None and s.q is not None and s.family is not Family.UPRIGHT
    )
    level = check_sheet(sheet).eye_level
    unit = next(
        (
            (s.p, s.q)
            for s in sheet.accepted
            if isinstance(s, LengthSighting) and s.unit and s.p is not None and s.q is not None
        ),
        None,
    )
    known = (
        None
        if level is None or level.left_y_px is None or level.right_y_px is None
        else (level.left_y_px / high, level.right_y_px / high)
    )
    return PictureGiven(wide / high, edges, known, None if unit is None else (part(unit[0]), part(unit[1])))


def make_copy(session: Session, person: Person, set_id: str, numbers: Iterator[int] | None = None) -> WorksheetSet:
    """Make the next copy of a set's worksheets, all its exercises, with ``numbers`` in their corners or any that are
    free. One whose name is a student's is that student's, whoever brings it back. Raises ``Unfit`` where an exercise
    does not fit its paper.
    """
    made = set_of(session, person, set_id)
    number = copies_made(session, made) + 1
    if number > made.copies:
        return made
    given: PictureGiven | None = None
    photo = None if made.photo_id is None else session.get_one(Picture, made.photo_id)
    if made.sheet_id is not None:
        given = given_of(sheets.document_of(sheets.sheet_of(session, person, made.sheet_id)))
    name = made.names[number - 1] if number <= len(made.names) else ""
    whose = next(
        (student.id for student in taught_by(session, person) if name.strip() and folded(student.name) == folded(name)),
        None,
    )
    laid: list[Worksheet] = []
    for value in made.exercises:
        kind = ExerciseKind(value)
        document = laid_out(
            kind,
            Grade(made.grade),
            made.paper,
            made.seed,
            number,
            given if kind in OF_PICTURES else None,
            code=next(numbers) if numbers is not None else free_code(session, {sheet.code for sheet in laid}),
            name=name,
            class_line=made.class_line,
            photo=photo.name if photo is not None and kind in OF_PICTURES else None,
        )
        laid.append(document)
    # all are laid out before the first is written: nobody else can save from then on
    for n, document in enumerate(laid, 1):
        written = document.model_dump(mode="json", exclude_none=True)
        session.add(
            PrintedWorksheet(
                code=document.code, set_id=made.id, copy_number=number, number=n, person_id=whose, document=written
            )
        )
    session.flush()
    return made


def laid_out(
    kind: ExerciseKind, grade: Grade, paper: str, seed: int, number: int, given: PictureGiven | None, **entries: Any
) -> Worksheet:
    """The exercise of one copy on its sheet, which lies. Raises ``Unfit`` where it does not fit its paper."""
    high, wide = ISO_216[paper]
    inside = field_of((wide, high))
    try:
        exercise = make(kind, (inside.wide, inside.high), grade, seed, number, given)
    except LookupError as error:
        raise Unfit(
            say("{titles} does not fit on {paper}: {error}.", titles=TITLES[kind], paper=paper, error=error)
        ) from error
    return worksheet_of(exercise, inside, seed=seed, copy_number=number, paper=paper, paper_mm=(wide, high), **entries)


def free_code(session: Session, given: Collection[int] = ()) -> int:
    """A number that no worksheet bears yet, nor is ``given`` already: any, so that one tells nothing of the next."""
    for _ in range(CODE_TRIES):
        code = 1 + secrets.randbelow(CODES - 1)
        if code not in given and session.get(PrintedWorksheet, code) is None:
            return code
    raise Unfit(say("Nearly every number for worksheets is taken; delete sets that are no longer used."))


def copies_made(session: Session, made: WorksheetSet) -> int:
    """How many copies of a set are made so far."""
    return session.scalar(select(func.max(PrintedWorksheet.copy_number)).where(PrintedWorksheet.set_id == made.id)) or 0


def worksheet_of(exercise: Exercise, inside: Field, **entries: Any) -> Worksheet:
    """An exercise on its sheet, in the open format. ``entries``: the sheet's own: number, paper, names."""

    def at(p: Point) -> Point:
        return round(p[0] + inside.left, 4), round(p[1] + inside.top, 4)

    level = exercise.eye_level
    box = None if exercise.picture is None else exercise.picture.box
    wide = entries["paper_mm"][0]
    # eye level at the sheet's own edges
    carried = None
    if level is not None:
        slope = (level[1] - level[0]) / exercise.size[0]
        carried = level[0] - slope * inside.left + inside.top, level[0] + slope * (wide - inside.left) + inside.top
    return Worksheet(
        kind=exercise.kind,
        grade=exercise.grade,
        printed=[printed_mark(mark, at) for mark in exercise.printed],
        asked=[asked_line(asked, at) for asked in exercise.asked],
        vanishing_points=[at(vp) for vp in exercise.vanishing_points],
        eye_level_mm=carried,
        picture_box=None if box is None else (*at((box[0], box[1])), box[2], box[3]),
        subject=subject_of(exercise, at, entries["paper_mm"], carried),
        **entries,
    )


def printed_mark(mark: Printed, at: Any) -> PrintedMark:
    match mark:
        case Stroke():
            return StrokeMark(points=[at(p) for p in mark.points], role=mark.role)
        case Round():
            return RoundMark(ellipse=ellipse_part(mark.ellipse, at), role=mark.role)
        case Cross():
            return CrossMark(at=at(mark.at), role=mark.role)
        case Tag():
            return TagMark(
                at=at(mark.at),
                letter=mark.letter,
                number=mark.number,
                said=mark.said,
                middle=mark.middle,
                role=mark.role,
            )


def ellipse_part(ellipse: Any, at: Any) -> EllipsePart:
    return EllipsePart(
        centre=at(ellipse.centre_px), major=ellipse.major_px, minor=ellipse.minor_px, axis_deg=ellipse.axis_deg
    )


def asked_line(asked: Asked, at: Any) -> AskedLine:
    return AskedLine(
        id=asked.id,
        line=None if asked.line is None else (at(asked.line[0]), at(asked.line[1])),
        ellipse=None if asked.ellipse is None else ellipse_part(asked.ellipse, at),
        measured=asked.measured,
        ends=asked.ends,
    )


def subject_of(
    exercise: Exercise, at: Any, paper_mm: tuple[float, float], eye_level_mm: tuple[float, float] | None
) -> SightingSheet:
    """The truth of an exercise as the sheet that a drawing is judged against, in pixels of the flattened paper."""
    scale = FLAT_LONG_PX / max(paper_mm)
    width, height = round(paper_mm[0] * scale), round(paper_mm[1] * scale)

    def px(p: Point) -> Point:
        x, y = at(p)
        return round(x * scale, 3), round(y * scale, 3)

    focal = exercise.focal
    level = (
        None
        if eye_level_mm is None
        else GivenEyeLevel(left_y_px=eye_level_mm[0] * scale, right_y_px=eye_level_mm[1] * scale)
    )
    sheet = SightingSheet(
        title=say("Worksheet: {title}", title=TITLES[exercise.kind]),
        picture=PictureInfo(
            width_px=width,
            height_px=height,
            # counted on the longer side, as cameras do
            focal_35mm=None if focal is None else focal_35mm_of(focal * scale, max(width, height)),
            centre_px=None if exercise.centre is None else px(exercise.centre),
        ),
        point_sd_px=TRUTH_SD_PX,
        perspective=exercise.perspective,
        eye_level=level,
        paper_mm=paper_mm,
        given=GivenOnPaper.model_validate(
            {"eye_level": exercise.level_given, "vanishing_points": exercise.points_given}
        ),
        forms=[Form(id=form.id, kind=form.kind, name=form.id) for form in exercise.forms],
    )
    # read as a file would be: the format tells what each kind of sighting must hold
    asked = {a.id for a in exercise.asked}
    laid = [sighting(s, exercise.names[s.id], px) | ({} if s.id in asked else {"given": True}) for s in exercise.truth]
    return SightingSheet.model_validate(sheet.model_dump(mode="json", exclude_none=True) | {"sightings": laid})


def sighting(s: Sighted, name: str, px: Any) -> dict[str, Any]:
    """A sighting of the core as the format has it."""
    head = {"id": s.id, "name": name}
    match s:
        case Edge():
            return head | {
                "kind": "edge",
                "form": s.form,
                "family": s.family,
                "p": px(s.p),
                "q": px(s.q),
                "hidden": list(s.hidden) or None,
            }
        case Rim():
            assert s.ends is not None and s.near is not None
            return head | {
                "kind": "rim",
                "form": s.form,
                "plane": s.plane,
                "points": [px(p) for p in s.points],
                "ends": [px(p) for p in s.ends],
                "near": px(s.near),
            }
        case Length():
            return head | {"kind": "length", "p": px(s.p), "q": px(s.q), "along": s.along, "unit": s.unit}
        case Alignment():
            return head | {"kind": "alignment", "p": px(s.p), "q": px(s.q), "along": s.along}
        case Face():
            return head | {
                "kind": "face",
                "form": s.form,
                "families": s.families,
                "corners": [px(p) for p in s.corners],
            }
        case Division():
            return head | {"kind": "division", "face": s.face, "along": s.along, "point": px(s.point)}


def set_of(session: Session, person: Person, set_id: str) -> WorksheetSet:
    """A person's own set. Raises ``Missing``."""
    made = session.get(WorksheetSet, set_id)
    if made is None or made.person_id != person.id:
        raise Missing(say("There is no such set of worksheets."))
    return made


def list_sets(session: Session, person: Person) -> list[WorksheetSet]:
    """A person's sets, the newest first."""
    return list(
        session.scalars(
            select(WorksheetSet).where(WorksheetSet.person_id == person.id).order_by(WorksheetSet.made_at.desc())
        )
    )


def pages_of(session: Session, made: WorksheetSet) -> list[Worksheet]:
    """A set's worksheets, copy by copy."""
    query = select(PrintedWorksheet).where(PrintedWorksheet.set_id == made.id)
    rows = session.scalars(query.order_by(PrintedWorksheet.copy_number, PrintedWorksheet.number))
    return [Worksheet.model_validate(row.document) for row in rows]


def one_of(session: Session, made: WorksheetSet, code: int) -> Worksheet:
    """One sheet of a set by its number. Raises ``Missing``."""
    row = session.get(PrintedWorksheet, code)
    if row is None or row.set_id != made.id:
        raise Missing(say("There is no such worksheet in this set."))
    return Worksheet.model_validate(row.document)


def photo_of(session: Session, files: PictureFiles, made: WorksheetSet) -> Path | None:
    """The file of the photo that a set prints. Raises ``Missing`` where it is gone."""
    return None if made.photo_id is None else pictures.picture_path(files, session.get_one(Picture, made.photo_id), "")


def set_pdf(title: str, documents: list[Worksheet], photo: Path | None, sheets_too: bool, answers_too: bool) -> bytes:
    """Worksheets as PDF. Raises ``Missing`` where there are none."""
    if not documents:
        raise Missing(say("No copy of this set is made yet."))
    return worksheets_pdf(title, printed(documents, photo), sheets_too, answers_too)


def preview(kind: ExerciseKind, grade: Grade, paper: str, seed: int, sheet: SightingSheet | None) -> Worksheet:
    """An exercise as the first copy of a set would have it. Raises ``Unfit`` where it does not fit, or asks what
    ``sheet`` does not know.
    """
    given = None if sheet is None or sheet.picture is None or kind not in OF_PICTURES else given_of(sheet)
    if given is not None:
        fit_for(kind, given)
    return laid_out(kind, grade, paper, seed, 1, given, code=1, photo="photo" if given is not None else None)


def printed(documents: Iterable[Worksheet], photo: Path | None) -> list[Page]:
    return [Page(document, photo if document.picture_box is not None else None) for document in documents]


def returned_of(session: Session, made: WorksheetSet) -> list[tuple[ReturnedWorksheet, PrintedWorksheet, Person]]:
    """What came back of a set, the last first: which sheet it was, and by whom."""
    query = (
        select(ReturnedWorksheet, PrintedWorksheet, Person)
        .join(PrintedWorksheet, PrintedWorksheet.code == ReturnedWorksheet.code)
        .join(Person, Person.id == ReturnedWorksheet.person_id)
        .where(PrintedWorksheet.set_id == made.id)
        .order_by(ReturnedWorksheet.made_at.desc())
    )
    return [(back, sheet, person) for back, sheet, person in session.execute(query)]


def delete_set(session: Session, person: Person, set_id: str) -> None:
    """Forget a set: what was printed of it is no longer known by its corners. What came back stays with whoever brought
    it.
    """
    session.delete(set_of(session, person, set_id))
    session.flush()
