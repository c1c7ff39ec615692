"""Who may be wrong: every way of explaining the sightings that is worth considering, and what it is worth.

An explanation is a view with some sightings left out of it as strays. What is left out is not free:
it counts as a sighting that strays by some degrees, with some small chance, so that explanations with
different strays can be compared (a mixture of good and stray readings; Box & Tiao, Biometrika 55, 1968).
Each is worth its likelihood times the room that it leaves: exp(-cost/2) over the root of the determinant
of its normal matrix (Laplace's approximation).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.lines import Flags, Floats, Ints
from aspectum.core.view.camera import FIRST_BEARING
from aspectum.core.view.descent import Hold, LaidEdges, edge_rows
from aspectum.core.view.effort import STRAYS_BY
from aspectum.core.view.left_out import Influence, influence, left_out_gains, taken_in
from aspectum.core.view.sides import misnaming
from aspectum.core.view.solve import ENOUGH_ROUGH, Solution, refine_all
from aspectum.core.view.starts import MIRRORED, wrong_side

# chance that a sighting strays, and by about how much it then does: the prior that tells a stray from bad luck; with a
# chance of 5 or 12 % about as many strays are named (simulated)
STRAY_CHANCE, STRAY_DEG = 0.08, 8.0
RIM_CHANCE, RIM_SPREAD = 0.04, 5.0  # that a rim strays, and by about how many of its own deviations
STRAY_ODDS = 2.0 * np.log((1.0 - STRAY_CHANCE) / STRAY_CHANCE)  # twice the log odds, as costs are sums of squares
RIM_ODDS = 2.0 * np.log((1.0 - RIM_CHANCE) / RIM_CHANCE)  # likewise, of rims
TRIED_TO = 7.0  # twice the log of how much less likely than the best an explanation may promise to be and be tried
SWALLOWED = 0.8  # leverage beyond which an edge may have drawn the view to itself, so that no promise can be told
FELLOWS = 6  # that may be wrong instead of a stray, tried for each
PAIRED = 4  # of the likeliest single strays, left out two at a time
NEGLIGIBLE = 14.0  # twice the log of how much less likely than the best an explanation is no longer kept
MOST = 16  # explanations kept
SPARE, SPARE_FOR_RIMS = (
    2,
    5,
)  # readings beyond the unknowns without which a stray cannot be told; a rim takes two with it
SAME_PLACE, SAME_COST = 5e-3, 1e-2  # parameters, and cost, that two fits in one place differ by at most


@dataclass(frozen=True)
class Explanations:
    """E explanations, the likeliest first: parameters (E, P), the rims' own unknowns (E, R, 3), ``active``
    (E, n + R), ``chi2`` (E,) of the fit, ``price`` (E, n + R) of what it leaves out or has bow the wrong way,
    ``cost`` (E,) with that and with the price of the names it contradicts, ``log_det`` (E,), covariance (E, F, F).
    """

    params: Floats
    own: Floats
    active: Flags
    chi2: Floats
    price: Floats
    cost: Floats
    log_det: Floats
    covariance: Floats

    @property
    def worth(self) -> Floats:
        """Twice the log of what each is worth, up to a constant, (E,)."""
        return -(self.cost + self.log_det)

    @property
    def parts(self) -> tuple[Floats, Floats, Flags, Floats, Floats, Floats, Floats, Floats]:
        return self.params, self.own, self.active, self.chi2, self.price, self.cost, self.log_det, self.covariance

    def take(self, which: Ints) -> Explanations:
        return Explanations(*(part[which] for part in self.parts))  # type: ignore[arg-type]

    def joined(self, other: Explanations | None) -> Explanations:
        return (
            self
            if other is None
            else Explanations(*(np.concatenate(pair) for pair in zip(self.parts, other.parts, strict=True)))
        )

    def likeliest(self, most: int = MOST) -> Explanations:
        """Those that are worth something, each once, the best first."""
        worth = np.nan_to_num(self.worth, nan=-np.inf, posinf=-np.inf)
        order = np.argsort(-worth, kind="stable")
        order = order[worth[order] >= worth[order[0]] - NEGLIGIBLE]
        return self.take(first_of_each(order, self.params, self.cost, self.active, most))


@compiled
def first_of_each(order: Ints, params: Floats, cost: Floats, active: Flags, most: int) -> Ints:
    """Those of ``order``, at most ``most``, before which none leaves out the same and has come to rest in the same
    place.
    """
    kept = np.empty(min(most, len(order)), np.intp)
    count = 0
    for k in order:
        fresh = True
        for j in kept[:count]:
            same = abs(cost[j] - cost[k]) < SAME_COST
            for p in range(FIRST_BEARING):
                same = same and abs(params[j, p] - params[k, p]) < SAME_PLACE
            if same:
                for i in range(active.shape[1]):
                    same = same and active[j, i] == active[k, i]
            fresh = fresh and not same
        if fresh:
            kept[count] = k
            count += 1
            if count == len(kept):
                break
    return kept[:count]


def explain(views: tuple[Solution, ...]) -> Explanations:
    """Explanations about the likeliest of ``views``, fits that each count the sightings agreeing with it: with each
    sighting that may stray left out or taken back in, and the likeliest two at a time.
    """
    found = settled(views[0], [(view, view.active) for view in views]).likeliest()
    evidence = views[0].evidence
    base = as_solution(views[0], found, 0)
    if not can_spare(base):
        return found
    picture = influence(base)
    flips = promising(base, picture)
    found = found.joined(flipped(base, flips)).likeliest()
    likely = [
        i
        for i in (flip[0] for flip in flips if len(flip) == 1 and base.active[flip[0]])
        if not found.active[:, i].all()
    ][:PAIRED]
    pairs: list[tuple[int, ...]] = [(i, k) for n, i in enumerate(likely) for k in likely[:n]]
    if not evidence.effort.spent(STRAYS_BY):
        found = found.joined(flipped(base, pairs)).likeliest()
    return found


def can_spare(solution: Solution) -> bool:
    """Whether there are readings enough beyond the unknowns to tell a stray by."""
    return spare(solution) >= SPARE


def spare(solution: Solution) -> int:
    """Readings beyond the unknowns."""
    return solution.evidence.readings - len(solution.view.free)


def promising(base: Solution, picture: Influence) -> list[tuple[int, ...]]:
    """What to leave out of ``base`` or take back into it, alone or in the stead of another, the likeliest first, as
    far as the effort reaches; what it does not reach is left unexamined.
    """
    active, effort = base.active, base.evidence.effort
    gain, leverage = left_out_gains(picture, active)
    price = STRAY_ODDS + np.log1p(stray_spread(base) ** 2)
    tried = active & ((gain > price - TRIED_TO) | (leverage > SWALLOWED))
    if spare(base) < SPARE_FOR_RIMS:
        tried[len(base.evidence.edges) :] = False
    flips: list[tuple[int, ...]] = [(int(i),) for i in np.argsort(price - gain, kind="stable") if tried[i]]
    out = np.flatnonzero(~active)
    for k in out[np.argsort(gain[out], kind="stable")].tolist():
        if effort.used + STEPS_A_FLIP * len(flips) > STRAYS_BY * effort.allowance:
            effort.leave([base.evidence.ids[k]])
            continue
        # with a stray taken back in another may be the one that is wrong
        inside = taken_in(picture, active, k)
        fellows = np.argsort(-inside, kind="stable")[:FELLOWS]
        flips += [(k,), *((k, int(i)) for i in fellows if inside[i] > gain[k] - TRIED_TO and active[i])]
    return flips


STEPS_A_FLIP = 5  # looks that a fit beside a known one takes


def flipped(base: Solution, flips: list[tuple[int, ...]]) -> Explanations | None:
    """``base`` with each of ``flips`` left out or taken back in."""
    if not flips:
        return None
    actives = np.repeat(base.active[None], len(flips), axis=0)
    for row, flip in zip(actives, flips, strict=True):
        row[list(flip)] ^= True
    turns = turning(base)
    # to call every sighting of a form a stray explains nothing
    held = np.all((actives[:, None] & turns[None]).any(axis=2) | ~(base.active & turns).any(axis=1), axis=1)
    return settled(base, [(base, active) for active in actives[held]]) if held.any() else None


def turning(solution: Solution) -> Flags:
    """Which sightings turn with each form's bearing, (forms, n + R)."""
    evidence = solution.evidence
    bearing = np.where(evidence.slots.slope[evidence.slot] == -2, -1, evidence.slots.bearing[evidence.slot])
    if evidence.rims is not None:
        bearing = np.append(bearing, evidence.rims.bearing)
    return np.asarray(bearing[None] == FIRST_BEARING + np.arange(len(evidence.forms))[:, None])


