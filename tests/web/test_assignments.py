"""Assignments: set, begun, handed in, given back, mended and handed in again; the board and its files."""

from __future__ import annotations

import csv
import io
import re
from datetime import UTC, datetime, timedelta
from typing import Any

import numpy as np
import pytest
from sqlalchemy import update

from aspectum.core.practice.skills import KINDS, Skill
from aspectum.formats.logbook import read_logbook
from aspectum.formats.stand import CylinderThing
from aspectum.service.errors import Busy
from aspectum.service.school import hand_ins
from aspectum.service.school.assignment_kinds import SET_UPS, TEMPLATES, AssignmentKind, set_up
from aspectum.service.school.board import board, common_causes
from aspectum.service.stand.from_format import drawn
from aspectum.store.assignments import HandIn
from aspectum.store.classes import ClassRow
from aspectum.store.models import Person, Reading, now
from tests.school import OTHER, STRANGER, STUDENT, TUTOR, School, open_school


def template(school: School, kind: AssignmentKind, **changed: Any) -> dict[str, Any]:
    found = school.ask(TUTOR, "GET", "/api/assignment-templates")["templates"]
    one: dict[str, Any] = next(t["assignment"] for t in found if t["assignment"]["kind"] == kind)
    return one | changed


def set_it(school: School, kind: AssignmentKind = AssignmentKind.TWO_CUBES, **changed: Any) -> str:
    return str(
        school.ask(TUTOR, "POST", f"/api/classes/{school.class_id}/assignments", template(school, kind, **changed))[
            "id"
        ]
    )


def begin(school: School, assignment: str, who: str = STUDENT) -> str:
    return str(school.ask(who, "POST", f"/api/assignments/{assignment}/begin")["sheet_id"])


EDGE = {"id": "e1", "kind": "edge", "family": "left", "p": [400, 300], "q": [600, 340], "judged_tilt_deg": -10}


def sight(school: School, sheet: str, who: str = STUDENT, **changed: Any) -> None:
    """Put one sighting on a sheet."""
    full = school.ask(who, "GET", f"/api/sheets/{sheet}")
    document = full["document"] | {"sightings": [EDGE | {"form": full["document"]["forms"][0]["id"]} | changed]}
    school.ask(who, "PUT", f"/api/sheets/{sheet}", {"revision": full["revision"], "document": document})


def hand_in(school: School, assignment: str, who: str = STUDENT, note: str = "Eye level first.") -> dict[str, Any]:
    found: dict[str, Any] = school.ask(who, "POST", f"/api/assignments/{assignment}/hand-in", {"note": note})
    return found


def give_back(school: School, piece: str, **said: Any) -> dict[str, Any]:
    body = {"mark": "", "word": "", "remarks": [], "returned": True} | said
    found: dict[str, Any] = school.ask(TUTOR, "PUT", f"/api/hand-ins/{piece}/review", body)
    return found


def shown(school: School, who: str, picture: str) -> int:
    """The status of a picture that somebody asks for."""
    with school.of(who).get(f"/api/pictures/{picture}/thumb.jpg") as answer:
        return answer.status_code


# --- setting
# ----------------------------------------------------------------------------------------------------


def test_the_usual_exercises_are_brought_along(school: School) -> None:
    """Handbook section 8: boxes from many views, boxes stacked, rounds of cylinders with axes shown; common practice of
    drawing classes beyond that.
    """
    found = [t["assignment"]["kind"] for t in school.ask(TUTOR, "GET", "/api/assignment-templates")["templates"]]
    assert found == [kind.value for kind in AssignmentKind] and len(found) == 9
    assert {
        t["assignment"]["judge_first"] for t in school.ask(TUTOR, "GET", "/api/assignment-templates")["templates"]
    } == {True}


def test_what_is_found_in_the_picture_is_kept_from_those_who_judge_first(school: School) -> None:
    """By default nobody is told; a tutor may let it be told after handing in, or as it comes."""
    path = f"/api/classes/{school.class_id}/assignments"
    first = set_it(school)
    (told,) = school.ask(STUDENT, "GET", path)["assignments"]
    assert told["found"] == "never"
    for found, before, after in (("never", 403, 403), ("after handing in", 403, 200), ("as it comes", 200, 200)):
        change = {key: told[key] for key in template(school, AssignmentKind.TWO_CUBES)} | {"found": found}
        school.ask(TUTOR, "PUT", f"/api/assignments/{first}", change)
        sheet = begin(school, first)
        sight(school, sheet)
        full = school.ask(STUDENT, "GET", f"/api/sheets/{sheet}")
        assert full["assignment"]["found_shown"] is (before == 200)
        look = f"/api/pictures/{full['picture']['id']}/look?ticket=ticket-of-page"
        offer = f"/api/pictures/{full['picture']['id']}/offer"
        document = {"document": full["document"], "form": None}
        refused = school.of(STUDENT).post(look)
        assert refused.status_code == before, found
        if before == 403:
            assert "your eye works alone" in (refused.json or {})["detail"]
            assert school.of(STUDENT).post(offer, json=document).status_code == 403
        hand_in(school, first)
        assert school.of(STUDENT).post(look).status_code == after, found
        with school.app.extensions["aspectum"].sessions.begin() as session:
            for piece in session.query(HandIn):
                session.delete(piece)


