"""The plan on paper, true to size: as PDF, on one sheet or tiled over several, and as SVG. Its text is real text."""

from __future__ import annotations

import io
import math
from dataclasses import dataclass
from typing import Any
from xml.sax.saxutils import escape

from aspectum.core.plan.subject import NoPlan
from aspectum.formats.plan import OnPaper, Plan
from aspectum.language import figure, say
from aspectum.pictures.papers import ISO_216
from aspectum.service.pages.plan_strokes import PLAIN, THIN, Mark, Ring, Stroke, Word, check_bar, strokes_of
from aspectum.service.pages.typeface import fonts

EDGE_MM = 8.0  # that a printer leaves white
OVERLAP_MM = 10.0  # by which the parts of a sheet reach over one another, to be glued
CROP_MM = 5.0
MOST_TILES = 60
TEXT_MM = 12.0  # margin of the page of words
BODY_MM = 3.5
LEADING = 1.35


@dataclass(frozen=True)
class Tile:
    """One printed page: the part of the sheet from ``left``, ``top`` (mm), ``wide`` by ``high``."""

    row: int
    column: int
    left: float
    top: float
    wide: float
    high: float


def plan_svg(plan: Plan, fans: bool = False) -> bytes:
    """The sheet as SVG in millimetres."""
    wide, high = plan.paper_mm
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:g}mm" height="{high:g}mm" viewBox="0 0 {wide:g} '
        f'{high:g}" font-family="sans-serif">',
        f"<title>{escape(plan.title or say('Plan'))}</title>",
    ]
    parts += [svg_mark(mark) for mark in strokes_of(plan, fans)]
    parts.append("</svg>\n")
    return "\n".join(parts).encode()


def svg_mark(mark: Mark) -> str:
    match mark:
        case Stroke((x1, y1), (x2, y2)):
            dash = f' stroke-dasharray="{" ".join(f"{d:g}" for d in mark.dash)}"' if mark.dash else ""
            return (
                f'<line x1="{x1:.3f}" y1="{y1:.3f}" x2="{x2:.3f}" y2="{y2:.3f}" stroke="{mark.ink}" '
                f'stroke-width="{mark.weight:g}"{dash}/>'
            )
        case Ring((x, y)):
            turn = 90.0 - mark.axis_deg
            return (
                f'<ellipse cx="{x:.3f}" cy="{y:.3f}" rx="{mark.major / 2:.3f}" ry="{mark.minor / 2:.3f}" '
                f'transform="rotate({turn:.3f} {x:.3f} {y:.3f})"'
                f' fill="none" stroke="{mark.ink}" stroke-width="{mark.weight:g}"/>'
            )
        case Word((x, y)):
            return (
                f'<text x="{x:.3f}" y="{y:.3f}" font-size="{mark.size:g}" text-anchor="{mark.anchor}" '
                f'fill="{mark.ink}">{escape(mark.text)}</text>'
            )


def plan_pdf(plan: Plan, printer: str | None = None, fans: bool = False) -> bytes:
    """The sheet at its true size, then the lay-in in words. ``printer``: the paper in the printer (an ISO 216 name),
    over whose pages a larger sheet is tiled with crop marks; None prints the sheet on its own paper. Raises
    ``KeyError`` for an unknown paper, ``NoPlan`` where it would be too many pages.
    """
    from reportlab.lib.units import mm
    from reportlab.pdfgen.canvas import Canvas

    fonts()
    out = io.BytesIO()
    page = plan.paper_mm if printer is None else lying_as(ISO_216[printer], plan.paper_mm)
    canvas = Canvas(out, pagesize=(page[0] * mm, page[1] * mm), initialFontName="Vera")
    canvas.setTitle(plan.title or say("Plan"))
    canvas.setAuthor("Aspectum")
    marks = strokes_of(plan, fans)
    tiles = [] if fits(plan.paper_mm, page) else tiles_of(plan.paper_mm, page)
    if len(tiles) > MOST_TILES:
        raise NoPlan(
            say(
                "That would be {tiles} pages to glue: print it on larger paper, or plan a smaller sheet.",
                tiles=len(tiles),
            )
        )
    if tiles:
        for tile in tiles:
            tiled(canvas, marks, tile, tiles[-1], page)
            canvas.showPage()
    else:
        canvas.saveState()
        # a smaller sheet stands in the middle of the page
        canvas.translate((page[0] - plan.paper_mm[0]) / 2 * mm, (page[1] + plan.paper_mm[1]) / 2 * mm)
        draw(canvas, marks)
        canvas.restoreState()
        canvas.showPage()
    words_of(canvas, plan, (210.0, 297.0))
    canvas.save()
    return out.getvalue()


