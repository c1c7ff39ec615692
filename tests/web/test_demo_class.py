"""The demo's harbour class in mid-term, as a tutor finds it: believable, and nothing in it that the application itself
would not make.
"""

from __future__ import annotations

from collections import Counter
from dataclasses import replace
from pathlib import Path

import pytest
from flask import Flask
from flask.testing import FlaskClient

from aspectum.demo.filled import FILLED, Comparing, filling_of, put_demo, read
from aspectum.demo.school import FIRST, OTHERS, PHRASES, TUTOR_NAME, fill_class
from aspectum.store.assignments import Assignment, HandIn
from aspectum.store.models import Person, Reading, now
from aspectum.web.app import create_app
from tests.conftest import settings_in
from tests.databases import copy_folder


def test_the_demo_that_is_shipped_is_what_its_sources_fill(tmp_path: Path, filled: Path) -> None:
    """``make generate`` fills it anew."""
    copy_folder(filled, tmp_path)
    here = create_app(settings_in(tmp_path)).extensions["aspectum"]
    fill_class(here)
    shipped, built = read(FILLED), filling_of(here)
    assert Comparing(shipped, built).difference() is None
    pictures = {row["sha256"] for name, row in shipped.rows if name == "pictures"}
    assert {path.name.split(".")[0] for path in (FILLED / "pictures").glob("*/*.jpg")} == pictures


@pytest.mark.parametrize(
    ("table", "column", "value"),
    [
        ("sheets", "title", "Another"),
        ("readings", "judged", 1.5),
        ("hand_ins", "mark", "D"),
        ("people", "created_at", "2020-01-01T00:00:00+00:00"),
    ],
)
def test_a_demo_that_is_not_what_its_sources_fill_is_told_where(table: str, column: str, value: object) -> None:
    shipped, changed = read(FILLED), read(FILLED)
    next(row for name, row in changed.rows if name == table)[column] = value
    assert str(Comparing(shipped, changed).difference()).startswith(f"{table}.{column}")


def test_the_demo_is_in_mid_term_whenever_it_is_put_back(tmp_path: Path) -> None:
    """Moments move by whole days: what is due in the evening is due in the evening, and nothing that was done lies
    ahead.
    """
    app = create_app(settings_in(tmp_path))
    assert put_demo(app.extensions["aspectum"]) and not put_demo(app.extensions["aspectum"])
    with app.extensions["aspectum"].sessions() as session:
        assert all(row.made_at <= now() for row in session.query(HandIn)) and all(
            row.made_at <= now() for row in session.query(Reading)
        )
        due = sorted((row.due_at - now()).total_seconds() / 86400 for row in session.query(Assignment))
        assert [row.due_at.hour for row in session.query(Assignment)] == [20] * 4
    assert [round(days) for days in due] == pytest.approx([-10, -3, 3, 10], abs=1)


@pytest.fixture
def harbour_app(tmp_path: Path, term: Path) -> Flask:
    copy_folder(term, tmp_path)
    return create_app(replace(settings_in(tmp_path), one_click=True))


def enter(app: Flask, name: str) -> FlaskClient:
    client = app.test_client()
    people = {one["name"]: one["person_id"] for one in client.get("/api/me").get_json()["one_click"]}
    assert client.post("/api/sign-in/one-click", json={"person_id": people[name]}).status_code == 200
    return client


def test_a_tutor_and_eight_students_none_with_a_passphrase(harbour_app: Flask) -> None:
    one_click = harbour_app.test_client().get("/api/me").get_json()["one_click"]
    assert [one["name"] for one in one_click if one["role"] == "tutor"] == [TUTOR_NAME]
    assert {one["name"] for one in one_click if one["role"] == "student"} == {
        FIRST,
        *(student.name for student in OTHERS),
    } and len(OTHERS) == 7
    with harbour_app.extensions["aspectum"].sessions() as session:
        assert all(person.passphrase is None for person in session.query(Person))


def test_the_board_has_something_of_everything(harbour_app: Flask) -> None:
    tutor = enter(harbour_app, TUTOR_NAME)
    me = tutor.get("/api/me").get_json()
    board = tutor.get(f"/api/classes/{me['classes'][0]['id']}/board").get_json()
    assert len(board["students"]) == 8 and len(board["assignments"]) == 4
    states = Counter(cell["how_far"] for cell in board["cells"])
    assert set(states) == {"not begun", "begun", "handed in", "returned"} and sum(states.values()) == 32
    pieces = [cell["piece"] for cell in board["cells"] if cell["piece"]]
    assert any(piece["found"]["of"] == "drawing" for piece in pieces) and any(piece["number"] == 2 for piece in pieces)
    assert all(piece["found"]["holds"] > piece["found"]["off"] for piece in pieces) and board["unjudged"] == []
    assert (
        len(board["causes"]) == 3 and board["skills"][0]["skill"] == "lower rim"
    )  # what most of them were made weak in
    assert all(student["need"] for student in board["students"])
    assert tutor.get("/api/phrases").get_json()["phrases"] == list(PHRASES)


def test_every_sheet_handed_in_was_judged_first(harbour_app: Flask) -> None:
    tutor = enter(harbour_app, TUTOR_NAME)
    me = tutor.get("/api/me").get_json()
    for cell in tutor.get(f"/api/classes/{me['classes'][0]['id']}/board").get_json()["cells"]:
        if cell["piece"] and cell["piece"]["found"]["of"] == "sightings":
            assert cell["piece"]["found"]["judged"] == cell["piece"]["found"]["sightings"] > 8


def test_the_student_of_the_demo_finds_what_is_due_what_came_back_and_what_to_practise(harbour_app: Flask) -> None:
    student = enter(harbour_app, FIRST)
    me = student.get("/api/me").get_json()
    today = student.get(f"/api/classes/{me['classes'][0]['id']}/today").get_json()
    assert Counter(one["how_far"] for one in today["assignments"]) == {"not begun": 3, "returned": 1}
    assert today["weakest"].startswith("The middle of a side") and len(today["notes"]) == 2
    back = next(one for one in today["assignments"] if one["how_far"] == "returned")
    piece = student.get(f"/api/hand-ins/{back['tries_made'][0]['hand_in_id']}").get_json()
    assert piece["mark"] == "B+" and [remark["at"] is not None for remark in piece["remarks"]] == [True, False]
    assert len(student.get("/api/sheets").get_json()["sheets"]) == 13, (
        "twelve of the demo's, and the truth of the worksheet that came back"
    )


def test_each_sees_only_their_own(harbour_app: Flask) -> None:
    first, other = enter(harbour_app, FIRST), enter(harbour_app, "Onno")
    theirs = {sheet["id"] for sheet in other.get("/api/sheets").get_json()["sheets"]}
    assert theirs and not theirs & {sheet["id"] for sheet in first.get("/api/sheets").get_json()["sheets"]}
    assert all(first.get(f"/api/sheets/{id}").status_code == 404 for id in theirs)
