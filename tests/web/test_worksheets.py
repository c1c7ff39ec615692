"""Worksheets through the API: made copy by copy, printed, and brought back by whoever is in the class."""

from __future__ import annotations

import io
import json
import zipfile
from typing import Any

import jsonschema
import pypdf
import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from aspectum.core.practice.skills import Skill
from aspectum.core.worksheet.exercise import ExerciseKind
from aspectum.demo.worksheets import EIGHT, PHOTO, number_brought, print_set
from aspectum.formats.schemas import schema_text
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.worksheet import Worksheet
from aspectum.service.paper.critique import judge_drawing
from aspectum.service.paper.drawings import drawing_of, judge
from aspectum.service.school.worksheets import given_of
from aspectum.store.models import Person, Reading
from aspectum.store.worksheets import PrintedWorksheet, WorksheetSet
from tests.school import NAMES, OTHER, STRANGER, STUDENT, TUTOR, School
from tests.worksheet_scenes import printed_sheet

TICKET = "worksheet-ticket-1"


def begin(client: FlaskClient, **wanted: Any) -> dict[str, Any]:
    body = {"exercises": ["rim ladder", "two-point box"], "grade": "easy", "paper": "A4"} | wanted
    answer = client.post("/api/worksheets", json=body)
    assert answer.status_code == 200, answer.json
    return dict(answer.json or {})


def photo(school: School, who: str) -> str:
    with school.of(who).post(
        "/api/pictures?name=sheet.jpg", data=PHOTO.read_bytes(), content_type="image/jpeg"
    ) as answer:
        return str((answer.json or {})["id"])


def test_a_set_is_made_copy_by_copy_and_printed(client: FlaskClient) -> None:
    made = begin(client, copies=2, title="First", seed=12)
    assert (made["copies"], made["made"], made["seed"]) == (2, 0, 12)
    with client.get(f"/api/worksheets/{made['id']}/sheets.pdf") as early:
        assert early.status_code == 404, "nothing is made yet"
    counts = [(client.post(f"/api/worksheets/{made['id']}/copies").json or {})["made"] for _ in range(3)]
    assert counts == [1, 2, 2], "no more than were asked"
    for part, count in (("sheets", 4), ("answers", 4), ("all", 8)):
        with client.get(f"/api/worksheets/{made['id']}/{part}.pdf") as answer:
            assert answer.mimetype == "application/pdf" and len(pypdf.PdfReader(io.BytesIO(answer.data)).pages) == count
    with client.get(f"/api/worksheets/{made['id']}/else.pdf") as answer:
        assert answer.status_code == 422
    assert [s["title"] for s in (client.get("/api/worksheets").json or {})["sets"]] == ["First"]
    assert (client.delete(f"/api/worksheets/{made['id']}").json or {})["sets"] == []
    assert client.post(f"/api/worksheets/{made['id']}/copies").status_code == 404


@pytest.mark.parametrize(
    ("wanted", "words"),
    [
        ({"exercises": []}, "Exercises: 1 at least."),
        ({"exercises": ["a cube"]}, "exercises"),
        ({"paper": "A9"}, "A4 or A3"),
        ({"copies": 0}, "Copies: 1 at least."),
        ({"copies": 41}, "Copies: 40 at most."),
        ({"copies": 2.5}, "Copies: "),
        ({"seed": -1}, "Seed: 0 at least."),
        ({"names": ["x" * 300]}, "names"),
        ({"grade": "impossible"}, "Grade: "),
    ],
)
def test_sets_that_cannot_be_are_refused_with_the_place(
    client: FlaskClient, wanted: dict[str, Any], words: str
) -> None:
    answer = client.post("/api/worksheets", json={"exercises": ["tilts"], "grade": "easy", "paper": "A4"} | wanted)
    assert answer.status_code == 422 and words in (answer.json or {})["detail"]


def test_each_name_gets_a_copy_of_its_own(client: FlaskClient) -> None:
    made = begin(client, names=["Ilse", "Onno"], exercises=["figures and doors"])
    for _ in range(2):
        client.post(f"/api/worksheets/{made['id']}/copies")
    with client.get(f"/api/worksheets/{made['id']}/sheets.pdf") as answer:
        texts = [page.extract_text() for page in pypdf.PdfReader(io.BytesIO(answer.data)).pages]
    assert "Ilse" in texts[0] and "Onno" in texts[1] and texts[0].split("No.")[1] != texts[1].split("No.")[1]


