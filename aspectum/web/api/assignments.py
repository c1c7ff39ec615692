"""Assignments: set by the tutor, begun and handed in by students."""

from __future__ import annotations

from contextlib import suppress
from datetime import UTC, datetime
from typing import Annotated

from pydantic import Field
from sqlalchemy.orm import Session

from aspectum.core.tolerance import School
from aspectum.formats.sheet import OwnTolerance
from aspectum.formats.sightings import Number
from aspectum.language import say
from aspectum.service.errors import Busy, Missing
from aspectum.service.people.may import Action, Owner, may
from aspectum.service.practice import logbook
from aspectum.service.practice.history import pasts
from aspectum.service.school import assignments, classes, hand_ins
from aspectum.service.school.assignment_kinds import SET_UPS, AssignmentKind, HandInPart, Subject
from aspectum.service.school.assignments import HowFar, Setting, WhatIsFound
from aspectum.service.school.board import is_late
from aspectum.service.sheets.sheets import sheet_of
from aspectum.store.assignments import Assignment
from aspectum.store.models import Person
from aspectum.web.api.base import Message, computed, feature, here, owner, work
from aspectum.web.routes import LEADS, OWN_WORK, TAKES_PART, Queue, member_of, tutor_of

routes = feature("assignments")

Words = Annotated[str, Field(max_length=2000)]


class AssignmentIn(Message):
    """What the tutor settles. ``stand_id``: null for the kind's own set-up; ``found``: when what is found in the
    picture may be looked at; ``minutes``: null where it is not timed.
    """

    kind: AssignmentKind
    title: Annotated[str, Field(min_length=1, max_length=200)]
    words: Words
    subject: Subject
    sheet_id: str | None
    stand_id: str | None
    hand_in: list[HandInPart]
    tolerance: School | OwnTolerance
    judge_first: bool
    found: WhatIsFound = WhatIsFound.NEVER
    minutes: Annotated[Number, Field(ge=1, le=600)] | None
    tries: Annotated[int, Field(ge=1, le=assignments.MOST_TRIES)]
    due_at: datetime | None

    def setting(self) -> Setting:
        due = self.due_at
        return Setting(
            self.title,
            self.words,
            self.subject,
            self.sheet_id,
            self.stand_id,
            tuple(self.hand_in),
            self.tolerance,
            self.judge_first,
            self.found,
            self.minutes,
            self.tries,
            due if due is None or due.tzinfo else due.replace(tzinfo=UTC),
        )


class AssignmentTemplate(Message):
    """A kind as it is before it is edited; ``has_set_up``: whether it brings a set-up along."""

    assignment: AssignmentIn
    has_set_up: bool


class TemplateList(Message):
    templates: list[AssignmentTemplate]


class MyTry(Message):
    """A try of one's own; mark and word once it came back."""

    hand_in_id: str
    number: int
    at: datetime
    returned_at: datetime | None
    mark: str
    word: str


class AssignmentOut(AssignmentIn):
    """An assignment, and how far the one who asks is with it; ``missing``: what must still be made before it can be
    handed in.
    """

    id: str
    class_id: str
    made_at: datetime
    how_far: HowFar
    tries_made: list[MyTry]
    my_sheet_id: str | None
    late: bool
    missing: list[HandInPart]


class AssignmentList(Message):
    assignments: list[AssignmentOut]


class CopyAsked(Message):
    """Which assignments of one's own classes are set in this one too; ``weeks``: by which what is due moves, null for
    no days; ``time_zone``: where the class is (IANA), so that the hour stays.
    """

    assignment_ids: Annotated[list[str], Field(min_length=1, max_length=100)]
    weeks: Annotated[int, Field(ge=-520, le=520)] | None
    time_zone: Annotated[str, Field(max_length=64)] = "UTC"


class BegunOn(Message):
    """Where to work; ``from_life``: with the card."""

    sheet_id: str
    from_life: bool


class HandInAsked(Message):
    note: Annotated[str, Field(max_length=1000)]


class TodayNote(Message):
    title: str
    notes: list[str]
    at: datetime


class Today(Message):
    """A student's start page: everything that is set, the weakest skill in a sentence, and the notes for next time."""

    class_name: str
    closed: bool
    assignments: list[AssignmentOut]
    weakest: str
    notes: list[TodayNote]


@routes.get("/assignment-templates", OWN_WORK, "listTemplates", TemplateList)
def list_templates() -> TemplateList:
    """The kinds of assignment, each as it is set when nothing is changed."""
    found = []
    for kind in AssignmentKind:
        usual = assignments.usual(kind)
        found.append(
            AssignmentTemplate(
                assignment=AssignmentIn.model_validate({"kind": kind} | vars(usual) | {"hand_in": list(usual.hand_in)}),
                has_set_up=kind in SET_UPS,
            )
        )
    return TemplateList(templates=found)


@routes.get("/classes/<class_id>/assignments", TAKES_PART, "listAssignments", AssignmentList)
def list_assignments(class_id: str) -> AssignmentList:
    """What is set in a class, the next due first."""
    with work() as (session, person):
        of = classes.class_row(session, class_id)
        return AssignmentList(
            assignments=[out(session, one, person) for one in assignments.assignments_of(session, of)]
        )


@routes.post("/classes/<class_id>/assignments", LEADS, "setAssignment", AssignmentOut, misses=True)
def set_assignment(class_id: str, json: AssignmentIn) -> AssignmentOut:
    """Set an assignment."""
    with work() as (session, person):
        made = assignments.set_one(session, person, classes.class_row(session, class_id), json.kind, json.setting())
        return out(session, made, person)


