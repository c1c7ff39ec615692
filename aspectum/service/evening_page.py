"""Parents' evening: a page for each student, with what was handed in and how the skills stand."""

from __future__ import annotations

import io
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from xml.sax.saxutils import escape

from sqlalchemy.orm import Session

from aspectum.core.practice.record import LEAST_READINGS
from aspectum.core.practice.skills import tolerance_of
from aspectum.core.tolerance import FREEHAND
from aspectum.formats.marks import MarkRow
from aspectum.service.assignments import assignments_of, hand_ins_of
from aspectum.service.board import is_late, students_of
from aspectum.service.logbook import NextNote, SkillRow, next_notes, rows_of
from aspectum.service.logbook_page import ROW_HIGH, skill_heads, skill_row
from aspectum.service.past import pasts
from aspectum.service.printed import BODY, FAINT, MARGIN, SMALL, THIN, paragraph
from aspectum.service.typeface import fonts
from aspectum.store.assignments import Assignment
from aspectum.store.classes import ClassRow, Member

MOST_ASSIGNMENTS, MOST_SKILLS = 14, 12
MARK_AT, DATE_AT, WORD_AT = 210.0, 250.0, 320.0


@dataclass(frozen=True)
class EveningPage:
    """What a student's page tells: the last try at each assignment, the skills that are most off, and the notes for next time."""

    name: str
    marks: list[MarkRow]
    skills: list[SkillRow]
    readings: int
    notes: list[NextNote]


def mark_rows(session: Session, of: ClassRow) -> list[MarkRow]:
    """Every try of everybody at everything that is set, by student and then by assignment; a row without a number where nothing was handed in."""
    assignments = assignments_of(session, of)
    return [row for member in students_of(session, of) for assignment in assignments for row in _tries(session, assignment, member)]


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
        found.append(MarkRow(member.person.name, assignment.title, made.number, made.made_at, late, holds, off, unsure, judged, *told))
    return found


def pages_of(session: Session, of: ClassRow) -> list[EveningPage]:
    """A page for each student of a class."""
    assignments, found = assignments_of(session, of), []
    for member in students_of(session, of):
        rows = rows_of(pasts(session, member.person))
        skills = [row for row in rows if row.all.n >= LEAST_READINGS and row.all.bias is not None]
        skills.sort(key=lambda row: -abs(row.all.bias.value if row.all.bias else 0.0) / tolerance_of(row.skill, FREEHAND))
        marks = [_tries(session, assignment, member)[-1] for assignment in assignments]
        count = sum(row.all.n for row in rows)
        found.append(EveningPage(member.person.name, marks, skills[:MOST_SKILLS], count, next_notes(session, member.person)))
    return found


def evening_pdf(class_name: str, pages: list[EveningPage], at: datetime) -> bytes:
    """One A4 page a student."""
    from reportlab.lib.pagesizes import A4
    from reportlab.pdfgen.canvas import Canvas

    fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4)
    canvas.setTitle(class_name)
    canvas.setAuthor("Aspectum")
    for page in pages:
        _page(canvas, A4, class_name, page, at)
        canvas.showPage()
    if not pages:
        paragraph(canvas, f"<b>{escape(class_name)}</b>: no students yet.", MARGIN, A4[1] - MARGIN, A4[0] - 2 * MARGIN, BODY, 1)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _page(canvas: Any, size: tuple[float, float], class_name: str, page: EveningPage, at: datetime) -> None:
    wide, high = size
    room, top = wide - 2 * MARGIN, high - MARGIN
    top -= paragraph(canvas, f"<b>{escape(page.name)}</b>", MARGIN, top, room, 16, 1)
    top -= paragraph(canvas, f"{escape(class_name)} · {at:%d %B %Y}", MARGIN, top - 3, room, SMALL, 1, FAINT) + 18
    top -= paragraph(canvas, "<b>Handed in</b>", MARGIN, top, room, BODY, 1) + 5
    if not page.marks:
        top -= paragraph(canvas, "Nothing was set yet.", MARGIN, top, room, SMALL, 1) + 4
    for row in page.marks[:MOST_ASSIGNMENTS]:
        top -= _mark(canvas, row, top, wide) + 4
    top -= 12
    top -= paragraph(canvas, "<b>Skills</b>, the ones most off first", MARGIN, top, room, BODY, 1) + 5
    if page.skills:
        top -= paragraph(canvas, f"{page.readings} readings · judged less true, 95 % intervals · nu: near uprights", MARGIN, top, room, SMALL - 1, 1, FAINT)
        top -= 6 + skill_heads(canvas, top - 6)
        for skill in page.skills:
            skill_row(canvas, skill, top, wide)
            top -= ROW_HIGH
    else:
        top -= paragraph(canvas, "Too few readings to say anything of a skill yet.", MARGIN, top, room, SMALL, 1)
    top -= 12
    for note in page.notes:
        text = f"<b>Next time</b> ({escape(note.title)}, {note.at:%d %B}): {escape(' '.join(note.notes))}"
        top -= paragraph(canvas, text, MARGIN, top, room, SMALL, 2) + 4


def _mark(canvas: Any, row: MarkRow, top: float, wide: float) -> float:
    from reportlab.lib.colors import HexColor

    canvas.setStrokeColor(HexColor(FAINT))
    canvas.setLineWidth(THIN)
    canvas.line(MARGIN, top + 1, wide - MARGIN, top + 1)
    tall = paragraph(canvas, escape(row.assignment), MARGIN, top, MARK_AT - MARGIN - 8, SMALL, 2)
    paragraph(canvas, f"<b>{escape(row.mark)}</b>", MARK_AT, top, DATE_AT - MARK_AT - 4, SMALL, 1)
    when = "not handed in" if row.handed_in is None else f"{row.handed_in:%d %b}{', late' if row.late else ''}"
    paragraph(canvas, when, DATE_AT, top, WORD_AT - DATE_AT - 6, SMALL, 2, FAINT)
    found = "" if row.holds is None else f"{row.holds} hold, {row.off} off. "
    return max(tall, paragraph(canvas, found + escape(row.word), WORD_AT, top, wide - MARGIN - WORD_AT, SMALL, 4), SMALL * 1.32)
