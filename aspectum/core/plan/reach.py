"""Vanishing points from the sheet of paper: how far off, and how to draw towards those out of reach (handbook sections
2, 7a).
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from aspectum.core.plan.placing import Placing
from aspectum.core.plan.subject import Subject, Vanishing
from aspectum.core.plane.lines import tilt_deg
from aspectum.core.sightings import Family, Point

PINNED_MM = 300.0  # a point so far beyond the sheet can be pinned beside the board; common practice
MARK_MM = (5.0, 10.0, 20.0, 50.0)  # steps of an edge scale, on the side where it is wider
MOST_MARKS = 30  # of one edge scale
ROWS = (1.0, 0.5, 0.25, 0.125)  # parts of the near upright at which a tilt table may go up and down
# fewer steps than five along an edge teach no counting; 200 rows are more than any page prints
LEAST_ROWS, MOST_ROWS = 5, 200
LEAST_UNIT_MM = 2.0  # a near upright drawn shorter counts nothing out
ROUNDING = 1e-9  # of a step


@dataclass(frozen=True)
class PointOnPaper:
    """A vanishing point, mm; ``off_mm`` beyond the sheet's nearest ``side``, negative on the sheet. At infinity all
    three are None.
    """

    point: Vanishing
    at: Point | None
    off_mm: float | None
    side: str | None
    sd_mm: float | None

    @property
    def in_reach(self) -> bool:
        return self.off_mm is not None and self.off_mm <= PINNED_MM


@dataclass(frozen=True)
class Mark:
    """Two places on opposite sides of the sheet that a ruler joins, and so aims at the point; ``number`` counts up from
    eye level.
    """

    number: int
    a: Point
    b: Point


@dataclass(frozen=True)
class EdgeScale:
    form: str | None
    family: Family
    slope: str | None
    marks: tuple[Mark, ...]


@dataclass(frozen=True)
class TiltRow:
    """At ``units`` near uprights above eye level, ``y`` down the vertical of the table, edges of the family tilt by
    ``tilt_deg``.
    """

    units: float
    y: float
    tilt_deg: float


@dataclass(frozen=True)
class TiltTable:
    """Tilts of a family up and down the vertical at ``x``; ``fan``: the same lines across the sheet."""

    form: str | None
    family: Family
    slope: str | None
    x: float
    rows: tuple[TiltRow, ...]
    fan: tuple[tuple[Point, Point], ...]


def points_on_paper(placing: Placing, subject: Subject) -> list[PointOnPaper]:
    found = []
    for v in subject.points:
        if v.at is None:
            found.append(PointOnPaper(v, None, None, None, None))
            continue
        x, y = placing.at(v.at)
        off, side = beyond_sheet(x, y, placing.sheet.wide, placing.sheet.high)
        found.append(PointOnPaper(v, (x, y), off, side, None if v.sd is None else v.sd * placing.scale))
    return found


def beyond_sheet(x: float, y: float, wide: float, high: float) -> tuple[float, str]:
    """How far a place lies beyond the sheet's nearest side, negative on it: to the left or right where it is beyond one
    of these.
    """
    across = (-x, "left") if x < wide - x else (x - wide, "right")
    down = (-y, "top") if y < high - y else (y - high, "bottom")
    return across if across[0] >= 0 else max(across, down)


def edge_scales(placing: Placing, points: list[PointOnPaper]) -> list[EdgeScale]:
    """For every point out of reach, marks on the two sides of the sheet that it lies between or beyond."""
    found = []
    for p in points:
        if p.at is None or p.in_reach:
            continue
        marks = marks_towards(placing, p.at, p.side in ("left", "right"))
        if marks:
            found.append(EdgeScale(p.point.form, p.point.family, p.point.slope, tuple(marks)))
    return found


def marks_towards(placing: Placing, at: Point, sideways: bool) -> list[Mark]:
    """Equally numbered marks along two sides: on the far one they stand a round step apart, on the near one all in one
    proportion less.

    The first runs along eye level where there is one on the sheet's sides; else through the middle of the far side.
    """
    sheet = placing.sheet
    wide, high = (sheet.wide, sheet.high) if sideways else (sheet.high, sheet.wide)
    u, v = at if sideways else (at[1], at[0])
    far, near = (wide, 0.0) if u < wide / 2 else (0.0, wide)
    share = (near - u) / (far - u)
    begin = high / 2
    if sideways and placing.eye_level is not None:
        begin = placing.eye_level[0] if far == 0.0 else placing.eye_level[1]
    step = next((s for s in MARK_MM if high / s <= MOST_MARKS), MARK_MM[-1])
    marks = []
    # up the sheet counts positive; only what has both ends on it can be ruled
    for number in steps_between(begin - high, begin, step):
        here = begin - number * step
        there = v + (here - v) * share
        if 0.0 <= here <= high and 0.0 <= there <= high:
            a, b = (far, here), (near, there)
            marks.append(Mark(number, *((a, b) if sideways else ((a[1], a[0]), (b[1], b[0])))))
    return marks


def tilt_tables(placing: Placing, subject: Subject, points: list[PointOnPaper]) -> list[TiltTable]:
    """For every family but the uprights, its tilt at each unit above and below eye level on its form's near upright."""
    if subject.level is None:
        return []
    found = []
    for p in points:
        if p.point.family is Family.UPRIGHT or p.point.slope is not None:
            continue
        near = subject.near_uprights.get(p.point.form or "") or subject.first
        if near is None:
            continue
        x = placing.at(((near.p[0] + near.q[0]) / 2, 0.0))[0]
        level = placing.at((0.0, subject.level.at((x - placing.at_nought[0]) / placing.scale)))[1]
        unit = subject.unit * placing.scale
        if unit < LEAST_UNIT_MM:
            continue
        ends = level - placing.sheet.high, level
        part = next((part for part in ROWS if len(steps_between(*ends, part * unit)) >= LEAST_ROWS), ROWS[-1])
        rows, fan = [], []
        for k in steps_between(*ends, part * unit)[:MOST_ROWS]:
            y = level - k * part * unit
            tilt = tilt_towards(p, (x, y))
            if tilt is None:
                continue
            rows.append(TiltRow(k * part, y, tilt))
            line = across_sheet(placing, (x, y), tilt)
            if line is not None:
                fan.append(line)
        found.append(TiltTable(p.point.form, p.point.family, p.point.slope, x, tuple(rows), tuple(fan)))
    return found


