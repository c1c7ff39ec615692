"""Whether a line is another one over again, and how far places lie off an ellipse."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

AGAIN, AGAIN_SHARE = 0.0025, 0.4  # of the picture's diagonal: how near, and how far along, a line is another over again


def lies_again(p: Floats, q: Floats, others_p: Floats, others_q: Floats, diagonal_px: float) -> NDArray[np.bool_]:
    """Whether the line p-q (px) is each of others (n, 2) over again: the two sides of one step, or a part
    of it; (n,).
    """
    long = max(float(np.hypot(*(q - p))), 1e-9)
    way = (q - p) / long
    normal = np.array([-way[1], way[0]])
    start, stop = others_p - p, others_q - p
    off = np.abs(start @ normal + stop @ normal) / 2
    low, high = np.minimum(start @ way, stop @ way), np.maximum(start @ way, stop @ way)
    shared = np.minimum(high, long) - np.maximum(low, 0.0)
    return np.asarray((off < AGAIN * diagonal_px) & (shared > AGAIN_SHARE * long), bool)


def off_round(places: Floats, centre: tuple[float, float], major: float, minor: float, angle: float) -> Floats:
    """By what share of its half axes (px) places (n, 2) lie off an ellipse, ``angle`` the direction of the longer
    (radians, y down); (n,).
    """
    away = places - np.array(centre)
    c, s = np.cos(angle), np.sin(angle)
    along, across = away @ np.array([c, s]), away @ np.array([-s, c])
    return np.asarray(np.abs(np.hypot(along / max(major, 1.0), across / max(minor, 1.0)) - 1.0), float)
