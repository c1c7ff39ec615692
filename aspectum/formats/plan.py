"""The plan of a sheet of paper (``aspectum-plan``): where a subject falls on it, and how to lay it in.

Places are millimetres from the sheet's top-left corner, x right, y down.
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from aspectum.core.aids.standpoint import ViewKind
from aspectum.core.plan.lay_in import StepKind
from aspectum.core.plan.placing import Leaves
from aspectum.core.sightings import Family
from aspectum.core.tolerance import Verdict
from aspectum.formats.answers import Part

OnPaper = tuple[float, float]


class PlanLimits(Part):
    """The drawing's four outer limits."""

    left: float
    top: float
    right: float
    bottom: float


class PlanEyeLevel(Part):
    """Where eye level crosses the sheet's left and right side, from the top; it may lie off the sheet."""

    left: float
    right: float
    sd: float | None = None


class PlanPoint(Part):
    """A vanishing point. ``off_sheet_cm`` beyond the sheet's nearest ``side``, negative on the sheet; ``in_reach``:
    near enough to be pinned beside the board. At infinity all but ``direction_deg`` are null.
    """

    form: str | None = None
    family: Family
    slope: str | None = None
    x_mm: float | None = None
    y_mm: float | None = None
    direction_deg: float | None = None
    off_sheet_cm: float | None = None
    side: str | None = None
    sd_mm: float | None = None
    in_reach: bool
    words: str


class PlanMark(Part):
    """A ruler from ``a`` to ``b``, on opposite sides of the sheet, aims at the point. ``number``: up from eye level."""

    number: int
    a: OnPaper
    b: OnPaper


class PlanEdgeScale(Part):
    form: str | None = None
    family: Family
    slope: str | None = None
    marks: list[PlanMark]


class PlanTilt(Part):
    """``units``: near uprights above eye level."""

    units: float
    y_mm: float
    tilt_deg: float


class PlanTilts(Part):
    """A family's tilts up and down the vertical at ``x_mm``, and its ``fan`` across the sheet."""

    form: str | None = None
    family: Family
    slope: str | None = None
    x_mm: float
    rows: list[PlanTilt]
    fan: list[tuple[OnPaper, OnPaper]]


class PlanStep(Part):
    """A step of the lay-in. ``length_units``: in near uprights; of a rim ``tilt_deg`` is its minor axis',
    ``crossing_mm`` is where diagonals cross.
    """

    number: int
    step: StepKind
    form: str | None = None
    family: Family | None = None
    sighting: str | None = None
    p_mm: OnPaper | None = None
    q_mm: OnPaper | None = None
    tilt_deg: float | None = None
    length_mm: float | None = None
    length_units: float | None = None
    centre_mm: OnPaper | None = None
    major_mm: float | None = None
    minor_mm: float | None = None
    crossing_mm: OnPaper | None = None
    verdict: Verdict | None = None
    words: str


class PlanWarning(Part):
    leaves: Leaves
    by_mm: float
    sides: list[str]
    words: str


class Plan(Part):
    """``scale_mm_per_px`` for a subject on a photo, ``scale_mm_per_unit`` for one read from life, ``near_upright_mm``
    for both; ``origin_mm``: where the subject's own origin falls, the picture's corner or the near upright's top;
    ``anchor_mm``: how far down the anchor line lies; ``cone_mm``: radius of the cone of vision round ``centre_mm``.
    """

    format: Literal["aspectum-plan"] = "aspectum-plan"
    version: Literal[1] = 1
    file: str | None = None
    title: str = ""
    paper_mm: tuple[float, float]
    margin_mm: float
    scale_mm_per_px: float | None = None
    scale_mm_per_unit: float | None = None
    near_upright_mm: float | None = None
    origin_mm: OnPaper
    limits_mm: PlanLimits
    anchor_mm: float | None = None
    eye_level_mm: PlanEyeLevel | None = None
    view: ViewKind | None = None
    centre_mm: OnPaper | None = None
    cone_mm: float | None = None
    vanishing_points: list[PlanPoint] = Field(default_factory=list)
    edge_scales: list[PlanEdgeScale] = Field(default_factory=list)
    tilts: list[PlanTilts] = Field(default_factory=list)
    steps: list[PlanStep] = Field(default_factory=list)
    warnings: list[PlanWarning] = Field(default_factory=list)
    notes: list[str] = Field(default_factory=list)
