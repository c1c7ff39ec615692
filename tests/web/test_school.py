"""A class: made, joined, kept; signing in and out, tries, sessions, leaving with everything."""

from __future__ import annotations

import io
import json
import re
import time
import zipfile
from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest
from flask import Flask
from flask.testing import FlaskClient

from aspectum.formats.logbook import read_logbook
from aspectum.formats.sheet import read_sheet
from aspectum.service.people.passphrases import fits
from aspectum.service.people.sign_in import LONGEST, UNUSED, hashed
from aspectum.service.runtime import tries
from aspectum.service.school.classes import CODE_LENGTH, LETTERS
from aspectum.service.sheets import phone
from aspectum.store.classes import Member, SignIn
from aspectum.store.models import Person, Picture, Reading, Sheet, now
from tests.school import NAMES, NOBODY, OTHER, PASSPHRASE, STRANGER, STUDENT, TUTOR, School, sign_in


def sessions(school: School) -> Any:
    return school.app.extensions["aspectum"].sessions


def member_path(school: School, who: str, part: str = "") -> str:
    return f"/api/classes/{school.class_id}/members/{school.ids[who]}{part}"


def photo(client: FlaskClient, jpeg: bytes) -> Any:
    return client.post("/api/pictures?name=crates.jpg", data=jpeg, content_type="image/jpeg").get_json()


# --- alone, and the first class
# ----------------------------------------------------------------------------------------------------


def test_alone_on_ones_own_machine_nobody_signs_in(client: FlaskClient) -> None:
    me = client.get("/api/me").get_json()
    assert me["alone"] and me["classes"] == [] and me["door"] is None
    assert client.get("/api/sheets").status_code == 200


def test_whoever_worked_alone_becomes_the_tutor_and_keeps_everything(
    app: Flask, client: FlaskClient, crates_jpeg: bytes
) -> None:
    picture = photo(client, crates_jpeg)
    sheet = client.post("/api/sheets", json={"picture_id": picture["id"]}).get_json()
    me = client.post(
        "/api/classes", json={"name": "Harbour class", "tutor": "Maren", "passphrase": PASSPHRASE}
    ).get_json()
    assert (me["name"], me["alone"], me["classes"][0]["role"]) == ("Maren", False, "tutor")
    assert [line["id"] for line in client.get("/api/sheets").get_json()["sheets"]] == [sheet["id"]]
    # and from then on everyone signs in
    stranger = app.test_client()
    assert stranger.get("/api/sheets").status_code == 401
    assert stranger.get("/api/me").get_json()["name"] is None
    assert sign_in(stranger, "maren").status_code == 200 and len(stranger.get("/api/sheets").get_json()["sheets"]) == 1


def test_a_class_needs_a_passphrase_of_its_tutor_and_is_not_made_in_part(client: FlaskClient) -> None:
    answer = client.post("/api/classes", json={"name": "Harbour class", "tutor": "Maren", "passphrase": "short"})
    assert answer.status_code == 422 and "8 to 128" in answer.get_json()["detail"]
    assert client.get("/api/me").get_json()["alone"]


def test_a_student_makes_no_class(school: School) -> None:
    answer = school.of(STUDENT).post("/api/classes", json={"name": "Mine", "tutor": None, "passphrase": None})
    assert answer.status_code == 403
    made = school.ask(TUTOR, "POST", "/api/classes", {"name": "Evening class", "tutor": None, "passphrase": None})
    assert {one["name"] for one in made["classes"]} == {"Harbour class", "Evening class"}


# --- joining
# ----------------------------------------------------------------------------------------------------


def test_codes_are_read_from_the_back_of_the_room(school: School) -> None:
    assert len(school.code) == CODE_LENGTH and set(school.code) <= set(LETTERS)
    assert not set(LETTERS) & set("01OILU") and len(set(LETTERS)) ** CODE_LENGTH > 6e11


