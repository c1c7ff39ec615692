"""Errors as problem details (RFC 9457)."""

from __future__ import annotations

import errno
import logging

from flask import Flask, Response, jsonify, request
from pydantic import BaseModel, ValidationError
from sqlalchemy.exc import DBAPIError
from werkzeug.exceptions import HTTPException

from aspectum.core.plan.subject import NoPlan
from aspectum.formats.reading import FormatError, first_fault
from aspectum.language import Text, say
from aspectum.pictures.opening import PictureError
from aspectum.service.errors import Busy, Missing, NoRoom, Refused, Stale, Stopped, Unfit, Wait
from aspectum.web import refusal_page

log = logging.getLogger(__name__)

NO_DISK = Text(
    "The disk is full or cannot be written. Your work is still on this page; it is saved as soon as there is room."
)
OF_THE_DISK = {
    errno.ENOSPC,
    errno.EDQUOT,
    errno.EROFS,
    errno.EACCES,
    errno.EPERM,
    errno.ENOTDIR,
    errno.ENOENT,
    errno.EIO,
}


class Problem(BaseModel):
    """``detail`` says what happened and what to do; ``place``: the entry of what was sent that does not fit;
    ``revision`` comes with a stale save.
    """

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    place: str | None = None
    revision: int | None = None


MEDIA_TYPE = "application/problem+json"


def problem(status: int, title: str, detail: str, revision: int | None = None, place: str | None = None) -> Response:
    """A refusal as problem details; as a page for whom a browser opens the address itself."""
    if refusal_page.wanted():
        return refusal_page.refusal_page(status, title, detail)
    body = Problem(title=title, status=status, detail=detail, revision=revision, place=place)
    response = jsonify(body.model_dump(exclude_none=True))
    response.status_code = status
    response.mimetype = MEDIA_TYPE
    return response


# of the faults that a person can type: what the entry must be
PLAIN = {
    "greater_than_equal": Text("{ge} at least"),
    "greater_than": Text("more than {gt}"),
    "less_than_equal": Text("{le} at most"),
    "less_than": Text("less than {lt}"),
    "string_too_long": Text("{max_length} characters at most"),
    "string_too_short": Text("write something"),
    "too_long": Text("{max_length} at most"),
    "too_short": Text("{min_length} at least"),
}


def fault_words(error: ValidationError) -> tuple[str | None, str]:
    """The place of the first fault, and its words: of a form's own entry by its label, of what is deeper in a document
    by its place.
    """
    told = first_fault(error)
    place, colon, what = told.partition(": ")
    if not colon or not place.isidentifier():
        return (place if colon else None), told
    fault = error.errors(include_url=False)[0]
    if fault["type"] in PLAIN:
        limits = {name: f"{value:g}" if isinstance(value, float) else value for name, value in fault["ctx"].items()}
        what = say(PLAIN[fault["type"]].text, **limits)
    return place, f"{place.replace('_', ' ').capitalize()}: {what.removesuffix('.')}."


def register(app: Flask) -> None:
    """Answer every error with a problem."""

    @app.errorhandler(Missing)
    def missing(error: Missing) -> Response:
        return problem(404, say("Not found"), str(error))

    @app.errorhandler(Stale)
    def stale(error: Stale) -> Response:
        return problem(
            409,
            say("Changed elsewhere"),
            say("This sheet was saved in another tab since it was opened here. Nothing was overwritten."),
            error.revision,
        )

    @app.errorhandler(Busy)
    def busy(error: Busy) -> Response:
        response = problem(503, say("Busy"), str(error))
        response.headers["Retry-After"] = "5"
        return response

    @app.errorhandler(Wait)
    def wait(error: Wait) -> Response:
        response = problem(429, say("Wait"), str(error))
        response.headers["Retry-After"] = str(error.seconds)
        return response

    @app.errorhandler(Stopped)
    def stopped(_: Stopped) -> Response:
        return problem(409, say("Stopped"), say("It was stopped before it came to its end."))

    @app.errorhandler(Refused)
    def refused(error: Refused) -> Response:
        return problem(403, say("Refused"), str(error))

    @app.errorhandler(NoRoom)
    def no_room(error: NoRoom) -> Response:
        return problem(507, say("No room"), str(error))

    @app.errorhandler(Unfit)
    def unfit(error: Unfit) -> Response:
        return problem(422, say("Does not fit"), str(error))

    @app.errorhandler(PictureError)
    def picture(error: PictureError) -> Response:
        return problem(422, say("Not a picture Aspectum can open"), str(error))

    @app.errorhandler(FormatError)
    def sheet_format(error: FormatError) -> Response:
        return problem(422, say("Not a sighting sheet"), str(error))

    @app.errorhandler(NoPlan)
    def no_plan(error: NoPlan) -> Response:
        return problem(422, say("No plan yet"), str(error))

    @app.errorhandler(ValidationError)
    def validation(error: ValidationError) -> Response:
        place, words = fault_words(error)
        return problem(422, say("Does not fit"), words, place=place)

    @app.errorhandler(DBAPIError)
    def database(error: DBAPIError) -> Response:
        log.error("database: %s", error)
        text = str(error.orig)
        if any(sign in text for sign in ("full", "readonly", "read-only", "disk I/O", "No space left")):
            return problem(507, say("Not saved"), str(NO_DISK))
        return problem(
            503,
            say("Not saved"),
            say("The database did not answer. Your work is still on this page; it is tried again."),
        )

    @app.errorhandler(OSError)
    def disk(error: OSError) -> Response:
        if error.errno not in OF_THE_DISK:
            return other(error)
        log.error("the data folder: %s", error.strerror)
        return problem(507, say("Not saved"), str(NO_DISK))

    @app.errorhandler(HTTPException)
    def http(error: HTTPException) -> Response:
        detail = error.description or error.name
        if error.code == 413:
            detail = say(
                "What was sent is larger than {max_content_length} MB.",
                max_content_length=(request.max_content_length or 0) // 1024 // 1024,
            )
        response = problem(error.code or 500, error.name, detail)
        if error.code == 405:
            response.headers["Allow"] = dict(error.get_headers()).get("Allow", "")
        return response

    @app.errorhandler(Exception)
    def other(error: Exception) -> Response:
        log.exception("unexpected", exc_info=error)
        return problem(
            500,
            say("Something went wrong here"),
            say("The server met an error it did not expect. Nothing was changed; try again."),
        )
