"""A face by its four corners, laid in any order: which comes first, which form it belongs to, and which way its sides
run (handbook section 4).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.aids.propose import (
    NOTHING_FOUND,
    Found,
    between_edges,
    first_guess,
    heading_for,
    lies_along,
    propose_family,
)
from aspectum.core.plane.lines import Floats, lean_deg, tilt_deg
from aspectum.core.sightings import SQUARE_TO, Edge, Family, Looking, Perspective, Point, Setup

Corners = tuple[Point, Point, Point, Point]
CAN_RUN_DEG = 5.0  # by which a face's sides may miss, at the mean, the vanishing points of the form that they run with
CHOSEN_DEG = 1.0  # by which they must miss those of another form less than those of the chosen one


@dataclass(frozen=True)
class LaidFace:
    """A face as a sheet writes it: ``corners`` (px) anticlockwise as seen, a wall's from its bottom left, a lid's from
    its nearest; the side from the first to the second runs along the first of ``families``, the next along the second.
    """

    form: str
    families: tuple[Family, Family]
    corners: Corners


def lay_face(setup: Setup, edges: list[Edge], chosen: str, corners: Corners, shown: Found = NOTHING_FOUND) -> LaidFace:
    """The face with these four ``corners``, whatever their order and turn; ``chosen``: the form that is worked on,
    which has it where its sides run with no other form more plainly.
    """
    ring = anticlockwise(corners)
    form = form_of(setup, edges, chosen, ring)
    families, first = families_of(setup, edges, form, ring, shown)
    start = nearest_corner(setup, edges, families, ring, first)
    if (start - first) % 2:
        families = families[1], families[0]
    a, b, c, d = ring[start:] + ring[:start]
    return LaidFace(form, families, (a, b, c, d))


def anticlockwise(corners: Corners) -> list[Point]:
    """The corners in order round their middle, anticlockwise as seen; from whichever was laid."""
    at = np.array(corners) - np.mean(corners, axis=0)
    return [corners[k] for k in np.argsort(-np.arctan2(at[:, 1], at[:, 0]))]


def sides_of(ring: list[Point]) -> list[tuple[Point, Point]]:
    return [(ring[k], ring[(k + 1) % 4]) for k in range(4)]


def form_of(setup: Setup, edges: list[Edge], chosen: str, ring: list[Point]) -> str:
    """The form whose edges most of the sides lie on; where no form has more of them than any other, the one whose
    vanishing points they run to.
    """
    forms = [chosen, *sorted({e.form for e in edges} - {chosen})]
    diagonal = float(np.hypot(setup.width_px, setup.height_px))
    fellows = {form: [e for e in edges if e.form == form] for form in forms}
    lying = {
        form: sum(lies_along(fellows[form], p, q, diagonal) is not None for p, q in sides_of(ring)) for form in forms
    }
    most = max(lying.values())
    forms = [form for form in forms if lying[form] == most]
    if len(forms) == 1 or setup.perspective is Perspective.PARALLEL or len(edges) < 3:
        return forms[0]
    missed = {form: running_miss(setup, edges, form, ring) for form in forms}
    best = min(forms, key=lambda form: missed[form])
    return best if missed[best] < CAN_RUN_DEG and missed[best] + CHOSEN_DEG < missed[forms[0]] else forms[0]


def running_miss(setup: Setup, edges: list[Edge], form: str, ring: list[Point]) -> float:
    """By how much (degrees, at the mean) the four sides miss vanishing points of a form, opposite sides running to one;
    infinite where they are not known.
    """
    gaps = [
        heading_for(setup, edges, form, float(tilt_deg(p, q)), np.array([(p[0] + q[0]) / 2, (p[1] + q[1]) / 2]))[1]
        for p, q in sides_of(ring)
    ]
    pairs = [
        {family: (gaps[k][family] + gaps[k + 2][family]) / 2 for family in gaps[k].keys() & gaps[k + 2].keys()}
        for k in range(2)
    ]
    sums = [pairs[0][a] + pairs[1][b] for a in pairs[0] for b in pairs[1] if a is not b]
    return min(sums, default=np.inf) / 2


def families_of(
    setup: Setup, edges: list[Edge], form: str, ring: list[Point], shown: Found
) -> tuple[tuple[Family, Family], int]:
    """The two families of a face, square to each other, and the side that runs along the first of them: of a wall a
    level one.
    """
    sides = sides_of(ring)
    told = [propose_family(setup, edges, form, p, q, shown) for p, q in sides]
    spans = [float(np.hypot(q[0] - p[0], q[1] - p[1])) for p, q in sides]

    def of_pair(k: int, taken: tuple[Family, ...] = ()) -> Family | None:
        """What opposite sides say; the longer one where they do not agree."""
        said = [f for n in sorted((k, k + 2), key=lambda n: -spans[n]) if (f := told[n]) not in taken]
        return said[0] if said else None

    plumb = [Family.UPRIGHT in (told[k], told[k + 2]) for k in range(2)]
    if any(plumb):
        # of two pairs near plumb the plumber one stands upright
        up = min((k for k in range(2) if plumb[k]), key=lambda k: lean_of(setup, ring, k))
        level = (
            of_pair(1 - up, (Family.UPRIGHT,))
            or first_guess(setup.perspective, [e for e in edges if e.form == form]).else_family
        )
        return (level, Family.UPRIGHT), 1 - up
    longer = 0 if spans[0] + spans[2] >= spans[1] + spans[3] else 1
    family = of_pair(longer) or Family.RIGHT
    return (family, SQUARE_TO.get(family, Family.RIGHT)), longer


def lean_of(setup: Setup, ring: list[Point], k: int) -> float:
    """How far a pair of opposite sides stands from plumb, at the mean (degrees); seen straight up or down, from the
    sight to the centre of vision.
    """

    def lean(p: Point, q: Point) -> float:
        tilt = float(tilt_deg(p, q))
        if setup.looking is Looking.AHEAD:
            return abs(float(lean_deg(tilt)))
        middle: Floats = (np.array(p) + np.array(q)) / 2
        away = abs(tilt - float(tilt_deg(middle, setup.centre))) % 180.0
        return min(away, 180.0 - away)

    return (lean(*sides_of(ring)[k]) + lean(*sides_of(ring)[k + 2])) / 2


def nearest_corner(
    setup: Setup, edges: list[Edge], families: tuple[Family, Family], ring: list[Point], first: int
) -> int:
    """The corner that a face begins at: a wall's bottom left, a lid's or floor's nearest to the eye."""
    at = np.array(ring)
    if families[1] is Family.UPRIGHT:
        # the lower of its two level sides, which runs to the right as the face is gone round; looking straight up or
        # down, the one below
        low = (
            at[:, 1]
            if setup.looking is Looking.AHEAD
            else np.hypot(*(at - np.array(setup.centre)).T) * (1 if setup.looking is Looking.UP else -1)
        )
        return max((first % 4, (first + 2) % 4), key=lambda k: low[k] + low[(k + 1) % 4])
    level = between_edges(edges, float(setup.centre[1]))
    below = float(at[:, 1].mean()) > level
    if Family.ACROSS in families:
        # its nearest side lies level; gone round anticlockwise, a floor's begins at its left end and a ceiling's at its
        # right one
        across = first if families[0] is Family.ACROSS else first + 1
        pair = (across % 4, (across + 2) % 4)
        return max(pair, key=lambda k: (1 if below else -1) * (at[k, 1] + at[(k + 1) % 4, 1]))
    return int(np.argmax(at[:, 1] if below else -at[:, 1]))
