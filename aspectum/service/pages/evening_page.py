"""Parents' evening: a page for each student, with what was handed in and how the skills stand."""

from __future__ import annotations

import io
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from xml.sax.saxutils import escape

from aspectum.formats.marks import MarkRow
from aspectum.language import brief_day, day, say, short_day
from aspectum.service.pages.logbook_page import ROW_HIGH, skill_heads, skill_row
from aspectum.service.pages.printed import BODY, FAINT, MARGIN, SMALL, THIN, paragraph
from aspectum.service.pages.typeface import fonts
from aspectum.service.practice.logbook import NextNote, SkillRow

MOST_ASSIGNMENTS, MOST_SKILLS = 14, 12
MARK_AT, DATE_AT, WORD_AT = 210.0, 250.0, 320.0


@dataclass(frozen=True)
class EveningPage:
    """What a student's page tells: the last try at each assignment, the skills that are most off, and the notes for
    next time.
    """

    name: str
    marks: list[MarkRow]
    skills: list[SkillRow]
    readings: int
    notes: list[NextNote]


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
        paragraph(
            canvas,
            say("{class_name}: no students yet.", class_name=f"<b>{escape(class_name)}</b>"),
            MARGIN,
            A4[1] - MARGIN,
            A4[0] - 2 * MARGIN,
            BODY,
            1,
        )
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _page(canvas: Any, size: tuple[float, float], class_name: str, page: EveningPage, at: datetime) -> None:
    wide, high = size
    room, top = wide - 2 * MARGIN, high - MARGIN
    top -= paragraph(canvas, f"<b>{escape(page.name)}</b>", MARGIN, top, room, 16, 1)
    top -= paragraph(canvas, f"{escape(class_name)} · {day(at)}", MARGIN, top - 3, room, SMALL, 1, FAINT) + 18
    top -= paragraph(canvas, f"<b>{say('Handed in')}</b>", MARGIN, top, room, BODY, 1) + 5
    if not page.marks:
        top -= paragraph(canvas, say("Nothing was set yet."), MARGIN, top, room, SMALL, 1) + 4
    for row in page.marks[:MOST_ASSIGNMENTS]:
        top -= _mark(canvas, row, top, wide) + 4
    top -= 12
    top -= (
        paragraph(
            canvas,
            say("{skills}, the ones most off first", skills=f"<b>{say('Skills')}</b>"),
            MARGIN,
            top,
            room,
            BODY,
            1,
        )
        + 5
    )
    if page.skills:
        top -= paragraph(
            canvas,
            say("{readings} readings · judged less true, 95 % intervals · nu: near uprights", readings=page.readings),
            MARGIN,
            top,
            room,
            SMALL - 1,
            1,
            FAINT,
        )
        top -= 6 + skill_heads(canvas, top - 6)
        for skill in page.skills:
            skill_row(canvas, skill, top, wide)
            top -= ROW_HIGH
    else:
        top -= paragraph(canvas, say("Too few readings to say anything of a skill yet."), MARGIN, top, room, SMALL, 1)
    top -= 12
    for note in page.notes:
        text = f"<b>{say('Next time')}</b> ({escape(note.title)}, {short_day(note.at)}): {escape(' '.join(note.notes))}"
        top -= paragraph(canvas, text, MARGIN, top, room, SMALL, 2) + 4


def _mark(canvas: Any, row: MarkRow, top: float, wide: float) -> float:
    from reportlab.lib.colors import HexColor

    canvas.setStrokeColor(HexColor(FAINT))
    canvas.setLineWidth(THIN)
    canvas.line(MARGIN, top + 1, wide - MARGIN, top + 1)
    tall = paragraph(canvas, escape(row.assignment), MARGIN, top, MARK_AT - MARGIN - 8, SMALL, 2)
    paragraph(canvas, f"<b>{escape(row.mark)}</b>", MARK_AT, top, DATE_AT - MARK_AT - 4, SMALL, 1)
    when = (
        say("not handed in")
        if row.handed_in is None
        else brief_day(row.handed_in) + (say(", late") if row.late else "")
    )
    paragraph(canvas, when, DATE_AT, top, WORD_AT - DATE_AT - 6, SMALL, 2, FAINT)
    found = "" if row.holds is None else say("{holds} hold, {off} off. ", holds=row.holds, off=row.off)
    return max(
        tall, paragraph(canvas, found + escape(row.word), WORD_AT, top, wide - MARGIN - WORD_AT, SMALL, 4), SMALL * 1.32
    )
