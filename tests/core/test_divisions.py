"""Parts of faces, repeats and constructions (handbook section 4)."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from aspectum.core.aids.divide import Construction, Role, Stroke, construct
from aspectum.core.check import check
from aspectum.core.findings import CheckResult, Finding, NoteCode
from aspectum.core.form.faces import part_by_corners
from aspectum.core.reasons import FaceReason, Rule
from aspectum.core.sightings import Division, Edge, Face, Family, Kind, Measured, PartAlong, Perspective, Setup
from aspectum.core.tolerance import RULED, Verdict
from tests import worked

WALL = Face("wall", "box", (Family.RIGHT, Family.UPRIGHT), ((400, 700), (650, 625), (650, 250), (400, 200)))
LEFT_WALL = Face("left", "box", (Family.LEFT, Family.UPRIGHT), ((150, 625), (400, 700), (400, 200), (150, 250)))
# uprights 6 and 4 long, straight ahead: the near one at x = 0, the far one at x = 100
SIX_FOUR = Face("wall", "w", (Family.RIGHT, Family.UPRIGHT), ((0, 300), (100, 200), (100, -200), (0, -300)))


def drawn_at(x: float, along: PartAlong = PartAlong.ACROSS) -> Division:
    return Division("d", "wall", along, (x, 0.0))


def parts(result: CheckResult) -> list[Finding]:
    return [f for f in result.findings if f.kind is Kind.DIVISION]


@pytest.mark.parametrize(("part", "drawn"), [(0.25, 0.333), (0.5, 0.600), (0.75, 0.818)])
def test_a_part_is_drawn_nearer_the_far_end(part: float, drawn: float) -> None:
    """Uprights 6 and 4: t(s) = s·6/((1 − s)·4 + s·6) gives 0.333, 0.600, 0.818."""
    told = part_by_corners(SIX_FOUR, drawn_at(100 * drawn), 1.0)
    assert told.part == pytest.approx(part, abs=0.001) and told.drawn == pytest.approx(drawn, abs=1e-6)


def test_the_middle_of_the_worked_wall() -> None:
    """Handbook section 4: drawn 0.571 of its width from the near upright, at x = 257.1; truly the middle."""
    middle = Division("door", "left", PartAlong.ACROSS, (257.143, 420))
    found = parts(check(worked.SETUP, worked.EDGES, measured=Measured(faces=[LEFT_WALL], divisions=[middle])))[0]
    assert found.implied == pytest.approx(0.5, abs=1e-4) and found.sighted == pytest.approx(1 - 0.571, abs=0.001)
    alone = part_by_corners(LEFT_WALL, middle, 1.5)
    assert alone.part == pytest.approx(0.5, abs=1e-4)
    assert found.implied_sd is not None and found.implied_sd < alone.part_sd  # the view has a say


@pytest.mark.parametrize(
    ("said", "rule"),
    [
        (0.5, Rule.AGREES),
        (0.43, Rule.MEASURED_NOT_CONSTRUCTED),
        (0.7, Rule.JUDGED_TOO_MUCH),
        (0.3, Rule.JUDGED_TOO_LITTLE),
    ],
)
def test_a_judged_part_is_weighed_and_the_measured_middle_named(said: float, rule: Rule) -> None:
    middle = Division("door", "left", PartAlong.ACROSS, (257.143, 420), said)
    found = parts(
        check(worked.SETUP, worked.EDGES, measured=Measured(faces=[LEFT_WALL], divisions=[middle]), tolerances=RULED)
    )[0]
    assert found.reason.rule is rule and (found.verdict is Verdict.HOLDS) == (rule is Rule.AGREES)


def test_what_is_measured_outside_the_cone_of_vision_is_named() -> None:
    """f = 995 px: the cone's radius is 574 px about (500, 400)."""
    places = [
        Division("far", "left", PartAlong.ACROSS, (-80, 420)),
        Division("near", "left", PartAlong.ACROSS, (300, 420)),
    ]
    notes = check(worked.SETUP, worked.EDGES, measured=Measured(faces=[LEFT_WALL], divisions=places)).notes
    assert [n.sightings for n in notes if n.code is NoteCode.OUTSIDE_CONE] == [("far",)]


