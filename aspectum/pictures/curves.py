"""Bent lines in a picture: its edge points, and the smooth chains that they make."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from aspectum.core.plane.compiled import compiled

Floats = NDArray[np.float64]
Grey = NDArray[np.float32]
Colours = NDArray[np.float32]

SOFTEN_PX = 1.1  # softer than for straight lines: a slope across the curve is read at one point, not along many
LEAST_STEP = 5.0  # grey levels a pixel that an edge point must rise by
SHORTEST = 12  # points of a chain
CORNER_COS = np.cos(np.radians(38.0))  # a chain that turns so much from point to point ends there


@dataclass(frozen=True)
class Curves:
    """``colours`` (h, w, 3): softened; ``slope_x``, ``slope_y`` (h, w): how they rise, levels a pixel; ``points`` (n,
    2): px, places between pixels found; ``starts`` (c + 1,): where each chain begins among them.
    """

    colours: Colours
    slope_x: Grey
    slope_y: Grey
    points: Floats
    starts: NDArray[np.intp]


def find_curves(colours: Colours) -> Curves:
    """Of a picture (h, w, 3), 0 to 255: each pixel rises as that of its colours does which rises most, towards where
    all of them brighten.
    """
    soft = np.asarray(cv2.GaussianBlur(colours, (0, 0), SOFTEN_PX), np.float32)
    x, y = (np.asarray(cv2.Sobel(soft, cv2.CV_32F, *way, ksize=3, scale=1 / 8), np.float32) for way in ((1, 0), (0, 1)))
    x, y = steepest(x, y)
    size = np.asarray(cv2.magnitude(x, y), np.float32)
    points, starts = chains(x, y, size, LEAST_STEP, SHORTEST, CORNER_COS)
    return Curves(soft, x, y, points, starts)


@compiled(always=True)
def steepest(x: Colours, y: Colours) -> tuple[Grey, Grey]:
    """Of how three colours rise along and down a picture, each (h, w, 3), the steepest in each pixel, up the way that
    all three together brighten.
    """
    high, wide, _ = x.shape
    out_x, out_y = np.empty((high, wide), np.float32), np.empty((high, wide), np.float32)
    for r in range(high):
        for c in range(wide):
            best, most = 0, -1.0
            for k in range(3):
                size = x[r, c, k] * x[r, c, k] + y[r, c, k] * y[r, c, k]
                if size > most:
                    best, most = k, size
            bx, by = x[r, c, best], y[r, c, best]
            # a red that fades where green and blue brighten more must not be taken for a step the other way
            sign = 1.0
            if (x[r, c, 0] + x[r, c, 1] + x[r, c, 2]) * bx + (y[r, c, 0] + y[r, c, 1] + y[r, c, 2]) * by < 0:
                sign = -1.0
            out_x[r, c], out_y[r, c] = sign * bx, sign * by
    return out_x, out_y


@compiled(always=True)
def chains(
    gx: Grey, gy: Grey, size: Grey, least: float, shortest: int, corner_cos: float
) -> tuple[Floats, NDArray[np.intp]]:
    """Crests of ``size`` (h, w), each point brought to its crest by a parabola across it, followed from neighbour to
    neighbour.
    """
    h, w = size.shape
    crest = np.zeros((h, w), np.bool_)
    for r in range(2, h - 2):
        for c in range(2, w - 2):
            g = size[r, c]
            if g < least:
                continue
            ux, uy = gx[r, c] / g, gy[r, c] / g
            ahead, behind = between(size, c + ux, r + uy), between(size, c - ux, r - uy)
            crest[r, c] = g >= ahead and g > behind
    free = crest.copy()
    points, starts = np.empty((h * w // 6 + 16, 2)), np.empty(h * w // 40 + 16, np.intp)
    path = np.empty((2, h + w + h * w // 50, 2), np.intp)
    total, count = 0, 0
    for r0 in range(2, h - 2):
        for c0 in range(2, w - 2):
            if not free[r0, c0]:
                continue
            free[r0, c0] = False
            ends = np.zeros(2, np.intp)
            for way in range(2):
                r, c, n = r0, c0, 0
                sign = 1.0 if way == 0 else -1.0
                while n < path.shape[1] - 1:
                    # on along the edge: at right angles to the slope
                    g = size[r, c]
                    tx, ty = -gy[r, c] / g * sign, gx[r, c] / g * sign
                    best, br, bc = 0.3, -1, -1
                    for dr in range(-1, 2):
                        for dc in range(-1, 2):
                            if (dr == 0 and dc == 0) or not free[r + dr, c + dc]:
                                continue
                            g2 = size[r + dr, c + dc]
                            same = (gx[r, c] * gx[r + dr, c + dc] + gy[r, c] * gy[r + dr, c + dc]) / (g * g2)
                            long = np.sqrt(float(dr * dr + dc * dc))
                            ahead = (dc * tx + dr * ty) / long
                            if same > corner_cos and ahead > best:
                                best, br, bc = ahead, r + dr, c + dc
                    if br < 0 or br < 2 or bc < 2 or br >= h - 2 or bc >= w - 2:
                        break
                    r, c = br, bc
                    free[r, c] = False
                    path[way, n, 0], path[way, n, 1] = r, c
                    n += 1
                ends[way] = n
            whole = ends[0] + ends[1] + 1
            if whole < shortest or total + whole >= len(points) or count + 2 >= len(starts):
                continue
            starts[count] = total
            count += 1
            for k in range(whole):
                if k < ends[1]:
                    r, c = path[1, ends[1] - 1 - k, 0], path[1, ends[1] - 1 - k, 1]
                elif k == ends[1]:
                    r, c = r0, c0
                else:
                    r, c = path[0, k - ends[1] - 1, 0], path[0, k - ends[1] - 1, 1]
                g = size[r, c]
                ux, uy = gx[r, c] / g, gy[r, c] / g
                ahead, behind = between(size, c + ux, r + uy), between(size, c - ux, r - uy)
                bend = ahead + behind - 2.0 * g
                off = 0.5 * (behind - ahead) / bend if bend < -1e-6 else 0.0
                off = min(max(off, -0.7), 0.7)
                points[total, 0], points[total, 1] = c + 0.5 + off * ux, r + 0.5 + off * uy
                total += 1
    starts[count] = total
    return points[:total].copy(), starts[: count + 1].copy()


@compiled(always=True)
def between(values: Grey, x: float, y: float) -> float:
    """The value between pixels, by their middles at whole numbers; nothing outside."""
    h, w = values.shape
    c, r = int(np.floor(x)), int(np.floor(y))
    if c < 0 or r < 0 or c >= w - 1 or r >= h - 1:
        return 0.0
    a, b = x - c, y - r
    found: float = (values[r, c] * (1 - a) + values[r, c + 1] * a) * (1 - b) + (
        values[r + 1, c] * (1 - a) + values[r + 1, c + 1] * a
    ) * b
    return found
