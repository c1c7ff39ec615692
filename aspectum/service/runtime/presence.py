"""Who is looking at the room's screen just now, as their devices ask again and again."""

from __future__ import annotations

import logging
from collections.abc import Callable
from datetime import datetime, timedelta

from sqlalchemy import delete, func, select, update
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session, sessionmaker

from aspectum.store.counted import SeenInRoom
from aspectum.store.models import now

STILL_HERE = timedelta(seconds=12)  # a device asks every second or two; one asleep for longer is away
NOTED_EVERY = timedelta(seconds=4)  # a row is written this often, not each time a device asks

log = logging.getLogger(__name__)


class Presence:
    """Kept in the database, which servers share."""

    def __init__(self, sessions: sessionmaker[Session], clock: Callable[[], datetime] = now) -> None:
        self.sessions, self.clock = sessions, clock
        self.noted: dict[tuple[str, str], datetime] = {}

    def here(self, class_id: str, person_id: str) -> None:
        """Note that somebody's device asked. Where it cannot be noted the room is read all the same."""
        at, key = self.clock(), (class_id, person_id)
        if at - self.noted.get(key, at - NOTED_EVERY) < NOTED_EVERY:
            return
        self.noted[key] = at
        try:
            with self.sessions.begin() as session:
                again = (
                    update(SeenInRoom)
                    .where(SeenInRoom.class_id == class_id, SeenInRoom.person_id == person_id)
                    .values(at=at)
                )
                if session.execute(again).rowcount == 0:  # type: ignore[attr-defined]
                    session.add(SeenInRoom(class_id=class_id, person_id=person_id, at=at))
        except DBAPIError:  # another device of theirs noted it in the same moment, or the disk is full
            log.info("a device in the room could not be noted")

    def count(self, class_id: str) -> int:
        """How many devices' people are there."""
        with self.sessions() as session:
            there = (
                select(func.count())
                .select_from(SeenInRoom)
                .where(SeenInRoom.class_id == class_id, SeenInRoom.at > self.clock() - STILL_HERE)
            )
            return session.scalar(there) or 0

    def sweep(self) -> None:
        """Forget who was there at another time."""
        with self.sessions.begin() as session:
            session.execute(delete(SeenInRoom).where(SeenInRoom.at <= self.clock() - STILL_HERE))
