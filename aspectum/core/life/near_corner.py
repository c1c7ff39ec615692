"""The near-corner card: tilts read from life at the near upright, no photo (handbook section 2).

The near upright is one unit long. On each side the top edge falls by ``a`` and the bottom edge
climbs by ``b`` as it goes away; the side's vanishing point then lies 1/(tan a + tan b) units out
and eye level tan a/(tan a + tan b) of the way down from the top. Both sides must agree.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import numpy as np

from aspectum.core.life.fit import (
    CLOSING,
    LEAST_APART,
    LEAST_CLOSING,
    LEVEL,
    MOST_CLOSING,
    SIDES,
    Evidence,
    Fit,
    Lens,
    closing_interval,
    far_uprights,
    fit,
    level_interval,
)
from aspectum.core.life.readings import LengthReading, Of, RimReading, TiltReading
from aspectum.core.life.retake import Retake, best_retake, consistent
from aspectum.core.sightings import Side
from aspectum.core.tolerance import beyond


@dataclass(frozen=True)
class CardSide:
    """One side's vanishing point, in near-upright units. ``distance`` is None where the pair opens or runs parallel,
    ``distance_high`` where it may be as far as you like; ``eye_level`` is this side's own, the share down from the top,
    negative above it. ``low`` and ``high`` bound what holds the truth in 95 of 100.
    """

    side: Side
    distance: float | None = None
    distance_sd: float | None = None
    distance_low: float | None = None
    distance_high: float | None = None
    eye_level: float | None = None
    eye_level_sd: float | None = None
    opens: bool = False
    readings: tuple[str, ...] = ()


@dataclass(frozen=True)
class NearCorner:
    """``agree`` is None where only one side gives an eye level. ``eye_level`` joins everything read. A reading that is
    surely wrong (``left_out``) takes no part in any of the figures but ``gap``, by which the two sides' own eye levels
    differ, and in ``opened``, the sides whose edges open as they were read.
    """

    left: CardSide
    right: CardSide
    eye_level: float | None = None
    eye_level_sd: float | None = None
    eye_level_low: float | None = None
    eye_level_high: float | None = None
    gap: float | None = None
    gap_sd: float | None = None
    agree: bool | None = None
    retake: Retake | None = None
    focal: float | None = None
    evidence: Evidence = field(default_factory=Evidence)
    opened: tuple[Side, ...] = ()

    @property
    def apart(self) -> bool:
        """Whether the two sides' own eye levels differ beyond their error."""
        return self.gap is not None and self.gap_sd is not None and beyond(self.gap, self.gap_sd, 0.0)

    @property
    def left_out(self) -> str | None:
        return self.retake.reading if self.retake is not None and self.retake.sure else None

    def of(self, side: Side) -> CardSide:
        return self.left if side is Side.LEFT else self.right


@np.errstate(all="ignore")  # readings far out overflow on the way to answers that are then open
def near_corner(
    tilts: list[TiltReading],
    lengths: list[LengthReading] | None = None,
    rims: list[RimReading] | None = None,
    lens: Lens | None = None,
) -> NearCorner:
    """Solve the card of one near upright from all that was read at it.

    Readings of no side are passed over. Raises ``ValueError`` for a tilt outside -90..90, or an error
    that is not positive.
    """
    tilts = [r for r in tilts if r.side is not None]
    for r in tilts:
        if not -90.0 < r.tilt_deg < 90.0:
            raise ValueError(f"{r.id}: a receding edge tilts between -90 and 90 degrees")
        if not r.sd_deg > 0:
            raise ValueError(f"{r.id}: the reading error must be positive")
    read = Evidence(
        tuple(tilts),
        far_uprights([r for r in lengths or [] if r.of is Of.FAR_UPRIGHT]),
        tuple(r for r in rims or [] if r.down is not None),
        lens,
    )
    own = [solve_side(side, read) for side in SIDES]
    levels = [(s.eye_level, s.eye_level_sd) for s in own if s.eye_level is not None and s.eye_level_sd is not None]
    gap, gap_sd = (
        (levels[0][0] - levels[1][0], math.hypot(levels[0][1], levels[1][1])) if len(levels) == 2 else (None, None)
    )
    opened = tuple(side.side for side in own if side.opens)
    retake = best_retake(read)
    kept = read if retake is None or not retake.sure else read.without(retake.reading)
    shown = own if kept is read else [solve_side(side, kept) for side in SIDES]
    closing = kept
    for side in shown:
        closing = closing.without_side(side.side) if side.opens else closing
    joint = fit(closing)
    fixed = joint if joint is not None and joint.fixed else None
    left, right = (side_of(side, closing, fixed) for side in shown)
    agree = None
    if gap is not None and gap_sd is not None:
        everything = fit(read)
        agree = (
            retake is None
            and not beyond(gap, gap_sd, 0.0)
            and (everything is None or consistent(everything, read.count))
        )
    level, sd = levels[0] if len(levels) == 1 else (None, None)
    low, high = None, None
    if fixed is not None and LEVEL in fixed.free:
        level, sd = fixed.level, spread_of(fixed, LEVEL)
        low, high = level_interval(closing, fixed)
    return NearCorner(
        left, right, level, sd, low, high, gap, gap_sd, agree, retake, focal_of(left, right, lens), read, opened
    )


