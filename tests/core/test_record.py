"""Bias and spread of a skill with their intervals, and whether they change (handbook section 8)."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from aspectum.core.practice.pace import Phase, pace, planned
from aspectum.core.practice.record import estimate, standing, trend, weeks
from aspectum.core.practice.skills import KINDS, Group, Skill, SkillUnit, tolerance_of
from aspectum.core.practice.spacing import kept
from aspectum.core.tolerance import FREEHAND, RULED


def test_the_handbooks_five_readings() -> None:
    """3, 5, 4, 6, 2: bias 4.00 (2.04 to 5.96), spread 1.58 (0.95 to 4.54)."""
    found = standing(np.array([3.0, 5.0, 4.0, 6.0, 2.0]))
    assert found.bias is not None and found.spread is not None
    assert (found.bias.value, found.bias.low, found.bias.high) == pytest.approx((4.0, 2.04, 5.96), abs=0.005)
    assert (found.spread.value, found.spread.low, found.spread.high) == pytest.approx((1.58, 0.95, 4.54), abs=0.005)


def test_thirty_readings_of_spread_four_know_the_bias_to_one_and_a_half_degrees() -> None:
    """Handbook section 8: ±1.49°; scaled so that the sample's own spread is 4 exactly."""
    errors = np.random.default_rng(3).normal(0.0, 1.0, 30)
    errors = 4.0 + 4.0 * (errors - errors.mean()) / errors.std(ddof=1)
    found = standing(errors)
    assert found.bias is not None and (found.bias.high - found.bias.low) / 2 == pytest.approx(1.49, abs=0.005)


@pytest.mark.parametrize("n", range(5))
def test_nothing_is_said_under_five_readings(n: int) -> None:
    errors = np.arange(float(n))
    found = standing(errors)
    assert (found.n, found.bias, found.spread) == (n, None, None) and trend(errors, errors) is None


@given(st.lists(st.floats(-60, 60), min_size=5, max_size=40), st.floats(-20, 20), st.floats(0.1, 10))
def test_shifting_and_scaling_every_error_shifts_and_scales_the_standing(
    errors: list[float], shift: float, scale: float
) -> None:
    one, other = standing(np.array(errors)), standing(scale * np.array(errors) + shift)
    assert one.bias is not None and other.bias is not None and one.spread is not None and other.spread is not None
    assert other.bias.value == pytest.approx(scale * one.bias.value + shift, abs=1e-6)
    assert other.bias.high - other.bias.low == pytest.approx(scale * (one.bias.high - one.bias.low), abs=1e-6)
    assert other.spread.high == pytest.approx(scale * one.spread.high, abs=1e-6)


@pytest.mark.parametrize(("n", "spread", "own"), [(5, 1.0, 0.0), (12, 4.0, 1.5), (40, 2.0, 0.5)])
def test_ninety_five_in_a_hundred_intervals_hold_the_truth(n: int, spread: float, own: float) -> None:
    """Calibration over 2000 simulated students, the readings' own error part of the spread."""
    rng = np.random.default_rng(8150 + n)
    whole = float(np.hypot(spread, own))
    bias, spreads = 0, 0
    for _ in range(2000):
        found = standing(3.0 + rng.normal(0.0, spread, n) + rng.normal(0.0, own, n))
        assert found.bias is not None and found.spread is not None
        bias += found.bias.low <= 3.0 <= found.bias.high
        spreads += found.spread.low <= whole <= found.spread.high
    assert 0.93 <= bias / 2000 <= 0.97 and 0.93 <= spreads / 2000 <= 0.97


def test_ninety_five_in_a_hundred_trends_hold_the_true_change() -> None:
    rng = np.random.default_rng(977)
    held = 0
    for _ in range(2000):
        days = np.sort(rng.uniform(0.0, 50.0, 18))
        found = trend(days, 6.0 - 0.08 * days + rng.normal(0.0, 2.0, 18))
        assert found is not None
        held += found.change.low <= -0.08 * (days[-1] - days[0]) <= found.change.high
    assert 0.93 <= held / 2000 <= 0.97


def test_a_bias_that_falls_is_told_from_both_ends() -> None:
    days = np.arange(40.0)
    found = trend(days, 6.0 - 0.1 * days + np.random.default_rng(5).normal(0.0, 1.0, 40))
    assert found is not None and found.sure and found.better
    assert (found.first, found.last) == pytest.approx((6.0, 2.1), abs=0.8) and found.days == 39.0


