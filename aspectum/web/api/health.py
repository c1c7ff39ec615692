"""Whether the application can work, for whatever watches over it."""

from __future__ import annotations

import os
from importlib.metadata import version
from pathlib import Path
from typing import Literal

from flask import Response
from sqlalchemy import text

from aspectum.language import say
from aspectum.service.errors import NoRoom
from aspectum.web.api.base import Message, feature, here
from aspectum.web.routes import OPEN, file_of

routes = feature("health")
VERSION = version("aspectum")


DOCUMENT = Path(__file__).parents[1] / "openapi.json"


class Health(Message):
    """Nothing of anybody's: the version, and that database and picture folder answer."""

    status: Literal["ok"]
    version: str


@routes.get("/docs/openapi.json", OPEN, "openapi", file_of("application/json"))
def openapi() -> Response:
    """The API's description, as ``make generate`` wrote it."""
    return Response(DOCUMENT.read_bytes(), mimetype="application/json")


@routes.get("/health", OPEN, "health", Health)
def health() -> Health:
    """Answers 200 while the database reads and the picture folder can be written; 503 and 507 as every other route
    where they cannot.
    """
    with here().sessions() as session:
        session.execute(text("SELECT 1"))
    folder = here().files.folder
    if not os.access(folder, os.W_OK):
        raise NoRoom(say("The picture folder is not there or cannot be written."))
    return Health(status="ok", version=VERSION)
