"""A class at work, for as long as a lesson's busiest part. Run with ``make load``.

Everybody keeps six connections, as a browser does. A student drags a sighting for some seconds, each drag asking for
checks one after another as the page does, saves, looks, and goes on; now and then a drawing is photographed and brought
in, and the tutor asks the room. Within one minute everybody hands in, and the tutor opens the pieces and gives them
back meanwhile. Seeded. It fails where a check's 95th percentile is over 200 ms, anything took over 5 s that a person
waits for, or an acknowledged save is not there in the end.
"""

from __future__ import annotations

import argparse
import asyncio
import io
import json
import os
import random
import subprocess
import sys
import tempfile
import time
from collections import defaultdict
from collections.abc import AsyncIterator, Callable
from contextlib import ExitStack, asynccontextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import numpy as np
from PIL import Image
from sqlalchemy import select

from aspectum.demo.fill import DRAWINGS_FOLDER, PHOTOS, SHEETS
from aspectum.service.school.classes import join, one_more_tutor
from aspectum.settings import settings_from_environment
from aspectum.store.database import migrate, open_engine, session_factory
from aspectum.store.models import Sheet

CONNECTIONS = 6
REST_TIMES, LONGEST_REST_S = 16, 2.0  # as the page: it rests so many times what the server says that a check would wait
DRAG_S, LOOK_S = (1.5, 4.0), (2.0, 6.0)
ROOM_FIRST_S, ROOM_EVERY_S, ROOM_FOR_S = 20.0, 150.0, 25.0
HAND_IN_FROM, HAND_IN_FOR_S = 0.4, 60.0  # a share of the lesson, and how long from then on, or to its end
REVIEW_S = 1.0  # between two pieces
PATIENCE_S = 120.0  # as a page waits for its photo
PASSPHRASE = "tern rope lantern"
CHECK_S, LONGEST_S = 0.2, 5.0  # the issue's: of a check, 95 of 100; of anything but a photo
LOADED = {"photo", "paper", "drawing"}  # opened one after another, with the place in the queue told meanwhile
BIN = Path(sys.executable).parent


@dataclass
class Measured:
    """How long each kind of question took, and what went wrong."""

    seconds: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    faults: dict[str, int] = field(default_factory=lambda: defaultdict(int))

    def report(self) -> list[str]:
        """Lines of a table, and what went wrong."""
        lines = [f"{'':10}{'asked':>8}{'median':>10}{'95 %':>10}{'99 %':>10}{'longest':>10}"]
        for what, times in sorted(self.seconds.items()):
            middle, late, later = np.percentile(times, [50, 95, 99]) * 1e3
            lines.append(f"{what:10}{len(times):8}{middle:7.0f} ms{late:7.0f} ms{later:7.0f} ms{max(times):8.2f} s")
        return lines + [f"{count} × {fault}" for fault, count in sorted(self.faults.items())]

    def late(self) -> list[str]:
        """What took longer than a person is to wait."""
        late = [what for what, times in self.seconds.items() if what not in LOADED and max(times) > LONGEST_S]
        return late + ["check"] * (float(np.percentile(self.seconds["check"], 95)) > CHECK_S)


