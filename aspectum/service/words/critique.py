"""Words for a drawing: what holds, its causes with what to do on the paper, and every sighting beside its subject."""

from __future__ import annotations

import math
from dataclasses import dataclass

from aspectum.core.drawing.candidates import CauseKind, Which
from aspectum.core.drawing.critique import Difference, Direction, Hold, Instead, ToldCause
from aspectum.core.drawing.mending import MendedLine
from aspectum.core.drawing.own import NEARLY_PLUMB_DEG, Meets, OwnFamily, OwnTerms
from aspectum.core.drawing.readings import What
from aspectum.core.plane.lines import lean_deg
from aspectum.core.sightings import Family, Kind
from aspectum.core.tolerance import Verdict
from aspectum.service.words.common import Names, degrees, listed, several, side, signed

MOST_ADVISED = 3  # lines that a piece of advice moves one by one
LEVEL_DEG = 1.0  # from level: nearer than this a line neither rises nor falls
AGREE_MM = 5.0  # heights of eye level on paper that differ by less agree; common practice


@dataclass(frozen=True)
class Called:
    """How sentences call sightings and forms, and how wide the sheet is (mm)."""

    sighting: Names
    forms: dict[str, str]
    wide_mm: float

    def form(self, id: str | None) -> str:
        return "the drawing" if id is None else self.forms.get(id, id)


def percent(share: float) -> str:
    return f"{abs(share) * 100:.0f} %"


def difference_words(kind: Kind, family: Family | None, mine: list[Difference]) -> str:
    """A sighting's numbers beside the subject's."""
    return " ".join(reading_words(kind, family, d) for d in mine)


def reading_words(kind: Kind, family: Family | None, d: Difference) -> str:
    doubt = " Both sightings are too loose to be sure." if d.verdict is Verdict.UNSURE else ""
    match d.what:
        case What.TILT if family is Family.UPRIGHT:
            here, there = float(lean_deg(d.subject)), float(lean_deg(d.drawing))
            if d.verdict is Verdict.HOLDS:
                return f"Leans as it should, within {degrees(d.difference)}."
            return f"Leans {degrees(there)} {side(there)}; the subject's {degrees(here)} {side(here)}: {degrees(d.difference)} off.{doubt}"
        case What.TILT:
            if d.verdict is Verdict.HOLDS:
                return f"Tilts as it should, within {degrees(d.difference)}."
            steep = "too steep" if abs(d.drawing) > abs(d.subject) else "too shallow"
            if d.drawing * d.subject < 0 and min(abs(d.drawing), abs(d.subject)) > LEVEL_DEG:
                steep = "off, falling to the right where it should rise" if d.drawing < 0 else "off, rising to the right where it should fall"
            return f"Drawn at {signed(d.drawing)}, the subject runs at {signed(d.subject)}: {degrees(d.difference)} {steep}.{doubt}"
        case What.LENGTH:
            what = "Its distance from the rim above" if kind is Kind.RIM else "Its length"
            if d.verdict is Verdict.HOLDS:
                return f"{what} holds: {d.drawing:.2f} near uprights."
            over = "too long" if d.difference > 0 else "too short"
            return f"{what} is {d.drawing:.2f} near uprights and should be {d.subject:.2f}: {percent(d.difference)} {over}.{doubt}"
        case What.MAJOR:
            if d.verdict is Verdict.HOLDS:
                return "As wide as it should be."
            return f"{percent(d.difference)} too {'wide' if d.difference > 0 else 'narrow'}.{doubt}"
        case What.DEGREE:
            if d.verdict is Verdict.HOLDS:
                return f"Opens as it should, within {degrees(d.difference)}."
            over = "round" if d.difference > 0 else "flat"
            return f"Opens {degrees(d.drawing)}, the subject {degrees(d.subject)}: {degrees(d.difference)} too {over}.{doubt}"
        case What.AXIS:
            if d.verdict is Verdict.HOLDS:
                return "Its axis runs as it should."
            return f"Its axis is {degrees(d.difference)} off, leaning {side(-d.difference)}.{doubt}"
        case What.PLACE:
            return "Sits on the axis." if d.verdict is Verdict.HOLDS else f"Sits off the axis of the rim above it: {degrees(d.difference)} from plumb.{doubt}"
        case What.PART:
            if d.verdict is Verdict.HOLDS:
                return "Stands where it should on its face."
            return f"Stands at {d.drawing:.2f} of its face as drawn, the subject's at {d.subject:.2f}.{doubt}"
        case What.SHIFT:  # no number of a sighting's own: it is told by the line's tilt
            return ""


