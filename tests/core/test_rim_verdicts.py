"""What is off about a rim, which way and why; the rest stays as it is."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aspectum.core.check import check
from aspectum.core.findings import CheckResult, Finding, NoteCode
from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.reasons import Fault, RimReason, Rule
from aspectum.core.sightings import Edge, Family, Perspective, Plane, Rim, Setup
from aspectum.core.tolerance import FREEHAND, Tolerances, Verdict
from tests.round_scenes import Circle, level_circle
from tests.scenes import Box, Pinhole, Vec, seen_edges

CAMERA = Pinhole(1100, -6, 0.3)
SETUP = Setup(1280, 960, point_sd_px=1.0)
BOX = Box((-0.35, 3.4, -1.1), 40, (1.0, 0.8, 0.7))
Points = tuple[tuple[float, float], ...]


def points(image: Vec) -> Points:
    return tuple((float(x), float(y)) for x, y in image)


def laid(circle: Circle, arc_deg: float = 200.0, count: int = 13, seed: int = 0, camera: Pinhole = CAMERA) -> Rim:
    turn = np.radians(arc_deg) * np.linspace(-0.5, 0.5, count)
    image = camera.project(circle.at(turn)) + np.random.default_rng(seed).normal(0, 0.4, (count, 2))
    return Rim(circle.id, circle.form, circle.plane, points(image))


def opened(rim: Rim, circle: Circle, factor: float, camera: Pinhole = CAMERA) -> Rim:
    """The rim drawn rounder (factor above 1) or flatter about its own major axis."""
    centre, _, _, _, tilt = circle.ellipse(camera)
    a = math.radians(tilt)
    minor = np.array([math.cos(a), -math.sin(a)])
    d = np.array(rim.points) - centre
    return replace(rim, points=points(centre + d + np.outer(d @ minor, minor) * (factor - 1)))


def leaned(rim: Rim, degrees: float) -> Rim:
    a, p = math.radians(-degrees), np.array(rim.points)
    turn = np.array([[math.cos(a), -math.sin(a)], [math.sin(a), math.cos(a)]])
    middle = (p.max(axis=0) + p.min(axis=0)) / 2
    return replace(rim, points=points(middle + (p - middle) @ turn.T))


def moved(rim: Rim, dx: float, dy: float = 0.0) -> Rim:
    return replace(rim, points=tuple((x + dx, y + dy) for x, y in rim.points))


def edges(camera: Pinhole = CAMERA) -> list[Edge]:
    rng = np.random.default_rng(1)
    found = []
    for k, (family, start, stop) in enumerate(seen_edges(BOX)):
        p, q = camera.project(np.array([start, stop])) + rng.normal(0, 0.5, (2, 2))
        found.append(Edge(f"e{k}", "box", family, (float(p[0]), float(p[1])), (float(q[0]), float(q[1]))))
    return found


MOUTH = level_circle("mouth", "tin", (0.55, 3.0, -0.55), 0.28)
BASE = level_circle("base", "tin", (0.55, 3.0, -1.05), 0.28)
LAMP = level_circle("lamp", "lamp", (-0.5, 2.8, 0.35), 0.2)
FLAT = level_circle("flat", "flat", (-0.55, 2.6, -0.75), 0.22)
ALL = [MOUTH, BASE, LAMP, FLAT]


def judged(
    changed: dict[str, Rim] | None = None,
    with_edges: bool = True,
    tolerances: Tolerances = FREEHAND,
    more: list[Rim] | None = None,
) -> CheckResult:
    rims = [(changed or {}).get(c.id, laid(c, seed=k)) for k, c in enumerate(ALL)] + (more or [])
    return check(SETUP, edges() if with_edges else [], tolerances=tolerances, rims=rims, round_forms=frozenset({"tin"}))


def of(result: CheckResult, id: str) -> Finding:
    return next(f for f in result.findings if f.sighting == id)


def fault(result: CheckResult, id: str, rule: Rule) -> Fault:
    rim = of(result, id).rim
    assert rim is not None
    return next(f for f in rim.faults if f.rule is rule)


def others_hold(result: CheckResult, *but: str) -> bool:
    return all(f.verdict is not Verdict.OFF for f in result.findings if f.sighting not in but)


def test_well_laid_rims_and_edges_agree() -> None:
    result = judged()
    assert others_hold(result) and result.eye_level.source == "edges and rims"
    assert all(of(result, c.id).verdict is Verdict.HOLDS for c in ALL)
    assert result.eye_level.by_edges is not None and result.eye_level.by_rims is not None
    truth = CAMERA.eye_level_at(640)
    for level in (result.eye_level, result.eye_level.by_edges, result.eye_level.by_rims):
        height = level.height_at(640, 1280)
        assert height is not None and level.sd_px is not None and abs(height - truth) < 3 * level.sd_px
    joint = result.eye_level.sd_px or 0
    assert joint <= min(result.eye_level.by_edges.sd_px or 0, result.eye_level.by_rims.sd_px or 0) * 1.02


@pytest.mark.parametrize("circle", ALL)
def test_implied_degree_and_axis_are_those_of_the_true_circle(circle: Circle) -> None:
    _, major, _, degree, tilt = circle.ellipse(CAMERA)
    finding = of(judged(), circle.id)
    assert finding.implied is not None and finding.implied_sd is not None and finding.rim is not None
    assert abs(finding.implied - degree) < 3 * finding.implied_sd
    due = finding.rim.implied_ellipse
    assert isinstance(due, Ellipse)
    assert (due.axis_deg - tilt + 90) % 180 - 90 == pytest.approx(0, abs=3 * (finding.rim.axis_implied_sd or 0))
    assert due.major_px == pytest.approx(2 * major, rel=0.05)
    # either source alone says much the same
    for alone in (finding.rim.by_edges, finding.rim.by_rims):
        assert alone is not None and abs(alone[0] - degree) < 3.5 * alone[1] + 0.2


def test_a_base_drawn_flatter_than_its_mouth_is_named_so() -> None:
    result = judged({"base": opened(laid(BASE, seed=1), BASE, 0.35)})
    found = fault(result, "base", Rule.BASE_FLATTER)
    assert of(result, "base").verdict is Verdict.OFF
    assert (found.turn_deg or 0.0) == pytest.approx(
        BASE.ellipse(CAMERA)[3] - (of(result, "base").sighted or 0), abs=2.5
    )
    assert found.others == ("mouth",)
    assert others_hold(result, "base")


@pytest.mark.parametrize(("factor", "rule", "sign"), [(1.9, Rule.RIM_TOO_ROUND, -1), (0.3, Rule.RIM_TOO_FLAT, 1)])
def test_a_rim_too_round_or_too_flat(factor: float, rule: Rule, sign: int) -> None:
    result = judged({"flat": opened(laid(FLAT, seed=3), FLAT, factor)})
    assert np.sign(fault(result, "flat", rule).turn_deg or 0.0) == sign
    assert others_hold(result, "flat")


def test_one_stray_rim_does_not_move_eye_level() -> None:
    clean, stray = judged(), judged({"flat": opened(laid(FLAT, seed=3), FLAT, 1.9)})
    a, b = clean.eye_level.height_at(640, 1280), stray.eye_level.height_at(640, 1280)
    assert a is not None and b is not None and abs(a - b) < 1.5 * (clean.eye_level.sd_px or 0)


def test_a_rim_opened_at_eye_level() -> None:
    level = level_circle("level", "shelf", (0.1, 3.0, 0.0), 0.3)
    centre, major, _, _, tilt = level.ellipse(CAMERA)
    t = np.linspace(0, 2 * np.pi, 14, endpoint=False)
    a = math.radians(90 - tilt)
    flat = np.stack([major * np.cos(t), 0.22 * major * np.sin(t)], axis=1)
    drawn = Rim(
        "level",
        "shelf",
        Plane.LEVEL,
        points(flat @ np.array([[math.cos(a), math.sin(a)], [-math.sin(a), math.cos(a)]]) + centre),
    )
    result = judged(more=[drawn])
    assert (fault(result, "level", Rule.OPENED_AT_EYE_LEVEL).turn_deg or 0.0) == pytest.approx(-12.7, abs=1.5)


def test_an_arc_that_bows_the_wrong_way_for_its_side_of_eye_level() -> None:
    """Below eye level the near arc bows down; the base drawn with its upper arc is reversed."""
    turn = np.pi + np.radians(150) * np.linspace(-0.5, 0.5, 11)
    upper = Rim("base", "tin", Plane.LEVEL, points(CAMERA.project(BASE.at(turn))))
    result = judged({"base": upper})
    assert fault(result, "base", Rule.BOWS_WRONG_WAY)
    assert of(result, "base").verdict is Verdict.OFF
    lamp = of(judged(), "lamp")
    assert lamp.rim is not None and not lamp.rim.faults  # above eye level it bows up, as it should


@pytest.mark.parametrize("lean", [9.0, -9.0])
def test_a_minor_axis_off_the_forms_axis(lean: float) -> None:
    result = judged({"mouth": leaned(laid(MOUTH, 340, 16), lean)})
    assert (fault(result, "mouth", Rule.AXIS_OFF).turn_deg or 0.0) == pytest.approx(-lean, abs=2.0)
    assert others_hold(result, "mouth")


def test_of_three_rims_the_one_off_the_axis_is_named() -> None:
    band = level_circle("band", "tin", (0.55, 3.0, -0.8), 0.28)
    result = judged(more=[moved(laid(band, 340, 16, seed=9), 22)])
    found = fault(result, "band", Rule.NOT_ON_AXIS)
    assert found.sure and (found.size_px or 0.0) == pytest.approx(22, abs=4) and set(found.others) == {"mouth", "base"}
    assert of(result, "band").verdict is Verdict.OFF and others_hold(result, "band")


def test_of_two_rims_off_one_axis_neither_is_blamed() -> None:
    result = judged({"base": moved(laid(BASE, seed=1), 26)})
    for id, sign in (("base", 1), ("mouth", -1)):
        found = fault(result, id, Rule.NOT_ON_AXIS)
        assert not found.sure and np.sign(found.size_px or 0.0) == sign
        assert of(result, id).verdict is Verdict.UNSURE


def side_of_tin(shift: float) -> Edge:
    """The tin's right-hand outline as an upright edge, moved ``shift`` px to the right."""
    ends = []
    for circle in (MOUTH, BASE):
        image = CAMERA.project(circle.at(np.linspace(0, 2 * np.pi, 720)))
        ends.append(image[np.argmax(image[:, 0])])
    (x0, y0), (x1, y1) = ends
    return Edge("side", "tin", Family.UPRIGHT, (float(x0) + shift, float(y0)), (float(x1) + shift, float(y1)))


