"""Tables of what servers on one database count together: tries, and who is in the room."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from aspectum.store.models import Base, UtcDateTime


class Try(Base):
    """One try; ``key`` says of what, and cannot be read back."""

    __tablename__ = "tries"

    id: Mapped[int] = mapped_column(primary_key=True)
    key: Mapped[str] = mapped_column(String(64), index=True)
    at: Mapped[datetime] = mapped_column(UtcDateTime, index=True)


class SeenInRoom(Base):
    """When somebody's device last asked for the room's question."""

    __tablename__ = "seen_in_room"

    class_id: Mapped[str] = mapped_column(ForeignKey("classes.id", ondelete="CASCADE"), primary_key=True)
    person_id: Mapped[str] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), primary_key=True)
    at: Mapped[datetime] = mapped_column(UtcDateTime)
