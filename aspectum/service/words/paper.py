"""Words for how a drawing was photographed."""

from __future__ import annotations

from typing import Any

from aspectum.language import Text, figure, say
from aspectum.pictures.slant import Slant

STEEP_DEG = 35.0  # from which flattening is no longer good to half a per cent

PLAIN_CROP = Text(
    "Cut out plainly, without the sheet's corners: tilts may be skewed by the camera. Photograph it square on, or set "
    "the corners."
)


def slant_words(found: Slant) -> str:
    """How slanted a photo is, and what that costs."""
    said = say(
        "Photographed {slant_deg}° off square. Flattened, a line is good to ± {tilt_sd_deg}° and ± {length_sd} %.",
        slant_deg=figure(found.slant_deg, 0),
        tilt_sd_deg=figure(found.tilt_sd_deg, 1),
        length_sd=figure(found.length_sd * 100, 1),
    )
    return (
        say("{said} Too slanted to trust: take it again from nearer above.", said=said)
        if found.slant_deg > STEEP_DEG
        else said
    )


def flattened_words(stood: dict[str, Any] | None) -> str:
    """How a kept drawing was flattened, ``stood`` being its ``Slant`` as it was stored."""
    return str(PLAIN_CROP) if stood is None else slant_words(Slant(**stood))
