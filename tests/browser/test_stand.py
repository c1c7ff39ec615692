"""The model stand as a hand works it: walked round, its eye raised, things moved and turned, drawn on elevations, built
up in steps, drawn from.
"""

from __future__ import annotations

import io
import json
import math
import re
from pathlib import Path
from typing import Any

import numpy as np
import pypdf
import pytest
from PIL import Image
from playwright.sync_api import Browser, Locator, Page, expect

from aspectum.core.stand.camera import View
from aspectum.formats.stand import read_stand
from aspectum.service.stand.from_format import view_of
from tests.browser.stage import Easel, titled
from tests.browser.test_access import faults
from tests.conftest import Served
from tests.formats.test_stand import STANDS

BOXES = "Stacked fish boxes"
LAMP = "Oil lamp from its profile"
CORNER_M = (0.6, 0.4, 0.5)  # of the box that a new set-up begins with
PAPER, GROUND = (216, 221, 210), (185, 192, 176)


class Room:
    """The stand's screen in a page, with the picture's place on it."""

    def __init__(self, page: Page, served: Served) -> None:
        self.page, self.served = page, served
        self.faults = Easel(page, served.url).faults

    def open(self, title: str) -> None:
        self.page.goto(f"{self.served.url}/stand/{titled(self.page, self.served.url, 'stands', title)}")
        self.settled()

    def make(self, document: dict[str, Any]) -> None:
        """A set-up of one's own."""
        made = self.page.request.post(f"{self.served.url}/api/stands", data={"document": document}).json()
        self.page.goto(f"{self.served.url}/stand/{made['id']}")
        self.settled()

    def settled(self) -> None:
        expect(self.page.locator("[data-testid=stand][data-ready=true]")).to_be_visible(timeout=15_000)
        self.page.wait_for_timeout(300)  # drawn smooth once it rests

    def saved(self) -> None:
        expect(self.page.get_by_test_id("save-state")).to_have_text("Saved")
        self.page.wait_for_load_state("networkidle")

    def document(self) -> dict[str, Any]:
        self.saved()
        found: dict[str, Any] = self.page.evaluate(
            "fetch(location.pathname.replace('/stand', '/api/stands')).then((a) => a.json())"
        )
        document: dict[str, Any] = found["document"]
        return document

    def view(self) -> View:
        return view_of(read_stand(json.dumps(self.document()).encode()).view)

    def view_with(self, focal_35mm: float) -> View:
        """The view as soon as its lens is kept: steps are kept together once the hand rests and the last answer is
        there.
        """
        for _ in range(100):
            view = self.view()
            if view.focal_35mm == pytest.approx(focal_35mm, rel=1e-6):
                break
            self.page.wait_for_timeout(100)
        assert view.focal_35mm == pytest.approx(focal_35mm, rel=1e-6)
        return view

    def choose(self, name: str) -> Locator:
        self.page.get_by_role("list", name="Things").get_by_role("button", name=re.compile(f"^{name}")).first.click()
        card = self.page.get_by_test_id("thing-card")
        expect(card).to_be_visible()
        return card

    def frame(self) -> dict[str, float]:
        box = self.page.locator(".stand-frame").bounding_box()
        assert box is not None
        return {"x": box["x"], "y": box["y"], "width": box["width"], "height": box["height"]}

    def drag(self, dx: float, dy: float) -> None:
        frame = self.frame()
        x, y = frame["x"] + 40, frame["y"] + 40
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x + dx / 2, y + dy / 2, steps=4)
        self.page.mouse.move(x + dx, y + dy, steps=4)
        self.page.mouse.up()
        self.saved()

    def pixels(self) -> np.ndarray[Any, Any]:
        """What is shaded, as (rows, columns, 3), over the picture's place."""
        shot = self.page.screenshot(clip=self.frame())  # type: ignore[arg-type]
        return np.asarray(Image.open(io.BytesIO(shot)).convert("RGB"), dtype=int)


@pytest.fixture
def room(page: Page, served: Served) -> Room:
    page.set_viewport_size({"width": 1280, "height": 800})
    return Room(page, served)


