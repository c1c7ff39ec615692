"""A sighted rim: the ellipse through points on its seen arc, with what point error does to it.

Points are pixels, origin at the picture's top-left corner, x right, y down. A rim may be laid by
points on its arc, by the two ends of its major axis with one point on the near arc, or by both.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache

import numpy as np

from aspectum.core.plane.ellipses import Ellipse, by_shape, conic_shape, feet_of, principal, symmetric
from aspectum.core.plane.lines import Floats, half_turn, weighted_median
from aspectum.core.plane.rim_opening import NEARLY_ROUND, Opening, opening_of
from aspectum.core.plane.rim_rows import NO_ENDS, NOT_HELD, THIN_TO, USUAL_ARC, fit_rows, refine_fit, unlikely
from aspectum.core.sightings import Point, least_points

SHORT_ARC_DEG = 100.0  # of the ellipse's own turn; less leaves the opening to guesswork
# how much wider than the curve says the spread of a nearly closed rim is, in point errors over its half minor axis, and
# its most in point errors: by simulation
CLOSING, MOST_CLOSING = 4.0, 3.0
WELL_KNOWN = (
    0.015  # first-order spread of the ratio, under a degree, that needs no curve where the arc is long and open
)
# spread of the ratio, some six degrees, up to which the best ellipse is told; the best of a nearly round rim is mostly
# too flat
TELLING, TELLING_ROUND = 0.1, 0.02
# An arc of many points shows how steadily it was laid: the given error counts as so many further points, and at most as
# much steadier is believed. Points that lie worse than that are no reason to widen: they may be a rim drawn out of
# shape
PARAMETERS, AS_GIVEN, STEADIEST, WORTH_FITTING = 5, 6.0, 0.4, 0.97
LEAST_RATIO_SD, MOST_RATIO_SD = 1e-4, 0.15  # first-order spread of the ratio that steps are measured by


@dataclass(frozen=True, eq=False)
class RimFit:
    """The ellipse c + A u(t), u on the unit circle, A symmetric; all in pixels.

    ``shape``: (centre x, centre y, A00, A01, A11); ``covariance``: of ``shape``, (5, 5); ``points``: (n, 2) every point
    on the arc; ``turns``: their eccentric angles (radians) from the end of the major axis, (n,); ``misses``: signed
    distances outwards (px), (n,); ``chi2``: of all that was laid; ``opening``: the curve over the ratio of the axes,
    None where the fit needs none; ``steady``: the same with the point error that the points themselves show, where that
    is smaller: what is told of the rim by itself. Where it is held against others the given error stays.
    """

    shape: Floats
    covariance: Floats
    points: Floats
    turns: Floats
    misses: Floats
    chi2: float
    point_sd_px: float
    near: Point | None
    converged: bool
    opening: Opening | None = None
    steady: RimFit | None = None

    @cached_property
    def axes(self) -> tuple[float, float, float]:
        """Half major axis, half minor axis (px) and the major axis' direction (radians, y down), of the best fit."""
        return principal(self.shape)

    @property
    def centre(self) -> Point:
        return float(self.shape[0]), float(self.shape[1])

    @cached_property
    def vector(self) -> tuple[Floats, Floats]:
        """As ``shape_vector``."""
        return shape_vector(self)

    @cached_property
    def reach(self) -> tuple[Floats, Floats]:
        """The two points on the arc that lie farthest apart, about."""
        return chord(self.points)

    @cached_property
    def told(self) -> Floats:
        """The ellipse that is told, (5,) as ``shape``: the best one, or, where it is a reading that no hand lays or
        others fit about as well, the one in the middle of the curve over the ratio.
        """
        if self.steady is not None:
            return self.steady.told
        if self.opening is None:
            return self.shape
        best = self.axes[1] / self.axes[0]
        spread = math.sqrt(float(self.opening.weight @ (self.opening.ratio - best) ** 2))
        if (
            spread < (TELLING if best < NEARLY_ROUND else TELLING_ROUND)
            and unlikely(self.shape, self.points, self.point_sd_px) == 0.0
        ):
            return self.shape
        middle = weighted_median(self.opening.ratio, self.opening.weight)
        return np.array([np.interp(middle, self.opening.ratio, column) for column in self.opening.shapes.T])

    @cached_property
    def ellipse(self) -> Ellipse:
        return Ellipse.of_shape(self.told)

    @cached_property
    def ratio(self) -> float:
        major, minor, _ = principal(self.told)
        return minor / major

    @cached_property
    def degree_deg(self) -> float:
        """Ellipse degree asin(minor/major), 0 = a line, 90 = a full circle."""
        return self.ellipse.degree_deg

    @cached_property
    def axis_deg(self) -> float:
        """Tilt of the minor axis, the axis of the form as drawn."""
        return self.ellipse.axis_deg

    @cached_property
    def sds(self) -> tuple[float, float, float]:
        """Standard deviations of the ratio, of the degree and of the minor axis' tilt (degrees)."""
        if self.steady is not None:
            return self.steady.sds
        major, minor, angle = self.axes
        # a rim that comes out nearly closed was more likely closed by the error than opened by it
        closing, most = (
            math.hypot(1.0, CLOSING * self.point_sd_px / max(minor, 1e-9)),
            MOST_CLOSING * self.point_sd_px / major,
        )
        if self.opening is None:
            ratio_sd = first_order_ratio_sd(self.shape, self.covariance)
            ratio_sd = max(ratio_sd, min(closing * ratio_sd, most))
            axis_sd = math.degrees(spread(by_shape(angle)[2], self.covariance)) / max(major - minor, 1e-9)
            return ratio_sd, degree_sd(self.ratio, ratio_sd), min(axis_sd, 90.0)
        ratio, weight = self.opening.ratio, self.opening.weight
        ratio_sd = math.sqrt(float(weight @ (ratio - self.ratio) ** 2))
        wider = max(1.0, min(closing, most / max(ratio_sd, 1e-9)))
        degrees = np.degrees(np.arcsin(np.minimum(ratio, 1.0)))
        turned = half_turn(np.array([principal(shape)[2] for shape in self.opening.shapes]) - principal(self.told)[2])
        axis_sd = math.degrees(math.sqrt(float(weight @ (self.opening.axis_variance + turned**2))))
        return wider * ratio_sd, wider * math.sqrt(float(weight @ (degrees - self.degree_deg) ** 2)), min(axis_sd, 90.0)

    @cached_property
    def coverage_deg(self) -> float:
        """How much of the ellipse's turn the points span: 360 less the widest gap."""
        t = np.sort(np.mod(self.turns, 2 * np.pi))
        gaps = np.diff(np.append(t, t[0] + 2 * np.pi))
        return 360.0 - float(np.degrees(gaps.max())) if len(t) > 1 else 0.0

    @property
    def too_short(self) -> bool:
        return self.coverage_deg < SHORT_ARC_DEG

    @cached_property
    def front(self) -> int:
        """The side on which the near arc lies, by the near point or by a half-seen arc: 1 = the
        lower side (it bows down), -1 = the upper, 0 = the arc does not say.
        """
        _, minor, angle = principal(self.told)
        down = np.array([-math.sin(angle), math.cos(angle)])  # along the minor axis
        if self.near is not None:
            side = float((self.near - self.told[:2]) @ down)
            return int(np.sign(side)) if abs(side) > 2.0 * self.point_sd_px else 0
        if self.coverage_deg > 235.0 or minor < 2.0 * self.point_sd_px:
            return 0
        side = float(np.mean((self.points - self.told[:2]) @ down))
        return int(np.sign(side)) if abs(side) > 0.35 * minor else 0