@pytest.mark.parametrize(("shift", "caught"), [(0, False), (18, True), (-18, True)])
def test_sides_meet_the_rims_without_a_corner(shift: float, caught: bool) -> None:
    rims = [laid(c, seed=k) for k, c in enumerate(ALL)]
    result = check(SETUP, [*edges(), side_of_tin(shift)], rims=rims, round_forms=frozenset({"tin"}))
    faults = [f for id in ("mouth", "base") for f in (of(result, id).rim.faults if of(result, id).rim else ())]  # type: ignore[union-attr]
    sides = [f for f in faults if f.rule is Rule.SIDE_MISSES]
    assert bool(sides) is caught
    for f in sides:
        assert (
            np.sign(f.size_px or 0.0) == np.sign(shift)
            and abs(f.size_px or 0.0) == pytest.approx(abs(shift), abs=5)
            and f.others == ("side",)
        )


def test_a_tutor_may_allow_the_lowest_rim_some_roundness_more() -> None:
    drawn = {"base": opened(laid(BASE, seed=1), BASE, 1.33)}
    assert of(judged(drawn), "base").verdict is Verdict.OFF
    assert of(judged(drawn, tolerances=replace(FREEHAND, lowest_rim_deg=6.0)), "base").verdict is not Verdict.OFF
    # only the lowest, and only rounder
    allowed = replace(FREEHAND, lowest_rim_deg=6.0)
    assert (
        of(judged({"base": opened(laid(BASE, seed=1), BASE, 0.5)}, tolerances=allowed), "base").verdict is Verdict.OFF
    )


