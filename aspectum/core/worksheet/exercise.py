"""An exercise on a worksheet as data: what is printed, what is asked, and the exact answer.

Millimetres in the field that an exercise is drawn in, x right and y down from its top left corner.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace
from enum import StrEnum
from typing import Any

from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.sightings import Alignment, Division, Edge, Face, Family, FormKind, Length, Perspective, Point, Rim


class ExerciseKind(StrEnum):
    """The usual exercises of the first months (handbook sections 2 to 5)."""

    ONE_POINT = "one-point boxes"
    NEAR_CORNER = "two-point box"
    LOWER_RIM = "lower rims"
    RIM_LADDER = "rim ladder"
    TURNED = "turned cylinder"
    PARTS = "middle, thirds, next bay"
    MIRROR = "mirrored half"
    ISOMETRIC = "wheels in an isometric block"
    LETTERING = "lettering round a cylinder"
    FIGURES = "figures and doors"
    EYE_LEVEL = "eye level"
    TILTS = "tilts"


class Grade(StrEnum):
    """How hard an exercise is: with every vanishing point marked, without, or with forms that turn and close less."""

    EASY = "easy"
    MIDDLE = "middle"
    HARD = "hard"


class Role(StrEnum):
    """What a mark is for. Given lines and answers are thick, the rest is thin; a hidden line is dashed and belongs to
    the answer.
    """

    GIVEN = "given"
    CONSTRUCTION = "construction"
    ANSWER = "answer"
    HIDDEN = "hidden"


class Said(StrEnum):
    """A word that stands beside a mark."""

    EYE_LEVEL = "eye level"
    VANISHING_POINT = "vanishing point"
    DEGREES = "degrees"
    METRES = "metres"


@dataclass(frozen=True)
class Stroke:
    """Straight from point to point."""

    points: tuple[Point, ...]
    role: Role


@dataclass(frozen=True)
class Round:
    """A whole ellipse."""

    ellipse: Ellipse
    role: Role


@dataclass(frozen=True)
class Cross:
    """A place."""

    at: Point
    role: Role


@dataclass(frozen=True)
class Tag:
    """A letter, a number with what it counts, or a word, which begins at a place, or stands on its middle."""

    at: Point
    letter: str = ""
    number: float | None = None
    said: Said | None = None
    middle: bool = False
    role: Role = Role.CONSTRUCTION


Printed = Stroke | Round | Cross | Tag
Sighted = Edge | Rim | Length | Alignment | Face | Division


@dataclass(frozen=True)
class Asked:
    """The pencil line that answers for the sighting ``id``: a straight one, or for a rim an ellipse. ``measured``: the
    sighting is a place on that line, a length from its own first point to it or a part of a wall, so that only the line
    is drawn; ``ends``: it reaches to where another asked line ends.
    """

    id: str
    line: tuple[Point, Point] | None = None
    ellipse: Ellipse | None = None
    measured: bool = False
    ends: str | None = None


@dataclass(frozen=True)
class Pictured:
    """A picture to print in an exercise: where it lies in the field (left, top, width, height; mm)."""

    box: tuple[float, float, float, float]


@dataclass(frozen=True)
class ExerciseForm:
    """What the sightings of one ``id`` belong to."""

    id: str
    kind: FormKind


@dataclass(frozen=True)
class Exercise:
    """``truth``: every sighting as a perfect hand would lay it, given ones and asked; ``asked``: which are to be drawn.
    ``eye_level``: its heights at the field's left and right edge; ``centre`` of vision and ``focal`` (mm) of a
    perspective. ``level_given``, ``points_given``: whether eye level is printed, and of which forms' families the
    vanishing points.
    """

    kind: ExerciseKind
    grade: Grade
    size: tuple[float, float]
    printed: tuple[Printed, ...]
    truth: tuple[Sighted, ...]
    names: dict[str, str]
    asked: tuple[Asked, ...]
    forms: tuple[ExerciseForm, ...]
    perspective: Perspective = Perspective.AUTO
    eye_level: tuple[float, float] | None = None
    centre: Point | None = None
    focal: float | None = None
    vanishing_points: tuple[Point, ...] = ()
    picture: Pictured | None = None
    level_given: bool = False
    points_given: tuple[tuple[str, Family], ...] = ()


@dataclass
class Laying:
    """An exercise while it is laid out: marks, sightings and what is asked, in order."""

    printed: list[Printed] = field(default_factory=list)
    truth: list[Sighted] = field(default_factory=list)
    names: dict[str, str] = field(default_factory=dict)
    asked: list[Asked] = field(default_factory=list)
    level_given: bool = False
    points_given: list[tuple[str, Family]] = field(default_factory=list)

    def stroke(self, role: Role, *points: Point) -> None:
        self.printed.append(Stroke(points, role))

    def give(
        self, name: str, sighting: Sighted, line: tuple[Point, Point] | None = None, role: Role = Role.GIVEN
    ) -> str:
        """A sighting that is printed; ``line``: its stroke, where it has one. Answers its id."""
        id = f"g{len(self.truth) + 1}"
        self.truth.append(replace(sighting, id=id))
        self.names[id] = name
        if line is not None:
            self.stroke(role, *line)
        return id

    def ask(
        self,
        name: str,
        sighting: Sighted,
        line: tuple[Point, Point] | None = None,
        ellipse: Ellipse | None = None,
        measured: bool = False,
        ends: str | None = None,
    ) -> str:
        """A sighting that is to be drawn. Answers its id."""
        id = f"a{len(self.truth) + 1}"
        self.truth.append(replace(sighting, id=id))
        self.names[id] = name
        self.asked.append(Asked(id, line, ellipse, measured, ends))
        if ellipse is not None:
            self.printed += [
                Round(ellipse, Role.ANSWER),
                Tag(beside(ellipse), number=ellipse.degree_deg, said=Said.DEGREES, role=Role.ANSWER),
            ]
        elif line is not None:
            self.stroke(Role.ANSWER, *line)
        return id

    def eye_level(self, size: tuple[float, float], at: float) -> None:
        """Eye level, printed right across the field."""
        self.level_given = True
        self.stroke(Role.CONSTRUCTION, (-11.0, at), (size[0], at))
        # in the margin, where no form stands
        self.printed.append(Tag((-11.0, at - 1.5), said=Said.EYE_LEVEL))

    def exercise(
        self, kind: ExerciseKind, grade: Grade, size: tuple[float, float], forms: tuple[ExerciseForm, ...], **seen: Any
    ) -> Exercise:
        """What was laid, as it is ``seen``: the view's own entries of an ``Exercise``."""
        return Exercise(
            kind,
            grade,
            size,
            tuple(self.printed),
            tuple(self.truth),
            self.names,
            tuple(self.asked),
            forms,
            level_given=self.level_given,
            points_given=tuple(self.points_given),
            **seen,
        )

    def vanishing_point(self, at: Point, *of: tuple[str, Family]) -> None:
        """A vanishing point, printed; ``of``: forms with the family that runs to it."""
        self.points_given += of
        self.printed += [Cross(at, Role.CONSTRUCTION), Tag((at[0] + 2.0, at[1] - 1.5), said=Said.VANISHING_POINT)]


def beside(ellipse: Ellipse) -> Point:
    """A place just right of an ellipse."""
    tilt = math.radians(ellipse.axis_deg - 90.0)
    half = math.hypot(ellipse.major_px / 2 * math.cos(tilt), ellipse.minor_px / 2 * math.sin(tilt))
    return ellipse.centre_px[0] + half + 1.5, ellipse.centre_px[1] + 1.0
