"""The near-corner card: tilts read from life with a stick, no photo (handbook section 2).

The near upright is one unit long. On each side the top edge falls by ``a`` and the bottom edge
climbs by ``b`` as it goes away; the side's vanishing point then lies 1/(tan a + tan b) units out
and eye level tan a/(tan a + tan b) of the way down from the top. Both sides must agree.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from aspectum.core.findings import Finding
from aspectum.core.plane.lines import Floats
from aspectum.core.reasons import EdgeReason, Rule
from aspectum.core.sightings import LEAST_STICK_SD_DEG, Kind, Side, TiltReading
from aspectum.core.tolerance import Tolerances, Verdict, beyond, verdict

LEAST_CLOSING = 1e-12  # a pair that closes less runs parallel or opens
SEARCH_DEG = np.arange(0.0, 60.0, 0.25)  # how far a reading may have to change
RIVAL = 1.25  # a second reading this nearly as far out may be the wrong one instead
STEPS = 12  # of Gauss-Newton; three settle all but the wildest readings
LEAST_APART = 1e-6  # of the near upright: edges that start closer together tell no vanishing point


@dataclass(frozen=True)
class CardSide:
    """One side's vanishing point, in near-upright units. ``distance`` is None where the pair
    opens or runs parallel; ``eye_level`` is the share down from the top, negative above it.
    """

    side: Side
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

    left: CardSide
    right: CardSide
    eye_level: float | None
    eye_level_sd: float | None
    gap: float | None
    gap_sd: float | None
    agree: bool | None
    retake: Retake | None

    @property
    def apart(self) -> bool:
        """Whether the two sides' own eye levels differ beyond their error."""
        return self.gap is not None and self.gap_sd is not None and beyond(self.gap, self.gap_sd, 0.0)


def near_corner(readings: list[TiltReading]) -> NearCorner:
    """Solve both sides of the card.

    Readings of no side are passed over. Raises ``ValueError`` for a tilt outside -90..90, or an error
    that is not positive.
    """
    readings = [r for r in readings if r.side is not None]
    for r in readings:
        if not -90.0 < r.tilt_deg < 90.0:
            raise ValueError(f"{r.id}: a receding edge tilts between -90 and 90 degrees")
        if not r.sd_deg > 0:
            raise ValueError(f"{r.id}: the reading error must be positive")
    left, right = (solve_side(side, [r for r in readings if r.side == side]) for side in Side)
    levels = [(s.eye_level, s.eye_level_sd) for s in (left, right) if s.eye_level is not None and s.eye_level_sd is not None]
    if not levels:
        return NearCorner(left, right, None, None, None, None, None, None)
    weight = np.array([1 / sd**2 for _, sd in levels])
    joint = float(weight @ np.array([level for level, _ in levels]) / weight.sum())
    sd = float(weight.sum() ** -0.5)
    if len(levels) == 1:
        return NearCorner(left, right, joint, sd, None, None, None, best_retake(readings) if left.opens or right.opens else None)
    gap = levels[0][0] - levels[1][0]
    gap_sd = float(np.hypot(levels[0][1], levels[1][1]))
    one_level = not beyond(gap, gap_sd, 0.0)
    agree = one_level and consistent(readings)
    return NearCorner(left, right, joint, sd, gap, gap_sd, agree, None if agree else best_retake(readings, one_level))


def solve_side(side: Side, readings: list[TiltReading]) -> CardSide:
    """Vanishing point of one side from two or more readings, with first-order errors.

    Each edge at share t down from the top falls by 'slope k (level - t)' with k = 1/distance:
    a straight line in t, fitted with the readings' errors as weights.
    """
    names = tuple(r.id for r in readings)
    if len(readings) < 2:
        return CardSide(side, None, None, None, None, False, names)
    t, fall = np.array([r.height for r in readings]), np.array([r.fall for r in readings])
    weight = np.array([r.fall_sd**-2 for r in readings])
    if float(np.ptp(t)) < LEAST_APART:
        return CardSide(side, None, None, None, None, False, names)
    closing, level, (middle, apart) = (v.tolist() for v in close_lines(t, fall, weight))
    if closing <= LEAST_CLOSING:
        return CardSide(side, None, None, None, None, True, names)
    # about the weighted middle the line's height and its closing err independently
    level_sd = math.hypot(float(weight.sum()) ** -0.5, (level - middle) * apart**-0.5) / closing
    return CardSide(side, 1 / closing, apart**-0.5 / closing**2, level, level_sd, False, names)


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


