"""All rims that a form must have, height by height."""

from __future__ import annotations

import math

import numpy as np

from aspectum.core.aids.round_forms import nearest_guide
from aspectum.core.findings import EyeLevel, Ladder, RailMark, Rung, Source
from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.sightings import Plane
from aspectum.core.view.circles import ellipse_of
from aspectum.core.view.solve import Solution


def ladder(solution: Solution, eye_level: EyeLevel, marks: list[RailMark]) -> list[Ladder]:
    """For every form with level rims, the rim it must have at the height of each rail mark: the
    exact image of its widest agreeing circle, moved up or down its axis.
    """
    bank, own = solution.evidence.rims, solution.own
    if bank is None or own is None or eye_level.source is Source.NONE or not bank.level.any() or not marks:
        return []
    scale, centre = solution.evidence.scale, solution.evidence.setup.centre
    images, _ = bank.basis(solution.params)
    up = solution.points[0][solution.evidence.slot_keys.index((None, Plane.LEVEL.family, None))]
    agrees = solution.active[len(solution.evidence.edges) :]
    widest: dict[str, int] = {}
    for k in sorted(range(len(bank)), key=lambda k: (not agrees[k], -bank.half_major[k])):
        if bank.rims[k].plane is Plane.LEVEL and bank.fits[k].converged:
            widest.setdefault(bank.rims[k].form, k)
    heights = (np.array([mark.y_px for mark in marks]) - centre[1]) / scale
    steep = up[1] - heights * up[2]
    ladders = []
    for form, k in widest.items():
        u, v, size = own[k]
        # up the axis from the circle's centre until it is drawn at each height
        moved = np.array([u, v, 1.0]) + ((heights - v) / np.where(np.abs(steep) < 1e-9, np.nan, steep))[:, None] * up
        depth = np.where(moved[:, 2] < 0.1, np.nan, moved[:, 2])
        at = np.column_stack([moved[:, :2] / depth[:, None], np.zeros(len(marks))])
        ellipses = ellipse_of(at, images[k] * math.exp(size) / depth[:, None, None])
        rungs = []
        for mark, values in zip(marks, ellipses, strict=True):
            if np.all(np.isfinite(values)):
                seen = Ellipse.of_units(values, scale, centre)
                rungs.append(Rung(mark.y_px, mark.units, seen, seen.ratio, nearest_guide(seen.degree_deg)))
        ladders.append(Ladder(form, bank.rims[k].id, tuple(rungs)))
    return ladders
