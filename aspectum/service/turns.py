"""Photos are opened one after another: each takes hundreds of megabytes while it is at it."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager

from aspectum.service.errors import Busy

MOST_WAITING = 4  # each holds one of the server's threads


class Turns:
    """A queue of photos by the tickets that their pages gave them."""

    def __init__(self) -> None:
        self._lock = threading.Condition()
        self._queue: list[str] = []

    @contextmanager
    def turn(self, ticket: str) -> Iterator[None]:
        """Wait until all that came before are done. Raises ``Busy`` where too many wait already."""
        with self._lock:
            if len(self._queue) > MOST_WAITING or ticket in self._queue:
                raise Busy("Other photos are still being opened. Try this one again in a moment.")
            self._queue.append(ticket)
            self._lock.wait_for(lambda: self._queue[0] == ticket)
        try:
            yield
        finally:
            with self._lock:
                self._queue.remove(ticket)
                self._lock.notify_all()

    def ahead_of(self, ticket: str) -> int | None:
        """How many photos come before this one; None where it does not wait here."""
        with self._lock:
            return self._queue.index(ticket) if ticket in self._queue else None
