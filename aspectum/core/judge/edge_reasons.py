"""Why an edge is off, in the quick rules of the trade, as data (handbook section 2).

The rules are common practice without a published source; each is read off the solved view, so
that it cannot contradict the verdict.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from aspectum.core.findings import EyeLevel
from aspectum.core.plane.lines import Flags, Floats, lean_deg
from aspectum.core.reasons import EdgeReason, Rule
from aspectum.core.sightings import Family, Side
from aspectum.core.view.evidence import Evidence

LEVEL_DEG = 0.5  # a receding edge this close to level runs at eye level
JOINT_SHARE = 0.025  # of the picture's diagonal: ends this close meet in one corner


@dataclass(frozen=True)
class Lines:
    """The edges as they lie under the solved view, (n,) each: their vanishing points (n, 3), unit vectors towards the
    end that lies farther away (n, 2), and how far they lean and are due to lean (degrees).
    """

    points: Floats
    away: Floats
    lean: Floats
    due_lean: Floats

    @classmethod
    def of(cls, evidence: Evidence, points: Floats, sighted: Floats, implied: Floats) -> Lines:
        """``points`` (n, 3); tilts ``sighted`` and ``implied`` (degrees, (n,)), nan where nothing implies one."""
        return cls(points, far_directions(evidence, points), lean_deg(sighted), lean_deg(implied))


def edge_reason(
    evidence: Evidence,
    lines: Lines,
    index: int,
    sighted: float,
    turn: float,
    eye_level: EyeLevel,
    off: Flags,
    rule: Rule | None,
    fellows: tuple[str, ...] = (),
) -> EdgeReason:
    """Why edge ``index``, sighted at ``sighted`` degrees and due to turn by ``turn`` degrees, is judged as it is. With
    ``rule`` None the quick rule that it breaks is looked for.
    """
    edge = evidence.edges[index]
    (px, py), (qx, qy) = edge.p, edge.q
    swing = math.hypot(qx - px, qy - py) * math.sin(math.radians(turn))
    level = eye_level.height_at((px + qx) / 2, evidence.setup.width_px)
    above = None if level is None else level - (py + qy) / 2
    if edge.family is Family.UPRIGHT:
        lean, due = float(lines.lean[index]), float(lines.due_lean[index])
        return EdgeReason(
            rule or Rule.UPRIGHT_LEANS, turn, -swing, above, lean, due if due == due else lean, others=fellows
        )
    goes, sign = (Side.RIGHT, 1.0) if lines.away[index, 0] >= 0 else (Side.LEFT, -1.0)
    ratio = None
    if rule is None:
        rule = Rule.MISSES_ITS_POINT
        v = lines.points[index]
        closes = abs(v[2]) >= 0.02 * math.hypot(v[0], v[1])
        if edge.family is Family.ACROSS or (edge.family is not Family.SLOPE and not closes):
            rule = Rule.NOT_TRUE_TO_FRONT
        elif edge.family not in (Family.SLOPE, Family.ACROSS) and closes:
            rule = climb_rule(sign * sighted, sign * (sighted + turn))
            neighbour = opening_neighbour(evidence, index, lines.away[index], off)
            if neighbour is not None:
                other, ratio = neighbour
                joined = joined_by(evidence, index, other)
                rule = Rule.FAR_LONGER if joined else Rule.OPENS
                fellows = (evidence.edges[other].id, *joined)
    return EdgeReason(rule, turn, sign * swing, above, goes=goes, others=fellows, far_near_ratio=ratio)


def climb_rule(climb_deg: float, true_climb_deg: float) -> Rule:
    """Name the fault of an edge that climbs ``climb_deg`` going away and should climb
    ``true_climb_deg`` (both negative for falling).
    """
    if true_climb_deg > LEVEL_DEG:
        if climb_deg < -LEVEL_DEG:
            return Rule.FALLS_INSTEAD
        return Rule.CLIMBS_TOO_LITTLE if climb_deg < true_climb_deg else Rule.CLIMBS_TOO_MUCH
    if true_climb_deg < -LEVEL_DEG:
        if climb_deg > LEVEL_DEG:
            return Rule.CLIMBS_INSTEAD
        return Rule.FALLS_TOO_LITTLE if climb_deg > true_climb_deg else Rule.FALLS_TOO_MUCH
    return Rule.CLIMBS_TOO_MUCH if climb_deg > true_climb_deg else Rule.FALLS_TOO_MUCH


def far_directions(evidence: Evidence, points: Floats) -> Floats:
    """Unit vectors (n, 2; camera units, y down) along the edges towards the end that lies farther away."""
    run = evidence.b - evidence.a
    towards = (points[:, :2] - evidence.middle * points[:, 2:]) * np.where(points[:, 2:] < 0, -1.0, 1.0)
    along = np.where((run * towards).sum(axis=1, keepdims=True) >= 0, run, -run)
    return np.asarray(along / np.maximum(np.hypot(along[:, :1], along[:, 1:]), 1e-12), float)


def opening_neighbour(evidence: Evidence, index: int, away: Floats, off: Flags) -> tuple[int, float] | None:
    """The nearest agreeing edge of the same family whose gap to this edge widens, or stays, as
    both go ``away`` (2,) though it should close; with the gap's far : near ratio.
    """
    edge = evidence.edges[index]
    ends = (evidence.a[index], evidence.b[index])
    near, far = ends if float((ends[1] - ends[0]) @ away) > 0 else ends[::-1]
    best: tuple[float, int, float] | None = None
    for k in np.flatnonzero(evidence.slot == evidence.slot[index]):
        if k == index or off[k] or evidence.edges[k].form != edge.form:
            continue
        gaps = [gap_at(point, evidence.a[k], evidence.b[k], away) for point in (near, far)]
        if gaps[0] is None or gaps[1] is None or gaps[0] * gaps[1] <= 0:
            continue
        ratio = gaps[1] / gaps[0]
        distance = abs(gaps[0])
        if ratio > 1.02 and (best is None or distance < best[0]):
            best = (distance, int(k), float(ratio))
    return None if best is None else (best[1], best[2])


def gap_at(point: Floats, a: Floats, b: Floats, away: Floats) -> float | None:
    """Signed distance from ``point``, square to ``away``, to the line through ``a`` and ``b``."""
    normal = np.array([-away[1], away[0]])
    d = b - a
    cross = normal[0] * d[1] - normal[1] * d[0]
    if abs(cross) < 1e-9:
        return None
    offset = a - point
    return float((offset[0] * d[1] - offset[1] * d[0]) / cross)


def joined_by(evidence: Evidence, i: int, k: int) -> tuple[str, ...]:
    """Ids of two edges of one other family that join the ends of edges ``i`` and ``k`` into a
    four-sided face, or nothing.
    """
    corner = JOINT_SHARE * 2.0
    mine, theirs = (evidence.a[i], evidence.b[i]), (evidence.a[k], evidence.b[k])

    def meets(p: Floats, q: Floats) -> bool:
        return float(np.hypot(*(p - q))) < corner

    found: dict[int, set[str]] = {}
    for m, e in enumerate(evidence.edges):
        if m in (i, k) or evidence.slot[m] == evidence.slot[i]:
            continue
        for p, q in ((evidence.a[m], evidence.b[m]), (evidence.b[m], evidence.a[m])):
            if any(meets(p, end) for end in mine) and any(meets(q, end) for end in theirs):
                found.setdefault(int(evidence.slot[m]), set()).add(e.id)
    for ids in found.values():
        if len(ids) >= 2:
            return tuple(sorted(ids))
    return ()