class Browser:
    """Six connections to one server, kept open, and a cookie."""

    def __init__(self, url: str, measured: Measured) -> None:
        self.host, self.measured = urlsplit(url), measured
        self.idle: asyncio.Queue[tuple[asyncio.StreamReader, asyncio.StreamWriter] | None] = asyncio.Queue()
        for _ in range(CONNECTIONS):
            self.idle.put_nowait(None)
        self.cookie, self.queue_s = "", 0.0

    async def open_all(self) -> None:
        """Connect all six, as a page does that loads its parts."""
        for _ in range(CONNECTIONS):
            await self.idle.get()
            self.idle.put_nowait(await asyncio.open_connection(self.host.hostname, self.host.port))

    @asynccontextmanager
    async def connection(self) -> AsyncIterator[tuple[asyncio.StreamReader, asyncio.StreamWriter]]:
        kept = await self.idle.get()
        back = None
        try:
            if kept is not None and (
                kept[0].at_eof() or kept[0].exception() or kept[1].is_closing()
            ):  # quiet for long, and let go by the server meanwhile
                kept[1].close()
                kept = None
            if kept is None:
                kept = await asyncio.open_connection(self.host.hostname, self.host.port)
            yield kept
            back = kept
        finally:
            if back is None and kept is not None:
                kept[1].close()
            self.idle.put_nowait(back)

    async def close(self) -> None:
        """Let go of all six."""
        for _ in range(CONNECTIONS):
            kept = await self.idle.get()
            if kept is not None:
                kept[1].close()
        await asyncio.sleep(0)  # in which they are closed

    async def ask(
        self, what: str, method: str, path: str, body: bytes = b"", media: str = "application/json"
    ) -> tuple[int, Any]:
        """Status and JSON of an answer; ``what``: under which name its time is kept."""
        start = time.perf_counter()
        head = (
            f"{method} {path} HTTP/1.1\r\nHost: {self.host.netloc}\r\nCookie: {self.cookie}\r\nContent-Type: "
            f"{media}\r\nContent-Length: {len(body)}\r\n\r\n"
        )
        for last in (False, True):
            try:
                async with asyncio.timeout(PATIENCE_S), self.connection() as (reader, writer):
                    writer.write(head.encode() + body)
                    await writer.drain()
                    status, content = await self.answer(reader)
                break
            except (OSError, asyncio.IncompleteReadError):
                # let go in the very moment in which it was used; a browser asks once more
                if last:
                    self.measured.faults[f"{what}: no answer"] += 1
                    return 0, {}
        self.measured.seconds[what].append(time.perf_counter() - start)
        if status >= 300:
            self.measured.faults[f"{what}: {status} {content}"[:160]] += 1
        return status, content

    async def answer(self, reader: asyncio.StreamReader) -> tuple[int, Any]:
        head = (await reader.readuntil(b"\r\n\r\n")).decode("latin-1").split("\r\n")
        fields = {name.lower(): value.strip() for name, _, value in (line.partition(":") for line in head[1:])}
        content = await reader.readexactly(int(fields.get("content-length", "0")))
        if "set-cookie" in fields:
            self.cookie = fields["set-cookie"].split(";")[0]
        if "server-timing" in fields:
            self.queue_s = float(fields["server-timing"].removeprefix("queue;dur=")) / 1000
        return int(head[0].split()[1]), json.loads(content) if "json" in fields.get("content-type", "") else content

    async def tell(self, what: str, method: str, path: str, content: Any) -> tuple[int, Any]:
        return await self.ask(what, method, path, json.dumps(content).encode())


def crates() -> dict[str, Any]:
    """The demo's sheet of crates."""
    found: dict[str, Any] = json.loads((SHEETS / "1-crates.sighting.json").read_bytes())
    return found


