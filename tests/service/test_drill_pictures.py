"""The pictures of drills: pixels that show what is asked where it truly is, and nothing that gives it away."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image

from aspectum.core.practice.asking import ASKED, ask
from aspectum.core.practice.question import Question
from aspectum.core.practice.skills import Skill
from aspectum.pictures.shading import Facet, shaded
from aspectum.service.practice.drill_picture import GROUND, INK, TEAL, question_jpeg, question_png
from aspectum.service.practice.drill_question import document_of, question_of
from aspectum.service.practice.drills import shown_from

PAPER, GREY, WHITE = (10, 20, 30), (100, 100, 100), (200, 200, 200)


def pixels(data: bytes) -> np.ndarray[tuple[int, ...], np.dtype[np.int64]]:
    with Image.open(io.BytesIO(data)) as opened:
        return np.asarray(opened.convert("RGB")).astype(np.int64)


def square(
    x: float, y: float, size: float, near: tuple[float, float, float, float], tone: tuple[int, int, int]
) -> Facet:
    ring = np.array([(x, y), (x + size, y), (x + size, y + size), (x, y + size)])
    return Facet((ring,), np.array(near), tone)


def test_the_nearer_face_hides_the_farther_whatever_their_order() -> None:
    near, far = square(10, 10, 20, (2.0,) * 4, WHITE), square(0, 0, 40, (1.0,) * 4, GREY)
    one, other = shaded(60, 60, PAPER, [near, far]), shaded(60, 60, PAPER, [far, near])
    assert (one == other).all()
    assert tuple(one[20, 20]) == WHITE and tuple(one[5, 5]) == GREY and tuple(one[50, 50]) == PAPER


def test_two_faces_that_run_through_each_other_meet_where_they_are_equally_near() -> None:
    slanted, flat = square(0, 0, 40, (0.0, 4.0, 4.0, 0.0), WHITE), square(0, 0, 40, (2.0,) * 4, GREY)
    row = shaded(40, 40, PAPER, [flat, slanted])[20, :, 0]
    assert (row[:19] == GREY[0]).all() and (row[21:] == WHITE[0]).all()


def test_a_hole_shows_what_is_behind_and_what_leaves_the_picture_is_cut_off() -> None:
    hole = np.array([(10.0, 10.0), (20.0, 10.0), (20.0, 20.0), (10.0, 20.0)])
    outer = np.array([(-50.0, -50.0), (90.0, -50.0), (90.0, 90.0), (-50.0, 90.0)])
    image = shaded(40, 30, PAPER, [Facet((outer, hole), np.ones(4), GREY), square(500, 500, 9, (1.0,) * 4, WHITE)])
    assert (
        image.shape == (30, 40, 3)
        and tuple(image[15, 15]) == PAPER
        and tuple(image[5, 5]) == GREY
        and tuple(image[29, 39]) == GREY
    )


def test_a_face_seen_edge_on_covers_nothing() -> None:
    line = Facet((np.array([(0.0, 5.0), (30.0, 5.0), (30.0, 5.0)]),), np.ones(3), WHITE)
    assert (shaded(40, 10, PAPER, [line]) == PAPER).all()


def on_picture(question: Question, share: float) -> tuple[int, int]:
    """Where on the picture a share of the true line lies."""
    x0, y0, k = shown_from(question)
    p, q = question.shown[0].points
    return round((p[0] + share * (q[0] - p[0]) - x0) * k), round((p[1] + share * (q[1] - p[1]) - y0) * k)


@pytest.mark.parametrize("skill", [Skill.LEFT_BELOW, Skill.RIGHT_BELOW, Skill.LEFT_ABOVE, Skill.UPRIGHT_LEAN])
@pytest.mark.parametrize("seed", range(3))
def test_the_marked_edge_is_drawn_where_the_truth_has_it(skill: Skill, seed: int) -> None:
    question = ask(skill, 0.2, 400 + seed)
    image = pixels(question_png(question))
    hits = [
        np.abs(image[y - 2 : y + 3, x - 2 : x + 3] - TEAL).sum(axis=2).min() < 40
        for x, y in (on_picture(question, s) for s in (0.3, 0.4, 0.6, 0.7))
    ]
    assert sum(hits) >= 3  # something in front may cover a part


@pytest.mark.parametrize("skill", [Skill.MISSING_CORNER, Skill.PARALLEL_EDGE])
@pytest.mark.parametrize("seed", range(3))
def test_what_is_left_out_leaves_bare_paper(skill: Skill, seed: int) -> None:
    """Neither a line nor a change of tone shows where the answer lies."""
    question = ask(skill, 0.2, 500 + seed)
    image = pixels(question_png(question))
    for share in (0.4, 0.5, 0.6):
        x, y = on_picture(question, share)
        assert (np.abs(image[y - 1 : y + 2, x - 1 : x + 2] - GROUND) < 3).all()


def test_a_question_at_eye_level_does_not_stand_about_the_middle_of_its_picture() -> None:
    """Else the middle of the picture would be the answer."""
    heights = []
    for seed in range(24):
        question = ask(Skill.EYE_LEVEL, 0.3, 900 + seed)
        _, y0, k = shown_from(question)
        heights.append((question.shown[0].points[0][1] - y0) * k)
    assert np.std(heights) > 60 and min(heights) > 0 and max(heights) < 800


@pytest.mark.parametrize("skill", [Skill.LOWER_RIM, Skill.HEIGHT, Skill.WHEEL, Skill.TURNING, Skill.OTHER_EDGE])
def test_every_kind_of_thing_is_shaded_and_drawn(skill: Skill) -> None:
    image = pixels(question_png(ask(skill, 0.5, 31)))
    ink = (np.abs(image - INK).sum(axis=2) < 30).mean()
    tone = (np.abs(image - GROUND).sum(axis=2) > 30).mean()
    assert image.shape == (800, 1200, 3) and ink > 0.0005 and tone > 0.01


@pytest.mark.parametrize("skill", list(ASKED))
def test_a_question_is_kept_whole(skill: Skill) -> None:
    question = ask(skill, 0.7, 55)
    assert question_of(document_of(question)) == question


def test_a_picture_of_ones_own_and_a_set_up_are_not_taken_for_each_other() -> None:
    question = ask(Skill.LOWER_RIM, 0.5, 3)
    with pytest.raises(ValueError, match="about a set-up"):
        question_jpeg(question, b"")
    document = document_of(question) | {"stand": None}
    with pytest.raises(ValueError, match="one's own"):
        question_png(question_of(document))
