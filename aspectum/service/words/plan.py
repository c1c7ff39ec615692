"""Words for the plan of a sheet of paper and its lay-in."""

from __future__ import annotations

from collections.abc import Callable

from aspectum.core.aids.standpoint import ViewKind
from aspectum.core.plan.lay_in import Step, StepKind
from aspectum.core.plan.placing import Leaves, Placing, Warned
from aspectum.core.plan.reach import PointOnPaper
from aspectum.core.sightings import Family, Point, Side
from aspectum.core.tolerance import Verdict
from aspectum.language import Text, figure, say
from aspectum.service.words.common import listed, signed

VIEWS = {
    ViewKind.BIRDS_EYE: Text("a bird's-eye view: more ground shows"),
    ViewKind.NORMAL: Text("a normal view"),
    ViewKind.WORMS_EYE: Text("a worm's-eye view: more sky shows"),
}
A_UNIT = 1e-6  # by which a length may differ from one unit and be it
EVEN_MM = 0.05  # what differs by less is level or plumb on paper


def place(p: Point) -> str:
    return f"{p[0]:.0f} | {p[1]:.0f}"


def step_words(step: Step, placing: Placing, called: Callable[[str | None], str]) -> str:
    """What to draw and its numbers: where its ends lie in mm from the sheet's left and top, its tilt, its length."""
    form = called(step.form)
    of = say(" of {form}", form=form) if form else ""
    doubt = say(" Its sighting is off: check it first.") if step.verdict is Verdict.OFF else ""
    p, q = step.p or (0.0, 0.0), step.q or (0.0, 0.0)
    long = (
        ""
        if step.long_mm is None or step.units is None
        else say("{long_mm} mm, {units} units", long_mm=figure(step.long_mm, 0), units=figure(step.units, 2))
    )
    match step.kind:
        case StepKind.LIMITS:
            return say(
                "Mark the four limits: left {p}, right {q}, top {p2}, bottom {q2} mm.",
                p=figure(p[0], 0),
                q=figure(q[0], 0),
                p2=figure(p[1], 0),
                q2=figure(q[1], 0),
            )
        case StepKind.ANCHOR:
            return say(
                "Anchor line: lightly across, {p} mm down, where the near upright will stand.", p=figure(p[1], 0)
            )
        case StepKind.EYE_LEVEL:
            return eye_level_step(placing)
        case StepKind.NEAR_UPRIGHT:
            unit = say("the unit, ") if step.units is not None and abs(step.units - 1.0) < A_UNIT else ""
            return say(
                "Near upright{of}: {unit}{long}, from {p} down to {q}.{doubt}",
                of=of,
                unit=unit,
                long=long,
                p=place(p),
                q=place(q),
                doubt=doubt,
            )
        case StepKind.RECEDING:
            tilt = "" if step.tilt_deg is None else say("tilt {tilt_deg}, ", tilt_deg=signed(step.tilt_deg))
            return say(
                "{family} edge{of} from {p}: {tilt}{long}, to {q}.{doubt}",
                family=family_word(step.family),
                of=of,
                p=place(p),
                tilt=tilt,
                long=long,
                q=place(q),
                doubt=doubt,
            )
        case StepKind.FAR_UPRIGHT:
            return say(
                "Far upright{of}: {long}, from {p} down to {q}.{doubt}",
                of=of,
                long=long,
                p=place(p),
                q=place(q),
                doubt=doubt,
            )
        case StepKind.DIAGONALS:
            return say(
                "Check the {family} side{of}: its diagonals cross at {crossing}, its middle as drawn.",
                family=family_word(step.family).lower(),
                of=of,
                crossing=place(step.crossing or p),
            )
        case StepKind.AXIS:
            return say("Centre axis{of}: from {p} to {q}, {long}.", of=of, p=place(p), q=place(q), long=long)
        case StepKind.RIM:
            return say(
                "Rim{of} on its axis: middle at {centre}, {major_mm} mm wide and {minor_mm} deep, minor axis "
                "{tilt_deg}.{doubt}",
                of=of,
                centre=place(step.centre or p),
                major_mm=figure(step.major_mm or 0.0, 0),
                minor_mm=figure(step.minor_mm or 0.0, 0),
                tilt_deg=signed(step.tilt_deg or 0.0),
                doubt=doubt,
            )
    tilt = "" if step.tilt_deg is None else say("tilt {tilt_deg}, ", tilt_deg=signed(step.tilt_deg))
    what = say("Height") if step.family is None else say("{family} edge", family=family_word(step.family))
    return say(
        "{what}{of}: {tilt}{long}, from {p} to {q}.{doubt}",
        what=what,
        of=of,
        tilt=tilt,
        long=long,
        p=place(p),
        q=place(q),
        doubt=doubt,
    )


