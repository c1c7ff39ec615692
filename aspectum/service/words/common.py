"""Figures, places and lists as sentences write them."""

from __future__ import annotations

from collections.abc import Callable

from aspectum.core.wording import Place, place

Names = Callable[[str], str]
UNEXAMINED = "Disagrees, but so much on this sheet contradicts itself that it was not weighed to the end. Mend what is marked off first, or check the families."
MOST_NAMED = 6  # sightings named one by one in a note


def degrees(value: float) -> str:
    return f"{abs(value):.1f}°"


def signed(value: float) -> str:
    return f"{value:+.1f}°".replace("-", "−")


def pixels(value: float) -> str:
    return f"{abs(value):.0f} px"


def where(above_px: float | None) -> str:
    """Where something lies against eye level, or nothing where that is not known."""
    if above_px is None:
        return ""
    found = place(above_px)
    return "at eye level" if found is Place.AT else f"{pixels(above_px)} {found} eye level"


def listed(items: list[str]) -> str:
    return items[0] if len(items) == 1 else f"{', '.join(items[:-1])} and {items[-1]}" if items else ""


def several(items: list[str]) -> str:
    """As ``listed``, the rest of a long list only counted."""
    return listed(items) if len(items) <= MOST_NAMED + 1 else listed([*items[:MOST_NAMED], f"{len(items) - MOST_NAMED} more"])


def side(lean: float) -> str:
    return "to the right" if lean > 0 else "to the left"
