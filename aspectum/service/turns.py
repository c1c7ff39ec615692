"""Photos are opened one after another: each takes hundreds of megabytes while it is at it."""

from __future__ import annotations

import hashlib
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from filelock import FileLock, Timeout

from aspectum.service.errors import Busy

MOST_WAITING = 16  # each holds one of the server's threads, and its photo as a file
LOOKED_EVERY_S = 0.05
PRIVATE = 0o600


class Turns:
    """A queue of photos by the tickets that their pages gave them, one for all servers that share its folder.

    Each photo that waits is a file there, named by when it came, which its server holds locked: one that a killed server leaves behind is locked by
    nobody, and waited for by nobody.
    """

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    @contextmanager
    def turn(self, ticket: str) -> Iterator[None]:
        """Wait until all that came before are done. Raises ``Busy`` where too many wait already."""
        self.folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        end = f"-{marked(ticket)}"
        with self._queue():
            waiting = self._waiting()
            if len(waiting) > MOST_WAITING or any(path.stem.endswith(end) for path in waiting):
                raise Busy("Other photos are still being opened. Try this one again in a moment.")
            place = self.folder / f"{time.time_ns():020d}{end}.turn"
            mine = FileLock(place, mode=PRIVATE)
            mine.acquire()
        try:
            while not self._is_first(place):
                time.sleep(LOOKED_EVERY_S)
            yield
        finally:
            place.unlink(missing_ok=True)
            mine.release()

    def ahead_of(self, ticket: str) -> int | None:
        """How many photos come before this one; None where it does not wait here."""
        if not self.folder.is_dir():
            return None
        with self._queue():
            ends = [path.stem.endswith(f"-{marked(ticket)}") for path in self._waiting()]
        return ends.index(True) if True in ends else None

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
