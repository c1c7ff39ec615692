"""The model stand (``*.stand.json``): a set-up of things and how it is seen.

Metres; x right, y away, z up. Degrees; turns anticlockwise seen from above.
"""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, ValidationError, model_validator

from aspectum.core.sightings import Family
from aspectum.core.stand.kinds import Parallel, RoofKind, Stage, Wall, Weight
from aspectum.formats.answers import Part as AnswerPart
from aspectum.formats.reading import FormatError, first_fault, read_object, written
from aspectum.formats.sightings import Id, Name, Number, Part, Pixels
from aspectum.language import say

STAND_FORMAT = "aspectum-stand"
MOST_THINGS = 60
MOST_POINTS = 400
FARTHEST_M = 10_000.0

Place = Annotated[Number, Field(ge=-FARTHEST_M, le=FARTHEST_M, allow_inf_nan=False)]
Size = Annotated[Number, Field(gt=1e-4, le=FARTHEST_M, allow_inf_nan=False)]
Thin = Annotated[Number, Field(ge=0, le=FARTHEST_M, allow_inf_nan=False)]
Turn = Annotated[Number, Field(ge=-360, le=360, allow_inf_nan=False)]
Share = Annotated[Number, Field(ge=0, le=1, allow_inf_nan=False)]
Flat = tuple[Place, Place]
Three = tuple[Size, Size, Size]


class StandView(Part):
    """``parallel`` views have ``px_per_m`` in place of a lens, and ``eye_m`` in the picture's middle; ``oblique_deg``
    and ``depth_scale`` go with an oblique one.
    """

    eye_m: tuple[Place, Place, Place] = (0.0, -3.0, 1.6)
    heading_deg: Turn = 0.0
    pitch_deg: Number = Field(default=0.0, ge=-90, le=90)
    roll_deg: Number = Field(default=0.0, ge=-180, le=180)
    focal_35mm: Number = Field(default=35.0, gt=1, lt=10_000)
    width_px: Pixels = 1280
    height_px: Pixels = 960
    parallel: Parallel | None = None
    px_per_m: Number = Field(default=400.0, gt=0, le=1e6)
    oblique_deg: Number = Field(default=45.0, gt=0, lt=90)
    depth_scale: Number = Field(default=0.5, gt=0, le=1)


class Outlined(Part):
    """Points in order; those named in ``smooth`` (from 0) are passed in a curve, all others are corners."""

    points: list[Flat] = Field(min_length=2, max_length=MOST_POINTS)
    smooth: list[Annotated[int, Field(ge=0)]] = Field(default_factory=list, max_length=MOST_POINTS)

    @model_validator(mode="after")
    def _named(self) -> Self:
        if any(i >= len(self.points) for i in self.smooth):
            raise ValueError(say("smooth: there is no such point"))
        if any(p == q for p, q in zip(self.points[:-1], self.points[1:], strict=True)):
            raise ValueError(say("points: two points coincide"))
        return self


class StandThing(Part):
    """What every thing has: the middle of its footprint, its height or what it stands ``on``, and its turn."""

    id: Id
    name: Name = ""
    at_m: Flat = (0.0, 0.0)
    base_m: Place = 0.0
    on: Id | None = None
    turn_deg: Turn = 0.0


class BoxThing(StandThing):
    kind: Literal["box"]
    size_m: Three


class RoundThing(StandThing):
    """``lean_deg`` tips the axis towards the thing's own x: 90 lies on its side; ``bands_m``: heights of lines drawn
    round it.
    """

    radius_m: Size
    height_m: Size
    lean_deg: Number = Field(default=0.0, ge=-90, le=90)
    bands_m: list[Size] = Field(default_factory=list, max_length=20)


class CylinderThing(RoundThing):
    kind: Literal["cylinder"]


class ConeThing(RoundThing):
    kind: Literal["cone"]
    top_radius_m: Thin = 0.0


class TubeThing(RoundThing):
    """Open above; without a floor open right through."""

    kind: Literal["tube"]
    wall_m: Size
    floor_m: Thin = 0.0
    top_radius_m: Size | None = None


class TurnedThing(StandThing):
    """``profile``: radii and heights, from the foot up the outside; with ``wall_m`` hollow and open above."""

    kind: Literal["turned"]
    profile: Outlined
    lean_deg: Number = Field(default=0.0, ge=-90, le=90)
    wall_m: Size | None = None


