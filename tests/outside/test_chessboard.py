"""Thirteen chessboard photographs with published camera values (Debian's opencv-doc 4.6.0)."""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np
import pytest

from aspectum.core.check import check
from aspectum.core.findings import CameraReading
from aspectum.core.sightings import Edge, Family, Perspective, Setup
from aspectum.core.tolerance import Verdict
from tests.scenes import Vec

FOLDER = Path(__file__).parent / "chessboard"
PHOTOS = sorted(FOLDER.glob("left*.jpg"))
PUBLISHED_FOCAL_PX = 535.916  # left_intrinsics.yml, camera_matrix
CORNER_SD_PX = 0.3  # the published re-projection error is about 0.2-0.4 px


def board(path: Path) -> tuple[Vec, tuple[float, float]]:
    """The inner corners of the board, (6, 9, 2) px, undistorted as published, and the centre of vision."""
    storage = cv2.FileStorage(str(FOLDER / "left_intrinsics.yml"), cv2.FILE_STORAGE_READ)
    matrix, distortion = storage.getNode("camera_matrix").mat(), storage.getNode("distortion_coefficients").mat()
    image = cv2.imread(str(path), cv2.IMREAD_GRAYSCALE)
    assert image is not None
    seen, corners = cv2.findChessboardCorners(image, (9, 6))
    assert seen
    criteria = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 30, 0.01)
    corners = cv2.cornerSubPix(image, np.asarray(corners, np.float32).reshape(-1, 1, 2), (5, 5), (-1, -1), criteria)
    grid = (
        np.asarray(cv2.undistortPoints(np.asarray(corners).reshape(-1, 1, 2), matrix, distortion, P=matrix)).reshape(
            6, 9, 2
        )
        + 0.5
    )
    return np.asarray(grid, float), (float(matrix[0, 2]) + 0.5, float(matrix[1, 2]) + 0.5)


def sight(path: Path) -> CameraReading:
    """Rows and columns of the board sighted as two square families."""
    grid, centre = board(path)
    rows = [(grid[i, 0], grid[i, -1]) for i in range(6)]
    columns = [(grid[0, j], grid[-1, j]) for j in range(9)]
    if abs(rows[0][1] - rows[0][0])[0] < abs(rows[0][1] - rows[0][0])[1]:
        rows, columns = columns, rows
    edges = [
        Edge(f"{family}{k}", "board", family, (float(p[0]), float(p[1])), (float(q[0]), float(q[1])))
        for family, lines in ((Family.RIGHT, rows), (Family.UPRIGHT, columns))
        for k, (p, q) in enumerate(lines)
    ]
    result = check(
        Setup(640, 480, perspective=Perspective.THREE_POINT, point_sd_px=CORNER_SD_PX, centre_px=centre), edges
    )
    assert not [f for f in result.findings if f.verdict is Verdict.OFF]
    assert result.camera is not None
    return result.camera


@pytest.fixture(scope="module")
def readings() -> list[tuple[float, float]]:
    cameras = [sight(path) for path in PHOTOS]
    return [(c.focal_px, c.focal_sd_px) for c in cameras if c.focal_px is not None and c.focal_sd_px is not None]


def test_every_photograph_gives_back_the_published_focal_length(readings: list[tuple[float, float]]) -> None:
    assert len(readings) == 13
    z = [(focal - PUBLISHED_FOCAL_PX) / sd for focal, sd in readings]
    assert sum(abs(v) <= 1.96 for v in z) >= 12
    assert max(abs(v) for v in z) <= 3


def test_all_together_give_it_within_one_per_cent(readings: list[tuple[float, float]]) -> None:
    weights = np.array([1 / sd**2 for _, sd in readings])
    mean = float(weights @ np.array([focal for focal, _ in readings]) / weights.sum())
    assert mean == pytest.approx(PUBLISHED_FOCAL_PX, rel=0.01)
