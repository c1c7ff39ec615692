"""Words for rims and their faults."""

from __future__ import annotations

from aspectum.core.findings import Finding
from aspectum.core.reasons import Fault, RimReason, Rule
from aspectum.core.sightings import Plane
from aspectum.core.wording import Place, place
from aspectum.language import figure, say
from aspectum.service.words.common import UNEXAMINED, Telling, degrees, listed
from aspectum.service.words.edges import agrees, turning


def rim_words(finding: Finding, reason: RimReason, telling: Telling) -> str:
    """What is off about a rim, the opening first."""
    rim = finding.rim
    if rim is not None and rim.faults:
        return " ".join(fault_words(f, telling) for f in rim.faults)
    match reason.rule:
        case Rule.SHORT_ARC:
            return say(
                "Too little of the rim is laid to judge its opening. Add points along the arc, or lay the ends of its "
                "major axis."
            )
        case Rule.NOTHING_TO_CHECK:
            return say(
                "Nothing on the sheet checks this rim yet. Sight a second rim at another height, or two families of "
                "edges."
            )
        case Rule.UNEXAMINED:
            return str(UNEXAMINED)
        case Rule.ONLY_LEVEL_RIMS:
            return say("Seen straight up or down, only level rims are checked: they are full circles.")
        case Rule.A_CIRCLE:
            short = 0.0 if rim is None else 1.0 - rim.sighted_ellipse.minor_px / rim.sighted_ellipse.major_px
            return say(
                "Round within {short} %: seen straight up or down, a level rim is a full circle.",
                short=figure(100 * short, 0),
            )
        case Rule.TOO_WEAK:
            return say(
                "The other sightings leave its opening open. More rims at other heights, or edges, would settle it."
            )
        case Rule.AXIS_TOO_WEAK:
            turn, sd = (0.0, 0.0) if rim is None else (rim.axis_turn_deg or 0.0, rim.axis_turn_sd or 0.0)
            return say(
                "Opens as it must, but its minor axis stands {turn} ± {sd} off the form's axis: too loosely laid to "
                "say. Add points at its ends.",
                turn=degrees(turn),
                sd=figure(sd, 1),
            )
        case Rule.AGREES:
            said = agrees(reason.open_deg)
        case _:
            raise LookupError(f"no words for a rim that is {reason.rule}")
    if reason.others:
        why = (
            say("it lies farther from eye level")
            if reason.plane is Plane.LEVEL
            else say("the sight meets it more squarely")
        )
        said += say(" Rounder than {others}, as it must be: {why}.", others=telling.names(reason.others[0]), why=why)
    return (
        said
        if rim is None or rim.guide_deg is None
        else say("{said} Nearest ellipse guide: {guide_deg}°.", said=said, guide_deg=rim.guide_deg)
    )


def fault_words(fault: Fault, telling: Telling) -> str:
    """One fault of a rim: what, which way, by how much, where, and why."""
    by, much = degrees(fault.turn_deg or 0.0), telling.of_it(fault.share, fault.size_px or 0.0)
    others = listed([telling.names(o) for o in fault.others])
    at = telling.where(fault.above_eye_level_px)
    here = say(" for a rim {at}", at=at) if at else ""
    match fault.rule:
        case Rule.RIM_TOO_FLAT:
            return say("Too flat{here}: open it by {by}.", here=here, by=by)
        case Rule.RIM_TOO_ROUND:
            return say("Too round{here}: close it by {by}.", here=here, by=by)
        case Rule.RIM_NOT_A_CIRCLE:
            return say(
                "Too flat: seen straight up or down, a level rim is a full circle, and this one opens only {turn_deg}.",
                turn_deg=degrees(90.0 - (fault.turn_deg or 0.0)),
            )
        case Rule.BASE_FLATTER:
            return say(
                "Flatter than {others}, yet it lies farther from eye level and must be rounder: open it by {by}.",
                others=others,
                by=by,
            )
        case Rule.FAR_END_FLATTER:
            return say(
                "Flatter than {others}, yet the sight meets the far end more squarely, so it must be rounder: open it "
                "by {by}.",
                others=others,
                by=by,
            )
        case Rule.OPENED_AT_EYE_LEVEL:
            return say("Opened by {by}, yet a rim at eye level is a straight line.", by=by)
        case Rule.BOWS_WRONG_WAY:
            below = place(fault.above_eye_level_px or 0.0) is Place.BELOW
            return say(
                "The arc bows the wrong way: below eye level the near arc bows down."
                if below
                else "The arc bows the wrong way: above eye level the near arc bows up."
            )
        case Rule.AXIS_OFF:
            return say(
                "Its minor axis stands {by} off the form's axis: turn it {turn_deg}.",
                by=by,
                turn_deg=turning(fault.turn_deg or 0.0),
            )
        case Rule.NOT_ON_AXIS:
            way = say("right") if (fault.size_px or 0.0) > 0 else say("left")
            if not fault.sure:
                return say(
                    "Its centre lies to the {way} of the axis through {others}, by {much}; one of them is off the "
                    "form's axis.",
                    way=way,
                    others=others,
                    much=much,
                )
            return say(
                "Its centre lies to the {way} of the axis that {others} share, by {much}.",
                way=way,
                others=others,
                much=much,
            )
        case Rule.SIDE_MISSES:
            how = say("passes outside the rim") if (fault.size_px or 0.0) > 0 else say("cuts into the rim")
            return say(
                "Side {others} {how} by {much}; sides meet a rim without a corner.", others=others, how=how, much=much
            )
        case Rule.CORNER:
            return say("A corner stands out by {much}; a rim has none.", much=much)
        case Rule.POINTED_ENDS:
            return say("The ends are pointed by {much}; a rim turns round at its ends.", much=much)
        case Rule.FLAT_SPOT:
            return say("A flat spot lies inside by {much}.", much=much)
        case Rule.LOPSIDED:
            return say("The four quarters do not match, by {much}.", much=much)
        case Rule.STRAIGHT_SIDES:
            return say(
                "The long sides run straight and the ends are blunt, by {much}; a rim curves all the way.", much=much
            )
        case _:
            raise LookupError(f"no words for a fault that is {fault.rule}")
