"""Tables of a class: who belongs to it, who is signed in, and what a telephone sent."""

from __future__ import annotations

from datetime import datetime
from enum import StrEnum

from sqlalchemy import ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column, relationship

from aspectum.store.models import Base, Person, Picture, UtcDateTime, new_id, now


class Role(StrEnum):
    """What a member of a class is."""

    TUTOR = "tutor"
    STUDENT = "student"
    GUEST = "guest"


class ClassRow(Base):
    """A class; ``code`` lets people join until ``closed_at``."""

    __tablename__ = "classes"

    id: Mapped[str] = mapped_column(String(32), primary_key=True, default=new_id)
    name: Mapped[str] = mapped_column(String(200))
    code: Mapped[str] = mapped_column(String(16), unique=True)
    made_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)
    closed_at: Mapped[datetime | None] = mapped_column(UtcDateTime)


class Member(Base):
    """A person in a class, as a ``Role``; a guest stays until ``until``. Whoever was removed keeps the row, and their
    work.
    """

    __tablename__ = "members"

    class_id: Mapped[str] = mapped_column(ForeignKey("classes.id", ondelete="CASCADE"), primary_key=True)
    person_id: Mapped[str] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), primary_key=True, index=True)
    role: Mapped[str] = mapped_column(String(10))
    joined_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)
    removed_at: Mapped[datetime | None] = mapped_column(UtcDateTime)
    until: Mapped[datetime | None] = mapped_column(UtcDateTime)

    person: Mapped[Person] = relationship(lazy="joined")
    of: Mapped[ClassRow] = relationship(lazy="joined")


class SignIn(Base):
    """Somebody signed in on a device; ``id`` is the SHA-256 of what that device's cookie holds, so that who reads this
    table signs in nowhere.
    """

    __tablename__ = "sign_ins"

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    person_id: Mapped[str] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    made_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)
    seen_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)

    person: Mapped[Person] = relationship(lazy="joined")


class Arrived(Base):
    """A photo that a telephone sent to a sheet."""

    __tablename__ = "arrived"

    picture_id: Mapped[str] = mapped_column(ForeignKey("pictures.id", ondelete="CASCADE"), primary_key=True)
    sheet_id: Mapped[str] = mapped_column(ForeignKey("sheets.id", ondelete="CASCADE"), index=True)
    made_at: Mapped[datetime] = mapped_column(UtcDateTime, default=now)

    picture: Mapped[Picture] = relationship(lazy="joined")
