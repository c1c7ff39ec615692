"""A question for the whole room: asked over a picture or a set-up, answered on everybody's own device,
stopped, told.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy import select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from aspectum.core.practice.question import Answer, Question, scored
from aspectum.core.practice.recorded import ReadFrom, wrong_way
from aspectum.core.practice.skills import KINDS
from aspectum.core.practice.together import Together, together
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.stand import StandFile
from aspectum.language import say
from aspectum.service.errors import Missing, Refused, Unfit
from aspectum.service.practice import drills
from aspectum.service.practice.drill_picture import drawing_png, question_jpeg
from aspectum.service.practice.drill_question import document_of, question_of
from aspectum.service.sheets import sheets
from aspectum.service.sheets.pictures import picture_path
from aspectum.service.stand import stands
from aspectum.service.stand.from_format import drawn, sheet_of_stand
from aspectum.service.words.practice import amount
from aspectum.service.words.skills import WORDS
from aspectum.store.classes import ClassRow
from aspectum.store.models import Person, Picture, Reading, now
from aspectum.store.picture_files import PictureFiles
from aspectum.store.room import RoomAnswer, RoomQuestion


@dataclass(frozen=True)
class Over:
    """What a question is asked over: a sheet with its picture, or a set-up."""

    title: str
    document: SightingSheet
    picture: Picture | None
    stand: StandFile | None


def over(session: Session, tutor: Person, sheet_id: str | None, stand_id: str | None) -> Over:
    """A sheet or a set-up of the tutor's own. Raises ``Unfit`` for neither, both, or a sheet without a picture."""
    if (sheet_id is None) == (stand_id is None):
        raise Unfit(say("Choose a sheet or a set-up."))
    if sheet_id is not None:
        sheet = sheets.sheet_of(session, tutor, sheet_id)
        if sheet.picture is None:
            raise Unfit(say("A sheet from life has no picture to show."))
        return Over(sheet.title, sheets.document_of(sheet), sheet.picture, None)
    file = stands.file_of(stands.stand_row(session, tutor, stand_id or ""))
    return Over(file.title, sheet_of_stand(file), None, file)


@dataclass(frozen=True)
class Askable:
    """Something that can be asked: ``about`` names it, ``words`` tell it to the tutor."""

    about: str
    words: str
    question: Question


def askable(of: Over) -> list[Askable]:
    """What can be asked over a picture: eye level and every sighting whose truth is known well enough."""
    forms = {form.id: form.name for form in of.document.forms} if len(of.document.forms) > 1 else {}
    called = {
        s.id: ", ".join(part for part in (forms.get(s.form or ""), s.name or s.id) if part)
        for s in of.document.accepted
    }
    found = []
    for about, question in drills.own_questions_on(of.document, eye_level=True).items():
        title = WORDS[question.skill].title
        found.append(
            Askable(about, title if about == drills.EYE_LEVEL else f"{title}: {called.get(about, about)}", question)
        )
    return found


def ask(session: Session, of: ClassRow, asked: Over, about: str) -> RoomQuestion:
    """Ask it; a question that still runs is stopped. Raises ``Missing`` where it cannot be asked."""
    if of.closed_at is not None:
        raise Refused(say("The class is closed."))
    question = next((one.question for one in askable(asked) if one.about == about), None)
    if question is None:
        raise Missing(say("This cannot be asked over this picture."))
    before = current(session, of)
    if before is not None and before.stopped_at is None:
        stop(before)
    made = RoomQuestion(
        class_id=of.id,
        title=asked.title,
        document=document_of(question),
        picture_id=None if asked.picture is None else asked.picture.id,
        stand=None if asked.stand is None else stands.kept(asked.stand),
    )
    session.add(made)
    session.flush()
    return made


def current(session: Session, of: ClassRow) -> RoomQuestion | None:
    """The question that was asked last."""
    return session.scalars(
        select(RoomQuestion)
        .where(RoomQuestion.class_id == of.id)
        .order_by(RoomQuestion.made_at.desc(), RoomQuestion.id)
        .limit(1)
    ).first()


def room_question(session: Session, question_id: str) -> RoomQuestion:
    found = session.get(RoomQuestion, question_id)
    if found is None:
        raise Missing(say("There is no such question."))
    return found


