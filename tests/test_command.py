"""The command outside the tests' own process, and the demo data."""

from __future__ import annotations

import json
import os
import shutil
import signal
import socket
import subprocess
import sys
import urllib.request
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from aspectum.core.aids.standpoint import STRAIGHT
from aspectum.core.sightings import Kind
from aspectum.core.tolerance import Verdict
from aspectum.demo.fill import DRAWINGS_FOLDER, SHEETS, fill, truth
from aspectum.formats.sheet import read_sheet
from aspectum.service.sheets.checking import check_sheet
from aspectum.settings import settings_from_environment
from tests.alike import alike
from tests.browser.stage import DEMO_SHEETS

ROOT = Path(__file__).parents[1]


def run(*args: str, **environment: str) -> subprocess.CompletedProcess[str]:
    code = "from aspectum.cli import main; main()"
    return subprocess.run(
        [sys.executable, "-c", code, *args],
        capture_output=True,
        text=True,
        timeout=60,
        env=os.environ | environment,
        check=False,
    )


def test_check_starts_without_web_or_pictures() -> None:
    code = "import sys; from click.testing import CliRunner; from aspectum.cli import main; "
    code += (
        "CliRunner().invoke(main, ['check', sys.argv[1]]); print(sorted(m for m in ('flask', 'sqlalchemy', 'PIL', "
        "'cv2') if m in sys.modules))"
    )
    done = subprocess.run(
        [sys.executable, "-c", code, str(next(SHEETS.glob("1-*.json")))],
        capture_output=True,
        text=True,
        timeout=60,
        check=True,
    )
    assert done.stdout.strip() == "[]"


