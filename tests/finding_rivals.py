"""What general detectors make of a picture, for comparison: OpenCV's lines and ellipses with three vanishing points by
RANSAC, and a published exhaustive two-line detector (Lu, Yao, Wang & Jiang, WACV 2017) in the package that carries it.
"""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from aspectum.core.sightings import Family, Plane
from aspectum.pictures.finding import FoundEdge, FoundInPicture, FoundRim

Floats = NDArray[np.float64]

TWO_LINE = Path(__file__).parents[1] / ".setup/two-line"
USUAL_35MM = 35.0
SHORTEST, INLIER_DEG, ROUNDS = 0.03, 2.0, 1500
MOST_EDGES = 80
MOST_LINES = 400  # that the two-line detector pairs with one another


def segments(picture: NDArray[np.uint8]) -> Floats:
    """OpenCV's segments (n, 4), the longest first."""
    grey = cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY)
    found = np.asarray(cv2.createLineSegmentDetector(0).detect(grey)[0], float).reshape(-1, 4) + 0.5
    length = np.hypot(found[:, 2] - found[:, 0], found[:, 3] - found[:, 1])
    return found[np.argsort(-length)][: int((length > SHORTEST * np.hypot(*grey.shape)).sum())]


def by_ransac(picture: NDArray[np.uint8], focal_35mm: float | None, rng: np.random.Generator) -> FoundInPicture:
    """Three vanishing points, one after another, each the meeting of two lines that most of the length left runs to."""
    lines = segments(picture)
    points = []
    left = np.ones(len(lines), bool)
    for _ in range(3):
        best, most = None, 0.0
        index = np.flatnonzero(left)
        if len(index) < 4:
            break
        for _ in range(ROUNDS // 3):
            i, k = rng.choice(index, 2, replace=False)
            point = np.cross(
                np.cross([*lines[i, :2], 1.0], [*lines[i, 2:], 1.0]),
                np.cross([*lines[k, :2], 1.0], [*lines[k, 2:], 1.0]),
            )
            on = inliers(lines, point) & left
            held = float(np.hypot(lines[on, 2] - lines[on, 0], lines[on, 3] - lines[on, 1]).sum())
            if held > most:
                best, most = point, held
        if best is None:
            break
        points.append(best)
        left &= ~inliers(lines, best)
    return told(picture, focal_35mm, lines, points)


def by_two_lines(picture: NDArray[np.uint8], focal_35mm: float | None) -> FoundInPicture:
    """The package's own three points, on OpenCV's segments, which it reads in a shape that OpenCV no longer has."""
    sys.path.insert(0, str(TWO_LINE))
    from lu_vp_detect import VPDetection  # type: ignore[import-not-found]

    high, wide = picture.shape[:2]
    lines = segments(picture)

    class Detector(VPDetection):  # type: ignore[misc]
        def _VPDetection__detect_lines(self, _: Any) -> Any:  # noqa: N802
            self._VPDetection__lines = lines[:MOST_LINES].astype(np.float32)
            return self._VPDetection__lines

    focal = max(wide, high) * (focal_35mm or USUAL_35MM) / 36.0
    detector = Detector(length_thresh=20, principal_point=(wide / 2, high / 2), focal_length=focal, seed=1)
    detector.find_vps(picture)
    return told(picture, focal_35mm, lines, [np.array([x, y, 1.0]) for x, y in detector.vps_2D])


def inliers(lines: Floats, point: Floats) -> NDArray[np.bool_]:
    middle = (lines[:, :2] + lines[:, 2:]) / 2
    way = lines[:, 2:] - lines[:, :2]
    towards = point[:2] - middle * point[2]
    cross = np.abs(way[:, 0] * towards[:, 1] - way[:, 1] * towards[:, 0])
    return np.asarray(cross < np.sin(np.radians(INLIER_DEG)) * np.hypot(*way.T) * np.hypot(*towards.T))


def told(picture: NDArray[np.uint8], focal_35mm: float | None, lines: Floats, points: list[Floats]) -> FoundInPicture:
    """As proposals: the most plumb point is the uprights', the others lie on eye level; the longest lines, and OpenCV's
    ellipses.
    """
    high, wide = picture.shape[:2]
    centre = np.array([wide, high]) / 2
    scale = float(np.hypot(wide, high)) / 2
    level = sorted(points, key=lambda p: steepness(p, centre))[:2]
    eye_level = None
    if len(level) == 2:
        line = np.cross(level[0], level[1])
        if abs(line[1]) > 1e-12:
            heights = [
                float(np.clip(-(line[0] * x + line[2]) / line[1], -9 * high, 9 * high)) for x in (0.0, float(wide))
            ]
            eye_level = (heights[0], heights[1], 0.02 * high)
    edges = []
    for line in lines:
        for k, point in enumerate(points):
            if inliers(line[None], point)[0]:
                edges.append(FoundEdge((line[0], line[1]), (line[2], line[3]), k, Family.UPRIGHT, 0.5))
                break
    units = [np.array([(p[0] - centre[0] * p[2]) / scale, (p[1] - centre[1] * p[2]) / scale, p[2]]) for p in points]
    return FoundInPicture(
        wide, high, focal_35mm, eye_level, None, [], edges[:MOST_EDGES], ellipses(picture), [tuple(u) for u in units]
    )


def steepness(point: Floats, centre: Floats) -> float:
    away = point[:2] - centre * point[2]
    return float(abs(away[1]) / max(np.hypot(*away), 1e-12) * (np.hypot(*away) / max(abs(point[2]), 1e-12) > centre[1]))


def ellipses(picture: NDArray[np.uint8]) -> list[FoundRim]:
    """Closed and open contours of OpenCV's edges that an ellipse fits."""
    edges = cv2.Canny(cv2.GaussianBlur(cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY), (0, 0), 1.2), 40, 100)
    found = []
    for contour in cv2.findContours(edges, cv2.RETR_LIST, cv2.CHAIN_APPROX_NONE)[0]:
        points = contour.reshape(-1, 2).astype(np.float32) + 0.5
        if len(points) < 40:
            continue
        (x, y), (wide, high), angle = cv2.fitEllipse(points)
        if min(wide, high) < 4 or max(wide, high) < 25 or max(wide, high) > 0.8 * picture.shape[1]:
            continue
        c, s = np.cos(np.radians(angle)), np.sin(np.radians(angle))
        u, v = (points[:, 0] - x) * c + (points[:, 1] - y) * s, -(points[:, 0] - x) * s + (points[:, 1] - y) * c
        off = np.abs(np.hypot(u / (wide / 2), v / (high / 2)) - 1) * min(wide, high) / 2
        turn = np.ptp(np.unwrap(np.arctan2(v / high, u / wide)))
        if np.quantile(off, 0.9) < 1.5 and turn > np.pi:
            few = points[np.linspace(0, len(points) - 1, 12).astype(int)]
            found.append(FoundRim(tuple((float(a), float(b)) for a, b in few), 0, Plane.LEVEL, 0.5))
    return found[:MOST_EDGES]
