"""Bodies of requests and responses."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from aspectum.formats.report import Report
from aspectum.formats.sheet import FamilyName, Name, Point, SightingSheet
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


class NewSheet(Message):
    picture_id: str
    title: Name | None = None
    document: SightingSheet | None = None


class SaveSheet(Message):
    """``revision`` is the one that the change was made on."""

    revision: int = Field(ge=1)
    document: SightingSheet


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


class ProposeRequest(Message):
    """An edge from ``p`` to ``q`` about to be laid on ``form``."""

    document: SightingSheet
    form: str
    p: Point
    q: Point


class Proposal(Message):
    family: FamilyName
