"""The logbook over the API, its files, and timed drawings."""

from __future__ import annotations

import io
from datetime import UTC, datetime, timedelta
from typing import Any

import numpy as np
import pytest
from flask.testing import FlaskClient
from pypdf import PdfReader

from aspectum.core.practice.skills import KINDS, Skill
from aspectum.formats.logbook import LogRow, read_logbook, write_logbook

NOW = datetime.now(UTC).replace(microsecond=0)


def csv(skill: Skill, errors: list[float], days: list[float]) -> bytes:
    truth = 20.0
    rows = [
        LogRow(NOW - timedelta(days=day), "Mara", skill, "practice", f"question {k + 1}", truth + e, truth, None, 5.0)
        for k, (e, day) in enumerate(zip(errors, days, strict=True))
    ]
    return write_logbook(rows)


def bring(client: FlaskClient, data: bytes, media: str = "text/csv") -> Any:
    return client.post("/api/logbook/readings", data=data, content_type=media)


def test_an_empty_logbook_says_so_everywhere(client: FlaskClient) -> None:
    found = client.get("/api/logbook").get_json()
    assert found == {"skills": [], "weakest": None, "notes": [], "readings": 0}
    assert read_logbook(client.get("/api/logbook/logbook.csv").data) == []
    assert (
        "No readings yet" in PdfReader(io.BytesIO(client.get("/api/logbook/logbook.pdf").data)).pages[0].extract_text()
    )


def test_a_bias_of_four_degrees_is_known_to_one_and_a_half_after_thirty_readings_and_the_sentence_says_so(
    client: FlaskClient,
) -> None:
    errors = np.random.default_rng(6).normal(0.0, 1.0, 30)
    errors = -4.0 + 4.0 * (errors - errors.mean()) / errors.std(ddof=1)
    assert bring(client, csv(Skill.LOWER_RIM, errors.tolist(), [0.5] * 30)).get_json() == {"added": 30, "there": 0}
    (row,) = client.get("/api/logbook").get_json()["skills"]
    assert row["whole"]["bias"]["value"] == pytest.approx(-4.0) and row["whole"]["bias"]["high"] == pytest.approx(
        -2.51, abs=0.01
    )
    assert row["words"] == "Your lower rims run 4° too flat (n = 30, ±1.5)."


def test_a_bias_that_fell_is_told_since_its_month_with_what_was_a_month_ago(client: FlaskClient) -> None:
    days = np.linspace(80.0, 0.5, 60)
    errors = 2.0 + 4.0 * days / 80.0 + np.random.default_rng(7).normal(0.0, 1.0, 60)
    bring(client, csv(Skill.LEFT_BELOW, errors.tolist(), days.tolist()))
    (row,) = client.get("/api/logbook").get_json()["skills"]
    month = (NOW - timedelta(days=80)).strftime("%B")
    assert (
        row["trend"]["sure"]
        and row["trend"]["better"]
        and row["trend_words"].startswith("Bias fell from ")
        and row["trend_words"].endswith(f"since {month}.")
    )
    assert row["month_ago"]["bias"]["value"] > row["recent"]["bias"]["value"] + 1.0 and row["month_ago"]["n"] < 60
    chart = client.get("/api/logbook/chart?skill=left%20edge%20below").get_json()
    assert (
        len(chart["readings"]) == 60
        and sum(week["n"] for week in chart["weeks"]) == 60
        and 11 <= len(chart["weeks"]) <= 13
    )


def test_under_five_readings_nothing_is_said(client: FlaskClient) -> None:
    bring(client, csv(Skill.WHEEL, [9.0, 9.0, 9.0, 9.0], [1.0] * 4))
    found = client.get("/api/logbook").get_json()
    assert (
        found["weakest"] is None
        and found["skills"][0]["words"] == ""
        and found["skills"][0]["whole"] == {"n": 4, "bias": None, "spread": None}
    )


def test_what_is_exported_comes_in_again_without_being_doubled(demo: FlaskClient) -> None:
    exported = demo.get("/api/logbook/logbook.csv")
    assert exported.mimetype == "text/csv" and "logbook.csv" in exported.headers["Content-Disposition"]
    rows = read_logbook(exported.data)
    before = demo.get("/api/logbook").get_json()
    assert len(rows) == before["readings"] > 400  # eight weeks, and what was judged and drawn on the demo's sheets
    assert {r.source for r in rows} == {"judgement", "critique", "practice"}
    assert bring(demo, exported.data).get_json() == {"added": 0, "there": len(rows)}
    assert demo.get("/api/logbook").get_json() == before


def test_the_demo_student_has_a_weakness_a_trend_and_notes(demo: FlaskClient) -> None:
    found = demo.get("/api/logbook").get_json()
    rows = {row["skill"]: row for row in found["skills"]}
    assert (
        found["weakest"] == "middle of a side"
        and rows["lower rim"]["trend"]["better"]
        and "fell" in rows["lower rim"]["trend_words"]
    )
    assert {note["title"] for note in found["notes"]} >= {"Fish boxes on the slipway"}
    page = PdfReader(io.BytesIO(demo.get("/api/logbook/logbook.pdf").data))
    text = page.pages[0].extract_text()
    assert len(page.pages) == 1 and "Lower rims" in text and "Lettering round a form" in text and "Next time" in text


