"""Whose check comes first, whose is let go, and what happens when a process that computes is lost."""

from __future__ import annotations

import os
import signal
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from pathlib import Path

import pytest

from aspectum.demo.fill import SHEETS
from aspectum.formats.reading import FormatError
from aspectum.formats.sheet import read_sheet
from aspectum.service.errors import Busy
from aspectum.service.runtime import processes
from aspectum.service.runtime.computing import MOST_OF_ONE, MOST_WAITING, Asker, Computing, InThread, Order, Overtaken
from aspectum.service.runtime.processes import Processes
from aspectum.service.sheets.checking import check_kept
from tests.alike import alike


class TwoPlaces(InThread):
    places = 2


class Queue:
    """Questions put one after another, each held until it is let go; ``begun``: their names in the order in which they
    came to be computed.
    """

    def __init__(self, computing: Computing) -> None:
        self.computing, self.pool = computing, ThreadPoolExecutor(100)
        self.begun: list[str] = []
        self.gates: dict[str, threading.Event] = {}

    def put(self, name: str, order: Order = Order.CHECK, asker: Asker | None = None) -> Future[str]:
        gate = self.gates[name] = threading.Event()

        def question() -> str:
            self.begun.append(name)
            gate.wait(10)
            return name

        before = self.computing.admitted
        asked = self.pool.submit(self.computing.run, order, asker, question)
        until(lambda: asked.done() or self.computing.admitted > before)
        return asked

    def let_go(self, name: str) -> None:
        self.gates[name].set()

    def let_all_go(self) -> None:
        for gate in self.gates.values():
            gate.set()


def until(so: Callable[[], bool]) -> None:
    end = time.monotonic() + 10
    while not so():
        assert time.monotonic() < end
        time.sleep(0.002)


@pytest.fixture
def queue() -> Iterator[Queue]:
    made = Queue(Computing())
    yield made
    made.let_all_go()
    made.pool.shutdown()


def test_a_save_goes_ahead_of_the_checks_that_wait_and_a_page_comes_last(queue: Queue) -> None:
    queue.put("running")
    asked = [
        queue.put("page", Order.PAGE),
        queue.put("first check"),
        queue.put("second check"),
        queue.put("save", Order.SAVE),
    ]
    queue.let_all_go()
    assert [one.result(10) for one in asked] == ["page", "first check", "second check", "save"]
    assert queue.begun == ["running", "save", "first check", "second check", "page"]


def test_a_pages_newer_question_overtakes_its_older_one(queue: Queue) -> None:
    queue.put("running")
    page = Asker("ilse", "page 1 check")
    older, other, newer = (
        queue.put("older", asker=page),
        queue.put("other page", asker=Asker("ilse", "page 2 check")),
        queue.put("newer", asker=page),
    )
    with pytest.raises(Overtaken):
        older.result(10)
    queue.let_all_go()
    assert newer.result(10) == "newer" and other.result(10) == "other page"
    assert "older" not in queue.begun


def test_what_is_computed_already_is_not_overtaken(queue: Queue) -> None:
    page = Asker("ilse", "page 1 check")
    running, newer = queue.put("running", asker=page), queue.put("newer", asker=page)
    queue.let_all_go()
    assert (running.result(10), newer.result(10)) == ("running", "newer")


def test_a_save_is_never_overtaken_nor_refused(queue: Queue) -> None:
    queue.put("running")
    page = Asker("ilse", "page 1 check")
    saves = [queue.put(f"save {k}", Order.SAVE, page) for k in range(MOST_OF_ONE + 2)]
    queue.let_all_go()
    assert [one.result(10) for one in saves] == [f"save {k}" for k in range(MOST_OF_ONE + 2)]


def test_one_person_cannot_fill_the_queue(queue: Queue) -> None:
    for k in range(MOST_OF_ONE):
        queue.put(f"ilse {k}", asker=Asker("ilse", f"page {k} check"))
    with pytest.raises(Busy):
        queue.put("ilse's one too many", asker=Asker("ilse")).result(10)
    fenja = queue.put("fenja", asker=Asker("fenja"))
    queue.let_all_go()
    assert fenja.result(10) == "fenja"
    again = queue.put("ilse again", asker=Asker("ilse"))
    queue.let_all_go()
    assert again.result(10) == "ilse again"


