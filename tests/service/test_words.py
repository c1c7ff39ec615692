"""Verdicts read like a tutor at the shoulder: what, which way, by how much, why."""

from __future__ import annotations

from dataclasses import replace

import pytest

from aspectum.core.findings import Finding, Note, NoteCode, RimReading, VanishingPoint
from aspectum.core.life.fit import Evidence
from aspectum.core.life.near_corner import near_corner, solve_side
from aspectum.core.life.readings import TiltReading
from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.reasons import (
    AlignmentReason,
    EdgeReason,
    FaceReason,
    Fault,
    HeightReason,
    LengthReason,
    PartReason,
    Reason,
    RimReason,
    Rule,
)
from aspectum.core.sightings import Family, Guide, Kind, PartAlong, Plane, Side, ViewSort
from aspectum.core.tolerance import Verdict
from aspectum.service.words.common import Telling, listed
from aspectum.service.words.edges import reading_words
from aspectum.service.words.findings import finding_words
from aspectum.service.words.judged import judged_words, missed_by
from aspectum.service.words.life import near_corner_words, side_words
from aspectum.service.words.notes import note_words, point_words
from aspectum.service.words.rims import fault_words
from tests.core.test_verdicts import FULL, with_turned

OPEN_RULES = {Rule.NOTHING_TO_CHECK, Rule.UNEXAMINED, Rule.TOO_WEAK, Rule.AGREES}
READING_RULES = {Rule.NOTHING_TO_CHECK, Rule.ONE_OF_A_PAIR, Rule.TAKE_AGAIN, Rule.AGREES, Rule.TOO_WEAK}
EDGE_RULES = OPEN_RULES | {
    Rule.CLIMBS_TOO_LITTLE,
    Rule.CLIMBS_TOO_MUCH,
    Rule.FALLS_TOO_LITTLE,
    Rule.FALLS_TOO_MUCH,
    Rule.CLIMBS_INSTEAD,
    Rule.FALLS_INSTEAD,
    Rule.OPENS,
    Rule.FAR_LONGER,
    Rule.UPRIGHT_LEANS,
    Rule.NOT_PARALLEL,
    Rule.MISSES_ITS_POINT,
    Rule.NOT_TRUE_TO_FRONT,
    Rule.MISSES_ZENITH,
    Rule.MISSES_NADIR,
    Rule.OFF_ITS_PLAN,
    Rule.ONE_OF_A_PAIR,
    Rule.SHORT_EDGE,
}
FAULTS = {
    Rule.RIM_TOO_FLAT,
    Rule.RIM_TOO_ROUND,
    Rule.RIM_NOT_A_CIRCLE,
    Rule.BASE_FLATTER,
    Rule.FAR_END_FLATTER,
    Rule.OPENED_AT_EYE_LEVEL,
    Rule.BOWS_WRONG_WAY,
    Rule.AXIS_OFF,
    Rule.NOT_ON_AXIS,
    Rule.SIDE_MISSES,
    Rule.CORNER,
    Rule.POINTED_ENDS,
    Rule.FLAT_SPOT,
    Rule.LOPSIDED,
    Rule.STRAIGHT_SIDES,
}
RIM_RULES = OPEN_RULES | {Rule.SHORT_ARC, Rule.AXIS_TOO_WEAK, Rule.ONLY_LEVEL_RIMS, Rule.A_CIRCLE}
JUDGED = {Rule.JUDGED_LONG, Rule.JUDGED_SHORT}
LENGTH_RULES = {
    Rule.NOTHING_TO_CHECK,
    Rule.UNIT,
    Rule.RATIO,
    Rule.AGREES,
    Rule.TOO_WEAK,
    Rule.TOO_LONG,
    Rule.TOO_SHORT,
} | JUDGED
ALIGNMENT_RULES = {Rule.AGREES, Rule.OUT_OF_LINE, Rule.TOO_WEAK}
TILT_RULES = {Rule.TILT, *ALIGNMENT_RULES}
FACE_RULES = {Rule.FLAT, Rule.NOT_FLAT, Rule.CROSSES_ITSELF, Rule.BY_ITS_CORNERS, Rule.TOO_WEAK}
PART_RULES = {
    Rule.NOTHING_TO_CHECK,
    Rule.PART,
    Rule.AGREES,
    Rule.JUDGED_TOO_LITTLE,
    Rule.JUDGED_TOO_MUCH,
    Rule.MEASURED_NOT_CONSTRUCTED,
    Rule.TOO_WEAK,
}
HEIGHT_RULES = {
    Rule.NOTHING_TO_CHECK,
    Rule.NOT_ON_THE_GROUND,
    Rule.NO_MEASURE,
    Rule.MEASURE,
    Rule.TOO_TALL,
    Rule.TOO_SMALL,
    Rule.RATIO,
    Rule.AGREES,
} | JUDGED
EDGE = EdgeReason(Rule.AGREES, 4.0, 12.0, -80.0, 3.0, 0.1, Side.RIGHT, ("a", "b"), 1.1)
AXIS_OPEN = RimReading(Ellipse((0, 0), 100, 30, 90, 17.5), 3.0, axis_turn_deg=4.0, axis_turn_sd=2.5)


