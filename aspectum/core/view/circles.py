"""The exact image of circles under the camera, and what laid rims say of it.

A circle on a plane of known direction has three unknowns of its own: where its centre is drawn
and how large it is. Its ellipse has five. The two that are left, how far it opens and how it
leans, are what the camera requires of it. ``RimBank`` fits the three to the laid points of every
rim and hands the two on, as whitened residuals with their derivatives, to the joint solve.

Lengths are camera units as in ``camera``: half-diagonals from the centre of vision.
"""

from __future__ import annotations

import math

import numpy as np

from aspectum.core.plane.ellipses import tip_spread
from aspectum.core.plane.lines import Floats, Ints
from aspectum.core.plane.rim_fit import RimFit
from aspectum.core.sightings import Point, Rim
from aspectum.core.view.camera import FIRST_BEARING, OWN_BEARING, lens_of
from aspectum.core.view.effort import RIM_LOOKS, Effort
from aspectum.core.view.rim_images import (
    ARC_PARTS,
    LOOK,
    OWN,
    REST,
    SETTLE,
    LaidRims,
    RimLook,
    ellipses_of,
    plane_ways,
    see_rims,
)

CHORD_SHARE = 0.55  # first guess of the half width over the widest chord of the seen arc
THIN_AT = 3.0  # half minor axis, in point errors, of a rim that counts half
FINITE_SIZE = 0.03  # by how much a circle of some size differs in shape from a vanishing one


