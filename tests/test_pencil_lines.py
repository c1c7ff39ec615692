"""Freehand lines followed on flattened photographs of drawings: to half a millimetre, with their own ±, doubled ones
and construction told apart.
"""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from aspectum.core.sightings import Family, FormKind
from aspectum.pictures.drawn_forms import find_drawn
from aspectum.pictures.pencil import PencilSheet, seen_quantile
from aspectum.pictures.registering import placed, register
from tests.paper_scenes import KINDS
from tests.pencil_drawings import Pixels, sighted_subject, straight, stroke
from tests.pencil_scores import OFF_MM, Followed, close_groups, drawn, errors, follow_drawings, subject_lines
from tests.samples import least, sample
from tests.scenes import Vec


@pytest.fixture(scope="module")
def followed() -> Followed:
    return follow_drawings(range(9100, 9100 + sample(8, 3)))


def test_nine_lines_of_ten_are_found_with_nothing_laid(followed: Followed) -> None:
    """Pencil, ink and crayon at up to thirty degrees of slant, with construction lines and restated ones: within half a
    millimetre and 0.7 degrees.
    """
    assert followed.lines > sample(80, 25)
    assert followed.right >= least(0.87, followed.lines) * followed.lines


def test_their_own_plus_and_minus_holds(followed: Followed) -> None:
    """Of normal errors 68 % lie within one standard deviation and 95 % within two; lines that were mistaken for a
    neighbour lie outside.
    """
    for z in (np.array(followed.off), np.array(followed.turned)):
        assert 0.58 < (z < 1.0).mean() < 0.88
        assert (z < 2.0).mean() > 0.85


def test_rims_are_found_on_the_drawing_too() -> None:
    near = []
    for seed in (9102, 9106):
        d = drawn(seed)
        sheet = PencilSheet(d.flat, d.px_per_mm)
        there = placed(sheet, *subject_lines(d.theirs))
        assert there is not None and d.rims
        for id, ((x, y), *shape) in there[1].items():
            found = sheet.snap_rim((x, y), *shape)
            centre, major, minor, _ = d.rims[id]
            assert found is not None
            near.append(
                np.hypot(*(np.array(found.centre) / d.px_per_mm - centre)) < 1.0
                and abs(found.minor / found.major - minor / major) < 0.05
            )
    assert np.mean(near) >= 0.7


def test_how_dark_a_rim_is_counts_what_is_seen_of_it_alone() -> None:
    """Against ``numpy.nanquantile``, with nothing, little and all but one place of a row under print."""
    values = np.random.default_rng(6).uniform(0, 60, (40, 30))
    for row, hidden in enumerate(np.random.default_rng(7).integers(0, 30, 40)):
        values[row, : int(hidden)] = np.nan
    values[0] = [7.0] + [np.nan] * 29
    for part in (0.0, 0.3, 0.5, 1.0):
        assert seen_quantile(values, part) == pytest.approx(np.nanquantile(values, part, axis=1), abs=1e-12)


@pytest.mark.parametrize("seed", [9100, 9102])
def test_the_drawing_of_another_subject_is_not_taken_for_this_one(seed: int) -> None:
    d = drawn(seed)
    _, other = sighted_subject(np.random.default_rng(seed + 5), KINDS[(seed + 5) % len(KINDS)])
    lines = [np.array([e.p, e.q]) for e in other.edges]
    assert register(PencilSheet(d.flat, d.px_per_mm), lines) is None


def test_an_empty_sheet_holds_no_drawing() -> None:
    blank = PencilSheet(np.full((840, 1188, 3), 246, np.uint8), 4.0)
    assert register(blank, [np.array([[0.0, 0.0], [300.0, 40.0]])]) is None
    assert blank.follow((100.0, 100.0), (500.0, 120.0)) == []


def page(*strokes: tuple[Vec, float, int]) -> PencilSheet:
    return PencilSheet(page_pixels(*strokes), 6.0)


def page_pixels(*strokes: tuple[Vec, float, int]) -> Pixels:
    """A page of pencil strokes: path (mm), how dark a share, passes."""
    rng = np.random.default_rng(77)
    paper = np.full((1260, 1782, 3), 246.0)
    for path, share, passes in strokes:
        stroke(paper, path, rng, "pencil", share, passes)
    soft = cv2.GaussianBlur(paper, (0, 0), 1.0) + rng.normal(0, 2.0, paper.shape)
    return np.asarray(np.clip(soft, 0, 255), np.uint8)


def at(mm: Vec) -> tuple[float, float]:
    """A place on the page, px."""
    return float(mm[0] * 6.0), float(mm[1] * 6.0)


