"""The open format: what it accepts, how it refuses, and that nothing is half-read."""

from __future__ import annotations

import copy
import csv
import io
import json
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from click.testing import CliRunner

from aspectum.cli import main
from aspectum.core.sightings import Family
from aspectum.formats.exports import findings_csv, forms_csv, overlay_svg
from aspectum.formats.reading import FormatError
from aspectum.formats.schemas import SCHEMAS, schema_text
from aspectum.formats.sheet import read_sheet, write_sheet
from aspectum.service.paper.critique import judge_drawing
from aspectum.service.paper.plan import plan_sheet
from aspectum.service.sheets.checking import check_sheet
from tests.worked import EDGES

SHEET: dict[str, Any] = {
    "format": "aspectum-sighting-sheet",
    "version": 1,
    "title": "Worked picture",
    "picture": {"width_px": 1000, "height_px": 800, "file": "worked.jpg", "centre_px": [500, 400]},
    "forms": [{"id": "box", "kind": "box", "name": "Box"}],
    "sightings": [
        *(
            {
                "id": e.id,
                "kind": "edge",
                "form": e.form,
                "family": e.family.value,
                "p": list(e.p),
                "q": list(e.q),
                "judged_tilt_deg": 14.0,
            }
            for e in EDGES
        ),
        {
            "id": "r1",
            "kind": "rim",
            "form": "box",
            "plane": "level",
            "points": [[700, 520], [712, 541], [740, 552], [760, 550], [770, 540]],
        },
        {"id": "m1", "kind": "length", "p": [400, 200], "q": [400, 700], "along": "upright", "unit": True},
        {"id": "m2", "kind": "length", "p": [150, 250], "q": [400, 200], "along": "across", "judged_ratio": 0.9},
        {"id": "a1", "kind": "alignment", "along": "plumb", "p": [700, 100], "q": [702, 400]},
    ],
}


def encoded(change: Callable[[dict[str, Any]], object] = lambda sheet: None) -> bytes:
    sheet = copy.deepcopy(SHEET)
    change(sheet)
    return json.dumps(sheet).encode()


def test_a_sheet_reads_back_as_it_was_written() -> None:
    sheet = read_sheet(encoded())
    assert read_sheet(write_sheet(sheet)) == sheet
    assert sheet.point_sd_px == 1.5 and sheet.perspective == "auto"  # the format's defaults


@pytest.mark.parametrize(
    ("change", "place"),
    [
        (lambda s: s["sightings"][3].update(p=[1]), "sightings[3].p: expected two numbers"),
        (lambda s: s["sightings"][3].update(p=["a", "b"]), "sightings[3].p: expected two numbers"),
        (lambda s: s["sightings"][3].update(q=[1, float("inf")]), "sightings[3].q: expected two numbers within"),
        (lambda s: s["sightings"][0].pop("p"), "sightings[0].p: an edge needs two points"),
        (lambda s: s["sightings"][0].update(q=s["sightings"][0]["p"]), "sightings[0].q: the edge's two ends coincide"),
        (
            lambda s: s["sightings"][0].update(kind="circle"),
            "sightings[0].kind: expected edge, rim, length, alignment, face, division or height",
        ),
        (lambda s: s["sightings"][0].update(family="up"), "sightings[0].family: "),
        (lambda s: s["sightings"][0].update(id="r1"), "sightings[7].id: 'r1' is taken"),
        (lambda s: s["sightings"][0].update(form="barn"), "sightings[0].form: no form 'barn'"),
        (lambda s: s["sightings"][7].update(points=[[1, 2]]), "sightings[7].points: "),
        (lambda s: s["sightings"][9].update(unit=True), "sightings[9].unit: a sheet has one unit"),
        (lambda s: s["picture"].update(width_px=-3), "picture.width_px: "),
        (lambda s: s.update(stick={"unit_mm": 5e-324}), "stick.unit_mm: Input should be greater than or equal to 1"),
        (
            lambda s: s["sightings"][0].update(sd_deg=5e-324),
            "sightings[0].sd_deg: Input should be greater than or equal to",
        ),
        (lambda s: s["picture"].pop("height_px"), "picture.height_px: missing"),
        (lambda s: s.update(colour="red"), "colour: unknown entry"),
        (lambda s: s.update(format="other"), "format: expected 'aspectum-sighting-sheet'"),
        (lambda s: s.update(version=2), "version: this Aspectum reads version 1"),
        (lambda s: s["sightings"][0].update(tilt_deg=5.0), "sightings[0]: a tilt read from life names its end"),
        (
            lambda s: s["sightings"][0].update(repeats_deg=[5.0]),
            "sightings[0].repeats_deg: a tilt that is read again has a tilt_deg",
        ),
        (lambda s: s["sightings"][7].update(ratio=0.3), "sightings[7]: a rim is either laid or read from life"),
        (lambda s: s["sightings"][9].update(ratio=0.3), "sightings[9]: a length has either two points or a ratio"),
        (lambda s: s["sightings"][9].update(ratio=0.5), "either two points or a ratio"),
        (lambda s: s["sightings"][9].pop("q"), "sightings[9].q: a length needs two points"),
    ],
)
def test_what_does_not_fit_is_refused_in_one_line_that_names_the_place(
    change: Callable[[dict[str, Any]], object], place: str
) -> None:
    with pytest.raises(FormatError) as caught:
        read_sheet(encoded(change))
    assert place in str(caught.value)
    assert "\n" not in str(caught.value)


