"""The closed drawing laid over the student's: where each line would run, and where it belongs with one cause mended."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from aspectum.core.drawing.candidates import Candidate
from aspectum.core.drawing.closed import Drawn, Knob, Move
from aspectum.core.drawing.compare import Compared, Laid
from aspectum.core.drawing.readings import Reading, What
from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.plane.lines import Floats
from aspectum.core.sightings import Family, Point

LEAST_MEND_MM = 0.5  # a smaller move is not worth the rubber
# a smaller change of a rim is not worth the rubber: half a degree, one hundredth of its width
LEAST_OPENED_DEG, LEAST_GROWN = 0.5, 0.01


@dataclass(frozen=True)
class MendedLine:
    """Where a line belongs, with one cause mended; px of the drawing. ``far``: which of its ends moves more, and
    ``moves_mm`` how far that end goes right and up.
    """

    p: Point
    q: Point
    far: int
    moves_mm: tuple[float, float]


class Paper:
    """The closed drawing laid over the student's, form by form, and what mending a cause moves."""

    def __init__(self, compared: Compared, drawing: Laid) -> None:
        self.compared, self.drawing = compared, drawing
        closed, explained = compared.closed, compared.explained
        self.px = math.exp(explained.scale) / compared.mm_per_px  # drawing px a subject px
        self.knobs = [
            (c.knob, v) for c, v in zip(explained.fitted, explained.values, strict=True) if c.knob is not None
        ]
        self.as_drawn = closed.draw([k for k, _ in self.knobs], np.array([v for _, v in self.knobs]))
        self.edges = {e.id: e for e in drawing.edges if (e.id, 0) in closed.places}
        self.fits = {rim.id: ellipse for rim, ellipse in compared.drawn_rims}
        # what is printed stays where it is
        given = {reading.sighting for reading in compared.readings.of if reading.given}
        self.drawn = {id: e for id, e in self.edges.items() if id not in given}
        self.drawn_rims = set(self.fits) - given
        self.offset = {form: self._offset(self.as_drawn, form) for form in closed.forms}

    def _offset(self, drawn: Drawn, form: str | None = None) -> Floats:
        """Where the origin of a closed drawing lies on the paper: the middle of what the lines of one form, or all,
        say.
        """
        closed = self.compared.closed
        gaps = [
            np.array(at) - drawn.points[closed.places[e.id, tip]] * self.px
            for e in self.edges.values()
            if form in (None, e.form)
            for tip, at in ((0, e.p), (1, e.q))
        ]
        rings = [r for r in closed.rings if form in (None, r.form) and r.id in self.fits]
        gaps += [np.array(self.fits[r.id].centre_px) - (r.centre @ closed.turn) * self.px for r in rings]
        return np.asarray(np.median(np.array(gaps), axis=0), float) if gaps else np.zeros(2)

    def laid_over(self) -> tuple[float, Point]:
        """How large the subject's picture lies over the drawing's (px a px), and where its corner falls (px of the
        drawing).
        """
        x, y = self._start(self.compared.closed.draw([], np.zeros(0))).tolist()
        return self.px, (x, y)

    def ghosts(self, mm: float) -> dict[str, tuple[Point, Point, float]]:
        """Where every drawn line would run, in the drawing's own scale, from the near upright on."""
        closed = self.compared.closed
        still = closed.draw([], np.zeros(0))
        start = self._start(still)
        found = {}
        for id, edge in self.drawn.items():
            p, q = (still.points[closed.places[id, tip]] * self.px + start for tip in (0, 1))
            apart = max(math.dist(p, edge.p), math.dist(q, edge.q)) * mm
            found[id] = (float(p[0]), float(p[1])), (float(q[0]), float(q[1])), apart
        return found

    def _start(self, still: Drawn) -> Floats:
        """Where the subject's origin lies on the paper: by the foot of the near upright, or the middle of
        everything.
        """
        closed = self.compared.closed
        for edge in self.edges.values():
            places = [closed.places[edge.id, tip] for tip in (0, 1)]
            if closed.unit is not None and set(places) == set(closed.unit):
                middle = (np.array(edge.p) + np.array(edge.q)) / 2
                return np.asarray(middle - still.points[places].mean(axis=0) * self.px, float)
        return self._offset(still)

    def ghost_rims(self) -> dict[str, Ellipse]:
        """Each drawn rim's ghost."""
        closed = self.compared.closed
        still = closed.draw([], np.zeros(0))
        start = self._start(still)
        mine = [(n, ring) for n, ring in enumerate(closed.rings) if ring.id in self.drawn_rims]
        return {
            ring.id: ring_ellipse((ring.centre @ closed.turn) * self.px + start, still.rims[n], self.px)
            for n, ring in mine
        }

    def mended(
        self, of: Candidate
    ) -> tuple[dict[str, MendedLine], dict[str, Ellipse], dict[tuple[str, Family], tuple[float, float]]]:
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
        for edge in self.drawn.values():
            steps = [
                (without.points[closed.places[edge.id, tip]] - self.as_drawn.points[closed.places[edge.id, tip]])
                * self.px
                for tip in (0, 1)
            ]
            if max(float(np.hypot(*s)) for s in steps) * compared.mm_per_px > LEAST_MEND_MM:
                lines[edge.id] = self._line(edge.id, np.array(edge.p) + steps[0], np.array(edge.q) + steps[1])
        for n, ring in enumerate(closed.rings):
            if ring.id in self.drawn_rims:
                size, opened, turned = without.rims[n] - self.as_drawn.rims[n] * [0, 1, 1]
                grown = size / max(float(self.as_drawn.rims[n][0]), 1e-9)
                seen = self.fits[ring.id]
                if abs(opened) > LEAST_OPENED_DEG or abs(grown - 1.0) > LEAST_GROWN:
                    degree = float(np.clip(seen.degree_deg + opened, 0.0, 90.0))
                    wide = seen.major_px * grown
                    rims[ring.id] = Ellipse(
                        seen.centre_px,
                        wide,
                        wide * math.sin(math.radians(degree)),
                        seen.axis_deg + float(turned),
                        degree,
                    )
        for form, family in self._runs(of.knob):
            at = closed.vanishing_point(form, family, knobs, values)
            if at is not None:
                x, y = (np.array(at) * self.px + self.offset[form]) * compared.mm_per_px
                meets[form, family] = float(x), float(y)
        return lines, rims, meets

    def _runs(self, knob: Knob) -> list[tuple[str, Family]]:
        """The families that a knob moves the vanishing point of."""
        if knob.move is Move.EYE_LEVEL:
            parts = self.compared.closed.parts
            return [
                (p.form, family)
                for p in parts
                for family, run in zip(p.families, p.run, strict=True)
                if run and family is not Family.ACROSS
            ]
        if knob.move is Move.VANISHING_POINT and knob.form is not None and knob.family is not None:
            return [(knob.form, knob.family)]
        return []

    def _line(self, id: str, p: Floats, q: Floats) -> MendedLine:
        edge, mm = self.edges[id], self.compared.mm_per_px
        moves = [(p - np.array(edge.p)) * mm, (q - np.array(edge.q)) * mm]
        far = int(np.argmax([float(np.hypot(*m)) for m in moves]))
        return MendedLine(
            (float(p[0]), float(p[1])), (float(q[0]), float(q[1])), far, (float(moves[far][0]), -float(moves[far][1]))
        )

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
        if seen is not None and reading.of_rim:
            degree = (
                float(np.clip(seen.degree_deg - value, 0.5, 90.0)) if reading.what is What.DEGREE else seen.degree_deg
            )
            wide = seen.major_px * (math.exp(-value) if reading.what is What.MAJOR else 1.0)
            axis = seen.axis_deg - (value if reading.what is What.AXIS else 0.0)
            rims[reading.sighting] = Ellipse(seen.centre_px, wide, wide * math.sin(math.radians(degree)), axis, degree)

    def _foot(self, form: str | None) -> Floats:
        """The foot of the near upright of a form, or the place of the whole, on the paper."""
        closed = self.compared.closed
        part = next((p for p in closed.parts if p.form == form), None)
        if part is not None and form is not None:
            return np.asarray((part.middle @ closed.turn) * self.px + self.offset[form], float)
        return self._start(closed.draw([], np.zeros(0)))


def ring_ellipse(centre: Floats, ring: Floats, px: float) -> Ellipse:
    """A closed drawing's rim (half major axis, degree, axis) about ``centre``, px of the drawing."""
    wide = 2.0 * float(ring[0]) * px
    return Ellipse(
        (float(centre[0]), float(centre[1])),
        wide,
        wide * math.sin(math.radians(float(ring[1]))),
        float(ring[2]),
        float(ring[1]),
    )
