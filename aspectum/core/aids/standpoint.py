"""Where the picture is seen from: the kind of view by where eye level lies, and the faces of each form seen from there.

The rules are common practice without a published source (handbook section 1).
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from aspectum.core.findings import EyeLevel, VanishingPoint
from aspectum.core.sightings import Edge, Family, Looking, Setup

# shares of the height from the top between which eye level makes a normal view: a level photograph has it at one half,
# a drawing puts it at about a third
NORMAL_FROM, NORMAL_TO, DRAWN_TO = 0.2, 0.62, 0.5
CLEAR_SHARE = 0.01  # of the picture's height that a form must clear eye level by to lie above or below it


class ViewKind(StrEnum):
    """The kind of view, by where eye level lies on the sheet, or by looking where it does not lie at all."""

    BIRDS_EYE = "bird's-eye"
    NORMAL = "normal"
    WORMS_EYE = "worm's-eye"
    STRAIGHT_UP = "straight up"
    STRAIGHT_DOWN = "straight down"


STRAIGHT = (ViewKind.STRAIGHT_UP, ViewKind.STRAIGHT_DOWN)


class Lies(StrEnum):
    """Where a form lies against eye level, and so which of its level faces shows."""

    BELOW = "below"
    ABOVE = "above"
    ACROSS = "across"


class Beside(StrEnum):
    """Where a form square to the picture lies against the vertical through its vanishing point."""

    LEFT_OF = "left"
    RIGHT_OF = "right"
    ASTRIDE = "astride"


@dataclass(frozen=True)
class Standing:
    """How a form stands to the eye: against eye level, and, where it faces the picture, against its vanishing point."""

    form: str
    lies: Lies
    beside: Beside | None = None


def view_kind(setup: Setup, eye_level: EyeLevel, drawn: bool = False) -> ViewKind | None:
    """The kind of view of a photograph, or of what is ``drawn`` on a sheet of paper; None while eye level
    is not fixed.
    """
    if setup.looking is not Looking.AHEAD:
        return ViewKind.STRAIGHT_UP if setup.looking is Looking.UP else ViewKind.STRAIGHT_DOWN
    middle = eye_level.middle_y_px
    if middle is None:
        return None
    return view_by_share(middle / setup.height_px, drawn)


def view_by_share(share: float, drawn: bool) -> ViewKind:
    """The kind of view where eye level lies at ``share`` of the height from the top, below it beyond 1: in a
    photograph, or ``drawn``.
    """
    lowest = DRAWN_TO if drawn else NORMAL_TO
    return ViewKind.BIRDS_EYE if share < NORMAL_FROM else ViewKind.NORMAL if share <= lowest else ViewKind.WORMS_EYE


def standings(setup: Setup, edges: list[Edge], eye_level: EyeLevel, points: list[VanishingPoint]) -> list[Standing]:
    """How every form with level edges stands, in the order in which its edges come."""
    if eye_level.middle_y_px is None:
        return []
    found = []
    for form in dict.fromkeys(e.form for e in edges if e.family is not Family.UPRIGHT):
        ends = [point for e in edges if e.form == form for point in (e.p, e.q)]
        clear = CLEAR_SHARE * setup.height_px
        under = [y - (eye_level.height_at(x, setup.width_px) or 0.0) for x, y in ends]
        lies = Lies.BELOW if min(under) > clear else Lies.ABOVE if max(under) < -clear else Lies.ACROSS
        depth = next((v for v in points if v.form == form and v.family is Family.DEPTH and v.x_px is not None), None)
        beside = None
        if depth is not None and depth.x_px is not None:
            beside = (
                Beside.RIGHT_OF
                if min(x for x, _ in ends) > depth.x_px
                else Beside.LEFT_OF
                if max(x for x, _ in ends) < depth.x_px
                else Beside.ASTRIDE
            )
        found.append(Standing(form, lies, beside))
    return found
