"""A picture's lines and circles under its view, with all that tells how sure each is."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from aspectum.core.finding.forms import gaps
from aspectum.core.finding.lines import Lines
from aspectum.core.finding.neighbours import neighbours
from aspectum.core.finding.search import AXIS_SD, circle_axes, doubt, find_guesses
from aspectum.core.finding.settle import NONE, Found, completed, settled
from aspectum.core.finding.slopes import Slope, find_slopes
from aspectum.core.finding.sureness import edge_inputs, rim_inputs
from aspectum.pictures.along import measure
from aspectum.pictures.curves import find_curves
from aspectum.pictures.round_lines import SeenCircle, SeenEllipse, find_circles, find_ellipses
from aspectum.pictures.straight_lines import find_segments, merged
from aspectum.pictures.tones import grey_of, reduced, spread

Floats = NDArray[np.float64]
Pixels = NDArray[np.uint8]

PARTNER_ASIDE, PARTNER_AWAY = (
    0.12,
    0.03,
)  # radii that partners' axes may lie apart, and how far along the axis (log) they must
MAIN_PILES = 3  # bearings whose planes circles are looked for in
MOST_LEVEL_AXES = 4  # of circles of other bearings
SIDE_COS, SIDE_PX, SIDE_SHARE = (
    np.cos(np.radians(8.0)),
    4.0,
    0.04,
)  # of a line along a circle's axis, and how near to its widest place it ends
STRAIGHT = 0.02  # of the picture's diagonal: a line that no circle is taken for
MOST_ROUNDS, SURE_ROUND_PX = (
    8,
    40.0,
)  # ellipses that the view is looked for by, and half the width of one that counts in full


@dataclass(frozen=True)
class Sought:
    """A picture's lines and circles with what tells of each how sure it is, before anything is chosen. ``scale``:
    picture px per px of the copy; ``view``: how much of all lines the view explains, 0 to 1.
    """

    found: Found
    scale: float
    edge_inputs: Floats
    slopes: list[Slope]
    circles: list[SeenCircle]
    axes: Floats
    circle_inputs: Floats
    view: float


def seek(picture: Pixels, focal_35mm: float | None) -> Sought | None:
    """Everything that may be proposed of an RGB picture; None where its lines make no view."""
    high, wide = picture.shape[:2]
    small, scale = reduced(picture)
    grey = grey_of(small)
    drawn = merged(find_segments(grey))
    lines = Lines(drawn[:, :2] * scale, drawn[:, 2:] * scale, wide, high)
    about = neighbours(drawn[:, :2], drawn[:, 2:], float(np.hypot(*grey.shape)))
    colours = spread(small)
    curves = find_curves(colours)
    straight = about.bent == 0
    rounds = rounds_of(find_ellipses(curves), lines, scale)
    guesses = find_guesses(lines.take(straight), focal_35mm, about.like[straight], rounds)
    first = settled(lines, straight, guesses[0], focal_35mm) if guesses else None
    if first is None:
        return None
    found = replace(completed(first, straight, guesses[0], focal_35mm), doubt=doubt(guesses, lines))
    seen = measure(colours, drawn)
    length = lines.length_px / (2 * lines.scale)
    total = max(float(length[found.slot != NONE].sum()), 1e-9)
    share = np.array([length[found.slot == s].sum() / total if s != NONE else 0.0 for s in found.slot.tolist()])
    inputs = edge_inputs(length, found.off, found.slot, seen, about, share, guesses[0].score)
    support = np.array([length[found.slot // 2 == b].sum() for b in range(len(found.bearings))])
    main = np.argsort(-support)[:MAIN_PILES]
    directions = found.directions()
    axes = np.concatenate([directions[-1:], *(directions[2 * b : 2 * b + 2] for b in main)])
    axes = np.concatenate([axes, level_axes(rounds, found.camera, axes)])
    circles = find_circles(curves, found.camera, axes, lines.scale / scale, (wide / 2 / scale, high / 2 / scale))
    long = drawn[straight & (lines.length_px > STRAIGHT * 2 * lines.scale)]
    return Sought(
        found,
        scale,
        inputs,
        find_slopes(found),
        circles,
        axes,
        rim_inputs(circles_seen(circles, long, found, axes, scale), guesses[0].score),
        guesses[0].score,
    )


def rounds_of(ellipses: list[SeenEllipse], lines: Lines, scale: float) -> Floats:
    """(k, 6) of ellipses as the search for a view takes them, the last what each counts: the best seen, one of those
    that share a middle.
    """
    taken: list[SeenEllipse] = []
    for one in sorted(ellipses, key=lambda e: -e.share * e.major):
        if all(np.hypot(one.centre[0] - o.centre[0], one.centre[1] - o.centre[1]) > 0.5 * o.major for o in taken):
            taken.append(one)
    x, y, unit = lines.width_px / 2, lines.height_px / 2, lines.scale
    rows = [
        (
            (o.centre[0] * scale - x) / unit,
            (o.centre[1] * scale - y) / unit,
            o.major * scale / unit,
            o.minor * scale / unit,
            o.angle,
            worth(o),
        )
        for o in taken
    ]
    return np.array(rows[:MOST_ROUNDS], float).reshape(-1, 6)


def level_axes(rounds: Floats, camera: Floats, known: Floats) -> Floats:
    """Unit directions in space (k, 3) of the level axes that ``rounds`` (n, 6) show which run along none of ``known``
    (a, 3): of drums that lie askew.
    """
    focal = float(np.hypot(camera[0, 0], camera[1, 0]))
    reach = 3 * AXIS_SD
    found: list[Floats] = []
    turned = camera / np.array([focal, focal, 1.0])[:, None]
    for row in circle_axes(rounds, focal, 1.0):
        both = row[:6].reshape(2, 3) @ turned
        both /= np.linalg.norm(both, axis=1, keepdims=True)
        if (np.abs(both[:, 2]) > np.cos(reach)).any():
            continue
        for axis in both[np.abs(both[:, 2]) < np.sin(reach)]:
            level = np.array([axis[0], axis[1], 0.0]) / np.hypot(axis[0], axis[1])
            if (np.abs(np.array([*known, *found]) @ level) < np.cos(AXIS_SD)).all():
                found.append(level)
    return np.array(found[:MOST_LEVEL_AXES]).reshape(-1, 3)


def worth(one: SeenEllipse) -> float:
    """What an ellipse counts, 0 to 1: a small one, or one half seen, may be anything."""
    return min(one.major / SURE_ROUND_PX, 1.0) * float(np.clip((one.share - 0.5) / 0.4, 0.0, 1.0))


def circles_seen(circles: list[SeenCircle], straight: Floats, found: Found, axes: Floats, scale: float) -> Floats:
    """(m, 16): what ``sureness.rim_inputs`` takes of each circle; ``straight`` (k, 4): long lines, px of the copy."""
    rows = np.zeros((len(circles), 16))
    diagonal = 2 * found.lines.scale / scale
    middles = np.array([one.places.mean(axis=0) for one in circles]).reshape(-1, 2)
    for k, one in enumerate(circles):
        across = np.linalg.norm(one.places - np.roll(one.places, len(one.places) // 2, axis=0), axis=1)
        wide, thin = float(across.max()), float(across.min())
        gap, arc = longest_run(~one.seen), longest_run(one.seen)
        rows[k, :6] = one.share, one.against, one.step, wide / diagonal, one.rms_px, float(one.plane != 0)
        rows[k, 6:9] = thin / max(wide, 1e-9), on_straight(one, straight), gap
        rows[k, 10:13], rows[k, 15] = (one.alone, arc, one.clear), one.same_way
    away = np.linalg.norm(middles[:, None] - middles[None], axis=2)
    rows[:, 9] = ((away < 0.5 * rows[:, 3, None] * diagonal) & (rows[None, :, 0] > rows[:, 0, None])).sum(axis=1)
    rows[:, 14] = partnered(circles)
    rows[:, 13] = sided(circles, straight, found, axes, scale)
    return rows


def partnered(circles: list[SeenCircle]) -> Floats:
    """How well the best other circle is seen (m,) that has the same axis and is as wide, 0 where there is none: a tin's
    mouth speaks for its base. On the plane an eye's distance away such circles differ by one factor.
    """
    found = np.zeros(len(circles))
    if not circles:
        return found
    plane = np.array([one.plane for one in circles])
    radius = np.array([one.circle[2] for one in circles])
    place = np.array([one.circle[:2] for one in circles]) / radius[:, None]
    seen = np.array([one.share + one.against for one in circles])
    apart = np.linalg.norm(place[:, None] - place[None], axis=2)
    farther = np.abs(np.log(radius[:, None] / radius[None]))
    pairs = (plane[:, None] == plane[None]) & (apart < PARTNER_ASIDE) & (farther > PARTNER_AWAY)
    return np.asarray(np.where(pairs, seen[None], 0.0).max(axis=1), float)


def longest_run(flags: NDArray[np.bool_]) -> float:
    """The longest run of flags round a closed line, as a share of it."""
    if flags.all():
        return 1.0
    first = int(np.argmin(flags))
    turned = np.append(np.roll(flags, -first), False)
    ends = np.flatnonzero(~turned)
    return float(np.diff(ends).max(initial=1) - 1) / len(flags)


def sided(circles: list[SeenCircle], straight: Floats, found: Found, axes: Floats, scale: float) -> Floats:
    """At how many of its two sides (0, 1, 2) a line meets each circle that runs along its axis: the outline
    of a tin.
    """
    counts = np.zeros(len(circles))
    if not len(straight):
        return counts
    centre = np.array([found.lines.width_px, found.lines.height_px]) / 2
    for k, one in enumerate(circles):
        point = found.camera @ axes[one.plane]
        middle = one.places.mean(axis=0)
        here = (middle * scale - centre) / found.lines.scale
        way = np.array([point[0] - here[0] * point[2], point[1] - here[1] * point[2]])
        way /= max(float(np.hypot(*way)), 1e-12)
        off = (one.places - middle) @ np.array([-way[1], way[0]])
        run = straight[:, 2:] - straight[:, :2]
        along = np.abs(run @ way) > SIDE_COS * np.hypot(run[:, 0], run[:, 1])
        near = max(SIDE_PX, SIDE_SHARE * float(np.ptp(off)))
        for place in (one.places[int(np.argmax(off))], one.places[int(np.argmin(off))]):
            if along.any():
                counts[k] += float(
                    gaps(place[None], place[None], straight[along, :2], straight[along, 2:]).min() < near
                )
    return counts


def on_straight(one: SeenCircle, straight: Floats) -> float:
    """The share of a circle's seen places that lie on one of ``straight`` (k, 4), long lines."""
    places = one.places[one.seen]
    low, high = places.min(axis=0) - 2.0, places.max(axis=0) + 2.0
    p, q = straight[:, :2], straight[:, 2:]
    near = straight[((np.maximum(p, q) > low) & (np.minimum(p, q) < high)).all(axis=1)]
    if not len(near):
        return 0.0
    return float((gaps(places, places, near[:, :2], near[:, 2:]).min(axis=1) < 2.0).mean())
