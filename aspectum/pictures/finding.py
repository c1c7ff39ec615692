"""What a picture shows, proposed and never decided: its view, the edges of its forms, and their rims."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from aspectum.core.finding.forms import Grouped, families_of, group, to_the_right
from aspectum.core.finding.lines import Lines
from aspectum.core.finding.search import widening
from aspectum.core.finding.settle import NONE, UPRIGHT, Found
from aspectum.core.finding.slopes import Slope
from aspectum.core.finding.sureness import EDGE_WEIGHTS, RIM_WEIGHTS, SUREST_OF, is_family, probability
from aspectum.core.plane.again import lies_again
from aspectum.core.sightings import Family, FormKind, Plane
from aspectum.pictures.round_lines import SeenCircle, farness
from aspectum.pictures.seeking import Sought, seek

Floats = NDArray[np.float64]
Pixels = NDArray[np.uint8]
Place = tuple[float, float]

SHORTEST = 0.013  # of the picture's diagonal: a line that may be proposed
MOST_SIGHTINGS = 80  # more than anybody lays by hand on one sheet
LEAST_OF_MAIN = 5  # edges of each main family, however unsure
# of what is offered: lower offers more that is wrong, higher finds less
LEAST_CONFIDENCE, LEAST_RIM_CONFIDENCE = 0.27, 0.35
MAIN_OF, MAIN_EXPECTED = 12, 2.5  # edges to be expected among a family's dozen surest that make it a main one
# where eye level is known no better than that (of the picture's height), lies so far off (in heights), or the view
# explains no more of the lines, there is none
NO_VIEW, FAR_OFF, LEAST_VIEW = 0.05, 20.0, 0.34
LEAST_OF_ALL = 2.0  # edges and rims to be expected of a picture that shows forms
ARC_POINTS = 12  # of a proposed rim
OWN_PX, OWN_SHARE = (
    2.0,
    0.2,
)  # how far from surer rims (px of the copy) a rim's steps are its own, and what share of it they must be


@dataclass(frozen=True)
class FoundEdge:
    """``form``: its number among the forms; ``slope``: of a slope the number of its group, which keeps the bearing of
    ``plan``.
    """

    p: Place
    q: Place
    form: int
    family: Family
    confidence: float
    slope: int | None = None
    plan: Family | None = None


@dataclass(frozen=True)
class FoundRim:
    """``points`` on its seen arc, px."""

    points: tuple[Place, ...]
    form: int
    plane: Plane
    confidence: float


@dataclass(frozen=True)
class FoundInPicture:
    """``eye_level``: px at the left and right side and its standard deviation in the middle, None where no view was
    found; ``focal_px`` with its own; ``points``: homogeneous vanishing points, in half diagonals from the middle, of
    the families that edges are proposed of.
    """

    width_px: int
    height_px: int
    focal_35mm: float | None
    eye_level: tuple[float, float, float] | None = None
    focal_px: tuple[float, float] | None = None
    forms: list[FormKind] = field(default_factory=list)
    edges: list[FoundEdge] = field(default_factory=list)
    rims: list[FoundRim] = field(default_factory=list)
    points: list[tuple[float, float, float]] = field(default_factory=list)


def find_in(picture: Pixels, focal_35mm: float | None) -> FoundInPicture:
    """What is proposed of an RGB picture, the surest first."""
    high, wide = picture.shape[:2]
    nothing = FoundInPicture(wide, high, focal_35mm)
    sought = seek(picture, focal_35mm)
    if sought is None:
        return nothing
    found, lines = sought.found, sought.found.lines
    sure = probability(sought.edge_inputs, EDGE_WEIGHTS)
    slot, slope_of = found.slot.copy(), np.full(len(lines), -1, np.intp)
    for n, slope in enumerate(sought.slopes):
        slot[slope.members], slope_of[slope.members] = slope.plan, n
    rim_sure = probability(sought.circle_inputs, RIM_WEIGHTS)
    rims = with_arcs_of_their_own(
        sought.circles, [int(k) for k in np.argsort(-rim_sure) if rim_sure[k] >= LEAST_RIM_CONFIDENCE]
    )
    chosen = choose(lines, slot, sure, MOST_SIGHTINGS - min(len(rims), MOST_SIGHTINGS // 2))
    left, right, sd = found.eye_level()
    shown = float(sure[chosen].sum() + rim_sure[rims].sum())
    if (
        not sd < NO_VIEW * high
        or max(abs(left), abs(right)) > FAR_OFF * high
        or sought.view < LEAST_VIEW
        or shown < LEAST_OF_ALL
    ):
        return nothing
    grouped = group(
        lines.p[chosen], lines.q[chosen], slot[chosen], len(found.bearings), (left + right) / 2, (wide, high)
    )
    edges = [edge_at(found, grouped, slot, slope_of, sought.slopes, sure, int(i), n) for n, i in enumerate(chosen)]
    forms, seen_rims = with_rims(sought, rims[: MOST_SIGHTINGS - len(edges)], rim_sure, grouped.kinds)
    directions = found.directions()
    wider = widening(sought.view)
    focal, focal_sd = found.focal()
    points = [
        tuple((found.camera @ directions[s]).tolist()) for s in np.unique(slot[chosen])
    ]  # an upright's slot counts from the end
    return replace(
        nothing,
        eye_level=(left, right, sd * wider),
        focal_px=(focal, focal_sd * wider),
        forms=forms,
        edges=edges,
        rims=seen_rims,
        points=points,
    )


def choose(lines: Lines, slot: NDArray[np.intp], sure: Floats, most: int) -> NDArray[np.intp]:
    """The surest lines of some family, and of every main family five at least; a family of which hardly an edge can be
    expected is none.
    """
    able = np.flatnonzero((slot != NONE) & (lines.length_px > SHORTEST * 2 * lines.scale))
    order = able[np.argsort(-sure[able], kind="stable")]
    order = once(lines, slot, order)
    of = {s: sure[order[slot[order] == s]] for s in np.unique(slot[order]).tolist()}
    expected = {s: float(held[:SUREST_OF].sum()) for s, held in of.items()}
    order = order[np.array([is_family(s, expected) for s in slot[order].tolist()], bool)]
    kept = order[:most]
    kept = kept[sure[kept] >= LEAST_CONFIDENCE]
    wanted = [
        order[slot[order] == s][:LEAST_OF_MAIN] for s, held in of.items() if held[:MAIN_OF].sum() >= MAIN_EXPECTED
    ]
    extra = np.setdiff1d(np.concatenate(wanted) if wanted else np.zeros(0, np.intp), kept)
    kept = np.concatenate([kept[: max(most - len(extra), 0)], extra])
    return np.asarray(kept[np.argsort(-sure[kept], kind="stable")], np.intp)


def once(lines: Lines, slot: NDArray[np.intp], order: NDArray[np.intp]) -> NDArray[np.intp]:
    """Those of ``order`` that are not a surer one of their family over again: the two sides of one step, or a part of
    it.
    """
    kept: list[int] = []
    for i in order.tolist():
        mine = [k for k in kept if slot[k] == slot[i]]
        if not lies_again(lines.p[i], lines.q[i], lines.p[mine], lines.q[mine], 2 * lines.scale).any():
            kept.append(i)
    return np.array(kept, np.intp)


def with_arcs_of_their_own(circles: list[SeenCircle], order: list[int]) -> list[int]:
    """Those of ``order``, the surest first, of which enough shows that no surer one has drawn: what runs along the
    inner rim of a wall before and along its outer one behind shows nothing else.
    """
    kept, drawn = list[int](), np.zeros((0, 2))
    for k in order:
        one = circles[k]
        seen = one.places[one.seen]
        if (farness(seen, drawn) > OWN_PX).sum() >= OWN_SHARE * len(one.places):
            kept.append(k)
            drawn = np.concatenate([drawn, seen])
    return kept


def edge_at(
    found: Found,
    grouped: Grouped,
    slot: NDArray[np.intp],
    slope_of: NDArray[np.intp],
    slopes: list[Slope],
    sure: Floats,
    i: int,
    n: int,
) -> FoundEdge:
    lines = found.lines
    p, q = ((float(x), float(y)) for x, y in (lines.p[i], lines.q[i]))
    if slot[i] == UPRIGHT:
        return FoundEdge(p, q, int(grouped.form[n]), Family.UPRIGHT, float(sure[i]))
    family = family_along(found, float(found.bearings[slot[i] // 2]) - (np.pi / 2 if slot[i] % 2 else 0.0))
    if slope_of[i] >= 0:
        return FoundEdge(p, q, int(grouped.form[n]), Family.SLOPE, float(sure[i]), int(slope_of[i]), family)
    return FoundEdge(p, q, int(grouped.form[n]), family, float(sure[i]))


def family_along(found: Found, bearing: float) -> Family:
    """What a level family at ``bearing`` (radians) is called on its forms."""
    first = to_the_right(bearing)
    pair = families_of(found.camera, first, found.lines.scale, found.lines.width_px)
    return pair[round((bearing - first) / (np.pi / 2)) % 2]


def with_rims(
    sought: Sought, which: list[int], sure: Floats, kinds: tuple[FormKind, ...]
) -> tuple[list[FormKind], list[FoundRim]]:
    """Rims on forms of their own, after those of ``kinds``: rims about one axis stand on one cylinder."""
    forms, rims = list(kinds), list[FoundRim]()
    owners: list[tuple[int, int, Floats, float]] = []
    found = sought.found
    for k in which:
        one = sought.circles[k]
        middle, wide = one.places.mean(axis=0), float(np.ptp(one.places[:, 0]))
        axis = sought.axes[one.plane]
        point = found.camera @ axis
        form = None
        for other, number, centre, across in owners:
            if number == one.plane and coaxial(
                found, middle * sought.scale, centre * sought.scale, point, max(wide, across) * sought.scale
            ):
                form = other
                break
        if form is None:
            form = len(forms)
            forms.append(FormKind.CYLINDER)
        owners.append((form, one.plane, middle, wide))
        arc = arc_of(one) * sought.scale
        points = tuple(
            (float(x), float(y))
            for x, y in arc[np.linspace(0, len(arc) - 1, min(ARC_POINTS, len(arc))).round().astype(int)]
        )
        plane = Plane.LEVEL if one.plane == 0 else Plane(family_along(found, float(np.arctan2(axis[0], axis[1]))).value)
        rims.append(FoundRim(points, form, plane, float(sure[k])))
    return forms, rims


def arc_of(one: SeenCircle) -> Floats:
    """Its seen places (n, 2) one after another, from behind the widest gap on: whoever joins them goes round it and not
    across.
    """
    seen = np.flatnonzero(one.seen)
    gaps = np.diff(seen, append=seen[0] + len(one.seen))
    return np.asarray(one.places[np.roll(seen, -int(np.argmax(gaps)) - 1)], float)


def coaxial(found: Found, one: Floats, other: Floats, point: Floats, wide: float) -> bool:
    """Whether two circles' middles lie in line with their axis' vanishing point, and near enough to be of one form."""
    lines = found.lines
    away = other - one
    if np.hypot(*away) > 4.0 * wide:
        return False
    here = (one - np.array([lines.width_px / 2, lines.height_px / 2])) / lines.scale
    way = np.array([point[0] - here[0] * point[2], point[1] - here[1] * point[2]])
    way /= max(float(np.hypot(*way)), 1e-12)
    return bool(abs(away[0] * way[1] - away[1] * way[0]) < max(0.15 * wide, 3.0))
