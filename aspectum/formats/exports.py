"""Findings as CSV and the overlay as SVG over its picture."""

from __future__ import annotations

import base64
import csv
import io
import math
from xml.sax.saxutils import escape, quoteattr

from aspectum.core.sightings import Family, Guide, Kind, Point
from aspectum.core.tolerance import Verdict
from aspectum.formats.reading import FormatError
from aspectum.formats.report import Report, ReportEllipse, ReportVanishingPoint
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import (
    AlignmentSighting,
    AnySighting,
    DivisionSighting,
    EdgeSighting,
    FaceSighting,
    HeightSighting,
    LengthSighting,
    RimSighting,
)
from aspectum.language import figure, say

# letter, dash and ink of each family, as the interface draws them
MARKS = {
    Family.LEFT: ("L", "14 6", "#8a5a12"),
    Family.RIGHT: ("R", "none", "#0f6e6e"),
    Family.UPRIGHT: ("U", "2 5", "#6d3a6b"),
    Family.DEPTH: ("D", "12 4 2 4", "#44566b"),
    Family.ACROSS: ("A", "12 4 2 4", "#44566b"),
    Family.SLOPE: ("S", "6 5", "#4d6b2c"),
}
LETTER = {family: letter for family, (letter, _, _) in MARKS.items()}

COLUMNS = (
    "sighting",
    "name",
    "kind",
    "form",
    "family",
    "unit",
    "judged",
    "sighted",
    "sighted_sd",
    "implied",
    "implied_sd",
    "verdict",
    "words",
)
RIM_COLUMNS = (
    "axis_sighted_deg",
    "axis_implied_deg",
    "minor_px",
    "major_px",
    "centre_x_px",
    "centre_y_px",
    "guide_deg",
)
FORM_COLUMNS = ("form", "name", "family", "unit", "size", "size_sd", "size_m", "size_sd_m", "why_not")
UNITS = {
    Kind.EDGE: "degrees tilt",
    Kind.RIM: "degrees",
    Kind.LENGTH: "ratio",
    Kind.ALIGNMENT: "pixels",
    Kind.FACE: "",
    Kind.DIVISION: "part",
    Kind.HEIGHT: "metres",
}
RIM_INK, MEASURE_INK, THIN_INK = "#7a3b2e", "#12343b", "#101820"


def findings_csv(sheet: SightingSheet, report: Report) -> bytes:
    """One row a sighting, in order, UTF-8 with a byte-order mark so that spreadsheets read it."""
    buffer = io.StringIO()
    writer = csv.writer(buffer)
    rims = any(isinstance(s, RimSighting) for s in sheet.accepted)
    writer.writerow((*COLUMNS, *(RIM_COLUMNS if rims else ())))
    for s, f in zip(sheet.accepted, report.findings, strict=True):
        family = s.family if isinstance(s, EdgeSighting) else s.plane if isinstance(s, RimSighting) else ""
        row = [plain(s.id), plain(s.name or ""), s.kind, plain(s.form or ""), family, unit_of(s)]
        row += [*figures(f.judged, f.sighted, f.sighted_sd, f.implied, f.implied_sd), f.verdict, plain(f.words)]
        if rims:
            guide = None if f.rim is None else f.rim.guide_deg
            row += figures(
                f.axis_sighted_deg, f.axis_implied_deg, f.minor_px, f.major_px, *(f.centre_px or (None, None)), guide
            )
        writer.writerow(row)
    return buffer.getvalue().encode("utf-8-sig")


def unit_of(s: AnySighting) -> str:
    """What a sighting's figures count."""
    return UNITS[Kind.EDGE] if isinstance(s, AlignmentSighting) and s.along is Guide.TILT else UNITS[s.kind]


