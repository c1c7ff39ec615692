"""What a class is given on paper and as files: pages for parents' evening, names of files, codes, and what is said of a
room's answers.
"""

from __future__ import annotations

import io
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any

import cv2
import numpy as np
import pypdf
import pytest

from aspectum.core.practice.question import AnswerBy, Number, Question, Told
from aspectum.core.practice.skills import Skill
from aspectum.formats.marks import MarkRow
from aspectum.service.pages.evening_page import MOST_ASSIGNMENTS, MOST_SKILLS, EveningPage, evening_pdf
from aspectum.service.pages.qr import qr_image
from aspectum.service.practice.drill_question import document_of
from aspectum.service.practice.history import Past
from aspectum.service.practice.logbook import NextNote, row_of
from aspectum.service.school.room import spread
from aspectum.service.school.take_away import file_name, picture_name
from aspectum.store.models import Picture
from aspectum.store.room import RoomAnswer, RoomQuestion

AT = datetime(2026, 11, 26, 19, 30, tzinfo=UTC)
PAGE = EveningPage("Ilse", [], [], 0, [])


def mark(title: str, **changed: Any) -> MarkRow:
    return replace(MarkRow("Ilse", title, 1, AT, False, 9, 2, 1, 12, "B+", "The uprights stand.", AT), **changed)


def skill(of: Skill, error: float, n: int = 20) -> Any:
    days = np.arange(float(n)) + 20_000.0
    errors = error + np.tile([-1.0, 1.0], n // 2)
    return row_of(Past(of, days, errors, np.full(n, np.nan), 0.3), float(days[-1]))


def read(*pages: EveningPage, name: str = "Harbour class") -> list[str]:
    return [page.extract_text() for page in pypdf.PdfReader(io.BytesIO(evening_pdf(name, list(pages), AT))).pages]


# --- parents' evening
# ----------------------------------------------------------------------------------------------------


def test_a_page_tells_what_was_handed_in_and_what_was_not() -> None:
    late = mark("Seven boxes", late=True)
    nothing = mark(
        "Ten rounds",
        number=None,
        handed_in=None,
        holds=None,
        off=None,
        unsure=None,
        judged=None,
        mark="",
        word="",
        returned=None,
    )
    (page,) = read(replace(PAGE, marks=[mark("Two cubes"), late, nothing]))
    assert all(
        words in page
        for words in (
            "Ilse",
            "Harbour class",
            "26 November 2026",
            "Two cubes",
            "9 hold, 2 off",
            "B+",
            "26 Nov, late",
            "not handed in",
        )
    )


def test_a_page_tells_skills_with_their_bias_and_the_note_for_next_time() -> None:
    note = NextNote("Crates, in pencil", ["Eye level first."], AT, None)
    (page,) = read(replace(PAGE, skills=[skill(Skill.LOWER_RIM, -6.0)], readings=20, notes=[note]))
    assert "Lower rims" in page and "−6.0" in page and "20 readings" in page and "Eye level first." in page


def test_a_beginners_page_says_that_nothing_is_known_yet() -> None:
    (page,) = read(PAGE)
    assert "Nothing was set yet." in page and "Too few readings" in page


def test_the_fullest_page_is_one_page() -> None:
    """Long titles, long words, every row taken: nothing runs on to a second sheet of paper."""
    marks = [
        mark(f"Assignment {k} with a title that goes on for a while", word="A word that says a good deal. " * 20)
        for k in range(MOST_ASSIGNMENTS + 5)
    ]
    skills = [skill(of, 4.0) for of in list(Skill)[:MOST_SKILLS]]
    notes = [NextNote("Fish boxes on the slipway", ["Block in by the third of the time. " * 4], AT, None)] * 2
    (page,) = read(replace(PAGE, marks=marks, skills=skills, readings=400, notes=notes))
    assert f"Assignment {MOST_ASSIGNMENTS - 1} " in page and f"Assignment {MOST_ASSIGNMENTS} " not in page


def test_each_student_has_a_page_and_an_empty_class_one_that_says_so() -> None:
    pages = read(replace(PAGE, name="Ilse"), replace(PAGE, name="Onno"))
    assert ["Ilse" in page for page in pages] == [True, False] and ["Onno" in page for page in pages] == [False, True]
    (none,) = read()
    assert "no students yet" in none


@pytest.mark.parametrize("name", ["<b>Ilse</b>", "Ilse & Onno", "5 < 6", "</para>"])
def test_what_a_name_says_in_markup_is_printed_as_it_is_written(name: str) -> None:
    (page,) = read(replace(PAGE, name=name, marks=[mark(name, word=name, mark="A")]), name=name)
    assert page.count(name) >= 3


# --- files to take away
# ----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("title", "kept"),
    [
        ("Crates on the slipway", "Crates on the slipway"),
        ("../../etc/passwd", "passwd"),
        ("a/b\\c: d?", "c d"),
        ("木箱とペンキ缶", "木箱とペンキ缶"),
        ("…", "untitled"),
        ("", "picture"),
        ("x" * 200, "x" * 60),
    ],
)
def test_a_title_is_a_safe_name_for_a_file(title: str, kept: str) -> None:
    assert file_name(title, "0123456789abcdef") == f"{kept} 01234567"


