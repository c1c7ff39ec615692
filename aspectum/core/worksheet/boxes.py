"""Boxes to be completed: in one-point from the face that is square to the eye, in two-point from the near corner."""

from __future__ import annotations

import math

import numpy as np

from aspectum.core.practice.scenes import first_that
from aspectum.core.sightings import Edge, Family, FormKind, Perspective, Point
from aspectum.core.stand.drawn import Drawing, Line
from aspectum.core.stand.things import Box
from aspectum.core.worksheet.exercise import Cross, Exercise, ExerciseForm, ExerciseKind, Grade, Laying, Role, Tag
from aspectum.core.worksheet.window import EYE_M, PX_PER_MM, Window, level_exercise, share

LETTERS = "ABCDEF"
SHRINKS = {Grade.EASY: (0.55, 0.68), Grade.MIDDLE: (0.62, 0.76), Grade.HARD: (0.66, 0.8)}  # back face over front face
APART_MM = 4.0  # between two boxes
CLEAR_MM = 9.0  # of a box's sides from eye level and from the plumb line through the vanishing point
CORNERS = ("top left", "top right", "bottom right", "bottom left")
TALL = {Grade.EASY: 0.26, Grade.MIDDLE: 0.26, Grade.HARD: 0.34}  # of the field: the least near upright
LEAST_DEPTH_MM = 12.0  # of a depth edge: a pencil tells the tilt of a shorter one no better than by some degrees
LEAST_MM = 12.0  # of an edge that is asked
CONE = math.tan(math.radians(30.0))  # of the focal length: within the 60° cone of vision


def one_point(size: tuple[float, float], grade: Grade, rng: np.random.Generator) -> Exercise:
    """Three boxes, below, across and above eye level, each given by the face square to the eye and the depth of one
    edge: a point at s times the front face's distance from the vanishing point lies on the back face.
    """
    return first_that(rng, lambda rng: _three(size, grade, rng))


def _three(size: tuple[float, float], grade: Grade, rng: np.random.Generator) -> Exercise | None:
    """Three boxes about one vanishing point; None where they do not find room beside each other."""
    vp = round(float(rng.uniform(0.42, 0.58)) * size[0], 1), round(float(rng.uniform(0.44, 0.56)) * size[1], 1)
    laying = Laying()
    laying.eye_level(size, vp[1])
    laying.vanishing_point(vp, *((letter, Family.DEPTH) for letter in LETTERS[:3]))
    taken: list[tuple[float, float, float, float]] = []
    for n, level in enumerate(rng.permutation(["below", "across", "above"]).tolist()):
        try:
            front, back = first_that(rng, lambda rng, n=n, level=level: _front(size, vp, level, n, grade, taken, rng))  # type: ignore[misc]
        except LookupError:
            return None
        taken.append(_round_both(front, back))
        _complete(laying, LETTERS[n], front, back, vp)
    return laying.exercise(
        ExerciseKind.ONE_POINT,
        grade,
        size,
        tuple(ExerciseForm(LETTERS[n], FormKind.BOX) for n in range(3)),
        perspective=Perspective.ONE_POINT,
        eye_level=(vp[1], vp[1]),
        centre=vp,
        focal=0.9 * size[0],
        vanishing_points=(vp,),
    )


Face = tuple[Point, Point, Point, Point]


