"""Verdicts and notes in a tutor's words. Every sentence rests on a core reason, nothing else."""

from __future__ import annotations

from collections.abc import Callable

from aspectum.core.model import CheckResult, Family, Fault, Finding, Note, NoteCode, Plane, Rule, Verdict
from aspectum.core.near_corner import NearCorner, Side


def degrees(value: float) -> str:
    return f"{abs(value):.1f}°"


def signed(value: float) -> str:
    return f"{value:+.1f}°".replace("-", "−")


def pixels(value: float) -> str:
    return f"{abs(value):.0f} px"


def place(above_px: float | None) -> str:
    """Where an edge's middle lies against eye level."""
    if above_px is None:
        return ""
    if abs(above_px) < 6:
        return " at eye level"
    return f" {pixels(above_px)} {'above' if above_px > 0 else 'below'} eye level"


Names = Callable[[str], str]
UNEXAMINED = "Disagrees, but so much on this sheet contradicts itself that it was not weighed to the end. Mend what is marked off first, or check the families."
MOST_NAMED = 6  # sightings named one by one in a note


def finding_words(finding: Finding, family: Family | None, names: Names) -> str:
    """One sentence or two: what is off, which way, by how much, and why."""
    if finding.kind == "length":
        return length_words(finding)
    if finding.kind == "alignment":
        return alignment_words(finding)
    if finding.kind == "rim":
        return rim_words(finding, names)
    reason = finding.reason
    rule = reason.rule
    by = degrees(reason.turn_deg)
    if rule is Rule.NOTHING_TO_CHECK:
        return "Nothing on the sheet checks this one yet. Sight another edge of its family."
    if rule is Rule.UNEXAMINED:
        return UNEXAMINED
    if rule is Rule.ONE_OF_A_PAIR:
        return f"This and {listed([names(o) for o in reason.others])} disagree, and nothing here tells which is wrong. Sight both again, or add a third."
    if rule is Rule.SHORT_EDGE:
        return "Too short to judge: a small slip of the hand turns it past the tolerance. Sight a longer stretch."
    if rule is Rule.TOO_WEAK:
        return "The other sightings leave its tilt open. Another edge of its family would settle it."
    if rule is Rule.AGREES:
        return f"Agrees with the others within {degrees(max(abs(reason.turn_deg), 0.05))}." if abs(reason.turn_deg) >= 0.05 else "Agrees with the others."
    if rule is Rule.UPRIGHT_LEANS:
        lean, true = reason.lean_deg or 0.0, reason.implied_lean_deg or 0.0
        should = "stand plumb" if abs(true) < 0.25 else f"lean {degrees(true)} {side(true)}"
        top = reason.far_end_px or 0.0
        return f"Leans {degrees(lean)} {side(lean)}; it should {should}. Move its top {pixels(top)} {side(top)}."
    where = place(reason.above_eye_level_px)
    mend = mending(reason.far_end_px)
    if rule is Rule.CLIMBS_TOO_LITTLE:
        return f"Climbs too little for an edge{where}: {by} too flat. {mend}"
    if rule is Rule.CLIMBS_TOO_MUCH:
        return f"Climbs too much for an edge{where}: {by} too steep. {mend}"
    if rule is Rule.FALLS_TOO_LITTLE:
        return f"Falls too little for an edge{where}: {by} too flat. {mend}"
    if rule is Rule.FALLS_TOO_MUCH:
        return f"Falls too much for an edge{where}: {by} too steep. {mend}"
    if rule is Rule.CLIMBS_INSTEAD:
        return f"Climbs going away, yet an edge{where} falls: {by} off. {mend}"
    if rule is Rule.FALLS_INSTEAD:
        return f"Falls going away, yet an edge{where} climbs: {by} off. {mend}"
    if rule is Rule.OPENS:
        return f"Opens against {names(reason.others[0])} instead of closing towards its vanishing point: {by} off. {mend}"
    if rule is Rule.FAR_LONGER:
        more = ((reason.far_near_ratio or 1.0) - 1.0) * 100
        return f"With {names(reason.others[0])} it makes the far side {more:.0f} % longer than the near one; the nearer must be longer. {by} off. {mend}"
    if rule is Rule.NOT_PARALLEL:
        return f"Not parallel to its family: {by} off. Nothing converges in this drawing."
    if family is Family.SLOPE:
        return f"Misses the slope's vanishing point: {by} off. {mend}"
    return f"Misses its vanishing point: {by} off. {mend}"


