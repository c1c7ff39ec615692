"""Sizes of paper. Kept apart from what finds it, so that naming a size costs no library."""

from __future__ import annotations

INCH_MM = 25.4  # by definition
FLAT_LONG_PX = 2400  # longer side of a flattened sheet: 8 px a mm on A4, about what a photo of it holds
# width and height upright, mm (ISO 216)
ISO_216 = {
    "A1": (594.0, 841.0),
    "A2": (420.0, 594.0),
    "A3": (297.0, 420.0),
    "A4": (210.0, 297.0),
    "A5": (148.0, 210.0),
    "A6": (105.0, 148.0),
}
