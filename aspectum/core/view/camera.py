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
from typing import NamedTuple

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.lines import Floats, Ints

# places of the unknowns in a row of them; bearings follow
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


class Lens(NamedTuple):
    """The camera's five parameters as they enter a picture point."""

    focal: float
    x: float
    y: float
    sin_t: float
    cos_t: float
    sin_r: float
    cos_r: float


@compiled
def lens_of(params: Floats) -> Lens:
    sin_t, cos_t, sin_r, cos_r = (
        np.sin(params[PITCH]),
        np.cos(params[PITCH]),
        np.sin(params[ROLL]),
        np.cos(params[ROLL]),
    )
    return Lens(np.exp(params[LOG_F]), params[SHIFT_X], params[SHIFT_Y], sin_t, cos_t, sin_r, cos_r)


@compiled
def image_of(lens: Lens, east: float, north: float, up: float) -> tuple[float, float, float]:
    """Homogeneous picture point of a direction in space (east, north, up)."""
    down, depth = north * lens.sin_t - up * lens.cos_t, north * lens.cos_t + up * lens.sin_t
    across, down = lens.focal * east + lens.x * depth, lens.focal * down + lens.y * depth
    return lens.cos_r * across + lens.sin_r * down, lens.cos_r * down - lens.sin_r * across, depth


@compiled
def camera_matrix(params: Floats) -> Floats:
    """The map (3, 3) from directions in space (east, north, up) to homogeneous picture points."""
    lens, matrix = lens_of(params), np.empty((3, 3))
    matrix[0, 0], matrix[1, 0], matrix[2, 0] = image_of(lens, 1.0, 0.0, 0.0)
    matrix[0, 1], matrix[1, 1], matrix[2, 1] = image_of(lens, 0.0, 1.0, 0.0)
    matrix[0, 2], matrix[1, 2], matrix[2, 2] = image_of(lens, 0.0, 0.0, 1.0)
    return matrix


@compiled
def place_of(lens: Lens, east: float, north: float, up: float, point: Floats, by: Floats) -> None:
    """Write the image of a direction into ``point`` (3,) and its derivatives by the camera's parameters into ``by`` (3,
    5 or more), which begins as zeros.
    """
    x, y, depth = image_of(lens, east, north, up)
    down = north * lens.sin_t - up * lens.cos_t
    point[0], point[1], point[2] = x, y, depth
    by[0, LOG_F], by[1, LOG_F] = (
        lens.focal * (lens.cos_r * east + lens.sin_r * down),
        lens.focal * (lens.cos_r * down - lens.sin_r * east),
    )
    # a pitch turns what is down into depth: d(down) = depth, d(depth) = -down
    aside, below = -lens.x * down, lens.focal * depth - lens.y * down
    by[0, PITCH], by[1, PITCH], by[2, PITCH] = (
        lens.cos_r * aside + lens.sin_r * below,
        lens.cos_r * below - lens.sin_r * aside,
        -down,
    )
    by[0, ROLL], by[1, ROLL] = y, -x
    by[0, SHIFT_X], by[1, SHIFT_X] = lens.cos_r * depth, -lens.sin_r * depth
    by[0, SHIFT_Y], by[1, SHIFT_Y] = lens.sin_r * depth, lens.cos_r * depth


@compiled
def direction_of(params: Floats, bearing: int, offset: float, slope: int) -> tuple[float, float, float, float, float]:
    """Direction (east, north, up) of one slot as in ``Slots``, with the sine and cosine of its bearing."""
    if slope == -2:
        return 0.0, 0.0, 1.0, 0.0, 1.0
    sin_b, cos_b = np.sin(params[bearing] + offset), np.cos(params[bearing] + offset)
    angle = params[slope] if slope >= 0 else 0.0
    return sin_b * np.cos(angle), cos_b * np.cos(angle), np.sin(angle), sin_b, cos_b


OWN_BEARING, OWN_SLOPE, MOVES = 5, 6, 7  # columns after the five of the camera


