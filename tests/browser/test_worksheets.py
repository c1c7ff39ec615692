"""Worksheets in the browser: chosen from small sheets, made with progress, printed, and one brought back as a photo."""

from __future__ import annotations

import re
from collections.abc import Iterator

import pypdf
import pytest
from playwright.sync_api import Browser, Page, expect

from aspectum.demo.worksheets import PHOTO
from tests.browser.stage import enter_as
from tests.browser.test_access import faults
from tests.conftest import Served


@pytest.fixture
def table(browser: Browser, harbour: Served) -> Iterator[Page]:
    """The tutor's worksheets."""
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    enter_as(page, harbour.url, "Maren")
    page.get_by_role("navigation", name="Class").get_by_role("link", name="Worksheets").click()
    expect(page.get_by_role("list", name="Exercises").get_by_role("button")).to_have_count(12)
    yield page
    context.close()


def test_a_set_is_chosen_made_for_everybody_and_printed(table: Page) -> None:
    expect(table.get_by_role("button", name="Make the set")).to_be_disabled()
    for n, name in enumerate(("The other rim", "Tilts"), 1):
        table.get_by_role("button", name=name).click()
        expect(table.get_by_role("button", name=name)).to_contain_text(str(n))
    table.get_by_role("combobox", name="For").select_option(label="each of Harbour class, Thursday evening")
    table.get_by_role("combobox", name="Picture").select_option(label="photo of Crates on the slipway")
    expect(table.get_by_text("16 pages, and as many with the answers")).to_be_visible()
    # all previews are drawn, the photo's among them
    table.wait_for_function(
        "[...document.querySelectorAll('.exercise-paper img')].every(i => !i.complete || i.naturalWidth > 0)"
    )
    assert faults(table) == []
    table.get_by_role("button", name="Make the set").click()
    expect(table.get_by_text("The set is made.")).to_be_visible(timeout=30_000)
    with table.expect_download() as begun:
        table.get_by_role("link", name="Sheets (PDF)").click()
    pages = pypdf.PdfReader(begun.value.path()).pages
    assert len(pages) == 16 and "Fenja" in "".join(page.extract_text() for page in pages)
    expect(table.get_by_text("2 exercises, 8 copies, easy, A4")).to_be_visible()


def test_a_set_that_is_stopped_leaves_nothing_behind(table: Page) -> None:
    table.get_by_role("button", name="A box from its near corner").click()
    table.get_by_label("Copies").fill("40")
    table.get_by_label("Copies").press("Enter")
    table.get_by_role("button", name="Make the set").click()
    table.get_by_role("button", name="Stop").click()
    expect(table.get_by_role("button", name="Stop")).to_have_count(0)
    expect(table.get_by_text("1 exercise, 40 copies")).to_have_count(0)
    expect(table.get_by_text("8 exercises, 8 copies")).to_be_visible()


def test_a_photographed_sheet_is_known_and_its_fault_named(table: Page) -> None:
    expect(table.get_by_role("list", name="Came back")).to_contain_text("Ilse: The other rim, sheet 1")
    table.get_by_label("Photo to open").set_input_files(PHOTO)
    expect(table.get_by_text("All 3 lines that were asked are found and laid.")).to_be_visible(timeout=60_000)
    table.get_by_role("link", name="See what holds").click()
    expect(
        table.get_by_text(re.compile(r"The lower rims of every round form are \d\.\d° too flat")).first
    ).to_be_visible(timeout=20_000)


def test_a_photo_of_something_else_is_answered_with_what_to_do(table: Page) -> None:
    table.get_by_label("Photo to open").set_input_files(PHOTO.parents[1] / "drawings/crates.jpg")
    expect(table.get_by_text("three of its four corner marks must lie in the photo")).to_be_visible(timeout=60_000)