def settled(any_of_them: Solution, fits: list[tuple[Solution, Flags]]) -> Explanations:
    """Least squares from each solution on the sightings beside it, with the price of what each leaves out."""
    evidence, view = any_of_them.evidence, any_of_them.view
    active = np.array([on for _, on in fits])
    rest = refine_all(
        evidence,
        view,
        np.array([s.params for s, _ in fits]),
        active,
        np.array([own_of(s) for s, _ in fits]),
        enough=ENOUGH_ROUGH,
    )
    price = STRAY_ODDS + edge_prices(
        evidence.laid_edges, view.hold, rest.params, rest.covariance, stray_spread(any_of_them)
    )
    if evidence.rims is not None:
        square, wide = np.zeros((len(active), len(evidence.rims))), 1.0 + RIM_SPREAD**2
        for b in np.flatnonzero(~active[:, len(evidence.edges) :].all(axis=1)):
            square[b] = np.maximum(evidence.rims.evaluate(rest.params[b], rest.own[b]).cost, 0.0)
        price = np.concatenate([price, RIM_ODDS + np.log(wide) + square / wide], axis=1)
    price = np.where(active, 0.0, price)
    if evidence.rims is not None:
        # a rim fits its mirror across eye level as well, but its near arc would then bow the wrong way
        price[:, len(evidence.edges) :] += MIRRORED * np.array([wrong_side(evidence, p) for p in rest.params])
    cost = rest.cost + price.sum(axis=1) + misnaming(rest.params, rest.covariance, view.free, *view.sides)
    return Explanations(rest.params, rest.own, active, rest.cost, price, cost, rest.log_det, rest.covariance)