def is_thing(pixels: np.ndarray[Any, Any]) -> np.ndarray[Any, Any]:
    """Where neither sky nor ground shows, nor a mixture of both, as along the horizon."""
    paper, ground = np.array(PAPER), np.array(GROUND)
    way = ground - paper
    share = np.clip((pixels - paper) @ way / (way @ way), 0.0, 1.0)
    return np.asarray(np.abs(pixels - paper - share[..., None] * way).sum(axis=2) > 24)


ONE_BOX: dict[str, Any] = {
    "format": "aspectum-stand",
    "version": 1,
    "title": "One box",
    "view": {"eye_m": [0.2, -2.6, 1.2], "pitch_deg": -18.0, "focal_35mm": 35.0},
    "things": [{"id": "box", "kind": "box", "name": "Box", "size_m": list(CORNER_M), "turn_deg": 30.0}],
}
VIEWS = {
    "as it comes": {},
    "rolled, from the side": {"eye_m": [2.1, -1.4, 0.9], "heading_deg": -56.0, "pitch_deg": -14.0, "roll_deg": 12.0},
    "from below": {"eye_m": [0.3, -2.2, -0.5], "pitch_deg": 20.0},
    "isometric": {"parallel": "isometric", "eye_m": [0.0, 0.0, 0.25], "heading_deg": -15.0, "px_per_m": 700.0},
    "oblique": {
        "parallel": "oblique",
        "eye_m": [0.0, 0.0, 0.25],
        "heading_deg": -20.0,
        "px_per_m": 700.0,
        "oblique_deg": 40.0,
        "depth_scale": 0.6,
    },
    "square": {
        "parallel": "square",
        "eye_m": [0.0, 0.0, 0.25],
        "heading_deg": 40.0,
        "pitch_deg": -30.0,
        "px_per_m": 700.0,
    },
}


def test_a_set_up_is_opened_from_its_file_and_from_the_list(room: Room) -> None:
    content = {"name": "own.stand.json", "mimeType": "application/json", "buffer": json.dumps(ONE_BOX).encode()}
    page = room.page
    page.goto(f"{room.served.url}/stand")
    page.get_by_label("Set-up to open").set_input_files(content)  # type: ignore[arg-type]
    room.settled()
    assert len(room.document()["things"]) == 1
    page.goto(f"{room.served.url}/stand")
    page.get_by_role("link", name=f"Open {BOXES}", exact=True).click()
    room.settled()
    assert room.document()["title"] == BOXES


def test_the_shaded_corner_lies_under_the_exact_lines_end(room: Room) -> None:
    """Outermost pixels of what is shaded against outermost ends of the exact lines: within 2 px, in every
    kind of view.
    """
    room.make(ONE_BOX)
    for revision, (name, view) in enumerate(VIEWS.items(), start=1):
        document = ONE_BOX | {"view": ONE_BOX["view"] | view}
        saved = room.page.evaluate(
            "(body) => fetch(location.pathname.replace('/stand', '/api/stands'), {method: 'PUT', headers: "
            "{'Content-Type': 'application/json'}, "
            "body: JSON.stringify(body)}).then((answer) => answer.json())",
            {"revision": revision, "document": document},
        )
        room.page.reload()
        room.settled()
        room.page.evaluate("document.querySelectorAll('.footprints, .exact').forEach((e) => e.style.display = 'none')")
        rows, columns = np.nonzero(is_thing(room.pixels())[2:-2, 2:-2])
        shaded = np.array([columns.min(), rows.min(), columns.max() + 1, rows.max() + 1]) + 2.0
        ends = (
            np.array([end for edge in saved["drawing"]["edges"] for end in (edge["p"], edge["q"])])
            * room.frame()["width"]
            / 1280
        )
        exact = np.concatenate([ends.min(axis=0), ends.max(axis=0)])
        assert np.abs(shaded - exact).max() <= 2.0, name


