"""A critique: every sighting of a drawing beside its subject's, the causes with what to do on the paper, and what holds."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np

from aspectum.core.drawing.causes import Candidate, Cause, CauseKind, Level, Rival, Which
from aspectum.core.drawing.closed import Closed, Drawn, Knob, Way
from aspectum.core.drawing.compare import Compared, Laid
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


class Unit(StrEnum):
    """What a cause's size is told in."""

    NEAR_UPRIGHT = "near upright"
    CONVERGENCE = "near uprights over its distance"
    DEGREES = "degrees"
    SHARE = "share"


@dataclass(frozen=True)
class Difference:
    """One number of a sighting, on the subject and on the drawing. Tilts in degrees, lengths and rims' widths in near uprights,
    whose ``difference`` is a share; ``main``: what its sighting is sighted for.
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
class MendedLine:
    """Where a line belongs, with one cause mended; px of the drawing. ``far``: which of its ends moves more, and ``moves_mm`` how far
    that end goes right and up.
    """

    p: Point
    q: Point
    far: int
    moves_mm: tuple[float, float]


@dataclass(frozen=True)
class ToldCause:
    """A cause as it is told. ``size`` in ``unit``, never negative; ``of_what``: of a stray, what of it is off; ``instead``: what it cannot be told
    from; ``lines``, ``rims``: the drawing with this cause mended, by sighting; ``meets``: where its families then meet, mm from the
    sheet's top-left corner, by form and family.
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
    """All of it. ``ghosts``: where each line would run in the drawing's own scale (px of the drawing) and
    how far its farther end lies from the drawn one (mm), with its rims; ``missing``: sightings of the
    subject that are not on the drawing, ``extra`` those that only the drawing has; ``rough``: times the usual hand's error that the lines scatter.
    """

    scale_mm_per_px: float | None
    differences: list[Difference]
    causes: list[ToldCause]
    holds: list[Hold]
    missing: list[str]
    extra: list[str]
    rough: float
    levels: list[Level] = field(default_factory=list)
    ghosts: dict[str, tuple[Point, Point, float]] = field(default_factory=dict)
    ghost_rims: dict[str, Ellipse] = field(default_factory=dict)


HELD_FROM = 2  # readings of a sort that are worth a sentence together


def critique(compared: Compared, subject: Laid, drawing: Laid, tolerances: Tolerances) -> Critique:
    """Judge a compared drawing."""
    explained, mm = compared.explained, compared.mm_per_px
    differences = differences_of(compared, drawing, tolerances)
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
    """Every reading beside its subject's; lengths in near uprights, by the drawing's scale where that is not drawn."""
    readings, closed = compared.readings, compared.closed
    if not readings.of:
        return []
    still = closed.draw([], np.zeros(0))
    expected = readings.expected(still)
    unit = math.log(unit_length(closed, still))
    scale = unit_scale(compared, expected, unit)
    found = []
    mains = {r.sighting: next(o.what for o in readings.of if o.sighting == r.sighting) for r in readings.of}
    for k, reading in enumerate(readings.of):
        if reading.what is What.SHIFT:
            continue
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
        found.append(Difference(reading.sighting, reading.what, here, there, over, sd, decided, reading.what is mains[reading.sighting]))
    return found


def unit_length(closed: Closed, drawn: Drawn) -> float:
    """The near upright on the subject, px."""
    if closed.unit is None:
        return closed.unit_px
    return max(math.dist(*drawn.points[list(closed.unit)]), 1e-9)


def unit_scale(compared: Compared, expected: Floats, unit: float) -> float:
    """Log of mm a pixel by the near upright, or by all lengths where it is not drawn."""
    closed, readings = compared.closed, compared.readings
    for k, reading in enumerate(readings.of):
        if closed.unit is not None and reading.what is What.LENGTH and {reading.p, reading.q} == set(closed.unit):
            return float(readings.value[k]) - unit
    return compared.explained.scale


