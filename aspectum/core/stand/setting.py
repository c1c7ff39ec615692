"""Things set up: each in its place in the room, on the ground or on top of another."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from aspectum.core.plane.lines import Floats
from aspectum.core.stand.shapes import solid_of
from aspectum.core.stand.solid import Frame, Solid, about_z
from aspectum.core.stand.things import AnyThing, Ramp, Section, Stand, StandError


@dataclass(frozen=True)
class Placed:
    """A thing in the room: ``frame`` carries its own coordinates there; ``own`` is its surface in its own frame, None
    for a section, which has none.
    """

    thing: AnyThing
    frame: Frame
    own: Solid | None

    @property
    def shape(self) -> Solid:
        """Its surface in its own frame. Raises ``StandError`` for a section."""
        if self.own is None:
            raise StandError(self.thing.id, "a section has no surface of its own")
        return self.own

    @cached_property
    def body(self) -> Solid:
        """Its surface in the room. Raises ``StandError`` for a section."""
        return self.shape.placed(self.frame.turn, self.frame.at)

    @property
    def box(self) -> Floats:
        """Corners (8, 3) in the room of the box round it in its own frame: the foot anticlockwise from its own front
        left, then the top.
        """
        (x0, y0, z0), (x1, y1, z1) = self.shape.low, self.shape.high
        foot = np.array([(x0, y0), (x1, y0), (x1, y1), (x0, y1)])
        return self.frame.points(
            np.vstack([np.column_stack([foot, np.full(4, z0)]), np.column_stack([foot, np.full(4, z1)])])
        )


def extent_in_room(placed: tuple[Placed, ...]) -> tuple[Floats, Floats]:
    """Least and largest coordinates (3,) in the room of the boxes round all things. Raises ``StandError`` where there
    is none.
    """
    boxes = [p.box for p in placed if p.own is not None]
    if not boxes:
        raise StandError("things", "nothing is set up yet")
    corners = np.vstack(boxes)
    return corners.min(axis=0), corners.max(axis=0)


def set_up(stand: Stand, fine: dict[str, float], tolerance_m: float) -> tuple[Placed, ...]:
    """Every thing where it stands, in the order of the set-up, curves keeping to ``tolerance_m`` or to the thing's own
    in ``fine``.

    Raises ``StandError`` for a name twice, for what it stands on missing, and for things that stand on one another in a
    circle.
    """
    by_id: dict[str, AnyThing] = {}
    for i, thing in enumerate(stand.things):
        if thing.id in by_id:
            raise StandError(f"things[{i}].id", f"'{thing.id}' is taken")
        by_id[thing.id] = thing
    placed: dict[str, Placed] = {}
    for i, thing in enumerate(stand.things):
        waiting = [thing]
        while waiting:
            last = waiting[-1]
            under = last.of if isinstance(last, Section) else last.on
            if under is not None and under not in placed:
                if under not in by_id:
                    entry = "of" if isinstance(last, Section) else "on"
                    raise StandError(f"things[{i}].{entry}", f"there is no thing '{under}'")
                if any(w.id == under for w in waiting):
                    raise StandError(f"things[{i}].on", "the things stand on one another in a circle")
                waiting.append(by_id[under])
                continue
            waiting.pop()
            if last.id not in placed:
                placed[last.id] = _place(last, placed[under] if under else None, fine.get(last.id, tolerance_m))
    return tuple(placed[thing.id] for thing in stand.things)


def _place(thing: AnyThing, under: Placed | None, tolerance_m: float) -> Placed:
    if isinstance(thing, Section):
        if under is None or under.own is None:
            raise StandError(f"{thing.id}.of", "a section goes through a thing")
        return Placed(thing, under.frame, None)
    base = thing.base_m if under is None else _top_at(under, thing.at_m)
    frame = Frame(about_z(thing.turn_deg), np.array([*thing.at_m, base]))
    plain = replace(
        thing, name="", at_m=(0.0, 0.0), base_m=0.0, on=None, turn_deg=0.0
    )  # what does not bear on its shape is left out of the cache's key
    return Placed(thing, frame, solid_of(plain, tolerance_m))


def _top_at(under: Placed, at: tuple[float, float]) -> float:
    """Height at which a thing stands on another: its top; on a ramp the height of the slope where the thing stands."""
    top = float(under.frame.at[2] + under.shape.high[2])
    if not isinstance(under.thing, Ramp):
        return top
    depth, height = under.thing.size_m[1], under.thing.size_m[2]
    along = float((np.array([*at, 0.0]) - under.frame.at) @ under.frame.turn[:, 1])
    return float(under.frame.at[2]) + height * min(max(along / depth + 0.5, 0.0), 1.0)
