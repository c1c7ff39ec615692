"""Words for what was found in a photo: its eye level, its view, its forms."""

from __future__ import annotations

import math
from collections import Counter

from aspectum.core.plane.projection import focal_35mm_of
from aspectum.formats.sheet import FoundView, SightingSheet
from aspectum.formats.sightings import EdgeSighting, RimSighting
from aspectum.language import Text, figure, say, say_many
from aspectum.service.words.common import listed

NOTHING = Text("No forms were found in this picture. Lay its edges and rims yourself.")
NO_EDGE = Text("No clear edge runs there. Point closer, or lay it by its ends.")
LEVEL_DEG = 1.0  # looking up or down by less is looking level


def found_words(sheet: SightingSheet) -> list[str]:
    """Eye level and the view, a sentence each; or that nothing was found."""
    if not sheet.sightings:
        return [str(NOTHING)]
    if sheet.found is None or sheet.picture is None:
        return []
    wide, high = sheet.picture.width_px, sheet.picture.height_px
    return [eye_level_words(sheet.found, high), view_words(sheet.found, wide, high)]


def eye_level_words(found: FoundView, high: int) -> str:
    """How far down the picture eye level lies, in the middle."""
    share = (found.eye_level.left_y_px + found.eye_level.right_y_px) / 2 / high
    sd = f"± {figure(max(100 * found.eye_level.sd_px / high, 0.1), 1)} %"
    if share < 0:
        return say(
            "Eye level lies above the picture, by {share} % of its height ({sd}).", share=figure(-100 * share, 0), sd=sd
        )
    if share > 1:
        return say(
            "Eye level lies below the picture, by {share} % of its height ({sd}).",
            share=figure(100 * (share - 1), 0),
            sd=sd,
        )
    return say("Eye level lies {share} % down the picture ({sd}).", share=figure(100 * share, 0), sd=sd)


def view_words(found: FoundView, wide: int, high: int) -> str:
    """The lens, and whether it looked up or down."""
    lens = focal_35mm_of(found.focal_px, max(wide, high))
    sd = focal_35mm_of(found.focal_sd_px, max(wide, high))
    middle = (found.eye_level.left_y_px + found.eye_level.right_y_px) / 2
    up = math.degrees(math.atan2(middle - high / 2, found.focal_px))
    looking = (
        say("level") if abs(up) < LEVEL_DEG else say("{up}° up" if up > 0 else "{up}° down", up=figure(abs(up), 0))
    )
    return say(
        "Taken looking {looking}, as by a lens of {lens} mm on 35 mm film (± {sd}).",
        looking=looking,
        lens=figure(lens, 0),
        sd=figure(max(sd, 1), 0),
    )


def form_words(sheet: SightingSheet, form: str) -> str:
    """What was found of a form: its edges by family, its rims."""
    own = [s for s in sheet.sightings if s.form == form]
    families = Counter(s.family.value for s in own if isinstance(s, EdgeSighting))
    rims = sum(isinstance(s, RimSighting) for s in own)
    said = [f"{n} {family}" for family, n in families.most_common()] + (
        [say_many("{count} rim", "{count} rims", rims)] if rims else []
    )
    return listed(said)
