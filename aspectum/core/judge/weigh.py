"""Which sightings are beyond doubt, weighed one at a time."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from aspectum.core.judge.rim_gaps import strays as stray_rims
from aspectum.core.plane.lines import Flags, Floats
from aspectum.core.tolerance import Tolerances, beyond
from aspectum.core.view.effort import STRAYS_BY
from aspectum.core.view.left_out import Implied, ImpliedRims, Influence, implied_rims, implied_tilts, influence
from aspectum.core.view.solve import Solution, settle
from aspectum.core.view.strays import Trials, rivals


@dataclass(frozen=True)
class Weighing:
    """What the sightings come to against one another. ``off``: (n + R,) sightings beyond doubt;
    ``pairs``: rival explanations among the edges, tried in ``trials``; ``unexamined``: (n + R,)
    sightings that stray but were not weighed to the end.
    """

    solution: Solution
    implied: Implied
    rims: ImpliedRims | None
    off: Flags
    pairs: dict[int, list[int]]
    trials: Trials
    unexamined: Flags

    def alternatives(self) -> Iterator[Solution]:
        """The view with another edge wrong instead of each stray that has rivals, as far as the effort reaches."""
        for stray, others in self.pairs.items():
            for k in others:
                if not self.solution.evidence.effort.spent():
                    yield self.trials.swapped(self.solution, stray, k)


def weigh(solution: Solution, tolerances: Tolerances) -> Weighing:
    """Call strays one at a time, each weighed with the strays found before it left out, so that
    one wrong sighting cannot drag others along.
    """
    edges, count = len(solution.evidence.edges), solution.evidence.count
    bank = solution.evidence.rims
    pairs: dict[int, list[int]] = {}
    trials, effort = Trials(), solution.evidence.effort
    # a slope group whose plan was not weighed may stand on the wrong one
    unexamined = np.array([id in effort.unexamined for id in solution.evidence.ids], bool)

    def seek_rivals(where: Solution, stray: int, picture: Influence | None = None) -> None:
        others = rivals(where, stray, trials, picture)
        if others is None:
            unexamined[stray] = True
        elif others:
            pairs[stray] = others

    first = np.flatnonzero(~solution.active[:edges])
    picture = influence(solution) if first.size else None
    for index in first:
        seek_rivals(solution, int(index), picture)

    def look(clean: Solution) -> tuple[Implied, ImpliedRims | None, Flags, Floats]:
        """Implied values, what lies beyond doubt and by how many of its deviations, (n + R,)."""
        implied = implied_tilts(clean)
        stray = beyond(implied.turn, implied.combined_sd, tolerances.tilt_deg)
        if bank is None:
            return implied, None, stray, np.abs(implied.t)
        rims = implied_rims(clean)
        return implied, rims, np.append(stray, stray_rims(bank, rims, tolerances)), np.append(np.abs(implied.t), rims.t)

    clean = solution
    for _ in range(max(1, count // 3)):
        _, _, stray, t = look(clean)
        fresh = stray & clean.active
        if not fresh.any() or int(clean.active.sum()) <= (3 if bank is None else 2):
            break
        if effort.spent(STRAYS_BY):
            unexamined |= fresh
            break
        worst = int(np.argmax(np.where(fresh, t + 1e-6, 0.0)))
        trial = clean.active.copy()
        trial[worst] = False
        clean = settle(clean, trial)
        if worst < edges:
            seek_rivals(clean, worst)
    implied, rims, stray, _ = look(clean)
    unexamined &= stray
    off = stray & ~clean.active & ~unexamined
    for index in np.flatnonzero(~clean.active & ~off):
        pairs.pop(int(index), None)
    if pairs:
        implied = with_rivals(clean, implied, pairs, trials)
    return Weighing(solution, implied, rims, off, pairs, trials, unexamined)


def with_rivals(clean: Solution, implied: Implied, pairs: dict[int, list[int]], trials: Trials) -> Implied:
    """Where an edge could be the wrong one instead of the stray it is paired with, imply its tilt
    with the stray back in and itself left out.
    """
    tilt, sd = implied.implied.copy(), implied.implied_sd.copy()
    for stray, others in pairs.items():
        for k in others:
            if clean.evidence.effort.spent():
                continue
            swapped = implied_tilts(trials.swapped(clean, stray, k), only=k)
            tilt[k], sd[k] = swapped.implied[0], swapped.implied_sd[0]
    return replace(implied, implied=tilt, implied_sd=sd)
