"""A solved form as it would be drawn from further away, as large on the sheet as it is (handbook section 7)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.form.bundle import SolvedForms
from aspectum.core.form.corners import UP
from aspectum.core.plane.lines import tilt_deg
from aspectum.core.sightings import Point


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
    """The edges of ``form`` with the eye ``times`` as far from its middle, on the same line of sight, with as much longer a lens.

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


def point(at: np.ndarray) -> Point:
    return float(at[0]), float(at[1])
