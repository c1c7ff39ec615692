"""Practice: sets of questions, each asked without its truth, which comes with the answer."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from flask import Response
from pydantic import Field

from aspectum.core.practice.asking import ASKED
from aspectum.core.practice.laid_over import laid_over
from aspectum.core.practice.question import Answer, AnswerBy, Choice, Mark, MarkRole, Question
from aspectum.core.practice.skills import KINDS, Group, Skill, SkillUnit, tolerance_of
from aspectum.core.tolerance import FREEHAND
from aspectum.formats.sightings import Id, Number, Point
from aspectum.service.practice import drills
from aspectum.service.practice.drill_question import question_of
from aspectum.service.words.practice import GROUPS, missed, prompt, rule
from aspectum.service.words.skills import WORDS
from aspectum.store.models import PracticeQuestion, PracticeSet
from aspectum.web.api.base import Message, feature, here, work
from aspectum.web.routes import OWN_WORK, changes, file_of, reads

routes = feature("practice")

LETTERS = "ABCDEFGH"


class SkillLine(Message):
    """A skill that can be practised, with its tolerance in its unit."""

    skill: Skill
    title: str
    group: Group
    group_title: str
    unit: SkillUnit
    tolerance: float
    rule: str


class SkillList(Message):
    skills: list[SkillLine]


class NewSet(Message):
    """``skill``: the only one asked; without it Aspectum chooses. ``seed``: asks what the same seed asked of the same
    record. ``repeat_of``: a set whose questions are asked again, whatever else is given.
    """

    length: Literal[10, 20, 50] = 10
    skill: Skill | None = None
    seed: int | None = Field(default=None, ge=0, lt=drills.LARGEST_SEED)
    repeat_of: Id | None = None


class SetLine(Message):
    """A set, and how far it is answered."""

    id: str
    length: int
    answered: int
    skill: Skill | None
    seed: int
    made_at: datetime


class SetList(Message):
    sets: list[SetLine]


class ShownMark(Message):
    """A line or a point laid over the picture, in its own px."""

    role: MarkRole
    points: list[Point]
    letter: str


class AnswerTold(Message):
    """What an answer came to, in the skill's unit; ``over``: the truth laid over the picture, ``drawn``: the answer."""

    answer: Number | Point
    judged: float
    truth: float
    error: float
    tolerance: float
    right: bool
    words: str
    rule: str
    over: list[ShownMark]
    drawn: list[ShownMark]
    truth_value: float | None = Field(
        description="What the instrument would show: a tilt, degree or ratio, metres, or the place of the right choice."
    )


class QuestionAsked(Message):
    """``heading``: of what kind the question is; which skill exactly comes with the answer, as it would tell which way
    to lean. ``choices``: letters to choose from; ``counts``: what the stick counts, with ``most`` where it ends;
    ``answered``: null until it is.
    """

    id: str
    set_id: str
    number: int
    length: int
    heading: str
    skill: Skill | None
    title: str | None
    instrument: AnswerBy
    prompt: str
    picture: str
    width_px: int
    height_px: int
    choices: list[str]
    counts: Literal["units", "metres"] | None
    most: float | None
    sheet_id: str | None
    answered: AnswerTold | None


class NextAsked(Message):
    """``question`` is null when the set is over."""

    question: QuestionAsked | None


class Given(Message):
    """``value``: a tilt or a degree, a ratio, metres, or which choice, from 0; ``point``: px of the picture. One of the
    two.
    """

    value: Annotated[Number, Field(ge=-1000, le=1000)] | None = None
    point: Point | None = None
    seconds: Annotated[Number, Field(ge=0, le=86_400)] | None = None


class Summary(Message):
    """After a set: ``moved``: how biases changed; ``weakest``: in a sentence; ``suggestion``: what to practise next."""

    id: str
    length: int
    answered: int
    right: int
    moved: list[str]
    weakest: str
    suggestion: Skill | None
    suggestion_title: str | None
    questions: list[QuestionAsked]


@routes.get("/practice/skills", OWN_WORK, "listSkills", SkillList)
def list_skills() -> SkillList:
    """What can be practised."""
    return SkillList(
        skills=[
            SkillLine(
                skill=skill,
                title=WORDS[skill].title,
                group=KINDS[skill].group,
                group_title=str(GROUPS[KINDS[skill].group]),
                unit=KINDS[skill].unit,
                tolerance=tolerance_of(skill, FREEHAND),
                rule=WORDS[skill].rule,
            )
            for skill in Skill
            if skill in ASKED
        ]
    )


@routes.post("/practice/sets", OWN_WORK, "beginSet", SetLine, misses=True)
def begin_set(json: NewSet) -> SetLine:
    """Begin a set of questions."""
    with work() as (session, person):
        return set_line(drills.begin(session, person, json.length, json.skill, json.seed, json.repeat_of), 0)


@routes.get("/practice/sets", OWN_WORK, "listSets", SetList)
def list_sets() -> SetList:
    """The last sets."""
    with work() as (session, person):
        return SetList(
            sets=[set_line(one, drills.answered_count(session, one)) for one in drills.sets_of(session, person)]
        )


