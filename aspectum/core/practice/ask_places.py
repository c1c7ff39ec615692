"""Questions about places: eye level, vanishing points, plumb alignments, the corner that closes a box, heights by eye
level.
"""

from __future__ import annotations

import math

import numpy as np

from aspectum.core.practice.question import AnswerBy, Mark, MarkRole, Number, Place, Question, Told
from aspectum.core.practice.scenes import (
    GROUND,
    HEIGHT_PX,
    SHELF,
    TABLE,
    WIDTH_PX,
    YARD,
    Scene,
    boxes,
    first_that,
    in_picture,
    seen,
    shows,
    spot,
    unit_of,
)
from aspectum.core.practice.skills import Skill
from aspectum.core.sightings import Family
from aspectum.core.stand.things import AnyThing, Box, Figure, Section

LEAST_AWAY = 1.2  # near uprights between the near upright and a vanishing point asked for
FIGURES_M = (1.0, 1.95)  # a small child to a tall adult
POSTS_M = (0.8, 3.2)  # from a bollard to a low lamp post


def ask_eye_level(difficulty: float, rng: np.random.Generator) -> Question:
    """Where is eye level, by how the edges run?"""

    def attempt(rng: np.random.Generator) -> Question | None:
        where = spot(rng, YARD, GROUND, SHELF)
        scene = seen(rng, boxes(rng, where, difficulty), float(rng.uniform(*where.eye_m)), difficulty, turned_deg=12.0)
        unit = None if scene is None else unit_of(scene.drawing)
        level = None if scene is None else scene.view.eye_level_px
        if scene is None or unit is None or level is None or not 10.0 < level[0] < HEIGHT_PX - 10.0:
            return None
        y = (level[0] + level[1]) / 2
        return Question(
            Skill.EYE_LEVEL,
            difficulty,
            AnswerBy.LEVEL,
            scene.stand,
            scene.view,
            (Mark(MarkRole.UNIT, (unit.p, unit.q)),),
            Place((WIDTH_PX / 2, y), (0.0, -unit.length_px)),
            (Mark(MarkRole.ASKED, ((0.0, level[0]), (float(WIDTH_PX), level[1]))),),
        )

    return first_that(rng, attempt)


def ask_vanishing_point(difficulty: float, rng: np.random.Generator) -> Question:
    """On eye level, where do the edges of one side meet?"""

    def attempt(rng: np.random.Generator) -> Question | None:
        where = spot(rng, YARD, GROUND, TABLE)
        scene = seen(rng, boxes(rng, where, difficulty, most=1), float(rng.uniform(*where.eye_m)), difficulty)
        unit = None if scene is None else unit_of(scene.drawing)
        level = None if scene is None else scene.view.eye_level_px
        if scene is None or unit is None or level is None or not in_picture((20.0, level[0])):
            return None
        for vp in scene.drawing.vanishing_points:
            if vp.way.family not in (Family.LEFT, Family.RIGHT) or vp.at_px is None or not in_picture(vp.at_px, 20.0):
                continue
            start = (unit.p[0], level[0])
            away = (vp.at_px[0] - start[0]) / unit.length_px
            lines = [
                e for e in scene.drawing.edges if e.way is not None and e.way.family is vp.way.family and shows(e) > 0.9
            ]
            if abs(away) < LEAST_AWAY or len(lines) < 2:
                continue
            one = (math.copysign(unit.length_px, away), 0.0)
            return Question(
                Skill.VANISHING_POINT,
                difficulty,
                AnswerBy.POINT,
                scene.stand,
                scene.view,
                (
                    *(Mark(MarkRole.ASKED, (e.p, e.q)) for e in lines),
                    Mark(MarkRole.GIVEN, ((0.0, level[0]), (float(WIDTH_PX), level[1]))),
                ),
                Place(start, one, 100.0 / abs(away), inverse=True),
                (*(Mark(MarkRole.ASKED, (e.p, vp.at_px)) for e in lines), Mark(MarkRole.ASKED, (vp.at_px,))),
            )
        return None

    return first_that(rng, attempt)


