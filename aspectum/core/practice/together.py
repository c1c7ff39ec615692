"""Several people's errors in one skill, each counted once."""

from __future__ import annotations

from dataclasses import dataclass

from aspectum.core.plane.lines import Floats


@dataclass(frozen=True)
class Together:
    """``count`` people; the ``mean`` of their errors, and how far they lie ``apart``: the standard deviation between
    them, None for one alone.
    """

    count: int
    mean: float
    apart: float | None


def together(errors: Floats) -> Together:
    """One signed error for each person (k,), in a skill's unit, at least one: an answer's, or a person's bias, so that
    nobody counts for more who practised more. Neglected: how well each is known by itself.

    Raises ``ValueError`` for none.
    """
    if len(errors) == 0:
        raise ValueError("nobody has answered")
    return Together(len(errors), float(errors.mean()), float(errors.std(ddof=1)) if len(errors) > 1 else None)
