"""Checking a sheet: from the open format to the core and back to a report."""

from __future__ import annotations

import logging
from dataclasses import replace
from typing import Any

import numpy as np

from aspectum.core.check import check
from aspectum.core.lines import lean_deg, tilt_difference
from aspectum.core.measures import nearest_fraction
from aspectum.core.model import (
    FREEHAND,
    Alignment,
    CheckResult,
    Edge,
    Ellipse,
    EyeLevel,
    Family,
    Finding,
    Length,
    NoteCode,
    Perspective,
    Plane,
    Point,
    Reason,
    Rim,
    RimReading,
    Rule,
    Rung,
    Setup,
    Tolerances,
    Verdict,
)
from aspectum.core.near_corner import LENGTH_SD, STICK_SD_DEG, End, NearCorner, Reading, Side, far_upright, near_corner
from aspectum.core.propose import propose_family
from aspectum.formats.report import (
    AloneEyeLevel,
    FoundEyeLevel,
    Report,
    ReportAlone,
    ReportCamera,
    ReportEllipse,
    ReportEyeLevel,
    ReportFault,
    ReportFinding,
    ReportLadder,
    ReportNearCorner,
    ReportRailMark,
    ReportRim,
    ReportRung,
    ReportSide,
    ReportVanishingPoint,
)
from aspectum.formats.sheet import AlignmentSighting, EdgeSighting, LengthSighting, RimSighting, SightingSheet
from aspectum.service import words

log = logging.getLogger(__name__)


def check_sheet(sheet: SightingSheet, tolerances: Tolerances = FREEHAND, file: str | None = None) -> Report:
    """Judge every sighting of ``sheet``."""
    laid = [s for s in sheet.sightings if isinstance(s, EdgeSighting) and s.tilt_deg is None]
    read = [s for s in sheet.sightings if isinstance(s, EdgeSighting) and s.tilt_deg is not None]
    edges = [core_edge(s) for s in laid]
    lengths = [
        Length(s.id, s.p, s.q, s.along, s.unit, s.judged_ratio)
        for s in sheet.sightings
        if isinstance(s, LengthSighting) and s.p is not None and s.q is not None
    ]
    alignments = [Alignment(s.id, s.p, s.q, s.along) for s in sheet.sightings if isinstance(s, AlignmentSighting)]
    setup = core_setup(sheet)
    rims = [core_rim(s) for s in sheet.sightings if isinstance(s, RimSighting)]
    if sheet.lowest_rim_extra_deg and not tolerances.lowest_rim_deg:
        tolerances = replace(tolerances, lowest_rim_deg=sheet.lowest_rim_extra_deg)
    round_forms = frozenset(f.id for f in sheet.forms if f.kind == "cylinder")
    result = check(setup, edges, lengths, alignments, tolerances, rims, round_forms)
    names = naming(sheet)
    families = {e.id: e.family for e in edges}
    by_id = {f.sighting: report_finding(f, families.get(f.sighting), names) for f in result.findings}
    card = near_corner([core_reading(s) for s in read if s.family in ("left", "right")]) if read else None
    for s in read:
        by_id[s.id] = read_finding(s, card, names)
    for length in sheet.sightings:
        if isinstance(length, LengthSighting) and length.ratio is not None:
            by_id[length.id] = read_length(length, sheet, card, tolerances)
    notes = result.notes
    if read and not laid and not rims:
        notes = []
    elif read:
        notes = [note for note in notes if note.code is not NoteCode.NO_EDGES]
    return Report(
        file=file,
        perspective=result.perspective.value,
        eye_level=report_eye_level(result),
        camera=None if result.camera is None else ReportCamera(**vars(result.camera)),
        vanishing_points=[ReportVanishingPoint(**(vars(v) | {"family": v.family.value})) for v in result.vanishing_points],
        findings=[by_id[s.id] for s in sheet.sightings],
        level_rail=[ReportRailMark(**vars(m)) for m in result.rail],
        ladders=[ReportLadder(form=x.form, like=x.like, rungs=[report_rung(r) for r in x.rungs]) for x in result.ladders],
        near_corner=None if card is None else report_card(card, names),
        notes=[words.note_words(note, result, names) for note in notes],
    )


