"""The model stand: set-ups drawn exactly, views to begin with, and the construction of a thing step by step."""

from __future__ import annotations

from pydantic import Field
from spectree import Response as Answers

from aspectum.core.stand.presets import Preset
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import Id
from aspectum.formats.stand import StandDrawing, StandFile, StandSteps, StandView
from aspectum.service.stand import sheet_of_stand, stand_drawing, stand_steps, stand_view
from aspectum.web.api.base import Message, feature, spec

blueprint = feature("stands")


class SetUp(Message):
    document: StandFile


class SetUpView(SetUp):
    preset: Preset


class SetUpThing(SetUp):
    thing: Id = Field(description="Whose construction is asked for.")


@blueprint.post("/stand/drawing")
@spec.validate(resp=Answers(HTTP_200=StandDrawing), operation_id="drawStand")
def draw_stand(json: SetUp) -> StandDrawing:
    """The exact drawing of a set-up in its view."""
    return stand_drawing(json.document)


@blueprint.post("/stand/view")
@spec.validate(resp=Answers(HTTP_200=StandView), operation_id="viewStand")
def view_stand(json: SetUpView) -> StandView:
    """A view to begin with that shows the whole set-up."""
    return stand_view(json.document, json.preset)


@blueprint.post("/stand/sheet")
@spec.validate(resp=Answers(HTTP_200=SightingSheet), operation_id="sheetOfStand")
def sheet(json: SetUp) -> SightingSheet:
    """The view as a sighting sheet, every edge and rim laid where it truly is."""
    return sheet_of_stand(json.document)


@blueprint.post("/stand/steps")
@spec.validate(resp=Answers(HTTP_200=StandSteps), operation_id="stepsOfStand")
def construction_steps(json: SetUpThing) -> StandSteps:
    """The construction of one thing in the order of drawing, each step with its reason."""
    return stand_steps(json.document, json.thing)
