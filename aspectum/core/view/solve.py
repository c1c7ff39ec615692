"""One camera, and a bearing for every form, through all sighted edges and rims at once.

The estimate minimises the squared end-point distances of all edges to lines through their
families' vanishing points (maximum likelihood for equal isotropic point error; Hartley & Zisserman,
Multiple View Geometry, 2nd ed., ch. 8) and the squared distances of all rim points to their
circles' images, with what is known beforehand as extra residuals. Its covariance is the inverse
of the normal matrix at the solution.

Sightings are counted edges first, then rims: flags of shape (n + R,).
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from aspectum.core.plane.algebra import inverse
from aspectum.core.plane.lines import Flags, Floats
from aspectum.core.plane.meet import residuals_with_slopes
from aspectum.core.view.camera import FIRST_BEARING, LOG_F, PITCH, ROLL, Vanishing, eye_level_height, vanishing_with_slopes
from aspectum.core.view.circles import RimState, RimStep
from aspectum.core.view.effort import STOP_AT
from aspectum.core.view.evidence import Evidence
from aspectum.core.view.perspective import View

GIVEN_EYE_LEVEL_SD_PX = 0.5


@dataclass(frozen=True)
class Solution:
    """A fitted view. ``chi2`` counts the active sightings and what was known beforehand;
    ``own``: where the rims' own unknowns stand.
    """

    evidence: Evidence
    view: View
    params: Floats
    active: Flags
    chi2: float
    converged: bool
    own: RimState | None = None

    @cached_property
    def covariance(self) -> Floats:
        """Covariance of the free parameters, (F, F)."""
        return self._covariance(1.0)

    @cached_property
    def loose_covariance(self) -> Floats:
        """As ``covariance``, with the faint hold on open questions loosened tenfold."""
        return self._covariance(10.0)

    def _covariance(self, widen: float) -> Floats:
        _, jac = self.linear
        count = len(self.evidence.edges)
        jac = jac[self.active[:count]]
        if self.rim_step is not None:
            by = self.rim_step.by[self.active[count:]][:, :, self.view.free].reshape(-1, len(self.view.free))
            jac = np.concatenate([jac, by])
        return inverse(normal_matrix(self.evidence, self.view, self.params, jac, widen))

    @cached_property
    def rim_step(self) -> RimStep | None:
        """All rims at the solution."""
        bank = self.evidence.rims
        return None if bank is None or self.own is None else bank.evaluate(self.params, self.own)

    @cached_property
    def linear(self) -> tuple[Floats, Floats]:
        """Residuals and derivatives of all edges at the solution, as ``linearise`` gives them."""
        return linearise(self.evidence, self.view, self.params)

    @cached_property
    def points(self) -> tuple[Floats, Floats]:
        """Homogeneous vanishing points (m, 3) of all slots and their derivatives (m, 3, P)."""
        return vanishing_with_slopes(self.params, self.evidence.slots)


def linearise(evidence: Evidence, view: View, params: Floats) -> tuple[Floats, Floats]:
    """Edge residuals in units of the point error, (n,), and their derivatives by the free
    parameters, (n, F).
    """
    slot, own = evidence.slot, evidence.own
    v = Vanishing.of(params, evidence.slots)
    r, dr = residuals_with_slopes(evidence.segments, v.points[slot])
    dr /= evidence.sd
    jac = np.zeros((len(r), len(params)))
    jac[:, :FIRST_BEARING] = np.matmul(dr[:, None], v.by_camera[slot])[:, 0]
    jac[own.level, own.bearing] = (dr[own.level] * v.by_bearing[slot[own.level]]).sum(axis=1)
    if own.sloping.size:
        jac[own.sloping, own.slope] = (dr[own.sloping] * v.by_slope[own.group]).sum(axis=1)
    return r / evidence.sd, jac[:, view.free]


def known_residuals(evidence: Evidence, view: View, params: Floats) -> tuple[Floats, Floats]:
    """Residuals of what is known beforehand, (k,), and their derivatives, (k, F)."""
    size = len(params)
    rows, values = [], []
    for k in (LOG_F, PITCH, ROLL):
        if np.isfinite(view.known_sd[k]) and k in view.free:
            row = np.zeros(size)
            row[k] = 1.0 / view.known_sd[k]
            rows.append(row)
            values.append((params[k] - view.known_mean[k]) / view.known_sd[k])
    given = evidence.setup.eye_level_px
    if given is not None:
        sd = GIVEN_EYE_LEVEL_SD_PX / evidence.scale
        cx, cy = evidence.setup.centre
        for x_px, y_px in zip((0.0, float(evidence.setup.width_px)), given, strict=True):
            height, slope = eye_level_height(params, (x_px - cx) / evidence.scale)
            rows.append(slope / sd)
            values.append((height - (y_px - cy) / evidence.scale) / sd)
    if not rows:
        return np.zeros(0), np.zeros((0, len(view.free)))
    return np.array(values), np.array(rows)[:, view.free]


def normal_matrix(evidence: Evidence, view: View, params: Floats, jac: Floats, widen: float = 1.0) -> Floats:
    _, known = known_residuals(evidence, view, params)
    faint = 1.0 / (widen * view.faint_sd[view.free]) ** 2
    return jac.T @ jac + known.T @ known + np.diag(faint)


def refine(
    evidence: Evidence, view: View, start: Floats, active: Flags, robust: float | None = None, steps: int = 40, own: RimState | None = None, rough: bool = False
) -> Solution:
    """Levenberg-Marquardt from ``start``; with ``robust`` (in point errors) a Cauchy loss. ``rough``
    stops within a thousandth of the cost, enough to compare.
    """
    edges, bank = len(evidence.edges), evidence.rims
    weight, rim_weight = active[:edges].astype(float), active[edges:].astype(float)
    free = view.free
    # only focal length and pitch are drawn, faintly, to a usual value
    faint = np.where(free < ROLL, 1.0 / view.faint_sd[free] ** 2, 0.0)
    enough = 3e-2 if robust is not None else 1e-6 if bank is None and not rough else 1e-3

    def measure(params: Floats, own: RimState | None) -> tuple[float, Floats, Floats, RimStep | None, float]:
        """Cost, normal matrix and its gradient at ``params``; the rims there, and what their own
        unknowns have yet to gain."""
        evidence.effort.used += 1
        r, jac = linearise(evidence, view, params)
        k, known = known_residuals(evidence, view, params)
        square = r * r
        w = weight
        if robust is not None:
            w = weight / (1.0 + square / robust**2)
            square = robust**2 * np.log1p(square / robust**2)
        stray = (params - view.known_mean)[free]
        weighted = (jac * w[:, None]).T
        matrix = weighted @ jac
        slope = weighted @ r + faint * stray
        cost = float(weight @ square + faint @ (stray * stray))
        if k.size:
            matrix += known.T @ known
            slope += known.T @ k
            cost += float(k @ k)
        rims, gain = None, 0.0
        if bank is not None and own is not None:
            rims = bank.evaluate(params, own)
            over = np.maximum(rims.cost, 0.0)
            w = rim_weight
            if robust is not None:
                w = rim_weight / (1.0 + over / robust**2)
                over = robust**2 * np.log1p(over / robust**2)
            by = rims.by[:, :, free]
            weighted = (by * w[:, None, None]).reshape(-1, len(free)).T
            matrix += weighted @ by.reshape(-1, len(free))
            slope += weighted @ rims.z.ravel()
            cost += float(rim_weight @ over)
            gain = float(w @ (rims.own_r**2).sum(axis=1))
        matrix.flat[:: len(free) + 1] += faint + 1e-10
        return cost, matrix, slope, rims, gain

    params = start.copy()
    fresh = bank is None
    if bank is not None and own is None:
        own = bank.begin(params)
    cost, matrix, slope, rims, gain = measure(params, own)
    damping = 1e-3
    converged = False
    for _ in range(steps):
        if converged and not fresh and bank is not None and rims is not None and mislaid(rims, rim_weight):
            fresh = True
            better = bank.rest(params, bank.begin(params), 2)
            own = RimState(rims.taking(better, better.cost < rims.cost - 0.5).own)
            measured = measure(params, own)
            converged = cost - measured[0] < 0.5
            cost, matrix, slope, rims, gain = measured
        if converged or evidence.effort.spent(STOP_AT):
            break
        damped = matrix.copy()
        diagonal = np.diag(matrix)
        damped.flat[:: len(free) + 1] += damping * diagonal + 1e-13 * diagonal.max()
        try:
            step = np.clip(np.linalg.solve(damped, -slope), -0.6, 0.6)
        except np.linalg.LinAlgError:
            damping = max(damping, 1e-6) * 8.0
            continue
        promised = gain - float(step @ slope)
        trial = params.copy()
        trial[free] += step
        if abs(trial[PITCH]) < 1.45 and abs(trial[LOG_F]) < 5.0:
            moved = None if rims is None else rims.advanced(trial - params)
            measured = measure(trial, moved)
            if bank is not None and moved is not None and measured[0] > cost + 0.5 and damping < 1.0:
                moved = bank.settled(trial, moved, 3)
                measured = measure(trial, moved)
            if measured[0] <= cost + 1e-9:
                params, own, (cost, matrix, slope, rims, gain) = trial, moved, measured
                damping *= 0.1
                converged = promised < enough * (1.0 + cost)
                continue
        # feet jump about on a flat rim, so that its cost is rough on the scale of a twentieth
        uneven = bank is not None and (promised < 0.05 or damping > 1e2)
        if uneven or promised < enough * (1.0 + cost):
            converged = True
            continue
        damping = max(damping, 1e-6) * 8.0
        if damping > 1e12:
            break
    return Solution(evidence, view, params, active, cost, converged, own)


MISLAID = 12.0  # chi-square of a rim beyond which its fit may rest on the wrong part of its circle


def mislaid(rims: RimStep, weight: Floats) -> bool:
    """Whether a rim may have come to rest on the wrong part of its circle; one that is left out
    as a stray (``weight`` 0) may well fit badly.
    """
    return bool((rims.cost * np.where(weight > 0, 1.0, 0.01)).max() > MISLAID)


def settle(solution: Solution, active: Flags, rough: bool = False) -> Solution:
    """Least squares on ``active`` from an earlier solution."""
    return refine(solution.evidence, solution.view, solution.params, active, own=solution.own, rough=rough)


def settle_edges(solution: Solution, active: Flags) -> Solution:
    """As ``settle`` where no rim is active: the rims only follow the view that the edges find."""
    evidence = solution.evidence
    found = refine(replace(evidence, rims=None), solution.view, solution.params, active[: len(evidence.edges)])
    own = None if evidence.rims is None or solution.own is None else evidence.rims.settled(found.params, solution.own)
    return Solution(evidence, solution.view, found.params, active, found.chi2, found.converged, own)
