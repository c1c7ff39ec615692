"""Which line of a set-up a student meant, however they laid it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from aspectum.core.stand.camera import View
from aspectum.core.stand.drawing import draw
from aspectum.core.stand.taken import taken
from aspectum.core.stand.things import Box, Stand
from aspectum.core.stand.truth import true_degrees, true_tilts
from tests.stand_scenes import random_stand, random_view


@pytest.mark.parametrize("seed", range(8))
def test_a_hand_some_pixels_off_is_told_the_line_that_it_followed(seed: int) -> None:
    """3 px at every end; of lines that lie as near to one another the other may be meant: its tilt is then as near."""
    rng = np.random.default_rng(seed)
    drawing = draw(random_stand(rng, 4), random_view(rng))
    shown = taken(drawing)
    exact = true_tilts(drawing, shown.edges)
    lines = {edge.id: edge for edge in shown.edges}
    assert set(exact) == set(lines)

    def off(point: tuple[float, float]) -> tuple[float, float]:
        return float(point[0] + rng.normal(0, 3)), float(point[1] + rng.normal(0, 3))

    told = true_tilts(drawing, [replace(edge, p=off(edge.p), q=off(edge.q)) for edge in shown.edges])
    assert set(told) == set(exact)
    right = sum(abs(told[id] - exact[id]) < 1e-9 for id in exact)
    assert right >= 0.9 * len(exact)
    degrees = true_degrees(drawing, shown.rims)
    assert set(degrees) == {rim.id for rim in shown.rims}


def test_what_lies_on_no_line_of_its_form_has_no_truth() -> None:
    drawing = draw(Stand((Box("box", turn_deg=30.0),)), View())
    edge = taken(drawing).edges[0]
    away = replace(edge, p=(edge.p[0] + 400, edge.p[1] - 700), q=(edge.q[0] + 400, edge.q[1] - 700))
    assert not true_tilts(drawing, [away, replace(edge, form="another")])
