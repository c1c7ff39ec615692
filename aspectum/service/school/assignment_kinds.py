"""The kinds of assignment that Aspectum brings along: the usual exercises (handbook section 8), each to be edited
before it is set.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from aspectum.core.stand.kinds import Wall
from aspectum.formats.stand import (
    AnyStandThing,
    BoxThing,
    BuildingThing,
    CylinderThing,
    OpeningPart,
    RampThing,
    StandFile,
    StandView,
)
from aspectum.language import Text, say


class AssignmentKind(StrEnum):
    STACKED_BOXES = "stacked boxes"
    TEN_ROUNDS = "ten rounds"
    TWO_CUBES = "two cubes"
    THREE_VIEWS = "three views"
    BUILDING = "building from a photo"
    PLAN_AND_ELEVATIONS = "plan and elevations"
    TURNED_TIN = "turned tin"
    FROM_LIFE = "from life"
    FREE = "free"


class Subject(StrEnum):
    """What is drawn: a photo or a set-up of the tutor's, or whatever the student finds."""

    PHOTO = "photo"
    STAND = "stand"
    OWN = "own"


class HandInPart(StrEnum):
    """What is handed in. A critique comes of a drawing that was sighted."""

    SIGHTINGS = "sightings"
    DRAWING = "drawing"
    CRITIQUE = "critique"
    NOTE = "note"


@dataclass(frozen=True)
class Template:
    """A kind as it is before the tutor changes it. ``minutes``: None where it is not timed."""

    title: Text
    words: Text
    subject: Subject
    hand_in: tuple[HandInPart, ...]
    minutes: float | None = None


SIGHTED = (HandInPart.SIGHTINGS, HandInPart.NOTE)
DRAWN = (HandInPart.SIGHTINGS, HandInPart.DRAWING, HandInPart.CRITIQUE, HandInPart.NOTE)
TEMPLATES: dict[AssignmentKind, Template] = {
    AssignmentKind.STACKED_BOXES: Template(
        Text("Seven boxes, stacked"),
        Text(
            "Set eye level on the sheet first, then the nearest upright as the unit. Judge every edge before you "
            "sight it: seven boxes, seven pairs of vanishing points, one eye level."
        ),
        Subject.STAND,
        DRAWN,
    ),
    AssignmentKind.TEN_ROUNDS: Template(
        Text("Ten rounds, axes shown"),
        Text(
            "Draw each axis before its rims, and each rim's widest line square to it. The lower a rim lies under eye "
            "level, the rounder it is."
        ),
        Subject.STAND,
        DRAWN,
    ),
    AssignmentKind.TWO_CUBES: Template(
        Text("Two cubes, above and below eye level"),
        Text(
            "One cube is seen from below, one from above. Judge which way every edge runs before you sight how steeply."
        ),
        Subject.STAND,
        SIGHTED,
    ),
    AssignmentKind.THREE_VIEWS: Template(
        Text("The three views"),
        Text(
            "Draw plan, front and side of the set-up to one scale, so that every corner stands above and beside itself."
        ),
        Subject.STAND,
        (HandInPart.DRAWING, HandInPart.NOTE),
    ),
    AssignmentKind.BUILDING: Template(
        Text("A building from a photo"),
        Text(
            "Find eye level from the edges before you draw. Compare every length with the nearest upright, overall "
            "height to width first."
        ),
        Subject.PHOTO,
        DRAWN,
    ),
    AssignmentKind.PLAN_AND_ELEVATIONS: Template(
        Text("From plan and elevations"),
        Text(
            "Construct the building as it is seen, from its plan, front and side. Then compare with the view on the "
            "stand."
        ),
        Subject.STAND,
        (HandInPart.DRAWING, HandInPart.NOTE),
    ),
    AssignmentKind.TURNED_TIN: Template(
        Text("Turn a tin through eight poses"),
        Text(
            "Eight poses of one tin, from standing to end on: the axis first, then the rims square to it, the nearer "
            "one less round."
        ),
        Subject.STAND,
        (HandInPart.DRAWING, HandInPart.NOTE),
    ),
    AssignmentKind.FROM_LIFE: Template(
        Text("From life, with the card"),
        Text(
            "A box in front of you: the near upright is the unit, then the tilts at its two ends on the card. Hold "
            "the arm straight."
        ),
        Subject.OWN,
        SIGHTED,
    ),
    AssignmentKind.FREE: Template(Text("Free"), Text(""), Subject.OWN, SIGHTED),
}


def set_up(kind: AssignmentKind) -> StandFile | None:
    """A set-up to draw, for the kinds that are about one; the tutor may change it on the stand."""
    made = SET_UPS.get(kind)
    if made is None:
        return None
    things, view = made()
    return StandFile(title=str(TEMPLATES[kind].title), view=view, things=things)


