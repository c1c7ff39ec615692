"""Slopes among the lines that are neither upright nor level: rakes, ramps and stairs, on the vertical through a plan
bearing.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.finding.settle import NONE, Found, directions_of, miss
from aspectum.core.plane.lines import Floats, Ints

LEAST_DEG, MOST_DEG = 12.0, 65.0  # ramps lie flatter than that, but so do level edges seen askew
LONG = 0.045  # of the picture's diagonal: lines that may make a slope
LEAST_LINES = 3  # any two lines meet somewhere; the third tells that it is a family
REACH = 3.0  # standard deviations within which a line still belongs
MOST_SLOPES = 4  # two roofs of two rakes each


@dataclass(frozen=True)
class Slope:
    """Lines that climb alike: ``plan``: slot of the family whose bearing they keep; ``angle``: radians of climb along
    that bearing, negative for a fall; ``members``: which lines.
    """

    plan: int
    angle: float
    members: Ints


def find_slopes(found: Found) -> list[Slope]:
    """Groups of at least three long lines that one slope explains; the fullest first, each line in one group."""
    lines = found.lines
    free = np.flatnonzero((found.slot == NONE) & (lines.length_px > LONG * 2 * lines.scale))
    slopes: list[Slope] = []
    directions = directions_of(found.bearings)[:-1]
    while len(free) >= LEAST_LINES and len(slopes) < MOST_SLOPES:
        best: Slope | None = None
        best_length = 0.0
        for plan, level in enumerate(directions):
            angles = climbs(found, free, level)
            for angle in angles[np.isfinite(angles)]:
                direction = np.cos(angle) * level + np.sin(angle) * np.array([0.0, 0.0, 1.0])
                off = miss(found.camera, lines.take(free), direction[None])[:, 0] / lines.tilt_sd[free]
                members = free[off < REACH]
                length = float(lines.length_px[members].sum())
                if len(members) >= LEAST_LINES and length > best_length:
                    best, best_length = Slope(plan, float(angle), members), length
        if best is None:
            break
        slopes.append(best)
        free = np.setdiff1d(free, best.members)
    return slopes


def climbs(found: Found, which: Ints, level: Floats) -> Floats:
    """The climb (radians, (k,)) that each line would have along a ``level`` direction (3,); not a number outside the
    usual slopes.
    """
    lines = found.lines
    a, b = lines.way[which, 1], -lines.way[which, 0]
    c = -(a * lines.middle[which, 0] + b * lines.middle[which, 1])
    normal = np.stack([a, b, c], axis=1) @ found.camera
    angle = np.arctan2(-normal @ level, normal[:, 2])
    angle = (angle + np.pi / 2) % np.pi - np.pi / 2
    return np.where((np.abs(angle) > np.radians(LEAST_DEG)) & (np.abs(angle) < np.radians(MOST_DEG)), angle, np.nan)
