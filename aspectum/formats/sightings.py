"""The sightings of a sheet as the open format has them: laid on a picture, or read from life."""

from __future__ import annotations

import unicodedata
from enum import StrEnum
from typing import Annotated, Any, Literal, Self

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, Strict, StrictBool, model_validator

from aspectum.core.life.readings import Of
from aspectum.core.sightings import (
    AXIS,
    LEAST_POINTS,
    Along,
    End,
    Family,
    FormKind,
    Guide,
    Kind,
    PartAlong,
    Plane,
    Side,
    Tip,
)
from aspectum.language import figure, say

FAR_PX = 1_000_000.0
MOST_REPEATS = 20  # of one reading

FaceFamily = Literal[Family.LEFT, Family.RIGHT, Family.DEPTH, Family.ACROSS, Family.UPRIGHT]
LevelFamily = Literal[Family.LEFT, Family.RIGHT, Family.DEPTH, Family.ACROSS]


def _two_numbers(value: Any) -> Any:
    if (
        not isinstance(value, (list, tuple))
        or len(value) != 2
        or not all(isinstance(v, (int, float)) and not isinstance(v, bool) for v in value)
    ):
        raise ValueError(say("expected two numbers"))
    if not all(abs(v) <= FAR_PX for v in value):  # also refuses NaN and infinities
        raise ValueError(say("expected two numbers within ±{far_px}", far_px=figure(FAR_PX, 0)))
    return tuple(float(v) for v in value)


def number(value: Any) -> Any:
    """Neither "12" nor true stands for a whole number; 12.0 does."""
    if isinstance(value, bool) or not isinstance(value, (int, float)):
        raise ValueError(say("expected a number"))
    return value


def printable(value: Any) -> Any:
    """Text without control characters and whatever XML and UTF-8 cannot carry; breaks become spaces."""
    if not isinstance(value, str) or value.isprintable():
        return value
    return "".join(
        " "
        if c in "\t\n\r\v\f\u2028\u2029"
        else ""
        if unicodedata.category(c) in ("Cc", "Cs") or ord(c) & 0xFFFE == 0xFFFE
        else c
        for c in value
    )


def at_most(length: int) -> BeforeValidator:
    """Text is measured as it was sent, before anything is left out of it."""

    def check(value: Any) -> Any:
        if isinstance(value, str) and len(value) > length:
            raise ValueError(say("String should have at most {length} characters", length=length))
        return value

    return BeforeValidator(check)


Coordinate = Annotated[float, Field(ge=-FAR_PX, le=FAR_PX)]
Point = Annotated[tuple[Coordinate, Coordinate], BeforeValidator(_two_numbers)]
Number = Annotated[float, Strict()]
Pixels = Annotated[int, Field(gt=0, le=100_000), BeforeValidator(number)]
Id = Annotated[str, BeforeValidator(printable), at_most(80), Field(min_length=1, max_length=80)]
Name = Annotated[str, BeforeValidator(printable), at_most(200), Field(max_length=200)]
Millimetres = Annotated[Number, Field(gt=0, le=5000, allow_inf_nan=False)]
Metres = Annotated[Number, Field(gt=0, le=10_000, allow_inf_nan=False)]
Tilt = Annotated[Number, Field(gt=-180, le=180, allow_inf_nan=False)]
ReadTilt = Annotated[Number, Field(gt=-90, lt=90, allow_inf_nan=False)]
RimRatio = Annotated[Number, Field(ge=0, le=1, allow_inf_nan=False)]
Units = Annotated[Number, Field(ge=-100, le=100, allow_inf_nan=False)]


class Part(BaseModel):
    model_config = ConfigDict(defer_build=True, extra="forbid", strict=False, allow_inf_nan=False)


class PictureInfo(Part):
    width_px: Pixels
    height_px: Pixels
    file: Name | None = None
    focal_35mm: Number | None = Field(default=None, gt=1, lt=10_000)
    centre_px: Point | None = None


class GivenEyeLevel(Part):
    left_y_px: Number = Field(ge=-FAR_PX, le=FAR_PX)
    right_y_px: Number = Field(ge=-FAR_PX, le=FAR_PX)


