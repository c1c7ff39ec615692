"""An answer drawn over the picture, to be seen beside the truth."""

from __future__ import annotations

import math

import numpy as np

from aspectum.core.practice.question import Answer, AnswerBy, Mark, MarkRole, Question
from aspectum.core.sightings import Point

LONGEST_PX = 420.0  # a needle laid over the picture is no longer
STEPS = 96  # chords round an ellipse: 0.05 % of its half-width inside it


def laid_over(question: Question, answer: Answer) -> tuple[Mark, ...]:
    """What was answered, as marks on the question's plane: a needle through the middle of the true line, an ellipse on
    the true one's widest line, a length from the true one's first end, a point or a level line. Nothing for a choice,
    whose letters are on the picture.
    """
    whole = next((mark.points for mark in question.shown if mark.role is MarkRole.ASKED), ())
    match question.instrument:
        case AnswerBy.NEEDLE if isinstance(answer, float) and len(whole) >= 2:
            return (Mark(MarkRole.ASKED, _needle(whole[0], whole[-1], answer)),)
        case AnswerBy.ELLIPSE if isinstance(answer, float) and len(whole) > 4:
            return (Mark(MarkRole.ASKED, _opened(whole, answer)),)
        case AnswerBy.STICK if isinstance(answer, float) and len(whole) == 2:
            share = answer / dict(question.told).get("ratio", dict(question.told).get("height_m", answer))
            (x0, y0), (x1, y1) = whole
            return (Mark(MarkRole.ASKED, ((x0, y0), (x0 + share * (x1 - x0), y0 + share * (y1 - y0)))),)
        case AnswerBy.LEVEL if isinstance(answer, tuple):
            wide = (
                float(question.view.width_px)
                if question.view is not None
                else question.window.width
                if question.window is not None
                else 0.0
            )
            return (Mark(MarkRole.ASKED, ((0.0, answer[1]), (wide, answer[1]))),)
        case AnswerBy.POINT if isinstance(answer, tuple):
            return (Mark(MarkRole.ASKED, (answer,)),)
    return ()


def _needle(p: Point, q: Point, tilt_deg: float) -> tuple[Point, Point]:
    half = min(math.dist(p, q), LONGEST_PX) / 2
    x, y, t = (p[0] + q[0]) / 2, (p[1] + q[1]) / 2, math.radians(tilt_deg)
    dx, dy = half * math.cos(t), -half * math.sin(t)
    return (x - dx, y - dy), (x + dx, y + dy)


def _opened(outline: tuple[Point, ...], degree_deg: float) -> tuple[Point, ...]:
    """The ellipse of that degree on the widest line of a closed ``outline``, whose points lie evenly round it by their
    eccentric angle.
    """
    points = np.array(outline[:-1])
    middle = points.mean(axis=0)
    # the axes of points even in the eccentric angle are those of the ellipse, and their mean square is half the
    # half-axis squared
    values, ways = np.linalg.eigh((points - middle).T @ (points - middle) / len(points))
    major = math.sqrt(2.0 * float(values[1])) * ways[:, 1]
    minor = math.sin(math.radians(degree_deg)) * math.hypot(*major) * ways[:, 0]
    turns = 2.0 * math.pi * np.arange(STEPS + 1) / STEPS
    drawn = middle + np.cos(turns)[:, None] * major + np.sin(turns)[:, None] * minor
    return tuple((float(x), float(y)) for x, y in drawn)
