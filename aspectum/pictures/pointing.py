"""The edge under a finger: found near a place, followed to where it stops, and drawn to a fraction of a pixel."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from aspectum.pictures.fitting import parabola, straightened

Floats = NDArray[np.float64]
Grey = NDArray[np.uint8]
Place = tuple[float, float]

FINGER_PX = 12.0  # of the copy that is looked at: as far as a finger points beside what it means
WINDOW_PX = 160  # to every side of the finger
SHORTEST_PX = 14.0  # of a segment that a finger may mean
LONG_PX, FOR_LONG = (
    120.0,
    0.6,
)  # a long segment is meant rather than a short one, by up to that share of a finger's reach
TURNED, FOR_TURNED = np.radians(20.0), 1.2  # from the judged tilt, and what that much counts against a segment
TOO_FAR_TURNED = np.radians(30.0)  # nobody judges so far off: it is another edge
STATIONS = 400  # along the whole, at most
ACROSS_PX, FINE_PX = (
    np.array([6.0, 3.0, 2.0]),
    0.25,
)  # to either side where the step is looked for, in turn, and how finely
STEP_PX = 1.0  # to either side, between which the step is read
CLEAR, CLEAR_SHARE = (
    4.0,
    0.3,
)  # grey levels of a step that can be told from grain, and of the edge's own that is still its
GAP_PX, GAP_SHARE = 12.0, 0.06  # that an edge may be lost for, and of its length
# of moving and looking again before what is found so far is taken; fewer places make no line
ROUNDS, LEAST_PLACES = 6, 5
GROWN_PX = 2.0  # a line that moved by less has settled
FAINT_TURN_DEG, FAINT_REACH_DEG = 2.5, 25.0  # how finely a faint edge is turned for, and how far from the judged tilt
FAINT_PX, FAINT_EVEN = 36.0, 0.85  # half the length along which it must show, and the share of that
EDGE_PX = 1.0  # of the picture, which itself is no edge


@dataclass(frozen=True)
class Pointed:
    """An edge from ``p`` to ``q`` (px)."""

    p: Place
    q: Place


def edge_at(grey: Grey, at: Place, reach_px: float, tilt_deg: float | None = None) -> Pointed | None:
    """The edge meant by a finger at ``at`` on a picture (h, w), which may lie ``reach_px`` beside it; of several near
    by rather the one along the judged ``tilt_deg``. None where there is none.
    """
    meant = segment_at(grey, at, reach_px, tilt_deg) or faint_at(grey, at, reach_px, tilt_deg)
    return None if meant is None else followed(grey, *meant)


def segment_at(grey: Grey, at: Place, reach_px: float, tilt_deg: float | None) -> tuple[Floats, Floats] | None:
    """The segment (ends, px) nearest to the finger."""
    scale = max(1.0, reach_px / FINGER_PX)
    high, wide = grey.shape
    half = round(WINDOW_PX * scale)
    left, top = max(round(at[0]) - half, 0), max(round(at[1]) - half, 0)
    part = grey[top : min(round(at[1]) + half, high), left : min(round(at[0]) + half, wide)]
    if min(part.shape) < SHORTEST_PX:
        return None
    small = part if scale == 1.0 else cv2.resize(part, None, fx=1 / scale, fy=1 / scale, interpolation=cv2.INTER_AREA)
    detected: NDArray[np.float32] | None = cv2.createLineSegmentDetector(cv2.LSD_REFINE_STD).detect(
        np.ascontiguousarray(small)
    )[0]  # type: ignore[assignment]
    if detected is None:
        return None
    # OpenCV counts from the middle of the first pixel
    lines = (detected.reshape(-1, 4).astype(float) + 0.5) * scale + np.array([left, top, left, top])
    p, run = lines[:, :2], lines[:, 2:] - lines[:, :2]
    long = np.hypot(run[:, 0], run[:, 1])
    along = np.clip(((np.array(at) - p) * run).sum(axis=1) / np.maximum(long, 1e-9) ** 2, 0.0, 1.0)
    away = np.hypot(*(np.array(at) - p - along[:, None] * run).T)
    reach = max(reach_px, FINGER_PX)
    cost = away / reach - FOR_LONG * np.minimum(long / scale, LONG_PX) / LONG_PX
    if tilt_deg is not None:
        turned = np.arctan2(-run[:, 1], run[:, 0]) - np.radians(tilt_deg)
        turned = np.abs((turned + np.pi / 2) % np.pi - np.pi / 2)
        cost += np.where(turned > TOO_FAR_TURNED, np.inf, FOR_TURNED * turned / TURNED)
    cost[(away > reach) | (long < SHORTEST_PX * scale)] = np.inf
    best = int(np.argmin(cost))
    return None if not np.isfinite(cost[best]) else (lines[best, :2], lines[best, 2:])


def faint_at(grey: Grey, at: Place, reach_px: float, tilt_deg: float | None) -> tuple[Floats, Floats] | None:
    """Of all lines through the finger's reach the one with the clearest and evenest step, however faint: what a
    detector of segments leaves out.
    """
    tilts = (
        np.arange(0.0, 180.0, FAINT_TURN_DEG)
        if tilt_deg is None
        else tilt_deg + np.arange(-FAINT_REACH_DEG, FAINT_REACH_DEG + 0.1, FAINT_TURN_DEG)
    )
    angles = np.radians(-tilts)
    units, normals = (
        np.stack([np.cos(angles), np.sin(angles)], axis=1),
        np.stack([-np.sin(angles), np.cos(angles)], axis=1),
    )
    reach = max(reach_px, FINGER_PX)
    scale = reach / FINGER_PX
    offsets = np.arange(-FINGER_PX - 2, FINGER_PX + 2.1) * scale
    along = np.arange(-FAINT_PX, FAINT_PX + 0.1, 2.0) * scale
    on = (
        np.array(at)
        + along[None, :, None, None] * units[:, None, None]
        + offsets[None, None, :, None] * normals[:, None, None]
    )
    tones = read(grey, on.reshape(-1, len(offsets), 2)).reshape(on.shape[:-1])
    steps = tones[:, :, 4:] - tones[:, :, :-4]
    best: tuple[float, Floats, Floats] | None = None
    third = len(along) // 3
    for part in (slice(0, 2 * third), slice(third // 2, -(third // 2)), slice(len(along) - 2 * third, len(along))):
        middle = np.median(steps[:, part], axis=1)
        even = (steps[:, part] * np.sign(middle)[:, None] > 0.4 * np.abs(middle)[:, None]).mean(axis=1)
        worth = np.abs(middle) * (1.0 - 0.5 * (offsets[2:-2] / reach) ** 2)
        worth[(even < FAINT_EVEN) | (np.abs(middle) < CLEAR)] = 0.0
        i, k = np.unravel_index(int(np.argmax(worth)), worth.shape)
        if worth[i, k] > (0.0 if best is None else best[0]):
            base = np.array(at) + offsets[2 + k] * normals[i]
            ends = along[part][[0, -1]]
            best = float(worth[i, k]), base + ends[0] * units[i], base + ends[1] * units[i]
    return None if best is None else best[1:]


def followed(grey: Grey, p: Floats, q: Floats) -> Pointed | None:
    """A segment's own edge, from where it begins to where it stops."""
    way = 1.0 if step_across(grey, p, q) >= 0 else -1.0
    for turn in range(ROUNDS):
        long = float(np.hypot(*(q - p)))
        if long < SHORTEST_PX:
            return None
        unit = (q - p) / long
        normal = np.array([-unit[1], unit[0]])
        before = after = 0.0 if turn == 0 else max(0.5 * long, 40.0)
        every = max((before + long + after) / STATIONS, 1.0)
        places = np.arange(-before, long + after + every / 2, every)
        places = places[within(grey, p + places[:, None] * unit)]
        if len(places) < LEAST_PLACES:
            return None
        inside = (places >= 0) & (places <= long)
        offset, step = steps_at(
            grey, p + places[:, None] * unit, normal, way, float(ACROSS_PX[min(turn, len(ACROSS_PX) - 1)])
        )
        usual = float(np.median(step[inside]))
        clear = step > max(CLEAR, CLEAR_SHARE * usual)
        if clear[inside].sum() < LEAST_PLACES:
            return None
        # beyond its ends only what lies on its line is the edge
        on = clear & (np.abs(offset) < np.where(inside, np.inf, 1.5))
        low, high = run_about(on, inside, max(round(max(GAP_PX, GAP_SHARE * long) / every), 1))
        kept = on & (np.arange(len(places)) >= low) & (np.arange(len(places)) <= high)
        slope, level, _ = straightened(places[kept], offset[kept])
        start, stop = places[low], places[high]
        moved = max(abs(start), abs(stop - long))
        p, q = p + start * unit + (level + slope * start) * normal, p + stop * unit + (level + slope * stop) * normal
        if turn >= len(ACROSS_PX) - 1 and moved < GROWN_PX:
            break
    return Pointed((float(p[0]), float(p[1])), (float(q[0]), float(q[1])))


