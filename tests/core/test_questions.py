"""Drill questions: what they ask has the truth that the trade's rules give it, and nothing of it depends on chance but
what the seed settles.
"""

from __future__ import annotations

import math
from collections import Counter

import numpy as np
import pytest

from aspectum.core.plane.lines import tilt_deg
from aspectum.core.practice.asking import ASKED, ask
from aspectum.core.practice.laid_over import laid_over
from aspectum.core.practice.own_sheets import own_questions
from aspectum.core.practice.question import (
    AnswerBy,
    Choice,
    MarkRole,
    Number,
    Place,
    Question,
    Told,
    drawn_at,
    part_at,
    scored,
)
from aspectum.core.practice.recorded import SkillsOn, edge_skill, far_edges, leans, part_skill, rim_skill, steepness
from aspectum.core.practice.skills import Skill, tolerance_of
from aspectum.core.sightings import Along, Edge, Family, Length, Point, ViewSort
from aspectum.core.stand.drawing import draw
from aspectum.core.stand.drawn import Drawing
from aspectum.core.tolerance import FREEHAND
from tests import worked
from tests.paper_scenes import paper_subject, sighted
from tests.practice_answers import right_answer

SEEDS = range(3)
EACH = [(skill, seed) for skill in ASKED for seed in SEEDS]


def asked(skill: Skill, seed: int) -> Question:
    return ask(skill, (0.1, 0.5, 0.9)[seed], 6100 + seed)


def seen(question: Question) -> Drawing:
    assert question.stand is not None and question.view is not None
    return draw(question.stand, question.view)


def crossing(a: tuple[Point, Point], b: tuple[Point, Point]) -> Point:
    """Where two lines meet."""
    lines = [np.cross(np.array([*p, 1.0]), np.array([*q, 1.0])) for p, q in (a, b)]
    x, y, w = np.cross(lines[0], lines[1])
    return float(x / w), float(y / w)


@pytest.mark.parametrize(("skill", "seed"), EACH)
def test_the_answer_of_a_perfect_eye_has_no_error(skill: Skill, seed: int) -> None:
    question = asked(skill, seed)
    judged, truth = scored(question.scoring, right_answer(question))
    assert question.skill is skill and judged == pytest.approx(truth, abs=1e-6)
    if question.instrument is not AnswerBy.CHOICE:
        assert laid_over(question, right_answer(question))


@pytest.mark.parametrize("skill", list(ASKED))
def test_a_seed_asks_the_same_again_and_another_seed_another_view(skill: Skill) -> None:
    one, again, other = ask(skill, 0.4, 77), ask(skill, 0.4, 77), ask(skill, 0.4, 78)
    assert one == again and (one.view, one.stand, one.scoring) != (other.view, other.stand, other.scoring)


@pytest.mark.parametrize(("skill", "seed"), [(s, k) for s, k in EACH if s not in (Skill.PARALLEL_EDGE, Skill.TURNING)])
def test_what_is_asked_about_lies_within_the_cone_of_vision(skill: Skill, seed: int) -> None:
    question = asked(skill, seed)
    drawing = seen(question)
    corners = np.vstack([p.box for p in drawing.placed if p.own is not None])
    off = np.hypot(*(drawing.view.project(corners) - drawing.view.centre_px).T)
    assert off.max() <= math.tan(math.radians(30.0)) * drawing.view.focal_px and 24 <= drawing.view.focal_35mm <= 85
    assert question.window is not None or skill in (Skill.VANISHING_POINT, Skill.BASE_OF_MOUTH)


EDGES = (Skill.LEFT_ABOVE, Skill.LEFT_BELOW, Skill.RIGHT_ABOVE, Skill.RIGHT_BELOW, Skill.FAR_ABOVE, Skill.FAR_BELOW)


