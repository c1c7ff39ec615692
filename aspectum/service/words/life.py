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
from aspectum.service.words.common import Names, degrees, listed, signed

CAUTIONS = (
    "Mind traffic, edges and tides; never sight towards the sun. On private ground ask first: its owner and local rules decide.",
    "Keep the stick’s blunt end towards your face, and watch your neighbours. Change your posture now and then; rest your eyes.",
)
AT_THE_END = 1e-6  # shares of the near upright: an edge this near to its end starts there


def side_words(side: CardSide) -> str:
    name = side.side.capitalize()
    if side.opens:
        return f"{name} pair opens instead of closing."
    if side.distance is None:
        return f"{name}: two readings at different heights are needed."
    said = f"{name} vanishing point {side.distance:.2f} units out{between(side.distance_low, side.distance_high)}"
    if side.eye_level is None:
        return f"{said}, by the eye level of the other readings."
    level = f"{side.eye_level:.2f} of the way down" if side.eye_level >= 0 else f"{-side.eye_level:.2f} units above the top"
    return f"{said}, eye level {level} (± {side.eye_level_sd or 0:.2f})."


def between(low: float | None, high: float | None) -> str:
    """The interval that holds a distance in 95 of 100, where it says something."""
    if low is None:
        return ""
    return f" (at least {low:.2f})" if high is None else f" ({low:.2f} to {high:.2f})"


def near_corner_words(card: NearCorner, names: Names) -> str:
    parts = [f"{side.capitalize()} pair opens instead of closing, as it was read." for side in card.opened if not card.of(side).opens]
    parts += [side_words(card.left), side_words(card.right)]
    if card.agree:
        parts.append("Both sides agree on eye level within reading error.")
    elif card.agree is False and not card.apart:
        parts.append("Both sides give one eye level, but the readings of a side miss their vanishing point by more than reading error.")
    elif card.agree is False:
        parts.append(f"The two sides put eye level {abs(card.gap or 0):.2f} units apart, more than reading error.")
    again = f"take {'that side' if card.agree is None else 'them all'} again, or add an edge between"
    if card.retake is not None and card.retake.open:
        parts.append(
            f"Nothing tells yet which reading is wrong. {names(card.retake.reading)} at {due_of(card, card.retake.due)} would be the least change; {again}."
        )
    elif card.retake is not None:
        other = f" or {names(card.retake.instead)}" if card.retake.instead else ""
        left_out = "" if card.retake.instead else " Until then it is left out."
        parts.append(f"Take {names(card.retake.reading)}{other} again: {due_of(card, card.retake.due)} instead would make them agree.{left_out}")
    elif card.agree is False or (card.eye_level is not None and (card.left.opens or card.right.opens)):
        parts.append(f"No one reading alone would mend that: {again}.")
    return " ".join(parts)


def due_of(card: NearCorner, due: float) -> str:
    """What the reading to take again should be: a tilt in degrees, a length or ratio as a number."""
    assert card.retake is not None
    return signed(due) if any(r.id == card.retake.reading for r in card.evidence.tilts) else f"{due:.2f}"


def repeat_words(found: Repeated, shown: list[str], unit: str) -> str:
    """What reading something again came to; empty for a single reading. ``shown``: each reading as it is written."""
    if len(shown) < 2:
        return ""
    if found.differ:
        return f"Read as {shown[0]} and {shown[1]}: more apart than a steady hand makes them. Read it a third time."
    spread = "" if found.spread is None else f", spread {found.spread:.{1 if unit else 2}f}{unit}"
    said = f"{len(shown) - len(found.strays)} readings averaged{spread}."
    if found.strays:
        strayed = listed([shown[k] for k in found.strays])
        said += f" {strayed} {'strays' if len(found.strays) == 1 else 'stray'} from the others and {'is' if len(found.strays) == 1 else 'are'} left out."
    return said


