"""The subject as a closed drawing (handbook section 6): what each cause moves, exactly, against
constructions by ruler.
"""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aspectum.core.drawing.closed import Closed, Knob, Move
from aspectum.core.drawing.closing import close, far_run
from aspectum.core.drawing.compare import Laid, compare
from aspectum.core.drawing.critique import critique
from aspectum.core.look import look
from aspectum.core.sightings import Edge, Family, Perspective, Setup
from aspectum.core.tolerance import FREEHAND
from tests import worked
from tests.drawing_simulation import names
from tests.paper_scenes import KINDS, PAPER_DPMM, Fault, on_paper, paper_subject, random_fault, sighted
from tests.scenes import Vec

LEFT, RIGHT, UPRIGHT = Family.LEFT, Family.RIGHT, Family.UPRIGHT

# the handbook's worked picture with its far uprights and the lid's back edges, all of one box
BACK = (500.0, 275.0)  # about where its lines meet


def box() -> list[Edge]:
    near, foot, left, right = (400.0, 200.0), (400.0, 700.0), (150.0, 250.0), (650.0, 250.0)
    edges = [
        Edge("near", "box", UPRIGHT, near, foot),
        Edge("lt", "box", LEFT, near, left),
        Edge("lb", "box", LEFT, foot, (150.0, 625.0)),
        Edge("rt", "box", RIGHT, near, right),
        Edge("rb", "box", RIGHT, foot, (650.0, 625.0)),
        Edge("ul", "box", UPRIGHT, left, (150.0, 625.0)),
        Edge("ur", "box", UPRIGHT, right, (650.0, 625.0)),
    ]
    back = crossing(left, (1400.0, 400.0), right, (-600.0, 400.0))
    return [*edges, Edge("bl", "box", RIGHT, left, back), Edge("br", "box", LEFT, right, back)]


def crossing(
    p: tuple[float, float], q: tuple[float, float], r: tuple[float, float], s: tuple[float, float]
) -> tuple[float, float]:
    a, b = np.cross([*p, 1.0], [*q, 1.0]), np.cross([*r, 1.0], [*s, 1.0])
    x, y, w = np.cross(a, b)
    return float(x / w), float(y / w)


def closed(edges: list[Edge], setup: Setup = worked.SETUP) -> Closed:
    return close(look(setup, edges, []), edges, [], [])


def ends(drawing: Closed, knobs: dict[Knob, float], id: str) -> Vec:
    """Both ends of a line, (2, 2)."""
    points = drawing.draw(list(knobs), np.array(list(knobs.values()))).points
    return np.array([points[drawing.places[id, 0]], points[drawing.places[id, 1]]])


NONE: dict[Knob, float] = {}
EYE, NEAR_LEFT, DEEP_RIGHT = (
    Knob(Move.EYE_LEVEL),
    Knob(Move.VANISHING_POINT, "box", LEFT),
    Knob(Move.DEPTH, "box", RIGHT),
)


def test_left_alone_it_is_the_subject() -> None:
    drawing = closed(box())
    for edge in box():
        p, q = ends(drawing, {}, edge.id)
        assert p == pytest.approx(edge.p, abs=0.05) and q == pytest.approx(edge.q, abs=0.05)


def test_eye_level_moves_both_points_and_far_uprights_keep_their_places() -> None:
    """A fifth of the near upright too high: 100 px. The top left edge then runs from (400, 200) to (-600, 300)."""
    drawing = closed(box())
    near, far = ends(drawing, {EYE: 0.2}, "lt")
    assert near == pytest.approx((400, 200), abs=0.1)
    assert far == pytest.approx((150, 225), abs=0.1)
    assert ends(drawing, {EYE: 0.2}, "rb")[1] == pytest.approx((650, 700 - 400 * 0.25), abs=0.1)
    assert drawing.vanishing_point("box", LEFT, [EYE], np.array([0.2])) == pytest.approx((-600, 300), abs=0.3)


def test_a_point_too_far_turns_the_other_familys_back_edge() -> None:
    """The left point from 1000 px out to 2000: half the convergence, a quarter of an upright less over one upright."""
    drawing = closed(box())
    knobs = {NEAR_LEFT: -0.25}
    assert drawing.vanishing_point("box", LEFT, [NEAR_LEFT], np.array([-0.25])) == pytest.approx((-1600, 400), abs=1.0)
    assert ends(drawing, knobs, "lt")[1] == pytest.approx((150, 225), abs=0.1)
    assert ends(drawing, knobs, "rt") == pytest.approx(ends(drawing, {}, "rt"), abs=1e-9)
    back, corner = ends(drawing, knobs, "bl")
    assert back == pytest.approx((150, 225), abs=0.1)
    assert corner == pytest.approx(crossing((150, 225), (1400, 400), (650, 250), (-1600, 400)), abs=0.2)


