"""Edges of one family weighed against their fellows alone, where no view ties the families together: in a parallel
drawing, and looking straight up or down.
"""

from __future__ import annotations

import math
from abc import ABC, abstractmethod
from functools import cached_property

import numpy as np

from aspectum.core.findings import Finding
from aspectum.core.judge.edges import open_or_holding
from aspectum.core.judge.weigh import SURE
from aspectum.core.plane.algebra import inverse, inverse_pairs
from aspectum.core.plane.lines import Flags, Floats, lean_deg, tilt_deg, tilt_difference, tilt_sd_deg, wrap_tilt
from aspectum.core.reasons import EdgeReason, Rule
from aspectum.core.sightings import Edge, Family, Kind, SlotKey
from aspectum.core.tolerance import Tolerances, Verdict, beyond, verdict
from aspectum.core.view.explanations import STRAY_CHANCE, STRAY_DEG

FARTHEST = 3  # of the strays, of which one is called at a time
MEETING_STEPS = 8  # a point settles in three or four
FAINT = 1e-12  # 1/px²: what is known of a meeting that nothing is known of, against lines all but parallel


class LeaveOneOut(ABC):
    """The edges of one family, each weighed against the others. Of three or more the one without which the rest agree
    best is called first and left out; of two that disagree neither can be named.

    ``tilt``, ``sd``: tilt of each and its standard deviation (degrees, (n,)); ``kept``: those not called, (n,).
    """

    def __init__(self, edges: list[Edge], point_sd_px: float, tolerances: Tolerances, rule: Rule) -> None:
        self.edges, self.tolerances, self.rule = edges, tolerances, rule
        self.a, self.b = np.array([e.p for e in edges]).reshape(-1, 2), np.array([e.q for e in edges]).reshape(-1, 2)
        self.tilt = tilt_deg(self.a, self.b)
        self.length_px = np.hypot(*(self.b - self.a).T)
        self.sd = tilt_sd_deg(self.length_px, point_sd_px)
        self.kept = np.ones(len(edges), bool)

    @abstractmethod
    def implied(self, i: int, use: Flags) -> tuple[float, float] | None:
        """Tilt that edge ``i`` must have by those in ``use`` (n,), with its standard deviation (degrees); None where
        nothing implies it.
        """

    @abstractmethod
    def misfit(self, use: Flags) -> float:
        """Chi-square of the edges in ``use`` (n,) against what they share."""

    @abstractmethod
    def apart(self) -> tuple[Floats, Floats]:
        """How far (degrees, (n,)) each of the ``kept`` must turn to run with the others, and the standard deviation of
        that, as far as a look at all of them at once tells.
        """

    def sift(self) -> None:
        """Call strays until no three disagree. What lies farthest from the rest need not be the stray, which draws them
        along: of the farthest the one without which the rest agree best.
        """
        while int(self.kept.sum()) >= 3:
            turn, sd = self.apart()
            strays = np.flatnonzero(self.kept & self.called(turn, sd))
            if not strays.size:
                return
            farthest = strays[np.argsort(-np.abs(turn / sd)[strays], kind="stable")][:FARTHEST]
            self.kept[min(farthest.tolist(), key=lambda i: self.misfit(self.fellows(i)))] = False

    def fellows(self, i: int) -> Flags:
        """Flags (n,) of the edges that edge ``i`` is weighed against."""
        return np.asarray(self.kept & (np.arange(len(self.edges)) != i), bool)

    def called(self, turn: Floats, sd: Floats) -> Flags:
        """Whether edges that must turn by ``turn`` with deviation ``sd``, (n,) each, stray beyond tolerance and beyond
        doubt.
        """
        return np.asarray(beyond(turn, sd, self.tolerances.tilt_deg) & (strayed(turn, sd) > SURE), bool)

    @cached_property
    def dues(self) -> list[tuple[float, float] | None]:
        """What each must be by its fellows, once strays are called."""
        return [self.implied(i, self.fellows(i)) for i in range(len(self.edges))]

    @cached_property
    def disagree(self) -> Flags:
        """Edges (n,) that stray from their fellows, the called ones among them."""
        due = np.array([(math.nan, math.nan) if known is None else known for known in self.dues]).reshape(-1, 2)
        return self.called(tilt_difference(due[:, 0], self.tilt), np.hypot(due[:, 1], self.sd))

    def findings(self, places: dict[SlotKey, int]) -> dict[str, Finding]:
        """By sighting; ``places``: of the vanishing points in the result."""
        return {edge.id: self.finding(i, places.get(edge.slot)) for i, edge in enumerate(self.edges)}

    def finding(self, i: int, place: int | None) -> Finding:
        edge, tilt, sd, due = self.edges[i], float(self.tilt[i]), float(self.sd[i]), self.dues[i]
        if due is None:
            return Finding(
                edge.id,
                Kind.EDGE,
                edge.judged_tilt_deg,
                tilt,
                sd,
                None,
                None,
                Verdict.UNSURE,
                EdgeReason(Rule.NOTHING_TO_CHECK),
                None,
                place,
            )
        turn = float(tilt_difference(due[0], tilt))
        others: tuple[str, ...] = ()
        far_end = None
        if self.disagree[i]:
            # the strays among three or more were called and left out: what still disagrees is one of two
            pair = self.kept[i] and (self.disagree & self.fellows(i)).any()
            found, rule = (Verdict.UNSURE, Rule.ONE_OF_A_PAIR) if pair else (Verdict.OFF, self.rule)
            others = tuple(e.id for e, on in zip(self.edges, self.fellows(i), strict=True) if on)
            far_end = float(self.length_px[i]) * math.sin(math.radians(turn))
        else:
            found, rule = open_or_holding(verdict(turn, math.hypot(sd, due[1]), self.tolerances.tilt_deg), sd, due[1])
        lean = float(lean_deg(tilt)) if edge.family is Family.UPRIGHT else None
        reason = EdgeReason(rule, turn, far_end, lean_deg=lean, others=others)
        return Finding(edge.id, Kind.EDGE, edge.judged_tilt_deg, tilt, sd, *due, found, reason, None, place)


