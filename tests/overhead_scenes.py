"""Simulated courtyards seen straight up, and stairwells seen straight down, with known truth."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from aspectum.core.sightings import Edge, Looking, Perspective, Setup
from tests.scenes import Box, Pinhole, Scene, seen_edges

WIDTH, HEIGHT = 1280, 960


def straight_scene(rng: np.random.Generator, looking: Looking, off_straight_deg: float = 0.0) -> Scene:
    """Two to four towers round the eye, seen up or down along a sight that stands ``off_straight_deg`` off, in a picture
    turned anyhow; view 50 to 85 degrees, edges from 45 px.
    """
    way = 1.0 if looking is Looking.UP else -1.0
    while True:
        focal = float(WIDTH / 2 / np.tan(np.radians(rng.uniform(50.0, 85.0) / 2)))
        camera = Pinhole(focal, way * (90.0 - off_straight_deg), float(rng.uniform(-180, 180)), WIDTH, HEIGHT)
        boxes: list[Box] = []
        edges: list[Edge] = []
        for number in range(int(rng.integers(2, 5))):
            round_deg, reach = rng.uniform(0, 2 * np.pi), rng.uniform(1.5, 5.0)
            near, far = rng.uniform(4.0, 7.0), rng.uniform(9.0, 16.0)
            w, d = rng.uniform(1.5, 4.0, 2).tolist()
            low = near if way > 0 else -far
            box = Box((float(reach * np.cos(round_deg)), float(reach * np.sin(round_deg)), low), float(rng.uniform(0, 90)), (w, d, far - near))
            boxes.append(box)
            for family, start, stop in seen_edges(box):
                p, q = camera.project(np.array([start, stop]))
                inside = min(p[0], p[1], q[0], q[1]) > 0 and max(p[0], q[0]) < WIDTH and max(p[1], q[1]) < HEIGHT
                if inside and np.hypot(*(q - p)) >= 45.0:
                    edges.append(Edge(f"b{number}e{len(edges)}", f"b{number}", family, (float(p[0]), float(p[1])), (float(q[0]), float(q[1]))))
        if len(edges) >= 8:
            return Scene(camera, boxes, edges, straight_setup(looking))


def straight_setup(looking: Looking) -> Setup:
    return replace(Setup(WIDTH, HEIGHT), perspective=Perspective.ONE_POINT, looking=looking)