@routes.post("/practice/sets/<set_id>/next", changes("set", "set_id"), "nextQuestion", NextAsked)
def next_question(set_id: str) -> NextAsked:
    """The question that waits for its answer, or the next one."""
    with work() as (session, person):
        row = drills.next_question(session, person, drills.set_of(session, person, set_id))
        return NextAsked(question=None if row is None else asked(row))


@routes.get("/practice/sets/<set_id>/summary", reads("set", "set_id"), "setSummary", Summary)
def set_summary(set_id: str) -> Summary:
    """What the set has brought, and its answered questions."""
    with work() as (session, person):
        one = drills.set_of(session, person, set_id)
        found = drills.summary(session, person, one)
        return Summary(
            id=one.id,
            length=one.length,
            answered=found.answered,
            right=found.right,
            moved=found.moved,
            weakest=found.weakest,
            suggestion=found.suggestion,
            suggestion_title=None if found.suggestion is None else WORDS[found.suggestion].title,
            questions=[asked(row) for row in drills.questions_of(session, one) if row.answered_at is not None],
        )


@routes.get("/practice/questions/<question_id>", reads("question", "question_id"), "readQuestion", QuestionAsked)
def read_question(question_id: str) -> QuestionAsked:
    """A question, with its answer once it has one."""
    with work() as (session, person):
        return asked(drills.question_row(session, person, question_id))


@routes.post(
    "/practice/questions/<question_id>/answer", changes("question", "question_id"), "answerQuestion", QuestionAsked
)
def answer_question(question_id: str, json: Given) -> QuestionAsked:
    """Commit an answer; the first one stands."""
    with work() as (session, person):
        row = drills.question_row(session, person, question_id)
        return asked(drills.answer(session, person, row, answer_sent(question_of(row.document), json), json.seconds))


@routes.get(
    "/practice/questions/<question_id>/picture",
    reads("question", "question_id"),
    "questionPicture",
    file_of("image/png", "image/jpeg"),
)
def question_picture(question_id: str) -> Response:
    """A question's picture, PNG or JPEG; a question's is always the same."""
    with work() as (session, person):
        row = drills.question_row(session, person, question_id)
        content, media = drills.picture_of_question(session, person, here().files, row)
    response = Response(content, mimetype=media)
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


def set_line(one: PracticeSet, answered: int) -> SetLine:
    return SetLine(
        id=one.id,
        length=one.length,
        answered=answered,
        skill=None if one.skill is None else Skill(one.skill),
        seed=one.seed,
        made_at=one.made_at,
    )


def asked(row: PracticeQuestion) -> QuestionAsked:
    """A question as the page may know it: nothing of its truth before the answer."""
    question = question_of(row.document)
    answered = (
        None
        if row.judged is None or row.truth is None
        else marked_answer(question, drills.given_back(row), row.judged, row.truth)
    )
    picture = f"/api/practice/questions/{row.id}/picture"
    return shown_question(question, row.id, row.set_id, row.number, row.set.length, picture, row.sheet_id, answered)


def shown_question(
    question: Question,
    id: str,
    set_id: str,
    number: int,
    length: int,
    picture: str,
    sheet_id: str | None,
    answered: AnswerTold | None,
) -> QuestionAsked:
    """A question at its place in a set, or in a lesson."""
    width, height = drills.shown_size(question)
    stick = question.instrument is AnswerBy.STICK
    return QuestionAsked(
        id=id,
        set_id=set_id,
        number=number,
        length=length,
        heading=str(GROUPS[KINDS[question.skill].group]),
        skill=question.skill if answered else None,
        title=WORDS[question.skill].title if answered else None,
        instrument=question.instrument,
        prompt=prompt(question),
        picture=picture,
        width_px=width,
        height_px=height,
        choices=list(LETTERS[: len(question.scoring.values)]) if isinstance(question.scoring, Choice) else [],
        counts=None if not stick else "metres" if question.skill is Skill.HEIGHT else "units",
        most=4.0 if stick else None,
        sheet_id=sheet_id,
        answered=answered,
    )


def marked_answer(question: Question, given: Answer, judged: float, truth: float) -> AnswerTold:
    """An answer with its truth."""
    right = drills.is_right(question, judged, truth)
    return AnswerTold(
        answer=to_window(question, given) if isinstance(given, tuple) else given,
        judged=judged,
        truth=truth,
        error=judged - truth,
        tolerance=tolerance_of(question.skill, FREEHAND),
        right=right,
        words=missed(question.skill, judged, truth, right),
        rule=rule(question),
        over=[shown(question, mark) for mark in question.shown],
        drawn=[shown(question, mark) for mark in laid_over(question, given)],
        truth_value=drills.truth_value(question),
    )


def answer_sent(question: Question, json: Given) -> Answer:
    """An answer as the page sends it, in the question's plane. Raises ``Unfit``."""
    return drills.given(json.value, None if json.point is None else of_window(question, json.point))


def shown(question: Question, mark: Mark) -> ShownMark:
    return ShownMark(role=mark.role, points=[to_window(question, point) for point in mark.points], letter=mark.letter)


def to_window(question: Question, point: Point) -> Point:
    """From the question's plane to the picture's px."""
    x, y, k = drills.shown_from(question)
    return (point[0] - x) * k, (point[1] - y) * k


def of_window(question: Question, point: Point) -> Point:
    """From the picture's px to the question's plane."""
    x, y, k = drills.shown_from(question)
    return point[0] / k + x, point[1] / k + y
