"""What sheets leave in the record: each judgement as a reading of its skill, and which skill a line or a rim is of."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from functools import cached_property

from aspectum.core.findings import EyeLevel, Finding, Source
from aspectum.core.life.readings import RimReading, TiltReading
from aspectum.core.plane.lines import lean_deg, tilt_difference
from aspectum.core.practice.skills import KINDS, Skill, SkillUnit
from aspectum.core.reasons import AlignmentReason
from aspectum.core.sightings import Along, Edge, Family, Guide, Kind, Plane, Rim, Side, ViewSort

NEAR_EYE_LEVEL_DEG = 4.0  # degree under which a level rim counts as at eye level: under half of what the eye misjudges
ALIGNED = 0.08  # of an edge's length: its end stands on the near upright, or above or below its fellow's
LEVEL_DEG = 1.0  # from level: nearer than this a line neither climbs nor falls
NEAR_PART = 0.04  # of a side by which a part is still its middle, or its third


# skills of one edge's tilt, whose errors are counted towards the side to which it climbs
STEEPNESS = (
    Skill.LEFT_ABOVE,
    Skill.LEFT_BELOW,
    Skill.RIGHT_ABOVE,
    Skill.RIGHT_BELOW,
    Skill.FAR_ABOVE,
    Skill.FAR_BELOW,
    Skill.OTHER_EDGE,
    Skill.PARALLEL_EDGE,
    Skill.CORNER_TO_CORNER,
)


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
    """What the sightings of a sheet are of, as far as their skills need to know. ``lengths``: how each is measured;
    ``sides``: the family that each tilt read from life runs with; ``read_rims``: rims read from life; ``sort`` of view:
    seen straight up or down, or in parallel, no edge is above or below eye level; ``level_given``, ``points_given``:
    whether the paper prints eye level, and of which forms' families the vanishing points.
    """

    edges: list[Edge] = field(default_factory=list)
    rims: list[Rim] = field(default_factory=list)
    lengths: dict[str, Along] = field(default_factory=dict)
    sides: dict[str, Family] = field(default_factory=dict)
    read_rims: list[RimReading] = field(default_factory=list)
    sort: ViewSort | None = None
    level_given: bool = False
    points_given: frozenset[tuple[str | None, Family]] = frozenset()

    @property
    def families(self) -> dict[str, Family]:
        """The family that each edge runs with, as far as its skill goes by it."""
        laid = {e.id: e.family for e in self.edges if self.sort is not ViewSort.STRAIGHT}
        return self.sides | laid

    @cached_property
    def far(self) -> set[str]:
        return far_edges(self.edges)

    def edge_skill(self, sighting: str, truth_deg: float) -> Skill:
        """The skill of an edge's tilt, by its true tilt."""
        family = self.families.get(sighting)
        if self.sort is ViewSort.PARALLEL and family is not Family.UPRIGHT:
            return Skill.PARALLEL_EDGE
        return edge_skill(family, truth_deg, sighting in self.far)

    @property
    def along(self) -> dict[str, Along]:
        """How each length is measured; an edge drawn too long or too short is one up if it is an upright, else one
        along.
        """
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
    """The top rim of each form among those read from life, by how far down it stands; one whose place nobody measured
    is an upper one.
    """
    found: dict[str | None, tuple[float, str]] = {}
    for rim in rims:
        height = -math.inf if rim.down is None else rim.down
        if rim.plane is Plane.LEVEL and (rim.form not in found or height < found[rim.form][0]):
            found[rim.form] = height, rim.id
    return {id for _, id in found.values()}


def far_edges(edges: list[Edge]) -> set[str]:
    """Edges of a form's far walls, which have a nearer fellow on their side of eye level to close to a V with (handbook
    section 2).

    The walls towards the eye meet at the near upright. What runs along one of them, its top, its foot, a sill, is near
    however short it is drawn; what lies beyond its top or below its foot, as the back edge of a lid does, is far.
    """
    found = set()
    for edge in edges:
        if edge.family in (Family.LEFT, Family.RIGHT):
            fellows = [e for e in edges if e.slot == edge.slot and _climbs(e) == _climbs(edge) and e.id != edge.id]
            if fellows and _beyond_walls(edge, fellows, _near_upright(edges, edge.form)):
                found.add(edge.id)
    return found


def _near_upright(edges: list[Edge], form: str) -> Edge | None:
    """The upright that a form is drawn from: its longest."""
    uprights = [e for e in edges if e.form == form and e.family is Family.UPRIGHT]
    return max(uprights, key=lambda e: math.dist(e.p, e.q), default=None)


def _beyond_walls(edge: Edge, fellows: list[Edge], near: Edge | None) -> bool:
    """Whether an edge lies beyond the wall that its fellows bound at the near upright; where none of them meets one,
    whether it is shorter than the longest and stands neither above nor below it.
    """
    meeting = [e for e in fellows if near is not None and _meets(e, near)]
    if near is not None and _meets(edge, near):
        return False
    if near is None or not meeting:
        first = max(fellows, key=lambda e: math.dist(e.p, e.q))
        (a, b), (c, d) = (sorted((e.p[0], e.q[0])) for e in (edge, first))
        long = math.dist(first.p, first.q)
        return math.dist(edge.p, edge.q) < long and max(abs(a - c), abs(b - d)) > ALIGNED * long
    on_wall = [(near.p[k] + near.q[k]) / 2 for k in (0, 1)]
    middle = [(edge.p[k] + edge.q[k]) / 2 for k in (0, 1)]
    return any(_side(e, middle) * _side(e, on_wall) < 0 for e in meeting)


