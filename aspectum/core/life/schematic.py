"""The near corner drawn from what was read so far, in near-upright units: x right, y down from the top of the first
form's near upright.

What has not been read stands where the eye expects a corner, drawn alike for every subject, so that it tells nothing of
the answer.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from aspectum.core.life.near_corner import NearCorner
from aspectum.core.life.readings import LengthReading, Of, RimReading, TiltReading
from aspectum.core.sightings import Along, Kind, Point, Side
from aspectum.core.tolerance import beyond

UNREAD_DEG = 12.0  # by which an unread edge converges
UNREAD_WIDTH = 0.7  # units to a far upright that was not compared
UNREAD_BESIDE, UNREAD_TOP, UNREAD_LENGTH = 1.5, 0.2, 0.6  # where a further form waits, from the one before it
# in units of the near upright: where a rim stands in the sketch, and how wide, before it is read
UNREAD_RIM_ACROSS, UNREAD_RIM_WIDTH = -0.9, 0.5
MOST_OF_THE_WAY = 0.7  # to a vanishing point that a line without a width is drawn
SAME_PLACE = 1e-6  # shares of the near upright that are one
WAY = {Side.LEFT: -1.0, Side.RIGHT: 1.0}  # the sign of a side across the sheet


@dataclass(frozen=True)
class Slot:
    """One thing to be read, in the order in which it is best taken; ``sighting`` once it was. ``p`` to ``q``: where it
    stands.
    """

    form: str
    kind: Kind
    p: Point
    q: Point
    side: Side | None = None
    end: float | None = None
    along: Along | None = None
    of: Of | None = None
    sighting: str | None = None


@dataclass(frozen=True)
class Line:
    """A line of the drawing that is no reading of its own: the near uprights, and far uprights whose place is known."""

    form: str
    p: Point
    q: Point
    known: bool
    side: Side | None = None


@dataclass(frozen=True)
class DrawnRim:
    """A rim as it is drawn, upright on the paper; full axes."""

    sighting: str
    centre: Point
    major: float
    minor: float


@dataclass(frozen=True)
class DrawnPoint:
    """A vanishing point, with the interval along eye level that holds it in 95 of 100; None where that has no end."""

    form: str
    side: Side
    at: Point
    near_x: float | None
    far_x: float | None


@dataclass(frozen=True)
class Schematic:
    """``eye_level``: y of it, with its interval."""

    slots: tuple[Slot, ...]
    lines: tuple[Line, ...]
    rims: tuple[DrawnRim, ...]
    points: tuple[DrawnPoint, ...]
    eye_level: float | None
    eye_level_low: float | None
    eye_level_high: float | None


@dataclass(frozen=True)
class ReadForm:
    """All that was read of one form, and its card. ``post``: nothing recedes from it."""

    form: str
    tilts: list[TiltReading]
    lengths: list[LengthReading]
    card: NearCorner
    post: bool = False


@dataclass(frozen=True)
class OtherLevel:
    """A further form's own eye level against the first form's: how much lower it puts it, in the first form's units."""

    form: str
    lower: float
    sd: float

    @property
    def apart(self) -> bool:
        return bool(beyond(self.lower, self.sd, 0.0))


def other_levels(forms: list[ReadForm]) -> list[OtherLevel]:
    """Where further forms put eye level, each whose place and length on the sheet were measured: level edges of all
    forms vanish on one.
    """
    first, found = forms[0].card, []
    for form in forms[1:]:
        lengths = {r.of: r for r in form.lengths if r.along is Along.UPRIGHT and r.of is not Of.FAR_UPRIGHT}
        top, long = lengths.get(Of.TOP), lengths.get(Of.NEAR_UPRIGHT)
        own, sd = form.card.eye_level, form.card.eye_level_sd
        if (
            first.eye_level is None
            or first.eye_level_sd is None
            or own is None
            or sd is None
            or top is None
            or long is None
        ):
            continue
        spread = math.hypot(
            math.hypot(first.eye_level_sd, long.ratio * sd), math.hypot(top.ratio_sd, own * long.ratio_sd)
        )
        found.append(OtherLevel(form.form, top.ratio + long.ratio * own - first.eye_level, spread))
    return found


@dataclass(frozen=True)
class Stands:
    """Where a form's near upright stands on the paper: its top, and its length; all in the first form's units."""

    x: float
    top: float
    long: float
    slots: tuple[Slot, ...] = ()

    def at(self, x: float, down: float) -> Point:
        return self.x + x * self.long, self.top + down * self.long


def schematic(
    forms: list[ReadForm], rims: list[RimReading], across: dict[str, float], widths: dict[str, float]
) -> Schematic:
    """Draw every form, of which there is one at least; ``across`` and ``widths``: of the rims, by id, where they were
    measured.
    """
    slots: list[Slot] = []
    lines: list[Line] = []
    points: list[DrawnPoint] = []
    before = Stands(0.0, 0.0, 1.0)
    for k, form in enumerate(forms):
        stands = before if k == 0 else placed(form, before)
        lines.append(Line(form.form, stands.at(0, 0), stands.at(0, 1), k == 0 or any(s.sighting for s in stands.slots)))
        slots += stands.slots
        drawn = [] if form.post else [side_of(form, side, stands) for side in Side]
        slots += [slot for edges, _, _ in drawn for slot in edges] + [
            slot for _, lengths, _ in drawn for slot in lengths
        ]
        lines += [line for _, _, line in drawn]
        points += points_of(form, stands, forms[0].card.eye_level)
        before = stands
    card = forms[0].card
    shown = tuple(drawn_rim(r, across, widths) for r in rims)
    return Schematic(
        tuple(slots), tuple(lines), shown, tuple(points), card.eye_level, card.eye_level_low, card.eye_level_high
    )


