"""Where a plane cuts a thing."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.lines import Floats
from aspectum.core.stand.setting import Placed
from aspectum.core.stand.solid import Solid
from aspectum.core.stand.things import Section

AXIS = {"x": 0, "y": 1, "z": 2}
ROUND = 360  # turns about the axis at which a band is cut


@dataclass(frozen=True)
class Cut:
    """Straight pieces from ``p`` to ``q`` (k, 3) of the room that follow one another on one ``patch`` of the thing."""

    p: Floats
    q: Floats
    patch: int


def section_lines(section: Section, body: Placed) -> list[Cut]:
    """Where the plane of ``section`` meets the surface of ``body``.

    Flat faces are cut exactly; a band's curve is followed from turn to turn about its axis.
    """
    solid = body.body
    axis = AXIS[section.along]
    normal = body.frame.turn[:, axis]
    low, high = float(solid.low[axis]), float(solid.high[axis])
    offset = float(normal @ body.frame.at) + low + section.share * (high - low)
    found = _faces_cut(solid, normal, offset)
    for lathe in solid.lathes:
        turns = np.linspace(0.0, 2 * np.pi, ROUND + 1)
        out = np.cos(turns)[:, None] * lathe.first_way + np.sin(turns)[:, None] * lathe.second_way
        circles = (
            lathe.origin + lathe.height[:, None, None] * lathe.axis + lathe.radius[:, None, None] * out
        )  # (n, turns, 3)
        side = circles @ normal - offset
        for band in range(len(lathe.normals)):
            a, b = side[band], side[band + 1]
            # where a circle lies in the plane itself the next band up has it
            crossing = (a <= 0) != (b <= 0)
            share = np.divide(a, a - b, out=np.zeros_like(a), where=a != b)
            at = circles[band] + share[:, None] * (circles[band + 1] - circles[band])
            kept = np.flatnonzero(crossing[:-1] & crossing[1:])
            for run in np.split(kept, np.flatnonzero(np.diff(kept) > 1) + 1):
                if len(run):
                    found.append(Cut(at[run], at[run + 1], solid.faces + lathe.first + band))
    return found


def _faces_cut(solid: Solid, normal: Floats, offset: float) -> list[Cut]:
    found = []
    for f in range(solid.faces):
        sides = solid.sides[solid.side_start[f] : solid.side_start[f + 1]]
        across, along, origin = solid.across[f], solid.along[f], solid.normal[f] * solid.offset[f]
        p = origin + sides[:, 0:1] * across + sides[:, 1:2] * along
        q = origin + sides[:, 2:3] * across + sides[:, 3:4] * along
        a, b = p @ normal - offset, q @ normal - offset
        crossing = (a <= 0) != (b <= 0)
        if not crossing.any():
            continue
        met = p[crossing] + (a[crossing] / (a[crossing] - b[crossing]))[:, None] * (q[crossing] - p[crossing])
        met = met[np.argsort(met @ np.cross(solid.normal[f], normal))]
        found += [Cut(met[k : k + 1], met[k + 1 : k + 2], f) for k in range(0, len(met) - 1, 2)]
    return found
