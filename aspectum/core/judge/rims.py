"""What each sighted rim must be, and what is off about it (handbook section 3)."""

from __future__ import annotations

import math
from dataclasses import replace

from aspectum.core.findings import EyeLevel, Finding, RimReading
from aspectum.core.judge.rim_company import off_axis, side_faults
from aspectum.core.judge.rim_gaps import Gap, axis_verdict, degree_tolerance, gaps, lowest_rims
from aspectum.core.judge.rim_reading import read_rim
from aspectum.core.judge.rim_shape import shape_fault
from aspectum.core.judge.weigh import Weighing
from aspectum.core.plane.rim_fit import RimFit
from aspectum.core.reasons import Fault, RimReason, Rule
from aspectum.core.sightings import Kind, Plane, Rim, SlotKey
from aspectum.core.tolerance import DEVIATIONS, Tolerances, Verdict, beyond, verdict
from aspectum.core.view.circles import RimBank
from aspectum.core.view.left_out import ImpliedRims

AT_EYE_LEVEL_DEG = 1.0  # a rim due to open less is a line to the eye: a tin 10 cm wide is 2 mm deep
TELLING_DEG = 0.5  # by which two rims' degrees must differ to be told apart in words


def rim_findings(
    weighing: Weighing,
    eye_level: EyeLevel,
    tolerances: Tolerances,
    round_forms: frozenset[str],
    places: dict[SlotKey, int],
    by_edges: ImpliedRims | None,
    by_rims: ImpliedRims | None,
) -> list[Finding]:
    """A finding for every rim of the evidence; ``by_edges`` and ``by_rims``: what each alone implies;
    ``places``: of the vanishing points in the result.
    """
    solution, implied = weighing.solution, weighing.rims
    bank, count = solution.evidence.rims, len(solution.evidence.edges)
    assert bank is not None and implied is not None and solution.own is not None
    off, edges_off, unexamined = weighing.off[count:], weighing.off[:count], weighing.unexamined[count:]
    lowest = lowest_rims(bank.rims, bank.fits)
    axis_faults = off_axis(solution, tolerances)
    findings = []
    for k, (rim, fit, gap) in enumerate(zip(bank.rims, bank.fits, gaps(bank, implied), strict=True)):
        allowed = degree_tolerance(rim, gap, lowest, tolerances)
        known = math.isfinite(gap.degree)
        degree = float(implied.degree[k]) if known else None
        above = None
        level = eye_level.height_at(fit.centre[0], solution.evidence.setup.width_px)
        if level is not None:
            above = level - fit.centre[1]
        faults: list[Fault] = []
        if known and not fit.too_short:
            if off[k]:
                faults += opening_fault(k, bank, implied, gap, allowed)
                faults += lean_fault(fit, gap, float(implied.degree[k]), tolerances)
            faults += bow_fault(rim, fit, above, eye_level)
        if rim.id in axis_faults:
            faults.append(axis_faults[rim.id])
        faults += side_faults(rim, fit, solution.evidence.edges, edges_off, tolerances, round_forms)
        shape = shape_fault(fit)
        if shape is not None:
            faults.append(shape)
        faults = [replace(fault, above_eye_level_px=above) for fault in faults]
        found, rule = verdict_of(fit, gap, degree, faults, allowed, tolerances)
        if unexamined[k] and found is Verdict.UNSURE and not faults:
            rule = Rule.UNEXAMINED
        fellows = (
            flatter_fellow(k, bank, implied)
            if found is Verdict.HOLDS
            else next((f.others for f in faults if f.rule is rule), ())
        )
        reason = RimReason(rule, -gap.degree if known else 0.0, above, rim.plane, fellows)
        reading = read_rim(k, gap, solution, implied, by_edges, by_rims, faults)
        degree_sd = float(implied.degree_sd[k]) if known else None
        place = places.get(rim.slot)
        findings.append(finding_of_rim(rim, fit, (degree, degree_sd), found, reason, reading, place))
    return findings