def cause_words(cause: ToldCause, called: Called) -> str:
    """What is wrong, which way and by how much."""
    whose = called.form(cause.form)
    share = percent(cause.size)
    match cause.cause:
        case CauseKind.EYE_LEVEL:
            high = "high" if cause.direction is Direction.TOO_HIGH else "low"
            return f"Eye level is drawn {cause.size:.2f} near uprights too {high}: the receding edges meet there, and rims follow it."
        case CauseKind.VANISHING_POINT if cause.family is Family.UPRIGHT:
            more = "too much" if cause.direction is Direction.TOO_NEAR else "too little"
            return f"The uprights draw together {more} for how far you look up or down."
        case CauseKind.VANISHING_POINT:
            if cause.direction is Direction.TOO_NEAR:
                return f"The {cause.family} vanishing point of {whose} stands too near: its {cause.family} edges close too fast."
            return f"The {cause.family} vanishing point of {whose} stands too far: its {cause.family} edges close too slowly, or not at all."
        case CauseKind.LEAN:
            return f"The uprights lean together, {degrees(cause.size)} to the {cause.direction}."
        case CauseKind.STRETCH:
            against = "for its height" if cause.direction in (Direction.TOO_WIDE, Direction.TOO_NARROW) else "for its width"
            name = "The whole drawing" if cause.form is None else capital(whose)
            beside = f" {against}" if cause.form is None else " beside the rest"
            return f"{name} is {share} {cause.direction.replace('-', ' ')}{beside}."
        case CauseKind.SIZE:
            return f"{capital(whose)} is drawn {share} {cause.direction.replace('-', ' ')} beside the rest; its shape is right."
        case CauseKind.DEPTH:
            far = "runs too far" if cause.direction is Direction.TOO_WIDE else "does not run far enough"
            return f"The {cause.family} side of {whose} {far}, by {share}; its direction is right."
        case CauseKind.RIM:
            many = len(cause.sightings) > 1
            rims = {Which.LOWER: "The lower rim", Which.UPPER: "The upper rim", Which.ALL: "Every rim", None: "The rim"}[cause.which]
            if cause.which is Which.LOWER and many:
                rims = "The lower rims"
            flat = "flat" if cause.direction is Direction.TOO_FLAT else "round"
            if cause.form is None:
                rims = {Which.LOWER: "The lower rims", Which.UPPER: "The upper rims", Which.ALL: "All rims", None: "The rims"}[cause.which]
                return f"{rims} of every round form are {degrees(cause.size)} too {flat}."
            return f"{rims} of {whose} {'are' if rims.endswith('rims') else 'is'} {degrees(cause.size)} too {flat}."
        case CauseKind.TURNED:
            across = "All edges across" if cause.form is None else f"The edges across of {whose}"
            return f"{across} are turned together, {degrees(cause.size)} {cause.direction}: they should run like the front."
        case CauseKind.STRAY:
            return stray_words(cause, called)


def stray_words(cause: ToldCause, called: Called) -> str:
    who = called.sighting(cause.sightings[0])
    match cause.of_what:
        case What.LENGTH | What.MAJOR:
            thing = "wide" if cause.of_what is What.MAJOR else "long"
            less = "narrow" if cause.of_what is What.MAJOR else "short"
            return f"{who} alone is {percent(cause.size)} too {thing if cause.direction is Direction.TOO_LONG else less}."
        case What.DEGREE:
            return f"{who} alone is {degrees(cause.size)} too {'flat' if cause.direction is Direction.TOO_FLAT else 'round'}."
        case What.PART:
            return f"{who} alone stands in the wrong place, by {cause.size:.2f} of its face."
        case What.PLACE:
            return f"{who} sits off the axis of its form."
        case What.AXIS:
            return f"The axis of {who} alone leans {degrees(cause.size)} to the {cause.direction}."
        case _ if cause.direction in (Direction.LEFT, Direction.RIGHT):
            return f"{who} alone leans {degrees(cause.size)} to the {cause.direction}."
        case _:
            return f"{who} alone is {degrees(cause.size)} {cause.direction.replace('-', ' ')}."


