"""Everything that could be wrong with a drawing: the kinds of causes, and the candidates that a drawing and its subject
offer.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from aspectum.core.drawing.closed import Closed, Knob
from aspectum.core.drawing.readings import Readings, What
from aspectum.core.plane.lines import Floats
from aspectum.core.sightings import Family

SMALL = 1e-3  # mm, and log of a length: a step to take derivatives by, and a move that is none


class CauseKind(StrEnum):
    """The causes of formats' table."""

    EYE_LEVEL = "eye-level"
    VANISHING_POINT = "vanishing-point"
    LEAN = "lean"
    STRETCH = "stretch"
    SIZE = "size"
    DEPTH = "depth"
    RIM = "rim"
    TURNED = "turned"
    STRAY = "stray"


class Which(StrEnum):
    """Which of a form's rims."""

    LOWER = "lower"
    UPPER = "upper"
    ALL = "all"


@dataclass(frozen=True)
class Candidate:
    """Something that could be wrong: a ``knob`` of the closed drawing, or numbers ``on`` that stand off together by one
    amount, and ``beside`` them others by so much of it: what leaves a line's corners when it alone is off.
    """

    kind: CauseKind
    form: str | None
    family: Family | None
    knob: Knob | None = None
    which: Which | None = None
    on: tuple[int, ...] = ()
    beside: tuple[tuple[int, float], ...] = ()

    @property
    def clashes(self) -> tuple[object, ...]:
        """Two candidates with the same are two readings of one thing."""
        if self.kind in (CauseKind.RIM, CauseKind.TURNED):
            return (self.kind,) if self.form is None else (self.kind, self.form)
        return (self.on,) if self.on else (self,)


def candidates(closed: Closed, readings: Readings) -> list[Candidate]:
    """Everything that could be wrong with the drawing."""
    found = [Candidate(CauseKind(knob.move.value), knob.form, knob.family, knob) for knob in closed.knobs()]
    found += rims_opened(closed, readings) + turned_across(readings)
    single = {c.on for c in found if len(c.on) == 1}
    for n, reading in enumerate(readings.of):
        if (n,) not in single and reading.what is not What.SHIFT and not reading.given:
            found += strays(readings, n)
    return found


def rims_opened(closed: Closed, readings: Readings) -> list[Candidate]:
    """Rims of a form, or of every form alike, that are drawn too flat or too round together."""
    opened: dict[str, list[int]] = {}
    for n, reading in enumerate(readings.of):
        if reading.what is What.DEGREE and reading.form is not None and reading.ring >= 0:
            opened.setdefault(reading.form, []).append(n)
    found: list[Candidate] = []
    every: dict[Which, list[int]] = {which: [] for which in (Which.ALL, Which.UPPER, Which.LOWER)}
    for form, mine in opened.items():
        mine.sort(key=lambda n: float(closed.rings[readings.of[n].ring].centre[1]))
        sorts = {Which.ALL: mine}
        if len(mine) > 1 and all(readings.of[n].family is Family.UPRIGHT for n in mine):
            sorts |= {Which.UPPER: mine[:1], Which.LOWER: mine[1:]}
        for which, on in sorts.items():
            every[which] += on
        found += sorted_rims(readings, form, sorts)
    # a habit of the hand shows on every form alike
    return found + [c for c in sorted_rims(readings, None, every) if len(opened) > 1 and len(c.on) > 1]


def turned_across(readings: Readings) -> list[Candidate]:
    """Edges across, of one form or of every form, that are turned together out of true with the front: they have no
    vanishing point to move.
    """
    by_form: dict[str, list[int]] = {}
    for n, reading in enumerate(readings.of):
        if (
            reading.what is What.TILT
            and reading.family is Family.ACROSS
            and reading.form is not None
            and not reading.given
            and not reading.of_rim
        ):
            by_form.setdefault(reading.form, []).append(n)
    groups: list[tuple[str | None, list[int]]] = [*by_form.items()]
    if len(by_form) > 1:
        groups.append((None, sorted(n for on in by_form.values() for n in on)))
    closure = readings.closure
    found: dict[Candidate, None] = {}
    for form, on in groups:
        if len(on) < 2:
            continue
        plain = Candidate(CauseKind.TURNED, form, Family.ACROSS, on=tuple(on))
        found[plain] = None  # drawn from line to line, so that they keep their corners
        lines = [closure.ids.index(readings.of[n].sighting) for n in on if readings.of[n].sighting in closure.ids]
        for pivot in (-1.0, 0.0, 1.0):  # about their left ends, their middles, their right ends
            by = sum((closure.moved(k, closure.end_at(k, pivot), 1.0, 0.0) for k in lines), np.zeros(len(closure.of)))
            found[replace(plain, beside=beside_of(readings, by))] = None
    return list(found)


def beside_of(readings: Readings, by: Floats) -> tuple[tuple[int, float], ...]:
    """What moves corners by so much (mm, one for each line between two of them), as numbers beside a
    candidate's own.
    """
    places = [m for m, r in enumerate(readings.of) if r.what is What.SHIFT]
    return tuple((m, float(v)) for m, v in zip(places, by, strict=True) if abs(v) > SMALL)


def sorted_rims(readings: Readings, form: str | None, sorts: dict[Which, list[int]]) -> list[Candidate]:
    """A candidate for each sort of rims, without those that are printed; where only one sort is the hand's own, all of
    them are no other.
    """
    drawn = {which: tuple(sorted(n for n in on if not readings.of[n].given)) for which, on in sorts.items()}
    named = {on for which, on in drawn.items() if which is not Which.ALL}
    return [
        Candidate(CauseKind.RIM, form, None, which=which, on=on)
        for which, on in drawn.items()
        if on and not (which is Which.ALL and on in named)
    ]


def strays(readings: Readings, n: int) -> list[Candidate]:
    """One number off by itself; of a line between corners, about either end, or about its middle."""
    reading, closure = readings.of[n], readings.closure
    plain = Candidate(CauseKind.STRAY, reading.form, reading.family, on=(n,))
    if reading.what not in (What.TILT, What.LENGTH) or reading.sighting not in closure.ids:
        return [plain]
    k = closure.ids.index(reading.sighting)
    found: dict[tuple[tuple[int, float], ...], None] = {}
    for tip in (0, 1, None):
        by = closure.moved(k, tip, 1.0, 0.0) if reading.what is What.TILT else closure.moved(k, tip, 0.0, SMALL) / SMALL
        found[beside_of(readings, by)] = None
    return [replace(plain, beside=beside) for beside in found]
