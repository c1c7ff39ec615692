"""A form seen from further away, and lines held before the picture (handbook sections 4 and 7)."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from aspectum.core.aids.guide import ends_on, hold_guide
from aspectum.core.check import check
from aspectum.core.look import look
from aspectum.core.plane.lines import tilt_deg, tilt_difference
from aspectum.core.reasons import Rule
from aspectum.core.sightings import Alignment, Along, Edge, Family, Guide, Kind, Length, Measured, Plane, Rim, Setup
from aspectum.core.tolerance import RULED, Verdict
from tests import worked
from tests.scenes import Box, Pinhole, seen_edges

CAMERA = Pinhole(1000.0, -6.0, 0.5)
BOX = Box((0.2, 4.0, -1.5), 35.0, (1.4, 1.0, 0.8))


@pytest.mark.parametrize("times", [1.0, 1.5, 3.0, 6.0])
def test_a_form_eased_is_the_form_as_a_camera_further_away_draws_it(times: float) -> None:
    """The same sight, the eye times as far from the box's middle, the lens times as long."""
    spans = seen_edges(BOX)
    edges = []
    for k, (family, a, b) in enumerate(spans):
        p, q = CAMERA.project(np.array([a, b])).tolist()
        edges.append(Edge(f"e{k}", "box", family, (p[0], p[1]), (q[0], q[1])))
    eased = {
        line.id: line for line in look(Setup(1280, 960, focal_35mm=1000 * 36 / 1280), edges, []).eased("box", times)
    }
    assert len(eased) == len(edges)
    middle = np.array(BOX.at(0.5, 0.5, 0.5))
    for k, (_, a, b) in enumerate(spans):
        there = CAMERA.project(np.array([a, b]) + (times - 1) * middle)
        line = eased[f"e{k}"]
        assert line.tilt_deg == pytest.approx(float(tilt_deg(edges[k].p, edges[k].q)), abs=0.05)
        assert abs(float(tilt_difference(line.eased_tilt_deg, tilt_deg(there[0], there[1])))) < 0.1
        # as large on the sheet: the lens is as many times longer
        long = times * math.dist(there[0], there[1])
        assert math.dist(line.eased_p, line.eased_q) == pytest.approx(long, rel=0.01)


def level_rim(id: str, below: float, half: float = 60.0, focal: float = 500.0) -> Rim:
    """A small level circle seen level, straight below the centre of vision."""
    turn = np.linspace(0, 2 * np.pi, 24, endpoint=False)
    radius = half / focal
    x, depth = radius * np.cos(turn), 1.0 + radius * np.sin(turn)
    points = tuple((640 + focal * a / d, 480 + below / d) for a, d in zip(x.tolist(), depth.tolist(), strict=True))
    return Rim(id, "tin", Plane.LEVEL, points)


def test_rims_seen_from_further_away_draw_nearer_to_one_degree() -> None:
    """Handbook section 3: 60 px and 150 px below eye level under f = 500 the ratios are 0.12 and 0.30. Twice as far on
    the same line of sight they are half the one and half the mean of both.
    """
    setup = Setup(1280, 960, focal_35mm=500 * 36 / 1280, eye_level_px=(480, 480), point_sd_px=0.3)
    view = look(setup, [], [level_rim("mouth", 60.0), level_rim("base", 150.0)])
    eased = {rim.id: rim for rim in view.eased_rims("tin", 2.0)}
    for id, ratio in (("mouth", 0.12), ("base", 0.30)):
        assert math.sin(math.radians(eased[id].degree_deg)) == pytest.approx(ratio, rel=0.02)
        assert math.sin(math.radians(eased[id].eased_degree_deg)) == pytest.approx((ratio + 0.21) / 2, rel=0.02)


def test_what_is_not_solved_cannot_be_eased() -> None:
    assert look(worked.SETUP, worked.EDGES, []).eased("nobody", 2.0) == []


def test_a_plumb_line_snaps_to_an_end_within_reach_and_names_what_it_passes() -> None:
    """The far left upright of the worked picture stands at x = 150; its ends and those of both left edges lie on it."""
    ends = ends_on(worked.EDGES, [], [])
    held = hold_guide(ends, Guide.PLUMB, 157.0, 1.5)
    assert held.at_px == 150.0 and {end.sighting for end in held.passed} == {"far-left", "top-left", "bottom-left"}
    assert [end.at[1] for end in held.passed] == sorted(end.at[1] for end in held.passed)
    far = hold_guide(ends, Guide.PLUMB, 300.0, 1.5)
    assert far.at_px == 300.0 and far.passed == ()
    assert {end.sighting for end in hold_guide(ends, Guide.LEVEL, 251.0, 1.5).passed} == {
        "far-left",
        "far-right",
        "top-left",
        "top-right",
    }


