"""A photo from the telephone: a signed link that is good for ten minutes and one sheet."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from itsdangerous import BadSignature, SignatureExpired, URLSafeTimedSerializer
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from aspectum.language import Text, say
from aspectum.service.errors import Missing, Refused
from aspectum.service.people.may import may_enter
from aspectum.service.people.people import class_exists
from aspectum.service.sheets.sheets import sheet_of
from aspectum.store.classes import Arrived
from aspectum.store.models import Person, Picture, Sheet, now

GOOD_S = 600
MOST_PHOTOS = 12  # from one link: a few tries, not a roll
OVER = Text("This link is not good any more. Ask for a new one on the sheet.")


@dataclass(frozen=True)
class Link:
    token: str
    until: datetime


def make_link(secret: str, sheet: Sheet) -> Link:
    """A link to send photos to ``sheet`` with, for its owner's telephone."""
    return Link(_signer(secret).dumps(sheet.id), now() + timedelta(seconds=GOOD_S))


def _signer(secret: str) -> URLSafeTimedSerializer:
    return URLSafeTimedSerializer(secret, salt="a photo for one sheet")


def linked(session: Session, secret: str, token: str) -> tuple[Person, Sheet, datetime]:
    """The sheet that a link is for, whose it is, and until when the link is good. Raises ``Refused`` once it is not."""
    try:
        sheet_id, made = _signer(secret).loads(token, max_age=GOOD_S, return_timestamp=True)
    except (SignatureExpired, BadSignature):
        raise Refused(OVER) from None
    sheet = session.get(Sheet, sheet_id) if isinstance(sheet_id, str) else None
    person = None if sheet is None else session.get(Person, sheet.person_id)
    if (
        sheet is None
        or person is None
        or sheet.deleted_at is not None
        or (class_exists(session) and not may_enter(session, person))
    ):
        raise Refused(OVER)
    at = made if made.tzinfo else made.replace(tzinfo=UTC)
    sent = session.scalar(
        select(func.count()).select_from(Arrived).where(Arrived.sheet_id == sheet.id, Arrived.made_at >= at)
    )
    if (sent or 0) >= MOST_PHOTOS:
        raise Refused(
            say("{most_photos} photos came by this link. Ask for a new one on the sheet.", most_photos=MOST_PHOTOS)
        )
    return person, sheet, at + timedelta(seconds=GOOD_S)


def arrive(session: Session, sheet_id: str, picture: Picture) -> None:
    """Note that a photo came for a sheet."""
    if session.get(Sheet, sheet_id) is None:
        raise Missing(say("There is no such sheet."))
    session.add(Arrived(picture_id=picture.id, sheet_id=sheet_id))


def arrived(session: Session, person: Person, sheet_id: str) -> list[Arrived]:
    """Photos that came for a sheet, the last first."""
    sheet_of(session, person, sheet_id)
    return list(session.scalars(select(Arrived).where(Arrived.sheet_id == sheet_id).order_by(Arrived.made_at.desc())))
