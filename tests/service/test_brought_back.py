"""From the pencil lines of a worksheet to its sightings: each kind of what is asked, and what of the print is left out
of the search.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest

from aspectum.core.worksheet.exercise import ExerciseKind, Grade, Role
from aspectum.formats.sightings import (
    AlignmentSighting,
    DivisionSighting,
    EdgeSighting,
    FaceSighting,
    LengthSighting,
    RimSighting,
)
from aspectum.formats.worksheet import CrossMark, RoundMark, StrokeMark, TagMark, Worksheet
from aspectum.pictures.pencil import PencilSheet, covered
from aspectum.service.paper.critique import judge_drawing
from aspectum.service.paper.laying import laid_rim
from aspectum.service.school.brought_back import darkest, laid, laid_document, printed_lines
from tests.worksheet_scenes import printed_sheet

PX = 2400 / 297.0  # of a flattened A4 sheet


def perfect(sheet: Worksheet) -> tuple[dict[str, Any], dict[str, dict[str, Any]]]:
    """Pencil lines and rims exactly where the answer has them, px."""
    lines = {a.id: tuple((x * PX, y * PX) for x, y in a.line) for a in sheet.asked if a.line is not None}
    rims = {}
    for a in sheet.asked:
        if a.ellipse is not None:
            e = a.ellipse
            rims[a.id] = laid_rim(
                [v * PX for v in e.centre], e.major / 2 * PX, e.minor / 2 * PX, math.radians(90.0 - e.axis_deg)
            )
    return lines, rims


def document_of(sheet: Worksheet, lines: dict[str, Any], rims: dict[str, dict[str, Any]]) -> dict[str, Any]:
    """Sightings of the drawing by id."""
    return {s.id: s for s in laid_document(sheet.subject.model_copy(deep=True), sheet, lines, rims).sightings}


@pytest.mark.parametrize("kind", list(ExerciseKind))
def test_whoever_draws_the_answer_is_told_that_all_of_it_holds(kind: ExerciseKind) -> None:
    sheet = printed_sheet(kind, seed=31, grade=Grade.MIDDLE)
    drawing = laid_document(sheet.subject.model_copy(deep=True), sheet, *perfect(sheet))
    assert [s.id for s in drawing.sightings] == [s.id for s in sheet.subject.sightings], "nothing is left out"
    drawing.point_sd_px = 2.8
    found = judge_drawing(sheet.subject, drawing)
    asked = {a.id for a in sheet.asked}
    assert {f.verdict.value for f in found.findings if f.sighting in asked and f.verdict is not None} == {
        "holds"
    } and found.causes == []


def test_what_was_not_found_is_left_to_be_laid_by_hand() -> None:
    sheet = printed_sheet(ExerciseKind.NEAR_CORNER, seed=31)
    lines, _ = perfect(sheet)
    lost = next(iter(lines))
    told = document_of(sheet, {id: line for id, line in lines.items() if id != lost}, {})
    assert lost not in told and {s.id for s in sheet.subject.sightings} - set(told) == {lost}
    assert all(isinstance(s, EdgeSighting) for s in told.values())


def test_an_edge_keeps_its_ends_whichever_way_the_pencil_went() -> None:
    sheet = printed_sheet(ExerciseKind.NEAR_CORNER, seed=31)
    lines, _ = perfect(sheet)
    backwards = document_of(sheet, {id: (q, p) for id, (p, q) in lines.items()}, {})
    for id, (p, q) in lines.items():
        edge = backwards[id]
        assert (
            isinstance(edge, EdgeSighting)
            and edge.p == pytest.approx(p, abs=0.01)
            and edge.q == pytest.approx(q, abs=0.01)
        )


def test_a_part_of_a_wall_is_where_the_upright_meets_its_foot() -> None:
    sheet = printed_sheet(ExerciseKind.PARTS, seed=31)
    lines, _ = perfect(sheet)
    # an upright that was drawn short still tells its place
    short = {id: (p, (q[0], (p[1] + q[1]) / 2)) for id, (p, q) in lines.items()}
    for id, (foot, _) in lines.items():
        part = document_of(sheet, short, {})[id]
        assert isinstance(part, DivisionSighting) and part.point == pytest.approx(foot, abs=0.05)


def test_a_length_is_measured_straight_to_the_line_that_was_drawn() -> None:
    staves = printed_sheet(ExerciseKind.LETTERING, seed=31)
    lines, _ = perfect(staves)
    moved = {id: ((p[0] + 10.0, p[1]), (q[0] + 10.0, q[1])) for id, (p, q) in lines.items()}
    before, after = document_of(staves, lines, {}), document_of(staves, moved, {})
    for id in lines:
        one, other = before[id], after[id]
        assert (
            isinstance(one, LengthSighting)
            and isinstance(other, LengthSighting)
            and one.q is not None
            and other.q is not None
        )
        assert other.p == one.p and other.q == pytest.approx((one.q[0] + 10.0, one.q[1]), abs=0.05)
    level = printed_sheet(ExerciseKind.EYE_LEVEL, seed=31)
    ((id, (p, q)),) = perfect(level)[0].items()
    raised = document_of(level, {id: ((p[0], p[1] - 30.0), (q[0], q[1] - 30.0))}, {})[id]
    assert (
        isinstance(raised, LengthSighting)
        and raised.q is not None
        and raised.q[1] == pytest.approx(p[1] - 30.0, abs=0.05)
    )


def test_a_mirrored_corner_is_where_its_line_ends() -> None:
    sheet = printed_sheet(ExerciseKind.MIRROR, seed=31)
    lines, _ = perfect(sheet)
    outs = [a for a in sheet.asked if a.ends is not None]
    told = document_of(sheet, lines, {})
    assert outs
    for a in outs:
        length = told[a.id]
        assert isinstance(length, LengthSighting) and length.q == pytest.approx(lines[a.ends or ""][1], abs=0.05)
    assert a.id not in document_of(sheet, {}, {}), "without its line there is no corner"


def test_tilts_and_rims_come_as_they_were_drawn() -> None:
    tilts = printed_sheet(ExerciseKind.TILTS, seed=31)
    lines, _ = perfect(tilts)
    assert all(isinstance(document_of(tilts, lines, {})[id], AlignmentSighting) for id in lines)
    tins = printed_sheet(ExerciseKind.LOWER_RIM, seed=31)
    rims = perfect(tins)[1]
    for id, rim in rims.items():
        told = document_of(tins, {}, rims)[id]
        assert (
            isinstance(told, RimSighting) and told.near == tuple(rim["near"]) and len(told.points) == len(rim["points"])
        )


def test_a_line_that_runs_along_what_it_should_cross_tells_nothing() -> None:
    sheet = printed_sheet(ExerciseKind.PARTS, seed=31)
    faces = {s.id: s for s in sheet.subject.sightings if isinstance(s, FaceSighting)}
    part = next(s for s in sheet.subject.sightings if isinstance(s, DivisionSighting))
    asked = next(a for a in sheet.asked if a.id == part.id)
    a, b = faces[part.face].corners[:2]
    assert laid({}, part, asked, {part.id: (a, b)}, {}, faces) is None


def test_of_several_places_the_darkest_line_is_taken() -> None:
    found = {
        "a1 0": {"p": [0, 0], "q": [1, 1], "dark": 20.0},
        "a1 1": {"p": [0, 9], "q": [1, 9], "dark": 50.0},
        "a1 2": None,
        "a2 0": None,
    }
    assert darkest(found) == {"a1": ((0, 9), (1, 9))}


@pytest.mark.parametrize("kind", [ExerciseKind.RIM_LADDER, ExerciseKind.FIGURES, ExerciseKind.ISOMETRIC])
def test_all_that_is_printed_is_left_out_of_the_search_and_nothing_of_the_answer(kind: ExerciseKind) -> None:
    sheet = printed_sheet(kind, seed=31)
    on_paper = [mark for mark in sheet.printed if mark.role in (Role.GIVEN, Role.CONSTRUCTION)]
    per_mark = {StrokeMark: 1, RoundMark: 1, CrossMark: 2, TagMark: 4}
    assert len(printed_lines(sheet, 1.0)) == sum(per_mark[type(mark)] for mark in on_paper)
    bare = sheet.model_copy(update={"printed": [mark for mark in sheet.printed if mark not in on_paper]})
    assert printed_lines(bare, 1.0) == []


# --- the pencil beside the print
# ----------------------------------------------------------------------------------------------------


def page_with(*lines: tuple[tuple[int, int], tuple[int, int]]) -> np.ndarray[Any, np.dtype[np.uint8]]:
    """White paper, 8 px a mm, with dark lines 4 px wide."""
    import cv2

    page = np.full((800, 1200, 3), 244, np.uint8)
    for p, q in lines:
        cv2.line(page, p, q, (70, 70, 75), 4, cv2.LINE_AA)
    return page


def test_a_pencil_line_is_found_beside_a_printed_one_that_is_darker() -> None:
    """The printed line lies just where the pencil's is expected; without what is printed the pencil's own is found, to
    its middle.
    """
    printed, drawn = ((100, 400), (1000, 400)), ((100, 424), (1000, 440))
    page = page_with(printed, drawn)
    expected = (100.5, 402.0), (1000.5, 402.0)
    caught = PencilSheet(page, 8.0).snap(*expected)
    assert caught is not None and caught.p[1] == pytest.approx(400.5, abs=2.0)
    mask = covered(page.shape, [[list(map(float, end)) for end in printed]], 11.0)
    found = PencilSheet(page, 8.0, mask).snap(*expected)
    assert found is not None
    assert (found.p[1], found.q[1]) == (pytest.approx(424.5, abs=1.0), pytest.approx(440.5, abs=1.0))


def test_a_rim_that_touches_printed_lines_is_read_by_the_rest_of_it() -> None:
    import cv2

    square = [((300, 250), (700, 250)), ((700, 250), (700, 550)), ((700, 550), (300, 550)), ((300, 550), (300, 250))]
    page = page_with(*square)
    cv2.ellipse(page, (500, 400), (200, 150), 0, 0, 360, (70, 70, 75), 4, cv2.LINE_AA)
    mask = covered(page.shape, [[list(map(float, p)), list(map(float, q))] for p, q in square], 11.0)
    found = PencilSheet(page, 8.0, mask).snap_rim((496.0, 404.0), 190.0, 158.0, 0.02)
    assert found is not None
    assert (found.major, found.minor) == (pytest.approx(200.0, abs=3.0), pytest.approx(150.0, abs=3.0))
    assert found.centre == pytest.approx((500.5, 400.5), abs=2.0)


def test_nothing_is_covered_where_nothing_is_printed() -> None:
    assert (
        not covered((40, 60, 3), [], 11.0).any()
        and covered((40, 60, 3), [[[0.0, 20.0], [60.0, 20.0]]], 5.0).sum() >= 5 * 58
    )
