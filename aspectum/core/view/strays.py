"""Which sightings agree, and which one strays."""

from __future__ import annotations

import numpy as np

from aspectum.core.plane.lines import Floats, Ints
from aspectum.core.view.effort import VIEW_BY
from aspectum.core.view.evidence import Evidence
from aspectum.core.view.left_out import influence, studentised
from aspectum.core.view.perspective import View
from aspectum.core.view.robust import robust_views
from aspectum.core.view.solve import ENOUGH_ROUGH, Solution, settle
from aspectum.core.view.starts import wrong_side

MANY = 5  # families that disagree at once, from which their strays are dropped together
STRAY_AT = 3.5  # studentised residual beyond which an edge no longer helps to find eye level
READMIT_AT = 3.0  # standard deviations: a stray that fits this well after all is taken in again


def solve(evidence: Evidence, view: View) -> tuple[Solution, ...]:
    """Fits of ``view`` to the sightings that agree with each, the one that is left with the least strain once its
    strays are sifted out first; and from the same places to all sightings, should none be a stray.
    """
    robust = robust_views(evidence, view)
    sifted = sorted((sift(s) for s in robust), key=strain)
    everything = [
        s for s in robust if not any(f.active.all() and np.abs(f.params - s.params).max() < SAME for f in sifted)
    ]
    return (*sifted, *(settle(s, s.active, enough=ENOUGH_ROUGH) for s in everything))


SAME = 0.05  # parameters within which least squares from a robust fit has surely come to rest in its place


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
    share = (
        (effort.used + VIEW_BY * effort.allowance) / 2 / effort.allowance
    )  # half of what is left for finding the view
    count = solution.evidence.count
    most = max(1, count // 3)
    r = gross(solution)
    active = solution.active & (np.abs(r) < 8.0)
    if count - int(active.sum()) > most:
        active = solution.active.copy()
        active[np.argsort(-np.abs(r))[:most]] = False
    if count < 4:
        active = solution.active.copy()
    fitted = settle(solution, active, enough=ENOUGH_ROUGH)
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
        fitted = settle(fitted, trial, enough=ENOUGH_ROUGH)
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
