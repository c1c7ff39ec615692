"""Round things on the sighting screen, driven in Chromium on the demo photos."""

from __future__ import annotations

import re
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from aspectum.demo.fill import PHOTOS, truth
from tests.browser.stage import Easel
from tests.conftest import Served


@pytest.fixture
def easel(page: Page, served: Served) -> Easel:
    page.set_viewport_size({"width": 1280, "height": 800})
    return Easel(page, served.url)


def known(name: str) -> dict[str, dict[str, Any]]:
    return {r["id"]: r for r in truth(name)["rims"]}


def true_level(name: str) -> float:
    level = truth(name)["eye_level"]
    return float(level["left_y_px"] + level["right_y_px"]) / 2


def report_of(easel: Easel) -> dict[str, Any]:
    sheet_id = easel.page.url.rsplit("/", 1)[-1]
    found: dict[str, Any] = easel.page.request.get(f"{easel.base}/api/sheets/{sheet_id}").json()["report"]
    return found


def test_rims_alone_give_eye_level_within_its_error(easel: Easel) -> None:
    """Jars on two shelves, above and below eye level, with no edge sighted."""
    easel.open_own(str(PHOTOS / "lamps.jpg"))
    easel.judge_first(False)
    rims = known("lamps")
    for id in ("jar-a-mouth", "jar-b-mouth", "jar-b-base", "jar-c-base"):
        if id in ("jar-b-mouth", "jar-c-base"):
            easel.new_form()
        easel.lay_rim(rims[id], arc=5)
    expect(easel.page.get_by_text("from the rims")).to_be_visible()
    easel.saved()
    height, sd = easel.eye_level()
    assert abs(height - true_level("lamps")) <= 2 * sd
    assert sd < 40
    findings = {f["sighting"]: f for f in report_of(easel)["findings"]}
    for finding, id in zip(findings.values(), ("jar-a-mouth", "jar-b-mouth", "jar-b-base", "jar-c-base"), strict=True):
        assert abs(finding["sighted"] - rims[id]["degree_deg"]) <= 2.5 * finding["sighted_sd"]
        assert (
            finding["implied"] is None
            or abs(finding["implied"] - rims[id]["degree_deg"]) <= 3 * finding["implied_sd"] + 0.3
        )
        assert finding["verdict"] != "off"
    easel.page.reload()
    expect(easel.slips).to_have_count(4)
    assert easel.eye_level()[0] == pytest.approx(height, abs=0.01)
    assert not easel.faults


def test_lying_drums_find_their_axle_and_eye_level_with_the_edges(easel: Easel) -> None:
    easel.open_own(str(PHOTOS / "drums.jpg"))
    easel.judge_first(False)
    rims, edges = known("drums"), {e["id"]: e for e in truth("drums")["edges"]}
    for id in ("box-left-top-near", "box-left-bottom-near", "box-right-top-near", "box-right-bottom-near"):
        easel.lay(edges[id])
    easel.new_form()
    for id in ("big-near", "big-far"):
        easel.lay_rim(rims[id], arc=6)
    easel.saved()
    report = report_of(easel)
    assert report["eye_level"]["source"] == "edges and rims"
    level = (report["eye_level"]["left_y_px"] + report["eye_level"]["right_y_px"]) / 2
    assert abs(level - true_level("drums")) <= 2.2 * report["eye_level"]["sd_px"]
    near, far = report["findings"][-2:]
    assert far["sighted"] > near["sighted"] and not {near["verdict"], far["verdict"]} & {"off"}
    point = next(v for v in report["vanishing_points"] if v["family"] == "right" and v["form"] == "form-2")
    true = next(f for f in truth("drums")["forms"] if f["id"] == "big")["vanishing_points"]["right"]
    assert abs(point["x_px"] - true["x_px"]) <= 3 * point["sd_px"]
    assert not easel.faults


