"""Who may talk to the server, and what a page may load."""

from __future__ import annotations

from urllib.parse import urlsplit

from flask import Flask, Response, request

from aspectum.language import say
from aspectum.web.problems import problem

POLICY = "; ".join(
    (
        "default-src 'none'",
        "script-src 'self'",
        "style-src 'self'",
        "img-src 'self' data: blob:",
        "font-src 'self'",
        "connect-src 'self'",
        "base-uri 'none'",
        "form-action 'self'",
        "frame-ancestors 'none'",
    )
)
NOT_THIS_NAME = (
    "Aspectum runs here, but does not answer to the name ‘{}’. Open the address that your tutor has, or scan the code "
    "on the projector. "
    "Whoever runs the server lets it answer to more names with ASPECTUM_HOSTS."
)
SAFE = {"GET", "HEAD", "OPTIONS"}


def register(app: Flask, hosts: tuple[str, ...]) -> None:
    """Refuse foreign host names and cross-site writes; send the content security policy."""

    @app.before_request
    def check_origin() -> Response | None:
        host = request.host.rsplit(":", 1)[0] if not request.host.endswith("]") else request.host
        if host not in hosts:
            return problem(421, say("Not this address"), NOT_THIS_NAME.format(host[:100]))
        if request.method in SAFE:
            return None
        site = request.headers.get("Sec-Fetch-Site")
        origin = request.headers.get("Origin")
        foreign = (site is not None and site not in ("same-origin", "none")) or (
            origin is not None and urlsplit(origin).netloc != request.host
        )
        if foreign:
            return problem(403, say("Refused"), say("Requests from other sites are refused."))
        return None

    @app.after_request
    def add_headers(response: Response) -> Response:
        headers = response.headers
        headers.setdefault("Content-Security-Policy", POLICY)
        headers["X-Content-Type-Options"] = "nosniff"
        headers["Referrer-Policy"] = "same-origin"
        headers["Cross-Origin-Opener-Policy"] = "same-origin"
        headers["Cross-Origin-Resource-Policy"] = "same-origin"
        headers["Permissions-Policy"] = "camera=(self), geolocation=(), microphone=()"
        headers.setdefault("Cache-Control", "no-store")
        return response
