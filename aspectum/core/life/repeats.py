"""A reading taken several times over: its average, its own ±, and a repeat that strays."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from aspectum.core.tolerance import beyond

# readings that the reader's usual error counts for beside the repeats' own spread, which two or three do not tell
USUAL_COUNT = 4
STRAYS_BY = 3.0  # deviations of the others from which a repeat strays


@dataclass(frozen=True)
class Repeated:
    """``value``: average of the repeats that do not stray; ``sd``: its standard deviation; ``spread``: the repeats'
    own; ``strays``: places of those left out; ``differ``: whether two differ so that a third must tell which is wrong.
    """

    value: float
    sd: float
    spread: float | None
    strays: tuple[int, ...] = ()
    differ: bool = False


def average(values: list[float], usual_sd: float) -> Repeated:
    """Average readings of one thing, each of which errs by about ``usual_sd``, as does the reading of a single one.

    Their spread is shrunk towards the usual error, as the mean of a scaled inverse chi-square posterior has it (Gelman
    et al., *Bayesian Data Analysis*, 3rd ed., section 2.6). Raises ``ValueError`` without a value.
    """
    if not values:
        raise ValueError("expected at least one reading")
    kept = list(range(len(values)))
    strays: list[int] = []
    while len(kept) >= 3:
        # the farthest from the others' middle strays if it lies beyond what they and the usual error allow
        gaps = []
        for k in kept:
            others = np.array([values[j] for j in kept if j != k])
            sd = max(pooled(others, usual_sd), usual_sd) * math.sqrt(1 + 1 / len(others))
            gaps.append((abs(values[k] - float(np.mean(others))) / sd, k))
        worst, place = max(gaps)
        if worst <= STRAYS_BY:
            break
        kept.remove(place)
        strays.append(place)
    left = np.array([values[k] for k in kept])
    spread = float(np.std(left, ddof=1)) if len(left) > 1 else None
    differ = len(left) == 2 and bool(beyond(float(left[0] - left[1]), math.sqrt(2.0) * usual_sd, 0.0))
    sd = pooled(left, usual_sd) / math.sqrt(len(left))
    return Repeated(float(np.mean(left)), sd, spread, tuple(sorted(strays)), differ)


def pooled(values: np.ndarray[tuple[int], np.dtype[np.float64]], usual_sd: float) -> float:
    """Standard deviation of one reading, by the repeats and by the usual error."""
    squares = float(((values - values.mean()) ** 2).sum())
    return math.sqrt((USUAL_COUNT * usual_sd**2 + squares) / (USUAL_COUNT + len(values) - 1))
