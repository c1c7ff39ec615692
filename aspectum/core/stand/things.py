"""What can be set up on the stand. Metres and degrees; each thing has a frame of its own: x and y on the ground, turned
anticlockwise, z up.
"""

from __future__ import annotations

from dataclasses import dataclass

from aspectum.core.stand.kinds import RoofKind, Wall
from aspectum.core.stand.paths import Path

CONE = Path(((0.0, 0.0), (0.1, 0.0), (0.0, 0.2)))  # as it first stands in the room: 20 cm wide and high
GABLE = Path(((-0.1, 0.0), (0.1, 0.0), (0.0, 0.2)))  # likewise


@dataclass(frozen=True)
class Thing:
    """``at_m``: the middle of its footprint; ``base_m`` the height that it stands at, unless it stands ``on`` another
    thing; ``turn_deg`` anticlockwise seen from above.
    """

    id: str
    at_m: tuple[float, float] = (0.0, 0.0)
    base_m: float = 0.0
    on: str | None = None
    turn_deg: float = 0.0
    name: str = ""


@dataclass(frozen=True)
class Box(Thing):
    """``size_m`` along its own x, y and z."""

    size_m: tuple[float, float, float] = (0.6, 0.4, 0.5)


@dataclass(frozen=True)
class Cylinder(Thing):
    """Upright; ``lean_deg`` tips its axis towards its own x: 90 lies on its side. ``bands_m``: heights above its foot
    of lines drawn round it.
    """

    radius_m: float = 0.1
    height_m: float = 0.25
    lean_deg: float = 0.0
    bands_m: tuple[float, ...] = ()


@dataclass(frozen=True)
class Cone(Cylinder):
    """A frustum, or with ``top_radius_m`` 0 a cone."""

    top_radius_m: float = 0.05


@dataclass(frozen=True)
class Tube(Cylinder):
    """Open above, its wall ``wall_m`` thick, on a floor ``floor_m`` thick; without a floor it is open right through.
    ``top_radius_m``: a bucket's, else that of its foot.
    """

    wall_m: float = 0.01
    floor_m: float = 0.0
    top_radius_m: float | None = None


@dataclass(frozen=True)
class Turned(Thing):
    """Turned on a lathe: ``profile`` runs from the axis at the foot, or from the inner rim of a hollow foot, up the
    outside; radii and heights in metres. With ``wall_m`` the form is hollow and open above.
    """

    profile: Path = CONE
    lean_deg: float = 0.0
    wall_m: float | None = None


@dataclass(frozen=True)
class Opening:
    """A door or window: ``from_left_m`` along its wall seen from outside, its sill's height, and how far it is let into
    the wall.
    """

    wall: Wall
    from_left_m: float
    sill_m: float
    width_m: float
    height_m: float
    reveal_m: float = 0.08


@dataclass(frozen=True)
class Flight:
    """Steps before a wall, as wide as ``width_m`` about the middle ``from_left_m``."""

    wall: Wall
    from_left_m: float
    width_m: float
    count: int
    rise_m: float
    going_m: float


@dataclass(frozen=True)
class Chimney:
    """A stack through the roof: its middle in the building's frame, its width and depth, and how high its top stands
    above the ridge.
    """

    at_m: tuple[float, float]
    size_m: tuple[float, float]
    above_m: float


@dataclass(frozen=True)
class Building(Thing):
    """``size_m``: width, depth and height of its walls. The ridge of a gabled or hipped roof runs along x, ``rise_m``
    above the walls; a pent roof rises towards the back. ``eaves_m``: how far the roof stands out all round.
    """

    size_m: tuple[float, float, float] = (6.0, 4.0, 3.0)
    roof: RoofKind = RoofKind.GABLED
    rise_m: float = 1.5
    eaves_m: float = 0.3
    openings: tuple[Opening, ...] = ()
    flights: tuple[Flight, ...] = ()
    chimney: Chimney | None = None


@dataclass(frozen=True)
class Outline(Thing):
    """A closed outline on its front (x along, z up), with holes, carried ``depth_m`` through. ``widths``: shares of its
    length and the depth there, where that is not the same all along; between them it changes evenly, to both sides of
    the centre plane alike.
    """

    outline: Path = GABLE
    holes: tuple[Path, ...] = ()
    depth_m: float = 0.1
    widths: tuple[tuple[float, float], ...] = ()


@dataclass(frozen=True)
class Hull(Thing):
    """Cross-sections along a centre plane, joined by straight lines: ``stations`` hold a place along x and a half
    section, from the keel up to the rail, as (out, up) in metres; all have as many points.
    """

    stations: tuple[tuple[float, tuple[tuple[float, float], ...]], ...] = ()


@dataclass(frozen=True)
class Wheels(Thing):
    """A pair of wheels ``gauge_m`` apart on an axle along its own x."""

    radius_m: float = 0.3
    width_m: float = 0.06
    gauge_m: float = 0.8
    axle_radius_m: float = 0.03


@dataclass(frozen=True)
class Section(Thing):
    """A plane through the thing ``of``, square to its own axis ``along`` at a ``share`` of its extent."""

    of: str = ""
    along: str = "x"
    share: float = 0.5


@dataclass(frozen=True)
class Figure(Thing):
    """A standing figure of a given height, as plain as a skittle; its eyes at 0.936 of its height (common practice)."""

    height_m: float = 1.7


@dataclass(frozen=True)
class Ramp(Thing):
    """A wedge rising along its own y from nothing to ``size_m``'s height; wide and long enough it is sloping ground."""

    size_m: tuple[float, float, float] = (2.0, 6.0, 1.0)


@dataclass(frozen=True)
class Levels(Thing):
    """Rectangles at heights, each joined to the next by straight lines: (z, x from, x to, y from, y to); two at one
    height make a ledge.
    """

    levels: tuple[tuple[float, float, float, float, float], ...] = ()


AnyThing = Box | Cylinder | Cone | Tube | Turned | Building | Outline | Hull | Wheels | Section | Figure | Ramp | Levels


@dataclass(frozen=True)
class Stand:
    """A set-up: its things in order, and the sun for cast shadows (``sun_deg``: bearing that it stands at, as a
    heading, and height above level).
    """

    things: tuple[AnyThing, ...]
    sun_deg: tuple[float, float] | None = None


class StandError(ValueError):
    """A set-up that cannot be: ``place`` names the entry."""

    def __init__(self, place: str, fault: str) -> None:
        """``fault`` says what is wrong there."""
        super().__init__(f"{place}: {fault}")
        self.place = place
