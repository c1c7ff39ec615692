"""The sheet of paper before the first line (handbook sections 1, 2, 4, 7a)."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from aspectum.core.aids.standpoint import ViewKind
from aspectum.core.check import check
from aspectum.core.life.near_corner import near_corner
from aspectum.core.life.readings import LengthReading, TiltReading
from aspectum.core.life.schematic import ReadForm, schematic
from aspectum.core.plan.lay_in import StepKind, lay_in
from aspectum.core.plan.placing import Leaves, Placing, Sheet, place_on
from aspectum.core.plan.reach import PINNED_MM, beyond_sheet, edge_scales, points_on_paper, tilt_tables
from aspectum.core.plan.subject import NoPlan, Subject, Unit, subject_of_card, subject_of_picture
from aspectum.core.sightings import Along, Edge, Family, Length, Measured, Perspective, Side
from tests.life_simulation import corner
from tests.worked import EDGES, SETUP

A3 = Sheet(420.0, 297.0)


def worked() -> Subject:
    """The handbook's worked picture: near upright 500 px at x = 400, VPs at (-600, 400) and (1400, 400)."""
    edges = [
        *(e for e in EDGES if e.family is not Family.UPRIGHT),
        Edge("near", "box", Family.UPRIGHT, (400, 700), (400, 200)),
        Edge("far", "box", Family.UPRIGHT, (150, 250), (150, 625)),
    ]
    return subject_of_picture(
        SETUP, edges, [], Measured(), check(replace(SETUP, perspective=Perspective.TWO_POINT), edges)
    )


def card(
    level: float = 0.4, left: float = 2.0, right: float = 1.6, widths: tuple[float, float] = (0.8, 0.6)
) -> Subject:
    tilts = [
        TiltReading(f"{side} {t}", side, t, way * math.degrees(math.atan((level - t) / d)), 1.0)
        for side, way, d in ((Side.LEFT, 1.0, left), (Side.RIGHT, -1.0, right))
        for t in (0.0, 1.0)
    ]
    lengths = [LengthReading(f"w {side}", Along.ACROSS, w, side) for side, w in zip(Side, widths, strict=True)]
    found = near_corner(tilts, lengths)
    return subject_of_card(schematic([ReadForm("box", tilts, lengths, found)], [], {}, {}), found, [])


# -- scale, limits, eye level -----------------------------------------------------------------------


def test_the_largest_drawing_that_fits_touches_two_margins() -> None:
    """Extent 500 by 500 px: on A3 with 20 mm margins 257 mm are free upwards, 380 across."""
    placing = place_on(A3, worked())
    assert placing.scale == pytest.approx(257 / 500)
    assert placing.limits == pytest.approx((81.5, 20.0, 338.5, 277.0))
    assert placing.warnings == ()
    assert placing.at((400, 200)) == pytest.approx((210.0, 20.0))


def test_eye_level_falls_where_the_scale_puts_it_and_names_the_view() -> None:
    """200 px below the near upright's top: 20 + 102.8 mm down, 0.41 of the sheet, a normal view."""
    placing = place_on(A3, worked())
    assert placing.eye_level == pytest.approx((122.8, 122.8), abs=0.05)
    assert placing.view is ViewKind.NORMAL
    assert place_on(A3, card(level=-0.9)).view is ViewKind.BIRDS_EYE
    assert place_on(A3, card(level=0.95)).view is ViewKind.WORMS_EYE


def test_a_chosen_near_upright_sets_the_scale_and_may_leave_the_sheet() -> None:
    small = place_on(replace(A3, unit_mm=120.0), worked())
    assert small.scale == pytest.approx(120 / 500) and small.warnings == ()
    large = place_on(replace(A3, unit_mm=330.0), worked())
    assert large.warnings[0].leaves is Leaves.SHEET and large.warnings[0].by_mm == pytest.approx((330 - 297) / 2)
    assert set(large.warnings[0].sides) == {"top", "bottom"}
    margin = place_on(replace(A3, unit_mm=280.0), worked())
    assert margin.warnings[0].leaves is Leaves.MARGINS