@pytest.mark.parametrize(
    ("data", "media", "status"),
    [
        (b"nonsense", "text/csv", 422),
        (b"\xff\xfe", "text/csv", 422),
        (csv(Skill.WHEEL, [1.0], [1.0]).replace(b"wheel", b"whistle"), "text/csv", 422),
        (b"{}", "application/json", 415),
        (b"x" * 9_000_000, "text/csv", 413),
    ],
)
def test_a_file_that_is_no_logbook_changes_nothing(client: FlaskClient, data: bytes, media: str, status: int) -> None:
    answer = bring(client, data, media)
    assert answer.status_code == status and answer.get_json()["detail"]
    assert client.get("/api/logbook").get_json()["readings"] == 0


def test_a_fault_half_way_down_a_file_brings_nothing_in(client: FlaskClient) -> None:
    good = csv(Skill.WHEEL, [1.0] * 40, [1.0] * 40)
    assert bring(client, good[: len(good) // 2]).status_code == 422  # truncated
    assert client.get("/api/logbook").get_json()["readings"] == 0


def test_readings_are_paged_the_last_first(client: FlaskClient) -> None:
    bring(client, csv(Skill.WHEEL, [float(k) for k in range(120)], [120.0 - k for k in range(120)]))
    first, last = (client.get(f"/api/logbook/readings?skill=wheel&page={page}").get_json() for page in (0, 2))
    assert (first["count"], first["pages"], len(first["readings"]), len(last["readings"])) == (120, 3, 50, 20)
    assert first["readings"][0]["error"] == pytest.approx(119.0) and last["readings"][-1]["error"] == pytest.approx(0.0)
    assert client.get("/api/logbook/readings?skill=whistling&page=0").status_code == 422


def test_every_unit_is_told_on_the_page(client: FlaskClient) -> None:
    for skill in Skill:
        bring(client, csv(skill, [1.0, 2.0, 3.0, 2.5, 1.5], [9.0, 7.0, 5.0, 3.0, 1.0]))
    page = PdfReader(io.BytesIO(client.get("/api/logbook/logbook.pdf").data))
    assert len(page.pages) == 1 and len(KINDS) == len(client.get("/api/logbook").get_json()["skills"])


def test_a_timed_drawing_runs_its_phases_and_its_notes_come_back(client: FlaskClient) -> None:
    assert client.get("/api/timed").get_json()["watch"] is None
    made = client.post("/api/timed", json={"title": "Oil lamps", "minutes": 30}).get_json()
    assert [p["phase"] for p in made["phases"]] == ["block-in", "forms", "tone"] and made["phases"][0][
        "ends_s"
    ] == pytest.approx(600.0)
    path = f"/api/timed/{made['id']}"
    kept = client.put(path, json={"ended_s": [724.0], "drawn_s": 900.0, "paused_s": 61.0}).get_json()
    assert kept["drawn_s"] == 900.0 and kept["finished_at"] is None
    assert kept["kept"][0]["words"].startswith("Block-in took 12:04 and ended 2:04 late.")
    client.put(path, json={"ended_s": [724.0, 1500.0, 1795.0], "drawn_s": 1795.0, "paused_s": 61.0, "finished": True})
    noted = client.put(
        f"{path}/notes", json={"holds": "The rims stand on their axes.", "next_time": ["Eye level first.", " "]}
    ).get_json()
    assert (
        noted["next_time"] == ["Eye level first."] and noted["kept"][2]["words"] == "Tone took 4:55 and ended on time."
    )
    found = client.get("/api/timed").get_json()
    assert found["watch"]["id"] == made["id"] and found["timed"][0]["holds"] == "The rims stand on their axes."
    assert client.get("/api/logbook").get_json()["notes"][0]["title"] == "Oil lamps"


def test_a_timed_drawing_is_of_a_sheet_or_a_set_up(demo: FlaskClient) -> None:
    sheet = demo.get("/api/sheets").get_json()["sheets"][0]
    stand = demo.get("/api/stands").get_json()["stands"][0]
    for name, one in (("sheet_id", sheet), ("stand_id", stand)):
        made = demo.post("/api/timed", json={"minutes": 20, name: one["id"]}).get_json()
        assert made["title"] == one["title"] and made[name] == one["id"]
    assert demo.post("/api/timed", json={"minutes": 20, "sheet_id": "none"}).status_code == 404


@pytest.mark.parametrize(
    "body",
    [{"minutes": 0}, {"minutes": 1e9}, {"minutes": 30, "shares": [0, 0, 0]}, {"minutes": 30, "shares": [1, 1]}, {}],
)
def test_a_timed_drawing_that_cannot_be_is_refused(client: FlaskClient, body: dict[str, Any]) -> None:
    assert client.post("/api/timed", json=body).status_code == 422


def test_phases_that_go_back_are_refused_and_nothing_is_lost(client: FlaskClient) -> None:
    made = client.post("/api/timed", json={"minutes": 10}).get_json()
    path = f"/api/timed/{made['id']}"
    client.put(path, json={"ended_s": [200.0], "drawn_s": 210.0, "paused_s": 0.0})
    refused = client.put(path, json={"ended_s": [200.0, 100.0], "drawn_s": 300.0, "paused_s": 0.0})
    assert refused.status_code == 422 and client.get(path).get_json()["ended_s"] == [200.0]
