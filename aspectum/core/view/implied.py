"""What the rest requires of every edge, over all that they leave possible."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.lines import Flags, Floats, tilt_deg, tilt_difference, tilt_sd_deg, wrap_tilt
from aspectum.core.view.camera import MOVES, vanish
from aspectum.core.view.descent import Hold, LaidEdges, edge_columns, edge_rows
from aspectum.core.view.left_out import BLIND_SD_DEG
from aspectum.core.view.posterior import Posterior

WORTH_A_LOOK = 1e-3  # share of the weight below which a place on the curve is passed over
MOST_GAIN = 60.0  # chi-square that leaving an edge out may be said to save: far from its place a step says little
LONGEST_STEP = 0.7  # of a parameter, when an edge is left out


@dataclass(frozen=True)
class Implied:
    """Per edge, all (n,): sighted tilt and sd, implied tilt and sd (nan where nothing implies it), degrees."""

    sighted: Floats
    sighted_sd: Floats
    implied: Floats
    implied_sd: Floats

    @property
    def turn(self) -> Floats:
        """Signed turn (degrees) from sighted to implied."""
        return tilt_difference(self.implied, self.sighted)

    @property
    def combined_sd(self) -> Floats:
        return np.hypot(self.sighted_sd, self.implied_sd)


def implied_tilts(posterior: Posterior) -> Implied:
    """Every edge's implied tilt with that edge left out, and how sure it is: at every place on the curve exactly where
    the edge is out of its explanation, by one Gauss-Newton step where it is inside, each place weighed anew without
    the edge.
    """
    evidence, view = posterior.solution.evidence, posterior.solution.view
    curve, found, edges = posterior.curve, posterior.explanations, len(evidence.edges)
    on = np.flatnonzero(curve.weight > WORTH_A_LOOK)
    of = curve.of[on]
    active = found.active[:, :edges]
    gain, tilt, variance = left_out_tilts(evidence.laid_edges, view.hold, evidence.middle, curve.params[on], curve.covariance[on], active[of])
    # out of an explanation an edge counts nothing but its price; with the price back, both ways say the same
    gain = np.where(active[of], gain, found.price[of, :edges])
    gain = np.where(stands_twice(found.active)[of, :edges], -np.inf, gain)
    log = np.log(curve.weight[on])[:, None] + 0.5 * gain
    weight = np.exp(log - log.max(axis=0))
    weight /= weight.sum(axis=0)
    reference = tilt[np.argmax(weight, axis=0), np.arange(edges)]
    away = tilt_difference(tilt, reference)
    mean = (weight * away).sum(axis=0)
    sd = half_widths(away, np.sqrt(variance), weight) / DEVIATIONS_OF_95
    blind = ~np.isfinite(sd) | (sd > BLIND_SD_DEG)
    length_px = np.hypot(*(evidence.b - evidence.a).T) * evidence.scale
    return Implied(
        tilt_deg(evidence.a, evidence.b),
        tilt_sd_deg(length_px, evidence.setup.point_sd_px),
        np.where(blind, np.nan, wrap_tilt(reference + mean)),
        np.where(blind, np.nan, sd),
    )


def half_widths(middle: Floats, sd: Floats, weight: Floats) -> Floats:
    """Half the width of the interval that holds 95 % of each column's mixture of K bells, (n,); ``middle``, ``sd`` and
    ``weight`` (K, n). Unlike its standard deviation it is not widened by what is all but ruled out.
    """
    nodes = (middle[:, None] + NODES[:, None] * sd[:, None]).reshape(len(middle) * len(NODES), middle.shape[1])
    share = (weight[:, None] * NODE_SHARES[:, None]).reshape(nodes.shape)
    order = np.argsort(nodes, axis=0)
    nodes, below = np.take_along_axis(nodes, order, axis=0), np.cumsum(np.take_along_axis(share, order, axis=0), axis=0)
    low, high = (np.take_along_axis(nodes, np.minimum((below < part).sum(axis=0), len(nodes) - 1)[None], axis=0)[0] for part in (0.025, 0.975))
    return np.asarray((high - low) / 2, float)


NODES = np.linspace(-2.75, 2.75, 23)  # places on a bell, in its standard deviations, that stand for it
NODE_SHARES = np.exp(-0.5 * NODES**2) / np.exp(-0.5 * NODES**2).sum()
DEVIATIONS_OF_95 = 1.96


def stands_twice(active: Flags) -> Flags:
    """Whether each explanation, (E, n + R), stands among them as well with one of its sightings left out: without that
    sighting both say the same, the other exactly.
    """
    apart = active[:, None] & ~active[None]
    alone = (apart.sum(axis=2) == 1) & ~(active[None] & ~active[:, None]).any(axis=2)
    return np.asarray((apart & alone[..., None]).any(axis=1))


@compiled
def left_out_tilts(edges: LaidEdges, hold: Hold, middle: Floats, params: Floats, covariance: Floats, active: Flags) -> tuple[Floats, Floats, Floats]:
    """At each of K places, ``params`` (K, P) and ``covariance`` (K, F, F), with each edge left out: twice the log by
    which the place gains, the tilt (degrees) that it then implies and its variance, (K, n) each. ``middle`` (n, 2):
    of the edges; ``active`` (K, n): those inside the fit.
    """
    places, count, size = len(params), len(edges.slot), len(hold.free)
    gain, tilt, variance = np.zeros((places, count)), np.empty((places, count)), np.empty((places, count))
    towards, turn, moved = np.empty(size), np.empty(size), np.empty(params.shape[1])
    columns, one = np.empty(MOVES, np.intp), np.empty(3)
    degrees = 180.0 / np.pi
    for k in range(places):
        r, jac = edge_rows(edges, hold, params[k])
        points, by = vanish(params[k], edges.bearing, edges.offset, edges.slope)
        for i in range(count):
            m = edges.slot[i]
            h = 0.0
            for f in range(size):
                towards[f] = 0.0
                for g in range(size):
                    towards[f] += covariance[k, f, g] * jac[i, g]
                h += towards[f] * jac[i, f]
            x, y = middle[i, 0], middle[i, 1]
            room = max(1.0 - h, 1e-9)
            for j in range(3):
                one[j] = points[m, j]
            if active[k, i]:
                gain[k, i] = min(r[i] * r[i] / room, MOST_GAIN)
                for p in range(len(moved)):
                    moved[p] = params[k, p]
                for f in range(size):
                    moved[hold.free[f]] += min(max(r[i] / room * towards[f], -LONGEST_STEP), LONGEST_STEP)
                there, _ = vanish(moved, edges.bearing[m : m + 1], edges.offset[m : m + 1], edges.slope[m : m + 1])
                for j in range(3):
                    one[j] = there[0, j]
            dx, dy = one[0] - x * one[2], one[1] - y * one[2]
            reach = np.sqrt(max(dx * dx + dy * dy, 1e-300))
            tilt[k, i] = 90.0 - (90.0 - degrees * np.arctan2(-dy, dx)) % 180.0
            # how the tilt turns with the view, taken where the fit stands
            bx, by_ = points[m, 0] - x * points[m, 2], points[m, 1] - y * points[m, 2]
            square = max(bx * bx + by_ * by_, 1e-300)
            for f in range(size):
                turn[f] = 0.0
            for c in range(edge_columns(edges, hold, m, columns)):
                if columns[c] >= 0:
                    ex, ey = by[m, 0, c] - x * by[m, 2, c], by[m, 1, c] - y * by[m, 2, c]
                    turn[columns[c]] = degrees * (by_ * ex - bx * ey) / square
            spread, along = 0.0, 0.0
            for f in range(size):
                along += turn[f] * towards[f]
                for g in range(size):
                    spread += turn[f] * covariance[k, f, g] * turn[g]
            if active[k, i]:
                spread += along * along / room
            placing = degrees * edges.sd / np.sqrt(2.0) * abs(one[2]) / reach
            variance[k, i] = spread + placing * placing
    return gain, tilt, variance
