"""A critique: every sighting of a drawing beside its subject's, the causes with what to do on the paper, and what
holds.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace
from enum import StrEnum

import numpy as np

from aspectum.core.drawing.accounts import Account, accounted, unit_lengths
from aspectum.core.drawing.candidates import Candidate, CauseKind, Which
from aspectum.core.drawing.causes import Cause, Level, Rival
from aspectum.core.drawing.closed import Closed, Drawn, Way
from aspectum.core.drawing.compare import Compared, Laid
from aspectum.core.drawing.mending import MendedLine, Paper
from aspectum.core.drawing.readings import LENGTHS, Reading, Readings, What
from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.plane.lines import Floats, tilt_difference
from aspectum.core.sightings import Alignment, Division, Edge, Family, Length, Point, Rim
from aspectum.core.tolerance import Tolerances, Verdict, verdict


class Direction(StrEnum):
    """Which way a cause goes."""

    TOO_HIGH = "too-high"
    TOO_LOW = "too-low"
    TOO_NEAR = "too-near"
    TOO_FAR = "too-far"
    LEFT = "left"
    RIGHT = "right"
    TOO_WIDE = "too-wide"
    TOO_NARROW = "too-narrow"
    TOO_TALL = "too-tall"
    TOO_SHORT = "too-short"
    TOO_LARGE = "too-large"
    TOO_SMALL = "too-small"
    TOO_FLAT = "too-flat"
    TOO_ROUND = "too-round"
    TOO_STEEP = "too-steep"
    TOO_SHALLOW = "too-shallow"
    TOO_LONG = "too-long"
    MISPLACED = "misplaced"
    CLOCKWISE = "clockwise"
    ANTICLOCKWISE = "anticlockwise"


class Unit(StrEnum):
    """What a cause's size is told in."""

    NEAR_UPRIGHT = "near upright"
    CONVERGENCE = "near uprights over its distance"
    DEGREES = "degrees"
    SHARE = "share"


@dataclass(frozen=True)
class Difference:
    """One number of a sighting, on the subject and on the drawing. Tilts in degrees, lengths and rims' widths in near
    uprights, whose ``difference`` is a share; ``main``: what its sighting is sighted for.
    """

    sighting: str
    what: What
    subject: float
    drawing: float
    difference: float
    sd: float
    verdict: Verdict
    main: bool


@dataclass(frozen=True)
class ToldCause:
    """A cause as it is told. ``size`` in ``unit``, never negative; ``of_what``: of a stray, what of it is off;
    ``instead``: what it cannot be told from; ``lines``, ``rims``: the drawing with this cause mended, by sighting;
    ``meets``: where its families then meet, mm from the sheet's top-left corner, by form and family.
    """

    cause: CauseKind
    form: str | None
    family: Family | None
    which: Which | None
    direction: Direction
    size: float
    size_sd: float
    unit: Unit
    explains: float
    sightings: tuple[str, ...]
    of_what: What | None
    instead: Instead | None
    lines: dict[str, MendedLine]
    rims: dict[str, Ellipse]
    meets: dict[tuple[str, Family], tuple[float, float]]


@dataclass(frozen=True)
class Instead:
    """A cause that explains a drawing about as well; ``tell_by``: the sighting that the two differ in most."""

    cause: CauseKind
    form: str | None
    family: Family | None
    direction: Direction
    tell_by: str | None


@dataclass(frozen=True)
class Hold:
    """Readings of one sort that are all within the tolerance; ``worst``: the largest difference among them."""

    what: What
    form: str | None
    family: Family | None
    sightings: tuple[str, ...]
    worst: float