def picture_of(files: PictureFiles, row: RoomQuestion) -> bytes:
    """The question's picture as JPEG, with what is pointed out on it."""
    if row.stand is not None:
        shown = drawing_png(drawn(StandFile.model_validate(row.stand)))
    elif row.picture is not None:
        shown = picture_path(files, row.picture, "view").read_bytes()
    else:
        raise Missing(say("The picture of this question is gone."))
    return question_jpeg(question_of(row.document), shown)


def answer(session: Session, person: Person, row: RoomQuestion, given: Answer, seconds: float | None) -> RoomAnswer:
    """Commit an answer; the first one stands. Raises ``Refused`` once the question is stopped, ``Unfit`` for an answer
    of another kind.
    """
    before = answer_of(session, person, row)
    if before is not None:
        return before
    if row.stopped_at is not None:
        raise Refused(say("The question was stopped before your answer came."))
    try:
        judged, truth = scored(question_of(row.document).scoring, given)
    except ValueError as error:
        raise Unfit(say("This is no answer: {error}.", error=error)) from None
    kept = list(given) if isinstance(given, tuple) else given
    made = RoomAnswer(question_id=row.id, person_id=person.id, answer=kept, judged=judged, truth=truth, seconds=seconds)
    try:
        with session.begin_nested():
            session.add(made)
    except IntegrityError:  # sent twice at the same moment
        return session.get_one(RoomAnswer, (row.id, person.id))
    return made


def answer_of(session: Session, person: Person, row: RoomQuestion) -> RoomAnswer | None:
    return session.get(RoomAnswer, (row.id, person.id))


def answers(session: Session, row: RoomQuestion) -> Sequence[RoomAnswer]:
    """Everybody's answers, in the order they came."""
    return session.scalars(
        select(RoomAnswer).where(RoomAnswer.question_id == row.id).order_by(RoomAnswer.made_at, RoomAnswer.person_id)
    ).all()


def given_back(made: RoomAnswer) -> Answer:
    """The answer that is kept."""
    kept = made.answer
    return (float(kept[0]), float(kept[1])) if isinstance(kept, list) else float(kept)


def stop(row: RoomQuestion) -> None:
    """Take no more answers."""
    row.stopped_at = row.stopped_at or now()


def tell(session: Session, row: RoomQuestion) -> None:
    """Show the truth; now, and not before, the readings go to everybody's logbook."""
    stop(row)
    if row.told_at is not None:
        return
    row.told_at = now()
    question = question_of(row.document)
    for made in answers(session, row):
        session.add(
            Reading(
                person_id=made.person_id,
                made_at=made.made_at,
                skill=question.skill.value,
                source=ReadFrom.ROOM.value,
                sighting=row.title[:80],
                judged=made.judged,
                truth=made.truth,
                truth_sd=question.truth_sd,
                unit=KINDS[question.skill].unit.value,
                seconds=made.seconds,
                difficulty=question.difficulty,
            )
        )


@dataclass(frozen=True)
class Spread:
    """The room's answers together, in the skill's unit, and how many are ``right``, within tolerance."""

    errors: Together
    right: int
    words: str


def spread(row: RoomQuestion, given: Sequence[RoomAnswer]) -> Spread | None:
    """How the answers lie about the truth; None where there are none."""
    if not given:
        return None
    question = question_of(row.document)
    found = together(np.array([a.judged - a.truth for a in given]))
    mean, apart = found.mean, found.apart
    right = sum(drills.is_right(question, a.judged, a.truth) for a in given)
    unit, words = KINDS[question.skill].unit, WORDS[question.skill]
    said = say("{right} of {given} within tolerance. ", right=right, given=len(given))
    exact = amount(mean, unit) == amount(0.0, unit)
    said += (
        say("Together they hit it")
        if exact
        else f"Together {amount(mean, unit)} {words.over if mean > 0 else words.under}"
    )
    turned = sum(wrong_way(question.skill, a.judged, a.truth) for a in given)
    said += say("; {turned} the wrong way", turned=turned) if turned else ""
    return Spread(
        found,
        right,
        said + ("." if apart is None else say("; apart by {apart} (standard deviation).", apart=amount(apart, unit))),
    )
