"""Set-ups to ask about: things of plausible size where one meets them, seen from where one stands, within the cone of
vision.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import TypeVar

import numpy as np

from aspectum.core.plane.lines import Floats
from aspectum.core.sightings import Point
from aspectum.core.stand.camera import View
from aspectum.core.stand.drawing import COARSEST_M, draw_placed, set_up_for
from aspectum.core.stand.drawn import Drawing, DrawnRim, Line
from aspectum.core.stand.setting import set_up
from aspectum.core.stand.things import AnyThing, Box, Stand

WIDTH_PX, HEIGHT_PX = 1200, 800  # of a question's picture: 3 to 2 as a camera's, as wide as most screens show
MARGIN = 0.92  # of the half picture that things may reach into
CONE = 0.95 * math.tan(math.radians(30.0))  # of f: within 60° overall (handbook section 1), with a little to spare
LENSES_MM = (28.0, 70.0)  # 35 mm equivalents at which things look as they do to the eye that draws
NEAREST, FARTHEST, HALVINGS = 0.3, 60.0, 30  # spans of the set-up between which the distance is sought
SQUARE_OFF_DEG = 14.0  # a box is turned by this at least from square on, so that it has two receding sides
LOOSEST = (
    1.6  # times the nearest distance that the whole is seen from, of the hardest questions: everything drawn smaller
)
TRIES = 120  # draws of a scene before its kind is given up
T = TypeVar("T")


@dataclass(frozen=True)
class Spot:
    """Where things stand: their ``size_m``, the height of what they stand on, and heights of the eye above
    the floor.
    """

    size_m: tuple[float, float]
    base_m: tuple[float, float]
    eye_m: tuple[float, float]


# a thing's size, height of its foot and of the eye over the ground (m): on a table, eye of one seated or standing
TABLE = Spot((0.15, 0.5), (0.72, 0.78), (1.15, 1.7))
SHELF = Spot((0.15, 0.45), (1.75, 2.3), (1.15, 1.65))  # overhead, as a shelf or a wall cupboard hangs
GROUND = Spot((0.4, 1.2), (0.0, 0.0), (1.3, 1.75))  # on the ground before one's feet
YARD = Spot((2.2, 5.0), (0.0, 0.0), (1.5, 1.75))  # sheds and vans across a yard
BANK = Spot((2.0, 4.0), (0.0, 0.0), (6.0, 9.0))  # the same from a bank, a quay wall or a first floor


@dataclass(frozen=True)
class Scene:
    """A set-up with its exact drawing."""

    stand: Stand
    drawing: Drawing

    @property
    def view(self) -> View:
        return self.drawing.view


def spot(rng: np.random.Generator, *spots: Spot) -> Spot:
    """One of ``spots``."""
    return spots[int(rng.integers(len(spots)))]


def boxes(rng: np.random.Generator, where: Spot, difficulty: float, most: int = 3) -> list[AnyThing]:
    """One box, or up to ``most`` as it grows harder, side by side, each turned its own way."""
    count = 1 + int(rng.integers(round(difficulty * (most - 1)) + 1))
    base = round(float(rng.uniform(*where.base_m)), 2)
    found: list[AnyThing] = []
    right = 0.0
    for k in range(count):
        size = rng.uniform(*where.size_m, 3).round(2)
        reach = float(np.hypot(*size[:2])) / 2
        at = (round(right + reach, 3), round(float(rng.uniform(-0.5, 0.5)) * reach, 3))
        found.append(
            Box(
                f"box{k + 1}",
                at,
                base,
                None,
                round(float(rng.uniform(SQUARE_OFF_DEG, 90.0 - SQUARE_OFF_DEG)), 1),
                size_m=tuple(size.tolist()),
            )
        )
        right += 2 * reach * 1.08
    return found


def seen(
    rng: np.random.Generator,
    things: list[AnyThing],
    eye_m: float,
    difficulty: float,
    aimed: bool = False,
    turned_deg: float = 0.0,
) -> Scene | None:
    """``things`` from a standing place ahead of them, the whole of them in the picture and in the cone of vision; None
    where no distance brings that about.

    ``aimed``: looking down, or up, at the middle of them in place of straight ahead; ``turned_deg``: by how much the
    viewer may stand to either side.
    """
    lens = round(float(rng.uniform(*LENSES_MM)), 0)
    stand = Stand(tuple(things))
    corners = np.vstack([p.box for p in set_up(stand, {}, COARSEST_M) if p.own is not None])
    low, high = corners.min(axis=0), corners.max(axis=0)
    middle = (low + high) / 2
    heading = float(rng.uniform(-turned_deg, turned_deg)) if turned_deg else 0.0
    view = View(heading_deg=heading, focal_35mm=lens, width_px=WIDTH_PX, height_px=HEIGHT_PX)
    back = np.array([-math.sin(math.radians(heading)), -math.cos(math.radians(heading)), 0.0])
    span = float(np.linalg.norm(high - low))

    def at(share: float) -> View:
        x, y, _ = (middle + back * share * span).tolist()
        pitch = math.degrees(math.atan2(float(middle[2]) - eye_m, share * span)) if aimed else 0.0
        return replace(view, eye_m=(x, y, eye_m), pitch_deg=pitch)

    near, far = NEAREST, FARTHEST
    if not _inside(at(far), corners):
        return None
    for _ in range(HALVINGS):
        share = math.sqrt(near * far)
        near, far = (near, share) if _inside(at(share), corners) else (share, far)
    view = at(far * float(rng.uniform(1.02, 1.1 + (LOOSEST - 1.1) * difficulty)))
    view = replace(
        view,
        eye_m=(round(view.eye_m[0], 3), round(view.eye_m[1], 3), round(view.eye_m[2], 3)),
        pitch_deg=round(view.pitch_deg, 2),
    )
    return Scene(stand, draw_placed(set_up_for(stand, view), view))


def _inside(view: View, corners: Floats) -> bool:
    if float(view.depths(corners).min()) <= 0.05:
        return False
    off = np.abs(view.project(corners) - view.centre_px)
    return (
        bool((off < MARGIN * np.array(view.centre_px)).all()) and float(np.hypot(*off.T).max()) < CONE * view.focal_px
    )


def first_that(rng: np.random.Generator, attempt: Callable[[np.random.Generator], T | None]) -> T:
    """The first of some attempts that comes off. Raises ``LookupError`` where none does."""
    for _ in range(TRIES):
        found = attempt(rng)
        if found is not None:
            return found
    raise LookupError("no set-up was found to ask about")


def in_picture(point: Point, margin: float = 6.0) -> bool:
    """Whether a point (px) lies well in the picture."""
    return margin <= point[0] <= WIDTH_PX - margin and margin <= point[1] <= HEIGHT_PX - margin


def shows(line: Line) -> float:
    """The share of a line that nothing hides."""
    return sum(b - a for a, b in line.visible)


def least_length(difficulty: float) -> float:
    """How long (px) a line must be to be asked about: short ones are harder."""
    return 190.0 - 120.0 * difficulty


def unit_of(drawing: Drawing) -> Line | None:
    """The nearest upright seen whole: the usual unit."""
    view = drawing.view
    whole = [
        e
        for e in drawing.edges
        if e.way is not None and e.way.family.value == "upright" and shows(e) > 0.995 and e.length_px > 60.0
    ]
    return min(whole, key=lambda e: float(view.depths(e.room).min()), default=None)


def arc_of(rim: DrawnRim, count: int = 64) -> list[tuple[Point, ...]]:
    """The seen parts of a rim as lines through points."""
    return [tuple(rim.at(a + (b - a) * k / count) for k in range(count + 1)) for a, b in rim.visible if b - a > 1e-3]


def seen_part(line: Line) -> tuple[Point, Point]:
    """The longest part of a line that nothing hides."""
    a, b = max(line.visible, key=lambda part: part[1] - part[0])
    return line.at(a), line.at(b)
