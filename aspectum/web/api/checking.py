"""Checking a sheet without saving it."""

from __future__ import annotations

from typing import Annotated

from flask import Response, request
from pydantic import BeforeValidator, Field

from aspectum.core.aids.fan import MOST_LINES
from aspectum.core.sightings import Family
from aspectum.core.tolerance import OF_SCHOOL, School
from aspectum.formats.sheet import SightingSheet, read_sheet
from aspectum.formats.sightings import FaceFamily, Id, Point, number
from aspectum.service.sheets import finding, pictures
from aspectum.service.sheets.aids import fan_on, probe_sheet
from aspectum.service.sheets.checking import checked_json, propose_face_for_sheet, propose_for_sheet
from aspectum.service.words.fan import fan_words
from aspectum.web.api.base import Mark, Message, computed, feature, here, work
from aspectum.web.routes import OWN_WORK, FileBody, Gives, Queue

routes = feature("checking")
SHEET_FILE = FileBody("A ``*.sighting.json`` file", ("application/octet-stream", "application/json"))
REPORT = Gives(
    {"application/json": {"$ref": "#/components/schemas/Report"}}
)  # written by the process that checks, and not read again here


class CheckRequest(Message):
    """``page``: the page's own mark, whose newer question overtakes an older one that still waits."""

    document: SightingSheet
    tolerance: School | None = None
    page: Mark | None = None


class ProposeRequest(Message):
    """An edge from ``p`` to ``q`` about to be laid on ``form``; ``picture_id``: on what, so that what was found in it
    counts.
    """

    document: SightingSheet
    form: Id
    p: Point
    q: Point
    picture_id: str | None = None


class Proposal(Message):
    family: Family


@routes.post("/check", OWN_WORK, "check", REPORT, queue=Queue.HAND, stores=False)
def check(json: CheckRequest) -> Response:
    """Judge a sheet without saving it."""
    report = computed(checked_json, json.document, None if json.tolerance is None else OF_SCHOOL[json.tolerance])
    return Response(report, mimetype="application/json")


@routes.post("/propose", OWN_WORK, "proposeFamily", Proposal, queue=Queue.HAND, stores=False)
def propose(json: ProposeRequest) -> Proposal:
    """The likeliest family of an edge about to be laid."""
    return Proposal(
        family=computed(propose_for_sheet, json.document, json.form, json.p, json.q, found_in(json.picture_id))
    )


def found_in(picture_id: str | None) -> SightingSheet | None:
    """What was found in a picture, where it has been looked into."""
    if picture_id is None:
        return None
    with work() as (session, person):
        return finding.looked(here().files, pictures.picture_of(session, person, picture_id))


class ProposeFaceRequest(Message):
    """A face about to be laid while ``form`` is worked on, its corners in any order; ``picture_id``: as of an edge."""

    document: SightingSheet
    form: Id
    picture_id: str | None = None
    corners: tuple[Point, Point, Point, Point]


class FaceProposal(Message):
    """The face as a sheet writes it: its corners anticlockwise from where it begins, on the form that its sides run
    with.
    """

    form: Id
    families: tuple[FaceFamily, FaceFamily]
    corners: tuple[Point, Point, Point, Point]


@routes.post("/propose-face", OWN_WORK, "proposeFaceFamilies", FaceProposal, queue=Queue.HAND, stores=False)
def propose_face(json: ProposeFaceRequest) -> FaceProposal:
    """The likeliest form and two families of a face about to be laid, and its corners in order."""
    return FaceProposal.model_validate(
        vars(computed(propose_face_for_sheet, json.document, json.form, json.corners, found_in(json.picture_id)))
    )


class ProbeRequest(Message):
    """A place ``at`` of the picture, in its pixels."""

    document: SightingSheet
    at: Point


class RunningThere(Message):
    """How a family runs at the place; ``lean_deg`` of uprights, from plumb, positive to the right."""

    form: str | None
    family: Family
    slope: str | None
    tilt_deg: float
    sd_deg: float | None
    lean_deg: float | None


class RimThere(Message):
    """A small level rim at the place; ``axis_deg``: tilt of its minor axis."""

    degree_deg: float
    sd_deg: float | None
    axis_deg: float
    ratio: float


class ProbeAnswer(Message):
    runs: list[RunningThere]
    rim: RimThere | None


@routes.post("/probe", OWN_WORK, "probe", ProbeAnswer, queue=Queue.HAND, stores=False)
def probe(json: ProbeRequest) -> ProbeAnswer:
    """What must run at a place: every family's tilt, and how round a level rim is."""
    found = computed(probe_sheet, json.document, json.at)
    rim = None if found.rim is None else RimThere(**vars(found.rim), ratio=found.rim.ratio)
    return ProbeAnswer(runs=[RunningThere(**vars(run)) for run in found.runs], rim=rim)


class FanRequest(Message):
    """``count`` lines between the laid edges ``first`` and ``second``."""

    document: SightingSheet
    first: Id
    second: Id
    count: Annotated[int, BeforeValidator(number), Field(ge=1, le=MOST_LINES)]


class FanLine(Message):
    p: Point
    q: Point
    tilt_deg: float


class FanAnswer(Message):
    """``spaced``: the family along which the lines are evenly spaced in space, null where only on the picture."""

    lines: list[FanLine]
    spaced: Family | None
    words: str


@routes.post("/fan", OWN_WORK, "fan", FanAnswer, queue=Queue.HAND, stores=False)
def fan(json: FanRequest) -> FanAnswer:
    """Evenly spaced edges of one family between two that are laid."""
    found = computed(fan_on, json.document, json.first, json.second, json.count)
    lines = [FanLine(p=p, q=q, tilt_deg=tilt) for (p, q), tilt in zip(found.lines, found.tilts_deg, strict=True)]
    return FanAnswer(lines=lines, spaced=found.spaced, words=fan_words(found))


@routes.post("/sheet-files", OWN_WORK, "readSheetFile", SightingSheet, file=SHEET_FILE, stores=False)
def read_sheet_file() -> SightingSheet:
    """Parse a ``*.sighting.json`` file sent as the body."""
    return read_sheet(request.get_data())
