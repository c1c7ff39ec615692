"""Each thing's surface, but for buildings, which have a room of their own."""

from __future__ import annotations

import math
from functools import lru_cache
from itertools import pairwise

import numpy as np

from aspectum.core.plane.lines import Flags, Floats
from aspectum.core.sightings import Point
from aspectum.core.stand.buildings import make_building
from aspectum.core.stand.paths import Flat, Path, flat
from aspectum.core.stand.solid import HOME, SAME_M, SIDEWAYS, Frame, Maker, Solid, area, tipped
from aspectum.core.stand.things import (
    AnyThing,
    Box,
    Building,
    Cone,
    Cylinder,
    Figure,
    Hull,
    Levels,
    Outline,
    Ramp,
    Section,
    StandError,
    Tube,
    Turned,
    Wheels,
)

# radii and heights of a standing figure as shares of its height: a skittle with a head an eighth of it (common
# practice)
SKITTLE = Path(
    (
        (0.0, 0.0),
        (0.1, 0.0),
        (0.085, 0.25),
        (0.075, 0.47),
        (0.125, 0.72),
        (0.11, 0.81),
        (0.035, 0.84),
        (0.055, 0.885),
        (0.06, 0.93),
        (0.045, 0.98),
        (0.02, 0.997),
        (0.0, 1.0),
    ),
    (2, 3, 4, 5, 7, 8, 9, 10),
)


@lru_cache(maxsize=1024)
def solid_of(thing: AnyThing, tolerance_m: float) -> Solid:
    """The surface of ``thing`` in its own frame, the middle of its footprint at the origin; curves that are cut into
    pieces keep to ``tolerance_m``.

    Raises ``StandError`` where its measures contradict one another.
    """
    maker = Maker()
    if isinstance(thing, Box):
        _box(maker, thing.size_m)
    elif isinstance(thing, Cylinder):
        _round(maker, thing)
    elif isinstance(thing, Turned):
        _turned(maker, thing, tolerance_m)
    elif isinstance(thing, Building):
        make_building(maker, thing)
    elif isinstance(thing, Outline):
        _outline(maker, thing, tolerance_m)
    elif isinstance(thing, Hull):
        _hull(maker, thing)
    elif isinstance(thing, Wheels):
        _wheels(maker, thing)
    elif isinstance(thing, Figure):
        points = tuple((r * thing.height_m, z * thing.height_m) for r, z in SKITTLE.points)
        maker.turn(flat(Path(points, SKITTLE.smooth), False, tolerance_m), HOME, {1: "foot", 6: "neck"})
    elif isinstance(thing, Ramp):
        width, depth, height = thing.size_m
        side = Flat(np.array([(-depth / 2, 0.0), (depth / 2, 0.0), (depth / 2, height)]), np.ones(3, dtype=bool))
        maker.prism([side], -width / 2, width / 2, SIDEWAYS, ("right", "left", "slope"))
    elif isinstance(thing, Levels):
        _levels(maker, thing)
    elif isinstance(thing, Section):
        raise StandError(thing.id, "a section has no surface of its own")
    return maker.solid()


def _box(maker: Maker, size: tuple[float, float, float]) -> None:
    w, d, h = size[0] / 2, size[1] / 2, size[2]
    foot = np.array([(-w, -d, 0.0), (w, -d, 0.0), (w, d, 0.0), (-w, d, 0.0)])
    top = foot + np.array([0.0, 0.0, h])
    for i, name in enumerate(("front", "right", "back", "left")):
        j = (i + 1) % 4
        maker.face([np.array([foot[i], foot[j], top[j], top[i]])], name)
    maker.face([top], "top")
    maker.face([foot[::-1]], "underside")


def _lathe_place(lean_deg: float, circles: Floats) -> Frame:
    """The frame of a lathe whose axis leans, let down until its lowest circle (radius, height) touches the ground and
    its middle stands over the origin.
    """
    turn = tipped(lean_deg)
    c, s = math.cos(math.radians(lean_deg)), abs(math.sin(math.radians(lean_deg)))
    lowest = float(np.min(circles[:, 1] * c - circles[:, 0] * s))
    middle = (float(circles[:, 1].min()) + float(circles[:, 1].max())) / 2 if lean_deg else 0.0
    return Frame(turn, np.array([-middle * turn[0, 2], 0.0, -lowest]))


