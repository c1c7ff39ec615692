"""What goes into a check: the sightings of one sheet and what is known of its picture, as plain data.

Points are pixels of the original picture, x right, y down; angles are degrees. The enumerations are
the one vocabulary of the trade here: formats, database and interface use their values.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum

Point = tuple[float, float]


class Kind(StrEnum):
    """What a sighting is of."""

    EDGE = "edge"
    RIM = "rim"
    LENGTH = "length"
    ALIGNMENT = "alignment"
    FACE = "face"
    DIVISION = "division"
    HEIGHT = "height"


class FormKind(StrEnum):
    """What a form is, as far as its sightings need to know: a cylinder's sides touch its rims."""

    BOX = "box"
    CYLINDER = "cylinder"
    BUILDING = "building"
    OTHER = "other"


class Family(StrEnum):
    """A set of edges parallel in space, named by where it runs on its form."""

    LEFT = "left"
    RIGHT = "right"
    UPRIGHT = "upright"
    DEPTH = "depth"
    ACROSS = "across"
    SLOPE = "slope"


LEVEL_FAMILIES = (Family.LEFT, Family.RIGHT, Family.DEPTH, Family.ACROSS)
# degrees by which a level family's bearing differs from its form's bearing
BEARING_OFFSET_DEG = {Family.RIGHT: 0.0, Family.DEPTH: 0.0, Family.LEFT: -90.0, Family.ACROSS: -90.0}

# which axis of its form's frame a family runs along: right (or depth), left (or across), up
AXIS = {Family.RIGHT: 0, Family.DEPTH: 0, Family.LEFT: 1, Family.ACROSS: 1, Family.UPRIGHT: 2}
SQUARE_TO = {
    Family.LEFT: Family.RIGHT,
    Family.RIGHT: Family.LEFT,
    Family.DEPTH: Family.ACROSS,
    Family.ACROSS: Family.DEPTH,
}


class Plane(StrEnum):
    """The plane that a circle lies on, named by what its axis follows; level: an upright axis."""

    LEVEL = "level"
    LEFT = "left"
    RIGHT = "right"
    DEPTH = "depth"
    ACROSS = "across"

    @property
    def family(self) -> Family:
        """The family that the circle's axis follows."""
        return Family.UPRIGHT if self is Plane.LEVEL else Family(self.value)


class Perspective(StrEnum):
    """``AUTO``: the sightings decide."""

    AUTO = "auto"
    ONE_POINT = "one-point"
    TWO_POINT = "two-point"
    THREE_POINT = "three-point"
    PARALLEL = "parallel"


class Looking(StrEnum):
    """Where the line of sight goes: about level, or straight up or down, to the zenith or the nadir."""

    AHEAD = "ahead"
    UP = "up"
    DOWN = "down"


class ViewSort(StrEnum):
    """By what a view must be told: how many families of a form converge, none in a parallel one; straight up or down
    only the uprights do.
    """

    PARALLEL = "parallel"
    ONE_POINT = "one-point"
    TWO_POINT = "two-point"
    THREE_POINT = "three-point"
    STRAIGHT = "straight"


def view_sort(perspective: Perspective, looking: Looking) -> ViewSort | None:
    """The sort of a view; None while the sightings have not decided."""
    if looking is not Looking.AHEAD:
        return ViewSort.STRAIGHT
    return None if perspective is Perspective.AUTO else ViewSort(perspective.value)


class Along(StrEnum):
    """How a length is measured: along the edge, straight across or straight up."""

    EDGE = "edge"
    ACROSS = "across"
    UPRIGHT = "upright"


class Guide(StrEnum):
    """What two points are said to share: a plumb line, a level one, or one whose tilt is sighted from
    corner to corner.
    """

    PLUMB = "plumb"
    LEVEL = "level"
    TILT = "tilt"


class PartAlong(StrEnum):
    """Which way a part of a face is counted: from its first corner towards the second, or up towards the fourth."""

    ACROSS = "across"
    UP = "up"


class Tip(StrEnum):
    """One of an edge's two ends."""

    P = "p"
    Q = "q"


class Side(StrEnum):
    """A side of the near upright."""

    LEFT = "left"
    RIGHT = "right"


class End(StrEnum):
    """Where a receding edge meets the near upright: at its top, its foot, or a share between."""

    NEAR_TOP = "near-top"
    NEAR_BOTTOM = "near-bottom"


SlotKey = tuple[str | None, Family, str | None]


@dataclass(frozen=True)
class Edge:
    """One edge sighted on the picture by its two ends; ``hidden``: those that something in front cuts off."""

    id: str
    form: str
    family: Family
    p: Point
    q: Point
    slope: str | None = None
    plan: Family | None = None
    judged_tilt_deg: float | None = None
    hidden: tuple[Tip, ...] = ()

    @property
    def slot(self) -> SlotKey:
        """Form, family and slope group that it runs with; uprights of all forms are one family."""
        if self.family is Family.UPRIGHT:
            return None, Family.UPRIGHT, None
        return self.form, self.family, (self.slope or "slope") if self.family is Family.SLOPE else None