def focal_of(left: CardSide, right: CardSide, lens: Lens | None) -> float | None:
    """Distance of the eye from the near upright in near-upright units: by the arm, else as a square corner on the line
    of sight has it, the mean proportional of the two distances (handbook section 2: f² = -(v1 - p)·(v2 - p)).
    """
    if lens is not None:
        return 1.0 / lens.opening
    if left.distance is None or right.distance is None:
        return None
    return math.sqrt(left.distance * right.distance)


def solve_side(side: Side, read: Evidence) -> CardSide:
    """One side by what was read on it alone, with its own eye level; ``opens`` where its edges run apart as they go
    away.
    """
    mine = read.on(side)
    names = tuple(r.id for r in mine.tilts) + tuple(u.id for u in mine.far)
    t = np.array([r.height for r in mine.tilts])
    if len(t) < 2 or float(np.ptp(t)) < LEAST_APART:
        return CardSide(side, readings=names)
    if opens(mine):
        return CardSide(side, opens=True, readings=names)
    found = fit(mine)
    if found is None or not found.fixed or found.closing(side) <= LEAST_CLOSING:
        return CardSide(side, readings=names)
    low, high = closing_interval(mine, side, found)
    return CardSide(
        side, *distance_of(found, side), *far_ends(low, high), found.level, spread_of(found, LEVEL), False, names
    )


def side_of(own: CardSide, closing: Evidence, joint: Fit | None) -> CardSide:
    """A side as the card shows it: by its own readings where they say enough, else by the eye level that everything
    else gives.
    """
    side = own.side
    if (
        own.distance is not None
        or own.opens
        or joint is None
        or side not in closing.sides
        or not LEAST_CLOSING < joint.closing(side) < MOST_CLOSING
    ):
        return own
    low, high = closing_interval(closing, side, joint)
    return CardSide(side, *distance_of(joint, side), *far_ends(low, high), readings=own.readings)


def distance_of(found: Fit, side: Side) -> tuple[float, float]:
    closing = found.closing(side)
    return 1.0 / closing, spread_of(found, CLOSING + SIDES.index(side)) / closing**2


def far_ends(low: float | None, high: float | None) -> tuple[float | None, float | None]:
    """From the ends of a closing's interval to those of the distance's: what may not close at all is without an end."""
    return None if high is None or high <= 0 else 1.0 / high, None if low is None or low <= LEAST_CLOSING else 1.0 / low


def spread_of(found: Fit, unknown: int) -> float:
    return math.sqrt(max(float(found.covariance[unknown, unknown]), 0.0))


def opens(mine: Evidence) -> bool:
    """Whether a side's edges, and its far upright if one was read, open instead of closing: by the straight line of
    falls over heights, which has a sign where the fit stops at nought.
    """
    t, fall = np.array([r.height for r in mine.tilts]), np.array([math.tan(r.fall_rad) for r in mine.tilts])
    weight = np.array([(r.sd_rad * (1 + math.tan(r.fall_rad) ** 2)) ** -2 for r in mine.tilts])
    off = (weight @ t) / weight.sum() - t
    closing, apart = float((weight * off) @ fall), float(weight @ off**2)
    for u in mine.far:
        sd = u.sd(u.closing) / u.width
        closing, apart = closing + u.closing / sd**2, apart + 1.0 / sd**2
    return closing / apart <= LEAST_CLOSING
