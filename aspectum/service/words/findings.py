"""The words of a finding, whatever its kind."""

from __future__ import annotations

from aspectum.core.findings import Finding
from aspectum.core.reasons import AlignmentReason, EdgeReason, FaceReason, LengthReason, PartReason, RimReason
from aspectum.core.sightings import Family
from aspectum.service.words.common import Telling
from aspectum.service.words.edges import edge_words
from aspectum.service.words.lengths import alignment_words, length_words
from aspectum.service.words.proportions import face_words, height_words, part_words
from aspectum.service.words.rims import rim_words


def finding_words(finding: Finding, family: Family | None, telling: Telling) -> str:
    """One sentence or two: what is off, which way, by how much, and why. ``family``: an edge's."""
    reason = finding.reason
    if isinstance(reason, EdgeReason):
        return edge_words(reason, family, telling).strip()
    if isinstance(reason, RimReason):
        return rim_words(finding, reason, telling)
    if isinstance(reason, LengthReason):
        return length_words(finding, reason)
    if isinstance(reason, AlignmentReason):
        return alignment_words(finding, reason, telling)
    if isinstance(reason, FaceReason):
        return face_words(reason, telling)
    if isinstance(reason, PartReason):
        return part_words(finding, reason)
    return height_words(finding, reason, telling)
