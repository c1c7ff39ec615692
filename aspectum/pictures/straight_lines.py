"""Straight lines in a picture: segments found, and those merged that are one line broken by what lies on it."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from aspectum.core.plane.compiled import compiled

Floats = NDArray[np.float64]

SHORTEST_PX = 10.0  # shorter segments are texture
ASIDE_PX = 1.3  # by which a segment's ends may lie beside the line that it is merged into
GAP_PX, GAP_SHARE = 14.0, 0.35  # that may lie between two parts of a line, and of the shorter part
TURNED = np.radians(4.0)  # segments that run farther apart are not one line
HALF_SHORTEST_PX = 24.0  # of a segment seen at half the size


def find_segments(grey: NDArray[np.float32]) -> Floats:
    """Line segments (n, 4) as x, y, x, y, px; the darker side to the same hand along each.

    LSD (Grompone von Gioi, Jakubowicz, Morel & Randall, IPOL 2012, as OpenCV has it), at the whole size and at half:
    there the grain of brick and wood is gone, and an edge across it is whole.
    """
    detector = cv2.createLineSegmentDetector(cv2.LSD_REFINE_STD, scale=0.8)
    found = []
    fine = np.clip(grey, 0, 255).astype(np.uint8)
    half = cv2.resize(fine, (fine.shape[1] // 2, fine.shape[0] // 2), interpolation=cv2.INTER_AREA)
    for image, times, shortest in ((fine, 1.0, SHORTEST_PX), (half, 2.0, HALF_SHORTEST_PX)):
        detected: NDArray[np.float32] | None = detector.detect(np.ascontiguousarray(image))[0]  # type: ignore[assignment]
        if detected is None:
            continue
        # OpenCV counts from the middle of the first pixel
        segments = (detected.reshape(-1, 4).astype(float) + 0.5) * times
        found.append(segments[np.hypot(segments[:, 2] - segments[:, 0], segments[:, 3] - segments[:, 1]) >= shortest])
    return np.concatenate(found) if found else np.zeros((0, 4))


def merged(segments: Floats) -> Floats:
    """Segments (n, 4) of one line joined, (m, 4), the longest first."""
    if not len(segments):
        return segments
    length = np.hypot(segments[:, 2] - segments[:, 0], segments[:, 3] - segments[:, 1])
    lines = merge(
        np.ascontiguousarray(segments[np.argsort(-length, kind="stable")]),
        ASIDE_PX,
        GAP_PX,
        GAP_SHARE,
        float(np.cos(TURNED)),
    )
    length = np.hypot(lines[:, 2] - lines[:, 0], lines[:, 3] - lines[:, 1])
    return lines[np.argsort(-length, kind="stable")]


@compiled(always=True)
def merge(segments: Floats, aside: float, gap: float, gap_share: float, least_cos: float) -> Floats:
    """The longest takes in what continues it, again and again, then the next; each line is least squares through the
    ends of its parts.
    """
    n = len(segments)
    free, out, kept = np.ones(n, np.bool_), np.empty((n, 4)), 0
    for i in range(n):
        if not free[i]:
            continue
        free[i] = False
        x0, y0, x1, y1 = segments[i]
        # moments of the parts' ends, weighed by length
        size = np.hypot(x1 - x0, y1 - y0)
        w = size
        sw, sx, sy = 2 * w, w * (x0 + x1), w * (y0 + y1)
        sxx, sxy, syy = w * (x0 * x0 + x1 * x1), w * (x0 * y0 + x1 * y1), w * (y0 * y0 + y1 * y1)
        ux, uy = (x1 - x0) / size, (y1 - y0) / size
        cx, cy = sx / sw, sy / sw
        low, top = (x0 - cx) * ux + (y0 - cy) * uy, (x1 - cx) * ux + (y1 - cy) * uy
        grown = True
        while grown:
            grown = False
            for k in range(i + 1, n):
                if not free[k]:
                    continue
                a0, b0, a1, b1 = segments[k]
                off0 = (b0 - cy) * ux - (a0 - cx) * uy
                if abs(off0) > aside + 2.0:
                    continue
                off1 = (b1 - cy) * ux - (a1 - cx) * uy
                if abs(off1) > aside + 2.0:
                    continue
                long = np.hypot(a1 - a0, b1 - b0)
                run = ((a1 - a0) * ux + (b1 - b0) * uy) / long
                if run < least_cos:  # the darker side must lie to the same hand
                    continue
                t0, t1 = (a0 - cx) * ux + (b0 - cy) * uy, (a1 - cx) * ux + (b1 - cy) * uy
                start, stop = min(t0, t1), max(t0, t1)
                between = max(start - top, low - stop)
                if between > gap + gap_share * min(long, top - low):
                    continue
                # what continues a line must lie on it as far as the line itself is sure
                slack = aside * (1.0 if between <= 0 else 1.0 + between / (top - low))
                if max(abs(off0), abs(off1)) > slack:
                    continue
                free[k], grown = False, True
                w = long
                sw += 2 * w
                sx += w * (a0 + a1)
                sy += w * (b0 + b1)
                sxx += w * (a0 * a0 + a1 * a1)
                sxy += w * (a0 * b0 + a1 * b1)
                syy += w * (b0 * b0 + b1 * b1)
                ex0, ey0 = cx + ux * min(low, start), cy + uy * min(low, start)
                ex1, ey1 = cx + ux * max(top, stop), cy + uy * max(top, stop)
                cx, cy = sx / sw, sy / sw
                mxx, mxy, myy = sxx / sw - cx * cx, sxy / sw - cx * cy, syy / sw - cy * cy
                turn = 0.5 * np.arctan2(2.0 * mxy, mxx - myy)
                vx, vy = np.cos(turn), np.sin(turn)
                if vx * ux + vy * uy < 0:
                    vx, vy = -vx, -vy
                ux, uy = vx, vy
                low, top = (ex0 - cx) * ux + (ey0 - cy) * uy, (ex1 - cx) * ux + (ey1 - cy) * uy
        out[kept, 0], out[kept, 1] = cx + ux * low, cy + uy * low
        out[kept, 2], out[kept, 3] = cx + ux * top, cy + uy * top
        kept += 1
    return out[:kept]
