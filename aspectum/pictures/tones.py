"""A picture made ready to be looked at: reduced, and its tones spread."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

Pixels = NDArray[np.uint8]

SEARCH_PX = 1280  # longer side of the copy that lines are looked for in
DIM, BRIGHT, MOST_GAIN = (
    0.01,
    0.99,
    5.0,
)  # shares of the tones that are brought to black and white, and by how much at most


def reduced(picture: Pixels, side: int = SEARCH_PX) -> tuple[Pixels, float]:
    """An RGB picture no longer than ``side``, and how many pixels of the picture make one of that."""
    high, wide = picture.shape[:2]
    scale = min(1.0, side / max(high, wide))
    if scale == 1.0:
        return picture, 1.0
    small = np.asarray(
        cv2.resize(picture, (round(wide * scale), round(high * scale)), interpolation=cv2.INTER_AREA), np.uint8
    )
    return small, wide / small.shape[1]


def spread(tones: NDArray[Any]) -> NDArray[np.float32]:
    """Grey or colours (h, w, ...), 0 to 255, brought to the whole range: a dark or a pale picture steps as clearly as
    any.
    """
    low, top = np.quantile(tones[::4, ::4], (DIM, BRIGHT))
    gain = min(255.0 / max(float(top - low), 1.0), MOST_GAIN)
    return np.asarray(np.clip((tones.astype(np.float32) - low) * gain, 0, 255), np.float32)


def grey_of(picture: Pixels) -> NDArray[np.float32]:
    """An RGB picture in grey, its tones spread."""
    return spread(cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY))


def colours_at(picture: NDArray[np.float32], places: NDArray[np.float64]) -> NDArray[np.float64]:
    """The colours (n, m, 3) of ``picture`` (h, w, 3) at ``places`` (n, m, 2), px, between pixels too; beyond its edge
    those of the edge.
    """
    at = (places - 0.5).astype(np.float32)  # OpenCV counts from the middle of the first pixel
    return np.asarray(
        cv2.remap(picture, at[..., 0], at[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE), float
    )
