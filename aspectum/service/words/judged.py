"""How a judgement by eye compares with what was then sighted."""

from __future__ import annotations

import math

from aspectum.core.findings import Finding
from aspectum.core.plane.lines import tilt_difference
from aspectum.core.practice.recorded import steepness, turned_over
from aspectum.core.reasons import AlignmentReason
from aspectum.core.sightings import Family, Guide, Kind
from aspectum.core.wording import AS_SIGHTED_DEG, AS_SIGHTED_SHARE
from aspectum.service.words.common import degrees

TILTED = (Kind.EDGE, Kind.ALIGNMENT)  # what is judged by a tilt


def missed_by(finding: Finding) -> float | None:
    """Judged less sighted, the short way round for a tilt; of a division judged less its true part. None where either is missing."""
    if finding.judged is None or finding.sighted is None:
        return None
    if finding.kind is Kind.DIVISION:
        return None if finding.implied is None else finding.judged - finding.implied
    return float(tilt_difference(finding.judged, finding.sighted)) if finding.kind in TILTED and beside(finding) is None else finding.judged - finding.sighted


def beside(finding: Finding) -> Guide | None:
    """The line beside which something was told to stand, in units; None for what is judged by its tilt."""
    reason = finding.reason
    return reason.guide if isinstance(reason, AlignmentReason) and reason.guide is not Guide.TILT else None


def judged_by(finding: Finding, family: Family | None) -> str:
    """By how much a judgement missed, and which way, in a few words; empty where nothing was judged or sighted."""
    difference = missed_by(finding)
    if difference is None or finding.judged is None or finding.sighted is None:
        return ""
    if finding.kind is Kind.DIVISION:
        return "as it stands" if abs(difference) < AS_SIGHTED_SHARE else f"{abs(difference):.2f} too {'far' if difference > 0 else 'near'}"
    if finding.kind in (Kind.LENGTH, Kind.HEIGHT):
        share = finding.judged / finding.sighted - 1.0
        more, less = ("long", "short") if finding.kind is Kind.LENGTH else ("too tall", "too small")
        return "as sighted" if abs(share) < AS_SIGHTED_SHARE else f"{abs(share) * 100:.0f} % {more if share > 0 else less}"
    guide = beside(finding)
    if guide is not None:
        way = ("right" if difference > 0 else "left") if guide is Guide.PLUMB else ("high" if difference > 0 else "low")
        return "as told" if abs(difference) < AS_SIGHTED_SHARE else f"{abs(difference):.2f} units too far {way}"
    if abs(difference) < AS_SIGHTED_DEG:
        return "as sighted"
    if finding.kind is Kind.RIM:
        return f"{degrees(difference)} too {'round' if difference > 0 else 'flat'}"
    if family is Family.UPRIGHT:
        return f"{degrees(difference)} too far {'left' if difference > 0 else 'right'}"
    if turned_over(*steepness(finding.judged, finding.sighted)):
        return f"the wrong way, {degrees(difference)} off"
    steep = difference * math.copysign(1.0, finding.sighted) > 0
    return f"{degrees(difference)} too {'steep' if steep else 'flat'}"


def judged_level_words(error: float | None) -> str:
    """How eye level was judged: by how many near uprights too high; None where nothing tells yet."""
    if error is None:
        return "Judged. What you sight will tell."
    if abs(error) < AS_SIGHTED_SHARE:
        return "Judged as it is."
    return f"Judged {abs(error):.2f} near uprights too {'high' if error > 0 else 'low'}."


def judged_words(finding: Finding, family: Family | None) -> str:
    """``judged_by`` in a sentence."""
    missed = judged_by(finding, family)
    if not missed or finding.judged is None:
        return ""
    if finding.kind in (Kind.LENGTH, Kind.DIVISION) or beside(finding) is not None:
        return f"Judged {finding.judged:.2f}: {missed}."
    if finding.kind is Kind.HEIGHT:
        return f"Judged {finding.judged:.2f} m: {missed}."
    if family is Family.UPRIGHT and missed != "as sighted":
        return f"Judged {missed} at the top."
    return f"Judged {finding.judged:.0f}°: {missed}.".replace("-", "−")
