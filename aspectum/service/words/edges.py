"""Words for edges, laid on a picture or read from life."""

from __future__ import annotations

from aspectum.core.findings import Finding
from aspectum.core.reasons import EdgeReason, Rule
from aspectum.core.sightings import Family
from aspectum.core.wording import LEAST_TURN_DEG, PLUMB_DEG
from aspectum.service.words.common import UNEXAMINED, Names, Telling, degrees, listed, side, signed


def edge_words(reason: EdgeReason, family: Family | None, telling: Telling) -> str:
    """What is off about an edge, which way, by how much, and why."""
    names = telling.names
    by = degrees(reason.turn_deg)
    place = telling.where(reason.above_eye_level_px)
    here = f" {place}" if place else ""
    mend = mending(reason.far_end_px, telling)
    match reason.rule:
        case Rule.NOTHING_TO_CHECK:
            return "Nothing on the sheet checks this one yet. Sight another edge of its family."
        case Rule.UNEXAMINED:
            return UNEXAMINED
        case Rule.ONE_OF_A_PAIR:
            return f"This and {listed([names(o) for o in reason.others])} disagree, and nothing here tells which is wrong. Sight both again, or add a third."
        case Rule.SHORT_EDGE:
            return "Too short to judge: a small slip of the hand turns it past the tolerance. Sight a longer stretch."
        case Rule.TOO_WEAK:
            return "The other sightings leave its tilt open. Another edge of its family would settle it."
        case Rule.AGREES:
            return agrees(reason.turn_deg)
        case Rule.UPRIGHT_LEANS:
            return leaning(reason, telling)
        case Rule.CLIMBS_TOO_LITTLE:
            return f"Climbs too little for an edge{here}: {by} too flat. {mend}"
        case Rule.CLIMBS_TOO_MUCH:
            return f"Climbs too much for an edge{here}: {by} too steep. {mend}"
        case Rule.FALLS_TOO_LITTLE:
            return f"Falls too little for an edge{here}: {by} too flat. {mend}"
        case Rule.FALLS_TOO_MUCH:
            return f"Falls too much for an edge{here}: {by} too steep. {mend}"
        case Rule.CLIMBS_INSTEAD:
            return f"Climbs going away, yet an edge{here} falls: {by} off. {mend}"
        case Rule.FALLS_INSTEAD:
            return f"Falls going away, yet an edge{here} climbs: {by} off. {mend}"
        case Rule.OPENS:
            return f"Opens against {names(reason.others[0])} instead of closing towards its vanishing point: {by} off. {mend}"
        case Rule.FAR_LONGER:
            more = ((reason.far_near_ratio or 1.0) - 1.0) * 100
            return f"With {names(reason.others[0])} it makes the far side {more:.0f} % longer than the near one; the nearer must be longer. {by} off. {mend}"
        case Rule.NOT_PARALLEL:
            return f"Not parallel to its family: {by} off. Nothing converges in this drawing."
        case Rule.MISSES_ZENITH | Rule.MISSES_NADIR:
            point = "the zenith" if reason.rule is Rule.MISSES_ZENITH else "the nadir"
            return f"Misses {point}, where the uprights meet: {by} off. Turn it {turning(reason.turn_deg)}."
        case Rule.OFF_ITS_PLAN:
            return f"Seen straight up or down, level edges keep the directions of the plan; this one is {by} off. Turn it {turning(reason.turn_deg)}."
        case Rule.NOT_TRUE_TO_FRONT:
            due = "an edge across has no vanishing point, it runs level like the front"
            return f"Not true to the front by {by}: {due}. Turn it {turning(reason.turn_deg)}."
        case Rule.MISSES_ITS_POINT:
            point = "the slope's vanishing point" if family is Family.SLOPE else "its vanishing point"
            return f"Misses {point}: {by} off. {mend}"
        case _:
            raise LookupError(f"no words for an edge that is {reason.rule}")


def agrees(turn_deg: float) -> str:
    return "Agrees with the others." if abs(turn_deg) < LEAST_TURN_DEG else f"Agrees with the others within {degrees(turn_deg)}."


def leaning(reason: EdgeReason, telling: Telling) -> str:
    lean, true, top = reason.lean_deg or 0.0, reason.implied_lean_deg or 0.0, reason.far_end_px or 0.0
    should = "stand plumb" if abs(true) < PLUMB_DEG else f"lean {degrees(true)} {side(true)}"
    return f"Leans {degrees(lean)} {side(lean)}; it should {should}. Move its top {telling.length(top)} {side(top)}."


def turning(turn_deg: float) -> str:
    return "anticlockwise" if turn_deg > 0 else "clockwise"


def mending(far_end_px: float | None, telling: Telling) -> str:
    if far_end_px is None:
        return ""
    return f"{'Raise' if far_end_px > 0 else 'Lower'} its far end by {telling.length(far_end_px)}."


def reading_words(finding: Finding, reason: EdgeReason, names: Names, tolerance_deg: float) -> str:
    """A tilt read from life: what the rest of the card says of it."""
    match reason.rule:
        case Rule.NOTHING_TO_CHECK:
            return "Nothing on the card checks this reading yet."
        case Rule.ONE_OF_A_PAIR:
            return f"This or {listed([names(o) for o in reason.others])} is wrong: take both again. {due(finding)}"
        case Rule.TAKE_AGAIN:
            return f"Take this one again. {due(finding)}"
        case Rule.AGREES:
            return f"Agrees with the other readings within {degrees(max(abs(reason.turn_deg), LEAST_TURN_DEG))}."
        case Rule.TOO_WEAK:
            own = f"this one is good to ± {finding.sighted_sd or 0.0:.1f}"
            asked = f"The other readings ask for {spread(finding)}, and {own}"
            return f"{asked}: too loose to tell {degrees(tolerance_deg)} apart. Read it again, or use a gauge."
        case _:
            raise LookupError(f"no words for a reading that is {reason.rule}")


def due(finding: Finding) -> str:
    return "" if finding.implied is None else f"The other readings ask for {signed(finding.implied)}."


def spread(finding: Finding) -> str:
    return "no one tilt" if finding.implied is None else f"{signed(finding.implied)} ± {finding.implied_sd or 0.0:.1f}"