def test_dragging_walks_round_and_keeps_the_distance(room: Room) -> None:
    room.open(BOXES)
    before = room.view()
    boxes = room.page.get_by_test_id("stand")
    expect(boxes).to_be_visible()
    room.drag(120, 0)
    after = room.view()
    assert after.heading_deg != pytest.approx(before.heading_deg % 360)
    assert after.eye_m[2] == pytest.approx(before.eye_m[2]) and after.pitch_deg == pytest.approx(before.pitch_deg)
    room.page.keyboard.press("Control+z")
    assert room.view().eye_m == pytest.approx(before.eye_m)
    room.page.keyboard.press("Control+Shift+z")
    assert room.view().eye_m == pytest.approx(after.eye_m)


def test_the_rail_is_the_eye(room: Room) -> None:
    """Dragged up the eye rises: the top of the highest box comes into sight, and its words say so."""
    room.open(BOXES)
    line = room.page.get_by_role("list", name="Things").get_by_role("button", name=re.compile("^Top box"))
    expect(line).to_contain_text("neither top nor underside")
    before = room.view().eye_m[2]
    rail = room.page.get_by_role("slider", name="Height of the eye")
    box = rail.bounding_box()
    assert box is not None
    room.page.mouse.move(box["x"] + 40, box["y"] + 400)
    room.page.mouse.down()
    room.page.mouse.move(box["x"] + 40, box["y"] + 250, steps=6)
    room.page.mouse.up()
    expect(line).to_contain_text("top shows")
    raised = room.view()
    assert raised.eye_m[2] > before + 0.2
    assert float(rail.get_attribute("aria-valuenow") or "nan") == pytest.approx(raised.eye_m[2], abs=1e-3)
    rail.focus()
    room.page.keyboard.press("ArrowDown")
    assert room.view().eye_m[2] < raised.eye_m[2]
    # looking level, uprights stay upright while the eye rises
    room.page.get_by_label("look level").check()
    room.saved()
    rail.focus()
    room.page.keyboard.press("ArrowUp")
    level = room.view()
    assert level.pitch_deg == 0.0 and level.vanishing_point(np.array([0.0, 0.0, 1.0])) == (None, 90.0)


def test_stepping_back_with_the_same_size_draws_vanishing_points_apart(room: Room) -> None:
    room.open(BOXES)
    room.page.get_by_label("same size on the sheet").check()
    table = room.page.get_by_label("Long table: where the vanishing points fall").get_by_role("img")
    words = table.get_attribute("aria-label")
    before = room.view()
    for _ in range(6):
        room.page.keyboard.press("-")
    after = room.view_with(before.focal_35mm * 0.9**-6)
    lens, away = (
        after.focal_35mm / before.focal_35mm,
        math.dist(after.eye_m, (0.25, 0.05, 0.4)) / math.dist(before.eye_m, (0.25, 0.05, 0.4)),
    )
    assert away == pytest.approx(lens, rel=0.05)
    assert table.get_attribute("aria-label") != words
    # the wheel steps too, one undo for all of a turn, however late the answers come
    frame = room.frame()
    room.page.mouse.move(frame["x"] + 200, frame["y"] + 200)
    for _ in range(3):
        room.page.mouse.wheel(0, -120)
    room.view_with(after.focal_35mm * 1.0015**-360)
    room.page.get_by_role("button", name="Undo").click()
    room.view_with(after.focal_35mm)


def test_views_to_begin_with_say_where_nothing_converges(room: Room) -> None:
    room.open(BOXES)
    for preset, words in (("straight down", "meet nowhere"), ("isometric", "nothing converges")):
        room.page.get_by_label("Take up a view").select_option(preset)
        expect(room.page.get_by_text(re.compile(words))).to_be_visible()


