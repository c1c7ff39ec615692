"""Plumb and level alignments, and tilts from corner to corner (handbook section 4)."""

from __future__ import annotations

import math

import numpy as np

from aspectum.core.findings import Finding
from aspectum.core.form.bundle import SolvedForms
from aspectum.core.form.implied import implied_by_corners
from aspectum.core.plane.lines import Floats, tilt_deg, tilt_difference, tilt_sd_deg, wrap_tilt
from aspectum.core.reasons import AlignmentReason, Rule
from aspectum.core.sightings import Alignment, Guide, Kind, Setup
from aspectum.core.tolerance import Tolerances, Verdict, verdict

RULES = {Verdict.HOLDS: Rule.AGREES, Verdict.OFF: Rule.OUT_OF_LINE, Verdict.UNSURE: Rule.TOO_WEAK}


def alignment_findings(
    alignments: list[Alignment], setup: Setup, tolerances: Tolerances, solved: SolvedForms | None
) -> list[Finding]:
    """Every alignment, plumb, level or from corner to corner."""
    return [
        tilt_finding(a, setup, tolerances, solved) if a.along is Guide.TILT else alignment_finding(a, setup, tolerances)
        for a in alignments
    ]


def alignment_finding(alignment: Alignment, setup: Setup, tolerances: Tolerances) -> Finding:
    """How far two points miss standing plumb above or level beside each other, in pixels.

    Plumb: positive when the upper point lies to the right; level: positive when the right-hand
    point lies higher. The miss may be as much as the tilt tolerance makes of the points' distance.
    """
    plumb = alignment.along is Guide.PLUMB
    (px, py), (qx, qy) = sorted([alignment.p, alignment.q], key=lambda point: point[1] if plumb else point[0])
    miss, apart = (px - qx, qy - py) if plumb else (py - qy, qx - px)
    sd = math.sqrt(2.0) * setup.point_sd_px
    found = verdict(miss, sd, abs(apart) * math.tan(math.radians(tolerances.tilt_deg)))
    return Finding(
        alignment.id,
        Kind.ALIGNMENT,
        None,
        float(miss),
        sd,
        0.0,
        0.0,
        found,
        AlignmentReason(RULES[found], alignment.along),
    )


def tilt_finding(alignment: Alignment, setup: Setup, tolerances: Tolerances, solved: SolvedForms | None) -> Finding:
    """The tilt (degrees) from corner to corner: against what the solved forms require of it where both ends are corners
    of theirs, else a judged one against it.
    """
    p, q, judged = np.array(alignment.p), np.array(alignment.q), alignment.judged_tilt_deg
    sighted = float(tilt_deg(p, q))
    sd = float(tilt_sd_deg(float(np.hypot(*(q - p))), setup.point_sd_px))

    def turn(at: Floats) -> Floats:
        return np.asarray(tilt_difference(tilt_deg(at[:, 0], at[:, 1]), sighted), float)

    due = implied_by_corners(solved, [alignment.p, alignment.q], turn)
    found, rule, implied, implied_sd = Verdict.UNSURE, Rule.TILT, None, None
    if due is not None:
        implied, implied_sd = float(wrap_tilt(sighted + due[0])), due[1]
        found = verdict(due[0], math.hypot(sd, due[1]), tolerances.tilt_deg)
    elif judged is not None:
        found = verdict(float(tilt_difference(judged, sighted)), sd, tolerances.tilt_deg)
    if found is not Verdict.UNSURE or due is not None or judged is not None:
        rule = RULES[found]
    return Finding(
        alignment.id,
        Kind.ALIGNMENT,
        judged,
        sighted,
        sd,
        implied,
        implied_sd,
        found,
        AlignmentReason(rule, alignment.along),
    )
