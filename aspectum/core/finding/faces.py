"""Faces that lines close round: which are of one form, and what their sides run along."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from aspectum.core.sightings import Family

Floats = NDArray[np.float64]
Face = tuple[int, int, int, int]  # the numbers of its lines, in order round it

PLUMB_DEG, LEVEL_DEG = 17.0, 4.0  # of an upright's lean, and of a level edge's tilt, as a freehand draws them


def joined(faces: list[Face]) -> list[list[Face]]:
    """Faces gathered into forms: those that share a side are of one."""
    forms: list[list[Face]] = []
    for face in faces:
        own = [form for form in forms if any(set(face) & set(other) for other in form)]
        forms = [form for form in forms if form not in own] + [[face, *(f for form in own for f in form)]]
    return forms


def sides_along(p: Floats, q: Floats, faces: list[Face]) -> dict[int, Family]:
    """What each line, from p to q (n, 2; px), of a form's ``faces`` runs along. Uprights are nearly plumb; the level
    sides of an upright face run left where the face lies left of the longest upright, and right where it lies right; of
    a face seen from before they run across. What a level face shares with upright ones its opposite sides have too.
    """
    run = np.abs(q - p)
    slant = np.degrees(np.arctan2(run[:, 1], run[:, 0]))
    known: dict[int, Family] = {n: Family.UPRIGHT for face in faces for n in face if 90.0 - slant[n] < PLUMB_DEG}
    upright = [face for face in faces if between_uprights(face, known)]
    near = max(
        (n for face in upright for n in face if known.get(n) is Family.UPRIGHT),
        key=lambda n: float(run[n, 1]),
        default=None,
    )
    for face in upright:
        rest = [n for n in face if known.get(n) is not Family.UPRIGHT]
        aside = Family.LEFT if (p + q)[list(face), 0].mean() < (p + q)[near, 0] else Family.RIGHT
        known |= dict.fromkeys(rest, Family.ACROSS if all(slant[n] < LEVEL_DEG for n in rest) else aside)
    for face in faces:
        if face in upright:
            continue
        for k, n in enumerate(face):
            over = known.get(face[(k + 2) % 4])
            if n not in known and over is not None:
                known[n] = over
        shared = {known[n] for n in face if n in known}
        left = Family.DEPTH if Family.ACROSS in shared else Family.RIGHT if Family.LEFT in shared else Family.LEFT
        known |= {n: left for n in face if n not in known}
    return known


def between_uprights(face: Face, known: dict[int, Family]) -> bool:
    """Whether just two of a face's sides are uprights, opposite to each other."""
    plumb = [k for k, n in enumerate(face) if known.get(n) is Family.UPRIGHT]
    return len(plumb) == 2 and plumb[1] - plumb[0] == 2
