"""The near-corner card (handbook section 2): worked numbers, agreement, what to take again."""

import math
from dataclasses import replace

import numpy as np
import pytest

from aspectum.core.life.fit import Evidence
from aspectum.core.life.near_corner import near_corner
from aspectum.core.life.readings import TiltReading
from aspectum.core.life.tilts import implied_tilt, tilt_reading_findings
from aspectum.core.reasons import EdgeReason, Rule
from aspectum.core.sightings import Side
from aspectum.core.tolerance import FREEHAND, Verdict
from tests.samples import FULL, sample

WORKED = [
    TiltReading("lt", Side.LEFT, 0, 11.31),
    TiltReading("lb", Side.LEFT, 1, -16.70),
    TiltReading("rt", Side.RIGHT, 0, -14.04),
    TiltReading("rb", Side.RIGHT, 1, 20.56),
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
    card = near_corner(
        [
            TiltReading("t", Side.RIGHT, 0, 8.0),
            TiltReading("b", Side.RIGHT, 1, 25.0),
            TiltReading("lt", Side.LEFT, 0, -10.0),
            TiltReading("lb", Side.LEFT, 1, -28.0),
        ]
    )
    assert card.right.eye_level is not None and card.right.eye_level < 0


def test_a_pair_that_opens_is_said_to_open() -> None:
    card = near_corner([TiltReading("lt", Side.LEFT, 0, -12.0), TiltReading("lb", Side.LEFT, 1, 3.0), *WORKED[2:]])
    assert card.left.opens and card.left.distance is None
    assert card.agree is None
    assert card.retake is None, (
        "both its edges run the wrong way: no one reading closes the pair on the other side's eye level"
    )


@pytest.mark.parametrize("side", list(Side))
def test_of_a_pair_that_opens_one_reading_is_asked_for_that_gives_the_other_sides_eye_level(side: Side) -> None:
    way = 1.0 if side is Side.LEFT else -1.0
    opening = [TiltReading("t", side, 0, 11.0 * way), TiltReading("b", side, 1, 12.0 * way)]
    fellows = [r for r in WORKED if r.side is not side]
    retake = near_corner([*opening, *fellows]).retake
    assert retake is not None
    mended = near_corner(
        [*(replace(r, tilt_deg=retake.due) if r.id == retake.reading else r for r in opening), *fellows]
    )
    assert mended.gap == pytest.approx(0, abs=1e-9) and not mended.left.opens and not mended.right.opens


def test_the_reading_whose_change_best_reconciles_is_named() -> None:
    gauge = [TiltReading(r.id, r.side, r.height, r.tilt_deg, 1.0) for r in WORKED]
    card = near_corner([*gauge[:3], TiltReading("rb", Side.RIGHT, 1, 36.0, 1.0)])
    assert card.agree is False and card.retake is not None
    readings = {r.id: r for r in gauge[:3]} | {"rb": TiltReading("rb", Side.RIGHT, 1, 36.0, 1.0)}
    mended = near_corner(
        [
            TiltReading(r.id, r.side, r.height, card.retake.due if r.id == card.retake.reading else r.tilt_deg, 1.0)
            for r in readings.values()
        ]
    )
    assert mended.gap == pytest.approx(0, abs=1e-6)


def test_a_second_reading_nearly_as_likely_to_be_wrong_is_named_beside_the_first() -> None:
    """Twelve degrees too flat a top left may as well be a top right too flat; sixteen too steep a bottom
    right may not.
    """

    def retake(wrong: str, by: float) -> tuple[str, str | None]:
        found = near_corner(
            [TiltReading(r.id, r.side, r.height, r.tilt_deg + by * (r.id == wrong), 1.0) for r in WORKED]
        ).retake
        assert found is not None
        return found.reading, found.instead

    assert retake("lt", -12.0) == ("lt", "rt")
    assert retake("rb", 16.0) == ("lt", None)


def test_further_edges_tell_which_reading_is_wrong() -> None:
    def tilt(height: float) -> float:
        return float(np.degrees(np.arctan((height - 0.4) / 1.6)))

    readings = [TiltReading(f"r{k}", Side.RIGHT, h, tilt(h), 1.0) for k, h in enumerate((0.0, 0.3, 0.7, 1.0))] + [
        TiltReading(r.id, r.side, r.height, r.tilt_deg, 1.0) for r in WORKED[:2]
    ]
    readings[2] = TiltReading("r2", Side.RIGHT, 0.7, tilt(0.7) + 14, 1.0)
    card = near_corner(readings)
    assert card.right.distance is not None
    assert card.agree is False and card.retake is not None and card.retake.reading == "r2"


def six_readings(level: float, sd_deg: float, bend_deg: float = 0.0) -> list[TiltReading]:
    """Top, middle and bottom of both sides, two units to each vanishing point, the middle ones bent."""
    return [
        TiltReading(
            f"{side} {height}",
            side,
            height,
            way * (math.degrees(math.atan((level - height) / 2.0)) + bend_deg * (height == 0.5)),
            sd_deg,
        )
        for side, way in ((Side.LEFT, 1.0), (Side.RIGHT, -1.0))
        for height in (0.0, 0.5, 1.0)
    ]


def test_fine_readings_of_one_corner_agree_wherever_eye_level_lies() -> None:
    for level in (-0.731, 0.427, 1.268):
        card = near_corner(six_readings(level, 0.1))
        assert card.agree is True and card.eye_level == pytest.approx(level, abs=1e-9)


def test_edges_of_a_side_that_miss_one_point_disagree_though_both_sides_give_one_eye_level() -> None:
    """The same middle edge bent on both sides moves both eye levels alike."""
    card = near_corner(six_readings(0.4, 1.0, bend_deg=8.0))
    assert card.gap == pytest.approx(0, abs=1e-9)
    assert card.agree is False and card.retake is None, "two are bent: no one reading mends it"


def test_one_bent_edge_is_to_come_to_what_the_rest_imply_where_both_sides_still_give_one_eye_level() -> None:
    readings = [replace(r, tilt_deg=r.tilt_deg + 4.0) if r.id == "left 0.5" else r for r in six_readings(0.4, 1.0)]
    card = near_corner(readings)
    assert card.agree is False and not card.apart
    assert card.retake is not None and (card.retake.reading, card.retake.instead) == ("left 0.5", None)
    assert card.retake.due == pytest.approx(readings[1].tilt_deg - 4.0, abs=1e-6)
    assert near_corner([replace(r, tilt_deg=card.retake.due) if r.id == "left 0.5" else r for r in readings]).agree


def test_stated_error_of_eye_level_is_calibrated() -> None:
    rng = np.random.default_rng(9)
    inside = 0
    times = sample(350, 200)
    for _ in range(times):
        noisy = [TiltReading(r.id, r.side, r.height, r.tilt_deg + rng.normal(0, 1.0), 1.0) for r in WORKED]
        card = near_corner(noisy)
        assert card.eye_level is not None and card.eye_level_sd is not None
        inside += abs(card.eye_level - 0.4) <= 1.96 * card.eye_level_sd
    assert 0.92 <= inside / times <= (0.975 if FULL else 0.98)


@pytest.mark.parametrize(
    ("reading", "words"),
    [
        (TiltReading("x", Side.LEFT, 0, 90), "tilts between"),
        (TiltReading("x", Side.LEFT, 0, 3, 0.0), "error must be positive"),
    ],
)
def test_impossible_readings_are_refused(reading: TiltReading, words: str) -> None:
    with pytest.raises(ValueError, match=words):
        near_corner([reading])


def test_what_the_others_imply_of_a_reading_is_calibrated() -> None:
    """Six readings, three a side, with 1° each: 95 % of the implied tilts lie within 1.96 of their own deviations."""
    true = [
        (f"{side}{k}", side, t, fall)
        for side, closing in ((Side.LEFT, 0.5), (Side.RIGHT, 0.625))
        for k, t, fall in ((k, t, closing * (0.4 - t)) for k, t in enumerate((0.0, 0.55, 1.0)))
    ]
    rng = np.random.default_rng(12)
    z = []
    for _ in range(sample(250, 120)):
        tilts = [math.degrees(math.atan(fall if side is Side.LEFT else -fall)) for _, side, _, fall in true]
        readings = [
            TiltReading(id, side, t, tilt + rng.normal(0, 1.0), 1.0)
            for (id, side, t, _), tilt in zip(true, tilts, strict=True)
        ]
        for reading, tilt in zip(readings, tilts, strict=True):
            found = implied_tilt(reading, Evidence(tuple(o for o in readings if o is not reading)))
            assert found is not None
            z.append((found[0] - tilt) / found[1])
    assert 0.93 <= np.mean(np.abs(z) <= 1.96) <= 0.97


def test_four_readings_with_a_stick_agree_without_saying_that_each_holds() -> None:
    """Two degrees each: what the other three ask of one is known no better than three degrees."""
    readings = [replace(r, sd_deg=2.0) for r in WORKED]
    card = near_corner(readings)
    assert card.agree
    assert {f.verdict for f in tilt_reading_findings(readings, card, FREEHAND)} <= {Verdict.UNSURE, Verdict.HOLDS}
    gauge = [replace(r, sd_deg=1.0) for r in WORKED]
    assert {f.verdict for f in tilt_reading_findings(gauge, near_corner(gauge), FREEHAND)} == {Verdict.HOLDS}


def test_a_wrong_reading_is_off_and_the_rest_are_weighed_without_it() -> None:
    extra = [
        TiltReading("lm", Side.LEFT, 0.5, math.degrees(math.atan(-0.05)), 1.0),
        TiltReading("rm", Side.RIGHT, 0.5, math.degrees(math.atan(0.0625)), 1.0),
    ]
    readings = [replace(r, sd_deg=1.0) for r in WORKED] + extra
    wrong = [replace(r, tilt_deg=r.tilt_deg + 12.0) if r.id == "lm" else r for r in readings]
    found = {f.sighting: f for f in tilt_reading_findings(wrong, near_corner(wrong), FREEHAND)}
    assert found["lm"].verdict is Verdict.OFF and found["lm"].reason.rule is Rule.TAKE_AGAIN
    assert found["lm"].implied == pytest.approx(math.degrees(math.atan(-0.05)), abs=0.5)
    assert isinstance(found["lm"].reason, EdgeReason) and found["lm"].reason.turn_deg == pytest.approx(-12.0, abs=0.5)
    assert {f.verdict for id, f in found.items() if id != "lm"} == {Verdict.HOLDS}


def test_a_lone_pair_of_readings_implies_nothing_of_either() -> None:
    pair = WORKED[:2]
    assert {f.reason.rule for f in tilt_reading_findings(pair, near_corner(pair), FREEHAND)} == {Rule.NOTHING_TO_CHECK}


def test_an_upright_read_from_life_stands_beside_the_card() -> None:
    upright = TiltReading("u", None, 0.5, 89.0, 1.0)
    card = near_corner([*WORKED, upright])
    assert card == near_corner(WORKED)
    found = tilt_reading_findings([*WORKED, upright], card, FREEHAND)
    assert found[:-1] == tilt_reading_findings(WORKED, card, FREEHAND)
    assert (found[-1].verdict, found[-1].reason.rule) == (Verdict.UNSURE, Rule.NOTHING_TO_CHECK)
