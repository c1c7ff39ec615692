"""What one installation works with."""

from __future__ import annotations

from dataclasses import dataclass, field

from sqlalchemy.orm import Session, sessionmaker

from aspectum.service.presence import Presence
from aspectum.service.tries import Tries
from aspectum.service.turns import Turns
from aspectum.store.picture_files import PictureFiles


@dataclass(frozen=True)
class Installation:
    """Its database, its pictures on disk, what its links and cookies are signed with, whose turn it is to have a photo opened, what was tried, and who
    looks at the room.
    """

    sessions: sessionmaker[Session]
    files: PictureFiles
    secret: str
    turns: Turns = field(default_factory=Turns)
    tries: Tries = field(default_factory=Tries)
    presence: Presence = field(default_factory=Presence)
