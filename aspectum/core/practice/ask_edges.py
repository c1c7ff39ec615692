"""Questions about directions: edges by where they run, leaning uprights, which is steeper, parallel edges, corner to
corner.
"""

from __future__ import annotations

import numpy as np

from aspectum.core.plane.lines import lean_deg, tilt_deg
from aspectum.core.practice.question import AnswerBy, Choice, Mark, MarkRole, Number, Question, Told
from aspectum.core.practice.recorded import edge_skill
from aspectum.core.practice.scenes import (
    BANK,
    GROUND,
    HEIGHT_PX,
    SHELF,
    TABLE,
    WIDTH_PX,
    YARD,
    Scene,
    boxes,
    first_that,
    least_length,
    seen,
    seen_part,
    shows,
    spot,
)
from aspectum.core.practice.skills import Skill
from aspectum.core.sightings import Family
from aspectum.core.stand.camera import View
from aspectum.core.stand.drawing import draw, set_up_for
from aspectum.core.stand.drawn import Line
from aspectum.core.stand.kinds import Parallel, RoofKind
from aspectum.core.stand.presets import parallel_view
from aspectum.core.stand.things import Box, Building, Stand

ABOVE = (Skill.LEFT_ABOVE, Skill.RIGHT_ABOVE, Skill.FAR_ABOVE)
STEEPEST_DEG = 60.0  # steeper ones are rare in a level view and read as uprights
LEAST_PITCH_DEG = 6.0  # below it uprights converge too little to be seen by eye
LEAST_LEAN_DEG = 1.0  # a lean that can be seen; what is asked must be there to be judged
APART_DEG = (14.0, 2.5)  # between the two edges to tell apart, of the easiest and the hardest question
FLATTEST_DEG = 2.0  # flatter edges show no steepness to compare
DIAGONAL_PX = 120.0  # a tenth of the picture's width: shorter lines give a tilt no eye can hold


def ask_edge(skill: Skill, difficulty: float, rng: np.random.Generator) -> Question:
    """A level edge of a box: near or far, running back to the left or right, above or below eye level."""

    def attempt(rng: np.random.Generator) -> Question | None:
        # the far edges of a top that is above eye level are hidden: from below they are those of the underside
        where = (
            SHELF
            if skill is Skill.FAR_ABOVE
            else spot(rng, SHELF, YARD)
            if skill in ABOVE
            else spot(rng, TABLE, GROUND, YARD, BANK)
        )
        scene = seen(rng, boxes(rng, where, difficulty), float(rng.uniform(*where.eye_m)), difficulty, turned_deg=12.0)
        if scene is None:
            return None
        found = [
            e
            for e in level_edges(scene, difficulty)
            if edge_skill(e.way.family if e.way else None, e.tilt_deg, e.name.endswith("far")) is skill
        ]
        return None if not found else tilt_question(skill, difficulty, scene, found[int(rng.integers(len(found)))])

    return first_that(rng, attempt)


def level_edges(scene: Scene, difficulty: float) -> list[Line]:
    """Receding edges seen well enough to be judged."""
    least = least_length(difficulty)
    return [
        e
        for e in scene.drawing.edges
        if e.way is not None
        and e.way.family in (Family.LEFT, Family.RIGHT)
        and shows(e) > 0.6
        and e.length_px * shows(e) > least
        and abs(e.tilt_deg) < STEEPEST_DEG
    ]


def tilt_question(skill: Skill, difficulty: float, scene: Scene, line: Line, told: Told = Told.TILT) -> Question:
    """What is the tilt, or the lean, of this edge?"""
    return Question(
        skill,
        difficulty,
        AnswerBy.NEEDLE,
        scene.stand,
        scene.view,
        (Mark(MarkRole.ASKED, seen_part(line)),),
        Number(told, line.tilt_deg),
        (Mark(MarkRole.ASKED, (line.p, line.q)),),
    )


