"""A question for the whole room: asked and told by the tutor, answered by everybody on their own device."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from flask import Response
from pydantic import Field
from sqlalchemy.orm import Session

from aspectum.core.practice.laid_over import laid_over
from aspectum.core.practice.skills import KINDS, Skill, SkillUnit, tolerance_of
from aspectum.core.tolerance import FREEHAND
from aspectum.service.people.may import leads
from aspectum.service.practice.drill_question import question_of
from aspectum.service.practice.drills import is_right
from aspectum.service.school import classes, room
from aspectum.service.words.practice import rule
from aspectum.store.models import Person
from aspectum.store.room import RoomQuestion
from aspectum.web.api.base import Message, feature, here, work
from aspectum.web.api.practice import (
    AnswerTold,
    Given,
    QuestionAsked,
    ShownMark,
    answer_sent,
    marked_answer,
    shown,
    shown_question,
)
from aspectum.web.routes import JPEG, LEADS, TAKES_PART, member_of, tutor_of

routes = feature("room")


class WhatToAsk(Message):
    """Over a sheet or a set-up of the tutor's; exactly one. ``over``: which of the two ``id`` names."""

    over: Literal["sheet", "stand"]
    id: str


class AskableLine(Message):
    about: str
    words: str


class AskableList(Message):
    title: str
    askable: list[AskableLine]


class AskRoom(WhatToAsk):
    """``about``: as ``whatToAsk`` names it."""

    about: str = Field(max_length=80)


class RoomState(Message):
    """The question that was asked last, and how far it is; ``mine``: whether the one who asks has answered. The
    question tells its truth to those who answered once the tutor has told it.
    """

    question: QuestionAsked | None
    title: str
    asked_at: datetime | None
    stopped: bool
    told: bool
    mine: bool


class RoomNeedle(Message):
    """One answer over the picture, and once the truth is told, by how much it is off; ``name`` only where it was asked
    for.
    """

    drawn: list[ShownMark]
    error: float | None
    right: bool | None
    name: str | None


class RoomAnswers(Message):
    """How many answered, of how many who are there; the answers once the question is stopped, the truth once it is
    told. ``names``: of those who answered, where they were asked for.
    """

    question: QuestionAsked
    title: str
    count: int
    present: int
    stopped: bool
    told: bool
    names: list[str]
    needles: list[RoomNeedle]
    words: str
    truth: list[ShownMark]
    rule: str
    skill: Skill | None
    unit: SkillUnit
    tolerance: float
    mean: float | None
    apart: float | None


class AnswersAsked(Message):
    """``who``: names too."""

    who: bool


@routes.get("/classes/<class_id>/room", TAKES_PART, "readRoom", RoomState)
def read_room(class_id: str) -> RoomState:
    """The question that runs, as a student sees it; asked again and again, it is also the sign of being there."""
    with work() as (session, person):
        if not leads(session, person, class_id):
            here().presence.here(class_id, person.id)
        return state(session, room.current(session, classes.class_row(session, class_id)), person)


@routes.get("/classes/<class_id>/room/askable", LEADS, "whatToAsk", AskableList)
def what_to_ask(class_id: str, query: WhatToAsk) -> AskableList:
    """What can be asked over a sheet or a set-up of the tutor's."""
    with work() as (session, person):
        of = room.over(session, person, *ids(query))
        return AskableList(
            title=of.title, askable=[AskableLine(about=one.about, words=one.words) for one in room.askable(of)]
        )


@routes.post("/classes/<class_id>/room", LEADS, "askRoom", RoomAnswers)
def ask_room(class_id: str, json: AskRoom) -> RoomAnswers:
    """Ask the room; a question that still runs is stopped."""
    with work() as (session, person):
        row = room.ask(
            session, classes.class_row(session, class_id), room.over(session, person, *ids(json)), json.about
        )
        return answered(session, row, False)


