"""Least squares of an ellipse to what was laid of a rim, compiled."""

from __future__ import annotations

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.ellipses import curved_weight, feet_of, principal, tip_spread
from aspectum.core.plane.factor import cholesky, solve_with
from aspectum.core.plane.lines import Floats, Ints

STEPS = 25  # of Levenberg-Marquardt, before what is found so far is taken
NO_ENDS = np.zeros((0, 2))  # of a rim laid by points alone
NOT_HELD = np.zeros(2)  # of a rim free to open


@compiled
def refine_fit(shape: Floats, points: Floats, ends: Floats, sd: float, held: Floats) -> tuple[Floats, bool]:
    """Levenberg-Marquardt on geometric distances to ``points`` (n, 2) and the ``ends`` of the major axis,
    (2, 2) or (0, 2), from the start ``shape`` (5,); ``held`` as in ``fit_rows``.
    """
    r, jac = fit_rows(shape, points, ends, sd, held)
    damping, matrix, slope, root, step = 1e-3, np.empty((5, 5)), np.empty(5), np.zeros((5, 5)), np.empty(5)
    cost = (r * r).sum()
    for _ in range(STEPS):
        trace = 0.0
        for i in range(5):
            slope[i] = -(jac[:, i] * r).sum()
            for k in range(5):
                matrix[i, k] = (jac[:, i] * jac[:, k]).sum()
            trace += matrix[i, i] * (1.0 + damping)
            matrix[i, i] *= 1.0 + damping
        for i in range(5):
            matrix[i, i] += 1e-9 * trace
        if not cholesky(matrix, root):  # points in one place say nothing of the ellipse
            break
        solve_with(root, slope, step)
        trial = shape + step
        trial_r, trial_jac = fit_rows(trial, points, ends, sd, held)
        trial_cost = (trial_r * trial_r).sum()
        if trial_cost <= cost:
            done = cost - trial_cost < 1e-4 * (1.0 + cost)
            shape, r, jac, cost, damping = trial, trial_r, trial_jac, trial_cost, damping * 0.1
            if done:
                return shape, True
        else:
            if (step * slope).sum() < 1e-4 * (1.0 + cost):
                return shape, True
            damping *= 8.0
            if damping > 1e9:
                break
    return shape, False


@compiled
def fit_rows(shape: Floats, points: Floats, ends: Floats, sd: float, held: Floats) -> tuple[Floats, Floats]:
    """Distances of ``points`` (n, 2) to the ellipse and of ``ends``, (2, 2) or (0, 2), across the major axis to
    its own ends, in standard deviations, with their derivatives (rows, 5) by ``shape``; last, where ``held`` (ratio,
    1/sd) has any stiffness, how far the ratio of the axes is from being held.
    """
    turned, feet, normals = feet_of(points, shape)
    major, minor, angle = principal(shape)
    c, s = np.cos(angle), np.sin(angle)
    count = len(points)
    rows = count + len(ends) + (1 if held[1] > 0.0 else 0)
    r, jac = np.empty(rows), np.empty((rows, 5))
    for i in range(count):
        # the unit vector u(t) of the symmetric form, in picture axes
        cos_t, sin_t = turned[i]
        ux, uy = cos_t * c - sin_t * s, cos_t * s + sin_t * c
        weight = curved_weight(major, minor, cos_t, sin_t, sd) / sd
        nx, ny = normals[i, 0] * weight, normals[i, 1] * weight
        r[i] = (feet[i, 0] - points[i, 0]) * nx + (feet[i, 1] - points[i, 1]) * ny
        jac[i, 0], jac[i, 1], jac[i, 2], jac[i, 3], jac[i, 4] = nx, ny, nx * ux, nx * uy + ny * ux, ny * uy
    tip_sd = tip_spread(major, minor, sd)
    for e in range(len(ends)):
        i = count + e
        side = 1.0 if (ends[e, 0] - shape[0]) * c + (ends[e, 1] - shape[1]) * s >= 0 else -1.0
        r[i] = (
            -(shape[0] + side * major * c - ends[e, 0]) * s + (shape[1] + side * major * s - ends[e, 1]) * c
        ) / tip_sd
        turning = side * major / max(major - minor, 0.02 * major) / tip_sd
        jac[i, 0], jac[i, 1] = -s / tip_sd, c / tip_sd
        jac[i, 2], jac[i, 3], jac[i, 4] = -c * s * turning, (c * c - s * s) * turning, c * s * turning
    if held[1] > 0.0:
        i, wide = rows - 1, max(major, 1e-12)
        r[i] = (minor / wide - held[0]) * held[1]
        share = minor / wide
        jac[i, 0], jac[i, 1] = 0.0, 0.0
        jac[i, 2] = (s * s - share * c * c) / wide * held[1]
        jac[i, 3] = (-2 * c * s - share * 2 * c * s) / wide * held[1]
        jac[i, 4] = (c * c - share * s * s) / wide * held[1]
    return r, jac


