"""Where each family meets, by the view and by its own edges alone."""

from __future__ import annotations

import math

import numpy as np

from aspectum.core.findings import EyeLevel, Source, VanishingPoint
from aspectum.core.plane.lines import Floats, tilt_difference, wrap_tilt
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
    spreads = slopes @ posterior.spread @ slopes.transpose(0, 2, 1)
    roll = float(solution.params[ROLL])
    level_way, plumb_way = (math.cos(roll), -math.sin(roll)), (math.sin(roll), math.cos(roll))
    along = np.array([level_way if family in LEVEL_FAMILIES else plumb_way for _, family, _ in evidence.slot_keys])
    own = own_points(evidence, solution.active)
    if any(point is None for point in own):
        everything = own_points(evidence, np.ones(len(evidence.edges), bool))
        own = [point if point is not None else every for point, every in zip(own, everything, strict=True)]
    found = places(v, spreads, along, evidence)
    alone = places(
        np.array([np.full(3, np.nan) if point is None else point for point in own]),
        np.zeros_like(spreads),
        along,
        evidence,
    )
    points = []
    for m, ((form, family, slope), (x, y, direction, sd)) in enumerate(zip(evidence.slot_keys, found, strict=True)):
        members = np.flatnonzero(evidence.slot == m)
        if eye_level.source is Source.NONE and len(members) > 1 and nearly_parallel(evidence, members):
            # no view ties this family to others: it meets nowhere that its own edges can show
            tilts = np.degrees(
                np.arctan2(-(evidence.b - evidence.a)[members, 1], (evidence.b - evidence.a)[members, 0])
            )
            mean = tilts[0] + np.mean(tilt_difference(tilts, tilts[0]))
            x, y, direction, sd = None, None, float(wrap_tilt(mean)), None
        if sd is not None and len(members) < 2 and sd > 0.5 * math.hypot(x or 0.0, y or 0.0):
            continue
        own_x, own_y, own_direction, _ = (None, None, None, None) if own[m] is None else alone[m]
        above = None
        if own_x is not None and own_y is not None and family in LEVEL_FAMILIES:
            level = eye_level.height_at(own_x, evidence.setup.width_px)
            above = None if level is None else level - own_y
        points.append(
            VanishingPoint(
                form,
                family,
                slope,
                x,
                y,
                direction,
                sd,
                off_sheet(x, evidence.setup.width_px),
                own_x,
                own_y,
                own_direction,
                above,
            )
        )
    return points


def off_sheet(x_px: float | None, width_px: float) -> float | None:
    """How far beyond the sheet's sides ``x_px`` lies, in sheet widths: negative to the left, zero on it."""
    if x_px is None:
        return None
    return min(x_px, 0.0) / width_px + max(x_px - width_px, 0.0) / width_px


Place = tuple[float | None, float | None, float | None, float | None]


def places(v: Floats, spread: Floats, along: Floats, evidence: Evidence) -> list[Place]:
    """Pixel place and spread, by the way ``along`` (m, 2), of homogeneous points (m, 3) of covariance ``spread`` (m, 3,
    3); or the direction of those that cannot be told from a point at infinity.
    """
    reach = np.maximum(np.hypot(v[:, 0], v[:, 1]), 1e-300)
    doubt = np.sqrt(np.maximum(spread[:, 2, 2], 0.0)) / reach
    far = np.abs(v[:, 2]) / reach < np.maximum(DEVIATIONS * doubt, 1e-6)
    with np.errstate(all="ignore"):
        x, y = v[:, 0] / v[:, 2], v[:, 1] / v[:, 2]
        run = np.stack([along[:, 0], along[:, 1], -(along[:, 0] * x + along[:, 1] * y)], axis=1) / v[:, 2:]
        sd = np.sqrt(np.maximum(np.einsum("mi,mij,mj->m", run, spread, run), 0.0)) * evidence.scale
    direction = wrap_tilt(np.degrees(np.arctan2(-v[:, 1], v[:, 0])))
    cx, cy = evidence.setup.centre
    rows = zip(
        (x * evidence.scale + cx).tolist(),
        (y * evidence.scale + cy).tolist(),
        direction.tolist(),
        sd.tolist(),
        far.tolist(),
        strict=True,
    )
    return [(None, None, tilt, None) if infinite else (px, py, None, wide) for px, py, tilt, wide, infinite in rows]
