"""One eye level and a closing for each side, fitted to everything read at one near upright.

The unknowns, in near-upright units: eye level's share ``level`` of the way down from the top; a side's ``closing``
1/distance to its vanishing point; ``opening`` 1/f by which rims open as they leave eye level. An edge at share t falls
by 'atan(closing (level - t))'; a far upright that stands a width w away is '1 - closing w' long; a rim t down is
'opening (t - level)' open, negative above eye level. Each reading is weighed in what was read, an angle or a length,
where its error is what the reader says it is. Maximum likelihood by damped Gauss-Newton from the best place of a coarse
search.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from aspectum.core.life.readings import LengthReading, RimReading, TiltReading
from aspectum.core.plane.lines import Floats
from aspectum.core.sightings import Along, Side

SIDES = (Side.LEFT, Side.RIGHT)
LEVEL, CLOSING, OPENING = 0, 1, 3  # places of the unknowns; a closing for each side
SEARCH = np.concatenate([np.linspace(-3, 4, 29), [-40, -20, -10, -5, 6, 11, 20, 40]])  # eye levels to begin from
LEAST_CLOSING = 1e-12  # a pair that closes less runs parallel or opens
MOST_CLOSING = 10.0  # nobody looks at an upright from so near that its edges meet within a tenth of it
LEAST_APART = 1e-6  # of the near upright: edges that start closer together tell no vanishing point
STEPS = 60  # of Gauss-Newton; a dozen settle all but the wildest readings
LEAST_DAMPING = 1e-8  # keeps the equations solvable where the readings leave an unknown open
SETTLED = 1e-10  # of chi-square, beside itself
QUANTILE = 1.959964  # of the normal distribution: 95 % lie within
STRETCH = np.sinh(np.linspace(-4.5, 4.5, 91))  # of the unknown's own deviation: where an interval is searched
INNER = 8  # steps that settle the other unknowns at each place of that search
COARSE = 2  # the same where a beginning is looked for only


@dataclass(frozen=True)
class FarUpright:
    """A far upright's length and the width to it, both read: together they tell its side's closing."""

    id: str
    width_id: str
    side: Side
    length: float
    length_sd: float
    width: float
    width_sd: float

    def sd(self, closing: float) -> float:
        """Standard deviation of 'length - (1 - closing width)' where the side closes so."""
        return math.hypot(self.length_sd, closing * self.width_sd)

    @property
    def closing(self) -> float:
        return (1.0 - self.length) / self.width


@dataclass(frozen=True)
class Lens:
    """How far the near upright lies from the eye, in its own lengths (1/``opening``), as arm and stick mark tell it."""

    opening: float
    sd: float


@dataclass(frozen=True)
class Evidence:
    """All that was read at one near upright."""

    tilts: tuple[TiltReading, ...] = ()
    far: tuple[FarUpright, ...] = ()
    rims: tuple[RimReading, ...] = ()
    lens: Lens | None = None

    def without(self, id: str) -> Evidence:
        return Evidence(
            tuple(r for r in self.tilts if r.id != id),
            tuple(r for r in self.far if id not in (r.id, r.width_id)),
            tuple(r for r in self.rims if r.id != id),
            self.lens,
        )

    def on(self, side: Side) -> Evidence:
        return Evidence(tuple(r for r in self.tilts if r.side is side), tuple(r for r in self.far if r.side is side))

    def without_side(self, side: Side) -> Evidence:
        return Evidence(
            tuple(r for r in self.tilts if r.side is not side),
            tuple(u for u in self.far if u.side is not side),
            self.rims,
            self.lens,
        )

    @property
    def sides(self) -> list[Side]:
        read = {r.side for r in self.tilts} | {u.side for u in self.far}
        return [side for side in SIDES if side in read]

    @property
    def unknowns(self) -> list[int]:
        """Places of the unknowns that something bears on."""
        rims = [OPENING] if self.rims or self.lens is not None else []
        level = [LEVEL] if self.tilts or self.rims else []
        return level + [CLOSING + SIDES.index(side) for side in self.sides] + rims

    @property
    def count(self) -> int:
        return len(self.tilts) + len(self.far) + len(self.rims) + (self.lens is not None)


@dataclass(frozen=True)
class Fit:
    """``x``: (4,) level, two closings, opening, nan where nothing bears on it; ``information``: (n, n) over
    ``free``.
    """

    x: Floats
    chi2: float
    free: tuple[int, ...]
    information: Floats

    @property
    def fixed(self) -> bool:
        """Whether the readings fix every unknown that they bear on."""
        scale = np.sqrt(np.diag(self.information))
        if not np.all(scale > 0):
            return False
        return bool(np.linalg.matrix_rank(self.information / np.outer(scale, scale), tol=1e-9) == len(self.free))

    @property
    def covariance(self) -> Floats:
        """(4, 4), nought where nothing bears on an unknown."""
        full = np.zeros((4, 4))
        full[np.ix_(self.free, self.free)] = np.linalg.pinv(self.information)
        return full

    @property
    def level(self) -> float:
        return float(self.x[LEVEL])

    def closing(self, side: Side) -> float:
        return float(self.x[CLOSING + SIDES.index(side)])


def far_uprights(lengths: list[LengthReading]) -> tuple[FarUpright, ...]:
    """Every side whose far upright's length and width were both read; the last reading of each counts."""
    found = []
    for side in SIDES:
        on = {r.along: r for r in lengths if r.side is side and r.ratio > 0}
        if Along.ACROSS in on and Along.UPRIGHT in on:
            width, length = on[Along.ACROSS], on[Along.UPRIGHT]
            found.append(
                FarUpright(length.id, width.id, side, length.ratio, length.ratio_sd, width.ratio, width.ratio_sd)
            )
    return tuple(found)


