"""A sheet of paper in a photo: its four corners found, and the sheet flattened to millimetres under even light.

A plane's picture is a homography of it (Hartley & Zisserman, Multiple View Geometry, 2nd ed., ch. 2): four corners of
known places undo it. Lens distortion and the paper's own curl are neglected.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from aspectum.language import say
from aspectum.pictures.fitting import parabola
from aspectum.pictures.papers import FLAT_LONG_PX
from aspectum.pictures.slant import goes_round

Pixels = NDArray[np.uint8]
Floats = NDArray[np.float64]

SEARCH_PX = 720  # longer side of the copy that corners are looked for in
MOST_LINES = 26  # that sides are chosen from
SHORTEST = 0.06  # of the copy's longer side: a segment that may be part of a side
SAME_LINE_DEG, SAME_LINE_PX = 2.0, 3.5  # two lines that differ by less are one side of the sheet, found twice
LEAST_AREA, MOST_OUT = 0.08, 0.06  # of the picture: the smallest sheet, and how far a corner may lie outside
LEAST_SUPPORT = 0.34  # of each side that is seen as a step from board to paper
SURE_SUPPORT = 0.55  # on the whole
LEAST_STEP = 4.0  # grey levels from board to paper
LIGHT_PART = 1 / 24  # of the sheet's longer side: over which the light is taken as even
WHITE = 250.0  # the paper's own grey after the light is taken out: a little below white, so that chalk stays lighter


@dataclass(frozen=True)
class FoundPaper:
    """``corners`` (4, 2): px, from the top left clockwise; ``support``: share of the sides that is seen; ``sure``:
    whether that is enough.
    """

    corners: Floats
    support: float
    sure: bool


@dataclass(frozen=True)
class Flat:
    """A flattened sheet: RGB pixels, and how many of them make a millimetre."""

    pixels: Pixels
    px_per_mm: float


def find_paper(picture: Pixels) -> FoundPaper | None:
    """The largest bright four-sided sheet in an RGB picture (h, w, 3), or None.

    Straight steps from dark to bright are gathered into lines; of all fours that go round something bright the one is
    taken whose sides are best seen. A hand or a shadow across a side hides part of it only; then each side is drawn
    again through the steps along it.
    """
    high, wide = picture.shape[:2]
    scale = min(1.0, SEARCH_PX / max(high, wide))
    small = np.asarray(
        cv2.resize(picture, (round(wide * scale), round(high * scale)), interpolation=cv2.INTER_AREA), np.uint8
    )
    grey = softened(brightness(small), 1.2)
    lines = side_lines(grey)
    best = best_quad(lines, grey)
    if best is None:
        return None
    corners, support = best
    for _ in range(2):
        corners = refined(corners, grey)
    scaled = np.array([small.shape[1] / wide, small.shape[0] / high])
    fine = (corners + 0.5) / scaled
    fine = finest(fine, brightness(picture), 2.5 / scale)
    return FoundPaper(from_top_left(fine), support, support >= SURE_SUPPORT)


def brightness(picture: Pixels) -> Floats:
    """How white each pixel is: its darkest channel, in which wood and skin lie well below paper, as floats."""
    red, green, blue = np.moveaxis(picture, 2, 0)
    return np.asarray(
        np.minimum(np.minimum(red, green), blue), float
    )  # twenty times as fast as a minimum over the last axis


def softened(grey: Floats, sd: float) -> Floats:
    return np.asarray(cv2.GaussianBlur(grey, (0, 0), sd), float)


def side_lines(grey: Floats) -> list[tuple[Floats, float, list[tuple[Floats, Floats]]]]:
    """Lines that sides may lie on: (a, b, c) with the brighter side positive, the length that is seen, and the segments
    on it.
    """
    detector = cv2.createLineSegmentDetector(cv2.LSD_REFINE_STD)
    found: Floats | None = detector.detect(np.clip(grey, 0, 255).astype(np.uint8))[0]  # type: ignore[assignment]
    if found is None:
        return []
    shortest = SHORTEST * max(grey.shape)
    segments = []
    for x0, y0, x1, y1 in found.reshape(-1, 4).astype(float):
        p, q = np.array([x0, y0]), np.array([x1, y1])
        run = q - p
        long = float(np.hypot(*run))
        if long < shortest / 3:
            continue
        normal = np.array([-run[1], run[0]]) / long
        at = p + (q - p) * np.linspace(0.1, 0.9, 9)[:, None]
        step = float(np.median(sampled(grey, at + 3.0 * normal) - sampled(grey, at - 3.0 * normal)))
        if abs(step) < LEAST_STEP:
            continue
        if step < 0:
            p, q, normal = q, p, -normal
        segments.append((p, q, normal, long))
    segments.sort(key=lambda s: -s[3])
    lines: list[tuple[Floats, float, list[tuple[Floats, Floats]]]] = []
    for p, q, normal, long in segments:
        for n, (line, seen, members) in enumerate(lines):
            if (
                float(line[:2] @ normal) > math.cos(math.radians(SAME_LINE_DEG))
                and max(abs(line[:2] @ e + line[2]) for e in (p, q)) < SAME_LINE_PX
            ):
                lines[n] = through([*members, (p, q)], line[:2]), seen + long, [*members, (p, q)]
                break
        else:
            lines.append((np.array([*normal, -float(normal @ p)]), long, [(p, q)]))
    lines = [line for line in lines if line[1] >= shortest]
    return sorted(lines, key=lambda line: -line[1])[:MOST_LINES]


def through(segments: list[tuple[Floats, Floats]], like: Floats) -> Floats:
    """The line (a, b, c) through segments, each as heavy as it is long, its normal on the side of ``like``."""
    ends = np.array(segments).reshape(-1, 2)
    weight = np.repeat([math.dist(p, q) for p, q in segments], 2)
    middle = (weight[:, None] * ends).sum(axis=0) / weight.sum()
    away = ends - middle
    _, vectors = np.linalg.eigh((weight[:, None] * away).T @ away)
    normal = vectors[:, 0] if vectors[:, 0] @ like > 0 else -vectors[:, 0]
    return np.array([*normal, -float(normal @ middle)])


def sampled(grey: Floats, at: Floats) -> Floats:
    """Values (n,) at places (n, 2), between pixels by interpolation."""
    values = cv2.remap(
        grey.astype(np.float32),
        at[None, :, 0].astype(np.float32),
        at[None, :, 1].astype(np.float32),
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REPLICATE,
    )
    return np.asarray(values[0], float)


def best_quad(
    lines: list[tuple[Floats, float, list[tuple[Floats, Floats]]]], grey: Floats
) -> tuple[Floats, float] | None:
    """The four corners (4, 2) whose sides are best seen, and by how much; None where no four lines go round anything
    bright.
    """
    high, wide = grey.shape
    best: tuple[float, Floats, float] | None = None
    turned = sorted(lines, key=lambda line: math.atan2(line[0][1], line[0][0]))
    ways = [math.atan2(line[0][1], line[0][0]) for line in turned]
    meet = {(a, b): crossing(turned[a][0], turned[b][0]) for a, b in itertools.permutations(range(len(turned)), 2)}
    least, most = -MOST_OUT * np.array([wide, high]), (1 + MOST_OUT) * np.array([wide, high])
    near = {pair: bool(((least < at) & (at < most)).all()) for pair, at in meet.items()}
    for chosen in itertools.combinations(range(len(turned)), 4):
        sides = [(chosen[k], chosen[(k + 1) % 4]) for k in range(4)]
        if not all(math.radians(35) < (ways[b] - ways[a]) % (2 * math.pi) < math.radians(145) for a, b in sides):
            continue
        if not all(near[side] for side in sides):
            continue
        four, corners = [turned[k] for k in chosen], np.array([meet[side] for side in sides])
        area = polygon_area(corners) / (wide * high)
        if area < LEAST_AREA:
            continue
        support = [seen_share(four[(k + 1) % 4], corners[k], corners[(k + 1) % 4]) for k in range(4)]
        if min(support) < LEAST_SUPPORT:
            continue
        whole = float(np.mean(support))
        score = whole * area**0.5 * min(support) ** 0.5
        if best is None or score > best[0]:
            best = score, corners, whole
    return None if best is None else (best[1], best[2])


def crossing(a: Floats, b: Floats) -> Floats:
    x, y, w = np.cross(a, b)
    return np.array([x, y]) / w if abs(w) > 1e-9 else np.full(2, np.inf)


def polygon_area(corners: Floats) -> float:
    x, y = corners.T
    return 0.5 * abs(float(x @ np.roll(y, -1) - y @ np.roll(x, -1)))


def seen_share(line: tuple[Floats, float, list[tuple[Floats, Floats]]], p: Floats, q: Floats) -> float:
    """Share of the side from ``p`` to ``q`` that segments of its line cover."""
    run = q - p
    square = float(run @ run)
    if square < 1.0:
        return 0.0
    spans = sorted(sorted((float((a - p) @ run) / square, float((b - p) @ run) / square)) for a, b in line[2])
    covered, reached = 0.0, 0.0
    for low, high in spans:
        low, high = max(low, reached), min(high, 1.0)
        if high > low:
            covered, reached = covered + high - low, high
    return covered


def refined(corners: Floats, grey: Floats, reach: float = 5.0) -> Floats:
    """Corners where lines cross that are drawn anew through the steepest step near each side, what lies off them left
    out.
    """
    sides = []
    inside = corners.mean(axis=0)
    for k in range(4):
        p, q = corners[k], corners[(k + 1) % 4]
        run = q - p
        normal = np.array([-run[1], run[0]]) / max(float(np.hypot(*run)), 1e-9)
        if normal @ (inside - p) < 0:
            normal = -normal
        share = np.linspace(0.03, 0.97, 90)
        offsets = np.arange(-reach, reach + 0.01, 0.5)
        at = (p + run * share[:, None])[:, None] + offsets[None, :, None] * normal
        values = sampled(grey, at.reshape(-1, 2)).reshape(len(share), len(offsets))
        step = values[:, 2:] - values[:, :-2]
        peak = step.argmax(axis=1)
        height = step[np.arange(len(share)), peak]
        good = height > max(LEAST_STEP, 0.4 * float(np.median(height)))
        if good.sum() < 12:
            sides.append(np.array([*normal, -float(normal @ p)]))
            continue
        points = (p + run * share[:, None] + (offsets[1:-1][peak] + parabola(step, peak) * 0.5)[:, None] * normal)[good]
        sides.append(robust_line(points, normal))
    return np.array([crossing(sides[k - 1], sides[k]) for k in range(4)])


def robust_line(points: Floats, like: Floats) -> Floats:
    """A line through ``points`` (n, 2) by least squares, those far off left out in rounds."""
    kept = points
    line = np.zeros(3)
    for _ in range(4):
        middle = kept.mean(axis=0)
        _, vectors = np.linalg.eigh((kept - middle).T @ (kept - middle))
        normal = vectors[:, 0] if vectors[:, 0] @ like > 0 else -vectors[:, 0]
        line = np.array([*normal, -float(normal @ middle)])
        off = np.abs(points @ normal + line[2])
        near = off <= max(2.5 * float(np.median(off)), 0.3)
        if near.sum() < 8:
            break
        kept = points[near]
    return line


def finest(corners: Floats, grey: Floats, reach: float) -> Floats:
    """Corners refined on the full picture, in its pixels with centres at +0.5."""
    again = refined(corners - 0.5, softened(grey, 1.0), max(reach, 3.0)) + 0.5
    moved = np.hypot(*(again - corners).T)
    return np.where((moved < 3 * reach)[:, None], again, corners)


def from_top_left(corners: Floats) -> Floats:
    """Corners (4, 2) in order round the sheet, clockwise as seen, the one nearest to the top left first."""
    middle = corners.mean(axis=0)
    order = np.argsort(np.arctan2(*(corners - middle).T[::-1]))
    ordered = corners[order]
    return np.roll(ordered, -int(np.argmin(ordered.sum(axis=1))), axis=0)


def flatten(picture: Pixels, corners: Floats, paper_mm: tuple[float, float], even: bool = True) -> Flat:
    """The sheet (corners in px, from its top left clockwise) seen square on, evenly lit. Raises ``ValueError`` for
    corners that no sheet has.
    """
    if not goes_round(corners):
        raise ValueError(
            say("corners: no sheet of paper has these corners; set them in order, one at each corner of the sheet")
        )
    px_per_mm = FLAT_LONG_PX / max(paper_mm)
    wide, high = round(paper_mm[0] * px_per_mm), round(paper_mm[1] * px_per_mm)
    square = np.array([[0, 0], [wide, 0], [wide, high], [0, high]], float)
    # pixel centres lie at +0.5 here and at whole numbers in OpenCV
    matrix = cv2.getPerspectiveTransform((corners - 0.5).astype(np.float32), (square - 0.5).astype(np.float32))
    flat = cv2.warpPerspective(
        picture,
        matrix,
        (wide, high),
        flags=cv2.INTER_AREA if shrinks(corners, wide, high) else cv2.INTER_CUBIC,
        borderMode=cv2.BORDER_REPLICATE,
    )
    return Flat(evenly_lit(np.asarray(flat, np.uint8)) if even else np.asarray(flat, np.uint8), px_per_mm)


def shrinks(corners: Floats, wide: int, high: int) -> bool:
    return polygon_area(corners) > 2.0 * wide * high


def crop(picture: Pixels, box: tuple[int, int, int, int], even: bool = True) -> Pixels:
    """A plain crop (left, top, right, bottom in px), evenly lit."""
    left, top, right, bottom = box
    part = np.ascontiguousarray(picture[top:bottom, left:right])
    return evenly_lit(part) if even else part


def evenly_lit(picture: Pixels) -> Pixels:
    """The picture with its light evened out: divided by the paper's own brightness nearby, which lines do not reach."""
    high, wide = picture.shape[:2]
    scale = min(1.0, 600 / max(high, wide))
    small = cv2.resize(
        picture, (max(1, round(wide * scale)), max(1, round(high * scale))), interpolation=cv2.INTER_AREA
    )
    size = max(3, int(max(small.shape[:2]) * LIGHT_PART) | 1)
    # the brightest nearby is paper; blurred twice as wide, for the light changes slowly
    ground = cv2.morphologyEx(small, cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)))
    ground = cv2.GaussianBlur(ground, (0, 0), size / 2)
    light = cv2.resize(ground, (wide, high), interpolation=cv2.INTER_LINEAR).astype(np.float32)
    return np.asarray(np.clip(picture * (WHITE / np.maximum(light, 20.0)), 0, 255), np.uint8)
