"""A finding's reason by the kind of its sighting."""

from __future__ import annotations

from aspectum.core.findings import Finding
from aspectum.core.reasons import EdgeReason, LengthReason, RimReason


def edge_reason(finding: Finding) -> EdgeReason:
    assert isinstance(finding.reason, EdgeReason)
    return finding.reason


def rim_reason(finding: Finding) -> RimReason:
    assert isinstance(finding.reason, RimReason)
    return finding.reason


def length_reason(finding: Finding) -> LengthReason:
    assert isinstance(finding.reason, LengthReason)
    return finding.reason
