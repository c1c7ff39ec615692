"""The skills that a record is kept of, and the readings that belong to each.

A reading is what somebody judged, or drew, beside what it should be, in its skill's unit: their difference is the signed error.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from aspectum.core.drawing.critique import Critique, Difference
from aspectum.core.drawing.readings import What
from aspectum.core.findings import Finding
from aspectum.core.life.readings import RimReading
from aspectum.core.plane.lines import tilt_difference
from aspectum.core.reasons import AlignmentReason
from aspectum.core.sightings import Guide, Kind, Plane, Rim


class Skill(StrEnum):
    """A skill by itself."""

    EDGE_TILT = "edge tilt"
    PROPORTION = "proportion"
    LOWER_RIM = "lower rim"
    UPPER_RIM = "upper rim"
    AXIS = "axis"
    ALIGNMENT = "alignment"
    EYE_LEVEL = "eye level"
    VANISHING_POINT = "VP"


class SkillUnit(StrEnum):
    """What a skill's errors are told in."""

    DEGREES = "degrees"
    PER_CENT = "per cent"
    NEAR_UPRIGHTS = "near uprights"


class ReadFrom(StrEnum):
    """Where a reading comes from: said before measuring, or drawn."""

    JUDGEMENT = "judgement"
    CRITIQUE = "critique"


@dataclass(frozen=True)
class SkillReading:
    """``judged`` less ``truth`` is the signed error; ``truth_sd``: how well the truth is known."""

    skill: Skill
    source: ReadFrom
    sighting: str
    judged: float
    truth: float
    truth_sd: float | None
    unit: SkillUnit


def top_rims(rims: list[Rim]) -> set[str]:
    """The top rim of each form, by where its points lie; every other is a lower one."""
    found: dict[str, tuple[float, str]] = {}
    for rim in rims:
        if rim.plane is Plane.LEVEL:
            height = sum(y for _, y in rim.laid) / max(len(rim.laid), 1)
            if rim.form not in found or height < found[rim.form][0]:
                found[rim.form] = height, rim.id
    return {id for _, id in found.values()}


def top_rim_readings(rims: list[RimReading]) -> set[str]:
    """The top rim of each form among those read from life, by how far down it stands; one whose place nobody measured is an upper one."""
    found: dict[str | None, tuple[float, str]] = {}
    for rim in rims:
        height = -math.inf if rim.down is None else rim.down
        if rim.plane is Plane.LEVEL and (rim.form not in found or height < found[rim.form][0]):
            found[rim.form] = height, rim.id
    return {id for _, id in found.values()}


def judgement_readings(findings: list[Finding], rims: list[Rim], upper: set[str] | None = None) -> list[SkillReading]:
    """What was judged by eye, beside what was then sighted. ``upper``: the top rims among those read from life."""
    tops, found = top_rims(rims) | (upper or set()), []
    for f in findings:
        if f.judged is None or f.sighted is None:
            continue
        if isinstance(f.reason, AlignmentReason) and f.reason.guide is not Guide.TILT:
            found.append(SkillReading(Skill.ALIGNMENT, ReadFrom.JUDGEMENT, f.sighting, f.judged, f.sighted, f.sighted_sd, SkillUnit.NEAR_UPRIGHTS))
            continue
        reading = of_kind(f.kind, f.sighting, f.judged, f.sighted, f.sighted_sd, ReadFrom.JUDGEMENT, f.sighting in tops)
        if reading is not None:
            found.append(reading)
    return found


def of_kind(kind: Kind, sighting: str, judged: float, truth: float, sd: float | None, source: ReadFrom, top: bool) -> SkillReading | None:
    """A reading of a sighting's own number; None for what has no skill."""
    match kind:
        case Kind.EDGE | Kind.ALIGNMENT:
            skill = Skill.EDGE_TILT if kind is Kind.EDGE else Skill.ALIGNMENT
            # the short way round: 89 judged of -89 is 2 off
            near = truth + float(tilt_difference(judged, truth))
            return SkillReading(skill, source, sighting, near, truth, sd, SkillUnit.DEGREES)
        case Kind.RIM:
            return SkillReading(Skill.UPPER_RIM if top else Skill.LOWER_RIM, source, sighting, judged, truth, sd, SkillUnit.DEGREES)
        case Kind.LENGTH | Kind.HEIGHT if truth > 0:
            return in_per_cent(source, sighting, judged / truth, None if sd is None else sd / truth)
        case Kind.DIVISION:
            share = None if sd is None else 100.0 * sd
            return SkillReading(Skill.PROPORTION, source, sighting, 100.0 * judged, 100.0 * truth, share, SkillUnit.PER_CENT)
    return None


def in_per_cent(source: ReadFrom, sighting: str, share: float, sd: float | None) -> SkillReading:
    """A length as a share of what it should be."""
    return SkillReading(Skill.PROPORTION, source, sighting, 100.0 * share, 100.0, None if sd is None else 100.0 * sd, SkillUnit.PER_CENT)


def critique_readings(critique: Critique, kinds: dict[str, Kind], rims: list[Rim]) -> list[SkillReading]:
    """What was drawn, beside the subject, with where eye level and each vanishing point stand."""
    tops = top_rims(rims)
    found = [r for d in critique.differences if (r := of_difference(d, kinds.get(d.sighting), tops)) is not None]
    for level in critique.levels:
        skill = Skill.EYE_LEVEL if level.family is None else Skill.VANISHING_POINT
        name = skill.value if level.family is None else f"{level.form} {level.family}"
        found.append(SkillReading(skill, ReadFrom.CRITIQUE, name[:80], level.value, 0.0, level.sd, SkillUnit.NEAR_UPRIGHTS))
    return found


def of_difference(d: Difference, kind: Kind | None, tops: set[str]) -> SkillReading | None:
    """A reading of one number of a drawing."""
    match d.what:
        case What.TILT if kind in (Kind.EDGE, Kind.ALIGNMENT):
            return of_kind(kind, d.sighting, d.drawing, d.subject, d.sd, ReadFrom.CRITIQUE, False)
        case What.DEGREE:
            return of_kind(Kind.RIM, d.sighting, d.drawing, d.subject, d.sd, ReadFrom.CRITIQUE, d.sighting in tops)
        case What.AXIS:
            near = d.subject + float(tilt_difference(d.drawing, d.subject))
            return SkillReading(Skill.AXIS, ReadFrom.CRITIQUE, d.sighting, near, d.subject, d.sd, SkillUnit.DEGREES)
        case What.LENGTH | What.MAJOR:
            return in_per_cent(ReadFrom.CRITIQUE, d.sighting, 1.0 + d.difference, d.sd)
        case What.PART:
            return of_kind(Kind.DIVISION, d.sighting, d.drawing, d.subject, d.sd, ReadFrom.CRITIQUE, False)
    return None
