"""A timed drawing: its phases with their shares of the time, and the pace against the clock.

Most practitioners give about a third of the time to the main angles and proportions, and are late when that third is
over before the block-in is; they stop the clock to look, not to draw (handbook section 8, common practice). So pauses
are counted apart.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from itertools import accumulate

LEAST_MINUTES, MOST_MINUTES = 1.0, 600.0  # a one-minute gesture to a day's sitting
WHOLE = 1e-6  # of a share: sums of thirds are one within rounding


class Phase(StrEnum):
    """What is drawn first, then, and last."""

    BLOCK_IN = "block-in"
    FORMS = "forms"
    TONE = "tone"


# a third for angles and proportions (handbook section 7); how the rest is shared is common practice
SHARES = {Phase.BLOCK_IN: 1 / 3, Phase.FORMS: 0.4, Phase.TONE: 1 - 1 / 3 - 0.4}


@dataclass(frozen=True)
class Planned:
    """A phase and when its time is over: ``share`` of the whole, ``ends_s`` seconds of drawing from the start."""

    phase: Phase
    share: float
    ends_s: float


@dataclass(frozen=True)
class Kept:
    """How a phase went: ``took_s`` of drawing, and by how many seconds its end came after (negative: before) the time
    it was given until.
    """

    phase: Phase
    took_s: float
    late_s: float


def planned(minutes: float, shares: dict[Phase, float] | None = None) -> list[Planned]:
    """The phases of ``minutes`` of drawing in order. A phase of no share is left out; shares are of their sum.

    Raises ``ValueError`` for a time or shares that cannot be.
    """
    given = SHARES if shares is None else shares
    total = sum(given.values())
    if not LEAST_MINUTES <= minutes <= MOST_MINUTES:
        raise ValueError(f"a timed drawing takes {LEAST_MINUTES:.0f} to {MOST_MINUTES:.0f} minutes")
    if not total > WHOLE or any(not 0.0 <= share <= 1.0 for share in given.values()):
        raise ValueError("each phase has a share of the time, and one at least has some")
    rows = [(phase, given[phase] / total) for phase in Phase if given.get(phase, 0.0) > 0.0]
    ends = accumulate(share for _, share in rows)
    return [Planned(phase, share, 60.0 * minutes * end) for (phase, share), end in zip(rows, ends, strict=True)]


def pace(plan: list[Planned], ended_s: list[float]) -> list[Kept]:
    """How each phase that was ended went. ``ended_s``: seconds of drawing, pauses left out, at which each was left for
    the next, in order.

    Raises ``ValueError`` for more ends than phases, and for ends that go back.
    """
    if len(ended_s) > len(plan) or any(b < a for a, b in zip([0.0, *ended_s], ended_s, strict=False)):
        raise ValueError("phases end one after another")
    starts = [0.0, *ended_s]
    return [Kept(p.phase, end - start, end - p.ends_s) for p, start, end in zip(plan, starts, ended_s, strict=False)]
