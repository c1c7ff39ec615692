"""First views to begin the solving from."""

from __future__ import annotations

import math
from collections.abc import Iterable

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.lines import Flags, Floats
from aspectum.core.plane.meet import residual_square
from aspectum.core.plane.projection import focal_of
from aspectum.core.sightings import BEARING_OFFSET_DEG, Family
from aspectum.core.view.camera import FIRST_BEARING, LOG_F, PITCH, ROLL, SHIFT_Y, camera_matrix, vanish
from aspectum.core.view.descent import LaidEdges
from aspectum.core.view.effort import START_LOOKS
from aspectum.core.view.evidence import Evidence, own_points
from aspectum.core.view.perspective import View

MOST_LINES = 6  # pairs of a roll and a horizon that starts are made of, the likeliest first
CAPPED = 400.0  # what a sighting costs a start at most
WRONG_SIDE = 60.0  # what a rim on the wrong side of eye level costs a start
MIRRORED = 12.0  # what a rim whose near arc bows the wrong way costs a fit
COARSE_SD = 0.0018  # half-diagonals; what the grid of starts can tell apart
FOCAL_GRID_35MM = (20.0, 35.0, 65.0)  # wide, usual and long; settling reaches what lies between
BEARING_GRID = np.radians(np.arange(0.0, 180.0, 12.0))  # half round, as a line has no direction; settling bridges 6°


