"""Nothing is lost: lost connections, a killed server, two tabs, refused photos, deleted sheets."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager
from pathlib import Path

import pytest
from playwright.sync_api import FilePayload, Page, Route, expect
from sqlalchemy import event as engine_event
from sqlalchemy.exc import OperationalError

from tests.browser.stage import DEMO_SHEETS, Easel
from tests.conftest import Served


@pytest.fixture
def easel(page: Page, served: Served) -> Easel:
    page.set_viewport_size({"width": 1280, "height": 800})
    return Easel(page, served.url)


def turn_first_family(easel: Easel, key: str) -> None:
    slip = easel.slips.nth(1)
    if slip.get_by_label("Family").count() == 0:
        slip.get_by_role("button").first.click()
    easel.stage.focus()
    easel.page.keyboard.press(key)


def leaves_unsent(easel: Easel, key: str) -> None:
    """A change that the server does not get."""
    turn_first_family(easel, key)
    expect(easel.page.get_by_text("Not saved yet")).to_be_visible()


def shows_first_family(easel: Easel, family: str) -> None:
    easel.slips.nth(1).get_by_role("button").first.click()
    expect(easel.slips.nth(1).get_by_label("Family")).to_have_value(family)


def test_a_killed_server_loses_nothing(easel: Easel, served: Served) -> None:
    easel.open_demo("Crates on the slipway")
    served.stop()
    leaves_unsent(easel, "d")
    served.start()
    easel.saved()
    easel.page.reload()
    shows_first_family(easel, "depth")


def test_a_page_closed_while_the_server_was_gone_keeps_its_work(easel: Easel, served: Served) -> None:
    easel.open_demo("Crates on the slipway")
    address = easel.page.url
    served.stop()
    leaves_unsent(easel, "d")
    easel.page.goto("about:blank")
    served.start()
    easel.page.goto(address)
    shows_first_family(easel, "depth")
    easel.saved()


def test_a_lost_connection_shows_and_heals(easel: Easel) -> None:
    easel.open_demo("Crates on the slipway")
    easel.page.context.set_offline(True)
    leaves_unsent(easel, "x")
    easel.page.context.set_offline(False)
    easel.saved()


@contextmanager
def full(served: Served) -> Iterator[None]:
    """As SQLite says it when its disk is full; `make torture` fills one up."""

    def refuse(connection: object, cursor: object, statement: str, *rest: object) -> None:
        if not statement.startswith("SELECT"):
            raise OperationalError(statement, {}, sqlite3.OperationalError("database or disk is full"))

    engine = served.app.extensions["aspectum"].sessions.kw["bind"]
    engine_event.listen(engine, "before_cursor_execute", refuse)
    yield
    engine_event.remove(engine, "before_cursor_execute", refuse)


@contextmanager
def read_only(served: Served) -> Iterator[None]:
    """SQLite itself refuses to write."""

    def say(pragma: str) -> None:
        engine_event.listen(engine, "connect", lambda connection, _: connection.execute(f"PRAGMA {pragma}"))
        engine.dispose()

    engine = served.app.extensions["aspectum"].sessions.kw["bind"]
    say("query_only=ON")
    yield
    say("query_only=OFF")


@pytest.mark.parametrize("spoilt", [full, read_only])
def test_a_disk_that_takes_nothing_more_is_told_and_the_work_is_kept_and_sent_later(
    easel: Easel, served: Served, spoilt: Callable[[Served], AbstractContextManager[None]]
) -> None:
    easel.open_demo("Crates on the slipway")
    with spoilt(served):
        turn_first_family(easel, "d")
        expect(
            easel.page.get_by_text("The disk is full or cannot be written. Your work is still on this page")
        ).to_be_visible()
    easel.saved()
    easel.page.reload()
    shows_first_family(easel, "depth")


def test_a_photo_that_the_disk_does_not_take_says_so_and_is_taken_later(
    easel: Easel, served: Served, tmp_path: Path, crates_jpeg: bytes
) -> None:
    files = served.app.extensions["aspectum"].files
    kept = files.folder
    files.folder = tmp_path / "no folder"
    files.folder.write_text("a file stands where the picture folder was")
    easel.home()
    photo: FilePayload = {"name": "slipway.jpg", "mimeType": "image/jpeg", "buffer": crates_jpeg}
    easel.page.locator("input[type=file]").first.set_input_files(photo)
    expect(easel.page.get_by_role("alert")).to_contain_text("could not be stored")
    files.folder = kept
    easel.page.locator("input[type=file]").first.set_input_files(photo)
    expect(easel.title).to_have_text("slipway")


def test_a_sheet_whose_photo_is_gone_from_the_disk_says_so_and_keeps_what_was_sighted(
    easel: Easel, served: Served
) -> None:
    """Picture folder and database came apart: another folder was mounted, or one of the two was restored alone."""
    for path in served.app.extensions["aspectum"].files.folder.glob("??/*.jpg"):
        path.unlink()
    easel.open_demo("Crates on the slipway")
    expect(easel.page.get_by_text("The photo did not come.")).to_be_visible()
    assert easel.slips.count() > 10
    turn_first_family(easel, "d")
    easel.saved()


@pytest.mark.parametrize("keep", ["mine", "theirs"])
def test_two_tabs_ask_before_anything_is_overwritten(easel: Easel, served: Served, keep: str) -> None:
    easel.open_demo("Crates on the slipway")
    other = Easel(easel.page.context.new_page(), served.url)
    other.page.goto(easel.page.url)
    expect(other.slips.first).to_be_visible()
    # the first tab must not look again by itself in this test
    easel.page.evaluate("window.addEventListener('focus', e => e.stopImmediatePropagation(), true)")
    turn_first_family(other, "d")
    other.saved()
    turn_first_family(easel, "x")
    dialog = easel.page.get_by_role("dialog", name="This sheet was changed in another tab")
    expect(dialog).to_be_visible()
    dialog.get_by_role("button", name="Keep what is here" if keep == "mine" else "Take the other").click()
    expect(dialog).to_have_count(0)
    easel.saved()
    family = easel.slips.nth(1).get_by_label("Family")
    expect(family).to_have_value("across" if keep == "mine" else "depth")
    easel.page.reload()
    easel.slips.nth(1).get_by_role("button").first.click()
    expect(family).to_have_value("across" if keep == "mine" else "depth")


def test_every_version_that_closed_tabs_left_behind_is_offered(easel: Easel, served: Served) -> None:
    """Two tabs on one sheet, each with work the server never got: neither clears the other's."""
    easel.open_demo("Crates on the slipway")
    address = easel.page.url
    other = Easel(easel.page.context.new_page(), served.url)
    other.page.goto(address)
    expect(other.slips.first).to_be_visible()
    served.stop()
    leaves_unsent(easel, "d")
    leaves_unsent(other, "x")
    easel.page.goto("about:blank")
    other.page.close()
    served.start()
    later = Easel(easel.page.context.new_page(), served.url)
    later.page.goto(address)
    dialog = later.page.get_by_role("dialog", name="Unsaved changes were left behind")
    expect(dialog.get_by_role("listitem")).to_have_count(2)
    later.page.keyboard.press("Escape")
    expect(dialog).to_be_visible()
    dialog.get_by_role("button", name="Take it up").first.click()
    dialog.get_by_role("button", name="Let it go").click()
    expect(dialog).to_have_count(0)
    later.saved()
    later.page.reload()
    shows_first_family(later, "across")