@pytest.mark.parametrize("skill", EDGES)
@pytest.mark.parametrize("seed", SEEDS)
def test_an_edge_lies_where_its_skill_says(skill: Skill, seed: int) -> None:
    """Above eye level edges fall as they go back, below it they climb (handbook section 2): checked by its place
    against eye level itself.
    """
    question = asked(skill, seed)
    drawing = seen(question)
    (p, q), level = question.shown[0].points, drawing.view.eye_level_px
    assert level is not None
    middle = (p[1] + q[1]) / 2
    above = middle < level[0] + (level[1] - level[0]) * (p[0] + q[0]) / 2 / drawing.view.width_px
    assert above is skill.value.endswith("above")
    assert isinstance(question.scoring, Number) and question.scoring.truth == pytest.approx(float(tilt_deg(p, q)))


@pytest.mark.parametrize("seed", SEEDS)
def test_eye_level_is_where_two_families_meet(seed: int) -> None:
    question = asked(Skill.EYE_LEVEL, seed)
    points = [
        vp.at_px
        for vp in seen(question).vanishing_points
        if vp.way.family in (Family.LEFT, Family.RIGHT) and vp.at_px is not None
    ]
    assert isinstance(question.scoring, Place) and points
    assert all(y == pytest.approx(question.scoring.origin[1], abs=1e-6) for _, y in points)
    unit = abs(question.scoring.one[1])
    judged, truth = scored(question.scoring, (0.0, question.scoring.origin[1] - 0.3 * unit))
    assert judged - truth == pytest.approx(0.3)  # drawn 0.3 near uprights too high


@pytest.mark.parametrize("seed", SEEDS)
def test_the_marked_edges_meet_at_the_vanishing_point(seed: int) -> None:
    question = asked(Skill.VANISHING_POINT, seed)
    first, second = [m.points for m in question.marks if m.role is MarkRole.ASKED][:2]
    met = crossing((first[0], first[1]), (second[0], second[1]))
    judged, truth = scored(question.scoring, met)
    assert judged == pytest.approx(truth, rel=1e-6)
    assert isinstance(question.scoring, Place)
    nearer = scored(
        question.scoring, (question.scoring.origin[0] + 0.5 * (met[0] - question.scoring.origin[0]), met[1])
    )
    assert nearer[0] == pytest.approx(2.0 * truth, rel=1e-6)  # half as far out its lines draw in twice as much


@pytest.mark.parametrize("seed", SEEDS)
def test_the_missing_corner_is_where_lines_to_both_vanishing_points_cross(seed: int) -> None:
    question = asked(Skill.MISSING_CORNER, seed)
    drawing = seen(question)
    points = {vp.way.family: vp.at_px for vp in drawing.vanishing_points}
    tops = {e.name: e for e in drawing.edges if e.name.startswith("top") and e.name.endswith("near")}
    lines = []
    for other, own in ((Family.LEFT, Family.RIGHT), (Family.RIGHT, Family.LEFT)):
        near = next(e for e in tops.values() if e.way is not None and e.way.family is own)
        ends = [near.p, near.q]
        shared = next(e for e in tops.values() if e is not near)
        far_end = max(ends, key=lambda p: min(math.dist(p, shared.p), math.dist(p, shared.q)))
        vp = points[other]
        assert vp is not None
        lines.append((far_end, vp))
    judged, truth = scored(question.scoring, crossing(*lines))
    assert judged == pytest.approx(truth, abs=1e-6)


@pytest.mark.parametrize("seed", SEEDS)
def test_the_middle_of_a_side_is_where_its_diagonals_cross(seed: int) -> None:
    question = asked(Skill.MIDDLE, seed)
    asked_for, *diagonals = question.shown
    met = crossing(*((d.points[0], d.points[1]) for d in diagonals))
    assert met[0] == pytest.approx(
        asked_for.points[0][0] + (asked_for.points[1][0] - asked_for.points[0][0]) * 0.5, abs=0.5
    )
    judged, truth = scored(question.scoring, asked_for.points[0])
    assert (judged, truth) == pytest.approx((50.0, 50.0), abs=1e-6)
    assert isinstance(question.scoring, Place)
    measured = (
        question.scoring.origin[0] + 0.5 * question.scoring.one[0],
        question.scoring.origin[1] + 0.5 * question.scoring.one[1],
    )
    judged, truth = scored(question.scoring, measured)
    assert judged > truth  # the measured middle is too near


