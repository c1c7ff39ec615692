"""From what the core found to the open report."""

from __future__ import annotations

from typing import Any

from aspectum.core.findings import (
    CameraReading,
    CheckResult,
    EyeLevel,
    Finding,
    NoteCode,
    Proportions,
    RimReading,
    Rung,
    VanishingPoint,
)
from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.plane.lines import lean_deg
from aspectum.core.reasons import AlignmentReason, EdgeReason, Fault, HeightReason, LengthReason, PartReason
from aspectum.core.sightings import Family, Guide, Setup
from aspectum.core.view.lens import cone_radius
from aspectum.formats.report import (
    AloneEyeLevel,
    FoundEyeLevel,
    ReportAlone,
    ReportCamera,
    ReportEllipse,
    ReportEyeLevel,
    ReportFault,
    ReportFinding,
    ReportForm,
    ReportLadder,
    ReportRim,
    ReportRung,
    ReportVanishingPoint,
)
from aspectum.service.words.common import Telling
from aspectum.service.words.findings import finding_words
from aspectum.service.words.judged import judged_by, judged_words
from aspectum.service.words.notes import point_words
from aspectum.service.words.proportions import proportion_words
from aspectum.service.words.rims import fault_words


def report_finding(
    finding: Finding, family: Family | None, telling: Telling, words: str | None = None
) -> ReportFinding:
    """``family``: an edge's; ``words``: in place of those of a sighting laid on a picture."""
    reason = finding.reason

    def lean(tilt: float | None) -> float | None:
        return float(lean_deg(tilt)) if tilt is not None and family is Family.UPRIGHT else None

    values = {
        name: getattr(finding, name)
        for name in ("sighting", "kind", "judged", "sighted", "sighted_sd", "implied", "implied_sd", "verdict")
    }
    if isinstance(reason, EdgeReason):
        values |= {"turn_deg": reason.turn_deg, "far_end_px": reason.far_end_px}
    elif isinstance(reason, HeightReason):
        values |= {"eye_heights": reason.eyes, "eye_heights_sd": reason.eyes_sd}
    elif isinstance(reason, (LengthReason, PartReason)) and reason.fraction is not None:
        values |= {"fraction": reason.fraction, "over_share": reason.over_share}
    if (
        words is None
        and isinstance(reason, AlignmentReason)
        and reason.guide is not Guide.TILT
        and finding.sighted is not None
    ):
        values |= {"miss_words": telling.length(finding.sighted)}
    if isinstance(reason, PartReason):
        values |= {"part": finding.implied, "part_sd": finding.implied_sd, "part_line_px": reason.line}
    if finding.rim is not None:
        values |= rim_values(finding.rim) | {"rim": report_rim(finding.rim, telling)}
    return ReportFinding(
        **values,
        words=finding_words(finding, family, telling) if words is None else words,
        judged_words=judged_words(finding, family),
        judged_by=judged_by(finding, family),
        rule=reason.rule,
        measure=finding.is_measure,
        others=list(reason.others),
        judged_lean_deg=lean(finding.judged),
        sighted_lean_deg=lean(finding.sighted),
        implied_lean_deg=lean(finding.implied),
        vanishing_point=finding.vanishing_point,
    )


def rim_values(rim: RimReading) -> dict[str, Any]:
    """The rim's entries that stand in the finding itself."""
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


def report_rim(rim: RimReading, telling: Telling) -> ReportRim:
    def alone(value: tuple[float, float] | None) -> ReportAlone | None:
        return None if value is None else ReportAlone(degree_deg=value[0], sd_deg=value[1])

    def fault(f: Fault) -> ReportFault:
        said = {name: getattr(f, name) for name in ("rule", "turn_deg", "size_px", "share", "sure")}
        return ReportFault(**said, others=list(f.others), words=fault_words(f, telling))

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
        least_points=rim.least_points,
        faults=[fault(f) for f in rim.faults],
    )


def report_point(point: VanishingPoint) -> ReportVanishingPoint:
    return ReportVanishingPoint(**vars(point), words=point_words(point))


def report_camera(camera: CameraReading, setup: Setup) -> ReportCamera:
    radius = None if camera.focal_px is None else cone_radius(camera.focal_px)
    return ReportCamera(**vars(camera), centre_px=setup.centre, cone_radius_px=radius)


def report_form(form: Proportions) -> ReportForm:
    metric = any(value is not None for value in form.size_m.values())
    return ReportForm(
        form=form.form,
        unit=form.unit,
        size=form.size,
        size_sd=form.size_sd,
        why_not=dict(form.why_not),
        size_m=form.size_m if metric else None,
        size_sd_m=form.size_sd_m if metric else None,
        words=proportion_words(form),
    )


def report_ladders(result: CheckResult) -> list[ReportLadder]:
    def rung(value: Rung) -> ReportRung:
        return ReportRung(**(vars(value) | {"ellipse": report_ellipse(value.ellipse)}))

    return [ReportLadder(form=x.form, like=x.like, rungs=[rung(r) for r in x.rungs]) for x in result.ladders]


def report_eye_level(result: CheckResult) -> ReportEyeLevel:
    level = result.eye_level
    parts = level if level.found is None else level.found
    above = next((n.value for n in result.notes if n.code is NoteCode.SET_AGAINST_FOUND), None)

    def heights(part: EyeLevel) -> dict[str, Any]:
        return {name: getattr(part, name) for name in ("left_y_px", "right_y_px", "middle_y_px", "sd_px")}

    def alone(part: EyeLevel | None) -> AloneEyeLevel | None:
        return None if part is None or part.middle_y_px is None else AloneEyeLevel(**heights(part))

    found = None
    if level.found is not None and level.found.middle_y_px is not None:
        found = FoundEyeLevel(**heights(level.found), set_above_px=above or 0.0, source=level.found.source)  # type: ignore[arg-type]  # never given or none
    return ReportEyeLevel(
        **heights(level), source=level.source, found=found, by_edges=alone(parts.by_edges), by_rims=alone(parts.by_rims)
    )
