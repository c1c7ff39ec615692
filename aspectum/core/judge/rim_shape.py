"""The shape faults of a drawn rim: corner, pointed ends, flat spot, lopsided quarters, straight sides.

A rim has no corners and four matching quarters about its axes. What the points leave over once the
best ellipse is taken out shows a pattern round it; the pattern that explains most is named. The
faults are common practice without a published source.
"""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

from aspectum.core.plane.ellipses import by_shape, curved_weights
from aspectum.core.plane.lines import Floats
from aspectum.core.plane.rim_fit import RimFit
from aspectum.core.reasons import Fault, Rule

# what is told from an ellipse: by no fewer points, and over two thirds of the round
LEAST_POINTS, LEAST_COVERAGE_DEG = 9, 250.0
CLEAR_AT = 4.0  # standard deviations that the clearest of so many patterns must stand out by
LEAST_SHARE = 0.012  # of the major axis: less is a wobble of the hand, not a fault
BUMP_RAD = 0.35  # half width of a corner or flat spot round the ellipse
NARROW = 0.9  # a corner or flat spot must explain this much more than the best even pattern
PLACES = np.linspace(0, 2 * np.pi, 36, endpoint=False)  # every 10° round the rim, where its shape is looked at


@lru_cache(maxsize=2048)
def shape_fault(fit: RimFit) -> Fault | None:
    """The clearest shape fault of a rim, with its depth in pixels and as a share of its width, or
    None where the points say nothing against an ellipse. Needs most of the rim.
    """
    if len(fit.points) < LEAST_POINTS or fit.coverage_deg < LEAST_COVERAGE_DEG:
        return None
    t = fit.turns
    leftover = Leftover(fit)
    even = leftover.explained(np.stack([np.cos(4 * t), np.cos(3 * t), np.sin(3 * t)], axis=1))
    (fourth, by_fourth), *thirds = zip(*(v.tolist() for v in even), strict=True)
    lopsided, by_lopsided = math.hypot(*(depth for depth, _ in thirds)), sum(gain for _, gain in thirds)
    found = [
        (by_fourth, Rule.POINTED_ENDS if fourth > 0 else Rule.STRAIGHT_SIDES, abs(fourth)),
        (by_lopsided, Rule.LOPSIDED, lopsided),
    ]
    best_even = max(by_fourth, by_lopsided)
    away = np.angle(np.exp(1j * (t[:, None] - PLACES)))
    bumps = np.exp(-0.5 * (away / BUMP_RAD) ** 2)
    depths, gains = leftover.explained(bumps[:, (bumps > 0.3).sum(axis=0) >= 2])
    if len(gains) and gains.max() > best_even / NARROW:
        at = int(np.argmax(gains))
        found.append((float(gains[at]), Rule.CORNER if depths[at] > 0 else Rule.FLAT_SPOT, float(abs(depths[at]))))
    gain, rule, depth_px = max(found)
    width = 2 * fit.axes[0]
    if gain < CLEAR_AT**2 or depth_px < LEAST_SHARE * width:
        return None
    return Fault(rule, size_px=depth_px, share=depth_px / width)


def ellipse_moves(fit: RimFit) -> Floats:
    """How a change of each of the ellipse's five unknowns moves its outline at the points (n, 5)."""
    major, minor, angle = fit.axes
    along, across, turn = by_shape(angle)
    c, s = np.cos(fit.turns), np.sin(fit.turns)
    size = np.hypot(minor * c, major * s)
    nx, ny = minor * c / size, major * s / size
    moves = np.zeros((len(c), 5))
    moves[:, 0] = nx * np.cos(angle) - ny * np.sin(angle)
    moves[:, 1] = nx * np.sin(angle) + ny * np.cos(angle)
    moves += np.outer(nx * c, along) + np.outer(ny * s, across) + np.outer(nx * s + ny * c, turn)
    return moves


class Leftover:
    """The whitened misses of a rim less what any change of its ellipse would explain."""

    def __init__(self, fit: RimFit) -> None:
        major, minor, _ = fit.axes
        self.weight = curved_weights(major, minor, fit.turns, fit.point_sd_px) / fit.point_sd_px
        self.free, _ = np.linalg.qr(ellipse_moves(fit) * self.weight[:, None])
        self.left = self._less(fit.misses * self.weight)

    def _less(self, values: Floats) -> Floats:
        return np.asarray(values - self.free @ (self.free.T @ values), float)

    def explained(self, patterns: Floats) -> tuple[Floats, Floats]:
        """Depth (px) of each of ``patterns`` (n, k) in the misses and the chi-square that it
        explains, both (k,).
        """
        mine = self._less(patterns * self.weight[:, None])
        square = np.maximum((mine * mine).sum(axis=0), 1e-12)
        along = mine.T @ self.left
        return along / square, along**2 / square
