"""Four corners and the square that they are the picture of (Hartley & Zisserman, Multiple View Geometry, 2nd ed., ch.
2).
"""

from __future__ import annotations

import numpy as np

from aspectum.core.plane.lines import Floats


def square_map(corners: Floats) -> Floats:
    """The maps (..., 3, 3) that take (s, t, 1) of the unit square to four ``corners`` (..., 4, 2) in order round it:
    (0, 0), (1, 0), (1, 1), (0, 1). Infinite or no number where three corners lie in a line.
    """
    a, b, c, d = (corners[..., k, :] for k in range(4))
    one, two, odd = b - c, d - c, a - b + c - d
    over = one[..., 0] * two[..., 1] - one[..., 1] * two[..., 0]
    g = (odd[..., 0] * two[..., 1] - odd[..., 1] * two[..., 0]) / over
    h = (one[..., 0] * odd[..., 1] - one[..., 1] * odd[..., 0]) / over
    across = np.concatenate([b - a + g[..., None] * b, g[..., None]], axis=-1)
    up = np.concatenate([d - a + h[..., None] * d, h[..., None]], axis=-1)
    return np.asarray(np.stack([across, up, np.concatenate([a, np.ones_like(g)[..., None]], axis=-1)], axis=-1), float)


def carried(matrix: Floats, points: Floats) -> Floats:
    """``points`` (..., 2), each through a map of its own or all through one, (..., 3, 3)."""
    image = np.einsum("...ij,...j->...i", matrix[..., :2], points) + matrix[..., 2]
    return np.asarray(image[..., :2] / image[..., 2:], float)


def upright_corners(corners: Floats) -> bool:
    """Whether four corners (4, 2) go round a face that the eye sees the whole of: no two sides cross, none turns the
    other way.
    """
    runs = np.roll(corners, -1, axis=0) - corners
    turns = runs[:, 0] * np.roll(runs, -1, axis=0)[:, 1] - runs[:, 1] * np.roll(runs, -1, axis=0)[:, 0]
    return bool((turns > 0).all() or (turns < 0).all())
