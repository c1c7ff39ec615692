"""Rims against published figures, other libraries' fits and a photograph that is not ours."""

from __future__ import annotations

import math
from collections.abc import Callable

import cv2
import numpy as np
import pytest
import skimage.data
from skimage.color import rgb2gray
from skimage.feature import canny
from skimage.measure import EllipseModel

from aspectum.core.aids.round_forms import ellipse_degree, isometric_circle
from aspectum.core.check import check
from aspectum.core.plane.projection import ISOMETRIC_PITCH_DEG
from aspectum.core.plane.rim_fit import fit_rim
from aspectum.core.sightings import Plane, Rim, Setup
from aspectum.core.tolerance import Verdict
from tests.round_scenes import Circle, arc_of, flat_arc, round_end
from tests.round_simulation import library_degrees, short_arcs
from tests.scenes import Pinhole, Vec


def test_isometric_ellipse_of_iso_5456_3() -> None:
    """ISO 5456-3:1996 gives the axes of an isometric circle as 1.22 and 0.71 of its diameter."""
    major, minor = isometric_circle(1.0)
    assert (round(major, 2), round(minor, 2)) == (1.22, 0.71)
    assert ellipse_degree(minor, major) == pytest.approx(ISOMETRIC_PITCH_DEG, abs=1e-9)
    assert pytest.approx(35.264, abs=5e-4) == ISOMETRIC_PITCH_DEG


def random_circle(rng: np.random.Generator, plane: Plane) -> Circle:
    bearing = rng.uniform(0.2, 1.3)
    axis = np.array([0.0, 0.0, 1.0] if plane is Plane.LEVEL else [math.sin(bearing), math.cos(bearing), 0.0])
    return Circle(
        "r",
        "f",
        plane,
        np.array([rng.uniform(-0.6, 0.6), rng.uniform(2.5, 4), rng.uniform(-1, -0.3)]),
        axis,
        rng.uniform(0.2, 0.5),
    )


@pytest.mark.parametrize("plane", [Plane.LEVEL, Plane.RIGHT])
def test_sighted_ellipse_is_the_image_of_the_circle_by_opencv(plane: Plane) -> None:
    """Points of a circle in space through OpenCV's ``projectPoints`` lie on the ellipse fitted to a
    third of them, and OpenCV's own ellipse through all of them is the same.
    """
    rng = np.random.default_rng(3)
    for _ in range(10):
        circle = random_circle(rng, plane)
        turn = np.linspace(0, 2 * np.pi, 90, endpoint=False)
        space = circle.at(turn)[:, [0, 2, 1]] * [1, -1, 1]  # OpenCV: x right, y down, z ahead
        inner = np.array([[1000.0, 0, 640], [0, 1000.0, 480], [0, 0, 1]])
        image = cv2.projectPoints(space, np.zeros(3), np.zeros(3), inner, np.zeros(5))[0].reshape(-1, 2)
        arc = tuple((float(x), float(y)) for x, y in image[:30])
        fit = fit_rim(arc, 0.05)
        (x, y), (narrow, wide), _ = cv2.fitEllipse(image.astype(np.float32))
        assert np.array(fit.centre) == pytest.approx(np.array([x, y]), abs=0.1)
        assert 2 * np.array(fit.axes[:2]) == pytest.approx(np.array([wide, narrow]), abs=0.15)


@pytest.mark.parametrize("make", [flat_arc, round_end])
def test_flat_arcs_and_round_ends_are_read_no_worse_than_by_the_best_of_opencv(
    make: Callable[[np.random.Generator], tuple[Rim, Circle, Pinhole]],
) -> None:
    """Median and 90th percentile of the error against OpenCV's three fits, and the ±."""
    found = short_arcs(make, 260, seed=4)
    assert np.median(found.errors) <= np.median(found.theirs, axis=0).min() * 1.05
    assert np.percentile(found.errors, 90) <= np.percentile(found.theirs, 90, axis=0).min() * 1.1
    assert np.mean(np.array(found.deviations) <= 1.96) >= 0.90


def ellipse_model_degree(points: Vec) -> float:
    axes = EllipseModel.from_estimate(points).axis_lengths
    return math.degrees(math.asin(min(axes) / max(axes)))


