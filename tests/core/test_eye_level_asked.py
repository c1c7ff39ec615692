"""Eye level asked about over a picture: counted in near uprights, known well enough, and told by where the
line is put.
"""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from aspectum.core.findings import EyeLevel, Source
from aspectum.core.practice.laid_over import laid_over
from aspectum.core.practice.own_sheets import TIGHT, eye_level_question
from aspectum.core.practice.question import AnswerBy, Place, scored
from aspectum.core.practice.skills import Skill, tolerance_of
from aspectum.core.sightings import Perspective, Point, Setup
from aspectum.core.tolerance import FREEHAND

SETUP = Setup(width_px=1280, height_px=960, perspective=Perspective.AUTO, point_sd_px=1.5)
UNIT: tuple[Point, Point] = ((500.0, 700.0), (500.0, 500.0))  # 200 px long


def level(left: float | None, right: float | None, sd: float | None = 1.0) -> EyeLevel:
    return EyeLevel(left, right, sd, Source.EDGES)


def test_a_line_put_a_near_upright_too_high_is_one_too_high() -> None:
    question = eye_level_question(level(400.0, 420.0), UNIT, SETUP, FREEHAND)
    assert question is not None and question.skill is Skill.EYE_LEVEL and question.instrument is AnswerBy.LEVEL
    assert scored(question.scoring, (640.0, 410.0)) == pytest.approx((0.0, 0.0))
    assert scored(question.scoring, (640.0, 210.0)) == pytest.approx((1.0, 0.0))
    assert scored(question.scoring, (640.0, 510.0)) == pytest.approx((-0.5, 0.0))


@given(
    y=st.floats(20.0, 940.0),
    slant=st.floats(-15.0, 15.0),
    long=st.floats(60.0, 600.0),
    put=st.floats(0.0, 960.0),
    k=st.floats(0.3, 4.0),
)
def test_a_larger_picture_of_the_same_asks_the_same(y: float, slant: float, long: float, put: float, k: float) -> None:
    """Counted in the unit, nothing depends on the picture's pixels."""
    small = eye_level_question(
        level(y - slant, y + slant, 0.2), ((300.0, 800.0), (300.0, 800.0 - long)), SETUP, FREEHAND
    )
    grown = replace(SETUP, width_px=round(1280 * k), height_px=math.ceil(960 * k))
    large = eye_level_question(
        level(k * (y - slant), k * (y + slant), 0.2 * k),
        ((300.0 * k, 800.0 * k), (300.0 * k, (800.0 - long) * k)),
        grown,
        FREEHAND,
    )
    assert (small is None) == (large is None)
    if small is not None and large is not None:
        assert scored(large.scoring, (0.0, put * k))[0] == pytest.approx(scored(small.scoring, (0.0, put))[0], abs=1e-6)
        assert large.truth_sd == pytest.approx(small.truth_sd)


@pytest.mark.parametrize(
    "found",
    [level(None, None), level(400.0, 400.0, None), level(-30.0, -20.0), level(980.0, 1200.0), level(0.0, 0.0)],
    ids=["not found", "no ±", "above the picture", "below the picture", "on its rim"],
)
def test_eye_level_that_is_not_in_the_picture_is_not_asked(found: EyeLevel) -> None:
    assert eye_level_question(found, UNIT, SETUP, FREEHAND) is None


def test_eye_level_is_asked_only_where_it_is_known_to_a_third_of_the_tolerance() -> None:
    """As a reading's own share of the spread is told over a third (handbook section 8)."""
    edge = TIGHT * tolerance_of(Skill.EYE_LEVEL, FREEHAND) * 200.0
    assert eye_level_question(level(400.0, 400.0, 0.99 * edge), UNIT, SETUP, FREEHAND) is not None
    assert eye_level_question(level(400.0, 400.0, 1.01 * edge), UNIT, SETUP, FREEHAND) is None
    assert eye_level_question(level(400.0, 400.0), (UNIT[0], UNIT[0]), SETUP, FREEHAND) is None  # a unit without length


def test_truth_and_answer_are_laid_right_across_the_picture() -> None:
    question = eye_level_question(level(400.0, 430.0), UNIT, SETUP, FREEHAND)
    assert question is not None and isinstance(question.scoring, Place)
    assert question.shown[0].points == ((0.0, 400.0), (1280.0, 430.0))
    (mark,) = laid_over(question, (640.0, 250.0))
    assert mark.points == ((0.0, 250.0), (1280.0, 250.0))
    assert (
        question.marks[0].points == UNIT
        and question.window is not None
        and (question.window.width, question.window.height) == (1280.0, 960.0)
    )
