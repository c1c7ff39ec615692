"""Edges and the point that their family meets in."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.lines import Floats


@dataclass(frozen=True)
class Segments:
    """What ``residual_with_slope`` needs of n edges and never changes, a row an edge: the homogeneous line
    through both ends (n, 3), the ends' sum (n, 2) and the sum of their squared lengths (n,).
    """

    line: Floats
    total: Floats
    square: Floats

    @classmethod
    def of(cls, a: Floats, b: Floats) -> Segments:
        line = np.stack([a[:, 1] - b[:, 1], b[:, 0] - a[:, 0], a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]], axis=1)
        return cls(line, a + b, np.einsum("ij,ij->i", a, a) + np.einsum("ij,ij->i", b, b))


ROOT_2 = math.sqrt(2.0)  # weights √2 between the parts of a symmetric matrix keep its norm


@compiled
def residual_with_slope(line: Floats, total: Floats, square: float, v: Floats, slope: Floats) -> float:
    """Signed root of the least sum of squared distances of an edge's ends, given by its row of ``Segments``, to a line
    through the homogeneous point ``v`` (3,); writes its derivatives by ``v`` into ``slope`` (3,).

    This is the maximum-likelihood residual for equal isotropic point error (Hartley & Zisserman,
    Multiple View Geometry, 2nd ed., ch. 8); it is exact and stays finite for points at infinity.
    """
    vx, vy, w = v[0], v[1], v[2]
    g = line[0] * vx + line[1] * vy + line[2] * w
    wg = w * g
    reach = total[0] * vx + total[1] * vy
    far = w * square
    spread = w * (far - 2.0 * reach) + 2.0 * (vx * vx + vy * vy)
    # where the VP sees the edge under a right angle the root vanishes; keep its slope finite
    root = np.sqrt(max(spread * spread - 4.0 * wg * wg, 1e-12 * spread * spread + 1e-300))
    whole = max(spread + root, 1e-300)
    norm = 1.0 / np.sqrt(whole)
    # d(spread + root) = (1 + spread/root) d(spread) - 4 wg d(wg)/root
    half = -0.5 * g * norm / whole
    by_spread = 2.0 * half * (1.0 + spread / root)
    by_wg = -4.0 * half * wg / root
    by_line = norm + by_wg * w
    slope[0] = ROOT_2 * (line[0] * by_line + by_spread * (2.0 * vx - w * total[0]))
    slope[1] = ROOT_2 * (line[1] * by_line + by_spread * (2.0 * vy - w * total[1]))
    slope[2] = ROOT_2 * (line[2] * by_line + by_spread * (far - reach) + by_wg * g)
    return ROOT_2 * g * norm


@compiled
def residual_square(line: Floats, total: Floats, square: float, x: float, y: float, w: float) -> float:
    """Square of the residual of ``residual_with_slope`` towards the homogeneous point (x, y, w), where no slope is
    wanted.
    """
    g = line[0] * x + line[1] * y + line[2] * w
    spread = w * (w * square - 2.0 * (total[0] * x + total[1] * y)) + 2.0 * (x * x + y * y)
    root = np.sqrt(max(spread * spread - 4.0 * w * w * g * g, 1e-12 * spread * spread + 1e-300))
    return 2.0 * g * g / max(spread + root, 1e-300)