def ask_alignment(difficulty: float, rng: np.random.Generator) -> Question:
    """Which place on the edge below stands plumb under a corner?"""

    def attempt(rng: np.random.Generator) -> Question | None:
        where = spot(rng, TABLE, GROUND, YARD)
        scene = seen(rng, boxes(rng, where, max(difficulty, 0.5)), float(rng.uniform(*where.eye_m)), difficulty)
        unit = None if scene is None else unit_of(scene.drawing)
        if scene is None or unit is None:
            return None
        level = [
            e
            for e in scene.drawing.edges
            if e.way is not None and e.way.family is not Family.UPRIGHT and shows(e) > 0.98
        ]
        found = []
        for upper in level:
            for corner in (upper.p, upper.q):
                for lower in level:
                    (x0, y0), (x1, y1) = sorted((lower.p, lower.q))
                    if x1 - x0 < 60.0 or not x0 + 0.15 * (x1 - x0) < corner[0] < x1 - 0.15 * (x1 - x0):
                        continue
                    y = y0 + (y1 - y0) * (corner[0] - x0) / (x1 - x0)
                    if y - corner[1] > 0.6 * unit.length_px:
                        found.append((corner, lower, y))
        if not found:
            return None
        corner, lower, y = found[int(rng.integers(len(found)))]
        return Question(
            Skill.ALIGNMENT,
            difficulty,
            AnswerBy.POINT,
            scene.stand,
            scene.view,
            (Mark(MarkRole.ASKED, (corner,), "A"), Mark(MarkRole.ASKED, (lower.p, lower.q), "B")),
            Place((corner[0], y), (unit.length_px, 0.0)),
            (Mark(MarkRole.ASKED, (corner, (corner[0], y))),),
        )

    return first_that(rng, attempt)


def ask_missing_corner(difficulty: float, rng: np.random.Generator) -> Question:
    """The far corner of a box's top, where the two far edges that are left out meet. What counts is its height, which
    says whether the form opens or closes.
    """

    def attempt(rng: np.random.Generator) -> Question | None:
        where = spot(rng, TABLE, GROUND)
        scene = seen(rng, boxes(rng, where, 0.0), float(rng.uniform(*where.eye_m)), difficulty)
        unit = None if scene is None else unit_of(scene.drawing)
        if scene is None or unit is None:
            return None
        far = [k for k, e in enumerate(scene.drawing.edges) if e.name.startswith("top") and e.name.endswith("far")]
        upright = [k for k, e in enumerate(scene.drawing.edges) if e.name == "far upright"]
        if len(far) != 2 or any(shows(scene.drawing.edges[k]) < 0.99 for k in far):
            return None
        one, other = (scene.drawing.edges[k] for k in far)
        corner = next((p for p in (one.p, one.q) for q in (other.p, other.q) if math.dist(p, q) < 1e-6), None)
        if corner is None:
            return None
        return Question(
            Skill.MISSING_CORNER,
            difficulty,
            AnswerBy.POINT,
            scene.stand,
            scene.view,
            (Mark(MarkRole.UNIT, (unit.p, unit.q)),),
            Place(corner, (0.0, -unit.length_px)),
            (
                Mark(MarkRole.ASKED, (one.p, one.q)),
                Mark(MarkRole.ASKED, (other.p, other.q)),
                Mark(MarkRole.ASKED, (corner,)),
            ),
            without_edges=(*far, *upright),
        )

    return first_that(rng, attempt)


def ask_height(difficulty: float, rng: np.random.Generator) -> Question:
    """How tall is a post, on level ground, where eye level and the eye's height are given?"""

    def attempt(rng: np.random.Generator) -> Question | None:
        eye = round(float(rng.uniform(1.45, 1.75)), 2)
        tall = round(float(rng.uniform(*POSTS_M)), 2)
        things: list[AnyThing] = [Box("post", (0.0, 0.0), size_m=(0.12, 0.12, tall))]
        for k in range(1 + round(2 * difficulty)):
            at = (
                round(float(rng.choice([-1, 1])) * (1.2 + 0.9 * k) + float(rng.uniform(-0.3, 0.3)), 2),
                round(float(rng.uniform(-1.0, 2.5)), 2),
            )
            things.append(Figure(f"figure{k + 1}", at, height_m=round(float(rng.uniform(*FIGURES_M)), 2)))
        scene = seen(rng, things, eye, difficulty)
        if scene is None:
            return None
        level = scene.view.eye_level_px
        upright = _stood_up(scene, "post")
        if level is None or upright is None:
            return None
        foot, top = upright
        return Question(
            Skill.HEIGHT,
            difficulty,
            AnswerBy.STICK,
            scene.stand,
            scene.view,
            (
                Mark(MarkRole.ASKED, (foot, top), "A"),
                Mark(MarkRole.GIVEN, ((0.0, level[0]), (float(WIDTH_PX), level[1]))),
            ),
            Number(Told.RATIO, tall),
            (Mark(MarkRole.ASKED, (foot, top)),),
            told=(("eye_m", eye), ("height_m", tall)),
        )

    return first_that(rng, attempt)


def _stood_up(scene: Scene, id: str) -> tuple[tuple[float, float], tuple[float, float]] | None:
    """Foot and top (px) of the middle of a thing's near side."""
    body = next(p for p in scene.drawing.placed if p.thing.id == id and not isinstance(p.thing, Section))
    corners = body.box
    near = np.argsort(scene.view.depths(corners[:4]))[:2]
    foot, top = scene.view.project(np.array([corners[near].mean(axis=0), corners[near + 4].mean(axis=0)])).tolist()
    if abs(foot[1] - top[1]) < 60.0:
        return None
    return (foot[0], foot[1]), (top[0], top[1])
