"""The tutor's board and its files."""

from __future__ import annotations

from datetime import datetime

from flask import Response

from aspectum.core.practice.skills import KINDS, Skill, SkillUnit, tolerance_of
from aspectum.core.tolerance import FREEHAND
from aspectum.formats.logbook import write_logbook
from aspectum.formats.marks import write_marks
from aspectum.service.pages.evening_page import evening_pdf
from aspectum.service.practice.logbook import log_rows
from aspectum.service.school import board, classes
from aspectum.service.school.assignments import HowFar
from aspectum.service.school.evening import mark_rows, pages_of
from aspectum.service.words.skills import WORDS
from aspectum.store.assignments import HandIn
from aspectum.store.models import now
from aspectum.web.api.base import Message, feature, work
from aspectum.web.api.hand_ins import PieceFound
from aspectum.web.api.logbook import Stands
from aspectum.web.api.pictures import PictureOut
from aspectum.web.api.stand_files import download
from aspectum.web.routes import CSV, LEADS, PDF

routes = feature("board")


class BoardStudent(Message):
    """``need``: the skill of which most is known to be off, in words; empty under enough readings."""

    person_id: str
    name: str
    guest: bool
    need: str


class BoardColumn(Message):
    assignment_id: str
    title: str
    due_at: datetime | None


class BoardPiece(Message):
    """The last try, as a small picture with its verdicts counted."""

    hand_in_id: str
    number: int
    at: datetime
    picture: PictureOut | None
    found: PieceFound
    mark: str
    word: str
    returned_at: datetime | None


class BoardCell(Message):
    person_id: str
    assignment_id: str
    how_far: HowFar
    late: bool
    piece: BoardPiece | None


class SkillOfStudent(Message):
    name: str
    stands: Stands


class SkillOfClass(Message):
    """``mean`` of the students' biases and how far ``apart`` they are (standard deviation)."""

    skill: Skill
    title: str
    unit: SkillUnit
    tolerance: float
    mean: float
    apart: float | None
    students: list[SkillOfStudent]


class FrequentCause(Message):
    """``words``: of the last piece that has it; ``names``: who."""

    count: int
    words: str
    names: list[str]


class UnjudgedPiece(Message):
    hand_in_id: str
    name: str
    assignment: str


class ClassBoard(Message):
    name: str
    closed: bool
    students: list[BoardStudent]
    assignments: list[BoardColumn]
    cells: list[BoardCell]
    skills: list[SkillOfClass]
    causes: list[FrequentCause]
    unjudged: list[UnjudgedPiece]


@routes.get("/classes/<class_id>/board", LEADS, "readBoard", ClassBoard)
def read_board(class_id: str) -> ClassBoard:
    """Students by assignments, the class by skill, and what goes wrong most."""
    with work() as (session, _):
        of = classes.class_row(session, class_id)
        found = board.board(session, of)
        return ClassBoard(
            name=of.name,
            closed=of.closed_at is not None,
            students=[
                BoardStudent(
                    person_id=m.person_id,
                    name=m.person.name,
                    guest=m.until is not None,
                    need=found.needs[m.person_id].words if m.person_id in found.needs else "",
                )
                for m in found.students
            ],
            assignments=[BoardColumn(assignment_id=a.id, title=a.title, due_at=a.due_at) for a in found.assignments],
            cells=[
                BoardCell(
                    person_id=p,
                    assignment_id=a,
                    how_far=cell.how_far,
                    late=cell.late,
                    piece=None if cell.last is None else board_piece(cell.last),
                )
                for (p, a), cell in found.cells.items()
            ],
            skills=[skill_of_class(one) for one in found.skills],
            causes=[FrequentCause(count=c.count, words=c.words, names=c.names) for c in found.causes],
            unjudged=[
                UnjudgedPiece(hand_in_id=m.id, name=m.person.name, assignment=m.assignment.title)
                for m in found.unjudged
            ],
        )


def board_piece(made: HandIn) -> BoardPiece:
    shown = made.drawing_picture or made.picture
    return BoardPiece(
        hand_in_id=made.id,
        number=made.number,
        at=made.made_at,
        picture=None if shown is None else PictureOut.of(shown),
        found=PieceFound.out(made),
        mark=made.mark,
        word=made.word,
        returned_at=made.returned_at,
    )


def skill_of_class(one: board.ClassSkill) -> SkillOfClass:
    return SkillOfClass(
        skill=one.skill,
        title=WORDS[one.skill].title,
        unit=KINDS[one.skill].unit,
        tolerance=tolerance_of(one.skill, FREEHAND),
        mean=one.biases.mean,
        apart=one.biases.apart,
        students=[SkillOfStudent(name=s.person.name, stands=Stands.of(s.standing)) for s in one.students],
    )


@routes.get("/classes/<class_id>/marks.csv", LEADS, "marksCsv", CSV)
def marks_csv(class_id: str) -> Response:
    """Every try of everybody, with mark and word."""
    with work() as (session, _):
        of = classes.class_row(session, class_id)
        return download(write_marks(mark_rows(session, of)), "text/csv", f"{of.name} marks", "csv")


@routes.get("/classes/<class_id>/readings.csv", LEADS, "readingsCsv", CSV)
def readings_csv(class_id: str) -> Response:
    """Every reading of everybody, in the logbook's format."""
    with work() as (session, _):
        of = classes.class_row(session, class_id)
        rows = [row for m in board.students_of(session, of) for row in log_rows(session, m.person)]
        return download(write_logbook(rows), "text/csv", f"{of.name} readings", "csv")


@routes.get("/classes/<class_id>/evening.pdf", LEADS, "eveningPages", PDF)
def evening(class_id: str) -> Response:
    """One page a student, for parents' evening."""
    with work() as (session, _):
        of = classes.class_row(session, class_id)
        return download(evening_pdf(of.name, pages_of(session, of), now()), "application/pdf", of.name, "pdf")