def test_eye_level_is_judged_and_recorded_as_every_sighting_is(school: School) -> None:
    sheet = begin(school, set_it(school))
    full = school.ask(STUDENT, "GET", f"/api/sheets/{sheet}")
    true = full["document"]["stand"]["view"]["height_px"] / 2
    level = {"left_y_px": true - 60, "right_y_px": true - 60}
    upright = {"id": "u", "kind": "edge", "family": "upright", "p": [400, 300], "q": [400, 500]}

    def judged(document: dict[str, Any]) -> dict[str, Any]:
        now = school.ask(STUDENT, "GET", f"/api/sheets/{sheet}")
        saved = school.ask(
            STUDENT,
            "PUT",
            f"/api/sheets/{sheet}",
            {"revision": now["revision"], "document": now["document"] | document},
        )
        found: dict[str, Any] = saved["report"]["eye_level"]["judged"]
        return found

    early = judged({"judged_eye_level": level})
    assert early["error"] is None and "will tell" in early["words"]
    told = judged({"sightings": [upright | {"form": full["document"]["forms"][0]["id"]}]})
    assert (
        told["error"] == pytest.approx(0.3, abs=0.15)
        and told["words"].endswith("too high.")
        and told["skill"] == "Eye level"
    )
    kept = school.ask(STUDENT, "GET", "/api/logbook/readings?skill=eye%20level&page=0")["readings"]
    assert [r["error"] for r in kept] == [pytest.approx(told["error"])]


@pytest.mark.parametrize("kind", list(SET_UPS))
def test_every_set_up_is_seen_whole_and_holds_what_its_title_says(kind: AssignmentKind) -> None:
    file = set_up(kind)
    assert file is not None
    seen = drawn(file)
    points = np.array(
        [p for edge in seen.edges for p in (edge.p, edge.q)]
        or [rim.at(t) for rim in seen.rims for t in (0.0, 0.25, 0.5, 0.75)]
    )
    points = np.vstack([points, *([rim.at(t) for t in (0.0, 0.25, 0.5, 0.75)] for rim in seen.rims)])
    assert points.min() > 0 and points[:, 0].max() < file.view.width_px and points[:, 1].max() < file.view.height_px
    counts = {
        AssignmentKind.STACKED_BOXES: 7,
        AssignmentKind.TEN_ROUNDS: 10,
        AssignmentKind.TWO_CUBES: 2,
        AssignmentKind.TURNED_TIN: 8,
    }
    assert len(file.things) == counts.get(kind, len(file.things))


def test_of_two_cubes_one_is_above_eye_level_and_one_below() -> None:
    file = set_up(AssignmentKind.TWO_CUBES)
    assert file is not None
    below, above = file.things
    eye = file.view.eye_m[2]
    assert below.base_m + 0.5 < eye < above.base_m


def test_a_tin_is_turned_evenly_from_standing_to_end_on() -> None:
    file = set_up(AssignmentKind.TURNED_TIN)
    assert file is not None
    leans = [thing.lean_deg for thing in file.things if isinstance(thing, CylinderThing)]
    assert np.allclose(np.diff(leans), 90 / 7) and (leans[0], leans[-1]) == (0.0, 90.0)


@pytest.mark.parametrize("kind", list(AssignmentKind))
def test_every_kind_can_be_set_and_begun(school: School, kind: AssignmentKind, crates_jpeg: bytes) -> None:
    changed: dict[str, Any] = {}
    if TEMPLATES[kind].subject == "photo":
        picture = school.of(TUTOR).post("/api/pictures", data=crates_jpeg, content_type="image/jpeg").get_json()
        changed = {"sheet_id": school.ask(TUTOR, "POST", "/api/sheets", {"picture_id": picture["id"]})["id"]}
    assignment = set_it(school, kind, **changed)
    sheet = begin(school, assignment)
    full = school.ask(STUDENT, "GET", f"/api/sheets/{sheet}")
    assert full["document"]["title"] == str(TEMPLATES[kind].title) and full["assignment"]["id"] == assignment
    assert (full["picture"] is None) == (TEMPLATES[kind].subject == "own")
    assert ("stand" in full["document"] and full["document"]["stand"] is not None) == (
        TEMPLATES[kind].subject == "stand"
    )
    assert begin(school, assignment) == sheet  # the same sheet ever after


