"""How much of a sample is looked at: a small seeded one with every change, the large one in ``make bench``."""

from __future__ import annotations

import math
import os

FULL = os.environ.get("SAMPLES") == "full"
CHANCE = 2.33  # normal deviations: one honest small sample in a hundred falls lower


def sample(full: int, small: int) -> int:
    return full if FULL else small


def least(share: float, of: int) -> float:
    """The share of ``of`` that a sample must reach where it is ``share`` of all: in the large sample that itself, in a
    small one as much less as its chance allows (normal approximation of the binomial).
    """
    return share if FULL or of == 0 else share - CHANCE * math.sqrt(share * (1.0 - share) / of)


def most(share: float, of: int) -> float:
    """As ``least``, of a share that must not be exceeded."""
    return share if FULL or of == 0 else share + CHANCE * math.sqrt(share * (1.0 - share) / of)


SHARE = float(os.environ.get("BENCH_SHARE", "1"))


def few(count: int, at_least: int = 2) -> int:
    """So many of ``count`` as this run of the benchmarks looks at: all, or with ``BENCH_SHARE`` a share, by which a
    change is seen not to break them.
    """
    return count if SHARE >= 1.0 else max(at_least, round(SHARE * count))
