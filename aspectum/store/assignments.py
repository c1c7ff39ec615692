"""Tables of what is set, handed in and given back."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, Double, ForeignKey, String, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from aspectum.store.models import Base, Person, Picture, Sheet, UtcDateTime, new_id, now


class Assignment(Base):
    """What a tutor set: ``kind`` it was made from, ``words`` to the students, ``subject`` (photo, stand or one's own)
    with the tutor's sheet or set-up, what to ``hand_in``, the ``tolerance`` as a sheet has it, when what is ``found``
    in its picture may be looked at, ``minutes`` where it is timed, and how many ``tries``.
    """

    __tablename__ = "assignments"

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    class_id: Mapped[str] = mapped_column(ForeignKey("classes.id", ondelete="CASCADE"), index=True)
    kind: Mapped[str] = mapped_column(String(40))
    title: Mapped[str] = mapped_column(String(200))
    words: Mapped[str] = mapped_column(String(2000), default="")
    subject: Mapped[str] = mapped_column(String(10))
    sheet_id: Mapped[str | None] = mapped_column(ForeignKey("sheets.id", ondelete="SET NULL"))
    stand_id: Mapped[str | None] = mapped_column(ForeignKey("stands.id", ondelete="SET NULL"))
    hand_in: Mapped[list[str]] = mapped_column(JSON)
    tolerance: Mapped[Any] = mapped_column(JSON)
    judge_first: Mapped[bool] = mapped_column(default=True)
    found: Mapped[str] = mapped_column(String(20), default="never", server_default="never")
    minutes: Mapped[float | None] = mapped_column(Double)
    tries: Mapped[int] = mapped_column(default=3)
    due_at: Mapped[datetime | None] = mapped_column(UtcDateTime)
    made_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)
    withdrawn_at: Mapped[datetime | None] = mapped_column(UtcDateTime)


class Begun(Base):
    """The sheet that a student works on for an assignment."""

    __tablename__ = "begun"

    assignment_id: Mapped[str] = mapped_column(ForeignKey("assignments.id", ondelete="CASCADE"), primary_key=True)
    person_id: Mapped[str] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), primary_key=True)
    sheet_id: Mapped[str | None] = mapped_column(ForeignKey("sheets.id", ondelete="SET NULL"), index=True)
    made_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)

    sheet: Mapped[Sheet | None] = relationship(lazy="joined")
    assignment: Mapped[Assignment] = relationship(lazy="joined")


class HandIn(Base):
    """A copy of a student's work as it was handed in, the ``number``-th time: the sheet's and the drawing's documents
    with their pictures, and the note. ``report``, ``critique``: in the open formats, as they came out that day, the
    first None until it is judged; ``found``: their verdicts counted and causes in words. ``mark``, ``word``: the
    tutor's, once it was given back.
    """

    __tablename__ = "hand_ins"
    __table_args__ = (UniqueConstraint("assignment_id", "person_id", "number"),)

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    assignment_id: Mapped[str] = mapped_column(ForeignKey("assignments.id", ondelete="CASCADE"))
    person_id: Mapped[str] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    number: Mapped[int]
    made_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)
    sheet_id: Mapped[str | None] = mapped_column(ForeignKey("sheets.id", ondelete="SET NULL"), index=True)
    document: Mapped[dict[str, Any]] = mapped_column(JSON)
    picture_id: Mapped[str | None] = mapped_column(ForeignKey("pictures.id"))
    drawing_id: Mapped[str | None] = mapped_column(ForeignKey("sheets.id", ondelete="SET NULL"), index=True)
    drawing: Mapped[dict[str, Any] | None] = mapped_column(JSON)
    drawing_picture_id: Mapped[str | None] = mapped_column(ForeignKey("pictures.id"))
    note: Mapped[str] = mapped_column(String(1000), default="")
    found: Mapped[dict[str, Any]] = mapped_column(JSON)
    # lists do without them: they are ten times the rest
    report: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True), deferred=True)
    critique: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True), deferred=True)
    mark: Mapped[str] = mapped_column(String(20), default="")
    word: Mapped[str] = mapped_column(String(2000), default="")
    returned_at: Mapped[datetime | None] = mapped_column(UtcDateTime)

    person: Mapped[Person] = relationship(lazy="joined")
    assignment: Mapped[Assignment] = relationship(lazy="joined")
    picture: Mapped[Picture | None] = relationship(lazy="joined", foreign_keys=[picture_id])
    drawing_picture: Mapped[Picture | None] = relationship(lazy="joined", foreign_keys=[drawing_picture_id])


class Remark(Base):
    """What a tutor says of a piece: of a ``sighting``, of a place (px of the drawing's picture, or without a drawing of
    the sheet's), or of the whole.
    """

    __tablename__ = "remarks"

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    hand_in_id: Mapped[str] = mapped_column(ForeignKey("hand_ins.id", ondelete="CASCADE"), index=True)
    number: Mapped[int]
    sighting: Mapped[str | None] = mapped_column(String(80))
    x_px: Mapped[float | None] = mapped_column(Double)
    y_px: Mapped[float | None] = mapped_column(Double)
    words: Mapped[str] = mapped_column(String(1000))


class Phrase(Base):
    """Something that a tutor says often."""

    __tablename__ = "phrases"

    person_id: Mapped[str] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    words: Mapped[str] = mapped_column(String(1000))
