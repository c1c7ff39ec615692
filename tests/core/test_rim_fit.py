"""A sighted rim: its ellipse from the seen arc, and the shape faults of a drawn one."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aspectum.core.judge.rim_shape import shape_fault
from aspectum.core.plane.ellipses import principal
from aspectum.core.plane.rim_fit import RimFit, fit_rim, shape_vector
from aspectum.core.reasons import Rule
from aspectum.core.sightings import Plane, Point, Rim, Setup
from aspectum.core.view.camera import FIRST_BEARING
from aspectum.core.view.circles import RimBank, ellipse_of
from aspectum.core.view.evidence import gather
from aspectum.core.view.rim_images import RimLook
from tests.round_scenes import Circle, arc_of
from tests.scenes import Pinhole, Vec

Points = tuple[tuple[float, float], ...]
Ends = tuple[tuple[float, float], tuple[float, float]]


def points_of(points: Vec) -> Points:
    return tuple((float(x), float(y)) for x, y in points)


def ellipse(half: float, degree: float, lean: float = 0.0, turns: Vec | None = None) -> Vec:
    t = np.linspace(0, 2 * np.pi, 24, endpoint=False) if turns is None else turns
    flat = np.stack([half * np.cos(t), half * math.sin(math.radians(degree)) * np.sin(t)], axis=1)
    a = math.radians(-lean)
    turn = np.array([[math.cos(a), math.sin(a)], [-math.sin(a), math.cos(a)]])
    return np.asarray(flat @ turn + np.array([500.0, 400.0]), float)


@pytest.mark.parametrize(("degree", "lean"), [(12, 0), (30, 8), (55, -20), (5, 3)])
@pytest.mark.parametrize("arc", [130, 200, 345])
def test_a_third_of_the_rim_gives_the_whole(degree: float, lean: float, arc: float) -> None:
    t = np.pi / 2 + np.radians(arc) * np.linspace(-0.5, 0.5, 11)
    fit = fit_rim(points_of(ellipse(120, degree, lean, t)), 0.5)
    assert fit.degree_deg == pytest.approx(degree, abs=0.05)
    assert fit.axis_deg == pytest.approx(90 + lean if lean <= 0 else lean - 90, abs=0.05)
    assert np.array(fit.centre) == pytest.approx(np.array([500, 400]), abs=0.1)
    assert fit.axes[0] == pytest.approx(120, abs=0.1)
    assert fit.front == (1 if arc < 235 else 0)


@settings(max_examples=40, deadline=None)
@given(st.floats(10, 70), st.floats(-170, 170), st.floats(0.4, 3.0), st.booleans(), st.integers(0, 999))
def test_turning_mirroring_and_scaling_the_picture_leave_the_degree(
    degree: float, turn: float, scale: float, mirror: bool, seed: int
) -> None:
    rng = np.random.default_rng(seed)
    t = np.pi / 2 + np.radians(200) * np.linspace(-0.5, 0.5, 12)
    laid = ellipse(110, degree, 0, t) + rng.normal(0, 0.7, (12, 2))
    a = math.radians(turn)
    matrix = (
        scale
        * np.array([[math.cos(a), -math.sin(a)], [math.sin(a), math.cos(a)]])
        @ np.diag([-1.0 if mirror else 1.0, 1.0])
    )
    before, after = fit_rim(points_of(laid), 0.7), fit_rim(points_of((laid - 400) @ matrix.T + 500), 0.7 * scale)
    assert after.degree_deg == pytest.approx(before.degree_deg, abs=0.02)
    assert after.sds[1] == pytest.approx(before.sds[1], rel=0.02)
    assert after.axes[0] == pytest.approx(before.axes[0] * scale, rel=1e-3)


def test_the_ends_of_the_major_axis_and_a_near_point_are_enough() -> None:
    fit = fit_rim((), 1.5, ((380, 400), (620, 400)), (500, 460))
    assert fit.degree_deg == pytest.approx(30, abs=0.01)
    # where exactly the outline turns is loose, so the opening is; points along the arc tighten it
    assert 2 < fit.sds[1] < 5 and fit.front == 1
    more = fit_rim(points_of(ellipse(120, 30, 0, np.linspace(0.5, 2.6, 7))), 1.5, ((380, 400), (620, 400)), (500, 460))
    assert more.sds[1] < 0.5 * fit.sds[1]
    assert fit_rim((), 1.5, ((380, 400), (620, 400)), (500, 340)).front == -1


def test_a_short_arc_is_called_short() -> None:
    fit = fit_rim(points_of(ellipse(120, 30, 0, np.linspace(1.2, 1.9, 8))), 1.5)
    assert fit.too_short
    assert fit.sds[1] > 5


@pytest.mark.parametrize(
    ("points", "ends", "near_point", "words"),
    [
        (((1, 2), (3, 4), (8, 9)), None, None, "at least five points"),
        ((), ((0, 0), (100, 0)), None, "near arc"),
        (((5, 5),) * 6, None, None, "one place"),
        ((), ((50, 50), (50, 50)), (50, 90), "coincide"),
    ],
)
def test_what_makes_no_rim_is_refused(
    points: Points, ends: Ends | None, near_point: tuple[float, float] | None, words: str
) -> None:
    with pytest.raises(ValueError, match=words):
        fit_rim(points, 1.5, ends, near_point)


def test_points_on_a_straight_line_make_a_rim_at_eye_level() -> None:
    fit = fit_rim(tuple((100.0 + 40 * k, 300.0) for k in range(7)), 1.0)
    assert fit.degree_deg < 3


def drawn(shape: Callable[[Vec], Vec], seed: int) -> RimFit:
    rng = np.random.default_rng(seed)
    t = np.linspace(0, 2 * np.pi, 28, endpoint=False) + rng.normal(0, 0.04, 28)
    return fit_rim(points_of(shape(t) + rng.normal(0, 1.2, (28, 2))), 1.2)


A, B = 130.0, 52.0


def outward(t: Vec) -> Vec:
    n = np.stack([B * np.cos(t), A * np.sin(t)], axis=1)
    return np.asarray(n / np.linalg.norm(n, axis=1)[:, None])


def near(t: Vec, place: float) -> Vec:
    return np.asarray(np.exp(-0.5 * (np.angle(np.exp(1j * (t - place))) / 0.3) ** 2)[:, None] * outward(t), float)


def turned(x: Vec, y: Vec) -> Vec:
    return np.asarray(np.stack([A * x, B * y], axis=1) + np.array([500.0, 400.0]), float)


def plain(t: Vec) -> Vec:
    return turned(np.cos(t), np.sin(t))


def blunt(v: Vec) -> Vec:
    return np.asarray(np.sign(v) * abs(v) ** 0.55)


SHAPES: dict[Rule, Callable[[Vec], Vec]] = {
    Rule.POINTED_ENDS: lambda t: turned(np.cos(t), np.sign(np.sin(t)) * np.sin(t) ** 2),
    Rule.STRAIGHT_SIDES: lambda t: turned(blunt(np.cos(t)), blunt(np.sin(t))),
    Rule.LOPSIDED: lambda t: turned(np.cos(t), np.sin(t) * (1 + 0.42 * np.cos(t))),
    Rule.CORNER: lambda t: plain(t) + 20 * near(t, 0.9),
    Rule.FLAT_SPOT: lambda t: plain(t) - 14 * near(t, 1.6),
}


@pytest.mark.parametrize("rule", list(SHAPES))
def test_a_misdrawn_rim_is_named_by_its_fault(rule: Rule) -> None:
    found = [shape_fault(drawn(SHAPES[rule], seed)) for seed in range(12)]
    assert sum(f is not None and f.rule is rule for f in found) >= 9


def test_a_well_drawn_rim_has_no_shape_fault() -> None:
    assert [shape_fault(drawn(plain, seed)) for seed in range(40)] == [None] * 40


# -- circles under a camera ------------------------------------------------------------------


def banked(rim: Rim, camera: Pinhole) -> tuple[RimBank, Vec]:
    evidence = gather(Setup(1280, 960), (), {}, ((rim, fit_rim(rim.points, 1.0)),))
    params = np.zeros(evidence.size)
    params[:3] = (
        math.log(camera.focal_px / evidence.scale),
        math.radians(camera.pitch_deg),
        math.radians(camera.roll_deg),
    )
    assert evidence.rims is not None
    return evidence.rims, params


@pytest.mark.parametrize("plane", [Plane.LEVEL, Plane.RIGHT, Plane.LEFT])
@pytest.mark.parametrize("seed", range(6))
def test_the_exact_image_of_a_circle_is_the_conic_through_its_points(plane: Plane, seed: int) -> None:
    rng = np.random.default_rng(seed)
    camera = Pinhole(float(rng.uniform(700, 1600)), float(rng.uniform(-12, 12)), float(rng.normal(0, 0.5)))
    bearing = math.radians(rng.uniform(25, 65)) - (math.pi / 2 if plane is Plane.LEFT else 0.0)
    axis = np.array([0.0, 0.0, 1.0] if plane is Plane.LEVEL else [math.sin(bearing), math.cos(bearing), 0.0])
    circle = Circle("r", "f", plane, np.array([rng.uniform(-0.7, 0.7), 3.2, rng.uniform(-0.8, -0.3)]), axis, 0.35)
    bank, params = banked(arc_of(circle, camera, rng), camera)
    if plane is not Plane.LEVEL:
        params[FIRST_BEARING] = bearing + (math.pi / 2 if plane is Plane.LEFT else 0.0)
    state = bank.settled(params, bank.settled(params, bank.begin(params)))
    assert bank.evaluate(params, state).cost[0] == pytest.approx(0, abs=1e-6)
    scale = math.hypot(1280, 960) / 2
    x, y, major, minor, _ = bank.ellipses(params, state)[0] * scale
    centre, half, opened, _, _ = circle.ellipse(camera)
    assert np.array([x + 640, y + 480, major, minor]) == pytest.approx(np.array([*centre, half, opened]), abs=0.02)
    # the image of the circle's centre is not the ellipse's centre
    true = camera.project(circle.centre[None])[0]
    assert state[0, :2] * scale + [640, 480] == pytest.approx(true, abs=0.02)


@pytest.mark.parametrize("with_ends", [False, True])
def test_derivatives_of_the_rims_by_the_camera(with_ends: bool) -> None:
    """The slope of the fitted chi-square against small moves of the camera."""
    rng = np.random.default_rng(2)
    camera = Pinhole(1000, -7, 0.4)
    circle = Circle("r", "f", Plane.RIGHT, np.array([0.2, 3.0, -0.4]), np.array([math.sin(0.6), math.cos(0.6), 0]), 0.4)
    rim = arc_of(circle, camera, rng)
    if with_ends:
        (cx, cy), half, _, _, tilt = circle.ellipse(camera)
        a = math.radians(tilt - 90)
        along, middle = np.array([math.cos(a), -math.sin(a)]) * half, np.array([cx, cy])
        rim = Rim(
            "r",
            "f",
            Plane.RIGHT,
            rim.points,
            points_of(np.stack([middle - along + (1, 3), middle + along - (2, 2)])),  # type: ignore[arg-type]
            rim.points[4],
        )
    evidence = gather(Setup(1280, 960), (), {}, ((rim, fit_rim(rim.points, 1.0, rim.ends, rim.near)),))
    bank = evidence.rims
    assert bank is not None
    params = np.array([math.log(1000 / evidence.scale) + 0.04, math.radians(-5), 0.02, 0.01, 0.02, 0.55])

    def rested(at: Vec) -> RimLook:
        return bank.evaluate(at, bank.settled(at, bank.settled(at, bank.begin(at))))

    rest = rested(params)
    by = 2 * np.einsum("ri,rip->p", rest.z, rest.by)

    def cost(moved: Vec) -> float:
        return float(rested(moved).cost[0])

    for k in range(len(params)):
        step = np.zeros(len(params))
        step[k] = 1e-5
        assert by[k] == pytest.approx((cost(params + step) - cost(params - step)) / 2e-5, rel=2e-3, abs=0.05)


def test_a_flat_near_arc_says_its_side_by_the_ellipse_that_is_told() -> None:
    """Ten points over 187 px that bow up by 8: the best ellipse is a part of a huge lower arc, the likely
    one is not.
    """
    x = (492.8, 505.8, 525.3, 550.3, 576.5, 603.7, 628.1, 650.8, 670.5, 679.5)
    y = (395.6, 393.0, 388.4, 388.6, 387.5, 390.3, 390.1, 391.8, 391.6, 395.2)
    assert fit_rim(tuple(zip(x, y, strict=True)), 1.0).front == -1


def test_shape_vector_is_smooth_at_the_full_circle() -> None:
    fit = fit_rim(points_of(ellipse(100, 89.9)), 1.0)
    value, covariance = shape_vector(fit)
    assert np.hypot(*value) < 0.01 and np.all(np.isfinite(covariance)) and math.isfinite(fit.sds[1])


def test_a_circle_that_reaches_behind_the_eye_gives_finite_numbers() -> None:
    found = ellipse_of(np.array([0.0, 0.0, 0.0]), np.array([[3.0, 0, 2.5], [0, 3.0, 2.5]]))
    assert np.all(np.isfinite(found))


def test_principal_axes_are_named_largest_first() -> None:
    major, minor, angle = principal(np.array([0, 0, 20.0, 0, 90.0]))
    assert (major, minor, abs(angle)) == (pytest.approx(90), pytest.approx(20), pytest.approx(math.pi / 2))


@pytest.mark.parametrize(
    ("ends", "near", "least"), [(None, None, 5), (((0, 0), (9, 0)), None, 1), (((0, 0), (9, 0)), (4, 3), 0)]
)
def test_a_rim_must_keep_as_many_points_as_make_an_ellipse(
    ends: tuple[Point, Point] | None, near: Point | None, least: int
) -> None:
    rim = Rim("r", "tin", Plane.LEVEL, tuple((float(k), float(k * k % 7)) for k in range(8)), ends, near)
    assert rim.least_points == least
    if least:
        with pytest.raises(ValueError, match=r"near arc|five points"):
            fit_rim(rim.points[: least - 1], 1.0, ends, near)
