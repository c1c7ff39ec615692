"""Who is working. One person uses this installation; everything made carries that person's id."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session, sessionmaker

from aspectum.store.models import HERE, Person

NAME = "At this easel"


def settle_in(sessions: sessionmaker[Session]) -> None:
    """Make the person at this installation where there is none yet; several servers may try at once."""
    try:
        with sessions.begin() as session:
            if session.scalar(select(Person.id).where(Person.place == HERE)) is None:
                session.add(Person(name=NAME, place=HERE))
    except IntegrityError:
        pass  # another server was first


def person_here(session: Session) -> Person:
    """The person at this installation, as ``settle_in`` made it."""
    return session.scalars(select(Person).where(Person.place == HERE)).one()
