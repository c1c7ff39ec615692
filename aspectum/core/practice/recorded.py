"""What sheets and drawings leave in the record: each judgement, or drawn number, as a reading of its skill."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from enum import StrEnum

from aspectum.core.drawing.accounts import Account
from aspectum.core.drawing.candidates import CauseKind
from aspectum.core.drawing.causes import Level
from aspectum.core.drawing.closed import Way
from aspectum.core.drawing.critique import Critique, Difference, with_error
from aspectum.core.drawing.readings import What
from aspectum.core.findings import Finding
from aspectum.core.life.readings import RimReading, TiltReading
from aspectum.core.plane.lines import lean_deg, tilt_difference
from aspectum.core.practice.skills import KINDS, Skill, SkillUnit
from aspectum.core.reasons import AlignmentReason
from aspectum.core.sightings import LEVEL_FAMILIES, Along, Edge, Family, Guide, Kind, Plane, Rim, Side

NEAR_EYE_LEVEL_DEG = 4.0  # degree under which a level rim counts as at eye level: under half of what the eye misjudges
NEAR_PART = 0.04  # of a side by which a part is still its middle, or its third


class ReadFrom(StrEnum):
    """Where a reading comes from: said before measuring, drawn, answered in practice, or asked of the whole room."""

    JUDGEMENT = "judgement"
    CRITIQUE = "critique"
    PRACTICE = "practice"
    ROOM = "room"


@dataclass(frozen=True)
class SkillReading:
    """``judged`` less ``truth`` is the signed error; ``truth_sd``: how well the truth is known."""

    skill: Skill
    source: ReadFrom
    sighting: str
    judged: float
    truth: float
    truth_sd: float | None

    @property
    def unit(self) -> SkillUnit:
        return KINDS[self.skill].unit

    @property
    def error(self) -> float:
        """Judged less true, in the skill's unit."""
        return self.judged - self.truth


@dataclass(frozen=True)
class SkillsOn:
    """What the sightings of a sheet are of, as far as their skills need to know. ``lengths``: how each is measured; ``sides``: the family that each tilt
    read from life runs with; ``read_rims``: rims read from life; ``overhead``: the picture looks straight up or down, where no edge is above or below eye
    level; ``level_given``, ``points_given``: whether the paper prints eye level, and of which forms' families the vanishing points.
    """

    edges: list[Edge] = field(default_factory=list)
    rims: list[Rim] = field(default_factory=list)
    lengths: dict[str, Along] = field(default_factory=dict)
    sides: dict[str, Family] = field(default_factory=dict)
    read_rims: list[RimReading] = field(default_factory=list)
    overhead: bool = False
    level_given: bool = False
    points_given: frozenset[tuple[str | None, Family]] = frozenset()

    @property
    def families(self) -> dict[str, Family]:
        """The family that each edge runs with, as far as its skill goes by it."""
        laid = {e.id: e.family for e in self.edges if not (self.overhead and e.family in LEVEL_FAMILIES)}
        return self.sides | laid

    @property
    def along(self) -> dict[str, Along]:
        """How each length is measured; an edge drawn too long or too short is one up if it is an upright, else one along."""
        edges = {e.id: Along.UPRIGHT if e.family is Family.UPRIGHT else Along.EDGE for e in self.edges}
        return edges | self.lengths

    @property
    def tops(self) -> set[str]:
        return top_rims(self.rims) | top_rim_readings(self.read_rims)

    @property
    def standing(self) -> set[str]:
        """Rims whose plane is not level."""
        laid = {rim.id for rim in self.rims if rim.plane is not Plane.LEVEL}
        return laid | {rim.id for rim in self.read_rims if rim.plane is not Plane.LEVEL}


def sides_of(tilts: list[TiltReading]) -> dict[str, Family]:
    """The family that each tilt read from life runs with; one of no side is an upright's."""
    families = {Side.LEFT: Family.LEFT, Side.RIGHT: Family.RIGHT, None: Family.UPRIGHT}
    return {t.id: families[t.side] for t in tilts}


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


