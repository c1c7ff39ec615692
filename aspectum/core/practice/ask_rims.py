"""Questions about what is round: how far a rim opens, where its axis runs, which base belongs to a mouth, turning,
lettering.
"""

from __future__ import annotations

import math

import numpy as np

from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.practice.question import AnswerBy, Choice, Mark, MarkRole, Number, Place, Question, Told
from aspectum.core.practice.recorded import NEAR_EYE_LEVEL_DEG
from aspectum.core.practice.scenes import (
    GROUND,
    HEIGHT_PX,
    SHELF,
    TABLE,
    WIDTH_PX,
    Scene,
    Spot,
    arc_of,
    first_that,
    in_picture,
    seen,
    spot,
)
from aspectum.core.practice.skills import Skill
from aspectum.core.sightings import Plane, Point
from aspectum.core.stand.camera import View
from aspectum.core.stand.drawn import DrawnRim
from aspectum.core.stand.kinds import Parallel
from aspectum.core.stand.setting import Placed
from aspectum.core.stand.things import AnyThing, Cone, Cylinder, Stand, Tube, Wheels

RADIUS = (0.28, 0.7)  # of a round form's height
AIMED = 0.6  # of the views look down, or up, at what is round: so it opens as far as it does on a table before one
LEAST_ARC = 0.4  # of a rim's turn that must be seen
LEAST_STANDING_ARC = 0.7  # of a standing one: the far end of a drum shows half and tells little
ROUNDEST_DEG = 62.0  # of a rim to be judged
AXIS_ROUNDEST_DEG = 55.0  # rounder, a rim hardly has an axis to judge
CHOICES = 4  # one right and three wrong: what fits side by side under the question on a phone
APART_DEG = (9.0, 3.5)  # between two bases to choose from
TURNED_DEG = (8.0, 82.0)  # at the ends of the quarter turn there is nothing to judge
MARKED_DEG = (15.0, 75.0)  # nearer the front or the outline a mark's place shows no sine
FAR_LENGTH = 14.0  # diameters that lettering is seen from at least: marks then lie nearly at R·sin φ
ROUNDEST_CHOICE_DEG = 55.0  # rounder ones would not stand one above the other
CHOSEN_PX = 90.0  # half-width of an ellipse to choose from


def round_things(
    rng: np.random.Generator, where: Spot, difficulty: float, kinds: tuple[str, ...] = ("tin", "tub", "cup")
) -> list[AnyThing]:
    """One round form, or up to three, standing side by side."""
    count = 1 + int(rng.integers(round(2 * difficulty) + 1))
    base, right = round(float(rng.uniform(*where.base_m)), 2), 0.0
    found: list[AnyThing] = []
    for k in range(count):
        height = round(float(rng.uniform(*where.size_m)), 2)
        radius = round(height * float(rng.uniform(*RADIUS)), 3)
        at = (round(right + radius, 3), round(float(rng.uniform(-0.4, 0.4)) * radius, 3))
        kind = kinds[int(rng.integers(len(kinds)))]
        if kind == "tin":
            found.append(Cylinder(f"tin{k + 1}", at, base, radius_m=radius, height_m=height))
        elif kind == "tub":
            found.append(
                Cone(f"tub{k + 1}", at, base, radius_m=round(0.75 * radius, 3), height_m=height, top_radius_m=radius)
            )
        else:
            found.append(
                Tube(
                    f"cup{k + 1}",
                    at,
                    base,
                    radius_m=radius,
                    height_m=height,
                    wall_m=round(0.05 * radius, 4),
                    floor_m=round(0.05 * height, 4),
                )
            )
        right += 2 * radius * 1.12
    return found


