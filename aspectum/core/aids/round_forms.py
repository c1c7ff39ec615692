"""Cylinders and other round things by their own rules, without a picture (handbook section 3)."""

from __future__ import annotations

import math
from dataclasses import dataclass

LEAST_GUIDE_DEG, MOST_GUIDE_DEG, GUIDE_STEP_DEG = 15, 60, 5  # ellipse guides usually sold; from memory


def nearest_guide(degree_deg: float) -> int | None:
    """The ellipse guide nearest to a degree; guides run from 15 to 60 by fives. None where even the
    flattest or roundest would be a guide's whole step off.
    """
    guide = min(max(GUIDE_STEP_DEG * math.ceil(degree_deg / GUIDE_STEP_DEG - 0.5), LEAST_GUIDE_DEG), MOST_GUIDE_DEG)
    return guide if abs(guide - degree_deg) <= GUIDE_STEP_DEG else None


def ellipse_degree(minor: float, major: float) -> float:
    """Ellipse degree (degrees) asin(minor/major). Raises ``ValueError`` unless 0 <= minor <= major."""
    if not 0 <= minor <= major or major <= 0:
        raise ValueError("an ellipse's minor axis lies between nothing and its major axis")
    return math.degrees(math.asin(minor / major))


def degree_at(distance_px: float, focal_px: float) -> float:
    """Degree of a level rim on the centre vertical of a level view, ``distance_px`` from eye level:
    the ratio is distance over focal length (handbook section 3).
    """
    return math.degrees(math.asin(min(1.0, abs(distance_px) / focal_px)))


def degree_by_looking(height: float, distance: float) -> float:
    """The angle (degrees) at which the line of sight meets a level disc ``height`` above or below
    the eye and ``distance`` away on the level. Off the centre of vision it is not the drawn ratio.
    """
    return math.degrees(math.atan2(abs(height), distance))


def eye_level_from_two(y1_px: float, ratio1: float, y2_px: float, ratio2: float) -> tuple[float, float]:
    """Eye level (y) and focal length (px) from two level rims on the same side of eye level: the
    ratio drawn on to zero. Raises ``ValueError`` for equal ratios.
    """
    if math.isclose(ratio1, ratio2, rel_tol=1e-9):
        raise ValueError("rims of one ratio do not say where it comes to nothing")
    focal = (y2_px - y1_px) / (ratio2 - ratio1)
    return y1_px - ratio1 * focal, abs(focal)


@dataclass(frozen=True)
class TurnedCylinder:
    """A cylinder turned end-on, seen from far: of its end the degree and minor/major, of its side
    the visible length, in shares of its own length.
    """

    degree_deg: float
    ratio: float
    length: float


def turned_cylinder(turn_deg: float) -> TurnedCylinder:
    """``turn_deg``: 0 = seen square from the side, 90 = end-on."""
    if not 0 <= turn_deg <= 90:
        raise ValueError("a cylinder turns between 0 degrees, from the side, and 90, end-on")
    return TurnedCylinder(turn_deg, math.sin(math.radians(turn_deg)), math.cos(math.radians(turn_deg)))


def wall_at_rim(wall: float, degree_deg: float) -> tuple[float, float]:
    """How wide a wall of thickness ``wall`` looks at the rim's sides and at its front and back:
    side : front = major : minor.
    """
    return wall, wall * math.sin(math.radians(degree_deg))


def mark_offset(angle_deg: float) -> float:
    """Where a mark ``angle_deg`` round from the front of a cylinder seen from far lies, in shares
    of its half-width from the axis: sin of the angle. Raises ``ValueError`` beyond the outline.
    """
    if not -90 <= angle_deg <= 90:
        raise ValueError("a mark more than 90 degrees round is out of sight")
    return math.sin(math.radians(angle_deg))


def marks_round(count: int) -> list[float]:
    """Places, as ``mark_offset``, of the seen ones of ``count`` marks evenly round a cylinder, the
    first at the front, from left to right.
    """
    if count < 1:
        raise ValueError("there is at least one mark")
    angles = [(360.0 * k / count + 180.0) % 360.0 - 180.0 for k in range(count)]
    return sorted(mark_offset(a) for a in angles if abs(a) <= 90.0)


def isometric_circle(diameter: float) -> tuple[float, float]:
    """Major and minor axis of a circle of true ``diameter`` on a face of an isometric drawing made
    to true lengths along its axes: 1.2247 and 0.7071 (ISO 5456-3:1996 gives 1.22 and 0.71).
    """
    return diameter * math.sqrt(1.5), diameter * math.sqrt(0.5)


def axonometric_degree(first_deg: float, second_deg: float) -> float | None:
    """Degree of a circle in a parallel drawing whose axis stands square to its minor axis' two
    fellows: ``first_deg`` and ``second_deg`` are how far the plane's two edges run from the major
    axis, on either side. For square axes under square projection, sin² = tan a · tan b; 30 and 30
    give the isometric 35.26. None where the projection is oblique (an edge along the major axis).
    """
    product = math.tan(math.radians(first_deg)) * math.tan(math.radians(second_deg))
    return math.degrees(math.asin(math.sqrt(product))) if 0.003 < product < 1.0 else None