def _meets(edge: Edge, near: Edge) -> bool:
    """Whether an edge begins on the line of the near upright."""
    long = math.dist(near.p, near.q)
    return min(abs(_side(near, at)) for at in (edge.p, edge.q)) < ALIGNED * math.dist(edge.p, edge.q) * long


def _side(edge: Edge, at: Sequence[float]) -> float:
    """On which side of an edge drawn on a place lies: the area (px²) that the edge and the place span."""
    (x0, y0), (x1, y1) = edge.p, edge.q
    return (x1 - x0) * (at[1] - y0) - (y1 - y0) * (at[0] - x0)


def _climbs(edge: Edge) -> bool:
    """Whether it rises to the viewer's right."""
    (x0, y0), (x1, y1) = sorted((edge.p, edge.q))
    return y1 < y0 and x1 > x0


def edge_skill(family: Family | None, truth_deg: float, far: bool) -> Skill:
    """The skill of an edge's tilt. Below eye level edges climb as they go back, above it they fall (handbook section
    2), so the true tilt says which.
    """
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


def wrong_way(skill: Skill, judged: float, truth: float) -> bool:
    """Whether a skill's tilt was judged to fall where the true one climbs, as ``steepness`` counts both: then it is
    neither too steep nor too flat.
    """
    return skill in STEEPNESS and turned_over(judged, truth)


def turned_over(judged: float, truth: float) -> bool:
    """Whether of two tilts, as ``steepness`` counts them, the judged one falls and the true one climbs, neither lying
    about level.
    """
    return judged < -LEVEL_DEG and truth > LEVEL_DEG


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
    along, tops, standing = laid.along, laid.tops, laid.standing
    found = []
    for f in findings:
        if f.judged is None:
            continue
        if f.kind is Kind.DIVISION:
            if f.implied is not None:
                sd = None if f.implied_sd is None else 100.0 * f.implied_sd
                found.append(
                    SkillReading(
                        part_skill(f.implied), ReadFrom.JUDGEMENT, f.sighting, 100.0 * f.judged, 100.0 * f.implied, sd
                    )
                )
            continue
        if f.sighted is None:
            continue
        if isinstance(f.reason, AlignmentReason) and f.reason.guide is not Guide.TILT:
            found.append(
                SkillReading(Skill.ALIGNMENT, ReadFrom.JUDGEMENT, f.sighting, f.judged, f.sighted, f.sighted_sd)
            )
        elif f.kind in (Kind.EDGE, Kind.ALIGNMENT):
            skill = Skill.CORNER_TO_CORNER if f.kind is Kind.ALIGNMENT else laid.edge_skill(f.sighting, f.sighted)
            found.append(tilt_reading(skill, ReadFrom.JUDGEMENT, f.sighting, f.judged, f.sighted, f.sighted_sd))
        elif f.kind is Kind.RIM:
            skill = rim_skill(f.sighting not in standing, f.sighting in tops, f.sighted)
            found.append(SkillReading(skill, ReadFrom.JUDGEMENT, f.sighting, f.judged, f.sighted, f.sighted_sd))
        elif f.kind in (Kind.LENGTH, Kind.HEIGHT) and f.sighted > 0:
            skill = Skill.HEIGHT if f.kind is Kind.HEIGHT else of_length(along.get(f.sighting))
            sd = None if f.sighted_sd is None else f.sighted_sd / f.sighted
            found.append(in_per_cent(skill, ReadFrom.JUDGEMENT, f.sighting, f.judged / f.sighted, sd))
    return found


def eye_level_reading(judged_y_px: float, level: EyeLevel, unit_px: float | None) -> SkillReading | None:
    """Eye level as it was judged by eye, at the picture's middle (px), beside where the sightings put it; None while
    they do not, or no near upright (``unit_px`` long) tells how much that is. One that was set by hand says nothing.
    """
    true = level.found if level.source is Source.GIVEN else level
    if true is None or true.middle_y_px is None or not unit_px:
        return None
    error = (true.middle_y_px - judged_y_px) / unit_px
    sd = None if true.sd_px is None else true.sd_px / unit_px
    return SkillReading(Skill.EYE_LEVEL, ReadFrom.JUDGEMENT, Skill.EYE_LEVEL.value, error, 0.0, sd)


def of_length(along: Along | None) -> Skill:
    return {Along.ACROSS: Skill.LENGTH_ACROSS, Along.UPRIGHT: Skill.LENGTH_UP}.get(
        along or Along.EDGE, Skill.LENGTH_ALONG
    )


def tilt_reading(
    skill: Skill, source: ReadFrom, sighting: str, judged: float, truth: float, sd: float | None
) -> SkillReading:
    """A tilt (degrees) as the skill counts it: an upright's as its lean, any other as steepness."""
    said, true = leans(judged, truth) if skill is Skill.UPRIGHT_LEAN else steepness(judged, truth)
    return SkillReading(skill, source, sighting, said, true, sd)


def in_per_cent(skill: Skill, source: ReadFrom, sighting: str, share: float, sd: float | None) -> SkillReading:
    """A length as a share of what it should be."""
    return SkillReading(skill, source, sighting, 100.0 * share, 100.0, None if sd is None else 100.0 * sd)
