"""All that the sightings leave possible: explanations, the curve over eye level, and one view to stand for them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from aspectum.core.plane.lines import Floats, half_turn, weighted_median
from aspectum.core.view.camera import FIRST_BEARING, eye_level_height
from aspectum.core.view.curve import Curve, middle_x, walk
from aspectum.core.view.explanations import Explanations, as_solution, can_spare, explain, settled
from aspectum.core.view.solve import Solution, refine_all

COMPARABLE = 0.3  # share of the likeliest from which an explanation that leaves out less is taken to stand for all
HELD_PX = 0.02  # within which the view that stands for all passes through the eye level that is told


@dataclass(frozen=True)
class Posterior:
    """What the sightings of one sheet leave possible. ``solution``: the likeliest view through the eye level that is
    told, which stands for them all.
    """

    solution: Solution
    explanations: Explanations
    curve: Curve

    @classmethod
    def of(cls, views: tuple[Solution, ...]) -> Posterior:
        """From fits to the sightings that agree, the best first."""
        found = explain(views)
        # without readings to spare every view through the sightings is as good as the next: there is nothing to walk by
        return cls.weighing(views[0], found, stand=not can_spare(views[0]))

    @classmethod
    def beside(cls, solution: Solution) -> Posterior:
        """From one fit, its strays taken as they are and its curve for a bell."""
        return cls.weighing(solution, settled(solution, [(solution, solution.active)]), stand=True)

    @classmethod
    def weighing(cls, base: Solution, found: Explanations, stand: bool = False) -> Posterior:
        """All that ``found`` leaves possible; with ``stand`` each explanation is taken for a bell."""
        curve = walk(base, found, stand)
        height = weighted_median(curve.height, curve.weight)
        # the place on the likeliest explanation's curve that is nearest to the eye level that is told
        share = np.bincount(curve.of, curve.weight, len(found.cost))
        likely = share > COMPARABLE * share.max()
        mine = curve.of == int(np.argmax(np.where(likely, found.active.sum(axis=1) + share, 0.0)))
        k = int(np.argmin(np.where(mine, np.abs(curve.height - height), np.inf)))
        active = found.active[curve.of[k]]
        if stand or base.evidence.setup.eye_level_px is not None:
            return cls(as_solution(base, found, int(curve.of[k])), found, curve)
        levels = np.array([[middle_x(base), height, base.evidence.scale / HELD_PX]])
        rest = refine_all(
            base.evidence, base.view, curve.params[k][None], active[None], curve.own[k][None], levels=levels
        )
        own = None if base.own is None else rest.own[0]
        return cls(
            replace(
                base,
                params=rest.params[0],
                active=active,
                chi2=float(rest.cost[0]),
                converged=bool(rest.converged[0]),
                own=own,
            ),
            found,
            curve,
        )

    @property
    def height_sd(self) -> float:
        """Standard deviation of eye level at the picture's middle about what is told, camera units."""
        curve = self.curve
        told, _ = eye_level_height(self.solution.params, middle_x(self.solution))
        return float(np.sqrt(curve.weight @ ((curve.height - told) ** 2 + curve.spread**2)))

    @cached_property
    def strayed(self) -> Floats:
        """How likely it is that each sighting strays, (n + R,)."""
        return np.asarray(self.curve.weight @ ~self.explanations.active[self.curve.of], float)

    @cached_property
    def spread(self) -> Floats:
        """Covariance of the free parameters about ``solution``, over all that is possible, (F, F)."""
        curve, free = self.curve, self.solution.view.free
        away = curve.params - self.solution.params
        last = FIRST_BEARING + len(self.solution.evidence.forms)
        away[:, FIRST_BEARING:last] = half_turn(away[:, FIRST_BEARING:last])
        away = away[:, free]
        return np.asarray(
            np.einsum("k,kfg->fg", curve.weight, curve.covariance) + (away.T * curve.weight) @ away, float
        )
