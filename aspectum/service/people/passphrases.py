"""Names to sign in with, and passphrases: kept as Argon2id hashes, never in the clear."""

from __future__ import annotations

import unicodedata
from functools import cache

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError, VerifyMismatchError
from sqlalchemy import select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from aspectum.language import say
from aspectum.service.errors import Unfit
from aspectum.store.models import Person

# OWASP Password Storage Cheat Sheet (2025): Argon2id with 19 MiB, two passes, one lane at the least; so small that
# eight at once cost 152 MiB
HASHER = PasswordHasher(time_cost=2, memory_cost=19 * 1024, parallelism=1)
SHORTEST, LONGEST = 8, 128  # OWASP ASVS 5.0, 6.2.1 and 6.2.9
LEAST_SCORE = 2  # zxcvbn: above 10⁶ guesses; tries are limited too
SEEN = 72  # characters that zxcvbn looks at; its work grows with the square
LONGEST_NAME = 60
TAKEN = "Somebody here is called {} already. Add an initial or a second name."


def tidy(name: str) -> str:
    """A name as it is shown: normal form, one space between words. Raises ``Unfit`` for one that cannot be shown or is
    too long.
    """
    found = " ".join(unicodedata.normalize("NFKC", name).split())
    if not found or not all(c.isprintable() for c in found):
        raise Unfit(say("Write a name."))
    if len(found) > LONGEST_NAME:
        raise Unfit(say("The name is too long: {longest_name} characters at most.", longest_name=LONGEST_NAME))
    return found


def folded(name: str) -> str:
    """A name as it is compared: Ilse and ilse are one."""
    return tidy(name).casefold()


def take_name(session: Session, person: Person, name: str) -> None:
    """Give a person a name of their own. Raises ``Unfit`` where another has it."""
    shown, compared = tidy(name), folded(name)
    other = session.scalar(select(Person.id).where(Person.sign_in_name == compared, Person.id != person.id))
    if other is not None:
        raise Unfit(TAKEN.format(shown))
    try:
        with session.begin_nested():
            person.name, person.sign_in_name = shown, compared
    except IntegrityError:  # taken at this moment
        raise Unfit(TAKEN.format(shown)) from None


def set_passphrase(person: Person, passphrase: str, *words: str) -> None:
    """Keep a passphrase's hash. Raises ``Unfit`` for one that is short or easily guessed; ``words``: what else somebody
    would guess with.
    """
    from zxcvbn import zxcvbn

    if not SHORTEST <= len(passphrase) <= LONGEST:
        raise Unfit(
            say(
                "A passphrase has {shortest} to {longest} characters. A few words are easiest to remember.",
                shortest=SHORTEST,
                longest=LONGEST,
            )
        )
    guessed = zxcvbn(passphrase[:SEEN], user_inputs=[person.name, "aspectum", *words])
    if guessed["score"] < LEAST_SCORE:
        raise Unfit(
            say(
                "This passphrase is among the first that others would guess. Take a few words that do not belong "
                "together."
            )
        )
    person.passphrase = HASHER.hash(passphrase)


@cache
def nobody() -> str:
    """A hash that nothing fits, so that an unknown name takes as long to refuse as a wrong passphrase."""
    return HASHER.hash("nobody has this passphrase")


def fits(person: Person | None, passphrase: str) -> bool:
    """Whether a passphrase is a person's; a hash made with older settings is renewed."""
    kept = None if person is None else person.passphrase
    try:
        HASHER.verify(kept or nobody(), passphrase[:LONGEST])
    except (VerifyMismatchError, VerificationError, InvalidHashError):
        return False
    if person is None or kept is None:
        return False
    if HASHER.check_needs_rehash(kept):
        person.passphrase = HASHER.hash(passphrase)
    return True