class Form(Part):
    id: Id
    kind: FormKind = FormKind.BOX
    name: Name | None = None


class Instrument(StrEnum):
    """What a tilt was read with at the easel."""

    STICK = "stick"
    GAUGE = "gauge"


class Origin(Part):
    """Where a sighting comes from. What the program found and nobody has accepted is ``proposed``, with how sure it is:
    of those said to be 0.8 about 0.8 are right. It takes no part in the check. ``given``: it stands printed on the
    sheet of paper, so that nobody drew it and nobody is judged by it.
    """

    proposed: StrictBool | None = None
    confidence: Number | None = Field(default=None, ge=0, le=1)
    given: StrictBool | None = None


class EdgeSighting(Origin):
    """An edge laid on the picture (``p``, ``q``), read from life (``tilt_deg`` with its ``end`` at the near upright),
    or both, where a photo came later. ``repeats_deg``: the same tilt read again, averaged with the first;
    ``taken_with``: the stick, or a gauge whose ``held_sd_deg`` is its spread while it was held still. ``hidden``: those
    of its ends that something in front cuts off, which are no corners.
    """

    id: Id
    kind: Literal[Kind.EDGE] = Kind.EDGE
    form: Id | None = None
    family: Family
    slope: Id | None = None
    plan: LevelFamily | None = None
    name: Name | None = None
    p: Point | None = None
    q: Point | None = None
    hidden: list[Tip] | None = Field(default=None, max_length=2)
    tilt_deg: ReadTilt | None = None
    repeats_deg: list[ReadTilt] | None = Field(default=None, max_length=MOST_REPEATS)
    taken_with: Instrument | None = None
    held_sd_deg: Number | None = Field(default=None, ge=0, le=45)
    sd_deg: Number | None = Field(default=None, ge=1e-9, le=45)
    end: End | Number | None = None
    judged_tilt_deg: Tilt | None = None

    @model_validator(mode="after")
    def _laid_or_read(self) -> Self:
        if self.tilt_deg is None and self.repeats_deg:
            raise ValueError(say("repeats_deg: a tilt that is read again has a tilt_deg"))
        if self.tilt_deg is not None:
            if self.family in (Family.LEFT, Family.RIGHT) and self.end is None:
                raise ValueError(say("a tilt read from life names its end: near-top, near-bottom or a share between"))
            if isinstance(self.end, float) and not -20 <= self.end <= 20:
                raise ValueError(say("the end's share down the near upright lies out of range"))
            if self.p is None and self.q is None:
                return self
        if self.p is None or self.q is None:
            raise ValueError(
                say(
                    "p: an edge needs two points, or a tilt_deg read from life"
                    if self.p is None
                    else "q: an edge needs two points, or a tilt_deg read from life"
                )
            )
        if abs(self.p[0] - self.q[0]) < 1e-6 and abs(self.p[1] - self.q[1]) < 1e-6:
            raise ValueError(say("q: the edge's two ends coincide"))
        return self


