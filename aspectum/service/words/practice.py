"""Practice in words: what is asked, how an answer missed, and how a skill stands."""

from __future__ import annotations

from collections.abc import Callable

from aspectum.core.practice.question import AnswerBy, Question
from aspectum.core.practice.record import Standing, Trend
from aspectum.core.practice.recorded import wrong_way
from aspectum.core.practice.skills import KINDS, Group, Skill, SkillUnit
from aspectum.language import Text, figure, say
from aspectum.service.words.skills import WORDS, rule_of

GROUPS = {
    Group.EDGES: Text("Edges"),
    Group.PLACES: Text("Places"),
    Group.RIMS: Text("Rims"),
    Group.PROPORTIONS: Text("Proportions"),
}
UNITS = {SkillUnit.DEGREES: "°", SkillUnit.PER_CENT: " %", SkillUnit.NEAR_UPRIGHTS: Text(" near uprights")}
COUNTED = {2: Text("two"), 3: Text("three"), 4: Text("four")}
AT_PART = 1e-6  # of a side, within which a part is a simple one
PLACES = {SkillUnit.DEGREES: 1, SkillUnit.PER_CENT: 1, SkillUnit.NEAR_UPRIGHTS: 2}


def amount(value: float, unit: SkillUnit, signed: bool = False) -> str:
    """A figure with its unit, as it is read: ``5.2°``, ``4 %``, ``0.12 near uprights``."""
    places = PLACES[unit]
    size = round(abs(value), places) if abs(value) < 10 or places > 1 else round(abs(value))
    sign = ("+" if value > 0 else "−" if value < 0 else "") if signed and size else ""
    return f"{sign}{figure(size, None)}{UNITS[unit]}"


def missed(skill: Skill, judged: float, truth: float, right: bool) -> str:
    """An answer's error in a sentence."""
    unit, words, error = KINDS[skill].unit, WORDS[skill], judged - truth
    shown = amount(error, unit)
    if shown.startswith(("0°", "0 ")):
        return say("As it is.")
    if wrong_way(skill, judged, truth):
        return say("The wrong way: {shown} off.", shown=shown)
    return (
        say("{shown} {over}: within tolerance.", shown=shown, over=words.over if error > 0 else words.under)
        if right
        else f"{shown} {(words.over if error > 0 else words.under)}."
    )


def bias_words(skill: Skill, found: Standing) -> str:
    """A skill's bias in a sentence, with how well it is known; empty under five readings."""
    if found.bias is None or found.spread is None:
        return ""
    unit, words = KINDS[skill].unit, WORDS[skill]
    half = (found.bias.high - found.bias.low) / 2
    known = f"(n = {found.n}, ±{amount(half, unit).removesuffix(str(UNITS[unit]))})"
    if found.bias.low <= 0.0 <= found.bias.high:
        sentence = say(
            "{title}: no bias that shows {known}; single ones scatter by {spread}.",
            title=words.title,
            known=known,
            spread=amount(found.spread.value, unit),
        )
    else:
        sentence = (
            f"{words.called} {amount(found.bias.value, unit)} {words.over if found.bias.value > 0 else words.under} "
            f"{known}."
        )
    return sentence + (say(" Much of the scatter is the sightings' own ±.") if found.own else "")


def trend_words(skill: Skill, found: Trend | None, since: str) -> str:
    """How the bias changed, in a sentence; empty where nothing is certain. ``since``: the first reading's month."""
    if found is None or not found.sure:
        return ""
    unit, words = KINDS[skill].unit, WORDS[skill]
    if found.first * found.last < 0.0:
        ways = (words.over, words.under) if found.first > 0 else (words.under, words.over)
        return say(
            "Bias went from {first} {ways} to {last} {ways2} since {since}.",
            first=amount(found.first, unit),
            ways=ways[0],
            last=amount(found.last, unit),
            ways2=ways[1],
            since=since,
        )
    verb = say("fell") if found.better else say("grew")
    return say(
        "Bias {verb} from {first} to {last} since {since}.",
        verb=verb,
        first=amount(found.first, unit),
        last=amount(found.last, unit),
        since=since,
    )


_TURN = Text("Look at the marked edge. Turn the needle to the tilt you see, then commit.")
_OPENING = Text("Look at the marked rim. Open the ellipse as far as you see it open, then commit.")
_COUNT = Text(
    "Compare the length marked A with the near upright in plum. How many of it is A? Slide the thumb, then commit."
)


def _named(part: float) -> str:
    if abs(part - 0.5) < AT_PART:
        return say("the middle")
    for many, name in ((3, say("third")), (4, say("quarter")), (5, say("fifth"))):
        count = round(part * many)
        if abs(part - count / many) < AT_PART:
            return say("one {name}", name=name) if count == 1 else f"{COUNTED.get(count, count)} {name}s"
    return f"{100 * part:.0f} %"


