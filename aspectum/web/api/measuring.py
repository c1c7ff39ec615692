"""Constructions on faces, figures on the ground, and forms seen from further away."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BeforeValidator, Field

from aspectum.core.aids.divide import MOST_BAYS, Construction, Role
from aspectum.core.sightings import Guide, PartAlong
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import FAR_PX, Id, Metres, Number, Point, number
from aspectum.service.sheets.aids import construct_on, eased_form, figure_on, guide_on
from aspectum.service.sheets.checking import naming
from aspectum.service.words.construct import construction_words, figure_words, guide_words, step_words
from aspectum.web.api.base import Message, feature
from aspectum.web.routes import OWN_WORK

routes = feature("measuring")

FARTHEST = 10.0  # times as far as the picture was taken from: beyond it nothing changes that a hand could draw


class ConstructRequest(Message):
    """``count``: how many bays, or repeats (negative: before the first corner); ``place``: the part that is
    mirrored.
    """

    document: SightingSheet
    face: Id
    wanted: Construction
    along: PartAlong = PartAlong.ACROSS
    count: Annotated[int, BeforeValidator(number), Field(ge=-MOST_BAYS, le=MOST_BAYS)] = 2
    place: Annotated[Number, Field(ge=-1, le=2)] = 0.25


class StrokeDrawn(Message):
    role: Role
    p: Point
    q: Point


class StepDrawn(Message):
    words: str
    strokes: list[StrokeDrawn]


class ConstructAnswer(Message):
    """``words``: why nothing can be drawn, or empty."""

    steps: list[StepDrawn]
    words: str


@routes.post("/construct", OWN_WORK, "construct", ConstructAnswer, stores=False)
def construct(json: ConstructRequest) -> ConstructAnswer:
    """The lines by which a middle, bays, a repeat or a mirror image is drawn on a face, step by step."""
    steps = construct_on(json.document, json.face, json.wanted, json.along, json.count, json.place)
    drawn = [
        StepDrawn(words=step_words(s), strokes=[StrokeDrawn(**vars(stroke)) for stroke in s.strokes]) for s in steps
    ]
    return ConstructAnswer(steps=drawn, words=construction_words(json.wanted, steps))


class FigureRequest(Message):
    document: SightingSheet
    foot: Point
    height_m: Metres


class FigureAnswer(Message):
    """``top``: null where nothing can stand; ``cut``: the share of its height at which eye level cuts it, null where it
    stays below.
    """

    top: Point | None
    cut: float | None
    words: str


@routes.post("/figure", OWN_WORK, "figure", FigureAnswer, stores=False)
def figure(json: FigureRequest) -> FigureAnswer:
    """A figure standing on the ground: where its top is drawn, and how eye level cuts it."""
    found = figure_on(json.document, json.foot, json.height_m)
    return FigureAnswer(
        top=None if found is None else found.top, cut=None if found is None else found.cut, words=figure_words(found)
    )


class GuideRequest(Message):
    """``at_px``: x of a plumb line, y of a level one."""

    document: SightingSheet
    along: Literal[Guide.PLUMB, Guide.LEVEL]
    at_px: Annotated[Number, Field(ge=-FAR_PX, le=FAR_PX)]


class PassedEnd(Message):
    sighting: str
    corner: int
    at: Point


class GuideAnswer(Message):
    """``passed``: the sighted ends that the line passes through, in order along it; ``words`` for them."""

    at_px: float
    passed: list[PassedEnd]
    words: str


@routes.post("/guide", OWN_WORK, "guide", GuideAnswer, stores=False)
def guide(json: GuideRequest) -> GuideAnswer:
    """A plumb or level line held before the picture, drawn to a sighted end within reach."""
    held = guide_on(json.document, json.along, json.at_px)
    passed = [PassedEnd(**vars(end)) for end in held.passed]
    return GuideAnswer(at_px=held.at_px, passed=passed, words=guide_words(held, naming(json.document)))


class EaseRequest(Message):
    """``times``: how many times as far away."""

    document: SightingSheet
    form: Id
    times: Annotated[Number, Field(ge=1, le=FARTHEST)]


class EasedLine(Message):
    id: str
    p: Point
    q: Point
    tilt_deg: float
    eased_p: Point
    eased_q: Point
    eased_tilt_deg: float


class EasedRimOut(Message):
    id: str
    degree_deg: float
    eased_degree_deg: float


class EaseAnswer(Message):
    lines: list[EasedLine]
    rims: list[EasedRimOut]


@routes.post("/ease", OWN_WORK, "ease", EaseAnswer, stores=False)
def ease(json: EaseRequest) -> EaseAnswer:
    """A solved form as from further away, as large on the sheet."""
    edges, rims = eased_form(json.document, json.form, json.times)
    return EaseAnswer(
        lines=[EasedLine(**vars(line)) for line in edges], rims=[EasedRimOut(**vars(rim)) for rim in rims]
    )