def _front(
    size: tuple[float, float],
    vp: Point,
    level: str,
    column: int,
    grade: Grade,
    taken: list[tuple[float, float, float, float]],
    rng: np.random.Generator,
) -> tuple[Face, Face] | None:
    """A face in its column and on its level, and the back face behind it; None where they do not fit."""
    wide, high = float(rng.uniform(0.13, 0.22)) * size[0], float(rng.uniform(0.2, 0.34)) * size[1]
    left = column * size[0] / 3 + float(rng.uniform(0.02, 0.31)) * size[0] - wide / 2
    top = (
        vp[1] - high * float(rng.uniform(0.3, 0.7))
        if level == "across"
        else float(rng.uniform(0.02, 0.98)) * size[1] - high / 2
    )
    right, foot = left + wide, top + high
    inside = left > 3.0 and right < size[0] - 3.0 and top > 7.0 and foot < size[1] - 3.0
    placed = {
        "below": top > vp[1] + CLEAR_MM,
        "above": foot < vp[1] - CLEAR_MM,
        "across": right < vp[0] - CLEAR_MM or left > vp[0] + CLEAR_MM,
    }[level]
    # a side that is all but edge-on asks for nothing that a pencil could draw
    turned = level == "across" or min(abs(left - vp[0]), abs(right - vp[0])) > CLEAR_MM
    if not (inside and placed and turned):
        return None
    front: Face = ((left, top), (right, top), (right, foot), (left, foot))
    shrink = float(rng.uniform(*SHRINKS[grade]))
    a, b, c, d = (share(vp, corner, shrink) for corner in front)
    shows = _sides_seen(front, vp)
    if (
        min(
            math.dist(p, q)
            for k, (p, q) in enumerate(zip(front, (a, b, c, d), strict=True))
            if shows[k] or shows[k - 1]
        )
        < LEAST_DEPTH_MM
    ):
        return None
    mine = _round_both(front, (a, b, c, d))
    if any(
        mine[0] < t[2] + APART_MM
        and t[0] < mine[2] + APART_MM
        and mine[1] < t[3] + APART_MM
        and t[1] < mine[3] + APART_MM
        for t in taken
    ):
        return None
    return front, (a, b, c, d)


def _sides_seen(front: Face, vp: Point) -> list[bool]:
    """Whether the top, the right side, the underside and the left side show, each between one corner of the front and
    the next.
    """
    (left, top), _, (right, foot), _ = front
    return [top > vp[1], right < vp[0], foot < vp[1], left > vp[0]]


def _round_both(front: Face, back: Face) -> tuple[float, float, float, float]:
    xs, ys = [p[0] for p in (*front, *back)], [p[1] for p in (*front, *back)]
    return min(xs), min(ys), max(xs), max(ys)


def _complete(laying: Laying, letter: str, front: Face, back: Face, vp: Point) -> None:
    (left, top), _, (right, foot), _ = front
    shows = _sides_seen(front, vp)
    sides = ("top", "right", "bottom", "left")
    for k in range(4):
        p, q = front[k], front[(k + 1) % 4]
        family = Family.ACROSS if k % 2 == 0 else Family.UPRIGHT
        laying.give(f"{letter}: front, {sides[k]}", Edge("", letter, family, p, q), (p, q))
    laying.printed.append(Tag(((left + right) / 2, (top + foot) / 2 + 2.0), letter, middle=True))
    marked = False
    for k in range(4):
        # a corner's depth edge shows beside a side that shows
        if shows[k] or shows[k - 1]:
            laying.ask(
                f"{letter}: depth, {CORNERS[k]}", Edge("", letter, Family.DEPTH, front[k], back[k]), (front[k], back[k])
            )
            if not marked:
                laying.printed.append(Cross(back[k], Role.GIVEN))
                marked = True
        else:
            laying.stroke(Role.HIDDEN, front[k], back[k])
    for k in range(4):
        p, q = back[k], back[(k + 1) % 4]
        if shows[k]:
            family = Family.ACROSS if k % 2 == 0 else Family.UPRIGHT
            laying.ask(f"{letter}: back, {sides[k]}", Edge("", letter, family, p, q), (p, q))
        else:
            laying.stroke(Role.HIDDEN, p, q)


def near_corner(size: tuple[float, float], grade: Grade, rng: np.random.Generator) -> Exercise:
    """A box by its near upright, the two top edges from it, and eye level. Easy: both vanishing points are marked on
    the sheet; middle: they lie on the sheet and are found by drawing on; hard: at least one lies beyond it.
    """
    laying, window, vps = first_that(rng, lambda rng: _box(size, grade, rng))
    return level_exercise(ExerciseKind.NEAR_CORNER, grade, laying, window, (ExerciseForm("A", FormKind.BOX),), vps)


