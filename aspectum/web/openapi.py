"""The API's description: what spectree reads off the routes, completed by what every answer may be."""

from __future__ import annotations

import copy
from collections.abc import Callable
from typing import Any

from aspectum.web.api.base import spec
from aspectum.web.api.board import evening, marks_csv, readings_csv
from aspectum.web.api.classes import take_away_of
from aspectum.web.api.drawings import PAGES, page
from aspectum.web.api.exports import EXPORTS, export
from aspectum.web.api.logbook import logbook_csv, logbook_page
from aspectum.web.api.people import take_away_all
from aspectum.web.api.pictures import PARTS, picture_file
from aspectum.web.api.plans import PLANS, plan_file
from aspectum.web.api.practice import question_picture
from aspectum.web.api.room import room_picture
from aspectum.web.api.stand_files import FILES as FILES_OF_STANDS
from aspectum.web.api.stand_files import stand_file, stand_seen, steps_file, turning_file
from aspectum.web.api.worksheets import PrintedPart, printed, worksheet_file
from aspectum.web.problems import MEDIA_TYPE

Json = dict[str, Any]

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
WRITES = {"post", "put", "delete", "patch"}
STORES_NOTHING = {
    "check",
    "proposeFamily",
    "readSheetFile",
    "critique",
    "findPaper",
    "slant",
    "proposeDrawn",
    "stopLook",
    "offerFound",
    "pointedEdge",
    "sinceBefore",
    "plan",
    "readGauge",
    "thumb",
    "drawStand",
    "viewStand",
    "sheetOfStand",
    "stepsOfStand",
    "stepInStand",
    "solidsOfStand",
    "newThing",
    "elevations",
    "turning",
    "readStandFile",
}
# nobody signs in for these
OPEN = {"readMe", "signIn", "signInByClick", "signOut", "lookAtCode", "joinClass", "readPhoneLink", "sendFromPhone", "openapi", "health"}
TRIED = {"signIn", "lookAtCode", "joinClass", "changePassphrase", "deleteMe", "addPicture", "sendFromPhone"}
LED = {
    "whatToAsk",
    "readAnswers",
    "marksCsv",
    "readingsCsv",
    "eveningPages",
    "readBoard",
    "readClass",
    "takeAwayOf",
    "readPhoneLink",
}  # read, and yet refused to some
NEEDS_SOMETHING = {
    "joinClass",
    "setAssignment",
    "makeSheet",
    "bringInDrawing",
    "findPaper",
    "slant",
    "beginSet",
    "beginTimed",
    "beginWorksheets",
    "previewWorksheet",
    "bringWorksheetBack",
}  # answers 404 though its path names nothing
BINARY = {"type": "string", "format": "binary"}
CSV: Json = {"text/csv": {"schema": {"type": "string"}}}
ZIP: Json = {"application/zip": {"schema": BINARY}}
PDF: Json = {"application/pdf": {"schema": BINARY}}
FILES: dict[str, tuple[str, Json]] = {
    "readSheetFile": ("A ``*.sighting.json`` file", {"application/octet-stream": {"schema": BINARY}, "application/json": {"schema": {}}}),
    "readStandFile": ("A ``*.stand.json`` file", {"application/octet-stream": {"schema": BINARY}, "application/json": {"schema": {}}}),
    "importLogbook": ("A logbook's CSV", {"application/octet-stream": {"schema": BINARY}, "text/csv": {"schema": BINARY}}),
    "sendFromPhone": ("A JPEG, PNG, WebP or HEIC photo", {"application/octet-stream": {"schema": BINARY}, "image/*": {"schema": BINARY}}),
    "addPicture": ("A JPEG, PNG, WebP or HEIC photo", {"application/octet-stream": {"schema": BINARY}, "image/*": {"schema": BINARY}}),
}


def description() -> Json:
    """The OpenAPI document of this API, within an application."""
    return complete(spec.spec)


