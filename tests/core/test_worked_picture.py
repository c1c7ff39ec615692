"""Worked numbers of the handbook, sections 1 and 2."""

import numpy as np
import pytest

from aspectum.core.aids.propose import first_guess
from aspectum.core.aids.rail import rim_degree_deg
from aspectum.core.check import check
from aspectum.core.findings import CheckResult, VanishingPoint
from aspectum.core.plane.projection import focal_of
from aspectum.core.sightings import Edge, Family, Perspective, Setup
from aspectum.core.tolerance import Verdict
from aspectum.core.view.camera import vanishing
from aspectum.core.view.evidence import gather
from aspectum.core.view.lens import view_deg
from aspectum.core.view.vanishing_points import off_sheet
from tests.reasons import edge_reason
from tests.scenes import Pinhole
from tests.worked import EDGES, SETUP


@pytest.fixture(scope="module")
def result() -> CheckResult:
    return check(SETUP, EDGES)


def point(result: CheckResult, family: Family) -> VanishingPoint:
    return next(v for v in result.vanishing_points if v.family is family)


def test_vanishing_points(result: CheckResult) -> None:
    left, right = point(result, Family.LEFT), point(result, Family.RIGHT)
    assert (left.x_px, left.y_px) == (pytest.approx(-600, abs=0.05), pytest.approx(400, abs=0.01))
    assert (right.x_px, right.y_px) == (pytest.approx(1400, abs=0.05), pytest.approx(400, abs=0.01))
    assert point(result, Family.UPRIGHT).direction_deg == pytest.approx(90, abs=0.001)
    assert (left.own_x_px, left.own_above_eye_level_px) == (pytest.approx(-600), pytest.approx(0, abs=0.01))


def test_eye_level_and_view(result: CheckResult) -> None:
    level, camera = result.eye_level, result.camera
    assert camera is not None
    assert (level.left_y_px, level.right_y_px) == (pytest.approx(400, abs=0.01), pytest.approx(400, abs=0.01))
    assert level.source == "edges"
    assert camera.focal_px == pytest.approx(994.99, abs=0.02)
    assert camera.view_deg == pytest.approx(53.36, abs=0.005)
    assert camera.pitch_deg == pytest.approx(0, abs=0.001)


def test_every_edge_holds_and_implies_itself(result: CheckResult) -> None:
    assert result.perspective is Perspective.TWO_POINT
    for finding in result.findings:
        assert finding.verdict is Verdict.HOLDS
        assert edge_reason(finding).turn_deg == pytest.approx(0, abs=0.005)


def test_angle_of_view_from_the_lens() -> None:
    """2·atan(18 / f35) with f35 from Exif's FocalLengthIn35mmFilm (CIPA DC-008)."""
    for f35, view in ((24, 73.74), (28, 65.47), (35, 54.43), (50, 39.60), (85, 23.91)):
        assert view_deg(focal_of(f35, 3000), 3000) == pytest.approx(view, abs=0.005)
        # one edge says nothing of the lens: what is reported is the lens that was named
        camera = check(Setup(3000, 2000, focal_35mm=f35), EDGES[:1]).camera
        assert camera is not None and camera.view_deg == pytest.approx(view, abs=0.01)
        portrait = check(Setup(2000, 3000, focal_35mm=f35), EDGES[:1]).camera
        assert portrait is not None and portrait.focal_px == pytest.approx(focal_of(f35, 3000), rel=1e-3)


@pytest.mark.parametrize(("pitch", "eye", "upright"), [(10, 176.3, 5671), (20, 364.0, 2747), (30, 577.4, 1732)])
def test_pitch_moves_eye_level_and_the_upright_vanishing_point_apart(pitch: float, eye: float, upright: float) -> None:
    """f = 1000: eye level f·tan θ from the centre, the upright VP f/tan θ on the other side."""
    camera = Pinhole(1000, pitch, 0, 1000, 1000)
    assert camera.eye_level_at(500) - 500 == pytest.approx(eye, abs=0.05)
    assert 500 - camera.vanishing_point(np.array([0, 0, 1.0]))[1] == pytest.approx(upright, abs=0.5)
    params, slots, scale = view_of(1000, pitch, bearing_deg=30)
    v = vanishing(params, slots)
    assert v[2, 1] / v[2, 2] * scale == pytest.approx(-upright, abs=0.5)
    assert v[0, 1] / v[0, 2] * scale == pytest.approx(eye, abs=0.05)


