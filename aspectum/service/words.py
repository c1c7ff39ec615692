"""Verdicts and notes in a tutor's words. Every sentence rests on a core reason, nothing else."""

from __future__ import annotations

from collections.abc import Callable

from aspectum.core.model import CheckResult, Family, Finding, Note, NoteCode, Rule, Verdict
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


def finding_words(finding: Finding, family: Family | None, names: Names) -> str:
    """One sentence or two: what is off, which way, by how much, and why."""
    if finding.kind == "length":
        return length_words(finding)
    if finding.kind == "alignment":
        return alignment_words(finding)
    reason = finding.reason
    rule = reason.rule
    by = degrees(reason.turn_deg)
    if rule is Rule.NOTHING_TO_CHECK:
        return "Nothing on the sheet checks this one yet. Sight another edge of its family."
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


def listed(items: list[str]) -> str:
    return items[0] if len(items) == 1 else f"{', '.join(items[:-1])} and {items[-1]}"


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
            return "No edges yet. Sight a few of two families to find eye level."
        case NoteCode.ONE_FAMILY:
            return f"Only {note.text} edges so far: they fix one vanishing point. Eye level needs a second family."
        case NoteCode.FAMILY_OF_ONE:
            return f"{who[0]} is the only {note.text} edge of its form: a second one fixes where the family meets."
        case NoteCode.NEARLY_PARALLEL:
            return f"{listed(who)} are too nearly parallel to show where the {note.text} family meets. Sight edges farther apart."
        case NoteCode.EYE_LEVEL_OPEN:
            return "The sightings do not fix eye level yet. Two families of level edges do, or one family and uprights that lean."
        case NoteCode.FOCAL_OPEN:
            return "The sightings leave the width of view open."
        case NoteCode.EXIF_DISAGREES:
            return f"The edges put the focal length at {note.value or 0:.0f} px, the picture's own data at {note.other or 0:.0f} px. Is the picture cropped?"
        case NoteCode.SET_AGAINST_FOUND:
            value = note.value or 0.0
            if abs(value) < 1:
                return f"Eye level is set where the edges put it (± {note.other or 0:.0f} px)."
            return f"Eye level is set {pixels(value)} {'above' if value > 0 else 'below'} where the edges put it (± {note.other or 0:.0f} px)."
        case NoteCode.STRAY:
            return f"{who[0]} is left out of eye level: it strays {degrees(note.value or 0)} from what the others imply."
        case NoteCode.PAIR:
            return f"{listed(who)} disagree, and the rest cannot tell which is wrong."
        case NoteCode.DISAGREE:
            return f"The sightings disagree {note.value or 0:.1f} times more than the reading error allows. Check the families, or allow a larger error."
        case NoteCode.SAME_LINE:
            return f"{who[1]} lies on the very ends of {who[0]}; it is counted once."
        case NoteCode.OUTSIDE:
            return f"{listed(who)} {'runs' if len(who) == 1 else 'run'} beyond the picture."
        case NoteCode.CROSSING:
            return f"{listed(who)} belong to one family and cross; parallels never do. Check their families."
        case NoteCode.WIDE:
            return f"{listed(who)} {'lies' if len(who) == 1 else 'lie'} outside the 60° cone of vision, where forms look stretched."
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
