"""Round things: lower rims from the upper, the rim ladder, a cylinder turned, wheels in their squares, and lettering
round a form.
"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.practice.scenes import first_that
from aspectum.core.sightings import Along, Edge, Family, FormKind, Length, Perspective, Plane, Point, Tip
from aspectum.core.stand.drawn import Drawing, DrawnRim
from aspectum.core.stand.kinds import Parallel
from aspectum.core.stand.things import Cylinder
from aspectum.core.worksheet.boxes import CONE, LETTERS
from aspectum.core.worksheet.exercise import Cross, Exercise, ExerciseForm, ExerciseKind, Grade, Laying, Role, Said, Tag
from aspectum.core.worksheet.window import (
    EYE_M,
    ParallelWindow,
    Window,
    arcs,
    ellipse_in,
    level_exercise,
    on_ellipse,
    rim_of,
    share,
)

AXIS_OVER_MM = 5.0  # by which an axis is drawn beyond the rims
TALL = {
    Grade.EASY: (0.28, 0.42),
    Grade.MIDDLE: (0.18, 0.27),
    Grade.HARD: (0.18, 0.27),
}  # of the field: where one stands above eye level too, less room
LEAST_GIVEN = 0.03  # ratio of a rim that is printed
LEAST_RATIO = 0.05  # of a rim that is asked: flatter ones a pencil cannot tell
FOCAL = {
    Grade.EASY: 1.25,
    Grade.MIDDLE: 1.3,
    Grade.HARD: 1.4,
}  # of the field's width: the longer, the less the lower rim opens
TINS_FARTHER = (
    1.25  # times the focal length of the ladder: with three side by side the outer ones stand well off the middle
)
COLUMN = 0.21  # of the field's width between two tins: near the middle their rims stay as good as square to their axes
ISO_MAJOR, ISO_MINOR, ISO_DEGREE_DEG = (
    math.sqrt(1.5),
    math.sqrt(0.5),
    math.degrees(math.asin(math.tan(math.radians(30.0)))),
)  # ISO 5456-3:1996


def lower_rim(size: tuple[float, float], grade: Grade, rng: np.random.Generator) -> Exercise:
    """Three upright tins with one rim each, the sides and the axis; the rim farther from eye level is asked."""
    level = size[1] * float(rng.uniform(0.1, 0.22) if grade is Grade.EASY else rng.uniform(0.46, 0.5))
    window = Window(size, (size[0] / 2, level), TINS_FARTHER * FOCAL[grade] * size[0])
    laying = Laying()
    laying.eye_level(size, level)
    over = -1 if grade is Grade.EASY else int(rng.integers(3))
    for n in range(3):
        drawing, given, asked = first_that(rng, lambda rng, n=n: _tin(window, n, n == over, grade, rng))  # type: ignore[misc]
        letter = LETTERS[n]
        ring, answer = ellipse_in(window, given), ellipse_in(window, asked)
        _axis(laying, ring.centre_px, answer.centre_px)
        for line in drawing.outlines:
            laying.stroke(Role.GIVEN, window.at(line.p), window.at(line.q))
        arcs(laying, window, given)
        laying.give(f"{letter}: {given.name}", rim_of(ring, letter, Plane.LEVEL))
        laying.ask(f"{letter}: {asked.name}", rim_of(answer, letter, Plane.LEVEL), ellipse=answer)
        laying.printed.append(
            Tag((ring.centre_px[0] + ring.major_px / 2 + 2.0, (ring.centre_px[1] + answer.centre_px[1]) / 2), letter)
        )
    return level_exercise(ExerciseKind.LOWER_RIM, grade, laying, window, _tins_of(LETTERS[:3]))


def _tin(
    window: Window, column: int, over: bool, grade: Grade, rng: np.random.Generator
) -> tuple[Drawing, DrawnRim, DrawnRim] | None:
    """A tin in its third of the field, below eye level or ``over`` it: drawing, the rim nearer to eye level and the one
    farther from it.
    """
    (wide, tall), away = window.size, 4.0
    metre = window.focal / away  # mm that a metre is drawn long there
    radius, high = float(rng.uniform(0.065, 0.085)) * wide, float(rng.uniform(*TALL[grade])) * tall
    x = (0.5 + COLUMN * (column - 1) + float(rng.uniform(-0.02, 0.02))) * wide
    level = window.centre[1]
    y = float(rng.uniform(0.08 * tall + high, level - 4.0) if over else rng.uniform(level + 4.0 + high, 0.92 * tall))
    drawing = window.draw(
        Cylinder(
            LETTERS[column],
            ((x - wide / 2) / metre, away),
            EYE_M - (y - level) / metre,
            radius_m=radius / metre,
            height_m=high / metre,
        )
    )
    given, asked = sorted(drawing.rims, key=lambda rim: abs(window.at(rim.ellipse.centre_px)[1] - level))
    ring, answer = ellipse_in(window, given), ellipse_in(window, asked)
    around = [on_ellipse(e, k / 8) for e in (ring, answer) for k in range(8)]
    fits = window.inside(around, 4.0) and max(math.dist(p, window.centre) for p in around) < CONE * window.focal
    return (drawing, given, asked) if fits and ring.ratio > LEAST_GIVEN and answer.ratio > LEAST_RATIO else None


def _axis(laying: Laying, p: Point, q: Point) -> None:
    run = math.dist(p, q)
    laying.stroke(Role.CONSTRUCTION, share(p, q, -AXIS_OVER_MM / run), share(p, q, 1 + AXIS_OVER_MM / run))


def _tins_of(letters: str) -> tuple[ExerciseForm, ...]:
    return tuple(ExerciseForm(letter, FormKind.CYLINDER) for letter in letters)


def rim_ladder(size: tuple[float, float], grade: Grade, rng: np.random.Generator) -> Exercise:
    """Two axes with the heights of rims marked on them and plumb lines at their sides; one rim is given, from which eye
    level tells all the others: their ratios are as their distances from it.
    """
    return first_that(rng, lambda rng: _ladders(size, grade, rng))


def _ladders(size: tuple[float, float], grade: Grade, rng: np.random.Generator) -> Exercise | None:
    level = size[1] * float(rng.uniform(0.3, 0.7))
    window = Window(size, (size[0] / 2, level), FOCAL[grade] * size[0] * 0.8)
    laying = Laying()
    laying.eye_level(size, level)
    away, count = 4.0, {Grade.EASY: 4, Grade.MIDDLE: 5, Grade.HARD: 6}[grade]
    metre = window.focal / away
    for n, place in enumerate((0.33, 0.67)):
        letter = LETTERS[n]
        radius = float(rng.uniform(0.12, 0.15) if n == 0 else rng.uniform(0.06, 0.09)) * size[0] / metre
        x = (place - 0.5) * size[0] / metre
        heights = (level - np.linspace(0.15, 0.85, count) * size[1] + rng.uniform(-0.03, 0.03, count) * size[1]) / metre
        heights = np.array([h for h in heights if abs(h) * metre > LEAST_RATIO * window.focal])
        if len(heights) < count - 1:
            return None
        given = -1 if n else int(np.argmin(np.abs(np.abs(heights) - np.median(np.abs(heights)))))
        widest = 0.0
        for k, h in enumerate(heights):
            drawing = window.draw(Cylinder(letter, (x, away), EYE_M + float(h) - 0.5, radius_m=radius, height_m=0.5))
            rim = max(drawing.rims, key=lambda r: float(r.room[0][2]))
            ellipse = ellipse_in(window, rim)
            if not window.inside([on_ellipse(ellipse, t / 8) for t in range(8)], 2.0):
                return None
            widest = max(widest, ellipse.major_px)
            name = f"{letter}: rim {k + 1} from the top"
            sighting = rim_of(ellipse, letter, Plane.LEVEL)
            mark = window.at(rim.middle_px)
            laying.printed.append(Cross(mark, Role.GIVEN))
            if k == given:
                laying.give(name, sighting)
                arcs(laying, window, replace(rim, visible=((0.0, 1.0),)))
            else:
                laying.ask(name, sighting, ellipse=ellipse)
        middle = size[0] / 2 + x * metre
        laying.stroke(Role.CONSTRUCTION, (middle, 3.0), (middle, size[1] - 3.0))
        for side in (-0.5, 0.5):
            laying.stroke(Role.CONSTRUCTION, (middle + side * widest, 3.0), (middle + side * widest, size[1] - 3.0))
        laying.printed.append(Tag((middle + widest / 2 + 3.0, 6.0), letter))
    return level_exercise(ExerciseKind.RIM_LADDER, grade, laying, window, _tins_of(LETTERS[:2]))


# easy ones at quarters of a right angle, hard ones where no habit helps
TURNS_DEG = {Grade.EASY: (22.5, 45.0, 67.5), Grade.MIDDLE: (22.5, 45.0, 67.5), Grade.HARD: (15.0, 35.0, 55.0, 75.0)}


def turned(size: tuple[float, float], grade: Grade, rng: np.random.Generator) -> Exercise:
    """A cylinder from the side, then turned end-on by known angles, square to the view: its ends open as the sine, its
    length as the cosine.
    """
    angles = TURNS_DEG[grade]
    columns = len(angles) + 1
    across = float(rng.uniform(0.2, 0.28)) * size[1] * (1.1 if columns == 4 else 0.95)
    long = min(0.74 * size[0] / columns, across * float(rng.uniform(1.15, 1.6)))
    laying = Laying()
    letters = LETTERS[:columns]
    for n, angle in enumerate((0.0, *angles)):
        letter, x, y = letters[n], (n + 0.5) / columns * size[0], size[1] * float(rng.uniform(0.38, 0.6))
        lean = 0.0 if grade is Grade.EASY or n == 0 else float(rng.uniform(-25.0, 25.0))
        half = long / 2 * math.cos(math.radians(angle))
        way = math.cos(math.radians(lean)), -math.sin(math.radians(lean))
        near, far = (x - half * way[0], y - half * way[1]), (x + half * way[0], y + half * way[1])
        reach = long / 2 + AXIS_OVER_MM
        laying.stroke(
            Role.CONSTRUCTION, (x - reach * way[0], y - reach * way[1]), (x + reach * way[0], y + reach * way[1])
        )
        laying.printed.append(Cross((x, y), Role.CONSTRUCTION))
        foot = size[1] * 0.9
        laying.printed += [Tag((x - 8.0, foot), letter), Tag((x, foot), number=angle, said=Said.DEGREES)]
        up = way[1] * across / 2, -way[0] * across / 2
        if n == 0:
            corners = [
                (x + a * half * way[0] + b * up[0], y + a * half * way[1] + b * up[1])
                for a, b in ((-1, 1), (1, 1), (1, -1), (-1, -1))
            ]
            for k in range(4):
                p, q = corners[k], corners[(k + 1) % 4]
                if k == 3:
                    laying.give(f"{letter}: width", Length("", p, q, Along.EDGE, unit=True), (p, q))
                else:
                    laying.stroke(Role.GIVEN, p, q)
            continue
        ratio = math.sin(math.radians(angle))
        for name, at in (("near end", near), ("far end", far)):
            ellipse = Ellipse(at, across, across * ratio, lean, angle)
            laying.ask(f"{letter}: {name}", rim_of(ellipse, letter, Plane.RIGHT), ellipse=ellipse)
        for sign in (1.0, -1.0):
            # they run into the ends without a corner, so that their tilt is all that they tell
            p, q = (near[0] + sign * up[0], near[1] + sign * up[1]), (far[0] + sign * up[0], far[1] + sign * up[1])
            laying.ask(
                f"{letter}: {'upper' if sign > 0 else 'lower'} side",
                Edge("", letter, Family.RIGHT, p, q, hidden=(Tip.P, Tip.Q)),
                (p, q),
            )
    return _parallel_exercise(ExerciseKind.TURNED, grade, size, laying, _tins_of(letters[1:]))


def _parallel_exercise(
    kind: ExerciseKind, grade: Grade, size: tuple[float, float], laying: Laying, forms: tuple[ExerciseForm, ...]
) -> Exercise:
    return laying.exercise(
        kind, grade, size, forms, perspective=Perspective.PARALLEL, centre=(size[0] / 2, size[1] / 2)
    )


def isometric(size: tuple[float, float], grade: Grade, rng: np.random.Generator) -> Exercise:
    """An isometric block with squares on its faces; in each a circle is asked: axes 1.2247 and 0.7071 of its diameter,
    the minor along the face's normal (ISO 5456-3:1996).
    """
    long, deep, high = float(rng.uniform(1.9, 2.3)), float(rng.uniform(0.85, 1.1)), float(rng.uniform(0.85, 1.1))
    # its drawn width is (long + deep)·cos 30°, its height (long + deep)·sin 30° + high
    scale = min(
        0.86 * size[0] / ((long + deep) * math.cos(math.radians(30.0))), 0.88 * size[1] / ((long + deep) / 2 + high)
    )
    window = ParallelWindow((0.0, 0.0), scale, Parallel.ISOMETRIC, heading_deg=45.0)
    corners = window.seen(np.array([[x, y, z] for x in (0.0, long) for y in (0.0, deep) for z in (0.0, high)]))
    xs, ys = [p[0] for p in corners], [p[1] for p in corners]
    window = replace(window, origin=((size[0] - min(xs) - max(xs)) / 2, (size[1] - min(ys) - max(ys)) / 2))
    laying = Laying()

    def at(x: float, y: float, z: float) -> Point:
        return window.seen(np.array([[x, y, z]]))[0]

    edges = [
        (f"level edge {k + 1}", Family.RIGHT, (0.0, y, z), (long, y, z))
        for k, (y, z) in enumerate(((0.0, 0.0), (0.0, high), (deep, high)))
    ]
    edges += [
        (f"short edge {k + 1}", Family.LEFT, (x, 0.0, z), (x, deep, z))
        for k, (x, z) in enumerate(((0.0, 0.0), (0.0, high), (long, high)))
    ]
    edges += [
        (f"upright {k + 1}", Family.UPRIGHT, (x, y, 0.0), (x, y, high))
        for k, (x, y) in enumerate(((0.0, 0.0), (long, 0.0), (0.0, deep)))
    ]
    for name, family, p, q in edges:
        line = at(*p), at(*q)
        laying.give(name, Edge("", "A", family, *line), line)
    wheel = float(rng.uniform(0.34, 0.4)) * high
    first, second = (float(rng.uniform(0.2, 0.24)) * long, float(rng.uniform(0.74, 0.79)) * long)
    places = [
        ("wheel 1", Plane.LEFT, (first, 0.0, high / 2), wheel),
        ("wheel 2", Plane.LEFT, (second, 0.0, high / 2), wheel),
    ]
    places.append(("end", Plane.RIGHT, (0.0, deep / 2, high / 2), float(rng.uniform(0.3, 0.42)) * min(deep, high)))
    if grade is not Grade.EASY:
        places.append(
            (
                "lid",
                Plane.LEVEL,
                (float(rng.uniform(0.3, 0.7)) * long, deep / 2, high),
                float(rng.uniform(0.3, 0.42)) * deep,
            )
        )
    for name, plane, middle, radius in places:
        one, two = {
            Plane.LEFT: ((1, 0, 0), (0, 0, 1)),
            Plane.RIGHT: ((0, 1, 0), (0, 0, 1)),
            Plane.LEVEL: ((1, 0, 0), (0, 1, 0)),
        }[plane]
        square = [
            at(*(m + radius * (a * i + b * j) for m, i, j in zip(middle, one, two, strict=True)))
            for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))
        ]
        for k in range(4):
            laying.stroke(Role.CONSTRUCTION, square[k], square[(k + 1) % 4])
        if grade is not Grade.HARD:
            laying.stroke(Role.CONSTRUCTION, square[0], square[2])
            laying.stroke(Role.CONSTRUCTION, square[1], square[3])
        diameter, centre = 2.0 * radius * scale, at(*middle)
        axis = {Plane.LEFT: -30.0, Plane.RIGHT: 30.0, Plane.LEVEL: 90.0}[plane]
        ellipse = Ellipse(centre, ISO_MAJOR * diameter, ISO_MINOR * diameter, axis, ISO_DEGREE_DEG)
        laying.ask(f"{name}", rim_of(ellipse, "A", plane), ellipse=ellipse)
    return _parallel_exercise(ExerciseKind.ISOMETRIC, grade, size, laying, (ExerciseForm("A", FormKind.BOX),))


STAVES_DEG = {
    Grade.EASY: (30.0, 2),
    Grade.MIDDLE: (22.5, 3),
    Grade.HARD: (20.0, 3),
}  # step between marks, and how many to each side of the front


def lettering(size: tuple[float, float], grade: Grade, rng: np.random.Generator) -> Exercise:
    """Marks at equal steps round a tin seen from far: one at angle φ from the front lies at R·sin φ from the axis. The
    label is given unrolled.
    """
    step, each = STAVES_DEG[grade]
    radius = float(rng.uniform(0.16, 0.19)) * size[0]
    middle, high = size[0] * float(rng.uniform(0.28, 0.34)), 0.6 * size[1]
    ratio = math.sin(math.radians(float(rng.uniform(12.0, 20.0))))
    top = 0.14 * size[1] + radius * ratio
    laying = Laying()
    for y, role in ((top, Role.GIVEN), (top + high, Role.GIVEN)):
        whole = y == top
        rim = Ellipse((middle, y), 2 * radius, 2 * radius * ratio, 90.0, math.degrees(math.asin(ratio)))
        turns = np.linspace(0.0, 1.0, 121) if whole else np.linspace(0.5, 1.0, 61)
        laying.stroke(role, *(on_ellipse(rim, float(t)) for t in turns))
        if whole:
            laying.give("upper rim", rim_of(rim, "A", Plane.LEVEL))
    for side in (-1.0, 1.0):
        laying.stroke(Role.GIVEN, (middle + side * radius, top), (middle + side * radius, top + high))
    bands = top + 0.25 * high, top + 0.8 * high
    for y in bands:
        rim = Ellipse((middle, y), 2 * radius, 2 * radius * ratio, 90.0, 0.0)
        laying.stroke(Role.CONSTRUCTION, *(on_ellipse(rim, float(t)) for t in np.linspace(0.5, 1.0, 61)))
    _axis(laying, (middle, top), (middle, top + high))
    unit_y = top + 0.12 * high
    laying.give("half the width", Length("", (middle, unit_y), (middle + radius, unit_y), Along.ACROSS, unit=True))
    # the label, unrolled: equal steps are arcs of one length
    arc, left = math.radians(step) * radius, size[0] * 0.74
    first = left - each * arc
    foot, head = size[1] * 0.62, size[1] * 0.36
    start, end = first - arc / 2, left + (each + 0.5) * arc
    laying.stroke(Role.GIVEN, (start, head), (end, head), (end, foot), (start, foot), (start, head))
    for k in range(-each, each + 1):
        letter, x = chr(ord("A") + k + each), left + k * arc
        laying.stroke(Role.CONSTRUCTION, (x, head), (x, foot))
        laying.printed.append(Tag((x, head - 2.0), letter, middle=True))
        if k == 0:
            laying.printed.append(Tag((middle + 1.5, bands[1] + radius * ratio - 2.0), letter))
            continue
        phi = math.radians(step * k)
        at, drop = middle + radius * math.sin(phi), radius * ratio * math.cos(phi)
        line = (at, bands[0] + drop), (at, bands[1] + drop)
        half = (line[0][1] + line[1][1]) / 2
        laying.ask(
            f"{letter}: from the axis", Length("", (middle, half), (at, half), Along.ACROSS), line, measured=True
        )
    return _parallel_exercise(ExerciseKind.LETTERING, grade, size, laying, _tins_of("A"))
