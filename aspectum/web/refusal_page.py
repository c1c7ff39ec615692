"""A refusal as a page, for a person who opened an address by hand, from a link or a QR code."""

from __future__ import annotations

import base64
import hashlib
from html import escape

from flask import Response, request

from aspectum.language import say, spoken

STYLE = (
    ":root{color-scheme:light dark}"
    "body{font:1.15rem/1.5 system-ui,sans-serif;max-width:34rem;margin:18vh auto;padding:0 "
    "1.5rem;background:#cfd8cc;color:#1c2420}"
    "h1{font-size:1.6rem;margin:0 0 .6rem}a{color:#0b5a5a}"
    "@media(prefers-color-scheme:dark){body{background:#1b2320;color:#dfe6df}a{color:#7fc8c0}}"
)
# the page may load nothing at all: a name that is refused is refused its styles as well, so they come within
POLICY = (
    f"default-src 'none'; style-src 'sha256-{base64.b64encode(hashlib.sha256(STYLE.encode()).digest()).decode()}'; "
    "frame-ancestors 'none'; base-uri 'none'"
)


def wanted() -> bool:
    """Whether a browser opens the address as a page: its scripts ask for JSON."""
    return asks_for_page(request.method, request.headers.get("Accept", ""))


def asks_for_page(method: str, accept: str) -> bool:
    return method in ("GET", "HEAD") and accept.split(",")[0].strip().lower() == "text/html"


def page_of(title: str, detail: str, home: bool) -> str:
    """``home``: whether the first page can be reached at the name that was asked."""
    link = f'<p><a href="/">{escape(say("To the first page"))}</a></p>' if home else ""
    return (
        f'<!doctype html><html lang="{spoken()}"><meta charset="utf-8"><meta name="viewport" '
        f'content="width=device-width"><title>{escape(title)} – Aspectum</title>'
        f"<style>{STYLE}</style><h1>{escape(title)}</h1><p>{escape(detail)}</p>{link}</html>"
    )


def refusal_page(status: int, title: str, detail: str) -> Response:
    return Response(
        page_of(title, detail, home=status not in (421, 503)),
        status,
        {"Content-Security-Policy": POLICY},
        mimetype="text/html",
    )
