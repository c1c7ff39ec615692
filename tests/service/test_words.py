"""Verdicts read like a tutor at the shoulder: what, which way, by how much, why."""

from __future__ import annotations

import pytest

from aspectum.core.check import check
from aspectum.core.model import Family, Fault, Finding, Note, NoteCode, Reason, Rule, Verdict
from aspectum.core.near_corner import Reading, solve_side
from aspectum.service.words import fault_words, finding_words, judged_words, listed, note_words, side_words
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


@pytest.mark.parametrize("rule", [r for r in Rule if list(Rule).index(r) >= list(Rule).index(Rule.RIM_TOO_FLAT) and r is not Rule.SHORT_ARC])
@pytest.mark.parametrize(("size", "sure"), [(6.0, True), (-6.0, False)])
def test_every_fault_of_a_rim_has_words(rule: Rule, size: float, sure: bool) -> None:
    said = fault_words(Fault(rule, size, ("a", "b"), 0.05, sure), names, "80 px below eye level")
    assert said.endswith(".") and "!" not in said and len(said) > 25


def test_faults_of_a_rim_say_which_way() -> None:
    assert fault_words(Fault(Rule.AXIS_OFF, 4.0), names) == "Its minor axis stands 4.0° off the form's axis: turn it anticlockwise."
    assert fault_words(Fault(Rule.BOWS_WRONG_WAY, 9.0), names, "80 px above eye level").endswith("a rim above eye level bows up at the front.")
    assert "to the left of the axis that “a” and “b” share (5 % of its width)" in fault_words(Fault(Rule.NOT_ON_AXIS, -7.0, ("a", "b"), 0.05), names)
    assert "cuts into the rim by 6 px" in fault_words(Fault(Rule.SIDE_MISSES, -6.0, ("a",)), names)


def test_a_judged_opening_is_compared_in_degrees() -> None:
    finding = Finding("r", "rim", 12.0, 17.7, 0.8, None, None, Verdict.UNSURE, Reason(Rule.NOTHING_TO_CHECK))
    assert judged_words(finding, None, -5.7) == "Judged 12°: 5.7° too flat."
    assert judged_words(finding, None, 0.2) == "Judged 12°: as sighted."


def test_lists_and_sides() -> None:
    assert listed(["a"]) == "a" and listed(["a", "b", "c"]) == "a, b and c"
    assert "opens" in side_words(solve_side("left", [Reading("t", "left", 0, -9), Reading("b", "left", 1, 2)]))
