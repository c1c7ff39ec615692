"""How steady a hand is: what a line of a given length on paper can say."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from aspectum.core.plane.lines import Floats


@dataclass(frozen=True)
class Hand:
    """Standard deviations: of each end of a line (mm), of its tilt (degrees) and of its length (a share), beside one
    another.

    The defaults are a freehand's. Common practice: a line of 20 mm drawn so is good to 3 degrees, one of 200 mm to 1.2.
    """

    point_mm: float = 0.7
    tilt_deg: float = 1.2
    length: float = 0.025

    def tilt_sd_deg(self, length_mm: Floats) -> Floats:
        """Of a line's tilt, degrees."""
        return np.asarray(
            np.hypot(self.tilt_deg, np.degrees(np.sqrt(2.0) * self.point_mm / np.maximum(length_mm, 1e-6))), float
        )

    def length_sd(self, length_mm: Floats) -> Floats:
        """Of a length, as a share of it."""
        return np.asarray(np.hypot(self.length, np.sqrt(2.0) * self.point_mm / np.maximum(length_mm, 1e-6)), float)

    def degree_sd_deg(self, major_mm: float, degree_deg: float) -> float:
        """Of a rim's degree: its two axes are drawn as lengths are, and it turns towards the eye as a line turns."""
        ratio = np.sin(np.radians(degree_deg))
        wide = self.length_sd(np.array([major_mm]))[0] * ratio
        deep = np.hypot(self.length * ratio, np.sqrt(2.0) * self.point_mm / max(major_mm, 1e-6))
        return float(
            np.hypot(self.tilt_deg, np.degrees(np.hypot(wide, deep)) / max(np.cos(np.radians(degree_deg)), 0.2))
        )

    def axis_sd_deg(self, major_mm: float, degree_deg: float) -> float:
        """Of a rim's axis, which a round rim hardly has."""
        apart = max(1.0 - np.sin(np.radians(degree_deg)), 0.02)
        return float(self.tilt_sd_deg(np.array([major_mm]))[0] / apart)


FREEHAND_HAND = Hand()
# what a printer drew: only flattening the photo moves it, by about half a pencil line
PRINTED = Hand(0.35, 0.0, 0.0)


class Steadiness(StrEnum):
    """How steady a hand is, in a word."""

    STEADY = "steady"
    USUAL = "usual"
    UNSTEADY = "unsteady"


# a steady hand is one with a ruler, an unsteady one a beginner's or a cold one; common practice
HANDS = {
    Steadiness.STEADY: Hand(0.4, 0.6, 0.0125),
    Steadiness.USUAL: FREEHAND_HAND,
    Steadiness.UNSTEADY: Hand(1.4, 2.4, 0.05),
}