def test_edges_and_rims_that_disagree_say_by_how_much_and_where_it_rests() -> None:
    """All rims drawn for an eye level 70 px lower than the edges have it."""
    shifted = [moved(laid(c, seed=k), 0, 70) for k, c in enumerate(ALL)]
    result = check(SETUP, edges(), rims=shifted)
    note = next(n for n in result.notes if n.code is NoteCode.EDGES_AGAINST_RIMS)
    assert note.value == pytest.approx(-70, abs=25)
    assert not any(n.code is NoteCode.EDGES_AGAINST_RIMS for n in judged().notes)


def test_the_far_end_of_a_lying_drum_is_the_rounder_one() -> None:
    b = math.radians(38)
    axis = np.array([math.sin(b), math.cos(b), 0.0])
    near = Circle("near", "drum", Plane.RIGHT, np.array([-0.8, 3.2, -0.8]), axis, 0.4)
    far = Circle("far", "drum", Plane.RIGHT, near.centre + 0.7 * axis, axis, 0.4)
    assert far.ellipse(CAMERA)[3] > near.ellipse(CAMERA)[3]
    drawn = [laid(near, 340, 16, 4), opened(laid(far, 190, 13, 5), far, 0.72)]
    result = judged(more=drawn)
    found = fault(result, "far", Rule.FAR_END_FLATTER)
    assert found.others == ("near",) and (found.turn_deg or 0.0) > 0
    well = judged(more=[laid(near, 340, 16, 4), laid(far, 190, 13, 5)])
    assert of(well, "far").verdict is Verdict.HOLDS and of(well, "far").reason.others == ("near",)
    right = next(v for v in result.vanishing_points if v.form == "drum" and v.family is Family.RIGHT)
    assert right.x_px is not None and right.x_px == pytest.approx(
        CAMERA.vanishing_point(axis)[0], abs=4 * (right.sd_px or 0)
    )


