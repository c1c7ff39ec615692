"""The camera as a small parameter vector, and where it puts vanishing points and eye level.

Lengths inside this module are in half-diagonals of the picture, measured from the centre of
vision, so that every parameter is of order one. A view is described by

    log f, pitch, roll, shift x, shift y, one bearing per form, one slope angle per slope group

with pitch positive looking up and roll positive when eye level rises to the viewer's right. The
shift moves the centre of vision on the sheet: zero for a photograph, free for a drawing in
stated one- or two-point perspective, whose eye level may lie anywhere on the sheet.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from aspectum.core.plane.lines import Floats, Ints

LOG_F, PITCH, ROLL, SHIFT_X, SHIFT_Y, FIRST_BEARING = range(6)


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


def camera_matrices(params: Floats) -> Floats:
    """The 3x3 map from directions in space to homogeneous picture points, and its derivatives by
    log f, pitch, roll, shift x and shift y: shape (6, 3, 3).
    """
    focal, pitch, roll = math.exp(params[LOG_F]), float(params[PITCH]), float(params[ROLL])
    sin_t, cos_t, sin_r, cos_r = math.sin(pitch), math.cos(pitch), math.sin(roll), math.cos(roll)
    x, y = float(params[SHIFT_X]), float(params[SHIFT_Y])
    # across, down and depth before roll, each as a row of (east, north, up), then by pitch
    level = np.array([[1.0, 0.0, 0.0], [0.0, sin_t, -cos_t], [0.0, cos_t, sin_t]])
    pitched = np.array([[0.0, 0.0, 0.0], [0.0, cos_t, sin_t], [0.0, -sin_t, cos_t]])
    # focal length and shift under roll, and the derivatives of that product
    lens = np.array(
        [
            [[focal * cos_r, focal * sin_r, x * cos_r + y * sin_r], [-focal * sin_r, focal * cos_r, y * cos_r - x * sin_r], [0.0, 0.0, 1.0]],
            [[focal * cos_r, focal * sin_r, 0.0], [-focal * sin_r, focal * cos_r, 0.0], [0.0, 0.0, 0.0]],
            [[-focal * sin_r, focal * cos_r, y * cos_r - x * sin_r], [-focal * cos_r, -focal * sin_r, -y * sin_r - x * cos_r], [0.0, 0.0, 0.0]],
            [[0.0, 0.0, cos_r], [0.0, 0.0, -sin_r], [0.0, 0.0, 0.0]],
            [[0.0, 0.0, sin_r], [0.0, 0.0, cos_r], [0.0, 0.0, 0.0]],
        ]
    )
    found = np.empty((6, 3, 3))
    found[[0, 1, 3, 4, 5]] = lens @ level
    found[2] = lens[0] @ pitched
    return found


@dataclass(frozen=True)
class Vanishing:
    """Homogeneous vanishing points (m, 3) with their derivatives where these are not zero: by the
    five camera parameters (m, 3, 5), by the slot's own bearing (m, 3) and, of sloping slots only, by
    the slot's own slope angle (s, 3).
    """

    points: Floats
    by_camera: Floats
    by_bearing: Floats
    by_slope: Floats

    @classmethod
    def of(cls, params: Floats, slots: Slots) -> Vanishing:
        bearing = params[slots.bearing] + slots.offset
        sin_b, cos_b = np.sin(bearing), np.cos(bearing)
        along, turned, tilted = np.zeros((len(bearing), 3)), np.zeros((len(bearing), 3)), np.zeros((0, 3))
        level, sloping = slots.level, slots.sloping
        along[:, 2] = 1.0
        along[level, 0], along[level, 1], along[level, 2] = sin_b[level], cos_b[level], 0.0
        turned[level, 0], turned[level, 1] = cos_b[level], -sin_b[level]
        if sloping.size:
            angle = params[slots.slope[sloping]]
            cos_g, sin_g = np.cos(angle)[:, None], np.sin(angle)[:, None]
            plan, up = along[sloping], np.array([[0.0, 0.0, 1.0]])
            along[sloping] = cos_g * plan + sin_g * up
            turned[sloping] *= cos_g
            tilted = cos_g * up - sin_g * plan
        matrices = camera_matrices(params)
        images = along @ matrices.reshape(18, 3).T
        by_camera = images[:, 3:].reshape(-1, 5, 3).transpose(0, 2, 1)
        return cls(images[:, :3], by_camera, turned @ matrices[0].T, tilted @ matrices[0].T)


def vanishing_with_slopes(params: Floats, slots: Slots) -> tuple[Floats, Floats]:
    """Homogeneous vanishing points (m, 3) and their derivatives (m, 3, P) for ``params`` (P,)."""
    found = Vanishing.of(params, slots)
    jac = np.zeros((len(slots.offset), 3, len(params)))
    jac[:, :, :FIRST_BEARING] = found.by_camera
    jac[slots.level, :, slots.bearing[slots.level]] = found.by_bearing[slots.level]
    if slots.sloping.size:
        jac[slots.sloping, :, slots.slope[slots.sloping]] = found.by_slope
    return found.points, jac


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