def far_edges(edges: list[Edge]) -> set[str]:
    """Edges that have a nearer fellow on their side of eye level: of two parallel edges the nearer is the longer (handbook section 2)."""
    longest: dict[object, tuple[float, str]] = {}
    for edge in edges:
        size = math.dist(edge.p, edge.q)
        slot = (*edge.slot, _climbs(edge))
        if slot not in longest or size > longest[slot][0]:
            longest[slot] = size, edge.id
    nearest = {id for _, id in longest.values()}
    return {edge.id for edge in edges if edge.family in (Family.LEFT, Family.RIGHT) and edge.id not in nearest}


def _climbs(edge: Edge) -> bool:
    """Whether it rises to the viewer's right."""
    (x0, y0), (x1, y1) = sorted((edge.p, edge.q))
    return y1 < y0 and x1 > x0


def edge_skill(family: Family | None, truth_deg: float, far: bool) -> Skill:
    """The skill of an edge's tilt. Below eye level edges climb as they go back, above it they fall (handbook section 2), so the true tilt says which."""
    if family is Family.UPRIGHT:
        return Skill.UPRIGHT_LEAN
    if family not in (Family.LEFT, Family.RIGHT):
        return Skill.OTHER_EDGE
    above = truth_deg > 0 if family is Family.LEFT else truth_deg < 0
    if far:
        return Skill.FAR_ABOVE if above else Skill.FAR_BELOW
    if family is Family.LEFT:
        return Skill.LEFT_ABOVE if above else Skill.LEFT_BELOW
    return Skill.RIGHT_ABOVE if above else Skill.RIGHT_BELOW


def steepness(judged_deg: float, truth_deg: float) -> tuple[float, float]:
    """Judged and true tilt (degrees) counted towards the side to which the true one climbs, the short way round."""
    near = truth_deg + float(tilt_difference(judged_deg, truth_deg))
    return (near, truth_deg) if truth_deg >= 0 else (-near, -truth_deg)


def leans(judged_deg: float, truth_deg: float) -> tuple[float, float]:
    """Judged and true lean (degrees from plumb, positive to the right) of two tilts, the short way round."""
    truth = float(lean_deg(truth_deg))
    return truth - float(tilt_difference(judged_deg, truth_deg)), truth


def rim_skill(level: bool, top: bool, truth_deg: float) -> Skill:
    """The skill of a rim's degree; a standing rim on a sheet is a lying form's."""
    if not level:
        return Skill.LYING_RIM
    if truth_deg < NEAR_EYE_LEVEL_DEG:
        return Skill.RIM_AT_EYE_LEVEL
    return Skill.UPPER_RIM if top else Skill.LOWER_RIM


def part_skill(part: float) -> Skill:
    """The skill of a part of a side, counted from either end."""
    if abs(part - 0.5) < NEAR_PART:
        return Skill.MIDDLE
    return Skill.THIRD if abs(min(part, 1.0 - part) - 1.0 / 3.0) < NEAR_PART else Skill.OTHER_PART


