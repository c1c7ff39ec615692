"""The server that the application runs behind."""

from __future__ import annotations

import json
from collections.abc import Callable
from contextlib import suppress
from typing import Any

from waitress.channel import HTTPChannel
from waitress.server import create_server
from waitress.task import ErrorTask

from aspectum.language import say
from aspectum.pictures.opening import LIMIT_BYTES
from aspectum.web.bodies import LARGEST_BODY
from aspectum.web.languages import speak_to
from aspectum.web.refusal_page import POLICY, asks_for_page, page_of

THREADS = 48  # most only wait for their turn to compute; a save must find one that is free
PROXY_HEADERS = "x-forwarded-for x-forwarded-host x-forwarded-proto"
CONNECTIONS = 1200  # a hundred browsers keep six each, and as many again come before the old ones are let go
QUIET_S = 60  # after which a connection that says nothing is let go, in the middle of a request too
LOOKED_EVERY_S = 10
FILES = 4096  # that may be open at once: each connection is one


class ProblemTask(ErrorTask):  # type: ignore[misc]  # waitress is untyped
    """What the server refuses by itself, before the application hears of it, as a problem too."""

    def execute(self) -> None:
        speak_to(self.request.headers.get("ACCEPT_LANGUAGE", ""))
        error = self.request.error
        detail = (
            say("What was sent is larger than {limit_bytes} MB.", limit_bytes=LIMIT_BYTES // 1024 // 1024)
            if error.code == 413
            else str(error.body)
        )
        if asks_for_page(self.request.command or "", self.request.headers.get("ACCEPT", "")):
            kind, body = "text/html; charset=utf-8", page_of(error.reason, detail, home=True).encode()
            self.response_headers.append(("Content-Security-Policy", POLICY))
        else:
            kind, body = (
                "application/problem+json",
                json.dumps(
                    {"type": "about:blank", "title": error.reason, "status": error.code, "detail": detail}
                ).encode(),
            )
        self.status = f"{error.code} {error.reason}"
        self.response_headers += [("Content-Type", kind), ("Cache-Control", "no-store"), ("Connection", "close")]
        self.set_close_on_finish()
        self.content_length = len(body)
        self.write(body)


class Channel(HTTPChannel):  # type: ignore[misc]
    error_task_class = ProblemTask


def allow_files() -> None:
    """Let this process have ``FILES`` open, where the system allows it."""
    with suppress(ImportError, ValueError, OSError):  # not every system limits them
        import resource

        least, most = resource.getrlimit(resource.RLIMIT_NOFILE)
        wanted = FILES if most == resource.RLIM_INFINITY else min(FILES, most)
        if least != resource.RLIM_INFINITY and least < wanted:
            resource.setrlimit(resource.RLIMIT_NOFILE, (wanted, most))


def make_server(app: Callable[..., Any], host: str, port: int, threads: int = THREADS, proxy: str | None = None) -> Any:
    """A waitress server, not yet running, that refuses bodies over the limit by their announced length, before it reads
    them. ``proxy``: address of the one that stands in front, whose word is taken for who asks, by which name, and
    whether the connection is encrypted. Raises ``OSError`` where the port cannot be used.
    """
    trusted: dict[str, Any] = (
        {}
        if proxy is None
        else {"trusted_proxy": proxy, "trusted_proxy_count": 1, "trusted_proxy_headers": PROXY_HEADERS}
    )
    sockets: dict[int, Any] = {}
    server = create_server(
        app,
        map=sockets,
        host=host,
        port=port,
        threads=threads,
        max_request_body_size=LARGEST_BODY + 1,
        connection_limit=CONNECTIONS,
        channel_timeout=QUIET_S,
        cleanup_interval=LOOKED_EVERY_S,
        asyncore_use_poll=True,  # select() ends at 1024 files
        backlog=CONNECTIONS,
        ident="Aspectum",
        clear_untrusted_proxy_headers=True,
        **trusted,
    )
    for part in sockets.values():
        if hasattr(part, "channel_class"):
            part.channel_class = Channel
    return server
