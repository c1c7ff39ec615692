"""A critique on one page, to print or to send: both pictures, what holds, what to mend, and what to watch next time."""

from __future__ import annotations

import io
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any
from xml.sax.saxutils import escape

from aspectum.core.plane.rim_fit import fit_rim
from aspectum.core.sightings import Rim
from aspectum.core.tolerance import Verdict
from aspectum.formats.critique import Critique, CritiqueCause
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import EdgeSighting, RimSighting
from aspectum.language import day, say
from aspectum.service.pages.pdf_picture import picture_of_page
from aspectum.service.pages.printed import BODY, FAINT, INK, LEADING, MARGIN, SMALL, THICK, THIN, paragraph
from aspectum.service.pages.typeface import fonts
from aspectum.service.sheets.from_sheet import core_rim

PNG_DPI = 150
PICTURE_HIGH = 215.0
MEND, PAPER = "#0b5f63", "#f4f6f2"
LIT = "#b5452c"
FOOT = MARGIN + 50.0  # above it everything else ends


@dataclass(frozen=True)
class Page:
    """What goes on it. Pictures are JPEG files; ``subject`` is None for a drawing from imagination."""

    critique: Critique
    drawing: SightingSheet
    drawing_picture: Path
    subject: SightingSheet | None
    subject_picture: Path | None
    content: str
    next_time: list[str]
    made: datetime


def critique_pdf(page: Page) -> bytes:
    """One A4 page."""
    from reportlab.lib.pagesizes import A4
    from reportlab.pdfgen.canvas import Canvas

    fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4)
    canvas.setTitle(page.drawing.title or say("Critique"))
    canvas.setAuthor("Aspectum")
    wide, high = A4
    top = high - MARGIN
    top = heading(canvas, page, top, wide)
    top = leaves(canvas, page, top, wide)
    top = strip(canvas, page, top, wide)
    line_by_line(canvas, page, top, wide)
    footing(canvas, page, wide)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def critique_png(page: Page) -> bytes:
    """The same page as a picture."""
    return picture_of_page(critique_pdf(page), PNG_DPI)


def heading(canvas: Any, page: Page, top: float, wide: float) -> float:
    used = paragraph(
        canvas, f"<b>{escape(page.drawing.title or say('Drawing'))}</b>", MARGIN, top, wide - 2 * MARGIN, 14, 2
    )
    against = (
        say("from imagination, on its own terms")
        if page.subject is None
        else say("judged against {title}", title=escape(page.subject.title or say("its subject")))
    )
    used += (
        paragraph(canvas, f"{day(page.made)} · {against}", MARGIN, top - used - 3, wide - 2 * MARGIN, SMALL, 1, FAINT)
        + 3
    )
    return top - used - 10


def leaves(canvas: Any, page: Page, top: float, wide: float) -> float:
    """Both pictures side by side, with the lines that the causes concern lit."""
    from reportlab.lib.utils import ImageReader

    lit = {id for cause in page.critique.causes for id in cause.sightings}
    sides = [(page.drawing, page.drawing_picture)]
    if page.subject is not None and page.subject_picture is not None:
        sides.insert(0, (page.subject, page.subject_picture))
    room = (wide - 2 * MARGIN - 14 * (len(sides) - 1)) / len(sides)
    lowest = top
    for n, (sheet, file) in enumerate(sides):
        if sheet.picture is None:
            continue
        scale = min(room / sheet.picture.width_px, PICTURE_HIGH / sheet.picture.height_px)
        x, across, down = MARGIN + n * (room + 14), sheet.picture.width_px * scale, sheet.picture.height_px * scale
        canvas.drawImage(ImageReader(str(file)), x, top - down, across, down)
        marks(canvas, page, sheet, lit, x, top, scale, sheet is page.drawing)
        lowest = min(lowest, top - down)
    return lowest - 16


def marks(
    canvas: Any, page: Page, sheet: SightingSheet, lit: set[str], x: float, top: float, scale: float, drawn: bool
) -> None:
    """Sightings over a picture; on the drawing the lit ones are also drawn where they belong."""
    from reportlab.lib.colors import HexColor

    def line(p: tuple[float, float], q: tuple[float, float]) -> None:
        canvas.line(x + p[0] * scale, top - p[1] * scale, x + q[0] * scale, top - q[1] * scale)

    for s in sheet.accepted:
        if isinstance(s, EdgeSighting) and s.p is not None and s.q is not None:
            canvas.setStrokeColor(HexColor(LIT if s.id in lit else INK))
            canvas.setLineWidth(THICK * 1.4 if s.id in lit else THIN)
            line(s.p, s.q)
        elif isinstance(s, RimSighting):
            rim(canvas, core_rim(s), LIT if s.id in lit else INK, THICK * 1.4 if s.id in lit else THIN, x, top, scale)
    if drawn and page.critique.causes:
        canvas.setStrokeColor(HexColor(MEND))
        canvas.setLineWidth(THICK)
        canvas.setDash(4, 2)
        for mended in page.critique.causes[0].mended:
            line(mended.p, mended.q)
        canvas.setDash()


