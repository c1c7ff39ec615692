"""Parents' evening and the list of marks: what each student handed in, and how their skills stand."""

from __future__ import annotations

from sqlalchemy.orm import Session

from aspectum.core.practice.record import LEAST_READINGS
from aspectum.core.practice.skills import tolerance_of
from aspectum.core.tolerance import FREEHAND
from aspectum.formats.marks import MarkRow
from aspectum.service.pages.evening_page import MOST_SKILLS, EveningPage
from aspectum.service.practice.history import pasts
from aspectum.service.practice.logbook import next_notes, rows_of
from aspectum.service.school.assignments import assignments_of, hand_ins_of
from aspectum.service.school.board import is_late, students_of
from aspectum.store.assignments import Assignment
from aspectum.store.classes import ClassRow, Member


def mark_rows(session: Session, of: ClassRow) -> list[MarkRow]:
    """Every try of everybody at everything that is set, by student and then by assignment; a row without a number where
    nothing was handed in.
    """
    assignments = assignments_of(session, of)
    return [
        row
        for member in students_of(session, of)
        for assignment in assignments
        for row in _tries(session, assignment, member)
    ]


def _tries(session: Session, assignment: Assignment, member: Member) -> list[MarkRow]:
    """One student's tries at one assignment; a row without a number where there are none."""
    tries = hand_ins_of(session, assignment, member.person_id)
    late = is_late(assignment, tries[0].made_at if tries else None)
    if not tries:
        return [MarkRow(member.person.name, assignment.title, None, None, late, None, None, None, None, "", "", None)]
    found = []
    for made in tries:
        holds, off, unsure, judged = (int(made.found.get(key, 0)) for key in ("holds", "off", "unsure", "judged"))
        told = (made.mark, made.word, made.returned_at)
        found.append(
            MarkRow(
                member.person.name, assignment.title, made.number, made.made_at, late, holds, off, unsure, judged, *told
            )
        )
    return found


def pages_of(session: Session, of: ClassRow) -> list[EveningPage]:
    """A page for each student of a class."""
    assignments, found = assignments_of(session, of), []
    for member in students_of(session, of):
        rows = rows_of(pasts(session, member.person))
        skills = [row for row in rows if row.all.n >= LEAST_READINGS and row.all.bias is not None]
        skills.sort(
            key=lambda row: -abs(row.all.bias.value if row.all.bias else 0.0) / tolerance_of(row.skill, FREEHAND)
        )
        marks = [_tries(session, assignment, member)[-1] for assignment in assignments]
        count = sum(row.all.n for row in rows)
        found.append(
            EveningPage(member.person.name, marks, skills[:MOST_SKILLS], count, next_notes(session, member.person))
        )
    return found
