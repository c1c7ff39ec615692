"""Who may ask what: every route of the API, by nobody, its owner, another student, the tutor of the class and a tutor
of another.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest
from flask import Flask, Response

from aspectum.service.sheets.phone import make_link
from aspectum.service.stand.stands import make_stand
from aspectum.store.models import Person, Sheet
from aspectum.store.worksheets import PrintedWorksheet
from aspectum.web.access import check_complete
from aspectum.web.app import create_app
from aspectum.web.routes import ROUTES, Body, Queue
from tests.conftest import settings_in
from tests.databases import copy_folder
from tests.school import NOBODY, OTHER, STRANGER, STUDENT, TUTOR, School, open_school

ANYBODY = {NOBODY, STUDENT, OTHER, TUTOR, STRANGER}
SIGNED_IN = ANYBODY - {NOBODY}
MAKER, MAKER_AND_TUTOR = {STUDENT}, {STUDENT, TUTOR}
THE_TUTOR = {TUTOR}
IN_CLASS = {STUDENT, OTHER, TUTOR}

# an operation that is added without its row here fails
ADMITTED: dict[str, set[str]] = {
    **dict.fromkeys(("health",), ANYBODY),
    **dict.fromkeys(
        (
            "openapi",
            "readMe",
            "signIn",
            "signInByClick",
            "signOut",
            "lookAtCode",
            "joinClass",
            "readPhoneLink",
            "sendFromPhone",
        ),
        ANYBODY,
    ),
    **dict.fromkeys(("renameMe", "changePassphrase", "takeAway", "deleteMe", "makeClass", "joinAsMyself"), SIGNED_IN),
    **dict.fromkeys(
        (
            "listSheets",
            "makeSheet",
            "addPicture",
            "pictureTurn",
            "readSheetFile",
            "check",
            "proposeFamily",
            "proposeFaceFamilies",
        ),
        SIGNED_IN,
    ),
    **dict.fromkeys(
        (
            "probe",
            "fan",
            "construct",
            "figure",
            "guide",
            "ease",
            "readGauge",
            "thumb",
            "readEasel",
            "setArm",
            "critique",
        ),
        SIGNED_IN,
    ),
    **dict.fromkeys(
        (
            "findPaper",
            "slant",
            "bringInDrawing",
            "listPapers",
            "plan",
            "listStands",
            "makeStand",
            "drawStand",
            "viewStand",
        ),
        SIGNED_IN,
    ),
    **dict.fromkeys(
        (
            "stepInStand",
            "solidsOfStand",
            "newThing",
            "elevations",
            "turning",
            "sheetOfStand",
            "stepsOfStand",
            "readStandFile",
        ),
        SIGNED_IN,
    ),
    **dict.fromkeys(
        ("listSkills", "beginSet", "listSets", "listTimed", "beginTimed", "readLogbook", "listReadings", "readChart"),
        SIGNED_IN,
    ),
    **dict.fromkeys(("importLogbook", "logbookCsv", "logbookPage"), SIGNED_IN),
    **dict.fromkeys(
        ("listExercises", "previewWorksheet", "listWorksheets", "beginWorksheets", "bringWorksheetBack"), SIGNED_IN
    ),
    **dict.fromkeys(("printWorksheets", "worksheetFile"), MAKER_AND_TUTOR),
    **dict.fromkeys(("makeWorksheetCopy", "deleteWorksheets"), MAKER),
    **dict.fromkeys(
        (
            "readSheet",
            "exportSheet",
            "planFile",
            "listDrawings",
            "nextTime",
            "readDrawing",
            "critiquePage",
            "pictureFile",
        ),
        MAKER_AND_TUTOR,
    ),
    **dict.fromkeys(("proposeDrawn", "sinceBefore"), MAKER_AND_TUTOR),
    **dict.fromkeys(("lookAtPicture", "lookTurn", "stopLook", "offerFound", "pointedEdge"), MAKER_AND_TUTOR),
    **dict.fromkeys(
        ("saveSheet", "deleteSheet", "restoreSheet", "attachPicture", "duplicateSheet", "writeNotes"), MAKER
    ),
    **dict.fromkeys(("makePhoneLink", "listArrived"), MAKER),
    **dict.fromkeys(("readStand", "exportStand", "seenStand", "stepsFile", "turningFile"), MAKER_AND_TUTOR),
    **dict.fromkeys(("saveStand", "deleteStand", "restoreStand", "duplicateStand", "drawFromStand"), MAKER),
    **dict.fromkeys(("setSummary", "readQuestion", "questionPicture", "readTimed"), MAKER_AND_TUTOR),
    **dict.fromkeys(("nextQuestion", "answerQuestion", "keepTimed", "noteTimed"), MAKER),
    **dict.fromkeys(
        ("readClass", "changeClass", "changeCode", "renameMember", "resetPassphrase", "removeMember"), THE_TUTOR
    ),
    **dict.fromkeys(("bringBackMember", "deleteMember", "takeAwayOf"), THE_TUTOR),
    **dict.fromkeys(("listTemplates", "listPhrases", "keepPhrases"), SIGNED_IN),
    **dict.fromkeys(("listAssignments", "readToday", "readAssignment", "beginAssignment", "handIn"), IN_CLASS),
    **dict.fromkeys(
        ("setAssignment", "copyAssignments", "changeAssignment", "withdrawAssignment", "reviewPiece"), THE_TUTOR
    ),
    **dict.fromkeys(("readBoard", "marksCsv", "readingsCsv", "eveningPages"), THE_TUTOR),
    **dict.fromkeys(("readPiece", "readRemarks"), MAKER_AND_TUTOR),
    **dict.fromkeys(("readRoom", "answerRoom", "roomPicture"), IN_CLASS),
    **dict.fromkeys(("whatToAsk", "askRoom", "readAnswers", "stopRoom", "tellRoom"), THE_TUTOR),
}
REFUSED = {401, 403, 404}


@pytest.fixture(scope="module")
def school(tmp_path_factory: pytest.TempPathFactory, filled: Path) -> School:
    """The demo's sheets and drawings belong to the student."""
    folder = tmp_path_factory.mktemp("school")
    copy_folder(filled, folder)
    app = create_app(settings_in(folder))
    made = open_school(app)
    with app.extensions["aspectum"].sessions.begin() as session:
        # the first tutor took over what was made without signing in: here it is to be the student's
        for table in ("sheets", "pictures", "stands", "practice_sets", "timed_drawings", "readings"):
            session.connection().exec_driver_sql(f"UPDATE {table} SET person_id = '{made.ids[STUDENT]}'")
    return made


