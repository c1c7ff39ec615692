"""The stand's eye: projection against a library, eye level and vanishing points by the handbook, the presets and the
eased lens.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import replace

import cv2
import numpy as np
import pytest

from aspectum.core.sightings import Family
from aspectum.core.stand.camera import View, stepped
from aspectum.core.stand.drawing import draw, set_up_for
from aspectum.core.stand.kinds import Parallel
from aspectum.core.stand.presets import FILLED, Preset, parallel_view, preset
from aspectum.core.stand.rail import level_rail
from aspectum.core.stand.setting import set_up
from aspectum.core.stand.things import Box, Cylinder, Stand
from tests.stand_scenes import Floats, random_view

F1000 = View(eye_m=(0.0, 0.0, 0.0), focal_35mm=36.0, width_px=1000, height_px=800)  # f = 1000 px


@pytest.mark.parametrize("seed", range(12))
def test_points_fall_where_opencv_projects_them(seed: int) -> None:
    """OpenCV's projectPoints, given the same pose, to 1e-6 of the picture's width."""
    rng = np.random.default_rng(seed)
    view = random_view(rng)
    points = rng.uniform(-1.5, 1.5, (50, 3))
    axes, (cx, cy) = view.axes, view.centre_px
    camera = np.array([[view.focal_px, 0, cx], [0, view.focal_px, cy], [0, 0, 1]])
    expected = cv2.projectPoints(points, cv2.Rodrigues(axes)[0], -axes @ np.array(view.eye_m), camera, None)[0].reshape(
        -1, 2
    )
    assert np.abs(view.project(points) - expected).max() < 1e-6 * view.width_px


@pytest.mark.parametrize("seed", range(6))
def test_eye_level_is_where_everything_at_the_eyes_height_is_seen(seed: int) -> None:
    view = random_view(np.random.default_rng(seed))
    level = view.eye_level_px
    assert level is not None
    ahead = view.axes[2]
    far = np.array(view.eye_m) + 1e7 * np.array([[ahead[0], ahead[1], 0.0], [ahead[0] + 0.3, ahead[1] + 0.2, 0.0]])
    for x, y in view.project(far):
        assert y == pytest.approx(level[0] + (level[1] - level[0]) * x / view.width_px, abs=1e-3)


@pytest.mark.parametrize(
    ("pitch", "eye_level", "upright"), [(10.0, 176.3, 5671.0), (20.0, 364.0, 2747.0), (30.0, 577.4, 1732.0)]
)
def test_looking_up_puts_eye_level_below_the_middle_and_the_uprights_vp_above(
    pitch: float, eye_level: float, upright: float
) -> None:
    """Handbook section 2: f·tan θ and f/tan θ, f = 1000."""
    view = replace(F1000, pitch_deg=pitch)
    level, (vp, _) = view.eye_level_px, view.vanishing_point(np.array([0.0, 0.0, 1.0]))
    assert level is not None and vp is not None
    assert level[0] - 400 == pytest.approx(eye_level, abs=0.05)
    assert 400 - vp[1] == pytest.approx(upright, abs=0.5)


def test_a_box_at_30_degrees_has_its_vps_where_the_handbook_says() -> None:
    """Handbook section 2: β = 30°, −1732 and 577.4."""
    drawing = draw(Stand((Box("box", at_m=(0.0, 4.0), base_m=-0.2, turn_deg=60.0),)), F1000)
    at = {vp.way.family: vp.at_px for vp in drawing.vanishing_points}
    left, right = at[Family.LEFT], at[Family.RIGHT]
    assert left is not None and right is not None
    assert left[0] - 500 == pytest.approx(-1732.05, abs=0.01)
    assert right[0] - 500 == pytest.approx(577.35, abs=0.01)
    assert left[1] == pytest.approx(400.0) == right[1]


def test_a_ramps_slope_meets_right_above_its_level_family() -> None:
    """Handbook section 2: plan bearing 20° right, rise 1 in 6: 364.0 right, 177.4 above."""
    from aspectum.core.stand.things import Ramp

    drawing = draw(Stand((Ramp("ramp", at_m=(1.0, 6.0), base_m=-1.0, turn_deg=-20.0, size_m=(1.0, 3.0, 0.5)),)), F1000)
    vp = next(v.at_px for v in drawing.vanishing_points if v.way.family is Family.SLOPE)
    assert vp is not None
    assert vp[0] - 500 == pytest.approx(363.97, abs=0.01)
    assert 400 - vp[1] == pytest.approx(177.4, abs=0.05)


@pytest.mark.parametrize(
    ("height", "expected"), [(10.0, (400.0, 200.0)), (20.0, (200.0, 100.0)), (40.0, (100.0, 50.0))]
)
def test_looking_straight_up_a_plan_point_falls_by_its_height(height: float, expected: tuple[float, float]) -> None:
    """Handbook section 2: f·(X, Y)/h from the zenith, f = 1000, (4, 2)."""
    view = replace(F1000, pitch_deg=90.0)
    x, y = view.project(np.array([4.0, 2.0, height])) - (500, 400)
    assert sorted((abs(x), abs(y)), reverse=True) == pytest.approx(expected)
    assert view.eye_level_px is None


def test_isometric_axes_run_at_30_degrees_in_their_true_length() -> None:
    """ISO 5456-3:1996: all three axes to one scale, the level ones at 30° to level."""
    view = View(heading_deg=45.0, parallel=Parallel.ISOMETRIC, px_per_m=100.0)
    origin, x, y, z = view.project(np.array([(0, 0, 0), (1, 0, 0), (0, 1, 0), (0, 0, 1.0)]))
    assert [math.dist(origin, p) for p in (x, y, z)] == pytest.approx([100.0] * 3)
    assert [
        view.vanishing_point(np.array(d, dtype=float))[1] for d in ((1, 0, 0), (0, 1, 0), (0, 0, 1))
    ] == pytest.approx([30.0, -30.0, 90.0])
    assert view.eye_level_px is None


@pytest.mark.parametrize("at", [(0.0, 0.0), (1.3, -0.4)])
def test_an_isometric_circle_has_the_standards_axes(at: tuple[float, float]) -> None:
    """ISO 5456-3:1996 gives 1.22 and 0.71 of the true diameter; exactly √1.5 and √0.5, degree 35.264°."""
    drawing = draw(
        Stand((Cylinder("tin", at_m=at, radius_m=0.5, height_m=0.5),)),
        View(heading_deg=45.0, parallel=Parallel.ISOMETRIC, px_per_m=100.0),
    )
    for rim in drawing.rims:
        assert (rim.ellipse.major_px / 100, rim.ellipse.minor_px / 100) == pytest.approx((1.2247, 0.7071), abs=1e-4)
        assert rim.ellipse.degree_deg == pytest.approx(35.264, abs=1e-3)
        assert abs(rim.ellipse.axis_deg) == pytest.approx(90.0)


def test_an_oblique_view_keeps_the_near_face_true_and_shortens_depths() -> None:
    view = View(parallel=Parallel.OBLIQUE, px_per_m=200.0, oblique_deg=45.0, depth_scale=0.5)
    drawing = draw(Stand((Box("box", size_m=(1.0, 1.0, 1.0)),)), view)
    by = {family: [e for e in drawing.edges if e.way is not None and e.way.family is family] for family in Family}
    assert [e.length_px for e in by[Family.ACROSS] + by[Family.UPRIGHT]] == pytest.approx([200.0] * 8)
    assert [e.length_px for e in by[Family.DEPTH]] == pytest.approx([100.0] * 4)
    assert [e.tilt_deg for e in by[Family.DEPTH]] == pytest.approx([45.0] * 4)


@pytest.mark.parametrize("kind", list(Preset))
def test_every_preset_shows_the_whole_set_up_and_looks_as_it_says(kind: Preset) -> None:
    placed = set_up(
        Stand((Box("a", turn_deg=20.0), Box("b", on="a", turn_deg=20.0), Cylinder("c", at_m=(1.0, 0.5)))), {}, 1e-3
    )
    view = preset(kind, placed, View(focal_35mm=40.0))
    corners = np.vstack([p.box for p in placed])
    level = view.eye_level_px
    if kind is not Preset.STRAIGHT_UP:
        off = np.abs(view.project(corners) - view.centre_px) / view.centre_px
        assert off.max() <= FILLED + 1e-6
        assert off.max() > 0.8 * FILLED  # and is as near as that allows
    if kind in (Preset.STRAIGHT_UP, Preset.STRAIGHT_DOWN):
        assert level is None
        return
    assert level is not None
    down = level[0] / view.height_px
    assert {
        Preset.BIRDS_EYE: down < 0.1,
        Preset.NORMAL: down == pytest.approx(1 / 3),
        Preset.WORMS_EYE: down > 0.8,
    }.get(kind, True)
    drawing = draw(Stand((Box("a", turn_deg=20.0),)), view)
    converging = sum(vp.at_px is not None for vp in drawing.vanishing_points)
    assert converging == {Preset.ONE_POINT: 1, Preset.TWO_POINT: 2}.get(kind, 3)


def test_stepping_back_with_the_same_size_on_the_sheet_draws_vps_apart() -> None:
    """Lens easing: the target's plane keeps its size, and vanishing points go out in proportion to the distance."""
    view = View(eye_m=(0.0, -2.0, 0.4), focal_35mm=28.0)
    eased = stepped(view, (0.0, 0.0, 0.4), 3.0, keep_size=True)
    plane = np.array([(-0.3, 0.0, 0.2), (0.3, 0.0, 0.7)])
    assert eased.project(plane) == pytest.approx(view.project(plane))
    diagonal = np.array([1.0, 1.0, 0.0])
    near, far = view.vanishing_point(diagonal)[0], eased.vanishing_point(diagonal)[0]
    assert near is not None and far is not None
    assert (far[0] - 640) / (near[0] - 640) == pytest.approx(3.0)
    with pytest.raises(ValueError, match="behind"):
        stepped(view, (0.0, -3.0, 0.4), 3.0)
    nearer = stepped(view, (0.0, 0.0, 0.4), 0.5)
    assert nearer.eye_m == pytest.approx((0.0, -1.0, 0.4)) and nearer.focal_35mm == view.focal_35mm
    square = View(parallel=Parallel.SQUARE, px_per_m=100.0)
    assert (
        stepped(square, (0.0, 0.0, 0.0), 0.5).px_per_m == 200.0
        and stepped(square, (0.0, 0.0, 0.0), 0.5, keep_size=True) == square
    )


