"""Numbers that every camera and every parallel drawing shares."""

from __future__ import annotations

import math

FULL_FRAME_MM = 36.0  # long side of the film that 35 mm-equivalent focal lengths refer to (Exif; CIPA DC-008)
ISOMETRIC_PITCH_DEG = math.degrees(
    math.atan(1.0 / math.sqrt(2.0))
)  # 35.264: three axes equally foreshortened (ISO 5456-3)


def focal_of(focal_35mm: float, long_side: float) -> float:
    """Focal length, in the unit of the picture's ``long_side``, of a 35 mm-equivalent one (mm)."""
    return long_side * focal_35mm / FULL_FRAME_MM


def focal_35mm_of(focal: float, long_side: float) -> float:
    """The 35 mm-equivalent (mm) of a ``focal`` length in the unit of the picture's ``long_side``."""
    return FULL_FRAME_MM * focal / long_side