@routes.post("/room/<question_id>/answer", member_of("room_question", "question_id"), "answerRoom", RoomState)
def answer_room(question_id: str, json: Given) -> RoomState:
    """Commit an answer; the first one stands."""
    with work() as (session, person):
        row = room.room_question(session, question_id)
        room.answer(session, person, row, answer_sent(question_of(row.document), json), json.seconds)
        return state(session, row, person)


@routes.get("/room/<question_id>/picture", member_of("room_question", "question_id"), "roomPicture", JPEG)
def room_picture(question_id: str) -> Response:
    """The question's picture, JPEG, with what is pointed out; a question's is always the same."""
    with work() as (session, _):
        content = room.picture_of(here().files, room.room_question(session, question_id))
    response = Response(content, mimetype="image/jpeg")
    response.headers["Cache-Control"] = "private, max-age=86400, immutable"
    return response


@routes.get("/room/<question_id>/answers", tutor_of("room_question", "question_id"), "readAnswers", RoomAnswers)
def read_answers(question_id: str, query: AnswersAsked) -> RoomAnswers:
    """How many have answered, and once it is stopped, how."""
    with work() as (session, _):
        return answered(session, room.room_question(session, question_id), query.who)


@routes.post("/room/<question_id>/stop", tutor_of("room_question", "question_id"), "stopRoom", RoomAnswers)
def stop_room(question_id: str) -> RoomAnswers:
    """Take no more answers, and show those that came."""
    with work() as (session, _):
        row = room.room_question(session, question_id)
        room.stop(row)
        return answered(session, row, False)


@routes.post("/room/<question_id>/tell", tutor_of("room_question", "question_id"), "tellRoom", RoomAnswers)
def tell_room(question_id: str) -> RoomAnswers:
    """Show the truth and why; the readings go to everybody's logbook."""
    with work() as (session, _):
        row = room.room_question(session, question_id)
        room.tell(session, row)
        return answered(session, row, False)


def ids(asked: WhatToAsk) -> tuple[str | None, str | None]:
    return (asked.id, None) if asked.over == "sheet" else (None, asked.id)


def asked_question(row: RoomQuestion, answer: AnswerTold | None = None) -> QuestionAsked:
    return shown_question(
        question_of(row.document), row.id, row.class_id, 1, 1, f"/api/room/{row.id}/picture", None, answer
    )


def state(session: Session, row: RoomQuestion | None, person: Person) -> RoomState:
    if row is None:
        return RoomState(question=None, title="", asked_at=None, stopped=False, told=False, mine=False)
    mine = room.answer_of(session, person, row)
    answer = (
        marked_answer(question_of(row.document), room.given_back(mine), mine.judged, mine.truth)
        if mine is not None and row.told_at is not None
        else None
    )
    return RoomState(
        question=asked_question(row, answer),
        title=row.title,
        asked_at=row.made_at,
        stopped=row.stopped_at is not None,
        told=row.told_at is not None,
        mine=mine is not None,
    )


def answered(session: Session, row: RoomQuestion, who: bool) -> RoomAnswers:
    question, given = question_of(row.document), room.answers(session, row)
    stopped, is_told = row.stopped_at is not None, row.told_at is not None
    found = room.spread(row, given) if is_told else None
    return RoomAnswers(
        question=asked_question(row),
        title=row.title,
        count=len(given),
        present=max(here().presence.count(row.class_id), len(given)),
        stopped=stopped,
        told=is_told,
        names=[a.person.name for a in given] if who else [],
        needles=[
            RoomNeedle(
                drawn=[shown(question, mark) for mark in laid_over(question, room.given_back(a))],
                error=a.judged - a.truth if is_told else None,
                right=is_right(question, a.judged, a.truth) if is_told else None,
                name=a.person.name if who else None,
            )
            for a in given
        ]
        if stopped
        else [],
        words="" if found is None else found.words,
        truth=[shown(question, mark) for mark in question.shown] if is_told else [],
        rule=rule(question) if is_told else "",
        skill=question.skill if is_told else None,
        unit=KINDS[question.skill].unit,
        tolerance=tolerance_of(question.skill, FREEHAND),
        mean=None if found is None else found.errors.mean,
        apart=None if found is None else found.errors.apart,
    )
