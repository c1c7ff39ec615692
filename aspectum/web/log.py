"""The log: what was asked and how long it took, with nothing in it that tells who.

A line names the route, never the address, the path's ids, the query or the body; names and passphrases come in no line.
"""

from __future__ import annotations

import logging
import sys
import time

from flask import Flask, Response, g, request

SLOW_S = 2.0
log = logging.getLogger("aspectum.requests")


def begin(every_request: bool) -> None:
    """Write the log to standard error: failures and slow answers, or every request."""
    logging.basicConfig(level=logging.WARNING, stream=sys.stderr, format="%(asctime)s %(levelname)s %(message)s")
    log.setLevel(logging.INFO if every_request else logging.WARNING)
    # a few requests that wait for a thread are no fault of anybody's
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)


def register(app: Flask) -> None:
    """Write a line for each answer."""

    @app.before_request
    def started() -> None:
        g.started = time.perf_counter()

    @app.after_request
    def answered(response: Response) -> Response:
        took = time.perf_counter() - g.get("started", time.perf_counter())
        level = logging.WARNING if response.status_code >= 500 or took > SLOW_S else logging.INFO
        log.log(
            level,
            "%s %s %d %.0f ms",
            request.method,
            request.endpoint or "no such page",
            response.status_code,
            1000 * took,
        )
        return response
