"""Drawings on paper: brought in, flattened, judged against their subject, noted, and brought in again."""

from __future__ import annotations

import logging
from dataclasses import dataclass

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session, aliased, sessionmaker

from aspectum.core.practice.drawn import critique_readings
from aspectum.core.practice.recorded import ReadFrom, SkillReading
from aspectum.core.tolerance import School
from aspectum.formats.critique import Critique
from aspectum.formats.reading import FormatError
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import Form, PictureInfo
from aspectum.language import Text, say
from aspectum.pictures.isolated import find_paper_isolated, flatten_isolated
from aspectum.pictures.slant import Slant, goes_round, slant, stands_upright
from aspectum.service.errors import Missing
from aspectum.service.pages.critique_page import Page
from aspectum.service.paper.critique import judge_drawing, judged_drawing, on_paper
from aspectum.service.paper.improvement import Since, not_yet, since
from aspectum.service.paper.laying import laid_again
from aspectum.service.sheets import pictures, sheets
from aspectum.service.sheets.checking import naming
from aspectum.service.sheets.readings import record, skills_on
from aspectum.store.models import Drawing, Person, Picture, Sheet, now
from aspectum.store.picture_files import PictureFiles

log = logging.getLogger(__name__)

FROM_IMAGINATION = Text("From imagination")
HAND_POINT_MM = 0.35  # how well a point is laid on a flattened sheet: half a pencil line
UNSIZED_POINT_PX = 2.0
MOST_NOTES = 2  # for next time


@dataclass(frozen=True)
class Flattening:
    """How a drawing's photo was flattened: the sheet's ``corners`` (px of the photo, from its top left clockwise) and
    ``paper_mm``, or the ``box`` that was cut out of it.
    """

    corners: list[tuple[float, float]] | None
    paper_mm: tuple[float, float] | None
    box: tuple[int, int, int, int] | None


def slant_of(photo: Picture, corners: list[tuple[float, float]], paper_mm: tuple[float, float]) -> Slant:
    """How slanted a photo is. Raises ``FormatError`` for corners that no sheet has."""
    at = np.array(corners, float)
    if not goes_round(at):
        raise FormatError(
            say("corners: no sheet of paper has these corners; set them in order, one at each corner of the sheet")
        )
    return slant(at, paper_mm, (photo.width_px, photo.height_px), photo.focal_35mm)


@dataclass(frozen=True)
class FoundPaper:
    """``corners``: px of the photo, None where no sheet is found; ``sure``: whether its sides are seen well enough;
    ``upright``: whether it stands.
    """

    corners: list[tuple[float, float]] | None
    sure: bool
    upright: bool


def paper_of(before: SightingSheet | None, subject: SightingSheet | None) -> tuple[float, float] | None:
    """Which paper (mm) a drawing is on, as far as one knows: the one it was on before, else the one that its subject's
    plan is for.
    """
    if before is not None and before.paper_mm is not None:
        return before.paper_mm
    return None if subject is None or subject.plan is None else subject.plan.paper_mm


def find_paper(files: PictureFiles, photo: Picture) -> FoundPaper:
    """The corners of the sheet of paper in a photo, where they are found."""
    found = find_paper_isolated(pictures.picture_path(files, photo, "").read_bytes())
    if found is None:
        return FoundPaper(None, False, photo.height_px > photo.width_px)
    return FoundPaper(found["corners"], found["sure"], stands_upright(np.array(found["corners"], float)))


