"""Walls seen obliquely: their middle, thirds and next bay, and a gable whose nearer half is given."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import partial

import numpy as np

from aspectum.core.practice.scenes import first_that
from aspectum.core.sightings import (
    Alignment,
    Along,
    Division,
    Edge,
    Face,
    Family,
    FormKind,
    Guide,
    Length,
    PartAlong,
    Point,
)
from aspectum.core.worksheet.boxes import CONE, LETTERS
from aspectum.core.worksheet.exercise import Exercise, ExerciseForm, ExerciseKind, Grade, Laying, Role, Tag
from aspectum.core.worksheet.window import EYE_M, Window, level_exercise

FOCAL = 0.85  # of the field's width
CLOSING = {Grade.EASY: (0.5, 0.66), Grade.MIDDLE: (0.58, 0.74), Grade.HARD: (0.68, 0.84)}  # far upright over near
PARTS: dict[str, tuple[float, ...]] = {"A": (0.5,), "B": (1 / 3, 2 / 3), "C": (2.0,)}
SAID = {0.5: "middle", 1 / 3: "first third", 2 / 3: "second third", 2.0: "next bay"}


@dataclass(frozen=True)
class Side:
    """A flat upright wall: its foot runs from ``start`` along ``way`` (m on the ground, per part of its length), up to
    ``high`` from ``base``.
    """

    start: tuple[float, float]
    way: tuple[float, float]
    base: float
    high: float

    def place(self, part: float, up: float) -> tuple[float, float, float]:
        """A place on it, parts of its length and height (m)."""
        return self.start[0] + part * self.way[0], self.start[1] + part * self.way[1], self.base + up * self.high


def parts(size: tuple[float, float], grade: Grade, rng: np.random.Generator) -> Exercise:
    """Three walls: the middle of one, the thirds of another, the bay that follows a third."""
    window = Window(size, (size[0] / 2, float(rng.uniform(0.35, 0.65)) * size[1]), FOCAL * size[0])
    laying = Laying()
    laying.eye_level(size, window.centre[1])
    columns = ((0.015, 0.32), (0.34, 0.645), (0.665, 0.985))
    for n, (letter, asked) in enumerate(PARTS.items()):
        low, high = columns[n][0] * size[0], columns[n][1] * size[0]
        farthest = max(1.0, *asked)
        drawn = partial(_wall, window, (low, high), farthest, grade)
        wall = first_that(rng, drawn)
        # it is read from its left end: the first corner of a face is at its bottom left
        receding = Family.RIGHT if _distance(wall, 1.0) > _distance(wall, 0.0) else Family.LEFT
        from_near = receding is Family.RIGHT
        _lay_wall(
            laying,
            window,
            wall,
            letter,
            receding,
            [p if from_near else 1.0 - p for p in asked],
            [SAID[p] for p in asked],
        )
    forms = tuple(ExerciseForm(letter, FormKind.BUILDING) for letter in PARTS)
    return level_exercise(ExerciseKind.PARTS, grade, laying, window, forms)


def _distance(wall: Side, part: float) -> float:
    return wall.place(part, 0.0)[1]


def _wall(
    window: Window, column: tuple[float, float], most: float, grade: Grade, rng: np.random.Generator
) -> Side | None:
    """A wall from left to right inside a column of the field, its next bays too."""
    closing, away = float(rng.uniform(*CLOSING[grade])), 6.0
    left_near = bool(rng.random() < 0.5)
    depth = away / closing
    wide = column[1] - column[0]
    long = wide * float(rng.uniform(0.5, 0.75)) * (1.0 if most == 1.0 else 0.62)
    x = column[0] + float(rng.uniform(0.05, 0.95)) * (wide - long)
    if most > 1.0:
        # the next bay follows at the far end
        x = column[0] + (0.06 * wide if left_near else 0.94 * wide - long)
    ends = [(v - window.centre[0]) / window.focal for v in (x, x + long)]
    near, far = (away, depth) if left_near else (depth, away)
    start, stop = (ends[0] * near, near), (ends[1] * far, far)
    high = float(rng.uniform(0.3, 0.5)) * window.size[1] * away / window.focal
    wall = Side(start, (stop[0] - start[0], stop[1] - start[1]), EYE_M - high * float(rng.uniform(0.15, 0.85)), high)
    reach = most if left_near else 1.0 - most
    lowest, highest = min(0.0, reach), max(1.0, reach)
    if min(wall.place(p, 0.0)[1] for p in (lowest, highest)) < 1.0:
        return None
    corners = _seen(window, wall, [(p, u) for p in (lowest, highest) for u in (0.0, 1.0)])
    inside = window.inside(corners, 6.0) and all(column[0] <= p[0] <= column[1] for p in corners)
    if not inside or max(math.dist(p, window.centre) for p in corners) > CONE * 1.1 * window.focal:
        return None
    return wall


def _seen(window: Window, wall: Side, places: list[tuple[float, float]]) -> list[Point]:
    return window.seen(np.array([wall.place(p, u) for p, u in places]))


def _lay_wall(
    laying: Laying, window: Window, wall: Side, letter: str, receding: Family, asked: list[float], names: list[str]
) -> None:
    a, b, c, d = _seen(window, wall, [(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)])
    for name, family, p, q in (
        ("foot", receding, a, b),
        ("right upright", Family.UPRIGHT, b, c),
        ("top", receding, d, c),
        ("left upright", Family.UPRIGHT, a, d),
    ):
        laying.give(f"{letter}: {name}", Edge("", letter, family, p, q), (p, q))
    face = laying.give(f"{letter}: wall", Face("", letter, (receding, Family.UPRIGHT), (a, b, c, d)))
    laying.printed.append(Tag(((a[0] + b[0]) / 2, max(a[1], b[1]) + 5.0), letter, middle=True))
    for part, name in zip(asked, names, strict=True):
        foot, top = _seen(window, wall, [(part, 0.0), (part, 1.0)])
        laying.ask(f"{letter}: {name}", Division("", face, PartAlong.ACROSS, foot), (foot, top), measured=True)
        if not 0.0 <= part <= 1.0:
            for end, up in ((foot, 0.0), (top, 1.0)):
                start = _seen(window, wall, [(0.0 if part < 0.0 else 1.0, up)])[0]
                laying.stroke(Role.HIDDEN, start, end)


# half outlines from the foot to the middle: (out, up), parts of the half width and of the height
HALVES = {
    Grade.EASY: (((1.0, 0.0), (1.0, 0.62), (0.0, 1.0)),),
    Grade.MIDDLE: (((1.0, 0.0), (1.0, 0.55), (0.45, 0.78), (0.0, 1.0)), ((0.72, 0.0), (1.0, 0.5), (0.0, 1.0))),
    Grade.HARD: (
        ((1.0, 0.0), (1.0, 0.5), (0.6, 0.5), (0.6, 0.8), (0.0, 1.0)),
        ((0.6, 0.0), (1.0, 0.35), (0.55, 0.7), (0.55, 0.85), (0.0, 1.0)),
    ),
}


def mirror(size: tuple[float, float], grade: Grade, rng: np.random.Generator) -> Exercise:
    """Two fronts by their nearer half and their middle line; the farther half is asked: equal true distances from the
    middle, the nearer drawn wider.
    """
    window = Window(size, (size[0] / 2, float(rng.uniform(0.45, 0.7)) * size[1]), FOCAL * size[0])
    laying = Laying()
    laying.eye_level(size, window.centre[1])
    vps: list[Point] = []
    for n, column in enumerate(((0.02, 0.48), (0.52, 0.98))):
        letter = LETTERS[n]
        span = column[0] * size[0], column[1] * size[0]
        wall = first_that(rng, lambda rng, span=span: _wall(window, span, 1.0, grade, rng))  # type: ignore[misc]
        half = HALVES[grade][int(rng.integers(len(HALVES[grade])))]
        vp, receding = _lay_front(laying, window, wall, letter, half)
        vps.append(vp)
        if grade is Grade.EASY and 0.0 <= vp[0] <= size[0]:
            laying.vanishing_point(vp, (letter, receding))
    forms = tuple(ExerciseForm(LETTERS[n], FormKind.BUILDING) for n in range(2))
    return level_exercise(ExerciseKind.MIRROR, grade, laying, window, forms, tuple(vps))


def _lay_front(
    laying: Laying, window: Window, wall: Side, letter: str, half: tuple[tuple[float, float], ...]
) -> tuple[Point, Family]:
    """Lay a front's nearer half and ask the other; answers the vanishing point of its level lines, and their family."""
    near_left = _distance(wall, 0.0) < _distance(wall, 1.0)
    receding = Family.RIGHT if near_left else Family.LEFT

    def at(out: float, up: float, nearer: bool) -> Point:
        """A place ``out`` half widths from the middle, to the nearer side or to the other."""
        part = 0.5 - out / 2 if nearer == near_left else 0.5 + out / 2
        return _seen(window, wall, [(part, up)])[0]

    foot, top = at(0.0, 0.0, True), at(0.0, 1.0, True)
    laying.give(f"{letter}: middle line", Edge("", letter, Family.UPRIGHT, foot, top), (foot, top), Role.CONSTRUCTION)
    if letter == LETTERS[0]:
        laying.give("A: height of the middle line", Length("", foot, top, Along.UPRIGHT, unit=True))
    ground = at(1.0, 0.0, True), at(1.0, 0.0, False)
    laying.give(f"{letter}: ground", Edge("", letter, receding, *ground), ground, Role.CONSTRUCTION)
    laying.printed.append(Tag((foot[0], max(foot[1], ground[0][1], ground[1][1]) + 5.0), letter, middle=True))
    if half[0][0] < 1.0:
        laying.stroke(Role.GIVEN, foot, at(half[0][0], 0.0, True))
    for k in range(len(half) - 1):
        laying.stroke(Role.GIVEN, at(*half[k], True), at(*half[k + 1], True))
        p, q = at(*half[k], False), at(*half[k + 1], False)
        name = f"{letter}: line {k + 1} from the foot"
        if half[k][0] == half[k + 1][0]:
            line = laying.ask(name, Edge("", letter, Family.UPRIGHT, p, q), (p, q))
        elif half[k][1] == half[k + 1][1]:
            line = laying.ask(name, Edge("", letter, receding, p, q), (p, q))
        else:
            line = laying.ask(name, Alignment("", p, q, Guide.TILT), (p, q))
        out, up = half[k + 1]
        if out > 0.0:
            # how far out each corner stands is what the exercise is about
            laying.ask(f"{letter}: out to corner {k + 1}", Length("", at(0.0, up, True), q, Along.ACROSS), ends=line)
    way = np.array(wall.way)
    return (window.centre[0] + window.focal * float(way[0] / way[1]), window.centre[1]), receding
