"""Practice in words: what is asked, how an answer missed, and how a skill stands."""

from __future__ import annotations

from collections.abc import Callable

from aspectum.core.practice.question import AnswerBy, Question
from aspectum.core.practice.record import Standing, Trend
from aspectum.core.practice.recorded import wrong_way
from aspectum.core.practice.skills import KINDS, Group, Skill, SkillUnit
from aspectum.service.words.skills import WORDS, rule_of

GROUPS = {Group.EDGES: "Edges", Group.PLACES: "Places", Group.RIMS: "Rims", Group.PROPORTIONS: "Proportions"}
UNITS = {SkillUnit.DEGREES: "°", SkillUnit.PER_CENT: " %", SkillUnit.NEAR_UPRIGHTS: " near uprights"}
COUNTED = {2: "two", 3: "three", 4: "four"}
AT_PART = 1e-6  # of a side, within which a part is a simple one
PLACES = {SkillUnit.DEGREES: 1, SkillUnit.PER_CENT: 1, SkillUnit.NEAR_UPRIGHTS: 2}


def amount(value: float, unit: SkillUnit, signed: bool = False) -> str:
    """A figure with its unit, as it is read: ``5.2°``, ``4 %``, ``0.12 near uprights``."""
    places = PLACES[unit]
    size = round(abs(value), places) if abs(value) < 10 or places > 1 else round(abs(value))
    sign = ("+" if value > 0 else "−" if value < 0 else "") if signed and size else ""
    return f"{sign}{size:g}{UNITS[unit]}"


def missed(skill: Skill, judged: float, truth: float, right: bool) -> str:
    """An answer's error in a sentence."""
    unit, words, error = KINDS[skill].unit, WORDS[skill], judged - truth
    shown = amount(error, unit)
    if shown.startswith(("0°", "0 ")):
        return "As it is."
    if wrong_way(skill, judged, truth):
        return f"The wrong way: {shown} off."
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
    if abs(part - 0.5) < AT_PART:
        return "the middle"
    for many, name in ((3, "third"), (4, "quarter"), (5, "fifth")):
        count = round(part * many)
        if abs(part - count / many) < AT_PART:
            return f"one {name}" if count == 1 else f"{COUNTED.get(count, count)} {name}s"
    return f"{100 * part:.0f} %"


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
    drawn_for_it = question.stand is not None
    if question.skill in PROMPTS and (drawn_for_it or question.skill is not Skill.PARALLEL_EDGE):
        return PROMPTS[question.skill](question)
    if question.skill in (Skill.MIDDLE, Skill.THIRD, Skill.OTHER_PART):
        return f"Where is {_named(question.figure('part'))} of this receding side, counted from its nearer end? Point on the marked edge, then commit."
    return {AnswerBy.ELLIPSE: _OPENING, AnswerBy.STICK: _COUNT}.get(question.instrument, _TURN)


def rule(question: Question) -> str:
    """The rule that the truth follows, with its figures."""
    words = rule_of(question.skill, question.sort, question.family)
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
