"""Set-ups on the model stand: make, save, list, duplicate, put aside and bring back."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy.orm import Session

from aspectum.formats.stand import BoxThing, StandFile, StandView
from aspectum.language import Text, say
from aspectum.service.runtime.revisions import kept_row, list_kept, save_over
from aspectum.store.models import Person, StandRow, now

FRESH = Text("On the stand")


def list_stands(session: Session, person: Person) -> list[StandRow]:
    """The person's set-ups, the last touched first."""
    return list_kept(session, person, StandRow)


def stand_row(session: Session, person: Person, stand_id: str, deleted: bool = False) -> StandRow:
    """One set-up of the person. Raises ``Missing`` where there is none."""
    return kept_row(session, person, StandRow, stand_id, deleted, say("There is no such set-up."))


def make_stand(session: Session, person: Person, document: StandFile | None = None) -> StandRow:
    """A new set-up; without a document one box to begin with."""
    if document is None:
        box = BoxThing(id="box-1", kind="box", name="Box", size_m=(0.6, 0.4, 0.5), turn_deg=30.0)
        document = StandFile(title=str(FRESH), view=StandView(eye_m=(0.2, -2.6, 1.2), pitch_deg=-18.0), things=[box])
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
    session: Session,
    person: Person,
    stand_id: str,
    revision: int,
    document: StandFile,
    save: str | None = None,
    unanswered: Sequence[str] = (),
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


def delete_stand(session: Session, person: Person, stand_id: str) -> None:
    """Put a set-up aside; it can be brought back for 30 days."""
    stand_row(session, person, stand_id).deleted_at = now()


def restore_stand(session: Session, person: Person, stand_id: str) -> StandRow:
    """Bring one back that was put aside."""
    row = stand_row(session, person, stand_id, deleted=True)
    row.deleted_at = None
    return row
