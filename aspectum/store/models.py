"""Database tables. Whatever a person makes carries that person's id."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any
from uuid import uuid4

from sqlalchemy import JSON, DateTime, Double, ForeignKey, MetaData, String, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship
from sqlalchemy.types import TypeDecorator

NAMING = {
    "ix": "ix_%(column_0_label)s",
    "uq": "uq_%(table_name)s_%(column_0_name)s",
    "ck": "ck_%(table_name)s_%(constraint_name)s",
    "fk": "fk_%(table_name)s_%(column_0_name)s_%(referred_table_name)s",
    "pk": "pk_%(table_name)s",
}


class UtcDateTime(TypeDecorator[datetime]):
    """Moments in UTC; SQLite forgets the zone, so it is put back."""

    impl = DateTime
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Any) -> datetime | None:
        return None if value is None else value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Any) -> datetime | None:
        return None if value is None else value.replace(tzinfo=UTC)


def new_id() -> str:
    return uuid4().hex


def now() -> datetime:
    return datetime.now(UTC)


HERE = "here"
# the rules by which readings are recorded: 1 counts every cause once, nothing that is printed, and no edge of a near
# wall as a far one
RECORDED = 1


class Base(DeclarativeBase):
    metadata = MetaData(naming_convention=NAMING)


class Person(Base):
    """Somebody who works here. ``place``: unique; the person who needs no sign-in has ``HERE``. ``sign_in_name``: the
    name as it is compared, ``passphrase`` its hash; a guest has none.
    """

    __tablename__ = "people"

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    name: Mapped[str] = mapped_column(String(200))
    place: Mapped[str | None] = mapped_column(String(40), unique=True)
    sign_in_name: Mapped[str | None] = mapped_column(String(200), unique=True)
    passphrase: Mapped[str | None] = mapped_column(String(200))
    arm_mm: Mapped[float | None] = mapped_column(Double)
    created_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)


class Picture(Base):
    """A photo; its file is named by ``sha256`` of the stored bytes."""

    __tablename__ = "pictures"

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    person_id: Mapped[str] = mapped_column(ForeignKey("people.id"), index=True)
    name: Mapped[str] = mapped_column(String(200))
    sha256: Mapped[str] = mapped_column(String(64), index=True)
    width_px: Mapped[int]
    height_px: Mapped[int]
    focal_35mm: Mapped[float | None]
    created_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)


class Sheet(Base):
    """A sighting sheet; one from life has no picture. ``document`` is the open format; ``revision`` grows with every
    save, ``last_save`` is the page's own mark of the save that made it, and ``deleted_at`` marks one that can still be
    brought back; ``recorded``: by which rules its readings are in the record.
    """

    __tablename__ = "sheets"

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    person_id: Mapped[str] = mapped_column(ForeignKey("people.id"), index=True)
    picture_id: Mapped[str | None] = mapped_column(ForeignKey("pictures.id"))
    title: Mapped[str] = mapped_column(String(200))
    document: Mapped[dict[str, Any]] = mapped_column(JSON)
    revision: Mapped[int] = mapped_column(default=1)
    last_save: Mapped[str | None] = mapped_column(String(64))
    created_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)
    updated_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)
    deleted_at: Mapped[datetime | None] = mapped_column(UtcDateTime)
    recorded: Mapped[int] = mapped_column(default=RECORDED, server_default="0")

    picture: Mapped[Picture | None] = relationship(lazy="joined")


class StandRow(Base):
    """A set-up on the model stand; ``document`` is the open format, the rest as a sheet's."""

    __tablename__ = "stands"

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    person_id: Mapped[str] = mapped_column(ForeignKey("people.id"), index=True)
    title: Mapped[str] = mapped_column(String(200))
    document: Mapped[dict[str, Any]] = mapped_column(JSON)
    revision: Mapped[int] = mapped_column(default=1)
    last_save: Mapped[str | None] = mapped_column(String(64))
    created_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)
    updated_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)
    deleted_at: Mapped[datetime | None] = mapped_column(UtcDateTime)


class Drawing(Base):
    """A drawing on paper, beside the sheet of its sightings, whose picture is the flattened paper. ``subject_id``: the
    sheet it was drawn from, none for one from imagination; ``before_id``: the sheet of the same drawing as it was
    brought in before; ``photo_id``: the photo it was flattened from, and ``flattening`` how. ``content`` and
    ``next_time``: what the student wrote.
    """

    __tablename__ = "drawings"

    sheet_id: Mapped[str] = mapped_column(ForeignKey("sheets.id", ondelete="CASCADE"), primary_key=True)
    subject_id: Mapped[str | None] = mapped_column(ForeignKey("sheets.id", ondelete="SET NULL"), index=True)
    before_id: Mapped[str | None] = mapped_column(ForeignKey("sheets.id", ondelete="SET NULL"))
    photo_id: Mapped[str] = mapped_column(ForeignKey("pictures.id"))
    flattening: Mapped[dict[str, Any]] = mapped_column(JSON)
    content: Mapped[str] = mapped_column(String(1000), default="")
    next_time: Mapped[list[str]] = mapped_column(JSON, default=list)
    noted_at: Mapped[datetime | None] = mapped_column(UtcDateTime)

    sheet: Mapped[Sheet] = relationship(lazy="joined", foreign_keys=[sheet_id])
    photo: Mapped[Picture] = relationship(lazy="joined")


