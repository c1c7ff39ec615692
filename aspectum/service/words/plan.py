"""Words for the plan of a sheet of paper and its lay-in."""

from __future__ import annotations

from collections.abc import Callable

from aspectum.core.aids.standpoint import ViewKind
from aspectum.core.plan.lay_in import Step, StepKind
from aspectum.core.plan.placing import Leaves, Placing, Warned
from aspectum.core.plan.reach import PointOnPaper
from aspectum.core.sightings import Family, Point, Side
from aspectum.core.tolerance import Verdict
from aspectum.service.words.common import listed, signed

VIEWS = {
    ViewKind.BIRDS_EYE: "a bird's-eye view: more ground shows",
    ViewKind.NORMAL: "a normal view",
    ViewKind.WORMS_EYE: "a worm's-eye view: more sky shows",
}
A_UNIT = 1e-6  # by which a length may differ from one unit and be it
EVEN_MM = 0.05  # what differs by less is level or plumb on paper


def place(p: Point) -> str:
    return f"{p[0]:.0f} | {p[1]:.0f}"


def step_words(step: Step, placing: Placing, called: Callable[[str | None], str]) -> str:
    """What to draw and its numbers: where its ends lie in mm from the sheet's left and top, its tilt, its length."""
    form = called(step.form)
    of = f" of {form}" if form else ""
    doubt = " Its sighting is off: check it first." if step.verdict is Verdict.OFF else ""
    p, q = step.p or (0.0, 0.0), step.q or (0.0, 0.0)
    long = "" if step.long_mm is None or step.units is None else f"{step.long_mm:.0f} mm, {step.units:.2f} units"
    match step.kind:
        case StepKind.LIMITS:
            return f"Mark the four limits: left {p[0]:.0f}, right {q[0]:.0f}, top {p[1]:.0f}, bottom {q[1]:.0f} mm."
        case StepKind.ANCHOR:
            return f"Anchor line: lightly across, {p[1]:.0f} mm down, where the near upright will stand."
        case StepKind.EYE_LEVEL:
            return eye_level_step(placing)
        case StepKind.NEAR_UPRIGHT:
            unit = "the unit, " if step.units is not None and abs(step.units - 1.0) < A_UNIT else ""
            return f"Near upright{of}: {unit}{long}, from {place(p)} down to {place(q)}.{doubt}"
        case StepKind.RECEDING:
            tilt = "" if step.tilt_deg is None else f"tilt {signed(step.tilt_deg)}, "
            return f"{family_word(step.family)} edge{of} from {place(p)}: {tilt}{long}, to {place(q)}.{doubt}"
        case StepKind.FAR_UPRIGHT:
            return f"Far upright{of}: {long}, from {place(p)} down to {place(q)}.{doubt}"
        case StepKind.DIAGONALS:
            return f"Check the {family_word(step.family).lower()} side{of}: its diagonals cross at {place(step.crossing or p)}, its middle as drawn."
        case StepKind.AXIS:
            return f"Centre axis{of}: from {place(p)} to {place(q)}, {long}."
        case StepKind.RIM:
            return (
                f"Rim{of} on its axis: middle at {place(step.centre or p)}, {step.major_mm or 0.0:.0f} mm wide and {step.minor_mm or 0.0:.0f} deep, "
                f"minor axis {signed(step.tilt_deg or 0.0)}.{doubt}"
            )
    tilt = "" if step.tilt_deg is None else f"tilt {signed(step.tilt_deg)}, "
    what = "Height" if step.family is None else f"{family_word(step.family)} edge"
    return f"{what}{of}: {tilt}{long}, from {place(p)} to {place(q)}.{doubt}"


def family_word(family: Family | None) -> str:
    return "" if family is None else family.value.capitalize()


def eye_level_step(placing: Placing) -> str:
    assert placing.eye_level is not None
    left, right = placing.eye_level
    high = placing.sheet.high
    if max(left, right) < 0:
        return f"Eye level lies {-max(left, right):.0f} mm above the sheet: note it at the top."
    if min(left, right) > high:
        return f"Eye level lies {min(left, right) - high:.0f} mm below the sheet: note it at the foot."
    where = f"{left:.0f} mm down" if abs(left - right) < EVEN_MM else f"from {left:.0f} mm down at the left side to {right:.0f} at the right"
    view = "" if placing.view is None or placing.view not in VIEWS else f": {VIEWS[placing.view]}"
    return f"Eye level, lightly right across, {where}{view}."


def plan_point_words(p: PointOnPaper, form: str) -> str:
    """Where a vanishing point falls from the sheet's edge, and how to aim at it."""
    who = f"{family_word(p.point.family)} VP{f' of {form}' if form else ''}"
    if p.at is None or p.off_mm is None:
        return f"{who}: nothing converges; every line of it is parallel."
    spread = "" if p.sd_mm is None else f" ± {p.sd_mm / 10:.0f} cm"
    if p.off_mm <= 0:
        return f"{who}: on the sheet, at {place(p.at)}{spread}."
    off = f"{p.off_mm / 10:.1f} cm beyond the {p.side} edge{spread}"
    return f"{who}: {off}. Pin it beside the board." if p.in_reach else f"{who}: {off}, out of reach. Use the edge scales or the tilt table."


def warning_words(w: Warned) -> str:
    sides = listed(list(w.sides))
    match w.leaves:
        case Leaves.SHEET:
            return f"The drawing leaves the sheet by {w.by_mm:.0f} mm at the {sides}: take a larger sheet, or a shorter near upright."
        case Leaves.MARGINS:
            return f"The drawing runs {w.by_mm:.0f} mm into the margin at the {sides}."
    return f"The drawing reaches {w.by_mm:.0f} mm beyond the 60° cone of vision at the {sides}: it will look stretched there. Step back, or leave that out."


def open_side_words(sides: tuple[Side, ...]) -> str:
    names = listed([side.value for side in sides])
    return f"No width was compared on the {names}: its far upright is left open. Compare it on the card, and the plan shows it."
