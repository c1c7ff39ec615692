"""The skills in words: what each is called, what is asked, by which rule it is judged, and what a bias either way is called."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from aspectum.core.practice.question import AnswerBy, Question
from aspectum.core.practice.record import Standing, Trend
from aspectum.core.practice.skills import KINDS, Group, Skill, SkillUnit


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

GROUPS = {Group.EDGES: "Edges", Group.PLACES: "Places", Group.RIMS: "Rims", Group.PROPORTIONS: "Proportions"}
UNITS = {SkillUnit.DEGREES: "°", SkillUnit.PER_CENT: " %", SkillUnit.NEAR_UPRIGHTS: " near uprights"}
PLACES = {SkillUnit.DEGREES: 1, SkillUnit.PER_CENT: 1, SkillUnit.NEAR_UPRIGHTS: 2}


def amount(value: float, unit: SkillUnit, signed: bool = False) -> str:
    """A figure with its unit, as it is read: ``5.2°``, ``4 %``, ``0.12 near uprights``."""
    places = PLACES[unit]
    size = round(abs(value), places) if abs(value) < 10 or places > 1 else round(abs(value))
    sign = ("+" if value > 0 else "−" if value < 0 else "") if signed and size else ""
    return f"{sign}{size:g}{UNITS[unit]}"


def missed(skill: Skill, error: float, right: bool) -> str:
    """An answer's error in a sentence."""
    unit, words = KINDS[skill].unit, WORDS[skill]
    shown = amount(error, unit)
    if shown.startswith(("0°", "0 ")):
        return "As it is."
    return f"{shown} {words.over if error > 0 else words.under}{': within tolerance' if right else ''}."


def bias_words(skill: Skill, found: Standing) -> str:
    """A skill's bias in a sentence, with how well it is known; empty under five readings."""
    if found.bias is None or found.spread is None:
        return ""
    unit, words = KINDS[skill].unit, WORDS[skill]
    half = (found.bias.high - found.bias.low) / 2
    known = f"(n = {found.n}, ±{amount(half, unit).removesuffix(UNITS[unit])})"
    if found.bias.low <= 0.0 <= found.bias.high:
        sentence = f"{words.title}: no bias that shows {known}; single ones scatter by {amount(found.spread.value, unit)}."
    else:
        sentence = f"{words.called} {amount(found.bias.value, unit)} {words.over if found.bias.value > 0 else words.under} {known}."
    return sentence + (" Much of the scatter is the sightings' own ±." if found.own else "")


def trend_words(skill: Skill, found: Trend | None, since: str) -> str:
    """How the bias changed, in a sentence; empty where nothing is certain. ``since``: the first reading's month."""
    if found is None or not found.sure:
        return ""
    unit, words = KINDS[skill].unit, WORDS[skill]
    if found.first * found.last < 0.0:
        ways = (words.over, words.under) if found.first > 0 else (words.under, words.over)
        return f"Bias went from {amount(found.first, unit)} {ways[0]} to {amount(found.last, unit)} {ways[1]} since {since}."
    verb = "fell" if found.better else "grew"
    return f"Bias {verb} from {amount(found.first, unit)} to {amount(found.last, unit)} since {since}."


_TURN = "Look at the marked edge. Turn the needle to the tilt you see, then commit."
_OPENING = "Look at the marked rim. Open the ellipse as far as you see it open, then commit."
_COUNT = "Compare the length marked A with the near upright in plum. How many of it is A? Slide the thumb, then commit."


def _named(part: float) -> str:
    names = {0.5: "middle", 1 / 3: "first third", 2 / 3: "second third", 0.25: "first quarter", 0.75: "third quarter"}
    near = min(names, key=lambda value: abs(value - part))
    return f"the {names[near]}" if abs(near - part) < 1e-6 else f"the place {round(part * 5)} fifths along"


