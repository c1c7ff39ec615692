"""Rims in the open formats, the exports and the command."""

from __future__ import annotations

import copy
import csv
import io
import json
import math
import xml.etree.ElementTree as ET
from collections.abc import Callable
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from click.testing import CliRunner

from aspectum.cli import main
from aspectum.demo.fill import SHEETS
from aspectum.formats.exports import findings_csv, overlay_svg
from aspectum.formats.reading import FormatError
from aspectum.formats.report import Report
from aspectum.formats.schemas import SCHEMAS, schema_text
from aspectum.formats.sheet import SightingSheet, read_sheet, write_sheet
from aspectum.service.sheets.checking import check_sheet

TINS = json.loads((SHEETS / "5-tins.sighting.json").read_text())


def rim_index() -> int:
    return next(i for i, s in enumerate(TINS["sightings"]) if s["kind"] == "rim")


def changed(change: Callable[[dict[str, Any]], object]) -> bytes:
    sheet = copy.deepcopy(TINS)
    change(sheet["sightings"][rim_index()])
    return json.dumps(sheet).encode()


@pytest.fixture(scope="module")
def tins() -> tuple[SightingSheet, Report]:
    sheet = read_sheet(json.dumps(TINS).encode())
    return sheet, check_sheet(sheet, file="tins")


def test_a_rim_is_laid_by_points_or_by_its_major_axis() -> None:
    five = [[600 + 60 * math.cos(a), 500 + 20 * math.sin(a)] for a in (0.2, 0.9, 1.6, 2.3, 2.9)]
    for change in (
        lambda rim: (rim.pop("ends"), rim.pop("near"), rim.update(points=five)),
        lambda rim: rim.update(points=[]),
        lambda rim: rim.pop("near"),
    ):
        sheet = read_sheet(changed(change))
        assert read_sheet(write_sheet(sheet)) == sheet


@pytest.mark.parametrize(
    ("change", "place"),
    [
        (
            lambda rim: (rim.pop("ends"), rim.pop("near"), rim.update(points=[[1, 2]] * 3)),
            ".points: expected at least five on the seen arc",
        ),
        (lambda rim: rim.pop("ends"), ".near: a near point goes with the ends of the major axis"),
        (lambda rim: (rim.pop("near"), rim.update(points=[])), ".near: expected a point on the near arc"),
        (lambda rim: rim.update(ends=[[5, 5], [5, 5]]), ".ends: the two ends of the major axis coincide"),
        (lambda rim: rim.update(plane="tilted"), ".plane: "),
        (lambda rim: rim.update(near=[1]), ".near: expected two numbers"),
        (lambda rim: rim.update(judged_degree_deg=91), ".judged_degree_deg: "),
        (lambda rim: rim.update(points=[[1, 2]] * 501), ".points: "),
    ],
)
def test_a_rim_that_is_none_is_refused_at_its_place(change: Callable[[dict[str, Any]], object], place: str) -> None:
    with pytest.raises(FormatError) as refused:
        read_sheet(changed(change))
    assert str(refused.value).startswith(f"sightings[{rim_index()}]{place}")


def test_the_report_carries_what_the_format_promises_of_rims(tins: tuple[SightingSheet, Report]) -> None:
    sheet, report = tins
    jsonschema.validate(json.loads(report.model_dump_json()), json.loads(schema_text("report")))
    jsonschema.validate(json.loads(write_sheet(sheet)), json.loads(schema_text("sighting-sheet")))
    assert report.eye_level.source == "edges and rims"
    assert report.eye_level.by_edges is not None and report.eye_level.by_rims is not None
    for s, f in zip(sheet.sightings, report.findings, strict=True):
        assert s.id == f.sighting
        if f.kind != "rim":
            continue
        assert (
            f.minor_px is not None
            and f.major_px is not None
            and f.centre_px is not None
            and f.axis_sighted_deg is not None
        )
        assert f.sighted == pytest.approx(math.degrees(math.asin(f.minor_px / f.major_px)))
        assert f.axis_implied_deg is not None and f.rim is not None and f.rim.coverage_deg > 90
    assert (
        "edge" in SCHEMAS["sighting-sheet"].model_json_schema()["$defs"]["EdgeSighting"]["properties"]["kind"].values()
    )


