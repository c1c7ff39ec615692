"""Every kind of view: one-point, two-point with slopes, several forms, centre of vision stated."""

import numpy as np
import pytest

from aspectum.core.aids.propose import propose_family
from aspectum.core.check import check
from aspectum.core.findings import CameraReading, NoteCode
from aspectum.core.sightings import Edge, Family, Perspective, Setup
from aspectum.core.tolerance import Verdict
from tests.scenes import Box, Pinhole, seen_edges
from tests.worked import EDGES, SETUP

NAMES = {Family.RIGHT: Family.DEPTH, Family.LEFT: Family.ACROSS, Family.UPRIGHT: Family.UPRIGHT}


def lay(camera: Pinhole, boxes: list[Box], frontal: bool = False, sd: float = 1.0) -> list[Edge]:
    rng = np.random.default_rng(3)
    edges = []
    for n, box in enumerate(boxes):
        for k, (family, a, b) in enumerate(seen_edges(box)):
            p, q = (camera.project(np.array([a, b])) + rng.normal(0, sd, (2, 2))).tolist()
            edges.append(Edge(f"{n}-{k}", f"f{n}", NAMES[family] if frontal else family, (p[0], p[1]), (q[0], q[1])))
    return edges


def test_one_point_view_along_a_street() -> None:
    camera = Pinhole(1000, 0, 0)
    boxes = [Box((-1.2, 3.0, -1.5), 0.0, (2.5, 0.8, 1.0)), Box((1.6, 3.5, -1.5), 0.0, (2.0, 0.7, 2.4))]
    result = check(Setup(1280, 960), lay(camera, boxes, frontal=True))
    assert result.perspective is Perspective.ONE_POINT
    height = result.eye_level.height_at(640, 1280)
    assert height == pytest.approx(480, abs=2.5 * (result.eye_level.sd_px or 0))
    assert (result.eye_level.sd_px or 99) < 4
    depth = next(v for v in result.vanishing_points if v.family is Family.DEPTH)
    assert (depth.x_px, depth.y_px) == (pytest.approx(640, abs=8), pytest.approx(480, abs=10))
    assert all(
        v.direction_deg == pytest.approx(0, abs=0.5) for v in result.vanishing_points if v.family is Family.ACROSS
    )
    assert all(f.verdict is Verdict.HOLDS for f in result.findings)
    assert result.camera is None or result.camera.focal_px is None  # one-point leaves the width of view open
    assert any(n.code is NoteCode.FOCAL_OPEN for n in result.notes)


def test_stated_two_point_lets_eye_level_lie_anywhere_on_the_sheet() -> None:
    raised = [Edge(e.id, e.form, e.family, (e.p[0], e.p[1] - 150), (e.q[0], e.q[1] - 150)) for e in EDGES]
    result = check(Setup(1000, 800, perspective=Perspective.TWO_POINT), raised)
    assert result.eye_level.height_at(500, 1000) == pytest.approx(250, abs=0.1)
    assert result.camera is not None and result.camera.focal_px == pytest.approx(994.99, abs=0.2)
    assert all(f.verdict is Verdict.HOLDS for f in result.findings)


def test_auto_recognises_a_drawing_with_plumb_uprights_and_high_eye_level() -> None:
    raised = [Edge(e.id, e.form, e.family, (e.p[0], e.p[1] - 150), (e.q[0], e.q[1] - 150)) for e in EDGES]
    result = check(Setup(1000, 800), raised)
    assert result.perspective is Perspective.TWO_POINT
    assert result.eye_level.height_at(500, 1000) == pytest.approx(250, abs=1)
    assert not [f for f in result.findings if f.verdict is Verdict.OFF]


@pytest.mark.parametrize("pitch", [-20.0, 20.0])
def test_three_point_looking_up_and_down(pitch: float) -> None:
    camera = Pinhole(1000, pitch, 0.4)
    corner = (0.0, 5.0, 1.2) if pitch > 0 else (0.0, 3.0, -2.2)
    result = check(Setup(1280, 960), lay(camera, [Box(corner, 38.0, (1.2, 1.1, 1.5))]))
    upright = next(v for v in result.vanishing_points if v.family is Family.UPRIGHT)
    level = result.eye_level.height_at(640, 1280)
    assert result.perspective is Perspective.THREE_POINT
    assert upright.y_px is not None and level is not None
    assert (upright.y_px < level) == (pitch > 0)  # third VP above eye level: looking up
    assert result.camera is not None and result.camera.pitch_deg == pytest.approx(pitch, abs=2)


