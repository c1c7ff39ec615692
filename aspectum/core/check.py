"""The main job: check every sighting against the others, eye level and the vanishing points."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from aspectum.core import parallel
from aspectum.core.lines import tilt_difference, wrap_tilt
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
    Rule,
    Setup,
    Tolerances,
    VanishingPoint,
    Verdict,
)
from aspectum.core.projection import LOG_F, PITCH, ROLL, eye_level_height
from aspectum.core.reasons import crossing_notes, edge_reason
from aspectum.core.sift import STRAY_AT, Implied, implied_tilts, rivals, solve, strain
from aspectum.core.solve import Evidence, Flags, Solution, gather, own_points, settle, slope_key, view_for

DEVIATIONS = 2.0  # standard deviations beyond which a disagreement is no reading error
OPEN_EYE_LEVEL = 0.3  # of the picture's height: an eye level looser than this is not fixed
SHIFT_GAIN = 8.0  # chi-square by which a shifted view must beat a pitched one


def check(
    setup: Setup,
    edges: list[Edge],
    lengths: list[Length] | None = None,
    alignments: list[Alignment] | None = None,
    tolerances: Tolerances = FREEHAND,
) -> CheckResult:
    """Judge all sightings of one sheet.

    Findings come edges first, then lengths and alignments, each in the order given. Raises
    ``ValueError`` for an edge whose two ends coincide.
    """
    measured = [check_length(item, lengths or [], setup, tolerances) for item in lengths or []]
    measured += [check_alignment(item, setup, tolerances) for item in alignments or []]
    for edge in edges:
        if np.hypot(edge.q[0] - edge.p[0], edge.q[1] - edge.p[1]) < 1e-6:
            raise ValueError(f"edge {edge.id}: its two ends coincide")
    result = parallel.check(setup, edges, tolerances) if setup.perspective is Perspective.PARALLEL else check_converging(setup, edges, tolerances)
    return replace(result, findings=result.findings + measured)


@dataclass(frozen=True)
class Judgement:
    """Verdicts of the edges and the solutions behind them. ``pairs``: rival explanations."""

    solution: Solution
    implied: Implied
    off: Flags
    pairs: dict[int, list[int]]
    all_alike: bool


def check_converging(setup: Setup, edges: list[Edge], tolerances: Tolerances) -> CheckResult:
    """Check edges that converge: find the view, then weigh each edge against the rest."""
    counted, repeats = drop_repeats(edges)
    notes = [Note(NoteCode.SAME_LINE, pair) for pair in repeats]
    if not counted:
        given = given_eye_level(setup)
        return CheckResult(setup.perspective, given or EyeLevel(None, None, None, "none"), None, [], [], [Note(NoteCode.NO_EDGES)])
    solution = find_view(setup, tuple(counted))
    judgement = judge(solution, tolerances)
    solution = judgement.solution
    eye_level, eye_notes = read_eye_level(solution, judgement)
    camera = read_camera(solution)
    points = read_vanishing_points(solution, eye_level)
    notes += eye_notes + family_notes(solution, eye_level) + crossing_notes(solution.evidence)
    notes += stray_notes(judgement) + picture_notes(solution, camera, setup)
    by_id = {e.id: finding for e, finding in zip(counted, edge_findings(judgement, eye_level, tolerances), strict=True)}
    twin = {b: a for a, b in repeats}
    findings = [replace(by_id[twin.get(e.id, e.id)], sighting=e.id, judged=e.judged_tilt_deg) for e in edges]
    return CheckResult(name_perspective(solution, tolerances), eye_level, camera, points, findings, notes)


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


def find_view(setup: Setup, edges: tuple[Edge, ...]) -> Solution:
    """Fit the stated perspective, or, for ``auto``, the one that the sightings speak for, to the
    edges that agree.

    A focal length from Exif that the edges flatly contradict is set aside: the picture is cropped.
    """
    found = fit_view(setup, edges)
    spare = max(len(edges) - len(found.view.free), 1)
    if setup.focal_35mm is not None and strain(found) > spare + SHIFT_GAIN:
        alone = fit_view(replace(setup, focal_35mm=None), edges)
        if strain(alone) + STRAY_AT**2 < strain(found):
            return alone
    return found


def fit_view(setup: Setup, edges: tuple[Edge, ...]) -> Solution:
    """As ``find_view``, taking the setup at its word."""
    stated = setup.perspective
    families = {e.family for e in edges}
    plans = choose_plans(setup, edges)
    evidence = gather(setup, edges, plans)
    if stated is not Perspective.AUTO:
        return solve(evidence, view_for(evidence, stated))
    general = solve(evidence, view_for(evidence, Perspective.THREE_POINT))
    if setup.centre_px is not None or setup.level_camera:
        return general
    frontal = bool(families & {Family.DEPTH, Family.ACROSS})
    spare = len(edges) - len(general.view.free)
    if not frontal and strain(general) < max(spare, 1) + SHIFT_GAIN:
        return general
    shifted = Perspective.ONE_POINT if frontal else Perspective.TWO_POINT
    other = solve(evidence, view_for(evidence, shifted))
    fewer = len(general.view.free) - len(other.view.free)
    margin = -2.0 * fewer if frontal else SHIFT_GAIN
    return other if strain(other) + margin < strain(general) else general


def choose_plans(setup: Setup, edges: tuple[Edge, ...]) -> dict[str, Family]:
    """Each slope group's plan family: as stated, or the one whose plumb line it fits better."""
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
    for key in unstated:
        costs = {}
        for family in (Family.LEFT, Family.RIGHT):
            evidence = gather(setup, edges, plans | {key: family})
            perspective = Perspective.THREE_POINT if setup.perspective is Perspective.AUTO else setup.perspective
            costs[family] = strain(solve(evidence, view_for(evidence, perspective)))
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
    families = {e.family for e in solution.evidence.edges}
    return (
        Perspective.ONE_POINT
        if families <= {Family.DEPTH, Family.ACROSS, Family.UPRIGHT, Family.SLOPE} and families & {Family.DEPTH, Family.ACROSS}
        else Perspective.TWO_POINT
    )


