"""For everybody: axe on each screen in both themes, touch, tablet size, the first walk."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from aspectum.demo.fill import truth
from tests.browser.stage import DEMO_SHEETS, Easel
from tests.conftest import Served

AXE = Path(__file__).parents[2] / "frontend/node_modules/axe-core/axe.min.js"


IN_BOTH_THEMES = """async () => {
    const ends = (moving) => Number.isFinite(moving.effect.getComputedTiming().endTime);
    const found = (await axe.run(document, {resultTypes: ['violations']})).violations;
    const root = document.documentElement, theme = root.dataset.theme;
    root.dataset.theme = theme === 'evening-class' ? 'drawing-room' : 'evening-class';
    // colours that are still on their way would be read half-way
    await new Promise(requestAnimationFrame);
    for (const moving of document.getAnimations().filter(ends)) moving.finish();
    // what else axe looks for does not hang on colours
    found.push(...(await axe.run(document, {resultTypes: ['violations'], runOnly: ['color-contrast']})).violations);
    root.dataset.theme = theme;
    await new Promise(requestAnimationFrame);
    for (const moving of document.getAnimations().filter(ends)) moving.finish();
    return found;
}"""


def faults(page: Page) -> list[str]:
    """What axe finds on a screen, its contrast in both themes."""
    page.evaluate(AXE.read_text())
    found = page.evaluate(IN_BOTH_THEMES)
    return [
        f"{v['id']}: {node['html'][:120]} {node.get('failureSummary', '')[:200]}" for v in found for node in v["nodes"]
    ]


def test_every_screen_passes_axe(page: Page, served: Served) -> None:
    easel = Easel(page, served.url)
    easel.home()
    expect(page.locator("[data-sheet]")).to_have_count(DEMO_SHEETS)
    assert faults(page) == []
    easel.open_demo("Crates on the slipway")
    easel.slip("middle crate, top right").get_by_role("button").first.click()
    assert faults(page) == []
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Add an edge").click()
    page.mouse.click(*easel.on_screen([600, 600]))
    expect(page.get_by_role("slider", name="Needle")).to_be_visible()
    assert faults(page) == []
    page.keyboard.press("Escape")
    page.keyboard.press("e")
    expect(page.get_by_label("Eye level at the left")).to_be_visible()
    page.keyboard.press("?")
    assert faults(page) == []
    easel.open_demo("Paint tins on the steps")
    easel.slip("red tin, base").get_by_role("button").first.click()
    page.keyboard.press("o")
    expect(page.get_by_test_id("rims-due")).to_be_visible()
    assert faults(page) == []
    page.keyboard.press("Escape")
    page.keyboard.press("c")
    page.mouse.click(*easel.on_screen([600, 600]))
    expect(page.get_by_role("slider", name="Rim")).to_be_visible()
    assert faults(page) == []


def test_first_visit_is_walked_round_once_and_can_be_skipped(page: Page, served: Served) -> None:
    page.add_init_script("sessionStorage.fresh = 'yes'")
    easel = Easel(page, served.url)
    easel.open_demo("Crates on the slipway")
    card = page.get_by_role("dialog", name="Show me round")
    for title in ("The picture", "The slips", "The level rail", "The long table"):
        expect(card.get_by_role("heading", name=title)).to_be_visible()
        card.get_by_role("button", name="Next" if title != "The long table" else "Begin").click()
    expect(card).to_have_count(0)
    page.reload()
    expect(easel.slips.first).to_be_visible()
    expect(card).to_have_count(0)
    easel.menu("Show me round").click()
    card.get_by_role("button", name="Skip").click()
    expect(card).to_have_count(0)


def test_a_finger_on_a_tablet_lays_an_edge_by_two_taps_and_a_rim_by_three(browser: Browser, served: Served) -> None:
    context = browser.new_context(viewport={"width": 820, "height": 1180}, has_touch=True)
    easel = Easel(context.new_page(), served.url)
    easel.open_demo("Crates on the slipway")
    page = easel.page
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    before = easel.slips.count()
    easel.judge_first(False)
    page.get_by_role("button", name="Add an edge").tap()
    edge = next(e for e in truth("crates")["edges"] if e["id"] == "low-upright-near")
    for end in ("p", "q"):
        page.touchscreen.tap(*easel.on_screen(edge[end]))
    expect(easel.slips).to_have_count(before + 1)
    expect(page.get_by_label("Family")).to_have_value("upright")
    page.get_by_role("button", name="Add a rim").tap()
    for at in ([820, 640], [900, 640], [860, 652]):
        page.touchscreen.tap(*easel.on_screen(at))
    expect(easel.slips).to_have_count(before + 2)
    expect(page.get_by_label("Plane")).to_have_value("level")
    easel.saved()
    context.close()


def test_zoom_keeps_the_laid_lines_on_the_picture(page: Page, served: Served) -> None:
    easel = Easel(page, served.url)
    easel.open_demo("Crates on the slipway")
    edge = next(e for e in truth("crates")["edges"] if e["id"] == "crate-upright-near")
    page.mouse.move(*easel.on_screen(edge["p"]))
    page.mouse.wheel(0, -400)
    line = page.locator("[data-edge=crate-upright-near] .edge-chalk")
    box = page.locator("[data-testid=stage] > image").bounding_box()
    assert box is not None and box["width"] > 1000
    stage = easel.stage.bounding_box()
    assert stage is not None
    x = float(line.get_attribute("x1") or 0) + stage["x"]
    assert x == pytest.approx(easel.on_screen(edge["p"])[0], abs=6)
    easel.stage.focus()
    page.keyboard.press("0")
    page.wait_for_function("document.querySelector('[data-testid=stage] > image').getBoundingClientRect().width < 1000")


def test_a_long_title_makes_room_for_what_stands_beside_it(page: Page, served: Served) -> None:
    page.set_viewport_size({"width": 820, "height": 1180})
    easel = Easel(page, served.url)
    easel.open_demo("The net loft")
    easel.title.click()
    field = page.get_by_role("textbox", name="Title of the sheet")
    field.fill("The net loft on the sloping quay behind the harbour, second evening, sighted again from the start")
    field.press("Enter")
    easel.saved()
    title, beside = easel.title.bounding_box(), page.get_by_test_id("save-state").bounding_box()
    assert title is not None and beside is not None and title["x"] + title["width"] <= beside["x"] + 1
