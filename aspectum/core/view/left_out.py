"""What each sighting must be with itself left out, and how far it disagrees with the rest."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.algebra import inverse_pairs, inverse_roots, least_of_pairs
from aspectum.core.plane.ellipses import degree_and_axis
from aspectum.core.plane.lines import Flags, Floats, tilt_difference
from aspectum.core.view.circles import ellipse_of
from aspectum.core.view.solve import Solution

BLIND_SD_DEG = 25.0  # an implied tilt wider than this says nothing


@dataclass(frozen=True)
class Influence:
    """Linear picture of a solution: residuals r (n,), derivatives (n, F), covariance (F, F) and
    leverages h (n,) of the edges, in units of the point error; for the rims z (R, 2), derivatives
    (R, 2, F) and leverages (R, 2, 2).
    """

    r: Floats
    jac: Floats
    covariance: Floats
    h: Floats
    z: Floats
    by: Floats
    leverage: Floats


def influence(solution: Solution) -> Influence:
    r, jac = solution.linear
    covariance = solution.covariance
    h = ((jac @ covariance) * jac).sum(axis=1)
    step, free = solution.rim_step, solution.view.free
    if step is None:
        return Influence(r, jac, covariance, h, np.zeros((0, 2)), np.zeros((0, 2, len(free))), np.zeros((0, 2, 2)))
    by = step.by[:, :, free]
    return Influence(r, jac, covariance, h, step.z, by, np.matmul(np.matmul(by, covariance), by.transpose(0, 2, 1)))


def studentised(picture: Influence, active: Flags) -> Floats:
    """Disagreement of each edge and rim with all the others, in its own standard deviations,
    (n + R,). A rim's two readings count as one: a chi-square of two degrees as the normal deviate
    of about the same rarity.
    """
    count = len(picture.r)
    room = np.where(active[:count], 1.0 - picture.h, 1.0 + picture.h)
    edges = np.where(room > 1e-6, picture.r / np.sqrt(np.maximum(room, 1e-6)), 0.0)
    if not len(picture.z):
        return edges
    spread = rim_room(picture, active[count:])
    square = np.einsum("ri,rij,rj->r", picture.z, inverse_pairs(spread), picture.z)
    return np.append(edges, np.sqrt(np.maximum(square - 2.0, 0.0)))


def rim_room(picture: Influence, active: Flags) -> Floats:
    """Covariance (R, 2, 2) of each rim's residuals in (active) or beside (left out) the solution."""
    sign = np.where(active, -1.0, 1.0)[:, None, None]
    return np.eye(2) * (1.0 + 1e-6) + sign * picture.leverage


def left_out_gains(picture: Influence, active: Flags) -> tuple[Floats, Floats]:
    """Chi-square that leaving each sighting out would save, or that taking one back in would cost, to first order,
    and the leverage of those inside, (n + R,).
    """
    count = len(picture.r)
    on = active[:count]
    gain = picture.r**2 / np.maximum(np.where(on, 1.0 - picture.h, 1.0 + picture.h), 1e-9)
    leverage = np.where(on, picture.h, 0.0)
    if not len(picture.z):
        return gain, leverage
    room = rim_room(picture, active[count:])
    rims = np.einsum("ri,rij,rj->r", picture.z, inverse_pairs(room), picture.z)
    return np.append(gain, rims), np.append(leverage, np.where(active[count:], 1.0 - least_of_pairs(room), 0.0))


def taken_in(picture: Influence, active: Flags, k: int) -> Floats:
    """Chi-square that leaving each active sighting out would save once ``k``, left out so far, is taken back in, to
    first order, (n + R,); zero for rims, and where a rim is taken in.
    """
    count, gain = len(picture.r), np.zeros(len(active))
    if k >= count:
        return gain
    towards = picture.jac @ (picture.covariance @ picture.jac[k])
    room = 1.0 + picture.h[k]
    r = picture.r - towards / room * picture.r[k]
    h = picture.h - towards**2 / room
    gain[:count] = np.where(active[:count], r * r / np.maximum(1.0 - h, 1e-9), 0.0)
    return gain


def left_out_moves(solution: Solution) -> Floats:
    """How the free parameters would move with each sighting left out, (n + R, F)."""
    picture = influence(solution)
    count = len(picture.r)
    active = solution.active
    towards = picture.jac @ picture.covariance
    room = np.maximum(1.0 - picture.h, 1e-9)
    moves = np.where(active[:count, None], (picture.r / room)[:, None] * towards, 0.0)
    if not len(picture.z):
        return moves
    push = np.einsum("rij,rj->ri", inverse_pairs(rim_room(picture, active[count:])), picture.z)
    rims = np.einsum("fg,rig,ri->rf", picture.covariance, picture.by, push)
    return np.concatenate([moves, np.where(active[count:, None], rims, 0.0)])


