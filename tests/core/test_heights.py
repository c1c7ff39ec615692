"""Heights from eye level on level ground (handbook section 5)."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from aspectum.core.check import check
from aspectum.core.findings import CheckResult, Finding, NoteCode
from aspectum.core.form.heights import Tall
from aspectum.core.judge.heights import height_finding
from aspectum.core.look import look
from aspectum.core.reasons import HeightReason, Rule
from aspectum.core.sightings import Edge, Family, Height, Kind, Measured, Perspective
from aspectum.core.tolerance import FREEHAND, Verdict
from tests import worked
from tests.house_scenes import CORNER_ON, FRONT_ON, posts_before_houses
from tests.samples import sample
from tests.scenes import Pinhole

SETUP = replace(worked.SETUP, eye_height_m=1.6)
POST = Height("post", (700, 700), (700, 325))


def judged(*heights: Height, eye_m: float | None = 1.6) -> CheckResult:
    return check(replace(SETUP, eye_height_m=eye_m), worked.EDGES, measured=Measured(heights=list(heights)))


def of(result: CheckResult) -> list[Finding]:
    return [f for f in result.findings if f.kind is Kind.HEIGHT]


def test_the_worked_height() -> None:
    """Eye 1.60 m, base 700, eye level 400, top 325: 1.6 · (700 − 325)/(700 − 400) = 2.00 m."""
    found = of(judged(POST))[0]
    assert found.sighted == pytest.approx(2.0, abs=0.002) and 0.01 < (found.sighted_sd or 0) < 0.06
    assert isinstance(found.reason, HeightReason) and found.reason.eyes == pytest.approx(1.25, abs=0.001)


@pytest.mark.parametrize(
    ("said", "rule", "verdict"),
    [(2.05, Rule.AGREES, Verdict.HOLDS), (2.5, Rule.JUDGED_LONG, Verdict.OFF), (1.7, Rule.JUDGED_SHORT, Verdict.OFF)],
)
def test_a_judged_height_is_weighed(said: float, rule: Rule, verdict: Verdict) -> None:
    found = of(judged(replace(POST, judged_m=said)))[0]
    assert (found.reason.rule, found.verdict) == (rule, verdict)


def test_the_first_known_height_is_the_measure_where_the_eye_is_not_given() -> None:
    """A door of 2.00 m; the figure's head at eye level is then 1.60 m."""
    door, figure = of(judged(replace(POST, known_m=2.0), Height("figure", (300, 650), (300, 400)), eye_m=None))
    assert (door.reason.rule, door.verdict) == (Rule.MEASURE, Verdict.HOLDS)
    assert figure.sighted == pytest.approx(1.6, abs=0.002) and figure.reason.others == ("post",)


@pytest.mark.parametrize(("top", "rule"), [(200.0, Rule.TOO_TALL), (370.0, Rule.TOO_SMALL), (325.0, Rule.AGREES)])
def test_a_known_figure_that_does_not_fit_its_place(top: float, rule: Rule) -> None:
    found = of(judged(Height("figure", (700, 700), (700, top), known_m=2.0)))[0]
    assert found.reason.rule is rule and found.implied == 2.0


@pytest.mark.parametrize(("height", "metres"), [(replace(POST, known_m=0.5), 0.6), (replace(POST, judged_m=0.6), 0.5)])
def test_the_error_of_a_small_height_counts_as_a_share_of_it(height: Height, metres: float) -> None:
    """6 cm of half a metre are 12 %: a fifth too much is not beyond doubt, as it would be if they were counted as 6 cm
    of a metre, or less.
    """
    found = height_finding(height, Tall("post", 0.35, np.zeros(0), 0.03, metres, 0.06), None, FREEHAND, True)
    assert (found.verdict, found.reason.rule) == (Verdict.UNSURE, Rule.TOO_WEAK)


def test_what_is_equally_tall_is_cut_at_the_same_place_wherever_it_stands() -> None:
    near, far, tall = (
        Height("near", (300, 700), (300, 400)),
        Height("far", (800, 520), (800, 400)),
        Height("tall", (600, 600), (600, 250)),
    )
    result = judged(near, far, tall)
    equal = next(n for n in result.notes if n.code is NoteCode.EQUALLY_TALL)
    assert set(equal.sightings) == {"near", "far"} and equal.value == pytest.approx(1.6, abs=0.01)


