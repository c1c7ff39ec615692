"""How well causes are told over simulated drawings: shared by the seeded samples in the tests and the full bench."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field

import numpy as np

from aspectum.core.drawing.candidates import CauseKind
from aspectum.core.drawing.compare import Compared, compare
from aspectum.core.drawing.critique import Critique, Direction, ToldCause, critique
from aspectum.core.drawing.hand import FREEHAND_HAND
from aspectum.core.drawing.readings import What
from aspectum.core.tolerance import FREEHAND
from tests.paper_scenes import (
    KINDS,
    PAPER_DPMM,
    Drawn,
    Fault,
    PaperSubject,
    on_paper,
    paper_subject,
    random_fault,
    sighted,
)

# the direction that a fault of positive size has, and of negative size
WAYS = {
    "eye-level": (Direction.TOO_HIGH, Direction.TOO_LOW),
    "vanishing-point": (Direction.TOO_NEAR, Direction.TOO_FAR),
    "lean": (Direction.RIGHT, Direction.LEFT),
    "size": (Direction.TOO_LARGE, Direction.TOO_SMALL),
    "depth": (Direction.TOO_WIDE, Direction.TOO_NARROW),
    "rim": (Direction.TOO_FLAT, Direction.TOO_ROUND),
}


@dataclass(frozen=True)
class Conditions:
    """How the drawings are made and sighted. ``harsh``: a fault's size is set by the few lines that it turns most."""

    kinds: tuple[str, ...] = KINDS
    pitch_deg: float = 0.0
    lens_given: bool = True
    missing: float = 0.0
    harsh: bool = False
    way: Drawn = Drawn.ABOUT_MIDDLE


@dataclass
class Tally:
    """``first``: drawings whose one fault was named first, with its direction and form, of ``drawn`` by kind;
    ``superfluous``: drawings with a cause beside it; ``quiet``: drawings with wobble alone in which none was named;
    ``both``: pairs told within three; ``told``, ``right``: causes.
    """

    drawn: Counter[str] = field(default_factory=Counter)
    first: Counter[str] = field(default_factory=Counter)
    superfluous: int = 0
    quiet: int = 0
    both: int = 0
    told: int = 0
    right: int = 0
    deviations: list[float] = field(default_factory=list)

    @property
    def count(self) -> int:
        return sum(self.drawn.values())

    def share(self) -> float:
        return sum(self.first.values()) / max(self.count, 1)


def names(
    cause: ToldCause,
    fault: Fault,
    subject: PaperSubject,
    lengths: frozenset[What] = frozenset({What.LENGTH, What.MAJOR}),
) -> bool:
    """Whether a told cause is the planted one, with its direction and form."""
    if cause.cause.value != fault.kind:
        return False
    several = len(subject.forms) > 1
    more = fault.size > 0
    if fault.kind == "stray":
        same = cause.sightings[0] == fault.sighting and (cause.of_what in lengths) == (fault.which == "length")
        if fault.which == "length":
            return same and cause.direction is (Direction.TOO_LONG if more else Direction.TOO_SHORT)
        return same
    if fault.kind == "stretch":
        if fault.form is None or not several:
            return cause.form is None and cause.direction is (Direction.TOO_WIDE if more else Direction.TOO_TALL)
        ways = (
            (Direction.TOO_TALL, Direction.TOO_SHORT)
            if fault.which == "up"
            else (Direction.TOO_WIDE, Direction.TOO_NARROW)
        )
        return cause.form == fault.form and cause.direction is ways[0 if more else 1]
    if cause.direction is not WAYS[fault.kind][0 if more else 1]:
        return False
    if fault.kind == "rim":
        return cause.form == fault.form and (
            cause.which == fault.which or {str(cause.which), fault.which} == {"lower", "all"}
        )
    return fault.kind in ("eye-level", "lean") or (
        cause.form == fault.form and (fault.kind == "size" or cause.family is fault.family)
    )


