"""Backup, restore and doctor: whole, while serving, and refused with a reason."""

from __future__ import annotations

import hashlib
import json
import shutil
import sqlite3
import threading
import zipfile
from collections.abc import Iterator
from contextlib import closing
from http.client import HTTPConnection
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner

from aspectum.cli import main
from aspectum.service.runtime.doctor import LEAST_FREE_BYTES, Looked, State, examine
from aspectum.store.backup import DATABASE, MANIFEST, BackupError, is_picture, opened, proved
from aspectum.store.database import newest_schema
from tests.conftest import Served

SHEETS = "/api/sheets"


def ask(server: Served, method: str, path: str, body: object = None) -> tuple[int, Any]:
    """Status and JSON of an answer over a socket."""
    connection = HTTPConnection("127.0.0.1", server.port, timeout=20)
    with closing(connection):
        connection.request(
            method, path, None if body is None else json.dumps(body), {"Content-Type": "application/json"}
        )
        answer = connection.getresponse()
        data = answer.read()
    return answer.status, json.loads(data) if answer.headers.get_content_type().endswith("json") and data else None


def run(*words: str, env: dict[str, str] | None = None) -> tuple[int, str]:
    result = CliRunner().invoke(main, list(words), env=env)
    return result.exit_code, result.output


@pytest.fixture
def taken(tmp_path: Path, filled: Path) -> Iterator[Path]:
    """A backup of the demo."""
    to = tmp_path / "backup.zip"
    status, said = run("backup", str(to), "--data", str(filled))
    assert status == 0 and f"schema {newest_schema()}" in said
    yield to


def rewritten(backup: Path, changed: dict[str, bytes | None]) -> Path:
    """The backup with parts changed, or left out."""
    to = backup.with_name(f"changed-{len(list(backup.parent.iterdir()))}.zip")
    with zipfile.ZipFile(backup) as packed, zipfile.ZipFile(to, "w") as again:
        for name in packed.namelist():
            data = changed.get(name, packed.read(name))
            if data is not None:
                again.writestr(name, data)
        for name, data in changed.items():
            if name not in packed.namelist() and data is not None:
                again.writestr(name, data)
    return to


def test_a_backup_holds_the_database_every_picture_and_their_sums(taken: Path, filled: Path) -> None:
    with zipfile.ZipFile(taken) as packed:
        told = json.loads(packed.read(MANIFEST))
        for name, due in told["sha256"].items():
            assert hashlib.sha256(packed.read(name)).hexdigest() == due
    with closing(sqlite3.connect(filled / DATABASE)) as connection:
        names = {name for (name,) in connection.execute("select distinct sha256 from pictures")}
    assert {name.split("/")[2].split(".")[0] for name in told["sha256"] if name != DATABASE} == names and told[
        "missing"
    ] == []
    assert "secret" not in str(told), "what cookies are signed with stays at home"


def test_what_was_backed_up_comes_back_into_an_empty_folder(taken: Path, tmp_path: Path) -> None:
    data = tmp_path / "anew"
    status, said = run("restore", str(taken), "--data", str(data))
    assert status == 0 and "Put back as it was on" in said
    server = Served(data)
    try:
        lines = ask(server, "GET", SHEETS)[1]["sheets"]
        assert len(lines) >= 11
        for line in lines:
            if line["picture"]:
                assert ask(server, "GET", f"/api/pictures/{line['picture']['id']}/full.jpg")[0] == 200
    finally:
        server.stop()
    assert {
        told.state
        for told in examine(Looked(data, data / DATABASE, data / "pictures", data, ""))
        if told.what in ("database", "schema", "pictures")
    } == {State.FINE}


