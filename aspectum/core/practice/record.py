"""The statistics of a skill: bias and spread of its signed errors with their 95 % intervals, and whether they change
(handbook section 8).

Bias is the mean error, with Student's t interval; spread the standard deviation, with the χ² interval: constant and
variable error, in the words of psychophysics. Errors count as independent and normal; a reading's own ± is part of the
spread and is not taken out of it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.lines import Floats

LEAST_READINGS = 5  # under which nothing is said of a skill (handbook section 8)
TAIL = 0.025  # beyond either end of a 95 % interval
OWN_SHARE = 1 / 3  # of the spread, beyond which the readings' own ± is worth a word
PRIOR_READINGS = 6.0  # that the usual spread counts for while few are in
WEEK_DAYS = 7.0  # a class meets once a week: what is counted by weeks is counted by lessons
LEAST_SPAN_DAYS = 2.0  # of readings that can show a change: within an evening one is warm or tired
RECENT_DAYS = 4 * WEEK_DAYS  # four lessons
MONTH_DAYS = 30.0  # for “since last month”, whichever month it was


@dataclass(frozen=True)
class Interval:
    """A value with its 95 % interval."""

    value: float
    low: float
    high: float


@dataclass(frozen=True)
class Standing:
    """How a skill stands: ``n`` readings, and with five at least its ``bias`` and ``spread`` in its unit. ``own``:
    whether the readings' own ± makes more than a third of the spread.
    """

    n: int
    bias: Interval | None
    spread: Interval | None
    own: bool = False


@dataclass(frozen=True)
class Trend:
    """How the bias changed: the fitted line's errors at the first and the last reading, and their difference with its
    interval. ``days`` between them.
    """

    first: float
    last: float
    change: Interval
    days: float

    @property
    def sure(self) -> bool:
        """Whether the interval leaves out no change at all."""
        return self.change.low > 0.0 or self.change.high < 0.0

    @property
    def better(self) -> bool:
        """Whether the bias came nearer to nothing."""
        return abs(self.last) < abs(self.first)


def standing(errors: Floats, own_sd: Floats | None = None) -> Standing:
    """Bias and spread of signed ``errors`` (k,). ``own_sd`` (k,): each reading's own ±, nan where it is not known.

    Five readings 3, 5, 4, 6, 2 have bias 4.00 (2.04 to 5.96) and spread 1.58 (0.95 to 4.54): handbook section 8.
    """
    n = len(errors)
    if n < LEAST_READINGS:
        return Standing(n, None, None)
    mean, sd = float(errors.mean()), float(errors.std(ddof=1))
    from scipy.special import chdtri, stdtrit  # loaded where a record is read: it is a tenth of a start

    half = float(stdtrit(n - 1, 1.0 - TAIL)) * sd / math.sqrt(n)
    # chdtri takes the upper tail
    low, high = (sd * math.sqrt((n - 1) / float(chdtri(n - 1, tail))) for tail in (TAIL, 1.0 - TAIL))
    known = np.array([]) if own_sd is None else own_sd[np.isfinite(own_sd)]
    own = len(known) > 0 and sd > 0 and math.sqrt(float((known**2).mean())) > OWN_SHARE * sd
    return Standing(n, Interval(mean, mean - half, mean + half), Interval(sd, low, high), own)


def trend(days: Floats, errors: Floats) -> Trend | None:
    """The change of the errors (k,) over ``days`` (k,), by least squares; None for under five readings, and for those
    of a day or two.
    """
    n = len(errors)
    if n < LEAST_READINGS:
        return None
    first, last = float(days.min()), float(days.max())
    at = days - days.mean()
    scatter = float(at @ at)
    if last - first < LEAST_SPAN_DAYS:
        return None
    slope = float(at @ errors) / scatter
    rest = errors - errors.mean() - slope * at
    from scipy.special import stdtrit

    half = float(stdtrit(n - 2, 1.0 - TAIL)) * math.sqrt(float(rest @ rest) / (n - 2) / scatter)
    span = last - first
    middle = float(errors.mean())
    ends = [middle + slope * (day - float(days.mean())) for day in (first, last)]
    return Trend(ends[0], ends[1], Interval(slope * span, (slope - half) * span, (slope + half) * span), span)


@dataclass(frozen=True)
class Week:
    """A stretch of readings: their mean ``day`` and error, and the standing of them alone."""

    day: float
    mean: float
    standing: Standing


def weeks(days: Floats, errors: Floats) -> list[Week]:
    """The errors (k,) week by week from the first of ``days`` (k,) on; weeks without readings are left out."""
    if len(days) == 0:
        return []
    number = np.floor((days - days.min()) / WEEK_DAYS).astype(int)
    kept = [number == k for k in np.unique(number)]
    return [Week(float(days[k].mean()), float(errors[k].mean()), standing(errors[k])) for k in kept]


@dataclass(frozen=True)
class Estimate:
    """What is known of a skill in tolerances, however few its readings: ``bias`` drawn towards nothing, its ``sd``, and
    the ``spread``, drawn towards the usual one.
    """

    n: int
    bias: float
    sd: float
    spread: float


USUAL_BIAS, USUAL_SPREAD = (
    0.8,
    0.85,
)  # tolerances: how far skills lie from nothing before anything is known of them, and how readings scatter


def estimate(errors: Floats) -> Estimate:
    """Of ``errors`` (k,) in tolerances: a normal prior on the bias, and an inverse-χ² one on the variance that counts
    as ``PRIOR_READINGS`` (Gelman and others, *Bayesian Data Analysis*, 3rd ed., section 3.3, with the variance put in
    at its posterior mean).
    """
    n = len(errors)
    mean = float(errors.mean()) if n else 0.0
    around = float(((errors - mean) ** 2).sum())
    variance = (PRIOR_READINGS * USUAL_SPREAD**2 + around) / (PRIOR_READINGS + max(n - 1, 0))
    precision = 1.0 / USUAL_BIAS**2 + n / variance
    return Estimate(n, n * mean / variance / precision, 1.0 / math.sqrt(precision), math.sqrt(variance))