def test_a_photo_is_the_students_own_copy_and_its_file_is_kept_once(school: School, crates_jpeg: bytes) -> None:
    picture = school.of(TUTOR).post("/api/pictures", data=crates_jpeg, content_type="image/jpeg").get_json()
    mine = school.ask(TUTOR, "POST", "/api/sheets", {"picture_id": picture["id"]})["id"]
    sheets = [begin(school, set_it(school, AssignmentKind.BUILDING, sheet_id=mine), who) for who in (STUDENT, OTHER)]
    pictures = [
        school.ask(who, "GET", f"/api/sheets/{sheet}")["picture"]["id"]
        for who, sheet in zip((STUDENT, OTHER), sheets, strict=True)
    ]
    assert len({picture["id"], *pictures}) == 3
    assert shown(school, STUDENT, pictures[0]) == 200 and shown(school, STUDENT, picture["id"]) == 404
    files = school.app.extensions["aspectum"].files
    assert len(list(files.kept())) == 3  # the photo with its two smaller copies


def test_tolerances_go_along_with_the_sheet(school: School) -> None:
    own = {"tilt_deg": 2.0, "length_percent": 5.0, "degree_deg": 4.0}
    sheet = begin(school, set_it(school, tolerance=own))
    assert school.ask(STUDENT, "GET", f"/api/sheets/{sheet}")["document"]["tolerance"] == own


@pytest.mark.parametrize(
    ("changed", "words"),
    [
        ({"subject": "photo"}, "Choose a sheet of yours with a photo."),
        ({"kind": "free", "subject": "stand"}, "Choose a set-up."),
        ({"hand_in": []}, "at least one thing"),
        ({"tries": 0}, "Tries: 1 at least."),
        ({"minutes": 0}, "Minutes: 1 at least."),
        ({"title": ""}, "Title: write something."),
        ({"kind": "eight boxes"}, "Kind: "),
    ],
)
def test_what_cannot_be_set_is_told_by_its_place(school: School, changed: dict[str, Any], words: str) -> None:
    body = template(school, AssignmentKind.TWO_CUBES) | changed
    answer = school.of(TUTOR).post(f"/api/classes/{school.class_id}/assignments", json=body)
    assert answer.status_code == 422 and words in answer.get_json()["detail"]


def test_an_assignment_is_changed_and_taken_back_and_what_was_handed_in_stays(school: School) -> None:
    assignment = set_it(school, hand_in=["note"])
    begin(school, assignment)
    piece = hand_in(school, assignment)["tries_made"][0]["hand_in_id"]
    school.ask(
        TUTOR,
        "PUT",
        f"/api/assignments/{assignment}",
        template(school, AssignmentKind.TWO_CUBES, title="Two cubes again", hand_in=["note"]),
    )
    assert school.ask(STUDENT, "GET", f"/api/assignments/{assignment}")["title"] == "Two cubes again"
    school.ask(TUTOR, "DELETE", f"/api/assignments/{assignment}")
    assert school.of(STUDENT).get(f"/api/assignments/{assignment}").status_code == 404
    assert school.ask(STUDENT, "GET", f"/api/hand-ins/{piece}")["note"] == "Eye level first."


# --- handing in
# ----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("wanted", "note", "words"),
    [
        (["sightings"], "", "Nothing is sighted on the sheet yet."),
        (["drawing"], "", "Bring your drawing in"),
        (["critique"], "", "Bring your drawing in"),
        (["note"], "  ", "Write what you will watch next time."),
    ],
)
def test_what_is_missing_is_told_before_anything_is_handed_in(
    school: School, wanted: list[str], note: str, words: str
) -> None:
    assignment = set_it(school, hand_in=wanted)
    answer = school.of(STUDENT).post(f"/api/assignments/{assignment}/hand-in", json={"note": note})
    assert answer.status_code == 422 and "Begin" in answer.get_json()["detail"]
    begin(school, assignment)
    answer = school.of(STUDENT).post(f"/api/assignments/{assignment}/hand-in", json={"note": note})
    assert answer.status_code == 422 and words in answer.get_json()["detail"]
    assert school.ask(STUDENT, "GET", f"/api/assignments/{assignment}")["how_far"] == "begun"


def test_what_must_be_handed_in_is_ticked_off_as_it_comes(school: School) -> None:
    assignment = set_it(school, hand_in=["sightings", "drawing", "note"])

    def missing() -> list[str]:
        found: list[str] = school.ask(STUDENT, "GET", f"/api/assignments/{assignment}")["missing"]
        return found

    assert missing() == ["sightings", "drawing", "note"]
    sheet = begin(school, assignment)
    assert missing() == ["sightings", "drawing", "note"]
    sight(school, sheet)
    assert missing() == ["drawing", "note"]
    today = school.ask(STUDENT, "GET", f"/api/classes/{school.class_id}/today")["assignments"]
    assert next(one for one in today if one["id"] == assignment)["missing"] == ["drawing", "note"]