class OpeningPart(Part):
    wall: Wall
    from_left_m: Thin
    sill_m: Thin = 0.0
    width_m: Size
    height_m: Size
    reveal_m: Thin = 0.08


class FlightPart(Part):
    wall: Wall
    from_left_m: Thin
    width_m: Size
    count: int = Field(ge=1, le=40)
    rise_m: Size = 0.18
    going_m: Size = 0.28


class ChimneyPart(Part):
    at_m: Flat = (0.0, 0.0)
    size_m: tuple[Size, Size]
    above_m: Size = 0.5


class BuildingThing(StandThing):
    """``size_m``: of its walls. The ridge runs along its own x; a pent roof rises towards the back."""

    kind: Literal["building"]
    size_m: Three
    roof: RoofKind = RoofKind.GABLED
    rise_m: Thin = 1.5
    eaves_m: Thin = 0.3
    openings: list[OpeningPart] = Field(default_factory=list, max_length=40)
    flights: list[FlightPart] = Field(default_factory=list, max_length=4)
    chimney: ChimneyPart | None = None


class OutlineThing(StandThing):
    """A closed outline on the front, x along and z up, carried ``depth_m`` through; ``widths``: shares of its length
    and the depth there.
    """

    kind: Literal["outline"]
    outline: Outlined
    holes: list[Outlined] = Field(default_factory=list, max_length=20)
    depth_m: Size = 0.1
    widths: list[tuple[Share, Size]] = Field(default_factory=list, max_length=40)


class HullThing(StandThing):
    """Places along x, and there a half section from the keel up to the rail, as (out, up)."""

    kind: Literal["hull"]
    stations: list[tuple[Place, list[tuple[Thin, Place]]]] = Field(min_length=2, max_length=40)


class WheelsThing(StandThing):
    kind: Literal["wheels"]
    radius_m: Size
    width_m: Size = 0.06
    gauge_m: Size = 0.8
    axle_radius_m: Size = 0.03


class SectionThing(StandThing):
    """A plane through the thing ``of``, square to its own axis at a share of its extent."""

    kind: Literal["section"]
    of: Id
    along: Literal["x", "y", "z"] = "x"
    share: Share = 0.5


class FigureThing(StandThing):
    kind: Literal["figure"]
    height_m: Size = 1.7


class RampThing(StandThing):
    """Rises along its own y from nothing to ``size_m``'s height."""

    kind: Literal["ramp"]
    size_m: Three


class LevelsThing(StandThing):
    """Rectangles at heights, each joined to the next: (z, x from, x to, y from, y to); two at one height
    make a ledge.
    """

    kind: Literal["levels"]
    levels: list[tuple[Place, Place, Place, Place, Place]] = Field(min_length=2, max_length=80)


AnyStandThing = Annotated[
    BoxThing
    | CylinderThing
    | ConeThing
    | TubeThing
    | TurnedThing
    | BuildingThing
    | OutlineThing
    | HullThing
    | WheelsThing
    | SectionThing
    | FigureThing
    | RampThing
    | LevelsThing,
    Field(discriminator="kind"),
]
THING_KINDS = [
    "box",
    "cylinder",
    "cone",
    "tube",
    "turned",
    "building",
    "outline",
    "hull",
    "wheels",
    "section",
    "figure",
    "ramp",
    "levels",
]


class StandFile(Part):
    """``sun_deg``: the heading at which the sun stands and its height above level, for cast shadows."""

    format: Literal["aspectum-stand"] = "aspectum-stand"
    version: Literal[1] = 1
    title: Name = ""
    view: StandView = Field(default_factory=StandView)
    sun_deg: tuple[Turn, Annotated[Number, Field(ge=2, le=90)]] | None = None
    things: list[AnyStandThing] = Field(default_factory=list, max_length=MOST_THINGS)

    @model_validator(mode="after")
    def _references(self) -> Self:
        ids = [thing.id for thing in self.things]
        for i, thing in enumerate(self.things):
            if thing.id in ids[:i]:
                raise ValueError(say("things[{i}].id: '{thing}' is taken", i=i, thing=thing.id))
            if thing.on is not None and thing.on not in ids:
                raise ValueError(say("things[{i}].on: there is no thing '{on}'", i=i, on=thing.on))
            if isinstance(thing, SectionThing) and thing.of not in ids:
                raise ValueError(say("things[{i}].of: there is no thing '{of}'", i=i, of=thing.of))
        return self


