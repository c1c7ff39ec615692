"""Words for lengths and alignments."""

from __future__ import annotations

import math

from aspectum.core.findings import AlignmentReason, Finding, LengthReason, Rule
from aspectum.core.sightings import Guide
from aspectum.core.wording import remainder
from aspectum.service.words.common import pixels


def length_words(finding: Finding, reason: LengthReason) -> str:
    """A length in units, and what a judgement or a vanishing point asks of it."""
    if reason.rule is Rule.UNIT:
        return "The unit: all other lengths are compared with it."
    if finding.sighted is None or reason.rule is Rule.NOTHING_TO_CHECK:
        return "Mark one length as the unit to compare with."
    said = [f"{finding.sighted:.2f} units: {remainder(reason.over_share)} {reason.fraction}."]
    if finding.implied is not None:
        said.append(f"Its vanishing point asks for {finding.implied:.2f}.")
    if reason.rule is Rule.TOO_WEAK:
        loose = math.hypot(finding.sighted_sd or 0.0, finding.implied_sd or 0.0) / finding.sighted
        said.append(f"Known to ± {loose * 100:.0f} % only: too loosely to say whether that holds.")
    return " ".join(said)


def alignment_words(finding: Finding, reason: AlignmentReason) -> str:
    """Whether two points stand plumb or lie level, and by how much they miss."""
    miss, plumb = finding.sighted or 0.0, reason.guide is Guide.PLUMB
    if reason.rule is Rule.AGREES:
        return "Stands plumb." if plumb else "Lies level."
    if plumb:
        said = f"The upper point lies {pixels(miss)} {'right' if miss > 0 else 'left'} of plumb"
    else:
        said = f"The right-hand point lies {pixels(miss)} {'higher' if miss > 0 else 'lower'}"
    if reason.rule is Rule.TOO_WEAK:
        return f"{said}, which the points' own error (± {pixels(finding.sighted_sd or 0.0)}) may explain. Take points farther apart."
    return f"{said}."
