"""Exercises about the whole view: figures and doors by eye level, eye level found from a picture, and tilts off it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from aspectum.core.practice.scenes import first_that
from aspectum.core.sightings import Alignment, Along, Family, FormKind, Guide, Length, Point
from aspectum.core.stand.drawn import Drawing
from aspectum.core.stand.things import Box, Figure
from aspectum.core.worksheet.boxes import CONE, LETTERS
from aspectum.core.worksheet.exercise import (
    Cross,
    Exercise,
    ExerciseForm,
    ExerciseKind,
    Grade,
    Laying,
    Pictured,
    Role,
    Said,
    Tag,
)
from aspectum.core.worksheet.window import EYE_M, PX_PER_MM, Window, level_exercise, share

GIVEN_M = 1.7  # a figure standing, as the handbook's examples have it
DOOR_M = 2.0  # a door, as the handbook's examples have it
EYES_M = {
    Grade.EASY: (1.55, 1.65),
    Grade.MIDDLE: (1.1, 1.65),
    Grade.HARD: (2.6, 4.5),
}  # standing, sitting too, from a bank
COUNT = {Grade.EASY: 3, Grade.MIDDLE: 4, Grade.HARD: 5}  # heights to find: what fits side by side on the page
APART = 0.105  # of the field's width: between two feet
MARK_MM = 36.0  # length of a tilt that is drawn
LEAST_DEG = 4.0  # of a tilt that is asked about: flatter ones need no stick
STEEPEST_DEG = 86.0  # nor an upright
WHOLE = ((0.0, 1.0),)  # what an edge shows that nothing hides, from end to end
LETTERS_MANY = "ABCDEFGHJK"


def figures(size: tuple[float, float], grade: Grade, rng: np.random.Generator) -> Exercise:
    """Level ground with one figure of 1.70 m and eye level; others of known height are asked where their feet are
    marked: on level ground equal heights are cut by eye level in one part (handbook section 5).
    """
    return first_that(rng, lambda rng: _ground(size, grade, rng))


def _ground(size: tuple[float, float], grade: Grade, rng: np.random.Generator) -> Exercise | None:
    eye = round(float(rng.uniform(*EYES_M[grade])), 2)
    level = size[1] * float(rng.uniform(0.24, 0.34))
    window = Window(size, (size[0] / 2, level), size[0], eye)
    laying = Laying()
    laying.eye_level(size, level)
    wanted = [
        GIVEN_M,
        *(
            GIVEN_M if k == 0 else DOOR_M if k == 1 else round(float(rng.uniform(0.9, 2.4)), 1)
            for k in range(COUNT[grade])
        ),
    ]
    feet: list[tuple[float, float]] = []
    for n, height in enumerate(wanted):
        for _ in range(60):
            x = float(rng.uniform(0.08, 0.92)) * size[0]
            # the foot's height on the sheet, from a little under eye level to the field's foot
            y = level + float(rng.uniform(0.3, 0.9)) * (size[1] - level - 12.0)
            away = window.focal * eye / (y - level)
            top = y - height * window.focal / away
            if top > 4.0 and y - top > 14.0 and all(abs(x - a) > APART * size[0] for a, _ in feet):
                break
        else:
            return None
        feet.append((x, y))
        foot, head = (x, y), (x, top)
        if n == 0:
            drawing = window.draw(Figure("figure", ((x - size[0] / 2) * away / window.focal, away), height_m=height))
            for line in drawing.outlines:
                laying.stroke(Role.GIVEN, window.at(line.p), window.at(line.q))
            for curve in drawing.curves:
                laying.stroke(Role.GIVEN, *(window.at(p) for p in curve.points))
            laying.give("figure", Length("", foot, head, Along.UPRIGHT, unit=True), (foot, head), Role.CONSTRUCTION)
        else:
            laying.printed.append(Cross(foot, Role.GIVEN))
            laying.ask(
                f"{LETTERS[n - 1]}: {height:.2f} m", Length("", foot, head, Along.UPRIGHT), (foot, head), measured=False
            )
            laying.printed.append(Tag((x, y + 9.0), LETTERS[n - 1], middle=True))
        laying.printed.append(Tag((x, y + 5.0), number=height, said=Said.METRES, middle=True))
    return level_exercise(ExerciseKind.FIGURES, grade, laying, window, (ExerciseForm("ground", FormKind.OTHER),))


@dataclass(frozen=True)
class PictureEdge:
    """An edge of a picture (parts of its width and height from its top left), and its tilt."""

    p: Point
    q: Point
    tilt_deg: float


@dataclass(frozen=True)
class PictureGiven:
    """What is known of a photo: its width over its height, its edges, eye level at its left and right edge, and the
    near upright, parts of its size.
    """

    shape: float
    edges: tuple[PictureEdge, ...]
    eye_level: tuple[float, float] | None = None
    upright: tuple[Point, Point] | None = None


def eye_level(
    size: tuple[float, float], grade: Grade, rng: np.random.Generator, photo: PictureGiven | None = None
) -> Exercise:
    """A picture without its eye level, which is asked: a photo, or a drawing of boxes. It is told by how far it lies
    from the foot of the near upright, in near uprights.
    """
    laying = Laying()
    if photo is not None and photo.eye_level is not None and photo.upright is not None:
        box = fitted(size, photo.shape)
        foot, top = sorted((_placed(box, p) for p in photo.upright), key=lambda p: p[1], reverse=True)
        left, right = (box[1] + y * box[3] for y in photo.eye_level)
        line = (box[0], left), (box[0] + box[2], right)
        _ask_level(laying, foot, top, line)
        ends = _carried(line, 0.0), _carried(line, size[0])
        return laying.exercise(
            ExerciseKind.EYE_LEVEL,
            grade,
            size,
            (ExerciseForm("A", FormKind.OTHER),),
            eye_level=ends,
            picture=Pictured(box),
        )
    window, drawing = first_that(rng, lambda rng: _boxes(size, size[0], 1 if grade is Grade.EASY else 2, grade, rng))
    _lay_boxes(laying, window, drawing)
    near = max(
        (e for e in drawing.edges if e.way is not None and e.way.family is Family.UPRIGHT), key=lambda e: e.length_px
    )
    foot, top = sorted((window.at(near.p), window.at(near.q)), key=lambda p: p[1], reverse=True)
    level = window.centre[1]
    _ask_level(laying, foot, top, ((0.0, level), (size[0], level)))
    return level_exercise(ExerciseKind.EYE_LEVEL, grade, laying, window, (ExerciseForm("A", FormKind.BOX),))


def _ask_level(laying: Laying, foot: Point, top: Point, line: tuple[Point, Point]) -> None:
    laying.give("near upright", Length("", foot, top, Along.UPRIGHT, unit=True))
    laying.ask("eye level", Length("", foot, (foot[0], _carried(line, foot[0])), Along.UPRIGHT), line, measured=True)


def _carried(line: tuple[Point, Point], x: float) -> float:
    """Height of a line at ``x``."""
    (a, b), (c, d) = line
    return b + (d - b) * (x - a) / (c - a)


def fitted(size: tuple[float, float], shape: float, part: float = 1.0) -> tuple[float, float, float, float]:
    """The largest box of a shape in the left ``part`` of a field: left, top, width, height."""
    wide = min(size[0] * part, size[1] * shape)
    return (size[0] * part - wide) / 2, (size[1] - wide / shape) / 2, wide, wide / shape


def _placed(box: tuple[float, float, float, float], at: Point) -> Point:
    return box[0] + at[0] * box[2], box[1] + at[1] * box[3]


def _boxes(
    size: tuple[float, float], wide: float, count: int, grade: Grade, rng: np.random.Generator
) -> tuple[Window, Drawing] | None:
    """Boxes side by side in the left ``wide`` of the field, each turned its own way and on a height of its own."""
    centre = wide / 2, size[1] * float(rng.uniform(0.3, 0.7))
    focal = wide * (0.9 if grade is not Grade.HARD else 1.2)
    window = Window(size, centre, focal)
    metre = 0.36 * min(
        size[1], 0.9 * wide / count
    )  # mm that a metre is drawn long, so that a turned box fits its place
    away = focal / metre
    things = []
    for n in range(count):
        x, y = (n + 0.5) / count * wide, size[1] * float(rng.uniform(0.3, 0.7))
        edges = float(rng.uniform(0.8, 1.6)), float(rng.uniform(0.8, 1.6)), float(rng.uniform(0.8, 1.6))
        base = EYE_M - (y - centre[1]) / metre - edges[2] / 2
        things.append(
            Box(f"b{n}", ((x - centre[0]) / metre, away), base, None, float(rng.uniform(20.0, 70.0)), size_m=edges)
        )
    drawing = window.draw(*things)
    spans = [window.seen(placed.box) for placed in drawing.placed]
    corners = [p for span in spans for p in span]
    if (
        not window.inside(corners, 6.0)
        or max(p[0] for p in corners) > wide
        or max(math.dist(p, centre) for p in corners) > CONE * focal
    ):
        return None
    for one, next_one in pairwise(spans):
        if max(p[0] for p in one) + 3.0 > min(p[0] for p in next_one):
            return None
    return window, drawing


def _tilted(
    size: tuple[float, float], wide: float, grade: Grade, rng: np.random.Generator
) -> tuple[Window, Drawing, list[tuple[Point, Point, float]]] | None:
    """Boxes of which enough edges run off level, with these edges."""
    made = _boxes(size, wide, 2, grade, rng)
    if made is None:
        return None
    window, drawing = made
    whole = [
        e for e in drawing.edges if e.visible == WHOLE and e.way is not None and e.way.family is not Family.UPRIGHT
    ]
    found = [
        (window.at(e.p), window.at(e.q), e.tilt_deg)
        for e in whole
        if e.length_px > 12.0 * PX_PER_MM and abs(e.tilt_deg) > LEAST_DEG
    ]
    return (window, drawing, found) if len(found) >= COUNT[grade] + 1 else None


def _lay_boxes(laying: Laying, window: Window, drawing: Drawing) -> None:
    for edge in drawing.edges:
        for a, b in edge.visible:
            laying.stroke(Role.GIVEN, window.at(edge.at(a)), window.at(edge.at(b)))


def tilts(
    size: tuple[float, float], grade: Grade, rng: np.random.Generator, photo: PictureGiven | None = None
) -> Exercise:
    """A photo, or a drawing of boxes, with letters on some of its edges; beside it a plumb line with a dot for each,
    through which its tilt is drawn.
    """
    laying = Laying()
    part = 0.56
    picture: Pictured | None = None
    found: list[tuple[Point, Point, float]]
    if photo is not None:
        box = fitted(size, photo.shape, part)
        picture = Pictured(box)
        found = [(_placed(box, e.p), _placed(box, e.q), e.tilt_deg) for e in photo.edges]
    else:
        window, drawing, found = first_that(rng, lambda rng: _tilted(size, part * size[0], grade, rng))
        _lay_boxes(laying, window, drawing)
    worth = [edge for edge in found if LEAST_DEG < abs(edge[2]) < STEEPEST_DEG]
    if not worth:
        raise LookupError("the picture has no edges whose tilt could be asked")
    order = list(rng.permutation(len(worth)))[: 2 * COUNT[grade]]
    rows, columns = math.ceil(len(order) / 2), 2
    for n, k in enumerate(sorted(order)):
        p, q, tilt = worth[k]
        letter = LETTERS_MANY[n]
        middle = share(p, q, 0.5)
        laying.printed += [Cross(middle, Role.CONSTRUCTION), Tag((middle[0] + 1.5, middle[1] - 1.5), letter)]
        row, column = divmod(n, columns)
        at = size[0] * (part + (1 - part) * (column + 0.5) / columns), size[1] * (row + 0.5) / rows
        plumb = min(18.0, 0.42 * size[1] / rows)
        laying.stroke(Role.CONSTRUCTION, (at[0], at[1] - plumb), (at[0], at[1] + plumb))
        laying.printed += [Cross(at, Role.GIVEN), Tag((at[0] - MARK_MM / 2 - 4.0, at[1] + 1.0), letter)]
        half = MARK_MM / 2
        c, s = math.cos(math.radians(tilt)), math.sin(math.radians(tilt))
        line = (at[0] - half * c, at[1] + half * s), (at[0] + half * c, at[1] - half * s)
        laying.ask(f"{letter}: tilt", Alignment("", *line, Guide.TILT), line)
        laying.printed.append(Tag((at[0] + half + 2.0, at[1] + 1.0), number=tilt, said=Said.DEGREES, role=Role.ANSWER))
    return laying.exercise(ExerciseKind.TILTS, grade, size, (ExerciseForm("A", FormKind.OTHER),), picture=picture)
