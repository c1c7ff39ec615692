"""Eight weeks in the record of a made-up student: what was answered in practice, evening by evening, up to the day the
demo is filled.
"""

from __future__ import annotations

from datetime import datetime, timedelta

import numpy as np
from sqlalchemy.orm import Session

from aspectum.core.practice.skills import KINDS, Skill, tolerance_of
from aspectum.core.tolerance import FREEHAND
from aspectum.store.models import Person, Reading, TimedDrawing

SEED = 20_260_314
EVENINGS, EVERY_DAYS, A_SESSION = 24, 56 / 24, 20
# bias at the beginning and now, and spread, in tolerances: lower rims were drawn flat and are mending, the middle of a
# side is still measured
Weak = dict[Skill, tuple[float, float, float]]
WEAK: Weak = {
    Skill.LOWER_RIM: (-1.7, -0.5, 0.8),
    Skill.MIDDLE: (2.0, 1.7, 0.9),
    Skill.LEFT_BELOW: (-0.9, -0.3, 0.9),
    Skill.MINOR_AXIS: (1.1, 1.0, 1.2),
}
STEADY = (0.1, 0.1, 0.75)
PARTS = {Skill.MIDDLE: 50.0, Skill.THIRD: 100.0 / 3.0}
TRUTHS = {"degrees": (4.0, 38.0), "per cent": (100.0, 100.0), "near uprights": (0.0, 0.0)}


def fill_record(
    session: Session, person: Person, now: datetime, seed: int = SEED, weak: Weak = WEAK, evenings: int = EVENINGS
) -> int:
    """Put a student's readings of so many ``evenings``, and the notes of a timed drawing, into the record; answers how
    many readings.
    """
    rng = np.random.default_rng(seed)
    skills: list[Skill] = [skill for skill in Skill if skill is not Skill.OTHER_PART]
    made = 0
    for evening in range(EVENINGS - evenings, EVENINGS):
        share = evening / (EVENINGS - 1)
        day = now - timedelta(days=(EVENINGS - evening) * EVERY_DAYS)
        began = day.replace(hour=18, minute=30, second=0, microsecond=0) + timedelta(minutes=float(rng.uniform(0, 50)))
        asked = [
            *rng.choice(len(skills), A_SESSION - len(weak), replace=False).tolist(),
            *(skills.index(skill) for skill in weak),
        ]
        for n, k in enumerate(rng.permutation(asked).tolist()):
            session.add(_reading(person, skills[k], weak, share, began + timedelta(seconds=25.0 * n), n + 1, rng))
            made += 1
    session.add(
        TimedDrawing(
            person_id=person.id,
            title="Fish boxes on the slipway",
            minutes=30.0,
            shares={"block-in": 1 / 3, "forms": 0.4, "tone": 1 - 1 / 3 - 0.4},
            ended_s=[724.0, 1390.0, 1800.0],
            drawn_s=1800.0,
            paused_s=185.0,
            holds="The boxes stand level on one ground.",
            next_time=["Eye level on the sheet before the first box.", "Block in by the third of the time."],
            made_at=now - timedelta(days=3, minutes=40),
            finished_at=now - timedelta(days=3),
        )
    )
    return made


def _reading(
    person: Person, skill: Skill, weak: Weak, share: float, at: datetime, number: int, rng: np.random.Generator
) -> Reading:
    first, last, spread = weak.get(skill, STEADY)
    unit, tolerance = KINDS[skill].unit, tolerance_of(skill, FREEHAND)
    truth = float(rng.uniform(*TRUTHS[unit.value]))
    error = tolerance * float(rng.normal(first + share * (last - first), spread))
    if skill in PARTS:  # the part that was asked for, and where it was put
        truth = PARTS[skill] - error
    return Reading(
        person_id=person.id,
        made_at=at,
        skill=skill.value,
        source="practice",
        sighting=f"question {number}",
        judged=truth + error,
        truth=truth,
        unit=unit.value,
        seconds=float(rng.uniform(4.0, 14.0)),
        difficulty=0.35,
    )