def test_a_restated_line_gives_both_the_darkest_first() -> None:
    p, q = np.array([60.0, 60.0]), np.array([160.0, 80.0])
    aside = np.array([-0.2, 2.2])
    for shares in ((1.0, 0.5), (0.5, 1.0)):
        sheet = page((straight(p, q), shares[0], 2), (straight(p + aside, q + aside), shares[1], 2))
        found = sheet.follow(at(p + 0.8), at(q + 0.8))
        assert len(found) == 2 and found[0].dark > found[1].dark
        first = (p, q) if shares[0] > shares[1] else (p + aside, q + aside)
        assert errors(found[0], first[0], first[1], 6.0)[0] < OFF_MM


def test_a_line_that_was_drawn_once_is_found_once_and_ends_where_it_was_lined_in() -> None:
    """Its construction runs on beyond both corners, lightly."""
    p, q = np.array([80.0, 120.0]), np.array([180.0, 95.0])
    run = q - p
    sheet = page((straight(p - 0.4 * run, q + 0.3 * run), 0.3, 1), (straight(p, q), 1.0, 2))
    (found,) = sheet.follow(at(p - 3), at(q + 3))
    assert np.hypot(*(np.array(found.p) / 6.0 - p)) < 1.5 and np.hypot(*(np.array(found.q) / 6.0 - q)) < 1.5


def test_a_construction_line_is_much_lighter_than_what_is_lined_in() -> None:
    light, dark = (np.array([60.0, 60.0]), np.array([200.0, 60.0])), (np.array([60.0, 120.0]), np.array([200.0, 120.0]))
    sheet = page((straight(*light), 0.3, 1), (straight(*dark), 1.0, 2))
    one, other = (sheet.follow(at(p), at(q))[0] for p, q in (light, dark))
    assert one.dark < 0.45 * other.dark


# --- with nothing known of the drawing
# ----------------------------------------------------------------------------------------------------


def test_closed_groups_are_boxes_and_most_of_what_is_proposed_is_right() -> None:
    """Of one box by itself most, with its families; of drawings that show what is behind less."""
    told = close_groups(range(9100, 9124, sample(4, 8)))
    assert told.found > 0.6 * told.lines
    assert told.right > 0.85 * told.proposed and told.in_family > 0.9 * told.right
    assert told.rims_proposed <= 1  # there are none


def test_a_tin_drawn_through_is_a_cylinder_with_two_rims_and_two_sides() -> None:
    turns = np.linspace(0, 2 * np.pi, 80)
    rims = [
        np.array([150.0, y]) + np.stack([36 * np.cos(turns), b * np.sin(turns)], axis=1)
        for y, b in ((70.0, 9.0), (150.0, 13.0))
    ]
    sides = [(straight(np.array([x, 70.0]), np.array([x, 150.0])), 1.0, 2) for x in (114.0, 186.0)]
    axis = (straight(np.array([150.0, 40.0]), np.array([150.0, 185.0])), 0.3, 1)
    told = find_drawn(page_pixels(*[(rim, 1.0, 2) for rim in rims], *sides, axis), 6.0)
    assert told.forms == [FormKind.CYLINDER]
    assert [e.family for e in told.edges] == [Family.UPRIGHT] * 2
    middles = sorted(float(np.mean(r.points, axis=0)[1]) / 6.0 for r in told.rims)
    assert middles == pytest.approx([70.0, 150.0], abs=1.0)


def test_shading_writing_and_an_empty_sheet_are_no_forms() -> None:
    rng = np.random.default_rng(5)
    hatching = [
        (straight(np.array([60.0 + 2.5 * k, 60.0]), np.array([80.0 + 2.5 * k, 110.0])) + rng.normal(0, 0.3, 2), 0.7, 1)
        for k in range(30)
    ]
    assert find_drawn(page_pixels(*hatching), 6.0).edges == []
    assert find_drawn(np.full((900, 1200, 3), 244, np.uint8), 4.0).forms == []


def test_a_box_seen_square_on_has_a_face_across_and_depths_that_recede() -> None:
    front = np.array([[80.0, 90.0], [160.0, 90.0], [160.0, 160.0], [80.0, 160.0]])
    back = np.array([[98.0, 62.0], [150.0, 62.0]])
    edges = [(front[k], front[(k + 1) % 4]) for k in range(4)] + [
        (front[0], back[0]),
        (front[1], back[1]),
        (back[0], back[1]),
    ]
    told = find_drawn(page_pixels(*[(straight(p, q), 1.0, 2) for p, q in edges]), 6.0)
    assert sorted(e.family.value for e in told.edges) == ["across"] * 3 + ["depth"] * 2 + ["upright"] * 2