def complete(described: Json) -> Json:
    """``described`` as spectree gives it, with the bodies of files, pictures and exports, and for each
    operation just the problems it may answer with.
    """
    document = copy.deepcopy(described)
    paths = document["paths"]
    paths["/api/pictures/{picture_id}/{part}.jpg"] = {"get": picture_operation()}
    paths["/api/sheets/{sheet_id}/export/{kind}"] = {"get": export_operation()}
    paths["/api/drawings/{sheet_id}/critique.{kind}"] = {"get": page_operation()}
    paths["/api/sheets/{sheet_id}/plan.{kind}"] = {"get": plan_operation()}
    paths |= stand_paths()
    paths["/api/logbook/{name}.csv"] = {"get": file_operation(logbook_csv, "logbookCsv", [path_parameter("name", {"type": "string"})], CSV)}
    paths["/api/logbook/{name}.pdf"] = {"get": file_operation(logbook_page, "logbookPage", [path_parameter("name", {"type": "string"})], PDF)}
    paths["/api/practice/questions/{question_id}/picture"] = {"get": question_operation()}
    paths["/api/me/everything.zip"] = {"get": file_operation(take_away_all, "takeAway", [], ZIP)}
    paths["/api/classes/{class_id}/members/{person_id}/everything.zip"] = {
        "get": file_operation(take_away_of, "takeAwayOf", [path_parameter(name, {"type": "string"}) for name in ("class_id", "person_id")], ZIP)
    }
    pictured = {"image/jpeg": {"schema": BINARY}}
    paths["/api/room/{question_id}/picture"] = {
        "get": file_operation(room_picture, "roomPicture", [path_parameter("question_id", {"type": "string"})], pictured)
    }
    of_class = [path_parameter("class_id", {"type": "string"})]
    paths["/api/classes/{class_id}/marks.csv"] = {"get": file_operation(marks_csv, "marksCsv", of_class, CSV)}
    paths["/api/classes/{class_id}/readings.csv"] = {"get": file_operation(readings_csv, "readingsCsv", of_class, CSV)}
    paths["/api/classes/{class_id}/evening.pdf"] = {"get": file_operation(evening, "eveningPages", of_class, PDF)}
    paths["/api/worksheets/preview.svg"]["get"]["responses"]["200"] = {"description": "OK", "content": {"image/svg+xml": {"schema": {"type": "string"}}}}
    paths["/api/check"]["post"]["responses"]["200"] = {"description": "OK", "content": {"application/json": {"schema": ref("Report")}}}
    one_set = path_parameter("set_id", {"type": "string"})
    parts = path_parameter("part", {"enum": list(PrintedPart), "type": "string"})
    paths["/api/worksheets/{set_id}/{part}.pdf"] = {"get": file_operation(printed, "printWorksheets", [one_set, parts], PDF)}
    code = path_parameter("code", {"type": "integer"})
    paths["/api/worksheets/{set_id}/{code}.json"] = {
        "get": file_operation(worksheet_file, "worksheetFile", [one_set, code], {"application/json": {"schema": {"type": "object"}}})
    }
    paths["/api/docs/openapi.json"] = {"get": document_operation()}
    for operations in paths.values():
        for method, operation in operations.items():
            described_body(operation)
            known = operation["responses"]
            good = {status: answer for status, answer in known.items() if status < "400"}
            statuses = problems_of(method, operation, "409" in known)
            operation["responses"] = good | {str(s): {"description": WHY[s], "content": {MEDIA_TYPE: {"schema": ref("Problem")}}} for s in statuses}
    return document


def ref(name: str) -> Json:
    return {"$ref": f"#/components/schemas/{name}"}


def described_body(operation: Json) -> None:
    if operation["operationId"] in FILES:
        description, content = FILES[operation["operationId"]]
        operation["requestBody"] = {"description": description, "content": content, "required": True}


def problems_of(method: str, operation: Json, stale: bool) -> list[int]:
    """Statuses of the problems that an operation may answer with, in order."""
    id, parameters = operation["operationId"], operation.get("parameters", [])
    found = {421, 503} | (set() if id in OPEN else {401}) | ({429} if id in TRIED else set()) | ({403} if id in LED else set())
    if any(p["in"] == "path" for p in parameters) or id in NEEDS_SOMETHING:
        found.add(404)
    if method in WRITES:
        found.add(403)
        if id not in STORES_NOTHING:
            found.add(507)
    if "requestBody" in operation:
        found |= {413, 415, 422}
    if any(p["in"] == "query" for p in parameters):
        found.add(422)
    if stale:
        found.add(409)
    return sorted(found)


