"""What is found in a photo: looked for in the background, offered form by form, and the one edge that a finger points
at.
"""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from aspectum.core.sightings import FormKind
from aspectum.formats.sheet import FoundView, SightingSheet
from aspectum.formats.sightings import Id, Number, Point, Tilt
from aspectum.pictures.pointing import edge_at
from aspectum.service.paper import drawings
from aspectum.service.school.assignments import see_found
from aspectum.service.sheets import finding, pictures
from aspectum.service.words.finding import NO_EDGE, form_words, found_words
from aspectum.store.models import Picture
from aspectum.web.api.base import Message, feature, here, work
from aspectum.web.api.pictures import Turn, TurnQuery
from aspectum.web.routes import reads

routes = feature("finding")

FARTHEST_PX = 500.0  # a finger on a picture of fifty megapixels that is shown whole


class FoundForm(Message):
    """``id``: as it is called on a sheet that it comes to; ``words``: its edges by family, and its rims."""

    id: str
    kind: FormKind
    name: str
    count: int
    words: str


class Look(Message):
    """What was found in a photo. ``words``: its eye level and view, or that there is nothing; ``found``: the view
    itself, for its sheet.
    """

    words: list[str]
    forms: list[FoundForm]
    found: FoundView | None


class OfferRequest(Message):
    """``form``: one that was found, null for all."""

    document: SightingSheet
    form: Id | None = None


class OfferAnswer(Message):
    """``added``: how many proposals came to the sheet."""

    document: SightingSheet
    added: int


class PointedRequest(Message):
    """``reach_px``: how far beside the edge the finger may be, px of the picture; ``tilt_deg``: as the edge
    was judged.
    """

    at: Point
    reach_px: Annotated[Number, Field(gt=0, le=FARTHEST_PX)]
    tilt_deg: Tilt | None = None


class PointedAnswer(Message):
    """The edge's two ends; where there is none, null and ``words`` that say so."""

    p: Point | None
    q: Point | None
    words: str


def photo(picture_id: str) -> Picture:
    with work() as (session, person):
        return pictures.picture_of(session, person, picture_id)


@routes.post("/pictures/<picture_id>/look", reads("picture", "picture_id"), "lookAtPicture", Look, stale=True)
def look(picture_id: str, query: TurnQuery) -> Look:
    """Look into a photo, or over a flattened drawing, for forms, edges and rims. It takes seconds the first time, and
    is kept; ``ticket`` asks where it stands, and stops it.
    """
    with work() as (session, person):
        picture = pictures.picture_of(session, person, picture_id)
        see_found(session, picture)
        px_per_mm = drawings.scale_of(session, picture)
    found = finding.looked(here().files, picture)
    if found is None:
        with here().looks.turn(query.ticket) as stopped:
            found = finding.look(here().files, picture, px_per_mm, stopped)
    counts = {f.id: sum(s.form == f.id for s in found.sightings) for f in found.forms}
    there = [f for f in found.forms if counts[f.id]]
    forms = [
        FoundForm(
            id=finding.on_sheet(f.id),
            kind=f.kind,
            name=f.name or f.id,
            count=counts[f.id],
            words=form_words(found, f.id),
        )
        for f in there
    ]
    return Look(words=found_words(found), forms=forms, found=found.found)


@routes.get("/pictures/<picture_id>/look", reads("picture", "picture_id"), "lookTurn", Turn)
def look_turn(picture_id: str, query: TurnQuery) -> Turn:
    """How many photos are looked at before this one. Who asked once and asks no more is waited for no longer."""
    photo(picture_id)
    return Turn(ahead=here().looks.ask(query.ticket))


@routes.delete("/pictures/<picture_id>/look", reads("picture", "picture_id"), "stopLook", Turn, stores=False)
def stop_look(picture_id: str, query: TurnQuery) -> Turn:
    """Stop looking, or waiting to; nothing is found then."""
    photo(picture_id)
    here().looks.stop(query.ticket)
    return Turn(ahead=None)


@routes.post("/pictures/<picture_id>/offer", reads("picture", "picture_id"), "offerFound", OfferAnswer, stores=False)
def offer(picture_id: str, json: OfferRequest) -> OfferAnswer:
    """Put what was found of one form, or of all, on a sheet as proposals, but for what is laid there already."""
    with work() as (session, person):
        picture = pictures.picture_of(session, person, picture_id)
        see_found(session, picture)
    document = finding.offer(here().files, picture, json.document, json.form)
    return OfferAnswer(document=document, added=len(document.sightings) - len(json.document.sightings))


@routes.post("/pictures/<picture_id>/edge", reads("picture", "picture_id"), "pointedEdge", PointedAnswer, stores=False)
def pointed_edge(picture_id: str, json: PointedRequest) -> PointedAnswer:
    """The edge that a finger points at, from end to end."""
    found = edge_at(
        here().greys.of(pictures.picture_path(here().files, photo(picture_id), "")),
        json.at,
        json.reach_px,
        json.tilt_deg,
    )
    if found is None:
        return PointedAnswer(p=None, q=None, words=str(NO_EDGE))
    p, q = finding.rounded(found.p), finding.rounded(found.q)
    return PointedAnswer(p=p, q=q, words="")
