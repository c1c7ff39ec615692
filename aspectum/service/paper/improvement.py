"""A drawing brought in again: what moved, what improved, and which causes went."""

from __future__ import annotations

from dataclasses import dataclass

from aspectum.core.drawing.readings import LENGTHS, What
from aspectum.core.tolerance import Verdict
from aspectum.formats.critique import Critique, CritiqueCause, CritiqueFinding, CritiqueReading
from aspectum.formats.sheet import OwnTolerance
from aspectum.language import say
from aspectum.service.words.common import Names, several

MOVED_DEG, MOVED_SHARE = (
    1.0,
    0.02,
)  # a smaller change is the sighting's, not the pencil's; about the error of sighting a line twice

SHARES = (*LENGTHS, What.PART)


@dataclass(frozen=True)
class Since:
    """Ids of sightings that ``moved``, came ``nearer`` to the subject or went ``farther`` from it; causes ``gone``,
    ``left`` and ``new`` in words; ``waits``: nothing is said yet, as not all of it stands again.
    """

    moved: list[str]
    nearer: list[str]
    farther: list[str]
    gone: list[str]
    left: list[str]
    new: list[str]
    words: list[str]
    waits: bool = False


def not_yet(standing: int, before: int) -> Since:
    """What is said until the lines of a drawing stand again."""
    said = say(
        "{standing} of the {before} lines that were laid before stand again. What changed is told when all of them do.",
        standing=standing,
        before=before,
    )
    return Since([], [], [], [], [], [], [said], waits=True)


def since(before: Critique, now: Critique, names: Names) -> Since:
    """Two critiques of one drawing, the earlier first."""
    earlier = {f.sighting: f for f in before.findings}
    moved: list[str] = []
    nearer: list[str] = []
    farther: list[str] = []
    for f in now.findings:
        old = earlier.get(f.sighting)
        if old is None or not changed(old, f):
            continue
        moved.append(f.sighting)
        gap = worst(f, now.tolerance) - worst(old, now.tolerance)
        (nearer if gap < 0 else farther).append(f.sighting)
    were, are = {named(c): c for c in before.causes}, {named(c): c for c in now.causes}
    gone = [c.words for key, c in were.items() if key not in are]
    left = [c.words for key, c in are.items() if key in were]
    new = [c.words for key, c in are.items() if key not in were]
    said = (
        [f"Mended: {words}" for words in gone]
        + [say("Still there: {words}", words=words) for words in left]
        + [f"New: {words}" for words in new]
    )
    if nearer:
        said.append(say("Came nearer: {id}.", id=several([names(id) for id in nearer])))
    if farther:
        said.append(say("Went off: {id}.", id=several([names(id) for id in farther])))
    if not moved:
        said.append(say("No line has moved by more than sighting it twice would."))
    off = (count_off(before), count_off(now))
    said.append(say("Off before: {off}; off now: {off2}.", off=off[0], off2=off[1]))
    return Since(moved, nearer, farther, gone, left, new, said)


def named(cause: CritiqueCause) -> tuple[object, ...]:
    """What makes two causes one and the same; one that turned over is another."""
    first = cause.sightings[0] if cause.cause == "stray" and cause.sightings else None
    return cause.cause, cause.form, cause.family, cause.direction, first


Numbers = list[CritiqueReading | CritiqueFinding]


def numbers(f: CritiqueFinding) -> Numbers:
    """A sighting's main number and all others."""
    return [f, *f.also]


def changed(old: CritiqueFinding, new: CritiqueFinding) -> bool:
    """Whether any number of a sighting changed by more than sighting it again would."""
    values = {r.of: r for r in numbers(old)}
    for r in numbers(new):
        was = values.get(r.of)
        if was is not None and abs(r.difference - was.difference) > (MOVED_SHARE if r.of in SHARES else MOVED_DEG):
            return True
    return False


def worst(f: CritiqueFinding, tolerance: OwnTolerance) -> float:
    """Its largest difference, in tolerances of the drawing."""
    limits = {What.DEGREE: tolerance.degree_deg} | dict.fromkeys(SHARES, tolerance.length_percent / 100)
    return max(abs(r.difference) / limits.get(r.of, tolerance.tilt_deg) for r in numbers(f))


def count_off(critique: Critique) -> int:
    return sum(any(r.verdict is Verdict.OFF for r in numbers(f)) for f in critique.findings)
