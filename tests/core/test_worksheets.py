"""Worksheets: exact answers by the handbook's own numbers, and exercises that fit their sheet whatever the seed."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
import pytest

from aspectum.core.plane.lines import tilt_deg, tilt_difference
from aspectum.core.sightings import Alignment, Along, Division, Edge, Face, Family, Length, Point, Rim
from aspectum.core.tolerance import FREEHAND
from aspectum.core.worksheet.bringing import along_same, cornered, crossing, reach, turn_between
from aspectum.core.worksheet.exercise import Asked, Cross, Exercise, ExerciseKind, Grade, Role, Round, Stroke, Tag
from aspectum.core.worksheet.levels import PictureEdge, PictureGiven, fitted
from aspectum.core.worksheet.make import make
from aspectum.core.worksheet.window import on_ellipse

A4_FIELD, A3_FIELD = (273.0, 155.0), (396.0, 242.0)
KINDS, GRADES = list(ExerciseKind), list(Grade)


def asked(exercise: Exercise) -> Iterator[tuple[Asked, object]]:
    by_id = {s.id: s for s in exercise.truth}
    for one in exercise.asked:
        yield one, by_id[one.id]


def ellipse_asked(one: Asked) -> tuple[Point, float, float]:
    """Centre, ratio and degree of a rim that is asked."""
    assert one.ellipse is not None
    e = one.ellipse
    return e.centre_px, e.minor_px / e.major_px, e.degree_deg


def points_of(exercise: Exercise) -> list[Point]:
    found: list[Point] = []
    for mark in exercise.printed:
        match mark:
            case Stroke():
                found += mark.points
            case Round():
                found += [on_ellipse(mark.ellipse, k / 16) for k in range(16)]
            case Cross() | Tag():
                found.append(mark.at)
    return found


@pytest.mark.parametrize("kind", KINDS)
def test_one_seed_makes_one_exercise_and_every_copy_has_its_own(kind: ExerciseKind) -> None:
    first, again = make(kind, A4_FIELD, Grade.MIDDLE, 7, 1), make(kind, A4_FIELD, Grade.MIDDLE, 7, 1)
    assert first == again
    assert make(kind, A4_FIELD, Grade.MIDDLE, 7, 2) != first and make(kind, A4_FIELD, Grade.MIDDLE, 8, 1) != first


@pytest.mark.parametrize("size", [A4_FIELD, A3_FIELD], ids=["A4", "A3"])
@pytest.mark.parametrize("kind", KINDS)
def test_everything_stands_on_its_field_and_something_is_asked(kind: ExerciseKind, size: tuple[float, float]) -> None:
    for grade in GRADES:
        for seed in (1, 2):
            exercise = make(kind, size, grade, seed)
            # eye level begins in the margin, where its name stands
            outside = [
                p
                for p in points_of(exercise)
                if not (-11.5 <= p[0] <= size[0] + 1e-6 and -1e-6 <= p[1] <= size[1] + 1e-6)
            ]
            assert exercise.asked and not outside, (grade, seed, outside)
            assert set(exercise.names) == {s.id for s in exercise.truth}
            assert {a.id for a in exercise.asked} <= set(exercise.names)
            # nothing of the answer is printed on the sheet
            roles = {mark.role for mark in exercise.printed}
            assert Role.ANSWER in roles and roles & {Role.GIVEN, Role.CONSTRUCTION}


@pytest.mark.parametrize("grade", GRADES)
@pytest.mark.parametrize("seed", range(4))
def test_depth_edges_of_one_point_run_to_the_vanishing_point_and_backs_are_true_to_the_front(
    seed: int, grade: Grade
) -> None:
    exercise = make(ExerciseKind.ONE_POINT, A4_FIELD, grade, seed)
    (vp,) = exercise.vanishing_points
    edges = [s for s in exercise.truth if isinstance(s, Edge)]
    depth = [e for e in edges if e.family is Family.DEPTH]
    assert depth
    for e in depth:
        # both ends and the point lie on one line
        assert abs((e.q[0] - e.p[0]) * (vp[1] - e.p[1]) - (e.q[1] - e.p[1]) * (vp[0] - e.p[0])) < 1e-6
    assert all(e.p[1] == pytest.approx(e.q[1]) for e in edges if e.family is Family.ACROSS)
    assert all(e.p[0] == pytest.approx(e.q[0]) for e in edges if e.family is Family.UPRIGHT)
    for letter in "ABC":
        shares = {round(math.dist(vp, e.q) / math.dist(vp, e.p), 9) for e in depth if e.form == letter}
        assert len(shares) == 1, "all corners of a back face lie at one share of the way to the vanishing point"


@pytest.mark.parametrize("seed", range(5))
@pytest.mark.parametrize("grade", GRADES)
def test_a_box_from_its_near_corner_closes_on_two_points_on_eye_level(seed: int, grade: Grade) -> None:
    exercise = make(ExerciseKind.NEAR_CORNER, A4_FIELD, grade, seed)
    left, right = exercise.vanishing_points
    assert exercise.eye_level is not None and exercise.centre is not None and exercise.focal is not None
    assert left[1] == pytest.approx(exercise.eye_level[0], abs=1e-6) and right[1] == pytest.approx(
        exercise.eye_level[0], abs=1e-6
    )
    # f² = −(v1−p)·(v2−p), handbook section 2
    assert (exercise.centre[0] - left[0]) * (right[0] - exercise.centre[0]) == pytest.approx(
        exercise.focal**2, rel=1e-6
    )
    for e in exercise.truth:
        if isinstance(e, Edge) and e.family in (Family.LEFT, Family.RIGHT):
            vp = left if e.family is Family.LEFT else right
            assert crossing((e.p, e.q), ((0.0, vp[1]), (1.0, vp[1]))) == pytest.approx(vp, abs=1e-4)
    inside = [0.0 < x < A4_FIELD[0] for x, _ in (left, right)]
    assert all(inside) if grade is not Grade.HARD else not all(inside)


@pytest.mark.parametrize("kind", [ExerciseKind.RIM_LADDER, ExerciseKind.LOWER_RIM])
def test_rims_open_in_proportion_to_their_distance_from_eye_level(kind: ExerciseKind) -> None:
    """Handbook section 3: minor/major = (distance of the rim's centre from eye level)/f, near the centre vertical; away
    from it by a little more.
    """
    for grade in GRADES:
        exercise = make(kind, A4_FIELD, grade, 11)
        assert exercise.eye_level is not None and exercise.focal is not None
        for one in exercise.asked:
            centre, ratio, degree = ellipse_asked(one)
            assert ratio == pytest.approx(abs(centre[1] - exercise.eye_level[0]) / exercise.focal, rel=0.06)
            assert math.sin(math.radians(degree)) == pytest.approx(ratio, rel=1e-6)
            assert one.ellipse is not None
            assert abs(tilt_difference(one.ellipse.axis_deg, 90.0)) < FREEHAND.tilt_deg, (
                "whoever draws it square to its axis is not told off"
            )


@pytest.mark.parametrize(
    ("grade", "angles"), [(Grade.EASY, (22.5, 45.0, 67.5)), (Grade.HARD, (15.0, 35.0, 55.0, 75.0))]
)
def test_a_turned_cylinder_opens_as_the_sine_and_shortens_as_the_cosine(
    grade: Grade, angles: tuple[float, ...]
) -> None:
    """Handbook section 3: 22.5° gives 0.383 and 0.924, 45° 0.707 both, 67.5° 0.924 and 0.383."""
    exercise = make(ExerciseKind.TURNED, A4_FIELD, grade, 3)
    side = next(s for s in exercise.truth if isinstance(s, Length))
    ends: dict[str, list[tuple[Point, float]]] = {}
    for one, sighting in asked(exercise):
        if isinstance(sighting, Rim):
            centre, ratio, _ = ellipse_asked(one)
            ends.setdefault(sighting.form, []).append((centre, ratio))
            assert one.ellipse is not None and one.ellipse.major_px == pytest.approx(math.dist(side.p, side.q))
    longs = [math.dist(a[0], b[0]) for a, b in ends.values()]
    assert [pairs[0][1] for pairs in ends.values()] == pytest.approx([math.sin(math.radians(a)) for a in angles])
    whole = longs[0] / math.cos(math.radians(angles[0]))
    assert longs == pytest.approx([whole * math.cos(math.radians(a)) for a in angles])


def test_parts_of_a_wall_stand_where_the_two_uprights_put_them() -> None:
    """Handbook section 4: t(s) = s·h_near/((1−s)·h_far + s·h_near) of the drawn width from the near side; bays go as
    1/h arithmetic.
    """
    for grade in GRADES:
        for seed in range(4):
            exercise = make(ExerciseKind.PARTS, A4_FIELD, grade, seed)
            faces = {s.form: s for s in exercise.truth if isinstance(s, Face)}
            for one, sighting in asked(exercise):
                assert isinstance(sighting, Division) and one.line is not None
                letter = exercise.names[sighting.id][0]
                bottom_left, bottom_right, top_right, top_left = faces[letter].corners
                heights = math.dist(bottom_left, top_left), math.dist(bottom_right, top_right)
                near_left = heights[0] > heights[1]
                near, far = max(heights), min(heights)
                part = {"middle": 0.5, "first third": 1 / 3, "second third": 2 / 3, "next bay": 2.0}[
                    exercise.names[sighting.id][3:]
                ]
                start, stop = (bottom_left[0], bottom_right[0]) if near_left else (bottom_right[0], bottom_left[0])
                drawn = (sighting.point[0] - start) / (stop - start)
                assert drawn == pytest.approx(part * near / ((1 - part) * far + part * near), rel=1e-6)
                tall = math.dist(*one.line)
                assert 1 / tall == pytest.approx(1 / near + part * (1 / far - 1 / near), rel=1e-6)


def test_the_middle_of_the_handbooks_wall_is_drawn_at_six_tenths() -> None:
    """6 and 4: 0.333, 0.600, 0.818 for a quarter, a half, three quarters."""
    drawn = [s * 6 / ((1 - s) * 4 + s * 6) for s in (0.25, 0.5, 0.75)]
    assert drawn == pytest.approx([0.3333, 0.600, 0.8182], abs=1e-4)


@pytest.mark.parametrize("grade", GRADES)
def test_a_mirrored_corner_stands_truly_as_far_from_the_middle_as_its_fellow(grade: Grade) -> None:
    """The cross ratio of both ends of the ground, the middle line and the vanishing point is −1: the middle
    halves it.
    """
    exercise = make(ExerciseKind.MIRROR, A4_FIELD, grade, 2)
    for letter, vp in zip("AB", exercise.vanishing_points, strict=True):
        ground = next(s for s in exercise.truth if exercise.names[s.id] == f"{letter}: ground")
        middle = next(s for s in exercise.truth if exercise.names[s.id] == f"{letter}: middle line")
        assert isinstance(ground, Edge) and isinstance(middle, Edge)
        a, b, m, v = ground.p[0], ground.q[0], middle.p[0], vp[0]
        assert (m - a) / (m - b) / ((v - a) / (v - b)) == pytest.approx(-1.0)
        outs = [
            s
            for s in exercise.truth
            if isinstance(s, Length) and not s.unit and exercise.names[s.id].startswith(f"{letter}: out")
        ]
        assert all(s.along is Along.ACROSS for s in outs)


def test_isometric_circles_have_the_axes_of_iso_5456() -> None:
    """ISO 5456-3:1996: axes 1.22 and 0.71 of the true diameter, degree 35.26°; they touch their square in the middles
    of its sides.
    """
    exercise = make(ExerciseKind.ISOMETRIC, A4_FIELD, Grade.MIDDLE, 4)
    squares = [
        mark.points
        for mark in exercise.printed
        if isinstance(mark, Stroke) and mark.role is Role.CONSTRUCTION and len(mark.points) == 2
    ]
    for one in exercise.asked:
        assert one.ellipse is not None
        e = one.ellipse
        diameter = e.major_px / math.sqrt(1.5)
        assert e.minor_px / diameter == pytest.approx(0.7071, abs=1e-4) and e.degree_deg == pytest.approx(
            35.264, abs=1e-3
        )
        turns = np.array([on_ellipse(e, k / 2000) for k in range(2000)])
        sides = [
            s
            for s in squares
            if math.dist(s[0], s[1]) == pytest.approx(diameter, rel=1e-6)
            and min(np.hypot(*(turns - np.mean(s, axis=0)).T)) < 0.2
        ]
        assert len(sides) == 4, "the middles of four sides lie on it"


def test_marks_round_a_tin_stand_at_the_sine_of_their_angle() -> None:
    """Handbook section 3: R·sin φ; 30° is half-way to the outline, 22.5, 45 and 67.5° stand at 0.383, 0.707
    and 0.924.
    """
    for grade, due in ((Grade.EASY, [0.5, 0.866]), (Grade.MIDDLE, [0.383, 0.707, 0.924])):
        exercise = make(ExerciseKind.LETTERING, A4_FIELD, grade, 6)
        unit = next(s for s in exercise.truth if isinstance(s, Length) and s.unit)
        shares = [(s.q[0] - s.p[0]) / (unit.q[0] - unit.p[0]) for _, s in asked(exercise) if isinstance(s, Length)]
        assert sorted(shares) == pytest.approx(sorted([-v for v in due] + due), abs=5e-4)


def test_equal_figures_are_cut_by_eye_level_in_one_part() -> None:
    """Handbook section 5: height = eye height·(base − top)/(base − eye level)."""
    for grade in GRADES:
        exercise = make(ExerciseKind.FIGURES, A4_FIELD, grade, 9)
        assert exercise.eye_level is not None
        given = next(s for s in exercise.truth if isinstance(s, Length) and s.unit)
        eye = 1.7 * (given.p[1] - exercise.eye_level[0]) / (given.p[1] - given.q[1])
        for _, s in asked(exercise):
            assert isinstance(s, Length)
            told = float(exercise.names[s.id].split()[1])
            assert eye * (s.p[1] - s.q[1]) / (s.p[1] - exercise.eye_level[0]) == pytest.approx(told, abs=1e-6)


def test_tilts_are_asked_of_a_photos_own_edges_and_eye_level_of_its_own() -> None:
    edges = tuple(
        PictureEdge((0.1, 0.2 + 0.1 * k), (0.6, 0.3 + 0.1 * k), tilt) for k, tilt in enumerate((-12.0, 20.0, 1.0, 33.0))
    )
    given = PictureGiven(4 / 3, edges, (0.4, 0.42), ((0.5, 0.9), (0.5, 0.5)))
    exercise = make(ExerciseKind.TILTS, A4_FIELD, Grade.HARD, 1, photo=given)
    tilts = [float(tilt_deg(s.p, s.q)) for _, s in asked(exercise) if isinstance(s, Alignment)]
    assert tilts == pytest.approx([-12.0, 20.0, 33.0]), "what runs level is not asked"
    assert exercise.picture is not None and exercise.picture.box == fitted(A4_FIELD, 4 / 3, 0.56)
    level = make(ExerciseKind.EYE_LEVEL, A4_FIELD, Grade.EASY, 1, photo=given)
    (one,) = level.asked
    assert one.line is not None and level.picture is not None
    _, top, _, high = level.picture.box
    assert [y for _, y in one.line] == pytest.approx([top + 0.4 * high, top + 0.42 * high])
    with pytest.raises(LookupError, match="no edges"):
        make(ExerciseKind.TILTS, A4_FIELD, Grade.EASY, 1, photo=PictureGiven(4 / 3, ()))


# --- from pencil lines to sightings
# ----------------------------------------------------------------------------------------------------


def test_pencil_lines_end_where_they_cross_those_they_share_a_corner_with() -> None:
    true = {
        "top": ((0.0, 0.0), (100.0, 0.0)),
        "side": ((100.0, 0.0), (100.0, 60.0)),
        "printed": ((0.0, 60.0), (100.0, 60.0)),
    }
    found = {"top": ((1.0, 0.4), (94.0, 0.4)), "side": ((100.5, 4.0), (100.5, 52.0))}
    ended = cornered(found, true)
    assert np.array(ended["top"]) == pytest.approx(np.array([(1.0, 0.4), (100.5, 0.4)]))
    assert np.array(ended["side"]) == pytest.approx(np.array([(100.5, 0.4), (100.5, 60.0)])), (
        "the printed line stands where it truly is"
    )


def test_a_line_that_is_far_from_its_corner_is_left_as_it_is() -> None:
    true = {"a": ((0.0, 0.0), (100.0, 0.0)), "b": ((100.0, 0.0), (200.0, 10.0))}
    flat = {"a": ((0.0, 0.0), (98.0, 0.0)), "b": ((103.0, 0.0), (200.0, 10.0))}
    assert cornered(flat, true)["a"] == flat["a"], "two lines that run all but alike cross anywhere"
    assert along_same(((5.0, 0.0), (1.0, 0.0)), ((0.0, 0.0), (9.0, 0.0))) == ((1.0, 0.0), (5.0, 0.0))
    assert turn_between(((0, 0), (1, 0)), ((0, 0), (-1, -1))) == pytest.approx(45.0)
    assert reach((3.0, 9.0), Along.UPRIGHT, ((0.0, 1.0), (10.0, 3.0))) == pytest.approx((3.0, 1.6))
    assert reach((3.0, 2.0), Along.ACROSS, ((0.0, 1.0), (10.0, 3.0))) == pytest.approx((5.0, 2.0))
    assert (
        reach((3.0, 9.0), Along.UPRIGHT, ((4.0, 1.0), (4.0, 3.0))) is None
        and crossing(((0, 0), (1, 0)), ((0, 1), (1, 1))) is None
    )
