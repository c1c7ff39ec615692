"""The thumb measure: a stick held upright at arm's length, the thumb marking off what it covers.

The stick and what it is held against make similar triangles at the eye, so a length is its mark over the arm's length;
the arm must be straight and the stick upright, at right angles to the line of sight.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from aspectum.core.life.fit import Lens

ARM_MM = 600.0  # eye to stick with a straight arm, where nobody has measured it; the handbook, section 4
ARM_SD_MM = 20.0  # by which the arm bends and straightens; the same


@dataclass(frozen=True)
class Value:
    """A number with its standard deviation, in one unit."""

    value: float
    sd: float


def units(mark_mm: float, unit_mm: float, arm_mm: float = ARM_MM) -> Value:
    """A length as part of the unit from their two marks (mm). What is constant in the arm falls out of the ratio; what
    is left is taken for the whole of its error (handbook section 4).
    """
    ratio = mark_mm / unit_mm
    return Value(ratio, ratio * ARM_SD_MM / arm_mm)


def subtended_deg(mark_mm: float, arm_mm: float = ARM_MM) -> Value:
    """Angle that a mark takes up at the eye, its middle on the line of sight: 2·atan(mark / 2·arm)."""
    half = mark_mm / (2.0 * arm_mm)
    return Value(math.degrees(2.0 * math.atan(half)), math.degrees(2.0 * half / (1.0 + half**2)) * ARM_SD_MM / arm_mm)


def distance_m(height_m: float, mark_mm: float, arm_mm: float = ARM_MM) -> Value:
    """How far away something of a known height stands, by its mark: height·arm/mark."""
    away = height_m * arm_mm / mark_mm
    return Value(away, away * ARM_SD_MM / arm_mm)


def height_m(away_m: float, mark_mm: float, arm_mm: float = ARM_MM) -> Value:
    """How tall something at a known distance is, by its mark."""
    tall = away_m * mark_mm / arm_mm
    return Value(tall, tall * ARM_SD_MM / arm_mm)


def lens_of(unit_mm: float, arm_mm: float = ARM_MM) -> Lens:
    """How far the near upright is from the eye in its own lengths, by its mark on the stick."""
    return Lens(unit_mm / arm_mm, unit_mm / arm_mm * ARM_SD_MM / arm_mm)
