"""Practice, logbook and the clock, driven as a student drives them."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Browser, Page, Route, expect

from aspectum.core.practice.skills import Skill, tolerance_of
from aspectum.core.tolerance import FREEHAND
from aspectum.formats.logbook import LogRow, read_logbook, write_logbook
from tests.browser.stage import Easel
from tests.browser.test_access import faults
from tests.conftest import Served
from tests.practice_answers import right_body, row_of


class Desk:
    """Practice in a page, with a simulated student whose eye is biased in some skills."""

    def __init__(self, page: Page, served: Served, bias: dict[Skill, float] | None = None) -> None:
        self.page, self.served, self.bias = page, served, bias or {}
        self.faults = Easel(page, served.url).faults
        self.rng = np.random.default_rng(12)

    def open(self) -> None:
        self.page.goto(f"{self.served.url}/practice")
        expect(self.page.get_by_role("heading", name="Practice")).to_be_visible()

    def begin(self, skill: str | None = None, length: int = 10) -> None:
        self.open()
        self.page.get_by_label(f"{length} questions").check()
        if skill:
            self.page.get_by_role("combobox", name="Skill").select_option(skill)
        self.page.get_by_role("button", name="Begin the set").click()
        expect(self.picture).to_be_visible()

    @property
    def picture(self):  # type: ignore[no-untyped-def]
        return self.page.locator(".drill-picture")

    @property
    def question(self) -> str:
        """The id of the question that is shown."""
        address = self.page.locator(".drill-picture image").get_attribute("href") or ""
        return address.split("/")[-2]

    def error(self, skill: Skill) -> float:
        return tolerance_of(skill, FREEHAND) * (self.bias.get(skill, 0.0) + float(self.rng.normal(0.0, 0.15)))

    def answer(self) -> Skill:
        """Judge the question as the student's eye has it, and commit."""
        id = self.question
        skill, body = Skill(row_of(self.served.app, id).skill), right_body(self.served.app, id)
        page = self.page
        if page.get_by_role("group", name="Choices").count():
            page.keyboard.press("ABCD"[int(body["value"])].lower())
        elif "point" in body:
            at = page.evaluate(
                """([x, y]) => { const svg = document.querySelector('.drill-picture');
                const p = new DOMPoint(x, y).matrixTransform(svg.getScreenCTM());
                return [p.x, p.y] }""",
                body["point"],
            )
            page.mouse.click(*at)
            page.keyboard.press("Enter")
        else:
            field = page.get_by_role("spinbutton")
            stick = page.get_by_label("Stick").count()
            value = body["value"] * (1.0 + self.error(skill) / 100.0) if stick else body["value"] + self.error(skill)
            least, most = float(field.get_attribute("min") or 0), float(field.get_attribute("max") or 0)
            field.fill(f"{min(max(value, least), most):.3f}")
            field.press("Enter")
            page.get_by_role("button", name="Commit").click()
        expect(page.locator(".drill-told")).to_be_visible()
        return skill

    def play(self) -> list[Skill]:
        """The whole set."""
        asked = []
        while True:
            before = self.question
            asked.append(self.answer())
            last = self.page.get_by_role("button", name="Done (Enter)").count() > 0
            self.page.keyboard.press("Enter")
            if last:
                expect(self.page.get_by_role("heading", name="After the set")).to_be_visible()
                return asked
            self.page.wait_for_function(
                "(id) => !document.querySelector('.drill-picture image')?.getAttribute('href').includes(id)", arg=before
            )
            expect(self.page.locator(".drill-told")).to_have_count(0)


@pytest.fixture
def desk(page: Page, served: Served) -> Iterator[Desk]:
    found = Desk(page, served)
    yield found
    assert found.faults == []


def record(weak: Skill, bias: float) -> bytes:
    """Three readings of every skill, of which one is a little off already."""
    rng = np.random.default_rng(3)
    now = datetime.now(UTC)
    rows = []
    for k in range(3):
        for n, skill in enumerate(Skill):
            off = tolerance_of(skill, FREEHAND) * (float(rng.normal(0.0, 0.2)) + (bias if skill is weak else 0.0))
            rows.append(
                LogRow(
                    now - timedelta(days=3 - k, minutes=n),
                    "Mara",
                    skill,
                    "practice",
                    f"question {n + 1}",
                    20.0 + off,
                    20.0,
                    None,
                    6.0,
                )
            )
    return write_logbook(rows)


