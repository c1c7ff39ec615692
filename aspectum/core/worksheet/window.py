"""The field of an exercise as a window that the stand's eye looks through."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.plane.lines import Floats
from aspectum.core.plane.projection import focal_35mm_of
from aspectum.core.sightings import Perspective, Plane, Point, Rim
from aspectum.core.stand.camera import View
from aspectum.core.stand.drawing import draw
from aspectum.core.stand.drawn import Drawing, DrawnRim
from aspectum.core.stand.kinds import Parallel
from aspectum.core.stand.things import AnyThing, Stand
from aspectum.core.worksheet.exercise import Exercise, ExerciseForm, ExerciseKind, Grade, Laying, Role

PX_PER_MM = 10.0  # of the picture behind the field, whose whole pixels then cost nothing
EYE_M = 1.6  # of one standing who looks straight ahead
RIM_POINTS = 16  # that a rim of the truth is laid by
ARC_STEP = 1 / 120  # of a turn, between the points of a printed arc


@dataclass(frozen=True)
class Window:
    """A level view whose centre of vision falls on ``centre`` (mm) of a field of ``size`` and whose picture lies
    ``focal`` mm before the eye.
    """

    size: tuple[float, float]
    centre: Point
    focal: float
    eye_m: float = EYE_M

    @cached_property
    def view(self) -> View:
        # the stand's centre of vision is its picture's middle: the picture reaches as far on every side as the field
        # does on its farthest
        wide = 2.0 * max(self.centre[0], self.size[0] - self.centre[0])
        high = 2.0 * max(self.centre[1], self.size[1] - self.centre[1])
        width, height = round(wide * PX_PER_MM), round(high * PX_PER_MM)
        return View(
            eye_m=(0.0, 0.0, self.eye_m),
            focal_35mm=focal_35mm_of(self.focal * PX_PER_MM, max(width, height)),
            width_px=width,
            height_px=height,
        )

    def draw(self, *things: AnyThing) -> Drawing:
        return draw(Stand(things), self.view)

    def at(self, px: Point) -> Point:
        """A place of the stand's picture in the field."""
        x, y = self.view.centre_px
        return (px[0] - x) / PX_PER_MM + self.centre[0], (px[1] - y) / PX_PER_MM + self.centre[1]

    def seen(self, room: Floats) -> list[Point]:
        """Places (n, 3) of the room, metres with the eye above the origin, in the field."""
        return [self.at((float(x), float(y))) for x, y in self.view.project(room)]

    def inside(self, points: list[Point], margin: float = 0.0) -> bool:
        """Whether all lie in the field, ``margin`` mm from its edges."""
        return all(margin <= x <= self.size[0] - margin and margin <= y <= self.size[1] - margin for x, y in points)


@dataclass(frozen=True)
class ParallelWindow:
    """A parallel view ``mm_per_m`` large, the room's origin at ``origin`` (mm) of the field."""

    origin: Point
    mm_per_m: float
    parallel: Parallel
    heading_deg: float = 0.0

    def seen(self, room: Floats) -> list[Point]:
        """Places (n, 3) of the room (m) in the field."""
        view = View(eye_m=(0.0, 0.0, 0.0), heading_deg=self.heading_deg, parallel=self.parallel, px_per_m=self.mm_per_m)
        off = view.project(room) - np.array(view.centre_px) + np.array(self.origin)
        return [(float(x), float(y)) for x, y in off]


def level_exercise(
    kind: ExerciseKind,
    grade: Grade,
    laying: Laying,
    window: Window,
    forms: tuple[ExerciseForm, ...],
    vanishing_points: tuple[Point, ...] = (),
) -> Exercise:
    """What was laid, seen level through ``window``."""
    return laying.exercise(
        kind,
        grade,
        window.size,
        forms,
        perspective=Perspective.TWO_POINT,
        eye_level=(window.centre[1], window.centre[1]),
        centre=window.centre,
        focal=window.focal,
        vanishing_points=vanishing_points,
    )


def ellipse_in(window: Window, rim: DrawnRim) -> Ellipse:
    """A drawn rim's ellipse in the field."""
    e = rim.ellipse
    return Ellipse(window.at(e.centre_px), e.major_px / PX_PER_MM, e.minor_px / PX_PER_MM, e.axis_deg, e.degree_deg)


def arcs(laying: Laying, window: Window, rim: DrawnRim) -> None:
    """Print what shows of a rim."""
    for a, b in rim.visible:
        steps = max(2, math.ceil((b - a) / ARC_STEP))
        laying.stroke(Role.GIVEN, *(window.at(rim.at(float(turn))) for turn in np.linspace(a, b, steps + 1)))


def rim_of(ellipse: Ellipse, form: str, plane: Plane) -> Rim:
    """A rim laid on an exact ellipse: by points all round it, the ends of its major axis, and the lower end of its
    minor axis.
    """
    points = [on_ellipse(ellipse, k / RIM_POINTS) for k in range(RIM_POINTS)]
    low = max((on_ellipse(ellipse, 0.25), on_ellipse(ellipse, 0.75)), key=lambda p: p[1])
    return Rim("", form, plane, tuple(points), (on_ellipse(ellipse, 0.5), on_ellipse(ellipse, 0.0)), low)


def on_ellipse(ellipse: Ellipse, turn: float) -> Point:
    """The point at a part of its turn, from the right end of the major axis, anticlockwise as seen."""
    t, tilt = 2 * math.pi * turn, math.radians(ellipse.axis_deg - 90.0)
    u, v = ellipse.major_px / 2 * math.cos(t), ellipse.minor_px / 2 * math.sin(t)
    c, s = math.cos(tilt), math.sin(tilt)
    return ellipse.centre_px[0] + u * c - v * s, ellipse.centre_px[1] - u * s - v * c


def share(p: Point, q: Point, part: float) -> Point:
    """The point at a part of the way from ``p`` to ``q``."""
    return p[0] + part * (q[0] - p[0]), p[1] + part * (q[1] - p[1])
