"""What is to be drawn, in one plain shape whether it was sighted on a photo or read from life.

Coordinates are the subject's own: pixels of a picture, or near-upright units of a card; x right, y down. Nothing here
knows of paper.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from enum import StrEnum

from aspectum.core.findings import CheckResult, EyeLevel
from aspectum.core.life.near_corner import NearCorner
from aspectum.core.life.readings import RimReading
from aspectum.core.life.schematic import Schematic
from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.sightings import Edge, Family, Kind, Measured, Point, Rim, Setup, Side
from aspectum.core.tolerance import Verdict
from aspectum.core.view.lens import cone_radius

NO_FORM = ""
FAMILY_OF = {Side.LEFT: Family.LEFT, Side.RIGHT: Family.RIGHT}


class Unit(StrEnum):
    """What the subject's coordinates are counted in."""

    PIXELS = "px"
    NEAR_UPRIGHTS = "unit"


@dataclass(frozen=True)
class Line:
    """An edge or a height to be drawn; ``p`` of an upright is its top, of a receding edge its near end where that is
    known.
    """

    form: str
    family: Family | None
    p: Point
    q: Point
    sighting: str | None = None
    verdict: Verdict | None = None

    @property
    def long(self) -> float:
        return math.dist(self.p, self.q)


@dataclass(frozen=True)
class RoundRim:
    sighting: str
    form: str
    ellipse: Ellipse
    verdict: Verdict | None = None


@dataclass(frozen=True)
class Vanishing:
    """A vanishing point; at infinity ``at`` is None and ``direction_deg`` its tilt. ``sd``: along eye level."""

    form: str | None
    family: Family
    slope: str | None
    at: Point | None
    direction_deg: float | None
    sd: float | None


@dataclass(frozen=True)
class Level:
    """Eye level: its height at x = 0, and by how much it falls for every step to the right."""

    at_nought: float
    slope: float
    sd: float | None

    def at(self, x: float) -> float:
        return self.at_nought + self.slope * x


@dataclass(frozen=True)
class Subject:
    """``near_uprights``: of each form that has one, the nearest form's first; ``extent``: left, top, right, bottom of
    all that is drawn; ``centre`` and ``cone``: centre of vision, and the radius round it within which nothing
    stretches.
    """

    counted_in: Unit
    near_uprights: dict[str, Line]
    lines: list[Line]
    rims: list[RoundRim]
    points: list[Vanishing]
    level: Level | None
    extent: tuple[float, float, float, float]
    centre: Point | None = None
    cone: float | None = None
    unit: float = 1.0
    open_sides: tuple[Side, ...] = field(default=())

    @property
    def ends(self) -> list[Point]:
        """Places of everything that is drawn, as far out as it goes."""
        return ends_of(self.lines, self.rims)

    @property
    def first(self) -> Line | None:
        return next(iter(self.near_uprights.values()), None)


class NoPlan(ValueError):
    """What is sighted, or the sheet of paper, leaves nothing to plan; the message says what to do."""


def subject_of_picture(
    setup: Setup, edges: list[Edge], rims: list[Rim], measured: Measured, result: CheckResult
) -> Subject:
    """The subject sighted on a photo, as it was laid. Raises ``NoPlan`` where nothing was."""
    verdicts = {f.sighting: f.verdict for f in result.findings}
    uprights = {e.id: upright_of(e, verdicts.get(e.id)) for e in edges if e.family is Family.UPRIGHT}
    near: dict[str, Line] = {}
    for line in uprights.values():
        if line.form not in near or line.long > near[line.form].long:
            near[line.form] = line
    near = dict(sorted(near.items(), key=lambda item: -item[1].long))
    lines = []
    for e in edges:
        line = uprights.get(e.id) or Line(e.form, e.family, e.p, e.q, e.id, verdicts.get(e.id))
        lines.append(line if e.id in uprights else from_near_end(line, near.get(e.form)))
    lines += [Line(NO_FORM, None, h.top, h.foot, h.id, verdicts.get(h.id)) for h in measured.heights]
    form_of = {r.id: r.form for r in rims}
    shown = [
        RoundRim(f.sighting, form_of[f.sighting], f.rim.sighted_ellipse, f.verdict)
        for f in result.findings
        if f.rim is not None
    ]
    points = [
        Vanishing(
            v.form,
            v.family,
            v.slope,
            None if v.x_px is None or v.y_px is None else (v.x_px, v.y_px),
            v.direction_deg,
            v.sd_px,
        )
        for v in result.vanishing_points
    ]
    corners = [c for face in measured.faces for c in face.corners] + [p for m in measured.lengths for p in (m.p, m.q)]
    extent = extent_of(lines, shown, corners)
    focal = None if result.camera is None else result.camera.focal_px
    first = next(iter(near.values()), None)
    return Subject(
        Unit.PIXELS,
        near,
        lines,
        shown,
        points,
        level_of(result.eye_level, setup.width_px),
        extent,
        setup.centre,
        None if focal is None else cone_radius(focal),
        first.long if first is not None else extent[3] - extent[1],
    )


def level_of(level: EyeLevel, width_px: float) -> Level | None:
    if level.left_y_px is None or level.right_y_px is None:
        return None
    return Level(level.left_y_px, (level.right_y_px - level.left_y_px) / width_px, level.sd_px)


