"""Where the sightings that are still missing are to be looked for on a drawing, from those that are laid."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from aspectum.core.drawing.compare import Laid
from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.plane.lines import Floats
from aspectum.core.plane.rim_fit import fit_rim
from aspectum.core.sightings import Point

NEAR_SHARE = 0.02  # of the drawing's extent: ends that lie as near on the subject are one corner, or all but


@dataclass(frozen=True)
class Expected:
    """Missing edges by id, px of the drawing, missing rims, and the points of what else is measured."""

    edges: dict[str, tuple[Point, Point]]
    rims: dict[str, Ellipse]
    measured: dict[str, list[Point]]


def expected_places(subject: Laid, drawing: Laid) -> Expected:
    """Places of what the subject has and the drawing lacks; empty until an edge, or a rim, of both is laid.

    The subject is brought to the drawing's scale and place by what is laid; then each end is moved as the laid ends
    near it miss, the nearest counting for most (Shepard, 1968), so that an end at a corner already drawn falls on that
    corner.
    """
    pairs = laid_pairs(subject, drawing)
    if len(pairs) < 2:
        return Expected({}, {}, {})
    here, there = np.array([a for a, _ in pairs], float), np.array([b for _, b in pairs], float)
    scale, shift = brought(here, there)
    gap = there - (here * scale + shift)
    near = NEAR_SHARE * max(float(np.ptp(here, axis=0).max()), 1.0)

    def moved(at: Point) -> Floats:
        away = np.hypot(*(here - np.array(at)).T)
        weight = 1.0 / (away + near) ** 2
        return np.asarray(np.array(at) * scale + shift + (weight[:, None] * gap).sum(axis=0) / weight.sum(), float)

    have = {e.id for e in drawing.edges} | {r.id for r in drawing.rims}
    edges = {e.id: (point(moved(e.p)), point(moved(e.q))) for e in subject.edges if e.id not in have}
    rims = {}
    for rim in subject.rims:
        if rim.id not in have:
            seen = fit_rim(rim.points, subject.setup.point_sd_px, rim.ends, rim.near).ellipse
            rims[rim.id] = Ellipse(
                point(moved(seen.centre_px)),
                seen.major_px * scale,
                seen.minor_px * scale,
                seen.axis_deg,
                seen.degree_deg,
            )
    m = subject.measured
    points: dict[str, list[Point]] = {x.id: [x.p, x.q] for x in m.lengths}
    points |= {x.id: [x.p, x.q] for x in m.alignments}
    points |= {f.id: list(f.corners) for f in m.faces} | {d.id: [d.point] for d in m.divisions}
    n = drawing.measured
    have = (
        {x.id for x in n.lengths} | {x.id for x in n.alignments} | {f.id for f in n.faces} | {d.id for d in n.divisions}
    )
    return Expected(
        edges, rims, {id: [point(moved(at)) for at in mine] for id, mine in points.items() if id not in have}
    )


def everything_of(subject: Laid) -> Expected:
    """Its edges and rims where the subject itself has them, px of its picture: what a drawing of which nothing is laid
    is looked through for.
    """
    rims = {rim.id: fit_rim(rim.points, subject.setup.point_sd_px, rim.ends, rim.near).ellipse for rim in subject.rims}
    return Expected({e.id: (e.p, e.q) for e in subject.edges}, rims, {})


def laid_pairs(subject: Laid, drawing: Laid) -> list[tuple[Point, Point]]:
    """Places on the subject beside the same on the drawing: both ends of edges, the top, bottom and sides of rims."""
    known, pairs = {e.id: e for e in subject.edges}, []
    for edge in drawing.edges:
        fellow = known.get(edge.id)
        if fellow is not None:
            straight = (edge.p, edge.q)
            # laid the other way round it is the same edge
            if runs_against(fellow.p, fellow.q, edge.p, edge.q):
                straight = (edge.q, edge.p)
            pairs += [(fellow.p, straight[0]), (fellow.q, straight[1])]
    rims = {r.id: r for r in subject.rims}
    for rim in drawing.rims:
        if rim.id in rims:
            other = rims[rim.id]
            a = fit_rim(other.points, subject.setup.point_sd_px, other.ends, other.near).ellipse
            b = fit_rim(rim.points, drawing.setup.point_sd_px, rim.ends, rim.near).ellipse
            for along, share in ((0, -0.5), (0, 0.5), (1, -0.5), (1, 0.5)):
                pairs.append((tip(a, along, share), tip(b, along, share)))
    return pairs


def runs_against(a: Point, b: Point, c: Point, d: Point) -> bool:
    """Whether c-d runs against a-b rather than along it."""
    return (b[0] - a[0]) * (d[0] - c[0]) + (b[1] - a[1]) * (d[1] - c[1]) < 0


def tip(ellipse: Ellipse, along: int, share: float) -> Point:
    """A point on an axis of an ellipse, ``share`` of it from the centre: 0 the major one, 1 the minor one."""
    turn = math.radians(ellipse.axis_deg)
    minor = np.array([math.cos(turn), -math.sin(turn)])
    if minor[1] < 0:
        minor = -minor
    way, length = (minor, ellipse.minor_px) if along else (np.array([minor[1], -minor[0]]), ellipse.major_px)
    return point(np.array(ellipse.centre_px) + way * length * share)


def brought(here: Floats, there: Floats) -> tuple[float, Floats]:
    """Scale and shift, by least squares, that bring places (n, 2) to others; nothing is turned: the paper's edges are
    the picture's.
    """
    a, b = here - here.mean(axis=0), there - there.mean(axis=0)
    scale = max(float((a * b).sum() / max(float((a * a).sum()), 1e-12)), 1e-6)
    return scale, there.mean(axis=0) - scale * here.mean(axis=0)


def point(at: Floats) -> Point:
    return float(at[0]), float(at[1])
