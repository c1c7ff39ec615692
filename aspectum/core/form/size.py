"""True proportions of a solved form: the sides of its enclosing box, in units of its own upright (handbook
section 4).
"""

from __future__ import annotations

import numpy as np

from aspectum.core.findings import Proportions, Sides, WhyNot
from aspectum.core.form.bundle import SolvedForms, deviation, difference, first_values
from aspectum.core.form.corners import UP
from aspectum.core.form.heights import Measure, in_eye_heights, metric
from aspectum.core.form.look import AXES
from aspectum.core.plane.lines import Floats, Ints
from aspectum.core.sightings import AXIS, Edge, Face, Family
from aspectum.core.view.camera import FIRST_BEARING

WORST = 0.35  # of a side, beyond which its error leaves nothing worth telling
OPEN_TURN = (
    0.15  # radians, or parts of e: deviation of an unknown of the view from which a size is followed to its ends
)
INSIDE = 3.0  # point errors by which a foot must lie inside another form's outline
FAR_OUT = 2.0  # deviations, to which it is followed
HELD_BY_FAINT = 1.5  # times by which loosening the faint hold may widen what the sightings themselves fix


def proportions(
    found: SolvedForms, form: str, families: tuple[Family, Family, Family], sighted: set[Family]
) -> Proportions:
    """The sides of ``form`` along its ``families``, in the order of its axes; of those that are ``sighted`` edges run
    on the sheet, solved or not.
    """
    layout = found.layout
    mine = main_piece(found, np.flatnonzero(layout.form == layout.forms.index(form)))
    # two uprights alone do not tell which way the form stands
    turned = found.laid.bearing[layout.forms.index(form)] < len(found.params) - 1
    span: dict[Family, tuple[int, int]] = {}
    why: dict[Family, WhyNot] = {}
    for axis in range(AXES):
        ends = mine[~layout.cut[mine]]
        nodes = np.unique(layout.node[ends, axis])
        runs = any(axis in layout.ends[k].along for k in mine)
        if len(nodes) < 2 or (axis < 2 and not turned):
            # an edge that strays from the view is no part of what is solved
            why[families[axis]] = (
                WhyNot.ENDS_HIDDEN if runs else WhyNot.STRAYS if families[axis] in sighted else WhyNot.NOT_SIGHTED
            )
            continue
        order = np.argsort(found.values[nodes])
        span[families[axis]] = (int(nodes[order[0]]), int(nodes[order[-1]]))
    unit = (
        families[2]
        if families[2] in span
        else max(span, key=lambda f: abs(difference(found, *span[f])[0]), default=None)
    )
    size: Sides = dict.fromkeys(families)
    sds: Sides = dict.fromkeys(families)
    if unit is None:
        return Proportions(form, None, size, sds, why)
    size[unit], sds[unit] = 1.0, 0.0
    for family in span:
        if family is unit:
            continue
        value, sd, loose = ratio(found, form, span[family], span[unit])
        if loose > HELD_BY_FAINT * sd:
            why[family] = WhyNot.LENS_OPEN
        elif not sd <= WORST * value:
            why[family] = WhyNot.TOO_LOOSE
        else:
            size[family], sds[family] = value, sd
    return Proportions(form, unit, size, sds, why, span)


def main_piece(found: SolvedForms, mine: Ints) -> Ints:
    """Of a form's ends those of the piece that reaches along most axes, and of such pieces of the one with
    most ends.
    """
    layout = found.layout
    pieces = layout.piece[layout.node[mine, 0]]

    def reach(piece: int) -> tuple[int, int]:
        ends = mine[(pieces == piece) & ~layout.cut[mine]]
        return sum(len(np.unique(layout.node[ends, axis])) > 1 for axis in range(AXES)), int((pieces == piece).sum())

    return np.asarray(mine[pieces == max(np.unique(pieces).tolist(), key=reach)], np.intp)


def families_of(form: str, edges: list[Edge], faces: list[Face]) -> tuple[Family, Family, Family] | None:
    """What the sides of a form are called, in the order of its axes; None for one that no level edge or face is sighted
    of.
    """
    named = {e.family for e in edges if e.form == form} | {
        family for f in faces if f.form == form for family in f.families
    }
    if named & {Family.RIGHT, Family.LEFT}:
        return Family.RIGHT, Family.LEFT, Family.UPRIGHT
    return (Family.DEPTH, Family.ACROSS, Family.UPRIGHT) if named & {Family.DEPTH, Family.ACROSS} else None


def all_proportions(
    edges: list[Edge], faces: list[Face], found: SolvedForms | None, by: Measure | None
) -> list[Proportions]:
    """The proportions of every form, in the order in which they are first sighted."""
    told: list[Proportions] = []
    for form in dict.fromkeys([e.form for e in edges] + [f.form for f in faces]):
        families = families_of(form, edges, faces)
        if families is None:
            continue
        if found is None or form not in found.layout.forms:
            why = WhyNot.NO_VIEW if found is None else WhyNot.STRAYS
            told.append(
                Proportions(form, None, dict.fromkeys(families), dict.fromkeys(families), dict.fromkeys(families, why))
            )
        else:
            told.append(proportions(found, form, families, {e.family for e in edges if e.form == form}))
    return told if found is None or by is None else forms_in_metres(found, told, by)


