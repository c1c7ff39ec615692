"""How a judgement by eye compares with what was then sighted."""

from __future__ import annotations

from aspectum.core.findings import Finding
from aspectum.core.plane.lines import tilt_difference
from aspectum.core.sightings import Family, Kind
from aspectum.core.wording import AS_SIGHTED_DEG, AS_SIGHTED_SHARE
from aspectum.service.words.common import degrees


def missed_by(finding: Finding) -> float | None:
    """Judged less sighted, the short way round for an edge; None where either is missing."""
    if finding.judged is None or finding.sighted is None:
        return None
    return float(tilt_difference(finding.judged, finding.sighted)) if finding.kind is Kind.EDGE else finding.judged - finding.sighted


def judged_by(finding: Finding, family: Family | None) -> str:
    """By how much a judgement missed, and which way, in a few words; empty where nothing was judged or sighted."""
    difference = missed_by(finding)
    if difference is None or finding.judged is None or finding.sighted is None:
        return ""
    if finding.kind is Kind.LENGTH:
        share = finding.judged / finding.sighted - 1.0
        return "as sighted" if abs(share) < AS_SIGHTED_SHARE else f"{abs(share) * 100:.0f} % {'long' if share > 0 else 'short'}"
    if abs(difference) < AS_SIGHTED_DEG:
        return "as sighted"
    if finding.kind is Kind.RIM:
        return f"{degrees(difference)} too {'round' if difference > 0 else 'flat'}"
    if family is Family.UPRIGHT:
        return f"{degrees(difference)} too far {'left' if difference > 0 else 'right'}"
    if finding.judged * finding.sighted < 0:
        return f"the wrong way, {degrees(difference)} off"
    return f"{degrees(difference)} too {'steep' if abs(finding.judged) > abs(finding.sighted) else 'flat'}"


def judged_words(finding: Finding, family: Family | None) -> str:
    """``judged_by`` in a sentence."""
    missed = judged_by(finding, family)
    if not missed or finding.judged is None:
        return ""
    if finding.kind is Kind.LENGTH:
        return f"Judged {finding.judged:.2f}: {missed}."
    if family is Family.UPRIGHT and missed != "as sighted":
        return f"Judged {missed} at the top."
    return f"Judged {finding.judged:.0f}°: {missed}.".replace("-", "−")
