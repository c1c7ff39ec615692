"""The few causes behind a drawing's many errors (handbook section 6).

Every candidate moves a closed drawing (``closed``) or one number alone; all numbers are fitted together, each weighed
by the hand's error for a line of that length, the drawing's scale free. A cause must lower the chi-square by more than
it costs: the Bayesian information criterion (Schwarz, Annals of Statistics 6, 1978) with, since there are many to
choose from, twice the log of how many of its kind were tried (the extended criterion of Chen & Chen, Biometrika 95,
2008). Sets are built from single causes and from pairs, refitted together and improved by adding, dropping and
exchanging, because one cause can look like another until a third is out of the way.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from aspectum.core.drawing.candidates import Candidate, CauseKind, candidates
from aspectum.core.drawing.closed import Closed, Knob
from aspectum.core.drawing.readings import Readings, What
from aspectum.core.plane.lines import Flags, Floats
from aspectum.core.sightings import Family

MOST_FITTED = 4  # causes at once; beyond that a drawing is to be begun anew
MOST_TOLD = 3  # a fourth is more than anybody mends at one sitting; common practice
KEEP = 1.0  # dearer than the criterion asks, so that a drawing with wobble alone is left in peace: by simulation
# and of lines alone, of which each must stand out from all others by chance as good as never, however few they are
STRAY = 4.8
PARTIAL = 1.5  # dearer still: one form's stretch, where the whole's or its size says the same
STARTS = 12  # sets that are fitted in full
STEPS = 4  # of Gauss and Newton: what the knobs do to a drawing is nearly linear
ROUNDS = 4  # of telling how rough the hand is
STEP = 1e-4  # of a knob, for derivatives
FARTHEST = 3.0  # a knob's largest turn: beyond it the drawing is another drawing
CONCERNED = 0.5  # of its largest effect, from which a cause concerns a sighting
CLOSE_CALL = 4.0  # of the criterion: an explanation no worse than that cannot be told from the best
TELLING = 0.5  # deviations by which two explanations must differ in a number for it to be worth measuring
LOOSEST = 0.5  # near uprights: an eye level or a vanishing point known no better is no reading
ROUGHEST = 3.0  # times the hand's error, at most, that a drawing is taken to be drawn with


@dataclass(frozen=True)
class Cause:
    """A cause that was found. ``value``: in its knob's units, or degrees or the log of a length; ``sd``: its standard
    deviation; ``explains``: its share of the weighted squared differences; ``concerns``: numbers that it moves, the
    most moved first; ``effect`` (N,): what it does to every number.
    """

    of: Candidate
    value: float
    sd: float
    explains: float
    concerns: tuple[int, ...]
    effect: Floats


@dataclass(frozen=True)
class Explained:
    """The causes that are told, most explanatory first; ``counted``: all that was fitted, told or not; ``fitted``: what
    those are of, with ``values``, and the log of the drawing's ``scale`` (mm a pixel); ``rough``: times the hand's
    error that the drawing is drawn with; ``levels``: where eye level and every vanishing point stand, beside the
    causes; ``left`` (N,): what remains, weighed.
    """

    causes: list[Cause]
    counted: list[Cause]
    fitted: list[Candidate]
    values: Floats
    scale: float
    rough: float
    rivals: list[Rival]
    levels: list[Level]
    left: Floats


@dataclass(frozen=True)
class Level:
    """Where eye level (``family`` None), or a vanishing point, stands in a drawing against the subject, in its knob's
    unit.
    """

    form: str | None
    family: Family | None
    value: float
    sd: float


@dataclass(frozen=True)
class Rival:
    """What would explain a drawing about as well in place of the told cause at ``place``; ``tell_by``: the number that
    the two put farthest apart.
    """

    place: int
    of: Candidate
    value: float
    tell_by: int | None


class Fit:
    """A drawing's numbers against every candidate."""

    def __init__(self, closed: Closed, readings: Readings) -> None:
        self.closed, self.readings = closed, readings
        self.every = candidates(closed, readings)
        self.long = readings.long
        strays = sum(c.kind is CauseKind.STRAY for c in self.every)
        whole = len(self.every) - strays
        base = math.log(max(int((~readings.given).sum()), 2))
        self.cost = np.array([self._cost(c, base, whole, strays) for c in self.every])
        self.still = readings.beyond(closed.draw([], np.zeros(0)))
        self.seen: dict[tuple[tuple[Knob, ...], tuple[float, ...]], Floats] = {}

    @staticmethod
    def _cost(of: Candidate, base: float, whole: int, strays: int) -> float:
        """What a candidate must lower the chi-square by."""
        if of.kind is CauseKind.STRAY:
            return STRAY + 2.0 * math.log(strays)
        partial = PARTIAL if of.kind is CauseKind.STRETCH and of.form is not None else 0.0
        return base + KEEP + partial + 2.0 * math.log(max(whole, 1))

    def effect(self, chosen: list[int], values: Floats) -> Floats:
        """Difference (N,) of the drawing from what it would be with ``chosen`` wrong by ``values``, its scale not yet
        taken out.
        """
        knobs = [(self.every[k].knob, v) for k, v in zip(chosen, values, strict=True)]
        turned = [(knob, v) for knob, v in knobs if knob is not None]
        left = self.turned([k for k, _ in turned], [float(v) for _, v in turned]).copy()
        for k, v in zip(chosen, values, strict=True):
            left[list(self.every[k].on)] -= v
            for m, share in self.every[k].beside:
                left[m] -= share * v
        return left

    def turned(self, knobs: list[Knob], values: list[float]) -> Floats:
        """The drawing against the subject drawn with ``knobs`` turned; what is printed turns with none. Asked for again
        and again with one of them stepped: kept.
        """
        if not knobs:
            return self.still
        key = tuple(knobs), tuple(values)
        if key not in self.seen:
            self.seen[key] = np.where(
                self.readings.given, self.still, self.readings.beyond(self.closed.draw(knobs, np.array(values)))
            )
        return self.seen[key]

    def slopes(self, chosen: list[int], values: Floats, of: list[int]) -> Floats:
        """Derivatives (N, K) of the expected numbers by the candidates ``of``, at ``values`` of ``chosen``."""
        columns = np.zeros((len(self.still), len(of)))
        here: Floats | None = None
        for n, k in enumerate(of):
            if self.every[k].knob is None:
                columns[list(self.every[k].on), n] = 1.0
                for m, share in self.every[k].beside:
                    columns[m, n] = share
                continue
            if here is None:
                here = self.effect(chosen, values)
            if k in chosen:
                moved = values.copy()
                moved[chosen.index(k)] += STEP
                there = self.effect(chosen, moved)
            else:
                there = self.effect([*chosen, k], np.append(values, STEP))
            columns[:, n] = -(there - here) / STEP
        return columns

    def weighed(self, left: Floats) -> Floats:
        return left / self.readings.sd

    def scale_of(self, left: Floats) -> float:
        """Log of the drawing's scale (mm a pixel) that the lengths agree on."""
        weight = self.long / self.readings.sd**2
        return float((weight * left).sum() / weight.sum()) if weight.any() else 0.0

    def scattered(self, chosen: list[int]) -> Flags:
        """Numbers (N,) that say how the hand scatters: all but what is printed, where lines meet, and what a chosen
        stray takes up whole.
        """
        scattered = np.array(
            [reading.what is not What.SHIFT and not reading.given for reading in self.readings.of], bool
        )
        for k in chosen:
            if self.every[k].knob is None:
                scattered[list(self.every[k].on)] = False
        return scattered

    def on_unit(self, without: list[int], some: Floats, chosen: list[int], values: Floats) -> float:
        """What the near upright grows by, as a log: lengths are compared with it."""
        unit = self.closed.unit
        if unit is None or any(reading.given and {reading.p, reading.q} == set(unit) for reading in self.readings.of):
            return 0.0

        def long(of: list[int], at: Floats) -> float:
            knobs = [(self.every[k].knob, v) for k, v in zip(of, at, strict=True)]
            p, q = self.closed.draw(
                [k for k, _ in knobs if k is not None], np.array([v for k, v in knobs if k is not None])
            ).points[list(unit)]
            return math.log(max(math.dist(p, q), 1e-9))

        return long(chosen, values) - long(without, some)

    def left(self, chosen: list[int], values: Floats) -> Floats:
        """Weighed differences (N,) that remain, the scale taken out."""
        left = self.effect(chosen, values)
        return self.weighed(left - self.scale_of(left) * self.long)

    def solve(self, chosen: list[int], start: Floats | None = None) -> tuple[float, Floats]:
        """Least chi-square of a set of candidates, and their values (Gauss-Newton)."""
        values = np.zeros(len(chosen)) if start is None else start.copy()
        if not chosen:
            left = self.left([], values)
            return float(left @ left), values
        left = self.left(chosen, values)
        best = float(left @ left)
        for _ in range(STEPS):
            by = self.centred(self.slopes(chosen, values, chosen))
            step = np.linalg.lstsq(by, left, rcond=None)[0]
            for share in (1.0, 0.4, 0.15):
                moved = self.bounded(chosen, values + share * step)
                tried = self.left(chosen, moved)
                cost = float(tried @ tried)
                if cost < best:
                    break
            else:
                break
            gain, values, left, best = best - cost, moved, tried, cost
            if gain < 0.02:
                break
        return best, values

    def bounded(self, chosen: list[int], values: Floats) -> Floats:
        limit = np.array([math.inf if self.every[k].knob is None else FARTHEST for k in chosen])
        return np.clip(values, -limit, limit)

    def centred(self, by: Floats) -> Floats:
        """Weighed derivatives with what the free scale takes of them taken out."""
        weight = self.long / self.readings.sd**2
        if weight.any():
            by = by - self.long[:, None] * ((weight[:, None] * by).sum(axis=0) / weight.sum())
        return np.asarray(by / self.readings.sd[:, None], float)

    def price(self, chosen: list[int]) -> float:
        return float(self.cost[chosen].sum())

    def allowed(self, chosen: tuple[int, ...]) -> bool:
        """Whether a set names nothing twice."""
        return len({self.every[k].clashes for k in chosen}) == len(chosen)

    def best(self) -> tuple[list[int], Floats, float, list[tuple[float, tuple[int, ...]]]]:
        """The best set, its values and chi-square, and every set that was fitted with its criterion."""
        left = self.left([], np.zeros(0))
        by = self.centred(self.slopes([], np.zeros(0), list(range(len(self.every)))))
        tried: dict[tuple[int, ...], tuple[float, Floats]] = {(): self.solve([])}

        def score(chosen: tuple[int, ...]) -> float:
            if chosen not in tried:
                tried[chosen] = self.solve(list(chosen))
            return tried[chosen][0] + self.price(list(chosen))

        for promising in self.promising(by, left)[:STARTS]:
            score(promising)
        best = min(tried, key=score)
        while True:
            options = sorted(self.neighbours(best, tried[best][1]), key=lambda o: o[0])[:STARTS]
            new = min((o[1] for o in options), key=score, default=best)
            if score(new) >= score(best) - 1e-6:
                break
            best = new
        ranked = sorted((score(chosen), chosen) for chosen in tried)
        return list(best), tried[best][1], tried[best][0], ranked

    def promising(self, by: Floats, left: Floats) -> list[tuple[int, ...]]:
        """Sets of one to three candidates by what they promise at first order, the best first."""
        gram, slope = by.T @ by, by.T @ left
        count = len(slope)
        sets: list[tuple[float, tuple[int, ...]]] = []
        size = np.diag(gram)
        usable = np.flatnonzero(size > 1e-8)
        single = np.zeros(count)
        single[usable] = slope[usable] ** 2 / size[usable]
        sets += [(float(single[k] - self.cost[k]), (int(k),)) for k in usable]
        a, b = (
            (np.array(part, np.intp) for part in zip(*combinations(usable.tolist(), 2), strict=True))
            if len(usable) > 1
            else (np.zeros(0, np.intp),) * 2
        )
        det = size[a] * size[b] - gram[a, b] ** 2
        clear = det > 1e-3 * size[a] * size[b]
        a, b, det = a[clear], b[clear], det[clear]
        gain = (
            (slope[a] ** 2 * size[b] + slope[b] ** 2 * size[a] - 2.0 * slope[a] * slope[b] * gram[a, b]) / det
            - self.cost[a]
            - self.cost[b]
        )
        order = np.argsort(-gain)[: 4 * STARTS]
        sets += [(float(gain[n]), (int(a[n]), int(b[n]))) for n in order]
        sets.sort(key=lambda s: -s[0])
        return [chosen for _, chosen in sets if self.allowed(chosen)]

    def neighbours(self, chosen: tuple[int, ...], values: Floats) -> list[tuple[float, tuple[int, ...]]]:
        """Sets with one candidate more, less or other, with the criterion that they promise at first order."""
        now = list(chosen)
        left = self.left(now, values)
        by = self.centred(self.slopes(now, values, list(range(len(self.every)))))
        # the numbers as if the candidates at hand were not yet taken out
        back = left + by[:, now] @ values if now else left
        options: list[tuple[float, tuple[int, ...]]] = []
        for kept in [*combinations(now, len(now) - 1), chosen] if now else [chosen]:
            base = by[:, list(kept)]
            rest, onto = back, by
            if kept:
                q, _ = np.linalg.qr(base)
                rest, onto = back - q @ (q.T @ back), by - q @ (q.T @ by)
            size = (onto**2).sum(axis=0)
            clear = size > 1e-3 * (by**2).sum(axis=0)
            gain = np.where(clear & (size > 1e-8), (onto.T @ rest) ** 2 / np.maximum(size, 1e-12), 0.0)
            price = self.price(list(kept))
            if kept != chosen:
                options.append((float(rest @ rest) + price, kept))
            if len(kept) < MOST_FITTED:
                for k in np.argsort(self.cost - gain)[:STARTS].tolist():
                    wider = tuple(sorted((*kept, k)))
                    if k not in kept and self.allowed(wider):
                        options.append((float(rest @ rest - gain[k]) + price + float(self.cost[k]), wider))
        return options