def check_kept(sheet: SightingSheet, tolerances: Tolerances = FREEHAND) -> Report:
    """``check_sheet`` for work that must be kept and opened whatever the check makes of it: where
    the check fails, a report that says so in place of its verdicts.
    """
    try:
        return check_sheet(sheet, tolerances)
    except Exception:
        log.exception("a sheet of %d sightings could not be checked", len(sheet.sightings))
        return unchecked(sheet)


def unchecked(sheet: SightingSheet) -> Report:
    said = "Not checked: the check met an error on this sheet. The sighting is kept as it was laid."
    return Report(
        perspective=sheet.perspective,
        eye_level=ReportEyeLevel(source="none"),
        findings=[ReportFinding(sighting=s.id, kind=s.kind, verdict="unsure", words=said, rule=Rule.UNEXAMINED.value) for s in sheet.sightings],
        notes=["This sheet could not be checked. Everything laid is kept; taking the last sighting away may help."],
    )


def propose_for_sheet(sheet: SightingSheet, form: str, p: Point, q: Point) -> Family:
    """The likeliest family of an edge about to be laid on ``form``."""
    edges = [core_edge(s) for s in sheet.sightings if isinstance(s, EdgeSighting) and s.tilt_deg is None]
    return propose_family(core_setup(sheet), edges, form, p, q)


def core_setup(sheet: SightingSheet) -> Setup:
    given = sheet.eye_level
    return Setup(
        width_px=sheet.picture.width_px,
        height_px=sheet.picture.height_px,
        perspective=Perspective(sheet.perspective),
        point_sd_px=sheet.point_sd_px,
        focal_35mm=sheet.picture.focal_35mm,
        centre_px=sheet.picture.centre_px,
        eye_level_px=None if given is None else (given.left_y_px, given.right_y_px),
        level_camera=sheet.level_camera,
    )


def core_edge(s: EdgeSighting) -> Edge:
    assert s.p is not None and s.q is not None
    return Edge(s.id, s.form or "form", Family(s.family), s.p, s.q, s.slope, None if s.plan is None else Family(s.plan), s.judged_tilt_deg)


def core_rim(s: RimSighting) -> Rim:
    return Rim(s.id, s.form or "form", Plane(s.plane), tuple(s.points), s.ends, s.near, s.judged_degree_deg)


def core_reading(s: EdgeSighting) -> Reading:
    assert s.tilt_deg is not None
    height = {End.NEAR_TOP.value: 0.0, End.NEAR_BOTTOM.value: 1.0}[s.end] if isinstance(s.end, str) else float(s.end or 0.0)
    return Reading(s.id, s.family, height, s.tilt_deg, s.sd_deg or STICK_SD_DEG)


def naming(sheet: SightingSheet) -> words.Names:
    """How sentences call a sighting: by its name, or by its family letter and number."""
    called = {s.id: (s.name or s.id) for s in sheet.sightings}
    return lambda id: f"“{called.get(id, id)}”"


def report_finding(finding: Finding, family: Family | None, names: words.Names) -> ReportFinding:
    difference = None
    if finding.judged is not None and finding.sighted is not None:
        difference = float(tilt_difference(finding.judged, finding.sighted)) if finding.kind == "edge" else finding.judged - finding.sighted
    reason = finding.reason

    def lean(tilt: float | None) -> float | None:
        return float(lean_deg(tilt)) if tilt is not None and family is Family.UPRIGHT else None

    return ReportFinding(
        sighting=finding.sighting,
        kind=finding.kind,  # type: ignore[arg-type]  # core kinds are the format's
        judged=finding.judged,
        sighted=finding.sighted,
        sighted_sd=finding.sighted_sd,
        implied=finding.implied,
        implied_sd=finding.implied_sd,
        verdict=finding.verdict.value,
        words=words.finding_words(finding, family, names),
        rim=None if finding.rim is None else report_rim(finding.rim, names),
        **rim_values(finding.rim),
        judged_words=words.judged_words(finding, family, difference),
        rule=reason.rule.value,
        turn_deg=reason.turn_deg if finding.kind == "edge" else 0.0,
        far_end_px=reason.far_end_px,
        others=list(reason.others),
        judged_lean_deg=lean(finding.judged),
        sighted_lean_deg=lean(finding.sighted),
        implied_lean_deg=lean(finding.implied),
    )


