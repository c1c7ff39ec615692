"""Set-ups on the model stand: make, save, list, duplicate, put aside and bring back."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy.orm import Session

from aspectum.core.stand.taken import taken
from aspectum.formats.reading import FormatError
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import Form
from aspectum.formats.stand import BoxThing, StandFile, StandView
from aspectum.service.kept import kept_row, list_kept, save_over
from aspectum.service.sheets import make_sheet, picture_info
from aspectum.service.stand import drawn
from aspectum.store.models import Person, Picture, Sheet, StandRow, now

FRESH = "On the stand"
OUT_OF_SHAPE = 0.01  # by which a picture's proportions may miss the view's: its pixels are whole


def list_stands(session: Session, person: Person) -> list[StandRow]:
    """The person's set-ups, the last touched first."""
    return list_kept(session, person, StandRow)


def stand_row(session: Session, person: Person, stand_id: str, deleted: bool = False) -> StandRow:
    """One set-up of the person. Raises ``Missing`` where there is none."""
    return kept_row(session, person, StandRow, stand_id, deleted, "There is no such set-up.")


def make_stand(session: Session, person: Person, document: StandFile | None = None) -> StandRow:
    """A new set-up; without a document one box to begin with."""
    if document is None:
        box = BoxThing(id="box-1", kind="box", name="Box", size_m=(0.6, 0.4, 0.5), turn_deg=30.0)
        document = StandFile(title=FRESH, view=StandView(eye_m=(0.2, -2.6, 1.2), pitch_deg=-18.0), things=[box])
    row = StandRow(person_id=person.id, title=document.title, document=kept(document), revision=1)
    session.add(row)
    session.flush()
    return row


def kept(document: StandFile) -> dict[str, object]:
    """The document as it is stored."""
    return document.model_dump(mode="json", exclude_none=True)


def file_of(row: StandRow) -> StandFile:
    """A stored set-up's document."""
    return StandFile.model_validate(row.document)


def save_stand(
    session: Session, person: Person, stand_id: str, revision: int, document: StandFile, save: str | None = None, unanswered: Sequence[str] = ()
) -> StandRow:
    """Save over ``revision``, as ``kept.save_over``; raises ``Stale`` when another tab saved first."""
    row = stand_row(session, person, stand_id)
    save_over(session, row, revision, kept(document), document.title, save, unanswered)
    return row


def duplicate_stand(session: Session, person: Person, stand_id: str) -> StandRow:
    """A copy of a set-up."""
    document = file_of(stand_row(session, person, stand_id))
    document.title = f"{document.title} (copy)"[:200]
    return make_stand(session, person, document)


def draw_from(session: Session, person: Person, stand_id: str, picture: Picture) -> Sheet:
    """A sheet to sight on ``picture``, the shaded view of a set-up; its forms are the things, and the set-up is kept with it as its truth.

    Raises ``FormatError`` for a picture of other proportions than the view's.
    """
    file = file_of(stand_row(session, person, stand_id))
    view = file.view
    if abs(picture.width_px * view.height_px / (picture.height_px * view.width_px) - 1.0) > OUT_OF_SHAPE:
        raise FormatError(f"picture: the view is {view.width_px} by {view.height_px}, this picture {picture.width_px} by {picture.height_px} px")
    shown = taken(drawn(file))
    parallel = view.parallel is not None
    document = SightingSheet(
        title=file.title or FRESH,
        picture=picture_info(picture).model_copy(update={"focal_35mm": None if parallel else view.focal_35mm}),
        perspective=shown.perspective,
        looking=shown.looking,
        forms=[Form(id=form.id, kind=form.kind, name=form.name) for form in shown.forms],
        stand=file,
    )
    return make_sheet(session, person, picture, document)


def delete_stand(session: Session, person: Person, stand_id: str) -> None:
    """Put a set-up aside; it can be brought back for 30 days."""
    stand_row(session, person, stand_id).deleted_at = now()


def restore_stand(session: Session, person: Person, stand_id: str) -> StandRow:
    """Bring one back that was put aside."""
    row = stand_row(session, person, stand_id, deleted=True)
    row.deleted_at = None
    return row
