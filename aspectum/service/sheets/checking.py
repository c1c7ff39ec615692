"""Checking a sheet: from the open format to the core and back to a report."""

from __future__ import annotations

import logging
import math
from collections.abc import Iterable
from dataclasses import dataclass, replace

from aspectum.core.aids.face import Corners, LaidFace, lay_face
from aspectum.core.aids.propose import FirstGuess, Found, first_guess, propose_family
from aspectum.core.aids.standpoint import Standing, standings, view_kind
from aspectum.core.check import check
from aspectum.core.findings import OPEN, CheckResult, Finding, Note, NoteCode
from aspectum.core.judge.notes import against_picture
from aspectum.core.practice.recorded import SkillReading, SkillsOn, eye_level_reading, judgement_readings, sides_of
from aspectum.core.reasons import Rule
from aspectum.core.sightings import Edge, Family, Kind, Looking, Point, Setup, view_sort
from aspectum.core.tolerance import Tolerances, Verdict
from aspectum.formats.reading import FormatError
from aspectum.formats.report import (
    JudgedEyeLevel,
    Report,
    ReportEyeLevel,
    ReportFinding,
    ReportFirstGuess,
    ReportForm,
    ReportRailMark,
    ReportStanding,
)
from aspectum.formats.sheet import GivenOnPaper, OwnTolerance, SightingSheet
from aspectum.formats.sightings import EdgeSighting, LengthSighting
from aspectum.language import say
from aspectum.service.sheets.from_sheet import Laid, core_edges, core_setup, kept_tolerances, laid_on
from aspectum.service.sheets.life import (
    FromLife,
    beside_the_photo,
    level_notes,
    life_findings,
    life_on,
    not_laid,
    report_cards,
    report_schematic,
    report_thumb,
)
from aspectum.service.sheets.reporting import (
    report_camera,
    report_eye_level,
    report_finding,
    report_form,
    report_ladders,
    report_point,
)
from aspectum.service.sheets.truth import true_level_on, truth_on
from aspectum.service.words.common import Names, Telling
from aspectum.service.words.judged import judged_level_words
from aspectum.service.words.notes import note_words
from aspectum.service.words.proportions import SURVEY
from aspectum.service.words.skills import WORDS
from aspectum.service.words.standpoint import standing_words
from aspectum.service.words.summary import judgement_lines

log = logging.getLogger(__name__)


@dataclass(frozen=True)
class JudgedSheet:
    """What the core makes of a sheet: ``result`` of what is laid on its picture, and ``read`` of what was sighted from
    ``life``.
    """

    sheet: SightingSheet
    tolerances: Tolerances
    laid: Laid
    result: CheckResult
    life: FromLife | None
    read: list[Finding]


def judge_sheet(sheet: SightingSheet, tolerances: Tolerances | None = None) -> JudgedSheet:
    """Judge every sighting of ``sheet``, by the tolerances that are kept with it unless others are given."""
    laid = laid_on(sheet)
    tolerances = tolerances or kept_tolerances(sheet)
    if sheet.lowest_rim_extra_deg and not tolerances.lowest_rim_deg:
        tolerances = replace(tolerances, lowest_rim_deg=sheet.lowest_rim_extra_deg)
    if laid.setup is None:
        result = CheckResult(sheet.perspective, OPEN, None, [], [])
    else:
        result = check(laid.setup, laid.edges, laid.rims, laid.measured, tolerances, laid.round_forms)
    life = life_on(sheet)
    return JudgedSheet(sheet, tolerances, laid, result, life, [] if life is None else life.findings(tolerances))


def check_sheet(sheet: SightingSheet, tolerances: Tolerances | None = None, file: str | None = None) -> Report:
    """The report on every sighting of ``sheet``, by the tolerances that are kept with it unless others are given."""
    return report_on(judge_sheet(sheet, tolerances), file)


