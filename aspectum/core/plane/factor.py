"""Factors of the small symmetric matrices that least squares comes down to, compiled.

A library's factorisation costs more in calling than in arithmetic for ten unknowns.
"""

from __future__ import annotations

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.lines import Floats


@compiled
def cholesky(matrix: Floats, root: Floats) -> bool:
    """Write the lower triangular root of ``matrix`` (F, F) into ``root``; False where a direction has no length."""
    size = len(matrix)
    for i in range(size):
        for k in range(i + 1):
            left = matrix[i, k]
            for j in range(k):
                left -= root[i, j] * root[k, j]
            if i == k:
                if not left > 1e-14 * matrix[i, i] or not np.isfinite(left):
                    return False
                root[i, i] = np.sqrt(left)
            else:
                root[i, k] = left / root[k, k]
    return True


@compiled
def solve_with(root: Floats, right: Floats, found: Floats) -> None:
    """Solve (root rootᵀ) ``found`` = ``right`` (F,)."""
    size = len(root)
    for i in range(size):
        left = right[i]
        for j in range(i):
            left -= root[i, j] * found[j]
        found[i] = left / root[i, i]
    for i in range(size - 1, -1, -1):
        left = found[i]
        for j in range(i + 1, size):
            left -= root[j, i] * found[j]
        found[i] = left / root[i, i]


@compiled
def inverse_with(root: Floats) -> Floats:
    """The inverse (F, F) of root rootᵀ."""
    size = len(root)
    found = np.empty((size, size))
    unit, column = np.zeros(size), np.empty(size)
    for i in range(size):
        unit[i] = 1.0
        solve_with(root, unit, column)
        found[:, i] = column
        unit[i] = 0.0
    return found


@compiled
def log_determinant(root: Floats) -> float:
    """Of root rootᵀ."""
    total = 0.0
    for i in range(len(root)):
        total += np.log(root[i, i])
    return 2.0 * total
