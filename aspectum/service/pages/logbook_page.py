"""The logbook on one page, for the tutor: a row a skill with its bias and interval on a small scale, and what to watch
next time.
"""

from __future__ import annotations

import io
from datetime import datetime
from typing import Any
from xml.sax.saxutils import escape

from aspectum.core.practice.record import Standing
from aspectum.core.practice.skills import KINDS, Skill, SkillUnit, tolerance_of
from aspectum.core.tolerance import FREEHAND
from aspectum.language import day, say, short_day
from aspectum.service.pages.printed import BODY, FAINT, INK, MARGIN, SMALL, THICK, THIN, paragraph
from aspectum.service.pages.typeface import fonts
from aspectum.service.practice.logbook import NextNote, SkillRow
from aspectum.service.words.practice import PLACES
from aspectum.service.words.skills import WORDS

ROW_HIGH = 19.0  # points: every skill of the list fits on the page
SCALE = 3.0  # tolerances that the small scale reaches to either side
SCALE_AT, SCALE_HALF = 232.0, 46.0
N_AT, BIAS_AT, SPREAD_AT, TREND_AT = 158.0, 288.0, 372.0, 424.0
NOTES_MOST = 3
SHORT = {SkillUnit.DEGREES: "°", SkillUnit.PER_CENT: " %", SkillUnit.NEAR_UPRIGHTS: " nu"}


def logbook_pdf(person: str, rows: list[SkillRow], notes: list[NextNote], at: datetime) -> bytes:
    """One A4 page."""
    from reportlab.lib.pagesizes import A4
    from reportlab.pdfgen.canvas import Canvas

    fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4)
    canvas.setTitle(say("Logbook"))
    canvas.setAuthor("Aspectum")
    wide, high = A4
    top = high - MARGIN
    top -= paragraph(canvas, f"<b>{say('Logbook')}</b> · {escape(person)}", MARGIN, top, wide - 2 * MARGIN, 14, 1)
    count = sum(row.all.n for row in rows)
    top -= (
        paragraph(
            canvas,
            say("{at} · {n} readings · judged less true, 95 % intervals · nu: near uprights", at=day(at), n=count),
            MARGIN,
            top - 3,
            wide - 2 * MARGIN,
            SMALL,
            1,
            FAINT,
        )
        + 14
    )
    if not rows:
        paragraph(canvas, say("No readings yet."), MARGIN, top, wide - 2 * MARGIN, BODY, 1)
    top -= skill_heads(canvas, top)
    for row in rows:
        skill_row(canvas, row, top, wide)
        top -= ROW_HIGH if len(rows) <= 30 else ROW_HIGH * 30 / len(rows)
    for note in notes[:NOTES_MOST]:
        text = f"<b>{say('Next time')}</b> ({escape(note.title)}, {short_day(note.at)}): {escape(' '.join(note.notes))}"
        top -= paragraph(canvas, text, MARGIN, top - 4, wide - 2 * MARGIN, SMALL, 2) + 3
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def skill_heads(canvas: Any, top: float) -> float:
    """The heads of the columns; answers their height."""
    for x, words in (
        (N_AT, "n"),
        (SCALE_AT - SCALE_HALF, say("bias, ± 3 tolerances")),
        (BIAS_AT, say("bias ± 95 %")),
        (SPREAD_AT, say("spread")),
        (TREND_AT, say("trend")),
    ):
        paragraph(canvas, words, x, top, 110, SMALL - 1.4, 1, FAINT)
    return 12.0


def skill_row(canvas: Any, row: SkillRow, top: float, wide: float) -> None:
    """A skill in one row of ``ROW_HIGH``, on a page so ``wide``."""
    from reportlab.lib.colors import HexColor

    unit = KINDS[row.skill].unit
    paragraph(canvas, escape(WORDS[row.skill].title), MARGIN, top, N_AT - MARGIN - 6, SMALL, 1)
    paragraph(canvas, f"{row.all.n}", N_AT, top, 30, SMALL, 1, FAINT)
    middle = top - 6.0
    canvas.setStrokeColor(HexColor(FAINT))
    canvas.setLineWidth(THIN)
    canvas.line(SCALE_AT - SCALE_HALF, middle, SCALE_AT + SCALE_HALF, middle)
    for share in (-1.0, 0.0, 1.0):
        x, tall = SCALE_AT + share * SCALE_HALF / SCALE, 4.0 if share == 0 else 2.5
        canvas.line(x, middle - tall, x, middle + tall)
    if row.all.bias is None or row.all.spread is None:
        paragraph(canvas, say("too few to say"), BIAS_AT, top, 90, SMALL, 1, FAINT)
        return
    _interval(canvas, row.skill, row.all, middle)
    bias, half = row.all.bias, (row.all.bias.high - row.all.bias.low) / 2
    paragraph(
        canvas, f"{_figure(bias.value, unit, '+')} ± {_figure(half, unit)}{SHORT[unit]}", BIAS_AT, top, 84, SMALL, 1
    )
    paragraph(canvas, f"{_figure(row.all.spread.value, unit)}{SHORT[unit]}", SPREAD_AT, top, 50, SMALL, 1)
    paragraph(canvas, escape(row.trend_words), TREND_AT, top + 1, wide - MARGIN - TREND_AT, SMALL - 1.4, 2, FAINT)


def _figure(value: float, unit: SkillUnit, sign: str = "") -> str:
    return f"{value:{sign}.{PLACES[unit]}f}".replace("-", "−")


def _interval(canvas: Any, skill: Skill, found: Standing, middle: float) -> None:
    from reportlab.lib.colors import HexColor

    if found.bias is None:
        return
    tolerance = tolerance_of(skill, FREEHAND)
    low, value, high = (
        SCALE_AT + max(-SCALE, min(SCALE, v / tolerance)) * SCALE_HALF / SCALE
        for v in (found.bias.low, found.bias.value, found.bias.high)
    )
    canvas.setStrokeColor(HexColor(INK))
    canvas.setFillColor(HexColor(INK))
    canvas.setLineWidth(2 * THICK)
    canvas.line(low, middle, high, middle)
    canvas.circle(value, middle, 2.4, stroke=0, fill=1)
