"""What goes into a check and what comes out of it, as plain data.

All points are pixels of the original picture, x right, y down; angles are degrees.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum

Point = tuple[float, float]


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
    AUTO = "auto"
    ONE_POINT = "one-point"
    TWO_POINT = "two-point"
    THREE_POINT = "three-point"
    PARALLEL = "parallel"


class Verdict(StrEnum):
    HOLDS = "holds"
    OFF = "off"
    UNSURE = "unsure"


@dataclass(frozen=True)
class Edge:
    """One edge sighted on the picture by its two ends."""

    id: str
    form: str
    family: Family
    p: Point
    q: Point
    slope: str | None = None
    plan: Family | None = None
    judged_tilt_deg: float | None = None


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


@dataclass(frozen=True)
class Length:
    """A length sighted on the picture; ``along`` is edge, across or upright."""

    id: str
    p: Point
    q: Point
    along: str
    unit: bool = False
    judged_ratio: float | None = None


@dataclass(frozen=True)
class Alignment:
    """Two points said to stand one above the other (plumb) or side by side (level)."""

    id: str
    p: Point
    q: Point
    along: str


LEAST_POINT_SD_PX = 1e-3


@dataclass(frozen=True)
class Setup:
    """The picture and what is known of the view before any edge is sighted.

    ``centre_px``: centre of vision, the picture's middle when None. ``eye_level_px``: given
    heights at x = 0 and x = width. ``point_sd_px``: one standard deviation of a laid point.
    """

    width_px: int
    height_px: int
    perspective: Perspective = Perspective.AUTO
    point_sd_px: float = 1.5
    focal_35mm: float | None = None
    centre_px: Point | None = None
    eye_level_px: tuple[float, float] | None = None
    level_camera: bool = False

    def __post_init__(self) -> None:
        # a smaller error would ask for more places than the arithmetic carries
        object.__setattr__(self, "point_sd_px", max(self.point_sd_px, LEAST_POINT_SD_PX))

    @property
    def centre(self) -> Point:
        return self.centre_px or (self.width_px / 2, self.height_px / 2)

    @property
    def long_side_px(self) -> int:
        return max(self.width_px, self.height_px)


@dataclass(frozen=True)
class Tolerances:
    """How far a sighting may stray before it is off: tilt and degree in degrees, length as a share.

    ``lowest_rim_deg``: how much rounder than implied the lowest rim of a form may be besides.
    """

    tilt_deg: float = 3.0
    length: float = 0.08
    degree_deg: float = 5.0
    lowest_rim_deg: float = 0.0


FREEHAND = Tolerances()
RULED = Tolerances(tilt_deg=1.0, length=0.03, degree_deg=3.0)


@dataclass(frozen=True)
class EyeLevel:
    """Heights (px) at x = 0 and x = width; ``sd_px`` at the picture's middle.

    ``source``: edges, rims, edges and rims, given or none; with ``none`` the heights are None. When
    the level was given, ``found`` is where the sightings alone put it; where both edges and rims
    fix it, ``by_edges`` and ``by_rims`` are what each alone says.
    """

    left_y_px: float | None
    right_y_px: float | None
    sd_px: float | None
    source: str
    found: EyeLevel | None = None
    by_edges: EyeLevel | None = None
    by_rims: EyeLevel | None = None

    def height_at(self, x_px: float, width_px: float) -> float | None:
        if self.left_y_px is None or self.right_y_px is None:
            return None
        return self.left_y_px + (self.right_y_px - self.left_y_px) * x_px / width_px


@dataclass(frozen=True)
class CameraReading:
    """Each value is None where the sightings cannot fix it."""

    focal_px: float | None = None
    focal_sd_px: float | None = None
    view_deg: float | None = None
    pitch_deg: float | None = None
    pitch_sd_deg: float | None = None
    roll_deg: float | None = None
    roll_sd_deg: float | None = None


@dataclass(frozen=True)
class VanishingPoint:
    """Where a family meets. At infinity x, y and sd are None and ``direction_deg`` is its tilt.

    ``sd_px`` is the spread along eye level (for uprights and slopes, along their plumb line).
    ``own_*`` is where the family lands when it is solved alone; ``own_above_eye_level_px`` is
    its height over eye level there.
    """

    form: str | None
    family: Family
    slope: str | None
    x_px: float | None
    y_px: float | None
    direction_deg: float | None
    sd_px: float | None
    own_x_px: float | None = None
    own_y_px: float | None = None
    own_direction_deg: float | None = None
    own_above_eye_level_px: float | None = None


class Rule(StrEnum):
    """The quick rules of the trade that a reason can rest on."""

    AGREES = "agrees"
    CLIMBS_TOO_LITTLE = "climbs-too-little"
    CLIMBS_TOO_MUCH = "climbs-too-much"
    FALLS_TOO_LITTLE = "falls-too-little"
    FALLS_TOO_MUCH = "falls-too-much"
    CLIMBS_INSTEAD = "climbs-instead-of-falling"
    FALLS_INSTEAD = "falls-instead-of-climbing"
    OPENS = "opens-instead-of-closing"
    FAR_LONGER = "far-longer-than-near"
    UPRIGHT_LEANS = "upright-leans"
    NOT_PARALLEL = "not-parallel"
    MISSES_ITS_POINT = "misses-its-vanishing-point"
    ONE_OF_A_PAIR = "one-of-a-pair"
    TOO_WEAK = "too-weak"
    SHORT_EDGE = "short-edge"
    OUT_OF_LINE = "out-of-line"
    NOTHING_TO_CHECK = "nothing-to-check"
    UNEXAMINED = "unexamined"
    RATIO = "ratio"
    RIM_TOO_FLAT = "rim-too-flat"
    RIM_TOO_ROUND = "rim-too-round"
    BASE_FLATTER = "base-flatter-than-mouth"
    FAR_END_FLATTER = "far-end-flatter-than-near"
    OPENED_AT_EYE_LEVEL = "opened-at-eye-level"
    BOWS_WRONG_WAY = "bows-the-wrong-way"
    AXIS_OFF = "minor-axis-off"
    NOT_ON_AXIS = "not-on-the-axis"
    SIDE_MISSES = "side-not-tangent"
    CORNER = "corner"
    POINTED_ENDS = "pointed-ends"
    FLAT_SPOT = "flat-spot"
    LOPSIDED = "lopsided"
    STRAIGHT_SIDES = "straight-sides"
    SHORT_ARC = "short-arc"


@dataclass(frozen=True)
class Reason:
    """Why a verdict fell as it did, as data for the interface to word.

    ``turn_deg``: how far, and which way, the sighting must turn to agree (positive: anticlockwise
    in the picture, so that a right-hand end rises). ``far_end_px``: how far that moves the end
    that lies away from the viewer (px, positive = up for receding edges, right for uprights).
    ``above_eye_level_px``: height of the edge's middle over eye level. ``others``: ids of the
    sightings it is weighed against. ``far_near_ratio``: far over near length for a pair that opens.
    """

    rule: Rule
    turn_deg: float = 0.0
    far_end_px: float | None = None
    above_eye_level_px: float | None = None
    lean_deg: float | None = None
    implied_lean_deg: float | None = None
    goes: str | None = None
    others: tuple[str, ...] = ()
    far_near_ratio: float | None = None
    fraction: str | None = None


@dataclass(frozen=True)
class Fault:
    """One thing that is off about a rim. ``size``: degrees for opening and axis (positive: must
    open, or turn anticlockwise, so much more), pixels for the rest (off the axis: positive to the
    right; a side: positive outside the rim); ``share``: of the rim's width. ``sure`` is False
    where the evidence cannot tell which of ``others`` or this one is wrong.
    """

    rule: Rule
    size: float
    others: tuple[str, ...] = ()
    share: float | None = None
    sure: bool = True


@dataclass(frozen=True)
class Ellipse:
    """Centre and full axes (px), tilt of the minor axis and ellipse degree (degrees)."""

    centre_px: Point
    major_px: float
    minor_px: float
    axis_deg: float
    degree_deg: float


@dataclass(frozen=True)
class RimReading:
    """What belongs to a rim besides its degree.

    ``axis_*_sd``: of the minor axis' tilt (degrees); ``axis_turn_deg``: how far it must turn, positive
    anticlockwise, None where the rim is too round to have an axis; ``implied_ellipse``: the circle's exact image in
    its place; ``true_centre_px``: image of the circle's centre, which is not the ellipse's;
    ``diameter_px``: ends of the true diameter square to the sight, which the ellipse's widest part
    is nearer than; ``square_px``, ``touch_px``: the square round a standing rim along its form's
    families, and where the rim touches it; ``by_edges``, ``by_rims``: implied degree and its
    standard deviation from either alone; ``coverage_deg``: how much of the ellipse was laid.
    """

    sighted_ellipse: Ellipse
    axis_sighted_sd: float
    implied_ellipse: Ellipse | None = None
    axis_implied_sd: float | None = None
    axis_turn_deg: float | None = None
    axis_turn_sd: float | None = None
    true_centre_px: Point | None = None
    diameter_px: tuple[Point, Point] | None = None
    square_px: tuple[Point, ...] = ()
    touch_px: tuple[Point, ...] = ()
    by_edges: tuple[float, float] | None = None
    by_rims: tuple[float, float] | None = None
    guide_deg: int | None = None
    coverage_deg: float = 360.0
    faults: tuple[Fault, ...] = ()


@dataclass(frozen=True)
class Finding:
    """A sighting with its triple and verdict; units by kind (degrees, ratio, pixels)."""

    sighting: str
    kind: str
    judged: float | None
    sighted: float | None
    sighted_sd: float | None
    implied: float | None
    implied_sd: float | None
    verdict: Verdict
    reason: Reason
    rim: RimReading | None = None


class NoteCode(StrEnum):
    """What the sightings leave open, or what a reader should know."""

    NO_EDGES = "no-edges"
    ONE_FAMILY = "one-family"
    FAMILY_OF_ONE = "family-of-one"
    NEARLY_PARALLEL = "nearly-parallel"
    EYE_LEVEL_OPEN = "eye-level-open"
    FOCAL_OPEN = "focal-open"
    EXIF_DISAGREES = "exif-disagrees"
    SET_AGAINST_FOUND = "set-against-found"
    STRAY = "stray"
    STRAYS = "strays"
    PAIR = "pair"
    DISAGREE = "disagree"
    SAME_LINE = "same-line"
    OUTSIDE = "outside"
    CROSSING = "crossing"
    WIDE = "wide"
    NO_CONVERGENCE = "no-convergence"
    EDGES_AGAINST_RIMS = "edges-against-rims"
    SHORT_ARC = "short-arc"
    UNEXAMINED = "unexamined"
    MORE_CROSSINGS = "more-crossings"


@dataclass(frozen=True)
class Note:
    code: NoteCode
    sightings: tuple[str, ...] = ()
    value: float | None = None
    other: float | None = None
    text: str | None = None


@dataclass(frozen=True)
class RailMark:
    """A height on the rail. ``units``: near-upright units above eye level (negative below);
    ``degree_deg``: ellipse degree of a small level rim there, None where no camera is known.
    """

    y_px: float
    units: float
    degree_deg: float | None


@dataclass(frozen=True)
class Rung:
    """The rim that a form must have at one height: ``units`` above eye level in near-upright units
    (negative below); ``guide_deg``: the nearest ellipse guide, if one is near.
    """

    y_px: float
    units: float
    ellipse: Ellipse
    ratio: float
    guide_deg: int | None


@dataclass(frozen=True)
class Ladder:
    """All rims up and down a form's upright axis, as wide as the rim ``like``."""

    form: str
    like: str
    rungs: tuple[Rung, ...]


@dataclass(frozen=True)
class CheckResult:
    """Everything a check says. ``findings`` follow the order of the sightings given."""

    perspective: Perspective
    eye_level: EyeLevel
    camera: CameraReading | None
    vanishing_points: list[VanishingPoint]
    findings: list[Finding]
    notes: list[Note] = field(default_factory=list)
    rail: list[RailMark] = field(default_factory=list)
    ladders: list[Ladder] = field(default_factory=list)
