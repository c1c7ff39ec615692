"""Robust fits, in which a stray sighting barely pulls."""

from __future__ import annotations

import numpy as np

from aspectum.core.plane.lines import Flags
from aspectum.core.view.effort import VIEW_BY
from aspectum.core.view.evidence import Evidence
from aspectum.core.view.perspective import View
from aspectum.core.view.solve import Solution, refine
from aspectum.core.view.starts import _sweep_slopes, coarse_sd, starts, wrong_side


def robust_views(evidence: Evidence, view: View, active: Flags | None = None) -> list[Solution]:
    """Robust fits of the ``active`` sightings from the best starts, in which a stray edge barely
    pulls; one is enough where all edges agree."""
    on = np.ones(evidence.count, bool) if active is None else active
    coarse = coarse_sd(evidence)
    found: list[Solution] = []
    for start in starts(evidence, view, on):
        # a start is only as fine as its grid: sightings finer than that begin with a wider loss
        own = None
        if coarse > evidence.sd:
            wide = refine(evidence, view, start, on, robust=3.0 * coarse / evidence.sd, steps=25)
            start, own = wide.params, wide.own
        found.append(refine(evidence, view, start, on, robust=3.0, steps=25, own=own))
        if evidence.effort.spent(VIEW_BY):
            break
        mirrored = evidence.rims is not None and wrong_side(evidence, found[-1].params).any()
        if found[-1].chi2 < 1.5 * evidence.readings and not mirrored:
            break
    return found


def join_slope(base: Solution, group: str, active: Flags) -> Solution:
    """``base``, a robust fit without the slopes of ``group``, fitted as robustly on ``active``."""
    start = _sweep_slopes(base.evidence, base.params, (base.evidence.slopes.index(group),))
    return refine(base.evidence, base.view, start, active, robust=3.0, steps=25, own=base.own)
