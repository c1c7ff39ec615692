"""How hard the next question of a skill is: a weighted up-and-down rule that settles where three answers in four are
within tolerance.

Kaernbach (Perception & Psychophysics 49, 1991): a step up after a right answer, a step three times as large down after
a wrong one, so that up and down balance where right answers are three times as frequent.
"""

from __future__ import annotations

EASIEST, HARDEST, FIRST = 0.0, 1.0, 0.3  # a scale of its own; the first question is an easier one
RIGHT_SHARE = 0.75  # held by the staircase: common practice, hard enough to learn by and right often enough to go on
STEP_UP = 0.05  # twenty right in a row from the easiest to the hardest
# what makes the share above the one at which the staircase stands still
STEP_DOWN = STEP_UP * RIGHT_SHARE / (1.0 - RIGHT_SHARE)


def next_difficulty(last: float, right: bool) -> float:
    """The difficulty, 0 to 1, after one answer at ``last``."""
    return min(HARDEST, max(EASIEST, last + (STEP_UP if right else -STEP_DOWN)))
