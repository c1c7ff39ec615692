"""A class at once: connections that only wait, checks that overtake, saves ahead of checks, and two servers on one
folder.
"""

from __future__ import annotations

import json
import os
import signal
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack, contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pytest

from aspectum.demo.fill import SHEETS
from aspectum.formats.sheet import SightingSheet
from aspectum.service.paper import after_save
from aspectum.service.people.people import person_here
from aspectum.service.runtime.computing import MOST_OF_ONE
from aspectum.service.runtime.photo_queue import PhotoQueue
from aspectum.service.runtime.tries import BY_NAME
from aspectum.service.sheets import checking
from aspectum.store.models import Reading
from aspectum.web import serving
from tests.conftest import Served
from tests.databases import copy_folder, only_sqlite
from tests.school import OTHER, PASSPHRASE, STUDENT, School
from tests.wire import ask, new_sheet, tell

CRATES = json.loads((SHEETS / "1-crates.sighting.json").read_bytes())


def until(so: Callable[[], bool], seconds: float = 10.0) -> bool:
    end = time.monotonic() + seconds
    while not so() and time.monotonic() < end:
        time.sleep(0.02)
    return so()


class Held:
    """Stands in for something that is computed, and goes on when it is let go."""

    def __init__(self, function: Callable[..., Any]) -> None:
        self.function, self.begun, self.gate = function, 0, threading.Event()
        self.__name__ = function.__name__

    def __call__(self, *args: Any) -> Any:
        self.begun += 1
        self.gate.wait(20)
        return self.function(*args)


@pytest.fixture
def held_check(monkeypatch: pytest.MonkeyPatch) -> Iterator[Held]:
    held = Held(checking.checked_json)
    monkeypatch.setattr("aspectum.web.api.checking.checked_json", held)
    yield held
    held.gate.set()


def check(server: Served, page: str | None = None) -> tuple[int, dict[str, Any]]:
    return tell(server, "POST", "/api/check", {"document": CRATES, "page": page})


def waiting(server: Served) -> int:
    return int(server.app.extensions["aspectum"].computing.admitted)


def test_a_server_answers_beside_hundreds_of_connections_that_say_nothing(empty: Served) -> None:
    with ExitStack() as stack:
        for _ in range(300):
            stack.enter_context(socket.create_connection(("127.0.0.1", empty.port), timeout=10))
        assert ask(empty, "GET", "/api/health")[0] == 200
        half = stack.enter_context(socket.create_connection(("127.0.0.1", empty.port), timeout=10))
        half.sendall(
            b"POST /api/check HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\nContent-Length: "
            b"1000\r\n\r\n{"
        )
        assert ask(empty, "GET", "/api/health")[0] == 200