def test_a_footprint_moves_its_thing_and_its_knob_turns_it(room: Room) -> None:
    room.open(BOXES)
    print_ = room.page.get_by_role("button", name="Footprint of Box beside")
    box = print_.bounding_box()
    assert box is not None
    before = {thing["id"]: thing for thing in room.document()["things"]}["box-4"]
    middle = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    room.page.mouse.move(*middle)
    room.page.mouse.down()
    room.page.mouse.move(middle[0] + 15, middle[1] - 10, steps=4)
    room.page.mouse.up()
    moved = {thing["id"]: thing for thing in room.document()["things"]}["box-4"]
    assert moved["at_m"][0] > before["at_m"][0] and moved["at_m"][1] > before["at_m"][1]
    knob = room.page.locator(".footprint-knob circle").bounding_box()
    assert knob is not None
    room.page.mouse.move(knob["x"] + 6, knob["y"] + 6)
    room.page.mouse.down()
    room.page.mouse.move(knob["x"] - 4, knob["y"] + 46, steps=5)
    room.page.mouse.up()
    assert {thing["id"]: thing for thing in room.document()["things"]}["box-4"]["turn_deg"] != before["turn_deg"]
    print_.focus()
    room.page.keyboard.press("ArrowLeft")
    assert {thing["id"]: thing for thing in room.document()["things"]}["box-4"]["at_m"][0] < moved["at_m"][0]


def test_things_are_chosen_on_the_picture_added_stacked_and_taken_off(room: Room) -> None:
    room.make(ONE_BOX)
    frame = room.frame()
    room.page.mouse.click(frame["x"] + frame["width"] * 0.48, frame["y"] + frame["height"] * 0.62)
    expect(room.page.get_by_test_id("thing-card")).to_contain_text("Box")
    room.page.get_by_role("button", name="Add a thing").click()
    room.page.get_by_role("menuitem", name="Cylinder").click()
    card = room.page.get_by_test_id("thing-card")
    expect(card).to_contain_text("Cylinder")
    room.saved()
    card.get_by_label("stands on").select_option("Box")
    things = room.document()["things"]
    assert things[1]["on"] == "box" and things[1]["at_m"] == things[0]["at_m"]
    card.get_by_label("radius", exact=True).fill("0.1")
    room.page.keyboard.press("Enter")
    assert room.document()["things"][1]["radius_m"] == 0.1
    room.page.get_by_test_id("stand").focus()
    room.page.keyboard.press(".")
    assert room.document()["things"][1]["turn_deg"] == -5
    room.page.keyboard.press("Delete")
    assert len(room.document()["things"]) == 1
    room.page.keyboard.press("Control+z")
    assert len(room.document()["things"]) == 2


def test_a_measure_that_cannot_be_is_said_and_the_last_good_one_stays(room: Room) -> None:
    room.make(ONE_BOX)
    room.page.get_by_role("button", name="Add a thing").click()
    room.page.get_by_role("menuitem", name="Tube, open above").click()
    card = room.page.get_by_test_id("thing-card")
    card.get_by_label("wall", exact=True).fill("5")
    room.page.keyboard.press("Enter")
    expect(room.page.get_by_text(re.compile("the wall leaves no room inside"))).to_be_visible()
    room.page.keyboard.press("Control+z")
    room.saved()
    assert room.document()["things"][1]["wall_m"] < 0.2


def test_a_building_is_given_its_roof_doors_steps_and_chimney(room: Room) -> None:
    room.make(ONE_BOX)
    room.page.get_by_role("button", name="Add a thing").click()
    room.page.get_by_role("menuitem", name="Building").click()
    card = room.page.get_by_test_id("thing-card")
    card.get_by_role("combobox", name="roof").select_option("hipped")
    card.get_by_role("button", name="Door or window").click()
    card.get_by_label("Wall of Opening 1").select_option("right")
    card.get_by_role("button", name="Steps").click()
    card.get_by_label("Chimney").check()
    expect(card.get_by_label("above the ridge")).to_have_value("0.6")
    made = room.document()["things"][1]
    assert (made["roof"], made["openings"][0]["wall"], made["flights"][0]["count"], made["chimney"]["above_m"]) == (
        "hipped",
        "right",
        3,
        0.6,
    )
    card.get_by_role("button", name="Take Opening 1 away").click()
    expect(card.get_by_label("Wall of Opening 1")).to_have_count(0)
    assert room.document()["things"][1]["openings"] == []
    # another of it stands beside
    card.get_by_role("button", name="Another Building").click()
    expect(room.page.get_by_test_id("thing-card")).to_contain_text("Building again")
    things = room.document()["things"]
    assert things[2]["roof"] == "hipped" and things[2]["at_m"][0] > things[1]["at_m"][0]