def explain(closed: Closed, readings: Readings) -> Explained:
    """Find the causes behind a drawing's differences from its subject."""
    if not readings.of:
        return Explained([], [], [], np.zeros(0), 0.0, 1.0, [], [], np.zeros(0))
    fit = Fit(closed, readings)
    chosen, values, chi2, ranked = fit.best()
    cost, rough = fit.cost, 1.0
    for _ in range(ROUNDS):
        rougher = roughness(
            fit.left(chosen, values)[fit.scattered(chosen)], sum(fit.every[k].knob is not None for k in chosen)
        )
        if rougher <= rough * 1.02:
            break
        # a rougher hand than was taken for: the same search, with every cause dearer
        rough, fit.cost = rougher, cost * rougher**2
        chosen, values, chi2, ranked = fit.best()
    unexplained, _ = fit.solve([])
    counted: list[Cause] = []
    spread = covariance(fit, chosen, values)
    for n, k in enumerate(chosen):
        without = [c for c in chosen if c != k]
        dropped, _ = fit.solve(without, np.delete(values, n))
        effect = fit.effect(without, np.delete(values, n)) - fit.effect(chosen, values)
        effect = effect - fit.on_unit(without, np.delete(values, n), chosen, values) * fit.long
        share = np.abs(effect) / readings.allowed
        concerns = np.argsort(-share)[: int((share >= CONCERNED * share.max(initial=0.0)).sum())]
        sd, explains = math.sqrt(max(spread[n, n], 0.0)), (dropped - chi2) / max(unexplained, 1e-9)
        counted.append(Cause(fit.every[k], float(values[n]), sd, explains, tuple(concerns.tolist()), effect))
    counted.sort(key=lambda cause: -cause.explains)
    # what turns its lines by less than the tolerance is nothing to act on
    told = [
        cause for cause in counted if np.median(np.abs(cause.effect / readings.allowed)[list(cause.concerns)]) > 1.0
    ]
    left = fit.effect(chosen, values)
    return Explained(
        told[:MOST_TOLD],
        counted,
        [fit.every[k] for k in chosen],
        values,
        fit.scale_of(left),
        rough,
        rivals(fit, chosen, values, ranked, told[:MOST_TOLD]),
        levels_of(fit, chosen, values),
        fit.left(chosen, values),
    )


