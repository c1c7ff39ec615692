"""Arcs of level rims with known degrees, of three kinds: what shows of rims in shaded views, degrees of every size
alike, and flat half arcs.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import cv2
import numpy as np

from aspectum.core.plane.rim_fit import fit_rim
from tests.gallery_truth import pieces
from tests.scenes import Vec

NOISE_PX = 1.0
Arc = tuple[Vec, float]


def on_arc(rng: np.random.Generator, centre: Vec, major: Vec, minor: Vec, turns: Vec) -> Vec:
    """Points (n, 2) at eccentric ``turns`` (radians) of an ellipse by its half axes, each with its error."""
    points = centre + np.cos(turns)[:, None] * major + np.sin(turns)[:, None] * minor
    return np.asarray(points + rng.normal(0, NOISE_PX, points.shape))


def gallery_arcs(rng: np.random.Generator, count: int) -> Iterator[Arc]:
    """Of the circles in the gallery's views those whose axis stands: the part that truly shows, two fifths at least, a
    point every few degrees.
    """
    shown = [
        c
        for piece in pieces()
        for c in piece.known["circles"]
        if c["seen"].count("1") >= 0.4 * len(c["seen"]) and c["minor_px"] >= 4 and abs(c["axis_deg"]) > 60
    ]
    made = 0
    while made < count:
        c = shown[int(rng.integers(len(shown)))]
        axis = np.radians(c["axis_deg"])
        minor, major = (
            np.array([np.cos(axis), -np.sin(axis)]) * c["minor_px"] / 2,
            np.array([np.sin(axis), np.cos(axis)]) * c["major_px"] / 2,
        )
        turns = np.radians(np.arange(0.0, 360.0, rng.uniform(4, 9)))
        seen = np.array([mark == "1" for mark in c["seen"]])
        turns = turns[seen[np.round(turns / (2 * np.pi) * len(seen)).astype(int) % len(seen)]]
        if len(turns) < 6:
            continue
        made += 1
        yield (
            on_arc(rng, np.array(c["ellipse_px"]), major, minor, turns),
            float(np.degrees(np.arcsin(c["minor_px"] / c["major_px"]))),
        )


def laid(
    rng: np.random.Generator, degree: float, half_px: float, begun_deg: float, turn_deg: float, step_deg: float
) -> Arc:
    lean = rng.uniform(-0.2, 0.2)
    major = half_px * np.array([np.cos(lean), np.sin(lean)])
    minor = half_px * np.sin(np.radians(degree)) * np.array([-np.sin(lean), np.cos(lean)])
    return on_arc(
        rng, np.array([500.0, 500.0]), major, minor, np.radians(begun_deg + np.arange(0.0, turn_deg, step_deg))
    ), degree


def even_arcs(rng: np.random.Generator, count: int) -> Iterator[Arc]:
    """Degrees spread evenly, two fifths of the turn or more, begun anywhere."""
    for _ in range(count):
        yield laid(
            rng,
            rng.uniform(1, 88),
            float(np.exp(rng.uniform(np.log(25), np.log(200)))),
            rng.uniform(0, 360),
            rng.uniform(144, 360),
            rng.uniform(4, 8),
        )


def flat_arcs(rng: np.random.Generator, count: int) -> Iterator[Arc]:
    """Near halves of rims of 2 to 20°."""
    for _ in range(count):
        yield laid(
            rng, rng.uniform(2, 20), float(np.exp(rng.uniform(np.log(40), np.log(200)))), 0.0, 180.0, rng.uniform(6, 15)
        )


KINDS: dict[str, Callable[[np.random.Generator, int], Iterator[Arc]]] = {
    "what shows in shaded views": gallery_arcs,
    "degrees of every size": even_arcs,
    "flat half arcs": flat_arcs,
}


@dataclass(frozen=True)
class Alone:
    """Errors of the degree (degrees) by Aspectum and by OpenCV's direct fit of the same points; whether each 95 %
    interval holds.
    """

    ours: Vec
    direct: Vec
    held: Vec


def rims_alone(kind: str, count: int, seed: int, point_sd_px: float) -> Alone:
    """``point_sd_px``: of a laid point, as a sheet has it; the points' own is ``NOISE_PX``."""
    ours, direct, held = [], [], []
    for points, degree in KINDS[kind](np.random.default_rng(seed), count):
        _, axes, _ = cv2.fitEllipseDirect(points.astype(np.float32))
        fit = fit_rim(tuple((float(x), float(y)) for x, y in points), point_sd_px)
        direct.append(np.degrees(np.arcsin(min(axes) / max(axes))) - degree)
        ours.append(fit.degree_deg - degree)
        held.append(abs(ours[-1]) < 1.96 * fit.sds[1])
    return Alone(np.array(ours), np.array(direct), np.array(held))
