"""``aspectum find``, and what ``aspectum check`` makes of proposals: they take no part until they are accepted, and
what the whole picture says is evidence beside them.
"""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner
from PIL import Image

from aspectum.cli import main
from aspectum.formats.sheet import read_sheet
from aspectum.picture_commands import found_table
from aspectum.service.sheets.checking import check_sheet
from tests.gallery_truth import PHOTOS, Piece, pieces


def run(*arguments: str) -> Any:
    return CliRunner().invoke(main, list(arguments))


@pytest.fixture(scope="module")
def loft() -> Piece:
    return next(piece for piece in pieces() if piece.name == "loft")


@pytest.fixture(scope="module")
def found(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Any]:
    done = run("find", "--json", str(PHOTOS / "loft.jpg"))
    assert done.exit_code == 0
    return json.loads(done.stdout)  # type: ignore[no-any-return]


def test_a_photo_becomes_a_sheet_of_proposals_the_surest_first(found: dict[str, Any]) -> None:
    assert found["format"] == "aspectum-sighting-sheet"
    assert 30 <= len(found["sightings"]) <= 80
    assert all(s["proposed"] for s in found["sightings"])
    sure = [s["confidence"] for s in found["sightings"]]
    assert sure == sorted(sure, reverse=True) and 0 < sure[-1] <= sure[0] <= 1
    assert len({s["id"] for s in found["sightings"]}) == len(sure)
    assert {s["form"] for s in found["sightings"]} <= {form["id"] for form in found["forms"]}
    read_sheet(json.dumps(found).encode())


def test_its_eye_level_is_the_known_one(found: dict[str, Any], loft: Piece) -> None:
    level = found["found"]["eye_level"]
    assert (level["left_y_px"] + level["right_y_px"]) / 2 == pytest.approx(loft.eye_level_px, abs=0.005 * 960)
    assert found["found"]["focal_px"] == pytest.approx(loft.known["camera"]["focal_px"], rel=0.03)


def test_every_family_with_many_edges_has_five(found: dict[str, Any]) -> None:
    counts: dict[tuple[str, str], int] = {}
    for s in found["sightings"]:
        if s["kind"] == "edge":
            key = ("", "upright") if s["family"] == "upright" else (s.get("slope", ""), s["family"])
            counts[key] = counts.get(key, 0) + 1
    assert counts["", "upright"] >= 5 and counts["", "left"] >= 5 and counts["", "right"] >= 5


def test_for_people_it_is_a_table(found: dict[str, Any]) -> None:
    table = found_table(read_sheet(json.dumps(found).encode()))
    assert "eye level" in table and "Building" in table


def test_a_picture_that_cannot_be_read_costs_one_line_and_not_the_others(tmp_path: Path) -> None:
    broken, missing = tmp_path / "broken.jpg", tmp_path / "missing.jpg"
    broken.write_bytes((PHOTOS / "loft.jpg").read_bytes()[:20_000])
    plain = tmp_path / "wall.png"
    Image.new("RGB", (320, 240), "#d8d2c4").save(plain)
    done = run("find", "--json", str(broken), str(plain), str(missing))
    assert done.exit_code == 2
    assert len(done.stdout.splitlines()) == 1 and json.loads(done.stdout)["title"] == "wall"
    assert len(done.stderr.splitlines()) == 2 and "damaged" in done.stderr.splitlines()[0]


def test_proposals_take_no_part_until_they_are_accepted(found: dict[str, Any], tmp_path: Path) -> None:
    path = tmp_path / "loft.json"
    path.write_text(json.dumps(found))
    untouched = json.loads(run("check", "--json", str(path)).stdout)
    assert untouched["findings"] == []
    accepted = json.loads(run("check", "--json", "--accept-proposed", str(path)).stdout)
    assert len(accepted["findings"]) == len(found["sightings"])
    level = accepted["eye_level"]
    assert abs(level["left_y_px"] - found["found"]["eye_level"]["left_y_px"]) < 6


def test_accepting_one_judges_that_one(found: dict[str, Any]) -> None:
    one = json.loads(json.dumps(found))
    del one["sightings"][0]["proposed"]
    report = check_sheet(read_sheet(json.dumps(one).encode()))
    assert [f.sighting for f in report.findings] == [one["sightings"][0]["id"]]


WORKED = {
    "format": "aspectum-sighting-sheet",
    "version": 1,
    "picture": {"width_px": 1000, "height_px": 800},
    "sightings": [
        {"id": "a", "kind": "edge", "family": "left", "p": [400, 200], "q": [150, 250]},
        {"id": "b", "kind": "edge", "family": "left", "p": [400, 700], "q": [150, 625]},
        {"id": "c", "kind": "edge", "family": "right", "p": [400, 200], "q": [650, 250]},
        {"id": "d", "kind": "edge", "family": "right", "p": [400, 700], "q": [650, 625]},
    ],
}


