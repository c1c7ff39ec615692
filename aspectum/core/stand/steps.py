"""The construction of a thing in the order in which it is drawn, each step with what it adds."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from aspectum.core.plane.lines import Floats
from aspectum.core.sightings import Looking, Point, ViewSort
from aspectum.core.stand.camera import STRAIGHT_DEG, View
from aspectum.core.stand.construction import BOX_FACES, construction, segment
from aspectum.core.stand.drawing import draw, set_up_for
from aspectum.core.stand.drawn import Curve, Drawing, DrawnRim, Line
from aspectum.core.stand.kinds import Parallel, Stage, Weight
from aspectum.core.stand.setting import Placed
from aspectum.core.stand.things import Outline, Section, Stand, StandError

RIM_STEPS = 96  # chords round a rim: 0.05 % of its radius inside it
CENTRE_M = 1e-6  # of the centre plane, within which a point lies on it
UPRIGHT = 1.0 - 1e-9  # the cosine of an axis with the plumb line, above which its rims lie level
LEAST_PX = 0.5  # shorter strokes are left out
SQUARE = math.cos(
    math.radians(STRAIGHT_DEG)
)  # of the angle to the way of looking, above which a plane lies square to it
ALIKE_DEG = 1e-6  # degrees that differ by less are one


@dataclass(frozen=True)
class Stroke:
    """Points (px) joined in order."""

    points: tuple[Point, ...]
    weight: Weight = Weight.THIN


@dataclass(frozen=True)
class Seen:
    """How what a step draws is seen. ``true_shape``: its planes lie square to the view, so that they keep their shape;
    ``oblique``: in a parallel view that is not; ``degree_deg``: by which all its rims open alike, None where they do
    not.
    """

    sort: ViewSort
    oblique: bool = False
    true_shape: bool = False
    degree_deg: float | None = None


@dataclass(frozen=True)
class Step:
    """What one step adds to the drawing; everything before it stays."""

    stage: Stage
    strokes: tuple[Stroke, ...]
    seen: Seen


def steps(stand: Stand, view: View, thing: str) -> list[Step]:
    """The construction of ``thing``, as if it stood alone; steps with nothing to draw are left out. Raises
    ``StandError`` where there is no such thing.
    """
    own = next((t for t in stand.things if t.id == thing and not isinstance(t, Section)), None)
    if own is None:
        raise StandError("thing", f"there is no thing '{thing}'")
    placed = next(p for p in set_up_for(stand, view) if p.thing.id == thing)
    drawing = _alone(stand, view, placed)
    built = construction(placed, view)
    corners = placed.box
    near = nearest_face(placed, view)
    lines = [*drawing.edges, *drawing.outlines]
    seen = Seen(view_sort(placed, view), view.parallel is Parallel.OBLIQUE)
    found = [
        Step(Stage.EYE_LEVEL, _eye_level(drawing), seen),
        Step(Stage.ENCLOSING_BOX, tuple(Stroke(side) for side in built.box), seen),
        Step(
            Stage.DIAGONALS,
            _diagonals(view, corners, near),
            replace(seen, true_shape=square_on(_normal(corners, near), view)),
        ),
    ]
    if isinstance(own, Outline):
        on_near, through = _carried(drawing, placed)
        found += [Step(Stage.NEAR_FACE, on_near, seen), Step(Stage.CARRIED_THROUGH, through, seen)]
    if placed.body.faces:
        found.append(Step(Stage.HIDDEN, tuple(Stroke((line.p, line.q)) for line in lines), seen))
    if placed.body.lathes:
        level = all(abs(float(m.axis[2])) > UPRIGHT for m in placed.body.lathes)
        degrees = [rim.ellipse.degree_deg for rim in drawing.rims]
        rims = replace(
            seen,
            true_shape=all(square_on(m.axis, view) for m in placed.body.lathes),
            degree_deg=degrees[0] if degrees and max(degrees) - min(degrees) < ALIKE_DEG else None,
        )
        found += [
            Step(Stage.AXES, tuple(Stroke(axis) for axis in built.axes), rims),
            Step(Stage.SQUARES, _squares(view, placed), rims),
            Step(
                Stage.RIMS if level else Stage.STANDING_RIMS,
                tuple(Stroke(rim_points(rim, 0.0, 1.0)) for rim in drawing.rims),
                rims,
            ),
        ]
    cuts = [c for c in drawing.curves if c.thing != thing]
    found.append(Step(Stage.SECTIONS, tuple(Stroke(c.points) for c in cuts), seen))
    found.append(Step(Stage.LINED_IN, lined_in(drawing), seen))
    return [step for step in found if step.strokes]


def view_sort(placed: Placed, view: View) -> ViewSort:
    """The sort of view that a thing is drawn in: by the way of looking, and by whether a side of it lies square to
    that.
    """
    if view.parallel is not None:
        return ViewSort.PARALLEL
    if view.looking is not Looking.AHEAD:
        return ViewSort.STRAIGHT
    if abs(view.pitch_deg) >= STRAIGHT_DEG:
        return ViewSort.THREE_POINT
    return ViewSort.ONE_POINT if any(square_on(placed.frame.turn[:, k], view) for k in (0, 1)) else ViewSort.TWO_POINT


def square_on(normal: Floats, view: View) -> bool:
    """Whether a plane, by its normal (3,), lies parallel to the picture, which shows it in its true shape."""
    along = abs(float(normal @ view.axes[2]))
    return along > SQUARE * float(np.linalg.norm(normal))


def lined_in(drawing: Drawing) -> tuple[Stroke, ...]:
    """What is seen, thick."""
    parts = [part for line in (*drawing.edges, *drawing.outlines) for part in _line_parts(line)]
    parts += [rim_points(rim, a, b) for rim in drawing.rims for a, b in rim.visible]
    parts += [part for curve in drawing.curves for part in curve_parts(curve)]
    return tuple(Stroke(part, Weight.THICK) for part in parts)


def drawn_through(drawing: Drawing) -> tuple[Stroke, ...]:
    """Every line whole, hidden or not, thin."""
    whole = [(line.p, line.q) for line in (*drawing.edges, *drawing.outlines)]
    return tuple(
        Stroke(points)
        for points in (
            *whole,
            *(rim_points(rim, 0.0, 1.0) for rim in drawing.rims),
            *(curve.points for curve in drawing.curves),
        )
    )


def nearest_face(placed: Placed, view: View) -> str:
    """The upright side of the enclosing box that is turned most to the eye."""
    corners = placed.box
    best, name = -math.inf, "front"
    for face in ("front", "right", "back", "left"):
        normal = _normal(corners, face)
        way = view.to_viewer(corners[list(BOX_FACES[face])].mean(axis=0))
        turned = float(normal @ way) / max(float(np.linalg.norm(normal) * np.linalg.norm(way)), 1e-300)
        if turned > best:
            best, name = turned, face
    return name


def _normal(corners: Floats, face: str) -> Floats:
    """Outwards (3,) from a side of an enclosing box."""
    ring = corners[list(BOX_FACES[face])]
    return np.cross(ring[1] - ring[0], ring[3] - ring[0])


def _alone(stand: Stand, view: View, placed: Placed) -> Drawing:
    """The thing where it stands, with the planes through it, and nothing else."""
    thing = replace(placed.thing, on=None, base_m=float(placed.frame.at[2]))
    cuts = [t for t in stand.things if isinstance(t, Section) and t.of == thing.id]
    return draw(Stand((thing, *cuts)), view)


def _eye_level(drawing: Drawing) -> tuple[Stroke, ...]:
    """Eye level across the picture, and the lines of every level family run on to their vanishing points."""
    level = drawing.view.eye_level_px
    if level is None:
        return ()
    strokes = [Stroke(((0.0, level[0]), (float(drawing.view.width_px), level[1])))]
    for vp in drawing.vanishing_points:
        if vp.at_px is None or vp.way.direction[2] != 0.0:
            continue
        strokes += [
            Stroke((line.p if _farther(line.p, line.q, vp.at_px) else line.q, vp.at_px))
            for line in drawing.edges
            if line.way == vp.way and line.visible
        ]
    return tuple(strokes)


def _farther(p: Point, q: Point, vp: Point) -> bool:
    return math.dist(p, vp) > math.dist(q, vp)


def _diagonals(view: View, corners: Floats, near: str) -> tuple[Stroke, ...]:
    """Both diagonals of the near face and its middle lines, which run with its sides through where they cross."""
    ring = corners[list(BOX_FACES[near])]
    middles = (ring + np.roll(ring, -1, axis=0)) / 2
    ends = [(ring[0], ring[2]), (ring[1], ring[3]), (middles[0], middles[2]), (middles[1], middles[3])]
    return tuple(Stroke(s) for a, b in ends if (s := segment(view, a, b)) is not None)


def _carried(drawing: Drawing, placed: Placed) -> tuple[tuple[Stroke, ...], tuple[Stroke, ...]]:
    """Lines on the side of the centre plane that is nearer to the eye, and those that lead from it through the depth to
    the other.
    """
    across = placed.frame.turn[:, 1]
    side = 1.0 if float(across @ drawing.view.to_viewer(placed.frame.at)) > 0 else -1.0

    def on_near(points: Floats) -> bool:
        return bool(np.all(side * ((points - placed.frame.at) @ across) > CENTRE_M))

    def through(points: Floats) -> bool:
        out = (points - placed.frame.at) @ across
        return bool(out.min() < -CENTRE_M and out.max() > CENTRE_M)

    face = [Stroke((e.p, e.q)) for e in drawing.edges if on_near(e.room)]
    face += [Stroke(c.points) for c in drawing.curves if c.thing == placed.thing.id and on_near(c.room)]
    return tuple(face), tuple(Stroke((e.p, e.q)) for e in drawing.edges if through(e.room))


def _squares(view: View, placed: Placed) -> tuple[Stroke, ...]:
    """The square round every rim, with its diagonals; the ellipse touches the middles of its sides (handbook section
    3).
    """
    strokes = []
    for rim in placed.body.rims:
        m = placed.body.lathes[rim.lathe]
        centre = m.origin + rim.height * m.axis
        corners = [
            centre + rim.radius * (a * m.first_way + b * m.second_way) for a, b in ((1, 1), (-1, 1), (-1, -1), (1, -1))
        ]
        for i, j in ((0, 1), (1, 2), (2, 3), (3, 0), (0, 2), (1, 3)):
            if (found := segment(view, corners[i], corners[j])) is not None:
                strokes.append(Stroke(found))
    return tuple(strokes)


def _line_parts(line: Line) -> list[tuple[Point, ...]]:
    return [(line.at(a), line.at(b)) for a, b in line.visible if (b - a) * line.length_px > LEAST_PX]


def rim_points(rim: DrawnRim, start: float, end: float) -> tuple[Point, ...]:
    """Points along a part of a rim's turn."""
    count = max(2, math.ceil(RIM_STEPS * (end - start)) + 1)
    return tuple(rim.at(start + (end - start) * k / (count - 1)) for k in range(count))


def curve_parts(curve: Curve) -> list[tuple[Point, ...]]:
    """What is seen of a curve, as points."""
    points = np.array(curve.points)
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    found = []
    for a, b in curve.visible:
        at = np.unique(
            np.concatenate([[a * along[-1], b * along[-1]], along[(along > a * along[-1]) & (along < b * along[-1])]])
        )
        found.append(
            tuple(
                zip(
                    np.interp(at, along, points[:, 0]).tolist(),
                    np.interp(at, along, points[:, 1]).tolist(),
                    strict=True,
                )
            )
        )
    return found
