"""Signing in and out. What a device holds is a random token; the database keeps its hash, so that a sign-in can be
ended from either side.
"""

from __future__ import annotations

import hashlib
import logging
import secrets
from datetime import timedelta

from sqlalchemy import delete, or_, select, update
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session, sessionmaker

from aspectum.language import Text, say
from aspectum.service.errors import Refused
from aspectum.service.people.may import enters, may_enter
from aspectum.service.people.passphrases import fits, folded
from aspectum.service.runtime.tries import BY_ADDRESS, BY_NAME, Tries
from aspectum.store.classes import SignIn
from aspectum.store.models import Person, now

log = logging.getLogger(__name__)

UNUSED, LONGEST = (
    timedelta(days=3),
    timedelta(days=30),
)  # a sign-in ends when nothing was done for the one, and after the other in any case
SEEN_EVERY = timedelta(minutes=10)  # a row is written this often, not with every request
WRONG = Text(
    "That name and passphrase do not go together. Look at both; a forgotten passphrase is set anew by the tutor."
)


def sign_in(session: Session, tries: Tries, name: str, passphrase: str, address: str) -> tuple[Person, str]:
    """The person, and the token for their device. Raises ``Wait`` after too many tries, ``Refused`` for a wrong one."""
    compared = folded(name)
    tries.see(BY_ADDRESS, address)
    tries.count(BY_NAME, compared)
    person = session.scalar(select(Person).where(Person.sign_in_name == compared))
    if not fits(person, passphrase) or person is None:
        log.warning("a sign-in from %s was refused", address)  # no name: a passphrase may have been typed in its place
        tries.count(BY_ADDRESS, address)
        raise Refused(WRONG)
    if not may_enter(session, person):
        raise Refused(say("You are not in a class here any more. The tutor can bring you back."))
    tries.forget(BY_NAME, compared)
    log.info("person %s signed in from %s", person.id, address)
    return person, begin(session, person)


def begin(session: Session, person: Person) -> str:
    """Sign a person in on one more device; the token is known to that device only."""
    token = secrets.token_urlsafe(32)
    session.add(SignIn(id=hashed(token), person_id=person.id))
    return token


def hashed(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def signed_in(session: Session, token: str) -> SignIn | None:
    """The sign-in that a token is of, with its person; None once it ended, or for one who was removed."""
    at = now()
    # one query, since every request asks it
    found = session.execute(select(SignIn, enters(SignIn.person_id)).where(SignIn.id == hashed(token))).one_or_none()
    if found is None or found[0].seen_at < at - UNUSED or found[0].made_at < at - LONGEST or not found[1]:
        return None
    return found[0]


def was_seen(sessions: sessionmaker[Session], row: SignIn) -> None:
    """Note that a sign-in is in use, now and then. A full disk must not keep anybody from looking at their work."""
    at = now()
    if row.seen_at >= at - SEEN_EVERY:
        return
    try:
        with sessions.begin() as session:
            session.execute(
                update(SignIn).where(SignIn.id == row.id, SignIn.seen_at < at - SEEN_EVERY).values(seen_at=at)
            )
    except DBAPIError:
        log.warning("a sign-in's last use could not be noted")


def sign_out(session: Session, token: str) -> None:
    session.execute(delete(SignIn).where(SignIn.id == hashed(token)))


def end_all(session: Session, person: Person, but: str | None = None) -> None:
    """End a person's sign-ins everywhere, but for the device with that token."""
    session.execute(
        delete(SignIn).where(SignIn.person_id == person.id, SignIn.id != ("" if but is None else hashed(but)))
    )


def forget_ended(session: Session) -> None:
    """Delete the rows of sign-ins that have ended."""
    session.execute(delete(SignIn).where(or_(SignIn.seen_at < now() - UNUSED, SignIn.made_at < now() - LONGEST)))
