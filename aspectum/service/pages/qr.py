"""An address as a QR code."""

from __future__ import annotations

import io

import segno


def qr_image(address: str) -> str:
    """The code as the address of an SVG image in itself, with the white margin that it needs on any ground."""
    image: str = segno.make(address, error="m").svg_data_uri(scale=8, border=4, light="#fff", dark="#000")
    return image


def qr_text(address: str) -> str:
    """The code in half blocks, for a terminal."""
    drawn = io.StringIO()
    segno.make(address, error="m").terminal(drawn, compact=True)
    return drawn.getvalue()
