"""The class, driven as a tutor and students drive it, in browsers side by side."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator

import pytest
from playwright.sync_api import Browser, Page, expect

from aspectum.store.classes import SignIn
from tests.browser.stage import Easel, enter_as
from tests.browser.test_access import faults
from tests.conftest import Served

SIZES = {"projector": (1280, 800), "tablet": (820, 1180), "telephone": (390, 780)}
Open = Callable[..., Page]


@pytest.fixture
def enter(browser: Browser, harbour: Served) -> Iterator[Open]:
    """A new browser for somebody of the harbour class, at its first page; nobody signs in without a name."""
    contexts = []

    def opened(who: str | None = None, size: str = "projector") -> Page:
        width, height = SIZES[size]
        context = browser.new_context(viewport={"width": width, "height": height})
        contexts.append(context)
        page = context.new_page()
        if who is None:
            page.goto(harbour.url)
        else:
            enter_as(page, harbour.url, who)
        return page

    yield opened
    for context in contexts:
        context.close()


def part(page: Page, name: str) -> None:
    """Go to a part of the tutor's class."""
    page.get_by_role("navigation", name="Class").get_by_role("link", name=name).click()


def go_to_sheets(page: Page) -> None:
    """By the bar, whose places stand in a menu where a class makes five of them."""
    page.get_by_role("navigation", name="Places").get_by_role("button").click()
    page.get_by_role("menuitem", name="Sheets").click()
    expect(page.get_by_role("heading", name="Sheets")).to_be_visible()


def ask_first_edge(tutor: Page) -> None:
    part(tutor, "Ask the room")
    tutor.get_by_role("button", name="Two cubes").click()
    tutor.get_by_role("button", name=re.compile("Left edges below")).first.click()
    expect(tutor.get_by_text("answered")).to_be_visible()


def answer(student: Page, value: str) -> None:
    student.get_by_role("spinbutton").fill(value)
    student.keyboard.press("Enter")
    student.get_by_role("button", name="Commit").click()
    expect(student.get_by_text("Your answer is in.")).to_be_visible()


# --- a question for the whole room
# ----------------------------------------------------------------------------------------------------


def test_one_click_signs_in_the_demos_people(enter: Open) -> None:
    page = enter()
    page.get_by_role("button", name="Maren").click()
    expect(page).to_have_url(re.compile("/class"))


def test_a_question_goes_round_the_room_from_asking_to_everybodys_logbook(enter: Open) -> None:
    tutor, ilse, onno = enter("Maren"), enter("Ilse", "tablet"), enter("Onno", "telephone")
    for student in (ilse, onno):
        student.wait_for_load_state("networkidle")  # what is due comes in above the link and moves it
        student.get_by_role("link", name="Questions for the room").click()
        expect(student.get_by_text("Nothing is asked just now.")).to_be_visible()
    ask_first_edge(tutor)
    for student, value in ((ilse, "-38"), (onno, "-20")):
        expect(student.get_by_role("button", name="Commit")).to_be_visible()  # by itself
        answer(student, value)
    expect(tutor.get_by_text("2 of 2 answered")).to_be_visible()
    assert tutor.get_by_test_id("needle").count() == 0 and tutor.get_by_text("Onno").count() == 0
    tutor.get_by_role("button", name="Stop (Enter)").click()
    expect(tutor.get_by_test_id("needle")).to_have_count(2)
    assert tutor.locator(".drill-truth").count() == 0
    tutor.get_by_role("button", name="The truth (Enter)").click()
    expect(tutor.locator(".drill-truth")).to_have_count(1)
    expect(tutor.get_by_text("1 of 2 within tolerance.")).to_be_visible()
    expect(ilse.get_by_text("within tolerance")).to_be_visible()
    expect(onno.get_by_text("too flat")).to_be_visible()
    tutor.get_by_role("button", name="Show who").click()
    expect(tutor.get_by_role("listitem").filter(has_text="Onno")).to_be_visible()
    onno.goto(onno.url.split("/class")[0] + "/logbook")
    onno.get_by_role("button", name=re.compile("Left edges below eye level")).click()
    expect(onno.get_by_text("room", exact=True).first).to_be_visible()


