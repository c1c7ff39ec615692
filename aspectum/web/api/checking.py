"""Checking a sheet without saving it."""

from __future__ import annotations

from flask import request
from spectree import Response as Answers

from aspectum.core.sightings import Family
from aspectum.core.tolerance import OF_SCHOOL, School
from aspectum.formats.report import Report
from aspectum.formats.sheet import Id, Point, SightingSheet, read_sheet
from aspectum.service.checking import check_kept, propose_for_sheet
from aspectum.web.api.base import Message, feature, spec

blueprint = feature("checking")


class CheckRequest(Message):
    document: SightingSheet
    tolerance: School | None = None


class ProposeRequest(Message):
    """An edge from ``p`` to ``q`` about to be laid on ``form``."""

    document: SightingSheet
    form: Id
    p: Point
    q: Point


class Proposal(Message):
    family: Family


@blueprint.post("/check")
@spec.validate(resp=Answers(HTTP_200=Report), operation_id="check")
def check(json: CheckRequest) -> Report:
    """Judge a sheet without saving it."""
    return check_kept(json.document, None if json.tolerance is None else OF_SCHOOL[json.tolerance])


@blueprint.post("/propose")
@spec.validate(resp=Answers(HTTP_200=Proposal), operation_id="proposeFamily")
def propose(json: ProposeRequest) -> Proposal:
    """The likeliest family of an edge about to be laid."""
    return Proposal(family=propose_for_sheet(json.document, json.form, json.p, json.q))


@blueprint.post("/sheet-files")
@spec.validate(resp=Answers(HTTP_200=SightingSheet), operation_id="readSheetFile")
def read_sheet_file() -> SightingSheet:
    """Parse a ``*.sighting.json`` file sent as the body."""
    return read_sheet(request.get_data())
