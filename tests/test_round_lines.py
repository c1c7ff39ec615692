"""Circles found in pictures drawn for it: a tin under a known view, a straight bar, grain."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray

from aspectum.core.sightings import Family, FormKind, Plane
from aspectum.core.view.camera import FIRST_BEARING, LOG_F, PITCH, camera_matrix
from aspectum.formats.reading import compact
from aspectum.formats.sheet import read_sheet
from aspectum.formats.sightings import EdgeSighting
from aspectum.pictures.curves import find_curves
from aspectum.pictures.finding import FoundEdge, FoundInPicture, FoundRim, arc_of, with_arcs_of_their_own
from aspectum.pictures.round_lines import (
    SeenCircle,
    find_circles,
    find_ellipses,
    normals,
    round_places,
    same_way,
    support,
)
from aspectum.pictures.seeking import level_axes, longest_run, partnered
from aspectum.pictures.tones import reduced, spread
from aspectum.service.sheets.finding import proposals
from tests.finding_scenes import HEIGHT, WIDTH, pinhole

Floats = NDArray[np.float64]
FOCAL, PITCH_DEG = 1400.0, -14.0
UP = np.array([[0.0, 0.0, 1.0]])
MOUTH, BASE = -0.5, -0.9  # metres from the eye
HOLE = 0.22  # radius of the mouth inside its wall, m


def rim(height: float, radius: float = 0.25) -> Floats:
    """Places (4000, 2) px round a level circle 3 m ahead."""
    turns = np.linspace(0, 2 * np.pi, 4000, endpoint=False)
    return pinhole(
        np.stack([0.2 + radius * np.cos(turns), 3.0 + radius * np.sin(turns), np.full(4000, height)], axis=1),
        FOCAL,
        PITCH_DEG,
        0.0,
    )


def tin() -> NDArray[np.uint8]:
    """A pale tin with a thick wall on a dark ground."""
    picture = np.full((HEIGHT, WIDTH, 3), 60, np.uint8)
    outline = cv2.convexHull(np.concatenate([rim(MOUTH), rim(BASE)]).astype(np.float32)) - 0.5
    for shape, tone in ((outline, 190), (rim(MOUTH, HOLE).astype(np.float32) - 0.5, 30)):
        cv2.fillPoly(picture, [np.round(shape * 16).astype(np.int32)], (tone, tone, tone), cv2.LINE_AA, 4)
    return cv2.GaussianBlur(picture, (0, 0), 0.8).astype(np.uint8)


@pytest.fixture(scope="module")
def circles() -> list[SeenCircle]:
    params = np.zeros(FIRST_BEARING)
    scale = float(np.hypot(WIDTH, HEIGHT)) / 2
    params[LOG_F], params[PITCH] = np.log(FOCAL / scale), np.radians(PITCH_DEG)
    return find_circles(find_curves(spread(tin())), camera_matrix(params), UP, scale, (WIDTH / 2, HEIGHT / 2))


def off(places: Floats, true: Floats) -> float:
    """How far most places lie from the true line (px)."""
    return float(np.quantile(np.linalg.norm(places[:, None] - true[None], axis=2).min(axis=1), 0.8))


def test_the_mouth_of_a_tin_is_found_within_a_pixel_and_seen_all_round(circles: list[SeenCircle]) -> None:
    best = min(circles, key=lambda one: off(one.places, rim(MOUTH, HOLE)))
    assert off(best.places, rim(MOUTH, HOLE)) < 1.0
    assert best.share > 0.95 and best.against > 0.45 and best.rms_px < 0.6


def test_its_base_is_found_by_the_half_that_shows(circles: list[SeenCircle]) -> None:
    best = min(circles, key=lambda one: off(one.places, rim(BASE)))
    assert off(best.places, rim(BASE)) < 1.5
    assert 0.4 < best.share < 0.7


def test_a_drum_s_head_shows_the_axis_it_lies_on_and_a_tin_s_mouth_none() -> None:
    params = np.zeros(FIRST_BEARING)
    scale = float(np.hypot(WIDTH, HEIGHT)) / 2
    params[LOG_F], params[PITCH] = np.log(FOCAL / scale), np.radians(PITCH_DEG)
    camera, turns = camera_matrix(params), np.linspace(0, 2 * np.pi, 400, endpoint=False)
    bearing = np.radians(35.0)
    axis, across = np.array([np.sin(bearing), np.cos(bearing), 0.0]), np.array([np.cos(bearing), -np.sin(bearing), 0.0])
    head = np.array([0.3, 3.0, -0.7]) + 0.3 * (
        np.cos(turns)[:, None] * across + np.sin(turns)[:, None] * np.array([0.0, 0.0, 1.0])
    )

    def as_found(places: Floats) -> Floats:
        (x, y), sizes, angle = cv2.fitEllipseDirect(places.astype(np.float32))
        major, minor = max(sizes) / 2, min(sizes) / 2
        way = np.radians(angle if sizes[0] >= sizes[1] else angle + 90)
        return np.array([[(x - WIDTH / 2) / scale, (y - HEIGHT / 2) / scale, major / scale, minor / scale, way, 1.0]])

    drum = as_found(pinhole(head, FOCAL, PITCH_DEG, 0.0))
    shown = level_axes(drum, camera, UP)
    assert np.degrees(np.arccos(np.abs(shown @ axis).max())) < 1.0
    assert len(level_axes(drum, camera, np.array([UP[0], *shown]))) == 0
    assert len(level_axes(as_found(rim(MOUTH)), camera, UP)) == 0


@pytest.mark.parametrize("radius", [49.8, 50.0, 50.2, 50.3])
def test_a_step_is_read_between_the_places_looked_at(radius: float) -> None:
    rows, columns = np.mgrid[:160, :160] + 0.5
    disc = 60.0 + 120.0 * np.clip(50.0 - np.hypot(columns - 80.0, rows - 80.0) + 0.5, 0.0, 1.0)
    curves = find_curves(np.repeat(disc[..., None], 3, axis=2).astype(np.float32))
    flags, away, step = np.zeros(96, bool), np.zeros(96), np.zeros(96)
    places = round_places((80.0, 80.0), radius, radius, 0.0, 96)
    assert support(places, curves.slope_x, curves.slope_y, flags, away, step, 1.5, 3.0, 0.9) == 1.0
    out = np.sign(np.einsum("ij,ij->i", normals(places), places - 80.0))
    assert (out * away).mean() == pytest.approx(50.0 - radius, abs=0.08)


def seen(x: float, y: float, radius: float, share: float, plane: int = 0) -> SeenCircle:
    """A circle on its plane, of which ``share`` is seen and no copy."""
    flags = np.arange(100) < 100 * share
    return SeenCircle(plane, np.array([x, y, radius]), np.zeros((100, 2)), flags, 0.3, 20.0, share, share, 5.0, 1.0)


def test_a_mouth_speaks_for_the_base_on_its_axis_and_for_nothing_else() -> None:
    mouth, base = seen(2.0, 6.0, 0.5, 0.9), seen(2.0 / 1.8, 6.0 / 1.8, 0.5 / 1.8, 0.4)  # the same circle, lower by 1.8
    aside, standing = seen(2.5, 6.0, 0.5, 0.9), seen(2.0 / 1.8, 6.0 / 1.8, 0.5 / 1.8, 0.4, plane=1)
    assert partnered([mouth, base]) == pytest.approx([0.8, 1.8])
    assert partnered([mouth, aside]).tolist() == [0.0, 0.0]
    assert partnered([mouth, standing]).tolist() == [0.0, 0.0]
    assert len(partnered([])) == 0


def test_its_ellipse_is_fitted_before_there_is_a_view() -> None:
    found = find_ellipses(find_curves(spread(tin())))
    assert any(
        off(round_places(e.centre, e.major, e.minor, e.angle, 96), rim(MOUTH, HOLE)) < 1.5 for e in found
    )  # it only begins the search


def test_a_red_lid_on_green_as_bright_as_it_is_found_by_its_colour() -> None:
    rows, columns = np.mgrid[0:300, 0:400] + 0.5
    lid = (np.hypot((columns - 200) / 90, (rows - 150) / 40) < 1)[..., None]
    picture = np.where(lid, np.array([200, 60, 60]), np.array([60, 131, 60])).astype(np.uint8)
    assert np.ptp(cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY).astype(int)) <= 2
    found = find_ellipses(find_curves(spread(cv2.GaussianBlur(picture, (0, 0), 0.8).astype(np.uint8))))
    assert any(abs(e.major - 90) < 1.5 and abs(e.minor - 40) < 1.5 for e in found)


def thick_wall() -> tuple[Floats, Floats, Floats]:
    """Places round the outer and the inner rim of a wall, and round what runs along the outer behind and the inner
    before.
    """
    outer, inner = (round_places((200.0, 150.0), 100.0 * share, 45.0 * share, 0.0, 96) for share in (1.0, 0.88))
    return outer, inner, np.where(outer[:, 1:] < 150.0, outer, inner)


def test_across_a_rim_colour_changes_one_way_all_round_and_across_a_mixture_of_two_it_does_not() -> None:
    outer, inner, mixed = thick_wall()
    picture = np.full((300, 400, 3), 50, np.uint8)
    for shape, tone in ((outer, 200), (inner, 50)):
        cv2.fillPoly(picture, [np.round((shape - 0.5) * 16).astype(np.int32)], (tone, tone, tone), cv2.LINE_AA, 4)
    colours, all_round = spread(picture), np.ones(96, bool)
    assert same_way(outer, all_round, colours) > 0.95 and same_way(inner, all_round, colours) > 0.95
    assert same_way(mixed, all_round, colours) < 0.3


def test_a_mixture_of_two_surer_rims_shows_no_arc_of_its_own() -> None:
    circles = [
        SeenCircle(0, np.ones(3), places, np.ones(96, bool), 0.3, 20.0, 1.0, 1.0, 5.0, 1.0) for places in thick_wall()
    ]
    assert with_arcs_of_their_own(circles, [0, 1, 2]) == [0, 1]
    assert with_arcs_of_their_own(circles, [2]) == [2]


def test_the_seen_arc_goes_round_and_not_across_what_hides_the_rest() -> None:
    flags = np.ones(96, bool)
    flags[10:40] = False
    one = SeenCircle(
        0, np.ones(3), round_places((200.0, 150.0), 100.0, 45.0, 0.0, 96), flags, 0.3, 20.0, 1.0, 1.0, 5.0, 1.0
    )
    arc = arc_of(one)
    assert (arc == np.roll(one.places, -40, axis=0)[:66]).all()


def test_a_bar_and_grain_show_no_ellipse() -> None:
    bar = np.full((300, 400, 3), 60, np.uint8)
    cv2.rectangle(bar, (80, 100), (320, 140), (200, 200, 200), -1)
    grain = np.random.default_rng(4).integers(90, 160, (300, 400, 3)).astype(np.uint8)
    for picture in (bar, grain):
        assert find_ellipses(find_curves(spread(picture))) == []


def test_a_run_goes_on_over_the_end_of_the_turn() -> None:
    assert longest_run(np.array([True, True, False, False, True, True, True, False, True, True])) == pytest.approx(0.4)
    assert longest_run(np.ones(8, bool)) == 1.0 and longest_run(np.zeros(8, bool)) == 0.0


def test_a_dark_picture_is_spread_and_a_large_one_reduced() -> None:
    dark = np.linspace(10, 60, 400).astype(np.uint8).reshape(20, 20)
    assert spread(dark).max() > 230 and spread(dark).min() == 0
    small, scale = reduced(np.zeros((3000, 4000, 3), np.uint8))
    assert small.shape == (960, 1280, 3) and scale == pytest.approx(3.125)
    same = np.zeros((90, 100, 3), np.uint8)
    assert reduced(same)[0] is same


def test_what_was_found_becomes_a_sheet_that_reads_back() -> None:
    edges = [
        FoundEdge((1.0, 2.0), (30.0, 4.0), 0, Family.UPRIGHT, 0.5),
        FoundEdge((5.0, 2.0), (9.0, 40.0), 0, Family.SLOPE, 0.9, 1, Family.LEFT),
    ]
    arc = tuple((float(x), float(y)) for x, y in round_places((50.0, 50.0), 20.0, 8.0, 0.0, 12))
    found = FoundInPicture(
        100,
        90,
        28.0,
        (40.0, 41.0, 1.5),
        (80.0, 2.0),
        [FormKind.BOX, FormKind.CYLINDER],
        edges,
        [FoundRim(arc, 1, Plane.LEVEL, 0.7)],
    )
    sheet = proposals(found, "crate.jpg")
    assert [s.id for s in sheet.sightings] == ["e1", "r1", "e2"]
    assert [s.name for s in sheet.sightings] == ["slope 1", "rim 1", "upright 1"]
    slope = sheet.sightings[0]
    assert isinstance(slope, EdgeSighting) and slope.slope == "slope-2" and slope.plan is Family.LEFT
    assert [form.name for form in sheet.forms] == ["Box", "Cylinder"]
    assert read_sheet(compact(sheet).encode()) == sheet


def test_nothing_found_is_a_sheet_without_sightings() -> None:
    sheet = proposals(FoundInPicture(100, 90, None), "cat.jpg")
    assert sheet.sightings == [] and sheet.found is None and sheet.title == "cat"
