"""What lies along a line in a picture: how clear and even its step is, and how its two sides differ."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from aspectum.pictures.tones import colours_at

Floats = NDArray[np.float64]

SAMPLES = 48  # places along a line at which it is looked for; more cost time and say the same
NEAR_PX = 1.6  # from the line, to either side: where its own step is read
BESIDE_PX = (3.0, 4.5, 6.0, 8.0)  # where what lies on its two sides is read
FAR_PX = (11.0, 14.0, 18.0, 22.0)  # and farther out, beyond the joint of a wall
CLEAR = 6.0  # grey levels of a step that can be told from grain
SOFTEN_PX = 0.8  # takes the sensor's noise out and leaves an edge where it is


@dataclass(frozen=True)
class Along:
    """Of each line, (n,): ``step``: grey levels from side to side close by, in the middle of its samples; ``even``: the
    share of its length along which that step is clear and goes the same way; ``apart``: by how much (grey levels, over
    red, green and blue) the sides differ farther out, ``far``: and beyond; ``grain``: how uneven (grey levels) they are
    in themselves.
    """

    step: Floats
    even: Floats
    apart: Floats
    far: Floats
    grain: Floats


def measure(picture: NDArray[np.float32], lines: Floats) -> Along:
    """``lines`` (n, 4) as x, y, x, y (px) on ``picture`` (h, w, 3), its tones spread."""
    soft = np.asarray(cv2.GaussianBlur(picture, (0, 0), SOFTEN_PX), np.float32)
    p, q = lines[:, :2], lines[:, 2:]
    run = q - p
    long = np.maximum(np.hypot(run[:, 0], run[:, 1]), 1e-9)
    normal = np.stack([-run[:, 1], run[:, 0]], axis=1) / long[:, None]
    share = (np.arange(SAMPLES) + 0.5) / SAMPLES
    on = p[:, None] + share[None, :, None] * run[:, None]

    def read(away: float) -> Floats:
        return colours_at(soft, on + away * normal[:, None])

    close = (read(NEAR_PX) - read(-NEAR_PX)).mean(axis=2)
    middle = np.median(close, axis=1)
    even = ((close * np.sign(middle)[:, None]) > CLEAR).mean(axis=1)
    sides = [np.stack([read(s * away) for away in BESIDE_PX], axis=2) for s in (1, -1)]  # (n, samples, depths, 3)
    means = [side.mean(axis=(1, 2)) for side in sides]
    grain = np.mean([side.mean(axis=3).std(axis=(1, 2)) for side in sides], axis=0)
    beyond = [np.stack([read(s * away) for away in FAR_PX], axis=2).mean(axis=(1, 2)) for s in (1, -1)]
    return Along(np.abs(middle), even, difference(*means), difference(*beyond), grain)


def difference(one: Floats, other: Floats) -> Floats:
    """Of colours (n, 3): the root mean square over red, green and blue."""
    return np.asarray(np.linalg.norm(one - other, axis=1) / np.sqrt(3.0), float)
