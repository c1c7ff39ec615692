"""Edges and the point that their family meets in."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.lines import Floats


def residuals(a: Floats, b: Floats, v: Floats) -> Floats:
    """Signed root of the least sum of squared distances of the end points ``a``, ``b`` (..., 2)
    to a line through the homogeneous point ``v`` (..., 3).

    This is the maximum-likelihood residual for equal isotropic point error (Hartley & Zisserman,
    Multiple View Geometry, 2nd ed., ch. 8); it is exact and stays finite for points at infinity.
    """
    w = v[..., 2]
    ax, ay = a[..., 0] * w - v[..., 0], a[..., 1] * w - v[..., 1]
    bx, by = b[..., 0] * w - v[..., 0], b[..., 1] * w - v[..., 1]
    g = v[..., 0] * (a[..., 1] - b[..., 1]) + v[..., 1] * (b[..., 0] - a[..., 0]) + w * (a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0])
    spread = ax * ax + ay * ay + bx * bx + by * by
    root = np.sqrt(np.maximum(spread * spread - (2.0 * w * g) ** 2, 0.0))
    return np.asarray(np.sqrt(2.0) * g / np.sqrt(np.maximum(spread + root, 1e-300)), float)


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


@compiled
def residual(line: Floats, total: Floats, square: float, vx: float, vy: float, w: float) -> float:
    """As ``residuals``, of one edge by its row of ``Segments``."""
    g = line[0] * vx + line[1] * vy + line[2] * w
    spread = w * (w * square - 2.0 * (total[0] * vx + total[1] * vy)) + 2.0 * (vx * vx + vy * vy)
    root = np.sqrt(max(spread * spread - 4.0 * w * g * w * g, 0.0))
    return ROOT_2 * g / np.sqrt(max(spread + root, 1e-300))


ROOT_2 = math.sqrt(2.0)


@compiled
def residual_with_slope(line: Floats, total: Floats, square: float, v: Floats, slope: Floats) -> float:
    """``residuals`` of one edge, by its row of ``Segments``, to ``v`` (3,); writes its derivatives by
    ``v`` into ``slope`` (3,).
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


def tilt_towards(middle: Floats, v: Floats) -> tuple[Floats, Floats]:
    """Tilt (degrees, (n,)) of the line from ``middle`` (n, 2) to the homogeneous points ``v``
    (n, 3), and its derivative by ``v`` (n, 3).
    """
    dx, dy = v[:, 0] - middle[:, 0] * v[:, 2], v[:, 1] - middle[:, 1] * v[:, 2]
    square = np.maximum(dx * dx + dy * dy, 1e-300)
    angle = np.degrees(np.arctan2(-dy, dx))
    d_angle = np.degrees(1.0) / square
    slope = np.stack([dy * d_angle, -dx * d_angle, (dx * middle[:, 1] - dy * middle[:, 0]) * d_angle], axis=1)
    return 90.0 - np.mod(90.0 - angle, 180.0), slope
