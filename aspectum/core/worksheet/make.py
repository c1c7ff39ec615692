"""An exercise of any kind, from a seed."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from aspectum.core.worksheet.boxes import near_corner, one_point
from aspectum.core.worksheet.exercise import Exercise, ExerciseKind, Grade
from aspectum.core.worksheet.levels import PictureGiven, eye_level, figures, tilts
from aspectum.core.worksheet.rounds import isometric, lettering, lower_rim, rim_ladder, turned
from aspectum.core.worksheet.walls import mirror, parts

Maker = Callable[[tuple[float, float], Grade, np.random.Generator], Exercise]
MAKERS: dict[ExerciseKind, Maker] = {
    ExerciseKind.ONE_POINT: one_point,
    ExerciseKind.NEAR_CORNER: near_corner,
    ExerciseKind.LOWER_RIM: lower_rim,
    ExerciseKind.RIM_LADDER: rim_ladder,
    ExerciseKind.TURNED: turned,
    ExerciseKind.PARTS: parts,
    ExerciseKind.MIRROR: mirror,
    ExerciseKind.ISOMETRIC: isometric,
    ExerciseKind.LETTERING: lettering,
    ExerciseKind.FIGURES: figures,
    ExerciseKind.EYE_LEVEL: eye_level,
    ExerciseKind.TILTS: tilts,
}
OF_PICTURES = {ExerciseKind.EYE_LEVEL: eye_level, ExerciseKind.TILTS: tilts}
STREAMS = list(ExerciseKind)  # a kind's place here is part of its seed: new kinds go last


def make(
    kind: ExerciseKind,
    size: tuple[float, float],
    grade: Grade,
    seed: int,
    version: int = 1,
    photo: PictureGiven | None = None,
) -> Exercise:
    """The exercise of a ``kind`` in a field of ``size`` (mm): the same for the same seed and version. ``photo``:
    printed in the two kinds that ask about a picture. Raises ``LookupError`` where none fits the field.
    """
    rng = np.random.default_rng([seed, version, STREAMS.index(kind)])
    if photo is not None and kind in OF_PICTURES:
        return OF_PICTURES[kind](size, grade, rng, photo)
    return MAKERS[kind](size, grade, rng)
