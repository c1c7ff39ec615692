"""The report of a check (``aspectum-report``)."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from aspectum.core.aids.standpoint import Beside, Lies, ViewKind
from aspectum.core.findings import Source
from aspectum.core.reasons import Rule
from aspectum.core.sightings import Family, Kind, Perspective
from aspectum.core.tolerance import Verdict
from aspectum.formats.answers import Part
from aspectum.formats.life import ReportFromLife, ReportNearCorner, ReportSchematic, ReportThumb
from aspectum.formats.sheet import OwnTolerance
from aspectum.formats.sightings import FaceFamily


class FoundEyeLevel(Part):
    """Where the sightings alone put eye level; ``set_above_px``: how far a given one lies above."""

    left_y_px: float
    right_y_px: float
    middle_y_px: float
    sd_px: float
    set_above_px: float
    source: Literal[Source.EDGES, Source.RIMS, Source.BOTH] = Source.EDGES


class AloneEyeLevel(Part):
    """Where edges alone, or rims alone, put eye level."""

    left_y_px: float
    right_y_px: float
    middle_y_px: float
    sd_px: float


class JudgedEyeLevel(Part):
    """Where eye level was said to lie by eye. ``error``: near uprights by which it was said too high, null while there
    is no near upright, or nothing to hold it against; ``skill``: of the record, in words.
    """

    left_y_px: float
    right_y_px: float
    error: float | None = None
    skill: str = ""
    words: str


class ReportEyeLevel(Part):
    """``middle_y_px``: its height at the picture's middle."""

    left_y_px: float | None = None
    right_y_px: float | None = None
    middle_y_px: float | None = None
    sd_px: float | None = None
    source: Source
    found: FoundEyeLevel | None = None
    by_edges: AloneEyeLevel | None = None
    by_rims: AloneEyeLevel | None = None
    judged: JudgedEyeLevel | None = None


class ReportCamera(Part):
    """``cone_radius_px``: of the 60° cone of vision about ``centre_px``, the centre of vision."""

    focal_px: float | None = None
    focal_sd_px: float | None = None
    view_deg: float | None = None
    pitch_deg: float | None = None
    pitch_sd_deg: float | None = None
    roll_deg: float | None = None
    roll_sd_deg: float | None = None
    centre_px: tuple[float, float] | None = None
    cone_radius_px: float | None = None


class ReportVanishingPoint(Part):
    """``off_sheet``: how far beyond the sheet, in sheet widths, negative to the left, and ``words`` for
    it; ``own_*``: where the family lands when solved alone; ``own_above_eye_level_px``: its height
    over eye level there.
    """

    form: str | None = None
    family: Family
    slope: str | None = None
    x_px: float | None = None
    y_px: float | None = None
    direction_deg: float | None = None
    sd_px: float | None = None
    off_sheet: float | None = None
    words: str
    own_x_px: float | None = None
    own_y_px: float | None = None
    own_direction_deg: float | None = None
    own_above_eye_level_px: float | None = None


class ReportEllipse(Part):
    """Full axes; ``axis_deg``: tilt of the minor axis."""

    centre_px: tuple[float, float]
    major_px: float
    minor_px: float
    axis_deg: float
    degree_deg: float


class ReportFault(Part):
    """One thing that is off about a rim. ``turn_deg``: by how much it must open, or its minor axis
    turn anticlockwise; ``size_px``: how far it strays, and ``share`` of its width that this is;
    ``sure`` is false where this rim or one of ``others`` may be the wrong one.
    """

    rule: Rule
    turn_deg: float | None = None
    size_px: float | None = None
    share: float | None = None
    others: list[str] = Field(default_factory=list)
    sure: bool = True
    words: str


class ReportAlone(Part):
    """A degree implied by edges alone, or by the other rims alone."""

    degree_deg: float
    sd_deg: float


class ReportRim(Part):
    """What a rim's finding carries besides its degree. ``axis_turn_deg``: how far the minor axis must
    turn, positive anticlockwise, null for a rim too round to have an axis; ``true_centre_px``: image of the circle's
    centre; ``diameter_px``: its true diameter square to the sight; ``square_px``, ``touch_px``: the
    square round a standing rim and where the rim touches it; ``guide_deg``: nearest ellipse guide;
    ``least_points``: how many points of its arc the rim must keep.
    """

    axis_sighted_sd: float
    axis_implied_sd: float | None = None
    axis_turn_deg: float | None = None
    axis_turn_sd: float | None = None
    sighted_ellipse: ReportEllipse
    implied_ellipse: ReportEllipse | None = None
    true_centre_px: tuple[float, float] | None = None
    diameter_px: tuple[tuple[float, float], tuple[float, float]] | None = None
    square_px: list[tuple[float, float]] = Field(default_factory=list)
    touch_px: list[tuple[float, float]] = Field(default_factory=list)
    by_edges: ReportAlone | None = None
    by_rims: ReportAlone | None = None
    guide_deg: int | None = None
    coverage_deg: float
    least_points: int
    faults: list[ReportFault] = Field(default_factory=list)