def ask_slope(difficulty: float, rng: np.random.Generator) -> Question:
    """A roof's rake."""

    def attempt(rng: np.random.Generator) -> Question | None:
        size = rng.uniform((3.0, 2.5, 2.2), (6.0, 4.5, 3.2)).round(1).tolist()
        rise = round(float(rng.uniform(0.8, 2.0)), 1)
        turn = round(float(rng.uniform(20.0, 70.0)) * (1 if rng.random() < 0.5 else -1), 1)
        shed = Building(
            "shed", turn_deg=turn, size_m=(size[0], size[1], size[2]), roof=RoofKind.GABLED, rise_m=rise, eaves_m=0.0
        )
        scene = seen(rng, [shed], float(rng.uniform(*YARD.eye_m)), difficulty)
        if scene is None:
            return None
        least = least_length(difficulty)
        found = [
            e
            for e in scene.drawing.edges
            if e.way is not None
            and e.way.family is Family.SLOPE
            and shows(e) > 0.8
            and e.length_px > least
            and abs(e.tilt_deg) < STEEPEST_DEG
        ]
        return (
            None
            if not found
            else tilt_question(Skill.OTHER_EDGE, difficulty, scene, found[int(rng.integers(len(found)))])
        )

    return first_that(rng, attempt)


def ask_lean(difficulty: float, rng: np.random.Generator) -> Question:
    """An upright that leans since the view is pitched: off the middle it leans in above or below."""

    def attempt(rng: np.random.Generator) -> Question | None:
        down = rng.random() < 0.5
        where = spot(rng, TABLE, GROUND) if down else spot(rng, SHELF, YARD)
        scene = seen(rng, boxes(rng, where, difficulty), float(rng.uniform(*where.eye_m)), difficulty, aimed=True)
        if scene is None or abs(scene.view.pitch_deg) < LEAST_PITCH_DEG:
            return None
        least = least_length(difficulty) * 0.7
        found = [
            e
            for e in scene.drawing.edges
            if e.way is not None
            and e.way.family is Family.UPRIGHT
            and shows(e) > 0.8
            and e.length_px > least
            and abs(float(lean_deg(e.tilt_deg))) > LEAST_LEAN_DEG
        ]
        return (
            None
            if not found
            else tilt_question(Skill.UPRIGHT_LEAN, difficulty, scene, found[int(rng.integers(len(found)))], Told.LEAN)
        )

    return first_that(rng, attempt)


def ask_steeper(difficulty: float, rng: np.random.Generator) -> Question:
    """Of two edges, which is the steeper? The harder, the nearer alike. A wrong choice was off by their difference at
    least, and counts as that.
    """

    def attempt(rng: np.random.Generator) -> Question | None:
        where = spot(rng, TABLE, SHELF, GROUND, YARD)
        scene = seen(rng, boxes(rng, where, difficulty), float(rng.uniform(*where.eye_m)), difficulty, turned_deg=12.0)
        if scene is None:
            return None
        edges = [e for e in level_edges(scene, difficulty) if abs(e.tilt_deg) > FLATTEST_DEG]
        wanted = APART_DEG[0] + (APART_DEG[1] - APART_DEG[0]) * difficulty
        pairs = [
            (a, b)
            for i, a in enumerate(edges)
            for b in edges[i + 1 :]
            if 0.7 * wanted < abs(abs(a.tilt_deg) - abs(b.tilt_deg)) < 1.4 * wanted
        ]
        if not pairs:
            return None
        upper, lower = sorted(pairs[int(rng.integers(len(pairs)))], key=lambda e: e.p[1] + e.q[1])
        apart = abs(upper.tilt_deg) - abs(lower.tilt_deg)
        # A is the upper one: positive where it is the steeper
        values = (apart, 0.0) if apart > 0 else (0.0, apart)
        return Question(
            Skill.STEEPER_EDGE,
            difficulty,
            AnswerBy.CHOICE,
            scene.stand,
            scene.view,
            (Mark(MarkRole.ASKED, seen_part(upper), "A"), Mark(MarkRole.ASKED, seen_part(lower), "B")),
            Choice(values, 0 if apart > 0 else 1),
            (Mark(MarkRole.ASKED, (upper.p, upper.q), "A"), Mark(MarkRole.ASKED, (lower.p, lower.q), "B")),
            told=(("A", abs(upper.tilt_deg)), ("B", abs(lower.tilt_deg))),
        )

    return first_that(rng, attempt)


