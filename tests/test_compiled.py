"""Loops in two forms: Python at first, machine code once it is worth its loading. Both give the same figures."""

from __future__ import annotations

import math
import threading
from collections.abc import Iterator
from typing import Any

import numpy as np
import pytest

from aspectum.core.plane import compiled as tiers
from aspectum.core.plane.compiled import compiled
from aspectum.demo.fill import SHEETS
from aspectum.formats.sheet import read_sheet
from aspectum.service.sheets.checking import check_sheet
from tests.alike import alike


@compiled
def halved(x: float) -> float:
    return x / 2.0


@compiled
def quartered(x: float) -> float:
    return halved(halved(x))


@compiled
def over(x: float, y: float) -> float:
    return x / y


def now_machine() -> bool:
    return tiers.stage.machine


@pytest.fixture(autouse=True)
def fresh_process(monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """As a process that has computed nothing yet."""
    monkeypatch.setattr(tiers, "stage", tiers.Stage())
    yield


def test_a_process_begins_interpreted_and_turns_to_machine_code_when_that_has_paid(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    both: Any = quartered
    assert quartered(3.0) == 0.75 and not tiers.stage.machine and both._machine is None
    monkeypatch.setattr(tiers, "BUDGET_S", 0.0)
    quartered(3.0)
    assert now_machine() and quartered(3.0) == 0.75 and both._machine is not None


@pytest.mark.parametrize("seconds", [tiers.BUDGET_S / 2, 2 * tiers.BUDGET_S])
def test_what_is_foreseen_to_take_longer_than_loading_is_not_begun_interpreted(seconds: float) -> None:
    tiers.foresee(seconds)
    assert tiers.stage.machine == (seconds > tiers.BUDGET_S)


def test_while_a_thread_makes_machine_code_ready_others_are_answered_interpreted(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(tiers, "BUDGET_S", 0.0)  # nobody loads it over the thread's head
    begun, go_on = threading.Event(), threading.Event()

    def work() -> None:
        assert quartered(1.0) == 0.25
        begun.set()
        assert go_on.wait(60.0)

    thread = threading.Thread(target=tiers.make_ready, args=(work,))
    thread.start()
    assert begun.wait(60.0)
    assert quartered(2.0) == 0.5 and not tiers.stage.machine
    go_on.set()
    thread.join()
    assert now_machine() and not tiers.stage.beside


def test_a_thread_that_fails_to_make_it_ready_keeps_nobody_interpreted() -> None:
    with pytest.raises(ZeroDivisionError):
        tiers.make_ready(lambda: 1 // 0)
    assert tiers.stage.machine and not tiers.stage.beside


def test_a_division_by_zero_is_infinite_in_both_forms() -> None:
    one, nothing = np.float64(1.0), np.float64(0.0)
    assert over(one, nothing) == math.inf
    with tiers.ahead():
        assert over(one, nothing) == math.inf


@pytest.mark.parametrize("name", ["1-crates", "5-tins", "9-yard"])
def test_a_sheet_is_judged_alike_in_both_forms(name: str, monkeypatch: pytest.MonkeyPatch) -> None:
    """What a process is at decides how long it takes and nothing else: every figure of a report agrees to a
    millionth.
    """
    sheet = read_sheet((SHEETS / f"{name}.sighting.json").read_bytes())
    monkeypatch.setattr(tiers, "BUDGET_S", math.inf)
    interpreted = check_sheet(sheet).model_dump(mode="json")
    with tiers.ahead():
        machine = check_sheet(sheet).model_dump(mode="json")
    alike(interpreted, machine)