class RimSighting(Origin):
    """A rim laid by at least five ``points`` on its seen arc, or by the two ``ends`` of its major axis with one point
    ``near`` on the near arc, beside which further ``points`` may stand; or read from life: its minor axis against its
    width by the stick (``ratio``), or how far the line of sight to its middle dips below level by the gauge
    (``sight_deg``), each with ``repeats``. ``down``, ``across``, ``width``: where its middle stands from the near
    upright's top and how wide it is, in units; ``from_below``: its underside shows.
    """

    id: Id
    kind: Literal[Kind.RIM]
    form: Id | None = None
    plane: Plane = Plane.LEVEL
    name: Name | None = None
    points: list[Point] = Field(default_factory=list, max_length=500)
    ends: tuple[Point, Point] | None = None
    near: Point | None = None
    ratio: RimRatio | None = None
    sight_deg: ReadTilt | None = None
    repeats: list[Number] | None = Field(default=None, max_length=MOST_REPEATS)
    sd_ratio: Number | None = Field(default=None, gt=0, le=1)
    sd_deg: Number | None = Field(default=None, ge=1e-9, le=45)
    down: Units | None = None
    across: Units | None = None
    width: Number | None = Field(default=None, gt=0, le=100)
    from_below: StrictBool | None = None
    judged_degree_deg: Number | None = Field(default=None, ge=0, le=90)

    @model_validator(mode="after")
    def _laid(self) -> Self:
        if self.ratio is not None or self.sight_deg is not None:
            if self.points or self.ends is not None or self.near is not None:
                raise ValueError(say("a rim is either laid or read from life, not both"))
            if self.ratio is not None and self.sight_deg is not None:
                raise ValueError(say("sight_deg: a rim from life is read as a ratio or by the line of sight, not both"))
            low, high = (0.0, 1.0) if self.ratio is not None else (-90.0, 90.0)
            if not all(low <= again <= high for again in self.repeats or ()):
                raise ValueError(
                    say("repeats: expected numbers between {low} and {high}", low=figure(low, 0), high=figure(high, 0))
                )
            return self
        if self.ends is None:
            if self.near is not None:
                raise ValueError(say("near: a near point goes with the ends of the major axis"))
            if len(self.points) < LEAST_POINTS:
                raise ValueError(
                    say(
                        "points: expected at least five on the seen arc, or the ends of the major axis and a near point"
                    )
                )
        elif self.near is None and not self.points:
            raise ValueError(say("near: expected a point on the near arc beside the ends of the major axis"))
        elif (
            self.ends is not None
            and abs(self.ends[0][0] - self.ends[1][0]) + abs(self.ends[0][1] - self.ends[1][1]) < 4
        ):
            raise ValueError(say("ends: the two ends of the major axis coincide"))
        spread = [*self.points, *(self.ends or ())]
        if max(abs(a[0] - b[0]) + abs(a[1] - b[1]) for a in spread[:1] for b in spread) < 4:
            raise ValueError(say("points: all but in one place"))
        return self


class LengthSighting(Origin):
    """A length laid on the picture (``p``, ``q``) or compared with the near upright from life (``ratio`` with its
    ``sd_ratio``): along ``across`` the distance to the far upright of a ``side``, along ``upright`` that upright's own
    length. ``of`` a further form's ``near-upright``: the same from the unit's; of its ``top``: how far that stands
    below the unit's own, negative above. ``repeats``: the same ratio read again.
    """

    id: Id
    kind: Literal[Kind.LENGTH]
    form: Id | None = None
    name: Name | None = None
    p: Point | None = None
    q: Point | None = None
    ratio: Number | None = Field(default=None, ge=-100, le=1000)
    repeats: list[Annotated[Number, Field(ge=-100, le=1000)]] | None = Field(default=None, max_length=MOST_REPEATS)
    sd_ratio: Number | None = Field(default=None, gt=0, le=100)
    side: Side | None = None
    of: Of | None = None
    along: Along = Along.EDGE
    unit: StrictBool = False
    judged_ratio: Number | None = Field(default=None, gt=0, le=1000)

    @model_validator(mode="after")
    def _laid_or_read(self) -> Self:
        if self.ratio is not None:
            if self.p is not None or self.q is not None:
                raise ValueError(say("a length has either two points or a ratio, not both"))
            if self.of is not Of.TOP and not all(value > 0 for value in (self.ratio, *(self.repeats or ()))):
                raise ValueError(say("ratio: a length is longer than nought"))
            return self
        if self.p is None or self.q is None:
            raise ValueError(
                say(
                    "p: a length needs two points, or a ratio read from life"
                    if self.p is None
                    else "q: a length needs two points, or a ratio read from life"
                )
            )
        return self


