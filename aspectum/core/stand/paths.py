"""Outlines and half profiles: corners joined by straight lines, and smooth runs between them."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from aspectum.core.plane.lines import Flags, Floats
from aspectum.core.sightings import Point

MOST_PIECES = 128  # that one span between two points of a smooth run is cut into


@dataclass(frozen=True)
class Path:
    """Points (m) in order; those named in ``smooth`` (indices) are passed in a curve, all others are corners."""

    points: tuple[Point, ...]
    smooth: tuple[int, ...] = ()


@dataclass(frozen=True)
class Flat:
    """A path as a chain of straight pieces: ``points`` (n, 2) and whether each is a corner (n,)."""

    points: Floats
    corner: Flags


@lru_cache(maxsize=512)
def flat(path: Path, closed: bool, tolerance_m: float) -> Flat:
    """``path`` in straight pieces that leave its curves by no more than ``tolerance_m``.

    A smooth run is a Catmull-Rom curve with centripetal knots through its points (Yuksel, Schaefer and Keyser,
    Computer-Aided Design 43, 2011): it makes no loop within a span. At an open end it starts as if the first span went
    on.
    """
    points = np.array(path.points, dtype=float)
    n = len(points)
    smooth = {i for i in path.smooth if closed or 0 < i < n - 1}
    made: list[Floats] = []
    corner: list[bool] = []
    for i in range(n if closed else n - 1):
        a, b = points[i], points[(i + 1) % n]
        made.append(a)
        corner.append(i not in smooth)
        before = points[i - 1] if i in smooth else None
        after = points[(i + 2) % n] if (i + 1) % n in smooth else None
        if before is None and after is None:
            continue
        inner = _span(before, a, b, after, tolerance_m)
        made += list(inner)
        corner += [False] * len(inner)
    if not closed:
        made.append(points[-1])
        corner.append(True)
    return Flat(np.array(made), np.array(corner))


def _span(before: Floats | None, a: Floats, b: Floats, after: Floats | None, tolerance_m: float) -> Floats:
    """Points (k, 2) strictly between ``a`` and ``b``, fine enough for the tolerance."""
    length = float(np.hypot(*(b - a)))
    if length <= 0.0:
        return np.empty((0, 2))
    first = _tangent(before, a, b) if before is not None else None
    last = -_tangent(after, b, a) if after is not None else None
    chord = b - a
    # a span that ends in a corner leaves it along the parabola through the far tangent
    start = first if first is not None else 1.5 * chord - 0.5 * last if last is not None else chord
    end = last if last is not None else 1.5 * chord - 0.5 * start
    # Hermite: the second derivative is largest at an end; a chord of parameter h leaves a curve by at most h²/8 of it
    bend = max(
        float(np.hypot(*(6 * chord - 4 * start - 2 * end))), float(np.hypot(*(-6 * chord + 2 * start + 4 * end)))
    )
    pieces = min(MOST_PIECES, max(1, math.ceil(math.sqrt(bend / (8 * tolerance_m)))))
    t = (np.arange(1, pieces) / pieces)[:, None]
    return np.asarray(a + t * start + t**2 * (3 * chord - 2 * start - end) + t**3 * (start + end - 2 * chord))


def _tangent(before: Floats, at: Floats, after: Floats) -> Floats:
    """Derivative at ``at`` by the parameter of the span to ``after``, which runs from 0 to 1 (centripetal knots)."""
    left, right = math.sqrt(float(np.hypot(*(at - before)))), math.sqrt(float(np.hypot(*(after - at))))
    if left <= 0.0 or right <= 0.0:
        return np.asarray(after - at)
    return np.asarray(right * ((at - before) / left - (after - before) / (left + right) + (after - at) / right))
