"""A ruler turned in one-point: edges across have no vanishing point, and run like the front."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from aspectum.core.check import check
from aspectum.core.drawing.candidates import CauseKind
from aspectum.core.drawing.compare import Laid, compare
from aspectum.core.drawing.critique import Critique, Direction, critique
from aspectum.core.practice.drawn import critique_readings
from aspectum.core.practice.recorded import SkillsOn
from aspectum.core.practice.skills import Skill
from aspectum.core.reasons import Rule
from aspectum.core.sightings import Edge, Family, Kind, Perspective, Setup
from aspectum.core.tolerance import FREEHAND, Verdict
from aspectum.core.worksheet.exercise import ExerciseKind, Grade
from aspectum.core.worksheet.make import make
from aspectum.service.words.critique import Called, advice_words, cause_words
from tests.paper_scenes import PAPER_DPMM

FIELD = (273.0, 155.0)
PIVOTS = ("left end", "middle", "right end")


def turned(edge: Edge, degrees: float, about: str) -> Edge:
    """The edge turned anticlockwise on the paper."""
    left, right = sorted((np.array(edge.p), np.array(edge.q)), key=lambda p: float(p[0]))
    pivot = {"left end": left, "middle": (left + right) / 2, "right end": right}[about]
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    ends = [np.array([[c, s], [-s, c]]) @ (p - pivot) + pivot for p in (edge.p, edge.q)]
    return replace(edge, p=(float(ends[0][0]), float(ends[0][1])), q=(float(ends[1][0]), float(ends[1][1])))


def drawn(seed: int, degrees: float, about: str = "left end", only: int | None = None) -> tuple[Laid, Laid]:
    """A worksheet of boxes in one-point and its drawing by hand (0.3 mm), whose asked edges across are turned;
    ``only``: of them the one of that number.
    """
    exercise, rng = make(ExerciseKind.ONE_POINT, FIELD, Grade.MIDDLE, seed), np.random.default_rng(seed)
    asked = {one.id for one in exercise.asked}
    edges = [s for s in exercise.truth if isinstance(s, Edge)]
    across = [e.id for e in edges if e.id in asked and e.family is Family.ACROSS]
    wrong = set(across if only is None else across[only : only + 1])

    def by_hand(e: Edge) -> Edge:
        if e.id not in asked:
            return e
        e = turned(e, degrees, about) if e.id in wrong else e
        (px, py), (qx, qy) = e.p + rng.normal(0.0, 0.3, 2), e.q + rng.normal(0.0, 0.3, 2)
        return replace(e, p=(float(px), float(py)), q=(float(qx), float(qy)))

    def in_px(e: Edge) -> Edge:
        return replace(e, p=(e.p[0] * PAPER_DPMM, e.p[1] * PAPER_DPMM), q=(e.q[0] * PAPER_DPMM, e.q[1] * PAPER_DPMM))

    setup = Setup(
        round(FIELD[0] * PAPER_DPMM), round(FIELD[1] * PAPER_DPMM), perspective=Perspective.ONE_POINT, point_sd_px=1.0
    )
    given = frozenset(e.id for e in edges if e.id not in asked)
    return Laid(setup, [in_px(e) for e in edges], given=given), Laid(setup, [in_px(by_hand(e)) for e in edges])


def judged(seed: int, degrees: float, about: str = "left end", only: int | None = None) -> tuple[Laid, Critique]:
    theirs, mine = drawn(seed, degrees, about, only)
    return theirs, critique(compare(theirs, mine, 1 / PAPER_DPMM), theirs, mine, FREEHAND)


@pytest.mark.parametrize("seed", range(1, 5))
def test_a_far_edge_out_of_true_is_told_to_run_like_the_front(seed: int) -> None:
    _, mine = drawn(seed, 9.0, only=0)
    off = [f for f in check(mine.setup, mine.edges).findings if f.verdict is Verdict.OFF]
    families = {e.id: e.family for e in mine.edges}
    assert [families[f.sighting] for f in off] == [Family.ACROSS]
    (found,) = off
    assert found.reason.rule is Rule.NOT_TRUE_TO_FRONT
    assert found.implied == pytest.approx(0.0, abs=1.5)


@pytest.mark.parametrize("about", PIVOTS)
@pytest.mark.parametrize("degrees", [9.0, -9.0])
def test_two_far_edges_turned_alike_are_one_cause(about: str, degrees: float) -> None:
    for seed in range(1, 6):
        theirs, found = judged(seed, degrees, about)
        assert [cause.cause for cause in found.causes] == [CauseKind.TURNED], (seed, about)
        (cause,) = found.causes
        assert cause.direction is (Direction.ANTICLOCKWISE if degrees > 0 else Direction.CLOCKWISE)
        assert cause.size == pytest.approx(9.0, abs=2.0) and len(cause.sightings) >= 2
        kinds = {e.id: Kind.EDGE for e in theirs.edges}
        across = {e.id for e in theirs.edges if e.family is Family.ACROSS}
        told = [r for r in critique_readings(found, kinds, SkillsOn(theirs.edges)) if r.skill is Skill.OTHER_EDGE]
        (reading,) = [r for r in told if r.sighting.startswith("turned")]
        assert reading.error == pytest.approx(degrees, abs=2.0)
        assert all(abs(r.error) < 3.0 for r in told if r.sighting in across), (
            "the lines themselves are told by what the turn leaves of them"
        )


def test_its_words_say_what_to_do() -> None:
    _, found = judged(1, 9.0)
    (cause,) = found.causes
    called = Called(str, {}, FIELD[0])
    assert "edges across" in cause_words(cause, called).lower() and "should run like the front" in cause_words(
        cause, called
    )
    assert advice_words(cause, {}, called).startswith("Lay the ruler true to the front again.")


def test_far_edges_drawn_true_have_no_cause() -> None:
    assert [judged(seed, 0.0)[1].causes for seed in range(1, 9)] == [[]] * 8