def rim_values(rim: RimReading | None) -> dict[str, Any]:
    """The rim's entries that stand in the finding itself."""
    if rim is None:
        return {}
    seen, due = rim.sighted_ellipse, rim.implied_ellipse
    return {
        "axis_sighted_deg": seen.axis_deg,
        "axis_implied_deg": None if due is None else due.axis_deg,
        "minor_px": seen.minor_px,
        "major_px": seen.major_px,
        "centre_px": seen.centre_px,
    }


def report_ellipse(ellipse: Ellipse) -> ReportEllipse:
    return ReportEllipse(**vars(ellipse))


def report_rung(rung: Rung) -> ReportRung:
    return ReportRung(**(vars(rung) | {"ellipse": report_ellipse(rung.ellipse)}))


def report_rim(rim: RimReading, names: words.Names) -> ReportRim:
    def alone(value: tuple[float, float] | None) -> ReportAlone | None:
        return None if value is None else ReportAlone(degree_deg=value[0], sd_deg=value[1])

    return ReportRim(
        axis_sighted_sd=rim.axis_sighted_sd,
        axis_implied_sd=rim.axis_implied_sd,
        axis_turn_deg=rim.axis_turn_deg,
        axis_turn_sd=rim.axis_turn_sd,
        sighted_ellipse=report_ellipse(rim.sighted_ellipse),
        implied_ellipse=None if rim.implied_ellipse is None else report_ellipse(rim.implied_ellipse),
        true_centre_px=rim.true_centre_px,
        diameter_px=rim.diameter_px,
        square_px=list(rim.square_px),
        touch_px=list(rim.touch_px),
        by_edges=alone(rim.by_edges),
        by_rims=alone(rim.by_rims),
        guide_deg=rim.guide_deg,
        coverage_deg=rim.coverage_deg,
        faults=[ReportFault(**(vars(f) | {"others": list(f.others), "words": words.fault_words(f, names)})) for f in rim.faults],
    )


def read_finding(s: EdgeSighting, card: NearCorner | None, names: words.Names) -> ReportFinding:
    """A tilt read from life: off when the card names it, unsure while nothing checks it."""
    retake = card.retake if card is not None else None
    verdict, rule, implied = Verdict.UNSURE, Rule.NOTHING_TO_CHECK, None
    others: tuple[str, ...] = ()
    text = "Nothing on the card checks this reading yet."
    if card is not None and s.family in ("left", "right"):
        if retake is not None and s.id in (retake.reading, retake.instead):
            others = tuple(id for id in (retake.reading, retake.instead) if id is not None and id != s.id)
            rule = Rule.ONE_OF_A_PAIR if others else Rule.MISSES_ITS_POINT
            verdict = Verdict.UNSURE if others else Verdict.OFF
            implied = retake.tilt_deg if s.id == retake.reading else None
            text = (
                f"Take this one again: {words.signed(retake.tilt_deg)} would make both sides agree."
                if implied is not None
                else "Take this one again as well: it could be the wrong one instead."
            )
        elif card.agree:
            verdict, rule, text = Verdict.HOLDS, Rule.AGREES, "Both sides give the same eye level with this reading."
        elif card.agree is False:
            text = "The two sides disagree; another reading explains it better."
    finding = Finding(s.id, "edge", s.judged_tilt_deg, s.tilt_deg, s.sd_deg or STICK_SD_DEG, implied, None, verdict, Reason(rule, others=others))
    report = report_finding(finding, Family(s.family), names)
    return report.model_copy(update={"words": text})


