"""Who may do what, as the one place decides it; passphrases, tries and names as they are kept."""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from datetime import datetime, timedelta
from pathlib import Path

import pytest
from argon2.exceptions import VerifyMismatchError
from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from aspectum.service.errors import Missing, Refused, Unfit, Wait
from aspectum.service.people import passphrases, sign_in
from aspectum.service.people.belongings import FINDERS, none_such, whose
from aspectum.service.people.may import Action, Owner, leads, may, may_enter, takes_part, teaches
from aspectum.service.people.passphrases import HASHER, fits, folded, set_passphrase, take_name, tidy
from aspectum.service.people.people import class_exists, person_alone, settle_in
from aspectum.service.runtime.tries import BY_ADDRESS, BY_NAME, LONGEST, Tries, waited
from aspectum.service.school import classes
from aspectum.store.classes import ClassRow, Member, Role, SignIn
from aspectum.store.counted import Try
from aspectum.store.database import migrate, open_engine, session_factory
from aspectum.store.models import HERE, Person, now
from tests.databases import url_in

PASSPHRASE = "tern rope lantern"


@pytest.fixture
def sessions(tmp_path: Path) -> sessionmaker[Session]:
    engine = open_engine(url_in(tmp_path))
    migrate(engine)
    settle_in(session_factory(engine))
    return session_factory(engine)


@pytest.fixture
def session(sessions: sessionmaker[Session]) -> Iterator[Session]:
    with sessions() as session:
        yield session


@pytest.fixture
def two_classes(session: Session) -> dict[str, Person]:
    """Two classes, each with its tutor and a student; one who was in the first and was removed."""
    people: dict[str, Person] = {}
    for n in ("1", "2"):
        tutor, of = classes.one_more_tutor(session, f"Tutor {n}", PASSPHRASE, f"Class {n}")
        people |= {f"tutor {n}": tutor, f"student {n}": classes.join(session, of, f"Student {n}", PASSPHRASE)}
    of = classes.classes_of(session, people["tutor 1"])[0].of
    gone = classes.join(session, of, "Gone", PASSPHRASE)
    classes.remove(session, classes.member_of(session, of, gone.id))
    session.flush()
    return people | {"gone": gone}


def class_of(session: Session, tutor: Person) -> str:
    return classes.classes_of(session, tutor)[0].class_id


# --- may
# ----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("who", "action", "allowed"),
    [
        ("student 1", Action.READ, True),
        ("student 1", Action.CHANGE, True),
        ("tutor 1", Action.READ, True),
        ("tutor 1", Action.CHANGE, False),
        ("tutor 2", Action.READ, False),
        ("student 2", Action.READ, False),
        ("gone", Action.READ, False),
    ],
)
def test_a_students_work_is_theirs_to_change_and_their_tutors_to_read(
    session: Session, two_classes: dict[str, Person], who: str, action: Action, allowed: bool
) -> None:
    assert may(session, two_classes[who], action, Owner(two_classes["student 1"].id)) is allowed


@pytest.mark.parametrize("action", list(Action))
def test_nobody_may_do_anything(session: Session, two_classes: dict[str, Person], action: Action) -> None:
    for thing in (
        Owner(two_classes["student 1"].id),
        Owner(class_id=class_of(session, two_classes["tutor 1"])),
        Owner(),
    ):
        assert not may(session, None, action, thing)


def test_what_is_nobodys_is_for_nobody(session: Session, two_classes: dict[str, Person]) -> None:
    assert not any(may(session, who, action, Owner()) for who in two_classes.values() for action in Action)


def test_the_work_of_one_who_was_removed_is_still_the_tutors_to_read(
    session: Session, two_classes: dict[str, Person]
) -> None:
    thing = Owner(two_classes["gone"].id)
    assert may(session, two_classes["tutor 1"], Action.READ, thing) and not may(
        session, two_classes["tutor 2"], Action.READ, thing
    )
    assert not may_enter(session, two_classes["gone"])


@pytest.mark.parametrize(
    ("who", "leads_it", "takes_part_in_it"),
    [("tutor 1", True, True), ("student 1", False, True), ("gone", False, False), ("tutor 2", False, False)],
)
def test_a_class_is_led_by_its_tutor_and_taken_part_in_by_its_members(
    session: Session, two_classes: dict[str, Person], who: str, leads_it: bool, takes_part_in_it: bool
) -> None:
    thing = Owner(class_id=class_of(session, two_classes["tutor 1"]))
    assert may(session, two_classes[who], Action.LEAD, thing) is leads_it
    assert may(session, two_classes[who], Action.TAKE_PART, thing) is takes_part_in_it