def consistent(readings: list[TiltReading]) -> bool:
    """Whether all readings fit one eye level within their errors (95 % of chi-square, by the
    Wilson-Hilferty approximation)."""
    spare = len(readings) - 3
    if spare < 2:
        return True
    limit = spare * (1 - 2 / (9 * spare) + 1.645 * np.sqrt(2 / (9 * spare))) ** 3
    return bool(joint_chi2(readings) <= limit)


def joint_chi2(readings: list[TiltReading]) -> float:
    """Least chi-square of all readings under one eye level and a distance for each side."""
    t = np.array([r.height for r in readings])
    left = np.array([r.side is Side.LEFT for r in readings])
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


def far_upright(side: CardSide, width: float, width_sd: float) -> tuple[float, float] | None:
    """Length of the far upright on ``side``, ``width`` units away across the picture, and its
    standard deviation (units): 1 - width/distance, by similar triangles at the vanishing point.
    """
    if side.distance is None or side.distance_sd is None:
        return None
    length = 1.0 - width / side.distance
    sd = float(np.hypot(width_sd / side.distance, width * side.distance_sd / side.distance**2))
    return length, sd


def best_retake(readings: list[TiltReading], one_level: bool = False) -> Retake | None:
    """The reading that, changed alone, best reconciles the sides, or closes a pair that opens: the one
    without which the rest agree best, and among equals the one with the least change in its own error.
    A second reading nearly as good is named beside it. None where no one reading does.

    ``one_level``: both sides give the same eye level already; the reading must then come to what the
    rest imply of it, and they agree among themselves.
    """
    options: list[tuple[float, Retake]] = []
    for r in readings:
        rest = [o for o in readings if o is not r]
        if one_level:
            implied = implied_tilt(r, rest) if consistent(rest) else None
            tilt = None if implied is None else implied[0]
        else:
            tilt = reconciling_tilt(r, readings)
        if tilt is not None:
            change = tilt - r.tilt_deg
            options.append((joint_chi2(rest), Retake(r.id, tilt, change, abs(change) / r.sd_deg)))
    if not options:
        return None
    least = min(cost for cost, _ in options)
    equals = sorted((option for cost, option in options if cost < least + 2.0), key=lambda option: option.in_sd)
    best = equals[0]
    rival = equals[1].reading if len(equals) > 1 and equals[1].in_sd < RIVAL * best.in_sd else None
    return Retake(best.reading, best.tilt_deg, best.change_deg, best.in_sd, rival)


def reconciling_tilt(reading: TiltReading, readings: list[TiltReading]) -> float | None:
    """The tilt of ``reading`` nearest to the one read that makes both sides give one eye level."""
    other = solve_side(Side.LEFT if reading.side is Side.RIGHT else Side.RIGHT, [r for r in readings if r.side != reading.side]).eye_level
    mine = [r for r in readings if r.side == reading.side]
    if other is None:
        return None

    def gap(tilts: Floats) -> Floats:
        """By how much this side's eye level misses the other's with the reading at each of ``tilts``."""
        tangent = np.tan(np.radians(tilts))
        falls = np.array([np.full(len(tilts), r.fall) for r in mine]).T
        changed = next(k for k, r in enumerate(mine) if r is reading)
        falls[:, changed] = tangent if reading.side is Side.LEFT else -tangent
        sds = np.radians([max(r.sd_deg, LEAST_STICK_SD_DEG) for r in mine]) * (1 + falls**2)
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