def advice_words(cause: ToldCause, families: dict[str, Family | None], called: Called) -> str:
    """What to do on the paper."""
    said = []
    moved = sorted(cause.lines.items(), key=lambda item: -math.hypot(*item[1].moves_mm))
    if cause.cause in (CauseKind.EYE_LEVEL, CauseKind.VANISHING_POINT):
        moved = [(id, line) for id, line in moved if families.get(id) is not Family.UPRIGHT and id in cause.sightings] or moved
    elif cause.cause is CauseKind.LEAN:
        turn = "left" if cause.direction is Direction.RIGHT else "right"
        said.append(f"Stand the uprights up again: turn each {degrees(cause.size)} to the {turn}, about its foot.")
        moved = []
    elif cause.cause is CauseKind.STRETCH and cause.form is None:
        wide = cause.direction is Direction.TOO_WIDE
        by = cause.size / (1 + cause.size) if wide else cause.size
        said.append(f"Keep the near upright and take every distance across {percent(by)} {'in' if wide else 'out'}.")
        moved = moved[:1]
    elif cause.cause is CauseKind.SIZE:
        smaller = cause.direction is Direction.TOO_LARGE
        by = cause.size / (1 + cause.size) if smaller else cause.size / (1 - cause.size)
        said.append(f"Draw {called.form(cause.form)} {percent(by)} {'smaller' if smaller else 'larger'}, all of it alike.")
        moved = []
    elif cause.cause is CauseKind.TURNED:
        said.append("Lay the ruler true to the front again.")
    if moved:
        said.append(sentence([move_words(called.sighting(id), line) for id, line in moved[:MOST_ADVISED]]))
    for id, ellipse in list(cause.rims.items())[:MOST_ADVISED]:
        said.append(f"Draw {called.sighting(id)} {ellipse.minor_px / max(ellipse.major_px, 1e-9):.2f} as deep as it is wide ({degrees(ellipse.degree_deg)}).")
    if cause.cause is CauseKind.EYE_LEVEL and cause.meets:
        said.append(f"Eye level then lies {height_words(sum(y for _, y in cause.meets.values()) / len(cause.meets))}.")
    elif cause.cause is CauseKind.VANISHING_POINT and cause.meets:
        said.append(f"The {cause.family} edges then meet {place_words(next(iter(cause.meets.values()))[0], called.wide_mm)}.")
    return " ".join(said)


def move_words(who: str, line: MendedLine) -> str:
    """How far the end of a line that moves more goes."""
    right, up = line.moves_mm
    if abs(up) >= abs(right):
        return f"{who}: its far end {abs(up):.0f} mm {'higher' if up > 0 else 'lower'}"
    return f"{who}: its far end {abs(right):.0f} mm to the {'right' if right > 0 else 'left'}"


def place_words(x_mm: float, wide_mm: float) -> str:
    """Where across the sheet, or beside it, in centimetres."""
    if x_mm < 0:
        return f"{-x_mm / 10:.0f} cm left of the sheet"
    if x_mm > wide_mm:
        return f"{(x_mm - wide_mm) / 10:.0f} cm right of the sheet"
    return f"on the sheet, {x_mm / 10:.0f} cm from its left edge"


def height_words(below_mm: float) -> str:
    """How far below the sheet's top something lies, or above it."""
    return f"{abs(below_mm) / 10:.1f} cm {'below' if below_mm >= 0 else 'above'} the sheet's top"


def sentence(parts: list[str]) -> str:
    return f"{capital('; '.join(parts))}."


def capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def instead_words(cause: ToldCause, called: Called) -> str | None:
    """What the eye cannot tell a cause from, and what to measure to know."""
    other = cause.instead
    if other is None:
        return None
    know = "" if other.tell_by is None else f" Measure {called.sighting(other.tell_by)} to know."
    return f"The drawing cannot tell it from this: {rival_words(other, called)}.{know}"