def _round(maker: Maker, thing: Cylinder) -> None:
    foot, height = thing.radius_m, thing.height_m
    top = foot
    if isinstance(thing, Cone) or (isinstance(thing, Tube) and thing.top_radius_m is not None):
        top = thing.top_radius_m or 0.0
    corners = [(foot, 0.0), (top, height)]
    names = {0: "base", 1: "top"}
    closed = False
    if isinstance(thing, Tube):
        wall, floor = thing.wall_m, thing.floor_m
        if wall >= min(foot, top):
            raise StandError(f"{thing.id}.wall_m", "the wall leaves no room inside")
        if floor >= height:
            raise StandError(f"{thing.id}.floor_m", "the floor is thicker than the tube is high")
        inner = float(np.interp(floor, [0.0, height], [foot - wall, top - wall]))
        corners += [(top - wall, height), (inner, floor)]
        names |= {2: "mouth", 3: "floor"}
        closed = floor <= 0.0
        if not closed:
            corners = [(0.0, 0.0), *corners, (0.0, floor)]
            names = {i + 1: name for i, name in names.items()}
        else:
            names[3] = "inner base"
    else:
        corners = [(0.0, 0.0), *corners] + ([(0.0, height)] if top > 0.0 else [])
        names = {1: "base", 2: "top"}
    lines = tuple((z, f"band {i + 1}") for i, z in enumerate(thing.bands_m))
    if any(not 0.0 < z < height for z in thing.bands_m):
        raise StandError(f"{thing.id}.bands_m", "a band lies between foot and top")
    profile = Flat(np.array(corners), np.ones(len(corners), dtype=bool))
    maker.turn(profile, _lathe_place(thing.lean_deg, profile.points), names, lines, closed)


def _turned(maker: Maker, thing: Turned, tolerance_m: float) -> None:
    if any(r < 0.0 for r, _ in thing.profile.points):
        raise StandError(f"{thing.id}.profile", "a radius is not negative")
    outside = flat(thing.profile, False, tolerance_m)
    points, corner = outside.points, outside.corner
    if points[0, 0] > SAME_M:
        points, corner = np.vstack([[0.0, points[0, 1]], points]), np.append(True, corner)
    if thing.wall_m is None:
        if points[-1, 0] > SAME_M:
            points, corner = np.vstack([points, [0.0, points[-1, 1]]]), np.append(corner, True)
    else:
        points, corner = _hollowed(thing, points, corner)
    named = [i for i in np.flatnonzero(corner) if points[i, 0] > SAME_M]
    names = {int(i): f"rim {k + 1}" for k, i in enumerate(named)}
    if named:
        names[int(named[0])] = "base"
    maker.turn(Flat(points, corner), _lathe_place(thing.lean_deg, points), names)


def _hollowed(thing: Turned, points: Floats, corner: Flags) -> tuple[Floats, Flags]:
    """The profile led back down inside, its wall measured level, to a floor as thick as the wall."""
    wall = thing.wall_m or 0.0
    floor = float(points[0, 1]) + wall
    mouth_r, mouth_z = points[-1]
    if mouth_r <= wall or mouth_z <= floor:
        raise StandError(f"{thing.id}.wall_m", "the wall leaves no room inside")
    inside: list[Point] = []
    inside_corner: list[bool] = []
    for i in range(len(points) - 1, 0, -1):
        (r, z), (below_r, below_z) = points[i] - (wall, 0.0), points[i - 1] - (wall, 0.0)
        if r <= 0.0:
            raise StandError(f"{thing.id}.wall_m", "the wall closes the form at its narrowest place")
        inside.append((float(r), float(z)))
        inside_corner.append(bool(corner[i]))
        if below_z <= floor:
            share = (z - floor) / (z - below_z)
            at = r + share * (below_r - r)
            if at <= 0.0:
                raise StandError(f"{thing.id}.wall_m", "the wall leaves no room inside")
            inside += [(float(at), floor), (0.0, floor)]
            inside_corner += [True, True]
            break
    return np.vstack([points, inside]), np.append(corner, inside_corner)