def test_a_sill_counts_up_from_the_foot() -> None:
    sill = Division("sill", "wall", PartAlong.UP, (400, 450))
    assert parts(check(worked.SETUP, worked.EDGES, measured=Measured(faces=[WALL], divisions=[sill])))[
        0
    ].implied == pytest.approx(0.5, abs=0.001)


def test_a_face_alone_is_divided_without_any_camera() -> None:
    setup = Setup(1000, 800, perspective=Perspective.PARALLEL)
    found = check(
        setup,
        [],
        measured=Measured(faces=[LEFT_WALL], divisions=[Division("d", "left", PartAlong.ACROSS, (257.143, 420))]),
    )
    assert [f.reason.rule for f in found.findings] == [Rule.BY_ITS_CORNERS, Rule.PART]
    assert found.findings[1].implied == pytest.approx(0.5, abs=1e-4)


def test_a_mislaid_corner_is_named_and_spoils_nothing() -> None:
    bent = replace(WALL, corners=(*WALL.corners[:2], (650, 290), WALL.corners[3]))
    result = check(worked.SETUP, worked.EDGES, measured=Measured(faces=[bent]))
    face = next(f for f in result.findings if f.kind is Kind.FACE)
    assert (face.verdict, face.reason.rule) == (Verdict.OFF, Rule.NOT_FLAT)
    assert isinstance(face.reason, FaceReason) and (face.reason.miss_px or 0) > 15
    assert result.forms[0].size[Family.RIGHT] == pytest.approx(0.894, abs=0.001)


def test_corners_that_do_not_go_round_are_said_to() -> None:
    crossed = replace(WALL, corners=(WALL.corners[0], WALL.corners[2], WALL.corners[1], WALL.corners[3]))
    found = check(
        worked.SETUP,
        worked.EDGES,
        measured=Measured(faces=[crossed], divisions=[Division("d", "wall", PartAlong.ACROSS, (500, 500))]),
    ).findings[-2:]
    assert [f.reason.rule for f in found] == [Rule.CROSSES_ITSELF, Rule.NOTHING_TO_CHECK]


def spaced(*true: float) -> list[Division]:
    """Divisions of the wall of uprights 6 and 4 at true parts."""
    return [
        Division(f"d{k}", "wall", PartAlong.ACROSS, (100 * s * 6 / ((1 - s) * 4 + s * 6), 0))
        for k, s in enumerate(true)
    ]


@pytest.mark.parametrize(
    ("true", "code"),
    [
        ((0.2, 0.4, 0.6), NoteCode.EQUAL_PARTS),
        ((0.1, 0.3, 0.5, 0.7), NoteCode.EQUAL_PARTS),
        ((0.1, 0.3, 0.45, 0.65), NoteCode.EQUAL_PARTS),
        ((0.2, 0.3, 0.7), NoteCode.UNEQUAL_PARTS),
    ],
)
def test_bays_and_windows_are_told_to_be_equal(true: tuple[float, ...], code: NoteCode) -> None:
    setup = Setup(1000, 800, perspective=Perspective.PARALLEL, point_sd_px=0.05)
    notes = check(setup, [], measured=Measured(faces=[SIX_FOUR], divisions=spaced(*true))).notes
    assert [n.code for n in notes if n.code is not NoteCode.NO_EDGES] == [code]


def test_repeats_drawn_equal_are_told_to_grow() -> None:
    setup = Setup(1000, 800, perspective=Perspective.PARALLEL, point_sd_px=0.05)
    even = [Division(f"d{k}", "wall", PartAlong.ACROSS, (x, 0.0)) for k, x in enumerate((20, 40, 60, 80))]
    note = next(
        n
        for n in check(setup, [], measured=Measured(faces=[SIX_FOUR], divisions=even)).notes
        if n.code is NoteCode.NOT_SHRINKING
    )
    assert (note.other or 0) > (note.value or 0)


@pytest.mark.parametrize(("at", "code"), [(0.5, NoteCode.APEX_OVER_CENTRE), (0.4, NoteCode.APEX_OFF_CENTRE)])
def test_the_apex_of_a_gable_stands_over_the_perspective_centre(at: float, code: NoteCode) -> None:
    """On the left wall of the worked picture, its middle drawn at x = 257.1."""
    h_far, h_near = 375.0, 500.0
    x = 150 + 250 * at * h_far / ((1 - at) * h_near + at * h_far)
    rakes = [
        Edge("rake-1", "box", Family.SLOPE, (150, 250), (x, 120), slope="one", plan=Family.LEFT),
        Edge("rake-2", "box", Family.SLOPE, (400, 200), (x, 120), slope="two", plan=Family.LEFT),
    ]
    notes = check(worked.SETUP, [*worked.EDGES, *rakes], measured=Measured(faces=[LEFT_WALL])).notes
    assert next(n for n in notes if "left" in n.sightings and len(n.sightings) == 3).code is code


