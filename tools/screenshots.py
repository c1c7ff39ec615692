"""Take the pictures in docs/screenshots/ from the demo data: ``.venv/bin/python tools/screenshots.py``."""

from __future__ import annotations

import re
import sys
import tempfile
from pathlib import Path

from playwright.sync_api import Browser, Page, expect, sync_playwright

ROOT = Path(__file__).parents[1]
sys.path.insert(0, str(ROOT))

from aspectum.demo.fill import fill  # noqa: E402
from aspectum.demo.school import fill_class  # noqa: E402
from tests.browser.stage import Easel  # noqa: E402
from tests.browser.test_card import FISH, PUMP, open_card  # noqa: E402
from tests.browser.test_paper import Paper  # noqa: E402
from tests.browser.test_practice import Desk  # noqa: E402
from tests.browser.test_stand import Room  # noqa: E402
from tests.conftest import Served  # noqa: E402

OUT = ROOT / "docs/screenshots"


def shoot(page: Page, name: str) -> None:
    page.wait_for_timeout(500)
    page.screenshot(path=OUT / f"{name}.png")


def easel_in(browser: Browser, served: Served, size: tuple[int, int] = (1280, 800), dark: bool = False) -> Easel:
    context = browser.new_context(
        viewport={"width": size[0], "height": size[1]}, color_scheme="dark" if dark else "light", locale="en-GB"
    )
    return Easel(context.new_page(), served.url)


def worksheets(tutor: Page, student: Page, address: str) -> None:
    """Three exercises chosen, and one that came back."""
    tutor.goto(f"{address}/worksheets")
    for name in ("Boxes in one-point", "The other rim", "Middle, thirds, next bay"):
        tutor.get_by_role("button", name=name).click()
    tutor.get_by_role("combobox", name="For").select_option(index=1)
    tutor.locator(".overflow-y-auto").evaluate("part => part.scrollTo(0, 0)")
    tutor.wait_for_load_state("networkidle")
    shoot(tutor, "worksheets")
    Paper(student, address).turn_to("Worksheet: The other rim")
    expect(student.get_by_text(re.compile("The lower rims of every round form")).first).to_be_visible()
    shoot(student, "worksheet-back-evening-class")


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as play:
        served = Served(Path(folder))
        fill(served.app.extensions["aspectum"])
        browser = play.chromium.launch(
            executable_path="/usr/bin/chromium-headless-shell", args=["--no-sandbox", "--disable-gpu"]
        )
        easel = easel_in(browser, served)
        easel.home()
        shoot(easel.page, "sheets")
        easel.open_demo("Crates on the slipway")
        easel.slip("middle crate, top right").get_by_role("button").first.click()
        shoot(easel.page, "sighting")
        easel.page.keyboard.press("Escape")
        easel.page.keyboard.press("a")
        easel.page.mouse.click(*easel.on_screen([905, 722]))
        for _ in range(3):
            easel.page.keyboard.press("ArrowDown")
        shoot(easel.page, "judging")
        tins = easel_in(browser, served)
        tins.open_demo("Paint tins on the steps")
        tins.slip("red tin, base").get_by_role("button").first.click()
        shoot(tins.page, "rims")
        loft = easel_in(browser, served, dark=True)
        loft.open_demo("Looked into: the net loft")
        loft.judge_first(False)
        loft.page.get_by_role("button", name="Accept all of Building").click()
        expect(loft.page.get_by_text("from the edges")).to_be_visible()
        shoot(loft.page, "found-evening-class")
        paper(browser, served)
        from_life(browser, served)
        stand(browser, served)
        practice(browser, served)
        served.stop()
        school(browser)
        browser.close()


def from_life(browser: Browser, served: Served) -> None:
    """A card with one reading to take again, the gauge on a tablet, and the plan of the fish boxes."""
    for name, title, size in (("card", PUMP, (1280, 800)), ("plan", FISH, (1280, 800))):
        easel = easel_in(browser, served, size=size)
        easel.page.add_init_script("localStorage.setItem('aspectum.cautions-seen', new Date().toDateString())")
        open_card(easel, title)
        page = easel.page
        if name == "card":
            page.locator("[data-reading=rt]").get_by_role("button", name="Select").click()
        else:
            page.keyboard.press("b")
            expect(page.get_by_test_id("board")).to_be_visible()
        shoot(page, name)