def test_the_drawing_is_placed_within_the_room_left_over() -> None:
    left = place_on(replace(A3, place=(0.0, 0.5)), worked())
    right = place_on(replace(A3, place=(1.0, 0.5)), worked())
    assert left.limits[0] == pytest.approx(20.0) and right.limits[2] == pytest.approx(400.0)


def test_the_drawing_that_leaves_the_cone_of_vision_is_warned_of() -> None:
    """Worked picture, f = 994.99: the cone's radius is 574 px, and its corners stay within; a box twice as wide does
    not.
    """
    wide = worked()
    assert wide.cone == pytest.approx(994.99 * math.tan(math.radians(30)), abs=0.5)
    assert not [w for w in place_on(A3, wide).warnings if w.leaves is Leaves.CONE]
    tight = replace(wide, cone=250.0)
    found = [w for w in place_on(A3, tight).warnings if w.leaves is Leaves.CONE]
    # the farthest end, (150, 625), lies hypot(350, 225) px from the centre of vision
    assert found and found[0].by_mm == pytest.approx((math.hypot(350, 225) - 250) * 257 / 500, abs=0.01)


def test_margins_that_leave_no_room_and_sheets_that_hold_nothing_are_refused() -> None:
    with pytest.raises(NoPlan, match="leave no room"):
        place_on(Sheet(210, 297, margin=101), worked())
    with pytest.raises(NoPlan, match="Nothing is sighted"):
        subject_of_picture(SETUP, [], [], Measured(), check(SETUP, []))
    with pytest.raises(NoPlan, match="no eye level"):
        found = near_corner([])
        subject_of_card(schematic([ReadForm("box", [], [], found)], [], {}, {}), found, [])


def test_what_is_measured_counts_for_the_limits() -> None:
    """An overhang's or a cast shadow's length widens the drawing's box."""
    shadow = Measured(lengths=[Length("s", (650, 625), (900, 650), Along.EDGE)])
    wider = subject_of_picture(SETUP, EDGES, [], shadow, check(SETUP, EDGES))
    assert wider.extent == (150.0, 200.0, 900.0, 700.0)


# -- vanishing points, edge scales, tilts -------------------------------------------------------------


def test_vanishing_points_are_told_from_the_sheets_edges() -> None:
    """1000 px to the left of the near upright, at 0.514 mm to the pixel and 210 mm across: 304 mm beyond
    the left edge.
    """
    placing = place_on(A3, worked())
    points = {p.point.family: p for p in points_on_paper(placing, worked())}
    left = points[Family.LEFT]
    assert left.at == pytest.approx((210 - 514, 122.8), abs=0.1)
    assert (left.off_mm, left.side) == (pytest.approx(304.0, abs=0.1), "left")
    assert not left.in_reach and PINNED_MM == 300.0


@pytest.mark.parametrize(
    ("place", "off", "side"),
    [
        ((-30, 100), 30, "left"),
        ((450, 100), 30, "right"),
        ((200, 340), 43, "bottom"),
        ((100, 150), -100, "left"),
        ((200, 290), -7, "bottom"),
        ((900, 9000), 480, "right"),
    ],
)
def test_how_far_a_place_lies_beyond_the_sheet(place: tuple[float, float], off: float, side: str) -> None:
    """A3 across; negative on the sheet. What lies beyond a side as well as below is told from the side."""
    assert beyond_sheet(*place, 420.0, 297.0) == (pytest.approx(off), side)


def test_a_ruler_on_two_equal_marks_aims_at_the_point() -> None:
    placing, subject = place_on(A3, worked()), worked()
    points = points_on_paper(placing, subject)
    scale = next(s for s in edge_scales(placing, points) if s.family is Family.LEFT)
    at = next(p.at for p in points if p.point.family is Family.LEFT)
    assert at is not None and len(scale.marks) > 10
    for mark in scale.marks:
        (x0, y0), (x1, y1) = mark.a, mark.b
        assert {x0, x1} == {0.0, 420.0}
        assert y0 + (y1 - y0) * (at[0] - x0) / (x1 - x0) == pytest.approx(at[1], abs=1e-6)
    level = next(m for m in scale.marks if m.number == 0)
    assert level.a[1] == pytest.approx(122.8, abs=0.05) and level.b[1] == pytest.approx(122.8, abs=0.05)


