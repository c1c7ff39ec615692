"""Downloads of a sheet and what was found on it."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable
from pathlib import Path
from urllib.parse import quote

from flask import Response

from aspectum.formats.exports import findings_csv, forms_csv, overlay_svg
from aspectum.formats.sheet import SightingSheet, write_sheet
from aspectum.language import say
from aspectum.service.sheets import pictures, sheets
from aspectum.service.sheets.checking import check_kept
from aspectum.web.api.base import computed, feature, here, work
from aspectum.web.problems import problem
from aspectum.web.routes import READS_SHEET, Queue, file_by_kind

routes = feature("exports")

Writer = Callable[[SightingSheet, Path | None], bytes]
# each file's media type and how it is written from the document and the picture's file
EXPORTS: dict[str, tuple[str, Writer]] = {
    "sighting.json": ("application/json", lambda document, _: write_sheet(document)),
    "report.json": (
        "application/json",
        lambda document, _: (check_kept(document).model_dump_json(indent=1) + "\n").encode(),
    ),
    "findings.csv": ("text/csv", lambda document, _: findings_csv(document, check_kept(document))),
    "forms.csv": ("text/csv", lambda document, _: forms_csv(document, check_kept(document))),
    "overlay.svg": (
        "image/svg+xml",
        lambda document, view: overlay_svg(document, check_kept(document), None if view is None else view.read_bytes()),
    ),
}


@routes.get("/sheets/<sheet_id>/export/<kind>", READS_SHEET, "exportSheet", file_by_kind(EXPORTS), queue=Queue.FILE)
def export(sheet_id: str, kind: str) -> Response:
    """A sheet, its report, its findings or its overlay as a file."""
    if kind not in EXPORTS:
        return problem(404, say("Not found"), say("There is no such export."))
    with work() as (session, person):
        sheet = sheets.sheet_of(session, person, sheet_id)
        document, title = sheets.document_of(sheet), sheet.title
        view = None if sheet.picture is None else pictures.picture_path(here().files, sheet.picture, "view")
    if kind == "overlay.svg" and document.picture is None:
        return problem(404, say("Not found"), say("A sheet from life has no picture to lay anything over."))
    response = Response(computed(written_export, document, view, kind), mimetype=EXPORTS[kind][0])
    response.headers.set("Content-Disposition", "attachment", **file_names(title, kind))
    return response


def written_export(document: SightingSheet, view: Path | None, kind: str) -> bytes:
    return EXPORTS[kind][1](document, view)


def file_names(title: str, kind: str) -> dict[str, str]:
    """Both forms of a download's name (RFC 6266): in ASCII for old clients, and whole (RFC 5987)."""
    stem = re.sub(r'[\\/:*?"<>|]+', "-", title).strip(" .-")[:80] or "sheet"
    plain = re.sub(r"[^ -~]", "", unicodedata.normalize("NFKD", stem)).strip(" .-") or "sheet"
    return {"filename": f"{plain}.{kind}", "filename*": f"UTF-8''{quote(f'{stem}.{kind}', safe='')}"}
