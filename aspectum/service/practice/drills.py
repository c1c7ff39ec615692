"""Sets of questions: begun, asked one by one, answered, summed up."""

from __future__ import annotations

import math
import secrets
from dataclasses import dataclass

import numpy as np
from sqlalchemy import func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from aspectum.core.check import check
from aspectum.core.practice.asking import ASKED, ask
from aspectum.core.practice.choice import Candidate, choose, weakest
from aspectum.core.practice.difficulty import FIRST
from aspectum.core.practice.own_sheets import eye_level_question, own_questions
from aspectum.core.practice.question import Answer, Choice, Number, Question, scored
from aspectum.core.practice.record import standing
from aspectum.core.practice.recorded import ReadFrom
from aspectum.core.practice.skills import KINDS, Skill, tolerance_of, within
from aspectum.core.practice.spacing import kept
from aspectum.core.sightings import Family, Point
from aspectum.core.tolerance import FREEHAND
from aspectum.formats.sheet import SightingSheet
from aspectum.language import say
from aspectum.service.errors import Missing, Unfit
from aspectum.service.practice.drill_picture import question_jpeg, question_png
from aspectum.service.practice.drill_question import document_of, question_of
from aspectum.service.practice.history import Past, days_of, pasts
from aspectum.service.practice.logbook import weakest_skill
from aspectum.service.sheets import sheets
from aspectum.service.sheets.from_sheet import laid_on
from aspectum.service.sheets.pictures import picture_path
from aspectum.service.sheets.readings import skills_on
from aspectum.service.words.practice import amount, bias_words
from aspectum.service.words.skills import WORDS
from aspectum.store.models import Person, PracticeQuestion, PracticeSet, Reading, Sheet, now
from aspectum.store.picture_files import PictureFiles

OWN_SHARE = 1 / 3  # of the questions are about one's own sheets, where one has a sighting to ask about
SHEETS_TRIED = 3
LARGEST_SEED = 2**31 - 1
TRIED = 4  # skills, where no set-up is found for one
MOVED = 3  # told after a set


def begin(
    session: Session,
    person: Person,
    length: int,
    skill: Skill | None,
    seed: int | None = None,
    repeat_of: str | None = None,
) -> PracticeSet:
    """A new set. One that repeats another has its length, skill and questions."""
    old = None if repeat_of is None else set_of(session, person, repeat_of)
    if skill is not None and skill not in ASKED:
        raise Unfit(say("Nothing is asked about this skill."))
    made = PracticeSet(
        person_id=person.id,
        seed=old.seed if old else secrets.randbelow(LARGEST_SEED) if seed is None else seed,
        length=old.length if old else length,
        skill=old.skill if old else None if skill is None else skill.value,
        repeat_of=None if old is None else old.id,
    )
    session.add(made)
    session.flush()
    return made


def set_of(session: Session, person: Person, set_id: str) -> PracticeSet:
    found = session.get(PracticeSet, set_id)
    if found is None or found.person_id != person.id:
        raise Missing(say("There is no such set."))
    return found


def sets_of(session: Session, person: Person, most: int = 20) -> list[PracticeSet]:
    """The person's last sets."""
    return list(
        session.scalars(
            select(PracticeSet)
            .where(PracticeSet.person_id == person.id)
            .order_by(PracticeSet.made_at.desc())
            .limit(most)
        )
    )


def questions_of(session: Session, one: PracticeSet) -> list[PracticeQuestion]:
    """The questions that were asked, in order."""
    return list(
        session.scalars(
            select(PracticeQuestion).where(PracticeQuestion.set_id == one.id).order_by(PracticeQuestion.number)
        )
    )


def question_row(session: Session, person: Person, question_id: str) -> PracticeQuestion:
    found = session.get(PracticeQuestion, question_id)
    if found is None or found.set.person_id != person.id:
        raise Missing(say("There is no such question."))
    return found


def next_question(session: Session, person: Person, one: PracticeSet) -> PracticeQuestion | None:
    """The question that waits for its answer, or a new one; None when the set is over."""
    asked = questions_of(session, one)
    if asked and asked[-1].answered_at is None:
        return asked[-1]
    number = len(asked) + 1
    if number > one.length:
        return None
    again = None
    if one.repeat_of is not None:
        again = session.scalar(
            select(PracticeQuestion).where(PracticeQuestion.set_id == one.repeat_of, PracticeQuestion.number == number)
        )
    if again is not None:
        row = PracticeQuestion(
            set_id=one.id, number=number, skill=again.skill, sheet_id=again.sheet_id, document=again.document
        )
    else:
        question, sheet_id = _new_question(session, person, one, asked, number)
        row = PracticeQuestion(
            set_id=one.id, number=number, skill=question.skill.value, sheet_id=sheet_id, document=document_of(question)
        )
    try:
        with session.begin_nested():
            session.add(row)
    except IntegrityError:  # asked in another tab at the same moment
        return session.scalar(
            select(PracticeQuestion).where(PracticeQuestion.set_id == one.id, PracticeQuestion.number == number)
        )
    return row


