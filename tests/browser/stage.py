"""Driving the sighting screen as a hand would."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

from playwright.sync_api import Locator, Page, expect

from aspectum.demo.fill import SHEETS

DEMO_SHEETS = len(list(SHEETS.glob("*.sighting.json")))


def titled(page: Page, base: str, what: str, title: str) -> str:
    """The id of one of the ``what`` (sheets, stands) that are kept, asked of the server: the list is a page more, and
    has tests of its own.
    """
    listed = page.request.get(f"{base}/api/{what}").json()[what]
    return next(str(one["id"]) for one in listed if one["title"] == title)


def enter_as(page: Page, base: str, who: str) -> None:
    """At the class, signed in as one of the demo's people."""
    offered = page.request.get(f"{base}/api/me").json()["one_click"]
    person = next(one["person_id"] for one in offered if one["name"] == who)
    assert page.request.post(f"{base}/api/sign-in/one-click", data={"person_id": person}).ok
    page.goto(f"{base}/class")


class Easel:
    """The open sighting screen in a page, with the picture's place on the stage."""

    def __init__(self, page: Page, base: str, looks: bool = False) -> None:
        """``looks``: whether photos that are opened are looked into unasked, as they are for a person."""
        self.page = page
        self.base = base.rstrip("/")
        self.faults: list[str] = []
        page.on("pageerror", lambda error: self.faults.append(str(error)))
        page.on(
            "console",
            lambda m: (
                self.faults.append(m.text) if m.type == "error" and "Failed to load resource" not in m.text else None
            ),
        )
        page.add_init_script("if (!sessionStorage.fresh) localStorage.setItem('aspectum.walked', 'yes')")
        if not looks:  # else every photo that a test opens costs seconds
            page.add_init_script("localStorage.setItem('aspectum.look-unasked', 'off')")

    def home(self) -> None:
        self.page.goto(f"{self.base}/sheets")
        expect(self.page.get_by_role("button", name="Open a photo")).to_be_visible()

    def open_demo(self, title: str) -> None:
        self.page.goto(f"{self.base}/sheets/{titled(self.page, self.base, 'sheets', title)}")
        expect(self.stage).to_be_visible()
        self.page.wait_for_function(
            "document.querySelector('[data-testid=stage] image')?.getBoundingClientRect().width > 50"
        )

    def open_own(self, path: str) -> None:
        self.home()
        self.page.get_by_label("Photo to open").set_input_files(path)
        expect(self.stage).to_be_visible(timeout=20_000)
        self.page.wait_for_function(
            "document.querySelector('[data-testid=stage] image')?.getBoundingClientRect().width > 50"
        )

    @property
    def stage(self) -> Locator:
        return self.page.get_by_test_id("stage")

    @property
    def slips(self) -> Locator:
        return self.page.locator("[data-sighting]")

    def slip(self, name: str) -> Locator:
        return self.slips.filter(has_text=name).first

    @property
    def chosen(self) -> Locator:
        """The opened slip."""
        return self.page.locator("[data-sighting]:has([aria-pressed=true])")

    def eye_level(self) -> tuple[float, float]:
        """Height and ± in picture pixels, as the screen shows them."""
        shown = self.page.get_by_test_id("eye-level")
        return float(shown.get_attribute("data-y") or "nan"), float(shown.get_attribute("data-sd") or "nan")

    def on_screen(self, point: Sequence[float], width_px: int = 1280) -> tuple[float, float]:
        """Whole screen pixels of a picture point: no hand is finer."""
        box = self.page.locator("[data-testid=stage] > image").bounding_box()
        assert box is not None
        k = box["width"] / width_px
        return round(box["x"] + point[0] * k), round(box["y"] + point[1] * k)

    def drag(self, p: tuple[float, float], q: tuple[float, float]) -> None:
        mouse = self.page.mouse
        mouse.move(*p)
        mouse.down()
        mouse.move((p[0] + q[0]) / 2, (p[1] + q[1]) / 2, steps=3)
        mouse.move(*q, steps=3)
        mouse.up()

    def lay(self, edge: dict[str, Any], width_px: int = 1280) -> None:
        """Add an edge without judging it, and give it its family by key."""
        before = self.slips.count()
        self.page.keyboard.press("a")
        self.drag(self.on_screen(edge["p"], width_px), self.on_screen(edge["q"], width_px))
        expect(self.slips).to_have_count(before + 1)
        keys = {"left": "l", "right": "r", "upright": "u", "depth": "d", "across": "x", "slope": "s"}
        chosen = self.page.get_by_label("Family")
        if chosen.input_value() != edge["family"]:
            self.page.keyboard.press(keys[edge["family"]])
            expect(chosen).to_have_value(edge["family"])
        self.page.keyboard.press("Escape")

    def press(self, point: tuple[float, float]) -> None:
        self.page.mouse.click(*point)

    def lay_rim(self, rim: dict[str, Any], width_px: int = 1280, arc: int = 0) -> None:
        """Add a rim without judging it: major axis, near point, then ``arc`` points along the seen arc."""
        before = self.slips.count()
        turn = math.radians(90.0 - rim["axis_deg"])
        along, down = (math.cos(turn), math.sin(turn)), (-math.sin(turn), math.cos(turn))
        if down[1] < 0:
            down = (-down[0], -down[1])
        seen = [p for p, shown in zip(rim["points"], rim["seen"], strict=True) if shown]
        (cx, cy), half, opened = rim["ellipse_px"], rim["major_px"] / 2, rim["minor_px"] / 2
        near = 1 if len(seen) > 60 or sum(p[1] for p in seen) / len(seen) > cy else -1
        self.page.keyboard.press("c")
        ends = [[cx + side * half * along[0], cy + side * half * along[1]] for side in (-1, 1)]
        self.drag(self.on_screen(ends[0], width_px), self.on_screen(ends[1], width_px))
        self.press(self.on_screen([cx + near * opened * down[0], cy + near * opened * down[1]], width_px))
        expect(self.slips).to_have_count(before + 1)
        chosen = self.page.get_by_label("Plane")
        keys = {"level": "u", "left": "l", "right": "r", "depth": "d", "across": "x"}
        if chosen.input_value() != rim["plane"]:
            self.page.keyboard.press(keys[rim["plane"]])
            expect(chosen).to_have_value(rim["plane"])
        if arc:
            self.page.keyboard.press("p")
            step = max(1, len(seen) // arc)
            for k, point in enumerate(seen[step // 2 :: step][:arc]):
                self.press(self.on_screen(point, width_px))
                expect(self.page.locator("[data-handle^=at]")).to_have_count(k + 1)
            self.page.keyboard.press("Escape")
        self.page.keyboard.press("Escape")

    def menu(self, item: str) -> Locator:
        """An entry of the sheet's menu, opened."""
        self.page.get_by_role("button", name="Sheet", exact=True).click()
        return self.page.get_by_role("menuitem", name=item)

    @property
    def title(self) -> Locator:
        return self.page.get_by_role("button", name="Title of the sheet:")

    def new_form(self) -> None:
        self.page.get_by_role("button", name="New form").click()

    def judge_first(self, on: bool) -> None:
        self.page.get_by_label("Judge first").set_checked(on)

    def saved(self) -> None:
        expect(self.page.get_by_test_id("save-state")).to_have_text("Saved", timeout=15_000)