def rim_reading_words(finding: Finding, reading: RimReading, reason: RimReason, names: Names) -> str:
    """Both degrees of a rim from life, and what eye level asks of it."""
    said = f"Drawn {degrees(reading.drawn_degree_deg)} (ratio {reading.drawn_ratio:.2f}), by looking {degrees(reading.looking_degree_deg)}."
    match reason.rule:
        case Rule.RIM_TOO_FLAT | Rule.RIM_TOO_ROUND:
            how = "flat" if reason.rule is Rule.RIM_TOO_FLAT else "round"
            return f"{said} Too {how} for its height: eye level asks for {degrees(finding.implied or 0.0)}. Take it again."
        case Rule.AGREES:
            return f"{said} Agrees with its height off eye level within {degrees(max(abs(reason.open_deg), 0.1))}."
        case Rule.ONE_OF_A_PAIR:
            return f"{said} This or {listed([names(o) for o in reason.others])} is wrong: take both again."
        case Rule.TOO_WEAK:
            return f"{said} Eye level asks for {degrees(finding.implied or 0.0)} ± {finding.implied_sd or 0.0:.1f}: too loose to say."
    if reading.down is None:
        return f"{said} Measure how far down its middle stands, and eye level can check it."
    return f"{said} Nothing on the card checks it yet."


def alignment_reading_words(finding: Finding, reason: AlignmentReason, first: str, second: str) -> str:
    """Where the upper of two stands against the plumb line through the lower, or the right-hand one against the level line."""
    by, plumb = finding.sighted or 0.0, reason.guide is Guide.PLUMB
    upper, lower = first or "the upper", second or "the lower"
    if reason.rule is Rule.AGREES:
        return f"{upper} stands above {lower}, plumb.".capitalize() if plumb else f"{upper} lies level with {lower}.".capitalize()
    if plumb:
        return f"{upper} stands {abs(by):.2f} units {'right' if by > 0 else 'left'} of the plumb line through {lower}.".capitalize()
    return f"{lower} lies {abs(by):.2f} units {'above' if by > 0 else 'below'} the level line through {upper}.".capitalize()


def length_reading_words(finding: Finding, reason: LengthReason, names: Names) -> str:
    """A length from life in units, and what its vanishing point asks of a far upright."""
    seen = finding.sighted or 0.0
    said = f"{seen:.2f} units: {remainder(reason.over_share)} {reason.fraction}." if seen > 0 else f"{abs(seen):.2f} units above the unit's top."
    if finding.implied is None:
        return said
    said += f" Its vanishing point asks for {finding.implied:.2f} there."
    if reason.rule in (Rule.TOO_LONG, Rule.TOO_SHORT):
        also = f", and {names(reason.others[0])} with it" if reason.others else ""
        said += f" Too {'long' if reason.rule is Rule.TOO_LONG else 'short'}: take it again{also}."
    elif reason.rule is Rule.ONE_OF_A_PAIR:
        said += f" This or {names(reason.others[-1])} is wrong: take both again."
    elif reason.rule is Rule.TOO_WEAK:
        said += " The readings are too loose to say whether that holds."
    return said


def other_level_words(level: OtherLevel, form: str) -> str:
    way = "lower" if level.lower > 0 else "higher"
    return f"{form} puts eye level {abs(level.lower):.2f} units {way} than the first form, more than reading error; all forms share one."


def slot_words(slot: Slot) -> str:
    """What is read, as the hand is told to go: 'top edge, left'."""
    side = f", {slot.side}" if slot.side is not None else ""
    if slot.kind is Kind.EDGE:
        height = slot.end or 0.0
        where = "top edge" if abs(height) < AT_THE_END else "bottom edge" if abs(height - 1.0) < AT_THE_END else f"edge {height:.2f} down"
        return f"{where}{side}"
    match slot.of, slot.along:
        case Of.NEAR_UPRIGHT, Along.ACROSS:
            return "across to it"
        case Of.NEAR_UPRIGHT, _:
            return "its length"
        case Of.TOP, _:
            return "down to its top"
        case _, Along.ACROSS:
            return f"width{side}"
    return f"far upright{side}"


def photo_words(gap_deg: float, off: bool, life_deg: float) -> str:
    """How a tilt read from life compares with the photo that came later."""
    said = f"From life {signed(life_deg)}"
    if not off:
        return f"{said}, within {degrees(max(abs(gap_deg), 0.1))} of the photo."
    return f"{said}, {degrees(gap_deg)} off the photo: the stick or the place of the eye was another."