def test_sighted_degree_is_no_worse_than_the_best_of_other_fits() -> None:
    """Arcs of 120-220 degrees, half-width 35-200 px, 8-13 points, 1 px error: the median error of
    the sighted degree against OpenCV's three fits and scikit-image's ``EllipseModel``.
    """
    rng = np.random.default_rng(8)
    ours, theirs = [], []
    for _ in range(400):
        half, degree, lean = rng.uniform(35, 200), rng.uniform(4, 60), rng.normal(0, 0.07)
        t = (
            np.pi / 2
            + rng.normal(0, 0.3)
            + np.radians(rng.uniform(120, 220)) * np.linspace(-0.5, 0.5, int(rng.integers(8, 14)))
        )
        flat = np.stack([half * np.cos(t), half * math.sin(math.radians(degree)) * np.sin(t)], axis=1)
        turn = np.array([[math.cos(lean), -math.sin(lean)], [math.sin(lean), math.cos(lean)]])
        laid = flat @ turn.T + [640, 480] + rng.normal(0, 1, flat.shape)
        ours.append(abs(fit_rim(tuple((float(x), float(y)) for x, y in laid), 1.0).degree_deg - degree))
        theirs.append([abs(d - degree) for d in (*library_degrees(laid), ellipse_model_degree(laid))])
    assert np.median(ours) <= np.median(theirs, axis=0).min()


def sighted_along(
    edges: Vec, centre: tuple[float, float], halves: tuple[float, float], turns_deg: Vec
) -> tuple[tuple[float, float], ...]:
    """Edge pixels within 8 px of an outline read off the photograph, the outermost on each ray."""
    found = []
    for turn in np.radians(turns_deg):
        for slack in np.arange(8.0, -8.0, -0.5):
            x, y = centre[0] + (halves[0] + slack) * math.cos(turn), centre[1] + (halves[1] + slack) * math.sin(turn)
            if 0 <= x < edges.shape[1] and 0 <= y < edges.shape[0] and edges[int(y), int(x)]:
                found.append((int(x) + 0.5, int(y) + 0.5))
                break
    return tuple(found)


def test_cup_and_saucer_of_a_real_photograph_lie_on_level_planes() -> None:
    """``skimage.data.coffee``: cup mouth and saucer edge sighted by scikit-image's Canny detector.
    The lens is not published; under a normal or a longer one both rims agree on one plane, and the
    camera looks down by what either alone requires.
    """
    photo = skimage.data.coffee()
    edges = canny(rgb2gray(photo), sigma=3)
    height, width = edges.shape
    cup = sighted_along(edges, (290, 113), (116, 96), np.arange(0.0, 360.0, 15.0))
    saucer = sighted_along(edges, (278, 215), (201, 172), np.arange(15.0, 215.0, 8.0))
    assert len(cup) >= 18 and len(saucer) >= 14
    rims = [Rim("cup", "cup", Plane.LEVEL, cup), Rim("saucer", "saucer", Plane.LEVEL, saucer)]
    near = Rim("cup", "cup", Plane.LEVEL, sighted_along(edges, (290, 113), (116, 96), np.arange(0.0, 190.0, 10.0)))
    for lens in (50.0, 70.0, 85.0):
        setup = Setup(width, height, focal_35mm=lens, point_sd_px=1.5)
        both = check(setup, [], rims=rims)
        # a rim seen whole does not say whether it lies above or below the eye; its near half does
        alone = [check(setup, [], rims=[rim]) for rim in (near, rims[1])]
        pitches = [result.camera.pitch_deg for result in alone if result.camera]
        assert len(pitches) == 2 and None not in pitches
        assert abs(float(pitches[0] or 0) - float(pitches[1] or 0)) < 4.5
        assert both.camera is not None and -70 < (both.camera.pitch_deg or 0) < -35
        for finding in both.findings:
            assert finding.verdict is not Verdict.OFF
            assert finding.implied is not None and abs(finding.implied - (finding.sighted or 0)) < 5.0


def test_arc_points_of_the_scenes_lie_on_the_exact_ellipse() -> None:
    """The simulated rims themselves, against OpenCV's ellipse."""
    rng = np.random.default_rng(4)
    camera = Pinhole(900, -6, 0.4)
    circle = random_circle(rng, Plane.LEVEL)
    centre, major, minor, _, _ = circle.ellipse(camera)
    (x, y), (narrow, wide), _ = cv2.fitEllipse(np.array(arc_of(circle, camera, rng).points, np.float32))
    assert (x, y) == (pytest.approx(centre[0], abs=0.1), pytest.approx(centre[1], abs=0.1))
    assert (narrow / 2, wide / 2) == (pytest.approx(minor, abs=0.1), pytest.approx(major, abs=0.1))
