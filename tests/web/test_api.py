"""The API: sheets, saving over revisions, problems, security."""

from __future__ import annotations

import json
import re
import sqlite3
from pathlib import Path
from typing import Any

import pytest
from flask import Flask
from flask.testing import FlaskClient

from aspectum.service.sheets import sheets as sheet_service
from aspectum.store.models import Person, Picture, Sheet
from aspectum.web.app import create_app
from tests import worked
from tests.conftest import settings_in
from tests.formats.test_sheet import SHEET


def upload(client: FlaskClient, data: bytes, name: str = "crates.jpg") -> Any:
    return client.post(f"/api/pictures?name={name}", data=data, content_type="application/octet-stream")


def new_sheet(client: FlaskClient, jpeg: bytes) -> dict[str, Any]:
    picture = upload(client, jpeg).get_json()
    line: dict[str, Any] = client.post("/api/sheets", json={"picture_id": picture["id"]}).get_json()
    full: dict[str, Any] = client.get(f"/api/sheets/{line['id']}").get_json()
    return full


def save(client: FlaskClient, sheet: dict[str, Any], revision: int, **changes: Any) -> Any:
    return client.put(
        f"/api/sheets/{sheet['id']}", json={"revision": revision, "document": sheet["document"] | changes}
    )


def test_a_photo_becomes_a_sheet_that_is_saved_and_there_again_after_a_restart(
    app: Flask, client: FlaskClient, tmp_path: Path, crates_jpeg: bytes
) -> None:
    sheet = new_sheet(client, crates_jpeg)
    assert sheet["document"]["picture"] == {
        "width_px": 1280,
        "height_px": 960,
        "file": "crates.jpg",
        "focal_35mm": 28.0,
        "centre_px": None,
    }
    edge = {
        "id": "e1",
        "kind": "edge",
        "form": "form-1",
        "family": "left",
        "p": [412.0, 310.5],
        "q": [130.0, 371.0],
        "judged_tilt_deg": 14.0,
    }
    saved = save(client, sheet, 1, sightings=[edge], title="Slipway").get_json()
    assert saved["revision"] == 2 and saved["report"]["findings"][0]["sighted"] == pytest.approx(12.1, abs=0.05)
    again = create_app(settings_in(tmp_path)).test_client()
    assert [s["title"] for s in again.get("/api/sheets").get_json()["sheets"]] == ["Slipway"]
    kept = again.get(f"/api/sheets/{sheet['id']}").get_json()["document"]["sightings"][0]
    assert kept["p"] == [412.0, 310.5] and kept["judged_tilt_deg"] == 14.0


def test_two_tabs_do_not_overwrite_each_other(client: FlaskClient, crates_jpeg: bytes) -> None:
    sheet = new_sheet(client, crates_jpeg)
    assert save(client, sheet, 1, title="First tab").status_code == 200
    refused = save(client, sheet, 1, title="Second tab")
    assert refused.status_code == 409 and refused.get_json()["revision"] == 2
    assert refused.mimetype == "application/problem+json"
    assert client.get(f"/api/sheets/{sheet['id']}").get_json()["document"]["title"] == "First tab"


def test_duplicate_delete_and_bring_back(client: FlaskClient, crates_jpeg: bytes) -> None:
    sheet = new_sheet(client, crates_jpeg)
    copy = client.post(f"/api/sheets/{sheet['id']}/duplicate").get_json()
    assert copy["title"].endswith("(copy)") and copy["id"] != sheet["id"]
    assert client.delete(f"/api/sheets/{sheet['id']}").status_code == 204
    assert client.get(f"/api/sheets/{sheet['id']}").status_code == 404
    assert len(client.get("/api/sheets").get_json()["sheets"]) == 1
    client.post(f"/api/sheets/{sheet['id']}/restore")
    assert len(client.get("/api/sheets").get_json()["sheets"]) == 2


@pytest.mark.parametrize(
    ("body", "place"),
    [
        ({"revision": 1}, "document: missing"),
        ({"revision": 0, "document": {"picture": {"width_px": 1280, "height_px": 960}}}, "revision"),
        ({"revision": 1, "document": {"picture": {"width_px": 12, "height_px": 9}}}, "12 × 9"),
        (
            {
                "revision": 1,
                "document": {
                    "picture": {"width_px": 1280, "height_px": 960},
                    "sightings": [{"kind": "edge", "id": "e", "family": "left", "p": [1], "q": [2, 3]}],
                },
            },
            "document.sightings[0].p: expected two numbers",
        ),
    ],
)
def test_a_faulty_body_is_refused_with_its_place(
    client: FlaskClient, crates_jpeg: bytes, body: dict[str, Any], place: str
) -> None:
    sheet = new_sheet(client, crates_jpeg)
    answer = client.put(f"/api/sheets/{sheet['id']}", json=body)
    assert answer.status_code == 422 and place.lower() in answer.get_json()["detail"].lower()
    assert client.get(f"/api/sheets/{sheet['id']}").get_json()["revision"] == 1


