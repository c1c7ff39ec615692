"""Checks of the camera model against OpenCV and published formulas."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from aspectum.core.view.camera import vanishing
from aspectum.core.view.starts import square_focal
from tests.core.test_worked_picture import view_of
from tests.scenes import Box, Pinhole, random_scene


def opencv_camera(camera: Pinhole) -> tuple[np.ndarray, np.ndarray]:
    """The same camera as OpenCV wants it: rotation vector and camera matrix."""
    k = np.array([[camera.focal_px, 0, camera.width_px / 2], [0, camera.focal_px, camera.height_px / 2], [0, 0, 1]])
    return cv2.Rodrigues(np.linalg.inv(k) @ camera.matrix())[0], k


@pytest.mark.parametrize("seed", range(6))
def test_simulated_scenes_project_as_opencv_projects(seed: int) -> None:
    """Source: OpenCV 5, ``projectPoints``."""
    scene = random_scene(np.random.default_rng(seed), (1, 20))
    corners = np.array([b.at(u, v, w) for b in scene.boxes for u in (0, 1) for v in (0, 1) for w in (0, 1)])
    rotation, k = opencv_camera(scene.camera)
    image, _ = cv2.projectPoints(corners, rotation, np.zeros(3), k, np.zeros(5))
    assert np.asarray(image).reshape(-1, 2) == pytest.approx(scene.camera.project(corners), abs=1e-6)


@pytest.mark.parametrize(("pitch", "bearing"), [(0, 30), (12, 25), (-18, 62)])
def test_vanishing_points_are_images_of_points_ever_farther_away(pitch: float, bearing: float) -> None:
    """Source: OpenCV 5, ``projectPoints`` of a point 10⁷ units out along each direction."""
    camera = Pinhole(1000, pitch, 0, 1000, 1000)
    params, slots, scale = view_of(1000, pitch, bearing)
    rotation, k = opencv_camera(camera)
    axes = Box((0, 0, 0), bearing, (1, 1, 1)).axes()
    for row, axis in ((0, axes[0]), (1, axes[1])):
        forward = axis if (camera.matrix() @ axis)[2] > 0 else -axis
        image, _ = cv2.projectPoints(
            (forward * 1e7 + np.array([0.3, 2.0, -0.7]))[None], rotation, np.zeros(3), k, np.zeros(5)
        )
        v = vanishing(params, slots)[row]
        assert np.asarray(image).reshape(2) == pytest.approx(v[:2] / v[2] * scale + 500, rel=1e-3, abs=0.05)


def test_focal_length_from_two_square_vanishing_points() -> None:
    """Hartley & Zisserman, Multiple View Geometry, 2nd ed., ch. 8: f² = −(v1 − p)·(v2 − p);
    the handbook's worked picture gives 1100·900, f = 994.99.
    """
    focal = square_focal(np.array([-1100.0, 0, 1]) / [300, 1, 1], np.array([900.0, 0, 1]) / [300, 1, 1])
    assert focal is not None and focal * 300 == pytest.approx(994.99, abs=0.01)


@pytest.mark.parametrize(("pitch", "bearing"), [(15, 35), (-20, 50), (8, 20)])
def test_centre_of_vision_is_the_orthocentre_of_three_square_vanishing_points(pitch: float, bearing: float) -> None:
    """Caprile & Torre, Using vanishing points for camera calibration, IJCV 4 (1990)."""
    params, slots, scale = view_of(1000, pitch, bearing)
    right, left, upright = (v[:2] / v[2] * scale for v in vanishing(params, slots)[:3])
    a = np.array([left - right, upright - left])
    b = np.array([(left - right) @ upright, (upright - left) @ right])
    assert np.linalg.solve(a, b) == pytest.approx([0, 0], abs=1e-6)
