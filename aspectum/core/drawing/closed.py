"""The subject as a *closed* drawing that few things can move: eye level, vanishing points, lean, and how wide, tall and
deep it is.

Every corner of a form is drawn from its near upright: at a place (r, l, u) along right, left and up it falls at m + r R
+ l L + u U, where m is the foot of the near upright and R, L and U are the form's vanishing points as homogeneous
points with a weight each. That is the picture of a box whatever the three points are: lines that ran together still do,
so that a back corner stays where two lines meet. What a draughtsman gets wrong moves the points: the near upright
stays, and each weight is chosen so that the far uprights keep their places across. (A projective frame; Hartley &
Zisserman, Multiple View Geometry, 2nd ed., ch. 2.)

Lengths are pixels of the subject's picture, counted from m, in axes turned so that eye level runs level.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from aspectum.core.form.corners import UP
from aspectum.core.plane.ellipses import degree_and_axis
from aspectum.core.plane.lines import Flags, Floats, Ints
from aspectum.core.sightings import Family, Point
from aspectum.core.view.circles import ellipse_of

BEHIND = 0.05  # share of the near upright's distance: no corner of a drawing comes nearer to the eye than that
NEARLY_AT = 0.95  # of the way to a vanishing point, beyond which no far upright stands


class Move(StrEnum):
    """What can be wrong with a closed drawing as a whole."""

    EYE_LEVEL = "eye-level"
    VANISHING_POINT = "vanishing-point"
    LEAN = "lean"
    STRETCH = "stretch"
    SIZE = "size"
    DEPTH = "depth"


class Way(StrEnum):
    """Which way a form alone is stretched."""

    ACROSS = "across"
    UP = "up"


@dataclass(frozen=True)
class Knob:
    """One thing that moves the drawing, and whose. In units of its own:

    ``EYE_LEVEL``: near uprights by which eye level stands too high. ``VANISHING_POINT``: by how much nearer
    ``family``'s point is: the near upright over its distance, more; of a depth family, near uprights by which it stands
    nearer. ``LEAN``: radians to the right. ``STRETCH``: log of how much too wide everything is, or ``form`` alone,
    across or up. ``SIZE``: log of how much too large ``form`` is. ``DEPTH``: log of how much too far the side along
    ``family`` runs.
    """

    move: Move
    form: str | None = None
    family: Family | None = None
    way: Way = Way.ACROSS


@dataclass(frozen=True)
class Part:
    """Corners of one form that hang together. ``ends``: places among all points, ``at`` (n, 3): along right, left and
    up from the near upright's foot, in its distances; ``frame`` (3, 3): the homogeneous points that those run to;
    ``level`` how far below the middle eye level lies; ``run``: how far the form goes along right and left; ``kept``:
    for which of the two the far uprights keep their places.
    """

    form: str
    ends: Ints
    at: Floats
    middle: Floats
    frame: Floats
    level: float
    run: tuple[float, float]
    kept: tuple[bool, bool]
    families: tuple[Family, Family]
    pitched: bool


@dataclass(frozen=True)
class Ring:
    """One rim's circle: ``centre`` (2,) where its centre is drawn, ``spans`` (2, 3) the homogeneous images of two
    radii, ``axes`` which of its ``part``'s axes those run along.
    """

    id: str
    form: str
    centre: Floats
    spans: Floats
    axes: tuple[int | None, int | None]
    part: int | None


@dataclass(frozen=True)
class Drawn:
    """A closed drawing. ``points`` (P, 2): px; ``rims`` (R, 3): half major axis (px), degree and tilt of the minor axis
    (degrees).
    """

    points: Floats
    rims: Floats


@dataclass(frozen=True)
class Closed:
    """The subject, ready to be drawn wrongly. ``unit_px``: its near upright; ``places``: of the ends of its sightings
    among the points, and ``unit`` those of the near upright; ``form_of`` (P,): each point's form, by number, or -1.
    """

    unit_px: float
    turn: Floats
    parts: list[Part]
    rings: list[Ring]
    points: Floats
    forms: list[str]
    form_of: Ints
    centres: Floats
    places: dict[tuple[str, int], int]
    cut: frozenset[tuple[str, int]]
    unit: tuple[int, int] | None
    uprights: Flags
    fixed: Flags

    def knobs(self) -> list[Knob]:
        """Everything that could be wrong with it as a whole."""
        found: list[Knob] = []
        several = len(self.forms) > 1
        if any(part.run != (0.0, 0.0) for part in self.parts) or self.rings:
            found.append(Knob(Move.EYE_LEVEL))
        for form in self.forms:
            mine = [p for p in self.parts if p.form == form]
            for axis in (0, 1):
                runs = [p for p in mine if p.run[axis]]
                if not runs:
                    continue
                family = runs[0].families[axis]
                if family is not Family.ACROSS:
                    found.append(Knob(Move.VANISHING_POINT, form, family))
                found.append(Knob(Move.DEPTH, form, family))
            if several:
                found += [Knob(Move.STRETCH, form, way=way) for way in Way]
            # of two forms the one with the near upright is the measure
            if len(self.forms) > 2 or (
                several and (self.unit is None or form != self.forms[self.form_of[self.unit[0]]])
            ):
                found.append(Knob(Move.SIZE, form))
        if self.uprights.any():
            found.append(Knob(Move.LEAN))
        if any(p.pitched for p in self.parts):
            found.append(Knob(Move.VANISHING_POINT, None, Family.UPRIGHT))
        found.append(Knob(Move.STRETCH))
        return found

    def draw(self, knobs: list[Knob], values: Floats) -> Drawn:
        """The drawing with ``knobs`` turned by ``values``."""
        turned = dict(zip(knobs, values.tolist(), strict=True))
        points = self.points.copy()
        eye = -turned.get(Knob(Move.EYE_LEVEL), 0.0) * self.unit_px
        lean = turned.get(Knob(Move.LEAN), 0.0)
        frames = []
        for part in self.parts:
            frame = moved_frame(part, turned, eye, lean, self.unit_px)
            image = part.at @ frame
            depth = np.maximum(1.0 + image[:, 2], BEHIND)
            frames.append(frame)
            points[part.ends] = (image[:, :2] / depth[:, None] + part.middle) @ self.turn
        wide = np.array([stretched(turned, form) for form in self.forms]).reshape(-1, 2)
        own = self.form_of >= 0
        if turned and own.any():
            centre = self.centres[self.form_of[own]]
            points[own] = centre + (points[own] - centre) * wide[self.form_of[own]]
        if lean:
            self._lean_loose(points, lean)
        rims = np.array(
            [self._ring(ring, frames, eye, wide[self.forms.index(ring.form)]) for ring in self.rings]
        ).reshape(-1, 3)
        return Drawn(points, rims)

    def vanishing_point(self, form: str, family: Family, knobs: list[Knob], values: Floats) -> Point | None:
        """Where a family of a form meets in the drawing with ``knobs`` turned by ``values``, px; None where nowhere, or
        not drawn.
        """
        turned = dict(zip(knobs, values.tolist(), strict=True))
        part = next(
            (p for p in self.parts if p.form == form and family in p.families and p.run[p.families.index(family)]), None
        )
        if part is None:
            return None
        eye = -turned.get(Knob(Move.EYE_LEVEL), 0.0) * self.unit_px
        x, y, w = moved_frame(part, turned, eye, turned.get(Knob(Move.LEAN), 0.0), self.unit_px)[
            part.families.index(family)
        ]
        if abs(w) * 1e4 * self.unit_px < math.hypot(x, y):
            return None
        n = self.forms.index(form)
        at = (np.array([x, y]) / w + part.middle) @ self.turn
        at = self.centres[n] + (at - self.centres[n]) * np.array(stretched(turned, form))
        return float(at[0]), float(at[1])

    def _lean_loose(self, points: Floats, lean: float) -> None:
        """Lean the uprights that no part draws, each about its middle."""
        for k in np.flatnonzero(self.uprights & self.fixed).tolist():
            p, q = points[2 * k], points[2 * k + 1]
            middle, half = (p + q) / 2, (q - p) / 2
            turn = np.array([[math.cos(lean), -math.sin(lean)], [math.sin(lean), math.cos(lean)]])
            points[2 * k], points[2 * k + 1] = middle - turn @ half, middle + turn @ half

    def _ring(self, ring: Ring, frames: list[Floats], eye: float, wide: Floats) -> Floats:
        spans = ring.spans.copy()
        if ring.part is not None:
            for k, axis in enumerate(ring.axes):
                if axis is not None:
                    spans[k] = through(frames[ring.part][axis], ring, self.parts[ring.part], spans[k])
        elif eye:
            spans[:, 1] += eye * spans[:, 2]
        spans = np.column_stack([spans[:, :2] @ self.turn, spans[:, 2]]) * [wide[0], wide[1], 1.0]
        seen = ellipse_of(np.zeros(3), spans)
        degree, minor = degree_and_axis(seen)
        return np.array([float(seen[2]), float(degree), float(minor)])


def through(point: Floats, ring: Ring, part: Part, span: Floats) -> Floats:
    """A radius of a ring (3,), counted from its centre, that runs to ``point`` of its part's frame, as long on the
    paper as ``span``.
    """
    run = from_place(point, ring.centre - part.middle)
    return np.asarray(run * (np.hypot(*span[:2]) / max(float(np.hypot(*run[:2])), 1e-12)), float)


def from_place(point: Floats, place: Floats) -> Floats:
    """A homogeneous point (3,) counted from another place (2,)."""
    return np.array([point[0] - place[0] * point[2], point[1] - place[1] * point[2], point[2]])


def stretched(turned: dict[Knob, float], form: str) -> tuple[float, float]:
    """How much wider and taller a form is drawn."""
    size = turned.get(Knob(Move.SIZE, form), 0.0)
    across = turned.get(Knob(Move.STRETCH), 0.0) + turned.get(Knob(Move.STRETCH, form, way=Way.ACROSS), 0.0) + size
    return math.exp(across), math.exp(turned.get(Knob(Move.STRETCH, form, way=Way.UP), 0.0) + size)


def moved_frame(part: Part, turned: dict[Knob, float], eye: float, lean: float, unit: float) -> Floats:
    """The part's frame (3, 3) with its points moved."""
    frame = part.frame.copy()
    for axis in (0, 1):
        family, run = part.families[axis], part.run[axis]
        near = turned.get(Knob(Move.VANISHING_POINT, part.form, family), 0.0)
        deep = math.exp(turned.get(Knob(Move.DEPTH, part.form, family), 0.0))
        if not run:
            frame[axis, 1] += eye * frame[axis, 2]
        elif part.kept[axis]:
            frame[axis] = level_point(frame[axis], part.level + eye, near / unit, deep, run)
        else:
            frame[axis] = depth_point(frame[axis], eye, near * unit, deep, run)
    if lean:
        x, y = frame[UP, :2]
        frame[UP, :2] = x * math.cos(lean) - y * math.sin(lean), x * math.sin(lean) + y * math.cos(lean)
    if part.pitched:
        frame[UP, 2] *= 1.0 + turned.get(Knob(Move.VANISHING_POINT, None, Family.UPRIGHT), 0.0)
    return frame


def level_point(point: Floats, level: float, near: float, deep: float, run: float) -> Floats:
    """A level family's point (3,) brought to ``level`` (px below the near upright's foot) and nearer by ``near``
    (1/px), the far upright at ``run`` keeping its place across, or standing ``deep`` times as far out.
    """
    far = run * point[0] / (1.0 + run * point[2])
    bend = point[2] / point[0] + near * math.copysign(1.0, far)
    far *= deep
    bend = float(np.clip(bend * far, -4.0, NEARLY_AT)) / far
    return np.asarray(np.array([1.0, bend * level, bend]) * (far / (run * (1.0 - far * bend))), float)


def depth_point(point: Floats, eye: float, near: float, deep: float, run: float) -> Floats:
    """A depth family's point (3,) moved along eye level towards the near upright and down by ``eye`` (px), the far face
    as large as it was, or ``deep`` times as far along the line.
    """
    aside = near * (1.0 if point[0] * point[2] > 0 else -1.0)
    moved = np.array([point[0] - aside * point[2], point[1] + eye * point[2], point[2]])
    if deep != 1.0:
        reach = deep * run / (1.0 + run * point[2])
        moved *= reach / max(1.0 - reach * point[2], 1.0 - NEARLY_AT) / run
    return moved
