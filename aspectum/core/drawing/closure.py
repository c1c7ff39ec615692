"""Whether lines meet where they should: a line that is off by itself leaves its corners, one that is off with the whole
drawing keeps them.

Each line between two corners that other lines are drawn to as well has one number: how far its middle lies beside the
middle between those corners (mm, across the line). Nothing that moves the drawing as a whole changes it.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from aspectum.core.drawing.closed import Closed
from aspectum.core.drawing.hand import Hand
from aspectum.core.plane.lines import Floats, Ints
from aspectum.core.sightings import Edge

SAME_PLACE = 1e-3  # of a part's extent: ends whose places differ by less are one corner
# Ways in which hands draw a line, each by the share of its error that its ends get and of its turn that its middle
# gets: from where a corner is to where the next one should be; laid in as a whole, about its middle; from drawn corner
# to drawn corner. A drawing's own corners tell which one it is.
WAYS = ((2.0, 1.5), (1.0, 0.5), (0.0, 0.0))
STANDS_OUT = 3.0  # deviations, beyond which a shift is a stray's, and says nothing of the way


@dataclass(frozen=True)
class Closure:
    """``ids``: of all drawn edges; ``ends`` (n, 2, 2): mm; ``corner`` (n, 2): the corner at each end, or -1; ``across``
    (n, 2): unit normals; ``of`` (m,): which edges have both corners drawn by others too; ``sd`` (m,): mm.
    """

    ids: list[str]
    ends: Floats
    corner: Ints
    across: Floats
    of: Ints
    sd: Floats

    @cached_property
    def by_ends(self) -> Floats:
        """What each of those lines' shift takes of every end, (m, n, 2, 2): half of its own two, less half the mean of
        the others at each corner.
        """
        count = int(self.corner.max(initial=-1)) + 1
        at = np.zeros((count, *self.corner.shape))
        on = self.corner >= 0
        at[self.corner[on], *np.nonzero(on)] = 1.0
        taken = np.zeros((len(self.of), *self.corner.shape))
        for row, k in enumerate(self.of.tolist()):
            for tip in (0, 1):
                others = at[self.corner[k, tip]].copy()
                others[k, tip] = 0.0
                taken[row] -= 0.5 * others / max(float(others.sum()), 1.0)
                taken[row, k, tip] += 0.5
        return np.asarray(taken[..., None] * self.across[self.of][:, None, None, :], float)

    @property
    def shifts(self) -> Floats:
        """How far each of those lines (m,) lies beside its corners, mm."""
        return np.asarray(np.einsum("mnij,nij->m", self.by_ends, self.ends), float)

    def end_at(self, k: int, side: float) -> int | None:
        """Which end of edge ``k`` lies to the left (``side`` negative) or to the right; None for its middle."""
        return None if side == 0.0 else int(np.argmax(side * self.ends[k, :, 0]))

    def moved(self, k: int, tip: int | None, turn_deg: float, grow: float) -> Floats:
        """What the shifts (m,) change by when edge ``k`` turns (degrees anticlockwise as seen) and grows (log) about an
        end, or its middle.
        """
        ends = self.ends[k]
        pivot = ends.mean(axis=0) if tip is None else ends[tip]
        a = np.radians(-turn_deg)
        turn = np.array([[np.cos(a), -np.sin(a)], [np.sin(a), np.cos(a)]]) * np.exp(grow)
        return np.asarray(np.einsum("mij,ij->m", self.by_ends[:, k], (ends - pivot) @ turn.T + pivot - ends), float)


def closure_of(drawn: list[Edge], closed: Closed, hand: Hand, mm: float) -> Closure:
    """The corners of the drawn edges, which ``closed`` knows by the same ids."""
    ids = [e.id for e in drawn]
    ends = np.array([(e.p, e.q) for e in drawn], float).reshape(-1, 2, 2) * mm
    where = corners_of(closed)
    corner = np.array(
        [
            [where.get(closed.places[e.id, tip], -1) if (e.id, tip) not in closed.cut else -1 for tip in (0, 1)]
            for e in drawn
        ],
        np.intp,
    )
    corner = corner.reshape(-1, 2)
    # laid the other way round, an edge's first end is at its second corner
    for k, edge in enumerate(drawn):
        subject = closed.points[closed.places[edge.id, 1]] - closed.points[closed.places[edge.id, 0]]
        if subject @ (ends[k, 1] - ends[k, 0]) < 0:
            corner[k] = corner[k, ::-1]
    many = np.bincount(corner[corner >= 0], minlength=int(corner.max(initial=-1)) + 1)
    of = np.array(
        [
            k
            for k in range(len(drawn))
            if (corner[k] >= 0).all() and corner[k, 0] != corner[k, 1] and (many[corner[k]] > 1).all()
        ],
        np.intp,
    )
    run = ends[:, 1] - ends[:, 0]
    long = np.maximum(np.hypot(run[:, 0], run[:, 1]), 1e-9)
    across = np.column_stack([-run[:, 1], run[:, 0]]) / long[:, None]
    plain = Closure(ids, ends, corner, across, of, np.ones(len(of)))
    turned = long / 2 * np.radians(hand.tilt_deg)
    sds = [
        spread_of(
            hand.point_mm**2 + share * (turned**2 + (long / 2 * hand.length) ** 2),
            hand.point_mm**2 / 2 + (own * turned[of]) ** 2,
            plain,
        )
        for share, own in WAYS
    ]
    unlikely = [float((np.minimum((plain.shifts / sd) ** 2, STANDS_OUT**2) / 2 + np.log(sd)).sum()) for sd in sds]
    return replace(plain, sd=sds[int(np.argmin(unlikely))])


def spread_of(end_square: Floats, own_square: Floats, closure: Closure) -> Floats:
    """Standard deviations (m,) of the shifts, mm: of a line's own middle, and of the ends at its corners of
    the others.
    """
    corner, of = closure.corner, closure.of
    count = int(corner.max(initial=-1)) + 1
    many, spread = np.zeros(count), np.zeros(count)
    for k, tip in zip(*np.nonzero(corner >= 0), strict=True):
        many[corner[k, tip]] += 1
        spread[corner[k, tip]] += end_square[k]
    others = (spread[corner[of]] - end_square[of, None]) / np.maximum(many[corner[of]] - 1, 1) ** 2
    return np.asarray(np.sqrt(own_square + others.sum(axis=1) / 4), float)


def corners_of(closed: Closed) -> dict[int, int]:
    """Which corner each of the closed drawing's points is, by number."""
    found: dict[int, int] = {}
    count = 0
    for part in closed.parts:
        near = SAME_PLACE * max(float(np.ptp(part.at, axis=0).max()), 1e-9)
        for n, place in enumerate(part.ends.tolist()):
            same = next((m for m in range(n) if float(np.abs(part.at[m] - part.at[n]).max()) < near), None)
            if same is None:
                found[place] = count
                count += 1
            else:
                found[place] = found[int(part.ends[same])]
    return found
