"""A line is of one skill: its slip and the logbook call it the same."""

from __future__ import annotations

from pathlib import Path

import pytest

from aspectum.demo.fill import SHEETS
from aspectum.formats.sheet import read_sheet
from aspectum.service.sheets.checking import check_sheet
from aspectum.service.sheets.readings import judged_on
from aspectum.service.words.skills import WORDS


@pytest.mark.parametrize("file", sorted(SHEETS.glob("*.sighting.json")), ids=lambda file: file.name.split(".")[0])
def test_the_slip_of_a_judged_line_says_which_skill_it_counts_for(file: Path) -> None:
    sheet = read_sheet(file.read_bytes())
    filed = {r.sighting: WORDS[r.skill].title for r in judged_on(sheet)}
    assert {f.sighting: f.skill for f in check_sheet(sheet).findings if f.skill} == filed


def test_the_near_edges_of_a_crate_are_filed_by_their_side() -> None:
    sheet = read_sheet((SHEETS / "1-crates.sighting.json").read_bytes())
    judged = [s.model_copy(update={"judged_tilt_deg": 10.0}) if s.kind == "edge" else s for s in sheet.sightings]
    told = {f.sighting: f.skill for f in check_sheet(sheet.model_copy(update={"sightings": judged})).findings}
    assert told["crate-left-top-near"] == told["crate-left-bottom-near"] == "Left edges below eye level"
    assert told["crate-right-top-near"] == "Right edges below eye level"
