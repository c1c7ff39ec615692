"""The near-corner card: tilts read from life with a stick, no photo (handbook section 2).

The near upright is one unit long. On each side the top edge falls by ``a`` and the bottom edge
climbs by ``b`` as it goes away; the side's vanishing point then lies 1/(tan a + tan b) units out
and eye level tan a/(tan a + tan b) of the way down from the top. Both sides must agree.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from aspectum.core.lines import Floats

STICK_SD_DEG = 2.0
LENGTH_SD = 0.033  # eye to stick 60 ± 2 cm; the handbook, section 4
LEAST_SD_DEG = 1e-3  # nobody reads a stick better than that
LEAST_CLOSING = 1e-12  # a pair that closes less runs parallel or opens
SEARCH_DEG = np.arange(0.0, 60.0, 0.25)  # how far a reading may have to change
LEAST_APART = 1e-6  # of the near upright: edges that start closer together tell no vanishing point
AGREE_AT = 2.0  # combined standard deviations within which the two sides agree


class End(StrEnum):
    """Where a receding edge meets the near upright: at its top, its foot, or a share between."""

    NEAR_TOP = "near-top"
    NEAR_BOTTOM = "near-bottom"


@dataclass(frozen=True)
class Reading:
    """One tilt read at the near upright. ``side``: left or right; ``height``: where it starts, as
    a share of the way down from the top (0 = near-top, 1 = near-bottom); ``tilt_deg`` as drawn,
    positive when the line rises to the viewer's right.
    """

    id: str
    side: str
    height: float
    tilt_deg: float
    sd_deg: float = STICK_SD_DEG

    @property
    def fall(self) -> float:
        """Tangent of how steeply the edge falls as it goes away (negative when it climbs)."""
        tangent = float(np.tan(np.radians(self.tilt_deg)))
        return tangent if self.side == "left" else -tangent

    @property
    def fall_sd(self) -> float:
        """Standard deviation of ``fall``, to first order."""
        return math.radians(max(self.sd_deg, LEAST_SD_DEG)) * (1 + self.fall**2)


@dataclass(frozen=True)
class Side:
    """One side's vanishing point, in near-upright units. ``distance`` is None where the pair
    opens or runs parallel; ``eye_level`` is the share down from the top, negative above it.
    """

    side: str
    distance: float | None
    distance_sd: float | None
    eye_level: float | None
    eye_level_sd: float | None
    opens: bool
    readings: tuple[str, ...]


@dataclass(frozen=True)
class Retake:
    """The reading whose change best reconciles the two sides, and what it should read then."""

    reading: str
    tilt_deg: float
    change_deg: float
    in_sd: float
    instead: str | None = None


@dataclass(frozen=True)
class NearCorner:
    """``agree`` is None where only one side gives an eye level. ``eye_level`` joins both sides."""

    left: Side
    right: Side
    eye_level: float | None
    eye_level_sd: float | None
    gap: float | None
    gap_sd: float | None
    agree: bool | None
    retake: Retake | None


def near_corner(readings: list[Reading]) -> NearCorner:
    """Solve both sides of the card.

    Raises ``ValueError`` for a reading on no side, a tilt outside -90..90, or an error that is
    not positive.
    """
    for r in readings:
        if r.side not in ("left", "right"):
            raise ValueError(f"{r.id}: a receding edge runs to the left or to the right")
        if not -90.0 < r.tilt_deg < 90.0:
            raise ValueError(f"{r.id}: a receding edge tilts between -90 and 90 degrees")
        if not r.sd_deg > 0:
            raise ValueError(f"{r.id}: the reading error must be positive")
    left, right = (solve_side(side, [r for r in readings if r.side == side]) for side in ("left", "right"))
    levels = [(s.eye_level, s.eye_level_sd) for s in (left, right) if s.eye_level is not None and s.eye_level_sd is not None]
    if not levels:
        return NearCorner(left, right, None, None, None, None, None, None)
    weight = np.array([1 / sd**2 for _, sd in levels])
    joint = float(weight @ np.array([level for level, _ in levels]) / weight.sum())
    sd = float(weight.sum() ** -0.5)
    if len(levels) == 1:
        return NearCorner(left, right, joint, sd, None, None, None, retake_opening(readings, left, right))
    gap = levels[0][0] - levels[1][0]
    gap_sd = float(np.hypot(levels[0][1], levels[1][1]))
    agree = abs(gap) <= AGREE_AT * gap_sd and consistent(readings)
    retake = None if agree else best_retake(readings)
    return NearCorner(left, right, joint, sd, gap, gap_sd, agree, retake)


def solve_side(side: str, readings: list[Reading]) -> Side:
    """Vanishing point of one side from two or more readings, with first-order errors.

    Each edge at share t down from the top falls by 'slope k (level - t)' with k = 1/distance:
    a straight line in t, fitted with the readings' errors as weights.
    """
    names = tuple(r.id for r in readings)
    if len(readings) < 2:
        return Side(side, None, None, None, None, False, names)
    t, fall = np.array([r.height for r in readings]), np.array([r.fall for r in readings])
    weight = np.array([r.fall_sd**-2 for r in readings])
    if float(np.ptp(t)) < LEAST_APART:
        return Side(side, None, None, None, None, False, names)
    closing, level, (middle, apart) = (v.tolist() for v in close_lines(t, fall, weight))
    if closing <= LEAST_CLOSING:
        return Side(side, None, None, None, None, True, names)
    # about the weighted middle the line's height and its closing err independently
    level_sd = math.hypot(float(weight.sum()) ** -0.5, (level - middle) * apart**-0.5) / closing
    return Side(side, 1 / closing, apart**-0.5 / closing**2, level, level_sd, False, names)


def close_lines(t: Floats, fall: Floats, weight: Floats) -> tuple[Floats, Floats, Floats]:
    """The straight line of falls (..., n) over shares ``t`` (n,) down the near upright: how fast it
    closes and where it comes to nothing, both (...), and the weighted middle of ``t`` and its weighted
    square spread (2, ...).
    """
    total = weight.sum(axis=-1)
    middle, mean = (weight * t).sum(axis=-1) / total, (weight * fall).sum(axis=-1) / total
    off = middle[..., None] - t
    apart = np.maximum((weight * off**2).sum(axis=-1), 1e-300)
    closing = (weight * off * fall).sum(axis=-1) / apart
    return closing, middle + mean / np.where(closing == 0, np.nan, closing), np.stack([middle, apart])


def consistent(readings: list[Reading]) -> bool:
    """Whether all readings fit one eye level within their errors (95 % of chi-square, by the
    Wilson-Hilferty approximation)."""
    spare = len(readings) - 3
    if spare < 2:
        return True
    limit = spare * (1 - 2 / (9 * spare) + 1.645 * np.sqrt(2 / (9 * spare))) ** 3
    return bool(joint_chi2(readings) <= limit)


def joint_chi2(readings: list[Reading]) -> float:
    """Least chi-square of all readings under one eye level and a distance for each side."""
    t = np.array([r.height for r in readings])
    left = np.array([r.side == "left" for r in readings])
    fall = np.array([r.fall for r in readings])
    sd = np.array([r.fall_sd for r in readings])

    def cost(level: float) -> float:
        total = 0.0
        for side in (left, ~left):
            arm, y, s = level - t[side], fall[side], sd[side]
            weight = float(np.sum((arm / s) ** 2))
            closing = max(float(np.sum(arm * y / s**2)) / weight, 0.0) if weight > 0 else 0.0
            total += float(np.sum(((y - closing * arm) / s) ** 2))
        return total

    grid = np.concatenate([np.linspace(-4, 5, 181), [-40, -20, -10, 10, 20, 40]])
    level = float(min(grid, key=cost))
    step = 0.05
    while step > 1e-6:
        level = min((level - step, level, level + step), key=cost)
        step *= 0.7
    return cost(level)


def far_upright(side: Side, width: float, width_sd: float) -> tuple[float, float] | None:
    """Length of the far upright on ``side``, ``width`` units away across the picture, and its
    standard deviation (units): 1 - width/distance, by similar triangles at the vanishing point.
    """
    if side.distance is None or side.distance_sd is None:
        return None
    length = 1.0 - width / side.distance
    sd = float(np.hypot(width_sd / side.distance, width * side.distance_sd / side.distance**2))
    return length, sd


def best_retake(readings: list[Reading]) -> Retake | None:
    """The reading that, changed alone, best reconciles the sides: the one without which the rest
    agree best, and among equals the one with the least change in its own error. A second reading
    nearly as good is named beside it."""
    options: list[tuple[float, Retake]] = []
    for r in readings:
        tilt = reconciling_tilt(r, readings)
        if tilt is not None:
            change = tilt - r.tilt_deg
            rest = joint_chi2([o for o in readings if o is not r])
            options.append((rest, Retake(r.id, tilt, change, abs(change) / r.sd_deg)))
    if not options:
        return None
    least = min(rest for rest, _ in options)
    equals = sorted((option for rest, option in options if rest < least + 2.0), key=lambda option: option.in_sd)
    best = equals[0]
    rival = equals[1].reading if len(equals) > 1 and equals[1].in_sd < 1.25 * best.in_sd else None
    return Retake(best.reading, best.tilt_deg, best.change_deg, best.in_sd, rival)


def reconciling_tilt(reading: Reading, readings: list[Reading]) -> float | None:
    """The tilt of ``reading`` nearest to the one read that makes both sides give one eye level."""
    other = solve_side("other", [r for r in readings if r.side != reading.side]).eye_level
    mine = [r for r in readings if r.side == reading.side]
    if other is None:
        return None

    def gap(tilts: Floats) -> Floats:
        """By how much this side's eye level misses the other's with the reading at each of ``tilts``."""
        tangent = np.tan(np.radians(tilts))
        falls = np.array([np.full(len(tilts), r.fall) for r in mine]).T
        changed = next(k for k, r in enumerate(mine) if r is reading)
        falls[:, changed] = tangent if reading.side == "left" else -tangent
        sds = np.radians([max(r.sd_deg, LEAST_SD_DEG) for r in mine]) * (1 + falls**2)
        closing, level, _ = close_lines(np.array([r.height for r in mine]), falls, sds**-2.0)
        return np.asarray(np.where(closing > LEAST_CLOSING, level - other, np.nan), float)

    crossings = []
    for way in (1.0, -1.0):
        tilts = reading.tilt_deg + way * SEARCH_DEG
        tilts = tilts[np.abs(tilts) < 89.0]
        if len(tilts) < 2:
            continue
        gaps = gap(tilts)
        found = np.flatnonzero(gaps[1:] * gaps[:-1] <= 0)
        if found.size:
            crossings.append((int(found[0]), float(tilts[found[0]]), float(tilts[found[0] + 1]), float(gaps[found[0]])))
    if not crossings:
        return None
    _, low, high, at_low = min(crossings, key=lambda crossing: crossing[0])
    for _ in range(40):
        middle = (low + high) / 2
        at_middle = float(gap(np.array([middle]))[0])
        if at_middle * at_low <= 0:
            high = middle
        else:
            low, at_low = middle, at_middle
    return (low + high) / 2


def retake_opening(readings: list[Reading], left: Side, right: Side) -> Retake | None:
    """Where one side opens, the reading on it whose change to the other side's eye level is least."""
    good, bad = (left, right) if right.opens else (right, left)
    if not bad.opens or good.eye_level is None:
        return None
    level = good.eye_level
    options = []
    mine = [r for r in readings if r.side == bad.side]
    for r in mine:
        others = [o for o in mine if o.height != r.height]
        if not others:
            continue
        o = others[0]
        if abs(level - o.height) < 1e-6:
            continue
        fall = o.fall * (level - r.height) / (level - o.height)
        tangent = fall if r.side == "left" else -fall
        tilt = float(np.degrees(np.arctan(tangent)))
        options.append(Retake(r.id, tilt, tilt - r.tilt_deg, abs(tilt - r.tilt_deg) / r.sd_deg))
    return min(options, key=lambda option: option.in_sd) if options else None
