"""Classes: made, joined, kept and closed."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from datetime import timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session, aliased

from aspectum.language import say
from aspectum.service.errors import Missing, Refused, Unfit
from aspectum.service.people import sign_in
from aspectum.service.people.passphrases import folded, set_passphrase, take_name, tidy
from aspectum.service.people.people import class_exists, person_alone
from aspectum.store.classes import ClassRow, Member, Role
from aspectum.store.models import Person, now

LETTERS = "ABCDEFGHJKMNPQRSTVWXYZ23456789"  # none that is read as another from the back of the room
CODE_LENGTH = 8  # 30⁸ = 6.6·10¹¹, at twenty wrong ones in ten minutes
LESSON = timedelta(hours=4)
MOST_MEMBERS = 200


def new_code(session: Session) -> str:
    while True:
        code = "".join(secrets.choice(LETTERS) for _ in range(CODE_LENGTH))
        if session.scalar(select(ClassRow.id).where(ClassRow.code == code)) is None:
            return code


def make_class(session: Session, tutor: Person, name: str) -> ClassRow:
    """A class of ``tutor``, who needs a passphrase by then."""
    made = ClassRow(name=tidy(name), code=new_code(session))
    session.add(made)
    session.flush()
    session.add(Member(class_id=made.id, person_id=tutor.id, role=Role.TUTOR))
    session.flush()
    return made


def first_class(session: Session, tutor_name: str, passphrase: str, name: str) -> tuple[Person, ClassRow]:
    """The person who worked here alone becomes a tutor, with all their work, and makes a class. Raises ``Refused`` once
    there is one.
    """
    alone = person_alone(session)
    if alone is None or class_exists(session):
        raise Refused(say("There is a class here already; its tutor signs in."))
    return _tutor(session, alone, tutor_name, passphrase, name)


def one_more_tutor(session: Session, tutor_name: str, passphrase: str, name: str) -> tuple[Person, ClassRow]:
    """A tutor with a class, on the installation's own command line; the first is whoever worked here alone."""
    if person_alone(session) is not None and not class_exists(session):
        return first_class(session, tutor_name, passphrase, name)
    person = Person(name=tidy(tutor_name))
    session.add(person)
    return _tutor(session, person, tutor_name, passphrase, name)


def _tutor(session: Session, person: Person, tutor_name: str, passphrase: str, name: str) -> tuple[Person, ClassRow]:
    session.flush()
    take_name(session, person, tutor_name)
    set_passphrase(person, passphrase, tidy(name))
    person.place = None
    return person, make_class(session, person, name)


def open_class(session: Session, code: str) -> ClassRow:
    """The class that a code lets people join. Raises ``Missing``."""
    typed = "".join(c for c in code.upper() if c.isalnum())
    found = session.scalar(select(ClassRow).where(ClassRow.code == typed))
    if found is None or found.closed_at is not None:
        raise Missing(say("No class is open under this code. Look at it again, letter by letter."))
    return found


def join(session: Session, of: ClassRow, name: str, passphrase: str | None) -> Person:
    """A new student of a class, or without a passphrase a guest for one lesson."""
    _see_room(session, of)
    person = Person(name=tidy(name))
    session.add(person)
    session.flush()
    try:
        take_name(session, person, name)
    except Unfit as taken:
        raise Unfit(
            say(
                "{taken} If that is you, sign in first: you join with the name and the logbook that you have.",
                taken=taken,
            )
        ) from None
    if passphrase is not None:
        set_passphrase(person, passphrase, of.name)
    session.add(
        Member(
            class_id=of.id,
            person_id=person.id,
            role=Role.GUEST if passphrase is None else Role.STUDENT,
            until=now() + LESSON if passphrase is None else None,
        )
    )
    session.flush()
    return person


def join_as(session: Session, of: ClassRow, person: Person) -> None:
    """Somebody who is in a class already joins a further one, with the name and the logbook that they have; who is in
    it stays as they are.

    Raises ``Refused`` for a guest of one lesson, and for who was removed from this class.
    """
    member = session.get(Member, (of.id, person.id))
    if member is not None and member.removed_at is not None:
        raise Refused(say("You were taken out of this class. Its tutor can let you in again."))
    if member is not None and member.role != Role.GUEST:
        return
    if all(of_theirs.role == Role.GUEST for of_theirs in classes_of(session, person)):
        raise Refused(
            say(
                "You are a guest of one lesson. Set a passphrase under your name first; then you stay, and can join "
                "further classes."
            )
        )
    _see_room(session, of)
    session.add(Member(class_id=of.id, person_id=person.id, role=Role.STUDENT, until=None))
    session.flush()