@dataclass(frozen=True)
class ImpliedRims:
    """Per rim, all (R,) unless said: implied degree and tilt of the minor axis with that rim left
    out (nan where nothing implies them), their standard deviations, and those of sighted less
    implied; ``ellipse`` (R, 5) in camera units; ``t``: studentised disagreement. Degrees.
    """

    degree: Floats
    degree_sd: Floats
    degree_gap_sd: Floats
    axis: Floats
    axis_sd: Floats
    axis_gap_sd: Floats
    ellipse: Floats
    t: Floats


def implied_rims(solution: Solution, spread: Floats | None = None) -> ImpliedRims:
    """What the rest requires of every rim: the image of a circle of its size in its place. ``spread``: covariance
    (F, F) of the view over all that is possible, where it is known to be wider than the solution's own.

    Place and size come from the rim's own points, which also carry the sighted degree; since the
    implied degree is the best estimate that the camera allows, the variance of sighted less
    implied is the sighted one's less what placing adds to the implied one (Hausman, Econometrica
    46, 1978), plus the camera's part.
    """
    bank, step, own = solution.evidence.rims, solution.rim_step, solution.own
    assert bank is not None and step is not None and own is not None
    free = solution.view.free
    picture = influence(solution)
    active = solution.active[len(solution.evidence.edges) :]
    room = rim_room(picture, active)
    inverse = inverse_pairs(room)
    towards = np.einsum("fg,rig->rfi", picture.covariance, picture.by)  # (R, F, 2)
    push = np.where(active[:, None], np.einsum("rij,rj->ri", inverse, picture.z), 0.0)
    move = np.clip(np.einsum("rfi,ri->rf", towards, push), -0.7, 0.7)
    gain = np.where(active[:, None, None], inverse, 0.0)
    wide = picture.covariance if spread is None else spread
    covariance = wide + np.einsum("rfi,rij,rgj->rfg", towards, gain, towards)
    root = inverse_roots(step.own_root)
    follow = -np.einsum("rij,rjf->rif", root, step.own_by[:, :, free])  # how own unknowns follow the camera
    images, by = bank.basis(solution.params)
    by = by[..., free]
    moved = images + np.einsum("rjcf,rf->rjc", by, move)
    place = own + np.einsum("rif,rf->ri", follow, move)
    # the ellipse and, by small steps along the camera's and its own unknowns, its derivatives
    steps = np.concatenate([np.zeros((1, len(free) + 3)), 1e-5 * np.eye(len(free) + 3)])
    spans = moved[:, None] + np.einsum("rjcf,sf->rsjc", by, steps[:, : len(free)])
    places = place[:, None] + steps[None, :, len(free) :]
    ellipses = ellipse_of(places, spans * np.exp(places[..., 2])[..., None, None])
    degrees, axes = degree_and_axis(ellipses)
    by_degree = (degrees[:, 1:] - degrees[:, :1]) / 1e-5
    by_axis = tilt_difference(axes[:, 1:], axes[:, :1]) / 1e-5
    sighted = np.array([f.sds for f in bank.fits])

    def spreads(slope: Floats, sighted_sd: Floats) -> tuple[Floats, Floats]:
        camera, mine = slope[:, : len(free)], slope[:, len(free) :]
        total = camera + np.einsum("ri,rif->rf", mine, follow)
        view = np.einsum("rf,rfg,rg->r", total, covariance, total)
        placing = np.einsum("ri,rij,rkj,rk->r", mine, root, root, mine)
        return np.sqrt(view + placing), np.sqrt(np.maximum(sighted_sd**2 - placing, (0.1 * sighted_sd) ** 2) + view)

    degree_sd, degree_gap = spreads(by_degree, sighted[:, 1])
    axis_sd, axis_gap = spreads(by_axis, sighted[:, 2])
    blind = ~np.isfinite(degree_sd) | (degree_sd > BLIND_SD_DEG) | (active & (least_of_pairs(room) < 1e-5))

    def known(values: Floats) -> Floats:
        return np.where(blind, np.nan, values)

    t = studentised(picture, solution.active)[len(solution.evidence.edges) :]
    return ImpliedRims(
        known(degrees[:, 0]),
        known(degree_sd),
        known(degree_gap),
        known(axes[:, 0]),
        known(axis_sd),
        known(axis_gap),
        ellipses[:, 0],
        t,
    )
