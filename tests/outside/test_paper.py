"""Drawings on paper against other libraries: OpenCV's homography, SciPy's Procrustes analysis, statsmodels' BIC; and
against simulated photos.
"""

from __future__ import annotations

import math

import cv2
import numpy as np
import pytest
import statsmodels.api as sm
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import procrustes

from aspectum.core.drawing.candidates import CauseKind
from aspectum.core.drawing.causes import Fit
from aspectum.core.drawing.compare import compare
from aspectum.core.drawing.expected import brought
from aspectum.pictures.paper import find_paper, flatten
from aspectum.pictures.papers import ISO_216
from aspectum.pictures.pencil import PencilSheet
from aspectum.pictures.slant import goes_round, slant, square_on, stands_upright, through
from tests.paper_photos import photograph
from tests.paper_scenes import KINDS, PAPER_DPMM, Fault, on_paper, paper_subject, sighted
from tests.samples import FULL, sample


def test_paper_sizes_are_those_of_iso_216() -> None:
    """ISO 216:2007, trimmed sizes of the A series: sides as 1 : √2, each size half of the one before, to the
    millimetre.
    """
    published = {
        "A1": (594.0, 841.0),
        "A2": (420.0, 594.0),
        "A3": (297.0, 420.0),
        "A4": (210.0, 297.0),
        "A5": (148.0, 210.0),
        "A6": (105.0, 148.0),
    }
    assert published == ISO_216
    for wide, high in ISO_216.values():
        assert high / wide == pytest.approx(math.sqrt(2), rel=0.005)


@settings(max_examples=40, deadline=None)
@given(seed=st.integers(0, 100_000))
def test_four_corners_give_opencvs_homography(seed: int) -> None:
    rng = np.random.default_rng(seed)
    here = np.array([[0, 0], [297, 0], [297, 210], [0, 210]], float)
    there = np.array([[100, 100], [1500, 150], [1450, 1000], [150, 900]], float) + rng.uniform(-80, 80, (4, 2))
    ours, theirs = (
        square_on(here, there),
        cv2.getPerspectiveTransform(here.astype(np.float32), there.astype(np.float32)),
    )
    assert through(ours, rng.uniform(0, 200, (9, 2))).shape == (9, 2)
    assert ours == pytest.approx(np.asarray(theirs, float), rel=1e-4, abs=1e-6)


