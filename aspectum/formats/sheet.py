"""The sighting sheet (``*.sighting.json``): a picture's sightings with their judgements."""

from __future__ import annotations

import json
import unicodedata
from typing import Annotated, Any, Literal, Self

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, Strict, StrictBool, ValidationError, model_validator

from aspectum.core.sightings import AXIS, LEAST_POINTS, Along, End, Family, FormKind, Guide, Kind, Looking, PartAlong, Perspective, Plane, Side, Tip
from aspectum.core.tolerance import School

LIMIT_BYTES = 4 * 1024 * 1024
MOST_SIGHTINGS = 1000
FAR_PX = 1_000_000.0
PAPER_SQUARE = 0.05  # by which a flattened paper's pixels may be out of square: a picture's size is whole pixels, a torn edge is not

FaceFamily = Literal[Family.LEFT, Family.RIGHT, Family.DEPTH, Family.ACROSS, Family.UPRIGHT]
LevelFamily = Literal[Family.LEFT, Family.RIGHT, Family.DEPTH, Family.ACROSS]


class FormatError(ValueError):
    """Something that does not fit the format; the message names the place in one line."""


def _two_numbers(value: Any) -> Any:
    if not isinstance(value, (list, tuple)) or len(value) != 2 or not all(isinstance(v, (int, float)) and not isinstance(v, bool) for v in value):
        raise ValueError("expected two numbers")
    if not all(abs(v) <= FAR_PX for v in value):  # also refuses NaN and infinities
        raise ValueError(f"expected two numbers within ±{FAR_PX:.0f}")
    return tuple(float(v) for v in value)


def number(value: Any) -> Any:
    """Neither "12" nor true stands for a whole number; 12.0 does."""
    if isinstance(value, bool) or not isinstance(value, (int, float)):
        raise ValueError("expected a number")
    return value


def printable(value: Any) -> Any:
    """Text without control characters and whatever XML and UTF-8 cannot carry; breaks become spaces."""
    if not isinstance(value, str) or value.isprintable():
        return value
    return "".join(" " if c in "\t\n\r\v\f\u2028\u2029" else "" if unicodedata.category(c) in ("Cc", "Cs") or ord(c) & 0xFFFE == 0xFFFE else c for c in value)


def at_most(length: int) -> BeforeValidator:
    """Text is measured as it was sent, before anything is left out of it."""

    def check(value: Any) -> Any:
        if isinstance(value, str) and len(value) > length:
            raise ValueError(f"String should have at most {length} characters")
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


class Part(BaseModel):
    model_config = ConfigDict(extra="forbid", strict=False, allow_inf_nan=False)


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


class EdgeSighting(Part):
    """An edge laid on the picture (``p``, ``q``) or read from life (``tilt_deg`` with its ``end``
    at the near upright). ``hidden``: those of its ends that something in front cuts off, which are no corners.
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
    tilt_deg: Number | None = Field(default=None, gt=-90, lt=90)
    sd_deg: Number | None = Field(default=None, gt=0, le=45)
    end: End | Number | None = None
    judged_tilt_deg: Tilt | None = None

    @model_validator(mode="after")
    def _laid_or_read(self) -> Self:
        if self.tilt_deg is not None:
            if self.p is not None or self.q is not None:
                raise ValueError("an edge has either two points or a tilt, not both")
            if self.family in (Family.LEFT, Family.RIGHT) and self.end is None:
                raise ValueError("a tilt read from life names its end: near-top, near-bottom or a share between")
            if isinstance(self.end, float) and not -20 <= self.end <= 20:
                raise ValueError("the end's share down the near upright lies out of range")
            return self
        if self.p is None or self.q is None:
            raise ValueError(f"{'p' if self.p is None else 'q'}: an edge needs two points, or a tilt_deg read from life")
        if abs(self.p[0] - self.q[0]) < 1e-6 and abs(self.p[1] - self.q[1]) < 1e-6:
            raise ValueError("q: the edge's two ends coincide")
        return self


class RimSighting(Part):
    """A rim laid by at least five ``points`` on its seen arc, or by the two ``ends`` of its major
    axis with one point ``near`` on the near arc, beside which further ``points`` may stand.
    """

    id: Id
    kind: Literal[Kind.RIM]
    form: Id | None = None
    plane: Plane = Plane.LEVEL
    name: Name | None = None
    points: list[Point] = Field(default_factory=list, max_length=500)
    ends: tuple[Point, Point] | None = None
    near: Point | None = None
    judged_degree_deg: Number | None = Field(default=None, ge=0, le=90)

    @model_validator(mode="after")
    def _laid(self) -> Self:
        if self.ends is None:
            if self.near is not None:
                raise ValueError("near: a near point goes with the ends of the major axis")
            if len(self.points) < LEAST_POINTS:
                raise ValueError("points: expected at least five on the seen arc, or the ends of the major axis and a near point")
        elif self.near is None and not self.points:
            raise ValueError("near: expected a point on the near arc beside the ends of the major axis")
        elif self.ends is not None and abs(self.ends[0][0] - self.ends[1][0]) + abs(self.ends[0][1] - self.ends[1][1]) < 4:
            raise ValueError("ends: the two ends of the major axis coincide")
        spread = [*self.points, *(self.ends or ())]
        if max(abs(a[0] - b[0]) + abs(a[1] - b[1]) for a in spread[:1] for b in spread) < 4:
            raise ValueError("points: all but in one place")
        return self


class LengthSighting(Part):
    """A length laid on the picture (``p``, ``q``) or compared with the near upright from life
    (``ratio`` with its ``sd_ratio``): along ``across`` the distance to the far upright of a
    ``side``, along ``upright`` that upright's own length."""

    id: Id
    kind: Literal[Kind.LENGTH]
    form: Id | None = None
    name: Name | None = None
    p: Point | None = None
    q: Point | None = None
    ratio: Number | None = Field(default=None, gt=0, le=1000)
    sd_ratio: Number | None = Field(default=None, gt=0, le=100)
    side: Side | None = None
    along: Along = Along.EDGE
    unit: StrictBool = False
    judged_ratio: Number | None = Field(default=None, gt=0, le=1000)

    @model_validator(mode="after")
    def _laid_or_read(self) -> Self:
        if self.ratio is not None:
            if self.p is not None or self.q is not None:
                raise ValueError("a length has either two points or a ratio, not both")
            return self
        if self.p is None or self.q is None:
            raise ValueError(f"{'p' if self.p is None else 'q'}: a length needs two points, or a ratio read from life")
        return self