PROMPTS: dict[Skill, Callable[[Question], str]] = {
    Skill.UPRIGHT_LEAN: lambda q: say(
        "Look at the marked upright. Turn the needle as far from plumb as it leans, then commit."
    ),
    Skill.STEEPER_EDGE: lambda q: say("Which edge is steeper, A or B?"),
    Skill.PARALLEL_EDGE: lambda q: say(
        "This drawing is parallel, and one edge from A is left out. Turn the needle to the tilt it has, then commit."
    ),
    Skill.CORNER_TO_CORNER: lambda q: say("Look from corner A to corner B. Turn the needle to that tilt, then commit."),
    Skill.EYE_LEVEL: lambda q: say(
        "Where is eye level? Drag the level line there, then commit. The near upright in plum is the unit of your "
        "error."
    ),
    Skill.VANISHING_POINT: lambda q: say(
        "The level line is eye level. Where on it do the marked edges meet? Point there, then commit."
    ),
    Skill.ALIGNMENT: lambda q: say("Drop a plumb line from A. Point where it meets the edge B, then commit."),
    Skill.MISSING_CORNER: lambda q: say(
        "The far edges of the top are left out. Point where its far corner stands, then commit. The near upright in "
        "plum is the unit."
    ),
    Skill.MINOR_AXIS: lambda q: say("Look at the marked rim. Turn the needle along its minor axis, then commit."),
    Skill.BASE_OF_MOUTH: lambda q: say(
        "The base of this form is left out. Which of the ellipses is as round as it, A, B, C or D?"
    ),
    Skill.TURNING: lambda q: say(
        "A tin lying, seen from above. You look along the arrow, from far off. How far does its near end open? Open "
        "the ellipse, then commit."
    ),
    Skill.HEIGHT: lambda q: say(
        "The level line is eye level, and your eye is {figure} m above the ground. How tall is the post A?",
        figure=figure(q.figure("eye_m"), 2),
    ),
    Skill.NEXT_BAY: lambda q: say(
        "Uprights 1 and 2 stand on this side. Point at the foot of the next, as far on again, then commit."
    ),
    Skill.MIRROR_POINT: lambda q: say(
        "M is the middle of the side. Point at the foot of the upright that mirrors 1 on the other half, then commit."
    ),
    Skill.LETTERING: lambda q: say(
        "The line 0 is the front of the tin. Where stands a mark {figure}° round to the right? Point there, then "
        "commit."
        if q.figure("right")
        else (
            "The line 0 is the front of the tin. Where stands a mark {figure}° round to the left? Point there, then "
            "commit."
        ),
        figure=figure(q.figure("turned"), 0),
    ),
}


def prompt(question: Question) -> str:
    """What is asked."""
    drawn_for_it = question.stand is not None
    if question.skill in PROMPTS and (drawn_for_it or question.skill is not Skill.PARALLEL_EDGE):
        return PROMPTS[question.skill](question)
    if question.skill in (Skill.MIDDLE, Skill.THIRD, Skill.OTHER_PART):
        return say(
            "Where is {part} of this receding side, counted from its nearer end? Point on the marked edge, then "
            "commit.",
            part=_named(question.figure("part")),
        )
    return str({AnswerBy.ELLIPSE: _OPENING, AnswerBy.STICK: _COUNT}.get(question.instrument, _TURN))


def rule(question: Question) -> str:
    """The rule that the truth follows, with its figures."""
    words = rule_of(question.skill, question.sort, question.family)
    match question.skill:
        case Skill.STEEPER_EDGE:
            return say(
                "A is {figure} steep, B {figure2}. {words}",
                figure=amount(question.figure("A"), SkillUnit.DEGREES),
                figure2=amount(question.figure("B"), SkillUnit.DEGREES),
                words=words,
            )
        case Skill.MIDDLE | Skill.THIRD | Skill.OTHER_PART:
            return say(
                "It is drawn {figure} of the width from the nearer end. {words}",
                figure=figure(question.figure("drawn"), 2),
                words=words,
            )
        case Skill.HEIGHT:
            return say("It is {figure} m tall. {words}", figure=figure(question.figure("height_m"), 2), words=words)
        case Skill.LENGTH_ACROSS | Skill.LENGTH_UP | Skill.LENGTH_ALONG:
            return say(
                "It is {figure} of the near upright. {words}", figure=figure(question.figure("ratio"), 2), words=words
            )
        case Skill.TURNING:
            return say(
                "It is turned by {figure}°, so its end opens by {figure}°. {words}",
                figure=figure(question.figure("turned"), 0),
                words=words,
            )
        case Skill.BASE_OF_MOUTH:
            return say("The mouth opens {figure}°. {words}", figure=figure(question.figure("mouth"), 0), words=words)
    return words
