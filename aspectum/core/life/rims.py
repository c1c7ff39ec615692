"""Rims read from life: both degrees of each, and what eye level asks of it."""

from __future__ import annotations

import math

import numpy as np

from aspectum.core.findings import Finding
from aspectum.core.life.fit import LEVEL, OPENING, fit
from aspectum.core.life.near_corner import NearCorner
from aspectum.core.life.readings import RimReading
from aspectum.core.life.tilts import others_of
from aspectum.core.reasons import RimReason, Rule
from aspectum.core.sightings import Kind, Plane
from aspectum.core.tolerance import Tolerances, Verdict, verdict

# by which a corner that is taken to be square and on the line of sight may miss the eye's distance; common practice
SQUARE_SHARE = 0.15


@np.errstate(all="ignore")  # readings far out overflow on the way to answers that are then open
def rim_reading_findings(readings: list[RimReading], card: NearCorner | None, tolerances: Tolerances) -> list[Finding]:
    """A finding for every rim, by its degree as drawn. A level rim opens in proportion to its height off eye level
    (handbook section 3); how fast, the other rims tell, or the eye's distance does.
    """
    named = () if card is None or card.retake is None else card.retake.named
    findings = []
    for r in readings:
        seen, seen_sd = r.drawn_degree_deg, degree_sd(r.drawn_ratio, r.drawn_sd)
        implied = None if card is None else implied_degree(r, card)
        found, rule, opens = Verdict.UNSURE, Rule.NOTHING_TO_CHECK, 0.0
        if implied is not None:
            gap, gap_sd = seen - implied[0], math.hypot(seen_sd, implied[1])
            opens = -gap
            found = verdict(gap, gap_sd, tolerances.degree_deg)
            rule = {
                Verdict.HOLDS: Rule.AGREES,
                Verdict.UNSURE: Rule.TOO_WEAK,
                Verdict.OFF: Rule.RIM_TOO_ROUND if gap > 0 else Rule.RIM_TOO_FLAT,
            }[found]
            if found is Verdict.OFF and len(named) == 2 and r.id in named:
                found, rule = Verdict.UNSURE, Rule.ONE_OF_A_PAIR
        others = tuple(id for id in named if id != r.id) if rule is Rule.ONE_OF_A_PAIR else ()
        due, due_sd = (None, None) if implied is None else implied
        findings.append(
            Finding(
                r.id,
                Kind.RIM,
                r.judged_degree_deg,
                seen,
                seen_sd,
                due,
                due_sd,
                found,
                RimReason(rule, opens, plane=r.plane, others=others),
            )
        )
    return findings


def implied_degree(r: RimReading, card: NearCorner) -> tuple[float, float] | None:
    """Degree that eye level asks of a level rim and its standard deviation; None where its height, eye level or the
    eye's distance is open.
    """
    if r.down is None or r.plane is not Plane.LEVEL:
        return None
    found = fit(others_of(card, r.id))
    if found is not None and found.fixed and LEVEL in found.free and OPENING in found.free:
        arm, opening, covariance = r.down - found.level, float(found.x[OPENING]), found.covariance
        ratio = opening * abs(arm)
        spread = (
            arm**2 * covariance[OPENING, OPENING]
            + opening**2 * covariance[LEVEL, LEVEL]
            - 2 * abs(arm) * opening * math.copysign(1, arm) * covariance[LEVEL, OPENING]
        )
        return as_degree(ratio, math.sqrt(max(float(spread), 0.0)))
    if card.focal is None or card.eye_level is None:
        return None
    ratio = abs(r.down - card.eye_level) / card.focal
    return as_degree(ratio, math.hypot((card.eye_level_sd or 0.0) / card.focal, SQUARE_SHARE * ratio))


def as_degree(ratio: float, sd: float) -> tuple[float, float]:
    ratio = min(ratio, 1.0)
    return math.degrees(math.asin(ratio)), degree_sd(ratio, sd)


def degree_sd(ratio: float, sd: float) -> float:
    """Standard deviation of a degree (degrees) where its ratio has ``sd``: to first order, but no wider than the
    ratio's own range makes it.
    """
    low, high = (math.asin(min(max(ratio + way * sd, 0.0), 1.0)) for way in (-1, 1))
    return math.degrees(max(high - low, 1e-9)) / 2
