"""A room or a class together: each person counted once, checked against the standard library; and the verdict on
several numbers.
"""

from __future__ import annotations

import statistics

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from aspectum.core.practice.together import together
from aspectum.core.tolerance import Verdict, worst

ERRORS = st.lists(st.floats(-90.0, 90.0), min_size=1, max_size=40)


@given(ERRORS)
def test_mean_and_spread_are_those_of_the_standard_library(errors: list[float]) -> None:
    found = together(np.array(errors))
    assert found.count == len(errors) and found.mean == pytest.approx(statistics.fmean(errors), abs=1e-9)
    if len(errors) > 1:
        assert found.apart == pytest.approx(statistics.stdev(errors), abs=1e-9)


@given(ERRORS, st.floats(-20.0, 20.0))
def test_when_everybody_errs_by_so_much_more_the_mean_does_and_the_spread_does_not(
    errors: list[float], more: float
) -> None:
    before, after = together(np.array(errors)), together(np.array(errors) + more)
    assert after.mean == pytest.approx(before.mean + more, abs=1e-9)
    assert (after.apart is None) == (before.apart is None)
    if after.apart is not None and before.apart is not None:
        assert after.apart == pytest.approx(before.apart, abs=1e-7)


def test_in_a_mirror_the_mean_turns_over() -> None:
    left, right = together(np.array([3.0, 5.0, 4.0])), together(-np.array([3.0, 5.0, 4.0]))
    assert (
        (right.mean, right.apart) == (-left.mean, left.apart) and left.mean == 4.0 and left.apart == pytest.approx(1.0)
    )


def test_one_alone_has_no_spread_and_nobody_has_no_mean() -> None:
    assert together(np.array([2.5])).apart is None
    with pytest.raises(ValueError, match="nobody"):
        together(np.array([]))


@pytest.mark.parametrize(
    ("verdicts", "found"),
    [
        ([Verdict.HOLDS, Verdict.OFF, Verdict.UNSURE], Verdict.OFF),
        ([Verdict.HOLDS, Verdict.UNSURE], Verdict.UNSURE),
        ([Verdict.HOLDS], Verdict.HOLDS),
        ([], Verdict.HOLDS),
    ],
)
def test_a_line_counts_by_the_worst_of_its_numbers(verdicts: list[Verdict], found: Verdict) -> None:
    assert worst(verdicts) is found and worst(reversed(verdicts)) is found
