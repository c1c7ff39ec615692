"""Bringing in photos."""

from __future__ import annotations

from pathlib import Path

from sqlalchemy.orm import Session

from aspectum.pictures.opening import open_picture
from aspectum.service.errors import Missing, NoRoom
from aspectum.store.models import Person, Picture
from aspectum.store.picture_files import PictureFiles


def add_picture(session: Session, files: PictureFiles, person: Person, name: str, data: bytes) -> Picture:
    """Open, strip and keep a photo. Raises ``PictureError`` or ``NoRoom``."""
    opened = open_picture(data)
    try:
        sha256 = files.keep(opened.original, {"view": opened.view, "thumb": opened.thumb})
    except OSError as error:
        raise NoRoom(f"The picture could not be stored: {error.strerror or error}.") from error
    picture = Picture(
        person_id=person.id,
        name=tidy_name(name),
        sha256=sha256,
        width_px=opened.width_px,
        height_px=opened.height_px,
        focal_35mm=opened.focal_35mm,
    )
    session.add(picture)
    session.flush()
    return picture


def tidy_name(name: str) -> str:
    """The last part of a path, printable, short."""
    last = name.replace("\\", "/").rsplit("/", 1)[-1]
    return "".join(c for c in last if c.isprintable()).strip()[:120] or "picture"


def picture_of(session: Session, person: Person, picture_id: str) -> Picture:
    picture = session.get(Picture, picture_id)
    if picture is None or picture.person_id != person.id:
        raise Missing("There is no such picture.")
    return picture


def picture_path(files: PictureFiles, picture: Picture, part: str) -> Path:
    """Path of the picture's file; ``part``: view, thumb or "" for the full size."""
    path = files.path(picture.sha256, part)
    if not path.exists():
        raise Missing("The picture's file is gone from the disk.")
    return path
