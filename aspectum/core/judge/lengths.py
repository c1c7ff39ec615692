"""Lengths against the unit on the picture (handbook section 4)."""

from __future__ import annotations

import math
from fractions import Fraction

import numpy as np

from aspectum.core.findings import Finding
from aspectum.core.form.bundle import SolvedForms
from aspectum.core.form.implied import implied_by_corners
from aspectum.core.plane.lines import Floats
from aspectum.core.reasons import LengthReason, Rule
from aspectum.core.sightings import Along, Kind, Length, Setup
from aspectum.core.tolerance import Tolerances, Verdict, verdict

DENOMINATORS = (1, 2, 3, 4, 5, 8)  # simple parts that an eye counts in; sevenths nobody does (handbook section 4)


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
    return {Along.ACROSS: dx, Along.UPRIGHT: dy}.get(length.along, math.hypot(dx, dy))


def length_findings(
    lengths: list[Length], setup: Setup, tolerances: Tolerances, found: SolvedForms | None = None
) -> list[Finding]:
    """Each length as a ratio to the one that is the unit, with the error that the laid points give it.

    Between corners of forms that are solved the ratio is implied, and the sighted one is weighed against it; elsewhere
    a judged one is weighed against the sighted one, and without a judgement the finding stays unsure.
    """
    unit = next((length for length in lengths if length.unit), None)
    return [length_finding(length, unit, setup, tolerances, found) for length in lengths]


def length_finding(
    length: Length, unit: Length | None, setup: Setup, tolerances: Tolerances, solved: SolvedForms | None
) -> Finding:
    reach, base = extent_px(length), 0.0 if unit is None else extent_px(unit)
    if unit is None or base <= 0 or reach <= 0:
        reason = LengthReason(Rule.NOTHING_TO_CHECK)
        return Finding(length.id, Kind.LENGTH, length.judged_ratio, None, None, None, None, Verdict.UNSURE, reason)
    ratio = reach / base
    if length is unit:
        return Finding(
            length.id,
            Kind.LENGTH,
            length.judged_ratio,
            ratio,
            0.0,
            None,
            None,
            Verdict.HOLDS,
            LengthReason(Rule.UNIT, "1", others=(unit.id,)),
        )
    share_sd = math.sqrt(2.0) * setup.point_sd_px * math.hypot(1 / reach, 1 / base)
    found, rule = Verdict.UNSURE, Rule.RATIO
    due, due_sd = implied_ratio(length, unit, solved) or (None, None)
    if due is not None and due_sd is not None and due > 0:
        found, rule = weighed(
            ratio / due - 1.0,
            math.hypot(ratio * share_sd, due_sd) / due,
            tolerances.length,
            Rule.TOO_LONG,
            Rule.TOO_SHORT,
        )
    elif length.judged_ratio is not None:
        found, rule = weighed(length.judged_ratio / ratio - 1.0, share_sd, tolerances.length)
    fraction, over = nearest_fraction(ratio)
    reason = LengthReason(rule, str(fraction), over, (unit.id,))
    return Finding(length.id, Kind.LENGTH, length.judged_ratio, ratio, ratio * share_sd, due, due_sd, found, reason)


def implied_ratio(length: Length, unit: Length, solved: SolvedForms | None) -> tuple[float, float] | None:
    """The ratio, and its standard deviation, where both ends of both lengths lie at sighted corners."""

    def extent(run: Floats, along: Along) -> Floats:
        return (
            np.abs(run[:, 0])
            if along is Along.ACROSS
            else np.abs(run[:, 1])
            if along is Along.UPRIGHT
            else np.hypot(run[:, 0], run[:, 1])
        )

    def ratio(at: Floats) -> Floats:
        return np.asarray(extent(at[:, 1] - at[:, 0], length.along) / extent(at[:, 3] - at[:, 2], unit.along), float)

    return implied_by_corners(solved, [length.p, length.q, unit.p, unit.q], ratio)


def weighed(
    over: float, sd: float, allowed: float, more: Rule = Rule.JUDGED_LONG, less: Rule = Rule.JUDGED_SHORT
) -> tuple[Verdict, Rule]:
    """Verdict on what is by ``over`` too much, as a share, and the rule behind it: beyond doubt it is ``more``, or
    ``less``, than it should be.
    """
    found = verdict(over, sd, allowed)
    if found is Verdict.OFF:
        return found, more if over > 0 else less
    return found, Rule.AGREES if found is Verdict.HOLDS else Rule.TOO_WEAK
