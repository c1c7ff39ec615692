"""Questions from a student's own sheets: sightings that hold, and whose implied value is so tight that an answer can be
measured by it.
"""

from __future__ import annotations

import math
from dataclasses import replace

from aspectum.core.findings import EyeLevel, Finding
from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.practice.question import AnswerBy, Mark, MarkRole, Number, Place, Question, Told, Window
from aspectum.core.practice.recorded import SkillsOn, rim_skill
from aspectum.core.practice.skills import Skill, tolerance_of
from aspectum.core.sightings import Along, Edge, Kind, Length, Point, Rim, Setup
from aspectum.core.tolerance import Tolerances, Verdict

TIGHT = 1 / 3  # of the tolerance, that the truth's ± may be: as with a reading's own share of the spread
OWN_DIFFICULTY = 0.5  # nothing says how hard a picture of one's own is
OUTLINE_STEPS = 96  # chords round an ellipse: 0.05 % of its half-width inside it
ALONG = {Along.ACROSS: Skill.LENGTH_ACROSS, Along.UPRIGHT: Skill.LENGTH_UP, Along.EDGE: Skill.LENGTH_ALONG}


def own_questions(
    findings: list[Finding], laid: SkillsOn, lengths: list[Length], setup: Setup, tolerances: Tolerances
) -> dict[str, Question]:
    """A question for each sighting that can be asked again, by the sighting, in the order of ``findings``. The truth
    weighs sighted and implied by their ±.
    """
    whole = Window(0.0, 0.0, setup.width_px, setup.height_px)
    edges, rims, measured = (
        {e.id: e for e in laid.edges},
        {r.id: r for r in laid.rims},
        {length.id: length for length in lengths},
    )
    unit = next((length for length in lengths if length.unit), None)
    found: dict[str, Question] = {}
    for f in findings:
        known = _truth(f)
        if known is None:
            continue
        truth, sd = known
        question: Question | None = None
        if f.kind is Kind.EDGE and f.sighting in edges:
            question = _of_edge(edges[f.sighting], laid.edge_skill(f.sighting, truth), truth, sd)
        elif f.kind is Kind.RIM and f.sighting in rims and f.rim is not None:
            question = _of_rim(
                rims[f.sighting], f.rim.sighted_ellipse, truth, sd, f.sighting in laid.tops, f.sighting in laid.standing
            )
        elif f.kind is Kind.LENGTH and f.sighting in measured and unit is not None and f.sighting != unit.id:
            question = _of_length(measured[f.sighting], unit, truth, sd)
        if question is not None and (question.truth_sd or 0.0) <= TIGHT * tolerance_of(question.skill, tolerances):
            found[f.sighting] = replace(question, window=whole, sort=laid.sort)
    return found


def eye_level_question(
    level: EyeLevel, unit: tuple[Point, Point], setup: Setup, tolerances: Tolerances
) -> Question | None:
    """Where eye level lies, counted in lengths of the upright ``unit``; None where eye level is not found well enough,
    or not within the picture.
    """
    if level.left_y_px is None or level.right_y_px is None or level.sd_px is None:
        return None
    high, wide = math.dist(*unit), float(setup.width_px)
    y = (level.left_y_px + level.right_y_px) / 2
    sd = level.sd_px / high if high > 0.0 else math.inf
    if not 0.0 < y < setup.height_px or sd > TIGHT * tolerance_of(Skill.EYE_LEVEL, tolerances):
        return None
    return Question(
        Skill.EYE_LEVEL,
        OWN_DIFFICULTY,
        AnswerBy.LEVEL,
        None,
        None,
        (Mark(MarkRole.UNIT, unit),),
        Place((wide / 2, y), (0.0, -high)),
        (Mark(MarkRole.ASKED, ((0.0, level.left_y_px), (wide, level.right_y_px))),),
        truth_sd=sd,
        window=Window(0.0, 0.0, wide, float(setup.height_px)),
    )


def _truth(f: Finding) -> tuple[float, float] | None:
    if f.verdict is not Verdict.HOLDS or f.sighted is None or f.implied is None or not f.sighted_sd or not f.implied_sd:
        return None
    by_sight, by_rest = f.sighted_sd**-2, f.implied_sd**-2
    return (f.sighted * by_sight + f.implied * by_rest) / (by_sight + by_rest), 1.0 / math.sqrt(by_sight + by_rest)


def _of_edge(edge: Edge, skill: Skill, truth: float, sd: float) -> Question:
    told = Told.LEAN if skill is Skill.UPRIGHT_LEAN else Told.TILT
    line = (Mark(MarkRole.ASKED, (edge.p, edge.q)),)
    return Question(
        skill,
        OWN_DIFFICULTY,
        AnswerBy.NEEDLE,
        None,
        None,
        line,
        Number(told, truth),
        line,
        truth_sd=sd,
        family=edge.family,
    )


def _of_rim(rim: Rim, ellipse: Ellipse, truth: float, sd: float, top: bool, standing: bool) -> Question:
    marks = tuple(Mark(MarkRole.ASKED, (p,)) for p in rim.laid)
    whole = Mark(MarkRole.ASKED, _outline(ellipse, truth))
    skill = rim_skill(not standing, top, truth)
    return Question(
        skill, OWN_DIFFICULTY, AnswerBy.ELLIPSE, None, None, marks, Number(Told.DEGREE, truth), (whole,), truth_sd=sd
    )


def _outline(ellipse: Ellipse, degree_deg: float) -> tuple[Point, ...]:
    """The rim as it truly opens: on its own widest line, by the degree."""
    (x, y), t = ellipse.centre_px, math.radians(ellipse.axis_deg)
    half, high = ellipse.major_px / 2, ellipse.major_px / 2 * math.sin(math.radians(degree_deg))
    turns = [2.0 * math.pi * k / OUTLINE_STEPS for k in range(OUTLINE_STEPS + 1)]
    # the minor axis runs at axis_deg, counted with y up
    return tuple(
        (
            x + half * math.cos(u) * math.sin(t) + high * math.sin(u) * math.cos(t),
            y + half * math.cos(u) * math.cos(t) - high * math.sin(u) * math.sin(t),
        )
        for u in turns
    )


def _of_length(length: Length, unit: Length, truth: float, sd: float) -> Question | None:
    if truth <= 0.0:
        return None
    asked: tuple[Point, Point] = (length.p, length.q)
    marks = (Mark(MarkRole.UNIT, (unit.p, unit.q)), Mark(MarkRole.ASKED, asked, "A"))
    return Question(
        ALONG[length.along],
        OWN_DIFFICULTY,
        AnswerBy.STICK,
        None,
        None,
        marks,
        Number(Told.RATIO, truth),
        (Mark(MarkRole.ASKED, asked),),
        told=(("ratio", truth),),
        truth_sd=100.0 * sd / truth,
    )
