"""From life, at a tablet in portrait: judge, read, see both vanishing points; then the sheet of paper."""

from __future__ import annotations

import re
from pathlib import Path

import pypdf
import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.stage import Easel, titled
from tests.browser.test_access import faults
from tests.conftest import Served

FISH, PUMP = "Fish boxes, from life", "Pump house, from life"
CORNER = ((9, 11.3), (-14, -16.7), (-12, -14.0), (18, 20.6))  # judged and read, in the order of the card


@pytest.fixture
def card(page: Page, served: Served) -> Easel:
    """A browser in which the cautions were seen today."""
    page.add_init_script("localStorage.setItem('aspectum.cautions-seen', new Date().toDateString())")
    return Easel(page, served.url)


def begin(card: Easel) -> None:
    card.home()
    card.page.get_by_role("button", name="From life", exact=True).click()
    expect(card.page.get_by_role("button", name="Next: top edge, left")).to_be_visible()
    expect(card.page.get_by_role("link", name="Plan", exact=True)).to_be_visible()
    card.page.wait_for_load_state("networkidle")


def open_card(card: Easel, title: str) -> None:
    card.page.goto(f"{card.base}/sheets/{titled(card.page, card.base, 'sheets', title)}/card")
    expect(card.page.get_by_test_id("schematic")).to_be_visible()
    expect(card.page.get_by_role("link", name="Plan", exact=True)).to_be_visible()
    # the note for next time comes a moment later, and moves the readings down
    card.page.wait_for_load_state("networkidle")


def read(page: Page, judged: float | None, tilt: float) -> None:
    """One tilt by stick, judged first."""
    page.get_by_role("button", name=re.compile("^Next: ")).click()
    if judged is not None:
        page.get_by_label("Judged", exact=True).fill(str(judged))
        page.get_by_role("button", name="Commit").click()
    page.get_by_label("Stick", exact=True).fill(str(tilt))
    page.get_by_role("button", name=re.compile("^Keep ")).click()


def saved(page: Page) -> None:
    expect(page.get_by_test_id("save-state")).to_have_text("Saved")


def test_someone_new_reads_a_corner_and_both_vanishing_points_show(card: Easel) -> None:
    page = card.page
    begin(card)
    for judged, tilt in CORNER:
        read(page, judged, tilt)
    words = page.get_by_test_id("card-list")
    expect(words).to_contain_text("Both sides agree on eye level within reading error.")
    expect(page.get_by_test_id("point-strip").get_by_role("img")).to_have_attribute(
        "aria-label", "left vanishing point 2.00 units out, right vanishing point 1.60 units out"
    )
    expect(page.get_by_test_id("card-level")).to_be_visible()
    expect(page.locator("[data-reading]").first).to_contain_text("Judged 9°: 2.3° too flat.")
    saved(page)
    page.reload()
    expect(page.locator("[data-reading]")).to_have_count(4)
    assert not card.faults


def test_nothing_shows_the_answer_before_the_judgement(card: Easel) -> None:
    page = card.page
    open_card(card, FISH)
    expect(page.get_by_test_id("card-level")).to_be_visible()
    page.get_by_role("button", name="Add").click()
    page.get_by_role("menuitem", name="A rim").click()
    expect(page.get_by_role("slider", name="Rim")).to_be_visible()
    expect(page.get_by_test_id("card-level")).to_have_count(0)
    expect(page.get_by_text("The vanishing points rest while you judge")).to_be_visible()
    expect(page.get_by_test_id("card-list").get_by_text(re.compile("Agrees with"))).to_have_count(0)
    page.get_by_role("button", name="Commit").click()
    expect(page.get_by_test_id("card-level")).to_be_visible()


def test_a_wrong_reading_is_named_and_read_again(card: Easel) -> None:
    page = card.page
    open_card(card, PUMP)
    eaves = page.locator("[data-reading=rt]")
    expect(eaves).to_contain_text("off")
    expect(page.get_by_test_id("card-list")).to_contain_text("Take “eaves, right” again")
    page.get_by_role("button", name="Take eaves, right off").click()
    expect(page.get_by_test_id("card-list")).to_contain_text("Both sides agree")
    page.get_by_role("button", name="Undo").click()
    expect(eaves).to_contain_text("off")


