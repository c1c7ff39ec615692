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
from aspectum.language import figure, say, say_many
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
        return say("the drawing") if id is None else self.forms.get(id, id)


def percent(share: float) -> str:
    return f"{abs(share) * 100:.0f} %"


def difference_words(kind: Kind, family: Family | None, mine: list[Difference]) -> str:
    """A sighting's numbers beside the subject's."""
    return " ".join(reading_words(kind, family, d) for d in mine)


def reading_words(kind: Kind, family: Family | None, d: Difference) -> str:
    doubt = say(" Both sightings are too loose to be sure.") if d.verdict is Verdict.UNSURE else ""
    match d.what:
        case What.TILT if family is Family.UPRIGHT:
            here, there = float(lean_deg(d.subject)), float(lean_deg(d.drawing))
            if d.verdict is Verdict.HOLDS:
                return say("Leans as it should, within {difference}.", difference=degrees(d.difference))
            return say(
                "Leans {there} {there2}; the subject's {here} {here2}: {difference} off.{doubt}",
                there=degrees(there),
                there2=side(there),
                here=degrees(here),
                here2=side(here),
                difference=degrees(d.difference),
                doubt=doubt,
            )
        case What.TILT:
            if d.verdict is Verdict.HOLDS:
                return say("Tilts as it should, within {difference}.", difference=degrees(d.difference))
            steep = say("too steep") if abs(d.drawing) > abs(d.subject) else say("too shallow")
            if d.drawing * d.subject < 0 and min(abs(d.drawing), abs(d.subject)) > LEVEL_DEG:
                steep = (
                    say("off, falling to the right where it should rise")
                    if d.drawing < 0
                    else say("off, rising to the right where it should fall")
                )
            return say(
                "Drawn at {drawing}, the subject runs at {subject}: {difference} {steep}.{doubt}",
                drawing=signed(d.drawing),
                subject=signed(d.subject),
                difference=degrees(d.difference),
                steep=steep,
                doubt=doubt,
            )
        case What.LENGTH:
            what = say("Its distance from the rim above") if kind is Kind.RIM else say("Its length")
            if d.verdict is Verdict.HOLDS:
                return say("{what} holds: {drawing} near uprights.", what=what, drawing=figure(d.drawing, 2))
            over = say("too long") if d.difference > 0 else say("too short")
            return say(
                "{what} is {drawing} near uprights and should be {subject}: {difference} {over}.{doubt}",
                what=what,
                drawing=figure(d.drawing, 2),
                subject=figure(d.subject, 2),
                difference=percent(d.difference),
                over=over,
                doubt=doubt,
            )
        case What.MAJOR:
            if d.verdict is Verdict.HOLDS:
                return say("As wide as it should be.")
            return say(
                "{difference} too wide.{doubt}" if d.difference > 0 else "{difference} too narrow.{doubt}",
                difference=percent(d.difference),
                doubt=doubt,
            )
        case What.DEGREE:
            if d.verdict is Verdict.HOLDS:
                return say("Opens as it should, within {difference}.", difference=degrees(d.difference))
            over = say("round") if d.difference > 0 else say("flat")
            return say(
                "Opens {drawing}, the subject {subject}: {difference} too {over}.{doubt}",
                drawing=degrees(d.drawing),
                subject=degrees(d.subject),
                difference=degrees(d.difference),
                over=over,
                doubt=doubt,
            )
        case What.AXIS:
            if d.verdict is Verdict.HOLDS:
                return say("Its axis runs as it should.")
            return say(
                "Its axis is {difference} off, leaning {difference2}.{doubt}",
                difference=degrees(d.difference),
                difference2=side(-d.difference),
                doubt=doubt,
            )
        case What.PLACE:
            return (
                say("Sits on the axis.")
                if d.verdict is Verdict.HOLDS
                else say(
                    "Sits off the axis of the rim above it: {difference} from plumb.{doubt}",
                    difference=degrees(d.difference),
                    doubt=doubt,
                )
            )
        case What.PART:
            if d.verdict is Verdict.HOLDS:
                return say("Stands where it should on its face.")
            return say(
                "Stands at {drawing} of its face as drawn, the subject's at {subject}.{doubt}",
                drawing=figure(d.drawing, 2),
                subject=figure(d.subject, 2),
                doubt=doubt,
            )
        case What.SHIFT:  # no number of a sighting's own: it is told by the line's tilt
            return ""


