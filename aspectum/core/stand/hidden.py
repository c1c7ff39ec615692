"""What hides what: every piece of line is cut where its visibility can change, and each part is settled by one line of
sight.

It can change only where the piece crosses another line of the picture or goes through a surface (Appel, Proc. 22nd ACM
National Conference, 1967), so that the parts between are wholly seen or wholly hidden.
"""

from __future__ import annotations

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.lines import Floats, Ints
from aspectum.core.stand.crossings import Images, Occluders, Pieces, crossings, images, piercings, point_of, room_share

ON_SURFACE = 1e-7  # share of the way to the eye within which a surface is met by a point that lies on it
LEAST_PX = 1e-3  # parts of a line shorter than this take after the part before
LEAST_TURN = 1e-7  # of a round: shorter stretches are rounding


@compiled
def covered(point: Floats, way: Floats, x: float, y: float, through: bool, beside: Ints, surfaces: Occluders) -> bool:
    """Whether a surface is met between ``point`` (3,) and the eye, which lies one ``way`` (3,) on; ``through``:
    anywhere on the whole line. ``x``, ``y``: the point's image. A flat patch in ``beside`` is met nowhere else; a band
    there may be met a second time.
    """
    normal, offset, across, along = surfaces.normal, surfaces.offset, surfaces.across, surfaces.along
    faces = len(surfaces.offset)
    for t in range(len(surfaces.thing_box)):
        box = surfaces.thing_box[t]
        if not (box[0] <= x <= box[2] and box[1] <= y <= box[3]):
            continue
        for f in range(surfaces.face_of[t], surfaces.face_of[t + 1]):
            box = surfaces.patch_box[f]
            if not (box[0] <= x <= box[2] and box[1] <= y <= box[3]) or _is_in(f, beside):
                continue
            facing = normal[f, 0] * way[0] + normal[f, 1] * way[1] + normal[f, 2] * way[2]
            if facing == 0.0:
                continue
            share = (offset[f] - normal[f, 0] * point[0] - normal[f, 1] * point[1] - normal[f, 2] * point[2]) / facing
            if not through and not ON_SURFACE < share <= 1.0:
                continue
            hx, hy, hz = point[0] + share * way[0], point[1] + share * way[1], point[2] + share * way[2]
            u = across[f, 0] * hx + across[f, 1] * hy + across[f, 2] * hz
            v = along[f, 0] * hx + along[f, 1] * hy + along[f, 2] * hz
            if _is_inside(u, v, surfaces.sides, surfaces.side_start[f], surfaces.side_start[f + 1]):
                return True
        for m in range(surfaces.band_of[t], surfaces.band_of[t + 1]):
            box = surfaces.patch_box[faces + m]
            if (
                box[0] <= x <= box[2]
                and box[1] <= y <= box[3]
                and _meets_band(point, way, surfaces.bands[m], through, _is_in(faces + m, beside))
            ):
                return True
    return False


@compiled
def _is_inside(u: float, v: float, sides: Floats, first: int, end: int) -> bool:
    """Whether a point of a face's plane lies within the ``sides`` from ``first`` up to ``end``: a ray from it crosses
    an odd number of them.
    """
    inside = False
    for s in range(first, end):
        if (sides[s, 1] > v) != (sides[s, 3] > v) and u < sides[s, 0] + (v - sides[s, 1]) / (
            sides[s, 3] - sides[s, 1]
        ) * (sides[s, 2] - sides[s, 0]):
            inside = not inside
    return inside


@compiled
def _is_in(patch: int, beside: Ints) -> bool:
    return beside[0] == patch or beside[1] == patch or beside[2] == patch or beside[3] == patch


@compiled
def _meets_band(point: Floats, way: Floats, band: Floats, through: bool, beside: bool) -> bool:
    height, climb = 0.0, 0.0
    for k in range(3):
        height += (point[k] - band[k]) * band[3 + k]
        climb += way[k] * band[3 + k]
    z0, r0, z1, r1 = band[6], band[7], band[8], band[9]
    if z0 == z1:
        if beside or climb == 0.0:
            return False
        share = (z0 - height) / climb
        if not through and not ON_SURFACE < share <= 1.0:
            return False
        square = 0.0
        for k in range(3):
            d = point[k] - band[k] + share * way[k] - z0 * band[3 + k]
            square += d * d
        return min(r0, r1) ** 2 < square < max(r0, r1) ** 2
    slope = (r1 - r0) / (z1 - z0)
    radius, widening = r0 + slope * (height - z0), slope * climb
    a, b, c = -widening * widening, -radius * widening, -radius * radius
    for k in range(3):
        p, w = point[k] - band[k] - height * band[3 + k], way[k] - climb * band[3 + k]
        a, b, c = a + w * w, b + p * w, c + p * p
    low, high = min(z0, z1), max(z0, z1)
    square = b * b - a * c
    if square <= 0.0 and not beside:
        return False
    if a == 0.0:
        return False
    root = np.sqrt(max(square, 0.0))
    first, second = (-b - root) / a, (-b + root) / a
    if beside:
        # the point itself is one meeting: only the other counts
        other = first if abs(first) > abs(second) else second
        if abs(other) < ON_SURFACE:
            return False
        first, second = other, other
    for k in range(2):
        share = first if k == 0 else second
        if through or ON_SURFACE < share <= 1.0:
            z = height + share * climb
            if low < z < high and radius + share * widening > 0.0:
                return True
    return False


