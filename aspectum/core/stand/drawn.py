"""The exact drawing as data: lines, ellipses and curves in the picture, and which parts of them nothing hides."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import Literal

from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.plane.lines import Floats, tilt_deg, wrap_tilt
from aspectum.core.sightings import Plane, Point
from aspectum.core.stand.camera import View
from aspectum.core.stand.families import Way
from aspectum.core.stand.setting import Placed

Parts = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class VanishingPoint:
    """Where a family of a thing meets (px), or the tilt that it keeps."""

    thing: str
    way: Way
    at_px: Point | None
    direction_deg: float | None


@dataclass(frozen=True)
class Line:
    """A straight edge or outline from ``p`` to ``q`` (px); ``visible``: shares of the drawn line that nothing hides.
    ``room`` (2, 3): its ends (m).
    """

    thing: str
    name: str
    p: Point
    q: Point
    visible: Parts
    room: Floats = field(repr=False, compare=False)
    way: Way | None = None

    @property
    def tilt_deg(self) -> float:
        return float(tilt_deg(self.p, self.q))

    @property
    def length_px(self) -> float:
        return math.dist(self.p, self.q)

    def at(self, share: float) -> Point:
        """The point at a share of the drawn line."""
        return self.p[0] + share * (self.q[0] - self.p[0]), self.p[1] + share * (self.q[1] - self.p[1])


@dataclass(frozen=True)
class DrawnRim:
    """A circle as its exact ellipse; ``visible``: parts of its turn, by the ellipse's eccentric angle, from the right
    end of the major axis, anticlockwise as seen. ``middle_px``: image of the circle's own centre, which is not the
    ellipse's. ``plane``: None where its axis runs along no family. ``room`` (3, 3): the circle's centre (m) and two
    radii square to each other.
    """

    thing: str
    name: str
    plane: Plane | None
    ellipse: Ellipse
    middle_px: Point
    visible: Parts
    room: Floats = field(repr=False, compare=False)

    @property
    def major_tilt_deg(self) -> float:
        return float(wrap_tilt(self.ellipse.axis_deg + 90.0))

    def at(self, turn: float) -> Point:
        """The point at a part of its turn, 0 to 1."""
        t, tilt = 2 * math.pi * turn, math.radians(self.major_tilt_deg)
        u, v = self.ellipse.major_px / 2 * math.cos(t), self.ellipse.minor_px / 2 * math.sin(t)
        (x, y), c, s = self.ellipse.centre_px, math.cos(tilt), math.sin(tilt)
        return x + u * c - v * s, y - u * s - v * c


@dataclass(frozen=True)
class Curve:
    """A line that is no conic, through ``points`` (px), (k, 3) in the ``room`` (m); ``visible``: shares of its drawn
    length that nothing hides.
    """

    thing: str
    name: str
    points: tuple[Point, ...]
    visible: Parts
    room: Floats = field(repr=False, compare=False)


@dataclass(frozen=True)
class Seen:
    """What the eye sees of a thing: its top, its underside or neither, and which of its named faces are
    turned to it.
    """

    thing: str
    shows: Literal["top", "underside", "neither"]
    faces: tuple[str, ...]


@dataclass(frozen=True)
class Drawing:
    """Everything of a set-up in one view, pixels of its picture."""

    view: View
    vanishing_points: tuple[VanishingPoint, ...]
    edges: tuple[Line, ...]
    rims: tuple[DrawnRim, ...]
    outlines: tuple[Line, ...]
    curves: tuple[Curve, ...]
    seen: tuple[Seen, ...]
    placed: tuple[Placed, ...] = field(repr=False)
    shadows: tuple[Curve, ...] = ()