def names(id: str) -> str:
    return f"“{id}”"


TELLING = Telling(names, high_px=800.0, unit_px=200.0)


def words(id: str, angle: float) -> str:
    result = with_turned(id, angle)
    family = next(e.family for e in FULL if e.id == id)
    return finding_words(next(f for f in result.findings if f.sighting == id), family, TELLING)


def said_of(reason: Reason, kind: Kind, family: Family | None = None) -> str:
    return finding_words(
        Finding("e", kind, None, 5.0, 0.4, 9.0, 0.3, Verdict.OFF, reason, AXIS_OPEN if kind is Kind.RIM else None),
        family,
        TELLING,
    )


def judged_part(rule: Rule) -> str:
    judged = 0.3 if rule is Rule.JUDGED_TOO_LITTLE else 0.7
    reason = PartReason(rule, PartAlong.ACROSS, "1/2", others=("f",))
    return finding_words(Finding("d", Kind.DIVISION, judged, 0.57, 0.01, 0.5, 0.01, Verdict.OFF, reason), None, TELLING)


def judged_height(rule: Rule) -> str:
    known, metres = (1.8, 2.0) if rule is not Rule.TOO_SMALL else (2.2, 2.0)
    judged = 1.7 if rule is Rule.JUDGED_SHORT else 2.4
    return finding_words(
        Finding("h", Kind.HEIGHT, judged, metres, 0.05, known, 0.0, Verdict.OFF, HeightReason(rule, 1.25, 0.03)),
        None,
        TELLING,
    )


def test_a_flat_edge_below_eye_level() -> None:
    said = words("bottom-right", -7)
    assert said.startswith("Climbs too little for an edge 1.3")
    assert "below eye level" in said and "too flat" in said and "Raise its far end" in said


def test_a_steep_edge_above_eye_level() -> None:
    said = words("top-left", 7)
    assert (
        said.startswith("Falls too much for an edge 0.8") and "above eye level" in said and "Raise its far end" in said
    )


def test_a_leaning_upright() -> None:
    assert words("near", 6).startswith("Leans 6.0° to the left; it should stand plumb. Move its top")


def test_every_rule_belongs_to_some_kind_of_sighting() -> None:
    measured = LENGTH_RULES | TILT_RULES | FACE_RULES | PART_RULES | HEIGHT_RULES
    assert set(Rule) == EDGE_RULES | READING_RULES | RIM_RULES | FAULTS | measured


def test_each_rule_has_a_sentence_of_its_own_without_praise_or_exclamation() -> None:
    """No rule falls through to the sentence of another."""
    reading = Finding("e", Kind.EDGE, None, 5.0, 0.4, 9.0, 0.3, Verdict.OFF, EDGE)
    said = {
        "edge": [said_of(replace(EDGE, rule=rule), Kind.EDGE, Family.RIGHT) for rule in EDGE_RULES],
        "reading": [reading_words(reading, replace(EDGE, rule=rule), names, 3.0) for rule in READING_RULES],
        "rim": [said_of(RimReason(rule, 4.0, -80.0, Plane.LEVEL), Kind.RIM) for rule in RIM_RULES],
        "fault": [
            fault_words(Fault(rule, 6.0, 6.0, ("a", "b"), 0.05, above_eye_level_px=-80.0), TELLING) for rule in FAULTS
        ],
        "length": [
            said_of(LengthReason(rule, "3/4", 0.04), Kind.LENGTH)
            for rule in LENGTH_RULES - {Rule.AGREES, Rule.TOO_LONG, Rule.TOO_SHORT, *JUDGED}
        ],
        "alignment": [said_of(AlignmentReason(rule, Guide.PLUMB), Kind.ALIGNMENT) for rule in ALIGNMENT_RULES],
        "tilt": [
            said_of(AlignmentReason(rule, Guide.TILT), Kind.ALIGNMENT)
            for rule in (Rule.AGREES, Rule.OUT_OF_LINE, Rule.TOO_WEAK)
        ],
        "face": [said_of(FaceReason(rule, 9.0), Kind.FACE) for rule in FACE_RULES],
        "part": [judged_part(rule) for rule in PART_RULES - {Rule.PART, Rule.NOTHING_TO_CHECK}],
        "height": [judged_height(rule) for rule in HEIGHT_RULES - {Rule.RATIO}],
    }
    for sentences in said.values():
        assert len(set(sentences)) == len(sentences)
        assert all(s and s[-1] == "." and "!" not in s and "None" not in s and "  " not in s for s in sentences)