def reading_sd(compared: Compared, k: int, drawing: Laid) -> float:
    """Standard deviation of a difference by the points laid on both pictures: degrees, or a share. A hand's wobble is the student's own."""
    readings, closed = compared.readings, compared.closed
    reading = readings.of[k]
    if reading.what is What.PART:
        return float(readings.sd[k]) / 2
    mm_sd = drawing.setup.point_sd_px * compared.mm_per_px
    if reading.ring >= 0:
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
        family=candidate.family if candidate.kind in (CauseKind.VANISHING_POINT, CauseKind.DEPTH) or (only is not None and not only.ring >= 0) else None,
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
    return Instead(rival.of.kind, rival.of.form, rival.of.family, direction, None if rival.tell_by is None else readings.of[rival.tell_by].sighting)


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
    share = math.expm1(abs(value))
    if kind is CauseKind.SIZE:
        return (Direction.TOO_LARGE if more else Direction.TOO_SMALL), share, Unit.SHARE
    if kind is CauseKind.DEPTH:
        return (Direction.TOO_WIDE if more else Direction.TOO_NARROW), share, Unit.SHARE
    if kind is CauseKind.STRETCH:
        assert candidate.knob is not None
        if candidate.knob.way is Way.UP:
            return (Direction.TOO_TALL if more else Direction.TOO_SHORT), share, Unit.SHARE
        narrow = Direction.TOO_TALL if candidate.form is None else Direction.TOO_NARROW
        return (Direction.TOO_WIDE if more else narrow), share, Unit.SHARE
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
    blamed = {(compared.readings.of[k].sighting, compared.readings.of[k].what) for cause in compared.explained.causes for k in cause.concerns}
    sorts: dict[tuple[What, str | None, Family | None], list[Difference]] = {}
    told_of = [reading for reading in compared.readings.of if reading.what is not What.SHIFT]
    for reading, difference in zip(told_of, differences, strict=True):
        family = Family.UPRIGHT if reading.upright else reading.family
        # uprights of all forms are one family, and so are lengths
        form = None if family is Family.UPRIGHT or reading.what in LENGTHS else reading.form
        sorts.setdefault((reading.what, form, None if reading.what in (*LENGTHS, What.DEGREE) else family), []).append(difference)
    found = []
    for (what, form, family), mine in sorts.items():
        if len(mine) >= (1 if what is What.DEGREE else HELD_FROM) and all(d.verdict is Verdict.HOLDS and (d.sighting, d.what) not in blamed for d in mine):
            worst = max(mine, key=lambda d: abs(d.difference))
            found.append(Hold(what, form, family, tuple(dict.fromkeys(d.sighting for d in mine)), worst.difference))
    return sorted(found, key=lambda h: -len(h.sightings))


