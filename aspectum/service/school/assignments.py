"""Assignments: set by a tutor, begun by students."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from enum import StrEnum
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from aspectum.core.tolerance import School
from aspectum.formats.sheet import OwnTolerance
from aspectum.language import say
from aspectum.pictures.opening import open_picture
from aspectum.service.errors import Missing, Refused, Unfit
from aspectum.service.practice.drill_picture import drawing_png
from aspectum.service.school.assignment_kinds import TEMPLATES, AssignmentKind, HandInPart, Subject, set_up
from aspectum.service.sheets import sheets
from aspectum.service.sheets.from_stand import sheet_on_view
from aspectum.service.sheets.pictures import copied_to, keep_picture, picture_of
from aspectum.service.stand import stands
from aspectum.service.stand.from_format import drawn
from aspectum.store.assignments import Assignment, Begun, HandIn
from aspectum.store.classes import ClassRow
from aspectum.store.models import Person, Picture, Sheet, StandRow, now
from aspectum.store.picture_files import PictureFiles

MOST_TRIES = 20


class HowFar(StrEnum):
    """How far a student is with an assignment."""

    NOT_BEGUN = "not begun"
    BEGUN = "begun"
    HANDED_IN = "handed in"
    RETURNED = "returned"


class WhatIsFound(StrEnum):
    """When students may look at what the program finds in an assignment's picture."""

    NEVER = "never"
    AFTER = "after handing in"
    ALWAYS = "as it comes"


@dataclass(frozen=True)
class Setting:
    """What a tutor settles of an assignment."""

    title: str
    words: str
    subject: Subject
    sheet_id: str | None
    stand_id: str | None
    hand_in: tuple[HandInPart, ...]
    tolerance: School | OwnTolerance
    judge_first: bool
    found: WhatIsFound
    minutes: float | None
    tries: int
    due_at: datetime | None


def usual(kind: AssignmentKind) -> Setting:
    """A kind as it is set when nothing is changed."""
    t = TEMPLATES[kind]
    return Setting(
        str(t.title),
        str(t.words),
        t.subject,
        None,
        None,
        t.hand_in,
        School.FREEHAND,
        True,
        WhatIsFound.NEVER,
        t.minutes,
        3,
        None,
    )


def set_one(session: Session, tutor: Person, of: ClassRow, kind: AssignmentKind, how: Setting) -> Assignment:
    """Set an assignment. One about a set-up that names none gets the kind's own, on the tutor's stand. Raises ``Unfit``
    where something is missing.
    """
    if of.closed_at is not None:
        raise Refused(say("The class is closed."))
    made = Assignment(class_id=of.id, kind=kind.value)
    if how.subject is Subject.STAND and how.stand_id is None:
        file = set_up(kind)
        if file is None:
            raise Unfit(say("Choose a set-up."))
        file.title = how.title
        made.stand_id = stands.make_stand(session, tutor, file).id
    _settle(session, tutor, made, how)
    session.add(made)
    session.flush()
    return made


def copy_to(
    session: Session, tutor: Person, of: ClassRow, chosen: Sequence[Assignment], weeks: int | None, time_zone: str
) -> list[Assignment]:
    """Set assignments of the tutor's classes in another one as well: due some ``weeks`` later at the same hour of
    ``time_zone`` (IANA), or on no day where ``weeks`` is None. Each has a set-up of its own, so that changing one does
    not change the other.
    """
    made = []
    for one in chosen:
        due = None if weeks is None or one.due_at is None else weeks_later(one.due_at, weeks, time_zone)
        stand_id = (
            stands.make_stand(session, tutor, stands.file_of(stands.stand_row(session, tutor, one.stand_id))).id
            if one.stand_id
            else None
        )
        how = Setting(
            title=one.title,
            words=one.words,
            subject=Subject(one.subject),
            sheet_id=one.sheet_id,
            stand_id=stand_id,
            hand_in=tuple(HandInPart(part) for part in one.hand_in),
            tolerance=tolerance_of(one),
            judge_first=one.judge_first,
            found=WhatIsFound(one.found),
            minutes=one.minutes,
            tries=one.tries,
            due_at=due,
        )
        made.append(set_one(session, tutor, of, AssignmentKind(one.kind), how))
    return made


def weeks_later(at: datetime, weeks: int, time_zone: str) -> datetime:
    """The same weekday and hour where the class is, also over a change of the clocks; in an unknown zone whole days
    later.
    """
    try:
        there = ZoneInfo(time_zone)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        return at + timedelta(weeks=weeks)
    return (at.astimezone(there) + timedelta(weeks=weeks)).astimezone(UTC)


def change(session: Session, tutor: Person, assignment: Assignment, how: Setting) -> None:
    """Change an assignment; what was handed in stays as it was."""
    _settle(session, tutor, assignment, how)


def _settle(session: Session, tutor: Person, made: Assignment, how: Setting) -> None:
    if not how.hand_in:
        raise Unfit(say("Choose at least one thing to be handed in."))
    if how.subject is Subject.PHOTO and (
        how.sheet_id is None or sheets.sheet_of(session, tutor, how.sheet_id).picture is None
    ):
        raise Unfit(say("Choose a sheet of yours with a photo."))
    if how.stand_id is not None:
        stands.stand_row(session, tutor, how.stand_id)
    made.title, made.words, made.subject = how.title.strip() or "Assignment", how.words.strip(), how.subject.value
    made.sheet_id = how.sheet_id if how.subject is Subject.PHOTO else None
    made.stand_id = (how.stand_id or made.stand_id) if how.subject is Subject.STAND else None
    made.hand_in = [part.value for part in HandInPart if part in how.hand_in]
    made.tolerance = how.tolerance.value if isinstance(how.tolerance, School) else how.tolerance.model_dump(mode="json")
    made.judge_first, made.found, made.minutes, made.tries, made.due_at = (
        how.judge_first,
        how.found.value,
        how.minutes,
        how.tries,
        how.due_at,
    )


