"""Words for faces, the parts on them, heights, and a form's true proportions."""

from __future__ import annotations

from aspectum.core.findings import Finding, Proportions, WhyNot
from aspectum.core.reasons import FaceReason, HeightReason, PartReason, Rule
from aspectum.core.sightings import Family, PartAlong, ViewSort
from aspectum.core.wording import remainder
from aspectum.language import Text, figure, say
from aspectum.service.words.common import Telling

CONVERGING = (ViewSort.ONE_POINT, ViewSort.TWO_POINT, ViewSort.THREE_POINT)  # views with an eye level
SURVEY = Text(
    "Heights and sizes from a picture are drawing aids, not a survey: building and safety decisions need a licensed "
    "professional."
)
WHY = {
    WhyNot.NOT_SIGHTED: Text("not told: none of its edges is sighted, and no face shows it"),
    WhyNot.ENDS_HIDDEN: Text("not told: its edges are sighted, but where they end is hidden or cut off"),
    WhyNot.LENS_OPEN: Text("not told: it needs the lens, or a second vanishing point"),
    WhyNot.TOO_LOOSE: Text("not told: the sightings leave it more than a third open"),
    WhyNot.STRAYS: Text("not told: its edges stray from the view that the others have"),
    WhyNot.NO_VIEW: Text("not told: no camera stands behind this picture"),
}
CALLED = {
    Family.RIGHT: Text("right side"),
    Family.LEFT: Text("left side"),
    Family.UPRIGHT: Text("upright"),
    Family.DEPTH: Text("depth"),
    Family.ACROSS: Text("width across"),
}


def face_words(reason: FaceReason, telling: Telling) -> str:
    """Whether a face is flat, and what it can be used for."""
    miss = telling.length(reason.miss_px or 0.0)
    match reason.rule:
        case Rule.FLAT:
            return say("Its corners are one flat face of the form. Diagonals, parts and bays can be drawn on it.")
        case Rule.CROSSES_ITSELF:
            return say("Its corners do not go round it: lay them in order, anticlockwise as seen.")
        case Rule.BY_ITS_CORNERS:
            found = (
                say("No view is found yet")
                if telling.sort is None or telling.sort in CONVERGING
                else say("No camera stands behind this picture")
            )
            return say("{found}: its parts are told by its four corners alone.", found=found)
        case Rule.TOO_WEAK:
            return say(
                "A corner misses the form by {miss}, which the points' own error may explain on so small a face.",
                miss=miss,
            )
    return say(
        "A corner misses the flat face that the form has there by {miss}. Lay it again; parts are told by the four "
        "corners alone.",
        miss=miss,
    )


def fine(sd: float) -> str:
    """A deviation to the hundredth, or to the thousandth where that is nothing."""
    return figure(sd, 2 if sd >= 0.01 else 3)


def part_words(finding: Finding, reason: PartReason) -> str:
    """Where something truly stands on its face, how that is drawn, and what is wrong with the judgement."""
    if finding.sighted is None or finding.implied is None or finding.implied_sd is None:
        return say("Its face has no parts: lay the four corners again.")
    true, drawn = finding.implied, finding.sighted
    way = say("along") if reason.along is PartAlong.ACROSS else say("up")
    said = say(
        "Truly {true} of the way {way} (± {implied_sd})",
        true=figure(true, 2),
        way=way,
        implied_sd=fine(finding.implied_sd),
    )
    if reason.fraction is not None:
        said += f", {remainder(reason.over_share)} {reason.fraction}"
    said += say("; drawn at {drawn}.", drawn=figure(drawn, 2))
    match reason.rule:
        case Rule.MEASURED_NOT_CONSTRUCTED:
            return say(
                "{said} {judged} is the part as it is measured on the picture. Find it by diagonals: the far part is "
                "drawn shorter than the near.",
                said=said,
                judged=figure(finding.judged or 0.0, 2),
            )
        case Rule.JUDGED_TOO_MUCH | Rule.JUDGED_TOO_LITTLE:
            where = say("too far") if reason.rule is Rule.JUDGED_TOO_MUCH else say("not far enough")
            return say(
                "{said} Judged {judged} of the face {where} {way}.",
                said=said,
                judged=figure(abs((finding.judged or 0) - true), 2),
                where=where,
                way=way,
            )
        case Rule.TOO_WEAK:
            return say("{said} Known too loosely to say whether the judgement holds.", said=said)
    return said


