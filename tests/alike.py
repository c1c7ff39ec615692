"""Two answers that are the same but for rounding."""

from __future__ import annotations

import pytest


def alike(one: object, other: object) -> None:
    """Assert that two trees of plain data agree, numbers to a millionth."""
    if isinstance(one, dict) and isinstance(other, dict):
        assert one.keys() == other.keys()
        for key in one:
            alike(one[key], other[key])
    elif isinstance(one, list) and isinstance(other, list):
        assert len(one) == len(other)
        for a, b in zip(one, other, strict=True):
            alike(a, b)
    elif isinstance(one, float):
        assert other == pytest.approx(one, rel=1e-6, abs=1e-6)
    else:
        assert one == other
