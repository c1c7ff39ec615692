"""Views to begin with: where the eye stands for each, so that the whole set-up is in the picture."""

from __future__ import annotations

import math
from dataclasses import replace
from enum import StrEnum

import numpy as np

from aspectum.core.plane.lines import Floats
from aspectum.core.stand.camera import NEAREST_M, View
from aspectum.core.stand.kinds import Parallel
from aspectum.core.stand.setting import Placed

FILLED = 0.9  # share of the half picture that the set-up may reach into
NEARER, FARTHER, HALVINGS = 1e-3, 1e4, 60  # spans of the set-up between which the distance is sought
NORMAL_DOWN = 1 / 3  # eye level's place down the sheet in a normal view (common practice, handbook section 1)
ANT_DOWN = 0.9  # in a worm's-eye view
BIRD_PITCH_DEG = -40.0  # a bird's eye shows roofs and fronts alike
THREE_POINT_PITCH_DEG = -25.0  # enough for uprights to converge as one sees, little enough for a box to stay one
TURNED_DEG = 35.0  # by which a two-point view looks off the thing's own square
WORM_EYE = 0.15  # height of a worm's eye as a share of the set-up's
LOOKED_UP_FROM = 0.05  # of the height of what stands there: the eye lies almost on the ground among it
ISOMETRIC_HEADING_DEG = -45.0  # off the front, so that front and right side show alike


class Preset(StrEnum):
    """Views to begin with."""

    BIRDS_EYE = "bird's-eye"
    NORMAL = "normal"
    WORMS_EYE = "worm's-eye"
    STRAIGHT_UP = "straight up"
    STRAIGHT_DOWN = "straight down"
    ONE_POINT = "one-point"
    TWO_POINT = "two-point"
    THREE_POINT = "three-point"


def preset(kind: Preset, placed: tuple[Placed, ...], picture: View) -> View:
    """``picture``'s lens and size at the place that ``kind`` asks for, as near as shows the whole set-up.

    One-, two- and three-point views are square to, or turned off, the first thing's own frame.
    """
    corners = np.vstack([p.box for p in placed if p.own is not None])
    low, high = corners.min(axis=0), corners.max(axis=0)
    middle, height = (low + high) / 2, float(high[2] - low[2])
    turn = next(float(p.thing.turn_deg) for p in placed if p.own is not None)
    view = replace(picture, parallel=None, roll_deg=0.0)
    half = view.height_px / 2 / view.focal_px
    if kind in (Preset.STRAIGHT_UP, Preset.STRAIGHT_DOWN):
        # a courtyard is looked up at from its floor; straight down the eye hangs over the middle
        if kind is Preset.STRAIGHT_UP:
            return replace(
                view,
                eye_m=(float(middle[0]), float(middle[1]), float(low[2] + LOOKED_UP_FROM * height)),
                heading_deg=0.0,
                pitch_deg=90.0,
            )
        return _fitted(replace(view, heading_deg=0.0, pitch_deg=-90.0), corners, middle, np.array([0.0, 0.0, 1.0]))
    square = -turn
    heading = square if kind is Preset.ONE_POINT else square - TURNED_DEG
    pitch = {
        Preset.BIRDS_EYE: BIRD_PITCH_DEG,
        Preset.THREE_POINT: THREE_POINT_PITCH_DEG,
        Preset.NORMAL: -math.degrees(math.atan((1 - 2 * NORMAL_DOWN) * half)),
        Preset.WORMS_EYE: math.degrees(math.atan((2 * ANT_DOWN - 1) * half)),
    }.get(kind, 0.0)
    view = replace(view, heading_deg=heading, pitch_deg=pitch)
    back = -view.axes[2].copy()
    if kind is Preset.WORMS_EYE:
        # level with the ground nearly, however far it must step back
        eye = low[2] + WORM_EYE * height
        flat = np.array([back[0], back[1], 0.0])
        return _fitted(view, corners, np.array([middle[0], middle[1], eye]), flat / np.linalg.norm(flat))
    return _fitted(view, corners, middle, back)


def parallel_view(kind: Parallel, placed: tuple[Placed, ...], picture: View) -> View:
    """A parallel view of the whole set-up, as large as the picture holds: isometric on the first thing's near corner,
    oblique and square on its front.
    """
    corners = np.vstack([p.box for p in placed if p.own is not None])
    turn = next(float(p.thing.turn_deg) for p in placed if p.own is not None)
    corner = ISOMETRIC_HEADING_DEG if kind is Parallel.ISOMETRIC else 0.0
    view = replace(picture, parallel=kind, heading_deg=-turn + corner, pitch_deg=0.0, roll_deg=0.0, px_per_m=1.0)
    low, high = view.project(corners).min(axis=0), view.project(corners).max(axis=0)
    scale = FILLED * float(np.min(np.array([view.width_px, view.height_px]) / np.maximum(high - low, 1e-9)))
    view = _at(replace(view, px_per_m=scale), corners.mean(axis=0))
    # an oblique box's middle is not the middle of its picture: shift the eye across until it is
    seen = view.project(corners)
    off = (seen.min(axis=0) + seen.max(axis=0)) / 2 - view.centre_px
    flat = view.matrix[:2, :3]
    return _at(view, np.array(view.eye_m) + np.linalg.pinv(flat) @ off)


def _fitted(view: View, corners: Floats, target: Floats, back: Floats) -> View:
    """``view`` drawn back from ``target`` along ``back`` until all ``corners`` (k, 3) are well inside the picture."""
    span = float(np.linalg.norm(corners.max(axis=0) - corners.min(axis=0)))
    low, high = NEARER, FARTHER
    for _ in range(HALVINGS):
        share = math.sqrt(low * high)
        if _inside(_at(view, target + back * share * span), corners):
            high = share
        else:
            low = share
    return _at(view, target + back * high * span)


def _at(view: View, eye: Floats) -> View:
    return replace(view, eye_m=(float(eye[0]), float(eye[1]), float(eye[2])))


def _inside(view: View, corners: Floats) -> bool:
    if float(view.depths(corners).min()) < NEAREST_M:
        return False
    off = np.abs(view.project(corners) - view.centre_px)
    return bool((off < FILLED * np.array(view.centre_px)).all())