def test_a_device_that_dropped_off_comes_back_to_the_running_question(enter: Open, harbour: Served) -> None:
    tutor, ilse = enter("Maren"), enter("Ilse")
    ask_first_edge(tutor)
    expect(ilse.get_by_role("button", name="Commit")).to_be_visible()  # from the first page by itself
    ilse.go_back()
    expect(ilse.get_by_text("The tutor asks the room.")).to_be_visible()  # and who leaves it finds it there
    ilse.get_by_role("link", name="Answer").click()
    expect(ilse.get_by_role("button", name="Commit")).to_be_visible()
    harbour.stop()
    expect(ilse.get_by_role("alert")).to_contain_text("cannot be reached")
    harbour.start()
    expect(ilse.get_by_role("alert")).to_have_count(0, timeout=10_000)
    answer(ilse, "-38")
    ilse.reload()
    expect(ilse.get_by_text("Your answer is in.")).to_be_visible()


def test_the_room_is_led_by_the_keyboard(enter: Open) -> None:
    tutor, ilse = enter("Maren"), enter("Ilse")
    ilse.get_by_role("link", name="Questions for the room").click()
    ask_first_edge(tutor)
    answer(ilse, "-38")
    expect(tutor.get_by_text("1 of 1 answered")).to_be_visible()
    tutor.locator("h1").click()
    tutor.keyboard.press("Enter")
    expect(tutor.get_by_role("button", name="The truth")).to_be_visible()
    tutor.keyboard.press("Enter")
    expect(tutor.locator(".drill-truth")).to_have_count(1)
    tutor.keyboard.press("w")
    expect(tutor.get_by_role("listitem").filter(has_text="Ilse")).to_be_visible()
    tutor.keyboard.press("a")
    expect(tutor.get_by_role("heading", name="Ask the room")).to_be_visible()


def judge_and_lay(easel: Easel, p: tuple[float, float], q: tuple[float, float]) -> None:
    """An edge judged by eye first, and then laid."""
    page = easel.page
    page.get_by_role("button", name="Add an edge").click()
    page.mouse.click(*easel.on_screen(p))
    needle = page.get_by_role("slider", name="Needle")
    expect(needle).to_be_focused()
    for _ in range(3):
        page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Enter")
    expect(needle).to_have_count(0)
    easel.drag(easel.on_screen(p), easel.on_screen(q))
    expect(easel.slips).to_have_count(1)


# --- assignments and review
# ----------------------------------------------------------------------------------------------------


