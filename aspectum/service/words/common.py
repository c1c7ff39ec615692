"""Figures, places and lists as sentences write them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from aspectum.core.sightings import ViewSort
from aspectum.core.wording import Place, place
from aspectum.language import Text, figure, say

Names = Callable[[str], str]
UNEXAMINED = Text(
    "Disagrees, but so much on this sheet contradicts itself that it was not weighed to the end. Mend what is marked "
    "off first, or check the families."
)
MOST_NAMED = 6  # sightings named one by one in a note


def degrees(value: float) -> str:
    return f"{figure(abs(value), 1)}°"


def signed(value: float) -> str:
    return f"{figure(value, 1, signed=True)}°".replace("-", "−")


@dataclass(frozen=True)
class Telling:
    """How the sentences of a sheet tell: what they call its sightings, the ``sort`` of its view, and what they count
    lengths in: in near uprights (``unit_px``), or, where none is laid or it runs away from the eye, in parts of the
    picture's height (``high_px``).
    """

    names: Names
    high_px: float = 1.0
    unit_px: float | None = None
    sort: ViewSort | None = None

    def length(self, px: float) -> str:
        """A length or a distance on the picture, as a hand can compare it."""
        if self.unit_px and self.sort is not ViewSort.STRAIGHT:
            return _least(abs(px) / self.unit_px, 2, say(" near uprights"))
        return _least(100.0 * abs(px) / self.high_px, 1, say(" % of the picture's height"))

    def where(self, above_px: float | None) -> str:
        """Where something lies against eye level, or nothing where that is not known."""
        if above_px is None:
            return ""
        found = place(above_px)
        return (
            say("at eye level")
            if found is Place.AT
            else say("{above_px} {found} eye level", above_px=self.length(above_px), found=found)
        )

    def of_it(self, share: float | None, px: float) -> str:
        """A miss as a ``share`` of the width of what misses, where it has one."""
        return self.length(px) if share is None else _least(100.0 * abs(share), 0, say(" % of its width"))


def _least(value: float, places: int, unit: str) -> str:
    """A figure to so many places; one that would be nought is less than the least."""
    least = 10.0**-places
    return (
        f"{figure(value, places)}{unit}"
        if value >= least / 2
        else say("less than {least}{unit}", least=figure(least, places), unit=unit)
    )


def listed(items: list[str]) -> str:
    return (
        items[0]
        if len(items) == 1
        else say("{items} and {items2}", items=", ".join(items[:-1]), items2=items[-1])
        if items
        else ""
    )


def several(items: list[str]) -> str:
    """As ``listed``, the rest of a long list only counted."""
    return (
        listed(items)
        if len(items) <= MOST_NAMED + 1
        else listed([*items[:MOST_NAMED], say("{items} more", items=len(items) - MOST_NAMED)])
    )


def side(lean: float) -> str:
    return say("to the right") if lean > 0 else say("to the left")
