"""The CSV of a class's marks, read back by the standard library."""

from __future__ import annotations

import csv
import io
from datetime import UTC, datetime

import pytest

from aspectum.formats.marks import HEAD, MarkRow, write_marks

AT = datetime(2026, 11, 26, 19, 30, tzinfo=UTC)


def read(data: bytes) -> list[dict[str, str]]:
    return list(csv.DictReader(io.StringIO(data.decode("utf-8-sig"), newline="")))


def test_a_try_and_what_was_not_handed_in_stand_in_a_line_each() -> None:
    rows = [
        MarkRow("Ilse", "Two cubes", 2, AT, True, 15, 2, 1, 18, "B+", "Far edges close now.", AT),
        MarkRow("Onno", "Two cubes", None, None, False, None, None, None, None, "", "", None),
    ]
    data = write_marks(rows)
    assert data.startswith(b"\xef\xbb\xbf")  # spreadsheets ask for the mark
    first, second = read(data)
    assert tuple(first) == HEAD
    assert (first["try"], first["late"], first["holds"], first["off"], first["unsure"], first["judged"]) == (
        "2",
        "yes",
        "15",
        "2",
        "1",
        "18",
    )
    assert first["handed_in"] == first["returned"] == "2026-11-26T19:30:00+00:00"
    assert [second[name] for name in ("try", "handed_in", "holds", "mark", "returned")] == [""] * 5 and second[
        "late"
    ] == "no"


@pytest.mark.parametrize("words", ["=1+1", "+49", "-3°", "@sum", "\tx", "\rx"])
def test_words_that_a_spreadsheet_would_reckon_are_shown(words: str) -> None:
    """OWASP, *CSV Injection*."""
    (row,) = read(write_marks([MarkRow(words, words, 1, AT, False, 0, 0, 0, 0, words, words, None)]))
    assert [row[name] for name in ("student", "assignment", "mark", "word")] == [f"'{words}"] * 4


@pytest.mark.parametrize("words", ['He said "steeper"', "one, two; three", "two\nlines", "Ümläute – ✓", ""])
def test_any_words_come_back_as_they_were(words: str) -> None:
    (row,) = read(write_marks([MarkRow("Ilse", "Cubes", 1, AT, False, 0, 0, 0, 0, "A", words, None)]))
    assert row["word"] == words


def test_a_class_without_anybody_is_a_head_alone() -> None:
    assert read(write_marks([])) == [] and write_marks([]).decode("utf-8-sig").strip() == ",".join(HEAD)
