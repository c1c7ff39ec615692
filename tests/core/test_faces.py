"""Faces that lines close round: their forms, and what their sides run along."""

from __future__ import annotations

import numpy as np
import pytest

from aspectum.core.finding.faces import Face, joined, sides_along
from aspectum.core.plane.again import off_round
from aspectum.core.sightings import Family

U, LEFT, RIGHT, ACROSS, DEPTH = Family.UPRIGHT, Family.LEFT, Family.RIGHT, Family.ACROSS, Family.DEPTH
# a box in two-point perspective, its near upright in the middle: uprights 0-2, right 3 4 7, left 5 6 8
ENDS = [
    ((200, 100), (200, 220)),
    ((320, 110), (320, 190)),
    ((90, 115), (90, 185)),
    ((200, 100), (320, 110)),
    ((200, 220), (320, 190)),
    ((200, 100), (90, 115)),
    ((200, 220), (90, 185)),
    ((90, 115), (205, 122)),
    ((320, 110), (205, 122)),
]
BOX: list[Face] = [(3, 1, 4, 0), (5, 0, 6, 2), (3, 8, 7, 5)]
FAMILIES = {0: U, 1: U, 2: U, 3: RIGHT, 4: RIGHT, 7: RIGHT, 5: LEFT, 6: LEFT, 8: LEFT}
P, Q = (np.array([ends[k] for ends in ENDS], float) for k in (0, 1))


def test_a_boxs_three_faces_are_one_form_and_its_nine_edges_have_their_families() -> None:
    assert [set(form) for form in joined(BOX)] == [set(BOX)]
    assert sides_along(P, Q, BOX) == FAMILIES


@pytest.mark.parametrize("order", [(0, 2, 1), (2, 1, 0), (1, 0, 2)])
def test_neither_the_order_of_faces_nor_of_ends_changes_what_they_are(order: tuple[int, int, int]) -> None:
    assert sides_along(Q, P, [BOX[k] for k in order]) == FAMILIES
    assert len(joined([BOX[k] for k in order])) == 1


def test_mirrored_left_is_right() -> None:
    mirror = np.array([-1.0, 1.0])
    swapped = {n: {LEFT: RIGHT, RIGHT: LEFT}.get(which, which) for n, which in FAMILIES.items()}
    assert sides_along(P * mirror, Q * mirror, BOX) == swapped


def test_a_face_seen_from_before_runs_across_and_what_leads_away_from_it_in_depth() -> None:
    ends = [
        ((0, 50), (80, 51)),
        ((80, 51), (80, 120)),
        ((80, 120), (0, 119)),
        ((0, 119), (0, 50)),
        ((0, 50), (20, 30)),
        ((20, 30), (70, 30)),
        ((70, 30), (80, 51)),
    ]
    p, q = (np.array([end[k] for end in ends], float) for k in (0, 1))
    assert sides_along(p, q, [(0, 1, 2, 3), (0, 6, 5, 4)]) == {
        0: ACROSS,
        2: ACROSS,
        5: ACROSS,
        1: U,
        3: U,
        4: DEPTH,
        6: DEPTH,
    }


def test_faces_that_share_no_side_are_forms_of_their_own_until_one_joins_them() -> None:
    apart: list[Face] = [(0, 1, 2, 3), (4, 5, 6, 7)]
    assert len(joined(apart)) == 2
    assert len(joined([*apart, (3, 8, 4, 9)])) == 1


def test_places_off_an_ellipse_are_told_by_its_half_axes() -> None:
    turns = np.linspace(0, 2 * np.pi, 20)
    c, s = np.cos(0.4), np.sin(0.4)
    along, across = 50 * np.cos(turns), 20 * np.sin(turns)
    on = np.stack([10 + c * along - s * across, 7 + s * along + c * across], axis=1)
    assert off_round(on, (10.0, 7.0), 50.0, 20.0, 0.4) == pytest.approx(0.0, abs=1e-9)
    wider = (on - [10, 7]) * 1.2 + [10, 7]
    assert off_round(wider, (10.0, 7.0), 50.0, 20.0, 0.4) == pytest.approx(0.2)
