"""Rims of a drawing in parallel projection: no camera is solved, so that each is told by the subject's own ellipse."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest

from aspectum.core.drawing.compare import Laid, compare
from aspectum.core.drawing.critique import Difference, critique
from aspectum.core.drawing.readings import What
from aspectum.core.judge.parallel_rims import Directions, by_axes
from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.sightings import Edge, Family, Perspective, Plane, Setup
from aspectum.core.tolerance import FREEHAND, Verdict
from aspectum.core.worksheet.window import rim_of

ISO_DEG = math.degrees(math.asin(math.tan(math.radians(30.0))))
MM = 297.0 / 2400.0


def block(wheels: dict[str, Ellipse]) -> Laid:
    """The edges of an isometric block with wheels on its left-hand face."""
    c, s = math.cos(math.radians(30.0)), math.sin(math.radians(30.0))
    ways = {Family.RIGHT: (800 * c, -800 * s), Family.LEFT: (-600 * c, -600 * s), Family.UPRIGHT: (0.0, -400.0)}
    # two edges of each family: from the near corner, and from the end of another family's
    beside = {Family.RIGHT: Family.UPRIGHT, Family.LEFT: Family.UPRIGHT, Family.UPRIGHT: Family.LEFT}
    edges = []
    for family, (dx, dy) in ways.items():
        for n, (x, y) in enumerate(((0.0, 0.0), ways[beside[family]])):
            edges.append(Edge(f"{family} {n}", "block", family, (1000 + x, 1200 + y), (1000 + x + dx, 1200 + y + dy)))
    rims = [replace(rim_of(e, "block", Plane.LEFT), id=id) for id, e in wheels.items()]
    return Laid(Setup(2400, 1697, Perspective.PARALLEL, point_sd_px=2.0), edges, rims)


def wheel(x: float, diameter: float, degree: float = ISO_DEG, axis: float = -30.0) -> Ellipse:
    major = math.sqrt(1.5) * diameter
    return Ellipse((x, 1000.0), major, major * math.sin(math.radians(degree)), axis, degree)


def told(drawn: dict[str, Ellipse]) -> dict[tuple[str, What], Difference]:
    subject, drawing = block({"a": wheel(1300.0, 250.0), "b": wheel(1600.0, 250.0)}), block(drawn)
    found = critique(compare(subject, drawing, MM), subject, drawing, FREEHAND)
    return {(d.sighting, d.what): d for d in found.differences if d.sighting in drawn}


def test_wheels_as_the_subject_has_them_hold_in_degree_width_and_axis() -> None:
    found = told({"a": wheel(1300.0, 250.0), "b": wheel(1600.0, 250.0)})
    assert set(found) == {(id, what) for id in "ab" for what in (What.DEGREE, What.MAJOR, What.AXIS)}
    assert all(d.verdict is Verdict.HOLDS for d in found.values())


@pytest.mark.parametrize(
    ("changed", "what", "size"),
    [
        (wheel(1600.0, 250.0, ISO_DEG - 12.0), What.DEGREE, -12.0),
        (wheel(1600.0, 250.0, axis=-18.0), What.AXIS, 12.0),
        (wheel(1600.0, 320.0), What.MAJOR, 0.28),
    ],
    ids=["too flat", "turned", "too wide"],
)
def test_what_is_off_with_a_wheel_is_told_of_that_wheel_alone(changed: Ellipse, what: What, size: float) -> None:
    found = told({"a": wheel(1300.0, 250.0), "b": changed})
    assert {key for key, d in found.items() if d.verdict is Verdict.OFF} == {("b", what)}
    assert found["b", what].difference == pytest.approx(size, abs=1.0 if what is not What.MAJOR else 0.03)


def test_a_rim_of_an_isometric_block_is_due_by_the_blocks_own_axes() -> None:
    """35.26 degrees on every side, its minor axis along the edge square to it (ISO 5456-3), known as they are known."""
    axes: Directions = {
        ("block", Family.LEFT): (-30.0, 0.5),
        ("block", Family.RIGHT): (30.0, 0.5),
        (None, Family.UPRIGHT): (90.0, 0.5),
    }
    for plane, tilt in ((Plane.LEVEL, 90.0), (Plane.LEFT, -30.0), (Plane.RIGHT, 30.0)):
        due = by_axes("block", plane, axes)
        assert due is not None
        degree, sd, axis, axis_sd = due
        assert (degree, axis, axis_sd) == (pytest.approx(ISO_DEG), tilt, 0.5)
        # by hand, of sin² degree = tan a tan b at 30 and 30: two thirds over the cosine for each of the two edges; with
        # the axis it does not go, for what one of them gains on it the other loses
        by_hand = 0.5 * math.sqrt(2) * (2 / 3) / math.cos(math.radians(ISO_DEG))
        assert sd == pytest.approx(by_hand, rel=0.02)
    assert by_axes("block", Plane.LEVEL, {k: v for k, v in axes.items() if k[1] is not Family.UPRIGHT}) is None
    assert by_axes("block", Plane.LEVEL, axes | {("block", Family.LEFT): (20.0, 0.5)}) is None  # both run the same way