def test_an_outline_drawn_on_the_front_is_carried_through(room: Room) -> None:
    room.make(ONE_BOX)
    room.choose("Box")
    room.page.keyboard.press("e")
    board = room.page.get_by_test_id("elevations")
    board.get_by_role("button", name="Draw its outline").first.click()
    board.get_by_role("button", name=re.compile("^Front, point 2 ")).click()
    board.get_by_role("button", name="A point more").click()
    ridge = board.get_by_role("button", name=re.compile("^Front, point 3 "))
    expect(ridge).to_be_visible()
    ridge.focus()
    for _ in range(3):
        room.page.keyboard.press("ArrowUp")
        room.page.wait_for_timeout(200)
    thing = room.document()["things"][0]
    assert thing["kind"] == "outline" and thing["depth_m"] == 0.4
    assert max(z for _, z in thing["outline"]["points"]) > 0.5
    # passed in a curve, and a section that draws it in at one end
    curved = board.get_by_label("curved through point 3")
    curved.click()
    expect(curved).to_be_checked()
    board.get_by_role("button", name="A section more").click()
    expect(board.get_by_label("deep", exact=True)).to_have_value("0.2")
    drawn = room.document()["things"][0]
    assert drawn["outline"]["smooth"] == [2] and drawn["widths"] == [[0.0, 0.2]]
    board.get_by_role("button", name="Take section 1 away").click()
    expect(board.get_by_label("deep", exact=True)).to_have_count(0)
    # halves alike: what moves on the right moves on the left
    board.get_by_label("halves alike").check()
    eaves = board.get_by_role("button", name=re.compile(r"^Front, point \d+ at 0\.3"))
    eaves.last.focus()
    room.page.keyboard.press("ArrowRight")
    room.page.wait_for_timeout(300)
    points = room.document()["things"][0]["outline"]["points"]
    assert sorted(round(x, 6) for x, _ in points) == sorted(round(-x, 6) for x, _ in points)


def test_a_wall_drawn_out_leaves_the_other_where_it_stood(room: Room) -> None:
    room.make(ONE_BOX)
    room.choose("Box")
    room.page.keyboard.press("e")
    board = room.page.get_by_test_id("elevations")
    board.get_by_role("button", name="Draw its outline").first.click()
    handle = board.get_by_role("button", name=re.compile("^Front, point 2 "))
    expect(handle).to_be_visible()
    room.page.wait_for_timeout(400)
    box = handle.bounding_box()
    assert box is not None
    x, y = box["x"] + 6, box["y"] + 6
    room.page.mouse.move(x, y)
    room.page.mouse.down()
    for k in range(1, 9):
        room.page.mouse.move(x + 6 * k, y)
        room.page.wait_for_timeout(60)
    room.page.mouse.up()
    expect(board.get_by_label("width", exact=True)).not_to_have_value("0.6")
    room.page.wait_for_timeout(500)
    thing = room.document()["things"][0]
    points = np.array(thing["outline"]["points"])
    assert np.ptp(points[:, 0]) > 0.65
    turn = np.array([math.cos(math.radians(30.0)), math.sin(math.radians(30.0))])
    assert np.array(thing["at_m"]) + points[:, 0].min() * turn == pytest.approx(-0.3 * turn, abs=1e-9)


