"""Worked numbers of the handbook, section 3."""

from __future__ import annotations

import math

import numpy as np
import pytest

from aspectum.core.aids.round_forms import (
    axonometric_degree,
    degree_at,
    degree_by_looking,
    ellipse_degree,
    eye_level_from_two,
    isometric_circle,
    mark_offset,
    marks_round,
    nearest_guide,
    turned_cylinder,
    wall_at_rim,
)
from aspectum.core.check import check
from aspectum.core.sightings import Perspective, Plane, Rim, Setup
from aspectum.core.tolerance import Verdict
from tests.round_scenes import level_circle
from tests.scenes import Pinhole


def test_ratio_grows_in_proportion_to_the_distance_from_eye_level() -> None:
    """60 px below with f = 500: ratio 0.12 (6.89°); 150 px below: 0.30 (17.46°)."""
    assert degree_at(60, 500) == pytest.approx(6.89, abs=0.005)
    assert degree_at(150, 500) == pytest.approx(17.46, abs=0.005)
    assert degree_at(0, 500) == 0
    assert eye_level_from_two(460, 0.12, 550, 0.30) == (pytest.approx(400), pytest.approx(500))
    with pytest.raises(ValueError, match="one ratio"):
        eye_level_from_two(460, 0.12, 550, 0.12)


CAMERA = Pinhole(500, 0, 0, 800, 800)


def rim_below(id: str, below: float, radius: float = 1.2) -> Rim:
    """The near half of a rim 10 units ahead, ``below`` units under the eye: 50 px a unit."""
    turn = np.linspace(-1.5, 1.5, 11)
    image = CAMERA.project(level_circle(id, id, (0.0, 10.0, -below), radius).at(turn))
    return Rim(id, id, Plane.LEVEL, tuple((float(x), float(y)) for x, y in image))


def test_two_rims_fix_eye_level_by_drawing_the_ratio_on_to_zero() -> None:
    result = check(
        Setup(800, 800, Perspective.TWO_POINT, point_sd_px=0.2),
        [],
        rims=[rim_below("upper", 1.2), rim_below("lower", 3.0)],
    )
    assert result.eye_level.source == "rims"
    assert result.eye_level.height_at(400, 800) == pytest.approx(400, abs=0.4)
    assert result.camera is not None and result.camera.focal_px == pytest.approx(500, rel=5e-3)
    upper, lower = (f.sighted for f in result.findings)
    assert upper == pytest.approx(6.89, abs=0.15) and lower == pytest.approx(17.46, abs=0.15)


def test_one_rim_alone_fixes_nothing_and_says_so() -> None:
    result = check(Setup(800, 800), [], rims=[rim_below("only", 3.0)])
    assert result.eye_level.source == "none"
    assert result.findings[0].verdict is Verdict.UNSURE and result.findings[0].implied is None


def test_one_rim_and_the_lens_fix_eye_level() -> None:
    """ratio = distance / f, with f from Exif: 22.5 mm on 800 px is 500 px."""
    result = check(
        Setup(800, 800, Perspective.TWO_POINT, focal_35mm=22.5, point_sd_px=0.2), [], rims=[rim_below("only", 3.0)]
    )
    assert result.eye_level.source == "rims"
    assert result.eye_level.height_at(400, 800) == pytest.approx(400, abs=2)


def test_trade_rule_of_the_axis_is_exact_only_at_the_centre_of_vision() -> None:
    """f = 1000, level camera, radius 0.1 at 0.4 below the eye, 3 ahead and 1 to the side: 2.3°."""
    circle = level_circle("r", "f", (1.0, 3.0, -0.4), 0.1)
    *_, tilt = circle.ellipse(Pinhole(1000, 0, 0))
    assert abs(abs(tilt) - 90) == pytest.approx(2.3, abs=0.05)
    *_, straight = level_circle("r", "f", (0.0, 3.0, -0.4), 0.1).ellipse(Pinhole(1000, 0, 0))
    assert abs(straight) == pytest.approx(90, abs=1e-6)


@pytest.mark.parametrize(
    ("turn", "ratio", "length"), [(22.5, 0.383, 0.924), (45, 0.707, 0.707), (67.5, 0.924, 0.383), (0, 0, 1), (90, 1, 0)]
)
def test_a_cylinder_turned_end_on(turn: float, ratio: float, length: float) -> None:
    found = turned_cylinder(turn)
    assert (round(found.ratio, 3), round(found.length, 3), found.degree_deg) == (ratio, length, turn)


def test_wall_at_a_rim_is_widest_at_the_sides() -> None:
    """side : front = major : minor."""
    side, front = wall_at_rim(8.0, 30.0)
    assert (side, front) == (8.0, pytest.approx(4.0))


def test_marks_round_a_cylinder_crowd_towards_the_outline() -> None:
    assert mark_offset(30) == pytest.approx(0.5)
    places = marks_round(12)
    assert places == pytest.approx([-1, -0.8660, -0.5, 0, 0.5, 0.8660, 1], abs=1e-4)
    with pytest.raises(ValueError, match="out of sight"):
        mark_offset(100)


def test_isometric_circle_and_the_degree_of_a_parallel_drawing() -> None:
    """Axes 1.2247 and 0.7071 of the true diameter; degree 35.264°."""
    major, minor = isometric_circle(1.0)
    assert (major, minor) == (pytest.approx(1.2247, abs=5e-5), pytest.approx(0.7071, abs=5e-5))
    assert ellipse_degree(minor, major) == pytest.approx(35.264, abs=5e-4)
    assert axonometric_degree(30, 30) == pytest.approx(35.264, abs=5e-4)
    assert axonometric_degree(0, 45) is None  # an oblique drawing


def test_degree_by_looking_is_not_the_drawn_degree_off_the_centre() -> None:
    assert degree_by_looking(0.4, 3.0) == pytest.approx(7.595, abs=0.005)
    *_, drawn, _ = level_circle("r", "f", (2.0, 3.0, -0.4), 0.05).ellipse(Pinhole(1000, 0, 0))
    assert drawn < degree_by_looking(0.4, math.hypot(2, 3))


@pytest.mark.parametrize(
    ("degree", "guide"), [(17, 15), (17.6, 20), (35.26, 35), (61, 60), (11, 15), (4, None), (72, None)]
)
def test_nearest_ellipse_guide(degree: float, guide: int | None) -> None:
    assert nearest_guide(degree) == guide


@pytest.mark.parametrize("call", [lambda: turned_cylinder(91), lambda: ellipse_degree(2, 1), lambda: marks_round(0)])
def test_impossible_numbers_are_refused(call) -> None:  # type: ignore[no-untyped-def]
    with pytest.raises(ValueError):
        call()
