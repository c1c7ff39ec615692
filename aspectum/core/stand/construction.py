"""What is drawn to build a thing up and drawn through: its enclosing box, its axis, and its footprint on the ground."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.lines import Floats
from aspectum.core.sightings import Point
from aspectum.core.stand.camera import NEAREST_M, View
from aspectum.core.stand.gather import before_picture
from aspectum.core.stand.setting import Placed

# corners of a box by number: foot ring, top ring, uprights
BOX_SIDES = ((0, 1), (1, 2), (2, 3), (3, 0), (4, 5), (5, 6), (6, 7), (7, 4), (0, 4), (1, 5), (2, 6), (3, 7))
BOX_FACES = {
    "front": (0, 1, 5, 4),
    "right": (1, 2, 6, 5),
    "back": (2, 3, 7, 6),
    "left": (3, 0, 4, 7),
    "top": (4, 5, 6, 7),
    "underside": (3, 2, 1, 0),
}
ROUND = 96  # points round a footprint's circle


@dataclass(frozen=True)
class Construction:
    """A thing's lines of construction (px): the twelve sides of its ``box``, the ``axes`` of what is turned on it, and
    its ``footprint`` as closed rings.
    """

    thing: str
    box: tuple[tuple[Point, Point], ...]
    axes: tuple[tuple[Point, Point], ...]
    footprint: tuple[tuple[Point, ...], ...]


def construction(placed: Placed, view: View) -> Construction:
    """Everything that is drawn through of a thing; what reaches behind the picture's plane is cut off there."""
    corners = placed.box
    box = tuple(s for a, b in BOX_SIDES if (s := segment(view, corners[a], corners[b])) is not None)
    axes = []
    for m in placed.body.lathes:
        ends = m.origin + np.array([[m.height.min()], [m.height.max()]]) * m.axis
        if (found := segment(view, ends[0], ends[1])) is not None:
            axes.append(found)
    rings = [ring for ring in (outline_points(view, points) for points in footprint(placed)) if ring]
    return Construction(placed.thing.id, box, tuple(axes), tuple(rings))


def footprint(placed: Placed) -> list[Floats]:
    """Rings (k, 3) on the ground, z = 0, right below the thing: of what stands upright on a lathe its widest circle,
    else the foot of its enclosing box.
    """
    body = placed.body
    upright = [m for m in body.lathes if abs(float(m.axis[2])) > 1.0 - 1e-12]
    if upright and not body.faces:
        turns = np.linspace(0, 2 * np.pi, ROUND, endpoint=False)
        rings = []
        for m in upright:
            r = float(m.radius.max())
            ring = m.origin + r * (np.cos(turns)[:, None] * m.first_way + np.sin(turns)[:, None] * m.second_way)
            rings.append(ring * (1.0, 1.0, 0.0))
        return rings
    return [placed.box[:4] * (1.0, 1.0, 0.0)]


def segment(view: View, p: Floats, q: Floats) -> tuple[Point, Point] | None:
    """The image of the line from ``p`` to ``q`` (3,), cut at the picture's plane; None where all of it lies behind."""
    whole, starts, ends = before_picture(view, p[None], q[None])
    if not whole[0]:
        return None
    (x0, y0), (x1, y1) = view.project(np.vstack([starts, ends])).tolist()
    return (x0, y0), (x1, y1)


def outline_points(view: View, ring: Floats) -> tuple[Point, ...]:
    """The image of a closed ring (k, 3); empty where some of it lies behind the picture's plane."""
    if float(view.depths(ring).min()) < NEAREST_M:
        return ()
    return tuple((x, y) for x, y in view.project(ring).tolist())
