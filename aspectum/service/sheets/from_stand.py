"""A sheet to sight on the shaded view of a set-up."""

from __future__ import annotations

from sqlalchemy.orm import Session

from aspectum.core.stand.taken import taken
from aspectum.formats.reading import FormatError
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import Form
from aspectum.formats.stand import StandFile
from aspectum.language import say
from aspectum.service.sheets.sheets import make_sheet, picture_info
from aspectum.service.stand.from_format import drawn
from aspectum.service.stand.stands import FRESH, file_of, stand_row
from aspectum.store.models import Person, Picture, Sheet

OUT_OF_SHAPE = 0.01  # by which a picture's proportions may miss the view's: its pixels are whole


def draw_from(session: Session, person: Person, stand_id: str, picture: Picture) -> Sheet:
    """A sheet to sight on ``picture``, the shaded view of a set-up. Raises as ``sheet_on_view``."""
    return make_sheet(session, person, picture, sheet_on_view(file_of(stand_row(session, person, stand_id)), picture))


def sheet_on_view(file: StandFile, picture: Picture) -> SightingSheet:
    """The sheet of a set-up's view on its ``picture``: its forms are the things, and the set-up is kept with it as its
    truth.

    Raises ``FormatError`` for a picture of other proportions than the view's.
    """
    view = file.view
    if abs(picture.width_px * view.height_px / (picture.height_px * view.width_px) - 1.0) > OUT_OF_SHAPE:
        raise FormatError(
            say(
                "picture: the view is {width_px} by {height_px}, this picture {width_px2} by {height_px2} px",
                width_px=view.width_px,
                height_px=view.height_px,
                width_px2=picture.width_px,
                height_px2=picture.height_px,
            )
        )
    shown = taken(drawn(file))
    parallel = view.parallel is not None
    return SightingSheet(
        title=file.title or str(FRESH),
        picture=picture_info(picture).model_copy(update={"focal_35mm": None if parallel else view.focal_35mm}),
        perspective=shown.perspective,
        looking=shown.looking,
        forms=[Form(id=form.id, kind=form.kind, name=form.name) for form in shown.forms],
        stand=file,
    )
