"""From which figure on a sentence says which thing. Common practice, but for the remainders of a
ratio, whose limits the handbook gives (section 4).
"""

from __future__ import annotations

from enum import StrEnum

AT_EYE_LEVEL_PX = 6.0  # from eye level: nearer than this a thing lies at it
PLUMB_DEG = 0.25  # an upright that must lean less stands plumb
LEAST_TURN_DEG = 0.05  # a smaller disagreement is not worth a figure
STEEP_FROM_DEG = 15.0  # tilt from which an edge is called steep when judgements are summed up
AS_SIGHTED_DEG = 0.5  # a judgement this near was as sighted
AS_SIGHTED_SHARE = 0.01  # a judgement this near in its share was as sighted
AS_FOUND_PX = 1.0  # an eye level set this near to the found one is set there
# of a simple part: within 2 % it is that part, within 6 % a touch beside it (handbook section 4)
EXACT_SHARE, TOUCH_SHARE = 0.02, 0.06
AT_THE_EDGE = 0.05  # sheet widths: a vanishing point this little beyond the sheet lies at its edge


class Place(StrEnum):
    """Where something lies against eye level."""

    ABOVE = "above"
    AT = "at"
    BELOW = "below"


def place(above_eye_level_px: float) -> Place:
    if abs(above_eye_level_px) < AT_EYE_LEVEL_PX:
        return Place.AT
    return Place.ABOVE if above_eye_level_px > 0 else Place.BELOW


class Remainder(StrEnum):
    """How a ratio stands to the nearest simple part."""

    EXACTLY = "exactly"
    TOUCH_OVER = "a touch over"
    TOUCH_UNDER = "a touch under"
    WELL_OVER = "well over"
    WELL_UNDER = "well under"


def remainder(over_share: float) -> Remainder:
    """``over_share``: by which share of it the ratio exceeds the simple part."""
    if abs(over_share) <= EXACT_SHARE:
        return Remainder.EXACTLY
    if abs(over_share) <= TOUCH_SHARE:
        return Remainder.TOUCH_OVER if over_share > 0 else Remainder.TOUCH_UNDER
    return Remainder.WELL_OVER if over_share > 0 else Remainder.WELL_UNDER
