"""A drawing that is brought in again: its lines found afresh, first where they lay before, and which of them are not
sure.

A line that was rubbed out and drawn elsewhere leaves its neighbours near its old place, so that the nearest pencil
there may be another line's. Two things tell: the whole subject laid over the new pencil, which knows nothing of the old
places, and that lines which met at a corner before meet there again.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from aspectum.pictures.pencil import LINED_IN, PencilSheet, Place, Snapped, SnappedRim, beside
from aspectum.pictures.registering import Lines, Rims, placed

Floats = NDArray[np.float64]
Line = tuple[Place, Place]

CORNER_MM = 3.0  # within which ends of lines were drawn to one corner
CORNER_PART = 0.15  # of the shorter line, where that is less
OPEN_MM = 4.0  # between a corner and the ends that were drawn to it: followed lines run on a little, and hands miss
SAME_MM, SAME_DEG = 1.0, 1.5  # within which two lines that were followed are one
RIM_MOVED = 0.12  # of a rim's width, by which two that were followed may lie apart and be one
TURNED_DEG = 25.0  # between two lines that cross at a corner; flatter ones miss each other by nothing


@dataclass(frozen=True)
class FoundAgain:
    """Lines and rims by id, and those of them that are ``sure``."""

    lines: dict[str, Snapped]
    rims: dict[str, SnappedRim]
    sure: frozenset[str]


def follow_again(sheet: PencilSheet, lines: Lines, rims: Rims, subject_lines: Lines, subject_rims: Rims) -> FoundAgain:
    """The ``lines`` and ``rims`` of a drawing as it was before (px of the sheet), found on it as it is now.
    ``subject_*``: what it is drawn from, px of its own picture; empty from imagination.
    """
    ways = {id: sheet.follow(point(p), point(q)) for id, (p, q) in lines.items()}
    round_ways = {
        id: [r for r in [sheet.snap_rim(point(c), a, b, turn)] if r is not None] for id, (c, a, b, turn) in rims.items()
    }
    again = {id: len(found) > 1 for id, found in ways.items()}
    there = placed(sheet, subject_lines, subject_rims) if subject_lines or subject_rims else None
    for id, (p, q) in ({} if there is None else there[0]).items():
        if id in ways:
            fresh = sheet.follow(p, q)
            # of lines drawn twice the darker is the one that counts
            ways[id] = [
                *ways[id][:1],
                *(one for one in fresh[:1] if not ways[id] or not same(one, ways[id][0], sheet.px_per_mm)),
            ]
    for id, (centre, major, minor, turn) in ({} if there is None else there[1]).items():
        if id in round_ways:
            other = sheet.snap_rim(centre, major, minor, turn)
            if other is not None and not (round_ways[id] and same_rim(other, round_ways[id][0])):
                round_ways[id].append(other)
    corners = corners_of(lines, sheet.px_per_mm)
    chosen = choose(ways, corners, sheet.px_per_mm)
    usual = float(np.median([one.dark for one in chosen.values()] or [0.0]))
    mm = sheet.px_per_mm
    sure = {
        id
        for id, one in chosen.items()
        if one.dark >= LINED_IN * usual
        and not again[id]
        and closes(id, one, chosen, corners, mm)
        and alone(id, chosen, mm)
    }
    sure |= {id for id, found in round_ways.items() if len(found) == 1}
    return FoundAgain(chosen, {id: found[0] for id, found in round_ways.items() if found}, frozenset(sure))


def point(at: object) -> Place:
    x, y = np.asarray(at, float).tolist()
    return x, y


def same(one: Snapped, other: Snapped, mm: float) -> bool:
    """Whether two followed lines are one."""
    return max(beside(one, other), beside(other, one)) < SAME_MM * mm and abs(turn(one, other)) < SAME_DEG


def turn(one: Snapped, other: Snapped) -> float:
    """The angle between two lines, 0 to 90 degrees."""
    (a, b), (c, d) = ((np.array(line.p), np.array(line.q)) for line in (one, other))
    u, v = (b - a) / max(float(np.hypot(*(b - a))), 1e-9), (d - c) / max(float(np.hypot(*(d - c))), 1e-9)
    return float(np.degrees(np.arcsin(min(abs(u[0] * v[1] - u[1] * v[0]), 1.0))))


def same_rim(one: SnappedRim, other: SnappedRim) -> bool:
    """Whether two followed rims are one."""
    off = max(
        abs(one.major - other.major),
        abs(one.minor - other.minor),
        float(np.hypot(*np.subtract(one.centre, other.centre))),
    )
    return off < RIM_MOVED * max(one.major, other.major)


Corners = dict[tuple[str, int], list[tuple[str, int]]]


def corners_of(lines: Lines, mm: float) -> Corners:
    """Which ends of other lines were drawn to the corner at each end of each."""
    ends = {(id, tip): np.array(line[tip], float) for id, line in lines.items() for tip in (0, 1)}
    long = {id: float(np.hypot(*np.subtract(q, p))) for id, (p, q) in lines.items()}
    found: Corners = {}
    for (id, tip), at in ends.items():
        found[id, tip] = [
            (other, at_tip)
            for (other, at_tip), there in ends.items()
            if other != id
            and float(np.hypot(*(there - at))) < min(CORNER_MM * mm, CORNER_PART * min(long[id], long[other]))
        ]
    return found


def gap(one: Snapped, tip: int, other: Snapped, other_tip: int, mm: float) -> float:
    """How far the crossing of two lines lies from the end of the one that is farther from it, mm; nothing where they
    run nearly alike.
    """
    if turn(one, other) < TURNED_DEG:
        return 0.0
    (p, q), (r, s) = ((np.array(line.p), np.array(line.q)) for line in (one, other))
    u, v, away = q - p, s - r, r - p
    at = p + u * float(away[0] * v[1] - away[1] * v[0]) / float(u[0] * v[1] - u[1] * v[0])
    return max(float(np.hypot(*(at - (q if tip else p)))), float(np.hypot(*(at - (s if other_tip else r))))) / mm


def choose(ways: dict[str, list[Snapped]], corners: Corners, mm: float) -> dict[str, Snapped]:
    """Of what a line may be, what closes its corners best with the lines that are one thing only, and then with one
    another.
    """
    chosen = {id: found[0] for id, found in ways.items() if len(found) == 1}
    open_ones = [id for id, found in ways.items() if len(found) > 1]
    for _ in range(2):
        for id in open_ones:
            chosen[id] = min(ways[id], key=lambda one: sum(misses(id, one, chosen, corners, mm)))
    return chosen


def misses(id: str, one: Snapped, chosen: dict[str, Snapped], corners: Corners, mm: float) -> list[float]:
    """By how much a line misses each of its fellows, mm."""
    return [
        min(gap(one, tip, chosen[other], at, mm), 3 * OPEN_MM)
        for tip in (0, 1)
        for other, at in corners[id, tip]
        if other in chosen
    ]


def closes(id: str, one: Snapped, chosen: dict[str, Snapped], corners: Corners, mm: float) -> bool:
    """Whether a line meets its fellows at both ends again."""
    return max(misses(id, one, chosen, corners, mm), default=0.0) < OPEN_MM


def alone(id: str, chosen: dict[str, Snapped], mm: float) -> bool:
    """Whether no other name was laid on the same pencil line, over the same part of it."""
    mine = chosen[id]
    return not any(other != id and same(mine, one, mm) and over_each_other(mine, one) for other, one in chosen.items())


def over_each_other(one: Snapped, other: Snapped) -> bool:
    """Whether two lines along each other lie beside each other for a third of the shorter."""
    p, q = np.array(one.p), np.array(one.q)
    run = q - p
    along = sorted(float((np.array(at) - p) @ run) / max(float(run @ run), 1e-9) for at in (other.p, other.q))
    return min(along[1], 1.0) - max(along[0], 0.0) > min(1.0, along[1] - along[0]) / 3
