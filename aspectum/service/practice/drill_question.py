"""A drill's question as it is kept: the set-up in the open format, the rest beside it."""

from __future__ import annotations

import dataclasses
from typing import Any

from pydantic import TypeAdapter

from aspectum.core.practice.question import Question
from aspectum.core.stand.things import AnyThing, Section
from aspectum.formats.stand import StandFile
from aspectum.service.stand.from_format import CLASSES, stand_of, view_of

QUESTION: TypeAdapter[Question] = TypeAdapter(Question)
KIND_OF = {cls: kind for kind, cls in CLASSES.items()}


def document_of(question: Question) -> dict[str, Any]:
    """A question as JSON."""
    plain = dataclasses.replace(question, stand=None, view=None)
    document: dict[str, Any] = {"question": QUESTION.dump_python(plain, mode="json"), "stand": None}
    if question.stand is not None and question.view is not None:
        file = StandFile.model_validate(
            {
                "title": question.skill.value,
                "view": dataclasses.asdict(question.view),
                "things": [_thing(thing) for thing in question.stand.things],
            }
        )
        document["stand"] = file.model_dump(mode="json", exclude_none=True)
    return document


def _thing(thing: AnyThing) -> dict[str, Any]:
    if isinstance(thing, Section):
        raise ValueError("no question is about a section")
    return {"kind": KIND_OF[type(thing)]} | {
        name: value for name, value in dataclasses.asdict(thing).items() if value is not None
    }


def question_of(document: dict[str, Any]) -> Question:
    """The question that ``document_of`` made a document of."""
    question = QUESTION.validate_python(document["question"])
    if document["stand"] is None:
        return question
    file = StandFile.model_validate(document["stand"])
    return dataclasses.replace(question, stand=stand_of(file), view=view_of(file.view))