def bring_in(
    sessions: sessionmaker[Session],
    files: PictureFiles,
    person_id: str,
    photo_id: str,
    how: Flattening,
    subject_id: str | None,
    before_id: str | None,
    title: str | None,
    lay: bool = True,
) -> str:
    """Flatten a photo and make the sheet of a drawing on it; answers the sheet's id. Where it was brought in before,
    ``lay`` those of its lines that are surely found again. Raises ``Missing``, ``PictureError`` and ``NoRoom``.
    """
    with sessions() as session:
        person = session.get_one(Person, person_id)
        photo = pictures.picture_of(session, person, photo_id)
        subject = None if subject_id is None else sheets.sheet_of(session, person, subject_id)
        before = None if before_id is None else drawing_of(session, person, before_id)
        called = subject.title if subject is not None else FROM_IMAGINATION
        against = None if subject is None else sheets.document_of(subject)
        forms = [] if against is None else against.forms
        tolerance = School.FREEHAND if against is None else against.tolerance
        again = None if before is None else sheets.document_of(before.sheet)
    data = pictures.picture_path(files, photo, "").read_bytes()
    corners = None if how.corners is None else [list(c) for c in how.corners]
    opened = flatten_isolated(data, corners, how.paper_mm, None if how.box is None else list(how.box))
    flat = pictures.keep_picture(sessions, files, person_id, photo.name, opened)
    document = blank(title or f"Drawing: {called}"[:200], flat, how.paper_mm, forms if again is None else again.forms)
    document.tolerance = tolerance if again is None else again.tolerance
    if again is not None and lay:
        document = laid_again(files, flat, again, against, document)
    with sessions.begin() as session:
        person = session.get_one(Person, person_id)
        sheet = sheets.make_sheet(session, person, pictures.picture_of(session, person, flat.id), document)
        stood = (
            None if how.corners is None or how.paper_mm is None else vars(slant_of(photo, how.corners, how.paper_mm))
        )
        plain = {"corners": corners, "paper_mm": how.paper_mm, "box": how.box, "slant": stood}
        session.add(
            Drawing(
                sheet_id=sheet.id,
                subject_id=subject_id,
                before_id=before_id,
                photo_id=photo_id,
                flattening=plain,
                content="",
                next_time=[],
            )
        )
        return sheet.id


def blank(title: str, flat: Picture, paper_mm: tuple[float, float] | None, forms: list[Form]) -> SightingSheet:
    """A drawing's sheet before anything is sighted on it."""
    point = UNSIZED_POINT_PX if paper_mm is None else HAND_POINT_MM * flat.width_px / paper_mm[0]
    return SightingSheet(
        title=title,
        picture=PictureInfo(width_px=flat.width_px, height_px=flat.height_px, file=flat.name),
        paper_mm=paper_mm,
        point_sd_px=round(point, 2),
        forms=forms or sheets.blank_document(None, None).forms,
    )


def drawing_of(session: Session, person: Person, sheet_id: str) -> Drawing:
    """A drawing by its sheet. Raises ``Missing``."""
    sheets.sheet_of(session, person, sheet_id)
    drawing = session.get(Drawing, sheet_id)
    if drawing is None:
        raise Missing(say("This sheet is no drawing on paper."))
    return drawing


def subject_of(session: Session, drawing: Drawing) -> Sheet | None:
    """The sheet that a drawing was made from; None from imagination, or where it was deleted since."""
    subject = None if drawing.subject_id is None else session.get(Sheet, drawing.subject_id)
    return None if subject is None or subject.deleted_at is not None else subject


def drawings_of(session: Session, person: Person, subject_id: str) -> list[Drawing]:
    """Everything drawn from a subject, the last brought in first."""
    mine = aliased(Sheet)
    query = (
        select(Drawing)
        .join(mine, Drawing.sheet_id == mine.id)
        .where(Drawing.subject_id == subject_id, mine.person_id == person.id, mine.deleted_at.is_(None))
    )
    return list(session.scalars(query.order_by(mine.created_at.desc())))


def under_subjects(session: Session, person: Person) -> dict[str, str]:
    """Which of a person's sheets are drawings of another that is there too, by sheet: the subject."""
    mine, theirs = aliased(Sheet), aliased(Sheet)
    query = (
        select(Drawing.sheet_id, Drawing.subject_id)
        .join(mine, Drawing.sheet_id == mine.id)
        .join(theirs, Drawing.subject_id == theirs.id)
        .where(mine.person_id == person.id, theirs.deleted_at.is_(None), mine.deleted_at.is_(None))
    )
    return {sheet: subject for sheet, subject in session.execute(query) if subject is not None}


def all_drawings(session: Session, person: Person) -> set[str]:
    """Which of a person's sheets are drawings."""
    return set(
        session.scalars(
            select(Drawing.sheet_id).join(Sheet, Drawing.sheet_id == Sheet.id).where(Sheet.person_id == person.id)
        )
    )


def scale_of(session: Session, picture: Picture) -> float | None:
    """Pixels a millimetre of the paper where a picture is a flattened drawing's; None for any other."""
    sheet = session.scalar(
        select(Sheet).join(Drawing, Drawing.sheet_id == Sheet.id).where(Sheet.picture_id == picture.id)
    )
    return None if sheet is None else 1.0 / on_paper(sheets.document_of(sheet)).mm_per_px


