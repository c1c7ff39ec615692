"""Who is looking at the room's screen just now, as their devices ask again and again."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field

STILL_HERE_S = 12.0  # a device asks every second or two; one asleep for longer is away


@dataclass
class Presence:
    """Kept in the memory of the one process that serves."""

    clock: Callable[[], float] = time.monotonic
    seen: dict[tuple[str, str], float] = field(default_factory=dict)
    lock: threading.Lock = field(default_factory=threading.Lock)

    def here(self, class_id: str, person_id: str) -> None:
        with self.lock:
            self.seen[class_id, person_id] = self.clock()

    def count(self, class_id: str) -> int:
        """How many devices' people are there."""
        since = self.clock() - STILL_HERE_S
        with self.lock:
            self.seen = {key: at for key, at in self.seen.items() if at >= since}
            return sum(of == class_id for of, _ in self.seen)