def test_an_assignment_is_begun_handed_in_marked_and_read(enter: Open, harbour: Served) -> None:
    tutor, student = enter("Maren"), enter("Reemt")
    line = student.get_by_role("listitem").filter(has_text="Two cubes")
    line.get_by_role("button", name="Begin").click()
    expect(student.get_by_text("For “Two cubes, above and below eye level”.")).to_be_visible()
    expect(student.get_by_label("Judge first")).to_be_disabled()  # the assignment settles it
    easel = Easel(student, harbour.url)
    judge_and_lay(easel, (320.0, 700.0), (400.0, 760.0))
    easel.saved()
    student.get_by_role("link", name="Hand in").click()
    line.get_by_role("button", name="Hand in").click()
    wanted = student.get_by_role("dialog").get_by_role("list", name="To hand in").get_by_role("listitem")
    expect(wanted.filter(has_text="sightings")).to_have_attribute("data-there", "true")
    expect(wanted.filter(has_text="a note")).to_have_attribute("data-there", "false")
    student.get_by_label("What will you watch next time?").fill("Below eye level edges climb.")
    expect(wanted.filter(has_text="a note")).to_have_attribute("data-there", "true")
    student.get_by_role("dialog").get_by_role("button", name="Hand in").click()
    expect(student.get_by_role("region", name="With the tutor").get_by_text("Two cubes")).to_be_visible()
    # the tutor finds it on the board, pins a remark with a phrase of their own, and gives it back
    tutor.reload()
    tutor.get_by_role("link", name="Reemt, Two cubes").click()
    expect(tutor.get_by_text("Below eye level edges climb.")).to_be_visible()
    tutor.get_by_role("button", name="Remark at a place").click()
    tutor.get_by_role("button", name="Compare it with the near upright once more.").click()
    pin = tutor.get_by_role("button", name=re.compile("Remark 1: Compare"))
    before = pin.bounding_box()
    pin.focus()
    tutor.keyboard.press("ArrowRight")
    after = pin.bounding_box()
    assert before is not None and after is not None and after["x"] > before["x"]
    tutor.get_by_role("textbox", name="Mark", exact=True).fill("B")
    tutor.get_by_label("A word").fill("Judged first; good.")
    expect(tutor.get_by_text("Kept", exact=True)).to_be_visible()
    tutor.get_by_role("button", name="Give back").click()
    expect(tutor.get_by_role("button", name="Given back")).to_be_disabled()
    student.reload()
    back = student.get_by_role("region", name="Came back")
    expect(back.get_by_text("Judged first; good.")).to_be_visible()
    back.get_by_role("link", name="Read the remarks").click()
    expect(student.get_by_text("Compare it with the near upright once more.").first).to_be_visible()
    assert student.get_by_role("button", name="Give back").count() == 0 and student.locator("textarea").count() == 0
    student.get_by_role("link", name="Class", exact=True).last.click()
    back.get_by_role("button", name="Mend it").click()
    expect(student.get_by_role("complementary", name="From the tutor")).to_contain_text("Judged first; good.")


def test_the_students_critique_shows_the_tutors_remarks_where_they_are_pinned(enter: Open) -> None:
    ilse = enter("Ilse")
    go_to_sheets(ilse)
    ilse.get_by_role("link", name=re.compile("Crates on the slipway")).first.click()
    ilse.get_by_role("link", name="Paper").click()
    told = ilse.get_by_role("complementary", name="From the tutor")
    expect(told).to_contain_text("Eye level sits too high")
    expect(told).to_contain_text("look where eye level runs")
    expect(ilse.get_by_test_id("remark-pins").get_by_text("1")).to_be_visible()


def test_the_tutor_goes_from_student_to_student_on_a_key_and_nothing_written_is_lost(enter: Open) -> None:
    tutor = enter("Maren")
    tutor.get_by_role("link", name="Fenja, Two cubes").click()
    expect(tutor.get_by_text("Fenja: Two cubes")).to_be_visible()
    tutor.get_by_label("A word").fill("Sure hand.")
    tutor.get_by_role("heading", name="Every sighting").click()
    tutor.keyboard.press("n")
    expect(tutor.get_by_text("Hauke: Two cubes")).to_be_visible()
    tutor.keyboard.press("p")
    expect(tutor.get_by_text("Fenja: Two cubes")).to_be_visible()
    expect(tutor.get_by_label("A word")).to_have_value("Sure hand.")


def test_a_second_try_stands_beside_the_first(enter: Open) -> None:
    tutor = enter("Maren")
    tutor.get_by_role("link", name="Tjark, Crates").click()
    tries = tutor.get_by_role("list", name="Tries")
    expect(tries.get_by_role("listitem")).to_have_count(2)
    tries.get_by_role("link", name="Try 1").click()
    expect(tutor.get_by_text("try 1,")).to_be_visible()
    expect(tries.get_by_role("link", name="Try 1")).to_have_attribute("aria-current", "page")


def test_an_exercise_is_edited_and_set(enter: Open) -> None:
    tutor = enter("Maren")
    part(tutor, "Assignments")
    tutor.get_by_role("button", name="Seven boxes, stacked").click()
    tutor.get_by_label("Title").fill("Fish boxes, seven of them")
    tutor.get_by_label("the drawing", exact=True).uncheck()
    tutor.get_by_label("its critique").uncheck()
    tutor.get_by_role("combobox", name="Tolerance").select_option("ruled")
    tutor.get_by_label("Against the clock").check()
    tutor.get_by_role("button", name="Set it").click()
    expect(tutor.get_by_role("button", name="Fish boxes, seven of them")).to_be_visible()
    student = enter("Ilse")
    line = student.get_by_role("listitem").filter(has_text="Fish boxes, seven of them")
    expect(line).to_contain_text("40 minutes.")
    line.get_by_role("button", name="Begin").click()
    expect(student.get_by_text("For “Fish boxes, seven of them”.")).to_be_visible()


