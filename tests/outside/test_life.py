"""Readings from life against published numbers: the chessboard photographs read as if at the easel, and trigonometric
tables.
"""

from __future__ import annotations

import math
from pathlib import Path

import cv2
import numpy as np
import pytest

from aspectum.core.life.near_corner import near_corner
from aspectum.core.life.readings import TiltReading
from aspectum.core.life.thumb import ARM_MM, distance_m, height_m, lens_of, subtended_deg, units
from aspectum.core.sightings import Side
from tests.outside.test_chessboard import CORNER_SD_PX, FOLDER, PHOTOS, board
from tests.scenes import Vec


def published_points(path: Path) -> tuple[Vec, list[Vec]]:
    """The board's inner corners (6, 9, 2) px, and where its two directions vanish by the published camera and the pose
    that goes with it.
    """
    grid, _ = board(path)
    storage = cv2.FileStorage(str(FOLDER / "left_intrinsics.yml"), cv2.FILE_STORAGE_READ)
    matrix = storage.getNode("camera_matrix").mat()
    object_points = np.array([[j, i, 0.0] for i in range(6) for j in range(9)])
    seen, turn, _ = cv2.solvePnP(object_points, grid.reshape(-1, 2) - 0.5, matrix, None)
    assert seen
    axes = matrix @ np.asarray(cv2.Rodrigues(turn)[0])
    return grid, [axes[:2, k] / axes[2, k] + 0.5 for k in (0, 1)]


def as_if_from_life(lines: list[tuple[Vec, Vec]], upright: tuple[Vec, Vec]) -> tuple[list[TiltReading], Vec, Vec]:
    """Tilts of lines that start on ``upright``, with the sheet turned so that it stands plumb; and its top and its
    length down, px.
    """
    top, foot = upright
    down = foot - top
    length = float(np.hypot(*down))
    across = np.array([down[1], -down[0]]) / length  # to the right where down is down
    readings = []
    for k, (p, q) in enumerate(lines):
        x, y = float((q - p) @ across), float((q - p) @ down) / length
        share = float((p - top) @ down) / length**2
        side = Side.RIGHT if x > 0 else Side.LEFT
        sd = math.degrees(math.sqrt(2.0) * CORNER_SD_PX / float(np.hypot(*(q - p))))
        readings.append(TiltReading(f"l{k}", side, share, math.degrees(math.atan(-y / x)), sd))
    return readings, across * length, down


@pytest.mark.parametrize("path", PHOTOS, ids=lambda p: p.stem)
def test_rows_and_columns_of_the_chessboard_read_as_tilts_give_back_their_vanishing_points(path: Path) -> None:
    """Source: OpenCV's chessboard photographs with their published camera values (Debian's opencv-doc 4.6.0)."""
    grid, points = published_points(path)
    rows = [(grid[i, 0], grid[i, -1]) for i in range(6)]
    columns = [(grid[0, j], grid[-1, j]) for j in range(9)]
    for lines, upright, point in (
        (rows, (grid[0, 0], grid[-1, 0]), points[0]),
        (columns, (grid[0, 0], grid[0, -1]), points[1]),
    ):
        readings, across, down = as_if_from_life(lines, upright)
        card = near_corner(readings)
        side = card.of(readings[0].side or Side.LEFT)
        if side.distance is None:
            # the lines run apart on this side: the point lies the other way, or all but at infinity
            turned, across, down = as_if_from_life([(q, p) for p, q in lines], (lines[0][1], lines[-1][1]))
            card = near_corner(turned)
            side = card.of(turned[0].side or Side.LEFT)
            upright = (lines[0][1], lines[-1][1])
        assert (
            side.distance is not None
            and side.distance_sd is not None
            and card.eye_level is not None
            and card.eye_level_sd is not None
        )
        off = point - upright[0]
        unit = float(down @ down)
        true_distance, true_level = abs(float(off @ across)) / unit, float(off @ down) / unit
        # in closing, where the error is even
        assert abs(1 / side.distance - 1 / true_distance) * side.distance**2 < 4 * side.distance_sd
        assert abs(card.eye_level - true_level) < 4 * card.eye_level_sd + 0.02 * true_distance


@pytest.mark.parametrize(("mark_mm", "degrees"), [(105.0, 10.0), (211.6, 20.0), (10.5, 1.0), (692.8, 60.0)])
def test_what_a_mark_takes_up_at_the_eye_is_twice_the_angle_of_its_half(mark_mm: float, degrees: float) -> None:
    """Five-figure tables of tangents: tan 5° = 0.08749, tan 0.5° = 0.00873, tan 10° = 0.17633, tan 30° = 0.57735, times
    2·600 mm.
    """
    assert subtended_deg(mark_mm).value == pytest.approx(degrees, abs=0.05)


def test_the_arm_errs_by_a_thirtieth_on_every_length() -> None:
    """Handbook section 4: 60 ± 2 cm is ± 3.3 %."""
    told = units(90.0, 180.0)
    assert (told.value, told.sd / told.value) == (0.5, pytest.approx(0.0333, abs=1e-4))
    away = distance_m(3.2, 231.0)
    assert away.value == pytest.approx(3.2 * ARM_MM / 231.0) and away.sd / away.value == pytest.approx(0.0333, abs=1e-4)
    assert height_m(away.value, 231.0).value == pytest.approx(3.2)
    assert 1 / lens_of(200.0).opening == pytest.approx(3.0)
