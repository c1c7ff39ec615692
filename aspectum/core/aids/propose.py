"""Proposing the family of an edge that was just laid, for the person to confirm or change."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.lines import Floats, lean_deg, tilt_deg, tilt_difference
from aspectum.core.sightings import LEVEL_FAMILIES, SQUARE_TO, Edge, Family, Looking, Perspective, Point, Setup
from aspectum.core.view.eye_level import read_eye_level
from aspectum.core.view.find import find_view
from aspectum.core.view.posterior import Posterior
from aspectum.core.view.vanishing_points import read_vanishing_points

PLUMB_DEG = 14.0  # an edge this near to plumb is taken for an upright
NEAR_DEG = 7.0  # an edge this near to where a known family runs is taken for one of it
FLAT_DEG = 4.0


@dataclass(frozen=True)
class FirstGuess:
    """The family of an edge that nobody has looked into yet: ``plumb_family`` within ``plumb_deg`` of plumb,
    ``else_family`` otherwise. For an interface that cannot ask.
    """

    plumb_deg: float
    plumb_family: Family
    else_family: Family


def first_guess(perspective: Perspective, edges: list[Edge]) -> FirstGuess:
    frontal = perspective is Perspective.ONE_POINT or any(e.family in (Family.DEPTH, Family.ACROSS) for e in edges)
    return FirstGuess(PLUMB_DEG, Family.UPRIGHT, Family.DEPTH if frontal else Family.RIGHT)


def propose_family(setup: Setup, edges: list[Edge], form: str, p: Point, q: Point) -> Family:
    """The likeliest family of an edge from ``p`` to ``q`` on ``form``.

    Near plumb: upright. Else the family of the form whose vanishing point it heads for. Failing
    that, by the quick rule: below eye level what climbs to the right runs back to the right, above
    it the other way round.
    """
    tilt = float(tilt_deg(p, q))
    middle = np.array([(p[0] + q[0]) / 2, (p[1] + q[1]) / 2])
    if setup.looking is not Looking.AHEAD:
        return propose_straight(setup, [e for e in edges if e.form == form], tilt, middle)
    if abs(float(lean_deg(tilt))) < PLUMB_DEG:
        return Family.UPRIGHT
    mine = {e.family for e in edges if e.form == form}
    frontal = bool(mine & {Family.DEPTH, Family.ACROSS}) or setup.perspective is Perspective.ONE_POINT
    level_y = float(setup.centre[1])
    if len(edges) >= 3 and setup.perspective is not Perspective.PARALLEL:
        found = Posterior.beside(find_view(setup, tuple(edges))[0])
        eye_level, _ = read_eye_level(found, None)
        height = eye_level.height_at(float(middle[0]), setup.width_px)
        level_y = level_y if height is None else height
        gaps: dict[Family, float] = {}
        for v in read_vanishing_points(found, eye_level):
            if v.form not in (form, None) or v.family is Family.SLOPE:
                continue
            heading = v.direction_deg if v.x_px is None or v.y_px is None else float(tilt_deg(middle, (v.x_px, v.y_px)))
            if heading is not None:
                gaps[v.family] = abs(float(tilt_difference(tilt, heading)))
        if gaps and min(gaps.values()) < NEAR_DEG:
            return min(gaps, key=lambda f: gaps[f])
    if frontal:
        return Family.ACROSS if abs(tilt) < FLAT_DEG else Family.DEPTH
    below = middle[1] > level_y
    return Family.RIGHT if (tilt > 0) == below else Family.LEFT


def propose_face(setup: Setup, edges: list[Edge], form: str, corners: tuple[Point, Point, Point, Point]) -> tuple[Family, Family]:
    """The likeliest two families of a face on ``form``: of its side from the first corner to the second, and of the next
    one. They are square to each other: where the sides' own proposals are not, the first is believed.
    """
    first, second = (propose_family(setup, edges, form, corners[k], corners[k + 1]) for k in range(2))
    if Family.UPRIGHT not in (first, second):
        return first, SQUARE_TO[first]
    if first is second:
        return first, first_guess(setup.perspective, edges).else_family
    return first, second


def propose_straight(setup: Setup, fellows: list[Edge], tilt: float, middle: Floats) -> Family:
    """As ``propose_family``, looking straight up or down: what heads for the centre of vision is an upright, unless it
    runs along, or square to, a level edge among the form's ``fellows`` more nearly.
    """
    gaps = {Family.UPRIGHT: abs(float(tilt_difference(tilt, tilt_deg(middle, setup.centre))))}
    for edge in fellows:
        if edge.family in LEVEL_FAMILIES:
            along = abs(float(tilt_difference(tilt, tilt_deg(edge.p, edge.q))))
            for family, gap in ((edge.family, along), (SQUARE_TO[edge.family], 90.0 - along)):
                gaps[family] = min(gap, gaps.get(family, 90.0))
    nearest = min(gaps, key=lambda f: gaps[f])
    return nearest if gaps[nearest] < PLUMB_DEG else Family.RIGHT
