"""A sheet of proposals in the browser: hollow until somebody accepts them, and out of sight while the eye
comes first.
"""

from __future__ import annotations

import json
import re

import pytest
from playwright.sync_api import Page, expect

from aspectum.demo.fill import PHOTOS, truth
from aspectum.formats.reading import compact
from aspectum.service.sheets.finding import find_sheet
from tests.browser.stage import Easel
from tests.browser.test_access import faults as axe_faults
from tests.conftest import Served


@pytest.fixture(scope="module")
def proposals() -> str:
    return compact(find_sheet((PHOTOS / "loft.jpg").read_bytes(), "loft.jpg"))


@pytest.fixture
def easel(page: Page, served: Served, proposals: str) -> Easel:
    """The loft with what was found of it."""
    page.set_viewport_size({"width": 1280, "height": 800})
    easel = Easel(page, served.url)
    easel.open_own(str(PHOTOS / "loft.jpg"))
    sheet = {"name": "loft.sighting.json", "mimeType": "application/json", "buffer": proposals.encode()}
    page.get_by_label("Sighting sheet to import").set_input_files(sheet)  # type: ignore[arg-type]
    expect(page.get_by_text("lines that were found in the picture wait")).to_be_visible()
    easel.saved()
    return easel


def test_they_wait_while_the_eye_comes_first(easel: Easel) -> None:
    expect(easel.page.get_by_text("lines that were found in the picture wait")).to_be_visible()
    expect(easel.slips).to_have_count(0)
    expect(easel.page.locator("[data-proposed]")).to_have_count(0)


def test_accepting_a_building_gives_its_eye_level_and_undoing_takes_it_back(easel: Easel, proposals: str) -> None:
    easel.judge_first(False)
    found = json.loads(proposals)
    # those less sure than even are folded away, and none of them says anything of eye level
    sure = sum(s["confidence"] >= 0.5 for s in found["sightings"])
    assert 0 < sure < len(found["sightings"])
    expect(easel.page.locator("[data-proposed]")).to_have_count(sure)
    expect(easel.page.get_by_text("not fixed yet")).to_be_visible()
    easel.page.get_by_role("button", name=re.compile(r"and \d+ less sure")).first.click()
    expect(easel.page.locator("[data-proposed]")).to_have_count(len(found["sightings"]))
    assert axe_faults(easel.page) == []
    easel.page.get_by_role("button", name=re.compile("Accept all of Building")).first.click()
    expect(easel.page.get_by_text("from the edges")).to_be_visible()
    easel.saved()
    height, sd = easel.eye_level()
    level = truth("loft")["eye_level"]
    assert abs(height - (level["left_y_px"] + level["right_y_px"]) / 2) < max(2 * sd, 3)
    easel.page.get_by_role("button", name="Undo").click()
    expect(easel.page.locator("[data-proposed]")).to_have_count(len(found["sightings"]))
    assert not easel.faults


def test_one_is_accepted_and_one_struck_out_and_both_stay_so(easel: Easel, proposals: str) -> None:
    easel.judge_first(False)
    count = sum(s["confidence"] >= 0.5 for s in json.loads(proposals)["sightings"])
    expect(easel.slips).to_have_count(count)
    first, second = easel.slips.nth(0), easel.slips.nth(1)
    name = second.get_attribute("data-sighting")
    first.get_by_role("button", name="Accept").click()
    expect(first.get_by_text("sighted")).to_be_visible()
    second.get_by_role("button", name="Strike out").click()
    expect(easel.slips).to_have_count(count - 1)
    easel.saved()
    easel.page.reload()
    expect(easel.page.locator("[data-proposed]")).to_have_count(count - 2)
    expect(easel.page.locator(f"[data-sighting='{name}']")).to_have_count(0)
