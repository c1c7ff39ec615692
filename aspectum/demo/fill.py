"""Fill an empty installation with the demo photos and their sheets, and the demo drawings."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from aspectum.demo.record import fill_record
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.stand import read_stand
from aspectum.pictures.opening import open_picture
from aspectum.service.paper.drawings import Flattening, bring_in, record_critique, write_notes
from aspectum.service.people.people import person_alone
from aspectum.service.runtime.installation import Installation
from aspectum.service.sheets.pictures import keep_picture, picture_of
from aspectum.service.sheets.readings import record_judgements
from aspectum.service.sheets.sheets import list_sheets, make_sheet, save_sheet
from aspectum.service.stand.stands import make_stand
from aspectum.store.models import Person, now

PHOTOS = Path(__file__).parent / "photos"
SHEETS = Path(__file__).parent / "sheets"
STANDS = Path(__file__).parent / "stands"
DRAWINGS_FOLDER = Path(__file__).parent / "drawings"
DRAWINGS = (("crates", True), ("tins", False), ("loft", False))  # and which of them is judged already
CONTENT = "The uprights stand, and the lengths came out by comparing."
NEXT_TIME = ["Set eye level on the sheet first.", "Check the right edges against it before lining in."]


def truth(name: str) -> dict[str, Any]:
    """The known truth of a demo photo, as its scene was built."""
    known: dict[str, Any] = json.loads((PHOTOS / f"{name}.truth.json").read_text())
    return known


def number_of(path: Path) -> int:
    """The first to be shown is numbered 1."""
    return int(path.name.split("-")[0])


def fill(here: Installation) -> int:
    """Add every demo sheet unless sheets are there already; returns how many were added."""
    with here.sessions() as session:
        alone = person_alone(session)
        if alone is None or list_sheets(session, alone):
            return 0
        owner = alone.id
    made: dict[str, str] = {}
    paths = sorted(SHEETS.glob("*.sighting.json"), key=number_of, reverse=True)
    for path in paths:
        document = SightingSheet.model_validate_json(path.read_bytes())
        photo = None if document.picture is None else document.picture.file
        kept = (
            None
            if photo is None
            else keep_picture(here.sessions, here.files, owner, photo, open_picture((PHOTOS / photo).read_bytes()))
        )
        with here.sessions.begin() as session:
            person = session.get_one(Person, owner)
            picture = None if kept is None else picture_of(session, person, kept.id)
            sheet = make_sheet(session, person, picture, document)
            record_judgements(session, person, sheet, document)
            made[path.name.removesuffix(".sighting.json")] = sheet.id
    for name, judged in DRAWINGS:
        bring_drawing(here, owner, name, made, judged)
    for path in sorted(STANDS.glob("*.stand.json"), key=number_of, reverse=True):
        with here.sessions.begin() as session:
            make_stand(session, session.get_one(Person, owner), read_stand(path.read_bytes()))
    with here.sessions.begin() as session:
        fill_record(session, session.get_one(Person, owner), now())
    return len(paths)


def bring_drawing(here: Installation, owner: str, name: str, sheets: dict[str, str], judged: bool) -> None:
    """Bring in a demo drawing from its photo, with its sightings and notes where it is ``judged`` already."""
    known = json.loads((DRAWINGS_FOLDER / f"{name}.truth.json").read_text())
    document = SightingSheet.model_validate_json((DRAWINGS_FOLDER / f"{name}.sighting.json").read_bytes())
    photo = keep_picture(
        here.sessions, here.files, owner, f"{name}.jpg", open_picture((DRAWINGS_FOLDER / f"{name}.jpg").read_bytes())
    )
    corners = [(float(x), float(y)) for x, y in known["corners_px"]]
    wide, high = known["paper_mm"]
    how = Flattening(corners, (float(wide), float(high)), None)
    sheet_id = bring_in(here.sessions, here.files, owner, photo.id, how, sheets[known["subject"]], None, document.title)
    if not judged:
        return
    with here.sessions.begin() as session:
        person = session.get_one(Person, owner)
        sheet = save_sheet(session, person, sheet_id, 1, document)
        record_critique(session, person, sheet, document)
        write_notes(session, person, sheet_id, CONTENT, NEXT_TIME)