def test_forms_turned_differently_share_one_eye_level() -> None:
    camera = Pinhole(1100, -5, -0.6)
    boxes = [
        Box((-0.8, 3.0, -1.4), 25.0, (0.9, 0.7, 0.8)),
        Box((0.5, 3.4, -1.4), 55.0, (0.8, 0.8, 0.6)),
        Box((0.3, 4.6, -1.4), 70.0, (0.8, 0.6, 1.0)),
    ]
    result = check(Setup(1280, 960), lay(camera, boxes))
    for v in result.vanishing_points:
        if v.family in (Family.LEFT, Family.RIGHT) and v.x_px is not None:
            assert v.y_px == pytest.approx(result.eye_level.height_at(v.x_px, 1280), abs=0.01)


def loft_edges(camera: Pinhole, rise: float) -> list[Edge]:
    """A box with two parallel rakes along its left family and two along its right."""
    box = Box((-0.2, 4.0, -1.2), 40.0, (1.6, 1.4, 1.3))
    edges = lay(camera, [box], sd=0.7)
    rng = np.random.default_rng(6)
    for n, u in enumerate((0.0, 1.0)):
        ends = np.array([box.at(u, 0.0, 1.0), box.at(u, 1.0, 1.0) + np.array([0, 0, rise * box.size[1]])])
        p, q = (camera.project(ends) + rng.normal(0, 0.7, (2, 2))).tolist()
        edges.append(Edge(f"rake-{n}", "f0", Family.SLOPE, (p[0], p[1]), (q[0], q[1]), slope="roof"))
    return edges


@pytest.mark.parametrize("rise", [0.5, -0.4])
def test_a_slope_meets_above_eye_level_if_it_rises_going_away_below_if_it_falls(rise: float) -> None:
    camera = Pinhole(1000, 2, 0)
    result = check(Setup(1280, 960), loft_edges(camera, rise))
    roof = next(v for v in result.vanishing_points if v.family is Family.SLOPE)
    left = next(v for v in result.vanishing_points if v.family is Family.LEFT)
    assert roof.x_px is not None and roof.y_px is not None and left.x_px is not None and left.y_px is not None
    assert (roof.y_px < left.y_px) == (rise > 0)
    assert all(f.verdict is Verdict.HOLDS for f in result.findings if f.sighting.startswith("rake"))
    direction = Box((0, 0, 0), 40.0, (1, 1, 1)).axes()[1] + np.array([0, 0, rise])
    assert (roof.x_px, roof.y_px) == pytest.approx(tuple(camera.vanishing_point(direction)), abs=45)


def test_level_camera_and_exif_sharpen_the_answer() -> None:
    camera = Pinhole(1000, 0, 0)
    edges = lay(camera, [Box((0, 4, -1.3), 50.0, (0.7, 0.6, 0.5))], sd=1.5)
    plain, level = check(Setup(1280, 960), edges), check(Setup(1280, 960, level_camera=True, focal_35mm=28.125), edges)
    assert plain.eye_level.sd_px is not None and level.eye_level.sd_px is not None
    assert level.eye_level.sd_px < 0.5 * plain.eye_level.sd_px
    assert abs((level.eye_level.height_at(640, 1280) or 0) - 480) < 3 * level.eye_level.sd_px
    assert (
        isinstance(level.camera, CameraReading)
        and level.camera.focal_sd_px is not None
        and level.camera.focal_sd_px <= 31
    )


def test_families_are_proposed_by_where_an_edge_heads() -> None:
    assert propose_family(SETUP, [], "box", (300, 100), (302, 500)) is Family.UPRIGHT
    assert propose_family(SETUP, [], "box", (300, 600), (500, 560)) is Family.RIGHT  # below, climbs to the right
    assert propose_family(SETUP, [], "box", (300, 100), (500, 140)) is Family.RIGHT  # above, falls to the right
    assert propose_family(SETUP, [], "box", (300, 560), (500, 600)) is Family.LEFT
    assert propose_family(SETUP, EDGES, "box", (400, 450), (150, 437.5)) is Family.LEFT
    assert propose_family(SETUP, EDGES, "box", (400, 450), (650, 437.5)) is Family.RIGHT
