"""The model stand: set-ups kept, drawn exactly, seen from views to begin with, and built up step by step."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from pydantic import Field

from aspectum.core.stand.drawn_on import Hand
from aspectum.core.stand.kinds import Parallel
from aspectum.core.stand.presets import Preset
from aspectum.core.stand.turning import MOST_POSES, About
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import Id
from aspectum.formats.stand import AnyStandThing, StandDrawing, StandFile, StandSteps, StandView, Three
from aspectum.formats.stand_shown import DrawnElevations, StandElevations, StandSolids, StandTurning
from aspectum.service.sheets import pictures
from aspectum.service.sheets.from_stand import draw_from as draw_from_stand
from aspectum.service.stand import stands
from aspectum.service.stand.elevations import stand_elevations
from aspectum.service.stand.from_format import (
    drawn,
    sheet_of_stand,
    stand_drawing,
    stand_steps,
    stand_view,
    stepped_view,
)
from aspectum.service.stand.solids import stand_solids
from aspectum.service.stand.things import new_thing
from aspectum.service.stand.turning import stand_turning
from aspectum.store.models import StandRow
from aspectum.web.api.base import Mark, Message, computed, feature, work
from aspectum.web.api.sheets import SaveOver, SheetLine
from aspectum.web.routes import CHANGES_STAND, OWN_WORK, READS_STAND, Queue

routes = feature("stands")


class SetUp(Message):
    """``page``: as a check's."""

    document: StandFile
    page: Mark | None = None


class SetUpView(SetUp):
    preset: Preset | Parallel


class SetUpStep(SetUp):
    """Nearer or farther: ``share`` of the eye's distance to ``thing``, or to the middle of all; ``same_size``: with the
    lens that keeps its size.
    """

    share: float = Field(gt=0.01, lt=100)
    same_size: bool = False
    thing: Id | None = None


class SetUpThing(SetUp):
    thing: Id = Field(description="Whose construction is asked for.")


class SetUpKind(SetUp):
    kind: str
    of: Id | None = Field(default=None, description="The thing that a section goes through.")


class NewThing(Message):
    thing: AnyStandThing


class SetUpTurning(SetUpThing):
    poses: int = Field(default=8, ge=2, le=MOST_POSES)
    about: About = About.UPRIGHT
    seen_from_deg: float = Field(default=20.0, ge=0, le=90)


class ElevationsAsked(Message):
    """``drawn``: what the thing is to be made from; without it the thing is shown as it is. ``by`` and ``held``: the
    elevation and the point in hand.
    """

    thing: AnyStandThing
    drawn: DrawnElevations | None = None
    by: Literal["front", "side"] | None = None
    held: int | None = Field(default=None, ge=0)
    grid_m: float | None = Field(default=None, gt=0, le=100)
    symmetrical: list[Literal["front", "side"]] = Field(default_factory=list, max_length=2)
    divisions: Literal["halves", "thirds", "quarters"] | None = None
    bays: int | None = Field(default=None, ge=2, le=40)
    typed: Three | None = Field(default=None, description="Sizes typed: outlines are drawn out or in to them.")


class StandLine(Message):
    """A set-up as the list shows it."""

    id: str
    title: str
    things: int
    revision: int
    updated_at: datetime

    @classmethod
    def of(cls, row: StandRow) -> StandLine:
        return cls(
            id=row.id,
            title=row.title,
            things=len(row.document.get("things", [])),
            revision=row.revision,
            updated_at=row.updated_at,
        )


class StandList(Message):
    stands: list[StandLine]


class StandFull(Message):
    """A set-up with its exact drawing."""

    id: str
    revision: int
    updated_at: datetime
    document: StandFile
    drawing: StandDrawing
    last_save: str | None = None


class NewStand(Message):
    """Without a document, one box to begin with."""

    document: StandFile | None = None


class SaveStand(SaveOver):
    document: StandFile


class StandSaved(Message):
    revision: int
    updated_at: datetime
    drawing: StandDrawing


@routes.get("/stands", OWN_WORK, "listStands", StandList)
def list_stands() -> StandList:
    """All set-ups, the last touched first."""
    with work() as (session, person):
        return StandList(stands=[StandLine.of(row) for row in stands.list_stands(session, person)])


@routes.post("/stands", OWN_WORK, "makeStand", StandLine)
def make_stand(json: NewStand) -> StandLine:
    """A new set-up. One that cannot be drawn is refused."""
    if json.document is not None:
        drawn(json.document)
    with work() as (session, person):
        return StandLine.of(stands.make_stand(session, person, json.document))


@routes.get("/stands/<stand_id>", READS_STAND, "readStand", StandFull, queue=Queue.OPENS)
def read_one_stand(stand_id: str) -> StandFull:
    """A set-up with its exact drawing."""
    with work() as (session, person):
        row = stands.stand_row(session, person, stand_id)
        document = stands.file_of(row)
    drawing = computed(stand_drawing, document)
    return StandFull(
        id=row.id,
        revision=row.revision,
        updated_at=row.updated_at,
        document=document,
        drawing=drawing,
        last_save=row.last_save,
    )


