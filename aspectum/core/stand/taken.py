"""A view taken as a subject: the sightings that a perfect eye would lay on its picture."""

from __future__ import annotations

import math
from collections import Counter
from dataclasses import dataclass

import numpy as np

from aspectum.core.sightings import (
    LEVEL_FAMILIES,
    Along,
    Edge,
    Family,
    FormKind,
    Length,
    Looking,
    Perspective,
    Plane,
    Point,
    Rim,
    Tip,
)
from aspectum.core.stand.camera import View
from aspectum.core.stand.drawn import Drawing, DrawnRim, Line
from aspectum.core.stand.things import AnyThing, Box, Building, Cylinder, Figure, Section, Turned, Wheels

LEAST_EDGE_PX = 30.0  # shorter edges tell nothing that a hand could use
LEAST_RIM_PX = 12.0  # major axis under which a rim is a dot
LEAST_ARC = 0.3  # share of a rim's turn that must be seen in the picture
ARC_POINTS = 16  # a hand lays about as many along a rim
EDGE_ON_DEG = 1.0  # under which a rim is a line and is no rim to sight
WHOLE = 1e-6  # of an edge: an end cut off by less is not cut
END_SLACK = 0.01  # part of a rim's turn by which the end of its axis may lie round the corner and still be told


@dataclass(frozen=True)
class TakenForm:
    """A thing as a form of a sheet."""

    id: str
    kind: FormKind
    name: str


@dataclass(frozen=True)
class Taken:
    """Forms with their edges and rims as seen, edges' and rims' names by id, and the nearest upright as the unit where
    one is seen whole.
    """

    forms: tuple[TakenForm, ...]
    edges: tuple[Edge, ...]
    rims: tuple[Rim, ...]
    names: dict[str, str]
    unit: Length | None
    perspective: Perspective
    looking: Looking


def taken(drawing: Drawing) -> Taken:
    """Every edge and rim of ``drawing`` that shows well enough in its picture to be sighted."""
    view = drawing.view
    edges: list[Edge] = []
    names: dict[str, str] = {}
    nearest: tuple[float, Line] | None = None
    for line in drawing.edges:
        if line.way is None:
            continue
        part = _best_part(line, view)
        if part is None:
            continue
        a, b = part
        key = f"e{len(edges) + 1}"
        tips = tuple(tip for tip, cut in ((Tip.P, a > WHOLE), (Tip.Q, b < 1.0 - WHOLE)) if cut)
        edges.append(
            Edge(key, line.thing, line.way.family, line.at(a), line.at(b), line.way.slope, line.way.plan, None, tips)
        )
        names[key] = line.name
        if line.way.family is Family.UPRIGHT and not tips:
            depth = (
                float(view.depths(line.room).min())
                if view.parallel is None
                else float((line.room @ view.towards).min())
            )
            if nearest is None or depth < nearest[0]:
                nearest = depth, line
    edges = _checkable(edges)
    rims: list[Rim] = []
    for drawn in drawing.rims:
        if drawn.plane is None or drawn.ellipse.major_px < LEAST_RIM_PX or drawn.ellipse.degree_deg < EDGE_ON_DEG:
            continue
        key = f"r{len(rims) + 1}"
        rim = _laid(key, drawn, drawn.plane, view)
        if rim is not None:
            rims.append(rim)
            names[key] = drawn.name
    used = {edge.form for edge in edges} | {rim.form for rim in rims}
    forms = tuple(
        TakenForm(p.thing.id, _form_kind(p.thing), p.thing.name or p.thing.id)
        for p in drawing.placed
        if p.thing.id in used and not isinstance(p.thing, Section)
    )
    unit = None if nearest is None else Length("unit", nearest[1].p, nearest[1].q, Along.UPRIGHT, unit=True)
    looking = view.looking
    perspective = Perspective.AUTO
    if view.parallel is not None:
        perspective = Perspective.PARALLEL
    elif looking is not Looking.AHEAD:
        perspective = Perspective.ONE_POINT
    return Taken(forms, tuple(edges), tuple(rims), names, unit, perspective, looking)


