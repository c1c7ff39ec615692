"""Which sightings agree, which one strays, and what each must be with itself left out."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.lines import Floats, tilt_deg, tilt_difference, tilt_sd_deg
from aspectum.core.projection import Slots, tilt_towards, vanishing
from aspectum.core.solve import Evidence, Flags, Solution, View, robust_views, settle

STRAY_AT = 3.5  # studentised residual beyond which an edge no longer helps to find eye level
READMIT_AT = 3.0
ODDS_MARGIN = 2.0  # difference in chi-square under which two explanations are told apart no more
BLIND_SD_DEG = 25.0  # an implied tilt wider than this says nothing


@dataclass(frozen=True)
class Implied:
    """Per edge, all (n,): sighted tilt and sd, implied tilt and sd (nan where nothing implies it),
    studentised disagreement ``t``; angles in degrees.
    """

    sighted: Floats
    sighted_sd: Floats
    implied: Floats
    implied_sd: Floats
    t: Floats

    @property
    def turn(self) -> Floats:
        """Signed turn (degrees) from sighted to implied."""
        return tilt_difference(self.implied, self.sighted)

    @property
    def combined_sd(self) -> Floats:
        return np.hypot(self.sighted_sd, self.implied_sd)


@dataclass(frozen=True)
class Influence:
    """Linear picture of a solution: residuals r (n,), derivatives (n, F), covariance (F, F) and
    leverages h (n,), in units of the point error.
    """

    r: Floats
    jac: Floats
    covariance: Floats
    h: Floats


def influence(solution: Solution) -> Influence:
    r, jac = solution.linear
    covariance = solution.covariance
    return Influence(r, jac, covariance, np.einsum("ij,jk,ik->i", jac, covariance, jac))


def studentised(picture: Influence, active: Flags) -> Floats:
    """Disagreement of each edge with all the others, in its own standard deviations (n,)."""
    room = np.where(active, 1.0 - picture.h, 1.0 + picture.h)
    return np.where(room > 1e-6, picture.r / np.sqrt(np.maximum(room, 1e-6)), 0.0)


def solve(evidence: Evidence, view: View) -> Solution:
    """Fit ``view`` to the edges that agree: of several robust fits, the one that is left with the
    least strain once its strays are sifted out."""
    robust = robust_views(evidence, view)
    distinct = [s for i, s in enumerate(robust) if not any(np.allclose(s.params, o.params, atol=1e-3) for o in robust[:i])]
    return min((sift(s) for s in distinct), key=strain)


def strain(solution: Solution) -> float:
    """Chi-square with every stray counted at the threshold that made it one."""
    return solution.chi2 + STRAY_AT**2 * int((~solution.active).sum())


def sift(solution: Solution) -> Solution:
    """Least squares on the edges that agree, dropping one stray at a time and taking it back in
    where it turns out to agree after all. At most a third of the edges are dropped.
    """
    count = len(solution.evidence.edges)
    most = max(1, count // 3)
    r, _ = solution.linear
    active = solution.active & (np.abs(r) < 8.0)
    if count - int(active.sum()) > most:
        active = solution.active.copy()
        active[np.argsort(-np.abs(r))[:most]] = False
    if count < 4:
        active = solution.active.copy()
    fitted = settle(solution, active)
    tried = {active.tobytes()}
    for _ in range(2 * most + 2):
        t = np.abs(studentised(influence(fitted), fitted.active))
        inside = np.where(fitted.active, t, 0.0)
        outside = np.where(fitted.active | ~solution.active, np.inf, t)
        trial = fitted.active.copy()
        if outside.min() < READMIT_AT:
            trial[int(np.argmin(outside))] = True
        elif inside.max() > STRAY_AT and int((~fitted.active).sum()) < most and count >= 4:
            trial[int(np.argmax(inside))] = False
        else:
            break
        if trial.tobytes() in tried:
            break
        tried.add(trial.tobytes())
        fitted = settle(fitted, trial)
    return fitted


def rivals(solution: Solution, stray: int) -> list[int]:
    """Edges that, dropped instead of ``stray``, would leave the rest agreeing almost as well."""
    picture = influence(solution)
    active = solution.active
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
        trial = active.copy()
        trial[stray], trial[k] = True, False
        other = settle(solution, trial)
        if other.chi2 - solution.chi2 < ODDS_MARGIN:
            close.append(k)
    return close


def implied_tilts(solution: Solution) -> Implied:
    """Every edge's implied tilt with that edge left out: exactly for edges outside the solution,
    by one Gauss-Newton step for those inside it.
    """
    evidence = solution.evidence
    picture = influence(solution)
    free = solution.view.free
    active = solution.active
    room = np.where(active, np.maximum(1.0 - picture.h, 1e-12), 1.0)
    towards = picture.jac @ picture.covariance
    step = np.where(active, picture.r / room, 0.0)[:, None] * towards
    params = np.repeat(solution.params[None, :], len(evidence.edges), axis=0)
    params[:, free] += np.clip(step, -0.7, 0.7)
    slots: Slots = evidence.slots.pick(evidence.slot)
    v = vanishing(params, slots)
    implied, _ = tilt_towards(evidence.middle, v)
    base, dv = solution.points
    _, by_v = tilt_towards(evidence.middle, base[evidence.slot])
    slope = np.matmul(by_v[:, None, :], dv[:, :, free][evidence.slot])[:, 0, :]
    variance = np.einsum("ij,jk,ik->i", slope, picture.covariance, slope)
    cross = np.einsum("ij,ij->i", slope, towards)
    variance = variance + np.where(active, cross**2 / room, 0.0)
    reach = np.hypot(v[:, 0] - evidence.middle[:, 0] * v[:, 2], v[:, 1] - evidence.middle[:, 1] * v[:, 2])
    placing = np.degrees(evidence.sd / np.sqrt(2.0) * np.abs(v[:, 2]) / np.maximum(reach, 1e-12))
    sd = np.sqrt(variance + placing**2)
    blind = (active & (1.0 - picture.h < 1e-5)) | (sd > BLIND_SD_DEG)
    length_px = np.hypot(*(evidence.b - evidence.a).T) * evidence.scale
    return Implied(
        tilt_deg(evidence.a, evidence.b),
        tilt_sd_deg(length_px, evidence.setup.point_sd_px),
        np.where(blind, np.nan, implied),
        np.where(blind, np.nan, sd),
        studentised(picture, active),
    )
