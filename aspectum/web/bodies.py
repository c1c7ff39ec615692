"""What a request may carry: its size, its media type, and JSON that can be read."""

from __future__ import annotations

from flask import Flask, Response, request
from werkzeug.exceptions import BadRequest, RequestEntityTooLarge

from aspectum.formats.reading import LIMIT_BYTES as SHEET_BYTES
from aspectum.language import say
from aspectum.pictures.opening import LIMIT_BYTES as PICTURE_BYTES
from aspectum.web.problems import problem
from aspectum.web.routes import ROUTES, Body

SLACK = 4096
LARGEST_BODY = PICTURE_BYTES + SLACK


def register(app: Flask) -> None:
    """Refuse bodies that are too large, of another media type, or no JSON, before anything reads them."""
    app.config["MAX_CONTENT_LENGTH"] = LARGEST_BODY

    @app.before_request
    def look_at_body() -> Response | None:
        route = ROUTES.get(request.endpoint or "")
        file = None if route is None else route.file
        if file is None or not file.photo:
            request.max_content_length = 2 * SHEET_BYTES
        if (request.content_length or 0) > (request.max_content_length or LARGEST_BODY):
            raise RequestEntityTooLarge
        if file is not None and request.mimetype and not request.mimetype.startswith(file.types):
            return problem(
                415,
                say("Another media type"),
                say(
                    "Expected {types}*, not '{mimetype}'.",
                    types=" or ".join(file.types),
                    mimetype=request.mimetype[:80],
                ),
            )
        if route is None or route.body is not Body.JSON:
            return None
        if request.mimetype != "application/json":
            return problem(
                415,
                say("Another media type"),
                say("Expected application/json, not '{mimetype}'.", mimetype=request.mimetype[:80]),
            )
        return look_at_json()


def look_at_json() -> Response | None:
    try:
        content = request.get_json()
    except RecursionError:
        return problem(422, say("Does not fit"), say("The body is nested too deeply."))
    except BadRequest:
        return problem(422, say("Does not fit"), say("The body is not JSON."))
    return None if isinstance(content, dict) else problem(422, say("Does not fit"), say("Expected an object."))
