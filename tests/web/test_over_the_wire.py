"""What only a real server shows: headers on the wire, bodies before they are read, starts side by side."""

from __future__ import annotations

import json
import os
import re
import resource
import socket
import stat
import subprocess
import sys
import threading
import time
import urllib.parse
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from sqlalchemy import create_engine, text

from aspectum.service.people.people import person_here
from aspectum.service.runtime.photo_queue import MOST_WAITING
from aspectum.store.models import HERE, Person
from tests.conftest import Served
from tests.databases import url_in
from tests.wire import ask, new_sheet, tell, upload

ROOT = Path(__file__).parents[2]


@pytest.fixture
def bare(tmp_path: Path) -> Iterator[Served]:
    """A server on an empty folder."""
    server = Served(tmp_path / "data")
    yield server
    server.stop()


@pytest.mark.parametrize(
    "title", ["Crates – “first try”", "Ящики на слипе", "木箱とペンキ缶", "Boxes 📦", 'a/b\\c:"d"', "", "…"]
)
def test_any_title_can_be_exported_under_both_forms_of_its_name(bare: Served, crates_jpeg: bytes, title: str) -> None:
    """RFC 6266 with RFC 5987 for what is not ASCII."""
    sheet = new_sheet(bare, crates_jpeg)
    tell(bare, "PUT", f"/api/sheets/{sheet['id']}", {"revision": 1, "document": sheet["document"] | {"title": title}})
    for kind in ("sighting.json", "report.json", "findings.csv", "overlay.svg"):
        status, headers, _ = ask(bare, "GET", f"/api/sheets/{sheet['id']}/export/{kind}")
        disposition = headers["Content-Disposition"]
        assert status == 200 and re.search(rf'filename="?[ -~]+\.{kind}"?;', disposition)
        whole = urllib.parse.unquote(disposition.split("filename*=UTF-8''")[1])
        assert whole.endswith(f".{kind}") and not set(whole) & set('/\\:"')
        if title.isalpha():
            assert whole == f"{title}.{kind}"


def test_a_save_whose_answer_was_lost_is_answered_as_the_first(bare: Served, crates_jpeg: bytes) -> None:
    sheet = new_sheet(bare, crates_jpeg)
    path, document = f"/api/sheets/{sheet['id']}", sheet["document"]
    first = {"revision": 1, "document": document | {"title": "A"}, "save": "mark-of-a"}
    assert tell(bare, "PUT", path, first)[1]["revision"] == 2
    assert tell(bare, "PUT", path, first)[1]["revision"] == 2  # sent again: nothing is stored twice
    # the page went on and never heard of revision 2
    status, saved = tell(
        bare,
        "PUT",
        path,
        {"revision": 1, "document": document | {"title": "B"}, "save": "mark-of-b", "unanswered": ["mark-of-a"]},
    )
    assert (status, saved["revision"]) == (200, 3)
    # another tab, which knows nothing of these saves, is still refused
    assert (
        tell(bare, "PUT", path, {"revision": 2, "document": document | {"title": "C"}, "save": "mark-of-c"})[0] == 409
    )
    full = tell(bare, "GET", path)[1]
    assert full["document"]["title"] == "B" and full["last_save"] == "mark-of-b"


def test_repeated_saves_side_by_side_store_one(bare: Served, crates_jpeg: bytes) -> None:
    sheet = new_sheet(bare, crates_jpeg)
    body = {"revision": 1, "document": sheet["document"] | {"title": "A"}, "save": "mark-of-a"}
    with ThreadPoolExecutor(6) as pool:
        answers = list(pool.map(lambda _: tell(bare, "PUT", f"/api/sheets/{sheet['id']}", body), range(6)))
    assert [(status, answer["revision"]) for status, answer in answers] == [(200, 2)] * 6


def test_first_use_from_eight_sides_makes_one_person(bare: Served, crates_jpeg: bytes) -> None:
    with ThreadPoolExecutor(8) as pool:
        pictures = list(
            pool.map(lambda k: upload(bare, crates_jpeg) if k < 3 else tell(bare, "GET", "/api/sheets")[1], range(8))
        )
    with bare.app.extensions["aspectum"].sessions() as session:
        assert session.query(Person).count() == 1 and person_here(session).place == HERE
    assert ask(bare, "GET", f"/api/pictures/{pictures[0]['id']}/thumb.jpg")[0] == 200


