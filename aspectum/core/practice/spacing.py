"""How much of a skill is still in practice after a while: the forgetting curve of the FSRS scheduler (package
``fsrs``), a day's answers as one review.

The scheduler was fitted to memory for facts; here it only says which of two skills has lain longer unpractised for how
well it once was known, which moves the choice of the next question by a quarter of a tolerance at most.
"""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import numpy as np
from fsrs import Card, Rating, Scheduler

from aspectum.core.plane.lines import Floats

EASY, GOOD, HARD = 0.5, 1.0, 1.5  # tolerances that a day's middle error stays within
EPOCH = datetime(1970, 1, 1, tzinfo=UTC)  # days are counted from it, as everywhere in the record
MOST_DAYS = 60  # of practice looked back on
SCHEDULER = Scheduler(learning_steps=(), relearning_steps=(), enable_fuzzing=False)


def kept(days: Floats, errors: Floats, today: float) -> float:
    """How likely the skill is still in practice, 0 to 1. ``days`` (k,): when each reading was made, since 1970;
    ``errors`` (k,) in tolerances; 0 for none.
    """
    if len(days) == 0:
        return 0.0
    dates = np.floor(days)
    card = Card(card_id=1)
    for date in np.unique(dates)[-MOST_DAYS:]:
        card, _ = SCHEDULER.review_card(
            card, _rating(float(np.median(np.abs(errors[dates == date])))), _moment(float(date))
        )
    return float(SCHEDULER.get_card_retrievability(card, _moment(max(today, float(days.max())))))


def _rating(error: float) -> Rating:
    if error > HARD:
        return Rating.Again
    return Rating.Hard if error > GOOD else Rating.Good if error > EASY else Rating.Easy


def _moment(days: float) -> datetime:
    return EPOCH + timedelta(days=days)