@pytest.mark.parametrize(
    ("weeks", "due"),
    [
        (52, "2027-03-25T18:00:00Z"),  # seven in the evening in the winter
        (20, "2026-08-13T17:00:00Z"),  # and in the summer
        (None, None),
    ],
)
def test_a_tutor_copies_assignments_into_a_new_class_with_their_days_moved_by_whole_weeks_or_without(
    school: School, weeks: int | None, due: str | None
) -> None:
    first = set_it(school, due_at="2026-03-26T18:00:00Z", found="as it comes", minutes=40)
    open_ended = set_it(school, AssignmentKind.STACKED_BOXES)
    term = school.ask(TUTOR, "POST", "/api/classes", {"name": "Spring class", "tutor": "Maren", "passphrase": None})
    new = next(one["id"] for one in school.ask(TUTOR, "GET", "/api/me")["classes"] if one["id"] != school.class_id)
    body = {"assignment_ids": [first, open_ended], "weeks": weeks, "time_zone": "Europe/Berlin"}
    made = school.ask(TUTOR, "POST", f"/api/classes/{new}/assignments/copy", body)["assignments"]
    assert [one["due_at"] for one in made] == [due, None] and term
    was = school.ask(TUTOR, "GET", f"/api/assignments/{first}")
    same = ("kind", "title", "words", "subject", "hand_in", "tolerance", "judge_first", "found", "minutes", "tries")
    assert {k: made[0][k] for k in same} == {k: was[k] for k in same}
    assert made[0]["stand_id"] != was["stand_id"]  # changing the one's set-up leaves the other's
    assert was["due_at"] == "2026-03-26T18:00:00Z"
    # a class of somebody else's is not copied from
    assert school.of(STRANGER).post(f"/api/classes/{new}/assignments/copy", json=body).status_code == 404


def test_a_tutor_copies_from_classes_of_their_own_only(school: School) -> None:
    mine = school.ask(STRANGER, "GET", "/api/me")["classes"][0]["id"]
    body = {"assignment_ids": [set_it(school)], "weeks": 0}
    assert school.of(STRANGER).post(f"/api/classes/{mine}/assignments/copy", json=body).status_code == 404


def test_handing_in_freezes_a_copy(school: School) -> None:
    assignment = set_it(school)
    sheet = begin(school, assignment)
    sight(school, sheet)
    piece = hand_in(school, assignment)["tries_made"][0]["hand_in_id"]
    sight(school, sheet, q=[600, 420])
    frozen = school.ask(TUTOR, "GET", f"/api/hand-ins/{piece}")
    assert frozen["document"]["sightings"][0]["q"] == [600, 340] and frozen["found"]["judged"] == 1
    # and a picture that a frozen copy shows outlives its sheet
    school.ask(STUDENT, "DELETE", f"/api/sheets/{sheet}")
    with school.app.extensions["aspectum"].sessions.begin() as session:
        session.connection().exec_driver_sql("UPDATE sheets SET deleted_at = '2020-01-01'")
        session.connection().exec_driver_sql("UPDATE pictures SET created_at = '2020-01-01'")
    other = school.ask(STUDENT, "POST", "/api/sheets", {"title": "Another"})["id"]
    school.ask(STUDENT, "DELETE", f"/api/sheets/{other}")  # sweeps
    again = school.ask(TUTOR, "GET", f"/api/hand-ins/{piece}")
    assert shown(school, TUTOR, again["picture"]["id"]) == 200


def test_a_try_is_with_the_tutor_until_it_comes_back_and_tries_end(school: School) -> None:
    assignment = set_it(school, tries=2)
    sight(school, begin(school, assignment))
    for number in (1, 2):
        found = hand_in(school, assignment)
        assert (found["how_far"], len(found["tries_made"])) == ("handed in", number)
        refused = school.of(STUDENT).post(f"/api/assignments/{assignment}/hand-in", json={"note": "x"})
        assert refused.status_code == 403
        give_back(school, found["tries_made"][-1]["hand_in_id"], mark="B")
    last = school.of(STUDENT).post(f"/api/assignments/{assignment}/hand-in", json={"note": "x"})
    assert last.status_code == 403 and "All 2 tries" in last.get_json()["detail"]