def test_a_family_that_does_not_converge_is_drawn_parallel() -> None:
    knobs = {NEAR_LEFT: -0.5}
    near, far = ends(closed(box()), knobs, "lt")
    foot, low = ends(closed(box()), knobs, "lb")
    assert far - near == pytest.approx(low - foot, abs=0.2)
    assert closed(box()).vanishing_point("box", LEFT, [NEAR_LEFT], np.array([-0.5])) is None


def test_a_side_too_deep_keeps_its_direction() -> None:
    drawing = closed(box())
    assert ends(drawing, {DEEP_RIGHT: np.log(1.2)}, "rt")[1] == pytest.approx(
        (400 + 250 * 1.2, 200 + 50 * 1.2), abs=0.1
    )
    assert ends(drawing, {DEEP_RIGHT: np.log(1.2)}, "ul") == pytest.approx(ends(drawing, {}, "ul"), abs=1e-9)


@pytest.mark.parametrize("knob", [EYE, NEAR_LEFT, DEEP_RIGHT, Knob(Move.LEAN), Knob(Move.STRETCH)])
def test_whatever_is_wrong_the_corners_still_close(knob: Knob) -> None:
    drawing = closed(box())
    for a, b in ((("lt", 1), ("ul", 0)), (("lt", 1), ("bl", 0)), (("bl", 1), ("br", 1)), (("rb", 1), ("ur", 1))):
        one, two = (ends(drawing, {knob: 0.13}, id)[tip] for id, tip in (a, b))
        assert one == pytest.approx(two, abs=0.05)


def test_uprights_lean_about_their_feet() -> None:
    drawing = closed(box())
    knobs = {Knob(Move.LEAN): np.radians(6.0)}
    for id in ("near", "ul", "ur"):
        top, foot = sorted(ends(drawing, knobs, id), key=lambda at: float(at[1]))
        assert np.degrees(np.arctan2(top[0] - foot[0], foot[1] - top[1])) == pytest.approx(6.0, abs=0.02)
    assert ends(drawing, knobs, "near")[1] == pytest.approx((400, 700), abs=0.1)


def test_in_one_point_the_point_moves_along_eye_level_and_the_far_face_keeps_its_size() -> None:
    near = [(300.0, 300.0), (500.0, 300.0), (500.0, 600.0), (300.0, 600.0)]
    far = [(x + (700 - x) * 0.3, y + (250 - y) * 0.3) for x, y in near]
    edges = [Edge(f"d{k}", "b", Family.DEPTH, near[k], far[k]) for k in range(4)]
    edges += [
        Edge("u", "b", UPRIGHT, near[1], near[2]),
        Edge("v", "b", UPRIGHT, near[0], near[3]),
        Edge("w", "b", UPRIGHT, far[1], far[2]),
    ]
    edges += [Edge("a", "b", Family.ACROSS, near[0], near[1]), Edge("c", "b", Family.ACROSS, near[3], near[2])]
    drawing = closed(edges, Setup(1000, 800, perspective=Perspective.ONE_POINT))
    knob = Knob(Move.VANISHING_POINT, "b", Family.DEPTH)
    at = drawing.vanishing_point("b", Family.DEPTH, [knob], np.array([0.2]))
    still = drawing.vanishing_point("b", Family.DEPTH, [], np.zeros(0))
    assert still == pytest.approx((700, 250), abs=1.0)
    assert at is not None and still is not None
    assert abs(at[0] - still[0]) == pytest.approx(0.2 * 300, abs=0.5) and at[1] == pytest.approx(still[1], abs=0.5)
    long = [float(np.hypot(*np.diff(ends(drawing, knobs, "w"), axis=0)[0])) for knobs in (NONE, {knob: 0.2})]
    assert long[0] == pytest.approx(long[1], rel=1e-6)


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("pitch_deg", [0.0, -22.0])
def test_a_steady_hands_fault_is_found_to_its_size(kind: str, pitch_deg: float) -> None:
    """Constructed line by line with a ruler, by meeting lines: the projective frame must agree with every
    construction.
    """
    rng, seen = np.random.default_rng(31), 0
    for fault_kind in ("eye-level", "vanishing-point", "lean", "stretch", "depth", "size", "rim"):
        subject = paper_subject(rng, kind, pitch_deg)
        fault = random_fault(rng, subject, fault_kind)
        if fault is None or (fault_kind == "rim" and fault.which == "all"):
            continue
        theirs, drawn = sighted(subject, rng, 0.02), on_paper(subject, [fault], rng, wobble=0.0)
        found = critique(compare(theirs, drawn, 1 / PAPER_DPMM), theirs, drawn, FREEHAND)
        assert found.causes and names(found.causes[0], fault, subject), (kind, fault, found.causes)
        expected = abs(fault.size) if fault_kind in ("eye-level", "lean", "rim") else None
        if expected is not None:
            assert found.causes[0].size == pytest.approx(expected, rel=0.06)
        seen += 1
    assert seen >= 3


