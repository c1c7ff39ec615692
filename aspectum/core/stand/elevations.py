"""A thing from its plan and elevations: typed sizes, and outlines drawn on its front and its side.

An outline drawn on one of them is carried through the other. Drawn on both, the thing is what lies inside both at once: at every height a rectangle, as wide
as the front is there and as deep as the side.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction

import numpy as np

from aspectum.core.plane.lines import Floats
from aspectum.core.sightings import Point
from aspectum.core.stand.paths import Path
from aspectum.core.stand.solid import area
from aspectum.core.stand.things import AnyThing, Box, Levels, Outline, StandError

FIT_M = 1e-6  # by which an outline's extent may miss the typed sizes
DIVISIONS = {"halves": 2, "thirds": 3, "quarters": 4}


@dataclass(frozen=True)
class Elevations:
    """``size_m`` width, depth and height. ``front`` (x, z) and ``side`` (y, z): closed outlines about the middle, from the ground up; None: the full rectangle.
    ``widths``: shares of the length and the depth there, with a front outline alone.
    """

    size_m: tuple[float, float, float]
    front: Path | None = None
    side: Path | None = None
    widths: tuple[tuple[float, float], ...] = ()


def thing_of(drawn: Elevations, like: AnyThing) -> AnyThing:
    """The thing that ``drawn`` shows, in the place of ``like``. Raises ``StandError`` naming the elevation, and where on it, that contradicts another."""
    width, depth, height = drawn.size_m
    for name, path, across in (("front", drawn.front, width), ("side", drawn.side, depth)):
        if path is not None:
            _fits(name, path, across, height)
    place = {"id": like.id, "at_m": like.at_m, "base_m": like.base_m, "on": like.on, "turn_deg": like.turn_deg, "name": like.name}
    if drawn.widths and (drawn.front is None or drawn.side is not None):
        raise StandError("widths", "a section's width goes with an outline drawn on the front alone")
    for share, there in drawn.widths:
        if there > depth + FIT_M:
            raise StandError("widths", f"at {share:g} of the length it is wider than the plan, {there:g} m against {depth:g} m")
    if drawn.front is None and drawn.side is None:
        return Box(**place, size_m=drawn.size_m)  # type: ignore[arg-type]
    if drawn.side is None and drawn.front is not None:
        return Outline(**place, outline=drawn.front, depth_m=depth, widths=drawn.widths)  # type: ignore[arg-type]
    if drawn.front is None and drawn.side is not None:
        # carried through along the thing's own x: the outline's own frame is a quarter turn on
        return replace(Outline(**place, outline=drawn.side, depth_m=width), turn_deg=like.turn_deg + 90.0)  # type: ignore[arg-type]
    assert drawn.front is not None and drawn.side is not None
    return Levels(**place, levels=_levels(drawn.front, drawn.side))  # type: ignore[arg-type]


def _fits(name: str, path: Path, across: float, height: float) -> None:
    points = np.array(path.points)
    low, high = points.min(axis=0), points.max(axis=0)
    for at, wanted, said in ((low[0], -across / 2, "left"), (high[0], across / 2, "right"), (low[1], 0.0, "lowest"), (high[1], height, "highest")):
        if abs(float(at) - wanted) > FIT_M:
            raise StandError(name, f"its {said} point lies at {float(at):g} m, and the plan and sizes put it at {wanted:g} m")


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
    """The outline's left and right boundary, each (k, 2) from the ground up. Raises ``StandError`` where a level line would cross it more than twice."""
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
            raise StandError(name, f"at {at[0]:g}, {at[1]:g} m it turns back down: with outlines on both elevations each rises all the way")
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


def snapped(point: Point, grid_m: float) -> Point:
    """The grid's corner nearest to ``point``."""
    return round(point[0] / grid_m) * grid_m, round(point[1] / grid_m) * grid_m


def mirrored(half: tuple[Point, ...]) -> Path:
    """A closed outline from its right half, given from the foot up: its left half is the same about the centre line x = 0. Raises ``StandError`` where the half
    crosses the line.
    """
    for x, z in half:
        if x < -FIT_M:
            raise StandError("half", f"at {x:g}, {z:g} m it crosses the centre line")
    left = tuple((-x, z) for x, z in reversed(half) if x > FIT_M)
    return Path((*half, *left))


def divided(low: float, high: float, how: str, bays: int | None = None) -> list[float]:
    """Places (m) that part a length into ``halves``, ``thirds``, ``quarters``, or with ``bays`` into as many equal ones, both ends left out."""
    parts = bays if bays is not None else DIVISIONS[how]
    return [low + float(Fraction(k, parts)) * (high - low) for k in range(1, parts)]