class AlignmentSighting(Part):
    """Two points on a plumb line or a level one, or, along ``tilt``, the tilt from one corner to another."""

    id: Id
    kind: Literal[Kind.ALIGNMENT]
    form: Id | None = None
    name: Name | None = None
    p: Point
    q: Point
    along: Guide
    judged_tilt_deg: Tilt | None = None

    @model_validator(mode="after")
    def _judged(self) -> Self:
        if self.judged_tilt_deg is not None and self.along is not Guide.TILT:
            raise ValueError("judged_tilt_deg: a tilt is judged along tilt only")
        if self.along is Guide.TILT and self.p == self.q:
            raise ValueError("q: the two corners coincide")
        return self


class FaceSighting(Part):
    """A flat four-cornered face, its ``corners`` in order round it, anticlockwise as seen: from the first to the second along the first of
    ``families``, from the second to the third along the other. A wall begins at its bottom left, a lid at its nearest corner.
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
            raise ValueError("families: a face runs along two families that are square to each other")
        if {first, second} & {Family.LEFT, Family.RIGHT} and {first, second} & {Family.DEPTH, Family.ACROSS}:
            raise ValueError("families: left and right go together, or depth and across")
        for k in range(4):
            if self.corners[k] == self.corners[k - 1]:
                raise ValueError(f"corners[{k}]: two corners coincide")
        return self


class DivisionSighting(Part):
    """Where something stands on a face: parts count from its first corner ``across`` towards the second or ``up`` towards the fourth, 0 to 1."""

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


class HeightSighting(Part):
    """Something upright on the ground; ``known_m`` makes it the measure where the sheet's ``eye_height_m`` is not given."""

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
            raise ValueError("top: the foot and the top coincide")
        return self


AnySighting = EdgeSighting | RimSighting | LengthSighting | AlignmentSighting | FaceSighting | DivisionSighting | HeightSighting
Sighting = Annotated[AnySighting, Field(discriminator="kind")]


def read_from_life(s: AnySighting) -> bool:
    """Whether a sighting needs no picture: a tilt or a ratio read at the easel."""
    return (isinstance(s, EdgeSighting) and s.tilt_deg is not None) or (isinstance(s, LengthSighting) and s.ratio is not None)


class OwnTolerance(Part):
    """A tutor's own tolerances, in place of a school's: tilts and ellipse degrees in degrees, lengths in per cent."""

    tilt_deg: Number = Field(gt=0, lt=90)
    length_percent: Number = Field(gt=0, lt=90)
    degree_deg: Number = Field(gt=0, lt=90)


