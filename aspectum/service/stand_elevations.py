"""A thing's plan and elevations: shown, and drawn on to give the thing anew."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np
from pydantic import TypeAdapter, ValidationError

from aspectum.core.plane.lines import Floats
from aspectum.core.stand.camera import Parallel, View
from aspectum.core.stand.drawing import draw, set_up_for
from aspectum.core.stand.elevations import (
    DIVISIONS,
    Elevations,
    carried,
    divided,
    elevations_of,
    measured,
    mirrored,
    off_middle,
    resized,
    right_half,
    snapped,
    thing_of,
)
from aspectum.core.stand.paths import Path
from aspectum.core.stand.setting import extent_in_room
from aspectum.core.stand.steps import Stroke, drawn_through, lined_in
from aspectum.core.stand.things import AnyThing, Section, Stand, StandError, Turned
from aspectum.formats.reading import FormatError, first_fault
from aspectum.formats.stand import THING_KINDS, AnyStandThing, Outlined, StandStroke, Three
from aspectum.formats.stand_shown import DrawnElevations, ElevationDrawing, StandElevations
from aspectum.service.stand import CLASSES, core_thing, path_of

On = Literal["front", "side"]
ACROSS_PX = 1000.0  # of the square views: fine enough for rims drawn as points
KINDS = {made: kind for kind, made in CLASSES.items()}
THING: TypeAdapter[AnyStandThing] = TypeAdapter(AnyStandThing)


@dataclass(frozen=True)
class HowDrawn:
    """How a hand draws: on which elevation and which of its points, the grid that this point snaps to (m), symmetrical halves, the divisions that draw it on to
    them, and sizes typed, or pulled (``held`` of width, depth and height), in place of any drawing.
    """

    by: On | None = None
    grid_m: float | None = None
    symmetrical: Sequence[On] = ()
    divisions: str | None = None
    bays: int | None = None
    held: int | None = None
    typed: tuple[float, float, float] | None = None


def stand_elevations(thing: AnyStandThing, drawn: DrawnElevations | None, how: HowDrawn) -> StandElevations:
    """``thing`` in plan and elevations; with ``drawn``, made anew from it. Raises ``FormatError`` naming the elevation that does not agree, and where."""
    try:
        made = core_thing(thing)
        if isinstance(made, Section):
            raise StandError(made.id, "a section is a plane: it has no elevations")
        if drawn is not None:
            made = _made(made, drawn, how)
        return _shown(made, how)
    except StandError as error:
        raise FormatError(str(error)) from None


def _place(thing: AnyThing) -> dict[str, Any]:
    return {"at_m": thing.at_m, "base_m": thing.base_m}


def _made(there: AnyThing, drawn: DrawnElevations, how: HowDrawn) -> AnyThing:
    like = carried(there, off_middle(there))
    found = Elevations(
        size_m=drawn.size_m,
        front=None if drawn.front is None else path_of(drawn.front),
        side=None if drawn.side is None else path_of(drawn.side),
        widths=tuple(drawn.widths),
        holes=tuple(path_of(hole) for hole in drawn.holes),
        turned=drawn.turned,
    )
    if how.typed is not None:
        return thing_of(resized(found, how.typed if how.grid_m is None else _on_grid(how.typed, how.held, how.grid_m)), like)
    found = replace(found, front=_settled(found, found.front, "front", how), side=_settled(found, found.side, "side", how))
    if how.by is None:
        return thing_of(found, like)
    found, (along, up) = measured(found, how.by)
    made = thing_of(found, like)
    # the side's outline runs along the thing's own y
    way = (along, 0.0, up) if how.by == "front" else (0.0, along, up)
    return replace(made, **_place(carried(like, way)))


def _on_grid(size_m: Three, held: int | None, grid_m: float) -> Three:
    """Sizes of which one was pulled: that one on the grid, and no less than a step of it."""
    width, depth, height = (max(snapped((value, 0.0), grid_m)[0], grid_m) if k == held else value for k, value in enumerate(size_m))
    return width, depth, height


def _settled(drawn: Elevations, path: Path | None, on: On, how: HowDrawn) -> Path | None:
    """An outline snapped to the grid and the divisions, and mirrored where its halves are alike."""
    if path is None:
        return None
    if how.by == on and how.grid_m is not None and how.held is not None and how.held < len(path.points):
        width, depth, height = drawn.size_m
        across = width if on == "front" else depth
        lines = (_parts(-across / 2, across / 2, how), _parts(0.0, height, how))
        points = list(path.points)
        points[how.held] = snapped(points[how.held], how.grid_m, lines)
        path = Path(tuple(points), path.smooth)
    if on in how.symmetrical and not drawn.turned:
        path = mirrored(right_half(path))
    if len(set(path.points)) < len(path.points):
        raise StandError(on, "two points coincide")
    if drawn.turned and any(r < 0.0 for r, _ in path.points):
        raise StandError(on, "a radius is not negative: the half profile lies to the right of the centre line")
    return path


def _parts(low: float, high: float, how: HowDrawn) -> list[float]:
    if how.bays is not None:
        return divided(low, high, "", how.bays)
    return divided(low, high, how.divisions) if how.divisions in DIVISIONS else []


def _shown(made: AnyThing, how: HowDrawn) -> StandElevations:
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
        divisions=(_parts(-width / 2, width / 2, how), _parts(-depth / 2, depth / 2, how), _parts(0.0, height, how)),
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
    """A core thing in the format; only those that elevations give are changed, and all of the core's entries are the format's."""
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
    return ElevationDrawing(strokes=[_in_metres(stroke, view, at) for stroke in (*drawn_through(drawing), *lined_in(drawing))])


def _in_metres(stroke: Stroke, view: View, at: Floats) -> StandStroke:
    cx, cy = view.centre_px
    points = [(float(at[0]) + (x - cx) / view.px_per_m, float(at[1]) - (y - cy) / view.px_per_m) for x, y in stroke.points]
    return StandStroke(points=points, weight=stroke.weight)
