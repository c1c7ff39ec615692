"""A thing from its plan and elevations: typed sizes, and outlines drawn on its front and its side.

An outline drawn on one of them is carried through the other. Drawn on both, the thing is what lies inside both at once:
at every height a rectangle, as wide as the front is there and as deep as the side. A half profile is turned about the
centre line.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction

import numpy as np

from aspectum.core.plane.lines import Floats
from aspectum.core.sightings import Point
from aspectum.core.stand.paths import Path
from aspectum.core.stand.solid import about_z, area
from aspectum.core.stand.things import AnyThing, Box, Levels, Outline, StandError, Turned

FIT_M = 1e-6  # by which an outline's extent may miss the typed sizes
DIVISIONS = {"halves": 2, "thirds": 3, "quarters": 4}


@dataclass(frozen=True)
class Elevations:
    """``size_m`` width, depth and height. ``front`` (x, z) and ``side`` (y, z): closed outlines about the middle, from
    the ground up; None: the full rectangle. ``holes`` in the front and ``widths``, shares of the length and the depth
    there, go with a front outline alone. ``turned``: ``front`` is a half profile (radius, height), from the foot up.
    """

    size_m: tuple[float, float, float]
    front: Path | None = None
    side: Path | None = None
    widths: tuple[tuple[float, float], ...] = ()
    holes: tuple[Path, ...] = ()
    turned: bool = False


def elevations_of(thing: AnyThing) -> Elevations | None:
    """What ``thing_of`` would make ``thing`` from, about its middle; None for a form that has no outlines to draw."""
    if isinstance(thing, Box):
        return Elevations(thing.size_m)
    if isinstance(thing, Outline):
        low, high = _extent(thing.outline)
        size = (float(high[0] - low[0]), thing.depth_m, float(high[1] - low[1]))
        off = (-float(low[0] + high[0]) / 2, -float(low[1]))
        return Elevations(
            size,
            _shifted(thing.outline, off),
            widths=thing.widths,
            holes=tuple(_shifted(hole, off) for hole in thing.holes),
        )
    if isinstance(thing, Turned):
        low, high = _extent(thing.profile)
        return Elevations(
            (2 * float(high[0]), 2 * float(high[0]), float(high[1] - low[1])),
            _shifted(thing.profile, (0.0, -float(low[1]))),
            turned=True,
        )
    if isinstance(thing, Levels):
        rows = np.array(thing.levels)
        rows[:, 0] -= rows[:, 0].min()
        outlines = [_outline_of(rows[:, 0], rows[:, k], rows[:, k + 1]) for k in (1, 3)]
        paths = [_shifted(path, (-float(_extent(path)[0][0] + _extent(path)[1][0]) / 2, 0.0)) for path in outlines]
        width, depth = (float(_extent(path)[1][0]) * 2 for path in paths)
        return Elevations((width, depth, float(rows[:, 0].max())), paths[0], paths[1])
    return None


def _extent(path: Path) -> tuple[Floats, Floats]:
    points = np.array(path.points)
    return points.min(axis=0), points.max(axis=0)


def _shifted(path: Path, by: Point) -> Path:
    return Path(tuple((x + by[0], z + by[1]) for x, z in path.points), path.smooth)


def _outline_of(z: Floats, left: Floats, right: Floats) -> Path:
    """The closed outline of level stretches, its right side from the foot up first; points on a straight line between
    their neighbours are left out.
    """
    ring = [*zip(right.tolist(), z.tolist(), strict=True), *reversed(list(zip(left.tolist(), z.tolist(), strict=True)))]
    ring = [p for k, p in enumerate(ring) if p != ring[k - 1]]
    points = np.array(ring)
    before, after = points - np.roll(points, 1, axis=0), np.roll(points, -1, axis=0) - points
    bends = np.abs(before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]) > FIT_M**2
    return Path(tuple(p for p, bend in zip(ring, bends, strict=True) if bend))


def measured(drawn: Elevations, by: str) -> tuple[Elevations, tuple[float, float]]:
    """``drawn`` with the sizes that its outline on the elevation ``by`` (front or side) has, that outline brought back
    about the middle and down to the ground; and by how much (m) it was, along the elevation and up. Without an outline
    there, as it is.
    """
    path = drawn.front if by == "front" else drawn.side
    if path is None:
        return drawn, (0.0, 0.0)
    low, high = _extent(path)
    width, depth, _ = drawn.size_m
    across, height = float(high[0] - low[0]), float(high[1] - low[1])
    if drawn.turned:
        return replace(
            drawn, front=_shifted(path, (0.0, -float(low[1]))), size_m=(2 * float(high[0]), 2 * float(high[0]), height)
        ), (0.0, float(low[1]))
    off = (float(low[0] + high[0]) / 2, float(low[1]))
    back = (-off[0], -off[1])
    if by == "front":
        holes = tuple(_shifted(hole, back) for hole in drawn.holes)
        return replace(drawn, front=_shifted(path, back), holes=holes, size_m=(across, depth, height)), off
    return replace(drawn, side=_shifted(path, back), size_m=(width, across, height)), off


def off_middle(thing: AnyThing) -> tuple[float, float, float]:
    """How far (m) the middle of what ``elevations_of`` shows lies from the thing's own origin: outlines may have been
    drawn anywhere.
    """
    if isinstance(thing, Outline):
        low, high = _extent(thing.outline)
        return float(low[0] + high[0]) / 2, 0.0, float(low[1])
    if isinstance(thing, Turned):
        return 0.0, 0.0, float(_extent(thing.profile)[0][1])
    if isinstance(thing, Levels):
        rows = np.array(thing.levels)
        x, y = (float(rows[:, k].min() + rows[:, k + 1].max()) / 2 for k in (1, 3))
        return x, y, float(rows[:, 0].min())
    return 0.0, 0.0, 0.0


def carried(like: AnyThing, off: tuple[float, float, float]) -> AnyThing:
    """``like`` carried by ``off`` (m) in its own frame, so that an outline brought back about the middle stays where it
    was drawn. What stands on something keeps to its top.
    """
    x, y, _ = about_z(like.turn_deg) @ np.array([off[0], off[1], 0.0])
    base = like.base_m if like.on is not None else like.base_m + off[2]
    return replace(like, at_m=(like.at_m[0] + float(x), like.at_m[1] + float(y)), base_m=base)


def resized(drawn: Elevations, size_m: tuple[float, float, float]) -> Elevations:
    """``drawn`` with typed sizes: its outlines are drawn out or in to them, evenly."""
    w, d, h = (new / old for new, old in zip(size_m, drawn.size_m, strict=True))

    def scaled(path: Path | None, across: float) -> Path | None:
        return None if path is None else Path(tuple((x * across, z * h) for x, z in path.points), path.smooth)

    holes = tuple(Path(tuple((x * w, z * h) for x, z in hole.points), hole.smooth) for hole in drawn.holes)
    widths = tuple((share, there * d) for share, there in drawn.widths)
    return replace(
        drawn, size_m=size_m, front=scaled(drawn.front, w), side=scaled(drawn.side, d), widths=widths, holes=holes
    )


def thing_of(drawn: Elevations, like: AnyThing) -> AnyThing:
    """The thing that ``drawn`` shows, in the place of ``like``. Raises ``StandError`` naming the elevation, and where
    on it, that contradicts another.
    """
    width, depth, height = drawn.size_m
    for name, path, across in (("front", drawn.front, width), ("side", drawn.side, depth)):
        if path is not None and not drawn.turned:
            _fits(name, path, across, height)
    place = {
        "id": like.id,
        "at_m": like.at_m,
        "base_m": like.base_m,
        "on": like.on,
        "turn_deg": like.turn_deg,
        "name": like.name,
    }
    if drawn.turned and drawn.front is not None:
        shape = {"lean_deg": like.lean_deg, "wall_m": like.wall_m} if isinstance(like, Turned) else {}
        return Turned(**place, **shape, profile=drawn.front)  # type: ignore[arg-type]
    if drawn.holes and drawn.side is not None:
        raise StandError("holes", "a hole goes with an outline drawn on the front alone")
    if drawn.widths and (drawn.front is None or drawn.side is not None):
        raise StandError("widths", "a section's width goes with an outline drawn on the front alone")
    for share, there in drawn.widths:
        if there > depth + FIT_M:
            raise StandError(
                "widths", f"at {share:g} of the length it is wider than the plan, {there:g} m against {depth:g} m"
            )
    if drawn.front is None and drawn.side is None:
        return Box(**place, size_m=drawn.size_m)  # type: ignore[arg-type]
    if drawn.side is None and drawn.front is not None:
        return Outline(**place, outline=drawn.front, holes=drawn.holes, depth_m=depth, widths=drawn.widths)  # type: ignore[arg-type]
    if drawn.front is None and drawn.side is not None:
        # carried through along the thing's own x: the outline's own frame is a quarter turn on
        return replace(Outline(**place, outline=drawn.side, depth_m=width), turn_deg=like.turn_deg + 90.0)  # type: ignore[arg-type]
    assert drawn.front is not None and drawn.side is not None
    return Levels(**place, levels=_levels(drawn.front, drawn.side))  # type: ignore[arg-type]


def _fits(name: str, path: Path, across: float, height: float) -> None:
    points = np.array(path.points)
    low, high = points.min(axis=0), points.max(axis=0)
    for at, wanted, said in (
        (low[0], -across / 2, "left"),
        (high[0], across / 2, "right"),
        (low[1], 0.0, "lowest"),
        (high[1], height, "highest"),
    ):
        if abs(float(at) - wanted) > FIT_M:
            raise StandError(
                name, f"its {said} point lies at {float(at):g} m, and the plan and sizes put it at {wanted:g} m"
            )


def _levels(front: Path, side: Path) -> tuple[tuple[float, float, float, float, float], ...]:
    """Heights with the rectangle there, (z, x from, x to, y from, y to); a ledge is two at one height."""
    if front.smooth or side.smooth:
        raise StandError("front" if front.smooth else "side", "curves are drawn on one elevation only")
    ends = [_sides("front", front), _sides("side", side)]
    heights = sorted({float(z) for _, z in (*front.points, *side.points)})
    found: list[tuple[float, float, float, float, float]] = []
    for k, z in enumerate(heights):
        for above in (False, True):
            if (above and k == len(heights) - 1) or (not above and k == 0):
                continue
            x, y = (_at(chains, z, above) for chains in ends)
            row = (z, *x, *y)
            if not found or not np.allclose(found[-1], row, atol=FIT_M):
                found.append(row)
    return tuple(found)


def _sides(name: str, path: Path) -> tuple[Floats, Floats]:
    """The outline's left and right boundary, each (k, 2) from the ground up. Raises ``StandError`` where a level line
    would cross it more than twice.
    """
    points = np.array(path.points)
    if area(points) < 0:
        points = points[::-1]
    z = points[:, 1]
    lowest, highest = np.flatnonzero(z <= z.min() + FIT_M), np.flatnonzero(z >= z.max() - FIT_M)
    n = len(points)
    # anticlockwise: up the right side from the foot's right end, down the left from the top's left end
    start = int(lowest[points[lowest, 0].argmax()])
    top = int(highest[points[highest, 0].argmax()])
    right = points[[(start + k) % n for k in range((top - start) % n + 1)]]
    start = int(highest[points[highest, 0].argmin()])
    foot = int(lowest[points[lowest, 0].argmin()])
    left = points[[(start + k) % n for k in range((foot - start) % n + 1)]][::-1]
    for chain in (left, right):
        down = np.flatnonzero(np.diff(chain[:, 1]) < -FIT_M)
        if len(down):
            at = chain[down[0]]
            raise StandError(
                name,
                f"at {at[0]:g}, {at[1]:g} m it turns back down: with outlines on both elevations each rises all the "
                "way",
            )
    return left, right


def _at(chains: tuple[Floats, Floats], z: float, above: bool) -> tuple[float, float]:
    """From where to where an outline reaches at a height, just ``above`` it or just below."""
    found = []
    for chain in chains:
        level = np.flatnonzero(np.abs(chain[:, 1] - z) <= FIT_M)
        if len(level):
            found.append(float(chain[level[-1] if above else level[0], 0]))
        else:
            found.append(float(np.interp(z, chain[:, 1], chain[:, 0])))
    return found[0], found[1]


def snapped(point: Point, grid_m: float, lines: tuple[list[float], list[float]] = ([], [])) -> Point:
    """The grid's corner nearest to ``point``; a division's line (``lines``: across and up) that lies nearer than the
    grid's draws it on to itself.
    """
    x, z = (_nearest(value, grid_m, at) for value, at in zip(point, lines, strict=True))
    return x, z


def _nearest(value: float, grid_m: float, lines: list[float]) -> float:
    return min((round(value / grid_m) * grid_m, *lines), key=lambda at: abs(at - value))


def right_half(path: Path) -> Path:
    """The part of a closed outline to the right of the centre line x = 0, from the foot up. Raises ``StandError`` where
    nothing lies there.
    """
    points = list(path.points)
    order = list(range(len(points)))
    if area(np.array(points)) < 0:
        order.reverse()
    right = [points[i][0] > -FIT_M for i in order]
    if not any(points[i][0] > FIT_M for i in order):
        raise StandError("half", "nothing is drawn to the right of the centre line")
    # anticlockwise, the right side begins after the last point on the left
    start = next(
        (k for k in range(len(order)) if right[k] and not right[k - 1]),
        order.index(min(order, key=lambda i: (points[i][1], -points[i][0]))),
    )
    run = [order[(start + k) % len(order)] for k in range(len(order)) if right[(start + k) % len(order)]]
    return Path(
        tuple((max(points[i][0], 0.0), points[i][1]) for i in run),
        tuple(k for k, i in enumerate(run) if i in path.smooth),
    )


def mirrored(half: Path) -> Path:
    """A closed outline from its right half, given from the foot up: its left half is the same about the centre line x =
    0. Raises ``StandError`` where the half crosses the line.
    """
    for x, z in half.points:
        if x < -FIT_M:
            raise StandError("half", f"at {x:g}, {z:g} m it crosses the centre line")
    n = len(half.points)
    left = [k for k in reversed(range(n)) if half.points[k][0] > FIT_M]
    smooth = [*half.smooth, *(n + at for at, k in enumerate(left) if k in half.smooth)]
    return Path((*half.points, *((-half.points[k][0], half.points[k][1]) for k in left)), tuple(smooth))


def divided(low: float, high: float, how: str, bays: int | None = None) -> list[float]:
    """Places (m) that part a length into ``halves``, ``thirds``, ``quarters``, or with ``bays`` into as many equal
    ones, both ends left out.
    """
    parts = bays if bays is not None else DIVISIONS[how]
    return [low + float(Fraction(k, parts)) * (high - low) for k in range(1, parts)]
