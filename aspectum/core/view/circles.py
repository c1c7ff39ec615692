"""The exact image of circles under the camera, and what laid rims say of it.

A circle on a plane of known direction has three unknowns of its own: where its centre is drawn
and how large it is. Its ellipse has five. The two that are left, how far it opens and how it
leans, are what the camera requires of it. ``RimBank`` fits the three to the laid points of every
rim and hands the two on, as whitened residuals with their derivatives, to the joint solve.

Lengths are camera units as in ``projection``: half-diagonals from the centre of vision.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.algebra import inverse_roots
from aspectum.core.plane.ellipses import curvature_radius, curved_weight, feet_on, halves_of, tip_spread
from aspectum.core.plane.lines import Flags, Floats, Ints
from aspectum.core.plane.rim_fit import RimFit, chord, shape_vector
from aspectum.core.sightings import Point, Rim
from aspectum.core.view.camera import FIRST_BEARING, camera_matrices
from aspectum.core.view.effort import RIM_LOOKS, Effort

ARC_PARTS = (-0.6, 0.0, 0.6)  # where the arc may lie: half minor axes from the middle of its chord
CHORD_SHARE = 0.55  # first guess of the half width over the widest chord of the seen arc
THIN_AT = 3.0  # half minor axis, in point errors, of a rim that counts half
FINITE_SIZE = 0.03  # by how much a circle of some size differs in shape from a vanishing one


@dataclass(frozen=True)
class RimState:
    """Where the fit of every rim stands: its centre's image and the log of its radius in units of
    the centre's depth, (R, 3).
    """

    own: Floats


@dataclass(frozen=True)
class RimStep:
    """Rims under one camera. ``z``: (R, 2) whitened disagreement of opening and lean; ``by``: its
    derivatives (R, 2, P); ``cost``: (R,) chi-square over the free ellipse's; ``own_r``,
    ``own_root``, ``own_by``: residuals (R, 3), triangular root (R, 3, 3) and camera derivatives
    (R, 3, P) of the rims' own unknowns.
    """

    z: Floats
    by: Floats
    cost: Floats
    own_r: Floats
    own_root: Floats
    own_by: Floats
    own: Floats

    def taking(self, other: RimStep, which: Flags) -> RimStep:
        """These rims with those of ``other`` where ``which`` (R,) says so."""
        return RimStep(*(np.where(which.reshape(-1, *(1,) * (mine.ndim - 1)), theirs, mine) for mine, theirs in zip(self.parts, other.parts, strict=True)))

    @property
    def parts(self) -> tuple[Floats, ...]:
        return self.z, self.by, self.cost, self.own_r, self.own_root, self.own_by, self.own

    def advanced(self, by_params: Floats) -> RimState:
        """The rims' own unknowns after the camera moves by ``by_params`` (P,)."""
        target = self.own_r + self.own_by @ by_params
        step = -np.matmul(inverse_roots(self.own_root), target[:, :, None])[:, :, 0]
        size = np.exp(self.own[:, 2])[:, None]
        step[:, :2] = np.clip(step[:, :2], -size, size)
        step[:, 2] = np.clip(step[:, 2], -0.5, 0.5)
        return RimState(self.own + step)


