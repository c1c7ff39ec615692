"""What one installation works with."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy.orm import Session, sessionmaker

from aspectum.service.computing import Computing
from aspectum.service.presence import Presence
from aspectum.service.tries import Tries
from aspectum.service.turns import Turns
from aspectum.store.picture_files import PictureFiles


@dataclass(frozen=True)
class Installation:
    """Its database, its pictures on disk, what its links and cookies are signed with, whose turn it is to have a photo opened, what was tried, who looks
    at the room, and where checks are made.
    """

    sessions: sessionmaker[Session]
    files: PictureFiles
    secret: str
    turns: Turns
    tries: Tries
    presence: Presence
    computing: Computing


def install(sessions: sessionmaker[Session], files: PictureFiles, secret: str, computing: Computing) -> Installation:
    """An installation whose queue of photos lies beside its pictures."""
    return Installation(sessions, files, secret, Turns(files.folder / "turns"), Tries(sessions), Presence(sessions), computing)
