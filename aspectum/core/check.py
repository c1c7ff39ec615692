"""The main job: check every sighting against the others, eye level and the vanishing points."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from aspectum.core.aids.ladder import ladder
from aspectum.core.aids.rail import sheet_rail
from aspectum.core.findings import OPEN, CheckResult, Note, NoteCode, places_of
from aspectum.core.form.bundle import SolvedForms
from aspectum.core.form.heights import heights_in_metres, measure, standing
from aspectum.core.form.size import all_proportions
from aspectum.core.form.solve import lines_of, solve_forms
from aspectum.core.judge.alignments import alignment_findings
from aspectum.core.judge.divisions import apex_notes, division_findings, face_findings, spacing_notes
from aspectum.core.judge.edges import edge_findings
from aspectum.core.judge.heights import equal_notes, height_findings
from aspectum.core.judge.lengths import length_findings
from aspectum.core.judge.notes import cone_notes, crossing_notes, family_notes, picture_notes, stray_notes
from aspectum.core.judge.overhead import overhead_findings
from aspectum.core.judge.parallel import parallel_findings
from aspectum.core.judge.rims import rim_findings
from aspectum.core.judge.weigh import weigh
from aspectum.core.plane.compiled import foresee
from aspectum.core.plane.rim_fit import RimFit, fit_rim
from aspectum.core.sightings import Edge, Family, Looking, Measured, Perspective, Rim, Setup
from aspectum.core.tolerance import FREEHAND, Tolerances
from aspectum.core.view.camera_reading import read_camera
from aspectum.core.view.evidence import FittedRims
from aspectum.core.view.eye_level import given_eye_level, read_eye_level, split
from aspectum.core.view.find import find_view, name_perspective
from aspectum.core.view.left_out import implied_rims
from aspectum.core.view.posterior import Posterior
from aspectum.core.view.vanishing_points import read_vanishing_points

# seconds that Python alone takes over each, measured on sheets of two to twenty
PYTHON_S_AN_EDGE, PYTHON_S_A_RIM = 0.02, 0.3


def check(
    setup: Setup,
    edges: list[Edge],
    rims: list[Rim] | None = None,
    measured: Measured | None = None,
    tolerances: Tolerances = FREEHAND,
    round_forms: frozenset[str] = frozenset(),
) -> CheckResult:
    """Judge all sightings of one sheet; ``round_forms`` are cylinders, whose sides touch their rims.

    Findings come edges first, then rims, then lengths, alignments, faces, divisions and heights, each in the order
    given. Raises ``ValueError`` for an edge whose two ends coincide and for a rim that its points do not make; any
    other finite sightings are answered, if only with what they leave open.
    """
    measured = measured or Measured()
    foresee(PYTHON_S_AN_EDGE * len(edges) + PYTHON_S_A_RIM * len(rims or ()))
    # points far out overflow on the way to answers that are then open
    with np.errstate(all="ignore"):
        fitted, solved = fit_all(setup, edges, rims or []), None
        if setup.looking is not Looking.AHEAD:
            found, points, notes = overhead_findings(setup, edges, tolerances, fitted, round_forms)
            result = CheckResult(Perspective.ONE_POINT, OPEN, None, points, found, notes)
        elif setup.perspective is Perspective.PARALLEL:
            found, points, notes = parallel_findings(setup, edges, tolerances, fitted)
            result = CheckResult(setup.perspective, OPEN, None, points, found, notes)
        else:
            result, posterior = check_converging(setup, edges, tolerances, fitted, round_forms)
            solved = solve_all(setup, posterior, edges, measured)
        return with_measured(result, setup, edges, measured, solved, tolerances)


def solve_all(setup: Setup, posterior: Posterior | None, edges: list[Edge], measured: Measured) -> SolvedForms | None:
    """Solve the forms from the view that the edges and rims have, or, where none are sighted, from the sides of faces
    and the heights.
    """
    if posterior is not None:
        return solve_forms(posterior.solution, edges, measured.faces, measured.heights)
    lines = lines_of(measured.faces, measured.heights)
    return solve_forms(find_view(setup, lines)[0], [], measured.faces, measured.heights) if lines else None


def with_measured(
    result: CheckResult,
    setup: Setup,
    edges: list[Edge],
    measured: Measured,
    solved: SolvedForms | None,
    tolerances: Tolerances,
) -> CheckResult:
    """``result`` with all that is measured, and with the forms' true proportions."""
    tall, by = {}, None
    if solved is not None:
        tall = standing(solved, measured.heights)
        by = measure(solved, measured.heights, tall)
        tall = heights_in_metres(solved, tall, by)
    divided = division_findings(measured.faces, measured.divisions, solved, setup, tolerances)
    found = length_findings(measured.lengths, setup, tolerances, solved)
    found += alignment_findings(measured.alignments, setup, tolerances, solved)
    found += face_findings(measured.faces, solved, setup, tolerances) + divided
    found += height_findings(measured.heights, tall, by, tolerances, solved is not None)
    notes = spacing_notes(measured.faces, measured.divisions, divided, tolerances) + apex_notes(
        measured.faces, edges, solved, setup, tolerances
    )
    notes += equal_notes(solved, tall, tolerances) + cone_notes(
        setup, result.camera, measured.divisions, measured.heights
    )
    return replace(
        result,
        findings=result.findings + found,
        notes=result.notes + notes,
        forms=all_proportions(edges, measured.faces, solved, by),
    )


