"""A question of any skill, from a set-up made for it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial

import numpy as np

from aspectum.core.practice import ask_edges, ask_parts, ask_places, ask_rims
from aspectum.core.practice.question import Mark, Place, Question, Window
from aspectum.core.practice.scenes import HEIGHT_PX, WIDTH_PX
from aspectum.core.practice.skills import Skill
from aspectum.core.stand.drawing import COARSEST_M
from aspectum.core.stand.setting import set_up

WHOLE = (Skill.VANISHING_POINT, Skill.TURNING, Skill.BASE_OF_MOUTH)
AROUND = 1.3  # times the extent of what is shown
LEAST_WINDOW_PX = 240.0  # a fifth of the picture's width: a closer look shows pixels
BEYOND_LEVEL = (0.5, 1.8)  # near uprights of the window that lie beyond eye level at least

ASKED: dict[Skill, Callable[[float, np.random.Generator], Question]] = {
    **{
        skill: partial(ask_edges.ask_edge, skill)
        for skill in (
            Skill.LEFT_ABOVE,
            Skill.LEFT_BELOW,
            Skill.RIGHT_ABOVE,
            Skill.RIGHT_BELOW,
            Skill.FAR_ABOVE,
            Skill.FAR_BELOW,
        )
    },
    Skill.OTHER_EDGE: ask_edges.ask_slope,
    Skill.UPRIGHT_LEAN: ask_edges.ask_lean,
    Skill.STEEPER_EDGE: ask_edges.ask_steeper,
    Skill.PARALLEL_EDGE: ask_edges.ask_parallel,
    Skill.CORNER_TO_CORNER: ask_edges.ask_corners,
    Skill.EYE_LEVEL: ask_places.ask_eye_level,
    Skill.VANISHING_POINT: ask_places.ask_vanishing_point,
    Skill.ALIGNMENT: ask_places.ask_alignment,
    Skill.MISSING_CORNER: ask_places.ask_missing_corner,
    Skill.HEIGHT: ask_places.ask_height,
    **{
        skill: partial(ask_rims.ask_level_rim, skill)
        for skill in (Skill.UPPER_RIM, Skill.LOWER_RIM, Skill.RIM_AT_EYE_LEVEL)
    },
    **{skill: partial(ask_rims.ask_standing_rim, skill) for skill in (Skill.LYING_RIM, Skill.WHEEL)},
    Skill.MINOR_AXIS: ask_rims.ask_axis,
    Skill.BASE_OF_MOUTH: ask_rims.ask_base,
    Skill.TURNING: ask_rims.ask_turning,
    Skill.LETTERING: ask_rims.ask_lettering,
    **{
        skill: partial(ask_parts.ask_length, skill)
        for skill in (Skill.LENGTH_ACROSS, Skill.LENGTH_UP, Skill.LENGTH_ALONG)
    },
    **{skill: partial(ask_parts.ask_part, skill) for skill in ask_parts.PARTS},
    Skill.NEXT_BAY: ask_parts.ask_bay,
    Skill.MIRROR_POINT: ask_parts.ask_mirror,
}


def ask(skill: Skill, difficulty: float, seed: int) -> Question:
    """A question of ``skill``; the same ``seed`` asks the same again. Raises ``LookupError`` where no set-up can be
    found for it.
    """
    rng = np.random.default_rng(seed)
    return framed(ASKED[skill](difficulty, rng), rng)


def framed(question: Question, rng: np.random.Generator) -> Question:
    """``question`` in a window about what it shows, so that it fills the screen. Where a place beyond the things is
    asked for, the window's edges keep a random distance from it, and a vanishing point is sought in the whole picture.
    """
    if question.stand is None or question.view is None or question.skill in WHOLE:
        return question
    corners = [p.box for p in set_up(question.stand, {}, COARSEST_M) if p.own is not None]
    points = question.view.project(np.vstack(corners))
    points = np.vstack([points, *(np.array(mark.points) for mark in question.marks if not _across(mark))])
    if isinstance(question.scoring, Place) and question.skill is Skill.EYE_LEVEL:
        unit = abs(question.scoring.one[1])
        level = question.scoring.origin[1] + unit * rng.uniform(*BEYOND_LEVEL, 2) * np.array([-1.0, 1.0])
        points = np.vstack([points, np.column_stack([np.full(2, question.scoring.origin[0]), level])])
    elif question.skill is Skill.HEIGHT:
        points = np.vstack(
            [
                points,
                *(
                    np.array([(points[:, 0].mean(), y) for _, y in mark.points])
                    for mark in question.marks
                    if _across(mark)
                ),
            ]
        )
    (x0, y0), (x1, y1) = points.min(axis=0), points.max(axis=0)
    width = max((x1 - x0) * AROUND, (y1 - y0) * AROUND * WIDTH_PX / HEIGHT_PX, LEAST_WINDOW_PX)
    height = width * HEIGHT_PX / WIDTH_PX
    x, y = (x0 + x1 - width) / 2, (y0 + y1 - height) / 2
    return replace(
        question, window=Window(round(float(x), 2), round(float(y), 2), round(float(width), 2), round(float(height), 2))
    )


def _across(mark: Mark) -> bool:
    """Whether it runs right across the picture."""
    return len(mark.points) == 2 and abs(mark.points[1][0] - mark.points[0][0]) >= WIDTH_PX