def test_a_tutor_without_a_photo_is_told_what_is_missing_and_keeps_the_draft(enter: Open) -> None:
    tutor = enter("Maren")
    part(tutor, "Assignments")
    tutor.get_by_role("button", name="A building from a photo").click()
    tutor.get_by_label("Title").fill("The net loft")
    tutor.get_by_role("button", name="Set it").click()
    expect(tutor.get_by_role("alert")).to_contain_text("Choose a sheet of yours with a photo")
    expect(tutor.get_by_label("Title")).to_have_value("The net loft")


# --- people
# ----------------------------------------------------------------------------------------------------


def test_a_newcomer_joins_by_the_code_on_the_projector(enter: Open) -> None:
    tutor = enter("Maren")
    part(tutor, "People")
    tutor.get_by_role("button", name="Show it large").click()
    dialog = tutor.get_by_role("dialog")
    expect(dialog.get_by_role("img", name="QR code of the link to join")).to_be_visible()
    code = dialog.locator(".class-code").text_content() or ""
    newcomer = enter()
    newcomer.get_by_role("link", name="Join with the class code").click()
    newcomer.get_by_label("Class code").fill(code.lower())
    newcomer.get_by_role("button", name="Go on").click()
    expect(newcomer.get_by_text("Harbour class, Thursday evening")).to_be_visible()
    newcomer.get_by_label("Your name").fill("Ilse")
    newcomer.get_by_label("Passphrase").fill("pump house gable")
    newcomer.get_by_role("button", name="Join").click()
    expect(newcomer.get_by_role("alert")).to_contain_text("Add an initial")
    newcomer.get_by_label("Your name").fill("Ilse K.")
    newcomer.get_by_role("button", name="Join").click()
    expect(newcomer.get_by_role("heading", name="Harbour class")).to_be_visible()
    tutor.reload()
    expect(tutor.get_by_role("list", name="Members").get_by_text("Ilse K.", exact=True)).to_be_visible()


def test_a_student_joins_a_second_class_as_they_are_and_its_tutor_copies_the_term_into_it(enter: Open) -> None:
    tutor, student = enter("Maren"), enter("Ilse")
    tutor.get_by_role("button", name="Maren").click()
    tutor.get_by_role("menuitem", name="Name, passphrase, your work").click()
    tutor.get_by_label("Name of the class").fill("Spring class")
    tutor.get_by_role("button", name="Make the class").click()
    part(tutor, "Assignments")
    tutor.get_by_role("button", name="Copy from another class").click()
    dialog = tutor.get_by_role("dialog")
    dialog.get_by_role("checkbox", name="Two cubes").uncheck()
    dialog.get_by_label("later by").fill("26")
    dialog.get_by_role("button", name=re.compile("Set . in this class")).click()
    expect(dialog).to_have_count(0)
    expect(
        tutor.get_by_role("region", name="Assignments").get_by_role("listitem").filter(has_text="due").first
    ).to_be_visible()
    part(tutor, "People")
    code = (tutor.locator(".class-code").text_content() or "").replace(" ", "")
    student.goto(f"{student.url.split('/class')[0]}/join/{code}")
    student.get_by_role("button", name="Join as Ilse").click()
    expect(student.get_by_role("heading", name="Spring class")).to_be_visible()
    student.get_by_role("navigation", name="Your other classes").get_by_role("link", name="Harbour class").click()
    expect(student.get_by_role("heading", name="Harbour class")).to_be_visible()
    # the bare address leads a student to the class
    student.goto(student.url.split("/class")[0])
    expect(student).to_have_url(re.compile("/class$"))