def cause_words(cause: ToldCause, called: Called) -> str:
    """What is wrong, which way and by how much."""
    whose = called.form(cause.form)
    share = percent(cause.size)
    match cause.cause:
        case CauseKind.EYE_LEVEL:
            high = say("high") if cause.direction is Direction.TOO_HIGH else say("low")
            return say(
                "Eye level is drawn {size} near uprights too {high}: the receding edges meet there, and rims follow "
                "it.",
                size=figure(cause.size, 2),
                high=high,
            )
        case CauseKind.VANISHING_POINT if cause.family is Family.UPRIGHT:
            more = say("too much") if cause.direction is Direction.TOO_NEAR else say("too little")
            return say("The uprights draw together {more} for how far you look up or down.", more=more)
        case CauseKind.VANISHING_POINT:
            if cause.direction is Direction.TOO_NEAR:
                return say(
                    "The {family} vanishing point of {whose} stands too near: its {family} edges close too fast.",
                    family=cause.family,
                    whose=whose,
                )
            return say(
                "The {family} vanishing point of {whose} stands too far: its {family} edges close too slowly, or not "
                "at all.",
                family=cause.family,
                whose=whose,
            )
        case CauseKind.LEAN:
            return say(
                "The uprights lean together, {size} to the {direction}.",
                size=degrees(cause.size),
                direction=cause.direction,
            )
        case CauseKind.STRETCH:
            against = (
                say("for its height")
                if cause.direction in (Direction.TOO_WIDE, Direction.TOO_NARROW)
                else say("for its width")
            )
            name = say("The whole drawing") if cause.form is None else capital(whose)
            beside = f" {against}" if cause.form is None else say(" beside the rest")
            return say(
                "{name} is {share} {direction}{beside}.",
                name=name,
                share=share,
                direction=cause.direction.replace("-", " "),
                beside=beside,
            )
        case CauseKind.SIZE:
            return say(
                "{whose} is drawn {share} {direction} beside the rest; its shape is right.",
                whose=capital(whose),
                share=share,
                direction=cause.direction.replace("-", " "),
            )
        case CauseKind.DEPTH:
            far = say("runs too far") if cause.direction is Direction.TOO_WIDE else say("does not run far enough")
            return say(
                "The {family} side of {whose} {far}, by {share}; its direction is right.",
                family=cause.family,
                whose=whose,
                far=far,
                share=share,
            )
        case CauseKind.RIM:
            many = len(cause.sightings) > 1
            rims = {
                Which.LOWER: say("The lower rim"),
                Which.UPPER: say("The upper rim"),
                Which.ALL: say("Every rim"),
                None: say("The rim"),
            }[cause.which]
            if cause.which is Which.LOWER and many:
                rims = say("The lower rims")
            flat = say("flat") if cause.direction is Direction.TOO_FLAT else say("round")
            if cause.form is None:
                rims = {
                    Which.LOWER: say("The lower rims"),
                    Which.UPPER: say("The upper rims"),
                    Which.ALL: say("All rims"),
                    None: say("The rims"),
                }[cause.which]
                return say(
                    "{rims} of every round form are {size} too {flat}.", rims=rims, size=degrees(cause.size), flat=flat
                )
            return say(
                "{rims} of {whose} are {size} too {flat}."
                if many and cause.which is Which.LOWER
                else "{rims} of {whose} is {size} too {flat}.",
                rims=rims,
                whose=whose,
                size=degrees(cause.size),
                flat=flat,
            )
        case CauseKind.TURNED:
            across = say("All edges across") if cause.form is None else say("The edges across of {whose}", whose=whose)
            return say(
                "{across} are turned together, {size} {direction}: they should run like the front.",
                across=across,
                size=degrees(cause.size),
                direction=cause.direction,
            )
        case CauseKind.STRAY:
            return stray_words(cause, called)


