"""Least squares over all sightings of a sheet at once, compiled: one look, and the way down to the best fit.

Levenberg-Marquardt (Nocedal & Wright, Numerical Optimization, 2nd ed., ch. 10) on the view's free
parameters. The own unknowns of the rims follow them at every step and are eliminated from its
equations.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.factor import cholesky, inverse_with, log_determinant, solve_with
from aspectum.core.plane.lines import Flags, Floats, Ints
from aspectum.core.plane.meet import residual_with_slope
from aspectum.core.view.camera import (
    FIRST_BEARING,
    LOG_F,
    MOVES,
    OWN_BEARING,
    OWN_SLOPE,
    PITCH,
    eye_level_height,
    vanish,
)
from aspectum.core.view.rim_images import LOOK, OWN, REST, SETTLE, TURNS, LaidRims, RimLook, advance, copy_rim, see_rims

WRONG_MINIMUM_COST = 12.0  # chi-square of a rim beyond which its fit may rest on the wrong part of its circle
LONGEST_STEP = 0.6  # of any parameter, radians or parts of e
OPEN_VARIANCE = 1e6  # of a parameter, all of which are of order one, that nothing fixes
STEEPEST, FARTHEST = 1.45, 5.0  # pitch and log f that no view goes beyond


class LaidEdges(NamedTuple):
    """Edges as in ``Segments``, the ``slot`` of each (n,), the slots' ``bearing``, ``offset`` and ``slope`` (m,)
    as in ``Slots``, and the point error ``sd``; in camera units.
    """

    line: Floats
    total: Floats
    square: Floats
    slot: Ints
    bearing: Ints
    offset: Floats
    slope: Ints
    sd: float


class Hold(NamedTuple):
    """What a view leaves free and what is known of it beforehand. ``free`` (F,): indices of the free
    parameters; ``place`` (P,): where among them each parameter stands, or -1. Inverse variances (P,):
    ``pull`` of what is known, about ``mean``, of which ``drawn`` is the faint hold on a usual lens and a level
    view; ``faint`` of what keeps open questions finite and counts in no cost. ``levels`` (g, 3): x, height
    and 1/sd of a given eye level.
    """

    free: Ints
    place: Ints
    mean: Floats
    pull: Floats
    drawn: Floats
    faint: Floats
    levels: Floats


class Rest(NamedTuple):
    """Where B descents came to rest: parameters (B, P), the rims' own unknowns (B, R, 3), cost without that of a
    held eye level, whether they converged, log determinant of the normal matrix with the whole faint hold
    and a held eye level in it, and its inverse (B, F, F); and the looks used at edges and at the rims.
    """

    params: Floats
    own: Floats
    cost: Floats
    converged: Flags
    log_det: Floats
    covariance: Floats
    looks: int
    rim_looks: int


class Weights(NamedTuple):
    """What each edge (n,) and rim (R,) counts: 1, or 0 for what is left out. ``robust``: point errors at which
    a Cauchy loss sets in, 0 for plain squares.
    """

    edges: Floats
    rims: Floats
    robust: float


@compiled
def loss(square: float, robust: float) -> tuple[float, float]:
    """Cost and weight of a squared residual."""
    if robust <= 0.0:
        return square, 1.0
    over = square / (robust * robust)
    return robust * robust * np.log1p(over), 1.0 / (1.0 + over)


@compiled
def add_row(matrix: Floats, slope: Floats, columns: Ints, row: Floats, count: int, weight: float, r: float) -> None:
    """Add ``weight`` times a residual ``r`` with its ``count`` derivatives ``row`` in ``columns``, which ascend, to the
    lower half of the normal matrix and to its gradient.
    """
    for a in range(count):
        i, share = columns[a], weight * row[a]
        slope[i] += share * r
        for b in range(a + 1):
            matrix[i, columns[b]] += share * row[b]


@compiled
def edge_columns(edges: LaidEdges, hold: Hold, m: int, columns: Ints, sources: Ints) -> int:
    """Write the free columns that edges of slot ``m`` move with into ``columns`` (7,), ascending, and which of the
    moves of ``vanish`` each is into ``sources`` (7,); returns how many.
    """
    count = 0
    for c in range(FIRST_BEARING if edges.slope[m] == -2 else OWN_SLOPE if edges.slope[m] < 0 else MOVES):
        at = (
            hold.place[c] if c < FIRST_BEARING else hold.place[edges.bearing[m] if c == OWN_BEARING else edges.slope[m]]
        )
        if at >= 0:
            columns[count], sources[count] = at, c
            count += 1
    return count


@compiled
def edge_rows(edges: LaidEdges, hold: Hold, params: Floats) -> tuple[Floats, Floats]:
    """Residuals of all edges in point errors, (n,), and their derivatives by the free parameters, (n, F)."""
    points, by = vanish(params, edges.bearing, edges.offset, edges.slope)
    count = len(edges.slot)
    r, jac = np.empty(count), np.zeros((count, len(hold.free)))
    columns, sources, slope = np.empty(MOVES, np.intp), np.empty(MOVES, np.intp), np.empty(3)
    for i in range(count):
        m = edges.slot[i]
        r[i] = residual_with_slope(edges.line[i], edges.total[i], edges.square[i], points[m], slope) / edges.sd
        for a in range(edge_columns(edges, hold, m, columns, sources)):
            c = sources[a]
            jac[i, columns[a]] = (slope[0] * by[m, 0, c] + slope[1] * by[m, 1, c] + slope[2] * by[m, 2, c]) / edges.sd
    return r, jac


@compiled
def add_edges(edges: LaidEdges, hold: Hold, params: Floats, weights: Weights, matrix: Floats, slope: Floats) -> float:
    """Add all edges to the normal equations; returns their cost."""
    points, by = vanish(params, edges.bearing, edges.offset, edges.slope)
    columns, sources, dv = np.empty(MOVES, np.intp), np.empty(MOVES, np.intp), np.empty(3)
    # first each slot's own equations, in its vanishing point's three coordinates: six entries and their gradient
    gathered, finer, cost = np.zeros((len(points), 9)), 1.0 / edges.sd, 0.0
    for i in range(len(edges.slot)):
        if weights.edges[i] == 0.0:
            continue
        m = edges.slot[i]
        r = residual_with_slope(edges.line[i], edges.total[i], edges.square[i], points[m], dv) * finer
        over, share = loss(r * r, weights.robust)
        cost += weights.edges[i] * over
        x, y, w = dv[0] * finer, dv[1] * finer, dv[2] * finer
        share *= weights.edges[i]
        sx, sy, sw = share * x, share * y, share * w
        mine = gathered[m]
        mine[0], mine[1], mine[2] = mine[0] + sx * x, mine[1] + sx * y, mine[2] + sx * w
        mine[3], mine[4], mine[5] = mine[3] + sy * y, mine[4] + sy * w, mine[5] + sw * w
        mine[6], mine[7], mine[8] = mine[6] + sx * r, mine[7] + sy * r, mine[8] + sw * r
    for m in range(len(points)):
        mine = gathered[m]
        for a in range(edge_columns(edges, hold, m, columns, sources)):
            c, at = sources[a], columns[a]
            x, y, w = by[m, 0, c], by[m, 1, c], by[m, 2, c]
            slope[at] += mine[6] * x + mine[7] * y + mine[8] * w
            ax, ay, aw = (
                mine[0] * x + mine[1] * y + mine[2] * w,
                mine[1] * x + mine[3] * y + mine[4] * w,
                mine[2] * x + mine[4] * y + mine[5] * w,
            )
            for b in range(a + 1):
                e = sources[b]
                matrix[at, columns[b]] += ax * by[m, 0, e] + ay * by[m, 1, e] + aw * by[m, 2, e]
    return cost


@compiled
def add_rims(
    rims: LaidRims, hold: Hold, weights: Weights, seen: RimLook, matrix: Floats, slope: Floats
) -> tuple[float, float]:
    """Add all rims, as they are ``seen``, to the normal equations; returns their cost and what their own
    unknowns have yet to gain.
    """
    columns, sources, row = np.empty(REST, np.intp), np.empty(REST, np.intp), np.empty(REST)
    cost, gain = 0.0, 0.0
    for k in range(len(rims.many)):
        if weights.rims[k] == 0.0:
            continue
        count = 0
        for c in range(FIRST_BEARING if rims.bearing[k] < 0 else REST):
            at = hold.place[c if c < FIRST_BEARING else rims.bearing[k]]
            if at >= 0:
                columns[count], sources[count] = at, c
                count += 1
        over, share = loss(max(seen.cost[k], 0.0), weights.robust)
        cost += weights.rims[k] * over
        share *= weights.rims[k]
        for i in range(TURNS):
            for a in range(count):
                row[a] = seen.by[k, i, sources[a]]
            add_row(matrix, slope, columns, row, count, share, seen.z[k, i])
        for i in range(OWN):
            gain += share * seen.own_r[k, i] * seen.own_r[k, i]
    return cost, gain


@compiled
def add_level(level: Floats, hold: Hold, params: Floats, matrix: Floats, slope: Floats) -> float:
    """Add an eye level held at ``level`` (x, height, 1/sd)."""
    height, by = eye_level_height(params, level[0])
    columns, row, count = np.empty(FIRST_BEARING, np.intp), np.empty(FIRST_BEARING), 0
    for c in range(FIRST_BEARING):
        if hold.place[c] >= 0:
            columns[count], row[count] = hold.place[c], by[c] * level[2]
            count += 1
    r = (height - level[1]) * level[2]
    add_row(matrix, slope, columns, row, count, 1.0, r)
    return r * r


@compiled
def add_known(hold: Hold, level: Floats, params: Floats, matrix: Floats, slope: Floats) -> float:
    """Add what is known beforehand and, where ``level`` (3,) has any stiffness, eye level held there."""
    cost = 0.0
    for k in range(len(hold.free)):
        stray = params[hold.free[k]] - hold.mean[hold.free[k]]
        pull = hold.pull[hold.free[k]]
        matrix[k, k] += pull
        slope[k] += pull * stray
        cost += pull * stray * stray
    for g in range(len(hold.levels)):
        cost += add_level(hold.levels[g], hold, params, matrix, slope)
    if level[2] > 0.0:
        cost += add_level(level, hold, params, matrix, slope)
    return cost


@compiled
def equations(
    edges: LaidEdges,
    rims: LaidRims,
    hold: Hold,
    level: Floats,
    weights: Weights,
    params: Floats,
    seen: RimLook,
    matrix: Floats,
    slope: Floats,
) -> tuple[float, float]:
    """Fill the normal matrix (F, F), lower half, and its gradient (F,) at ``params``, with the rims as they are
    ``seen`` there; returns the cost and what the rims' own unknowns have yet to gain.
    """
    for i in range(len(slope)):
        slope[i] = 0.0
        for k in range(len(slope)):
            matrix[i, k] = 0.0
    cost = add_edges(edges, hold, params, weights, matrix, slope)
    round_cost, gain = add_rims(rims, hold, weights, seen, matrix, slope)
    return cost + round_cost + add_known(hold, level, params, matrix, slope), gain


@compiled
def follow(rims: LaidRims, weights: Weights, seen: RimLook, params: Floats, trial: Floats, own: Floats) -> Floats:
    """Where the rims' own unknowns ``own`` (R, 3) go when the view moves from ``params`` to ``trial`` (P,)."""
    found, mine = np.empty((len(own), OWN)), np.zeros(REST)
    for k in range(len(own)):
        if weights.rims[k] == 0.0:
            for i in range(OWN):
                found[k, i] = own[k, i]
            continue
        for c in range(FIRST_BEARING):
            mine[c] = trial[c] - params[c]
        m = rims.bearing[k]
        mine[FIRST_BEARING] = trial[m] - params[m] if m >= 0 else 0.0
        advance(seen, k, mine, own[k], found[k])
    return found