def lying_as(size: tuple[float, float], sheet: tuple[float, float]) -> tuple[float, float]:
    """A page turned as the sheet lies."""
    return (max(size), min(size)) if sheet[0] > sheet[1] else (min(size), max(size))


def fits(sheet: tuple[float, float], page: tuple[float, float]) -> bool:
    return sheet[0] <= page[0] + 0.5 and sheet[1] <= page[1] + 0.5


def tiles_of(sheet: tuple[float, float], page: tuple[float, float]) -> list[Tile]:
    """The parts that a sheet is printed in, row by row."""
    wide, high = page[0] - 2 * EDGE_MM, page[1] - 2 * EDGE_MM
    columns = max(1, math.ceil((sheet[0] - OVERLAP_MM) / (wide - OVERLAP_MM)))
    rows = max(1, math.ceil((sheet[1] - OVERLAP_MM) / (high - OVERLAP_MM)))
    return [
        Tile(r, c, c * (wide - OVERLAP_MM), r * (high - OVERLAP_MM), wide, high)
        for r in range(rows)
        for c in range(columns)
    ]


def tiled(canvas: Any, marks: list[Mark], tile: Tile, last: Tile, page: tuple[float, float]) -> None:
    from reportlab.lib.units import mm

    canvas.saveState()
    window = canvas.beginPath()
    window.rect(EDGE_MM * mm, EDGE_MM * mm, tile.wide * mm, tile.high * mm)
    canvas.clipPath(window, stroke=0, fill=0)
    canvas.translate((EDGE_MM - tile.left) * mm, (page[1] - EDGE_MM + tile.top) * mm)
    draw(canvas, marks)
    canvas.restoreState()
    canvas.saveState()
    canvas.translate(0, page[1] * mm)
    crops: list[Mark] = []
    for x in (EDGE_MM, EDGE_MM + tile.wide):
        for y in (EDGE_MM, EDGE_MM + tile.high):
            away = (-1.0 if x == EDGE_MM else 1.0, -1.0 if y == EDGE_MM else 1.0)
            crops += [
                Stroke((x + away[0], y), (x + away[0] * CROP_MM, y), THIN, PLAIN),
                Stroke((x, y + away[1]), (x, y + away[1] * CROP_MM), THIN, PLAIN),
            ]
    where = say(
        "row {row} of {row2}, column {column} of {column2}; the parts overlap by {overlap_mm} mm",
        row=tile.row + 1,
        row2=last.row + 1,
        column=tile.column + 1,
        column2=last.column + 1,
        overlap_mm=figure(OVERLAP_MM, 0),
    )
    crops.append(Word((EDGE_MM + CROP_MM + 2.0, EDGE_MM - 2.0), where, 2.2))
    draw(canvas, crops + check_bar(tile.wide + 2 * EDGE_MM, tile.high + EDGE_MM))
    canvas.restoreState()


