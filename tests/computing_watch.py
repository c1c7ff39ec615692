"""Watches that no request computes while it holds the database's lock: whoever saves waits for that."""

from __future__ import annotations

import threading
from typing import Any

from flask import has_request_context, request
from sqlalchemy import Engine, event

from aspectum.core.plane.compiled import Compiled

WRITES = ("INSERT", "UPDATE", "DELETE", "REPLACE")


class Thread(threading.local):
    writing = False


here = Thread()
seen: set[str] = set()  # endpoints that computed while they wrote


def watch() -> None:
    """From now on, in this process."""

    @event.listens_for(Engine, "before_cursor_execute")
    def begins(_: Any, __: Any, statement: str, *___: Any) -> None:
        here.writing = here.writing or statement.lstrip().upper().startswith(WRITES)

    @event.listens_for(Engine, "commit")
    @event.listens_for(Engine, "rollback")
    def ends(_: Any) -> None:
        here.writing = False

    call = Compiled.__call__

    def watched(self: Compiled, *args: Any) -> Any:
        if here.writing and has_request_context():
            seen.add(f"{request.endpoint} ({self.python.__name__})")
        return call(self, *args)

    Compiled.__call__ = watched  # type: ignore[method-assign]
