"""Simulated round things with known truth, built without the code under test."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from aspectum.core.sightings import Plane, Rim, Setup
from tests.scenes import Box, Pinhole, Scene, Vec, random_scene


@dataclass(frozen=True)
class Circle:
    """A circle in space; the camera stands at the origin with z up."""

    id: str
    form: str
    plane: Plane
    centre: Vec
    axis: Vec
    radius: float

    def basis(self) -> tuple[Vec, Vec]:
        """Unit vectors in the plane: to the viewer's side, and square to it."""
        towards = -self.centre + (self.centre @ self.axis) * self.axis
        towards = towards / np.linalg.norm(towards)
        return towards, np.cross(self.axis, towards)

    def at(self, turn: Vec) -> Vec:
        """Points (n, 3) at turns (radians) from the point nearest to the eye."""
        towards, aside = self.basis()
        return self.centre + self.radius * (np.cos(turn)[:, None] * towards + np.sin(turn)[:, None] * aside)

    def ellipse(self, camera: Pinhole) -> tuple[Vec, float, float, float, float]:
        """Centre, half axes (px), degree and tilt of the minor axis of the exact image: the conic
        through densely projected points, by its own least squares.
        """
        image = camera.project(self.at(np.linspace(0, 2 * np.pi, 90, endpoint=False)))
        middle, size = image.mean(axis=0), float(image.std())
        x, y = ((image - middle) / size).T
        a, b, c, d, e = np.linalg.lstsq(np.stack([x * x, x * y, y * y, x, y], axis=1), np.ones_like(x), rcond=None)[0]
        centre = np.linalg.solve([[2 * a, b], [b, 2 * c]], [-d, -e])
        level = 1 + a * centre[0] ** 2 + b * centre[0] * centre[1] + c * centre[1] ** 2
        values, vectors = np.linalg.eigh(np.array([[a, b / 2], [b / 2, c]]) / level)
        major, minor = values**-0.5 * size
        way = vectors[:, 1]
        tilt = 90 - (90 - np.degrees(np.arctan2(-way[1], way[0]))) % 180
        return (
            centre * size + middle,
            float(major),
            float(minor),
            float(np.degrees(np.arcsin(minor / major))),
            float(tilt),
        )


def level_circle(id: str, form: str, centre: tuple[float, float, float], radius: float) -> Circle:
    return Circle(id, form, Plane.LEVEL, np.array(centre), np.array([0.0, 0.0, 1.0]), radius)


@dataclass(frozen=True)
class RoundScene:
    camera: Pinhole
    circles: list[Circle]
    rims: list[Rim]  # without point error
    setup: Setup

    def sighted(self, rng: np.random.Generator, sd_px: float = 1.0) -> list[Rim]:
        """The rims as a hand lays them."""
        laid = []
        for rim in self.rims:
            moved = np.array(rim.points) + rng.normal(0, sd_px, (len(rim.points), 2))
            laid.append(replace(rim, points=tuple((float(x), float(y)) for x, y in moved)))
        return laid


def arc_of(circle: Circle, camera: Pinhole, rng: np.random.Generator) -> Rim:
    """8 to 13 points on 120 to 220 degrees of the rim about its nearest point."""
    turn = np.radians(rng.uniform(120, 220)) * np.linspace(-0.5, 0.5, int(rng.integers(8, 14))) + rng.normal(0, 0.2)
    return Rim(
        circle.id, circle.form, circle.plane, tuple((float(x), float(y)) for x, y in camera.project(circle.at(turn)))
    )


def flat_arc(rng: np.random.Generator) -> tuple[Rim, Circle, Pinhole]:
    """A level rim of which a hand lays 90 to 170 degrees by 7 to 11 points."""
    camera, circle = _a_circle(rng, np.array([0.0, 0.0, 1.0]), 0.0, 90.0)
    turn = np.radians(rng.uniform(90, 170)) * np.linspace(-0.5, 0.5, int(rng.integers(7, 12))) + rng.normal(0, 0.3)
    return Rim("r", "f", Plane.LEVEL, _moved(circle, camera, turn, rng, 1.5)), circle, camera


