"""The curve of likelihood over eye level, walked from every explanation that counts.

Where few short edges hold a view, its likelihood is no bell: a vanishing point beside the end of an edge
fits it whatever its tilt. So eye level is stepped outwards from each explanation's best place, the rest
refitted at each step, and the worth of every place is taken as it is: the profile likelihood with the
room that the other unknowns have there (Cox & Reid, J. R. Statist. Soc. B 49, 1987).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.lines import Flags, Floats, Ints
from aspectum.core.view.camera import eye_level_height
from aspectum.core.view.effort import WALKED_BY
from aspectum.core.view.explanations import Explanations
from aspectum.core.view.sides import misnaming
from aspectum.core.view.solve import ENOUGH_WALKING, Solution, refine_all

STRIDE = 0.7  # standard deviations that the first step goes
FAR_ENOUGH = 9.0  # twice the log of how much less likely the last step is than its explanation's best place
SMALL_RISE, STEEP_RISE = 0.6, 3.0  # of the cost in a step, beyond which the next one is longer or shorter
LONGER, SHORTER = 1.5, 0.6  # a stride grows where the last step was gentle and shrinks where it was steep
MOST_STEPS = 14  # each way
WALKING_STEPS = 8  # of the solver at a place
LONGEST_GUESS = 0.5  # of a parameter, by which a step begins ahead of the last place
ASTRAY = 0.3  # standard deviations by which a place may miss the eye level that it was held at and still count
CLIFF = 6.0  # twice the log of how much less likely both neighbours of the best place are when their refits have failed
STIFF = 0.02  # deviation, in standard deviations, within which eye level is held at a step
MOST_WALKED = 5  # explanations; the others count with their best place and its spread
# twice the log of how much less likely than the best an explanation is no longer walked: with the same strays, with
# others
WALKED_TO, WALKED_STRAYS_TO = 9.0, 4.0


@dataclass(frozen=True)
class Curve:
    """Places on the curves of all explanations, (K,) each: ``height`` of eye level at the picture's middle (camera
    units) and its ``spread`` where the explanation was not walked, ``weight`` (they sum to one), ``of`` which
    explanation, parameters (K, P), their covariance there (K, F, F), the rims' own unknowns (K, R, 3).
    """

    height: Floats
    spread: Floats
    weight: Floats
    of: Ints
    params: Floats
    covariance: Floats
    own: Floats


def middle_x(solution: Solution) -> float:
    """The picture's middle from the centre of vision, in camera units."""
    setup = solution.evidence.setup
    return float((setup.width_px / 2 - setup.centre[0]) / solution.evidence.scale)


@compiled
def heights(params: Floats, covariance: Floats, free: Ints, x: float) -> tuple[Floats, Floats, Floats]:
    """Eye level at ``x`` under each of ``params`` (B, P), its spread by ``covariance`` (B, F, F), and how the
    parameters move with it, (B, P).
    """
    found, spread, along = np.empty(len(params)), np.empty(len(params)), np.zeros(params.shape)
    for b in range(len(params)):
        found[b], by = eye_level_height(params[b], x)
        square = 0.0
        for i in range(len(free)):
            for k in range(len(free)):
                along[b, free[i]] += covariance[b, i, k] * by[free[k]]
            square += along[b, free[i]] * by[free[i]]
        spread[b] = np.sqrt(max(square, 1e-18))
        for i in range(len(free)):
            along[b, free[i]] /= max(square, 1e-18)
    return found, spread, along


def walk(solution: Solution, found: Explanations, stand: bool = False) -> Curve:
    """Step eye level outwards from the best place of each of ``found`` that is likely enough to be walked; with
    ``stand`` each is taken for the bell about its best place.
    """
    # other places of the same strays may gain on the way, as their room widens; other strays hardly
    lag = found.worth[0] - found.worth
    near = np.flatnonzero(lag < np.where((found.active == found.active[0]).all(axis=1), WALKED_TO, WALKED_STRAYS_TO))[
        :MOST_WALKED
    ]
    if stand or solution.evidence.setup.eye_level_px is not None:
        near = near[:0]  # a given eye level has no curve
    walks = Walks(solution, found.take(near)) if near.size else None
    rest = np.setdiff1d(np.arange(len(found.cost)), near)
    height, spread, _ = heights(found.params, found.covariance, solution.view.free, middle_x(solution))
    # an explanation that is not walked counts as the bell that it is about its best place
    log = [0.5 * (found.worth[rest] + np.log(2.0 * np.pi))]
    parts = [(height[rest], spread[rest], rest, found.params[rest], found.covariance[rest], found.own[rest])]
    if walks is not None:
        log.insert(0, walks.log_weight())
        walked = walks.places()
        parts.insert(0, (*walked[:2], near[walked[2]], *walked[3:]))
    joined = [np.concatenate(part) for part in zip(*parts, strict=True)]
    every = np.nan_to_num(np.concatenate(log), nan=-np.inf, posinf=-np.inf)
    if np.isinf(every.max()):
        every[0] = 0.0  # nothing tells them apart: the first stands for all
    weight = np.exp(every - every.max())
    return Curve(joined[0], joined[1], weight / weight.sum(), *joined[2:])