def test_a_foot_above_eye_level_stands_on_no_ground() -> None:
    found = of(judged(Height("kite", (700, 300), (700, 200))))[0]
    assert (found.reason.rule, found.sighted, found.verdict) == (Rule.NOT_ON_THE_GROUND, None, Verdict.UNSURE)


def test_without_a_measure_a_height_counts_in_eye_heights() -> None:
    found = of(judged(POST, eye_m=None))[0]
    assert found.reason.rule is Rule.NO_MEASURE and found.sighted is None
    assert isinstance(found.reason, HeightReason) and found.reason.eyes == pytest.approx(1.25, abs=0.001)


def test_a_head_laid_beside_the_feet_is_carried_to_the_plumb_line() -> None:
    found = of(judged(Height("leaning", (700, 700), (722, 325))))[0]
    assert found.sighted == pytest.approx(2.0, abs=0.01)


def test_heights_alone_under_a_given_eye_level_are_measured() -> None:
    setup = replace(SETUP, eye_level_px=(400.0, 400.0), focal_35mm=36.0, level_camera=True)
    found = check(setup, [], measured=Measured(heights=[POST, Height("other", (200, 600), (200, 400))])).findings
    assert [f.sighted for f in found] == pytest.approx([2.0, 1.6], abs=0.01)


def test_a_sheet_without_a_view_measures_nothing() -> None:
    assert (
        of(check(replace(SETUP, perspective=Perspective.PARALLEL), worked.EDGES, measured=Measured(heights=[POST])))[
            0
        ].reason.rule
        is Rule.NOTHING_TO_CHECK
    )


@pytest.mark.parametrize(("pitch", "roll"), [(0.0, 0.0), (-12.0, 1.0), (9.0, -2.0)])
def test_a_figure_walks_about_and_is_cut_at_one_height(pitch: float, roll: float) -> None:
    """Feet at four places of the ground of a scene with a known camera; 2.4 m under an eye at 1.6 m."""
    camera = Pinhole(1000.0, pitch, roll, 1000, 800)
    axes = np.array([[0.5, 0.8660254, 0], [-0.8660254, 0.5, 0], [0, 0, 1.0]])
    corner = np.array([0.3, 5.0, -1.6])

    def edge(k: int, family: Family, a: list[float], b: list[float]) -> Edge:
        (p, q) = camera.project(np.array([corner + np.array(a) @ axes, corner + np.array(b) @ axes])).tolist()
        return Edge(f"e{k}", "box", family, (p[0], p[1]), (q[0], q[1]))

    spans: list[tuple[Family, list[float], list[float]]] = []
    for z in (0.0, 1.4):
        spans += [(Family.RIGHT, [0, 0, z], [2, 0, z]), (Family.LEFT, [0, 0, z], [0, 2, z])]
    spans += [(Family.UPRIGHT, [x, y, 0], [x, y, 1.4]) for x, y in ((0.0, 0.0), (2.0, 0.0), (0.0, 2.0))]
    edges = [edge(k, *span) for k, span in enumerate(spans)]
    view = look(replace(SETUP, centre_px=(500, 400)), edges, [])
    for x, y in ((-1.0, 4.0), (0.5, 6.0), (2.0, 9.0), (-2.0, 14.0)):
        foot, top = camera.project(np.array([[x, y, -1.6], [x, y, 0.8]])).tolist()
        figure = view.figure((foot[0], foot[1]), 2.4)
        assert (
            figure is not None and figure.top == pytest.approx(top, abs=0.5) and figure.cut == pytest.approx(1.6 / 2.4)
        )
    assert view.figure((500, 10), 1.8) is None


@pytest.mark.slow
@pytest.mark.parametrize(("families", "eaves"), [(CORNER_ON, True), (CORNER_ON, False), (FRONT_ON, True)])
def test_a_post_before_a_gabled_house_is_told_within_its_error(
    families: tuple[Family, Family, Family], eaves: bool
) -> None:
    """Eaves reach beyond the wall, a plinth stands before it, windows have sills of their own: what is no one plane is
    not tied together. A small sample; docs/accuracy.md has the large ones. Before, 78 to 85 % held and up to one in ten
    was off by more than four deviations.
    """
    found = posts_before_houses(2402, sample(30, 16), families, eaves)
    assert found.held() >= 0.87 and found.gross() <= 0.035
    assert np.mean(np.abs(found.level_z) < 1.96) >= 0.9
