"""What a skill's figures are told in: plain sentences with their ±."""

from __future__ import annotations

import numpy as np
import pytest

from aspectum.core.plane.lines import Floats
from aspectum.core.practice.asking import ASKED, ask
from aspectum.core.practice.pace import Kept, Phase
from aspectum.core.practice.record import Interval, Trend, standing
from aspectum.core.practice.recorded import steepness
from aspectum.core.practice.skills import Skill, SkillUnit
from aspectum.service.words.pace import pace_words
from aspectum.service.words.practice import amount, bias_words, missed, prompt, rule, trend_words
from aspectum.service.words.skills import WORDS


def errors(mean: float, sd: float, n: int) -> Floats:
    drawn = np.random.default_rng(n).normal(0.0, 1.0, n)
    scaled: Floats = mean + sd * (drawn - drawn.mean()) / drawn.std(ddof=1)
    return scaled


@pytest.mark.parametrize(
    ("skill", "mean", "words"),
    [
        (Skill.LOWER_RIM, -5.0, "Your lower rims run 5° too flat (n = 24, ±1.4)."),
        (Skill.LEFT_BELOW, 5.0, "Your left edges below eye level run 5° too steep (n = 24, ±1.4)."),
        (Skill.MIDDLE, 5.0, "The middle of a side runs 5 % too near (n = 24, ±1.4)."),
        (Skill.UPRIGHT_LEAN, -5.0, "Your uprights run 5° too far to the left (n = 24, ±1.4)."),
        (Skill.LOWER_RIM, 0.5, "Lower rims: no bias that shows (n = 24, ±1.4); single ones scatter by 3.3°."),
    ],
)
def test_a_bias_is_told_with_its_way_its_number_and_its_uncertainty(skill: Skill, mean: float, words: str) -> None:
    """The handbook's own sentence (section 8): lower rims 5° flat, n = 24, ±1.4°, is a spread of 3.3°."""
    assert bias_words(skill, standing(errors(mean, 3.316, 24))) == words


def test_under_five_readings_there_is_no_sentence() -> None:
    assert bias_words(Skill.WHEEL, standing(np.zeros(4))) == ""


def change(first: float, last: float, half: float = 1.0) -> Trend:
    return Trend(first, last, Interval(last - first, last - first - half, last - first + half), 60.0)


def test_a_trend_is_told_where_it_is_certain_and_through_nothing_with_both_ways() -> None:
    assert trend_words(Skill.LOWER_RIM, change(-6.0, -2.0), "March") == "Bias fell from 6° to 2° since March."
    assert trend_words(Skill.LOWER_RIM, change(-2.0, -6.0), "March") == "Bias grew from 2° to 6° since March."
    assert (
        trend_words(Skill.LOWER_RIM, change(3.0, -3.0), "March")
        == "Bias went from 3° too round to 3° too flat since March."
    )
    assert (
        trend_words(Skill.LOWER_RIM, change(-6.0, -5.5), "March") == ""
        and trend_words(Skill.LOWER_RIM, None, "March") == ""
    )


@pytest.mark.parametrize("skill", list(Skill))
def test_every_skill_says_what_is_asked_what_was_missed_and_by_which_rule(skill: Skill) -> None:
    words = WORDS[skill]
    assert words.over != words.under and words.rule.endswith(".") and "!" not in words.rule
    if skill in ASKED:
        question = ask(skill, 0.3, 11)
        assert prompt(question)[-1] in ".?" and len(prompt(question)) < 200 and rule(question).endswith(".")
    assert missed(skill, 27.0, 20.0, False).endswith(f"{words.over}.") and words.under in missed(
        skill, 13.0, 20.0, True
    )
    assert missed(skill, 20.0, 20.0, True) == "As it is."


def test_a_tilt_the_wrong_way_is_neither_too_flat_nor_too_steep() -> None:
    """+12 judged of −41.8: the two fall 53.8° apart, and neither is the flatter of one way."""
    assert missed(Skill.RIGHT_ABOVE, *steepness(12.0, -41.8), False) == "The wrong way: 54° off."
    assert missed(Skill.RIGHT_ABOVE, *steepness(-30.0, -41.8), False) == "12° too flat."
    assert missed(Skill.UPRIGHT_LEAN, -3.0, 4.0, False) == "7° too far to the left."


def test_a_part_of_a_side_is_named_as_one_says_it() -> None:
    told = {prompt(ask(Skill.OTHER_PART, 0.3, seed)).split(" of this")[0] for seed in range(25)}
    assert told == {
        f"Where is {part}" for part in ("one quarter", "three quarters", "one fifth", "two fifths", "three fifths")
    }


def test_figures_are_told_as_closely_as_they_are_worth() -> None:
    assert [amount(v, SkillUnit.DEGREES) for v in (4.96, 12.4, -0.04)] == ["5°", "12°", "0°"]
    assert [amount(v, SkillUnit.NEAR_UPRIGHTS, True) for v in (0.123, -0.5)] == [
        "+0.12 near uprights",
        "−0.5 near uprights",
    ]


def test_a_late_block_in_is_told_with_advice() -> None:
    """Most are late when a third of the time is over before the block-in is (handbook section 8, common practice)."""
    assert "for later" in pace_words(Kept(Phase.BLOCK_IN, 724.0, 124.0)) and "for later" not in pace_words(
        Kept(Phase.TONE, 724.0, 124.0)
    )
    assert pace_words(Kept(Phase.FORMS, 610.0, -60.0)) == "Forms took 10:10 and ended 1:00 early."