def ask_level_rim(skill: Skill, difficulty: float, rng: np.random.Generator) -> Question:
    """How far does an upper or a lower rim open, or one about at eye level?"""

    def attempt(rng: np.random.Generator) -> Question | None:
        where = spot(rng, TABLE, GROUND, SHELF)
        things = round_things(rng, where, difficulty)
        eye, aimed = float(rng.uniform(*where.eye_m)), rng.random() < AIMED
        if skill is Skill.RIM_AT_EYE_LEVEL:
            first = things[0]
            assert isinstance(first, Cylinder)
            level = first.base_m + (first.height_m if rng.random() < 0.5 else 0.0)
            aimed = False
            eye = level + float(rng.uniform(-0.05, 0.05)) * first.height_m
        scene = seen(rng, things, eye, difficulty, aimed, 12.0)
        found = [] if scene is None else [r for r in good_rims(scene) if _is(r, skill, scene)]
        if scene is None or not found:
            return None
        return degree_question(skill, difficulty, scene, found[int(rng.integers(len(found)))])

    return first_that(rng, attempt)


def good_rims(scene: Scene) -> list[DrawnRim]:
    """Rims that show enough to be judged."""
    return [
        r
        for r in scene.drawing.rims
        if sum(b - a for a, b in r.visible) > LEAST_ARC
        and r.ellipse.major_px > 70.0
        and r.ellipse.degree_deg < ROUNDEST_DEG
    ]


def _is(rim: DrawnRim, skill: Skill, scene: Scene) -> bool:
    if rim.name not in ("base", "top", "mouth"):
        return False
    if rim.ellipse.degree_deg < NEAR_EYE_LEVEL_DEG:
        return skill is Skill.RIM_AT_EYE_LEVEL
    return skill is (Skill.LOWER_RIM if rim.name == "base" else Skill.UPPER_RIM)


def degree_question(skill: Skill, difficulty: float, scene: Scene, rim: DrawnRim) -> Question:
    """How far does this rim open?"""
    arcs = tuple(Mark(MarkRole.ASKED, arc) for arc in arc_of(rim))
    whole = Mark(MarkRole.ASKED, tuple(rim.at(k / 96) for k in range(97)))
    scoring = Number(Told.DEGREE, rim.ellipse.degree_deg)
    return Question(skill, difficulty, AnswerBy.ELLIPSE, scene.stand, scene.view, arcs, scoring, (whole,))


def standing_scene(skill: Skill, difficulty: float, rng: np.random.Generator) -> tuple[Scene, list[DrawnRim]] | None:
    """A drum on its side, or wheels on an axle, with the rims of it that show."""
    turn = round(float(rng.uniform(15.0, 75.0)) * (1 if rng.random() < 0.5 else -1), 1)
    radius = round(float(rng.uniform(0.15, 0.5)), 2)
    if skill is Skill.WHEEL or (skill is Skill.MINOR_AXIS and rng.random() < 0.5):
        thing: AnyThing = Wheels(
            "wheels",
            turn_deg=turn,
            radius_m=radius,
            width_m=round(0.18 * radius, 3),
            gauge_m=round(radius * float(rng.uniform(1.6, 3.0)), 2),
            axle_radius_m=0.03,
        )
    else:
        thing = Cylinder(
            "drum",
            turn_deg=turn,
            radius_m=radius,
            height_m=round(radius * float(rng.uniform(1.2, 3.0)), 2),
            lean_deg=90.0,
        )
    scene = seen(rng, [thing], float(rng.uniform(*GROUND.eye_m)), difficulty, turned_deg=12.0)
    if scene is None:
        return None
    shown = [r for r in good_rims(scene) if sum(b - a for a, b in r.visible) > LEAST_STANDING_ARC]
    rims = [r for r in shown if r.plane is not Plane.LEVEL and r.ellipse.degree_deg > 5.0]
    return (scene, rims) if rims else None


def ask_standing_rim(skill: Skill, difficulty: float, rng: np.random.Generator) -> Question:
    """How far does the end of a lying drum, or a wheel, open?"""

    def attempt(rng: np.random.Generator) -> Question | None:
        found = standing_scene(skill, difficulty, rng)
        return (
            None
            if found is None
            else degree_question(skill, difficulty, found[0], found[1][int(rng.integers(len(found[1])))])
        )

    return first_that(rng, attempt)