@dataclass(frozen=True)
class Critique:
    """All of it. ``laid_over``: scale and corner of the subject's picture over the drawing's; ``ghosts``: where each
    line would run in the drawing's own scale (px of the drawing) and how far its farther end lies from the drawn one
    (mm), with its rims; ``missing``: sightings of the subject that are not on the drawing, ``extra`` those that only
    the drawing has; ``rough``: times the usual hand's error that the lines scatter. ``differences`` are of what was
    drawn by hand: what is printed on the paper, and the near upright in lengths of itself, are none. ``accounts``: what
    every cause explains, counted once, and ``left_over``: the differences that all causes together leave.
    """

    scale_mm_per_px: float | None
    differences: list[Difference]
    causes: list[ToldCause]
    holds: list[Hold]
    missing: list[str]
    extra: list[str]
    rough: float
    levels: list[Level] = field(default_factory=list)
    accounts: list[Account] = field(default_factory=list)
    left_over: list[Difference] = field(default_factory=list)
    laid_over: tuple[float, Point] | None = None
    ghosts: dict[str, tuple[Point, Point, float]] = field(default_factory=dict)
    ghost_rims: dict[str, Ellipse] = field(default_factory=dict)


OF_A_FAMILY = (CauseKind.VANISHING_POINT, CauseKind.DEPTH, CauseKind.TURNED)
HELD_FROM = 2  # readings of a sort that are worth a sentence together


def critique(compared: Compared, subject: Laid, drawing: Laid, tolerances: Tolerances) -> Critique:
    """Judge a compared drawing."""
    explained, mm = compared.explained, compared.mm_per_px
    differences = differences_of(compared, drawing, tolerances)
    accounts, kept = accounted(compared)
    drawn_ids, known = ids(drawing), ids(subject)
    paper = Paper(compared, drawing)
    return Critique(
        scale_mm_per_px=math.exp(explained.scale) if compared.readings.of else None,
        differences=differences,
        causes=[told(compared, cause, n, paper) for n, cause in enumerate(explained.causes)],
        holds=holding(compared, differences),
        missing=[id for id in known if id not in drawn_ids],
        extra=[id for id in drawn_ids if id not in known],
        rough=explained.rough,
        levels=explained.levels,
        accounts=accounts,
        left_over=[with_error(d, kept[k]) for k, d in zip(told_of(compared), differences, strict=True) if k in kept],
        laid_over=paper.laid_over() if compared.readings.of else None,
        ghosts=paper.ghosts(mm),
        ghost_rims=paper.ghost_rims(),
    )


def ids(laid: Laid) -> list[str]:
    """Every sighting that can be compared, in order of its kind."""
    m = laid.measured
    kinds: tuple[list[Edge] | list[Rim] | list[Length] | list[Alignment] | list[Division], ...]
    kinds = (laid.edges, laid.rims, m.lengths, m.alignments, m.divisions)
    return [sighting.id for kind in kinds for sighting in kind]


def differences_of(compared: Compared, drawing: Laid, tolerances: Tolerances) -> list[Difference]:
    """Every reading of the hand's own beside its subject's; lengths in near uprights, by the drawing's scale where that
    is not drawn.
    """
    readings, closed = compared.readings, compared.closed
    if not readings.of:
        return []
    still = closed.draw([], np.zeros(0))
    expected = readings.expected(still)
    unit = math.log(unit_length(closed, still))
    scale = unit_scale(compared, unit)
    found = []
    mains = {r.sighting: next(o.what for o in readings.of if o.sighting == r.sighting) for r in readings.of}
    for k in told_of(compared):
        reading = readings.of[k]
        value, due = float(readings.value[k]), float(expected[k])
        sd = reading_sd(compared, k, drawing)
        if reading.what in LENGTHS:
            gap = value - scale - due
            here, there, over = math.exp(due - unit), math.exp(value - scale - unit), math.expm1(gap)
            decided = verdict(over, sd, tolerances.length)
        elif reading.what is What.PART:
            here, there, over = due, value, value - due
            decided = verdict(over, sd, tolerances.length / 2)
        else:
            here, there = due, value
            over = value - due if reading.what is What.DEGREE else float(tilt_difference(value, due))
            decided = verdict(over, sd, float(readings.allowed[k]))
        found.append(
            Difference(
                reading.sighting, reading.what, here, there, over, sd, decided, reading.what is mains[reading.sighting]
            )
        )
    return found