def test_mark_word_and_remarks_are_the_tutors_until_the_piece_comes_back(school: School) -> None:
    assignment = set_it(school)
    sheet = begin(school, assignment)
    sight(school, sheet)
    piece = hand_in(school, assignment)["tries_made"][0]["hand_in_id"]
    said = {
        "mark": "B+",
        "word": "The uprights stand.",
        "remarks": [
            {"words": "Steeper.", "sighting": "e1", "at": None},
            {"words": "Here.", "sighting": None, "at": [12.5, 40]},
        ],
    }
    give_back(school, piece, returned=False, **said)
    seen = school.ask(STUDENT, "GET", f"/api/hand-ins/{piece}")
    assert (seen["mark"], seen["word"], seen["remarks"], seen["returned_at"]) == ("", "", [], None)
    assert school.ask(STUDENT, "GET", f"/api/sheets/{sheet}/remarks")["hand_in_id"] is None
    give_back(school, piece, **said)
    seen = school.ask(STUDENT, "GET", f"/api/hand-ins/{piece}")
    assert (seen["mark"], seen["word"], [r["number"] for r in seen["remarks"]]) == ("B+", "The uprights stand.", [1, 2])
    on = school.ask(STUDENT, "GET", f"/api/sheets/{sheet}/remarks")
    assert on["remarks"][0]["sighting"] == "e1" and on["remarks"][1]["at"] == [12.5, 40]
    mine = school.ask(STUDENT, "GET", f"/api/assignments/{assignment}")
    assert mine["how_far"] == "returned" and mine["tries_made"][0]["mark"] == "B+"


def test_a_remark_on_a_sighting_that_is_not_there_is_refused_and_keeps_what_was_said(school: School) -> None:
    assignment = set_it(school)
    sight(school, begin(school, assignment))
    piece = hand_in(school, assignment)["tries_made"][0]["hand_in_id"]
    give_back(school, piece, word="Good lengths.", returned=False)
    body = {"mark": "", "word": "", "remarks": [{"words": "x", "sighting": "nothing", "at": None}], "returned": False}
    answer = school.of(TUTOR).put(f"/api/hand-ins/{piece}/review", json=body)
    assert answer.status_code == 422 and "Remark 1" in answer.get_json()["detail"]
    assert school.ask(TUTOR, "GET", f"/api/hand-ins/{piece}")["word"] == "Good lengths."


def test_a_students_drawing_is_handed_in_with_its_critique_and_the_second_try_is_compared_with_the_first(
    filled_school: School,
) -> None:
    """The demo's crates: a drawing with known faults; its second try has them mended by half."""
    school = filled_school
    subject = next(
        line for line in school.ask(TUTOR, "GET", "/api/sheets")["sheets"] if "crates" in line["title"].lower()
    )
    assignment = set_it(school, AssignmentKind.BUILDING, sheet_id=subject["id"], hand_in=["drawing", "critique"])
    # the tutor of the demo works it as a student would: sheet and drawing are theirs already
    here = school.app.extensions["aspectum"]
    with here.sessions.begin() as session:
        session.connection().exec_driver_sql(
            f"INSERT INTO begun (assignment_id, person_id, sheet_id, made_at) VALUES ('{assignment}', "
            f"'{school.ids[TUTOR]}', '{subject['id']}', '2026-03-14')"
        )
    piece = hand_in(school, assignment, TUTOR, note="")["tries_made"][0]["hand_in_id"]
    first = school.ask(TUTOR, "GET", f"/api/hand-ins/{piece}")
    assert first["found"]["of"] == "drawing" and first["found"]["off"] > 0 and first["found"]["causes"]
    assert first["critique"]["causes"][0]["words"] == first["found"]["causes"][0] and first["compared"] == []
    give_back(school, piece)
    drawn = school.ask(TUTOR, "GET", f"/api/sheets/{subject['id']}/drawings")["drawings"][0]["sheet_id"]
    full = school.ask(TUTOR, "GET", f"/api/sheets/{drawn}")
    moved = {line["sighting"]: line for line in first["critique"]["causes"][0]["mended"]}
    for s in full["document"]["sightings"]:
        if s["id"] in moved:
            s["p"], s["q"] = moved[s["id"]]["p"], moved[s["id"]]["q"]
    school.ask(TUTOR, "PUT", f"/api/sheets/{drawn}", {"revision": full["revision"], "document": full["document"]})
    second = school.ask(
        TUTOR, "GET", f"/api/hand-ins/{hand_in(school, assignment, TUTOR, note='')['tries_made'][1]['hand_in_id']}"
    )
    assert second["number"] == 2 and [t["number"] for t in second["tries"]] == [1, 2]
    assert second["found"]["off"] < first["found"]["off"] and any(
        words.startswith("Mended") for words in second["compared"]
    )
    assert school.ask(TUTOR, "GET", f"/api/hand-ins/{piece}")["found"] == first["found"]  # the first stays as it was


@pytest.fixture
def filled_school(demo: Any) -> School:
    return open_school(demo.application)


