"""The description of the API: what spectree reads off the routes, completed by what each declares (``routes``): files
as bodies and answers, and the problems that it may answer with.
"""

from __future__ import annotations

import copy
from typing import Any

from flask import Flask

from aspectum.web.api.base import spec
from aspectum.web.problems import MEDIA_TYPE
from aspectum.web.routes import BINARY, ROUTES, TEXT, Body, Gives, Json, Route

WHY = {
    401: "Nobody is signed in",
    403: "Refused: not this person's to do, or sent from another site",
    404: "Not found",
    409: "Changed elsewhere since it was read",
    413: "Too large",
    415: "Another media type",
    421: "Not this server's name",
    422: "Does not fit; the problem names the place",
    429: "Tried too often; wait",
    503: "Busy, or the database did not answer; try again",
    507: "No room on the disk",
}


def description(app: Flask) -> Json:
    """The OpenAPI document of an application's API."""
    with app.app_context():
        described: Json = copy.deepcopy(spec.spec)
    routes = {route.operation: route for route in ROUTES.values()}
    for operations in described["paths"].values():
        for operation in operations.values():
            complete(operation, routes[operation["operationId"]])
    described["components"]["responses"] = {
        f"Problem{status}": {
            "description": why,
            "content": {MEDIA_TYPE: {"schema": {"$ref": "#/components/schemas/Problem"}}},
        }
        for status, why in WHY.items()
    }
    return described


def complete(operation: Json, route: Route) -> None:
    """Add to an operation what spectree cannot know."""
    if route.gives is not None:
        describe_file(operation, route.gives)
    if route.file is not None:
        content = {
            every(media): {"schema": {} if media == "application/json" else BINARY} for media in route.file.types
        }
        operation["requestBody"] = {"description": route.file.words, "content": content, "required": True}
    good = {status: answer for status, answer in operation["responses"].items() if status < "400"}
    operation["responses"] = good | {
        str(status): {"$ref": f"#/components/responses/Problem{status}"} for status in problems_of(operation, route)
    }


def every(media: str) -> str:
    """A media type's family as the description writes it."""
    return f"{media}*" if media.endswith("/") else media


def describe_file(operation: Json, gives: Gives) -> None:
    parameters: list[Json] = operation.setdefault("parameters", [])
    for parameter in parameters:
        if parameter["name"] in gives.choices:
            parameter["schema"] = {"enum": gives.choices[parameter["name"]], "type": "string"}
    parameters += [{"name": name, "in": "query", "required": False, "schema": TEXT} for name in gives.asked]
    operation["responses"] = {
        "200": {"description": "OK", "content": {media: {"schema": schema} for media, schema in gives.content.items()}}
    }
    if gives.unchanged:
        operation["responses"]["304"] = {"description": "As the browser has it"}


def problems_of(operation: Json, route: Route) -> list[int]:
    """Statuses of the problems that a route may answer with, in order."""
    places: set[Any] = {parameter["in"] for parameter in operation.get("parameters", [])}
    writes, carries = route.method != "GET", route.body is not Body.NOTHING
    may_be = {
        401: route.who.action is not None,
        403: writes or route.refuses,
        404: "path" in places or route.misses,
        409: route.stale,
        413: carries,
        415: carries,
        421: True,
        422: carries or "query" in places,
        429: route.tried,
        503: True,
        507: route.stores,
    }
    return [status for status, may in may_be.items() if may]
