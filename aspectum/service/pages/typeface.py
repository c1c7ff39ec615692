"""The one typeface of what is printed, which comes with the PDF library."""

from __future__ import annotations

from functools import cache


@cache
def fonts() -> None:
    from reportlab.lib.fonts import addMapping
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    for name, file in (("Vera", "Vera.ttf"), ("VeraBd", "VeraBd.ttf")):
        pdfmetrics.registerFont(TTFont(name, file))
    for bold in (0, 1):
        for italic in (0, 1):
            addMapping("Vera", bold, italic, "VeraBd" if bold else "Vera")