def test_a_piece_handed_in_is_its_makers_and_its_classs_tutors(
    session: Session, two_classes: dict[str, Person]
) -> None:
    """Not another class's tutor's, though the maker were their student too."""
    student, tutor, other = two_classes["student 1"], two_classes["tutor 1"], two_classes["tutor 2"]
    session.add(Member(class_id=class_of(session, other), person_id=student.id, role=Role.STUDENT))
    session.flush()
    assert teaches(session, other, student.id) and may(session, other, Action.READ, Owner(student.id))
    piece = Owner(student.id, class_of(session, tutor))
    assert (
        may(session, student, Action.READ, piece)
        and may(session, tutor, Action.READ, piece)
        and may(session, tutor, Action.LEAD, piece)
    )
    assert not may(session, other, Action.READ, piece) and not may(session, other, Action.LEAD, piece)
    assert not may(session, tutor, Action.CHANGE, piece) and not may(session, student, Action.LEAD, piece)


def test_tutors_of_one_class_do_not_read_each_others_desks(session: Session, two_classes: dict[str, Person]) -> None:
    second = two_classes["tutor 2"]
    session.add(Member(class_id=class_of(session, two_classes["tutor 1"]), person_id=second.id, role=Role.TUTOR))
    session.flush()
    assert not teaches(session, two_classes["tutor 1"], second.id)


def test_a_guest_takes_part_until_the_lesson_is_over(session: Session, two_classes: dict[str, Person]) -> None:
    of = session.get_one(ClassRow, class_of(session, two_classes["tutor 1"]))
    guest = classes.join(session, of, "Elske", None)
    assert takes_part(session, guest, of.id) and may_enter(session, guest) and not leads(session, guest, of.id)
    session.get_one(Member, (of.id, guest.id)).until = now() - timedelta(seconds=1)
    session.flush()
    assert not takes_part(session, guest, of.id) and not may_enter(session, guest)


@pytest.mark.parametrize("kind", list(FINDERS))
def test_of_what_is_not_there_nothing_is_told(session: Session, kind: str) -> None:
    assert whose(session, kind, "0" * 32) is None and none_such(kind).startswith("There is no such")


# --- the first class
# ----------------------------------------------------------------------------------------------------


def test_with_the_first_class_nobody_is_alone_here_any_more_also_after_a_restart(
    sessions: sessionmaker[Session],
) -> None:
    with sessions.begin() as session:
        assert person_alone(session) is not None and not class_exists(session)
        classes.first_class(session, "Maren", PASSPHRASE, "Harbour class")
    settle_in(sessions)
    with sessions() as session:
        assert person_alone(session) is None and class_exists(session)
        assert session.query(Person).filter(Person.place == HERE).count() == 0


def test_there_is_one_first_class(session: Session) -> None:
    classes.first_class(session, "Maren", PASSPHRASE, "Harbour class")
    with pytest.raises(Refused, match="a class here already"):
        classes.first_class(session, "Hauke", PASSPHRASE, "Morning class")


def test_a_class_is_not_joined_beyond_what_it_holds(session: Session, monkeypatch: pytest.MonkeyPatch) -> None:
    _, of = classes.first_class(session, "Maren", PASSPHRASE, "Harbour class")
    monkeypatch.setattr(classes, "MOST_MEMBERS", 2)
    classes.join(session, of, "Ilse", PASSPHRASE)
    with pytest.raises(Unfit, match="The class is full: it has 2 members"):
        classes.join(session, of, "Onno", PASSPHRASE)


def test_of_two_who_take_one_name_at_the_same_moment_one_gets_it(sessions: sessionmaker[Session]) -> None:
    with sessions.begin() as session:
        _, of = classes.first_class(session, "Maren", PASSPHRASE, "Harbour class")
        class_id = of.id

    def joins(_: int) -> str:
        try:
            with sessions.begin() as session:
                return classes.join(session, session.get_one(ClassRow, class_id), "Ilse", PASSPHRASE).name
        except Unfit as error:
            return str(error)

    with ThreadPoolExecutor(4) as pool:
        said = list(pool.map(joins, range(4)))
    assert said.count("Ilse") == 1 and sum("Add an initial" in words for words in said) == 3


@pytest.mark.parametrize("code", ["", "ABCD", "ABCDEFGHJ", "'; drop table classes", "ÄÖÜ" * 3])
def test_a_code_that_is_none_opens_nothing(session: Session, code: str) -> None:
    classes.first_class(session, "Maren", PASSPHRASE, "Harbour class")
    with pytest.raises(Missing, match="letter by letter"):
        classes.open_class(session, code)


# --- names and passphrases
# ----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("written", "shown"),
    [
        ("  Ilse  ", "Ilse"),
        ("Ilse \t van   Dijk", "Ilse van Dijk"),
        ("ﬁnn", "finn"),
        ("Åse", "Åse"),
        ("Åse", "Åse"),
        ("<b>Ilse</b>", "<b>Ilse</b>"),
    ],
)
def test_names_are_kept_in_one_form(written: str, shown: str) -> None:
    """Unicode normal form NFKC: what looks alike is alike. What a name says in HTML is shown as it is written, never
    read.
    """
    assert tidy(written) == shown


