"""Where the ends of a solved form do not agree, and where they agree by more than their corners say."""

from __future__ import annotations

import numpy as np

from aspectum.core.form.bundle import SolvedForms, deviation, difference
from aspectum.core.form.corners import POST, UP, Layout, more_than_boxes
from aspectum.core.form.look import AXES
from aspectum.core.plane.lines import Floats
from aspectum.core.sightings import Face

LET_GO = 4.0  # deviations by which an end must miss its corner, along its own edge, to be no part of it
IN_ITS_STEAD = 0.5  # share of the worst miss from which an end at a doubtful corner is let go of first
FACE_MISFIT = 45.0  # chi-square of a face's eight readings, which chance reaches once in a million
ONE_PLANE = 3.0  # deviations within which lone ends of a form's parallel edges stop at one plane
FORM_TELLS = 0.15  # of an edge, or radians: a wider agreement of two ends, or two pieces, tells nothing


def misfit(found: SolvedForms) -> int | None:
    """The end that misses its corner most, along its own edge, beyond doubt: the studentised residual of the coordinate
    that letting go of it would free. An end at a doubtful corner that misses half as much is let go of in its stead.
    """
    layout, frames, seen = found.layout, found.frames[0], found.seen
    shared = np.bincount(layout.corner)[layout.corner] > 1
    misses: dict[int, float] = {}
    for k in np.flatnonzero(shared & (np.abs(seen.r).max(axis=1) > 1.0)):
        end = layout.ends[k]
        if end.of_face or len(end.along) != 1:
            continue
        image = found.values[layout.node[k]] @ frames[layout.form[k]]
        axis = frames[layout.form[k], next(iter(end.along))]
        run = axis[:2] * image[2] - image[:2] * axis[2]
        run = run / max(float(np.hypot(*run)), 1e-12)
        on = seen.columns[k] >= 0
        by, columns = run @ seen.jac[k][:, on], seen.columns[k][on]
        h = min(float(by @ found.covariance[np.ix_(columns, columns)] @ by), 1.0) if layout.fresh[k] else 0.0
        misses[int(k)] = abs(float(run @ seen.r[k])) / max(float(np.sqrt(max(1.0 - h, 0.0))), 0.1)
    worst = max(misses, key=lambda k: misses[k], default=None)
    if worst is None or misses[worst] < LET_GO:
        return None
    instead = [
        k
        for k, miss in misses.items()
        if layout.doubtful[k] and layout.ends[k].form == layout.ends[worst].form and miss > IN_ITS_STEAD * misses[worst]
    ]
    return max(instead, key=lambda k: misses[k], default=worst)


def worst_face(found: SolvedForms, faces: list[Face]) -> Face | None:
    """The face whose corners miss by most, if that is beyond what chance makes of them."""
    costs = {f.id: float((of_corners(found, f) ** 2).sum()) for f in faces}
    worst = max(faces, key=lambda f: costs[f.id], default=None)
    return None if worst is None or costs[worst.id] < FACE_MISFIT else worst


def face_miss(found: SolvedForms, face: Face) -> float:
    """By how many pixels the worst corner of a face misses where the solved form has it."""
    return float(np.hypot(*of_corners(found, face).T).max()) * found.solution.evidence.setup.point_sd_px


def of_corners(found: SolvedForms, face: Face) -> Floats:
    """Residuals (4, 2) of a face's corners, in point errors."""
    return found.seen.r[[found.layout.end(face.id, k) for k in range(4)]]


def one_plane(found: SolvedForms) -> frozenset[tuple[int, int, int]]:
    """Pairs of ends, one of them lone, of parallel edges of one form and piece, that reach equally far within their
    error, where that is small against the edge: a box's opposite edges stop at one plane. Nothing says so of a form
    with more planes than a box has: eaves reach beyond the wall, a plinth before it.
    """
    layout, same = found.layout, set()
    plain = boxes(layout)
    alone = np.bincount(layout.corner)[layout.corner] == 1
    running = [k for k in np.flatnonzero(~layout.cut).tolist() if len(layout.ends[k].along) == 1]
    for k in running:
        end = layout.ends[k]
        axis = next(iter(end.along))
        if not alone[k] or end.form not in plain or (axis == UP and end.form[:1] == POST):
            continue
        run = abs(difference(found, *(int(layout.node[layout.end(end.owner, tip), axis]) for tip in (0, 1)))[0])
        for i in running:
            other = layout.ends[i]
            a, b = int(layout.node[i, axis]), int(layout.node[k, axis])
            if (
                other.form != end.form
                or other.owner == end.owner
                or other.along != end.along
                or a == b
                or layout.piece[a] != layout.piece[b]
            ):
                continue
            gap, sd = difference(found, a, b)
            if abs(gap) < ONE_PLANE * sd < FORM_TELLS * run:
                same.add((i, k, axis))
    return frozenset(same)


def boxes(layout: Layout) -> set[str]:
    """The forms that are no more than a box."""
    return set(layout.forms) - more_than_boxes(layout.ends)


def same_reach(found: SolvedForms) -> frozenset[tuple[int, int, int]]:
    """Pairs of ends, of two pieces of one form, that stand at one value because both pieces reach between two planes
    that stand in one proportion to the eye: the far upright of a box, cut off from the rest, stands between the same
    ground and the same lid.
    """
    layout = found.layout
    plain = boxes(layout)
    reach: dict[str, list[dict[int, tuple[int, int]]]] = {}
    for piece in range(int(layout.piece.max(initial=-1)) + 1):
        mine = np.flatnonzero((layout.piece[layout.node[:, 0]] == piece) & ~layout.cut)
        spans = {}
        for axis in range(AXES):
            order = mine[np.argsort(found.values[layout.node[mine, axis]], kind="stable")]
            if len(order) and layout.node[order[0], axis] != layout.node[order[-1], axis]:
                spans[axis] = (int(order[0]), int(order[-1]))
        if spans and layout.ends[mine[0]].form in plain:
            reach.setdefault(layout.ends[mine[0]].form, []).append(spans)
    same = set()
    for pieces in reach.values():
        whole = max(pieces, key=len)
        for other in pieces:
            both = next((axis for axis in (UP, 0, 1) if axis in whole and axis in other), None)
            if other is whole or both is None:
                continue
            (a, b), (c, d) = whole[both], other[both]
            gap, sd = proportion_gap(found, *(int(layout.node[k, both]) for k in (a, b, c, d)))
            if abs(gap) < ONE_PLANE * sd < FORM_TELLS:
                same |= {(a, c, both), (b, d, both)}
    return frozenset(same)


def proportion_gap(found: SolvedForms, a: int, b: int, c: int, d: int) -> tuple[float, float]:
    """By how much the angle of ``b`` over ``a`` is beyond that of ``d`` over ``c``, radians, and its standard
    deviation: where both values stand in one proportion, whatever the piece's scale, there is no gap.
    """
    by, first, gap = np.zeros(len(found.covariance)), found.first_value, 0.0
    for sign, low, high in ((1.0, a, b), (-1.0, c, d)):
        x, y = found.values[low], found.values[high]
        square = x * x + y * y
        gap += sign * float(np.arctan2(y, x))
        by[first + high] += sign * x / square
        by[first + low] -= sign * y / square
    return gap, deviation(by, found.covariance)