PROMPTS: dict[Skill, Callable[[Question], str]] = {
    Skill.UPRIGHT_LEAN: lambda q: "Look at the marked upright. Turn the needle as far from plumb as it leans, then commit.",
    Skill.STEEPER_EDGE: lambda q: "Which edge is steeper, A or B?",
    Skill.PARALLEL_EDGE: lambda q: "This drawing is parallel, and one edge from A is left out. Turn the needle to the tilt it has, then commit.",
    Skill.CORNER_TO_CORNER: lambda q: "Look from corner A to corner B. Turn the needle to that tilt, then commit.",
    Skill.EYE_LEVEL: lambda q: "Where is eye level? Drag the level line there, then commit. The near upright in plum is the unit of your error.",
    Skill.VANISHING_POINT: lambda q: "The level line is eye level. Where on it do the marked edges meet? Point there, then commit.",
    Skill.ALIGNMENT: lambda q: "Drop a plumb line from A. Point where it meets the edge B, then commit.",
    Skill.MISSING_CORNER: lambda q: (
        "The far edges of the top are left out. Point where its far corner stands, then commit. The near upright in plum is the unit."
    ),
    Skill.MINOR_AXIS: lambda q: "Look at the marked rim. Turn the needle along its minor axis, then commit.",
    Skill.BASE_OF_MOUTH: lambda q: "The base of this form is left out. Which of the ellipses is as round as it, A, B, C or D?",
    Skill.TURNING: lambda q: (
        "A tin lying, seen from above. You look along the arrow, from far off. How far does its near end open? Open the ellipse, then commit."
    ),
    Skill.HEIGHT: lambda q: f"The level line is eye level, and your eye is {q.figure('eye_m'):.2f} m above the ground. How tall is the post A?",
    Skill.NEXT_BAY: lambda q: "Uprights 1 and 2 stand on this side. Point at the foot of the next, as far on again, then commit.",
    Skill.MIRROR_POINT: lambda q: "M is the middle of the side. Point at the foot of the upright that mirrors 1 on the other half, then commit.",
    Skill.LETTERING: lambda q: (
        f"The line 0 is the front of the tin. Where stands a mark {q.figure('turned'):.0f}° round to the {'right' if q.figure('right') else 'left'}? "
        "Point there, then commit."
    ),
}


def prompt(question: Question) -> str:
    """What is asked."""
    if question.skill in PROMPTS:
        return PROMPTS[question.skill](question)
    if question.skill in (Skill.MIDDLE, Skill.THIRD, Skill.OTHER_PART):
        return f"Where is {_named(question.figure('part'))} of this receding side, counted from its nearer end? Point on the marked edge, then commit."
    return {AnswerBy.ELLIPSE: _OPENING, AnswerBy.STICK: _COUNT}.get(question.instrument, _TURN)


def rule(question: Question) -> str:
    """The rule that the truth follows, with its figures."""
    words = WORDS[question.skill].rule
    match question.skill:
        case Skill.STEEPER_EDGE:
            return f"A is {amount(question.figure('A'), SkillUnit.DEGREES)} steep, B {amount(question.figure('B'), SkillUnit.DEGREES)}. {words}"
        case Skill.MIDDLE | Skill.THIRD | Skill.OTHER_PART:
            return f"It is drawn {question.figure('drawn'):.2f} of the width from the nearer end. {words}"
        case Skill.HEIGHT:
            return f"It is {question.figure('height_m'):.2f} m tall. {words}"
        case Skill.LENGTH_ACROSS | Skill.LENGTH_UP | Skill.LENGTH_ALONG:
            return f"It is {question.figure('ratio'):.2f} of the near upright. {words}"
        case Skill.TURNING:
            return f"It is turned by {question.figure('turned'):.0f}°, so its end opens by {question.figure('turned'):.0f}°. {words}"
        case Skill.BASE_OF_MOUTH:
            return f"The mouth opens {question.figure('mouth'):.0f}°. {words}"
    return words