def strayed(turn_deg: Floats, sd_deg: Floats) -> Floats:
    """How likely edges that must turn by ``turn_deg`` ± ``sd_deg`` (n,) have strayed rather than met with bad luck,
    priced as a sheet's strays are.
    """
    wide = np.hypot(sd_deg, STRAY_DEG)
    log = np.log((1.0 - STRAY_CHANCE) / STRAY_CHANCE * wide / sd_deg) - 0.5 * turn_deg**2 * (sd_deg**-2 - wide**-2)
    return np.asarray(1.0 / (1.0 + np.exp(np.minimum(log, 700.0))), float)


class ParallelFamily(LeaveOneOut):
    """Edges that share one tilt. ``turned_deg``: how far each must be turned to stand for the same direction, as the
    edges square to the others by 90; ``loose_deg``: what else than the reading error parts each from its fellows, (n,).
    """

    def __init__(
        self,
        edges: list[Edge],
        point_sd_px: float,
        tolerances: Tolerances,
        rule: Rule,
        turned_deg: Floats | None = None,
        loose_deg: Floats | None = None,
    ) -> None:
        super().__init__(edges, point_sd_px, tolerances, rule)
        self.turned = np.zeros(len(edges)) if turned_deg is None else turned_deg
        self.loose = np.zeros(len(edges)) if loose_deg is None else loose_deg
        self.sift()

    def mean(self, use: Flags) -> tuple[float, float]:
        """Weighted mean tilt of the edges in ``use`` (n,), each turned, and its standard deviation (degrees)."""
        weight = 1.0 / (self.sd[use] ** 2 + self.loose[use] ** 2)
        turned = self.tilt[use] + self.turned[use]
        tilt = turned[0] + float(weight @ tilt_difference(turned, turned[0])) / float(weight.sum())
        return float(wrap_tilt(tilt)), float(weight.sum()) ** -0.5

    def apart(self) -> tuple[Floats, Floats]:
        weight = np.where(self.kept, 1.0 / (self.sd**2 + self.loose**2), 0.0)
        turned = self.tilt + self.turned
        base = turned[self.kept][0]
        away = tilt_difference(turned, base)
        others = np.maximum(weight.sum() - weight, 1e-300)
        due = base + (float(weight @ away) - weight * away) / others
        return tilt_difference(due, turned), np.sqrt(1.0 / others + self.loose**2 + self.sd**2)

    def misfit(self, use: Flags) -> float:
        mean, _ = self.mean(use)
        away = tilt_difference(self.tilt[use] + self.turned[use], mean)
        return float(np.sum(away**2 / (self.sd[use] ** 2 + self.loose[use] ** 2)))

    def implied(self, i: int, use: Flags) -> tuple[float, float] | None:
        if not use.any():
            return None
        tilt, sd = self.mean(use)
        return float(wrap_tilt(tilt - self.turned[i])), math.hypot(sd, float(self.loose[i]))


