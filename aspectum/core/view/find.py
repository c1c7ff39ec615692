"""Find the view: the stated perspective, or the one that the sightings speak for."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from aspectum.core.sightings import Edge, Family, Perspective, Setup
from aspectum.core.tolerance import Tolerances
from aspectum.core.view.camera import LOG_F, PITCH
from aspectum.core.view.effort import PLANS_BY, Effort
from aspectum.core.view.evidence import FittedRims, gather, slope_key
from aspectum.core.view.perspective import frontal_forms, view_for
from aspectum.core.view.robust import join_slope, robust_views
from aspectum.core.view.solve import Solution
from aspectum.core.view.strays import STRAY_AT, solve, strain

FOUND_AGAINST = 14.0  # chi-square by which the sightings must speak against a found view to be heard without it
SHIFT_GAIN = 8.0  # chi-square by which a shifted view must beat a pitched one


def find_view(
    setup: Setup, edges: tuple[Edge, ...], rims: FittedRims = (), effort: Effort | None = None
) -> tuple[Solution, ...]:
    """Fit the stated perspective, or, for ``auto``, the one that the sightings speak for, to the
    sightings that agree; the best fit first, then others that explain them about as well.

    What a whole picture was found to say of its view counts beside them, unless they flatly contradict it: then they
    have the word. A focal length from Exif that they flatly contradict is set aside: the picture is cropped.
    """
    effort = effort or Effort.for_sheet(len(edges), len(rims))
    if setup.found is not None:
        whole, alone = fit_view(setup, edges, rims, effort), find_view(replace(setup, found=None), edges, rims, effort)
        return alone if strain(alone[0]) + FOUND_AGAINST < strain(whole[0]) else whole
    found = fit_view(setup, edges, rims, effort)
    spare = max(found[0].evidence.readings - len(found[0].view.free), 1)
    if setup.focal_35mm is not None and strain(found[0]) > spare + SHIFT_GAIN:
        alone = fit_view(replace(setup, focal_35mm=None), edges, rims, effort)
        if strain(alone[0]) + STRAY_AT**2 < strain(found[0]):
            return alone
    return found


def fit_view(
    setup: Setup, edges: tuple[Edge, ...], rims: FittedRims = (), effort: Effort | None = None
) -> tuple[Solution, ...]:
    """As ``find_view``, taking the setup at its word."""
    stated = setup.perspective
    effort = effort or Effort.for_sheet(len(edges), len(rims))
    evidence = gather(setup, edges, choose_plans(setup, edges, effort), rims, effort)
    if stated is not Perspective.AUTO:
        return solve(evidence, view_for(evidence, stated))
    general = solve(evidence, view_for(evidence, Perspective.THREE_POINT))
    if setup.centre_px is not None or setup.level_camera:
        return general
    frontal = bool(frontal_forms(evidence))
    spare = evidence.readings - len(general[0].view.free)
    if not frontal and strain(general[0]) < max(spare, 1) + SHIFT_GAIN:
        return general
    shifted = Perspective.ONE_POINT if frontal else Perspective.TWO_POINT
    other = solve(evidence, view_for(evidence, shifted))
    fewer = len(general[0].view.free) - len(other[0].view.free)
    margin = -2.0 * fewer if frontal else SHIFT_GAIN
    return other if strain(other[0]) + margin < strain(general[0]) else general


def choose_plans(setup: Setup, edges: tuple[Edge, ...], effort: Effort) -> dict[str, Family]:
    """Each slope group's plan family: as stated, or the one whose plumb line it fits better, where
    the effort reaches to tell; ``left`` where it does not.
    """
    plans: dict[str, Family] = {}
    unstated: list[str] = []
    for e in edges:
        if e.family is Family.SLOPE:
            key = slope_key(e)
            if e.plan is not None:
                plans[key] = e.plan
            elif key not in plans and key not in unstated:
                unstated.append(key)
    unstated = [key for key in unstated if key not in plans]
    for key in unstated:
        plans[key] = Family.LEFT
    if not unstated:
        return plans
    perspective = Perspective.THREE_POINT if setup.perspective is Perspective.AUTO else setup.perspective
    groups = [slope_key(e) if e.family is Family.SLOPE and e.plan is None else None for e in edges]
    rest = np.array([group not in unstated for group in groups])
    evidence = gather(setup, edges, plans, effort=effort)
    bases = robust_views(evidence, view_for(evidence, perspective), rest)
    for key in unstated:
        mine = np.array([group == key for group in groups])
        if effort.spent(PLANS_BY):
            effort.leave(e.id for e, on in zip(edges, mine, strict=True) if on)
            continue
        costs = {}
        for family in (Family.LEFT, Family.RIGHT):
            evidence = gather(setup, edges, plans | {key: family}, effort=effort)
            costs[family] = min(join_slope(replace(base, evidence=evidence), key, rest | mine).chi2 for base in bases)
        plans[key] = min(costs, key=lambda f: costs[f])
    return plans


def name_perspective(solution: Solution, tolerances: Tolerances) -> Perspective:
    """Name a view found by ``auto``: two-point while uprights lean less than the tilt tolerance
    at the picture's sides, one-point while a face stands parallel to the picture as nearly.
    """
    setup = solution.evidence.setup
    if solution.view.perspective is not Perspective.THREE_POINT or setup.perspective is Perspective.THREE_POINT:
        return solution.view.perspective
    params = solution.params
    half_width = setup.width_px / 2 / solution.evidence.scale
    lean = np.degrees(np.arctan(half_width * abs(np.tan(params[PITCH])) / np.exp(params[LOG_F])))
    if lean > tolerances.tilt_deg:
        return Perspective.THREE_POINT
    bank = solution.evidence.rims
    families = {e.family for e in solution.evidence.edges} | {r.plane.family for r in (bank.rims if bank else ())}
    return (
        Perspective.ONE_POINT
        if families <= {Family.DEPTH, Family.ACROSS, Family.UPRIGHT, Family.SLOPE}
        and families & {Family.DEPTH, Family.ACROSS}
        else Perspective.TWO_POINT
    )
