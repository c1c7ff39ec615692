"""Tilts and leans, as the handbook's section 0 defines them."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from aspectum.core.plane.lines import lean_deg, tilt_deg, tilt_difference, tilt_sd_deg, wrap_tilt

angles = st.floats(-720, 720, allow_nan=False)


def test_a_line_that_rises_to_the_right_has_a_positive_tilt() -> None:
    assert tilt_deg((0, 100), (100, 0)) == pytest.approx(45)
    assert tilt_deg((0, 0), (100, 100)) == pytest.approx(-45)
    assert tilt_deg((0, 5), (9, 5)) == 0
    assert tilt_deg((3, 0), (3, 9)) == 90


def test_worked_tilts_of_the_handbook() -> None:
    assert tilt_deg((400, 200), (150, 250)) == pytest.approx(11.31, abs=0.005)
    assert tilt_deg((400, 700), (150, 625)) == pytest.approx(-16.70, abs=0.005)


@given(angles)
def test_tilts_lie_above_minus_90_and_up_to_90(angle: float) -> None:
    assert -90 < wrap_tilt(angle) <= 90


@given(st.floats(-89, 89), st.floats(-89, 89))
def test_a_difference_of_tilts_goes_the_short_way_round(a: float, b: float) -> None:
    assert abs(tilt_difference(a, b)) <= 90
    assert np.sin(np.radians(2 * (a - b - tilt_difference(a, b)))) == pytest.approx(0, abs=1e-9)


def test_lean_is_measured_from_plumb_to_the_right() -> None:
    assert lean_deg(80) == pytest.approx(10)
    assert lean_deg(-80) == pytest.approx(-10)
    assert lean_deg(90) == pytest.approx(0)


def test_error_of_a_sighted_tilt_falls_with_length() -> None:
    rng = np.random.default_rng(4)
    p, q = rng.normal((0, 0), 1.5, (4000, 2)), rng.normal((200, 40), 1.5, (4000, 2))
    assert np.std(tilt_deg(p, q)) == pytest.approx(float(tilt_sd_deg(204, 1.5)), rel=0.05)