def spread(by: Floats, covariance: Floats) -> float:
    return math.sqrt(max(float(by @ covariance @ by), 0.0))


def degree_sd(ratio: float, ratio_sd: float) -> float:
    """Standard deviation (degrees) of asin(ratio): half the span of one standard deviation of the
    ratio each way, below the ratio only where the way up ends at the full circle.
    """
    here, low = min(ratio, 1.0), max(ratio - ratio_sd, -1.0)
    if ratio + ratio_sd > 1.0:
        return math.degrees(math.asin(here) - math.asin(min(low, 1.0)))
    return math.degrees(math.asin(ratio + ratio_sd) - math.asin(low)) / 2


@lru_cache(maxsize=2048)
def fit_rim(
    points: tuple[Point, ...], point_sd_px: float, ends: tuple[Point, Point] | None = None, near: Point | None = None
) -> RimFit:
    """The ellipse of least squared distance to ``points`` on its arc (px), at least five, or to
    the ``ends`` of its major axis and one point ``near`` on the near arc, with any points beside.

    A direct fit (Halir & Flusser, WSCG 1998) gives the start, geometric distance (maximum
    likelihood for equal isotropic point error) the result. An end of the major axis is known well
    along the axis and loosely across it: to where the arc has fallen back by one point error,
    b·sqrt(2 sd/a) for half axes a and b. Raises ``ValueError`` for too few or coinciding points.
    """
    fit = fitted_with(points, point_sd_px, ends, near)
    over = len(fit.points) - PARAMETERS
    share = math.sqrt((AS_GIVEN + min(fit.chi2, float(max(over, 0)))) / (AS_GIVEN + max(over - 2, 0)))
    if ends is not None or share > WORTH_FITTING:
        return fit
    return replace(fit, steady=fitted_with(points, max(share, STEADIEST) * point_sd_px, ends, near))


