"""The model stand over the wire: drawn, looked at from a view to begin with, taken as a sheet, built up in steps."""

from __future__ import annotations

import json
from typing import Any

import pytest
from flask.testing import FlaskClient

from tests.formats.test_stand import STANDS, TWO

BOXES: dict[str, Any] = json.loads((STANDS / "1-fish-boxes.stand.json").read_bytes())


def test_a_set_up_is_drawn(client: FlaskClient) -> None:
    found = client.post("/api/stand/drawing", json={"document": TWO}).get_json()
    assert found["format"] == "aspectum-stand-drawing"
    assert len(found["edges"]) == 12 and len(found["rims"]) == 2
    assert len(found["construction"]) == 2 and len(found["construction"][0]["box"]) == 12
    shaded = client.post("/api/stand/drawing", json={"document": TWO | {"sun_deg": [200, 40]}}).get_json()
    assert {line["thing"] for line in shaded["shadows"]} == {"crate", "tin"}


@pytest.mark.parametrize(("preset", "points"), [("one-point", 1), ("two-point", 2), ("three-point", 3), ("bird's-eye", 3)])
def test_views_to_begin_with_have_as_many_vanishing_points_as_they_say(client: FlaskClient, preset: str, points: int) -> None:
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


@pytest.mark.parametrize(
    ("route", "body", "said"),
    [
        ("steps", {"document": BOXES, "thing": "barrel"}, "there is no thing 'barrel'"),
        ("view", {"document": BOXES | {"things": []}, "preset": "normal"}, "nothing is set up yet"),
        ("view", {"document": BOXES, "preset": "sideways"}, "preset"),
        ("drawing", {"document": BOXES | {"things": [{"id": "a", "kind": "box", "size_m": [1, 1, 0]}]}}, "things[0]"),
        ("drawing", {"document": TWO | {"things": [{"id": "a", "kind": "box", "size_m": [1, 1, 1], "on": "a"}]}}, "in a circle"),
    ],
)
def test_what_cannot_be_is_said_with_its_place(client: FlaskClient, route: str, body: dict[str, Any], said: str) -> None:
    answer = client.post(f"/api/stand/{route}", json=body)
    assert answer.status_code == 422
    assert said in json.dumps(answer.get_json())
