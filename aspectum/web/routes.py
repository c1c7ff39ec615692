"""The routes of the API, each declared once, where it is written: what it does with whose things, what its body is, in
which queue it computes, and what it may answer. The door (``access``), the look at bodies (``bodies``), the queues
(``api.base``) and the description (``openapi``) all read it here.
"""

from __future__ import annotations

import inspect
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from enum import Enum
from functools import wraps
from typing import Any, TypedDict, TypeVar, Unpack

from flask import Blueprint, request
from pydantic import BaseModel
from spectree import Response as Answers
from spectree import SpecTree

from aspectum.service.people.may import Action
from aspectum.web.problems import Problem

Json = dict[str, Any]
View = TypeVar("View", bound=Callable[..., Any])


@dataclass(frozen=True)
class Rule:
    """``action``: what the route does, None where it is open to anybody; ``kind``: of the thing that its path names in
    ``part``, one's own work where it names none.
    """

    action: Action | None
    kind: str = ""
    part: str = ""


OPEN, OWN_WORK = Rule(None), Rule(Action.CHANGE)


def reads(kind: str, part: str) -> Rule:
    return Rule(Action.READ, kind, part)


def changes(kind: str, part: str) -> Rule:
    return Rule(Action.CHANGE, kind, part)


def tutor_of(kind: str, part: str) -> Rule:
    return Rule(Action.LEAD, kind, part)


def member_of(kind: str, part: str) -> Rule:
    return Rule(Action.TAKE_PART, kind, part)


LEADS, TAKES_PART = tutor_of("class", "class_id"), member_of("class", "class_id")
READS_SHEET, CHANGES_SHEET = reads("sheet", "sheet_id"), changes("sheet", "sheet_id")
READS_STAND, CHANGES_STAND = reads("stand", "stand_id"), changes("stand", "stand_id")


class Queue(Enum):
    """When what a route computes has its turn: ``HAND`` for a hand that moves, whose next question overtakes the one
    before; ``OPENS`` for a screen that opens, never refused; ``SAVE`` ahead of what moves; ``FILE``, to save or print,
    after both. ``NONE`` computes nothing that anybody would wait for.
    """

    NONE = "none"
    HAND = "hand"
    OPENS = "opens"
    SAVE = "save"
    FILE = "file"


class Body(Enum):
    """What a request carries."""

    NOTHING = "nothing"
    JSON = "json"
    FILE = "file"


@dataclass(frozen=True)
class FileBody:
    """A file as the body: ``words`` for the description, ``types`` of media that it may say that it is (``image/``
    stands for all of them), and whether it is a ``photo``, which may be larger than anything else.
    """

    words: str
    types: tuple[str, ...]
    photo: bool = False


BINARY: Json = {"type": "string", "format": "binary"}
TEXT: Json = {"type": "string"}
OBJECT: Json = {"type": "object"}


@dataclass(frozen=True)
class Gives:
    """A file as the answer: schemas by media type; ``choices`` of a part of the path, or another ``schema`` of it;
    names ``asked`` for in the query; ``unchanged``: 304 where the browser has it.
    """

    content: Mapping[str, Json]
    choices: Mapping[str, list[str]] = field(default_factory=dict)
    asked: tuple[str, ...] = ()
    unchanged: bool = False


def schema_of(media: str) -> Json:
    return (
        OBJECT
        if media == "application/json"
        else TEXT
        if media.startswith("text/") or media == "image/svg+xml"
        else BINARY
    )


def file_of(
    *media: str, choices: Mapping[str, list[str]] | None = None, asked: tuple[str, ...] = (), unchanged: bool = False
) -> Gives:
    """A file of one of the ``media`` types."""
    return Gives({each: schema_of(each) for each in media}, choices or {}, asked, unchanged)


def file_by_kind(kinds: Mapping[str, tuple[str, Any]], *asked: str) -> Gives:
    """A file whose ``<kind>`` in the path is one of ``kinds``, each with its media type."""
    return file_of(*(media for media, _ in kinds.values()), choices={"kind": list(kinds)}, asked=asked)