@dataclass
class Student:
    """One student on a sheet of the demo; ``saved``: the last acknowledged revision of it and the title that it was
    saved with.
    """

    name: str
    browser: Browser
    rng: random.Random
    class_id: str
    page: bytes
    relentless: bool
    hands_in_after_s: float
    sheet: dict[str, Any] = field(default_factory=dict)
    saved: tuple[int, str] = (1, "")

    async def begin(self, source: Path, photo: Path | None) -> None:
        await self.browser.tell("sign-in", "POST", "/api/sign-in", {"name": self.name, "passphrase": PASSPHRASE})
        picture = None
        if photo is not None:
            _, picture = await self.browser.ask(
                "photo", "POST", "/api/pictures?name=photo.jpg", photo.read_bytes(), "image/jpeg"
            )
        document = json.loads(source.read_bytes())
        _, line = await self.browser.tell(
            "make", "POST", "/api/sheets", {"picture_id": picture and picture["id"], "document": document}
        )
        _, self.sheet = await self.browser.ask("open", "GET", f"/api/sheets/{line['id']}")
        self.saved = (self.sheet["revision"], self.sheet["document"]["title"])
        await self.browser.open_all()

    async def work(self, going: Callable[[], bool], tutor: Tutor) -> None:
        drawing_at, hands_in_at = time.monotonic() + self.rng.uniform(20, 400), time.monotonic() + self.hands_in_after_s
        await asyncio.sleep(self.rng.uniform(0, 5))
        while going():
            if time.monotonic() > hands_in_at and tutor.assignment:
                hands_in_at = float("inf")
                await self.hand_in(tutor.assignment)
            elif tutor.asking:
                await self.answer_room(lambda: tutor.asking)
            elif time.monotonic() > drawing_at:
                drawing_at = float("inf")
                await self.bring_drawing()
            else:
                await self.drag(self.rng.uniform(*DRAG_S))
                await self.save()
                if not self.relentless:
                    await asyncio.sleep(self.rng.uniform(*LOOK_S))

    async def drag(self, seconds: float) -> None:
        """Move one end of an edge, and ask for a check whenever the last one is answered."""
        edges = [s for s in self.sheet["document"]["sightings"] if s.get("q")]
        moved = self.rng.choice(edges)["q"] if edges else [0, 0]
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            moved[0] += self.rng.uniform(-2, 2)
            await self.browser.tell(
                "check", "POST", "/api/check", {"document": self.sheet["document"], "page": f"page-{id(self)}"}
            )
            await asyncio.sleep(
                min(max(1 / 60, REST_TIMES * self.browser.queue_s), LONGEST_REST_S)
            )  # no sooner than the hand has moved on

    async def save(self) -> None:
        title = f"after {self.saved[0]}"
        self.sheet["document"]["title"] = title
        body = {"revision": self.saved[0], "document": self.sheet["document"]}
        status, answer = await self.browser.tell("save", "PUT", f"/api/sheets/{self.sheet['id']}", body)
        if status == 200:
            self.saved = (answer["revision"], title)

    async def hand_in(self, assignment: str) -> None:
        """Begin what is set, sight it, and hand it in."""
        _, begun = await self.browser.ask("begin", "POST", f"/api/assignments/{assignment}/begin")
        _, full = await self.browser.ask("open", "GET", f"/api/sheets/{begun['sheet_id']}")
        document = full["document"] | {key: crates()[key] for key in ("forms", "sightings")}
        await self.browser.tell(
            "save", "PUT", f"/api/sheets/{begun['sheet_id']}", {"revision": full["revision"], "document": document}
        )
        await self.browser.tell(
            "hand in", "POST", f"/api/assignments/{assignment}/hand-in", {"note": "Eye level first."}
        )

    async def bring_drawing(self) -> None:
        """Photograph a drawing, find its corners, and have it flattened."""
        status, picture = await self.browser.ask(
            "photo", "POST", "/api/pictures?name=drawing.jpg", self.page, "image/jpeg"
        )
        if status != 200:
            return
        status, found = await self.browser.tell("paper", "POST", "/api/paper/find", {"picture_id": picture["id"]})
        if status == 200:
            corners = found["corners"] or [
                [0, 0],
                [picture["width_px"], 0],
                [picture["width_px"], picture["height_px"]],
                [0, picture["height_px"]],
            ]
            body = {"photo_id": picture["id"], "corners": corners, "paper_mm": [420, 297], "subject_id": None}
            await self.browser.tell("drawing", "POST", "/api/drawings", body)

    async def answer_room(self, room: Callable[[], bool]) -> None:
        thinks = time.monotonic() + self.rng.uniform(4, 15)
        while room():
            status, seen = await self.browser.ask("room", "GET", f"/api/classes/{self.class_id}/room")
            question = seen.get("question") if status == 200 else None
            if question and not seen["mine"] and not seen["stopped"] and time.monotonic() > thinks:
                await self.browser.tell(
                    "answer",
                    "POST",
                    f"/api/room/{question['id']}/answer",
                    {"value": round(self.rng.gauss(10, 4), 1), "seconds": 6.0},
                )
            await asyncio.sleep(1.0)