def starts(evidence: Evidence, view: View, active: Flags, keep: int = 12) -> list[Floats]:
    """Starting views, best first: candidate eye levels and focal lengths, every bearing tried.

    Eye levels come from the families' own vanishing points, two and two, from the uprights, and
    from level lines at several heights.
    """
    evidence.effort.used += START_LOOKS
    own = own_points(evidence, active)
    uprights = [
        v
        for (_, family, _), v in zip(evidence.slot_keys, own, strict=True)
        if family is Family.UPRIGHT and v is not None
    ]
    level = [
        v
        for (_, family, _), v in zip(evidence.slot_keys, own, strict=True)
        if family not in (Family.UPRIGHT, Family.SLOPE) and v is not None
    ]
    focals = (
        [view.usual_focal]
        if view.lens_known
        else [focal_of(m, evidence.setup.long_side_px) / evidence.scale for m in FOCAL_GRID_35MM]
    )
    roll_plumb = _plumb_roll(evidence, active)
    lines: list[tuple[float, float, float | None]] = []  # roll, foot, focal where it matters
    if evidence.setup.eye_level_px is not None:
        left, right = evidence.setup.eye_level_px
        cx, cy = evidence.setup.centre
        roll = float(np.arctan2(left - right, evidence.setup.width_px))
        middle = left + (right - left) * cx / evidence.setup.width_px - cy
        lines.append((roll, middle / evidence.scale * float(np.cos(roll)), None))
    else:
        found = evidence.setup.found
        if found is not None:
            roll = float(np.arctan2(found.left_y_px - found.right_y_px, evidence.setup.width_px))
            foot = (found.left_y_px + found.right_y_px) / 2 - evidence.setup.centre[1]
            lines.append((roll, foot / evidence.scale * float(np.cos(roll)), found.focal_px / evidence.scale))
        for u, v, square in joins(evidence, own):
            join = cross(u, v)
            size = float(np.hypot(join[0], join[1]))
            if size > 1e-9 and abs(join[1]) > 0.5 * size:
                join = join / (size * np.sign(join[1]))
                roll, foot = float(np.arctan2(join[0], join[1])), float(-join[2])
                tried = [square_focal(u, v), focals[1]] if square and len(focals) > 1 else focals
                lines += [(roll, foot, focal) for focal in tried if focal is not None]
        for v in uprights:
            for focal in focals:
                top = v if v[1] < 0 or (v[1] == 0 and v[2] >= 0) else -v
                roll = float(np.arctan2(-top[0], -top[1]))
                foot = focal * focal * top[2] / float(np.hypot(top[0], top[1]))
                if abs(roll) < 1.2 and abs(foot) < 4 * focal:
                    lines.append((roll, foot, focal))
        rim_lines = lines_from_rims(evidence, focals, roll_plumb)
        lines = lines[: MOST_LINES // 2] + rim_lines if lines else rim_lines
        if len(lines) < MOST_LINES:
            for v in level:
                if abs(v[2]) > 1e-6:
                    x, y = v[:2] / v[2]
                    lines.append((roll_plumb, float(y * np.cos(roll_plumb) + x * np.sin(roll_plumb)), None))
            lines += [(roll_plumb, height, None) for height in (-0.45, 0.0, 0.45)]
    shifted = SHIFT_Y in view.free
    candidates = []
    for roll, foot, only in lines[: MOST_LINES if evidence.rims is None else 2 * MOST_LINES]:
        for focal in focals if only is None else [only]:
            params = view.start.copy()
            params[[LOG_F, ROLL]] = np.log(focal), roll
            if shifted:
                params[SHIFT_Y] = foot
            else:
                params[PITCH] = np.arctan2(foot, focal)
            candidates.append(params)
    best_bearing, cost = _sweep_bearings(evidence, view, np.array(candidates), active)
    order = np.argsort(cost, kind="stable")
    chosen: list[Floats] = []
    for index in order:
        params = candidates[index].copy()
        params[FIRST_BEARING : FIRST_BEARING + len(evidence.forms)] = best_bearing[index]
        if all(
            abs(params[LOG_F] - c[LOG_F]) > 0.2
            or abs(params[PITCH] - c[PITCH]) > 0.1
            or abs(params[ROLL] - c[ROLL]) > 0.1
            for c in chosen
        ):
            chosen.append(params)
        if len(chosen) == keep:
            break
    return [_sweep_slopes(evidence, params, range(len(evidence.slopes))) for params in chosen]


def lines_from_rims(evidence: Evidence, focals: list[float], roll: float) -> list[tuple[float, float, float | None]]:
    """Candidate eye levels from the openings of the level rims: roll, foot and focal length.

    Each ratio is the distance from eye level over the focal length, above or below as its near arc
    says, either where it does not; two rims fix both, one a level for each focal length.
    """
    bank = evidence.rims
    if bank is None or not bank.level.any():
        return []
    rims = np.flatnonzero(bank.level)
    height = bank.start[rims, 1] * np.cos(roll) + bank.start[rims, 0] * np.sin(roll)
    ratio = np.array([bank.fits[k].ratio for k in rims])
    found: list[tuple[float, float, float | None]] = []
    front = bank.front[rims]
    signs = [np.where(front == 0, s, front) for s in (1, -1)] if (front == 0).any() else [front]
    guess = float(np.median(height - focals[len(focals) // 2] * ratio * np.where(front == 0, 1, front)))
    signs.append(np.where(height >= guess, 1, -1))
    for sign in signs:
        opened = sign * ratio
        if len(rims) > 1 and np.ptp(opened) > 0.02:
            slope, level = np.polyfit(opened, height, 1)
            if 0.3 < slope < 8.0:
                found.append((roll, float(level), float(slope)))
        found += [(roll, float(np.median(height - focal * opened)), focal) for focal in focals]
    return found


def wrong_side(evidence: Evidence, camera: Floats) -> Flags:
    """Level rims (R,) whose near arc bows the wrong way under ``camera``."""
    bank = evidence.rims
    assert bank is not None
    foot = math.exp(camera[LOG_F]) * math.tan(camera[PITCH]) + camera[SHIFT_Y]
    height = bank.start[:, 1] * np.cos(camera[ROLL]) + bank.start[:, 0] * np.sin(camera[ROLL])
    return np.asarray(bank.front * (height - foot) < 0)


def coarse_sd(evidence: Evidence) -> float:
    return max(evidence.sd, COARSE_SD)


def joins(evidence: Evidence, own: list[Floats | None]) -> list[tuple[Floats, Floats, bool]]:
    """Pairs of level vanishing points to draw a first eye level through: the two of one form, which
    are square to each other, first, then points of different forms; at most three.
    """
    level = [
        (form, v)
        for (form, family, _), v in zip(evidence.slot_keys, own, strict=True)
        if family in BEARING_OFFSET_DEG and v is not None
    ]
    pairs = [(f != g, i, k) for i, (f, _) in enumerate(level) for k, (g, _) in enumerate(level[:i])]
    return [(level[i][1], level[k][1], not apart) for apart, i, k in sorted(pairs)[:3]]


def square_focal(u: Floats, v: Floats) -> float | None:
    """Focal length that makes the directions to two vanishing points square, f² = -(u - p)·(v - p)
    (Hartley & Zisserman, Multiple View Geometry, 2nd ed., ch. 8), where it is plausible.
    """
    square = -float(u[0] * v[0] + u[1] * v[1])
    depth = float(u[2] * v[2])
    return (square / depth) ** 0.5 if square * depth > 0 and 0.3 < square / depth < 60.0 else None


def cross(u: Floats, v: Floats) -> Floats:
    return np.array([u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]])


def _plumb_roll(evidence: Evidence, active: Flags) -> float:
    on = active[: len(evidence.edges)] & (evidence.slots.slope[evidence.slot] == -2)
    if not on.any():
        return 0.0
    d = (evidence.b - evidence.a)[on]
    d = d * np.where(d[:, 1:] < 0, -1.0, 1.0)
    return float(np.median(np.arctan2(d[:, 0], d[:, 1])))


def _sweep_bearings(evidence: Evidence, view: View, cameras: Floats, active: Flags) -> tuple[Floats, Floats]:
    """Best bearing of each form (c, forms) and capped cost (c,) for each of ``cameras`` (c, P)."""
    forms, edges = len(evidence.forms), len(evidence.edges)
    turns = view.hold.place[FIRST_BEARING : FIRST_BEARING + forms] >= 0
    plumb, turned = sweep_edges(evidence.laid_edges, active[:edges], turns, cameras, BEARING_GRID, coarse_sd(evidence))
    best, cost = np.zeros((len(cameras), forms)), plumb
    bank = evidence.rims
    if bank is not None:
        round_on = active[edges:]
        matrices = np.array([camera_matrix(camera) for camera in cameras])
        aside, ahead, up = matrices[:, :, 0], matrices[:, :, 1], matrices[:, :, 2]
        level_cost = np.minimum(bank.shape_cost(ahead, aside, up, np.zeros(1))[:, 0], CAPPED)
        wrong = WRONG_SIDE * np.stack([wrong_side(evidence, camera) for camera in cameras])
        cost = cost + (level_cost + wrong) @ (round_on & bank.level)
    for i in range(forms):
        grid = BEARING_GRID if turns[i] else np.zeros(1)
        mine = turned[:, i, : len(grid)]
        follows = np.zeros(0, bool) if bank is None else round_on & (bank.bearing == FIRST_BEARING + i)
        if bank is not None and follows.any():
            # a family called left or right recedes on its side; rims alone fit its mirror as well
            mine = (
                mine
                + np.minimum(bank.shape_cost(ahead, aside, up, grid), CAPPED) @ follows
                + np.where(grid > np.pi / 2, 30.0, 0.0)
            )
        at = np.argmin(mine, axis=1)
        best[:, i] = grid[at]
        cost = cost + mine[np.arange(len(cameras)), at]
    return best, cost


@compiled
def sweep_edges(
    edges: LaidEdges, active: Flags, turns: Flags, cameras: Floats, grid: Floats, sd: float
) -> tuple[Floats, Floats]:
    """Capped cost of the ``active`` (n,) edges under ``cameras`` (c, P): of the uprights, (c,), and of every form's
    level edges, (c, forms, B), with the form at each bearing of ``grid`` (B,); one that does not turn stands at 0.
    """
    plumb, turned = np.zeros(len(cameras)), np.zeros((len(cameras), len(turns), len(grid)))
    finer = 1.0 / (sd * sd)
    for c in range(len(cameras)):
        matrix = camera_matrix(cameras[c])
        for i in range(len(edges.slot)):
            m = edges.slot[i]
            if not active[i] or edges.slope[m] >= 0:
                continue
            line, total, square = edges.line[i], edges.total[i], edges.square[i]
            if edges.slope[m] == -2:
                plumb[c] += min(
                    residual_square(line, total, square, matrix[0, 2], matrix[1, 2], matrix[2, 2]) * finer, CAPPED
                )
                continue
            form = edges.bearing[m] - FIRST_BEARING
            for b in range(len(grid) if turns[form] else 1):
                angle = edges.offset[m] + (grid[b] if turns[form] else 0.0)
                east, north = np.sin(angle), np.cos(angle)
                x, y = east * matrix[0, 0] + north * matrix[0, 1], east * matrix[1, 0] + north * matrix[1, 1]
                w = east * matrix[2, 0] + north * matrix[2, 1]
                turned[c, form, b] += min(residual_square(line, total, square, x, y, w) * finer, CAPPED)
    return plumb, turned


SLOPE_GRID = np.radians(np.arange(-70.0, 71.0, 5.0))  # steeper than any roof or stair, in steps that settling bridges


def _sweep_slopes(evidence: Evidence, params: Floats, groups: Iterable[int]) -> Floats:
    """Give slope ``groups``, by index, the best of ``SLOPE_GRID`` under an otherwise fixed view."""
    params = params.copy()
    for i in groups:
        k = FIRST_BEARING + len(evidence.forms) + i
        cost = slope_costs(evidence.laid_edges, k, params, SLOPE_GRID, coarse_sd(evidence))
        params[k] = SLOPE_GRID[int(np.argmin(cost))]
    return params


@compiled
def slope_costs(edges: LaidEdges, k: int, params: Floats, grid: Floats, sd: float) -> Floats:
    """Capped cost (B,) of the edges of the slope group of parameter ``k`` with its angle at each of ``grid`` (B,)."""
    cost, tried, finer = np.zeros(len(grid)), params.copy(), 1.0 / (sd * sd)
    for b in range(len(grid)):
        tried[k] = grid[b]
        points, _ = vanish(tried, edges.bearing, edges.offset, edges.slope)
        for i in range(len(edges.slot)):
            m = edges.slot[i]
            if edges.slope[m] == k:
                square = residual_square(
                    edges.line[i], edges.total[i], edges.square[i], points[m, 0], points[m, 1], points[m, 2]
                )
                cost[b] += min(square * finer, CAPPED)
    return cost