def test_servers_started_together_on_one_fresh_folder_all_come_up(tmp_path: Path) -> None:
    program = (
        "import sys, pathlib, aspectum.web.app as web, tests.conftest as tests; "
        "web.create_app(tests.settings_in(pathlib.Path(sys.argv[1])))"
    )
    command = [sys.executable, "-c", program, str(tmp_path / "data")]
    started = [subprocess.Popen(command, cwd=ROOT, stderr=subprocess.PIPE, text=True) for _ in range(4)]
    try:
        faults = [
            process.communicate(timeout=240)[1] for process in started
        ]  # four programs are read in at once, beside what else is tested
    finally:
        for process in started:
            process.kill()
    assert [process.returncode for process in started] == [0] * 4, faults
    engine = create_engine(url_in(tmp_path / "data"))
    with engine.connect() as connection:
        assert connection.scalar(text("select count(*) from people")) == 1
    engine.dispose()


@pytest.mark.parametrize(
    ("path", "media", "body", "status"),
    [
        ("/api/check", "text/plain", b"{}", 415),
        ("/api/check", "application/x-www-form-urlencoded", b"a=b", 415),
        ("/api/pictures", "text/html", b"<p>", 415),
        ("/api/check", "application/json", b"[" * 100_000, 422),
        ("/api/check", "application/json", b'{"document":' * 3000, 422),
        ("/api/check", "application/json", b"[]", 422),
        ("/api/check", "application/json", b"\xff\xfe", 422),
        ("/api/check", "application/json", b'{"document": {"picture": {"width_px": "100", "height_px": 100}}}', 422),
        ("/api/check", "application/json", b'{"document": {"picture": {"width_px": true, "height_px": 100}}}', 422),
        (
            "/api/check",
            "application/json",
            b'{"document": {"picture": {"width_px": 100, "height_px": 100}, "point_sd_px": 1e999}}',
            422,
        ),
        ("/api/check", "application/json", b'{"document": {"picture": {"width_px": 100.0, "height_px": 100}}}', 200),
    ],
)
def test_bodies_that_do_not_fit_are_told_so(bare: Served, path: str, media: str, body: bytes, status: int) -> None:
    found, headers, answer = ask(bare, "POST", path, body, media)
    assert found == status, answer
    assert status == 200 or headers["Content-Type"] == "application/problem+json"


def test_a_revision_beyond_what_a_database_counts_is_refused(bare: Served, crates_jpeg: bytes) -> None:
    sheet = new_sheet(bare, crates_jpeg)
    assert (
        tell(bare, "PUT", f"/api/sheets/{sheet['id']}", {"revision": 10**30, "document": sheet["document"]})[0] == 422
    )


@pytest.mark.parametrize("path", ["/api/pictures?name=x", "/api/check"])
def test_what_is_too_large_is_refused_before_it_is_read(bare: Served, path: str) -> None:
    head = (
        f"POST {path} HTTP/1.1\r\nHost: 127.0.0.1:{bare.port}\r\nContent-Type: application/json\r\nContent-Length: "
        f"{70 * 1024**2}\r\n\r\n"
    )
    with socket.create_connection(("127.0.0.1", bare.port), timeout=10) as wire:
        wire.sendall(head.encode() + b"{")  # and not a byte more
        answer = wire.recv(65536).decode()
    assert answer.startswith("HTTP/1.1 413") and "application/problem+json" in answer


def test_control_characters_are_gone_from_titles_names_and_exports(bare: Served, crates_jpeg: bytes) -> None:
    from xml.etree import ElementTree

    sheet = new_sheet(bare, crates_jpeg)
    edge = {
        "id": "e\x01",
        "kind": "edge",
        "family": "left",
        "name": "near\x00 \x1b[31mtop\ud800\n",
        "p": [10, 10],
        "q": [300, 40],
    }
    path = f"/api/sheets/{sheet['id']}"
    status, _ = tell(
        bare,
        "PUT",
        path,
        {"revision": 1, "document": sheet["document"] | {"title": "A\x00\x08 title", "sightings": [edge]}},
    )
    assert status == 200
    document = tell(bare, "GET", path)[1]["document"]
    assert (document["title"], document["sightings"][0]["name"], document["sightings"][0]["id"]) == (
        "A title",
        "near [31mtop ",
        "e",
    )
    ElementTree.fromstring(ask(bare, "GET", f"{path}/export/overlay.svg")[2])
    assert b"\0" not in ask(bare, "GET", f"{path}/export/findings.csv")[2]


def test_pictures_are_asked_for_again_and_answered_in_short(bare: Served, crates_jpeg: bytes) -> None:
    path = f"/api/pictures/{upload(bare, crates_jpeg)['id']}/view.jpg"
    _, headers, _ = ask(bare, "GET", path)
    assert headers["Cache-Control"] == "private, no-cache"
    status, _, body = ask(bare, "GET", path, None, **{"If-None-Match": headers["ETag"]})
    assert (status, body) == (304, b"")


def modes(folder: Path) -> set[int]:
    return {stat.S_IMODE(path.stat().st_mode) for path in [folder, *folder.rglob("*")]}