def levels_of(fit: Fit, chosen: list[int], values: Floats) -> list[Level]:
    """Eye level and all vanishing points, each fitted beside the causes at first order."""
    found = []
    left = fit.left(chosen, values)
    for k, candidate in enumerate(fit.every):
        if candidate.kind is not CauseKind.EYE_LEVEL and not (
            candidate.kind is CauseKind.VANISHING_POINT and candidate.form is not None
        ):
            continue
        together = chosen if k in chosen else [*chosen, k]
        start = values if k in chosen else np.append(values, 0.0)
        by = fit.centred(fit.slopes(together, start, together))
        spread = np.linalg.pinv(by.T @ by)
        step = spread @ (by.T @ left)
        n = together.index(k)
        sd = math.sqrt(max(float(spread[n, n]), 0.0))
        if 0.0 < sd < LOOSEST:
            found.append(Level(candidate.form, candidate.family, float(start[n] + step[n]), sd))
    return found


def covariance(fit: Fit, chosen: list[int], values: Floats) -> Floats:
    by = fit.centred(fit.slopes(chosen, values, chosen))
    return np.asarray(np.linalg.pinv(by.T @ by), float)


def roughness(left: Floats, causes: int) -> float:
    """Times the hand's own error that the middle half of the differences show (1 to ``ROUGHEST``): strays
    do not count.
    """
    spread = float(np.median(np.abs(left))) / 0.6745 * math.sqrt(len(left) / max(len(left) - causes - 1, 1))
    # a few numbers scatter by chance: only what they cannot scatter to is a rough hand
    slack = 1.0 + 1.8 / math.sqrt(max(len(left), 1))
    return float(np.clip(spread / slack, 1.0, ROUGHEST))


def rivals(
    fit: Fit, chosen: list[int], values: Floats, ranked: list[tuple[float, tuple[int, ...]]], told: list[Cause]
) -> list[Rival]:
    """What could stand in a told cause's stead: sets as good as the best that differ in one cause."""
    best = min((score for score, of in ranked if of == tuple(chosen)), default=0.0)
    left = fit.left(chosen, values)
    found: dict[int, Rival] = {}
    for score, other in ranked:
        out, into = set(chosen) - set(other), set(other) - set(chosen)
        if score - best > CLOSE_CALL or len(out) != 1 or len(into) != 1:
            continue
        mine, k = fit.every[out.pop()], into.pop()
        place = next((n for n, cause in enumerate(told) if cause.of == mine), None)
        if place is not None and place not in found:
            _, there = fit.solve(list(other))
            apart = np.abs(fit.left(list(other), there) - left)
            found[place] = Rival(
                place,
                fit.every[k],
                float(there[other.index(k)]),
                int(np.argmax(apart)) if apart.max(initial=0.0) > TELLING else None,
            )
    return list(found.values())