@pytest.mark.parametrize("typed", ["{}", "{} ", " {}", "{0[0]}{0[1]}{0[2]}{0[3]}-{0[4]}{0[5]}{0[6]}{0[7]}"])
def test_a_code_is_taken_as_people_write_it(school: School, typed: str) -> None:
    code = typed.format(school.code.lower())
    assert school.app.test_client().get(f"/api/join/{code}").get_json()["name"] == "Harbour class"


def test_joining_takes_a_code_a_name_and_a_passphrase(school: School) -> None:
    newcomer = school.app.test_client()
    me = newcomer.post(
        "/api/join", json={"code": school.code, "name": "  Wiebke ", "passphrase": "pump house gable"}
    ).get_json()
    assert (me["name"], me["classes"][0]["role"], me["guest"]) == ("Wiebke", "student", False)
    again = school.app.test_client()
    assert sign_in(again, "WIEBKE", "pump house gable").get_json()["id"] == me["id"]


def second_class(school: School) -> tuple[str, str]:
    """Id and code of a further class, of the other tutor."""
    made = school.ask(STRANGER, "GET", "/api/me")["classes"][0]
    return made["id"], school.ask(STRANGER, "GET", f"/api/classes/{made['id']}")["code"]


def test_a_student_joins_a_second_class_with_the_name_and_the_logbook_that_they_have(school: School) -> None:
    second, code = second_class(school)
    answer = school.app.test_client().post(
        "/api/join", json={"code": code, "name": "Fenja", "passphrase": "pump house gable"}
    )
    assert answer.status_code == 422 and "sign in first" in answer.get_json()["detail"]
    before = school.ask(STUDENT, "GET", "/api/me")
    after = school.ask(STUDENT, "POST", f"/api/join/{code}")
    assert after["id"] == before["id"] and {one["id"] for one in after["classes"]} == {school.class_id, second}
    assert school.ask(STUDENT, "POST", f"/api/join/{code}") == after  # once is enough
    members = school.ask(STRANGER, "GET", f"/api/classes/{second}")["members"]
    assert [m["name"] for m in members] == ["Hauke", "Fenja"]
    # each tutor sees the whole of the student's work, and neither the other's class
    assert school.of(STRANGER).get(f"/api/classes/{school.class_id}").status_code == 404
    school.ask(STRANGER, "POST", f"/api/classes/{second}/members/{before['id']}/remove")
    # who is in another class keeps everything
    kept = school.of(STRANGER).delete(f"/api/classes/{second}/members/{before['id']}")
    assert kept.status_code == 403 and "another class" in kept.get_json()["detail"]
    assert sign_in(school.of(STUDENT), "Fenja").status_code == 200  # out of the one class, and still in the other
    refused = school.of(STUDENT).post(f"/api/join/{code}")
    assert refused.status_code == 403 and "taken out of this class" in refused.get_json()["detail"]
    assert school.of(STUDENT).get(f"/api/classes/{school.class_id}/today").status_code == 200


def test_a_tutor_is_a_student_of_another_class_and_a_guest_first_stays(school: School) -> None:
    second, code = second_class(school)
    assert {one["role"] for one in school.ask(TUTOR, "POST", f"/api/join/{code}")["classes"]} == {"tutor", "student"}
    # whose passphrase is not the other tutor's to set, nor the name
    member = f"/api/classes/{second}/members/{school.ids[TUTOR]}"
    assert school.of(STRANGER).post(f"{member}/passphrase", json={"passphrase": "pump house gable"}).status_code == 403
    assert school.of(STRANGER).put(member, json={"name": "Maren H."}).status_code == 403
    guest = school.app.test_client()
    guest.post("/api/join", json={"code": school.code, "name": "Tjark", "passphrase": None})
    assert guest.post(f"/api/join/{code}").status_code == 403
    assert school.of(NOBODY).post(f"/api/join/{code}").status_code == 401


