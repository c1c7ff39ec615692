"""Words for what was read from life: the near-corner card, repeats, rims and lines held up."""

from __future__ import annotations

from aspectum.core.findings import Finding
from aspectum.core.life.near_corner import CardSide, NearCorner
from aspectum.core.life.readings import Of, RimReading
from aspectum.core.life.repeats import Repeated
from aspectum.core.life.schematic import OtherLevel, Slot
from aspectum.core.reasons import AlignmentReason, LengthReason, RimReason, Rule
from aspectum.core.sightings import Along, Guide, Kind
from aspectum.core.wording import remainder
from aspectum.language import Text, figure, say, say_many
from aspectum.service.words.common import Names, degrees, listed, signed

CAUTIONS = (
    Text(
        "Mind traffic, edges and tides; never sight towards the sun. On private ground ask first: its owner and local "
        "rules decide."
    ),
    Text(
        "Keep the stick’s blunt end towards your face, and watch your neighbours. Change your posture now and then; "
        "rest your eyes."
    ),
)
AT_THE_END = 1e-6  # shares of the near upright: an edge this near to its end starts there


def side_words(side: CardSide) -> str:
    name = side.side.capitalize()
    if side.opens:
        return say("{name} pair opens instead of closing.", name=name)
    if side.distance is None:
        return say("{name}: two readings at different heights are needed.", name=name)
    said = say(
        "{name} vanishing point {distance} units out{distance_low}",
        name=name,
        distance=figure(side.distance, 2),
        distance_low=between(side.distance_low, side.distance_high),
    )
    if side.eye_level is None:
        return say("{said}, by the eye level of the other readings.", said=said)
    level = (
        say("{eye_level} of the way down", eye_level=figure(side.eye_level, 2))
        if side.eye_level >= 0
        else say("{eye_level} units above the top", eye_level=figure(-side.eye_level, 2))
    )
    return say(
        "{said}, eye level {level} (± {eye_level_sd}).",
        said=said,
        level=level,
        eye_level_sd=figure(side.eye_level_sd or 0, 2),
    )


def between(low: float | None, high: float | None) -> str:
    """The interval that holds a distance in 95 of 100, where it says something."""
    if low is None:
        return ""
    return (
        say(" (at least {low})", low=figure(low, 2))
        if high is None
        else say(" ({low} to {high})", low=figure(low, 2), high=figure(high, 2))
    )


def near_corner_words(card: NearCorner, names: Names) -> str:
    parts = [
        say("{side} pair opens instead of closing, as it was read.", side=side.capitalize())
        for side in card.opened
        if not card.of(side).opens
    ]
    parts += [side_words(card.left), side_words(card.right)]
    if card.agree:
        parts.append(say("Both sides agree on eye level within reading error."))
    elif card.agree is False and not card.apart:
        parts.append(
            say(
                "Both sides give one eye level, but the readings of a side miss their vanishing point by more than "
                "reading error."
            )
        )
    elif card.agree is False:
        parts.append(
            say(
                "The two sides put eye level {gap} units apart, more than reading error.",
                gap=figure(abs(card.gap or 0), 2),
            )
        )
    again = say(
        "take that side again, or add an edge between"
        if card.agree is None
        else "take them all again, or add an edge between"
    )
    if card.retake is not None and card.retake.open:
        parts.append(
            say(
                "Nothing tells yet which reading is wrong. {reading} at {card} would be the least change; {again}.",
                reading=names(card.retake.reading),
                card=due_of(card, card.retake.due),
                again=again,
            )
        )
    elif card.retake is not None:
        other = say(" or {instead}", instead=names(card.retake.instead)) if card.retake.instead else ""
        left_out = "" if card.retake.instead else say(" Until then it is left out.")
        parts.append(
            say(
                "Take {reading}{other} again: {card} instead would make them agree.{left_out}",
                reading=names(card.retake.reading),
                other=other,
                card=due_of(card, card.retake.due),
                left_out=left_out,
            )
        )
    elif card.agree is False or (card.eye_level is not None and (card.left.opens or card.right.opens)):
        parts.append(say("No one reading alone would mend that: {again}.", again=again))
    return " ".join(parts)


def due_of(card: NearCorner, due: float) -> str:
    """What the reading to take again should be: a tilt in degrees, a length or ratio as a number."""
    assert card.retake is not None
    return signed(due) if any(r.id == card.retake.reading for r in card.evidence.tilts) else figure(due, 2)


def repeat_words(found: Repeated, shown: list[str], unit: str) -> str:
    """What reading something again came to; empty for a single reading. ``shown``: each reading as it is written."""
    if len(shown) < 2:
        return ""
    if found.differ:
        return say(
            "Read as {shown} and {shown2}: more apart than a steady hand makes them. Read it a third time.",
            shown=shown[0],
            shown2=shown[1],
        )
    spread = (
        ""
        if found.spread is None
        else say(", spread {spread}{unit}", spread=figure(found.spread, 1 if unit else 2), unit=unit)
    )
    said = say("{shown} readings averaged{spread}.", shown=len(shown) - len(found.strays), spread=spread)
    if found.strays:
        strayed = listed([shown[k] for k in found.strays])
        said += say_many(
            " {strayed} strays from the others and is left out.",
            " {strayed} stray from the others and are left out.",
            len(found.strays),
            strayed=strayed,
        )
    return said