def ask_axis(difficulty: float, rng: np.random.Generator) -> Question:
    """Which way does the minor axis of a standing rim run?"""

    def attempt(rng: np.random.Generator) -> Question | None:
        found = standing_scene(Skill.MINOR_AXIS, difficulty, rng)
        if found is None:
            return None
        scene, rims = found
        rims = [r for r in rims if r.ellipse.degree_deg < AXIS_ROUNDEST_DEG]
        if not rims:
            return None
        rim = rims[int(rng.integers(len(rims)))]
        return Question(
            Skill.MINOR_AXIS,
            difficulty,
            AnswerBy.NEEDLE,
            scene.stand,
            scene.view,
            tuple(Mark(MarkRole.ASKED, arc) for arc in arc_of(rim)),
            Number(Told.AXIS, rim.ellipse.axis_deg),
            (
                Mark(MarkRole.ASKED, axis_line(rim.ellipse)),
                Mark(MarkRole.GIVEN, tuple(rim.at(k / 96) for k in range(97))),
            ),
        )

    return first_that(rng, attempt)


def axis_line(ellipse: Ellipse) -> tuple[Point, Point]:
    """The minor axis drawn on beyond the rim to both sides."""
    (x, y), t = ellipse.centre_px, math.radians(ellipse.axis_deg)
    dx, dy = 0.75 * ellipse.major_px * math.cos(t), -0.75 * ellipse.major_px * math.sin(t)
    return (x - dx, y - dy), (x + dx, y + dy)


def ask_base(difficulty: float, rng: np.random.Generator) -> Question:
    """Which of some ellipses is the base that belongs to a mouth? The base itself is left out, and so are the sides."""

    def attempt(rng: np.random.Generator) -> Question | None:
        where = spot(rng, TABLE, GROUND)
        height = round(float(rng.uniform(*where.size_m)), 2)
        radius = round(height * float(rng.uniform(0.3, 0.55)), 3)
        # put aside to leave room for what is chosen from
        cup = Cylinder("cup", base_m=where.base_m[0], radius_m=radius, height_m=height)
        scene = seen(rng, [cup], float(rng.uniform(*where.eye_m)), 0.5, rng.random() < AIMED)
        if scene is None:
            return None
        rims = {r.name: (k, r) for k, r in enumerate(scene.drawing.rims)}
        if (
            "base" not in rims
            or "top" not in rims
            or rims["base"][1].ellipse.degree_deg > 60.0
            or rims["top"][1].ellipse.major_px > 0.5 * WIDTH_PX
        ):
            return None
        number, base = rims["base"]
        apart = APART_DEG[0] + (APART_DEG[1] - APART_DEG[0]) * difficulty
        right = int(rng.integers(CHOICES))
        degrees = [base.ellipse.degree_deg + (k - right) * apart for k in range(CHOICES)]
        if degrees[0] < 3.0 or degrees[-1] > ROUNDEST_CHOICE_DEG:
            return None
        order = rng.permutation(CHOICES).tolist()
        values = tuple(degrees[k] for k in order)
        marks = [Mark(MarkRole.UNIT, arc) for arc in arc_of(rims["top"][1])]
        half = CHOSEN_PX
        for k, degree in enumerate(values):
            at = (WIDTH_PX - half - 30.0, 110.0 + k * (HEIGHT_PX - 160.0) / (CHOICES - 0.5))
            marks.append(Mark(MarkRole.ASKED, flat_ellipse(at, half, degree), "ABCD"[k]))
        whole = (Mark(MarkRole.ASKED, tuple(base.at(k / 96) for k in range(97))),)
        scoring = Choice(values, values.index(degrees[right]))
        return Question(
            Skill.BASE_OF_MOUTH,
            difficulty,
            AnswerBy.CHOICE,
            scene.stand,
            scene.view,
            tuple(marks),
            scoring,
            whole,
            without_rims=(number,),
            told=(("mouth", rims["top"][1].ellipse.degree_deg),),
        )

    return first_that(rng, attempt)


def flat_ellipse(at: Point, half: float, degree: float) -> tuple[Point, ...]:
    """A level ellipse about ``at``, of half-width ``half`` (px)."""
    minor = half * math.sin(math.radians(degree))
    return tuple(
        (at[0] + half * math.cos(2 * math.pi * k / 64), at[1] + minor * math.sin(2 * math.pi * k / 64))
        for k in range(65)
    )