def test_a_second_try_at_a_sheet_tells_which_lines_hold_now(school: School) -> None:
    """One left edge of a cube is laid out of its family, and mended for the second try."""
    assignment = set_it(school, hand_in=["sightings"])
    sheet = begin(school, assignment)
    full = school.ask(STUDENT, "GET", f"/api/sheets/{sheet}")
    stand = school.ask(TUTOR, "GET", "/api/stands")["stands"][0]["id"]
    true = school.ask(
        TUTOR, "POST", "/api/stand/sheet", {"document": school.ask(TUTOR, "GET", f"/api/stands/{stand}")["document"]}
    )
    edges = [s for s in true["sightings"] if s["kind"] == "edge"]
    out = next(s for s in edges if s["family"] == "left")
    for shift in (70.0, 0.0):
        laid = [s | ({"q": [s["q"][0], s["q"][1] + shift]} if s is out else {}) for s in edges]
        now_there = school.ask(STUDENT, "GET", f"/api/sheets/{sheet}")
        document = full["document"] | {"forms": true["forms"], "sightings": laid}
        school.ask(STUDENT, "PUT", f"/api/sheets/{sheet}", {"revision": now_there["revision"], "document": document})
        piece = hand_in(school, assignment, note="")["tries_made"][-1]["hand_in_id"]
        give_back(school, piece)
    second = school.ask(STUDENT, "GET", f"/api/hand-ins/{piece}")
    assert second["number"] == 2 and second["found"]["off"] == 0
    assert any(words.startswith("Hold now") and out["name"] in words for words in second["compared"])
    assert re.fullmatch(r"Off before: [1-9]\d*; off now: 0\.", second["compared"][-1])


def test_a_closed_class_sets_and_takes_nothing(school: School) -> None:
    assignment = set_it(school)
    sight(school, begin(school, assignment))
    school.ask(TUTOR, "PUT", f"/api/classes/{school.class_id}", {"name": "Harbour class", "closed": True})
    assert school.of(STUDENT).post(f"/api/assignments/{assignment}/hand-in", json={"note": "x"}).status_code == 403
    body = template(school, AssignmentKind.TWO_CUBES)
    assert school.of(TUTOR).post(f"/api/classes/{school.class_id}/assignments", json=body).status_code == 403


def test_a_tutors_phrases_are_kept_in_order_without_doubles(school: School) -> None:
    kept = school.ask(
        TUTOR, "PUT", "/api/phrases", {"phrases": ["Eye level first.", "Compare with the unit.", "Eye level first."]}
    )["phrases"]
    assert kept == ["Eye level first.", "Compare with the unit."] == school.ask(TUTOR, "GET", "/api/phrases")["phrases"]
    assert school.ask(STUDENT, "GET", "/api/phrases")["phrases"] == []


# --- a student's page and the board
# ----------------------------------------------------------------------------------------------------


def test_a_students_page_tells_what_is_due_first(school: School) -> None:
    soon, later = (datetime.now(UTC) + timedelta(days=days) for days in (2, 9))
    for title, due in (
        ("Later", later.isoformat()),
        ("Some day", None),
        ("Soon", soon.isoformat()),
        ("Past", (soon - timedelta(days=5)).isoformat()),
    ):
        set_it(school, AssignmentKind.FREE, title=title, due_at=due)
    today = school.ask(STUDENT, "GET", f"/api/classes/{school.class_id}/today")
    assert [a["title"] for a in today["assignments"]] == ["Past", "Soon", "Later", "Some day"]
    assert [a["late"] for a in today["assignments"]] == [True, False, False, False]
    assert today["class_name"] == "Harbour class" and today["weakest"] == ""


def readings(school: School, who: str, skill: Skill, errors: list[float]) -> None:
    with school.app.extensions["aspectum"].sessions.begin() as session:
        for k, error in enumerate(errors):
            session.add(
                Reading(
                    person_id=school.ids[who],
                    skill=skill.value,
                    source="practice",
                    sighting=f"question {k}",
                    judged=20.0 + error,
                    truth=20.0,
                    unit=KINDS[skill].unit.value,
                    made_at=now() - timedelta(minutes=k),
                )
            )


def test_the_board_shows_the_class_skill_by_skill_with_nobody_counting_double(school: School) -> None:
    """Handbook section 8: no verdict on a skill under five readings. The class's mean is of the students' biases,
    however much each has practised.
    """
    readings(school, STUDENT, Skill.LOWER_RIM, [-6.0, -5.0, -4.0, -5.0, -5.0])
    readings(school, OTHER, Skill.LOWER_RIM, [1.0] * 50)
    readings(school, OTHER, Skill.LEFT_ABOVE, [1.0] * 4)
    found = school.ask(TUTOR, "GET", f"/api/classes/{school.class_id}/board")
    (lower,) = found["skills"]
    assert (
        lower["skill"] == "lower rim"
        and lower["mean"] == pytest.approx(-2.0)
        and lower["apart"] == pytest.approx(np.std([-5.0, 1.0], ddof=1))
    )
    assert [s["name"] for s in lower["students"]] == ["Fenja", "Onno"] and lower["students"][0]["stands"]["bias"][
        "value"
    ] == pytest.approx(-5.0)
    needs = {s["name"]: s["need"] for s in found["students"]}
    assert "−5°" in needs["Fenja"] and "n\u00a0=\u00a05" in needs["Fenja"]


