"""Planning the sheet of paper for whatever was sighted, on a photo or from life."""

from __future__ import annotations

from aspectum.core.check import check
from aspectum.core.life.schematic import schematic
from aspectum.core.plan.lay_in import Step, lay_in
from aspectum.core.plan.placing import Sheet, place_on
from aspectum.core.plan.reach import PointOnPaper, edge_scales, points_on_paper, tilt_tables
from aspectum.core.plan.subject import NoPlan, Subject, Unit, subject_of_card, subject_of_picture
from aspectum.formats.plan import (
    Plan,
    PlanEdgeScale,
    PlanEyeLevel,
    PlanLimits,
    PlanMark,
    PlanPoint,
    PlanStep,
    PlanTilt,
    PlanTilts,
    PlanWarning,
)
from aspectum.formats.sheet import PaperPlan, SightingSheet
from aspectum.language import say
from aspectum.service.sheets.from_sheet import kept_tolerances, laid_on
from aspectum.service.sheets.life import life_on
from aspectum.service.words.plan import open_side_words, plan_point_words, step_words, warning_words


def plan_sheet(sheet: SightingSheet, how: PaperPlan | None = None, file: str | None = None) -> Plan:
    """Plan the paper for a sheet by ``how``, else by what is kept with it. Raises ``NoPlan`` with what is missing where
    nothing can be planned yet.
    """
    how = how or sheet.plan or PaperPlan()
    subject = subject_of(sheet)
    placing = place_on(Sheet(*how.paper_mm, how.margin_mm, how.near_upright_mm, how.place), subject)
    points = points_on_paper(placing, subject)
    names = {form.id: form.name or form.id for form in sheet.forms}
    several = len(subject.near_uprights) > 1 or len({line.form for line in subject.lines}) > 1

    def called(form: str | None) -> str:
        return names.get(form or "", form or "") if several else ""

    level = placing.eye_level
    spread = None if subject.level is None or subject.level.sd is None else subject.level.sd * placing.scale
    return Plan(
        file=file,
        title=sheet.title,
        paper_mm=how.paper_mm,
        margin_mm=how.margin_mm,
        scale_mm_per_px=placing.scale if subject.counted_in is Unit.PIXELS else None,
        scale_mm_per_unit=placing.scale if subject.counted_in is Unit.NEAR_UPRIGHTS else None,
        near_upright_mm=None if subject.first is None else subject.unit * placing.scale,
        origin_mm=placing.at_nought,
        limits_mm=PlanLimits(
            left=placing.limits[0], top=placing.limits[1], right=placing.limits[2], bottom=placing.limits[3]
        ),
        anchor_mm=placing.anchor_y,
        eye_level_mm=None if level is None else PlanEyeLevel(left=level[0], right=level[1], sd=spread),
        view=placing.view,
        centre_mm=None if subject.centre is None else placing.at(subject.centre),
        cone_mm=None if subject.cone is None else subject.cone * placing.scale,
        vanishing_points=[plan_point(p, called(p.point.form)) for p in points],
        edge_scales=[
            PlanEdgeScale(
                form=s.form,
                family=s.family,
                slope=s.slope,
                marks=[PlanMark(number=m.number, a=m.a, b=m.b) for m in s.marks],
            )
            for s in edge_scales(placing, points)
        ],
        tilts=[
            PlanTilts(
                form=t.form,
                family=t.family,
                slope=t.slope,
                x_mm=t.x,
                rows=[PlanTilt(units=r.units, y_mm=r.y, tilt_deg=r.tilt_deg) for r in t.rows],
                fan=list(t.fan),
            )
            for t in tilt_tables(placing, subject, points)
        ],
        steps=[
            plan_step(n, step, step_words(step, placing, called)) for n, step in enumerate(lay_in(placing, subject), 1)
        ],
        warnings=[
            PlanWarning(leaves=w.leaves, by_mm=w.by_mm, sides=list(w.sides), words=warning_words(w))
            for w in placing.warnings
        ],
        notes=notes_on(subject),
    )


def subject_of(sheet: SightingSheet) -> Subject:
    """What there is to draw: on the photo where something is laid on it, else on the card."""
    laid, life = laid_on(sheet), life_on(sheet)
    if laid.setup is not None and (laid.edges or laid.rims or life is None):
        result = check(laid.setup, laid.edges, laid.rims, laid.measured, kept_tolerances(sheet), laid.round_forms)
        return subject_of_picture(laid.setup, laid.edges, laid.rims, laid.measured, result)
    if life is None or life.card is None or not life.repeats:
        raise NoPlan(say("Nothing is read on this card yet: read the top and the bottom edge of one side at least."))
    return subject_of_card(schematic(life.forms, life.rims, life.across, life.widths), life.card, life.rims)


def notes_on(subject: Subject) -> list[str]:
    notes = []
    if subject.open_sides:
        notes.append(open_side_words(subject.open_sides))
    if subject.level is None:
        notes.append(say("Eye level is not fixed by the sightings: the plan has neither it nor a tilt table."))
    if subject.first is None:
        notes.append(say("No upright is sighted, so there is no unit: lengths count in the drawing's whole height."))
    return notes


def plan_point(p: PointOnPaper, form: str) -> PlanPoint:
    return PlanPoint(
        form=p.point.form,
        family=p.point.family,
        slope=p.point.slope,
        x_mm=None if p.at is None else p.at[0],
        y_mm=None if p.at is None else p.at[1],
        direction_deg=p.point.direction_deg,
        off_sheet_cm=None if p.off_mm is None else p.off_mm / 10.0,
        side=p.side,
        sd_mm=p.sd_mm,
        in_reach=p.in_reach,
        words=plan_point_words(p, form),
    )


def plan_step(number: int, step: Step, words: str) -> PlanStep:
    return PlanStep(
        number=number,
        step=step.kind,
        form=step.form,
        family=step.family,
        sighting=step.sighting,
        p_mm=step.p,
        q_mm=step.q,
        tilt_deg=step.tilt_deg,
        length_mm=step.long_mm,
        length_units=step.units,
        centre_mm=step.centre,
        major_mm=step.major_mm,
        minor_mm=step.minor_mm,
        crossing_mm=step.crossing,
        verdict=step.verdict,
        words=words,
    )