@compiled
def edge_prices(edges: LaidEdges, hold: Hold, params: Floats, covariance: Floats, spread: Floats) -> Floats:
    """Twice the log of how much less likely each edge is under each fit, (B, n), as a stray of ``spread`` (n,) left out
    of it than as a good reading at its best, by how far it misses what the fit predicts.
    """
    fits, count, size = len(params), len(edges.slot), len(hold.free)
    price = np.empty((fits, count))
    for b in range(fits):
        r, jac = edge_rows(edges, hold, params[b])
        for i in range(count):
            wide = 1.0 + spread[i] * spread[i]
            for f in range(size):
                for g in range(size):
                    wide += jac[i, f] * covariance[b, f, g] * jac[i, g]
            price[b, i] = np.log(wide) + r[i] * r[i] / wide
    return price


def stray_spread(solution: Solution) -> Floats:
    """By how many point errors a sighting that strays misses, (n + R,): an edge by half its length times the turn
    at either end.
    """
    evidence = solution.evidence
    length = np.hypot(*(evidence.b - evidence.a).T)
    rims = evidence.count - len(evidence.edges)
    return np.append(length * np.radians(STRAY_DEG) / np.sqrt(2.0) / evidence.sd, np.full(rims, RIM_SPREAD))


def as_solution(like: Solution, found: Explanations, k: int) -> Solution:
    """Explanation ``k`` as the solution that it is."""
    return Solution(
        like.evidence,
        like.view,
        found.params[k],
        found.active[k],
        float(found.chi2[k]),
        True,
        None if like.own is None else found.own[k],
    )


def own_of(solution: Solution) -> Floats:
    """Where the own unknowns of its rims, if any, stand, (R, 3)."""
    return np.zeros((0, 3)) if solution.own is None else solution.own
