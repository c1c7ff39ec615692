"""Lengths against the unit, and plumb and level alignments (handbook section 4)."""

from __future__ import annotations

from fractions import Fraction

import numpy as np

from aspectum.core.model import Alignment, Finding, Length, Reason, Rule, Setup, Tolerances, Verdict

DENOMINATORS = (1, 2, 3, 4, 5, 8)


def nearest_fraction(ratio: float) -> tuple[Fraction, float]:
    """The nearest whole, half, third, quarter, fifth or eighth of the unit, and the signed share
    by which ``ratio`` exceeds it. Simpler fractions win within a quarter per cent.
    """
    if not ratio > 0:
        raise ValueError("a ratio of lengths is positive")
    best = Fraction(1, 8)
    best_gap = np.inf
    for denominator in DENOMINATORS:
        candidate = Fraction(max(1, round(ratio * denominator)), denominator)
        gap = abs(ratio / float(candidate) - 1.0)
        if gap < best_gap - 0.0025:
            best, best_gap = candidate, gap
    return best, ratio / float(best) - 1.0


def extent_px(length: Length) -> float:
    """The length along the edge, straight across or straight up, in pixels."""
    dx, dy = abs(length.q[0] - length.p[0]), abs(length.q[1] - length.p[1])
    return {"across": dx, "upright": dy}.get(length.along, float(np.hypot(dx, dy)))


def check_length(length: Length, lengths: list[Length], setup: Setup, tolerances: Tolerances) -> Finding:
    """A length as a ratio to the unit, with the error that the laid points give it.

    A ratio on the picture has nothing that implies it, so the verdict compares a judged ratio
    with the sighted one; without a judgement it stays unsure.
    """
    unit = next((other for other in lengths if other.unit), None)
    reach = extent_px(length)
    if unit is None or extent_px(unit) <= 0 or reach <= 0:
        return Finding(length.id, "length", length.judged_ratio, None, None, None, None, Verdict.UNSURE, Reason(Rule.NOTHING_TO_CHECK))
    base = extent_px(unit)
    ratio = reach / base
    sd = 0.0 if length is unit else ratio * np.sqrt(2.0) * setup.point_sd_px * float(np.hypot(1 / reach, 1 / base))
    fraction, over = nearest_fraction(ratio)
    reason = Reason(Rule.RATIO, turn_deg=over, fraction=str(fraction), others=(unit.id,))
    verdict = Verdict.HOLDS if length is unit else Verdict.UNSURE
    if length.judged_ratio is not None and length is not unit:
        gap = abs(length.judged_ratio / ratio - 1.0)
        if gap > max(tolerances.length, 2.0 * sd / ratio):
            verdict = Verdict.OFF
        elif sd / ratio <= tolerances.length:
            verdict = Verdict.HOLDS
    return Finding(length.id, "length", length.judged_ratio, ratio, float(sd), None, None, verdict, reason)


def check_alignment(alignment: Alignment, setup: Setup, tolerances: Tolerances) -> Finding:
    """How far two points miss standing plumb above or level beside each other, in pixels.

    Plumb: positive when the upper point lies to the right; level: positive when the right-hand
    point lies higher. Off when the miss exceeds the tilt tolerance over the points' distance and
    twice the reading error.
    """
    (px, py), (qx, qy) = sorted([alignment.p, alignment.q], key=lambda point: point[1] if alignment.along == "plumb" else point[0])
    miss, apart = (px - qx, qy - py) if alignment.along == "plumb" else (py - qy, qx - px)
    sd = float(np.sqrt(2.0)) * setup.point_sd_px
    allowed = abs(apart) * float(np.tan(np.radians(tolerances.tilt_deg)))
    verdict = Verdict.OFF if abs(miss) > max(allowed, 2.0 * sd) else Verdict.UNSURE if sd > allowed else Verdict.HOLDS
    reason = Reason(Rule.OUT_OF_LINE if verdict is Verdict.OFF else Rule.AGREES, goes=alignment.along)
    return Finding(alignment.id, "alignment", None, float(miss), sd, 0.0, 0.0, verdict, reason)
