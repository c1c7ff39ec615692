"""Words for lengths and alignments."""

from __future__ import annotations

import math

from aspectum.core.findings import Finding
from aspectum.core.plane.lines import tilt_difference
from aspectum.core.reasons import AlignmentReason, LengthReason, Rule
from aspectum.core.sightings import Guide
from aspectum.core.wording import remainder
from aspectum.language import figure, say
from aspectum.service.words.common import Telling, degrees, signed


def length_words(finding: Finding, reason: LengthReason) -> str:
    """A length in units, and what a judgement or a vanishing point asks of it."""
    if reason.rule is Rule.UNIT:
        return say("The unit: all other lengths are compared with it.")
    if finding.sighted is None or reason.rule is Rule.NOTHING_TO_CHECK:
        return say("Mark one length as the unit to compare with.")
    said = [
        say(
            "{sighted} units: {over_share} {fraction}.",
            sighted=figure(finding.sighted, 2),
            over_share=remainder(reason.over_share),
            fraction=reason.fraction,
        )
    ]
    if finding.implied is not None:
        asks = say("The form asks for") if reason.others else say("Its vanishing point asks for")
        said.append(f"{asks} {figure(finding.implied, 2)}.")
    if reason.rule in (Rule.TOO_LONG, Rule.TOO_SHORT) and finding.implied:
        over = finding.sighted / finding.implied - 1.0
        said.append(
            say(
                "Laid {over} % too long: sight both ends again."
                if over > 0
                else "Laid {over} % too short: sight both ends again.",
                over=figure(abs(over) * 100, 0),
            )
        )
    if reason.rule is Rule.TOO_WEAK:
        loose = math.hypot(finding.sighted_sd or 0.0, finding.implied_sd or 0.0) / finding.sighted
        said.append(
            say("Known to ± {loose} % only: too loosely to say whether that holds.", loose=figure(loose * 100, 0))
        )
    return " ".join(said)


def alignment_words(finding: Finding, reason: AlignmentReason, telling: Telling) -> str:
    """Whether two points stand plumb or lie level, and by how much they miss."""
    if reason.guide is Guide.TILT:
        return tilt_words(finding, reason)
    miss, plumb = finding.sighted or 0.0, reason.guide is Guide.PLUMB
    if reason.rule is Rule.AGREES:
        return say("Stands plumb.") if plumb else say("Lies level.")
    if plumb:
        said = say(
            "The upper point lies {miss} right of plumb" if miss > 0 else "The upper point lies {miss} left of plumb",
            miss=telling.length(miss),
        )
    else:
        said = say(
            "The right-hand point lies {miss} higher" if miss > 0 else "The right-hand point lies {miss} lower",
            miss=telling.length(miss),
        )
    if reason.rule is Rule.TOO_WEAK:
        return say(
            "{said}, which the points' own error, {sighted_sd}, may explain. Take points farther apart.",
            said=said,
            sighted_sd=telling.length(finding.sighted_sd or 0.0),
        )
    return f"{said}."


def tilt_words(finding: Finding, reason: AlignmentReason) -> str:
    """The tilt from corner to corner, and what the forms, or a judgement, make of it."""
    said = say("From corner to corner {sighted}.", sighted=signed(finding.sighted or 0.0))
    if finding.implied is not None:
        gap = float(tilt_difference(finding.implied, finding.sighted or 0.0))
        turn = say("turns ") + degrees(gap) + (say(" anticlockwise") if gap > 0 else say(" clockwise"))
        said += (
            say(" The corners of the form agree.")
            if reason.rule is Rule.AGREES
            else say(" By the forms it {turn}, to {implied}.", turn=turn, implied=signed(finding.implied))
        )
    if reason.rule is Rule.TOO_WEAK:
        said += say(" Known too loosely to say more: take corners farther apart.")
    return said
