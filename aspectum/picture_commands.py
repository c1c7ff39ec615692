"""The commands that read pictures, and how a file that cannot be read is told."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import click

from aspectum.language import figure, say
from aspectum.over_files import over_files

if TYPE_CHECKING:
    from aspectum.formats.sheet import SightingSheet


@click.command()
@click.argument("pictures", nargs=-1, required=True, type=click.Path(path_type=Path))
@click.option("--json", "as_json", is_flag=True, help="Print one sighting sheet a line.")
def find(pictures: tuple[Path, ...], as_json: bool) -> None:
    """Propose the edges and rims that PICTURES show, with eye level; nothing is decided.

    Exits 0 when all were read, 2 when any could not be.
    """
    from aspectum.formats.reading import compact
    from aspectum.service.sheets.finding import find_sheet

    def tell(path: Path) -> str:
        sheet = find_sheet(path.read_bytes(), path.name)
        return compact(sheet) if as_json else found_table(sheet)

    over_files(pictures, tell)


def found_table(sheet: SightingSheet) -> str:
    """What was found in a picture, for people."""
    lines = [sheet.picture.file or "" if sheet.picture else ""]
    if sheet.found is None or not sheet.sightings:
        return "\n".join([*lines, "  no forms found"])
    level = sheet.found.eye_level
    lines.append(
        say(
            "  eye level    {left_y_px} ± {sd_px} px at the middle",
            left_y_px=figure((level.left_y_px + level.right_y_px) / 2, 1),
            sd_px=figure(level.sd_px, 1),
        )
    )
    lines.append(
        say(
            "  focal length {focal_px} ± {focal_sd_px} px",
            focal_px=figure(sheet.found.focal_px, 0),
            focal_sd_px=figure(sheet.found.focal_sd_px, 0),
        )
    )
    called = {form.id: form.name or form.id for form in sheet.forms}
    for s in sheet.sightings:
        what = getattr(s, "family", None) or getattr(s, "plane", "")
        lines.append(
            f"  {s.id:<4} {s.kind.value:<5} {what:<8} {called.get(s.form or '', ''):<14} {s.confidence or 0:.2f}"
        )
    return "\n".join(lines)
