"""A thing turned in the hand: the same form in a row of poses, as far off as makes every line of sight one way."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from aspectum.core.stand.camera import View
from aspectum.core.stand.drawing import draw, set_up_for
from aspectum.core.stand.drawn import Drawing
from aspectum.core.stand.kinds import Parallel
from aspectum.core.stand.things import AnyThing, Cone, Cylinder, Stand, StandError, Tube, Turned

MOST_POSES = 32  # more cannot be told apart on one strip
GAP = 0.25  # between two poses of a strip, as a share of the widest


class About(StrEnum):
    """What a thing is turned about: its own upright, or level, so that what is round swings from its side
    to its end.
    """

    UPRIGHT = "upright"
    END_ON = "end-on"


@dataclass(frozen=True)
class Pose:
    """One pose: ``turned_deg`` from the first, its exact drawing, ``width_px`` and ``height_px`` of its extent,
    ``degrees_deg`` of its rims by name, ``length_px`` of its axis as seen, and ``marks`` (turns from the front,
    degrees, and places from the middle in half-widths, those behind left out).
    """

    turned_deg: float
    drawing: Drawing
    width_px: float
    height_px: float
    degrees_deg: dict[str, float]
    length_px: float
    marks: tuple[tuple[float, float], ...]


def quarter_turns(count: int) -> list[float]:
    """PhotoQueue (degrees) in the order in which practitioners draw them: quarters of a full turn, then their halves,
    and so on; sorted they are one row.
    """
    found = [0.0, 90.0, 180.0, 270.0]
    step = 45.0
    while len(found) < count:
        found += [step + k * 2 * step for k in range(round(180.0 / step))]
        step /= 2
    return found[:count]


def end_on_turns(count: int) -> list[float]:
    """``count`` turns (degrees), two at least, evenly from what is round lying on its side (0) to its end (90)."""
    return [90.0 * k / (count - 1) for k in range(count)]


def poses(
    thing: AnyThing,
    turns_deg: list[float],
    about: About,
    picture: View,
    pitch_deg: float = 0.0,
    marks_deg: tuple[float, ...] = (),
) -> list[Pose]:
    """``thing`` alone, in the middle of a square parallel view of ``picture``'s size, once for each of ``turns_deg``.

    ``END_ON`` is for what is round: 0 shows its side, lying, 90 its end (handbook section 3). ``marks_deg``: marks
    round it, from the front. Raises ``StandError`` for something that is not round, and for more poses than a strip
    holds.
    """
    if len(turns_deg) > MOST_POSES:
        raise StandError("turns_deg", f"a strip holds {MOST_POSES} poses")
    if about is About.END_ON and not isinstance(thing, (Cylinder, Cone, Tube, Turned)):
        raise StandError(thing.id, "only what is round is turned end-on")
    found = []
    for turn in turns_deg:
        alone = replace(thing, at_m=(0.0, 0.0), base_m=0.0, on=None, turn_deg=turn)
        if isinstance(alone, (Cylinder, Turned)) and about is About.END_ON:
            alone = replace(alone, lean_deg=90.0)
        view = replace(
            picture, parallel=Parallel.SQUARE, heading_deg=0.0, pitch_deg=pitch_deg, roll_deg=0.0, eye_m=(0.0, 0.0, 0.0)
        )
        middle = set_up_for(Stand((alone,)), view)[0].box.mean(axis=0)
        view = replace(view, eye_m=(float(middle[0]), float(middle[1]), float(middle[2])))
        found.append(_pose(turn, draw(Stand((alone,)), view), marks_deg))
    return found


def _pose(turn: float, drawing: Drawing, marks_deg: tuple[float, ...]) -> Pose:
    low_x, low_y, high_x, high_y = extent(drawing)
    body = drawing.placed[0].body
    length = 0.0
    if body.lathes:
        m = body.lathes[0]
        ends = drawing.view.project(m.origin + np.array([[m.height.min()], [m.height.max()]]) * m.axis)
        length = float(np.hypot(*(ends[1] - ends[0])))
    marks = []
    for mark in marks_deg:
        at = (mark + turn + 180.0) % 360.0 - 180.0
        if abs(at) <= 90.0:
            marks.append((mark, math.sin(math.radians(at))))
    degrees = {rim.name: rim.ellipse.degree_deg for rim in drawing.rims}
    return Pose(turn, drawing, high_x - low_x, high_y - low_y, degrees, length, tuple(marks))


def extent(drawing: Drawing) -> tuple[float, float, float, float]:
    """Left, top, right and bottom (px) of everything drawn."""
    boxes = []
    for line in (*drawing.edges, *drawing.outlines):
        boxes.append(
            (min(line.p[0], line.q[0]), min(line.p[1], line.q[1]), max(line.p[0], line.q[0]), max(line.p[1], line.q[1]))
        )
    for rim in drawing.rims:
        a, b, tilt = rim.ellipse.major_px / 2, rim.ellipse.minor_px / 2, math.radians(rim.major_tilt_deg)
        dx, dy = math.hypot(a * math.cos(tilt), b * math.sin(tilt)), math.hypot(a * math.sin(tilt), b * math.cos(tilt))
        x, y = rim.ellipse.centre_px
        boxes.append((x - dx, y - dy, x + dx, y + dy))
    for curve in drawing.curves:
        points = np.array(curve.points)
        boxes.append((*points.min(axis=0).tolist(), *points.max(axis=0).tolist()))
    if not boxes:
        raise StandError("things", "nothing is to be seen")
    all_boxes = np.array(boxes)
    low, high = all_boxes[:, :2].min(axis=0), all_boxes[:, 2:].max(axis=0)
    return float(low[0]), float(low[1]), float(high[0]), float(high[1])


def strip_offsets(row: list[Pose]) -> list[float]:
    """How far right (px) each pose of a strip is carried so that they stand in one row, evenly, the first
    in its place.
    """
    step = (1.0 + GAP) * max(pose.width_px for pose in row)
    return [k * step for k in range(len(row))]
