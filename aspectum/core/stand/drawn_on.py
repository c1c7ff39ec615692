"""A hand drawing on a thing's elevations: what it holds snaps, halves that are alike are mirrored, and the thing is
made anew in its place.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from typing import Literal

from aspectum.core.stand.elevations import (
    DIVISIONS,
    FIT_M,
    Elevations,
    carried,
    divided,
    measured,
    mirrored,
    off_middle,
    resized,
    right_half,
    snapped,
    thing_of,
)
from aspectum.core.stand.paths import Path
from aspectum.core.stand.things import AnyThing, StandError

On = Literal["front", "side"]
Sizes = tuple[float, float, float]


@dataclass(frozen=True)
class Hand:
    """On which elevation it draws and which of its points it holds, the grid that this point snaps to (m), symmetrical
    halves, the divisions that draw it on to them, and sizes typed, or pulled (``held`` of width, depth and height), in
    place of any drawing.
    """

    by: On | None = None
    grid_m: float | None = None
    symmetrical: Sequence[On] = ()
    divisions: str | None = None
    bays: int | None = None
    held: int | None = None
    typed: Sizes | None = None

    def parts(self, low: float, high: float) -> list[float]:
        """Places (m) of its divisions between ``low`` and ``high``; none where nothing is divided."""
        if self.bays is not None:
            return divided(low, high, "", self.bays)
        return divided(low, high, self.divisions) if self.divisions in DIVISIONS else []


def drawn_on(there: AnyThing, drawn: Elevations, hand: Hand) -> AnyThing:
    """``there`` made anew from what was drawn on its elevations; what was not drawn on stays where it stands.

    Raises ``StandError`` naming the elevation that does not agree, and where.
    """
    like = carried(there, off_middle(there))
    if hand.typed is not None:
        return thing_of(resized(drawn, _on_grid(hand.typed, hand)), like)
    drawn = replace(
        drawn, front=_settled(drawn, drawn.front, "front", hand), side=_settled(drawn, drawn.side, "side", hand)
    )
    if hand.by is None:
        return thing_of(drawn, like)
    drawn, (along, up) = measured(drawn, hand.by)
    # the side's outline runs along the thing's own y
    return thing_of(drawn, carried(like, (along, 0.0, up) if hand.by == "front" else (0.0, along, up)))


def _on_grid(size_m: Sizes, hand: Hand) -> Sizes:
    """Sizes of which one was pulled: that one on the grid, and no less than a step of it."""
    grid = hand.grid_m
    if grid is None:
        return size_m
    width, depth, height = (
        max(snapped((value, 0.0), grid)[0], grid) if k == hand.held else value for k, value in enumerate(size_m)
    )
    return width, depth, height


def _settled(drawn: Elevations, path: Path | None, on: On, hand: Hand) -> Path | None:
    """An outline whose held point has snapped, and that is mirrored where its halves are alike."""
    if path is None:
        return None
    if hand.by == on and hand.grid_m is not None and hand.held is not None and hand.held < len(path.points):
        width, depth, height = drawn.size_m
        across = width if on == "front" else depth
        points = list(path.points)
        # only what the hand holds snaps: the rest stays where it was drawn
        points[hand.held] = snapped(
            points[hand.held], hand.grid_m, (hand.parts(-across / 2, across / 2), hand.parts(0.0, height))
        )
        path = Path(tuple(points), path.smooth)
    if on in hand.symmetrical and not drawn.turned:
        path = mirrored(right_half(path))
    # what snaps lands on a neighbour by all but rounding
    if any(math.dist(p, q) < FIT_M for p, q in combinations(path.points, 2)):
        raise StandError(on, "two points coincide")
    if drawn.turned and any(r < 0.0 for r, _ in path.points):
        raise StandError(on, "a radius is not negative: the half profile lies to the right of the centre line")
    return path
