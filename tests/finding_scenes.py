"""Lines of boxes under a pinhole of the tests' own, with lines that mean nothing among them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from aspectum.core.finding.lines import Lines

Floats = NDArray[np.float64]
WIDTH, HEIGHT = 1200, 900


@dataclass(frozen=True)
class Seen:
    """``lines`` in a picture, of which the first ``true`` are edges; eye level in the middle of the picture (px), and
    the boxes' bearings (degrees).
    """

    lines: Lines
    true: int
    eye_level_px: float
    focal_px: float
    bearings_deg: tuple[float, ...]


def pinhole(points: Floats, focal: float, pitch_deg: float, roll_deg: float) -> Floats:
    """Pixels (n, 2) of places (n, 3) east, north and up of the eye: turned by hand, not by the solver's camera."""
    pitch, roll = np.radians([pitch_deg, roll_deg])
    depth = points[:, 1] * np.cos(pitch) + points[:, 2] * np.sin(pitch)
    up = points[:, 2] * np.cos(pitch) - points[:, 1] * np.sin(pitch)
    x, y = focal * points[:, 0] / depth, focal * up / depth
    return np.stack(
        [WIDTH / 2 + x * np.cos(roll) - y * np.sin(roll), HEIGHT / 2 - (x * np.sin(roll) + y * np.cos(roll))], axis=1
    )


def box_lines(at: tuple[float, float, float], size: tuple[float, float, float], bearing_deg: float) -> Floats:
    """The twelve edges (12, 2, 3) of a box, its first side along ``bearing_deg``."""
    b = np.radians(bearing_deg)
    ways = (
        np.array([[np.sin(b), np.cos(b), 0.0], [-np.cos(b), np.sin(b), 0.0], [0.0, 0.0, 1.0]]) * np.array(size)[:, None]
    )
    corners = {
        (i, j, k): np.array(at) + i * ways[0] + j * ways[1] + k * ways[2]
        for i in (0, 1)
        for j in (0, 1)
        for k in (0, 1)
    }
    return np.array(
        [
            (a, c)
            for p, a in corners.items()
            for q, c in corners.items()
            if sum(q) == sum(p) + 1 and sum(x != y for x, y in zip(p, q, strict=True)) == 1
        ]
    )


def boxes_seen(seed: int, boxes: int = 3, clutter: int = 30, error_px: float = 0.4) -> Seen:
    """Boxes about the eye's way, each end read with ``error_px``, and ``clutter`` lines that run anyhow."""
    rng = np.random.default_rng(seed)
    focal = float(rng.uniform(900, 1600))
    pitch, roll = float(rng.uniform(-15, 12)), float(rng.normal(0, 1.0))
    bearings = tuple(float(v) for v in rng.uniform(15, 75, 2))
    drawn = []
    for k in range(boxes):
        at = (float(rng.uniform(-2.5, 1.5)), float(rng.uniform(6, 9)), float(rng.uniform(-1.6, -1.0)))
        size = (float(rng.uniform(1.0, 2.5)), float(rng.uniform(1.0, 2.5)), float(rng.uniform(0.8, 2.5)))
        drawn.append(pinhole(box_lines(at, size, bearings[k % 2]).reshape(-1, 3), focal, pitch, roll).reshape(-1, 2, 2))
    ends = np.concatenate(drawn)
    ends += rng.normal(0, error_px, ends.shape)
    middles = rng.uniform([0, 0], [WIDTH, HEIGHT], (clutter, 2))
    angle, half = rng.uniform(0, np.pi, clutter), rng.uniform(15, 60, clutter)
    way = half[:, None] * np.stack([np.cos(angle), np.sin(angle)], axis=1)
    every = np.concatenate([ends, np.stack([middles - way, middles + way], axis=1)])
    level = pinhole(np.array([[0.0, 1e6, 0.0]]), focal, pitch, roll)[0]
    # through the point straight ahead on eye level, with the roll's slope
    middle = level[1] - np.tan(np.radians(roll)) * (WIDTH / 2 - level[0])
    return Seen(Lines(every[:, 0], every[:, 1], WIDTH, HEIGHT), len(ends), float(middle), focal, bearings)


def turned_over(lines: Lines) -> Lines:
    """As in a mirror, left for right."""
    flip = np.array([-1.0, 1.0])
    return Lines(
        lines.p * flip + [lines.width_px, 0], lines.q * flip + [lines.width_px, 0], lines.width_px, lines.height_px
    )


def scaled(lines: Lines, factor: float) -> Lines:
    return Lines(lines.p * factor, lines.q * factor, round(lines.width_px * factor), round(lines.height_px * factor))