@pytest.mark.parametrize("slant_deg", [0.0, 12.0, 24.0, 35.0])
def test_a_slanted_photo_gives_back_distances_and_tilts(slant_deg: float) -> None:
    """Half a per cent and 0.3 degrees up to 35 degrees, corners found unaided, on photos seen neither in tuning nor in
    the demo.
    """
    rng = np.random.default_rng(int(slant_deg) + 900)
    papers = ((297.0, 210.0), (297.0, 420.0))
    for paper in papers if FULL else (papers[int(slant_deg) // 12 % 2],):
        photo = photograph(rng, slant_deg, paper)
        found = find_paper(photo.picture)
        assert found is not None and found.sure
        assert math.dist(found.corners[0], photo.corners[0]) < 3.0
        back = square_on(found.corners, np.array([[0, 0], [paper[0], 0], paper, [0, paper[1]]], float))
        for _ in range(12):
            ends = rng.uniform(0.1, 0.9, (2, 2)) * np.array(paper)
            if np.hypot(*(ends[1] - ends[0])) < 80:
                continue
            run, due = np.diff(through(back, photo.at(ends)), axis=0)[0], ends[1] - ends[0]
            assert np.hypot(*run) == pytest.approx(np.hypot(*due), rel=0.005)
            assert abs(math.degrees(math.atan2(run[0] * due[1] - run[1] * due[0], run @ due))) < 0.3
        assert slant(found.corners, paper, (1600, 1200)).slant_deg == pytest.approx(slant_deg, abs=3.0)
        assert stands_upright(found.corners) == (paper[1] > paper[0])


@pytest.mark.slow
def test_corners_are_found_unaided_on_nine_photos_of_ten() -> None:
    """With a shadow and a hand at the edge; the paper's own lines may not be taken for its sides."""
    rng, right = np.random.default_rng(4711), 0
    for _ in range(sample(10, 5)):
        paper = [(297.0, 210.0), (210.0, 297.0), (420.0, 297.0)][int(rng.integers(3))]
        photo = photograph(rng, float(rng.uniform(0, 35)), paper)
        found = find_paper(photo.picture)
        right += (
            found is not None and max(math.dist(a, b) for a, b in zip(found.corners, photo.corners, strict=True)) < 6.0
        )
    assert right >= sample(9, 4)


def test_a_flattened_sheets_lines_are_followed_by_the_pencil() -> None:
    """A line drawn from (60, 50) to (220, 120) mm, expected up to 6 mm away, is found to a third of a millimetre."""
    sheet = np.full((1260, 1782, 3), 244, np.uint8)
    cv2.line(sheet, (360, 300), (1320, 720), (80, 80, 85), 3, cv2.LINE_AA)
    cv2.line(sheet, (700, 200), (900, 900), (80, 80, 85), 3, cv2.LINE_AA)  # another crosses it
    cv2.ellipse(sheet, (500, 1000), (200, 60), 0, 0, 360, (80, 80, 85), 3, cv2.LINE_AA)
    photo = photograph(np.random.default_rng(77), 20.0, sheet=sheet)
    flat = flatten(photo.picture, photo.corners, photo.paper_mm)
    pencil, mm = PencilSheet(flat.pixels, flat.px_per_mm), flat.px_per_mm
    snapped = pencil.snap((63 * mm, 45 * mm), (215 * mm, 125 * mm))
    assert snapped is not None
    assert np.array(snapped.p) / mm == pytest.approx([60, 50], abs=0.6) and np.array(snapped.q) / mm == pytest.approx(
        [220, 120], abs=0.6
    )
    rim = pencil.snap_rim((85 * mm, 164 * mm), 31 * mm, 12 * mm, 0.03)
    assert rim is not None
    assert np.array([*rim.centre, rim.major, rim.minor]) / mm == pytest.approx(
        [500 / 6, 1000 / 6, 200 / 6, 10], abs=0.6
    )
    assert pencil.snap((40 * mm, 190 * mm), (200 * mm, 195 * mm)) is None  # nothing is drawn there


@settings(max_examples=30, deadline=None)
@given(seed=st.integers(0, 100_000))
def test_a_drawing_is_brought_to_its_subject_as_procrustes_does(seed: int) -> None:
    """SciPy's analysis also turns: on shapes that are not turned its disparity is what scale and shift leave."""
    rng = np.random.default_rng(seed)
    here = rng.uniform(0, 500, (10, 2))
    there = here * rng.uniform(0.3, 3.0) + rng.uniform(-200, 200, 2) + rng.normal(0, 2.0, (10, 2))
    scale, shift = brought(here, there)
    _, _, disparity = procrustes(there, here)
    left = ((there - here * scale - shift) ** 2).sum() / ((there - there.mean(axis=0)) ** 2).sum()
    assert disparity - 1e-12 <= left < disparity + 4.0 * (2.0 / np.std(there)) ** 2


@pytest.mark.parametrize("kind", KINDS)
def test_single_causes_are_ranked_as_statsmodels_bic_ranks_them(kind: str) -> None:
    """On the problem linearised at the subject: weighted least squares with the scale beside each candidate, known
    errors. The search's own promise of what each gains must be the drop of -2 log L that statsmodels finds, and its
    best cause of the whole the one of least BIC.
    """
    rng = np.random.default_rng(17)
    subject = paper_subject(rng, kind)
    theirs, mine = sighted(subject, rng), on_paper(subject, [Fault("lean", 6.0)], rng)
    fit = Fit(*(lambda c: (c.closed, c.readings))(compare(theirs, mine, 1 / PAPER_DPMM)))
    weight, long = 1.0 / fit.readings.sd, fit.long
    left = fit.still * weight
    by = fit.slopes([], np.zeros(0), list(range(len(fit.every))))
    base = sm.OLS(left, (long * weight)[:, None]).fit()
    whole = [k for k, c in enumerate(fit.every) if c.kind is not CauseKind.STRAY and c.kind is not CauseKind.RIM]
    gains, bics = [], []
    for k in whole:
        found = sm.OLS(left, np.column_stack([long, by[:, k]]) * weight[:, None]).fit()
        gains.append(float(base.ssr - found.ssr))
        bics.append(float(found.bic))
    centred = fit.centred(by)[:, whole]
    ours = (centred.T @ fit.left([], np.zeros(0))) ** 2 / np.maximum((centred**2).sum(axis=0), 1e-12)
    assert ours == pytest.approx(np.array(gains), rel=1e-6, abs=1e-6)
    assert fit.every[whole[int(np.argmin(bics))]].kind is CauseKind.LEAN


def test_corners_that_cross_are_no_sheet() -> None:
    assert goes_round(np.array([[0, 0], [10, 0], [10, 10], [0, 10]], float))
    assert not goes_round(np.array([[0, 0], [10, 10], [10, 0], [0, 10]], float))