def rim_words(finding: Finding, names: Names) -> str:
    """What is off about a rim, the opening first."""
    rim, reason = finding.rim, finding.reason
    faults = [] if rim is None else list(rim.faults)
    if faults:
        where = place(reason.above_eye_level_px).strip()
        return " ".join(fault_words(f, names, where if k == 0 or f.rule is Rule.BOWS_WRONG_WAY else "") for k, f in enumerate(faults))
    if reason.rule is Rule.SHORT_ARC:
        return "Too little of the rim is laid to judge its opening. Add points along the arc, or lay the ends of its major axis."
    if reason.rule is Rule.NOTHING_TO_CHECK or finding.implied is None:
        return "Nothing on the sheet checks this rim yet. Sight a second rim at another height, or two families of edges."
    if reason.rule is Rule.UNEXAMINED:
        return UNEXAMINED
    if reason.rule is Rule.TOO_WEAK:
        return "The other sightings leave its opening open. More rims at other heights, or edges, would settle it."
    gap = reason.turn_deg
    said = "Agrees with the others." if abs(gap) < 0.05 else f"Agrees with the others within {degrees(gap)}."
    if reason.others:
        why = "it lies farther from eye level" if reason.goes == Plane.LEVEL.value else "the sight meets it more squarely"
        said += f" Rounder than {names(reason.others[0])}, as it must be: {why}."
    return said if rim is None or rim.guide_deg is None else f"{said} Nearest ellipse guide: {rim.guide_deg}°."


def fault_words(fault: Fault, names: Names, where: str = "") -> str:
    """One fault of a rim: what, which way, by how much, and why. ``where``: its place against eye level."""
    by, px = degrees(fault.size), pixels(fault.size)
    others = listed([names(o) for o in fault.others]) if fault.others else ""
    here = f" for a rim {where}" if where else ""
    share = f" ({fault.share * 100:.0f} % of its width)" if fault.share is not None else ""
    match fault.rule:
        case Rule.RIM_TOO_FLAT:
            return f"Too flat{here}: open it by {by}."
        case Rule.RIM_TOO_ROUND:
            return f"Too round{here}: close it by {by}."
        case Rule.BASE_FLATTER:
            return f"Flatter than {others}, yet it lies farther from eye level and must be rounder: open it by {by}."
        case Rule.FAR_END_FLATTER:
            return f"Flatter than {others}, yet the sight meets the far end more squarely, so it must be rounder: open it by {by}."
        case Rule.OPENED_AT_EYE_LEVEL:
            return f"Opened by {by}, yet a rim at eye level is a straight line."
        case Rule.BOWS_WRONG_WAY:
            side, due = ("below", "down") if "below" in where else ("above", "up") if "above" in where else ("off", "the other way")
            return f"The arc bows the wrong way: a rim {side} eye level bows {due} at the front."
        case Rule.AXIS_OFF:
            return f"Its minor axis stands {by} off the form's axis: turn it {'anticlockwise' if fault.size > 0 else 'clockwise'}."
        case Rule.NOT_ON_AXIS:
            way = "right" if fault.size > 0 else "left"
            if not fault.sure:
                return f"Its centre lies {px} to the {way} of the axis through {others}{share}; one of them is off the form's axis."
            return f"Its centre lies {px} to the {way} of the axis that {others} share{share}."
        case Rule.SIDE_MISSES:
            how = "passes outside the rim" if fault.size > 0 else "cuts into the rim"
            return f"Side {others} {how} by {px}{share}; sides meet a rim without a corner."
        case Rule.CORNER:
            return f"A corner stands out by {px}{share}; a rim has none."
        case Rule.POINTED_ENDS:
            return f"The ends are pointed by {px}{share}; a rim turns round at its ends."
        case Rule.FLAT_SPOT:
            return f"A flat spot lies {px} inside{share}."
        case Rule.LOPSIDED:
            return f"The four quarters do not match, by {px}{share}."
        case Rule.STRAIGHT_SIDES:
            return f"The long sides run straight and the ends are blunt, by {px}{share}; a rim curves all the way."
        case _:
            return ""


