"""The family that is proposed for an edge: by what is laid already, by what the whole picture shows, and by the quick
rule (handbook section 2).
"""

from __future__ import annotations

import numpy as np
import pytest

from aspectum.core.aids.propose import Found, between_edges, propose_family
from aspectum.core.sightings import Edge, Family, Point, Setup
from tests.paper_scenes import KINDS, paper_subject, sighted

HOTEL = Setup(900, 640)
# of a facade seen from below: both its parapet and its cornice lie above eye level, one of them below the picture's
# middle
LEVEL_PX = 510.0


def towards(x0: float, y0: float, x1: float, vp: Point = (1800.0, LEVEL_PX)) -> tuple[Point, Point]:
    """An edge from a place, that runs to a vanishing point."""
    return (x0, y0), (x1, y0 + (vp[1] - y0) * (x1 - x0) / (vp[0] - x0))


def test_edges_of_one_facade_are_one_family() -> None:
    laid: list[Edge] = []
    for x0, y0, x1 in ((200, 100, 700), (220, 345, 690), (200, 420, 600), (250, 470, 650)):
        p, q = towards(x0, y0, x1)
        laid.append(Edge(f"e{len(laid)}", "hotel", propose_family(HOTEL, laid, "hotel", p, q), p, q))
    assert {e.family for e in laid} == {laid[0].family}


def test_eye_level_found_in_the_picture_tells_the_first_edge() -> None:
    """Just below the picture's middle and above eye level: by the middle alone it would run back to the other side."""
    p, q = towards(220, 345, 690)
    assert (
        propose_family(HOTEL, [], "hotel", p, q) is Family.LEFT
        and propose_family(HOTEL, [], "hotel", *towards(220, 240, 690)) is Family.RIGHT
    )
    found = Found(eye_level_px=(LEVEL_PX, LEVEL_PX))
    assert {propose_family(HOTEL, [], "hotel", *towards(220, y, 690), found) for y in (100, 240, 345, 450)} == {
        Family.RIGHT
    }


def test_an_edge_that_was_found_there_lends_its_family() -> None:
    p, q = (200.0, 320.0), (600.0, 322.0)
    found = Found([Edge("f", "found", Family.RIGHT, (180.0, 320.4), (640.0, 322.4))])
    assert (
        propose_family(HOTEL, [], "hotel", p, q, found) is Family.RIGHT
        and propose_family(HOTEL, [], "hotel", p, q) is Family.LEFT
    )


def test_eye_level_lies_above_what_climbs_and_below_what_falls() -> None:
    above, below = (
        Edge("a", "f", Family.RIGHT, (200, 300), (500, 340)),
        Edge("b", "f", Family.RIGHT, (200, 600), (500, 560)),
    )
    assert between_edges([above, below], 100.0) == 340.0 and between_edges([above, below], 700.0) == 560.0
    assert between_edges([above, below], 400.0) == 400.0
    assert between_edges([Edge("l", "f", Family.LEFT, (500, 300), (200, 340))], 100.0) == 340.0


@pytest.mark.parametrize(("looked", "least"), [(False, 0.75), (True, 0.92)])
def test_proposals_over_boxes_and_buildings_from_many_views(looked: bool, least: float) -> None:
    """Edges laid in any order, every earlier one put right by the person; with eye level found in the picture, and
    without.
    """
    rng, right, asked = np.random.default_rng(8), 0, 0
    for n in range(45):
        subject = paper_subject(rng, KINDS[n % len(KINDS)], pitch_deg=float(rng.uniform(-12, 12)))
        laid = sighted(subject, rng)
        level = (subject.camera.eye_level_at(0.0), subject.camera.eye_level_at(1280.0))
        before: list[Edge] = []
        for k in rng.permutation(len(laid.edges))[:6]:
            edge = laid.edges[int(k)]
            found = propose_family(
                laid.setup, before, edge.form, edge.p, edge.q, Found(eye_level_px=level) if looked else None
            )
            if edge.family in (Family.LEFT, Family.RIGHT):
                asked, right = asked + 1, right + (found is edge.family)
            before.append(edge)
    assert right >= least * asked > 60