def judgement_readings(findings: list[Finding], laid: SkillsOn) -> list[SkillReading]:
    """What was judged by eye, beside what was then sighted; a part of a side beside where it truly stands."""
    families, far, along, tops, standing = laid.families, far_edges(laid.edges), laid.along, laid.tops, laid.standing
    found = []
    for f in findings:
        if f.judged is None:
            continue
        if f.kind is Kind.DIVISION:
            if f.implied is not None:
                sd = None if f.implied_sd is None else 100.0 * f.implied_sd
                found.append(SkillReading(part_skill(f.implied), ReadFrom.JUDGEMENT, f.sighting, 100.0 * f.judged, 100.0 * f.implied, sd))
            continue
        if f.sighted is None:
            continue
        if isinstance(f.reason, AlignmentReason) and f.reason.guide is not Guide.TILT:
            found.append(SkillReading(Skill.ALIGNMENT, ReadFrom.JUDGEMENT, f.sighting, f.judged, f.sighted, f.sighted_sd))
        elif f.kind in (Kind.EDGE, Kind.ALIGNMENT):
            family = None if f.kind is Kind.ALIGNMENT else families.get(f.sighting)
            corners = f.kind is Kind.ALIGNMENT
            found.append(_tilt(ReadFrom.JUDGEMENT, f.sighting, f.judged, f.sighted, f.sighted_sd, family, f.sighting in far, corners))
        elif f.kind is Kind.RIM:
            skill = rim_skill(f.sighting not in standing, f.sighting in tops, f.sighted)
            found.append(SkillReading(skill, ReadFrom.JUDGEMENT, f.sighting, f.judged, f.sighted, f.sighted_sd))
        elif f.kind in (Kind.LENGTH, Kind.HEIGHT) and f.sighted > 0:
            skill = Skill.HEIGHT if f.kind is Kind.HEIGHT else _of_length(along.get(f.sighting))
            sd = None if f.sighted_sd is None else f.sighted_sd / f.sighted
            found.append(_in_per_cent(skill, ReadFrom.JUDGEMENT, f.sighting, f.judged / f.sighted, sd))
    return found


def critique_readings(critique: Critique, kinds: dict[str, Kind], laid: SkillsOn) -> list[SkillReading]:
    """What was drawn, beside the subject. Each cause is one reading, of its own skill; every number is one by what the causes leave of it, but for those of
    the cause's own skill, which it stands for. Eye level and each vanishing point, where nothing prints them, are readings as well. ``laid``: on the subject.
    """
    far = far_edges(laid.edges)
    found: dict[tuple[Skill, str], SkillReading] = {}
    stood_for: set[tuple[Skill, str]] = set()
    shown: dict[tuple[str, What], float] = {}
    for account in critique.accounts:
        reading = _of_account(account, laid)
        if reading is None:
            # no skill is of this cause: it is told by the line that shows most of it
            shown[account.numbers[0]] = shown.get(account.numbers[0], 0.0) + account.most
            continue
        found[reading.skill, reading.sighting] = reading
        stood_for |= {(reading.skill, sighting) for sighting, _ in account.numbers}
    for level in critique.levels:
        level_reading = _of_level(level, laid)
        if level_reading is not None:
            found.setdefault((level_reading.skill, level_reading.sighting), level_reading)
    numbers = [_of_difference(with_error(d, d.difference + shown.get((d.sighting, d.what), 0.0)), kinds.get(d.sighting), laid, far) for d in critique.left_over]
    return [*found.values(), *(r for r in numbers if r is not None and (r.skill, r.sighting) not in stood_for)]


def _of_account(account: Account, laid: SkillsOn) -> SkillReading | None:
    """The one reading that a cause is; None for one that no skill is of."""
    where = " ".join(str(part) for part in (account.form, account.family, account.which, account.way) if part is not None)
    name = f"{account.cause} {where}".strip()[:80]
    match account.cause:
        case CauseKind.EYE_LEVEL | CauseKind.VANISHING_POINT:
            return _of_level(Level(account.form, account.family, account.error, account.sd), laid, told=True)
        case CauseKind.LEAN:
            return SkillReading(Skill.UPRIGHT_LEAN, ReadFrom.CRITIQUE, name, account.error, 0.0, account.sd)
        case CauseKind.STRETCH | CauseKind.SIZE:
            up = account.cause is CauseKind.SIZE or account.way is Way.UP
            return _in_per_cent(Skill.LENGTH_UP if up else Skill.LENGTH_ACROSS, ReadFrom.CRITIQUE, name, 1.0 + account.error, account.sd)
        case CauseKind.DEPTH:
            return _in_per_cent(Skill.LENGTH_ALONG, ReadFrom.CRITIQUE, name, 1.0 + account.error, account.sd)
        case CauseKind.RIM:
            ids = {sighting for sighting, _ in account.numbers}
            skill = rim_skill(not ids <= laid.standing, ids <= laid.tops, account.due_deg)
            return SkillReading(skill, ReadFrom.CRITIQUE, name, account.due_deg + account.error, account.due_deg, account.sd)
    return None


