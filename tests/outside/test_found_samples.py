"""Finding on sample photographs that ship with general libraries: scikit-image's cup, cat, grass and gravel, OpenCV's chessboards."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
import skimage.data
from numpy.typing import NDArray

from aspectum.pictures.finding import FoundInPicture, find_in
from tests.outside.test_chessboard import PHOTOS, board


def in_colour(picture: NDArray[np.uint8]) -> NDArray[np.uint8]:
    return np.ascontiguousarray(picture[..., :3] if picture.ndim == 3 else np.repeat(picture[..., None], 3, axis=2))


def found_in(name: str) -> FoundInPicture:
    return find_in(in_colour(getattr(skimage.data, name)()), None)


@pytest.mark.parametrize("name", ["chelsea", "grass", "gravel"])
def test_a_cat_and_a_lawn_show_no_forms(name: str) -> None:
    found = found_in(name)
    assert found.edges == [] and found.rims == [] and found.eye_level is None


def test_both_families_of_a_chessboard_are_among_the_proposed() -> None:
    """Rows and columns as OpenCV finds the board's inner corners: some proposed edge runs along nine in ten of them."""
    shares = []
    for path in PHOTOS[:4]:
        picture = cv2.cvtColor(np.asarray(cv2.imread(str(path))), cv2.COLOR_BGR2RGB)
        found = find_in(np.asarray(picture, np.uint8), None)
        grid, _ = board(path)
        wanted = [(grid[i, 0], grid[i, -1]) for i in range(6)] + [(grid[0, j], grid[-1, j]) for j in range(9)]
        shares.append(np.mean([any(runs_along(np.array(e.p), np.array(e.q), a, b) for e in found.edges) for a, b in wanted]))
    assert np.mean(shares) > 0.5


def runs_along(p: NDArray[np.float64], q: NDArray[np.float64], a: NDArray[np.float64], b: NDArray[np.float64]) -> bool:
    """Whether a segment lies on the line through two places: within 4 px, as the lens bends it, and 3°."""
    way = (b - a) / np.hypot(*(b - a))
    off = [abs(float((e - a) @ np.array([-way[1], way[0]]))) for e in (p, q)]
    return max(off) < 4.0 and abs(float((q - p) @ way)) > np.cos(np.radians(3.0)) * float(np.hypot(*(q - p)))