def test_the_board_shows_everybody_at_every_assignment(school: School) -> None:
    first, second = set_it(school), set_it(school, AssignmentKind.FREE, hand_in=["note"], due_at="2026-01-01T00:00:00Z")
    begin(school, first)
    begin(school, second, OTHER)
    hand_in(school, second, OTHER)
    found = school.ask(TUTOR, "GET", f"/api/classes/{school.class_id}/board")
    cells = {(c["person_id"], c["assignment_id"]): c for c in found["cells"]}
    assert len(cells) == 4
    assert cells[school.ids[STUDENT], first]["how_far"] == "begun" and not cells[school.ids[STUDENT], first]["late"]
    assert cells[school.ids[STUDENT], second]["how_far"] == "not begun" and cells[school.ids[STUDENT], second]["late"]
    late = cells[school.ids[OTHER], second]
    assert late["how_far"] == "handed in" and late["late"] and late["piece"]["number"] == 1
    assert [p["name"] for p in found["unjudged"]] == ["Onno"]  # nothing on it holds or is off


def test_who_was_removed_is_off_the_board(school: School) -> None:
    set_it(school)
    school.ask(TUTOR, "POST", f"/api/classes/{school.class_id}/members/{school.ids[OTHER]}/remove")
    found = school.ask(TUTOR, "GET", f"/api/classes/{school.class_id}/board")
    assert [s["name"] for s in found["students"]] == ["Fenja"]


def test_a_cause_counts_once_for_each_piece_that_has_it() -> None:
    def piece(name: str, *causes: str) -> HandIn:
        return HandIn(
            person=Person(name=name),
            made_at=now(),
            found={"causes": [{"cause": c, "words": f"{c} of {name}"} for c in causes]},
        )

    found = common_causes(
        [piece("Fenja", "eye level", "eye level", "too wide"), piece("Onno", "eye level"), piece("Ilse")]
    )
    assert [(c.cause, c.count, c.names) for c in found] == [
        ("eye level", 2, ["Fenja", "Onno"]),
        ("too wide", 1, ["Fenja"]),
    ]


def test_marks_and_readings_go_out_as_csv_that_a_spreadsheet_does_not_reckon(school: School) -> None:
    """OWASP, CSV Injection: a cell that begins with = is shown and not reckoned."""
    assignment = set_it(school, AssignmentKind.FREE, title="=1+1", hand_in=["note"])
    begin(school, assignment)
    give_back(school, hand_in(school, assignment)["tries_made"][0]["hand_in_id"], mark="A", word="Well seen.")
    data = school.of(TUTOR).get(f"/api/classes/{school.class_id}/marks.csv").get_data()
    rows = list(csv.DictReader(io.StringIO(data.decode("utf-8-sig"))))
    assert [(r["student"], r["assignment"], r["try"], r["mark"], r["word"]) for r in rows] == [
        ("Fenja", "'=1+1", "1", "A", "Well seen."),
        ("Onno", "'=1+1", "", "", ""),
    ]
    readings(school, STUDENT, Skill.LOWER_RIM, [1.0] * 3)
    readings(school, OTHER, Skill.LEFT_ABOVE, [2.0] * 2)
    kept = read_logbook(school.of(TUTOR).get(f"/api/classes/{school.class_id}/readings.csv").get_data())
    assert [row.person for row in kept] == ["Fenja"] * 3 + ["Onno"] * 2


def test_parents_evening_has_a_page_for_each_student(school: School) -> None:
    pypdf = pytest.importorskip("pypdf")
    assignment = set_it(school, AssignmentKind.FREE, title="Fish boxes", hand_in=["note"])
    begin(school, assignment)
    give_back(school, hand_in(school, assignment)["tries_made"][0]["hand_in_id"], mark="B+", word="The uprights stand.")
    readings(school, STUDENT, Skill.LOWER_RIM, [-6.0, -5.0, -4.0, -5.0, -5.0])
    answer = school.of(TUTOR).get(f"/api/classes/{school.class_id}/evening.pdf")
    pages = [page.extract_text() for page in pypdf.PdfReader(io.BytesIO(answer.get_data())).pages]
    assert len(pages) == 2
    assert all(
        words in pages[0]
        for words in ("Fenja", "Harbour class", "Fish boxes", "B+", "The uprights stand.", "Lower rim")
    )
    assert "Onno" in pages[1] and "not handed in" in pages[1] and "Too few readings" in pages[1]
    assert "Onno" not in pages[0] and "Fenja" not in pages[1]