def draw(canvas: Any, marks: list[Mark]) -> None:
    """Draw from the sheet's top-left corner, which is the canvas' origin; mm, y down."""
    from reportlab.lib.colors import HexColor
    from reportlab.lib.units import mm

    def at(p: OnPaper) -> tuple[float, float]:
        return p[0] * mm, -p[1] * mm

    for mark in marks:
        match mark:
            case Stroke():
                canvas.setStrokeColor(HexColor(mark.ink))
                canvas.setLineWidth(mark.weight * mm)
                canvas.setDash([d * mm for d in mark.dash] or [])
                canvas.line(*at(mark.p), *at(mark.q))
            case Ring():
                canvas.saveState()
                canvas.setStrokeColor(HexColor(mark.ink))
                canvas.setLineWidth(mark.weight * mm)
                canvas.setDash([])
                canvas.translate(*at(mark.centre))
                canvas.rotate(mark.axis_deg - 90.0)
                canvas.ellipse(-mark.major / 2 * mm, -mark.minor / 2 * mm, mark.major / 2 * mm, mark.minor / 2 * mm)
                canvas.restoreState()
            case Word():
                canvas.setFillColor(HexColor(mark.ink))
                canvas.setFont("Vera", mark.size * mm)
                write = {"start": canvas.drawString, "end": canvas.drawRightString}.get(
                    mark.anchor, canvas.drawCentredString
                )
                write(*at(mark.at), mark.text)


def words_of(canvas: Any, plan: Plan, page: tuple[float, float]) -> None:
    """The lay-in as a numbered list, vanishing points and the tilt table, on pages of their own."""
    from reportlab.lib.colors import HexColor
    from reportlab.lib.units import mm

    canvas.setPageSize((page[0] * mm, page[1] * mm))
    y = page[1] - TEXT_MM

    def write(text: str, size: float = BODY_MM, bold: bool = False) -> None:
        nonlocal y
        for line in lines_of(text, size, bold, page[0] - 2 * TEXT_MM):
            if y < TEXT_MM + size:
                canvas.showPage()
                y = page[1] - TEXT_MM
            canvas.setFillColor(HexColor("#1d2524"))
            canvas.setFont("VeraBd" if bold else "Vera", size * mm)
            canvas.drawString(TEXT_MM * mm, (y - size) * mm, line)
            y -= size * LEADING

    write(plan.title or say("Plan"), 5.0, True)
    scale = (
        ""
        if plan.near_upright_mm is None
        else say(", near upright {near_upright_mm} mm", near_upright_mm=figure(plan.near_upright_mm, 0))
    )
    write(
        say(
            "Sheet {paper_mm:g} × {paper_mm2:g} mm{scale}. Places are mm from its left and top edge.",
            paper_mm=plan.paper_mm[0],
            paper_mm2=plan.paper_mm[1],
            scale=scale,
        )
    )
    for warning in plan.warnings:
        write(warning.words)
    y -= 2.0
    write(say("Lay-in"), 4.0, True)
    for step in plan.steps:
        write(f"{step.number}. {step.words}")
    y -= 2.0
    write(say("Vanishing points"), 4.0, True)
    for point in plan.vanishing_points:
        write(point.words)
    for table in plan.tilts:
        y -= 2.0
        write(
            say("Tilts of the {family} family at {x_mm} mm across", family=table.family, x_mm=figure(table.x_mm, 0)),
            4.0,
            True,
        )
        for row in table.rows:
            write(
                say(
                    "{units} units, {y_mm} mm down: {tilt_deg}°",
                    units=figure(row.units, 2, signed=True),
                    y_mm=figure(row.y_mm, 0),
                    tilt_deg=figure(row.tilt_deg, 1, signed=True),
                ).replace("-", "−")
            )
    for note in plan.notes:
        write(note)
    canvas.showPage()


def lines_of(text: str, size: float, bold: bool, wide: float) -> list[str]:
    """Text broken into lines no wider than ``wide`` (mm)."""
    from reportlab.lib.units import mm
    from reportlab.lib.utils import simpleSplit

    return list(simpleSplit(text, "VeraBd" if bold else "Vera", size * mm, wide * mm))
