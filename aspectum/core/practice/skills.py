"""The skills that a record is kept of: one list for judgements on sheets, for drawings and for drills.

Errors are signed, judged less true, in the unit of the skill. Tilts are counted as steepness, in degrees from level
towards the side to which the true line climbs, so that a positive error is *too steep* wherever the edge runs, and a
negative judged value is an edge tilted the wrong way.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from aspectum.core.tolerance import Tolerances, beyond


class Skill(StrEnum):
    """A skill by itself (handbook sections 2 to 5). Near and far, above and below eye level as the edge lies on its
    form.
    """

    LEFT_ABOVE = "left edge above"
    LEFT_BELOW = "left edge below"
    RIGHT_ABOVE = "right edge above"
    RIGHT_BELOW = "right edge below"
    FAR_ABOVE = "far edge above"
    FAR_BELOW = "far edge below"
    OTHER_EDGE = "other edge"
    UPRIGHT_LEAN = "upright lean"
    STEEPER_EDGE = "steeper edge"
    PARALLEL_EDGE = "parallel edge"
    CORNER_TO_CORNER = "corner to corner"
    EYE_LEVEL = "eye level"
    VANISHING_POINT = "vanishing point"
    ALIGNMENT = "alignment"
    MISSING_CORNER = "missing corner"
    UPPER_RIM = "upper rim"
    LOWER_RIM = "lower rim"
    RIM_AT_EYE_LEVEL = "rim at eye level"
    LYING_RIM = "lying rim"
    WHEEL = "wheel"
    MINOR_AXIS = "minor axis"
    BASE_OF_MOUTH = "base of a mouth"
    TURNING = "turning degree"
    LENGTH_ACROSS = "length across"
    LENGTH_UP = "length up"
    LENGTH_ALONG = "length along"
    MIDDLE = "middle of a side"
    THIRD = "third of a side"
    OTHER_PART = "part of a side"
    NEXT_BAY = "next bay"
    MIRROR_POINT = "mirror point"
    HEIGHT = "height by eye level"
    LETTERING = "lettering"


class SkillUnit(StrEnum):
    """What a skill's errors are told in."""

    DEGREES = "degrees"
    PER_CENT = "per cent"
    NEAR_UPRIGHTS = "near uprights"


class Group(StrEnum):
    """Skills of one kind, which a set of questions does not ask twice running."""

    EDGES = "edges"
    PLACES = "places"
    RIMS = "rims"
    PROPORTIONS = "proportions"


class Measure(StrEnum):
    """Which of a school's tolerances counts."""

    TILT = "tilt"
    DEGREE = "degree"
    LENGTH = "length"


@dataclass(frozen=True)
class SkillKind:
    """What kind a skill is of."""

    group: Group
    unit: SkillUnit
    measure: Measure


_TILT = SkillKind(Group.EDGES, SkillUnit.DEGREES, Measure.TILT)
_DEGREE = SkillKind(Group.RIMS, SkillUnit.DEGREES, Measure.DEGREE)
_SHARE = SkillKind(Group.PROPORTIONS, SkillUnit.PER_CENT, Measure.LENGTH)
_PLACE = SkillKind(Group.PLACES, SkillUnit.NEAR_UPRIGHTS, Measure.LENGTH)
_EDGES = (
    Skill.LEFT_ABOVE,
    Skill.LEFT_BELOW,
    Skill.RIGHT_ABOVE,
    Skill.RIGHT_BELOW,
    Skill.FAR_ABOVE,
    Skill.FAR_BELOW,
    Skill.OTHER_EDGE,
    Skill.UPRIGHT_LEAN,
    Skill.STEEPER_EDGE,
    Skill.PARALLEL_EDGE,
    Skill.CORNER_TO_CORNER,
)
_RIMS = (Skill.UPPER_RIM, Skill.LOWER_RIM, Skill.LYING_RIM, Skill.WHEEL, Skill.BASE_OF_MOUTH, Skill.TURNING)
_PLACES = (Skill.EYE_LEVEL, Skill.ALIGNMENT, Skill.MISSING_CORNER)
_SHARES = (
    Skill.LENGTH_ACROSS,
    Skill.LENGTH_UP,
    Skill.LENGTH_ALONG,
    Skill.MIDDLE,
    Skill.THIRD,
    Skill.OTHER_PART,
    Skill.NEXT_BAY,
    Skill.MIRROR_POINT,
    Skill.HEIGHT,
    Skill.LETTERING,
)
KINDS: dict[Skill, SkillKind] = {
    **dict.fromkeys(_EDGES, _TILT),
    **dict.fromkeys(_PLACES, _PLACE),
    **dict.fromkeys(_RIMS, _DEGREE),
    # an axis is a direction, and a rim at eye level a line: judged as closely as an edge, among the rims
    Skill.MINOR_AXIS: SkillKind(Group.RIMS, SkillUnit.DEGREES, Measure.TILT),
    Skill.RIM_AT_EYE_LEVEL: SkillKind(Group.RIMS, SkillUnit.DEGREES, Measure.TILT),
    # by how much its lines draw in: the near upright over its distance, in per cent, so that a far point is not judged
    # by the metre
    Skill.VANISHING_POINT: SkillKind(Group.PLACES, SkillUnit.PER_CENT, Measure.LENGTH),
    **dict.fromkeys(_SHARES, _SHARE),
}


def tolerance_of(skill: Skill, tolerances: Tolerances) -> float:
    """How far a judgement may stray and still be right, in the skill's unit. A near upright is a length, so its share
    is that of lengths.
    """
    kind = KINDS[skill]
    if kind.measure is Measure.LENGTH:
        return tolerances.length * (100.0 if kind.unit is SkillUnit.PER_CENT else 1.0)
    return tolerances.tilt_deg if kind.measure is Measure.TILT else tolerances.degree_deg


def within(skill: Skill, error: float, truth_sd: float | None, tolerances: Tolerances) -> bool:
    """Whether an answer is right: its error is not beyond the tolerance and twice the truth's own ±, as everywhere
    (``core/tolerance.py``).
    """
    return not beyond(error, truth_sd or 0.0, tolerance_of(skill, tolerances))
