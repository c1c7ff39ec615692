"""A drawing judged on its own terms alone (handbook section 2), and the judgements on sheets by skill (section 8)."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from aspectum.core.check import check
from aspectum.core.drawing.compare import Laid
from aspectum.core.drawing.own import Meets, own_terms
from aspectum.core.practice.recorded import ReadFrom, SkillsOn, judgement_readings, top_rims
from aspectum.core.practice.skills import Skill, SkillUnit
from aspectum.core.sightings import Edge, Family, Plane, Rim, Setup
from tests import worked
from tests.paper_scenes import PAPER_DPMM, on_paper, paper_subject

MM = 0.25  # of a pixel: the worked picture as a sheet 250 mm wide


def own_box(**moved: tuple[float, float]) -> Laid:
    """The worked picture's two pairs with uprights, as drawn; ``moved``: far ends by edge."""
    edges = [replace(e, q=moved.get(e.id, e.q)) for e in worked.EDGES]
    uprights = [Edge(f"u{k}", "box", Family.UPRIGHT, (x, 250.0), (x, 625.0)) for k, x in enumerate((150.0, 650.0))]
    return Laid(Setup(1000, 800, point_sd_px=1.5), [*edges, *uprights])


def test_each_family_meets_where_it_was_drawn_to() -> None:
    """Handbook section 2: left at (-600, 400), right at (1400, 400) px; here 150 mm left of the sheet and 100 mm right
    of it.
    """
    own = own_terms(own_box(), MM)
    at = {f.family: f for f in own.families}
    assert at[Family.LEFT].at_mm == pytest.approx((-150, 100), abs=0.5) and at[Family.RIGHT].at_mm == pytest.approx(
        (350, 100), abs=0.5
    )
    assert all(f.meets is Meets.CLOSE for f in own.families)
    assert own.by_left_mm == pytest.approx(100, abs=0.5) and own.by_right_mm == pytest.approx(100, abs=0.5)
    assert own.lean_deg == pytest.approx(0, abs=0.01) and own.gaps == []


def test_pairs_that_ask_for_two_eye_levels_are_told_apart() -> None:
    left = [e.id for e in worked.EDGES if e.family is Family.LEFT]
    up = {e.id: (e.q[0], e.q[1] - 40.0) for e in worked.EDGES if e.id in left}
    own = own_terms(own_box(**up), MM)
    assert own.by_left_mm is not None and own.by_right_mm is not None and own.by_right_mm - own.by_left_mm > 20.0


def test_a_pair_that_opens_is_named() -> None:
    tops = [e for e in worked.EDGES if e.family is Family.LEFT]
    opened = {tops[0].id: (150.0, 150.0), tops[1].id: (150.0, 740.0)}
    own = own_terms(own_box(**opened), MM)
    assert next(f for f in own.families if f.family is Family.LEFT).meets is Meets.OPEN


def test_corners_that_miss_are_measured() -> None:
    top = next(e for e in worked.EDGES if e.family is Family.LEFT and e.q[1] < 400)
    own = own_terms(own_box(**{top.id: (top.q[0], top.q[1] + 20.0)}), MM)
    assert own.gaps[0].gap_mm == pytest.approx(5.0, abs=0.05) and top.id in own.gaps[0].sightings


@pytest.mark.parametrize(
    "laid", [Laid(Setup(800, 600), []), Laid(Setup(800, 600), [Edge("e", "f", Family.LEFT, (0, 0), (90, 20))])]
)
def test_nearly_nothing_on_a_sheet_is_answered_with_nothing(laid: Laid) -> None:
    own = own_terms(laid, MM)
    assert own.families == [] and own.gaps == [] and own.lean_deg is None


def test_rims_say_their_own_eye_level() -> None:
    rng = np.random.default_rng(14)
    subject = paper_subject(rng, "box and tin")
    own = own_terms(on_paper(subject, [], rng, wobble=0.0), 1 / PAPER_DPMM)
    assert own.eye_level_mm is not None and own.by_rims_mm == pytest.approx(own.eye_level_mm, abs=12.0)


def test_judgements_become_readings_of_their_skill() -> None:
    """A tilt judged at 14 of 11.3 sighted is 2.7 too steep; one judged at 89 of -89 is 2 off, not 178."""
    edges = [replace(worked.EDGES[0], judged_tilt_deg=14.0), *worked.EDGES[1:]]
    edges.append(Edge("u", "box", Family.UPRIGHT, (300.0, 100.0), (303.0, 300.0), judged_tilt_deg=89.0))
    readings = {r.sighting: r for r in judgement_readings(check(worked.SETUP, edges).findings, SkillsOn(edges))}
    first = readings[worked.EDGES[0].id]
    assert (first.skill, first.source, first.unit) == (Skill.LEFT_ABOVE, ReadFrom.JUDGEMENT, SkillUnit.DEGREES)
    assert first.error == pytest.approx(14.0 - 11.31, abs=0.02)
    assert readings["u"].skill is Skill.UPRIGHT_LEAN
    assert abs(readings["u"].judged - readings["u"].truth) < 3.0 and set(readings) == {worked.EDGES[0].id, "u"}


def test_only_the_top_rim_of_a_form_is_an_upper_one() -> None:
    ring = tuple((float(x), 100.0) for x in range(5))
    rims = [
        Rim("low", "a", Plane.LEVEL, tuple((x, y + 90) for x, y in ring)),
        Rim("top", "a", Plane.LEVEL, ring),
        Rim("wheel", "b", Plane.LEFT, ring),
    ]
    assert top_rims(rims) == {"top"}