@pytest.mark.parametrize("name", ["", "   ", "\u200b", "a\x00b", "x" * 61])
def test_names_that_cannot_be_shown_are_refused(name: str) -> None:
    with pytest.raises(Unfit, match="name"):
        tidy(name)


def test_names_are_compared_without_their_capitals(session: Session) -> None:
    first, second = Person(name="a"), Person(name="b")
    session.add_all([first, second])
    session.flush()
    take_name(session, first, "Straße")
    assert folded("STRASSE") == folded("straße")
    with pytest.raises(Unfit, match="Add an initial"):
        take_name(session, second, "strasse")
    take_name(session, first, "STRASSE")  # one's own name may be written anew


@pytest.mark.parametrize(
    "passphrase",
    [
        "tern rope lantern",
        "correct horse battery",
        "øl og fiskekasser",
        "七つの箱と灯台の下",
        "x7#kQ9!vbn2m",
        "p" * 40 + "qrs tuv wxy",
    ],
)
def test_passphrases_of_any_characters_are_taken(passphrase: str) -> None:
    person = Person(name="Ilse")
    set_passphrase(person, passphrase)
    assert fits(person, passphrase) and not fits(person, passphrase[:-1]) and not fits(person, "")


@pytest.mark.parametrize(
    "passphrase",
    ["password", "12345678", "qwertyuiop", "ilseilse", "aspectum", "harbour1", "aaaaaaaaaaaa", "short", "x" * 129],
)
def test_passphrases_that_others_would_try_first_are_refused(passphrase: str) -> None:
    person = Person(name="Ilse")
    with pytest.raises(Unfit, match="passphrase"):
        set_passphrase(person, passphrase, "Harbour class")
    assert person.passphrase is None


def test_a_hash_made_with_less_is_renewed_when_it_is_next_used(monkeypatch: pytest.MonkeyPatch) -> None:
    from argon2 import PasswordHasher

    person = Person(
        name="Ilse", passphrase=PasswordHasher(time_cost=1, memory_cost=8192, parallelism=1).hash(PASSPHRASE)
    )
    assert fits(person, PASSPHRASE)
    assert (
        person.passphrase is not None
        and "m=19456,t=2,p=1" in person.passphrase
        and not HASHER.check_needs_rehash(person.passphrase)
    )


@pytest.mark.parametrize("kept", ["", "nonsense", "$argon2id$v=19$m=8,t=1,p=1$broken"])
def test_a_damaged_hash_lets_nobody_in(kept: str) -> None:
    assert not fits(Person(name="Ilse", passphrase=kept), PASSPHRASE)


def test_an_unknown_name_takes_as_long_as_a_wrong_passphrase(monkeypatch: pytest.MonkeyPatch) -> None:
    """Both verify one hash; counted, not timed."""
    verified: list[str] = []

    class Counting:
        def verify(self, kept: str, _: str) -> bool:
            verified.append(kept)
            raise VerifyMismatchError

    person = Person(name="Ilse")
    set_passphrase(person, PASSPHRASE)
    passphrases.nobody()
    monkeypatch.setattr(passphrases, "HASHER", Counting())
    assert not fits(person, "wrong") and not fits(None, "wrong")
    assert len(verified) == 2 and all(kept.startswith("$argon2id$") for kept in verified)


# --- tries
# ----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("seconds", "words"), [(1, "a second"), (45, "45 seconds"), (60, "a minute"), (61, "2 minutes"), (299, "5 minutes")]
)
def test_a_wait_is_told_in_words(seconds: int, words: str) -> None:
    assert waited(seconds) == words


class Clock:
    """A clock that is set by hand."""

    def __init__(self) -> None:
        self.at = now()

    def __call__(self) -> datetime:
        return self.at


def test_tries_come_back_as_time_passes(sessions: sessionmaker[Session]) -> None:
    clock = Clock()
    tries = Tries(sessions, clock)
    for _ in range(BY_NAME.most):
        tries.count(BY_NAME, "ilse")
        clock.at += timedelta(seconds=10)
    for _ in range(3):  # what is refused does not make the wait longer
        with pytest.raises(Wait) as told:
            tries.count(BY_NAME, "ilse")
        assert told.value.seconds == BY_NAME.window.total_seconds() - 50
        with pytest.raises(Wait) as seen:
            tries.see(BY_NAME, "ilse")
        assert seen.value.seconds == told.value.seconds
    tries.count(BY_NAME, "onno")
    tries.count(BY_ADDRESS, "ilse")
    clock.at += timedelta(seconds=told.value.seconds)
    tries.count(BY_NAME, "ilse")
    with pytest.raises(Wait) as again:
        tries.count(BY_NAME, "ilse")
    assert again.value.seconds == 10  # the next of the five is ten seconds younger


