"""What the rest requires of every edge, over all that they leave possible."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.lines import Flags, Floats, tilt_deg, tilt_difference, tilt_sd_deg, wrap_tilt
from aspectum.core.view.camera import MOVES, direction_of, image_of, lens_of, vanish
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
    gain, tilt, variance = left_out_tilts(
        evidence.laid_edges, view.hold, evidence.middle, curve.params[on], curve.covariance[on], active[of]
    )
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


@compiled
def half_widths(middle: Floats, sd: Floats, weight: Floats) -> Floats:
    """Half the width of the interval that holds 95 % of each column's mixture of K bells, (n,); ``middle``, ``sd`` and
    ``weight`` (K, n), the weights of a column sum to one. Unlike its standard deviation it is not widened by what is
    all but ruled out. No number where a bell that counts is none.
    """
    places, count = middle.shape
    found = np.empty(count)
    for i in range(count):
        low, high, known = np.inf, -np.inf, True
        for k in range(places):
            if weight[k, i] > 0.0:
                known = known and np.isfinite(middle[k, i]) and np.isfinite(sd[k, i])
                low, high = min(low, middle[k, i] - REACH * sd[k, i]), max(high, middle[k, i] + REACH * sd[k, i])
        if not known:
            found[i] = np.nan
            continue
        upper = share_below(middle[:, i], sd[:, i], weight[:, i], 0.975, low, high)
        found[i] = (upper - share_below(middle[:, i], sd[:, i], weight[:, i], 0.025, low, high)) / 2.0
    return found


@compiled
def share_below(middle: Floats, sd: Floats, weight: Floats, share: float, low: float, high: float) -> float:
    """Where ``share`` of a mixture of bells lies below, between ``low`` and ``high``, by halving."""
    for _ in range(HALVINGS):
        at, below = (low + high) / 2.0, 0.0
        for k in range(len(middle)):
            if weight[k] > 0.0:
                place = (at - middle[k]) / max(sd[k], 1e-12) * FINENESS + FINENESS * REACH
                if place >= 2 * FINENESS * REACH:
                    below += weight[k]
                elif place > 0.0:
                    m = int(place)
                    below += weight[k] * (BELL[m] + (place - m) * (BELL[m + 1] - BELL[m]))
        if below < share:
            low = at
        else:
            high = at
    return (low + high) / 2.0


REACH = 4.0  # deviations of a bell beyond which nothing of it counts
HALVINGS = 16  # of a stretch that is at most some hundred times the answer
FINENESS = 64  # entries of BELL to a deviation
# share of a bell below each place from -REACH to REACH: reading it is many times faster than working it out
BELL = np.array(
    [
        0.5 * math.erfc(-place / FINENESS / math.sqrt(2.0))
        for place in range(-int(REACH) * FINENESS, int(REACH) * FINENESS + 1)
    ]
)
DEVIATIONS_OF_95 = 1.96  # standard deviations from the mean within which 95 % of a normal distribution lie


def stands_twice(active: Flags) -> Flags:
    """Whether each explanation, (E, n + R), stands among them as well with one of its sightings left out: without that
    sighting both say the same, the other exactly.
    """
    apart = active[:, None] & ~active[None]
    alone = (apart.sum(axis=2) == 1) & ~(active[None] & ~active[:, None]).any(axis=2)
    return np.asarray((apart & alone[..., None]).any(axis=1))


@compiled
def left_out_tilts(
    edges: LaidEdges, hold: Hold, middle: Floats, params: Floats, covariance: Floats, active: Flags
) -> tuple[Floats, Floats, Floats]:
    """At each of K places, ``params`` (K, P) and ``covariance`` (K, F, F), with each edge left out: twice the log by
    which the place gains, the tilt (degrees) that it then implies and its variance, (K, n) each. ``middle`` (n, 2):
    of the edges; ``active`` (K, n): those inside the fit.
    """
    places, count, size = len(params), len(edges.slot), len(hold.free)
    gain, tilt, variance = np.zeros((places, count)), np.empty((places, count)), np.empty((places, count))
    towards, moved = np.empty(size), np.empty(params.shape[1])
    columns, sources, turn = np.empty(MOVES, np.intp), np.empty(MOVES, np.intp), np.empty(MOVES)
    degrees = 180.0 / np.pi
    for k in range(places):
        r, jac = edge_rows(edges, hold, params[k])
        points, by = vanish(params[k], edges.bearing, edges.offset, edges.slope)
        for i in range(count):
            m = edges.slot[i]
            mine = edge_columns(edges, hold, m, columns, sources)
            for f in range(size):
                towards[f] = 0.0
                for a in range(mine):
                    towards[f] += covariance[k, f, columns[a]] * jac[i, columns[a]]
            h = 0.0
            for a in range(mine):
                h += towards[columns[a]] * jac[i, columns[a]]
            room = max(1.0 - h, 1e-9)
            x, y = middle[i, 0], middle[i, 1]
            px, py, pw = points[m, 0], points[m, 1], points[m, 2]
            # how the tilt turns with the view, taken where the fit stands
            bx, by_ = px - x * pw, py - y * pw
            square = max(bx * bx + by_ * by_, 1e-300)
            spread, along = 0.0, 0.0
            for a in range(mine):
                c = sources[a]
                turn[a] = (
                    degrees * (by_ * (by[m, 0, c] - x * by[m, 2, c]) - bx * (by[m, 1, c] - y * by[m, 2, c])) / square
                )
                along += turn[a] * towards[columns[a]]
                for b in range(a):
                    spread += 2.0 * turn[a] * covariance[k, columns[a], columns[b]] * turn[b]
                spread += turn[a] * covariance[k, columns[a], columns[a]] * turn[a]
            if active[k, i]:
                spread += along * along / room
                gain[k, i] = min(r[i] * r[i] / room, MOST_GAIN)
                for p in range(len(moved)):
                    moved[p] = params[k, p]
                for f in range(size):
                    moved[hold.free[f]] += min(max(r[i] / room * towards[f], -LONGEST_STEP), LONGEST_STEP)
                east, north, up, _, _ = direction_of(moved, edges.bearing[m], edges.offset[m], edges.slope[m])
                px, py, pw = image_of(lens_of(moved), east, north, up)
            dx, dy = px - x * pw, py - y * pw
            reach = np.sqrt(max(dx * dx + dy * dy, 1e-300))
            tilt[k, i] = 90.0 - (90.0 - degrees * np.arctan2(-dy, dx)) % 180.0
            placing = degrees * edges.sd / np.sqrt(2.0) * abs(pw) / reach
            variance[k, i] = spread + placing * placing
    return gain, tilt, variance
