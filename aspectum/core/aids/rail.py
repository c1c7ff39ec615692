"""The level rail: at each height on the sheet, how round a level rim must look there."""

from __future__ import annotations

import math

import numpy as np

from aspectum.core.findings import CameraReading, EyeLevel, RailMark
from aspectum.core.sightings import Edge, Family, Setup
from aspectum.core.view.camera import camera_matrix, level_circle

# of the unit, coarsest first: the round parts that a ruler is divided in
STEPS = (20, 10, 5, 2, 1, 0.5, 0.25, 0.1, 0.05, 0.02)


def rim_degree_deg(
    x_px: float, y_px: float, focal_px: float, pitch_deg: float, roll_deg: float, centre_px: tuple[float, float]
) -> float:
    """Ellipse degree (0-90) of a small level circle whose centre is drawn at (x, y), by ``level_circle``."""
    params = np.array([math.log(focal_px), math.radians(pitch_deg), math.radians(roll_deg), 0.0, 0.0])
    degree, _ = level_circle(camera_matrix(params), x_px - centre_px[0], y_px - centre_px[1])
    return degree


def level_rail(
    level_y_px: float,
    unit_px: float,
    height_px: int,
    x_px: float,
    camera: tuple[float, float, float] | None,
    centre_px: tuple[float, float],
) -> list[RailMark]:
    """Marks within the picture, about six or more, at steps of whole units or simple parts of one.

    ``camera``: focal length (px), pitch and roll (degrees), or None. Eye level itself is the mark
    with ``units`` 0.
    """
    step = next((s for s in STEPS if unit_px * s <= height_px / 6), STEPS[-1])
    low = math.ceil((level_y_px - height_px) / (unit_px * step))
    high = math.floor(level_y_px / (unit_px * step))
    marks = []
    for k in range(high, low - 1, -1):
        y = level_y_px - k * step * unit_px
        degree = None if camera is None else rim_degree_deg(x_px, y, *camera, centre_px)
        marks.append(RailMark(float(y), round(k * step, 3), degree))
    return marks


def sheet_rail(setup: Setup, eye_level: EyeLevel, camera: CameraReading | None, edges: list[Edge]) -> list[RailMark]:
    """Marks of the level rail at the picture's middle in units of the longest sighted upright (the
    near upright), or of a quarter of the picture where there is none.
    """
    middle = setup.width_px / 2
    level = eye_level.height_at(middle, setup.width_px)
    if level is None:
        return []
    unit = max((abs(e.q[1] - e.p[1]) for e in edges if e.family is Family.UPRIGHT), default=setup.height_px / 4)
    unit = max(unit, 0.02 * setup.height_px)
    known = None
    if camera is not None and camera.focal_px is not None:
        known = (camera.focal_px, camera.pitch_deg or 0.0, camera.roll_deg or 0.0)
    return level_rail(level, unit, setup.height_px, middle, known, setup.centre)
