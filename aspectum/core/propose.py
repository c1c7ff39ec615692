"""Proposing the family of an edge that was just laid, for the person to confirm or change."""

from __future__ import annotations

import numpy as np

from aspectum.core.check import check_converging
from aspectum.core.lines import lean_deg, tilt_deg, tilt_difference
from aspectum.core.model import FREEHAND, Edge, Family, Perspective, Point, Setup

PLUMB_DEG = 14.0  # an edge this near to plumb is taken for an upright
NEAR_DEG = 7.0  # an edge this near to where a known family runs is taken for one of it
FLAT_DEG = 4.0


def propose_family(setup: Setup, edges: list[Edge], form: str, p: Point, q: Point) -> Family:
    """The likeliest family of an edge from ``p`` to ``q`` on ``form``.

    Near plumb: upright. Else the family of the form whose vanishing point it heads for. Failing
    that, by the quick rule: below eye level what climbs to the right runs back to the right, above
    it the other way round.
    """
    tilt = float(tilt_deg(p, q))
    middle = np.array([(p[0] + q[0]) / 2, (p[1] + q[1]) / 2])
    if abs(float(lean_deg(tilt))) < PLUMB_DEG:
        return Family.UPRIGHT
    mine = {e.family for e in edges if e.form == form}
    frontal = bool(mine & {Family.DEPTH, Family.ACROSS}) or setup.perspective is Perspective.ONE_POINT
    level_y = float(setup.centre[1])
    if len(edges) >= 3 and setup.perspective is not Perspective.PARALLEL:
        known = check_converging(setup, edges, FREEHAND)
        height = known.eye_level.height_at(float(middle[0]), setup.width_px)
        level_y = level_y if height is None else height
        gaps: dict[Family, float] = {}
        for v in known.vanishing_points:
            if v.form not in (form, None) or v.family is Family.SLOPE:
                continue
            heading = v.direction_deg if v.x_px is None or v.y_px is None else float(tilt_deg(middle, (v.x_px, v.y_px)))
            if heading is not None:
                gaps[v.family] = abs(float(tilt_difference(tilt, heading)))
        if gaps and min(gaps.values()) < NEAR_DEG:
            return min(gaps, key=lambda f: gaps[f])
    if frontal:
        return Family.ACROSS if abs(tilt) < FLAT_DEG else Family.DEPTH
    below = middle[1] > level_y
    return Family.RIGHT if (tilt > 0) == below else Family.LEFT
