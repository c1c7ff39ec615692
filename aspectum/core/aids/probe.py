"""What must run where: how every family is tilted at any place of the picture, and how round a level rim is there."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from aspectum.core.findings import CameraReading, VanishingPoint
from aspectum.core.plane.lines import lean_deg, tilt_deg, tilt_difference, wrap_tilt
from aspectum.core.sightings import Family, Point
from aspectum.core.view.camera import FIRST_BEARING, camera_matrix, level_circle, vanishing_with_slopes
from aspectum.core.view.implied import DEVIATIONS_OF_95, WORTH_A_LOOK, half_widths
from aspectum.core.view.left_out import BLIND_SD_DEG
from aspectum.core.view.posterior import Posterior

STEP = 1e-5  # of a camera parameter, in derivatives by differences


@dataclass(frozen=True)
class Running:
    """How a family runs at a place: ``tilt_deg`` with its standard deviation, None where that is not known.
    ``lean_deg``: of uprights, from plumb, positive to the right; None where nothing leans.
    """

    form: str | None
    family: Family
    slope: str | None
    tilt_deg: float
    sd_deg: float | None
    lean_deg: float | None


@dataclass(frozen=True)
class RimThere:
    """A small level rim at a place: its degree with the standard deviation, and its minor axis' tilt."""

    degree_deg: float
    sd_deg: float | None
    axis_deg: float

    @property
    def ratio(self) -> float:
        """Minor over major axis."""
        return math.sin(math.radians(self.degree_deg))


@dataclass(frozen=True)
class Probe:
    """``rim``: None where the sightings leave the width of view open."""

    runs: tuple[Running, ...]
    rim: RimThere | None


def probe_view(posterior: Posterior, camera: CameraReading | None, at: Point) -> Probe:
    """At ``at`` (px), over all that the sightings leave possible. What nothing there implies is left out."""
    evidence, curve = posterior.solution.evidence, posterior.curve
    setup, free = evidence.setup, posterior.solution.view.free
    here = (np.array(at) - setup.centre) / evidence.scale
    on = np.flatnonzero(curve.weight > WORTH_A_LOOK)
    params, weight = curve.params[on], curve.weight[on] / curve.weight[on].sum()
    count = len(evidence.slot_keys)
    tilts, variances = np.empty((len(on), count + 1)), np.empty((len(on), count + 1))
    axis = math.nan
    for k, place in enumerate(params):
        points, by = vanishing_with_slopes(place, evidence.slots)
        way = points[:, :2] - here * points[:, 2:]
        square = np.maximum(np.einsum("mi,mi->m", way, way), 1e-300)
        turned = by[:, :2] - here[:, None] * by[:, 2:]
        turn = np.degrees(way[:, 1, None] * turned[:, 0] - way[:, 0, None] * turned[:, 1]) / square[:, None]
        covariance = curve.covariance[on[k]]
        tilts[k, :count] = wrap_tilt(np.degrees(np.arctan2(-way[:, 1], way[:, 0])))
        variances[k, :count] = np.einsum("mf,fg,mg->m", turn[:, free], covariance, turn[:, free])
        tilts[k, count], axis_here = level_circle(camera_matrix(place), *here)
        slope = np.array(
            [
                (level_circle(camera_matrix(moved), *here)[0] - tilts[k, count]) / STEP
                for moved in place + STEP * np.eye(len(place))[free]
            ]
        )
        slope[free >= FIRST_BEARING] = 0.0  # which way a form is turned says nothing of a level rim
        variances[k, count] = slope @ covariance @ slope
        axis = axis_here if weight[k] == weight.max() else axis
    reference = tilts[np.argmax(weight)]
    away = tilts - reference
    away[:, :count] = tilt_difference(tilts[:, :count], reference[:count])
    middle = reference + weight @ away
    sd = (
        half_widths(away, np.sqrt(np.maximum(variances, 0.0)), np.repeat(weight[:, None], count + 1, axis=1))
        / DEVIATIONS_OF_95
    )
    runs = [
        running(*key, float(wrap_tilt(tilt)), float(spread))
        for key, tilt, spread in zip(evidence.slot_keys, middle, sd, strict=False)
        if math.isfinite(spread) and spread <= BLIND_SD_DEG
    ]
    known = camera is not None and camera.focal_px is not None and sd[-1] <= BLIND_SD_DEG
    return Probe(tuple(runs), RimThere(min(float(middle[-1]), 90.0), float(sd[-1]), axis) if known else None)


def running(form: str | None, family: Family, slope: str | None, tilt: float, sd: float | None) -> Running:
    return Running(form, family, slope, tilt, sd, float(lean_deg(tilt)) if family is Family.UPRIGHT else None)


def probe_points(points: list[VanishingPoint], at: Point) -> Probe:
    """At ``at`` (px), towards ``points``: for drawings that no camera stands behind."""
    runs = []
    for v in points:
        if v.direction_deg is not None:
            runs.append(running(v.form, v.family, v.slope, v.direction_deg, None))
        elif v.x_px is not None and v.y_px is not None:
            away = math.dist(at, (v.x_px, v.y_px))
            runs.append(
                running(
                    v.form,
                    v.family,
                    v.slope,
                    float(tilt_deg(at, (v.x_px, v.y_px))),
                    math.degrees(math.atan2(v.sd_px or 0.0, away)),
                )
            )
    return Probe(tuple(r for r in runs if (r.sd_deg or 0.0) <= BLIND_SD_DEG), None)


def probe_straight(points: list[VanishingPoint], at: Point) -> Probe:
    """As ``probe_points``, looking straight up or down: nothing leans, and level rims are full circles everywhere."""
    return Probe(
        tuple(replace(run, lean_deg=None) for run in probe_points(points, at).runs), RimThere(90.0, None, 90.0)
    )
