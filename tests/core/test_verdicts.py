"""Verdicts and their reasons: which way, how far, which quick rule is broken, what would mend it."""

from dataclasses import replace

import pytest

from aspectum.core.check import check
from aspectum.core.findings import CheckResult, Finding, NoteCode
from aspectum.core.reasons import Rule
from aspectum.core.sightings import Edge, Family, Perspective, Setup
from aspectum.core.tolerance import RULED, Tolerances, Verdict
from tests.reasons import edge_reason
from tests.scenes import turned
from tests.worked import EDGES, SETUP

# the worked picture with a third edge of each level family, so that one stray can be named
MIDDLE = [
    Edge("middle-left", "box", Family.LEFT, (400, 450), (150, 437.5)),
    Edge("middle-right", "box", Family.RIGHT, (400, 450), (650, 437.5)),
]
FULL = [*EDGES, *MIDDLE]


def with_turned(id: str, angle: float) -> CheckResult:
    return check(SETUP, [turned(e, angle) if e.id == id else e for e in FULL])


def finding(result: CheckResult, id: str) -> Finding:
    return next(f for f in result.findings if f.sighting == id)


@pytest.mark.parametrize(
    ("id", "angle", "rule"),
    [
        ("bottom-right", -7.0, Rule.CLIMBS_TOO_LITTLE),
        ("bottom-right", 7.0, Rule.CLIMBS_TOO_MUCH),
        ("bottom-left", 7.0, Rule.CLIMBS_TOO_LITTLE),
        ("bottom-left", -7.0, Rule.CLIMBS_TOO_MUCH),
        ("top-right", -7.0, Rule.FALLS_TOO_MUCH),
        ("top-left", 7.0, Rule.FALLS_TOO_MUCH),
        ("bottom-right", -22.0, Rule.OPENS),
        ("near", 6.0, Rule.UPRIGHT_LEANS),
    ],
)
def test_a_stray_edge_breaks_the_rule_it_was_bent_against(id: str, angle: float, rule: Rule) -> None:
    result = with_turned(id, angle)
    found = finding(result, id)
    assert found.verdict is Verdict.OFF
    assert found.reason.rule is rule
    assert edge_reason(found).turn_deg == pytest.approx(-angle, abs=1.0)
    assert [f.sighting for f in result.findings if f.verdict is Verdict.OFF] == [id]
    assert any(n.code is NoteCode.STRAY and n.sightings == (id,) for n in result.notes)


def test_an_opening_pair_names_the_edge_it_opens_against() -> None:
    found = finding(with_turned("bottom-right", -22.0), "bottom-right")
    assert (edge_reason(found).far_near_ratio or 0.0) > 1
    assert found.reason.others[0] in {"top-right", "middle-right"}


def test_a_far_upright_drawn_longer_than_the_near_one_is_the_reason() -> None:
    """As drawn: the bottom edge opens, and the far upright reaches down to its end."""
    bent = {
        "bottom-right": Edge("bottom-right", "box", Family.RIGHT, (400, 700), (650, 790)),
        "far-right": Edge("far-right", "box", Family.UPRIGHT, (650, 250), (650, 790)),
    }
    edges = [bent.get(e.id, e) for e in FULL if e.id != "middle-right"] + [
        Edge("upper-right", "box", Family.RIGHT, (400, 300), (650, 325))
    ]
    found = finding(check(SETUP, edges), "bottom-right")
    assert found.verdict is Verdict.OFF
    assert found.reason.rule in (Rule.FAR_LONGER, Rule.OPENS)
    assert (edge_reason(found).far_near_ratio or 0.0) > 1


def test_the_mend_moves_the_far_end_the_right_way() -> None:
    too_flat = finding(with_turned("bottom-right", -7.0), "bottom-right")
    assert (edge_reason(too_flat).far_end_px or 0.0) > 20  # raise it
    assert edge_reason(too_flat).goes == "right"
    leaning = finding(with_turned("near", 6.0), "near")  # turned anticlockwise: its top went left
    assert (edge_reason(leaning).far_end_px or 0.0) > 30  # move it right
    assert edge_reason(leaning).lean_deg == pytest.approx(-6.0, abs=0.01)
    assert edge_reason(leaning).implied_lean_deg == pytest.approx(0.0, abs=1.0)


def test_of_two_edges_that_alone_form_a_family_neither_is_called_wrong() -> None:
    """Two edges a side, no uprights: nothing tells which of the pair strays."""
    pair = [replace(e, slope=None) for e in EDGES if e.family in (Family.LEFT, Family.RIGHT)]
    bent = [turned(e, 9.0) if e.id == "bottom-left" else e for e in pair]
    assert not [f for f in check(SETUP, bent).findings if f.verdict is Verdict.OFF]


def test_a_pair_is_named_when_either_could_be_wrong() -> None:
    setup = replace(SETUP, eye_level_px=(400.0, 400.0), focal_35mm=35.82)
    bent = [turned(e, 9.0) if e.id == "bottom-left" else e for e in EDGES if e.family is not Family.UPRIGHT]
    left = [f for f in check(setup, bent).findings if f.sighting in ("top-left", "bottom-left")]
    named = {f.sighting for f in left if f.reason.rule is Rule.ONE_OF_A_PAIR} | {
        f.sighting for f in left if f.verdict is Verdict.OFF
    }
    assert "bottom-left" in named


def test_a_short_edge_is_unsure_not_off() -> None:
    stub = Edge("stub", "box", Family.RIGHT, (500, 640), (530, 636))
    found = finding(check(SETUP, [*FULL, stub]), "stub")
    assert found.verdict is Verdict.UNSURE
    assert found.reason.rule is Rule.SHORT_EDGE


