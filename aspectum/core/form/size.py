"""True proportions of a solved form: the sides of its enclosing box, in units of its own upright (handbook section 4)."""

from __future__ import annotations

import numpy as np

from aspectum.core.findings import Proportions, Sides, WhyNot
from aspectum.core.form.bundle import SolvedForms, deviation, difference, first_values
from aspectum.core.form.heights import Measure, metric
from aspectum.core.form.look import AXES
from aspectum.core.sightings import Edge, Face, Family
from aspectum.core.view.camera import FIRST_BEARING

WORST = 0.35  # of a side, beyond which its error leaves nothing worth telling
OPEN_TURN = 0.15  # radians, or parts of e: deviation of an unknown of the view from which a size is followed to its ends
FAR_OUT = 2.0  # deviations, to which it is followed
HELD_BY_FAINT = 1.5  # times by which loosening the faint hold may widen what the sightings themselves fix


def proportions(found: SolvedForms, form: str, families: tuple[Family, Family, Family]) -> Proportions:
    """The sides of ``form`` along its ``families``, in the order of its axes."""
    layout = found.layout
    mine = np.flatnonzero(layout.form == layout.forms.index(form))
    pieces = layout.piece[layout.node[mine, 0]]
    main = int(np.argmax(np.bincount(pieces)))
    mine = mine[pieces == main]
    # two uprights alone do not tell which way the form stands
    turned = found.laid.bearing[layout.forms.index(form)] < len(found.params) - 1
    span: dict[Family, tuple[int, int]] = {}
    why: dict[Family, WhyNot] = {}
    for axis in range(AXES):
        ends = mine[~layout.cut[mine]]
        nodes = np.unique(layout.node[ends, axis])
        runs = any(axis in layout.ends[k].along for k in mine)
        if len(nodes) < 2 or (axis < 2 and not turned):
            why[families[axis]] = WhyNot.ENDS_HIDDEN if runs else WhyNot.NOT_SIGHTED
            continue
        order = np.argsort(found.values[nodes])
        span[families[axis]] = (int(nodes[order[0]]), int(nodes[order[-1]]))
    unit = families[2] if families[2] in span else max(span, key=lambda f: abs(difference(found, *span[f])[0]), default=None)
    size: Sides = dict.fromkeys(families)
    sds: Sides = dict.fromkeys(families)
    for family in [f for f in span if unit is not None]:
        value, sd, loose = ratio(found, form, span[family], span[unit]) if unit is not None else (0.0, 0.0, 0.0)
        if family is unit:
            size[family], sds[family] = 1.0, 0.0
        elif loose > HELD_BY_FAINT * sd:
            why[family] = WhyNot.LENS_OPEN
        elif not sd <= WORST * value:
            why[family] = WhyNot.TOO_LOOSE
        else:
            size[family], sds[family] = value, sd
    return Proportions(form, unit, size, sds, why, span)


def families_of(form: str, edges: list[Edge], faces: list[Face]) -> tuple[Family, Family, Family] | None:
    """What the sides of a form are called, in the order of its axes; None for one that no level edge or face is sighted of."""
    named = {e.family for e in edges if e.form == form} | {family for f in faces if f.form == form for family in f.families}
    if named & {Family.RIGHT, Family.LEFT}:
        return Family.RIGHT, Family.LEFT, Family.UPRIGHT
    return (Family.DEPTH, Family.ACROSS, Family.UPRIGHT) if named & {Family.DEPTH, Family.ACROSS} else None


def all_proportions(edges: list[Edge], faces: list[Face], found: SolvedForms | None, by: Measure | None) -> list[Proportions]:
    """The proportions of every form, in the order in which they are first sighted."""
    told = []
    for form in dict.fromkeys([e.form for e in edges] + [f.form for f in faces]):
        families = families_of(form, edges, faces)
        if families is None:
            continue
        if found is None or form not in found.layout.forms:
            why = WhyNot.NO_VIEW if found is None else WhyNot.STRAYS
            told.append(Proportions(form, None, dict.fromkeys(families), dict.fromkeys(families), dict.fromkeys(families, why)))
        else:
            told.append(metric(found, proportions(found, form, families), by))
    return told


def ratio(found: SolvedForms, form: str, side: tuple[int, int], unit: tuple[int, int]) -> tuple[float, float, float]:
    """Length of one side in lengths of another, its standard deviation, and that with the faint hold loosened."""
    values, first = found.values, found.first_value
    length, base = values[side[1]] - values[side[0]], values[unit[1]] - values[unit[0]]
    by = np.zeros(len(found.covariance))
    for sign, end in ((-1.0, 0), (1.0, 1)):
        by[first + side[end]] += sign / base
        by[first + unit[end]] -= sign * length / base**2
    sd = max(deviation(by, found.covariance), *(bent(found, side, unit, column) for column in loose_turns(found, form)), 0.0)
    return float(length / base), sd, max(sd, deviation(by, found.loose))


def loose_turns(found: SolvedForms, form: str) -> list[int]:
    """Columns of the lens and of the form's bearing where they are so open that a size may not follow them in a straight line."""
    place, bearing = found.laid.place, found.laid.bearing[found.layout.forms.index(form)]
    columns = [int(c) for c in (*place[:FIRST_BEARING], place[bearing]) if c >= 0]
    return [c for c in columns if found.covariance[c, c] > OPEN_TURN**2]


def bent(found: SolvedForms, side: tuple[int, int], unit: tuple[int, int], column: int) -> float:
    """Half of what a ratio changes by at most when one open unknown is moved by two deviations either way and all others follow."""
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
