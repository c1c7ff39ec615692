"""How much one person may keep and send, so that nobody fills the disk of a whole school."""

from __future__ import annotations

from datetime import timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from aspectum.language import Text, say
from aspectum.service.errors import NoRoom
from aspectum.service.runtime.tries import Limit, Tries
from aspectum.store.models import Picture
from aspectum.store.picture_files import PictureFiles

MOST_PICTURES = 3000  # of one person: a term of thirty evenings with a hundred photos each
UPLOADS = Limit("photos", 90, timedelta(minutes=10))  # a class set of worksheets three times over, one after another
MB = 1 << 20
GOES_LATER = Text("Delete sheets that are no longer needed; their photos go 30 days later.")


def see_uploads(tries: Tries, person_id: str) -> None:
    """Count a photo that somebody sends. Raises ``Wait`` where there were too many in a row."""
    tries.count(UPLOADS, person_id)


def see_room(session: Session, files: PictureFiles, person_id: str, most_mb: int, more: int) -> None:
    """Raise ``NoRoom`` where ``more`` bytes would be more than a person may keep. ``most_mb``: 0 sets no limit. One
    photo under several names counts once, as it lies on the disk once.
    """
    names = list(session.scalars(select(Picture.sha256).where(Picture.person_id == person_id)))
    if len(names) >= MOST_PICTURES:
        raise NoRoom(
            say(
                "{most_pictures} pictures are the most for one person. {goes_later}",
                most_pictures=MOST_PICTURES,
                goes_later=GOES_LATER,
            )
        )
    if most_mb and sum(files.size(name) for name in set(names)) + more > most_mb * MB:
        raise NoRoom(
            say(
                "Your pictures would take more than {most_mb} MB, the most for one person here. {goes_later}",
                most_mb=most_mb,
                goes_later=GOES_LATER,
            )
        )
