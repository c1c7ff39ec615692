"""Simulated scenes with known truth, built without the code under test."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from aspectum.core.sightings import Edge, Family, Setup

Vec = NDArray[np.float64]


@dataclass(frozen=True)
class Pinhole:
    """A camera at the origin, heading along +y with z up; angles in degrees."""

    focal_px: float
    pitch_deg: float
    roll_deg: float
    width_px: int = 1280
    height_px: int = 960

    def matrix(self) -> Vec:
        """The 3x3 matrix that takes a direction in space to a homogeneous picture point."""
        t, r = np.radians([self.pitch_deg, self.roll_deg])
        to_camera = np.array([[1, 0, 0], [0, np.sin(t), -np.cos(t)], [0, np.cos(t), np.sin(t)]])
        roll = np.array([[np.cos(r), np.sin(r), 0], [-np.sin(r), np.cos(r), 0], [0, 0, 1]])
        inner = np.array([[self.focal_px, 0, self.width_px / 2], [0, self.focal_px, self.height_px / 2], [0, 0, 1]])
        return np.asarray(inner @ roll @ to_camera)

    def project(self, points: Vec) -> Vec:
        image = points @ self.matrix().T
        return np.asarray(image[:, :2] / image[:, 2:])

    def eye_level_at(self, x: float) -> float:
        line = np.linalg.inv(self.matrix()).T @ np.array([0.0, 0.0, 1.0])
        return float(-(line[0] * x + line[2]) / line[1])

    def vanishing_point(self, direction: Vec) -> Vec:
        image = self.matrix() @ direction
        return np.asarray(image[:2] / image[2])


@dataclass(frozen=True)
class Box:
    """``bearing_deg``: compass bearing of the right family; ``size``: right, left, up."""

    corner: tuple[float, float, float]
    bearing_deg: float
    size: tuple[float, float, float]

    def axes(self) -> Vec:
        b = np.radians(self.bearing_deg)
        return np.array([[np.sin(b), np.cos(b), 0], [-np.cos(b), np.sin(b), 0], [0, 0, 1]])

    def at(self, u: float, v: float, w: float) -> Vec:
        return np.array(self.corner) + np.array([u * self.size[0], v * self.size[1], w * self.size[2]]) @ self.axes()


FAMILIES = (Family.RIGHT, Family.LEFT, Family.UPRIGHT)


def seen_edges(box: Box) -> list[tuple[Family, Vec, Vec]]:
    """The edges of the faces turned to the eye, each with its two ends in space."""
    edges = []
    for axis in range(3):
        others = [k for k in range(3) if k != axis]
        for s in (0, 1):
            for t in (0, 1):
                start, stop = np.zeros(3), np.zeros(3)
                start[others], stop[others] = (s, t), (s, t)
                stop[axis] = 1
                facing = False
                for k, side in zip(others, (s, t), strict=True):
                    normal = box.axes()[k] * (1 if side else -1)
                    point = box.at(*start)
                    facing = facing or float(normal @ point) < 0
                if facing:
                    edges.append((FAMILIES[axis], box.at(*start), box.at(*stop)))
    return edges


@dataclass(frozen=True)
class Scene:
    camera: Pinhole
    boxes: list[Box]
    edges: list[Edge]  # without point error
    setup: Setup

    def sighted(self, rng: np.random.Generator, sd_px: float = 1.5) -> list[Edge]:
        """The edges as a hand lays them."""
        laid = np.array([(e.p, e.q) for e in self.edges]) + rng.normal(0, sd_px, (len(self.edges), 2, 2))
        return [
            Edge(e.id, e.form, e.family, (p[0], p[1]), (q[0], q[1]))
            for e, (p, q) in zip(self.edges, laid.tolist(), strict=True)
        ]

    @property
    def eye_level_px(self) -> float:
        return self.camera.eye_level_at(self.camera.width_px / 2)


def random_scene(
    rng: np.random.Generator,
    pitch_deg: tuple[float, float],
    boxes: int | None = None,
    shortest_px: float = 45.0,
    sides: tuple[float, float] = (0.5, 1.6),
) -> Scene:
    """One to three boxes of the given ``sides`` well inside a 1280x960 picture, view 30-72 degrees, roll about 0.5."""
    while True:
        view = rng.uniform(30.0, 72.0)
        focal = 640.0 / np.tan(np.radians(view / 2))
        pitch = rng.uniform(*pitch_deg) * rng.choice([-1, 1])
        camera = Pinhole(float(focal), float(pitch), float(rng.normal(0, 0.5)))
        placed: list[Box] = []
        edges: list[Edge] = []
        for number in range(boxes or int(rng.integers(1, 4))):
            for _ in range(60):
                w, d, h = rng.uniform(*sides, 3).tolist()
                reach = rng.uniform(0.9, 2.4) * 2.2 / np.radians(view)
                image = np.array([rng.uniform(250, 1030), rng.uniform(250, 800), 1.0])
                ray = np.linalg.inv(camera.matrix()) @ image
                corner = ray / np.linalg.norm(ray) * reach
                box = Box((float(corner[0]), float(corner[1]), float(corner[2])), float(rng.uniform(12, 78)), (w, d, h))
                corners = np.array([box.at(u, v, w) for u in (0, 1) for v in (0, 1) for w in (0, 1)])
                if (corners @ camera.matrix()[2]).min() < 0.4:
                    continue
                seen = camera.project(corners)
                if seen.min() < 5 or seen[:, 0].max() > 1275 or seen[:, 1].max() > 955:
                    continue
                placed.append(box)
                for family, start, stop in seen_edges(box):
                    p, q = camera.project(np.array([start, stop]))
                    if np.hypot(*(q - p)) >= shortest_px:
                        edges.append(
                            Edge(
                                f"b{number}e{len(edges)}",
                                f"b{number}",
                                family,
                                (float(p[0]), float(p[1])),
                                (float(q[0]), float(q[1])),
                            )
                        )
                break
        if placed and len(edges) >= 7:
            return Scene(camera, placed, edges, Setup(1280, 960))


def turned(edge: Edge, angle_deg: float) -> Edge:
    """The edge turned about its middle, anticlockwise in the picture."""
    p, q = np.array(edge.p), np.array(edge.q)
    middle = (p + q) / 2
    a = np.radians(-angle_deg)
    turn = np.array([[np.cos(a), -np.sin(a)], [np.sin(a), np.cos(a)]])
    p, q = middle + turn @ (p - middle), middle + turn @ (q - middle)
    return replace(edge, p=(float(p[0]), float(p[1])), q=(float(q[0]), float(q[1])))


def crowded_scene(rng: np.random.Generator, count: int, shortest_px: float = 25.0) -> Scene:
    """``count`` edges of many boxes near and far in one level or nearly level view."""
    view = rng.uniform(40.0, 65.0)
    camera = Pinhole(float(640.0 / np.tan(np.radians(view / 2))), float(rng.uniform(-7, 7)), float(rng.normal(0, 0.5)))
    boxes: list[Box] = []
    edges: list[Edge] = []
    while len(edges) < count:
        ray = np.linalg.inv(camera.matrix()) @ np.array([rng.uniform(80, 1200), rng.uniform(80, 900), 1.0])
        x, y, z = (ray / np.linalg.norm(ray) * rng.uniform(1.5, 6.0) * 2.2 / np.radians(view)).tolist()
        w, d, h = rng.uniform(0.5, 1.6, 3).tolist()
        box = Box((x, y, z), float(rng.uniform(12, 78)), (w, d, h))
        corners = np.array([box.at(u, v, t) for u in (0, 1) for v in (0, 1) for t in (0, 1)])
        seen = camera.project(corners)
        if (
            (corners @ camera.matrix()[2]).min() < 0.4
            or seen.min() < 5
            or seen[:, 0].max() > 1275
            or seen[:, 1].max() > 955
        ):
            continue
        for family, start, stop in seen_edges(box):
            p, q = camera.project(np.array([start, stop])).tolist()
            if np.hypot(q[0] - p[0], q[1] - p[1]) >= shortest_px:
                edges.append(Edge(f"b{len(boxes)}e{len(edges)}", f"b{len(boxes)}", family, (p[0], p[1]), (q[0], q[1])))
        boxes.append(box)
    return Scene(camera, boxes, edges[:count], Setup(1280, 960))