def test_a_guest_stays_for_a_lesson_or_for_good_with_a_passphrase(school: School) -> None:
    guest = school.app.test_client()
    me = guest.post("/api/join", json={"code": school.code, "name": "Tjark", "passphrase": None}).get_json()
    assert me["guest"] and me["classes"][0]["role"] == "guest" and guest.get("/api/sheets").status_code == 200
    with sessions(school).begin() as session:
        session.get_one(Member, (school.class_id, me["id"])).until = now() - timedelta(minutes=1)
    assert guest.get("/api/sheets").status_code == 401
    school.ask(TUTOR, "POST", f"/api/classes/{school.class_id}/members/{me['id']}/bring-back")
    assert guest.get("/api/sheets").status_code == 200
    stays = guest.post("/api/me/passphrase", json={"now": None, "then": "sluice gate heron"}).get_json()
    assert not stays["guest"] and stays["classes"][0]["role"] == "student"
    assert sign_in(school.app.test_client(), "Tjark", "sluice gate heron").status_code == 200


@pytest.mark.parametrize(
    ("name", "passphrase", "words"),
    [
        ("fenja", "pump house gable", "Add an initial"),
        ("Wiebke", "rope", "8 to 128"),
        ("Wiebke", "password1", "first that others would guess"),
        ("Wiebke", "wiebke123", "first that others would guess"),
        ("Wiebke", "x" * 200, "128"),
        ("   ", "pump house gable", "Write a name."),
        ("a" * 100, "pump house gable", "60"),
    ],
)
def test_names_and_passphrases_that_cannot_be_are_refused_and_nobody_joins(
    school: School, name: str, passphrase: str, words: str
) -> None:
    answer = school.app.test_client().post(
        "/api/join", json={"code": school.code, "name": name, "passphrase": passphrase}
    )
    assert answer.status_code == 422 and words in answer.get_json()["detail"]
    assert len(school.ask(TUTOR, "GET", f"/api/classes/{school.class_id}")["members"]) == 3


def test_a_closed_class_lets_nobody_join_and_keeps_everybody(school: School) -> None:
    school.ask(TUTOR, "PUT", f"/api/classes/{school.class_id}", {"name": "Harbour class", "closed": True})
    assert school.app.test_client().get(f"/api/join/{school.code}").status_code == 404
    assert school.of(STUDENT).get("/api/sheets").status_code == 200
    assert school.ask(STUDENT, "GET", "/api/me")["classes"][0]["closed"]
    school.ask(TUTOR, "PUT", f"/api/classes/{school.class_id}", {"name": "Harbour class", "closed": False})
    assert school.app.test_client().get(f"/api/join/{school.code}").status_code == 200


def test_another_code_ends_the_old_one(school: School) -> None:
    fresh = school.ask(TUTOR, "POST", f"/api/classes/{school.class_id}/code")
    assert fresh["code"] != school.code and fresh["link"].endswith(f"/join/{fresh['code']}")
    newcomer = school.app.test_client()
    assert (
        newcomer.get(f"/api/join/{school.code}").status_code == 404
        and newcomer.get(f"/api/join/{fresh['code']}").status_code == 200
    )


def test_the_code_on_the_projector_reads_as_the_link(school: School, tmp_path: Path) -> None:
    """Read back by OpenCV's own QR detector, a library that did not draw it."""
    cv2 = pytest.importorskip("cv2")
    segno = pytest.importorskip("segno")
    shown = school.ask(TUTOR, "GET", f"/api/classes/{school.class_id}")
    path = tmp_path / "code.png"
    segno.make(shown["link"], error="m").save(str(path), scale=8, border=4)
    assert cv2.QRCodeDetector().detectAndDecode(cv2.imread(str(path)))[0] == shown["link"]
    assert shown["image"].startswith("data:image/svg+xml") and not shown["reachable"]


# --- signing in and out
# ----------------------------------------------------------------------------------------------------


def test_passphrases_are_kept_as_argon2id_with_at_least_owasps_cost(school: School) -> None:
    """OWASP Password Storage Cheat Sheet: Argon2id with m = 19456 KiB, t = 2, p = 1 at the least."""
    with sessions(school)() as session:
        kept = session.get_one(Person, school.ids[STUDENT]).passphrase or ""
    found = re.fullmatch(r"\$argon2id\$v=19\$m=(\d+),t=(\d+),p=(\d+)\$.+", kept)
    assert found and int(found[1]) >= 19456 and int(found[2]) >= 2 and PASSPHRASE not in kept


