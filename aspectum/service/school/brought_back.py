"""Worksheets brought back: known by their corners, flattened exactly, and their pencil lines laid beside the truth."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.practice.recorded import ReadFrom
from aspectum.core.sightings import Along, Point
from aspectum.core.worksheet.bringing import along_same, cornered, crossing, reach
from aspectum.core.worksheet.exercise import ExerciseKind, Role
from aspectum.core.worksheet.window import on_ellipse
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import AlignmentSighting, DivisionSighting, EdgeSighting, FaceSighting, LengthSighting
from aspectum.formats.worksheet import AskedLine, CrossMark, RoundMark, StrokeMark, TagMark, Worksheet
from aspectum.language import Text, say
from aspectum.pictures.corner_marks import FoundMarks, sheet_corners
from aspectum.pictures.isolated import find_marks_isolated, open_isolated, snap_isolated
from aspectum.service.errors import Missing, Unfit
from aspectum.service.pages.worksheet_page import CROSS_MM, Page, answer_png
from aspectum.service.paper.drawings import Flattening, bring_in, critiqued_on, subject_under
from aspectum.service.paper.laying import laid_rim, round_of
from aspectum.service.people.may import learns_from
from aspectum.service.school.classes import taught_by
from aspectum.service.sheets import pictures, sheets
from aspectum.service.sheets.readings import record
from aspectum.service.words.worksheets import TITLES, brought_words, filed_words
from aspectum.store.models import Person, Picture, Sheet
from aspectum.store.picture_files import PictureFiles
from aspectum.store.worksheets import PrintedWorksheet, ReturnedWorksheet, WorksheetSet

OFFSETS_MM = (
    0.0,
    14.0,
    -14.0,
    28.0,
    -28.0,
    42.0,
    -42.0,
)  # at which eye level is looked for, which may be drawn far off
ERASED_MM = 1.4  # wide: what is printed is taken out before pencil lines are looked for
TAG_WIDE_MM = 16.0  # room of a printed word
ROUND_STEPS = 120  # that a printed ellipse is followed in
UNREAD = Text(
    "No worksheet is known by these corners: three of its four corner marks must lie in the photo, sharp and whole. "
    "Photograph the sheet again, or bring it in "
    "as a drawing and set its corners yourself."
)


@dataclass(frozen=True)
class BroughtBack:
    """A worksheet that came back: the sheet of its truth, the drawing's, whose both are, and how many of its ``asked``
    lines were found in pencil.
    """

    subject_id: str
    drawing_id: str
    person_id: str
    name: str
    worksheet: Worksheet
    laid: int
    asked: int
    words: str


@dataclass(frozen=True)
class AsksWhose:
    """A worksheet without a name, brought in by a tutor: it may be any of the tutor's ``students``', or the tutor's
    own.
    """

    worksheet: Worksheet
    students: list[Person]


def bring_back(
    sessions: sessionmaker[Session], files: PictureFiles, asker_id: str, photo_id: str, whose: str | None = None
) -> BroughtBack | AsksWhose:
    """Bring a photographed worksheet in as a drawing with its truth, for the student whose name is printed on it;
    without a name for ``whose`` the asker says it is. Raises ``Unfit`` where its corners tell no number, ``Missing``
    for a worksheet that is not of one's own or one's class and for a person who is none of one's students, and as
    ``drawings.bring_in``.
    """
    with sessions() as session:
        photo = pictures.picture_of(session, session.get_one(Person, asker_id), photo_id)
        path = pictures.picture_path(files, photo, "")
    found = find_marks_isolated(path.read_bytes())
    if found is None:
        raise Unfit(str(UNREAD))
    with sessions.begin() as session:
        row, picture = known_worksheet(session, asker_id, found.code)
        sheet = Worksheet.model_validate(row.document)
        printed_photo = None if picture is None else pictures.picture_path(files, picture, "")
        owner = owner_of(session, row, session.get_one(Person, asker_id), whose)
        if isinstance(owner, list):
            return AsksWhose(sheet, owner)
        person_id, name = owner.id, owner.name
        if person_id != asker_id:
            # what is filed with a student's work is the student's, its photo too
            photo_id = pictures.copied_to(
                session, pictures.picture_of(session, session.get_one(Person, asker_id), photo_id), person_id
            ).id
    corners = corners_of(found, sheet)
    subject_id = truth_sheet(sessions, files, person_id, Page(sheet, printed_photo))
    before = returned_before(sessions, person_id, sheet.code)
    title = say("{titles}, sheet {copy_number}", titles=TITLES[sheet.kind], copy_number=sheet.copy_number)
    drawing_id = bring_in(
        sessions,
        files,
        person_id,
        photo_id,
        Flattening(corners, sheet.paper_mm, None),
        subject_id,
        before,
        title,
        lay=False,
    )
    laid = lay_pencil(sessions, files, person_id, drawing_id, sheet)
    with sessions.begin() as session:
        session.add(
            ReturnedWorksheet(code=sheet.code, person_id=person_id, subject_id=subject_id, drawing_id=drawing_id)
        )
    asked = sum(one.line is not None or one.ellipse is not None for one in sheet.asked)
    words = brought_words(laid, asked) if person_id == asker_id else f"{filed_words(name)} {brought_words(laid, asked)}"
    return BroughtBack(subject_id, drawing_id, person_id, name, sheet, laid, asked, words)


def known_worksheet(session: Session, person_id: str, code: int) -> tuple[PrintedWorksheet, Picture | None]:
    """A worksheet by its number, with the picture printed in it, for its maker and whoever is in a class of theirs.
    Raises ``Missing``.
    """
    row = session.get(PrintedWorksheet, code)
    made = None if row is None else session.get_one(WorksheetSet, row.set_id)
    if (
        row is None
        or made is None
        or not (made.person_id == person_id or learns_from(session, person_id, made.person_id))
    ):
        raise Missing(
            say(
                "Worksheet No. {code} is not one of yours or of your class; its set may have been deleted since.",
                code=code,
            )
        )
    return row, None if made.photo_id is None else session.get_one(Picture, made.photo_id)


def owner_of(session: Session, row: PrintedWorksheet, asker: Person, whose: str | None) -> Person | list[Person]:
    """Whose a worksheet is: the student's whose name is printed on it, else ``whose`` is said, else the asker's; from a
    tutor who has not said so, the students whose it may be. Raises ``Missing`` for a person who is none of the asker's
    students.
    """
    if row.person_id is not None:
        return session.get_one(Person, row.person_id)
    if whose == asker.id:
        return asker
    students = taught_by(session, asker)
    if whose is None:
        return students or asker
    student = next((one for one in students if one.id == whose), None)
    if student is None:
        raise Missing(say("There is no such student in a class of yours."))
    return student


def corners_of(found: FoundMarks, sheet: Worksheet) -> list[Point]:
    """Where the sheet's own corners lie in the photo. Raises ``Unfit`` where its marks do not lie as they
    were printed.
    """
    corners = sheet_corners(found, sheet.paper_mm)
    if corners is None:
        raise Unfit(
            say(
                "The corner marks do not lie as they were printed on {paper}: the sheet is folded or bent. Press it "
                "flat, and try again.",
                paper=sheet.paper,
            )
        )
    return corners


def truth_sheet(sessions: sessionmaker[Session], files: PictureFiles, person_id: str, page: Page) -> str:
    """The sheet of a worksheet's truth, its answer as the picture, made once for each who brings it back."""
    sheet = page.sheet
    with sessions() as session:
        query = (
            select(ReturnedWorksheet.subject_id)
            .join(Sheet, Sheet.id == ReturnedWorksheet.subject_id)
            .where(
                ReturnedWorksheet.code == sheet.code,
                ReturnedWorksheet.person_id == person_id,
                Sheet.deleted_at.is_(None),
            )
        )
        known = session.scalar(query.limit(1))
    if known is not None:
        return known
    kept = pictures.keep_picture(
        sessions, files, person_id, f"worksheet {sheet.code}.png", open_isolated(answer_png(page))
    )
    document = sheet.subject.model_copy(deep=True)
    assert document.picture is not None
    document.paper_mm = None
    document.picture.file = kept.name
    with sessions.begin() as session:
        person = session.get_one(Person, person_id)
        return sheets.make_sheet(session, person, pictures.picture_of(session, person, kept.id), document).id


