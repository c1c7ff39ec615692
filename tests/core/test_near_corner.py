"""The near-corner card (handbook section 2): worked numbers, agreement, what to take again."""

import numpy as np
import pytest

from aspectum.core.near_corner import Reading, near_corner

WORKED = [
    Reading("lt", "left", 0, 11.31),
    Reading("lb", "left", 1, -16.70),
    Reading("rt", "right", 0, -14.04),
    Reading("rb", "right", 1, 20.56),
]


def test_worked_card() -> None:
    card = near_corner(WORKED)
    assert card.left.distance == pytest.approx(2.00, abs=0.001)
    assert card.right.distance == pytest.approx(1.60, abs=0.001)
    assert card.left.eye_level == pytest.approx(0.40, abs=0.0005)
    assert card.right.eye_level == pytest.approx(0.40, abs=0.0005)
    assert card.agree is True and card.retake is None


def test_eye_level_above_the_top_is_negative() -> None:
    """Both edges climb: the whole form lies below eye level."""
    card = near_corner([Reading("t", "right", 0, 8.0), Reading("b", "right", 1, 25.0), Reading("lt", "left", 0, -10.0), Reading("lb", "left", 1, -28.0)])
    assert card.right.eye_level is not None and card.right.eye_level < 0


def test_a_pair_that_opens_is_said_to_open() -> None:
    card = near_corner([Reading("lt", "left", 0, -12.0), Reading("lb", "left", 1, 3.0), *WORKED[2:]])
    assert card.left.opens and card.left.distance is None
    assert card.agree is None
    assert card.retake is not None and card.retake.reading in ("lt", "lb")


def test_the_reading_whose_change_best_reconciles_is_named() -> None:
    gauge = [Reading(r.id, r.side, r.height, r.tilt_deg, 1.0) for r in WORKED]
    card = near_corner([*gauge[:3], Reading("rb", "right", 1, 36.0, 1.0)])
    assert card.agree is False and card.retake is not None
    readings = {r.id: r for r in gauge[:3]} | {"rb": Reading("rb", "right", 1, 36.0, 1.0)}
    mended = near_corner([Reading(r.id, r.side, r.height, card.retake.tilt_deg if r.id == card.retake.reading else r.tilt_deg, 1.0) for r in readings.values()])
    assert mended.gap == pytest.approx(0, abs=1e-6)


def test_further_edges_tell_which_reading_is_wrong() -> None:
    def tilt(height: float) -> float:
        return float(np.degrees(np.arctan((height - 0.4) / 1.6)))

    readings = [Reading(f"r{k}", "right", h, tilt(h), 1.0) for k, h in enumerate((0.0, 0.3, 0.7, 1.0))] + [
        Reading(r.id, r.side, r.height, r.tilt_deg, 1.0) for r in WORKED[:2]
    ]
    readings[2] = Reading("r2", "right", 0.7, tilt(0.7) + 14, 1.0)
    card = near_corner(readings)
    assert card.right.distance is not None
    assert card.agree is False and card.retake is not None and card.retake.reading == "r2"


def test_stated_error_of_eye_level_is_calibrated() -> None:
    rng = np.random.default_rng(9)
    inside = 0
    for _ in range(600):
        noisy = [Reading(r.id, r.side, r.height, r.tilt_deg + rng.normal(0, 1.0), 1.0) for r in WORKED]
        card = near_corner(noisy)
        assert card.eye_level is not None and card.eye_level_sd is not None
        inside += abs(card.eye_level - 0.4) <= 1.96 * card.eye_level_sd
    assert 0.92 <= inside / 600 <= 0.975


@pytest.mark.parametrize(
    ("reading", "words"),
    [
        (Reading("x", "up", 0, 3), "runs to the left or to the right"),
        (Reading("x", "left", 0, 90), "tilts between"),
        (Reading("x", "left", 0, 3, 0.0), "error must be positive"),
    ],
)
def test_impossible_readings_are_refused(reading: Reading, words: str) -> None:
    with pytest.raises(ValueError, match=words):
        near_corner([reading])
