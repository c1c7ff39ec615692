"""The sighting screen, driven in Chromium on the demo photos."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from aspectum.demo.fill import PHOTOS, truth
from tests.browser.stage import DEMO_SHEETS, Easel
from tests.conftest import Served


@pytest.fixture
def easel(page: Page, served: Served) -> Easel:
    page.set_viewport_size({"width": 1280, "height": 800})
    return Easel(page, served.url)


CRATES = [
    "crate-upright-near",
    "crate-left-top-near",
    "crate-left-bottom-near",
    "crate-right-top-near",
    "crate-right-bottom-near",
    "crate-upright-left",
    "crate-upright-right",
]


def known(name: str, ids: list[str]) -> list[dict[str, object]]:
    edges = {e["id"]: e for e in truth(name)["edges"]}
    return [edges[i] for i in ids]


def test_where_an_edge_runs_stands_on_the_stage_and_is_put_right_there(easel: Easel) -> None:
    page = easel.page
    easel.open_demo("Crates on the slipway")
    easel.judge_first(False)
    page.keyboard.press("a")
    easel.drag(easel.on_screen([880, 700]), easel.on_screen([1010, 660]))
    bar = page.get_by_role("group", name=re.compile("Where .* runs"))
    expect(bar).to_contain_text("it seems")
    expect(bar.locator("[aria-pressed=true]")).to_have_count(1)
    page.keyboard.press("Escape")
    bar.get_by_role("button", name="across").click()
    expect(bar.get_by_role("button", name="across")).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_label("Family")).to_have_value("across")
    page.keyboard.press("l")
    expect(bar.get_by_role("button", name="back left")).to_have_attribute("aria-pressed", "true")
    # while the eye judges, nothing of what stands says how it runs
    easel.judge_first(True)
    page.keyboard.press("a")
    expect(bar).to_have_count(0)


def test_edges_laid_by_hand_on_ones_own_photo_give_eye_level_within_its_error(easel: Easel) -> None:
    easel.open_own(str(PHOTOS / "crates.jpg"))
    easel.judge_first(False)
    for edge in known("crates", CRATES):
        easel.lay(edge)
    expect(easel.page.get_by_text("from the edges")).to_be_visible()
    easel.saved()
    height, sd = easel.eye_level()
    level = truth("crates")["eye_level"]
    assert abs(height - (level["left_y_px"] + level["right_y_px"]) / 2) <= 2 * sd
    assert sd < 25
    assert easel.slips.count() == len(CRATES)
    assert "off" not in easel.page.get_by_test_id("slips").inner_text().split()
    # closed and opened again, all of it is there
    easel.page.reload()
    expect(easel.slips).to_have_count(len(CRATES))
    assert easel.eye_level()[0] == pytest.approx(height, abs=0.01)
    assert not easel.faults


def test_the_tower_seen_from_below_gives_its_eye_level_and_upright_point(easel: Easel) -> None:
    easel.open_own(str(PHOTOS / "tower.jpg"))
    easel.judge_first(False)
    ids = [
        "upper-upright-near",
        "shaft-upright-near",
        "shaft-upright-left",
        "band-left-top-near",
        "band-right-top-near",
    ]
    ids += ["plinth-left-top-near", "plinth-right-top-near", "gallery-left-bottom-near", "gallery-right-bottom-near"]
    for edge in known("tower", ids):
        easel.lay(edge, 960)
    easel.saved()
    expect(easel.page.get_by_text("looking up")).to_be_visible()
    height, sd = easel.eye_level()
    level = truth("tower")["eye_level"]
    assert abs(height - (level["left_y_px"] + level["right_y_px"]) / 2) <= 2 * sd
    assert not easel.faults


def test_judge_then_sight_then_check(easel: Easel) -> None:
    easel.open_demo("Crates on the slipway")
    before = easel.slips.count()
    page = easel.page
    edge = known("crates", ["low-left-top-near"])[0]
    page.get_by_role("button", name="Add an edge").click()
    page.mouse.click(*easel.on_screen([900, 700]))
    needle = page.get_by_role("slider", name="Needle")
    expect(needle).to_be_focused()
    # nothing measured shows before the judgement: the needle starts level, whatever the edge
    assert needle.get_attribute("aria-valuenow") == "0"
    assert page.get_by_test_id("answer").count() == 0 and page.get_by_test_id("laying").count() == 0
    for _ in range(4):
        page.keyboard.press("ArrowUp")
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Judged −16.0°.")).to_be_visible()
    easel.drag(easel.on_screen(edge["p"]), easel.on_screen(edge["q"]))  # type: ignore[arg-type]
    expect(easel.slips).to_have_count(before + 1)
    slip = easel.chosen
    expect(slip).to_contain_text("−16.0°")
    expect(slip).to_contain_text("too steep")
    easel.saved()


def test_nothing_gives_the_answer_away_while_a_judgement_is_made(easel: Easel) -> None:
    easel.open_demo("Crates on the slipway")
    page = easel.page
    points = page.locator(".table-point")
    expect(points.first).to_be_visible()
    expect(page.get_by_test_id("slips")).to_contain_text("too")
    page.get_by_role("button", name="Add an edge").click()
    page.mouse.click(*easel.on_screen([900, 700]))
    expect(points).to_have_count(0)
    expect(page.locator(".verdict")).to_have_count(0)
    expect(page.get_by_test_id("judgements")).to_have_count(0)
    page.get_by_role("button", name="Commit").focus()
    page.keyboard.press("]")
    expect(page.locator(".slip-chosen")).to_have_count(0)
    expect(page.locator(".tag")).to_have_count(0)
    page.keyboard.press("Escape")
    expect(points.first).to_be_visible()
    expect(page.get_by_test_id("judgements")).to_contain_text("steep edges judged")


def test_a_probe_is_held_over_the_picture_by_key_or_by_a_long_press(easel: Easel) -> None:
    easel.open_demo("Crates on the slipway")
    page, probe = easel.page, easel.page.get_by_test_id("probe")
    page.mouse.move(*easel.on_screen([905, 722]))
    page.keyboard.down("t")
    expect(probe).to_contain_text("Big crate")
    expect(probe).to_contain_text("a level rim")
    low = probe.inner_text()
    page.mouse.move(*easel.on_screen([905, 360]))
    expect(probe).not_to_have_text(low)
    page.keyboard.up("t")
    expect(probe).to_have_count(0)
    x, y = easel.on_screen([300, 300])
    page.mouse.move(x, y)
    page.mouse.down()
    expect(probe).to_be_visible()
    page.mouse.move(x + 30, y + 30, steps=3)
    expect(probe).to_be_visible()
    page.mouse.up()
    expect(probe).to_have_count(0)
    # a judgement that is under way gets no help
    page.keyboard.press("a")
    page.keyboard.down("t")
    page.wait_for_timeout(300)
    expect(probe).to_have_count(0)
    page.keyboard.up("t")


def test_a_fan_is_drawn_between_two_edges_of_a_family(easel: Easel) -> None:
    easel.open_demo("Crates on the slipway")
    slip = easel.slip("crate, top left")
    slip.get_by_role("button").first.click()
    slip.get_by_label("Lines between").fill("3")
    slip.get_by_role("button", name="Fan").click()
    lines = easel.page.get_by_test_id("fan").locator(".fan-line")
    expect(lines).to_have_count(3)
    expect(easel.page.get_by_test_id("fan-words")).to_contain_text("along the upright family")
    slip.get_by_label("Lines between").fill("6")
    expect(lines).to_have_count(6)
    easel.stage.focus()
    easel.page.keyboard.press("a")
    expect(lines).to_have_count(0)


def test_a_yard_seen_straight_up_has_no_eye_level_but_a_zenith(easel: Easel) -> None:
    easel.open_demo("The yard of the lofts, straight up")
    page = easel.page
    expect(page.get_by_test_id("eye-level")).to_have_text("not in the picture")
    expect(page.get_by_test_id("uprights-meet")).to_contain_text("zenith")
    expect(easel.slip("boat store, eaves, bottom right")).to_contain_text("keep the directions of the plan")
    page.keyboard.press("e")
    expect(page.get_by_label("Eye level at the left")).to_have_count(0)
    page.get_by_label("Perspective").select_option("Straight down")
    expect(page.get_by_test_id("uprights-meet")).to_contain_text("nadir")
    page.get_by_label("Perspective").select_option("Three-point")
    expect(page.get_by_test_id("uprights-meet")).to_have_count(0)
    expect(page.get_by_test_id("eye-level")).not_to_have_text("not in the picture")


def test_a_tolerance_is_chosen_on_the_screen_and_kept_with_the_sheet(easel: Easel) -> None:
    easel.open_demo("Crates on the slipway")
    page = easel.page
    slip = easel.slip("big crate, top right")
    expect(slip).to_contain_text("holds")
    page.get_by_role("button", name="Sheet", exact=True).click()
    page.get_by_role("menuitem", name="Tolerance").click()
    page.get_by_label("Own numbers").check()
    page.get_by_role("spinbutton", name="Tilts to").fill("0.5")
    page.get_by_role("button", name="Close").click()
    expect(slip).to_contain_text("unsure")
    easel.saved()
    page.reload()
    expect(easel.slip("big crate, top right")).to_contain_text("unsure")


def test_tags_never_cover_one_another(easel: Easel) -> None:
    for title in ("Crates on the slipway", "Paint tins on the steps", "Signal tower from below"):
        easel.open_demo(title)
        tags = easel.page.locator(".tag rect")
        expect(tags.first).to_be_visible()
        boxes = [box for box in (tags.nth(k).bounding_box() for k in range(tags.count())) if box]
        for k, a in enumerate(boxes):
            for b in boxes[:k]:
                apart = (
                    abs(a["x"] - b["x"]) >= min(a["width"], b["width"]) - 1 or abs(a["y"] - b["y"]) >= a["height"] - 1
                )
                assert apart, (title, a, b)


def test_with_judging_off_edges_are_laid_one_after_another_until_escape(easel: Easel) -> None:
    easel.open_own(str(PHOTOS / "crates.jpg"))
    easel.judge_first(False)
    page = easel.page
    page.get_by_role("button", name="Add an edge").click()
    for n, edge in enumerate(known("crates", CRATES[:3])):
        easel.drag(easel.on_screen(edge["p"]), easel.on_screen(edge["q"]))  # type: ignore[arg-type]
        expect(easel.slips).to_have_count(n + 1)
    page.keyboard.press("Escape")
    expect(page.get_by_text("Lay the edge")).to_have_count(0)
    # a judgement made on paper is typed in later
    easel.chosen.get_by_role("spinbutton", name="judged").fill("12")
    page.keyboard.press("Enter")
    expect(easel.chosen).to_contain_text("12.0°")
    easel.saved()


def test_choosing_a_slip_lights_its_line_and_shows_where_it_should_run(easel: Easel) -> None:
    easel.open_demo("Crates on the slipway")
    slip = easel.slip("middle crate, top right")
    expect(slip).to_contain_text("off")
    slip.get_by_role("button").first.click()
    expect(slip).to_contain_text("too steep")
    expect(easel.page.get_by_test_id("answer")).to_be_visible()
    expect(easel.page.locator(".edge-chosen")).to_have_count(1)
    expect(easel.page.locator(".table-lit")).to_have_count(1)
    expect(easel.page.locator(".rail-lit")).to_have_count(1)


def test_dragging_an_end_answers_while_it_moves_and_undo_brings_it_back(easel: Easel) -> None:
    easel.open_demo("Crates on the slipway")
    page = easel.page
    slip = easel.slip("big crate, top right")
    slip.get_by_role("button").first.click()
    expect(slip).to_contain_text("holds")
    handle = page.get_by_label("Second end of big crate, top right")
    box = handle.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 4, y + 40, steps=6)
    expect(page.get_by_test_id("loupe")).to_be_visible()
    expect(slip).to_contain_text("off")  # answered before letting go
    page.mouse.up()
    easel.saved()
    page.keyboard.press("Control+z")
    expect(slip).to_contain_text("holds")
    page.keyboard.press("Control+Shift+z")
    expect(slip).to_contain_text("off")
    page.keyboard.press("Control+z")
    easel.saved()
    page.reload()
    expect(easel.slip("big crate, top right")).to_contain_text("holds")


def test_family_order_name_delete(easel: Easel) -> None:
    easel.open_demo("Crates on the slipway")
    page = easel.page
    count = easel.slips.count()
    first = easel.slips.first
    first.get_by_role("button").first.click()
    first.get_by_role("button", name="Name:").click()
    name = first.get_by_role("textbox", name="Name")
    name.fill("The corner nearest to me")
    name.press("Enter")
    page.keyboard.press("Alt+ArrowDown")
    expect(easel.slips.nth(1)).to_contain_text("The corner nearest to me")
    page.keyboard.press("l")
    expect(easel.slips.nth(1).get_by_label("Family")).to_have_value("left")
    page.keyboard.press("u")
    page.keyboard.press("Delete")
    expect(easel.slips).to_have_count(count - 1)
    page.keyboard.press("Control+z")
    expect(easel.slips).to_have_count(count)
    easel.saved()


def test_eye_level_set_by_hand_is_compared_with_the_found_one(easel: Easel) -> None:
    easel.open_demo("Along the fish market")
    page = easel.page
    page.get_by_role("button", name="Set by hand").click()
    expect(page.get_by_text("set by hand", exact=True)).to_be_visible()
    for side in ("left", "right"):
        page.get_by_label(f"Eye level at the {side}").focus()
        page.keyboard.press("Shift+ArrowUp")
        page.keyboard.press("Shift+ArrowUp")
    expect(
        page.get_by_text(
            re.compile(
                r"Eye level is set [\d.]+ (near uprights|% of the picture's height) above where the edges put it"
            )
        )
    ).to_be_visible()
    page.get_by_role("button", name="Find it instead").click()
    expect(page.get_by_text("from the edges")).to_be_visible()


def test_sheets_are_exported_and_imported(easel: Easel, tmp_path: Path) -> None:
    easel.open_demo("The net loft")
    page = easel.page
    count = easel.slips.count()
    entry = easel.menu("Sighting sheet")
    with page.expect_download() as download:
        entry.click()
    path = tmp_path / "loft.sighting.json"
    download.value.save_as(path)
    sheet = json.loads(path.read_text())
    assert len(sheet["sightings"]) == count
    sheet["sightings"] = sheet["sightings"][:5]
    path.write_text(json.dumps(sheet))
    page.get_by_label("Sighting sheet to import").set_input_files(str(path))
    expect(easel.slips).to_have_count(5)
    page.keyboard.press("Control+z")
    expect(easel.slips).to_have_count(count)
    path.write_text('{"format": "aspectum-sighting-sheet", "version": 1, "picture": {"width_px": 5}}')
    page.get_by_label("Sighting sheet to import").set_input_files(str(path))
    expect(page.get_by_role("alert")).to_contain_text("picture.height_px: missing")
    expect(easel.slips).to_have_count(count)
    easel.saved()


def test_keyboard_alone_judges_lays_and_nudges_an_edge(easel: Easel) -> None:
    easel.open_demo("Crates on the slipway")
    page = easel.page
    before = easel.slips.count()
    page.keyboard.press("a")
    expect(easel.stage).to_be_focused()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")  # pick
    expect(page.get_by_role("slider", name="Needle")).to_be_focused()
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Enter")  # commit
    expect(easel.stage).to_be_focused()
    page.keyboard.press("Enter")  # first end
    for _ in range(6):
        page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Enter")  # second end
    expect(easel.slips).to_have_count(before + 1)
    expect(easel.chosen).to_contain_text("1.0°")
    page.keyboard.press("r")
    handle = page.get_by_label("First end of")
    handle.focus()
    page.keyboard.press("Shift+ArrowDown")
    expect(easel.chosen).not_to_contain_text("sighted2.")
    easel.saved()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog", name="Keys")).to_have_count(0)


def test_keys_are_not_stolen_from_text_fields(easel: Easel) -> None:
    easel.open_demo("Crates on the slipway")
    count = easel.slips.count()
    easel.title.click()
    title = easel.page.get_by_role("textbox", name="Title of the sheet")
    title.fill("")
    title.press_sequentially("a laden slipway? e")
    expect(title).to_have_value("a laden slipway? e")
    title.press("Enter")
    expect(easel.slips).to_have_count(count)
    easel.saved()
    easel.home()
    expect(easel.page.get_by_role("link", name="Open a laden slipway? e")).to_be_visible()


def test_the_bar_leads_about_and_an_address_that_leads_nowhere_says_so(easel: Easel) -> None:
    easel.page.goto(f"{easel.base}/nowhere/at-all")
    expect(easel.page.get_by_role("heading", name="There is nothing at this address")).to_be_visible()
    places = easel.page.get_by_role("navigation", name="Places")
    places.get_by_role("link", name="Sheets").click()
    expect(easel.page.locator("[data-sheet]")).to_have_count(DEMO_SHEETS)
    expect(places.get_by_role("link", name="Sheets")).to_have_attribute("aria-current", "page")
    easel.open_demo("The net loft")
    expect(places.get_by_role("link", name="Sheets")).to_have_attribute("aria-current", "true")


def test_the_menu_is_worked_by_keys(easel: Easel) -> None:
    easel.open_demo("The net loft")
    page = easel.page
    page.get_by_role("button", name="Sheet", exact=True).focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("menu")).to_be_visible()
    page.keyboard.type("camera")
    level = page.get_by_role("menuitemcheckbox", name="Camera held level")
    expect(level).to_have_attribute("aria-checked", "false")
    page.keyboard.press("Enter")
    easel.saved()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Sheet", exact=True).click()
    expect(level).to_have_attribute("aria-checked", "true")


def test_a_screen_that_cannot_be_loaded_says_that_the_work_is_kept(easel: Easel) -> None:
    easel.home()
    easel.page.route("**/assets/SheetPage*.js", lambda route: route.abort())
    easel.page.get_by_role("link", name="Open The net loft", exact=True).click()
    expect(easel.page.get_by_role("heading", name="This screen met an error")).to_be_visible()
    expect(easel.page.get_by_text("Your work is kept")).to_be_visible()
    easel.page.unroute("**/assets/SheetPage*.js")
    easel.page.get_by_role("button", name="Load again").click()
    expect(easel.stage).to_be_visible()


def test_the_screens_speak_the_language_that_the_browser_asks_for(browser: Browser, served: Served) -> None:
    """In the marked language of tests: every button that says something says it from the catalogue."""
    context = browser.new_context(locale="en-XA")
    page = context.new_page()
    page.goto(f"{served.url}/sheets")
    expect(page.get_by_role("button", name="⟦Öpéñ à phötö⟧")).to_be_visible()
    expect(page.locator("html")).to_have_attribute("lang", "en-XA")
    page.get_by_role("link", name="⟦Öpéñ Crates on the slipway⟧").click()
    expect(page.get_by_test_id("slips")).to_be_visible()
    said = [
        text.strip()
        for text in page.locator("button, summary, label").all_inner_texts()
        if re.search("[A-Za-z]{3}", text)
    ]
    of_the_sheet = re.compile("crate|door", re.IGNORECASE)
    assert len(said) > 8 and not [text for text in said if "⟦" not in text and not of_the_sheet.search(text)]
    context.close()
