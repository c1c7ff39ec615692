"""Whether a rim sits on its form: on the axis that the form's rims share, and touched by its sides."""

from __future__ import annotations

import math
from statistics import median

import numpy as np

from aspectum.core.plane.algebra import inverse_roots
from aspectum.core.plane.lines import Flags, Floats
from aspectum.core.plane.rim_fit import RimFit
from aspectum.core.reasons import Fault, Rule
from aspectum.core.sightings import Edge, Plane, Rim
from aspectum.core.tolerance import Tolerances, beyond
from aspectum.core.view.solve import Solution

REACH = 0.2  # of a side's length: how far beyond its ends it is taken to run on to a rim
NEAR_SIDE = 0.4  # of a rim's half width: an edge farther from touching it is no side of it
MOST_FELLOWS = 12  # rims of one form that another is weighed against, and strays named among them


def off_axis(solution: Solution, tolerances: Tolerances) -> dict[str, Fault]:
    """Rims whose circles do not share their form's axis: the line through two centres must run to
    the axis' vanishing point. Of two rims neither can be named.
    """
    bank, step, own = solution.evidence.rims, solution.rim_step, solution.own
    assert bank is not None and step is not None and own is not None
    scale = solution.evidence.scale
    groups: dict[tuple[str, Plane], list[int]] = {}
    for k, (rim, fit) in enumerate(zip(bank.rims, bank.fits, strict=True)):
        if fit.converged:
            groups.setdefault((rim.form, rim.plane), []).append(k)
    root = inverse_roots(step.own_root)
    placing = np.matmul(root, root.transpose(0, 2, 1))[:, :2, :2]
    points = solution.points[0]
    found: dict[str, Fault] = {}
    for (form, plane), members in groups.items():
        if len(members) < 2:
            continue
        key = (None if plane is Plane.LEVEL else form, plane.family, None)
        v = points[solution.evidence.slot_keys.index(key)]

        def miss(i: int, k: int, v: Floats = v) -> tuple[float, float]:
            """Offset (px) of rim i from the axis through rim k, and its standard deviation."""
            at, base = own[i, :2], own[k, :2]
            way = v[:2] - base * v[2]
            way = way / max(float(np.hypot(*way)), 1e-12)
            across = np.array([-way[1], way[0]])
            if across[0] < 0 or (across[0] == 0 and across[1] > 0):
                across = -across
            sd = math.sqrt(float(across @ (placing[i] + placing[k]) @ across))
            return float((at - base) @ across) * scale, sd * scale

        def strays(i: int, kept: list[int]) -> Fault | None:
            others = [k for k in kept if k != i][:MOST_FELLOWS]
            pairs = [miss(i, k) for k in others]
            offset = median([m for m, _ in pairs])
            sd = median([s for _, s in pairs])
            apart = median([math.dist(own[i, :2], own[k, :2]) for k in others]) * scale
            width = 2 * bank.fits[i].axes[0]
            allowed = max(apart * math.tan(math.radians(tolerances.tilt_deg)), 0.25 * tolerances.length * width)
            if not beyond(offset, sd, allowed):
                return None
            return Fault(
                Rule.NOT_ON_AXIS,
                size_px=offset,
                others=tuple(bank.rims[k].id for k in others),
                share=abs(offset) / width,
                sure=len(kept) > 2,
            )

        kept = list(members)
        while len(kept) > 2 and len(members) - len(kept) < MOST_FELLOWS:
            faults = {i: fault for i in kept if (fault := strays(i, kept)) is not None}
            if not faults:
                break
            worst = max(faults, key=lambda i: abs(faults[i].size_px or 0.0))
            found[bank.rims[worst].id] = faults[worst]
            kept.remove(worst)
        if len(members) == 2:
            for i in members:
                fault = strays(i, members)
                if fault is not None:
                    found[bank.rims[i].id] = fault
    return found


def side_faults(
    rim: Rim, fit: RimFit, edges: tuple[Edge, ...], off: Flags, tolerances: Tolerances, round_forms: frozenset[str]
) -> list[Fault]:
    """Sides of a round form meet its rims without a corner: each side line touches the ellipse."""
    if rim.form not in round_forms or fit.too_short:
        return []
    faults = []
    centre, (p, q, r) = fit.shape[:2], fit.shape[2:]
    root = np.array([[p, q], [q, r]])
    for edge, stray in zip(edges, off, strict=True):
        if edge.form != rim.form or edge.family is not rim.plane.family or stray:
            continue
        a, b = np.array(edge.p), np.array(edge.q)
        length = float(np.hypot(*(b - a)))
        normal = np.array([-(b - a)[1], (b - a)[0]]) / length
        if float(normal @ (a - centre)) < 0:
            normal = -normal
        reach = float(np.hypot(*(root @ normal)))
        touch = centre + root @ root @ normal / max(reach, 1e-9)
        along = float((touch - a) @ (b - a)) / length**2
        gap = float(normal @ (a - centre)) - reach
        if abs(gap) > NEAR_SIDE * reach or not -REACH <= along <= 1 + REACH:
            continue
        u = root @ normal / max(reach, 1e-9)
        by = np.array(
            [-normal[0], -normal[1], -u[0] * normal[0], -(u[0] * normal[1] + u[1] * normal[0]), -u[1] * normal[1]]
        )
        line_sd = fit.point_sd_px * math.hypot(along, 1.0 - along)
        sd = math.hypot(math.sqrt(max(float(by @ fit.covariance @ by), 0.0)), line_sd)
        if beyond(gap, sd, tolerances.length * reach):
            faults.append(Fault(Rule.SIDE_MISSES, size_px=gap, others=(edge.id,), share=abs(gap) / (2 * reach)))
    return faults