def test_tolerances_by_school() -> None:
    bent = [turned(e, 2.2) if e.id == "near" else e for e in FULL]
    assert finding(check(SETUP, bent), "near").verdict is Verdict.HOLDS
    assert finding(check(SETUP, bent, tolerances=RULED), "near").verdict is Verdict.OFF
    assert finding(check(SETUP, bent, tolerances=Tolerances(tilt_deg=2.0)), "near").verdict is Verdict.OFF


def test_given_eye_level_is_kept_and_compared_with_the_found_one() -> None:
    result = check(replace(SETUP, eye_level_px=(386.0, 386.0)), EDGES)
    assert result.eye_level.source == "given"
    assert (result.eye_level.left_y_px, result.eye_level.right_y_px) == (386.0, 386.0)
    note = next(n for n in result.notes if n.code is NoteCode.SET_AGAINST_FOUND)
    assert note.value == pytest.approx(14.0, abs=0.5)  # set 14 px above where the edges put it
    assert result.eye_level.found is not None


def test_exif_that_contradicts_the_edges_is_reported() -> None:
    assert any(n.code is NoteCode.EXIF_DISAGREES for n in check(replace(SETUP, focal_35mm=70.0), FULL).notes)
    assert not any(n.code is NoteCode.EXIF_DISAGREES for n in check(replace(SETUP, focal_35mm=35.8), FULL).notes)


def test_parallel_drawing_is_checked_for_parallelism() -> None:
    """Isometric: receding edges at 30 degrees, nothing converges."""
    setup = Setup(1000, 800, perspective=Perspective.PARALLEL)
    edges = [Edge(f"r{k}", "box", Family.RIGHT, (300, 600 - 150 * k), (559.8, 450 - 150 * k)) for k in range(3)]
    edges += [Edge(f"u{k}", "box", Family.UPRIGHT, (300 + 100 * k, 600), (300 + 100 * k, 300)) for k in range(3)]
    edges[1] = turned(edges[1], 6.0)
    result = check(setup, edges)
    off = [f for f in result.findings if f.verdict is Verdict.OFF]
    assert [f.sighting for f in off] == ["r1"]
    assert off[0].reason.rule is Rule.NOT_PARALLEL
    assert off[0].implied == pytest.approx(30.0, abs=0.05)
    assert [edge_reason(f).lean_deg is not None for f in result.findings] == [False] * 3 + [True] * 3, (
        "an upright is told by its lean"
    )
    assert result.eye_level.source == "none" and result.camera is None
    assert result.vanishing_points[0].direction_deg == pytest.approx(30.0, abs=0.05)


def test_two_parallels_that_disagree_leave_it_open() -> None:
    setup = Setup(1000, 800, perspective=Perspective.PARALLEL)
    edges = [
        Edge("a", "box", Family.RIGHT, (300, 600), (560, 450)),
        Edge("b", "box", Family.RIGHT, (300, 400), (560, 290)),
    ]
    assert {f.verdict for f in check(setup, edges).findings} == {Verdict.UNSURE}


def test_a_lone_parallel_has_nothing_to_run_beside() -> None:
    setup = Setup(1000, 800, perspective=Perspective.PARALLEL)
    edges = [
        Edge("a", "box", Family.RIGHT, (300, 600), (560, 450)),
        *(Edge(f"u{x}", "box", Family.UPRIGHT, (x, 600), (x, 300)) for x in (300, 400)),
    ]
    notes = [note for note in check(setup, edges).notes if note.code is NoteCode.FAMILY_OF_ONE]
    assert [note.sightings for note in notes] == [("a",)]


def test_of_parallels_that_all_disagree_the_last_two_accuse_neither() -> None:
    """Three edges of one family at 0, 8 and 20 degrees: the farthest is called, the other two stay open."""
    setup = Setup(1000, 800, perspective=Perspective.PARALLEL)
    level = [Edge(id, "box", Family.RIGHT, (300, y), (600, y)) for id, y in (("a", 600), ("b", 400), ("c", 200))]
    found = check(setup, [turned(e, angle) for e, angle in zip(level, (0.0, 8.0, 20.0), strict=True)]).findings
    assert [f.verdict for f in found] == [Verdict.UNSURE, Verdict.UNSURE, Verdict.OFF]
    assert [f.reason.rule for f in found] == [Rule.ONE_OF_A_PAIR, Rule.ONE_OF_A_PAIR, Rule.NOT_PARALLEL]
    assert [edge_reason(f).others for f in found[:2]] == [("b",), ("a",)]


def test_an_upright_that_two_forms_share_is_one_reading() -> None:
    """Laid once for each form on the very same ends: eye level is known no better for it. A level edge belongs to its
    own form, and counts for each.
    """
    upright = next(e for e in FULL if e.family is Family.UPRIGHT)
    once, twice = check(SETUP, FULL), check(SETUP, [*FULL, replace(upright, id="again", form="house")])
    assert twice.eye_level.sd_px == once.eye_level.sd_px and twice.eye_level.left_y_px == once.eye_level.left_y_px
    assert [n.sightings for n in twice.notes if n.code is NoteCode.SAME_LINE] == [(upright.id, "again")]
    level = next(e for e in FULL if e.family is Family.LEFT)
    assert not [
        n for n in check(SETUP, [*FULL, replace(level, id="again", form="house")]).notes if n.code is NoteCode.SAME_LINE
    ]
