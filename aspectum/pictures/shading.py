"""Flat faces shaded into a picture, the nearest in front."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]
Image = npt.NDArray[np.uint8]
LEAST_AREA_PX = 0.5  # a face seen edge-on covers nothing
SHIFT = 4  # binary places of a pixel that corners are laid to
LEVEL = 1e-9  # by which one face must be nearer than another


@dataclass(frozen=True)
class Facet:
    """A flat face in the picture: its ``rings`` (k, 2) in px, the outer first; ``nearness`` (k,) at the outer ring's
    corners, any measure that is affine over the picture and grows towards the viewer (1/depth in perspective);
    ``tone``: its colour, red, green and blue.
    """

    rings: tuple[Floats, ...]
    nearness: Floats
    tone: tuple[int, int, int]


def shaded(width_px: int, height_px: int, ground: tuple[int, int, int], facets: list[Facet]) -> Image:
    """An RGB picture (height, width, 3) of ``facets`` on a plain ground; what reaches beyond it is cut off."""
    image = np.full((height_px, width_px, 3), ground, dtype=np.uint8)
    nearest = np.full((height_px, width_px), -np.inf)
    for facet in facets:
        outer = facet.rings[0]
        x0, y0 = np.maximum(np.floor(outer.min(axis=0)), 0).astype(int)
        x1, y1 = np.minimum(np.ceil(outer.max(axis=0)) + 1, (width_px, height_px)).astype(int)
        if x1 <= x0 or y1 <= y0 or _area(outer) < LEAST_AREA_PX:
            continue
        mask = np.zeros((y1 - y0, x1 - x0), dtype=np.uint8)
        # pixel centres lie at half pixels, OpenCV's at whole ones
        rings = [np.round((ring - (x0 + 0.5, y0 + 0.5)) * (1 << SHIFT)).astype(np.int32) for ring in facet.rings]
        cv2.fillPoly(mask, rings, 1, shift=SHIFT)
        slope_x, slope_y, at_nought = _plane(outer, facet.nearness)
        near = slope_x * (np.arange(x0, x1) + 0.5)[None, :] + slope_y * (np.arange(y0, y1) + 0.5)[:, None] + at_nought
        before = (mask > 0) & (near > nearest[y0:y1, x0:x1] + LEVEL)
        nearest[y0:y1, x0:x1][before] = near[before]
        image[y0:y1, x0:x1][before] = facet.tone
    return image


def _plane(ring: Floats, nearness: Floats) -> tuple[float, float, float]:
    """The affine measure through a ring's corners: by three spread over it; by all of them where those lie
    in one line.
    """
    n = len(ring)
    third = n // 3 or 1
    a, b, c = (int(i) % n for i in (0, third, 2 * third))
    (ax, ay), (bx, by), (cx, cy) = ring[a], ring[b], ring[c]
    by_two = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay)
    if abs(by_two) < LEAST_AREA_PX:
        fitted, *_ = np.linalg.lstsq(np.column_stack([ring, np.ones(n)]), nearness, rcond=None)
        return float(fitted[0]), float(fitted[1]), float(fitted[2])
    ab, ac = nearness[b] - nearness[a], nearness[c] - nearness[a]
    x = (ab * (cy - ay) - ac * (by - ay)) / by_two
    y = (ac * (bx - ax) - ab * (cx - ax)) / by_two
    return float(x), float(y), float(nearness[a] - x * ax - y * ay)


def _area(ring: Floats) -> float:
    x, y = ring.T
    return abs(float(x @ np.roll(y, -1) - y @ np.roll(x, -1))) / 2
