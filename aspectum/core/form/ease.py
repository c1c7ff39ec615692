"""A solved form as it would be drawn from further away, as large on the sheet as it is (handbook section 7)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.form.bundle import SolvedForms
from aspectum.core.form.corners import UP
from aspectum.core.plane.ellipses import degree_and_axis
from aspectum.core.plane.lines import Floats, tilt_deg
from aspectum.core.sightings import Plane, Point
from aspectum.core.view.camera import camera_matrix
from aspectum.core.view.circles import ellipse_of
from aspectum.core.view.solve import Solution


@dataclass(frozen=True)
class EasedEdge:
    """One edge as it is drawn by the solved form and as it would be from further away; px and degrees of tilt."""

    id: str
    p: Point
    q: Point
    tilt_deg: float
    eased_p: Point
    eased_q: Point
    eased_tilt_deg: float


def ease(found: SolvedForms, form: str, times: float) -> list[EasedEdge]:
    """The edges of ``form`` with the eye ``times`` as far from its middle, on the same line of sight, with as much
    longer a lens.

    The picture plane keeps its direction and the middle its place on the sheet. Empty for a form that is not solved.
    """
    layout = found.layout
    if form not in layout.forms:
        return []
    of = layout.forms.index(form)
    mine = np.flatnonzero((layout.form == of) & [not e.of_face for e in layout.ends])
    frame = found.frames[0][of]
    # pieces apart have scales of their own: each is eased about its own middle
    image = np.zeros((len(layout.ends), 3))
    eased = np.zeros_like(image)
    for piece in np.unique(layout.piece[layout.node[mine, UP]]):
        part = mine[layout.piece[layout.node[mine, UP]] == piece]
        place = found.values[layout.node[part]]
        middle = (place.max(axis=0) + place.min(axis=0)) / 2
        image[part] = place @ frame
        eased[part] = (place + (times - 1.0) * middle) @ frame
        anchor = middle @ frame
        # a lens `times` as long draws the middle as large as before; its place on the sheet is put back
        flat = eased[part, :2] / eased[part, 2:]
        start = anchor[:2] / anchor[2]
        eased[part] = np.column_stack([start + times * (flat - start), np.ones(len(part))])
    before, after = found.pixels(image[mine]), found.pixels(eased[mine])
    at = {int(k): n for n, k in enumerate(mine)}
    told = []
    for owner in dict.fromkeys(layout.ends[k].owner for k in mine):
        p, q = (at[layout.end(owner, tip)] for tip in (0, 1))
        told.append(
            EasedEdge(
                owner,
                point(before[p]),
                point(before[q]),
                float(tilt_deg(before[p], before[q])),
                point(after[p]),
                point(after[q]),
                float(tilt_deg(after[p], after[q])),
            )
        )
    return told


def point(at: Floats) -> Point:
    return float(at[0]), float(at[1])


@dataclass(frozen=True)
class EasedRim:
    """A level rim's degree as its circle is drawn in its place, and as it would be from further away."""

    id: str
    degree_deg: float
    eased_degree_deg: float


def ease_rims(solution: Solution, form: str, times: float) -> list[EasedRim]:
    """The level rims of ``form`` with the eye ``times`` as far from their middle: they draw nearer to one another's
    degree.

    Their circles stand on one plumb axis, so that each lies as far away, level, as the first.
    """
    bank, own = solution.evidence.rims, solution.own
    if bank is None or own is None:
        return []
    mine = [k for k, rim in enumerate(bank.rims) if rim.form == form and rim.plane is Plane.LEVEL]
    matrix = camera_matrix(solution.params)
    sights = np.linalg.solve(matrix, np.column_stack([own[mine, :2], np.ones(len(mine))]).T).T
    away = np.hypot(sights[:, 0], sights[:, 1])
    depth = away[:1] / np.maximum(away, 1e-9)
    centres = sights * depth[:, None]
    image = (centres + (times - 1.0) * centres.mean(axis=0)) @ matrix.T if mine else np.zeros((0, 3))
    eased = np.column_stack([image[:, :2] / image[:, 2:], own[mine, 2] + np.log(depth / image[:, 2])])
    spans = np.broadcast_to(matrix[:, :2].T, (len(mine), 2, 3))
    here, there = (
        degree_and_axis(ellipse_of(at, spans * np.exp(at[:, 2])[:, None, None]))[0] for at in (own[mine], eased)
    )
    return [EasedRim(bank.rims[k].id, float(a), float(b)) for k, a, b in zip(mine, here, there, strict=True)]
