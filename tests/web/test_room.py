"""A question for the whole room: asked, answered, stopped, told."""

from __future__ import annotations

import io
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta
from typing import Any

import numpy as np
import pytest
from PIL import Image
from sqlalchemy import select

from aspectum.core.plane.lines import tilt_deg
from aspectum.service.runtime.presence import STILL_HERE, Presence
from aspectum.service.school.assignment_kinds import AssignmentKind, set_up
from aspectum.service.stand.from_format import drawn
from aspectum.store.counted import SeenInRoom
from aspectum.store.models import Reading, now
from tests.school import NOBODY, OTHER, STRANGER, STUDENT, TUTOR, School, open_school

FENCE = ("truth", "answered", "over", "rule", "skill", "title")


@pytest.fixture
def cubes(school: School) -> str:
    """The tutor's set-up of two cubes: one above eye level, one below."""
    file = set_up(AssignmentKind.TWO_CUBES)
    assert file is not None
    return str(
        school.ask(TUTOR, "POST", "/api/stands", {"document": file.model_dump(mode="json", exclude_none=True)})["id"]
    )


def askable(school: School, stand: str) -> list[dict[str, str]]:
    found: list[dict[str, str]] = school.ask(
        TUTOR, "GET", f"/api/classes/{school.class_id}/room/askable?over=stand&id={stand}"
    )["askable"]
    return found


def ask(school: School, stand: str, about: str) -> str:
    body = {"over": "stand", "id": stand, "about": about}
    return str(school.ask(TUTOR, "POST", f"/api/classes/{school.class_id}/room", body)["question"]["id"])


def room(school: School, who: str) -> dict[str, Any]:
    found: dict[str, Any] = school.ask(who, "GET", f"/api/classes/{school.class_id}/room")
    return found


def answers(school: School, question: str, who: int = 0) -> dict[str, Any]:
    found: dict[str, Any] = school.ask(TUTOR, "GET", f"/api/room/{question}/answers?who={who}")
    return found


def first_edge(school: School, stand: str) -> str:
    return next(line["about"] for line in askable(school, stand) if "edge" in line["words"])


def test_eye_level_edges_and_lengths_can_be_asked_over_a_set_up(school: School, cubes: str) -> None:
    words = [line["words"] for line in askable(school, cubes)]
    assert (
        words[0] == "Eye level"
        and any(w.startswith("Left edges below eye level") for w in words)
        and any("above eye level" in w for w in words)
    )


def test_a_rim_can_be_asked_over_rounds(school: School) -> None:
    file = set_up(AssignmentKind.TEN_ROUNDS)
    assert file is not None
    stand = school.ask(TUTOR, "POST", "/api/stands", {"document": file.model_dump(mode="json", exclude_none=True)})[
        "id"
    ]
    assert sum("rim" in line["words"].lower() for line in askable(school, stand)) >= 10


def test_what_is_asked_over_a_photo_is_what_its_sheet_knows_well(demo: Any) -> None:
    school = open_school(demo.application)
    sheet = next(
        line["id"] for line in school.ask(TUTOR, "GET", "/api/sheets")["sheets"] if "crates" in line["title"].lower()
    )
    found = school.ask(TUTOR, "GET", f"/api/classes/{school.class_id}/room/askable?over=sheet&id={sheet}")
    assert "crates" in found["title"].lower() and len(found["askable"]) >= 3
    asked = school.ask(
        TUTOR,
        "POST",
        f"/api/classes/{school.class_id}/room",
        {"over": "sheet", "id": sheet, "about": found["askable"][1]["about"]},
    )
    with school.of(STUDENT).get(asked["question"]["picture"]) as picture:
        assert picture.status_code == 200 and picture.mimetype == "image/jpeg"


def test_a_question_runs_from_asking_to_the_truth(school: School, cubes: str) -> None:
    about = first_edge(school, cubes)
    question = ask(school, cubes, about)
    seen = room(school, STUDENT)
    assert seen["question"]["instrument"] == "needle" and not seen["stopped"] and not seen["mine"]
    assert all(not seen["question"].get(name) for name in FENCE)  # nothing of the truth before it is told
    for who, value in ((STUDENT, 10.0), (OTHER, 30.0)):
        school.ask(who, "POST", f"/api/room/{question}/answer", {"value": value, "seconds": 3.5})
    running = answers(school, question)
    assert (running["count"], running["needles"], running["names"], running["truth"]) == (2, [], [], [])
    assert answers(school, question, who=1)["names"] == ["Fenja", "Onno"]
    stopped = school.ask(TUTOR, "POST", f"/api/room/{question}/stop")
    assert (
        len(stopped["needles"]) == 2
        and stopped["needles"][0]["drawn"]
        and stopped["needles"][0]["error"] is None
        and stopped["truth"] == []
    )
    assert room(school, STUDENT)["question"]["answered"] is None
    told = school.ask(TUTOR, "POST", f"/api/room/{question}/tell")
    assert told["truth"] and told["rule"] and "of 2 within tolerance" in told["words"]
    errors = [needle["error"] for needle in told["needles"]]
    assert told["mean"] == pytest.approx(np.mean(errors)) and told["apart"] == pytest.approx(np.std(errors, ddof=1))
    mine = room(school, STUDENT)["question"]["answered"]
    assert mine["answer"] == 10.0 and mine["rule"] == told["rule"]
    # the exact drawing of the set-up, which the question does not see, is the truth
    file = set_up(AssignmentKind.TWO_CUBES)
    assert file is not None
    tilts = [tilt_deg(edge.p, edge.q) for edge in drawn(file).edges]
    assert min(abs(mine["truth_value"] - tilt) for tilt in tilts) < 0.2