def test_import_reads_a_file_or_says_where_it_fails(client: FlaskClient) -> None:
    good = client.post("/api/sheet-files", data=json.dumps(SHEET))
    assert good.status_code == 200 and len(good.get_json()["sightings"]) == len(SHEET["sightings"])
    bad = client.post("/api/sheet-files", data=b'{"format": "x"}')
    assert bad.status_code == 422 and "format" in bad.get_json()["detail"]


@pytest.mark.parametrize(
    ("kind", "mimetype"),
    [
        ("sighting.json", "application/json"),
        ("report.json", "application/json"),
        ("findings.csv", "text/csv"),
        ("forms.csv", "text/csv"),
        ("overlay.svg", "image/svg+xml"),
    ],
)
def test_exports(client: FlaskClient, crates_jpeg: bytes, kind: str, mimetype: str) -> None:
    sheet = new_sheet(client, crates_jpeg)
    answer = client.get(f"/api/sheets/{sheet['id']}/export/{kind}")
    assert answer.mimetype == mimetype and kind in answer.headers["Content-Disposition"]
    assert client.get(f"/api/sheets/{sheet['id']}/export/secrets").status_code == 404


def test_another_persons_things_are_not_found(app: Flask, client: FlaskClient, crates_jpeg: bytes) -> None:
    sheet = new_sheet(client, crates_jpeg)
    with app.extensions["aspectum"].sessions.begin() as session:
        stranger = Person(name="Somebody else")
        session.add(stranger)
        session.flush()
        session.get(Sheet, sheet["id"]).person_id = stranger.id
        session.get(Picture, sheet["picture"]["id"]).person_id = stranger.id
    for path in (
        f"/api/sheets/{sheet['id']}",
        f"/api/pictures/{sheet['picture']['id']}/view.jpg",
        f"/api/sheets/{sheet['id']}/export/findings.csv",
    ):
        assert client.get(path).status_code == 404
    assert save(client, sheet, 1).status_code == 404


@pytest.mark.parametrize(
    "headers",
    [
        {"Sec-Fetch-Site": "cross-site"},
        {"Sec-Fetch-Site": "same-site"},
        {"Origin": "http://elsewhere.test"},
        {"Origin": "null"},
    ],
)
def test_cross_site_writes_are_refused(client: FlaskClient, headers: dict[str, str]) -> None:
    assert client.post("/api/sheet-files", data=json.dumps(SHEET), headers=headers).status_code == 403


def test_writes_from_the_page_itself_and_foreign_host_names(client: FlaskClient) -> None:
    own = {"Sec-Fetch-Site": "same-origin", "Origin": "http://localhost"}
    assert client.post("/api/sheet-files", data=json.dumps(SHEET), headers=own).status_code == 200
    assert client.get("/api/sheets", headers={"Host": "rebound.test"}).status_code == 421


def test_pages_carry_a_strict_policy(client: FlaskClient) -> None:
    policy = client.get("/api/sheets").headers["Content-Security-Policy"]
    assert "default-src 'none'" in policy and "script-src 'self'" in policy and "unsafe-inline" not in policy


def test_a_full_disk_is_said_and_loses_nothing(
    client: FlaskClient, crates_jpeg: bytes, monkeypatch: pytest.MonkeyPatch
) -> None:
    sheet = new_sheet(client, crates_jpeg)
    from sqlalchemy.exc import OperationalError

    def full(*args: Any) -> None:
        raise OperationalError("UPDATE", {}, sqlite3.OperationalError("database or disk is full"))

    with monkeypatch.context() as patch:
        patch.setattr(sheet_service, "save_sheet", full)
        answer = save(client, sheet, 1, title="Lost?")
        assert answer.status_code == 507 and "still on this page" in answer.get_json()["detail"]
    assert save(client, sheet, 1, title="Kept").status_code == 200


