"""The exact drawing of a set-up: every edge, rim and outline as the eye sees it, and which parts of them
nothing hides.
"""

from __future__ import annotations

import math

from aspectum.core.stand.camera import View
from aspectum.core.stand.drawn import Drawing, Seen
from aspectum.core.stand.figures import CURVE_PX
from aspectum.core.stand.gather import Lines, gather, patch_numbers, turned_to_eye
from aspectum.core.stand.setting import Placed, set_up
from aspectum.core.stand.shadows import cast_shadows
from aspectum.core.stand.sketch import Sketch
from aspectum.core.stand.things import Section, Stand

# chord errors in the room: 4 mm suit any first look, below 60 nm rounding is larger
COARSEST_M, FINEST_M = 2.0**-8, 2.0**-24
LEAST_NEAR_M = 0.1  # nearer to the eye than this a curve is cut no finer
LARGEST_PARALLEL = 1.5  # by which a parallel view enlarges at most: an oblique one's depth along the picture's diagonal


def tolerance_m(placed: Placed, view: View) -> float:
    """How far a curve of a thing may leave its true place so that it shows by no more than ``CURVE_PX`` where it is
    nearest to the eye: a power of two, so that a thing is not made anew at every step.
    """
    nearest = max(float(view.depths(placed.box).min()), LEAST_NEAR_M)
    scale = view.focal_px / nearest if view.parallel is None else view.px_per_m * LARGEST_PARALLEL
    return float(min(COARSEST_M, max(FINEST_M, 2.0 ** math.floor(math.log2(CURVE_PX / scale)))))


def draw(stand: Stand, view: View) -> Drawing:
    """The exact drawing of ``stand`` in ``view``. Raises ``StandError`` for a set-up that cannot be."""
    return draw_placed(set_up_for(stand, view), view, stand.sun_deg)


def set_up_for(stand: Stand, view: View) -> tuple[Placed, ...]:
    """Every thing where it stands, its curves as fine as ``view`` shows them."""
    rough = set_up(stand, {}, COARSEST_M)
    return set_up(stand, {p.thing.id: tolerance_m(p, view) for p in rough if p.own is not None}, COARSEST_M)


def draw_placed(placed: tuple[Placed, ...], view: View, sun_deg: tuple[float, float] | None = None) -> Drawing:
    """The exact drawing of things that are set up, with their shadows where a sun stands."""
    bodies = [p for p in placed if p.own is not None]
    solids = [p.body for p in bodies]
    first = patch_numbers(solids)
    sketch = Sketch(view, Lines(view))
    for number, (body, start) in enumerate(zip(bodies, first, strict=True)):
        sketch.take_edges(body, number, start)
        sketch.take_rims(body, number, start)
        sketch.take_contours(body, number, start)
    for p in placed:
        if isinstance(p.thing, Section):
            number = next(i for i, b in enumerate(bodies) if b.thing.id == p.thing.of)
            sketch.take_section(p.thing, bodies[number], number, first[number])
    for shadow in cast_shadows(placed, sun_deg) if sun_deg is not None else []:
        sketch.take_shadow(shadow.thing, shadow.arc, shadow.geometry, shadow.span, shadow.turned)
    pieces = sketch.lines.pieces()
    return sketch.finished(
        pieces,
        *sketch.lines.seen(pieces, gather(solids, view)),
        placed,
        bodies,
        tuple(_seen(view, body) for body in bodies),
    )


def _seen(view: View, body: Placed) -> Seen:
    """Below eye level the top shows, above it the underside; what straddles it shows neither (handbook section 1)."""
    solid = body.body
    base = float(body.frame.at[2] + solid.low[2])
    top = float(body.frame.at[2] + solid.high[2])
    if view.parallel is None:
        above, below = view.eye_m[2] > top, view.eye_m[2] < base
    else:
        above, below = view.towards[2] < -1e-9, view.towards[2] > 1e-9
    faces: tuple[str, ...] = ()
    if solid.faces:
        front = turned_to_eye(solid, view)
        faces = tuple(dict.fromkeys(name for name, shows in zip(solid.face_name, front, strict=True) if shows))
    return Seen(body.thing.id, "top" if above else "underside" if below else "neither", faces)