def judged(
    rng: np.random.Generator, subject: PaperSubject, faults: list[Fault], conditions: Conditions
) -> tuple[Compared, Critique]:
    """A drawing with faults, drawn and sighted by hand, and its critique."""
    theirs = sighted(subject, rng)
    drawn = on_paper(
        subject, faults, rng, longest_mm=float(rng.uniform(140, 240)), missing=conditions.missing, way=conditions.way
    )
    compared = compare(theirs, drawn, 1.0 / PAPER_DPMM)
    return compared, critique(compared, theirs, drawn, FREEHAND)


def simulate(seed: int, count: int, planted: int, conditions: Conditions | None = None) -> Tally:
    """Draw ``count`` drawings with ``planted`` faults each and tally what is told of them."""
    conditions = conditions or Conditions()
    rng, tally = np.random.default_rng(seed), Tally()
    for n in range(count):
        subject = paper_subject(
            rng, conditions.kinds[n % len(conditions.kinds)], conditions.pitch_deg, conditions.lens_given
        )
        faults = several_faults(rng, subject, planted, conditions.harsh)
        compared, found = judged(rng, subject, faults, conditions)
        hits = [[names(cause, fault, subject) for fault in faults] for cause in found.causes]
        tally.told += len(found.causes)
        tally.right += sum(any(hit) for hit in hits)
        tally.quiet += not found.causes
        if planted == 1:
            kind = kind_of(faults[0])
            tally.drawn[kind] += 1
            tally.first[kind] += bool(hits) and any(hits[0])
            tally.superfluous += any(not any(hit) for hit in hits)
            if hits and any(hits[0]) and faults[0].kind in ("lean", "stretch", "depth", "size"):
                value = np.radians(faults[0].size) if faults[0].kind == "lean" else faults[0].size
                tally.deviations.append(
                    (compared.explained.causes[0].value - float(value)) / max(compared.explained.causes[0].sd, 1e-9)
                )
        else:
            tally.drawn["all"] += 1
            tally.both += all(any(hit[k] for hit in hits) for k in range(planted))
    return tally


@dataclass(frozen=True)
class Honest:
    """Of drawings in one way: in how many nothing at all was told where nothing was wrong, and in how many one planted
    stray was named, of so many each.
    """

    clean: int
    named: int
    count: int


def honest_and_astray(seed: int, count: int, way: Drawn, times: float) -> Honest:
    """``count`` drawings with wobble alone, and as many in which one line is off by so many ``times`` the hand's own
    deviation for its length.
    """
    rng, conditions = np.random.default_rng(seed), Conditions(way=way)
    clean = named = 0
    for n in range(count):
        subject = paper_subject(rng, KINDS[n % len(KINDS)])
        clean += not judged(rng, subject, [], conditions)[1].causes
        fault = stray_of(rng, subject, times)
        told = judged(rng, subject, [fault], conditions)[1].causes
        named += any(cause.cause is CauseKind.STRAY and cause.sightings[0] == fault.sighting for cause in told)
    return Honest(clean, named, count)


def stray_of(rng: np.random.Generator, subject: PaperSubject, times: float) -> Fault:
    edges = subject.drawn([])[0]
    id, form, family, p, q = edges[int(rng.integers(len(edges)))]
    # as long as it is on paper, at the mean of the sizes that ``judged`` draws in
    long = np.array([np.hypot(*(q - p)) * 190.0 / np.ptp(np.array([at for e in edges for at in e[3:5]]), axis=0).max()])
    sign = float(rng.choice([-1.0, 1.0]))
    if rng.random() < 0.5:
        return Fault("stray", sign * times * float(FREEHAND_HAND.tilt_sd_deg(long)[0]), form, family, "tilt", id)
    return Fault("stray", sign * times * float(FREEHAND_HAND.length_sd(long)[0]), form, family, "length", id)


def several_faults(rng: np.random.Generator, subject: PaperSubject, count: int, harsh: bool) -> list[Fault]:
    """So many faults, no two of the same thing."""
    found: list[Fault] = []
    while len(found) < count:
        fault = random_fault(rng, subject, most_turned=harsh)
        if fault is not None and all(
            (fault.kind, fault.form, fault.family) != (f.kind, f.form, f.family) for f in found
        ):
            found.append(fault)
    return found


def kind_of(fault: Fault) -> str:
    return fault.kind if fault.kind != "stretch" or fault.form is None else "stretch of one form"
