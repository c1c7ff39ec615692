"""Bodies of requests and responses."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from aspectum.formats.report import Report
from aspectum.formats.sheet import FamilyName, Id, Name, Point, SightingSheet, number
from aspectum.store.models import Picture, Sheet


class Message(BaseModel):
    model_config = ConfigDict(extra="forbid")


class PictureOut(Message):
    id: str
    name: str
    width_px: int
    height_px: int
    focal_35mm: float | None

    @classmethod
    def of(cls, picture: Picture) -> PictureOut:
        return cls(id=picture.id, name=picture.name, width_px=picture.width_px, height_px=picture.height_px, focal_35mm=picture.focal_35mm)


class SheetLine(Message):
    """A sheet as the list shows it."""

    id: str
    title: str
    picture: PictureOut
    sightings: int
    revision: int
    updated_at: datetime

    @classmethod
    def of(cls, sheet: Sheet) -> SheetLine:
        return cls(
            id=sheet.id,
            title=sheet.title,
            picture=PictureOut.of(sheet.picture),
            sightings=len(sheet.document.get("sightings", [])),
            revision=sheet.revision,
            updated_at=sheet.updated_at,
        )


class SheetList(Message):
    sheets: list[SheetLine]


class SheetFull(Message):
    id: str
    revision: int
    updated_at: datetime
    picture: PictureOut
    document: SightingSheet
    report: Report
    last_save: str | None = None


class NewSheet(Message):
    picture_id: str
    title: Name | None = None
    document: SightingSheet | None = None


Revision = Annotated[int, Field(ge=1, le=2**31), BeforeValidator(number)]
Mark = Annotated[str, Field(min_length=8, max_length=64, pattern=r"^[0-9A-Za-z-]+$")]


class SaveSheet(Message):
    """``revision`` is the one that the change was made on; ``save`` the page's own mark of this save,
    ``unanswered`` those of earlier saves of the page that were never answered.
    """

    revision: Revision
    document: SightingSheet
    save: Mark | None = None
    unanswered: list[Mark] = Field(default_factory=list, max_length=100)


class Saved(Message):
    revision: int
    updated_at: datetime
    report: Report


class CheckRequest(Message):
    document: SightingSheet
    tolerance: Literal["freehand", "ruled"] = "freehand"


class PictureQuery(Message):
    """``name``: the file's name as the person knows it."""

    name: str = Field(default="picture", max_length=1000)
    ticket: Mark | None = None


class TurnQuery(Message):
    ticket: Mark


class Turn(Message):
    """``ahead``: photos opened before this one, 0 while it is its turn, null where it does not wait."""

    ahead: int | None


class ProposeRequest(Message):
    """An edge from ``p`` to ``q`` about to be laid on ``form``."""

    document: SightingSheet
    form: Id
    p: Point
    q: Point


class Proposal(Message):
    family: FamilyName
