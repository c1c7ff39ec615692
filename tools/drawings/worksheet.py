"""Make the demo's worksheet that came back: printed, filled in with a pencil, and photographed at a slant.

    .venv/bin/python tools/drawings/worksheet.py

All three rims are drawn too flat, as beginners draw them. What is printed comes from the worksheets' own pages, the
pencil and the photo from the tests' simulated ones.
"""

from __future__ import annotations

import sys
from pathlib import Path

ROOT = Path(__file__).parents[2]
sys.path.insert(0, str(ROOT))

from aspectum.core.worksheet.exercise import Grade  # noqa: E402
from aspectum.demo.worksheets import BROUGHT, PHOTO, SEED, number_brought  # noqa: E402
from aspectum.service.school.worksheets import laid_out  # noqa: E402
from tests.worksheet_scenes import filled  # noqa: E402

FLATTER_DEG = 8.0
CLASS, NAME = "Harbour class, Thursday evening", "Ilse"

if __name__ == "__main__":
    sheet = laid_out(BROUGHT, Grade.EASY, "A4", SEED, 1, None, code=number_brought(), name=NAME, class_line=CLASS)
    off = {asked.id: FLATTER_DEG for asked in sheet.asked}
    PHOTO.parent.mkdir(exist_ok=True)
    PHOTO.write_bytes(filled(sheet, 21, 24.0, off, hand=True, scatter=0.5).jpeg)
    print(f"{PHOTO.name}: {PHOTO.stat().st_size // 1024} kB, No. {sheet.code}")