def test_the_wheel_on_its_wall_agrees_with_the_photos_truth(easel: Easel) -> None:
    easel.open_own(str(PHOTOS / "wheel.jpg"))
    easel.judge_first(False)
    rims, edges = known("wheel"), {e["id"]: e for e in truth("wheel")["edges"]}
    for id in ("house-upright-near", "house-right-under", "house-right-plinth", "house-left-plinth", "house-left-foot"):
        easel.lay(edges[id])
    easel.lay_rim(rims["wheel-front"], arc=4)  # on the wall's own form, whose families give its square
    easel.saved()
    report = report_of(easel)
    wheel = report["findings"][-1]
    assert abs(wheel["implied"] - rims["wheel-front"]["degree_deg"]) <= 3 * wheel["implied_sd"]
    assert wheel["verdict"] == "holds" and len(wheel["rim"]["square_px"]) == 4
    assert not easel.faults


def test_a_rim_is_judged_by_a_free_ellipse_before_it_is_measured(easel: Easel) -> None:
    easel.open_demo("Paint tins on the steps")
    page, before = easel.page, easel.slips.count()
    page.get_by_role("button", name="Add a rim").click()
    page.mouse.click(*easel.on_screen([500, 700]))
    dial = page.get_by_role("slider", name="Rim")
    expect(dial).to_be_focused()
    # it begins as a line, and nothing measured shows: neither an answer nor the rail's rims
    assert dial.get_attribute("aria-valuenow") == "0"
    assert page.get_by_test_id("answer").count() == 0 and page.locator(".rail-rim").count() == 0
    page.keyboard.press("Shift+ArrowUp")
    page.keyboard.press("Shift+ArrowUp")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Judged 22.0°.")).to_be_visible()
    rim = known("tins")["white-base"]
    (cx, cy), half = rim["ellipse_px"], rim["major_px"] / 2
    easel.drag(easel.on_screen([cx - half, cy]), easel.on_screen([cx + half, cy]))
    page.mouse.move(*easel.on_screen([cx, cy + rim["minor_px"] / 2]))
    expect(page.get_by_test_id("opening")).to_be_visible()
    easel.press(easel.on_screen([cx, cy + rim["minor_px"] / 2]))
    expect(easel.slips).to_have_count(before + 1)
    expect(easel.chosen).to_contain_text("22.0°")
    expect(easel.chosen).to_contain_text("too round")
    expect(page.locator(".rail-rim").first).to_be_visible()
    easel.saved()


def test_all_rims_a_form_should_have_are_shown_by_one_key(easel: Easel) -> None:
    easel.open_demo("Paint tins on the steps")
    page = easel.page
    slip = easel.slip("red tin, base")
    slip.get_by_role("button").first.click()
    expect(slip).to_contain_text("Flatter than “red tin, mouth”")
    expect(page.get_by_test_id("answer")).to_be_visible()
    page.keyboard.press("o")
    due = page.get_by_test_id("rims-due")
    # the two rims of this tin, and a rung at every mark of the rail
    expect(due.locator(".implied")).to_have_count(2)
    assert due.locator(".rim-rung").count() >= 6
    page.keyboard.press("Escape")
    expect(due.locator(".implied").nth(6)).to_be_attached()
    page.keyboard.press("o")
    expect(due).to_have_count(0)


def test_arc_points_are_added_moved_and_taken_back(easel: Easel) -> None:
    easel.open_demo("Paint tins on the steps")
    page = easel.page
    slip = easel.slip("white tin, mouth")
    slip.get_by_role("button").first.click()
    handles = page.locator("[data-handle^=at]")
    count = handles.count()
    page.keyboard.press("p")
    rim = known("tins")["white-mouth"]
    easel.press(easel.on_screen(rim["points"][60]))
    expect(handles).to_have_count(count + 1)
    page.keyboard.press("Backspace")
    expect(handles).to_have_count(count)
    page.keyboard.press("Escape")
    near = page.get_by_label("Near point of white tin, mouth")
    before = slip.inner_text()
    degree = before.split("sighted")[1][:6]
    near.focus()
    for _ in range(3):
        page.keyboard.press("Shift+ArrowDown")
    expect(slip).not_to_have_text(before)
    easel.saved()
    for _ in range(3):
        page.keyboard.press("Control+z")
    easel.saved()
    page.reload()
    expect(easel.slip("white tin, mouth")).to_contain_text(re.compile(r"sighted\s*" + re.escape(degree.strip())))


