"""Things to set up: one of each kind to begin with, in keeping with what stands there already."""

from __future__ import annotations

from typing import Any

from aspectum.core.stand.drawing import COARSEST_M
from aspectum.core.stand.setting import extent_in_room, set_up
from aspectum.formats.reading import FormatError
from aspectum.formats.stand import AnyStandThing, StandFile
from aspectum.language import Text
from aspectum.service.stand.elevations import THING
from aspectum.service.stand.from_format import stand_of

ALONE_M = 0.5  # height of a thing that is set up first
SHARE = 0.6  # of the set-up's height that a thing more is given
LEAST_M, MOST_M = 0.05, 3.0
GAP = 0.25  # between it and the rest, as a share of its height

# in heights of the thing; a building counts in its walls, a figure in a grown person
SHAPES: dict[str, dict[str, Any]] = {
    "box": {"size_m": [1.2, 0.8, 1.0]},
    "cylinder": {"radius_m": 0.4, "height_m": 1.0},
    "cone": {"radius_m": 0.5, "height_m": 1.0, "top_radius_m": 0.25},
    "tube": {"radius_m": 0.4, "height_m": 1.0, "wall_m": 0.06, "floor_m": 0.06},
    "turned": {"profile": {"points": [[0.3, 0.0], [0.42, 0.4], [0.16, 0.75], [0.2, 1.0]], "smooth": [1, 2]}},
    "building": {"size_m": [2.0, 1.4, 1.0], "rise_m": 0.6, "eaves_m": 0.1},
    "outline": {"outline": {"points": [[-0.5, 0.0], [0.5, 0.0], [0.5, 0.6], [0.0, 1.0], [-0.5, 0.6]]}, "depth_m": 0.5},
    "hull": {
        "stations": [
            [-1.5, [[0.0, 0.3], [0.3, 0.5], [0.5, 1.0]]],
            [0.0, [[0.0, 0.0], [0.55, 0.3], [0.7, 0.9]]],
            [1.2, [[0.0, 0.2], [0.35, 0.5], [0.5, 1.0]]],
            [1.9, [[0.0, 0.5], [0.02, 0.8], [0.04, 1.15]]],
        ]
    },
    "wheels": {"radius_m": 0.5, "width_m": 0.1, "gauge_m": 1.4, "axle_radius_m": 0.06},
    "figure": {"height_m": 1.0},
    "ramp": {"size_m": [1.5, 3.0, 1.0]},
    "levels": {
        "levels": [
            [0.0, -0.6, 0.6, -0.4, 0.4],
            [0.5, -0.6, 0.6, -0.4, 0.4],
            [0.5, -0.35, 0.35, -0.4, 0.2],
            [1.0, -0.35, 0.35, -0.4, 0.2],
        ]
    },
}
NAMES = {
    "box": Text("Box"),
    "cylinder": Text("Cylinder"),
    "cone": Text("Cone"),
    "tube": Text("Tube"),
    "turned": Text("Turned form"),
    "building": Text("Building"),
    "outline": Text("Outline"),
    "hull": Text("Hull"),
    "wheels": Text("Wheels"),
    "section": Text("Section"),
    "figure": Text("Figure"),
    "ramp": Text("Ramp"),
    "levels": Text("Stepped form"),
}
GROWN_M, WALLS_M = 1.7, 2.6


def new_thing(file: StandFile, kind: str, of: str | None = None) -> AnyStandThing:
    """A thing of ``kind`` beside what stands there, or a section through the thing ``of``. Raises ``FormatError`` for a
    set-up that cannot be, or an unknown kind.
    """
    if kind not in NAMES:
        raise FormatError(f"kind: expected one of {', '.join(NAMES)}")
    taken = {thing.id for thing in file.things}
    number = next(k for k in range(1, len(taken) + 2) if f"{kind}-{k}" not in taken)
    count = sum(thing.kind == kind for thing in file.things)
    fields: dict[str, Any] = {
        "id": f"{kind}-{number}",
        "kind": kind,
        "name": str(NAMES[kind]) if count == 0 else f"{NAMES[kind]} {count + 1}",
    }
    if kind == "section":
        if of is None or not any(thing.id == of and thing.kind != "section" for thing in file.things):
            raise FormatError("of: a section goes through a thing")
        return THING.validate_python(fields | {"of": of, "along": "x", "share": 0.5})
    placed = tuple(p for p in set_up(stand_of(file), {}, COARSEST_M) if p.own is not None)
    right, middle, height = 0.0, 0.0, ALONE_M
    if placed:
        low, high = extent_in_room(placed)
        height = min(MOST_M, max(LEAST_M, SHARE * float(high[2] - low[2])))
        right, middle = float(high[0]), float(low[1] + high[1]) / 2
    height = {"figure": GROWN_M, "building": max(height, WALLS_M)}.get(kind, height)
    fields |= _scaled(SHAPES[kind], height)
    alone = set_up(stand_of(StandFile(things=[THING.validate_python(fields)])), {}, COARSEST_M)
    at = right + GAP * height + float(-extent_in_room(alone)[0][0]) if placed else 0.0
    return THING.validate_python(fields | {"at_m": [round(at, 3), round(middle, 3)]})


def _scaled(shape: Any, height: float) -> Any:
    """``shape`` in metres; the numbers of smooth points are no lengths."""
    if isinstance(shape, dict):
        return {key: value if key == "smooth" else _scaled(value, height) for key, value in shape.items()}
    if isinstance(shape, list):
        return [_scaled(one, height) for one in shape]
    return round(shape * height, 4)