def test_eye_level_is_told_in_near_uprights(school: School, cubes: str) -> None:
    """The eye of the set-up is level: its eye level lies across the picture's middle."""
    question = ask(school, cubes, "eye level")
    seen = room(school, STUDENT)["question"]
    assert seen["instrument"] == "level"
    school.ask(
        STUDENT, "POST", f"/api/room/{question}/answer", {"point": [seen["width_px"] / 2, seen["height_px"] / 2]}
    )
    school.ask(TUTOR, "POST", f"/api/room/{question}/tell")
    mine = room(school, STUDENT)["question"]["answered"]
    assert abs(mine["error"]) < 0.01 and mine["right"] and mine["drawn"]


def test_readings_go_to_everybodys_logbook_with_the_truth_and_not_before(school: School, cubes: str) -> None:
    question = ask(school, cubes, first_edge(school, cubes))
    school.ask(STUDENT, "POST", f"/api/room/{question}/answer", {"value": 12.0})
    assert school.ask(STUDENT, "GET", "/api/logbook/readings?page=0")["count"] == 0
    for _ in range(2):  # told twice, kept once
        school.ask(TUTOR, "POST", f"/api/room/{question}/tell")
    (reading,) = school.ask(STUDENT, "GET", "/api/logbook/readings?page=0")["readings"]
    assert reading["source"] == "room" and reading["sighting"].startswith("Two cubes")
    assert school.ask(OTHER, "GET", "/api/logbook/readings?page=0")["count"] == 0
    # and a logbook with such readings is read again
    packed = school.of(STUDENT).get("/api/logbook/mine.csv").get_data()
    answer = school.of(OTHER).post("/api/logbook/readings", data=packed, content_type="text/csv").get_json()
    assert answer == {"added": 1, "there": 0}


def test_the_first_answer_stands_and_none_is_taken_after_the_stop(school: School, cubes: str) -> None:
    question = ask(school, cubes, first_edge(school, cubes))
    for value in (12.0, 40.0):
        school.ask(STUDENT, "POST", f"/api/room/{question}/answer", {"value": value})
    school.ask(TUTOR, "POST", f"/api/room/{question}/stop")
    late = school.of(OTHER).post(f"/api/room/{question}/answer", json={"value": 20.0})
    assert late.status_code == 403 and "stopped before" in late.get_json()["detail"]
    school.ask(TUTOR, "POST", f"/api/room/{question}/tell")
    assert room(school, STUDENT)["question"]["answered"]["answer"] == 12.0


@pytest.mark.parametrize("body", [{}, {"value": 1.0, "point": [1, 1]}, {"point": [1, 1]}, {"value": 1e9}])
def test_an_answer_of_another_kind_is_refused_and_a_right_one_still_taken(
    school: School, cubes: str, body: dict[str, Any]
) -> None:
    question = ask(school, cubes, first_edge(school, cubes))
    assert school.of(STUDENT).post(f"/api/room/{question}/answer", json=body).status_code == 422
    assert school.ask(STUDENT, "POST", f"/api/room/{question}/answer", {"value": 12.0})["mine"]


def test_a_new_question_stops_the_one_before(school: School, cubes: str) -> None:
    first = ask(school, cubes, first_edge(school, cubes))
    ask(school, cubes, "eye level")
    assert answers(school, first)["stopped"] and room(school, STUDENT)["question"]["instrument"] == "level"


def test_a_device_that_slept_finds_the_running_question_and_its_own_answer(school: School, cubes: str) -> None:
    question = ask(school, cubes, first_edge(school, cubes))
    school.ask(STUDENT, "POST", f"/api/room/{question}/answer", {"value": 12.0})
    fresh = school.app.test_client()
    fresh.post("/api/sign-in", json={"name": "Fenja", "passphrase": "tern rope lantern"})
    found = fresh.get(f"/api/classes/{school.class_id}/room").get_json()
    assert found["question"]["id"] == question and found["mine"]


