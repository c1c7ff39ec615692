"""Finding on sample photographs of general libraries: scikit-image's cat, grass, gravel and coins show no forms;
OpenCV's buildings do.
"""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
import skimage.data
from numpy.typing import NDArray
from PIL import Image

from aspectum.core.sightings import Family
from aspectum.formats.sheet import read_sheet
from aspectum.pictures.finding import find_in
from aspectum.service.sheets.checking import check_sheet
from tests.samples import sample

SAMPLES = Path(__file__).parent / "samples"


def in_colour(picture: NDArray[np.uint8]) -> NDArray[np.uint8]:
    return np.ascontiguousarray(picture[..., :3] if picture.ndim == 3 else np.repeat(picture[..., None], 3, axis=2))


@pytest.mark.parametrize("name", ["chelsea", "grass", "gravel", "coins"][:: sample(1, 2)])
def test_a_cat_and_a_lawn_show_no_forms(name: str) -> None:
    found = find_in(in_colour(getattr(skimage.data, name)()), None)
    assert found.edges == [] and found.rims == [] and found.eye_level is None


@pytest.mark.parametrize("name", ["building", "home"])
def test_a_buildings_eye_level_and_vanishing_point_are_those_of_a_sheet_laid_by_hand(name: str) -> None:
    """OpenCV's own sample photographs, nothing known of their lenses: the two agree within what each says of itself.
    ``home`` looks up 35 degrees.
    """
    by_hand = read_sheet((SAMPLES / f"{name}.sighting.json").read_bytes())
    report = check_sheet(by_hand)
    found = find_in(np.asarray(Image.open(SAMPLES / f"{name}.jpg").convert("RGB")), None)
    assert (
        found.eye_level is not None and report.eye_level.middle_y_px is not None and report.eye_level.sd_px is not None
    )
    left, right, sd = found.eye_level
    assert abs((left + right) / 2 - report.eye_level.middle_y_px) < 2 * np.hypot(sd, report.eye_level.sd_px)
    assert report.camera is not None and report.camera.pitch_deg is not None and found.focal_px is not None
    pitch = np.degrees(np.arctan2((left + right - found.height_px) / 2, found.focal_px[0]))
    assert pitch == pytest.approx(report.camera.pitch_deg, abs=4.0)
    # the family that both name left meets at one place
    (theirs,) = [v for v in report.vanishing_points if v.family is Family.LEFT]
    assert theirs.x_px is not None and theirs.sd_px is not None
    half = float(np.hypot(found.width_px, found.height_px)) / 2
    meets = [x / w * half + found.width_px / 2 for x, _, w in found.points if abs(w) > 1e-9]
    assert min(abs(x - theirs.x_px) for x in meets) < 3 * theirs.sd_px