def ask_turning(difficulty: float, rng: np.random.Generator) -> Question:
    """A tin lying, seen from above, turned by so much: how far does its end open to somebody looking along the arrow,
    from far off?
    """
    turned = round(float(rng.uniform(*TURNED_DEG)), 1)
    length = round(float(rng.uniform(0.9, 2.2)), 2)
    way = 1 if rng.random() < 0.5 else -1
    stand = Stand((Cylinder("tin", turn_deg=way * turned, radius_m=0.3, height_m=2 * 0.3 * length, lean_deg=90.0),))
    view = View(
        (0.0, 0.0, 5.0), 0.0, -90.0, width_px=WIDTH_PX, height_px=HEIGHT_PX, parallel=Parallel.SQUARE, px_per_m=420.0
    )
    x, tip = WIDTH_PX / 2, HEIGHT_PX - 150.0
    arrow = Mark(
        MarkRole.GIVEN, ((x, HEIGHT_PX - 20.0), (x, tip), (x - 14.0, tip + 26.0), (x, tip), (x + 14.0, tip + 26.0))
    )
    level = Mark(MarkRole.GIVEN, ((WIDTH_PX / 2 - 330.0, HEIGHT_PX / 2), (WIDTH_PX / 2 + 330.0, HEIGHT_PX / 2)))
    ellipse = Mark(MarkRole.ASKED, flat_ellipse((WIDTH_PX - 190.0, 190.0), 150.0, turned))
    return Question(
        Skill.TURNING,
        difficulty,
        AnswerBy.ELLIPSE,
        stand,
        view,
        (arrow, level),
        Number(Told.DEGREE, turned),
        (ellipse,),
        told=(("turned", turned),),
    )


def ask_lettering(difficulty: float, rng: np.random.Generator) -> Question:
    """Where round a tin does a mark stand that is turned by so much from the front?"""

    def attempt(rng: np.random.Generator) -> Question | None:
        turned = round(float(rng.uniform(*MARKED_DEG)), 0) * (1 if rng.random() < 0.5 else -1)
        height = round(float(rng.uniform(0.2, 0.5)), 2)
        tin = Cylinder(
            "tin", base_m=TABLE.base_m[0], radius_m=round(height * float(rng.uniform(0.4, 0.7)), 3), height_m=height
        )
        scene = seen(rng, [tin], float(rng.uniform(*TABLE.eye_m)), difficulty)
        if scene is None:
            return None
        placed = scene.drawing.placed[0]
        front, asked, side = (
            _mark_on(scene, placed, tin, angle) for angle in (0.0, turned, math.copysign(90.0, turned))
        )
        half = side[0][0] - front[0][0]
        if not in_picture(asked[0]) or abs(half) < 60.0:
            return None
        return Question(
            Skill.LETTERING,
            difficulty,
            AnswerBy.POINT,
            scene.stand,
            scene.view,
            (Mark(MarkRole.GIVEN, front, "0"),),
            Place((front[0][0], asked[0][1]), (half / 100.0, 0.0), 100.0 * (asked[0][0] - front[0][0]) / half),
            (Mark(MarkRole.ASKED, asked),),
            told=(("turned", abs(turned)), ("right", 1.0 if turned > 0 else 0.0)),
        )

    return first_that(rng, attempt)


def _mark_on(scene: Scene, placed: Placed, tin: Cylinder, turned_deg: float) -> tuple[Point, Point]:
    """Top and foot (px) of a line down a tin's side at an angle from the front, to the viewer's right."""
    way = scene.view.to_viewer(placed.frame.at)
    t = math.atan2(way[1], way[0]) + math.radians(turned_deg)
    x, y, z = placed.frame.at.tolist()
    ends = np.array(
        [(x + tin.radius_m * math.cos(t), y + tin.radius_m * math.sin(t), z + h) for h in (tin.height_m, 0.0)]
    )
    (a, b), (c, d) = scene.view.project(ends).tolist()
    return (a, b), (c, d)
