"""The truth beside a sighting: which of a set-up's exact lines was meant, and what it truly measures."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from aspectum.core.plane.lines import Floats
from aspectum.core.sightings import Edge, Rim
from aspectum.core.stand.drawn import Drawing, DrawnRim, Line

MEANT = (
    0.04  # of the picture's longer side: a sighting farther than this from every line of its form was of something else
)
BEYOND = 0.1  # of a true line's length by which a sighting may run on past its ends at no cost
RIM_POINTS = 180  # every 2° round a rim: enough for an exact fit, however little of it shows
OTHER_FAMILY_PX = 4.0  # a line of the family that the sighting names is preferred to one this much nearer


def true_tilts(drawing: Drawing, edges: Sequence[Edge]) -> dict[str, float]:
    """The true tilt (degrees) of every sighted edge whose line can be told, by its id. Forms are named as the things
    are.
    """
    found = {}
    for edge in edges:
        ends = np.array([edge.p, edge.q])
        lines = [line for line in drawing.edges if line.thing == edge.form]
        if not lines:
            continue
        costs = [
            _gap(line, ends) + (0.0 if line.way is not None and line.way.family is edge.family else OTHER_FAMILY_PX)
            for line in lines
        ]
        best = int(np.argmin(costs))
        if costs[best] < MEANT * max(drawing.view.width_px, drawing.view.height_px):
            found[edge.id] = lines[best].tilt_deg
    return found


def true_degrees(drawing: Drawing, rims: Sequence[Rim]) -> dict[str, float]:
    """The true ellipse degree of every sighted rim whose circle can be told, by its id."""
    found = {}
    for rim in rims:
        circles = [circle for circle in drawing.rims if circle.thing == rim.form]
        if not circles or not rim.laid:
            continue
        costs = [_rim_gap(circle, np.array(rim.laid)) for circle in circles]
        best = int(np.argmin(costs))
        if costs[best] < MEANT * max(drawing.view.width_px, drawing.view.height_px):
            found[rim.id] = circles[best].ellipse.degree_deg
    return found


def _gap(line: Line, ends: Floats) -> float:
    """The larger distance (px) of a sighting's two ``ends`` (2, 2) from a true line, run on a little at both ends."""
    p, q = np.array(line.p), np.array(line.q)
    way = q - p
    size = float(way @ way)
    share = np.clip((ends - p) @ way / size, -BEYOND, 1.0 + BEYOND) if size > 0 else np.zeros(len(ends))
    return float(np.hypot(*(ends - p - share[:, None] * way).T).max())


def _rim_gap(circle: DrawnRim, points: Floats) -> float:
    """Mean distance (px) of ``points`` (k, 2) from a circle's image."""
    outline = np.array([circle.at(k / RIM_POINTS) for k in range(RIM_POINTS)])
    return float(np.hypot(*(points[:, None] - outline[None]).T).min(axis=0).mean())