def rival_words(other: Instead, called: Called) -> str:
    way = other.direction.replace("-", " ")
    whose = called.form(other.form)
    match other.cause:
        case CauseKind.EYE_LEVEL:
            return f"eye level {way}"
        case CauseKind.VANISHING_POINT if other.family is Family.UPRIGHT:
            return f"the uprights' vanishing point {way}"
        case CauseKind.VANISHING_POINT:
            return f"the {other.family} vanishing point of {whose} {way}"
        case CauseKind.LEAN:
            return f"uprights that lean to the {way}"
        case CauseKind.DEPTH:
            return f"the {other.family} side of {whose} {way}"
        case CauseKind.RIM:
            return f"the rims of {whose} {way}"
        case CauseKind.TURNED:
            return f"the edges across{'' if other.form is None else f' of {whose}'} turned {way}"
        case CauseKind.STRAY if other.direction in (Direction.LEFT, Direction.RIGHT):
            return f"one line of {whose} leaning to the {way}"
        case CauseKind.STRAY:
            return f"one line of {whose} {way}"
        case _:
            return f"the whole {way}" if other.form is None else f"{whose} {way}"


def hold_words(hold: Hold, called: Called) -> str:
    """Something that holds, with how well."""
    many = len(hold.sightings)
    count = "both" if many == 2 else f"all {many}"
    whose = called.form(hold.form)
    match hold.what:
        case What.TILT if hold.family is Family.UPRIGHT:
            return f"The uprights stand as they should: {count} within {degrees(hold.worst)}."
        case What.TILT if hold.family is not None:
            return f"The {hold.family} edges of {whose} run as they should: {count} within {degrees(hold.worst)}."
        case What.PLACE:
            return f"The rims sit on their axes: {count} within {degrees(hold.worst)}."
        case What.TILT:
            return f"The alignments hold: {count} within {degrees(hold.worst)}."
        case What.LENGTH:
            return f"The lengths agree with the near upright: {count} within {percent(hold.worst)}."
        case What.MAJOR:
            return f"The rims are as wide as they should be: {count} within {percent(hold.worst)}."
        case What.DEGREE:
            return f"The {'rim' if many == 1 else 'rims'} of {whose} {'opens as it' if many == 1 else 'open as they'} should, within {degrees(hold.worst)}."
        case What.AXIS:
            return f"The axes of the rims run as they should: {count} within {degrees(hold.worst)}."
        case What.PART:
            return f"What stands on the faces stands in its place: {count} within {abs(hold.worst):.2f}."
        case What.SHIFT:
            return f"The lines of {whose} meet at their corners."


def own_family_words(family: OwnFamily, called: Called) -> str:
    """Where a family meets on the paper by itself."""
    who = f"The {family.family} edges of {called.form(family.form)}"
    if family.meets is Meets.PARALLEL or family.at_mm is None:
        return f"{who} are drawn parallel: they meet nowhere."
    if family.meets is Meets.OPEN:
        return f"{who} open as they go back; they must close to a V."
    level = ""
    if family.above_mm is not None and abs(family.above_mm) > AGREE_MM:
        level = f", {abs(family.above_mm):.0f} mm {'above' if family.above_mm > 0 else 'below'} the drawing's eye level"
    return f"{who} meet {place_words(family.at_mm[0], called.wide_mm)}{level}."


def own_words(own: OwnTerms, called: Called) -> list[str]:
    """A drawing on its own terms."""
    said = [own_family_words(f, called) for f in own.families]
    heights = [(name, at) for name, at in (("left pairs", own.by_left_mm), ("right pairs", own.by_right_mm), ("rims", own.by_rims_mm)) if at is not None]
    if len(heights) > 1:
        low, high = min(at for _, at in heights), max(at for _, at in heights)
        told = listed([f"the {name} {height_words(at)}" for name, at in heights])
        if high - low <= AGREE_MM:
            said.append(f"All agree on one eye level: {told}.")
        else:
            said.append(f"They ask for different eye levels, and a drawing has one: {told}.")
    if own.lean_deg is not None and own.lean_spread_deg is not None:
        if abs(own.lean_deg) > NEARLY_PLUMB_DEG:
            said.append(f"The uprights lean {degrees(own.lean_deg)} {side(own.lean_deg)} on average (spread {degrees(own.lean_spread_deg)}).")
        else:
            said.append(f"The uprights stand plumb on average (spread {degrees(own.lean_spread_deg)}).")
    if own.gaps:
        worst = own.gaps[0]
        rest = "" if len(own.gaps) == 1 else f" {len(own.gaps) - 1} more corners miss by over 3 mm."
        said.append(f"The corner of {several([called.sighting(s) for s in worst.sightings])} misses by {worst.gap_mm:.0f} mm.{rest}")
    return said
