"""Ellipses on the sheet and every way of writing one down."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.lines import Floats, wrap_tilt
from aspectum.core.sightings import Point


@dataclass(frozen=True)
class Ellipse:
    """Centre and full axes (px), tilt of the minor axis and ellipse degree (degrees)."""

    centre_px: Point
    major_px: float
    minor_px: float
    axis_deg: float
    degree_deg: float

    @classmethod
    def of_shape(cls, shape: Floats) -> Ellipse:
        """From centre and symmetric form (5,) in pixels, as a rim is fitted."""
        major, minor, angle = principal(shape)
        return cls.of_halves((float(shape[0]), float(shape[1])), major, minor, angle)

    @classmethod
    def of_halves(cls, centre_px: Point, major: float, minor: float, angle: float) -> Ellipse:
        """From half axes (px), the larger first, and the major axis' direction (radians, y down)."""
        degree = math.degrees(math.asin(min(1.0, minor / max(major, 1e-12))))
        return cls(centre_px, 2 * major, 2 * minor, 90.0 - (180.0 + math.degrees(angle)) % 180.0, degree)

    @classmethod
    def of_units(cls, values: Floats, scale: float, centre: Point) -> Ellipse:
        """From (5,) centre, half axes and direction in units of ``scale`` pixels from ``centre``."""
        x, y, major, minor, angle = (float(v) for v in values)
        return cls.of_halves((x * scale + centre[0], y * scale + centre[1]), major * scale, minor * scale, angle)

    @property
    def ratio(self) -> float:
        return self.minor_px / max(self.major_px, 1e-9)

    def opened(self, degree_deg: float, axis_deg: float) -> Ellipse:
        """One in the same place and as wide, of another degree and axis."""
        return Ellipse(
            self.centre_px, self.major_px, self.major_px * math.sin(math.radians(degree_deg)), axis_deg, degree_deg
        )


CURVED = 4.0  # point errors squared, over the radius of curvature, at which a point counts half
THIN = 0.25  # minor/major below which foot points start from the place along the major axis
FOOT_STEPS = 2  # Newton steps to the foot on an ellipse, from the start that is taken here


@compiled
def principal(shape: Floats) -> tuple[float, float, float]:
    """Half axes (the larger first) and the major axis' direction (radians) of ``shape`` (5,),
    turned so that the minor axis, a quarter turn on, points down.
    """
    p, q, r = shape[2], shape[3], shape[4]
    middle, reach = (p + r) / 2, np.hypot((p - r) / 2, q)
    angle = 0.5 * np.arctan2(2 * q, p - r)
    if middle < 0:
        middle, angle = -middle, angle + np.pi / 2
    if np.cos(angle) < -1e-12:
        angle += np.pi
    angle = (angle + np.pi / 2) % np.pi - np.pi / 2
    return middle + reach, abs(middle - reach), angle


def by_shape(angle: float) -> tuple[Floats, Floats, Floats]:
    """Derivatives, each (5,), of the half major axis, the half minor axis and the direction times
    (major - minor) by ``RimFit.shape``.
    """
    c, s = math.cos(angle), math.sin(angle)
    return (
        np.array([0.0, 0.0, c * c, 2 * c * s, s * s]),
        np.array([0.0, 0.0, s * s, -2 * c * s, c * c]),
        np.array([0.0, 0.0, -c * s, c * c - s * s, c * s]),
    )


def symmetric(centre: Floats, major: float, minor: float, angle: float) -> Floats:
    c, s = math.cos(angle), math.sin(angle)
    return np.array(
        [centre[0], centre[1], major * c * c + minor * s * s, (major - minor) * c * s, major * s * s + minor * c * c]
    )


def conic_shape(conic: Floats) -> Floats | None:
    """``RimFit.shape`` of the conic a x² + b xy + c y² + d x + e y + f = 0, or None where it is no
    ellipse.
    """
    a, b, c, d, e, f = (float(v) for v in conic)
    det = 4 * a * c - b * b
    if det <= 0:
        return None
    cx, cy = (b * e - 2 * c * d) / det, (b * d - 2 * a * e) / det
    level = -(f + (d * cx + e * cy) / 2)
    form = np.array([[a, b / 2], [b / 2, c]]) / level if level else np.full((2, 2), np.nan)
    if not np.all(np.isfinite(form)) or np.trace(form) <= 0:
        return None
    values, vectors = np.linalg.eigh(form)
    if values[0] <= 0:
        return None
    root = vectors @ np.diag(values**-0.5) @ vectors.T
    return np.array([cx, cy, root[0, 0], root[0, 1], root[1, 1]])


@compiled
def curved_weight(major: float, minor: float, cos_t: float, sin_t: float, sd: float) -> float:
    """Share of its weight that a point at an eccentric angle of given cosine and sine of an ellipse keeps where the
    arc's radius of curvature is no longer large against the point error ``sd``: there its foot, and with it the normal,
    is taken by the error.
    """
    across, along = major * sin_t, minor * cos_t
    square = across * across + along * along
    radius = square * np.sqrt(square) / max(major * minor, 1e-18)
    share = sd / max(radius, 1e-12)
    return 1.0 / np.sqrt(1.0 + CURVED * share * share)


