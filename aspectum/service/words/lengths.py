"""Words for lengths and alignments."""

from __future__ import annotations

import math

from aspectum.core.findings import Finding
from aspectum.core.plane.lines import tilt_difference
from aspectum.core.reasons import AlignmentReason, LengthReason, Rule
from aspectum.core.sightings import Guide
from aspectum.core.wording import remainder
from aspectum.service.words.common import Telling, degrees, signed


def length_words(finding: Finding, reason: LengthReason) -> str:
    """A length in units, and what a judgement or a vanishing point asks of it."""
    if reason.rule is Rule.UNIT:
        return "The unit: all other lengths are compared with it."
    if finding.sighted is None or reason.rule is Rule.NOTHING_TO_CHECK:
        return "Mark one length as the unit to compare with."
    said = [f"{finding.sighted:.2f} units: {remainder(reason.over_share)} {reason.fraction}."]
    if finding.implied is not None:
        asks = "The form asks for" if reason.others else "Its vanishing point asks for"
        said.append(f"{asks} {finding.implied:.2f}.")
    if reason.rule in (Rule.TOO_LONG, Rule.TOO_SHORT) and finding.implied:
        over = finding.sighted / finding.implied - 1.0
        said.append(f"Laid {abs(over) * 100:.0f} % too {'long' if over > 0 else 'short'}: sight both ends again.")
    if reason.rule is Rule.TOO_WEAK:
        loose = math.hypot(finding.sighted_sd or 0.0, finding.implied_sd or 0.0) / finding.sighted
        said.append(f"Known to ± {loose * 100:.0f} % only: too loosely to say whether that holds.")
    return " ".join(said)


def alignment_words(finding: Finding, reason: AlignmentReason, telling: Telling) -> str:
    """Whether two points stand plumb or lie level, and by how much they miss."""
    if reason.guide is Guide.TILT:
        return tilt_words(finding, reason)
    miss, plumb = finding.sighted or 0.0, reason.guide is Guide.PLUMB
    if reason.rule is Rule.AGREES:
        return "Stands plumb." if plumb else "Lies level."
    if plumb:
        said = f"The upper point lies {telling.length(miss)} {'right' if miss > 0 else 'left'} of plumb"
    else:
        said = f"The right-hand point lies {telling.length(miss)} {'higher' if miss > 0 else 'lower'}"
    if reason.rule is Rule.TOO_WEAK:
        return f"{said}, which the points' own error, {telling.length(finding.sighted_sd or 0.0)}, may explain. Take points farther apart."
    return f"{said}."


def tilt_words(finding: Finding, reason: AlignmentReason) -> str:
    """The tilt from corner to corner, and what the forms, or a judgement, make of it."""
    said = f"From corner to corner {signed(finding.sighted or 0.0)}."
    if finding.implied is not None:
        gap = float(tilt_difference(finding.implied, finding.sighted or 0.0))
        turn = "turns " + degrees(gap) + (" anticlockwise" if gap > 0 else " clockwise")
        said += " The corners of the form agree." if reason.rule is Rule.AGREES else f" By the forms it {turn}, to {signed(finding.implied)}."
    if reason.rule is Rule.TOO_WEAK:
        said += " Known too loosely to say more: take corners farther apart."
    return said