def test_a_connection_that_says_nothing_is_let_go_in_the_middle_of_a_request_too(
    fresh: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(serving, "QUIET_S", 1)
    monkeypatch.setattr(serving, "LOOKED_EVERY_S", 1)
    copy_folder(fresh, tmp_path)
    server = Served(tmp_path)
    with ExitStack() as stack:
        stack.callback(server.stop)
        quiet = stack.enter_context(socket.create_connection(("127.0.0.1", server.port), timeout=20))
        quiet.sendall(b"POST /api/check HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 1000\r\n\r\n{")
        assert quiet.recv(1) == b""


def test_a_pages_newer_check_overtakes_the_one_that_waits(empty: Served, held_check: Held) -> None:
    with ThreadPoolExecutor(4) as pool:
        running = pool.submit(check, empty)
        until(lambda: held_check.begun == 1)
        older, other = pool.submit(check, empty, "page-one-of-two"), pool.submit(check, empty, "page-two-of-two")
        until(lambda: waiting(empty) == 3)
        newer = pool.submit(check, empty, "page-one-of-two")
        status, told = older.result(20)
        assert status == 503 and "newer question" in told["detail"]
        held_check.gate.set()
        assert [one.result(20)[0] for one in (running, other, newer)] == [200, 200, 200]
    assert held_check.begun == 3


def test_an_answer_says_how_long_a_check_of_the_same_person_would_wait_for_others(
    school: School, monkeypatch: pytest.MonkeyPatch
) -> None:
    waits_s = {school.ids[STUDENT]: 0.25, school.ids[OTHER]: 0.0}
    monkeypatch.setattr(school.app.extensions["aspectum"].computing, "wait_s", waits_s.get)
    told = [
        school.of(who).post("/api/check", json={"document": CRATES}).headers["Server-Timing"]
        for who in (STUDENT, OTHER)
    ]
    assert told == ["queue;dur=250", "queue;dur=0"]
    assert "Server-Timing" not in school.of(STUDENT).get("/api/sheets").headers, "a list is not computed"


def test_who_asks_alone_is_not_told_to_wait(empty: Served, held_check: Held) -> None:
    def told(page: str) -> str:
        return str(
            ask(empty, "POST", "/api/check", json.dumps({"document": CRATES, "page": page}).encode())[1][
                "Server-Timing"
            ]
        )

    with ThreadPoolExecutor(3) as pool:
        asked = [pool.submit(told, f"page-{name}-of-three") for name in ("one", "two", "three")]
        until(lambda: waiting(empty) == 3)
        held_check.gate.set()
        assert {answer.result(20) for answer in asked} == {"queue;dur=0"}


def test_one_persons_checks_have_an_end_and_the_answer_says_when_to_come_again(empty: Served, held_check: Held) -> None:
    with ThreadPoolExecutor(MOST_OF_ONE) as pool:
        asked = [pool.submit(check, empty) for _ in range(MOST_OF_ONE)]
        until(lambda: waiting(empty) == MOST_OF_ONE)
        status, headers, _ = ask(empty, "POST", "/api/check", json.dumps({"document": CRATES}).encode())
        assert status == 503 and headers["Retry-After"]
        held_check.gate.set()
        assert {one.result(20)[0] for one in asked} == {200}


def test_a_save_goes_ahead_of_the_checks_that_wait_and_is_on_the_disk_before_its_report_is_made(
    empty: Served, held_check: Held, crates_jpeg: bytes, monkeypatch: pytest.MonkeyPatch
) -> None:
    sheet = new_sheet(empty, crates_jpeg)
    order: list[str] = []

    def noted(*args: Any) -> Any:
        order.append("save" if stored() == 2 else "save, not stored yet")
        return after_save.after_save(*args)

    def stored() -> int:
        return int(tell(empty, "GET", "/api/sheets")[1]["sheets"][0]["revision"])

    monkeypatch.setattr("aspectum.web.api.sheets.after_save", noted)
    before = waiting(empty)
    with ThreadPoolExecutor(4) as pool:
        checks = [pool.submit(check, empty) for _ in range(3)]
        until(lambda: waiting(empty) == before + 3)
        body = {"revision": 1, "document": sheet["document"] | {"title": "Saved"}}
        save = pool.submit(tell, empty, "PUT", f"/api/sheets/{sheet['id']}", body)
        assert until(lambda: stored() == 2)
        assert not save.done() and order == []
        held_check.gate.set()
        assert save.result(20)[0] == 200
        order.append(f"{held_check.begun} checks begun")
        assert {one.result(20)[0] for one in checks} == {200}
    assert order[0] == "save" and held_check.begun == 3


def test_an_older_saves_readings_do_not_follow_a_newer_one(empty: Served, crates_jpeg: bytes) -> None:
    here = empty.app.extensions["aspectum"]
    sheet = new_sheet(empty, crates_jpeg)
    document = sheet["document"] | {
        "sightings": [s | {"judged_tilt_deg": 10.0} for s in CRATES["sightings"] if s["kind"] == "edge"],
        "forms": CRATES["forms"],
    }
    assert tell(empty, "PUT", f"/api/sheets/{sheet['id']}", {"revision": 1, "document": document})[0] == 200
    late = after_save.AfterSave(checking.unchecked(SightingSheet()), [], None)
    counts = []
    for revision in (1, 2):  # of the save before, and of the one that is stored
        with here.sessions.begin() as session:
            after_save.record_saved(session, person_here(session), sheet["id"], revision, late)
            session.flush()
            counts.append(session.query(Reading).count())
    assert counts[0] > 5 and counts[1] == 0


# --- two servers on one folder
# ----------------------------------------------------------------------------------------------------


@pytest.fixture
def two(tmp_path: Path, first_school: School) -> Iterator[tuple[Served, Served]]:
    """The school behind two servers."""
    copy_folder(first_school.folder, tmp_path)
    servers = (Served(tmp_path), Served(tmp_path))
    yield servers
    for server in servers:
        server.stop()


def test_tries_are_counted_by_all_servers_together(two: tuple[Served, Served]) -> None:
    wrong = {"name": "Fenja", "passphrase": "not the words"}
    statuses = [tell(two[k % 2], "POST", "/api/sign-in", wrong)[0] for k in range(BY_NAME.most + 1)]
    assert statuses == [403] * BY_NAME.most + [429]
    assert tell(two[0], "POST", "/api/sign-in", wrong | {"passphrase": PASSPHRASE})[0] == 429


def test_who_signed_in_at_one_server_is_signed_in_at_the_other_and_saves_there_are_seen(
    two: tuple[Served, Served],
) -> None:
    _, headers, _ = ask(
        two[0], "POST", "/api/sign-in", json.dumps({"name": "Fenja", "passphrase": PASSPHRASE}).encode()
    )
    cookie = {"Cookie": headers["Set-Cookie"].split(";")[0]}

    def by(server: Served, method: str, path: str, content: Any = None) -> tuple[int, Any]:
        status, _, body = ask(server, method, path, None if content is None else json.dumps(content).encode(), **cookie)
        return status, json.loads(body)

    _, line = by(two[0], "POST", "/api/sheets", {"title": "From life"})
    document = by(two[1], "GET", f"/api/sheets/{line['id']}")[1]["document"]
    with ThreadPoolExecutor(8) as pool:
        body = {"revision": 1, "document": document}
        answers = list(pool.map(lambda k: by(two[k % 2], "PUT", f"/api/sheets/{line['id']}", body), range(8)))
    assert sorted(status for status, _ in answers) == [200] + [409] * 7


def test_photos_are_opened_one_after_another_by_all_servers_together(two: tuple[Served, Served]) -> None:
    at_it: list[int] = []
    most = [0]

    def opened(k: int) -> None:
        turns: PhotoQueue = two[k % 2].app.extensions["aspectum"].photos
        with turns.turn(f"ticket-{k:08d}"):
            at_it.append(k)
            most[0] = max(most[0], len(at_it))
            time.sleep(0.05)
            at_it.remove(k)

    with ThreadPoolExecutor(8) as pool:
        list(pool.map(opened, range(8)))
    assert most[0] == 1


def test_a_photos_place_in_the_queue_is_told_by_either_server_and_a_killed_one_holds_up_nobody(
    two: tuple[Served, Served],
) -> None:
    here, there = (server.app.extensions["aspectum"].photos for server in two)

    def seen_in_turn() -> tuple[int | None, int | None]:
        with here.turn("ticket-mine"):
            return there.ahead_of("ticket-mine"), there.ahead_of("ticket-of-it")

    program = "import sys, time, pathlib\nfrom aspectum.service.runtime.photo_queue import PhotoQueue\n"
    program += "with PhotoQueue(pathlib.Path(sys.argv[1])).turn('ticket-of-it'):\n"
    program += "    print('at it', flush=True); time.sleep(60)"
    other = subprocess.Popen([sys.executable, "-c", program, str(here.folder)], stdout=subprocess.PIPE, text=True)
    assert other.stdout is not None and other.stdout.readline() == "at it\n"
    with ThreadPoolExecutor(1) as pool:
        entered = pool.submit(seen_in_turn)
        assert until(lambda: there.ahead_of("ticket-mine") == 1) and not entered.done()
        other.kill()
        other.communicate()
        assert entered.result(10) == (0, None)


# --- the command
# ----------------------------------------------------------------------------------------------------


@contextmanager
def running(command: list[str]) -> Iterator[subprocess.Popen[str]]:
    """A server that does not outlive a test that fails."""
    with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True) as server:
        try:
            yield server
        finally:
            server.kill()


