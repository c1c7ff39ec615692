"""The tutor's board: who has handed in what, the class skill by skill, and what goes wrong most."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from aspectum.core.practice.choice import weakest
from aspectum.core.practice.record import LEAST_READINGS, Standing, standing
from aspectum.core.practice.skills import KINDS, Skill, tolerance_of
from aspectum.core.practice.together import Together, together
from aspectum.core.tolerance import FREEHAND
from aspectum.language import say
from aspectum.service.practice.history import Past, pasts
from aspectum.service.school.assignments import HowFar, assignments_of, how_far
from aspectum.service.school.classes import members_of
from aspectum.service.words.practice import amount
from aspectum.service.words.skills import WORDS
from aspectum.store.assignments import Assignment, Begun, HandIn
from aspectum.store.classes import ClassRow, Member, Role
from aspectum.store.models import Person, now

WEEK = timedelta(days=7)
MOST_CAUSES = 5


@dataclass(frozen=True)
class Cell:
    """A student's standing with an assignment; ``last``: the last try, ``tries`` how many there are."""

    how_far: HowFar
    last: HandIn | None
    tries: int
    late: bool


@dataclass(frozen=True)
class StudentSkill:
    """How one student stands in a skill."""

    person: Person
    standing: Standing


@dataclass(frozen=True)
class ClassSkill:
    """The class in one skill: everybody who has enough readings, the one most off first, and their biases together."""

    skill: Skill
    students: list[StudentSkill]
    biases: Together


@dataclass(frozen=True)
class Need:
    """What a student needs most: the skill of which most is known to be off, in a sentence."""

    skill: Skill
    words: str


@dataclass(frozen=True)
class CommonCause:
    """A cause that several pieces of the week have: how many, and in the words of the last."""

    cause: str
    count: int
    words: str
    names: list[str]


@dataclass(frozen=True)
class Board:
    students: list[Member]
    assignments: list[Assignment]
    cells: dict[tuple[str, str], Cell]
    skills: list[ClassSkill]
    needs: dict[str, Need]
    causes: list[CommonCause]
    unjudged: list[HandIn]


def students_of(session: Session, of: ClassRow) -> list[Member]:
    """The students and guests who are in a class now, by name."""
    return [m for m in members_of(session, of) if m.role != Role.TUTOR and m.removed_at is None]


def board(session: Session, of: ClassRow) -> Board:
    """Everything on the board."""
    students, assignments = students_of(session, of), list(assignments_of(session, of))
    ids = [a.id for a in assignments]
    pieces: dict[tuple[str, str], list[HandIn]] = defaultdict(list)
    for made in session.scalars(select(HandIn).where(HandIn.assignment_id.in_(ids)).order_by(HandIn.number)):
        pieces[made.person_id, made.assignment_id].append(made)
    begun = {
        (b.person_id, b.assignment_id): b for b in session.scalars(select(Begun).where(Begun.assignment_id.in_(ids)))
    }
    cells = {
        (m.person_id, a.id): _cell(a, begun.get((m.person_id, a.id)), pieces[m.person_id, a.id])
        for m in students
        for a in assignments
    }
    records = {m.person_id: (m.person, pasts(session, m.person)) for m in students}
    last = [tries[-1] for tries in pieces.values() if tries]
    return Board(
        students,
        assignments,
        cells,
        by_skill([records[m.person_id] for m in students]),
        {id: need for id, (_, record) in records.items() if (need := need_of(record)) is not None},
        common_causes([made for made in last if made.made_at >= now() - WEEK]),
        [made for made in last if could_not_be_judged(made)],
    )


def _cell(assignment: Assignment, begun: Begun | None, tries: Sequence[HandIn]) -> Cell:
    last = tries[-1] if tries else None
    return Cell(how_far(begun, tries), last, len(tries), is_late(assignment, tries[0].made_at if tries else None))


def is_late(assignment: Assignment, first: datetime | None) -> bool:
    """Whether the first try came after the day, or has not come by now."""
    return assignment.due_at is not None and (first or now()) > assignment.due_at


def by_skill(records: Sequence[tuple[Person, dict[Skill, Past]]]) -> list[ClassSkill]:
    """The class skill by skill, where anybody has enough readings; the skill that is most off first."""
    found = []
    for skill in Skill:
        known = [
            (person, record[skill])
            for person, record in records
            if skill in record and len(record[skill].errors) >= LEAST_READINGS
        ]
        if not known:
            continue
        students = [StudentSkill(person, standing(past.errors, past.own_sd)) for person, past in known]
        students.sort(key=lambda one: -abs(one.standing.bias.value) if one.standing.bias else 0.0)
        biases = np.array([past.errors.mean() for _, past in known])
        off = float(np.abs(biases).mean()) / tolerance_of(skill, FREEHAND)
        found.append((off, ClassSkill(skill, students, together(biases))))
    return [one for _, one in sorted(found, key=lambda pair: -pair[0])]


def need_of(record: dict[Skill, Past]) -> Need | None:
    """What somebody needs most; None under enough readings."""
    known = {skill: past.in_tolerances for skill, past in record.items() if len(past.errors) >= LEAST_READINGS}
    worst = next(iter(weakest(known, 1)), None)
    if worst is None:
        return None
    return Need(
        worst,
        say(
            "{title}: bias {mean}, n\xa0=\xa0{errors}",
            title=WORDS[worst].title,
            mean=amount(float(record[worst].errors.mean()), KINDS[worst].unit, True),
            errors=len(record[worst].errors),
        ),
    )


def common_causes(pieces: Sequence[HandIn]) -> list[CommonCause]:
    """The causes that most pieces have, the most frequent first."""
    counted: Counter[str] = Counter()
    words: dict[str, str] = {}
    names: dict[str, list[str]] = defaultdict(list)
    for made in sorted(pieces, key=lambda one: one.made_at):
        for cause, said in {c["cause"]: c["words"] for c in made.found.get("causes", [])}.items():
            counted[cause] += 1
            words[cause] = said
            names[cause].append(made.person.name)
    return [CommonCause(cause, count, words[cause], names[cause]) for cause, count in counted.most_common(MOST_CAUSES)]


def could_not_be_judged(made: HandIn) -> bool:
    """Whether nothing on a piece could be told to hold or to be off."""
    return not made.found.get("holds") and not made.found.get("off")
