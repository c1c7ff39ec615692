"""Inverses of matrices that sightings made singular, against numpy's own."""

from __future__ import annotations

import numpy as np
import pytest

from aspectum.core.plane.algebra import inverse, inverse_pairs, inverse_roots, least_of_pairs

RNG = np.random.default_rng(6)
HALVES = RNG.normal(size=(40, 2, 2))
WHOLE = HALVES @ HALVES.transpose(0, 2, 1)
FLAT = np.einsum("ri,rj->rij", HALVES[:, 0], HALVES[:, 0])  # one direction is known, the other is not


@pytest.mark.parametrize("scale", [1e-12, 1.0, 1e18])
@pytest.mark.parametrize("matrices", [WHOLE, FLAT])
def test_pairs_are_inverted_as_far_as_they_can_be(matrices: np.ndarray, scale: float) -> None:
    assert inverse_pairs(matrices * scale) * scale == pytest.approx(
        np.linalg.pinv(matrices, rcond=1e-9, hermitian=True), rel=1e-5, abs=1e-6
    )


def test_pairs_that_say_nothing_or_are_no_numbers_count_as_unknown() -> None:
    nothing = np.array([np.zeros((2, 2)), np.full((2, 2), np.nan), np.full((2, 2), np.inf)])
    assert np.array_equal(inverse_pairs(nothing), np.zeros((3, 2, 2)))


def test_the_smaller_eigenvalue_of_pairs() -> None:
    assert least_of_pairs(WHOLE) == pytest.approx(np.linalg.eigvalsh(WHOLE)[:, 0], abs=1e-12)


def test_triangular_roots_are_held_off_zero() -> None:
    roots = np.triu(RNG.normal(size=(20, 3, 3)))
    assert inverse_roots(roots) == pytest.approx(np.linalg.inv(roots))
    roots[:, 1, 1] = 0.0
    assert np.all(np.isfinite(inverse_roots(roots)))


@pytest.mark.parametrize("rank", [6, 4])
def test_an_inverse_keeps_its_places_over_many_orders_of_size(rank: int) -> None:
    half = RNG.normal(size=(6, rank)) * np.logspace(-6, 6, 6)[:, None]
    matrix = half @ half.T
    assert matrix @ inverse(matrix) @ matrix == pytest.approx(matrix, rel=1e-4)