def forms_csv(sheet: SightingSheet, report: Report) -> bytes:
    """The true proportions of all forms, a row a side."""
    buffer = io.StringIO()
    writer = csv.writer(buffer)
    writer.writerow(FORM_COLUMNS)
    called = {form.id: form.name or "" for form in sheet.forms}
    for form in report.forms:
        for family, size in form.size.items():
            metres, metres_sd = (form.size_m or {}).get(family), (form.size_sd_m or {}).get(family)
            row = [plain(form.form), plain(called.get(form.form, "")), family, form.unit or ""]
            writer.writerow(
                [*row, *figures(size, form.size_sd[family], metres, metres_sd), form.why_not.get(family, "")]
            )
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
        raise FormatError(say("picture: a sheet from life has none to lay anything over"))
    width, height = sheet.picture.width_px, sheet.picture.height_px
    thick = max(width, height) / 640
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 {width} '
        f'{height}"'
        f' width="{width}" height="{height}" font-family="sans-serif" font-size="{9 * thick:.1f}">',
        f"<title>{escape(sheet.title or say('Sighting sheet'))}</title>",
    ]
    if picture_jpeg is not None:
        data = base64.b64encode(picture_jpeg).decode()
        parts.append(
            f'<image width="{width}" height="{height}" preserveAspectRatio="none" '
            f'xlink:href="data:image/jpeg;base64,{data}"/>'
        )
    level = report.eye_level
    if level.left_y_px is not None and level.right_y_px is not None:
        parts.append(
            line(
                (0, level.left_y_px), (width, level.right_y_px), "#12343b", thick, "10 4", f"eye level, {level.source}"
            )
        )
    for v in report.vanishing_points:
        if v.x_px is not None and v.y_px is not None and 0 <= v.x_px <= width and 0 <= v.y_px <= height:
            parts.append(
                f'<circle cx="{v.x_px:.1f}" cy="{v.y_px:.1f}" r="{4 * thick:.1f}" fill="none" '
                f'stroke="{MARKS[v.family][2]}"'
                f' stroke-width="{thick:.1f}"><title>{escape(point_title(v))}</title></circle>'
            )
    for s, f in zip(sheet.accepted, report.findings, strict=True):
        if isinstance(s, EdgeSighting) and s.p is not None and s.q is not None:
            title = f"{s.name or s.id}: {f.verdict}. {f.words}"
            parts.append(line(s.p, s.q, "#fffdf5", 2.6 * thick, "none", title))
            letter, dash, ink = MARKS[s.family]
            parts.append(line(s.p, s.q, ink, 1.5 * thick, dash, title))
            if f.implied is not None and f.verdict is Verdict.OFF:
                middle = ((s.p[0] + s.q[0]) / 2, (s.p[1] + s.q[1]) / 2)
                half = math.hypot(s.q[0] - s.p[0], s.q[1] - s.p[1]) / 2
                dx, dy = half * math.cos(math.radians(f.implied)), -half * math.sin(math.radians(f.implied))
                parts.append(
                    line(
                        (middle[0] - dx, middle[1] - dy),
                        (middle[0] + dx, middle[1] + dy),
                        "#101820",
                        0.8 * thick,
                        "none",
                        "implied",
                    )
                )
            parts.append(
                f'<text x="{(s.p[0] + s.q[0]) / 2 + 4 * thick:.1f}" y="{(s.p[1] + s.q[1]) / 2 - 3 * thick:.1f}" '
                'fill="#101820" stroke="#fffdf5"'
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
                f'<text x="{x:.1f}" y="{y:.1f}" text-anchor="middle" fill="#101820" stroke="#fffdf5" '
                f'stroke-width="{thick:.1f}"'
                f' paint-order="stroke">{f.sighted or 0:.0f}° {escape(f.verdict)}</text>'
            )
        else:
            parts += measured_marks(s, f.part_line_px, f"{s.name or s.id}: {f.verdict}. {f.words}", thick)
    parts.append("</svg>\n")
    return "\n".join(parts).encode()


def measured_marks(s: AnySighting, part_line: tuple[Point, Point] | None, title: str, thick: float) -> list[str]:
    """What is measured: a length or a height between end ticks, a guide, a face with its diagonals, a part across its
    face.
    """
    if isinstance(s, FaceSighting):
        sides = [line(s.corners[k - 1], s.corners[k], MEASURE_INK, thick, "none", title) for k in range(4)]
        return sides + [line(s.corners[k], s.corners[k + 2], THIN_INK, 0.5 * thick, "none", "diagonal") for k in (0, 1)]
    if isinstance(s, DivisionSighting):
        if part_line is None:
            return []
        x, y = s.point
        dot = (
            f'<circle cx="{x:.2f}" cy="{y:.2f}" r="{2 * thick:.2f}" '
            f'fill="{MEASURE_INK}"><title>{escape(title)}</title></circle>'
        )
        return [line(*part_line, MEASURE_INK, thick, "4 3", title), dot]
    if isinstance(s, HeightSighting):
        p, q = s.foot, s.top
    elif isinstance(s, (AlignmentSighting, LengthSighting)) and s.p is not None and s.q is not None:
        p, q = s.p, s.q
    else:
        return []
    if isinstance(s, AlignmentSighting):
        return [line(p, q, MEASURE_INK, thick, "2 4", title)]
    reach = max(math.hypot(q[0] - p[0], q[1] - p[1]), 1e-9)
    across = (-(q[1] - p[1]) / reach * 4 * thick, (q[0] - p[0]) / reach * 4 * thick)
    ticks = [
        line((x - across[0], y - across[1]), (x + across[0], y + across[1]), MEASURE_INK, thick, "none", title)
        for x, y in (p, q)
    ]
    return [line(p, q, "#fffdf5", 2.2 * thick, "none", title), line(p, q, MEASURE_INK, thick, "none", title), *ticks]


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
        f'<line x1="{p[0]:.2f}" y1="{p[1]:.2f}" x2="{q[0]:.2f}" y2="{q[1]:.2f}" stroke={quoteattr(ink)} '
        f'stroke-width="{width:.2f}"'
        f' stroke-dasharray="{dash}" stroke-linecap="round"><title>{escape(title)}</title></line>'
    )


def point_title(v: ReportVanishingPoint) -> str:
    spread = "" if v.sd_px is None else say(" ± {sd_px} px", sd_px=figure(v.sd_px, 0))
    return say("{form} {family} vanishing point{spread}", form=v.form or say("all"), family=v.family, spread=spread)