def round_end(rng: np.random.Generator) -> tuple[Rim, Circle, Pinhole]:
    """An end of a lying drum, seen at 70 to 78 degrees, of which 40 to 60 % of the turn is laid."""
    camera, circle = _a_circle(rng, None, 70.0, 78.0)
    turn = np.radians(rng.uniform(144, 216)) * np.linspace(-0.5, 0.5, int(rng.integers(7, 12))) + rng.uniform(
        0, 2 * np.pi
    )
    return Rim("r", "f", Plane.RIGHT, _moved(circle, camera, turn, rng, 1.0)), circle, camera


def _moved(
    circle: Circle, camera: Pinhole, turn: Vec, rng: np.random.Generator, sd_px: float
) -> tuple[tuple[float, float], ...]:
    laid = camera.project(circle.at(turn)) + rng.normal(0, sd_px, (len(turn), 2))
    return tuple((float(x), float(y)) for x, y in laid)


def _a_circle(rng: np.random.Generator, axis: Vec | None, least_deg: float, most_deg: float) -> tuple[Pinhole, Circle]:
    """A circle about ``axis`` well inside the picture of a camera held within 12 degrees of level, seen at a degree
    between the two; half-width 35 to 200 px. Without an axis it lies, turned 12 to 20 degrees from the line of sight.
    """
    while True:
        camera = Pinhole(
            float(640 / np.tan(np.radians(rng.uniform(35, 70) / 2))),
            float(rng.uniform(-12, 12)),
            float(rng.normal(0, 0.5)),
        )
        ray = np.linalg.inv(camera.matrix()) @ np.array([rng.uniform(150, 1130), rng.uniform(100, 860), 1.0])
        centre = ray / np.linalg.norm(ray) * rng.uniform(1, 4)
        heading = np.arctan2(centre[0], centre[1]) + np.radians(rng.uniform(12, 20)) * rng.choice([-1, 1])
        along = np.array([np.sin(heading), np.cos(heading), 0.0]) if axis is None else axis
        circle = Circle(
            "r",
            "f",
            Plane.LEVEL,
            centre,
            along,
            float(rng.uniform(35, 200) / camera.focal_px * (centre @ camera.matrix()[2])),
        )
        image = camera.project(circle.at(np.linspace(0, 2 * np.pi, 36)))
        if image.min() < 5 or image[:, 0].max() > 1275 or image[:, 1].max() > 955:
            continue
        _, _, minor, degree, _ = circle.ellipse(camera)
        if minor >= 3 and least_deg <= degree <= most_deg:
            return camera, circle


def quay_scene(rng: np.random.Generator) -> tuple[Scene, list[Circle], list[Rim]]:
    """One or two boxes with a wheel on a wall of some, one or two lying drums with both ends, one to three level rims:
    half-width 35 to 200 px, 100 to 330 degrees of each laid at 8 to 13 points.
    """
    while True:
        scene = random_scene(rng, (0.0, 12.0), boxes=int(rng.integers(1, 3)))
        circles = [
            wheel
            for n, box in enumerate(scene.boxes)
            if (wheel := wall_wheel(rng, f"b{n}", box)) is not None and fits(wheel, scene.camera)
        ]
        standing = len(circles)
        for n in range(int(rng.integers(1, 3))):
            near = somewhere(rng, scene.camera, f"d{n}-near", f"d{n}")
            heading = rng.uniform(-np.pi / 2, np.pi / 2)
            # a family is named by the side that it recedes to
            near = replace(
                near,
                plane=Plane.RIGHT if heading > 0 else Plane.LEFT,
                axis=np.array([np.sin(heading), np.cos(heading), 0.0]),
            )
            far = replace(near, id=f"d{n}-far", centre=near.centre + near.axis * near.radius * rng.uniform(1.2, 3.0))
            if fits(near, scene.camera) and fits(far, scene.camera):
                circles += [near, far]
        lying = len(circles) - standing
        level = [somewhere(rng, scene.camera, f"r{n}", f"f{n}") for n in range(int(rng.integers(1, 4)))]
        circles += [circle for circle in level if fits(circle, scene.camera)]
        if lying:
            # of what stands upright the near arc shows, of an end any
            return (
                scene,
                circles,
                [
                    (arc_of if circle.plane is Plane.LEVEL else wide_arc_of)(circle, scene.camera, rng)
                    for circle in circles
                ],
            )


