"""Who one is here: signing in and out, joining a class, one's own name, passphrase and everything that is one's own."""

from __future__ import annotations

from tempfile import SpooledTemporaryFile
from typing import Annotated

from flask import Response, request, send_file
from pydantic import Field
from sqlalchemy.orm import Session

from aspectum.language import Text, say
from aspectum.service.errors import Missing, NoRoom, Refused, Unfit
from aspectum.service.people import sign_in
from aspectum.service.people.passphrases import LONGEST, fits, take_name
from aspectum.service.people.people import class_exists, person_alone, settle_in
from aspectum.service.runtime.tries import BY_ADDRESS, BY_NAME, CODES
from aspectum.service.school import classes, take_away
from aspectum.store.classes import ClassRow, Member, Role
from aspectum.store.models import Person
from aspectum.web import visitors
from aspectum.web.api.base import Message, feature, here, owner, work
from aspectum.web.routes import OPEN, OWN_WORK, ZIP

routes = feature("people")

PersonName = Annotated[str, Field(min_length=1, max_length=200)]
Passphrase = Annotated[str, Field(min_length=1, max_length=LONGEST)]
IN_MEMORY = 8_000_000  # bytes; a larger file lies on the disk while it is sent
NO_CLASS = Text("There is no class here yet. Whoever runs this server makes one with the command aspectum tutor.")


class MyClass(Message):
    """A class that one is in."""

    id: str
    name: str
    role: Role
    closed: bool


class OneClick(Message):
    """Somebody of the demo, who is signed in without a passphrase."""

    person_id: str
    name: str
    role: Role


class Me(Message):
    """``name``: null for nobody; ``alone``: works here without a class, and needs no sign-in; ``guest``: for one
    lesson; ``passphrase``: whether one was set; ``door``: why nobody can sign in yet; ``one_click``: whom the demo
    signs in.
    """

    id: str | None
    name: str | None
    alone: bool
    guest: bool
    passphrase: bool
    classes: list[MyClass]
    door: str | None
    one_click: list[OneClick]


class SignInAsked(Message):
    name: PersonName
    passphrase: Passphrase


class OneClickAsked(Message):
    person_id: str


class OpenClass(Message):
    """The class that a code opens."""

    code: str
    name: str


class JoinAsked(Message):
    """``passphrase``: null for a guest of one lesson."""

    code: Annotated[str, Field(min_length=1, max_length=40)]
    name: PersonName
    passphrase: Passphrase | None


class RenameMe(Message):
    name: PersonName


class NewPassphrase(Message):
    """``now``: the passphrase so far, null where there is none; a guest who sets one becomes a student."""

    now: Passphrase | None
    then: Passphrase


class DeleteMe(Message):
    """``passphrase``: null where there is none."""

    passphrase: Passphrase | None


def me(session: Session, person: Person | None) -> Me:
    """What the page may know of whoever asks."""
    mine = [] if person is None else classes.classes_of(session, person)
    alone = person is not None and person.place is not None
    return Me(
        id=None if person is None else person.id,
        name=None if person is None else person.name,
        alone=alone,
        guest=any(m.role == Role.GUEST for m in mine),
        passphrase=person is not None and person.passphrase is not None,
        classes=[
            MyClass(id=m.of.id, name=m.of.name, role=Role(m.role), closed=m.of.closed_at is not None) for m in mine
        ],
        door=str(NO_CLASS) if person is None and not class_exists(session) else None,
        one_click=[]
        if person is not None
        else [
            OneClick(person_id=m.person_id, name=m.person.name, role=Role(m.role)) for m in one_click_people(session)
        ],
    )


def one_click_people(session: Session) -> list[Member]:
    """Those who can be signed in by one click: the demo's, at this machine itself."""
    if not visitors.settings().one_click or request.remote_addr not in ("127.0.0.1", "::1"):
        return []
    rows = [member for of in classes.all_classes(session) for member in classes.members_of(session, of)]
    return [member for member in rows if member.removed_at is None and member.role in (Role.TUTOR, Role.STUDENT)]


def address() -> str:
    return request.remote_addr or "unknown"


@routes.get("/me", OPEN, "readMe", Me)
def read_me() -> Me:
    """Who is asking, and what they can do next."""
    with here().sessions() as session:
        return me(session, visitors.visiting(session))


@routes.post("/sign-in", OPEN, "signIn", Me, tried=True)
def sign_in_here(json: SignInAsked) -> Me:
    """Sign in with a name and a passphrase."""
    with here().sessions.begin() as session:
        person, token = sign_in.sign_in(session, here().tries, json.name, json.passphrase, address())
        return entered(session, person, token)


