"""A plumb line or a level one held before the picture: what it passes through (handbook section 4)."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

from aspectum.core.sightings import Edge, Face, Guide, Height, Point
from aspectum.core.tolerance import beyond

SNAPS = 6.0  # point errors within which the line is drawn to a sighted end


@dataclass(frozen=True)
class Passed:
    """A sighted end that the line passes through; ``corner``: which of the sighting's points it is, from 0."""

    sighting: str
    corner: int
    at: Point


@dataclass(frozen=True)
class Held:
    """Where the line is held (px: x of a plumb line, y of a level one), and the ends that it passes through, in order
    along it.
    """

    at_px: float
    passed: tuple[Passed, ...]


def ends_on(edges: Iterable[Edge], faces: Iterable[Face], heights: Iterable[Height]) -> list[Passed]:
    """Every sighted end of a sheet."""
    ends = [Passed(e.id, k, at) for e in edges for k, at in enumerate((e.p, e.q))]
    ends += [Passed(f.id, k, at) for f in faces for k, at in enumerate(f.corners)]
    return ends + [Passed(h.id, k, at) for h in heights for k, at in enumerate((h.foot, h.top))]


def hold_guide(ends: list[Passed], along: Guide, at_px: float, point_sd_px: float) -> Held:
    """The line at ``at_px``, drawn to the nearest end within reach; it passes through what its and the end's error may
    explain.
    """
    axis, other = (0, 1) if along is Guide.PLUMB else (1, 0)
    nearest = min(ends, key=lambda end: abs(end.at[axis] - at_px), default=None)
    if nearest is not None and abs(nearest.at[axis] - at_px) <= SNAPS * point_sd_px:
        at_px = nearest.at[axis]
    sd = math.sqrt(2.0) * point_sd_px
    passed = sorted((end for end in ends if not beyond(end.at[axis] - at_px, sd, 0.0)), key=lambda end: end.at[other])
    return Held(at_px, tuple(passed))
