"""Circles seen in a picture under a known view: proposed by bent lines, kept where the picture's own steps lie along
them.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from aspectum.core.finding.circles import bends, candidates, drawn, plane_map
from aspectum.core.plane.compiled import compiled
from aspectum.pictures.curves import Colours, Curves, between
from aspectum.pictures.tones import colours_at

Floats = NDArray[np.float64]
Grey = NDArray[np.float32]

GLANCE, CLOSER, LOOK = 20, 48, 96  # places round a circle
LEAST_TURN = np.radians(24.0)  # less of a bend fits a straight line as well as an arc
SHORTEST = 12  # points of a bend: five fix an ellipse, and noise asks for twice as many
LEAST_STEP = 3.0  # grey levels across an edge: less is noise
UNEVEN_PX = 1.0  # by which neighbouring steps may lie off a circle differently
ALONG_COS = np.cos(np.radians(28.0))  # a step across the circle, not past it
GLANCED, PROMISING = 0.35, 0.30  # of a glance's and of a first look's places that must show a step
ABOUT_PX = (-9.0, -6.0, 6.0, 9.0)  # from a circle, where what lies about it is looked at
COPY_PX = 4.5  # how far copies lie from it
GLANCES, GLANCES_STANDING = 400, 200  # circles on level planes, and on each upright one, that a glance lets through,
KEPT, KEPT_STANDING = 60, 20  # and that a closer look does
NUDGE = 1e-4  # of its radius, to see what moves it
PARTNERED, PARTNERS, PARTNERS_KEPT = (
    20,
    120,
    5,
)  # circles that another on their axis is looked for to, at how many places, and how many are kept
FARTHEST, OWN_PLACE = 2.2, 0.03  # how much nearer or farther it may be, and how little it must
BEYOND = 0.5  # of the half that lies away from a partner that must show a step
WALLS, WALLED = (0.92, 1.08), 0.6  # radii that a circle is drawn from to its steps as well, where so much of it is seen
BY_CHANCE = 0.45  # share and lead together that bricks and grain show about any circle
LEAST_SEEN, NEARLY = 0.2, 0.025  # of a rim that must be seen; and of its width, within which two are one
LONG_ARC, FREE_TURN = (
    30,
    np.radians(170.0),
)  # points of a chain, and how far it turns, that fix an ellipse by themselves
# of an ellipse found without a view: share that is seen, lead over its copies beside it, and least opening
FREE_SHARE, FREE_LEAD, FREE_THIN = 0.6, 0.25, 0.06
FREED, FREED_PX, FREED_SHARE = (
    0.45,
    3.0,
    0.03,
)  # share seen of a circle that may be drawn freely in the end, how far from it that may lead: px, of its width,
FREED_MORE = 3  # and by how many more places it must then step: the view knows better but where it is off
SAME_PX, SAME, ELSEWHERE_PX = (
    2.5,
    0.025,
    15.0,
)  # closed lines that lie so near (px, and of their width) are one; whose middles lie so far apart are not
SEARCH_PX = 3.0  # how far across the rim its edge is looked for
SIDE_PX = 2.5  # inside and outside a circle, where its colours are read
THINNEST_PX, THINNEST = 3.0, 0.035  # narrowest part, px and of the widest
SMALLEST_PX, LARGEST = 16.0, 0.9  # widest part, px; and of the picture's width


@dataclass(frozen=True)
class SeenCircle:
    """``plane``: which of the asked; ``circle`` (3,): on it; ``places`` (n, 2): px round its image; ``seen`` (n,):
    where a step lies along it; ``rms_px``: how far those steps lie from it; ``step``: their middle height in grey
    levels a pixel; ``against``: the share seen less the share that a copy a little larger or smaller shows, the lesser
    of the two; ``alone``: the same by the greater; ``clear``: how many times the mean slope of what lies about it its
    step is; ``same_way``: as the function of that name has it.
    """

    plane: int
    circle: Floats
    places: Floats
    seen: NDArray[np.bool_]
    rms_px: float
    step: float
    against: float
    alone: float
    clear: float
    same_way: float

    @property
    def share(self) -> float:
        return float(self.seen.mean())

    @property
    def worth(self) -> float:
        """By which the better of two that are one is told."""
        return self.share + 0.5 * self.against - 0.2 * self.rms_px


@compiled(always=True)
def rise(slope_x: Grey, slope_y: Grey, x: float, y: float, nx: float, ny: float) -> float:
    """How the picture rises at a place (px) along the unit way (nx, ny), grey levels a pixel."""
    along: float = between(slope_x, x - 0.5, y - 0.5) * nx + between(slope_y, x - 0.5, y - 0.5) * ny
    return along


@compiled(always=True)
def support(
    places: Floats,
    slope_x: Grey,
    slope_y: Grey,
    seen: NDArray[np.bool_],
    off: Floats,
    step: Floats,
    search: float,
    least: float,
    along_cos: float,
) -> float:
    """Which of ``places`` (n, 2) round a closed line show a step across it, as a neighbour of theirs does the same way:
    the share; ``off``: where the step's crest lies (px outwards), ``step``: how high it is (grey levels a pixel,
    positive where it brightens outwards). Grain and bricks step everywhere, but now this way and now that.
    """
    n, inside = len(places), 0
    h, w = slope_x.shape
    steps = int(search * 2)
    for k in range(n):
        off[k], step[k] = 0.0, 0.0
        x, y = places[k]
        if x < 1 or y < 1 or x > w - 2 or y > h - 2:
            continue
        inside += 1
        a, b = places[(k + 1) % n], places[k - 1]
        tx, ty = a[0] - b[0], a[1] - b[1]
        size = np.hypot(tx, ty)
        if size < 1e-9:
            continue
        nx, ny = ty / size, -tx / size
        best = least
        for s in range(-steps, steps + 1):
            d = 0.5 * s
            px, py = x + d * nx - 0.5, y + d * ny - 0.5
            gx, gy = between(slope_x, px, py), between(slope_y, px, py)
            across = gx * nx + gy * ny
            # nearer counts for more: a neighbour's step is not this one's
            worth = abs(across) * (1.0 - 0.5 * (d / (search + 0.5)) ** 2)
            if worth > best and abs(across) > along_cos * np.hypot(gx, gy):
                best, off[k], step[k] = worth, d, across
        if step[k] != 0.0:
            # the crest between the places looked at
            before = rise(slope_x, slope_y, x + (off[k] - 0.5) * nx, y + (off[k] - 0.5) * ny, nx, ny)
            after = rise(slope_x, slope_y, x + (off[k] + 0.5) * nx, y + (off[k] + 0.5) * ny, nx, ny)
            bend = before + after - 2.0 * step[k]
            if bend * step[k] < 0:
                off[k] += min(max(0.25 * (before - after) / bend, -0.25), 0.25)
    count = 0
    for k in range(n):
        before, after = k - 1, (k + 1) % n
        fits = (step[before] * step[k] > 0 and abs(off[before] - off[k]) <= UNEVEN_PX) or (
            step[after] * step[k] > 0 and abs(off[after] - off[k]) <= UNEVEN_PX
        )
        seen[k] = step[k] != 0.0 and fits
        count += 1 if seen[k] else 0
    return count / n if inside > 0.35 * n else 0.0


@compiled(always=True)
def outward(places: Floats, out: Floats) -> None:
    """Write the unit normals (n, 2) of a closed line through ``places`` (n, 2), all to one side, into ``out``."""
    n = len(places)
    for k in range(n):
        a, b = places[(k + 1) % n], places[k - 1]
        tx, ty = a[0] - b[0], a[1] - b[1]
        size = max(np.hypot(tx, ty), 1e-9)
        out[k, 0], out[k, 1] = ty / size, -tx / size


@compiled(always=True)
def drawn_between(
    circle: Floats, from_plane: Floats, scale: float, cx: float, cy: float, count: int, smallest: float, largest: float
) -> tuple[Floats, float]:
    """``circles.drawn``, and how wide that is (px); nothing where it is not all before the eye, or too small or too
    large to be looked for.
    """
    places, whole = drawn(circle, from_plane, scale, cx, cy, count)
    wide = max(np.ptp(places[:, 0]), np.ptp(places[:, 1])) if whole else 0.0
    return places, wide if smallest <= wide <= largest else 0.0


@compiled(always=True)
def glance(
    circles: Floats,
    from_plane: Floats,
    scale: float,
    cx: float,
    cy: float,
    slope_x: Grey,
    slope_y: Grey,
    smallest: float,
    largest: float,
) -> Floats:
    """How much each circle (m,) is worth a closer look: the share of a few places near which the picture steps, by the
    root of its width, as fewer large circles show so much by chance.
    """
    worth, normal = np.zeros(len(circles)), np.empty((GLANCE, 2))
    seen, off, step = np.empty(GLANCE, np.bool_), np.empty(GLANCE), np.empty(GLANCE)
    for m in range(len(circles)):
        places, wide = drawn_between(circles[m], from_plane, scale, cx, cy, GLANCE, smallest, largest)
        if wide == 0.0:
            continue
        share = support(places, slope_x, slope_y, seen, off, step, 2.5, LEAST_STEP, ALONG_COS)
        if share < GLANCED:
            continue
        outward(places, normal)
        least = 1.0
        for copy in range(2):
            away = -COPY_PX if copy == 0 else COPY_PX
            least = min(
                least, support(places + away * normal, slope_x, slope_y, seen, off, step, 1.0, LEAST_STEP, ALONG_COS)
            )
        worth[m] = max(share - least + 0.3 * (share - BY_CHANCE), 0.0) * np.sqrt(wide)
    return worth


@compiled(always=True)
def glance_beyond(
    circle: Floats,
    circles: Floats,
    from_plane: Floats,
    scale: float,
    cx: float,
    cy: float,
    slope_x: Grey,
    slope_y: Grey,
    smallest: float,
    largest: float,
) -> Floats:
    """How well the picture steps along that half of each of ``circles`` (m, 3) which lies beyond its middle from
    ``circle`` (3,), which has the same axis: the other half of a tin's base is behind the tin.
    """
    worth = np.zeros(len(circles))
    seen, off, step, normal = np.empty(CLOSER, np.bool_), np.empty(CLOSER), np.empty(CLOSER), np.empty((CLOSER, 2))
    first, whole = drawn(circle, from_plane, scale, cx, cy, CLOSER)
    if not whole:
        return worth
    mx, my = first[:, 0].mean(), first[:, 1].mean()
    beyond = np.empty(CLOSER, np.bool_)
    for m in range(len(circles)):
        places, wide = drawn_between(circles[m], from_plane, scale, cx, cy, CLOSER, smallest, largest)
        if wide == 0.0:
            continue
        bx, by = places[:, 0].mean(), places[:, 1].mean()
        for k in range(CLOSER):
            beyond[k] = (places[k, 0] - bx) * (bx - mx) + (places[k, 1] - by) * (by - my) > 0
        half = max(beyond.sum(), 1)
        outward(places, normal)
        shares = np.zeros(3)
        for copy in range(3):
            away = 0.0 if copy == 0 else (-COPY_PX if copy == 1 else COPY_PX)
            support(
                places + away * normal,
                slope_x,
                slope_y,
                seen,
                off,
                step,
                1.5 if copy == 0 else 1.0,
                LEAST_STEP,
                ALONG_COS,
            )
            shares[copy] = (seen & beyond).sum() / half
            if shares[0] < BEYOND:
                break
        if shares[0] >= BEYOND:
            worth[m] = max(shares[0] - min(shares[1], shares[2]) + 0.3 * (shares[0] - BY_CHANCE), 0.0)
    return worth


@compiled(always=True)
def draw_nearer(
    circle: Floats,
    from_plane: Floats,
    scale: float,
    cx: float,
    cy: float,
    slope_x: Grey,
    slope_y: Grey,
    count: int,
    turns: int,
    search: float,
) -> tuple[float, float, float, bool]:
    """Draw ``circle`` (3,) to the steps about it, by Gauss-Newton on its three unknowns: the share of its ``count``
    places that step in the end, its lead over copies a little larger and smaller, by the lesser and the greater, and
    whether all went well.
    """
    seen, off, step, normal = np.empty(count, np.bool_), np.empty(count), np.empty(count), np.empty((count, 2))
    moved, here = np.empty(3), circle.copy()
    share = 0.0
    for turn in range(turns + 1):
        places, whole = drawn(here, from_plane, scale, cx, cy, count)
        if not whole:
            return 0.0, 0.0, 0.0, False
        share = support(places, slope_x, slope_y, seen, off, step, search if turn < 2 else 1.5, LEAST_STEP, ALONG_COS)
        outward(places, normal)
        if turn == turns:
            break
        if share < 0.8 * PROMISING:
            return share, 0.0, 0.0, False
        square, pull = np.zeros((3, 3)), np.zeros(3)
        by = np.empty((3, count))
        for j in range(3):
            moved[:] = here
            moved[j] += NUDGE * here[2]
            there, _ = drawn(moved, from_plane, scale, cx, cy, count)
            for k in range(count):
                by[j, k] = (
                    (there[k, 0] - places[k, 0]) * normal[k, 0] + (there[k, 1] - places[k, 1]) * normal[k, 1]
                ) / NUDGE
        for k in range(count):
            if seen[k]:
                # of what remains the farther may be a neighbour's
                weight = 1.0 / (1.0 + off[k] * off[k])
                for i in range(3):
                    pull[i] += weight * by[i, k] * off[k]
                    for j in range(3):
                        square[i, j] += weight * by[i, k] * by[j, k]
        faint = 1e-9 * (square[0, 0] + square[1, 1] + square[2, 2]) + 1e-300
        for j in range(3):
            square[j, j] += faint
        here += here[2] * np.linalg.solve(square, pull)
        if not here[2] > 0:
            return 0.0, 0.0, 0.0, False
    circle[:] = here
    less, more = 1.0, 0.0
    for copy in range(2):
        away = -COPY_PX if copy == 0 else COPY_PX
        shown = support(places + away * normal, slope_x, slope_y, seen, off, step, 1.5, LEAST_STEP, ALONG_COS)
        less, more = min(less, shown), max(more, shown)
    return share, share - less, share - more, True


@compiled(always=True)
def look_closely(
    circles: Floats, from_plane: Floats, scale: float, cx: float, cy: float, slope_x: Grey, slope_y: Grey
) -> Floats:
    """Each of ``circles`` (m, 3) drawn to its steps in place, and what it is worth then: its share and lead over
    chance, by the root of its width.
    """
    worth = np.zeros(len(circles))
    for m in range(len(circles)):
        share, lead, _, good = draw_nearer(
            circles[m], from_plane, scale, cx, cy, slope_x, slope_y, CLOSER, 3, SEARCH_PX
        )
        if good and share > PROMISING:
            places, _ = drawn(circles[m], from_plane, scale, cx, cy, GLANCE)
            worth[m] = max(share + lead - BY_CHANCE, 0.0) * np.sqrt(max(np.ptp(places[:, 0]), np.ptp(places[:, 1])))
    return worth


def find_circles(
    curves: Curves, camera: Floats, axes: Floats, scale: float, centre: tuple[float, float]
) -> list[SeenCircle]:
    """Circles square to any of ``axes`` (a, 3), each once, the best seen first. ``camera``: (3, 3) as
    ``view.camera.camera_matrix``.
    """
    cx, cy = centre
    largest = LARGEST * max(curves.slope_x.shape)
    found: list[SeenCircle] = []
    parts = bends(curves.points, curves.starts, LEAST_TURN, SHORTEST)
    for plane, axis in enumerate(axes):
        to_plane = plane_map(camera, axis)
        from_plane = np.ascontiguousarray(np.linalg.inv(to_plane))
        circles = candidates(curves.points, parts, to_plane, scale, cx, cy)
        worth = glance(circles, from_plane, scale, cx, cy, curves.slope_x, curves.slope_y, SMALLEST_PX, largest)
        few = promising(circles, worth, GLANCES if plane == 0 else GLANCES_STANDING)
        circles = circles[few]
        worth = look_closely(circles, from_plane, scale, cx, cy, curves.slope_x, curves.slope_y)
        most = KEPT if plane == 0 else KEPT_STANDING
        few = promising(circles, worth, most)
        more, worth_more = partners(circles[few[:PARTNERED]], from_plane, scale, cx, cy, curves, largest)
        both, worth_both = np.concatenate([circles[few], more]), np.concatenate([worth[few], worth_more])
        for circle in both[promising(both, worth_both, 2 * most)]:
            one = refined(circle, plane, from_plane, scale, cx, cy, curves)
            if one is None:
                continue
            found.append(one)
            if one.share >= WALLED:
                # a rim has another beside it, the other side of its wall: each is drawn from its own side
                walls = (
                    refined(circle * np.array([1.0, 1.0, factor]), plane, from_plane, scale, cx, cy, curves)
                    for factor in WALLS
                )
                found += [wall for wall in walls if wall is not None]
    return distinct(found)


def partners(
    circles: Floats, from_plane: Floats, scale: float, cx: float, cy: float, curves: Curves, largest: float
) -> tuple[Floats, Floats]:
    """Circles (m, 3) on the axis of each of ``circles`` and as wide as it, where the picture shows them: of a tin whose
    mouth is seen, its base; and what each is worth (m,). On a plane an eye's distance away they are the same circle,
    farther or nearer: all three unknowns by one factor.
    """
    factors = np.geomspace(1 / FARTHEST, FARTHEST, PARTNERS)
    kept: list[Floats] = []
    for circle in circles:
        row = circle[None] * factors[:, None]
        worth = glance_beyond(
            circle, row, from_plane, scale, cx, cy, curves.slope_x, curves.slope_y, SMALLEST_PX, largest
        )
        worth[np.abs(np.log(factors)) < OWN_PLACE] = 0.0
        kept += [row[k] for k in promising(row, worth, PARTNERS_KEPT)]
    row = np.array(kept).reshape(-1, 3)
    return row, look_closely(row, from_plane, scale, cx, cy, curves.slope_x, curves.slope_y)


@dataclass(frozen=True)
class SeenEllipse:
    """A closed line fitted freely: its middle, half axes (px, the longer first), direction of the longer (radians, y
    down) and the share of it that shows.
    """

    centre: tuple[float, float]
    major: float
    minor: float
    angle: float
    share: float


def find_ellipses(curves: Curves) -> list[SeenEllipse]:
    """Ellipses of which one bent line shows enough to fix all five unknowns: what tells of a view before
    there is one.
    """
    found: list[SeenEllipse] = []
    seen, off, step = np.zeros(LOOK, bool), np.zeros(LOOK), np.zeros(LOOK)
    for start, stop in bends(curves.points, curves.starts, FREE_TURN, LONG_ARC).tolist():
        points = curves.points[start:stop]
        (x, y), major, minor, way = ellipse_through(points)
        if (
            not np.isfinite(major)
            or 2 * major < SMALLEST_PX
            or 2 * major > LARGEST * max(curves.slope_x.shape)
            or minor < FREE_THIN * major
        ):
            continue
        places = round_places((x, y), major, minor, way, LOOK)
        share = support(places, curves.slope_x, curves.slope_y, seen, off, step, 1.5, LEAST_STEP, ALONG_COS)
        if share < FREE_SHARE or any(
            np.hypot(x - o.centre[0], y - o.centre[1]) < 3 and abs(major - o.major) < 4 for o in found
        ):
            continue
        away = normals(places)
        copies = [
            support(places + d * away, curves.slope_x, curves.slope_y, seen, off, step, 1.5, LEAST_STEP, ALONG_COS)
            for d in (-COPY_PX, COPY_PX)
        ]
        if share - min(copies) >= FREE_LEAD:
            found.append(SeenEllipse((x, y), major, minor, way, share))
    return found


def ellipse_through(points: Floats) -> tuple[tuple[float, float], float, float, float]:
    """The ellipse through ``points`` (n, 2) by least squares (Fitzgibbon, Pilu & Fisher, IEEE PAMI 21(5), 1999, as
    OpenCV has it): its middle, half axes, the longer first, and direction of the longer (radians, y down); not numbers
    where there is none.
    """
    (x, y), (wide, high), angle = cv2.fitEllipseDirect(points.astype(np.float32))
    if wide >= high:
        return (x, y), wide / 2, high / 2, float(np.radians(angle))
    return (x, y), high / 2, wide / 2, float(np.radians(angle + 90))


def round_places(centre: tuple[float, float], major: float, minor: float, way: float, count: int) -> Floats:
    """Places (count, 2) round an ellipse by its middle, half axes and direction of the longer (radians, y down)."""
    turns = 2 * np.pi * np.arange(count) / count
    along, across, c, s = major * np.cos(turns), minor * np.sin(turns), np.cos(way), np.sin(way)
    return np.stack([centre[0] + along * c - across * s, centre[1] + along * s + across * c], axis=1)


def promising(circles: Floats, worth: Floats, most: int) -> list[int]:
    """The best of ``circles`` (m, 3), none of them nearly another."""
    kept = np.empty((most, 3))
    chosen: list[int] = []
    for k in np.argsort(-worth).tolist():
        if worth[k] <= 0 or len(chosen) == most:
            break
        others = kept[: len(chosen)]
        if not (np.abs(others - circles[k]).max(axis=1) < NEARLY * others[:, 2]).any():
            kept[len(chosen)] = circles[k]
            chosen.append(k)
    return chosen


def refined(
    circle: Floats, plane: int, from_plane: Floats, scale: float, cx: float, cy: float, curves: Curves
) -> SeenCircle | None:
    """A circle drawn as finely as its steps allow, with all that tells how sure it is."""
    here = circle.copy()
    _, against, alone, good = draw_nearer(here, from_plane, scale, cx, cy, curves.slope_x, curves.slope_y, LOOK, 4, 1.5)
    if not good:
        return None
    places, _ = drawn(here, from_plane, scale, cx, cy, LOOK)
    seen, off, step = np.zeros(LOOK, bool), np.zeros(LOOK), np.zeros(LOOK)
    support(places, curves.slope_x, curves.slope_y, seen, off, step, 1.5, LEAST_STEP, ALONG_COS)
    if seen.sum() >= FREED * LOOK:
        places = freed(places, seen, off, step, curves)
    across = np.linalg.norm(places - np.roll(places, LOOK // 2, axis=0), axis=1)
    # one that has shrunk to a speck, or lies flat along a straight line, shows nothing of a circle
    if (
        seen.sum() < LEAST_SEEN * LOOK
        or across.max() < SMALLEST_PX
        or across.min() < max(THINNEST_PX, THINNEST * across.max())
    ):
        return None
    height = float(np.median(np.abs(step[seen])))
    rms, steep = float(np.sqrt((off[seen] ** 2).mean())), steepness(places, seen, curves.slope_x, curves.slope_y)
    return SeenCircle(
        plane,
        here,
        places,
        seen,
        rms,
        height,
        against,
        alone,
        height / max(steep, 0.5),
        same_way(places, seen, curves.colours),
    )


def same_way(places: Floats, seen: NDArray[np.bool_], colours: Colours) -> float:
    """How much colour changes the same way across a closed line all round where it is ``seen`` (0 to 1): about what
    mixes two rims it does not.
    """
    away = SIDE_PX * normals(places)
    outside, inside = colours_at(colours, np.stack([places + away, places - away])[:, seen])
    change = outside - inside
    return float(np.linalg.norm(change.mean(axis=0)) / max(float(np.linalg.norm(change, axis=1).mean()), 1e-9))


def freed(places: Floats, seen: NDArray[np.bool_], off: Floats, step: Floats, curves: Curves) -> Floats:
    """The ellipse nearest to the steps about ``places`` (n, 2), whatever the view would have it look like, where it
    stays close by and steps more; else ``places``. ``seen``, ``off`` and ``step`` (n,) are brought up to date with it.
    """
    crest = (places + off[:, None] * normals(places))[seen]
    centre, major, minor, way = ellipse_through(crest)
    if not np.isfinite([*centre, major, minor]).all():
        return places
    free = round_places(centre, major, minor, way, LOOK)
    if farness(free, places).max() > max(FREED_PX, FREED_SHARE * 2 * major):
        return places
    there, away, height = np.zeros(LOOK, bool), np.zeros(LOOK), np.zeros(LOOK)
    support(free, curves.slope_x, curves.slope_y, there, away, height, 1.5, LEAST_STEP, ALONG_COS)
    if there.sum() < seen.sum() + FREED_MORE:
        return places
    seen[:], off[:], step[:] = there, away, height
    return free


@compiled(always=True)
def steepness(places: Floats, seen: NDArray[np.bool_], slope_x: Grey, slope_y: Grey) -> float:
    """How steeply (grey levels a pixel) the picture rises in the mean, whichever way, beside those of ``places`` (n, 2)
    round a closed line that are ``seen``.
    """
    high, wide = slope_x.shape
    normal = np.empty_like(places)
    outward(places, normal)
    total, count = 0.0, 0
    for k in range(len(places)):
        if seen[k]:
            for away in ABOUT_PX:
                x, y = places[k, 0] + away * normal[k, 0], places[k, 1] + away * normal[k, 1]
                column, row = min(max(int(x), 0), wide - 1), min(max(int(y), 0), high - 1)
                total, count = total + np.hypot(slope_x[row, column], slope_y[row, column]), count + 1
    return total / max(count, 1)


def normals(places: Floats) -> Floats:
    along = np.roll(places, -1, axis=0) - np.roll(places, 1, axis=0)
    along /= np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-9)
    return np.stack([along[:, 1], -along[:, 0]], axis=1)


def distinct(found: list[SeenCircle]) -> list[SeenCircle]:
    """Each circle once, as its best seen."""
    kept: list[SeenCircle] = []
    middles = np.zeros((len(found), 2))
    for one in sorted(found, key=lambda s: -s.worth):
        middle = one.places.mean(axis=0)
        close = np.flatnonzero(np.abs(middles[: len(kept)] - middle).max(axis=1) < ELSEWHERE_PX)
        if all(apart(one, kept[k]) > max(SAME_PX, SAME * float(np.ptp(one.places[:, 0]))) for k in close):
            middles[len(kept)] = middle
            kept.append(one)
    return kept


def apart(one: SeenCircle, other: SeenCircle) -> float:
    """How far two closed lines lie apart at most places (px)."""
    return float(np.quantile(farness(one.places[::4], other.places), 0.7))


@compiled(always=True)
def farness(places: Floats, others: Floats) -> Floats:
    """How far each of ``places`` (n, 2) lies from the nearest of ``others`` (m, 2)."""
    out = np.empty(len(places))
    for i in range(len(places)):
        least = np.inf
        for k in range(len(others)):
            dx, dy = places[i, 0] - others[k, 0], places[i, 1] - others[k, 1]
            least = min(least, dx * dx + dy * dy)
        out[i] = np.sqrt(least)
    return out
