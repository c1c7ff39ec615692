"""Heights on level ground against what was judged, against what is known, and against one another (handbook
section 5).
"""

from __future__ import annotations

from aspectum.core.findings import Finding, Note, NoteCode
from aspectum.core.form.bundle import SolvedForms, deviation
from aspectum.core.form.heights import Measure, Tall
from aspectum.core.judge.lengths import weighed
from aspectum.core.reasons import HeightReason, Rule
from aspectum.core.sightings import Height, Kind
from aspectum.core.tolerance import Tolerances, Verdict, beyond


def height_findings(
    heights: list[Height], tall: dict[str, Tall], by: Measure | None, tolerances: Tolerances, viewed: bool
) -> list[Finding]:
    """Each height in metres. One that is known and is not the measure is weighed against what is known of it; any other
    against what was judged. ``viewed``: whether the sheet has a view at all.
    """
    return [height_finding(h, tall.get(h.id), by, tolerances, viewed) for h in heights]


def height_finding(
    height: Height, tall: Tall | None, by: Measure | None, tolerances: Tolerances, viewed: bool
) -> Finding:
    known, judged = height.known_m, height.judged_m
    others = () if by is None or by.by_height is None else (by.by_height,)
    if tall is None or tall.metres is None or tall.metres_sd is None or not tall.metres > 0:
        rule = (
            Rule.NOTHING_TO_CHECK
            if not viewed
            else Rule.NOT_ON_THE_GROUND
            if tall is None or not tall.eyes > 0
            else Rule.NO_MEASURE
        )
        reason = HeightReason(rule, None if tall is None else tall.eyes, None if tall is None else tall.sd)
        return Finding(height.id, Kind.HEIGHT, judged, None, None, None, None, Verdict.UNSURE, reason)
    metres, sd = tall.metres, tall.metres_sd

    def said(found: Verdict, rule: Rule, implied: float | None = None) -> Finding:
        sure = None if implied is None else 0.0
        return Finding(
            height.id,
            Kind.HEIGHT,
            judged,
            metres,
            sd,
            implied,
            sure,
            found,
            HeightReason(rule, tall.eyes, tall.sd, others),
        )

    if others == (height.id,):
        return said(Verdict.HOLDS, Rule.MEASURE)
    if known is not None:
        return said(*weighed(metres / known - 1.0, sd / known, tolerances.length, Rule.TOO_TALL, Rule.TOO_SMALL), known)
    if judged is not None:
        return said(*weighed(judged / metres - 1.0, sd / metres, tolerances.length))
    return said(Verdict.UNSURE, Rule.RATIO)


def equal_notes(found: SolvedForms | None, tall: dict[str, Tall], tolerances: Tolerances) -> list[Note]:
    """Which heights are truly equal, wherever they stand: neighbours in order of height whose difference is within the
    tolerance and its error.
    """
    if found is None:
        return []
    rows = sorted((t for t in tall.values() if t.eyes > 0), key=lambda t: t.eyes)
    groups: list[list[Tall]] = []
    for t in rows:
        first = groups[-1][0] if groups else None
        if first is not None:
            share = t.eyes / first.eyes - 1.0
            sd = deviation(t.by / first.eyes - first.by * t.eyes / first.eyes**2, found.covariance)
            if not beyond(share, sd, tolerances.length) and sd <= tolerances.length:
                groups[-1].append(t)
                continue
        groups.append([t])
    return [equal_note(group) for group in groups if len(group) > 1]


def equal_note(group: list[Tall]) -> Note:
    metres = [t.metres for t in group if t.metres is not None]
    return Note(NoteCode.EQUALLY_TALL, tuple(t.id for t in group), value=sum(metres) / len(metres) if metres else None)
