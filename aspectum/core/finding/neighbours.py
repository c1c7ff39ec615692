"""What stands about a line: others like it, as in a course of bricks, what meets it at its ends, as at a corner, and
what goes on from it, as round a bend.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.lines import Floats

ASIDE = 0.035  # of the picture's diagonal: how far from a line its like are counted
TWIN_PX = 2.5  # a line this close is the other side of the same step
LIKE_COS = np.cos(np.radians(5.0))  # lines that run nearer alike than this may be two sides of one edge
OVERLAP = 0.4  # of the shorter, that two lines must share to stand side by side
CORNER_PX, CORNER_SHARE = (
    7.0,
    0.06,
)  # from a line's end within which another line's end makes a corner, and of the shorter
# flatter crossings do not place a corner: at 12° an error across grows fivefold along
CROSSING_SIN = np.sin(np.radians(12.0))
NEXT_PX, NEXT_SHARE = 6.0, 0.15  # from a line's end within which the next chord of a bend begins, and of the shorter
LEAST_TURN, MOST_TURN = np.radians(3.0), np.radians(40.0)  # from chord to chord; corners turn by more
MOST_LONGER = 4.0  # times that a chord may be as long as the next


@dataclass(frozen=True)
class Neighbours:
    """Of each line, (n,): ``like``: how many of about its length stand side by side with it; ``longer``: by what factor
    (log) it is longer than the middle of all that do; ``corners``: at how many of its ends (0, 1, 2) another line ends
    too; ``bent``: 1 where it is a chord of a bend, one half where a bend ends in it, else 0.
    """

    like: Floats
    longer: Floats
    corners: Floats
    bent: Floats


@compiled(always=True)
def look_about(p: Floats, q: Floats, reach: float) -> tuple[Floats, Floats, Floats]:
    n = len(p)
    like, longer, corners = np.zeros(n), np.zeros(n), np.zeros(n)
    lengths = np.empty(n)
    for i in range(n):
        lengths[i] = max(np.hypot(q[i, 0] - p[i, 0], q[i, 1] - p[i, 1]), 1e-9)
    beside = np.empty(n)
    for i in range(n):
        ux, uy = (q[i, 0] - p[i, 0]) / lengths[i], (q[i, 1] - p[i, 1]) / lengths[i]
        count, at_p, at_q = 0, False, False
        for k in range(n):
            if k == i:
                continue
            vx, vy = (q[k, 0] - p[k, 0]) / lengths[k], (q[k, 1] - p[k, 1]) / lengths[k]
            if abs(ux * vx + uy * vy) > LIKE_COS:
                off0 = (p[k, 1] - p[i, 1]) * ux - (p[k, 0] - p[i, 0]) * uy
                off1 = (q[k, 1] - p[i, 1]) * ux - (q[k, 0] - p[i, 0]) * uy
                off = 0.5 * abs(off0 + off1)
                if off > reach or off < TWIN_PX:
                    continue
                t0 = (p[k, 0] - p[i, 0]) * ux + (p[k, 1] - p[i, 1]) * uy
                t1 = (q[k, 0] - p[i, 0]) * ux + (q[k, 1] - p[i, 1]) * uy
                shared = min(max(t0, t1), lengths[i]) - max(min(t0, t1), 0.0)
                if shared < OVERLAP * min(lengths[i], lengths[k]):
                    continue
                beside[count] = lengths[k]
                count += 1
                if 0.6 < lengths[k] / lengths[i] < 1.7:
                    like[i] += 1.0
            elif abs(ux * vy - uy * vx) > CROSSING_SIN:
                near = max(CORNER_PX, CORNER_SHARE * min(lengths[i], lengths[k]))
                if lengths[k] < 0.2 * lengths[i] and lengths[k] < 25.0:
                    continue
                for end in range(2):
                    x, y = (p[k, 0], p[k, 1]) if end == 0 else (q[k, 0], q[k, 1])
                    if np.hypot(x - p[i, 0], y - p[i, 1]) < near:
                        at_p = True
                    if np.hypot(x - q[i, 0], y - q[i, 1]) < near:
                        at_q = True
        corners[i] = (1.0 if at_p else 0.0) + (1.0 if at_q else 0.0)
        if count:
            longer[i] = np.log(lengths[i] / np.median(beside[:count]))
    return like, longer, corners


@compiled(always=True)
def look_on(p: Floats, q: Floats) -> Floats:
    """``Neighbours.bent`` (n,) of lines by their ends (n, 2): at both ends of a chord the outline goes on and turns a
    little, to the same hand.
    """
    n = len(p)
    lengths, turn, follower, bent = np.empty(n), np.zeros((n, 2)), np.full((n, 2), -1), np.zeros(n)
    for i in range(n):
        lengths[i] = max(np.hypot(q[i, 0] - p[i, 0], q[i, 1] - p[i, 1]), 1e-9)
    for i in range(n):
        ux, uy = (q[i, 0] - p[i, 0]) / lengths[i], (q[i, 1] - p[i, 1]) / lengths[i]
        for end in range(2):
            nearest = np.inf
            for k in range(n):
                if k == i or lengths[k] * MOST_LONGER < lengths[i] or lengths[k] > MOST_LONGER * lengths[i]:
                    continue
                # the darker side stays at the same hand: an end goes on in a beginning
                dx, dy = (p[k, 0] - q[i, 0], p[k, 1] - q[i, 1]) if end == 0 else (q[k, 0] - p[i, 0], q[k, 1] - p[i, 1])
                near = max(NEXT_PX, NEXT_SHARE * min(lengths[i], lengths[k]))
                away = dx * dx + dy * dy
                if away > near * near or away >= nearest:
                    continue
                vx, vy = (q[k, 0] - p[k, 0]) / lengths[k], (q[k, 1] - p[k, 1]) / lengths[k]
                turned = np.arctan2(ux * vy - uy * vx, ux * vx + uy * vy) * (1.0 if end == 0 else -1.0)
                if LEAST_TURN < abs(turned) < MOST_TURN:
                    nearest, turn[i, end], follower[i, end] = away, turned, k
    for i in range(n):
        if turn[i, 0] * turn[i, 1] > 0:
            bent[i] = 1.0
    for i in range(n):
        for end in range(2):
            k = follower[i, end]
            if bent[i] == 0.0 and k >= 0 and bent[k] == 1.0 and turn[k, 0] * turn[i, end] > 0:
                bent[i] = 0.5
    return bent


def neighbours(p: Floats, q: Floats, diagonal_px: float) -> Neighbours:
    """Of lines by their ends (n, 2), the darker side of each to the same hand."""
    p, q = np.ascontiguousarray(p), np.ascontiguousarray(q)
    return Neighbours(*look_about(p, q, ASIDE * diagonal_px), look_on(p, q))
