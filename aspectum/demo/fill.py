"""Fill an empty installation with the demo photos and their sheets."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from aspectum.formats.sheet import SightingSheet
from aspectum.pictures.opening import open_picture
from aspectum.service.installation import Installation
from aspectum.service.people import person_here
from aspectum.service.pictures import keep_picture, picture_of
from aspectum.service.sheets import list_sheets, make_sheet

PHOTOS = Path(__file__).parent / "photos"
SHEETS = Path(__file__).parent / "sheets"


def truth(name: str) -> dict[str, Any]:
    """The known truth of a demo photo, as its scene was built."""
    known: dict[str, Any] = json.loads((PHOTOS / f"{name}.truth.json").read_text())
    return known


def fill(here: Installation) -> int:
    """Add every demo sheet unless sheets are there already; returns how many were added."""
    with here.sessions() as session:
        if list_sheets(session, person_here(session)):
            return 0
    paths = sorted(SHEETS.glob("*.sighting.json"), reverse=True)
    for path in paths:
        document = SightingSheet.model_validate_json(path.read_bytes())
        assert document.picture is not None and document.picture.file is not None
        opened = open_picture((PHOTOS / document.picture.file).read_bytes())
        picture = keep_picture(here.sessions, here.files, document.picture.file, opened)
        with here.sessions.begin() as session:
            make_sheet(session, person_here(session), picture_of(session, person_here(session), picture.id), document)
    return len(paths)