UNIT = Length("unit", (400, 700), (400, 200), Along.EDGE, unit=True)


@pytest.mark.parametrize(("q", "rule"), [((650.0, 250.0), Rule.AGREES), ((650.0, 258.0), Rule.AGREES)])
def test_a_length_between_corners_is_weighed_against_the_form(q: tuple[float, float], rule: Rule) -> None:
    """The far right upright of the worked picture is 375 px long against 500."""
    found = check(
        worked.SETUP, worked.EDGES, measured=Measured(lengths=[UNIT, Length("far", (650, 625), q, Along.UPRIGHT)])
    ).findings[-1]
    assert (
        found.implied == pytest.approx(0.75, abs=0.002) and found.reason.rule is rule and found.verdict is Verdict.HOLDS
    )


def test_a_length_laid_too_short_of_its_corner_is_off() -> None:
    """Nine of two hundred pixels, by a ruled tolerance."""
    edges = [replace(e, p=(e.p[0] / 2, e.p[1] / 2), q=(e.q[0] / 2, e.q[1] / 2)) for e in worked.EDGES]
    setup = replace(worked.SETUP, width_px=500, height_px=400, centre_px=(250, 200))
    unit, far = (
        Length("unit", (200, 350), (200, 100), Along.EDGE, unit=True),
        Length("far", (325, 304), (325, 134), Along.UPRIGHT),
    )
    found = check(setup, edges, measured=Measured(lengths=[unit, far]), tolerances=RULED).findings[-1]
    assert (found.reason.rule, found.verdict) == (Rule.TOO_SHORT, Verdict.OFF)


@pytest.mark.parametrize(("judged", "verdict"), [(None, Verdict.UNSURE), (-31.0, Verdict.HOLDS), (-20.0, Verdict.OFF)])
def test_a_tilt_between_places_that_are_no_corners_is_weighed_as_judged(judged: float | None, verdict: Verdict) -> None:
    across = Alignment("a", (50, 300), (350, 480), Guide.TILT, judged)
    found = check(worked.SETUP, worked.EDGES, measured=Measured(alignments=[across])).findings[-1]
    assert found.kind is Kind.ALIGNMENT and found.sighted == pytest.approx(-30.96, abs=0.01)
    assert found.implied is None and found.verdict is verdict


def test_a_diagonal_of_a_face_is_implied_by_its_corners() -> None:
    across = Alignment("a", (400, 700), (150, 250), Guide.TILT)
    found = check(worked.SETUP, worked.EDGES, measured=Measured(alignments=[across])).findings[-1]
    assert found.implied == pytest.approx(-60.95, abs=0.02) and found.verdict is Verdict.HOLDS
    assert found.implied_sd is not None and 0.05 < found.implied_sd < 0.5


def test_what_stands_on_another_form_is_measured_from_its_lid() -> None:
    """A crate 0.5 m high on one of 0.8 m under an eye at 1.5 m; on the ground it would be twice as large."""
    low = Box((-0.5, 4.0, -1.5), 35.0, (1.4, 1.2, 0.8))
    high = Box(tuple((np.array(low.corner) + np.array([0.15, 0.25, 0.8])).tolist()), 30.0, (0.9, 0.7, 0.5))
    camera = Pinhole(1000.0, -8.0, 0.0)
    edges: list[Edge] = []
    for form, box in (("low", low), ("high", high)):
        for family, a, b in seen_edges(box):
            p, q = camera.project(np.array([a, b])).tolist()
            edges.append(Edge(f"{form}{len(edges)}", form, family, (p[0], p[1]), (q[0], q[1])))
    forms = {f.form: f for f in check(Setup(1280, 960, eye_height_m=1.5), edges).forms}
    assert forms["low"].size_m[Family.UPRIGHT] == pytest.approx(0.8, abs=0.01)
    assert forms["high"].size_m[Family.UPRIGHT] == pytest.approx(0.5, abs=0.01)
    assert forms["high"].size_m[Family.RIGHT] == pytest.approx(0.9, abs=0.02)
