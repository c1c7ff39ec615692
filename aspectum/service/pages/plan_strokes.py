"""What is drawn on a printed plan, in mm on the sheet, whatever it is then written as."""

from __future__ import annotations

import math
from dataclasses import dataclass

from aspectum.core.plan.lay_in import StepKind
from aspectum.formats.exports import LETTER
from aspectum.formats.plan import OnPaper, Plan, PlanStep
from aspectum.language import say

FAINT, LIGHT, PLAIN = "#d5dad6", "#a9b4b0", "#6f7b78"  # light enough to draw on
THIN, THICK = 0.18, 0.36  # mm; two weights, 1 : 2 (ISO 128-2:2020)
BAR_MM = 100.0  # the check bar
BAR_INSET = 5.0  # from the sheet's edge
TICK_MM = 9.0  # along the ruler's line, so that a ruler can be laid on it where a printer leaves the edge white
NUMBER_MM = 2.4


@dataclass(frozen=True)
class Stroke:
    """A straight line."""

    p: OnPaper
    q: OnPaper
    weight: float = THIN
    ink: str = LIGHT
    dash: tuple[float, ...] = ()


@dataclass(frozen=True)
class Ring:
    """An ellipse of full axes, its minor axis at ``axis_deg`` (a tilt)."""

    centre: OnPaper
    major: float
    minor: float
    axis_deg: float
    weight: float = THIN
    ink: str = LIGHT


@dataclass(frozen=True)
class Word:
    """Text that begins at a place, ends there (``end``), or stands on its middle."""

    at: OnPaper
    text: str
    size: float = NUMBER_MM
    anchor: str = "start"
    ink: str = PLAIN


Mark = Stroke | Ring | Word


def strokes_of(plan: Plan, fans: bool = False) -> list[Mark]:
    """Everything on the sheet: limits, anchor line, eye level, edge scales, points that lie on it, the lay-in by its
    numbers, the check bar.
    """
    wide, high = plan.paper_mm
    drawn: list[Mark] = []
    if fans:
        drawn += [Stroke(p, q, THIN, FAINT) for table in plan.tilts for p, q in table.fan]
    drawn += limits(plan)
    level = plan.eye_level_mm
    if level is not None and not (max(level.left, level.right) < 0 or min(level.left, level.right) > high):
        drawn.append(Stroke((0.0, level.left), (wide, level.right), THICK, LIGHT, (6.0, 2.0)))
        drawn.append(Word((wide - 3.0, level.right - 1.2), say("eye level"), NUMBER_MM, "end"))
    drawn += edge_scales(plan)
    for v in plan.vanishing_points:
        if v.x_mm is not None and v.y_mm is not None and 0 <= v.x_mm <= wide and 0 <= v.y_mm <= high:
            drawn += [
                Stroke((v.x_mm - 2, v.y_mm), (v.x_mm + 2, v.y_mm), THICK, PLAIN),
                Stroke((v.x_mm, v.y_mm - 2), (v.x_mm, v.y_mm + 2), THICK, PLAIN),
            ]
            drawn.append(Word((v.x_mm + 2.5, v.y_mm - 1.0), f"{LETTER[v.family]} VP"))
    for step in plan.steps:
        drawn += step_marks(step)
    return drawn + check_bar(wide, high)


def limits(plan: Plan) -> list[Mark]:
    """The four limits as long corners, and the anchor line."""
    box = plan.limits_mm
    reach = min(12.0, (box.right - box.left) / 4, (box.bottom - box.top) / 4)
    drawn: list[Mark] = []
    for x, inwards in ((box.left, 1.0), (box.right, -1.0)):
        for y, down in ((box.top, 1.0), (box.bottom, -1.0)):
            drawn += [Stroke((x, y), (x + inwards * reach, y), THICK), Stroke((x, y), (x, y + down * reach), THICK)]
    if plan.anchor_mm is not None:
        drawn.append(Stroke((box.left, plan.anchor_mm), (box.right, plan.anchor_mm), THIN, LIGHT, (1.0, 1.5)))
    return drawn


def edge_scales(plan: Plan) -> list[Mark]:
    """A tick at each end of every ruler's line, along that line, with its letter and number."""
    drawn: list[Mark] = []
    for scale in plan.edge_scales:
        letter = LETTER[scale.family]
        for mark in scale.marks:
            for here, there in ((mark.a, mark.b), (mark.b, mark.a)):
                run = math.dist(here, there)
                step = min(TICK_MM, run / 4) / run
                end = here[0] + step * (there[0] - here[0]), here[1] + step * (there[1] - here[1])
                drawn.append(Stroke(here, end, THICK if mark.number == 0 else THIN, PLAIN))
                rightwards = there[0] >= here[0]
                drawn.append(
                    Word(
                        (end[0] + (0.6 if rightwards else -0.6), end[1] + 0.8),
                        f"{letter}{mark.number}".replace("-", "−"),
                        2.0,
                        "start" if rightwards else "end",
                    )
                )
    return drawn


def step_marks(step: PlanStep) -> list[Mark]:
    number = str(step.number)
    if step.step in (StepKind.LIMITS, StepKind.ANCHOR, StepKind.EYE_LEVEL):
        return []
    if step.centre_mm is not None and step.major_mm is not None and step.minor_mm is not None:
        ring = Ring(step.centre_mm, step.major_mm, step.minor_mm, step.tilt_deg or 90.0)
        return [ring, Word(step.centre_mm, number, NUMBER_MM, "middle")]
    if step.p_mm is None or step.q_mm is None:
        return []
    if step.crossing_mm is not None:
        x, y = step.crossing_mm
        return [
            Stroke((x - 1.5, y - 1.5), (x + 1.5, y + 1.5)),
            Stroke((x - 1.5, y + 1.5), (x + 1.5, y - 1.5)),
            Word((x + 2.2, y + 0.8), number),
        ]
    middle = (step.p_mm[0] + step.q_mm[0]) / 2, (step.p_mm[1] + step.q_mm[1]) / 2
    dash = (2.0, 1.0, 0.4, 1.0) if step.step is StepKind.AXIS else ()
    weight = THICK if step.step is StepKind.NEAR_UPRIGHT else THIN
    return [Stroke(step.p_mm, step.q_mm, weight, LIGHT, dash), Word((middle[0] + 1.0, middle[1] - 1.0), number)]


def check_bar(wide: float, high: float) -> list[Mark]:
    """100 mm along the foot of the sheet, or up its side where it is too narrow for that."""
    said = say("100 mm: measure this bar after printing")
    if wide >= BAR_MM + 2 * BAR_INSET:
        y, x = high - BAR_INSET, (wide - BAR_MM) / 2
        ends = [Stroke((x + d, y - 1.5), (x + d, y + 1.5), THICK, PLAIN) for d in (0.0, BAR_MM)]
        return [
            Stroke((x, y), (x + BAR_MM, y), THICK, PLAIN),
            *ends,
            Word((x + BAR_MM / 2, y - 2.0), said, 2.2, "middle"),
        ]
    x, y = BAR_INSET, (high - BAR_MM) / 2
    ends = [Stroke((x - 1.5, y + d), (x + 1.5, y + d), THICK, PLAIN) for d in (0.0, BAR_MM)]
    return [Stroke((x, y), (x, y + BAR_MM), THICK, PLAIN), *ends, Word((x + 2.0, y + BAR_MM + 3.0), said, 2.2)]
