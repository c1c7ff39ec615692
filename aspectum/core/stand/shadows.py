"""Cast shadows on level ground: the outline of what stands between the sun and the ground.

The sun is so far off that its rays are parallel: seen along them, the shadow's outline is that of all things together.
Shadows on the things themselves are left out.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.lines import Flags, Floats
from aspectum.core.stand.camera import View
from aspectum.core.stand.crossings import Pieces
from aspectum.core.stand.gather import Lines, gather, patch_numbers
from aspectum.core.stand.kinds import Parallel
from aspectum.core.stand.setting import Placed
from aspectum.core.stand.sketch import Sketch
from aspectum.core.stand.things import StandError

LOWEST_SUN_DEG = 2.0  # under which shadows run out of every picture
JOINED_M = 1e-6  # ends that differ by less are one corner of a shadow
End = tuple[int, ...]  # a thing's number, and the place where a piece of its shadow ends


@dataclass(frozen=True)
class Shadow:
    """A line of a shadow's outline on the ground, in pieces that follow one another: ``arc`` (k,), ``geometry`` (k, 9)
    and ``span`` (k, 2) as in ``Pieces``, and which are ``turned`` (k,) end for end. ``thing`` throws it.
    """

    thing: str
    arc: Flags
    geometry: Floats
    span: Floats
    turned: Flags


def cast_shadows(placed: tuple[Placed, ...], sun_deg: tuple[float, float]) -> list[Shadow]:
    """The outline of the shadow on level ground. ``sun_deg``: the heading at which the sun stands, and its height above
    level.

    Raises ``StandError`` for a sun that is too low, or beyond the zenith.
    """
    bearing, height = sun_deg
    if not LOWEST_SUN_DEG <= height <= 90.0:
        raise StandError("sun_deg", f"the sun stands {LOWEST_SUN_DEG:g} to 90 degrees high")
    bodies = [p for p in placed if p.own is not None]
    solids = [p.body for p in bodies]
    along = View(
        eye_m=(0.0, 0.0, 0.0), heading_deg=bearing + 180.0, pitch_deg=-height, parallel=Parallel.SQUARE, px_per_m=1000.0
    )
    sketch = Sketch(along, Lines(along))
    of: list[int] = []
    for number, (body, start) in enumerate(zip(bodies, patch_numbers(solids), strict=True)):
        sketch.take_edges(body, number, start, outline_only=True)
        sketch.take_rims(body, number, start)
        sketch.take_contours(body, number, start)
        of += [number] * (len(sketch.lines) - len(of))
    pieces = sketch.lines.pieces()
    numbers, parts = sketch.lines.seen(pieces, gather(solids, along), through=True)
    ground = [
        (of[number], *_on_ground(pieces, number, a, b, -along.towards))
        for number, (a, b) in zip(numbers.tolist(), parts.tolist(), strict=True)
    ]
    return _chained(ground, bodies)


def _on_ground(
    pieces: Pieces, number: int, a: float, b: float, sun: Floats
) -> tuple[bool, Floats, tuple[float, float]]:
    """The part ``a`` to ``b`` of a piece carried along the sun's rays to the ground."""
    g = pieces.geometry[number].reshape(3, 3)
    if not pieces.arc[number]:
        g = np.array([g[0] + a * (g[1] - g[0]), g[0] + b * (g[1] - g[0]), (0.0, 0.0, 0.0)])
        a, b = 0.0, 1.0
    return bool(pieces.arc[number]), (g - sun * (g[:, 2:] / sun[2])).ravel(), (a, b)


def _chained(ground: list[tuple[int, bool, Floats, tuple[float, float]]], bodies: list[Placed]) -> list[Shadow]:
    """Pieces of one thing's shadow that follow one another as one line; those that stand on end towards the sun have no
    length and are left out.
    """
    ends: dict[int, tuple[End, End]] = {}
    meets: dict[End, list[int]] = {}
    for k, (thing, arc, geometry, span) in enumerate(ground):
        start, end = ((thing, *(round(float(v) / JOINED_M) for v in p[:2])) for p in _ends(arc, geometry, span))
        if start != end or arc:
            ends[k] = start, end
            for place in (start, end):
                meets.setdefault(place, []).append(k)
    found = []
    left = dict.fromkeys(ends)
    # lines with an open end are begun there
    begin = [k for k in ends if any(len(meets[place]) == 1 for place in ends[k])]
    for first in [*begin, *ends]:
        if first not in left:
            continue
        piece: int | None = first
        at = next((place for place in ends[first] if len(meets[place]) == 1), ends[first][0])
        chain, turned = [], []
        while piece is not None:
            left.pop(piece)
            chain.append(piece)
            turned.append(ends[piece][0] != at)
            at = ends[piece][0] if turned[-1] else ends[piece][1]
            piece = next((m for m in meets[at] if m in left), None)
        pieces = [ground[k] for k in chain]
        found.append(
            Shadow(
                bodies[pieces[0][0]].thing.id,
                np.array([arc for _, arc, _, _ in pieces]),
                np.array([geometry for _, _, geometry, _ in pieces]),
                np.array([span for _, _, _, span in pieces]),
                np.array(turned),
            )
        )
    return found


def _ends(arc: bool, g: Floats, span: tuple[float, float]) -> Floats:
    if not arc:
        return g[:6].reshape(2, 3)
    turns = np.array(span)[:, None]
    return np.asarray(g[:3] + np.cos(turns) * g[3:6] + np.sin(turns) * g[6:9])