def _new_question(
    session: Session, person: Person, one: PracticeSet, asked: list[PracticeQuestion], number: int
) -> tuple[Question, str | None]:
    """Settled by the set's seed, the number and what is in the record."""
    rng = np.random.default_rng([one.seed, number])
    record = pasts(session, person)
    today = math.floor(days_of(now()))  # by the day, so that a seed asks the same all day
    candidates = [_candidate(skill, record.get(skill), today) for skill in ASKED]
    last = KINDS[Skill(asked[-1].skill)].group if asked else None
    seen_sheets = {row.sheet_id for row in asked if row.sheet_id is not None}
    seen_stands = [row.document["stand"] for row in asked]
    for _ in range(TRIED):
        skill = Skill(one.skill) if one.skill is not None else choose(candidates, last, rng)
        past = record.get(skill)
        own = _own_question(session, person, skill, rng, seen_sheets) if rng.random() < OWN_SHARE else None
        if own is not None:
            return own
        try:
            question = ask(skill, FIRST if past is None else past.difficulty, int(rng.integers(LARGEST_SEED)))
        except LookupError:
            candidates = [c for c in candidates if c.skill is not skill] or candidates
            continue
        if document_of(question)["stand"] not in seen_stands:
            return question, None
    raise Missing(say("No question could be made just now; ask again."))


def _candidate(skill: Skill, past: Past | None, today: float) -> Candidate:
    if past is None:
        return Candidate(skill, np.array([]), 0.0)
    return Candidate(skill, past.in_tolerances, kept(past.days, past.in_tolerances, today))


def _own_question(
    session: Session, person: Person, skill: Skill, rng: np.random.Generator, seen: set[str]
) -> tuple[Question, str] | None:
    """A sighting of that skill on one of a few of the person's own sheets, none that this set has shown already."""
    mine = (
        Sheet.person_id == person.id,
        Sheet.deleted_at.is_(None),
        Sheet.picture_id.is_not(None),
        Sheet.id.not_in(seen),
    )
    ids = session.scalars(select(Sheet.id).where(*mine).order_by(Sheet.created_at, Sheet.id)).all()
    for k in rng.permutation(len(ids))[:SHEETS_TRIED].tolist():
        row = sheets.sheet_of(session, person, ids[k])
        found = [q for q in own_questions_on(sheets.document_of(row)).values() if q.skill is skill]
        if found:
            return found[int(rng.integers(len(found)))], row.id
    return None


EYE_LEVEL = "eye level"  # no sighting is called so: names hold no space


def own_questions_on(document: SightingSheet, eye_level: bool = False) -> dict[str, Question]:
    """What can be asked about a sheet of one's own, by sighting; with ``eye_level`` that too, under its own name."""
    laid = laid_on(document)
    if laid.setup is None:
        return {}
    try:
        found = check(laid.setup, laid.edges, laid.rims, laid.measured)
    except Exception:  # a sheet that cannot be checked is told of on the sheet itself
        return {}
    asked = own_questions(found.findings, skills_on(document), laid.measured.lengths, laid.setup, FREEHAND)
    uprights = [(e.p, e.q) for e in laid.edges if e.family is Family.UPRIGHT]
    unit = next(
        ((length.p, length.q) for length in laid.measured.lengths if length.unit),
        max(uprights, key=lambda ends: math.dist(*ends), default=None),
    )
    level = eye_level_question(found.eye_level, unit, laid.setup, FREEHAND) if eye_level and unit is not None else None
    return asked if level is None else {EYE_LEVEL: level} | asked


def picture_of_question(
    session: Session, person: Person, files: PictureFiles, row: PracticeQuestion
) -> tuple[bytes, str]:
    """The question's picture and its media type."""
    question = question_of(row.document)
    if question.stand is not None:
        return question_png(question), "image/png"
    sheet = None if row.sheet_id is None else session.get(Sheet, row.sheet_id)
    if sheet is None or sheet.picture is None or sheet.person_id != person.id:
        raise Missing(say("The sheet that this question was about is gone."))
    photo = picture_path(files, sheet.picture, "view").read_bytes()
    return question_jpeg(question, photo), "image/jpeg"