@pytest.mark.parametrize("rule", sorted(set(Rule) - EDGE_RULES))
def test_an_edge_has_no_words_for_what_only_other_kinds_do(rule: Rule) -> None:
    with pytest.raises(LookupError):
        said_of(EdgeReason(rule), Kind.EDGE)


@pytest.mark.parametrize("rule", sorted(set(Rule) - FAULTS))
def test_only_faults_are_worded_as_faults(rule: Rule) -> None:
    with pytest.raises(LookupError):
        fault_words(Fault(rule), TELLING)


def test_a_slope_misses_the_vanishing_point_of_its_slope() -> None:
    missing = EdgeReason(Rule.MISSES_ITS_POINT, 4.0)
    assert said_of(missing, Kind.EDGE, Family.SLOPE) == "Misses the slope's vanishing point: 4.0° off."
    assert said_of(missing, Kind.EDGE, Family.DEPTH) == "Misses its vanishing point: 4.0° off."


def test_every_note_has_words_of_its_own() -> None:
    said = [note_words(Note(code, ("a", "b"), 3.0, 2.0, "left"), TELLING) for code in NoteCode]
    assert len(set(said)) == len(said)
    assert all(s and "!" not in s and "None" not in s for s in said)


@pytest.mark.parametrize(
    ("judged", "sighted", "difference", "family", "said"),
    [
        (14.0, 11.0, 3.0, Family.LEFT, "Judged 14°: 3.0° too steep."),
        (-8.0, -11.0, 3.0, Family.LEFT, "Judged −8°: 3.0° too flat."),
        (11.2, 11.0, 0.2, Family.LEFT, "Judged 11°: as sighted."),
        (4.0, -3.0, 7.0, Family.LEFT, "Judged 4°: the wrong way, 7.0° off."),
        (12.0, -41.8, 53.8, Family.LEFT, "Judged 12°: the wrong way, 53.8° off."),
        (90.0, -88.0, -2.0, Family.UPRIGHT, "Judged 2.0° too far right at the top."),
    ],
)
def test_the_judgement_is_compared_with_what_was_sighted(
    judged: float, sighted: float, difference: float, family: Family, said: str
) -> None:
    finding = Finding(
        "e", Kind.EDGE, judged, sighted, 0.4, None, None, Verdict.UNSURE, EdgeReason(Rule.NOTHING_TO_CHECK)
    )
    assert missed_by(finding) == pytest.approx(difference)
    assert judged_words(finding, family) == said


def test_a_judged_opening_is_compared_in_degrees_and_a_length_by_its_share() -> None:
    rim = Finding("r", Kind.RIM, 12.0, 17.7, 0.8, None, None, Verdict.UNSURE, RimReason(Rule.NOTHING_TO_CHECK))
    assert judged_words(rim, None) == "Judged 12°: 5.7° too flat."
    assert judged_words(replace(rim, sighted=11.8), None) == "Judged 12°: as sighted."
    length = Finding("m", Kind.LENGTH, 1.11, 1.0, 0.06, None, None, Verdict.UNSURE, LengthReason(Rule.TOO_WEAK, "1"))
    assert judged_words(length, None) == "Judged 1.11: 11 % long."


def test_faults_of_a_rim_say_which_way() -> None:
    assert (
        fault_words(Fault(Rule.AXIS_OFF, 4.0), TELLING)
        == "Its minor axis stands 4.0° off the form's axis: turn it anticlockwise."
    )
    assert "to the left of the axis that “a” and “b” share, by 5 % of its width" in fault_words(
        Fault(Rule.NOT_ON_AXIS, size_px=-7.0, others=("a", "b"), share=0.05), TELLING
    )
    assert fault_words(Fault(Rule.NOT_ON_AXIS, size_px=7.0, others=("a",), sure=False), TELLING).endswith(
        "one of them is off the form's axis."
    )
    assert "cuts into the rim by 0.03 near uprights" in fault_words(
        Fault(Rule.SIDE_MISSES, size_px=-6.0, others=("a",)), TELLING
    )


@pytest.mark.parametrize(
    ("above", "said"),
    [(-80.0, "below eye level the near arc bows down."), (80.0, "above eye level the near arc bows up.")],
)
def test_a_fault_says_the_place_that_its_finding_says(above: float, said: str) -> None:
    bowed = Fault(Rule.BOWS_WRONG_WAY, size_px=9.0, above_eye_level_px=above)
    flat = Fault(Rule.RIM_TOO_FLAT, 6.0, above_eye_level_px=above)
    assert fault_words(bowed, TELLING).endswith(said)
    reading = replace(AXIS_OPEN, faults=(flat, bowed))
    finding = Finding(
        "r", Kind.RIM, None, 5.0, 0.4, 11.0, 0.3, Verdict.OFF, RimReason(Rule.RIM_TOO_FLAT, 6.0, above), reading
    )
    assert finding_words(finding, None, TELLING) == f"{fault_words(flat, TELLING)} {fault_words(bowed, TELLING)}"
    assert TELLING.where(above) in fault_words(flat, TELLING)


