"""What a report says of readings taken from life."""

from __future__ import annotations

from pydantic import Field

from aspectum.core.life.readings import Of
from aspectum.core.sightings import Along, Kind, Side
from aspectum.core.tolerance import Verdict
from aspectum.formats.answers import Part

Place = tuple[float, float]


class ReportSide(Part):
    """``*_low``, ``*_high``: what holds the truth in 95 of 100; a distance without a high end may be as far as you
    like.
    """

    side: Side
    distance_units: float | None = None
    distance_sd: float | None = None
    distance_low: float | None = None
    distance_high: float | None = None
    eye_level_down: float | None = None
    eye_level_sd: float | None = None
    opens: bool = False


class ReportNearCorner(Part):
    """From all that was read at a form's near upright, in near-upright units; eye levels as shares of the way down from
    its top (negative: above it). ``retake``: the reading to take again, ``retake_instead`` another that may be wrong in
    its place; ``left_out`` takes no part in the figures. ``focal_units``: how far the eye is from the near upright.
    """

    form: str
    left: ReportSide
    right: ReportSide
    eye_level_down: float | None = None
    eye_level_sd: float | None = None
    eye_level_low: float | None = None
    eye_level_high: float | None = None
    agree: bool | None = None
    retake: str | None = None
    retake_instead: str | None = None
    retake_tilt_deg: float | None = None
    retake_due: float | None = None
    left_out: str | None = None
    focal_units: float | None = None
    words: str


class ReportSlot(Part):
    """One thing to be read, in the order in which it is best taken; ``sighting`` once it was."""

    form: str
    kind: Kind
    p: Place
    q: Place
    side: Side | None = None
    end: float | None = None
    along: Along | None = None
    of: Of | None = None
    sighting: str | None = None
    words: str


class ReportLine(Part):
    form: str
    p: Place
    q: Place
    known: bool
    side: Side | None = None


class ReportDrawnRim(Part):
    sighting: str
    centre: Place
    major: float
    minor: float


class ReportDrawnPoint(Part):
    form: str
    side: Side
    at: Place
    near_x: float | None = None
    far_x: float | None = None


class ReportSchematic(Part):
    """The near corner drawn from what was read so far, in near-upright units: x right, y down from its top."""

    slots: list[ReportSlot]
    lines: list[ReportLine]
    rims: list[ReportDrawnRim]
    points: list[ReportDrawnPoint]
    eye_level: float | None = None
    eye_level_low: float | None = None
    eye_level_high: float | None = None


class ReportThumb(Part):
    """What the stick's mark for the near upright tells: the angle it takes up, and how far away it is where its height
    is known.
    """

    arm_mm: float
    unit_mm: float
    subtends_deg: float
    subtends_sd: float
    distance_m: float | None = None
    distance_sd: float | None = None


class ReportFromLife(Part):
    """A reading taken from life: each time it was read, their ``spread``, and which of them ``strays`` (places in the
    list). Of a rim its ratio as drawn and its degree by looking. Of an edge that is laid on a photo as well: what the
    card says of the reading, and how the two compare.
    """

    sighted: float
    sighted_sd: float
    readings: list[float]
    spread: float | None = None
    strays: list[int] = Field(default_factory=list)
    differ: bool = False
    words: str = ""
    drawn_ratio: float | None = None
    looking_deg: float | None = None
    looking_sd: float | None = None
    card_verdict: Verdict | None = None
    photo_gap_deg: float | None = None
    photo_verdict: Verdict | None = None
