"""The main job: check every sighting against the others, eye level and the vanishing points."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from aspectum.core import parallel
from aspectum.core.effort import PLANS_BY, STRAYS_BY, Effort
from aspectum.core.ellipses import RimFit, fit_rim
from aspectum.core.lines import Floats, tilt_difference, wrap_tilt
from aspectum.core.measures import check_alignment, check_length
from aspectum.core.model import (
    FREEHAND,
    LEVEL_FAMILIES,
    Alignment,
    CameraReading,
    CheckResult,
    Edge,
    EyeLevel,
    Family,
    Finding,
    Length,
    Note,
    NoteCode,
    Perspective,
    Point,
    Rim,
    Rule,
    Setup,
    Tolerances,
    VanishingPoint,
    Verdict,
)
from aspectum.core.projection import LOG_F, PITCH, ROLL, Flags, eye_level_height
from aspectum.core.rail import sheet_rail
from aspectum.core.reasons import crossing_notes, edge_reason
from aspectum.core.rims import beyond_doubt as rims_beyond_doubt
from aspectum.core.rims import ladder, rim_findings
from aspectum.core.sift import STRAY_AT, Implied, ImpliedRims, Influence, Trials, implied_rims, implied_tilts, influence, left_out_moves, rivals, solve, strain
from aspectum.core.solve import (
    Evidence,
    FittedRims,
    Solution,
    frontal_forms,
    gather,
    join_slope,
    own_points,
    robust_views,
    settle,
    settle_edges,
    slope_key,
    view_for,
)

DEVIATIONS = 2.0  # standard deviations beyond which a disagreement is no reading error
RIMS_ALONE = 1.1  # first-order spread falls this short where flat rims alone fix eye level (simulated)
OPEN_EYE_LEVEL = 0.3  # of the picture's height: an eye level looser than this is not fixed
MOST_STRAYS = 4  # that get a note each
SHIFT_GAIN = 8.0  # chi-square by which a shifted view must beat a pitched one


def check(
    setup: Setup,
    edges: list[Edge],
    lengths: list[Length] | None = None,
    alignments: list[Alignment] | None = None,
    tolerances: Tolerances = FREEHAND,
    rims: list[Rim] | None = None,
    round_forms: frozenset[str] = frozenset(),
) -> CheckResult:
    """Judge all sightings of one sheet; ``round_forms`` are cylinders, whose sides touch their rims.

    Findings come edges first, then rims, lengths and alignments, each in the order given. Raises
    ``ValueError`` for an edge whose two ends coincide and for a rim that its points do not make;
    any other finite sightings are answered, if only with what they leave open.
    """
    # points far out overflow on the way to answers that are then open
    with np.errstate(all="ignore"):
        return judged(setup, edges, lengths or [], alignments or [], tolerances, rims or [], round_forms)


def judged(
    setup: Setup, edges: list[Edge], lengths: list[Length], alignments: list[Alignment], tolerances: Tolerances, rims: list[Rim], round_forms: frozenset[str]
) -> CheckResult:
    measured = [check_length(item, lengths, setup, tolerances) for item in lengths]
    measured += [check_alignment(item, setup, tolerances) for item in alignments]
    for edge in edges:
        if np.hypot(edge.q[0] - edge.p[0], edge.q[1] - edge.p[1]) < 1e-6:
            raise ValueError(f"edge {edge.id}: its two ends coincide")
    fitted = tuple((rim, fitted_rim(rim, setup.point_sd_px)) for rim in rims)
    if setup.perspective is Perspective.PARALLEL:
        result = parallel.check(setup, edges, tolerances, fitted)
    else:
        result = check_converging(setup, edges, tolerances, fitted, round_forms)
    return replace(result, findings=result.findings + measured)


def fitted_rim(rim: Rim, point_sd_px: float) -> RimFit:
    try:
        return fit_rim(rim.points, point_sd_px, rim.ends, rim.near)
    except ValueError as error:
        raise ValueError(f"rim {rim.id}: {error}") from error


@dataclass(frozen=True)
class Judgement:
    """Verdicts and the solutions behind them. ``off``: (n + R,) sightings beyond doubt; ``pairs``:
    rival explanations among the edges, tried in ``trials``; ``unexamined``: (n + R,) sightings that
    stray but were not weighed to the end.
    """

    solution: Solution
    implied: Implied
    rims: ImpliedRims | None
    off: Flags
    pairs: dict[int, list[int]]
    trials: Trials
    unexamined: Flags


def check_converging(
    setup: Setup, edges: list[Edge], tolerances: Tolerances, fitted: FittedRims = (), round_forms: frozenset[str] = frozenset()
) -> CheckResult:
    """Check edges and rims that converge: find the view, then weigh each sighting against the rest."""
    counted, repeats = drop_repeats(edges)
    notes = [Note(NoteCode.SAME_LINE, pair) for pair in repeats]
    if not counted and not fitted:
        given = given_eye_level(setup)
        return CheckResult(setup.perspective, given or EyeLevel(None, None, None, "none"), None, [], [], [Note(NoteCode.NO_EDGES)])
    solution = find_view(setup, tuple(counted), fitted)
    judgement = judge(solution, tolerances)
    halves = split(solution) if fitted and counted else None
    eye_level, eye_notes = read_eye_level(solution, judgement, halves)
    camera = read_camera(solution)
    points = read_vanishing_points(solution, eye_level)
    notes += eye_notes + stray_notes(judgement) + family_notes(solution, eye_level) + crossing_notes(solution.evidence)
    notes += picture_notes(solution, camera, setup)
    by_id = {e.id: finding for e, finding in zip(counted, edge_findings(judgement, eye_level, tolerances), strict=True)}
    twin = {b: a for a, b in repeats}
    findings = [by_id[e.id] if e.id in by_id else replace(by_id[twin[e.id]], sighting=e.id, judged=e.judged_tilt_deg) for e in edges]
    if judgement.rims is not None:
        count = len(counted)
        alone = (None, None) if halves is None else (implied_rims(halves.edges), implied_rims(halves.rims))
        findings += rim_findings(
            solution, judgement.rims, judgement.off[count:], judgement.unexamined[count:], judgement.off[:count], eye_level, tolerances, round_forms, *alone
        )
    rail = sheet_rail(setup, eye_level, camera, edges)
    return CheckResult(name_perspective(solution, tolerances), eye_level, camera, points, findings, notes, rail, ladder(solution, eye_level, rail))


def drop_repeats(edges: list[Edge]) -> tuple[list[Edge], list[tuple[str, str]]]:
    """Leave out edges laid twice on the very same ends: they are not independent evidence."""
    seen: dict[tuple[object, ...], str] = {}
    counted, repeats = [], []
    for edge in edges:
        ends = tuple(sorted((round(x, 2), round(y, 2)) for x, y in (edge.p, edge.q)))
        key = (edge.form if edge.family is not Family.UPRIGHT else None, edge.family, edge.slope, ends)
        if key in seen:
            repeats.append((seen[key], edge.id))
        else:
            seen[key] = edge.id
            counted.append(edge)
    return counted, repeats


# -- the view ------------------------------------------------------------------------------


def find_view(setup: Setup, edges: tuple[Edge, ...], rims: FittedRims = (), effort: Effort | None = None) -> Solution:
    """Fit the stated perspective, or, for ``auto``, the one that the sightings speak for, to the
    sightings that agree.

    A focal length from Exif that they flatly contradict is set aside: the picture is cropped.
    """
    effort = effort or Effort.for_sheet(len(edges), len(rims))
    found = fit_view(setup, edges, rims, effort)
    spare = max(found.evidence.readings - len(found.view.free), 1)
    if setup.focal_35mm is not None and strain(found) > spare + SHIFT_GAIN:
        alone = fit_view(replace(setup, focal_35mm=None), edges, rims, effort)
        if strain(alone) + STRAY_AT**2 < strain(found):
            return alone
    return found


def fit_view(setup: Setup, edges: tuple[Edge, ...], rims: FittedRims = (), effort: Effort | None = None) -> Solution:
    """As ``find_view``, taking the setup at its word."""
    stated = setup.perspective
    effort = effort or Effort.for_sheet(len(edges), len(rims))
    evidence = gather(setup, edges, choose_plans(setup, edges, effort), rims, effort)
    if stated is not Perspective.AUTO:
        return solve(evidence, view_for(evidence, stated))
    general = solve(evidence, view_for(evidence, Perspective.THREE_POINT))
    if setup.centre_px is not None or setup.level_camera:
        return general
    frontal = bool(frontal_forms(evidence))
    spare = evidence.readings - len(general.view.free)
    if not frontal and strain(general) < max(spare, 1) + SHIFT_GAIN:
        return general
    shifted = Perspective.ONE_POINT if frontal else Perspective.TWO_POINT
    other = solve(evidence, view_for(evidence, shifted))
    fewer = len(general.view.free) - len(other.view.free)
    margin = -2.0 * fewer if frontal else SHIFT_GAIN
    return other if strain(other) + margin < strain(general) else general


def choose_plans(setup: Setup, edges: tuple[Edge, ...], effort: Effort) -> dict[str, Family]:
    """Each slope group's plan family: as stated, or the one whose plumb line it fits better, where
    the effort reaches to tell; ``left`` where it does not.
    """
    plans: dict[str, Family] = {}
    unstated: list[str] = []
    for e in edges:
        if e.family is Family.SLOPE:
            key = slope_key(e)
            if e.plan is not None:
                plans[key] = e.plan
            elif key not in plans and key not in unstated:
                unstated.append(key)
    unstated = [key for key in unstated if key not in plans]
    for key in unstated:
        plans[key] = Family.LEFT
    if not unstated:
        return plans
    perspective = Perspective.THREE_POINT if setup.perspective is Perspective.AUTO else setup.perspective
    groups = [slope_key(e) if e.family is Family.SLOPE and e.plan is None else None for e in edges]
    rest = np.array([group not in unstated for group in groups])
    evidence = gather(setup, edges, plans, effort=effort)
    bases = robust_views(evidence, view_for(evidence, perspective), rest)
    for key in unstated:
        mine = np.array([group == key for group in groups])
        if effort.spent(PLANS_BY):
            effort.leave(e.id for e, on in zip(edges, mine, strict=True) if on)
            continue
        costs = {}
        for family in (Family.LEFT, Family.RIGHT):
            evidence = gather(setup, edges, plans | {key: family}, effort=effort)
            costs[family] = min(join_slope(replace(base, evidence=evidence), key, rest | mine).chi2 for base in bases)
        plans[key] = min(costs, key=lambda f: costs[f])
    return plans


def name_perspective(solution: Solution, tolerances: Tolerances) -> Perspective:
    """Name a view found by ``auto``: two-point while uprights lean less than the tilt tolerance
    at the picture's sides, one-point while a face stands parallel to the picture as nearly.
    """
    setup = solution.evidence.setup
    if solution.view.perspective is not Perspective.THREE_POINT or setup.perspective is Perspective.THREE_POINT:
        return solution.view.perspective
    params = solution.params
    half_width = setup.width_px / 2 / solution.evidence.scale
    lean = np.degrees(np.arctan(half_width * abs(np.tan(params[PITCH])) / np.exp(params[LOG_F])))
    if lean > tolerances.tilt_deg:
        return Perspective.THREE_POINT
    bank = solution.evidence.rims
    families = {e.family for e in solution.evidence.edges} | {r.plane.family for r in (bank.rims if bank else ())}
    return (
        Perspective.ONE_POINT
        if families <= {Family.DEPTH, Family.ACROSS, Family.UPRIGHT, Family.SLOPE} and families & {Family.DEPTH, Family.ACROSS}
        else Perspective.TWO_POINT
    )


# -- verdicts ------------------------------------------------------------------------------


def judge(solution: Solution, tolerances: Tolerances) -> Judgement:
    """Call strays one at a time, each weighed with the strays found before it left out, so that
    one wrong sighting cannot drag others along.
    """
    edges, count = len(solution.evidence.edges), solution.evidence.count
    bank = solution.evidence.rims
    off = np.zeros(count, bool)
    pairs: dict[int, list[int]] = {}
    trials, effort = Trials(), solution.evidence.effort
    # a slope group whose plan was not weighed may stand on the wrong one
    unexamined = np.array([id in effort.unexamined for id in ids_of(solution)], bool)

    def seek_rivals(where: Solution, stray: int, picture: Influence | None = None) -> None:
        others = rivals(where, stray, trials, picture)
        if others is None:
            unexamined[stray] = True
        elif others:
            pairs[stray] = others

    strays = np.flatnonzero(~solution.active[:edges])
    picture = influence(solution) if strays.size else None
    for index in strays:
        seek_rivals(solution, int(index), picture)

    def weigh(clean: Solution) -> tuple[Implied, ImpliedRims | None, Flags, Floats]:
        """Implied values, what lies beyond doubt and by how many of its deviations, (n + R,)."""
        implied = implied_tilts(clean)
        if bank is None:
            return implied, None, beyond_doubt(implied, tolerances), np.abs(implied.t)
        rims = implied_rims(clean)
        return implied, rims, np.append(beyond_doubt(implied, tolerances), rims_beyond_doubt(bank, rims, tolerances)), np.append(np.abs(implied.t), rims.t)

    clean = solution
    for _ in range(max(1, count // 3)):
        _, _, beyond, t = weigh(clean)
        fresh = beyond & clean.active
        if not fresh.any() or int(clean.active.sum()) <= (3 if bank is None else 2):
            break
        if effort.spent(STRAYS_BY):
            unexamined |= fresh
            break
        worst = int(np.argmax(np.where(fresh, t + 1e-6, 0.0)))
        trial = clean.active.copy()
        trial[worst] = False
        clean = settle(clean, trial)
        if worst < edges:
            seek_rivals(clean, worst)
    implied, rims, beyond, _ = weigh(clean)
    unexamined &= beyond
    off = beyond & ~clean.active & ~unexamined
    for index in np.flatnonzero(~clean.active & ~off):
        pairs.pop(int(index), None)
    if pairs:
        implied = with_rivals(clean, implied, pairs, trials)
    return Judgement(solution, implied, rims, off, pairs, trials, unexamined)


def ids_of(solution: Solution) -> list[str]:
    """Ids of all sightings, edges then rims."""
    bank = solution.evidence.rims
    return [e.id for e in solution.evidence.edges] + [r.id for r in (bank.rims if bank else ())]


def beyond_doubt(implied: Implied, tolerances: Tolerances) -> Flags:
    with np.errstate(invalid="ignore"):
        return np.abs(implied.turn) > np.maximum(tolerances.tilt_deg, DEVIATIONS * implied.combined_sd)


def with_rivals(clean: Solution, implied: Implied, pairs: dict[int, list[int]], trials: Trials) -> Implied:
    """Where an edge could be the wrong one instead of the stray it is paired with, imply its tilt
    with the stray back in and itself left out.
    """
    tilt, sd = implied.implied.copy(), implied.implied_sd.copy()
    for stray, others in pairs.items():
        for k in others:
            if clean.evidence.effort.spent():
                continue
            swapped = implied_tilts(trials.swapped(clean, stray, k), only=k)
            tilt[k], sd[k] = swapped.implied[0], swapped.implied_sd[0]
    return replace(implied, implied=tilt, implied_sd=sd)


def edge_findings(judgement: Judgement, eye_level: EyeLevel, tolerances: Tolerances) -> list[Finding]:
    evidence, implied = judgement.solution.evidence, judgement.implied
    partners: dict[int, set[int]] = {}
    for stray, others in judgement.pairs.items():
        for k in others:
            partners.setdefault(stray, set()).add(k)
            partners.setdefault(k, set()).add(stray)
    findings = []
    points = judgement.solution.points[0][evidence.slot]
    rows = zip(
        *(a.tolist() for a in (implied.sighted, implied.sighted_sd, implied.implied, implied.implied_sd, implied.turn, implied.combined_sd)), strict=True
    )
    for i, (edge, (sighted, sighted_sd, tilt, sd, turn, combined)) in enumerate(zip(evidence.edges, rows, strict=True)):
        known = tilt == tilt
        fellows: tuple[str, ...] = ()
        rule: Rule | None = None
        if not known:
            verdict, rule = Verdict.UNSURE, Rule.NOTHING_TO_CHECK
        elif i in partners:
            verdict, rule = Verdict.UNSURE, Rule.ONE_OF_A_PAIR
            fellows = tuple(evidence.edges[k].id for k in sorted(partners[i]))
        elif judgement.off[i]:
            verdict = Verdict.OFF
        elif judgement.unexamined[i]:
            verdict, rule = Verdict.UNSURE, Rule.UNEXAMINED
        elif combined > tolerances.tilt_deg or abs(turn) > tolerances.tilt_deg:
            verdict, rule = Verdict.UNSURE, Rule.SHORT_EDGE if sighted_sd > sd else Rule.TOO_WEAK
        else:
            verdict, rule = Verdict.HOLDS, Rule.AGREES
        reason = edge_reason(evidence, points[i], i, sighted, turn if known else 0.0, eye_level, judgement.off, rule, fellows)
        findings.append(Finding(edge.id, "edge", edge.judged_tilt_deg, sighted, sighted_sd, tilt if known else None, sd if known else None, verdict, reason))
    return findings


# -- what is reported ----------------------------------------------------------------------


def given_eye_level(setup: Setup) -> EyeLevel | None:
    if setup.eye_level_px is None:
        return None
    return EyeLevel(setup.eye_level_px[0], setup.eye_level_px[1], 0.0, "given")


def _level_at(solution: Solution, x_px: float, loose: bool = False) -> tuple[float, float]:
    """Height (px) of eye level at ``x_px`` and its standard deviation."""
    evidence = solution.evidence
    cx, cy = evidence.setup.centre
    height, slope = eye_level_height(solution.params, (x_px - cx) / evidence.scale)
    slope = slope[solution.view.free]
    covariance = solution.loose_covariance if loose else solution.covariance
    sd = max(float(slope @ covariance @ slope), 0.0) ** 0.5
    return height * evidence.scale + cy, sd * evidence.scale


def found_eye_level(solution: Solution, judgement: Judgement | None, source: str = "edges") -> EyeLevel | None:
    """Eye level from the sightings, or None where they do not fix it: where loosening the faint
    hold on the open questions would loosen eye level with it.
    """
    setup = solution.evidence.setup
    middle = setup.width_px / 2
    height, sd = _level_at(solution, middle)
    _, loose = _level_at(solution, middle, loose=True)
    if loose > 1.3 * sd + 0.02 * setup.point_sd_px or sd > OPEN_EYE_LEVEL * setup.height_px:
        return None
    left, right = (_level_at(solution, x)[0] for x in (0.0, float(setup.width_px)))
    if source == "rims":
        sd *= RIMS_ALONE
    if judgement is not None and judgement.pairs:
        # either of two sightings may be the wrong one: cover both answers
        spread = [0.0]
        for stray, others in judgement.pairs.items():
            for k in others:
                if not solution.evidence.effort.spent():
                    spread.append(_level_at(judgement.trials.swapped(solution, stray, k), middle)[0] - height)
        sd = float(np.hypot(sd, np.sqrt(np.mean(np.square(spread)))))
    return EyeLevel(left, right, sd, source)


@dataclass(frozen=True)
class Halves:
    """The view by the edges alone and by the rims alone."""

    edges: Solution
    rims: Solution


def split(solution: Solution) -> Halves:
    """Settle the view on the agreeing edges and on the rims apart; rims left out as strays count
    again where fewer than two others would remain.
    """
    count = len(solution.evidence.edges)
    edges, rims = solution.active.copy(), solution.active.copy()
    edges[count:], rims[:count] = False, False
    if rims.sum() < 2:
        rims[count:] = True
    return Halves(settle_edges(solution, edges), settle(solution, rims))


def level_from_all(solution: Solution, judgement: Judgement | None, halves: Halves | None) -> tuple[EyeLevel | None, list[Note]]:
    """Eye level with where it comes from, and a note where edges and rims contradict each other."""
    if solution.evidence.rims is None:
        return found_eye_level(solution, judgement), []
    if halves is None:
        return found_eye_level(solution, judgement, "rims"), []
    by_edges, by_rims = found_eye_level(halves.edges, None), found_eye_level(halves.rims, None, "rims")
    used = solution.active[len(solution.evidence.edges) :].any()
    source = "edges" if not used else "rims" if by_edges is None and by_rims is not None else "edges and rims"
    found = found_eye_level(solution, judgement, source)
    if found is None:
        return None, []
    found = replace(found, by_edges=by_edges, by_rims=by_rims)
    setup = solution.evidence.setup
    if by_edges is None or by_rims is None:
        return found, []
    middle = setup.width_px / 2
    gap = (by_edges.height_at(middle, setup.width_px) or 0.0) - (by_rims.height_at(middle, setup.width_px) or 0.0)
    sd = float(np.hypot(by_edges.sd_px or 0.0, by_rims.sd_px or 0.0))
    if abs(gap) <= DEVIATIONS * sd:
        return found, []
    return found, [Note(NoteCode.EDGES_AGAINST_RIMS, carriers(halves, gap), value=gap, other=sd)]


def carriers(halves: Halves, gap_px: float) -> tuple[str, ...]:
    """The two sightings at most without which edges and rims would come closest to agreeing, where
    each alone takes up a third of the gap.
    """
    evidence = halves.edges.evidence
    count = len(evidence.edges)
    names = ids_of(halves.edges)
    middle = evidence.setup.width_px / 2
    change = np.zeros(len(names))
    for solution, sign in ((halves.edges, 1.0), (halves.rims, -1.0)):
        slope = eye_level_height(solution.params, (middle - evidence.setup.centre[0]) / evidence.scale)[1][solution.view.free] * evidence.scale
        moved = left_out_moves(solution) @ slope * sign
        change[: count if sign > 0 else 0] += moved[: count if sign > 0 else 0]
        change[count:] += moved[count:] if sign < 0 else 0.0
    helps = -change * np.sign(gap_px)
    order = [int(i) for i in np.argsort(-helps)[:2] if helps[i] > abs(gap_px) / 3.0]
    return tuple(names[i] for i in order)


def read_eye_level(solution: Solution, judgement: Judgement, halves: Halves | None) -> tuple[EyeLevel, list[Note]]:
    setup = solution.evidence.setup
    given = given_eye_level(setup)
    if given is None:
        found, notes = level_from_all(solution, judgement, halves)
        if found is None:
            return EyeLevel(None, None, None, "none"), [*notes, Note(NoteCode.EYE_LEVEL_OPEN)]
        return found, notes
    bank = solution.evidence.rims
    fitted = () if bank is None else tuple(zip(bank.rims, bank.fits, strict=True))
    alone = find_view(replace(setup, eye_level_px=None), solution.evidence.edges, fitted, solution.evidence.effort.half())
    found, notes = level_from_all(alone, None, split(alone) if fitted and solution.evidence.edges else None)
    if found is None:
        return given, notes
    middle = setup.width_px / 2
    set_at, found_at = given.height_at(middle, setup.width_px), found.height_at(middle, setup.width_px)
    assert set_at is not None and found_at is not None
    return replace(given, found=found), [*notes, Note(NoteCode.SET_AGAINST_FOUND, value=found_at - set_at, other=found.sd_px, text=found.source)]


def read_camera(solution: Solution) -> CameraReading | None:
    """Focal length, view, pitch and roll, each only where the sightings (or Exif) fix it."""
    view, setup = solution.view, solution.evidence.setup
    tight = np.sqrt(np.diag(solution.covariance))
    loose = np.sqrt(np.diag(solution.loose_covariance))
    place = {int(k): i for i, k in enumerate(view.free)}

    def fixed(k: int, limit: float) -> float | None:
        if k not in place:
            return 0.0
        i = place[k]
        return float(tight[i]) if loose[i] < 1.5 * tight[i] and tight[i] < limit else None

    focal_sd, pitch_sd, roll_sd = fixed(LOG_F, 0.4), fixed(PITCH, 0.3), fixed(ROLL, 0.3)
    focal = float(np.exp(solution.params[LOG_F])) * solution.evidence.scale
    reading = CameraReading(
        focal_px=focal if focal_sd is not None else None,
        focal_sd_px=focal * focal_sd if focal_sd is not None else None,
        view_deg=float(np.degrees(2 * np.arctan(setup.width_px / 2 / focal))) if focal_sd is not None else None,
        pitch_deg=float(np.degrees(solution.params[PITCH])) if pitch_sd is not None else None,
        pitch_sd_deg=float(np.degrees(pitch_sd)) if pitch_sd is not None else None,
        roll_deg=float(np.degrees(solution.params[ROLL])) if roll_sd is not None else None,
        roll_sd_deg=float(np.degrees(roll_sd)) if roll_sd is not None else None,
    )
    return reading if any(value is not None for value in (reading.focal_px, reading.pitch_deg, reading.roll_deg)) else None


def read_vanishing_points(solution: Solution, eye_level: EyeLevel) -> list[VanishingPoint]:
    evidence, view = solution.evidence, solution.view
    v, dv = solution.points
    slopes = dv[:, :, view.free]
    spreads = (slopes @ solution.covariance @ slopes.transpose(0, 2, 1)).tolist()
    roll = float(solution.params[ROLL])
    level_way, plumb_way = (math.cos(roll), -math.sin(roll)), (math.sin(roll), math.cos(roll))
    own = own_points(evidence, solution.active)
    if any(point is None for point in own):
        everything = own_points(evidence, np.ones(len(evidence.edges), bool))
        own = [point if point is not None else every for point, every in zip(own, everything, strict=True)]
    points = []
    for m, (form, family, slope) in enumerate(evidence.slot_keys):
        along = level_way if family in LEVEL_FAMILIES else plumb_way
        x, y, direction, sd = _place(v[m].tolist(), spreads[m], along, evidence)
        members = np.flatnonzero(evidence.slot == m)
        if eye_level.source == "none" and len(members) > 1 and nearly_parallel(evidence, members):
            # no view ties this family to others: it meets nowhere that its own edges can show
            tilts = np.degrees(np.arctan2(-(evidence.b - evidence.a)[members, 1], (evidence.b - evidence.a)[members, 0]))
            mean = tilts[0] + np.mean(tilt_difference(tilts, tilts[0]))
            x, y, direction, sd = None, None, float(wrap_tilt(mean)), None
        if sd is not None and len(members) < 2 and sd > 0.5 * math.hypot(x or 0.0, y or 0.0):
            continue
        alone = own[m]
        own_x = own_y = own_direction = above = None
        if alone is not None:
            own_x, own_y, own_direction, _ = _place(alone.tolist(), NO_SPREAD, along, evidence)
            if own_x is not None and own_y is not None and family in LEVEL_FAMILIES:
                level = eye_level.height_at(own_x, evidence.setup.width_px)
                above = None if level is None else level - own_y
        points.append(VanishingPoint(form, family, slope, x, y, direction, sd, own_x, own_y, own_direction, above))
    return points


NO_SPREAD = [[0.0] * 3] * 3


def _place(
    v: list[float], spread: list[list[float]], along: tuple[float, float], evidence: Evidence
) -> tuple[float | None, float | None, float | None, float | None]:
    """Pixel place and spread of a homogeneous point, or its direction where it cannot be told
    from a point at infinity.
    """
    reach = max(math.hypot(v[0], v[1]), 1e-300)
    doubt = math.sqrt(max(spread[2][2], 0.0)) / reach
    if abs(v[2]) / reach < max(2.0 * doubt, 1e-6):
        return None, None, float(wrap_tilt(math.degrees(math.atan2(-v[1], v[0])))), None
    x, y = v[0] / v[2], v[1] / v[2]
    run = (along[0] / v[2], along[1] / v[2], -(along[0] * x + along[1] * y) / v[2])
    variance = sum(run[i] * spread[i][k] * run[k] for i in range(3) for k in range(3))
    cx, cy = evidence.setup.centre
    return x * evidence.scale + cx, y * evidence.scale + cy, None, math.sqrt(max(variance, 0.0)) * evidence.scale


# -- notes ---------------------------------------------------------------------------------


def family_notes(solution: Solution, eye_level: EyeLevel) -> list[Note]:
    evidence = solution.evidence
    notes = []
    level = [m for m, key in enumerate(evidence.slot_keys) if key[1] in LEVEL_FAMILIES]
    if eye_level.source == "none" and len(evidence.slot_keys) == 1 and evidence.rims is None:
        notes.append(Note(NoteCode.ONE_FAMILY, text=evidence.slot_keys[0][1].value))
    for m in level:
        members = np.flatnonzero(evidence.slot == m)
        names = tuple(evidence.edges[i].id for i in members)
        if len(members) == 1:
            notes.append(Note(NoteCode.FAMILY_OF_ONE, names, text=evidence.slot_keys[m][1].value))
        elif len(members) and eye_level.source == "none" and nearly_parallel(evidence, members):
            notes.append(Note(NoteCode.NEARLY_PARALLEL, names, text=evidence.slot_keys[m][1].value))
    return notes


def nearly_parallel(evidence: Evidence, members: np.ndarray) -> bool:
    tilts = np.degrees(np.arctan2(-(evidence.b - evidence.a)[members, 1], (evidence.b - evidence.a)[members, 0]))
    spread = np.abs(tilt_difference(tilts, tilts[0]))
    reading = np.degrees(evidence.sd * np.sqrt(2.0) / np.hypot(*(evidence.b - evidence.a)[members].T))
    return bool(np.all(spread < 2.0 * np.hypot(reading, reading[0])))


def stray_notes(judgement: Judgement) -> list[Note]:
    edges = judgement.solution.evidence.edges
    notes = []
    paired = set(judgement.pairs) | {k for others in judgement.pairs.values() for k in others}
    for stray, others in judgement.pairs.items():
        notes.append(Note(NoteCode.PAIR, tuple(edges[i].id for i in (stray, *others))))
    alone = [int(k) for k in np.flatnonzero(judgement.off[: len(edges)]) if int(k) not in paired]
    if len(alone) > MOST_STRAYS:
        notes.append(Note(NoteCode.STRAYS, tuple(edges[k].id for k in alone)))
    else:
        notes += [Note(NoteCode.STRAY, (edges[k].id,), value=float(judgement.implied.turn[k])) for k in alone]
    left = tuple(id for id, on in zip(ids_of(judgement.solution), judgement.unexamined, strict=True) if on)
    if left:
        notes.insert(0, Note(NoteCode.UNEXAMINED, left))
    active, bank = judgement.solution.active, judgement.solution.evidence.rims
    if bank is not None:
        notes += [Note(NoteCode.SHORT_ARC, (r.id,), value=f.coverage_deg) for r, f in zip(bank.rims, bank.fits, strict=True) if f.too_short or not f.converged]
    spare = int(active[: len(edges)].sum() + 2 * active[len(edges) :].sum()) - len(judgement.solution.view.free)
    if spare >= 3 and judgement.solution.chi2 > spare + 4.0 * np.sqrt(2.0 * spare):
        notes.append(Note(NoteCode.DISAGREE, value=float(np.sqrt(judgement.solution.chi2 / spare))))
    return notes


def picture_notes(solution: Solution, camera: CameraReading | None, given: Setup) -> list[Note]:
    evidence, setup = solution.evidence, solution.evidence.setup
    notes = []
    ends: dict[str, tuple[Point, ...]] = {e.id: (e.p, e.q) for e in evidence.edges}
    if evidence.rims is not None:
        ends |= {r.id: r.laid for r in evidence.rims.rims}
    slack = 0.02 * setup.long_side_px
    outside = tuple(
        i for i, ends_ in ends.items() if not all(-slack <= x <= setup.width_px + slack and -slack <= y <= setup.height_px + slack for x, y in ends_)
    )
    if outside:
        notes.append(Note(NoteCode.OUTSIDE, outside))
    focal_35mm = given.focal_35mm
    if focal_35mm is not None and setup.focal_35mm is None:
        focal = float(np.exp(solution.params[LOG_F])) * evidence.scale
        notes.append(Note(NoteCode.EXIF_DISAGREES, value=focal, other=setup.long_side_px * focal_35mm / 36.0))
    if camera is None or camera.focal_px is None:
        notes.append(Note(NoteCode.FOCAL_OPEN))
    else:
        cx, cy = setup.centre
        reach = np.tan(np.radians(30.0)) * camera.focal_px
        wide = tuple(i for i, laid in ends.items() if max(np.hypot(x - cx, y - cy) for x, y in laid) > reach)
        if wide:
            notes.append(Note(NoteCode.WIDE, wide, value=float(reach)))
    if not solution.converged:
        notes.append(Note(NoteCode.NO_CONVERGENCE))
    return notes
