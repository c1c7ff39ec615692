"""A thing's plan and elevations: shown, and drawn on to give the thing anew."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
from pydantic import TypeAdapter, ValidationError

from aspectum.core.plane.lines import Floats
from aspectum.core.stand.camera import View
from aspectum.core.stand.drawing import draw, set_up_for
from aspectum.core.stand.drawn_on import Hand, drawn_on
from aspectum.core.stand.elevations import Elevations, carried, elevations_of, off_middle
from aspectum.core.stand.kinds import Parallel
from aspectum.core.stand.paths import Path
from aspectum.core.stand.setting import extent_in_room
from aspectum.core.stand.steps import Stroke, drawn_through, lined_in
from aspectum.core.stand.things import AnyThing, Section, Stand, StandError, Turned
from aspectum.formats.reading import FormatError, first_fault
from aspectum.formats.stand import THING_KINDS, AnyStandThing, Outlined, StandStroke
from aspectum.formats.stand_shown import DrawnElevations, ElevationDrawing, StandElevations
from aspectum.service.stand.from_format import CLASSES, core_thing, path_of

ACROSS_PX = 1000.0  # of the square views: fine enough for rims drawn as points
KINDS = {made: kind for kind, made in CLASSES.items()}
THING: TypeAdapter[AnyStandThing] = TypeAdapter(AnyStandThing)


def stand_elevations(thing: AnyStandThing, drawn: DrawnElevations | None, hand: Hand) -> StandElevations:
    """``thing`` in plan and elevations; with ``drawn``, made anew from it. Raises ``FormatError`` naming the elevation
    that does not agree, and where.
    """
    try:
        made = core_thing(thing)
        if isinstance(made, Section):
            raise StandError(made.id, "a section is a plane: it has no elevations")
        if drawn is not None:
            made = drawn_on(made, _as_elevations(drawn), hand)
        return _shown(made, hand)
    except StandError as error:
        raise FormatError(str(error)) from None


def _as_elevations(drawn: DrawnElevations) -> Elevations:
    return Elevations(
        size_m=drawn.size_m,
        front=None if drawn.front is None else path_of(drawn.front),
        side=None if drawn.side is None else path_of(drawn.side),
        widths=tuple(drawn.widths),
        holes=tuple(path_of(hole) for hole in drawn.holes),
        turned=drawn.turned,
    )


def _shown(made: AnyThing, hand: Hand) -> StandElevations:
    drawn = elevations_of(made)
    x, y, z = off_middle(made)
    # about its middle, where its outlines are drawn
    alone = carried(replace(made, at_m=(0.0, 0.0), base_m=0.0, on=None, turn_deg=0.0), (-x, -y, -z))
    if isinstance(alone, Turned):
        alone = replace(alone, lean_deg=0.0)  # a profile is drawn upright, however the thing then leans
    placed = set_up_for(Stand((alone,)), View())
    low, high = extent_in_room(placed)
    width, depth, height = (float(v) for v in high - low)
    return StandElevations(
        thing=_filed(made),
        drawn=None if drawn is None else _as_drawn(drawn),
        plan=_elevation(alone, low, high, 0.0, -90.0),
        front=_elevation(alone, low, high, 0.0, 0.0),
        # seen from its right, so that its own y runs to the right
        side=_elevation(alone, low, high, -90.0, 0.0),
        size_m=(width, depth, height),
        divisions=(hand.parts(-width / 2, width / 2), hand.parts(-depth / 2, depth / 2), hand.parts(0.0, height)),
    )


def _as_drawn(drawn: Elevations) -> DrawnElevations:
    return DrawnElevations(
        size_m=drawn.size_m,
        front=None if drawn.front is None else _outlined(drawn.front),
        side=None if drawn.side is None else _outlined(drawn.side),
        widths=list(drawn.widths),
        holes=[_outlined(hole) for hole in drawn.holes],
        turned=drawn.turned,
    )


def _outlined(path: Path) -> Outlined:
    return Outlined(points=list(path.points), smooth=list(path.smooth))


def _filed(made: AnyThing) -> AnyStandThing:
    """A core thing in the format; only those that elevations give are changed, and all of the core's entries are the
    format's.
    """
    fields = {"kind": KINDS[type(made)]} | _plain(made)
    try:
        return THING.validate_python(fields)
    except ValidationError as error:
        raise FormatError(first_fault(error, THING_KINDS)) from None


def _plain(value: Any) -> Any:
    if hasattr(value, "__dataclass_fields__"):
        return {name: _plain(getattr(value, name)) for name in value.__dataclass_fields__}
    return [_plain(one) for one in value] if isinstance(value, tuple) else value


def _elevation(alone: AnyThing, low: Floats, high: Floats, heading_deg: float, pitch_deg: float) -> ElevationDrawing:
    """The square view of a thing, its strokes in metres from the middle of its footprint on the ground."""
    middle = (low + high) / 2
    scale = ACROSS_PX / float((high - low).max())
    x, y, z = middle.tolist()
    view = View(eye_m=(x, y, z), heading_deg=heading_deg, pitch_deg=pitch_deg, parallel=Parallel.SQUARE, px_per_m=scale)
    drawing = draw(Stand((alone,)), view)
    right, down, _ = view.axes
    at = np.array([float(right @ middle), -float(down @ middle)])
    return ElevationDrawing(
        strokes=[_in_metres(stroke, view, at) for stroke in (*drawn_through(drawing), *lined_in(drawing))]
    )


def _in_metres(stroke: Stroke, view: View, at: Floats) -> StandStroke:
    cx, cy = view.centre_px
    points = [
        (float(at[0]) + (x - cx) / view.px_per_m, float(at[1]) - (y - cy) / view.px_per_m) for x, y in stroke.points
    ]
    return StandStroke(points=points, weight=stroke.weight)