def height_words(finding: Finding, reason: HeightReason, telling: Telling) -> str:
    """How tall something is, by what, and whether that fits what is known or was judged."""
    match reason.rule:
        case Rule.NOTHING_TO_CHECK:
            if telling.sort is not None and telling.sort not in CONVERGING:
                return say("This view has no eye level to tell heights by: compare it with the unit.")
            return say("No view is found yet: heights need eye level.")
        case Rule.NOT_ON_THE_GROUND:
            return say(
                "Its foot does not lie below eye level, so it does not stand on the ground that the viewer stands on."
            )
        case Rule.NO_MEASURE:
            return say(
                "{eyes} times the eye's own height (± {eyes_sd}). Give the eye's height, or one known height, for "
                "metres.",
                eyes=figure(reason.eyes or 0, 2),
                eyes_sd=figure(reason.eyes_sd or 0, 2),
            )
        case Rule.MEASURE:
            return say("The measure: every other height and size is told by it.")
    metres, sd, eyes = finding.sighted or 0.0, finding.sighted_sd or 0.0, reason.eyes or 0.0
    cut = (
        say("eye level cuts it")
        if eyes > 1
        else say("it ends below eye level")
        if eyes < 1
        else say("it reaches eye level")
    )
    said = say(
        "{metres} m (± {sd}), {eyes} eye heights: {cut}",
        metres=figure(metres, 2),
        sd=figure(sd, 2),
        eyes=figure(eyes, 2),
        cut=cut,
    )
    said += say(" at {eyes} of its height.", eyes=figure(1 / eyes, 2)) if eyes > 1 else "."
    match reason.rule:
        case Rule.TOO_TALL | Rule.TOO_SMALL:
            what = say("tall") if reason.rule is Rule.TOO_TALL else say("small")
            return say(
                "{said} For {implied} m it is drawn {metres} % too {what} for its place.",
                said=said,
                implied=figure(finding.implied or 0.0, 2),
                metres=figure(abs(metres / (finding.implied or 1) - 1) * 100, 0),
                what=what,
            )
        case Rule.JUDGED_LONG | Rule.JUDGED_SHORT:
            way = say("tall") if reason.rule is Rule.JUDGED_LONG else say("small")
            return say(
                "{said} Judged {judged} % too {way}.",
                said=said,
                judged=figure(abs((finding.judged or 0) / metres - 1) * 100, 0),
                way=way,
            )
        case Rule.TOO_WEAK:
            return say("{said} Known too loosely to say more.", said=said)
    if reason.rule is Rule.AGREES and finding.implied is not None:
        return say("{said} As tall as it is known to be.", said=said)
    return said


def proportion_words(form: Proportions) -> list[str]:
    """A form's sides, one a line."""
    lines = []
    for family, size in form.size.items():
        called = CALLED[family]
        if size is None:
            lines.append(
                f"{called}: {WHY[form.why_not[family]]}"
                if family in form.why_not
                else say("{called}: not told", called=called)
            )
            continue
        metres, metres_sd = form.size_m.get(family), form.size_sd_m.get(family)
        told = (
            say("{called}: 1, the unit", called=called)
            if family is form.unit
            else f"{called}: {figure(size, 2)} (± {figure(form.size_sd[family] or 0.0, 2)})"
        )
        lines.append(told if metres is None else f"{told}, {figure(metres, 2)} m (± {figure(metres_sd or 0.0, 2)})")
    return lines
