"""Who is working. One person uses this installation; everything made carries that person's id."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from aspectum.store.models import Person

HERE = "At this easel"


def person_here(session: Session) -> Person:
    """The person at this installation, made on first use."""
    person = session.scalars(select(Person).order_by(Person.created_at).limit(1)).first()
    if person is None:
        person = Person(name=HERE)
        session.add(person)
        session.flush()
    return person
