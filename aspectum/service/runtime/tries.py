"""How often a passphrase or a class code may be tried."""

from __future__ import annotations

import hashlib
import math
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import delete, select
from sqlalchemy.orm import Session, sessionmaker

from aspectum.language import say
from aspectum.service.errors import Wait
from aspectum.store.counted import Try
from aspectum.store.models import now


@dataclass(frozen=True)
class Limit:
    """``most`` tries in any stretch of ``window``; ``name`` keeps the counts of one limit apart from another's."""

    name: str
    most: int
    window: timedelta


# a name's tries end at its own door; an address may be a whole classroom's, and only what fails counts against it
BY_NAME = Limit("name", 5, timedelta(minutes=5))
BY_ADDRESS = Limit("address", 40, timedelta(minutes=10))
CODES = Limit("code", 20, timedelta(minutes=10))
LONGEST = timedelta(hours=1)  # no limit looks further back
MINUTE_S = 60.0


class Tries:
    """Counted in the database, so that servers which share it count together and a restart forgets nothing."""

    def __init__(self, sessions: sessionmaker[Session], clock: Callable[[], datetime] = now) -> None:
        self.sessions, self.clock = sessions, clock

    def see(self, limit: Limit, key: str) -> None:
        """Raise ``Wait`` where nothing more may be tried."""
        with self.sessions() as session:
            self._refuse_beyond(session, limit, key, limit.most - 1)

    def count(self, limit: Limit, key: str) -> None:
        """Count a try. Raises ``Wait`` where it is one too many; that one is not counted."""
        # kept first and counted then: of tries that come at the same moment each sees the others
        with self.sessions.begin() as session:
            session.execute(delete(Try).where(Try.key == marked(limit, key), Try.at <= self.clock() - limit.window))
            tried = Try(key=marked(limit, key), at=self.clock())
            session.add(tried)
        try:
            with self.sessions() as session:
                self._refuse_beyond(session, limit, key, limit.most)
        except Wait:
            with self.sessions.begin() as session:
                session.execute(delete(Try).where(Try.id == tried.id))
            raise

    def forget(self, limit: Limit, key: str) -> None:
        with self.sessions.begin() as session:
            session.execute(delete(Try).where(Try.key == marked(limit, key)))

    def sweep(self) -> None:
        """Forget what no limit looks back to."""
        with self.sessions.begin() as session:
            session.execute(delete(Try).where(Try.at <= self.clock() - LONGEST))

    def _refuse_beyond(self, session: Session, limit: Limit, key: str, most: int) -> None:
        """Raise ``Wait`` where more than ``most`` stand in the window, until the oldest that is too many
        has left it.
        """
        recent = list(
            session.scalars(
                select(Try.at)
                .where(Try.key == marked(limit, key), Try.at > self.clock() - limit.window)
                .order_by(Try.at.desc())
            )
        )
        if len(recent) > most:
            # the newest of a refused count is taken back again, so that the wait ends with the oldest of the others
            frees = recent[limit.most] if len(recent) > limit.most else recent[-1]
            seconds = max(1, math.ceil((frees + limit.window - self.clock()).total_seconds()))
            raise Wait(
                seconds, say("That was tried too often. Wait {seconds}, then try again.", seconds=waited(seconds))
            )


def marked(limit: Limit, key: str) -> str:
    """What a count is kept under: nobody reads from it which name was typed, which may have been a passphrase."""
    return hashlib.sha256(f"{limit.name} {key}".encode()).hexdigest()


def waited(seconds: int) -> str:
    if seconds < MINUTE_S:
        return f"{seconds} seconds" if seconds > 1 else say("a second")
    minutes = math.ceil(seconds / MINUTE_S)
    return f"{minutes} minutes" if minutes > 1 else say("a minute")
