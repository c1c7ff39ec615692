"""The model stand over the wire: drawn, looked at from a view to begin with, taken as a sheet, built up in steps."""

from __future__ import annotations

import json
import urllib.request
from typing import Any

import pytest
from flask.testing import FlaskClient

from aspectum.core.plane.lines import tilt_deg
from tests.conftest import Served
from tests.formats.test_stand import STANDS, TWO
from tests.web.test_api import upload

BOXES: dict[str, Any] = json.loads((STANDS / "1-fish-boxes.stand.json").read_bytes())


def test_a_set_up_is_drawn(client: FlaskClient) -> None:
    found = client.post("/api/stand/drawing", json={"document": TWO}).get_json()
    assert found["format"] == "aspectum-stand-drawing"
    assert len(found["edges"]) == 12 and len(found["rims"]) == 2
    assert len(found["construction"]) == 2 and len(found["construction"][0]["box"]) == 12
    shaded = client.post("/api/stand/drawing", json={"document": TWO | {"sun_deg": [200, 40]}}).get_json()
    assert {line["thing"] for line in shaded["shadows"]} == {"crate", "tin"}


@pytest.mark.parametrize(
    ("preset", "points"), [("one-point", 1), ("two-point", 2), ("three-point", 3), ("bird's-eye", 3)]
)
def test_views_to_begin_with_have_as_many_vanishing_points_as_they_say(
    client: FlaskClient, preset: str, points: int
) -> None:
    view = client.post("/api/stand/view", json={"document": BOXES, "preset": preset}).get_json()
    drawing = client.post("/api/stand/drawing", json={"document": BOXES | {"view": view}}).get_json()
    assert sum(vp["x_px"] is not None for vp in drawing["vanishing_points"] if vp["thing"] == "box-1") == points
    ends = [point for edge in drawing["edges"] for point in (edge["p"], edge["q"])]
    assert all(0 < x < 1280 and 0 < y < 960 for x, y in ends)


def test_a_view_taken_as_a_sheet_can_be_kept_and_checked(client: FlaskClient) -> None:
    sheet = client.post("/api/stand/sheet", json={"document": BOXES}).get_json()
    report = client.post("/api/check", json={"document": sheet}).get_json()
    assert {finding["verdict"] for finding in report["findings"]} == {"holds"}


def test_steps_say_what_they_draw_and_why(client: FlaskClient) -> None:
    found = client.post("/api/stand/steps", json={"document": BOXES, "thing": "box-2"}).get_json()
    assert found["name"] == "Middle box"
    assert [step["title"] for step in found["steps"]][:2] == ["Eye level and vanishing points", "The enclosing box"]
    cart = json.loads((STANDS / "5-hand-cart.stand.json").read_bytes())
    wheels = client.post("/api/stand/steps", json={"document": cart, "thing": cart["things"][0]["id"]}).get_json()[
        "steps"
    ]
    assert "along the axle" in next(step["words"] for step in wheels if step["stage"] == "standing-rims")


@pytest.mark.parametrize(
    ("route", "body", "said"),
    [
        ("steps", {"document": BOXES, "thing": "barrel"}, "there is no thing 'barrel'"),
        ("view", {"document": BOXES | {"things": []}, "preset": "normal"}, "nothing is set up yet"),
        ("view", {"document": BOXES, "preset": "sideways"}, "preset"),
        ("drawing", {"document": BOXES | {"things": [{"id": "a", "kind": "box", "size_m": [1, 1, 0]}]}}, "things[0]"),
        (
            "drawing",
            {"document": TWO | {"things": [{"id": "a", "kind": "box", "size_m": [1, 1, 1], "on": "a"}]}},
            "in a circle",
        ),
    ],
)
def test_what_cannot_be_is_said_with_its_place(
    client: FlaskClient, route: str, body: dict[str, Any], said: str
) -> None:
    answer = client.post(f"/api/stand/{route}", json=body)
    assert answer.status_code == 422
    assert said in json.dumps(answer.get_json())


def test_set_ups_are_made_saved_copied_put_aside_and_brought_back(client: FlaskClient) -> None:
    first = client.post("/api/stands", json={}).get_json()
    assert first["title"] == "On the stand" and first["things"] == 1
    made = client.post("/api/stands", json={"document": BOXES}).get_json()
    assert [line["id"] for line in client.get("/api/stands").get_json()["stands"]] == [made["id"], first["id"]]
    full = client.get(f"/api/stands/{made['id']}").get_json()
    assert len(full["drawing"]["edges"]) == 48 and full["revision"] == 1
    saved = client.put(
        f"/api/stands/{made['id']}", json={"revision": 1, "document": full["document"] | {"title": "Boxes"}}
    ).get_json()
    assert saved["revision"] == 2
    copied = client.post(f"/api/stands/{made['id']}/duplicate").get_json()
    assert copied["title"] == "Boxes (copy)"
    assert client.delete(f"/api/stands/{made['id']}").status_code == 204
    assert client.get(f"/api/stands/{made['id']}").status_code == 404
    assert client.post(f"/api/stands/{made['id']}/restore").get_json()["title"] == "Boxes"


