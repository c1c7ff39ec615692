"""One camera, and a bearing for every form, through all sighted edges and rims at once.

The estimate minimises the squared end-point distances of all edges to lines through their
families' vanishing points (maximum likelihood for equal isotropic point error; Hartley & Zisserman,
Multiple View Geometry, 2nd ed., ch. 8) and the squared distances of all rim points to their
circles' images, with what is known beforehand as extra residuals. Its covariance is the inverse
of the normal matrix at the solution.

Sightings are counted edges first, then rims: flags of shape (n + R,).
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from aspectum.core.circles import RimBank, RimState, RimStep
from aspectum.core.effort import START_LOOKS, STOP_AT, VIEW_BY, Effort
from aspectum.core.ellipses import RimFit
from aspectum.core.linear import inverse
from aspectum.core.lines import Floats
from aspectum.core.model import BEARING_OFFSET_DEG, Edge, Family, Perspective, Plane, Rim, Setup
from aspectum.core.projection import (
    FIRST_BEARING,
    LOG_F,
    PITCH,
    ROLL,
    SHIFT_X,
    SHIFT_Y,
    Flags,
    Ints,
    Segments,
    Slots,
    Vanishing,
    eye_level_height,
    residuals,
    residuals_with_slopes,
    vanishing,
    vanishing_with_slopes,
)

# a lens nobody named: most photographs lie between 11 and 115 mm (35 mm-equivalent)
TYPICAL_FOCAL_35MM, TYPICAL_LOG_SD = 36.0, 0.6
EXIF_LOG_SD = 0.03  # rounding to whole millimetres and a little cropping
LEVEL_CAMERA_SD = np.radians(0.25)
GIVEN_EYE_LEVEL_SD_PX = 0.5
# scale of the faint hold on what the sightings leave open; a tenth of it must not matter
FAINT_SD = {LOG_F: TYPICAL_LOG_SD, PITCH: 0.6, ROLL: 0.6, SHIFT_X: 1.0, SHIFT_Y: 1.0}
FAINT_BEARING_SD = 2.0


@dataclass(frozen=True)
class OwnParameters:
    """Which edges turn with a bearing (``level``) and which slope, by index; the parameters they do it
    with, and of sloping ones the row of their slot among the sloping slots.
    """

    level: Ints
    bearing: Ints
    sloping: Ints
    slope: Ints
    group: Ints

    @classmethod
    def of(cls, slots: Slots, slot: Ints) -> OwnParameters:
        slope = slots.slope[slot]
        level, sloping = np.flatnonzero(slope > -2), np.flatnonzero(slope >= 0)
        group = np.searchsorted(slots.sloping, slot[sloping])
        return cls(level, slots.bearing[slot[level]], sloping, slope[sloping], group)


@dataclass(frozen=True)
class Evidence:
    """All edges in camera units, with the direction slot each belongs to.

    ``a``, ``b``: ends (n, 2); ``slot``: (n,) index into ``slots``; ``scale``: pixels per unit.
    """

    setup: Setup
    edges: tuple[Edge, ...]
    a: Floats
    b: Floats
    slot: Ints
    slots: Slots
    slot_keys: tuple[tuple[str | None, Family, str | None], ...]
    forms: tuple[str, ...]
    slopes: tuple[str, ...]
    scale: float
    effort: Effort
    rims: RimBank | None = None

    @property
    def count(self) -> int:
        """How many sightings, edges and rims."""
        return len(self.edges) + (0 if self.rims is None else len(self.rims))

    @property
    def readings(self) -> int:
        """How many independent readings of the view: one an edge, two a rim."""
        return len(self.edges) + (0 if self.rims is None else 2 * len(self.rims))

    @property
    def size(self) -> int:
        return FIRST_BEARING + len(self.forms) + len(self.slopes)

    @property
    def sd(self) -> float:
        return self.setup.point_sd_px / self.scale

    @cached_property
    def middle(self) -> Floats:
        return (self.a + self.b) / 2

    @cached_property
    def segments(self) -> Segments:
        return Segments.of(self.a, self.b)

    @cached_property
    def own(self) -> OwnParameters:
        return OwnParameters.of(self.slots, self.slot)


FittedRims = tuple[tuple[Rim, RimFit], ...]


def gather(setup: Setup, edges: tuple[Edge, ...], plans: dict[str, Family], rims: FittedRims = (), effort: Effort | None = None) -> Evidence:
    """Arrange ``edges`` and ``rims`` for the solver; ``plans`` names each slope group's plan family,
    ``effort`` is what the check has left to spend.
    """
    effort = effort or Effort.for_sheet(len(edges), len(rims))
    scale = float(np.hypot(setup.width_px, setup.height_px)) / 2
    centre = np.array(setup.centre)
    a = (np.array([e.p for e in edges], float).reshape(-1, 2) - centre) / scale
    b = (np.array([e.q for e in edges], float).reshape(-1, 2) - centre) / scale
    standing = [r.form for r, _ in rims if r.plane is not Plane.LEVEL]
    forms = tuple(dict.fromkeys([e.form for e in edges if e.family != Family.UPRIGHT] + standing))
    slopes = tuple(dict.fromkeys(slope_key(e) for e in edges if e.family == Family.SLOPE))
    keys: dict[tuple[str | None, Family, str | None], int] = {}
    bearing, offset, slope_at, slot = [], [], [], []
    for e in edges:
        key = slot_key(e)
        if key not in keys:
            keys[key] = len(keys)
            if e.family == Family.UPRIGHT:
                bearing.append(PITCH)
                offset.append(0.0)
                slope_at.append(-2)
            else:
                family = plans[slope_key(e)] if e.family == Family.SLOPE else e.family
                bearing.append(FIRST_BEARING + forms.index(e.form))
                offset.append(np.radians(BEARING_OFFSET_DEG[family]))
                slope_at.append(FIRST_BEARING + len(forms) + slopes.index(slope_key(e)) if e.family == Family.SLOPE else -1)
        slot.append(keys[key])
    for rim, _ in rims:
        # an axle's vanishing point is wanted even where no edge runs along it
        family = rim.plane.family
        key = (None if family is Family.UPRIGHT else rim.form, family, None)
        if key not in keys:
            keys[key] = len(keys)
            upright = family is Family.UPRIGHT
            bearing.append(PITCH if upright else FIRST_BEARING + forms.index(rim.form))
            offset.append(0.0 if upright else np.radians(BEARING_OFFSET_DEG[family]))
            slope_at.append(-2 if upright else -1)
    slots = Slots(np.array(bearing, np.intp), np.array(offset, float), np.array(slope_at, np.intp))
    bank = None
    if rims:
        follows = [-1 if r.plane is Plane.LEVEL else FIRST_BEARING + forms.index(r.form) for r, _ in rims]
        turned = [0.0 if r.plane is Plane.LEVEL else np.radians(BEARING_OFFSET_DEG[r.plane.family]) for r, _ in rims]
        bank = RimBank(tuple(r for r, _ in rims), tuple(f for _, f in rims), np.array(follows, np.intp), np.array(turned, float), setup.centre, scale, effort)
    return Evidence(setup, edges, a, b, np.array(slot, np.intp), slots, tuple(keys), forms, slopes, scale, effort, bank)


def slope_key(edge: Edge) -> str:
    return f"{edge.form}/{edge.slope or 'slope'}"


def slot_key(edge: Edge) -> tuple[str | None, Family, str | None]:
    """Form, family and slope group; uprights of all forms are one family."""
    if edge.family == Family.UPRIGHT:
        return None, Family.UPRIGHT, None
    return edge.form, edge.family, (edge.slope or "slope") if edge.family == Family.SLOPE else None


@dataclass(frozen=True)
class View:
    """Which parameters are free, and the extra residuals ``(params - prior) / sd``.

    ``known_sd`` is infinite where nothing is known; ``faint_sd`` only keeps open questions finite.
    """

    perspective: Perspective
    free: Ints
    start: Floats
    known_mean: Floats
    known_sd: Floats
    faint_sd: Floats


def view_for(evidence: Evidence, perspective: Perspective) -> View:
    """The parameters of a stated perspective.

    Three-point (and a photograph in general): pitch free, centre of vision fixed. Two-point:
    uprights parallel, eye level anywhere on the sheet. One-point: as well, forms with depth or
    across edges stand square to the picture and the centre of vision is free.
    """
    setup, size = evidence.setup, evidence.size
    frontal = frontal_forms(evidence)
    fixed = {SHIFT_X, SHIFT_Y}
    if perspective is Perspective.TWO_POINT:
        fixed = {PITCH, SHIFT_X}
    elif perspective is Perspective.ONE_POINT:
        fixed = {PITCH} | {FIRST_BEARING + i for i, form in enumerate(evidence.forms) if form in frontal}
    free = np.array([k for k in range(size) if k not in fixed], np.intp)
    start = np.zeros(size)
    mean, known = np.zeros(size), np.full(size, np.inf)
    faint = np.full(size, FAINT_BEARING_SD)
    for k, sd in FAINT_SD.items():
        faint[k] = sd
    long_side = setup.long_side_px / evidence.scale
    if setup.focal_35mm is not None:
        mean[LOG_F] = np.log(long_side * setup.focal_35mm / 36.0)
        known[LOG_F] = EXIF_LOG_SD
    else:
        mean[LOG_F] = np.log(long_side * TYPICAL_FOCAL_35MM / 36.0)
    start[LOG_F] = mean[LOG_F]
    if setup.level_camera:
        known[[PITCH, ROLL]] = LEVEL_CAMERA_SD
    return View(perspective, free, start, mean, known, faint)


def frontal_forms(evidence: Evidence) -> set[str]:
    """Forms that have a face parallel to the picture, by the families of their sightings."""
    rims = () if evidence.rims is None else evidence.rims.rims
    return {e.form for e in evidence.edges if e.family in FRONTAL} | {r.form for r in rims if r.plane.family in FRONTAL}


FRONTAL = (Family.DEPTH, Family.ACROSS)


@dataclass(frozen=True)
class Solution:
    """A fitted view. ``chi2`` counts the active sightings and what was known beforehand;
    ``own``: where the rims' own unknowns stand.
    """

    evidence: Evidence
    view: View
    params: Floats
    active: Flags
    chi2: float
    converged: bool
    own: RimState | None = None

    @cached_property
    def covariance(self) -> Floats:
        """Covariance of the free parameters, (F, F)."""
        return self._covariance(1.0)

    @cached_property
    def loose_covariance(self) -> Floats:
        """As ``covariance``, with the faint hold on open questions loosened tenfold."""
        return self._covariance(10.0)

    def _covariance(self, widen: float) -> Floats:
        _, jac = self.linear
        count = len(self.evidence.edges)
        jac = jac[self.active[:count]]
        if self.rim_step is not None:
            by = self.rim_step.by[self.active[count:]][:, :, self.view.free].reshape(-1, len(self.view.free))
            jac = np.concatenate([jac, by])
        return inverse(normal_matrix(self.evidence, self.view, self.params, jac, widen))

    @cached_property
    def rim_step(self) -> RimStep | None:
        """All rims at the solution."""
        bank = self.evidence.rims
        return None if bank is None or self.own is None else bank.evaluate(self.params, self.own)

    @cached_property
    def linear(self) -> tuple[Floats, Floats]:
        """Residuals and derivatives of all edges at the solution, as ``linearise`` gives them."""
        return linearise(self.evidence, self.view, self.params)

    @cached_property
    def points(self) -> tuple[Floats, Floats]:
        """Homogeneous vanishing points (m, 3) of all slots and their derivatives (m, 3, P)."""
        return vanishing_with_slopes(self.params, self.evidence.slots)


def linearise(evidence: Evidence, view: View, params: Floats) -> tuple[Floats, Floats]:
    """Edge residuals in units of the point error, (n,), and their derivatives by the free
    parameters, (n, F).
    """
    slot, own = evidence.slot, evidence.own
    v = Vanishing.of(params, evidence.slots)
    r, dr = residuals_with_slopes(evidence.segments, v.points[slot])
    dr /= evidence.sd
    jac = np.zeros((len(r), len(params)))
    jac[:, :FIRST_BEARING] = np.matmul(dr[:, None], v.by_camera[slot])[:, 0]
    jac[own.level, own.bearing] = (dr[own.level] * v.by_bearing[slot[own.level]]).sum(axis=1)
    if own.sloping.size:
        jac[own.sloping, own.slope] = (dr[own.sloping] * v.by_slope[own.group]).sum(axis=1)
    return r / evidence.sd, jac[:, view.free]


def known_residuals(evidence: Evidence, view: View, params: Floats) -> tuple[Floats, Floats]:
    """Residuals of what is known beforehand, (k,), and their derivatives, (k, F)."""
    size = len(params)
    rows, values = [], []
    for k in (LOG_F, PITCH, ROLL):
        if np.isfinite(view.known_sd[k]) and k in view.free:
            row = np.zeros(size)
            row[k] = 1.0 / view.known_sd[k]
            rows.append(row)
            values.append((params[k] - view.known_mean[k]) / view.known_sd[k])
    given = evidence.setup.eye_level_px
    if given is not None:
        sd = GIVEN_EYE_LEVEL_SD_PX / evidence.scale
        cx, cy = evidence.setup.centre
        for x_px, y_px in zip((0.0, float(evidence.setup.width_px)), given, strict=True):
            height, slope = eye_level_height(params, (x_px - cx) / evidence.scale)
            rows.append(slope / sd)
            values.append((height - (y_px - cy) / evidence.scale) / sd)
    if not rows:
        return np.zeros(0), np.zeros((0, len(view.free)))
    return np.array(values), np.array(rows)[:, view.free]


def normal_matrix(evidence: Evidence, view: View, params: Floats, jac: Floats, widen: float = 1.0) -> Floats:
    _, known = known_residuals(evidence, view, params)
    faint = 1.0 / (widen * view.faint_sd[view.free]) ** 2
    return jac.T @ jac + known.T @ known + np.diag(faint)


def refine(
    evidence: Evidence, view: View, start: Floats, active: Flags, robust: float | None = None, steps: int = 40, own: RimState | None = None, rough: bool = False
) -> Solution:
    """Levenberg-Marquardt from ``start``; with ``robust`` (in point errors) a Cauchy loss. ``rough``
    stops within a thousandth of the cost, enough to compare.
    """
    edges, bank = len(evidence.edges), evidence.rims
    weight, rim_weight = active[:edges].astype(float), active[edges:].astype(float)
    free = view.free
    # only focal length and pitch are drawn, faintly, to a usual value
    faint = np.where(free < ROLL, 1.0 / view.faint_sd[free] ** 2, 0.0)
    enough = 3e-2 if robust is not None else 1e-6 if bank is None and not rough else 1e-3

    def measure(params: Floats, own: RimState | None) -> tuple[float, Floats, Floats, RimStep | None, float]:
        """Cost, normal matrix and its gradient at ``params``; the rims there, and what their own
        unknowns have yet to gain."""
        evidence.effort.used += 1
        r, jac = linearise(evidence, view, params)
        k, known = known_residuals(evidence, view, params)
        square = r * r
        w = weight
        if robust is not None:
            w = weight / (1.0 + square / robust**2)
            square = robust**2 * np.log1p(square / robust**2)
        stray = (params - view.known_mean)[free]
        weighted = (jac * w[:, None]).T
        matrix = weighted @ jac
        slope = weighted @ r + faint * stray
        cost = float(weight @ square + faint @ (stray * stray))
        if k.size:
            matrix += known.T @ known
            slope += known.T @ k
            cost += float(k @ k)
        rims, gain = None, 0.0
        if bank is not None and own is not None:
            rims = bank.evaluate(params, own)
            over = np.maximum(rims.cost, 0.0)
            w = rim_weight
            if robust is not None:
                w = rim_weight / (1.0 + over / robust**2)
                over = robust**2 * np.log1p(over / robust**2)
            by = rims.by[:, :, free]
            weighted = (by * w[:, None, None]).reshape(-1, len(free)).T
            matrix += weighted @ by.reshape(-1, len(free))
            slope += weighted @ rims.z.ravel()
            cost += float(rim_weight @ over)
            gain = float(w @ (rims.own_r**2).sum(axis=1))
        matrix.flat[:: len(free) + 1] += faint + 1e-10
        return cost, matrix, slope, rims, gain

    params = start.copy()
    fresh = bank is None
    if bank is not None and own is None:
        own = bank.begin(params)
    cost, matrix, slope, rims, gain = measure(params, own)
    damping = 1e-3
    converged = False
    for _ in range(steps):
        if converged and not fresh and bank is not None and rims is not None and mislaid(rims, rim_weight):
            fresh = True
            better = bank.rest(params, bank.begin(params), 2)
            own = RimState(rims.taking(better, better.cost < rims.cost - 0.5).own)
            measured = measure(params, own)
            converged = cost - measured[0] < 0.5
            cost, matrix, slope, rims, gain = measured
        if converged or evidence.effort.spent(STOP_AT):
            break
        damped = matrix.copy()
        diagonal = np.diag(matrix)
        damped.flat[:: len(free) + 1] += damping * diagonal + 1e-13 * diagonal.max()
        try:
            step = np.clip(np.linalg.solve(damped, -slope), -0.6, 0.6)
        except np.linalg.LinAlgError:
            damping = max(damping, 1e-6) * 8.0
            continue
        promised = gain - float(step @ slope)
        trial = params.copy()
        trial[free] += step
        if abs(trial[PITCH]) < 1.45 and abs(trial[LOG_F]) < 5.0:
            moved = None if rims is None else rims.advanced(trial - params)
            measured = measure(trial, moved)
            if bank is not None and moved is not None and measured[0] > cost + 0.5 and damping < 1.0:
                moved = bank.settled(trial, moved, 3)
                measured = measure(trial, moved)
            if measured[0] <= cost + 1e-9:
                params, own, (cost, matrix, slope, rims, gain) = trial, moved, measured
                damping *= 0.1
                converged = promised < enough * (1.0 + cost)
                continue
        # feet jump about on a flat rim, so that its cost is rough on the scale of a twentieth
        uneven = bank is not None and (promised < 0.05 or damping > 1e2)
        if uneven or promised < enough * (1.0 + cost):
            converged = True
            continue
        damping = max(damping, 1e-6) * 8.0
        if damping > 1e12:
            break
    return Solution(evidence, view, params, active, cost, converged, own)


def mislaid(rims: RimStep, weight: Floats) -> bool:
    """Whether a rim may have come to rest on the wrong part of its circle; one that is left out
    as a stray (``weight`` 0) may well fit badly.
    """
    return bool((rims.cost * np.where(weight > 0, 1.0, 0.01)).max() > MISLAID)


MOST_LINES = 6
WRONG_SIDE = 60.0  # what a rim on the wrong side of eye level costs a start
MISLAID = 12.0  # chi-square of a rim beyond which its fit may rest on the wrong part of its circle
COARSE_SD = 0.0018  # half-diagonals; what the grid of starts can tell apart
FOCAL_GRID_35MM = (20.0, 35.0, 65.0)
BEARING_GRID = np.radians(np.arange(0.0, 180.0, 12.0))


def starts(evidence: Evidence, view: View, active: Flags, keep: int = 2) -> list[Floats]:
    """Starting views, best first: candidate eye levels and focal lengths, every bearing tried.

    Eye levels come from the families' own vanishing points, two and two, from the uprights, and
    from level lines at several heights.
    """
    evidence.effort.used += START_LOOKS
    own = own_points(evidence, active)
    uprights = [v for (_, family, _), v in zip(evidence.slot_keys, own, strict=True) if family is Family.UPRIGHT and v is not None]
    level = [v for (_, family, _), v in zip(evidence.slot_keys, own, strict=True) if family not in (Family.UPRIGHT, Family.SLOPE) and v is not None]
    focals = (
        [float(np.exp(view.known_mean[LOG_F]))]
        if np.isfinite(view.known_sd[LOG_F])
        else [m / 36.0 * evidence.setup.long_side_px / evidence.scale for m in FOCAL_GRID_35MM]
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
        if all(abs(params[LOG_F] - c[LOG_F]) > 0.2 or abs(params[PITCH] - c[PITCH]) > 0.1 or abs(params[ROLL] - c[ROLL]) > 0.1 for c in chosen):
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
    level = [(form, v) for (form, family, _), v in zip(evidence.slot_keys, own, strict=True) if family in BEARING_OFFSET_DEG and v is not None]
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
    d = (evidence.b - evidence.a) * np.sign((evidence.b - evidence.a)[:, 1:] + 1e-12)
    upright = [evidence.slot_keys[slot][1] is Family.UPRIGHT for slot in evidence.slot]
    leans = [float(np.arctan2(x, y)) for (x, y), on, plumb in zip(d, active[: len(d)], upright, strict=True) if on and plumb]
    return float(np.median(leans)) if leans else 0.0


def _sweep_bearings(evidence: Evidence, view: View, cameras: Floats, active: Flags) -> tuple[Floats, Floats]:
    """Best bearing of each form (c, forms) and capped cost (c,) for each of ``cameras`` (c, P)."""
    edge_slots = evidence.slots.pick(evidence.slot)
    use = np.flatnonzero(active[: len(evidence.edges)] & (edge_slots.slope < 0))
    upright = edge_slots.slope[use] == -2
    a, b = evidence.a[use], evidence.b[use]
    count = len(cameras)

    def capped(points: Floats, members: Flags) -> Floats:
        r = residuals(a[members], b[members], points[:, :, None, :]) / coarse_sd(evidence)
        return np.asarray(np.minimum(r * r, 400.0).sum(axis=2))

    def fixed(slope: int, bearing: float) -> Floats:
        """Where one direction goes under every camera, (c, 3)."""
        params = np.column_stack([cameras, np.full(count, bearing)])
        last = np.full(count, cameras.shape[1], np.intp)
        return vanishing(params, Slots(last, np.zeros(count), np.full(count, slope, np.intp)))

    up = fixed(-2, 0.0)
    cost = capped(up[:, None], upright)[:, 0]
    ahead, aside = fixed(-1, 0.0), fixed(-1, np.pi / 2)
    bank = evidence.rims
    round_on = np.zeros(0, bool) if bank is None else active[len(evidence.edges) :]
    if bank is not None:
        level_cost = np.minimum(bank.shape_cost(ahead, aside, up, np.zeros(1))[:, 0], 400.0)
        wrong = WRONG_SIDE * np.stack([wrong_side(evidence, camera) for camera in cameras])
        cost = cost + (level_cost + wrong) @ (round_on & bank.level)
    best = np.zeros((count, len(evidence.forms)))
    for i in range(len(evidence.forms)):
        grid = BEARING_GRID if FIRST_BEARING + i in view.free else np.zeros(1)
        mine = np.zeros((count, len(grid)))
        belongs = ~upright & (edge_slots.bearing[use] == FIRST_BEARING + i)
        for offset in (0.0, -np.pi / 2):
            members = belongs & (edge_slots.offset[use] == offset)
            if members.any():
                angle = grid + offset
                mine += capped(np.sin(angle)[None, :, None] * aside[:, None] + np.cos(angle)[None, :, None] * ahead[:, None], members)
        follows = np.zeros(0, bool) if bank is None else round_on & (bank.bearing == FIRST_BEARING + i)
        if bank is not None and follows.any():
            mine += np.minimum(bank.shape_cost(ahead, aside, up, grid), 400.0) @ follows
            # a family called left or right recedes on its side; rims alone fit its mirror as well
            mine += np.where(grid > np.pi / 2, 30.0, 0.0)
        at = np.argmin(mine, axis=1)
        best[:, i] = grid[at]
        cost = cost + mine[np.arange(count), at]
    return best, cost


SLOPE_GRID = np.radians(np.arange(-70.0, 71.0, 5.0))


def _sweep_slopes(evidence: Evidence, params: Floats, groups: Iterable[int]) -> Floats:
    """Give slope ``groups``, by index, the best of ``SLOPE_GRID`` under an otherwise fixed view."""
    params = params.copy()
    edge_slots = evidence.slots.pick(evidence.slot)
    for i in groups:
        k = FIRST_BEARING + len(evidence.forms) + i
        use = np.flatnonzero(edge_slots.slope == k)
        if not use.size:
            continue
        # all edges of a group share one direction
        tried = np.repeat(params[None], len(SLOPE_GRID), axis=0)
        tried[:, k] = SLOPE_GRID
        v = vanishing(tried, edge_slots.pick(np.repeat(use[:1], len(SLOPE_GRID))))
        r = residuals(evidence.a[use], evidence.b[use], v[:, None]) / coarse_sd(evidence)
        params[k] = SLOPE_GRID[int(np.argmin(np.minimum(r * r, 400.0).sum(axis=1)))]
    return params


def own_points(evidence: Evidence, active: Flags) -> list[Floats | None]:
    """Each slot's vanishing point from its own edges alone (unit homogeneous vector), or None
    with fewer than two edges: the least-squares meet of the lines, each weighted by its length.
    """
    lines = evidence.segments.line.T
    member = (np.arange(len(evidence.slot_keys))[:, None] == evidence.slot[None]) & active[None, : len(evidence.edges)]
    squares = lines[:, :, None] * lines[:, None, :]
    weight = np.ones(len(lines))
    for _ in range(3):
        vectors = np.linalg.eigh(np.einsum("mn,nij->mij", member * weight, squares))[1][:, :, 0]
        mine = vectors[evidence.slot]
        reach = evidence.middle * mine[:, 2:] - mine[:, :2]
        weight = 1.0 / np.maximum(np.einsum("ni,ni->n", reach, reach), 1e-18)
    return [vectors[m] if member[m].sum() >= 2 else None for m in range(len(vectors))]


def robust_views(evidence: Evidence, view: View, active: Flags | None = None) -> list[Solution]:
    """Robust fits of the ``active`` sightings from the best starts, in which a stray edge barely
    pulls; one is enough where all edges agree."""
    on = np.ones(evidence.count, bool) if active is None else active
    coarse = coarse_sd(evidence)
    found: list[Solution] = []
    for start in starts(evidence, view, on):
        # a start is only as fine as its grid: sightings finer than that begin with a wider loss
        own = None
        if coarse > evidence.sd:
            wide = refine(evidence, view, start, on, robust=3.0 * coarse / evidence.sd, steps=25)
            start, own = wide.params, wide.own
        found.append(refine(evidence, view, start, on, robust=3.0, steps=25, own=own))
        if evidence.effort.spent(VIEW_BY):
            break
        mirrored = evidence.rims is not None and wrong_side(evidence, found[-1].params).any()
        if found[-1].chi2 < 1.5 * evidence.readings and not mirrored:
            break
    return found


def join_slope(base: Solution, group: str, active: Flags) -> Solution:
    """``base``, a robust fit without the slopes of ``group``, fitted as robustly on ``active``."""
    start = _sweep_slopes(base.evidence, base.params, (base.evidence.slopes.index(group),))
    return refine(base.evidence, base.view, start, active, robust=3.0, steps=25, own=base.own)


def settle(solution: Solution, active: Flags, rough: bool = False) -> Solution:
    """Least squares on ``active`` from an earlier solution."""
    return refine(solution.evidence, solution.view, solution.params, active, own=solution.own, rough=rough)


def settle_edges(solution: Solution, active: Flags) -> Solution:
    """As ``settle`` where no rim is active: the rims only follow the view that the edges find."""
    evidence = solution.evidence
    found = refine(replace(evidence, rims=None), solution.view, solution.params, active[: len(evidence.edges)])
    own = None if evidence.rims is None or solution.own is None else evidence.rims.settled(found.params, solution.own)
    return Solution(evidence, solution.view, found.params, active, found.chi2, found.converged, own)