class Rows:
    """The readings as arrays; ``at`` answers residuals in deviations and their derivatives (rows, 4)."""

    def __init__(self, evidence: Evidence) -> None:
        self.evidence = evidence
        self.t = np.array([r.height for r in evidence.tilts], float)
        self.column = np.array([CLOSING + SIDES.index(r.side or Side.LEFT) for r in evidence.tilts], int)
        self.fall = np.array([r.fall_rad for r in evidence.tilts], float)
        self.sd = np.array([r.sd_rad for r in evidence.tilts], float)
        rims = [r for r in evidence.rims if r.down is not None]
        self.down = np.array([r.down for r in rims], float)
        self.ratio = np.array([r.signed_ratio for r in rims], float)
        self.ratio_sd = np.array([r.drawn_sd for r in rims], float)

    def at(self, x: Floats) -> tuple[Floats, Floats]:
        n, far, m = len(self.t), self.evidence.far, len(self.down)
        total = n + len(far) + m + (self.evidence.lens is not None)
        off, slope = np.zeros(total), np.zeros((total, 4))
        if n:
            arm, closing = x[LEVEL] - self.t, x[self.column]
            off[:n] = (np.arctan(closing * arm) - self.fall) / self.sd
            by = 1.0 / (1.0 + (closing * arm) ** 2) / self.sd
            slope[:n, LEVEL] = by * closing
            slope[np.arange(n), self.column] = by * arm
        for k, upright in enumerate(far, n):
            column = CLOSING + SIDES.index(upright.side)
            sd = upright.sd(upright.closing)
            off[k], slope[k, column] = ((1.0 - x[column] * upright.width) - upright.length) / sd, -upright.width / sd
        if m:
            rows = slice(n + len(far), n + len(far) + m)
            arm = self.down - x[LEVEL]
            off[rows] = (x[OPENING] * arm - self.ratio) / self.ratio_sd
            slope[rows, LEVEL], slope[rows, OPENING] = -x[OPENING] / self.ratio_sd, arm / self.ratio_sd
        if self.evidence.lens is not None:
            lens = self.evidence.lens
            off[-1], slope[-1, OPENING] = (x[OPENING] - lens.opening) / lens.sd, 1.0 / lens.sd
        return off, slope


