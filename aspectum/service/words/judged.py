"""How a judgement by eye compares with what was then sighted."""

from __future__ import annotations

from aspectum.core.findings import Finding
from aspectum.core.sightings import Family, Kind
from aspectum.core.wording import AS_SIGHTED_DEG, AS_SIGHTED_SHARE
from aspectum.service.words.common import degrees


def judged_words(finding: Finding, family: Family | None, difference: float | None) -> str:
    """``difference``: judged less sighted, the short way round for an edge; None where either is missing."""
    if difference is None or finding.judged is None or finding.sighted is None:
        return ""
    if finding.kind is Kind.LENGTH:
        share = finding.judged / finding.sighted - 1.0
        said = "as sighted" if abs(share) < AS_SIGHTED_SHARE else f"{abs(share) * 100:.0f} % {'long' if share > 0 else 'short'}"
        return f"Judged {finding.judged:.2f}: {said}."
    judged = f"Judged {finding.judged:.0f}°".replace("-", "−")
    if abs(difference) < AS_SIGHTED_DEG:
        return f"{judged}: as sighted."
    if finding.kind is Kind.RIM:
        return f"{judged}: {degrees(difference)} too {'round' if difference > 0 else 'flat'}."
    if family is Family.UPRIGHT:
        return f"Judged {degrees(difference)} too far {'left' if difference > 0 else 'right'} at the top."
    if finding.judged * finding.sighted < 0:
        return f"{judged}: the wrong way, {degrees(difference)} off."
    return f"{judged}: {degrees(difference)} too {'steep' if abs(finding.judged) > abs(finding.sighted) else 'flat'}."