def listed(items: list[str]) -> str:
    return items[0] if len(items) == 1 else f"{', '.join(items[:-1])} and {items[-1]}" if items else ""


def several(items: list[str]) -> str:
    """As ``listed``, the rest of a long list only counted."""
    return listed(items) if len(items) <= MOST_NAMED + 1 else listed([*items[:MOST_NAMED], f"{len(items) - MOST_NAMED} more"])


def side(lean: float) -> str:
    return "to the right" if lean > 0 else "to the left"


def mending(far_end_px: float | None) -> str:
    if far_end_px is None:
        return ""
    return f"{'Raise' if far_end_px > 0 else 'Lower'} its far end {pixels(far_end_px)}."


def length_words(finding: Finding) -> str:
    if finding.sighted is None:
        return "Mark one length as the unit to compare with."
    over = finding.reason.turn_deg
    if finding.reason.others == (finding.sighting,):
        return "The unit: all other lengths are compared with it."
    much = (
        "exactly"
        if abs(over) <= 0.02
        else "a touch over"
        if 0 < over <= 0.06
        else "a touch under"
        if -0.06 <= over < 0
        else "well over"
        if over > 0
        else "well under"
    )
    return f"{finding.sighted:.2f} units: {much} {finding.reason.fraction}."


def alignment_words(finding: Finding) -> str:
    miss = finding.sighted or 0.0
    plumb = finding.reason.goes == "plumb"
    if finding.verdict is Verdict.HOLDS:
        return "Stands plumb." if plumb else "Lies level."
    if plumb:
        return f"The upper point lies {pixels(miss)} {'right' if miss > 0 else 'left'} of plumb."
    return f"The right-hand point lies {pixels(miss)} {'higher' if miss > 0 else 'lower'}."


def judged_words(finding: Finding, family: Family | None, difference: float | None) -> str:
    """How the judgement by eye compares with what was then sighted."""
    if difference is None or finding.judged is None or finding.sighted is None:
        return ""
    if finding.kind == "length":
        share = (finding.judged / finding.sighted - 1.0) * 100
        return (
            f"Judged {finding.judged:.2f}: {abs(share):.0f} % {'long' if share > 0 else 'short'}."
            if abs(share) >= 1
            else f"Judged {finding.judged:.2f}: as sighted."
        )
    judged = f"Judged {finding.judged:.0f}°".replace("-", "−")
    if finding.kind == "rim":
        return f"{judged}: as sighted." if abs(difference) < 0.5 else f"{judged}: {degrees(difference)} too {'round' if difference > 0 else 'flat'}."
    if abs(difference) < 0.5:
        return f"{judged}: as sighted."
    if family is Family.UPRIGHT:
        return f"Judged {degrees(difference)} too far {'left' if difference > 0 else 'right'} at the top."
    steep = abs(finding.judged) > abs(finding.sighted) if finding.judged * finding.sighted >= 0 else None
    if steep is None:
        return f"{judged}: the wrong way, {degrees(difference)} off."
    return f"{judged}: {degrees(difference)} too {'steep' if steep else 'flat'}."