class ReportFinding(Part):
    """``rule``: the quick rule behind the verdict; ``turn_deg``: of an edge, signed turn from sighted to implied,
    positive anticlockwise; ``far_end_px``: how far that moves the edge's far end, up or to the right positive;
    ``others``: sightings it is weighed against. Uprights also carry their leans, degrees from plumb, positive to the
    right. ``vanishing_point``: which of the report's the sighting runs to, or its axis does; ``over_share``: of a
    length, the share by which it exceeds ``fraction`` of the unit, of a division by which its true part exceeds
    ``fraction`` of the face. ``part``: where a division truly stands, ``part_line_px``: drawn right across its face;
    ``eye_heights``: how many a height is. ``true``: on a sheet of the model stand, what the set-up itself says of an
    edge's tilt or a rim's degree. ``miss_words``: how far an alignment's points miss one another, as a hand compares
    it; ``measure``: others are measured by it, so that it is compared with nothing and has no verdict of its own.
    ``skill``: which skill of the record a judgement counts for, in words.
    """

    sighting: str
    kind: Kind
    judged: float | None = None
    sighted: float | None = None
    sighted_sd: float | None = None
    implied: float | None = None
    implied_sd: float | None = None
    verdict: Verdict
    words: str
    judged_words: str = ""
    judged_by: str = ""
    miss_words: str = ""
    measure: bool = False
    skill: str = ""
    rule: Rule
    turn_deg: float = 0.0
    far_end_px: float | None = None
    others: list[str] = Field(default_factory=list)
    judged_lean_deg: float | None = None
    sighted_lean_deg: float | None = None
    implied_lean_deg: float | None = None
    true: float | None = None
    true_lean_deg: float | None = None
    vanishing_point: int | None = None
    fraction: str | None = None
    over_share: float | None = None
    part: float | None = None
    part_sd: float | None = None
    part_line_px: tuple[tuple[float, float], tuple[float, float]] | None = None
    eye_heights: float | None = None
    eye_heights_sd: float | None = None
    axis_sighted_deg: float | None = None
    axis_implied_deg: float | None = None
    minor_px: float | None = None
    major_px: float | None = None
    centre_px: tuple[float, float] | None = None
    rim: ReportRim | None = None
    from_life: ReportFromLife | None = None


class ReportRung(Part):
    y_px: float
    units: float
    ellipse: ReportEllipse
    ratio: float
    guide_deg: int | None = None


class ReportLadder(Part):
    """The rims that a form must have up and down its axis, as wide as the rim ``like``."""

    form: str
    like: str
    rungs: list[ReportRung]


class ReportRailMark(Part):
    y_px: float
    units: float
    degree_deg: float | None = None


class ReportFirstGuess(Part):
    """The family of an edge just laid where nobody can be asked: ``plumb_family`` within
    ``plumb_deg`` of plumb, else ``else_family``.
    """

    plumb_deg: float
    plumb_family: FaceFamily
    else_family: FaceFamily


class ReportStanding(Part):
    """How a form stands to the eye: against eye level, and, where it faces the picture, to which side of its
    vanishing point.
    """

    form: str
    lies: Lies
    beside: Beside | None = None
    words: str


class ReportForm(Part):
    """True lengths of a form's enclosing box along its families, in lengths of its ``unit``, which counts 1; what the
    sightings cannot fix is null, and ``why_not`` says why. ``size_m`` where a height is known. ``words``: one line a
    side.
    """

    form: str
    unit: Family | None = None
    size: dict[Family, float | None]
    size_sd: dict[Family, float | None]
    why_not: dict[Family, str]
    size_m: dict[Family, float | None] | None = None
    size_sd_m: dict[Family, float | None] | None = None
    words: list[str]


class Report(Part):
    """``tolerance``: what it was judged by; ``view``: by where eye level lies; ``near_corner``: the first form's, of
    all ``near_corners`` read from life, and ``schematic`` drawn from them; ``judgements``: how those made by eye ran, a
    line for each kind.
    """

    format: Literal["aspectum-report"] = "aspectum-report"
    version: Literal[1] = 1
    file: str | None = None
    perspective: Perspective
    eye_level: ReportEyeLevel
    camera: ReportCamera | None = None
    vanishing_points: list[ReportVanishingPoint] = Field(default_factory=list)
    findings: list[ReportFinding] = Field(default_factory=list)
    level_rail: list[ReportRailMark] = Field(default_factory=list)
    ladders: list[ReportLadder] = Field(default_factory=list)
    near_corner: ReportNearCorner | None = None
    near_corners: list[ReportNearCorner] = Field(default_factory=list)
    schematic: ReportSchematic | None = None
    thumb: ReportThumb | None = None
    first_guess: ReportFirstGuess
    tolerance: OwnTolerance
    view: ViewKind | None = None
    standings: list[ReportStanding] = Field(default_factory=list)
    forms: list[ReportForm] = Field(default_factory=list)
    judgements: list[str] = Field(default_factory=list)
    notes: list[str] = Field(default_factory=list)
