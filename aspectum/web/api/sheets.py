"""Sighting sheets: listed, made, read, saved, put aside and brought back."""

from __future__ import annotations

from collections import Counter
from contextlib import suppress
from datetime import datetime
from typing import Annotated

from pydantic import BeforeValidator, Field
from sqlalchemy.orm import Session

from aspectum.formats.report import Report
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import Name, number
from aspectum.service.paper import drawings
from aspectum.service.paper.after_save import after_save, record_saved
from aspectum.service.school.assignments import assigned_on, found_shown
from aspectum.service.sheets import pictures, sheets
from aspectum.service.sheets.checking import check_kept
from aspectum.store.models import Sheet
from aspectum.web.api.base import Mark, Message, computed, feature, here, work
from aspectum.web.api.pictures import PictureOut
from aspectum.web.routes import CHANGES_SHEET, OWN_WORK, READS_SHEET, Queue

routes = feature("sheets")


class SheetLine(Message):
    """A sheet as the list shows it. One from life has no ``picture``; ``drawing``: whether it is a drawing on paper,
    ``drawings`` how many were made from it.
    """

    id: str
    title: str
    picture: PictureOut | None
    sightings: int
    revision: int
    updated_at: datetime
    drawing: bool = False
    drawings: int = 0

    @classmethod
    def of(cls, sheet: Sheet, drawing: bool = False, drawings: int = 0) -> SheetLine:
        return cls(
            id=sheet.id,
            title=sheet.title,
            picture=None if sheet.picture is None else PictureOut.of(sheet.picture),
            sightings=len(sheet.document.get("sightings", [])),
            revision=sheet.revision,
            updated_at=sheet.updated_at,
            drawing=drawing,
            drawings=drawings,
        )


class SheetList(Message):
    sheets: list[SheetLine]


class SheetAssignment(Message):
    """The assignment that a sheet is worked on for; ``judge_first``: every sighting is judged by eye first;
    ``found_shown``: what is found in the picture may be looked at by now.
    """

    id: str
    class_id: str
    title: str
    judge_first: bool
    found_shown: bool
    minutes: float | None


class SheetFull(Message):
    """A sheet with its report; ``drawing``: whether it is a drawing on paper."""

    id: str
    revision: int
    updated_at: datetime
    picture: PictureOut | None
    document: SightingSheet
    report: Report
    last_save: str | None = None
    drawing: bool = False
    assignment: SheetAssignment | None = None


class NewSheet(Message):
    """On a picture, or from life without one."""

    picture_id: str | None = None
    title: Name | None = None
    document: SightingSheet | None = None


Revision = Annotated[int, Field(ge=1, le=2**31), BeforeValidator(number)]


class SaveOver(Message):
    """``revision`` is the one that the change was made on; ``save`` the page's own mark of this save,
    ``unanswered`` those of earlier saves of the page that were never answered.
    """

    revision: Revision
    save: Mark | None = None
    unanswered: list[Mark] = Field(default_factory=list, max_length=100)


class SaveSheet(SaveOver):
    document: SightingSheet


class Saved(Message):
    revision: int
    updated_at: datetime
    report: Report


@routes.get("/sheets", OWN_WORK, "listSheets", SheetList)
def list_sheets() -> SheetList:
    """All sheets but drawings of another, the last touched first."""
    with work() as (session, person):
        under, every = drawings.under_subjects(session, person), drawings.all_drawings(session, person)
        made = Counter(under.values())
        return SheetList(
            sheets=[
                SheetLine.of(s, s.id in every, made[s.id])
                for s in sheets.list_sheets(session, person)
                if s.id not in under
            ]
        )


@routes.post("/sheets", OWN_WORK, "makeSheet", SheetLine, misses=True)
def make_sheet(json: NewSheet) -> SheetLine:
    """A new sheet on a picture, or from life without one."""
    with work() as (session, person):
        picture = None if json.picture_id is None else pictures.picture_of(session, person, json.picture_id)
        return SheetLine.of(sheets.make_sheet(session, person, picture, json.document, json.title))


