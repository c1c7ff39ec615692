"""The camera as a small parameter vector, and where it puts vanishing points and eye level.

Lengths inside this module are in half-diagonals of the picture, measured from the centre of
vision, so that every parameter is of order one. A view is described by

    log f, pitch, roll, shift x, shift y, one bearing per form, one slope angle per slope group

with pitch positive looking up and roll positive when eye level rises to the viewer's right. The
shift moves the centre of vision on the sheet: zero for a photograph, free for a drawing in
stated one- or two-point perspective, whose eye level may lie anywhere on the sheet.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from aspectum.core.lines import Floats

LOG_F, PITCH, ROLL, SHIFT_X, SHIFT_Y, FIRST_BEARING = range(6)
Ints = NDArray[np.intp]


@dataclass(frozen=True)
class Slots:
    """The distinct directions of a view. Arrays of shape (m,):

    ``bearing``: parameter index of the form's bearing (any index for uprights);
    ``offset``: radians added to it; ``slope``: parameter index of the slope angle, -1 for level
    directions, -2 for uprights.
    """

    bearing: Ints
    offset: Floats
    slope: Ints

    @cached_property
    def level(self) -> Ints:
        """Which slots turn with a bearing."""
        return np.flatnonzero(self.slope > -2)

    @cached_property
    def sloping(self) -> Ints:
        return np.flatnonzero(self.slope >= 0)

    @cached_property
    def rows(self) -> Ints:
        return np.arange(len(self.offset))

    def pick(self, index: Ints) -> Slots:
        return Slots(self.bearing[index], self.offset[index], self.slope[index])


@dataclass(frozen=True)
class _Directions:
    """Sines and cosines on the way from slots to vanishing points; arrays (m,), or one value for
    all where a single camera is meant.
    """

    focal: Floats
    cos_b: Floats
    sin_b: Floats
    cos_g: Floats
    sin_g: Floats
    cos_t: Floats
    sin_t: Floats
    cos_r: Floats
    sin_r: Floats

    def camera_axes(self) -> tuple[Floats, Floats, Floats]:
        """Across, down and depth of each direction before roll."""
        ahead = self.cos_b * self.cos_g
        return self.sin_b * self.cos_g, ahead * self.sin_t - self.sin_g * self.cos_t, ahead * self.cos_t + self.sin_g * self.sin_t


def _directions(params: Floats, slots: Slots) -> _Directions:
    many = params.ndim == 2
    bearing = (params[slots.rows, slots.bearing] if many else params[slots.bearing]) + slots.offset
    angle = np.where(slots.slope == -2, np.pi / 2, 0.0)
    if slots.sloping.size:
        at = slots.slope[slots.sloping]
        angle[slots.sloping] = params[slots.sloping, at] if many else params[at]
    view = params[..., : ROLL + 1].T
    (_, cos_t, cos_r), (_, sin_t, sin_r) = np.cos(view), np.sin(view)
    return _Directions(np.exp(view[LOG_F]), np.cos(bearing), np.sin(bearing), np.cos(angle), np.sin(angle), cos_t, sin_t, cos_r, sin_r)


def vanishing(params: Floats, slots: Slots) -> Floats:
    """Homogeneous vanishing points, shape (m, 3), of ``slots`` under ``params``.

    ``params`` has shape (P,) for one camera, or (m, P) for a camera per slot.
    """
    d = _directions(params, slots)
    return _place(d, params[..., SHIFT_X], params[..., SHIFT_Y])


def _place(d: _Directions, shift_x: Floats, shift_y: Floats) -> Floats:
    across, down, depth = d.camera_axes()
    x = d.focal * across + shift_x * depth
    y = d.focal * down + shift_y * depth
    v = np.empty((len(across), 3))
    v[:, 0] = d.cos_r * x + d.sin_r * y
    v[:, 1] = d.cos_r * y - d.sin_r * x
    v[:, 2] = depth
    return v


def vanishing_with_slopes(params: Floats, slots: Slots) -> tuple[Floats, Floats]:
    """Homogeneous vanishing points (m, 3) and their derivatives (m, 3, P) for ``params`` (P,)."""
    d = _directions(params, slots)
    shift_x, shift_y = params[SHIFT_X], params[SHIFT_Y]
    v = _place(d, shift_x, shift_y)
    across, down, depth = d.camera_axes()
    m = len(v)
    # derivatives of across, down and depth; the picture follows from them linearly
    turn = np.zeros((m, 3, len(params)))
    turn[:, 1, PITCH], turn[:, 2, PITCH] = depth, -down
    level = slots.level
    ahead = -d.sin_b * d.cos_g
    bearing = slots.bearing[level]
    turn[level, 0, bearing] = (d.cos_b * d.cos_g)[level]
    turn[level, 1, bearing] = (ahead * d.sin_t)[level]
    turn[level, 2, bearing] = (ahead * d.cos_t)[level]
    sloping = slots.sloping
    if sloping.size:
        away = -d.cos_b * d.sin_g
        turn[sloping, 0, slots.slope[sloping]] = (-d.sin_b * d.sin_g)[sloping]
        turn[sloping, 1, slots.slope[sloping]] = (away * d.sin_t - d.cos_g * d.cos_t)[sloping]
        turn[sloping, 2, slots.slope[sloping]] = (away * d.cos_t + d.cos_g * d.sin_t)[sloping]
    x = d.focal * turn[:, 0] + shift_x * turn[:, 2]
    y = d.focal * turn[:, 1] + shift_y * turn[:, 2]
    x[:, LOG_F], y[:, LOG_F] = d.focal * across, d.focal * down
    x[:, SHIFT_X], y[:, SHIFT_Y] = depth, depth
    jac = turn
    jac[:, 0] = d.cos_r * x + d.sin_r * y
    jac[:, 1] = d.cos_r * y - d.sin_r * x
    jac[:, 0, ROLL], jac[:, 1, ROLL] = v[:, 1], -v[:, 0]
    return v, jac


def eye_level_height(params: Floats, x: float) -> tuple[float, Floats]:
    """Height y of eye level at ``x`` and its derivatives (P,)."""
    focal, pitch, roll = float(np.exp(params[LOG_F])), params[PITCH], params[ROLL]
    tan_t = np.tan(pitch)
    foot = focal * tan_t + params[SHIFT_Y]
    sec = 1.0 / np.cos(roll)
    tan_r = np.tan(roll)
    slope = np.zeros(len(params))
    slope[LOG_F] = focal * tan_t * sec
    slope[PITCH] = focal * (1 + tan_t**2) * sec
    slope[SHIFT_Y] = sec
    slope[ROLL] = foot * sec * tan_r - x * sec**2
    return float(foot * sec - x * tan_r), slope


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


def residuals_with_slopes(a: Floats, b: Floats, v: Floats) -> tuple[Floats, Floats]:
    """``residuals`` for n edges, shape (n,), and their derivatives by ``v``, shape (n, 3)."""
    w = v[:, 2]
    ends = a * w[:, None] - v[:, :2], b * w[:, None] - v[:, :2]
    line = np.empty((len(w), 3))
    line[:, 0] = a[:, 1] - b[:, 1]
    line[:, 1] = b[:, 0] - a[:, 0]
    line[:, 2] = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
    g = np.einsum("ij,ij->i", line, v)
    spread = np.einsum("ij,ij->i", ends[0], ends[0]) + np.einsum("ij,ij->i", ends[1], ends[1])
    wg = w * g
    # where the VP sees the edge under a right angle the root vanishes; keep its slope finite
    root = np.sqrt(np.maximum(spread * spread - 4.0 * wg * wg, 1e-12 * spread * spread + 1e-300))
    total = np.maximum(spread + root, 1e-300)
    norm = np.sqrt(total)
    d_spread = np.empty_like(line)
    d_spread[:, :2] = -2.0 * (ends[0] + ends[1])
    d_spread[:, 2] = 2.0 * (np.einsum("ij,ij->i", a, ends[0]) + np.einsum("ij,ij->i", b, ends[1]))
    # d(spread + root) = (1 + spread/root) d(spread) - 4 wg d(wg)/root
    half = -0.5 * g / (total * norm)
    slope = line * (1.0 / norm - half * 4.0 * wg * w / root)[:, None] + d_spread * (half * (1.0 + spread / root))[:, None]
    slope[:, 2] -= half * 4.0 * wg * g / root
    root2 = np.sqrt(2.0)
    return root2 * g / norm, root2 * slope


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
