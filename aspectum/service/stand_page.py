"""The exact drawing as a picture: what shows in thick line, what is hidden in thin, eye level across."""

from __future__ import annotations

from xml.sax.saxutils import escape

from aspectum.core.stand.drawn import Drawing
from aspectum.core.stand.steps import curve_parts, rim_points

THICK, THIN = 2.0, 1.0  # 1 : 2 (ISO 128-2:2020, from memory)
INK, FAINT, TEAL = "#22302c", "#8a9a92", "#0f6b6b"


def stand_svg(drawing: Drawing, title: str = "") -> str:
    """The drawing as an SVG of its picture's size."""
    view = drawing.view
    hidden, seen = [], []
    for line in (*drawing.edges, *drawing.outlines):
        hidden.append(_polyline([line.p, line.q]))
        seen += [_polyline([line.at(a), line.at(b)]) for a, b in line.visible]
    for rim in drawing.rims:
        hidden.append(_polyline(rim_points(rim, 0.0, 1.0)))
        seen += [_polyline(rim_points(rim, a, b)) for a, b in rim.visible]
    for curve in (*drawing.curves, *drawing.shadows):
        hidden.append(_polyline(curve.points))
        seen += [_polyline(points) for points in curve_parts(curve)]
    level = view.eye_level_px
    across = "" if level is None else _polyline([(0.0, level[0]), (float(view.width_px), level[1])])
    eye = f'<g stroke="{TEAL}" stroke-width="{THIN}" stroke-dasharray="12 6">{across}</g>'
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{view.width_px}" height="{view.height_px}" viewBox="0 0 {view.width_px} {view.height_px}">'
        f"<title>{escape(title)}</title>"
        f'<g fill="none" stroke-linecap="round" stroke-linejoin="round">{eye}'
        f'<g stroke="{FAINT}" stroke-width="{THIN}">{"".join(hidden)}</g>'
        f'<g stroke="{INK}" stroke-width="{THICK}">{"".join(seen)}</g></g></svg>'
    )


def _polyline(points: tuple[tuple[float, float], ...] | list[tuple[float, float]]) -> str:
    return '<polyline points="' + " ".join(f"{x:.2f},{y:.2f}" for x, y in points) + '"/>'
