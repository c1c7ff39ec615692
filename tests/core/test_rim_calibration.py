"""Every ± of a rim must mean what it says. A seeded sample; ``make bench`` runs the full set."""

from __future__ import annotations

import numpy as np
import pytest

from tests.round_simulation import LEVEL, PITCHED, RimAccuracy, quay, rim_accuracy
from tests.samples import sample

SCENES = sample(70, 45)
pytestmark = pytest.mark.slow


@pytest.fixture(scope="module", params=[LEVEL, PITCHED], ids=["level views", "pitched views"])
def found(request: pytest.FixtureRequest) -> RimAccuracy:
    return rim_accuracy(request.param, SCENES, seed=17)


def test_95_percent_interval_of_the_sighted_degree_holds_the_truth(found: RimAccuracy) -> None:
    assert 0.92 <= found.held(found.sighted_z) <= 0.975


def test_implied_degree_is_much_better_than_the_sighted_one(found: RimAccuracy) -> None:
    """Each rim left out of the view that implies its degree."""
    assert found.gain() <= 0.72


def test_implied_degrees_and_axes_lie_within_their_error(found: RimAccuracy) -> None:
    assert 0.91 <= found.held(found.implied_z) <= 0.99
    assert 0.91 <= found.held(found.axis_z) <= 0.99


def test_95_percent_interval_of_eye_level_from_rims_holds_the_truth(found: RimAccuracy) -> None:
    assert found.open <= SCENES // 20
    assert found.held(found.level_z) >= 0.90  # 0.96-0.98 over many scenes
    assert np.std(found.level_z) > 0.6


def test_hardly_a_true_rim_is_called_off(found: RimAccuracy) -> None:
    assert found.off <= 0.03 * len(found.sighted)  # two deviations each for degree and axis
    assert np.median(found.sighted) < 1.2


def test_true_rims_level_lying_and_on_walls_are_left_alone_and_their_plus_minus_holds() -> None:
    """Beside truthful edges: drums on their sides, wheels on walls, tins upright."""
    found = quay(60, seed=23)
    assert sum(found.off.values()) <= 2
    for stands in found.off:
        assert np.mean(np.abs(found.sighted_z[stands]) < 1.96) > 0.88
        assert np.mean(np.abs(found.implied_z[stands]) < 1.96) > 0.90
