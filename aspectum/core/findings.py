"""What comes out of a check, as plain data: findings with their reasons, the view, and notes.

Points and lengths are pixels of the original picture, angles degrees.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum

from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.reasons import Fault, Reason, Rule
from aspectum.core.sightings import Family, Kind, Perspective, Point, SlotKey
from aspectum.core.tolerance import Verdict


class Source(StrEnum):
    """What an eye level rests on."""

    EDGES = "edges"
    RIMS = "rims"
    BOTH = "edges and rims"
    GIVEN = "given"
    NONE = "none"


@dataclass(frozen=True)
class EyeLevel:
    """Heights (px) at x = 0 and x = width; ``sd_px`` at the picture's middle.

    With the source ``NONE`` the heights are None. When the level was given, ``found`` is where the
    sightings alone put it; where both edges and rims fix it, ``by_edges`` and ``by_rims`` are what
    each alone says.
    """

    left_y_px: float | None
    right_y_px: float | None
    sd_px: float | None
    source: Source
    found: EyeLevel | None = None
    by_edges: EyeLevel | None = None
    by_rims: EyeLevel | None = None

    @property
    def middle_y_px(self) -> float | None:
        """Height at the picture's middle."""
        return None if self.left_y_px is None or self.right_y_px is None else (self.left_y_px + self.right_y_px) / 2

    def height_at(self, x_px: float, width_px: float) -> float | None:
        if self.left_y_px is None or self.right_y_px is None:
            return None
        return self.left_y_px + (self.right_y_px - self.left_y_px) * x_px / width_px


OPEN = EyeLevel(None, None, None, Source.NONE)


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
    ``off_sheet``: how far beyond the sheet, in sheet widths, negative to the left, zero on it.
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
    off_sheet: float | None = None
    own_x_px: float | None = None
    own_y_px: float | None = None
    own_direction_deg: float | None = None
    own_above_eye_level_px: float | None = None


def places_of(points: list[VanishingPoint]) -> dict[SlotKey, int]:
    """Where among ``points`` each family's stands."""
    return {(v.form, v.family, v.slope): k for k, v in enumerate(points)}


@dataclass(frozen=True)
class RimReading:
    """What belongs to a rim besides its degree.

    ``axis_*_sd``: of the minor axis' tilt (degrees); ``axis_turn_deg``: how far it must turn, positive
    anticlockwise, None where the rim is too round to have an axis; ``implied_ellipse``: the circle's exact image in
    its place; ``true_centre_px``: image of the circle's centre, which is not the ellipse's;
    ``diameter_px``: ends of the true diameter square to the sight, which the ellipse's widest part
    is nearer than; ``square_px``, ``touch_px``: the square round a standing rim along its form's
    families, and where the rim touches it; ``by_edges``, ``by_rims``: implied degree and its
    standard deviation from either alone; ``coverage_deg``: how much of the ellipse was laid;
    ``least_points``: how many points of its arc it must keep.
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
    least_points: int = 0
    faults: tuple[Fault, ...] = ()


@dataclass(frozen=True)
class Finding:
    """A sighting with its triple and verdict; units by kind (degrees, ratio, pixels, metres). Of a division ``sighted``
    is the part as it is drawn, ``implied`` where it truly stands.

    ``vanishing_point``: place in the result's list of the point that it runs to, or its axis does.
    """

    sighting: str
    kind: Kind
    judged: float | None
    sighted: float | None
    sighted_sd: float | None
    implied: float | None
    implied_sd: float | None
    verdict: Verdict
    reason: Reason
    rim: RimReading | None = None
    vanishing_point: int | None = None

    @property
    def is_measure(self) -> bool:
        """Whether others are measured by it: it is compared with nothing."""
        return self.reason.rule in (Rule.UNIT, Rule.MEASURE)


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
    AGAINST_PICTURE = "against-picture"
    STRAY = "stray"
    STRAYS = "strays"
    PAIR = "pair"
    DISAGREE = "disagree"
    SAME_LINE = "same-line"
    OUTSIDE = "outside"
    CROSSING = "crossing"
    WIDE = "wide"
    NO_CONVERGENCE = "no-convergence"
    OFF_STRAIGHT = "off-straight"
    EDGES_AGAINST_RIMS = "edges-against-rims"
    SHORT_ARC = "short-arc"
    UNEXAMINED = "unexamined"
    MORE_CROSSINGS = "more-crossings"
    EQUAL_PARTS = "equal-parts"
    UNEQUAL_PARTS = "unequal-parts"
    NOT_SHRINKING = "repeats-not-shrinking"
    APEX_OVER_CENTRE = "apex-over-centre"
    APEX_OFF_CENTRE = "apex-off-centre"
    EQUALLY_TALL = "equally-tall"
    OUTSIDE_CONE = "outside-the-cone"


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


class WhyNot(StrEnum):
    """Why a side of a form has no length."""

    NOT_SIGHTED = "not-sighted"
    ENDS_HIDDEN = "ends-hidden"
    LENS_OPEN = "lens-open"
    TOO_LOOSE = "too-loose"
    STRAYS = "strays"
    NO_VIEW = "no-view"


Sides = dict[Family, float | None]


@dataclass(frozen=True)
class Proportions:
    """The sides of a form's enclosing box by family, in lengths of its ``unit``, with standard deviations, and in
    metres where a measure is known; ``why_not``: for those that the sightings cannot fix. ``span``: which two values of
    the solved form each side lies between.
    """

    form: str
    unit: Family | None
    size: Sides
    size_sd: Sides
    why_not: dict[Family, WhyNot]
    span: dict[Family, tuple[int, int]] = field(default_factory=dict)
    size_m: Sides = field(default_factory=dict)
    size_sd_m: Sides = field(default_factory=dict)


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
    forms: list[Proportions] = field(default_factory=list)
