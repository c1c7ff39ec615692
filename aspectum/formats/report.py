"""The report of a check (``aspectum-report``)."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from aspectum.formats.sheet import FamilyName, PerspectiveName

VerdictName = Literal["holds", "off", "unsure"]


class Part(BaseModel):
    """Every entry is always written, so a reader may rely on it."""

    model_config = ConfigDict(extra="forbid", json_schema_serialization_defaults_required=True)


class FoundEyeLevel(Part):
    """Where the sightings alone put eye level; ``set_above_px``: how far a given one lies above."""

    left_y_px: float
    right_y_px: float
    sd_px: float
    set_above_px: float
    source: Literal["edges", "rims", "edges and rims"] = "edges"


class AloneEyeLevel(Part):
    """Where edges alone, or rims alone, put eye level."""

    left_y_px: float
    right_y_px: float
    sd_px: float


SourceName = Literal["edges", "rims", "edges and rims", "given", "none"]


class ReportEyeLevel(Part):
    left_y_px: float | None = None
    right_y_px: float | None = None
    sd_px: float | None = None
    source: SourceName
    found: FoundEyeLevel | None = None
    by_edges: AloneEyeLevel | None = None
    by_rims: AloneEyeLevel | None = None


class ReportCamera(Part):
    focal_px: float | None = None
    focal_sd_px: float | None = None
    view_deg: float | None = None
    pitch_deg: float | None = None
    pitch_sd_deg: float | None = None
    roll_deg: float | None = None
    roll_sd_deg: float | None = None


class ReportVanishingPoint(Part):
    """``own_*``: where the family lands when solved alone; ``own_above_eye_level_px``: its height
    over eye level there.
    """

    form: str | None = None
    family: FamilyName
    slope: str | None = None
    x_px: float | None = None
    y_px: float | None = None
    direction_deg: float | None = None
    sd_px: float | None = None
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
    """One thing that is off about a rim: ``size`` in degrees for opening and axis, pixels for the
    rest; ``sure`` is false where this rim or one of ``others`` may be the wrong one.
    """

    rule: str
    size: float
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
    square round a standing rim and where the rim touches it; ``guide_deg``: nearest ellipse guide.
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
    faults: list[ReportFault] = Field(default_factory=list)


class ReportFinding(Part):
    """``rule``: the quick rule behind the verdict; ``turn_deg``: signed turn from sighted to
    implied, positive anticlockwise; ``far_end_px``: how far that moves the edge's far end, up or
    to the right positive; ``others``: sightings it is weighed against. Uprights also carry their
    leans, degrees from plumb, positive to the right.
    """

    sighting: str
    kind: Literal["edge", "rim", "length", "alignment"]
    judged: float | None = None
    sighted: float | None = None
    sighted_sd: float | None = None
    implied: float | None = None
    implied_sd: float | None = None
    verdict: VerdictName
    words: str
    judged_words: str = ""
    rule: str
    turn_deg: float = 0.0
    far_end_px: float | None = None
    others: list[str] = Field(default_factory=list)
    judged_lean_deg: float | None = None
    sighted_lean_deg: float | None = None
    implied_lean_deg: float | None = None
    axis_sighted_deg: float | None = None
    axis_implied_deg: float | None = None
    minor_px: float | None = None
    major_px: float | None = None
    centre_px: tuple[float, float] | None = None
    rim: ReportRim | None = None


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


class ReportSide(Part):
    side: Literal["left", "right"]
    distance_units: float | None = None
    distance_sd: float | None = None
    eye_level_down: float | None = None
    eye_level_sd: float | None = None
    opens: bool = False


class ReportNearCorner(Part):
    """From tilts read at the near upright, in near-upright units; eye levels as shares of the way
    down from its top (negative: above it).
    """

    left: ReportSide
    right: ReportSide
    eye_level_down: float | None = None
    eye_level_sd: float | None = None
    agree: bool | None = None
    retake: str | None = None
    retake_tilt_deg: float | None = None
    words: str


class Report(Part):
    format: Literal["aspectum-report"] = "aspectum-report"
    version: Literal[1] = 1
    file: str | None = None
    perspective: PerspectiveName
    eye_level: ReportEyeLevel
    camera: ReportCamera | None = None
    vanishing_points: list[ReportVanishingPoint] = Field(default_factory=list)
    findings: list[ReportFinding] = Field(default_factory=list)
    level_rail: list[ReportRailMark] = Field(default_factory=list)
    ladders: list[ReportLadder] = Field(default_factory=list)
    near_corner: ReportNearCorner | None = None
    notes: list[str] = Field(default_factory=list)
