"""Where the drawing sits on the paper: scale, the four limits, eye level, and what that makes the view (handbook
sections 1, 4, 7a).

Places on paper are millimetres from the sheet's top-left corner, x right, y down.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from aspectum.core.aids.standpoint import ViewKind, view_by_share
from aspectum.core.plan.subject import NoPlan, Subject
from aspectum.core.sightings import Point

LEAST_FREE_MM = 10.0  # of paper between the margins, or there is no room to draw


@dataclass(frozen=True)
class Sheet:
    """A sheet of paper and how it is to be used, mm. ``place``: where in the room that is left over the drawing sits, 0
    to 1 from the left and from the top; ``unit_mm``: how long the near upright is wanted, None for the largest drawing
    that fits.
    """

    wide: float
    high: float
    margin: float = 20.0
    unit_mm: float | None = None
    place: tuple[float, float] = (0.5, 0.5)


class Leaves(StrEnum):
    """What a drawing leaves."""

    SHEET = "sheet"
    MARGINS = "margins"
    CONE = "cone"


@dataclass(frozen=True)
class Warned:
    """The drawing leaves the sheet, its margins or the cone of vision, by ``by_mm`` at most, on ``sides``."""

    leaves: Leaves
    by_mm: float
    sides: tuple[str, ...]


@dataclass(frozen=True)
class Placing:
    """``scale``: mm for every step of the subject's own coordinates; ``at_nought``: where their origin falls."""

    sheet: Sheet
    scale: float
    at_nought: Point
    limits: tuple[float, float, float, float]
    anchor_y: float | None
    eye_level: tuple[float, float] | None
    view: ViewKind | None
    warnings: tuple[Warned, ...]

    def at(self, place: Point) -> Point:
        return self.at_nought[0] + self.scale * place[0], self.at_nought[1] + self.scale * place[1]


def place_on(sheet: Sheet, subject: Subject) -> Placing:
    """Lay the subject out on the sheet. Raises ``NoPlan`` where the margins leave no room."""
    free_wide, free_high = sheet.wide - 2 * sheet.margin, sheet.high - 2 * sheet.margin
    if free_wide < LEAST_FREE_MM or free_high < LEAST_FREE_MM:
        raise NoPlan(
            f"Margins of {sheet.margin:g} mm leave no room on a sheet of {sheet.wide:g} × {sheet.high:g} mm: take "
            "narrower ones."
        )
    left, top, right, bottom = subject.extent
    wide, high = right - left, bottom - top
    scale = min(free_wide / wide if wide > 0 else float("inf"), free_high / high if high > 0 else float("inf"))
    if sheet.unit_mm is not None:
        scale = sheet.unit_mm / subject.unit
    x = sheet.margin + share_of(free_wide - wide * scale, sheet.place[0])
    y = sheet.margin + share_of(free_high - high * scale, sheet.place[1])
    at_nought = x - left * scale, y - top * scale
    limits = x, y, x + wide * scale, y + high * scale
    level = subject.level
    eye_level, view = None, None
    if level is not None:
        ends = [(0.0 - at_nought[0]) / scale, (sheet.wide - at_nought[0]) / scale]
        eye_level = at_nought[1] + scale * level.at(ends[0]), at_nought[1] + scale * level.at(ends[1])
        view = view_by_share((eye_level[0] + eye_level[1]) / 2 / sheet.high, drawn=True)
    first = subject.first
    anchor = None if first is None else at_nought[1] + scale * first.q[1]
    placing = Placing(sheet, scale, at_nought, limits, anchor, eye_level, view, ())
    return Placing(sheet, scale, at_nought, limits, anchor, eye_level, view, tuple(warnings_of(placing, subject)))


def share_of(left_over: float, share: float) -> float:
    """Room to one side of the drawing; a drawing larger than the room stands over it evenly."""
    return left_over * (share if left_over >= 0 else 0.5)


SIDES = ("left", "top", "right", "bottom")
ROUNDING_MM = 1e-6  # of arithmetic; nothing on paper is this small
TOLD_MM = 1.0  # beyond the cone that is worth a word


def warnings_of(placing: Placing, subject: Subject) -> list[Warned]:
    sheet, limits = placing.sheet, placing.limits
    found = []
    for leaves, margin in ((Leaves.SHEET, 0.0), (Leaves.MARGINS, sheet.margin)):
        over = (
            margin - limits[0],
            margin - limits[1],
            limits[2] - (sheet.wide - margin),
            limits[3] - (sheet.high - margin),
        )
        if max(over) > ROUNDING_MM:
            found.append(
                Warned(leaves, max(over), tuple(side for side, by in zip(SIDES, over, strict=True) if by > ROUNDING_MM))
            )
            break
    if subject.cone is not None and subject.centre is not None:
        beyond = dict.fromkeys(SIDES, 0.0)
        for place in subject.ends:
            x, y = place[0] - subject.centre[0], place[1] - subject.centre[1]
            out = (math.hypot(x, y) - subject.cone) * placing.scale
            side = ("left" if x < 0 else "right") if abs(x) >= abs(y) else ("top" if y < 0 else "bottom")
            beyond[side] = max(beyond[side], out)
        if max(beyond.values()) > TOLD_MM:
            found.append(
                Warned(Leaves.CONE, max(beyond.values()), tuple(side for side, by in beyond.items() if by > TOLD_MM))
            )
    return found