def test_the_data_folder_is_its_owners_alone(bare: Served, crates_jpeg: bytes) -> None:
    new_sheet(bare, crates_jpeg)
    assert modes(bare.folder) == {0o700, 0o600}
    bare.stop()
    for path in [bare.folder, *bare.folder.rglob("*")]:
        path.chmod(0o755 if path.is_dir() else 0o644)
    (bare.folder / "notes.txt").write_text("not Aspectum's")
    bare.start()
    (bare.folder / "notes.txt").unlink()
    assert modes(bare.folder) == {0o700, 0o600}


def serve(data: Path, limit_files: bool = False) -> subprocess.CompletedProcess[str]:
    def full_disk() -> None:
        """No file may grow: to SQLite and the file system calls as a full disk."""
        resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))

    command = [str(Path(sys.executable).parent / "aspectum"), "serve", "--port", "0", "--data", str(data)]
    return subprocess.run(
        command,
        capture_output=True,
        text=True,
        timeout=60,
        preexec_fn=full_disk if limit_files else None,
        env=os.environ,
    )


@pytest.mark.parametrize("how", ["full", "a file"])
def test_a_start_where_nothing_can_be_written_is_one_line(tmp_path: Path, how: str) -> None:
    if how == "a file":
        (tmp_path / "data").write_text("in the way")
    result = serve(tmp_path / "data", limit_files=how == "full")
    assert result.returncode == 1 and "Traceback" not in result.stderr
    assert len(result.stderr.strip().splitlines()) == 1
    assert "cannot be used" in result.stderr and "--data" in result.stderr


def test_photos_are_opened_one_after_another_and_say_where_they_stand(bare: Served, crates_jpeg: bytes) -> None:
    turns = bare.app.extensions["aspectum"].photos
    with ThreadPoolExecutor(1) as pool:
        with turns.turn("ticket-before"):
            waiting = pool.submit(
                ask,
                bare,
                "POST",
                "/api/pictures?name=x.jpg&ticket=ticket-mine",
                crates_jpeg,
                "application/octet-stream",
            )
            until = time.monotonic() + 10
            while (
                tell(bare, "GET", "/api/pictures/turn?ticket=ticket-mine")[1]["ahead"] != 1 and time.monotonic() < until
            ):
                time.sleep(0.05)
            assert tell(bare, "GET", "/api/pictures/turn?ticket=ticket-mine")[1] == {"ahead": 1}
            assert not waiting.done()
        assert waiting.result(timeout=30)[0] == 200
    assert tell(bare, "GET", "/api/pictures/turn?ticket=ticket-mine")[1] == {"ahead": None}


def test_too_many_photos_at_once_are_asked_to_come_again(bare: Served, crates_jpeg: bytes) -> None:
    turns = bare.app.extensions["aspectum"].photos
    release = threading.Event()

    def hold(k: int) -> None:
        with turns.turn(f"ticket-{k}"):
            release.wait(30)

    most = MOST_WAITING + 1
    with ThreadPoolExecutor(most) as pool:
        held = [pool.submit(hold, k) for k in range(most)]
        until = time.monotonic() + 10
        while any(turns.ahead_of(f"ticket-{k}") is None for k in range(most)) and time.monotonic() < until:
            time.sleep(0.02)
        status, headers, _ = ask(bare, "POST", "/api/pictures", crates_jpeg, "application/octet-stream")
        release.set()
        for task in held:
            task.result(timeout=30)
    assert status == 503 and headers["Retry-After"] == "5"


def test_the_description_served_is_the_one_in_the_docs_and_needs_no_network(bare: Served) -> None:
    served = tell(bare, "GET", "/api/docs/openapi.json")[1]
    assert served == json.loads((ROOT / "aspectum" / "web" / "openapi.json").read_text())
    assert ask(bare, "GET", "/api/docs/swagger")[0] == 404
    save = served["paths"]["/api/sheets/{sheet_id}"]["put"]["responses"]
    assert set(save) == {"200", "401", "403", "404", "409", "413", "415", "421", "422", "503", "507"}
    assert save["409"] == {"$ref": "#/components/responses/Problem409"}
    assert set(served["components"]["responses"]["Problem409"]["content"]) == {"application/problem+json"}


@pytest.mark.parametrize(
    ("method", "path", "allowed"),
    [
        ("PATCH", "/api/sheets", "GET, HEAD, OPTIONS, POST"),
        ("GET", "/api/check", "OPTIONS, POST"),
        ("DELETE", "/api/worksheets/exercises", "GET, HEAD, OPTIONS"),
    ],
)
def test_a_wrong_method_is_told_the_right_ones(bare: Served, method: str, path: str, allowed: str) -> None:
    status, headers, _ = ask(bare, method, path)
    assert status == 405 and ", ".join(sorted(headers["Allow"].split(", "))) == allowed
    assert ask(bare, "PUT", "/api/nothing", b"{}")[0] == 404
