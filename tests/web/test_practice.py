"""Sets of questions over the API: nothing of the truth before the answer, and everything with it."""

from __future__ import annotations

import io
import json
from concurrent.futures import ThreadPoolExecutor
from itertools import pairwise
from typing import Any

import pytest
from flask.testing import FlaskClient
from PIL import Image

from aspectum.core.practice.skills import Skill
from aspectum.service.runtime.installation import Installation
from aspectum.store.models import Reading
from tests.practice_answers import right_body, row_of

Json = dict[str, Any]


def begin(client: FlaskClient, **asked: Any) -> Json:
    answer = client.post("/api/practice/sets", json={"length": 10, **asked})
    assert answer.status_code == 200, answer.get_json()
    found: Json = answer.get_json()
    return found


def ask(client: FlaskClient, set_id: str) -> Json | None:
    answer = client.post(f"/api/practice/sets/{set_id}/next")
    assert answer.status_code == 200
    question: Json | None = answer.get_json()["question"]
    return question


def give(client: FlaskClient, id: str, body: Json) -> Json:
    answer = client.post(f"/api/practice/questions/{id}/answer", json=body)
    assert answer.status_code == 200, answer.get_json()
    found: Json = answer.get_json()
    return found


def numbers_in(value: Any) -> list[float]:
    """Every number of an answer."""
    if isinstance(value, dict):
        return [n for v in value.values() for n in numbers_in(v)]
    if isinstance(value, list):
        return [n for v in value for n in numbers_in(v)]
    return [float(value)] if isinstance(value, int | float) and not isinstance(value, bool) else []


@pytest.mark.parametrize("skill", list(Skill))
def test_the_truth_comes_with_the_answer_and_not_before(client: FlaskClient, skill: Skill) -> None:
    set_id = begin(client, skill=skill.value, seed=41)["id"]
    question = ask(client, set_id)
    assert (
        question is not None
        and question["answered"] is None
        and question["skill"] is None
        and question["title"] is None
    )
    # what the page knows is the picture's size, the number and, of a stick, where it ends
    assert set(numbers_in(question)) <= {1.0, 10.0, 1200.0, 800.0, 4.0}
    picture = client.get(question["picture"])
    with Image.open(io.BytesIO(picture.data)) as opened:
        assert (opened.size, opened.format, dict(opened.info)) == ((1200, 800), "PNG", {})
    told = give(client, question["id"], right_body(client.application, question["id"]) | {"seconds": 3.5})
    answered = told["answered"]
    assert told["skill"] == skill.value and answered["right"] and answered["error"] == pytest.approx(0.0, abs=1e-6)
    assert answered["rule"] and answered["over"] and answered["words"] == "As it is."


def test_a_whole_set_fills_the_record_and_is_summed_up(client: FlaskClient) -> None:
    set_id = begin(client, seed=5)["id"]
    asked = []
    while (question := ask(client, set_id)) is not None:
        assert ask(client, set_id) == question  # the same one until it is answered
        asked.append(give(client, question["id"], right_body(client.application, question["id"]) | {"seconds": 2.0}))
    assert [q["number"] for q in asked] == list(range(1, 11))
    assert (
        len({json.dumps(row_of(client.application, q["id"]).document["stand"]) for q in asked}) == 10
    )  # never the same view twice
    assert all(a["heading"] != b["heading"] for a, b in pairwise(asked))
    summary = client.get(f"/api/practice/sets/{set_id}/summary").get_json()
    assert (summary["answered"], summary["right"], len(summary["questions"])) == (10, 10, 10) and summary["suggestion"]
    here: Installation = client.application.extensions["aspectum"]
    with here.sessions() as session:
        readings = session.query(Reading).all()
        assert len(readings) == 10 and all(
            r.source == "practice" and r.seconds == 2.0 and r.question_id for r in readings
        )