def answer(
    session: Session, person: Person, row: PracticeQuestion, given: Answer, seconds: float | None
) -> PracticeQuestion:
    """Commit an answer and keep it in the record; one that was answered keeps its first. Raises ``Unfit`` for one of
    another kind.
    """
    if row.answered_at is not None:
        return row
    question = question_of(row.document)
    try:
        judged, truth = scored(question.scoring, given)
    except ValueError as error:
        raise Unfit(say("This is no answer: {error}.", error=error)) from None
    row.answer = list(given) if isinstance(given, tuple) else given
    row.judged, row.truth, row.seconds, row.answered_at = judged, truth, seconds, now()
    session.add(
        Reading(
            person_id=person.id,
            sheet_id=row.sheet_id,
            question_id=row.id,
            made_at=row.answered_at,
            skill=question.skill.value,
            source=ReadFrom.PRACTICE.value,
            sighting=f"question {row.number}",
            judged=judged,
            truth=truth,
            truth_sd=question.truth_sd,
            unit=KINDS[question.skill].unit.value,
            seconds=seconds,
            difficulty=question.difficulty,
        )
    )
    return row


def given(value: float | None, point: Point | None) -> Answer:
    """What was sent as an answer: a number or a place. Raises ``Unfit`` for both or neither."""
    if value is not None and point is None:
        return float(value)
    if point is not None and value is None:
        return point
    raise Unfit(say("An answer is a value or a point."))


def given_back(row: PracticeQuestion) -> Answer:
    """The answer that is kept."""
    kept_answer = row.answer
    return (
        (float(kept_answer[0]), float(kept_answer[1])) if isinstance(kept_answer, list) else float(kept_answer or 0.0)
    )


def shown_from(question: Question) -> tuple[float, float, float]:
    """Where the picture's top left corner is in the question's plane, and the picture's px for one of its."""
    if question.window is None or question.view is None:
        return 0.0, 0.0, 1.0
    return question.window.x, question.window.y, question.view.width_px / question.window.width


def shown_size(question: Question) -> tuple[int, int]:
    """Width and height (px) that the picture's places are counted in."""
    if question.view is not None:
        return question.view.width_px, question.view.height_px
    return (round(question.window.width), round(question.window.height)) if question.window is not None else (0, 0)


def truth_value(question: Question) -> float | None:
    """What the instrument would show: a tilt, a degree, a ratio, metres, or the place of the right choice; None for a
    place of the picture.
    """
    if isinstance(question.scoring, Number):
        return question.scoring.truth
    return float(question.scoring.right) if isinstance(question.scoring, Choice) else None


def is_right(question: Question, judged: float, truth: float) -> bool:
    """Whether an answer is within tolerance."""
    return within(question.skill, judged - truth, question.truth_sd, FREEHAND)


@dataclass(frozen=True)
class SetSummary:
    """After a set: how many answers were within tolerance, what moved, the weakest skill in a sentence, and what to
    practise next.
    """

    answered: int
    right: int
    moved: list[str]
    weakest: str
    suggestion: Skill | None


def summary(session: Session, person: Person, one: PracticeSet) -> SetSummary:
    """What a set has brought."""
    rows = [row for row in questions_of(session, one) if row.judged is not None and row.truth is not None]
    right = sum(is_right(question_of(row.document), row.judged or 0.0, row.truth or 0.0) for row in rows)
    record = pasts(session, person)
    began = days_of(one.made_at)
    moves = []
    for skill in {Skill(row.skill) for row in rows}:
        before, after = standing(record[skill].until(began).errors), standing(record[skill].errors)
        if before.bias is not None and after.bias is not None:
            moves.append(
                (
                    (abs(after.bias.value) - abs(before.bias.value)) / tolerance_of(skill, FREEHAND),
                    skill,
                    before.bias.value,
                    after.bias.value,
                )
            )
    moves.sort(key=lambda move: (-abs(move[0]), move[1].value))
    told = [
        say(
            "{title}: bias {a} before, {b} now.",
            title=WORDS[s].title,
            a=amount(a, KINDS[s].unit, True),
            b=amount(b, KINDS[s].unit, True),
        )
        for _, s, a, b in moves[:MOVED]
    ]
    worst = weakest_skill(record)
    sentence = "" if worst is None else bias_words(worst, standing(record[worst].errors, record[worst].own_sd))
    return SetSummary(
        len(rows), right, told, sentence, next(iter(weakest({s: p.in_tolerances for s, p in record.items()}, 1)), None)
    )


def answered_count(session: Session, one: PracticeSet) -> int:
    """How many of a set's questions are answered."""
    count = session.scalar(
        select(func.count()).where(PracticeQuestion.set_id == one.id, PracticeQuestion.answered_at.is_not(None))
    )
    return int(count or 0)