def test_two_tabs_do_not_overwrite_each_other_and_a_save_sent_twice_is_answered_as_the_first(
    client: FlaskClient,
) -> None:
    path = f"/api/stands/{client.post('/api/stands', json={'document': TWO}).get_json()['id']}"
    body = {"revision": 1, "document": TWO | {"title": "A"}, "save": "mark-of-a"}
    assert client.put(path, json=body).get_json()["revision"] == 2
    assert client.put(path, json=body).get_json()["revision"] == 2
    other = client.put(path, json={"revision": 1, "document": TWO | {"title": "B"}, "save": "mark-of-b"})
    assert other.status_code == 409
    assert (
        client.put(
            path,
            json={"revision": 1, "document": TWO | {"title": "B"}, "save": "mark-of-b", "unanswered": ["mark-of-a"]},
        ).get_json()["revision"]
        == 3
    )


def test_a_set_up_that_cannot_be_is_not_saved_over_one_that_can(client: FlaskClient) -> None:
    path = f"/api/stands/{client.post('/api/stands', json={'document': TWO}).get_json()['id']}"
    broken = {"id": "a", "kind": "tube", "radius_m": 0.1, "height_m": 0.2, "wall_m": 0.1}
    assert client.put(path, json={"revision": 1, "document": TWO | {"things": [broken]}}).status_code == 422
    assert client.post("/api/stands", json={"document": TWO | {"things": [broken]}}).status_code == 422
    assert client.get(path).get_json()["document"]["title"] == TWO["title"]


def test_the_demo_has_the_stands_of_the_harbour_class(served: Served) -> None:
    with urllib.request.urlopen(f"{served.url}/api/stands") as answer:
        titles = [line["title"] for line in json.load(answer)["stands"]]
    assert titles[0] == "Stacked fish boxes" and len(titles) == 9


def test_a_sheet_drawn_from_a_view_keeps_its_truth_and_tells_it_beside_what_is_implied(
    client: FlaskClient, crates_jpeg: bytes
) -> None:
    stand = client.post("/api/stands", json={"document": TWO}).get_json()["id"]
    picture = upload(client, crates_jpeg).get_json()["id"]
    line = client.post(f"/api/stands/{stand}/sheet", json={"picture_id": picture}).get_json()
    sheet = client.get(f"/api/sheets/{line['id']}").get_json()
    document = sheet["document"]
    assert [form["id"] for form in document["forms"]] == ["crate", "tin"] and document["sightings"] == []
    assert document["picture"]["focal_35mm"] == 35.0
    # a student's hand: every edge some pixels off, each end its own way; the truth is the set-up's own
    drawing = client.post("/api/stand/drawing", json={"document": TWO}).get_json()
    shown = [edge for edge in drawing["edges"] if edge["visible"]]
    laid = [
        {
            "id": f"e{k}",
            "kind": "edge",
            "form": "crate",
            "family": e["family"],
            "p": [e["p"][0] + 3, e["p"][1] - 4],
            "q": [e["q"][0] - 2, e["q"][1] + 5],
        }
        for k, e in enumerate(shown)
    ]
    rim = next(r for r in drawing["rims"] if r["name"] == "top")
    (x, y), a, b = rim["centre_px"], rim["major_px"] / 2, rim["minor_px"] / 2 + 3
    laid.append(
        {"id": "r", "kind": "rim", "form": "tin", "ends": [[x - a, y], [x + a, y]], "near": [x, y + b], "points": []}
    )
    laid.append({"id": "stray", "kind": "edge", "form": "crate", "family": "left", "p": [1200, 50], "q": [1100, 90]})
    report = client.post("/api/check", json={"document": document | {"sightings": laid}}).get_json()
    findings = {f["sighting"]: f for f in report["findings"]}
    for k, edge in enumerate(shown):
        (px, py), (qx, qy) = edge["p"], edge["q"]
        tilt = float(tilt_deg((px, py), (qx, qy)))
        assert findings[f"e{k}"]["true"] == pytest.approx(tilt)
        assert (findings[f"e{k}"]["true_lean_deg"] is None) == (edge["family"] != "upright")
    assert findings["r"]["true"] == pytest.approx(rim["degree_deg"])
    assert findings["stray"]["true"] is None
    plain = client.post("/api/check", json={"document": document | {"sightings": laid, "stand": None}}).get_json()
    assert all(f["true"] is None for f in plain["findings"])


def test_a_picture_of_other_proportions_is_not_the_view(client: FlaskClient, crates_jpeg: bytes) -> None:
    narrow = TWO | {"view": TWO["view"] | {"width_px": 800, "height_px": 1200}}
    stand = client.post("/api/stands", json={"document": narrow}).get_json()["id"]
    picture = upload(client, crates_jpeg).get_json()["id"]
    answer = client.post(f"/api/stands/{stand}/sheet", json={"picture_id": picture})
    assert answer.status_code == 422 and "800 by 1200" in json.dumps(answer.get_json())