def _outline(maker: Maker, thing: Outline, tolerance_m: float) -> None:
    rings = [flat(path, True, tolerance_m) for path in (thing.outline, *thing.holes)]
    if not thing.widths:
        maker.prism(rings, -thing.depth_m / 2, thing.depth_m / 2, HOME)
        return
    if thing.holes:
        raise StandError(f"{thing.id}.holes", "an outline of changing depth has no holes")
    x = rings[0].points[:, 0]
    low, high = float(x.min()), float(x.max())
    at = sorted((low + share * (high - low), width) for share, width in thing.widths)
    places, depths = np.array([a for a, _ in at]), np.array([d for _, d in at])
    strips = [low, *(p for p in places if low + SAME_M < p < high - SAME_M), high]
    ring = _crossed(thing, rings[0], strips[1:-1])

    def lifted(points: Floats, side: float) -> Floats:
        return np.column_stack([points[:, 0], side * np.interp(points[:, 0], places, depths) / 2, points[:, 1]])

    for a, b in pairwise(strips):
        inside = (ring.points[:, 0] >= a - SAME_M) & (ring.points[:, 0] <= b + SAME_M)
        part = ring.points[inside]
        maker.face([lifted(part, -1.0)], "front")
        maker.face([lifted(part, 1.0)[::-1]], "back")
    front, back, n = lifted(ring.points, -1.0), lifted(ring.points, 1.0), len(ring.points)
    for i in range(n):
        j = (i + 1) % n
        maker.face([np.array([front[j], front[i], back[i], back[j]])], "side")
        if not ring.corner[i]:
            maker.soften(front[i], back[i])


def _crossed(thing: Outline, ring: Flat, places: list[float]) -> Flat:
    """The ring, anticlockwise, with a point wherever it crosses one of ``places``; each is crossed twice."""
    points, corner = list(ring.points), list(ring.corner)
    if area(ring.points) < 0:
        points, corner = points[::-1], corner[::-1]
    for place in places:
        met, made, made_corner = 0, [], []
        for i, p in enumerate(points):
            q = points[(i + 1) % len(points)]
            made.append(p)
            made_corner.append(corner[i])
            if abs(p[0] - place) <= SAME_M:
                met += 1
            elif abs(q[0] - place) > SAME_M and (p[0] - place) * (q[0] - place) < 0:
                share = (place - p[0]) / (q[0] - p[0])
                made.append(np.array([place, p[1] + share * (q[1] - p[1])]))
                made_corner.append(True)
                met += 1
        if met != 2:
            raise StandError(
                f"{thing.id}.widths",
                "at a place of given depth the outline is one piece, from its top to its underside",
            )
        points, corner = made, made_corner
    return Flat(np.array(points), np.array(corner))


def _hull(maker: Maker, thing: Hull) -> None:
    stations = sorted(thing.stations)
    if len(stations) < 2:
        raise StandError(f"{thing.id}.stations", "a hull has two cross-sections or more")
    count = len(stations[0][1])
    if count < 2 or any(len(half) != count for _, half in stations):
        raise StandError(f"{thing.id}.stations", "all cross-sections have as many points, two or more")
    middle = (stations[0][0] + stations[-1][0]) / 2
    lowest = min(up for _, half in stations for _, up in half)
    # right and left halves (stations, points, 3); its bow at the far end of x
    half = np.array([[(x - middle, -out, up - lowest) for out, up in points] for x, points in stations])
    other = half * (1.0, -1.0, 1.0)
    for k in range(len(stations) - 1):
        for i in range(count - 1):
            a, b, c, d = half[k, i], half[k + 1, i], half[k + 1, i + 1], half[k, i + 1]
            _triangles(maker, a, b, c, d)
            a, b, c, d = other[k + 1, i], other[k, i], other[k, i + 1], other[k + 1, i + 1]
            _triangles(maker, b, a, d, c, turned=True)
        maker.face([np.array([half[k, -1], half[k + 1, -1], other[k + 1, -1], other[k, -1]])], "deck")
        if stations[k][1][0][0] > 0 or stations[k + 1][1][0][0] > 0:
            maker.face([np.array([other[k, 0], other[k + 1, 0], half[k + 1, 0], half[k, 0]])], "bottom")
    for k, name in ((0, "stern"), (len(stations) - 1, "bow")):
        ring = np.vstack([half[k], other[k][::-1]])
        ring = ring[::-1] if k else ring
        if max(out for out, _ in stations[k][1]) > SAME_M:
            maker.face([ring], name)