def write_notes(session: Session, person: Person, sheet_id: str, content: str, next_time: list[str]) -> Drawing:
    """Keep what the student is content with and what to watch next time."""
    drawing = drawing_of(session, person, sheet_id)
    drawing.content, drawing.next_time, drawing.noted_at = (
        content.strip(),
        [n.strip() for n in next_time if n.strip()][:MOST_NOTES],
        now(),
    )
    return drawing


def for_next_time(session: Session, person: Person, sheet_id: str) -> Drawing | None:
    """The notes last written on a drawing of forms of the same kind as on this sheet, but for this sheet's own."""
    sheet = sheets.sheet_of(session, person, sheet_id)
    kinds = {form.get("kind", "box") for form in sheet.document.get("forms", [])}
    query = (
        select(Drawing)
        .join(Drawing.sheet)
        .where(
            Sheet.person_id == person.id,
            Sheet.deleted_at.is_(None),
            Drawing.noted_at.is_not(None),
            Drawing.sheet_id != sheet_id,
        )
    )
    for drawing in session.scalars(query.order_by(Drawing.noted_at.desc())):
        theirs = {form.get("kind", "box") for form in drawing.sheet.document.get("forms", [])}
        if drawing.next_time and (not kinds or kinds & theirs):
            return drawing
    return None


def judge(session: Session, drawing: Drawing, document: SightingSheet | None = None) -> Critique:
    """The critique of a drawing as it is kept, or as ``document`` would have it."""
    subject = subject_of(session, drawing)
    return judge_drawing(
        None if subject is None else sheets.document_of(subject), document or sheets.document_of(drawing.sheet)
    )


def before_of(session: Session, drawing: Drawing) -> SightingSheet | None:
    """The sheet of the same drawing as it was brought in before; None for one brought in once."""
    before = None if drawing.before_id is None else session.get(Drawing, drawing.before_id)
    return None if before is None else sheets.document_of(before.sheet)


def since_before(
    session: Session, drawing: Drawing, document: SightingSheet | None = None, partly: bool = False
) -> Since | None:
    """What changed since the drawing was brought in before; None for one brought in once, or without a subject. Until
    everything that was laid before stands again it only says so, unless what stands is to be compared all the same
    (``partly``).
    """
    before, subject = before_of(session, drawing), subject_of(session, drawing)
    if before is None or subject is None:
        return None
    against, now_laid = sheets.document_of(subject), document or sheets.document_of(drawing.sheet)
    again = {s.id for s in before.accepted} & {s.id for s in against.accepted if not s.given}
    standing = again & {s.id for s in now_laid.accepted}
    if standing != again and not partly:
        return not_yet(len(standing), len(again))
    return since(judge_drawing(against, before), judge(session, drawing, document), naming(against))


def page_of(session: Session, files: PictureFiles, drawing: Drawing) -> Page:
    """A drawing's critique with all that goes on its page."""
    subject = subject_of(session, drawing)
    flat, seen = drawing.sheet.picture, None if subject is None else subject.picture
    if flat is None:
        raise Missing(say("The drawing has no picture."))
    return Page(
        critique=judge(session, drawing),
        drawing=sheets.document_of(drawing.sheet),
        drawing_picture=pictures.picture_path(files, flat, "view"),
        subject=None if subject is None else sheets.document_of(subject),
        subject_picture=None if seen is None else pictures.picture_path(files, seen, "view"),
        content=drawing.content,
        next_time=drawing.next_time,
        made=drawing.sheet.created_at,
    )


def subject_under(session: Session, sheet: Sheet) -> SightingSheet | None:
    """What the drawing on a sheet was drawn from; None for a sheet that is no drawing, and for one from imagination."""
    drawing = session.get(Drawing, sheet.id)
    subject = None if drawing is None else subject_of(session, drawing)
    return None if subject is None else sheets.document_of(subject)


def critiqued_on(against: SightingSheet, document: SightingSheet) -> list[SkillReading] | None:
    """The readings that a drawing's critique is; None for a drawing that cannot be judged yet."""
    try:
        found = judged_drawing(against, document)
    except FormatError:
        return None
    except Exception:
        log.exception("the readings of a drawing could not be kept")
        return None
    return critique_readings(found, {s.id: s.kind for s in against.accepted}, skills_on(against))


def record_critique(session: Session, person: Person, sheet: Sheet, document: SightingSheet) -> None:
    """Keep the readings of a drawing's critique."""
    against = subject_under(session, sheet)
    readings = None if against is None else critiqued_on(against, document)
    if readings is not None:
        record(session, person, sheet, ReadFrom.CRITIQUE, readings)