def test_a_set_is_repeated_exactly(client: FlaskClient) -> None:
    def played(set_id: str) -> list[Any]:
        documents = []
        while (question := ask(client, set_id)) is not None:
            documents.append(row_of(client.application, question["id"]).document)
            give(client, question["id"], right_body(client.application, question["id"]))
        return documents

    first = begin(client, seed=8, skill="middle of a side")["id"]
    assert played(first) == played(begin(client, repeat_of=first)["id"])


def test_one_seed_and_one_record_ask_the_same(client: FlaskClient) -> None:
    one, other = (ask(client, begin(client, seed=99)["id"]) for _ in range(2))
    assert one is not None and other is not None
    assert row_of(client.application, one["id"]).document == row_of(client.application, other["id"]).document


def test_two_tabs_that_ask_at_once_are_asked_the_same(client: FlaskClient) -> None:
    for _ in range(3):
        set_id = begin(client)["id"]
        with ThreadPoolExecutor(4) as pool:
            asked = list(pool.map(lambda _, id=set_id: ask(client.application.test_client(), id), range(4)))
        assert len({question["id"] for question in asked if question is not None}) == 1 and None not in asked


def test_the_first_answer_stands(client: FlaskClient) -> None:
    question = ask(client, begin(client, skill="lower rim", seed=3)["id"])
    assert question is not None
    first = give(client, question["id"], {"value": 11.0})
    assert give(client, question["id"], {"value": 44.0})["answered"] == first["answered"]
    assert client.get(f"/api/practice/questions/{question['id']}").get_json()["answered"] == first["answered"]


@pytest.mark.parametrize(
    "body",
    [
        {},
        {"value": 10.0, "point": [1, 2]},
        {"point": [3, 4]},
        {"value": 200.0},
        {"value": "?"},
        {"value": float("inf")},
        {"value": 10, "seconds": -1},
    ],
)
def test_an_answer_that_cannot_be_is_refused_and_the_question_waits(client: FlaskClient, body: Json) -> None:
    set_id = begin(client, skill="upper rim", seed=3)["id"]
    question = ask(client, set_id)
    assert question is not None
    refused = client.post(
        f"/api/practice/questions/{question['id']}/answer", data=json.dumps(body), content_type="application/json"
    )
    assert refused.status_code == 422 and refused.get_json()["detail"]
    assert ask(client, set_id) == question


@pytest.mark.parametrize("body", [{"length": 7}, {"skill": "whistling"}, {"seed": -1}, {"repeat_of": "nothing"}])
def test_a_set_that_cannot_be_is_refused(client: FlaskClient, body: Json) -> None:
    assert client.post("/api/practice/sets", json=body).status_code in (404, 422)


def test_what_is_not_there_is_not_found(client: FlaskClient) -> None:
    for path in ("questions/none", "questions/none/picture", "sets/none/summary"):
        assert client.get(f"/api/practice/{path}").status_code == 404
    assert client.post("/api/practice/sets/none/next").status_code == 404


def test_ones_own_sheets_are_asked_about_with_their_photo(demo: FlaskClient) -> None:
    """With a seed that falls on them; no view twice in a set, and a sheet that is gone takes its picture along."""
    own = []
    for seed in range(6):
        set_id = begin(demo, skill="right edge below", seed=seed)["id"]
        for _ in range(4):
            question = ask(demo, set_id)
            assert question is not None
            if question["sheet_id"]:
                own.append((set_id, question))
                picture = demo.get(question["picture"])
                assert picture.mimetype == "image/jpeg" and set(numbers_in(question)) <= {
                    *map(float, range(1, 11)),
                    question["width_px"],
                    question["height_px"],
                }
            told = give(demo, question["id"], right_body(demo.application, question["id"]))
            assert told["answered"]["right"] and told["answered"]["drawn"]
    assert own and len({(set_id, q["sheet_id"]) for set_id, q in own}) == len(own)
    _, last = own[-1]
    reading = demo.get("/api/logbook/readings?skill=right%20edge%20below&page=0").get_json()["readings"]
    assert any(
        r["sheet_id"] == last["sheet_id"] and r["truth_sd"] is not None and r["question_id"] == last["id"]
        for r in reading
    )
