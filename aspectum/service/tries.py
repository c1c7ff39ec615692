"""How often a passphrase or a class code may be tried."""

from __future__ import annotations

import math
import time

from limits import RateLimitItem, RateLimitItemPerMinute
from limits.storage import MemoryStorage
from limits.strategies import MovingWindowRateLimiter

from aspectum.service.errors import Wait

# a name's tries end at its own door; an address may be a whole classroom's, and only what fails counts against it
BY_NAME = RateLimitItemPerMinute(5, 5)
BY_ADDRESS = RateLimitItemPerMinute(40, 10)
CODES = RateLimitItemPerMinute(20, 10)
MINUTE_S = 60.0


class Tries:
    """Counted in the memory of the one process that serves; a restart forgets them."""

    def __init__(self) -> None:
        self.limiter = MovingWindowRateLimiter(MemoryStorage())

    def see(self, limit: RateLimitItem, key: str) -> None:
        """Raise ``Wait`` where nothing more may be tried."""
        if not self.limiter.test(limit, key):
            raise self.wait(limit, key)

    def count(self, limit: RateLimitItem, key: str) -> None:
        """Count a try. Raises ``Wait`` where it is one too many."""
        if not self.limiter.hit(limit, key):
            raise self.wait(limit, key)

    def forget(self, limit: RateLimitItem, key: str) -> None:
        self.limiter.clear(limit, key)

    def wait(self, limit: RateLimitItem, key: str) -> Wait:
        seconds = max(1, math.ceil(self.limiter.get_window_stats(limit, key).reset_time - time.time()))
        return Wait(seconds, f"That was tried too often. Wait {waited(seconds)}, then try again.")


def waited(seconds: int) -> str:
    if seconds < MINUTE_S:
        return f"{seconds} seconds" if seconds > 1 else "a second"
    minutes = math.ceil(seconds / MINUTE_S)
    return f"{minutes} minutes" if minutes > 1 else "a minute"
