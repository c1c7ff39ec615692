"""The tilt gauge: a device with a level sensor laid along the stick, held still for a second."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.lines import tilt_difference, wrap_tilt

STILL_DEG = 0.7  # spread within a hold below which a hand was still; common practice
LEAST_SAMPLES = 5  # fewer say little of their spread
TO_SD = 1.4826  # from the median absolute deviation to the standard deviation of a normal spread


@dataclass(frozen=True)
class Held:
    """``tilt_deg``: the median of what the gauge showed; ``spread_deg``: a robust standard deviation about it."""

    tilt_deg: float
    spread_deg: float
    still: bool


def hold(samples_deg: list[float], offset_deg: float = 0.0) -> Held:
    """What a gauge was held at. ``samples_deg``: tilts as it gave them while it was held; ``offset_deg``: its own, by
    ``offset``.

    The median, for a knock or a shake must not count. Raises ``ValueError`` for fewer than five samples.
    """
    if len(samples_deg) < LEAST_SAMPLES:
        raise ValueError(f"expected at least {LEAST_SAMPLES} samples")
    samples = np.asarray(samples_deg, float)
    # turned about the first, so that a plumb stick's ±90 is no gap
    turned = tilt_difference(samples, samples[0])
    middle = float(np.median(turned))
    spread = TO_SD * float(np.median(np.abs(turned - middle)))
    return Held(float(wrap_tilt(samples[0] + middle - offset_deg)), spread, spread <= STILL_DEG)


def offset(one_way: Held, turned_round: Held) -> float:
    """What the gauge adds by itself: laid on a level and then turned end for end, the level's own tilt changes its sign
    and the gauge's does not.
    """
    return (one_way.tilt_deg + float(tilt_difference(turned_round.tilt_deg, 0.0))) / 2.0
