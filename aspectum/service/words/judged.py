"""How a judgement by eye compares with what was then sighted."""

from __future__ import annotations

import math

from aspectum.core.findings import Finding
from aspectum.core.plane.lines import tilt_difference
from aspectum.core.practice.recorded import steepness, turned_over
from aspectum.core.reasons import AlignmentReason
from aspectum.core.sightings import Family, Guide, Kind
from aspectum.core.wording import AS_SIGHTED_DEG, AS_SIGHTED_SHARE
from aspectum.language import figure, say
from aspectum.service.words.common import degrees

TILTED = (Kind.EDGE, Kind.ALIGNMENT)  # what is judged by a tilt


def missed_by(finding: Finding) -> float | None:
    """Judged less sighted, the short way round for a tilt; of a division judged less its true part. None where either
    is missing.
    """
    if finding.judged is None or finding.sighted is None:
        return None
    if finding.kind is Kind.DIVISION:
        return None if finding.implied is None else finding.judged - finding.implied
    return (
        float(tilt_difference(finding.judged, finding.sighted))
        if finding.kind in TILTED and beside(finding) is None
        else finding.judged - finding.sighted
    )


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
        return (
            say("as it stands")
            if abs(difference) < AS_SIGHTED_SHARE
            else say(
                "{difference} too far" if difference > 0 else "{difference} too near",
                difference=figure(abs(difference), 2),
            )
        )
    if finding.kind in (Kind.LENGTH, Kind.HEIGHT):
        share = finding.judged / finding.sighted - 1.0
        more, less = (say("long"), say("short")) if finding.kind is Kind.LENGTH else (say("too tall"), say("too small"))
        return (
            say("as sighted")
            if abs(share) < AS_SIGHTED_SHARE
            else f"{abs(share) * 100:.0f} % {more if share > 0 else less}"
        )
    guide = beside(finding)
    if guide is not None:
        way = (
            (say("right") if difference > 0 else say("left"))
            if guide is Guide.PLUMB
            else (say("high") if difference > 0 else say("low"))
        )
        return (
            say("as told")
            if abs(difference) < AS_SIGHTED_SHARE
            else say("{difference} units too far {way}", difference=figure(abs(difference), 2), way=way)
        )
    if abs(difference) < AS_SIGHTED_DEG:
        return say("as sighted")
    if finding.kind is Kind.RIM:
        return say(
            "{difference} too round" if difference > 0 else "{difference} too flat", difference=degrees(difference)
        )
    if family is Family.UPRIGHT:
        return say(
            "{difference} too far left" if difference > 0 else "{difference} too far right",
            difference=degrees(difference),
        )
    if turned_over(*steepness(finding.judged, finding.sighted)):
        return say("the wrong way, {difference} off", difference=degrees(difference))
    steep = difference * math.copysign(1.0, finding.sighted) > 0
    return say("{difference} too steep" if steep else "{difference} too flat", difference=degrees(difference))


def judged_level_words(error: float | None) -> str:
    """How eye level was judged: by how many near uprights too high; None where nothing tells yet."""
    if error is None:
        return say("Judged. What you sight will tell.")
    if abs(error) < AS_SIGHTED_SHARE:
        return say("Judged as it is.")
    return say(
        "Judged {error} near uprights too high." if error > 0 else "Judged {error} near uprights too low.",
        error=figure(abs(error), 2),
    )


def judged_words(finding: Finding, family: Family | None) -> str:
    """``judged_by`` in a sentence."""
    missed = judged_by(finding, family)
    if not missed or finding.judged is None:
        return ""
    if finding.kind in (Kind.LENGTH, Kind.DIVISION) or beside(finding) is not None:
        return say("Judged {judged}: {missed}.", judged=figure(finding.judged, 2), missed=missed)
    if finding.kind is Kind.HEIGHT:
        return say("Judged {judged} m: {missed}.", judged=figure(finding.judged, 2), missed=missed)
    if family is Family.UPRIGHT and abs(missed_by(finding) or 0.0) >= AS_SIGHTED_DEG:
        return say("Judged {missed} at the top.", missed=missed)
    return say("Judged {judged}°: {missed}.", judged=figure(finding.judged, 0), missed=missed).replace("-", "−")
