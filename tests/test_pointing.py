"""The edge under a finger: on drawn bars of known place to a quarter of a pixel, and on the gallery's photographs."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray

from aspectum.pictures.pointing import Pointed, edge_at
from tests.gallery_truth import TrueEdge, pieces
from tests.samples import least, sample

Floats = NDArray[np.float64]
Grey = NDArray[np.uint8]
HIGH, WIDE = 480, 640
QUARTER_PX = 0.25


def bar(corners: Floats, tone: int = 170, ground: int = 90, grain: float = 4.0, seed: int = 0) -> Grey:
    """A lit board before a ground, its outline exact to a sixteenth of a pixel, softened as by a lens, with a sensor's
    grain.
    """
    # drawn eight times as large: OpenCV fills a polygon with half a pixel about it
    large = np.full((HIGH * 8, WIDE * 8), ground, np.uint8)
    cv2.fillPoly(large, [np.round(corners * 8 - 0.5).astype(np.int32)], tone)
    soft = cv2.GaussianBlur(
        cv2.resize(large, (WIDE, HIGH), interpolation=cv2.INTER_AREA).astype(np.float32), (0, 0), 0.9
    )
    return np.asarray(np.clip(soft + np.random.default_rng(seed).normal(0, grain, soft.shape), 0, 255), np.uint8)


def off_line(found: Pointed, p: Floats, q: Floats) -> float:
    """How far the found line's ends lie beside the true one, px, at most."""
    way = (q - p) / np.hypot(*(q - p))
    return float(np.abs((np.array([found.p, found.q]) - p) @ np.array([-way[1], way[0]])).max())


@pytest.mark.parametrize("seed", range(12))
def test_an_edge_is_found_to_a_quarter_of_a_pixel_from_end_to_end(seed: int) -> None:
    rng = np.random.default_rng(seed)
    turn, middle = rng.uniform(0, np.pi), np.array([320.0, 240.0]) + rng.uniform(-40, 40, 2)
    way, across = np.array([np.cos(turn), np.sin(turn)]), np.array([-np.sin(turn), np.cos(turn)])
    long, wide = rng.uniform(120, 180), rng.uniform(40, 60)
    corners = middle + np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * np.array([long, wide]) @ np.stack([way, across])
    picture = bar(corners, tone=int(rng.integers(115, 230)), seed=seed)
    p, q = corners[0], corners[1]
    finger = p + rng.uniform(0.2, 0.8) * (q - p) + rng.uniform(-6, 6, 2)
    found = edge_at(picture, tuple(finger), 12.0)
    assert found is not None
    assert off_line(found, p, q) < QUARTER_PX
    ends = sorted([found.p, found.q], key=lambda end: float((np.array(end) - p) @ way))
    assert np.hypot(*(np.array(ends[0]) - p)) < 3.0 and np.hypot(*(np.array(ends[1]) - q)) < 3.0


def test_of_two_that_meet_under_the_finger_the_one_that_was_judged_is_taken() -> None:
    corners = np.array([[200.0, 150.0], [440.0, 130.0], [450.0, 330.0], [195.0, 340.0]])
    picture = bar(corners)
    corner = tuple(corners[0] + 2.0)
    for p, q in ((corners[0], corners[1]), (corners[3], corners[0])):
        tilt = float(np.degrees(np.arctan2(-(q - p)[1], (q - p)[0])))
        found = edge_at(picture, corner, 12.0, tilt + 8.0)
        assert found is not None and off_line(found, p, q) < 2 * QUARTER_PX