def rim_reading_words(finding: Finding, reading: RimReading, reason: RimReason, names: Names) -> str:
    """Both degrees of a rim from life, and what eye level asks of it."""
    said = say(
        "Drawn {drawn_degree_deg} (ratio {drawn_ratio}), by looking {looking_degree_deg}.",
        drawn_degree_deg=degrees(reading.drawn_degree_deg),
        drawn_ratio=figure(reading.drawn_ratio, 2),
        looking_degree_deg=degrees(reading.looking_degree_deg),
    )
    match reason.rule:
        case Rule.RIM_TOO_FLAT | Rule.RIM_TOO_ROUND:
            how = say("flat") if reason.rule is Rule.RIM_TOO_FLAT else say("round")
            return say(
                "{said} Too {how} for its height: eye level asks for {implied}. Take it again.",
                said=said,
                how=how,
                implied=degrees(finding.implied or 0.0),
            )
        case Rule.AGREES:
            return say(
                "{said} Agrees with its height off eye level within {open_deg}.",
                said=said,
                open_deg=degrees(max(abs(reason.open_deg), 0.1)),
            )
        case Rule.ONE_OF_A_PAIR:
            return say(
                "{said} This or {o} is wrong: take both again.", said=said, o=listed([names(o) for o in reason.others])
            )
        case Rule.TOO_WEAK:
            return say(
                "{said} Eye level asks for {implied} ± {implied_sd}: too loose to say.",
                said=said,
                implied=degrees(finding.implied or 0.0),
                implied_sd=figure(finding.implied_sd or 0.0, 1),
            )
    if reading.down is None:
        return say("{said} Measure how far down its middle stands, and eye level can check it.", said=said)
    return say("{said} Nothing on the card checks it yet.", said=said)


def alignment_reading_words(finding: Finding, reason: AlignmentReason, first: str, second: str) -> str:
    """Where the upper of two stands against the plumb line through the lower, or the right-hand one against the level
    line.
    """
    by, plumb = finding.sighted or 0.0, reason.guide is Guide.PLUMB
    upper, lower = first or say("the upper"), second or say("the lower")
    if reason.rule is Rule.AGREES:
        return (
            say("{upper} stands above {lower}, plumb.", upper=upper, lower=lower).capitalize()
            if plumb
            else say("{upper} lies level with {lower}.", upper=upper, lower=lower).capitalize()
        )
    if plumb:
        return say(
            "{upper} stands {by} units right of the plumb line through {lower}."
            if by > 0
            else "{upper} stands {by} units left of the plumb line through {lower}.",
            upper=upper,
            by=figure(abs(by), 2),
            lower=lower,
        ).capitalize()
    return say(
        "{lower} lies {by} units above the level line through {upper}."
        if by > 0
        else "{lower} lies {by} units below the level line through {upper}.",
        lower=lower,
        by=figure(abs(by), 2),
        upper=upper,
    ).capitalize()


def length_reading_words(finding: Finding, reason: LengthReason, names: Names) -> str:
    """A length from life in units, and what its vanishing point asks of a far upright."""
    seen = finding.sighted or 0.0
    said = (
        say(
            "{seen} units: {over_share} {fraction}.",
            seen=figure(seen, 2),
            over_share=remainder(reason.over_share),
            fraction=reason.fraction,
        )
        if seen > 0
        else say("{seen} units above the unit's top.", seen=figure(abs(seen), 2))
    )
    if finding.implied is None:
        return said
    said += say(" Its vanishing point asks for {implied} there.", implied=figure(finding.implied, 2))
    if reason.rule in (Rule.TOO_LONG, Rule.TOO_SHORT):
        also = say(", and {others} with it", others=names(reason.others[0])) if reason.others else ""
        said += say(
            " Too long: take it again{also}." if reason.rule is Rule.TOO_LONG else " Too short: take it again{also}.",
            also=also,
        )
    elif reason.rule is Rule.ONE_OF_A_PAIR:
        said += say(" This or {others} is wrong: take both again.", others=names(reason.others[-1]))
    elif reason.rule is Rule.TOO_WEAK:
        said += say(" The readings are too loose to say whether that holds.")
    return said


def other_level_words(level: OtherLevel, form: str) -> str:
    way = say("lower") if level.lower > 0 else say("higher")
    return say(
        "{form} puts eye level {lower} units {way} than the first form, more than reading error; all forms share one.",
        form=form,
        lower=figure(abs(level.lower), 2),
        way=way,
    )


def slot_words(slot: Slot) -> str:
    """What is read, as the hand is told to go: 'top edge, left'."""
    side = f", {slot.side}" if slot.side is not None else ""
    if slot.kind is Kind.EDGE:
        height = slot.end or 0.0
        where = (
            say("top edge")
            if abs(height) < AT_THE_END
            else say("bottom edge")
            if abs(height - 1.0) < AT_THE_END
            else say("edge {height} down", height=figure(height, 2))
        )
        return f"{where}{side}"
    match slot.of, slot.along:
        case Of.NEAR_UPRIGHT, Along.ACROSS:
            return say("across to it")
        case Of.NEAR_UPRIGHT, _:
            return say("its length")
        case Of.TOP, _:
            return say("down to its top")
        case _, Along.ACROSS:
            return say("width{side}", side=side)
    return say("far upright{side}", side=side)


def photo_words(gap_deg: float, off: bool, life_deg: float) -> str:
    """How a tilt read from life compares with the photo that came later."""
    said = say("From life {life_deg}", life_deg=signed(life_deg))
    if not off:
        return say("{said}, within {gap_deg} of the photo.", said=said, gap_deg=degrees(max(abs(gap_deg), 0.1)))
    return say(
        "{said}, {gap_deg} off the photo: the stick or the place of the eye was another.",
        said=said,
        gap_deg=degrees(gap_deg),
    )