def test_elevations_that_contradict_each_other_are_refused_with_the_place(room: Room) -> None:
    room.make(ONE_BOX)
    room.choose("Box")
    room.page.keyboard.press("e")
    board = room.page.get_by_test_id("elevations")
    board.get_by_role("button", name="Draw its outline").first.click()
    expect(board.get_by_role("button", name=re.compile("^Front, point 1 "))).to_be_visible()
    board.get_by_role("button", name="Draw its outline").click()
    top = board.get_by_role("button", name=re.compile("^Side, point 2 "))
    expect(top).to_be_visible()
    before = room.document()["things"][0]
    top.focus()
    room.page.keyboard.press("Shift+ArrowUp")
    expect(board.get_by_role("alert")).to_contain_text("front: its highest point lies at 0.5 m")
    assert room.document()["things"][0] == before


def test_a_side_pulled_on_the_plan_snaps_and_leaves_the_other_sizes(room: Room) -> None:
    room.make(ONE_BOX | {"things": [ONE_BOX["things"][0] | {"size_m": [0.6, 0.43, 0.51]}]})
    room.choose("Box")
    room.page.keyboard.press("e")
    handle = room.page.get_by_role("button", name="Plan, pull it wider")
    expect(handle).to_be_visible()
    room.page.wait_for_timeout(300)
    box = handle.bounding_box()
    assert box is not None
    x, y = box["x"] + 6, box["y"] + 6
    room.page.mouse.move(x, y)
    room.page.mouse.down()
    room.page.mouse.move(x + 30, y + 9, steps=5)
    room.page.mouse.up()
    expect(room.page.get_by_role("button", name="Undo")).to_be_enabled()
    width, depth, height = room.document()["things"][0]["size_m"]
    assert width > 0.6 and (width / 0.02) == pytest.approx(round(width / 0.02))
    assert (depth, height) == (0.43, 0.51)


def test_a_profile_drawn_on_is_turned_about_the_centre_line(room: Room) -> None:
    room.open(LAMP)
    room.choose("Lamp foot and tank")
    room.page.keyboard.press("e")
    before = room.document()["things"][1]["profile"]["points"]
    handle = room.page.get_by_role("button", name=re.compile("^Front, point 3 "))
    handle.focus()
    room.page.keyboard.press("ArrowRight")
    expect(room.page.get_by_role("button", name="Undo")).to_be_enabled()
    after = room.document()["things"][1]["profile"]["points"]
    assert after[2][0] > before[2][0] and len(after) == len(before)


def test_steps_are_gone_through_by_key_and_printed(room: Room, tmp_path: Path) -> None:
    room.open(BOXES)
    room.choose("Middle box")
    room.page.keyboard.press("s")
    show = room.page.get_by_test_id("steps")
    expect(show).to_contain_text("Step 1 of 5: Eye level and vanishing points.")
    room.page.keyboard.press("]")
    expect(show).to_contain_text("The enclosing box.")
    strokes = room.page.get_by_test_id("step-lines").locator("path").count()
    room.page.keyboard.press("]")
    assert room.page.get_by_test_id("step-lines").locator("path").count() > strokes
    room.page.keyboard.press("[")
    show.get_by_role("button", name="Hand-out").click()
    with room.page.expect_download() as loading:
        room.page.get_by_role("menuitem", name="All steps (PDF)").click()
    loading.value.save_as(tmp_path / "steps.pdf")
    pages = pypdf.PdfReader(tmp_path / "steps.pdf").pages
    assert len(pages) == 5 and "Lining in" in pages[4].extract_text()
    room.page.keyboard.press("Escape")
    room.page.keyboard.press("Escape")
    expect(show).to_have_count(0)


def test_a_thing_turned_in_the_hand_opens_by_the_sine(room: Room) -> None:
    """Handbook section 3: a cylinder turned end-on."""
    room.make(
        ONE_BOX | {"things": [{"id": "drum", "kind": "cylinder", "name": "Drum", "radius_m": 0.3, "height_m": 1.0}]}
    )
    room.choose("Drum")
    room.page.keyboard.press("t")
    rows = room.page.get_by_role("dialog").get_by_role("row")
    expect(rows.filter(has_text="degree")).to_have_text(re.compile(r"base, top, degree0°22\.5°45°67\.5°90°"))
    expect(rows.filter(has_text="length seen")).to_have_text(re.compile(r"1\.000\.920\.710\.380\.00"))