@compiled
def rim_at_wrong_minimum(seen: RimLook) -> bool:
    """Whether a rim may have come to rest on the wrong part of its circle."""
    worst = 0.0
    for k in range(len(seen.cost)):
        worst = max(worst, seen.cost[k])
    return worst > WRONG_MINIMUM_COST


@compiled
def descend(
    edges: LaidEdges,
    rims: LaidRims,
    hold: Hold,
    level: Floats,
    weights: Weights,
    place: Floats,
    state: Floats,
    steps: int,
    enough: float,
    most_looks: int,
    left: Floats,
) -> tuple[float, bool, int, int]:
    """Bring the parameters ``place`` (P,) to rest, in place, and the rims' own unknowns ``state`` (R, 3) with them, and
    leave the lower half of the normal matrix there in ``left`` (F, F); returns cost, whether it converged, and the
    looks used.
    """
    size, round_count = len(hold.free), len(rims.many)
    matrix, slope, damped, root = np.zeros((size, size)), np.zeros(size), np.zeros((size, size)), np.zeros((size, size))
    next_matrix, next_slope, step, down = np.zeros((size, size)), np.zeros(size), np.zeros(size), np.zeros(size)
    params, own = place.copy(), state.copy()
    seen = see_rims(rims, params, own, LOOK, weights.rims)
    cost, gain = equations(edges, rims, hold, level, weights, params, seen, matrix, slope)
    looks, rim_looks = 1, 1
    damping, converged, fresh = 1e-3, False, round_count == 0
    for _ in range(steps):
        if converged and not fresh and rim_at_wrong_minimum(seen):
            fresh = True
            again = np.full((round_count, OWN), np.nan)
            there, before = see_rims(rims, params, again, SETTLE, weights.rims), cost
            for k in range(round_count):
                if there.cost[k] < seen.cost[k] - 0.5:
                    copy_rim(there, seen, k)
                    for i in range(OWN):
                        own[k, i] = again[k, i]
            cost, gain = equations(edges, rims, hold, level, weights, params, seen, matrix, slope)
            converged = before - cost < 0.5
            rim_looks += 12
        if converged or looks + 2 * rim_looks >= most_looks:
            break
        largest = 0.0
        for i in range(size):
            largest = max(largest, matrix[i, i])
        for i in range(size):
            down[i] = -slope[i]
            for k in range(i + 1):
                damped[i, k] = matrix[i, k]
            damped[i, i] += 1e-10 + damping * matrix[i, i] + 1e-13 * largest
        if not cholesky(damped, root):
            damping = max(damping, 1e-6) * 8.0
            if damping > 1e12:
                break
            continue
        solve_with(root, down, step)
        promised = gain
        trial = params.copy()
        for i in range(size):
            step[i] = min(max(step[i], -LONGEST_STEP), LONGEST_STEP)
            promised -= step[i] * slope[i]
            trial[hold.free[i]] += step[i]
        if abs(trial[PITCH]) < STEEPEST and abs(trial[LOG_F]) < FARTHEST:
            moved, there = own, seen
            if round_count > 0:
                moved = follow(rims, weights, seen, params, trial, own)
                there = see_rims(rims, trial, moved, LOOK, weights.rims)
            next_cost, next_gain = equations(edges, rims, hold, level, weights, trial, there, next_matrix, next_slope)
            looks, rim_looks = looks + 1, rim_looks + 1
            if round_count > 0 and next_cost > cost + 0.5 and damping < 1.0:
                there = see_rims(rims, trial, moved, SETTLE, weights.rims)
                next_cost, next_gain = equations(
                    edges, rims, hold, level, weights, trial, there, next_matrix, next_slope
                )
                looks, rim_looks = looks + 1, rim_looks + 5
            if next_cost <= cost + 1e-9:
                params, own, seen, cost, gain = trial, moved, there, next_cost, next_gain
                matrix, next_matrix, slope, next_slope = next_matrix, matrix, next_slope, slope
                damping *= 0.1
                converged = promised < enough * (1.0 + cost)
                continue
        # feet jump about on a flat rim, so that its cost is rough on the scale of a twentieth
        uneven = round_count > 0 and (promised < 0.05 or damping > 1e2)
        if uneven or promised < enough * (1.0 + cost):
            converged = True
            continue
        damping = max(damping, 1e-6) * 8.0
        if damping > 1e12:
            break
    for i in range(len(place)):
        place[i] = params[i]
    for i in range(size):
        for k in range(i + 1):
            left[i, k] = matrix[i, k]
    # a rim that is left out only follows the view that the others find
    see_rims(rims, params, own, SETTLE, 1.0 - weights.rims)
    for k in range(round_count):
        for i in range(OWN):
            state[k, i] = own[k, i]
    return cost, converged, looks, rim_looks