@routes.put("/stands/<stand_id>", CHANGES_STAND, "saveStand", StandSaved, stale=True, queue=Queue.SAVE)
def save_stand(stand_id: str, json: SaveStand) -> StandSaved:
    """Save over the revision that the change was made on. A set-up that cannot be drawn is refused, and the one before
    stays.
    """
    drawing = computed(stand_drawing, json.document)
    with work() as (session, person):
        row = stands.save_stand(session, person, stand_id, json.revision, json.document, json.save, json.unanswered)
        return StandSaved(revision=row.revision, updated_at=row.updated_at, drawing=drawing)


@routes.delete("/stands/<stand_id>", CHANGES_STAND, "deleteStand", None)
def delete_stand(stand_id: str) -> tuple[str, int]:
    """Put a set-up aside."""
    with work() as (session, person):
        stands.delete_stand(session, person, stand_id)
    return "", 204


@routes.post("/stands/<stand_id>/restore", CHANGES_STAND, "restoreStand", StandLine)
def restore_stand(stand_id: str) -> StandLine:
    """Bring a set-up back that was put aside."""
    with work() as (session, person):
        return StandLine.of(stands.restore_stand(session, person, stand_id))


@routes.post("/stands/<stand_id>/duplicate", CHANGES_STAND, "duplicateStand", StandLine)
def duplicate_stand(stand_id: str) -> StandLine:
    """A copy of a set-up."""
    with work() as (session, person):
        return StandLine.of(stands.duplicate_stand(session, person, stand_id))


class DrawFrom(Message):
    """The shaded view as a picture, kept before."""

    picture_id: str


@routes.post("/stands/<stand_id>/sheet", CHANGES_STAND, "drawFromStand", SheetLine)
def draw_from(stand_id: str, json: DrawFrom) -> SheetLine:
    """A sheet to sight on the shaded view of a set-up, whose truth is kept with it."""
    with work() as (session, person):
        picture = pictures.picture_of(session, person, json.picture_id)
        return SheetLine.of(draw_from_stand(session, person, stand_id, picture))


@routes.post("/stand/drawing", OWN_WORK, "drawStand", StandDrawing, queue=Queue.HAND, stores=False)
def draw_stand(json: SetUp) -> StandDrawing:
    """The exact drawing of a set-up in its view."""
    return computed(stand_drawing, json.document)


@routes.post("/stand/view", OWN_WORK, "viewStand", StandView, queue=Queue.HAND, stores=False)
def view_stand(json: SetUpView) -> StandView:
    """A view to begin with that shows the whole set-up."""
    return computed(stand_view, json.document, json.preset)


@routes.post("/stand/step", OWN_WORK, "stepInStand", StandView, queue=Queue.HAND, stores=False)
def step_nearer(json: SetUpStep) -> StandView:
    """The view from nearer or farther along the same line of sight."""
    return computed(stepped_view, json.document, json.share, json.same_size, json.thing)


@routes.post("/stand/solids", OWN_WORK, "solidsOfStand", StandSolids, queue=Queue.HAND, stores=False)
def solids(json: SetUp) -> StandSolids:
    """The surfaces of a set-up, to be shaded."""
    return computed(stand_solids, json.document)


@routes.post("/stand/thing", OWN_WORK, "newThing", NewThing, stores=False)
def thing_more(json: SetUpKind) -> NewThing:
    """One thing more, in keeping with what stands there and beside it."""
    return NewThing(thing=new_thing(json.document, json.kind, json.of))


@routes.post("/stand/elevations", OWN_WORK, "elevations", StandElevations, queue=Queue.HAND, stores=False)
def elevations(json: ElevationsAsked) -> StandElevations:
    """A thing in plan and elevations, made anew where something is drawn on them."""
    hand = Hand(json.by, json.grid_m, tuple(json.symmetrical), json.divisions, json.bays, json.held, json.typed)
    return computed(stand_elevations, json.thing, json.drawn, hand)


@routes.post("/stand/turning", OWN_WORK, "turning", StandTurning, queue=Queue.HAND, stores=False)
def turning(json: SetUpTurning) -> StandTurning:
    """A thing turned in the hand, its poses in one row."""
    return computed(stand_turning, json.document, json.thing, json.poses, json.about, json.seen_from_deg)


@routes.post("/stand/sheet", OWN_WORK, "sheetOfStand", SightingSheet, queue=Queue.HAND, stores=False)
def sheet(json: SetUp) -> SightingSheet:
    """The view as a sighting sheet, every edge and rim laid where it truly is."""
    return computed(sheet_of_stand, json.document)


@routes.post("/stand/steps", OWN_WORK, "stepsOfStand", StandSteps, queue=Queue.HAND, stores=False)
def construction_steps(json: SetUpThing) -> StandSteps:
    """The construction of one thing in the order of drawing, each step with its reason."""
    return computed(stand_steps, json.document, json.thing)