def test_dragging_the_near_point_answers_while_it_moves(easel: Easel) -> None:
    easel.open_demo("Paint tins on the steps")
    page = easel.page
    slip = easel.slip("green tin, mouth")
    slip.get_by_role("button").first.click()
    expect(slip).to_contain_text("holds")
    for key in ("end0", "end1"):
        expect(page.locator(f"[data-handle={key}]")).to_be_visible()
    handle = page.get_by_label("Near point of green tin, mouth")
    box = handle.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + 46, steps=6)
    expect(page.get_by_test_id("loupe")).to_be_visible()
    expect(slip.locator(".verdict")).not_to_contain_text("holds")
    page.mouse.up()
    easel.saved()


def test_the_plane_of_a_rim_is_changed_with_one_key_and_kept(easel: Easel) -> None:
    easel.open_demo("The pump-house wheel")
    page = easel.page
    easel.slip("pump wheel, pulley").get_by_role("button").first.click()
    plane = page.get_by_label("Plane")
    expect(plane).to_have_value("left")
    expect(page.locator(".rim-square")).to_have_count(1)
    page.keyboard.press("u")
    expect(plane).to_have_value("level")
    expect(page.locator(".rim-square")).to_have_count(0)
    page.keyboard.press("l")
    easel.saved()
    expect(plane).to_have_value("left")


def test_keyboard_alone_judges_and_lays_a_rim(easel: Easel) -> None:
    easel.open_demo("Paint tins on the steps")
    page, before = easel.page, easel.slips.count()
    page.keyboard.press("c")
    expect(easel.stage).to_be_focused()
    page.keyboard.press("Enter")  # pick at the middle
    expect(page.get_by_role("slider", name="Rim")).to_be_focused()
    page.keyboard.press("Shift+ArrowUp")
    page.keyboard.press("Enter")
    expect(easel.stage).to_be_focused()
    page.keyboard.press("Enter")  # one end
    for _ in range(5):
        page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Enter")  # the other
    for _ in range(3):
        page.keyboard.press("Shift+ArrowLeft")
    for _ in range(4):
        page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")  # the near point
    expect(easel.slips).to_have_count(before + 1)
    expect(easel.chosen).to_contain_text("10.0°")
    easel.saved()


def test_the_next_rim_belongs_to_the_form_in_hand(easel: Easel) -> None:
    easel.open_demo("Paint tins on the steps")
    easel.judge_first(False)
    page = easel.page
    easel.slip("white tin, mouth").get_by_role("button").first.click()
    expect(page.get_by_label("Form for what is added")).to_have_value("white")
    easel.lay_rim(known("tins")["white-base"], arc=4)
    easel.page.locator("[data-sighting=r1]").get_by_role("button").first.click()
    expect(easel.chosen.get_by_label("Form")).to_have_value("white")
    easel.saved()


def test_a_tutor_allows_the_lowest_rim_more(easel: Easel) -> None:
    easel.open_demo("Paint tins on the steps")
    page = easel.page
    easel.menu("Lowest rim may be rounder").click()
    page.get_by_label("Lowest rim may be rounder by").fill("8")
    page.keyboard.press("Escape")
    easel.saved()
    page.reload()
    easel.menu("Lowest rim may be rounder").click()
    expect(page.get_by_label("Lowest rim may be rounder by")).to_have_value("8")