def school(browser: Browser) -> None:
    """The harbour class: board, a piece in the dark theme, a student's first page on a tablet, and the room with
    everybody's needles.
    """
    with tempfile.TemporaryDirectory() as folder:
        served = Served(Path(folder), one_click=True)
        fill(served.app.extensions["aspectum"])
        fill_class(served.app.extensions["aspectum"])

        def enter(name: str, size: tuple[int, int] = (1280, 800), dark: bool = False) -> Page:
            page = easel_in(browser, served, size, dark).page
            page.goto(served.url)
            page.get_by_role("button", name=name).click()
            expect(page).to_have_url(re.compile("/class"))
            return page

        tutor = enter("Maren")
        expect(tutor.get_by_role("table")).to_be_visible()
        shoot(tutor, "board")
        review = enter("Maren", dark=True)
        review.get_by_role("link", name="Ilse, A drawing").click()
        expect(review.get_by_role("heading", name="Causes", exact=True)).to_be_visible()
        shoot(review, "review-evening-class")
        shoot(enter("Ilse", size=(820, 1180)), "start-tablet")
        worksheets(enter("Maren"), enter("Ilse", dark=True), served.url)
        tutor.get_by_role("link", name="Ask the room").click()
        tutor.get_by_role("button", name="Two cubes").click()
        tutor.get_by_role(
            "button", name=re.compile("Right edges below eye level: Cube below, base right, near")
        ).click()
        for name, tilt in (
            ("Ilse", 12),
            ("Onno", 22),
            ("Fenja", 9),
            ("Hauke", 19),
            ("Sunna", 7),
            ("Tjark", 15),
            ("Wiebke", 4),
            ("Reemt", 27),
        ):
            device = enter(name, size=(390, 780))
            device.get_by_role("spinbutton").fill(str(tilt))
            device.keyboard.press("Enter")
            device.get_by_role("button", name="Commit").click()
            expect(device.get_by_text("Your answer is in.")).to_be_visible()
            device.context.close()
        tutor.get_by_role("button", name="Stop").click()
        tutor.get_by_role("button", name="The truth").click()
        expect(tutor.locator(".drill-truth")).to_have_count(1)
        shoot(tutor, "room")
        served.stop()


def stand(browser: Browser, served: Served) -> None:
    """The model stand: the net loft with its exact lines, a ferry's elevations on a tablet, and the steps of a cart's
    wheels.
    """
    loft = Room(easel_in(browser, served).page, served)
    loft.open("Net loft from plan and elevations")
    loft.choose("Net loft")
    loft.page.keyboard.press("h")
    shoot(loft.page, "stand")
    ferry = Room(easel_in(browser, served, size=(820, 1180)).page, served)
    ferry.open("A wooden toy ferry cut out of a block")
    ferry.choose("Hull")
    ferry.page.keyboard.press("e")
    expect(ferry.page.get_by_role("figure", name="Side")).to_be_visible()
    ferry.page.wait_for_timeout(600)
    shoot(ferry.page, "stand-elevations-tablet")
    cart = Room(easel_in(browser, served, dark=True).page, served)
    cart.open("Hand cart on two axles")
    cart.choose("Front axle")
    cart.page.keyboard.press("s")
    expect(cart.page.get_by_test_id("steps")).to_be_visible()
    for _ in range(5):
        cart.page.keyboard.press("]")
    shoot(cart.page, "stand-steps-evening-class")


def practice(browser: Browser, served: Served) -> None:
    """A question answered, the logbook in the dark theme, and the clock of a timed drawing."""
    desk = Desk(easel_in(browser, served).page, served)
    desk.begin("middle of a side")
    box = desk.picture.bounding_box()
    assert box is not None
    desk.page.mouse.click(box["x"] + 0.45 * box["width"], box["y"] + 0.8 * box["height"])
    desk.page.keyboard.press("Enter")
    expect(desk.page.locator(".drill-told")).to_be_visible()
    shoot(desk.page, "practice")
    book = easel_in(browser, served, dark=True).page
    book.goto(f"{served.url}/logbook")
    book.get_by_role("button", name=re.compile("^Lower rims")).click()
    expect(book.locator(".recharts-scatter-symbol").first).to_be_visible()
    shoot(book, "logbook-evening-class")


def paper(browser: Browser, served: Served) -> None:
    """The paper screen, judged."""
    judged = Paper(easel_in(browser, served).page, served.url)
    judged.turn_to("Crates on the slipway")
    judged.causes.first.click()
    shoot(judged.page, "on-paper")


if __name__ == "__main__":
    main()