def test_two_things_of_one_title_are_two_files() -> None:
    assert file_name("Crates", "a" * 32) != file_name("Crates", "b" * 32)
    first, second = (
        Picture(id=id, name="crates.jpg", sha256="0" * 64, width_px=1, height_px=1) for id in ("a" * 32, "b" * 32)
    )
    assert picture_name(first) == "crates aaaaaaaa.jpg" and picture_name(second) != picture_name(first)


# --- the code on the projector
# ----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    "address", ["https://drawing.example.org/join/ABCDEFGH", "http://192.168.1.20:8340/phone/" + "ImFiYyI.aBcDeF." * 5]
)
def test_a_code_is_an_image_in_itself_with_its_white_margin(address: str) -> None:
    """The policy lets no page load from elsewhere; the margin of four modules is what ISO/IEC 18004 asks for (*from
    memory*).
    """
    import segno

    image = qr_image(address)
    assert image.startswith("data:image/svg+xml") and "fff" in image and "000" in image
    code = segno.make(address, error="m")
    matrix = np.array([list(row) for row in code.matrix_iter(scale=6, border=4)], dtype=np.uint8)
    assert cv2.QRCodeDetector().detectAndDecode(np.where(matrix > 0, 0, 255).astype(np.uint8))[0] == address


# --- what is said of a room's answers
# ----------------------------------------------------------------------------------------------------

QUESTION = Question(Skill.LEFT_BELOW, 0.5, AnswerBy.NEEDLE, None, None, (), Number(Told.TILT, 20.0), truth_sd=0.1)
ROW = RoomQuestion(title="Crates", document=document_of(QUESTION))


def given(*judged: float) -> list[RoomAnswer]:
    return [
        RoomAnswer(person_id=str(k), answer=value, judged=value, truth=20.0, made_at=AT + timedelta(seconds=k))
        for k, value in enumerate(judged)
    ]


def test_nobodys_answers_have_no_spread() -> None:
    assert spread(ROW, []) is None


@pytest.mark.parametrize(
    ("judged", "right", "words"),
    [
        ((20.0, 22.0), 2, "2 of 2 within tolerance. Together 1° too steep; apart by 1.4° (standard deviation)."),
        ((10.0, 14.0, 12.0), 0, "0 of 3 within tolerance. Together 8° too flat; apart by 2° (standard deviation)."),
        ((30.0, 10.0), 0, "0 of 2 within tolerance. Together they hit it; apart by 14° (standard deviation)."),
        ((26.0,), 0, "0 of 1 within tolerance. Together 6° too steep."),
    ],
)
def test_a_room_is_told_how_many_hit_it_which_way_it_errs_and_how_far_it_lies_apart(
    judged: tuple[float, ...], right: int, words: str
) -> None:
    """Constant and variable error (handbook section 8); within the freehand tolerance of 3° (section 6)."""
    found = spread(ROW, given(*judged))
    assert found is not None and (found.right, found.words, found.errors.count) == (right, words, len(judged))


def test_in_which_order_answers_come_changes_nothing() -> None:
    answers = given(12.0, 25.0, 19.0, 31.0)
    assert spread(ROW, answers) == spread(ROW, answers[::-1])
