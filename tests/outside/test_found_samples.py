"""Finding on sample photographs that ship with a general library: scikit-image's cat, grass, gravel and coins show no forms."""

from __future__ import annotations

import numpy as np
import pytest
import skimage.data
from numpy.typing import NDArray

from aspectum.pictures.finding import find_in


def in_colour(picture: NDArray[np.uint8]) -> NDArray[np.uint8]:
    return np.ascontiguousarray(picture[..., :3] if picture.ndim == 3 else np.repeat(picture[..., None], 3, axis=2))


@pytest.mark.parametrize("name", ["chelsea", "grass", "gravel", "coins"])
def test_a_cat_and_a_lawn_show_no_forms(name: str) -> None:
    found = find_in(in_colour(getattr(skimage.data, name)()), None)
    assert found.edges == [] and found.rims == [] and found.eye_level is None
