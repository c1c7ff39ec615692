"""One look at all ends under one camera: where each falls, and the normal equations that follow, compiled."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.lines import Flags, Floats, Ints
from aspectum.core.view.camera import FIRST_BEARING, OWN_BEARING, vanish

AXES = 3  # coordinates of a point in space
MOVES = (
    FIRST_BEARING + 1 + AXES
)  # unknowns that one end moves with: the camera's, its form's bearing and its own coordinates
LEAST_DEPTH = 1e-3  # of an end before the eye
GAUGE = 1e7  # stiffness of the hold on a piece's scale, whose depths are of order one


class LaidEnds(NamedTuple):
    """K ends for compiled code: ``at`` (K, 2) in camera units, ``form`` (K,), ``node`` (K, 3), ``fresh`` (K,) as in
    ``Layout``, ``piece`` (N,); each form's ``bearing`` (m,) among the parameters; ``place``: the column of each
    parameter among the unknowns, or -1; ``first``: the column of the first value; ``sd``: the point error.
    """

    at: Floats
    form: Ints
    node: Ints
    fresh: Flags
    piece: Ints
    bearing: Ints
    place: Ints
    first: int
    sd: float


class EndLook(NamedTuple):
    """``r`` (K, 2): residuals in point errors; ``jac`` (K, 2, 9): derivatives by the unknowns in ``columns`` (K, 9), -1
    for what is not free; ``cost``: of the fresh ones; ``matrix``, ``slope``: normal equations, with each piece's scale
    held. ``front``: whether all lie before the eye; otherwise nothing else is filled.
    """

    front: bool
    r: Floats
    jac: Floats
    columns: Ints
    cost: float
    matrix: Floats
    slope: Floats


@compiled
def form_axes(params: Floats, bearing: Ints) -> tuple[Floats, Floats]:
    """Homogeneous images (m, 3, 3) of each form's axes (right, left, up), a row an axis, and their derivatives (m, 3,
    3, 6) by the camera and the form's own bearing.
    """
    count = len(bearing)
    turn, offset, slope = np.empty(AXES * count, np.intp), np.zeros(AXES * count), np.full(AXES * count, -1)
    for m in range(count):
        for axis in range(AXES):
            turn[AXES * m + axis] = bearing[m]
        offset[AXES * m + 1] = -np.pi / 2
        slope[AXES * m + 2] = -2
    points, by = vanish(params, turn, offset, slope)
    return points.reshape((count, AXES, 3)), by[:, :, : OWN_BEARING + 1].copy().reshape(
        (count, AXES, 3, OWN_BEARING + 1)
    )


@compiled
def look_at_ends(ends: LaidEnds, params: Floats, values: Floats) -> EndLook:
    """All ends under ``params`` at the coordinates ``values`` (N,)."""
    count, size = len(ends.form), ends.first + len(values)
    frames, by = form_axes(params, ends.bearing)
    r, jac, columns = np.zeros((count, 2)), np.zeros((count, 2, MOVES)), np.full((count, MOVES), -1)
    matrix, slope, cost = np.zeros((size, size)), np.zeros(size), 0.0
    image, move = np.empty(3), np.empty(3)
    for k in range(count):
        m = ends.form[k]
        for h in range(3):
            image[h] = 0.0
            for axis in range(AXES):
                image[h] += values[ends.node[k, axis]] * frames[m, axis, h]
        if not image[2] > LEAST_DEPTH:
            return EndLook(False, r, jac, columns, cost, matrix, slope)
        x, y = image[0] / image[2], image[1] / image[2]
        r[k, 0], r[k, 1] = (x - ends.at[k, 0]) / ends.sd, (y - ends.at[k, 1]) / ends.sd
        for c in range(MOVES):
            if c < FIRST_BEARING:
                columns[k, c] = ends.place[c]
            elif c == OWN_BEARING:
                columns[k, c] = ends.place[ends.bearing[m]]
            else:
                columns[k, c] = ends.first + ends.node[k, c - OWN_BEARING - 1]
            if columns[k, c] < 0:
                continue
            for h in range(3):
                move[h] = 0.0
                if c > OWN_BEARING:
                    move[h] = frames[m, c - OWN_BEARING - 1, h]
                else:
                    for axis in range(AXES):
                        move[h] += values[ends.node[k, axis]] * by[m, axis, h, c]
            jac[k, 0, c] = (move[0] - x * move[2]) / image[2] / ends.sd
            jac[k, 1, c] = (move[1] - y * move[2]) / image[2] / ends.sd
        if not ends.fresh[k]:
            continue
        cost += r[k, 0] * r[k, 0] + r[k, 1] * r[k, 1]
        for a in range(MOVES):
            i = columns[k, a]
            if i < 0:
                continue
            slope[i] += jac[k, 0, a] * r[k, 0] + jac[k, 1, a] * r[k, 1]
            for b in range(MOVES):
                j = columns[k, b]
                if j >= 0:
                    matrix[i, j] += jac[k, 0, a] * jac[k, 0, b] + jac[k, 1, a] * jac[k, 1, b]
    hold_scales(ends, values, matrix)
    return EndLook(True, r, jac, columns, cost, matrix, slope)


@compiled
def hold_scales(ends: LaidEnds, values: Floats, matrix: Floats) -> None:
    """Hold the scale of each piece along its values."""
    square = np.zeros(len(values))
    for n in range(len(values)):
        square[ends.piece[n]] += values[n] * values[n]
    for n in range(len(values)):
        for other in range(len(values)):
            if ends.piece[n] == ends.piece[other]:
                matrix[ends.first + n, ends.first + other] += (
                    GAUGE * values[n] * values[other] / max(square[ends.piece[n]], 1e-24)
                )


@compiled
def algebraic(ends: LaidEnds, frames: Floats, values: Floats, matrix: Floats) -> None:
    """Fill the normal matrix (N, N) of the homogeneous equations that every end sets its coordinates under ``frames``
    (m, 3, 3), each divided by the depth that ``values`` give it.
    """
    matrix[:] = 0.0
    row = np.empty((2, AXES))
    for k in range(len(ends.form)):
        m, depth = ends.form[k], 0.0
        for axis in range(AXES):
            depth += values[ends.node[k, axis]] * frames[m, axis, 2]
        weight = 1.0 / max(abs(depth), NEAREST)
        for axis in range(AXES):
            for side in range(2):
                row[side, axis] = weight * (frames[m, axis, side] - ends.at[k, side] * frames[m, axis, 2])
        for a in range(AXES):
            for b in range(AXES):
                matrix[ends.node[k, a], ends.node[k, b]] += row[0, a] * row[0, b] + row[1, a] * row[1, b]


NEAREST = 0.05  # depth, in those of its piece, below which an end weighs no more in a first estimate