def fitted_with(
    points: tuple[Point, ...], point_sd_px: float, ends: tuple[Point, Point] | None, near: Point | None
) -> RimFit:
    """As ``fit_rim``, with this point error and no other."""
    arc = [*points, *(ends or ()), *([near] if near is not None else [])]
    everything = np.array(arc, float).reshape(-1, 2)
    if len(points) < least_points(ends is not None, near is not None):
        if ends is None:
            raise ValueError(
                "a rim needs at least five points on its arc, or the ends of its major axis and a near point"
            )
        raise ValueError("a rim laid by its major axis needs one point on the near arc")
    extent = everything.max(axis=0) - everything.min(axis=0)
    if float(np.hypot(*extent)) < 2.0:
        raise ValueError("the rim's points lie all but in one place")
    vertices = NO_ENDS if ends is None else np.array(ends, float)
    if len(vertices) and float(np.hypot(*(vertices[1] - vertices[0]))) < 2.0:
        raise ValueError("the ends of the rim's major axis coincide")
    if len(vertices):
        starts = [start_from_ends(vertices, np.array(points if near is None else [*points, near], float))]
    else:
        # a flat arc: the direct fit may run off along a needle; so begin from its chord as well
        starts = [direct_fit(everything), start_from_chord(everything)]
    tried = [refine_fit(start, everything, vertices, point_sd_px, NOT_HELD) for start in starts]
    costs = [total(found, everything, vertices, point_sd_px) for found, _ in tried]
    best = int(np.argmin([cost + (0.0 if settled else 1.0) for cost, (_, settled) in zip(costs, tried, strict=True)]))
    shape, converged = tried[best]
    r, jac = fit_rows(shape, everything, vertices, point_sd_px, NOT_HELD)
    turned, feet, normals = feet_of(everything, shape)
    turns = np.arctan2(turned[:, 1], turned[:, 0])
    misses = np.einsum("ij,ij->i", everything - feet, normals)
    scale = np.maximum(np.sqrt(np.einsum("ij,ij->j", jac, jac)), 1e-12)
    covariance = np.linalg.pinv((jac / scale).T @ (jac / scale), rcond=1e-12, hermitian=True) / np.outer(scale, scale)
    ratio_sd = first_order_ratio_sd(shape, covariance)
    fit = RimFit(
        shape, np.asarray(covariance, float), everything, turns, misses, float(r @ r), point_sd_px, near, converged
    )
    well_known = (
        converged
        and ratio_sd < WELL_KNOWN
        and fit.axes[1] > THIN_TO * point_sd_px
        and math.radians(fit.coverage_deg) > USUAL_ARC
    )
    if well_known or len(vertices):  # the ends of the major axis leave no others
        return fit
    apart = [found for found, _ in tried if np.abs(found - shape).max() > 0.1 * point_sd_px]
    opening = opening_of(
        [shape, *apart, *starts], everything, vertices, point_sd_px, min(max(ratio_sd, LEAST_RATIO_SD), MOST_RATIO_SD)
    )
    return replace(fit, opening=opening)


def first_order_ratio_sd(shape: Floats, covariance: Floats) -> float:
    """Standard deviation of the ratio of the axes by the fit's first derivatives."""
    major, minor, angle = principal(shape)
    along, across, _ = by_shape(angle)
    return spread(across / major - minor / major**2 * along, covariance)


