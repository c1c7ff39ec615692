"""A photo sent from the telephone to the sheet on the big screen."""

from __future__ import annotations

from datetime import datetime

from flask import request

from aspectum.pictures.isolated import open_isolated
from aspectum.service.pages.qr import qr_image
from aspectum.service.sheets import phone, pictures
from aspectum.service.sheets.sheets import sheet_of
from aspectum.store.models import new_id
from aspectum.web.api.base import Message, admit_photo, feature, here, work
from aspectum.web.api.classes import asked_at, reachable
from aspectum.web.api.pictures import PictureOut
from aspectum.web.routes import CHANGES_SHEET, OPEN, PHOTO

routes = feature("phone")


class PhoneLink(Message):
    """A link for one sheet, as an address and as a QR code, and until when it is good."""

    link: str
    image: str
    until: datetime
    reachable: bool


class PhoneTarget(Message):
    """What a link is for, as the telephone shows it."""

    title: str
    until: datetime


class ArrivedPhoto(Message):
    picture: PictureOut
    at: datetime


class ArrivedList(Message):
    photos: list[ArrivedPhoto]


@routes.post("/sheets/<sheet_id>/phone", CHANGES_SHEET, "makePhoneLink", PhoneLink)
def make_link(sheet_id: str) -> PhoneLink:
    """A link for the telephone."""
    with work() as (session, person):
        made = phone.make_link(here().secret, sheet_of(session, person, sheet_id))
    link = f"{asked_at()}/phone/{made.token}"
    return PhoneLink(link=link, image=qr_image(link), until=made.until, reachable=reachable())


@routes.get("/sheets/<sheet_id>/arrived", CHANGES_SHEET, "listArrived", ArrivedList)
def list_arrived(sheet_id: str) -> ArrivedList:
    """Photos that came for a sheet, the last first."""
    with work() as (session, person):
        return ArrivedList(
            photos=[
                ArrivedPhoto(picture=PictureOut.of(a.picture), at=a.made_at)
                for a in phone.arrived(session, person, sheet_id)
            ]
        )


@routes.get("/phone/<token>", OPEN, "readPhoneLink", PhoneTarget, refuses=True)
def read_link(token: str) -> PhoneTarget:
    """The sheet that a link is for."""
    with here().sessions() as session:
        _, sheet, until = phone.linked(session, here().secret, token)
        return PhoneTarget(title=sheet.title, until=until)


@routes.post("/phone/<token>", OPEN, "sendFromPhone", PhoneTarget, file=PHOTO, tried=True)
def send_photo(token: str) -> PhoneTarget:
    """Send a photo, as the body, to the link's sheet."""
    with here().sessions() as session:
        person, sheet, until = phone.linked(session, here().secret, token)
    admit_photo(person.id, request.content_length or 0)
    with here().photos.turn(new_id()):
        opened = open_isolated(request.get_data())
    picture = pictures.keep_picture(here().sessions, here().files, person.id, "photo.jpg", opened)
    with here().sessions.begin() as session:
        phone.arrive(session, sheet.id, picture)
    return PhoneTarget(title=sheet.title, until=until)
