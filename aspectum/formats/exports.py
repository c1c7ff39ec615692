"""Findings as CSV and the overlay as SVG over its picture."""

from __future__ import annotations

import base64
import csv
import io
import math
from xml.sax.saxutils import escape, quoteattr

from aspectum.core.sightings import Family, Kind
from aspectum.core.tolerance import Verdict
from aspectum.formats.report import Report, ReportEllipse, ReportVanishingPoint
from aspectum.formats.sheet import EdgeSighting, FormatError, RimSighting, SightingSheet

# letter, dash and ink of each family, as the interface draws them
MARKS = {
    Family.LEFT: ("L", "14 6", "#8a5a12"),
    Family.RIGHT: ("R", "none", "#0f6e6e"),
    Family.UPRIGHT: ("U", "2 5", "#6d3a6b"),
    Family.DEPTH: ("D", "12 4 2 4", "#44566b"),
    Family.ACROSS: ("A", "12 4 2 4", "#44566b"),
    Family.SLOPE: ("S", "6 5", "#4d6b2c"),
}

COLUMNS = ("sighting", "name", "kind", "form", "family", "unit", "judged", "sighted", "sighted_sd", "implied", "implied_sd", "verdict", "words")
RIM_COLUMNS = ("axis_sighted_deg", "axis_implied_deg", "minor_px", "major_px", "centre_x_px", "centre_y_px", "guide_deg")
UNITS = {Kind.EDGE: "degrees tilt", Kind.RIM: "degrees", Kind.LENGTH: "ratio", Kind.ALIGNMENT: "pixels"}
RIM_INK = "#7a3b2e"


def findings_csv(sheet: SightingSheet, report: Report) -> bytes:
    """One row a sighting, in order, UTF-8 with a byte-order mark so that spreadsheets read it."""
    buffer = io.StringIO()
    writer = csv.writer(buffer)
    rims = any(isinstance(s, RimSighting) for s in sheet.sightings)
    writer.writerow((*COLUMNS, *(RIM_COLUMNS if rims else ())))
    for s, f in zip(sheet.sightings, report.findings, strict=True):
        family = s.family if isinstance(s, EdgeSighting) else s.plane if isinstance(s, RimSighting) else ""
        row = [plain(s.id), plain(s.name or ""), s.kind, plain(s.form or ""), family, UNITS[s.kind]]
        row += [*figures(f.judged, f.sighted, f.sighted_sd, f.implied, f.implied_sd), f.verdict, plain(f.words)]
        if rims:
            guide = None if f.rim is None else f.rim.guide_deg
            row += figures(f.axis_sighted_deg, f.axis_implied_deg, f.minor_px, f.major_px, *(f.centre_px or (None, None)), guide)
        writer.writerow(row)
    return buffer.getvalue().encode("utf-8-sig")


def figures(*values: float | None) -> list[str]:
    return ["" if v is None else f"{v:.3f}" for v in values]