def test_previews_are_drawn_of_every_exercise(client: FlaskClient) -> None:
    listed = client.get("/api/worksheets/exercises").json or {}
    assert [line["kind"] for line in listed["exercises"]] == [kind.value for kind in ExerciseKind]
    for line in listed["exercises"]:
        answer = client.get(
            "/api/worksheets/preview.svg",
            query_string={"kind": line["kind"], "grade": "hard", "paper": "A3", "seed": 3, "answer": "true"},
        )
        assert answer.mimetype == "image/svg+xml" and b"<svg" in answer.data
    asked = {"kind": "tilts", "grade": "easy", "paper": "B5", "seed": 3}
    assert client.get("/api/worksheets/preview.svg", query_string=asked).status_code == 422
    assert (
        client.get("/api/worksheets/preview.svg", query_string=asked | {"paper": "A4", "sheet_id": "none"}).status_code
        == 404
    )


def test_exercises_about_a_picture_print_a_photo_of_ones_own(demo: FlaskClient) -> None:
    lines = (demo.get("/api/sheets").json or {})["sheets"]
    crates = next(line["id"] for line in lines if line["title"] == "Crates on the slipway")
    made = begin(demo, exercises=["eye level", "tilts"], sheet_id=crates)
    demo.post(f"/api/worksheets/{made['id']}/copies")
    with demo.get(f"/api/worksheets/{made['id']}/sheets.pdf") as answer:
        assert all(page.images for page in pypdf.PdfReader(io.BytesIO(answer.data)).pages)
    asked = {"kind": "eye level", "grade": "easy", "paper": "A4", "seed": 3, "sheet_id": crates}
    assert b"data:image/jpeg" in demo.get("/api/worksheets/preview.svg", query_string=asked).data
    life = next(line["id"] for line in lines if line["picture"] is None)
    refused = demo.post(
        "/api/worksheets", json={"exercises": ["tilts"], "grade": "easy", "paper": "A4", "sheet_id": life}
    )
    assert refused.status_code == 422 and "no picture" in (refused.json or {})["detail"]


def test_a_sheet_in_the_open_format_judges_its_own_truth_as_holding(client: FlaskClient) -> None:
    made = begin(client, exercises=[kind.value for kind in ExerciseKind])
    client.post(f"/api/worksheets/{made['id']}/copies")
    with client.get(f"/api/worksheets/{made['id']}/77.json") as answer:
        assert answer.status_code == 404
    for kind in ExerciseKind:
        sheet = printed_sheet(kind, seed=21)
        again = Worksheet.model_validate_json(sheet.model_dump_json(exclude_none=True))
        jsonschema.validate(json.loads(again.model_dump_json()), json.loads(schema_text("worksheet")))
        found = judge_drawing(again.subject, again.subject.model_copy(deep=True))
        asked = {a.id for a in again.asked}
        assert asked <= {f.sighting for f in found.findings}, kind
        assert {f.verdict.value for f in found.findings if f.sighting in asked} <= {
            "holds",
            None,
        } and not found.causes, kind


# --- brought back
# ----------------------------------------------------------------------------------------------------