@pytest.fixture(scope="module")
def named(school: School) -> dict[str, str]:
    """A value for every name in a path: the student's own things, and the class."""
    drawn = (
        school.ask(STUDENT, "GET", f"/api/sheets/{sheet_titled(school, 'fish boxes')}/drawings")["drawings"]
        or school.ask(STUDENT, "GET", f"/api/sheets/{sheet_titled(school, 'crates')}/drawings")["drawings"]
    )
    one_set = school.ask(STUDENT, "POST", "/api/practice/sets", {"length": 10, "skill": "left edge above"})["id"]
    usual = school.ask(TUTOR, "GET", "/api/assignment-templates")["templates"][0]["assignment"] | {"hand_in": ["note"]}
    assignment = school.ask(TUTOR, "POST", f"/api/classes/{school.class_id}/assignments", usual)["id"]
    school.ask(STUDENT, "POST", f"/api/assignments/{assignment}/begin")
    handed_in = school.ask(STUDENT, "POST", f"/api/assignments/{assignment}/hand-in", {"note": "Eye level first."})
    cubes = school.ask(TUTOR, "GET", "/api/stands")["stands"][0]["id"]
    askable = school.ask(TUTOR, "GET", f"/api/classes/{school.class_id}/room/askable?over=stand&id={cubes}")["askable"]
    body = {"over": "stand", "id": cubes, "about": askable[0]["about"]}
    asked = school.ask(TUTOR, "POST", f"/api/classes/{school.class_id}/room", body)["question"]["id"]
    worksheets = school.ask(
        STUDENT, "POST", "/api/worksheets", {"exercises": ["tilts"], "grade": "easy", "paper": "A4"}
    )
    school.ask(STUDENT, "POST", f"/api/worksheets/{worksheets['id']}/copies")
    here = school.app.extensions["aspectum"]
    with here.sessions.begin() as session:
        printed = str(session.query(PrintedWorksheet.code).one()[0])
        student = session.get_one(Person, school.ids[STUDENT])
        stand = make_stand(session, student)
        token = make_link(here.secret, session.get_one(Sheet, drawn[0]["sheet_id"])).token
    return {
        "sheet_id": drawn[0]["sheet_id"],
        "picture_id": drawn[0]["picture"]["id"],
        "stand_id": stand.id,
        "thing": "box-1",
        "set_id": one_set,
        "question_id": school.ask(STUDENT, "POST", f"/api/practice/sets/{one_set}/next")["question"]["id"],
        "timed_id": school.ask(STUDENT, "POST", "/api/timed", {"minutes": 20, "title": "Boxes"})["id"],
        "class_id": school.class_id,
        "person_id": school.ids[OTHER],
        "code": school.code,
        "token": token,
        "name": "logbook",
        "room_question_id": asked,
        "assignment_id": assignment,
        "worksheet_set_id": worksheets["id"],
        "worksheet_code": printed,
        "hand_in_id": handed_in["tries_made"][0]["hand_in_id"],
    }