def returned_before(sessions: sessionmaker[Session], person_id: str, code: int) -> str | None:
    """The drawing of the same worksheet as it was brought back last, where it is still kept."""
    with sessions() as session:
        query = (
            select(ReturnedWorksheet.drawing_id)
            .join(Sheet, Sheet.id == ReturnedWorksheet.drawing_id)
            .where(ReturnedWorksheet.code == code, ReturnedWorksheet.person_id == person_id, Sheet.deleted_at.is_(None))
            .order_by(ReturnedWorksheet.made_at.desc())
        )
        return session.scalar(query.limit(1))


def lay_pencil(
    sessions: sessionmaker[Session], files: PictureFiles, person_id: str, drawing_id: str, sheet: Worksheet
) -> int:
    """Lay on a drawing what is printed, where it stands, and what is asked where a pencil line is found; answers how
    many of those are.
    """
    with sessions() as session:
        person = session.get_one(Person, person_id)
        drawing = sheets.sheet_of(session, person, drawing_id)
        assert drawing.picture is not None
        data = pictures.picture_path(files, drawing.picture, "").read_bytes()
        document, revision, against = sheets.document_of(drawing), drawing.revision, subject_under(session, drawing)
    assert document.picture is not None
    scale = document.picture.width_px / sheet.paper_mm[0]
    lines = {a.id: [scaled(a.line[0], scale), scaled(a.line[1], scale)] for a in sheet.asked if a.line is not None}
    far = sheet.kind is ExerciseKind.EYE_LEVEL
    tried = {
        f"{id} {n}": [[x, y + off * scale] for x, y in line]
        for id, line in lines.items()
        for n, off in enumerate(OFFSETS_MM if far else OFFSETS_MM[:1])
    }
    rims = {
        a.id: (
            scaled(a.ellipse.centre, scale),
            a.ellipse.major / 2 * scale,
            a.ellipse.minor / 2 * scale,
            math.radians(90.0 - a.ellipse.axis_deg),
        )
        for a in sheet.asked
        if a.ellipse is not None
    }
    on_lines, on_rims = snap_isolated(
        data, scale, tried, rims, erase=printed_lines(sheet, scale), erase_px=ERASED_MM * scale
    )
    pencil = darkest(on_lines)
    true = {
        s.id: (s.p, s.q)
        for s in sheet.subject.accepted
        if isinstance(s, EdgeSighting | AlignmentSighting) and s.p is not None and s.q is not None
    }
    pencil |= cornered({id: line for id, line in pencil.items() if id in true}, true)
    ellipses = {id: laid_rim(*round_of(rim)) for id, rim in on_rims.items() if rim is not None}
    document = document.model_copy(update={"forms": sheet.subject.forms, "tolerance": document.tolerance})
    document = laid_document(document, sheet, pencil, ellipses)
    readings = None if against is None else critiqued_on(against, document)
    with sessions.begin() as session:
        person = session.get_one(Person, person_id)
        saved = sheets.save_sheet(session, person, drawing_id, revision, document)
        if readings is not None:
            record(session, person, saved, ReadFrom.CRITIQUE, readings)
    return len(pencil) + len(ellipses)