def test_bearing_of_a_box_under_a_level_camera() -> None:
    """f = 1000, β = 30°: VPs at −1732 and 577.4; measuring points 267.9 and −577.4."""
    params, slots, scale = view_of(1000, 0, bearing_deg=30)
    v = vanishing(params, slots)
    left, right = (float(v[k, 0] / v[k, 2] * scale) for k in (1, 0))
    assert (left, right) == (pytest.approx(-1732, abs=0.5), pytest.approx(577.4, abs=0.05))
    assert left + np.hypot(left, 1000) == pytest.approx(267.9, abs=0.05)
    assert right - np.hypot(right, 1000) == pytest.approx(-577.4, abs=0.05)


def test_slope_meets_on_the_plumb_line_of_its_plan_direction() -> None:
    """Level camera, f = 1000, plan bearing 20° right, rise 1 in 6: VP 364.0 right, 177.4 above."""
    params, slots, scale = view_of(1000, 0, bearing_deg=20, rise=1 / 6)
    v = vanishing(params, slots)
    x, y = v[3, :2] / v[3, 2] * scale
    assert (x, y) == (pytest.approx(364.0, abs=0.05), pytest.approx(-177.4, abs=0.05))


def test_rim_ratio_grows_in_proportion_to_the_distance_from_eye_level() -> None:
    """f = 500: 60 px below gives ratio 0.12 (6.89°), 150 px below 0.30 (17.46°); at eye level a line."""
    for below, degree in ((60, 6.89), (150, 17.46), (0, 0.0)):
        assert rim_degree_deg(400, 400 + below, 500, 0, 0, (400, 400)) == pytest.approx(degree, abs=0.005)


def view_of(focal_px: float, pitch_deg: float, bearing_deg: float, rise: float = 0.0):  # type: ignore[no-untyped-def]
    """Parameters and slots (right, left, upright, slope along right) of a simple view."""
    edges = (
        Edge("r", "f", Family.RIGHT, (0, 0), (1, 0)),
        Edge("l", "f", Family.LEFT, (0, 0), (1, 0)),
        Edge("u", "f", Family.UPRIGHT, (0, 0), (0, 1)),
        Edge("s", "f", Family.SLOPE, (0, 0), (1, 0), slope="s"),
    )
    evidence = gather(Setup(1000, 1000), edges, {"f/s": Family.RIGHT})
    params = np.zeros(evidence.size)
    params[[0, 1, 5, 6]] = (
        np.log(focal_px / evidence.scale),
        np.radians(pitch_deg),
        np.radians(bearing_deg),
        np.arctan(rise),
    )
    return params, evidence.slots, evidence.scale


def test_the_report_says_where_each_edge_runs_and_how_far_off_the_sheet_that_is(result: CheckResult) -> None:
    """VPs at x = −600 and 1400 of a sheet 1000 wide: 0.6 sheets left, 0.4 right (handbook section 2)."""
    for edge, finding in zip(EDGES, result.findings, strict=True):
        assert finding.vanishing_point is not None
        assert result.vanishing_points[finding.vanishing_point].family is edge.family
    off = {v.family: v.off_sheet for v in result.vanishing_points}
    assert off[Family.LEFT] == pytest.approx(-0.6, abs=0.01) and off[Family.RIGHT] == pytest.approx(0.4, abs=0.01)
    assert off_sheet(500.0, 1000) == 0.0 and off_sheet(None, 1000) is None
    assert result.eye_level.middle_y_px == pytest.approx(400, abs=0.1)


@pytest.mark.parametrize(
    ("edges", "perspective", "family"),
    [
        ([], Perspective.AUTO, Family.RIGHT),
        ([], Perspective.ONE_POINT, Family.DEPTH),
        (EDGES, Perspective.AUTO, Family.RIGHT),
    ],
)
def test_the_first_guess_of_a_family_needs_nobody(edges: list[Edge], perspective: Perspective, family: Family) -> None:
    guess = first_guess(perspective, edges)
    assert (guess.plumb_family, guess.else_family) == (Family.UPRIGHT, family) and 5 <= guess.plumb_deg <= 20