def test_a_wheel_on_a_wall_touches_the_middles_of_its_square() -> None:
    """Square along the wall's families; the wheel's true diameter lies beyond its widest part."""
    left, right, up = BOX.axes()[1], BOX.axes()[0], np.array([0.0, 0.0, 1.0])
    wheel = Circle("wheel", "box", Plane.LEFT, BOX.at(0.5, 0.0, 0.5), left, 0.25)
    result = check(SETUP, edges(), rims=[laid(wheel, 340, 16)])
    rim = of(result, "wheel").rim
    assert rim is not None and rim.implied_ellipse is not None
    touch = CAMERA.project(np.array([wheel.centre + 0.25 * d for d in (right, up, -right, -up)]))
    for true in touch:
        assert min(np.hypot(*(np.array(p) - true)) for p in rim.touch_px) < 4
    corners = CAMERA.project(np.array([wheel.centre + 0.25 * (i * right + k * up) for i in (-1, 1) for k in (-1, 1)]))
    for true in corners:
        assert min(np.hypot(*(np.array(p) - true)) for p in rim.square_px) < 5
    assert rim.true_centre_px == pytest.approx(CAMERA.project(wheel.centre[None])[0], abs=3)


def test_the_widest_part_of_a_level_rim_is_nearer_than_its_true_diameter() -> None:
    rim = of(judged(), "base").rim
    assert rim is not None and rim.diameter_px is not None
    middle = (rim.diameter_px[0][1] + rim.diameter_px[1][1]) / 2
    assert rim.sighted_ellipse.centre_px[1] > middle + 1


def test_the_ladder_gives_the_forms_rim_at_every_height() -> None:
    result = judged()
    ladder = next(x for x in result.ladders if x.form == "tin")
    scale = 0.5 / (BASE.ellipse(CAMERA)[0][1] - MOUTH.ellipse(CAMERA)[0][1])
    for rung in ladder.rungs:
        below = -0.55 - (rung.y_px - CAMERA.project(MOUTH.centre[None])[0][1]) * scale
        if not -1.3 < below < 0.4:
            continue
        *_, degree, _ = level_circle("x", "tin", (0.55, 3.0, below), 0.28).ellipse(CAMERA)
        assert rung.ellipse.degree_deg == pytest.approx(degree, abs=2.0)
        assert rung.ratio == pytest.approx(math.sin(math.radians(rung.ellipse.degree_deg)), abs=1e-6)
    at_level = min(ladder.rungs, key=lambda r: abs(r.units))
    assert at_level.ellipse.degree_deg < 0.5


def flat_rim(id: str, y: float, degree: float, form: str = "f", plane: Plane = Plane.LEVEL) -> Rim:
    t = np.linspace(0, 2 * np.pi, 14, endpoint=False)
    return Rim(
        id,
        form,
        plane,
        points(np.stack([400 + 90 * np.cos(t), y + 90 * math.sin(math.radians(degree)) * np.sin(t)], axis=1)),
    )


PARALLEL = Setup(800, 800, Perspective.PARALLEL, point_sd_px=0.5)