def test_mirrored_and_turned_it_is_the_same_edge() -> None:
    corners = np.array([[180.0, 140.0], [430.0, 180.0], [410.0, 330.0], [170.0, 300.0]])
    picture, finger = bar(corners), (300.0, 163.0)
    here = edge_at(picture, finger, 12.0)
    mirrored = edge_at(np.ascontiguousarray(picture[:, ::-1]), (WIDE - finger[0], finger[1]), 12.0)
    turned = edge_at(np.ascontiguousarray(picture.T), (finger[1], finger[0]), 12.0)
    assert here is not None and mirrored is not None and turned is not None
    p, q = np.array(here.p), np.array(here.q)
    assert off_line(Pointed((WIDE - mirrored.p[0], mirrored.p[1]), (WIDE - mirrored.q[0], mirrored.q[1])), p, q) < 0.1
    assert off_line(Pointed((turned.p[1], turned.p[0]), (turned.q[1], turned.q[0])), p, q) < 0.1


def test_a_faint_edge_is_found_and_a_blank_wall_has_none() -> None:
    corners = np.array([[-50.0, 240.0], [700.0, 215.0], [700.0, 600.0], [-50.0, 600.0]])
    faint = bar(corners, tone=101, ground=90, grain=3.0)
    found = edge_at(faint, (320.0, 231.0), 12.0, 2.0)
    assert found is not None and off_line(found, corners[0], corners[1]) < 1.0
    assert edge_at(bar(np.zeros((4, 2)), grain=0.0), (320.0, 231.0), 12.0) is None


def test_an_edge_that_leaves_the_picture_ends_at_its_border() -> None:
    corners = np.array([[-80.0, 200.0], [720.0, 260.0], [720.0, 700.0], [-80.0, 700.0]])
    found = edge_at(bar(corners), (320.0, 230.0), 12.0)
    assert found is not None
    assert min(found.p[0], found.q[0]) == pytest.approx(0.0, abs=6.0) and max(found.p[0], found.q[0]) == pytest.approx(
        WIDE, abs=6.0
    )


@pytest.mark.parametrize("at", [(-400.0, 50.0), (5000.0, 5000.0), (0.0, 0.0), (639.9, 479.9)])
def test_a_finger_beside_the_picture_or_in_its_corner_finds_nothing_and_breaks_nothing(at: tuple[float, float]) -> None:
    assert edge_at(bar(np.zeros((4, 2)), grain=0.0), at, 12.0) is None


def alone(edge: TrueEdge, others: list[TrueEdge], at: Floats) -> bool:
    """Whether no other seen edge passes within ten pixels."""
    near = [
        o
        for o in others
        if o is not edge and len(o.places) and np.hypot(*(o.places - at).T).min() < max(10.0, o.length_px / len(o.seen))
    ]
    return not any(abs((at - o.p) @ np.array([-(o.q - o.p)[1], (o.q - o.p)[0]])) / o.length_px < 10.0 for o in near)


def test_in_photographs_most_judged_edges_are_found_where_they_are_pointed_at() -> None:
    """Truth by rays; the finger four pixels beside at most, the judgement six degrees off in the usual way. Some of
    these edges nobody can see: of equal tone on both sides, or in the dark.
    """
    rng = np.random.default_rng(612)
    tried, found_px = 0, []
    for piece in pieces()[:: sample(3, 8)]:
        grey = cv2.cvtColor(piece.pixels, cv2.COLOR_RGB2GRAY)
        for edge in piece.edges:
            if edge.seen_px < 60:
                continue
            at = edge.places[rng.integers(len(edge.places))]
            if not alone(edge, piece.edges, at):
                continue
            tried += 1
            run = edge.q - edge.p
            tilt = float(np.degrees(np.arctan2(-run[1], run[0])) + rng.normal(0, 6))
            found = edge_at(np.asarray(grey, np.uint8), tuple(at + rng.uniform(-4, 4, 2)), 12.0, tilt)
            if found is not None and edge.holds(np.array(found.p), np.array(found.q)) > 0.5:
                found_px.append(
                    abs((np.array(found.p) + np.array(found.q) - 2 * edge.p) @ np.array([-run[1], run[0]]))
                    / edge.length_px
                    / 2
                )
    assert tried > sample(60, 30)
    assert len(found_px) > least(0.6, tried) * tried
    assert np.median(found_px) < QUARTER_PX
