"""The exact drawing as a picture: what shows in thick line, what is hidden in thin, eye level across."""

from __future__ import annotations

import io
from collections.abc import Sequence
from xml.sax.saxutils import escape

from aspectum.core.stand.drawn import Drawing
from aspectum.core.stand.kinds import Weight
from aspectum.core.stand.steps import curve_parts, rim_points
from aspectum.formats.reading import FormatError
from aspectum.formats.stand import StandSteps
from aspectum.formats.stand_shown import StandTurning
from aspectum.language import Text, say
from aspectum.service.pages.plan_page import lines_of
from aspectum.service.pages.typeface import fonts

THICK, THIN = 2.0, 1.0  # 1 : 2 (ISO 128-2:2020, from memory)
INK, FAINT, TEAL = "#22302c", "#8a9a92", "#0f6b6b"


def stand_svg(drawing: Drawing, title: str = "") -> str:
    """The drawing as an SVG of its picture's size."""
    view = drawing.view
    hidden, seen = [], []
    for line in (*drawing.edges, *drawing.outlines):
        hidden.append(polyline([line.p, line.q]))
        seen += [polyline([line.at(a), line.at(b)]) for a, b in line.visible]
    for rim in drawing.rims:
        hidden.append(polyline(rim_points(rim, 0.0, 1.0)))
        seen += [polyline(rim_points(rim, a, b)) for a, b in rim.visible]
    for curve in (*drawing.curves, *drawing.shadows):
        hidden.append(polyline(curve.points))
        seen += [polyline(points) for points in curve_parts(curve)]
    level = view.eye_level_px
    across = "" if level is None else polyline([(0.0, level[0]), (float(view.width_px), level[1])])
    eye = f'<g stroke="{TEAL}" stroke-width="{THIN}" stroke-dasharray="12 6">{across}</g>'
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{view.width_px}" height="{view.height_px}" viewBox="0 0 '
        f'{view.width_px} {view.height_px}">'
        f"<title>{escape(title)}</title>"
        f'<g fill="none" stroke-linecap="round" stroke-linejoin="round">{eye}'
        f'<g stroke="{FAINT}" stroke-width="{THIN}">{"".join(hidden)}</g>'
        f'<g stroke="{INK}" stroke-width="{THICK}">{"".join(seen)}</g></g></svg>'
    )


def polyline(points: Sequence[tuple[float, float]]) -> str:
    """Points joined in order, as SVG."""
    return '<polyline points="' + " ".join(f"{x:.2f},{y:.2f}" for x, y in points) + '"/>'


FIGURE_PX, FIGURE_ROW_PX = 14.0, 18.0


def turning_svg(found: StandTurning) -> str:
    """The row of poses as one SVG, each with its turn, its width and its rims' degrees beneath."""
    lined = "".join(polyline(stroke.points) for pose in found.poses for stroke in pose.strokes)
    rows = max(2 + len(pose.rims) for pose in found.poses)
    height = found.height_px + FIGURE_ROW_PX * (rows + 0.5)
    said = []
    for pose in found.poses:
        left = min(x for stroke in pose.strokes for x, _ in stroke.points)
        right = max(x for stroke in pose.strokes for x, _ in stroke.points)
        lines = [
            f"{pose.turned_deg:g}°",
            say("{width_m:.3g} m wide", width_m=pose.width_m),
            *(f"{rim.name} {rim.degree_deg:.0f}°" for rim in pose.rims),
        ]
        for k, line in enumerate(lines):
            y = found.top_px + found.height_px + FIGURE_ROW_PX * k
            said.append(f'<text x="{(left + right) / 2:.1f}" y="{y:.1f}">{escape(line)}</text>')
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{found.width_px:.0f}" height="{height:.0f}" '
        f'viewBox="{found.left_px:.1f} {found.top_px:.1f} {found.width_px:.1f} '
        f'{height:.1f}"><title>{escape(found.name)}</title>'
        f'<g fill="none" stroke="{INK}" stroke-width="{THICK}" stroke-linecap="round" '
        f'stroke-linejoin="round">{lined}</g>'
        f'<g fill="{INK}" font-family="sans-serif" font-size="{FIGURE_PX}" '
        f'text-anchor="middle">{"".join(said)}</g></svg>'
    )


