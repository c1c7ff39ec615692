"""What the solved forms require of a length, or of the tilt from corner to corner: both ends at sighted corners."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from aspectum.core.form.bundle import SolvedForms, deviation
from aspectum.core.form.corners import SAME_CORNER
from aspectum.core.plane.lines import Floats
from aspectum.core.sightings import Point

Quantity = Callable[[Floats], Floats]  # of picture points (B, n, 2), in pixels: one figure a row (B,)


def corner_at(found: SolvedForms, at: Point) -> int | None:
    """The sighted end nearest to ``at`` that could be the same corner."""
    layout = found.layout
    gap = np.hypot(*(layout.at - np.array(at)).T)
    gap[layout.cut] = np.inf
    k = int(np.argmin(gap))
    return k if gap[k] <= SAME_CORNER * found.solution.evidence.setup.point_sd_px else None


def implied_by_corners(
    found: SolvedForms | None, points: list[Point], quantity: Quantity
) -> tuple[float, float] | None:
    """A ``quantity`` of the corners at ``points`` where the solved forms have them, and its standard deviation; None
    where one of the points lies at no corner. By differences along every unknown: the corners move together.
    """
    if found is None or not len(found.layout.ends):
        return None
    ends = [corner_at(found, at) for at in points]
    if any(k is None for k in ends):
        return None
    chosen = np.array(ends, np.intp)
    seen, evidence = found.seen, found.solution.evidence
    at = (found.layout.at[chosen] + seen.r[chosen] * evidence.setup.point_sd_px)[None]
    by = np.zeros((len(chosen), 2, len(found.covariance)))
    for n, k in enumerate(chosen):
        on = seen.columns[k] >= 0
        by[n][:, seen.columns[k][on]] = seen.jac[k][:, on] * evidence.setup.point_sd_px
    spread = np.einsum("nif,fg,mjg->nimj", by, found.covariance, by).reshape(2 * len(chosen), -1)
    step = 1e-3
    moves = step * np.eye(2 * len(chosen)).reshape(-1, len(chosen), 2)
    slope = (quantity(at + moves) - quantity(at - moves)) / (2 * step)
    value, sd = float(quantity(at)[0]), deviation(slope, spread)
    return (value, sd) if np.isfinite(value) and np.isfinite(sd) else None