def test_a_data_folder_that_cannot_be_written_is_said_when_a_photo_comes(
    app: Flask, crates_jpeg: bytes, tmp_path: Path
) -> None:
    turns = app.extensions["aspectum"].photos
    kept, turns.folder = turns.folder, tmp_path / "a file" / "turns"
    (tmp_path / "a file").write_text("where the picture folder was")
    client = app.test_client()
    answer = client.post("/api/pictures?name=x.jpg", data=crates_jpeg, content_type="image/jpeg")
    assert answer.status_code == 507 and "cannot be written" in answer.get_json()["detail"]
    turns.folder = kept
    assert client.post("/api/pictures?name=x.jpg", data=crates_jpeg, content_type="image/jpeg").status_code == 200


def test_unknown_addresses_and_methods_are_problems(client: FlaskClient) -> None:
    assert client.get("/api/nothing").status_code == 404
    assert client.patch("/api/sheets").status_code == 405
    assert client.get("/api/sheets/nothing").get_json()["detail"] == "There is no such sheet."


def test_a_sheet_from_life_is_kept_without_a_picture(client: FlaskClient) -> None:
    line = client.post("/api/sheets", json={}).get_json()
    assert line["picture"] is None and line["title"] == "From life"
    full = client.get(f"/api/sheets/{line['id']}").get_json()
    reading = {"id": "lt", "kind": "edge", "family": "left", "tilt_deg": 11.31, "end": "near-top"}
    saved = save(client, full, 1, sightings=[reading]).get_json()
    assert saved["report"]["findings"][0]["words"] == "Nothing on the card checks this reading yet."
    copy = client.post(f"/api/sheets/{line['id']}/duplicate").get_json()
    assert copy["sightings"] == 1 and copy["picture"] is None
    assert client.get(f"/api/sheets/{line['id']}/export/findings.csv").status_code == 200
    assert client.get(f"/api/sheets/{line['id']}/export/overlay.svg").status_code == 404
    laid = save(client, full, 2, picture={"width_px": 10, "height_px": 10})
    assert laid.status_code == 422 and "from life" in laid.get_json()["detail"]
    propose = {"document": full["document"], "form": "form-1", "p": [1, 2], "q": [30, 40]}
    assert client.post("/api/propose", json=propose).status_code == 422
    face = {"document": full["document"], "form": "form-1", "corners": [[1, 2], [30, 2], [30, 40], [1, 40]]}
    assert client.post("/api/propose-face", json=face).status_code == 422


def test_a_sheet_on_a_picture_keeps_its_picture(client: FlaskClient, crates_jpeg: bytes) -> None:
    sheet = new_sheet(client, crates_jpeg)
    refused = save(client, sheet, 1, picture=None)
    assert refused.status_code == 422 and "picture: missing" in refused.get_json()["detail"]


def test_every_route_stands_in_the_openapi_document(app: Flask, client: FlaskClient) -> None:
    described = client.get("/api/docs/openapi.json").get_json()["paths"]
    for rule in app.url_map.iter_rules():
        if rule.rule.startswith("/api/"):
            path = re.sub(r"<(?:\w+(?:\([^)]*\))?:)?(\w+)>", r"{\1}", rule.rule)
            for method in (rule.methods or set()) - {"HEAD", "OPTIONS"}:
                assert method.lower() in described[path], f"{method} {path}"


def laid_on_crates(sheet: dict[str, Any]) -> dict[str, Any]:
    edges = [
        ("left", (412, 310), (130, 371)),
        ("left", (412, 700), (130, 610)),
        ("right", (412, 310), (700, 360)),
        ("upright", (412, 310), (412, 700)),
    ]
    laid = [
        {"id": f"e{k}", "kind": "edge", "form": "form-1", "family": family, "p": p, "q": q}
        for k, (family, p, q) in enumerate(edges)
    ]
    document: dict[str, Any] = sheet["document"] | {"sightings": laid}
    return document


def test_a_probe_says_what_must_run_at_a_place(client: FlaskClient, crates_jpeg: bytes) -> None:
    document = laid_on_crates(new_sheet(client, crates_jpeg))
    found = client.post("/api/probe", json={"document": document, "at": [300, 500]}).get_json()
    left, upright = (next(r for r in found["runs"] if r["family"] == family) for family in ("left", "upright"))
    assert -26 < left["tilt_deg"] < 26 and left["sd_deg"] > 0 and left["lean_deg"] is None
    assert abs(upright["lean_deg"]) < 5
    assert client.post("/api/probe", json={"document": document, "at": [1e9, 0]}).status_code == 422
    life = {"document": {"title": "From life"}, "at": [1, 2]}
    assert client.post("/api/probe", json=life).status_code == 422