@compiled
def settle_each(
    edges: LaidEdges,
    rims: LaidRims,
    hold: Hold,
    levels: Floats,
    weights: Floats,
    robust: float,
    starts: Floats,
    owns: Floats,
    steps: int,
    enough: float,
    most_looks: int,
) -> Rest:
    """Come to rest from each of ``starts`` (B, P), with the rims' own unknowns at ``owns`` (B, R, 3) and the
    sightings, edges then rims, counted as ``weights`` (B, n + R) say.

    ``levels`` (B, 3): x, height and 1/sd of an eye level to be held, or zeros. ``robust``: point errors at which a
    Cauchy loss sets in, or 0 for plain squares. Converged is where the next step promises less than ``enough`` of
    the cost. Each ends after ``steps`` steps, and all of them by ``most_looks`` looks.
    """
    count, size, edge_count = len(starts), len(hold.free), len(edges.slot)
    params, own = starts.copy(), owns.copy()
    cost, log_det, converged = np.zeros(count), np.zeros(count), np.zeros(count, np.bool_)
    covariance = np.zeros((count, size, size))
    matrix, root = np.zeros((size, size)), np.zeros((size, size))
    looks, rim_looks = 0, 0
    for b in range(count):
        mine = Weights(weights[b, :edge_count], weights[b, edge_count:], robust)
        left = most_looks - looks - 2 * rim_looks
        total, converged[b], used, rim_used = descend(
            edges, rims, hold, levels[b], mine, params[b], own[b], steps, enough, left, matrix
        )
        looks, rim_looks = looks + used, rim_looks + rim_used
        if levels[b, 2] > 0.0:
            height, _ = eye_level_height(params[b], levels[b, 0])
            total -= ((height - levels[b, 1]) * levels[b, 2]) ** 2
        cost[b] = total
        for i in range(size):
            matrix[i, i] += hold.faint[hold.free[i]]
        if cholesky(matrix, root):
            log_det[b] = log_determinant(root)
            for i, column in enumerate(inverse_with(root)):
                for k in range(size):
                    covariance[b, i, k] = column[k]
        else:
            # readings a million times farther out than others drown them: the view is then as good as open
            log_det[b] = np.inf
            for i in range(size):
                covariance[b, i, i] = OPEN_VARIANCE
    return Rest(params, own, cost, converged, log_det, covariance, looks, rim_looks)
