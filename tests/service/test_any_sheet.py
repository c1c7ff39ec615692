"""Whatever a beginner lays, every sheet that can be stored is answered in finite numbers and words."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import asdict
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from click.testing import CliRunner

from aspectum import cli
from aspectum.core.aids.fan import Fan
from aspectum.core.life.near_corner import near_corner
from aspectum.core.life.readings import TiltReading
from aspectum.core.sightings import Side
from aspectum.formats.exports import findings_csv, overlay_svg
from aspectum.formats.reading import FormatError
from aspectum.formats.report import Report
from aspectum.formats.sheet import SightingSheet, write_sheet
from aspectum.formats.sightings import EdgeSighting
from aspectum.service.paper.after_save import after_save
from aspectum.service.sheets import checking
from aspectum.service.sheets.aids import fan_on, probe_sheet
from aspectum.service.words import common
from tests.beginner import Hand, beginner_sheet


def numbers(value: Any) -> Iterator[float]:
    if isinstance(value, dict):
        for inner in value.values():
            yield from numbers(inner)
    elif isinstance(value, (list, tuple)):
        for inner in value:
            yield from numbers(inner)
    elif isinstance(value, float):
        yield value


def answered(sheet: SightingSheet) -> Report:
    report = checking.check_sheet(sheet)
    assert all(math.isfinite(v) for v in numbers(report.model_dump()))
    assert [f.sighting for f in report.findings] == [s.id for s in sheet.sightings]
    assert all(f.words for f in report.findings) and all(report.notes)
    findings_csv(sheet, report)
    overlay_svg(sheet, report, None)
    cli.table(sheet, report, ladders=True)
    if sheet.picture is not None:
        asked = probe_sheet(sheet, (sheet.picture.width_px / 3, sheet.picture.height_px / 2))
        assert all(math.isfinite(v) for v in numbers(asdict(asked)))
        for line in fans(sheet):
            assert all(math.isfinite(v) for v in numbers(asdict(line)))
    return report


def fans(sheet: SightingSheet) -> Iterator[Fan]:
    """Between the first two edges of every family, where one can run."""
    first: dict[tuple[str | None, str], str] = {}
    for s in sheet.sightings:
        if isinstance(s, EdgeSighting) and s.p is not None:
            other = first.setdefault((s.form, s.family), s.id)
            try:
                yield fan_on(sheet, other, s.id, 3)
            except FormatError as refused:
                assert str(refused)


@pytest.mark.parametrize("habit", Hand.HABITS)
def test_any_sheet_a_beginner_lays_is_answered(habit: str) -> None:
    for seed in range(12):
        answered(SightingSheet.model_validate(beginner_sheet(np.random.default_rng(seed), habit)))


@pytest.mark.parametrize("looking", ["up", "down"])
def test_any_such_sheet_is_answered_straight_up_or_down(looking: str) -> None:
    for habit in Hand.HABITS:
        for seed in range(4):
            laid = beginner_sheet(np.random.default_rng(1000 + seed), habit)
            answered(SightingSheet.model_validate({**laid, "perspective": "one-point", "looking": looking}))


# found by the same search over 4,000 sheets: singular rims, two heights in one, a doubtful pair of readings
@pytest.mark.parametrize("seed", [166, 278, 408, 869])
def test_sheets_that_once_could_not_be_opened(seed: int) -> None:
    answered(SightingSheet.model_validate(beginner_sheet(np.random.default_rng(seed))))


def corner(tilts: dict[str, float]) -> SightingSheet:
    """A near corner from life; ids say side and end."""
    sightings = [
        {"id": id, "kind": "edge", "family": id.split("-")[0], "end": f"near-{id.split('-')[1]}", "tilt_deg": tilt}
        for id, tilt in tilts.items()
    ]
    return SightingSheet.model_validate({"picture": {"width_px": 100, "height_px": 100}, "sightings": sightings})


def test_a_doubtful_reading_from_life_is_answered_with_its_rival() -> None:
    """The handbook's near corner (section 2) with a top left climbing by 0.7° instead of falling by 11.3°: the top
    right may be the slip as well.
    """
    report = answered(corner({"left-top": -0.7, "left-bottom": -16.7, "right-top": -14.04, "right-bottom": 20.56}))
    doubtful = [f for f in report.findings if f.rule == "one-of-a-pair"]
    assert len(doubtful) == 2
    assert {f.others[0] for f in doubtful} == {f.sighting for f in doubtful}


def test_simulated_corners_with_a_wrong_reading_never_stop_the_card() -> None:
    rng = np.random.default_rng(4)
    for _ in range(60):
        tilts = np.array([11.31, -16.70, -14.04, 20.56]) + rng.normal(0, 2, 4)
        tilts[int(rng.integers(4))] += rng.choice([-12, 12])
        answered(
            corner(dict(zip(("left-top", "left-bottom", "right-top", "right-bottom"), tilts.tolist(), strict=True)))
        )


def test_readings_at_one_height_tell_no_vanishing_point() -> None:
    card = near_corner([TiltReading("a", Side.LEFT, 0.5, 10.0), TiltReading("b", Side.LEFT, 0.5 + 1e-12, 12.0)])
    assert card.left.distance is None and not card.left.opens


def test_the_command_says_which_sheet_it_cannot_judge_and_goes_on(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    files = []
    for name in ("bad", "good"):
        sheet = corner({"left-top": 11.31, "left-bottom": -16.70})
        sheet.title = name
        files.append(tmp_path / f"{name}.sighting.json")
        files[-1].write_bytes(write_sheet(sheet))
    whole = checking.check_sheet

    def failing(sheet: SightingSheet, *args: Any, **kwargs: Any) -> Report:
        if sheet.title == "bad":
            raise ZeroDivisionError("planted")
        return whole(sheet, *args, **kwargs)

    monkeypatch.setattr(checking, "check_sheet", failing)
    result = CliRunner().invoke(cli.main, ["check", *map(str, files)])
    assert result.exit_code == 2
    assert "bad.sighting.json: could not be judged" in result.stderr and len(result.stderr.splitlines()) == 1
    assert "good" in result.stdout


@pytest.mark.parametrize("part", ["check", "judgement_lines"], ids=["in the check", "in its words"])
def test_a_sheet_that_cannot_be_checked_is_answered_as_unsure_throughout(
    part: str, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    def failing(*args: Any) -> None:
        raise ZeroDivisionError("planted")

    monkeypatch.setattr(checking, part, failing)
    sheet = corner({"left-top": 11.31, "left-bottom": -16.70})
    found = after_save(sheet, None)
    assert found.report == checking.check_kept(sheet)
    assert [f.verdict for f in found.report.findings] == [
        "unsure",
        "unsure",
    ] and "could not be checked" in found.report.notes[0]
    assert "planted" in caplog.text and found.judged == []


def test_lists_in_words_stay_short() -> None:
    assert common.listed([]) == ""
    assert common.several([str(k) for k in range(9)]) == "0, 1, 2, 3, 4, 5 and 3 more"