def test_a_fan_runs_between_two_edges_of_a_family_and_says_why_where_it_does_not(
    client: FlaskClient, crates_jpeg: bytes
) -> None:
    document = laid_on_crates(new_sheet(client, crates_jpeg))
    found = client.post("/api/fan", json={"document": document, "first": "e0", "second": "e1", "count": 3}).get_json()
    assert len(found["lines"]) == 3 and found["spaced"] == "upright"
    assert found["words"].startswith("Evenly spaced in space along the upright family; their tilts run steadily from ")
    refused = client.post("/api/fan", json={"document": document, "first": "e0", "second": "e2", "count": 3})
    assert refused.status_code == 422 and "one family of one form" in refused.get_json()["detail"]
    nobody = client.post("/api/fan", json={"document": document, "first": "e0", "second": "none", "count": 3})
    assert nobody.status_code == 422 and "second: no edge 'none'" in nobody.get_json()["detail"]
    assert (
        client.post("/api/fan", json={"document": document, "first": "e0", "second": "e1", "count": 900}).status_code
        == 422
    )


def worked_wall(client: FlaskClient, crates_jpeg: bytes) -> dict[str, Any]:
    """The handbook's worked picture with its left wall as a face, the eye 1.60 m above the ground."""
    document = new_sheet(client, crates_jpeg)["document"]
    edges = [{"id": e.id, "kind": "edge", "form": "box", "family": e.family, "p": e.p, "q": e.q} for e in worked.EDGES]
    wall = {
        "id": "wall",
        "kind": "face",
        "form": "box",
        "families": ["left", "upright"],
        "corners": [[150, 625], [400, 700], [400, 200], [150, 250]],
    }
    picture = document["picture"] | {"width_px": 1000, "height_px": 800, "focal_35mm": None, "centre_px": [500, 400]}
    return dict(
        document | {"picture": picture, "forms": [{"id": "box"}], "sightings": [*edges, wall], "eye_height_m": 1.6}
    )


def test_a_construction_comes_step_by_step_in_words_and_lines(client: FlaskClient, crates_jpeg: bytes) -> None:
    document = worked_wall(client, crates_jpeg)
    found = client.post("/api/construct", json={"document": document, "face": "wall", "wanted": "centre"}).get_json()
    middle = next(s for step in found["steps"] for s in step["strokes"] if s["role"] == "division")
    assert middle["p"][0] == pytest.approx(257.1, abs=0.1) and "diagonals" in found["steps"][0]["words"]
    nobody = client.post("/api/construct", json={"document": document, "face": "roof", "wanted": "centre"})
    assert nobody.status_code == 422 and "no face 'roof'" in nobody.get_json()["detail"]
    assert (
        client.post(
            "/api/construct", json={"document": document, "face": "wall", "wanted": "bays", "count": 900}
        ).status_code
        == 422
    )


def test_a_figure_stands_where_there_is_ground(client: FlaskClient, crates_jpeg: bytes) -> None:
    document = worked_wall(client, crates_jpeg)
    found = client.post("/api/figure", json={"document": document, "foot": [700, 700], "height_m": 2.0}).get_json()
    assert found["top"][1] == pytest.approx(325, abs=0.5) and found["cut"] == pytest.approx(0.8)
    aloft = client.post("/api/figure", json={"document": document, "foot": [700, 100], "height_m": 2.0}).get_json()
    assert aloft["top"] is None and "below eye level" in aloft["words"]
    unmeasured = client.post(
        "/api/figure", json={"document": document | {"eye_height_m": None}, "foot": [700, 700], "height_m": 2.0}
    )
    assert unmeasured.status_code == 422 and "eye_height_m: give the eye's height" in unmeasured.get_json()["detail"]


def test_a_guide_and_an_eased_form_answer_or_say_why_not(client: FlaskClient, crates_jpeg: bytes) -> None:
    document = worked_wall(client, crates_jpeg)
    held = client.post("/api/guide", json={"document": document, "along": "plumb", "at_px": 152.0}).get_json()
    assert held["at_px"] == 150.0 and "top-left" in held["words"]
    assert client.post("/api/guide", json={"document": document, "along": "tilt", "at_px": 152.0}).status_code == 422
    eased = client.post("/api/ease", json={"document": document, "form": "box", "times": 3.0}).get_json()
    steep = next(line for line in eased["lines"] if line["id"] == "bottom-left")
    assert abs(steep["eased_tilt_deg"]) < abs(steep["tilt_deg"])
    missing = client.post("/api/ease", json={"document": document, "form": "barn", "times": 3.0})
    assert missing.status_code == 422 and "'barn' is not solved" in missing.get_json()["detail"]
