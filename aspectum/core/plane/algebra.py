"""Inverses of small matrices that sightings may have made singular.

Points laid in one place, in one line or a million pixels out leave matrices that the textbook
inverse refuses. Each function here answers any finite matrix: what cannot be told apart counts as
unknown, not as an error.
"""

from __future__ import annotations

import numpy as np

from aspectum.core.plane.factor import cholesky, inverse_with
from aspectum.core.plane.lines import Floats

WELL_POSED = 1e-5  # least diagonal of a unit matrix's root for which the plain inverse keeps its places
LARGE = 60  # unknowns from which a library's inverse is the faster one
SMALLEST = 1e-9  # a triangular root's diagonal is held off zero by so much


def inverse(matrix: Floats) -> Floats:
    """Inverse (F, F), or the pseudo-inverse, of a symmetric matrix without negative directions
    whose rows may differ by many orders of size.
    """
    size = 1.0 / np.sqrt(np.maximum(np.diag(matrix), 1e-300))
    scaled = matrix * size[:, None] * size[None, :]
    if len(scaled) > LARGE:
        return inverse_of_many(scaled) * size[:, None] * size[None, :]
    root = np.zeros(scaled.shape)
    if cholesky(scaled, root) and float(np.diag(root).min(initial=1.0)) > WELL_POSED:
        return np.asarray(inverse_with(root) * size[:, None] * size[None, :], float)
    return np.asarray(np.linalg.pinv(scaled, rcond=1e-14, hermitian=True) * size[:, None] * size[None, :], float)


def inverse_of_many(scaled: Floats) -> Floats:
    """As ``inverse``, of a large matrix whose diagonal is one: a library's blocks are many times faster than plain
    loops.
    """
    try:
        if float(np.diag(np.linalg.cholesky(scaled)).min()) > WELL_POSED:
            return np.asarray(np.linalg.inv(scaled), float)
    except np.linalg.LinAlgError:
        pass
    return np.asarray(np.linalg.pinv(scaled, rcond=1e-14, hermitian=True), float)


def inverse_pairs(matrices: Floats) -> Floats:
    """Pseudo-inverses of symmetric 2x2 matrices (R, 2, 2), in closed form; zero where they are no numbers."""
    a, b, d = matrices[:, 0, 0], matrices[:, 0, 1], matrices[:, 1, 1]
    size = np.maximum(np.maximum(np.abs(a), np.abs(d)), np.maximum(np.abs(b), 1e-300))
    with np.errstate(invalid="ignore"):
        a, b, d = a / size, b / size, d / size
        det, trace = a * d - b * b, a + d
        # of rank one or less, the one direction that is known: the matrix over the square of its trace
        flat = np.abs(det) < 1e-14
        over = np.where(flat, np.where(np.abs(trace) < 1e-14, np.inf, trace * trace), det) * size
        found = np.where(flat, [a, b, b, d], [d, -b, -b, a]) / over
    return np.where(np.isfinite(found), found, 0.0).T.reshape(-1, 2, 2)


def least_of_pairs(matrices: Floats) -> Floats:
    """The smaller eigenvalue (R,) of symmetric 2x2 matrices (R, 2, 2)."""
    a, b, d = matrices[:, 0, 0], matrices[:, 0, 1], matrices[:, 1, 1]
    return np.asarray((a + d) / 2 - np.hypot((a - d) / 2, b), float)


def inverse_roots(roots: Floats) -> Floats:
    """Inverses of upper triangular roots (R, k, k) whose diagonal may touch zero."""
    diagonal = np.einsum("rii->ri", roots)
    held = np.where(np.abs(diagonal) < SMALLEST, np.where(diagonal < 0, -SMALLEST, SMALLEST), diagonal)
    return np.asarray(np.linalg.inv(roots + (held - diagonal)[:, :, None] * np.eye(roots.shape[1])), float)