@pytest.mark.parametrize("span", [0.0, 0.1, 1.5])
def test_readings_of_an_evening_have_no_trend(span: float) -> None:
    assert trend(20000.0 + np.linspace(0.0, span, 9), np.arange(9.0)) is None


def test_a_readings_own_error_is_told_of_when_it_is_over_a_third_of_the_spread() -> None:
    errors = np.random.default_rng(2).normal(0.0, 3.0, 40)
    assert not standing(errors, np.full(40, 0.5)).own
    assert standing(errors, np.full(40, 1.4)).own
    assert not standing(errors, np.full(40, np.nan)).own


def test_few_readings_are_drawn_towards_nothing_and_many_are_not() -> None:
    few, many = estimate(np.full(2, 2.0)), estimate(np.random.default_rng(1).normal(2.0, 0.8, 200))
    assert 0.5 < few.bias < 1.6 and many.bias == pytest.approx(2.0, abs=0.15) and few.sd > 3 * many.sd


def test_weeks_keep_their_readings_apart() -> None:
    found = weeks(np.array([100.0, 101.0, 107.5, 130.0]), np.array([1.0, 3.0, 5.0, -2.0]))
    assert [(week.day, week.mean, week.standing.n) for week in found] == [
        (100.5, 2.0, 2),
        (107.5, 5.0, 1),
        (130.0, -2.0, 1),
    ]
    assert weeks(np.array([]), np.array([])) == []


def test_every_skill_has_its_unit_and_the_tolerance_of_the_school() -> None:
    assert set(KINDS) == set(Skill) and {kind.group for kind in KINDS.values()} == set(Group)
    assert tolerance_of(Skill.LEFT_BELOW, FREEHAND) == 3.0 and tolerance_of(Skill.LOWER_RIM, FREEHAND) == 5.0
    assert tolerance_of(Skill.LENGTH_UP, RULED) == pytest.approx(3.0) and tolerance_of(
        Skill.EYE_LEVEL, FREEHAND
    ) == pytest.approx(0.08)
    assert KINDS[Skill.MISSING_CORNER].unit is SkillUnit.NEAR_UPRIGHTS


def test_what_was_known_well_and_lately_is_kept_best() -> None:
    days, well, badly = np.arange(10.0) * 3 + 20000.0, np.full(10, 0.3), np.full(10, 2.5)
    assert kept(np.array([]), np.array([]), 20100.0) == 0.0
    assert kept(days, well, 20030.0) > kept(days, well, 20120.0) > kept(days, well, 20400.0)
    assert kept(days, well, 20060.0) > kept(days, badly, 20060.0)


def test_the_block_in_has_a_third_of_the_time_and_is_late_after_it() -> None:
    """Handbook section 8, common practice: of thirty minutes ten."""
    plan = planned(30.0)
    assert (
        [p.phase for p in plan] == list(Phase)
        and plan[0].ends_s == pytest.approx(600.0)
        and plan[-1].ends_s == pytest.approx(1800.0)
    )
    late = pace(plan, [724.0, 1300.0])
    assert (late[0].took_s, late[0].late_s) == pytest.approx((724.0, 124.0)) and late[1].late_s < 0


@pytest.mark.parametrize(
    ("minutes", "shares"),
    [(0.0, None), (5000.0, None), (30.0, dict.fromkeys(Phase, 0.0)), (30.0, {Phase.FORMS: -0.2, Phase.TONE: 0.5})],
)
def test_a_time_or_shares_that_cannot_be_are_refused(minutes: float, shares: dict[Phase, float] | None) -> None:
    with pytest.raises(ValueError, match=r"minutes|share"):
        planned(minutes, shares)


def test_phases_end_one_after_another() -> None:
    plan = planned(20.0, {Phase.BLOCK_IN: 0.5, Phase.FORMS: 0.5, Phase.TONE: 0.0})
    assert len(plan) == 2
    with pytest.raises(ValueError, match="one after another"):
        pace(plan, [300.0, 200.0])
    with pytest.raises(ValueError, match="one after another"):
        pace(plan, [1.0, 2.0, 3.0])
