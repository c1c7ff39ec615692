"""Proposing the family of an edge that was just laid, for the person to confirm or change."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.again import lies_again
from aspectum.core.plane.lines import Floats, lean_deg, tilt_deg, tilt_difference
from aspectum.core.sightings import LEVEL_FAMILIES, SQUARE_TO, Edge, Family, Looking, Perspective, Point, Setup
from aspectum.core.view.eye_level import read_eye_level
from aspectum.core.view.find import find_view
from aspectum.core.view.posterior import Posterior
from aspectum.core.view.vanishing_points import read_vanishing_points

PLUMB_DEG = 14.0  # an edge this near to plumb is taken for an upright
NEAR_DEG = 7.0  # an edge this near to where a known family runs is taken for one of it
FLAT_DEG = 4.0  # flatter than this a lone edge may as well run across as away
CLEAR_OF_LEVEL = 0.02  # of the picture's height, that an edge is above or below eye level
ALIKE_DEG = 12.0  # by which two edges of one wall may turn against each other and still run alike
OVER_EACH_OTHER = 0.5  # of the shorter one's width, from which two edges stand over each other


@dataclass(frozen=True)
class Found:
    """What was found in a picture that nobody has laid: edges with their families, and eye level at its left and right
    side (px).
    """

    edges: Sequence[Edge] = ()
    eye_level_px: tuple[float, float] | None = None


NOTHING_FOUND = Found()


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


def propose_family(
    setup: Setup, edges: list[Edge], form: str, p: Point, q: Point, shown: Found | None = None
) -> Family:
    """The likeliest family of an edge from ``p`` to ``q`` on ``form``; ``shown``: what was found in the whole picture.

    Near plumb: upright. Else the family of an edge that runs alike along the same wall; else the one of the form whose
    vanishing point it heads for; else the one of the edge that was found there. Failing that, by the quick rule: below
    eye level what climbs to the right runs back to the right, above it the other way round.
    """
    shown = shown or NOTHING_FOUND
    tilt = float(tilt_deg(p, q))
    middle = np.array([(p[0] + q[0]) / 2, (p[1] + q[1]) / 2])
    if setup.looking is not Looking.AHEAD:
        return propose_straight(setup, [e for e in edges if e.form == form], tilt, middle)
    if abs(float(lean_deg(tilt))) < PLUMB_DEG:
        return Family.UPRIGHT
    mine = {e.family for e in edges if e.form == form}
    frontal = bool(mine & {Family.DEPTH, Family.ACROSS}) or setup.perspective is Perspective.ONE_POINT
    given = (
        None if shown.eye_level_px is None else float(np.interp(middle[0], [0.0, setup.width_px], shown.eye_level_px))
    )
    level = Level(
        between_edges(edges, float(setup.centre[1]) if given is None else given), None if given is None else 0.0
    )
    gaps: dict[Family, float] = {}
    if len(edges) >= 3 and setup.perspective is not Perspective.PARALLEL:
        solved, gaps = heading_for(setup, edges, form, tilt, middle)
        level = level if solved is None or level.sd_px is not None else solved
    if not frontal and level.tells(tilt, float(middle[1]), setup.height_px):
        return climbing(tilt, float(middle[1]), level.y_px)
    fellow = along_wall([e for e in edges if e.form == form], p, q)
    if fellow is not None:
        return fellow
    nearest = min(gaps, key=lambda f: gaps[f], default=None)
    if nearest is not None and gaps[nearest] < NEAR_DEG:
        return nearest
    there = lies_along(shown.edges, p, q, float(np.hypot(setup.width_px, setup.height_px)))
    if there is not None and (there.family in (Family.DEPTH, Family.ACROSS)) == frontal:
        return there.family
    if frontal:
        return Family.ACROSS if abs(tilt) < FLAT_DEG else Family.DEPTH
    return climbing(tilt, float(middle[1]), level.y_px)


@dataclass(frozen=True)
class Level:
    """Where eye level lies at an edge (px), and how well that is known; None where it is a guess."""

    y_px: float
    sd_px: float | None

    def tells(self, tilt_deg: float, y_px: float, high_px: float) -> bool:
        """Whether an edge is so clearly above or below it, and so clearly not level, that the side it climbs to says
        which way it runs.
        """
        clear = abs(tilt_deg) > FLAT_DEG / 2 and self.sd_px is not None
        return clear and abs(y_px - self.y_px) > CLEAR_OF_LEVEL * high_px + 2.0 * (self.sd_px or 0.0)


def climbing(tilt_deg: float, y_px: float, level_y_px: float) -> Family:
    """The quick rule: below eye level what climbs to the right runs back to the right, above it the other way round."""
    return Family.RIGHT if (tilt_deg > 0) == (y_px > level_y_px) else Family.LEFT


def heading_for(
    setup: Setup, edges: list[Edge], form: str, tilt: float, middle: Floats
) -> tuple[Level | None, dict[Family, float]]:
    """Eye level by the edges that are laid, and by how much an edge through ``middle`` misses the vanishing point of
    each family of its form (degrees).
    """
    found = Posterior.beside(find_view(setup, tuple(edges))[0])
    eye_level, _ = read_eye_level(found, None)
    height = eye_level.height_at(float(middle[0]), setup.width_px)
    gaps: dict[Family, float] = {}
    for v in read_vanishing_points(found, eye_level):
        if v.form not in (form, None) or v.family is Family.SLOPE:
            continue
        heading = v.direction_deg if v.x_px is None or v.y_px is None else float(tilt_deg(middle, (v.x_px, v.y_px)))
        if heading is not None:
            gaps[v.family] = abs(float(tilt_difference(tilt, heading)))
    return None if height is None else Level(height, eye_level.sd_px), gaps


def along_wall(fellows: list[Edge], p: Point, q: Point) -> Family | None:
    """The family of the edge that a new one stands over, or under, and runs alike: parapet and cornice, sill and
    plinth. Walls that face the eye stand beside each other at their corner and not over each other, and a lid's far
    edge rises where the near one falls.
    """
    tilt, best, found = float(tilt_deg(p, q)), ALIKE_DEG, None
    low, high = sorted((p[0], q[0]))
    for edge in fellows:
        if edge.family not in LEVEL_FAMILIES:
            continue
        other = float(tilt_deg(edge.p, edge.q))
        left, right = sorted((edge.p[0], edge.q[0]))
        shared = (min(high, right) - max(low, left)) / max(min(high - low, right - left), 1e-9)
        clear = tilt * other > 0 and min(abs(tilt), abs(other)) > FLAT_DEG / 2
        if shared > OVER_EACH_OTHER and clear and abs(tilt - other) < best:
            best, found = abs(tilt - other), edge.family
    return found


def between_edges(edges: list[Edge], guess_y: float) -> float:
    """A height of eye level (px) that is above what climbs as it goes back and below what falls, as near to ``guess_y``
    as that leaves it.
    """
    low, high = -np.inf, np.inf
    for edge in edges:
        tilt = float(tilt_deg(edge.p, edge.q))
        if edge.family not in (Family.LEFT, Family.RIGHT) or abs(tilt) < FLAT_DEG / 2:
            continue
        ys = edge.p[1], edge.q[1]
        if (tilt > 0) == (edge.family is Family.LEFT):
            low = max(low, *ys)
        else:
            high = min(high, *ys)
    return guess_y if low > high else float(np.clip(guess_y, low, high))


def lies_along(edges: Sequence[Edge], p: Point, q: Point, diagonal_px: float) -> Edge | None:
    """The edge of those that were found that a laid one lies on."""
    first, last = (np.array([getattr(e, end) for e in edges], float).reshape(-1, 2) for end in ("p", "q"))
    same = np.flatnonzero(lies_again(np.array(p), np.array(q), first, last, diagonal_px))
    return edges[int(same[0])] if same.size else None


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
