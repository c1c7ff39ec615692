"""Parallel drawing (isometric and oblique): nothing converges, so each family shares one tilt."""

from __future__ import annotations

import numpy as np

from aspectum.core.lines import lean_deg, tilt_deg, tilt_difference, tilt_sd_deg, wrap_tilt
from aspectum.core.model import (
    CheckResult,
    Edge,
    EyeLevel,
    Family,
    Finding,
    Note,
    NoteCode,
    Reason,
    Rule,
    Setup,
    Tolerances,
    VanishingPoint,
    Verdict,
)
from aspectum.core.parallel_rims import Directions, rim_findings
from aspectum.core.solve import FittedRims, slot_key


def check(setup: Setup, edges: list[Edge], tolerances: Tolerances, fitted: FittedRims = ()) -> CheckResult:
    """Check each edge's tilt against the weighted mean of its family's other edges, and each rim
    against its form's axes or the other rims of its plane.

    With three or more edges the one farthest from its fellows is called first and left out of
    their means; of two that disagree neither can be named.
    """
    notes: list[Note] = []
    findings: dict[str, Finding] = {}
    points: list[VanishingPoint] = []
    groups: dict[tuple[str | None, Family, str | None], list[Edge]] = {}
    for edge in edges:
        groups.setdefault(slot_key(edge), []).append(edge)
    directions: Directions = {}
    if not edges and not fitted:
        notes.append(Note(NoteCode.NO_EDGES))
    for (form, family, slope), members in groups.items():
        tilt = tilt_deg([e.p for e in members], [e.q for e in members])
        length = np.array([np.hypot(e.q[0] - e.p[0], e.q[1] - e.p[1]) for e in members])
        sd = tilt_sd_deg(length, setup.point_sd_px)
        weight = 1.0 / sd**2
        kept = np.ones(len(members), bool)

        def others_mean(i: int, tilt: np.ndarray = tilt, weight: np.ndarray = weight, kept: np.ndarray = kept) -> tuple[float, float] | None:
            use = kept & (np.arange(len(tilt)) != i)
            if not use.any():
                return None
            total = float(weight[use].sum())
            base = tilt[use][0]
            mean = base + float(weight[use] @ tilt_difference(tilt[use], base)) / total
            return float(wrap_tilt(mean)), total**-0.5

        def disagreement(i: int, tilt: np.ndarray = tilt, sd: np.ndarray = sd) -> float:
            implied = others_mean(i, tilt)
            if implied is None:
                return 0.0
            gap, combined = abs(float(tilt_difference(tilt[i], implied[0]))), float(np.hypot(sd[i], implied[1]))
            return gap / combined if gap > max(tolerances.tilt_deg, 2.0 * combined) else 0.0

        while int(kept.sum()) >= 3:
            scores = [disagreement(i) if kept[i] else 0.0 for i in range(len(members))]
            if max(scores) == 0.0:
                break
            kept[int(np.argmax(scores))] = False
        points.append(
            VanishingPoint(
                form,
                family,
                slope,
                None,
                None,
                float(wrap_tilt(tilt[kept][0] + weight[kept] @ tilt_difference(tilt[kept], tilt[kept][0]) / weight[kept].sum())),
                None,
            )
        )
        direction = points[-1].direction_deg
        assert direction is not None
        directions.setdefault((form, family), (direction, float(weight[kept].sum() ** -0.5)))
        if len(members) == 1:
            notes.append(Note(NoteCode.FAMILY_OF_ONE, (members[0].id,), text=family.value))
        for i, edge in enumerate(members):
            implied = others_mean(i)
            if implied is None:
                findings[edge.id] = Finding(
                    edge.id, "edge", edge.judged_tilt_deg, float(tilt[i]), float(sd[i]), None, None, Verdict.UNSURE, Reason(Rule.NOTHING_TO_CHECK)
                )
                continue
            turn = float(tilt_difference(implied[0], tilt[i]))
            combined = float(np.hypot(sd[i], implied[1]))
            reason = Reason(Rule.AGREES, turn, lean_deg=float(lean_deg(tilt[i])) if family is Family.UPRIGHT else None)
            verdict = Verdict.HOLDS
            if disagreement(i) > 0.0:
                lone_pair = len(members) == 2
                verdict = Verdict.UNSURE if lone_pair else Verdict.OFF
                fellows = tuple(e.id for k, e in enumerate(members) if k != i and kept[k])
                reason = Reason(Rule.ONE_OF_A_PAIR if lone_pair else Rule.NOT_PARALLEL, turn, length[i] * float(np.sin(np.radians(turn))), others=fellows)
            elif combined > tolerances.tilt_deg:
                verdict = Verdict.UNSURE
                reason = Reason(Rule.SHORT_EDGE if sd[i] > implied[1] else Rule.TOO_WEAK, turn)
            findings[edge.id] = Finding(edge.id, "edge", edge.judged_tilt_deg, float(tilt[i]), float(sd[i]), implied[0], implied[1], verdict, reason)
    in_order = [findings[e.id] for e in edges] + rim_findings(fitted, directions, tolerances)
    return CheckResult(setup.perspective, EyeLevel(None, None, None, "none"), None, points, in_order, notes)
