"""The class at work judges a server: what it lets pass and what it does not."""

from __future__ import annotations

import asyncio

import pytest

from tests.conftest import Served
from tests.load import CHECK_S, LONGEST_S, Browser, Measured


def measured(**seconds: list[float]) -> Measured:
    found = Measured()
    for what, times in {"check": [0.05] * 100, **seconds}.items():
        found.seconds[what] += times
    return found


@pytest.mark.parametrize(
    ("seconds", "well"),
    [
        ({}, True),
        ({"check": [0.05] * 96 + [CHECK_S + 0.1] * 4}, True),  # four of a hundred may be late
        ({"check": [0.05] * 90 + [CHECK_S + 0.1] * 110}, False),
        ({"save": [0.1, LONGEST_S + 0.1]}, False),
        ({"room": [LONGEST_S + 0.1]}, False),
        ({"photo": [LONGEST_S + 9.0]}, True),  # its page tells how many are before it
    ],
)
def test_late_checks_and_long_waits_do_not_pass(seconds: dict[str, list[float]], well: bool) -> None:
    assert (not measured(**seconds).late()) is well


def test_what_was_refused_or_never_answered_is_told() -> None:
    found = measured()
    found.faults["save: no answer"] += 1
    assert "1 × save: no answer" in found.report()


def test_a_browser_keeps_six_connections_and_opens_one_anew_that_was_let_go(empty: Served) -> None:
    found = Measured()

    async def ask() -> tuple[int, int]:
        browser = Browser(empty.url, found)
        await browser.open_all()
        kept = browser.idle.qsize()
        for _ in range(kept):  # each is known to the server before it goes
            await browser.ask("before", "GET", "/api/health")
        # the server goes and comes again: all six are dead, and each question is answered all the same
        await asyncio.to_thread(empty.stop)
        await asyncio.to_thread(empty.start)
        await asyncio.sleep(0.1)
        statuses = [(await browser.ask("health", "GET", "/api/health"))[0] for _ in range(8)]
        await browser.close()
        return kept, statuses.count(200)

    assert asyncio.run(ask()) == (6, 8)
    assert not found.faults and len(found.seconds["health"]) == 8
