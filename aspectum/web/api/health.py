"""Whether the application can work, for whatever watches over it."""

from __future__ import annotations

import os
from importlib.metadata import version
from typing import Literal

from spectree import Response as Answers
from sqlalchemy import text

from aspectum.service.errors import NoRoom
from aspectum.web.api.base import Message, feature, here, spec

blueprint = feature("health")
VERSION = version("aspectum")


class Health(Message):
    """Nothing of anybody's: the version, and that database and picture folder answer."""

    status: Literal["ok"]
    version: str


@blueprint.get("/health")
@spec.validate(resp=Answers(HTTP_200=Health), operation_id="health")
def health() -> Health:
    """Answers 200 while the database reads and the picture folder can be written; 503 and 507 as every other route where they cannot."""
    with here().sessions() as session:
        session.execute(text("SELECT 1"))
    folder = here().files.folder
    if not os.access(folder, os.W_OK):
        raise NoRoom("The picture folder is not there or cannot be written.")
    return Health(status="ok", version=VERSION)
