"""How fast the model stand follows a drag, in Chromium without a graphics card."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from playwright.sync_api import sync_playwright

from aspectum.demo.fill import fill
from tests.browser.test_stand import Room
from tests.conftest import Served
from tests.samples import few

MOVES = 90
# notes when each frame begins, and when the exact lines change
WATCH = """() => {
  window.frames_ = []; window.lines_ = []; window.watched = true;
  const frame = () => { window.frames_.push(performance.now()); if (window.watched) requestAnimationFrame(frame); };
  frame();
  const watch = new MutationObserver(() => window.lines_.push(performance.now()));
  watch.observe(document.querySelector('[data-exact]'), {attributes: true, subtree: true});
}"""


@dataclass(frozen=True)
class Followed:
    """Of one drag: frames a second, the frame that nine of ten are faster than (ms), and how often a second the exact
    lines were drawn anew.
    """

    title: str
    things: int
    frames_a_second: float
    nine_of_ten_ms: float
    lines_a_second: float


def follow() -> Iterator[Followed]:
    """Every stand of the demo, walked round with its exact lines laid over; server, driver and browser share the
    machine.
    """
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as play:
        served = Served(Path(folder))
        fill(served.app.extensions["aspectum"])
        browser = play.chromium.launch(
            executable_path="/usr/bin/chromium-headless-shell", args=["--no-sandbox", "--disable-gpu"]
        )
        room = Room(browser.new_page(viewport={"width": 1280, "height": 800}), served)
        room.page.add_init_script("localStorage.setItem('aspectum.stand-lines', 'on')")
        room.page.goto(f"{served.url}/stand")
        links = room.page.get_by_role("list", name="Set-ups").get_by_role("listitem")
        links.first.wait_for()
        titles = [
            (link.get_attribute("aria-label") or "").removeprefix("Open ") for link in links.get_by_label("Open").all()
        ]
        for title in titles[: few(len(titles), 1)]:
            room.open(title)
            frame = room.frame()
            x, y = frame["x"] + 60, frame["y"] + 60
            room.page.mouse.move(x, y)
            room.page.mouse.down()
            room.page.mouse.move(x + 4, y)
            room.page.wait_for_timeout(200)
            room.page.evaluate(WATCH)
            for k in range(MOVES):
                room.page.mouse.move(x + 2 * k, y + k)
            frames, lines = room.page.evaluate("(window.watched = false, [window.frames_, window.lines_])")
            room.page.mouse.up()
            room.saved()
            gaps, seconds = np.diff(frames), (frames[-1] - frames[0]) / 1000
            # one answer changes several lines at once
            drawn = 1 + int((np.diff(lines) > 1.0).sum()) if lines else 0
            yield Followed(
                title,
                len(room.document()["things"]),
                len(gaps) / seconds,
                float(np.quantile(gaps, 0.9)),
                drawn / seconds,
            )
        browser.close()
        served.stop()