def _triangles(maker: Maker, a: Floats, b: Floats, c: Floats, d: Floats, turned: bool = False) -> None:
    """The bent four-sided patch a, b, c, d as two triangles over the soft diagonal from ``a`` to ``c``."""
    for ring in ([a, b, c], [a, c, d]):
        sides = [float(np.linalg.norm(p - q)) for p, q in zip(ring, ring[1:] + ring[:1], strict=True)]
        if min(sides) > SAME_M:
            maker.face([np.array(ring[::-1] if turned else ring)], "planking")
    if np.linalg.norm(a - c) > SAME_M:
        maker.soften(a, c)


def _levels(maker: Maker, thing: Levels) -> None:
    if len(thing.levels) < 2 or any(a[0] > b[0] + SAME_M for a, b in pairwise(thing.levels)):
        raise StandError(f"{thing.id}.levels", "levels rise from the foot, two or more of them")
    rings = [np.array([(x0, y0, z), (x1, y0, z), (x1, y1, z), (x0, y1, z)]) for z, x0, x1, y0, y1 in thing.levels]
    maker.face([rings[0][::-1]], "underside")
    for (below, low), (above, high) in pairwise(zip(thing.levels, rings, strict=True)):
        if above[0] - below[0] > SAME_M:
            for i, name in enumerate(("front", "right", "back", "left")):
                j = (i + 1) % 4
                maker.face([np.array([low[i], low[j], high[j], high[i]])], name)
            continue
        inside = above[1] >= below[1] and above[2] <= below[2] and above[3] >= below[3] and above[4] <= below[4]
        if not inside and not (
            above[1] <= below[1] and above[2] >= below[2] and above[3] <= below[3] and above[4] >= below[4]
        ):
            raise StandError(f"{thing.id}.levels", f"at {below[0]:g} m it narrows one way and widens the other")
        outer, inner = (low, high) if inside else (high, low)
        _ledge(maker, outer, inner, up=inside)
    if thing.levels[-1][2] - thing.levels[-1][1] > SAME_M and thing.levels[-1][4] - thing.levels[-1][3] > SAME_M:
        maker.face([rings[-1]], "top")
    maker.mend()


def _ledge(maker: Maker, outer: Floats, inner: Floats, up: bool) -> None:
    """What a level rectangle leaves of a larger one, as strips along its sides: front and back over the whole width,
    left and right between them.
    """
    (x0, y0, z), (x1, y1, _) = outer[0], outer[2]
    (a0, b0, _), (a1, b1, _) = inner[0], inner[2]
    for left, right, near, far in ((x0, x1, y0, b0), (x0, x1, b1, y1), (x0, a0, b0, b1), (a1, x1, b0, b1)):
        if right - left > SAME_M and far - near > SAME_M:
            ring = np.array([(left, near, z), (right, near, z), (right, far, z), (left, far, z)])
            maker.face([ring if up else ring[::-1]], "ledge")


def _wheels(maker: Maker, thing: Wheels) -> None:
    if thing.width_m >= thing.gauge_m or thing.axle_radius_m >= thing.radius_m:
        raise StandError(thing.id, "the wheels leave no room for their axle")
    outer, inner = (thing.gauge_m + thing.width_m) / 2, (thing.gauge_m - thing.width_m) / 2
    r, a = thing.radius_m, thing.axle_radius_m
    corners = np.array(
        [(0.0, -outer), (r, -outer), (r, -inner), (a, -inner), (a, inner), (r, inner), (r, outer), (0.0, outer)]
    )
    names = {1: "first wheel, outside", 2: "first wheel, inside", 5: "second wheel, inside", 6: "second wheel, outside"}
    maker.turn(Flat(corners, np.ones(len(corners), dtype=bool)), Frame(tipped(90.0), np.array([0.0, 0.0, r])), names)
