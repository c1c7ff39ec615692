"""The main job: check every sighting against the others, eye level and the vanishing points."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from aspectum.core.aids.ladder import ladder
from aspectum.core.aids.probe import Probe, probe_points, probe_straight, probe_view
from aspectum.core.aids.rail import sheet_rail
from aspectum.core.findings import OPEN, CameraReading, CheckResult, Note, NoteCode, VanishingPoint, places_of
from aspectum.core.judge.alignments import alignment_finding
from aspectum.core.judge.edges import edge_findings
from aspectum.core.judge.lengths import length_findings
from aspectum.core.judge.notes import crossing_notes, family_notes, picture_notes, stray_notes
from aspectum.core.judge.overhead import overhead_findings
from aspectum.core.judge.parallel import parallel_findings
from aspectum.core.judge.rims import rim_findings
from aspectum.core.judge.weigh import weigh
from aspectum.core.plane.rim_fit import RimFit, fit_rim
from aspectum.core.sightings import Alignment, Edge, Family, Length, Looking, Perspective, Point, Rim, Setup
from aspectum.core.tolerance import FREEHAND, Tolerances
from aspectum.core.view.camera_reading import read_camera
from aspectum.core.view.evidence import FittedRims
from aspectum.core.view.eye_level import given_eye_level, read_eye_level, split
from aspectum.core.view.find import find_view, name_perspective
from aspectum.core.view.left_out import implied_rims
from aspectum.core.view.posterior import Posterior
from aspectum.core.view.vanishing_points import read_vanishing_points


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
        fitted = fit_all(setup, edges, rims or [])
        measured = length_findings(lengths or [], setup, tolerances)
        measured += [alignment_finding(item, setup, tolerances) for item in alignments or ()]
        if setup.looking is not Looking.AHEAD:
            found, points, notes = overhead_findings(setup, edges, tolerances, fitted, round_forms)
            result = CheckResult(Perspective.ONE_POINT, OPEN, None, points, found, notes)
        elif setup.perspective is Perspective.PARALLEL:
            found, points, notes = parallel_findings(setup, edges, tolerances, fitted)
            result = CheckResult(setup.perspective, OPEN, None, points, found, notes)
        else:
            result = check_converging(setup, edges, tolerances, fitted, round_forms)
    return replace(result, findings=result.findings + measured)


@dataclass(frozen=True)
class Look:
    """The view that stands behind a sheet, for questions that are about none of its sightings. ``posterior``: None for a
    drawing that no camera stands behind, whose ``points`` are all there is to ask.
    """

    setup: Setup
    points: list[VanishingPoint]
    camera: CameraReading | None = None
    posterior: Posterior | None = None

    def probe(self, at: Point) -> Probe:
        """What must run at ``at`` (px)."""
        if self.posterior is not None:
            return probe_view(self.posterior, self.camera, at)
        return (probe_points if self.setup.looking is Looking.AHEAD else probe_straight)(self.points, at)


def look(setup: Setup, edges: list[Edge], rims: list[Rim]) -> Look:
    """Find the view of a sheet and leave its sightings unjudged. Raises ``ValueError`` as ``check`` does."""
    with np.errstate(all="ignore"):
        fitted = fit_all(setup, edges, rims)
        counted, _ = drop_repeats(edges)
        if setup.looking is not Looking.AHEAD:
            return Look(setup, overhead_findings(setup, edges, FREEHAND, fitted, frozenset())[1])
        if setup.perspective is Perspective.PARALLEL:
            return Look(setup, parallel_findings(setup, edges, FREEHAND, fitted)[1])
        if not counted and not fitted:
            return Look(setup, [])
        posterior = Posterior.of(find_view(setup, tuple(counted), fitted))
        eye_level, _ = read_eye_level(posterior, None)
        return Look(setup, read_vanishing_points(posterior, eye_level), read_camera(posterior), posterior)


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


def check_converging(setup: Setup, edges: list[Edge], tolerances: Tolerances, fitted: FittedRims, round_forms: frozenset[str]) -> CheckResult:
    """Check edges and rims that converge: find the view, then weigh each sighting against the rest."""
    counted, repeats = drop_repeats(edges)
    notes = [Note(NoteCode.SAME_LINE, pair) for pair in repeats]
    if not counted and not fitted:
        return CheckResult(setup.perspective, given_eye_level(setup) or OPEN, None, [], [], [Note(NoteCode.NO_EDGES)])

    posterior = Posterior.of(find_view(setup, tuple(counted), fitted))
    solution, weighing = posterior.solution, weigh(posterior, tolerances)
    halves = split(solution) if fitted and counted else None
    eye_level, eye_notes = read_eye_level(posterior, halves)
    camera = read_camera(posterior)
    points = read_vanishing_points(posterior, eye_level)

    places = places_of(points)
    by_id = {f.sighting: f for f in edge_findings(weighing, eye_level, tolerances, places)}
    twin = {b: a for a, b in repeats}
    findings = [by_id[e.id] if e.id in by_id else replace(by_id[twin[e.id]], sighting=e.id, judged=e.judged_tilt_deg) for e in edges]
    if fitted:
        alone = (None, None) if halves is None else (implied_rims(halves.edges.solution), implied_rims(halves.rims.solution))
        findings += rim_findings(weighing, eye_level, tolerances, round_forms, places, *alone)

    notes += eye_notes + stray_notes(weighing) + family_notes(solution, eye_level) + crossing_notes(solution.evidence)
    notes += picture_notes(solution, camera, setup)
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