def seeded(route: Route) -> None:
    """Begin the same set each time: of unlike ones a few ask four times about the weak skill, and not five."""
    if route.request.method == "POST":
        route.continue_(post_data=json.dumps(json.loads(route.request.post_data or "{}") | {"seed": 11}))
    else:
        route.continue_()


def test_a_whole_set_is_played_and_finds_the_planted_weakness(page: Page, empty: Served, tmp_path: Path) -> None:
    desk = Desk(page, empty, {Skill.LOWER_RIM: -2.2})
    file = tmp_path / "before.csv"
    file.write_bytes(record(Skill.LOWER_RIM, -1.2))
    page.goto(f"{empty.url}/logbook")
    page.get_by_label("Logbook to bring in").set_input_files(str(file))
    expect(page.get_by_text("99 readings added.")).to_be_visible()
    page.route("**/api/practice/sets", seeded)
    desk.begin(length=20)
    asked = desk.play()
    assert len(asked) == 20 and asked.count(Skill.LOWER_RIM) >= 5
    expect(page.get_by_test_id("weakest")).to_contain_text(
        re.compile(r"Your lower rims run \d+(\.\d)?° too flat \(n = \d+, ±")
    )
    expect(page.get_by_text("Lower rims: bias")).to_have_count(
        0
    )  # three readings before were too few to have a bias that could move
    page.get_by_role("button", name="Ten of “Lower rims”").click()
    expect(page.get_by_role("slider", name=re.compile("Rim"))).to_be_visible()
    page.goto(f"{empty.url}/logbook")
    expect(page.get_by_role("heading", name="Lower rims")).to_be_visible()
    page.locator(".reading-table").get_by_role("link", name="practice").first.click()
    expect(page.locator(".drill-told")).to_be_visible()
    assert desk.faults == []


def test_a_question_is_answered_from_the_keyboard_alone(desk: Desk) -> None:
    desk.begin("lower rim")
    page = desk.page
    expect(page.get_by_role("slider")).to_be_focused()
    assert (
        page.get_by_role("heading", level=1).text_content() == "Rims"
    )  # which skill it is would tell which way to lean
    page.keyboard.press("Shift+ArrowUp")
    page.keyboard.press("Enter")
    told = page.locator(".drill-told")
    expect(told).to_contain_text("30.0°")
    expect(page.get_by_role("heading", level=1)).to_have_text("Lower rims")
    expect(page.locator(".drill-truth").first).to_be_attached()
    first = desk.question
    page.keyboard.press("Enter")
    expect(told).to_have_count(0)
    assert desk.question != first
    page.keyboard.press("Escape")
    expect(page.get_by_role("link", name=re.compile("Go on with the set of 10"))).to_be_visible()


def test_a_place_is_put_with_the_arrow_keys_and_read_along_its_line(desk: Desk) -> None:
    desk.begin("eye level")
    page = desk.page
    expect(desk.picture).to_be_focused()
    before = float(page.get_by_test_id("level-line").locator("line").first.get_attribute("y1") or 0)
    page.keyboard.press("Shift+ArrowDown")
    after = float(page.get_by_test_id("level-line").locator("line").first.get_attribute("y1") or 0)
    assert after - before == 40.0
    page.keyboard.press("Enter")
    expect(page.locator(".drill-verdict")).to_contain_text(re.compile("near uprights|As it is"))


def test_the_other_hand_and_sound_are_remembered(desk: Desk) -> None:
    desk.begin("wheel")
    page = desk.page
    assert page.locator(".drill-panel").bounding_box()["x"] > 600  # type: ignore[index]
    page.get_by_role("button", name="Other hand").click()
    page.get_by_role("button", name="Sound on").click()
    assert page.locator(".drill-panel").bounding_box()["x"] < 100  # type: ignore[index]
    page.reload()
    expect(page.get_by_role("button", name="Sound off")).to_be_visible()
    assert page.locator(".drill-panel").bounding_box()["x"] < 100  # type: ignore[index]


def test_a_lost_connection_keeps_the_judgement(desk: Desk) -> None:
    desk.begin("upper rim")
    page = desk.page
    page.route("**/answer", lambda route: route.abort())
    page.keyboard.press("Shift+ArrowUp")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("cannot be reached")
    page.unroute("**/answer")
    page.get_by_role("button", name="Commit").click()
    expect(page.locator(".drill-told")).to_contain_text("30.0°")