@given(st.floats(0.05, 0.95), st.floats(0.05, 0.95), st.integers(0, 10_000))
def test_a_part_is_the_same_under_any_view(s: float, t: float, seed: int) -> None:
    """Cross-ratios do not change under a projection: a true part is read back from any picture of its face."""
    matrix = np.eye(3) + np.random.default_rng(seed).normal(0, 0.25, (3, 3))

    def seen(points: list[tuple[float, float]]) -> list[tuple[float, float]]:
        image = np.column_stack([np.array(points), np.ones(len(points))]) @ matrix.T
        assume(image[:, 2].min() > 0.2 and abs(np.linalg.det(matrix)) > 0.2)
        return [(float(x), float(y)) for x, y in image[:, :2] / image[:, 2:] * 300 + 500]

    corners = seen([(0, 0), (1, 0), (1, 1), (0, 1), (s, t)])
    face = Face("f", "w", (Family.RIGHT, Family.UPRIGHT), (corners[0], corners[1], corners[2], corners[3]))
    for along, true in ((PartAlong.ACROSS, s), (PartAlong.UP, t)):
        assert part_by_corners(face, Division("d", "f", along, corners[4]), 1.0).part == pytest.approx(true, abs=1e-6)


def wanted(strokes: list[Stroke]) -> list[tuple[float, float]]:
    """Where the divisions of a construction stand, x on the foot line, and how long they are."""
    return [(round(s.p[0], 3), round(abs(s.p[1] - s.q[1]), 3)) for s in strokes if s.role is Role.DIVISION]


def strokes(kind: Construction, count: int = 2, place: float = 0.25, face: Face = SIX_FOUR) -> list[Stroke]:
    return [stroke for step in construct(face, kind, PartAlong.ACROSS, count, place) for stroke in step.strokes]


def test_the_middle_is_where_the_diagonals_cross() -> None:
    assert wanted(strokes(Construction.CENTRE)) == [(60.0, 480.0)]


def test_thirds_stand_where_marks_up_the_side_cross_a_diagonal() -> None:
    found = wanted(strokes(Construction.BAYS, 3))
    assert [x for x, _ in found] == pytest.approx(
        [100 * s * 6 / ((1 - s) * 4 + s * 6) for s in (1 / 3, 2 / 3)], abs=0.001
    )


def test_equal_bays_shrink_as_one_over_h() -> None:
    """Handbook section 4: uprights 12, 10 go on 8.571, 7.5, 6.667, 6."""
    face = Face("f", "w", (Family.RIGHT, Family.UPRIGHT), ((0, 60), (40, 50), (40, -50), (0, -60)))
    assert [h / 10 for _, h in wanted(strokes(Construction.REPEAT, 4, face=face))] == pytest.approx(
        [8.571, 7.5, 6.667, 6.0], abs=0.001
    )
    back = wanted(strokes(Construction.REPEAT, -1, face=face))
    assert [h / 10 for _, h in back] == pytest.approx([15.0], abs=0.001)  # 1/12 less 1/60


def test_repeats_end_before_the_face_vanishes_towards_the_eye() -> None:
    assert 0 < len(wanted(strokes(Construction.REPEAT, -8))) < 8


def test_a_mirrored_place_stands_as_far_from_the_centre() -> None:
    face = replace(SIX_FOUR, id="wall")
    x = wanted(strokes(Construction.MIRROR, place=0.25))[0][0]
    assert part_by_corners(face, drawn_at(x), 1.0).part == pytest.approx(0.75, abs=1e-4)


def test_helping_lines_pass_through_what_they_construct() -> None:
    """The diagonal of a repeat goes through the middle of the shared upright."""
    helping = next(s for s in strokes(Construction.REPEAT, 1) if s.role is Role.DIAGONAL)
    (px, py), (qx, qy) = helping.p, helping.q
    assert py + (qy - py) * (100 - px) / (qx - px) == pytest.approx(0.0, abs=1e-6)
