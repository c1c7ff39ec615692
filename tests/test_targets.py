"""What `make` offers beside the tests, in a form of seconds, so that none of it stops working unnoticed."""

from __future__ import annotations

import os
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
SHORT = os.environ | {"BENCH_SHARE": "0.005"}
# those that look into photographs, and one that walks about in a browser, take a minute each however few they are; the
# tests of the gallery, of pointing, of pencil lines and of worksheets' photos run what they measure with
LONG = ("finding", "pointing", "pencil", "worksheets", "frames", "limits")


def run(*command: str) -> str:
    done = subprocess.run(command, cwd=ROOT, env=SHORT, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout[-3000:] + done.stderr[-3000:]
    return done.stdout


def test_every_benchmark_runs_on_a_few_scenes() -> None:
    from tests.bench import REPORTS

    reports = [report.__name__ for report in REPORTS if not any(name in report.__name__ for name in LONG)]
    assert len(reports) >= 24
    code = (
        "from tests.bench import *; ledger = Ledger(4711); [run(report, ledger) for report in REPORTS if "
        "report.__name__ in " + repr(reports) + "]"
    )
    told = run(sys.executable, "-W", "ignore", "-c", code)
    assert "aspectum check on" in told and "eye level: 95 % interval holds" in told


def test_a_class_at_work_for_some_seconds() -> None:
    assert "saves acknowledged" in run(
        sys.executable, "-m", "tests.load", "--students", "2", "--seconds", "12", "--untimed"
    )


def test_torture_by_a_few_sheets_pictures_and_kills() -> None:
    """What a busy machine would make wait, a full disk, many clients and large photos, is left to ``make torture``."""
    parts = "muddled_sheets(found, 0.5), mutated_sheets(found, 0.5), damaged_pictures(found, 0.5), kills(found, 1)"
    code = f"from tests.torture import *; found = []; print({parts}, 'found', len(found))"
    assert "found 0" in run(sys.executable, "-c", code)


def test_the_wheel_holds_all_that_the_application_needs(tmp_path: Path) -> None:
    run(sys.executable, "-m", "build", "--wheel", "--no-isolation", "--outdir", str(tmp_path), ".")
    (wheel,) = tmp_path.glob("*.whl")
    names = zipfile.ZipFile(wheel).namelist()
    needed = (
        "aspectum/web/app/index.html",
        "aspectum/web/openapi.json",
        "aspectum/demo/filled/tables.jsonl",
        "aspectum/store/migrations/versions/0001",
    )
    for name in needed:
        assert any(entry.startswith(name) for entry in names), name
    assert not [entry for entry in names if entry.startswith("tests/") or ".nbi" in entry]


@pytest.mark.skipif(not list(Path("/usr/lib/postgresql").glob("*/bin/initdb")), reason="there is no PostgreSQL here")
def test_the_store_on_postgresql() -> None:
    pytest_of_it = [
        "-m",
        "pytest",
        "-q",
        "-p",
        "no:cacheprovider",
        "-W",
        "ignore::pytest.PytestUnraisableExceptionWarning",
        "tests/store/test_database.py",
        "-k",
        "build_what_the_models or revisions or become_one or hangs_on_a_class or newest_schema",
    ]
    run("bash", "tools/with_postgres.sh", "ASPECTUM_TEST_SERVER", sys.executable, *pytest_of_it)