@pytest.mark.parametrize(
    "data",
    [
        b"",
        b"[]",
        b"{",
        b"\xff\xfe\x00",
        b"null",
        b'{"format":1}',
        b"[" * 5000,
        b'"' + b"x" * 9_000_000 + b'"',
        b"1" * 6000,
    ],
)
def test_hostile_files_get_a_clear_refusal(data: bytes) -> None:
    with pytest.raises(FormatError):
        read_sheet(data)


def test_sheet_and_report_fit_the_published_schemas() -> None:
    sheet = read_sheet(encoded())
    jsonschema.validate(SHEET, json.loads(schema_text("sighting-sheet")))
    jsonschema.validate(json.loads(check_sheet(sheet).model_dump_json()), json.loads(schema_text("report")))
    jsonschema.validate(json.loads(judge_drawing(sheet, sheet).model_dump_json()), json.loads(schema_text("critique")))
    jsonschema.validate(json.loads(plan_sheet(sheet).model_dump_json()), json.loads(schema_text("plan")))
    assert set(SCHEMAS) == {
        "sighting-sheet",
        "report",
        "critique",
        "plan",
        "logbook",
        "stand",
        "stand-drawing",
        "stand-steps",
        "worksheet",
    }  # the last in tests of their own


def test_a_drawings_sheet_covers_its_paper_exactly() -> None:
    """Formats: the picture is the flattened paper; A4 on its side is 297 by 210 mm, and a whole number of pixels may be
    a little out.
    """
    plain = {"format": "aspectum-sighting-sheet", "version": 1, "picture": {"width_px": 1485, "height_px": 1050}}

    def read(paper_mm: Any) -> Any:
        return read_sheet(json.dumps(plain | {"paper_mm": paper_mm}).encode()).paper_mm

    assert read([297, 210]) == (297, 210)
    for wrong, place in (
        ([210, 297], "proportions"),
        ([297], "paper_mm"),
        ([0, 210], "paper_mm[0]"),
        (["297", 210], "paper_mm[0]"),
        ([1e9, 1e9], "paper_mm[0]"),
    ):
        with pytest.raises(FormatError, match=re.escape(place)):
            read(wrong)


def test_report_says_what_the_format_promises() -> None:
    report = check_sheet(read_sheet(encoded()), file="worked.sighting.json")
    assert report.file == "worked.sighting.json" and report.perspective == "two-point"
    assert [f.sighting for f in report.findings] == [s["id"] for s in SHEET["sightings"]]
    edge = report.findings[0]
    assert (edge.judged, edge.verdict) == (14.0, "holds")
    assert edge.sighted == pytest.approx(11.31, abs=0.005)
    assert edge.judged_words == "Judged 14°: 2.7° too steep."
    length = next(f for f in report.findings if f.sighting == "m2")
    assert length.sighted == pytest.approx(0.5)
    middle = next(m for m in report.level_rail if m.units == 0)
    assert middle.y_px == pytest.approx(400, abs=0.1) and middle.degree_deg == pytest.approx(0, abs=0.05)


def near_corner_sheet(right_bottom: float) -> dict[str, Any]:
    readings = [
        ("lt", "left", "near-top", 11.31),
        ("lb", "left", "near-bottom", -16.70),
        ("rt", "right", "near-top", -14.04),
        ("rb", "right", "near-bottom", right_bottom),
    ]
    sightings = [
        {"id": i, "kind": "edge", "family": f, "end": e, "tilt_deg": t, "sd_deg": 1.0} for i, f, e, t in readings
    ]
    return {
        "format": "aspectum-sighting-sheet",
        "version": 1,
        "picture": {"width_px": 297, "height_px": 210},
        "sightings": sightings,
    }