@compiled
def curved_weights(major: float, minor: float, turns: Floats, sd: float) -> Floats:
    """``curved_weight`` at every one of ``turns`` (n,)."""
    found = np.empty(len(turns))
    for i in range(len(turns)):
        found[i] = curved_weight(major, minor, np.cos(turns[i]), np.sin(turns[i]), sd)
    return found


@compiled
def tip_spread(major: float, minor: float, sd: float) -> float:
    """How loosely (px) an end of the major axis is known across it; half axes in pixels."""
    return np.sqrt(sd * sd + minor * minor * 2.0 * sd / max(major, 1e-9))


@compiled
def foot(x: float, y: float, major: float, minor: float) -> tuple[float, float]:
    """Cosine and sine of the eccentric angle, from the end of the major axis, of the foot of a point (x, y) on the
    ellipse of the given half axes about the origin, the major one along x.
    """
    if minor > THIN * major:
        cos_t, sin_t = x * minor, y * major
        size = max(np.sqrt(cos_t * cos_t + sin_t * sin_t), 1e-300)
        cos_t, sin_t = cos_t / size, sin_t / size
    else:
        cos_t = min(max(x / major, -1.0), 1.0)
        sin_t = np.copysign(np.sqrt(1.0 - cos_t * cos_t), y)
    for _ in range(FOOT_STEPS):
        tx, ty = major * sin_t, minor * cos_t  # the way on is (-tx, ty)
        ex, ey = major * cos_t - x, minor * sin_t - y
        square = tx * tx + ty * ty
        bend = max(square - ex * major * cos_t - ey * minor * sin_t, 0.2 * square + 1e-18)
        # half the turn for its half's tangent: a turn without trigonometry, the same to second order
        half = 0.5 * min(max((ey * ty - ex * tx) / bend, -0.5), 0.5)
        over = 1.0 / (1.0 + half * half)
        cos_h, sin_h = (1.0 - half * half) * over, 2.0 * half * over
        cos_t, sin_t = cos_t * cos_h + sin_t * sin_h, sin_t * cos_h - cos_t * sin_h
    return cos_t, sin_t


@compiled
def foot_of(
    px: float, py: float, centre_x: float, centre_y: float, major: float, minor: float, c: float, s: float
) -> tuple[float, float, float, float, float, float]:
    """Foot of the point (px, py) on an ellipse of given centre, half axes and cosine and sine of its direction: cosine
    and sine of its eccentric angle from the end of the major axis, the foot, and the outward normal there.
    """
    minor = max(minor, 1e-4 * major)
    dx, dy = px - centre_x, py - centre_y
    cos_t, sin_t = foot(dx * c + dy * s, dy * c - dx * s, major, minor)
    nx, ny = minor * cos_t, major * sin_t
    size = max(np.sqrt(nx * nx + ny * ny), 1e-300)
    nx, ny = nx / size, ny / size
    fx, fy = major * cos_t, minor * sin_t
    return cos_t, sin_t, fx * c - fy * s + centre_x, fx * s + fy * c + centre_y, nx * c - ny * s, nx * s + ny * c


@compiled
def feet_of(points: Floats, shape: Floats) -> tuple[Floats, Floats, Floats]:
    """Feet of ``points`` (K, 2) on one ellipse ``shape`` (5,), as ``foot_of``: cosine and sine of their eccentric
    angles (K, 2), the feet, and the normals (K, 2).
    """
    major, minor, angle = principal(shape)
    c, s = np.cos(angle), np.sin(angle)
    turned, feet, normals = np.empty((len(points), 2)), np.empty((len(points), 2)), np.empty((len(points), 2))
    for k in range(len(points)):
        found = foot_of(points[k, 0], points[k, 1], shape[0], shape[1], major, minor, c, s)
        turned[k, 0], turned[k, 1], feet[k, 0], feet[k, 1], normals[k, 0], normals[k, 1] = found
    return turned, feet, normals


@compiled
def halves(xx: float, xy: float, yy: float) -> tuple[float, float, float]:
    """Half axes (the larger first) and the major axis' direction (radians) of an ellipse of square (xx, xy, yy)."""
    mean, reach = (xx + yy) / 2, np.hypot((xx - yy) / 2, xy)
    return np.sqrt(max(mean + reach, 1e-18)), np.sqrt(max(mean - reach, 0.0)), 0.5 * np.arctan2(2 * xy, xx - yy)


def degree_and_axis(ellipses: Floats) -> tuple[Floats, Floats]:
    """Degrees and tilts of the minor axes (degrees) of ``ellipses`` (..., 5)."""
    degree = np.degrees(np.arcsin(np.clip(ellipses[..., 3] / np.maximum(ellipses[..., 2], 1e-12), 0.0, 1.0)))
    return degree, wrap_tilt(-np.degrees(ellipses[..., 4]) - 90.0)
