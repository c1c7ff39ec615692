"""Words for what the sightings leave open, and for where vanishing points fall."""

from __future__ import annotations

from aspectum.core.findings import Note, NoteCode, VanishingPoint
from aspectum.core.sightings import Looking, ViewSort
from aspectum.core.wording import AS_FOUND_PX, AT_THE_EDGE
from aspectum.language import figure, say, say_many
from aspectum.service.words.common import Telling, degrees, listed, several


def note_words(note: Note, telling: Telling) -> str:
    who = [telling.names(s) for s in note.sightings]
    match note.code:
        case NoteCode.NO_EDGES if note.text is not None:
            point = say("zenith") if note.text == Looking.UP else say("nadir")
            return say(
                "Nothing is sighted yet. Uprights run to the {point} at the centre of vision; level edges keep the "
                "directions of the plan.",
                point=point,
            )
        case NoteCode.NO_EDGES if telling.sort is ViewSort.PARALLEL:
            return say(
                "Nothing is sighted yet. In a parallel drawing every family keeps one tilt: two of its edges check "
                "each other."
            )
        case NoteCode.NO_EDGES:
            return say(
                "Nothing is sighted yet. Two families of edges, or two level rims at different heights, find eye level."
            )
        case NoteCode.ONE_FAMILY:
            return say(
                "Only {text} edges so far: they fix one vanishing point. Eye level needs a second family.",
                text=say(note.text or ""),
            )
        case NoteCode.FAMILY_OF_ONE if telling.sort in (ViewSort.PARALLEL, ViewSort.STRAIGHT):
            return say(
                "{who} is the only {text} edge of its form: a second one would check it.",
                who=who[0],
                text=say(note.text or ""),
            )
        case NoteCode.FAMILY_OF_ONE:
            return say(
                "{who} is the only {text} edge of its form: a second one fixes where the family meets.",
                who=who[0],
                text=say(note.text or ""),
            )
        case NoteCode.NEARLY_PARALLEL:
            return say(
                "{who} are too nearly parallel to show where the {text} family meets. Sight edges farther apart.",
                who=several(who),
                text=say(note.text or ""),
            )
        case NoteCode.EYE_LEVEL_OPEN:
            return say(
                "The sightings do not fix eye level yet. Two families of level edges do, two level rims at different "
                "heights, or one of each."
            )
        case NoteCode.FOCAL_OPEN:
            return say("The sightings leave the width of view open.")
        case NoteCode.EXIF_DISAGREES:
            lens = say("a lens of {note} mm (35 mm-equivalent)", note=figure(note.value or 0, 0))
            return say(
                "The edges ask for {lens}, the picture's own data says {other} mm. Is the picture cropped?",
                lens=lens,
                other=figure(note.other or 0, 0),
            )
        case NoteCode.SET_AGAINST_FOUND:
            value, found = (
                note.value or 0.0,
                say(
                    "where the {text} put it, give or take {other}",
                    text=say(note.text) if note.text else say("edges"),
                    other=telling.length(note.other or 0.0),
                ),
            )
            if abs(value) < AS_FOUND_PX:
                return say("Eye level is set {found}.", found=found)
            return say(
                "Eye level is set {value} above {found}." if value > 0 else "Eye level is set {value} below {found}.",
                value=telling.length(value),
                found=found,
            )
        case NoteCode.AGAINST_PICTURE:
            return say(
                "Your sightings put eye level elsewhere than the picture as a whole does. Look at the families again: "
                "do edges that run back to one point all have the same?"
            )
        case NoteCode.EDGES_AGAINST_RIMS:
            value = note.value or 0.0
            way = say("below") if value > 0 else say("above")
            said = say(
                "The edges put eye level {value} {way} where the rims put it, give or take {other}.",
                value=telling.length(value),
                way=way,
                other=telling.length(note.other or 0.0),
            )
            return say("{said} Most of that rests on {who}.", said=said, who=listed(who)) if who else said
        case NoteCode.SHORT_ARC:
            return say("{who} is laid on too short an arc to say how far it opens.", who=who[0])
        case NoteCode.STRAY:
            return say(
                "{who} is left out of eye level: it strays {note} from what the others imply.",
                who=who[0],
                note=degrees(note.value or 0),
            )
        case NoteCode.STRAYS:
            return say("{who} are left out of eye level; their slips say how far each strays.", who=several(who))
        case NoteCode.PAIR:
            return say("{who} disagree, and the rest cannot tell which is wrong.", who=listed(who))
        case NoteCode.DISAGREE:
            return say(
                "The sightings disagree {note} times more than the reading error allows. Check the families, or allow "
                "a larger error.",
                note=figure(note.value or 0, 1),
            )
        case NoteCode.SAME_LINE:
            return say("{who} lies on the very ends of {who2}; it is counted once.", who=who[1], who2=who[0])
        case NoteCode.OUTSIDE:
            return say_many(
                "{who} runs beyond the picture.", "{who} run beyond the picture.", len(who), who=several(who)
            )
        case NoteCode.CROSSING:
            return say(
                "{who} belong to one family and cross; parallels never do. Check their families.", who=listed(who)
            )
        case NoteCode.MORE_CROSSINGS:
            return say("{note} more pairs of one family cross.", note=figure(note.value or 0, 0))
        case NoteCode.UNEXAMINED:
            mend = say("Mend what is marked off, or check the families.")
            return say(
                "The sightings contradict each other too often to weigh them all; not weighed: {who}. {mend}",
                who=several(who),
                mend=mend,
            )
        case NoteCode.WIDE:
            stretched = say(
                "{who}, the farthest out, is stretched by {note} %", who=who[0], note=figure((note.value or 0) * 100, 0)
            )
            return say(
                "The picture is wider than the 60° cone of vision: forms near its margin look stretched ({stretched}).",
                stretched=stretched,
            )
        case NoteCode.EQUAL_PARTS:
            return say(
                "{who} stand truly equal {text} apart: {note} of the face each (± {other}).",
                who=several(who),
                text=say(note.text or ""),
                note=figure(note.value or 0, 3),
                other=figure(note.other or 0, 3),
            )
        case NoteCode.UNEQUAL_PARTS:
            return say(
                "{who} divide the face unequally: {note} and {other} of it, truly.",
                who=several(who),
                note=figure(note.value or 0, 2),
                other=figure(note.other or 0, 2),
            )
        case NoteCode.NOT_SHRINKING:
            grow = say(
                "truly they grow from {note} to {other} of the face",
                note=figure(note.value or 0, 2),
                other=figure(note.other or 0, 2),
            )
            return say(
                "{who} are drawn equally far apart: {grow}. Equal repeats shrink as they go back; find each by a "
                "diagonal.",
                who=several(who),
                grow=grow,
            )
        case NoteCode.APEX_OVER_CENTRE:
            return say(
                "The apex of {who} stands over the perspective centre of {who2} ({note} along, ± {other}).",
                who=listed(who[:-1]),
                who2=who[-1],
                note=figure(note.value or 0, 2),
                other=figure(note.other or 0, 2),
            )
        case NoteCode.APEX_OFF_CENTRE:
            centre = say("the perspective centre of {who}", who=who[-1])
            return say(
                "The apex of {who} is not above {centre}: it stands at {note} of the wall (± {other}).",
                who=listed(who[:-1]),
                centre=centre,
                note=figure(note.value or 0, 2),
                other=figure(note.other or 0, 2),
            )
        case NoteCode.OUTSIDE_CONE:
            lie = say("lies") if len(who) == 1 else say("lie")
            return say(
                "{who} {lie} outside the 60° cone of vision, where forms look stretched: what is judged there "
                "misleads.",
                who=several(who),
                lie=lie,
            )
        case NoteCode.EQUALLY_TALL:
            metres = "" if note.value is None else f", {figure(note.value, 2)} m"
            return say("{who} are equally tall{metres}, wherever they stand.", who=several(who), metres=metres)
        case NoteCode.OFF_STRAIGHT:
            slant = say(
                "as if the sight stood {note} off straight {text}",
                note=degrees(note.value or 0),
                text=say(note.text or ""),
            )
            away = say(
                "The uprights meet {other} from the centre of vision, {slant}",
                other=telling.length(note.other or 0.0),
                slant=slant,
            )
            return say(
                "{away}. For a tilted sight choose three-point instead; a cropped picture has lost its centre of "
                "vision.",
                away=away,
            )
        case NoteCode.NO_CONVERGENCE:
            return say("The sightings contradict each other so far that no single view was found.")


def point_words(point: VanishingPoint) -> str:
    """How far a vanishing point falls off the sheet, in sheet widths."""
    return off_sheet_words(point.off_sheet)


def off_sheet_words(off_sheet: float | None) -> str:
    """So many sheet widths beyond the sheet, negative to the left; None where a family meets nowhere."""
    if off_sheet is None:
        return say("at infinity")
    if off_sheet == 0:
        return say("on the sheet")
    way = say("right") if off_sheet > 0 else say("left")
    return (
        say("at the {way} edge", way=way)
        if abs(off_sheet) < AT_THE_EDGE
        else say("{off_sheet} sheets {way}", off_sheet=figure(abs(off_sheet), 1), way=way)
    )
