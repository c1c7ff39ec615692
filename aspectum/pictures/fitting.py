"""Lines through places that were read beside them, and tops between samples."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def straightened(share: Floats, off: Floats) -> tuple[float, float, float]:
    """Least squares through offsets ``off`` at shares of a line, (n,), the worst left out: by how much it turns over
    the whole, where it starts, and how the rest scatters.
    """
    kept = np.ones(len(off), bool)
    turned = level = 0.0
    spread = 1.0
    for _ in range(4):
        about = share[kept] - share[kept].mean()
        turned = float(about @ off[kept] / max(float(about @ about), 1e-9))
        level = float(off[kept].mean() - turned * share[kept].mean())
        left = off - level - turned * share
        spread = float(np.sqrt(np.mean(left[kept] ** 2)))
        kept = np.abs(left) < max(2.5 * 1.4826 * float(np.median(np.abs(left))), 0.3)
    return turned, level, spread


def parabola(step: Floats, peak: NDArray[np.intp]) -> Floats:
    """How far (in samples) the top of a parabola lies from each row's largest sample."""
    rows = np.arange(len(step))
    inner = np.clip(peak, 1, step.shape[1] - 2)
    low, mid, high = step[rows, inner - 1], step[rows, inner], step[rows, inner + 1]
    bend = low - 2 * mid + high
    shift = np.where(np.abs(bend) > 1e-9, 0.5 * (low - high) / np.where(np.abs(bend) > 1e-9, bend, 1.0), 0.0)
    return np.where(inner == peak, np.clip(shift, -0.5, 0.5), 0.0)