@pytest.mark.parametrize("pair", [(Family.LEFT, Family.RIGHT), (Family.DEPTH, Family.ACROSS)])
def test_a_parallel_drawing_gives_every_level_rim_one_degree(pair: tuple[Family, Family]) -> None:
    """Isometric: 35.26 degrees for all, whatever their height (ISO 5456-3)."""
    tan = math.tan(math.radians(30))
    axes = [
        Edge("l", "f", pair[0], (400, 500), (200, 500 - 200 * tan)),
        Edge("r", "f", pair[1], (400, 500), (600, 500 - 200 * tan)),
        Edge("u", "f", Family.UPRIGHT, (400, 500), (400, 300)),
    ]
    result = check(
        PARALLEL, axes, rims=[flat_rim("good", 200, 35.26), flat_rim("flat", 500, 24), flat_rim("round", 600, 46)]
    )
    assert of(result, "good").verdict is Verdict.HOLDS and of(result, "good").implied == pytest.approx(35.264, abs=0.01)
    assert (fault(result, "flat", Rule.RIM_TOO_FLAT).turn_deg or 0.0) == pytest.approx(11.26, abs=0.3)
    assert (fault(result, "round", Rule.RIM_TOO_ROUND).turn_deg or 0.0) == pytest.approx(-10.74, abs=0.3)
    reason = of(result, "flat").reason
    assert isinstance(reason, RimReason) and reason.open_deg == pytest.approx(11.26, abs=0.3)


def test_without_axes_level_rims_of_every_form_imply_each_other_in_a_parallel_drawing() -> None:
    result = check(PARALLEL, [], rims=[flat_rim("a", 200, 35), flat_rim("b", 300, 35, "g"), flat_rim("c", 500, 35)])
    assert all(f.verdict is Verdict.HOLDS and f.implied == pytest.approx(35, abs=0.2) for f in result.findings)


def test_a_lone_rim_of_a_parallel_drawing_has_nothing_to_go_by() -> None:
    """Neither itself, nor a rim of another plane; a wheel of another form may be turned differently."""
    wheels = [flat_rim("w", 500, 50, "wheel", Plane.LEFT), flat_rim("v", 600, 20, "other", Plane.LEFT)]
    for finding in check(PARALLEL, [], rims=[flat_rim("a", 200, 35), *wheels]).findings:
        assert finding.verdict is Verdict.UNSURE and finding.implied is None
        assert finding.reason.rule is Rule.NOTHING_TO_CHECK
    pair = check(PARALLEL, [], rims=[wheels[0], flat_rim("v", 600, 50, "wheel", Plane.LEFT)])
    assert [f.verdict for f in pair.findings] == [Verdict.HOLDS, Verdict.HOLDS]


SPOT = st.tuples(st.floats(-300, 1600), st.floats(-300, 1300))
AnyRim = tuple[Plane, str, list[tuple[float, float]]]
ANY_RIM = st.tuples(
    st.sampled_from(list(Plane)), st.sampled_from(["f", "g"]), st.lists(SPOT, min_size=5, max_size=9, unique=True)
)


@settings(max_examples=40, deadline=None)
@given(st.lists(ANY_RIM, min_size=1, max_size=4), st.booleans(), st.sampled_from(list(Perspective)))
def test_any_rims_give_finite_answers_or_none(
    laid_rims: list[AnyRim], with_edges: bool, perspective: Perspective
) -> None:
    rims = []
    for k, (plane, form, spots) in enumerate(laid_rims):
        if np.ptp(np.array(spots), axis=0).max() > 5:
            rims.append(Rim(f"r{k}", form, plane, tuple(spots)))
    result = check(
        replace(SETUP, perspective=perspective),
        edges()[:5] if with_edges else [],
        rims=rims,
        round_forms=frozenset("f"),
    )
    assert len(result.findings) == len(rims) + (5 if with_edges else 0)
    for finding in result.findings:
        for value in (finding.sighted, finding.sighted_sd, finding.implied, finding.implied_sd):
            assert value is None or math.isfinite(value)
    for rung in (r for ladder in result.ladders for r in ladder.rungs):
        assert 0 <= rung.ellipse.degree_deg <= 90 and math.isfinite(rung.ellipse.major_px)


@pytest.mark.parametrize("count", [0, 1, 2])
def test_degenerate_rims_never_crash_or_invent(count: int) -> None:
    line = Rim("line", "f", Plane.LEVEL, tuple((100.0 + 30 * k, 300.0) for k in range(6)))
    same = [replace(line, id=f"line{k}") for k in range(count)]
    result = check(
        SETUP,
        [],
        rims=[line, *same, Rim("far", "g", Plane.ACROSS, tuple((9000.0 + k * k, -4000.0 + 7 * k) for k in range(6)))],
    )
    for finding in result.findings:
        for value in (finding.sighted, finding.implied, finding.implied_sd):
            assert value is None or math.isfinite(value)