def fit_all(setup: Setup, edges: list[Edge], rims: list[Rim]) -> FittedRims:
    """Every rim with its ellipse. Raises ``ValueError`` for what makes no sighting, an edge without length among it."""
    for edge in edges:
        if math.hypot(edge.q[0] - edge.p[0], edge.q[1] - edge.p[1]) < 1e-6:
            raise ValueError(f"edge {edge.id}: its two ends coincide")
    return tuple((rim, fitted_rim(rim, setup.point_sd_px)) for rim in rims)


def fitted_rim(rim: Rim, point_sd_px: float) -> RimFit:
    try:
        return fit_rim(rim.points, point_sd_px, rim.ends, rim.near)
    except ValueError as error:
        raise ValueError(f"rim {rim.id}: {error}") from error


def check_converging(
    setup: Setup, edges: list[Edge], tolerances: Tolerances, fitted: FittedRims, round_forms: frozenset[str]
) -> tuple[CheckResult, Posterior | None]:
    """Check edges and rims that converge: find the view, then weigh each sighting against the rest."""
    counted, repeats = drop_repeats(edges)
    notes = [Note(NoteCode.SAME_LINE, pair) for pair in repeats]
    if not counted and not fitted:
        return CheckResult(
            setup.perspective, given_eye_level(setup) or OPEN, None, [], [], [Note(NoteCode.NO_EDGES)]
        ), None

    posterior = Posterior.of(find_view(setup, tuple(counted), fitted))
    solution, weighing = posterior.solution, weigh(posterior, tolerances)
    halves = split(solution) if fitted and counted else None
    eye_level, eye_notes = read_eye_level(posterior, halves)
    camera = read_camera(posterior)
    points = read_vanishing_points(posterior, eye_level)

    places = places_of(points)
    by_id = {f.sighting: f for f in edge_findings(weighing, eye_level, tolerances, places)}
    twin = {b: a for a, b in repeats}
    findings = [
        by_id[e.id] if e.id in by_id else replace(by_id[twin[e.id]], sighting=e.id, judged=e.judged_tilt_deg)
        for e in edges
    ]
    if fitted:
        alone = (
            (None, None)
            if halves is None
            else (implied_rims(halves.edges.solution), implied_rims(halves.rims.solution))
        )
        findings += rim_findings(weighing, eye_level, tolerances, round_forms, places, *alone)

    notes += eye_notes + stray_notes(weighing) + family_notes(solution, eye_level) + crossing_notes(solution.evidence)
    notes += picture_notes(solution, camera, setup)
    rail = sheet_rail(setup, eye_level, camera, edges)
    named = name_perspective(solution, tolerances)
    return CheckResult(
        named, eye_level, camera, points, findings, notes, rail, ladder(solution, eye_level, rail)
    ), posterior


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
