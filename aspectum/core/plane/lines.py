"""Picture-plane lines: tilts, leans, and what a reading's point error does to them.

Points are pixels, origin at the picture's top-left corner, x right, y down. Tilts are degrees
from level, -90 < t <= 90, positive when the line rises to the viewer's right (handbook section 0).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.intp]
Flags = NDArray[np.bool_]


def wrap_tilt(angle_deg: ArrayLike) -> Floats:
    """Bring angles of undirected lines (degrees, any shape) into -90 < t <= 90."""
    return 90.0 - np.mod(90.0 - np.asarray(angle_deg, float), 180.0)


def half_turn(angle: Floats) -> Floats:
    """Bring turns of undirected lines (radians, any shape) into -π/2 ≤ a < π/2."""
    return np.asarray((angle + np.pi / 2) % np.pi - np.pi / 2, float)


def tilt_deg(p: ArrayLike, q: ArrayLike) -> Floats:
    """Tilt of the lines through ``p`` and ``q`` (pixels, shape (..., 2)); the order is free."""
    d = np.asarray(q, float) - np.asarray(p, float)
    return wrap_tilt(np.degrees(np.arctan2(-d[..., 1], d[..., 0])))


def tilt_difference(a_deg: ArrayLike, b_deg: ArrayLike) -> Floats:
    """Signed turn from tilt ``b`` to tilt ``a``, in -90 < d <= 90 degrees, the short way round."""
    return wrap_tilt(np.asarray(a_deg, float) - np.asarray(b_deg, float))


def lean_deg(tilt: ArrayLike) -> Floats:
    """Degrees from plumb of a line of the given tilt, positive leaning right, -90 < l <= 90.

    A line of tilt 80 leans 10 to the right at its top; one of tilt -80 leans 10 to the left.
    """
    t = np.asarray(tilt, float)
    return np.where(t > 0, 90.0 - t, -90.0 - t)


def tilt_sd_deg(length_px: ArrayLike, point_sd_px: float) -> Floats:
    """Standard deviation of a sighted tilt (degrees): both ends carry ``point_sd_px`` a side."""
    length = np.maximum(np.asarray(length_px, float), 1e-9)
    return np.asarray(np.degrees(np.arctan(np.sqrt(2.0) * point_sd_px / length)), float)


def weighted_median(values: Floats, weights: Floats) -> float:
    """The value (of K) with half of the weight on either side, between values by interpolation."""
    order = np.argsort(values, kind="stable")
    below = np.cumsum(weights[order]) - weights[order] / 2
    return float(np.interp(0.5 * weights.sum(), below, values[order]))
