"""Tables of a question for the whole room."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, Double, ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column, relationship

from aspectum.store.models import Base, Person, Picture, UtcDateTime, new_id, now


class RoomQuestion(Base):
    """A question that a class is asked: ``document`` holds it with its truth, and its picture is ``picture_id`` or the
    set-up ``stand``. Answers are taken until ``stopped_at``, and the truth is shown from ``told_at`` on.
    """

    __tablename__ = "room_questions"

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    class_id: Mapped[str] = mapped_column(ForeignKey("classes.id", ondelete="CASCADE"), index=True)
    title: Mapped[str] = mapped_column(String(200))
    document: Mapped[dict[str, Any]] = mapped_column(JSON)
    picture_id: Mapped[str | None] = mapped_column(ForeignKey("pictures.id"))
    stand: Mapped[dict[str, Any] | None] = mapped_column(JSON)
    made_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)
    stopped_at: Mapped[datetime | None] = mapped_column(UtcDateTime)
    told_at: Mapped[datetime | None] = mapped_column(UtcDateTime)

    picture: Mapped[Picture | None] = relationship(lazy="joined")


class RoomAnswer(Base):
    """One person's answer, as ``practice_questions`` keep theirs."""

    __tablename__ = "room_answers"

    question_id: Mapped[str] = mapped_column(ForeignKey("room_questions.id", ondelete="CASCADE"), primary_key=True)
    person_id: Mapped[str] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), primary_key=True)
    made_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)
    answer: Mapped[Any] = mapped_column(JSON)
    judged: Mapped[float] = mapped_column(Double)
    truth: Mapped[float] = mapped_column(Double)
    seconds: Mapped[float | None] = mapped_column(Double)

    person: Mapped[Person] = relationship(lazy="joined")
