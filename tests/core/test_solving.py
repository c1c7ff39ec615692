"""Properties of the solver: a projected scene is solved back, and turning, mirroring or scaling
the picture changes nothing that it should not."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aspectum.core.check import check
from aspectum.core.findings import CheckResult
from aspectum.core.plane.lines import Floats, tilt_difference, wrap_tilt
from aspectum.core.plane.meet import Segments, residual_with_slope
from aspectum.core.sightings import Edge, Family, Perspective, Setup
from aspectum.core.view import perspective
from aspectum.core.view.camera import ROLL, vanishing, vanishing_with_slopes
from aspectum.core.view.evidence import gather
from tests.reasons import edge_reason
from tests.round_scenes import quay_scene
from tests.samples import sample
from tests.scenes import Scene, random_scene

seeds = st.integers(0, 10_000)
few = settings(max_examples=sample(25, 12), deadline=None)


def scene_of(seed: int, pitch: tuple[float, float] = (1, 20)) -> Scene:
    return random_scene(np.random.default_rng(seed), pitch)


def level_at(result: CheckResult, x: float, width: float) -> float:
    height = result.eye_level.height_at(x, width)
    assert height is not None
    return height


@few
@given(seeds)
def test_a_projected_scene_is_solved_back(seed: int) -> None:
    scene = scene_of(seed)
    # so fine that the faint hold on a usual lens draws eye level by less than a twentieth of a pixel
    result = check(replace(scene.setup, point_sd_px=0.01), scene.edges)
    assert level_at(result, 640, 1280) == pytest.approx(scene.eye_level_px, abs=0.05)
    assert result.camera is not None
    assert result.camera.focal_px == pytest.approx(scene.camera.focal_px, rel=1e-3)
    assert result.camera.pitch_deg == pytest.approx(scene.camera.pitch_deg, abs=0.01)
    assert result.camera.roll_deg == pytest.approx(scene.camera.roll_deg, abs=0.01)
    # leaving one out is one linear step: where the rest hardly hold an edge, it is as exact as they hold it
    assert all(abs(edge_reason(f).turn_deg) <= max(0.01, 0.02 * (f.implied_sd or 0.0)) for f in result.findings)


@few
@given(seeds, st.floats(0.25, 4))
def test_scaling_the_picture_scales_lengths_and_leaves_angles(seed: int, k: float) -> None:
    scene = scene_of(seed)
    edges = scene.sighted(np.random.default_rng(seed))
    small = [replace(e, p=(e.p[0] * k, e.p[1] * k), q=(e.q[0] * k, e.q[1] * k)) for e in edges]
    a, b = (
        check(scene.setup, edges),
        check(Setup(round(1280 * k), round(960 * k), point_sd_px=1.5 * k, centre_px=(640 * k, 480 * k)), small),
    )
    a = check(replace(scene.setup, centre_px=(640, 480)), edges)
    assert level_at(b, 640 * k, 1280 * k) == pytest.approx(level_at(a, 640, 1280) * k, abs=0.3 * k)
    same_findings(a, b)


@few
@given(seeds)
def test_mirroring_the_picture_mirrors_every_answer(seed: int) -> None:
    scene = scene_of(seed)
    edges = scene.sighted(np.random.default_rng(seed))
    swap = {Family.LEFT: Family.RIGHT, Family.RIGHT: Family.LEFT}
    mirrored = [
        replace(e, family=swap.get(e.family, e.family), p=(1280 - e.p[0], e.p[1]), q=(1280 - e.q[0], e.q[1]))
        for e in edges
    ]
    a, b = check(scene.setup, edges), check(scene.setup, mirrored)
    assert level_at(b, 640, 1280) == pytest.approx(level_at(a, 640, 1280), abs=0.2)
    same_findings(a, b, mirror=True)


@few
@given(seeds, st.floats(-25, 25))
def test_turning_the_picture_turns_every_tilt(seed: int, angle: float) -> None:
    scene = scene_of(seed)
    edges = scene.sighted(np.random.default_rng(seed))
    c, s = np.cos(np.radians(angle)), np.sin(np.radians(angle))

    def turn(p: tuple[float, float]) -> tuple[float, float]:
        x, y = p[0] - 640, p[1] - 480
        return float(c * x + s * y + 640), float(-s * x + c * y + 480)

    with pytest.MonkeyPatch.context() as patch:
        # a camera is held about level: without that a turn changes nothing else
        patch.setitem(perspective.FAINT_SD, ROLL, 30.0)
        a = check(scene.setup, edges)
        b = check(scene.setup, [replace(e, p=turn(e.p), q=turn(e.q)) for e in edges])
    for f, g in zip(a.findings, b.findings, strict=True):
        assert f.verdict is g.verdict
        if f.implied is not None and g.implied is not None:
            assert tilt_difference(g.implied, wrap_tilt(f.implied + angle)) == pytest.approx(0, abs=0.05)
    assert a.camera is not None and b.camera is not None
    if a.camera.roll_deg is not None and b.camera.roll_deg is not None:
        assert b.camera.roll_deg - a.camera.roll_deg == pytest.approx(angle, abs=0.05)


def same_findings(a: CheckResult, b: CheckResult, mirror: bool = False) -> None:
    for f, g in zip(a.findings, b.findings, strict=True):
        assert f.verdict is g.verdict
        assert (f.implied is None) == (g.implied is None)
        if f.implied is not None and g.implied is not None and f.implied_sd is not None:
            other = -g.implied if mirror else g.implied
            assert abs(float(tilt_difference(other, f.implied))) < 0.02 + 0.05 * f.implied_sd


@few
@given(seeds)
def test_order_and_direction_of_laying_do_not_matter(seed: int) -> None:
    scene = scene_of(seed)
    edges = scene.sighted(np.random.default_rng(seed))
    back = [replace(e, p=e.q, q=e.p) for e in reversed(edges)]
    a, b = check(scene.setup, edges), check(scene.setup, back)
    assert level_at(b, 640, 1280) == pytest.approx(level_at(a, 640, 1280), abs=0.1)
    assert [f.verdict for f in a.findings] == [f.verdict for f in reversed(b.findings)]


def test_the_answer_to_a_drag_does_not_depend_on_where_the_hand_came_from() -> None:
    """Nothing of an earlier answer goes into a later one, to the last bit; with rims, whose fits are kept, as well."""
    scene, _, rims = quay_scene(np.random.default_rng(14))
    edges = scene.sighted(np.random.default_rng(2))

    def at(dx: float, dy: float) -> CheckResult:
        (px, py), rim = edges[0].p, rims[0]
        dragged = replace(rim, points=((rim.points[0][0] + dy, rim.points[0][1] + dx), *rim.points[1:]))
        return check(scene.setup, [replace(edges[0], p=(px + dx, py + dy)), *edges[1:]], rims=[dragged, *rims[1:]])

    straight_there = at(6.0, -4.0)
    for step in range(8):
        at(40.0 - 5 * step, 9.0 * step - 70.0)
    assert at(6.0, -4.0) == straight_there


@given(st.integers(0, 200))
@settings(max_examples=30, deadline=None)
def test_written_derivatives_match_differences(seed: int) -> None:
    rng = np.random.default_rng(seed)
    families = (Family.LEFT, Family.RIGHT, Family.UPRIGHT, Family.SLOPE, Family.DEPTH)
    ends = rng.uniform(0, 900, (5, 2, 2)).tolist()
    edges = tuple(
        Edge(f"{family}", "a" if k else "b", family, (p[0], p[1]), (q[0], q[1]), slope="s", plan=Family.LEFT)
        for k, (family, (p, q)) in enumerate(zip(families, ends, strict=True))
    )
    evidence = gather(Setup(1000, 800), edges, {"a/s": Family.LEFT})
    params = rng.normal(0, 0.4, evidence.size)
    v, dv = vanishing_with_slopes(params, evidence.slots)
    dr = np.empty((len(edges), 3))
    for i, (line, total, square) in enumerate(
        zip(evidence.segments.line, evidence.segments.total, evidence.segments.square, strict=True)
    ):
        residual_with_slope(line, total, float(square), v[evidence.slot[i]], dr[i])
    step = 1e-6
    for k in range(evidence.size):
        up, down = params.copy(), params.copy()
        up[k] += step
        down[k] -= step
        assert dv[:, :, k] == pytest.approx(
            (vanishing(up, evidence.slots) - vanishing(down, evidence.slots)) / (2 * step), abs=1e-6
        )
    for k in range(3):
        moved = [v[evidence.slot].copy() for _ in range(2)]
        moved[0][:, k] += step
        moved[1][:, k] -= step
        slope = (residuals(evidence.a, evidence.b, moved[0]) - residuals(evidence.a, evidence.b, moved[1])) / (2 * step)
        assert dr[:, k] == pytest.approx(slope, rel=1e-3, abs=1e-5)


def residuals(a: Floats, b: Floats, v: Floats) -> Floats:
    """Of every edge, ends ``a`` and ``b`` (n, 2), to its point ``v`` (n, 3)."""
    laid, unused = Segments.of(a, b), np.empty(3)
    rows = zip(laid.line, laid.total, laid.square, v, strict=True)
    return np.array(
        [residual_with_slope(line, total, float(square), point, unused) for line, total, square, point in rows]
    )


def test_residual_is_the_least_distance_of_both_ends_to_a_line_through_the_point() -> None:
    a, b, v = np.array([[3.0, 1.0]]), np.array([[7.0, 2.5]]), np.array([[40.0, -9.0, 1.0]])
    angles = np.linspace(0, np.pi, 200_001)
    normals = np.stack([np.cos(angles), np.sin(angles)], axis=1)
    squares = ((a - v[:, :2]) @ normals.T) ** 2 + ((b - v[:, :2]) @ normals.T) ** 2
    assert abs(float(residuals(a, b, v)[0])) == pytest.approx(float(np.sqrt(squares.min())), abs=1e-6)


def test_perspective_is_chosen_by_the_sightings() -> None:
    rng = np.random.default_rng(8)
    steep = random_scene(rng, (18, 22))
    level = random_scene(rng, (0, 0.3))
    assert check(steep.setup, steep.sighted(rng)).perspective is Perspective.THREE_POINT
    assert check(level.setup, level.sighted(rng)).perspective is Perspective.TWO_POINT
