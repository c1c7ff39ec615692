"""Why a sighting is judged as it is, as plain data: one reason for each kind.

Points and lengths are pixels of the original picture, angles degrees.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from aspectum.core.sightings import Guide, PartAlong, Plane, Point, Side


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
    NOT_TRUE_TO_FRONT = "not-true-to-the-front"
    MISSES_ZENITH = "misses-the-zenith"
    MISSES_NADIR = "misses-the-nadir"
    OFF_ITS_PLAN = "off-its-plan-direction"
    ONE_OF_A_PAIR = "one-of-a-pair"
    TAKE_AGAIN = "take-again"
    TOO_WEAK = "too-weak"
    SHORT_EDGE = "short-edge"
    OUT_OF_LINE = "out-of-line"
    NOTHING_TO_CHECK = "nothing-to-check"
    UNEXAMINED = "unexamined"
    RATIO = "ratio"
    UNIT = "unit"
    JUDGED_LONG = "judged-long"
    JUDGED_SHORT = "judged-short"
    TOO_LONG = "too-long"
    TOO_SHORT = "too-short"
    RIM_TOO_FLAT = "rim-too-flat"
    RIM_TOO_ROUND = "rim-too-round"
    A_CIRCLE = "a-circle"
    RIM_NOT_A_CIRCLE = "rim-not-a-circle"
    ONLY_LEVEL_RIMS = "only-level-rims"
    BASE_FLATTER = "base-flatter-than-mouth"
    FAR_END_FLATTER = "far-end-flatter-than-near"
    OPENED_AT_EYE_LEVEL = "opened-at-eye-level"
    BOWS_WRONG_WAY = "bows-the-wrong-way"
    AXIS_OFF = "minor-axis-off"
    AXIS_TOO_WEAK = "minor-axis-too-weak"
    NOT_ON_AXIS = "not-on-the-axis"
    SIDE_MISSES = "side-not-tangent"
    CORNER = "corner"
    POINTED_ENDS = "pointed-ends"
    FLAT_SPOT = "flat-spot"
    LOPSIDED = "lopsided"
    STRAIGHT_SIDES = "straight-sides"
    SHORT_ARC = "short-arc"
    TILT = "tilt"
    FLAT = "flat"
    NOT_FLAT = "not-flat"
    CROSSES_ITSELF = "crosses-itself"
    BY_ITS_CORNERS = "by-its-corners"
    PART = "part"
    JUDGED_TOO_LITTLE = "judged-too-little"
    JUDGED_TOO_MUCH = "judged-too-much"
    MEASURED_NOT_CONSTRUCTED = "measured-not-constructed"
    MEASURE = "measure"
    NO_MEASURE = "no-measure"
    NOT_ON_THE_GROUND = "not-on-the-ground"
    TOO_TALL = "too-tall"
    TOO_SMALL = "too-small"


@dataclass(frozen=True)
class EdgeReason:
    """Why an edge, laid or read from life, is judged as it is.

    ``turn_deg``: how far, and which way, it must turn to agree (positive: anticlockwise in the
    picture, so that a right-hand end rises). ``far_end_px``: how far that moves the end that lies
    away from the viewer (positive = up for receding edges, right for uprights).
    ``above_eye_level_px``: height of its middle over eye level. ``others``: ids of the sightings it
    is weighed against. ``far_near_ratio``: far over near length for a pair that opens.
    """

    rule: Rule
    turn_deg: float = 0.0
    far_end_px: float | None = None
    above_eye_level_px: float | None = None
    lean_deg: float | None = None
    implied_lean_deg: float | None = None
    goes: Side | None = None
    others: tuple[str, ...] = ()
    far_near_ratio: float | None = None


@dataclass(frozen=True)
class RimReason:
    """Why a rim is judged as it is. ``open_deg``: by how much it must open (negative: close) to agree;
    ``above_eye_level_px``: height of its centre over eye level.
    """

    rule: Rule
    open_deg: float = 0.0
    above_eye_level_px: float | None = None
    plane: Plane = Plane.LEVEL
    others: tuple[str, ...] = ()


@dataclass(frozen=True)
class LengthReason:
    """Why a length is judged as it is. ``fraction``: the nearest simple part of the unit, and
    ``over_share`` by which share the length exceeds it; ``others``: the unit it is compared with.
    """

    rule: Rule
    fraction: str | None = None
    over_share: float = 0.0
    others: tuple[str, ...] = ()


@dataclass(frozen=True)
class AlignmentReason:
    """Why an alignment is judged as it is: which guide it was laid against."""

    rule: Rule
    guide: Guide
    others: tuple[str, ...] = ()


@dataclass(frozen=True)
class FaceReason:
    """Why a face is judged as it is. ``miss_px``: by how much its worst corner misses a flat face of its form."""

    rule: Rule
    miss_px: float | None = None
    others: tuple[str, ...] = ()


@dataclass(frozen=True)
class PartReason:
    """Why a division is judged as it is. ``fraction``: the nearest simple part of the face, and ``over_share`` by which
    share the true part exceeds it; ``along``: the way the part is counted; ``line``: the part drawn right across the
    face (px); ``others``: the face.
    """

    rule: Rule
    along: PartAlong
    fraction: str | None = None
    over_share: float = 0.0
    line: tuple[Point, Point] | None = None
    others: tuple[str, ...] = ()


@dataclass(frozen=True)
class HeightReason:
    """Why a height is judged as it is. ``eyes``: how many eye heights it is, with ``eyes_sd``; ``others``: what it is
    measured by.
    """

    rule: Rule
    eyes: float | None = None
    eyes_sd: float | None = None
    others: tuple[str, ...] = ()


Reason = EdgeReason | RimReason | LengthReason | AlignmentReason | FaceReason | PartReason | HeightReason


@dataclass(frozen=True)
class Fault:
    """One thing that is off about a rim.

    ``turn_deg``: by how much it must open, or its minor axis turn anticlockwise; ``size_px``: how far
    it strays (off the axis: positive to the right; a side: positive outside the rim), and ``share``
    of the rim's width that this is. ``sure`` is False where the evidence cannot tell which of
    ``others`` or this one is wrong. ``above_eye_level_px``: where the rim lies.
    """

    rule: Rule
    turn_deg: float | None = None
    size_px: float | None = None
    others: tuple[str, ...] = ()
    share: float | None = None
    sure: bool = True
    above_eye_level_px: float | None = None