def plain(text: str) -> str:
    """Text that no spreadsheet takes for a formula."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text


def overlay_svg(sheet: SightingSheet, report: Report, picture_jpeg: bytes | None) -> bytes:
    """The sighted and implied lines, eye level and VPs over the picture, in picture pixels. Raises
    ``FormatError`` without a picture.
    """
    if sheet.picture is None:
        raise FormatError("picture: a sheet from life has none to lay anything over")
    width, height = sheet.picture.width_px, sheet.picture.height_px
    thick = max(width, height) / 640
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 {width} {height}"'
        f' width="{width}" height="{height}" font-family="sans-serif" font-size="{9 * thick:.1f}">',
        f"<title>{escape(sheet.title or 'Sighting sheet')}</title>",
    ]
    if picture_jpeg is not None:
        data = base64.b64encode(picture_jpeg).decode()
        parts.append(f'<image width="{width}" height="{height}" preserveAspectRatio="none" xlink:href="data:image/jpeg;base64,{data}"/>')
    level = report.eye_level
    if level.left_y_px is not None and level.right_y_px is not None:
        parts.append(line((0, level.left_y_px), (width, level.right_y_px), "#12343b", thick, "10 4", f"eye level, {level.source}"))
    for v in report.vanishing_points:
        if v.x_px is not None and v.y_px is not None and 0 <= v.x_px <= width and 0 <= v.y_px <= height:
            parts.append(
                f'<circle cx="{v.x_px:.1f}" cy="{v.y_px:.1f}" r="{4 * thick:.1f}" fill="none" stroke="{MARKS[v.family][2]}"'
                f' stroke-width="{thick:.1f}"><title>{escape(point_title(v))}</title></circle>'
            )
    for s, f in zip(sheet.sightings, report.findings, strict=True):
        if isinstance(s, EdgeSighting) and s.p is not None and s.q is not None:
            title = f"{s.name or s.id}: {f.verdict}. {f.words}"
            parts.append(line(s.p, s.q, "#fffdf5", 2.6 * thick, "none", title))
            letter, dash, ink = MARKS[s.family]
            parts.append(line(s.p, s.q, ink, 1.5 * thick, dash, title))
            if f.implied is not None and f.verdict is Verdict.OFF:
                middle = ((s.p[0] + s.q[0]) / 2, (s.p[1] + s.q[1]) / 2)
                half = math.hypot(s.q[0] - s.p[0], s.q[1] - s.p[1]) / 2
                dx, dy = half * math.cos(math.radians(f.implied)), -half * math.sin(math.radians(f.implied))
                parts.append(line((middle[0] - dx, middle[1] - dy), (middle[0] + dx, middle[1] + dy), "#101820", 0.8 * thick, "none", "implied"))
            parts.append(
                f'<text x="{(s.p[0] + s.q[0]) / 2 + 4 * thick:.1f}" y="{(s.p[1] + s.q[1]) / 2 - 3 * thick:.1f}" fill="#101820" stroke="#fffdf5"'
                f' stroke-width="{thick:.1f}" paint-order="stroke">{letter} {escape(f.verdict)}</text>'
            )
        elif isinstance(s, RimSighting) and f.rim is not None:
            title = f"{s.name or s.id}: {f.verdict}. {f.words}"
            parts.append(ring(f.rim.sighted_ellipse, "#fffdf5", 2.6 * thick, title))
            parts.append(ring(f.rim.sighted_ellipse, RIM_INK, 1.5 * thick, title))
            if f.rim.implied_ellipse is not None:
                parts.append(ring(f.rim.implied_ellipse, "#101820", 0.8 * thick, "implied"))
            x, y = f.rim.sighted_ellipse.centre_px
            parts.append(
                f'<text x="{x:.1f}" y="{y:.1f}" text-anchor="middle" fill="#101820" stroke="#fffdf5" stroke-width="{thick:.1f}"'
                f' paint-order="stroke">{f.sighted or 0:.0f}° {escape(f.verdict)}</text>'
            )
    parts.append("</svg>\n")
    return "\n".join(parts).encode()


def ring(ellipse: ReportEllipse, ink: str, width: float, title: str) -> str:
    x, y = ellipse.centre_px
    # the minor axis tilts by axis_deg against the picture's y-down axes; the major lies square to it
    return (
        f'<ellipse cx="{x:.2f}" cy="{y:.2f}" rx="{ellipse.major_px / 2:.2f}" ry="{ellipse.minor_px / 2:.2f}"'
        f' transform="rotate({90 - ellipse.axis_deg:.3f} {x:.2f} {y:.2f})" fill="none" stroke={quoteattr(ink)}'
        f' stroke-width="{width:.2f}"><title>{escape(title)}</title></ellipse>'
    )


def line(p: tuple[float, float], q: tuple[float, float], ink: str, width: float, dash: str, title: str) -> str:
    return (
        f'<line x1="{p[0]:.2f}" y1="{p[1]:.2f}" x2="{q[0]:.2f}" y2="{q[1]:.2f}" stroke={quoteattr(ink)} stroke-width="{width:.2f}"'
        f' stroke-dasharray="{dash}" stroke-linecap="round"><title>{escape(title)}</title></line>'
    )


def point_title(v: ReportVanishingPoint) -> str:
    spread = "" if v.sd_px is None else f" ± {v.sd_px:.0f} px"
    return f"{v.form or 'all'} {v.family} vanishing point{spread}"