def test_the_handbooks_parts_of_a_receding_side() -> None:
    """6 and 4: a quarter, the half and three quarters are drawn at 0.333, 0.600 and 0.818 (handbook section 4)."""
    assert [drawn_at(s, 4 / 6) for s in (0.25, 0.5, 0.75)] == pytest.approx([0.333, 0.600, 0.818], abs=5e-4)
    assert [part_at(t, 4 / 6) for t in (1 / 3, 0.6, 9 / 11)] == pytest.approx([0.25, 0.5, 0.75])


@pytest.mark.parametrize("seed", SEEDS)
def test_the_next_bay_is_found_by_the_diagonal_through_the_middle(seed: int) -> None:
    question = asked(Skill.NEXT_BAY, seed)
    first, second = (m.points for m in question.marks)
    middle = crossing((second[0], second[1]), crossing_of_middles(first, second))
    met = crossing((first[1], middle), (first[0], second[0]))
    judged, truth = scored(question.scoring, met)
    assert judged == pytest.approx(truth, abs=1e-6)
    wider = question.scoring
    assert isinstance(wider, Place)
    equal = (2 * second[0][0] - first[0][0], 2 * second[0][1] - first[0][1])
    nearer_first = math.dist(*first) > math.dist(*second)
    assert (
        scored(wider, equal)[0] > 100.0
    ) is nearer_first  # a bay as wide as the one before is too wide where bays recede


def crossing_of_middles(first: tuple[Point, ...], second: tuple[Point, ...]) -> tuple[Point, Point]:
    """The line half-way up both uprights: uprights parallel to the picture are halved as they are drawn."""
    a, b = ((p[0] + q[0]) / 2 for p, q in (first, second)), ((p[1] + q[1]) / 2 for p, q in (first, second))
    (ax, bx), (ay, by) = tuple(a), tuple(b)
    return (ax, ay), (bx, by)


@pytest.mark.parametrize("seed", SEEDS)
def test_a_height_is_told_by_eye_level(seed: int) -> None:
    """Height = eye height · (base − top)/(base − eye level) in y (handbook section 5)."""
    question = asked(Skill.HEIGHT, seed)
    post, level = question.marks
    foot, top = post.points
    height = question.figure("eye_m") * (foot[1] - top[1]) / (foot[1] - level.points[0][1])
    assert isinstance(question.scoring, Number) and height == pytest.approx(question.scoring.truth, rel=1e-6)
    assert scored(question.scoring, 1.1 * height)[0] == pytest.approx(110.0)


@pytest.mark.parametrize(
    "skill", [Skill.UPPER_RIM, Skill.LOWER_RIM, Skill.RIM_AT_EYE_LEVEL, Skill.LYING_RIM, Skill.WHEEL]
)
@pytest.mark.parametrize("seed", SEEDS)
def test_a_rim_opens_as_its_outline_does(skill: Skill, seed: int) -> None:
    question = asked(skill, seed)
    points = np.array(question.shown[0].points[:-1])
    values = np.linalg.eigvalsh(np.cov(points.T, bias=True))
    assert isinstance(question.scoring, Number)
    assert math.degrees(math.asin(math.sqrt(max(values[0], 0.0) / values[1]))) == pytest.approx(
        question.scoring.truth, abs=0.05
    )
    if skill is Skill.RIM_AT_EYE_LEVEL:
        assert question.scoring.truth < 4.0


def test_the_end_of_a_tin_turned_by_an_angle_opens_by_that_angle() -> None:
    """22.5° → ratio 0.383 (handbook section 3); the plan that is shown lies turned by as much."""
    question = asked(Skill.TURNING, 1)
    assert isinstance(question.scoring, Number)
    long = max((e for e in seen(question).outlines), key=lambda e: e.length_px)
    assert abs(long.tilt_deg) == pytest.approx(question.scoring.truth, abs=0.1)