def wall_wheel(rng: np.random.Generator, form: str, box: Box) -> Circle | None:
    """On one of the two walls of the box that are turned to the eye; None where the eye looks along it."""
    right, left, _ = box.axes()
    plane, axis, wide = (Plane.LEFT, left, box.size[0]) if rng.random() < 0.5 else (Plane.RIGHT, right, box.size[1])
    low, share = rng.uniform(0.35, 0.65, 2)
    sides = [box.at(share, v, low) if plane is Plane.LEFT else box.at(v, share, low) for v in (0.0, 1.0)]
    for centre, outward in zip(sides, (-axis, axis), strict=True):
        if float(outward @ centre) / np.linalg.norm(centre) < -0.15:
            return Circle(
                f"{form}-wheel", form, plane, centre, axis, float(rng.uniform(0.2, 0.34) * min(wide, box.size[2]))
            )
    return None


def somewhere(rng: np.random.Generator, camera: Pinhole, id: str, form: str) -> Circle:
    ray = np.linalg.inv(camera.matrix()) @ np.array([rng.uniform(200, 1080), rng.uniform(120, 840), 1.0])
    centre = ray / np.linalg.norm(ray) * rng.uniform(1.0, 4.0)
    radius = float(rng.uniform(35, 200) / camera.focal_px * float(centre @ camera.matrix()[2]))
    return level_circle(id, form, (float(centre[0]), float(centre[1]), float(centre[2])), radius)


def fits(circle: Circle, camera: Pinhole) -> bool:
    """Whether the whole circle is in the picture, neither tiny nor all but edge-on."""
    points = circle.at(np.linspace(0, 2 * np.pi, 36))
    if (points @ camera.matrix()[2]).min() < 0.2:
        return False
    image = camera.project(points)
    _, major, minor, _, _ = circle.ellipse(camera)
    return bool(
        35 <= major <= 200 and minor >= 3 and image.min() > 5 and image[:, 0].max() < 1275 and image[:, 1].max() < 955
    )


def wide_arc_of(circle: Circle, camera: Pinhole, rng: np.random.Generator) -> Rim:
    turn = np.radians(rng.uniform(100, 330)) * np.linspace(-0.5, 0.5, int(rng.integers(8, 14))) + rng.uniform(
        0, 2 * np.pi
    )
    return Rim(
        circle.id, circle.form, circle.plane, tuple((float(x), float(y)) for x, y in camera.project(circle.at(turn)))
    )


def round_scene(
    rng: np.random.Generator, pitch_deg: tuple[float, float] = (0.0, 20.0), count: int | None = None
) -> RoundScene:
    """Three to six level rims well inside a 1280x960 picture, half-width 35 to 200 px."""
    while True:
        view = rng.uniform(35.0, 70.0)
        camera = Pinhole(
            float(640 / np.tan(np.radians(view / 2))),
            float(rng.uniform(*pitch_deg) * rng.choice([-1, 1])),
            float(rng.normal(0, 0.5)),
        )
        circles: list[Circle] = []
        wanted = count or int(rng.integers(3, 7))
        for _ in range(300):
            if len(circles) == wanted:
                break
            circle = somewhere(rng, camera, f"r{len(circles)}", f"f{len(circles)}")
            if fits(circle, camera):
                circles.append(circle)
        if len(circles) == wanted:
            return RoundScene(
                camera, circles, [arc_of(c, camera, rng) for c in circles], Setup(1280, 960, point_sd_px=1.0)
            )
