"""Tilts read from life, each weighed against everything else on the card."""

from __future__ import annotations

import math

import numpy as np

from aspectum.core.findings import Finding
from aspectum.core.life.fit import CLOSING, LEVEL, SIDES, Evidence, fit
from aspectum.core.life.near_corner import NearCorner
from aspectum.core.life.readings import TiltReading
from aspectum.core.reasons import EdgeReason, Rule
from aspectum.core.sightings import Kind, Side
from aspectum.core.tolerance import Tolerances, Verdict, verdict


@np.errstate(all="ignore")  # readings far out overflow on the way to answers that are then open
def tilt_reading_findings(readings: list[TiltReading], card: NearCorner, tolerances: Tolerances) -> list[Finding]:
    """A finding for every tilt read from life, each weighed against the others on the card. The reading
    to take again is off; while one of two may be the wrong one, both stay unsure. The rest are weighed
    with it left out.
    """
    named = () if card.retake is None else card.retake.named
    findings = []
    for r in readings:
        implied, turn, combined = weighed(r, others_of(card, r.id))
        found = verdict(turn, combined, tolerances.tilt_deg)
        rule, others = Rule.AGREES, tuple(id for id in named if id != r.id) if r.id in named else ()
        if others:
            found, rule = Verdict.UNSURE, Rule.ONE_OF_A_PAIR
        elif implied is None:
            rule = Rule.NOTHING_TO_CHECK
        elif found is Verdict.OFF and r.id in named:
            rule = Rule.TAKE_AGAIN
        elif found is not Verdict.HOLDS:
            found, rule = Verdict.UNSURE, Rule.TOO_WEAK
        due, due_sd = (None, None) if implied is None else implied
        reason = EdgeReason(rule, 0.0 if implied is None else turn, goes=r.side, others=others)
        findings.append(Finding(r.id, Kind.EDGE, r.judged_tilt_deg, r.tilt_deg, r.sd_deg, due, due_sd, found, reason))
    return findings


def others_of(card: NearCorner, id: str) -> Evidence:
    """Everything on the card but one reading, and but the reading that is surely wrong."""
    rest = card.evidence.without(id)
    return rest if card.left_out is None else rest.without(card.left_out)


def weighed(r: TiltReading, others: Evidence) -> tuple[tuple[float, float] | None, float, float]:
    """What ``others`` imply of a reading, and how far it must turn for that (degrees) with the
    standard deviation of it; nan where they leave it open.
    """
    implied = implied_tilt(r, others)
    return (
        (None, math.nan, math.nan)
        if implied is None
        else (implied, implied[0] - r.tilt_deg, math.hypot(r.sd_deg, implied[1]))
    )


def implied_tilt(reading: TiltReading, others: Evidence) -> tuple[float, float] | None:
    """The tilt (degrees) that ``others`` require of ``reading`` and its first-order standard deviation, or None
    where they leave it open.
    """
    if reading.side is None or reading.side not in others.sides:
        return None
    found = fit(others)
    if found is None or not found.fixed or LEVEL not in found.free:
        return None
    closing, arm = found.closing(reading.side), found.level - reading.height
    by = np.zeros(4)
    by[LEVEL], by[CLOSING + SIDES.index(reading.side)] = closing, arm
    by /= 1.0 + (closing * arm) ** 2
    fall, spread = (
        math.degrees(math.atan(closing * arm)),
        math.degrees(math.sqrt(max(float(by @ found.covariance @ by), 0.0))),
    )
    if not math.isfinite(fall) or not math.isfinite(spread):
        return None
    return fall if reading.side is Side.LEFT else -fall, spread
