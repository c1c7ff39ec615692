"""What the names of a form's edges say of how it stands: left runs back to the left, right to the right.

A box whose edges are called left and right stands at a bearing between 0 and 90 degrees: its right
vanishing point lies to the right of the centre of vision, its left one to the left, as squareness
requires. One with depth and across edges stands within 45 degrees of facing the picture. A view that
has it otherwise is not ruled out, since names are mistaken, but it counts as such a mistake.
"""

from __future__ import annotations

import math

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.lines import Floats, Ints
from aspectum.core.sightings import Family
from aspectum.core.view.camera import FIRST_BEARING
from aspectum.core.view.evidence import Evidence

MISNAMED = 0.003  # chance that a form's sides are named wrongly
SIDES, FACING = (
    (0.0, 90.0),
    (-45.0, 45.0),
)  # bearings (degrees) of a form with left and right, or depth and across, edges


def stands_between(evidence: Evidence, place: Ints) -> tuple[Ints, Floats]:
    """Columns (s,), by the ``place`` (P,) of each parameter among the free ones, of the bearings that names say
    something of, and the bearings (radians) that they lie between, (s, 2). A form that mixes both kinds of names says
    nothing.
    """
    rims = () if evidence.rims is None else evidence.rims.rims
    named: dict[str, set[Family]] = {form: set() for form in evidence.forms}
    for form, family in [(e.form, e.family) for e in evidence.edges] + [(r.form, r.plane.family) for r in rims]:
        if form in named:
            named[form].add(family)
    columns, between = [], []
    for k, form in enumerate(evidence.forms):
        column = int(place[FIRST_BEARING + k])
        sides, facing = (
            bool(named[form] & {Family.LEFT, Family.RIGHT}),
            bool(named[form] & {Family.DEPTH, Family.ACROSS}),
        )
        if column >= 0 and sides != facing:
            columns.append(column)
            between.append(SIDES if sides else FACING)
    return np.array(columns, np.intp), np.radians(np.array(between, float).reshape(-1, 2))


@compiled
def misnaming(params: Floats, covariance: Floats, free: Ints, columns: Ints, between: Floats) -> Floats:
    """Twice the log of how much less likely the names make each of B views, ``params`` (B, P) with ``covariance``
    (B, F, F), by how much of each bearing's spread lies on the wrong side.
    """
    price = np.zeros(len(params))
    for b in range(len(params)):
        for s in range(len(columns)):
            column = columns[s]
            sd = math.sqrt(2.0 * max(covariance[b, column, column], 1e-12))
            at, inside = params[b, free[column]], 0.0
            # bearings repeat after half a turn
            at -= math.pi * round((at - (between[s, 0] + between[s, 1]) / 2) / math.pi)
            for turn in range(-1, 2):
                there = at + turn * math.pi
                inside += 0.5 * (math.erf((between[s, 1] - there) / sd) - math.erf((between[s, 0] - there) / sd))
            price[b] -= 2.0 * math.log(MISNAMED + (1.0 - MISNAMED) * min(max(inside, 0.0), 1.0))
    return price
