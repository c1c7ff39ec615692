"""Aids between the sightings: what must run at any place, and evenly spaced edges between two."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest

from aspectum.core.aids.fan import fan
from aspectum.core.aids.probe import Probe
from aspectum.core.aids.rail import rim_degree_deg
from aspectum.core.look import look
from aspectum.core.plane.lines import tilt_deg, tilt_difference
from aspectum.core.sightings import Edge, Family, Looking, Perspective, Point, Setup
from tests.messy_scenes import messy_scene
from tests.overhead_scenes import straight_setup
from tests.samples import sample
from tests.scenes import Box, Pinhole, Scene, random_scene
from tests.worked import EDGES, SETUP

BY_ID = {edge.id: edge for edge in EDGES}
WORKED = look(SETUP, EDGES, [])


def tilts(probe: Probe) -> dict[Family, float]:
    return {run.family: run.tilt_deg for run in probe.runs}


@pytest.mark.parametrize(
    ("at", "left", "right"),
    [
        ((275.0, 225.0), -math.degrees(math.atan2(175, 875)), -math.degrees(math.atan2(175, 1125))),
        ((500.0, 600.0), math.degrees(math.atan2(200, 1100)), math.degrees(math.atan2(200, 900))),
        ((500.0, 400.0), 0.0, 0.0),
    ],
)
def test_at_any_place_a_family_runs_to_its_vanishing_point(at: Point, left: float, right: float) -> None:
    """The handbook's worked picture: vanishing points at (−600, 400) and (1400, 400)."""
    found = tilts(WORKED.probe(at))
    assert found[Family.LEFT] == pytest.approx(-left, abs=0.05)
    assert found[Family.RIGHT] == pytest.approx(right, abs=0.05)
    assert abs(found[Family.UPRIGHT]) == pytest.approx(90.0, abs=0.01)


def test_a_level_rim_opens_by_its_distance_from_eye_level_over_the_focal_length() -> None:
    """f = 994.99 px in the worked picture: 200 px below eye level a rim's ratio is 0.201, its minor axis plumb."""
    rim = WORKED.probe((500.0, 600.0)).rim
    assert rim is not None and rim.sd_deg is not None
    assert math.sin(math.radians(rim.degree_deg)) == pytest.approx(200 / 994.99, abs=0.002)
    assert rim.axis_deg == pytest.approx(90.0, abs=0.01)
    at_level = WORKED.probe((700.0, 400.0)).rim
    assert at_level is not None and at_level.degree_deg < 0.3


def test_nothing_is_told_where_nothing_is_known() -> None:
    assert look(SETUP, [], []).probe((10.0, 10.0)) == Probe((), None)
    one_point = [
        Edge(f"d{k}", "hall", Family.DEPTH, p, q)
        for k, (p, q) in enumerate([((100, 700), (300, 550)), ((900, 700), (700, 550))])
    ]
    found = look(Setup(1000, 800, perspective=Perspective.ONE_POINT), one_point, []).probe((500.0, 700.0))
    assert found.rim is None  # one-point leaves the width of view open


def test_in_a_parallel_drawing_families_run_alike_everywhere_and_seen_straight_up_rims_are_round() -> None:
    edges = [
        Edge("a", "box", Family.LEFT, (100, 100), (300, 200)),
        Edge("b", "box", Family.LEFT, (100, 300), (300, 400)),
    ]
    drawing = look(Setup(1000, 800, perspective=Perspective.PARALLEL), edges, [])
    assert (
        tilts(drawing.probe((10.0, 10.0)))
        == tilts(drawing.probe((900.0, 700.0)))
        == {Family.LEFT: pytest.approx(-26.565, abs=1e-3)}
    )
    uprights = [
        Edge("u", "tower", Family.UPRIGHT, (900, 480), (800, 480)),
        Edge("v", "tower", Family.UPRIGHT, (640, 100), (640, 200)),
    ]
    straight = look(straight_setup(Looking.UP), uprights, []).probe((300.0, 480.0))
    assert tilts(straight)[Family.UPRIGHT] == pytest.approx(0.0, abs=0.01)
    assert straight.rim is not None and straight.rim.degree_deg == 90.0


def directions(scene: Scene) -> dict[tuple[str | None, Family], np.ndarray]:
    found: dict[tuple[str | None, Family], np.ndarray] = {}
    for n, box in enumerate(scene.boxes):
        right, left, up = box.axes()
        found |= {(f"b{n}", Family.RIGHT): right, (f"b{n}", Family.LEFT): left, (None, Family.UPRIGHT): up}
    return found


@pytest.mark.parametrize("kind", ["clean", "messy"])
def test_the_plus_minus_of_a_probe_holds(kind: str) -> None:
    rng = np.random.default_rng(4021)
    lines, rims = [], []
    for _ in range(sample(45, 25)):
        scene = messy_scene(rng) if kind == "messy" else random_scene(rng, (0.0, 12.0))
        at = (float(rng.uniform(0, 1280)), float(rng.uniform(0, 960)))
        found = look(scene.setup, scene.sighted(rng), []).probe(at)
        true = directions(scene)
        for run in found.runs:
            if run.sd_deg is not None and (run.form, run.family) in true:
                image = scene.camera.matrix() @ true[run.form, run.family]
                way = image[:2] - np.array(at) * image[2]
                lines.append(abs(float(tilt_difference(run.tilt_deg, tilt_deg((0.0, 0.0), way)))) / run.sd_deg)
        if found.rim is not None and found.rim.sd_deg is not None:
            camera = scene.camera
            due = rim_degree_deg(*at, camera.focal_px, camera.pitch_deg, camera.roll_deg, scene.setup.centre)
            rims.append(abs(due - found.rim.degree_deg) / found.rim.sd_deg)
    for strays in (np.array(lines), np.array(rims)):
        assert np.mean(strays < 1.96) > 0.89 and np.mean(strays > 4.5) < 0.02