def sheet_titled(school: School, part: str) -> str:
    lines = school.ask(STUDENT, "GET", "/api/sheets")["sheets"]
    return str(next(line["id"] for line in lines if part in line["title"].lower()))


def operations(app: Flask) -> Iterator[tuple[str, str, str, dict[str, Any]]]:
    """Id, method and path of every operation, and the operation."""
    for path, methods in app.test_client().get("/api/docs/openapi.json").get_json()["paths"].items():
        for method, operation in methods.items():
            yield operation["operationId"], method.upper(), path, operation


def filled_in(path: str, operation: dict[str, Any], named: dict[str, str]) -> str:
    """A path with its names filled in; where a name is one of several, with the first."""
    choices = {
        p["name"]: p["schema"]["enum"][0] for p in operation.get("parameters", []) if "enum" in p.get("schema", {})
    }
    known = named | ({"question_id": named["room_question_id"]} if path.startswith("/api/room/") else {})
    if path.startswith("/api/worksheets/"):
        known |= {"set_id": named["worksheet_set_id"], "code": named["worksheet_code"]}
    return re.sub(r"\{(\w+)\}", lambda m: choices.get(m[1]) or known[m[1]], path)


def test_every_operation_has_its_row(school: School) -> None:
    assert {id for id, _, _, _ in operations(school.app)} == set(ADMITTED)


def test_a_route_that_is_not_declared_is_not_served(school: School, monkeypatch: pytest.MonkeyPatch) -> None:
    check_complete(school.app)
    monkeypatch.delitem(ROUTES, "sheets.read_one_sheet")
    with pytest.raises(LookupError, match=r"sheets\.read_one_sheet"):
        check_complete(school.app)