def told_of(compared: Compared) -> list[int]:
    """Places of the readings that are told: all but what is printed, where lines meet, and the near upright measured by
    itself.
    """
    by_itself = set() if unit_astray(compared) else set(unit_lengths(compared))
    return [
        k
        for k, reading in enumerate(compared.readings.of)
        if reading.what is not What.SHIFT and not reading.given and k not in by_itself
    ]


def unit_astray(compared: Compared) -> bool:
    """Whether the near upright is itself drawn too long or too short, so that lengths are compared with all others
    instead.
    """
    return any(cause.of.on == (k,) for cause in compared.explained.counted for k in unit_lengths(compared))


def with_error(d: Difference, error: float) -> Difference:
    """A difference as it would be with another ``error``: degrees, or a share of a length."""
    return replace(d, drawing=d.subject * (1.0 + error) if d.what in LENGTHS else d.subject + error, difference=error)


def unit_length(closed: Closed, drawn: Drawn) -> float:
    """The near upright on the subject, px."""
    if closed.unit is None:
        return closed.unit_px
    return max(math.dist(*drawn.points[list(closed.unit)]), 1e-9)


def unit_scale(compared: Compared, unit: float) -> float:
    """Log of mm a pixel by the near upright, or by all lengths where it is not drawn, or drawn wrong."""
    known = [] if unit_astray(compared) else unit_lengths(compared)
    return float(compared.readings.value[known[0]]) - unit if known else compared.explained.scale


def reading_sd(compared: Compared, k: int, drawing: Laid) -> float:
    """Standard deviation of a difference by the points laid on both pictures: degrees, or a share. A hand's wobble is
    the student's own.
    """
    readings, closed = compared.readings, compared.closed
    reading = readings.of[k]
    if reading.what is What.PART:
        return float(readings.sd[k]) / 2
    mm_sd = drawing.setup.point_sd_px * compared.mm_per_px
    if reading.of_rim:
        return min(float(readings.sd[k]), 2.0)
    px = max(math.dist(closed.points[reading.p], closed.points[reading.q]), 1e-9)
    long_mm = max(math.exp(compared.explained.scale) * px, 1e-9)
    share = math.sqrt(2.0) * math.hypot(mm_sd / long_mm, compared.subject_sd_px / px)
    return share if reading.what in LENGTHS else math.degrees(share)


def told(compared: Compared, cause: Cause, place: int, paper: Paper) -> ToldCause:
    """A cause in the terms of the formats' table."""
    candidate, readings = cause.of, compared.readings
    direction, size, unit = sized(candidate, cause.value, readings.of, readings.value)
    rival = next((r for r in compared.explained.rivals if r.place == place), None)
    lines, rims, meets = paper.mended(candidate)
    concerned = tuple(dict.fromkeys(readings.of[k].sighting for k in cause.concerns))
    only = readings.of[candidate.on[0]] if candidate.kind is CauseKind.STRAY else None
    return ToldCause(
        cause=candidate.kind,
        form=candidate.form,
        family=candidate.family if candidate.kind in OF_A_FAMILY or (only is not None and not only.of_rim) else None,
        which=candidate.which,
        direction=direction,
        size=size,
        size_sd=abs(cause.sd * size / cause.value) if cause.value else 0.0,
        unit=unit,
        explains=float(np.clip(cause.explains, 0.0, 1.0)),
        sightings=concerned,
        of_what=None if only is None else only.what,
        instead=None if rival is None else instead(rival, readings),
        lines=lines,
        rims=rims,
        meets=meets,
    )


def instead(rival: Rival, readings: Readings) -> Instead:
    """What a cause cannot be told from."""
    direction, _, _ = sized(rival.of, rival.value, readings.of, readings.value)
    return Instead(
        rival.of.kind,
        rival.of.form,
        rival.of.family,
        direction,
        None if rival.tell_by is None else readings.of[rival.tell_by].sighting,
    )


