"""What one installation works with."""

from __future__ import annotations

from dataclasses import dataclass, field

from sqlalchemy.orm import Session, sessionmaker

from aspectum.service.turns import Turns
from aspectum.store.picture_files import PictureFiles


@dataclass(frozen=True)
class Installation:
    """Its database, its pictures on disk, and whose turn it is to have a photo opened."""

    sessions: sessionmaker[Session]
    files: PictureFiles
    turns: Turns = field(default_factory=Turns)
