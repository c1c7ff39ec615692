"""How much work one check may do, counted so that the same sheet always gets the same answer.

Sightings that contradict each other could be sifted for seconds. The work is counted in looks, one
look being one evaluation of all sightings under one camera, not by a clock: a slow machine takes
longer and says the same. Where the allowance ends, what was not looked into is named.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

# looks: half of all clean sheets of 40 edges take 110; with strays and rival views several times as many
ALLOWANCE, FOR_EACH = 900, 6
LARGE = 300  # sightings, beyond which each look costs more and no more of them are allowed
FOR_RIMS = 600  # half of all sheets of three to six rims alone take 71, one in a hundred 430
START_LOOKS = 20  # that the search for a first view counts for
RIM_LOOKS = 2  # that one evaluation of all rims counts for
# shares of the allowance by which each step ends, so that the next ones have something left
PLANS_BY, VIEW_BY, STRAYS_BY, WALKED_BY = 0.25, 0.5, 0.85, 1.1
STOP_AT = 1.3  # what is not optional goes on beyond the allowance, and even that ends here


@dataclass
class Effort:
    """What a check has spent of its ``allowance``, and the ids of sightings whose plan family it left
    ``unexamined``.
    """

    allowance: int
    used: int = 0
    unexamined: set[str] = field(default_factory=set)

    @classmethod
    def for_sheet(cls, edges: int, rims: int = 0) -> Effort:
        """A large sheet may hold more strays than a small one; rims take more steps to come to rest."""
        return cls(ALLOWANCE + int(FOR_EACH * min(edges + rims, LARGE)) + (FOR_RIMS if rims else 0))

    def half(self) -> Effort:
        """For a second look at the same sheet."""
        return Effort(self.allowance // 2)

    def spent(self, by: float = 1.0) -> bool:
        """Whether a share ``by`` of the allowance is used up."""
        return self.used >= by * self.allowance

    def leave(self, ids: Iterable[str]) -> None:
        self.unexamined.update(ids)
