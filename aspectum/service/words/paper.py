"""Words for how a drawing was photographed."""

from __future__ import annotations

from typing import Any

from aspectum.pictures.slant import Slant

STEEP_DEG = 35.0  # from which flattening is no longer good to half a per cent

PLAIN_CROP = "Cut out plainly, without the sheet's corners: tilts may be skewed by the camera. Photograph it square on, or set the corners."


def slant_words(found: Slant) -> str:
    """How slanted a photo is, and what that costs."""
    said = f"Photographed {found.slant_deg:.0f}° off square. Flattened, a line is good to ± {found.tilt_sd_deg:.1f}° and ± {found.length_sd * 100:.1f} %."
    return f"{said} Too slanted to trust: take it again from nearer above." if found.slant_deg > STEEP_DEG else said


def flattened_words(stood: dict[str, Any] | None) -> str:
    """How a kept drawing was flattened, ``stood`` being its ``Slant`` as it was stored."""
    return PLAIN_CROP if stood is None else slant_words(Slant(**stood))
