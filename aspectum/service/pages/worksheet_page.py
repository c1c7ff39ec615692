"""A worksheet and its answer as printed pages, true to size; and as a picture of what stands on it."""

from __future__ import annotations

import io
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from aspectum.core.worksheet.exercise import ExerciseKind, Grade, Role, Said
from aspectum.formats.worksheet import CrossMark, EllipsePart, RoundMark, StrokeMark, TagMark, Worksheet
from aspectum.language import say
from aspectum.pictures.corner_marks import MODULES, black_modules, digits, mark_boxes
from aspectum.service.pages.pdf_picture import picture_of_page
from aspectum.service.pages.plan_page import draw, lines_of, svg_mark
from aspectum.service.pages.plan_strokes import Mark, Ring, Stroke, Word, check_bar
from aspectum.service.pages.typeface import fonts
from aspectum.service.words.worksheets import TITLES, sentence, stated_words, tag_words

INK = "#1d2524"
THIN, THICK = 0.25, 0.5  # mm; two weights, 1 : 2 (ISO 128-2:2020)
DASH = (2.5, 1.0)
TITLE_MM, TEXT_MM, SMALL_MM, TAG_MM = 4.2, 3.1, 2.4, 3.0
HEAD_MM, FOOT_MM, SIDE_MM = 34.0, 21.0, 12.0  # of an A4 sheet, above, under and beside the field
NAME_MM = 30.5  # from the top: the line for name and class
CROSS_MM = 1.6
BAR_CLEAR_MM = 4.0
CLEAR_MM = 3.0  # of white about a corner mark
SMALL_LINES, SMALL_WORDS = 2.4, 1.8  # times the printed weight and size, in a picture a quarter as large


@dataclass(frozen=True)
class Field:
    """Where the exercise lies on its sheet (mm)."""

    left: float
    top: float
    wide: float
    high: float


def field_of(paper_mm: tuple[float, float]) -> Field:
    """The field of a sheet, clear of its corner marks, which grow with the paper."""
    left, _, side = mark_boxes(paper_mm)[0]
    head, foot = max(HEAD_MM, left + side + CLEAR_MM), max(FOOT_MM, left + side + CLEAR_MM)
    return Field(SIDE_MM, head, paper_mm[0] - 2 * SIDE_MM, paper_mm[1] - head - foot)


def marks_of(sheet: Worksheet, answer: bool) -> list[Mark]:
    """The exercise's own marks: on the sheet what is given, on the answer that thin and the answer thick."""
    drawn: list[Mark] = []
    for mark in sheet.printed:
        if not answer and mark.role in (Role.ANSWER, Role.HIDDEN):
            continue
        weight = THICK if mark.role is (Role.ANSWER if answer else Role.GIVEN) else THIN
        dash = DASH if mark.role is Role.HIDDEN else ()
        match mark:
            case StrokeMark():
                drawn += [Stroke(p, q, weight, INK, dash) for p, q in zip(mark.points, mark.points[1:], strict=False)]
            case RoundMark():
                drawn.append(ring(mark.ellipse, weight))
            case CrossMark(at=(x, y)):
                drawn += [
                    Stroke((x - CROSS_MM, y), (x + CROSS_MM, y), weight, INK),
                    Stroke((x, y - CROSS_MM), (x, y + CROSS_MM), weight, INK),
                ]
            case TagMark(at=(x, y)):
                text = mark.letter if mark.said is None else tag_words(mark.said, mark.number)
                size = (
                    SMALL_MM
                    if mark.said in (Said.EYE_LEVEL, Said.VANISHING_POINT) or mark.role is Role.ANSWER
                    else TAG_MM
                )
                drawn.append(Word((x, y), text, size, "middle" if mark.middle else "start", INK))
    return drawn


def ring(ellipse: EllipsePart, weight: float) -> Ring:
    return Ring(ellipse.centre, ellipse.major, ellipse.minor, ellipse.axis_deg, weight, INK)


def worksheet_svg(sheet: Worksheet, answer: bool, photo: str | None = None) -> bytes:
    """The field of a worksheet as SVG, for the screen; ``photo``: address of the picture in it."""
    inside = field_of(sheet.paper_mm)
    wide = sheet.paper_mm[0]
    box = f"0 {inside.top:g} {wide:g} {inside.high:g}"
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:g}mm" height="{inside.high:g}mm" viewBox="{box}" '
        'font-family="sans-serif">'
    ]
    parts.append(f'<rect x="0" y="{inside.top:g}" width="{wide:g}" height="{inside.high:g}" fill="#ffffff"/>')
    if photo is not None and sheet.picture_box is not None:
        x, y, wide, high = sheet.picture_box
        parts.append(f'<image x="{x:g}" y="{y:g}" width="{wide:g}" height="{high:g}" href="{photo}"/>')
    parts += [svg_mark(on_screen(mark)) for mark in marks_of(sheet, answer)]
    parts.append("</svg>\n")
    return "\n".join(parts).encode()


def on_screen(mark: Mark) -> Mark:
    """A mark as a small picture of the sheet needs it: heavier, its words larger."""
    return (
        replace(mark, size=mark.size * SMALL_WORDS)
        if isinstance(mark, Word)
        else replace(mark, weight=mark.weight * SMALL_LINES)
    )


