"""A set-up as screens show it: its surfaces to be shaded, a thing turned in the hand, a thing's plan and elevations."""

from __future__ import annotations

from pydantic import Field

from aspectum.formats.answers import Part as AnswerPart
from aspectum.formats.sightings import Part
from aspectum.formats.stand import AnyStandThing, Outlined, Pair, Share, Size, StandStroke, Three

Spot = tuple[float, float, float]


class SolidFace(AnswerPart):
    """A flat face: its outward normal and its rings, the outer one anticlockwise seen from outside, the
    others holes.
    """

    normal: Spot
    rings: list[list[Spot]]


class SolidLathe(AnswerPart):
    """A profile turned about an axis; ``first_way`` is square to it. ``corner``: circles where the surface
    has an edge.
    """

    origin: Spot
    axis: Spot
    first_way: Spot
    radius: list[float]
    height: list[float]
    corner: list[bool]


class StandSolid(AnswerPart):
    """A thing's surface and its footprint's rings in its own frame, the middle of the footprint at the origin, and the
    height that it stands at.
    """

    thing: str
    base_m: float
    footprint: list[list[Pair]]
    faces: list[SolidFace]
    lathes: list[SolidLathe]


class StandSolids(AnswerPart):
    """The surfaces of a set-up, to be shaded, and the box round all of it."""

    low_m: Spot
    high_m: Spot
    solids: list[StandSolid]


class TurningMark(AnswerPart):
    """A mark on what is turned: where round it, and its place across, from the middle in half-widths."""

    mark_deg: float
    at: float


class TurningRim(AnswerPart):
    name: str
    degree_deg: float


class TurningPose(AnswerPart):
    """One pose of a strip; ``offset_px``: how far right it stands in the row. ``length_m``: of its axis as seen, of
    what is round.
    """

    turned_deg: float
    offset_px: float
    width_m: float
    height_m: float
    length_m: float | None
    rims: list[TurningRim]
    marks: list[TurningMark]
    strokes: list[StandStroke]


class StandTurning(AnswerPart):
    """A thing turned in the hand: its poses in one row, in a picture of this size, which begins at ``left_px`` and
    ``top_px``.
    """

    thing: str
    name: str
    left_px: float
    top_px: float
    width_px: float
    height_px: float
    poses: list[TurningPose]


class ElevationDrawing(AnswerPart):
    """What one elevation shows, in metres, x to the right and y up; hidden lines thin."""

    strokes: list[StandStroke]


class DrawnElevations(Part):
    """Sizes and outlines that a thing is made from. ``turned``: the front holds half a profile, radii and heights."""

    size_m: Three
    front: Outlined | None = None
    side: Outlined | None = None
    widths: list[tuple[Share, Size]] = Field(default_factory=list, max_length=40)
    holes: list[Outlined] = Field(default_factory=list, max_length=20)
    turned: bool = False


class StandElevations(AnswerPart):
    """A thing with its plan and elevations. ``drawn``: null for a form that has no outlines to draw. Divisions part its
    width, depth and height.
    """

    thing: AnyStandThing
    drawn: DrawnElevations | None
    plan: ElevationDrawing
    front: ElevationDrawing
    side: ElevationDrawing
    size_m: Three
    divisions: tuple[list[float], list[float], list[float]]
