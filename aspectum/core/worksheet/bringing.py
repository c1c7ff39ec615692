"""From the pencil lines of a worksheet that came back to its sightings."""

from __future__ import annotations

import math

from aspectum.core.sightings import Along, Point

Line = tuple[Point, Point]
SAME_CORNER = 1e-3  # of a line's length: true ends as near are one corner
LEAST_TURN_DEG = 12.0  # between two lines whose crossing is a corner; flatter ones cross anywhere
MOST_MOVED = 0.3  # of a line's length: how far its end may be brought to such a crossing


def along_same(line: Line, like: Line) -> Line:
    """A line from the end that ``like`` begins at."""
    (a, b), (c, d) = line, like
    runs = (b[0] - a[0]) * (d[0] - c[0]) + (b[1] - a[1]) * (d[1] - c[1])
    return line if runs >= 0 else (b, a)


def reach(start: Point, along: Along, line: Line) -> Point | None:
    """Where one comes to from ``start``, straight across or straight up, on a line drawn on; None where
    they run alike.
    """
    (x1, y1), (x2, y2) = line
    if along is Along.UPRIGHT:
        return None if x1 == x2 else (start[0], y1 + (y2 - y1) * (start[0] - x1) / (x2 - x1))
    return None if y1 == y2 else (x1 + (x2 - x1) * (start[1] - y1) / (y2 - y1), start[1])


def crossing(one: Line, other: Line) -> Point | None:
    """Where two lines drawn on meet; None where they run alike."""
    (x1, y1), (x2, y2) = one
    (x3, y3), (x4, y4) = other
    turn = (x2 - x1) * (y4 - y3) - (y2 - y1) * (x4 - x3)
    if turn == 0.0:
        return None
    part = ((x3 - x1) * (y4 - y3) - (y3 - y1) * (x4 - x3)) / turn
    return x1 + part * (x2 - x1), y1 + part * (y2 - y1)


def turn_between(one: Line, other: Line) -> float:
    """The angle between two lines, 0 to 90 degrees."""
    ways = [math.atan2(b[1] - a[1], b[0] - a[0]) for a, b in (one, other)]
    off = abs(math.degrees(ways[0] - ways[1])) % 180.0
    return min(off, 180.0 - off)


def cornered(found: dict[str, Line], true: dict[str, Line]) -> dict[str, Line]:
    """Lines ``found`` in pencil, ended where they cross those that they truly share a corner with, of all in ``true``;
    printed ones stand where they truly are. Where a pencil line ends is seen badly beside what is printed or drawn over
    it, where two lines cross is seen well.
    """
    ended: dict[str, Line] = {}
    for id, line in found.items():
        ends = list(along_same(line, true[id]))
        for tip in (0, 1):
            corner, long = true[id][tip], math.dist(*true[id])
            fellows = [
                o
                for o, other in true.items()
                if o != id and min(math.dist(corner, end) for end in other) < SAME_CORNER * long
            ]
            # the one that crosses most squarely tells best
            fellows.sort(key=lambda o: -turn_between(line, found.get(o, true[o])))
            if not fellows:
                continue
            other = found.get(fellows[0], true[fellows[0]])
            at = crossing(line, other)
            if (
                at is not None
                and turn_between(line, other) > LEAST_TURN_DEG
                and math.dist(at, corner) < MOST_MOVED * long
            ):
                ends[tip] = at
        ended[id] = (ends[0], ends[1])
    return ended
