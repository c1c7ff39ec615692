"""A face by its four corners: laid in any order, from any corner, it is one face, of the form that it runs with."""

from __future__ import annotations

import itertools
from dataclasses import replace

import numpy as np
import pytest

from aspectum.core.aids.face import Corners, lay_face
from aspectum.core.sightings import Edge, Family, Perspective, Setup
from tests.scenes import Box, Pinhole, seen_edges
from tests.worked import EDGES, SETUP

LEFT, RIGHT, UPRIGHT, DEPTH, ACROSS = Family.LEFT, Family.RIGHT, Family.UPRIGHT, Family.DEPTH, Family.ACROSS
# the walls, the lid and the floor of the handbook's worked picture (section 2), each as a sheet writes it
LEFT_WALL: Corners = ((150.0, 625.0), (400.0, 700.0), (400.0, 200.0), (150.0, 250.0))
RIGHT_WALL: Corners = ((400.0, 700.0), (650.0, 625.0), (650.0, 250.0), (400.0, 200.0))
FLOOR: Corners = ((400.0, 700.0), (650.0, 625.0), (400.0, 566.7), (150.0, 625.0))
CEILING: Corners = ((400.0, 200.0), (150.0, 250.0), (400.0, 290.0), (650.0, 250.0))
FACES = {
    "left wall": (LEFT_WALL, (LEFT, UPRIGHT)),
    "right wall": (RIGHT_WALL, (RIGHT, UPRIGHT)),
    "floor": (FLOOR, (RIGHT, LEFT)),
    "ceiling": (CEILING, (LEFT, RIGHT)),
}


def orders(corners: Corners) -> list[Corners]:
    return [(a, b, c, d) for a, b, c, d in itertools.permutations(corners)]


@pytest.mark.parametrize("name", FACES)
def test_in_whatever_order_its_corners_are_laid_it_is_the_same_face(name: str) -> None:
    corners, families = FACES[name]
    for order in orders(corners):
        laid = lay_face(SETUP, EDGES, "box", order)
        assert (laid.form, laid.families, laid.corners) == ("box", families, corners)


def test_with_nothing_sighted_yet_a_wall_still_begins_at_its_bottom_left() -> None:
    for order in orders(RIGHT_WALL):
        laid = lay_face(SETUP, [], "box", order)
        assert laid.corners == RIGHT_WALL and laid.families == (RIGHT, UPRIGHT)


def test_in_one_point_a_floor_begins_at_the_left_of_its_nearest_side_and_a_ceiling_at_the_right() -> None:
    setup = replace(SETUP, perspective=Perspective.ONE_POINT)
    floor: Corners = ((100.0, 780.0), (900.0, 780.0), (600.0, 500.0), (400.0, 500.0))
    ceiling: Corners = ((900.0, 20.0), (100.0, 20.0), (400.0, 300.0), (600.0, 300.0))
    for corners in (floor, ceiling):
        for order in orders(corners):
            laid = lay_face(setup, [], "room", order)
            assert laid.corners == corners and laid.families == (ACROSS, DEPTH)


def test_two_pairs_near_plumb_are_not_both_uprights() -> None:
    sliver: Corners = ((398.0, 700.0), (412.0, 690.0), (402.0, 200.0), (400.0, 210.0))
    assert lay_face(SETUP, EDGES, "box", sliver).families[1] is UPRIGHT
    assert lay_face(replace(SETUP, perspective=Perspective.ONE_POINT), [], "box", sliver).families == (DEPTH, UPRIGHT)


@pytest.mark.parametrize("chosen", ["house", "shed"])
def test_it_belongs_to_the_form_that_it_runs_with_whichever_was_chosen_last(chosen: str) -> None:
    """Two houses that stand turned against each other; a window on a wall of either lies on none of its edges."""
    camera = Pinhole(1000, 0, 0)
    boxes = {"house": Box((-1.2, 6, -1.5), 25.0, (2.0, 1.6, 2.4)), "shed": Box((1.0, 7, -1.5), 65.0, (1.5, 1.2, 1.4))}
    edges = [
        Edge(f"{form}-{k}", form, family, (px, py), (qx, qy))
        for form, box in boxes.items()
        for k, (family, a, b) in enumerate(seen_edges(box))
        for (px, py), (qx, qy) in [camera.project(np.array([a, b])).tolist()]
    ]
    for form, box in boxes.items():
        for family, plane in ((RIGHT, lambda s, t: (s, 0.0, t)), (LEFT, lambda s, t: (0.0, s, t))):
            for low, high in ((0.0, 1.0), (0.2, 0.8)):
                wall = camera.project(
                    np.array([box.at(*plane(s, t)) for s, t in ((low, low), (high, low), (high, high), (low, high))])
                )
                first, second, third, fourth = (tuple(at) for at in wall.tolist())
                laid = lay_face(Setup(1280, 960), edges, chosen, (third, first, second, fourth))
                assert (laid.form, laid.families) == (form, (family, UPRIGHT)), (low, laid)


def test_alone_on_a_sheet_it_belongs_to_the_form_in_hand() -> None:
    assert lay_face(SETUP, [], "barn", LEFT_WALL).form == "barn"
