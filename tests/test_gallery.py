"""A seeded sample of what is found in pictures: the whole is in ``make bench``. None of these set-ups was tuned on."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from aspectum.pictures import finding
from aspectum.pictures.finding import LEAST_OF_MAIN, MOST_SIGHTINGS, FoundInPicture, find_in
from aspectum.pictures.seeking import seek
from aspectum.pictures.straight_lines import find_segments, merged
from aspectum.pictures.tones import grey_of
from tests.gallery_scores import Scores, outline, score
from tests.gallery_truth import Piece, pieces
from tests.samples import sample

SAMPLE = ("tower-1", "lamps", "stairs-1", "street-4")[: sample(4, 2)]


@pytest.fixture(scope="module")
def found() -> dict[str, tuple[Piece, FoundInPicture]]:
    return {p.name: (p, find_in(p.pixels, p.focal_35mm)) for p in pieces() if p.name in SAMPLE}


def test_the_gallery_is_split_by_set_up() -> None:
    tuned, reported = {p.layout for p in pieces() if p.tuned}, {p.layout for p in pieces() if not p.tuned}
    assert len(pieces()) >= 36
    assert {"tower", "stairs", "crates", "loft"} <= reported - tuned


def test_the_sample_s_figures_hold(found: dict[str, tuple[Piece, FoundInPicture]]) -> None:
    scores = Scores()
    for piece, proposed in found.values():
        assert not piece.tuned
        scores.add(score(piece, proposed))
    figures = scores.figures()
    assert figures["eye level, median"] < 0.005 and figures["eye level within 5 %"] == 1
    assert figures["edges on edges"] > 0.6
    assert figures["of the twenty surest"] > 0.75
    assert figures["edges in a true direction"] > 0.75
    assert figures["long edges found"] > 0.4
    assert figures["rims right"] > 0.6


@pytest.mark.parametrize("name", SAMPLE)
def test_what_is_proposed_is_within_the_format_and_the_picture(
    found: dict[str, tuple[Piece, FoundInPicture]], name: str
) -> None:
    piece, proposed = found[name]
    assert len(proposed.edges) + len(proposed.rims) <= MOST_SIGHTINGS
    told = [(e.confidence, e.form) for e in proposed.edges] + [(r.confidence, r.form) for r in proposed.rims]
    assert all(0 <= sure <= 1 and 0 <= form < len(proposed.forms) for sure, form in told)
    ends = np.array([p for e in proposed.edges for p in (e.p, e.q)])
    assert (ends >= -2).all() and (ends <= np.array([proposed.width_px, proposed.height_px]) + 2).all()
    assert all(len(rim.points) >= 5 and np.isfinite(outline(rim)).all() for rim in proposed.rims)
    assert piece.pixels.shape[:2] == (proposed.height_px, proposed.width_px)


def test_a_slope_names_its_group_and_the_plan_that_it_keeps(found: dict[str, tuple[Piece, FoundInPicture]]) -> None:
    slopes = [e for _, proposed in found.values() for e in proposed.edges if e.slope is not None]
    assert all(e.family.value == "slope" and e.plan is not None for e in slopes)


def test_every_main_family_has_five_edges_or_all_that_there_are(found: dict[str, tuple[Piece, FoundInPicture]]) -> None:
    for _, proposed in found.values():
        counts: dict[str, int] = {}
        for e in proposed.edges:
            counts[e.family.value] = counts.get(e.family.value, 0) + 1
        assert max(counts.values()) >= LEAST_OF_MAIN


def test_the_less_of_the_lines_a_view_explains_the_wider_is_its_error_and_at_last_there_is_none(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    piece = next(p for p in pieces() if p.name == "table-3")
    sought = seek(piece.pixels, piece.focal_35mm)
    assert sought is not None

    def seen_by(view: float) -> FoundInPicture:
        monkeypatch.setattr(finding, "seek", lambda *_: replace(sought, view=view))
        return find_in(piece.pixels, piece.focal_35mm)

    full, half, none = seen_by(0.5), seen_by(0.36), seen_by(0.33)
    assert full.eye_level and half.eye_level and full.focal_px and half.focal_px
    assert half.eye_level[:2] == full.eye_level[:2]
    assert (
        half.eye_level[2] / full.eye_level[2]
        == pytest.approx(half.focal_px[1] / full.focal_px[1])
        == pytest.approx((0.4 / 0.36) ** 3)
    )
    assert none.eye_level is None and not none.edges and not none.rims


def test_a_picture_in_one_tone_shows_nothing() -> None:
    for value in (0, 128, 255):
        plain = find_in(np.full((400, 600, 3), value, np.uint8), None)
        assert plain.edges == [] and plain.eye_level is None


def test_a_broken_line_is_one_line() -> None:
    parts = np.array(
        [[10.0, 50.0, 60.0, 52.0], [66.0, 52.24, 110.0, 54.0], [115.0, 54.2, 180.0, 56.8], [10.0, 80.0, 60.0, 82.0]]
    )
    lines = merged(parts)
    assert len(lines) == 2
    assert np.hypot(*(lines[0, 2:] - lines[0, :2])) == pytest.approx(170, abs=1)


def test_a_step_is_found_to_a_quarter_of_a_pixel() -> None:
    """A straight step at a known place, softened as a lens does: its line lies on it."""
    y, x = np.mgrid[0:300, 0:400] + 0.5
    off = (y - 150) - 0.12 * (x - 200)
    picture = np.repeat(np.clip(128 + 60 * off, 60, 190)[..., None], 3, axis=2).astype(np.uint8)
    line = merged(find_segments(grey_of(picture)))[0]
    for px, py in (line[:2], line[2:]):
        assert abs((py - 150) - 0.12 * (px - 200)) < 0.25


def test_proposals_move_with_the_picture_s_size() -> None:
    """The same picture at half the size: eye level at half the height."""
    piece = next(p for p in pieces() if p.name == "tower-1")
    small = find_in(np.ascontiguousarray(piece.pixels[::2, ::2]), piece.focal_35mm)
    assert small.eye_level is not None
    middle = (small.eye_level[0] + small.eye_level[1]) / 2 * 2
    assert middle == pytest.approx(piece.eye_level_px, abs=0.01 * piece.pixels.shape[0])