# -- verdicts ------------------------------------------------------------------------------


def judge(solution: Solution, tolerances: Tolerances) -> Judgement:
    """Call strays one at a time, each weighed with the strays found before it left out, so that
    one wrong edge cannot drag others along.
    """
    count = len(solution.evidence.edges)
    off = np.zeros(count, bool)
    pairs: dict[int, list[int]] = {}
    for index in np.flatnonzero(~solution.active):
        others = rivals(solution, int(index))
        if others:
            pairs[int(index)] = others
    clean = solution
    for _ in range(max(1, count // 3)):
        implied = implied_tilts(clean)
        beyond = beyond_doubt(implied, tolerances) & ~off
        fresh = beyond & clean.active
        if not fresh.any() or int(clean.active.sum()) <= 3:
            break
        worst = int(np.argmax(np.where(fresh, np.abs(implied.t), 0.0)))
        trial = clean.active.copy()
        trial[worst] = False
        without = settle(clean, trial)
        others = rivals(without, worst)
        if others:
            pairs[worst] = others
        clean = without
    implied = implied_tilts(clean)
    off = beyond_doubt(implied, tolerances) & ~clean.active
    unexplained = [index for index in np.flatnonzero(~clean.active) if not off[index]]
    for index in unexplained:
        pairs.pop(int(index), None)
    if pairs:
        implied = with_rivals(clean, implied, pairs)
    return Judgement(solution, implied, off, pairs, False)


def beyond_doubt(implied: Implied, tolerances: Tolerances) -> Flags:
    with np.errstate(invalid="ignore"):
        return np.abs(implied.turn) > np.maximum(tolerances.tilt_deg, DEVIATIONS * implied.combined_sd)


def with_rivals(clean: Solution, implied: Implied, pairs: dict[int, list[int]]) -> Implied:
    """Where an edge could be the wrong one instead of the stray it is paired with, imply its tilt
    with the stray back in and itself left out.
    """
    tilt, sd = implied.implied.copy(), implied.implied_sd.copy()
    for stray, others in pairs.items():
        for k in others:
            trial = clean.active.copy()
            trial[stray], trial[k] = True, False
            swapped = implied_tilts(settle(clean, trial))
            tilt[k], sd[k] = swapped.implied[k], swapped.implied_sd[k]
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


def found_eye_level(solution: Solution, judgement: Judgement | None) -> EyeLevel | None:
    """Eye level from the edges, or None where they do not fix it: where loosening the faint hold
    on the open questions would loosen eye level with it.
    """
    setup = solution.evidence.setup
    middle = setup.width_px / 2
    height, sd = _level_at(solution, middle)
    _, loose = _level_at(solution, middle, loose=True)
    if loose > 1.3 * sd + 0.02 * setup.point_sd_px or sd > OPEN_EYE_LEVEL * setup.height_px:
        return None
    left, right = (_level_at(solution, x)[0] for x in (0.0, float(setup.width_px)))
    if judgement is not None and judgement.pairs:
        # either of two sightings may be the wrong one: cover both answers
        spread = [0.0]
        for stray, others in judgement.pairs.items():
            for k in others:
                trial = solution.active.copy()
                trial[stray], trial[k] = True, False
                spread.append(_level_at(settle(solution, trial), middle)[0] - height)
        sd = float(np.hypot(sd, np.sqrt(np.mean(np.square(spread)))))
    return EyeLevel(left, right, sd, "edges")


def read_eye_level(solution: Solution, judgement: Judgement) -> tuple[EyeLevel, list[Note]]:
    setup = solution.evidence.setup
    given = given_eye_level(setup)
    if given is None:
        found = found_eye_level(solution, judgement)
        if found is None:
            return EyeLevel(None, None, None, "none"), [Note(NoteCode.EYE_LEVEL_OPEN)]
        return found, []
    alone = replace(setup, eye_level_px=None)
    found = found_eye_level(find_view(alone, solution.evidence.edges), None)
    if found is None:
        return given, []
    middle = setup.width_px / 2
    set_at, found_at = given.height_at(middle, setup.width_px), found.height_at(middle, setup.width_px)
    assert set_at is not None and found_at is not None
    return replace(given, found=found), [Note(NoteCode.SET_AGAINST_FOUND, value=found_at - set_at, other=found.sd_px)]


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
    if eye_level.source == "none" and len(evidence.slot_keys) == 1:
        notes.append(Note(NoteCode.ONE_FAMILY, text=evidence.slot_keys[0][1].value))
    for m in level:
        members = np.flatnonzero(evidence.slot == m)
        names = tuple(evidence.edges[i].id for i in members)
        if len(members) == 1:
            notes.append(Note(NoteCode.FAMILY_OF_ONE, names, text=evidence.slot_keys[m][1].value))
        elif eye_level.source == "none" and nearly_parallel(evidence, members):
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
    for index in np.flatnonzero(judgement.off):
        if int(index) not in paired:
            notes.append(Note(NoteCode.STRAY, (edges[index].id,), value=float(judgement.implied.turn[index])))
    spare = int(judgement.solution.active.sum()) - len(judgement.solution.view.free)
    if spare >= 3 and judgement.solution.chi2 > spare + 4.0 * np.sqrt(2.0 * spare):
        notes.append(Note(NoteCode.DISAGREE, value=float(np.sqrt(judgement.solution.chi2 / spare))))
    return notes


def picture_notes(solution: Solution, camera: CameraReading | None, given: Setup) -> list[Note]:
    evidence, setup = solution.evidence, solution.evidence.setup
    notes = []
    ends = {e.id: (e.p, e.q) for e in evidence.edges}
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
        wide = tuple(i for i, (p, q) in ends.items() if max(np.hypot(p[0] - cx, p[1] - cy), np.hypot(q[0] - cx, q[1] - cy)) > reach)
        if wide:
            notes.append(Note(NoteCode.WIDE, wide, value=float(reach)))
    if not solution.converged:
        notes.append(Note(NoteCode.NO_CONVERGENCE))
    return notes
