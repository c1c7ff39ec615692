"""A person's readings, skill by skill, as the core's statistics take them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from aspectum.core.plane.lines import Floats
from aspectum.core.practice.difficulty import FIRST, next_difficulty
from aspectum.core.practice.skills import Skill, tolerance_of, within
from aspectum.core.tolerance import FREEHAND
from aspectum.store.models import Person, Reading

DAY_S = 86_400.0
MOST = 50_000  # readings looked back on: more than anybody's practice comes to
EPOCH = datetime(1970, 1, 1, tzinfo=UTC)


def days_of(moment: datetime) -> float:
    """Days since 1970."""
    return (moment - EPOCH).total_seconds() / DAY_S


@dataclass(frozen=True)
class Past:
    """The readings of one skill, oldest first: ``days`` since 1970, signed ``errors`` in its unit, ``own_sd`` (nan
    where it is not known), and the ``difficulty`` that the next question has.
    """

    skill: Skill
    days: Floats
    errors: Floats
    own_sd: Floats
    difficulty: float

    @property
    def in_tolerances(self) -> Floats:
        """Signed errors over the skill's tolerance."""
        return self.errors / tolerance_of(self.skill, FREEHAND)

    def since(self, day: float) -> Past:
        kept = self.days >= day
        return Past(self.skill, self.days[kept], self.errors[kept], self.own_sd[kept], self.difficulty)

    def until(self, day: float) -> Past:
        kept = self.days < day
        return Past(self.skill, self.days[kept], self.errors[kept], self.own_sd[kept], self.difficulty)


def pasts(session: Session, person: Person) -> dict[Skill, Past]:
    """Every skill that has readings."""
    columns = (Reading.skill, Reading.made_at, Reading.judged, Reading.truth, Reading.truth_sd, Reading.difficulty)
    query = (
        select(*columns).where(Reading.person_id == person.id).order_by(Reading.made_at.desc(), Reading.id).limit(MOST)
    )
    rows: dict[str, list[tuple[float, float, float | None, float | None]]] = {}
    for skill, made_at, judged, truth, sd, difficulty in session.execute(query):
        rows.setdefault(skill, []).append((days_of(made_at), judged - truth, sd, difficulty))
    return {skill: _past(skill, rows[skill.value][::-1]) for skill in Skill if skill.value in rows}


def _past(skill: Skill, rows: list[tuple[float, float, float | None, float | None]]) -> Past:
    # a ± that is not known becomes not a number
    table = np.array([row[:3] for row in rows], dtype=float)
    hard = FIRST
    last = next(
        (
            (difficulty, within(skill, error, sd, FREEHAND))
            for _, error, sd, difficulty in reversed(rows)
            if difficulty is not None
        ),
        None,
    )
    if last is not None:
        hard = next_difficulty(*last)
    return Past(skill, table[:, 0], table[:, 1], table[:, 2], hard)
