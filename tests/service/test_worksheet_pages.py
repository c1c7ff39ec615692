"""Printed worksheets read back: text, sizes, two weights of line, and what each kind states."""

from __future__ import annotations

import io
import re

import pypdf
import pytest

from aspectum.core.worksheet.exercise import ExerciseKind, Grade, Role, Said
from aspectum.pictures.corner_marks import mark_boxes
from aspectum.pictures.papers import ISO_216
from aspectum.service.pages.worksheet_page import THICK, THIN, Page, field_of, worksheet_svg, worksheets_pdf
from aspectum.service.school.worksheets import PAPERS
from aspectum.service.words.worksheets import (
    NEAR_CORNER,
    SENTENCES,
    TITLES,
    brought_words,
    sentence,
    stated_words,
    tag_words,
)
from tests.worksheet_scenes import printed_sheet

MM = 72 / 25.4
KINDS = list(ExerciseKind)


def pages(data: bytes) -> list[pypdf.PageObject]:
    return list(pypdf.PdfReader(io.BytesIO(data)).pages)


def weights_mm(page: pypdf.PageObject) -> set[float]:
    content = page.get_contents()
    assert content is not None
    return {round(float(w) / MM, 2) for w in re.findall(rb"([\d.]+) w\b", content.get_data())}


@pytest.mark.parametrize("kind", KINDS)
def test_a_sheet_carries_its_sentence_and_its_number_and_the_answer_a_page_of_its_own(kind: ExerciseKind) -> None:
    sheet = printed_sheet(kind, code=765_432).model_copy(update={"name": "Ilse", "class_line": "Harbour class"})
    asked, answer = pages(worksheets_pdf("A set", [Page(sheet)]))
    text, told = (" ".join(page.extract_text().split()) for page in (asked, answer))
    assert str(TITLES[kind]) in text and f"{TITLES[kind]}: answer" in told
    assert sentence(kind, Grade.EASY) in text
    for line in ("Ilse", "Harbour class", "No. 765432", "A4, 1 : 1", "100 mm: measure this bar after printing"):
        assert line in text, line
    assert [float(v) / MM for v in asked.mediabox[2:]] == pytest.approx([297.0, 210.0], abs=0.01), "true to size"
    # thin and thick as 1 : 2 (ISO 128-2:2020), beside the check bar's own
    assert {THIN, THICK} <= weights_mm(asked) and {THIN, THICK} <= weights_mm(answer) and THICK == 2 * THIN


def test_eye_level_is_stated_but_where_it_is_asked_and_points_but_where_they_are_to_be_found() -> None:
    def text(kind: ExerciseKind, grade: Grade = Grade.EASY) -> str:
        return pages(worksheets_pdf("", [Page(printed_sheet(kind, grade=grade))], answers=False))[0].extract_text()

    assert "from the sheet's top" in text(ExerciseKind.RIM_LADDER) and "from the sheet's top" not in text(
        ExerciseKind.EYE_LEVEL
    )
    assert "VPs " in text(ExerciseKind.NEAR_CORNER) and "off its" in text(ExerciseKind.NEAR_CORNER, Grade.HARD)
    assert "VPs " not in text(ExerciseKind.NEAR_CORNER, Grade.MIDDLE)


@pytest.mark.parametrize("paper", PAPERS)
def test_the_field_keeps_clear_of_the_corner_marks(paper: str) -> None:
    high, wide = ISO_216[paper]
    field = field_of((wide, high))
    for left, top, side in mark_boxes((wide, high)):
        beside = left + side < field.left or left > field.left + field.wide
        assert beside or top + side + 2.0 < field.top or top - 2.0 > field.top + field.high, paper


def test_sheets_and_answers_are_printed_together_or_apart_and_every_page_is_told() -> None:
    two = [Page(printed_sheet(kind)) for kind in KINDS[:2]]
    done: list[int] = []
    assert len(pages(worksheets_pdf("", two, done=done.append))) == 4 and done == [1, 2, 3, 4]
    assert len(pages(worksheets_pdf("", two, sheets=False))) == len(pages(worksheets_pdf("", two, answers=False))) == 2


def test_what_is_asked_is_on_the_answer_only() -> None:
    sheet = printed_sheet(ExerciseKind.LOWER_RIM)
    field = field_of(sheet.paper_mm)
    assert (field.left, field.wide) == (12.0, 273.0)
    asked, answer = worksheet_svg(sheet, False).decode(), worksheet_svg(sheet, True).decode()
    answers = sum(mark.role is Role.ANSWER and mark.mark == "round" for mark in sheet.printed)
    assert answers == 3 and answer.count("<ellipse") == asked.count("<ellipse") + 3
    assert worksheet_svg(sheet, False, "data:,x").decode() == asked, "no picture is shown in an exercise that has none"


def test_every_kind_has_its_words() -> None:
    assert (
        set(TITLES) == set(KINDS)
        and set(SENTENCES) | {ExerciseKind.NEAR_CORNER} == set(KINDS)
        and set(NEAR_CORNER) == set(Grade)
    )
    for kind in KINDS:
        for grade in Grade:
            said = sentence(kind, grade)
            assert said.endswith(".") and said.count(".") == 1, "one sentence"


@pytest.mark.parametrize(
    ("said", "number", "words"),
    [
        (Said.EYE_LEVEL, None, "eye level"),
        (Said.VANISHING_POINT, None, "VP"),
        (Said.DEGREES, 22.5, "22.5°"),
        (Said.DEGREES, -45.0, "−45°"),
        (Said.METRES, 1.7, "1.70 m"),
    ],
)
def test_tags_in_words(said: Said, number: float | None, words: str) -> None:
    assert tag_words(said, number) == words


def test_what_a_sheet_states_in_words() -> None:
    assert (
        stated_words("A4", 111.4, [(160.0, 111.4)], 297.0)
        == "A4, 1 : 1; eye level 111 mm from the sheet's top; VP 160 mm from its left"
    )
    assert (
        stated_words("A3", None, [(520.0, 1.0), (-240.0, 1.0)], 420.0)
        == "A3, 1 : 1; VPs 24 cm off its left edge and 10 cm off its right edge"
    )
    assert [brought_words(*n) for n in ((3, 3), (0, 3), (2, 3))] == [
        "All 3 lines that were asked are found and laid.",
        "The sheet is known, but none of its lines was found in pencil: lay them yourself.",
        "2 of 3 lines are found and laid. Lay the other 1 yourself where you drew them.",
    ]