@dataclass(frozen=True)
class Rim:
    """One rim sighted by points on its seen arc, or by the ``ends`` of its major axis and one
    point ``near`` on the near arc, or both.
    """

    id: str
    form: str
    plane: Plane
    points: tuple[Point, ...] = ()
    ends: tuple[Point, Point] | None = None
    near: Point | None = None
    judged_degree_deg: float | None = None

    @property
    def laid(self) -> tuple[Point, ...]:
        """Every point that was laid."""
        return (*self.points, *(self.ends or ()), *(() if self.near is None else (self.near,)))

    @property
    def slot(self) -> SlotKey:
        """As an edge's: the family that its axis runs with."""
        return None if self.plane is Plane.LEVEL else self.form, self.plane.family, None

    @property
    def least_points(self) -> int:
        """How many points of its arc it must keep to be a rim."""
        return least_points(self.ends is not None, self.near is not None)


LEAST_POINTS = 5  # on the arc alone: an ellipse has five unknowns


def least_points(with_ends: bool, with_near: bool) -> int:
    """How many points on its arc a rim needs beside what else is laid of it."""
    if not with_ends:
        return LEAST_POINTS
    return 0 if with_near else 1


@dataclass(frozen=True)
class Length:
    """A length sighted on the picture."""

    id: str
    p: Point
    q: Point
    along: Along
    unit: bool = False
    judged_ratio: float | None = None


@dataclass(frozen=True)
class Alignment:
    """Two points said to stand one above the other (plumb) or side by side (level), or the tilt from one corner to
    another.
    """

    id: str
    p: Point
    q: Point
    along: Guide
    judged_tilt_deg: float | None = None


@dataclass(frozen=True)
class Face:
    """A flat four-cornered face of a form, ``corners`` in order round it: the side from the first to the second runs
    along the first of ``families``, the one from the second to the third along the other.
    """

    id: str
    form: str
    families: tuple[Family, Family]
    corners: tuple[Point, Point, Point, Point]


@dataclass(frozen=True)
class Division:
    """A place on a face: ``judged_part`` of the way along it, 0 to 1 between its corners."""

    id: str
    face: str
    along: PartAlong
    point: Point
    judged_part: float | None = None


@dataclass(frozen=True)
class Height:
    """Something upright on the ground, from ``foot`` to ``top``; ``known_m`` makes it a measure."""

    id: str
    foot: Point
    top: Point
    judged_m: float | None = None
    known_m: float | None = None


@dataclass(frozen=True)
class Measured:
    """What is laid on a sheet beside its edges and rims."""

    lengths: list[Length] = field(default_factory=list)
    alignments: list[Alignment] = field(default_factory=list)
    faces: list[Face] = field(default_factory=list)
    divisions: list[Division] = field(default_factory=list)
    heights: list[Height] = field(default_factory=list)


LEAST_POINT_SD_PX = 1e-3  # an exact place still has a weight that can be divided by


@dataclass(frozen=True)
class FoundView:
    """What a whole picture says of its view before anybody has sighted it, px: eye level's heights at x = 0 and x =
    width and their standard deviation in the middle, the focal length and its own.
    """

    left_y_px: float
    right_y_px: float
    sd_px: float
    focal_px: float
    focal_sd_px: float


@dataclass(frozen=True)
class Setup:
    """The picture and what is known of the view before any edge is sighted.

    ``centre_px``: centre of vision, the picture's middle when None. ``eye_level_px``: given
    heights at x = 0 and x = width. ``point_sd_px``: one standard deviation of a laid point.
    ``looking``: straight up or down the picture stands level, whatever the perspective and the eye level given.
    ``eye_height_m``: of the viewer's eye above the ground that the forms stand on. ``found``: evidence, not given.
    """

    width_px: int
    height_px: int
    perspective: Perspective = Perspective.AUTO
    point_sd_px: float = 1.5
    focal_35mm: float | None = None
    centre_px: Point | None = None
    eye_level_px: tuple[float, float] | None = None
    level_camera: bool = False
    looking: Looking = Looking.AHEAD
    eye_height_m: float | None = None
    found: FoundView | None = None

    def __post_init__(self) -> None:
        # a smaller error would ask for more places than the arithmetic carries
        object.__setattr__(self, "point_sd_px", max(self.point_sd_px, LEAST_POINT_SD_PX))

    @property
    def centre(self) -> Point:
        return self.centre_px or (self.width_px / 2, self.height_px / 2)

    @property
    def long_side_px(self) -> int:
        return max(self.width_px, self.height_px)