def family_word(family: Family | None) -> str:
    return "" if family is None else family.value.capitalize()


def eye_level_step(placing: Placing) -> str:
    assert placing.eye_level is not None
    left, right = placing.eye_level
    high = placing.sheet.high
    if max(left, right) < 0:
        return say("Eye level lies {left} mm above the sheet: note it at the top.", left=figure(-max(left, right), 0))
    if min(left, right) > high:
        return say(
            "Eye level lies {left} mm below the sheet: note it at the foot.", left=figure(min(left, right) - high, 0)
        )
    where = (
        say("{left} mm down", left=figure(left, 0))
        if abs(left - right) < EVEN_MM
        else say(
            "from {left} mm down at the left side to {right} at the right", left=figure(left, 0), right=figure(right, 0)
        )
    )
    view = "" if placing.view is None or placing.view not in VIEWS else f": {VIEWS[placing.view]}"
    return say("Eye level, lightly right across, {where}{view}.", where=where, view=view)


def plan_point_words(p: PointOnPaper, form: str) -> str:
    """Where a vanishing point falls from the sheet's edge, and how to aim at it."""
    who = (
        say("{family} VP of {form}", family=family_word(p.point.family), form=form)
        if form
        else say("{family} VP", family=family_word(p.point.family))
    )
    if p.at is None or p.off_mm is None:
        return say("{who}: nothing converges; every line of it is parallel.", who=who)
    spread = "" if p.sd_mm is None else say(" ± {sd_mm} cm", sd_mm=figure(p.sd_mm / 10, 0))
    if p.off_mm <= 0:
        return say("{who}: on the sheet, at {at}{spread}.", who=who, at=place(p.at), spread=spread)
    off = say("{off_mm} cm beyond the {side} edge{spread}", off_mm=figure(p.off_mm / 10, 1), side=p.side, spread=spread)
    return (
        say("{who}: {off}. Pin it beside the board.", who=who, off=off)
        if p.in_reach
        else say("{who}: {off}, out of reach. Use the edge scales or the tilt table.", who=who, off=off)
    )


def warning_words(w: Warned) -> str:
    sides = listed(list(w.sides))
    match w.leaves:
        case Leaves.SHEET:
            return say(
                "The drawing leaves the sheet by {by_mm} mm at the {sides}: take a larger sheet, or a shorter near "
                "upright.",
                by_mm=figure(w.by_mm, 0),
                sides=sides,
            )
        case Leaves.MARGINS:
            return say(
                "The drawing runs {by_mm} mm into the margin at the {sides}.", by_mm=figure(w.by_mm, 0), sides=sides
            )
    return say(
        "The drawing reaches {by_mm} mm beyond the 60° cone of vision at the {sides}: it will look stretched there. "
        "Step back, or leave that out.",
        by_mm=figure(w.by_mm, 0),
        sides=sides,
    )


def open_side_words(sides: tuple[Side, ...]) -> str:
    names = listed([side.value for side in sides])
    return say(
        "No width was compared on the {names}: its far upright is left open. Compare it on the card, and the plan "
        "shows it.",
        names=names,
    )
