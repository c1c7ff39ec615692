"""Readings from life: repeats, rims, thumb, gauge, and the near corner as it is drawn (handbook sections 2, 3, 4)."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aspectum.core.life.alignments import alignment_reading_findings
from aspectum.core.life.fit import Evidence, Lens, fit
from aspectum.core.life.gauge import hold, offset
from aspectum.core.life.lengths import length_reading_findings
from aspectum.core.life.near_corner import near_corner
from aspectum.core.life.readings import AlignmentReading, LengthReading, Of, RimReading, TiltReading
from aspectum.core.life.repeats import average
from aspectum.core.life.rims import rim_reading_findings
from aspectum.core.life.schematic import OtherLevel, ReadForm, other_levels, schematic
from aspectum.core.life.tilts import tilt_reading_findings
from aspectum.core.reasons import Rule
from aspectum.core.sightings import Along, Guide, Kind, Side
from aspectum.core.tolerance import FREEHAND, Verdict
from tests.life_simulation import corner, tell
from tests.samples import FULL, least, sample

WORKED = [
    TiltReading("lt", Side.LEFT, 0, 11.31),
    TiltReading("lb", Side.LEFT, 1, -16.70),
    TiltReading("rt", Side.RIGHT, 0, -14.04),
    TiltReading("rb", Side.RIGHT, 1, 20.56),
]
FAR = [LengthReading("lw", Along.ACROSS, 0.8, Side.LEFT), LengthReading("lh", Along.UPRIGHT, 0.6, Side.LEFT)]


# -- the card ---------------------------------------------------------------------------------------


def test_the_interval_of_a_distance_is_skewed_as_its_closing_is_not() -> None:
    """1/distance errs evenly: a far point may be much farther, and hardly nearer."""
    side = near_corner(WORKED).right
    assert side.distance is not None and side.distance_low is not None and side.distance_high is not None
    assert side.distance_high - side.distance > side.distance - side.distance_low > 0
    assert 1 / side.distance - 1 / side.distance_high == pytest.approx(
        1 / side.distance_low - 1 / side.distance, rel=0.1
    )


def test_a_side_that_hardly_closes_has_no_farthest_distance() -> None:
    side = near_corner([TiltReading("t", Side.LEFT, 0, 3.0), TiltReading("b", Side.LEFT, 1, -1.0)]).left
    assert side.distance is not None and side.distance_high is None


def test_a_far_upright_tells_its_sides_distance_and_narrows_it() -> None:
    """A far upright 0.6 long, 0.8 away, closes by 0.5 to the unit: 2 units to the point, as the tilts have it."""
    alone, together = near_corner(WORKED).left, near_corner(WORKED, FAR).left
    assert together.distance == pytest.approx(2.0, abs=0.002)
    assert (
        alone.distance_sd is not None
        and together.distance_sd is not None
        and together.distance_sd < 0.8 * alone.distance_sd
    )


def test_one_edge_of_a_side_is_enough_where_the_other_side_gives_eye_level() -> None:
    card = near_corner(WORKED[:3])
    assert card.right.distance == pytest.approx(1.6, abs=0.005) and card.right.eye_level is None
    assert card.agree is None and card.eye_level == pytest.approx(0.4, abs=0.001)


def test_no_vanishing_point_is_told_at_the_near_upright_itself() -> None:
    """A right top edge that climbs, beside a left pair whose eye level lies below it: the two have no
    corner in common.
    """
    card = near_corner([*WORKED[:2], TiltReading("rt", Side.RIGHT, 0, 20.6)])
    assert card.right.distance is None


def test_a_reading_that_is_surely_wrong_takes_no_part_in_the_figures() -> None:
    between = [
        TiltReading("lm", Side.LEFT, 0.5, math.degrees(math.atan(-0.05)), 1.0),
        TiltReading("rm", Side.RIGHT, 0.5, math.degrees(math.atan(0.0625)), 1.0),
    ]
    gauge = [replace(r, sd_deg=1.0) for r in WORKED] + between
    wrong = [replace(r, tilt_deg=r.tilt_deg + 12) if r.id == "rb" else r for r in gauge]
    card = near_corner(wrong, FAR)
    assert card.left_out == "rb" and card.agree is False
    assert card.right.distance == pytest.approx(1.6, rel=0.05) and card.eye_level == pytest.approx(0.4, abs=0.03)
    found = {f.sighting: f for f in tilt_reading_findings(wrong, card, FREEHAND)}
    assert found["rb"].implied == pytest.approx(20.56, abs=1.5)
    assert [id for id, f in found.items() if f.verdict is Verdict.OFF] == ["rb"]


def test_a_wrong_far_upright_is_named_as_a_tilt_is() -> None:
    gauge = [replace(r, sd_deg=0.5) for r in WORKED]
    wrong = [FAR[0], replace(FAR[1], ratio=0.85)]
    card = near_corner(gauge, wrong)
    assert card.left_out == "lh" and card.retake is not None and card.retake.due == pytest.approx(0.6, abs=0.02)
    found = length_reading_findings(wrong, card, FREEHAND)[1]
    assert (found.verdict, found.reason.rule, found.reason.others) == (Verdict.OFF, Rule.TOO_LONG, ("lw",))


@settings(max_examples=40, deadline=None)
@given(level=st.floats(-1.5, 2.0), left=st.floats(0.7, 7.0), right=st.floats(0.7, 7.0))
def test_readings_without_error_give_the_corner_back_and_agree(level: float, left: float, right: float) -> None:
    tilts = [
        TiltReading(f"{side} {t}", side, t, way * math.degrees(math.atan((level - t) / d)), 1.0)
        for side, way, d in ((Side.LEFT, 1.0, left), (Side.RIGHT, -1.0, right))
        for t in (0.0, 0.4, 1.0)
    ]
    card = near_corner(tilts)
    assert card.left.distance == pytest.approx(left, rel=1e-6) and card.right.distance == pytest.approx(right, rel=1e-6)
    assert card.eye_level == pytest.approx(level, abs=1e-6) and card.agree and card.retake is None
    mirrored = near_corner(
        [replace(r, side=Side.LEFT if r.side is Side.RIGHT else Side.RIGHT, tilt_deg=-r.tilt_deg) for r in tilts]
    )
    assert (mirrored.left.distance, mirrored.right.distance) == pytest.approx(
        (card.right.distance, card.left.distance), rel=1e-9
    )


@pytest.mark.slow
@pytest.mark.parametrize("sd_deg", [2.0, 1.0])
def test_intervals_of_the_card_hold_the_truth(sd_deg: float) -> None:
    """95 of 100, 150 corners within what was asked of 220 (three of their standard deviations: 4.4 %). ``make bench``
    reads 2,000.
    """
    corners = sample(150, 80)
    told = tell(93310, corners, sd_deg)
    for what in told.held:
        assert (0.906 if FULL else least(0.95, corners)) <= told.share(what) <= (0.994 if FULL else 1.0), what
    assert told.blamed <= 5, "true readings are hardly ever blamed"


@pytest.mark.slow
@pytest.mark.parametrize(("sd_deg", "named"), [(2.0, 0.78), (1.0, 0.93)])
def test_a_wrong_reading_is_named_and_no_other_blamed(sd_deg: float, named: float) -> None:
    """One of six tilts, three a side, 8 to 15 degrees wrong, with thumb measures beside them; limits by the chance of
    80 corners.
    """
    told = tell(93311, sample(80, 40), sd_deg, wrong=True)
    assert told.named / told.corners >= least(named, told.corners)
    assert told.blamed <= 4


def test_nothing_read_is_nothing_told() -> None:
    assert fit(Evidence()) is None
    card = near_corner([])
    assert (card.eye_level, card.left.distance, card.agree, card.retake) == (None, None, None, None)


# -- rims from life ---------------------------------------------------------------------------------


def test_a_rims_two_degrees_of_one_line_of_sight() -> None:
    """Drawn on an upright sheet the ratio is the tangent of the dip, by looking its sine: 18.3° gives 0.330, drawn
    19.3°.
    """
    rim = RimReading("r", sight_deg=18.26)
    assert rim.drawn_ratio == pytest.approx(0.330, abs=5e-4)
    assert (rim.drawn_degree_deg, rim.looking_degree_deg) == (pytest.approx(19.27, abs=0.02), pytest.approx(18.26))
    by_stick = RimReading("r", ratio=0.33)
    assert by_stick.looking_degree_deg == pytest.approx(18.26, abs=0.01)


def test_two_rims_fix_eye_level_and_the_eyes_distance() -> None:
    """Handbook section 3: 60 below, ratio 0.12; 150 below, 0.30; f = 500. In near uprights of 100: eye
    level 0.4 down.
    """
    rims = [RimReading("a", ratio=0.12, down=1.0, sd=0.001), RimReading("b", ratio=0.30, down=1.9, sd=0.001)]
    found = fit(Evidence(rims=tuple(rims)))
    assert found is not None
    assert found.level == pytest.approx(0.4, abs=1e-6) and 1 / found.x[3] == pytest.approx(5.0, abs=1e-6)
    # a shade whose underside shows lies as far above it
    shade = RimReading("c", ratio=0.12, down=-0.2, sd=0.001, from_below=True)
    both = fit(Evidence(rims=(rims[0], shade)))
    assert both is not None and both.level == pytest.approx(0.4, abs=1e-6)


def test_a_rim_is_judged_by_eye_level_and_how_far_the_eye_is() -> None:
    """Two units from the eye, 0.6 below eye level: ratio 0.30, drawn 17.5 degrees."""
    lens = Lens(0.5, 0.005)
    card = near_corner(WORKED, rims=[], lens=lens)
    flat = RimReading("r", ratio=0.10, down=1.0)
    told = rim_reading_findings([flat], near_corner(WORKED, rims=[flat], lens=lens), FREEHAND)[0]
    assert (
        told.implied == pytest.approx(17.46, abs=0.1)
        and told.verdict is Verdict.OFF
        and told.reason.rule is Rule.RIM_TOO_FLAT
    )
    true = RimReading("r", ratio=0.30, down=1.0)
    assert (
        rim_reading_findings([true], near_corner(WORKED, rims=[true], lens=lens), FREEHAND)[0].verdict is Verdict.HOLDS
    )
    assert rim_reading_findings([replace(true, down=None)], card, FREEHAND)[0].reason.rule is Rule.NOTHING_TO_CHECK


# -- repeats, gauge ---------------------------------------------------------------------------------


def test_repeats_are_averaged_and_their_error_shrinks() -> None:
    once, four = average([12.0], 2.0), average([12.0, 11.0, 13.0, 12.4], 2.0)
    assert (once.value, once.sd, once.spread) == (12.0, 2.0, None)
    assert four.value == pytest.approx(12.1) and four.spread == pytest.approx(np.std([12.0, 11.0, 13.0, 12.4], ddof=1))
    assert four.sd < 1.0 and four.strays == ()


def test_a_repeat_that_strays_is_named_and_left_out() -> None:
    found = average([12.0, 11.0, 24.0, 12.4], 2.0)
    assert found.strays == (2,) and found.value == pytest.approx(11.8)


def test_two_that_differ_ask_for_a_third() -> None:
    assert average([12.0, 24.0], 2.0).differ and not average([12.0, 15.0], 2.0).differ
    with pytest.raises(ValueError, match="at least one"):
        average([], 2.0)


def test_the_error_of_an_average_is_calibrated() -> None:
    rng = np.random.default_rng(8)
    for count in (2, 3, 5):
        z = []
        for _ in range(800):
            found = average(list(rng.normal(12, 2.0, count)), 2.0)
            z.append((found.value - 12) / found.sd)
        assert 0.92 <= np.mean(np.abs(z) <= 1.96) <= 0.975


def test_a_gauge_is_held_at_its_median_and_turned_round_its_offset_shows() -> None:
    rng = np.random.default_rng(3)
    knocked = [*(12.3 + rng.normal(0, 0.2, 25)).tolist(), 40.0, -30.0]
    held = hold(knocked, 0.8)
    assert held.tilt_deg == pytest.approx(11.5, abs=0.15) and held.still and held.spread_deg < 0.4
    assert not hold(list(rng.normal(12, 4, 25))).still
    level = 1.7  # the table itself does not lie level
    assert offset(hold([level + 0.8] * 5), hold([-level + 0.8] * 5)) == pytest.approx(0.8)
    assert (
        hold([89.8, -89.9, 89.9, -89.7, 90.0]).tilt_deg == pytest.approx(90.0, abs=0.3)
        or hold([89.8, -89.9, 89.9, -89.7, 90.0]).tilt_deg < -89
    )
    with pytest.raises(ValueError, match="at least 5"):
        hold([1.0, 2.0])


def test_what_stands_in_line_holds_and_what_stands_beside_it_is_only_told() -> None:
    found = alignment_reading_findings(
        [AlignmentReading("a", Guide.PLUMB, 0.02), AlignmentReading("b", Guide.LEVEL, 0.4)], FREEHAND
    )
    assert [f.verdict for f in found] == [Verdict.HOLDS, Verdict.UNSURE] and found[1].kind is Kind.ALIGNMENT


# -- the near corner drawn --------------------------------------------------------------------------


def drawn(tilts: list[TiltReading], lengths: list[LengthReading] | None = None) -> ReadForm:
    return ReadForm("box", tilts, lengths or [], near_corner(tilts, lengths))


def test_an_unread_corner_tells_nothing_of_the_answer() -> None:
    plain = schematic([drawn([])], [], {}, {})
    assert [slot.sighting for slot in plain.slots] == [None] * 8
    assert plain.eye_level is None and plain.points == ()
    left, right = (next(s for s in plain.slots if s.side is side and s.end == 0.0) for side in Side)
    assert left.q[0] == -right.q[0] and left.q[1] == right.q[1]


def test_readings_are_taken_edge_by_edge_then_by_the_thumb() -> None:
    order = [(s.kind, s.side, s.end, s.along) for s in schematic([drawn([])], [], {}, {}).slots]
    assert order[0] == (Kind.EDGE, Side.LEFT, 0.0, None) and order[3] == (Kind.EDGE, Side.RIGHT, 1.0, None)
    assert [kind for kind, *_ in order[4:]] == [Kind.LENGTH] * 4


def test_the_corner_is_redrawn_from_its_readings() -> None:
    found = schematic([drawn(WORKED, FAR)], [RimReading("r", ratio=0.25, down=0.9)], {"r": -0.5}, {"r": 0.4})
    top = next(s for s in found.slots if s.sighting == "lt")
    assert top.q == pytest.approx((-0.8, 0.8 * math.tan(math.radians(11.31))))
    assert {round(p.at[0], 2) for p in found.points} == {-2.0, 1.6} and found.eye_level == pytest.approx(0.4, abs=1e-3)
    rim = found.rims[0]
    assert (rim.centre, rim.major, rim.minor) == ((-0.5, 0.9), 0.4, pytest.approx(0.1))


def test_a_second_form_and_a_post_stand_where_they_were_measured() -> None:
    places = [
        LengthReading("x", Along.ACROSS, 1.4, Side.RIGHT, of=Of.NEAR_UPRIGHT),
        LengthReading("t", Along.UPRIGHT, -0.2, of=Of.TOP),
        LengthReading("l", Along.UPRIGHT, 1.1, of=Of.NEAR_UPRIGHT),
    ]
    post = ReadForm("post", [], places, near_corner([]), post=True)
    found = schematic([drawn(WORKED), post], [], {}, {})
    line = next(line for line in found.lines if line.form == "post")
    assert (line.p, line.q) == (pytest.approx((1.4, -0.2)), pytest.approx((1.4, 0.9)))
    assert [s.of for s in found.slots if s.form == "post"] == [Of.NEAR_UPRIGHT, Of.TOP, Of.NEAR_UPRIGHT]


def test_all_forms_share_one_eye_level_and_one_that_does_not_is_told() -> None:
    """A second upright half as long, its top 0.2 lower: eye level 0.4 down the first is 0.4 down the second as well."""

    def second(level: float) -> list[OtherLevel]:
        tilts = [TiltReading(f"{t}", Side.LEFT, t, math.degrees(math.atan((level - t) / 2.0)), 1.0) for t in (0.0, 1.0)]
        places = [
            LengthReading("t", Along.UPRIGHT, 0.2, of=Of.TOP),
            LengthReading("l", Along.UPRIGHT, 0.5, of=Of.NEAR_UPRIGHT),
        ]
        return other_levels([drawn(WORKED, FAR), ReadForm("b", tilts, places, near_corner(tilts))])

    agrees, differs = second(0.4)[0], second(1.6)[0]
    assert agrees.lower == pytest.approx(0.0, abs=0.01) and not agrees.apart
    assert differs.lower == pytest.approx(0.6, abs=0.01) and differs.apart


def test_simulated_corners_are_projected_as_the_card_has_them() -> None:
    """The simulation's space and the card's similar triangles know nothing of one another."""
    seen = corner(np.random.default_rng(5), 1e-9)
    card = near_corner(seen.tilts)
    assert card.eye_level == pytest.approx(seen.level, abs=1e-6)
    assert card.left.distance == pytest.approx(seen.distance[Side.LEFT], rel=1e-6)
