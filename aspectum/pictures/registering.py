"""Where on a flattened sheet a drawing of known lines lies, before anything is laid: its lines brought to
the pencil's.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from aspectum.pictures.pencil import LINED_IN, PencilSheet, Place
from aspectum.pictures.round_lines import round_places

Lines = Mapping[str, tuple[Sequence[float], Sequence[float]]]
Rims = Mapping[str, tuple[Sequence[float], float, float, float]]
Floats = NDArray[np.float64]

MARGIN_MM = 4.0  # of the sheet, where its own edge may show
LEAST_INK, MOST_INK = (
    12.0,
    0.9,
)  # grey levels of a line at least, and the share of all that lies under the darkest lines
LEAST_DRAWN_MM = 40.0  # of lines a pixel wide on a sheet that anything is drawn on
ROUND = 40  # places of a rim
SPECK_MM = 6.0  # of the longer side of what is no line
OFF_MM = 14.0  # beyond which it does not matter how far a line lies off
SAMPLE_MM = 2.0  # between samples along the lines that are laid over each other
SHIFTS, SIZES = (
    (-0.12, -0.04, 0.04, 0.12),
    (0.82, 0.92, 1.0, 1.08),
)  # of the drawing's extent, tried about the pencil's own
LEAST_LIKE = 3.2  # mm that the lines may lie off on the whole where the drawing is one of them


@dataclass(frozen=True)
class Registered:
    """What brings the subject's places to the sheet's: by axis times ``scale`` (2,) plus ``shift`` (2,), px;
    ``off_mm``: how far the lines then lie off the pencil's on the whole.
    """

    scale: Floats
    shift: Floats
    off_mm: float


def placed(
    sheet: PencilSheet, lines: Lines, rims: Rims
) -> tuple[dict[str, tuple[Place, Place]], dict[str, tuple[Place, float, float, float]]] | None:
    """Lines (p and q by id) and rims (centre, half axes, direction) of a subject, px of its picture, where the drawing
    on a sheet has them; None where it is not a drawing of them.
    """
    paths = [np.array(line, float) for line in lines.values()]
    paths += [round_places((x, y), major, minor, angle, ROUND) for (x, y), major, minor, angle in rims.values()]
    found = register(sheet, paths)
    if found is None:
        return None

    def there(at: Sequence[float]) -> Place:
        x, y = np.array(at) * found.scale + found.shift
        return float(x), float(y)

    size = float(np.sqrt(found.scale.prod()))
    moved = {id: (there(p), there(q)) for id, (p, q) in lines.items()}
    return moved, {
        id: (there(centre), major * size, minor * size, angle) for id, (centre, major, minor, angle) in rims.items()
    }


def register(sheet: PencilSheet, lines: list[Floats]) -> Registered | None:
    """Bring ``lines`` (each (n, 2), px of the subject) to the lined-in pencil lines of a sheet, without turning them;
    None where they are not there.

    Chamfer matching (Barrow, Tenenbaum, Bolles & Wolf, IJCAI 1977): the mean distance from the lines to the nearest
    pencil, and from the pencil to the nearest line, so that no part of either is left over.
    """
    ink = lined_in(sheet)
    if ink is None or not lines:
        return None
    from scipy.optimize import minimize  # half a second to load, for a drawing of which nothing is laid alone

    # a millimetre a pixel is fine enough for where lines belong
    size_mm = tuple(max(round(side / sheet.px_per_mm), 2) for side in ink.shape[::-1])
    small = (cv2.resize(ink.astype(np.float32), size_mm, interpolation=cv2.INTER_AREA) > 0.02).astype(np.uint8)
    far = np.asarray(cv2.distanceTransform(1 - small, cv2.DIST_L2, 3), np.float32)
    pencil = np.argwhere(small)[:, ::-1] + 0.5
    everything = np.concatenate(lines)
    size, theirs = np.maximum(np.ptp(everything, axis=0), 1e-6), np.maximum(np.ptp(pencil, axis=0), 1.0)
    middle, there = (everything.min(axis=0) + everything.max(axis=0)) / 2, (pencil.min(axis=0) + pencil.max(axis=0)) / 2
    count = max(
        int(sum(np.hypot(*np.ptp(line, axis=0)) for line in lines) * float((theirs / size).mean()) / SAMPLE_MM), 60
    )
    points = spaced(lines, count)
    thin = pencil[:: max(len(pencil) // 400, 1)]

    def off(values: Floats) -> float:
        scale, shift = np.exp(values[:2]) * whole, values[2:]
        at = (points - middle) * scale + there + shift
        one = cv2.remap(
            far,
            at[None, :, 0].astype(np.float32) - 0.5,
            at[None, :, 1].astype(np.float32) - 0.5,
            cv2.INTER_LINEAR,
            borderValue=OFF_MM,
        )
        nearest = np.sqrt(((thin[:, None] - at[None, ::2]) ** 2).sum(axis=2)).min(axis=1)
        return (
            float(np.minimum(one, OFF_MM).mean() + np.minimum(nearest, OFF_MM).mean()) / 2
            + 4.0 * float(values[0] - values[1]) ** 2
        )

    whole = float(np.sqrt((theirs / size).prod()))
    starts = [
        np.array([np.log(s), np.log(s), x * theirs[0], y * theirs[1]]) for s in SIZES for x in SHIFTS for y in SHIFTS
    ] + [np.zeros(4)]
    starts += [np.array([*np.log(theirs / size / whole), 0.0, 0.0])]
    first = sorted(starts, key=off)[:3]
    found = [
        minimize(
            off,
            start,
            method="Nelder-Mead",
            options={"initial_simplex": simplex(start, theirs), "xatol": 0.02, "fatol": 0.005},
        )
        for start in first
    ]
    best = min(found, key=lambda one: float(one.fun))
    if best.fun > LEAST_LIKE:
        return None
    scale = np.exp(best.x[:2]) * whole
    shift = there + best.x[2:] - middle * scale
    return Registered(scale * sheet.px_per_mm, shift * sheet.px_per_mm, float(best.fun))


def lined_in(sheet: PencilSheet) -> NDArray[np.bool_] | None:
    """Pixels (h, w) of the lined-in pencil lines, without construction, specks and the sheet's own edge; None on an
    empty sheet.
    """
    mm = sheet.px_per_mm
    dark = sheet.dark.copy()
    edge = max(round(MARGIN_MM * mm), 1)
    dark[:edge], dark[-edge:], dark[:, :edge], dark[:, -edge:] = 0, 0, 0, 0
    strong = dark[dark > LEAST_INK]
    if len(strong) < LEAST_DRAWN_MM * mm:
        return None
    ink = (dark > max(LINED_IN * float(np.quantile(strong, MOST_INK)), LEAST_INK)).astype(np.uint8)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(ink, connectivity=8)
    long = np.maximum(stats[:, cv2.CC_STAT_WIDTH], stats[:, cv2.CC_STAT_HEIGHT])
    keep = long > SPECK_MM * mm
    keep[0] = False
    return np.asarray(keep[labels], bool) if count > 1 and keep.any() else None


def spaced(lines: list[Floats], count: int) -> Floats:
    """About ``count`` places evenly along lines, (m, 2)."""
    lengths = np.array([float(np.hypot(*np.diff(line, axis=0).T).sum()) for line in lines])
    found = []
    for line, long in zip(lines, lengths, strict=True):
        steps = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))])
        share = np.linspace(0, steps[-1], max(round(count * long / max(lengths.sum(), 1e-9)), 3))
        found.append(np.stack([np.interp(share, steps, line[:, k]) for k in (0, 1)], axis=1))
    return np.concatenate(found)


def simplex(start: Floats, extent: Floats) -> Floats:
    """Where a descent begins about a start: a tenth of the size and of the extent off."""
    return np.asarray(
        np.vstack([start, *(start + step for step in np.diag([0.08, 0.08, 0.06 * extent[0], 0.06 * extent[1]]))])
    )
