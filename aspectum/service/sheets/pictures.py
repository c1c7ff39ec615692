"""Bringing in photos."""

from __future__ import annotations

import time
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta
from pathlib import Path

from sqlalchemy import delete, or_, select
from sqlalchemy.orm import Session, sessionmaker

from aspectum.language import say
from aspectum.pictures.opening import OpenedPicture
from aspectum.service.errors import Missing, NoRoom
from aspectum.service.sheets import sheets
from aspectum.store.assignments import HandIn
from aspectum.store.models import Drawing, Person, Picture, Sheet, now
from aspectum.store.picture_files import PictureFiles
from aspectum.store.room import RoomQuestion
from aspectum.store.worksheets import WorksheetSet

KEEP_UNUSED = timedelta(days=1)  # a photo that never became a sheet


def keep_picture(
    sessions: sessionmaker[Session], files: PictureFiles, person_id: str, name: str, opened: OpenedPicture
) -> Picture:
    """Keep an opened photo of a person's. Raises ``NoRoom``."""
    with storing(), files.lock, sessions.begin() as session:
        sha256 = files.keep(opened.original, {"view": opened.view, "thumb": opened.thumb})
        picture = Picture(
            person_id=person_id,
            name=tidy_name(name),
            sha256=sha256,
            width_px=opened.width_px,
            height_px=opened.height_px,
            focal_35mm=opened.focal_35mm,
        )
        session.add(picture)
    return picture


@contextmanager
def storing() -> Iterator[None]:
    """Raise ``NoRoom`` where the picture folder is full, cannot be written or is no folder."""
    try:
        yield
    except OSError as error:
        raise NoRoom(say("The picture could not be stored: {strerror}.", strerror=error.strerror or error)) from error


def sweep(sessions: sessionmaker[Session], files: PictureFiles) -> None:
    """Delete for good: sheets put aside long ago, pictures that no sheet needs any more, and the
    files that no picture needs, also those that a killed process left behind.
    """
    with files.lock:
        with sessions.begin() as session:
            sheets.purge(session)
            shown = select(Sheet.id).where(Sheet.picture_id == Picture.id).exists()
            flattened = select(Drawing.sheet_id).where(Drawing.photo_id == Picture.id).exists()
            handed_in = (
                select(HandIn.id)
                .where(or_(HandIn.picture_id == Picture.id, HandIn.drawing_picture_id == Picture.id))
                .exists()
            )
            asked_about = select(RoomQuestion.id).where(RoomQuestion.picture_id == Picture.id).exists()
            printed = select(WorksheetSet.id).where(WorksheetSet.photo_id == Picture.id).exists()
            unneeded = (
                ~printed,
                ~shown,
                ~flattened,
                ~handed_in,
                ~asked_about,
                Picture.created_at < now() - KEEP_UNUSED,
            )
            gone = set(session.scalars(select(Picture.sha256).where(*unneeded)))
            session.execute(delete(Picture).where(*unneeded).execution_options(synchronize_session=False))
        with sessions() as session:
            kept = set(session.scalars(select(Picture.sha256)))
        # a file without a row may be one whose row another server is about to commit
        settled = time.time() - KEEP_UNUSED.total_seconds()
        gone |= {name for name, written in files.kept() if written < settled}
        for sha256 in gone - kept:
            files.drop(sha256)


def tidy_name(name: str) -> str:
    """The last part of a path, printable, short."""
    last = name.replace("\\", "/").rsplit("/", 1)[-1]
    return "".join(c for c in last if c.isprintable()).strip()[:120] or "picture"


def picture_of(session: Session, person: Person, picture_id: str) -> Picture:
    picture = session.get(Picture, picture_id)
    if picture is None or picture.person_id != person.id:
        raise Missing(say("There is no such picture."))
    return picture


def copied_to(session: Session, picture: Picture, person_id: str) -> Picture:
    """The same picture as another person's own, of one file with it."""
    copy = Picture(
        person_id=person_id,
        name=picture.name,
        sha256=picture.sha256,
        width_px=picture.width_px,
        height_px=picture.height_px,
        focal_35mm=picture.focal_35mm,
    )
    session.add(copy)
    session.flush()
    return copy


def picture_path(files: PictureFiles, picture: Picture, part: str) -> Path:
    """Path of the picture's file; ``part``: view, thumb or "" for the full size."""
    path = files.path(picture.sha256, part)
    if not path.exists():
        raise Missing(say("The picture's file is gone from the disk."))
    return path