def tolerance_of(assignment: Assignment) -> School | OwnTolerance:
    kept = assignment.tolerance
    return School(kept) if isinstance(kept, str) else OwnTolerance.model_validate(kept)


def assignment_row(session: Session, assignment_id: str) -> Assignment:
    found = session.get(Assignment, assignment_id)
    if found is None or found.withdrawn_at is not None:
        raise Missing(say("There is no such assignment."))
    return found


def assignments_of(session: Session, of: ClassRow) -> Sequence[Assignment]:
    """What is set in a class, the next due first, then what is due on no day."""
    rows = session.scalars(
        select(Assignment).where(Assignment.class_id == of.id, Assignment.withdrawn_at.is_(None))
    ).all()
    return sorted(rows, key=lambda one: (one.due_at is None, one.due_at or one.made_at, one.made_at))


def withdraw(assignment: Assignment) -> None:
    """Take an assignment back; what was handed in to it stays with whoever made it."""
    assignment.withdrawn_at = now()


def begun_by(session: Session, assignment: Assignment, person: Person) -> Begun | None:
    return session.get(Begun, (assignment.id, person.id))


def hand_ins_of(session: Session, assignment: Assignment, person_id: str) -> Sequence[HandIn]:
    """A person's tries, the first first."""
    return session.scalars(
        select(HandIn)
        .where(HandIn.assignment_id == assignment.id, HandIn.person_id == person_id)
        .order_by(HandIn.number)
    ).all()


def how_far(begun: Begun | None, tries: Sequence[HandIn]) -> HowFar:
    """How far somebody is, by what they began and handed in."""
    if tries:
        return HowFar.RETURNED if tries[-1].returned_at is not None else HowFar.HANDED_IN
    return (
        HowFar.BEGUN
        if begun is not None and begun.sheet is not None and begun.sheet.deleted_at is None
        else HowFar.NOT_BEGUN
    )


def begin(sessions: sessionmaker[Session], files: PictureFiles, assignment_id: str, person_id: str) -> str:
    """The sheet to work on, by its id: made the first time, the same ever after. It lies on the person's own copy of
    the photo, or on a picture of the set-up, whose truth is kept with it; for a subject of one's own it is a sheet from
    life.
    """
    with sessions.begin() as session:
        assignment, person = assignment_row(session, assignment_id), session.get_one(Person, person_id)
        before = begun_by(session, assignment, person)
        if before is not None and before.sheet is not None and before.sheet.deleted_at is None:
            return before.sheet.id
        subject, title, tolerance = Subject(assignment.subject), assignment.title, tolerance_of(assignment)
        photo = _photo(session, assignment) if subject is Subject.PHOTO else None
        file = None
        if subject is Subject.STAND:
            kept = None if assignment.stand_id is None else session.get(StandRow, assignment.stand_id)
            if kept is None:
                raise Missing(say("The set-up of this assignment is gone. Ask the tutor."))
            file = stands.file_of(kept)
    seen = on_view = None
    if file is not None:
        seen = keep_picture(sessions, files, person_id, f"{title}.png", open_picture(drawing_png(drawn(file))))
        on_view = sheet_on_view(file, seen)
    with sessions.begin() as session:
        person = session.get_one(Person, person_id)
        if file is not None and seen is not None:
            stands.make_stand(session, person, file)
            sheet = sheets.make_sheet(session, person, picture_of(session, person, seen.id), on_view)
        else:
            sheet = sheets.make_sheet(
                session, person, None if photo is None else copied_to(session, photo, person.id), title=title
            )
        document = sheets.document_of(sheet)
        document.title, document.tolerance = title, tolerance
        sheet.title, sheet.document = title, sheets.stored(document)
        again = session.get(Begun, (assignment_id, person_id))
        if again is not None:
            again.sheet_id = sheet.id
        else:
            session.add(Begun(assignment_id=assignment_id, person_id=person_id, sheet_id=sheet.id))
        return sheet.id


def _photo(session: Session, assignment: Assignment) -> Picture:
    sheet = None if assignment.sheet_id is None else session.get(Sheet, assignment.sheet_id)
    if sheet is None or sheet.picture is None:
        raise Missing(say("The photo of this assignment is gone. Ask the tutor."))
    return sheet.picture


def found_shown(session: Session, assignment: Assignment, person_id: str) -> bool:
    """Whether somebody may look at what is found in the picture of an assignment by now."""
    when = WhatIsFound(assignment.found)
    return when is WhatIsFound.ALWAYS or (
        when is WhatIsFound.AFTER and bool(hand_ins_of(session, assignment, person_id))
    )


def see_found(session: Session, picture: Picture) -> None:
    """Raise ``Refused`` where a picture belongs to an assignment that is done without what is found in it."""
    of_it = select(Begun).join(Begun.sheet).where(Sheet.picture_id == picture.id)
    for begun in session.scalars(of_it):
        if begun.assignment.withdrawn_at is None and not found_shown(session, begun.assignment, picture.person_id):
            later = say(" until it is handed in") if begun.assignment.found == WhatIsFound.AFTER else ""
            raise Refused(
                say(
                    "In this assignment your eye works alone{later}: nothing is looked for in the picture.", later=later
                )
            )


def assigned_on(session: Session, sheet: Sheet) -> Assignment | None:
    """The assignment that a sheet is worked on for."""
    found = session.scalar(select(Begun).where(Begun.sheet_id == sheet.id))
    return None if found is None or found.assignment.withdrawn_at is not None else found.assignment