def test_a_route_that_computes_and_declares_no_queue_does_not_answer(
    school: School, named: dict[str, str], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setitem(ROUTES, "sheets.read_one_sheet", replace(ROUTES["sheets.read_one_sheet"], queue=Queue.NONE))
    assert school.of(STUDENT).get(f"/api/sheets/{named['sheet_id']}").status_code == 500


def test_no_body_is_nested_so_deeply_that_it_is_an_error_of_ours(school: School, named: dict[str, str]) -> None:
    """RFC 8259, section 9: a parser may limit the depth of nesting; what goes beyond is the sender's."""
    deep = '{"document": ' + "[" * 5000 + "]" * 5000 + "}"
    seen = {}
    for id, method, path, operation in operations(school.app):
        if "application/json" in operation.get("requestBody", {}).get("content", {}):
            admitted = next((who for who in (STUDENT, TUTOR) if who in ADMITTED[id]), STUDENT)
            answer = school.of(admitted).open(
                filled_in(path, operation, named), method=method, data=deep, content_type="application/json"
            )
            seen[id] = answer.status_code
            answer.close()
    assert len(seen) >= sum(route.body is Body.JSON for route in ROUTES.values()) >= 60
    assert {id: status for id, status in seen.items() if status not in (413, 422)} == {}


@pytest.mark.parametrize("who", sorted(ANYBODY))
def test_every_route_admits_just_whom_it_may(
    school: School, named: dict[str, str], who: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Whoever is refused is refused by the real route; whoever is admitted to a change reaches it, and it is stood in
    for, so that the next finds the same things there.
    """
    wrong = []
    for id, method, path, operation in operations(school.app):
        at = filled_in(path, operation, named)
        admitted = who in ADMITTED[id]
        endpoint = school.app.url_map.bind("127.0.0.1").match(at, method)[0]
        with monkeypatch.context() as patch:
            if admitted and (method != "GET" or "json" in operation["responses"]):
                patch.setitem(
                    school.app.view_functions, endpoint, lambda **_: Response("{}", mimetype="application/json")
                )
            answer = school.of(who).open(at, method=method, json=None if method == "GET" else {})
        answer.close()
        if admitted == (answer.status_code in REFUSED):
            wrong.append((id, method, at, answer.status_code, answer.status))
    assert not wrong


def test_what_is_nobody_elses_is_told_apart_from_what_is_not_there_by_nobody(
    school: School, named: dict[str, str]
) -> None:
    there = school.of(OTHER).get(f"/api/sheets/{named['sheet_id']}")
    not_there = school.of(OTHER).get(f"/api/sheets/{'0' * 32}")
    assert there.status_code == not_there.status_code == 404 and there.get_json() == not_there.get_json()


def test_a_tutor_reads_a_students_sheet_as_the_student_does_but_does_not_save_it(
    school: School, named: dict[str, str]
) -> None:
    path = f"/api/sheets/{named['sheet_id']}"
    seen, own = school.ask(TUTOR, "GET", path), school.ask(STUDENT, "GET", path)
    assert seen["document"] == own["document"]
    answer = school.of(TUTOR).put(path, json={"revision": own["revision"], "document": own["document"]})
    assert answer.status_code == 403 and "only they may change it" in answer.get_json()["detail"]
    assert school.ask(STUDENT, "GET", path)["revision"] == own["revision"]


def test_a_tutors_own_list_holds_no_students_sheets(school: School) -> None:
    assert school.ask(TUTOR, "GET", "/api/sheets")["sheets"] == []


def test_what_another_made_cannot_be_taken_by_its_id_in_a_body(school: School, named: dict[str, str]) -> None:
    """The tutor may look at a student's photo, but not lay a sheet of their own on it; another student may not even
    look.
    """
    for who in (TUTOR, OTHER, STRANGER):
        for path, body in (
            ("/api/sheets", {"picture_id": named["picture_id"]}),
            ("/api/paper/find", {"picture_id": named["picture_id"]}),
            ("/api/drawings", {"photo_id": named["picture_id"], "box": [0, 0, 10, 10]}),
            ("/api/worksheets/back", {"photo_id": named["picture_id"], "ticket": "another-ticket"}),
            (
                "/api/worksheets",
                {"exercises": ["tilts"], "grade": "easy", "paper": "A4", "sheet_id": named["sheet_id"]},
            ),
            ("/api/practice/sets", {"repeat_of": named["set_id"]}),
            ("/api/timed", {"minutes": 20, "sheet_id": named["sheet_id"]}),
            ("/api/timed", {"minutes": 20, "title": "Boxes", "sheet_id": named["sheet_id"]}),
            ("/api/timed", {"minutes": 20, "title": "Boxes", "stand_id": named["stand_id"]}),
        ):
            assert school.of(who).post(path, json=body).status_code == 404, (who, path)


def test_a_tutor_cannot_reach_a_member_through_a_class_of_their_own(school: School) -> None:
    """The path names both the class and the person: the person must be in that class."""
    own = school.ask(STRANGER, "GET", "/api/me")["classes"][0]["id"]
    for method, part, body in (
        ("PUT", "", {"name": "X"}),
        ("POST", "/passphrase", {"passphrase": "x" * 12}),
        ("POST", "/remove", None),
        ("DELETE", "", None),
    ):
        answer = school.of(STRANGER).open(
            f"/api/classes/{own}/members/{school.ids[STUDENT]}{part}", method=method, json=body
        )
        assert answer.status_code == 404, (method, part)
    assert (
        school.of(STRANGER).get(f"/api/classes/{own}/members/{school.ids[STUDENT]}/everything.zip").status_code == 404
    )
