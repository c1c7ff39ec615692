"""Words for what the sightings leave open, and for where vanishing points fall."""

from __future__ import annotations

from aspectum.core.findings import Note, NoteCode, VanishingPoint
from aspectum.core.sightings import Looking, ViewSort
from aspectum.core.wording import AS_FOUND_PX, AT_THE_EDGE
from aspectum.service.words.common import Telling, degrees, listed, several


def note_words(note: Note, telling: Telling) -> str:
    who = [telling.names(s) for s in note.sightings]
    match note.code:
        case NoteCode.NO_EDGES if note.text is not None:
            point = "zenith" if note.text == Looking.UP else "nadir"
            return f"Nothing is sighted yet. Uprights run to the {point} at the centre of vision; level edges keep the directions of the plan."
        case NoteCode.NO_EDGES if telling.sort is ViewSort.PARALLEL:
            return "Nothing is sighted yet. In a parallel drawing every family keeps one tilt: two of its edges check each other."
        case NoteCode.NO_EDGES:
            return "Nothing is sighted yet. Two families of edges, or two level rims at different heights, find eye level."
        case NoteCode.ONE_FAMILY:
            return f"Only {note.text} edges so far: they fix one vanishing point. Eye level needs a second family."
        case NoteCode.FAMILY_OF_ONE if telling.sort in (ViewSort.PARALLEL, ViewSort.STRAIGHT):
            return f"{who[0]} is the only {note.text} edge of its form: a second one would check it."
        case NoteCode.FAMILY_OF_ONE:
            return f"{who[0]} is the only {note.text} edge of its form: a second one fixes where the family meets."
        case NoteCode.NEARLY_PARALLEL:
            return f"{several(who)} are too nearly parallel to show where the {note.text} family meets. Sight edges farther apart."
        case NoteCode.EYE_LEVEL_OPEN:
            return "The sightings do not fix eye level yet. Two families of level edges do, two level rims at different heights, or one of each."
        case NoteCode.FOCAL_OPEN:
            return "The sightings leave the width of view open."
        case NoteCode.EXIF_DISAGREES:
            lens = f"a lens of {note.value or 0:.0f} mm (35 mm-equivalent)"
            return f"The edges ask for {lens}, the picture's own data says {note.other or 0:.0f} mm. Is the picture cropped?"
        case NoteCode.SET_AGAINST_FOUND:
            value, found = note.value or 0.0, f"where the {note.text or 'edges'} put it, give or take {telling.length(note.other or 0.0)}"
            if abs(value) < AS_FOUND_PX:
                return f"Eye level is set {found}."
            return f"Eye level is set {telling.length(value)} {'above' if value > 0 else 'below'} {found}."
        case NoteCode.AGAINST_PICTURE:
            return (
                "Your sightings put eye level elsewhere than the picture as a whole does. Look at the families again: do edges that run back to one point "
                "all have the same?"
            )
        case NoteCode.EDGES_AGAINST_RIMS:
            value = note.value or 0.0
            way = "below" if value > 0 else "above"
            said = f"The edges put eye level {telling.length(value)} {way} where the rims put it, give or take {telling.length(note.other or 0.0)}."
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
            stretched = f"{who[0]}, the farthest out, is stretched by {(note.value or 0) * 100:.0f} %"
            return f"The picture is wider than the 60° cone of vision: forms near its margin look stretched ({stretched})."
        case NoteCode.EQUAL_PARTS:
            return f"{several(who)} stand truly equal {note.text} apart: {note.value or 0:.3f} of the face each (± {note.other or 0:.3f})."
        case NoteCode.UNEQUAL_PARTS:
            return f"{several(who)} divide the face unequally: {note.value or 0:.2f} and {note.other or 0:.2f} of it, truly."
        case NoteCode.NOT_SHRINKING:
            grow = f"truly they grow from {note.value or 0:.2f} to {note.other or 0:.2f} of the face"
            return f"{several(who)} are drawn equally far apart: {grow}. Equal repeats shrink as they go back; find each by a diagonal."
        case NoteCode.APEX_OVER_CENTRE:
            return f"The apex of {listed(who[:-1])} stands over the perspective centre of {who[-1]} ({note.value or 0:.2f} along, ± {note.other or 0:.2f})."
        case NoteCode.APEX_OFF_CENTRE:
            centre = f"the perspective centre of {who[-1]}"
            return f"The apex of {listed(who[:-1])} is not above {centre}: it stands at {note.value or 0:.2f} of the wall (± {note.other or 0:.2f})."
        case NoteCode.OUTSIDE_CONE:
            lie = "lies" if len(who) == 1 else "lie"
            return f"{several(who)} {lie} outside the 60° cone of vision, where forms look stretched: what is judged there misleads."
        case NoteCode.EQUALLY_TALL:
            metres = "" if note.value is None else f", {note.value:.2f} m"
            return f"{several(who)} are equally tall{metres}, wherever they stand."
        case NoteCode.OFF_STRAIGHT:
            slant = f"as if the sight stood {degrees(note.value or 0)} off straight {note.text}"
            away = f"The uprights meet {telling.length(note.other or 0.0)} from the centre of vision, {slant}"
            return f"{away}. For a tilted sight choose three-point instead; a cropped picture has lost its centre of vision."
        case NoteCode.NO_CONVERGENCE:
            return "The sightings contradict each other so far that no single view was found."


def point_words(point: VanishingPoint) -> str:
    """How far a vanishing point falls off the sheet, in sheet widths."""
    return off_sheet_words(point.off_sheet)


def off_sheet_words(off_sheet: float | None) -> str:
    """So many sheet widths beyond the sheet, negative to the left; None where a family meets nowhere."""
    if off_sheet is None:
        return "at infinity"
    if off_sheet == 0:
        return "on the sheet"
    way = "right" if off_sheet > 0 else "left"
    return f"at the {way} edge" if abs(off_sheet) < AT_THE_EDGE else f"{abs(off_sheet):.1f} sheets {way}"
