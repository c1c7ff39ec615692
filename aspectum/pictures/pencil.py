"""Pencil lines on a flattened sheet: a line that is expected somewhere is drawn to the one that is there."""

from __future__ import annotations

import math
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from aspectum.pictures.fitting import straightened

Pixels = NDArray[np.uint8]
Floats = NDArray[np.float64]
Place = tuple[float, float]

SIDEWAYS_MM, END_MM = 9.0, 9.0  # how far a line is looked for across itself, and its ends along it
STEP_MM = 0.3  # between places tried across a line: half a pencil line's width
SOFTEN_MM = 0.35  # about a pencil line's width
SAMPLES = 80  # places along a line at which it is looked for
LEAST_DARK = 14.0  # grey levels below the paper that a line must be on the whole
NEARER = 15.0  # grey levels that a line at the far end of the search must be darker by
END_WINDOW_MM = 3.5  # how far past an end the line is followed: hands overshoot by some millimetres
FAINT_PART = 0.3  # of a line, which must be as dark: darker crossings do not count
MIDDLE_MM, MIDDLE_STEP_MM = 0.6, 0.1  # within which the middle of a pencil line is found, and how finely
OWN_MM, AGAIN_MM, MOST_AGAIN = (
    1.1,
    3.6,
    2,
)  # within which a line is itself, what restates it lies, and how often that is looked for
LINED_IN = 0.45  # of the usual line's darkness: what is lighter is construction
RESTATED = 0.3  # of a line's darkness that what restates it has at least
WANDER_MM, LEAST_SPREAD_MM = 9.0, 0.06  # over which a hand's wandering is one, and the least that a line scatters
PLACED_MM = 0.08  # by which a flattened sheet's lines lie off on the whole, by simulation
LEAST_PLACES = 4  # of a line, that a straight one is drawn through
PAPER = 250  # of a sheet under even light


@dataclass(frozen=True)
class Snapped:
    """Ends on a pencil line, how dark it is on the whole (grey levels under the paper), and how well it is known:
    across itself in its middle (mm), and its tilt (degrees), one standard deviation each.
    """

    p: Place
    q: Place
    dark: float
    sd_mm: float
    sd_deg: float


@dataclass(frozen=True)
class Nearest:
    """Ends (px) of the best line near an expected one, of ``others`` beside it, and the expected one's normal."""

    best: tuple[Floats, Floats]
    others: list[tuple[Floats, Floats]]
    normal: Floats


@dataclass(frozen=True)
class SnappedRim:
    """An ellipse on a pencil line: centre, half axes (px), direction of the major axis (radians, y down)."""

    centre: Place
    major: float
    minor: float
    angle: float
    dark: float


def covered(shape: tuple[int, ...], lines: list[list[list[float]]], wide: float) -> NDArray[np.bool_]:
    """Pixels of a sheet that ``lines`` through points (px), ``wide`` px, lie over."""
    mask = np.zeros(shape[:2], np.uint8)
    for line in lines:
        # pixel centres lie at +0.5 here and at whole numbers in OpenCV
        cv2.polylines(mask, [np.round(np.array(line) - 0.5).astype(np.int32)], False, 1, max(1, round(wide)))
    return mask > 0


def beside(one: Snapped, other: Snapped) -> float:
    """How far the middle of one line lies beside another, px."""
    p, q = np.array(other.p), np.array(other.q)
    run = q - p
    away = (np.array(one.p) + np.array(one.q)) / 2 - p
    return float(abs(away[0] * run[1] - away[1] * run[0]) / max(float(np.hypot(*run)), 1e-9))


def seen_quantile(values: Floats, part: float) -> Floats:
    """Of each row (n, m) the quantile ``part`` (0 to 1) of what is seen, linearly interpolated; what is not seen is
    NaN, and one of a row at least is seen. The same as ``numpy.nanquantile``, which goes row by row and took most of
    the time that a rim took.
    """
    ordered = np.sort(values, axis=1)  # NaN last
    last = np.count_nonzero(~np.isnan(values), axis=1) - 1
    place = part * last
    under = np.floor(place).astype(np.intp)
    rows = np.arange(len(values))
    low, high = ordered[rows, under], ordered[rows, np.minimum(under + 1, last)]
    return np.asarray(low + (high - low) * (place - under), float)


