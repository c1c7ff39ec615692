"""What follows a save: one answer of report and readings, the same whichever process makes it."""

from __future__ import annotations

import json
import pickle
from pathlib import Path

import pytest

from aspectum.core.tolerance import OF_SCHOOL
from aspectum.demo.fill import DRAWINGS_FOLDER, SHEETS
from aspectum.formats.reading import FormatError
from aspectum.formats.report import Report
from aspectum.formats.sheet import SightingSheet, read_sheet
from aspectum.service.paper import after_save, drawings
from aspectum.service.sheets.checking import check_kept, checked_json, judge_sheet
from aspectum.service.sheets.readings import judged_on, judgements

ALL = sorted(SHEETS.glob("*.sighting.json"))


def sheet(path: str) -> SightingSheet:
    (found,) = [one for one in ALL if path in one.name]
    return read_sheet(found.read_bytes())


def drawn(name: str) -> SightingSheet:
    return read_sheet((DRAWINGS_FOLDER / f"{name}.sighting.json").read_bytes())


@pytest.mark.parametrize("path", ALL, ids=[path.name.split(".")[0] for path in ALL])
def test_a_saved_sheet_is_answered_with_its_own_check_and_what_was_judged_on_it(path: Path) -> None:
    document = read_sheet(path.read_bytes())
    found = after_save.after_save(document, None)
    assert found.report == check_kept(document)
    assert found.judged == judged_on(document)
    assert found.critiqued is None


@pytest.mark.parametrize("path", ALL, ids=[path.name.split(".")[0] for path in ALL])
def test_what_is_kept_of_a_judgement_is_the_same_by_every_tolerance(path: Path) -> None:
    """A tolerance decides what is called off, and moves no number."""
    document = read_sheet(path.read_bytes())
    kept = [judgements(judge_sheet(document, tolerances)) for tolerances in OF_SCHOOL.values()]
    assert all(one == kept[0] for one in kept[1:])


@pytest.mark.parametrize("name", ["crates", "tins", "loft"])
def test_what_follows_a_drawings_save_comes_through_a_pipe_as_it_was_made(name: str) -> None:
    """As it is handed from process to process."""
    found = after_save.after_save(drawn(name), sheet(name))
    assert found.critiqued and {reading.skill for reading in found.critiqued}
    assert pickle.loads(pickle.dumps(found)) == found


def test_a_drawing_on_which_nothing_is_laid_has_no_readings_yet() -> None:
    bare = drawn("crates").model_copy(update={"sightings": []})
    assert after_save.after_save(bare, sheet("crates")).critiqued == []


@pytest.mark.parametrize("fault", [FormatError("not yet"), ZeroDivisionError("a fault of ours")])
def test_a_critique_that_fails_keeps_no_report_back(monkeypatch: pytest.MonkeyPatch, fault: Exception) -> None:
    def fail(*_: object) -> None:
        raise fault

    monkeypatch.setattr(drawings, "judged_drawing", fail)
    found = after_save.after_save(drawn("crates"), sheet("crates"))
    assert found.critiqued is None and found.report.findings


def test_a_report_as_it_is_sent_is_the_report() -> None:
    document = sheet("crates")
    assert Report.model_validate(json.loads(checked_json(document))) == check_kept(document)