def read_stand(data: bytes) -> StandFile:
    """Parse a set-up. Raises ``FormatError`` naming the first place that does not fit."""
    content = read_object(data, STAND_FORMAT)
    try:
        return StandFile.model_validate(content)
    except ValidationError as error:
        raise FormatError(first_fault(error, THING_KINDS)) from None


def write_stand(stand: StandFile) -> bytes:
    """The set-up as indented JSON without empty entries."""
    return written(stand)


Pair = tuple[float, float]


class DrawnEyeLevel(AnswerPart):
    left_y_px: float
    right_y_px: float


class DrawnPoint(AnswerPart):
    """Where a family meets, or the tilt that it keeps; ``slope`` names the group of a family that is neither level nor
    upright. ``words``: how far it falls off the sheet.
    """

    thing: str
    family: Family
    slope: str | None = None
    x_px: float | None = None
    y_px: float | None = None
    direction_deg: float | None = None
    words: str = ""


class DrawnEdge(AnswerPart):
    """``visible``: the parts of the drawn line from ``p`` to ``q`` that nothing hides."""

    thing: str
    family: Family
    slope: str | None = None
    name: str
    p: Pair
    q: Pair
    visible: list[Pair]


class DrawnEllipse(AnswerPart):
    """``middle_px``: image of the circle's own centre. ``visible``: parts of its turn by the eccentric angle, from the
    right end of the major axis, anticlockwise as seen. ``plane``: null where its axis runs along no family.
    """

    thing: str
    name: str
    plane: str | None
    centre_px: Pair
    middle_px: Pair
    major_px: float
    minor_px: float
    major_tilt_deg: float
    degree_deg: float
    visible: list[Pair]


class DrawnOutline(AnswerPart):
    thing: str
    name: str
    p: Pair
    q: Pair
    visible: list[Pair]


class DrawnCurve(AnswerPart):
    """A line that is no conic; ``visible``: shares of its drawn length."""

    thing: str
    name: str
    points: list[Pair]
    visible: list[Pair]


class SeenThing(AnswerPart):
    """What the eye sees of a thing: its top, its underside or neither, and the faces turned to it."""

    thing: str
    shows: Literal["top", "underside", "neither"]
    faces: list[str]


class DrawnThrough(AnswerPart):
    """A thing's lines of construction: the twelve sides of its enclosing box, the axes of what is turned on it, its
    footprint on the ground as rings.
    """

    thing: str
    box: list[tuple[Pair, Pair]]
    axes: list[tuple[Pair, Pair]]
    footprint: list[list[Pair]]


class DrawnMark(AnswerPart):
    """A mark of the level rail: a height above the ground on the upright through the set-up's middle, and the degree of
    a level rim there.
    """

    height_m: float
    y_px: float
    degree_deg: float


class StandDrawing(AnswerPart):
    """Everything of a set-up as its view shows it; hidden lines too. ``eye_level``: null where there is none in the
    picture's plane.
    """

    format: Literal["aspectum-stand-drawing"] = "aspectum-stand-drawing"
    version: Literal[1] = 1
    file: str | None = None
    width_px: int
    height_px: int
    eye_level: DrawnEyeLevel | None
    vanishing_points: list[DrawnPoint]
    edges: list[DrawnEdge]
    rims: list[DrawnEllipse]
    outlines: list[DrawnOutline]
    curves: list[DrawnCurve]
    shadows: list[DrawnCurve]
    seen: list[SeenThing]
    construction: list[DrawnThrough]
    level_rail: list[DrawnMark]


class StandStroke(AnswerPart):
    """Points joined in order; ``weight``: construction is thin, the form lined in thick."""

    points: list[Pair]
    weight: Weight


class StandStep(AnswerPart):
    """What one step adds to the drawing; everything before it stays. ``words``: its reason in a sentence."""

    number: int
    stage: Stage
    title: str
    words: str
    strokes: list[StandStroke]


class StandSteps(AnswerPart):
    """The construction of one thing, in the order of drawing."""

    thing: str
    name: str
    width_px: int
    height_px: int
    steps: list[StandStep]