def worked(**changes: Any) -> Any:
    """The handbook's worked picture, eye level at 400 and f = 994.99."""
    return read_sheet(json.dumps(WORKED | changes).encode())


def evidence(y_px: float, sd_px: float) -> dict[str, Any]:
    return {
        "eye_level": {"left_y_px": y_px, "right_y_px": y_px, "sd_px": sd_px},
        "focal_px": 995.0,
        "focal_sd_px": 40.0,
    }


def proposed(*ids: str) -> list[dict[str, Any]]:
    return [s | ({"proposed": True, "confidence": 0.7} if s["id"] in ids else {}) for s in WORKED["sightings"]]  # type: ignore[attr-defined]


def test_what_nobody_accepted_counts_for_nothing() -> None:
    """Neither a proposed line nor the view that rests on such lines changes what was sighted; accepted as a whole, both
    count.
    """
    alone = check_sheet(worked())
    others = [
        {
            "id": "x",
            "kind": "edge",
            "family": "left",
            "p": [500, 210],
            "q": [900, 60],
            "proposed": True,
            "confidence": 0.9,
        },
        {
            "id": "y",
            "kind": "rim",
            "form": "f",
            "points": [[700, 520], [712, 541], [740, 552], [770, 549], [790, 530]],
            "proposed": True,
            "confidence": 0.9,
        },
    ]
    beside = check_sheet(worked(sightings=[*proposed(), *others], found=evidence(500.0, 0.5)))
    assert beside.eye_level == alone.eye_level and beside.vanishing_points == alone.vanishing_points
    assert {f.sighting: (f.verdict, f.implied) for f in beside.findings} == {
        f.sighting: (f.verdict, f.implied) for f in alone.findings
    }
    # of which some are accepted, the rest still counts for nothing
    some = check_sheet(worked(sightings=[s | {"confidence": 0.7} for s in proposed()], found=evidence(500.0, 0.5)))
    assert some.eye_level == alone.eye_level
    open_ = check_sheet(worked(sightings=proposed("c", "d"), found=evidence(401.0, 2.0)))
    assert open_.eye_level.left_y_px is None
    whole = check_sheet(worked(sightings=proposed("c", "d"), found=evidence(401.0, 2.0)).accepting())
    assert whole.eye_level.left_y_px == pytest.approx(400.5, abs=1.5)


@pytest.mark.parametrize(("at", "said"), [(401.0, False), (480.0, True)])
def test_a_view_of_the_picture_that_the_sightings_contradict_is_said_without_its_number(at: float, said: bool) -> None:
    report = check_sheet(worked(found=evidence(at, 2.0)))
    notes = [note for note in report.notes if "the picture as a whole" in note]
    assert bool(notes) is said and not any(c.isdigit() for note in notes for c in note)


def test_sightings_that_flatly_contradict_it_have_the_word() -> None:
    more = [
        *proposed(),
        {"id": "e", "kind": "edge", "family": "upright", "p": [400, 200], "q": [400, 700], "proposed": True},
    ]
    report = check_sheet(worked(sightings=more, found=evidence(480.0, 2.0)).accepting())
    assert report.eye_level.left_y_px == pytest.approx(400.0, abs=2.0)


@pytest.mark.parametrize(
    ("change", "place"),
    [
        (
            {
                "found": {
                    "eye_level": {"left_y_px": 1.0, "right_y_px": 1.0, "sd_px": 0},
                    "focal_px": 900,
                    "focal_sd_px": 9,
                }
            },
            "found.eye_level.sd_px",
        ),
        ({"found": {"focal_px": 900, "focal_sd_px": 9}}, "found.eye_level"),
        ({"sightings": [WORKED["sightings"][0] | {"confidence": 1.5}]}, "sightings[0].confidence"),  # type: ignore[index]
        ({"sightings": [WORKED["sightings"][0] | {"proposed": "yes"}]}, "sightings[0].proposed"),  # type: ignore[index]
    ],
)
def test_what_does_not_fit_is_refused_by_its_place(change: dict[str, Any], place: str) -> None:
    with pytest.raises(ValueError, match=place.replace("[", r"\[").replace("]", r"\]")):
        worked(**change)


def test_a_division_on_a_proposed_face_waits_with_it() -> None:
    face = {
        "id": "f",
        "kind": "face",
        "families": ["right", "upright"],
        "corners": [[400, 700], [650, 625], [650, 250], [400, 200]],
        "proposed": True,
    }
    sheet = worked(sightings=[*proposed(), face, {"id": "g", "kind": "division", "face": "f", "point": [500, 400]}])
    assert [s.id for s in sheet.accepted] == ["a", "b", "c", "d"]
    assert [s.id for s in sheet.accepting().accepted] == ["a", "b", "c", "d", "f", "g"]