class Walks:
    """All walks at once, one downwards and one upwards from each explanation's best place."""

    def __init__(self, solution: Solution, found: Explanations) -> None:
        self.solution, self.found = solution, found
        count = len(found.cost)
        self.least = found.chi2 + found.price.sum(axis=1)
        self.best, self.spread, self.along = heights(
            found.params, found.covariance, solution.view.free, middle_x(solution)
        )
        self.rows: list[tuple[Floats, Floats, Ints, Floats, Floats, Floats]] = []
        self._step(np.arange(count), self.best, found.params, found.own)
        self._go()

    def _step(self, of: Ints, height: Floats, params: Floats, own: Floats) -> tuple[Floats, Floats, Floats]:
        """Hold eye level of explanations ``of`` (B,) at ``height`` (B,), beginning at ``params`` and ``own``; keeps the
        places and returns their cost over the explanation's best, parameters and own unknowns.
        """
        solution, found = self.solution, self.found
        stiff = STIFF * self.spread[of]
        levels = np.column_stack([np.full(len(of), middle_x(solution)), height, 1.0 / stiff])
        rest = refine_all(
            solution.evidence,
            solution.view,
            params,
            found.active[of],
            own,
            steps=WALKING_STEPS,
            enough=ENOUGH_WALKING,
            levels=levels,
        )
        cost = rest.cost + found.price[of].sum(axis=1)
        reached, _, _ = heights(rest.params, rest.covariance, solution.view.free, middle_x(solution))
        astray = np.abs(reached - height) > ASTRAY * self.spread[of]
        cost = np.where(astray, np.inf, cost)
        named = misnaming(rest.params, rest.covariance, solution.view.free, *solution.view.sides)
        self.rows.append(
            (reached, -(cost + named + rest.log_det + 2.0 * np.log(stiff)), of, rest.params, rest.covariance, rest.own)
        )
        return cost - self.least[of], rest.params, rest.own

    def _go(self) -> None:
        count = len(self.best)
        of, way = np.tile(np.arange(count), 2), np.repeat([-1.0, 1.0], count)
        height, stride = self.best[of].copy(), STRIDE * self.spread[of]
        params, own, last = self.found.params[of].copy(), self.found.own[of].copy(), np.zeros(2 * count)
        along = self.along[of]  # the way that the view goes as eye level moves
        going = np.arange(2 * count)
        for _ in range(MOST_STEPS):
            if not going.size or self.solution.evidence.effort.spent(WALKED_BY):
                break
            step = (way * stride)[going]
            height[going] += step
            before, ahead = params[going], np.clip(along[going] * step[:, None], -LONGEST_GUESS, LONGEST_GUESS)
            over, params[going], own[going] = self._step(of[going], height[going], before + ahead, own[going])
            along[going] = (params[going] - before) / step[:, None]
            rise, last[going] = over - last[going], over
            stride[going] *= np.where(rise < SMALL_RISE, LONGER, np.where(rise > STEEP_RISE, SHORTER, 1.0))
            going = going[over < FAR_ENOUGH]

    def places(self) -> tuple[Floats, Floats, Ints, Floats, Floats, Floats]:
        """Heights, spreads, explanations, parameters, covariances and own unknowns of all places that count."""
        height, _, of, params, covariance, own = (
            np.concatenate(part)[self.counts] for part in zip(*self.rows, strict=True)
        )
        alone = np.bincount(of, minlength=len(self.best))[of] == 1
        return height, np.where(alone, self.spread[of], 0.0), of, params, covariance, own

    @cached_property
    def counts(self) -> Flags:
        """Which places count: those that were reached. Where a walk falls off on both sides at once, its refits failed,
        and only its best place does, for a bell.
        """
        worth, of = (np.concatenate([row[i] for row in self.rows]) for i in (1, 2))
        found = np.isfinite(worth)
        for n in range(len(self.best)):
            if np.count_nonzero(worth[of == n] > worth[n] - CLIFF) < 2:
                found[of == n] = False
                found[n] = True  # the first row holds every explanation's best place, in order
        return found

    def log_weight(self) -> Floats:
        """Log of the worth of every place that counts times the stretch of eye level that it stands for, (K,)."""
        height, worth, of = (np.concatenate([row[i] for row in self.rows])[self.counts] for i in (0, 1, 2))
        log = np.full(len(height), -np.inf)
        places = [np.flatnonzero(of == n) for n in range(len(self.best))]
        places = [mine[np.argsort(height[mine], kind="stable")] for mine in places]
        for n, mine in enumerate(places):
            own = worth[mine]
            for m, other in enumerate(places):
                # two explanations that leave out the same may run together: what both reach counts once
                if m != n and (self.found.active[m] == self.found.active[n]).all():
                    theirs = np.interp(height[mine], height[other], worth[other], left=-np.inf, right=-np.inf)
                    own = np.where((theirs > own) | ((theirs == own) & (m < n)), -np.inf, own)
            log[mine] = 0.5 * own + np.log(stretches(height[mine], self.spread[n]))
        return log


def stretches(height: Floats, alone: float) -> Floats:
    """The stretch of eye level that each of ``height`` (k,), in order, stands for: half-way to its neighbours; a single
    place stands for the bell of deviation ``alone``.
    """
    if len(height) == 1:
        return np.array([alone * np.sqrt(2.0 * np.pi)])
    return np.maximum(np.gradient(height), 1e-12)