def test_near_corner_card_without_a_photo() -> None:
    report = check_sheet(read_sheet(json.dumps(near_corner_sheet(20.56)).encode()))
    card = report.near_corner
    assert card is not None and card.agree is True
    assert card.left.distance_units == pytest.approx(2.0, abs=0.001)
    assert card.eye_level_down == pytest.approx(0.4, abs=0.001)
    assert {f.verdict for f in report.findings} == {"holds"}
    wrong = check_sheet(read_sheet(json.dumps(near_corner_sheet(40.0)).encode()))
    assert wrong.near_corner is not None and wrong.near_corner.agree is False and wrong.near_corner.retake is not None
    assert "again" in wrong.near_corner.words


def test_far_uprights_of_the_card_are_checked_in_units() -> None:
    """Vanishing point 1.6 units out: half a unit across, the far upright is 0.6875 units long."""
    for read, verdict in ((0.69, "holds"), (0.95, "off")):
        sheet = near_corner_sheet(20.56)
        sheet["sightings"] += [
            {"id": "w", "kind": "length", "side": "right", "along": "across", "ratio": 0.5},
            {"id": "h", "kind": "length", "side": "right", "along": "upright", "ratio": read},
        ]
        far = check_sheet(read_sheet(json.dumps(sheet).encode())).findings[-1]
        assert far.implied == pytest.approx(0.6875, abs=0.001)
        assert far.verdict == verdict and "Its vanishing point asks for 0.69 there." in far.words


def test_findings_as_csv_hold_no_formulas() -> None:
    sheet = read_sheet(encoded(lambda s: s["sightings"][0].update(name="=HYPERLINK(1)")))
    text = findings_csv(sheet, check_sheet(sheet)).decode("utf-8-sig")
    assert len(text.splitlines()) == len(SHEET["sightings"]) + 1
    assert ",'=HYPERLINK(1)," in text


def test_overlay_escapes_what_people_write() -> None:
    sheet = read_sheet(encoded(lambda s: s.update(title="<script>alert(1)</script>")))
    svg = overlay_svg(sheet, check_sheet(sheet), b"\xff\xd8").decode()
    assert "<script>" not in svg and "data:image/jpeg;base64,/9g=" in svg
    assert svg.count("<line") >= 2 * len(EDGES)


def run(*args: str) -> tuple[int, str, str]:
    result = CliRunner().invoke(main, ["check", *args])
    return result.exit_code, result.stdout, result.stderr


def test_command_judges_every_file_and_reports_those_it_could_not(tmp_path: Path) -> None:
    good, bad, gone = tmp_path / "good.sighting.json", tmp_path / "bad.sighting.json", tmp_path / "gone.sighting.json"
    good.write_bytes(encoded())
    bad.write_bytes(encoded(lambda s: s["sightings"][0].update(p=[1])))
    code, out, err = run("--json", str(bad), str(good), str(gone), str(good))
    assert code == 2
    reports = [json.loads(line) for line in out.splitlines()]
    assert [r["file"] for r in reports] == ["good.sighting.json"] * 2
    assert len(err.splitlines()) == 2 and "sightings[0].p: expected two numbers" in err
    code, out, err = run(str(good))
    assert (code, err) == (0, "")
    assert "eye level    400.0" in out and "✓ holds" in out


@pytest.mark.parametrize(
    ("tolerance", "code"),
    [("freehand", 0), ("ruled", 0), ("2", 0), ("2,5,4", 0), ("loose", 2), ("-1", 2), ("1,2,3,4", 2)],
)
def test_command_takes_tolerances_by_school_or_number(tmp_path: Path, tolerance: str, code: int) -> None:
    path = tmp_path / "s.sighting.json"
    path.write_bytes(encoded())
    assert run("--tolerance", tolerance, str(path))[0] == code


def test_a_sheet_from_life_has_no_picture_and_nothing_laid_on_one() -> None:
    sheet = near_corner_sheet(20.56)
    del sheet["picture"]
    report = check_sheet(read_sheet(json.dumps(sheet).encode()))
    assert report.near_corner is not None and report.near_corner.agree
    assert (
        report.eye_level.source == "none" and report.notes == [] and {f.verdict for f in report.findings} == {"holds"}
    )
    sheet["sightings"].append({"id": "a", "kind": "alignment", "along": "plumb", "p": [1, 2], "q": [3, 4]})
    with pytest.raises(FormatError, match=r"picture: missing, and sightings\[4\] is laid on it"):
        read_sheet(json.dumps(sheet).encode())