def _stacked_boxes() -> tuple[list[AnyStandThing], StandView]:
    rows = [(0.0, 0.0, None, 24.0), (0.62, -0.1, None, -12.0), (-0.6, -0.14, None, 48.0), (0.05, 0.02, "box-1", 38.0)]
    rows += [(0.6, -0.08, "box-2", 6.0), (0.08, 0.04, "box-4", 14.0), (0.0, -0.03, "box-6", 62.0)]
    things: list[AnyStandThing] = [
        BoxThing(
            id=f"box-{n}",
            kind="box",
            name=f"Box {n}",
            at_m=(x, y),
            on=on,
            turn_deg=turn,
            size_m=(0.5 - 0.03 * (n // 4), 0.36 - 0.02 * (n // 4), 0.26),
        )
        for n, (x, y, on, turn) in enumerate(rows, 1)
    ]
    return things, StandView(eye_m=(0.2, -2.7, 1.2), pitch_deg=-13.0, focal_35mm=38.0)


def _ten_rounds() -> tuple[list[AnyStandThing], StandView]:
    things: list[AnyStandThing] = []
    for n in range(10):
        row, place = divmod(n, 5)
        radius = (0.09, 0.13, 0.07, 0.11, 0.1)[(place + row) % 5]
        height = (0.16, 0.3, 0.42, 0.22, 0.34)[(2 * place + row) % 5]
        at = (0.36 * (place - 2) + 0.18 * row, 0.75 * row)
        things.append(
            CylinderThing(
                id=f"round-{n + 1}",
                kind="cylinder",
                name=say("Round {number}", number=n + 1),
                at_m=at,
                radius_m=radius,
                height_m=height,
            )
        )
    return things, StandView(eye_m=(0.05, -1.9, 1.15), pitch_deg=-25.0, focal_35mm=42.0)


def _two_cubes() -> tuple[list[AnyStandThing], StandView]:
    things: list[AnyStandThing] = [
        BoxThing(
            id="below", kind="box", name=say("Cube below"), at_m=(-0.55, 0.0), turn_deg=34.0, size_m=(0.5, 0.5, 0.5)
        ),
        BoxThing(
            id="above",
            kind="box",
            name=say("Cube above"),
            at_m=(0.55, 0.1),
            base_m=1.6,
            turn_deg=-22.0,
            size_m=(0.5, 0.5, 0.5),
        ),
    ]
    return things, StandView(eye_m=(0.0, -3.1, 1.05), focal_35mm=32.0)


def _three_views() -> tuple[list[AnyStandThing], StandView]:
    things: list[AnyStandThing] = [
        BoxThing(id="base", kind="box", name="Base", size_m=(0.8, 0.5, 0.25)),
        BoxThing(id="top", kind="box", name="Top", at_m=(-0.2, 0.0), base_m=0.25, size_m=(0.4, 0.5, 0.25)),
        RampThing(id="ramp", kind="ramp", name="Ramp", at_m=(0.2, 0.0), base_m=0.25, size_m=(0.4, 0.5, 0.25)),
    ]
    return things, StandView(eye_m=(-1.2, -1.7, 1.15), heading_deg=35.0, pitch_deg=-21.0, focal_35mm=45.0)


def _building() -> tuple[list[AnyStandThing], StandView]:
    openings = [
        OpeningPart(wall=Wall.FRONT, from_left_m=1.0, width_m=1.1, height_m=2.1),
        OpeningPart(wall=Wall.FRONT, from_left_m=3.4, sill_m=0.9, width_m=1.4, height_m=1.2),
        OpeningPart(wall=Wall.LEFT, from_left_m=1.2, sill_m=0.9, width_m=1.2, height_m=1.2),
    ]
    hut = BuildingThing(id="hut", kind="building", name="Hut", size_m=(6.0, 4.0, 3.0), rise_m=1.8, openings=openings)
    return [hut], StandView(eye_m=(-6.0, -8.5, 1.6), heading_deg=36.0, pitch_deg=3.0, focal_35mm=32.0)


def _tin() -> tuple[list[AnyStandThing], StandView]:
    things: list[AnyStandThing] = [
        CylinderThing(
            id=f"tin-{k + 1}",
            kind="cylinder",
            name=say("Pose {number}", number=k + 1),
            at_m=(0.55 * (k % 4 - 1.5), 1.0 * (k // 4)),
            base_m=0.16 * math.sin(math.radians(90.0 * k / 7)),
            radius_m=0.12,
            height_m=0.28,
            lean_deg=90.0 * k / 7,
            turn_deg=40.0,
        )
        for k in range(8)
    ]
    return things, StandView(eye_m=(0.0, -2.3, 1.5), pitch_deg=-27.0, focal_35mm=36.0)


SET_UPS = {
    AssignmentKind.STACKED_BOXES: _stacked_boxes,
    AssignmentKind.TEN_ROUNDS: _ten_rounds,
    AssignmentKind.TWO_CUBES: _two_cubes,
    AssignmentKind.THREE_VIEWS: _three_views,
    AssignmentKind.PLAN_AND_ELEVATIONS: _building,
    AssignmentKind.TURNED_TIN: _tin,
}
