"""Fill an empty installation with the demo photos and their sheets."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from flask import Flask

from aspectum.formats.sheet import SightingSheet
from aspectum.service.people import person_here
from aspectum.service.pictures import add_picture
from aspectum.service.sheets import list_sheets, make_sheet
from aspectum.web.api import Services

PHOTOS = Path(__file__).parent / "photos"
SHEETS = Path(__file__).parent / "sheets"


def truth(name: str) -> dict[str, Any]:
    """The known truth of a demo photo, as its scene was built."""
    known: dict[str, Any] = json.loads((PHOTOS / f"{name}.truth.json").read_text())
    return known


def fill(app: Flask) -> int:
    """Add every demo sheet unless sheets are there already; returns how many were added."""
    services: Services = app.extensions["aspectum"]
    with services.sessions.begin() as session:
        person = person_here(session)
        if list_sheets(session, person):
            return 0
        paths = sorted(SHEETS.glob("*.sighting.json"), reverse=True)
        for path in paths:
            document = SightingSheet.model_validate_json(path.read_bytes())
            assert document.picture.file is not None
            picture = add_picture(session, services.files, person, document.picture.file, (PHOTOS / document.picture.file).read_bytes())
            make_sheet(session, person, picture, document)
            session.flush()
        return len(paths)