@pytest.mark.parametrize(
    ("text", "fits"), [("a" * 80, True), ("a" * 81, False), ("a" * 80 + "\u009e", False), ("\u009e" + "a" * 79, True)]
)
def test_names_are_measured_as_they_were_sent(text: str, fits: bool) -> None:
    """What the published schema refuses is not let in by first leaving control characters out."""
    sheet = json.dumps(SHEET | {"forms": [{"id": text}], "sightings": []}).encode()
    if fits:
        assert read_sheet(sheet).forms[0].id == text.replace("\u009e", "")
    else:
        with pytest.raises(FormatError, match=r"forms\[0\].id: String should have at most 80 characters"):
            read_sheet(sheet)


def straight_sheet(looking: str, perspective: str = "one-point") -> dict[str, Any]:
    """Three uprights of a tower and two of its level edges, seen along its uprights from the picture's middle."""
    laid = [
        ("upright", (700, 300), (600, 400)),
        ("upright", (400, 700), (450, 600)),
        ("upright", (200, 400), (320, 440)),
        ("right", (600, 400), (720, 420)),
        ("left", (600, 400), (620, 280)),
    ]
    return {
        "format": "aspectum-sighting-sheet",
        "version": 1,
        "picture": {"width_px": 1000, "height_px": 1000},
        "perspective": perspective,
        "looking": looking,
        "sightings": [
            {"id": f"{family}{k}", "kind": "edge", "form": "tower", "family": family, "p": p, "q": q}
            for k, (family, p, q) in enumerate(laid)
        ],
    }


@pytest.mark.parametrize(("looking", "point"), [("up", "zenith"), ("down", "nadir")])
def test_a_sheet_seen_straight_up_or_down_says_so(looking: str, point: str, tmp_path: Path) -> None:
    laid = straight_sheet(looking)
    laid["sightings"][0]["q"] = [600, 440]
    path = tmp_path / "tower.sighting.json"
    path.write_text(json.dumps(laid))
    code, out, _ = run(str(path))
    assert code == 0 and f"eye level    not in the picture (looking straight {looking})" in out
    assert f"Misses the {point}" in out and "from plumb" not in out
    report = check_sheet(read_sheet(path.read_bytes()))
    assert report.view == f"straight {looking}" and report.eye_level.middle_y_px is None
    assert report.findings[0].sighted_lean_deg is None
    held = check_sheet(read_sheet(json.dumps({**laid, "looking": "ahead"}).encode()))
    assert held.view not in ("straight up", "straight down") and held.findings[0].sighted_lean_deg is not None


def test_straight_up_and_down_are_one_point_perspective() -> None:
    with pytest.raises(FormatError, match="straight up is one-point perspective"):
        read_sheet(json.dumps(straight_sheet("up", "three-point")).encode())
    with pytest.raises(FormatError, match=r"^looking: "):
        read_sheet(json.dumps(straight_sheet("sideways")).encode())


FACE: dict[str, Any] = {
    "id": "f1",
    "kind": "face",
    "form": "crate",
    "families": ["right", "upright"],
    "corners": [[0, 90], [90, 80], [90, 10], [0, 0]],
}
PART = {"id": "d1", "kind": "division", "face": "f1", "along": "across", "point": [40, 50], "judged_part": 0.5}
PLUMB = {"id": "a", "kind": "alignment", "along": "plumb", "p": [0, 0], "q": [0, 9]}
HEIGHT: dict[str, Any] = {"id": "h1", "kind": "height", "foot": [50, 90], "top": [50, 20], "known_m": 1.8}