def test_a_reading_is_repeated_and_the_repeat_that_strays_is_taken_back(card: Easel) -> None:
    page = card.page
    open_card(card, FISH)
    reading = page.locator("[data-reading=lt]")
    expect(reading).to_contain_text("3 readings averaged")
    page.get_by_role("button", name="Read top edge, left again").click()
    expect(page.get_by_role("heading", name="top edge, left once more")).to_be_visible()
    page.get_by_label("Stick", exact=True).fill("-31")
    page.get_by_role("button", name="Keep").click()
    expect(reading).to_contain_text("strays from the others and is left out")
    page.get_by_role("button", name=re.compile("Take back .*31.0°, which strays")).click()
    expect(reading).not_to_contain_text("strays")
    expect(reading).to_contain_text("3 readings averaged")


def test_the_simulated_gauge_is_held_calibrated_and_marked_as_simulated(card: Easel) -> None:
    page = card.page
    begin(card)
    page.get_by_role("button", name="Sheet", exact=True).click()
    page.get_by_role("menuitem", name="Calibrate the gauge…").click()
    dialog = page.get_by_role("dialog", name="Calibrate the gauge")
    expect(dialog).to_contain_text("Simulated gauge")
    dialog.get_by_role("button", name="Hold", exact=True).click()
    dialog.get_by_role("button", name="Hold, turned round").click()
    expect(dialog).to_contain_text("and that is taken off from now on")
    dialog.get_by_role("button", name="Close").click()
    page.keyboard.press("n")
    page.get_by_role("button", name="Commit").click()
    page.get_by_role("button", name="Gauge", exact=True).click()
    expect(page.get_by_text("Simulated gauge.")).to_be_visible()
    needle = page.get_by_role("slider", name="Where the stick lies")
    needle.focus()
    for _ in range(2):
        page.keyboard.press("Shift+ArrowUp")
    # the gauge follows the stick in its own time
    expect(page.locator(".gauge-figure")).to_have_text(re.compile(r"^(1[89]|2[01])\.\d°"))
    page.keyboard.press("h")
    keep = page.get_by_role("button", name=re.compile(r"^Keep (1[89]|2[012])\.\d°"))
    keep.click()
    expect(page.locator("[data-reading]")).to_contain_text("read")
    saved(page)
    assert not card.faults


def test_arm_and_stick_turn_marks_into_units_angles_and_distances(card: Easel) -> None:
    page = card.page
    open_card(card, PUMP)
    page.get_by_role("button", name="Sheet", exact=True).click()
    page.get_by_role("menuitem", name="Arm and stick…").click()
    dialog = page.get_by_role("dialog", name="Arm and stick")
    expect(dialog).to_contain_text("8.3 m ± 0.3 away: a drawing aid, not a survey.")
    dialog.get_by_label("Eye to stick (kept for you)").fill("570")
    dialog.get_by_label("Its true height, if you know it").click()
    expect(dialog).to_contain_text("7.9 m")
    dialog.get_by_label("Or how far away it stands").fill("10")
    dialog.get_by_label("Its true height, if you know it").click()
    expect(dialog).to_contain_text("Then it is 4.05 m ± 0.14 tall.")
    dialog.get_by_role("button", name="Close").click()
    page.get_by_role("button", name="Read right far upright again").click()
    page.get_by_label("or its mark").fill("115.5")
    expect(page.get_by_role("button", name="Keep 0.50 units")).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_role("menuitem", name="A length").click()
    page.get_by_role("button", name="Commit").click()
    page.get_by_label("What", exact=True).fill("door, across")
    page.get_by_label("Thumb", exact=True).fill("0.3")
    page.get_by_role("button", name="Keep 0.30 units").click()
    expect(page.get_by_role("list", name="Readings")).to_contain_text("door, across")


def test_what_stands_above_what_is_told_without_points(card: Easel) -> None:
    page = card.page
    open_card(card, FISH)
    page.get_by_role("button", name="Add").click()
    page.get_by_role("menuitem", name="What stands above what").click()
    page.get_by_label("Judged", exact=True).fill("0.2")
    page.get_by_role("button", name="Commit").click()
    page.get_by_label("Upper", exact=True).fill("the lamp")
    page.get_by_label("Lower", exact=True).fill("the second box")
    page.get_by_role("button", name="Keep: in line").click()
    expect(page.get_by_test_id("card-list")).to_contain_text("The lamp stands above the second box, plumb.")