def placed(form: ReadForm, before: Stands) -> Stands:
    """Where a further form's near upright stands, as far as that was read, and what is to be read for it."""
    found: dict[tuple[Of, Along], LengthReading] = {
        (r.of, r.along): r for r in form.lengths if r.of is not Of.FAR_UPRIGHT
    }
    across, long, top = (
        found.get((Of.NEAR_UPRIGHT, Along.ACROSS)),
        found.get((Of.NEAR_UPRIGHT, Along.UPRIGHT)),
        found.get((Of.TOP, Along.UPRIGHT)),
    )
    x = (
        before.x + UNREAD_BESIDE
        if across is None
        else across.ratio * (WAY[across.side] if across.side is not None else 1.0)
    )
    y = UNREAD_TOP if top is None else top.ratio
    length = UNREAD_LENGTH if long is None else long.ratio
    side = Side.LEFT if x < 0 else Side.RIGHT
    slots = (
        Slot(
            form.form,
            Kind.LENGTH,
            (0.0, y + length),
            (x, y + length),
            side,
            None,
            Along.ACROSS,
            Of.NEAR_UPRIGHT,
            across.id if across else None,
        ),
        Slot(form.form, Kind.LENGTH, (x, 0.0), (x, y), None, None, Along.UPRIGHT, Of.TOP, top.id if top else None),
        Slot(
            form.form,
            Kind.LENGTH,
            (x, y),
            (x, y + length),
            None,
            None,
            Along.UPRIGHT,
            Of.NEAR_UPRIGHT,
            long.id if long else None,
        ),
    )
    return Stands(x, y, length, slots)


def side_of(form: ReadForm, side: Side, stands: Stands) -> tuple[list[Slot], list[Slot], Line]:
    """A side's edges and lengths, in reading order, and its far upright."""
    tilts = [r for r in form.tilts if r.side is side]
    lengths = {r.along: r for r in form.lengths if r.side is side and r.of is Of.FAR_UPRIGHT}
    width, long = lengths.get(Along.ACROSS), lengths.get(Along.UPRIGHT)
    distance = form.card.of(side).distance
    reach = (
        width.ratio
        if width is not None
        else UNREAD_WIDTH
        if distance is None
        else min(UNREAD_WIDTH, MOST_OF_THE_WAY * distance)
    )

    def far_end(height: float, fall: float) -> Point:
        return stands.at(WAY[side] * reach, height + reach * fall)

    falls = {0.0: math.tan(math.radians(UNREAD_DEG)), 1.0: -math.tan(math.radians(UNREAD_DEG))}
    edges, ends = [], {}
    for height in (0.0, 1.0):
        read = next((r for r in reversed(tilts) if abs(r.height - height) < SAME_PLACE), None)
        ends[height] = far_end(height, falls[height] if read is None else math.tan(read.fall_rad))
        edges.append(
            Slot(
                form.form,
                Kind.EDGE,
                stands.at(0, height),
                ends[height],
                side,
                height,
                sighting=None if read is None else read.id,
            )
        )
    shown = {slot.sighting for slot in edges}
    edges += [
        Slot(
            form.form,
            Kind.EDGE,
            stands.at(0, r.height),
            far_end(r.height, math.tan(r.fall_rad)),
            side,
            r.height,
            sighting=r.id,
        )
        for r in tilts
        if r.id not in shown
    ]
    top, foot = ends[0.0], ends[1.0]
    if long is not None:
        foot = top[0], top[1] + long.ratio * stands.long
    low = max(foot[1], stands.at(0, 1)[1])
    measured = [
        Slot(
            form.form,
            Kind.LENGTH,
            (stands.x, low),
            (top[0], low),
            side,
            None,
            Along.ACROSS,
            Of.FAR_UPRIGHT,
            width.id if width else None,
        ),
        Slot(form.form, Kind.LENGTH, top, foot, side, None, Along.UPRIGHT, Of.FAR_UPRIGHT, long.id if long else None),
    ]
    return edges, measured, Line(form.form, top, foot, width is not None, side)


def points_of(form: ReadForm, stands: Stands, common: float | None) -> list[DrawnPoint]:
    """A form's vanishing points, on the first form's eye level where that is known: all forms share one."""
    own = form.card.eye_level
    level = common if common is not None else None if own is None else stands.at(0.0, own)[1]
    found = []
    for side in Side:
        s = form.card.of(side)
        if s.distance is None or level is None:
            continue
        near, far = (None if d is None else stands.at(WAY[side] * d, 0)[0] for d in (s.distance_low, s.distance_high))
        found.append(DrawnPoint(form.form, side, (stands.at(WAY[side] * s.distance, 0.0)[0], level), near, far))
    return found


def drawn_rim(r: RimReading, across: dict[str, float], widths: dict[str, float]) -> DrawnRim:
    wide = widths.get(r.id, UNREAD_RIM_WIDTH)
    return DrawnRim(r.id, (across.get(r.id, UNREAD_RIM_ACROSS), r.down or 0.0), wide, wide * r.drawn_ratio)