def test_backup_and_restore_while_somebody_saves(served: Served, tmp_path: Path) -> None:
    """The backup is of one moment; what is put back is there for the running server at once, and a page with newer work
    is asked.
    """
    made = ask(served, "POST", SHEETS, {"title": "Before"})[1]["id"]
    mine = ask(served, "GET", f"{SHEETS}/{made}")[1]
    stop, saves = threading.Event(), [0]

    def keep_saving() -> None:
        while not stop.is_set():
            document = mine["document"] | {"title": f"Save {saves[0]}"}
            status, _ = ask(
                served, "PUT", f"{SHEETS}/{made}", {"revision": mine["revision"] + saves[0], "document": document}
            )
            if status != 200:
                return
            saves[0] += 1

    at_work = threading.Thread(target=keep_saving)
    at_work.start()
    to = tmp_path / "backup.zip"
    status, _ = run("backup", str(to), "--data", str(served.folder))
    stop.set()
    at_work.join()
    assert status == 0 and saves[0] > 0
    ask(served, "DELETE", f"{SHEETS}/{made}")
    last = ask(served, "POST", SHEETS, {"title": "After"})[1]["id"]
    status, said = run("restore", str(to), "--data", str(served.folder), "--yes")
    assert status == 0 and "before-restore-" in said
    titles = {line["title"] for line in ask(served, "GET", SHEETS)[1]["sheets"]}
    assert any(title.startswith("Save ") for title in titles) or "Before" in titles
    assert ask(served, "GET", f"{SHEETS}/{last}")[0] == 404
    stale = ask(served, "PUT", f"{SHEETS}/{made}", {"revision": 10_000, "document": mine["document"]})
    assert stale[0] == 409, "an open page is asked before it overwrites anything"
    (kept,) = served.folder.glob("before-restore-*.zip")
    with opened(kept) as packed:
        assert proved(packed).schema == newest_schema()


def test_a_damaged_backup_changes_nothing(taken: Path, tmp_path: Path, filled: Path) -> None:
    data = tmp_path / "data"
    shutil.copytree(filled, data)
    before = (data / DATABASE).read_bytes()
    with zipfile.ZipFile(taken) as packed:
        picture = next(name for name in packed.namelist() if name.startswith("pictures/"))
        told = json.loads(packed.read(MANIFEST))
    cut = tmp_path / "cut.zip"
    cut.write_bytes(taken.read_bytes()[:-4000])
    newer = json.dumps(told | {"schema": "9999"}).encode()
    outside = json.dumps(told | {"sha256": told["sha256"] | {"../outside.jpg": "00"}}).encode()
    for file, words in (
        (cut, "cut short"),
        (rewritten(taken, {picture: b"another"}), "is not as it was"),
        (rewritten(taken, {picture: None}), "is missing or damaged"),
        (rewritten(taken, {DATABASE: b"no database"}), "is not as it was"),
        (rewritten(taken, {MANIFEST: b"[]"}), "no backup of Aspectum"),
        (rewritten(taken, {MANIFEST: None}), "no backup of Aspectum"),
        (rewritten(taken, {MANIFEST: newer}), "newer Aspectum"),
        (rewritten(taken, {MANIFEST: outside}), "holds what no backup holds"),
    ):
        status, said = run("restore", str(file), "--data", str(data), "--yes")
        assert status == 1 and words in said, (words, said)
        assert (data / DATABASE).read_bytes() == before


def test_a_backup_overwrites_nothing_and_tells_what_is_missing(tmp_path: Path, filled: Path) -> None:
    data = tmp_path / "data"
    shutil.copytree(filled, data)
    lost = next((data / "pictures").glob("??/*.view.jpg"))
    lost.unlink()
    to = tmp_path / "b.zip"
    status, said = run("backup", str(to), "--data", str(data))
    assert status == 0 and "1 pictures are not on the disk any more" in said
    status, said = run("backup", str(to), "--data", str(data))
    assert status == 1 and "there already" in said
    status, said = run(
        "backup",
        str(tmp_path / "c.zip"),
        "--data",
        str(data),
        env={"ASPECTUM_DATABASE_URL": "postgresql+psycopg://here/aspectum"},
    )
    assert status == 1 and "pg_dump" in said
    (data / DATABASE).write_bytes(b"torn" * 4096)
    status, said = run("backup", str(tmp_path / "d.zip"), "--data", str(data))
    assert status == 1 and "no backup was made" in said and not (tmp_path / "d.zip").exists()