def _see_room(session: Session, of: ClassRow) -> None:
    if len(members_of(session, of)) >= MOST_MEMBERS:
        raise Unfit(say("The class is full: it has {most_members} members.", most_members=MOST_MEMBERS))


def stay(session: Session, guest: Person, passphrase: str) -> None:
    """A guest becomes a student."""
    set_passphrase(guest, passphrase)
    for member in classes_of(session, guest):
        if member.role == Role.GUEST:
            member.role, member.until = Role.STUDENT, None


def classes_of(session: Session, person: Person) -> Sequence[Member]:
    """A person's classes that they have not been removed from, the latest first."""
    query = select(Member).join(Member.of).where(Member.person_id == person.id, Member.removed_at.is_(None))
    return session.scalars(query.order_by(ClassRow.made_at.desc())).all()


def taught_by(session: Session, tutor: Person) -> list[Person]:
    """Everybody who is in a class of ``tutor``'s, by name."""
    mine, theirs = aliased(Member), aliased(Member)
    of_mine = select(mine.class_id).where(
        mine.person_id == tutor.id, mine.role == Role.TUTOR, mine.removed_at.is_(None)
    )
    students = select(theirs.person_id).where(
        theirs.class_id.in_(of_mine), theirs.role != Role.TUTOR, theirs.removed_at.is_(None)
    )
    return sorted(
        session.scalars(select(Person).where(Person.id.in_(students))), key=lambda person: folded(person.name)
    )


def all_classes(session: Session) -> Sequence[ClassRow]:
    """Every class of this installation, the latest first."""
    return session.scalars(select(ClassRow).order_by(ClassRow.made_at.desc())).all()


def class_row(session: Session, class_id: str) -> ClassRow:
    found = session.get(ClassRow, class_id)
    if found is None:
        raise Missing(say("There is no such class."))
    return found


def members_of(session: Session, of: ClassRow) -> list[Member]:
    """Everybody who is or was in a class, by name; the tutor comes first."""
    found = session.scalars(select(Member).where(Member.class_id == of.id)).all()
    return sorted(found, key=lambda member: (member.role != Role.TUTOR, folded(member.person.name)))


def member_of(session: Session, of: ClassRow, person_id: str) -> Member:
    """A student or guest of a class, or one who was removed. Raises ``Missing``, also for its tutor."""
    found = session.get(Member, (of.id, person_id))
    if found is None or found.role == Role.TUTOR:
        raise Missing(say("There is no such student in this class."))
    return found


def rename_class(of: ClassRow, name: str) -> None:
    of.name = tidy(name)


def close(of: ClassRow, closed: bool) -> None:
    """Close a class, or open it again: nobody joins a closed one, nothing is handed in and nothing asked; everything
    can still be read and taken away.
    """
    of.closed_at = (of.closed_at or now()) if closed else None


def change_code(session: Session, of: ClassRow) -> None:
    of.code = new_code(session)


def see_no_other(session: Session, member: Member) -> None:
    """Raises ``Refused`` where somebody is in another class too, whose work the tutor of this one must not delete."""
    if any(other.class_id != member.class_id for other in classes_of(session, member.person)):
        raise Refused(say("They are in another class too: their work stays theirs, and its tutor's to look at."))


def see_no_tutor(session: Session, member: Member) -> None:
    """Raises ``Refused`` where a member of this class is tutor of another, whose name and passphrase are nobody else's
    to change.
    """
    if any(other.role == Role.TUTOR for other in classes_of(session, member.person)):
        raise Refused(say("They are a tutor themselves: only they change their name and passphrase."))


def reset_passphrase(session: Session, member: Member, passphrase: str) -> None:
    """Set a student's passphrase anew; they are signed out everywhere. Raises ``Refused`` for who leads a class of
    their own.
    """
    see_no_tutor(session, member)
    set_passphrase(member.person, passphrase, member.of.name)
    if member.role == Role.GUEST:
        member.role, member.until = Role.STUDENT, None
    sign_in.end_all(session, member.person)


def change_passphrase(session: Session, person: Person, passphrase: str, token: str) -> None:
    """One's own; every other device is signed out."""
    set_passphrase(person, passphrase)
    sign_in.end_all(session, person, token)


def remove(session: Session, member: Member) -> None:
    """A student who cannot come in any more; their work stays until it is deleted for good."""
    member.removed_at = now()
    session.flush()
    sign_in.end_all(session, member.person)


def bring_back(member: Member) -> None:
    member.removed_at = None
    if member.role == Role.GUEST:
        member.until = now() + LESSON