class PracticeSet(Base):
    """A set of ``length`` questions, of one ``skill`` or chosen; ``seed`` and what is in the record when it begins
    settle which. ``repeat_of``: the set whose questions are asked again.
    """

    __tablename__ = "practice_sets"

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    person_id: Mapped[str] = mapped_column(ForeignKey("people.id"), index=True)
    seed: Mapped[int]
    length: Mapped[int]
    skill: Mapped[str | None] = mapped_column(String(40))
    repeat_of: Mapped[str | None] = mapped_column(ForeignKey("practice_sets.id", ondelete="SET NULL"))
    made_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)


class PracticeQuestion(Base):
    """A question of a set: ``document`` holds all of it, the truth too; ``answer`` what was committed, and ``judged``
    and ``truth`` what that came to in the skill's unit. ``sheet_id``: the sheet of one's own that it is about.
    """

    __tablename__ = "practice_questions"
    __table_args__ = (UniqueConstraint("set_id", "number"),)

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    set_id: Mapped[str] = mapped_column(ForeignKey("practice_sets.id", ondelete="CASCADE"))
    number: Mapped[int]
    skill: Mapped[str] = mapped_column(String(40))
    sheet_id: Mapped[str | None] = mapped_column(ForeignKey("sheets.id", ondelete="SET NULL"))
    document: Mapped[dict[str, Any]] = mapped_column(JSON)
    asked_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)
    answered_at: Mapped[datetime | None] = mapped_column(UtcDateTime)
    answer: Mapped[Any | None] = mapped_column(JSON)
    judged: Mapped[float | None] = mapped_column(Double)
    truth: Mapped[float | None] = mapped_column(Double)
    seconds: Mapped[float | None] = mapped_column(Double)

    set: Mapped[PracticeSet] = relationship(lazy="joined")


class TimedDrawing(Base):
    """A drawing against the clock: ``shares`` of its phases by name, ``ended_s`` the seconds of drawing at which each
    was left, ``drawn_s`` how long was drawn so far, ``paused_s`` apart. ``sheet_id``, ``stand_id``: what was drawn,
    where that is kept here; ``holds`` and ``next_time``: what the student wrote at the end.
    """

    __tablename__ = "timed_drawings"

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    person_id: Mapped[str] = mapped_column(ForeignKey("people.id"), index=True)
    title: Mapped[str] = mapped_column(String(200))
    sheet_id: Mapped[str | None] = mapped_column(ForeignKey("sheets.id", ondelete="SET NULL"))
    stand_id: Mapped[str | None] = mapped_column(ForeignKey("stands.id", ondelete="SET NULL"))
    minutes: Mapped[float] = mapped_column(Double)
    shares: Mapped[dict[str, float]] = mapped_column(JSON)
    ended_s: Mapped[list[float]] = mapped_column(JSON, default=list)
    drawn_s: Mapped[float] = mapped_column(Double, default=0.0)
    paused_s: Mapped[float] = mapped_column(Double, default=0.0)
    holds: Mapped[str] = mapped_column(String(1000), default="")
    next_time: Mapped[list[str]] = mapped_column(JSON, default=list)
    made_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)
    finished_at: Mapped[datetime | None] = mapped_column(UtcDateTime)


class Reading(Base):
    """One reading of a skill: what was judged, drawn or answered, beside what it should be. ``sheet_id``,
    ``question_id``: where it was made, while that is kept; ``difficulty`` of a question, 0 to 1.
    """

    __tablename__ = "readings"

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    person_id: Mapped[str] = mapped_column(ForeignKey("people.id"), index=True)
    sheet_id: Mapped[str | None] = mapped_column(ForeignKey("sheets.id", ondelete="SET NULL"), index=True)
    question_id: Mapped[str | None] = mapped_column(ForeignKey("practice_questions.id", ondelete="SET NULL"))
    made_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now, index=True)
    skill: Mapped[str] = mapped_column(String(40))
    source: Mapped[str] = mapped_column(String(20))
    sighting: Mapped[str] = mapped_column(String(80))
    judged: Mapped[float]
    truth: Mapped[float]
    truth_sd: Mapped[float | None]
    unit: Mapped[str] = mapped_column(String(20))
    seconds: Mapped[float | None]
    difficulty: Mapped[float | None] = mapped_column(Double)
