"""Tables of printed worksheets, and of those that came back."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, ForeignKey, String, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from aspectum.store.models import Base, UtcDateTime, new_id, now


class WorksheetSet(Base):
    """A set of worksheets that is printed together: ``exercises`` in order, for each of ``copies`` its own.
    ``photo_id``: of the picture in those that ask about one; ``names``: of those who get the copies, where they are
    known.
    """

    __tablename__ = "worksheet_sets"

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    person_id: Mapped[str] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    title: Mapped[str] = mapped_column(String(200))
    exercises: Mapped[list[str]] = mapped_column(JSON)
    grade: Mapped[str] = mapped_column(String(20))
    paper: Mapped[str] = mapped_column(String(10))
    copies: Mapped[int]
    class_line: Mapped[str] = mapped_column(String(200))
    names: Mapped[list[str]] = mapped_column(JSON, default=list)
    seed: Mapped[int]
    photo_id: Mapped[str | None] = mapped_column(ForeignKey("pictures.id"))
    sheet_id: Mapped[str | None] = mapped_column(ForeignKey("sheets.id", ondelete="SET NULL"))
    made_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)


class PrintedWorksheet(Base):
    """One page: ``code`` is the number in its corners, ``document`` the open format, kept as it was printed;
    ``person_id``: whose name is printed on it.
    """

    __tablename__ = "printed_worksheets"
    __table_args__ = (UniqueConstraint("set_id", "copy_number", "number"),)

    code: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    set_id: Mapped[str] = mapped_column(ForeignKey("worksheet_sets.id", ondelete="CASCADE"))
    copy_number: Mapped[int]
    number: Mapped[int]
    person_id: Mapped[str | None] = mapped_column(ForeignKey("people.id", ondelete="SET NULL"), index=True)
    document: Mapped[dict[str, Any]] = mapped_column(JSON)


class ReturnedWorksheet(Base):
    """A worksheet that came back, ``person_id`` whose it is: the sheet of its truth, and of the drawing made on it,
    while they are kept.
    """

    __tablename__ = "returned_worksheets"

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    code: Mapped[int] = mapped_column(ForeignKey("printed_worksheets.code", ondelete="CASCADE"), index=True)
    person_id: Mapped[str] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    subject_id: Mapped[str | None] = mapped_column(ForeignKey("sheets.id", ondelete="SET NULL"))
    drawing_id: Mapped[str | None] = mapped_column(ForeignKey("sheets.id", ondelete="SET NULL"))
    made_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)