def test_the_queue_has_an_end(queue: Queue) -> None:
    queue.put("running")
    for k in range(MOST_WAITING):
        queue.put(f"check {k}", asker=Asker(f"student {k}"))
    with pytest.raises(Busy):
        queue.put("one too many", asker=Asker("late")).result(10)
    queue.put("save", Order.SAVE)
    queue.let_go("running")
    until(lambda: len(queue.begun) == 2)
    assert queue.begun == ["running", "save"]


def test_pages_to_print_leave_a_place_to_the_hands_that_move() -> None:
    queue = Queue(Computing(TwoPlaces()))
    pages = [queue.put("first page", Order.PAGE), queue.put("second page", Order.PAGE)]
    check = queue.put("check")
    until(lambda: len(queue.begun) == 2)
    assert queue.begun == ["first page", "check"]
    queue.let_all_go()
    assert [one.result(10) for one in [*pages, check]] == ["first page", "second page", "check"]
    queue.pool.shutdown()


def test_the_wait_is_told_by_what_others_have_waiting_and_what_such_questions_took() -> None:
    queue = Queue(Computing(TwoPlaces()))
    computing = queue.computing
    for _ in range(30):
        computing.run(Order.CHECK, Asker("ilse"), time.sleep, 0.02)
    assert computing.wait_s("ilse") == 0.0, "nobody waits"
    for name in ("one", "two", "three", "four"):
        queue.put(name, asker=Asker("ilse"))
    assert computing.wait_s("ilse") == 0.0, "her own questions wait for one another only"
    queue.put("opens")
    queue.put("save", Order.SAVE, Asker("fenja"))
    queue.put("page", Order.PAGE, Asker("fenja"))
    # two checks of Ilse's, a screen that opens and a save go before, two at a time; the page comes after
    assert 0.95 * 4 * 0.02 / 2 <= computing.wait_s("joost") < 5 * 4 * 0.02 / 2
    assert computing.wait_s("ilse") == pytest.approx(computing.wait_s("joost") / 2)
    queue.let_all_go()
    until(lambda: len(queue.begun) == 7)
    queue.pool.shutdown()
    assert computing.wait_s("joost") == 0.0


def test_what_fails_frees_its_place(queue: Queue) -> None:
    def fails() -> None:
        raise FormatError("cannot be")

    for _ in range(3):
        with pytest.raises(FormatError, match="cannot be"):
            queue.computing.run(Order.CHECK, Asker("ilse"), fails)


# --- in processes
# ----------------------------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def beside() -> Iterator[Processes]:
    made = Processes(1)
    yield made
    made.close()


def own_id() -> int:
    return os.getpid()


def dies() -> None:
    os.kill(os.getpid(), signal.SIGKILL)


def dies_once(mark: Path) -> str:
    if not mark.exists():
        mark.touch()
        dies()
    return "computed"


def refuses(words: str) -> None:
    raise FormatError(words)


class Unsendable(Exception):
    def __init__(self) -> None:
        super().__init__()
        self.held = threading.Lock()


def raises_what_cannot_be_sent() -> None:
    raise Unsendable


def test_a_check_in_another_process_is_the_check_itself(beside: Processes) -> None:
    sheet = read_sheet((SHEETS / "1-crates.sighting.json").read_bytes())
    assert beside.run(0, own_id) not in (os.getpid(), None)
    alike(beside.run(0, check_kept, sheet).model_dump(mode="json"), check_kept(sheet).model_dump(mode="json"))


def test_what_is_refused_in_another_process_is_told_in_its_own_words(beside: Processes) -> None:
    with pytest.raises(FormatError, match="the third edge"):
        beside.run(0, refuses, "the third edge")
    with pytest.raises(RuntimeError, match="Unsendable"):
        beside.run(0, raises_what_cannot_be_sent)
    assert beside.run(0, own_id) > 0


def test_a_question_that_kills_its_process_is_asked_once_more_and_then_given_up(
    beside: Processes, tmp_path: Path
) -> None:
    assert beside.run(0, dies_once, tmp_path / "died") == "computed"
    with pytest.raises(Busy):
        beside.run(0, dies)
    assert beside.run(0, own_id) > 0


def test_a_process_that_hangs_is_begun_anew(beside: Processes, monkeypatch: pytest.MonkeyPatch) -> None:
    before = beside.run(0, own_id)
    monkeypatch.setattr(processes, "PATIENCE_S", 0.2)
    with pytest.raises(Busy):
        beside.run(0, time.sleep, 60)
    monkeypatch.setattr(processes, "PATIENCE_S", 30)
    assert beside.run(0, own_id) != before
