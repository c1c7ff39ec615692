"""Where a line's visibility can change: where it crosses another line of the picture, and where it goes through a
surface.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.lines import Flags, Floats, Ints
from aspectum.core.stand.meetings import (
    EDGE_ON,
    carried_form,
    conic_of,
    form_turns,
    grown,
    linear_turns,
    straight_meet,
    within,
)

OVERLAP_M = 1e-6  # by which the boxes of two things must overlap for one to run into the other
SAMPLES, FEW_SAMPLES = (
    32,
    8,
)  # at which the extent of an arc's image is looked at, of a short one's; the padding covers what lies between
PADDING = 0.005  # of a part's size: boxes that only touch are still compared


class Occluders(NamedTuple):
    """Surfaces of all things, concatenated: faces as in ``Solid``, then bands. ``patch_box`` (F + B, 4) bounds each
    patch in the picture, ``thing_box`` (T, 4) each thing; the t-th thing has the faces from ``face_of[t]`` and the
    bands from ``band_of[t]``; ``room_box`` (T, 6) bounds it in the room.
    """

    normal: Floats
    offset: Floats
    across: Floats
    along: Floats
    sides: Floats
    side_start: Ints
    bands: Floats
    patch_box: Floats
    thing_box: Floats
    face_of: Ints
    band_of: Ints
    room_box: Floats


class Pieces(NamedTuple):
    """Lines to be seen or hidden. ``arc`` (P,); ``geometry`` (P, 9): both ends of a straight piece in its first six,
    else centre and the two ways of an ellipse in the room; ``span`` (P, 2): its turns. ``beside`` (P, 4): patches that
    it lies on, -1 where fewer; ``owner`` (P,): its thing, -1 for the ground's. Every point lies before the picture's
    plane.
    """

    arc: Flags
    geometry: Floats
    span: Floats
    beside: Ints
    owner: Ints


class Images(NamedTuple):
    """The pieces in the picture: ``ends`` (P, 4) px of straight ones and of arcs seen ``edge_on`` (P,), ``depth`` (P,
    2) of a straight one's ends, ``maps`` (P, 3, 3) of arcs, and the ``box`` (P, 4) round each.
    """

    ends: Floats
    depth: Floats
    maps: Floats
    edge_on: Flags
    box: Floats


@compiled
def point_of(arc: bool, geometry: Floats, at: float, point: Floats) -> None:
    """Point (3,) of a piece: at a share of its length in the room, or at a turn."""
    if arc:
        c, s = np.cos(at), np.sin(at)
        for k in range(3):
            point[k] = geometry[k] + c * geometry[3 + k] + s * geometry[6 + k]
    else:
        for k in range(3):
            point[k] = geometry[k] + at * (geometry[3 + k] - geometry[k])


@compiled
def images(pieces: Pieces, matrix: Floats) -> Images:
    """What ``matrix`` (3, 4) projects the pieces to."""
    arc, geometry, span, n = pieces.arc, pieces.geometry, pieces.span, len(pieces.arc)
    ends, depth, maps = np.zeros((n, 4)), np.ones((n, 2)), np.zeros((n, 3, 3))
    edge_on, box = np.zeros(n, np.bool_), np.empty((n, 4))
    seen = np.empty((3, 3))
    for i in range(len(arc)):
        if arc[i]:
            for r in range(3):
                for c in range(3):
                    part = geometry[i, (3, 6, 0)[c] : (3, 6, 0)[c] + 3]
                    maps[i, r, c] = matrix[r, 0] * part[0] + matrix[r, 1] * part[1] + matrix[r, 2] * part[2]
                maps[i, r, 2] += matrix[r, 3]
            _arc_box(maps[i], span[i], box[i])
            edge_on[i] = _edge_on(maps[i], span[i], ends[i])
        else:
            for e in range(2):
                for r in range(3):
                    seen[e, r] = (
                        matrix[r, 0] * geometry[i, 3 * e]
                        + matrix[r, 1] * geometry[i, 3 * e + 1]
                        + matrix[r, 2] * geometry[i, 3 * e + 2]
                        + matrix[r, 3]
                    )
                depth[i, e] = seen[e, 2]
                ends[i, 2 * e], ends[i, 2 * e + 1] = seen[e, 0] / seen[e, 2], seen[e, 1] / seen[e, 2]
            for r in range(2):
                box[i, r] = min(ends[i, r], ends[i, 2 + r])
                box[i, 2 + r] = max(ends[i, r], ends[i, 2 + r])
    return Images(ends, depth, maps, edge_on, box)


@compiled
def _arc_box(h: Floats, span: Floats, box: Floats) -> None:
    box[0], box[1], box[2], box[3] = np.inf, np.inf, -np.inf, -np.inf
    samples = SAMPLES if span[1] - span[0] > 1.0 else FEW_SAMPLES
    for k in range(samples + 1):
        t = span[0] + (span[1] - span[0]) * k / samples
        c, s = np.cos(t), np.sin(t)
        w = h[2, 0] * c + h[2, 1] * s + h[2, 2]
        x, y = (h[0, 0] * c + h[0, 1] * s + h[0, 2]) / w, (h[1, 0] * c + h[1, 1] * s + h[1, 2]) / w
        box[0], box[1], box[2], box[3] = min(box[0], x), min(box[1], y), max(box[2], x), max(box[3], y)
    pad = PADDING * (box[2] - box[0] + box[3] - box[1]) + 1e-6
    box[0], box[1], box[2], box[3] = box[0] - pad, box[1] - pad, box[2] + pad, box[3] + pad


@compiled
def _edge_on(h: Floats, span: Floats, ends: Floats) -> bool:
    """Whether an arc's image is a straight line; then both ends of it: where the map, as it is about the circle's
    centre, all but loses one way.
    """
    cx, cy = h[0, 2] / h[2, 2], h[1, 2] / h[2, 2]
    a, b = h[0, 0] - cx * h[2, 0], h[0, 1] - cx * h[2, 1]
    c, d = h[1, 0] - cy * h[2, 0], h[1, 1] - cy * h[2, 1]
    size = a * a + b * b + c * c + d * d
    if not abs(a * d - b * c) <= EDGE_ON * size:
        return False
    ux, uy = (a, c) if a * a + c * c > b * b + d * d else (b, d)
    length = np.hypot(ux, uy)
    ux, uy = ux / length, uy / length
    low, high = np.inf, -np.inf
    for k in range(SAMPLES + 1):
        t = span[0] + (span[1] - span[0]) * k / SAMPLES
        cos, sin = np.cos(t), np.sin(t)
        along = ((a * cos + b * sin) * ux + (c * cos + d * sin) * uy) / (h[2, 0] * cos + h[2, 1] * sin + h[2, 2])
        low, high = min(low, along), max(high, along)
    ends[0], ends[1], ends[2], ends[3] = cx + low * ux, cy + low * uy, cx + high * ux, cy + high * uy
    return True


@compiled
def crossings(pieces: Pieces, drawn: Images, number: Ints, at: Floats, count: int) -> tuple[Ints, Floats, int]:
    """Every place where two pieces cross in the picture, added to the lists ``number`` (which piece) and ``at`` (its
    share of the drawn line, or its turn).
    """
    arc, span, ends, maps, edge_on, box = pieces.arc, pieces.span, drawn.ends, drawn.maps, drawn.edge_on, drawn.box
    n = len(arc)
    turned, conic, form = np.empty((n, 3, 3)), np.empty((n, 3, 3)), np.empty((3, 3))
    proper = np.zeros(n, np.bool_)
    for i in range(n):
        if arc[i] and not edge_on[i]:
            proper[i] = conic_of(maps[i], turned[i], conic[i])
    found, shares = np.empty(8), np.empty((2, 2))
    order = np.argsort(box[:, 0])
    for first in range(n):
        a = order[first]
        for second in range(first + 1, n):
            b = order[second]
            if box[b, 0] > box[a, 2] + 1e-6:
                break
            if box[b, 1] > box[a, 3] + 1e-6 or box[a, 1] > box[b, 3] + 1e-6:
                continue
            number, at = grown(number, at, count + 16)
            if proper[a] and proper[b]:
                carried_form(conic[b], maps[a], form)
                met = form_turns(form, found)
                for k in range(met):
                    own = within(found[k], span[a, 0], span[a, 1])
                    other = within(_turn_at(maps[a], turned[b], found[k]), span[b, 0], span[b, 1])
                    if np.isfinite(own) and np.isfinite(other):
                        number[count], at[count], number[count + 1], at[count + 1] = a, own, b, other
                        count += 2
            elif proper[a] or proper[b]:
                curve, line = (a, b) if proper[a] else (b, a)
                x, y = ends[line, 2] - ends[line, 0], ends[line, 3] - ends[line, 1]
                across = ends[line, 1] * x - ends[line, 0] * y
                h = maps[curve]
                met = linear_turns(
                    h[0, 0] * y - h[1, 0] * x + h[2, 0] * across,
                    h[0, 1] * y - h[1, 1] * x + h[2, 1] * across,
                    h[0, 2] * y - h[1, 2] * x + h[2, 2] * across,
                    found,
                )
                for k in range(met):
                    own = within(found[k], span[curve, 0], span[curve, 1])
                    share = _share_at(h, found[k], ends[line])
                    if np.isfinite(own) and -1e-9 <= share <= 1.0 + 1e-9:
                        number[count], at[count] = curve, own
                        count += 1
                        number, at, count = _on_line(line, share, pieces, drawn, number, at, count)
            else:
                met = straight_meet(ends[a], ends[b], shares)
                for k in range(met):
                    if -1e-6 <= shares[k, 0] <= 1.0 + 1e-6:
                        number, at, count = _on_line(a, shares[k, 0], pieces, drawn, number, at, count)
                    if -1e-6 <= shares[k, 1] <= 1.0 + 1e-6:
                        number, at, count = _on_line(b, shares[k, 1], pieces, drawn, number, at, count)
    return number, at, count


@compiled
def _turn_at(h: Floats, turned: Floats, turn: float) -> float:
    """Turn, on the arc whose inverse map is ``turned``, of the image under ``h`` of ``turn``."""
    c, s = np.cos(turn), np.sin(turn)
    x, y, w = (
        h[0, 0] * c + h[0, 1] * s + h[0, 2],
        h[1, 0] * c + h[1, 1] * s + h[1, 2],
        h[2, 0] * c + h[2, 1] * s + h[2, 2],
    )
    u = turned[0, 0] * x + turned[0, 1] * y + turned[0, 2] * w
    v = turned[1, 0] * x + turned[1, 1] * y + turned[1, 2] * w
    z = turned[2, 0] * x + turned[2, 1] * y + turned[2, 2] * w
    return np.arctan2(v / z, u / z)


@compiled
def _share_at(h: Floats, turn: float, line: Floats) -> float:
    """Share of the drawn ``line`` (4,) at the image under ``h`` of ``turn``."""
    c, s = np.cos(turn), np.sin(turn)
    w = h[2, 0] * c + h[2, 1] * s + h[2, 2]
    x, y = (h[0, 0] * c + h[0, 1] * s + h[0, 2]) / w, (h[1, 0] * c + h[1, 1] * s + h[1, 2]) / w
    dx, dy = line[2] - line[0], line[3] - line[1]
    return ((x - line[0]) * dx + (y - line[1]) * dy) / max(dx * dx + dy * dy, 1e-300)


@compiled
def _on_line(
    piece: int, share: float, pieces: Pieces, drawn: Images, number: Ints, at: Floats, count: int
) -> tuple[Ints, Floats, int]:
    """Add a meeting at a ``share`` of a drawn straight line; of an arc seen edge-on, at both turns that fall there."""
    arc, span, ends, maps = pieces.arc, pieces.span, drawn.ends, drawn.maps
    number, at = grown(number, at, count)
    if not arc[piece]:
        number[count], at[count] = piece, min(max(share, 0.0), 1.0)
        return number, at, count + 1
    dx, dy = ends[piece, 2] - ends[piece, 0], ends[piece, 3] - ends[piece, 1]
    x, y = ends[piece, 0] + share * dx, ends[piece, 1] + share * dy
    h, found = maps[piece], np.empty(2)
    across = x * dx + y * dy
    met = linear_turns(
        h[0, 0] * dx + h[1, 0] * dy - h[2, 0] * across,
        h[0, 1] * dx + h[1, 1] * dy - h[2, 1] * across,
        h[0, 2] * dx + h[1, 2] * dy - h[2, 2] * across,
        found,
    )
    for k in range(met):
        own = within(found[k], span[piece, 0], span[piece, 1])
        if np.isfinite(own):
            number[count], at[count] = piece, own
            count += 1
    return number, at, count


@compiled
def piercings(
    pieces: Pieces, drawn: Images, surfaces: Occluders, number: Ints, at: Floats, count: int
) -> tuple[Ints, Floats, int]:
    """Every place where a piece goes through the plane of a face, or the cone of a band, of a thing that its own thing
    runs into; of straight pieces as shares of the drawn line.
    """
    meets = _running_in(surfaces.room_box)
    things, faces = len(surfaces.room_box), len(surfaces.offset)
    for i in range(len(pieces.arc)):
        if pieces.owner[i] < 0:
            continue
        for t in range(things):
            if not meets[pieces.owner[i], t]:
                continue
            for f in range(surfaces.face_of[t], surfaces.face_of[t + 1]):
                if not _apart(drawn.box[i], surfaces.patch_box[f]):
                    number, at, count = _through_face(
                        i, pieces, drawn, surfaces.normal[f], surfaces.offset[f], number, at, count
                    )
            for m in range(surfaces.band_of[t], surfaces.band_of[t + 1]):
                if not _apart(drawn.box[i], surfaces.patch_box[faces + m]):
                    number, at, count = _through_band(i, pieces, drawn, surfaces.bands[m], number, at, count)
    return number, at, count


@compiled
def _running_in(room_box: Floats) -> Flags:
    """Which things run into which, (T, T): their boxes overlap in every direction."""
    things = len(room_box)
    meets = np.zeros((things, things), np.bool_)
    for i in range(things):
        for j in range(things):
            meets[i, j] = i != j
            for k in range(3):
                if min(room_box[i, 3 + k], room_box[j, 3 + k]) - max(room_box[i, k], room_box[j, k]) <= OVERLAP_M:
                    meets[i, j] = False
    return meets


@compiled
def _through_face(
    i: int, pieces: Pieces, drawn: Images, normal: Floats, offset: float, number: Ints, at: Floats, count: int
) -> tuple[Ints, Floats, int]:
    """Add where the i-th piece goes through a face's plane."""
    found, b, geometry = np.empty(8), np.empty(3), pieces.geometry
    number, at = grown(number, at, count)
    if pieces.arc[i]:
        for k in range(3):
            b[k] = 0.0
            for c in range(3):
                b[k] += normal[c] * geometry[i, (3, 6, 0)[k] + c]
        met = linear_turns(b[0], b[1], b[2] - offset, found)
        return _turns_within(i, met, found, pieces.span, number, at, count)
    low, high = -offset, -offset
    for k in range(3):
        low += normal[k] * geometry[i, k]
        high += normal[k] * geometry[i, 3 + k]
    if low * high < 0.0:
        number[count], at[count] = i, drawn_share(low / (low - high), drawn.depth[i])
        count += 1
    return number, at, count