class SightingSheet(Part):
    """A sheet from life has no ``picture``; then nothing on it has points. ``looking`` straight up or down goes with
    one-point perspective: the uprights recede, and eye level is not in the picture. ``eye_height_m``: of the viewer's eye above the ground
    that the forms stand on. ``paper_mm``: width and height of the sheet of paper, on a drawing's sheet, whose picture is that paper flattened.
    """

    format: Literal["aspectum-sighting-sheet"] = "aspectum-sighting-sheet"
    version: Literal[1] = 1
    title: Name = ""
    picture: PictureInfo | None = None
    paper_mm: tuple[Millimetres, Millimetres] | None = None
    point_sd_px: Number = Field(default=1.5, gt=0, le=1000)
    perspective: Perspective = Perspective.AUTO
    looking: Looking = Looking.AHEAD
    eye_level: GivenEyeLevel | None = None
    level_camera: StrictBool = False
    eye_height_m: Metres | None = None
    lowest_rim_extra_deg: Number = Field(default=0.0, ge=0, le=30)
    tolerance: School | OwnTolerance = School.FREEHAND
    forms: list[Form] = Field(default_factory=list, max_length=200)
    sightings: list[Sighting] = Field(default_factory=list, max_length=MOST_SIGHTINGS)

    @model_validator(mode="after")
    def _references(self) -> Self:
        if self.looking is not Looking.AHEAD and self.perspective is not Perspective.ONE_POINT:
            raise ValueError(f"looking: straight {self.looking} is one-point perspective, and this sheet's is {self.perspective}")
        self._paper()
        forms: set[str] = set()
        for i, form in enumerate(self.forms):
            if form.id in forms:
                raise ValueError(f"forms[{i}].id: '{form.id}' is taken")
            forms.add(form.id)
        seen: set[str] = set()
        faces = {s.id for s in self.sightings if isinstance(s, FaceSighting)}
        units = 0
        for i, s in enumerate(self.sightings):
            if s.id in seen:
                raise ValueError(f"sightings[{i}].id: '{s.id}' is taken")
            seen.add(s.id)
            if self.picture is None and not read_from_life(s):
                raise ValueError(f"picture: missing, and sightings[{i}] is laid on it")
            if s.form is not None and self.forms and s.form not in forms:
                raise ValueError(f"sightings[{i}].form: no form '{s.form}'")
            if isinstance(s, DivisionSighting) and s.face not in faces:
                raise ValueError(f"sightings[{i}].face: no face '{s.face}'")
            if isinstance(s, LengthSighting) and s.unit:
                units += 1
                if units > 1:
                    raise ValueError(f"sightings[{i}].unit: a sheet has one unit")
        return self

    def _paper(self) -> None:
        """Refuse a paper that its picture cannot be."""
        if self.paper_mm is None:
            return
        if self.picture is None:
            raise ValueError("paper_mm: a sheet of paper has a picture")
        across, down = self.paper_mm[0] / self.picture.width_px, self.paper_mm[1] / self.picture.height_px
        if abs(across / down - 1.0) > PAPER_SQUARE:
            raise ValueError("paper_mm: the picture has other proportions than the paper")


def read_sheet(data: bytes) -> SightingSheet:
    """Parse a sheet. Raises ``FormatError`` naming the first place that does not fit."""
    if len(data) > LIMIT_BYTES:
        raise FormatError(f"the file is larger than {LIMIT_BYTES // 1024 // 1024} MB")
    try:
        content = json.loads(data)
    except UnicodeDecodeError:
        raise FormatError("not a text file") from None
    except json.JSONDecodeError as error:
        raise FormatError(f"line {error.lineno}, column {error.colno}: not JSON ({error.msg})") from None
    except RecursionError:
        raise FormatError("nested too deeply") from None
    except ValueError as error:
        raise FormatError(f"not JSON ({error})") from None
    if not isinstance(content, dict):
        raise FormatError("expected an object")
    if content.get("format") != "aspectum-sighting-sheet":
        raise FormatError("format: expected 'aspectum-sighting-sheet'")
    if content.get("version") != 1 or isinstance(content.get("version"), bool):
        raise FormatError("version: this Aspectum reads version 1")
    try:
        return SightingSheet.model_validate(content)
    except ValidationError as error:
        raise FormatError(first_fault(error)) from None


KINDS = [kind.value for kind in Kind]


def first_fault(error: ValidationError) -> str:
    """The first fault as ``place: what is wrong`` (``sightings[3].p: expected two numbers``)."""
    fault = error.errors(include_url=False)[0]
    message = fault["msg"].removeprefix("Value error, ")
    if fault["type"] == "missing":
        message = "missing"
    elif fault["type"] == "extra_forbidden":
        message = "unknown entry"
    elif fault["type"].startswith("union_tag"):
        message = f"kind: expected {', '.join(KINDS[:-1])} or {KINDS[-1]}"
    place = ""
    previous: int | str | None = None
    for step in fault["loc"]:
        if isinstance(step, int):
            place += f"[{step}]"
        elif not (isinstance(previous, int) and step in KINDS) and not step.startswith(("literal[", "function-", "float", "tuple[")):
            place += f".{step}" if place else step
        previous = step
    place = str(printable(place))
    head = message.split(":", 1)[0]
    if place and ":" in message and (head.isidentifier() or "[" in head):
        return f"{place}.{message}"
    return f"{place}: {message}" if place else message


def write_sheet(sheet: SightingSheet) -> bytes:
    """The sheet as indented JSON without empty entries."""
    return (json.dumps(sheet.model_dump(mode="json", exclude_none=True), indent=1, ensure_ascii=False) + "\n").encode()
