"""Buildings: walls with their openings, roofs, steps and a chimney."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from aspectum.core.plane.lines import Floats
from aspectum.core.stand.kinds import RoofKind, Wall
from aspectum.core.stand.paths import Flat
from aspectum.core.stand.solid import SAME_M, SIDEWAYS, Frame, Maker
from aspectum.core.stand.things import Building, Chimney, Flight, Opening, StandError

ROOF_SHARE = 0.04  # thickness of a roof that stands out over its walls, as a share of their height
WALLS = (Wall.FRONT, Wall.RIGHT, Wall.BACK, Wall.LEFT)


@dataclass(frozen=True)
class Plan:
    """A building's measures as its parts need them. ``planes``: the roof's upper surface is the least of z = a x + b y
    + c over these rows (n, 3).
    """

    width: float
    depth: float
    height: float
    rise: float
    eaves: float
    thick: float
    planes: Floats

    @property
    def ridge(self) -> float:
        """Height of the roof's highest place."""
        return self.height + self.rise + self.thick

    def length(self, wall: Wall) -> float:
        return self.width if wall in (Wall.FRONT, Wall.BACK) else self.depth

    def frame(self, wall: Wall) -> Frame:
        """x along the wall from its left seen from outside, y into the building, z up."""
        i = WALLS.index(wall)
        w, d = self.width / 2, self.depth / 2
        corner = [(-w, -d), (w, -d), (w, d), (-w, d)][i]
        along = np.array([(1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (-1.0, 0.0, 0.0), (0.0, -1.0, 0.0)][i])
        inward = np.array([-along[1], along[0], 0.0])
        return Frame(np.column_stack([along, inward, [0.0, 0.0, 1.0]]), np.array([*corner, 0.0]))

    def roof(self, x: float, y: float) -> float:
        return float(np.min(self.planes @ (x, y, 1.0)))


def make_building(maker: Maker, thing: Building) -> None:
    """Walls, roof, steps and chimney. Raises ``StandError`` for an opening beside or above its wall, and for parts that
    meet.
    """
    plan = _plan(thing)
    tops = _wall_tops(thing, plan)
    for wall in WALLS:
        openings = [(i, o) for i, o in enumerate(thing.openings) if o.wall is wall]
        _wall(maker, thing, plan, wall, tops[wall], openings)
    w, d = plan.width / 2, plan.depth / 2
    foot = np.array([(-w, -d, 0.0), (-w, d, 0.0), (w, d, 0.0), (w, -d, 0.0)])
    maker.face([foot], "underside")
    _roof(maker, thing, plan, tops)
    for i, flight in enumerate(thing.flights):
        _flight(maker, thing, plan, i, flight)
    if thing.chimney is not None:
        _chimney(maker, thing, plan, thing.chimney)


def _plan(thing: Building) -> Plan:
    width, depth, height = thing.size_m
    rise = 0.0 if thing.roof is RoofKind.FLAT else thing.rise_m
    eaves = thing.eaves_m
    thick = ROOF_SHARE * height if eaves > 0 and thing.roof is not RoofKind.HIPPED else 0.0
    top = height + rise + thick
    if thing.roof is RoofKind.GABLED:
        m = 2 * rise / depth
        planes = [(0.0, m, top), (0.0, -m, top)]
    elif thing.roof is RoofKind.PENT:
        planes = [(0.0, rise / depth, height + thick + rise / 2)]
    elif thing.roof is RoofKind.HIPPED:
        m = 2 * rise / min(width, depth)
        side, end = height + m * depth / 2, height + m * width / 2
        planes = [(0.0, m, side), (0.0, -m, side), (m, 0.0, end), (-m, 0.0, end)]
        if m * eaves >= height:
            raise StandError(f"{thing.id}.eaves_m", "the eaves reach the ground")
        height -= m * eaves  # the walls end under the soffit
    else:
        planes = [(0.0, 0.0, top)]
    return Plan(width, depth, height, thing.size_m[2] + rise - height, eaves, thick, np.array(planes))


def _wall_tops(thing: Building, plan: Plan) -> dict[Wall, list[tuple[float, float]]]:
    """Each wall's upper boundary from right to left seen from outside, as (along, height)."""
    w, d, h = plan.width, plan.depth, plan.height
    level = {wall: [(plan.length(wall), h), (0.0, h)] for wall in WALLS}
    if thing.roof is RoofKind.GABLED:
        level[Wall.RIGHT] = level[Wall.LEFT] = [(d, h), (d / 2, h + plan.rise), (0.0, h)]
    elif thing.roof is RoofKind.PENT:
        level[Wall.RIGHT] = [(d, h + plan.rise), (0.0, h)]
        level[Wall.LEFT] = [(d, h), (0.0, h + plan.rise)]
        level[Wall.BACK] = [(w, h + plan.rise), (0.0, h + plan.rise)]
    return level


def _wall(
    maker: Maker,
    thing: Building,
    plan: Plan,
    wall: Wall,
    top: list[tuple[float, float]],
    openings: list[tuple[int, Opening]],
) -> None:
    frame, length = plan.frame(wall), plan.length(wall)
    # seen from outside x runs right and z up, and the outside is anticlockwise
    rings = [frame.points(np.array([(0.0, 0.0, 0.0), (length, 0.0, 0.0), *((a, 0.0, z) for a, z in top)]))]
    taken: list[Opening] = []
    for i, o in openings:
        place = f"{thing.id}.openings[{i}]"
        reach = min(_height_at(top, a) for a in (o.from_left_m, o.from_left_m + o.width_m))
        if o.from_left_m < 0 or o.from_left_m + o.width_m > length or o.sill_m < 0 or o.sill_m + o.height_m > reach:
            raise StandError(place, f"the opening reaches beyond the {wall} wall")
        if any(_meet(o, other) for other in taken):
            raise StandError(place, "two openings meet")
        taken.append(o)
        left, right, low, high = o.from_left_m, o.from_left_m + o.width_m, o.sill_m, o.sill_m + o.height_m
        hole = np.array([(left, 0.0, low), (left, 0.0, high), (right, 0.0, high), (right, 0.0, low)])
        outer, inner = frame.points(hole), frame.points(hole + np.array([0.0, o.reveal_m, 0.0]))
        rings.append(outer)
        for j in range(4):
            k = (j + 1) % 4
            if o.reveal_m > SAME_M:
                maker.face([np.array([outer[k], outer[j], inner[j], inner[k]])], "reveal")
            maker.name_edge(outer[j], outer[k], f"opening {i + 1}, " + ("left", "head", "right", "sill")[j])
        maker.face([inner[::-1]], "pane")
    maker.face(rings, f"{wall} wall")


def _height_at(top: list[tuple[float, float]], along: float) -> float:
    line = sorted(top)
    return float(np.interp(along, [a for a, _ in line], [z for _, z in line]))


def _meet(a: Opening, b: Opening) -> bool:
    across = min(a.from_left_m + a.width_m, b.from_left_m + b.width_m) - max(a.from_left_m, b.from_left_m)
    up = min(a.sill_m + a.height_m, b.sill_m + b.height_m) - max(a.sill_m, b.sill_m)
    return across > -SAME_M and up > -SAME_M


def _roof(maker: Maker, thing: Building, plan: Plan, tops: dict[Wall, list[tuple[float, float]]]) -> None:
    if thing.roof is RoofKind.HIPPED:
        _hipped(maker, plan)
        return
    # the body is closed under the roof, along the walls' tops
    w, d = plan.width / 2, plan.depth / 2
    line = sorted(tops[Wall.RIGHT])
    for (a, za), (b, zb) in pairwise(line):
        maker.face([np.array([(-w, a - d, za), (w, a - d, za), (w, b - d, zb), (-w, b - d, zb)])], "roof")
    if not plan.eaves:
        return
    e, t = plan.eaves, plan.thick
    under = [
        (y, plan.roof(0.0, y) - t) for y in ((-d - e, 0.0, d + e) if thing.roof is RoofKind.GABLED else (-d - e, d + e))
    ]
    ring = np.array([*under, *((y, z + t) for y, z in under[::-1])])
    maker.prism(
        [Flat(ring, np.ones(len(ring), dtype=bool))], -w - e, w + e, SIDEWAYS, ("right verge", "left verge", "roof")
    )
    if thing.roof is RoofKind.GABLED:
        maker.name_edge(np.array((-w - e, 0.0, plan.ridge)), np.array((w + e, 0.0, plan.ridge)), "ridge")


def _hipped(maker: Maker, plan: Plan) -> None:
    w, d = plan.width / 2 + plan.eaves, plan.depth / 2 + plan.eaves
    foot = np.array([(-w, -d, plan.height), (w, -d, plan.height), (w, d, plan.height), (-w, d, plan.height)])
    maker.face([foot[::-1]], "soffit")
    half = abs(w - d)
    along_x = w >= d
    left = np.array((-half if along_x else 0.0, 0.0 if along_x else -half, plan.ridge))
    right = np.array((half if along_x else 0.0, 0.0 if along_x else half, plan.ridge))
    if along_x:
        rings = [
            [foot[0], foot[1], right, left],
            [foot[1], foot[2], right],
            [foot[2], foot[3], left, right],
            [foot[3], foot[0], left],
        ]
    else:
        rings = [
            [foot[0], foot[1], left],
            [foot[1], foot[2], right, left],
            [foot[2], foot[3], right],
            [foot[3], foot[0], left, right],
        ]
    for ring in rings:
        maker.face([np.array(ring)], "roof")
    if half > SAME_M:
        maker.name_edge(left, right, "ridge")


def _flight(maker: Maker, thing: Building, plan: Plan, i: int, flight: Flight) -> None:
    place = f"{thing.id}.flights[{i}]"
    frame, length = plan.frame(flight.wall), plan.length(flight.wall)
    left = flight.from_left_m - flight.width_m / 2
    if left < 0 or left + flight.width_m > length:
        raise StandError(place, f"the steps reach beyond the {flight.wall} wall")
    if flight.count * flight.rise_m > plan.height:
        raise StandError(place, "the steps climb over the wall")
    n, going, rise = flight.count, flight.going_m, flight.rise_m
    ring = [(0.0, 0.0), (n * going, 0.0)]
    for k in range(n):
        ring += [((n - k) * going, (k + 1) * rise), ((n - k - 1) * going, (k + 1) * rise)]
    along, inward, up = frame.turn.T
    out = Frame(np.column_stack([-inward, along, up]), frame.at + along * left)
    maker.prism(
        [Flat(np.array(ring), np.ones(len(ring), dtype=bool))], 0.0, flight.width_m, out, ("step", "step", "step")
    )


def _chimney(maker: Maker, thing: Building, plan: Plan, chimney: Chimney) -> None:
    (x, y), (w, d) = chimney.at_m, chimney.size_m
    if abs(x) + w / 2 > plan.width / 2 or abs(y) + d / 2 > plan.depth / 2:
        raise StandError(f"{thing.id}.chimney.at_m", "the chimney stands beside the house")
    top = plan.ridge + chimney.above_m
    corners = [(x - w / 2, y - d / 2), (x + w / 2, y - d / 2), (x + w / 2, y + d / 2), (x - w / 2, y + d / 2)]
    for i in range(4):
        a, b = corners[i], corners[(i + 1) % 4]
        foot = [(*p, plan.roof(*p)) for p in _along_roof(plan, a, b)]
        maker.face([np.array([*foot, (*b, top), (*a, top)])], "chimney")
    maker.face([np.array([(*p, top) for p in corners])], "chimney")


def _along_roof(plan: Plan, a: tuple[float, float], b: tuple[float, float]) -> list[tuple[float, float]]:
    """``a``, ``b`` and the places between them where the roof bends: where two of its planes are equal and least."""
    shares = {0.0, 1.0}
    at_a, at_b = plan.planes @ (*a, 1.0), plan.planes @ (*b, 1.0)
    for i in range(len(at_a)):
        for j in range(i):
            before, after = at_a[i] - at_a[j], at_b[i] - at_b[j]
            if before * after < 0:
                share = before / (before - after)
                here = at_a + share * (at_b - at_a)
                if math.isclose(here[i], here.min(), abs_tol=1e-9):
                    shares.add(float(share))
    return [(a[0] + s * (b[0] - a[0]), a[1] + s * (b[1] - a[1])) for s in sorted(shares)]
