"""Sightings that cannot fix an answer get a note, never a crash or a made-up number."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aspectum.core.check import check
from aspectum.core.findings import CheckResult, NoteCode
from aspectum.core.sightings import Edge, Family, Perspective, Setup
from aspectum.core.tolerance import Verdict
from tests.worked import EDGES, SETUP


def codes(result: CheckResult) -> set[NoteCode]:
    return {n.code for n in result.notes}


def test_no_edges() -> None:
    result = check(SETUP, [])
    assert result.eye_level.source == "none"
    assert codes(result) == {NoteCode.NO_EDGES}


@pytest.mark.parametrize("family", list(Family))
def test_one_edge_of_any_family(family: Family) -> None:
    result = check(
        SETUP, [Edge("e", "box", family, (100, 100), (400, 180), slope="s" if family is Family.SLOPE else None)]
    )
    assert result.eye_level.source == "none"
    assert result.findings[0].verdict is Verdict.UNSURE
    assert result.findings[0].implied is None
    assert result.camera is None


def test_one_family_fixes_its_vanishing_point_but_not_eye_level() -> None:
    edges = [e for e in EDGES if e.family is Family.LEFT] + [Edge("m", "box", Family.LEFT, (400, 450), (150, 437.5))]
    result = check(SETUP, edges)
    assert result.eye_level.source == "none"
    assert {NoteCode.ONE_FAMILY, NoteCode.EYE_LEVEL_OPEN} <= codes(result)
    assert result.vanishing_points[0].x_px == pytest.approx(-600, abs=1)
    assert all(f.verdict is Verdict.HOLDS for f in result.findings)


def test_all_edges_parallel_leave_eye_level_open() -> None:
    edges = [Edge(f"e{k}", "box", Family.RIGHT, (100, 200 + 90 * k), (500, 120 + 90 * k)) for k in range(4)]
    edges += [Edge(f"f{k}", "box", Family.LEFT, (600, 200 + 90 * k), (900, 280 + 90 * k)) for k in range(4)]
    result = check(SETUP, edges)
    assert result.eye_level.source == "none"
    assert NoteCode.NEARLY_PARALLEL in codes(result)
    assert all(v.x_px is None and v.direction_deg is not None for v in result.vanishing_points)


def test_a_zero_length_edge_is_refused_by_name() -> None:
    with pytest.raises(ValueError, match="edge e: its two ends coincide"):
        check(SETUP, [Edge("e", "box", Family.LEFT, (5, 5), (5, 5))])


def test_two_identical_edges_count_once() -> None:
    again = [Edge("again", "box", Family.LEFT, EDGES[0].q, EDGES[0].p)]
    once, twice = check(SETUP, EDGES), check(SETUP, [*EDGES, *again])
    assert NoteCode.SAME_LINE in codes(twice)
    assert twice.eye_level == once.eye_level
    assert twice.findings[-1].implied == once.findings[0].implied


def test_edges_of_one_family_that_cross_are_pointed_out() -> None:
    crossing = Edge("x", "box", Family.LEFT, (400, 300), (150, 150))
    result = check(SETUP, [*EDGES, crossing])
    assert any(n.code is NoteCode.CROSSING and "x" in n.sightings for n in result.notes)


def test_edges_outside_the_picture_are_judged_and_pointed_out() -> None:
    beyond = Edge("beyond", "box", Family.RIGHT, (900, 300), (1150, 350))
    result = check(SETUP, [*EDGES, beyond])
    assert any(n.code is NoteCode.OUTSIDE and n.sightings == ("beyond",) for n in result.notes)
    assert result.findings[-1].implied is not None


def test_families_mixed_up_do_not_crash() -> None:
    swapped = [
        Edge(e.id, e.form, Family.LEFT if e.family is Family.UPRIGHT else Family.UPRIGHT, e.p, e.q) for e in EDGES
    ]
    assert len(check(SETUP, swapped).findings) == len(EDGES)


coordinates = st.one_of(st.floats(-2000, 4000, allow_nan=False), st.sampled_from([0.0, 500.0, 400.0, 1e6, -1e6]))


@given(
    st.lists(st.tuples(st.sampled_from(list(Family)), coordinates, coordinates, coordinates, coordinates), max_size=9),
    st.sampled_from(list(Perspective)),
)
@settings(max_examples=150, deadline=None)
def test_any_sightings_give_finite_answers_or_none(
    rows: list[tuple[Family, float, float, float, float]], perspective: Perspective
) -> None:
    edges = [
        Edge(f"e{k}", f"f{k % 2}", family, (a, b), (c, d), slope="s" if family is Family.SLOPE else None)
        for k, (family, a, b, c, d) in enumerate(rows)
        if math.hypot(a - c, b - d) > 1e-3
    ]
    with np.errstate(all="ignore"):
        result = check(Setup(1000, 800, perspective=perspective), edges)
    numbers = [v for f in result.findings for v in (f.sighted, f.implied, f.implied_sd)]
    numbers += [v for p in result.vanishing_points for v in (p.x_px, p.y_px, p.sd_px, p.direction_deg)]
    numbers += [result.eye_level.left_y_px, result.eye_level.right_y_px, result.eye_level.sd_px]
    assert all(v is None or math.isfinite(v) for v in numbers)
    assert len(result.findings) == len(edges)