def stray_words(cause: ToldCause, called: Called) -> str:
    who = called.sighting(cause.sightings[0])
    match cause.of_what:
        case What.LENGTH | What.MAJOR:
            thing = say("wide") if cause.of_what is What.MAJOR else say("long")
            less = say("narrow") if cause.of_what is What.MAJOR else say("short")
            return say(
                "{who} alone is {size} too {thing}.",
                who=who,
                size=percent(cause.size),
                thing=thing if cause.direction is Direction.TOO_LONG else less,
            )
        case What.DEGREE:
            return say(
                "{who} alone is {size} too flat."
                if cause.direction is Direction.TOO_FLAT
                else "{who} alone is {size} too round.",
                who=who,
                size=degrees(cause.size),
            )
        case What.PART:
            return say(
                "{who} alone stands in the wrong place, by {size} of its face.", who=who, size=figure(cause.size, 2)
            )
        case What.PLACE:
            return say("{who} sits off the axis of its form.", who=who)
        case What.AXIS:
            return say(
                "The axis of {who} alone leans {size} to the {direction}.",
                who=who,
                size=degrees(cause.size),
                direction=cause.direction,
            )
        case _ if cause.direction in (Direction.LEFT, Direction.RIGHT):
            return say(
                "{who} alone leans {size} to the {direction}.",
                who=who,
                size=degrees(cause.size),
                direction=cause.direction,
            )
        case _:
            return say(
                "{who} alone is {size} {direction}.",
                who=who,
                size=degrees(cause.size),
                direction=cause.direction.replace("-", " "),
            )


def advice_words(cause: ToldCause, families: dict[str, Family | None], called: Called) -> str:
    """What to do on the paper."""
    said = []
    moved = sorted(cause.lines.items(), key=lambda item: -math.hypot(*item[1].moves_mm))
    if cause.cause in (CauseKind.EYE_LEVEL, CauseKind.VANISHING_POINT):
        moved = [
            (id, line) for id, line in moved if families.get(id) is not Family.UPRIGHT and id in cause.sightings
        ] or moved
    elif cause.cause is CauseKind.LEAN:
        turn = say("left") if cause.direction is Direction.RIGHT else say("right")
        said.append(
            say(
                "Stand the uprights up again: turn each {size} to the {turn}, about its foot.",
                size=degrees(cause.size),
                turn=turn,
            )
        )
        moved = []
    elif cause.cause is CauseKind.STRETCH and cause.form is None:
        wide = cause.direction is Direction.TOO_WIDE
        by = cause.size / (1 + cause.size) if wide else cause.size
        said.append(
            say(
                "Keep the near upright and take every distance across {by} in."
                if wide
                else "Keep the near upright and take every distance across {by} out.",
                by=percent(by),
            )
        )
        moved = moved[:1]
    elif cause.cause is CauseKind.SIZE:
        smaller = cause.direction is Direction.TOO_LARGE
        by = cause.size / (1 + cause.size) if smaller else cause.size / (1 - cause.size)
        said.append(
            say(
                "Draw {form} {by} smaller, all of it alike."
                if smaller
                else "Draw {form} {by} larger, all of it alike.",
                form=called.form(cause.form),
                by=percent(by),
            )
        )
        moved = []
    elif cause.cause is CauseKind.TURNED:
        said.append(say("Lay the ruler true to the front again."))
    if moved:
        said.append(sentence([move_words(called.sighting(id), line) for id, line in moved[:MOST_ADVISED]]))
    for id, ellipse in list(cause.rims.items())[:MOST_ADVISED]:
        said.append(
            say(
                "Draw {id} {minor_px} as deep as it is wide ({degree_deg}).",
                id=called.sighting(id),
                minor_px=figure(ellipse.minor_px / max(ellipse.major_px, 1e-09), 2),
                degree_deg=degrees(ellipse.degree_deg),
            )
        )
    if cause.cause is CauseKind.EYE_LEVEL and cause.meets:
        said.append(
            say(
                "Eye level then lies {y}.", y=height_words(sum((y for _, y in cause.meets.values())) / len(cause.meets))
            )
        )
    elif cause.cause is CauseKind.VANISHING_POINT and cause.meets:
        said.append(
            say(
                "The {family} edges then meet {values}.",
                family=cause.family,
                values=place_words(next(iter(cause.meets.values()))[0], called.wide_mm),
            )
        )
    return " ".join(said)


