"""Where the picture is seen from, how its judgements ran, and the tolerance that is kept with it."""

from __future__ import annotations

import pytest

from aspectum.core.aids.standpoint import Beside, Lies, ViewKind, standings, view_kind
from aspectum.core.findings import EyeLevel, Source, VanishingPoint
from aspectum.core.sightings import Edge, Family, Setup
from aspectum.core.tolerance import FREEHAND, RULED
from aspectum.formats.reading import FormatError
from aspectum.formats.sheet import SightingSheet, read_sheet, write_sheet
from aspectum.service.sheets.checking import check_sheet
from aspectum.service.sheets.from_sheet import kept_tolerances
from aspectum.service.words.standpoint import standing_words
from tests.worked import EDGES

SETUP = Setup(1000, 900)


def level(y: float) -> EyeLevel:
    return EyeLevel(y, y, 5.0, Source.EDGES)


@pytest.mark.parametrize(
    ("y", "photo", "drawing"),
    [
        (-50, ViewKind.BIRDS_EYE, ViewKind.BIRDS_EYE),
        (150, ViewKind.BIRDS_EYE, ViewKind.BIRDS_EYE),
        (300, ViewKind.NORMAL, ViewKind.NORMAL),
        (486, ViewKind.NORMAL, ViewKind.WORMS_EYE),
        (540, ViewKind.NORMAL, ViewKind.WORMS_EYE),
        (570, ViewKind.WORMS_EYE, ViewKind.WORMS_EYE),
        (950, ViewKind.WORMS_EYE, ViewKind.WORMS_EYE),
    ],
)
def test_the_view_is_named_by_where_eye_level_lies(y: float, photo: ViewKind, drawing: ViewKind) -> None:
    """Handbook section 1, common practice: a level photograph has eye level at one half (54 % down it looks 2° up), a
    drawing puts it at a third.
    """
    assert (view_kind(SETUP, level(y)), view_kind(SETUP, level(y), drawn=True)) == (photo, drawing)


@pytest.mark.parametrize(
    ("y", "lies", "word"),
    [(100, Lies.BELOW, "top shows"), (800, Lies.ABOVE, "underside shows"), (400, Lies.ACROSS, "neither")],
)
def test_a_box_shows_its_top_below_eye_level_and_its_underside_above(y: float, lies: Lies, word: str) -> None:
    found = standings(SETUP, EDGES, level(y), [])
    assert [s.lies for s in found] == [lies]
    assert word in standing_words(found[0], "crate")


def test_in_one_point_a_box_beside_the_vanishing_point_shows_the_side_that_faces_it() -> None:
    depth = [
        Edge("d", "box", Family.DEPTH, (700, 600), (640, 540)),
        Edge("a", "box", Family.ACROSS, (700, 600), (900, 600)),
    ]
    point = VanishingPoint("box", Family.DEPTH, None, 500.0, 300.0, None, 4.0, 0.0, None, None, None, None)
    found = standings(SETUP, depth, level(300), [point])[0]
    assert found.beside is Beside.RIGHT_OF and "left side shows" in standing_words(found, "box")


def sheet(**values: object) -> SightingSheet:
    sightings = [
        {
            "id": e.id,
            "kind": "edge",
            "form": e.form,
            "family": e.family.value,
            "p": e.p,
            "q": e.q,
            "judged_tilt_deg": 10.0,
        }
        for e in EDGES[:4]
    ]
    return SightingSheet.model_validate(
        {"picture": {"width_px": 1000, "height_px": 800}, "sightings": sightings, **values}
    )


def test_the_head_says_how_the_judgements_ran() -> None:
    """Sighted 11.3, -16.7, -11.3 and 16.7, all judged 10: two shallow ones 1.3 too flat and 21.3 the wrong way."""
    lines = check_sheet(sheet()).judgements
    assert lines == [
        "shallow edges judged 1.3° too flat (n = 1)",
        "steep edges judged 6.7° too flat (n = 1)",
        "steep edges judged the wrong way (n = 1)",
        "shallow edges judged the wrong way (n = 1)",
    ]


def test_a_sheet_keeps_its_tolerance() -> None:
    assert kept_tolerances(sheet()) == FREEHAND
    assert kept_tolerances(sheet(tolerance="ruled")) == RULED
    own = sheet(tolerance={"tilt_deg": 2, "length_percent": 5, "degree_deg": 4})
    assert kept_tolerances(read_sheet(write_sheet(own))).length == pytest.approx(0.05)
    with pytest.raises(FormatError, match="tolerance"):
        read_sheet(
            write_sheet(own).replace(b'"tilt_deg": 2', b'"tilt_deg": -2').replace(b'"tilt_deg":2', b'"tilt_deg":-2')
        )


def test_whatever_is_told_in_metres_comes_with_its_caution() -> None:
    """The handbook's worked picture with a foot at 700 px and a top at 325, the eye at 1.6 m (sections 5 and 9)."""
    post = {"id": "h1", "kind": "height", "foot": [700.0, 700.0], "top": [700.0, 325.0]}
    laid = sheet().model_dump(mode="json")
    measured = laid | {"sightings": [*laid["sightings"], post]}
    told = {
        eye: [
            n
            for n in check_sheet(SightingSheet.model_validate(measured | {"eye_height_m": eye})).notes
            if "not a survey" in n
        ]
        for eye in (None, 1.6)
    }
    assert told[None] == [] and len(told[1.6]) == 1
