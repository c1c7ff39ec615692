"""The critique of a drawing (``aspectum-critique``)."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from aspectum.core.drawing.candidates import CauseKind, Which
from aspectum.core.drawing.critique import Direction, Unit
from aspectum.core.drawing.own import Meets
from aspectum.core.drawing.readings import What
from aspectum.core.sightings import Family, Kind
from aspectum.core.tolerance import Verdict
from aspectum.formats.answers import Part
from aspectum.formats.report import ReportEllipse
from aspectum.formats.sheet import OwnTolerance

Place = tuple[float, float]


class CritiqueReading(Part):
    """One number of a sighting beside its subject's: tilts, degrees and axes in degrees, lengths and widths in near
    uprights with their ``difference`` as a share, parts of a face from 0 to 1. ``sd``: of the difference, by the points
    laid on both pictures.
    """

    of: What
    subject: float
    drawing: float
    difference: float
    sd: float
    verdict: Verdict


class CritiqueFinding(Part):
    """A sighting's main number (``of``), and all others under ``also``. ``words`` tells all of them. Uprights also
    carry their leans, degrees from plumb, positive to the right.
    """

    sighting: str
    kind: Kind
    of: What
    subject: float
    drawing: float
    difference: float
    sd: float
    verdict: Verdict
    subject_lean_deg: float | None = None
    drawing_lean_deg: float | None = None
    words: str
    also: list[CritiqueReading] = Field(default_factory=list)


class CritiqueLine(Part):
    """A line where it belongs, px of the drawing; ``moves_mm``: right and up, of the end ``far`` that moves more."""

    sighting: str
    p: Place
    q: Place
    far: Literal["p", "q"]
    moves_mm: Place


class CritiqueRim(Part):
    """A rim as it belongs."""

    sighting: str
    ellipse: ReportEllipse


class CritiqueMeeting(Part):
    """Where a family meets once the cause is mended, mm from the sheet's top-left corner."""

    form: str
    family: Family
    x_mm: float
    y_mm: float


class CritiqueCause(Part):
    """``size`` in ``unit``, with its standard deviation; ``explains``: its share of the weighted squared differences;
    ``sightings``: the most moved first; ``of``: of a stray, which number is off; ``advice``: what to do on the paper;
    ``instead``: what it cannot be told from; ``mended``, ``mended_rims``: the drawing with it put right.
    """

    cause: CauseKind
    form: str | None = None
    family: Family | None = None
    which: Which | None = None
    direction: Direction
    size: float
    size_sd: float
    unit: Unit
    explains: float
    sightings: list[str]
    of: What | None = None
    words: str
    advice: str
    instead: str | None = None
    mended: list[CritiqueLine] = Field(default_factory=list)
    mended_rims: list[CritiqueRim] = Field(default_factory=list)
    meets: list[CritiqueMeeting] = Field(default_factory=list)


class CritiqueGhost(Part):
    """Where a line would run in the drawing's own scale, px of the drawing; ``apart_mm``: how far its farther end lies
    from the drawn one.
    """

    sighting: str
    p: Place
    q: Place
    apart_mm: float


class CritiqueOver(Part):
    """The subject's picture laid over the drawing's: its pixels ``scale`` of the drawing's, its top-left corner at
    ``at``.
    """

    scale: float
    at: Place


class OwnFamilyPart(Part):
    """Where a family meets on the paper by itself, mm from the top-left corner, ``above_mm`` the drawing's own eye
    level.
    """

    form: str
    family: Family
    sightings: list[str]
    meets: Meets
    x_mm: float | None = None
    y_mm: float | None = None
    above_mm: float | None = None
    words: str


class OwnGap(Part):
    sightings: list[str]
    gap_mm: float


class OwnPart(Part):
    """A drawing on its own terms. Heights are mm from the sheet's top, at its middle."""

    families: list[OwnFamilyPart]
    eye_level_mm: float | None = None
    by_left_mm: float | None = None
    by_right_mm: float | None = None
    by_rims_mm: float | None = None
    lean_deg: float | None = None
    lean_spread_deg: float | None = None
    gaps: list[OwnGap]
    words: list[str]


class Critique(Part):
    """A drawing against its subject (``subject`` null: on its own terms alone). ``causes``: at most three, most
    explanatory first.
    """

    format: Literal["aspectum-critique"] = "aspectum-critique"
    version: Literal[1] = 1
    subject: str | None
    drawing: str
    scale_mm_per_px: float | None = None
    findings: list[CritiqueFinding] = Field(default_factory=list)
    causes: list[CritiqueCause] = Field(default_factory=list)
    holds: list[str] = Field(default_factory=list)
    notes: list[str] = Field(default_factory=list)
    missing: list[str] = Field(default_factory=list)
    laid_over: CritiqueOver | None = None
    ghosts: list[CritiqueGhost] = Field(default_factory=list)
    ghost_rims: list[CritiqueRim] = Field(default_factory=list)
    own: OwnPart
    tolerance: OwnTolerance