@pytest.mark.parametrize(
    ("over", "said"),
    [(0.019, "exactly"), (0.021, "a touch over"), (-0.06, "a touch under"), (0.061, "well over"), (-0.2, "well under")],
)
def test_a_remainder_is_said_as_the_handbook_counts_it(over: float, said: str) -> None:
    assert said_of(LengthReason(Rule.RATIO, "3/4", over), Kind.LENGTH).startswith(f"5.00 units: {said} 3/4.")


PLACES = [
    (5.9, "at eye level"),
    (-6.1, "0.03 near uprights below eye level"),
    (41.0, "0.20 near uprights above eye level"),
    (None, ""),
]


@pytest.mark.parametrize(("above", "said"), PLACES)
def test_where_a_thing_lies(above: float | None, said: str) -> None:
    assert TELLING.where(above) == said


def test_a_length_is_told_as_a_hand_can_compare_it() -> None:
    """In near uprights; in parts of the picture where none is laid, or where uprights run away from the eye."""
    assert TELLING.length(-300.0) == "1.50 near uprights" and TELLING.length(0.4) == "less than 0.01 near uprights"
    for no_unit in (replace(TELLING, unit_px=None), replace(TELLING, sort=ViewSort.STRAIGHT)):
        assert no_unit.length(300.0) == "37.5 % of the picture's height"


@pytest.mark.parametrize(
    ("off", "said"),
    [(None, "at infinity"), (0.0, "on the sheet"), (-0.02, "at the left edge"), (1.5, "1.5 sheets right")],
)
def test_how_far_off_the_sheet_a_family_meets(off: float | None, said: str) -> None:
    assert point_words(VanishingPoint("box", Family.LEFT, None, None, None, None, None, off)) == said


def test_an_open_length_says_how_loosely_it_is_known_all_told() -> None:
    """The reading's own ± 3 % and the ± 4 % of what its vanishing point asks for."""
    reason = LengthReason(Rule.TOO_WEAK, "1", 0.0)
    alone = Finding("m", Kind.LENGTH, 1.1, 1.0, 0.03, None, None, Verdict.UNSURE, reason)
    assert finding_words(alone, None, TELLING).endswith("Known to ± 3 % only: too loosely to say whether that holds.")
    checked = replace(alone, implied=1.0, implied_sd=0.04)
    assert finding_words(checked, None, TELLING).endswith(
        "asks for 1.00. Known to ± 5 % only: too loosely to say whether that holds."
    )


def test_lists_and_sides() -> None:
    assert listed(["a"]) == "a" and listed(["a", "b", "c"]) == "a, b and c"
    assert "opens" in side_words(
        solve_side(Side.LEFT, Evidence((TiltReading("t", Side.LEFT, 0, -9), TiltReading("b", Side.LEFT, 1, 2))))
    )


def test_a_card_says_what_disagrees_and_what_to_take_again() -> None:
    """Left pair: 11.31 and -16.70 degrees belong to eye level 0.40 down (handbook section 2)."""

    def said(*tilts: float) -> str:
        edges = [(Side.LEFT, 0), (Side.LEFT, 1), (Side.LEFT, 0.5), (Side.RIGHT, 0), (Side.RIGHT, 1), (Side.RIGHT, 0.5)]
        readings = [
            TiltReading(f"{side} {height}", side, height, tilt, 1.0)
            for (side, height), tilt in zip(edges, tilts, strict=True)
            if tilt
        ]
        return near_corner_words(near_corner(readings), str)

    assert "Both sides agree on eye level" in said(11.31, -16.70, 0, -14.04, 20.56, 0)
    assert "units apart, more than reading error" in said(11.31, -16.70, 0, -14.04, 36.0, 0)
    bent = said(11.31, -16.70, 5.14, -11.31, 16.70, -5.14)
    assert "give one eye level, but the readings of a side miss their vanishing point" in bent
    assert bent.endswith("No one reading alone would mend that: take them all again, or add an edge between.")
    assert "Nothing tells yet which reading is wrong" in said(11.31, -16.70, 0, -14.04, 36.0, 0)
    assert "opens instead of closing" in said(11.0, 12.0, 0, -14.04, 20.56, 0)
    assert "Take left 1 again" in said(11.31, 12.0, 0, -14.04, 20.56, 0)
    assert said(-12.0, 3.0, 0, -14.04, 20.56, 0).endswith(
        "No one reading alone would mend that: take that side again, or add an edge between."
    )
    assert "again" not in said(-12.0, 3.0, 0, 0, 0, 0)