def test_nobody_fits_an_unknown_name() -> None:
    assert not fits(None, "nobody has this passphrase")
    assert not fits(Person(name="x"), "nobody has this passphrase")


def test_a_wrong_passphrase_and_an_unknown_name_are_told_alike(school: School) -> None:
    wrong, unknown = (
        sign_in(school.app.test_client(), NAMES[STUDENT], "wrong"),
        sign_in(school.app.test_client(), "Nobody", PASSPHRASE),
    )
    assert wrong.status_code == unknown.status_code == 403 and wrong.get_json() == unknown.get_json()


def test_a_persons_passphrase_may_be_tried_five_times_and_the_wait_is_told(school: School) -> None:
    client = school.app.test_client()
    assert [sign_in(client, NAMES[STUDENT], "wrong").status_code for _ in range(6)] == [403] * 5 + [429]
    told = sign_in(client, NAMES[STUDENT])
    assert told.status_code == 429 and 0 < int(told.headers["Retry-After"]) <= 300
    assert re.search(r"Wait (\d minutes|a minute|\d+ seconds)", told.get_json()["detail"])
    assert sign_in(client, NAMES[OTHER]).status_code == 200  # another's door stands open


def test_a_whole_classroom_behind_one_address_signs_in_at_once(school: School) -> None:
    """What goes right is not counted against an address."""
    for _ in range(15):
        for who in (STUDENT, OTHER):
            assert sign_in(school.app.test_client(), NAMES[who]).status_code == 200


def test_an_address_that_tries_many_names_must_wait(school: School) -> None:
    answers = [
        sign_in(school.app.test_client(), f"name {k}", "wrong").status_code for k in range(tries.BY_ADDRESS.most + 1)
    ]
    assert set(answers[:-1]) == {403} and answers[-1] == 429


def test_class_codes_cannot_be_guessed_one_after_another(school: School) -> None:
    client = school.app.test_client()
    answers = [client.get(f"/api/join/AAAAAA{k:02d}").status_code for k in range(tries.CODES.most + 1)]
    assert set(answers[:-1]) == {404} and answers[-1] == 429
    assert client.get(f"/api/join/{school.code}").status_code == 429  # the right one is no way past it


def test_signing_out_ends_the_sign_in_on_the_server_too(school: School) -> None:
    client = school.of(STUDENT)
    stolen = client.get_cookie("aspectum")
    answer = client.post("/api/sign-out")
    assert answer.status_code == 204 and answer.headers["Clear-Site-Data"] == '"cache"'
    assert client.get("/api/sheets").status_code == 401
    thief = school.app.test_client()
    assert stolen is not None
    thief.set_cookie("aspectum", stolen.value)
    assert thief.get("/api/sheets").status_code == 401


def test_the_database_holds_no_token_that_signs_anybody_in(school: School) -> None:
    with sessions(school)() as session:
        ids = [row.id for row in session.query(SignIn)]
    client = school.app.test_client()
    with client.session_transaction() as cookie:
        cookie["_user_id"], cookie["_fresh"] = ids[0], True
    assert client.get("/api/sheets").status_code == 401
    assert all(len(id) == 64 and hashed(id) != id for id in ids)


@pytest.mark.parametrize(("field", "age"), [("seen_at", UNUSED), ("made_at", LONGEST)])
def test_a_sign_in_ends_unused_and_in_any_case(school: School, field: str, age: timedelta) -> None:
    with sessions(school).begin() as session:
        for row in session.query(SignIn):
            setattr(row, field, now() - age + timedelta(minutes=1))
    assert school.of(STUDENT).get("/api/sheets").status_code == 200
    with sessions(school).begin() as session:
        for row in session.query(SignIn):
            setattr(row, field, now() - age - timedelta(minutes=1))
    assert school.of(STUDENT).get("/api/sheets").status_code == 401


