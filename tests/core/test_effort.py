"""A check has an end: contradictory sheets are answered within their allowance, and say what was left."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from aspectum.core.check import check
from aspectum.core.findings import NoteCode
from aspectum.core.judge.weigh import weigh
from aspectum.core.reasons import Rule
from aspectum.core.sightings import Setup
from aspectum.core.tolerance import FREEHAND, Verdict
from aspectum.core.view import effort
from aspectum.core.view.effort import Effort
from aspectum.core.view.find import find_view
from aspectum.core.view.posterior import Posterior
from tests.beginner import muddled_edges
from tests.scenes import crowded_scene, turned

SETUP = Setup(1280, 960)


@pytest.mark.parametrize(("count", "forms"), [(8, 1), (15, 3), (60, 2), (100, 8)])
def test_contradictions_cost_no_more_than_their_allowance(count: int, forms: int) -> None:
    for seed in range(4):
        edges = muddled_edges(np.random.default_rng(seed), count, forms)
        spent = weigh(Posterior.of(find_view(SETUP, tuple(edges))), FREEHAND).solution.evidence.effort
        assert spent.used <= effort.STOP_AT * spent.allowance + 30


def test_what_was_not_weighed_is_unsure_and_named() -> None:
    result = check(SETUP, muddled_edges(np.random.default_rng(1), 300, 25))
    left = [f.sighting for f in result.findings if f.reason.rule is Rule.UNEXAMINED]
    named = next(n for n in result.notes if n.code is NoteCode.UNEXAMINED).sightings
    assert left and set(left) <= set(named)
    assert all(f.verdict is Verdict.UNSURE for f in result.findings if f.sighting in named)


def test_slopes_whose_plan_was_not_weighed_are_accused_of_nothing(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(Effort, "for_sheet", lambda edges, rims=0: Effort(300))
    edges = muddled_edges(np.random.default_rng(6), 100, 30)
    left = find_view(SETUP, tuple(edges))[0].evidence.effort.unexamined
    assert left and all(e.slope for e in edges if e.id in left)
    assert not any(f.verdict is Verdict.OFF for f in check(SETUP, edges).findings if f.sighting in left)


def test_a_sheet_gets_the_same_answer_however_slow_the_machine() -> None:
    edges = muddled_edges(np.random.default_rng(2), 40)
    assert check(SETUP, edges) == check(SETUP, edges)


def test_a_large_sheet_with_a_few_strays_is_weighed_whole() -> None:
    rng = np.random.default_rng(3)
    scene = crowded_scene(rng, 100)
    edges = scene.sighted(rng)
    long = [k for k, e in enumerate(edges) if np.hypot(e.q[0] - e.p[0], e.q[1] - e.p[1]) > 120][:3]
    for k in long:
        edges[k] = turned(edges[k], 12.0)
    result = check(scene.setup, edges)
    assert not any(n.code is NoteCode.UNEXAMINED for n in result.notes)
    off = {f.sighting for f in result.findings if f.verdict is Verdict.OFF}
    assert {edges[k].id for k in long} <= off


def test_many_crossings_are_counted_not_listed() -> None:
    edges = [
        replace(e, form="f", family=muddled_edges(np.random.default_rng(5), 1)[0].family, slope=None)
        for e in muddled_edges(np.random.default_rng(5), 40)
    ]
    notes = check(SETUP, edges).notes
    assert sum(n.code is NoteCode.CROSSING for n in notes) == 3
    assert next(n for n in notes if n.code is NoteCode.MORE_CROSSINGS).value
