"""Gabled houses with eaves, verges, a plinth and openings, and posts on the ground before them: forms with more planes
than a box has.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from aspectum.core.check import check
from aspectum.core.sightings import Edge, Family, Height, Kind, Measured, Point, Setup
from tests.scenes import Box, Pinhole

POST_M = 1.7
CORNER_ON = (Family.RIGHT, Family.LEFT, Family.UPRIGHT)
FRONT_ON = (Family.DEPTH, Family.ACROSS, Family.UPRIGHT)
Place = tuple[float, float, float]


@dataclass(frozen=True)
class House:
    """As it is sighted from ``eye_m`` above the ground: ``eye_level_px`` in the middle of the picture."""

    setup: Setup
    edges: list[Edge]
    posts: list[Height]
    eye_level_px: float


def lines(rng: np.random.Generator, eaves: bool) -> list[tuple[str, int, Place, Place]]:
    """Named edges by their axis (3 for rakes), their ends in metres along the house, across it and up; ``eaves``: with
    overhang and plinth.
    """
    long, deep, high = rng.uniform(6, 10), rng.uniform(5, 8), rng.uniform(2.6, 4.5)
    rise = np.tan(np.radians(rng.uniform(30, 48)))
    over, verge, out, step = (
        (rng.uniform(0.25, 0.6), rng.uniform(0.15, 0.4), 0.06, 0.4) if eaves else (0.0, 0.0, 0.0, 0.0)
    )
    low, ridge = high - over * rise, high + rise * deep / 2
    apex = (-verge, deep / 2, ridge)
    found: list[tuple[str, int, Place, Place]] = [
        ("near", 2, (0, 0, step), (0, 0, high)),
        ("right", 2, (long, 0, step), (long, 0, high)),
        ("left", 2, (0, deep, step), (0, deep, high)),
        ("foot right", 0, (-out, -out, 0), (long + out, -out, 0)),
        ("foot left", 1, (-out, -out, 0), (-out, deep + out, 0)),
        ("eaves", 0, (-verge, -over, low), (long + verge, -over, low)),
        ("ridge", 0, apex, (long + verge, deep / 2, ridge)),
        ("rake a", 3, (-verge, -over, low), apex),
        ("rake b", 3, (-verge, deep + over, low), apex),
    ]
    if eaves:
        found += [
            ("plinth right", 0, (-out, -out, step), (long + out, -out, step)),
            ("plinth left", 1, (-out, -out, step), (-out, deep + out, step)),
            ("plinth near", 2, (-out, -out, 0), (-out, -out, step)),
        ]
    for name, wall, a, b, sill, head in (
        ("window", 0, 0.15 * long, 0.35 * long, 1.0, 2.1),
        ("further window", 0, 0.6 * long, 0.8 * long, 1.0, 2.1),
        ("door", 1, 0.35 * deep, 0.6 * deep, step, 2.2),
    ):
        on = [(t, 0.0, u) if wall == 0 else (0.0, t, u) for t, u in ((a, sill), (b, sill), (b, head), (a, head))]
        found += [(f"{name} {k}", wall if k % 2 == 0 else 2, on[k], on[(k + 1) % 4]) for k in range(4)]
    return found


def house(rng: np.random.Generator, families: tuple[Family, Family, Family] = CORNER_ON, eaves: bool = True) -> House:
    """A house seen whole, two walls turned to the eye, with two posts of 1.70 m; every point 1.5 px off."""
    front = families is FRONT_ON
    while True:
        camera = Pinhole(640 / np.tan(np.radians(rng.uniform(45, 65) / 2)), rng.uniform(-3, 5), rng.normal(0, 0.5))
        eye = rng.uniform(1.45, 1.75)
        far = rng.uniform(7, 13) if front else rng.uniform(9, 16)
        corner = (rng.uniform(-3, -0.8) if front else rng.uniform(-2, 2), far, -eye)
        box = Box(corner, rng.normal(0, 0.2) if front else rng.uniform(25, 65), (1, 1, 1))
        drawn = [(name, axis, np.array([box.at(*p), box.at(*q)])) for name, axis, p, q in lines(rng, eaves)]
        feet = [np.array([rng.uniform(-4, 4), rng.uniform(6, far), -eye]) for _ in range(2)]
        posts = [np.array([foot, foot + np.array([0, 0, POST_M])]) for foot in feet]
        places = np.concatenate([ends for *_, ends in drawn] + posts)
        if places[:, 1].min() < 2 or max(-box.axes()[k] @ box.at(0, 0, 0) for k in (0, 1)) > -0.5:
            continue
        seen = camera.project(places)
        if seen.min() < 15 or seen[:, 0].max() > 1265 or seen[:, 1].max() > 945:
            continue

        def lay(
            ends: np.ndarray[tuple[int, ...], np.dtype[np.float64]], camera: Pinhole = camera
        ) -> tuple[Point, Point]:
            (px, py), (qx, qy) = (camera.project(ends) + rng.normal(0, 1.5, (2, 2))).tolist()
            return (px, py), (qx, qy)

        edges = []
        for name, axis, ends in drawn:
            p, q = lay(ends)
            if np.hypot(p[0] - q[0], p[1] - q[1]) < 25:
                continue
            if axis == 3:
                edges.append(Edge(name, "house", Family.SLOPE, p, q, slope=name[-1], plan=families[1]))
            else:
                edges.append(Edge(name, "house", families[axis], p, q))
        heights = [Height(f"post {k}", *lay(ends)) for k, ends in enumerate(posts)]
        return House(Setup(1280, 960, eye_height_m=eye), edges, heights, camera.eye_level_at(640))


@dataclass
class Measures:
    """Of posts of 1.70 m before houses: errors (m), each in its own deviations, and those of eye level."""

    errors: list[float] = field(default_factory=list)
    z: list[float] = field(default_factory=list)
    level_z: list[float] = field(default_factory=list)

    def held(self) -> float:
        return float(np.mean(np.abs(self.z) < 1.96))

    def gross(self) -> float:
        return float(np.mean(np.abs(self.z) > 4.0))


def posts_before_houses(
    seed: int, draws: int, families: tuple[Family, Family, Family] = CORNER_ON, eaves: bool = True
) -> Measures:
    rng, found = np.random.default_rng(seed), Measures()
    for _ in range(draws):
        scene = house(rng, families, eaves)
        result = check(scene.setup, scene.edges, measured=Measured(heights=scene.posts))
        level, sd = result.eye_level.height_at(640, 1280), result.eye_level.sd_px
        if level is not None and sd is not None:
            found.level_z.append((level - scene.eye_level_px) / sd)
        for f in result.findings:
            if f.kind is Kind.HEIGHT and f.sighted is not None and f.sighted_sd is not None:
                found.errors.append(f.sighted - POST_M)
                found.z.append(found.errors[-1] / f.sighted_sd)
    return found