def test_a_cookie_is_out_of_scripts_reach_and_stays_on_this_site(school: School) -> None:
    plain = sign_in(school.app.test_client(), NAMES[STUDENT]).headers["Set-Cookie"]
    assert "HttpOnly" in plain and "SameSite=Lax" in plain and "Secure" not in plain
    with school.app.test_client() as client:
        answer = client.post(
            "/api/sign-in", json={"name": NAMES[STUDENT], "passphrase": PASSPHRASE}, base_url="https://localhost"
        )
    encrypted = answer.headers["Set-Cookie"]
    assert (
        encrypted.startswith("__Host-aspectum=")
        and "Secure" in encrypted
        and "Path=/" in encrypted
        and "Domain" not in encrypted
    )


def test_a_cookie_signed_with_another_secret_signs_nobody_in(school: School, tmp_path: Path) -> None:
    client = school.of(STUDENT)
    school.app.secret_key = "another secret, as if somebody guessed the first"
    assert client.get("/api/sheets").status_code == 401


# --- the tutor's hand
# ----------------------------------------------------------------------------------------------------


def test_a_reset_signs_out_everywhere_and_the_new_passphrase_lets_in(school: School) -> None:
    school.ask(TUTOR, "POST", member_path(school, STUDENT, "/passphrase"), {"passphrase": "new rope lantern"})
    assert school.of(STUDENT).get("/api/sheets").status_code == 401
    assert sign_in(school.app.test_client(), NAMES[STUDENT]).status_code == 403
    assert sign_in(school.app.test_client(), NAMES[STUDENT], "new rope lantern").status_code == 200


def test_changing_ones_own_passphrase_leaves_this_device_signed_in_and_no_other(school: School) -> None:
    elsewhere = school.app.test_client()
    sign_in(elsewhere, NAMES[STUDENT])
    wrong = school.of(STUDENT).post("/api/me/passphrase", json={"now": "wrong", "then": "new rope lantern"})
    assert wrong.status_code == 403 and elsewhere.get("/api/sheets").status_code == 200
    school.ask(STUDENT, "POST", "/api/me/passphrase", {"now": PASSPHRASE, "then": "new rope lantern"})
    assert school.of(STUDENT).get("/api/sheets").status_code == 200 and elsewhere.get("/api/sheets").status_code == 401


def test_a_removed_student_is_out_at_once_and_can_be_brought_back_with_all_their_work(
    school: School, crates_jpeg: bytes
) -> None:
    school.ask(STUDENT, "POST", "/api/sheets", {"title": "Fish boxes"})
    school.ask(TUTOR, "POST", member_path(school, STUDENT, "/remove"))
    assert school.of(STUDENT).get("/api/sheets").status_code == 401
    assert "tutor can bring you back" in sign_in(school.app.test_client(), NAMES[STUDENT]).get_json()["detail"]
    school.ask(TUTOR, "POST", member_path(school, STUDENT, "/bring-back"))
    client = school.app.test_client()
    assert sign_in(client, NAMES[STUDENT]).status_code == 200
    assert [line["title"] for line in client.get("/api/sheets").get_json()["sheets"]] == ["Fish boxes"]


def test_work_is_deleted_for_good_only_after_its_maker_was_removed(school: School) -> None:
    assert school.of(TUTOR).delete(member_path(school, STUDENT)).status_code == 403
    school.ask(TUTOR, "POST", member_path(school, STUDENT, "/remove"))
    assert school.of(TUTOR).delete(member_path(school, STUDENT)).status_code == 204
    assert [m["name"] for m in school.ask(TUTOR, "GET", f"/api/classes/{school.class_id}")["members"]] == [
        "Maren",
        "Onno",
    ]
    with sessions(school)() as session:
        assert session.get(Person, school.ids[STUDENT]) is None


