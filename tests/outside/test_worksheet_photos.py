"""Worksheets printed and photographed: OpenCV's own detector reads the corner marks, the flattened sheet lies true,
planted errors come back.
"""

from __future__ import annotations

import itertools

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aspectum.core.worksheet.exercise import ExerciseKind
from aspectum.pictures.corner_marks import (
    BASE,
    CODES,
    FoundMarks,
    digits,
    find_marks,
    mark_boxes,
    number_of,
    sheet_corners,
)
from tests.samples import sample
from tests.worksheet_scenes import A4, Filled, filled, printed_pixels, printed_sheet, read_back


@settings(max_examples=200)
@given(st.integers(1, CODES - 1), st.integers(0, 3))
def test_any_three_marks_tell_the_number_and_a_wrong_fourth_none(code: int, lost: int) -> None:
    told = dict(enumerate(digits(code)))
    assert all(0 <= d < BASE for d in told.values()) and number_of(told) == code
    assert number_of({place: d for place, d in told.items() if place != lost}) == code
    assert number_of(told | {lost: (told[lost] + 7) % BASE}) is None
    assert number_of(dict(itertools.islice(told.items(), 2))) is None


@pytest.mark.parametrize("code", [0, CODES, -4])
def test_numbers_out_of_range_are_refused(code: int) -> None:
    with pytest.raises(ValueError, match="between 1 and"):
        digits(code)


def test_the_printed_page_is_read_by_opencv_with_its_marks_where_they_belong() -> None:
    sheet = printed_sheet(ExerciseKind.PARTS, code=9_876_543)
    page = printed_pixels(sheet)
    quads, ids, _ = cv2.aruco.ArucoDetector(cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_5X5_1000)).detectMarkers(
        page
    )
    assert sorted(np.asarray(ids).ravel().tolist()) == [
        place * BASE + digit for place, digit in enumerate(digits(9_876_543))
    ]
    found = find_marks(page)
    assert found is not None and (found.code, found.places) == (9_876_543, [0, 1, 2, 3])
    for corners, (left, top, side) in zip(found.corners / 8.0, mark_boxes(A4), strict=True):
        assert corners == pytest.approx(
            np.array([[left, top], [left + side, top], [left + side, top + side], [left, top + side]]), abs=0.08
        )
    assert len(quads) == 4


@pytest.fixture(scope="module")
def boxes() -> tuple[object, Filled]:
    sheet = printed_sheet(ExerciseKind.NEAR_CORNER, seed=8, code=4_242_424)
    return sheet, filled(sheet, 31, 25.0, {sheet.asked[0].id: 7.0})


def test_a_photographed_sheet_is_flattened_to_a_third_of_a_millimetre(boxes: tuple[object, Filled]) -> None:
    _, back = boxes
    found = find_marks(back.photo.picture)
    assert found is not None and found.code == 4_242_424
    for places in ([0, 1, 2, 3], [0, 1, 3], [1, 2, 3]):
        kept = [k for k, place in enumerate(found.places) if place in places]
        corners = sheet_corners(FoundMarks(found.code, places, found.corners[kept]), A4)
        assert corners is not None
        ends = np.array([[20.0, 30.0], [270.0, 40.0], [150.0, 105.0], [30.0, 180.0], [260.0, 170.0]])
        matrix = cv2.getPerspectiveTransform(
            np.array(corners, np.float32), np.array([[0, 0], [297, 0], [297, 210], [0, 210]], np.float32)
        )
        flat = cv2.perspectiveTransform(back.photo.at(ends)[None], matrix)[0]
        # a corner's mark that is missing is made up for by the other three, less well where it was
        assert np.hypot(*(flat - ends).T).max() < (0.35 if len(places) == 4 else 0.7)


def test_marks_that_lie_on_no_such_sheet_are_refused(boxes: tuple[object, Filled]) -> None:
    found = find_marks(boxes[1].photo.picture)
    assert found is not None
    folded = found.corners.copy()
    folded[2] += 160.0
    assert sheet_corners(FoundMarks(found.code, found.places, folded), A4) is None
    assert sheet_corners(found, (210.0, 297.0)) is None


def test_a_photo_without_marks_is_no_worksheet() -> None:
    assert find_marks(np.full((600, 800, 3), 230, np.uint8)) is None


STRAIGHT = [
    (ExerciseKind.ONE_POINT, 3),
    (ExerciseKind.TILTS, 5),
    (ExerciseKind.NEAR_CORNER, 9),
    (ExerciseKind.MIRROR, 6),
]


@pytest.mark.slow
@pytest.mark.parametrize(("kind", "seed"), STRAIGHT[: sample(4, 2)])
def test_straight_pencil_lines_are_read_to_under_a_degree(kind: ExerciseKind, seed: int) -> None:
    """Lines drawn off by known angles; ``make bench`` reads sheets of all kinds, grades and papers."""
    sheet = printed_sheet(kind, seed)
    told = read_back(sheet, filled(sheet, 100 + seed, 18.0, {sheet.asked[0].id: 6.0}))
    assert told.known and told.found == told.asked
    assert np.sqrt(np.mean(np.square(told.tilts))) < 0.6 and np.abs(told.tilts).max() < 1.5


@pytest.mark.slow
@pytest.mark.parametrize(("kind", "seed"), [(ExerciseKind.LOWER_RIM, 4), (ExerciseKind.ISOMETRIC, 2)][: sample(2, 1)])
def test_pencilled_rims_are_read_to_two_degrees(kind: ExerciseKind, seed: int) -> None:
    sheet = printed_sheet(kind, seed)
    told = read_back(sheet, filled(sheet, 200 + seed, 22.0, {sheet.asked[0].id: 6.0}))
    assert told.known and told.found == told.asked and np.abs(told.degrees).max() < 2.0