PAGE_MM = (297.0, 210.0)  # A4 as it lies
EDGE_MM, WORDS_MM, BODY_MM, LEADING = 12.0, 30.0, 4.0, 1.4
THIN_MM, THICK_MM = 0.18, 0.36
TITLE = Text("Step {number} of {steps}: {title}")


def steps_svg(found: StandSteps, number: int) -> str:
    """The drawing as it stands after step ``number`` (from 1), as SVG; what that step adds in teal. Raises
    ``FormatError`` where there is no such step.
    """
    if not 1 <= number <= len(found.steps):
        raise FormatError(say("step: there are steps 1 to {steps}", steps=len(found.steps)))
    groups = []
    for step in found.steps[:number]:
        ink = TEAL if step.number == number else FAINT
        for stroke in step.strokes:
            width = THICK if stroke.weight is Weight.THICK else THIN
            groups.append(
                f'<g stroke="{INK if stroke.weight is Weight.THICK else ink}" '
                f'stroke-width="{width}">{polyline(stroke.points)}</g>'
            )
    step = found.steps[number - 1]
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{found.width_px}" height="{found.height_px}" viewBox="0 0 '
        f'{found.width_px} {found.height_px}">'
        f"<title>{escape(say(TITLE.text, number=number, steps=len(found.steps), title=step.title))}</title>"
        f"<desc>{escape(step.words)}</desc>"
        f'<g fill="none" stroke-linecap="round" stroke-linejoin="round">{"".join(groups)}</g></svg>'
    )


def steps_pdf(found: StandSteps) -> bytes:
    """All steps as a hand-out, one page each: the drawing so far, what the step adds darker, and its reason in a
    sentence.
    """
    from reportlab.lib.colors import HexColor
    from reportlab.lib.units import mm
    from reportlab.pdfgen.canvas import Canvas

    fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(PAGE_MM[0] * mm, PAGE_MM[1] * mm), invariant=True)
    canvas.setTitle(found.name)
    scale = min((PAGE_MM[0] - 2 * EDGE_MM) / found.width_px, (PAGE_MM[1] - 2 * EDGE_MM - WORDS_MM) / found.height_px)
    left = (PAGE_MM[0] - scale * found.width_px) / 2
    for step in found.steps:
        y = PAGE_MM[1] - EDGE_MM
        canvas.setFillColor(HexColor(INK))
        for text, bold in (
            (f"{found.name}. {say(TITLE.text, number=step.number, steps=len(found.steps), title=step.title)}", True),
            (step.words, False),
        ):
            for line in lines_of(text, BODY_MM, bold, PAGE_MM[0] - 2 * EDGE_MM):
                canvas.setFont("VeraBd" if bold else "Vera", BODY_MM * mm)
                canvas.drawString(EDGE_MM * mm, (y - BODY_MM) * mm, line)
                y -= BODY_MM * LEADING
        canvas.saveState()
        window = canvas.beginPath()
        window.rect(left * mm, EDGE_MM * mm, scale * found.width_px * mm, scale * found.height_px * mm)
        canvas.clipPath(window, stroke=0, fill=0)
        canvas.setLineCap(1)
        for before in found.steps[: step.number]:
            for stroke in before.strokes:
                thick = stroke.weight is Weight.THICK
                canvas.setStrokeColor(HexColor(INK if thick else TEAL if before is step else FAINT))
                canvas.setLineWidth((THICK_MM if thick else THIN_MM) * mm)
                path = canvas.beginPath()
                for k, (px, py) in enumerate(stroke.points):
                    at = ((left + scale * px) * mm, (EDGE_MM + scale * (found.height_px - py)) * mm)
                    (path.lineTo if k else path.moveTo)(*at)
                canvas.drawPath(path)
        canvas.restoreState()
        canvas.showPage()
    canvas.save()
    return out.getvalue()
