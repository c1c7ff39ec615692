"""Fans: evenly spaced edges of one family between two that are sighted, as corrugations, boards, courses and joints run
(handbook section 2). One family has one vanishing point, so the tilt changes steadily across the fan.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from aspectum.core.findings import VanishingPoint
from aspectum.core.plane.lines import Floats, tilt_deg, tilt_difference
from aspectum.core.sightings import Edge, Family, Point

MOST_LINES = 60  # enough for a line a centimetre across a sheet; more fill it with grey
ASKEW_DEG = 45.0  # farther than this from where the two edges' ends lead, a family does not span their plane


@dataclass(frozen=True)
class Fan:
    """``lines``: the two ends of each, from the first edge's side to the second's; ``tilts_deg`` of each. ``spaced``:
    the family along which they are evenly spaced in space, None where they are so only on the picture.
    """

    lines: tuple[tuple[Point, Point], ...]
    tilts_deg: tuple[float, ...]
    spaced: Family | None


def fan(first: Edge, second: Edge, count: int, points: list[VanishingPoint]) -> Fan:
    """``count`` lines between two edges of one family, towards its vanishing point among ``points``.

    The lines are members of the pencil through the vanishing point; even spacing in space makes them harmonic with the
    vanishing line of the plane that holds both edges, which runs through the family's own point and that of the family
    which leads from one edge to the other. Raises ``ValueError`` for edges of different families, for one that has no
    vanishing point yet, and for a count out of range.
    """
    if first.slot != second.slot or first.id == second.id:
        raise ValueError("a fan runs between two edges of one family of one form")
    if not 1 <= count <= MOST_LINES:
        raise ValueError(f"a fan has 1 to {MOST_LINES} lines")
    places = {(v.form, v.family, v.slope): homogeneous(v) for v in points}
    v = places.get(first.slot)
    if v is None:
        raise ValueError("where this family meets is not known yet: sight another of its edges")
    a, b = ends(first, v), ends(second, v)
    from_line, to_line = (np.cross(v, [*edge.mean(axis=0), 1.0]) for edge in (a, b))
    shares = np.arange(1, count + 1) / (count + 1)
    leading = [
        (askew(a, b, w), family, w)
        for (form, family, slope), w in places.items()
        if (form, family, slope) != first.slot and form in (first.form, None)
    ]
    missed, family, w = min(leading, key=lambda lead: lead[0], default=(math.inf, first.family, v))
    pencil = spaced_lines(from_line, to_line, np.cross(v, w), shares) if missed < ASKEW_DEG else None
    spaced = None if pencil is None else family
    if pencil is None:
        middles = a.mean(axis=0) + shares[:, None] * (b.mean(axis=0) - a.mean(axis=0))
        pencil = np.cross(v, np.column_stack([middles, np.ones(count)]))
    near, far = (np.cross([*a[k], 1.0], [*b[k], 1.0]) for k in (0, 1))
    lines = []
    for line in pencil:
        p, q = np.cross(line, near), np.cross(line, far)
        if (
            not min(abs(p[2]) / max(float(np.abs(p).max()), 1e-300), abs(q[2]) / max(float(np.abs(q).max()), 1e-300))
            > 1e-9
        ):
            raise ValueError("no fan runs between two edges that lie on one line or share an end")
        lines.append(((float(p[0] / p[2]), float(p[1] / p[2])), (float(q[0] / q[2]), float(q[1] / q[2]))))
    return Fan(tuple(lines), tuple(float(tilt_deg(p, q)) for p, q in lines), spaced)


def homogeneous(v: VanishingPoint) -> Floats:
    if v.x_px is None or v.y_px is None:
        way = math.radians(v.direction_deg or 0.0)
        return np.array([math.cos(way), -math.sin(way), 0.0])
    return np.array([v.x_px, v.y_px, 1.0])


def ends(edge: Edge, v: Floats) -> Floats:
    """Both ends (2, 2), the one nearer to the point ``v`` (3,) last: of two edges that close in on it the ends that
    belong together come together.
    """
    both = np.array([edge.p, edge.q])
    way = v[:2] - both.mean(axis=0) * v[2]
    return both if float((both[1] - both[0]) @ way) > 0 else both[::-1]


def askew(a: Floats, b: Floats, w: Floats) -> float:
    """By how much (degrees, the mean of both ends) the way from edge ``a`` to ``b``, (2, 2) each, misses the point
    ``w`` (3,).
    """
    middle = (a + b) / 2
    way = w[:2] - middle * w[2]
    along = np.degrees(np.arctan2(-way[:, 1], way[:, 0]))
    return float(np.abs(tilt_difference(tilt_deg(a, b), along)).mean())


def spaced_lines(first: Floats, second: Floats, vanishing: Floats, shares: Floats) -> Floats | None:
    """Lines (n, 3) of the pencil of ``first`` and ``second`` (3,) that stand at ``shares`` (n,) of the way between them
    in the plane whose ``vanishing`` line (3,) belongs to the pencil: in such units that second less first is the
    vanishing line, they go over into one another evenly. None where the vanishing line runs between the two, which no
    plane in sight allows.
    """
    units, *_ = np.linalg.lstsq(np.column_stack([-first, second]), vanishing, rcond=None)
    if units[0] * units[1] <= 0:
        return None
    return np.asarray((1.0 - shares)[:, None] * units[0] * first + shares[:, None] * units[1] * second, float)