def report_on(judged: JudgedSheet, file: str | None = None) -> Report:
    """What was judged, in words."""
    sheet, tolerances, laid, result, life, read = (
        judged.sheet,
        judged.tolerances,
        judged.laid,
        judged.result,
        judged.life,
        judged.read,
    )
    names = naming(sheet)
    telling = Telling(names, sort=view_sort(result.perspective, sheet.looking))
    if laid.setup is not None:
        telling = replace(telling, high_px=float(laid.setup.height_px), unit_px=near_upright_px(laid))
    # seen straight up or down nothing leans: an upright is told by its tilt, as every other edge
    told_by_tilt = () if sheet.looking is Looking.AHEAD else (Family.UPRIGHT,)
    families = {
        s.id: None if s.family in told_by_tilt else s.family for s in sheet.accepted if isinstance(s, EdgeSighting)
    }
    forms = [report_form(form) for form in result.forms]
    by_id = {f.sighting: report_finding(f, families.get(f.sighting), telling) for f in result.findings}

    for id, found in life_findings(life, read, sheet, tolerances, telling).items() if life is not None else ():
        by_id[id] = beside_the_photo(by_id[id], found, tolerances) if id in by_id else found
    for id, values in truth_on(sheet, laid, families).items():
        by_id[id] = by_id[id].model_copy(update=values)
    for reading in sheet_readings(judged):
        if reading.sighting in by_id:
            by_id[reading.sighting] = by_id[reading.sighting].model_copy(update={"skill": WORDS[reading.skill].title})
    cards = [] if life is None else report_cards(life, names)
    notes = [*against_found(sheet, result), *result.notes]
    said = [note_words(note, telling) for note in notes if not (cards and answered(note.code, laid))]

    return Report(
        file=file,
        perspective=result.perspective,
        eye_level=report_eye_level(result).model_copy(update={"judged": report_judged_level(judged)}),
        camera=None if result.camera is None or laid.setup is None else report_camera(result.camera, laid.setup),
        vanishing_points=[report_point(v) for v in result.vanishing_points],
        findings=[by_id[s.id] for s in sheet.accepted],
        level_rail=[ReportRailMark(**vars(m)) for m in result.rail],
        ladders=report_ladders(result),
        near_corner=cards[0] if cards else None,
        near_corners=cards,
        schematic=None if life is None else report_schematic(life, sheet),
        thumb=report_thumb(sheet),
        first_guess=report_guess(first_guess(sheet.perspective, laid.edges)),
        tolerance=report_tolerance(tolerances),
        view=None if laid.setup is None else view_kind(laid.setup, result.eye_level, sheet.paper_mm is not None),
        standings=[]
        if laid.setup is None
        else report_standings(sheet, standings(laid.setup, laid.edges, result.eye_level, result.vanishing_points)),
        forms=forms,
        judgements=judgement_lines(result.findings + not_laid(read, result.findings), families),
        notes=said + ([] if life is None else level_notes(life, sheet)) + cautions(by_id.values(), forms),
    )


def sheet_readings(judged: JudgedSheet) -> list[SkillReading]:
    """What the judgements on a sheet are of the record: the one place that says which skill a line counts for, on its
    slip and in the logbook.
    """
    findings, level = judged.result.findings, judged_level(judged)
    made = judgement_readings(
        findings + not_laid(judged.read, findings), skills_of(judged.sheet, judged.laid, judged.life)
    )
    return made if level is None else [*made, level]


def judged_level(judged: JudgedSheet) -> SkillReading | None:
    """Eye level as it was judged by eye, beside where the sightings put it, or the set-up that the picture shows."""
    said = judged.sheet.judged_eye_level
    if said is None:
        return None
    true = true_level_on(judged.sheet) or judged.result.eye_level
    return eye_level_reading((said.left_y_px + said.right_y_px) / 2, true, near_upright_px(judged.laid))


def near_upright_px(laid: Laid) -> float | None:
    """How long the near upright is drawn (px): the unit that was laid, else the longest upright."""
    unit = [math.dist(length.p, length.q) for length in laid.measured.lengths if length.unit]
    return max(
        unit or [math.dist(edge.p, edge.q) for edge in laid.edges if edge.family is Family.UPRIGHT], default=None
    )


def report_judged_level(judged: JudgedSheet) -> JudgedEyeLevel | None:
    said, reading = judged.sheet.judged_eye_level, judged_level(judged)
    if said is None:
        return None
    error = None if reading is None else reading.error
    skill = "" if reading is None else WORDS[reading.skill].title
    return JudgedEyeLevel(
        left_y_px=said.left_y_px, right_y_px=said.right_y_px, error=error, skill=skill, words=judged_level_words(error)
    )


def skills_of(sheet: SightingSheet, laid: Laid, life: FromLife | None) -> SkillsOn:
    """What the sightings of a sheet are of, laid on its picture and read from life."""
    lengths = {s.id: s.along for s in sheet.accepted if isinstance(s, LengthSighting)}
    printed = sheet.given or GivenOnPaper()
    points = frozenset[tuple[str | None, Family]](printed.vanishing_points)
    sides = {} if life is None else sides_of([t for form in life.forms for t in form.tilts])
    rims, sort = [] if life is None else life.rims, view_sort(sheet.perspective, sheet.looking)
    return SkillsOn(laid.edges, laid.rims, lengths, sides, rims, sort, printed.eye_level, points)


def against_found(sheet: SightingSheet, result: CheckResult) -> list[Note]:
    """A note where what was sighted and the view found in the picture contradict each other; one that was accepted is
    evidence already.
    """
    if sheet.found is None or sheet.found.accepted:
        return []
    level = sheet.found.eye_level
    note = against_picture(result.eye_level, (level.left_y_px, level.right_y_px), level.sd_px)
    return [] if note is None else [note]


def report_standings(sheet: SightingSheet, found: list[Standing]) -> list[ReportStanding]:
    called = {form.id: form.name or form.id for form in sheet.forms}
    return [
        ReportStanding(form=s.form, lies=s.lies, beside=s.beside, words=standing_words(s, called.get(s.form, s.form)))
        for s in found
    ]