def test_heights_on_two_verticals_stand_in_one_proportion() -> None:
    """Handbook section 2: VP 2400 to the right of the first vertical, the second 600 to the right: 90 to 67.5, 180 to
    135, -120 to -90.
    """
    from aspectum.core.plan.reach import marks_towards

    placing = Placing(Sheet(600.0, 600.0), 1.0, (0.0, 0.0), (0, 0, 1, 1), None, (300.0, 300.0), None, ())
    marks = {m.number: m for m in marks_towards(placing, (2400.0, 300.0), True)}
    step = marks[1].a[1] - 300.0
    for number, mark in marks.items():
        assert mark.a[0] == 0.0 and (mark.b[1] - 300.0) / (mark.a[1] - 300.0 or 1.0) == pytest.approx(
            0.75 if number else 0.0
        )
        assert mark.a[1] - 300.0 == pytest.approx(number * step)


def test_the_tilt_table_is_the_worked_pictures_tilts() -> None:
    """0.4 units above eye level the left edge tilts +11.31 degrees, 0.6 below -16.70; the card has them at its top and
    foot.
    """
    subject = card()
    placing = place_on(A3, subject)
    table = next(t for t in tilt_tables(placing, subject, points_on_paper(placing, subject)) if t.family is Family.LEFT)
    unit = subject.unit * placing.scale
    for row in table.rows:
        assert row.tilt_deg == pytest.approx(math.degrees(math.atan(row.units / 2.0)), abs=1e-6)
        assert placing.eye_level is not None and row.y == pytest.approx(placing.eye_level[0] - row.units * unit)
    assert len(table.rows) >= 5 and len(table.fan) == len(table.rows)


@settings(max_examples=60, deadline=None)
@given(x=st.floats(-9000, 9000), y=st.floats(-4000, 4000), wide=st.floats(100, 900), high=st.floats(100, 900))
def test_marks_aim_at_any_point_from_any_sheet(x: float, y: float, wide: float, high: float) -> None:
    from aspectum.core.plan.reach import marks_towards

    assume(not (-50 < x < wide + 50))
    placing = Placing(Sheet(wide, high), 1.0, (0.0, 0.0), (0, 0, 1, 1), None, None, None, ())
    for mark in marks_towards(placing, (x, y), True):
        (x0, y0), (x1, y1) = mark.a, mark.b
        assert min(y0, y1) >= 0 and max(y0, y1) <= high
        assert y0 + (y1 - y0) * (x - x0) / (x1 - x0) == pytest.approx(y, abs=1e-6 * (1 + abs(x) + abs(y)))


# -- the lay-in ---------------------------------------------------------------------------------------


def test_the_lay_in_goes_from_the_limits_to_the_checks() -> None:
    kinds = [step.kind for step in lay_in(place_on(A3, worked()), worked())]
    wanted = [StepKind.LIMITS, StepKind.ANCHOR, StepKind.EYE_LEVEL, StepKind.NEAR_UPRIGHT] + [StepKind.RECEDING] * 4
    assert kinds == [*wanted, StepKind.FAR_UPRIGHT, StepKind.DIAGONALS, StepKind.DIAGONALS]


def test_diagonals_cross_at_the_sides_middle_in_perspective() -> None:
    """Handbook section 4: the middle of the left wall is drawn 0.571 of its width from the near upright, at
    x = 257.1.
    """
    placing = place_on(A3, worked())
    left = next(s for s in lay_in(placing, worked()) if s.kind is StepKind.DIAGONALS and s.family is Family.LEFT)
    assert left.crossing is not None
    assert (left.crossing[0] - placing.at_nought[0]) / placing.scale == pytest.approx(257.1, abs=0.1)