def read(grey: Grey, at: Floats) -> Floats:
    """Tones at places (..., 2), read only about the places: the picture may be of any size."""
    flat = at.reshape(-1, 2)
    left, top = np.floor(flat.min(axis=0)).astype(int) - 4
    right, bottom = np.ceil(flat.max(axis=0)).astype(int) + 5
    left, top = max(int(left), 0), max(int(top), 0)
    part = grey[top : max(int(bottom), top + 1), left : max(int(right), left + 1)]
    if not part.size:
        return np.zeros(at.shape[:-1])
    places = (at - np.array([left, top]) - 0.5).astype(np.float32)
    found = cv2.remap(part, places[..., 0], places[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(found, float)


def within(grey: Grey, at: Floats) -> NDArray[np.bool_]:
    """Whether places (n, 2) lie on the picture, (n,)."""
    high, wide = grey.shape
    return np.asarray((at >= EDGE_PX).all(axis=1) & (at[:, 0] <= wide - EDGE_PX) & (at[:, 1] <= high - EDGE_PX), bool)


def step_across(grey: Grey, p: Floats, q: Floats) -> float:
    """Grey levels from one side of a line to the other."""
    unit = (q - p) / max(float(np.hypot(*(q - p))), 1e-9)
    normal = np.array([-unit[1], unit[0]])
    on = p + np.linspace(0.05, 0.95, 60)[:, None] * (q - p)
    return float(np.median(read(grey, on + 1.5 * normal) - read(grey, on - 1.5 * normal)))


def steps_at(grey: Grey, on: Floats, normal: Floats, way: float, across: float) -> tuple[Floats, Floats]:
    """Where each place's step lies along the normal (px from it), and how high it is (grey levels), going ``way``; (n,)
    each.
    """
    offsets = np.arange(-across - STEP_PX, across + STEP_PX + 1e-9, FINE_PX)
    tones = read(grey, on[:, None] + offsets[None, :, None] * normal)
    # a little along the edge and across it, against grain
    tones = np.asarray(cv2.blur(np.ascontiguousarray(tones), (3, 3), borderType=cv2.BORDER_REPLICATE), float)
    apart = round(STEP_PX / FINE_PX)
    steps = way * (tones[:, 2 * apart :] - tones[:, : -2 * apart])
    middle = offsets[apart:-apart]
    # of two that are as high the nearer
    best = np.argmax(steps - 0.02 * np.abs(middle) * np.abs(steps).max(axis=1, keepdims=True), axis=1)
    best = np.clip(best, 1, len(middle) - 2)
    return middle[best] + parabola(steps, best) * FINE_PX, steps[np.arange(len(on)), best]


def run_about(on: NDArray[np.bool_], inside: NDArray[np.bool_], gap: int) -> tuple[int, int]:
    """The first and last place of the longest run of ``on``, broken by no more than ``gap`` places, that has most of
    what is inside.
    """
    where = np.flatnonzero(on)
    breaks = np.flatnonzero(np.diff(where) > gap)
    runs = np.split(where, breaks + 1)
    best = max(runs, key=lambda run: int(inside[run].sum()))
    return int(best[0]), int(best[-1])
