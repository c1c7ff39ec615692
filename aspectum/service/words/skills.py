"""What each skill is called, by which rule it is judged, and what a bias either way is called."""

from __future__ import annotations

from dataclasses import dataclass

from aspectum.core.practice.skills import Skill
from aspectum.core.sightings import Family, ViewSort
from aspectum.language import Text, say


@dataclass(frozen=True)
class SkillWords:
    """``named``: its title; ``of``: the subject of a sentence about its bias; ``more`` and ``less``: how a positive and
    a negative bias are told behind it; ``by``: the rule of the trade; ``one``: whether the subject is one thing or
    several.
    """

    named: Text
    of: Text
    more: Text
    less: Text
    by: Text
    one: bool = False

    @property
    def title(self) -> str:
        return str(self.named)

    @property
    def over(self) -> str:
        return str(self.more)

    @property
    def under(self) -> str:
        return str(self.less)

    @property
    def rule(self) -> str:
        return str(self.by)

    @property
    def called(self) -> str:
        """The subject at the head of a sentence, with its verb."""
        mine = str(self.of) if self.of.text.startswith(("the ", "what ")) else say("your {subject}", subject=self.of)
        head = f"{mine[0].upper()}{mine[1:]}"
        return say("{subject} runs", subject=head) if self.one else say("{subject} run", subject=head)


_STEEP = (Text("too steep"), Text("too flat"))
_OPEN = (Text("too round"), Text("too flat"))
_BELOW = Text("Below eye level edges climb as they go back, the more steeply the lower they lie.")
_ABOVE = Text("Above eye level edges fall as they go back, the more steeply the higher they lie.")
_PART = Text(
    "The middle of a receding side lies where its diagonals cross, beyond the measured middle: the farther part is "
    "drawn the smaller."
)
_RIM = Text(
    "A rim opens in proportion to its distance from eye level: below it the lower rim of a form is the rounder one, "
    "above it the upper."
)
_UNIT = Text(
    "Carry the near upright over with the thumb on the stick, the arm straight, and count how often it goes in."
)