def _form_kind(thing: AnyThing) -> FormKind:
    if isinstance(thing, Box):
        return FormKind.BOX
    if isinstance(thing, Building):
        return FormKind.BUILDING
    return FormKind.CYLINDER if isinstance(thing, Cylinder | Turned | Wheels | Figure) else FormKind.OTHER


def _best_part(line: Line, view: View) -> tuple[float, float] | None:
    """The longest part that is seen and lies in the picture, in shares of the drawn line; None under
    ``LEAST_EDGE_PX``.
    """
    inside = _clipped(line.p, line.q, view)
    if inside is None:
        return None
    parts = [(max(a, inside[0]), min(b, inside[1])) for a, b in line.visible]
    a, b = max(parts, key=lambda part: part[1] - part[0], default=(0.0, 0.0))
    return (a, b) if (b - a) * line.length_px >= LEAST_EDGE_PX else None


def _clipped(p: Point, q: Point, view: View) -> tuple[float, float] | None:
    """Shares of the line between which it lies in the picture (Liang and Barsky, ACM Transactions on
    Graphics 3, 1984).
    """
    low, high = 0.0, 1.0
    for start, way, most in ((p[0], q[0] - p[0], view.width_px), (p[1], q[1] - p[1], view.height_px)):
        if way == 0.0:
            if not 0.0 <= start <= most:
                return None
            continue
        a, b = sorted((-start / way, (most - start) / way))
        low, high = max(low, a), min(high, b)
    return (low, high) if low < high else None


def _laid(key: str, drawn: DrawnRim, plane: Plane, view: View) -> Rim | None:
    """A rim as it is laid: by the ends of its major axis and a point on the near arc where these show, and by points
    spread over what is seen; None where too little is.
    """

    def shows(turn: float) -> bool:
        x, y = drawn.at(turn)
        seen = any(
            a - END_SLACK <= other <= b + END_SLACK
            for a, b in drawn.visible
            for other in (turn, turn - 1.0, turn + 1.0)
        )
        return seen and 0 <= x <= view.width_px and 0 <= y <= view.height_px

    steps = 8 * ARC_POINTS
    seen = [k / steps for k in range(steps) if shows(k / steps)]
    if len(seen) < LEAST_ARC * steps:
        return None
    points = tuple(drawn.at(seen[round(i)]) for i in np.linspace(0, len(seen) - 1, ARC_POINTS))
    near = _near_turn(drawn, view)
    if not shows(near):
        return None  # what shows of it is the far side of the inside: its opening is not for the eye to judge
    if not (shows(0.0) and shows(0.5)):
        return Rim(key, drawn.thing, plane, points)
    return Rim(key, drawn.thing, plane, points, (drawn.at(0.5), drawn.at(0.0)), drawn.at(near))


def _near_turn(drawn: DrawnRim, view: View) -> float:
    """Which end of the minor axis is on the arc nearer to the eye."""
    centre, first, second = drawn.room
    way = view.to_viewer(centre)
    along = np.array([float(way @ first), float(way @ second)])
    size = float(np.linalg.norm(along))
    if size <= 0.0:
        return 0.75
    nearest = view.project(centre + (along[0] * first + along[1] * second) / size)
    return min((0.25, 0.75), key=lambda turn: math.dist(drawn.at(turn), nearest))


def _checkable(edges: list[Edge]) -> list[Edge]:
    """Without edges that nothing on the sheet could check: a slope alone in its group, a level edge that is its form's
    only one.
    """
    slots = Counter(edge.slot for edge in edges)
    level = Counter(edge.form for edge in edges if edge.family in LEVEL_FAMILIES)
    return [
        edge
        for edge in edges
        if not (edge.family is Family.SLOPE and slots[edge.slot] < 2)
        and not (edge.family in LEVEL_FAMILIES and level[edge.form] < 2)
    ]
