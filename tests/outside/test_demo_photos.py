"""The demo photos: their known truth is consistent, and sighted edges give it back."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import ExifTags, Image

from aspectum.core.check import check
from aspectum.core.model import Edge, Family, Setup, Verdict
from aspectum.demo.fill import PHOTOS, truth
from aspectum.pictures.opening import open_picture

NAMES = ["crates", "loft", "tower", "market"]


@pytest.mark.parametrize("name", NAMES)
def test_rays_cast_across_every_known_edge_break_where_it_is_drawn(name: str) -> None:
    """Written by tools/photos/render.py: distance between projected and ray-cast edge."""
    strays = [e["cast_px"] for e in truth(name)["edges"] if e["seen"] >= 0.9 and e["cast_px"] is not None]
    assert len(strays) >= 10 and max(strays) <= 0.1


@pytest.mark.parametrize("name", NAMES)
def test_photo_is_a_small_jpeg_with_its_focal_length(name: str) -> None:
    data = (PHOTOS / f"{name}.jpg").read_bytes()
    known = truth(name)["picture"]
    assert len(data) < 400_000
    image = Image.open(io.BytesIO(data))
    assert image.size == (known["width_px"], known["height_px"])
    assert image.getexif().get_ifd(ExifTags.IFD.Exif)[ExifTags.Base.FocalLengthIn35mmFilm] == known["focal_35mm"]
    assert open_picture(data).focal_35mm == known["focal_35mm"]


@pytest.mark.parametrize("with_exif", [True, False])
@pytest.mark.parametrize("name", NAMES)
def test_seen_edges_laid_by_hand_give_eye_level_and_vanishing_points(name: str, with_exif: bool) -> None:
    known = truth(name)
    rng = np.random.default_rng(5)
    edges = []
    for e in known["edges"]:
        p, q = np.array(e["p"]), np.array(e["q"])
        if e["seen"] >= 0.9 and np.hypot(*(q - p)) > 60:
            (a, b), (c, d) = (np.array([p, q]) + rng.normal(0, 1.2, (2, 2))).tolist()
            plan = Family(e["plan"]) if e.get("plan") else None
            edges.append(Edge(e["id"], e["form"], Family(e["family"]), (a, b), (c, d), e.get("slope"), plan))
    setup = Setup(known["picture"]["width_px"], known["picture"]["height_px"], focal_35mm=known["picture"]["focal_35mm"] if with_exif else None)
    result = check(setup, edges)
    middle = setup.width_px / 2
    height = result.eye_level.height_at(middle, setup.width_px)
    true = (known["eye_level"]["left_y_px"] + known["eye_level"]["right_y_px"]) / 2
    assert height is not None and result.eye_level.sd_px is not None
    assert abs(height - true) <= 2.2 * result.eye_level.sd_px + 0.1
    assert result.eye_level.sd_px < 8
    assert sum(f.verdict is Verdict.OFF for f in result.findings) <= len(edges) // 20
    points = {(f["id"], family): v for f in known["forms"] for family, v in f["vanishing_points"].items()}
    for v in result.vanishing_points:
        true_point = points.get((v.form or "", v.family.value))
        if true_point and true_point["x_px"] is not None and v.x_px is not None and v.sd_px is not None:
            assert abs(v.x_px - true_point["x_px"]) <= 3.2 * v.sd_px