class RimBank:
    """All rims of a sheet in camera units, ready to be seen under any camera.

    ``bearing``: (R,) parameter index of the bearing that each rim's axis follows, -1 for level
    planes; ``offset``: radians added to it.
    """

    def __init__(self, rims: tuple[Rim, ...], fits: tuple[RimFit, ...], bearing: Ints, offset: Floats, centre: Point, scale: float, effort: Effort) -> None:
        self.effort = effort
        self.rims, self.fits, self.bearing, self.offset = rims, fits, bearing, offset
        count, longest = len(rims), max(len(f.points) for f in fits)
        self.level = bearing < 0
        self.points = np.zeros((count, longest, 2))
        self.weight = np.zeros((count, longest))
        self.ends = np.zeros((count, 2, 2))
        self.chord = np.tile([1.0, 0.0], (count, 1))
        self.tip_weight = np.zeros(count)
        self.chi2 = np.zeros(count)
        self.start = np.zeros((count, 2))
        self.half_major = np.zeros(count)
        self.shape = np.zeros((count, 2))
        self.shape_root = np.zeros((count, 2, 2))
        self.front = np.array([f.front if plane < 0 else 0 for f, plane in zip(fits, bearing, strict=True)])
        for k, (rim, fit) in enumerate(zip(rims, fits, strict=True)):
            n = len(fit.points)
            self.points[k, :n] = (fit.points - centre) / scale
            self.points[k, n:] = self.points[k, 0]
            major, minor, _ = fit.axes
            # an opening within the point error says which way it opens, if at all, only roughly
            share = 1.0 / math.sqrt(1.0 + (THIN_AT * fit.point_sd_px / max(minor, 1e-9)) ** 2)
            self.weight[k, :n] = share * scale / fit.point_sd_px
            self.chi2[k] = share * share * fit.chi2
            if rim.ends is not None:
                self.ends[k] = (np.array(rim.ends) - centre) / scale
                self.chord[k] = (self.ends[k, 1] - self.ends[k, 0]) / np.hypot(*(self.ends[k, 1] - self.ends[k, 0]))
                self.tip_weight[k] = share * scale / tip_spread(major, minor, fit.point_sd_px)
            first, last = chord(fit.points)
            self.start[k] = ((first + last) / 2 - centre) / scale
            self.half_major[k] = CHORD_SHARE * float(np.hypot(*(last - first))) / scale
            self.shape[k], covariance = shape_vector(fit)
            loose = FINITE_SIZE if fit.converged and not fit.too_short else 1.0
            values, ways = np.linalg.eigh(covariance)
            self.shape_root[k] = ways.T / np.sqrt(np.maximum(values, 0.0) + loose**2)[:, None]
        self.sd = np.array([[f.point_sd_px / scale] for f in fits])
        self.with_ends = bool(self.tip_weight.any())

    def __len__(self) -> int:
        return len(self.rims)

    def basis(self, params: Floats) -> tuple[Floats, Floats]:
        """Images of the two directions in each rim's plane, (R, 2, 3), and derivatives (R, 2, 3, P)."""
        matrices = camera_matrices(params)
        count, size = len(self.rims), len(params)
        ways = np.zeros((count, 2, 3))
        turned = np.zeros((count, 3))
        ways[self.level, 0, 0] = ways[self.level, 1, 1] = 1.0
        standing = np.flatnonzero(~self.level)
        if standing.size:
            angle = params[self.bearing[standing]] + self.offset[standing]
            sin_b, cos_b = np.sin(angle), np.cos(angle)
            ways[standing, 0, 0], ways[standing, 0, 1], ways[standing, 1, 2] = cos_b, -sin_b, 1.0
            turned[standing, 0], turned[standing, 1] = -sin_b, -cos_b
        images = ways @ matrices.reshape(18, 3).T  # (R, 2, 18)
        by = np.zeros((count, 2, 3, size))
        by[..., :FIRST_BEARING] = images[..., 3:].reshape(count, 2, 5, 3).transpose(0, 1, 3, 2)
        if standing.size:
            by[standing, 0, :, self.bearing[standing]] = turned[standing] @ matrices[0].T
        return images[..., :3], by

    def begin(self, params: Floats) -> RimState:
        """First fits under ``params``: each circle about as large as its arc, which may be the near
        or the far part of it, whichever holds the points better.
        """
        images, _ = self.basis(params)
        opening = (images[..., :2] - self.start[:, None, :] * images[..., 2:]).transpose(0, 2, 1)
        ways, sizes, _ = np.linalg.svd(opening)
        radius = self.half_major / np.maximum(sizes[:, 0], 1e-9)
        minor = ways[:, :, 1] * (sizes[:, 1] * radius)[:, None]
        found = None
        for part in ARC_PARTS:
            step = self.evaluate(params, RimState(np.column_stack([self.start + part * minor, np.log(radius)])))
            found = step if found is None else found.taking(step, step.cost < found.cost)
        assert found is not None
        return self.settled(params, RimState(found.own), 2)

    def evaluate(self, params: Floats, state: RimState) -> RimStep:
        """All rims under one camera; ``state`` is where their own fits stand."""
        self.effort.used += RIM_LOOKS
        own, size = state.own, len(params)
        images, by = self.basis(params)
        radius = np.exp(np.minimum(own[:, 2], 3.0))[:, None, None]
        spans = radius * images  # (R, 2, 3)
        moves = np.zeros((len(own), 3, 3, 3 + size))  # of the plane's two ways and the centre, by all unknowns
        moves[:, :2, :, 2] = spans
        moves[:, :2, :, 3:] = radius[..., None] * by
        moves[:, 2, 0, 0] = moves[:, 2, 1, 1] = 1.0
        form, slopes = support_form(own, spans, moves)
        rows, jac = self._rows(form)
        # the rims' own three unknowns first, then two free turns of the ellipse: what they leave is noise
        q, root = np.linalg.qr(np.concatenate([np.matmul(jac, slopes[:, :, :3]), np.matmul(jac, TURNS)], axis=2))
        r = np.matmul(rows[:, None], q)[:, 0]
        through = np.matmul(q.transpose(0, 2, 1), np.matmul(jac, slopes[:, :, 3:]))
        cost = (rows * rows).sum(axis=1) - self.chi2
        return RimStep(r[:, 3:], through[:, 3:], cost, r[:, :3], root[:, :3, :3], through[:, :3], own)

    def _rows(self, form: Floats) -> tuple[Floats, Floats]:
        """Whitened residuals (R, K') of all that was laid and their derivatives (R, K', 5) by the
        ellipses' support form (R, 5).

        An ellipse of centre c and square S reaches h(n) = n·c + sqrt(nᵀSn) in direction n, so its
        outline at a foot with normal n moves by n·dc + nᵀdS n / (2 sqrt(nᵀSn)).
        """
        half = halves_of(form)
        turn, feet, normal = feet_on(self.points, form[:, :2], *half)
        major, minor = np.maximum(half[0], 1e-9)[:, None], np.maximum(half[1], 1e-5 * half[0] + 1e-9)[:, None]
        weight = self.weight * curved_weight(curvature_radius(major, minor, turn), self.sd)
        nx, ny = normal[..., 0], normal[..., 1]
        reach = np.sqrt(np.maximum(form[:, None, 2] * nx * nx + 2 * form[:, None, 3] * nx * ny + form[:, None, 4] * ny * ny, 1e-18))
        jac = np.stack([nx, ny, nx * nx / (2 * reach), nx * ny / reach, ny * ny / (2 * reach)], axis=2) * weight[..., None]
        rows = ((feet - self.points) * normal).sum(axis=2) * weight
        if not self.with_ends:
            return rows, jac
        tips, by_tips = self._tips(form)
        return np.concatenate([rows, tips], axis=1), np.concatenate([jac, by_tips], axis=1)

    def _tips(self, form: Floats) -> tuple[Floats, Floats]:
        """Rows for the ends of the major axis: how far each lies, across the chord between them,
        from where the ellipse reaches farthest along the chord, v·c ± vᵀSu / sqrt(uᵀSu).
        """
        u = self.chord
        v = np.stack([-u[:, 1], u[:, 0]], axis=1)
        xx, xy, yy = form[:, 2], form[:, 3], form[:, 4]
        reach = np.sqrt(np.maximum(u[:, 0] ** 2 * xx + 2 * u[:, 0] * u[:, 1] * xy + u[:, 1] ** 2 * yy, 1e-18))
        side = v[:, 0] * u[:, 0] * xx + (v[:, 0] * u[:, 1] + v[:, 1] * u[:, 0]) * xy + v[:, 1] * u[:, 1] * yy
        along = (side / reach)[:, None] * np.array([-1.0, 1.0])
        rows = (((form[:, None, :2] - self.ends) * v[:, None]).sum(axis=2) + along) * self.tip_weight[:, None]
        by_side = np.stack([v[:, 0] * u[:, 0], v[:, 0] * u[:, 1] + v[:, 1] * u[:, 0], v[:, 1] * u[:, 1]], axis=1)
        by_reach = np.stack([u[:, 0] ** 2, 2 * u[:, 0] * u[:, 1], u[:, 1] ** 2], axis=1) / (2 * reach[:, None])
        slope = by_side / reach[:, None] - (side / reach**2)[:, None] * by_reach
        jac = np.empty((len(form), 2, 5))
        jac[:, :, :2] = v[:, None]
        jac[:, :, 2:] = slope[:, None] * np.array([-1.0, 1.0])[:, None]
        return rows, jac * self.tip_weight[:, None, None]

    # -- what a camera requires --------------------------------------------------------------

    def settled(self, params: Floats, state: RimState, steps: int = 4) -> RimState:
        """The rims' own unknowns brought to rest under a fixed camera."""
        return RimState(self.rest(params, state, steps).own)

    def rest(self, params: Floats, state: RimState, steps: int) -> RimStep:
        """As ``settled``; a step that would not help a rim is shortened for that rim alone."""
        still = np.zeros(len(params))
        here, reach = self.evaluate(params, state), np.ones((len(self.rims), 1))
        for _ in range(steps):
            there = self.evaluate(params, RimState(here.own + reach * (here.advanced(still).own - here.own)))
            better = there.cost <= here.cost + 1e-9
            reach = np.where(better[:, None], 1.0, 0.25 * reach)
            here = there if better.all() else here.taking(there, better)
        return here

    def ellipses(self, params: Floats, state: RimState) -> Floats:
        """Exact images of all circles: (R, 5) centre, half axes (the larger first) and the major
        axis' direction (radians).
        """
        images, _ = self.basis(params)
        return ellipse_of(state.own, images * np.exp(state.own[:, 2])[:, None, None])

    def shape_cost(self, ahead: Floats, aside: Floats, up: Floats, bearings: Floats) -> Floats:
        """Chi-square of the opening and lean of each rim, as of a vanishingly small circle, under
        cameras that image north, east and up at ``ahead``, ``aside``, ``up`` (c, 3): shape
        (c, B, R) over the ``bearings`` (radians) that a form may stand at.
        """
        angle = bearings[:, None] + self.offset[None]  # (B, R)
        sin_b, cos_b = np.sin(angle)[None, ..., None], np.cos(angle)[None, ..., None]
        first = np.where(self.level[None, None, :, None], aside[:, None, None], cos_b * aside[:, None, None] - sin_b * ahead[:, None, None])
        second = np.where(self.level[None, :, None], ahead[:, None], up[:, None])[:, None]
        spans = np.stack(np.broadcast_arrays(first, second), axis=-2)  # (c, B, R, 2, 3)
        flat = spans[..., :2] - self.start[None, None, :, None, :] * spans[..., 2:]
        xx, xy, yy = (flat[..., 0] ** 2).sum(-1), (flat[..., 0] * flat[..., 1]).sum(-1), (flat[..., 1] ** 2).sum(-1)
        trace = np.maximum(xx + yy, 1e-12)
        miss = np.stack([(xx - yy) / trace, 2 * xy / trace], axis=-1) - self.shape
        white = np.einsum("rij,cbrj->cbri", self.shape_root, miss)
        return np.asarray((white**2).sum(-1), float)