def test_a_photographed_sheet_comes_back_with_its_truth_to_a_student_and_to_nobody_else(school: School) -> None:
    here = school.app.extensions["aspectum"]
    set_id = print_set(here, school.ids[TUTOR], ("Ilse",), "Harbour class, Thursday evening", None)
    back = school.ask(STUDENT, "POST", "/api/worksheets/back", {"photo_id": photo(school, STUDENT), "ticket": TICKET})
    assert (back["code"], back["laid"], back["asked"]) == (number_brought(), 3, 3)
    with here.sessions() as session:
        drawing = drawing_of(session, session.get_one(Person, school.ids[STUDENT]), back["drawing_id"])
        (cause,) = judge(session, drawing).causes
        assert cause.words.startswith("The lower rims of every round form are") and "too flat" in cause.words, (
            "the planted fault"
        )
        assert {s["id"] for s in drawing.sheet.document["sightings"]} == {
            f"{letter}{n}" for n, letter in enumerate("gagaga", 1)
        }
    # once more: the same truth, and the drawing follows the one before
    again = school.ask(STUDENT, "POST", "/api/worksheets/back", {"photo_id": photo(school, STUDENT), "ticket": TICKET})
    assert again["subject_id"] == back["subject_id"] and again["drawing_id"] != back["drawing_id"]
    assert school.ask(STUDENT, "GET", f"/api/drawings/{again['drawing_id']}")["before_id"] == back["drawing_id"]
    (told,) = school.ask(TUTOR, "GET", "/api/worksheets")["sets"]
    assert told["id"] == set_id and [line["copy_number"] for line in told["returned"]] == [1, 1]
    # a tutor of another class does not come by the answers
    stranger = school.of(STRANGER).post(
        "/api/worksheets/back", json={"photo_id": photo(school, STRANGER), "ticket": TICKET}
    )
    assert stranger.status_code == 404 and "not one of yours" in (stranger.json or {})["detail"]
    assert school.of(OTHER).get(f"/api/worksheets/{set_id}/answers.pdf").status_code == 404, "answers are the tutor's"


def named_set(school: School, *names: str) -> None:
    print_set(school.app.extensions["aspectum"], school.ids[TUTOR], names, "Harbour class", None)


def bring(school: School, who: str, **more: Any) -> Any:
    return school.ask(who, "POST", "/api/worksheets/back", {"photo_id": photo(school, who), "ticket": TICKET} | more)


def readings(school: School, who: str) -> list[Reading]:
    with school.app.extensions["aspectum"].sessions() as session:
        return list(session.scalars(select(Reading).where(Reading.person_id == school.ids[who])))


def test_a_sheet_is_the_students_whose_name_is_on_it_whoever_brings_it_in(school: School) -> None:
    named_set(school, NAMES[STUDENT])
    back = bring(school, TUTOR)
    assert back["students"] == [] and "filed with Fenja’s work" in back["words"]
    assert readings(school, STUDENT) and not readings(school, TUTOR)
    assert [s["id"] for s in school.ask(STUDENT, "GET", "/api/sheets")["sheets"]] == [back["subject_id"]], (
        "its drawings stand under it"
    )
    assert school.ask(TUTOR, "GET", "/api/sheets")["sheets"] == []
    # the student sees all of it, the photo too, and the tutor looks at it
    drawing = school.ask(STUDENT, "GET", f"/api/drawings/{back['drawing_id']}")
    with school.of(STUDENT).get(f"/api/pictures/{drawing['photo']['id']}/view.jpg") as seen:
        assert seen.status_code == 200
    assert school.of(TUTOR).get(f"/api/sheets/{back['drawing_id']}").status_code == 200
    (told,) = school.ask(TUTOR, "GET", "/api/worksheets")["sets"]
    assert [line["person"] for line in told["returned"]] == ["Fenja"]
    # who is drawn on it may bring it in again: one truth, and the drawing follows the one before
    again = bring(school, STUDENT)
    assert again["subject_id"] == back["subject_id"]
    assert school.ask(STUDENT, "GET", f"/api/drawings/{again['drawing_id']}")["before_id"] == back["drawing_id"]


def test_a_classmate_may_bring_a_sheet_in_and_is_shown_nothing_of_it(school: School) -> None:
    named_set(school, NAMES[STUDENT])
    back = bring(school, OTHER)
    assert back["drawing_id"] is back["subject_id"] is None and "filed with Fenja’s work" in back["words"]
    assert readings(school, STUDENT) and not readings(school, OTHER)
    assert school.ask(STUDENT, "GET", "/api/sheets")["sheets"] and not school.ask(OTHER, "GET", "/api/sheets")["sheets"]


