"""Freehand drawings in pencil, ink and colour whose lines are known, photographed at a slant and flattened: to be
followed without their names.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import cv2
import numpy as np
from numpy.typing import NDArray

from aspectum.core.drawing.compare import Laid
from aspectum.pictures.paper import find_paper, flatten
from tests.paper_photos import PaperPhoto, photograph
from tests.paper_scenes import PAPER_DPMM, PaperSubject, draw_box, on_paper, paper_subject, sighted
from tests.scenes import Vec

Pixels = NDArray[np.uint8]
A4 = (297.0, 210.0)
PPM = 6.0  # px a mm of the sheet before it is photographed
INKS = {  # colour, how much of the paper it covers, width (mm)
    "pencil": ((72, 72, 78), 0.60, 0.45),
    "soft pencil": ((60, 60, 64), 0.72, 0.8),
    "hard pencil": ((110, 110, 116), 0.5, 0.35),
    "ink": ((28, 30, 44), 0.95, 0.35),
    "blue": ((60, 84, 168), 0.7, 0.6),
    "red": ((176, 66, 60), 0.7, 0.6),
}


@dataclass(frozen=True)
class Drawn:
    """``lines`` (mm on the sheet) by id and ``rims`` (centre, half axes, direction of the major axis in radians, y
    down); ``doubled``: ids with both places, the darker first; ``light``: construction lines that are no edges.
    """

    subject: PaperSubject
    photo: PaperPhoto
    flat: Pixels
    px_per_mm: float
    theirs: Laid
    laid: Laid
    lines: dict[str, tuple[Vec, Vec]]
    rims: dict[str, tuple[Vec, float, float, float]]
    doubled: dict[str, tuple[tuple[Vec, Vec], tuple[Vec, Vec]]] = field(default_factory=dict)
    light: list[tuple[Vec, Vec]] = field(default_factory=list)


def stroke(sheet: Vec, path: Vec, rng: np.random.Generator, ink: str, share: float = 1.0, passes: int = 2) -> None:
    """Passes of a pencil along ``path`` (n, 2; mm) that wander, with the paper's tooth, pressure that comes and goes,
    and now and then a break.
    """
    colour, dark, wide = INKS[ink]
    for _ in range(passes):
        n = len(path)
        wander = np.cumsum(rng.normal(0, 0.028, path.shape), axis=0)
        wander -= np.linspace(0, 1, n)[:, None] * wander[-1]
        at = path + wander + rng.normal(0, 0.09, 2)
        pressure = np.clip(1.0 + np.cumsum(rng.normal(0, 0.06, n)), 0.55, 1.2)
        gap = int(rng.integers(n)) if rng.random() < 0.3 else -9
        left, top = np.maximum(np.floor(at.min(axis=0) * PPM).astype(int) - 12, 0)
        right, bottom = np.ceil(at.max(axis=0) * PPM).astype(int) + 12
        part = sheet[top:bottom, left:right]
        layer = np.zeros(part.shape[:2], np.float32)
        for k in range(n - 1):
            if abs(k - gap) >= max(n // 40, 1):
                a, b = (np.round((at[i] * PPM - 0.5 - [left, top]) * 16).astype(np.int32).tolist() for i in (k, k + 1))
                cv2.line(layer, a, b, float(pressure[k]), max(1, round(wide * PPM)), cv2.LINE_AA, 4)
        tooth = 0.7 + 0.3 * rng.random(layer.shape, dtype=np.float32)
        cover = (np.clip(layer, 0, 1.2) * tooth * dark * share / passes * 1.5).clip(0, 0.97)[..., None]
        part *= 1 - cover
        part += np.array(colour, float) * cover


def shaded(subject: PaperSubject, seed: int = 0) -> Pixels:
    """The subject's first box as a photo shows it: a light, a middle and a dark side on a grey table."""
    (box, *_), camera = subject.boxes, subject.camera
    at = draw_box(box, camera, [], subject.unit)
    picture = np.full((960, 1280), 128, np.uint8)
    for axis, tone in ((0, 70), (1, 105), (2, 205)):
        for side in (0, 1):
            if not box.faces_eye(axis, side):
                continue
            ring = [(0, 0), (0, 1), (1, 1), (1, 0)]
            names = [tuple(side if k == axis else pair[k - (k > axis)] for k in range(3)) for pair in ring]
            outline = np.array([at[name] for name in names]) - 0.5
            cv2.fillPoly(picture, [np.round(outline * 16).astype(np.int32)], tone, cv2.LINE_AA, 4)
    soft = cv2.GaussianBlur(picture.astype(np.float32), (0, 0), 0.8) + np.random.default_rng(seed).normal(
        0, 2.0, picture.shape
    )
    return np.repeat(np.clip(soft, 0, 255).astype(np.uint8)[..., None], 3, axis=2)


