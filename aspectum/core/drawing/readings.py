"""What a drawing and its subject can be compared in, number by number."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cached_property
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from aspectum.core.drawing.closed import Closed, Drawn
from aspectum.core.drawing.closure import Closure, closure_of
from aspectum.core.drawing.hand import PRINTED, Hand
from aspectum.core.plane.ellipses import Ellipse, by_shape
from aspectum.core.plane.lines import Flags, Floats, Ints, tilt_deg, tilt_difference
from aspectum.core.plane.rim_fit import RimFit, fit_rim, spread
from aspectum.core.sightings import Alignment, Along, Edge, Family, Guide, Length, Plane, Rim
from aspectum.core.tolerance import Tolerances


class What(StrEnum):
    """What is read of a sighting."""

    TILT = "tilt"
    LENGTH = "length"
    DEGREE = "degree"
    MAJOR = "major"
    AXIS = "axis"
    PLACE = "place"
    PART = "part"
    SHIFT = "shift"


LOOSER = 1.5  # times a line's own error: what lies between two points that are not joined by a line
LENGTHS = (What.LENGTH, What.MAJOR)
DIVIDED = 0.01  # of a face: how well a hand divides it beside its own error


@dataclass(frozen=True)
class Reading:
    """One number of one sighting. ``p``, ``q``: places among the closed drawing's points, ``ring``: among its rims;
    ``upright``: it leans rather than tilts; ``fixed``: what it must be, where nothing of the drawing as a whole moves
    it; ``given``: it is printed on the paper, and tells how large the drawing is but nothing of who draws.
    """

    sighting: str
    what: What
    form: str | None
    family: Family | None
    p: int = -1
    q: int = -1
    ring: int = -1
    along: Along = Along.EDGE
    upright: bool = False
    fixed: float = math.nan
    given: bool = False

    @property
    def of_rim(self) -> bool:
        """Whether it is read of a drawn ellipse."""
        return self.what in (What.DEGREE, What.MAJOR, What.AXIS)


@dataclass(frozen=True)
class Readings:
    """N numbers of a drawing beside what they are read of. ``value`` (N,): degrees, or the log of a length in mm;
    ``sd`` (N,): of the hand and of the subject's sightings together; ``allowed`` (N,): tolerances in the same units;
    ``long`` (N,): which are lengths.
    """

    of: list[Reading]
    value: Floats
    sd: Floats
    allowed: Floats
    p: Ints
    q: Ints
    ring: Ints
    closure: Closure

    @cached_property
    def long(self) -> Floats:
        """1 for logs of lengths, which share the drawing's scale, 0 for degrees."""
        return np.array([r.what in LENGTHS for r in self.of], float)

    @cached_property
    def given(self) -> Flags:
        """Which are printed on the paper."""
        return np.array([r.given for r in self.of], bool)

    @cached_property
    def turns(self) -> Flags:
        """Which are tilts of lines, told the short way round."""
        return np.array([r.what in (What.TILT, What.AXIS, What.PLACE) for r in self.of], bool)

    @cached_property
    def drawn_along(self) -> tuple[Flags, Flags, Flags]:
        """Which are read of a line (N,), and which of those lines straight across, and straight up."""
        line = self.p >= 0
        along = [r.along for r, on in zip(self.of, line, strict=True) if on]
        return (
            line,
            np.array([a is Along.ACROSS for a in along], bool),
            np.array([a is Along.UPRIGHT for a in along], bool),
        )

    def expected(self, drawn: Drawn) -> Floats:
        """The same numbers (N,) of a closed drawing, lengths as logs of pixels."""
        found = np.zeros(len(self.of))
        line, across, up = self.drawn_along
        run = drawn.points[self.q[line]] - drawn.points[self.p[line]]
        extent = np.where(across, np.abs(run[:, 0]), np.where(up, np.abs(run[:, 1]), np.hypot(run[:, 0], run[:, 1])))
        found[line] = np.where(self.long[line] > 0, np.log(np.maximum(extent, 1e-9)), tilt_deg(np.zeros_like(run), run))
        for k in np.flatnonzero(~line).tolist():
            if self.ring[k] < 0:
                found[k] = self.of[k].fixed
                continue
            major, degree, axis = drawn.rims[self.ring[k]]
            what = self.of[k].what
            found[k] = math.log(max(major, 1e-9)) if what is What.MAJOR else degree if what is What.DEGREE else axis
        return found

    def beyond(self, drawn: Drawn) -> Floats:
        """Drawing less subject (N,): turns the short way round, lengths as logs up to the drawing's scale."""
        expected = self.expected(drawn)
        return np.where(self.turns, tilt_difference(self.value, expected), self.value - expected)


@dataclass(frozen=True)
class Pairs:
    """Sightings of the drawing (first) and the subject, by kind; ``parts``: id of a division, its part as drawn, and as
    sighted with its standard deviation.
    """

    edges: list[tuple[Edge, Edge]]
    rims: list[tuple[tuple[Rim, RimFit], Rim]]
    lengths: list[tuple[Length, Length]]
    alignments: list[tuple[Alignment, Alignment]]
    parts: list[tuple[str, float, float, float]]


