"""The level rail: true rims at every height."""

from __future__ import annotations

import itertools

import cv2
import numpy as np
import pytest

from aspectum.core.aids.rail import level_rail, rim_degree_deg
from tests.scenes import Pinhole


@pytest.mark.parametrize(("pitch", "roll"), [(0, 0), (8, 0), (-14, 0.5), (-25, -1)])
@pytest.mark.parametrize("point", [(640, 700), (400, 820), (900, 640), (640, 930)])
def test_degree_is_that_of_a_small_projected_circle(pitch: float, roll: float, point: tuple[float, float]) -> None:
    """Source: 360 points of the circle projected, an ellipse through them by OpenCV's ``fitEllipseDirect``."""
    camera = Pinhole(1000, pitch, roll)
    ray = np.linalg.inv(camera.matrix()) @ np.array([*point, 1.0])
    if abs(ray[2]) < 0.08:
        pytest.skip("too near eye level to draw a circle there")
    centre = ray / abs(ray[2])
    turn = np.linspace(0, 2 * np.pi, 360, endpoint=False)
    circle = centre + 0.01 * np.stack([np.cos(turn), np.sin(turn), np.zeros(360)], axis=1)
    (_, axes, _) = cv2.fitEllipseDirect((camera.project(circle) * 8).astype(np.float32))
    degree = np.degrees(np.arcsin(min(axes) / max(axes)))
    assert rim_degree_deg(*point, 1000, pitch, roll, (640, 480)) == pytest.approx(degree, abs=0.15)


def test_rims_open_evenly_above_and_below_eye_level() -> None:
    marks = level_rail(480, 200, 960, 640, (1000, 0, 0), (640, 480))
    degrees = {m.units: m.degree_deg for m in marks}
    assert degrees[0] == pytest.approx(0, abs=1e-6)
    assert degrees[0.5] == pytest.approx(degrees[-0.5], abs=1e-9)
    below = [m.degree_deg for m in marks if m.units <= 0]
    assert below == sorted(below, key=lambda d: d or 0)


@pytest.mark.parametrize("unit", [12.0, 90.0, 300.0, 1500.0])
def test_marks_are_neither_crowded_nor_missing(unit: float) -> None:
    marks = level_rail(400, unit, 960, 640, None, (640, 480))
    assert 6 <= len(marks) <= 20
    assert all(0 <= m.y_px <= 960 and m.degree_deg is None for m in marks)
    assert any(m.units == 0 for m in marks)
    steps = {round(a.units - b.units, 6) for a, b in itertools.pairwise(marks)}
    assert len(steps) == 1


def test_eye_level_off_the_sheet_still_gives_marks_on_it() -> None:
    marks = level_rail(-200, 300, 960, 640, (1000, 0, 0), (640, 480))
    assert marks and all(m.units < 0 for m in marks)
