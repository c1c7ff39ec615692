"""The demo photos: their known truth is consistent, and sighted edges give it back."""

from __future__ import annotations

import io
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from PIL import ExifTags, Image

from aspectum.core.check import check
from aspectum.core.findings import Finding
from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.plane.lines import tilt_deg, tilt_difference
from aspectum.core.sightings import Edge, Family, Looking, Perspective, Plane, Rim, Setup
from aspectum.core.tolerance import Verdict
from aspectum.demo.fill import PHOTOS, SHEETS, truth
from aspectum.formats.sheet import read_sheet
from aspectum.pictures.opening import open_picture
from aspectum.service.sheets.aids import view_of
from aspectum.service.sheets.checking import check_sheet

NAMES = ["crates", "loft", "tower", "market"]
ROUND = ["tins", "lamps", "drums", "wheel"]


@pytest.mark.parametrize("name", NAMES)
def test_rays_cast_across_every_known_edge_break_where_it_is_drawn(name: str) -> None:
    """Written by tools/photos/render.py: distance between projected and ray-cast edge."""
    strays = [e["cast_px"] for e in truth(name)["edges"] if e["seen"] >= 0.9 and e["cast_px"] is not None]
    assert len(strays) >= 10 and max(strays) <= 0.1


@pytest.mark.parametrize("name", ROUND)
def test_rays_cast_across_every_known_rim_break_where_it_is_drawn(name: str) -> None:
    known = truth(name)
    strays = [e["cast_px"] for e in known["edges"] if e["seen"] >= 0.9 and e["cast_px"] is not None]
    rims = [r["cast_px"] for r in known["rims"] if sum(r["seen"]) >= 24]
    assert len(rims) >= 6 and max(rims) <= 0.1 and max(strays) <= 0.1


@pytest.mark.parametrize("name", [*NAMES, *ROUND, "yard"])
def test_photo_is_a_small_jpeg_with_its_focal_length(name: str) -> None:
    data = (PHOTOS / f"{name}.jpg").read_bytes()
    known = truth(name)["picture"]
    assert len(data) < 400_000
    image = Image.open(io.BytesIO(data))
    assert image.size == (known["width_px"], known["height_px"])
    assert image.getexif().get_ifd(ExifTags.IFD.Exif)[ExifTags.Base.FocalLengthIn35mmFilm] == known["focal_35mm"]
    assert open_picture(data).focal_35mm == known["focal_35mm"]


def test_the_yard_seen_straight_up_agrees_with_its_photo_s_truth() -> None:
    """Held 0.7° off straight: plans keep their directions to the third of a degree, and uprights run to the zenith."""
    known = truth("yard")
    rng = np.random.default_rng(9)
    setup = replace(setup_of(known, True), perspective=Perspective.ONE_POINT, looking=Looking.UP)
    wanted = {"eaves-left-bottom-near", "eaves-right-bottom-near", "wall-upright-near"}
    edges, true = [], {}
    for e in known["edges"]:
        if any(e["id"].endswith(part) for part in wanted):
            laid = np.array([e["p"], e["q"]]) + rng.normal(0, 1.2, (2, 2))
            (a, b), (c, d) = laid.tolist()
            edges.append(Edge(e["id"], e["form"], Family(e["family"]), (a, b), (c, d)))
            true[e["id"]] = float(tilt_deg(e["p"], e["q"]))
    result = check(setup, edges, rims=laid_rims(known, rng))
    assert len(edges) == 9 and all(f.verdict is Verdict.HOLDS for f in result.findings)
    for finding in result.findings[:9]:
        assert abs(float(tilt_difference(finding.implied or 0.0, true[finding.sighting]))) <= 2.5 * (
            finding.implied_sd or 0.0
        )
    zenith = next(v for v in result.vanishing_points if v.family is Family.UPRIGHT)
    seen = known["forms"][0]["vanishing_points"]["upright"]
    assert zenith.own_x_px is not None and zenith.own_y_px is not None
    assert np.hypot(zenith.own_x_px - seen["x_px"], zenith.own_y_px - seen["y_px"]) < 6
    assert [r.degree_deg for r in map(fitted, result.findings[9:])] == pytest.approx(
        [90.0] * len(result.findings[9:]), abs=12
    )


def fitted(finding: Finding) -> Ellipse:
    assert finding.rim is not None
    return finding.rim.sighted_ellipse


def setup_of(known: dict[str, Any], with_exif: bool) -> Setup:
    picture = known["picture"]
    return Setup(picture["width_px"], picture["height_px"], focal_35mm=picture["focal_35mm"] if with_exif else None)


def laid_edges(known: dict[str, Any], rng: np.random.Generator) -> list[Edge]:
    """Every well-seen edge, laid with a point error of 1.2 px."""
    edges = []
    for e in known["edges"]:
        p, q = np.array(e["p"]), np.array(e["q"])
        if e["seen"] >= 0.9 and np.hypot(*(q - p)) > 60:
            (a, b), (c, d) = (np.array([p, q]) + rng.normal(0, 1.2, (2, 2))).tolist()
            plan = Family(e["plan"]) if e.get("plan") else None
            edges.append(Edge(e["id"], e["form"], Family(e["family"]), (a, b), (c, d), e.get("slope"), plan))
    return edges


