"""Talking to a running server over its socket, as a browser or a stranger would."""

from __future__ import annotations

import json
import urllib.error
import urllib.request
from typing import Any, Protocol


class HasUrl(Protocol):
    @property
    def url(self) -> str: ...


def ask(
    server: HasUrl, method: str, path: str, body: bytes | None = None, media: str = "application/json", **headers: str
) -> tuple[int, Any, bytes]:
    request = urllib.request.Request(f"{server.url}{path}", body, {"Content-Type": media, **headers}, method=method)
    try:
        with urllib.request.urlopen(request, timeout=60) as answer:
            return answer.status, answer.headers, answer.read()
    except urllib.error.HTTPError as error:
        with error:
            return error.code, error.headers, error.read()


def tell(server: HasUrl, method: str, path: str, content: Any = None) -> tuple[int, dict[str, Any]]:
    status, _, body = ask(server, method, path, None if content is None else json.dumps(content).encode())
    return status, json.loads(body or b"{}")


def upload(server: HasUrl, data: bytes) -> dict[str, Any]:
    _, _, body = ask(server, "POST", "/api/pictures?name=crates.jpg", data, "application/octet-stream")
    found: dict[str, Any] = json.loads(body)
    return found


def new_sheet(server: HasUrl, jpeg: bytes) -> dict[str, Any]:
    picture = upload(server, jpeg)
    _, line = tell(server, "POST", "/api/sheets", {"picture_id": picture["id"]})
    return tell(server, "GET", f"/api/sheets/{line['id']}")[1]