def test_a_second_form_an_edge_between_and_a_rim_are_added(card: Easel) -> None:
    page = card.page
    begin(card)
    add = page.get_by_role("button", name="Add", exact=True)
    add.click()
    page.get_by_role("menuitem", name="An edge between…").click()
    page.get_by_role("button", name="It goes right").click()
    page.get_by_role("button", name="Commit").click()
    page.get_by_label("Stick", exact=True).fill("2")
    page.get_by_role("button", name="Keep").click()
    expect(page.locator("[data-reading]")).to_contain_text("edge 0.50 down, right")
    add.click()
    page.get_by_role("menuitem", name="A post").click()
    expect(page.get_by_role("button", name=re.compile("read across to it.*Form 2"))).to_be_visible()
    add.click()
    page.get_by_role("menuitem", name="A rim").click()
    page.get_by_role("button", name="Commit").click()
    page.get_by_label("its middle, down from the top").fill("0.9")
    page.get_by_role("button", name="Keep 0.30").click()
    expect(page.get_by_test_id("card-list")).to_contain_text("Drawn 17.5° (ratio 0.30), by looking 16.7°.")
    saved(page)


def test_cautions_show_once_a_day(page: Page, served: Served) -> None:
    easel = Easel(page, served.url)
    begin(easel)
    cautions = page.get_by_role("complementary", name="Before you begin")
    expect(cautions).to_contain_text("never sight towards the sun")
    cautions.get_by_role("button", name="Seen").click()
    page.reload()
    expect(page.get_by_test_id("schematic")).to_be_visible()
    expect(cautions).to_have_count(0)


def test_a_corner_is_read_by_touch_on_a_tablet_within_a_thumbs_reach(browser: Browser, served: Served) -> None:
    context = browser.new_context(viewport={"width": 820, "height": 1180}, has_touch=True)
    page = context.new_page()
    page.add_init_script("localStorage.setItem('aspectum.cautions-seen', new Date().toDateString())")
    easel = Easel(page, served.url)
    easel.home()
    page.get_by_role("button", name="From life", exact=True).tap()
    for _ in range(4):
        following = page.get_by_role("button", name=re.compile("^Next: "))
        box = following.bounding_box()
        assert box is not None and box["y"] > 1180 / 2 and box["height"] >= 48
        following.tap()
        page.get_by_role("slider", name="Needle").tap(position={"x": 150, "y": 60})
        page.get_by_role("button", name="Commit").tap()
        keep = page.get_by_role("button", name=re.compile("^Keep "))
        expect(keep).to_be_in_viewport()
        page.get_by_role("button", name="+5°").tap()
        keep.tap()
    expect(page.locator("[data-reading]")).to_have_count(4)
    assert not easel.faults
    context.close()


def test_a_photo_is_put_under_the_card_later(card: Easel, crates_jpeg: bytes) -> None:
    page = card.page
    open_card(card, PUMP)
    page.get_by_role("button", name="Sheet", exact=True).click()
    page.get_by_role("menuitem", name="Put a photo under it…").click()
    page.get_by_label("Photo to open").set_input_files(
        {"name": "pump.jpg", "mimeType": "image/jpeg", "buffer": crates_jpeg}
    )
    expect(card.stage).to_be_visible(timeout=20_000)
    # what was read from life is laid on the photo as well, and the two are compared
    card.slip("eaves, left").get_by_role("button").first.click()
    page.get_by_role("button", name="Lay it on the photo").click()
    card.drag(card.on_screen([400, 300]), card.on_screen([200, 340]))
    expect(card.slip("eaves, left")).to_contain_text("of the photo")
    page.get_by_role("link", name="Card", exact=True).click()
    expect(page.locator("[data-reading=rt]")).to_contain_text("off")


# -- the plan ---------------------------------------------------------------------------------------


def test_the_plan_is_turned_to_sized_placed_and_kept(card: Easel) -> None:
    page = card.page
    open_card(card, FISH)
    page.keyboard.press("b")
    board = page.get_by_test_id("board")
    expect(board).to_be_visible()
    expect(page.get_by_role("list", name="Lay-in")).to_contain_text("Mark the four limits")
    page.get_by_label("Paper", exact=True).select_option("A4")
    expect(board.get_by_text("Sheet of 297 × 210 mm")).to_be_attached()
    page.keyboard.press("r")
    expect(board.get_by_text("Sheet of 210 × 297 mm")).to_be_attached()
    page.get_by_label("Near upright").fill("60")
    expect(page.get_by_role("list", name="Lay-in")).to_contain_text("the unit, 60 mm")
    box = page.get_by_role("button", name="The drawing’s place on the sheet")
    first = page.get_by_role("list", name="Lay-in").locator("li").first
    before = first.text_content() or ""
    box.focus()
    page.keyboard.press("Shift+ArrowUp")
    expect(first).not_to_have_text(before)
    saved(page)
    page.reload()
    expect(page.get_by_label("Near upright")).to_have_value("60")
    page.get_by_label("Near upright").fill("260")
    expect(page.get_by_role("alert").filter(has_text="leaves the sheet")).to_be_visible()
    page.get_by_role("button", name="As large as fits").click()
    expect(page.get_by_role("alert")).to_have_count(0)
    assert not card.faults