def test_renaming_a_student_renames_their_sign_in(school: School) -> None:
    school.ask(TUTOR, "PUT", member_path(school, STUDENT), {"name": "Fenja B."})
    assert sign_in(school.app.test_client(), "fenja b.").status_code == 200
    taken = school.of(TUTOR).put(member_path(school, STUDENT), json={"name": "onno"})
    assert taken.status_code == 422 and "Add an initial" in taken.get_json()["detail"]


# --- everything of one's own
# ----------------------------------------------------------------------------------------------------


def take_away(client: FlaskClient, path: str = "/api/me/everything.zip") -> zipfile.ZipFile:
    with client.get(path) as answer:
        assert answer.status_code == 200 and answer.mimetype == "application/zip"
        return zipfile.ZipFile(io.BytesIO(answer.get_data()))


def test_what_is_taken_away_opens_again(demo: FlaskClient) -> None:
    """Sheets and logbook by the readers that the application itself opens files with."""
    packed = take_away(demo)
    assert packed.testzip() is None
    names = packed.namelist()
    sheets = [name for name in names if name.endswith(".sighting.json")]
    assert (
        len(sheets) == 15 and len([n for n in names if n.startswith("stands/")]) == 9
    )  # twelve subjects and three drawings
    for name in sheets:
        sheet = read_sheet(packed.read(name))
        if sheet.picture is not None and sheet.picture.file is not None:
            assert f"pictures/{Path(sheet.picture.file).name}" in names
    assert len(read_logbook(packed.read("logbook.csv"))) > 400
    assert (
        len(json.loads(packed.read("drawings.json"))) == 3 and json.loads(packed.read("timed.json"))[0]["minutes"] == 30
    )
    assert "person.json" in names and b"docs/formats.md" in packed.read("read-me.txt")


def test_a_tutor_takes_a_students_work_away_and_no_passphrase_with_it(school: School) -> None:
    school.ask(STUDENT, "POST", "/api/sheets", {"title": "Fish boxes"})
    packed = take_away(school.of(TUTOR), member_path(school, STUDENT, "/everything.zip"))
    person = json.loads(packed.read("person.json"))
    assert person["name"] == "Fenja" and person["classes"] == [
        {"class": "Harbour class", "as": "student", "joined": person["classes"][0]["joined"]}
    ]
    assert not any(b"argon2" in packed.read(name) for name in packed.namelist())


def test_deleting_oneself_deletes_pictures_on_the_disk_but_not_those_another_has_too(
    school: School, crates_jpeg: bytes
) -> None:
    files = school.app.extensions["aspectum"].files
    photo(school.of(STUDENT), crates_jpeg)
    photo(school.of(OTHER), crates_jpeg)
    with sessions(school)() as session:
        (sha256,) = {picture.sha256 for picture in session.query(Picture)}
    assert school.of(STUDENT).post("/api/me/delete", json={"passphrase": "wrong"}).status_code == 403
    gone = school.ask(STUDENT, "POST", "/api/me/delete", {"passphrase": PASSPHRASE})
    assert gone["name"] is None and files.path(sha256).exists()
    school.ask(OTHER, "POST", "/api/me/delete", {"passphrase": PASSPHRASE})
    assert not files.path(sha256).exists()
    assert sign_in(school.app.test_client(), NAMES[STUDENT]).status_code == 403


def test_a_tutor_with_students_cannot_delete_the_class_under_them(school: School) -> None:
    answer = school.of(TUTOR).post("/api/me/delete", json={"passphrase": PASSPHRASE})
    assert answer.status_code == 422 and "still has 2 in it" in answer.get_json()["detail"]
    assert school.of(STUDENT).get("/api/sheets").status_code == 200
    assert school.ask(STRANGER, "POST", "/api/me/delete", {"passphrase": PASSPHRASE})["name"] is None


def test_deleting_everything_alone_leaves_an_empty_easel(demo: FlaskClient) -> None:
    me = demo.post("/api/me/delete", json={"passphrase": None}).get_json()
    assert me["alone"] and demo.get("/api/sheets").get_json()["sheets"] == []
    here = demo.application.extensions["aspectum"]
    with here.sessions() as session:
        assert session.query(Sheet).count() == session.query(Reading).count() == session.query(Picture).count() == 0
    assert not list(here.files.folder.rglob("*.jpg"))


