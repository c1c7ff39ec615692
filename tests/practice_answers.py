"""The answer of a perfect eye, which looks into the database."""

from __future__ import annotations

from typing import Any

from flask import Flask

from aspectum.core.practice.question import Choice, Number, Place, Question, drawn_at
from aspectum.core.sightings import Point
from aspectum.service.practice.drill_question import question_of
from aspectum.service.practice.drills import shown_from
from aspectum.service.runtime.installation import Installation
from aspectum.store.models import PracticeQuestion


def right_answer(question: Question) -> float | Point:
    """On the question's own plane."""
    scoring = question.scoring
    if isinstance(scoring, Number):
        return scoring.truth
    if isinstance(scoring, Choice):
        return float(scoring.right)
    assert isinstance(scoring, Place)
    share = (
        100.0 / scoring.truth
        if scoring.inverse
        else scoring.truth
        if scoring.said is None
        else drawn_at(scoring.said / 100.0, scoring.closing)
    )
    return scoring.origin[0] + share * scoring.one[0], scoring.origin[1] + share * scoring.one[1]


def row_of(app: Flask, id: str) -> PracticeQuestion:
    here: Installation = app.extensions["aspectum"]
    with here.sessions() as session:
        row = session.get(PracticeQuestion, id)
        assert row is not None
        return row


def right_body(app: Flask, id: str) -> dict[str, Any]:
    """As it is sent: a value, or a point of the picture."""
    question = question_of(row_of(app, id).document)
    answer = right_answer(question)
    if isinstance(answer, float):
        return {"value": answer}
    x, y, k = shown_from(question)
    return {"point": [(answer[0] - x) * k, (answer[1] - y) * k]}
