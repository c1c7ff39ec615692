"""Documents that are saved as they change: a save over a revision, told from saves of other tabs."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TypeVar

from sqlalchemy import or_, select, update
from sqlalchemy.orm import Session

from aspectum.service.errors import Missing, Stale
from aspectum.store.models import Person, Sheet, StandRow, now

Kept = Sheet | StandRow
Row = TypeVar("Row", Sheet, StandRow)


def list_kept(session: Session, person: Person, table: type[Row]) -> list[Row]:
    """What the person keeps of a kind, the last touched first."""
    query = (
        select(table).where(table.person_id == person.id, table.deleted_at.is_(None)).order_by(table.updated_at.desc())
    )
    return list(session.scalars(query))


def kept_row(session: Session, person: Person, table: type[Row], id: str, deleted: bool, missing: str) -> Row:
    """One of them, with ``deleted`` also one that was put aside. Raises ``Missing`` in the words ``missing``."""
    row = session.get(table, id)
    if row is None or row.person_id != person.id or (row.deleted_at is not None and not deleted):
        raise Missing(missing)
    return row


def answered(row: Kept, save: str | None) -> bool:
    """Whether the save of that mark is stored already."""
    return save is not None and row.last_save == save


def save_over(
    session: Session,
    row: Kept,
    revision: int,
    document: dict[str, object],
    title: str,
    save: str | None = None,
    unanswered: Sequence[str] = (),
) -> None:
    """Save over ``revision``; raises ``Stale`` when another tab saved first.

    ``save`` is the page's own mark of this save, ``unanswered`` those of earlier saves whose answers
    it never got. A save that is stored already is answered as the first time; one that follows a
    stored but unanswered one is no conflict.
    """
    if answered(row, save):
        return
    table = type(row)
    known = table.revision == revision
    if unanswered:
        known = or_(known, table.last_save.in_(unanswered))
    changed = session.execute(
        update(table)
        .where(table.id == row.id, table.deleted_at.is_(None), known)
        .values(document=document, title=title, revision=table.revision + 1, last_save=save, updated_at=now())
        .execution_options(synchronize_session=False)
    )
    session.expire(row)
    if changed.rowcount == 0 and not answered(row, save):  # type: ignore[attr-defined]
        raise Stale(row.revision)  # else the same save, stored meanwhile by another thread