def sized(candidate: Candidate, value: float, of: list[Reading], values: Floats) -> tuple[Direction, float, Unit]:
    """Direction, size and its unit of a candidate fitted with ``value``."""
    more = value > 0
    kind = candidate.kind
    if kind is CauseKind.EYE_LEVEL:
        return (Direction.TOO_HIGH if more else Direction.TOO_LOW), abs(value), Unit.NEAR_UPRIGHT
    if kind is CauseKind.VANISHING_POINT:
        return (Direction.TOO_NEAR if more else Direction.TOO_FAR), abs(value), Unit.CONVERGENCE
    if kind is CauseKind.LEAN:
        return (Direction.RIGHT if more else Direction.LEFT), math.degrees(abs(value)), Unit.DEGREES
    if kind is CauseKind.TURNED:
        return (Direction.ANTICLOCKWISE if more else Direction.CLOCKWISE), abs(value), Unit.DEGREES
    share = abs(math.expm1(value))
    if kind is CauseKind.SIZE:
        return (Direction.TOO_LARGE if more else Direction.TOO_SMALL), share, Unit.SHARE
    if kind is CauseKind.DEPTH:
        return (Direction.TOO_WIDE if more else Direction.TOO_NARROW), share, Unit.SHARE
    if kind is CauseKind.STRETCH:
        assert candidate.knob is not None
        if candidate.knob.way is Way.UP:
            return (Direction.TOO_TALL if more else Direction.TOO_SHORT), share, Unit.SHARE
        if candidate.form is None and not more:
            return Direction.TOO_TALL, math.expm1(-value), Unit.SHARE
        return (Direction.TOO_WIDE if more else Direction.TOO_NARROW), share, Unit.SHARE
    if kind is CauseKind.RIM:
        return (Direction.TOO_ROUND if more else Direction.TOO_FLAT), abs(value), Unit.DEGREES
    reading = of[candidate.on[0]]
    if reading.what in LENGTHS:
        return (Direction.TOO_LONG if more else Direction.TOO_SHORT), share, Unit.SHARE
    if reading.what is What.DEGREE:
        return (Direction.TOO_ROUND if more else Direction.TOO_FLAT), abs(value), Unit.DEGREES
    if reading.what is What.PART:
        return Direction.MISPLACED, abs(value), Unit.SHARE
    if reading.what is What.PLACE:
        return Direction.MISPLACED, abs(value), Unit.DEGREES
    if reading.upright or reading.what is What.AXIS:
        # a line that leans to the right falls short of plumb: its tilt turns clockwise
        return (Direction.LEFT if more else Direction.RIGHT), abs(value), Unit.DEGREES
    drawn = float(values[candidate.on[0]])
    steeper = abs(drawn) > abs(float(tilt_difference(drawn - value, 0.0)))
    return (Direction.TOO_STEEP if steeper else Direction.TOO_SHALLOW), abs(value), Unit.DEGREES


def holding(compared: Compared, differences: list[Difference]) -> list[Hold]:
    """What holds, the most lines first: sorts of readings of which none is off and none is behind a cause."""
    blamed = {
        (compared.readings.of[k].sighting, compared.readings.of[k].what)
        for cause in compared.explained.causes
        for k in cause.concerns
    }
    sorts: dict[tuple[What, str | None, Family | None], list[Difference]] = {}
    for k, difference in zip(told_of(compared), differences, strict=True):
        reading = compared.readings.of[k]
        family = Family.UPRIGHT if reading.upright else reading.family
        # uprights of all forms are one family, and so are lengths
        form = None if family is Family.UPRIGHT or reading.what in LENGTHS else reading.form
        sorts.setdefault((reading.what, form, None if reading.what in (*LENGTHS, What.DEGREE) else family), []).append(
            difference
        )
    found = []
    for (what, form, family), mine in sorts.items():
        if len(mine) >= (1 if what is What.DEGREE else HELD_FROM) and all(
            d.verdict is Verdict.HOLDS and (d.sighting, d.what) not in blamed for d in mine
        ):
            worst = max(mine, key=lambda d: abs(d.difference))
            found.append(Hold(what, form, family, tuple(dict.fromkeys(d.sighting for d in mine)), worst.difference))
    return sorted(found, key=lambda h: -len(h.sightings))
