"""Where checks and pages are computed: in an order, and with as many processes at once as the server was given.

A check takes tens of milliseconds of one processor. Left to themselves, thirty of them at once would all take thirty
times as long, and the saves between them too; in a queue the mean wait is half of that, what must not wait goes first,
and what nobody looks at any more is never computed.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from enum import IntEnum
from typing import ParamSpec, Protocol, TypeVar

from aspectum.language import say
from aspectum.service.errors import Busy

MOST_OF_ONE = 4  # one person's checks that wait or run: a browser has six connections, and saves are to find one free
MOST_WAITING = 64
NEWEST_SHARE = 0.1  # of the newest question in the mean of what they take

P = ParamSpec("P")
Answer = TypeVar("Answer")


class Order(IntEnum):
    """What goes first: the answer to a save, then what follows a hand that moves, then what is printed."""

    SAVE = 0
    CHECK = 1
    PAGE = 2


@dataclass(frozen=True)
class Asker:
    """Whose question it is, and of which of their pages: a page's newer question overtakes its older one. Without a
    ``page`` none is overtaken.
    """

    person: str
    page: str | None = None


class Overtaken(Busy):
    """A newer question of the same page came before this one's turn."""


class Workers(Protocol):
    """What computes: ``places`` at once."""

    places: int

    def run(self, place: int, function: Callable[P, Answer], /, *args: P.args, **kwargs: P.kwargs) -> Answer:
        """What ``function`` answers, or raises; computed at ``place``, which nobody else uses meanwhile."""

    def close(self) -> None:
        """Let go of everything."""


class InThread:
    """Computes in the thread that asks, one at a time: for a person alone, and for tests."""

    places = 1

    def run(self, place: int, function: Callable[P, Answer], /, *args: P.args, **kwargs: P.kwargs) -> Answer:
        return function(*args, **kwargs)

    def close(self) -> None:
        pass


@dataclass(eq=False)
class Waiting:
    """A question that waits: ``place`` once it has one."""

    order: Order
    asker: Asker | None
    place: int | None = None
    overtaken: bool = False


@dataclass
class Computing:
    """Questions in order before ``workers``; ``admitted``: how many came in so far."""

    workers: Workers = field(default_factory=InThread)
    admitted: int = 0

    def __post_init__(self) -> None:
        self._lock = threading.Condition()
        self._free = list(range(self.workers.places))
        self._waiting: list[Waiting] = []
        self._running: list[Waiting] = []
        self._takes_s = 0.0  # the mean of checks and answers to saves of late

    def wait_s(self, person: str) -> float:
        """How long a check of this person's that is asked now would wait behind others', by what waits and what such
        questions took of late.

        Nobody's own questions count: who asks alone need not ask less often. It is what waits just now and no mean of
        what was waited: by a mean everybody would rest between bursts, when nobody need, and too short in a burst.
        """
        with self._lock:
            others = sum(
                one.order is not Order.PAGE and (one.asker is None or one.asker.person != person)
                for one in self._waiting
            )
            return others * self._takes_s / self.workers.places

    def run(
        self, order: Order, asker: Asker | None, function: Callable[P, Answer], /, *args: P.args, **kwargs: P.kwargs
    ) -> Answer:
        """What ``function`` answers, when its turn has come. Raises ``Busy`` where too many wait, ``Overtaken`` where a
        newer question of the same page came in between, and whatever ``function`` raises.
        """
        with self._turn(Waiting(order, asker)) as place:
            return self.workers.run(place, function, *args, **kwargs)

    @contextmanager
    def _turn(self, mine: Waiting) -> Iterator[int]:
        with self._lock:
            self._admit(mine)
            self._waiting.append(mine)
            self.admitted += 1
            self._hand_out()
            self._lock.wait_for(lambda: mine.place is not None or mine.overtaken)
            if mine.place is None:
                raise Overtaken(say("A newer question of this page came first."))
        begun = time.perf_counter()
        try:
            yield mine.place
        finally:
            with self._lock:
                if mine.order is not Order.PAGE:
                    self._takes_s += NEWEST_SHARE * (time.perf_counter() - begun - self._takes_s)
                self._running.remove(mine)
                self._free.append(mine.place)
                self._hand_out()

    def _admit(self, mine: Waiting) -> None:
        """Let older questions of the same page go, and refuse what is too much."""
        if mine.order is not Order.CHECK or mine.asker is None:
            return
        for older in [
            one
            for one in self._waiting
            if one.order is Order.CHECK and mine.asker.page is not None and one.asker == mine.asker
        ]:
            older.overtaken = True
            self._waiting.remove(older)
        self._lock.notify_all()
        theirs = sum(
            one.asker is not None and one.asker.person == mine.asker.person and one.order is Order.CHECK
            for one in self._waiting + self._running
        )
        if theirs >= MOST_OF_ONE or len(self._waiting) >= MOST_WAITING:
            raise Busy(say("Too many checks wait just now. Ask again in a moment."))

    def _hand_out(self) -> None:
        """Give free places to those whose turn it is. A page to print leaves one place to the hands that move, where
        there is more than one.
        """
        while self._free and self._waiting:
            pages_full = sum(one.order is Order.PAGE for one in self._running) >= max(1, self.workers.places - 1)
            fit = [one for one in self._waiting if not (pages_full and one.order is Order.PAGE)]
            if not fit:
                break
            first = min(fit, key=lambda one: one.order)  # of equals the one that came first
            self._waiting.remove(first)
            first.place = self._free.pop()
            self._running.append(first)
        self._lock.notify_all()