WORDS: dict[Skill, SkillWords] = {
    Skill.LEFT_ABOVE: SkillWords(
        Text("Left edges above eye level"), Text("left edges above eye level"), *_STEEP, _ABOVE
    ),
    Skill.LEFT_BELOW: SkillWords(
        Text("Left edges below eye level"), Text("left edges below eye level"), *_STEEP, _BELOW
    ),
    Skill.RIGHT_ABOVE: SkillWords(
        Text("Right edges above eye level"), Text("right edges above eye level"), *_STEEP, _ABOVE
    ),
    Skill.RIGHT_BELOW: SkillWords(
        Text("Right edges below eye level"), Text("right edges below eye level"), *_STEEP, _BELOW
    ),
    Skill.FAR_ABOVE: SkillWords(
        Text("Far edges above eye level"),
        Text("far edges above eye level"),
        *_STEEP,
        Text("A far edge runs to the same point as its near fellow: with it it must close to a V."),
    ),
    Skill.FAR_BELOW: SkillWords(
        Text("Far edges below eye level"),
        Text("far edges below eye level"),
        *_STEEP,
        Text("A far edge runs to the same point as its near fellow: with it it must close to a V."),
    ),
    Skill.OTHER_EDGE: SkillWords(
        Text("Slopes and other edges"),
        Text("slopes"),
        *_STEEP,
        Text("A roof's rake runs to a point straight above or below the one where its wall's level edges meet."),
    ),
    Skill.UPRIGHT_LEAN: SkillWords(
        Text("Lean of uprights"),
        Text("uprights"),
        Text("too far to the right"),
        Text("too far to the left"),
        Text("Looking down, uprights draw together below; looking up, above; looking level they stand plumb."),
    ),
    Skill.STEEPER_EDGE: SkillWords(
        Text("Which edge is steeper"),
        Text("upper edges"),
        Text("steeper than they are beside lower ones"),
        Text("flatter than they are beside lower ones"),
        Text("Of edges that run to one point, the one farther from eye level is the steeper."),
    ),
    Skill.PARALLEL_EDGE: SkillWords(
        Text("Parallel edges"),
        Text("edges of parallel drawings"),
        *_STEEP,
        Text("In a parallel drawing every edge of a family keeps one tilt: nothing converges."),
    ),
    Skill.CORNER_TO_CORNER: SkillWords(
        Text("Corner to corner"),
        Text("tilts from corner to corner"),
        *_STEEP,
        Text("A line that nobody drew, from corner to corner, checks the edges between them."),
    ),
    Skill.EYE_LEVEL: SkillWords(
        Text("Eye level"),
        Text("eye level"),
        Text("too high"),
        Text("too low"),
        Text("Above eye level edges fall as they go back, below it they climb; at it they run level."),
        one=True,
    ),
    Skill.VANISHING_POINT: SkillWords(
        Text("Vanishing point"),
        Text("vanishing points"),
        Text("too near"),
        Text("too far out"),
        Text("All level edges of one side run to one point on eye level."),
    ),
    Skill.ALIGNMENT: SkillWords(
        Text("Plumb alignment"),
        Text("what stands plumb below a point"),
        Text("too far to the right"),
        Text("too far to the left"),
        Text("A plumb line held over a corner finds others."),
        one=True,
    ),
    Skill.MISSING_CORNER: SkillWords(
        Text("Closing a box"),
        Text("the far corner of a box"),
        Text("too high"),
        Text("too low"),
        Text("Both far edges run to the vanishing points of their near fellows; where they cross is the corner."),
        one=True,
    ),
    Skill.UPPER_RIM: SkillWords(Text("Upper rims"), Text("upper rims"), *_OPEN, _RIM),
    Skill.LOWER_RIM: SkillWords(Text("Lower rims"), Text("lower rims"), *_OPEN, _RIM),
    Skill.RIM_AT_EYE_LEVEL: SkillWords(
        Text("Rims at eye level"), Text("rims at eye level"), *_OPEN, Text("At eye level a rim is a straight line.")
    ),
    Skill.LYING_RIM: SkillWords(
        Text("Ends of lying forms"),
        Text("ends of lying forms"),
        *_OPEN,
        Text("The more its axis points at you, the rounder the end of a lying form."),
    ),
    Skill.WHEEL: SkillWords(
        Text("Wheels"), Text("wheels"), *_OPEN, Text("A wheel opens by how far its axle points towards you.")
    ),
    Skill.MINOR_AXIS: SkillWords(
        Text("Minor axis"),
        Text("minor axes"),
        Text("turned too far anticlockwise"),
        Text("turned too far clockwise"),
        Text(
            "The minor axis follows the form's own axis to its vanishing point, by some degrees less exactly towards "
            "the picture's edge."
        ),
    ),
    Skill.BASE_OF_MOUTH: SkillWords(
        Text("Base of a mouth"),
        Text("bases"),
        *_OPEN,
        Text("Below eye level the base is rounder than the mouth: it lies farther from eye level."),
    ),
    Skill.TURNING: SkillWords(
        Text("Turning end-on"),
        Text("ends of turned forms"),
        *_OPEN,
        Text("The end of a form turned by an angle opens by that angle: its width is the angle's sine."),
    ),
    Skill.LENGTH_ACROSS: SkillWords(
        Text("Lengths across"), Text("lengths across"), Text("too long"), Text("too short"), _UNIT
    ),
    Skill.LENGTH_UP: SkillWords(Text("Lengths up"), Text("lengths up"), Text("too long"), Text("too short"), _UNIT),
    Skill.LENGTH_ALONG: SkillWords(
        Text("Lengths along an edge"), Text("lengths along receding edges"), Text("too long"), Text("too short"), _UNIT
    ),
    Skill.MIDDLE: SkillWords(
        Text("Middle of a side"), Text("the middle of a side"), Text("too near"), Text("too far"), _PART, one=True
    ),
    Skill.THIRD: SkillWords(
        Text("Thirds of a side"), Text("thirds of a side"), Text("too near"), Text("too far"), _PART
    ),
    Skill.OTHER_PART: SkillWords(
        Text("Parts of a side"), Text("parts of a side"), Text("too near"), Text("too far"), _PART
    ),
    Skill.NEXT_BAY: SkillWords(
        Text("Next bay"),
        Text("the next bay"),
        Text("too wide"),
        Text("too narrow"),
        Text("A diagonal through the second upright's middle finds the third; each bay is narrower."),
        one=True,
    ),
    Skill.MIRROR_POINT: SkillWords(
        Text("Mirrored point"),
        Text("mirrored points"),
        Text("too far from the middle"),
        Text("too near the middle"),
        Text("Equal distances either side of the middle: the nearer is wider."),
    ),
    Skill.HEIGHT: SkillWords(
        Text("Height by eye level"),
        Text("heights"),
        Text("too tall"),
        Text("too small"),
        Text(
            "On level ground eye level cuts everything at the height of your eye: what reaches twice as high from its "
            "foot is twice as tall."
        ),
    ),
    Skill.LETTERING: SkillWords(
        Text("Lettering round a form"),
        Text("marks round a form"),
        Text("too far out"),
        Text("too near the middle"),
        Text(
            "A mark turned by an angle from the front stands at that angle's sine of the half-width: equal spaces "
            "crowd towards the outline."
        ),
    ),
}

_CIRCLE = Text("Seen straight up or down, a level rim is a full circle.")
_ALIKE = Text("In a parallel drawing rims of one plane open alike, wherever they lie: nothing converges.")
LEVEL_RIMS = (Skill.UPPER_RIM, Skill.LOWER_RIM, Skill.RIM_AT_EYE_LEVEL)
# where the view makes another rule of a skill than the usual one
BY_SORT: dict[ViewSort, dict[Skill, Text]] = {
    ViewSort.PARALLEL: {
        Skill.UPRIGHT_LEAN: Text("In a parallel drawing all uprights stand plumb: nothing converges."),
        **dict.fromkeys((*LEVEL_RIMS, Skill.LYING_RIM, Skill.WHEEL), _ALIKE),
    },
    ViewSort.STRAIGHT: dict.fromkeys(LEVEL_RIMS, _CIRCLE),
}
BY_FAMILY = {
    Family.DEPTH: Text("What runs straight away meets in one point on eye level, straight ahead of the eye."),
    Family.ACROSS: Text("An edge across runs like the front: it has no vanishing point."),
}
OF_THE_PLAN = Text("Seen straight up or down, level edges keep the directions of the plan.")
SEEN_STRAIGHT = {
    Family.UPRIGHT: Text(
        "Seen straight up or down, uprights run to one point at the centre of vision: the zenith, or the nadir."
    ),
    Family.SLOPE: Text("The edges of one slope run to one point."),
}


def rule_of(skill: Skill, sort: ViewSort | None = None, family: Family | None = None) -> str:
    """The rule by which a skill is judged in a view, of an edge by its family."""
    if skill is Skill.OTHER_EDGE and family is not None:
        if sort is ViewSort.STRAIGHT:
            return str(SEEN_STRAIGHT.get(family, OF_THE_PLAN))
        return str(BY_FAMILY.get(family, WORDS[skill].by))
    told = {} if sort is None else BY_SORT.get(sort, {})
    return str(told.get(skill, WORDS[skill].by))
