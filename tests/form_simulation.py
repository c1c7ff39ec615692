"""Sizes, heights and parts over simulated scenes on the ground, beside what no unbiased reading can better."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from aspectum.core.check import check
from aspectum.core.sightings import Family, Kind, Measured, PartAlong
from aspectum.core.view.lens import EXIF_LOG_SD
from tests.ground_scenes import GroundScene, ground_scene
from tests.scenes import Box, Pinhole, Vec


@dataclass(frozen=True)
class Bounds:
    """Cramér–Rao bounds at the truth: of each box's sides in uprights (its right and left; infinite where nothing fixes
    them), of heights (m), of parts.
    """

    sizes: list[tuple[float, float]]
    heights: list[float]
    parts: list[float]


def bounds(scene: GroundScene, sd_px: float = 1.5) -> Bounds:
    """Inverse Fisher information of all ends laid, by differences; a faint hold, a thousandfold the unknowns, keeps
    what is open finite.
    """
    camera, focal = scene.camera, scene.camera.focal_px
    base = np.concatenate(
        [[0.0, np.radians(camera.pitch_deg), np.radians(camera.roll_deg)]]
        + [[*box.corner[:2], np.radians(box.bearing_deg), *np.log(box.size)] for box in scene.boxes]
    )
    cuts = [(k, tip) for k, e in enumerate(scene.laid) for tip in (0, 1) if not e.true[tip]]
    first_cut = len(base)
    first_post = first_cut + len(cuts)
    first_part = first_post + 3 * len(scene.posts)
    total = first_part + 2 * len(scene.parts)
    theta = np.zeros(total)
    theta[:first_cut] = base

    def flat(theta: Vec) -> Vec:
        view = Pinhole(float(focal * np.exp(theta[0])), float(np.degrees(theta[1])), float(np.degrees(theta[2])))
        boxes = []
        for k, old in enumerate(scene.boxes):
            x, y, b, *size = theta[3 + 6 * k : 9 + 6 * k].tolist()
            boxes.append(Box((x, y, old.corner[2]), float(np.degrees(b)), tuple(np.exp(size).tolist())))
        points = []
        for k, e in enumerate(scene.laid):
            old, new = scene.boxes[e.box], boxes[e.box]
            inside = np.array([((end - np.array(old.corner)) @ old.axes().T) / np.array(old.size) for end in e.ends])
            for tip in (0, 1):
                at = inside[tip].copy()
                if (k, tip) in cuts:
                    at[e.axis] += theta[first_cut + cuts.index((k, tip))]
                points.append(new.at(*at))
        corners = []
        for box, _, _, old_corners in scene.faces:
            old, new = scene.boxes[box], boxes[box]
            mine = [new.at(*(((c - np.array(old.corner)) @ old.axes().T) / np.array(old.size))) for c in old_corners]
            corners.append(mine)
            points += mine
        for k, (face, _, _, at) in enumerate(scene.parts):
            a, b, _, d = scene.faces[face][3]
            u = float((at - a) @ (b - a) / ((b - a) @ (b - a))) + theta[first_part + 2 * k]
            v = float((at - a) @ (d - a) / ((d - a) @ (d - a))) + theta[first_part + 2 * k + 1]
            a, b, _, d = corners[face]
            points.append(a + u * (b - a) + v * (d - a))
        for k, post in enumerate(scene.posts):
            dx, dy, dh = theta[first_post + 3 * k : first_post + 3 * k + 3]
            foot = post[0] + np.array([dx, dy, 0.0])
            points += [foot, foot + np.array([0.0, 0.0, post[1, 2] - post[0, 2] + dh])]
        return view.project(np.array(points)).reshape(-1)

    step = 1e-6
    jac = (
        np.array([(flat(theta + step * row) - flat(theta - step * row)) / (2 * step) for row in np.eye(total)]).T
        / sd_px
    )
    known = np.full(total, 1e-6)
    if scene.lens_given:
        known[0] = 1 / EXIF_LOG_SD**2
    # no picture of a box tells its size: the scale of each is held by its base, which stands on the ground
    covariance = np.linalg.inv(jac.T @ jac + np.diag(known))

    def sd(row: Vec) -> float:
        return float(np.sqrt(row @ covariance @ row))

    sizes = []
    for k, box in enumerate(scene.boxes):
        pair = []
        for axis in (0, 1):
            row = np.zeros(total)
            row[6 + 6 * k + axis], row[8 + 6 * k] = 1, -1
            pair.append(sd(row) * box.size[axis] / box.size[2])
        sizes.append((pair[0], pair[1]))
    heights = [sd(np.eye(total)[first_post + 3 * k + 2]) for k in range(len(scene.posts))]
    parts = [
        sd(np.eye(total)[first_part + 2 * k + (along is PartAlong.UP)])
        for k, (_, along, _, _) in enumerate(scene.parts)
    ]
    return Bounds(sizes, heights, parts)


FIXED = 0.33  # of a side: one that nothing could tell better is not asked for


@dataclass
class Told:
    """Errors of one kind of thing with the stated standard deviations and the bounds."""

    errors: list[float] = field(default_factory=list)
    stated: list[float] = field(default_factory=list)
    bounds: list[float] = field(default_factory=list)

    def add(self, error: float, stated: float, bound: float) -> None:
        self.errors.append(error)
        self.stated.append(stated)
        self.bounds.append(bound)

    def coverage(self) -> float:
        return float(np.mean(np.abs(self.errors) <= 1.96 * np.array(self.stated)))

    def beyond_four(self) -> float:
        return float(np.mean(np.abs(self.errors) > 4.0 * np.array(self.stated)))

    def median(self) -> float:
        return float(np.median(np.abs(self.errors)))

    def against_bound(self, straight: float = 3.0) -> float:
        """Root mean square of the errors in units of each one's bound. Where the stated deviation is many times the
        bound (``straight``), the bound, which is taken at the truth alone, means nothing: a side may not move at all
        with a bearing that is open.
        """
        ratio, loose = np.array(self.errors) / np.array(self.bounds), np.array(self.stated) / np.array(self.bounds)
        return float(np.sqrt(np.mean(ratio[loose < straight] ** 2)))

    def beyond_straight(self, straight: float = 3.0) -> float:
        """The share that ``against_bound`` leaves out."""
        return float(np.mean(np.array(self.stated) >= straight * np.array(self.bounds)))


@dataclass
class FormAccuracy:
    """``false``: sides told although nothing fixes them and off by more than four deviations; ``asked``: sides that
    could be told, ``answered`` of them.
    """

    sizes: Told = field(default_factory=Told)
    heights: Told = field(default_factory=Told)
    parts: Told = field(default_factory=Told)
    asked: int = 0
    answered: int = 0
    false: int = 0


def form_accuracy(
    pitch_deg: tuple[float, float],
    scenes: int,
    seed: int,
    told: bool = False,
    make: Callable[[np.random.Generator, tuple[float, float]], GroundScene] = ground_scene,
) -> FormAccuracy:
    """Boxes on the ground, half of the sheets with a lens given; ``told``: the person marks what is cut off."""
    rng = np.random.default_rng(seed)
    found = FormAccuracy()
    for _ in range(scenes):
        scene = make(rng, pitch_deg)
        bound = bounds(scene)
        edges, faces, divisions, heights = scene.sighted(rng, told=told)
        result = check(scene.setup, edges, measured=Measured(faces=faces, divisions=divisions, heights=heights))
        forms = {f.form: f for f in result.forms}
        for k, box in enumerate(scene.boxes):
            form = forms.get(f"b{k}")
            for axis, family in enumerate((Family.RIGHT, Family.LEFT)):
                true, least = box.size[axis] / box.size[2], bound.sizes[k][axis]
                size, sd = (
                    (None, None)
                    if form is None or form.unit is not Family.UPRIGHT
                    else (form.size[family], form.size_sd[family])
                )
                found.asked += least < FIXED * true
                if size is None or sd is None:
                    continue
                found.answered += least < FIXED * true
                found.false += least > 3 * FIXED * true and abs(size - true) > 4 * sd
                if least < FIXED * true:
                    found.sizes.add((size - true) / true, sd / true, least / true)
        by_id = {f.sighting: f for f in result.findings if f.kind in (Kind.HEIGHT, Kind.DIVISION)}
        for k, post in enumerate(scene.posts):
            f = by_id[f"h{k}"]
            if f.sighted is not None and f.sighted_sd is not None:
                found.heights.add(f.sighted - (post[1, 2] - post[0, 2]), f.sighted_sd, bound.heights[k])
        for k, (_, _, share, _) in enumerate(scene.parts):
            f = by_id[f"d{k}"]
            if f.implied is not None and f.implied_sd is not None:
                found.parts.add(f.implied - share, f.implied_sd, bound.parts[k])
    return found
