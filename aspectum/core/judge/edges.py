"""Verdicts on edges."""

from __future__ import annotations

from aspectum.core.findings import EyeLevel, Finding
from aspectum.core.judge.edge_reasons import Lines, edge_reason
from aspectum.core.judge.weigh import Weighing
from aspectum.core.reasons import Rule
from aspectum.core.sightings import Kind, SlotKey
from aspectum.core.tolerance import Tolerances, Verdict, verdict


def edge_findings(
    weighing: Weighing, eye_level: EyeLevel, tolerances: Tolerances, places: dict[SlotKey, int]
) -> list[Finding]:
    """A finding for every edge of the evidence, in its order; ``places``: of the vanishing points in the result."""
    evidence, implied = weighing.solution.evidence, weighing.implied
    partners: dict[int, set[int]] = {}
    for stray, others in weighing.pairs.items():
        for k in others:
            partners.setdefault(stray, set()).add(k)
            partners.setdefault(k, set()).add(stray)
    findings = []
    slots = evidence.slot.tolist()
    lines = Lines.of(evidence, weighing.solution.points[0][evidence.slot], implied.sighted, implied.implied)
    rows = zip(
        *(
            a.tolist()
            for a in (
                implied.sighted,
                implied.sighted_sd,
                implied.implied,
                implied.implied_sd,
                implied.turn,
                implied.combined_sd,
            )
        ),
        strict=True,
    )
    for i, (edge, (sighted, sighted_sd, tilt, sd, turn, combined)) in enumerate(zip(evidence.edges, rows, strict=True)):
        known = tilt == tilt
        fellows: tuple[str, ...] = ()
        rule: Rule | None
        found, rule = open_or_holding(verdict(turn, combined, tolerances.tilt_deg), sighted_sd, sd)
        if not known:
            rule = Rule.NOTHING_TO_CHECK
        elif i in partners:
            found, rule = Verdict.UNSURE, Rule.ONE_OF_A_PAIR
            fellows = tuple(evidence.edges[k].id for k in sorted(partners[i]))
        elif weighing.off[i]:
            found, rule = Verdict.OFF, None
        elif weighing.unexamined[i]:
            rule = Rule.UNEXAMINED
        reason = edge_reason(
            evidence, lines, i, sighted, turn if known else 0.0, eye_level, weighing.off, rule, fellows
        )
        due, due_sd = (tilt, sd) if known else (None, None)
        place = places.get(evidence.slot_keys[slots[i]])
        findings.append(
            Finding(
                edge.id, Kind.EDGE, edge.judged_tilt_deg, sighted, sighted_sd, due, due_sd, found, reason, None, place
            )
        )
    return findings


def open_or_holding(found: Verdict, sighted_sd: float, implied_sd: float) -> tuple[Verdict, Rule]:
    """A verdict on an edge that nobody has named, with its rule: one that strays beyond doubt stays
    unsure until it is weighed against the rest.
    """
    if found is Verdict.HOLDS:
        return found, Rule.AGREES
    return Verdict.UNSURE, Rule.SHORT_EDGE if sighted_sd > implied_sd else Rule.TOO_WEAK
