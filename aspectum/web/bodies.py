"""What a request may carry: its size, its media type, and JSON that can be read."""

from __future__ import annotations

from flask import Flask, Response, request
from werkzeug.exceptions import BadRequest, RequestEntityTooLarge

from aspectum.formats.reading import LIMIT_BYTES as SHEET_BYTES
from aspectum.pictures.opening import LIMIT_BYTES as PICTURE_BYTES
from aspectum.web.problems import problem

SLACK = 4096
LARGEST_BODY = PICTURE_BYTES + SLACK
JSON_BODIES = {
    "sheets.make_sheet",
    "sheets.save_sheet",
    "checking.check",
    "checking.propose",
    "finding.offer",
    "finding.pointed_edge",
    "stands.make_stand",
    "stands.save_stand",
    "stands.draw_stand",
    "stands.view_stand",
    "stands.sheet",
    "stands.construction_steps",
    "stands.step_nearer",
    "stands.solids",
    "stands.thing_more",
    "stands.elevations",
    "stands.turning",
    "practice.begin_set",
    "practice.answer_question",
    "timed.begin_timed",
    "timed.keep_timed",
    "timed.note_timed",
    "people.sign_in_here",
    "people.one_click",
    "people.join",
    "people.rename_me",
    "people.change_passphrase",
    "people.delete_me",
    "classes.make_class",
    "classes.change_class",
    "classes.rename_member",
    "classes.reset_passphrase",
    "assignments.set_assignment",
    "assignments.change_assignment",
    "assignments.hand_in",
    "hand_ins.review_piece",
    "hand_ins.keep_phrases",
    "room.ask_room",
    "room.answer_room",
    "worksheets.begin",
    "worksheets.bring",
}
PHOTOS = {"pictures.add_picture", "phone.send_photo"}
FILE_TYPES = {
    "pictures.add_picture": ("application/octet-stream", "image/"),
    "phone.send_photo": ("application/octet-stream", "image/"),
    "checking.read_sheet_file": ("application/octet-stream", "application/json"),
    "stand_files.read_stand_file": ("application/octet-stream", "application/json"),
    "logbook.import_logbook": ("application/octet-stream", "text/csv", "text/plain"),
}


def register(app: Flask) -> None:
    """Refuse bodies that are too large, of another media type, or no JSON, before anything reads them."""
    app.config["MAX_CONTENT_LENGTH"] = LARGEST_BODY

    @app.before_request
    def look_at_body() -> Response | None:
        endpoint = request.endpoint or ""
        if endpoint not in PHOTOS:
            request.max_content_length = 2 * SHEET_BYTES
        if (request.content_length or 0) > (request.max_content_length or LARGEST_BODY):
            raise RequestEntityTooLarge
        if endpoint in FILE_TYPES and request.mimetype and not request.mimetype.startswith(FILE_TYPES[endpoint]):
            return problem(415, "Another media type", f"Expected {' or '.join(FILE_TYPES[endpoint])}*, not '{request.mimetype[:80]}'.")
        if endpoint not in JSON_BODIES:
            return None
        if request.mimetype != "application/json":
            return problem(415, "Another media type", f"Expected application/json, not '{request.mimetype[:80]}'.")
        return look_at_json()


def look_at_json() -> Response | None:
    try:
        content = request.get_json()
    except RecursionError:
        return problem(422, "Does not fit", "The body is nested too deeply.")
    except BadRequest:
        return problem(422, "Does not fit", "The body is not JSON.")
    return None if isinstance(content, dict) else problem(422, "Does not fit", "Expected an object.")
