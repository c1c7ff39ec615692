"""What is read at the easel, as plain data.

Lengths and places are in near-upright units; heights count down from the near upright's top. Angles are degrees.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from aspectum.core.sightings import Along, Guide, Plane, Side

STICK_SD_DEG = 2.0  # of a tilt read with a stick at arm's length; the handbook, section 2
GAUGE_SD_DEG = 1.0  # of a tilt read with a gauge; the same
THUMB_SD = 0.033  # of a length's share, eye to stick 60 ± 2 cm; the handbook, section 4
LEAST_STICK_SD_DEG = 1e-3  # nobody reads a stick better than that
LEAST_SHARE_SD = 1e-6  # nor a length
RATIO_SD = (
    0.03  # of a rim's minor axis against its major, each told on the stick to a thirtieth of the major; common practice
)
PLUMB_SD = 0.03  # of a place beside a plumb or level line, in units; common practice


class Of(StrEnum):
    """What a length from life is of: a side's far upright, or where a further form's near upright stands and how long
    it is.
    """

    FAR_UPRIGHT = "far-upright"
    NEAR_UPRIGHT = "near-upright"
    TOP = "top"


@dataclass(frozen=True)
class TiltReading:
    """One tilt read from life at the near upright. ``side``: where it recedes to, None for an edge that
    the near-corner card does not answer, such as an upright; ``height``: where it starts, as a share of
    the way down from the top (0 = near-top, 1 = near-bottom); ``tilt_deg`` as drawn, positive when the
    line rises to the viewer's right.
    """

    id: str
    side: Side | None
    height: float
    tilt_deg: float
    sd_deg: float = STICK_SD_DEG
    judged_tilt_deg: float | None = None

    @property
    def fall_rad(self) -> float:
        """How steeply the edge falls as it goes away (negative when it climbs), in radians."""
        return math.radians(self.tilt_deg if self.side is Side.LEFT else -self.tilt_deg)

    @property
    def sd_rad(self) -> float:
        return math.radians(max(self.sd_deg, LEAST_STICK_SD_DEG))


@dataclass(frozen=True)
class LengthReading:
    """A length compared with the near upright from life, in near-upright units.

    Of a ``FAR_UPRIGHT``: along ``ACROSS`` the distance to it on its ``side``, along ``UPRIGHT`` its own length. Of a
    further form's ``NEAR_UPRIGHT``: the same from the unit's. Of its ``TOP``: how far that stands below the unit's own,
    negative above. ``sd``: None for the thumb's own.
    """

    id: str
    along: Along
    ratio: float
    side: Side | None = None
    sd: float | None = None
    judged_ratio: float | None = None
    of: Of = Of.FAR_UPRIGHT

    @property
    def ratio_sd(self) -> float:
        return max(self.sd or THUMB_SD * max(abs(self.ratio), THUMB_SD), LEAST_SHARE_SD)


@dataclass(frozen=True)
class RimReading:
    """A rim read from life: its minor axis against its width by a stick held upright (``ratio``), or how far the line
    of sight to its middle dips below level by the gauge (``sight_deg``, negative where it rises); exactly one of the
    two. ``down``: where its middle stands, in units down from the near upright's top, None where nobody has measured
    that; ``from_below``: its underside shows, so it lies above eye level.
    """

    id: str
    ratio: float | None = None
    sight_deg: float | None = None
    down: float | None = None
    sd: float | None = None
    plane: Plane = Plane.LEVEL
    judged_degree_deg: float | None = None
    form: str | None = None
    from_below: bool = False

    @property
    def signed_ratio(self) -> float:
        """``drawn_ratio``, negative above eye level."""
        above = self.from_below if self.sight_deg is None else self.sight_deg < 0
        return -self.drawn_ratio if above else self.drawn_ratio

    @property
    def drawn_ratio(self) -> float:
        """Minor to major axis as drawn on an upright sheet of paper: the tangent of the angle by which the sight dips
        (handbook section 3), 1 at most.
        """
        return min(self.ratio if self.ratio is not None else abs(math.tan(math.radians(self.sight_deg or 0.0))), 1.0)

    @property
    def drawn_sd(self) -> float:
        """Standard deviation of ``drawn_ratio``, to first order."""
        if self.ratio is not None:
            return self.sd or RATIO_SD
        return math.radians(self.sd or GAUGE_SD_DEG) * (1 + self.drawn_ratio**2)

    @property
    def drawn_degree_deg(self) -> float:
        """Ellipse degree as drawn."""
        return math.degrees(math.asin(self.drawn_ratio))

    @property
    def looking_degree_deg(self) -> float:
        """Degree by looking: the angle at which the line of sight meets the disc."""
        return math.degrees(math.atan(self.drawn_ratio))


@dataclass(frozen=True)
class AlignmentReading:
    """What stands above what, or level with what, as told by a plumb line or a level one held up: ``beside`` is how far
    the upper thing stands to the right of the plumb line through the lower, or the right-hand one above the level line
    through the left, in units.
    """

    id: str
    along: Guide
    beside: float
    sd: float | None = None
    judged: float | None = None

    @property
    def beside_sd(self) -> float:
        return self.sd or PLUMB_SD