@pytest.mark.parametrize(
    "name",
    [
        "../../etc/passwd",
        "pictures/ab/x.jpg",
        f"pictures/../{'a' * 64}.jpg",
        f"pictures/ab/{'g' * 64}.jpg",
        f"pictures/aa/{'a' * 64}",
    ],
)
def test_names_that_lead_elsewhere_are_no_pictures(name: str) -> None:
    assert not is_picture(name) and is_picture(f"pictures/aa/{'a' * 64}.view.jpg")


# --- doctor
# ----------------------------------------------------------------------------------------------------


@pytest.fixture
def installed(tmp_path: Path, filled: Path) -> Looked:
    data = tmp_path / "data"
    shutil.copytree(filled, data)
    data.chmod(0o700)
    front = tmp_path / "app"
    front.mkdir()
    (front / "index.html").write_text("<div id=root>")
    return Looked(data, data / DATABASE, data / "pictures", front, "")


def states(where: Looked) -> dict[str, tuple[State, str]]:
    return {told.what: (told.state, told.words) for told in examine(where)}


def test_a_sound_installation_is_told_to_be_so(installed: Looked) -> None:
    assert {state for state, _ in states(installed).values()} <= {State.FINE, State.LOOK}
    assert states(installed)["database"][0] is State.FINE and LEAST_FREE_BYTES > 0


def test_each_fault_is_named_with_what_to_do(installed: Looked) -> None:
    picture = next(installed.pictures.glob("??/*.jpg"))
    names = sorted({path.name.split(".")[0] for path in installed.pictures.glob("??/*.jpg")})
    (installed.pictures / names[0][:2] / f"{names[0]}.jpg").write_bytes(b"another picture")
    (installed.pictures / names[1][:2] / f"{names[1]}.jpg").unlink()
    state, words = states(installed)["pictures"]
    assert (
        state is State.WRONG and "1 are missing and 1 are not as they were" in words and "restore" in words and picture
    )
    installed.data.chmod(0o755)
    assert states(installed)["data folder"][0] is State.LOOK
    (installed.front_end / "index.html").unlink()
    assert "make setup" in states(installed)["interface"][1]
    assert installed.database is not None
    with closing(sqlite3.connect(installed.database)) as connection:
        connection.execute("update alembic_version set version_num = '9999'")
        connection.commit()
    assert "newer Aspectum" in states(installed)["schema"][1]
    with closing(sqlite3.connect(installed.database)) as connection:
        connection.execute("update alembic_version set version_num = '0003'")
        connection.commit()
    assert states(installed)["schema"][0] is State.LOOK
    installed.database.write_bytes(b"torn" * 4096)
    assert states(installed)["database"][0] is State.WRONG
    weak = Looked(installed.data / "none", None, installed.pictures, installed.front_end, "short")
    assert states(weak)["data folder"][0] is State.WRONG and states(weak)["secret"][0] is State.WRONG


def test_the_doctor_leaves_nothing_behind_and_exits_by_what_it_finds(installed: Looked) -> None:
    before = {path.name for path in installed.data.iterdir()}
    status, said = run("doctor", "--data", str(installed.data))
    assert status == 0 and "✓ database" in said
    assert {path.name for path in installed.data.iterdir()} - before <= {f"{DATABASE}-shm", f"{DATABASE}-wal"}
    assert run("doctor", "--data", str(installed.data / "none"))[0] == 1


def test_a_backup_error_is_a_value_error() -> None:
    assert issubclass(BackupError, ValueError)
