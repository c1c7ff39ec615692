"""What each sighted rim must be, and what is off about it (handbook section 3)."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from aspectum.core.circles import RimBank, ellipse_of
from aspectum.core.drawn_rims import shape_fault
from aspectum.core.ellipses import RimFit
from aspectum.core.linear import inverse_roots
from aspectum.core.lines import Floats, tilt_difference, wrap_tilt
from aspectum.core.model import (
    Edge,
    Ellipse,
    EyeLevel,
    Fault,
    Finding,
    Ladder,
    Plane,
    Point,
    RailMark,
    Reason,
    Rim,
    RimReading,
    Rule,
    Rung,
    Tolerances,
    Verdict,
)
from aspectum.core.projection import Flags
from aspectum.core.round_forms import nearest_guide
from aspectum.core.sift import BLIND_SD_DEG, ImpliedRims
from aspectum.core.solve import Solution

DEVIATIONS = 2.0
ROUND_DEG = 75.0  # a rim rounder than this has no axis to speak of
REACH = 0.2  # of a side's length: how far beyond its ends it is taken to run on to a rim
NEAR_SIDE = 0.4  # of a rim's half width: an edge farther from touching it is no side of it
AT_EYE_LEVEL_DEG = 1.0
TELLING_DEG = 0.5  # by which two rims' degrees must differ to be told apart in words
MOST_FELLOWS = 12  # rims of one form that another is weighed against, and strays named among them


@dataclass(frozen=True)
class Gap:
    """Sighted less implied of one rim (degrees), each with its standard deviation; nan where
    nothing implies it.
    """

    degree: float
    degree_sd: float
    axis: float
    axis_sd: float


def gaps(bank: RimBank, implied: ImpliedRims) -> list[Gap]:
    found = []
    for k, fit in enumerate(bank.fits):
        axis = float(tilt_difference(fit.axis_deg, implied.axis[k])) if math.isfinite(implied.axis[k]) else math.nan
        found.append(Gap(fit.degree_deg - float(implied.degree[k]), float(implied.degree_gap_sd[k]), axis, float(implied.axis_gap_sd[k])))
    return found


def lowest_rims(rims: tuple[Rim, ...], fits: tuple[RimFit, ...]) -> set[str]:
    """Ids of the lowest level rim of every form that has more than one."""
    lowest: dict[str, tuple[float, str]] = {}
    count: dict[str, int] = {}
    for rim, fit in zip(rims, fits, strict=True):
        if rim.plane is Plane.LEVEL:
            count[rim.form] = count.get(rim.form, 0) + 1
            lowest[rim.form] = max(lowest.get(rim.form, (-math.inf, "")), (fit.centre[1], rim.id))
    return {id for form, (_, id) in lowest.items() if count[form] > 1}


def degree_allowance(rim: Rim, gap: Gap, lowest: set[str], tolerances: Tolerances) -> float:
    """How far (degrees) the rim may stray the way it does."""
    return tolerances.degree_deg + (tolerances.lowest_rim_deg if rim.id in lowest and gap.degree > 0 else 0.0)


def has_axis(fit: RimFit, implied_degree: float) -> bool:
    """Whether the rim is far enough from a full circle to have an axis."""
    return max(fit.degree_deg, implied_degree) < ROUND_DEG and fit.sds[2] < BLIND_SD_DEG


def beyond_doubt(bank: RimBank, implied: ImpliedRims, tolerances: Tolerances) -> Flags:
    """Rims (R,) whose degree or axis strays beyond the tolerance and twice its error."""
    lowest = lowest_rims(bank.rims, bank.fits)
    found = np.zeros(len(bank), bool)
    for k, (rim, fit, gap) in enumerate(zip(bank.rims, bank.fits, gaps(bank, implied), strict=True)):
        if not math.isfinite(gap.degree) or fit.too_short:
            continue
        opened = abs(gap.degree) > max(degree_allowance(rim, gap, lowest, tolerances), DEVIATIONS * gap.degree_sd)
        leans = has_axis(fit, float(implied.degree[k])) and abs(gap.axis) > max(tolerances.tilt_deg, DEVIATIONS * gap.axis_sd)
        found[k] = opened or leans
    return found


def rim_findings(
    solution: Solution,
    implied: ImpliedRims,
    off: Flags,
    unexamined: Flags,
    edges_off: Flags,
    eye_level: EyeLevel,
    tolerances: Tolerances,
    round_forms: frozenset[str],
    by_edges: ImpliedRims | None,
    by_rims: ImpliedRims | None,
) -> list[Finding]:
    """Findings of all rims; ``off``: (R,) rims beyond doubt, ``unexamined``: (R,) rims that stray
    but were not weighed to the end, ``edges_off``: (n,) edges beyond doubt.
    """
    bank = solution.evidence.rims
    assert bank is not None and solution.own is not None
    lowest = lowest_rims(bank.rims, bank.fits)
    axis_faults = off_axis(solution, tolerances)
    findings = []
    for k, (rim, fit, gap) in enumerate(zip(bank.rims, bank.fits, gaps(bank, implied), strict=True)):
        known = math.isfinite(gap.degree)
        degree = float(implied.degree[k]) if known else None
        above = None
        level = eye_level.height_at(fit.centre[0], solution.evidence.setup.width_px)
        if level is not None:
            above = level - fit.centre[1]
        faults: list[Fault] = []
        if known and not fit.too_short:
            if off[k]:
                faults += opening_fault(k, bank, implied, gap, tolerances, lowest)
                faults += lean_fault(fit, gap, degree or 0.0, tolerances)
            faults += bow_fault(rim, fit, above, eye_level)
        if rim.id in axis_faults:
            faults.append(axis_faults[rim.id])
        faults += side_faults(rim, fit, solution.evidence.edges, edges_off, tolerances, round_forms)
        shape = shape_fault(fit)
        if shape is not None:
            faults.append(shape)
        reading = read_rim(k, gap, solution, implied, by_edges, by_rims, faults)
        verdict, rule = verdict_of(fit, gap, faults, tolerances)
        if unexamined[k] and verdict is Verdict.UNSURE and not faults:
            rule = Rule.UNEXAMINED
        main = next((f for f in faults if f.sure), faults[0] if faults else None)
        reason = Reason(
            rule if main is None or verdict is Verdict.HOLDS else main.rule,
            turn_deg=-gap.degree if known else 0.0,
            above_eye_level_px=above,
            goes=rim.plane.value,
            others=flatter_fellow(k, bank, implied) if verdict is Verdict.HOLDS else () if main is None else main.others,
        )
        findings.append(
            Finding(
                rim.id,
                "rim",
                rim.judged_degree_deg,
                fit.degree_deg,
                fit.sds[1],
                degree,
                float(implied.degree_sd[k]) if known else None,
                verdict,
                reason,
                reading,
            )
        )
    return findings


def flatter_fellow(k: int, bank: RimBank, implied: ImpliedRims) -> tuple[str, ...]:
    """The flattest rim of the same form and plane, where this one is rounder than it and must be."""
    mine, due = bank.fits[k].degree_deg, float(implied.degree[k])
    found = [
        (fit.degree_deg, rim.id)
        for i, (rim, fit) in enumerate(zip(bank.rims, bank.fits, strict=True))
        if rim.form == bank.rims[k].form and rim.plane is bank.rims[k].plane and fit.degree_deg < mine and float(implied.degree[i]) < due - TELLING_DEG
    ]
    return (min(found)[1],) if found else ()


def verdict_of(fit: RimFit, gap: Gap, faults: list[Fault], tolerances: Tolerances) -> tuple[Verdict, Rule]:
    if any(f.sure for f in faults):
        return Verdict.OFF, Rule.AGREES
    if fit.too_short or not fit.converged:
        return Verdict.UNSURE, Rule.SHORT_ARC
    if faults:
        return Verdict.UNSURE, Rule.AGREES
    if not math.isfinite(gap.degree):
        return Verdict.UNSURE, Rule.NOTHING_TO_CHECK
    if gap.degree_sd > tolerances.degree_deg or abs(gap.degree) > tolerances.degree_deg + tolerances.lowest_rim_deg:
        return Verdict.UNSURE, Rule.SHORT_ARC if fit.sds[1] > tolerances.degree_deg else Rule.TOO_WEAK
    return Verdict.HOLDS, Rule.AGREES


# -- single faults -------------------------------------------------------------------------


def opening_fault(k: int, bank: RimBank, implied: ImpliedRims, gap: Gap, tolerances: Tolerances, lowest: set[str]) -> list[Fault]:
    """Too flat or too round, named by the fellow rim that shows it where there is one."""
    rim, fit = bank.rims[k], bank.fits[k]
    if abs(gap.degree) <= max(degree_allowance(rim, gap, lowest, tolerances), DEVIATIONS * gap.degree_sd):
        return []
    due = float(implied.degree[k])
    if due <= AT_EYE_LEVEL_DEG + DEVIATIONS * float(implied.degree_sd[k]) and gap.degree > 0:
        return [Fault(Rule.OPENED_AT_EYE_LEVEL, -gap.degree)]
    if gap.degree < 0:
        for other, (fellow, shown) in enumerate(zip(bank.rims, bank.fits, strict=True)):
            due_there = float(implied.degree[other])
            flatter_due = (due_there if math.isfinite(due_there) else shown.degree_deg) < due
            if fellow.form == rim.form and fellow.plane is rim.plane and other != k and flatter_due and shown.degree_deg >= fit.degree_deg:
                rule = Rule.BASE_FLATTER if rim.plane is Plane.LEVEL else Rule.FAR_END_FLATTER
                return [Fault(rule, -gap.degree, (fellow.id,))]
    return [Fault(Rule.RIM_TOO_FLAT if gap.degree < 0 else Rule.RIM_TOO_ROUND, -gap.degree)]


def lean_fault(fit: RimFit, gap: Gap, due: float, tolerances: Tolerances) -> list[Fault]:
    if not has_axis(fit, due) or abs(gap.axis) <= max(tolerances.tilt_deg, DEVIATIONS * gap.axis_sd):
        return []
    return [Fault(Rule.AXIS_OFF, -gap.axis)]


def bow_fault(rim: Rim, fit: RimFit, above: float | None, eye_level: EyeLevel) -> list[Fault]:
    """The near arc bows down below eye level and up above it; a half-seen arc that bows the other
    way is the wrong one.
    """
    if rim.plane is not Plane.LEVEL or above is None or fit.front == 0:
        return []
    clear = abs(above) > fit.axes[1] + DEVIATIONS * (eye_level.sd_px or 0.0)
    if not clear or fit.front * above < 0:
        return []
    return [Fault(Rule.BOWS_WRONG_WAY, 2 * fit.axes[1])]


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
            at, base = own.own[i, :2], own.own[k, :2]
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
            offset = float(np.median([m for m, _ in pairs]))
            sd = float(np.median([s for _, s in pairs]))
            apart = float(np.median([np.hypot(*(own.own[i, :2] - own.own[k, :2])) for k in others])) * scale
            width = 2 * bank.fits[i].axes[0]
            allowed = max(apart * math.tan(math.radians(tolerances.tilt_deg)), 0.25 * tolerances.length * width)
            if abs(offset) <= max(allowed, DEVIATIONS * sd):
                return None
            return Fault(Rule.NOT_ON_AXIS, offset, tuple(bank.rims[k].id for k in others), abs(offset) / width, len(kept) > 2)

        kept = list(members)
        while len(kept) > 2 and len(members) - len(kept) < MOST_FELLOWS:
            faults = {i: fault for i in kept if (fault := strays(i, kept)) is not None}
            if not faults:
                break
            worst = max(faults, key=lambda i: abs(faults[i].size))
            found[bank.rims[worst].id] = faults[worst]
            kept.remove(worst)
        if len(members) == 2:
            for i in members:
                fault = strays(i, members)
                if fault is not None:
                    found[bank.rims[i].id] = fault
    return found


def side_faults(rim: Rim, fit: RimFit, edges: tuple[Edge, ...], off: Flags, tolerances: Tolerances, round_forms: frozenset[str]) -> list[Fault]:
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
        by = np.array([-normal[0], -normal[1], -u[0] * normal[0], -(u[0] * normal[1] + u[1] * normal[0]), -u[1] * normal[1]])
        line_sd = fit.point_sd_px * math.hypot(along, 1.0 - along)
        sd = math.hypot(math.sqrt(max(float(by @ fit.covariance @ by), 0.0)), line_sd)
        if abs(gap) > max(tolerances.length * reach, DEVIATIONS * sd):
            faults.append(Fault(Rule.SIDE_MISSES, gap, (edge.id,), abs(gap) / (2 * reach)))
    return faults


# -- what is shown -------------------------------------------------------------------------


def ellipse_at(values: Floats, scale: float, centre: Point) -> Ellipse:
    """``values`` (5,) in camera units as an ellipse in pixels."""
    x, y, major, minor, angle = (float(v) for v in values)
    degree = math.degrees(math.asin(min(1.0, minor / max(major, 1e-12))))
    axis = float(wrap_tilt(-math.degrees(angle) - 90.0))
    return Ellipse((x * scale + centre[0], y * scale + centre[1]), 2 * major * scale, 2 * minor * scale, axis, degree)


def in_place(seen: Ellipse, due: Ellipse) -> Ellipse:
    """``due`` as it must be where the rim was laid, on the sighted centre and as wide."""
    return Ellipse(seen.centre_px, seen.major_px, seen.major_px * due.minor_px / max(due.major_px, 1e-9), due.axis_deg, due.degree_deg)


def sighted_ellipse(fit: RimFit) -> Ellipse:
    major, minor, _ = fit.axes
    return Ellipse(fit.centre, 2 * major, 2 * minor, fit.axis_deg, fit.degree_deg)


def read_rim(
    k: int, gap: Gap, solution: Solution, implied: ImpliedRims, by_edges: ImpliedRims | None, by_rims: ImpliedRims | None, faults: list[Fault]
) -> RimReading:
    bank, own = solution.evidence.rims, solution.own
    assert bank is not None and own is not None
    fit, scale, centre = bank.fits[k], solution.evidence.scale, solution.evidence.setup.centre
    plain = RimReading(sighted_ellipse(fit), fit.sds[2], coverage_deg=fit.coverage_deg, faults=tuple(faults))
    if not math.isfinite(implied.degree[k]):
        return plain
    axial = has_axis(fit, float(implied.degree[k]))
    images, _ = bank.basis(solution.params)
    u, v, size = own.own[k]
    first, second = images[k] * math.exp(size)
    middle = np.array([u, v, 1.0])

    def px(point: Floats) -> Point:
        x, y = point[:2] / max(float(point[2]), 1e-6)
        return float(x * scale + centre[0]), float(y * scale + centre[1])

    # the true diameter seen at its full width: square to the way in which depth changes
    turn = math.atan2(float(second[2]), float(first[2])) + math.pi / 2
    wide = math.cos(turn) * first + math.sin(turn) * second
    square = [px(middle + i * first + j * second) for i, j in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
    touch = [px(middle + d) for d in (first, second, -first, -second)]

    def alone(other: ImpliedRims | None) -> tuple[float, float] | None:
        return None if other is None or not math.isfinite(other.degree[k]) else (float(other.degree[k]), float(other.degree_sd[k]))

    return replace(
        plain,
        implied_ellipse=in_place(plain.sighted_ellipse, ellipse_at(implied.ellipse[k], scale, centre)),
        axis_implied_sd=float(implied.axis_sd[k]),
        axis_turn_deg=-gap.axis if axial else None,
        axis_turn_sd=gap.axis_sd if axial else None,
        true_centre_px=px(middle),
        diameter_px=(px(middle - wide), px(middle + wide)),
        square_px=tuple(square) if bank.rims[k].plane is not Plane.LEVEL else (),
        touch_px=tuple(touch) if bank.rims[k].plane is not Plane.LEVEL else (),
        by_edges=alone(by_edges),
        by_rims=alone(by_rims),
        guide_deg=nearest_guide(float(implied.degree[k])),
    )


def ladder(solution: Solution, eye_level: EyeLevel, marks: list[RailMark]) -> list[Ladder]:
    """For every form with level rims, the rim it must have at the height of each rail mark: the
    exact image of its widest agreeing circle, moved up or down its axis.
    """
    bank, own = solution.evidence.rims, solution.own
    if bank is None or own is None or eye_level.source == "none" or not bank.level.any() or not marks:
        return []
    scale, centre = solution.evidence.scale, solution.evidence.setup.centre
    images, _ = bank.basis(solution.params)
    up = solution.points[0][solution.evidence.slot_keys.index((None, Plane.LEVEL.family, None))]
    agrees = solution.active[len(solution.evidence.edges) :]
    widest: dict[str, int] = {}
    for k in sorted(range(len(bank)), key=lambda k: (not agrees[k], -bank.half_major[k])):
        if bank.rims[k].plane is Plane.LEVEL and bank.fits[k].converged:
            widest.setdefault(bank.rims[k].form, k)
    heights = (np.array([mark.y_px for mark in marks]) - centre[1]) / scale
    steep = up[1] - heights * up[2]
    ladders = []
    for form, k in widest.items():
        u, v, size = own.own[k]
        # up the axis from the circle's centre until it is drawn at each height
        moved = np.array([u, v, 1.0]) + ((heights - v) / np.where(np.abs(steep) < 1e-9, np.nan, steep))[:, None] * up
        depth = np.where(moved[:, 2] < 0.1, np.nan, moved[:, 2])
        at = np.column_stack([moved[:, :2] / depth[:, None], np.zeros(len(marks))])
        ellipses = ellipse_of(at, images[k] * math.exp(size) / depth[:, None, None])
        rungs = []
        for mark, values in zip(marks, ellipses, strict=True):
            if np.all(np.isfinite(values)):
                seen = ellipse_at(values, scale, centre)
                rungs.append(Rung(mark.y_px, mark.units, seen, seen.minor_px / max(seen.major_px, 1e-9), nearest_guide(seen.degree_deg)))
        ladders.append(Ladder(form, bank.rims[k].id, tuple(rungs)))
    return ladders