def test_a_finger_points_on_a_tablet(browser: Browser, served: Served) -> None:
    context = browser.new_context(viewport={"width": 820, "height": 1180}, has_touch=True)
    desk = Desk(context.new_page(), served)
    desk.begin("middle of a side")
    assert desk.page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    box = desk.picture.bounding_box()
    assert box is not None and box["width"] > 700
    desk.page.touchscreen.tap(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    expect(desk.page.get_by_test_id("held-point")).to_be_visible()
    desk.page.get_by_role("button", name="Commit").tap()
    expect(desk.page.locator(".drill-told")).to_be_visible()
    context.close()


def test_the_logbook_shows_the_weakest_first_and_every_skill_on_request(desk: Desk) -> None:
    page = desk.page
    page.goto(f"{desk.served.url}/logbook")
    expect(page.get_by_role("heading", name="Middle of a side")).to_be_visible()
    expect(page.get_by_test_id("skill-words")).to_contain_text("The middle of a side runs")
    page.get_by_role("button", name=re.compile("^Lower rims")).click()
    expect(page.get_by_test_id("skill-words")).to_contain_text(re.compile(r"Bias fell from \d"))
    expect(page.locator(".skill-chart .recharts-scatter-symbol").first).to_be_visible()
    expect(page.locator(".reading-table tbody tr").first).to_be_visible()
    with page.expect_download() as waiting:
        page.get_by_role("link", name="Readings as CSV").click()
    assert len(read_logbook(Path(waiting.value.path()).read_bytes())) > 400


def test_a_file_that_is_no_logbook_is_told_with_its_line(desk: Desk, tmp_path: Path) -> None:
    bad = tmp_path / "bad.csv"
    bad.write_bytes(record(Skill.WHEEL, 0.0).replace(b",wheel,", b",whistle,", 1))
    desk.page.goto(f"{desk.served.url}/logbook")
    desk.page.get_by_label("Logbook to bring in").set_input_files(str(bad))
    expect(desk.page.get_by_role("alert")).to_contain_text(
        re.compile(r"line \d+: skill: there is none called 'whistle'")
    )


def test_a_drawing_against_the_clock_pauses_ends_and_leaves_its_notes(desk: Desk) -> None:
    page = desk.page
    page.goto(f"{desk.served.url}/practice/timed")
    expect(page.get_by_label("Noted for this time")).to_contain_text("Eye level on the sheet before the first box.")
    page.get_by_label("Called").fill("Rope drums by the crane")
    page.get_by_label("Minutes").fill("10")
    page.get_by_role("button", name="To the clock").click()
    clock = page.get_by_role("timer")
    expect(clock).to_have_text("3:20")
    page.keyboard.press("p")
    expect(clock).not_to_have_text("3:20")
    page.keyboard.press("p")
    expect(page.get_by_text(re.compile("Looking: .* not counted as drawing"))).to_be_visible()
    stopped = clock.text_content()
    page.wait_for_timeout(1200)
    assert clock.text_content() == stopped
    page.keyboard.press("n")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Forms")
    page.reload()  # what was drawn is kept
    expect(page.get_by_role("heading", level=1)).to_contain_text("Forms")
    page.get_by_role("button", name=re.compile("^Go on")).click()
    page.keyboard.press("f")
    page.get_by_label("One thing that holds").fill("The drums stand.")
    page.get_by_label("For next time", exact=True).fill("Axes before rims.")
    page.get_by_role("button", name="Keep the notes").click()
    expect(page.get_by_text("They come back at the next start.")).to_be_visible()
    page.get_by_role("link", name="Another drawing").click()
    expect(page.get_by_label("Noted for this time")).to_contain_text("Axes before rims.")
    expect(page.get_by_role("link", name="Rope drums by the crane")).to_be_visible()


def test_practice_and_logbook_pass_axe(page: Page, served: Served) -> None:
    desk = Desk(page, served)
    desk.open()
    assert faults(page) == []
    for skill in ("lower rim", "middle of a side", "steeper edge", "length across"):
        desk.begin(skill)
        assert faults(page) == []
        desk.answer()
        assert faults(page) == []
    page.goto(f"{served.url}/logbook")
    expect(page.locator(".recharts-scatter-symbol").first).to_be_visible()
    expect(page.locator(".reading-table")).to_be_visible()
    assert faults(page) == []
    page.goto(f"{served.url}/practice/timed")
    expect(page.get_by_label("Noted for this time")).to_be_visible()
    assert faults(page) == []
    page.get_by_role("button", name="To the clock").click()
    expect(page.get_by_role("timer")).to_be_visible()
    assert faults(page) == []
