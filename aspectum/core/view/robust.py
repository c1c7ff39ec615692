"""Robust fits, in which a stray sighting barely pulls."""

from __future__ import annotations

import numpy as np

from aspectum.core.plane.lines import Flags, Floats, Ints, half_turn
from aspectum.core.view.camera import FIRST_BEARING, LOG_F, PITCH
from aspectum.core.view.descent import Rest
from aspectum.core.view.evidence import Evidence
from aspectum.core.view.perspective import View
from aspectum.core.view.solve import ENOUGH_ROBUST, Solution, refine, refine_all
from aspectum.core.view.starts import MIRRORED, _sweep_slopes, coarse_sd, starts, wrong_side

LOSS = 3.0  # point errors at which the pull of a sighting begins to fade
FIRST_STEPS, STEPS = 5, 25  # by which a start must show promise, and after which it is left where it is
PROMISING, FINALISTS = 60.0, 6  # cost over the best by which a start may still lag then, and how many go on
RIVAL = 20.0  # cost over the best up to which a robust fit is worth keeping
MOST_VIEWS = 4  # rival views that are carried on beside the best
LENS_SHARE = 0.2  # what a difference in log f counts for beside one in radians or half-diagonals
NEARLY_SAME, SAME_VIEW = (
    0.06,
    0.03,
)  # parameters that two fits on their way to one view differ by at most, at first and at last


def robust_views(evidence: Evidence, view: View, active: Flags | None = None) -> list[Solution]:
    """Robust fits of the ``active`` sightings from a dozen starts, in which a stray sighting barely pulls: the distinct
    ones that explain them about as well as the best, which comes first."""
    on = np.ones(evidence.count, bool) if active is None else active
    params = np.array(starts(evidence, view, on))
    bank = evidence.rims
    own = np.zeros((len(params), 0, 3)) if bank is None else np.array([bank.begin(p) for p in params])
    coarse, loss = coarse_sd(evidence), LOSS
    if coarse > evidence.sd:
        # a start is only as fine as its grid: sightings finer than that begin with a wider loss
        loss = LOSS * coarse / evidence.sd
    rest = fitted(evidence, view, params, on, own, loss, FIRST_STEPS)
    lead = np.argsort(rest.cost, kind="stable")
    lead = distinct(
        rest.params, lead[rest.cost[lead] < rest.cost[lead[0]] * loss / LOSS + PROMISING], FINALISTS, NEARLY_SAME
    )
    rest = fitted(evidence, view, rest.params[lead], on, rest.own[lead], loss, STEPS)
    if loss > LOSS:
        rest = fitted(evidence, view, rest.params, on, rest.own, LOSS, STEPS)
    wrong = np.zeros(len(lead))
    if bank is not None:
        wrong = np.array([MIRRORED * wrong_side(evidence, p).sum() for p in rest.params])
    cost = rest.cost + wrong
    order = np.argsort(cost, kind="stable")
    kept = distinct(rest.params, order[cost[order] < cost[order[0]] + RIVAL], MOST_VIEWS, SAME_VIEW)
    return [
        Solution(
            evidence,
            view,
            rest.params[k],
            on,
            float(rest.cost[k]),
            bool(rest.converged[k]),
            None if bank is None else rest.own[k],
        )
        for k in kept
    ]


def fitted(evidence: Evidence, view: View, params: Floats, on: Flags, own: Floats, loss: float, steps: int) -> Rest:
    return refine_all(evidence, view, params, np.repeat(on[None], len(params), axis=0), own, loss, steps, ENOUGH_ROBUST)


def distinct(params: Floats, order: Ints, most: int, apart_by: float) -> Ints:
    """Those of ``order`` whose ``params`` (B, P) differ by more than ``apart_by``, bearings but for half turns, the
    first of each; at most ``most``.
    """
    marks = params.copy()
    # along a valley in which focal length hardly matters eye level tells views apart, not focal length or pitch
    marks[:, PITCH] = np.exp(params[:, LOG_F]) * np.tan(params[:, PITCH])
    marks[:, LOG_F] *= LENS_SHARE
    kept: list[int] = []
    for k in order.tolist():
        apart = marks[kept] - marks[k]
        apart[:, FIRST_BEARING:] = half_turn(apart[:, FIRST_BEARING:])
        if not (np.abs(apart).max(axis=1, initial=0.0) < apart_by).any():
            kept.append(k)
        if len(kept) == most:
            break
    return np.array(kept, np.intp)


def join_slope(base: Solution, group: str, active: Flags) -> Solution:
    """``base``, a robust fit without the slopes of ``group``, fitted as robustly on ``active``."""
    start = _sweep_slopes(base.evidence, base.params, (base.evidence.slopes.index(group),))
    return refine(base.evidence, base.view, start, active, robust=LOSS, steps=STEPS, own=base.own, enough=ENOUGH_ROBUST)
