"""Words for rims and their faults."""

from __future__ import annotations

from aspectum.core.findings import Finding
from aspectum.core.reasons import Fault, RimReason, Rule
from aspectum.core.sightings import Plane
from aspectum.core.wording import Place, place
from aspectum.service.words.common import UNEXAMINED, Telling, degrees, listed
from aspectum.service.words.edges import agrees, turning


def rim_words(finding: Finding, reason: RimReason, telling: Telling) -> str:
    """What is off about a rim, the opening first."""
    rim = finding.rim
    if rim is not None and rim.faults:
        return " ".join(fault_words(f, telling) for f in rim.faults)
    match reason.rule:
        case Rule.SHORT_ARC:
            return "Too little of the rim is laid to judge its opening. Add points along the arc, or lay the ends of its major axis."
        case Rule.NOTHING_TO_CHECK:
            return "Nothing on the sheet checks this rim yet. Sight a second rim at another height, or two families of edges."
        case Rule.UNEXAMINED:
            return UNEXAMINED
        case Rule.ONLY_LEVEL_RIMS:
            return "Seen straight up or down, only level rims are checked: they are full circles."
        case Rule.A_CIRCLE:
            short = 0.0 if rim is None else 1.0 - rim.sighted_ellipse.minor_px / rim.sighted_ellipse.major_px
            return f"Round within {100 * short:.0f} %: seen straight up or down, a level rim is a full circle."
        case Rule.TOO_WEAK:
            return "The other sightings leave its opening open. More rims at other heights, or edges, would settle it."
        case Rule.AXIS_TOO_WEAK:
            turn, sd = (0.0, 0.0) if rim is None else (rim.axis_turn_deg or 0.0, rim.axis_turn_sd or 0.0)
            return (
                f"Opens as it must, but its minor axis stands {degrees(turn)} ± {sd:.1f} off the form's axis: too loosely laid to say. Add points at its ends."
            )
        case Rule.AGREES:
            said = agrees(reason.open_deg)
        case _:
            raise LookupError(f"no words for a rim that is {reason.rule}")
    if reason.others:
        why = "it lies farther from eye level" if reason.plane is Plane.LEVEL else "the sight meets it more squarely"
        said += f" Rounder than {telling.names(reason.others[0])}, as it must be: {why}."
    return said if rim is None or rim.guide_deg is None else f"{said} Nearest ellipse guide: {rim.guide_deg}°."


def fault_words(fault: Fault, telling: Telling) -> str:
    """One fault of a rim: what, which way, by how much, where, and why."""
    by, much = degrees(fault.turn_deg or 0.0), telling.of_it(fault.share, fault.size_px or 0.0)
    others = listed([telling.names(o) for o in fault.others])
    at = telling.where(fault.above_eye_level_px)
    here = f" for a rim {at}" if at else ""
    match fault.rule:
        case Rule.RIM_TOO_FLAT:
            return f"Too flat{here}: open it by {by}."
        case Rule.RIM_TOO_ROUND:
            return f"Too round{here}: close it by {by}."
        case Rule.RIM_NOT_A_CIRCLE:
            return f"Too flat: seen straight up or down, a level rim is a full circle, and this one opens only {degrees(90.0 - (fault.turn_deg or 0.0))}."
        case Rule.BASE_FLATTER:
            return f"Flatter than {others}, yet it lies farther from eye level and must be rounder: open it by {by}."
        case Rule.FAR_END_FLATTER:
            return f"Flatter than {others}, yet the sight meets the far end more squarely, so it must be rounder: open it by {by}."
        case Rule.OPENED_AT_EYE_LEVEL:
            return f"Opened by {by}, yet a rim at eye level is a straight line."
        case Rule.BOWS_WRONG_WAY:
            below = place(fault.above_eye_level_px or 0.0) is Place.BELOW
            return f"The arc bows the wrong way: {'below' if below else 'above'} eye level the near arc bows {'down' if below else 'up'}."
        case Rule.AXIS_OFF:
            return f"Its minor axis stands {by} off the form's axis: turn it {turning(fault.turn_deg or 0.0)}."
        case Rule.NOT_ON_AXIS:
            way = "right" if (fault.size_px or 0.0) > 0 else "left"
            if not fault.sure:
                return f"Its centre lies to the {way} of the axis through {others}, by {much}; one of them is off the form's axis."
            return f"Its centre lies to the {way} of the axis that {others} share, by {much}."
        case Rule.SIDE_MISSES:
            how = "passes outside the rim" if (fault.size_px or 0.0) > 0 else "cuts into the rim"
            return f"Side {others} {how} by {much}; sides meet a rim without a corner."
        case Rule.CORNER:
            return f"A corner stands out by {much}; a rim has none."
        case Rule.POINTED_ENDS:
            return f"The ends are pointed by {much}; a rim turns round at its ends."
        case Rule.FLAT_SPOT:
            return f"A flat spot lies inside by {much}."
        case Rule.LOPSIDED:
            return f"The four quarters do not match, by {much}."
        case Rule.STRAIGHT_SIDES:
            return f"The long sides run straight and the ends are blunt, by {much}; a rim curves all the way."
        case _:
            raise LookupError(f"no words for a fault that is {fault.rule}")
