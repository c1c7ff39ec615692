"""Lengths against the unit, and alignments (handbook section 4)."""

from fractions import Fraction

import pytest

from aspectum.core.check import check
from aspectum.core.measures import nearest_fraction
from aspectum.core.model import Alignment, Length, Setup, Verdict

SETUP = Setup(1000, 800)
UNIT = Length("unit", (400, 200), (400, 500), "upright", unit=True)


@pytest.mark.parametrize(
    ("ratio", "fraction", "over"),
    [(1.0, "1", 0), (0.5, "1/2", 0), (0.34, "1/3", 0.02), (0.66, "2/3", -0.01), (1.77, "7/4", 0.0114), (2.6, "13/5", 0), (0.625, "5/8", 0)],
)
def test_nearest_of_halves_thirds_quarters_fifths_and_eighths(ratio: float, fraction: str, over: float) -> None:
    nearest, gap = nearest_fraction(ratio)
    assert nearest == Fraction(fraction)
    assert gap == pytest.approx(over, abs=0.001)


def test_a_length_is_compared_with_the_unit() -> None:
    across = Length("across", (100, 300), (475, 350), "across", judged_ratio=1.0)
    unit, found = check(SETUP, [], lengths=[UNIT, across]).findings
    assert unit.sighted == 1.0 and unit.verdict is Verdict.HOLDS
    assert found.sighted == pytest.approx(1.25)  # straight across, not along the edge
    assert found.reason.fraction == "5/4"
    assert found.verdict is Verdict.OFF  # judged a fifth too short


def test_without_a_unit_or_a_judgement_a_length_stays_open() -> None:
    lone = Length("lone", (0, 0), (100, 0), "edge")
    assert check(SETUP, [], lengths=[lone]).findings[0].verdict is Verdict.UNSURE
    assert check(SETUP, [], lengths=[UNIT, lone]).findings[1].verdict is Verdict.UNSURE


@pytest.mark.parametrize(("q", "verdict", "miss"), [((702, 400), Verdict.HOLDS, -2), ((740, 400), Verdict.OFF, -40), ((660, 400), Verdict.OFF, 40)])
def test_plumb_alignment(q: tuple[float, float], verdict: Verdict, miss: float) -> None:
    found = check(SETUP, [], alignments=[Alignment("a", (700, 100), q, "plumb")]).findings[0]
    assert (found.verdict, found.sighted) == (verdict, miss)


def test_level_alignment_counts_the_right_hand_point_up() -> None:
    found = check(SETUP, [], alignments=[Alignment("a", (600, 300), (200, 340), "level")]).findings[0]
    assert (found.verdict, found.sighted) == (Verdict.OFF, 40)
