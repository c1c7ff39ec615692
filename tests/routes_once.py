"""The same hundred and fifty routes are built for every application that a test makes: what werkzeug compiles of each
is kept, which is most of the making.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from werkzeug.routing import Rule

kept: dict[tuple[object, ...], Callable[..., Any]] = {}
compile_builder = Rule._compile_builder


def build_once(self: Rule, append_unknown: bool = True) -> Callable[..., Any]:
    """What builds the address of a route: it depends on nothing but the route's own text and defaults, and takes the
    route itself as its first argument.
    """
    what = (self.rule, self.subdomain, self.host, append_unknown, tuple(sorted((self.defaults or {}).items())))
    if what not in kept:
        kept[what] = compile_builder(self, append_unknown)
    return kept[what]


def keep_routes() -> None:
    """From now on, in this process."""
    Rule._compile_builder = build_once  # type: ignore[method-assign]
