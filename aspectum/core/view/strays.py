"""Which sightings agree, and which one strays."""

from __future__ import annotations

import numpy as np

from aspectum.core.plane.lines import Floats, Ints
from aspectum.core.view.effort import STRAYS_BY, VIEW_BY
from aspectum.core.view.evidence import Evidence
from aspectum.core.view.left_out import Influence, influence, studentised
from aspectum.core.view.perspective import View
from aspectum.core.view.robust import robust_views
from aspectum.core.view.solve import Solution, settle
from aspectum.core.view.starts import wrong_side

MANY = 5  # families that disagree at once, from which their strays are dropped together
STRAY_AT = 3.5  # studentised residual beyond which an edge no longer helps to find eye level
READMIT_AT = 3.0
ODDS_MARGIN = 2.0  # difference in chi-square under which two explanations are told apart no more


def solve(evidence: Evidence, view: View) -> Solution:
    """Fit ``view`` to the edges that agree: of several robust fits, the one that is left with the
    least strain once its strays are sifted out."""
    robust = robust_views(evidence, view)
    distinct = [s for i, s in enumerate(robust) if not any(np.allclose(s.params, o.params, atol=1e-3) for o in robust[:i])]
    return min((sift(s) for s in distinct), key=strain)


def strain(solution: Solution) -> float:
    """Chi-square with every stray, and every rim whose near arc bows the wrong way, counted at the
    threshold that makes a stray: a rim alone fits its mirror across eye level as well.
    """
    bank = solution.evidence.rims
    wrong = 0 if bank is None else int(wrong_side(solution.evidence, solution.params).sum())
    return solution.chi2 + STRAY_AT**2 * (int((~solution.active).sum()) + wrong)


def sift(solution: Solution) -> Solution:
    """Least squares on the sightings that agree, dropping strays and taking them back in where they
    turn out to agree after all: one at a time, but where many families disagree at once the worst
    of each. At most a third of the sightings are dropped. Ends early where its share of the effort
    is used up; what still strays then is left to the verdicts.
    """
    effort = solution.evidence.effort
    share = (effort.used + VIEW_BY * effort.allowance) / 2 / effort.allowance  # half of what is left for finding the view
    count = solution.evidence.count
    most = max(1, count // 3)
    r = gross(solution)
    active = solution.active & (np.abs(r) < 8.0)
    if count - int(active.sum()) > most:
        active = solution.active.copy()
        active[np.argsort(-np.abs(r))[:most]] = False
    if count < 4:
        active = solution.active.copy()
    fitted = settle(solution, active, rough=True)
    tried = {active.tobytes()}
    for _ in range(2 * most + 2):
        if effort.spent(share):
            break
        t = np.abs(studentised(influence(fitted), fitted.active))
        inside = np.where(fitted.active, t, 0.0)
        outside = np.where(fitted.active | ~solution.active, np.inf, t)
        trial = fitted.active.copy()
        if outside.min() < READMIT_AT:
            trial[int(np.argmin(outside))] = True
        elif inside.max() > STRAY_AT and int((~fitted.active).sum()) < most and count >= 4:
            worst = worst_of_each(fitted.evidence, inside)[: most - int((~fitted.active).sum())]
            trial[worst if len(worst) >= MANY else int(np.argmax(inside))] = False
        else:
            break
        if trial.tobytes() in tried:
            break
        tried.add(trial.tobytes())
        fitted = settle(fitted, trial, rough=True)
    return settle(fitted, fitted.active)


def worst_of_each(evidence: Evidence, t: Floats) -> Ints:
    """The worst stray of every family of edges, and every rim, that disagrees at least half as much
    as the worst of all; the worst first. ``t``: (n + R,) studentised disagreements.
    """
    group = np.concatenate([evidence.slot, len(evidence.slot_keys) + np.arange(evidence.count - len(evidence.edges))])
    order = np.argsort(-t, kind="stable")
    _, first = np.unique(group[order], return_index=True)
    leaders = order[np.sort(first)]
    return np.asarray(leaders[t[leaders] > max(STRAY_AT, 0.5 * float(t.max()))], np.intp)


def gross(solution: Solution) -> Floats:
    """Residual of every sighting, (n + R,), as far as its own points say."""
    r, _ = solution.linear
    step = solution.rim_step
    return r if step is None else np.append(r, np.sqrt(np.maximum(step.cost, 0.0)))


class Trials:
    """Solutions tried with one sighting back in and another left out, each settled once."""

    def __init__(self) -> None:
        self.known: dict[bytes, Solution] = {}

    def swapped(self, solution: Solution, stray: int, instead: int) -> Solution:
        """``solution`` with ``stray`` back in and ``instead`` left out."""
        active = solution.active.copy()
        active[stray], active[instead] = True, False
        key = active.tobytes()
        if key not in self.known:
            self.known[key] = settle(solution, active, rough=True)
        return self.known[key]


def rivals(solution: Solution, stray: int, trials: Trials, picture: Influence | None = None) -> list[int] | None:
    """Edges that, dropped instead of ``stray``, would leave the rest agreeing almost as well; None
    where the effort does not reach to tell. ``picture``: the solution's influence, where it is known.
    """
    picture = picture or influence(solution)
    count = len(solution.evidence.edges)
    active = solution.active[:count]
    j = picture.jac[stray]
    cj = picture.covariance @ j
    room = 1.0 + picture.h[stray]
    gain = picture.r[stray] ** 2 / room
    shift = picture.jac @ cj / room
    r = picture.r - shift * picture.r[stray]
    h = picture.h - (picture.jac @ cj) ** 2 / room
    gains = np.where(active & (1.0 - h > 1e-9), r * r / np.maximum(1.0 - h, 1e-9), 0.0)
    gains[stray] = 0.0
    likely = [int(k) for k in np.argsort(-gains)[:3] if gains[k] > 0.6 * gain]
    close = []
    for k in likely:
        if solution.evidence.effort.spent(STRAYS_BY):
            return None
        if trials.swapped(solution, stray, k).chi2 - solution.chi2 < ODDS_MARGIN:
            close.append(k)
    return close
