"""Middles, thirds, bays, repeats and mirrors on a face, with the lines by which a hand constructs them (handbook
section 4).

A face is a square in perspective; what is constructed on it with straight lines alone keeps true under any view.
Parts are of the unit square: across from the first corner to the second, up to the fourth.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from aspectum.core.plane.homography import carried, square_map, upright_corners
from aspectum.core.plane.lines import Floats
from aspectum.core.sightings import Face, PartAlong, Point

MOST_BAYS, MOST_REPEATS = 12, 8  # more bays than a street shows, more copies than stay apart on a sheet
RECEDES = 1.02  # times as large at one end as at the other: a hand sees less of a change as none; common practice


class Construction(StrEnum):
    """What is drawn on a face: its centre by diagonals, equal bays, further bays beside it, or the mirror image of a
    place about its middle.
    """

    CENTRE = "centre"
    BAYS = "bays"
    REPEAT = "repeat"
    MIRROR = "mirror"


class Role(StrEnum):
    """What a line of a construction is for: it is a help, or what was wanted."""

    DIAGONAL = "diagonal"
    HELP = "help"
    DIVISION = "division"


@dataclass(frozen=True)
class Stroke:
    """One line to draw, from ``p`` to ``q`` (px)."""

    role: Role
    p: Point
    q: Point


@dataclass(frozen=True)
class Step:
    """Lines that are drawn together; ``what`` names them for the sentence that goes with them. ``recedes``: the parts
    run back, and so shrink.
    """

    what: str
    strokes: tuple[Stroke, ...]
    recedes: bool


Square = tuple[float, float]


class Board:
    """A face to draw on: places of its unit square in pixels, what is counted ``along`` first; ``parallel``: nothing
    converges there.
    """

    def __init__(self, face: Face, along: PartAlong, parallel: bool) -> None:
        corners = np.array(face.corners, float)
        if not upright_corners(corners):
            raise ValueError(f"face {face.id}: its corners do not go round it")
        self.matrix: Floats = square_map(corners)
        self.turned = along is PartAlong.UP
        self.side = float(np.sign(self.depth((0.5, 0.5))))
        ends = sorted(abs(self.depth((end, 0.5))) for end in (0.0, 1.0))
        self.recedes = not parallel and ends[1] > RECEDES * ends[0]

    def depth(self, at: Square) -> float:
        s, t = at[::-1] if self.turned else at
        return float(self.matrix[2] @ [s, t, 1.0])

    def seen(self, at: Square) -> bool:
        """Whether a place of the face's plane lies on this side of where the plane vanishes, and not all but there."""
        return self.depth(at) * self.side > 0.02 * abs(self.depth((0.5, 0.5)))

    def step(self, what: str, *strokes: Stroke) -> Step:
        return Step(what, strokes, self.recedes)

    def stroke(self, role: Role, a: Square, b: Square) -> Stroke:
        at = carried(self.matrix, np.array([a[::-1], b[::-1]] if self.turned else [a, b], float))
        (px, py), (qx, qy) = at.tolist()
        return Stroke(role, (px, py), (qx, qy))


def construct(
    face: Face,
    wanted: Construction,
    along: PartAlong = PartAlong.ACROSS,
    count: int = 2,
    place: float = 0.25,
    parallel: bool = False,
) -> list[Step]:
    """The steps by which ``wanted`` is drawn on ``face``. ``count``: how many bays, or repeats (negative: before the
    first corner); ``place``: the part that is mirrored; ``parallel``: of a parallel drawing. Raises ``ValueError`` for
    a face whose corners do not go round it.
    """
    board = Board(face, along, parallel)
    if wanted is Construction.CENTRE:
        return centre(board)
    if wanted is Construction.BAYS:
        return bays(board, min(max(count, 2), MOST_BAYS))
    if wanted is Construction.REPEAT:
        return repeats(board, max(-MOST_REPEATS, min(count or 1, MOST_REPEATS)))
    return mirror(board, place)


def centre(board: Board) -> list[Step]:
    """Both diagonals, and the middle lines through where they cross."""
    stroke = board.stroke
    return [
        board.step("diagonals", stroke(Role.DIAGONAL, (0, 0), (1, 1)), stroke(Role.DIAGONAL, (1, 0), (0, 1))),
        board.step("middle", stroke(Role.DIVISION, (0.5, 0), (0.5, 1)), stroke(Role.HELP, (0, 0.5), (1, 0.5))),
    ]


def bays(board: Board, count: int) -> list[Step]:
    """Equal marks up one side, carried along to the vanishing point; where they cross one diagonal the
    divisions stand.
    """
    stroke, shares = board.stroke, [k / count for k in range(1, count)]
    return [
        board.step("marks", *(stroke(Role.HELP, (0, s), (1, s)) for s in shares)),
        board.step("diagonal", stroke(Role.DIAGONAL, (0, 0), (1, 1))),
        board.step("divisions", *(stroke(Role.DIVISION, (s, 0), (s, 1)) for s in shares)),
    ]


def repeats(board: Board, count: int) -> list[Step]:
    """Further bays as wide as the face: from a corner through the middle of the far side to the line of the other edge.
    Ends where the plane vanishes.
    """
    steps, way = [], 1 if count > 0 else -1
    for k in range(abs(count)):
        near, far, beyond = (k, k + 1, k + 2) if way > 0 else (1 - k, -k, -k - 1)
        if not (board.seen((beyond, 0)) and board.seen((beyond, 1))):
            break
        stroke = board.stroke
        steps.append(
            board.step(
                "next-bay",
                stroke(Role.HELP, (near, 0.5), (beyond, 0.5)),
                stroke(Role.HELP, (far, 0), (beyond, 0)),
                stroke(Role.HELP, (far, 1), (beyond, 1)),
                stroke(Role.DIAGONAL, (near, 0), (beyond, 1)),
                stroke(Role.DIVISION, (beyond, 0), (beyond, 1)),
            )
        )
    return steps


def mirror(board: Board, place: float) -> list[Step]:
    """A line from the place at the foot through the face's centre meets the head at the mirrored place."""
    stroke, there = board.stroke, 1.0 - place
    if not (board.seen((place, 0)) and board.seen((there, 0)) and board.seen((there, 1))):
        return []
    return [
        *centre(board)[:1],
        board.step("place", stroke(Role.HELP, (place, 0), (place, 1))),
        board.step(
            "mirrored", stroke(Role.DIAGONAL, (place, 0), (there, 1)), stroke(Role.DIVISION, (there, 0), (there, 1))
        ),
    ]
