"""How a camera stood to a sheet of paper, from the sheet's four corners in the photo, and what that costs.

Written without an imaging library, so that it answers while a corner is dragged.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from aspectum.core.plane.projection import focal_of as full_frame

Floats = NDArray[np.float64]

CORNER_SD_PX = 1.5  # of a corner as it is found or set by hand, in a photo of this size:
CORNER_AT_PX = 2000  # the size of picture in which a corner's error was measured


@dataclass(frozen=True)
class Slant:
    """How the camera stood to the sheet. ``slant_deg``: between the line of sight and the sheet's normal;
    ``tilt_sd_deg``, ``length_sd``: what an error of the corners costs a line across the middle, degrees and share.
    """

    slant_deg: float
    tilt_sd_deg: float
    length_sd: float


def stands_upright(corners: Floats) -> bool:
    """Whether a sheet lies taller than wide in the photo."""
    a, b, c, d = corners
    return math.dist(a, d) + math.dist(b, c) > math.dist(a, b) + math.dist(d, c)


def goes_round(corners: Floats) -> bool:
    """Whether four corners turn one way all round and hold an area."""
    runs = np.roll(corners, -1, axis=0) - corners
    turns = runs[:, 0] * np.roll(runs, -1, axis=0)[:, 1] - runs[:, 1] * np.roll(runs, -1, axis=0)[:, 0]
    return bool((turns > 1.0).all() or (turns < -1.0).all())


def square_on(here: Floats, there: Floats) -> Floats:
    """The homography (3, 3) that takes four places (4, 2) to four others (Hartley & Zisserman, Multiple View Geometry,
    2nd ed., ch. 4).
    """
    rows, right = np.zeros((8, 8)), np.zeros(8)
    for k, ((x, y), (u, v)) in enumerate(zip(here, there, strict=True)):
        rows[2 * k] = [x, y, 1, 0, 0, 0, -u * x, -u * y]
        rows[2 * k + 1] = [0, 0, 0, x, y, 1, -v * x, -v * y]
        right[2 * k : 2 * k + 2] = u, v
    return np.append(np.linalg.solve(rows, right), 1.0).reshape(3, 3)


def through(matrix: Floats, points: Floats) -> Floats:
    """Places (n, 2) through a homography."""
    image = points @ matrix[:, :2].T + matrix[:, 2]
    return np.asarray(image[:, :2] / image[:, 2:], float)


def slant(
    corners: Floats, paper_mm: tuple[float, float], size_px: tuple[int, int], focal_35mm: float | None = None
) -> Slant:
    """How slanted the photo was, and what that costs. Without a known focal length the one at which the sheet's sides
    come out square.
    """
    focal = focal_of(corners, paper_mm, size_px, focal_35mm)
    matrix = plane_matrix(corners, paper_mm, size_px, focal)
    across, down = matrix[:, 0], matrix[:, 1]
    normal = np.cross(across, down)
    cosine = abs(float(normal[2])) / max(float(np.linalg.norm(normal)), 1e-12)
    # the line of sight to the sheet's middle
    sight = matrix @ np.array([paper_mm[0] / 2, paper_mm[1] / 2, 1.0])
    cosine = (
        abs(float(normal @ sight)) / max(float(np.linalg.norm(normal) * np.linalg.norm(sight)), 1e-12)
        if np.isfinite(sight).all()
        else cosine
    )
    return Slant(math.degrees(math.acos(min(cosine, 1.0))), *corner_cost(corners, paper_mm, size_px))


def plane_matrix(corners: Floats, paper_mm: tuple[float, float], size_px: tuple[int, int], focal: float) -> Floats:
    """The map (3, 3) from mm on the sheet to sights, centre of vision at the picture's middle."""
    square = np.array([[0, 0], [paper_mm[0], 0], [paper_mm[0], paper_mm[1]], [0, paper_mm[1]]], float)
    middle = np.array(size_px) / 2
    matrix = square_on(square, corners - middle)
    return np.asarray(np.diag([1 / focal, 1 / focal, 1.0]) @ matrix, float)


def focal_of(
    corners: Floats, paper_mm: tuple[float, float], size_px: tuple[int, int], focal_35mm: float | None
) -> float:
    """Focal length in px: the given one, or that at which the sheet's two directions are square (Zhang, IEEE PAMI 22,
    2000), or a phone's.
    """
    long = max(size_px)
    if focal_35mm is not None:
        return full_frame(focal_35mm, long)
    matrix = plane_matrix(corners, paper_mm, size_px, 1.0)
    a, b = matrix[:, 0], matrix[:, 1]
    square = -(a[0] * b[0] + a[1] * b[1]) / (a[2] * b[2]) if abs(a[2] * b[2]) > 1e-12 else -1.0
    usual = full_frame(PHONE_35MM, long)
    return math.sqrt(square) if (0.5 * usual) ** 2 < square < (4.0 * usual) ** 2 else usual


PHONE_35MM = 26.0  # of most pocket cameras; from memory


def corner_cost(corners: Floats, paper_mm: tuple[float, float], size_px: tuple[int, int]) -> tuple[float, float]:
    """Standard deviations of the tilt (degrees) and of the length (share) of lines through the sheet's middle, along
    and across, as each corner's error of ``CORNER_SD_PX`` moves them.
    """
    sd = CORNER_SD_PX * max(size_px) / CORNER_AT_PX
    wide, high = paper_mm
    square = np.array([[0, 0], [wide, 0], [wide, high], [0, high]], float)
    ends = np.array(
        [[[wide * 0.3, high / 2], [wide * 0.7, high / 2]], [[wide / 2, high * 0.3], [wide / 2, high * 0.7]]]
    )
    seen = through(square_on(square, corners), ends.reshape(-1, 2))
    turn, stretch = np.zeros(2), np.zeros(2)
    for k in range(4):
        for axis in range(2):
            moved = corners.astype(float).copy()
            moved[k, axis] += sd
            flat = through(square_on(moved, square), seen).reshape(2, 2, 2)
            run, due = flat[:, 1] - flat[:, 0], ends[:, 1] - ends[:, 0]
            turn += (np.degrees(np.arctan2(run[:, 1], run[:, 0]) - np.arctan2(due[:, 1], due[:, 0]))) ** 2
            stretch += (np.hypot(*run.T) / np.hypot(*due.T) - 1.0) ** 2
    return float(np.sqrt(turn.max())), float(np.sqrt(stretch.max()))
