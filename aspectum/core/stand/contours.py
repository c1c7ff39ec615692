"""The outline of what is turned: where its surface turns away from the eye.

On a band, a part of a cone, it is a straight line to the apex: the same turn about the axis from the near side all
along it (handbook section 3: sides meet rims without a corner). Where two bands meet in a smooth profile it runs on
along the circle between them.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.lines import Flags, Floats, Ints
from aspectum.core.stand.camera import View
from aspectum.core.stand.solid import Lathe

SIDE = 1e-9  # radians from the near or far side within which a band has no outline


@dataclass(frozen=True)
class Turning:
    """How the eye sees a lathe: ``near`` the turn about its axis of the side towards the eye, and for each band (n -
    1,) ``away``, how far to either side of that its surface turns away: 0 or π where it turns nowhere; not a number for
    flat bands.
    """

    near: float
    away: Floats

    def turns(self, band: int) -> tuple[float, ...]:
        """PhotoQueue at which the outline runs up a band."""
        away = float(self.away[band])
        return (self.near - away, self.near + away) if SIDE < away < np.pi - SIDE else ()


def turning(lathe: Lathe, view: View) -> Turning:
    """From the bands' normals: n·(point − eye) is nil on the outline, which on one band fixes the cosine of
    the turn.
    """
    way = view.to_viewer(lathe.origin)
    up = float(way @ lathe.axis)
    x, y = float(way @ lathe.first_way), float(way @ lathe.second_way)
    out, along = lathe.normals[:, 0], lathe.normals[:, 1]
    needed = out * lathe.radius[:-1] + along * (lathe.height[:-1] - up) if view.parallel is None else -along * up
    reach = out * np.hypot(x, y)
    with np.errstate(divide="ignore", invalid="ignore"):
        cosine = np.where(np.abs(out) > 0, needed / reach, np.nan)
    return Turning(float(np.arctan2(y, x)), np.arccos(np.clip(cosine, -1.0, 1.0)))


@dataclass(frozen=True)
class Contour:
    """The outline of a lathe in pieces, in order up one side of it and then up the other: ``straight`` (k,) pieces run
    from circle ``circle`` to the next at one turn, the others along circle ``circle`` from one of ``turns`` (k, 2) to
    the other; ``chain`` (k,) counts the lines that run on without a corner.
    """

    straight: Flags
    circle: Ints
    turns: Floats
    chain: Ints


def contour(lathe: Lathe, seen: Turning) -> Contour:
    """The outline of ``lathe``; on flat bands there is none."""
    away, bands = seen.away, len(lathe.normals)
    line = (away > SIDE) & (away < np.pi - SIDE)
    # the circle at a band's start carries the outline on from the band before, where both turn away in different places
    arc = np.zeros(bands, dtype=bool)
    with np.errstate(invalid="ignore"):
        arc[1:] = ~lathe.corner[1:bands] & (np.abs(np.diff(away)) > SIDE)
    circle = np.repeat(np.arange(bands), 2)
    straight = np.tile([False, True], bands)
    before = np.append(np.nan, away[:-1])
    turns = np.stack([np.stack([before, away], axis=1), np.stack([away, away], axis=1)], axis=1).reshape(-1, 2)
    kept = np.stack([arc, line], axis=1).ravel()
    # a chain ends at a corner, and where neither the band nor the circle at its end has an outline
    place = np.flatnonzero(kept)
    fresh = np.ones(len(place), dtype=bool)
    if len(place):
        gap = circle[place[1:]] - circle[place[:-1]]
        joined = np.where(straight[place[1:]], (gap == 0) | ((gap == 1) & ~arc[circle[place[1:]]]), gap == 1)
        fresh[1:] = ~joined | (straight[place[1:]] & (gap == 1) & lathe.corner[circle[place[1:]]])
    chain = np.cumsum(fresh) - 1
    count = int(chain[-1]) + 1 if len(chain) else 0
    return Contour(
        np.tile(straight[place], 2),
        np.tile(circle[place], 2),
        seen.near + np.vstack([-turns[place], turns[place]]),
        np.concatenate([chain, chain + count]),
    )