@pytest.mark.parametrize(
    ("entries", "place"),
    [
        ([FACE | {"corners": FACE["corners"][:3]}], "sightings[0].corners"),
        ([FACE | {"corners": [[0, 0], [0, 0], [90, 10], [0, 5]]}], "sightings[0].corners[1]: two corners coincide"),
        (
            [FACE | {"families": ["right", "right"]}],
            "sightings[0].families: a face runs along two families that are square",
        ),
        (
            [FACE | {"families": ["right", "depth"]}],
            "sightings[0].families: a face runs along two families that are square",
        ),
        ([FACE | {"families": ["left", "depth"]}], "sightings[0].families: left and right go together"),
        ([FACE | {"families": ["slope", "upright"]}], "sightings[0].families"),
        ([PART], "sightings[0].face: no face 'f1'"),
        ([FACE, PART | {"judged_part": 1e9}], "sightings[1].judged_part: "),
        ([FACE, PART | {"along": "down"}], "sightings[1].along: "),
        ([FACE, PART | {"form": "crate"}], "sightings[1].form: unknown entry"),
        ([HEIGHT | {"known_m": -1}], "sightings[0].known_m: "),
        ([HEIGHT | {"top": HEIGHT["foot"]}], "sightings[0].top: the foot and the top coincide"),
        (
            [{"id": "a", "kind": "alignment", "along": "plumb", "p": [0, 0], "q": [0, 9], "judged_tilt_deg": 3}],
            "sightings[0].judged_tilt_deg: a tilt is judged",
        ),
        (
            [{"id": "e", "kind": "edge", "form": "crate", "family": "left", "p": [0, 0], "q": [9, 9], "hidden": ["r"]}],
            "sightings[0].hidden[0]: ",
        ),
    ],
)
def test_faces_parts_and_heights_that_do_not_fit_are_refused(entries: list[dict[str, Any]], place: str) -> None:
    with pytest.raises(FormatError) as caught:
        read_sheet(encoded(lambda s: s.update(forms=[{"id": "crate"}], sightings=entries)))
    assert str(caught.value).startswith(place)


def test_faces_parts_and_heights_read_back_as_they_were_written() -> None:
    sheet = read_sheet(
        encoded(lambda s: s.update(forms=[{"id": "crate"}], sightings=[FACE, PART, HEIGHT], eye_height_m=1.6))
    )
    assert read_sheet(write_sheet(sheet)) == sheet and sheet.eye_height_m == 1.6


def test_a_report_carries_true_proportions_and_parts() -> None:
    """The crate of the format's example stands in the worked picture; its lens is open in one-point."""
    corners = [[150, 625], [400, 700], [400, 200], [150, 250]]
    laid = [
        ("left", [400, 200], [150, 250]),
        ("left", [400, 700], [150, 625]),
        ("right", [400, 200], [650, 250]),
        ("right", [400, 700], [650, 625]),
    ]
    laid += [("upright", [400, 200], [400, 700])]
    sightings: list[dict[str, Any]] = [
        {"id": f"e{k}", "kind": "edge", "form": "crate", "family": f, "p": p, "q": q}
        for k, (f, p, q) in enumerate(laid)
    ]
    sightings += [FACE | {"families": ["left", "upright"], "corners": corners}, PART | {"point": [257.14, 400]}]
    picture = {"width_px": 1000, "height_px": 800}
    report = check_sheet(
        read_sheet(
            encoded(lambda s: s.update(picture=picture, forms=[{"id": "crate"}], sightings=sightings, eye_level=None))
        )
    )
    form, part = report.forms[0], report.findings[-1]
    assert (
        form.size[Family.LEFT] == pytest.approx(0.989, abs=0.001)
        and form.size[Family.UPRIGHT] == 1.0
        and form.unit == "upright"
    )
    assert (
        part.part == pytest.approx(0.5, abs=0.001)
        and part.sighted == pytest.approx(0.429, abs=0.001)
        and part.part_line_px is not None
    )


def test_exports_carry_what_is_measured() -> None:
    entries = [
        FACE,
        PART,
        HEIGHT,
        {"id": "k", "kind": "alignment", "along": "tilt", "p": [0, 0], "q": [40, 40], "judged_tilt_deg": -40},
    ]
    edges = [s for s in SHEET["sightings"] if s["kind"] == "edge"]
    sheet = read_sheet(
        encoded(lambda s: s.update(forms=[{"id": "crate"}, {"id": "box"}], sightings=edges + entries, eye_height_m=1.6))
    )
    report = check_sheet(sheet)
    rows = {
        row["sighting"]: row for row in csv.DictReader(io.StringIO(findings_csv(sheet, report).decode("utf-8-sig")))
    }
    assert [rows[k]["unit"] for k in ("f1", "d1", "h1", "k")] == ["", "part", "metres", "degrees tilt"]
    sides = list(csv.DictReader(io.StringIO(forms_csv(sheet, report).decode("utf-8-sig"))))
    box = {row["family"]: row for row in sides if row["form"] == "box"}
    assert (
        float(box["right"]["size"]) == pytest.approx(0.894, abs=0.001)
        and box["right"]["unit"] == "upright"
        and box["right"]["why_not"] == ""
    )
    drawn = overlay_svg(sheet, report, None).decode()
    assert drawn.count("diagonal") == 2 and "d1: " in drawn and "h1: " in drawn