# --- from the telephone
# ----------------------------------------------------------------------------------------------------


def link(school: School, who: str = STUDENT) -> tuple[str, str]:
    sheet = school.ask(who, "POST", "/api/sheets", {"title": "On the shelf"})["id"]
    return sheet, school.ask(who, "POST", f"/api/sheets/{sheet}/phone")["link"].rsplit("/", 1)[1]


def test_a_telephone_sends_a_photo_to_the_sheet_that_its_link_is_for(school: School, crates_jpeg: bytes) -> None:
    sheet, token = link(school)
    telephone = school.app.test_client()
    assert telephone.get(f"/api/phone/{token}").get_json()["title"] == "On the shelf"
    sent = telephone.post(f"/api/phone/{token}", data=crates_jpeg, content_type="image/jpeg")
    assert sent.status_code == 200 and sent.get_json()["title"] == "On the shelf"
    (came,) = school.ask(STUDENT, "GET", f"/api/sheets/{sheet}/arrived")["photos"]
    revision = school.ask(STUDENT, "GET", f"/api/sheets/{sheet}")["revision"]
    school.ask(
        STUDENT, "PUT", f"/api/sheets/{sheet}/picture", {"picture_id": came["picture"]["id"], "revision": revision}
    )
    assert school.ask(STUDENT, "GET", f"/api/sheets/{sheet}")["picture"]["id"] == came["picture"]["id"]
    # the link opens nothing else
    assert telephone.get(f"/api/sheets/{sheet}").status_code == 401 and telephone.get("/api/sheets").status_code == 401


def test_a_link_is_good_for_ten_minutes(school: School, crates_jpeg: bytes, monkeypatch: pytest.MonkeyPatch) -> None:
    _, token = link(school)
    assert phone.GOOD_S == 600
    later = time.time() + 601
    monkeypatch.setattr(time, "time", lambda: later)
    answer = school.app.test_client().post(f"/api/phone/{token}", data=crates_jpeg, content_type="image/jpeg")
    assert answer.status_code == 403 and "not good any more" in answer.get_json()["detail"]


@pytest.mark.parametrize(
    "change", [lambda t: t[:-2] + ("AA" if t[-2:] != "AA" else "BB"), lambda t: "x" + t, lambda t: "nonsense"]
)
def test_a_link_that_was_tampered_with_is_no_link(school: School, crates_jpeg: bytes, change: Any) -> None:
    _, token = link(school)
    assert (
        school.app.test_client()
        .post(f"/api/phone/{change(token)}", data=crates_jpeg, content_type="image/jpeg")
        .status_code
        == 403
    )


def test_a_link_dies_with_its_sheet_and_its_owners_place_in_the_class(school: School) -> None:
    sheet, token = link(school)
    telephone = school.app.test_client()
    school.ask(STUDENT, "DELETE", f"/api/sheets/{sheet}")
    assert telephone.get(f"/api/phone/{token}").status_code == 403
    school.ask(STUDENT, "POST", f"/api/sheets/{sheet}/restore")
    assert telephone.get(f"/api/phone/{token}").status_code == 200
    school.ask(TUTOR, "POST", member_path(school, STUDENT, "/remove"))
    assert telephone.get(f"/api/phone/{token}").status_code == 403


@pytest.mark.parametrize(
    ("body", "media", "status"),
    [(b"no picture", "image/jpeg", 422), (b"<p>", "text/html", 415), (b"", "image/jpeg", 422)],
)
def test_a_telephone_that_sends_no_picture_is_told_so(school: School, body: bytes, media: str, status: int) -> None:
    sheet, token = link(school)
    assert school.app.test_client().post(f"/api/phone/{token}", data=body, content_type=media).status_code == status
    assert school.ask(STUDENT, "GET", f"/api/sheets/{sheet}/arrived")["photos"] == []
