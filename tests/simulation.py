"""Accuracy over simulated scenes: shared by the seeded samples in the tests and the full bench."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np

from aspectum.core.check import check
from aspectum.core.findings import CheckResult
from aspectum.core.sightings import Edge, Family, Perspective
from aspectum.core.tolerance import Verdict
from aspectum.core.view.camera import eye_level_height
from aspectum.core.view.evidence import gather
from aspectum.core.view.perspective import view_for
from aspectum.core.view.solve import linearise
from tests.messy_scenes import messy_scene
from tests.reasons import edge_reason
from tests.scenes import Scene, Vec, random_scene, turned

SHALLOW, STEEP = (0.0, 7.0), (8.0, 25.0)


@dataclass
class LevelErrors:
    """Eye-level errors (px), the stated standard deviations and the Cramér–Rao bounds; ``open``: sheets not
    answered.
    """

    errors: list[float] = field(default_factory=list)
    stated: list[float] = field(default_factory=list)
    bounds: list[float] = field(default_factory=list)
    open: int = 0

    def coverage(self) -> float:
        return float(np.mean(self._deviations() <= 1.96))

    def beyond_four(self) -> float:
        return float(np.mean(self._deviations() > 4.0))

    def against_bound(self) -> float:
        """Root mean square of the errors, each in units of its scene's bound."""
        return float(np.sqrt(np.mean((np.array(self.errors) / np.array(self.bounds)) ** 2)))

    def read(self, result: CheckResult, scene: Scene, without: int | None = None) -> bool:
        """Take down where ``result`` puts eye level, beside the bound of the edges, but for one; False where it is
        open.
        """
        height, sd = result.eye_level.height_at(640, 1280), result.eye_level.sd_px
        if height is None or sd is None:
            self.open += 1
            return False
        self.errors.append(height - scene.eye_level_px)
        self.stated.append(sd)
        self.bounds.append(bound_px(replace(scene, edges=[e for k, e in enumerate(scene.edges) if k != without])))
        return True

    def _deviations(self) -> Vec:
        return np.asarray(np.abs(np.array(self.errors) / np.array(self.stated)), float)


@dataclass
class Accuracy(LevelErrors):
    """And errors of focal lengths, implied tilts and vanishing points in their stated deviations."""

    focal_z: list[float] = field(default_factory=list)
    implied_z: list[float] = field(default_factory=list)
    point_z: list[float] = field(default_factory=list)


def bound_px(scene: Scene) -> float:
    """Cramér–Rao bound of eye level at the picture's middle: the inverse Fisher information at the
    true view, with no prior on anything but p at the picture's centre."""
    evidence = gather(scene.setup, tuple(scene.edges), {})
    view = view_for(evidence, Perspective.THREE_POINT)
    truth = np.zeros(evidence.size)
    truth[:3] = (
        np.log(scene.camera.focal_px / evidence.scale),
        *np.radians([scene.camera.pitch_deg, scene.camera.roll_deg]),
    )
    for k, form in enumerate(evidence.forms):
        facing = {e.family for e in scene.edges if e.form == form} & {Family.DEPTH, Family.ACROSS}
        truth[5 + k] = np.radians(scene.boxes[int(form[1:])].bearing_deg - (90.0 if facing else 0.0))
    _, jac = linearise(evidence, view, truth)
    slope = eye_level_height(truth, 0.0)[1][view.free]
    # an information of next to nothing keeps a form that no edge fixes finite
    return float(np.sqrt(slope @ np.linalg.inv(jac.T @ jac + 1e-9 * np.eye(len(slope))) @ slope) * evidence.scale)


def accuracy(pitch_deg: tuple[float, float], scenes: int, seed: int) -> Accuracy:
    rng = np.random.default_rng(seed)
    found = Accuracy()
    for _ in range(scenes):
        scene = random_scene(rng, pitch_deg)
        result = check(scene.setup, scene.sighted(rng))
        if not found.read(result, scene):
            continue
        camera = result.camera
        if camera is not None and camera.focal_px is not None and camera.focal_sd_px is not None:
            found.focal_z.append((camera.focal_px - scene.camera.focal_px) / camera.focal_sd_px)
        for finding in result.findings:
            if finding.implied is not None and finding.implied_sd is not None and finding.sighted_sd is not None:
                found.implied_z.append(
                    edge_reason(finding).turn_deg / float(np.hypot(finding.sighted_sd, finding.implied_sd))
                )
        for point in result.vanishing_points:
            if point.x_px is None or point.y_px is None or point.sd_px is None or point.form is None:
                continue
            axes = scene.boxes[int(point.form[1:])].axes()
            true = scene.camera.vanishing_point(axes[0] if point.family is Family.RIGHT else axes[1])
            # inverse distances are the well-behaved way to compare far points
            reach, true_reach = point.x_px - 640, float(true[0]) - 640
            found.point_z.append((1 / reach - 1 / true_reach) * reach**2 / point.sd_px)
    return found


