"""Everything that could be wrong with a drawing: the kinds of causes, and the candidates that a drawing and its subject offer."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum

from aspectum.core.drawing.closed import Closed, Knob
from aspectum.core.drawing.readings import Readings, What
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
        return (
            (self.kind,)
            if self.kind is CauseKind.RIM and self.form is None
            else (self.kind, self.form)
            if self.kind is CauseKind.RIM
            else (self.on,)
            if self.on
            else (self,)
        )


def candidates(closed: Closed, readings: Readings) -> list[Candidate]:
    """Everything that could be wrong with the drawing."""
    found = [Candidate(CauseKind(knob.move.value), knob.form, knob.family, knob) for knob in closed.knobs()]
    opened: dict[str, list[int]] = {}
    for n, reading in enumerate(readings.of):
        if reading.what is What.DEGREE and reading.form is not None and reading.ring >= 0:
            opened.setdefault(reading.form, []).append(n)
    upper: list[int] = []
    lower: list[int] = []
    for form, mine in opened.items():
        mine.sort(key=lambda n: float(closed.rings[readings.of[n].ring].centre[1]))
        found.append(Candidate(CauseKind.RIM, form, None, which=Which.ALL, on=tuple(mine)))
        if len(mine) > 1 and all(readings.of[n].family is Family.UPRIGHT for n in mine):
            found.append(Candidate(CauseKind.RIM, form, None, which=Which.UPPER, on=tuple(mine[:1])))
            found.append(Candidate(CauseKind.RIM, form, None, which=Which.LOWER, on=tuple(mine[1:])))
            upper, lower = upper + mine[:1], lower + mine[1:]
    if len(opened) > 1:
        # a habit of the hand shows on every form alike
        sorts = ((Which.ALL, sorted(n for mine in opened.values() for n in mine)), (Which.UPPER, upper), (Which.LOWER, lower))
        found += [Candidate(CauseKind.RIM, None, None, which=which, on=tuple(on)) for which, on in sorts if len(on) > 1]
    single = {c.on for c in found if len(c.on) == 1}
    for n, reading in enumerate(readings.of):
        if (n,) not in single and reading.what is not What.SHIFT:
            found += strays(readings, n)
    return found


def strays(readings: Readings, n: int) -> list[Candidate]:
    """One number off by itself; of a line between corners, about either end, or about its middle."""
    reading, closure = readings.of[n], readings.closure
    plain = Candidate(CauseKind.STRAY, reading.form, reading.family, on=(n,))
    if reading.what not in (What.TILT, What.LENGTH) or reading.sighting not in closure.ids:
        return [plain]
    k, places = closure.ids.index(reading.sighting), [m for m, r in enumerate(readings.of) if r.what is What.SHIFT]
    found: dict[tuple[tuple[int, float], ...], None] = {}
    for tip in (0, 1, None):
        by = closure.moved(k, tip, 1.0, 0.0) if reading.what is What.TILT else closure.moved(k, tip, 0.0, SMALL) / SMALL
        found[tuple((m, float(v)) for m, v in zip(places, by, strict=True) if abs(v) > SMALL)] = None
    return [replace(plain, beside=beside) for beside in found]