class RimBank:
    """All rims of a sheet in camera units, ready to be seen under any camera.

    ``bearing``: (R,) parameter index of the bearing that each rim's axis follows, -1 for level
    planes; ``offset``: radians added to it.
    """

    def __init__(
        self,
        rims: tuple[Rim, ...],
        fits: tuple[RimFit, ...],
        bearing: Ints,
        offset: Floats,
        centre: Point,
        scale: float,
        effort: Effort,
    ) -> None:
        self.effort = effort
        self.rims, self.fits, self.bearing, self.offset = rims, fits, bearing, offset
        count, longest = len(rims), max(len(f.points) for f in fits)
        self.level = bearing < 0
        laid = self.laid = LaidRims(
            points=np.zeros((count, longest, 2)),
            many=np.array([len(f.points) for f in fits], np.intp),
            weight=np.zeros((count, longest)),
            ends=np.zeros((count, 2, 2)),
            chord=np.tile([1.0, 0.0], (count, 1)),
            tip_weight=np.zeros(count),
            chi2=np.zeros(count),
            sd=np.array([f.point_sd_px / scale for f in fits], float),
            bearing=bearing,
            offset=offset,
            start=np.zeros((count, 2)),
            half_major=np.zeros(count),
        )
        self.shape = np.zeros((count, 2))
        self.shape_root = np.zeros((count, 2, 2))
        self.front = np.array([f.front if plane < 0 else 0 for f, plane in zip(fits, bearing, strict=True)])
        for k, (rim, fit) in enumerate(zip(rims, fits, strict=True)):
            n = len(fit.points)
            laid.points[k, :n] = (fit.points - centre) / scale
            major, minor, _ = fit.axes
            # an opening within the point error says which way it opens, if at all, only roughly
            share = 1.0 / math.sqrt(1.0 + (THIN_AT * fit.point_sd_px / max(minor, 1e-9)) ** 2)
            laid.weight[k, :n] = share * scale / fit.point_sd_px
            laid.chi2[k] = share * share * fit.chi2
            if rim.ends is not None:
                laid.ends[k] = (np.array(rim.ends) - centre) / scale
                laid.chord[k] = (laid.ends[k, 1] - laid.ends[k, 0]) / np.hypot(*(laid.ends[k, 1] - laid.ends[k, 0]))
                laid.tip_weight[k] = share * scale / tip_spread(major, minor, fit.point_sd_px)
            first, last = fit.reach
            laid.start[k] = ((first + last) / 2 - centre) / scale
            laid.half_major[k] = CHORD_SHARE * float(np.hypot(*(last - first))) / scale
            self.shape[k], covariance = fit.vector
            loose = FINITE_SIZE if fit.converged and not fit.too_short else 1.0
            values, ways = np.linalg.eigh(covariance)
            self.shape_root[k] = ways.T / np.sqrt(np.maximum(values, 0.0) + loose**2)[:, None]

    def __len__(self) -> int:
        return len(self.rims)

    @property
    def start(self) -> Floats:
        """Where each rim is first looked for, (R, 2)."""
        return self.laid.start

    @property
    def half_major(self) -> Floats:
        """About how wide each rim is, (R,)."""
        return self.laid.half_major

    def basis(self, params: Floats) -> tuple[Floats, Floats]:
        """Images of the two directions in each rim's plane, (R, 2, 3), and derivatives (R, 2, 3, P)."""
        lens, images, by = lens_of(params), np.zeros((len(self), 2, 3)), np.zeros((len(self), 2, 3, REST))
        for k in range(len(self)):
            plane_ways(self.laid, k, lens, params, images[k], by[k])
        return images, self.by_params(by, len(params))

    def ways(self, k: int, params: Floats) -> Floats:
        """Images of the two directions in the plane of rim ``k``, (2, 3)."""
        images = np.zeros((2, 3))
        plane_ways(self.laid, k, lens_of(params), params, images, np.zeros((2, 3, REST)))
        return images

    def by_params(self, by: Floats, size: int) -> Floats:
        """Derivatives (R, ..., 6) by camera and own bearing as derivatives (R, ..., P) by all parameters."""
        spread = np.zeros((*by.shape[:-1], size))
        spread[..., :FIRST_BEARING] = by[..., :FIRST_BEARING]
        for k in np.flatnonzero(~self.level):
            spread[k, ..., self.bearing[k]] = by[k, ..., OWN_BEARING]
        return spread

    def evaluate(self, params: Floats, own: Floats) -> RimLook:
        """All rims under one camera, their derivatives by all P parameters; ``own`` (R, 3) is where their own fits
        stand.
        """
        self.effort.used += RIM_LOOKS
        seen, size = see_rims(self.laid, params, own, LOOK, np.ones(len(self))), len(params)
        return seen._replace(by=self.by_params(seen.by, size), own_by=self.by_params(seen.own_by, size))

    def begin(self, params: Floats) -> Floats:
        """First fits (R, 3) under ``params``."""
        self.effort.used += RIM_LOOKS * (len(ARC_PARTS) + int(SETTLE))
        own = np.full((len(self), OWN), np.nan)
        see_rims(self.laid, params, own, SETTLE, np.ones(len(self)))
        return own

    def settled(self, params: Floats, own: Floats) -> Floats:
        """The rims' own unknowns brought to rest under a fixed camera, (R, 3)."""
        self.effort.used += RIM_LOOKS * (int(SETTLE) + 1)
        found = own.copy()
        see_rims(self.laid, params, found, SETTLE, np.ones(len(self)))
        return found

    def ellipses(self, params: Floats, own: Floats) -> Floats:
        """Exact images of all circles: (R, 5) centre, half axes (the larger first) and the major
        axis' direction (radians).
        """
        images, _ = self.basis(params)
        return ellipse_of(own, images * np.exp(own[:, 2])[:, None, None])

    def shape_cost(self, ahead: Floats, aside: Floats, up: Floats, bearings: Floats) -> Floats:
        """Chi-square of the opening and lean of each rim, as of a vanishingly small circle, under
        cameras that image north, east and up at ``ahead``, ``aside``, ``up`` (c, 3): shape
        (c, B, R) over the ``bearings`` (radians) that a form may stand at.
        """
        angle = bearings[:, None] + self.offset[None]  # (B, R)
        sin_b, cos_b = np.sin(angle)[None, ..., None], np.cos(angle)[None, ..., None]
        first = np.where(
            self.level[None, None, :, None],
            aside[:, None, None],
            cos_b * aside[:, None, None] - sin_b * ahead[:, None, None],
        )
        second = np.where(self.level[None, :, None], ahead[:, None], up[:, None])[:, None]
        spans = np.stack(np.broadcast_arrays(first, second), axis=-2)  # (c, B, R, 2, 3)
        flat = spans[..., :2] - self.start[None, None, :, None, :] * spans[..., 2:]
        xx, xy, yy = (flat[..., 0] ** 2).sum(-1), (flat[..., 0] * flat[..., 1]).sum(-1), (flat[..., 1] ** 2).sum(-1)
        trace = np.maximum(xx + yy, 1e-12)
        miss = np.stack([(xx - yy) / trace, 2 * xy / trace], axis=-1) - self.shape
        white = np.einsum("rij,cbrj->cbri", self.shape_root, miss)
        return np.asarray((white**2).sum(-1), float)


def ellipse_of(own: Floats, spans: Floats) -> Floats:
    """The ellipses that circles ``own`` (..., 3) with plane images ``spans`` (..., 2, 3), already times their
    radii, are drawn as: (..., 5) centre, half axes, direction.
    """
    shape = np.broadcast_shapes(own.shape[:-1], spans.shape[:-2])
    flat = np.broadcast_to(own, (*shape, 3)).reshape(-1, 3), np.broadcast_to(spans, (*shape, 2, 3)).reshape(-1, 2, 3)
    return ellipses_of(*(np.ascontiguousarray(part) for part in flat)).reshape(*shape, 5)