def read_length(s: LengthSighting, sheet: SightingSheet, card: NearCorner | None, tolerances: Tolerances) -> ReportFinding:
    """A length in near-upright units read from life. A far upright is checked against the card:
    its side's vanishing point and the width to it say how long it must be."""
    assert s.ratio is not None
    sd = s.sd_ratio or LENGTH_SD * s.ratio
    fraction, over = nearest_fraction(s.ratio)
    implied = None
    if card is not None and s.along == "upright" and s.side is not None:
        width = next((o for o in sheet.sightings if isinstance(o, LengthSighting) and o.side == s.side and o.along == "across" and o.ratio is not None), None)
        if width is not None and width.ratio is not None:
            implied = far_upright(card.left if s.side == "left" else card.right, width.ratio, width.sd_ratio or LENGTH_SD * width.ratio)
    verdict = Verdict.UNSURE
    if implied is not None and implied[0] > 0:
        gap, combined = abs(s.ratio / implied[0] - 1.0), float(np.hypot(sd, implied[1])) / implied[0]
        if gap > max(tolerances.length, 2.0 * combined):
            verdict = Verdict.OFF
        elif max(gap, combined) <= tolerances.length:
            verdict = Verdict.HOLDS
    reason = Reason(Rule.RATIO, turn_deg=over, fraction=str(fraction))
    finding = Finding(s.id, "length", s.judged_ratio, s.ratio, sd, implied[0] if implied else None, implied[1] if implied else None, verdict, reason)
    report = report_finding(finding, None, lambda id: id)
    if implied is not None:
        report.words += f" Its vanishing point asks for {implied[0]:.2f}."
    return report


def report_eye_level(result: CheckResult) -> ReportEyeLevel:
    level = result.eye_level
    found = None
    if level.found is not None and level.found.left_y_px is not None and level.found.right_y_px is not None:
        above = next((n.value for n in result.notes if n.code is NoteCode.SET_AGAINST_FOUND), None)
        found = FoundEyeLevel(
            left_y_px=level.found.left_y_px,
            right_y_px=level.found.right_y_px,
            sd_px=level.found.sd_px or 0.0,
            set_above_px=above or 0.0,
            source=level.found.source,  # type: ignore[arg-type]  # core sources are the format's
        )
    parts = level if level.found is None else level.found

    def alone(part: EyeLevel | None) -> AloneEyeLevel | None:
        if part is None or part.left_y_px is None or part.right_y_px is None:
            return None
        return AloneEyeLevel(left_y_px=part.left_y_px, right_y_px=part.right_y_px, sd_px=part.sd_px or 0.0)

    return ReportEyeLevel(
        left_y_px=level.left_y_px,
        right_y_px=level.right_y_px,
        sd_px=level.sd_px,
        source=level.source,  # type: ignore[arg-type]
        found=found,
        by_edges=alone(parts.by_edges),
        by_rims=alone(parts.by_rims),
    )


def report_card(card: NearCorner, names: words.Names) -> ReportNearCorner:
    def side(s: Side) -> ReportSide:
        return ReportSide(
            side=s.side,  # type: ignore[arg-type]
            distance_units=s.distance,
            distance_sd=s.distance_sd,
            eye_level_down=s.eye_level,
            eye_level_sd=s.eye_level_sd,
            opens=s.opens,
        )

    return ReportNearCorner(
        left=side(card.left),
        right=side(card.right),
        eye_level_down=card.eye_level,
        eye_level_sd=card.eye_level_sd,
        agree=card.agree,
        retake=card.retake.reading if card.retake else None,
        retake_tilt_deg=card.retake.tilt_deg if card.retake else None,
        words=words.near_corner_words(card, names),
    )
