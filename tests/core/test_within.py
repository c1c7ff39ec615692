"""Whether an answer is right: by the one rule of the tolerances (handbook section 2), whatever its skill."""

from __future__ import annotations

import pytest

from aspectum.core.practice.skills import Skill, tolerance_of, within
from aspectum.core.tolerance import FREEHAND, RULED, Tolerances, Verdict, verdict


@pytest.mark.parametrize("skill", list(Skill))
@pytest.mark.parametrize("school", [FREEHAND, RULED])
def test_right_is_what_is_not_beyond_the_tolerance(skill: Skill, school: Tolerances) -> None:
    allowed = tolerance_of(skill, school)
    for way in (1.0, -1.0):
        assert within(skill, way * allowed, None, school) and not within(skill, way * 1.01 * allowed, None, school)


def test_an_error_within_twice_the_truths_own_uncertainty_is_not_held_against_anybody() -> None:
    assert not within(Skill.LEFT_BELOW, 4.0, 0.5, FREEHAND) and within(Skill.LEFT_BELOW, 4.0, 2.5, FREEHAND)
    assert verdict(4.0, 0.5, 3.0) is Verdict.OFF
