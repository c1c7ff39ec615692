"""Pieces of line as what is drawn of them: exact ellipses, and curves through points."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from aspectum.core.plane.ellipses import Ellipse, halves
from aspectum.core.plane.lines import Flags, Floats, Ints
from aspectum.core.sightings import Plane
from aspectum.core.stand.camera import View
from aspectum.core.stand.crossings import Pieces
from aspectum.core.stand.drawn import Curve, DrawnRim, Parts
from aspectum.core.stand.meetings import EDGE_ON

CURVE_PX = 0.04  # by which a curve that is no conic may leave its true place; it must keep 0.05 px
TOUCHING = 1e-9  # turns that differ by less are one


def rims_of(
    view: View, rims: list[tuple[str, str, Plane | None, int]], geometry: Floats, numbers: Ints, parts: Floats
) -> tuple[DrawnRim, ...]:
    """The circles' exact images: the dual conic of (cos t, sin t, 1) carried through each one's map, about the image of
    the circle's own centre. All lie before the viewer, so that all are ellipses.
    """
    matrix, pieces = view.matrix, np.array([i for _, _, _, i in rims], dtype=np.intp)
    g = geometry[pieces]
    h = np.stack(
        [g[:, 3:6] @ matrix[:, :3].T, g[:, 6:9] @ matrix[:, :3].T, g[:, :3] @ matrix[:, :3].T + matrix[:, 3]], axis=2
    )
    middle = h[:, :2, 2] / h[:, 2:, 2]
    about = h.copy()
    about[:, :2] -= middle[:, :, None] * h[:, 2:]
    dual = (
        about[:, :, None, 0] * about[:, None, :, 0]
        + about[:, :, None, 1] * about[:, None, :, 1]
        - about[:, :, None, 2] * about[:, None, :, 2]
    )
    shift = dual[:, :2, 2] / dual[:, 2:, 2]
    square = shift[:, :, None] * shift[:, None, :] - dual[:, :2, :2] / dual[:, 2:, 2:]
    found = []
    for k, (thing, name, plane, i) in enumerate(rims):
        major, minor, angle = halves(square[k, 0, 0], square[k, 0, 1], square[k, 1, 1])
        (mx, my), (sx, sy) = middle[k].tolist(), shift[k].tolist()
        ellipse = Ellipse.of_halves((mx + sx, my + sy), float(major), float(minor), float(angle))
        drawn = DrawnRim(thing, name, plane, ellipse, (mx, my), (), g[k].reshape(3, 3))
        seen = parts[np.searchsorted(numbers, i) : np.searchsorted(numbers, i, side="right")]
        found.append(replace(drawn, visible=_turns_of(drawn, about[k], seen)))
    return tuple(found)


def _turns_of(rim: DrawnRim, about: Floats, seen: Floats) -> Parts:
    """PhotoQueue in space (k, 2) as parts of the ellipse's own turn; ``about`` maps them to homogeneous pixels from the
    image of the circle's centre.
    """
    if not len(seen):
        return ()
    if seen[0, 1] - seen[0, 0] > 2 * math.pi - TOUCHING:
        return ((0.0, 1.0),)
    tilt = math.radians(rim.major_tilt_deg)
    major, minor = rim.ellipse.major_px / 2, rim.ellipse.minor_px / 2
    turns = np.stack([seen[:, 0], seen.mean(axis=1), seen[:, 1]])
    x, y, w = (about[k, 0] * np.cos(turns) + about[k, 1] * np.sin(turns) + about[k, 2] for k in range(3))
    dx = x / w + rim.middle_px[0] - rim.ellipse.centre_px[0]
    dy = y / w + rim.middle_px[1] - rim.ellipse.centre_px[1]
    right = (dx * math.cos(tilt) - dy * math.sin(tilt)) / major
    if minor > EDGE_ON * major:
        high = (-dx * math.sin(tilt) - dy * math.cos(tilt)) / minor
    else:  # seen edge-on the near half counts as the lower one
        high = np.sign(w - about[2, 2]) * np.sqrt(np.maximum(0.0, 1.0 - right**2))
    start, between, end = np.arctan2(high, right) / (2 * math.pi) % 1.0
    clockwise = (between - start) % 1.0 > (end - start) % 1.0
    start, end = np.where(clockwise, end, start), np.where(clockwise, start, end)
    over = start >= end  # it runs on past the right end
    return merged(
        np.vstack(
            [np.column_stack([start, np.where(over, 1.0, end)]), np.column_stack([np.zeros(over.sum()), end[over]])]
        )
    )


def merged(parts: Floats) -> Parts:
    """Parts (k, 2) in order, those that touch as one, without empty ones."""
    if not len(parts):
        return ()
    ordered = parts[np.argsort(parts[:, 0], kind="stable")]
    reach = np.maximum.accumulate(ordered[:, 1])
    fresh = np.append(True, ordered[1:, 0] > reach[:-1] + TOUCHING)
    starts = ordered[fresh, 0].tolist()
    ends = reach[np.append(np.flatnonzero(fresh)[1:] - 1, len(reach) - 1)].tolist()
    return tuple((a, b) for a, b in zip(starts, ends, strict=True) if b - a > TOUCHING)


def curve_of(
    view: View, thing: str, name: str, pieces: Pieces, chain: Ints, turned: Flags, numbers: Ints, parts: Floats
) -> Curve:
    """A chain of pieces, some ``turned`` end for end, as one line of points; arcs are cut so that they keep to
    ``CURVE_PX``.

    ``parts`` (K, 2) of the pieces ``numbers`` (K,), in order, are seen.
    """
    geometry, span, arc = pieces.geometry[chain], pieces.span[chain], pieces.arc[chain]
    steps = np.where(arc, _steps(view, geometry, span), 1)
    # where every point lies: on which piece, and how far along it
    of = np.repeat(np.arange(len(chain)), steps)
    begun = np.cumsum(steps) - steps
    share = (np.arange(len(of)) - begun[of]) / steps[of]
    of, share = np.append(of, len(chain) - 1), np.append(share, 1.0)
    at = np.where(turned[of], 1.0 - share, share)
    turn = (span[of, 0] + at * (span[of, 1] - span[of, 0]))[:, None]
    g = geometry[of]
    line = g[:, :3] + at[:, None] * (g[:, 3:6] - g[:, :3])
    room = np.where(arc[of, None], g[:, :3] + np.cos(turn) * g[:, 3:6] + np.sin(turn) * g[:, 6:9], line)
    points = view.project(room)
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    total = float(along[-1])
    # parts seen of each piece, as shares of its own run: a straight piece's are of the drawn line already, an arc's
    # turns go from chord to chord
    first, last = np.searchsorted(numbers, chain), np.searchsorted(numbers, chain, side="right")
    of = np.repeat(np.arange(len(chain)), last - first)
    row = np.arange(len(of)) - np.repeat(np.cumsum(last - first) - last + first, last - first) + first[of]
    ends = (parts[row] - span[of, :1]) / (span[of, 1:] - span[of, :1])
    ends = np.where(turned[of, None], 1.0 - ends[:, ::-1], ends)
    places = np.interp(ends * steps[of, None] + begun[of, None], np.arange(len(along)), along)
    return Curve(thing, name, tuple(map(tuple, points.tolist())), merged(places / total if total > 0 else ends), room)


def _steps(view: View, geometry: Floats, span: Floats) -> Ints:
    """Into how many pieces arcs (k, 9) over ``span`` (k, 2) are cut: a chord over a turn d leaves a circle of radius r
    by r d²/8.
    """
    reach = np.maximum(np.linalg.norm(geometry[:, 3:6], axis=1), np.linalg.norm(geometry[:, 6:9], axis=1))
    if view.parallel is not None:
        scale = np.full(len(geometry), view.px_per_m * 1.5)
    else:
        depth = np.abs(view.depths(geometry[:, :3]))
        scale = view.focal_px / np.maximum(depth - reach, depth / 8)
    return np.maximum(
        1, np.ceil((span[:, 1] - span[:, 0]) / np.sqrt(8 * CURVE_PX / np.maximum(reach * scale, 1e-9)))
    ).astype(np.intp)