def test_a_reload_while_another_tab_works_leaves_that_tabs_work_alone(easel: Easel, served: Served) -> None:
    easel.open_demo("Crates on the slipway")
    other = Easel(easel.page.context.new_page(), served.url)
    other.page.goto(easel.page.url)
    expect(other.slips.first).to_be_visible()
    other.page.route(
        "**/api/sheets/*", lambda route: route.abort() if route.request.method == "PUT" else route.continue_()
    )
    leaves_unsent(other, "d")
    easel.page.reload()
    expect(easel.slips.first).to_be_visible()
    expect(easel.page.get_by_role("dialog")).to_have_count(0)
    other.page.unroute("**/api/sheets/*")
    other.saved()
    other.page.reload()
    shows_first_family(other, "depth")


def test_a_save_whose_answer_is_lost_is_no_conflict(easel: Easel) -> None:
    easel.open_demo("Crates on the slipway")
    lost: list[int] = []

    def lose_first_answer(route: Route) -> None:
        if route.request.method != "PUT" or lost:
            route.continue_()
            return
        lost.append(route.fetch().status)  # it is stored, and nobody hears of it
        route.abort()

    easel.page.route("**/api/sheets/*", lose_first_answer)
    leaves_unsent(easel, "d")
    easel.page.keyboard.press("x")  # the work goes on meanwhile
    easel.saved()
    assert lost == [200]
    expect(easel.page.get_by_role("dialog")).to_have_count(0)
    easel.page.reload()
    shows_first_family(easel, "across")