def steps_between(low: float, high: float, step: float) -> range:
    """Whole numbers of steps from ``high`` down to ``low``."""
    return range(math.floor(high / step + ROUNDING), math.ceil(low / step - ROUNDING) - 1, -1)


def tilt_towards(p: PointOnPaper, place: Point) -> float | None:
    if p.at is None:
        return p.point.direction_deg
    if math.dist(p.at, place) < 1e-6:
        return None
    return float(tilt_deg(place, p.at))


def across_sheet(placing: Placing, through: Point, tilt: float) -> tuple[Point, Point] | None:
    """The line through a place at a tilt, cut off at the sheet's sides."""
    wide, high = placing.sheet.wide, placing.sheet.high
    dx, dy = math.cos(math.radians(tilt)), -math.sin(math.radians(tilt))
    low, far = -math.inf, math.inf
    for start, step, limit in ((through[0], dx, wide), (through[1], dy, high)):
        if abs(step) < 1e-12:
            if not 0 <= start <= limit:
                return None
            continue
        ends = sorted(((0.0 - start) / step, (limit - start) / step))
        low, far = max(low, ends[0]), min(far, ends[1])
    if not low < far:
        return None
    return (through[0] + low * dx, through[1] + low * dy), (through[0] + far * dx, through[1] + far * dy)