def test_a_taken_port_is_said_plainly(tmp_path: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        done = run("serve", "--port", str(taken.getsockname()[1]), "--data", str(tmp_path))
    assert done.returncode == 1 and "cannot be used" in done.stderr and "Traceback" not in done.stderr


def test_a_killed_server_keeps_what_was_saved(tmp_path: Path, filled: Path) -> None:
    shutil.copytree(filled, tmp_path, dirs_exist_ok=True)

    def start() -> tuple[subprocess.Popen[str], str]:
        code = "from aspectum.cli import main; main()"
        args = [sys.executable, "-u", "-c", code, "serve", "--port", "0", "--data", str(tmp_path), "--demo"]
        process = subprocess.Popen(args, stdout=subprocess.PIPE, text=True)
        assert process.stdout is not None
        return process, process.stdout.readline().split()[3].rstrip("/")

    def ask(url: str, method: str = "GET", body: object = None) -> dict[str, object]:
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(url, data, {"Content-Type": "application/json"}, method=method)
        found: dict[str, object] = json.loads(urllib.request.urlopen(request, timeout=20).read())
        return found

    process, url = start()
    try:
        listed = ask(f"{url}/api/sheets")["sheets"]
        assert isinstance(listed, list) and len(listed) == len(list(SHEETS.glob("*.json")))
        address = f"{url}/api/sheets/{listed[0]['id']}"
        sheet = ask(address)
        document = sheet["document"]
        assert isinstance(document, dict)
        ask(address, "PUT", {"revision": sheet["revision"], "document": document | {"title": "Saved, then killed"}})
    finally:
        process.send_signal(signal.SIGKILL)
        process.communicate()
    process, url = start()
    try:
        titles = [s["title"] for s in ask(f"{url}/api/sheets")["sheets"]]  # type: ignore[attr-defined]
        assert "Saved, then killed" in titles and len(titles) == DEMO_SHEETS
    finally:
        process.terminate()
        process.communicate()


def test_settings_come_from_the_environment(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("ASPECTUM_DATA", str(tmp_path / "new"))
    monkeypatch.setenv("ASPECTUM_HOSTS", "studio.test, easel.test")
    settings = settings_from_environment()
    assert settings.data == (tmp_path / "new")
    assert settings.database_url.endswith("aspectum.sqlite")
    assert {"127.0.0.1", "studio.test", "easel.test"} <= set(settings.hosts)


def test_demo_sheets_are_added_once(demo: FlaskClient) -> None:
    assert len(demo.get("/api/sheets").get_json()["sheets"]) == DEMO_SHEETS
    assert fill(demo.application.extensions["aspectum"]) == 0


@pytest.mark.parametrize("path", sorted(SHEETS.glob("*.json")), ids=lambda p: p.stem)
def test_demo_sheets_are_judged_and_at_most_the_planned_sighting_is_off(path: Path) -> None:
    sheet = read_sheet(path.read_bytes())
    if sheet.proposing:
        # what was found in the loft is nobody's yet; accepted, all of it, it puts eye level where the loft has it
        assert check_sheet(sheet).findings == []
        level = check_sheet(sheet.accepting()).eye_level.middle_y_px
        known = truth("loft")["eye_level"]
        assert level == pytest.approx((known["left_y_px"] + known["right_y_px"]) / 2, abs=4.0)
        return
    report = check_sheet(sheet)
    seen = [f for f in report.findings if f.kind in (Kind.EDGE, Kind.RIM)]
    off = [f.sighting for f in seen if f.verdict == Verdict.OFF.value]
    planned = {
        "1-crates": ["middle-right-top-near"],
        "3-tower": ["gallery-right-bottom-near"],
        "5-tins": ["red-base"],
        "6-lamps": ["jar-c-mouth"],
        "9-yard": ["store-eaves-right-bottom-near"],
        "11-pump-house": ["rt"],
    }
    assert off == planned.get(path.name.split(".")[0], [])
    assert all(f.judged_words for f in seen)
    # what is measured was judged as it is drawn; only what does not recede was judged about right
    right = [
        f.sighting
        for f in report.findings
        if f not in seen and f.judged is not None and f.verdict == Verdict.HOLDS.value
    ]
    fair = {
        "1-crates": ["long-top", "far-upright", "corner-to-corner"],
        "2-loft": ["gable-sill"],
        "4-market": ["beam-4"],
        "10-fish-boxes": ["lh", "rh", "a1"],
        "11-pump-house": ["lh", "rh"],
    }
    assert right == fair.get(path.name.split(".")[0], [])
    if report.view in STRAIGHT:
        assert report.eye_level.source == "none"
        return
    if report.near_corner is not None:
        known = json.loads(
            (SHEETS.parent / "life" / f"{path.name.split('.')[0].split('-', 1)[1]}.truth.json").read_text()
        )
        for side in (report.near_corner.left, report.near_corner.right):
            assert side.distance_low is not None and side.distance_high is not None
            assert side.distance_low <= known["distance_units"][side.side] <= side.distance_high
        assert report.near_corner.eye_level_down == pytest.approx(known["eye_level_down"], abs=0.08)
        return
    rims = any(f.kind == "rim" for f in report.findings)
    assert report.eye_level.source == ("edges and rims" if rims else "edges")
    assert report.eye_level.sd_px is not None and report.eye_level.sd_px < 15


SUBJECT, DRAWN = SHEETS / "1-crates.sighting.json", DRAWINGS_FOLDER / "crates.sighting.json"


def test_critique_judges_drawings_in_order_and_goes_on_after_a_bad_one(tmp_path: Path) -> None:
    """Formats: one JSON object a line for each drawing, one line on standard error for what cannot be
    judged, exit 2.
    """
    bad = tmp_path / "bad.sighting.json"
    bad.write_text("{")
    done = run("critique", str(SUBJECT), str(DRAWN), str(bad), str(DRAWN), "--json")
    assert done.returncode == 2 and done.stderr.count("\n") == 1 and "bad.sighting.json" in done.stderr
    lines = [json.loads(line) for line in done.stdout.splitlines()]
    assert len(lines) == 2
    alike(lines[0], lines[1])
    critique = lines[0]
    assert (critique["format"], critique["version"], critique["subject"]) == (
        "aspectum-critique",
        1,
        "Crates on the slipway",
    )
    assert [(c["cause"], c["direction"], c["unit"]) for c in critique["causes"]] == [
        ("eye-level", "too-high", "near upright")
    ]
    first = critique["findings"][0]
    assert (
        first["difference"] == pytest.approx(first["drawing"] - first["subject"], abs=1e-9)
        or abs(first["difference"]) < 90
    )
    assert 0.05 < critique["scale_mm_per_px"] < 1.0


def test_critique_reads_to_people_by_default_and_takes_other_tolerances_and_hands() -> None:
    plain = run("critique", str(SUBJECT), str(DRAWN))
    assert plain.returncode == 0
    for words in ("holds", "cause 1", "Eye level is drawn", "far end", "own terms", "✗ off"):
        assert words in plain.stdout
    shaky = run("critique", str(SUBJECT), str(DRAWN), "--json", "--hand", "3,6,12")
    assert json.loads(shaky.stdout)["causes"] == []
    ruled = json.loads(run("critique", str(SUBJECT), str(DRAWN), "--json", "--tolerance", "ruled").stdout)
    assert sum(f["verdict"] == "off" for f in ruled["findings"]) > sum(
        f["verdict"] == "off" for f in json.loads(shaky.stdout)["findings"]
    )
    assert run("critique", str(SUBJECT), str(DRAWN), "--hand", "3,6").returncode == 2
    gone = run("critique", "nowhere.json", str(DRAWN))
    assert gone.returncode == 2 and gone.stderr.strip() == "nowhere.json: No such file or directory"


def test_critique_refuses_what_has_no_picture(tmp_path: Path) -> None:
    life = tmp_path / "life.sighting.json"
    life.write_text(json.dumps({"format": "aspectum-sighting-sheet", "version": 1, "title": "", "sightings": []}))
    for order in ((str(SUBJECT), str(life)), (str(life), str(DRAWN))):
        done = run("critique", *order)
        assert done.returncode == 2 and "picture: missing" in done.stderr