def answered(code: NoteCode, laid: Laid) -> bool:
    """Whether a note of what is open on the picture says nothing new beside tilts read from life."""
    return code is NoteCode.NO_EDGES or not (laid.edges or laid.rims)


def check_kept(sheet: SightingSheet, tolerances: Tolerances | None = None) -> Report:
    """``check_sheet`` for work that must be kept and opened whatever the check makes of it: where
    the check fails, a report that says so in place of its verdicts.
    """
    return kept_report(sheet, judge_kept(sheet, tolerances))


def judge_kept(sheet: SightingSheet, tolerances: Tolerances | None = None) -> JudgedSheet | None:
    """``judge_sheet``, or None where it fails."""
    try:
        return judge_sheet(sheet, tolerances)
    except Exception:
        log.exception("a sheet of %d sightings could not be checked", len(sheet.accepted))
        return None


def kept_report(sheet: SightingSheet, judged: JudgedSheet | None) -> Report:
    """``report_on``, or a report that says that there is none."""
    if judged is not None:
        try:
            return report_on(judged)
        except Exception:
            log.exception("the check of a sheet of %d sightings could not be told", len(sheet.accepted))
    return unchecked(sheet)


def checked_json(sheet: SightingSheet, tolerances: Tolerances | None = None) -> bytes:
    """``check_kept`` as it is sent: a report in words takes longer to hand from process to process than to
    write down.
    """
    return check_kept(sheet, tolerances).model_dump_json().encode()


def unchecked(sheet: SightingSheet) -> Report:
    said = say("Not checked: the check met an error on this sheet. The sighting is kept as it was laid.")
    return Report(
        perspective=sheet.perspective,
        eye_level=ReportEyeLevel(source=OPEN.source),
        findings=[
            ReportFinding(sighting=s.id, kind=s.kind, verdict=Verdict.UNSURE, words=said, rule=Rule.UNEXAMINED)
            for s in sheet.accepted
        ],
        first_guess=report_guess(first_guess(sheet.perspective, [])),
        tolerance=report_tolerance(kept_tolerances(sheet)),
        notes=[
            say("This sheet could not be checked. Everything laid is kept; taking the last sighting away may help.")
        ],
    )


def report_tolerance(used: Tolerances) -> OwnTolerance:
    return OwnTolerance(tilt_deg=used.tilt_deg, length_percent=100.0 * used.length, degree_deg=used.degree_deg)


def report_guess(guess: FirstGuess) -> ReportFirstGuess:
    return ReportFirstGuess(**vars(guess))


def propose_for_sheet(
    sheet: SightingSheet, form: str, p: Point, q: Point, looked: SightingSheet | None = None
) -> Family:
    """The likeliest family of an edge about to be laid on ``form``; ``looked``: what was found in its picture. Raises
    ``FormatError`` without a picture.
    """
    return propose_family(*_laid_so_far(sheet, say("an edge")), form, p, q, shown_by(sheet, looked))


def propose_face_for_sheet(
    sheet: SightingSheet, form: str, corners: Corners, looked: SightingSheet | None = None
) -> LaidFace:
    """A face about to be laid while ``form`` is worked on. Raises ``FormatError`` without a picture."""
    return lay_face(*_laid_so_far(sheet, say("a face")), form, corners, shown_by(sheet, looked))


def shown_by(sheet: SightingSheet, looked: SightingSheet | None) -> Found:
    """What the picture of a sheet shows that nobody has laid: what was found in it, and what stands proposed."""
    proposed = [
        s.model_copy(update={"proposed": None})
        for one in (looked, sheet)
        if one is not None
        for s in one.sightings
        if s.proposed
    ]
    found = sheet.found or (None if looked is None else looked.found)
    level = None if found is None else (found.eye_level.left_y_px, found.eye_level.right_y_px)
    return Found(core_edges(sheet.model_copy(update={"sightings": proposed})), level)


def _laid_so_far(sheet: SightingSheet, thing: str) -> tuple[Setup, list[Edge]]:
    if sheet.picture is None:
        raise FormatError(say("picture: {thing} is laid on a picture, and this sheet has none", thing=thing))
    return core_setup(sheet, sheet.picture), core_edges(sheet)


def cautions(findings: Iterable[ReportFinding], forms: list[ReportForm]) -> list[str]:
    """What must be said wherever something is told in metres (handbook section 9)."""
    metric = any(form.size_m for form in forms) or any(
        f.kind is Kind.HEIGHT and f.sighted is not None for f in findings
    )
    return [str(SURVEY)] if metric else []


def naming(sheet: SightingSheet) -> Names:
    """How sentences call a sighting: by its name, or by its family letter and number."""
    called = {s.id: (s.name or s.id) for s in sheet.accepted}
    return lambda id: f"“{called.get(id, id)}”"