@routes.post("/sign-in/one-click", OPEN, "signInByClick", Me)
def one_click(json: OneClickAsked) -> Me:
    """Sign in as somebody of the demo, on this machine only."""
    with here().sessions.begin() as session:
        person = next(
            (member.person for member in one_click_people(session) if member.person_id == json.person_id), None
        )
        if person is None:
            raise Refused(say("Only the demo signs people in by a click, and only at the machine it runs on."))
        return entered(session, person, sign_in.begin(session, person))


def entered(session: Session, person: Person, token: str) -> Me:
    """End what this browser was signed in as before, and sign it in."""
    before = visitors.token()
    if before is not None:
        sign_in.sign_out(session, before)
    session.flush()
    visitors.enter(token, person)
    return me(session, person)


@routes.post("/sign-out", OPEN, "signOut", None)
def sign_out() -> Response:
    """Sign this browser out, and have it forget what it keeps of the pictures."""
    token = visitors.token()
    if token is not None:
        with here().sessions.begin() as session:
            sign_in.sign_out(session, token)
    visitors.leave()
    response = Response(status=204)
    response.headers["Clear-Site-Data"] = '"cache"'
    return response


@routes.get("/join/<code>", OPEN, "lookAtCode", OpenClass, tried=True)
def look_at_code(code: str) -> OpenClass:
    """Which class a code opens."""
    with here().sessions() as session:
        found = open_class(session, code)
        return OpenClass(code=found.code, name=found.name)


@routes.post("/join", OPEN, "joinClass", Me, tried=True, misses=True)
def join(json: JoinAsked) -> Me:
    """Join a class by its code, as a student or as a guest of one lesson."""
    with here().sessions.begin() as session:
        person = classes.join(session, open_class(session, json.code), json.name, json.passphrase)
        return entered(session, person, sign_in.begin(session, person))


@routes.post("/join/<code>", OWN_WORK, "joinAsMyself", Me)
def join_as_myself(code: str) -> Me:
    """Join a further class, with the name and the logbook that one has."""
    with work() as (session, person):
        classes.join_as(session, open_class(session, code), person)
        return me(session, person)


def open_class(session: Session, code: str) -> ClassRow:
    """As ``classes.open_class``; wrong codes are counted."""
    tries = here().tries
    tries.see(CODES, address())
    try:
        return classes.open_class(session, code)
    except Missing:
        tries.count(CODES, address())
        raise


@routes.put("/me", OWN_WORK, "renameMe", Me)
def rename_me(json: RenameMe) -> Me:
    """Change one's own name."""
    with work() as (session, person):
        if person.place is not None:
            raise Unfit(say("You have a name of your own once there is a class."))
        take_name(session, person, json.name)
        return me(session, person)


@routes.post("/me/passphrase", OWN_WORK, "changePassphrase", Me, tried=True)
def change_passphrase(json: NewPassphrase) -> Me:
    """Change one's own passphrase; other devices are signed out."""
    with work() as (session, person):
        if person.place is not None:
            raise Unfit(say("No passphrase is needed while there is no class."))
        if person.passphrase is None:
            classes.stay(session, person, json.then)
        else:
            prove(person, json.now)
            classes.change_passphrase(session, person, json.then, visitors.token() or "")
        return me(session, person)


def prove(person: Person, passphrase: str | None) -> None:
    """Raise ``Refused`` unless it is the person's passphrase."""
    tries = here().tries
    tries.see(BY_ADDRESS, address())
    tries.count(BY_NAME, person.sign_in_name or person.id)
    if not fits(person, passphrase or ""):
        raise Refused(say("That is not your passphrase."))
    tries.forget(BY_NAME, person.sign_in_name or person.id)


@routes.get("/me/everything.zip", OWN_WORK, "takeAway", ZIP)
def take_away_all() -> Response:
    """Everything that is one's own, in open formats."""
    return zipped(owner())


def zipped(person_id: str) -> Response:
    """A person's file to take away."""
    packed = SpooledTemporaryFile(IN_MEMORY)  # noqa: SIM115  (the response closes it)
    with here().sessions() as session:
        person = session.get_one(Person, person_id)
        name = take_away.file_name(person.name, person.id)
        try:
            take_away.everything(session, here().files, person, packed)
        except OSError as error:
            packed.close()
            raise NoRoom(say("The file could not be packed: {strerror}.", strerror=error.strerror or error)) from error
    response = send_file(packed, mimetype="application/zip", as_attachment=True, download_name=f"{name}.zip")
    response.call_on_close(packed.close)
    return response


@routes.post("/me/delete", OWN_WORK, "deleteMe", Me, tried=True)
def delete_me(json: DeleteMe) -> Me:
    """Delete for good everything that is one's own, and, where there is a class, oneself."""
    with work() as (session, person):
        if person.passphrase is not None:
            prove(person, json.passphrase)
        goes = person.place is None
    take_away.delete_work(here().sessions, here().files, person.id, goes)
    if goes:
        visitors.leave()
        settle_in(here().sessions)
    with here().sessions() as session:
        return me(session, None if goes and class_exists(session) else person_alone(session))
