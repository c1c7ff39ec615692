"""The ± that holds where little holds the view: a seeded sample of messy sheets; ``make bench`` runs a thousand."""

from __future__ import annotations

import numpy as np
import pytest

from aspectum.core.sightings import Edge, Family, Perspective, Setup
from aspectum.core.view.camera import FIRST_BEARING
from aspectum.core.view.curve import stretches
from aspectum.core.view.evidence import gather
from aspectum.core.view.explanations import explain
from aspectum.core.view.find import find_view
from aspectum.core.view.implied import half_widths, stands_twice
from aspectum.core.view.perspective import view_for
from aspectum.core.view.posterior import Posterior
from aspectum.core.view.sides import MISNAMED, misnaming
from tests.messy_scenes import messy_scene, small_boxes
from tests.samples import most, sample
from tests.scenes import random_scene, turned
from tests.simulation import Messy, messy_sheets, one_stray

pytestmark = pytest.mark.slow


@pytest.fixture(scope="module")
def messy() -> Messy:
    return messy_sheets(sample(70, 40), seed=41)


def test_the_interval_holds_on_messy_sheets(messy: Messy) -> None:
    assert messy.open <= 4
    assert 0.91 <= messy.coverage() <= 0.985  # 0.935-0.97 over a thousand, two binomial sds wider here
    assert messy.beyond_four() <= most(0.015, len(messy.errors))


def test_eye_level_on_messy_sheets_is_near_the_bound(messy: Messy) -> None:
    assert messy.against_bound() <= 1.35
    assert messy.off_share() <= 0.005


def test_one_stray_among_few_edges_is_named_and_drags_no_other_along() -> None:
    found = one_stray(small_boxes, 70, seed=43)
    assert 0.89 <= found.coverage() <= 0.985
    assert found.named_clear() >= 0.85 and found.named_all() >= 0.74
    assert found.off_share() <= 0.008


def test_explanations_are_each_told_once_the_likeliest_first() -> None:
    scene = messy_scene(np.random.default_rng(3))
    found = explain(find_view(scene.setup, tuple(scene.sighted(np.random.default_rng(4)))))
    assert (np.diff(found.worth) <= 1e-9).all()
    assert len(
        {row.tobytes() + np.round(p[:3], 2).tobytes() for row, p in zip(found.active, found.params, strict=True)}
    ) == len(found.cost)


def test_a_turned_edge_strays_in_nearly_all_that_is_possible() -> None:
    scene = random_scene(np.random.default_rng(7), (1, 6), boxes=3)
    edges = scene.sighted(np.random.default_rng(1))
    k = max(range(len(edges)), key=lambda i: abs(edges[i].q[0] - edges[i].p[0]))
    edges[k] = turned(edges[k], 14)
    strayed = Posterior.of(find_view(scene.setup, tuple(edges))).strayed
    assert strayed[k] > 0.95 and np.delete(strayed, k).max() < 0.2


def test_names_say_on_which_side_a_form_stands() -> None:
    """A box with left and right edges stands between 0 and 90 degrees; the other way round counts as a slip
    of the pen.
    """
    edges = (Edge("l", "a", Family.LEFT, (400, 200), (150, 250)), Edge("r", "a", Family.RIGHT, (400, 200), (650, 250)))
    evidence = gather(Setup(1000, 800), edges, {})
    view = view_for(evidence, Perspective.THREE_POINT)
    columns, between = view.sides
    assert np.degrees(between) == pytest.approx(np.array([[0.0, 90.0]]))
    params = np.repeat(view.start[None], 3, axis=0)
    params[:, FIRST_BEARING] = np.radians([40.0, -40.0, 220.0])
    tight = np.repeat(1e-6 * np.eye(len(view.free))[None], 3, axis=0)
    price = misnaming(params, tight, view.free, columns, between)
    assert price == pytest.approx([0.0, -2 * np.log(MISNAMED), 0.0], abs=0.01)


def test_half_widths_of_a_bell_are_its_own_and_ignore_what_is_all_but_ruled_out() -> None:
    one = np.ones((1, 1))
    assert half_widths(0 * one, one, one)[0] == pytest.approx(1.96, abs=0.26)
    far = half_widths(np.array([[0.0], [40.0]]), np.ones((2, 1)), np.array([[0.99], [0.01]]))
    assert far[0] < 3.0


def test_an_explanation_stands_twice_where_another_leaves_out_one_more() -> None:
    active = np.array([[1, 1, 1], [1, 0, 1], [0, 0, 1]], bool)
    assert stands_twice(active).tolist() == [[False, True, False], [True, False, False], [False, False, False]]


def test_stretches_of_eye_level_add_up() -> None:
    assert stretches(np.array([0.0, 1.0, 2.0, 3.0]), 1.0).tolist() == [1.0, 1.0, 1.0, 1.0]
    assert stretches(np.array([5.0]), 2.0)[0] == pytest.approx(2.0 * np.sqrt(2 * np.pi))