def move_words(who: str, line: MendedLine) -> str:
    """How far the end of a line that moves more goes."""
    right, up = line.moves_mm
    if abs(up) >= abs(right):
        return say(
            "{who}: its far end {up} mm higher" if up > 0 else "{who}: its far end {up} mm lower",
            who=who,
            up=figure(abs(up), 0),
        )
    return say(
        "{who}: its far end {right} mm to the right" if right > 0 else "{who}: its far end {right} mm to the left",
        who=who,
        right=figure(abs(right), 0),
    )


def place_words(x_mm: float, wide_mm: float) -> str:
    """Where across the sheet, or beside it, in centimetres."""
    if x_mm < 0:
        return say("{x_mm} cm left of the sheet", x_mm=figure(-x_mm / 10, 0))
    if x_mm > wide_mm:
        return say("{x_mm} cm right of the sheet", x_mm=figure((x_mm - wide_mm) / 10, 0))
    return say("on the sheet, {x_mm} cm from its left edge", x_mm=figure(x_mm / 10, 0))


def height_words(below_mm: float) -> str:
    """How far below the sheet's top something lies, or above it."""
    return say(
        "{below_mm} cm below the sheet's top" if below_mm >= 0 else "{below_mm} cm above the sheet's top",
        below_mm=figure(abs(below_mm) / 10, 1),
    )


def sentence(parts: list[str]) -> str:
    return f"{capital('; '.join(parts))}."


def capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def instead_words(cause: ToldCause, called: Called) -> str | None:
    """What the eye cannot tell a cause from, and what to measure to know."""
    other = cause.instead
    if other is None:
        return None
    know = "" if other.tell_by is None else say(" Measure {tell_by} to know.", tell_by=called.sighting(other.tell_by))
    return say("The drawing cannot tell it from this: {other}.{know}", other=rival_words(other, called), know=know)


def rival_words(other: Instead, called: Called) -> str:
    way = other.direction.replace("-", " ")
    whose = called.form(other.form)
    match other.cause:
        case CauseKind.EYE_LEVEL:
            return say("eye level {way}", way=way)
        case CauseKind.VANISHING_POINT if other.family is Family.UPRIGHT:
            return say("the uprights' vanishing point {way}", way=way)
        case CauseKind.VANISHING_POINT:
            return say("the {family} vanishing point of {whose} {way}", family=other.family, whose=whose, way=way)
        case CauseKind.LEAN:
            return say("uprights that lean to the {way}", way=way)
        case CauseKind.DEPTH:
            return say("the {family} side of {whose} {way}", family=other.family, whose=whose, way=way)
        case CauseKind.RIM:
            return say("the rims of {whose} {way}", whose=whose, way=way)
        case CauseKind.TURNED:
            return (
                say("the edges across turned {way}", way=way)
                if other.form is None
                else say("the edges across of {whose} turned {way}", whose=whose, way=way)
            )
        case CauseKind.STRAY if other.direction in (Direction.LEFT, Direction.RIGHT):
            return say("one line of {whose} leaning to the {way}", whose=whose, way=way)
        case CauseKind.STRAY:
            return say("one line of {whose} {way}", whose=whose, way=way)
        case _:
            return say("the whole {way}", way=way) if other.form is None else f"{whose} {way}"


