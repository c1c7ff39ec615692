"""Sheets as they come from a street or a workbench: many small forms, little of each, much of it near eye level."""

from __future__ import annotations

import numpy as np

from aspectum.core.sightings import Edge, Family, Setup
from tests.scenes import Box, Pinhole, Scene, Vec, random_scene, seen_edges

FRONTAL_NAMES = {Family.RIGHT: Family.ACROSS, Family.LEFT: Family.DEPTH, Family.UPRIGHT: Family.UPRIGHT}
LONGEST = 26  # edges that a patient student lays


def messy_scene(rng: np.random.Generator) -> Scene:
    """Four to eight small boxes, in half of the scenes one of them a thin slab nearly square to the
    picture; one to four edges of a family, each 60 to 130 px, many within 60 px of eye level."""
    while True:
        view = rng.uniform(25.0, 65.0)
        camera = Pinhole(
            float(640.0 / np.tan(np.radians(view / 2))), float(rng.uniform(-3, 12)), float(rng.uniform(-1.5, 1.5))
        )
        wanted, slab = int(rng.integers(4, 9)), bool(rng.random() < 0.5)
        boxes: list[Box] = []
        edges: list[Edge] = []
        for _ in range(400):
            if len(boxes) == wanted:
                break
            frontal = slab and not boxes
            box = small_box(rng, camera, frontal)
            mine = [] if box is None else few_edges(rng, camera, box, len(boxes), frontal)
            if box is not None and len(mine) >= 2:
                boxes.append(box)
                edges += mine
        if len(boxes) == wanted and len(edges) >= LONGEST:
            edges.sort(key=lambda e: -float(np.hypot(e.q[0] - e.p[0], e.q[1] - e.p[1])))
            return Scene(camera, boxes, edges[:LONGEST], Setup(1280, 960))


def small_box(rng: np.random.Generator, camera: Pinhole, frontal: bool) -> Box | None:
    """A box whose corner is drawn, three times in four, within 60 px of eye level; None where it leaves the picture."""
    x = rng.uniform(120, 1160)
    near = rng.random() < 0.75
    y = camera.eye_level_at(x) + rng.uniform(-60, 60) if near else rng.uniform(100, 860)
    ray = np.linalg.inv(camera.matrix()) @ np.array([x, y, 1.0])
    corner = ray / np.linalg.norm(ray) * rng.uniform(2.0, 5.0)
    unit = 100.0 / camera.focal_px * float(np.linalg.norm(corner))
    size = rng.uniform(0.6, 1.8, 3) * unit
    if frontal:
        size[int(rng.integers(0, 3))] *= 0.15
    w, d, h = size.tolist()
    bearing = 90.0 + rng.normal(0, 1.5) if frontal else rng.uniform(5, 85)
    box = Box((float(corner[0]), float(corner[1]), float(corner[2])), float(bearing), (w, d, h))
    corners = np.array([box.at(u, v, t) for u in (0, 1) for v in (0, 1) for t in (0, 1)])
    if (corners @ camera.matrix()[2]).min() < 0.4:
        return None
    seen = camera.project(corners)
    return None if seen.min() < 5 or seen[:, 0].max() > 1275 or seen[:, 1].max() > 955 else box


def few_edges(rng: np.random.Generator, camera: Pinhole, box: Box, number: int, frontal: bool) -> list[Edge]:
    """One to four edges of each family of 60 to 130 px."""
    found: dict[Family, list[tuple[Vec, Vec]]] = {}
    for family, start, stop in seen_edges(box):
        p, q = camera.project(np.array([start, stop]))
        if 60 <= np.hypot(*(q - p)) <= 130:
            found.setdefault(FRONTAL_NAMES[family] if frontal else family, []).append((p, q))
    laid = []
    for family, ends in found.items():
        for k in rng.permutation(len(ends))[: int(rng.integers(1, 5))]:
            p, q = ends[int(k)]
            laid.append(
                Edge(
                    f"b{number}{family.value[0]}{k}",
                    f"b{number}",
                    family,
                    (float(p[0]), float(p[1])),
                    (float(q[0]), float(q[1])),
                )
            )
    return laid


def small_boxes(rng: np.random.Generator) -> Scene:
    """One to three boxes of sides 0.2 to 0.5 seen at 30 to 72 degrees, with a level edge that a hand will lay longer
    than 80 px.
    """
    while True:
        scene = random_scene(rng, (0.0, 15.0), sides=(0.2, 0.5))
        if any(
            e.family is not Family.UPRIGHT and np.hypot(e.q[0] - e.p[0], e.q[1] - e.p[1]) >= 90 for e in scene.edges
        ):
            return scene