@dataclass
class Messy(LevelErrors):
    """And verdicts on truthful edges and on strays."""

    off: int = 0
    truthful: int = 0
    named: list[bool] = field(default_factory=list)
    clear: list[bool] = field(default_factory=list)

    def off_share(self) -> float:
        """Share of truthful edges that are called off."""
        return self.off / self.truthful

    def named_all(self) -> float:
        return float(np.mean(self.named))

    def named_clear(self) -> float:
        """Of strays of 120 px or more in a family of three."""
        return float(np.mean(np.array(self.named)[np.array(self.clear)]))

    def add(self, scene: Scene, edges: list[Edge], stray: int | None = None) -> None:
        result = check(scene.setup, edges)
        off = [f.verdict is Verdict.OFF for f in result.findings]
        self.off += sum(off) - (stray is not None and off[stray])
        self.truthful += len(edges) - (stray is not None)
        if stray is not None:
            self.named.append(off[stray])
        self.read(result, scene, stray)


def messy_sheets(scenes: int, seed: int) -> Messy:
    rng = np.random.default_rng(seed)
    found = Messy()
    for _ in range(scenes):
        scene = messy_scene(rng)
        found.add(scene, scene.sighted(rng))
    return found


def one_stray(make: Callable[[np.random.Generator], Scene], scenes: int, seed: int) -> Messy:
    """Turn one level edge of 80 px or more by 6-12 degrees in each scene."""
    rng = np.random.default_rng(seed)
    found = Messy()
    for _ in range(scenes):
        scene = make(rng)
        edges = scene.sighted(rng)
        lengths = [float(np.hypot(e.q[0] - e.p[0], e.q[1] - e.p[1])) for e in edges]
        k = int(
            rng.choice(
                [i for i, length in enumerate(lengths) if length >= 80 and edges[i].family is not Family.UPRIGHT]
            )
        )
        edges[k] = turned(edges[k], float(rng.uniform(6, 12) * rng.choice([-1, 1])))
        family = sum(e.family is edges[k].family and e.form == edges[k].form for e in edges)
        found.clear.append(lengths[k] >= 120 and family >= 3)
        found.add(scene, edges, k)
    return found


@dataclass
class Strays:
    """How often a turned edge is called, and how often others are called in its stead."""

    named: int = 0
    asked: int = 0
    long_named: int = 0
    long_asked: int = 0
    others_off: int = 0
    others: int = 0


def strays(pitch_deg: tuple[float, float], scenes: int, seed: int) -> Strays:
    """Turn one edge of 80 px or more by 6-12 degrees in each scene."""
    rng = np.random.default_rng(seed)
    found = Strays()
    for _ in range(scenes):
        scene = random_scene(rng, pitch_deg)
        edges = scene.sighted(rng)
        lengths = [float(np.hypot(e.q[0] - e.p[0], e.q[1] - e.p[1])) for e in edges]
        k = int(rng.choice([i for i, length in enumerate(lengths) if length >= 80]))
        edges[k] = turned(edges[k], float(rng.uniform(6, 12) * rng.choice([-1, 1])))
        family = sum(
            e.family is edges[k].family and (e.family is Family.UPRIGHT or e.form == edges[k].form) for e in edges
        )
        verdicts = [f.verdict for f in check(scene.setup, edges).findings]
        off = verdicts[k] is Verdict.OFF
        found.asked += 1
        found.named += off
        if lengths[k] >= 120 and family >= 3:
            found.long_asked += 1
            found.long_named += off
        found.others += len(verdicts) - 1
        found.others_off += sum(v is Verdict.OFF for i, v in enumerate(verdicts) if i != k)
    return found