def flatter_fellow(k: int, bank: RimBank, implied: ImpliedRims) -> tuple[str, ...]:
    """The flattest rim of the same form and plane, where this one is rounder than it and must be."""
    mine, due = bank.fits[k].degree_deg, float(implied.degree[k])
    found = [
        (fit.degree_deg, rim.id)
        for i, (rim, fit) in enumerate(zip(bank.rims, bank.fits, strict=True))
        if rim.form == bank.rims[k].form
        and rim.plane is bank.rims[k].plane
        and fit.degree_deg < mine
        and float(implied.degree[i]) < due - TELLING_DEG
    ]
    return (min(found)[1],) if found else ()


def finding_of_rim(
    rim: Rim,
    fit: RimFit,
    implied: tuple[float | None, float | None],
    found: Verdict,
    reason: RimReason,
    reading: RimReading,
    vanishing_point: int | None = None,
) -> Finding:
    """What was judged, what is sighted and what is ``implied`` (degree and its standard deviation) of a rim."""
    sighted = (fit.degree_deg, fit.sds[1])
    return Finding(rim.id, Kind.RIM, rim.judged_degree_deg, *sighted, *implied, found, reason, reading, vanishing_point)


def verdict_of(
    fit: RimFit,
    gap: Gap,
    implied_degree: float | None,
    faults: list[Fault],
    degree_tolerance_deg: float,
    tolerances: Tolerances,
) -> tuple[Verdict, Rule]:
    """Verdict on a rim with the rule that it rests on. What is off about it has been named in
    ``faults``; a degree or axis that strays without having been named stays unsure.
    """
    main = next((f for f in faults if f.sure), None)
    if main is not None:
        return Verdict.OFF, main.rule
    if fit.too_short or not fit.converged:
        return Verdict.UNSURE, faults[0].rule if faults else Rule.SHORT_ARC
    if faults:
        return Verdict.UNSURE, faults[0].rule
    if implied_degree is None:
        return Verdict.UNSURE, Rule.NOTHING_TO_CHECK
    if verdict(gap.degree, gap.degree_sd, degree_tolerance_deg) is not Verdict.HOLDS:
        return Verdict.UNSURE, Rule.SHORT_ARC if fit.sds[1] > tolerances.degree_deg else Rule.TOO_WEAK
    if axis_verdict(fit, gap, implied_degree, tolerances) not in (None, Verdict.HOLDS):
        return Verdict.UNSURE, Rule.AXIS_TOO_WEAK
    return Verdict.HOLDS, Rule.AGREES


def opening_fault(k: int, bank: RimBank, implied: ImpliedRims, gap: Gap, tolerance_deg: float) -> list[Fault]:
    """Too flat or too round, named by the fellow rim that shows it where there is one."""
    rim, fit = bank.rims[k], bank.fits[k]
    if not beyond(gap.degree, gap.degree_sd, tolerance_deg):
        return []
    due = float(implied.degree[k])
    if gap.degree > 0 and due <= AT_EYE_LEVEL_DEG + DEVIATIONS * float(implied.degree_sd[k]):
        return [Fault(Rule.OPENED_AT_EYE_LEVEL, -gap.degree)]
    if gap.degree < 0:
        for other, (fellow, shown) in enumerate(zip(bank.rims, bank.fits, strict=True)):
            due_there = float(implied.degree[other])
            flatter_due = (due_there if math.isfinite(due_there) else shown.degree_deg) < due
            if (
                fellow.form == rim.form
                and fellow.plane is rim.plane
                and other != k
                and flatter_due
                and shown.degree_deg >= fit.degree_deg
            ):
                rule = Rule.BASE_FLATTER if rim.plane is Plane.LEVEL else Rule.FAR_END_FLATTER
                return [Fault(rule, -gap.degree, others=(fellow.id,))]
    return [too_flat_or_round(gap)]


def too_flat_or_round(gap: Gap) -> Fault:
    return Fault(Rule.RIM_TOO_FLAT if gap.degree < 0 else Rule.RIM_TOO_ROUND, -gap.degree)


def lean_fault(fit: RimFit, gap: Gap, implied_degree: float, tolerances: Tolerances) -> list[Fault]:
    if axis_verdict(fit, gap, implied_degree, tolerances) is not Verdict.OFF:
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
    return [Fault(Rule.BOWS_WRONG_WAY, size_px=2 * fit.axes[1])]
