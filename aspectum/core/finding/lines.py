"""Straight lines seen in a picture, as the search for a view takes them."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.lines import Flags, Floats, Ints

ENDS_PX = 0.7  # error (1 sd) across itself of either end of a line that a detector drew
DRAWN = np.radians(0.12)  # what a lens, and the wear of an edge, add to the tilt of a line however long


@dataclass(frozen=True)
class Lines:
    """``n`` lines by their ends ``p`` and ``q`` (n, 2), px, in a picture of ``width_px`` by ``height_px`` with its
    centre of vision in the middle.
    """

    p: Floats
    q: Floats
    width_px: int
    height_px: int

    def __len__(self) -> int:
        return len(self.p)

    def take(self, which: Ints | Flags) -> Lines:
        return Lines(self.p[which], self.q[which], self.width_px, self.height_px)

    @cached_property
    def length_px(self) -> Floats:
        return np.asarray(np.hypot(*(self.q - self.p).T), float)

    @property
    def scale(self) -> float:
        """Pixels per unit of a camera: half the picture's diagonal."""
        return float(np.hypot(self.width_px, self.height_px)) / 2

    @cached_property
    def ends(self) -> tuple[Floats, Floats]:
        """Both ends (n, 2) in camera units, from the picture's middle."""
        centre = np.array([self.width_px / 2, self.height_px / 2])
        return (self.p - centre) / self.scale, (self.q - centre) / self.scale

    @cached_property
    def middle(self) -> Floats:
        a, b = self.ends
        return np.ascontiguousarray((a + b) / 2)

    @cached_property
    def way(self) -> Floats:
        """Unit vectors along the lines, (n, 2)."""
        a, b = self.ends
        return np.ascontiguousarray((b - a) / np.maximum(np.linalg.norm(b - a, axis=1, keepdims=True), 1e-12))

    @cached_property
    def tilt_sd(self) -> Floats:
        """Standard deviation of each tilt, radians, (n,)."""
        return np.asarray(np.hypot(np.sqrt(2.0) * ENDS_PX / np.maximum(self.length_px, 1.0), DRAWN), float)


@compiled(always=True)
def turned_by(point: Floats, middle: Floats, way: Floats) -> float:
    """By what angle (radians) a line would have to turn about its middle to run towards a homogeneous point."""
    dx, dy = point[0] - middle[0] * point[2], point[1] - middle[1] * point[2]
    angle: float = np.arcsin(min(abs(dx * way[1] - dy * way[0]) / max(np.hypot(dx, dy), 1e-12), 1.0))
    return angle


@compiled(always=True)
def all_turned(points: Floats, middle: Floats, way: Floats) -> Floats:
    """``turned_by`` (n, d) of lines by ``middle`` and ``way`` (n, 2) towards each of ``points`` (d, 3)."""
    out = np.empty((len(middle), len(points)))
    for i in range(len(middle)):
        for k in range(len(points)):
            out[i, k] = turned_by(points[k], middle[i], way[i])
    return out