def test_courses_on_a_wall_stand_evenly_on_its_plumb_uprights() -> None:
    """Worked picture: four courses between top and bottom part the near upright into fifths, and the far one too."""
    found = fan(BY_ID["top-left"], BY_ID["bottom-left"], 4, WORKED.points)
    assert found.spaced is Family.UPRIGHT
    for k, (near, far) in enumerate(found.lines, 1):
        assert near == pytest.approx((400.0, 200.0 + 100.0 * k), abs=0.1)
        assert far == pytest.approx((150.0, 250.0 + 75.0 * k), abs=0.1)
    # with plumb uprights the tangent of the tilt goes in even steps
    slopes = [math.tan(math.radians(t)) for t in found.tilts_deg]
    assert [b - a for a, b in itertools.pairwise(slopes)] == pytest.approx([slopes[1] - slopes[0]] * 3, abs=1e-3)


def test_posts_along_a_wall_stand_closer_as_they_go_away() -> None:
    """Worked picture: x runs as 1400 − 1000/(1 + k/3·share) from the near upright (400) to the far right one (650)."""
    found = fan(BY_ID["near"], BY_ID["far-right"], 4, WORKED.points)
    assert found.spaced is Family.RIGHT
    assert [p[0] for p, _ in found.lines] == pytest.approx([1400 - 1000 / (1 + k / 15) for k in range(1, 5)], abs=0.2)


def test_the_middle_of_a_fan_runs_through_the_meeting_of_the_diagonals() -> None:
    """The perspective middle by diagonals (handbook section 4), on a face in three-point view."""
    camera = Pinhole(900, 17, 2)
    box = Box((0.4, 3.0, 0.2), 35.0, (1.3, 1.0, 2.0))
    corner = {(s, t): camera.project(box.at(s, 0, t)[None])[0] for s in (0, 1) for t in (0, 1)}

    def laid(id: str, family: Family, a: tuple[int, int], b: tuple[int, int]) -> Edge:
        return Edge(
            id, "box", family, (float(corner[a][0]), float(corner[a][1])), (float(corner[b][0]), float(corner[b][1]))
        )

    sides = [laid("low", Family.RIGHT, (0, 0), (1, 0)), laid("high", Family.RIGHT, (0, 1), (1, 1))]
    sides += [laid("near", Family.UPRIGHT, (0, 0), (0, 1)), laid("far", Family.UPRIGHT, (1, 0), (1, 1))]
    back = [camera.project(box.at(0, t, w)[None])[0] for w in (0, 1) for t in (0, 1)]
    sides += [
        Edge(f"left{k}", "box", Family.LEFT, tuple(back[2 * k].tolist()), tuple(back[2 * k + 1].tolist()))
        for k in (0, 1)
    ]
    points = look(Setup(1280, 960), sides, []).points
    crossing = np.cross(
        np.cross([*corner[0, 0], 1], [*corner[1, 1], 1]), np.cross([*corner[1, 0], 1], [*corner[0, 1], 1])
    )
    middle = crossing[:2] / crossing[2]
    for first, second in (("low", "high"), ("near", "far")):
        by = {e.id: e for e in sides}
        ((p, q),) = fan(by[first], by[second], 1, points).lines
        off = abs(float(np.cross([*p, 1.0], [*q, 1.0]) @ [*middle, 1.0])) / math.dist(p, q)
        assert off < 0.5


def test_a_fan_without_a_second_family_is_even_on_the_picture_alone() -> None:
    boards = [
        Edge("a", "floor", Family.DEPTH, (100, 700), (300, 550)),
        Edge("b", "floor", Family.DEPTH, (900, 700), (700, 550)),
    ]
    points = look(Setup(1000, 800, perspective=Perspective.ONE_POINT), boards, []).points
    found = fan(boards[0], boards[1], 3, points)
    assert found.spaced is None
    assert [p[0] for p, _ in found.lines] == pytest.approx([300.0, 500.0, 700.0], abs=1.0)
    # turned round, the second edge still gives its own side's ends
    back = Edge("b", "floor", Family.DEPTH, (700, 550), (900, 700))
    assert np.array(fan(boards[0], back, 3, points).lines) == pytest.approx(np.array(found.lines), abs=1e-6)


def test_what_makes_no_fan_is_refused() -> None:
    with pytest.raises(ValueError, match="one family of one form"):
        fan(BY_ID["top-left"], BY_ID["top-right"], 3, WORKED.points)
    with pytest.raises(ValueError, match="one family of one form"):
        fan(BY_ID["top-left"], BY_ID["top-left"], 3, WORKED.points)
    with pytest.raises(ValueError, match="1 to 60"):
        fan(BY_ID["top-left"], BY_ID["bottom-left"], 0, WORKED.points)
    with pytest.raises(ValueError, match="not known yet"):
        fan(BY_ID["top-left"], BY_ID["bottom-left"], 3, [])