@settings(max_examples=15, deadline=None)
@given(seed=st.integers(0, 10_000), scale=st.floats(0.5, 2.0), dx=st.floats(-300, 300), dy=st.floats(-300, 300))
def test_the_size_and_place_of_a_drawing_change_nothing(seed: int, scale: float, dx: float, dy: float) -> None:
    """Shape is compared, never raw size (handbook section 4): the same lines larger, elsewhere, and as steady."""
    rng = np.random.default_rng(seed)
    subject = paper_subject(rng, "one box")
    theirs, drawn = sighted(subject, rng), on_paper(subject, [Fault("lean", 6.0)], rng)
    moved = Laid(
        drawn.setup,
        [Edge(e.id, e.form, e.family, shifted(e.p, scale, dx, dy), shifted(e.q, scale, dx, dy)) for e in drawn.edges],
    )
    one, two = compare(theirs, drawn, 1 / PAPER_DPMM), compare(theirs, moved, 1 / PAPER_DPMM / scale)
    assert [c.of for c in one.explained.causes] == [c.of for c in two.explained.causes]
    assert [c.value for c in one.explained.causes] == pytest.approx([c.value for c in two.explained.causes], rel=1e-6)
    assert two.explained.scale == pytest.approx(one.explained.scale, abs=1e-6)


def shifted(at: tuple[float, float], scale: float, dx: float, dy: float) -> tuple[float, float]:
    return at[0] * scale + dx, at[1] * scale + dy


MIRRORED = {LEFT: RIGHT, RIGHT: LEFT}


@settings(max_examples=10, deadline=None)
@given(seed=st.integers(0, 10_000))
def test_mirrored_subject_and_drawing_have_mirrored_causes(seed: int) -> None:
    rng = np.random.default_rng(seed)
    subject = paper_subject(rng, "one box")
    theirs, drawn = sighted(subject, rng), on_paper(subject, [Fault("lean", 6.0)], rng)
    one = compare(theirs, drawn, 1 / PAPER_DPMM).explained.causes
    two = compare(mirrored(theirs), mirrored(drawn), 1 / PAPER_DPMM).explained.causes
    assert [c.of.kind for c in one] == [c.of.kind for c in two]
    for a, b in zip(one, two, strict=True):
        assert b.of.family is (MIRRORED.get(a.of.family, a.of.family) if a.of.family else None)
        turned = -1.0 if a.of.kind in ("lean", "stray") else 1.0
        assert abs(b.value) == pytest.approx(abs(a.value), abs=0.01)
        assert a.of.kind != "lean" or np.sign(b.value) == turned * np.sign(a.value)


def mirrored(laid: Laid) -> Laid:
    wide = laid.setup.width_px
    edges = [
        Edge(e.id, e.form, MIRRORED.get(e.family, e.family), (wide - e.p[0], e.p[1]), (wide - e.q[0], e.q[1]))
        for e in laid.edges
    ]
    return Laid(laid.setup, edges)


@settings(max_examples=10, deadline=None)
@given(seed=st.integers(0, 10_000))
def test_the_order_of_an_edges_ends_changes_nothing(seed: int) -> None:
    rng = np.random.default_rng(seed)
    subject = paper_subject(rng, "one box")
    theirs, drawn = sighted(subject, rng), on_paper(subject, [Fault("depth", 0.16, "b0", RIGHT)], rng)
    back = Laid(drawn.setup, [Edge(e.id, e.form, e.family, e.q, e.p) for e in drawn.edges])
    one, two = compare(theirs, drawn, 1 / PAPER_DPMM).explained, compare(theirs, back, 1 / PAPER_DPMM).explained
    assert [(c.of.kind, c.of.form) for c in one.causes] == [(c.of.kind, c.of.form) for c in two.causes]
    assert [c.value for c in one.causes] == pytest.approx([c.value for c in two.causes], rel=1e-5)


def test_a_form_runs_as_far_as_its_corners_on_the_near_line_do() -> None:
    """Those behind them count where the near ones stop within a fifth of the way, and nothing where nothing runs."""
    assert far_run(np.array([[0.0, 0.0], [0.3, 0.0], [1.0, 1.0]]), 0) == 0.3
    assert far_run(np.array([[0.0, 0.0], [0.1, 0.0], [1.0, 1.0]]), 0) == 1.0
    assert far_run(np.array([[0.0, 0.0], [-0.3, 0.0], [0.2, 0.0]]), 0) == -0.3
    assert far_run(np.array([[0.0, 0.0], [0.0, 2.0]]), 0) == 0.0
