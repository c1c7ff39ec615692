"""Plumb and level alignments (handbook section 4)."""

from __future__ import annotations

import math

from aspectum.core.findings import AlignmentReason, Finding, Rule
from aspectum.core.sightings import Alignment, Guide, Kind, Setup
from aspectum.core.tolerance import Tolerances, Verdict, verdict

RULES = {Verdict.HOLDS: Rule.AGREES, Verdict.OFF: Rule.OUT_OF_LINE, Verdict.UNSURE: Rule.TOO_WEAK}


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
    return Finding(alignment.id, Kind.ALIGNMENT, None, float(miss), sd, 0.0, 0.0, found, AlignmentReason(RULES[found], alignment.along))
