"""Which skill is asked next, and how hard: simulated students of twenty skills, two of them weak. `make bench` plays
more of them.
"""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest

from aspectum.core.practice.choice import FIRST_LOOKS, Candidate, choose, need, weakest
from aspectum.core.practice.difficulty import EASIEST, FIRST, HARDEST, next_difficulty
from aspectum.core.practice.record import estimate
from aspectum.core.practice.skills import KINDS, Group, Skill
from tests.practice_simulation import asked_in_turn, learning_trend, practise, share_right, student
from tests.samples import least, sample

STUDENTS = 300


def played(seed: int, students: int = STUDENTS) -> tuple[float, float]:
    """The share of students whose weak skills are named after 120 questions, and how far 95 % of their biases are
    known.
    """
    rng = np.random.default_rng(seed)
    found = [practise(student(rng), 120, rng) for _ in range(students)]
    return float(np.mean([p.named for p in found])), float(
        np.quantile(np.abs([m for p in found for m in p.misses]), 0.95)
    )


@pytest.mark.slow
def test_both_weak_skills_are_named_and_known() -> None:
    students = sample(STUDENTS, STUDENTS // 3)
    named, miss = played(41502, students)
    assert named >= least(0.92, students) and miss <= 0.45


def test_asking_every_skill_equally_often_knows_the_weak_ones_less_well() -> None:
    rng = np.random.default_rng(41503)
    found = [asked_in_turn(student(rng), 120, rng) for _ in range(400)]
    assert float(np.quantile(np.abs([m for p in found for m in p.misses]), 0.95)) > 0.6


def test_kinds_are_interleaved() -> None:
    rng = np.random.default_rng(41504)
    asked = practise(student(rng), 80, rng).asked
    groups = [KINDS[skill].group for skill in asked]
    assert all(a is not b for a, b in pairwise(groups))


def test_every_skill_is_looked_at_first_and_what_was_dismissed_again() -> None:
    rng = np.random.default_rng(41505)
    asked = practise(student(rng), 120, rng).asked
    counts = {skill: asked.count(skill) for skill in set(asked)}
    assert len(counts) == 20 and min(counts.values()) >= FIRST_LOOKS
    assert sum(count > FIRST_LOOKS for count in counts.values()) >= 5


def test_a_seed_asks_the_same_again() -> None:
    who = student(np.random.default_rng(1))
    one, other = (practise(who, 60, np.random.default_rng(7)).asked for _ in range(2))
    assert one == other


def test_one_kind_alone_is_asked_over_again_and_none_at_all_is_refused() -> None:
    rng = np.random.default_rng(2)
    alone = [Candidate(Skill.WHEEL, np.array([]))]
    assert choose(alone, Group.RIMS, rng) is Skill.WHEEL
    with pytest.raises(ValueError, match="no skill"):
        choose([], None, rng)


def test_what_is_out_of_practice_or_scatters_needs_practice_before_what_is_little_worse() -> None:
    worse, steady = estimate(np.full(9, 1.15)), estimate(np.full(9, 1.05))
    assert need(worse, 0.95) > need(steady, 0.95) and need(steady, 0.1) > need(worse, 0.95)
    scattered = estimate(np.random.default_rng(4).normal(0.0, 2.5, 40))
    assert need(scattered, 1.0) > abs(scattered.bias)


def test_the_weakest_is_told_by_what_is_known_of_it() -> None:
    lucky = {
        Skill.WHEEL: np.array([2.0]),
        Skill.MIDDLE: np.full(12, 1.5),
        Skill.EYE_LEVEL: np.zeros(9),
        Skill.HEIGHT: np.array([]),
    }
    assert weakest(lucky) == [Skill.MIDDLE, Skill.WHEEL]


@pytest.mark.slow
def test_the_trend_of_somebody_who_learns_has_the_right_sign() -> None:
    rng = np.random.default_rng(41506)
    assert np.mean([learning_trend(rng) for _ in range(800)]) >= 0.94


def test_the_difficulty_settles_where_three_in_four_are_right() -> None:
    rng = np.random.default_rng(41507)
    assert 0.70 <= float(np.mean([share_right(rng) for _ in range(60)])) <= 0.80


def test_the_difficulty_stays_within_its_ends() -> None:
    assert next_difficulty(HARDEST, True) == HARDEST and next_difficulty(EASIEST, False) == EASIEST
    assert next_difficulty(FIRST, True) > FIRST > next_difficulty(FIRST, False)