def laid_rims(known: dict[str, Any], rng: np.random.Generator) -> list[Rim]:
    """Every rim seen by a third, at about a dozen points of its seen arc, with the same error."""
    rims = []
    for r in known["rims"]:
        seen = np.flatnonzero(r["seen"])
        if len(seen) >= 24:
            laid = np.array(r["points"])[seen[:: max(1, len(seen) // 11)]]
            laid = laid + rng.normal(0, 1.2, laid.shape)
            rims.append(Rim(r["id"], r["form"], Plane(r["plane"]), tuple((float(x), float(y)) for x, y in laid)))
    return rims


@pytest.mark.parametrize(("with_edges", "with_exif"), [(True, True), (True, False), (False, True), (False, False)])
@pytest.mark.parametrize("name", ROUND)
def test_seen_rims_laid_by_hand_give_eye_level_and_their_own_degrees(
    name: str, with_edges: bool, with_exif: bool
) -> None:
    known = truth(name)
    rng = np.random.default_rng(7)
    edges, rims = laid_edges(known, rng) if with_edges else [], laid_rims(known, rng)
    round_forms = frozenset(f["id"] for f in known["forms"] if f["kind"] == "cylinder")
    result = check(setup_of(known, with_exif), edges, rims=rims, round_forms=round_forms)
    height = result.eye_level.height_at(640, 1280)
    true = (known["eye_level"]["left_y_px"] + known["eye_level"]["right_y_px"]) / 2
    assert height is not None and result.eye_level.sd_px is not None
    assert result.eye_level.source == ("edges and rims" if with_edges else "rims")
    assert abs(height - true) <= 2.5 * result.eye_level.sd_px
    truths = {r["id"]: r for r in known["rims"]}
    strayed = 0
    for finding in result.findings:
        if finding.kind != "rim" or finding.implied is None or finding.implied_sd is None or finding.sighted_sd is None:
            continue
        degree = truths[finding.sighting]["degree_deg"]
        assert abs(finding.implied - degree) <= 3.5 * finding.implied_sd + 0.1
        strayed += abs((finding.sighted or 0) - degree) > 2.5 * finding.sighted_sd
    assert strayed <= 1
    assert sum(f.verdict is Verdict.OFF for f in result.findings) <= 1


@pytest.mark.parametrize("with_exif", [True, False])
@pytest.mark.parametrize("name", NAMES)
def test_seen_edges_laid_by_hand_give_eye_level_and_vanishing_points(name: str, with_exif: bool) -> None:
    known = truth(name)
    rng = np.random.default_rng(5)
    edges = laid_edges(known, rng)
    setup = setup_of(known, with_exif)
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


@pytest.mark.parametrize("stem", ["1-crates", "2-loft", "4-market"])
def test_what_is_measured_on_the_demo_sheets_is_true_within_its_error(stem: str) -> None:
    """Parts of walls and ceilings, a store door of 2.35 m, a bucket, an opening, a crate of 1.15 by 0.90 by 0.78 m."""
    known = truth(stem[2:])
    report = check_sheet(read_sheet((SHEETS / f"{stem}.sighting.json").read_bytes()))
    found = {f.sighting: f for f in report.findings}
    told = 0
    for entry in known["measured"]:
        if "truth" in entry:
            f = found[entry["id"]]
            value, sd = (f.part, f.part_sd) if entry["kind"] == "division" else (f.sighted, f.sighted_sd)
            assert value is not None and sd is not None and abs(value - entry["truth"]) <= 2.2 * sd, entry["id"]
            told += 1
    assert told >= 1
    for form in report.forms:
        for family, metres in known["sizes_m"].get(form.form, {}).items():
            size, size_sd = (form.size_m or {})[Family(family)], (form.size_sd_m or {})[Family(family)]
            assert size is not None and size_sd is not None and abs(size - metres) <= 2 * size_sd


def test_bricks_on_the_store_lie_in_courses_of_the_trade() -> None:
    """A rod stood up the brick wall of the photo by the view of the sheet, the eye at 1.50 m: brightness along it
    repeats every course, nominally 75 mm (from memory).
    """
    view = view_of(read_sheet((SHEETS / "1-crates.sighting.json").read_bytes()))
    photo = np.asarray(Image.open(PHOTOS / "crates.jpg").convert("L"), float)
    heights, rods = np.arange(0.6, 3.6, 0.005), []
    for foot in truth("crates")["wall_feet_px"]:
        figures = [view.figure((foot[0], foot[1]), float(h)) for h in heights]
        rods.append([photo[round(f.top[1]), round(f.top[0])] for f in figures if f is not None])
    along = np.mean(rods, axis=0)
    along -= np.convolve(np.pad(along, 40, mode="edge"), np.ones(81) / 81, "valid")
    courses = np.arange(0.05, 0.11, 0.0005)
    strength = [abs(np.sum(along * np.hanning(len(along)) * np.exp(-2j * np.pi * heights / c))) for c in courses]
    assert courses[int(np.argmax(strength))] == pytest.approx(0.075, abs=0.003)
    assert max(strength) > 6 * np.median(strength)
