"""Sighting sheets: make, save, list, duplicate, delete and bring back."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import timedelta

from sqlalchemy import delete
from sqlalchemy.orm import Session

from aspectum.core.sightings import FormKind
from aspectum.formats.reading import FormatError
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import Form, PictureInfo
from aspectum.language import Text, say
from aspectum.service.errors import Stale
from aspectum.service.runtime.revisions import answered, kept_row, list_kept, save_over
from aspectum.store.models import Person, Picture, Sheet, StandRow, now

FROM_LIFE = Text("From life")
KEEP_DELETED = timedelta(days=30)


def list_sheets(session: Session, person: Person) -> list[Sheet]:
    """The person's sheets, the last touched first."""
    return list_kept(session, person, Sheet)


def sheet_of(session: Session, person: Person, sheet_id: str, deleted: bool = False) -> Sheet:
    return kept_row(session, person, Sheet, sheet_id, deleted, say("There is no such sheet."))


def blank_document(picture: Picture | None, title: str | None) -> SightingSheet:
    forms = [Form(id="form-1", kind=FormKind.BOX, name="Form 1")]
    if picture is None:
        return SightingSheet(title=title or str(FROM_LIFE), forms=forms)
    return SightingSheet(
        title=title or picture.name.rsplit(".", 1)[0] or "Sheet",
        picture=picture_info(picture),
        forms=forms,
    )


def make_sheet(
    session: Session,
    person: Person,
    picture: Picture | None,
    document: SightingSheet | None = None,
    title: str | None = None,
) -> Sheet:
    """A new sheet on ``picture``, or from life without one. A given document must be of the picture's size."""
    if document is None:
        document = blank_document(picture, title)
    else:
        fit_to_picture(document, picture)
    sheet = Sheet(person_id=person.id, picture=picture, title=document.title, document=stored(document), revision=1)
    session.add(sheet)
    session.flush()
    return sheet


def fit_to_picture(document: SightingSheet, picture: Picture | None) -> None:
    """Refuse a document made for a picture of another size, for none where there is one, or the other way round."""
    if picture is None and document.picture is None:
        return
    if picture is None:
        raise FormatError(say("picture: this sheet is from life and has no picture"))
    if document.picture is None:
        raise FormatError(say("picture: missing; this sheet is laid on a picture"))
    size = (document.picture.width_px, document.picture.height_px)
    if size != (picture.width_px, picture.height_px):
        raise FormatError(
            say(
                "picture: the sheet is for a picture of {size} × {size2} px, this one has {width_px} × {height_px}",
                size=size[0],
                size2=size[1],
                width_px=picture.width_px,
                height_px=picture.height_px,
            )
        )


def attach_picture(session: Session, person: Person, sheet_id: str, revision: int, picture: Picture) -> Sheet:
    """Put a photo under a sheet that was begun from life; its readings stay. Raises ``Stale`` when another tab saved
    first, and ``FormatError`` where the sheet has a picture already.
    """
    sheet = sheet_of(session, person, sheet_id)
    if sheet.picture is not None:
        raise FormatError(say("picture: this sheet has one already"))
    if sheet.revision != revision:
        raise Stale(sheet.revision)
    document = document_of(sheet)
    document.picture = picture_info(picture)
    sheet.picture, sheet.document, sheet.revision, sheet.updated_at = (
        picture,
        stored(document),
        sheet.revision + 1,
        now(),
    )
    session.flush()
    return sheet


def picture_info(picture: Picture) -> PictureInfo:
    return PictureInfo(
        width_px=picture.width_px, height_px=picture.height_px, file=picture.name, focal_35mm=picture.focal_35mm
    )


def stored(document: SightingSheet) -> dict[str, object]:
    return document.model_dump(mode="json", exclude_none=True)


def document_of(sheet: Sheet) -> SightingSheet:
    return SightingSheet.model_validate(sheet.document)


def save_sheet(
    session: Session,
    person: Person,
    sheet_id: str,
    revision: int,
    document: SightingSheet,
    save: str | None = None,
    unanswered: Sequence[str] = (),
) -> Sheet:
    """Save over ``revision``, as ``kept.save_over``; raises ``Stale`` when another tab saved first."""
    sheet = sheet_of(session, person, sheet_id)
    if not answered(sheet, save):
        fit_to_picture(document, sheet.picture)
        save_over(session, sheet, revision, stored(document), document.title, save, unanswered)
    return sheet


def duplicate_sheet(session: Session, person: Person, sheet_id: str) -> Sheet:
    sheet = sheet_of(session, person, sheet_id)
    document = document_of(sheet)
    document.title = f"{document.title} (copy)"[:200]
    return make_sheet(session, person, sheet.picture, document)


def delete_sheet(session: Session, person: Person, sheet_id: str) -> None:
    """Put a sheet aside; it can be brought back for 30 days."""
    sheet_of(session, person, sheet_id).deleted_at = now()


def purge(session: Session) -> None:
    """Delete for good what was put aside 30 days ago."""
    for kind in (Sheet, StandRow):
        session.execute(delete(kind).where(kind.deleted_at < now() - KEEP_DELETED))


def restore_sheet(session: Session, person: Person, sheet_id: str) -> Sheet:
    sheet = sheet_of(session, person, sheet_id, deleted=True)
    sheet.deleted_at = None
    return sheet
