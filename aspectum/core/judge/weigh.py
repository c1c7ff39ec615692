"""Which sightings are beyond doubt, by all the explanations of a sheet together."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.judge.rim_gaps import strays as stray_rims
from aspectum.core.plane.lines import Flags
from aspectum.core.tolerance import Tolerances, beyond
from aspectum.core.view.implied import Implied, implied_tilts
from aspectum.core.view.left_out import ImpliedRims, implied_rims
from aspectum.core.view.posterior import Posterior
from aspectum.core.view.solve import Solution

SURE = 0.5  # how likely a sighting must stray to be named; below it others may be wrong in its stead
LIKELY = 0.1  # how likely one must stray to be named as such another


@dataclass(frozen=True)
class Weighing:
    """What the sightings come to against one another. ``off``: (n + R,) sightings beyond doubt;
    ``pairs``: for edges that stray but are not beyond doubt those that may be wrong in their stead;
    ``unexamined``: (n + R,) sightings that stray but were not weighed to the end.
    """

    posterior: Posterior
    implied: Implied
    rims: ImpliedRims | None
    off: Flags
    pairs: dict[int, list[int]]
    unexamined: Flags

    @property
    def solution(self) -> Solution:
        """The view that stands for all that is possible."""
        return self.posterior.solution


def weigh(posterior: Posterior, tolerances: Tolerances) -> Weighing:
    """Name what strays beyond its tolerance and beyond doubt, and pair what may be wrong in another's stead."""
    solution, strayed = posterior.solution, posterior.strayed
    evidence, bank = solution.evidence, solution.evidence.rims
    implied = implied_tilts(posterior)
    stray = beyond(implied.turn, implied.combined_sd, tolerances.tilt_deg)
    rims = None
    if bank is not None:
        rims = implied_rims(solution, posterior.spread)
        stray = np.append(stray, stray_rims(bank, rims, tolerances))
    # a slope group whose plan was not weighed may stand on the wrong one
    unexamined = stray & np.array([id in evidence.effort.unexamined for id in evidence.ids], bool)
    off = stray & (strayed > SURE) & ~unexamined
    return Weighing(posterior, implied, rims, off, rivals(posterior, off), unexamined)


def rivals(posterior: Posterior, off: Flags) -> dict[int, list[int]]:
    """For every edge that may well stray, but is not named, the edges that may be wrong in its stead: likely strays in
    explanations that keep it.
    """
    edges = len(posterior.solution.evidence.edges)
    out = ~posterior.explanations.active[posterior.curve.of, :edges]
    together = (out.T * posterior.curve.weight) @ out.astype(float)
    strayed = posterior.strayed[:edges]
    doubtful = [int(i) for i in np.flatnonzero((strayed > LIKELY) & ~off[:edges])]
    pairs: dict[int, list[int]] = {}
    for i in doubtful:
        others = [k for k in doubtful if k != i and together[i, k] < 0.5 * min(strayed[i], strayed[k])]
        if others and all(i not in known for known in pairs.values()):
            pairs[i] = others
    return pairs
