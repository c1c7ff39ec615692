"""How much work one check may do, counted so that the same sheet always gets the same answer.

Sightings that contradict each other could be sifted for seconds. The work is counted in looks, one
look being one evaluation of all sightings under one camera, not by a clock: a slow machine takes
longer and says the same. Where the allowance ends, what was not looked into is named.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

# looks: half of all clean sheets of two boxes take 28, of 100 edges 65; with a stray or two 70 to 100
ALLOWANCE, FOR_EACH = 230, 0.8
START_LOOKS = 20  # that the search for a first view counts for
RIMS_COUNT = 2  # looks that one with rims counts for; theirs are larger

# shares of the allowance by which each step ends, so that the next ones have something left
PLANS_BY, VIEW_BY, STRAYS_BY = 0.25, 0.5, 0.85


@dataclass
class Effort:
    """What a check has spent of its ``allowance``, and the ids of sightings it left ``unexamined``."""

    allowance: int
    used: int = 0
    unexamined: set[str] = field(default_factory=set)

    @classmethod
    def for_sheet(cls, sightings: int) -> Effort:
        """A large sheet may hold more strays than a small one."""
        return cls(ALLOWANCE + int(FOR_EACH * sightings))

    def spent(self, by: float = 1.0) -> bool:
        """Whether a share ``by`` of the allowance is used up."""
        return self.used >= by * self.allowance

    def leave(self, ids: Iterable[str]) -> None:
        self.unexamined.update(ids)