def test_of_a_sheet_without_a_name_a_tutor_is_asked_whose_it_is(school: School) -> None:
    named_set(school, "")
    asked = bring(school, TUTOR)
    assert asked["drawing_id"] is None and [one["name"] for one in asked["students"]] == ["Fenja", "Onno"]
    assert (
        school.ask(STUDENT, "GET", "/api/sheets")["sheets"] == school.ask(TUTOR, "GET", "/api/sheets")["sheets"] == []
    )
    back = bring(school, TUTOR, whose=school.ids[OTHER])
    assert back["drawing_id"] and readings(school, OTHER) and not readings(school, TUTOR)
    mine = bring(school, TUTOR, whose=school.ids[TUTOR])
    assert mine["subject_id"] != back["subject_id"] and readings(school, TUTOR)
    stranger = school.of(TUTOR).post(
        "/api/worksheets/back", json={"photo_id": photo(school, TUTOR), "ticket": TICKET, "whose": school.ids[STRANGER]}
    )
    assert stranger.status_code == 404 and "no such student" in (stranger.json or {})["detail"]
    # a student is asked nothing, and cannot file it with another's work
    assert bring(school, STUDENT)["students"] == [] and readings(school, STUDENT)
    other = school.of(STUDENT).post(
        "/api/worksheets/back", json={"photo_id": photo(school, STUDENT), "ticket": TICKET, "whose": school.ids[OTHER]}
    )
    assert other.status_code == 404


def test_only_what_was_asked_is_a_reading_and_holds(school: School) -> None:
    named_set(school, NAMES[STUDENT])
    back = bring(school, STUDENT)
    drawing = school.ask(STUDENT, "GET", f"/api/drawings/{back['drawing_id']}")
    sheet = school.ask(STUDENT, "GET", f"/api/sheets/{back['drawing_id']}")["document"]
    told = school.ask(STUDENT, "POST", "/api/critique", {"subject": drawing["subject"], "drawing": sheet})
    assert {f["sighting"] for f in told["findings"]} == {"a2", "a4", "a6"}, "the printed rims are nobody's"
    kept = readings(school, STUDENT)
    assert kept and not any(r.sighting.startswith("g") for r in kept)
    assert not any(r.skill == Skill.EYE_LEVEL for r in kept), "eye level is printed on it"
    # one fault on three rims is one reading of its skill, as large as it was planted
    (flat,) = [r for r in kept if r.skill == Skill.LOWER_RIM]
    assert -12.0 < flat.judged - flat.truth < -4.0


def test_a_photo_that_is_no_worksheet_is_told_what_to_do(school: School, crates_jpeg: bytes) -> None:
    with school.of(STUDENT).post(
        "/api/pictures?name=crates.jpg", data=crates_jpeg, content_type="image/jpeg"
    ) as answer:
        taken = (answer.json or {})["id"]
    refused = school.of(STUDENT).post("/api/worksheets/back", json={"photo_id": taken, "ticket": TICKET})
    assert refused.status_code == 422 and "three of its four corner marks" in (refused.json or {})["detail"]
    unknown = school.of(STUDENT).post(
        "/api/worksheets/back", json={"photo_id": photo(school, STUDENT), "ticket": TICKET}
    )
    assert unknown.status_code == 404, "its set was deleted, or is another installation's"
    assert (
        school.of(STUDENT).post("/api/worksheets/back", json={"photo_id": "none", "ticket": TICKET}).status_code == 404
    )


def test_deleting_a_person_takes_their_sets_and_leaves_what_came_back(school: School) -> None:
    here = school.app.extensions["aspectum"]
    print_set(here, school.ids[STUDENT], ("Ilse",), "", None)
    with school.of(STUDENT).get("/api/me/everything.zip") as answer:
        names = zipfile.ZipFile(io.BytesIO(answer.data)).namelist()
    assert sum(name.startswith("worksheets/") for name in names) == len(EIGHT)
    member = f"/api/classes/{school.class_id}/members/{school.ids[STUDENT]}"
    school.ask(TUTOR, "POST", f"{member}/remove")
    school.ask(TUTOR, "DELETE", member)
    with here.sessions() as session:
        assert session.query(WorksheetSet).count() == session.query(PrintedWorksheet).count() == 0


def test_what_a_sheet_knows_of_its_picture(demo: FlaskClient) -> None:
    lines = (demo.get("/api/sheets").json or {})["sheets"]
    tins = next(line["id"] for line in lines if line["title"] == "Crates on the slipway")
    document = SightingSheet.model_validate((demo.get(f"/api/sheets/{tins}").json or {})["document"])
    given = given_of(document)
    assert given.eye_level is not None and all(0.0 <= y <= 1.0 for y in given.eye_level)
    assert given.edges and all(0.0 <= v <= 1.0 for edge in given.edges for v in (*edge.p, *edge.q))
