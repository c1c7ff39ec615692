"""Judging a drawing: from two sheets to a critique."""

from __future__ import annotations

from dataclasses import dataclass

from aspectum.core.drawing.compare import Laid, compare
from aspectum.core.drawing.critique import Critique as CoreCritique
from aspectum.core.drawing.critique import Difference, ToldCause, critique
from aspectum.core.drawing.hand import FREEHAND_HAND, Hand
from aspectum.core.drawing.own import OwnTerms, own_terms
from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.plane.lines import lean_deg
from aspectum.core.sightings import Family, Looking
from aspectum.core.tolerance import Tolerances
from aspectum.formats.critique import (
    Critique,
    CritiqueCause,
    CritiqueFinding,
    CritiqueGhost,
    CritiqueLine,
    CritiqueMeeting,
    CritiqueOver,
    CritiqueReading,
    CritiqueRim,
    OwnFamilyPart,
    OwnGap,
    OwnPart,
)
from aspectum.formats.reading import FormatError
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import EdgeSighting
from aspectum.language import figure, say
from aspectum.service.sheets.checking import naming, report_tolerance
from aspectum.service.sheets.from_sheet import kept_tolerances, laid_on
from aspectum.service.sheets.reporting import report_ellipse
from aspectum.service.words.critique import (
    Called,
    advice_words,
    cause_words,
    difference_words,
    hold_words,
    instead_words,
    own_family_words,
    own_words,
)

ASSUMED_LONG_MM = 297.0  # of the longer side of a sheet of no given size: A4
VERY_ROUGH = 1.5  # times the usual hand's error, from which the lines are said to scatter
MOST_HELD = 4


@dataclass(frozen=True)
class OnPaper:
    """A drawing's sightings, with the size of its paper (mm)."""

    laid: Laid
    mm_per_px: float
    wide_mm: float
    assumed: bool


def on_paper(sheet: SightingSheet) -> OnPaper:
    """A drawing's sheet for the core. Raises ``FormatError`` for one without a picture."""
    laid = core_laid(sheet, say("the drawing"))
    assert sheet.picture is not None
    across = sheet.picture.width_px
    mm = (
        ASSUMED_LONG_MM / max(across, sheet.picture.height_px) if sheet.paper_mm is None else sheet.paper_mm[0] / across
    )
    return OnPaper(laid, mm, mm * across, sheet.paper_mm is None)


def core_laid(sheet: SightingSheet, what: str) -> Laid:
    found = laid_on(sheet)
    if found.setup is None:
        raise FormatError(say("picture: missing; {what} is laid on a picture", what=what))
    return Laid(
        found.setup, found.edges, found.rims, found.measured, frozenset(s.id for s in sheet.accepted if s.given)
    )


def judged_drawing(
    subject: SightingSheet, drawing: SightingSheet, tolerances: Tolerances | None = None, hand: Hand = FREEHAND_HAND
) -> CoreCritique:
    """A drawing against its subject, as the core has it. Raises ``FormatError`` as ``judge_drawing`` does."""
    paper, theirs, tolerances = (
        on_paper(drawing),
        core_laid(subject, say("the subject")),
        tolerances or kept_tolerances(drawing),
    )
    try:
        return critique(compare(theirs, paper.laid, paper.mm_per_px, hand, tolerances), theirs, paper.laid, tolerances)
    except ValueError as error:
        raise FormatError(str(error)) from error


def judge_drawing(
    subject: SightingSheet | None,
    drawing: SightingSheet,
    tolerances: Tolerances | None = None,
    hand: Hand = FREEHAND_HAND,
) -> Critique:
    """A drawing against its subject, or by itself without one. Raises ``FormatError`` for a sheet that has no picture.

    The tolerances are those kept with the drawing unless others are given.
    """
    paper = on_paper(drawing)
    tolerances = tolerances or kept_tolerances(drawing)
    names = Called(
        naming(subject or drawing),
        {f.id: f.name or f.id for s in (drawing, subject) if s is not None for f in s.forms},
        paper.wide_mm,
    )
    try:
        own = own_part(own_terms(paper.laid, paper.mm_per_px), names)
    except ValueError as error:
        raise FormatError(str(error)) from error
    if subject is None:
        return Critique(
            subject=None,
            drawing=drawing.title,
            own=own,
            notes=paper_notes(paper),
            tolerance=report_tolerance(tolerances),
        )
    found = judged_drawing(subject, drawing, tolerances, hand)
    # seen straight up or down an upright is told by its tilt, as every other edge
    plumb = subject.looking is Looking.AHEAD
    families = {
        s.id: s.family
        for s in subject.accepted
        if isinstance(s, EdgeSighting) and (plumb or s.family is not Family.UPRIGHT)
    }
    return Critique(
        subject=subject.title,
        drawing=drawing.title,
        scale_mm_per_px=found.scale_mm_per_px,
        findings=findings(found, subject, families),
        causes=[cause_part(cause, families, names) for cause in found.causes],
        holds=[hold_words(hold, names) for hold in found.holds[:MOST_HELD]],
        notes=paper_notes(paper) + pairing_notes(found, names),
        missing=found.missing,
        laid_over=None if found.laid_over is None else CritiqueOver(scale=found.laid_over[0], at=found.laid_over[1]),
        ghosts=[CritiqueGhost(sighting=id, p=p, q=q, apart_mm=apart) for id, (p, q, apart) in found.ghosts.items()],
        ghost_rims=rims_part(found.ghost_rims),
        own=own,
        tolerance=report_tolerance(tolerances),
    )