def test_a_guest_needs_a_name_only_and_can_stay(enter: Open) -> None:
    tutor, guest = enter("Maren"), enter()
    part(tutor, "People")
    code = (tutor.locator(".class-code").text_content() or "").replace(" ", "")
    guest.goto(f"{guest.url}join/{code}")
    guest.get_by_label("Your name").fill("Elske")
    guest.get_by_label("I am here for one lesson only").check()
    guest.get_by_role("button", name="Join").click()
    expect(guest).to_have_url(re.compile("/class$"))
    guest.get_by_role("button", name="Elske", exact=True).click()
    guest.get_by_role("menuitem", name="Name, passphrase, your work").click()
    guest.get_by_label("From now on").fill("sluice gate heron")
    guest.get_by_role("button", name="Stay").click()
    expect(guest.get_by_role("heading", name="Passphrase")).to_be_visible()


def test_whoever_is_removed_is_asked_to_sign_in_over_their_work_which_stays(enter: Open, harbour: Served) -> None:
    """As when a sign-in ends in the middle of a lesson."""
    tutor, student = enter("Maren"), enter("Ilse")
    go_to_sheets(student)
    student.get_by_role("link", name=re.compile("Crates on the slipway")).first.click()
    expect(student.get_by_test_id("save-state")).to_have_text("Saved")
    part(tutor, "People")
    tutor.get_by_role("button", name="Change Ilse").click()
    tutor.get_by_role("menuitem", name="Remove from the class").click()
    expect(tutor.get_by_role("list", name="Removed").get_by_text("Ilse", exact=True)).to_be_visible()
    student.get_by_role("button", name="Title of the sheet").click()
    title = student.get_by_role("textbox", name="Title of the sheet")
    title.fill("Crates again")
    title.press("Enter")
    dialog = student.get_by_role("dialog", name="You are signed out")
    expect(dialog).to_be_visible()
    # brought back with a passphrase, the student signs in over the work, and it is saved
    tutor.get_by_role("button", name="Change Ilse").click()
    tutor.get_by_role("menuitem", name="Bring back").click()
    expect(tutor.get_by_role("list", name="Members").get_by_text("Ilse", exact=True)).to_be_visible()
    tutor.get_by_role("button", name="Change Ilse").click()
    tutor.get_by_role("menuitem", name="Set a new passphrase").click()
    tutor.get_by_role("textbox", name="Passphrase").fill("sluice gate heron")
    tutor.get_by_role("button", name="Set it").click()
    expect(tutor.get_by_role("dialog")).to_have_count(0)
    dialog.get_by_label("Name").fill("Ilse")
    dialog.get_by_label("Passphrase").fill("sluice gate heron")
    dialog.get_by_role("button", name="Sign in").click()
    expect(student.get_by_test_id("save-state")).to_have_text("Saved", timeout=10_000)
    student.reload()
    expect(student.get_by_role("button", name="Title of the sheet")).to_contain_text("again")


def test_signing_out_leaves_nothing_of_one_person_to_the_next(enter: Open, harbour: Served) -> None:
    student = enter("Ilse")
    go_to_sheets(student)
    student.get_by_role("link", name=re.compile("Crates on the slipway")).first.click()
    expect(student.get_by_test_id("save-state")).to_have_text("Saved")
    address = student.url
    student.get_by_role("button", name="Ilse").click()
    student.get_by_role("menuitem", name="Sign out").click()
    expect(student.get_by_role("heading", name="Sign in")).to_be_visible()
    with harbour.app.extensions["aspectum"].sessions() as session:
        assert session.query(SignIn).count() == 0
    student.get_by_role("button", name="Onno").click()
    expect(student).to_have_url(re.compile("/class"))
    student.goto(address)
    expect(student.get_by_text("There is no such sheet.")).to_be_visible()
    student.goto(f"{harbour.url}/")
    expect(student.get_by_text("Crates on the slipway")).to_have_count(1)  # of Onno's own, which he began for the class


