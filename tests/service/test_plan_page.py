"""The printed plan: true to size, its text real text, larger sheets tiled."""

from __future__ import annotations

import io
import itertools
import math
import re
import xml.etree.ElementTree as ET

import pypdf
import pytest

from aspectum.core.plan.subject import NoPlan
from aspectum.demo.fill import SHEETS
from aspectum.formats.plan import Plan
from aspectum.formats.sheet import PaperPlan, read_sheet
from aspectum.pictures.papers import ISO_216
from aspectum.service.pages.plan_page import plan_pdf, plan_svg, tiles_of
from aspectum.service.pages.plan_strokes import strokes_of
from aspectum.service.paper.plan import plan_sheet

POINT_MM = 25.4 / 72.0
Line = tuple[float, float, float, float]


def demo(name: str = "1-crates", how: PaperPlan | None = None) -> Plan:
    return plan_sheet(read_sheet((SHEETS / f"{name}.sighting.json").read_bytes()), how)


def pages(data: bytes) -> list[pypdf.PageObject]:
    return list(pypdf.PdfReader(io.BytesIO(data)).pages)


def straight_lines(page: pypdf.PageObject) -> list[Line]:
    """Every line that a page strokes, in mm, by its own matrix: 'x y m x y l S' as the PDF has it (ISO 32000-1, section
    8.5).
    """
    content = page.get_contents()
    assert content is not None
    found: list[Line] = []
    stack: list[list[float]] = []
    matrix = [1.0, 0.0, 0.0, 1.0, 0.0, 0.0]
    numbers: list[float] = []
    start = (0.0, 0.0)
    for token in content.get_data().decode("latin1").split():
        if re.fullmatch(r"-?\d*\.?\d+", token):
            numbers.append(float(token))
            continue
        if token == "q":
            stack.append(matrix)
        elif token == "Q":
            matrix = stack.pop()
        elif token == "cm":
            a, b, c, d, e, f = numbers[-6:]
            m = matrix
            matrix = [
                a * m[0] + b * m[2], a * m[1] + b * m[3], c * m[0] + d * m[2],
                c * m[1] + d * m[3], e * m[0] + f * m[2] + m[4], e * m[1] + f * m[3] + m[5],
            ]  # fmt: skip
        elif token in ("m", "l"):
            x, y = numbers[-2:]
            at = (matrix[0] * x + matrix[2] * y + matrix[4], matrix[1] * x + matrix[3] * y + matrix[5])
            if token == "l":
                found.append((start[0] * POINT_MM, start[1] * POINT_MM, at[0] * POINT_MM, at[1] * POINT_MM))
            start = at
        numbers = []
    return found


def long(line: Line) -> float:
    return math.hypot(line[2] - line[0], line[3] - line[1])


def bars(page: pypdf.PageObject) -> list[Line]:
    """Lines of 100 mm that stand square to the page."""
    square = [line for line in straight_lines(page) if abs(line[2] - line[0]) < 1e-3 or abs(line[3] - line[1]) < 1e-3]
    return [line for line in square if abs(long(line) - 100.0) < 0.02]


@pytest.mark.parametrize("paper", ["A6", "A5", "A4", "A3", "A2", "A1"])
def test_a_printed_plan_is_as_large_as_its_paper_and_its_check_bar_measures_100_mm(paper: str) -> None:
    found = demo(how=PaperPlan(paper_mm=ISO_216[paper], margin_mm=10))
    first = pages(plan_pdf(found))[0]
    size = float(first.mediabox.width) * POINT_MM, float(first.mediabox.height) * POINT_MM
    assert size == pytest.approx(ISO_216[paper], abs=0.02)
    assert len(bars(first)) == 1
    assert "100 mm" in first.extract_text()


def test_lines_are_printed_where_the_plan_has_them() -> None:
    found = demo(how=PaperPlan(paper_mm=(297, 210)))
    near = next(s for s in found.steps if s.step == "near upright")
    assert near.p_mm and near.q_mm
    drawn = straight_lines(pages(plan_pdf(found))[0])
    wanted = (near.p_mm[0], 210 - near.p_mm[1], near.q_mm[0], 210 - near.q_mm[1])
    assert any(all(abs(a - b) < 0.02 for a, b in zip(line, wanted, strict=True)) for line in drawn)


def test_the_lay_in_stands_in_words_behind_the_sheet() -> None:
    found = demo()
    text = " ".join(page.extract_text() for page in pages(plan_pdf(found))[1:])
    said = " ".join(text.split())
    for step in found.steps:
        assert step.words.split(":")[0] in said
    assert "Vanishing points" in said and "Tilts of the left family" in said


@pytest.mark.parametrize(
    ("paper", "printer", "count"), [("A2", "A4", 9), ("A3", "A4", 4), ("A3", "A3", 1), ("A1", "A3", 9)]
)
def test_a_sheet_larger_than_the_printers_is_tiled_and_every_part_has_its_bar(
    paper: str, printer: str, count: int
) -> None:
    found = demo(how=PaperPlan(paper_mm=ISO_216[paper]))
    printed = [page for page in pages(plan_pdf(found, printer)) if "100 mm" in page.extract_text()]
    assert len(printed) == count
    for page in printed:
        assert bars(page)
        if count > 1:
            assert "row" in page.extract_text()


def test_the_tiles_cover_the_sheet_and_overlap() -> None:
    """A2 over A4 with 8 mm that a printer leaves white and 10 mm to glue by."""
    tiles = tiles_of((420, 594), (210, 297))
    columns = sorted({(t.left, t.left + t.wide) for t in tiles})
    rows = sorted({(t.top, t.top + t.high) for t in tiles})
    for parts, size in ((columns, 420), (rows, 594)):
        assert parts[0][0] == 0 and parts[-1][1] >= size
        assert all(before[1] - after[0] == pytest.approx(10.0) for before, after in itertools.pairwise(parts))


def test_the_svg_is_in_millimetres_and_holds_the_same_marks() -> None:
    found = demo("10-fish-boxes")
    root = ET.fromstring(plan_svg(found, fans=True))
    assert (root.get("width"), root.get("viewBox")) == ("420mm", "0 0 420 297")
    marks = [child for child in root if not child.tag.endswith("title")]
    assert len(marks) == len(strokes_of(found, fans=True))
    assert any("100 mm" in (child.text or "") for child in root)


def test_nobody_glues_hundreds_of_pages() -> None:
    with pytest.raises(NoPlan, match="pages to glue"):
        plan_pdf(demo(how=PaperPlan(paper_mm=(5000, 5000))), "A6")


def test_an_unknown_printers_paper_is_refused() -> None:
    with pytest.raises(KeyError):
        plan_pdf(demo(), "B4")