def straight(p: Vec, q: Vec) -> Vec:
    count = max(int(np.hypot(*(q - p)) / 2.0), 6)
    return np.asarray(p + np.linspace(0, 1, count)[:, None] * (q - p))


def sighted_subject(rng: np.random.Generator, kind: str) -> tuple[PaperSubject, Laid]:
    subject: PaperSubject = paper_subject(rng, kind)
    return subject, sighted(subject, rng)


def drawing(
    seed: int,
    kind: str = "one box",
    slant_deg: float | None = None,
    ink: str | None = None,
    wobble: float = 1.0,
    restated: float = 0.15,
) -> Drawn:
    """A drawing of a random subject. ``restated``: the share of lines that are drawn a second time, a little off."""
    rng = np.random.default_rng(seed)
    subject, theirs = sighted_subject(rng, kind)
    laid = on_paper(subject, [], rng, longest_mm=float(rng.uniform(110, 165)), wobble=wobble)
    ink = ink or list(INKS)[int(rng.integers(len(INKS)))]
    ends = (
        np.array([end for e in laid.edges for end in (e.p, e.q)] + [at for r in laid.rims for at in r.points])
        / PAPER_DPMM
    )
    room = np.array(A4) - np.ptp(ends, axis=0)
    shift = room * rng.uniform(0.35, 0.65, 2) - ends.min(axis=0)
    lines = {e.id: (np.array(e.p) / PAPER_DPMM + shift, np.array(e.q) / PAPER_DPMM + shift) for e in laid.edges}
    sheet = np.full((round(A4[1] * PPM), round(A4[0] * PPM), 3), 244.0)
    light: list[tuple[Vec, Vec]] = []
    # construction first: some lines drawn through beyond their ends, a diagonal, an axis
    for p, q in list(lines.values()):
        if rng.random() < 0.5:
            through = p - rng.uniform(0.1, 0.4) * (q - p), q + rng.uniform(0.1, 0.4) * (q - p)
            stroke(sheet, straight(*through), rng, ink, 0.3, passes=1)
            light.append(through)
    for _ in range(2):
        p, q = (ends[rng.integers(len(ends))] + shift for _ in range(2))
        if np.hypot(*(q - p)) > 30:
            stroke(sheet, straight(p, q), rng, ink, 0.25, passes=1)
            light.append((p, q))
    doubled = {}
    for id, (p, q) in lines.items():
        stroke(sheet, straight(p, q), rng, ink)
        if rng.random() < restated and np.hypot(*(q - p)) > 25:
            way = (q - p) / np.hypot(*(q - p))
            aside = np.array([-way[1], way[0]]) * rng.choice([-1, 1]) * rng.uniform(1.6, 2.6)
            again = p + aside + rng.normal(0, 0.3, 2), q + aside * rng.uniform(0.7, 1.2) + rng.normal(0, 0.3, 2)
            stroke(sheet, straight(*again), rng, ink, 0.55)
            doubled[id] = ((p, q), again)
    rims = {}
    for rim in laid.rims:
        # its points stand at even turns: the first harmonic is the ellipse, however flat
        at, turns = np.array(rim.points) / PAPER_DPMM + shift, np.arange(len(rim.points)) * 2 * np.pi / len(rim.points)
        centre, along, down = at.mean(axis=0), 2 * np.cos(turns) @ at / len(at), 2 * np.sin(turns) @ at / len(at)
        rims[rim.id] = (centre, float(np.hypot(*along)), float(np.hypot(*down)), float(np.arctan2(along[1], along[0])))
        round_it = np.linspace(0, 2 * np.pi, 70)[:, None]
        stroke(sheet, centre + np.cos(round_it) * along + np.sin(round_it) * down, rng, ink)
    slant = float(rng.uniform(0, 30)) if slant_deg is None else slant_deg
    photo = photograph(rng, slant, A4, hand=False, size=(2000, 1500), sheet=np.clip(sheet, 0, 255).astype(np.uint8))
    found = find_paper(photo.picture)
    flat = flatten(photo.picture, photo.corners if found is None else found.corners, A4)
    return Drawn(subject, photo, flat.pixels, flat.px_per_mm, theirs, laid, lines, rims, doubled, light)