def test_every_edge_begins_at_the_near_upright_and_counts_in_its_lengths() -> None:
    steps = lay_in(place_on(A3, card()), card())
    near = next(s for s in steps if s.kind is StepKind.NEAR_UPRIGHT)
    assert near.units == pytest.approx(1.0) and near.p is not None and near.q is not None and near.p[1] < near.q[1]
    for step in steps:
        if step.kind is StepKind.RECEDING:
            assert step.p in (pytest.approx(near.p), pytest.approx(near.q))
    far = [s for s in steps if s.kind is StepKind.FAR_UPRIGHT]
    assert [s.units for s in far] == [pytest.approx(1 - 0.8 / 2.0), pytest.approx(1 - 0.6 / 1.6)]


def test_a_side_whose_width_nobody_compared_is_left_open() -> None:
    tilts = [TiltReading("t", Side.LEFT, 0, 11.31), TiltReading("b", Side.LEFT, 1, -16.7)]
    found = near_corner(tilts)
    subject = subject_of_card(schematic([ReadForm("box", tilts, [], found)], [], {}, {}), found, [])
    assert subject.open_sides == (Side.LEFT,) and subject.counted_in is Unit.NEAR_UPRIGHTS
    assert [line.family for line in subject.lines] == [Family.UPRIGHT]


@pytest.mark.parametrize("seed", range(12))
def test_positions_on_paper_agree_with_an_independent_projection_to_a_tenth_of_a_millimetre(seed: int) -> None:
    """Corners projected from space by the tests' own pinhole, read without error, against where the plan puts them on
    A2.
    """
    seen = corner(np.random.default_rng(94200 + seed), 1e-9, heights="upper")
    exact = [replace(r, sd=1e-9) for r in seen.lengths]
    widths = {r.side: r.ratio / (1 + 0) for r in seen.lengths if r.along is Along.ACROSS}
    tilts = [r for r in seen.tilts if r.height in (0.0, 1.0)]
    lengths = [r for r in exact if r.along is Along.ACROSS]
    found = near_corner(tilts, lengths)
    subject = subject_of_card(schematic([ReadForm("box", tilts, lengths, found)], [], {}, {}), found, [])
    placing = place_on(Sheet(594.0, 420.0), subject)
    steps = lay_in(placing, subject)
    near = next(s for s in steps if s.kind is StepKind.NEAR_UPRIGHT)
    assert near.p is not None and near.long_mm is not None
    for step in (s for s in steps if s.kind is StepKind.FAR_UPRIGHT):
        assert step.p is not None and step.q is not None
        side = Side.LEFT if step.p[0] < near.p[0] else Side.RIGHT
        width, away = widths[side], seen.distance[side]
        # by similar triangles from the projected vanishing point, in near uprights
        top = seen.level * width / away
        foot = 1 - (1 - seen.level) * width / away
        way = -1 if side is Side.LEFT else 1
        assert step.p == pytest.approx(
            (near.p[0] + way * width * near.long_mm, near.p[1] + top * near.long_mm), abs=0.1
        )
        assert step.q == pytest.approx(
            (near.p[0] + way * width * near.long_mm, near.p[1] + foot * near.long_mm), abs=0.1
        )
    for p in points_on_paper(placing, subject):
        assert p.at is not None
        side = Side.LEFT if p.at[0] < near.p[0] else Side.RIGHT
        assert abs(p.at[0] - near.p[0]) == pytest.approx(seen.distance[side] * near.long_mm, abs=0.1)


def test_turning_and_scaling_the_sheet_change_no_shape() -> None:
    subject = worked()
    tall, wide = place_on(Sheet(297.0, 420.0), subject), place_on(Sheet(841.0, 594.0), subject)
    shapes = [
        np.array([[*s.p, *s.q] for s in lay_in(placing, subject) if s.kind is StepKind.RECEDING and s.p and s.q])
        / placing.scale
        for placing in (tall, wide)
    ]
    assert np.ptp(shapes[0] - shapes[1], axis=0) == pytest.approx(0.0, abs=1e-9)
