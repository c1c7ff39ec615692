"""A view found behind lines that nobody has named: eye level, bearings, slopes, circles, and forms told apart."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from aspectum.core.finding.circles import bends, candidates, drawn, fit_circle, plane_map
from aspectum.core.finding.forms import components, families_of, gaps, group, to_the_right
from aspectum.core.finding.lines import Lines, all_turned
from aspectum.core.finding.neighbours import neighbours
from aspectum.core.finding.search import circle_axes, doubt, find_guesses, gather_piles, widening
from aspectum.core.finding.settle import NONE, UPRIGHT, Found, completed, settled
from aspectum.core.finding.slopes import find_slopes
from aspectum.core.finding.sureness import (
    EDGE_INPUTS,
    EDGE_WEIGHTS,
    LEAST_ALONE,
    RIM_INPUTS,
    RIM_WEIGHTS,
    is_family,
    probability,
)
from aspectum.core.sightings import Family, FormKind
from aspectum.core.view.camera import FIRST_BEARING, LOG_F, PITCH, ROLL, camera_matrix
from tests.finding_scenes import HEIGHT, WIDTH, box_lines, boxes_seen, pinhole, scaled, turned_over
from tests.samples import sample

NO_ROUNDS = np.zeros((0, 6))
MATTERS = 0.005  # of the picture's height


def found_in(lines: Lines, focal_35mm: float | None = None) -> Found:
    like, straight = neighbours(lines.p, lines.q, 2 * lines.scale).like, np.ones(len(lines), bool)
    guesses = find_guesses(lines, focal_35mm, like, NO_ROUNDS)
    first = settled(lines, straight, guesses[0], focal_35mm)
    assert first is not None
    return replace(completed(first, straight, guesses[0], focal_35mm), doubt=doubt(guesses, lines))


def middle_of(found: Found) -> float:
    left, right, _ = found.eye_level()
    return (left + right) / 2


def folded(bearing_deg: float) -> float:
    return bearing_deg % 90.0


def test_eye_level_and_bearings_of_boxes_are_found_among_lines_that_mean_nothing() -> None:
    right = 0
    for seed in range(10):
        seen = boxes_seen(seed)
        found = found_in(seen.lines)
        miss = abs(middle_of(found) - seen.eye_level_px)
        if miss > MATTERS * HEIGHT:
            # nearly half of the lines mean nothing: where they win, views that explain as much leave a doubt of that
            # size
            assert found.eye_level()[2] > miss / 2
            continue
        right += 1
        bearings = [folded(float(np.degrees(b))) for b in found.bearings]
        for true in seen.bearings_deg:
            assert any(abs((folded(true) - b + 45) % 90 - 45) < 2.0 for b in bearings)
    assert right >= 9


def test_the_edges_take_the_families_that_they_run_in_and_clutter_mostly_none() -> None:
    seen = boxes_seen(1, clutter=40)
    found = found_in(seen.lines)
    assert (found.slot[: seen.true] != NONE).mean() > 0.9
    assert (found.slot[seen.true :] == NONE).mean() > 0.6
    # every third edge of a box as it is made is an upright
    steep = np.abs(seen.lines.way[: seen.true, 1]) > 0.95
    assert (found.slot[: seen.true][steep] == UPRIGHT).mean() > 0.8


@pytest.mark.parametrize("seed", range(4))
def test_mirroring_and_scaling_the_picture_change_nothing_that_they_should_not(seed: int) -> None:
    seen = boxes_seen(seed + 20, clutter=8)
    plain, mirrored, larger = found_in(seen.lines), found_in(turned_over(seen.lines)), found_in(scaled(seen.lines, 2.5))
    assert middle_of(mirrored) == pytest.approx(middle_of(plain), abs=1.5)
    assert middle_of(larger) / 2.5 == pytest.approx(middle_of(plain), abs=1.5)
    left, right, _ = plain.eye_level()
    other_left, other_right, _ = mirrored.eye_level()
    assert (other_left, other_right) == pytest.approx((right, left), abs=2.5)


def test_the_stated_error_of_eye_level_is_about_the_one_it_has() -> None:
    z = []
    for seed in range(100, 100 + sample(24, 12)):
        seen = boxes_seen(seed, error_px=0.7)
        found = found_in(seen.lines)
        z.append((middle_of(found) - seen.eye_level_px) / found.eye_level()[2])
    # fresh scenes: most within two of it, and not all within a fifth
    assert np.mean(np.abs(z) < 2.0) > 0.85
    assert np.median(np.abs(z)) > 0.1


def test_a_lens_that_is_known_is_kept_to() -> None:
    seen = boxes_seen(5)
    known = seen.focal_px * 36.0 / WIDTH
    assert found_in(seen.lines, known).focal()[0] == pytest.approx(seen.focal_px, rel=0.03)


def test_lines_that_run_anyhow_make_no_view_that_explains_them() -> None:
    rng = np.random.default_rng(9)
    middle, angle = rng.uniform([0, 0], [WIDTH, HEIGHT], (120, 2)), rng.uniform(0, np.pi, 120)
    way = 40 * np.stack([np.cos(angle), np.sin(angle)], axis=1)
    lines = Lines(middle - way, middle + way, WIDTH, HEIGHT)
    boxes = boxes_seen(0)
    assert (
        find_guesses(lines, None, np.zeros(120), NO_ROUNDS)[0].score
        < 0.7 * find_guesses(boxes.lines, None, np.zeros(len(boxes.lines)), NO_ROUNDS)[0].score
    )


def fan(focal: float, pitch_deg: float, rng: np.random.Generator) -> Lines:
    """Level edges that all run anyhow, near eye level on both sides of it, and uprights."""
    at = rng.uniform([-3.0, 6.0, -0.5], [3.0, 9.0, 0.4], (24, 3))
    bearing = rng.uniform(0, np.pi, 24)
    ways = 0.7 * np.stack([np.sin(bearing), np.cos(bearing), np.zeros(24)], axis=1)
    feet = rng.uniform([-3.0, 6.0, -0.8], [3.0, 9.0, -0.4], (12, 3))
    ends = np.concatenate(
        [np.stack([at - ways, at + ways], axis=1), np.stack([feet, feet + np.array([0.0, 0.0, 1.0])], axis=1)]
    )
    seen = pinhole(ends.reshape(-1, 3), focal, pitch_deg, 0.0).reshape(-1, 2, 2) + rng.normal(0, 0.3, (36, 2, 2))
    return Lines(seen[:, 0], seen[:, 1], WIDTH, HEIGHT)


def test_level_edges_of_any_bearing_near_eye_level_are_no_fewer_for_that() -> None:
    # each thing at a bearing of its own: no pile holds many, but near eye level an edge can hardly be tilted whatever
    # it is
    missed = []
    for seed in range(6):
        lines = fan(1200.0, 0.0, np.random.default_rng(seed))
        missed.append(abs(middle_of(found_in(lines)) - HEIGHT / 2) / HEIGHT)
    assert np.median(missed) < 0.02


def test_under_a_long_lens_a_pile_holds_no_line_of_another_tilt() -> None:
    rng = np.random.default_rng(7)
    at, turn = rng.uniform([300, 250], [900, 650], (60, 2)), rng.uniform(0, np.pi, 60)
    way = 30.0 * np.stack([np.cos(turn), np.sin(turn)], axis=1)
    anyhow = Lines(at - way, at + way, WIDTH, HEIGHT)
    weight, taken, bearings = np.ones(60), np.empty(60), np.empty(1)
    long = view(8000.0)
    gather_piles(
        camera_matrix(long), anyhow.middle, anyhow.way, anyhow.tilt_sd, weight, np.zeros((0, 8)), taken, bearings, 0.5
    )
    # one bearing and the uprights: each within three deviations of a fan of two degrees either way
    assert (taken > 0.1).mean() < 0.35


def test_a_line_that_leads_to_a_point_need_not_turn_and_one_square_to_it_a_right_angle() -> None:
    lines = Lines(
        np.array([[600.0, 450.0], [600.0, 450.0], [590.0, 400.0]]),
        np.array([[700.0, 450.0], [700.0, 400.0], [610.0, 400.0]]),
        WIDTH,
        HEIGHT,
    )
    ahead, far_right, above = [2.0, 0.0, 1.0], [1.0, 0.0, 0.0], [0.0, -1.0, 0.0]
    turned = np.degrees(all_turned(np.array([ahead, far_right, above]), lines.middle, lines.way))
    assert turned[0] == pytest.approx([0.0, 0.0, 90.0], abs=1e-9)
    assert turned[1, 1:] == pytest.approx([np.degrees(np.arctan2(50, 100)), np.degrees(np.arctan2(100, 50))])
    assert turned[2, 1:] == pytest.approx([0.0, 90.0], abs=1e-9)


def test_a_direction_that_no_edge_square_to_it_shows_needs_more_to_be_a_family() -> None:
    assert is_family(0, {0: 1.1, 1: 1.0}) and is_family(1, {0: 1.1, 1: 1.0})
    assert not is_family(0, {0: 1.1, 1: 0.9}) and not is_family(0, {0: 1.1})
    assert is_family(3, {3: LEAST_ALONE, 0: 2.0, 1: 2.0})
    assert is_family(UPRIGHT, {UPRIGHT: 1.0})


def test_a_view_that_explains_little_is_less_sure_than_its_lines_say() -> None:
    assert widening(0.4) == widening(0.9) == 1.0
    assert widening(0.2) == pytest.approx(8.0)


def test_hardly_a_line_makes_no_view() -> None:
    lines = Lines(np.array([[10.0, 10.0]]), np.array([[90.0, 12.0]]), WIDTH, HEIGHT)
    assert find_guesses(lines, None, np.zeros(1), NO_ROUNDS) == []


def test_views_that_explain_as_much_leave_a_doubt() -> None:
    seen = boxes_seen(2)
    best, *_ = find_guesses(seen.lines, None, np.zeros(len(seen.lines)), NO_ROUNDS)
    assert doubt([best], seen.lines) == (0.0, 0.0)
    shifted = best.params.copy()
    shifted[PITCH] += np.radians(5)
    far = type(best)(shifted, best.score)
    assert doubt([best, far], seen.lines)[0] > 40
    assert doubt([best, type(best)(shifted, best.score - 0.5)], seen.lines)[0] < 1.0


def view(focal_px: float, pitch_deg: float = 0.0, roll_deg: float = 0.0) -> np.ndarray:
    params = np.zeros(FIRST_BEARING)
    params[LOG_F], params[PITCH], params[ROLL] = (
        np.log(focal_px / (np.hypot(WIDTH, HEIGHT) / 2)),
        np.radians(pitch_deg),
        np.radians(roll_deg),
    )
    return params


def test_a_ramp_is_found_where_the_handbook_puts_its_vanishing_point() -> None:
    # handbook section 2: level camera, f = 1000, plan bearing 20° right, rise 1 in 6: 364.0 to the right, 177.4 above
    rise = np.arctan(1 / 6)
    b = np.radians(20.0)
    way = np.array([np.cos(rise) * np.sin(b), np.cos(rise) * np.cos(b), np.sin(rise)])
    ramp = np.array(
        [
            [at, np.array(at) + 3 * way]
            for at in ((-1.0, 5.0, -1.5), (0.2, 5.4, -1.5), (1.0, 6.0, -1.2), (-0.5, 7.0, -1.5))
        ]
    )
    boxes = np.concatenate(
        [box_lines((-3.0, 6.0, -1.6), (2.0, 1.5, 1.2), 20.0), box_lines((0.5, 9.0, -1.6), (2.0, 1.5, 2.2), 20.0)]
    )
    ends = pinhole(np.concatenate([boxes, ramp]).reshape(-1, 3), 1000.0, 0.0, 0.0).reshape(-1, 2, 2)
    lines = Lines(ends[:, 0], ends[:, 1], WIDTH, HEIGHT)
    found = found_in(lines, 1000.0 * 36.0 / WIDTH)
    # it climbs so little that it must be told from a level edge: only steeper ones are looked for
    steep = [s for s in find_slopes(found) if set(s.members.tolist()) >= set(range(len(boxes), len(boxes) + 3))]
    assert np.degrees(rise) < 12 and not steep
    point = camera_matrix(view(1000.0)) @ way
    unit = np.hypot(WIDTH, HEIGHT) / 2
    assert (point[:2] / point[2] * unit).tolist() == pytest.approx([364.0, -177.4], abs=0.1)


def test_rakes_are_one_slope_on_the_plan_of_their_gable() -> None:
    b, rise = np.radians(-40.0), np.radians(35.0)
    way = np.array([np.cos(rise) * np.sin(b), np.cos(rise) * np.cos(b), np.sin(rise)])
    rakes = np.array([[at, np.array(at) + 2.2 * way] for at in ((1.0, 6.0, 0.6), (1.1, 6.1, 0.8), (2.2, 7.5, 0.6))])
    walls = np.concatenate(
        [box_lines((0.5, 6.0, -1.6), (3.0, 2.5, 2.2), 50.0), box_lines((-3.0, 7.0, -1.6), (2.0, 1.5, 1.2), 50.0)]
    )
    ends = pinhole(np.concatenate([walls, rakes]).reshape(-1, 3), 1000.0, 0.0, 0.0).reshape(-1, 2, 2)
    found = found_in(Lines(ends[:, 0], ends[:, 1], WIDTH, HEIGHT), 1000.0 * 36.0 / WIDTH)
    slopes = find_slopes(found)
    assert len(slopes) == 1
    assert sorted(slopes[0].members.tolist()) == [len(walls), len(walls) + 1, len(walls) + 2]
    assert abs(np.degrees(slopes[0].angle)) == pytest.approx(35.0, abs=1.5)


def test_a_circle_is_had_back_from_its_image_on_a_level_plane() -> None:
    # handbook section 3: level camera, f = 1000, radius 0.1 at 0.4 below the eye, 3 ahead and 1 to the side
    camera = camera_matrix(view(1000.0))
    to_plane = plane_map(camera, np.array([0.0, 0.0, 1.0]))
    turns = np.linspace(0, 2 * np.pi, 200, endpoint=False)
    places = pinhole(
        np.stack([1.0 + 0.1 * np.cos(turns), 3.0 + 0.1 * np.sin(turns), np.full(200, -0.4)], axis=1), 1000.0, 0.0, 0.0
    )
    scale = float(np.hypot(WIDTH, HEIGHT)) / 2
    rows = candidates(places[:120], np.array([[0, 120]], np.intp), to_plane, scale, WIDTH / 2, HEIGHT / 2)
    x, y, r = rows[0]
    # the plane lies an eye's distance away: everything over 0.4
    assert np.hypot(x, y) == pytest.approx(np.hypot(1.0, 3.0) / 0.4, rel=1e-6)
    assert r == pytest.approx(0.1 / 0.4, rel=1e-6)
    again, whole = drawn(rows[0], np.ascontiguousarray(np.linalg.inv(to_plane)), scale, WIDTH / 2, HEIGHT / 2, 64)
    assert whole
    assert np.linalg.norm(again[:, None] - places[None], axis=2).min(axis=1).max() < 1.0


def test_of_the_two_axes_of_an_ellipse_one_is_the_circle_s_own() -> None:
    camera = camera_matrix(view(1000.0, pitch_deg=-12.0))
    scale = float(np.hypot(WIDTH, HEIGHT)) / 2
    turns = np.linspace(0, 2 * np.pi, 400, endpoint=False)
    places = pinhole(
        np.stack([0.4 + 0.2 * np.cos(turns), 3.0 + 0.2 * np.sin(turns), np.full(400, -0.8)], axis=1), 1000.0, -12.0, 0.0
    )
    middle = (places.max(axis=0) + places.min(axis=0)) / 2
    x, y = (places - middle).T
    a, b, c = np.linalg.lstsq(np.stack([x * x, 2 * x * y, y * y], axis=1), np.ones(400), rcond=None)[0]
    values, vectors = np.linalg.eigh(np.array([[a, b], [b, c]]))
    major, minor = 1 / np.sqrt(values)
    way = float(np.arctan2(vectors[1, 0], vectors[0, 0]))
    here = (middle - np.array([WIDTH, HEIGHT]) / 2) / scale
    axes = circle_axes(np.array([[*here, major / scale, minor / scale, way, 1.0]]), 1000.0 / scale, 1.0)[0, :6].reshape(
        2, 3
    )
    ups = np.abs((axes / np.array([1000.0 / scale, 1000.0 / scale, 1.0])) @ camera[:, 2])
    assert ups.max() == pytest.approx(1.0, abs=0.01)


def test_a_line_fits_no_circle_and_a_straight_chain_is_no_bend() -> None:
    assert np.isnan(fit_circle(np.arange(5.0), 2 * np.arange(5.0))[2])
    chain = np.stack([np.arange(60.0), 0.5 * np.arange(60.0)], axis=1)
    assert len(bends(chain, np.array([0, 60]), np.radians(24), 12)) == 0
    turns = np.linspace(0, np.pi, 60)
    assert len(bends(40 * np.stack([np.cos(turns), np.sin(turns)], axis=1), np.array([0, 60]), np.radians(24), 12)) > 3


def test_courses_have_their_like_about_them_and_the_edge_of_a_wall_is_longer() -> None:
    courses = np.array([[[100.0, 100.0 + 12 * k], [160.0, 100.0 + 12 * k]] for k in range(8)])
    wall = np.array([[[60.0, 95.0], [400.0, 95.0]], [[60.0, 95.0], [60.0, 300.0]]])
    ends = np.concatenate([courses, wall])
    about = neighbours(ends[:, 0], ends[:, 1], 1000.0)
    assert about.like[3] >= 4 and about.like[8] == 0
    assert about.longer[8] > 1.0 > abs(about.longer[3])
    assert about.corners[8] == 1 and about.corners[9] == 1


def chords(around: int, parts: int) -> np.ndarray:
    """The chords (parts, 2, 2) of part of a circle that would have ``around`` of them, the same way round."""
    turns = 2 * np.pi * np.arange(parts + 1) / around
    places = 500.0 + 150.0 * np.stack([np.cos(turns), np.sin(turns)], axis=1)
    return np.stack([places[:-1], places[1:]], axis=1)


def test_the_chords_of_a_rim_are_bent_and_the_sides_of_a_box_are_not() -> None:
    whole, part = chords(16, 16), chords(16, 5)
    assert (neighbours(whole[:, 0], whole[:, 1], 1000.0).bent == 1.0).all()
    assert neighbours(part[:, 0], part[:, 1], 1000.0).bent.tolist() == [0.5, 1.0, 1.0, 1.0, 0.5]
    # a box seen across its corner: at either end of the top edges one turn is an upright's
    places = np.array([[100.0, 300.0], [110.0, 120.0], [300.0, 90.0], [520.0, 125.0], [510.0, 290.0], [300.0, 340.0]])
    box = np.stack([places, np.roll(places, -1, axis=0)], axis=1)
    assert (neighbours(box[:, 0], box[:, 1], 1000.0).bent == 0.0).all()


def test_turning_and_mirroring_a_bend_leave_it_one() -> None:
    part = chords(16, 5)
    turn = np.array([[np.cos(1.0), -np.sin(1.0)], [np.sin(1.0), np.cos(1.0)]])
    for other in (part @ turn.T, (part * [-1.0, 1.0])[:, ::-1], 2.5 * part):
        assert sorted(neighbours(other[:, 0], other[:, 1], 1000.0).bent.tolist()) == [0.5, 0.5, 1.0, 1.0, 1.0]


def test_boxes_apart_are_two_forms_and_one_that_reaches_above_the_eye_is_a_building() -> None:
    def square(x: float, y: float, size: float) -> list[list[list[float]]]:
        return [
            [[x, y], [x + size, y - 5]],
            [[x, y + size], [x + size, y + size + 5]],
            [[x, y + size / 2], [x + size, y + size / 2]],
        ]

    near = [*square(100, 500, 120), *square(700, 100, 420)]
    uprights = [[[100, 500], [100, 620]], [[700, 100], [700, 520]]]
    ends = np.array([*near, *uprights], float)
    slot = np.array([0] * 6 + [UPRIGHT] * 2)
    grouped = group(ends[:, 0], ends[:, 1], slot, 1, 300.0, (WIDTH, HEIGHT))
    assert len(set(grouped.form[:3])) == 1 and len(set(grouped.form[3:6])) == 1
    assert grouped.form[0] != grouped.form[3]
    assert grouped.form[6] == grouped.form[0] and grouped.form[7] == grouped.form[3]
    assert grouped.kinds[grouped.form[0]] is FormKind.BOX and grouped.kinds[grouped.form[3]] is FormKind.BUILDING


def test_uprights_alone_are_one_form() -> None:
    p, q = np.array([[100.0, 100.0], [300.0, 100.0]]), np.array([[100.0, 500.0], [300.0, 500.0]])
    grouped = group(p, q, np.array([UPRIGHT, UPRIGHT]), 1, 300.0, (WIDTH, HEIGHT))
    assert grouped.form.tolist() == [0, 0] and grouped.kinds == (FormKind.BUILDING,)


def test_what_touches_is_one_and_crossing_lines_have_no_gap() -> None:
    joined = np.array([[1, 1, 0, 0], [1, 1, 0, 0], [0, 0, 1, 0], [0, 0, 0, 1]], bool)
    assert components(joined).tolist() == [0, 0, 1, 2]
    p, q = np.array([[0.0, 0.0], [5.0, -5.0], [20.0, 0.0]]), np.array([[10.0, 0.0], [5.0, 5.0], [20.0, 9.0]])
    between = gaps(p, q)
    assert between[0, 1] == 0.0 and between[0, 2] == pytest.approx(10.0)


def test_a_family_that_vanishes_beyond_four_picture_widths_runs_across() -> None:
    camera, scale = camera_matrix(view(1000.0)), float(np.hypot(WIDTH, HEIGHT)) / 2
    # f tan b = 4 widths at b = 78.2°: a few degrees more and it runs across, its square partner away
    assert families_of(camera, np.radians(30), scale, WIDTH) == (Family.RIGHT, Family.LEFT)
    assert families_of(camera, np.radians(82), scale, WIDTH) == (Family.ACROSS, Family.DEPTH)
    assert families_of(camera, np.radians(8), scale, WIDTH) == (Family.DEPTH, Family.ACROSS)
    assert np.degrees(to_the_right(np.radians(-30))) == pytest.approx(60.0)


def test_a_line_is_surer_to_be_an_edge_the_longer_and_the_evener_it_is() -> None:
    assert len(EDGE_WEIGHTS) == len(EDGE_INPUTS) + 1 and len(RIM_WEIGHTS) == len(RIM_INPUTS) + 1
    usual = np.zeros((1, len(EDGE_INPUTS)))
    usual[0, EDGE_INPUTS.index("length")] = np.log(0.1)
    longer, even = usual.copy(), usual.copy()
    longer[0, EDGE_INPUTS.index("length")] = np.log(0.3)
    even[0, EDGE_INPUTS.index("even")] = 1.0
    least = probability(usual, EDGE_WEIGHTS)[0]
    assert 0 < least < probability(longer, EDGE_WEIGHTS)[0] < 1
    assert least < probability(even, EDGE_WEIGHTS)[0]