CSV, ZIP, PDF, JPEG, SVG = (
    file_of(media) for media in ("text/csv", "application/zip", "application/pdf", "image/jpeg", "image/svg+xml")
)


PHOTO = FileBody("A JPEG, PNG, WebP or HEIC photo", ("application/octet-stream", "image/"), photo=True)


@dataclass(frozen=True)
class Route:
    """``stores``: whether it writes, and so may find no room; ``tried``: counted against those who guess; ``misses``:
    answers that there is no such thing, though its path names none; ``refuses``: to some who may otherwise ask.
    """

    method: str
    path: str
    who: Rule
    operation: str
    body: Body
    file: FileBody | None
    gives: Gives | None
    queue: Queue
    stores: bool
    tried: bool
    misses: bool
    refuses: bool
    stale: bool


ROUTES: dict[str, Route] = {}


class Further(TypedDict, total=False):
    """What is not so of most routes."""

    queue: Queue
    file: FileBody
    stores: bool
    tried: bool
    misses: bool
    refuses: bool
    stale: bool


class Feature:
    """One feature's routes."""

    def __init__(self, name: str, spec: SpecTree) -> None:
        self.blueprint = Blueprint(name, __name__, url_prefix="/api")
        self.spec = spec

    def route(
        self,
        method: str,
        path: str,
        who: Rule,
        operation: str,
        answers: type[BaseModel] | Gives | None,
        *,
        queue: Queue = Queue.NONE,
        file: FileBody | None = None,
        stores: bool = True,
        tried: bool = False,
        misses: bool = False,
        refuses: bool = False,
        stale: bool = False,
    ) -> Callable[[View], View]:
        """Declare a view. ``answers``: the model that it answers with, None for nothing (204)."""

        def declare(view: View) -> View:
            takes = inspect.signature(view).parameters
            body = Body.FILE if file is not None else Body.JSON if "json" in takes else Body.NOTHING
            gives = answers if isinstance(answers, Gives) else None
            led = who.action is Action.LEAD
            ROUTES[f"{self.blueprint.name}.{view.__name__}"] = Route(
                method,
                path,
                who,
                operation,
                body,
                file,
                gives,
                queue,
                stores and method != "GET",
                tried,
                misses,
                refuses or led,
                stale,
            )
            known: dict[str, Any] = {} if gives else {"HTTP_204" if answers is None else "HTTP_200": answers}
            if stale:
                known["HTTP_409"] = Problem
            seen = self.spec.validate(resp=Answers(**known) if known else None, operation_id=operation)(view)
            as_it_is = gives is not None and not {"json", "query"} & takes.keys()
            self.blueprint.add_url_rule(
                path, view.__name__, described_by(seen, view) if as_it_is else seen, methods=[method]
            )
            return view

        return declare

    def get(
        self, path: str, who: Rule, operation: str, answers: type[BaseModel] | Gives | None, **further: Unpack[Further]
    ) -> Callable[[View], View]:
        return self.route("GET", path, who, operation, answers, **further)

    def post(
        self, path: str, who: Rule, operation: str, answers: type[BaseModel] | Gives | None, **further: Unpack[Further]
    ) -> Callable[[View], View]:
        return self.route("POST", path, who, operation, answers, **further)

    def put(
        self, path: str, who: Rule, operation: str, answers: type[BaseModel] | Gives | None, **further: Unpack[Further]
    ) -> Callable[[View], View]:
        return self.route("PUT", path, who, operation, answers, **further)

    def delete(
        self, path: str, who: Rule, operation: str, answers: type[BaseModel] | Gives | None, **further: Unpack[Further]
    ) -> Callable[[View], View]:
        return self.route("DELETE", path, who, operation, answers, **further)


def described_by(seen: Callable[..., Any], view: Callable[..., Any]) -> Callable[..., Any]:
    """``view``, known to the description as ``seen`` is, whose check would read a file whole into memory before it is
    sent.
    """

    @wraps(seen)
    def plain(*args: Any, **kwargs: Any) -> Any:
        return view(*args, **kwargs)

    return plain


def this_route() -> Route:
    """The route that is being answered."""
    return ROUTES[request.endpoint or ""]