def tilt_reading_findings(readings: list[TiltReading], card: NearCorner, tolerances: Tolerances) -> list[Finding]:
    """A finding for every tilt read from life, each weighed against the others on the card. The reading
    to take again is off; while one of two may be the wrong one, both stay unsure. The rest are weighed
    with it left out.
    """
    on_card = [r for r in readings if r.side is not None]
    named = to_take_again(on_card, card, tolerances)
    findings = []
    for r in readings:
        implied, turn, combined = weighed(r, [o for o in on_card if o is not r and o.id not in named[:1]])
        found = verdict(turn, combined, tolerances.tilt_deg)
        rule, others = Rule.AGREES, tuple(id for id in named if id != r.id) if r.id in named else ()
        if others:
            found, rule = Verdict.UNSURE, Rule.ONE_OF_A_PAIR
        elif implied is None:
            rule = Rule.NOTHING_TO_CHECK
        elif found is Verdict.OFF and r.id in named:
            rule = Rule.TAKE_AGAIN
        elif found is not Verdict.HOLDS:
            found, rule = Verdict.UNSURE, Rule.TOO_WEAK
        due, due_sd = (None, None) if implied is None else implied
        reason = EdgeReason(rule, 0.0 if implied is None else turn, goes=r.side, others=others)
        findings.append(Finding(r.id, Kind.EDGE, r.judged_tilt_deg, r.tilt_deg, r.sd_deg, due, due_sd, found, reason))
    return findings


def to_take_again(readings: list[TiltReading], card: NearCorner, tolerances: Tolerances) -> tuple[str, ...]:
    """Ids of the reading that the card wants again and of the one that may be wrong instead; where its
    sides agree, of the reading that strays all the same, if one does, with its rival.
    """
    if card.retake is not None:
        return tuple(id for id in (card.retake.reading, card.retake.instead) if id is not None)
    strays = []
    for r in readings:
        _, turn, combined = weighed(r, [o for o in readings if o is not r])
        if beyond(turn, combined, tolerances.tilt_deg):
            strays.append((abs(turn) / combined, r.id))
    strays.sort(reverse=True)
    return tuple(id for by, id in strays[:2] if by * RIVAL >= strays[0][0])


def weighed(r: TiltReading, others: list[TiltReading]) -> tuple[tuple[float, float] | None, float, float]:
    """What ``others`` imply of a reading, and how far it must turn for that (degrees) with the
    standard deviation of it; nan where they leave it open.
    """
    implied = implied_tilt(r, others)
    return (None, math.nan, math.nan) if implied is None else (implied, implied[0] - r.tilt_deg, math.hypot(r.sd_deg, implied[1]))


def implied_tilt(reading: TiltReading, others: list[TiltReading]) -> tuple[float, float] | None:
    """The tilt (degrees) that ``others`` require of ``reading`` and its standard deviation, or None
    where they leave it open.

    One eye level and one closing for each side, 'fall = closing (level - height)', fitted to the
    others by Gauss-Newton from the better side's own eye level; first-order errors.
    """
    sides = [side for side in Side if any(o.side is side for o in others)]
    levels = [(s.eye_level_sd, s.eye_level) for side in sides if (s := solve_side(side, [o for o in others if o.side is side])).eye_level is not None]
    if reading.side is None or reading.side not in sides or not levels:
        return None
    t, fall, sd = (np.array([getattr(o, name) for o in others]) for name in ("height", "fall", "fall_sd"))
    on = np.array([[o.side is side for side in sides] for o in others], float)
    level = float(min(levels)[1] or 0.0)
    weight = (level - t)[:, None] * on / sd[:, None]
    closing = (weight * (fall / sd)[:, None]).sum(axis=0) / np.maximum((weight**2).sum(axis=0), 1e-12)

    def rows() -> Floats:
        return np.asarray(np.column_stack([on @ closing, on * (level - t)[:, None]]) / sd[:, None], float)

    for _ in range(STEPS):
        step, *_ = np.linalg.lstsq(rows(), (fall - (on @ closing) * (level - t)) / sd, rcond=1e-9)
        level, closing = level + float(step[0]), closing + step[1:]
    if np.linalg.matrix_rank(rows(), rtol=1e-6) <= len(sides):
        return None
    k = sides.index(reading.side)
    arm = level - reading.height
    by = np.concatenate([[closing[k]], np.where(np.arange(len(sides)) == k, arm, 0.0)])
    implied, spread = float(closing[k]) * arm, math.sqrt(float(by @ np.linalg.pinv(rows().T @ rows()) @ by))
    if not math.isfinite(implied) or not math.isfinite(spread):
        return None
    return math.degrees(math.atan(implied if reading.side is Side.LEFT else -implied)), math.degrees(spread / (1 + implied**2))