def support_form(own: Floats, spans: Floats, moves: Floats | None = None) -> tuple[Floats, Floats]:
    """The ellipses that circles ``own`` (..., 3) with plane images ``spans`` (..., 2, 3), already
    times their radii, are drawn as: (..., 5) centre and square S = AAᵀ (xx, xy, yy), and their
    derivatives (..., 5, Q) by what moves the two ways and the centre by ``moves`` (..., 3, 3, Q).

    The conic of a plane's circle under a homography (Hartley & Zisserman, Multiple View Geometry,
    2nd ed., result 2.13) is C = H⁻ᵀ diag(1, 1, -1) H⁻¹; its dual H diag(1, 1, -1) Hᵀ gives centre and
    square without inverting an H that is seen nearly edge-on.
    """
    middle = np.concatenate([own[..., :2], np.ones_like(own[..., :1])], axis=-1)
    homography = np.concatenate([spans, middle[..., None, :]], axis=-2)
    signed = homography * SIGNS
    i, k = ROWS
    dual = (homography[..., i] * signed[..., k]).sum(axis=-2)  # (..., 6): xx, xy, yy, xw, yw, ww
    scale = np.minimum(dual[..., 5:], -1e-9)  # zero or above: the circle reaches behind the eye
    ratio = dual[..., :5] / scale
    x, y = ratio[..., 3], ratio[..., 4]
    form = np.stack([x, y, x * x - ratio[..., 0], x * y - ratio[..., 1], y * y - ratio[..., 2]], axis=-1)
    if moves is None:
        return form, np.zeros(0)
    d_dual = (moves[..., i, :] * signed[..., k, None] + signed[..., i, None] * moves[..., k, :]).sum(axis=-3)
    d_ratio = (d_dual[..., :5, :] - ratio[..., None] * d_dual[..., 5:, :]) / scale[..., None]
    dx, dy = d_ratio[..., 3, :], d_ratio[..., 4, :]
    x, y = x[..., None], y[..., None]
    slopes = np.stack([dx, dy, 2 * x * dx - d_ratio[..., 0, :], x * dy + y * dx - d_ratio[..., 1, :], 2 * y * dy - d_ratio[..., 2, :]], axis=-2)
    return form, slopes


TURNS = np.array([[0.0, 0.0], [0.0, 0.0], [1.0, 0.0], [0.0, 1.0], [-1.0, 0.0]])
SIGNS = np.array([[1.0], [1.0], [-1.0]])
ROWS = (np.array([0, 0, 1, 0, 1, 2]), np.array([0, 1, 1, 2, 2, 2]))


def ellipse_of(own: Floats, spans: Floats) -> Floats:
    """As ``support_form``, as (..., 5) centre, half axes, direction."""
    form, _ = support_form(own, spans)
    return np.stack([form[..., 0], form[..., 1], *halves_of(form)], axis=-1)