def hold_words(hold: Hold, called: Called) -> str:
    """Something that holds, with how well."""
    many = len(hold.sightings)
    count = say("both") if many == 2 else say("all {many}", many=many)
    whose = called.form(hold.form)
    match hold.what:
        case What.TILT if hold.family is Family.UPRIGHT:
            return say(
                "The uprights stand as they should: {count_} within {worst}.", count_=count, worst=degrees(hold.worst)
            )
        case What.TILT if hold.family is not None:
            return say(
                "The {family} edges of {whose} run as they should: {count_} within {worst}.",
                family=hold.family,
                whose=whose,
                count_=count,
                worst=degrees(hold.worst),
            )
        case What.PLACE:
            return say("The rims sit on their axes: {count_} within {worst}.", count_=count, worst=degrees(hold.worst))
        case What.TILT:
            return say("The alignments hold: {count_} within {worst}.", count_=count, worst=degrees(hold.worst))
        case What.LENGTH:
            return say(
                "The lengths agree with the near upright: {count_} within {worst}.",
                count_=count,
                worst=percent(hold.worst),
            )
        case What.MAJOR:
            return say(
                "The rims are as wide as they should be: {count_} within {worst}.",
                count_=count,
                worst=percent(hold.worst),
            )
        case What.DEGREE:
            return say_many(
                "The rim of {whose} opens as it should, within {worst}.",
                "The rims of {whose} open as they should, within {worst}.",
                many,
                whose=whose,
                worst=degrees(hold.worst),
            )
        case What.AXIS:
            return say(
                "The axes of the rims run as they should: {count_} within {worst}.",
                count_=count,
                worst=degrees(hold.worst),
            )
        case What.PART:
            return say(
                "What stands on the faces stands in its place: {count_} within {worst}.",
                count_=count,
                worst=figure(abs(hold.worst), 2),
            )
        case What.SHIFT:
            return say("The lines of {whose} meet at their corners.", whose=whose)


def own_family_words(family: OwnFamily, called: Called) -> str:
    """Where a family meets on the paper by itself."""
    who = say("The {family} edges of {form}", family=family.family, form=called.form(family.form))
    if family.meets is Meets.PARALLEL or family.at_mm is None:
        return say("{who} are drawn parallel: they meet nowhere.", who=who)
    if family.meets is Meets.OPEN:
        return say("{who} open as they go back; they must close to a V.", who=who)
    level = ""
    if family.above_mm is not None and abs(family.above_mm) > AGREE_MM:
        level = say(
            ", {above_mm} mm above the drawing's eye level"
            if family.above_mm > 0
            else ", {above_mm} mm below the drawing's eye level",
            above_mm=figure(abs(family.above_mm), 0),
        )
    return say("{who} meet {at_mm}{level}.", who=who, at_mm=place_words(family.at_mm[0], called.wide_mm), level=level)


def own_words(own: OwnTerms, called: Called) -> list[str]:
    """A drawing on its own terms."""
    said = [own_family_words(f, called) for f in own.families]
    heights = [
        (name, at)
        for name, at in (
            (say("left pairs"), own.by_left_mm),
            (say("right pairs"), own.by_right_mm),
            (say("rims"), own.by_rims_mm),
        )
        if at is not None
    ]
    if len(heights) > 1:
        low, high = min(at for _, at in heights), max(at for _, at in heights)
        told = listed([say("the {name} {at}", name=name, at=height_words(at)) for name, at in heights])
        if high - low <= AGREE_MM:
            said.append(say("All agree on one eye level: {told}.", told=told))
        else:
            said.append(say("They ask for different eye levels, and a drawing has one: {told}.", told=told))
    if own.lean_deg is not None and own.lean_spread_deg is not None:
        if abs(own.lean_deg) > NEARLY_PLUMB_DEG:
            said.append(
                say(
                    "The uprights lean {lean_deg} {lean_deg2} on average (spread {lean_spread_deg}).",
                    lean_deg=degrees(own.lean_deg),
                    lean_deg2=side(own.lean_deg),
                    lean_spread_deg=degrees(own.lean_spread_deg),
                )
            )
        else:
            said.append(
                say(
                    "The uprights stand plumb on average (spread {lean_spread_deg}).",
                    lean_spread_deg=degrees(own.lean_spread_deg),
                )
            )
    if own.gaps:
        worst = own.gaps[0]
        rest = "" if len(own.gaps) == 1 else say(" {gaps} more corners miss by over 3 mm.", gaps=len(own.gaps) - 1)
        said.append(
            say(
                "The corner of {s} misses by {gap_mm} mm.{rest}",
                s=several([called.sighting(s) for s in worst.sightings]),
                gap_mm=figure(worst.gap_mm, 0),
                rest=rest,
            )
        )
    return said