@compiled
def _through_band(
    i: int, pieces: Pieces, drawn: Images, band: Floats, number: Ints, at: Floats, count: int
) -> tuple[Ints, Floats, int]:
    """Add where the i-th piece goes through a band's cone, or its plane where the band is a flat ring."""
    found, form, a, b = np.empty(8), np.empty((3, 3)), np.empty((3, 3)), np.empty(3)
    geometry, arc = pieces.geometry, pieces.arc[i]
    number, at = grown(number, at, count)
    slope = (band[9] - band[7]) / (band[8] - band[6]) if band[8] != band[6] else 0.0
    ways = 3 if arc else 2
    # rows: out from the origin across the axis (three coordinates), then height; columns: the piece's ways and its
    # start
    for c in range(ways):
        start = (3, 6, 0)[c] if arc else (3, 0)[c]
        last = c == ways - 1
        height = 0.0
        for k in range(3):
            a[k, c] = geometry[i, start + k]
            if last:
                a[k, c] -= band[k]
            elif not arc:
                a[k, c] -= geometry[i, k]
            height += a[k, c] * band[3 + k]
        b[c] = height
        for k in range(3):
            a[k, c] -= height * band[3 + k]
    if band[8] == band[6]:
        if arc:
            met = linear_turns(b[0], b[1], b[2] - band[6], found)
            return _turns_within(i, met, found, pieces.span, number, at, count)
        if b[0] != 0.0 and 0.0 < (band[6] - b[1]) / b[0] < 1.0:
            number[count], at[count] = i, drawn_share((band[6] - b[1]) / b[0], drawn.depth[i])
            count += 1
        return number, at, count
    radius = np.empty(3)
    for c in range(ways):
        radius[c] = slope * b[c]
    radius[ways - 1] += band[7] - slope * band[6]
    for r in range(ways):
        for c in range(ways):
            form[r, c] = a[0, r] * a[0, c] + a[1, r] * a[1, c] + a[2, r] * a[2, c] - radius[r] * radius[c]
    if arc:
        met = form_turns(form, found)
        return _turns_within(i, met, found, pieces.span, number, at, count)
    square = form[0, 1] * form[0, 1] - form[0, 0] * form[1, 1]
    if square > 0.0 and form[0, 0] != 0.0:
        for sign in (-1.0, 1.0):
            share = (-form[0, 1] + sign * np.sqrt(square)) / form[0, 0]
            if 0.0 < share < 1.0:
                number[count], at[count] = i, drawn_share(share, drawn.depth[i])
                count += 1
    return number, at, count


@compiled
def _apart(a: Floats, b: Floats) -> bool:
    return b[0] > a[2] or a[0] > b[2] or b[1] > a[3] or a[1] > b[3]


@compiled
def _turns_within(
    piece: int, met: int, found: Floats, span: Floats, number: Ints, at: Floats, count: int
) -> tuple[Ints, Floats, int]:
    number, at = grown(number, at, count + 8)
    for k in range(met):
        own = within(found[k], span[piece, 0], span[piece, 1])
        if np.isfinite(own):
            number[count], at[count] = piece, own
            count += 1
    return number, at, count


@compiled
def drawn_share(share: float, depth: Floats) -> float:
    """Share of the drawn line at a ``share`` of its length in the room; ``depth`` (2,) of its ends."""
    return share * depth[1] / ((1.0 - share) * depth[0] + share * depth[1])


@compiled
def room_share(share: float, depth: Floats) -> float:
    """Share of the length in the room at a ``share`` of the drawn line; the other way round."""
    return share * depth[0] / ((1.0 - share) * depth[1] + share * depth[0])