@pytest.mark.parametrize("seed", SEEDS)
def test_marks_round_a_tin_crowd_towards_its_outline(seed: int) -> None:
    """At angle φ from the front a mark stands near R·sin φ (handbook section 3); near the eye it stands a little nearer
    the outline.
    """
    question = asked(Skill.LETTERING, seed)
    assert isinstance(question.scoring, Place)
    assert question.scoring.truth / 100.0 == pytest.approx(math.sin(math.radians(question.figure("turned"))), abs=0.12)


@pytest.mark.parametrize("seed", SEEDS)
def test_one_of_the_bases_belongs_to_the_mouth_and_is_rounder_than_it(seed: int) -> None:
    question = asked(Skill.BASE_OF_MOUTH, seed)
    assert isinstance(question.scoring, Choice)
    values, right = question.scoring.values, question.scoring.right
    base = next(r for r in seen(question).rims if r.name == "base")
    assert values[right] == pytest.approx(base.ellipse.degree_deg) and values[right] > question.figure("mouth")
    apart = np.diff(np.sort(values))
    assert apart.max() == pytest.approx(apart.min()) and apart.min() > 2.0
    letters = Counter(m.letter for m in question.marks if m.role is MarkRole.ASKED)
    assert letters == Counter("ABCD")


def test_a_wrong_choice_counts_by_how_much_the_edges_differ() -> None:
    question = asked(Skill.STEEPER_EDGE, 0)
    assert isinstance(question.scoring, Choice)
    apart = question.figure("A") - question.figure("B")
    judged, truth = scored(question.scoring, float(1 - question.scoring.right))
    assert judged - truth == pytest.approx(-apart) and scored(question.scoring, float(question.scoring.right)) == (
        truth,
        truth,
    )


@pytest.mark.parametrize("skill", [Skill.MISSING_CORNER, Skill.PARALLEL_EDGE, Skill.BASE_OF_MOUTH])
def test_what_is_to_be_found_is_left_out_of_the_picture(skill: Skill) -> None:
    question = asked(skill, 0)
    assert question.without_edges or question.without_rims


@pytest.mark.parametrize(
    ("scoring", "answer"),
    [
        (Number(Told.DEGREE, 20.0), 120.0),
        (Number(Told.RATIO, 2.0), 0.0),
        (Number(Told.TILT, 2.0), (3.0, 4.0)),
        (Place((0.0, 0.0), (1.0, 0.0)), 3.0),
        (Choice((1.0, 2.0), 0), 2.0),
        (Choice((1.0, 2.0), 0), 0.5),
    ],
)
def test_an_answer_of_another_kind_is_refused(scoring: Number | Place | Choice, answer: float | Point) -> None:
    with pytest.raises(ValueError, match=r"ellipse|length|another way|choice"):
        scored(scoring, answer)


def test_tilts_count_as_steepness_and_leans_from_plumb() -> None:
    """A left edge below eye level at −17° judged −12° is 5° too flat, and so is a right one at 17° judged 12°; 89
    judged of −89 leans 2° too far right.
    """
    assert steepness(-12.0, -17.0) == (12.0, 17.0) and steepness(12.0, 17.0) == (12.0, 17.0)
    assert steepness(4.0, -3.0) == (-4.0, 3.0)  # tilted the wrong way
    judged, truth = leans(89.0, -89.0)
    assert (judged, truth) == pytest.approx((1.0, -1.0))


@pytest.mark.parametrize(
    ("family", "tilt", "far", "skill"),
    [
        (Family.LEFT, 11.31, False, Skill.LEFT_ABOVE),
        (Family.LEFT, -16.7, False, Skill.LEFT_BELOW),
        (Family.RIGHT, -14.04, False, Skill.RIGHT_ABOVE),
        (Family.RIGHT, 20.56, True, Skill.FAR_BELOW),
        (Family.UPRIGHT, 88.0, False, Skill.UPRIGHT_LEAN),
        (Family.SLOPE, 30.0, False, Skill.OTHER_EDGE),
        (None, 3.0, False, Skill.OTHER_EDGE),
    ],
)
def test_the_near_corners_edges_have_their_skills(family: Family | None, tilt: float, far: bool, skill: Skill) -> None:
    """The tilts of the handbook's near-corner card (section 2)."""
    assert edge_skill(family, tilt, far) is skill


