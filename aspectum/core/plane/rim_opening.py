"""How far a rim may open: the curve of likelihood over the ratio of its axes.

On a short or a flat arc the best ellipse is one of many that fit about as well, and its first-order spread
is too narrow. So the ratio of the axes is stepped outwards from every place where a fit comes to
rest, the rest refitted at each step, and every place counts with its likelihood (the profile
likelihood) less what makes it an unlikely reading of a hand's points, and with how likely such a
ratio is beforehand. What is told is the middle of the curve, and how wide it is.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.ellipses import principal
from aspectum.core.plane.factor import cholesky, inverse_with
from aspectum.core.plane.lines import Floats
from aspectum.core.plane.rim_rows import fit_rows, refine_fit, unlikely

STRIDE = 0.9  # standard deviations a step
STIFF = 0.02  # deviation, in standard deviations, within which the ratio is held at a step
MOST_STEPS = 10  # each way
FAR_ENOUGH = 10.0  # twice the log of how much less likely the last step is than the best
LEAN_FROM = 0.3  # radians about which a lean may lie before it counts as more than one
OVAL, NEARLY_ROUND = 0.6, 0.9  # ratios between which that comes to count
# how likely a ratio is beforehand, (ratio + FLAT)^-FLATTER: most rims are seen from not far above or below, and of the
# ellipses that fit a flat arc about as well the rounder are the larger, of which less is laid. By simulation over
# visible parts of rims in shaded views, even degrees and flat half arcs alike
FLAT, FLATTER = 0.3, 1.5
CLOSED, ROUND = 0.05, 0.9995  # half minor axis in point errors, and ratio, beyond which no step goes


class Opening(NamedTuple):
    """Places on the curve, in order: ``ratio`` and ``weight`` (K,; they sum to one), the ellipses (K, 5) as in
    ``RimFit``, and the variance of the minor axis' direction at each (radians squared).
    """

    ratio: Floats
    weight: Floats
    shapes: Floats
    axis_variance: Floats


@compiled
def opening_curve(
    shape: Floats, points: Floats, ends: Floats, sd: float, ratio_sd: float
) -> tuple[Floats, Floats, Floats, Floats]:
    """The curve about the best ellipse ``shape`` (5,) through ``points`` (n, 2) and the ``ends`` of the major axis,
    (2, 2) or (0, 2), whose ratio is known to ``ratio_sd`` in first order.
    """
    most = 2 * MOST_STEPS + 1
    ratio, log, variance = np.empty(most), np.empty(most), np.empty(most)
    shapes, held, count = np.empty((most, 5)), np.zeros(2), 0
    root, turn = np.zeros((5, 5)), np.zeros(5)
    major, minor, _ = principal(shape)
    best = minor / major
    least, last, last_of_best = np.inf, 0.0, 0.0
    for way in (-1.0, 1.0):
        place, stride, here = shape.copy(), STRIDE * ratio_sd, best
        last = last_of_best
        for step in range(MOST_STEPS + 1):
            if step == 0 and way > 0.0:
                continue  # the best place itself is looked at once
            if step > 0:
                here += way * stride
                if here * major < CLOSED * sd or here > ROUND:
                    break
            held[0], held[1] = here, 1.0 / (STIFF * ratio_sd)
            place, _ = refine_fit(place, points, ends, sd, held)
            r, jac = fit_rows(place, points, ends, sd, held)
            cost = 0.0
            for i in range(len(r) - 1):
                cost += r[i] * r[i]
            matrix = np.zeros((5, 5))
            for a in range(5):
                for b in range(a + 1):
                    for i in range(len(r)):
                        matrix[a, b] += jac[i, a] * jac[i, b]
            cost += unlikely(place, points, sd)
            if not cholesky(matrix, root):
                break
            wide, narrow, angle = principal(place)
            across = max(wide - narrow, 1e-9)
            c, s = np.cos(angle), np.sin(angle)
            turn[2], turn[3], turn[4] = -c * s / across, (c * c - s * s) / across, c * s / across
            spread = inverse_with(root)
            square = 0.0
            for a in range(5):
                for b in range(5):
                    square += turn[a] * spread[a, b] * turn[b]
            room = np.sqrt(2.0 * np.pi * square)
            ratio[count], variance[count] = here, square
            # the rounder a rim, the more ways it may lean: each counts, but none twice
            lean = min(max(room, LEAN_FROM), np.pi) / LEAN_FROM
            log[count] = -0.5 * cost + min(max((here - OVAL) / (NEARLY_ROUND - OVAL), 0.0), 1.0) * np.log(lean)
            shapes[count] = place
            count += 1
            rise = cost - last if step > 0 else 0.0
            last = cost
            if step == 0:
                last_of_best = cost
            least = min(least, cost)
            stride *= 1.5 if rise < 0.6 else 0.6 if rise > 3.0 else 1.0
            if cost > least + FAR_ENOUGH:
                break
    order = np.argsort(ratio[:count])
    return ratio[order], log[order], shapes[order], variance[order]


def opening_of(starts: list[Floats], points: Floats, ends: Floats, sd: float, ratio_sd: float) -> Opening | None:
    """The curve about the ellipses ``starts`` (5,) each, from which the fit came to rest in different places: of two
    that reach one ratio the likelier counts.
    """
    walks = [walk for shape in starts if len((walk := opening_curve(shape, points, ends, sd, ratio_sd))[0])]
    if not walks:
        return None
    ratio, log, shapes, variance = (np.concatenate(part) for part in zip(*walks, strict=True))
    for n, (mine, *_) in enumerate(walks):
        at = slice(sum(len(w[0]) for w in walks[:n]), sum(len(w[0]) for w in walks[: n + 1]))
        for m, (theirs, height, *_) in enumerate(walks):
            if m != n:
                other = np.interp(mine, theirs, height, left=-np.inf, right=-np.inf)
                log[at] = np.where((other > log[at]) | ((other == log[at]) & (m < n)), -np.inf, log[at])
    kept = np.flatnonzero(log > log.max() - FAR_ENOUGH)
    if len(kept) < 3:
        return None
    kept = kept[np.argsort(ratio[kept], kind="stable")]
    width = np.maximum(np.gradient(ratio[kept]), 1e-12) if len(kept) > 1 else np.ones(1)
    weight = np.exp(log[kept] - log[kept].max()) * width / (ratio[kept] + FLAT) ** FLATTER
    return Opening(ratio[kept], weight / weight.sum(), shapes[kept], variance[kept])
