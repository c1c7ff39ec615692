"""Proportions, parts and heights against OpenCV, a published formula, and photographs of a board of equal squares."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import cv2
import numpy as np
import pytest

from aspectum.core.check import check
from aspectum.core.form.faces import part_by_corners
from aspectum.core.sightings import (
    Division,
    Edge,
    Face,
    Family,
    Height,
    Kind,
    Measured,
    PartAlong,
    Perspective,
    Point,
    Setup,
)
from tests import worked
from tests.ground_scenes import ground_scene
from tests.outside.test_chessboard import CORNER_SD_PX, PHOTOS, board
from tests.scenes import Vec

ROWS, COLUMNS = 6, 9


def point(at: Vec) -> Point:
    return float(at[0]), float(at[1])


def test_parts_agree_with_the_homography_of_opencv() -> None:
    rng = np.random.default_rng(5)
    for _ in range(50):
        corners = np.array([[200, 700], [600, 640], [600, 300], [200, 220]], float) + rng.uniform(-60, 60, (4, 2))
        at = corners.mean(axis=0) + rng.uniform(-80, 80, 2)
        back = cv2.getPerspectiveTransform(
            corners.astype(np.float32), np.array([[0, 0], [1, 0], [1, 1], [0, 1]], np.float32)
        )
        s, t = np.asarray(cv2.perspectiveTransform(at.reshape(1, 1, 2), back)).reshape(2)
        face = Face("f", "w", (Family.RIGHT, Family.UPRIGHT), tuple(map(point, corners)))  # type: ignore[arg-type]  # four of them
        for along, part in ((PartAlong.ACROSS, s), (PartAlong.UP, t)):
            assert part_by_corners(face, Division("d", "f", along, point(at)), 1.0).part == pytest.approx(
                part, abs=1e-4
            )


def test_a_pose_solved_by_opencv_puts_the_solved_corners_back_where_they_were_sighted() -> None:
    """solvePnP knows the lens and is told our proportions: were they wrong, no pose would fit all seven corners."""
    rng, tried = np.random.default_rng(8), 0
    while tried < 12:
        scene = ground_scene(rng, (2.0, 12.0))
        edges, _, _, _ = scene.sighted(rng, 0.5)
        for form in check(replace(scene.setup, point_sd_px=0.5), edges).forms:
            box = scene.boxes[int(form.form[1:])]
            right, left = form.size[Family.RIGHT], form.size[Family.LEFT]
            if (
                form.unit is not Family.UPRIGHT
                or right is None
                or left is None
                or max(form.size_sd[f] or 0 for f in (Family.RIGHT, Family.LEFT)) > 0.02
            ):
                continue
            solid = np.array([[u, v, w] for u in (0, 1) for v in (0, 1) for w in (0, 1)], float)
            seen = scene.camera.project(np.array([box.at(*row) for row in solid]))
            lens = np.array([[scene.camera.focal_px, 0, 640], [0, scene.camera.focal_px, 480], [0, 0, 1.0]])
            model = solid * [right, left, 1.0]
            found, turn, move = cv2.solvePnP(model, seen, lens, None)
            again = np.asarray(cv2.projectPoints(model, turn, move, lens, None)[0]).reshape(-1, 2)
            assert found and np.hypot(*(again - seen).T).max() < 3.0
            tried += 1


def test_heights_agree_with_single_view_metrology() -> None:
    """Criminisi, Reid & Zisserman, IJCV 40(2), 2000, equation 9: a height from the vanishing line of the ground and the
    vertical vanishing point, with the scale from a reference height, both taken from the scene's camera here.
    """
    rng = np.random.default_rng(21)
    for _ in range(12):
        scene = ground_scene(rng, (4.0, 20.0))
        edges, _, _, heights = scene.sighted(rng, 1e-5, told=True)
        if len(heights) < 2:
            continue
        matrix = scene.camera.matrix()
        line = np.linalg.inv(matrix).T @ np.array([0.0, 0.0, 1.0])
        line /= np.hypot(line[0], line[1])
        zenith = matrix @ np.array([0.0, 0.0, 1.0])

        def ratio(h: Height, line: Vec = line, zenith: Vec = zenith) -> float:
            foot, top = np.append(h.foot, 1.0), np.append(h.top, 1.0)
            return float(np.linalg.norm(np.cross(foot, top)) / ((line @ foot) * np.linalg.norm(np.cross(zenith, top))))

        reference = scene.posts[0][1, 2] - scene.posts[0][0, 2]
        known = [replace(heights[0], known_m=float(reference)), *heights[1:]]
        found = check(
            replace(scene.setup, eye_height_m=None, point_sd_px=0.3), edges, measured=Measured(heights=known)
        ).findings
        told = [f.sighted for f in found if f.kind is Kind.HEIGHT]
        for h, metres in list(zip(heights, told, strict=True))[1:]:
            assert metres == pytest.approx(reference * ratio(h) / ratio(heights[0]), rel=2e-3)


@pytest.mark.parametrize("path", PHOTOS, ids=lambda path: path.stem)
def test_a_board_of_equal_squares_is_divided_into_them(path: Path) -> None:
    """Every inner corner stands at a known part of the board, and the board is eight squares by five."""
    grid, centre = board(path)
    corners = (point(grid[-1, 0]), point(grid[-1, -1]), point(grid[0, -1]), point(grid[0, 0]))
    face = Face("board", "board", (Family.RIGHT, Family.UPRIGHT), corners)
    divisions, true = [], {}
    for i in range(1, ROWS - 1):
        for j in range(1, COLUMNS - 1):
            for along, part in ((PartAlong.ACROSS, j / (COLUMNS - 1)), (PartAlong.UP, 1 - i / (ROWS - 1))):
                id = f"{along}{i}/{j}"
                divisions.append(Division(id, "board", along, point(grid[i, j])))
                true[id] = part
    rows = [Edge(f"r{i}", "board", Family.RIGHT, point(grid[i, 0]), point(grid[i, -1])) for i in range(ROWS)]
    columns = [Edge(f"c{j}", "board", Family.UPRIGHT, point(grid[0, j]), point(grid[-1, j])) for j in range(COLUMNS)]
    setup = Setup(640, 480, perspective=Perspective.THREE_POINT, point_sd_px=CORNER_SD_PX, centre_px=centre)
    result = check(setup, rows + columns, measured=Measured(faces=[face], divisions=divisions))
    found = {f.sighting: f for f in result.findings if f.kind is Kind.DIVISION}
    errors = np.array([(found[k].implied or 0) - part for k, part in true.items()])
    stated = np.array([found[k].implied_sd or 0 for k in true])
    assert np.abs(errors).max() < 0.006 and np.mean(np.abs(errors) < 1.96 * stated) > 0.8
    size, sd = result.forms[0].size[Family.RIGHT], result.forms[0].size_sd[Family.RIGHT]
    if size is not None and sd is not None:
        assert abs(size - (COLUMNS - 1) / (ROWS - 1)) < 3 * sd + 0.02


def test_the_worked_picture_is_what_its_corners_say() -> None:
    """The middle of a wall through OpenCV's homography: x = 257.1 on the left wall of the handbook's picture."""
    corners = np.array([[150, 625], [400, 700], [400, 200], [150, 250]], np.float32)
    there = cv2.getPerspectiveTransform(np.array([[0, 0], [1, 0], [1, 1], [0, 1]], np.float32), corners)
    x, _ = np.asarray(cv2.perspectiveTransform(np.array([[[0.5, 0.0]]]), there)).reshape(2)
    assert x == pytest.approx(257.1, abs=0.05)
    face = Face("left", "box", (Family.LEFT, Family.UPRIGHT), tuple(map(point, corners)))  # type: ignore[arg-type]  # four of them
    at = Division("d", "left", PartAlong.ACROSS, (float(x), 657.0))
    told = check(worked.SETUP, worked.EDGES, measured=Measured(faces=[face], divisions=[at])).findings[-1]
    assert told.implied == pytest.approx(0.5, abs=1e-3)
