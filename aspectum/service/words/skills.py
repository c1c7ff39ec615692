"""What each skill is called, by which rule it is judged, and what a bias either way is called."""

from __future__ import annotations

from dataclasses import dataclass

from aspectum.core.practice.skills import Skill
from aspectum.core.sightings import Family, ViewSort


@dataclass(frozen=True)
class SkillWords:
    """``title``; ``rule`` of the trade; ``over`` and ``under``: how a positive and a negative bias are told, behind the skill's ``subject``, which is
    ``one`` thing or several.
    """

    title: str
    subject: str
    over: str
    under: str
    rule: str
    one: bool = False

    @property
    def called(self) -> str:
        """The subject at the head of a sentence, with its verb."""
        mine = self.subject if self.subject.startswith(("the ", "what ")) else f"your {self.subject}"
        return f"{mine[0].upper()}{mine[1:]} {'runs' if self.one else 'run'}"


_STEEP = ("too steep", "too flat")
_OPEN = ("too round", "too flat")
_BELOW = "Below eye level edges climb as they go back, the more steeply the lower they lie."
_ABOVE = "Above eye level edges fall as they go back, the more steeply the higher they lie."
_PART = "The middle of a receding side lies where its diagonals cross, beyond the measured middle: the farther part is drawn the smaller."
_RIM = "A rim opens in proportion to its distance from eye level: below it the lower rim of a form is the rounder one, above it the upper."
_UNIT = "Carry the near upright over with the thumb on the stick, the arm straight, and count how often it goes in."

WORDS: dict[Skill, SkillWords] = {
    Skill.LEFT_ABOVE: SkillWords("Left edges above eye level", "left edges above eye level", *_STEEP, _ABOVE),
    Skill.LEFT_BELOW: SkillWords("Left edges below eye level", "left edges below eye level", *_STEEP, _BELOW),
    Skill.RIGHT_ABOVE: SkillWords("Right edges above eye level", "right edges above eye level", *_STEEP, _ABOVE),
    Skill.RIGHT_BELOW: SkillWords("Right edges below eye level", "right edges below eye level", *_STEEP, _BELOW),
    Skill.FAR_ABOVE: SkillWords(
        "Far edges above eye level", "far edges above eye level", *_STEEP, "A far edge runs to the same point as its near fellow: with it it must close to a V."
    ),
    Skill.FAR_BELOW: SkillWords(
        "Far edges below eye level", "far edges below eye level", *_STEEP, "A far edge runs to the same point as its near fellow: with it it must close to a V."
    ),
    Skill.OTHER_EDGE: SkillWords(
        "Slopes and other edges", "slopes", *_STEEP, "A roof's rake runs to a point straight above or below the one where its wall's level edges meet."
    ),
    Skill.UPRIGHT_LEAN: SkillWords(
        "Lean of uprights",
        "uprights",
        "too far to the right",
        "too far to the left",
        "Looking down, uprights draw together below; looking up, above; looking level they stand plumb.",
    ),
    Skill.STEEPER_EDGE: SkillWords(
        "Which edge is steeper",
        "upper edges",
        "steeper than they are beside lower ones",
        "flatter than they are beside lower ones",
        "Of edges that run to one point, the one farther from eye level is the steeper.",
    ),
    Skill.PARALLEL_EDGE: SkillWords(
        "Parallel edges", "edges of parallel drawings", *_STEEP, "In a parallel drawing every edge of a family keeps one tilt: nothing converges."
    ),
    Skill.CORNER_TO_CORNER: SkillWords(
        "Corner to corner", "tilts from corner to corner", *_STEEP, "A line that nobody drew, from corner to corner, checks the edges between them."
    ),
    Skill.EYE_LEVEL: SkillWords(
        "Eye level", "eye level", "too high", "too low", "Above eye level edges fall as they go back, below it they climb; at it they run level.", one=True
    ),
    Skill.VANISHING_POINT: SkillWords(
        "Vanishing point", "vanishing points", "too near", "too far out", "All level edges of one side run to one point on eye level."
    ),
    Skill.ALIGNMENT: SkillWords(
        "Plumb alignment",
        "what stands plumb below a point",
        "too far to the right",
        "too far to the left",
        "A plumb line held over a corner finds others.",
        one=True,
    ),
    Skill.MISSING_CORNER: SkillWords(
        "Closing a box",
        "the far corner of a box",
        "too high",
        "too low",
        "Both far edges run to the vanishing points of their near fellows; where they cross is the corner.",
        one=True,
    ),
    Skill.UPPER_RIM: SkillWords("Upper rims", "upper rims", *_OPEN, _RIM),
    Skill.LOWER_RIM: SkillWords("Lower rims", "lower rims", *_OPEN, _RIM),
    Skill.RIM_AT_EYE_LEVEL: SkillWords("Rims at eye level", "rims at eye level", *_OPEN, "At eye level a rim is a straight line."),
    Skill.LYING_RIM: SkillWords("Ends of lying forms", "ends of lying forms", *_OPEN, "The more its axis points at you, the rounder the end of a lying form."),
    Skill.WHEEL: SkillWords("Wheels", "wheels", *_OPEN, "A wheel opens by how far its axle points towards you."),
    Skill.MINOR_AXIS: SkillWords(
        "Minor axis",
        "minor axes",
        "turned too far anticlockwise",
        "turned too far clockwise",
        "The minor axis follows the form's own axis to its vanishing point, by some degrees less exactly towards the picture's edge.",
    ),
    Skill.BASE_OF_MOUTH: SkillWords("Base of a mouth", "bases", *_OPEN, "Below eye level the base is rounder than the mouth: it lies farther from eye level."),
    Skill.TURNING: SkillWords(
        "Turning end-on", "ends of turned forms", *_OPEN, "The end of a form turned by an angle opens by that angle: its width is the angle's sine."
    ),
    Skill.LENGTH_ACROSS: SkillWords("Lengths across", "lengths across", "too long", "too short", _UNIT),
    Skill.LENGTH_UP: SkillWords("Lengths up", "lengths up", "too long", "too short", _UNIT),
    Skill.LENGTH_ALONG: SkillWords("Lengths along an edge", "lengths along receding edges", "too long", "too short", _UNIT),
    Skill.MIDDLE: SkillWords("Middle of a side", "the middle of a side", "too near", "too far", _PART, one=True),
    Skill.THIRD: SkillWords("Thirds of a side", "thirds of a side", "too near", "too far", _PART),
    Skill.OTHER_PART: SkillWords("Parts of a side", "parts of a side", "too near", "too far", _PART),
    Skill.NEXT_BAY: SkillWords(
        "Next bay", "the next bay", "too wide", "too narrow", "A diagonal through the second upright's middle finds the third; each bay is narrower.", one=True
    ),
    Skill.MIRROR_POINT: SkillWords(
        "Mirrored point", "mirrored points", "too far from the middle", "too near the middle", "Equal distances either side of the middle: the nearer is wider."
    ),
    Skill.HEIGHT: SkillWords(
        "Height by eye level",
        "heights",
        "too tall",
        "too small",
        "On level ground eye level cuts everything at the height of your eye: what reaches twice as high from its foot is twice as tall.",
    ),
    Skill.LETTERING: SkillWords(
        "Lettering round a form",
        "marks round a form",
        "too far out",
        "too near the middle",
        "A mark turned by an angle from the front stands at that angle's sine of the half-width: equal spaces crowd towards the outline.",
    ),
}