def darkest(found: dict[str, Any]) -> dict[str, tuple[Point, Point]]:
    """Of the places that each line was looked for in ("id n"), the darkest line found."""
    best: dict[str, tuple[float, tuple[Point, Point]]] = {}
    for key, line in found.items():
        id = key.rsplit(" ", 1)[0]
        if line is not None and (id not in best or line["dark"] > best[id][0]):
            best[id] = line["dark"], (tuple(line["p"]), tuple(line["q"]))
    return {id: line for id, (_, line) in best.items()}


def scaled(p: Point, scale: float) -> list[float]:
    return [p[0] * scale, p[1] * scale]


def printed_lines(sheet: Worksheet, scale: float) -> list[list[list[float]]]:
    """Everything that the printer drew, as lines in px: what is found beside it is the hand's."""
    found: list[list[list[float]]] = []
    for mark in sheet.printed:
        if mark.role in (Role.ANSWER, Role.HIDDEN):
            continue
        match mark:
            case StrokeMark():
                found.append([scaled(p, scale) for p in mark.points])
            case CrossMark(at=(x, y)):
                for dx, dy in ((CROSS_MM, 0.0), (0.0, CROSS_MM)):
                    found.append([scaled((x - dx, y - dy), scale), scaled((x + dx, y + dy), scale)])
            case RoundMark(ellipse=e):
                seen = Ellipse(e.centre, e.major, e.minor, e.axis_deg, 0.0)
                found.append([scaled(on_ellipse(seen, k / ROUND_STEPS), scale) for k in range(ROUND_STEPS + 1)])
            case TagMark(at=(x, y)):
                left = x - TAG_WIDE_MM / 2 if mark.middle else x
                wide = min(TAG_WIDE_MM, 3.0 * max(len(mark.letter), 1)) if mark.said is None else TAG_WIDE_MM
                found += [
                    [scaled((left, y - up), scale), scaled((left + wide, y - up), scale)] for up in (0.0, 1.0, 2.0, 3.0)
                ]
    return found


