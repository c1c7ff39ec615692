"""Which skill is asked next: the one where an answer is worth most.

After a few first looks at every skill most questions go to the two that need practice most, to the less known of them
first, so that each one's bias is soon known. The others are looked at again by what they may yet turn out to need:
their need with a number of standard deviations besides (an upper confidence bound: Auer, Journal of Machine Learning
Research 3, 2002). A skill dismissed on three lucky answers keeps a wide interval and comes back, which asking only what
looks worst would not bring about.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.lines import Floats
from aspectum.core.practice.record import Estimate, estimate
from aspectum.core.practice.skills import KINDS, Group, Skill

FIRST_LOOKS = 2  # readings of every skill before its own worth counts
AT_ONCE = 2  # skills worked on at a time: what a student can keep in mind
# of the questions look at the other skills, the one first that may be worst for all that is known: the more where it
# may well be worse than those at work
LOOK_AGAIN, LOOK_HARDER = 0.05, 0.35
DEVIATIONS = 1.0  # how far a doubt counts as need: a skill little known is asked before one known to be middling
FOR_SPREAD = 0.1  # of what the spread exceeds a tolerance by: scattered answers are practised too, a steady fault first
FOR_REST = 0.25  # tolerances that a skill wholly out of practice is worth besides


@dataclass(frozen=True)
class Candidate:
    """A skill that can be asked. ``errors`` (k,): in tolerances, oldest first; ``kept``: how likely it is still in
    practice, 0 to 1.
    """

    skill: Skill
    errors: Floats
    kept: float = 1.0


def need(found: Estimate, kept: float) -> float:
    """How much a skill needs practice, in tolerances, for all that is known."""
    return abs(found.bias) + FOR_SPREAD * max(found.spread - 1.0, 0.0) + FOR_REST * (1.0 - kept)


def need_at_most(found: Estimate, kept: float) -> float:
    """How much it may yet turn out to need."""
    return need(found, kept) + DEVIATIONS * found.sd


def choose(candidates: Sequence[Candidate], last: Group | None, rng: np.random.Generator) -> Skill:
    """The skill to ask next, never of the kind asked ``last`` where another can be asked. ``rng`` settles ties and the
    order of first looks.

    Raises ``ValueError`` where nothing can be asked.
    """
    if not candidates:
        raise ValueError("there is no skill to ask")
    open_ones = [c for c in candidates if KINDS[c.skill].group is not last] or list(candidates)
    order: list[int] = rng.permutation(len(open_ones)).tolist()
    fewest = min(len(c.errors) for c in open_ones)
    if fewest < FIRST_LOOKS:
        return next(open_ones[i].skill for i in order if len(open_ones[i].errors) == fewest)
    known = {c.skill: estimate(c.errors) for c in candidates}
    kept = {c.skill: c.kept for c in candidates}
    at_work = sorted(known, key=lambda skill: -need(known[skill], kept[skill]))[:AT_ONCE]
    weak = [open_ones[i].skill for i in order if open_ones[i].skill in at_work]
    others = [open_ones[i].skill for i in order if open_ones[i].skill not in at_work]
    if not others:
        return max(weak, key=lambda skill: known[skill].sd)
    rival = max(others, key=lambda skill: need_at_most(known[skill], kept[skill]))
    settled = (
        need_at_most(known[rival], kept[rival])
        < need(known[at_work[-1]], kept[at_work[-1]]) - DEVIATIONS * known[at_work[-1]].sd
    )
    if weak and rng.random() >= (LOOK_AGAIN if settled else LOOK_HARDER):
        return max(weak, key=lambda skill: known[skill].sd)
    return rival


def weakest(errors: Mapping[Skill, Floats], count: int = 2) -> list[Skill]:
    """The skills with the largest bias in tolerances, the largest first, each weighed by how well it is known."""
    found = {skill: estimate(values) for skill, values in errors.items() if len(values)}
    return sorted(found, key=lambda skill: -abs(found[skill].bias))[:count]
