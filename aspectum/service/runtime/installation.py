"""What one installation works with."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy.orm import Session, sessionmaker

from aspectum.service.runtime.computing import Computing
from aspectum.service.runtime.greys import Greys
from aspectum.service.runtime.photo_queue import PhotoQueue
from aspectum.service.runtime.presence import Presence
from aspectum.service.runtime.tries import Tries
from aspectum.store.picture_files import PictureFiles

MOST_LOOKS = 4  # photos that wait to be looked at: a page asks again later, and no hand waits for it


@dataclass(frozen=True)
class Installation:
    """Its database, its pictures on disk, what its links and cookies are signed with, whose turn it is to have a photo
    opened, or looked at, which photos are open, what was tried, who looks at the room, and where checks are made.
    """

    sessions: sessionmaker[Session]
    files: PictureFiles
    secret: str
    photos: PhotoQueue
    looks: PhotoQueue
    greys: Greys
    tries: Tries
    presence: Presence
    computing: Computing


def install(sessions: sessionmaker[Session], files: PictureFiles, secret: str, computing: Computing) -> Installation:
    """An installation whose queues of photos lie beside its pictures."""
    photos, looks = PhotoQueue(files.folder / "turns"), PhotoQueue(files.folder / "looks", MOST_LOOKS)
    return Installation(sessions, files, secret, photos, looks, Greys(), Tries(sessions), Presence(sessions), computing)