def test_what_would_change_shows_as_a_ghost_or_beside(room: Room) -> None:
    room.open(BOXES)
    room.page.keyboard.press("c")
    expect(room.page.get_by_test_id("compared")).to_contain_text("Kept: eye 0.67 m")
    expect(room.page.locator("[data-exact=ghost]")).to_have_count(1)
    room.drag(90, 40)
    expect(room.page.locator(".table-before").first).to_be_visible()
    room.page.keyboard.press("v")
    expect(room.page.get_by_role("img", name="The kept view")).to_be_visible()
    expect(room.page.locator("[data-exact=ghost]")).to_have_count(0)
    room.page.keyboard.press("c")
    expect(room.page.get_by_test_id("compared")).to_have_count(0)


def test_drawn_from_its_truth_waits_until_judged_and_asked_for(room: Room) -> None:
    """The loop on a sheet of the stand: judge, sight, check; what is true comes last, and when asked for."""
    room.make(ONE_BOX)
    drawing = room.page.evaluate(
        "(document) => fetch('/api/stand/drawing', {method: 'POST', headers: {'Content-Type': 'application/json'}, "
        "body: JSON.stringify({document})}).then((answer) => answer.json())",
        ONE_BOX,
    )
    room.page.get_by_role("button", name="Draw from this").click()
    room.page.wait_for_url("**/sheets/**", timeout=20_000)
    easel = Easel(room.page, room.served.url)
    room.page.evaluate("localStorage.setItem('aspectum.walked', 'yes')")
    room.page.reload()
    expect(easel.stage).to_be_visible()
    room.page.wait_for_function(
        "document.querySelector('[data-testid=stage] image')?.getBoundingClientRect().width > 50"
    )
    size = room.page.evaluate(
        "fetch(location.pathname.replace('/sheets', '/api/sheets')).then((a) => a.json()).then((s) => "
        "[s.picture.width_px, s.picture.height_px])"
    )
    assert size == [1600, 1200]
    edge = next(e for e in drawing["edges"] if e["family"] == "right" and e["visible"] == [[0.0, 1.0]])
    tilt = math.degrees(math.atan2(edge["p"][1] - edge["q"][1], edge["q"][0] - edge["p"][0]))
    room.page.keyboard.press("a")
    room.page.mouse.click(*easel.on_screen([640, 900]))
    room.page.keyboard.press("ArrowDown")
    room.page.keyboard.press("Enter")
    easel.drag(easel.on_screen(edge["p"]), easel.on_screen(edge["q"]))
    expect(easel.slips).to_have_count(1)
    expect(room.page.get_by_test_id("true")).to_have_count(0)
    room.saved()  # the answer is there, and nothing moves under the hand any more
    room.page.get_by_label("Show what is true, once judged and sighted").check()
    shown = room.page.get_by_test_id("true")
    expect(shown).to_have_count(1)
    said = float(re.sub("[^0-9.−-]", "", shown.text_content() or "").replace("−", "-"))
    assert abs((said - tilt + 90) % 180 - 90) < 0.1


def test_two_tabs_ask_before_a_set_up_is_overwritten(room: Room) -> None:
    room.open(BOXES)
    other = room.page.context.new_page()
    other.goto(room.page.url)
    expect(other.locator("[data-testid=stand][data-ready=true]")).to_be_visible(timeout=15_000)
    room.page.bring_to_front()
    room.drag(60, 0)
    here = room.view().eye_m
    other.get_by_role("slider", name="Height of the eye").focus()
    other.keyboard.press("ArrowUp")
    dialog = other.get_by_role("dialog", name="This set-up was changed in another tab")
    expect(dialog).to_be_visible()
    dialog.get_by_role("button", name="Take the other tab's set-up").click()
    expect(other.get_by_test_id("save-state")).to_have_text("Saved")
    assert room.view().eye_m == pytest.approx(here)


