"""Lengths against the unit, and alignments (handbook section 4)."""

from dataclasses import replace
from fractions import Fraction

import pytest

from aspectum.core.check import check
from aspectum.core.judge.lengths import nearest_fraction
from aspectum.core.life.lengths import length_reading_findings
from aspectum.core.life.near_corner import near_corner
from aspectum.core.life.readings import LengthReading, TiltReading
from aspectum.core.reasons import Rule
from aspectum.core.sightings import Alignment, Along, Guide, Length, Measured, Setup, Side
from aspectum.core.tolerance import FREEHAND, Verdict
from tests.reasons import length_reason

SETUP = Setup(1000, 800)
UNIT = Length("unit", (400, 200), (400, 500), Along.UPRIGHT, unit=True)


@pytest.mark.parametrize(
    ("ratio", "fraction", "over"),
    [
        (1.0, "1", 0),
        (0.5, "1/2", 0),
        (0.34, "1/3", 0.02),
        (0.66, "2/3", -0.01),
        (1.77, "7/4", 0.0114),
        (2.6, "13/5", 0),
        (0.625, "5/8", 0),
    ],
)
def test_nearest_of_halves_thirds_quarters_fifths_and_eighths(ratio: float, fraction: str, over: float) -> None:
    nearest, gap = nearest_fraction(ratio)
    assert nearest == Fraction(fraction)
    assert gap == pytest.approx(over, abs=0.001)


def test_a_length_is_compared_with_the_unit() -> None:
    across = Length("across", (100, 300), (475, 350), Along.ACROSS, judged_ratio=1.0)
    unit, found = check(SETUP, [], measured=Measured(lengths=[UNIT, across])).findings
    assert unit.sighted == 1.0 and unit.verdict is Verdict.HOLDS
    assert found.sighted == pytest.approx(1.25)  # straight across, not along the edge
    assert length_reason(found).fraction == "5/4"
    assert found.verdict is Verdict.OFF  # judged a fifth too short


def test_without_a_unit_or_a_judgement_a_length_stays_open() -> None:
    lone = Length("lone", (0, 0), (100, 0), Along.EDGE)
    assert check(SETUP, [], measured=Measured(lengths=[lone])).findings[0].verdict is Verdict.UNSURE
    assert check(SETUP, [], measured=Measured(lengths=[UNIT, lone])).findings[1].verdict is Verdict.UNSURE


@pytest.mark.parametrize(
    ("q", "verdict", "miss"),
    [((702, 400), Verdict.HOLDS, -2), ((740, 400), Verdict.OFF, -40), ((660, 400), Verdict.OFF, 40)],
)
def test_plumb_alignment(q: tuple[float, float], verdict: Verdict, miss: float) -> None:
    found = check(SETUP, [], measured=Measured(alignments=[Alignment("a", (700, 100), q, Guide.PLUMB)])).findings[0]
    assert (found.verdict, found.sighted) == (verdict, miss)


def test_level_alignment_counts_the_right_hand_point_up() -> None:
    found = check(
        SETUP, [], measured=Measured(alignments=[Alignment("a", (600, 300), (200, 340), Guide.LEVEL)])
    ).findings[0]
    assert (found.verdict, found.sighted) == (Verdict.OFF, 40)


def test_a_length_off_says_which_way() -> None:
    found = [
        check(
            SETUP, [], measured=Measured(lengths=[UNIT, Length("m", (0, 0), (0, 300), Along.UPRIGHT, judged_ratio=r)])
        )
        .findings[1]
        .reason.rule
        for r in (0.7, 1.0, 1.3)
    ]
    assert found == [Rule.JUDGED_SHORT, Rule.AGREES, Rule.JUDGED_LONG]


@pytest.mark.parametrize(("unit", "other"), [((400, 500), (500, 0)), ((480, 200), (100, 0))])
def test_what_has_no_extent_the_way_it_is_measured_is_compared_with_nothing(
    unit: tuple[float, float], other: tuple[float, float]
) -> None:
    """A level line measured straight up, as the unit or against it."""
    lengths = [
        Length("unit", (400, 200), unit, Along.UPRIGHT, unit=True),
        Length("m", (0, 0), other, Along.UPRIGHT, judged_ratio=1.0),
    ]
    found = check(SETUP, [], measured=Measured(lengths=lengths)).findings[1]
    assert (found.verdict, found.sighted, found.reason.rule) == (Verdict.UNSURE, None, Rule.NOTHING_TO_CHECK)


def test_a_far_upright_is_checked_by_the_width_of_its_own_side_alone() -> None:
    tilts = [TiltReading("t", Side.LEFT, 0, 11.31, 0.1), TiltReading("b", Side.LEFT, 1, -16.7, 0.1)]
    card = near_corner(tilts)
    far = LengthReading("far", Along.UPRIGHT, 0.6, Side.LEFT, 0.01)
    wide = LengthReading("wide", Along.ACROSS, 0.8, Side.LEFT, 0.01)

    def implied(*readings: LengthReading) -> list[float | None]:
        return [f.implied for f in length_reading_findings(list(readings), card, FREEHAND)]

    assert implied(far, wide) == [pytest.approx(0.6, abs=0.01), None]
    assert implied(far, replace(wide, side=Side.RIGHT)) == [None, None]
    assert implied(far, replace(wide, side=None)) == [None, None]
    assert implied(replace(far, side=None), wide, replace(wide, id="w2", side=None)) == [None, None, None]
    assert implied(far, replace(wide, along=Along.EDGE)) == [None, None]
    assert implied(replace(far, along=Along.EDGE), wide) == [None, None]
