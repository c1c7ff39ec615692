"""Photos: opened, kept and shown."""

from __future__ import annotations

from uuid import uuid4

from flask import Response, abort, request, send_file
from pydantic import Field

from aspectum.pictures.isolated import open_isolated
from aspectum.service.sheets import pictures
from aspectum.store.models import Picture
from aspectum.web.api.base import Mark, Message, admit_photo, feature, here, owner, work
from aspectum.web.routes import OWN_WORK, PHOTO, file_of, reads

routes = feature("pictures")
PARTS = ("view", "thumb", "full")
PICTURE = file_of("image/jpeg", choices={"part": list(PARTS)}, unchanged=True)


class PictureOut(Message):
    id: str
    name: str
    width_px: int
    height_px: int
    focal_35mm: float | None

    @classmethod
    def of(cls, picture: Picture) -> PictureOut:
        return cls(
            id=picture.id,
            name=picture.name,
            width_px=picture.width_px,
            height_px=picture.height_px,
            focal_35mm=picture.focal_35mm,
        )


class PictureQuery(Message):
    """``name``: the file's name as the person knows it."""

    name: str = Field(default="picture", max_length=1000)
    ticket: Mark | None = None


class TurnQuery(Message):
    ticket: Mark


class Turn(Message):
    """``ahead``: photos opened before this one, 0 while it is its turn, null where it does not wait."""

    ahead: int | None


@routes.post("/pictures", OWN_WORK, "addPicture", PictureOut, file=PHOTO, tried=True)
def add_picture(query: PictureQuery) -> PictureOut:
    """Open a photo sent as the body. Photos are opened one after another; ``ticket`` asks where this one stands."""
    admit_photo(owner(), request.content_length or 0)
    with here().photos.turn(query.ticket or uuid4().hex):
        # read no sooner: a photo that waits is a file, and would else be memory
        opened = open_isolated(request.get_data())
    return PictureOut.of(pictures.keep_picture(here().sessions, here().files, owner(), query.name, opened))


@routes.get("/pictures/turn", OWN_WORK, "pictureTurn", Turn)
def picture_turn(query: TurnQuery) -> Turn:
    """How many photos are opened before the one sent with this ticket."""
    return Turn(ahead=here().photos.ahead_of(query.ticket))


@routes.get("/pictures/<picture_id>/<part>.jpg", reads("picture", "picture_id"), "pictureFile", PICTURE)
def picture_file(picture_id: str, part: str) -> Response:
    """The picture itself: for showing, small for lists, or whole."""
    if part not in PARTS:
        abort(404)
    with work() as (session, person):
        picture = pictures.picture_of(session, person, picture_id)
        path = pictures.picture_path(here().files, picture, "" if part == "full" else part)
    # a photo deleted here must not live on in the browser: it is asked for again each time
    response = send_file(path, mimetype="image/jpeg", etag=f"{picture.sha256}-{part}")
    response.headers["Cache-Control"] = "private, no-cache"
    return response
