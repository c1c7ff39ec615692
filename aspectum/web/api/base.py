"""What every feature's routes stand on: the description, the installation, and a unit of work."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Annotated, Any, ParamSpec, TypeVar

from flask import Response, after_this_request, current_app, g, request
from pydantic import BaseModel, ConfigDict, Field
from spectree import SpecTree
from sqlalchemy.orm import Session

from aspectum.service.people import quota
from aspectum.service.runtime.computing import Asker, Order
from aspectum.service.runtime.installation import Installation
from aspectum.store.models import Person
from aspectum.web.problems import Problem
from aspectum.web.routes import Feature, Queue, this_route
from aspectum.web.visitors import settings

P = ParamSpec("P")
Answer = TypeVar("Answer")

# what a page calls itself, a save or a photo on its way
Mark = Annotated[str, Field(min_length=8, max_length=64, pattern=r"^[0-9A-Za-z-]+$")]


class Message(BaseModel):
    """The body of a request or of an answer."""

    model_config = ConfigDict(defer_build=True, extra="forbid")


def refuse_faulty(req: Any, resp: Any, fault: Exception | None, instance: Any, adapter: Any) -> None:
    """Answer a request that does not fit its model with a problem that names the place."""
    if fault is not None:
        raise fault


class Described(SpecTree):
    """As spectree, but that a model's JSON schema is made when the description is: at decoration they are half of the
    time that importing the routes takes.
    """

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self._waiting: list[tuple[type[BaseModel], Any]] = []

    def _add_model(self, model: type[BaseModel], mode: Any = "validation") -> str:
        self._waiting.append((model, mode))
        return self.naming_strategy(model)

    def _generate_spec(self) -> dict[str, Any]:
        for model, mode in self._waiting:
            super()._add_model(model=model, mode=mode)
        self._waiting.clear()
        described: dict[str, Any] = super()._generate_spec()
        return described


spec = Described(
    "flask",
    title="Aspectum",
    version="1",
    path="docs",  # of its own pages, which load scripts from elsewhere: it is never registered
    mode="strict",
    annotations=True,
    before=refuse_faulty,
    after=refuse_faulty,
    naming_strategy=lambda model: model.__name__,
    nested_naming_strategy=lambda _, child: child,
    validation_error_model=Problem,
)


def feature(name: str) -> Feature:
    return Feature(name, spec)


def here() -> Installation:
    """The installation that answers this request."""
    found: Installation = current_app.extensions["aspectum"]
    return found


def asking() -> str:
    """Id of the person who asks, as ``access`` found it."""
    found: str = g.asking
    return found


def owner() -> str:
    """Id of the person whose work is looked at or changed: the one who asks, except where a tutor looks at
    a student's.
    """
    found: str = g.owner
    return found


def computed(function: Callable[P, Answer], /, *args: P.args, **kwargs: P.kwargs) -> Answer:
    """What ``function`` answers when its turn has come, in the queue that this route declares.

    For a hand that moves, its page's newer question overtakes the one before, and the answer says how long the next
    would wait behind those of others (``Server-Timing``, W3C; ``queue``, ms), by which a page asks more seldom. Raises
    ``LookupError`` where the route declares no queue.
    """
    computing, queue = here().computing, this_route().queue
    if queue is Queue.NONE:
        raise LookupError(f"{request.endpoint} computes, and declares no queue")
    if queue is not Queue.HAND:
        order = {Queue.OPENS: Order.CHECK, Queue.SAVE: Order.SAVE, Queue.FILE: Order.PAGE}[queue]
        return computing.run(order, Asker(asking()) if queue is Queue.SAVE else None, function, *args, **kwargs)
    page: str | None = getattr(request.context.json, "page", None)  # type: ignore[attr-defined]
    answer = computing.run(
        Order.CHECK, Asker(asking(), page and f"{page} {function.__name__}"), function, *args, **kwargs
    )
    queue_ms = 1000 * computing.wait_s(asking())

    @after_this_request
    def tell(response: Response) -> Response:
        response.headers["Server-Timing"] = f"queue;dur={queue_ms:.0f}"
        return response

    return answer


def admit_photo(person_id: str, size: int) -> None:
    """Let one more photo of ``size`` bytes in. Raises ``Wait`` and ``NoRoom`` where it is one too many of this
    person's.
    """
    quota.see_uploads(here().tries, person_id)
    with here().sessions() as session:
        quota.see_room(session, here().files, person_id, settings().most_mb, size)


@contextmanager
def work() -> Iterator[tuple[Session, Person]]:
    """One unit of work on what somebody owns: all of it is kept, or nothing."""
    with here().sessions.begin() as session:
        yield session, session.get_one(Person, owner())