def laid_document(
    document: SightingSheet, sheet: Worksheet, pencil: dict[str, Any], ellipses: dict[str, dict[str, Any]]
) -> SightingSheet:
    """The drawing with its sightings: given ones as printed, asked ones by their pencil lines (px), those that were not
    found left out.
    """
    faces = {s.id: s for s in sheet.subject.accepted if isinstance(s, FaceSighting)}
    asked = {a.id: a for a in sheet.asked}
    found: list[dict[str, Any]] = []
    for s in sheet.subject.accepted:
        plain = s.model_dump(mode="json", exclude_none=True)
        if s.id not in asked:
            found.append(plain)
            continue
        places = laid(plain, s, asked[s.id], pencil, ellipses, faces)
        if places is not None:
            found.append(plain | places)
    plain_document = document.model_dump(mode="json", exclude_none=True)
    return SightingSheet.model_validate(plain_document | {"sightings": found})


def laid(
    plain: dict[str, Any],
    s: Any,
    asked: AskedLine,
    pencil: dict[str, Any],
    ellipses: dict[str, dict[str, Any]],
    faces: dict[str, FaceSighting],
) -> dict[str, Any] | None:
    """Where an asked sighting lies by the pencil line that answers for it; None where none was found."""
    if asked.ellipse is not None:
        return ellipses.get(asked.id)
    line = pencil.get(asked.ends or asked.id)
    if line is None:
        return None
    if asked.ends is not None:
        return {"q": line[1]}
    if isinstance(s, DivisionSighting):
        a, b = faces[s.face].corners[:2]
        at = crossing(line, (a, b))
        return None if at is None else {"point": at}
    if isinstance(s, LengthSighting) and asked.measured:
        at = reach(plain["p"], Along(s.along), line)
        return None if at is None else {"q": at}
    p, q = along_same(line, (plain["p"], plain["q"]))
    return {"p": p, "q": q}