@routes.get("/sheets/<sheet_id>", READS_SHEET, "readSheet", SheetFull, queue=Queue.OPENS)
def read_one_sheet(sheet_id: str) -> SheetFull:
    """A sheet with its report."""
    with work() as (session, person):
        sheet = sheets.sheet_of(session, person, sheet_id)
        document, picture = sheets.document_of(sheet), None if sheet.picture is None else PictureOut.of(sheet.picture)
        drawing, assignment = sheet.id in drawings.all_drawings(session, person), assignment_on(session, sheet)
    return SheetFull(
        id=sheet.id,
        revision=sheet.revision,
        updated_at=sheet.updated_at,
        picture=picture,
        document=document,
        report=computed(check_kept, document),
        last_save=sheet.last_save,
        drawing=drawing,
        assignment=assignment,
    )


def assignment_on(session: Session, sheet: Sheet) -> SheetAssignment | None:
    found = assigned_on(session, sheet)
    if found is None:
        return None
    return SheetAssignment(
        id=found.id,
        class_id=found.class_id,
        title=found.title,
        judge_first=found.judge_first,
        found_shown=found_shown(session, found, sheet.person_id),
        minutes=found.minutes,
    )


@routes.put("/sheets/<sheet_id>", CHANGES_SHEET, "saveSheet", Saved, stale=True, queue=Queue.SAVE)
def save_sheet(sheet_id: str, json: SaveSheet) -> Saved:
    """Save over the revision that the change was made on. A save sent twice is answered as the first."""
    with work() as (session, person):
        sheet = sheets.save_sheet(session, person, sheet_id, json.revision, json.document, json.save, json.unanswered)
        revision, at, against = sheet.revision, sheet.updated_at, drawings.subject_under(session, sheet)
    found = computed(after_save, json.document, against)
    with work() as (session, person):
        record_saved(session, person, sheet_id, revision, found)
    return Saved(revision=revision, updated_at=at, report=found.report)


@routes.delete("/sheets/<sheet_id>", CHANGES_SHEET, "deleteSheet", None)
def delete_sheet(sheet_id: str) -> tuple[str, int]:
    """Put a sheet aside."""
    with work() as (session, person):
        sheets.delete_sheet(session, person, sheet_id)
    with suppress(
        OSError
    ):  # a picture folder that cannot be written keeps nobody from deleting; it is swept at the next start
        pictures.sweep(here().sessions, here().files)
    return "", 204


@routes.post("/sheets/<sheet_id>/restore", CHANGES_SHEET, "restoreSheet", SheetLine)
def restore_sheet(sheet_id: str) -> SheetLine:
    """Bring a deleted sheet back."""
    with work() as (session, person):
        return SheetLine.of(sheets.restore_sheet(session, person, sheet_id))


class AttachPicture(Message):
    """A photo for a sheet from life; ``revision``: of the sheet as it was read."""

    picture_id: str
    revision: Revision


@routes.put("/sheets/<sheet_id>/picture", CHANGES_SHEET, "attachPicture", SheetLine, stale=True)
def attach_picture(sheet_id: str, json: AttachPicture) -> SheetLine:
    """Put a photo under a sheet that was begun from life."""
    with work() as (session, person):
        picture = pictures.picture_of(session, person, json.picture_id)
        return SheetLine.of(sheets.attach_picture(session, person, sheet_id, json.revision, picture))


@routes.post("/sheets/<sheet_id>/duplicate", CHANGES_SHEET, "duplicateSheet", SheetLine)
def duplicate_sheet(sheet_id: str) -> SheetLine:
    """A copy on the same picture."""
    with work() as (session, person):
        return SheetLine.of(sheets.duplicate_sheet(session, person, sheet_id))