def findings(found: CoreCritique, subject: SightingSheet, families: dict[str, Family]) -> list[CritiqueFinding]:
    """One finding a sighting, in the subject's order."""
    kinds, mine = {s.id: s.kind for s in subject.accepted}, dict[str, list[Difference]]()
    for d in found.differences:
        mine.setdefault(d.sighting, []).append(d)
    told = []
    for s in subject.accepted:
        if s.id not in mine:
            continue
        main = next(d for d in mine[s.id] if d.main)
        upright = families.get(s.id) is Family.UPRIGHT
        told.append(
            CritiqueFinding(
                **reading(main).model_dump(),
                sighting=s.id,
                kind=kinds[s.id],
                subject_lean_deg=float(lean_deg(main.subject)) if upright else None,
                drawing_lean_deg=float(lean_deg(main.drawing)) if upright else None,
                words=difference_words(s.kind, families.get(s.id), mine[s.id]),
                also=[reading(d) for d in mine[s.id] if not d.main],
            )
        )
    return told


def reading(d: Difference) -> CritiqueReading:
    return CritiqueReading(
        of=d.what, subject=d.subject, drawing=d.drawing, difference=d.difference, sd=d.sd, verdict=d.verdict
    )


def cause_part(cause: ToldCause, families: dict[str, Family], names: Called) -> CritiqueCause:
    plain = {
        name: getattr(cause, name)
        for name in ("cause", "form", "family", "which", "direction", "size", "size_sd", "unit", "explains")
    }
    lines = [
        CritiqueLine(sighting=id, p=m.p, q=m.q, far="q" if m.far else "p", moves_mm=m.moves_mm)
        for id, m in cause.lines.items()
    ]
    return CritiqueCause(
        **plain,
        sightings=list(cause.sightings),
        of=cause.of_what,
        words=cause_words(cause, names),
        advice=advice_words(cause, dict(families), names),
        instead=instead_words(cause, names),
        mended=lines,
        mended_rims=rims_part(cause.rims),
        meets=[
            CritiqueMeeting(form=form, family=family, x_mm=x, y_mm=y) for (form, family), (x, y) in cause.meets.items()
        ],
    )


def rims_part(rims: dict[str, Ellipse]) -> list[CritiqueRim]:
    return [CritiqueRim(sighting=id, ellipse=report_ellipse(ellipse)) for id, ellipse in rims.items()]


def own_part(own: OwnTerms, names: Called) -> OwnPart:
    families = []
    for f in own.families:
        x, y = f.at_mm or (None, None)
        families.append(
            OwnFamilyPart(
                form=f.form,
                family=f.family,
                sightings=list(f.sightings),
                meets=f.meets,
                x_mm=x,
                y_mm=y,
                above_mm=f.above_mm,
                words=own_family_words(f, names),
            )
        )
    plain = {
        name: getattr(own, name)
        for name in ("eye_level_mm", "by_left_mm", "by_right_mm", "by_rims_mm", "lean_deg", "lean_spread_deg")
    }
    return OwnPart(
        **plain,
        families=families,
        gaps=[OwnGap(sightings=list(g.sightings), gap_mm=g.gap_mm) for g in own.gaps],
        words=own_words(own, names),
    )


def paper_notes(paper: OnPaper) -> list[str]:
    if paper.assumed:
        return [
            say(
                "The paper's size is not given: taken as A4, 297 mm along its longer side. Lengths in mm are only as "
                "good as that."
            )
        ]
    return []


def pairing_notes(found: CoreCritique, names: Called) -> list[str]:
    """What could not be compared, and how rough the hand is."""
    notes = []
    if not found.differences:
        notes.append(
            say(
                "Nothing on the drawing is the line of a sighting yet, so nothing can be compared. Lay its lines, "
                "each for the sighting that it draws."
            )
        )
    elif found.missing:
        few = [names.sighting(id) for id in found.missing[:4]]
        more = say(" and {missing} more", missing=len(found.missing) - 4) if len(found.missing) > 4 else ""
        notes.append(say("Not on the drawing yet: {few}{more}.", few=", ".join(few), more=more))
    if found.extra:
        one = len(found.extra) == 1
        notes.append(
            say(
                "{extra} on the drawing has no fellow on the subject: judged on the drawing's own terms alone."
                if one
                else "{extra} on the drawing have no fellow on the subject: judged on the drawing's own terms alone.",
                extra=len(found.extra),
            )
        )
    if found.rough > VERY_ROUGH:
        notes.append(
            say(
                "The lines scatter {rough} times as much as a freehand's usually do: only what stands out from that "
                "is told.",
                rough=figure(found.rough, 1),
            )
        )
    return notes