def forms_in_metres(found: SolvedForms, told: list[Proportions], by: Measure) -> list[Proportions]:
    """The sides of all forms in metres as well: of those that stand on the ground, and then of those that stand on one
    of them.
    """
    stands = {form.form: support(found, form, told) for form in told}
    known: dict[str, Proportions] = {}
    level: dict[str, tuple[float, Floats]] = {}  # of what stands where, in eye heights below the eye
    flat = (1.0, np.zeros(len(found.covariance)))
    while True:
        ready = [f for f in told if f.form not in known and (stands[f.form] is None or stands[f.form] in known)]
        if not ready:
            return [known.get(f.form, f) for f in told]
        for form in ready:
            under = stands[form.form]
            below = flat if under is None else level.get(under)
            known[form.form] = form if below is None else metric(found, form, by, below)
            top = (
                None
                if below is None or Family.UPRIGHT not in form.span
                else in_eye_heights(found, form.span[Family.UPRIGHT], form.span[Family.UPRIGHT][0])
            )
            if below is not None and top is not None:
                # the lid lies as much nearer to the eye's height as the form is tall
                level[form.form] = below[0] * (1.0 - top[0]), below[1] * (1.0 - top[0]) - below[0] * top[1]


def support(found: SolvedForms, form: Proportions, others: list[Proportions]) -> str | None:
    """The form that ``form`` stands on: one within whose outline a foot of it is seen, since what stands on the ground
    in front of another is drawn below it, and what stands behind is hidden.
    """
    if Family.UPRIGHT not in form.span:
        return None
    layout, low = found.layout, form.span[Family.UPRIGHT][0]
    feet = layout.at[(layout.node[:, UP] == low) & ~layout.cut]
    for other in others:
        if other is form or len(other.span) < AXES:
            continue
        if any(
            inside(found.pixels(face), foot, INSIDE * found.solution.evidence.setup.point_sd_px)
            for face in sides_of(found, other)
            for foot in feet
        ):
            return other.form
    return None


def sides_of(found: SolvedForms, form: Proportions) -> list[Floats]:
    """The six sides of a form's box, each by the homogeneous images (4, 3) of its corners in order round it."""
    frame = found.frames[0][found.layout.forms.index(form.form)]
    spans = [found.values[list(span)] for _, span in sorted(form.span.items(), key=lambda item: AXIS[item[0]])]
    sides = []
    for axis in range(AXES):
        a, b = (k for k in range(AXES) if k != axis)
        for at in spans[axis]:
            corners = np.empty((4, AXES))
            corners[:, axis] = at
            corners[:, a], corners[:, b] = spans[a][[0, 1, 1, 0]], spans[b][[0, 0, 1, 1]]
            sides.append(corners @ frame)
    return sides


def inside(corners: Floats, at: Floats, by: float) -> bool:
    """Whether ``at`` lies inside a convex outline (4, 2), ``by`` px at least from its sides."""
    run = np.roll(corners, -1, axis=0) - corners
    off = at - corners
    turn = (run[:, 0] * off[:, 1] - run[:, 1] * off[:, 0]) / np.maximum(np.hypot(run[:, 0], run[:, 1]), 1e-9)
    return bool((turn > by).all() or (turn < -by).all())


def ratio(found: SolvedForms, form: str, side: tuple[int, int], unit: tuple[int, int]) -> tuple[float, float, float]:
    """Length of one side in lengths of another, its standard deviation, and that with the faint hold loosened."""
    values, first = found.values, found.first_value
    length, base = values[side[1]] - values[side[0]], values[unit[1]] - values[unit[0]]
    by = np.zeros(len(found.covariance))
    for sign, end in ((-1.0, 0), (1.0, 1)):
        by[first + side[end]] += sign / base
        by[first + unit[end]] -= sign * length / base**2
    sd = max(
        deviation(by, found.covariance), *(bent(found, side, unit, column) for column in loose_turns(found, form)), 0.0
    )
    return float(length / base), sd, max(sd, deviation(by, found.loose))


def loose_turns(found: SolvedForms, form: str) -> list[int]:
    """Columns of the lens and of the form's bearing where they are so open that a size may not follow them in a
    straight line.
    """
    place, bearing = found.laid.place, found.laid.bearing[found.layout.forms.index(form)]
    columns = [int(c) for c in (*place[:FIRST_BEARING], place[bearing]) if c >= 0]
    return [c for c in columns if found.covariance[c, c] > OPEN_TURN**2]


def bent(found: SolvedForms, side: tuple[int, int], unit: tuple[int, int], column: int) -> float:
    """Half of what a ratio changes by at most when one open unknown is moved by two deviations either way and all
    others follow.
    """
    sd = float(np.sqrt(found.covariance[column, column]))
    free = np.flatnonzero(found.laid.place >= 0)
    ratios = []
    for move in (0.0, -FAR_OUT, FAR_OUT):
        params = found.params.copy()
        params[free] += np.clip(move * found.covariance[: found.first_value, column] / sd, -1.0, 1.0)
        values = first_values(found.laid, params, len(found.values))
        if values is None:
            return np.inf
        ratios.append(float((values[side[1]] - values[side[0]]) / (values[unit[1]] - values[unit[0]])))
    return max(abs(ratios[1] - ratios[0]), abs(ratios[2] - ratios[0])) / FAR_OUT