class PencilSheet:
    """A flattened sheet (RGB), ready to be asked. ``printed``: its pixels that a printer drew, which are taken for
    paper, and of rims left out.
    """

    def __init__(self, picture: Pixels, px_per_mm: float, printed: NDArray[np.bool_] | None = None) -> None:
        self.hidden = None if printed is None or not printed.any() else printed
        if self.hidden is not None:
            picture = np.where(self.hidden[..., None], np.uint8(PAPER), picture)
        grey = cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY).astype(np.float32)
        paper = cv2.GaussianBlur(
            cv2.morphologyEx(grey, cv2.MORPH_CLOSE, np.ones((9, 9), np.uint8)), (0, 0), 4.0 * px_per_mm
        )
        self.dark = cv2.GaussianBlur(np.maximum(paper - grey, 0.0), (0, 0), max(SOFTEN_MM * px_per_mm, 0.6))
        self.px_per_mm = px_per_mm

    def at(self, points: Floats) -> Floats:
        """Darkness (...) at places (..., 2)."""
        flat = points.reshape(-1, 2).astype(np.float32)
        # remap takes at most 32767 columns
        rows = math.ceil(len(flat) / 30000)
        padded = np.zeros((rows * 30000, 2), np.float32)
        padded[: len(flat)] = flat - 0.5
        found = cv2.remap(
            self.dark, padded[:, 0].reshape(rows, -1), padded[:, 1].reshape(rows, -1), cv2.INTER_LINEAR, borderValue=0.0
        )
        return np.asarray(found.reshape(-1)[: len(flat)], float).reshape(points.shape[:-1])

    def is_hidden(self, points: Floats) -> NDArray[np.bool_]:
        """Whether places (..., 2) lie on what is printed, every eighth of a line's let through, so that something is
        always seen.
        """
        if self.hidden is None:
            return np.zeros(points.shape[:-1], bool)
        high, wide = self.hidden.shape
        columns = np.clip(points[..., 0], 0, wide - 1).astype(np.intp)
        rows = np.clip(points[..., 1], 0, high - 1).astype(np.intp)
        found = self.hidden[rows, columns]
        found[..., ::8] = False
        return found

    def snap(self, p: Place, q: Place) -> Snapped | None:
        """The pencil line nearest to p-q (px); None where none is dark enough."""
        found = self._nearest(p, q)
        return None if found is None else self._followed(*found.best, found.normal)

    def follow(self, p: Place, q: Place) -> list[Snapped]:
        """The pencil line nearest to p-q (px) and what restates it close by, the darkest first; empty where none is
        dark enough.
        """
        found = self._nearest(p, q)
        if found is None:
            return []
        first = self._followed(*found.best, found.normal)
        again = [self._followed(*ends, found.normal) for ends in found.others]
        apart = OWN_MM * self.px_per_mm
        kept = [first]
        for one in again:
            if one.dark >= RESTATED * first.dark and all(beside(one, other) > apart for other in kept):
                kept.append(one)
        return sorted(kept, key=lambda line: -line.dark)

    def _nearest(self, p: Place, q: Place) -> Nearest | None:
        """Where the best line near p-q lies, and others near it."""
        start, stop = np.array(p), np.array(q)
        run = stop - start
        long = float(np.hypot(*run))
        if long < 3.0 * self.px_per_mm:
            return None
        normal = np.array([-run[1], run[0]]) / long
        # a short line is not to be turned into its neighbour
        reach = min(SIDEWAYS_MM * self.px_per_mm, 0.3 * long)
        offsets = np.arange(-reach, reach + 1e-9, STEP_MM * self.px_per_mm)
        share = np.linspace(0.06, 0.94, SAMPLES)
        dark = self.at(start + run * share[:, None, None] + offsets[None, :, None] * normal)
        places = np.arange(len(offsets))
        a, b = np.meshgrid(places, places, indexing="ij")
        column = a[..., None] + (b - a)[..., None] * share
        low = np.clip(np.floor(column).astype(np.intp), 0, max(len(offsets) - 2, 0))
        part = column - low
        rows = np.arange(SAMPLES)
        values = dark[rows, low] * (1 - part) + dark[rows, np.minimum(low + 1, len(offsets) - 1)] * part
        # a line must be there along all of itself: its faint parts count, dark crossings do not
        score = np.minimum(values, 60.0).mean(axis=2) * 0.5 + np.quantile(values, 0.25, axis=2) * 0.5
        far = (offsets[a] ** 2 + offsets[b] ** 2) / max(2.0 * reach**2, 1e-9)
        i, k = (int(n) for n in np.unravel_index(int(np.argmax(score - NEARER * far)), score.shape))
        if score[i, k] < LEAST_DARK:
            return None

        def ends(i: int, k: int) -> tuple[Floats, Floats]:
            return start + offsets[i] * normal, stop + offsets[k] * normal

        # what is drawn again lies beside it at both ends, and nearly along it
        about = (np.abs(a - i) + np.abs(b - k)) * STEP_MM
        close = (np.abs(a - i) * STEP_MM < AGAIN_MM) & (np.abs(b - k) * STEP_MM < AGAIN_MM)
        rest = np.where(close & (about > 2 * OWN_MM), score, 0.0)
        others = []
        for _ in range(MOST_AGAIN):
            m, n = (int(v) for v in np.unravel_index(int(np.argmax(rest)), rest.shape))
            if rest[m, n] < RESTATED * score[i, k]:
                break
            others.append(ends(m, n))
            rest[(np.abs(a - m) + np.abs(b - n)) * STEP_MM < 2 * OWN_MM] = 0.0
        return Nearest(ends(i, k), others, normal)

    def _followed(self, begin: Floats, end: Floats, normal: Floats) -> Snapped:
        """A line brought to the middle of the pencil's, by least squares through its darkest places, to
        where it stops.
        """
        begin, end = self._middle(begin, end, normal)
        run = end - begin
        long = max(float(np.hypot(*run)), 1e-9)
        shifts = np.arange(-MIDDLE_MM, MIDDLE_MM + 1e-9, MIDDLE_STEP_MM) * self.px_per_mm
        share = np.linspace(0.04, 0.96, max(SAMPLES, round(long / self.px_per_mm)))
        across = self.at(begin + share[:, None, None] * run + shifts[None, :, None] * normal)
        own = across[:, len(shifts) // 2]
        usual = float(np.median(own))
        weight = np.maximum(across - 0.5 * across.max(axis=1, keepdims=True), 0.0) + 1e-9
        off = (weight * shifts).sum(axis=1) / weight.sum(axis=1)
        seen = across.max(axis=1) > 0.35 * usual
        turned, level, spread = (
            straightened(share[seen], off[seen])
            if seen.sum() >= LEAST_PLACES
            else (0.0, 0.0, MIDDLE_MM * self.px_per_mm)
        )
        begin, end = begin + level * normal, end + (level + turned) * normal
        # a hand wanders over some millimetres: places nearer to each other say the same again
        count = max(seen.mean() * long / (WANDER_MM * self.px_per_mm), 3.0)
        sd = max(spread, LEAST_SPREAD_MM * self.px_per_mm) / math.sqrt(count)
        sd_deg = math.degrees(math.atan2(sd * math.sqrt(12.0), long))
        return Snapped(
            self._end(end, begin), self._end(begin, end), usual, math.hypot(sd / self.px_per_mm, PLACED_MM), sd_deg
        )

    def _middle(self, begin: Floats, end: Floats, normal: Floats) -> tuple[Floats, Floats]:
        """A line brought to the middle of the pencil's: what is sought from afar stops at its nearer edge."""
        shifts = np.arange(-MIDDLE_MM, MIDDLE_MM + 1e-9, MIDDLE_STEP_MM) * self.px_per_mm
        a, b = (v.ravel() for v in np.meshgrid(shifts, shifts, indexing="ij"))
        share = np.linspace(0.06, 0.94, SAMPLES)[None, :, None]
        starts, stops = begin + a[:, None] * normal, end + b[:, None] * normal
        values = self.at(starts[:, None] + share * (stops - starts)[:, None])
        best = int(np.argmax(np.quantile(values, FAINT_PART, axis=1)))
        return starts[best], stops[best]

    def _end(self, other: Floats, end: Floats) -> Place:
        """Where the line from ``other`` stops near ``end``."""
        run = end - other
        long = float(np.hypot(*run))
        way = run / max(long, 1e-9)
        reach = min(END_MM * self.px_per_mm, 0.25 * long)
        steps = np.arange(-reach, reach + 1e-9, STEP_MM * self.px_per_mm)
        window = np.linspace(0.3, END_WINDOW_MM, 12) * self.px_per_mm
        inside = self.at(end + (steps[:, None, None] - window[None, :, None]) * way)
        outside = self.at(end + (steps[:, None, None] + window[None, :, None]) * way)
        # as dark as the line is on the whole: a crossing counts no more, and the blur beyond a dark end no less than it
        # is
        usual = float(np.median(self.at(other + run * np.linspace(0.15, 0.85, SAMPLES)[:, None])))
        drop = np.minimum(inside, usual).mean(axis=1) - np.minimum(outside, usual).mean(axis=1)
        best = int(np.argmax(drop - NEARER * (steps / max(reach, 1e-9)) ** 2))
        at = end + steps[best] * way if drop[best] > LEAST_DARK else end
        return float(at[0]), float(at[1])

    def snap_rim(self, centre: Place, major: float, minor: float, angle: float) -> SnappedRim | None:
        """The drawn ellipse nearest to an expected one (half axes in px): place and axes searched in turn,
        ever finer.
        """
        here = begun = np.array([centre[0], centre[1], major, minor, angle])
        reach = min(SIDEWAYS_MM * self.px_per_mm, 0.25 * major)
        turns = np.linspace(0, 2 * np.pi, 120, endpoint=False)

        def along_line(shapes: Floats) -> Floats:
            c, s = np.cos(shapes[:, 4]), np.sin(shapes[:, 4])
            along, across = shapes[:, 2, None] * np.cos(turns), shapes[:, 3, None] * np.sin(turns)
            at = np.stack(
                [
                    shapes[:, 0, None] + c[:, None] * along - s[:, None] * across,
                    shapes[:, 1, None] + s[:, None] * along + c[:, None] * across,
                ],
                axis=-1,
            )
            return np.where(self.is_hidden(at), np.nan, self.at(at))

        def near_enough(shapes: Floats) -> Floats:
            values = np.minimum(along_line(shapes), 60.0)
            away = ((shapes[:, :4] - begun[:4]) / reach) ** 2
            return np.asarray(
                np.nanmean(values, axis=1) * 0.5 + seen_quantile(values, FAINT_PART) * 0.5 - NEARER * away.sum(axis=1),
                float,
            )

        def darkness(shapes: Floats) -> Floats:
            return seen_quantile(along_line(shapes), FAINT_PART)

        # from afar to the nearer edge of the pencil's line, then to its middle
        near = MIDDLE_MM * self.px_per_mm / reach
        for width, score in [(w, near_enough) for w in (1.0, 0.5, 0.25, 0.12, 0.06)] + [
            (near, darkness),
            (near / 2, darkness),
            (near / 4, darkness),
        ]:
            steps = np.linspace(-reach * width, reach * width, 9)
            dy, dm = np.meshgrid(steps, steps, indexing="ij")
            tried = np.tile(here, (dy.size, 1))
            tried[:, 1] += dy.ravel()
            tried[:, 3] = np.maximum(tried[:, 3] + dm.ravel(), 0.5)
            here = tried[int(np.argmax(score(tried)))]
            dx, da = np.meshgrid(steps, steps, indexing="ij")
            tried = np.tile(here, (dx.size, 1))
            tried[:, 0] += dx.ravel()
            tried[:, 2] = np.maximum(tried[:, 2] + da.ravel(), 1.0)
            here = tried[int(np.argmax(score(tried)))]
            tried = np.tile(here, (9, 1))
            tried[:, 4] += np.linspace(-0.12, 0.12, 9) * width
            here = tried[int(np.argmax(score(tried)))]
        dark = float(near_enough(here[None])[0])
        if dark < LEAST_DARK:
            return None
        return SnappedRim((float(here[0]), float(here[1])), float(here[2]), float(here[3]), float(here[4]), dark)
