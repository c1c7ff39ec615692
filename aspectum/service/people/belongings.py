"""Whose a thing is, by its kind and id: what ``may`` is asked about."""

from __future__ import annotations

from collections.abc import Callable

from sqlalchemy import select
from sqlalchemy.orm import Session

from aspectum.language import Text
from aspectum.service.people.may import Owner
from aspectum.store.assignments import Assignment, HandIn
from aspectum.store.classes import ClassRow
from aspectum.store.models import Person, Picture, PracticeQuestion, PracticeSet, Sheet, StandRow, TimedDrawing
from aspectum.store.room import RoomQuestion
from aspectum.store.worksheets import WorksheetSet

Finder = Callable[[Session, str], Owner | None]


def _person(session: Session, id: str) -> Owner | None:
    return None if session.get(Person, id) is None else Owner(id)


def _class(session: Session, id: str) -> Owner | None:
    return None if session.get(ClassRow, id) is None else Owner(class_id=id)


def _of_person(
    table: type[Sheet] | type[StandRow] | type[Picture] | type[PracticeSet] | type[TimedDrawing] | type[WorksheetSet],
) -> Finder:
    """What carries its maker's id."""

    def find(session: Session, id: str) -> Owner | None:
        person_id = session.scalar(select(table.person_id).where(table.id == id))
        return None if person_id is None else Owner(person_id)

    return find


def _of_class(table: type[Assignment] | type[RoomQuestion]) -> Finder:
    """What carries its class's id."""

    def find(session: Session, id: str) -> Owner | None:
        class_id = session.scalar(select(table.class_id).where(table.id == id))
        return None if class_id is None else Owner(class_id=class_id)

    return find


def _question(session: Session, id: str) -> Owner | None:
    row = session.get(PracticeQuestion, id)
    return None if row is None else Owner(row.set.person_id)


def _hand_in(session: Session, id: str) -> Owner | None:
    row = session.get(HandIn, id)
    return None if row is None else Owner(row.person_id, row.assignment.class_id)


FINDERS: dict[str, tuple[Finder, Text]] = {
    "person": (_person, Text("There is no such student in this class.")),
    "class": (_class, Text("There is no such class.")),
    "sheet": (_of_person(Sheet), Text("There is no such sheet.")),
    "stand": (_of_person(StandRow), Text("There is no such set-up.")),
    "picture": (_of_person(Picture), Text("There is no such picture.")),
    "set": (_of_person(PracticeSet), Text("There is no such set.")),
    "question": (_question, Text("There is no such question.")),
    "assignment": (_of_class(Assignment), Text("There is no such assignment.")),
    "hand_in": (_hand_in, Text("There is no such piece.")),
    "room_question": (_of_class(RoomQuestion), Text("There is no such question.")),
    "worksheet_set": (_of_person(WorksheetSet), Text("There is no such set of worksheets.")),
    "timed": (_of_person(TimedDrawing), Text("There is no such drawing.")),
}


def whose(session: Session, kind: str, id: str) -> Owner | None:
    """Whose it is; None where there is no such thing."""
    return FINDERS[kind][0](session, id)


def none_such(kind: str) -> str:
    """What is told of a thing that is not there, and of one that is nobody else's business, alike."""
    return str(FINDERS[kind][1])