@lru_cache(maxsize=256)  # the same readings are asked about once for what to take again and once for what they imply
def fit(evidence: Evidence) -> Fit | None:
    """The likeliest unknowns, None where nothing was read. A side never opens in it: its closing is nought at least."""
    free = evidence.unknowns
    if not free:
        return None
    rows = Rows(evidence)
    x, damping = start(rows, free), 1e-3
    off, slope = rows.at(x)
    chi2 = float(off @ off)
    for _ in range(STEPS):
        part = slope[:, free]
        information = part.T @ part
        diagonal = np.diag(information)
        scale = np.diag(diagonal + 1e-9 * diagonal.max() + 1e-12)
        step = np.linalg.solve(information + damping * scale, -(part.T @ off))
        tried = x.copy()
        tried[free] += step
        tried[CLOSING:] = np.maximum(tried[CLOSING:], 0.0)
        tried_off, tried_slope = rows.at(tried)
        tried_chi2 = float(tried_off @ tried_off)
        if tried_chi2 <= chi2:
            settled = chi2 - tried_chi2 <= SETTLED * (1.0 + chi2) and float(np.max(np.abs(step))) < 1e-9
            x, off, slope, chi2, damping = tried, tried_off, tried_slope, tried_chi2, max(damping * 0.1, LEAST_DAMPING)
            if settled:
                break
        else:
            damping *= 8.0
            if damping > 1e12:
                break
    part = slope[:, free]
    shown = np.full(4, np.nan)
    shown[free] = x[free]
    return Fit(shown, chi2, tuple(free), part.T @ part)


def start(rows: Rows, free: list[int]) -> Floats:
    """The best of a coarse search over eye level, with the other unknowns settled at each."""
    inner = settle(rows, SEARCH, COARSE)
    best = int(np.argmin(inner.chi2))
    x = np.zeros(4)
    x[LEVEL] = SEARCH[best] if LEVEL in free else 0.0
    x[CLOSING], x[CLOSING + 1], x[OPENING] = inner.closing[0][best], inner.closing[1][best], inner.opening[best]
    return x


@dataclass(frozen=True)
class Settled:
    """The likeliest other unknowns at each of many eye levels, and chi-square there; all (n,)."""

    chi2: Floats
    closing: tuple[Floats, Floats]
    opening: Floats


def settle(rows: Rows, levels: Floats, steps: int = INNER) -> Settled:
    """Given eye level the sides and the rims know nothing of one another: each is settled by itself."""
    chi2 = np.zeros(len(levels))
    closings = []
    for k, side in enumerate(SIDES):
        on = rows.column == CLOSING + k
        far = [u for u in rows.evidence.far if u.side is side]
        closing = settle_closing(levels[:, None] - rows.t[on], rows.fall[on], rows.sd[on], far, steps)
        chi2 += (
            (np.arctan(closing[:, None] * (levels[:, None] - rows.t[on])) - rows.fall[on]) ** 2 / rows.sd[on] ** 2
        ).sum(axis=1)
        for u in far:
            chi2 += ((1.0 - closing * u.width - u.length) / u.sd(u.closing)) ** 2
        closings.append(closing)
    reach, weight = rows.down - levels[:, None], rows.ratio_sd**-2.0
    lens = rows.evidence.lens
    known, known_weight = (lens.opening, lens.sd**-2.0) if lens is not None else (0.0, 0.0)
    opening = ((reach * rows.ratio * weight).sum(axis=1) + known * known_weight) / np.maximum(
        (reach**2 * weight).sum(axis=1) + known_weight, 1e-300
    )
    opening = np.maximum(opening, 0.0)
    chi2 += ((opening[:, None] * reach - rows.ratio) ** 2 * weight).sum(axis=1) + (opening - known) ** 2 * known_weight
    return Settled(chi2, (closings[0], closings[1]), opening)