def _of_level(level: Level, laid: SkillsOn, told: bool = False) -> SkillReading | None:
    """Where eye level, or a vanishing point, was put; None where the paper prints it and no cause is ``told`` of it, and for a point that is moved in another
    unit: a depth family's, or the uprights'.
    """
    if level.family is None:
        if laid.level_given and not told:
            return None
        return SkillReading(Skill.EYE_LEVEL, ReadFrom.CRITIQUE, Skill.EYE_LEVEL.value, level.value, 0.0, level.sd)
    if level.family not in (Family.LEFT, Family.RIGHT) or ((level.form, level.family) in laid.points_given and not told):
        return None
    return SkillReading(Skill.VANISHING_POINT, ReadFrom.CRITIQUE, f"{level.form} {level.family}"[:80], 100.0 * level.value, 0.0, 100.0 * level.sd)


def _of_difference(d: Difference, kind: Kind | None, laid: SkillsOn, far: set[str]) -> SkillReading | None:
    match d.what:
        case What.TILT if kind in (Kind.EDGE, Kind.ALIGNMENT):
            corners = kind is Kind.ALIGNMENT
            return _tilt(
                ReadFrom.CRITIQUE, d.sighting, d.drawing, d.subject, d.sd, None if corners else laid.families.get(d.sighting), d.sighting in far, corners
            )
        case What.DEGREE:
            skill = rim_skill(d.sighting not in laid.standing, d.sighting in laid.tops, d.subject)
            return SkillReading(skill, ReadFrom.CRITIQUE, d.sighting, d.drawing, d.subject, d.sd)
        case What.AXIS:
            near = d.subject + float(tilt_difference(d.drawing, d.subject))
            return SkillReading(Skill.MINOR_AXIS, ReadFrom.CRITIQUE, d.sighting, near, d.subject, d.sd)
        case What.LENGTH:
            return _in_per_cent(_of_length(laid.along.get(d.sighting)), ReadFrom.CRITIQUE, d.sighting, 1.0 + d.difference, d.sd)
        case What.MAJOR:
            return _in_per_cent(Skill.LENGTH_ACROSS, ReadFrom.CRITIQUE, d.sighting, 1.0 + d.difference, d.sd)
        case What.PART:
            # what was drawn for the subject's part truly stands at another of the drawing: said and true, as when it is judged by eye
            return SkillReading(part_skill(d.subject), ReadFrom.CRITIQUE, d.sighting, 100.0 * d.subject, 100.0 * d.drawing, 100.0 * d.sd)
    return None


def _of_length(along: Along | None) -> Skill:
    return {Along.ACROSS: Skill.LENGTH_ACROSS, Along.UPRIGHT: Skill.LENGTH_UP}.get(along or Along.EDGE, Skill.LENGTH_ALONG)


def _tilt(
    source: ReadFrom, sighting: str, judged: float, truth: float, sd: float | None, family: Family | None, far: bool, corners: bool = False
) -> SkillReading:
    skill = Skill.CORNER_TO_CORNER if corners else edge_skill(family, truth, far)
    said, true = leans(judged, truth) if skill is Skill.UPRIGHT_LEAN else steepness(judged, truth)
    return SkillReading(skill, source, sighting, said, true, sd)


def _in_per_cent(skill: Skill, source: ReadFrom, sighting: str, share: float, sd: float | None) -> SkillReading:
    """A length as a share of what it should be."""
    return SkillReading(skill, source, sighting, 100.0 * share, 100.0, None if sd is None else 100.0 * sd)