@compiled
def settle(
    pieces: Pieces,
    drawn: Images,
    eye: Floats,
    parallel: bool,
    through: bool,
    number: Ints,
    at: Floats,
    surfaces: Occluders,
) -> tuple[Ints, Floats]:
    """The seen parts of every piece: which piece (K,), and from where to where (K, 2), in shares of the drawn line or
    in turns.
    """
    arc, geometry, span, ends, maps = pieces.arc, pieces.geometry, pieces.span, drawn.ends, drawn.maps
    n = len(arc)
    start = np.zeros(n + 1, np.intp)
    for k in range(len(number)):
        start[number[k] + 1] += 1
    for i in range(n):
        start[i + 1] += start[i]
    place, fill = np.empty(len(number)), start[:n].copy()
    for k in range(len(number)):
        place[fill[number[k]]] = at[k]
        fill[number[k]] += 1
    seen_of, seen = np.empty(len(number) + n, np.intp), np.empty((len(number) + n, 2))
    count = 0
    point, way = np.empty(3), np.empty(3)
    for i in range(n):
        cuts = np.sort(place[start[i] : start[i + 1]])
        least = (
            LEAST_TURN
            if arc[i]
            else LEAST_PX / max(np.hypot(ends[i, 2] - ends[i, 0], ends[i, 3] - ends[i, 1]), LEAST_PX)
        )
        begin, showing = span[i, 0], False
        fresh = True
        for k in range(len(cuts) + 1):
            end = span[i, 1] if k == len(cuts) else min(max(cuts[k], span[i, 0]), span[i, 1])
            if end - begin <= least and not (fresh and k == len(cuts)):
                continue
            middle = 0.5 * (begin + end)
            if arc[i]:
                point_of(True, geometry[i], middle, point)
                c, s, h = np.cos(middle), np.sin(middle), maps[i]
                w = h[2, 0] * c + h[2, 1] * s + h[2, 2]
                x, y = (h[0, 0] * c + h[0, 1] * s + h[0, 2]) / w, (h[1, 0] * c + h[1, 1] * s + h[1, 2]) / w
            else:
                point_of(False, geometry[i], room_share(middle, drawn.depth[i]), point)
                x, y = ends[i, 0] + middle * (ends[i, 2] - ends[i, 0]), ends[i, 1] + middle * (ends[i, 3] - ends[i, 1])
            for c3 in range(3):
                way[c3] = eye[c3] if parallel else eye[c3] - point[c3]
            shows = not covered(point, way, x, y, through, pieces.beside[i], surfaces)
            if shows and showing:
                seen[count - 1, 1] = end
            elif shows:
                seen_of[count], seen[count, 0], seen[count, 1] = i, begin, end
                count += 1
            begin, showing, fresh = end, shows, False
        if showing:
            seen[count - 1, 1] = span[i, 1]
    return seen_of[:count], seen[:count]


def seen_parts(
    pieces: Pieces,
    cuts: tuple[Ints, Floats],
    occluders: Occluders,
    matrix: Floats,
    eye: Floats,
    parallel: bool,
    through: bool = False,
) -> tuple[Ints, Floats]:
    """Which parts of ``pieces`` nothing hides: piece numbers (K,) and from where to where (K, 2), straight ones in
    shares of the drawn line, arcs in turns.

    ``matrix`` (3, 4) projects; ``eye`` (3,) is its place, or in a ``parallel`` view the way to it, long enough to leave
    every thing behind. ``cuts``: places known beforehand where a piece's visibility may change. ``through``: hidden
    also by what lies behind.
    """
    drawn, known = images(pieces, matrix), len(cuts[0])
    room = known + 4 * len(pieces.arc) + 64
    number, at = np.empty(room, dtype=np.intp), np.empty(room)
    number[:known], at[:known] = cuts
    number, at, count = crossings(pieces, drawn, number, at, known)
    number, at, count = piercings(pieces, drawn, occluders, number, at, count)
    found: tuple[Ints, Floats] = settle(pieces, drawn, eye, parallel, through, number[:count], at[:count], occluders)
    return found