def _box(
    size: tuple[float, float], grade: Grade, rng: np.random.Generator
) -> tuple[Laying, Window, tuple[Point, Point]] | None:
    turn = float(rng.uniform(34.0, 56.0) if grade is not Grade.HARD else rng.uniform(22.0, 68.0))
    focal = size[0] * float(rng.uniform(0.36, 0.43) if grade is not Grade.HARD else rng.uniform(0.6, 0.85))
    centre = size[0] * float(rng.uniform(0.46, 0.54)), size[1] * float(rng.uniform(0.25, 0.75))
    window = Window(size, centre, focal)
    away = float(rng.uniform(1.8, 4.5))
    base = EYE_M - float(rng.uniform(-1.6, 2.2))
    box = Box(
        "A",
        (float(rng.uniform(-0.4, 0.4)), away),
        base,
        None,
        turn,
        size_m=(float(rng.uniform(0.9, 1.8)), float(rng.uniform(0.9, 1.8)), float(rng.uniform(0.8, 1.5))),
    )
    corners = window.draw(box).placed[0].box
    ends = window.seen(corners)
    if not window.inside(ends, 6.0) or max(math.dist(p, centre) for p in ends) > 0.97 * CONE * focal:
        return None
    drawing = window.draw(box)
    left, right = _vps(drawing, window)
    inside = [3.0 < vp[0] < size[0] - 3.0 for vp in (left, right)]
    if (grade is Grade.HARD and all(inside)) or (grade is not Grade.HARD and not all(inside)):
        return None
    near, upper = _from_corner(drawing, box.base_m + box.size_m[2] / 2 > EYE_M)
    asked = [e for e in drawing.edges if e not in (near, *upper) and any(b - a > 0.99 for a, b in e.visible)]
    if math.dist(window.at(near.p), window.at(near.q)) < TALL[grade] * size[1] or len(upper) != 2 or len(asked) < 4:
        return None
    if min(e.length_px for e in (near, *upper, *asked)) < LEAST_MM * PX_PER_MM:
        return None
    laying = Laying()
    laying.eye_level(size, centre[1])
    if grade is Grade.EASY:
        laying.vanishing_point(left, ("A", Family.LEFT))
        laying.vanishing_point(right, ("A", Family.RIGHT))
    for edge in (near, *upper):
        line = window.at(edge.p), window.at(edge.q)
        laying.give(edge.name, _edge(edge, line), line)
    for edge in drawing.edges:
        line = window.at(edge.p), window.at(edge.q)
        if edge in asked:
            laying.ask(edge.name, _edge(edge, line), line)
        elif edge not in (near, *upper):
            laying.stroke(Role.HIDDEN, *line)
    return laying, window, (left, right)


def _edge(edge: Line, line: tuple[Point, Point]) -> Edge:
    assert edge.way is not None
    return Edge("", "A", edge.way.family, *line)


def _vps(drawing: Drawing, window: Window) -> tuple[Point, Point]:
    left, right = sorted(window.at(vp.at_px) for vp in drawing.vanishing_points if vp.at_px is not None)[:2]
    return left, right


def _from_corner(drawing: Drawing, above: bool) -> tuple[Line, list[Line]]:
    """The near upright and the two edges that run from its top; from its foot where the form stands above eye level."""
    uprights = [e for e in drawing.edges if e.way is not None and e.way.family is Family.UPRIGHT]
    near = max(uprights, key=lambda e: e.length_px)
    low, high = sorted((near.p, near.q), key=lambda p: p[1], reverse=True)
    start = low if above else high
    return near, [
        e for e in drawing.edges if e is not near and min(math.dist(start, e.p), math.dist(start, e.q)) < 0.01
    ]