class Tutor:
    """Asks the room now and then, and watches it being answered; sets an assignment, and reviews what comes in."""

    def __init__(self, browser: Browser, class_id: str) -> None:
        self.browser, self.class_id, self.asking, self.assignment = browser, class_id, False, ""
        self.counted: list[int] = []
        self.reviewed: set[str] = set()

    async def work(self, going: Callable[[], bool]) -> None:
        await self.browser.tell("sign-in", "POST", "/api/sign-in", {"name": "Maren", "passphrase": PASSPHRASE})
        _, picture = await self.browser.ask(
            "photo", "POST", "/api/pictures?name=photo.jpg", (PHOTOS / "crates.jpg").read_bytes(), "image/jpeg"
        )
        _, sheet = await self.browser.tell(
            "make", "POST", "/api/sheets", {"picture_id": picture["id"], "document": crates()}
        )
        await self.set_assignment(sheet["id"])
        ask_at = time.monotonic() + ROOM_FIRST_S
        while going():
            if time.monotonic() > ask_at:
                ask_at += ROOM_EVERY_S
                await self.ask_room(sheet["id"])
            await self.review()
            await asyncio.sleep(REVIEW_S)

    async def set_assignment(self, sheet: str) -> None:
        """A photo, of which the sightings are handed in."""
        _, found = await self.browser.ask("set", "GET", "/api/assignment-templates")
        wanted = found["templates"][0]["assignment"] | {
            "subject": "photo",
            "sheet_id": sheet,
            "stand_id": None,
            "hand_in": ["sightings"],
        }
        _, made = await self.browser.tell("set", "POST", f"/api/classes/{self.class_id}/assignments", wanted)
        self.assignment = made["id"]

    async def review(self) -> None:
        """Open one piece that came in, and give it back."""
        _, board = await self.browser.ask("board", "GET", f"/api/classes/{self.class_id}/board")
        waiting = [
            cell["piece"]["hand_in_id"]
            for cell in board["cells"]
            if cell["piece"] and cell["piece"]["hand_in_id"] not in self.reviewed
        ]
        if waiting:
            self.reviewed.add(waiting[0])
            await self.browser.ask("piece", "GET", f"/api/hand-ins/{waiting[0]}")
            said = {"mark": "B", "word": "Look at the far edges.", "remarks": [], "returned": True}
            await self.browser.tell("review", "PUT", f"/api/hand-ins/{waiting[0]}/review", said)

    async def ask_room(self, sheet: str) -> None:
        _, found = await self.browser.ask(
            "room", "GET", f"/api/classes/{self.class_id}/room/askable?over=sheet&id={sheet}"
        )
        about = next(line["about"] for line in found["askable"] if "edges" in line["words"])
        _, asked = await self.browser.tell(
            "room", "POST", f"/api/classes/{self.class_id}/room", {"over": "sheet", "id": sheet, "about": about}
        )
        self.asking, question, end = True, asked["question"]["id"], time.monotonic() + ROOM_FOR_S
        while time.monotonic() < end:
            await asyncio.sleep(0.7)
            _, answers = await self.browser.ask("answers", "GET", f"/api/room/{question}/answers?who=false")
        self.asking = False
        self.counted.append(answers["count"])
        await self.browser.ask("room", "POST", f"/api/room/{question}/tell")


def photographed() -> bytes:
    """A drawing as a telephone photographs it: twelve megapixels."""
    with Image.open(DRAWINGS_FOLDER / "crates.jpg") as image:
        large = io.BytesIO()
        image.resize((4000, round(4000 * image.height / image.width))).save(large, "JPEG", quality=88)
    return large.getvalue()


async def lesson(
    urls: list[str], class_id: str, names: list[str], how: argparse.Namespace, measured: Measured, speeds: list[float]
) -> list[Student]:
    page = photographed()
    sources = [path for path in sorted(SHEETS.glob("*.sighting.json")) if json.loads(path.read_bytes()).get("picture")]
    students = []
    for k, name in enumerate(names):
        browser = Browser(urls[k % len(urls)], measured)
        rng = random.Random(how.seed + k)
        begins = HAND_IN_FROM * how.seconds
        students.append(
            Student(
                name,
                browser,
                rng,
                class_id,
                page,
                how.relentless,
                rng.uniform(begins, min(begins + HAND_IN_FOR_S, 0.8 * how.seconds)),
            )
        )
    for k, student in enumerate(students):
        source = sources[k % len(sources)]
        await student.begin(source, PHOTOS / json.loads(source.read_bytes())["picture"]["file"])
    tutor = Tutor(Browser(urls[0], measured), class_id)
    print(f"{len(students)} students on {len(urls)} server(s) for {how.seconds:.0f} s", flush=True)
    measured.seconds.clear()
    end = time.monotonic() + how.seconds
    going = lambda: time.monotonic() < end  # noqa: E731
    await asyncio.gather(
        tutor.work(going), watch_speed(going, speeds), *(student.work(going, tutor) for student in students)
    )
    for browser in (tutor.browser, *(student.browser for student in students)):
        await browser.close()
    if not tutor.reviewed:
        measured.faults["nothing was handed in and given back"] += 1
    short = [count for count in tutor.counted if count < len(students)]
    if short:
        measured.faults[f"a room's answers were counted {short} of {len(students)}"] += 1
    return students


def stolen_s() -> float:
    """Seconds that other machines on the same hardware took of this one's processors since it started, where Linux
    tells.
    """
    ticks = Path("/proc/stat").read_text().split("\n")[0].split()
    return int(ticks[8]) / os.sysconf("SC_CLK_TCK")


