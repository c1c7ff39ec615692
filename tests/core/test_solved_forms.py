"""True proportions of a solved form (handbook section 4), and what keeps them from being told."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aspectum.core.check import check
from aspectum.core.findings import Proportions, WhyNot
from aspectum.core.sightings import Edge, Face, Family, Measured, Perspective, Point, Setup, Tip
from tests import worked
from tests.form_simulation import form_accuracy
from tests.ground_scenes import GroundScene, ground_scene
from tests.samples import least, most, sample
from tests.simulation import SHALLOW, STEEP

RIGHT, LEFT, UPRIGHT, DEPTH, ACROSS = Family.RIGHT, Family.LEFT, Family.UPRIGHT, Family.DEPTH, Family.ACROSS


def solved(setup: Setup, edges: list[Edge], faces: list[Face] | None = None, form: str | None = None) -> Proportions:
    forms = check(setup, edges, measured=Measured(faces=faces or [])).forms
    return forms[0] if form is None else next(f for f in forms if f.form == form)


def sizes(form: Proportions) -> dict[Family, float]:
    return {family: size for family, size in form.size.items() if size is not None}


def test_the_worked_picture_has_its_true_proportions() -> None:
    """Handbook section 4: left side 0.989 and right side 0.894 uprights long."""
    form = solved(worked.SETUP, worked.EDGES)
    assert form.unit is UPRIGHT and form.why_not == {}
    assert sizes(form) == pytest.approx({RIGHT: 0.894, LEFT: 0.989, UPRIGHT: 1.0}, abs=0.0006)
    assert form.size_sd[UPRIGHT] == 0.0 and 0.005 < (form.size_sd[LEFT] or 0) < 0.02


def test_one_known_height_makes_sides_metric() -> None:
    """The eye 1.60 m above the ground stands 300 px above the foot of an upright 500 px long: 2.67 m."""
    form = solved(replace(worked.SETUP, eye_height_m=1.6), worked.EDGES)
    assert form.size_m[UPRIGHT] == pytest.approx(1.6 * 500 / 300, abs=0.005)
    assert form.size_m[RIGHT] == pytest.approx(0.894 * 1.6 * 500 / 300, abs=0.005)


def exact(seed: int, pitch: tuple[float, float] = (2.0, 12.0)) -> tuple[GroundScene, list[Edge], list[Face]]:
    rng = np.random.default_rng(seed)
    scene = ground_scene(rng, pitch)
    edges, faces, _, _ = scene.sighted(rng, 1e-6, told=True)
    return scene, edges, faces


@settings(max_examples=15)
@given(st.integers(0, 10_000))
def test_a_projected_scene_is_solved_back(seed: int) -> None:
    scene, edges, faces = exact(seed)
    setup = replace(scene.setup, focal_35mm=None, point_sd_px=0.2)
    for form in check(setup, edges, measured=Measured(faces=faces)).forms:
        box = scene.boxes[int(form.form[1:])]
        if form.unit is UPRIGHT:
            for family, true in ((RIGHT, box.size[0]), (LEFT, box.size[1])):
                size, sd = form.size[family], form.size_sd[family]
                assert size is None or sd is None or abs(size - true / box.size[2]) < max(0.002, 0.5 * sd)


@settings(max_examples=12)
@given(st.integers(0, 10_000), st.floats(0.4, 3.0))
def test_mirroring_and_scaling_the_picture_change_no_proportion(seed: int, scale: float) -> None:
    """Mirrored, what ran to the right runs to the left."""
    scene, edges, _ = exact(seed)
    setup = replace(scene.setup, focal_35mm=None)
    swap = {RIGHT: LEFT, LEFT: RIGHT}

    def mirrored(at: Point) -> Point:
        return (1280 - at[0]) * scale, at[1] * scale

    other = [replace(e, family=swap.get(e.family, e.family), p=mirrored(e.p), q=mirrored(e.q)) for e in edges]
    there = replace(
        setup,
        width_px=round(1280 * scale),
        height_px=round(960 * scale),
        centre_px=(640 * scale, 480 * scale),
        point_sd_px=1.5 * scale,
    )
    here = replace(setup, centre_px=(640, 480))
    for one, two in zip(check(here, edges).forms, check(there, other).forms, strict=True):
        for family in (RIGHT, LEFT):
            a, b = one.size[family], two.size[swap[family]]
            assert (a is None) == (b is None)
            if a is not None and b is not None:
                assert a == pytest.approx(b, rel=5e-3)


ROOM = [
    Edge("sill", "room", ACROSS, (300, 600), (700, 600)),
    Edge("head", "room", ACROSS, (300, 200), (700, 200)),
    Edge("jamb", "room", UPRIGHT, (300, 600), (300, 200)),
    Edge("post", "room", UPRIGHT, (700, 600), (700, 200)),
    Edge("floor", "room", DEPTH, (300, 600), (400, 500)),
    Edge("ceiling", "room", DEPTH, (300, 200), (400, 300)),
    Edge("back", "room", UPRIGHT, (400, 500), (400, 300)),
]


def test_depth_in_one_point_needs_the_lens() -> None:
    """The width is told by the face alone; how deep it is nobody can say who does not know the lens."""
    setup = Setup(1000, 800, perspective=Perspective.ONE_POINT)
    open_lens = solved(setup, ROOM)
    assert open_lens.size[ACROSS] == pytest.approx(1.0, abs=0.01)
    assert open_lens.size[DEPTH] is None and open_lens.why_not[DEPTH] is WhyNot.LENS_OPEN
    # f = 1000 px: the far upright, half as long, is twice as far; the near face, 400 px high, f/400 heights away
    known = solved(replace(setup, focal_35mm=36.0), ROOM)
    assert known.size[DEPTH] == pytest.approx(2.5, rel=0.01)


def test_a_side_whose_ends_are_all_hidden_is_not_told() -> None:
    edges = [replace(e, hidden=(Tip.Q,)) if e.family is LEFT else e for e in worked.EDGES if e.id != "far-left"]
    form = solved(worked.SETUP, edges)
    assert form.size[LEFT] is None and form.why_not[LEFT] is WhyNot.ENDS_HIDDEN
    assert form.size[RIGHT] == pytest.approx(0.894, abs=0.001)


def test_an_end_at_another_forms_edge_is_cut_off_by_it() -> None:
    """The left wall runs on behind a mast; only the right wall can be told."""
    mast = Edge("mast", "mast", UPRIGHT, (150, 100), (150, 780))
    form = solved(worked.SETUP, [*(e for e in worked.EDGES if e.id != "far-left"), mast], form="box")
    assert form.size[LEFT] is None and form.why_not[LEFT] is WhyNot.ENDS_HIDDEN
    assert form.size[RIGHT] == pytest.approx(0.894, abs=0.001)


def test_an_end_at_the_pictures_border_is_cut_off_by_it() -> None:
    setup = replace(worked.SETUP, width_px=650, centre_px=(500, 400))
    form = solved(setup, [e for e in worked.EDGES if e.id != "far-right"])
    assert form.size[RIGHT] is None and form.why_not[RIGHT] is WhyNot.ENDS_HIDDEN


def test_a_family_without_an_edge_is_told_where_a_face_closes_it() -> None:
    edges = [e for e in worked.EDGES if e.family is not UPRIGHT]
    wall = Face("wall", "box", (RIGHT, UPRIGHT), ((400, 700), (650, 625), (650, 250), (400, 200)))
    form = solved(worked.SETUP, edges, [wall])
    assert sizes(form) == pytest.approx({RIGHT: 0.894, LEFT: 0.989, UPRIGHT: 1.0}, abs=0.001)


def test_without_an_upright_the_longest_side_is_the_unit() -> None:
    """A lid alone: 0.989 by 0.894."""
    lid = [e for e in worked.EDGES if e.id.startswith("top")]
    others = [
        replace(e, form="other", id=f"o{e.id}", p=(e.p[0] + 60, e.p[1]), q=(e.q[0] + 60, e.q[1])) for e in worked.EDGES
    ]
    form = solved(replace(worked.SETUP, focal_35mm=994.99 * 36 / 1000), [*lid, *others], form="box")
    assert form.unit is LEFT and form.size[LEFT] == 1.0 and form.size[UPRIGHT] is None
    assert form.why_not[UPRIGHT] is WhyNot.NOT_SIGHTED


def test_a_side_whose_only_edge_strays_is_not_told_to_be_unsighted() -> None:
    """Its upright is laid 14° out of true: it was sighted, and dropped from the view as a stray."""
    lid = [e for e in worked.EDGES if e.id.startswith("top")]
    others = [
        replace(e, form="other", id=f"o{e.id}", p=(e.p[0] + 60, e.p[1]), q=(e.q[0] + 60, e.q[1])) for e in worked.EDGES
    ]
    askew = Edge("askew", "box", UPRIGHT, (420, 700), (545, 200))
    form = solved(worked.SETUP, [*lid, *others, askew], form="box")
    assert form.size[UPRIGHT] is None and form.why_not[UPRIGHT] is WhyNot.STRAYS


def test_two_uprights_alone_tell_no_side() -> None:
    """Which way a form stands is not known by its uprights."""
    posts = [Edge(f"p{k}", "gate", UPRIGHT, (700 + 60 * k, 640), (700 + 60 * k, 300)) for k in range(2)]
    assert [f.form for f in check(worked.SETUP, worked.EDGES + posts).forms] == ["box"]


def test_an_end_that_misses_its_corner_is_let_go_of() -> None:
    """Laid 9 px short: near enough to be taken for the corner, too far for the rest of the form."""
    edges = [replace(e, q=(641.3, 627.6)) if e.id == "bottom-right" else e for e in worked.EDGES]
    form = solved(replace(worked.SETUP, point_sd_px=1.0), edges)
    assert form.size[RIGHT] == pytest.approx(0.894, abs=0.01)


def test_a_view_that_is_no_camera_s_tells_no_proportions() -> None:
    form = solved(replace(worked.SETUP, perspective=Perspective.PARALLEL), worked.EDGES)
    assert sizes(form) == {} and set(form.why_not.values()) == {WhyNot.NO_VIEW}


def test_ends_laid_in_one_click_count_once() -> None:
    """Snapped to one another they are one reading, so the ± is wider than that of as many readings."""
    once = solved(worked.SETUP, worked.EDGES)
    rng = np.random.default_rng(3)
    moved = [
        replace(e, p=(e.p[0] + rng.normal(0, 0.2), e.p[1]), q=(e.q[0] + rng.normal(0, 0.2), e.q[1]))
        for e in worked.EDGES
    ]
    apart = solved(worked.SETUP, moved)
    assert (once.size_sd[RIGHT] or 0) > 1.1 * (apart.size_sd[RIGHT] or 0)


def test_a_box_whose_lid_lies_at_eye_level_stands_as_its_names_say() -> None:
    """Every level edge of the lid is drawn on one line, so that the picture alone would as well have left and right the
    other way round: the twenty-first scene of this seed came out 0.46 by 2.85 for 1.49 by 1.24.
    """
    rng = np.random.default_rng(551911)
    for _ in range(21):
        scene = ground_scene(rng, STEEP)
        edges, faces, _, heights = scene.sighted(rng)
    told = {f.form: f for f in check(scene.setup, edges, measured=Measured(faces=faces, heights=heights)).forms}["b2"]
    for family, true in ((RIGHT, 1.492), (LEFT, 1.243)):
        size, sd = told.size[family], told.size_sd[family]
        assert size is None or sd is None or abs(size - true) < 3 * sd


@pytest.mark.parametrize(("pitch", "seed"), [(SHALLOW, 11), (STEEP, 12)])
def test_what_is_told_holds_within_what_is_said_of_it(pitch: tuple[float, float], seed: int) -> None:
    """Sizes, heights and parts on boxes that hide one another; ``make bench`` runs fourteen times as many."""
    found = form_accuracy(pitch, sample(28, 14), seed)
    assert found.answered / found.asked >= 0.94
    for told, share in ((found.sizes, 0.90), (found.heights, 0.90), (found.parts, 0.91)):
        assert told.coverage() >= least(share, len(told.errors)) and told.beyond_four() <= most(0.01, len(told.errors))
        assert told.against_bound() <= 1.2


def test_an_edge_laid_twice_counts_once() -> None:
    again = [*worked.EDGES, replace(worked.EDGES[0], id="again")]
    assert solved(worked.SETUP, again).size_sd == solved(worked.SETUP, worked.EDGES).size_sd


def test_the_errors_of_a_form_do_not_depend_on_who_is_first() -> None:
    order = list(reversed(worked.EDGES))
    assert sizes(solved(worked.SETUP, order)) == pytest.approx(sizes(solved(worked.SETUP, worked.EDGES)), rel=1e-3)
    assert math.isclose(sizes(solved(worked.SETUP, order))[UPRIGHT], 1.0)