def path_parameter(name: str, schema: Json) -> Json:
    return {"name": name, "in": "path", "required": True, "schema": schema}


def picture_operation() -> Json:
    return {
        "summary": picture_file.__doc__,
        "operationId": "pictureFile",
        "parameters": [path_parameter("picture_id", {"type": "string"}), path_parameter("part", {"enum": list(PARTS), "type": "string"})],
        "responses": {
            "200": {"description": "OK", "content": {"image/jpeg": {"schema": BINARY}}},
            "304": {"description": "As the browser has it"},
        },
    }


def export_operation() -> Json:
    content = {media: {"schema": {"type": "object"} if media == "application/json" else {"type": "string"}} for media, _ in EXPORTS.values()}
    parameters = [path_parameter("sheet_id", {"type": "string"}), path_parameter("kind", {"enum": list(EXPORTS), "type": "string"})]
    return file_operation(export, "exportSheet", parameters, content)


def page_operation() -> Json:
    content = {media: {"schema": {"type": "object"} if media == "application/json" else BINARY} for media, _ in PAGES.values()}
    parameters = [path_parameter("sheet_id", {"type": "string"}), path_parameter("kind", {"enum": list(PAGES), "type": "string"})]
    return file_operation(page, "critiquePage", parameters, content)


def plan_operation() -> Json:
    content = {media: {"schema": {"type": "object"} if media == "application/json" else BINARY} for media, _ in PLANS.values()}
    parameters = [path_parameter("sheet_id", {"type": "string"}), path_parameter("kind", {"enum": list(PLANS), "type": "string"})]
    return file_operation(plan_file, "planFile", [*parameters, asked("printer"), asked("fans")], content)


def stand_paths() -> Json:
    """A set-up's files."""
    stand, thing = path_parameter("stand_id", {"type": "string"}), path_parameter("thing", {"type": "string"})
    drawn = {"image/svg+xml": {"schema": {"type": "string"}}}
    exported = {media: {"schema": {"type": "object"} if media == "application/json" else {"type": "string"}} for media, _ in FILES_OF_STANDS.values()}
    kinds = path_parameter("kind", {"enum": list(FILES_OF_STANDS), "type": "string"})
    return {
        "/api/stands/{stand_id}/export/{kind}": {"get": file_operation(stand_file, "exportStand", [stand, kinds], exported)},
        "/api/stands/{stand_id}/seen.svg": {"get": file_operation(stand_seen, "seenStand", [stand], drawn)},
        "/api/stands/{stand_id}/steps/{thing}.{kind}": {
            "get": file_operation(
                steps_file,
                "stepsFile",
                [stand, thing, path_parameter("kind", {"enum": ["pdf", "svg"], "type": "string"}), asked("step")],
                drawn | {"application/pdf": {"schema": BINARY}},
            )
        },
        "/api/stands/{stand_id}/turning/{thing}.svg": {
            "get": file_operation(turning_file, "turningFile", [stand, thing, *(asked(name) for name in ("poses", "about", "seen_from_deg"))], drawn)
        },
    }


def question_operation() -> Json:
    pictured = {media: {"schema": BINARY} for media in ("image/png", "image/jpeg")}
    return file_operation(question_picture, "questionPicture", [path_parameter("question_id", {"type": "string"})], pictured)


def asked(name: str) -> Json:
    return {"name": name, "in": "query", "required": False, "schema": {"type": "string"}}


def file_operation(view: Callable[..., object], name: str, parameters: list[Json], content: Json) -> Json:
    return {"summary": view.__doc__, "operationId": name, "parameters": parameters, "responses": {"200": {"description": "OK", "content": content}}}


def document_operation() -> Json:
    return {
        "summary": "This document.",
        "operationId": "openapi",
        "responses": {"200": {"description": "OK", "content": {"application/json": {"schema": {"type": "object"}}}}},
    }