class AlignmentSighting(Origin):
    """Two points on a plumb line or a level one, or, along ``tilt``, the tilt from one corner to another. From life
    there are no points but what was told by a line held up: ``first`` and ``second`` name the two things, the upper or
    the left-hand one first; ``beside`` is how far the upper stands to the right of plumb, or the right-hand one above
    level, in units (0: in line).
    """

    id: Id
    kind: Literal[Kind.ALIGNMENT]
    form: Id | None = None
    name: Name | None = None
    p: Point | None = None
    q: Point | None = None
    along: Guide
    first: Name | None = None
    second: Name | None = None
    beside: Units | None = None
    sd_beside: Number | None = Field(default=None, gt=0, le=10)
    judged_beside: Units | None = None
    judged_tilt_deg: Tilt | None = None

    @model_validator(mode="after")
    def _judged(self) -> Self:
        if self.beside is not None:
            if self.p is not None or self.q is not None:
                raise ValueError(say("an alignment has either two points or is told from life, not both"))
            if self.along is Guide.TILT:
                raise ValueError(say("along: from life things stand plumb or level"))
            return self
        if self.p is None or self.q is None:
            raise ValueError(
                say(
                    "p: an alignment needs two points, or how far beside the line it stands from life"
                    if self.p is None
                    else "q: an alignment needs two points, or how far beside the line it stands from life"
                )
            )
        if self.judged_beside is not None:
            raise ValueError(say("judged_beside: an alignment from life has one"))
        if self.judged_tilt_deg is not None and self.along is not Guide.TILT:
            raise ValueError(say("judged_tilt_deg: a tilt is judged along tilt only"))
        if self.along is Guide.TILT and self.p == self.q:
            raise ValueError(say("q: the two corners coincide"))
        return self


class FaceSighting(Origin):
    """A flat four-cornered face, its ``corners`` in order round it, anticlockwise as seen: from the first to the second
    along the first of ``families``, from the second to the third along the other. A wall begins at its bottom left, a
    lid at its nearest corner.
    """

    id: Id
    kind: Literal[Kind.FACE]
    form: Id | None = None
    name: Name | None = None
    families: tuple[FaceFamily, FaceFamily]
    corners: tuple[Point, Point, Point, Point]

    @model_validator(mode="after")
    def _flat(self) -> Self:
        first, second = self.families
        if AXIS[first] == AXIS[second]:
            raise ValueError(say("families: a face runs along two families that are square to each other"))
        if {first, second} & {Family.LEFT, Family.RIGHT} and {first, second} & {Family.DEPTH, Family.ACROSS}:
            raise ValueError(say("families: left and right go together, or depth and across"))
        for k in range(4):
            if self.corners[k] == self.corners[k - 1]:
                raise ValueError(say("corners[{k}]: two corners coincide", k=k))
        return self


class DivisionSighting(Origin):
    """Where something stands on a face: parts count from its first corner ``across`` towards the second or ``up``
    towards the fourth, 0 to 1.
    """

    id: Id
    kind: Literal[Kind.DIVISION]
    name: Name | None = None
    face: Id
    along: PartAlong = PartAlong.ACROSS
    point: Point
    judged_part: Number | None = Field(default=None, ge=-10, le=10)

    @property
    def form(self) -> None:
        """A division belongs to its face."""
        return None


class HeightSighting(Origin):
    """Something upright on the ground; ``known_m`` makes it the measure where the sheet's ``eye_height_m`` is not
    given.
    """

    id: Id
    kind: Literal[Kind.HEIGHT]
    form: Id | None = None
    name: Name | None = None
    foot: Point
    top: Point
    judged_m: Metres | None = None
    known_m: Metres | None = None

    @model_validator(mode="after")
    def _tall(self) -> Self:
        if self.foot == self.top:
            raise ValueError(say("top: the foot and the top coincide"))
        return self


AnySighting = (
    EdgeSighting | RimSighting | LengthSighting | AlignmentSighting | FaceSighting | DivisionSighting | HeightSighting
)
Sighting = Annotated[AnySighting, Field(discriminator="kind")]


def read_from_life(s: AnySighting) -> bool:
    """Whether a sighting needs no picture: it was read at the easel."""
    match s:
        case EdgeSighting():
            return s.tilt_deg is not None and s.p is None
        case LengthSighting():
            return s.ratio is not None
        case RimSighting():
            return s.ratio is not None or s.sight_deg is not None
        case AlignmentSighting():
            return s.beside is not None
    return False
