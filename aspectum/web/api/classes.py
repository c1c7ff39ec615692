"""A tutor's class: its code, its members, and what is kept of them."""

from __future__ import annotations

from datetime import datetime

from flask import Response, request
from sqlalchemy.orm import Session

from aspectum.language import say
from aspectum.service.errors import Refused
from aspectum.service.pages.qr import qr_image
from aspectum.service.people import sign_in
from aspectum.service.people.passphrases import take_name
from aspectum.service.school import classes, take_away
from aspectum.store.classes import ClassRow, Member, Role
from aspectum.store.models import now
from aspectum.web import visitors
from aspectum.web.api.base import Message, feature, here, work
from aspectum.web.api.people import Me, Passphrase, PersonName, me, zipped
from aspectum.web.routes import LEADS, OWN_WORK, ZIP

routes = feature("classes")


class NewClass(Message):
    """``tutor`` and ``passphrase``: of the person who works here alone, and becomes the tutor; null for one who is a
    tutor already.
    """

    name: PersonName
    tutor: PersonName | None
    passphrase: Passphrase | None


class ClassMember(Message):
    """``until``: when a guest's lesson is over; ``removed_at``: cannot come in any more."""

    person_id: str
    name: str
    role: Role
    joined_at: datetime
    until: datetime | None
    over: bool
    removed_at: datetime | None


class ClassFull(Message):
    """``link``: where students join, ``image``: the same as a QR code; ``reachable``: whether another device can ask
    there.
    """

    id: str
    name: str
    code: str
    link: str
    image: str
    reachable: bool
    closed: bool
    members: list[ClassMember]


class ChangeClass(Message):
    name: PersonName
    closed: bool


class MemberName(Message):
    name: PersonName


class MemberPassphrase(Message):
    passphrase: Passphrase


@routes.post("/classes", OWN_WORK, "makeClass", Me)
def make_class(json: NewClass) -> Me:
    """Make a class: the first by the person who works here alone, further ones by a tutor."""
    with work() as (session, person):
        if person.place is None:
            if not any(member.role == Role.TUTOR for member in classes.classes_of(session, person)):
                raise Refused(say("Only a tutor makes a class."))
            classes.make_class(session, person, json.name)
        else:
            classes.first_class(session, json.tutor or "", json.passphrase or "", json.name)
            visitors.enter(sign_in.begin(session, person), person)
        session.flush()
        return me(session, person)


@routes.get("/classes/<class_id>", LEADS, "readClass", ClassFull)
def read_class(class_id: str) -> ClassFull:
    """A class with its members."""
    with work() as (session, _):
        return full(session, classes.class_row(session, class_id))


@routes.put("/classes/<class_id>", LEADS, "changeClass", ClassFull)
def change_class(class_id: str, json: ChangeClass) -> ClassFull:
    """Rename a class, close it or open it again."""
    with work() as (session, _):
        of = classes.class_row(session, class_id)
        classes.rename_class(of, json.name)
        classes.close(of, json.closed)
        return full(session, of)


@routes.post("/classes/<class_id>/code", LEADS, "changeCode", ClassFull)
def change_code(class_id: str) -> ClassFull:
    """Give a class another code; the old one lets nobody join any more."""
    with work() as (session, _):
        of = classes.class_row(session, class_id)
        classes.change_code(session, of)
        return full(session, of)


@routes.put("/classes/<class_id>/members/<person_id>", LEADS, "renameMember", ClassFull)
def rename_member(class_id: str, person_id: str, json: MemberName) -> ClassFull:
    """Rename a student."""
    with work() as (session, _):
        of, member = found(session, class_id, person_id)
        classes.see_no_tutor(session, member)
        take_name(session, member.person, json.name)
        return full(session, of)


@routes.post("/classes/<class_id>/members/<person_id>/passphrase", LEADS, "resetPassphrase", ClassFull)
def reset_passphrase(class_id: str, person_id: str, json: MemberPassphrase) -> ClassFull:
    """Set a student's passphrase anew; they are signed out everywhere."""
    with work() as (session, _):
        of, member = found(session, class_id, person_id)
        classes.reset_passphrase(session, member, json.passphrase)
        return full(session, of)


@routes.post("/classes/<class_id>/members/<person_id>/remove", LEADS, "removeMember", ClassFull)
def remove_member(class_id: str, person_id: str) -> ClassFull:
    """Remove a student; their work is kept until it is deleted for good."""
    with work() as (session, _):
        of, member = found(session, class_id, person_id)
        classes.remove(session, member)
        return full(session, of)


@routes.post("/classes/<class_id>/members/<person_id>/bring-back", LEADS, "bringBackMember", ClassFull)
def bring_back_member(class_id: str, person_id: str) -> ClassFull:
    """Let a removed student, or a guest whose lesson is over, come in again."""
    with work() as (session, _):
        of, member = found(session, class_id, person_id)
        classes.bring_back(member)
        return full(session, of)


@routes.delete("/classes/<class_id>/members/<person_id>", LEADS, "deleteMember", None)
def delete_member(class_id: str, person_id: str) -> tuple[str, int]:
    """Delete a removed student and all their work for good."""
    with work() as (session, _):
        _of, member = found(session, class_id, person_id)
        if member.removed_at is None and not over(member):
            raise Refused(say("Remove them from the class first."))
        classes.see_no_other(session, member)
    take_away.delete_work(here().sessions, here().files, person_id, True)
    return "", 204


@routes.get("/classes/<class_id>/members/<person_id>/everything.zip", LEADS, "takeAwayOf", ZIP)
def take_away_of(class_id: str, person_id: str) -> Response:
    """Everything that is a student's, in open formats."""
    with work() as (session, _):
        found(session, class_id, person_id)
    return zipped(person_id)


def found(session: Session, class_id: str, person_id: str) -> tuple[ClassRow, Member]:
    of = classes.class_row(session, class_id)
    return of, classes.member_of(session, of, person_id)


def over(member: Member) -> bool:
    """Whether a guest's lesson is over."""
    return member.until is not None and member.until <= now()


def full(session: Session, of: ClassRow) -> ClassFull:
    session.flush()
    link = f"{asked_at()}/join/{of.code}"
    return ClassFull(
        id=of.id,
        name=of.name,
        code=of.code,
        link=link,
        image=qr_image(link),
        reachable=reachable(),
        closed=of.closed_at is not None,
        members=[class_member(m) for m in classes.members_of(session, of)],
    )


def asked_at() -> str:
    """Where other devices reach this server: the address that was set, or the one it was asked at."""
    return visitors.settings().address or request.host_url.rstrip("/")


def reachable() -> bool:
    """Whether another device can ask there: the machine's own name for itself leads nowhere else."""
    return bool(visitors.settings().address) or request.host.rsplit(":", 1)[0] not in (
        "127.0.0.1",
        "localhost",
        "[::1]",
    )


def class_member(m: Member) -> ClassMember:
    return ClassMember(
        person_id=m.person_id,
        name=m.person.name,
        role=Role(m.role),
        joined_at=m.joined_at,
        until=m.until,
        over=over(m),
        removed_at=m.removed_at,
    )