@routes.post("/classes/<class_id>/assignments/copy", LEADS, "copyAssignments", AssignmentList)
def copy_assignments(class_id: str, json: CopyAsked) -> AssignmentList:
    """Set assignments of one's other classes in this one."""
    with work() as (session, person):
        rows = [assignments.assignment_row(session, id) for id in json.assignment_ids]
        if not all(may(session, person, Action.LEAD, Owner(class_id=row.class_id)) for row in rows):
            raise Missing(say("There is no such assignment."))
        made = assignments.copy_to(
            session, person, classes.class_row(session, class_id), rows, json.weeks, json.time_zone
        )
        return AssignmentList(assignments=[out(session, one, person) for one in made])


@routes.get("/assignments/<assignment_id>", member_of("assignment", "assignment_id"), "readAssignment", AssignmentOut)
def read_assignment(assignment_id: str) -> AssignmentOut:
    """One assignment."""
    with work() as (session, person):
        return out(session, assignments.assignment_row(session, assignment_id), person)


@routes.put("/assignments/<assignment_id>", tutor_of("assignment", "assignment_id"), "changeAssignment", AssignmentOut)
def change_assignment(assignment_id: str, json: AssignmentIn) -> AssignmentOut:
    """Change an assignment; what was handed in stays as it was."""
    with work() as (session, person):
        row = assignments.assignment_row(session, assignment_id)
        assignments.change(session, person, row, json.setting())
        return out(session, row, person)


@routes.delete("/assignments/<assignment_id>", tutor_of("assignment", "assignment_id"), "withdrawAssignment", None)
def withdraw_assignment(assignment_id: str) -> tuple[str, int]:
    """Take an assignment back."""
    with work() as (session, _):
        assignments.withdraw(assignments.assignment_row(session, assignment_id))
    return "", 204


@routes.post("/assignments/<assignment_id>/begin", member_of("assignment", "assignment_id"), "beginAssignment", BegunOn)
def begin_assignment(assignment_id: str) -> BegunOn:
    """The sheet to work on; made the first time."""
    sheet_id = assignments.begin(here().sessions, here().files, assignment_id, owner())
    with work() as (session, person):
        return BegunOn(sheet_id=sheet_id, from_life=sheet_of(session, person, sheet_id).picture is None)


@routes.post(
    "/assignments/<assignment_id>/hand-in",
    member_of("assignment", "assignment_id"),
    "handIn",
    AssignmentOut,
    queue=Queue.SAVE,
)
def hand_in(assignment_id: str, json: HandInAsked) -> AssignmentOut:
    """Hand in: a copy is kept as it is now, and judged once it is on the disk."""
    with work() as (session, person):
        made = hand_ins.hand_in(session, assignments.assignment_row(session, assignment_id), person, json.note)
        hand_in_id, given = made.id, hand_ins.frozen(made)
    with suppress(Busy):  # it is handed in all the same, and judged when it is opened
        came_out = computed(hand_ins.judge_piece, *given)
        with work() as (session, _):
            hand_ins.keep_judged(session, hand_in_id, came_out)
    with work() as (session, person):
        return out(session, assignments.assignment_row(session, assignment_id), person)


@routes.get("/classes/<class_id>/today", TAKES_PART, "readToday", Today)
def read_today(class_id: str) -> Today:
    """What is due, what came back, what to practise, and the notes for next time."""
    with work() as (session, person):
        of = classes.class_row(session, class_id)
        record = pasts(session, person)
        rows, worst = logbook.rows_of(record), logbook.weakest_skill(record)
        return Today(
            class_name=of.name,
            closed=of.closed_at is not None,
            assignments=[out(session, one, person) for one in assignments.assignments_of(session, of)],
            weakest=next((row.words for row in rows if row.skill is worst), ""),
            notes=[
                TodayNote(title=note.title, notes=note.notes, at=note.at)
                for note in logbook.next_notes(session, person)
            ],
        )


def out(session: Session, row: Assignment, person: Person) -> AssignmentOut:
    begun, tries = assignments.begun_by(session, row, person), assignments.hand_ins_of(session, row, person.id)
    return AssignmentOut(
        id=row.id,
        class_id=row.class_id,
        kind=AssignmentKind(row.kind),
        title=row.title,
        words=row.words,
        subject=Subject(row.subject),
        sheet_id=row.sheet_id,
        stand_id=row.stand_id,
        hand_in=[HandInPart(part) for part in row.hand_in],
        tolerance=assignments.tolerance_of(row),
        judge_first=row.judge_first,
        found=WhatIsFound(row.found),
        minutes=row.minutes,
        tries=row.tries,
        due_at=row.due_at,
        made_at=row.made_at,
        how_far=assignments.how_far(begun, tries),
        tries_made=[
            MyTry(
                hand_in_id=t.id,
                number=t.number,
                at=t.made_at,
                returned_at=t.returned_at,
                mark=t.mark if t.returned_at else "",
                word=t.word if t.returned_at else "",
            )
            for t in tries
        ],
        my_sheet_id=None
        if begun is None or begun.sheet is None or begun.sheet.deleted_at is not None
        else begun.sheet.id,
        missing=hand_ins.missing(session, row, person),
        late=is_late(row, tries[0].made_at if tries else None),
    )