def test_set_ups_are_put_aside_brought_back_copied_and_refused_with_the_place(room: Room) -> None:
    room.page.goto(f"{room.served.url}/stand")
    cards = room.page.get_by_role("list", name="Set-ups").get_by_role("listitem")
    expect(cards).to_have_count(len(list(STANDS.glob("*.stand.json"))))
    room.page.get_by_role("button", name=f"Put {BOXES} aside").click()
    expect(cards).to_have_count(8)
    room.page.get_by_role("button", name="Bring it back").click()
    expect(cards).to_have_count(9)
    room.page.get_by_role("button", name=f"Duplicate {LAMP}").click()
    expect(room.page.get_by_role("link", name=f"Open {LAMP} (copy)")).to_be_visible()
    # a thumbnail is the exact drawing
    shown = room.page.get_by_role("link", name=f"Open {LAMP}", exact=True).locator("img")
    expect(shown).to_have_js_property("naturalWidth", 1280, timeout=15_000)
    content = {
        "name": "bad.json",
        "mimeType": "application/json",
        "buffer": json.dumps(ONE_BOX | {"things": [{"id": "a", "kind": "cube"}]}).encode(),
    }
    room.page.get_by_label("Set-up to open").set_input_files(content)  # type: ignore[arg-type]
    expect(room.page.get_by_role("alert")).to_contain_text("things[0]")
    expect(cards).to_have_count(10)


def test_without_webgl_the_exact_lines_stand_alone_and_can_be_drawn_from(room: Room) -> None:
    room.page.add_init_script(
        "const get = HTMLCanvasElement.prototype.getContext; "
        "HTMLCanvasElement.prototype.getContext = function (kind, ...rest) { return kind.startsWith('webgl') ? null : "
        "get.call(this, kind, ...rest) }"
    )
    room.open(BOXES)
    expect(room.page.locator("[data-exact=seen]")).to_have_count(1)
    before = room.view().heading_deg
    room.drag(80, 0)
    assert room.view().heading_deg != before
    room.page.get_by_role("button", name="Draw from this").click()
    room.page.wait_for_url("**/sheets/**", timeout=20_000)
    size = room.page.evaluate(
        "fetch(location.pathname.replace('/sheets', '/api/sheets')).then((a) => a.json()).then((s) => "
        "s.picture.width_px)"
    )
    assert size == 1600


def test_nothing_of_the_library_that_shades_is_loaded_elsewhere(room: Room) -> None:
    loaded: list[str] = []
    room.page.on("response", lambda answer: loaded.append(answer.url))
    Easel(room.page, room.served.url).open_demo("Crates on the slipway")
    assert not any("StandPage" in url for url in loaded)
    room.open(BOXES)
    assert any("StandPage" in url for url in loaded)


def test_the_stand_passes_axe(room: Room) -> None:
    room.page.goto(f"{room.served.url}/stand")
    expect(room.page.get_by_role("link", name=f"Open {BOXES}")).to_be_visible()
    assert faults(room.page) == []
    room.open("Net loft from plan and elevations")
    room.choose("Net loft")
    room.page.locator("summary").first.click()
    assert faults(room.page) == []
    room.page.keyboard.press("h")
    room.page.keyboard.press("e")
    expect(room.page.get_by_role("figure", name="Side")).to_be_visible()
    assert faults(room.page) == []
    room.page.keyboard.press("s")
    expect(room.page.get_by_test_id("steps")).to_be_visible()
    assert faults(room.page) == []
    room.page.keyboard.press("t")
    expect(room.page.get_by_role("dialog").get_by_role("img")).to_be_visible()
    assert faults(room.page) == []


def test_on_a_tablet_everything_is_within_reach(browser: Browser, served: Served) -> None:
    page = browser.new_context(viewport={"width": 820, "height": 1180}, has_touch=True).new_page()
    room = Room(page, served)
    room.open(BOXES)
    for shown in (
        page.get_by_test_id("stand"),
        page.get_by_label("Footprints"),
        page.get_by_role("list", name="Things"),
        page.get_by_label("Take up a view"),
    ):
        expect(shown).to_be_in_viewport()
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