def note_words(note: Note, result: CheckResult, names: Names) -> str:
    who = [names(s) for s in note.sightings]
    match note.code:
        case NoteCode.NO_EDGES:
            return "Nothing is sighted yet. Two families of edges, or two level rims at different heights, find eye level."
        case NoteCode.ONE_FAMILY:
            return f"Only {note.text} edges so far: they fix one vanishing point. Eye level needs a second family."
        case NoteCode.FAMILY_OF_ONE:
            return f"{who[0]} is the only {note.text} edge of its form: a second one fixes where the family meets."
        case NoteCode.NEARLY_PARALLEL:
            return f"{several(who)} are too nearly parallel to show where the {note.text} family meets. Sight edges farther apart."
        case NoteCode.EYE_LEVEL_OPEN:
            return "The sightings do not fix eye level yet. Two families of level edges do, two level rims at different heights, or one of each."
        case NoteCode.FOCAL_OPEN:
            return "The sightings leave the width of view open."
        case NoteCode.EXIF_DISAGREES:
            return f"The edges put the focal length at {note.value or 0:.0f} px, the picture's own data at {note.other or 0:.0f} px. Is the picture cropped?"
        case NoteCode.SET_AGAINST_FOUND:
            value, who_put = note.value or 0.0, note.text or "edges"
            if abs(value) < 1:
                return f"Eye level is set where the {who_put} put it (± {note.other or 0:.0f} px)."
            return f"Eye level is set {pixels(value)} {'above' if value > 0 else 'below'} where the {who_put} put it (± {note.other or 0:.0f} px)."
        case NoteCode.EDGES_AGAINST_RIMS:
            value = note.value or 0.0
            said = f"The edges put eye level {pixels(value)} {'below' if value > 0 else 'above'} where the rims put it (± {note.other or 0:.0f} px)."
            return f"{said} Most of that rests on {listed(who)}." if who else said
        case NoteCode.SHORT_ARC:
            return f"{who[0]} is laid on too short an arc to say how far it opens."
        case NoteCode.STRAY:
            return f"{who[0]} is left out of eye level: it strays {degrees(note.value or 0)} from what the others imply."
        case NoteCode.STRAYS:
            return f"{several(who)} are left out of eye level; their slips say how far each strays."
        case NoteCode.PAIR:
            return f"{listed(who)} disagree, and the rest cannot tell which is wrong."
        case NoteCode.DISAGREE:
            return f"The sightings disagree {note.value or 0:.1f} times more than the reading error allows. Check the families, or allow a larger error."
        case NoteCode.SAME_LINE:
            return f"{who[1]} lies on the very ends of {who[0]}; it is counted once."
        case NoteCode.OUTSIDE:
            return f"{several(who)} {'runs' if len(who) == 1 else 'run'} beyond the picture."
        case NoteCode.CROSSING:
            return f"{listed(who)} belong to one family and cross; parallels never do. Check their families."
        case NoteCode.MORE_CROSSINGS:
            return f"{note.value or 0:.0f} more pairs of one family cross."
        case NoteCode.UNEXAMINED:
            mend = "Mend what is marked off, or check the families."
            return f"The sightings contradict each other too often to weigh them all; not weighed: {several(who)}. {mend}"
        case NoteCode.WIDE:
            return f"{several(who)} {'lies' if len(who) == 1 else 'lie'} outside the 60° cone of vision, where forms look stretched."
        case NoteCode.NO_CONVERGENCE:
            return "The sightings contradict each other so far that no single view was found."


def side_words(side: Side) -> str:
    name = side.side.capitalize()
    if side.opens:
        return f"{name} pair opens instead of closing."
    if side.distance is None or side.eye_level is None:
        return f"{name}: two readings at different heights are needed."
    level = f"{side.eye_level:.2f} of the way down" if side.eye_level >= 0 else f"{-side.eye_level:.2f} units above the top"
    return f"{name} vanishing point {side.distance:.2f} units out, eye level {level} (± {side.eye_level_sd or 0:.2f})."


def near_corner_words(card: NearCorner, names: Names) -> str:
    parts = [side_words(card.left), side_words(card.right)]
    if card.agree:
        parts.append("Both sides agree on eye level within reading error.")
    elif card.agree is False:
        parts.append(f"The two sides put eye level {abs(card.gap or 0):.2f} units apart, more than reading error.")
    if card.retake is not None:
        other = f" or {names(card.retake.instead)}" if card.retake.instead else ""
        parts.append(f"Take {names(card.retake.reading)}{other} again: {signed(card.retake.tilt_deg)} instead would make them agree.")
    return " ".join(parts)
