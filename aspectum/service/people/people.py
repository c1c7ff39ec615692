"""Who is working: the person at this installation while it has no class, and whoever signed in once it has one."""

from __future__ import annotations

from sqlalchemy import exists, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session, sessionmaker

from aspectum.store.classes import ClassRow
from aspectum.store.models import HERE, Person

NAME = "At this easel"


def class_exists(session: Session) -> bool:
    """Whether there is a class, closed ones too: from then on everyone signs in."""
    return bool(session.scalar(select(exists().select_from(ClassRow))))


def settle_in(sessions: sessionmaker[Session]) -> None:
    """Make the person at this installation where there is neither one nor a class; several servers may try at once."""
    try:
        with sessions.begin() as session:
            if not class_exists(session) and person_alone(session) is None:
                session.add(Person(name=NAME, place=HERE))
    except IntegrityError:
        pass  # another server was first


def person_alone(session: Session) -> Person | None:
    """The person who needs no sign-in; None once there is a class."""
    return session.scalar(select(Person).where(Person.place == HERE))


def person_here(session: Session) -> Person:
    """The person at this installation, as ``settle_in`` made it."""
    return session.scalars(select(Person).where(Person.place == HERE)).one()