def test_only_what_lies_beyond_the_near_walls_is_far() -> None:
    """Boxes from many views, all of whose edges are known: a wall's top and foot are near, whichever of them is drawn
    shorter; a lid's back edges are far.
    """
    rng, told, far = np.random.default_rng(5), 0, 0
    for n in range(40):
        subject = paper_subject(
            rng, ("one box", "two boxes")[n % 2], pitch_deg=float(rng.uniform(-15, 15)) if n % 4 > 1 else 0.0
        )
        edges = sighted(subject, rng).edges
        # of an edge along one level direction the first digit is its place along the other
        back = {e.id for e in edges if e.family in (Family.LEFT, Family.RIGHT) and e.id[-2] == "1"}
        found = far_edges(edges)
        assert found <= back, (n, found - back)
        told, far = told + len(back), far + len(found)
    assert told > 60 and far > 0.9 * told


def test_without_an_upright_what_stands_over_its_fellow_is_no_farther() -> None:
    long = Edge("long", "box", Family.LEFT, (400, 700), (150, 625))
    over, beyond = (
        Edge("over", "box", Family.LEFT, (400, 560), (152, 520)),
        Edge("far", "box", Family.LEFT, (500, 640), (330, 600)),
    )
    assert far_edges([beyond, over, long]) == {"far"}


def test_rims_and_parts_have_their_skills() -> None:
    assert [rim_skill(True, top, 20.0) for top in (True, False)] == [Skill.UPPER_RIM, Skill.LOWER_RIM]
    assert rim_skill(True, True, 2.0) is Skill.RIM_AT_EYE_LEVEL and rim_skill(False, False, 2.0) is Skill.LYING_RIM
    assert [part_skill(p) for p in (0.51, 0.34, 0.66, 0.8)] == [
        Skill.MIDDLE,
        Skill.THIRD,
        Skill.THIRD,
        Skill.OTHER_PART,
    ]


def test_a_sheets_own_sightings_are_asked_again_where_they_are_tight() -> None:
    from aspectum.core.check import check
    from aspectum.core.sightings import Measured

    lengths = [
        Length("unit", (400, 200), (400, 700), Along.UPRIGHT, unit=True),
        Length("far", (150, 250), (150, 625), Along.UPRIGHT),
    ]
    findings = check(worked.SETUP, worked.EDGES, [], Measured(lengths=lengths)).findings
    questions = list(
        own_questions(
            findings, SkillsOn(worked.EDGES, lengths={"far": Along.UPRIGHT}), lengths, worked.SETUP, FREEHAND
        ).values()
    )
    assert {q.skill for q in questions} >= {Skill.LEFT_ABOVE, Skill.LEFT_BELOW, Skill.RIGHT_ABOVE, Skill.RIGHT_BELOW}
    for question in questions:
        assert question.truth_sd is not None and question.truth_sd <= tolerance_of(question.skill, FREEHAND) / 3
        judged, truth = scored(question.scoring, right_answer(question))
        assert judged == pytest.approx(truth)


def test_seen_straight_up_no_edge_is_above_or_below_eye_level() -> None:
    laid = SkillsOn([Edge("e", "tower", Family.LEFT, (0, 0), (90, 90))], sort=ViewSort.STRAIGHT)
    assert laid.edge_skill("e", -45.0) is Skill.OTHER_EDGE


def test_in_a_parallel_drawing_no_edge_is_above_or_below_eye_level() -> None:
    laid = SkillsOn(
        [Edge("e", "box", Family.LEFT, (0, 0), (90, 52)), Edge("u", "box", Family.UPRIGHT, (0, 0), (0, 90))],
        sort=ViewSort.PARALLEL,
    )
    assert laid.edge_skill("e", -30.0) is Skill.PARALLEL_EDGE and laid.edge_skill("u", 90.0) is Skill.UPRIGHT_LEAN
