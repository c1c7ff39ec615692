"""Where each family meets, by the view and by its own edges alone."""

from __future__ import annotations

import math

import numpy as np

from aspectum.core.findings import EyeLevel, Source, VanishingPoint
from aspectum.core.plane.lines import tilt_difference, wrap_tilt
from aspectum.core.sightings import LEVEL_FAMILIES
from aspectum.core.tolerance import DEVIATIONS
from aspectum.core.view.camera import ROLL
from aspectum.core.view.evidence import Evidence, nearly_parallel, own_points
from aspectum.core.view.posterior import Posterior


def read_vanishing_points(posterior: Posterior, eye_level: EyeLevel) -> list[VanishingPoint]:
    solution = posterior.solution
    evidence, view = solution.evidence, solution.view
    v, dv = solution.points
    slopes = dv[:, :, view.free]
    spreads = (slopes @ posterior.spread @ slopes.transpose(0, 2, 1)).tolist()
    roll = float(solution.params[ROLL])
    level_way, plumb_way = (math.cos(roll), -math.sin(roll)), (math.sin(roll), math.cos(roll))
    own = own_points(evidence, solution.active)
    if any(point is None for point in own):
        everything = own_points(evidence, np.ones(len(evidence.edges), bool))
        own = [point if point is not None else every for point, every in zip(own, everything, strict=True)]
    points = []
    for m, (form, family, slope) in enumerate(evidence.slot_keys):
        along = level_way if family in LEVEL_FAMILIES else plumb_way
        x, y, direction, sd = _place(v[m].tolist(), spreads[m], along, evidence)
        members = np.flatnonzero(evidence.slot == m)
        if eye_level.source is Source.NONE and len(members) > 1 and nearly_parallel(evidence, members):
            # no view ties this family to others: it meets nowhere that its own edges can show
            tilts = np.degrees(np.arctan2(-(evidence.b - evidence.a)[members, 1], (evidence.b - evidence.a)[members, 0]))
            mean = tilts[0] + np.mean(tilt_difference(tilts, tilts[0]))
            x, y, direction, sd = None, None, float(wrap_tilt(mean)), None
        if sd is not None and len(members) < 2 and sd > 0.5 * math.hypot(x or 0.0, y or 0.0):
            continue
        alone = own[m]
        own_x = own_y = own_direction = above = None
        if alone is not None:
            own_x, own_y, own_direction, _ = _place(alone.tolist(), NO_SPREAD, along, evidence)
            if own_x is not None and own_y is not None and family in LEVEL_FAMILIES:
                level = eye_level.height_at(own_x, evidence.setup.width_px)
                above = None if level is None else level - own_y
        points.append(VanishingPoint(form, family, slope, x, y, direction, sd, off_sheet(x, evidence.setup.width_px), own_x, own_y, own_direction, above))
    return points


NO_SPREAD = [[0.0] * 3] * 3


def off_sheet(x_px: float | None, width_px: float) -> float | None:
    """How far beyond the sheet's sides ``x_px`` lies, in sheet widths: negative to the left, zero on it."""
    if x_px is None:
        return None
    return min(x_px, 0.0) / width_px + max(x_px - width_px, 0.0) / width_px


def _place(
    v: list[float], spread: list[list[float]], along: tuple[float, float], evidence: Evidence
) -> tuple[float | None, float | None, float | None, float | None]:
    """Pixel place and spread of a homogeneous point, or its direction where it cannot be told
    from a point at infinity.
    """
    reach = max(math.hypot(v[0], v[1]), 1e-300)
    doubt = math.sqrt(max(spread[2][2], 0.0)) / reach
    if abs(v[2]) / reach < max(DEVIATIONS * doubt, 1e-6):
        return None, None, float(wrap_tilt(math.degrees(math.atan2(-v[1], v[0])))), None
    x, y = v[0] / v[2], v[1] / v[2]
    run = (along[0] / v[2], along[1] / v[2], -(along[0] * x + along[1] * y) / v[2])
    variance = sum(run[i] * spread[i][k] * run[k] for i in range(3) for k in range(3))
    cx, cy = evidence.setup.centre
    return x * evidence.scale + cx, y * evidence.scale + cy, None, math.sqrt(max(variance, 0.0)) * evidence.scale