def test_the_picture_is_pixels_alone(school: School, cubes: str) -> None:
    """No metadata, no lines: nothing to reckon the answer from but what is seen."""
    question = ask(school, cubes, first_edge(school, cubes))
    with school.of(STUDENT).get(f"/api/room/{question}/picture") as answer:
        picture = Image.open(io.BytesIO(answer.get_data()))
    assert picture.format == "JPEG" and picture.size == (1280, 960) and not picture.getexif()


@pytest.mark.parametrize("path", ["sheet&id={nothing}", "stand&id={nothing}"])
def test_what_is_not_the_tutors_cannot_be_asked_over(school: School, path: str) -> None:
    query = path.format(nothing="0" * 32)
    assert school.of(TUTOR).get(f"/api/classes/{school.class_id}/room/askable?over={query}").status_code == 404


def test_a_sheet_from_life_has_nothing_to_show(school: School) -> None:
    sheet = school.ask(TUTOR, "POST", "/api/sheets", {"title": "On the shelf"})["id"]
    answer = school.of(TUTOR).get(f"/api/classes/{school.class_id}/room/askable?over=sheet&id={sheet}")
    assert answer.status_code == 422 and "no picture" in answer.get_json()["detail"]


def test_another_classs_question_is_nobodys_business(school: School, cubes: str) -> None:
    question = ask(school, cubes, first_edge(school, cubes))
    for who, status in ((STRANGER, 404), (NOBODY, 401)):
        assert school.of(who).post(f"/api/room/{question}/answer", json={"value": 1.0}).status_code == status
        assert school.of(who).get(f"/api/room/{question}/answers?who=1").status_code == status
    assert school.of(STUDENT).get(f"/api/room/{question}/answers?who=1").status_code == 403


def test_thirty_devices_answer_at_once_and_each_counts_once(school: School, cubes: str) -> None:
    """Every one of them twice, as an impatient thumb would. How long it takes is measured by the benchmark."""
    devices = []
    for k in range(30):
        device = school.app.test_client()
        assert (
            device.post("/api/join", json={"code": school.code, "name": f"Guest {k}", "passphrase": None}).status_code
            == 200
        )
        devices.append(device)
    question = ask(school, cubes, first_edge(school, cubes))
    with ThreadPoolExecutor(8) as pool:
        sent = list(
            pool.map(
                lambda k: (
                    devices[k % 30].post(f"/api/room/{question}/answer", json={"value": float(k % 30)}).status_code
                ),
                range(60),
            )
        )
    assert set(sent) == {200}
    school.ask(TUTOR, "POST", f"/api/room/{question}/tell")
    assert answers(school, question)["count"] == 30
    with school.app.extensions["aspectum"].sessions() as session:
        assert session.query(Reading).filter_by(source="room").count() == 30


def test_who_is_there_is_counted_by_their_devices_asking(school: School) -> None:
    """Also where each asks another server on the same database."""
    sessions, moment = school.app.extensions["aspectum"].sessions, [now()]
    one, other = (Presence(sessions, clock=lambda: moment[0]) for _ in range(2))
    one.here(school.class_id, school.ids[STUDENT])
    other.here(school.class_id, school.ids[STUDENT])
    other.here(school.class_id, school.ids[OTHER])
    other.here("no such class", school.ids[OTHER])  # what cannot be noted is nobody's fault
    assert one.count(school.class_id) == other.count(school.class_id) == 2 and one.count("no such class") == 0
    moment[0] += STILL_HERE - timedelta(seconds=1)
    one.here(school.class_id, school.ids[OTHER])
    moment[0] += timedelta(seconds=2)
    assert one.count(school.class_id) == 1
    moment[0] += STILL_HERE
    one.sweep()
    with sessions() as session:
        assert list(session.scalars(select(SeenInRoom))) == []


def test_a_device_that_asks_every_second_is_noted_every_few(school: School) -> None:
    sessions, moment, noted = school.app.extensions["aspectum"].sessions, [now()], set()
    presence = Presence(sessions, clock=lambda: moment[0])
    for _ in range(9):
        presence.here(school.class_id, school.ids[STUDENT])
        with sessions() as session:
            noted.add(session.scalars(select(SeenInRoom.at)).one())
        moment[0] += timedelta(seconds=1)
    assert len(noted) == 3  # at 0, 4 and 8 s


def test_the_tutor_is_not_counted_among_those_who_are_to_answer(school: School, cubes: str) -> None:
    question = ask(school, cubes, first_edge(school, cubes))
    for who in (TUTOR, STUDENT, OTHER):
        room(school, who)
    assert answers(school, question)["present"] == 2


def test_things_of_several_forms_are_told_apart(school: School, cubes: str) -> None:
    words = [line["words"] for line in askable(school, cubes)]
    assert (
        len(set(words)) == len(words)
        and any("Cube above, " in w for w in words)
        and any("Cube below, " in w for w in words)
    )
