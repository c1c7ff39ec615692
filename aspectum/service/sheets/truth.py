"""What is truly so on a sheet of the model stand, beside what was sighted."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from typing import TYPE_CHECKING

from aspectum.core.findings import EyeLevel, Source
from aspectum.core.plane.lines import lean_deg
from aspectum.core.sightings import Family
from aspectum.formats.reading import FormatError
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.stand import StandFile
from aspectum.service.sheets.from_sheet import Laid

if TYPE_CHECKING:
    from aspectum.core.stand.drawn import Drawing

# the stand is loaded where a sheet is of one: most are not


def truth_on(sheet: SightingSheet, laid: Laid, families: Mapping[str, Family | None]) -> dict[str, dict[str, float]]:
    """A finding's ``true`` entries by sighting; none on a sheet of no set-up, and for what is laid on no line of it."""
    drawing = drawing_on(sheet)
    if drawing is None:
        return {}
    from aspectum.core.stand.truth import true_degrees, true_tilts

    found: dict[str, dict[str, float]] = {}
    for id, tilt in true_tilts(drawing, laid.edges).items():
        found[id] = {"true": tilt} | (
            {"true_lean_deg": float(lean_deg(tilt))} if families.get(id) is Family.UPRIGHT else {}
        )
    for id, degree in true_degrees(drawing, laid.rims).items():
        found[id] = {"true": degree}
    return found


def true_level_on(sheet: SightingSheet) -> EyeLevel | None:
    """Eye level as the set-up itself has it; None on a sheet of no set-up, and where it has none."""
    drawing = drawing_on(sheet)
    level = None if drawing is None else drawing.view.eye_level_px
    return None if level is None else EyeLevel(level[0], level[1], 0.0, Source.EDGES)


def drawing_on(sheet: SightingSheet) -> Drawing | None:
    """The exact drawing of the set-up that a sheet's picture shows."""
    if sheet.stand is None or sheet.picture is None:
        return None
    size = {"width_px": sheet.picture.width_px, "height_px": sheet.picture.height_px}
    seen = sheet.stand.model_copy(update={"view": sheet.stand.view.model_copy(update=size)})
    try:
        return _drawn(seen.model_dump_json())
    except FormatError:  # a set-up that can no longer be drawn costs the check nothing
        return None


@lru_cache(maxsize=16)
def _drawn(text: str) -> Drawing:
    """The set-up's drawing, kept while its sheet is worked on: it is asked for at every move of a needle."""
    from aspectum.service.stand.from_format import drawn

    return drawn(StandFile.model_validate_json(text))