@compiled
def vanish(params: Floats, bearing: Ints, offset: Floats, slope: Ints) -> tuple[Floats, Floats]:
    """Homogeneous vanishing points (m, 3) of slots as in ``Slots``, and their derivatives (m, 3, 7) by
    the five camera parameters, the slot's own bearing and its own slope angle.
    """
    lens, count = lens_of(params), len(offset)
    points, by = np.zeros((count, 3)), np.zeros((count, 3, MOVES))
    for m in range(count):
        east, north, up, sin_b, cos_b = direction_of(params, bearing[m], offset[m], slope[m])
        place_of(lens, east, north, up, points[m], by[m])
        if slope[m] > -2:
            by[m, 0, OWN_BEARING], by[m, 1, OWN_BEARING], by[m, 2, OWN_BEARING] = image_of(lens, north, -east, 0.0)
        if slope[m] >= 0:
            cos_g = np.cos(params[slope[m]])
            by[m, 0, OWN_SLOPE], by[m, 1, OWN_SLOPE], by[m, 2, OWN_SLOPE] = image_of(
                lens, -sin_b * up, -cos_b * up, cos_g
            )
    return points, by


def vanishing(params: Floats, slots: Slots) -> Floats:
    """Homogeneous vanishing points, (m, 3), of ``slots`` under ``params`` (P,)."""
    return vanish(params, slots.bearing, slots.offset, slots.slope)[0]


def vanishing_with_slopes(params: Floats, slots: Slots) -> tuple[Floats, Floats]:
    """Homogeneous vanishing points (m, 3) and their derivatives (m, 3, P) for ``params`` (P,)."""
    points, by = vanish(params, slots.bearing, slots.offset, slots.slope)
    jac = np.zeros((len(slots.offset), 3, len(params)))
    jac[:, :, :FIRST_BEARING] = by[:, :, :FIRST_BEARING]
    jac[slots.level, :, slots.bearing[slots.level]] = by[slots.level, :, OWN_BEARING]
    jac[slots.sloping, :, slots.slope[slots.sloping]] = by[slots.sloping, :, OWN_SLOPE]
    return points, jac


@compiled
def level_circle(matrix: Floats, x: float, y: float) -> tuple[float, float]:
    """Ellipse degree (0-90) of a vanishingly small level circle drawn at (x, y) under a camera's ``matrix`` (3, 3), and
    the tilt of its minor axis (degrees): from the plane-to-picture map there, up to scale. For a level camera on the
    centre vertical the degree is asin(distance from eye level / f) (handbook section 3).
    """
    east_x, east_y = matrix[0, 0] - x * matrix[2, 0], matrix[1, 0] - y * matrix[2, 0]
    north_x, north_y = matrix[0, 1] - x * matrix[2, 1], matrix[1, 1] - y * matrix[2, 1]
    xx, xy, yy = (
        east_x * east_x + north_x * north_x,
        east_x * east_y + north_x * north_y,
        east_y * east_y + north_y * north_y,
    )
    longer = (xx + yy) / 2 + np.sqrt((xx - yy) * (xx - yy) / 4 + xy * xy)
    ratio = min(abs(east_x * north_y - east_y * north_x) / max(longer, 1e-300), 1.0)
    minor = 90.0 - np.degrees(0.5 * np.arctan2(2.0 * xy, xx - yy))
    return np.degrees(np.arcsin(ratio)), 90.0 - (90.0 - minor) % 180.0


@compiled
def eye_level_height(params: Floats, x: float) -> tuple[float, Floats]:
    """Height y of eye level at ``x`` and its derivatives (P,)."""
    focal, tan_t, tan_r = np.exp(params[LOG_F]), np.tan(params[PITCH]), np.tan(params[ROLL])
    foot = focal * tan_t + params[SHIFT_Y]
    sec = 1.0 / np.cos(params[ROLL])
    slope = np.zeros(len(params))
    slope[LOG_F] = focal * tan_t * sec
    slope[PITCH] = focal * (1.0 + tan_t * tan_t) * sec
    slope[SHIFT_Y] = sec
    slope[ROLL] = foot * sec * tan_r - x * sec * sec
    return foot * sec - x * tan_r, slope
