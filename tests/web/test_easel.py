"""From life and the plan over the wire."""

from __future__ import annotations

import io
from typing import Any

import pypdf
import pytest
from flask.testing import FlaskClient

from aspectum.core.life.thumb import ARM_MM
from tests.web.test_api import upload

ENDS = {"left": ((11.31, "near-top"), (-16.7, "near-bottom")), "right": ((-14.04, "near-top"), (20.56, "near-bottom"))}
READ: list[dict[str, Any]] = [
    {
        "id": f"{side}-{end}",
        "kind": "edge",
        "form": "box",
        "family": side,
        "tilt_deg": tilt,
        "end": end,
        "judged_tilt_deg": round(tilt) - 2.0,
    }
    for side, two in ENDS.items()
    for tilt, end in two
]
SHEET: dict[str, Any] = {"title": "Boxes", "forms": [{"id": "box"}], "sightings": READ}


def made(client: FlaskClient, document: dict[str, Any] | None = None) -> str:
    answer = client.post("/api/sheets", json={} if document is None else {"document": document})
    assert answer.status_code == 200, answer.get_json()
    return str(answer.get_json()["id"])


def test_a_sheet_begins_from_life_with_a_corner_to_read(client: FlaskClient) -> None:
    full = client.get(f"/api/sheets/{made(client)}").get_json()
    assert full["picture"] is None and full["document"]["title"] == "From life"
    assert [slot["words"] for slot in full["report"]["schematic"]["slots"][:2]] == [
        "top edge, left",
        "bottom edge, left",
    ]


def test_readings_are_judged_by_the_card_and_recorded_by_skill(client: FlaskClient) -> None:
    rim = {"id": "r", "kind": "rim", "form": "tin", "ratio": 0.3, "down": 1.0, "judged_degree_deg": 12.0}
    told = {
        "id": "a",
        "kind": "alignment",
        "along": "plumb",
        "first": "the post",
        "second": "the door",
        "beside": 0.4,
        "judged_beside": 0.1,
    }
    document = SHEET | {
        "forms": [{"id": "box"}, {"id": "tin", "kind": "cylinder"}],
        "sightings": [*READ, rim, told],
        "stick": {"unit_mm": 200.0},
    }
    full = client.get(f"/api/sheets/{made(client, document)}").get_json()
    report = full["report"]
    assert report["near_corner"]["left"]["distance_units"] == pytest.approx(2.0, abs=0.01)
    findings = {f["sighting"]: f for f in report["findings"]}
    assert findings["r"]["from_life"]["looking_deg"] == pytest.approx(16.7, abs=0.1) and findings["r"][
        "sighted"
    ] == pytest.approx(17.46, abs=0.1)
    assert findings["a"]["judged_by"] == "0.30 units too far left"
    assert "The post stands 0.40 units right of the plumb line through the door." in findings["a"]["words"]
    assert report["thumb"]["subtends_deg"] == pytest.approx(18.92, abs=0.01)


def test_repeats_are_averaged_and_one_that_strays_is_named(client: FlaskClient) -> None:
    again = [READ[0] | {"repeats_deg": [10.9, 29.0, 12.0]}, *READ[1:]]
    report = client.post("/api/check", json={"document": SHEET | {"sightings": again}}).get_json()
    found = report["findings"][0]
    assert found["sighted"] == pytest.approx(11.4, abs=0.01) and found["from_life"]["strays"] == [2]
    assert "+29.0° strays from the others and is left out." in found["words"]


def test_a_photo_that_comes_later_keeps_the_readings_and_is_compared_with_them(
    client: FlaskClient, crates_jpeg: bytes
) -> None:
    picture_id = upload(client, crates_jpeg).get_json()["id"]
    sheet = made(client, SHEET)
    revision = client.get(f"/api/sheets/{sheet}").get_json()["revision"]
    assert (
        client.put(
            f"/api/sheets/{sheet}/picture", json={"picture_id": picture_id, "revision": revision + 5}
        ).status_code
        == 409
    )
    assert (
        client.put(f"/api/sheets/{sheet}/picture", json={"picture_id": picture_id, "revision": revision}).status_code
        == 200
    )
    full = client.get(f"/api/sheets/{sheet}").get_json()
    assert full["picture"]["id"] == picture_id and full["report"]["near_corner"]["agree"] is True
    again = client.put(f"/api/sheets/{sheet}/picture", json={"picture_id": picture_id, "revision": full["revision"]})
    assert again.status_code == 422 and "has one already" in again.get_json()["detail"]
    document = full["document"]
    laid = {
        "left-near-top": ([400, 200], [150, 250]),
        "left-near-bottom": ([400, 700], [150, 625]),
        "right-near-top": ([400, 200], [650, 340]),
    }
    for s in document["sightings"]:
        if s["id"] in laid:
            s["p"], s["q"] = laid[s["id"]]
    report = client.post("/api/check", json={"document": document}).get_json()
    found = {f["sighting"]: f["from_life"] for f in report["findings"]}
    assert (
        found["left-near-top"]["photo_gap_deg"] == pytest.approx(0.0, abs=0.05)
        and found["left-near-top"]["photo_verdict"] == "holds"
    )
    assert found["right-near-top"]["photo_verdict"] == "off" and "off the photo" in found["right-near-top"]["words"]


