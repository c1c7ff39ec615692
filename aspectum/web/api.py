"""Routes under ``/api``; OpenAPI is generated from their types."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from typing import Any
from urllib.parse import quote
from uuid import uuid4

from flask import Blueprint, Response, abort, current_app, request, send_file
from spectree import Response as Answers
from spectree import SpecTree
from sqlalchemy.orm import Session, sessionmaker

from aspectum.core.model import FREEHAND, RULED
from aspectum.formats.exports import findings_csv, overlay_svg
from aspectum.formats.report import Report
from aspectum.formats.sheet import SightingSheet, read_sheet, write_sheet
from aspectum.pictures.apart import open_apart
from aspectum.service import pictures, sheets
from aspectum.service.checking import check_kept, propose_for_sheet
from aspectum.service.people import person_here
from aspectum.service.turns import Turns
from aspectum.store.models import Person
from aspectum.store.picture_files import PictureFiles
from aspectum.web.messages import (
    CheckRequest,
    NewSheet,
    PictureOut,
    PictureQuery,
    Proposal,
    ProposeRequest,
    Saved,
    SaveSheet,
    SheetFull,
    SheetLine,
    SheetList,
    Turn,
    TurnQuery,
)
from aspectum.web.openapi import EXPORTS, complete
from aspectum.web.problems import Problem, problem

blueprint = Blueprint("api", __name__, url_prefix="/api")


def refuse_faulty(req: Any, resp: Any, fault: Exception | None, instance: Any, adapter: Any) -> None:
    """Answer a request that does not fit its model with a problem that names the place."""
    if fault is not None:
        raise fault


spec = SpecTree(
    "flask",
    title="Aspectum",
    version="1",
    path="api/docs",
    page_templates={},  # the pages on offer load scripts from elsewhere
    mode="strict",
    annotations=True,
    before=refuse_faulty,
    after=refuse_faulty,
    naming_strategy=lambda model: model.__name__,
    nested_naming_strategy=lambda _, child: child,
    validation_error_model=Problem,
)


@dataclass(frozen=True)
class Services:
    sessions: sessionmaker[Session]
    files: PictureFiles
    turns: Turns = field(default_factory=Turns)


def services() -> Services:
    found: Services = current_app.extensions["aspectum"]
    return found


@contextmanager
def work() -> Iterator[tuple[Session, Person]]:
    """One unit of work by the person here: all of it is kept, or nothing."""
    with services().sessions.begin() as session:
        yield session, person_here(session)


def description() -> dict[str, Any]:
    """The OpenAPI document of this API."""
    return complete(spec.spec)


@blueprint.get("/sheets")
@spec.validate(resp=Answers(HTTP_200=SheetList), operation_id="listSheets")
def list_sheets() -> SheetList:
    """All sheets, the last touched first."""
    with work() as (session, person):
        return SheetList(sheets=[SheetLine.of(s) for s in sheets.list_sheets(session, person)])


@blueprint.post("/sheets")
@spec.validate(resp=Answers(HTTP_200=SheetLine), operation_id="makeSheet")
def make_sheet(json: NewSheet) -> SheetLine:
    """A new sheet on a picture."""
    with work() as (session, person):
        picture = pictures.picture_of(session, person, json.picture_id)
        return SheetLine.of(sheets.make_sheet(session, person, picture, json.document, json.title))


@blueprint.get("/sheets/<sheet_id>")
@spec.validate(resp=Answers(HTTP_200=SheetFull), operation_id="readSheet")
def read_one_sheet(sheet_id: str) -> SheetFull:
    """A sheet with its report."""
    with work() as (session, person):
        sheet = sheets.sheet_of(session, person, sheet_id)
        document = sheets.document_of(sheet)
        return SheetFull(
            id=sheet.id,
            revision=sheet.revision,
            updated_at=sheet.updated_at,
            picture=PictureOut.of(sheet.picture),
            document=document,
            report=check_kept(document),
            last_save=sheet.last_save,
        )


@blueprint.put("/sheets/<sheet_id>")
@spec.validate(resp=Answers(HTTP_200=Saved, HTTP_409=Problem), operation_id="saveSheet")
def save_sheet(sheet_id: str, json: SaveSheet) -> Saved:
    """Save over the revision that the change was made on. A save sent twice is answered as the first."""
    report = check_kept(json.document)
    with work() as (session, person):
        sheet = sheets.save_sheet(session, person, sheet_id, json.revision, json.document, json.save, json.unanswered)
        return Saved(revision=sheet.revision, updated_at=sheet.updated_at, report=report)


@blueprint.delete("/sheets/<sheet_id>")
@spec.validate(resp=Answers(HTTP_204=None), operation_id="deleteSheet")
def delete_sheet(sheet_id: str) -> tuple[str, int]:
    """Put a sheet aside."""
    with work() as (session, person):
        sheets.delete_sheet(session, person, sheet_id)
    pictures.sweep(services().sessions, services().files)
    return "", 204


@blueprint.post("/sheets/<sheet_id>/restore")
@spec.validate(resp=Answers(HTTP_200=SheetLine), operation_id="restoreSheet")
def restore_sheet(sheet_id: str) -> SheetLine:
    """Bring a deleted sheet back."""
    with work() as (session, person):
        return SheetLine.of(sheets.restore_sheet(session, person, sheet_id))


@blueprint.post("/sheets/<sheet_id>/duplicate")
@spec.validate(resp=Answers(HTTP_200=SheetLine), operation_id="duplicateSheet")
def duplicate_sheet(sheet_id: str) -> SheetLine:
    """A copy on the same picture."""
    with work() as (session, person):
        return SheetLine.of(sheets.duplicate_sheet(session, person, sheet_id))


@blueprint.post("/check")
@spec.validate(resp=Answers(HTTP_200=Report), operation_id="check")
def check(json: CheckRequest) -> Report:
    """Judge a sheet without saving it."""
    return check_kept(json.document, RULED if json.tolerance == "ruled" else FREEHAND)


@blueprint.post("/propose")
@spec.validate(resp=Answers(HTTP_200=Proposal), operation_id="proposeFamily")
def propose(json: ProposeRequest) -> Proposal:
    """The likeliest family of an edge about to be laid."""
    return Proposal(family=propose_for_sheet(json.document, json.form, json.p, json.q).value)


@blueprint.post("/sheet-files")
@spec.validate(resp=Answers(HTTP_200=SightingSheet), operation_id="readSheetFile")
def read_sheet_file() -> SightingSheet:
    """Parse a ``*.sighting.json`` file sent as the body."""
    return read_sheet(request.get_data())


@blueprint.post("/pictures")
@spec.validate(resp=Answers(HTTP_200=PictureOut), operation_id="addPicture")
def add_picture(query: PictureQuery) -> PictureOut:
    """Open a photo sent as the body. Photos are opened one after another; ``ticket`` asks where this one stands."""
    data = request.get_data()
    with services().turns.turn(query.ticket or uuid4().hex):
        opened = open_apart(data)
    return PictureOut.of(pictures.keep_picture(services().sessions, services().files, query.name, opened))


@blueprint.get("/pictures/turn")
@spec.validate(resp=Answers(HTTP_200=Turn), operation_id="pictureTurn")
def picture_turn(query: TurnQuery) -> Turn:
    """How many photos are opened before the one sent with this ticket."""
    return Turn(ahead=services().turns.ahead_of(query.ticket))


@blueprint.get("/pictures/<picture_id>/<part>.jpg")
def picture_file(picture_id: str, part: str) -> Response:
    """The picture itself: ``view``, ``thumb`` or ``full``."""
    if part not in ("view", "thumb", "full"):
        abort(404)
    with work() as (session, person):
        picture = pictures.picture_of(session, person, picture_id)
        path = pictures.picture_path(services().files, picture, "" if part == "full" else part)
    # a photo deleted here must not live on in the browser: it is asked for again each time
    response = send_file(path, mimetype="image/jpeg", etag=f"{picture.sha256}-{part}")
    response.headers["Cache-Control"] = "private, no-cache"
    return response


@blueprint.get("/sheets/<sheet_id>/export/<kind>")
def export(sheet_id: str, kind: str) -> Response:
    """Download ``sighting.json``, ``report.json``, ``findings.csv`` or ``overlay.svg``."""
    with work() as (session, person):
        sheet = sheets.sheet_of(session, person, sheet_id)
        document = sheets.document_of(sheet)
        title = sheet.title
        view = pictures.picture_path(services().files, sheet.picture, "view")
    match kind:
        case "sighting.json":
            data = write_sheet(document)
        case "report.json":
            data = (check_kept(document).model_dump_json(indent=1) + "\n").encode()
        case "findings.csv":
            data = findings_csv(document, check_kept(document))
        case "overlay.svg":
            data = overlay_svg(document, check_kept(document), view.read_bytes())
        case _:
            return problem(404, "Not found", "There is no such export.")
    response = Response(data, mimetype=EXPORTS[kind])
    response.headers.set("Content-Disposition", "attachment", **file_names(title, kind))
    return response


def file_names(title: str, kind: str) -> dict[str, str]:
    """Both forms of a download's name (RFC 6266): in ASCII for old clients, and whole (RFC 5987)."""
    stem = re.sub(r'[\\/:*?"<>|]+', "-", title).strip(" .-")[:80] or "sheet"
    plain = re.sub(r"[^ -~]", "", unicodedata.normalize("NFKD", stem)).strip(" .-") or "sheet"
    return {"filename": f"{plain}.{kind}", "filename*": f"UTF-8''{quote(f'{stem}.{kind}', safe='')}"}