WHOLE_DEG = 200.0  # of a rim's turn, from which it is taken as drawn all round


def drawn_ellipse(fit: RimFit) -> Ellipse:
    """The ellipse of a drawn rim: of one that closes on itself the best fit, since nothing wider can hold both its
    arcs.
    """
    return Ellipse.of_shape(fit.shape) if fit.converged and fit.coverage_deg > WHOLE_DEG else fit.ellipse


BETWEEN = "\0"  # joins the ids of two rims: no id holds such a character


def between(upper: str, lower: str) -> str:
    """What the line from centre to centre of two rims goes by."""
    return f"{lower}{BETWEEN}{upper}"


def neighbours(rims: list[Rim], closed: Closed) -> list[tuple[str, str]]:
    """The level rims of each form, two by two from the top down."""
    height = {ring.id: float(ring.centre[1]) for ring in closed.rings}
    level = [r for r in rims if r.plane is Plane.LEVEL and r.id in height]
    pairs = []
    for form in dict.fromkeys(r.form for r in level):
        mine = sorted((r.id for r in level if r.form == form), key=lambda id: height[id])
        pairs += list(pairwise(mine))
    return pairs


class Row(NamedTuple):
    """A reading, its value, its standard deviation and the tolerance it is allowed, as in ``Readings``."""

    reading: Reading
    value: float
    sd: float
    allowed: float


class Stroke(NamedTuple):
    """A line of the drawing from ``p`` to ``q`` (px): whose it is, what is read of it, and how much looser than an edge
    it is drawn.
    """

    id: str
    form: str | None
    family: Family | None
    p: tuple[float, float]
    q: tuple[float, float]
    looser: float
    whats: tuple[What, ...]
    along: Along


