"""Accuracy of rims over simulated scenes: shared by the seeded samples in the tests and the bench."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace

import cv2
import numpy as np

from aspectum.core.check import check
from aspectum.core.plane.rim_fit import fit_rim
from aspectum.core.sightings import Rim
from tests.round_scenes import Circle, flat_arc, quay_scene, round_scene
from tests.scenes import Pinhole, Vec

LEVEL, PITCHED = (0.0, 6.0), (8.0, 22.0)


@dataclass
class RimAccuracy:
    """Errors of sighted and implied degrees, and eye level, with their stated deviations."""

    sighted: list[float] = field(default_factory=list)
    sighted_z: list[float] = field(default_factory=list)
    implied: list[float] = field(default_factory=list)
    implied_z: list[float] = field(default_factory=list)
    axis_z: list[float] = field(default_factory=list)
    level_z: list[float] = field(default_factory=list)
    off: int = 0
    open: int = 0

    def held(self, values: list[float]) -> float:
        """Share of 95 % intervals that hold the truth."""
        return float(np.mean(np.abs(values) <= 1.96))

    def gain(self) -> float:
        """Median error of the implied degree over that of the sighted one."""
        return float(np.median(self.implied) / np.median(self.sighted))


@dataclass
class ShortArcs:
    """Errors of sighted degrees, ours and those of OpenCV's three fits, and ours in stated deviations."""

    errors: list[float] = field(default_factory=list)
    theirs: list[list[float]] = field(default_factory=list)
    deviations: list[float] = field(default_factory=list)


def short_arcs(make: Callable[[np.random.Generator], tuple[Rim, Circle, Pinhole]], count: int, seed: int) -> ShortArcs:
    rng = np.random.default_rng(seed)
    found = ShortArcs()
    for _ in range(count):
        rim, circle, camera = make(rng)
        degree = circle.ellipse(camera)[3]
        fit = fit_rim(rim.points, 1.5 if make is flat_arc else 1.0)
        found.errors.append(abs(fit.degree_deg - degree))
        found.deviations.append(found.errors[-1] / fit.sds[1])
        found.theirs.append([abs(other - degree) for other in library_degrees(np.array(rim.points))])
    return found


def library_degrees(points: Vec) -> list[float]:
    """By OpenCV's ``fitEllipse``, ``fitEllipseAMS`` and ``fitEllipseDirect``."""
    found = []
    for fitter in (cv2.fitEllipse, cv2.fitEllipseAMS, cv2.fitEllipseDirect):
        (_, axes, _) = fitter(points.astype(np.float32))
        found.append(
            math.degrees(math.asin(min(axes) / max(axes))) if max(axes) > 0 and math.isfinite(max(axes)) else 0.0
        )
    return found


def rim_accuracy(pitch_deg: tuple[float, float], scenes: int, seed: int) -> RimAccuracy:
    """Three to six level rims alone in each scene, nothing known of the camera."""
    rng = np.random.default_rng(seed)
    found = RimAccuracy()
    for _ in range(scenes):
        scene = round_scene(rng, pitch_deg)
        result = check(scene.setup, [], rims=scene.sighted(rng))
        height = result.eye_level.height_at(640, 1280)
        if height is None or result.eye_level.sd_px is None:
            found.open += 1
        else:
            found.level_z.append((height - scene.camera.eye_level_at(640)) / result.eye_level.sd_px)
        for finding, circle in zip(result.findings, scene.circles, strict=True):
            *_, degree, tilt = circle.ellipse(scene.camera)
            assert finding.sighted is not None and finding.sighted_sd is not None and finding.rim is not None
            found.sighted.append(abs(finding.sighted - degree))
            found.sighted_z.append((finding.sighted - degree) / finding.sighted_sd)
            found.off += finding.verdict.value == "off"
            due = finding.rim.implied_ellipse
            if finding.implied is None or not finding.implied_sd or due is None or not finding.rim.axis_implied_sd:
                continue
            found.implied.append(abs(finding.implied - degree))
            found.implied_z.append((finding.implied - degree) / finding.implied_sd)
            found.axis_z.append(((due.axis_deg - tilt + 90) % 180 - 90) / finding.rim.axis_implied_sd)
    return found


STANDS = ("level", "lying", "on a wall")


@dataclass
class Quay:
    """By how a rim stands: how many were called off, of how many, and their sighted and implied degrees in stated
    deviations.
    """

    off: dict[str, int] = field(default_factory=lambda: dict.fromkeys(STANDS, 0))
    sighted_z: dict[str, list[float]] = field(default_factory=lambda: {stands: [] for stands in STANDS})
    implied_z: dict[str, list[float]] = field(default_factory=lambda: {stands: [] for stands in STANDS})


def quay(scenes: int, seed: int) -> Quay:
    """Truthful rims, level, lying and on walls, beside truthful edges."""
    rng = np.random.default_rng(seed)
    found = Quay()
    for _ in range(scenes):
        scene, circles, rims = quay_scene(rng)
        sighted = [
            replace(rim, points=tuple((x + rng.normal(0, 1.0), y + rng.normal(0, 1.0)) for x, y in rim.points))
            for rim in rims
        ]
        result = check(replace(scene.setup, point_sd_px=1.0), scene.sighted(rng, 1.0), rims=sighted)
        for finding, circle in zip(result.findings[len(scene.edges) :], circles, strict=True):
            stands = (
                STANDS[0] if circle.plane.value == "level" else STANDS[1] if circle.form.startswith("d") else STANDS[2]
            )
            degree = circle.ellipse(scene.camera)[3]
            assert finding.sighted is not None and finding.sighted_sd is not None
            found.off[stands] += finding.verdict.value == "off"
            found.sighted_z[stands].append((finding.sighted - degree) / finding.sighted_sd)
            if finding.implied is not None and finding.implied_sd:
                found.implied_z[stands].append((finding.implied - degree) / finding.implied_sd)
    return found