def upright_of(e: Edge, verdict: Verdict | None) -> Line:
    top, foot = (e.p, e.q) if e.p[1] <= e.q[1] else (e.q, e.p)
    return Line(e.form, Family.UPRIGHT, top, foot, e.id, verdict)


def from_near_end(line: Line, near: Line | None) -> Line:
    """The same line, begun at the end that lies nearer to the near upright."""
    if near is None:
        return line
    away = [min(math.dist(end, near.p), math.dist(end, near.q)) for end in (line.p, line.q)]
    return line if away[0] <= away[1] else Line(line.form, line.family, line.q, line.p, line.sighting, line.verdict)


def ends_of(lines: list[Line], rims: list[RoundRim]) -> list[Point]:
    """Both ends of every line, and the four sides of every rim."""
    ends = [end for line in lines for end in (line.p, line.q)]
    for rim in rims:
        (x, y), half = rim.ellipse.centre_px, halves_of(rim.ellipse)
        ends += [(x - half[0], y), (x + half[0], y), (x, y - half[1]), (x, y + half[1])]
    return ends


def extent_of(lines: list[Line], rims: list[RoundRim], points: list[Point]) -> tuple[float, float, float, float]:
    """Left, top, right and bottom of everything. Raises ``NoPlan`` where there is nothing, or all of it in
    one place.
    """
    corners = ends_of(lines, rims) + list(points)
    if not corners:
        raise NoPlan("Nothing is sighted on this sheet yet: sight the subject first, then plan the paper.")
    xs, ys = [x for x, _ in corners], [y for _, y in corners]
    extent = min(xs), min(ys), max(xs), max(ys)
    if not max(extent[2] - extent[0], extent[3] - extent[1]) > 0:
        raise NoPlan("All that is sighted lies in one place.")
    return extent


def halves_of(ellipse: Ellipse) -> tuple[float, float]:
    """Half the width and half the height that a turned ellipse takes up: of axes a, b turned by t, (a² cos² t + b² sin²
    t)^½ and so on.
    """
    a, b = ellipse.major_px / 2, ellipse.minor_px / 2
    turn = math.radians(ellipse.axis_deg)  # of the minor axis, from level
    return math.hypot(a * math.sin(turn), b * math.cos(turn)), math.hypot(a * math.cos(turn), b * math.sin(turn))


def subject_of_card(drawn: Schematic, card: NearCorner, rims: list[RimReading]) -> Subject:
    """The subject read from life, put together so that it closes: eye level and the vanishing points are the card's,
    and every edge runs to its own; a side whose width nobody compared is left open. Raises ``NoPlan`` where the card
    has no eye level yet.
    """
    if card.eye_level is None:
        raise NoPlan("The card gives no eye level yet: read the top and the bottom edge of one side at least.")
    lines: list[Line] = []
    near: dict[str, Line] = {}
    open_sides: list[Side] = []
    points = [
        Vanishing(p.form, FAMILY_OF[p.side], None, p.at, None, spread_of(p.near_x, p.far_x)) for p in drawn.points
    ]
    towards = {(p.form, p.family): p.at for p in points}
    for line in drawn.lines:
        if line.side is None:
            if line.known:
                near[line.form] = Line(line.form, Family.UPRIGHT, line.p, line.q)
                lines.append(near[line.form])
            continue
        point = towards.get((line.form, FAMILY_OF[line.side]))
        if line.form not in near or point is None:
            continue
        if not line.known:
            open_sides.append(line.side)
            continue
        top, foot = near[line.form].p, near[line.form].q
        share = (line.p[0] - top[0]) / (point[0] - top[0])
        if not 0 < share < 1:
            continue
        ends = [(line.p[0], y + share * (point[1] - y)) for y in (top[1], foot[1])]
        family = FAMILY_OF[line.side]
        lines += [
            Line(line.form, family, top, ends[0]),
            Line(line.form, family, foot, ends[1]),
            Line(line.form, Family.UPRIGHT, ends[0], ends[1]),
        ]
        lines += [
            Line(line.form, family, slot.p, (line.p[0], slot.p[1] + share * (point[1] - slot.p[1])), slot.sighting)
            for slot in drawn.slots
            if slot.form == line.form
            and slot.side is line.side
            and slot.kind is Kind.EDGE
            and slot.end not in (0.0, 1.0)
        ]
    placed = {r.id: r for r in rims if r.down is not None}
    shown = [
        RoundRim(
            r.sighting,
            placed[r.sighting].form or NO_FORM,
            Ellipse(r.centre, r.major, r.minor, 90.0, placed[r.sighting].drawn_degree_deg),
        )
        for r in drawn.rims
        if r.sighting in placed
    ]
    focal = card.focal
    level = Level(card.eye_level, 0.0, card.eye_level_sd)
    extent = extent_of(lines, shown, [])
    cone = None if focal is None else cone_radius(focal)
    return Subject(
        Unit.NEAR_UPRIGHTS,
        near,
        lines,
        shown,
        points,
        level,
        extent,
        (0.0, card.eye_level),
        cone,
        1.0,
        tuple(dict.fromkeys(open_sides)),
    )


def spread_of(near_x: float | None, far_x: float | None) -> float | None:
    """One standard deviation from a 95 % interval; None where that has no end."""
    return None if near_x is None or far_x is None else abs(far_x - near_x) / (2 * 1.96)
