"""Simulated courtyards seen straight up, and stairwells seen straight down, with known truth."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np

from aspectum.core.check import check
from aspectum.core.plane.lines import tilt_deg, tilt_difference
from aspectum.core.sightings import Edge, Family, Looking, Perspective, Setup
from tests.scenes import Box, Pinhole, Scene, seen_edges, turned

WIDTH, HEIGHT = 1280, 960


def straight_scene(rng: np.random.Generator, looking: Looking, off_straight_deg: float = 0.0) -> Scene:
    """Two to four towers round the eye, seen up or down along a sight that stands ``off_straight_deg`` off, in a
    picture turned anyhow; view 50 to 85 degrees, edges from 45 px.
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
            box = Box(
                (float(reach * np.cos(round_deg)), float(reach * np.sin(round_deg)), low),
                float(rng.uniform(0, 90)),
                (w, d, far - near),
            )
            boxes.append(box)
            for family, start, stop in seen_edges(box):
                p, q = camera.project(np.array([start, stop]))
                inside = min(p[0], p[1], q[0], q[1]) > 0 and max(p[0], q[0]) < WIDTH and max(p[1], q[1]) < HEIGHT
                if inside and np.hypot(*(q - p)) >= 45.0:
                    edges.append(
                        Edge(
                            f"b{number}e{len(edges)}",
                            f"b{number}",
                            family,
                            (float(p[0]), float(p[1])),
                            (float(q[0]), float(q[1])),
                        )
                    )
        if len(edges) >= 8:
            return Scene(camera, boxes, edges, straight_setup(looking))


def straight_setup(looking: Looking) -> Setup:
    return replace(Setup(WIDTH, HEIGHT), perspective=Perspective.ONE_POINT, looking=looking)


@dataclass
class Straight:
    """Errors of implied tilts in stated deviations, of uprights and of level edges; what was called off of truthful
    edges, of strays of 6 to 12 degrees and beside them.
    """

    upright_z: list[float] = field(default_factory=list)
    level_z: list[float] = field(default_factory=list)
    edges: int = 0
    accused: int = 0
    strays: int = 0
    named: int = 0
    others: int = 0
    others_off: int = 0


def straight_views(off_straight_sd_deg: float, scenes: int, seed: int) -> Straight:
    """Courtyards and stairwells in turn, seen as straight as a hand holds: off by ``off_straight_sd_deg``
    either way.
    """
    rng = np.random.default_rng(seed)
    found = Straight()
    for k in range(scenes):
        scene = straight_scene(
            rng, (Looking.UP, Looking.DOWN)[k % 2], float(np.hypot(*rng.normal(0, off_straight_sd_deg, 2)))
        )
        laid = scene.sighted(rng)
        for edge, finding in zip(scene.edges, check(scene.setup, laid).findings, strict=True):
            found.edges += 1
            found.accused += finding.verdict.value == "off"
            if finding.implied is not None and finding.implied_sd:
                z = float(tilt_difference(finding.implied, tilt_deg(edge.p, edge.q))) / finding.implied_sd
                (found.upright_z if edge.family is Family.UPRIGHT else found.level_z).append(z)
        bad = int(rng.integers(len(laid)))
        laid[bad] = turned(laid[bad], float(rng.uniform(6, 12) * rng.choice([-1, 1])))
        verdicts = [f.verdict.value == "off" for f in check(scene.setup, laid).findings]
        found.strays, found.named = found.strays + 1, found.named + verdicts[bad]
        found.others, found.others_off = found.others + len(laid) - 1, found.others_off + sum(verdicts) - verdicts[bad]
    return found