class MeetingFamily(LeaveOneOut):
    """Edges that run to one point of the picture. ``home``, ``home_sd_px``: where it lies, as far as that is known
    beforehand.
    """

    def __init__(
        self,
        edges: list[Edge],
        point_sd_px: float,
        tolerances: Tolerances,
        rule: Rule,
        home: tuple[float, float] = (0.0, 0.0),
        home_sd_px: float | None = None,
    ) -> None:
        super().__init__(edges, point_sd_px, tolerances, rule)
        self.point_sd_px, self.home = point_sd_px, np.array(home)
        self.known = None if home_sd_px is None else home_sd_px**-2
        self.middle = (self.a + self.b) / 2
        along = (self.b - self.a) / np.maximum(self.length_px, 1e-9)[:, None]
        self.normal = along @ np.array([[0.0, 1.0], [-1.0, 0.0]])
        self.sift()

    def meet(self, use: Flags, alone: bool = False) -> tuple[Floats, Floats] | None:
        """Where the edges in ``use`` (n,) come closest to meeting, (2,), with its covariance (2, 2) in px; ``alone``:
        by themselves. None where nothing says. By least squares of each line's distance from the point in units of the
        line's own error there, which grows with how far the edge must be drawn on.
        """
        known = FAINT if self.known is None or alone else self.known
        if known == FAINT and int(use.sum()) < 2:
            return None
        middle, normal = self.middle[use], self.normal[use]
        offset = np.einsum("ij,ij->i", normal, middle)
        at, spread = self.home, np.eye(2) / known
        away = self.length_px[use] if known == FAINT else np.hypot(*(at - middle).T)
        for _ in range(MEETING_STEPS):
            sd = self.error(use, away)
            rows = normal / sd[:, None]
            spread = inverse(rows.T @ rows + known * np.eye(2))
            at = spread @ (rows.T @ (offset / sd) + known * self.home)
            away = np.hypot(*(at - middle).T)
        return at, spread

    def apart(self) -> tuple[Floats, Floats]:
        """Each is left out of the equations as they stand for all."""
        met = self.meet(self.kept)
        assert met is not None  # three are kept
        away = np.hypot(*(met[0] - self.middle).T)
        rows = np.where(
            self.kept[:, None], self.normal / self.error(np.ones(len(self.edges), bool), away)[:, None], 0.0
        )
        whole = rows.T @ rows + (FAINT if self.known is None else self.known) * np.eye(2)
        spread = inverse_pairs(whole - rows[:, :, None] * rows[:, None])
        miss = np.einsum("ij,ij->i", rows, self.middle - met[0])
        at = met[0] - np.einsum("nij,nj->ni", spread, rows * miss[:, None])
        way = at - self.middle
        reach = np.maximum(np.hypot(*way.T), 1e-9)
        across = np.stack([-way[:, 1], way[:, 0]], axis=1) / reach[:, None]
        loose = np.degrees(
            np.arctan(np.sqrt(np.maximum(np.einsum("ni,nij,nj->n", across, spread, across), 0.0)) / reach)
        )
        return tilt_difference(tilt_deg(self.middle, at), self.tilt), np.hypot(loose, self.sd)

    def misfit(self, use: Flags) -> float:
        found = self.meet(use)
        if found is None:
            return 0.0
        away = np.hypot(*(found[0] - self.middle[use]).T)
        miss = np.einsum("ij,ij->i", self.normal[use], found[0] - self.middle[use])
        known = 0.0 if self.known is None else self.known
        return float(np.sum((miss / self.error(use, away)) ** 2) + known * np.sum((found[0] - self.home) ** 2))

    def error(self, use: Flags, away: Floats) -> Floats:
        """Standard deviation (px) of the lines of the edges in ``use`` (n,), ``away`` px from their middles."""
        return np.asarray(self.point_sd_px / math.sqrt(2.0) * np.hypot(1.0, away / (self.length_px[use] / 2)), float)

    def implied(self, i: int, use: Flags) -> tuple[float, float] | None:
        found = self.meet(use)
        if found is None:
            return None
        at, spread = found
        way = at - self.middle[i]
        away = max(float(np.hypot(*way)), 1e-9)
        across = np.array([-way[1], way[0]]) / away
        sd = math.degrees(math.atan(math.sqrt(float(across @ spread @ across)) / away))
        return float(tilt_deg(self.middle[i], at)), sd