def test_gauge_and_thumb_answer_and_refuse_nonsense(client: FlaskClient) -> None:
    held = client.post("/api/gauge", json={"samples_deg": [12.0, 12.4, 11.8, 12.1, 40.0], "offset_deg": 1.0}).get_json()
    assert held["tilt_deg"] == pytest.approx(11.1) and held["still"]
    found = client.post("/api/gauge", json={"samples_deg": [2.5] * 6, "turned_deg": [-0.9] * 6}).get_json()
    assert found["offset_deg"] == pytest.approx(0.8)
    assert client.post("/api/gauge", json={"samples_deg": [1.0]}).status_code == 422
    told = client.post("/api/thumb", json={"mark_mm": 90.0, "unit_mm": 180.0, "height_m": 3.0}).get_json()
    assert told["units"]["value"] == 0.5 and told["away_m"]["value"] == pytest.approx(3.0 * ARM_MM / 90)
    assert client.post("/api/thumb", json={"mark_mm": -1}).status_code == 422


def test_the_arm_is_measured_once_per_person(client: FlaskClient) -> None:
    first = client.get("/api/easel").get_json()
    assert first["arm_mm"] is None and first["usual_arm_mm"] == 600.0 and len(first["cautions"]) == 2
    assert client.put("/api/easel/arm", json={"arm_mm": 572.0}).get_json()["arm_mm"] == 572.0
    assert client.get("/api/easel").get_json()["arm_mm"] == 572.0
    assert client.put("/api/easel/arm", json={"arm_mm": 3.0}).status_code == 422


def test_a_plan_is_made_of_any_sheet_and_says_what_is_missing(client: FlaskClient) -> None:
    plan = client.post("/api/plan", json={"document": SHEET | {"plan": {"paper_mm": [297, 420]}}}).get_json()
    assert plan["format"] == "aspectum-plan" and plan["paper_mm"] == [297, 420] and plan["scale_mm_per_unit"] > 0
    assert "No width was compared" in plan["notes"][0]
    empty = client.post("/api/plan", json={"document": {"forms": [{"id": "box"}]}})
    assert empty.status_code == 422 and "read the top and the bottom edge" in empty.get_json()["detail"]
    crowded = client.post("/api/plan", json={"document": SHEET | {"plan": {"paper_mm": [100, 100], "margin_mm": 60}}})
    assert crowded.status_code == 422 and "narrower" in crowded.get_json()["detail"]


def test_plans_are_downloaded_true_to_size(client: FlaskClient) -> None:
    sheet = made(client, SHEET)
    answer = client.get(f"/api/sheets/{sheet}/plan.pdf?printer=A4")
    assert answer.mimetype == "application/pdf" and len(pypdf.PdfReader(io.BytesIO(answer.data)).pages) >= 5
    assert client.get(f"/api/sheets/{sheet}/plan.svg").data.startswith(b"<svg")
    assert client.get(f"/api/sheets/{sheet}/plan.json").get_json()["format"] == "aspectum-plan"
    assert client.get(f"/api/sheets/{sheet}/plan.doc").status_code == 404
    assert client.get(f"/api/sheets/{sheet}/plan.pdf?printer=B7").status_code == 422


def test_the_tolerances_of_the_schools_come_from_the_rules(client: FlaskClient) -> None:
    """Handbook section 6: freehand to 3°, 8 % and 5°; ruled to 1°, 3 % and 3°. No screen knows them by itself."""
    schools = client.get("/api/easel").get_json()["schools"]
    assert schools == {
        "freehand": {"tilt_deg": 3.0, "length_percent": 8.0, "degree_deg": 5.0},
        "ruled": {"tilt_deg": 1.0, "length_percent": 3.0, "degree_deg": 3.0},
    }
