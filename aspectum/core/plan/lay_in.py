"""The order in which a subject is laid in, each step with its numbers on the paper (common practice; handbook section
7a).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from aspectum.core.plan.placing import Placing
from aspectum.core.plan.subject import Line, RoundRim, Subject
from aspectum.core.plane.lines import tilt_deg
from aspectum.core.sightings import Family, Point
from aspectum.core.tolerance import Verdict

JOINS = 0.06  # of the near upright: an edge that starts this near to one of its ends starts there
MEETS = 0.12  # of the same: far ends this near to an upright belong to it


class StepKind(StrEnum):
    """What a step of the lay-in draws."""

    LIMITS = "limits"
    ANCHOR = "anchor line"
    EYE_LEVEL = "eye level"
    NEAR_UPRIGHT = "near upright"
    RECEDING = "receding edge"
    FAR_UPRIGHT = "far upright"
    DIAGONALS = "diagonals"
    RIM = "rim"
    AXIS = "axis"
    REST = "the rest"


@dataclass(frozen=True)
class Step:
    """One step, mm on the paper. ``units``: its length in near uprights; ``centre``, ``major_mm``, ``minor_mm``: of a
    rim, whose minor axis tilts by ``tilt_deg``; ``crossing``: where diagonals cross; ``verdict``: of the sighting that
    it was drawn from.
    """

    kind: StepKind
    form: str | None = None
    family: Family | None = None
    sighting: str | None = None
    p: Point | None = None
    q: Point | None = None
    tilt_deg: float | None = None
    long_mm: float | None = None
    units: float | None = None
    centre: Point | None = None
    major_mm: float | None = None
    minor_mm: float | None = None
    crossing: Point | None = None
    verdict: Verdict | None = None


def lay_in(placing: Placing, subject: Subject) -> list[Step]:
    """Limits, anchor line, eye level, then form by form, the nearest first: its near upright, the edges that recede
    from it, far uprights, a check by diagonals; then rims on their axes, and the rest.
    """
    left, top, right, bottom = placing.limits
    steps = [Step(StepKind.LIMITS, p=(left, top), q=(right, bottom))]
    if placing.anchor_y is not None:
        steps.append(Step(StepKind.ANCHOR, p=(left, placing.anchor_y), q=(right, placing.anchor_y)))
    if placing.eye_level is not None:
        p, q = (0.0, placing.eye_level[0]), (placing.sheet.wide, placing.eye_level[1])
        steps.append(Step(StepKind.EYE_LEVEL, p=p, q=q, tilt_deg=float(tilt_deg(p, q))))
    drawn: list[Line] = []
    for near in subject.near_uprights.values():
        receding = [line for line in subject.lines if line.form == near.form and recedes(line) and joined(line, near)]
        far = [
            line for line in subject.lines if line.form == near.form and line.family is Family.UPRIGHT and line != near
        ]
        steps.append(edge_step(StepKind.NEAR_UPRIGHT, near, placing, subject))
        steps += [edge_step(StepKind.RECEDING, line, placing, subject) for line in receding]
        steps += [edge_step(StepKind.FAR_UPRIGHT, line, placing, subject) for line in far]
        steps += diagonals_of(near, receding, placing, subject)
        drawn += [near, *receding, *far]
    steps += rim_steps(placing, subject)
    steps += [edge_step(StepKind.REST, line, placing, subject) for line in subject.lines if line not in drawn]
    return steps


def recedes(line: Line) -> bool:
    return line.family is not None and line.family is not Family.UPRIGHT


def joined(line: Line, near: Line) -> bool:
    """Whether a line starts on the near upright, between its ends or at one."""
    (x0, y0), (x1, y1) = near.p, near.q
    dx, dy = x1 - x0, y1 - y0
    along = min(max(((line.p[0] - x0) * dx + (line.p[1] - y0) * dy) / max(dx * dx + dy * dy, 1e-12), 0.0), 1.0)
    return math.dist(line.p, (x0 + along * dx, y0 + along * dy)) <= JOINS * near.long


def edge_step(kind: StepKind, line: Line, placing: Placing, subject: Subject) -> Step:
    p, q = placing.at(line.p), placing.at(line.q)
    tilt = float(tilt_deg(p, q)) if math.dist(p, q) > 0 else None
    return Step(
        kind,
        line.form,
        line.family,
        line.sighting,
        p,
        q,
        tilt,
        math.dist(p, q),
        line.long / subject.unit,
        verdict=line.verdict,
    )


def diagonals_of(near: Line, receding: list[Line], placing: Placing, subject: Subject) -> list[Step]:
    """For each side whose top and bottom edges both start at the near upright: where its diagonals cross, its middle in
    perspective.
    """
    found = []
    for family in dict.fromkeys(line.family for line in receding):
        mine = [line for line in receding if line.family is family]
        tops = [line for line in mine if math.dist(line.p, near.p) <= JOINS * near.long]
        feet = [line for line in mine if math.dist(line.p, near.q) <= JOINS * near.long]
        if not tops or not feet:
            continue
        top, foot = tops[0], feet[0]
        if abs(top.q[0] - foot.q[0]) > MEETS * near.long:
            continue
        at = crossing(near.p, foot.q, near.q, top.q)
        if at is not None:
            found.append(
                Step(
                    StepKind.DIAGONALS,
                    near.form,
                    family,
                    None,
                    placing.at(near.p),
                    placing.at(foot.q),
                    crossing=placing.at(at),
                )
            )
    return found


def crossing(a: Point, b: Point, c: Point, d: Point) -> Point | None:
    """Where the lines a–b and c–d cross; None where they run parallel."""
    run, other = (b[0] - a[0], b[1] - a[1]), (d[0] - c[0], d[1] - c[1])
    turn = run[0] * other[1] - run[1] * other[0]
    if abs(turn) < 1e-12:
        return None
    along = ((c[0] - a[0]) * other[1] - (c[1] - a[1]) * other[0]) / turn
    return a[0] + along * run[0], a[1] + along * run[1]


def rim_steps(placing: Placing, subject: Subject) -> list[Step]:
    """Each form's axis through the middles of its rims first, then the rims, the top one first."""
    steps = []
    for form in dict.fromkeys(rim.form for rim in subject.rims):
        mine = sorted((rim for rim in subject.rims if rim.form == form), key=lambda rim: rim.ellipse.centre_px[1])
        if len(mine) > 1:
            p, q = (placing.at(rim.ellipse.centre_px) for rim in (mine[0], mine[-1]))
            steps.append(
                Step(
                    StepKind.AXIS,
                    form,
                    None,
                    None,
                    p,
                    q,
                    float(tilt_deg(p, q)),
                    math.dist(p, q),
                    math.dist(p, q) / placing.scale / subject.unit,
                )
            )
        steps += [rim_step(rim, placing, subject) for rim in mine]
    return steps


def rim_step(rim: RoundRim, placing: Placing, subject: Subject) -> Step:
    e = rim.ellipse
    return Step(
        StepKind.RIM,
        rim.form,
        None,
        rim.sighting,
        tilt_deg=e.axis_deg,
        long_mm=e.major_px * placing.scale,
        units=e.major_px / subject.unit,
        centre=placing.at(e.centre_px),
        major_mm=e.major_px * placing.scale,
        minor_mm=e.minor_px * placing.scale,
        verdict=rim.verdict,
    )