def test_the_drawing_follows_the_hand_over_the_sheet(card: Easel) -> None:
    page = card.page
    open_card(card, FISH)
    page.keyboard.press("b")
    page.get_by_label("Near upright").fill("50")
    steps = page.get_by_role("list", name="Lay-in")
    expect(steps).to_contain_text("the unit, 50 mm")
    box = page.get_by_role("button", name="The drawing’s place on the sheet")
    before, limits = box.bounding_box(), steps.locator("li").first
    said = limits.text_content() or ""
    assert before is not None
    middle = before["x"] + before["width"] / 2, before["y"] + before["height"] / 2
    card.drag(middle, (middle[0] - 60, middle[1] + 20))
    expect(limits).not_to_have_text(said)
    saved(page)
    # the page may still be at drawing the last of the drag's moves when the first of them is told
    page.wait_for_function(
        "([box, x]) => box.getBoundingClientRect().x < x", arg=[box.element_handle(), before["x"] - 50]
    )
    after = box.bounding_box()
    assert after is not None
    assert (after["x"] - before["x"], after["y"] - before["y"]) == (pytest.approx(-60, abs=3), pytest.approx(20, abs=3))
    page.get_by_role("button", name="Undo").click()
    expect(limits).to_have_text(said)


def test_a_typed_size_in_inches_is_taken_in_millimetres(card: Easel) -> None:
    page = card.page
    open_card(card, FISH)
    page.keyboard.press("b")
    page.get_by_label("Paper", exact=True).select_option("typed")
    page.get_by_label("Unit of the paper’s size").select_option("in")
    page.get_by_label("Width of the paper").fill("14")
    page.get_by_label("Height of the paper").fill("11")
    expect(page.get_by_test_id("board").get_by_text("Sheet of 355.6 × 279.4 mm")).to_be_attached()


def test_the_lay_in_is_gone_through_step_by_step_and_printed(card: Easel, tmp_path: Path) -> None:
    page = card.page
    card.open_demo("Crates on the slipway")
    expect(page.get_by_role("link", name="Plan", exact=True)).to_be_visible()
    page.keyboard.press("b")
    expect(page.get_by_test_id("board")).to_be_visible()
    page.keyboard.press("]")
    expect(page.locator("[aria-current=step]")).to_contain_text("Mark the four limits")
    page.get_by_role("button", name="Next step").click()
    expect(page.locator("[aria-current=step]")).to_contain_text("Anchor line")
    page.keyboard.press("Escape")
    expect(page.locator("[aria-current=step]")).to_have_count(0)
    page.get_by_text("Tilt table", exact=True).click()
    expect(page.get_by_role("table").first).to_contain_text("units from eye level")
    page.get_by_role("button", name="Print").click()
    with page.expect_download() as loading:
        page.get_by_role("menuitem", name="Over A4 pages (PDF)").click()
    loading.value.save_as(tmp_path / "plan.pdf")
    assert "100 mm" in pypdf.PdfReader(tmp_path / "plan.pdf").pages[0].extract_text()
    page.keyboard.press("b")
    expect(page).to_have_url(re.compile("/paper/"))


def test_a_card_without_eye_level_has_no_plan_yet_and_says_why(card: Easel) -> None:
    page = card.page
    begin(card)
    page.keyboard.press("b")
    expect(page.get_by_text("read the top and the bottom edge of one side at least")).to_be_visible()
    page.get_by_role("link", name="To the card").click()
    expect(page.get_by_test_id("schematic")).to_be_visible()


def test_card_and_plan_pass_axe(page: Page, served: Served) -> None:
    easel = Easel(page, served.url)
    open_card(easel, PUMP)
    page.locator("[data-reading=rt]").get_by_role("button", name="Select").click()
    assert faults(page) == []
    page.get_by_role("button", name="Read eaves, right again").click()
    page.get_by_role("button", name="Gauge", exact=True).click()
    expect(page.get_by_text("Simulated gauge.")).to_be_visible()
    assert faults(page) == []
    page.keyboard.press("Escape")
    page.keyboard.press("b")
    expect(page.get_by_test_id("board")).to_be_visible()
    page.get_by_text("Tilt table", exact=True).click()
    page.keyboard.press("f")
    page.keyboard.press("]")
    assert faults(page) == []