def settle_closing(arm: Floats, fall: Floats, sd: Floats, far: list[FarUpright], steps: int) -> Floats:
    """The likeliest closing (n,) of one side where its edges reach ``arm`` (n, m) above or below eye level."""
    drop = np.tan(fall)
    weight = 1.0 / (sd * (1.0 + drop**2)) ** 2
    over = sum(u.width * (1.0 - u.length) / u.sd(u.closing) ** 2 for u in far)
    under = sum((u.width / u.sd(u.closing)) ** 2 for u in far)
    closing = np.maximum(
        ((arm * drop * weight).sum(axis=1) + over) / np.maximum((arm**2 * weight).sum(axis=1) + under, 1e-300), 0.0
    )
    for _ in range(steps):
        run = closing[:, None] * arm
        by = arm / (1.0 + run**2)
        pull = (by * (fall - np.arctan(run)) / sd**2).sum(axis=1) + over - under * closing
        closing = np.maximum(closing + pull / np.maximum((by**2 / sd**2).sum(axis=1) + under, 1e-300), 0.0)
    return np.asarray(closing, float)


def level_interval(evidence: Evidence, best: Fit) -> tuple[float | None, float | None]:
    """95 % interval of eye level by the likelihood ratio, which follows the skew that first-order errors miss; None
    where it has no end.
    """
    sd = math.sqrt(max(float(best.covariance[LEVEL, LEVEL]), 0.0))
    if not math.isfinite(sd) or sd == 0.0:
        return None, None
    places = best.level + sd * STRETCH
    return crossings(places, settle(Rows(evidence), places).chi2 - best.chi2, best.level)


def closing_interval(evidence: Evidence, side: Side, best: Fit) -> tuple[float | None, float | None]:
    """95 % interval of a side's closing by the likelihood ratio, the other unknowns settled at each place."""
    column = CLOSING + SIDES.index(side)
    sd = math.sqrt(max(float(best.covariance[column, column]), 0.0))
    if not math.isfinite(sd) or sd == 0.0:
        return None, None
    places = np.unique(np.maximum(best.closing(side) + sd * STRETCH, 0.0))
    chi2 = np.zeros(len(places))
    for u in evidence.on(side).far:
        chi2 += ((1.0 - places * u.width - u.length) / u.sd(u.closing)) ** 2
    if evidence.tilts:
        chi2 += lowest(evidence, side, places, best)
    low, high = crossings(places, chi2 - best.chi2, best.closing(side))
    return low, high


def lowest(evidence: Evidence, side: Side, closings: Floats, best: Fit) -> Floats:
    """Least chi-square (n,) over eye level at each of a side's ``closings``, of the side's tilts and all that is not on
    this side.
    """
    levels = best.level + math.sqrt(max(float(best.covariance[LEVEL, LEVEL]), 1e-24)) * STRETCH
    cost = settle(Rows(evidence.without_side(side)), levels).chi2[None, :].repeat(len(closings), axis=0)
    for r in evidence.tilts:
        if r.side is side:
            cost += ((np.arctan(closings[:, None] * (levels - r.height)) - r.fall_rad) / r.sd_rad) ** 2
    # the lowest place lies between those searched: a parabola through three of them finds it
    k = np.clip(np.argmin(cost, axis=1), 1, len(levels) - 2)
    row = np.arange(len(closings))
    before, here, after = levels[k - 1], levels[k], levels[k + 1]
    down, up = (cost[row, k - 1] - cost[row, k]) / (before - here), (cost[row, k + 1] - cost[row, k]) / (after - here)
    bend = (up - down) / (after - before)
    tilt = up - bend * (after - here)
    dip = np.where(bend > 0, tilt**2 / (4.0 * np.where(bend > 0, bend, 1.0)), 0.0)
    return np.asarray(np.maximum(cost[row, k] - dip, 0.0), float)


def crossings(places: Floats, over: Floats, best: float) -> tuple[float | None, float | None]:
    """Where chi-square rises by the 95 % quantile on either side of ``best``; None where it never does."""
    root = np.sqrt(np.maximum(over, 0.0))
    ends: list[float | None] = []
    for way in (-1, 1):
        on = (places - best) * way >= 0
        at, rise = np.concatenate([[best], places[on][::way]]), np.concatenate([[0.0], root[on][::way]])
        beyond = np.flatnonzero(rise >= QUANTILE)
        if beyond.size == 0:
            ends.append(None)
            continue
        k = int(beyond[0])
        ends.append(float(at[k - 1] + (QUANTILE - rise[k - 1]) / (rise[k] - rise[k - 1]) * (at[k] - at[k - 1])))
    return ends[0], ends[1]
