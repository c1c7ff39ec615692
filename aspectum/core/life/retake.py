"""Which reading to take again: how likely each is to be the one that is grossly wrong.

Either every reading errs as its reader says, or one of them is grossly wrong: its error is then normal with a far wider
deviation. The odds of each case are its marginal likelihood, the unknowns integrated by Laplace's method (Bishop,
*Pattern Recognition and Machine Learning*, 2006, section 4.4.1): so a reading is named only when the others, and not
just its own misfit, speak against it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from aspectum.core.life.fit import CLOSING, LEAST_CLOSING, OPENING, SIDES, Evidence, FarUpright, Fit, fit
from aspectum.core.life.readings import RimReading, TiltReading
from aspectum.core.sightings import Side

GROSS_TILT_RAD = math.radians(12.0)  # standard deviation of a tilt that is read wrongly; common practice
GROSS_SHARE = 0.3  # the same of a length or of a rim's ratio
GROSS_ODDS = 0.15  # of any one reading being so wrong, before the others are looked at
MOST_GROSS = 2.5  # times those deviations: nobody reads further off, so more than one reading must be wrong
# odds from which one reading alone is to be taken again: a wrong blame costs a tutor more than an open question
NAMED = 0.65
PAIRED = 0.6  # two that share this much are named together


USUALLY, SURE = 1.645, 3.09  # normal deviations: 95 of 100 readings without a fault agree so well, 999 of 1000


@dataclass(frozen=True)
class Retake:
    """The reading that is most likely wrong, and what it should read then: a tilt in degrees, else a length or ratio in
    units. ``instead``: another that may be wrong in its place. ``likely``: probability of either being wrong, 0 to 1.
    ``open``: the readings do not tell which is wrong, and this one would need the least change.
    """

    reading: str
    due: float
    change: float
    in_sd: float
    instead: str | None = None
    likely: float = 1.0
    open: bool = False

    @property
    def sure(self) -> bool:
        """Whether this reading alone is to be taken again."""
        return self.instead is None and not self.open

    @property
    def named(self) -> tuple[str, ...]:
        if self.open:
            return ()
        return (self.reading,) if self.instead is None else (self.reading, self.instead)


@dataclass(frozen=True)
class Case:
    """One reading held to be wrong: what the rest ask of it, and the logarithm of the odds of the case."""

    reading: str
    due: float
    change: float
    in_sd: float
    log_odds: float


def best_retake(evidence: Evidence) -> Retake | None:
    """The reading to take again, with its rival where one is nearly as likely, or else the one that would need the
    least change (handbook section 2); None where all err as they may, or where no one reading alone explains what is
    wrong.
    """
    everything = fit(evidence)
    if everything is None or not everything.fixed:
        return None
    cases = sorted((case for case in held_wrong(evidence) if case is not None), key=lambda case: -case.log_odds)
    if not cases:
        return None
    logs = np.array([marginal(everything) if closes(everything) else -math.inf, *(case.log_odds for case in cases)])
    odds = np.exp(logs - logs.max())
    odds /= odds.sum()
    first = cases[0]
    if odds[1] >= NAMED:
        return Retake(first.reading, first.due, first.change, first.in_sd, None, float(odds[1]))
    if len(cases) > 1 and odds[1] + odds[2] >= PAIRED:
        return Retake(first.reading, first.due, first.change, first.in_sd, cases[1].reading, float(odds[1] + odds[2]))
    if closes(everything) and consistent(everything, evidence.count):
        return None
    least = min(cases, key=lambda case: case.in_sd)
    return Retake(least.reading, least.due, least.change, least.in_sd, None, float(odds[1:].max()), True)


def consistent(found: Fit, count: int, sure: float = USUALLY) -> bool:
    """Whether ``count`` readings fit together within their errors, by chi-square's quantile ``sure`` normal deviations
    up (Wilson-Hilferty).
    """
    spare = count - len(found.free)
    if spare < 1:
        return True
    limit = spare * (1 - 2 / (9 * spare) + sure * math.sqrt(2 / (9 * spare))) ** 3
    return found.chi2 <= limit


def closes(found: Fit) -> bool:
    """Whether no side of a fit is held at nought, as one that opens is."""
    return all(float(found.x[CLOSING + k]) > LEAST_CLOSING for k in range(2) if CLOSING + k in found.free)


def marginal(found: Fit) -> float:
    """Logarithm of the likelihood with the unknowns integrated out, up to what all cases share."""
    return -0.5 * found.chi2 - 0.5 * float(np.linalg.slogdet(found.information)[1])


def held_wrong(evidence: Evidence) -> list[Case | None]:
    far = [case_of(evidence, u) for u in evidence.far]
    return [
        *(case_of(evidence, r) for r in evidence.tilts),
        *far,
        *(case_of(evidence, r) for r in evidence.rims if r.down is not None),
    ]


def case_of(evidence: Evidence, reading: TiltReading | FarUpright | RimReading) -> Case | None:
    """The case that ``reading`` is wrong; None where the others leave it open, or where a side would open
    without it.
    """
    rest = evidence.without(reading.id)
    found = fit(rest)
    if found is None or not found.fixed or not closes(found) or not consistent(found, rest.count, SURE):
        return None
    match reading:
        case TiltReading():
            if reading.side is None or reading.side not in rest.sides:
                return None
            due = math.atan(found.closing(reading.side) * (found.level - reading.height))
            change, sd, gross = due - reading.fall_rad, reading.sd_rad, GROSS_TILT_RAD
            shown = math.degrees(due if reading.side is Side.LEFT else -due)
            turned = shown - reading.tilt_deg
        case FarUpright():
            if CLOSING + SIDES.index(reading.side) not in found.free:
                return None
            shown = 1.0 - found.closing(reading.side) * reading.width
            turned = change = shown - reading.length
            sd, gross = reading.sd(found.closing(reading.side)), GROSS_SHARE
        case _:
            if OPENING not in found.free or reading.down is None:
                return None
            shown = abs(float(found.x[OPENING]) * (reading.down - found.level))
            turned = change = shown - reading.drawn_ratio
            sd, gross = reading.drawn_sd, GROSS_SHARE
    if abs(change) > MOST_GROSS * gross:
        return None
    log_odds = marginal(found) + math.log(GROSS_ODDS * sd / gross) - 0.5 * (change / gross) ** 2
    return Case(reading.id, shown, turned, abs(change) / sd, log_odds)
