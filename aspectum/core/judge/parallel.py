"""Parallel drawing (isometric and oblique): nothing converges, so each family shares one tilt."""

from __future__ import annotations

import math

import numpy as np

from aspectum.core.findings import EdgeReason, Finding, Note, NoteCode, Rule, VanishingPoint
from aspectum.core.judge.edges import open_or_holding
from aspectum.core.judge.parallel_rims import Directions, rim_findings
from aspectum.core.plane.lines import Flags, lean_deg, tilt_deg, tilt_difference, tilt_sd_deg, wrap_tilt
from aspectum.core.sightings import Edge, Family, Kind, Setup, SlotKey
from aspectum.core.tolerance import Tolerances, Verdict, beyond, verdict
from aspectum.core.view.evidence import FittedRims


def parallel_findings(
    setup: Setup, edges: list[Edge], tolerances: Tolerances, fitted: FittedRims = ()
) -> tuple[list[Finding], list[VanishingPoint], list[Note]]:
    """Check each edge's tilt against the weighted mean of its family's other edges, and each rim
    against its form's axes or the other rims of its plane. Edges come first, in the order given;
    every family's point lies at infinity.
    """
    notes = [] if edges or fitted else [Note(NoteCode.NO_EDGES)]
    members: dict[SlotKey, list[Edge]] = {}
    for edge in edges:
        members.setdefault(edge.slot, []).append(edge)
    findings: dict[str, Finding] = {}
    directions: Directions = {}
    points = []
    for (form, name, slope), mine in members.items():
        family = ParallelFamily(mine, setup.point_sd_px, tolerances)
        direction, sd = family.mean(family.kept)
        points.append(VanishingPoint(form, name, slope, None, None, direction, None))
        directions.setdefault((form, name), (direction, sd))
        if len(mine) == 1:
            notes.append(Note(NoteCode.FAMILY_OF_ONE, (mine[0].id,), text=name))
        findings |= {edge.id: family.finding(i) for i, edge in enumerate(mine)}
    return [findings[e.id] for e in edges] + rim_findings(fitted, directions, tolerances), points, notes


class ParallelFamily:
    """The edges of one family, each weighed against its fellows. With three or more the one farthest
    from them is called first and left out of their means; of two that disagree neither can be named.
    """

    def __init__(self, edges: list[Edge], point_sd_px: float, tolerances: Tolerances) -> None:
        self.edges, self.tolerances = edges, tolerances
        self.tilt = tilt_deg([e.p for e in edges], [e.q for e in edges])
        self.length_px = np.array([math.hypot(e.q[0] - e.p[0], e.q[1] - e.p[1]) for e in edges])
        self.sd = tilt_sd_deg(self.length_px, point_sd_px)
        self.kept = np.ones(len(edges), bool)
        while int(self.kept.sum()) >= 3:
            strays = [self.deviations(i) if self.kept[i] else 0.0 for i in range(len(edges))]
            if max(strays) == 0.0:
                break
            self.kept[int(np.argmax(strays))] = False

    def mean(self, use: Flags) -> tuple[float, float]:
        """Weighted mean tilt of the edges in ``use`` (n,) and its standard deviation (degrees)."""
        weight = self.sd[use] ** -2
        base = self.tilt[use][0]
        tilt = base + float(weight @ tilt_difference(self.tilt[use], base)) / float(weight.sum())
        return float(wrap_tilt(tilt)), float(weight.sum()) ** -0.5

    def fellows(self, i: int) -> Flags:
        """Flags (n,) of the edges that edge ``i`` is weighed against."""
        return np.asarray(self.kept & (np.arange(len(self.edges)) != i), bool)

    def turn(self, i: int) -> tuple[float, float]:
        """How far edge ``i`` must turn to run with its fellows, and the standard deviation of that."""
        implied, implied_sd = self.mean(self.fellows(i))
        return float(tilt_difference(implied, self.tilt[i])), math.hypot(float(self.sd[i]), implied_sd)

    def deviations(self, i: int) -> float:
        """By how many standard deviations edge ``i`` is off; zero where it is not."""
        if not self.fellows(i).any():
            return 0.0
        turn, sd = self.turn(i)
        return abs(turn) / sd if beyond(turn, sd, self.tolerances.tilt_deg) else 0.0

    def finding(self, i: int) -> Finding:
        edge, tilt, sd = self.edges[i], float(self.tilt[i]), float(self.sd[i])
        if not self.fellows(i).any():
            reason = EdgeReason(Rule.NOTHING_TO_CHECK)
            return Finding(edge.id, Kind.EDGE, edge.judged_tilt_deg, tilt, sd, None, None, Verdict.UNSURE, reason)
        implied, implied_sd = self.mean(self.fellows(i))
        turn, combined = self.turn(i)
        found = verdict(turn, combined, self.tolerances.tilt_deg)
        fellows: tuple[str, ...] = ()
        far_end = None
        if found is Verdict.OFF:
            # of three or more the stray was called and left out: what still disagrees is one of two
            found, rule = (Verdict.UNSURE, Rule.ONE_OF_A_PAIR) if self.kept[i] else (Verdict.OFF, Rule.NOT_PARALLEL)
            fellows = tuple(e.id for e, on in zip(self.edges, self.fellows(i), strict=True) if on)
            far_end = float(self.length_px[i]) * math.sin(math.radians(turn))
        else:
            found, rule = open_or_holding(found, sd, implied_sd)
        lean = float(lean_deg(tilt)) if edge.family is Family.UPRIGHT else None
        reason = EdgeReason(rule, turn, far_end, lean_deg=lean, others=fellows)
        return Finding(edge.id, Kind.EDGE, edge.judged_tilt_deg, tilt, sd, implied, implied_sd, found, reason)