def total(shape: Floats, points: Floats, ends: Floats, sd: float) -> float:
    r, _ = fit_rows(shape, points, ends, sd, NOT_HELD)
    return float(r @ r) + unlikely(shape, points, sd)


def chord(points: Floats) -> tuple[Floats, Floats]:
    """The two of ``points`` (n, 2) that lie farthest apart."""
    gaps = ((points[:, None] - points[None]) ** 2).sum(axis=2)
    i, k = np.unravel_index(int(np.argmax(gaps)), gaps.shape)
    return points[i], points[k]


def start_from_chord(points: Floats) -> Floats:
    """An ellipse a little wider than the chord of ``points``, opened to hold them."""
    first, last = chord(points)
    middle, half = (first + last) / 2, (last - first) / 2
    return start_from_ends(np.stack([middle - 1.1 * half, middle + 1.1 * half]), points)


def start_from_ends(ends: Floats, others: Floats) -> Floats:
    """The ellipse on the major axis between ``ends`` (2, 2) through the mean opening of ``others``."""
    centre, half = ends.mean(axis=0), (ends[1] - ends[0]) / 2
    major = float(np.hypot(*half))
    along = half / major
    across = np.array([-along[1], along[0]])
    d = others - centre
    x, y = d @ along / major, np.abs(d @ across)
    share = np.sqrt(np.maximum(1.0 - np.minimum(np.abs(x), 0.95) ** 2, 0.09))
    minor = max(float(np.median(y / share)), 1e-3 * major)
    return symmetric(centre, major, min(minor, 4.0 * major), math.atan2(along[1], along[0]))


def direct_fit(points: Floats) -> Floats:
    """Direct least-squares ellipse (Halir & Flusser, WSCG 1998) through ``points`` (n, 2); where
    it degenerates, a flat ellipse along the points' main direction.
    """
    middle = points.mean(axis=0)
    scale = float(np.sqrt(np.mean((points - middle) ** 2))) or 1.0
    x, y = ((points - middle) / scale).T
    quadratic, linear = np.stack([x * x, x * y, y * y], axis=1), np.stack([x, y, np.ones_like(x)], axis=1)
    s1, s2, s3 = quadratic.T @ quadratic, quadratic.T @ linear, linear.T @ linear
    try:
        back = -np.linalg.solve(s3, s2.T)
        reduced = s1 + s2 @ back
        _, vectors = np.linalg.eig(np.stack([reduced[2] / 2, -reduced[1], reduced[0] / 2]))
        vectors = np.real(vectors)
        inside = 4 * vectors[0] * vectors[2] - vectors[1] ** 2
        top = vectors[:, int(np.argmax(inside))]
        conic = np.concatenate([top, back @ top])
        shape = conic_shape(conic) if inside.max() > 1e-9 else None
    except np.linalg.LinAlgError:
        shape = None
    if shape is None or not np.all(np.isfinite(shape)) or np.abs(shape).max() > 1e3:
        _, _, ways = np.linalg.svd(points - middle, full_matrices=False)
        along = (points - middle) @ ways[0] / scale
        shape = symmetric(np.zeros(2), max(float(np.ptp(along)) / 2, 0.5), 0.1, math.atan2(ways[0, 1], ways[0, 0]))
    return np.concatenate([shape[:2] * scale + middle, shape[2:] * scale])


def shape_vector(fit: RimFit) -> tuple[Floats, Floats]:
    """A rim's opening and lean as ((a²-b²)/(a²+b²)) (cos 2φ, sin 2φ), smooth at the full circle,
    and its covariance (2, 2).
    """
    p, q, r = fit.shape[2:]
    xx, xy, yy = p * p + q * q, q * (p + r), q * q + r * r
    trace = xx + yy
    value = np.array([(xx - yy) / trace, 2 * xy / trace])
    d_xx, d_xy, d_yy = np.array([2 * p, 2 * q, 0.0]), np.array([q, p + r, q]), np.array([0.0, 2 * q, 2 * r])
    jac = np.stack([(d_xx - d_yy) - value[0] * (d_xx + d_yy), 2 * d_xy - value[1] * (d_xx + d_yy)]) / trace
    return value, jac @ fit.covariance[2:, 2:] @ jac.T
