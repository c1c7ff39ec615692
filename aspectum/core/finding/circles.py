"""Circles in planes of a known direction: what one looks like has three unknowns, and an arc of it fixes them."""

from __future__ import annotations

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.lines import Floats, Ints

ONE_WAY = 0.75  # of all that a bend turns, that it must turn the one way


def plane_map(camera: Floats, axis: Floats) -> Floats:
    """The map (3, 3) from homogeneous picture points to places on a plane square to ``axis`` (3,), a unit direction in
    space, one eye's distance away.
    """
    helper = np.array([1.0, 0.0, 0.0]) if abs(axis[2]) > 0.9 else np.array([0.0, 0.0, 1.0])
    first = helper - (helper @ axis) * axis
    first /= np.linalg.norm(first)
    frame = np.stack([first, np.cross(axis, first), axis])
    return np.ascontiguousarray(frame @ np.linalg.inv(camera))


@compiled(always=True)
def fit_circle(xs: Floats, ys: Floats) -> tuple[float, float, float]:
    """The circle through places on a plane by least squares of x² + y² + dx + ey + f (Kåsa): centre and radius, which
    is not a number where they lie in one line.
    """
    n = len(xs)
    mx, my = xs.mean(), ys.mean()
    size = 0.0
    for i in range(n):
        size += (xs[i] - mx) ** 2 + (ys[i] - my) ** 2
    size = np.sqrt(size / n) + 1e-300
    suu, suv, svv, suz, svz, szz = 0.0, 0.0, 0.0, 0.0, 0.0, 0.0
    for i in range(n):
        u, v = (xs[i] - mx) / size, (ys[i] - my) / size
        z = u * u + v * v
        suu, suv, svv, suz, svz, szz = suu + u * u, suv + u * v, svv + v * v, suz + u * z, svz + v * z, szz + z
    det = suu * svv - suv * suv
    if abs(det) < 1e-9 * n * n:
        return 0.0, 0.0, np.nan
    a, b = 0.5 * (suz * svv - svz * suv) / det, 0.5 * (svz * suu - suz * suv) / det
    return mx + size * a, my + size * b, size * np.sqrt(max(szz / n + a * a + b * b, 0.0))


@compiled(always=True)
def bends(points: Floats, starts: Ints, least_turn: float, shortest: int) -> Ints:
    """Parts (k, 2) of chains of ``points`` (n, 2), as first and last point but one, that keep turning one way by
    ``least_turn`` at least: the whole of each chain, then halves, quarters and so on, each overlapping the next by
    three quarters.
    """
    out, count = np.empty((len(points) + 16, 2), np.intp), 0
    for c in range(len(starts) - 1):
        whole = starts[c + 1] - starts[c]
        part = whole
        while part >= shortest:
            at = 0
            while at + part <= whole:
                first, run = starts[c] + at, max(part // 8, 3)
                net, gross = 0.0, 0.0
                k = 0
                while k + 2 * run < part:
                    ax, ay = (
                        points[first + k + run, 0] - points[first + k, 0],
                        points[first + k + run, 1] - points[first + k, 1],
                    )
                    bx, by = (
                        points[first + k + 2 * run, 0] - points[first + k + run, 0],
                        points[first + k + 2 * run, 1] - points[first + k + run, 1],
                    )
                    turn = np.arctan2(ax * by - ay * bx, ax * bx + ay * by)
                    net, gross = net + turn, gross + abs(turn)
                    k += run
                if abs(net) >= least_turn and abs(net) >= ONE_WAY * gross and count < len(out):
                    out[count, 0], out[count, 1] = first, first + part
                    count += 1
                at += max(part // 4, 1)
            part //= 2
    return out[:count].copy()


@compiled(always=True)
def candidates(points: Floats, parts: Ints, to_plane: Floats, scale: float, cx: float, cy: float) -> Floats:
    """Circles (m, 3) as centre and radius on the plane that ``to_plane`` maps to, by ``parts`` (k, 2) of chains of
    ``points`` (px); ``scale``, ``cx``, ``cy``: pixels per camera unit, and the centre of vision.
    """
    out, count, longest = np.empty((len(parts), 3)), 0, 1
    for k in range(len(parts)):
        longest = max(longest, parts[k, 1] - parts[k, 0])
    xs, ys = np.empty(longest), np.empty(longest)
    for part in range(len(parts)):
        first, size = parts[part, 0], parts[part, 1] - parts[part, 0]
        good, side = True, 0.0
        for k in range(size):
            u, v = (points[first + k, 0] - cx) / scale, (points[first + k, 1] - cy) / scale
            depth = to_plane[2, 0] * u + to_plane[2, 1] * v + to_plane[2, 2]
            if k == 0:
                side = depth
            if depth * side <= 0 or abs(depth) < 1e-4:
                good = False
                break
            xs[k] = (to_plane[0, 0] * u + to_plane[0, 1] * v + to_plane[0, 2]) / depth
            ys[k] = (to_plane[1, 0] * u + to_plane[1, 1] * v + to_plane[1, 2]) / depth
        if not good:
            continue
        x, y, r = fit_circle(xs[:size], ys[:size])
        if np.isfinite(r) and r > 0:
            out[count, 0], out[count, 1], out[count, 2] = x, y, r
            count += 1
    return out[:count].copy()


@compiled(always=True)
def drawn(circle: Floats, from_plane: Floats, scale: float, cx: float, cy: float, count: int) -> tuple[Floats, bool]:
    """Places (count, 2) px round a circle's image, and whether all of it is before the eye."""
    out = np.empty((count, 2))
    side = 0.0
    for k in range(count):
        angle = 2.0 * np.pi * k / count
        x, y = circle[0] + circle[2] * np.cos(angle), circle[1] + circle[2] * np.sin(angle)
        u = from_plane[0, 0] * x + from_plane[0, 1] * y + from_plane[0, 2]
        v = from_plane[1, 0] * x + from_plane[1, 1] * y + from_plane[1, 2]
        w = from_plane[2, 0] * x + from_plane[2, 1] * y + from_plane[2, 2]
        if k == 0:
            side = w
        if w * side <= 1e-12:
            return out, False
        out[k, 0], out[k, 1] = cx + scale * u / w, cy + scale * v / w
    return out, True