def computing_beside(pid: int) -> list[int]:
    """Processes that compute beside a server."""
    children = {c for path in Path(f"/proc/{pid}/task").glob("*/children") for c in path.read_text().split()}
    return [int(c) for c in children if "aspectum.computing_process" in Path(f"/proc/{c}/cmdline").read_text()]


def alive(pid: int) -> bool:
    try:
        return Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0] != "Z"
    except OSError:
        return False


@dataclass
class At:
    url: str


@only_sqlite
@pytest.mark.parametrize("end", [signal.SIGTERM, signal.SIGKILL])
def test_what_computes_beside_a_server_is_begun_anew_when_it_is_lost_and_ends_with_it(
    tmp_path: Path, end: signal.Signals
) -> None:
    command = [
        str(Path(sys.executable).parent / "aspectum"),
        "serve",
        "--port",
        "0",
        "--data",
        str(tmp_path),
        "--processes",
        "1",
    ]
    with running(command) as server:
        assert server.stdout is not None
        at = At(server.stdout.readline().split(" at ")[1].split("/  ")[0])
        assert tell(at, "POST", "/api/check", {"document": CRATES})[1]["findings"]
        (first,) = computing_beside(server.pid)
        os.kill(first, signal.SIGKILL)
        assert tell(at, "POST", "/api/check", {"document": CRATES})[1]["findings"]
        (second,) = computing_beside(server.pid)
        assert second != first and alive(second)
        server.send_signal(end)
        assert server.wait(20) == (0 if end is signal.SIGTERM else -signal.SIGKILL)
        assert until(lambda: not alive(second))