def rim(canvas: Any, sighted: Rim, colour: str, width: float, x: float, top: float, scale: float) -> None:
    """A rim's ellipse over a picture."""
    from reportlab.lib.colors import HexColor

    seen = fit_rim(sighted.points, 2.0, sighted.ends, sighted.near).ellipse
    canvas.saveState()
    canvas.setStrokeColor(HexColor(colour))
    canvas.setLineWidth(width)
    canvas.translate(x + seen.centre_px[0] * scale, top - seen.centre_px[1] * scale)
    canvas.rotate(seen.axis_deg - 90.0)
    canvas.ellipse(
        -seen.major_px / 2 * scale, -seen.minor_px / 2 * scale, seen.major_px / 2 * scale, seen.minor_px / 2 * scale
    )
    canvas.restoreState()


def strip(canvas: Any, page: Page, top: float, wide: float) -> float:
    """Holds, mend, next time: three columns with a thin line over them; answers where they end."""
    from reportlab.lib.colors import HexColor

    critique = page.critique
    holds = list(critique.holds) or [say("Nothing is sighted on both yet.")]
    if critique.subject is None:
        holds = list(critique.own.words) or [say("Nothing is sighted yet.")]
    mend = [cause_block(n, cause) for n, cause in enumerate(critique.causes, 1)]
    if not mend:
        mend = (
            [say("Nothing beyond what a hand wobbles.")] if critique.findings else [say("Nothing can be compared yet.")]
        )
    if page.content:
        holds.append(f"<b>{say('In your own words')}</b><br/>{escape(page.content)}")
    watch = [escape(note) for note in page.next_time] or [say("Nothing noted yet.")]
    gap = 16.0
    room = (wide - 2 * MARGIN - 2 * gap) / 3.6
    columns = [
        (say("Holds"), [h if h.startswith("<b>") else escape(h) for h in holds], room),
        (say("Mend"), mend, 1.6 * room),
        (say("Next time"), watch, room),
    ]
    x, lowest = MARGIN, top
    for title, parts, across in columns:
        canvas.setStrokeColor(HexColor(INK))
        canvas.setLineWidth(THIN)
        canvas.line(x, top, x + across, top)
        y = top - 4
        y -= paragraph(canvas, f"<b>{title}</b>", x, y, across, 10.5, 1) + 5
        for text in parts:
            if y < FOOT + 30:
                break
            y -= paragraph(canvas, text, x, y, across, BODY, int((y - FOOT) / (BODY * LEADING))) + 6
        x += across + gap
        lowest = min(lowest, y)
    return lowest - 8


def line_by_line(canvas: Any, page: Page, top: float, wide: float) -> None:
    """What is off, sighting by sighting, in two columns, as far as the page goes."""
    from reportlab.lib.colors import HexColor

    called = {s.id: s.name or s.id for s in (page.subject or page.drawing).accepted}
    off = [
        f for f in page.critique.findings if f.verdict is Verdict.OFF or any(r.verdict is Verdict.OFF for r in f.also)
    ]
    if not off or top < FOOT + 60:
        return
    canvas.setStrokeColor(HexColor(INK))
    canvas.setLineWidth(THIN)
    canvas.line(MARGIN, top, wide - MARGIN, top)
    start = (
        top - 4 - paragraph(canvas, f"<b>{say('Line by line')}</b>", MARGIN, top - 4, wide - 2 * MARGIN, 10.5, 1) - 4
    )
    room, column, y = (wide - 2 * MARGIN - 16) / 2, 0, start
    for f in off:
        text = f"<b>{escape(called.get(f.sighting, f.sighting))}</b> {escape(f.words)}"
        if y < FOOT + 4 * SMALL * LEADING:
            if column:
                return
            column, y = 1, start
        y -= paragraph(canvas, text, MARGIN + column * (room + 16), y, room, SMALL, 4) + 3


def footing(canvas: Any, page: Page, wide: float) -> None:
    """The drawing on its own terms, and what could not be compared."""
    own = " ".join(page.critique.own.words) if page.critique.subject is not None else ""
    foot = " ".join([own, *page.critique.notes]).strip()
    if foot:
        paragraph(canvas, escape(foot), MARGIN, FOOT - 4, wide - 2 * MARGIN, SMALL, 5, FAINT)


def cause_block(n: int, cause: CritiqueCause) -> str:
    said = f"<b>{n}. {escape(cause.words)}</b>"
    if cause.advice:
        said += f"<br/>{escape(cause.advice)}"
    if cause.instead:
        said += f"<br/>{escape(cause.instead)}"
    share = say("{share} of what is off", share=f"{cause.explains:.0%}")
    return f"{said}<br/><font color='{FAINT}'>{share}</font>"
