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

    @property
    def centre(self) -> Point:
        return self.centre_px or (self.width_px / 2, self.height_px / 2)

    @property
    def long_side_px(self) -> int:
        return max(self.width_px, self.height_px)


@dataclass(frozen=True)
class Tolerances:
    """How far a sighting may stray before it is off: tilt and degree in degrees, length as a share."""

    tilt_deg: float = 3.0
    length: float = 0.08
    degree_deg: float = 5.0


FREEHAND = Tolerances()
RULED = Tolerances(tilt_deg=1.0, length=0.03, degree_deg=3.0)


@dataclass(frozen=True)
class EyeLevel:
    """Heights (px) at x = 0 and x = width; ``sd_px`` at the picture's middle.

    ``source``: edges, given or none; with ``none`` the heights are None. When the level was
    given, ``found`` is where the edges alone put it.
    """

    left_y_px: float | None
    right_y_px: float | None
    sd_px: float | None
    source: str
    found: EyeLevel | None = None

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
    RATIO = "ratio"


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
    toward_px: Point | None = None


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
    PAIR = "pair"
    DISAGREE = "disagree"
    SAME_LINE = "same-line"
    OUTSIDE = "outside"
    CROSSING = "crossing"
    WIDE = "wide"
    NO_CONVERGENCE = "no-convergence"


@dataclass(frozen=True)
class Note:
    code: NoteCode
    sightings: tuple[str, ...] = ()
    value: float | None = None
    other: float | None = None
    text: str | None = None


@dataclass(frozen=True)
class CheckResult:
    """Everything a check says. ``findings`` follow the order of the sightings given."""

    perspective: Perspective
    eye_level: EyeLevel
    camera: CameraReading | None
    vanishing_points: list[VanishingPoint]
    findings: list[Finding]
    notes: list[Note] = field(default_factory=list)
