"""What stands above what, and what lies level with what, as told at the easel without points."""

from __future__ import annotations

from aspectum.core.findings import Finding
from aspectum.core.life.readings import AlignmentReading
from aspectum.core.reasons import AlignmentReason, Rule
from aspectum.core.sightings import Kind
from aspectum.core.tolerance import Tolerances, Verdict, verdict


def alignment_reading_findings(readings: list[AlignmentReading], tolerances: Tolerances) -> list[Finding]:
    """A finding for every alignment, in units: it holds where the two stand in line within the tolerance of a length.
    What stands clearly beside the line is a reading as good as any, which nothing here checks.
    """
    findings = []
    for r in readings:
        found = verdict(r.beside, r.beside_sd, tolerances.length)
        in_line = found is Verdict.HOLDS
        reason = AlignmentReason(Rule.AGREES if in_line else Rule.NOTHING_TO_CHECK, r.along)
        shown = Verdict.HOLDS if in_line else Verdict.UNSURE
        findings.append(Finding(r.id, Kind.ALIGNMENT, r.judged, r.beside, r.beside_sd, None, None, shown, reason))
    return findings
