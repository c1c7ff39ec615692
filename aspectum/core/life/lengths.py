"""Lengths read from life, and what a side's vanishing point asks of its far upright."""

from __future__ import annotations

import math

import numpy as np

from aspectum.core.findings import Finding
from aspectum.core.judge.lengths import nearest_fraction, weighed
from aspectum.core.life.fit import CLOSING, SIDES, FarUpright, far_uprights, fit
from aspectum.core.life.near_corner import NearCorner
from aspectum.core.life.readings import LengthReading, Of
from aspectum.core.life.tilts import others_of
from aspectum.core.reasons import LengthReason, Rule
from aspectum.core.sightings import Kind
from aspectum.core.tolerance import Tolerances, Verdict


@np.errstate(all="ignore")  # readings far out overflow on the way to answers that are then open
def length_reading_findings(
    readings: list[LengthReading], card: NearCorner | None, tolerances: Tolerances
) -> list[Finding]:
    """Lengths in near-upright units. A far upright is checked against the card: its side's vanishing point and the
    width to it say how long it must be. Which of the two is wrong nothing tells, so both are to be taken again.
    """
    far = {u.id: u for u in far_uprights([r for r in readings if r.of is Of.FAR_UPRIGHT])}
    named = () if card is None or card.retake is None else card.retake.named
    findings = []
    for reading in readings:
        upright = far.get(reading.id)
        implied = None if card is None or upright is None else implied_far_upright(upright, card)
        found, rule = Verdict.UNSURE, Rule.RATIO
        if implied is not None and implied[0] > 0:
            # the width's own error is in what it implies already
            found, rule = weighed(
                reading.ratio / implied[0] - 1.0,
                math.hypot(reading.ratio_sd, implied[1]) / implied[0],
                tolerances.length,
                *FAULTS,
            )
            if found is Verdict.OFF and named != (reading.id,):
                found, rule = Verdict.UNSURE, Rule.ONE_OF_A_PAIR if reading.id in named else Rule.TOO_WEAK
        fraction, over = nearest_fraction(abs(reading.ratio)) if reading.ratio else (0, 0.0)
        due, due_sd = (None, None) if implied is None else implied
        others = (
            ()
            if upright is None
            else (upright.width_id, *(id for id in named if rule is Rule.ONE_OF_A_PAIR and id != reading.id))
        )
        findings.append(
            Finding(
                reading.id,
                Kind.LENGTH,
                reading.judged_ratio,
                reading.ratio,
                reading.ratio_sd,
                due,
                due_sd,
                found,
                LengthReason(rule, str(fraction), over, others),
            )
        )
    return findings


FAULTS = (Rule.TOO_LONG, Rule.TOO_SHORT)


def implied_far_upright(upright: FarUpright, card: NearCorner) -> tuple[float, float] | None:
    """Length that everything else asks of a far upright, '1 - width/distance' by similar triangles at the vanishing
    point, and its standard deviation; None where nothing else tells the side's distance.
    """
    column = CLOSING + SIDES.index(upright.side)
    found = fit(others_of(card, upright.id))
    if found is None or not found.fixed or column not in found.free:
        return None
    closing, sd = found.closing(upright.side), math.sqrt(max(float(found.covariance[column, column]), 0.0))
    return 1.0 - closing * upright.width, float(np.hypot(closing * upright.width_sd, upright.width * sd))
