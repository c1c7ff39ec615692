"""Circles in a parallel drawing: one degree and one axis for each plane, whatever the height.

For a form drawn to square projection the axes fix both (isometric: 35.26, ISO 5456-3:1996 by its
axes 1.22 and 0.71); otherwise the other rims of the same plane do.
"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from aspectum.core.aids.round_forms import axonometric_degree, nearest_guide
from aspectum.core.findings import Finding, RimReading
from aspectum.core.judge.rim_gaps import Gap, degree_tolerance, lowest_rims
from aspectum.core.judge.rim_shape import shape_fault
from aspectum.core.judge.rims import finding_of_rim, lean_fault, too_flat_or_round, verdict_of
from aspectum.core.plane.algebra import inverse
from aspectum.core.plane.lines import tilt_difference, wrap_tilt
from aspectum.core.reasons import RimReason
from aspectum.core.sightings import Family, Plane, SlotKey
from aspectum.core.tolerance import Tolerances, beyond
from aspectum.core.view.evidence import FittedRims

Directions = dict[tuple[str | None, Family], tuple[float, float]]
Due = tuple[float, float, float, float]
IN_PLANE = {
    Plane.LEVEL: (Family.LEFT, Family.RIGHT),
    Plane.LEFT: (Family.RIGHT, Family.UPRIGHT),
    Plane.RIGHT: (Family.LEFT, Family.UPRIGHT),
    Plane.DEPTH: (Family.ACROSS, Family.UPRIGHT),
    Plane.ACROSS: (Family.DEPTH, Family.UPRIGHT),
}


def rim_findings(
    fitted: FittedRims, directions: Directions, tolerances: Tolerances, places: dict[SlotKey, int]
) -> list[Finding]:
    """``directions``: tilt and its sd (degrees) of each form's families, uprights under None; ``places``: of the
    vanishing points in the result.
    """
    findings = []
    lowest = lowest_rims(tuple(rim for rim, _ in fitted), tuple(fit for _, fit in fitted))
    for k, (rim, fit) in enumerate(fitted):
        due = by_axes(rim.form, rim.plane, directions) or by_fellows(k, fitted)
        reading = RimReading(fit.ellipse, fit.sds[2], coverage_deg=fit.coverage_deg, least_points=rim.least_points)
        shape = shape_fault(fit)
        faults = [] if shape is None else [shape]
        gap = Gap(math.nan, math.nan, math.nan, math.nan)
        degree = degree_sd = None
        if due is not None:
            degree, degree_sd, axis, axis_sd = due
            gap = Gap(
                fit.degree_deg - degree,
                math.hypot(fit.sds[1], degree_sd),
                float(tilt_difference(fit.axis_deg, axis)),
                math.hypot(fit.sds[2], axis_sd),
            )
            if not fit.too_short:
                opening = (
                    [too_flat_or_round(gap)]
                    if beyond(gap.degree, gap.degree_sd, degree_tolerance(rim, gap, lowest, tolerances))
                    else []
                )
                faults = opening + lean_fault(fit, gap, degree, tolerances) + faults
            reading = replace(
                reading,
                implied_ellipse=fit.ellipse.opened(degree, axis),
                axis_implied_sd=axis_sd,
                axis_turn_deg=-gap.axis,
                axis_turn_sd=gap.axis_sd,
                guide_deg=nearest_guide(degree),
            )
        found, rule = verdict_of(fit, gap, degree, faults, degree_tolerance(rim, gap, lowest, tolerances), tolerances)
        reason = RimReason(rule, 0.0 if due is None else -gap.degree, plane=rim.plane)
        reading, place = replace(reading, faults=tuple(faults)), places.get(rim.slot)
        findings.append(finding_of_rim(rim, fit, (degree, degree_sd), found, reason, reading, place))
    return findings


def by_axes(form: str, plane: Plane, directions: Directions) -> Due | None:
    """Degree, its sd, axis tilt and its sd from the form's own three axes, where they are drawn."""

    def tilt(family: Family) -> tuple[float, float] | None:
        return directions.get((None if family is Family.UPRIGHT else form, family))

    pair = IN_PLANE[plane]
    if plane is Plane.LEVEL and tilt(pair[0]) is None:
        pair = (Family.DEPTH, Family.ACROSS)
    axis, first, second = tilt(plane.family), tilt(pair[0]), tilt(pair[1])
    if axis is None or first is None or second is None:
        return None

    def degree(a: float, f: float, s: float) -> float | None:
        from_major = [float(wrap_tilt(t - (a - 90.0))) for t in (f, s)]
        if from_major[0] * from_major[1] >= 0:
            return None
        return axonometric_degree(abs(from_major[0]), abs(from_major[1]))

    here = degree(axis[0], first[0], second[0])
    if here is None:
        return None
    steps = [
        degree(axis[0] + 0.1, first[0], second[0]),
        degree(axis[0], first[0] + 0.1, second[0]),
        degree(axis[0], first[0], second[0] + 0.1),
    ]
    slopes = [0.0 if step is None else (step - here) / 0.1 for step in steps]
    sd = math.hypot(*(slope * spread for slope, (_, spread) in zip(slopes, (axis, first, second), strict=True)))
    return here, sd, float(wrap_tilt(axis[0])), axis[1]


def by_fellows(k: int, fitted: FittedRims) -> Due | None:
    """As ``by_axes``, from the other rims of the same plane, weighted by their errors."""
    mine, _ = fitted[k]
    weight, total = np.zeros((2, 2)), np.zeros(2)
    for i, (rim, fit) in enumerate(fitted):
        if (
            i == k
            or rim.plane is not mine.plane
            or (rim.plane is not Plane.LEVEL and rim.form != mine.form)
            or fit.too_short
        ):
            continue
        shape, covariance = fit.vector
        known = inverse(covariance + 1e-12 * np.eye(2))
        weight, total = weight + known, total + known @ shape
    if not weight.any():
        return None
    spread = inverse(weight)
    mean = spread @ total
    size = min(float(np.hypot(*mean)), 1.0)
    way = mean / max(size, 1e-12)
    ratio = math.sqrt((1.0 - size) / (1.0 + size))
    # d(ratio)/d(size) = -1/((1 + size)² ratio), d(asin) = d(ratio)/sqrt(1 - ratio²)
    slope = math.degrees(1.0 / ((1.0 + size) ** 2 * max(ratio, 0.02) * math.sqrt(max(1.0 - ratio**2, 0.02))))
    across = np.array([-way[1], way[0]])
    axis = float(wrap_tilt(-math.degrees(0.5 * math.atan2(way[1], way[0])) - 90.0))
    axis_sd = math.degrees(0.5 * math.sqrt(float(across @ spread @ across)) / max(size, 1e-6))
    return math.degrees(math.asin(ratio)), slope * math.sqrt(float(way @ spread @ way)), axis, min(axis_sd, 90.0)