@dataclass(frozen=True)
class Page:
    """A worksheet to print, with the file of the photo in it where there is one."""

    sheet: Worksheet
    photo: Path | None = None


def worksheets_pdf(
    title: str,
    pages: Iterable[Page],
    sheets: bool = True,
    answers: bool = True,
    done: Callable[[int], None] | None = None,
) -> bytes:
    """Worksheets, then their answers on pages of their own. ``done`` is told after each page how many there are."""
    from reportlab.pdfgen.canvas import Canvas

    fonts()
    out = io.BytesIO()
    canvas = Canvas(out, initialFontName="Vera")
    canvas.setTitle(title or say("Worksheets"))
    canvas.setAuthor("Aspectum")
    count = 0
    told = list(pages)
    for answer in [False] * sheets + [True] * answers:
        for page in told:
            draw_page(canvas, page, answer)
            count += 1
            if done is not None:
                done(count)
    canvas.save()
    return out.getvalue()


def answer_png(page: Page) -> bytes:
    """A worksheet's answer as a picture, as large as a photo of the sheet is flattened."""
    seen = page.sheet.subject.picture
    assert seen is not None
    return picture_of_page(worksheets_pdf("", [page], sheets=False), size=(seen.width_px, seen.height_px))


def draw_page(canvas: Any, page: Page, answer: bool) -> None:
    from reportlab.lib.colors import HexColor
    from reportlab.lib.units import mm
    from reportlab.lib.utils import ImageReader

    sheet = page.sheet
    wide, high = sheet.paper_mm
    canvas.setPageSize((wide * mm, high * mm))
    canvas.saveState()
    canvas.translate(0, high * mm)
    if page.photo is not None and sheet.picture_box is not None:
        x, y, across, down = sheet.picture_box
        canvas.drawImage(ImageReader(str(page.photo)), x * mm, -(y + down) * mm, across * mm, down * mm)
    canvas.setLineCap(1)
    draw(canvas, heading(sheet, answer) + marks_of(sheet, answer))
    if not answer:
        # a worksheet is known by its corners; an answer must not be taken for one
        canvas.setFillColor(HexColor("#000000"))
        for place, (left, top, side) in enumerate(mark_boxes(sheet.paper_mm)):
            module = side / MODULES
            for row, column in black_modules(place, digits(sheet.code)[place]):
                canvas.rect(
                    (left + column * module) * mm,
                    -(top + (row + 1) * module) * mm,
                    module * mm,
                    module * mm,
                    stroke=0,
                    fill=1,
                )
    canvas.restoreState()
    canvas.showPage()


def heading(sheet: Worksheet, answer: bool) -> list[Mark]:
    """Title, sentence, the line for a name, and at the foot what is stated, the check bar, and the number."""
    wide, high = sheet.paper_mm
    left, _, side = mark_boxes(sheet.paper_mm)[0]
    inner, room = left + side + 5.0, wide - 2 * (left + side + 5.0)
    title = say("{title}: answer", title=TITLES[sheet.kind]) if answer else str(TITLES[sheet.kind])
    drawn: list[Mark] = [
        Word((inner, 13.0), title, TITLE_MM, "start", INK),
        Word((wide - inner, 13.0), say("Sheet {number}", number=sheet.copy_number), SMALL_MM, "end", INK),
    ]
    y = 18.0
    for line in lines_of(sentence(sheet.kind, sheet.grade), TEXT_MM, False, room)[:2]:
        drawn.append(Word((inner, y), line, TEXT_MM, "start", INK))
        y += TEXT_MM * 1.35
    drawn += name_line(sheet, inner, wide - inner)
    level = None if sheet.eye_level_mm is None or sheet.kind is ExerciseKind.EYE_LEVEL else sheet.eye_level_mm[0]
    # what is to be found by drawing on is not stated
    points = [] if sheet.kind is ExerciseKind.NEAR_CORNER and sheet.grade is Grade.MIDDLE else sheet.vanishing_points
    foot = high - BAR_CLEAR_MM
    drawn.append(Word((inner, foot - 9.0), stated_words(sheet.paper, level, points, wide), SMALL_MM, "start", INK))
    drawn.append(Word((wide - inner, foot - 9.0), f"No. {sheet.code}", SMALL_MM, "end", INK))
    return drawn + check_bar(wide, high)


def name_line(sheet: Worksheet, left: float, right: float) -> list[Mark]:
    """Name and class, written out where they are known and else a line to write on."""
    middle = left + 0.55 * (right - left)
    drawn: list[Mark] = [
        Word((left, NAME_MM), say("Name"), SMALL_MM, "start", INK),
        Word((middle + 4.0, NAME_MM), say("Class"), SMALL_MM, "start", INK),
    ]
    for start, end, text in ((left + 10.0, middle, sheet.name), (middle + 14.0, right, sheet.class_line)):
        drawn.append(Stroke((start, NAME_MM + 0.8), (end, NAME_MM + 0.8), THIN, INK))
        if text:
            drawn.append(Word((start + 1.0, NAME_MM - 0.2), text, TEXT_MM, "start", INK))
    return drawn
