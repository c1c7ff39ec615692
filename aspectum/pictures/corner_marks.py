"""The four corner marks of a worksheet: drawn, and found again in a photo, with the number that they carry.

Each is a square marker of the 5 × 5 dictionary (Garrido-Jurado et al., Pattern Recognition 47, 2014, as in OpenCV). A
marker's id says which corner it stands in and carries one digit to the base 241; three digits make the number and the
fourth proves it, so that a number is known by all four marks, or by any three. Base 241 is a prime under 250, a quarter
of the dictionary, so that one missing digit can always be worked out.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

Pixels = NDArray[np.uint8]
Floats = NDArray[np.float64]
Place = tuple[float, float]

BASE = 241  # prime, so that a digit read wrong always shows by the fourth, and a missing one is solved for
CODES = BASE**3  # numbers from 1 to one less
WEIGHTS = (1, 2, 3)  # of the three digits in the fourth
MODULES = 7  # along a marker's side: five of pattern, and a black border
MARK_SHARE = 10.0 / 297.0  # of the sheet's longer side
INSET_SHARE = 8.0 / 297.0  # of a mark's outer corner from the sheet's edges: printers leave some millimetres white
OFF_SHARE = 0.004  # of the sheet's longer side: how far a mark may lie from where its fellows say, paper curls
LEAST_MARKS = 3  # three digits make the number; the fourth checks it


@dataclass(frozen=True)
class FoundMarks:
    """``code``: the number; ``corners`` (n, 4, 2): px of every mark's corners, from its top left clockwise, by
    ``places`` (0 to 3, from the sheet's top left clockwise).
    """

    code: int
    places: list[int]
    corners: Floats


def digits(code: int) -> tuple[int, int, int, int]:
    """The four digits of a number. Raises ``ValueError`` for one out of range."""
    if not 0 < code < CODES:
        raise ValueError(f"a worksheet's number lies between 1 and {CODES - 1}")
    three = code // BASE**2, code // BASE % BASE, code % BASE
    return *three, sum(w * d for w, d in zip(WEIGHTS, three, strict=True)) % BASE


def number_of(found: dict[int, int]) -> int | None:
    """The number that digits by their corner make; None where too few are known, or where they disagree."""
    if len(found) < LEAST_MARKS:
        return None
    known = dict(found)
    for place in range(3):
        if place not in known:
            rest = sum(WEIGHTS[k] * known[k] for k in range(3) if k != place)
            known[place] = (known[3] - rest) * pow(WEIGHTS[place], -1, BASE) % BASE
    code = known[0] * BASE**2 + known[1] * BASE + known[2]
    if not 0 < code < CODES or (len(found) == 4 and digits(code)[3] != known[3]):
        return None
    return code


def mark_boxes(paper_mm: tuple[float, float]) -> list[tuple[float, float, float]]:
    """Left, top and side (mm) of the marks, from the top left clockwise."""
    long = max(paper_mm)
    side, inset = MARK_SHARE * long, INSET_SHARE * long
    left, right, top, foot = inset, paper_mm[0] - inset - side, inset, paper_mm[1] - inset - side
    return [(left, top, side), (right, top, side), (right, foot, side), (left, foot, side)]


def black_modules(place: int, digit: int) -> list[tuple[int, int]]:
    """Row and column of a marker's black modules."""
    import cv2

    image = cv2.aruco.generateImageMarker(dictionary(), place * BASE + digit, MODULES)
    return [(int(row), int(column)) for row, column in np.argwhere(image == 0)]


@cache
def dictionary() -> Any:
    import cv2

    return cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_5X5_1000)


def find_marks(picture: Pixels) -> FoundMarks | None:
    """A worksheet's marks in an RGB picture (h, w, 3); None where there are not three of one number."""
    import cv2

    settings = cv2.aruco.DetectorParameters()
    settings.cornerRefinementMethod = cv2.aruco.CORNER_REFINE_SUBPIX
    grey = cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY)
    quads, found, _ = cv2.aruco.ArucoDetector(dictionary(), settings).detectMarkers(grey)
    ids: Any = found  # None where there are none, which OpenCV's stubs leave out
    if ids is None:
        return None
    seen: dict[int, tuple[int, Floats]] = {}
    for quad, id in zip(quads, np.asarray(ids).reshape(-1).tolist(), strict=True):
        place, digit = divmod(int(id), BASE)
        if place < 4 and place not in seen:
            # pixel centres lie at +0.5 here and at whole numbers in OpenCV
            seen[place] = digit, np.asarray(quad, float).reshape(4, 2) + 0.5
    code = number_of({place: digit for place, (digit, _) in seen.items()})
    if code is None:
        return None
    places = sorted(seen)
    return FoundMarks(code, places, np.array([seen[p][1] for p in places]))


def sheet_corners(found: FoundMarks, paper_mm: tuple[float, float]) -> list[Place] | None:
    """The sheet's corners (px, from its top left clockwise), from every mark that was found; None where the marks do
    not lie on one such sheet.

    The paper is taken as flat (Hartley & Zisserman, Multiple View Geometry, 2nd ed., ch. 4, by OpenCV).
    """
    import cv2

    boxes = mark_boxes(paper_mm)
    true = np.array(
        [[[x, y], [x + s, y], [x + s, y + s], [x, y + s]] for x, y, s in (boxes[p] for p in found.places)]
    ).reshape(-1, 2)
    seen = found.corners.reshape(-1, 2)
    solved, _ = cv2.findHomography(true, seen)
    matrix: Any = solved  # None where there is none, which OpenCV's stubs leave out
    if matrix is None:
        return None
    back = cv2.perspectiveTransform(seen[None], np.linalg.inv(matrix))[0]
    if float(np.hypot(*(back - true).T).max()) > OFF_SHARE * max(paper_mm):
        return None
    wide, high = paper_mm
    corners = cv2.perspectiveTransform(np.array([[[0.0, 0.0], [wide, 0.0], [wide, high], [0.0, high]]]), matrix)[0]
    return [(float(x), float(y)) for x, y in corners]
