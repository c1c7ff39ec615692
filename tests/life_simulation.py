"""Corners seen from life, projected point by point from space by a pinhole of their own, and read with the errors of
stick, gauge and thumb.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace

import numpy as np

from aspectum.core.life.lengths import length_reading_findings
from aspectum.core.life.near_corner import NearCorner, near_corner
from aspectum.core.life.readings import LengthReading, TiltReading
from aspectum.core.life.tilts import tilt_reading_findings
from aspectum.core.sightings import Along, Side
from aspectum.core.tolerance import FREEHAND, Verdict

WRONG_DEG = (8.0, 15.0)  # by which a wrong reading is wrong
THUMB_SD = 0.03
HEIGHTS = {
    "upper": (0.0, 0.35, 1.0),
    "lower": (0.0, 0.7, 1.0),
    "beyond": (-0.6, 0.0, 1.0),
}  # of the edges that are read on a side


@dataclass(frozen=True)
class Corner:
    """``distance``: of the vanishing points, ``level``: of eye level down the near upright; in near uprights, as
    projected.
    """

    distance: dict[Side, float]
    level: float
    tilts: list[TiltReading]
    lengths: list[LengthReading]
    wrong: str | None


def project(place: tuple[float, float, float]) -> tuple[float, float]:
    """A place (right, away, up from the eye) on an upright picture one unit away; y down."""
    x, y, z = place
    return x / y, -z / y


def corner(
    rng: np.random.Generator,
    sd_deg: float,
    wrong: bool = False,
    thumb: bool = True,
    heights: str = "upper",
    views: float = 1.0,
) -> Corner:
    """A box of a metre's near upright, 1.4 to 4.5 m away, its right side turned away by 20–70°; ``views`` above 1 draws
    it from further off.
    """
    away, turn = float(rng.uniform(1.4, 4.5)) * views, math.radians(float(rng.uniform(20, 70)))
    top = float(rng.uniform(-1.6, 1.2))  # of the near upright above the eye, m
    ways = {
        Side.LEFT: (-math.cos(math.pi / 2 - turn), math.sin(math.pi / 2 - turn)),
        Side.RIGHT: (math.cos(turn), math.sin(turn)),
    }
    near_top, near_foot = project((0, away, top)), project((0, away, top - 1))
    unit = near_foot[1] - near_top[1]
    tilts, lengths, distance = [], [], {}
    for side, (right, back) in ways.items():
        distance[side] = abs(right / back) / unit
        long = float(rng.uniform(0.5, 0.9)) * away / max(back, 0.2)
        for down in HEIGHTS[heights]:
            p, q = project((0, away, top - down)), project((long * right, away + long * back, top - down))
            true = math.degrees(math.atan(-(q[1] - p[1]) / (q[0] - p[0])))
            tilts.append(TiltReading(f"{side} {down}", side, down, true + float(rng.normal(0, sd_deg)), sd_deg))
        if thumb:
            far_top, far_foot = (project((long * right, away + long * back, top - down)) for down in (0, 1))
            for name, along, ratio in (
                ("width", Along.ACROSS, abs(far_top[0]) / unit),
                ("far", Along.UPRIGHT, (far_foot[1] - far_top[1]) / unit),
            ):
                read = ratio * (1 + float(rng.normal(0, THUMB_SD)))
                lengths.append(LengthReading(f"{side} {name}", along, read, side, THUMB_SD * ratio))
    named = None
    if wrong:
        k = int(rng.integers(len(tilts)))
        named = tilts[k].id
        off = float(rng.uniform(*WRONG_DEG)) * float(rng.choice([-1, 1]))
        tilts[k] = replace(tilts[k], tilt_deg=max(-89.0, min(89.0, tilts[k].tilt_deg + off)))
    return Corner(distance, -near_top[1] / unit, tilts, lengths, named)


@dataclass
class Told:
    """What the card told of many corners."""

    corners: int = 0
    held: dict[str, int] = field(default_factory=lambda: {"left": 0, "right": 0, "eye level": 0})
    asked: dict[str, int] = field(default_factory=lambda: {"left": 0, "right": 0, "eye level": 0})
    named: int = 0
    with_rival: int = 0
    blamed: int = 0

    def share(self, what: str) -> float:
        return self.held[what] / max(self.asked[what], 1)

    def count(self, what: str, low: float | None, high: float | None, truth: float) -> None:
        self.asked[what] += 1
        self.held[what] += (low is None or low <= truth) and (high is None or truth <= high)


def tell(
    seed: int,
    corners: int,
    sd_deg: float,
    wrong: bool = False,
    thumb: bool = True,
    heights: str = "upper",
    views: float = 1.0,
) -> Told:
    """Read many corners, and hold what the card says against the truth."""
    rng, told = np.random.default_rng(seed), Told()
    for _ in range(corners):
        seen = corner(rng, sd_deg, wrong, thumb, heights, views)
        card = near_corner(seen.tilts, seen.lengths)
        told.corners += 1
        for side in Side:
            s = card.of(side)
            if s.distance is not None:
                told.count(side.value, s.distance_low, s.distance_high, seen.distance[side])
        if card.eye_level is not None:
            told.count("eye level", card.eye_level_low, card.eye_level_high, seen.level)
        off = called_off(seen, card)
        told.named += seen.wrong in off
        told.blamed += bool(off - {seen.wrong})
        told.with_rival += card.retake is not None and seen.wrong in card.retake.named
    return told


def called_off(seen: Corner, card: NearCorner) -> set[str]:
    findings = tilt_reading_findings(seen.tilts, card, FREEHAND) + length_reading_findings(seen.lengths, card, FREEHAND)
    return {f.sighting for f in findings if f.verdict is Verdict.OFF}
