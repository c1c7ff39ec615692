"""The level rail of a set-up: an upright scale through its middle, and how round a level rim is at each height."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from aspectum.core.stand.camera import NEAREST_M, View
from aspectum.core.stand.setting import Placed, extent_in_room

APART_PX = 44.0  # least distance between two marks that still reads on a rail beside the picture
ROUND_STEPS = (1.0, 2.0, 5.0)  # of a power of ten: figures that a ruler bears
MOST_MARKS = 40  # more cannot be read beside one another
REACH = 0.5  # of the picture's height by which marks may lie above and below it


@dataclass(frozen=True)
class RailMark:
    """A height (m) above the ground, where it shows on the upright through the set-up's middle (px down the picture),
    and the degree of a small level rim there: the angle by which it is seen from above or below.
    """

    height_m: float
    y_px: float
    degree_deg: float


def level_rail(placed: tuple[Placed, ...], view: View) -> tuple[RailMark, ...]:
    """Marks at round heights from the ground up; none in a parallel view, and none where the upright through the middle
    lies beside or behind the eye.
    """
    if view.parallel is not None or not any(p.own is not None for p in placed):
        return ()
    low, high = extent_in_room(placed)
    x, y = (float(v) for v in (low + high)[:2] / 2)
    away = math.hypot(x - view.eye_m[0], y - view.eye_m[1])
    depth = float(view.depths(np.array([x, y, view.eye_m[2]])))
    if away < NEAREST_M or depth < NEAREST_M:
        return ()
    step = _round_up(APART_PX * depth / view.focal_px)
    lowest = min(0.0, float(low[2]))
    highest = max(float(high[2]), view.eye_m[2]) + view.height_px * depth / view.focal_px
    first = math.ceil(lowest / step)
    heights = step * np.arange(first, min(math.floor(highest / step), first + 10 * MOST_MARKS) + 1)
    seen = view.project(np.column_stack([np.full_like(heights, x), np.full_like(heights, y), heights]))[:, 1]
    marks = [
        RailMark(float(z), float(at), math.degrees(math.atan2(abs(float(z) - view.eye_m[2]), away)))
        for z, at in zip(heights, seen, strict=True)
        if -REACH * view.height_px < at < (1.0 + REACH) * view.height_px
    ]
    return tuple(marks[:MOST_MARKS])


def _round_up(value: float) -> float:
    """The least of 1, 2, 5 times a power of ten that is no smaller."""
    power = 10.0 ** math.floor(math.log10(value))
    return next((k * power for k in ROUND_STEPS if k * power >= value), 10.0 * power)