def test_two_assignments_of_one_title_stand_on_the_page_both(school: School) -> None:
    pypdf = pytest.importorskip("pypdf")
    for word in ("First time.", "Second time."):
        assignment = set_it(school, AssignmentKind.FREE, title="Fish boxes", hand_in=["note"])
        begin(school, assignment)
        give_back(school, hand_in(school, assignment)["tries_made"][0]["hand_in_id"], word=word)
    data = school.of(TUTOR).get(f"/api/classes/{school.class_id}/evening.pdf").get_data()
    page = pypdf.PdfReader(io.BytesIO(data)).pages[0].extract_text()
    assert page.count("Fish boxes") == 2 and "First time." in page and "Second time." in page


def test_the_board_of_a_whole_class_is_read_at_once(school: School) -> None:
    """As the service makes it, without the web: nothing in it is another class's."""
    set_it(school)
    with school.app.extensions["aspectum"].sessions() as session:
        found = board(session, session.get_one(ClassRow, school.class_id))
    assert len(found.students) == 2 and len(found.cells) == 2 and found.skills == [] and found.causes == []


# --- judged once
# ----------------------------------------------------------------------------------------------------


def handed_in(school: School) -> str:
    """The id of a piece with one sighting."""
    assignment = set_it(school)
    sight(school, begin(school, assignment))
    return str(hand_in(school, assignment)["tries_made"][-1]["hand_in_id"])


def test_a_piece_is_judged_once_and_opened_as_it_came_out_that_day(
    school: School, monkeypatch: pytest.MonkeyPatch
) -> None:
    piece = handed_in(school)
    seen = school.ask(TUTOR, "GET", f"/api/hand-ins/{piece}")
    monkeypatch.setattr(hand_ins, "judge_piece", lambda *_: pytest.fail("judged again"))
    assert school.ask(TUTOR, "GET", f"/api/hand-ins/{piece}") == seen and seen["report"]["findings"]
    assert give_back(school, piece, mark="B")["report"] == seen["report"]


def forget_judging(school: School, piece: str, **values: Any) -> None:
    """As a piece that an older Aspectum kept, or one that a server was stopped over."""
    with school.app.extensions["aspectum"].sessions.begin() as session:
        session.execute(update(HandIn).where(HandIn.id == piece).values(report=None, critique=None, **values))


def test_a_piece_from_before_is_judged_when_it_is_opened_and_keeps_the_counts_of_its_day(school: School) -> None:
    piece = handed_in(school)
    seen = school.ask(TUTOR, "GET", f"/api/hand-ins/{piece}")
    forget_judging(school, piece, found=seen["found"] | {"holds": 7})
    again = school.ask(TUTOR, "GET", f"/api/hand-ins/{piece}")
    assert again["report"] == seen["report"] and again["found"]["holds"] == 7
    with school.app.extensions["aspectum"].sessions() as session:
        assert session.get_one(HandIn, piece).report is not None


def test_a_report_that_this_aspectum_cannot_read_is_made_anew(school: School) -> None:
    piece = handed_in(school)
    seen = school.ask(TUTOR, "GET", f"/api/hand-ins/{piece}")
    with school.app.extensions["aspectum"].sessions.begin() as session:
        session.get_one(HandIn, piece).report = {"format": "of another day"}
    assert school.ask(TUTOR, "GET", f"/api/hand-ins/{piece}")["report"] == seen["report"]


def test_a_piece_that_could_not_be_judged_is_handed_in_all_the_same_and_judged_later(
    school: School, monkeypatch: pytest.MonkeyPatch
) -> None:
    def busy(*_: object) -> None:
        raise Busy("Everyone saves.")

    with monkeypatch.context() as patch:
        patch.setattr(hand_ins, "judge_piece", busy)
        piece = handed_in(school)
    sessions = school.app.extensions["aspectum"].sessions
    with sessions() as session:
        assert session.get_one(HandIn, piece).found == {}
    assert hand_ins.judge_waiting(sessions) == 1 and hand_ins.judge_waiting(sessions) == 0
    assert school.ask(TUTOR, "GET", f"/api/hand-ins/{piece}")["found"]["sightings"] == 1


def test_a_second_review_leaves_the_day_of_giving_back(school: School) -> None:
    piece = handed_in(school)
    first = give_back(school, piece, mark="B")["returned_at"]
    again = give_back(school, piece, mark="A")
    assert again["mark"] == "A" and again["returned_at"] == first