def test_servers_that_share_a_database_count_tries_together_and_a_restart_forgets_none(
    sessions: sessionmaker[Session],
) -> None:
    for _ in range(BY_NAME.most):
        Tries(sessions).count(BY_NAME, "ilse")
    with pytest.raises(Wait):
        Tries(sessions).see(BY_NAME, "ilse")


def test_of_tries_at_the_same_moment_no_more_go_through_than_may(sessions: sessionmaker[Session]) -> None:
    def go_through(_: int) -> bool:
        try:
            Tries(sessions).count(BY_NAME, "ilse")
        except Wait:
            return False
        return True

    with ThreadPoolExecutor(8) as pool:
        assert 1 <= sum(pool.map(go_through, range(24))) <= BY_NAME.most


def test_what_was_typed_cannot_be_read_from_a_kept_try(sessions: sessionmaker[Session]) -> None:
    """People type a passphrase where the name belongs."""
    Tries(sessions).count(BY_NAME, PASSPHRASE)
    with sessions() as session:
        (kept,) = session.scalars(select(Try.key))
    assert len(kept) == 64 and PASSPHRASE not in kept


def test_old_tries_are_swept(sessions: sessionmaker[Session]) -> None:
    clock = Clock()
    tries = Tries(sessions, clock)
    tries.count(BY_NAME, "ilse")
    clock.at += LONGEST
    tries.sweep()
    with sessions() as session:
        assert list(session.scalars(select(Try))) == []


def test_signing_in_forgets_the_failures_before_it(session: Session, sessions: sessionmaker[Session]) -> None:
    classes.first_class(session, "Maren", PASSPHRASE, "Harbour class")
    session.commit()
    tries = Tries(sessions)
    for _ in range(3):  # four failures and a success, three times over
        for _ in range(BY_NAME.most - 1):
            with pytest.raises(Refused):
                sign_in.sign_in(session, tries, "Maren", "wrong", "192.0.2.1")
        sign_in.sign_in(session, tries, "maren", PASSPHRASE, "192.0.2.1")
        session.commit()


def test_a_refused_sign_in_is_logged_with_its_address_and_without_what_was_typed(
    session: Session, sessions: sessionmaker[Session], caplog: pytest.LogCaptureFixture
) -> None:
    classes.first_class(session, "Maren", PASSPHRASE, "Harbour class")
    session.commit()
    with pytest.raises(Refused):
        sign_in.sign_in(session, Tries(sessions), PASSPHRASE, "wrong words", "192.0.2.1")
    assert "192.0.2.1" in caplog.text and PASSPHRASE not in caplog.text and "wrong words" not in caplog.text


def test_ended_sign_ins_are_swept(session: Session) -> None:
    person, _ = classes.first_class(session, "Maren", PASSPHRASE, "Harbour class")
    tokens = [sign_in.begin(session, person) for _ in range(3)]
    session.flush()
    for token, field, age in ((tokens[0], "seen_at", sign_in.UNUSED), (tokens[1], "made_at", sign_in.LONGEST)):
        setattr(session.get_one(SignIn, sign_in.hashed(token)), field, now() - age - timedelta(minutes=1))
    session.flush()
    sign_in.forget_ended(session)
    assert [row.id for row in session.query(SignIn)] == [sign_in.hashed(tokens[2])]
    left = sign_in.signed_in(session, tokens[2])
    assert left is not None and left.person is person and sign_in.signed_in(session, tokens[0]) is None


def test_a_tutor_who_was_removed_leads_teaches_and_sees_no_more(
    session: Session, two_classes: dict[str, Person]
) -> None:
    """A colleague who leads a class as well, and is then taken out of it."""
    of = class_of(session, two_classes["tutor 1"])
    colleague = Person(name="Colleague")
    session.add(colleague)
    session.flush()
    session.add(Member(class_id=of, person_id=colleague.id, role=Role.TUTOR))
    session.flush()
    student = two_classes["student 1"]
    seen = Owner(student.id)
    assert (
        leads(session, colleague, of)
        and teaches(session, colleague, student.id)
        and may(session, colleague, Action.READ, seen)
    )
    session.get_one(Member, (of, colleague.id)).removed_at = now()
    session.flush()
    assert (
        not leads(session, colleague, of)
        and not teaches(session, colleague, student.id)
        and not may(session, colleague, Action.READ, seen)
    )
    assert not may(session, colleague, Action.LEAD, Owner(None, of)) and not may(
        session, colleague, Action.TAKE_PART, Owner(None, of)
    )
