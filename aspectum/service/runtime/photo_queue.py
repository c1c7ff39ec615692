"""Photos are opened one after another: each takes hundreds of megabytes while it is at it."""

from __future__ import annotations

import hashlib
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from filelock import FileLock, Timeout

from aspectum.language import say
from aspectum.service.errors import Busy, Stopped

MOST_WAITING = 16  # each holds one of the server's threads, and its photo as a file
LOOKED_EVERY_S = 0.05
PRIVATE = 0o600
LEFT_ALONE_S = 100.0  # since a page asked last: one in the background may ask once a minute only


class PhotoQueue:
    """A queue of photos by the tickets that their pages gave them, one for all servers that share its folder.

    Each photo that waits is a file there, named by when it came, which its server holds locked: one that a killed
    server leaves behind is locked by nobody, and waited for by nobody.
    """

    def __init__(self, folder: Path, most_waiting: int = MOST_WAITING) -> None:
        self.folder = folder
        self.most_waiting = most_waiting

    def is_left_alone(self, ticket: str) -> bool:
        """Whether a page that asked where its photo stands asks no more: it was closed, or its device is gone. Who
        never asks waits without.
        """
        try:
            return time.time() - self._asked(ticket).stat().st_mtime > LEFT_ALONE_S
        except FileNotFoundError:
            return False

    @contextmanager
    def turn(self, ticket: str) -> Iterator[Callable[[], bool]]:
        """Wait until all that came before are done; answers what tells whether it was stopped since. Raises ``Busy``
        where too many wait already, and ``Stopped``.
        """
        self.folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        end = f"-{marked(ticket)}"
        with self._queue():
            waiting = self._waiting()
            if len(waiting) > self.most_waiting or any(path.stem.endswith(end) for path in waiting):
                raise Busy(say("Other photos are still being opened. Try this one again in a moment."))
            place = self.folder / f"{time.time_ns():020d}{end}.turn"
            mine = FileLock(place, mode=PRIVATE)
            mine.acquire()
        stop, asked = self._stop(ticket), self._asked(ticket)

        def ended() -> bool:
            return stop.exists() or self.is_left_alone(ticket)

        try:
            while not self._is_first(place):
                if ended():
                    raise Stopped
                time.sleep(LOOKED_EVERY_S)
            yield ended
        finally:
            stop.unlink(missing_ok=True)
            asked.unlink(missing_ok=True)
            place.unlink(missing_ok=True)
            mine.release()

    def stop(self, ticket: str) -> None:
        """Have a photo that waits, or is worked on, given up, by whichever server has it."""
        if self.ahead_of(ticket) is None:
            return
        self._stop(ticket).touch(mode=PRIVATE)
        if self.ahead_of(ticket) is None:  # it came to its end meanwhile
            self._stop(ticket).unlink(missing_ok=True)

    def ask(self, ticket: str) -> int | None:
        """As ``ahead_of``, by the page that waits for it."""
        ahead = self.ahead_of(ticket)
        if ahead is not None:
            self._asked(ticket).touch(mode=PRIVATE)
            if self.ahead_of(ticket) is None:  # it came to its end meanwhile
                self._asked(ticket).unlink(missing_ok=True)
        return ahead

    def ahead_of(self, ticket: str) -> int | None:
        """How many photos come before this one; None where it does not wait here."""
        if not self.folder.is_dir():
            return None
        with self._queue():
            ends = [path.stem.endswith(f"-{marked(ticket)}") for path in self._waiting()]
        return ends.index(True) if True in ends else None

    def _stop(self, ticket: str) -> Path:
        return self.folder / f"{marked(ticket)}.stop"

    def _asked(self, ticket: str) -> Path:
        return self.folder / f"{marked(ticket)}.asked"

    def _is_first(self, place: Path) -> bool:
        with self._queue():
            return self._waiting()[:1] == [place]

    def _queue(self) -> FileLock:
        """Held while the queue is looked at: a lock that is tried must not look like one that is held."""
        return FileLock(self.folder / "queue.lock", mode=PRIVATE)

    def _waiting(self) -> list[Path]:
        """The photos that wait or are being opened, in order; what nobody holds any more is cleared away."""
        found = []
        for path in sorted(self.folder.glob("*.turn")):
            held = FileLock(path, timeout=0, mode=PRIVATE)
            try:
                with held:
                    path.unlink(missing_ok=True)
            except Timeout:
                found.append(path)
        return found


def marked(ticket: str) -> str:
    """A ticket as a part of a file's name."""
    return hashlib.sha256(ticket.encode()).hexdigest()[:32]