@pytest.mark.parametrize("choice", ["Bring it back with what is here", "Keep what is here as a new sheet"])
def test_work_on_a_sheet_deleted_elsewhere_is_kept(easel: Easel, served: Served, choice: str) -> None:
    easel.open_demo("Crates on the slipway")
    sheet = easel.page.url.rsplit("/", 1)[-1]
    assert easel.page.request.delete(f"{served.url}/api/sheets/{sheet}").ok
    tries: list[str] = []
    easel.page.on("request", lambda request: tries.append(request.url) if request.method == "PUT" else None)
    turn_first_family(easel, "d")
    dialog = easel.page.get_by_role("dialog", name="This sheet was deleted elsewhere")
    expect(dialog).to_be_visible()
    easel.page.wait_for_timeout(3000)
    assert len(tries) == 1  # it is not sent again and again
    dialog.get_by_role("button", name=choice).click()
    expect(dialog).to_have_count(0)
    easel.saved()
    expect(easel.title).to_have_text("Crates on the slipway" + (" (kept)" if "new" in choice else ""))
    easel.page.reload()
    shows_first_family(easel, "depth")


def test_a_deleted_sheet_opened_again_offers_the_work_that_was_not_saved(easel: Easel, served: Served) -> None:
    easel.open_demo("Crates on the slipway")
    address = easel.page.url
    served.stop()
    leaves_unsent(easel, "d")
    easel.page.goto("about:blank")
    served.start()
    assert easel.page.request.delete(f"{served.url}/api/sheets/{address.rsplit('/', 1)[-1]}").ok
    easel.page.goto(address)
    easel.page.get_by_role("button", name="Bring the sheet back").click()
    easel.saved()
    shows_first_family(easel, "depth")


def test_a_photo_that_waits_its_turn_says_so(easel: Easel, served: Served, crates_jpeg: bytes) -> None:
    easel.home()
    with served.app.extensions["aspectum"].photos.turn("ticket-before"):
        easel.page.get_by_label("Photo to open").set_input_files(
            {"name": "mine.jpg", "mimeType": "image/jpeg", "buffer": crates_jpeg}
        )
        expect(easel.page.get_by_text("Waiting: another photo is opened first.")).to_be_visible()
    expect(easel.title).to_have_text("mine", timeout=15_000)


def test_a_photo_larger_than_the_server_takes_is_refused_before_it_is_sent(easel: Easel, tmp_path: Path) -> None:
    easel.home()
    large = tmp_path / "large.jpg"
    with large.open("wb") as file:
        file.truncate(61 * 1024**2)
    easel.page.get_by_label("Photo to open").set_input_files(str(large))
    expect(easel.page.get_by_role("alert")).to_contain_text("larger than 60 MB")


def test_refused_photos_say_why_and_leave_the_list(easel: Easel, tmp_path: Path) -> None:
    easel.home()
    expect(easel.page.locator("[data-sheet]")).to_have_count(DEMO_SHEETS)
    fake = tmp_path / "drawing.jpg"
    fake.write_text("<svg xmlns='http://www.w3.org/2000/svg'><script>alert(1)</script></svg>")
    easel.page.get_by_label("Photo to open").set_input_files(str(fake))
    expect(easel.page.get_by_role("alert")).to_contain_text("This is an SVG drawing")
    expect(easel.page.locator("[data-sheet]")).to_have_count(DEMO_SHEETS)


def test_sheets_are_duplicated_renamed_deleted_and_brought_back(easel: Easel) -> None:
    easel.home()
    cards = easel.page.locator("[data-sheet]")
    easel.page.get_by_role("button", name="Duplicate The net loft").click()
    expect(cards).to_have_count(DEMO_SHEETS + 1)
    easel.page.get_by_role("button", name="Rename The net loft (copy)").click()
    field = easel.page.get_by_role("textbox", name="New title of The net loft (copy)")
    field.fill("Loft, second try")
    field.press("Enter")
    easel.page.get_by_role("button", name="Delete Loft, second try").click()
    expect(cards).to_have_count(DEMO_SHEETS)
    easel.page.get_by_role("button", name="Bring it back").click()
    expect(cards).to_have_count(DEMO_SHEETS + 1)


def test_a_photo_is_dropped_or_pasted(easel: Easel) -> None:
    for event in ("drop", "paste"):
        easel.home()
        expect(easel.page.locator("[data-sheet] img").first).to_be_visible()
        easel.page.evaluate(
            """async (event) => {
                const blob = await (await fetch(document.querySelector('[data-sheet] img').src)).blob();
                const carried = new DataTransfer();
                carried.items.add(new File([blob], `${event}.jpg`, {type: 'image/jpeg'}));
                const target = event === 'drop' ? document.querySelector('.open-photo') : window;
                target.dispatchEvent(event === 'drop'
                    ? new DragEvent('drop', {dataTransfer: carried, bubbles: true, cancelable: true})
                    : new ClipboardEvent('paste', {clipboardData: carried, bubbles: true}));
            }""",
            event,
        )
        expect(easel.title).to_have_text(event, timeout=15_000)
        expect(easel.page.get_by_text("Nothing is sighted yet")).to_be_visible()