_CIRCLE = "Seen straight up or down, a level rim is a full circle."
_ALIKE = "In a parallel drawing rims of one plane open alike, wherever they lie: nothing converges."
LEVEL_RIMS = (Skill.UPPER_RIM, Skill.LOWER_RIM, Skill.RIM_AT_EYE_LEVEL)
# where the view makes another rule of a skill than the usual one
BY_SORT: dict[ViewSort, dict[Skill, str]] = {
    ViewSort.PARALLEL: {
        Skill.UPRIGHT_LEAN: "In a parallel drawing all uprights stand plumb: nothing converges.",
        **dict.fromkeys((*LEVEL_RIMS, Skill.LYING_RIM, Skill.WHEEL), _ALIKE),
    },
    ViewSort.STRAIGHT: dict.fromkeys(LEVEL_RIMS, _CIRCLE),
}
BY_FAMILY = {
    Family.DEPTH: "What runs straight away meets in one point on eye level, straight ahead of the eye.",
    Family.ACROSS: "An edge across runs like the front: it has no vanishing point.",
}
OF_THE_PLAN = "Seen straight up or down, level edges keep the directions of the plan."
SEEN_STRAIGHT = {
    Family.UPRIGHT: "Seen straight up or down, uprights run to one point at the centre of vision: the zenith, or the nadir.",
    Family.SLOPE: "The edges of one slope run to one point.",
}


def rule_of(skill: Skill, sort: ViewSort | None = None, family: Family | None = None) -> str:
    """The rule by which a skill is judged in a view, of an edge by its family."""
    if skill is Skill.OTHER_EDGE and family is not None:
        if sort is ViewSort.STRAIGHT:
            return SEEN_STRAIGHT.get(family, OF_THE_PLAN)
        return BY_FAMILY.get(family, WORDS[skill].rule)
    told = {} if sort is None else BY_SORT.get(sort, {})
    return told.get(skill, WORDS[skill].rule)
