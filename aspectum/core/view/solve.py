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
from aspectum.core.view.camera import eye_level_height, vanishing_with_slopes
from aspectum.core.view.descent import Hold, Rest, edge_rows, settle_each
from aspectum.core.view.effort import RIM_LOOKS, STOP_AT
from aspectum.core.view.evidence import Evidence
from aspectum.core.view.perspective import View
from aspectum.core.view.rim_images import OWN, RimLook

# share of the cost that the last step may still promise: for an answer, to compare, under a robust loss, and at a step
# of a walk, where the next step mends what this one leaves
ENOUGH, ENOUGH_ROUGH, ENOUGH_ROBUST, ENOUGH_WALKING = 1e-6, 1e-3, 3e-2, 1e-2


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
    own: Floats | None = None

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
        count, free = len(self.evidence.edges), self.view.free
        jac = jac[self.active[:count]]
        if self.rim_step is not None:
            jac = np.concatenate([jac, self.rim_step.by[self.active[count:]][:, :, free].reshape(-1, len(free))])
        return inverse(jac.T @ jac + known_matrix(self.view.hold, self.params, widen))

    @cached_property
    def rim_step(self) -> RimLook | None:
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
    return edge_rows(evidence.laid_edges, view.hold, params)


def known_matrix(hold: Hold, params: Floats, widen: float = 1.0) -> Floats:
    """What is known beforehand as a normal matrix (F, F), with the whole faint hold on what the sightings leave
    open, loosened ``widen`` times.
    """
    faint = (hold.drawn + hold.faint) / widen**2
    matrix = np.diag((hold.pull - hold.drawn + faint)[hold.free])
    for x, _, stiff in hold.levels:
        row = eye_level_height(params, x)[1][hold.free] * stiff
        matrix += np.outer(row, row)
    return matrix


def refine(
    evidence: Evidence,
    view: View,
    start: Floats,
    active: Flags,
    robust: float = 0.0,
    steps: int = 40,
    own: Floats | None = None,
    enough: float = ENOUGH,
) -> Solution:
    """Least squares from ``start``; with ``robust`` (in point errors) a Cauchy loss. Stops where the next step
    promises less than ``enough`` of the cost.
    """
    bank = evidence.rims
    if own is None:
        own = np.zeros((0, OWN)) if bank is None else bank.begin(start)
    rest = refine_all(evidence, view, start[None], active[None], own[None], robust, steps, enough)
    return Solution(
        evidence,
        view,
        rest.params[0],
        active,
        float(rest.cost[0]),
        bool(rest.converged[0]),
        None if bank is None else rest.own[0],
    )


def refine_all(
    evidence: Evidence,
    view: View,
    starts: Floats,
    active: Flags,
    owns: Floats,
    robust: float = 0.0,
    steps: int = 40,
    enough: float = ENOUGH,
    levels: Floats | None = None,
) -> Rest:
    """As ``refine`` from each of ``starts`` (B, P) on each of ``active`` (B, n + R), the rims' own unknowns at
    ``owns`` (B, R, 3), with eye level held at each of ``levels`` (B, 3) as x, height and 1/sd in camera units.
    """
    bank, effort = evidence.rims, evidence.effort
    # a rim's cost is rough on a finer scale
    enough = enough if bank is None else max(enough, ENOUGH_ROUGH)
    left = int(STOP_AT * effort.allowance) - effort.used
    held = np.zeros((len(starts), 3)) if levels is None else levels
    rest = settle_each(
        evidence.laid_edges,
        evidence.laid_rims,
        view.hold,
        held,
        active.astype(float),
        robust,
        starts,
        owns,
        steps,
        enough,
        left,
    )
    effort.used += rest.looks + (0 if bank is None else RIM_LOOKS * rest.rim_looks)
    return rest


def settle(solution: Solution, active: Flags, enough: float = ENOUGH) -> Solution:
    """Least squares on ``active`` from an earlier solution."""
    return refine(solution.evidence, solution.view, solution.params, active, own=solution.own, enough=enough)


def settle_edges(solution: Solution, active: Flags) -> Solution:
    """As ``settle`` where no rim is active: the rims only follow the view that the edges find."""
    evidence = solution.evidence
    found = refine(replace(evidence, rims=None), solution.view, solution.params, active[: len(evidence.edges)])
    own = None if evidence.rims is None or solution.own is None else evidence.rims.settled(found.params, solution.own)
    return Solution(evidence, solution.view, found.params, active, found.chi2, found.converged, own)
