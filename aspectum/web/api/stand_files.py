"""Files of a set-up: itself, its exact drawing, the steps of a thing and the strip of its poses; and a set-up's file
read.
"""

from __future__ import annotations

from collections.abc import Callable

from flask import Response, request

from aspectum.formats.stand import StandFile, read_stand, write_stand
from aspectum.language import say
from aspectum.service.pages.stand_page import stand_svg, steps_pdf, steps_svg, turning_svg
from aspectum.service.stand import stands
from aspectum.service.stand.from_format import drawn, stand_drawing, stand_steps
from aspectum.service.stand.turning import stand_turning
from aspectum.web.api.base import feature, work
from aspectum.web.api.exports import file_names
from aspectum.web.api.stands import SetUpTurning
from aspectum.web.problems import problem
from aspectum.web.routes import OWN_WORK, READS_STAND, SVG, FileBody, file_by_kind, file_of

routes = feature("stand_files")
STAND_FILE = FileBody("A ``*.stand.json`` file", ("application/octet-stream", "application/json"))


@routes.post("/stand-files", OWN_WORK, "readStandFile", StandFile, file=STAND_FILE, stores=False)
def read_stand_file() -> StandFile:
    """Parse a ``*.stand.json`` file sent as the body."""
    document = read_stand(request.get_data())
    drawn(document)
    return document


# each file's media type and how it is written
FILES: dict[str, tuple[str, Callable[[StandFile], bytes]]] = {
    "stand.json": ("application/json", write_stand),
    "drawing.json": ("application/json", lambda file: (stand_drawing(file).model_dump_json(indent=1) + "\n").encode()),
    "drawing.svg": ("image/svg+xml", lambda file: stand_svg(drawn(file), file.title).encode()),
}


@routes.get("/stands/<stand_id>/export/<kind>", READS_STAND, "exportStand", file_by_kind(FILES))
def stand_file(stand_id: str, kind: str) -> Response:
    """A set-up, or its exact drawing as numbers or as SVG."""
    if kind not in FILES:
        return problem(404, say("Not found"), say("A set-up is written as {files}.", files=", ".join(FILES)))
    file = kept_file(stand_id)
    media, write = FILES[kind]
    return download(write(file), media, file.title, kind)


@routes.get("/stands/<stand_id>/seen.svg", READS_STAND, "seenStand", SVG)
def stand_seen(stand_id: str) -> Response:
    """The exact drawing of a set-up, to be shown in a list."""
    response = Response(stand_svg(drawn(kept_file(stand_id))), mimetype="image/svg+xml")
    response.headers["Cache-Control"] = "no-cache"
    response.add_etag()
    response.make_conditional(request)
    return response


STEPS = file_of("image/svg+xml", "application/pdf", choices={"kind": ["pdf", "svg"]}, asked=("step",))


@routes.get("/stands/<stand_id>/steps/<thing>.<kind>", READS_STAND, "stepsFile", STEPS)
def steps_file(stand_id: str, thing: str, kind: str) -> Response:
    """The construction of a thing as a hand-out (PDF), or one step of it (SVG). 'step': which, from 1; without it the
    last.
    """
    if kind not in ("pdf", "svg"):
        return problem(404, say("Not found"), say("A construction is written as pdf or svg."))
    file = kept_file(stand_id)
    found = stand_steps(file, thing)
    asked = request.args.get("step", str(len(found.steps)))
    if not asked.isdecimal():
        return problem(422, say("No such step"), say("step: there are steps 1 to {steps}", steps=len(found.steps)))
    if kind == "pdf":
        return download(steps_pdf(found), "application/pdf", f"{file.title} {found.name}", "steps.pdf")
    return download(
        steps_svg(found, int(asked)).encode(), "image/svg+xml", f"{file.title} {found.name}", f"step-{asked}.svg"
    )


@routes.get(
    "/stands/<stand_id>/turning/<thing>.svg",
    READS_STAND,
    "turningFile",
    file_of("image/svg+xml", asked=("poses", "about", "seen_from_deg")),
)
def turning_file(stand_id: str, thing: str) -> Response:
    """A thing turned in the hand, as one strip. 'poses', 'about' and 'seen_from_deg' as in 'POST /stand/turning'."""
    file = kept_file(stand_id)
    asked = SetUpTurning.model_validate({"document": file, "thing": thing, **request.args.to_dict()})
    found = stand_turning(file, thing, asked.poses, asked.about, asked.seen_from_deg)
    return download(turning_svg(found).encode(), "image/svg+xml", f"{file.title} {found.name}", "turning.svg")


def kept_file(stand_id: str) -> StandFile:
    """The document of a set-up that is kept."""
    with work() as (session, person):
        return stands.file_of(stands.stand_row(session, person, stand_id))


def download(content: bytes, media: str, title: str, kind: str) -> Response:
    """A file to keep, named by its title."""
    response = Response(content, mimetype=media)
    response.headers.set("Content-Disposition", "attachment", **file_names(title, kind))
    return response
