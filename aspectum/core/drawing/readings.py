"""What a drawing and its subject can be compared in, number by number."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cached_property
from itertools import pairwise

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


def read(
    pairs: Pairs,
    closed: Closed,
    hand: Hand,
    mm: float,
    subject_sd_px: float,
    tolerances: Tolerances,
    given: frozenset[str] = frozenset(),
) -> Readings:
    """Every number that can be compared. ``mm``: of the drawing's pixels; ``subject_sd_px``: error of a point of the
    subject as solved; ``given``: ids of what is printed on the paper.
    """
    of: list[Reading] = []
    value: list[float] = []
    sd: list[float] = []
    allowed: list[float] = []

    def add(reading: Reading, at: float, spread: float, limit: float) -> None:
        of.append(reading)
        value.append(at)
        sd.append(spread)
        allowed.append(limit)

    length_limit = math.log1p(tolerances.length)

    def line(
        id: str,
        form: str | None,
        family: Family | None,
        p: tuple[float, float],
        q: tuple[float, float],
        looser: float,
        whats: tuple[What, ...],
        along: Along,
    ) -> None:
        a, b = closed.places[id, 0], closed.places[id, 1]
        px = math.dist(closed.points[a], closed.points[b])
        dx, dy = abs(q[0] - p[0]) * mm, abs(q[1] - p[1]) * mm
        long = {Along.ACROSS: dx, Along.UPRIGHT: dy}.get(along, math.hypot(dx, dy))
        blur = math.sqrt(2.0) * subject_sd_px / max(px, 1e-6)
        drawn = [one for one in id.split(BETWEEN) if one not in given]
        printed = not drawn
        steady = PRINTED if printed else hand
        for what in whats:
            reading = Reading(
                drawn[0] if drawn else id.split(BETWEEN)[0],
                What.PLACE if BETWEEN in id and what is What.TILT else what,
                form,
                family,
                a,
                b,
                along=along,
                upright=family is Family.UPRIGHT,
                given=printed,
            )
            if what is What.TILT:
                spread = math.hypot(looser * float(steady.tilt_sd_deg(np.array(long))), math.degrees(blur))
                add(reading, float(tilt_deg(p, q)), spread, tolerances.tilt_deg)
            elif long > 0:
                add(
                    reading,
                    math.log(long),
                    math.hypot(looser * float(steady.length_sd(np.array(long))), blur),
                    length_limit,
                )

    for drawn, subject in pairs.edges:
        open_end = {(subject.id, k) for k in (0, 1)} & closed.cut or drawn.hidden
        line(
            subject.id,
            subject.form,
            subject.family,
            drawn.p,
            drawn.q,
            1.0,
            (What.TILT,) if open_end else (What.TILT, What.LENGTH),
            Along.EDGE,
        )
    rings = {ring.id: n for n, ring in enumerate(closed.rings)}
    still = closed.draw([], np.zeros(0)).rims
    ellipses = {rim.id: drawn_ellipse(fit) for (rim, fit), _ in pairs.rims}
    for (rim, fit), subject_rim in pairs.rims:
        n = rings.get(rim.id)
        if n is None and rings:
            continue
        ellipse, loose = ellipses[rim.id], spread(by_shape(fit.axes[2])[0], fit.covariance) / max(fit.axes[0], 1e-9)
        if n is None:
            # a parallel view solves no rims: each is told by the subject's own
            seen = drawn_ellipse(fit_rim(subject_rim.points, subject_sd_px, subject_rim.ends, subject_rim.near))
            n, half, degree, due = -1, seen.major_px / 2, seen.degree_deg, seen.axis_deg
        else:
            half, degree, due = still[n]
        major = ellipse.major_px * mm
        printed = rim.id in given
        steady = PRINTED if printed else hand
        family = Family.UPRIGHT if subject_rim.plane is Plane.LEVEL else subject_rim.plane.family
        blur = subject_sd_px / max(float(half), 1e-6)
        opened = math.hypot(
            steady.degree_sd_deg(major, ellipse.degree_deg),
            fit.sds[1],
            math.degrees(blur) / max(math.cos(math.radians(degree)), 0.2),
        )
        add(
            Reading(rim.id, What.DEGREE, rim.form, family, ring=n, fixed=float(degree), given=printed),
            ellipse.degree_deg,
            opened,
            tolerances.degree_deg,
        )
        add(
            Reading(
                rim.id, What.MAJOR, rim.form, family, ring=n, fixed=math.log(max(float(half), 1e-9)), given=printed
            ),
            math.log(major / 2),
            math.hypot(float(steady.length_sd(np.array(major))), blur, loose),
            length_limit,
        )
        axis = Reading(
            rim.id,
            What.AXIS,
            rim.form,
            family,
            ring=n,
            upright=subject_rim.plane is Plane.LEVEL,
            fixed=float(due),
            given=printed,
        )
        add(
            axis,
            ellipse.axis_deg,
            steady.axis_sd_deg(major, max(ellipse.degree_deg, float(degree))),
            tolerances.tilt_deg,
        )
    for upper, lower in neighbours([rim for _, rim in pairs.rims], closed):
        p, q = ellipses[upper].centre_px, ellipses[lower].centre_px
        line(
            between(upper, lower),
            closed.rings[rings[upper]].form,
            Family.UPRIGHT,
            p,
            q,
            LOOSER,
            (What.TILT, What.LENGTH),
            Along.EDGE,
        )
    for taken, length in pairs.lengths:
        line(length.id, None, None, taken.p, taken.q, LOOSER, (What.LENGTH,), length.along)
    for laid, alignment in pairs.alignments:
        line(alignment.id, None, None, laid.p, laid.q, LOOSER, (What.TILT,), Along.EDGE)
    for id, part, due, blur in pairs.parts:
        add(
            Reading(id, What.PART, None, None, fixed=due, given=id in given),
            part,
            math.hypot(hand.length / 2, DIVIDED, blur),
            tolerances.length / 2,
        )
    closure = closure_of([e for e, _ in pairs.edges], closed, hand, mm)
    for k, shift, spread_mm in zip(closure.of.tolist(), closure.shifts.tolist(), closure.sd.tolist(), strict=True):
        edge = pairs.edges[k][1]
        # no verdict hangs on it: what it shows is told by the line's own tilt
        add(
            Reading(edge.id, What.SHIFT, edge.form, edge.family, fixed=0.0, given=edge.id in given),
            shift,
            spread_mm,
            math.inf,
        )
    first, second, rim_at = (np.array([getattr(r, name) for r in of], np.intp) for name in ("p", "q", "ring"))
    plumb = {a.id for _, a in pairs.alignments if a.along is Guide.PLUMB}
    return Readings(
        [replace(r, upright=r.upright or r.sighting in plumb) for r in of],
        np.array(value),
        np.array(sd),
        np.array(allowed),
        first,
        second,
        rim_at,
        closure,
    )