def test_alone_one_makes_a_class_and_keeps_everything(page: Page, served: Served) -> None:
    page.goto(served.url)
    page.get_by_role("button", name="You, and a class").click()
    page.get_by_label("Name of the class").fill("Morning class")
    page.get_by_label("Your name").fill("Hauke")
    page.get_by_label("Your passphrase").fill("tern rope lantern")
    page.get_by_role("button", name="Make the class").click()
    expect(page.get_by_text("Nobody has joined yet.")).to_be_visible()
    go_to_sheets(page)
    expect(page.get_by_role("link", name=re.compile("Crates on the slipway")).first).to_be_visible()


def test_a_photo_comes_from_the_telephone_to_the_sheet_on_the_screen(
    browser: Browser, page: Page, served: Served, crates_jpeg: bytes
) -> None:
    page.goto(served.url)
    page.get_by_role("button", name="From life", exact=True).click()
    page.get_by_role("button", name="Sheet", exact=True).click()
    page.get_by_role("menuitem", name="Put a photo under it").click()
    page.get_by_role("button", name="From the telephone").click()
    dialog = page.get_by_role("dialog", name="Send from the telephone")
    expect(dialog.get_by_role("img", name="QR code of the link")).to_be_visible()
    link = dialog.get_by_text("/phone/").text_content() or ""
    telephone = browser.new_page(viewport={"width": 390, "height": 780})
    telephone.goto(link)
    expect(telephone.get_by_text("It goes to “From life”")).to_be_visible()
    assert faults(telephone) == []
    telephone.get_by_label("Photo to send").set_input_files(
        {"name": "set-up.jpg", "mimeType": "image/jpeg", "buffer": crates_jpeg}
    )
    expect(telephone.get_by_text("It has arrived.")).to_be_visible()
    expect(page).to_have_url(re.compile(r"/sheets/\w+$"), timeout=10_000)
    expect(page.get_by_test_id("stage")).to_be_visible()
    telephone.close()


# --- for everybody
# ----------------------------------------------------------------------------------------------------


def test_every_screen_of_the_class_passes_axe(enter: Open) -> None:
    door = enter()
    expect(door.get_by_role("heading", name="Sign in")).to_be_visible()
    assert faults(door) == []
    tutor, student = enter("Maren"), enter("Ilse", "tablet")
    expect(tutor.get_by_role("table")).to_be_visible()
    assert faults(tutor) == []
    for name in ("Assignments", "People", "Ask the room"):
        part(tutor, name)
        expect(tutor.locator("h1")).to_have_text("Harbour class, Thursday evening" if name == "People" else name)
        assert faults(tutor) == [], name
    part(tutor, "Board")
    tutor.get_by_role("link", name="Ilse, A drawing").click()
    expect(tutor.get_by_role("heading", name="Causes", exact=True)).to_be_visible()
    assert faults(tutor) == []
    expect(student.get_by_role("heading", name="Came back")).to_be_visible()
    assert faults(student) == []
    student.goto(student.url.replace("/class", "/me"))
    expect(student.get_by_role("heading", name="Delete everything").first).to_be_visible()
    assert faults(student) == []
    tutor.go_back()
    ask_first_edge(tutor)
    assert faults(tutor) == []
    student.goto(student.url.replace("/me", "/class"))
    expect(student.get_by_role("button", name="Commit")).to_be_visible()
    expect(student.get_by_role("button", name="Commit")).to_be_visible()
    assert faults(student) == []


@pytest.mark.parametrize("size", ["projector", "tablet"])
def test_nothing_of_the_class_runs_out_of_the_screen(enter: Open, size: str) -> None:
    tutor = enter("Maren", size)
    wide = SIZES[size][0]

    def fits(name: str) -> None:
        tutor.wait_for_load_state("networkidle")
        assert tutor.evaluate("document.documentElement.scrollWidth") <= wide, name
        assert tutor.evaluate("document.querySelector('header').scrollWidth") <= wide, name

    expect(tutor.get_by_role("table")).to_be_visible()
    fits("Board")
    for name in ("Assignments", "People", "Ask the room"):
        part(tutor, name)
        fits(name)
    part(tutor, "Board")
    tutor.get_by_role("link", name="Ilse, A drawing").click()
    expect(tutor.get_by_role("heading", name="Causes", exact=True)).to_be_visible()
    fits("a piece")