class Paper:
    """The closed drawing laid over the student's, form by form, and what mending a cause moves."""

    def __init__(self, compared: Compared, drawing: Laid) -> None:
        self.compared, self.drawing = compared, drawing
        closed, explained = compared.closed, compared.explained
        self.px = math.exp(explained.scale) / compared.mm_per_px  # drawing px a subject px
        self.knobs = [(c.knob, v) for c, v in zip(explained.fitted, explained.values, strict=True) if c.knob is not None]
        self.as_drawn = closed.draw([k for k, _ in self.knobs], np.array([v for _, v in self.knobs]))
        self.edges = {e.id: e for e in drawing.edges if (e.id, 0) in closed.places}
        self.fits = {rim.id: ellipse for rim, ellipse in compared.drawn_rims}
        self.offset = {form: self._offset(form, self.as_drawn) for form in closed.forms}

    def _offset(self, form: str, drawn: Drawn) -> Floats:
        """Where the closed drawing's origin lies on the paper for one form: the middle of what its own lines say."""
        closed = self.compared.closed
        gaps = [
            np.array(at) - drawn.points[closed.places[e.id, tip]] * self.px for e in self.edges.values() if e.form == form for tip, at in ((0, e.p), (1, e.q))
        ]
        gaps += [np.array(self.fits[r.id].centre_px) - (r.centre @ closed.turn) * self.px for r in closed.rings if r.form == form and r.id in self.fits]
        return np.asarray(np.median(np.array(gaps), axis=0), float) if gaps else np.zeros(2)

    def ghosts(self, mm: float) -> dict[str, tuple[Point, Point, float]]:
        """Where every drawn line would run, in the drawing's own scale, from the near upright on."""
        closed = self.compared.closed
        still = closed.draw([], np.zeros(0))
        start = self._start(still)
        found = {}
        for id, edge in self.edges.items():
            p, q = (still.points[closed.places[id, tip]] * self.px + start for tip in (0, 1))
            apart = max(math.dist(p, edge.p), math.dist(q, edge.q)) * mm
            found[id] = (float(p[0]), float(p[1])), (float(q[0]), float(q[1])), apart
        return found

    def _start(self, still: Drawn) -> Floats:
        """Where the subject's origin lies on the paper: by the foot of the near upright, or the middle of everything."""
        closed = self.compared.closed
        for edge in self.edges.values():
            places = [closed.places[edge.id, tip] for tip in (0, 1)]
            if closed.unit is not None and set(places) == set(closed.unit):
                middle = (np.array(edge.p) + np.array(edge.q)) / 2
                return np.asarray(middle - still.points[places].mean(axis=0) * self.px, float)
        gaps = [np.array(at) - still.points[closed.places[e.id, tip]] * self.px for e in self.edges.values() for tip, at in ((0, e.p), (1, e.q))]
        gaps += [np.array(self.fits[r.id].centre_px) - (r.centre @ closed.turn) * self.px for r in closed.rings if r.id in self.fits]
        return np.asarray(np.median(np.array(gaps), axis=0), float) if gaps else np.zeros(2)

    def ghost_rims(self) -> dict[str, Ellipse]:
        """Each drawn rim's ghost."""
        closed = self.compared.closed
        still = closed.draw([], np.zeros(0))
        start = self._start(still)
        return {r.id: ring_ellipse((r.centre @ closed.turn) * self.px + start, still.rims[n], self.px) for n, r in enumerate(closed.rings) if r.id in self.fits}

    def mended(self, of: Candidate) -> tuple[dict[str, MendedLine], dict[str, Ellipse], dict[tuple[str, Family], tuple[float, float]]]:
        """The drawing with one cause mended: lines and rims that move, and where the families then meet (mm)."""
        compared, closed = self.compared, self.compared.closed
        readings, explained = compared.readings, compared.explained
        value = float(explained.values[explained.fitted.index(of)])
        lines: dict[str, MendedLine] = {}
        rims: dict[str, Ellipse] = {}
        meets: dict[tuple[str, Family], tuple[float, float]] = {}
        if of.knob is None:
            for k in of.on:
                self._mend_one(readings.of[k], value, lines, rims)
            return lines, rims, meets
        rest = [(knob, v) for knob, v in self.knobs if knob != of.knob]
        knobs, values = [k for k, _ in rest], np.array([v for _, v in rest])
        without = closed.draw(knobs, values)
        for edge in self.edges.values():
            steps = [(without.points[closed.places[edge.id, tip]] - self.as_drawn.points[closed.places[edge.id, tip]]) * self.px for tip in (0, 1)]
            if max(float(np.hypot(*s)) for s in steps) * compared.mm_per_px > LEAST_MEND_MM:
                lines[edge.id] = self._line(edge.id, np.array(edge.p) + steps[0], np.array(edge.q) + steps[1])
        for n, ring in enumerate(closed.rings):
            if ring.id in self.fits:
                size, opened, turned = without.rims[n] - self.as_drawn.rims[n] * [0, 1, 1]
                grown = size / max(float(self.as_drawn.rims[n][0]), 1e-9)
                seen = self.fits[ring.id]
                if abs(opened) > LEAST_OPENED_DEG or abs(grown - 1.0) > LEAST_GROWN:
                    degree = float(np.clip(seen.degree_deg + opened, 0.0, 90.0))
                    wide = seen.major_px * grown
                    rims[ring.id] = Ellipse(seen.centre_px, wide, wide * math.sin(math.radians(degree)), seen.axis_deg + float(turned), degree)
        for form, family in self._runs(of.knob):
            at = closed.vanishing_point(form, family, knobs, values)
            if at is not None:
                x, y = (np.array(at) * self.px + self.offset[form]) * compared.mm_per_px
                meets[form, family] = float(x), float(y)
        return lines, rims, meets

    def _runs(self, knob: Knob) -> list[tuple[str, Family]]:
        """The families that a knob moves the vanishing point of."""
        closed = self.compared.closed
        if knob.family is not None and knob.form is not None and knob in closed.knobs() and knob.move.value == CauseKind.VANISHING_POINT:
            return [(knob.form, knob.family)]
        if knob.move.value == CauseKind.EYE_LEVEL:
            return [(p.form, family) for p in closed.parts for family, run in zip(p.families, p.run, strict=True) if run and family is not Family.ACROSS]
        return []

    def _line(self, id: str, p: Floats, q: Floats) -> MendedLine:
        edge, mm = self.edges[id], self.compared.mm_per_px
        moves = [(p - np.array(edge.p)) * mm, (q - np.array(edge.q)) * mm]
        far = int(np.argmax([float(np.hypot(*m)) for m in moves]))
        return MendedLine((float(p[0]), float(p[1])), (float(q[0]), float(q[1])), far, (float(moves[far][0]), -float(moves[far][1])))

    def _mend_one(self, reading: Reading, value: float, lines: dict[str, MendedLine], rims: dict[str, Ellipse]) -> None:
        """A line or a rim that is off by itself, put right about its end at the near upright, or in its place."""
        edge = self.edges.get(reading.sighting)
        if edge is not None and reading.what in (What.TILT, What.LENGTH):
            ends = [np.array(edge.p), np.array(edge.q)]
            foot = self._foot(reading.form)
            still = int(np.argmin([float(np.hypot(*(end - foot))) for end in ends]))
            run = ends[1 - still] - ends[still]
            if reading.what is What.LENGTH:
                run = run * math.exp(-value)
            else:
                a = math.radians(value)  # turned back: clockwise on the paper, whose y runs down
                run = np.array([[math.cos(a), -math.sin(a)], [math.sin(a), math.cos(a)]]) @ run
            ends[1 - still] = ends[still] + run
            lines[edge.id] = self._line(edge.id, ends[0], ends[1])
        seen = self.fits.get(reading.sighting)
        if seen is not None and reading.ring >= 0:
            degree = float(np.clip(seen.degree_deg - value, 0.5, 90.0)) if reading.what is What.DEGREE else seen.degree_deg
            wide = seen.major_px * (math.exp(-value) if reading.what is What.MAJOR else 1.0)
            axis = seen.axis_deg - (value if reading.what is What.AXIS else 0.0)
            rims[reading.sighting] = Ellipse(seen.centre_px, wide, wide * math.sin(math.radians(degree)), axis, degree)

    def _foot(self, form: str | None) -> Floats:
        """The middle of the near upright of a form, or of the whole, on the paper."""
        closed = self.compared.closed
        part = next((p for p in closed.parts if p.form == form), None)
        if part is not None and form is not None:
            return np.asarray((part.middle @ closed.turn) * self.px + self.offset[form], float)
        return self._start(closed.draw([], np.zeros(0)))


LEAST_MEND_MM = 0.5  # a smaller move is not worth the rubber
LEAST_OPENED_DEG, LEAST_GROWN = 0.5, 0.01


def ring_ellipse(centre: Floats, ring: Floats, px: float) -> Ellipse:
    """A closed drawing's rim (half major axis, degree, axis) about ``centre``, px of the drawing."""
    wide = 2.0 * float(ring[0]) * px
    return Ellipse((float(centre[0]), float(centre[1])), wide, wide * math.sin(math.radians(float(ring[1]))), float(ring[2]), float(ring[1]))