def ask_parallel(difficulty: float, rng: np.random.Generator) -> Question:
    """An edge of an isometric drawing that is left out: it runs parallel to its fellows, whatever the eye would have it
    do.
    """

    def attempt(rng: np.random.Generator) -> Question | None:
        size = rng.uniform(0.3, 1.0, 3).round(2).tolist()
        stand = Stand((Box("box", turn_deg=0.0, size_m=(size[0], size[1], size[2])),))
        view = View(width_px=WIDTH_PX, height_px=HEIGHT_PX)
        view = parallel_view(Parallel.ISOMETRIC, set_up_for(stand, view), view)
        # off the corner the two families no longer run at 30 degrees alike
        turned = Stand(
            (
                Box(
                    "box",
                    turn_deg=round(float(rng.uniform(-25.0, 25.0)) * difficulty, 1),
                    size_m=(size[0], size[1], size[2]),
                ),
            )
        )
        drawing = draw(turned, view)
        found = [
            k
            for k, e in enumerate(drawing.edges)
            if e.way is not None and e.way.family is not Family.UPRIGHT and shows(e) > 0.99
        ]
        if not found:
            return None
        k = found[int(rng.integers(len(found)))]
        line = drawing.edges[k]
        return Question(
            Skill.PARALLEL_EDGE,
            difficulty,
            AnswerBy.NEEDLE,
            turned,
            view,
            (Mark(MarkRole.ASKED, (line.p,), "A"),),
            Number(Told.TILT, line.tilt_deg),
            (Mark(MarkRole.ASKED, (line.p, line.q)),),
            without_edges=(k,),
        )

    return first_that(rng, attempt)


def ask_corners(difficulty: float, rng: np.random.Generator) -> Question:
    """The tilt from one corner to another that no edge joins."""

    def attempt(rng: np.random.Generator) -> Question | None:
        where = spot(rng, TABLE, GROUND, YARD)
        scene = seen(rng, boxes(rng, where, difficulty), float(rng.uniform(*where.eye_m)), difficulty)
        if scene is None:
            return None
        visible = [e for e in scene.drawing.edges if shows(e) > 0.995]
        ends = list({(round(x, 3), round(y, 3)) for e in visible for x, y in (e.p, e.q)})
        joined = {
            frozenset(((round(e.p[0], 3), round(e.p[1], 3)), (round(e.q[0], 3), round(e.q[1], 3))))
            for e in scene.drawing.edges
        }
        pairs = [
            (a, b) for i, a in enumerate(sorted(ends)) for b in sorted(ends)[i + 1 :] if frozenset((a, b)) not in joined
        ]
        pairs = [
            (a, b)
            for a, b in pairs
            if np.hypot(a[0] - b[0], a[1] - b[1]) > DIAGONAL_PX and abs(float(tilt_deg(a, b))) < 80.0
        ]
        if not pairs:
            return None
        a, b = pairs[int(rng.integers(len(pairs)))]
        marks = (Mark(MarkRole.ASKED, (a,), "A"), Mark(MarkRole.ASKED, (b,), "B"))
        truth = Number(Told.TILT, float(tilt_deg(a, b)))
        return Question(
            Skill.CORNER_TO_CORNER,
            difficulty,
            AnswerBy.NEEDLE,
            scene.stand,
            scene.view,
            marks,
            truth,
            (Mark(MarkRole.ASKED, (a, b)),),
        )

    return first_that(rng, attempt)