@pytest.mark.parametrize("kind", list(Parallel))
def test_a_parallel_view_to_begin_with_holds_the_whole_set_up(kind: Parallel) -> None:
    stand = Stand((Box("a", size_m=(1.0, 0.5, 0.4), turn_deg=20.0), Box("b", size_m=(0.3, 0.3, 0.9), at_m=(2.0, 1.0))))
    view = parallel_view(kind, set_up_for(stand, View()), View())
    corners = view.project(np.vstack([p.box for p in set_up_for(stand, view)]))
    low, high = corners.min(axis=0), corners.max(axis=0)
    assert (low + high) / 2 == pytest.approx((640.0, 480.0), abs=1e-6)
    assert max((high - low) / (1280.0, 960.0)) == pytest.approx(0.9)


def test_rims_on_the_rail_open_as_they_leave_eye_level() -> None:
    """Handbook section 3: nothing at eye level, rounder the farther above or below; the degree is the angle of the line
    of sight.
    """
    stand = Stand((Box("a", size_m=(0.4, 0.4, 1.0)),))
    view = View(eye_m=(0.0, -2.0, 1.0))
    marks = level_rail(set_up_for(stand, view), view)
    by_height = {round(mark.height_m, 6): mark for mark in marks}
    assert by_height[1.0].degree_deg == pytest.approx(0.0) and by_height[1.0].y_px == pytest.approx(480.0)
    assert by_height[0.0].degree_deg == pytest.approx(math.degrees(math.atan2(1.0, 2.0)))
    assert by_height[0.0].y_px == pytest.approx(480.0 + view.focal_px / 2)
    away = sorted(marks, key=lambda mark: abs(mark.height_m - 1.0))
    assert [mark.degree_deg for mark in away] == sorted(mark.degree_deg for mark in away)
    assert min(abs(a.y_px - b.y_px) for a, b in itertools.pairwise(marks)) >= 44.0
    assert level_rail(set_up_for(stand, view), View(parallel=Parallel.SQUARE)) == ()
    assert level_rail(set_up_for(stand, view), View(eye_m=(0.0, 2.0, 1.0))) == ()  # behind the eye


def test_rolled_clockwise_the_camera_turns_the_picture_the_other_way() -> None:
    level = View(roll_deg=10.0, pitch_deg=-5.0).eye_level_px
    assert level is not None
    rise: Floats = np.array([level[0] - level[1], 1280.0])
    assert math.degrees(math.atan2(rise[0], rise[1])) == pytest.approx(10.0)
