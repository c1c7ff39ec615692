"""What can go wrong, in terms a person can act on."""

from __future__ import annotations


class Missing(Exception):
    """There is no such thing, or it belongs to somebody else."""


class Stale(Exception):
    """The sheet was saved elsewhere since it was read; nothing was overwritten."""

    def __init__(self, revision: int) -> None:
        super().__init__(f"revision {revision} is newer")
        self.revision = revision


class Busy(Exception):
    """Too many ask for the same at once; nothing was changed."""


class Stopped(Exception):
    """Whoever waited for it asked for it no longer."""


class NoRoom(Exception):
    """The disk or database would not take it; nothing was changed."""


class Unfit(Exception):
    """What was given cannot be; nothing was changed."""


class Wait(Exception):
    """Tried too often; nothing was looked at."""

    def __init__(self, seconds: int, words: str) -> None:
        super().__init__(words)
        self.seconds = seconds


class Refused(Exception):
    """The person asking may not do this."""
