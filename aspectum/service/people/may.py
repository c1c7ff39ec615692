"""Who may do what: the one place that decides. Every route of the application asks here."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from sqlalchemy import ColumnElement, exists, or_, select
from sqlalchemy.orm import Session, aliased

from aspectum.store.classes import Member, Role
from aspectum.store.models import Person, now


class Action(StrEnum):
    """READ: look at what somebody made, and take a copy away. CHANGE: alter it, put it aside, make more of it.
    TAKE_PART: be in a class, look at what is set there and hand in to it. LEAD: keep a class, its members and its
    assignments.
    """

    READ = "read"
    CHANGE = "change"
    TAKE_PART = "take part"
    LEAD = "lead"


@dataclass(frozen=True)
class Owner:
    """Whose a thing is: a person's, a class's, or both, as a piece handed in is."""

    person_id: str | None = None
    class_id: str | None = None


def may(session: Session, who: Person | None, action: Action, whose: Owner) -> bool:
    """Whether ``who`` may do this with what is ``whose``: a person anything with their own; a tutor may read what
    members of their class made, but not alter it; nobody else may look at it.
    """
    if who is None:
        return False
    own = whose.person_id == who.id
    if action is Action.CHANGE:
        return own
    if action is Action.TAKE_PART:
        return whose.class_id is not None and takes_part(session, who, whose.class_id)
    if action is Action.LEAD:
        return whose.class_id is not None and leads(session, who, whose.class_id)
    if own:
        return True
    if whose.class_id is not None:
        # what was handed in is its class's tutor's to see, not another class's
        return leads(session, who, whose.class_id)
    return whose.person_id is not None and teaches(session, who, whose.person_id)


def takes_part(session: Session, who: Person, class_id: str) -> bool:
    """Whether somebody is in a class: its tutor, a student, or a guest whose lesson is not over."""
    member = session.get(Member, (class_id, who.id))
    return member is not None and member.removed_at is None and (member.until is None or member.until > now())


def leads(session: Session, who: Person, class_id: str) -> bool:
    """Whether somebody is a class's tutor."""
    member = session.get(Member, (class_id, who.id))
    return member is not None and member.role == Role.TUTOR and member.removed_at is None


def teaches(session: Session, tutor: Person, person_id: str) -> bool:
    """Whether somebody is tutor of a class that a person belongs to, or belonged to."""
    theirs, mine = aliased(Member), aliased(Member)
    query = (
        select(theirs.person_id)
        .join(mine, theirs.class_id == mine.class_id)
        .where(theirs.person_id == person_id, theirs.role != Role.TUTOR)
    )
    return bool(
        session.scalar(
            select(exists(query.where(mine.person_id == tutor.id, mine.role == Role.TUTOR, mine.removed_at.is_(None))))
        )
    )


def learns_from(session: Session, person_id: str, tutor_id: str) -> bool:
    """Whether a person is in a class of a tutor's: may come by what the tutor printed for it."""
    theirs, mine = aliased(Member), aliased(Member)
    query = select(mine.person_id).join(theirs, theirs.class_id == mine.class_id)
    query = query.where(
        theirs.person_id == tutor_id, theirs.role == Role.TUTOR, mine.person_id == person_id, mine.removed_at.is_(None)
    )
    return bool(session.scalar(select(exists(query))))


def may_enter(session: Session, person: Person) -> bool:
    """Whether a person may be signed in at all: a member of some class who was not removed and whose lesson is not
    over.
    """
    return bool(session.scalar(select(enters(person.id))))


def enters(person_id: Any) -> ColumnElement[bool]:
    """``may_enter`` as a part of a query; ``person_id`` may be a column of it."""
    return exists().where(
        Member.person_id == person_id, Member.removed_at.is_(None), or_(Member.until.is_(None), Member.until > now())
    )