def test_the_badly_laid_base_of_the_demo_sheet_is_named(tins: tuple[SightingSheet, Report]) -> None:
    _, report = tins
    base = next(f for f in report.findings if f.sighting == "red-base")
    assert base.verdict == "off" and base.rule == "base-flatter-than-mouth"
    assert base.words.startswith(
        "Flatter than “red tin, mouth”, yet it lies farther from eye level and must be rounder: open it by 9"
    )
    green = next(f for f in report.findings if f.sighting == "green-base")
    assert "Rounder than “green tin, mouth”, as it must be: it lies farther from eye level." in green.words
    assert base.judged_words == "Judged 10°: 2.5° too round."


def test_findings_as_csv_add_the_columns_of_rims(tins: tuple[SightingSheet, Report]) -> None:
    rows = list(csv.DictReader(io.StringIO(findings_csv(*tins).decode("utf-8-sig"))))
    rim = next(r for r in rows if r["sighting"] == "red-base")
    assert (rim["kind"], rim["family"], rim["unit"], rim["verdict"]) == ("rim", "level", "degrees", "off")
    assert float(rim["minor_px"]) < float(rim["major_px"]) and rim["guide_deg"] == "15.000"
    edge = next(r for r in rows if r["kind"] == "edge")
    assert edge["axis_sighted_deg"] == "" and edge["guide_deg"] == ""


def test_overlay_draws_sighted_and_implied_ellipses_in_their_turn(tins: tuple[SightingSheet, Report]) -> None:
    sheet, report = tins
    drawn = ET.fromstring(overlay_svg(sheet, report, None))
    ellipses = drawn.findall("{http://www.w3.org/2000/svg}ellipse")
    assert len(ellipses) == 3 * sum(f.kind == "rim" for f in report.findings)
    finding = next(f for f in report.findings if f.sighting == "green-mouth")
    assert finding.rim is not None and finding.axis_sighted_deg is not None
    mine = next(
        e for e in ellipses if (e.findtext("{http://www.w3.org/2000/svg}title") or "").startswith("green tin, mouth")
    )
    assert float(mine.get("rx") or 0) == pytest.approx((finding.major_px or 0) / 2, abs=0.01)
    assert (mine.get("transform") or "").startswith(f"rotate({90 - finding.axis_sighted_deg:.3f} ")


def test_command_prints_rims_and_on_request_their_ladders() -> None:
    runner = CliRunner()
    path = str(SHEETS / "5-tins.sighting.json")
    plain = runner.invoke(main, ["check", path])
    assert plain.exit_code == 0 and "edges and rims" in plain.output and "rims of" not in plain.output
    ladders = runner.invoke(main, ["check", "--ladders", path]).output
    assert "rims of red, by height from eye level in units of the near upright:" in ladders and "guide 20°" in ladders


def test_command_and_sheet_may_allow_the_lowest_rim_more(tmp_path: Path) -> None:
    sheet = copy.deepcopy(TINS)
    base = next(s for s in sheet["sightings"] if s["id"] == "green-base")
    (ax, ay), (bx, by) = sorted(base["ends"])  # from the left, so that the near arc lies on the lower side
    ux, uy = (bx - ax) / 2, (by - ay) / 2  # half the major axis; the minor one is drawn 0.62 of it

    def on_arc(a: float) -> list[float]:
        return [
            (ax + bx) / 2 + ux * math.cos(a) - 0.62 * uy * math.sin(a),
            (ay + by) / 2 + uy * math.cos(a) + 0.62 * ux * math.sin(a),
        ]

    base["points"], base["near"] = [on_arc(a) for a in (0.4, 0.8, 1.2, 1.6, 2.0, 2.4, 2.8)], on_arc(math.pi / 2)
    path = tmp_path / "rounder.sighting.json"

    def verdict(*options: str) -> str:
        path.write_text(json.dumps(sheet))
        report = json.loads(CliRunner().invoke(main, ["check", "--json", *options, str(path)]).output)
        return str(next(f["verdict"] for f in report["findings"] if f["sighting"] == "green-base"))

    assert verdict() == "off"
    assert verdict("--lowest-rim", "12") == "holds"
    sheet["lowest_rim_extra_deg"] = 12
    assert verdict() == "holds"
