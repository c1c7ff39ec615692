"""What an edge's family is called: by where it runs on its thing, as the viewer sees it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.lines import Floats
from aspectum.core.sightings import Family
from aspectum.core.stand.camera import View
from aspectum.core.stand.setting import Placed
from aspectum.core.stand.solid import SLOPING

SQUARE_ON = 1e-6  # sine of the angle to the picture within which a level family runs across it
OVERHEAD = 1e-6  # length of the level part of the way of looking under which one looks straight up or down
SAME_WAY = 6  # decimals at which directions are told apart


@dataclass(frozen=True)
class Way:
    """A family of one thing: ``slope`` its group where it is neither level nor upright, ``plan`` the level family above
    whose line it runs.
    """

    family: Family
    direction: tuple[float, float, float]
    slope: str | None = None
    plan: Family | None = None


def level_families(placed: Placed, view: View) -> tuple[Family, Family]:
    """The families of a thing's own x and y.

    ``across`` and ``depth`` where one of them is parallel to the picture; else the one that runs back to the left is
    ``left``. Looking straight up or down every level family is parallel to the picture; then x, whichever way it lies,
    is ``left``.
    """
    ahead = view.axes[2].copy()
    ahead[2] = 0.0
    length = float(np.linalg.norm(ahead))
    if length < OVERHEAD:
        return Family.LEFT, Family.RIGHT
    ahead /= length
    x, y = placed.frame.turn[:, 0], placed.frame.turn[:, 1]
    if abs(float(x @ ahead)) < SQUARE_ON:
        return Family.ACROSS, Family.DEPTH
    if abs(float(y @ ahead)) < SQUARE_ON:
        return Family.DEPTH, Family.ACROSS
    right = np.array([ahead[1], -ahead[0], 0.0])
    return (Family.RIGHT, Family.LEFT) if float(x @ right) * float(x @ ahead) > 0 else (Family.LEFT, Family.RIGHT)


class ThingFamilies:
    """The families of one thing, its slopes numbered as they come."""

    def __init__(self, placed: Placed, view: View) -> None:
        """``placed`` as ``view`` sees it."""
        self._turn = placed.frame.turn
        self._level = level_families(placed, view)
        self._slopes: dict[tuple[float, ...], Way] = {}
        columns = self._turn.T.tolist()
        self.axes = tuple(
            Way(family, (x, y, z)) for family, (x, y, z) in zip((*self._level, Family.UPRIGHT), columns, strict=True)
        )
        """The families of its x, y and z."""

    def of(self, axis: int, direction: Floats) -> Way:
        """The family of an edge along ``axis``, or of that ``direction`` (3,) of the room where it runs along none."""
        if axis != SLOPING:
            return self.axes[axis]
        own = self._turn.T @ (direction / np.linalg.norm(direction))
        first = next(v for v in own[::-1] if abs(v) > 10.0**-SAME_WAY)
        own = own if first > 0 else -own
        key = tuple(float(v) for v in np.round(own, SAME_WAY) + 0.0)
        if key not in self._slopes:
            way = self._turn @ own
            plan = (
                self._level[0]
                if abs(own[1]) < 10.0**-SAME_WAY
                else self._level[1]
                if abs(own[0]) < 10.0**-SAME_WAY
                else None
            )
            self._slopes[key] = Way(
                Family.SLOPE, (float(way[0]), float(way[1]), float(way[2])), f"slope-{len(self._slopes) + 1}", plan
            )
        return self._slopes[key]
