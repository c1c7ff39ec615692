"""Whose a thing is, by its kind and id: what ``may`` is asked about."""

from __future__ import annotations

from collections.abc import Callable

from sqlalchemy.orm import Session

from aspectum.service.may import Whose
from aspectum.store.assignments import Assignment, HandIn
from aspectum.store.classes import ClassRow
from aspectum.store.models import Person, Picture, PracticeQuestion, PracticeSet, Sheet, StandRow, TimedDrawing
from aspectum.store.room import RoomQuestion


def _person(session: Session, id: str) -> Whose | None:
    return None if session.get(Person, id) is None else Whose(id)


def _class(session: Session, id: str) -> Whose | None:
    return None if session.get(ClassRow, id) is None else Whose(class_id=id)


def _sheet(session: Session, id: str) -> Whose | None:
    row = session.get(Sheet, id)
    return None if row is None else Whose(row.person_id)


def _stand(session: Session, id: str) -> Whose | None:
    row = session.get(StandRow, id)
    return None if row is None else Whose(row.person_id)


def _picture(session: Session, id: str) -> Whose | None:
    row = session.get(Picture, id)
    return None if row is None else Whose(row.person_id)


def _set(session: Session, id: str) -> Whose | None:
    row = session.get(PracticeSet, id)
    return None if row is None else Whose(row.person_id)


def _question(session: Session, id: str) -> Whose | None:
    row = session.get(PracticeQuestion, id)
    return None if row is None else Whose(row.set.person_id)


def _timed(session: Session, id: str) -> Whose | None:
    row = session.get(TimedDrawing, id)
    return None if row is None else Whose(row.person_id)


def _assignment(session: Session, id: str) -> Whose | None:
    row = session.get(Assignment, id)
    return None if row is None else Whose(class_id=row.class_id)


def _hand_in(session: Session, id: str) -> Whose | None:
    row = session.get(HandIn, id)
    return None if row is None else Whose(row.person_id, row.assignment.class_id)


def _room_question(session: Session, id: str) -> Whose | None:
    row = session.get(RoomQuestion, id)
    return None if row is None else Whose(class_id=row.class_id)


FINDERS: dict[str, tuple[Callable[[Session, str], Whose | None], str]] = {
    "person": (_person, "There is no such student in this class."),
    "class": (_class, "There is no such class."),
    "sheet": (_sheet, "There is no such sheet."),
    "stand": (_stand, "There is no such set-up."),
    "picture": (_picture, "There is no such picture."),
    "set": (_set, "There is no such set."),
    "question": (_question, "There is no such question."),
    "assignment": (_assignment, "There is no such assignment."),
    "hand_in": (_hand_in, "There is no such piece."),
    "room_question": (_room_question, "There is no such question."),
    "timed": (_timed, "There is no such drawing."),
}


def whose(session: Session, kind: str, id: str) -> Whose | None:
    """Whose it is; None where there is no such thing."""
    return FINDERS[kind][0](session, id)


def none_such(kind: str) -> str:
    """What is told of a thing that is not there, and of one that is nobody else's business, alike."""
    return FINDERS[kind][1]