def speed() -> float:
    """Milliseconds of a processor that a million additions take here and now: what all the other figures are to be read
    by. It adds a tenth of them up, and leaves out what the rest of the lesson takes of the processors meanwhile.
    """
    start, total = time.thread_time(), 0
    for k in range(100_000):
        total += k
    return 1e4 * (time.thread_time() - start)


async def watch_speed(going: Callable[[], bool], found: list[float]) -> None:
    """``speed`` every five seconds."""
    while going():
        found.append(speed())
        await asyncio.sleep(5.0)


def of_process(pid: int) -> tuple[float, float]:
    """Seconds that a process took of a processor, and those that its ended children took."""
    ticks = Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[11:15]
    own_user, own_system, theirs_user, theirs_system = (int(tick) / os.sysconf("SC_CLK_TCK") for tick in ticks)
    return own_user + own_system, theirs_user + theirs_system


class Server:
    """``aspectum serve`` as a school runs it behind a proxy."""

    def __init__(self, data: Path, processes: int) -> None:
        command = [
            str(BIN / "aspectum"),
            "serve",
            "--port",
            "0",
            "--data",
            str(data),
            "--proxy",
            "127.0.0.1",
            "--processes",
            str(processes),
        ]
        self.process = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
        assert self.process.stdout is not None
        self.url = self.process.stdout.readline().split(" at ")[1].split("/  ")[0]

    def processor_s(self) -> dict[str, float]:
        """Seconds of a processor that the server, those that compute beside it, and what is done with already took."""
        own = of_process(self.process.pid)
        beside = [
            of_process(int(pid))
            for path in Path(f"/proc/{self.process.pid}/task").glob("*/children")
            for pid in path.read_text().split()
        ]
        return {"server": own[0], "computing": sum(one[0] for one in beside), "photos": own[1]}

    def __enter__(self) -> Server:
        return self

    def __exit__(self, *_: object) -> None:
        self.process.terminate()
        self.process.wait()


def main() -> int:
    asked = argparse.ArgumentParser()
    asked.add_argument("--students", type=int, default=30)
    asked.add_argument("--seconds", type=float, default=600.0)
    asked.add_argument("--servers", type=int, default=1)
    asked.add_argument("--processes", type=int, default=os.cpu_count() or 1, help="that compute, for each server")
    asked.add_argument("--relentless", action="store_true", help="everybody drags without a pause")
    asked.add_argument(
        "--untimed", action="store_true", help="on a busy machine: only what goes wrong is a fault, not what is late"
    )
    asked.add_argument("--seed", type=int, default=1126)
    how = asked.parse_args()
    with tempfile.TemporaryDirectory() as folder, ExitStack() as stack:
        settings = settings_from_environment(Path(folder))
        engine = open_engine(settings.database_url)
        migrate(engine)
        sessions, names = session_factory(engine), [f"Student {k + 1}" for k in range(how.students)]
        with sessions.begin() as session:
            _, made = one_more_tutor(session, "Maren", PASSPHRASE, "Harbour class")
            for name in names:
                join(session, made, name, PASSPHRASE)
            class_id = made.id
        servers = [stack.enter_context(Server(Path(folder), how.processes)) for _ in range(how.servers)]
        measured, start, stolen = Measured(), time.monotonic(), stolen_s()
        speeds: list[float] = []
        students = asyncio.run(lesson([server.url for server in servers], class_id, names, how, measured, speeds))
        took = time.monotonic() - start
        shares = [
            {what: round(100 * seconds / took) for what, seconds in server.processor_s().items()} for server in servers
        ]
        with sessions() as session:
            there = {sheet.id: (sheet.revision, sheet.title) for sheet in session.scalars(select(Sheet))}
        engine.dispose()
    lost = [student.name for student in students if there.get(student.sheet["id"]) != student.saved]
    late = [] if how.untimed else measured.late()
    print("\n".join(measured.report() + [f"late: {what}" for what in late]))
    print(f"per cent of one processor: {shares}, and this script {100 * time.process_time() / took:.0f}")
    share = 100 * (stolen_s() - stolen) / took / (os.cpu_count() or 1)
    fast, middle, slow = np.percentile(speeds, [5, 50, 95])
    print(
        f"a million additions took {middle:.0f} ms ({fast:.0f} to {slow:.0f} in 90 of 100); {share:.0f} % of the "
        "processors went to other machines"
    )
    print(
        f"{sum(student.saved[0] - 1 for student in students)} saves acknowledged, of {len(lost)} students the last is "
        "not there"
    )
    return 1 if measured.faults or late or lost else 0


if __name__ == "__main__":
    sys.exit(main())