@dataclass(frozen=True)
class Reader:
    """Reads a drawing beside its subject ``closed``. ``mm``: of the drawing's pixels; ``subject_sd_px``: error of a
    point of the subject as solved; ``given``: ids of what is printed on the paper.
    """

    closed: Closed
    hand: Hand
    mm: float
    subject_sd_px: float
    tolerances: Tolerances
    given: frozenset[str]

    @property
    def length_limit(self) -> float:
        return math.log1p(self.tolerances.length)

    def stroke(self, stroke: Stroke) -> Iterator[Row]:
        """The tilt and the length of a line."""
        id, family, along = stroke.id, stroke.family, stroke.along
        a, b = self.closed.places[id, 0], self.closed.places[id, 1]
        px = math.dist(self.closed.points[a], self.closed.points[b])
        dx, dy = abs(stroke.q[0] - stroke.p[0]) * self.mm, abs(stroke.q[1] - stroke.p[1]) * self.mm
        long = {Along.ACROSS: dx, Along.UPRIGHT: dy}.get(along, math.hypot(dx, dy))
        blur = math.sqrt(2.0) * self.subject_sd_px / max(px, 1e-6)
        drawn = [one for one in id.split(BETWEEN) if one not in self.given]
        steady = self.hand if drawn else PRINTED
        for what in stroke.whats:
            reading = Reading(
                drawn[0] if drawn else id.split(BETWEEN)[0],
                What.PLACE if BETWEEN in id and what is What.TILT else what,
                stroke.form,
                family,
                a,
                b,
                along=along,
                upright=family is Family.UPRIGHT,
                given=not drawn,
            )
            if what is What.TILT:
                sd = math.hypot(stroke.looser * float(steady.tilt_sd_deg(np.array(long))), math.degrees(blur))
                yield Row(reading, float(tilt_deg(stroke.p, stroke.q)), sd, self.tolerances.tilt_deg)
            elif long > 0:
                sd = math.hypot(stroke.looser * float(steady.length_sd(np.array(long))), blur)
                yield Row(reading, math.log(long), sd, self.length_limit)

    def edges(self, edges: list[tuple[Edge, Edge]]) -> Iterator[Row]:
        """An edge whose end is hidden or cut off has a tilt and no length."""
        for drawn, subject in edges:
            open_end = {(subject.id, k) for k in (0, 1)} & self.closed.cut or drawn.hidden
            whats = (What.TILT,) if open_end else (What.TILT, What.LENGTH)
            yield from self.stroke(
                Stroke(subject.id, subject.form, subject.family, drawn.p, drawn.q, 1.0, whats, Along.EDGE)
            )

    def rims(self, pairs: list[tuple[tuple[Rim, RimFit], Rim]]) -> Iterator[Row]:
        """How each rim opens, how wide it is and how its axis lies; and where the rims of a form sit on one another."""
        rings = {ring.id: n for n, ring in enumerate(self.closed.rings)}
        still = self.closed.draw([], np.zeros(0)).rims
        ellipses = {rim.id: drawn_ellipse(fit) for (rim, fit), _ in pairs}
        for (rim, fit), subject in pairs:
            n = rings.get(rim.id)
            if n is not None:
                half, degree, due = (float(v) for v in still[n])
            elif not rings:
                # a parallel view solves no rims: each is told by the subject's own
                seen = drawn_ellipse(fit_rim(subject.points, self.subject_sd_px, subject.ends, subject.near))
                half, degree, due = seen.major_px / 2, seen.degree_deg, seen.axis_deg
            else:
                continue
            yield from self.rim(rim, fit, ellipses[rim.id], subject.plane, -1 if n is None else n, (half, degree, due))
        for upper, lower in neighbours([rim for _, rim in pairs], self.closed):
            form = self.closed.rings[rings[upper]].form
            p, q = ellipses[upper].centre_px, ellipses[lower].centre_px
            whats = (What.TILT, What.LENGTH)
            yield from self.stroke(Stroke(between(upper, lower), form, Family.UPRIGHT, p, q, LOOSER, whats, Along.EDGE))

    def rim(
        self, rim: Rim, fit: RimFit, ellipse: Ellipse, plane: Plane, ring: int, subject: tuple[float, float, float]
    ) -> Iterator[Row]:
        """``ring``: its number in the closed drawing, -1 where it has none; ``subject``: half its major axis (px), its
        degree and its axis (degrees).
        """
        half, degree, due = subject
        loose = spread(by_shape(fit.axes[2])[0], fit.covariance) / max(fit.axes[0], 1e-9)
        major = ellipse.major_px * self.mm
        steady = PRINTED if rim.id in self.given else self.hand
        blur = self.subject_sd_px / max(half, 1e-6)
        opened = math.hypot(
            steady.degree_sd_deg(major, ellipse.degree_deg),
            fit.sds[1],
            math.degrees(blur) / max(math.cos(math.radians(degree)), 0.2),
        )

        def reading(what: What, fixed: float, upright: bool = False) -> Reading:
            family = Family.UPRIGHT if plane is Plane.LEVEL else plane.family
            return Reading(
                *(rim.id, what, rim.form, family), ring=ring, upright=upright, fixed=fixed, given=rim.id in self.given
            )

        yield Row(reading(What.DEGREE, degree), ellipse.degree_deg, opened, self.tolerances.degree_deg)
        wide = math.hypot(float(steady.length_sd(np.array(major))), blur, loose)
        yield Row(reading(What.MAJOR, math.log(max(half, 1e-9))), math.log(major / 2), wide, self.length_limit)
        turned = steady.axis_sd_deg(major, max(ellipse.degree_deg, degree))
        yield Row(reading(What.AXIS, due, plane is Plane.LEVEL), ellipse.axis_deg, turned, self.tolerances.tilt_deg)

    def measured(self, pairs: Pairs) -> Iterator[Row]:
        """Lengths, alignments and parts of faces."""
        for taken, length in pairs.lengths:
            yield from self.stroke(
                Stroke(length.id, None, None, taken.p, taken.q, LOOSER, (What.LENGTH,), length.along)
            )
        for laid, alignment in pairs.alignments:
            yield from self.stroke(Stroke(alignment.id, None, None, laid.p, laid.q, LOOSER, (What.TILT,), Along.EDGE))
        for id, part, due, blur in pairs.parts:
            reading = Reading(id, What.PART, None, None, fixed=due, given=id in self.given)
            yield Row(reading, part, math.hypot(self.hand.length / 2, DIVIDED, blur), self.tolerances.length / 2)

    def shifts(self, edges: list[tuple[Edge, Edge]], closure: Closure) -> Iterator[Row]:
        """By how much lines miss their corners. No verdict hangs on it: the line's own tilt tells what it shows."""
        for k, shift, sd_mm in zip(closure.of.tolist(), closure.shifts.tolist(), closure.sd.tolist(), strict=True):
            edge = edges[k][1]
            reading = Reading(edge.id, What.SHIFT, edge.form, edge.family, fixed=0.0, given=edge.id in self.given)
            yield Row(reading, shift, sd_mm, math.inf)


def read(
    pairs: Pairs,
    closed: Closed,
    hand: Hand,
    mm: float,
    subject_sd_px: float,
    tolerances: Tolerances,
    given: frozenset[str] = frozenset(),
) -> Readings:
    """Every number that can be compared; arguments as in ``Reader``."""
    reader = Reader(closed, hand, mm, subject_sd_px, tolerances, given)
    closure = closure_of([e for e, _ in pairs.edges], closed, hand, mm)
    rows = [
        *reader.edges(pairs.edges),
        *reader.rims(pairs.rims),
        *reader.measured(pairs),
        *reader.shifts(pairs.edges, closure),
    ]
    of = [row.reading for row in rows]
    first, second, rim_at = (np.array([getattr(r, name) for r in of], np.intp) for name in ("p", "q", "ring"))
    plumb = {a.id for _, a in pairs.alignments if a.along is Guide.PLUMB}
    return Readings(
        [replace(r, upright=r.upright or r.sighting in plumb) for r in of],
        np.array([row.value for row in rows]),
        np.array([row.sd for row in rows]),
        np.array([row.allowed for row in rows]),
        first,
        second,
        rim_at,
        closure,
    )
