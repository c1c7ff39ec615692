"""Verdicts read like a tutor at the shoulder: what, which way, by how much, why."""

from __future__ import annotations

import pytest

from aspectum.core.check import check
from aspectum.core.model import Family, Finding, Note, NoteCode, Reason, Rule, Verdict
from aspectum.core.near_corner import Reading, solve_side
from aspectum.service.words import finding_words, judged_words, listed, note_words, side_words
from tests.core.test_verdicts import FULL, with_turned
from tests.worked import SETUP


def names(id: str) -> str:
    return f"“{id}”"


def words(id: str, angle: float) -> str:
    result = with_turned(id, angle)
    family = next(e.family for e in FULL if e.id == id)
    return finding_words(next(f for f in result.findings if f.sighting == id), family, names)


def test_a_flat_edge_below_eye_level() -> None:
    said = words("bottom-right", -7)
    assert said.startswith("Climbs too little for an edge 26")
    assert "below eye level" in said and "too flat" in said and "Raise its far end" in said


def test_a_steep_edge_above_eye_level() -> None:
    said = words("top-left", 7)
    assert said.startswith("Falls too much for an edge 17") and "above eye level" in said and "Raise its far end" in said


def test_a_leaning_upright() -> None:
    assert words("near", 6).startswith("Leans 6.0° to the left; it should stand plumb. Move its top")


@pytest.mark.parametrize("rule", list(Rule))
@pytest.mark.parametrize("family", [Family.RIGHT, Family.SLOPE, Family.UPRIGHT])
def test_every_rule_has_words_without_praise_or_exclamation(rule: Rule, family: Family) -> None:
    reason = Reason(rule, 4.0, 12.0, -80.0, 3.0, 0.1, "right", ("a", "b"), 1.1, "3/4")
    said = finding_words(Finding("e", "edge", None, 5.0, 0.4, 9.0, 0.3, Verdict.OFF, reason), family, names)
    assert said and said[-1] == "." and "!" not in said and "None" not in said


@pytest.mark.parametrize("code", list(NoteCode))
def test_every_note_has_words(code: NoteCode) -> None:
    said = note_words(Note(code, ("a", "b"), 3.0, 2.0, "left"), check(SETUP, FULL), names)
    assert said and "!" not in said and "None" not in said


@pytest.mark.parametrize(
    ("judged", "sighted", "difference", "family", "said"),
    [
        (14.0, 11.0, 3.0, Family.LEFT, "Judged 14°: 3.0° too steep."),
        (-8.0, -11.0, 3.0, Family.LEFT, "Judged −8°: 3.0° too flat."),
        (11.2, 11.0, 0.2, Family.LEFT, "Judged 11°: as sighted."),
        (4.0, -3.0, 7.0, Family.LEFT, "Judged 4°: the wrong way, 7.0° off."),
        (90.0, -88.0, -2.0, Family.UPRIGHT, "Judged 2.0° too far right at the top."),
    ],
)
def test_the_judgement_is_compared_with_what_was_sighted(judged: float, sighted: float, difference: float, family: Family, said: str) -> None:
    finding = Finding("e", "edge", judged, sighted, 0.4, None, None, Verdict.UNSURE, Reason(Rule.NOTHING_TO_CHECK))
    assert judged_words(finding, family, difference) == said


def test_lists_and_sides() -> None:
    assert listed(["a"]) == "a" and listed(["a", "b", "c"]) == "a, b and c"
    assert "opens" in side_words(solve_side("left", [Reading("t", "left", 0, -9), Reading("b", "left", 1, 2)]))