USUAL_ARC, SHORTER_BY = (
    np.radians(110.0),
    np.radians(25.0),
)  # turn that a laid arc usually reaches, and by how much it falls short
AT_AN_END = 0.2  # sine of the turn from an end of the major axis within which a point lies on neither side
# the same round a whole rim, in point errors from the major axis, and the largest such sine
IN_THE_ERROR, MOST_AT_AN_END = 2.0, 0.7
COMES_ROUND = 0.85  # of all that is laid, within which the last point laid comes round to the first
THIN_TO = 6.0  # half minor axis, in point errors, up to which an ellipse is as thin as that
A_TURN_BACK = 4.0  # what it costs an ellipse that the laid points go back and forth between its two sides


@compiled
def unlikely(shape: Floats, points: Floats, sd: float) -> float:
    """What it costs the ellipse ``shape`` (5,) that ``points`` (n, 2) lie on it as no hand lays them, as chi-square.

    A hand lays an arc in one sweep; but an ellipse no wider than the point error fits almost anything by putting
    some points on its near and some on its far side. And a hand lays a fair part of the rim; but a small part
    of a huge ellipse, longer one way, fits a flat arc as well.
    """
    turned, _, _ = feet_of(points, shape)
    ordered = np.sort(np.arctan2(turned[:, 1], turned[:, 0]))
    gap = ordered[0] + 2.0 * np.pi - ordered[-1]
    for i in range(1, len(ordered)):
        gap = max(gap, ordered[i] - ordered[i - 1])
    short = max(USUAL_ARC - (2.0 * np.pi - gap), 0.0) / SHORTER_BY
    cost = short * short
    minor = principal(shape)[1]
    if minor > THIN_TO * sd:
        return cost
    # laid in one sweep, and round again to about where it was begun, a rim changes sides twice; half of one once, in
    # whatever order it was laid
    wide, high = points[:, 0].max() - points[:, 0].min(), points[:, 1].max() - points[:, 1].min()
    round_again = np.hypot(points[0, 0] - points[-1, 0], points[0, 1] - points[-1, 1]) < COMES_ROUND * np.hypot(
        wide, high
    )
    back = turns_back(turned, np.argsort(turned[:, 0]), AT_AN_END) - 1
    if round_again:
        beside = max(AT_AN_END, min(IN_THE_ERROR * sd / max(minor, 1e-12), MOST_AT_AN_END))
        back = min(back, turns_back(turned, np.arange(len(turned)), beside) - 2)
    return cost + A_TURN_BACK * max(back, 0)


@compiled
def turns_back(turned: Floats, order: Ints, beside: float) -> int:
    """How often points at turns (n, 2), as cosine and sine, go from one side of the major axis to the other when they
    are gone through in ``order`` (n,).
    """
    changes, side = 0, 0.0
    for k in order:
        here = turned[k, 1]
        if abs(here) < beside:
            continue
        if here * side < 0.0:
            changes += 1
        side = here
    return changes
