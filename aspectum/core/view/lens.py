"""Lenses: focal lengths in millimetres and pixels, and what is known of a lens beforehand."""

from __future__ import annotations

import math

# a lens nobody named: most photographs lie between 11 and 115 mm (35 mm-equivalent)
TYPICAL_FOCAL_35MM, TYPICAL_LOG_SD = 36.0, 0.6
CONE_DEG = 60.0  # the cone of vision, all told (common practice; handbook section 1)
EXIF_LOG_SD = 0.03  # rounding to whole millimetres and a little cropping


def view_deg(focal: float, width: float) -> float:
    """Angle of view (degrees) across ``width`` by a lens of ``focal`` length in the same unit: 2 atan(width / 2f)
    (handbook section 1).
    """
    return math.degrees(2.0 * math.atan(width / 2.0 / focal))


def cone_radius(focal: float) -> float:
    """Radius of the cone of vision on the picture, in the unit of ``focal``: f tan 30°."""
    return focal * math.tan(math.radians(CONE_DEG / 2.0))
