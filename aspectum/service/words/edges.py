"""Words for edges, laid on a picture or read from life."""

from __future__ import annotations

from aspectum.core.findings import Finding
from aspectum.core.reasons import EdgeReason, Rule
from aspectum.core.sightings import Family
from aspectum.core.wording import LEAST_TURN_DEG, PLUMB_DEG
from aspectum.language import figure, say
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
            return say("Nothing on the sheet checks this one yet. Sight another edge of its family.")
        case Rule.UNEXAMINED:
            return str(UNEXAMINED)
        case Rule.ONE_OF_A_PAIR:
            return say(
                "This and {o} disagree, and nothing here tells which is wrong. Sight both again, or add a third.",
                o=listed([names(o) for o in reason.others]),
            )
        case Rule.SHORT_EDGE:
            return say(
                "Too short to judge: a small slip of the hand turns it past the tolerance. Sight a longer stretch."
            )
        case Rule.TOO_WEAK:
            return say("The other sightings leave its tilt open. Another edge of its family would settle it.")
        case Rule.AGREES:
            return agrees(reason.turn_deg)
        case Rule.UPRIGHT_LEANS:
            return leaning(reason, telling)
        case Rule.CLIMBS_TOO_LITTLE:
            return say("Climbs too little for an edge{here}: {by} too flat. {mend}", here=here, by=by, mend=mend)
        case Rule.CLIMBS_TOO_MUCH:
            return say("Climbs too much for an edge{here}: {by} too steep. {mend}", here=here, by=by, mend=mend)
        case Rule.FALLS_TOO_LITTLE:
            return say("Falls too little for an edge{here}: {by} too flat. {mend}", here=here, by=by, mend=mend)
        case Rule.FALLS_TOO_MUCH:
            return say("Falls too much for an edge{here}: {by} too steep. {mend}", here=here, by=by, mend=mend)
        case Rule.CLIMBS_INSTEAD:
            return say("Climbs going away, yet an edge{here} falls: {by} off. {mend}", here=here, by=by, mend=mend)
        case Rule.FALLS_INSTEAD:
            return say("Falls going away, yet an edge{here} climbs: {by} off. {mend}", here=here, by=by, mend=mend)
        case Rule.OPENS:
            return say(
                "Opens against {others} instead of closing towards its vanishing point: {by} off. {mend}",
                others=names(reason.others[0]),
                by=by,
                mend=mend,
            )
        case Rule.FAR_LONGER:
            more = ((reason.far_near_ratio or 1.0) - 1.0) * 100
            return say(
                "With {others} it makes the far side {more} % longer than the near one; the nearer must be longer. "
                "{by} off. {mend}",
                others=names(reason.others[0]),
                more=figure(more, 0),
                by=by,
                mend=mend,
            )
        case Rule.NOT_PARALLEL:
            return say("Not parallel to its family: {by} off. Nothing converges in this drawing.", by=by)
        case Rule.MISSES_ZENITH | Rule.MISSES_NADIR:
            point = say("the zenith") if reason.rule is Rule.MISSES_ZENITH else say("the nadir")
            return say(
                "Misses {point}, where the uprights meet: {by} off. Turn it {turn_deg}.",
                point=point,
                by=by,
                turn_deg=turning(reason.turn_deg),
            )
        case Rule.OFF_ITS_PLAN:
            return say(
                "Seen straight up or down, level edges keep the directions of the plan; this one is {by} off. Turn it "
                "{turn_deg}.",
                by=by,
                turn_deg=turning(reason.turn_deg),
            )
        case Rule.NOT_TRUE_TO_FRONT:
            due = say("an edge across has no vanishing point, it runs level like the front")
            return say(
                "Not true to the front by {by}: {due}. Turn it {turn_deg}.",
                by=by,
                due=due,
                turn_deg=turning(reason.turn_deg),
            )
        case Rule.MISSES_ITS_POINT:
            point = say("the slope's vanishing point") if family is Family.SLOPE else say("its vanishing point")
            return say("Misses {point}: {by} off. {mend}", point=point, by=by, mend=mend)
        case _:
            raise LookupError(f"no words for an edge that is {reason.rule}")


def agrees(turn_deg: float) -> str:
    return (
        say("Agrees with the others.")
        if abs(turn_deg) < LEAST_TURN_DEG
        else say("Agrees with the others within {turn_deg}.", turn_deg=degrees(turn_deg))
    )


def leaning(reason: EdgeReason, telling: Telling) -> str:
    lean, true, top = reason.lean_deg or 0.0, reason.implied_lean_deg or 0.0, reason.far_end_px or 0.0
    should = (
        say("stand plumb")
        if abs(true) < PLUMB_DEG
        else say("lean {true} {true2}", true=degrees(true), true2=side(true))
    )
    return say(
        "Leans {lean} {lean2}; it should {should}. Move its top {top} {top2}.",
        lean=degrees(lean),
        lean2=side(lean),
        should=should,
        top=telling.length(top),
        top2=side(top),
    )


def turning(turn_deg: float) -> str:
    return say("anticlockwise") if turn_deg > 0 else say("clockwise")


def mending(far_end_px: float | None, telling: Telling) -> str:
    if far_end_px is None:
        return ""
    return say(
        "Raise its far end by {far_end_px}." if far_end_px > 0 else "Lower its far end by {far_end_px}.",
        far_end_px=telling.length(far_end_px),
    )


def reading_words(finding: Finding, reason: EdgeReason, names: Names, tolerance_deg: float) -> str:
    """A tilt read from life: what the rest of the card says of it."""
    match reason.rule:
        case Rule.NOTHING_TO_CHECK:
            return say("Nothing on the card checks this reading yet.")
        case Rule.ONE_OF_A_PAIR:
            return say(
                "This or {o} is wrong: take both again. {finding}",
                o=listed([names(o) for o in reason.others]),
                finding=due(finding),
            )
        case Rule.TAKE_AGAIN:
            return say("Take this one again. {finding}", finding=due(finding))
        case Rule.AGREES:
            return say(
                "Agrees with the other readings within {turn_deg}.",
                turn_deg=degrees(max(abs(reason.turn_deg), LEAST_TURN_DEG)),
            )
        case Rule.TOO_WEAK:
            own = say("this one is good to ± {sighted_sd}", sighted_sd=figure(finding.sighted_sd or 0.0, 1))
            asked = say("The other readings ask for {finding}, and {own}", finding=spread(finding), own=own)
            return say(
                "{asked}: too loose to tell {tolerance_deg} apart. Read it again, or use a gauge.",
                asked=asked,
                tolerance_deg=degrees(tolerance_deg),
            )
        case _:
            raise LookupError(f"no words for a reading that is {reason.rule}")


def due(finding: Finding) -> str:
    return (
        "" if finding.implied is None else say("The other readings ask for {implied}.", implied=signed(finding.implied))
    )


def spread(finding: Finding) -> str:
    return (
        say("no one tilt")
        if finding.implied is None
        else f"{signed(finding.implied)} ± {figure(finding.implied_sd or 0.0, 1)}"
    )
