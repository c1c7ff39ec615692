"""From the solved forms of a subject to the closed drawing: which corners hang together, and the frame that they are
drawn in.
"""

from __future__ import annotations

import math
from collections.abc import Iterable

import numpy as np

from aspectum.core.drawing.closed import Closed, Part, Ring
from aspectum.core.form.bundle import SolvedForms
from aspectum.core.form.corners import UP
from aspectum.core.form.implied import corner_at
from aspectum.core.look import Look
from aspectum.core.plane.lines import Floats, Ints
from aspectum.core.sightings import AXIS, Edge, Family, Length, Looking, Plane, Point, Rim
from aspectum.core.view.camera import ROLL, camera_matrix, eye_level_height

UNIT_NEAR = 8.0  # point errors within which an upright's ends are those of the unit


def close(
    look: Look,
    edges: list[Edge],
    rims: list[Rim],
    pairs: Iterable[tuple[str, str, Point, Point]],
    unit: Length | None = None,
) -> Closed:
    """The subject of ``look`` as a closed drawing. ``pairs``: id, form, and both ends of whatever else is drawn from
    point to point; ``unit``: the length that is the unit, where one is marked: the upright that it lies on is the near
    upright, else the longest is.
    """
    solved = look.solved
    runs = [(e.id, e.form, e.p, e.q) for e in edges] + list(pairs)
    # seen straight up or down uprights run to the zenith or the nadir: none of them leans
    plumb = look.setup.looking is Looking.AHEAD
    upright = np.array([plumb and e.family is Family.UPRIGHT for e in edges] + [False] * (len(runs) - len(edges)), bool)
    points = np.array([at for _, _, p, q in runs for at in (p, q)], float).reshape(-1, 2)
    places = {(run[0], tip): 2 * k + tip for k, run in enumerate(runs) for tip in (0, 1)}
    forms = list(dict.fromkeys([run[1] for run in runs[: len(edges)]] + [r.form for r in rims]))
    form_of = np.array([forms.index(run[1]) if run[1] in forms else -1 for run in runs for _ in (0, 1)], np.intp)
    fixed = np.ones(len(runs), bool)
    parts: list[Part] = []
    cut: set[tuple[str, int]] = {(e.id, k) for e in edges for k, tip in enumerate(("p", "q")) if tip in e.hidden}
    roll = 0.0 if solved is None else float(solved.params[ROLL])
    turn = np.array([[math.cos(roll), -math.sin(roll)], [math.sin(roll), math.cos(roll)]])
    if solved is not None:
        members = coordinates(solved, edges, runs, points)
        layout = solved.layout
        cut |= {(layout.ends[k].owner, layout.ends[k].tip) for k in np.flatnonzero(layout.cut)}
        for (_, piece), mine in sorted(members.items()):
            part = part_of(solved, piece, mine, turn, edges)
            if part is not None:
                parts.append(part)
                fixed[part.ends // 2] = False
    nearest = unit_upright(edges, unit, look.setup.point_sd_px)
    if nearest is None:
        long = max((math.dist(p, q) for _, _, p, q in runs), default=look.setup.height_px / 3.0)
    else:
        long = math.dist(points[nearest[0]], points[nearest[1]])
    centres = np.array(
        [points[form_of == n].mean(axis=0) if (form_of == n).any() else np.zeros(2) for n in range(len(forms))]
    ).reshape(-1, 2)
    for part in parts:
        centres[forms.index(part.form)] = part.middle @ turn
    return Closed(
        long,
        turn,
        parts,
        rings_of(look, rims, parts, turn),
        points,
        forms,
        form_of,
        centres,
        places,
        frozenset(cut),
        nearest,
        upright,
        fixed,
    )


def unit_upright(edges: list[Edge], unit: Length | None, sd_px: float) -> tuple[int, int] | None:
    """Places of the near upright's ends among all points: the upright that ``unit`` lies on, or the longest."""
    best, found = 0.0, None
    for k, edge in enumerate(edges):
        if edge.family is not Family.UPRIGHT:
            continue
        near = UNIT_NEAR * sd_px
        if unit is not None and max(min(math.dist(a, b) for b in (unit.p, unit.q)) for a in (edge.p, edge.q)) < near:
            return 2 * k, 2 * k + 1
        if (long := math.dist(edge.p, edge.q)) > best:
            best, found = long, (2 * k, 2 * k + 1)
    return found


Members = dict[tuple[int, int], list[tuple[int, Floats]]]


def coordinates(
    solved: SolvedForms, edges: list[Edge], runs: list[tuple[str, str, Point, Point]], points: Floats
) -> Members:
    """Which points the solved forms place, by form and piece, with their places along right, left and up (3,)."""
    layout = solved.layout
    found: dict[int, tuple[int, int, Floats] | None] = {}
    placed: dict[tuple[str, int], tuple[int, int, Floats]] = {}
    for (owner, tip), k in layout.places.items():
        placed[owner, tip] = int(layout.form[k]), int(layout.piece[layout.node[k, UP]]), solved.values[layout.node[k]]
    for k, (id, form, *_) in enumerate(runs):
        for tip in (0, 1):
            found[2 * k + tip] = placed.get((id, tip))
            if found[2 * k + tip] is None and form in layout.forms:
                near = corner_at(solved, (float(points[2 * k + tip, 0]), float(points[2 * k + tip, 1])))
                if near is not None and layout.ends[near].form == form:
                    found[2 * k + tip] = (
                        int(layout.form[near]),
                        int(layout.piece[layout.node[near, UP]]),
                        solved.values[layout.node[near]],
                    )
    for k, edge in enumerate(edges):
        here, there = found[2 * k], found[2 * k + 1]
        if edge.family is Family.SLOPE and (here is None) is not (there is None):
            # the free end of a rake lies in the upright plane of its plan direction
            free, known = (2 * k, there) if here is None else (2 * k + 1, here)
            assert known is not None
            found[free] = known[0], known[1], in_plane(solved, edge, known[0], known[2], points[free])
    members: Members = {}
    for place, where in found.items():
        if where is not None:
            members.setdefault(where[:2], []).append((place, where[2]))
    # an edge is drawn by one part, or by none
    whole = {
        place // 2
        for place, where in found.items()
        if where is not None and (other := found.get(place ^ 1)) is not None and other[:2] == where[:2]
    }
    return {key: kept for key, mine in members.items() if (kept := [m for m in mine if m[0] // 2 in whole])}


def in_plane(solved: SolvedForms, edge: Edge, form: int, known: Floats, at: Floats) -> Floats:
    """Place (3,) of a sloping edge's free end, drawn at ``at`` (px), in the upright plane through its other end
    ``known``.
    """
    evidence, frame = solved.solution.evidence, solved.frames[0][form]
    slot = evidence.slots.offset[evidence.slot_keys.index(edge.slot)] if edge.slot in evidence.slot_keys else 0.0
    along = 0 if abs(slot) < 0.5 else 1
    x, y = solved.units((float(at[0]), float(at[1])))
    rows = np.array([[frame[a, 0] - x * frame[a, 2], frame[a, 1] - y * frame[a, 2]] for a in (along, UP)]).T
    base = known @ frame
    miss = -np.array([base[0] - x * base[2], base[1] - y * base[2]])
    step = np.linalg.lstsq(rows, miss, rcond=None)[0]
    place = known.copy()
    place[along] += step[0]
    place[UP] += step[1]
    return place


def part_of(
    solved: SolvedForms, piece: int, mine: list[tuple[int, Floats]], turn: Floats, edges: list[Edge]
) -> Part | None:
    """One part in picture axes turned level; None where a corner has no place before the eye."""
    evidence, layout = solved.solution.evidence, solved.layout
    ends, at = np.array([m[0] for m in mine], np.intp), np.array([m[1] for m in mine], float)
    form = next(int(layout.form[k]) for k in range(len(layout.ends)) if int(layout.piece[layout.node[k, UP]]) == piece)
    name, scale, centre = layout.forms[form], evidence.scale, np.array(evidence.setup.centre)
    frame = solved.frames[0][form]
    # homogeneous pixels, turned so that eye level runs level
    flat = np.column_stack([frame[:, :2] * scale + centre * frame[:, 2:], frame[:, 2]])
    flat = np.column_stack([flat[:, :2] @ turn.T, flat[:, 2]])
    image = at @ flat
    if not image[:, 2].min() > 0:
        return None
    start, top = near_upright(ends, at, image, edges)
    weight = float((start @ flat)[2])
    middle = (start @ flat)[:2] / weight
    frame = np.column_stack([flat[:, :2] - middle * flat[:, 2:], flat[:, 2]])
    level_at = eye_level_height(solved.params, 0.0)[0] * scale + centre[1]
    level = float((turn @ np.array([centre[0], level_at]))[1] - middle[1])
    # what goes before the middle is in the part's own distances
    away = (at - start) / weight
    families = own_families(edges, name)
    sighted = [any(e.form == name and family in (e.family, e.plan) for e in edges) for family in families]
    run = (far_run(away, 0) if sighted[0] else 0.0, far_run(away, 1) if sighted[1] else 0.0)
    kept = tuple(
        family in (Family.LEFT, Family.RIGHT) and abs(frame[axis, 0]) > 0.2 * abs(frame[axis, 1])
        for axis, family in enumerate(families)
    )
    upright = frame[UP] * (top - start)[UP] / weight
    pitched = abs(float(upright[2])) > 0.02
    return Part(name, ends, away, middle, frame, level, run, (kept[0], kept[1]), families, pitched)


def own_families(edges: list[Edge], form: str) -> tuple[Family, Family]:
    """What a form's two level families are called."""
    straight = any(e.form == form and e.family in (Family.DEPTH, Family.ACROSS) for e in edges)
    return (Family.DEPTH, Family.ACROSS) if straight else (Family.RIGHT, Family.LEFT)


def near_upright(ends: Ints, at: Floats, image: Floats, edges: list[Edge]) -> tuple[Floats, Floats]:
    """Foot and top (3,) of the upright drawn longest, or twice the nearest corner where none is sighted."""
    best, found = 0.0, None
    where = {int(place): n for n, place in enumerate(ends)}
    flat = image[:, :2] / image[:, 2:]
    for k, edge in enumerate(edges):
        if edge.family is Family.UPRIGHT and 2 * k in where and 2 * k + 1 in where:
            a, b = where[2 * k], where[2 * k + 1]
            if (long := float(np.hypot(*(flat[a] - flat[b])))) > best:
                best, found = long, (at[a], at[b]) if flat[a, 1] > flat[b, 1] else (at[b], at[a])
    if found is not None:
        return found
    nearest = at[int(np.argmin(image[:, 2]))]
    return nearest, nearest


def far_run(at: Floats, axis: int) -> float:
    """How far corners go along an axis, as they stand on the line from the near upright where any do; 0 where none go
    anywhere.
    """
    other = 1 - axis
    reach = np.abs(at[:, axis])
    largest = float(np.abs(at).max(initial=0.0))
    if not reach.max(initial=0.0) > 1e-6 * max(largest, 1e-12):
        return 0.0
    on = np.abs(at[:, other]) < 0.02 * max(largest, 1e-12)
    mine = np.where(on, reach, -1.0) if (reach[on] > 0.2 * reach.max()).any() else reach
    return float(at[int(np.argmax(mine)), axis])


def rings_of(look: Look, rims: list[Rim], parts: list[Part], turn: Floats) -> list[Ring]:
    """The circles of those rims that the view was found with."""
    if look.posterior is None or look.posterior.solution.evidence.rims is None or look.posterior.solution.own is None:
        return []
    solution = look.posterior.solution
    evidence, bank, own = solution.evidence, solution.evidence.rims, solution.own
    assert bank is not None
    assert own is not None
    matrix, centre, scale = camera_matrix(solution.params), np.array(evidence.setup.centre), evidence.scale
    rings = []
    drawn = {rim.id for rim in rims}
    for k, rim in enumerate(bank.rims):
        if rim.id not in drawn:
            continue
        part = next((n for n, p in enumerate(parts) if p.form == rim.form and any(p.run)), None)
        ways = plane_axes(rim, solution.params, int(bank.bearing[k]), float(bank.offset[k]))
        image = np.array([matrix @ way for way in ways]) * math.exp(float(own[k, 2]))
        flat = np.column_stack([image[:, :2] * scale + centre * image[:, 2:], image[:, 2]])
        flat = np.column_stack([flat[:, :2] @ turn.T, flat[:, 2]])
        at = turn @ (own[k, :2] * scale + centre)
        spans = np.column_stack([flat[:, :2] - at * flat[:, 2:], flat[:, 2]])
        axes: tuple[int | None, int | None] = (None, None)
        if rim.plane is Plane.LEVEL:
            part = None
        elif part is not None:
            axes = (1 - AXIS[rim.plane.family], UP)
        rings.append(Ring(rim.id, rim.form, at, spans, axes, part))
    return rings


def plane_axes(rim: Rim, params: Floats, bearing: int, offset: float) -> tuple[Floats, Floats]:
    """Two directions in space (3,), square to one another, that a rim's plane runs along."""
    if rim.plane is Plane.LEVEL:
        return np.array([1.0, 0.0, 0.0]), np.array([0.0, 1.0, 0.0])
    turn = float(params[bearing]) + offset + np.pi / 2
    return np.array([np.sin(turn), np.cos(turn), 0.0]), np.array([0.0, 0.0, 1.0])
