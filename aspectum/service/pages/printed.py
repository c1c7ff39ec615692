"""What printed pages share: margins, sizes, inks, two weights of line, and a paragraph."""

from __future__ import annotations

from typing import Any

MARGIN = 42.0  # points
INK, FAINT = "#1d2524", "#6f7b78"
BODY, SMALL = 9.2, 7.6
LEADING = 1.32
THIN, THICK = 0.5, 1.0  # two weights, 1 : 2 (ISO 128-2:2020)


def paragraph(
    canvas: Any, text: str, x: float, top: float, wide: float, size: float, lines: int, colour: str = INK
) -> float:
    """Draw a paragraph of at most so many lines below ``top``; answers its height."""
    from reportlab.lib.colors import HexColor
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.platypus import Paragraph

    style = ParagraphStyle("body", fontName="Vera", fontSize=size, leading=size * LEADING, textColor=HexColor(colour))
    block = Paragraph(text, style)
    _, high = block.wrap(wide, 10_000)
    most = max(lines, 1) * style.leading
    if high > most:
        parts = block.split(wide, most)
        if not parts:
            return 0.0
        block = parts[0]
        _, high = block.wrap(wide, most)
    block.drawOn(canvas, x, top - high)
    return float(high)
