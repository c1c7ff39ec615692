"""Questions about proportions: lengths against the unit, parts of a receding side, the next bay, the mirrored point."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from aspectum.core.plane.lines import Floats
from aspectum.core.practice.question import AnswerBy, Mark, MarkRole, Number, Place, Question, Told, drawn_at
from aspectum.core.practice.scenes import (
    GROUND,
    SHELF,
    TABLE,
    YARD,
    Scene,
    boxes,
    first_that,
    least_length,
    seen,
    shows,
    spot,
    unit_of,
)
from aspectum.core.practice.skills import Skill
from aspectum.core.sightings import Family, Point
from aspectum.core.stand.things import Box

# the parts that the trade divides faces into; seventh parts nobody asks for
PARTS = {Skill.MIDDLE: (0.5,), Skill.THIRD: (1 / 3, 2 / 3), Skill.OTHER_PART: (0.25, 0.75, 0.2, 0.4, 0.6)}
LEAST_SIDE_PX = 150.0  # an eighth of the picture's width: on less a pointer's pixel counts
STEEPEST_CLOSING = 0.93  # far upright over near: flatter sides have their middle in the middle
BAYS = (0.18, 0.3)  # of a wall's length
LEAST_STEP_PX = 25.0  # between neighbouring feet, so that a thumb on a phone can point between them
Upright = tuple[Point, Point]
OFF_AXIS = (0.18, 0.42)  # of a wall's length, from its middle


def ask_length(skill: Skill, difficulty: float, rng: np.random.Generator) -> Question:
    """How many units is a length straight across, straight up, or along a receding edge?"""

    def attempt(rng: np.random.Generator) -> Question | None:
        where = spot(rng, TABLE, GROUND, SHELF, YARD)
        # an upright to compare with another wants two boxes
        scene = seen(
            rng,
            boxes(rng, where, max(difficulty, 0.6 if skill is Skill.LENGTH_UP else 0.0)),
            float(rng.uniform(*where.eye_m)),
            difficulty,
            turned_deg=12.0,
        )
        unit = None if scene is None else unit_of(scene.drawing)
        if scene is None or unit is None:
            return None
        pairs = _lengths(skill, scene, difficulty)
        pairs = [
            (p, q) for p, q in pairs if (p, q) != (unit.p, unit.q) and 0.2 < math.dist(p, q) / unit.length_px < 3.0
        ]
        if not pairs:
            return None
        p, q = pairs[int(rng.integers(len(pairs)))]
        truth = math.dist(p, q) / unit.length_px
        marks = (Mark(MarkRole.UNIT, (unit.p, unit.q)), Mark(MarkRole.ASKED, (p, q), "A"))
        return Question(
            skill,
            difficulty,
            AnswerBy.STICK,
            scene.stand,
            scene.view,
            marks,
            Number(Told.RATIO, truth),
            (Mark(MarkRole.ASKED, (p, q)),),
            told=(("ratio", truth),),
        )

    return first_that(rng, attempt)


def _lengths(skill: Skill, scene: Scene, difficulty: float) -> list[tuple[Point, Point]]:
    least = 0.6 * least_length(difficulty)
    whole = [e for e in scene.drawing.edges if e.way is not None and shows(e) > 0.995]
    if skill is Skill.LENGTH_UP:
        return [
            (e.p, e.q) for e in whole if e.way is not None and e.way.family is Family.UPRIGHT and e.length_px > least
        ]
    if skill is Skill.LENGTH_ALONG:
        return [
            (e.p, e.q)
            for e in whole
            if e.way is not None and e.way.family is not Family.UPRIGHT and e.length_px > least
        ]
    found: list[tuple[Point, Point]] = []
    for placed in scene.drawing.placed:
        if placed.own is None:
            continue
        corners = scene.view.project(placed.box)
        left, right, low = float(corners[:, 0].min()), float(corners[:, 0].max()), float(corners[:, 1].max())
        if right - left > least and low + 16.0 < scene.view.height_px:
            # its width as it is measured with the stick held level under it
            found.append(((left, low + 12.0), (right, low + 12.0)))
    return found


def wall(difficulty: float, rng: np.random.Generator) -> tuple[Scene, Floats] | None:
    """A long box and the four corners (4, 3) of the side of it that recedes to one hand: near foot, far foot, near top,
    far top, in metres.
    """
    where = spot(rng, YARD, GROUND)
    size = rng.uniform(*where.size_m, 2).round(2)
    long = round(float(size.max()) * float(rng.uniform(1.2, 2.0)), 2)
    turn = round(float(rng.uniform(20.0, 60.0)) * (1 if rng.random() < 0.5 else -1), 1)
    scene = seen(
        rng,
        [Box("wall", turn_deg=turn, size_m=(long, float(size[0]), float(size[1])))],
        float(rng.uniform(*where.eye_m)),
        difficulty,
    )
    if scene is None:
        return None
    corners = scene.drawing.placed[0].box
    depth = scene.view.depths(corners[:4])
    near = int(np.argmin(depth))
    # the long side that ends at the nearest corner: corners 0 and 1, or 2 and 3, lie along it
    far = {0: 1, 1: 0, 2: 3, 3: 2}[near]
    side = corners[[near, far, near + 4, far + 4]]
    seen_side = scene.view.project(side)
    if abs(float(seen_side[1, 0] - seen_side[0, 0])) < LEAST_SIDE_PX or depth[near] / depth[far] > STEEPEST_CLOSING:
        return None
    # the side must be turned to the eye: its middle lies before the middle of the box
    middle, box = side.mean(axis=0), corners.mean(axis=0)
    if float((middle - box) @ scene.view.to_viewer(middle)) <= 0.0:
        return None
    return scene, side


def upright_at(scene: Scene, side: Floats, part: float) -> tuple[Point, Point]:
    """Foot and top (px) of the upright at a true part of a side."""
    foot, top = side[0] + part * (side[1] - side[0]), side[2] + part * (side[3] - side[2])
    (a, b), (c, d) = scene.view.project(np.array([foot, top])).tolist()
    return (a, b), (c, d)


def ask_part(skill: Skill, difficulty: float, rng: np.random.Generator) -> Question:
    """Where on its foot does the middle, or another part, of a receding side stand?"""

    def attempt(rng: np.random.Generator) -> Question | None:
        found = wall(difficulty, rng)
        if found is None:
            return None
        scene, side = found
        parts = PARTS[skill]
        part = parts[int(rng.integers(len(parts)))]
        depth = scene.view.depths(side[:2])
        closing = float(depth[0] / depth[1])
        near, far = (upright_at(scene, side, s)[0] for s in (0.0, 1.0))
        drawn = drawn_at(part, closing)
        return Question(
            skill,
            difficulty,
            AnswerBy.POINT,
            scene.stand,
            scene.view,
            (Mark(MarkRole.ASKED, (near, far)),),
            Place(near, (far[0] - near[0], far[1] - near[1]), said=100.0 * part, closing=closing),
            (Mark(MarkRole.ASKED, upright_at(scene, side, part)), *_diagonals(scene, side, part)),
            told=(("part", part), ("drawn", drawn)),
        )

    return first_that(rng, attempt)


def _diagonals(scene: Scene, side: Floats, part: float) -> tuple[Mark, ...]:
    if part != 0.5:
        return ()
    near_foot, far_foot, near_top, far_top = (tuple(p) for p in scene.view.project(side).tolist())
    return Mark(MarkRole.GIVEN, (near_foot, far_top)), Mark(MarkRole.GIVEN, (near_top, far_foot))


def ask_bay(difficulty: float, rng: np.random.Generator) -> Question:
    """Two uprights stand on a receding side; where does the next one stand, as far on again?"""

    def uprights(rng: np.random.Generator) -> tuple[float, float, float]:
        bay = float(rng.uniform(*BAYS))
        start = float(rng.uniform(0.02, 0.98 - 2.2 * bay))
        return start, start + bay, start + 2 * bay

    def marks(first: Upright, second: Upright, third: Upright) -> tuple[tuple[Mark, ...], tuple[Mark, ...]]:
        diagonals = Mark(MarkRole.GIVEN, (first[1], third[0])), Mark(MarkRole.GIVEN, (first[0], third[1]))
        return (Mark(MarkRole.GIVEN, first, "1"), Mark(MarkRole.GIVEN, second, "2")), (
            Mark(MarkRole.ASKED, third),
            *diagonals,
        )

    return _ask_upright(Skill.NEXT_BAY, difficulty, rng, uprights, marks)


def ask_mirror(difficulty: float, rng: np.random.Generator) -> Question:
    """A gable's middle and a point on its nearer half: where does the point like it stand on the other half?"""

    def uprights(rng: np.random.Generator) -> tuple[float, float, float]:
        off = float(rng.uniform(*OFF_AXIS))
        return 0.5 - off, 0.5, 0.5 + off

    def marks(near: Upright, middle: Upright, far: Upright) -> tuple[tuple[Mark, ...], tuple[Mark, ...]]:
        return (Mark(MarkRole.GIVEN, middle, "M"), Mark(MarkRole.UNIT, near, "1")), (Mark(MarkRole.ASKED, far),)

    return _ask_upright(Skill.MIRROR_POINT, difficulty, rng, uprights, marks)


def _ask_upright(
    skill: Skill,
    difficulty: float,
    rng: np.random.Generator,
    uprights: Callable[[np.random.Generator], tuple[float, float, float]],
    marks: Callable[[Upright, Upright, Upright], tuple[tuple[Mark, ...], tuple[Mark, ...]]],
) -> Question:
    """Where is the third of three uprights on a receding side, told in per cent of its way from the second? ``marks``:
    what is given, and what is shown.
    """

    def attempt(rng: np.random.Generator) -> Question | None:
        found = wall(difficulty, rng)
        if found is None:
            return None
        scene, side = found
        first, second, third = (upright_at(scene, side, part) for part in uprights(rng))
        (x0, y0), (x1, y1) = second[0], third[0]
        if math.hypot(x1 - x0, y1 - y0) < LEAST_STEP_PX:
            return None
        given, shown = marks(first, second, third)
        place = Place(second[0], ((x1 - x0) / 100.0, (y1 - y0) / 100.0), 100.0)
        return Question(skill, difficulty, AnswerBy.POINT, scene.stand, scene.view, given, place, shown)

    return first_that(rng, attempt)
