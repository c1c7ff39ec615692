"""A printed worksheet (``*.worksheet.json``): what stands on it, what is asked, and the truth that a photo of it is
judged by.

Places are millimetres on the sheet from its top left corner; those of ``subject`` are pixels of the sheet flattened.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StrictBool

from aspectum.core.worksheet.exercise import ExerciseKind, Grade, Role, Said
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import Id, Millimetres, Name, Number, Part, Point

MOST_MARKS = 2000
MOST_ASKED = 200
Code = Annotated[int, Field(ge=1)]


class EllipsePart(Part):
    """An ellipse: its full axes, and the tilt of the minor one."""

    centre: Point
    major: Number = Field(gt=0)
    minor: Number = Field(ge=0)
    axis_deg: Number


class StrokeMark(Part):
    mark: Literal["stroke"] = "stroke"
    points: list[Point] = Field(min_length=2, max_length=500)
    role: Role


class RoundMark(Part):
    mark: Literal["round"] = "round"
    ellipse: EllipsePart
    role: Role


class CrossMark(Part):
    mark: Literal["cross"] = "cross"
    at: Point
    role: Role


class TagMark(Part):
    """A letter, a number with what it counts, or a word."""

    mark: Literal["tag"] = "tag"
    at: Point
    letter: str = Field(default="", max_length=4)
    number: Number | None = None
    said: Said | None = None
    middle: StrictBool = False
    role: Role = Role.CONSTRUCTION


PrintedMark = Annotated[StrokeMark | RoundMark | CrossMark | TagMark, Field(discriminator="mark")]


class AskedLine(Part):
    """The pencil line that answers for a sighting of the subject: see ``core.worksheet.exercise.Asked``."""

    id: Id
    line: tuple[Point, Point] | None = None
    ellipse: EllipsePart | None = None
    measured: StrictBool = False
    ends: Id | None = None


class Worksheet(Part):
    """One printed page. ``code``: the number in its corner marks; ``picture_box``: where a photo is printed (left, top,
    width, height); ``photo``: the picture's own file name.
    """

    format: Literal["aspectum-worksheet"] = "aspectum-worksheet"
    version: Literal[1] = 1
    code: Code
    kind: ExerciseKind
    grade: Grade
    seed: int = Field(ge=0)
    copy_number: int = Field(ge=1)
    paper: Name
    paper_mm: tuple[Millimetres, Millimetres]
    name: Name = ""
    class_line: Name = ""
    printed: list[PrintedMark] = Field(max_length=MOST_MARKS)
    asked: list[AskedLine] = Field(max_length=MOST_ASKED)
    vanishing_points: list[Point] = Field(default_factory=list, max_length=20)
    eye_level_mm: tuple[Number, Number] | None = None
    picture_box: tuple[Number, Number, Number, Number] | None = None
    photo: Name | None = None
    subject: SightingSheet
