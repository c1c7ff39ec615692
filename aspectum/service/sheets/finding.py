"""What a picture shows, as a sheet of proposals, and as offers to a sheet that is being sighted."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from pydantic import TypeAdapter

from aspectum.core.plane.again import lies_again, off_round
from aspectum.core.plane.rim_fit import fit_rim
from aspectum.core.sightings import FormKind, Kind
from aspectum.formats.reading import FormatError
from aspectum.formats.sheet import MOST_SIGHTINGS, FoundEyeLevel, FoundView, SightingSheet, read_sheet, write_sheet
from aspectum.formats.sightings import AnySighting, EdgeSighting, Form, PictureInfo, RimSighting
from aspectum.language import say
from aspectum.pictures.finding import FoundInPicture, find_in
from aspectum.pictures.isolated import seek_isolated
from aspectum.pictures.opening import read_pixels
from aspectum.service.errors import Missing, Stopped
from aspectum.service.sheets.pictures import picture_path, storing
from aspectum.store.models import Picture
from aspectum.store.picture_files import PictureFiles

Floats = NDArray[np.float64]

CALLED = {FormKind.BOX: "Box", FormKind.BUILDING: "Building", FormKind.CYLINDER: "Cylinder", FormKind.OTHER: "Form"}
FOUND_BY = "found-3"  # one more wherever the finding changes: pictures are then looked at anew
FOUND = TypeAdapter(FoundInPicture)
SAME_RIM = 0.15  # of its half axes by which a rim's places may lie off another that is the same
RIM_SD_PX = 2.0


def find_sheet(data: bytes, file: str | None = None) -> SightingSheet:
    """A sheet of what is found in a photo (the bytes of its file), all of it proposed, the surest first. Raises
    ``PictureError``.
    """
    return proposals(find_in(*read_pixels(data)), file)


def proposals(found: FoundInPicture, file: str | None = None) -> SightingSheet:
    """What was found, in the open format."""
    sightings: list[AnySighting] = []
    for edge in found.edges:
        slope = None if edge.slope is None else f"slope-{edge.slope + 1}"
        p, q = rounded(edge.p), rounded(edge.q)
        sure = round(edge.confidence, 3)
        sightings.append(
            EdgeSighting(
                id="e",
                form=form_id(edge.form),
                family=edge.family,
                slope=slope,
                plan=edge.plan,  # type: ignore[arg-type]
                p=p,
                q=q,
                proposed=True,
                confidence=sure,
            )
        )
    for rim in found.rims:
        points = [rounded(p) for p in rim.points]
        sightings.append(
            RimSighting(
                id="r",
                kind=Kind.RIM,
                form=form_id(rim.form),
                plane=rim.plane,
                points=points,
                proposed=True,
                confidence=round(rim.confidence, 3),
            )
        )
    sightings.sort(key=lambda s: -(s.confidence or 0.0))
    number(sightings, [])
    return SightingSheet(
        title=(file or "").rsplit(".", 1)[0],
        picture=PictureInfo(width_px=found.width_px, height_px=found.height_px, file=file, focal_35mm=found.focal_35mm),
        found=found_view(found),
        forms=named(found.forms),
        sightings=sightings,
    )


def number(added: list[AnySighting], there: list[AnySighting]) -> None:
    """Give proposals ids and names that count on from what is there."""
    ids, names = {s.id for s in there}, {s.name for s in there}
    numbers: Counter[str] = Counter()

    def next_of(stem: str, between: str, taken: set[str] | set[str | None]) -> str:
        while True:
            numbers[stem] += 1
            if (told := f"{stem}{between}{numbers[stem]}") not in taken:
                return told

    for s in added:
        s.id = next_of("e" if isinstance(s, EdgeSighting) else "r", "", ids)
        s.name = next_of(s.family.value if isinstance(s, EdgeSighting) else "rim", " ", names)


def found_view(found: FoundInPicture) -> FoundView | None:
    if found.eye_level is None or found.focal_px is None:
        return None
    left, right, sd = found.eye_level
    level = FoundEyeLevel(left_y_px=round(left, 2), right_y_px=round(right, 2), sd_px=round(max(sd, 0.01), 2))
    return FoundView(
        eye_level=level, focal_px=round(found.focal_px[0], 1), focal_sd_px=round(max(found.focal_px[1], 0.1), 1)
    )


def named(kinds: list[FormKind]) -> list[Form]:
    """Forms called by what they are, with a number where there are several."""
    many, numbers = Counter(kinds), Counter[FormKind]()
    forms = []
    for k, kind in enumerate(kinds):
        numbers[kind] += 1
        forms.append(
            Form(id=form_id(k), kind=kind, name=CALLED[kind] if many[kind] == 1 else f"{CALLED[kind]} {numbers[kind]}")
        )
    return forms


def form_id(number: int) -> str:
    return f"form-{number + 1}"


def rounded(point: tuple[float, float]) -> tuple[float, float]:
    return round(point[0], 2), round(point[1], 2)


def look(files: PictureFiles, picture: Picture, px_per_mm: float | None, stopped: Callable[[], bool]) -> SightingSheet:
    """What is found in a kept photo, or with ``px_per_mm`` on a flattened drawing, which is looked at once. Raises
    ``PictureError``, ``NoRoom``, and ``Stopped`` where it was stopped meanwhile.
    """
    known = looked(files, picture)
    if known is not None:
        return known
    told = seek_isolated(picture_path(files, picture, "").read_bytes(), picture.focal_35mm, px_per_mm, stopped)
    if told is None:
        raise Stopped
    sheet = proposals(FOUND.validate_python(told), picture.name)
    with storing():
        files.note(picture.sha256, FOUND_BY, write_sheet(sheet))
    return sheet


def looked(files: PictureFiles, picture: Picture) -> SightingSheet | None:
    """What was found in a kept photo; None where it has not been looked at."""
    data = files.noted(picture.sha256, FOUND_BY)
    try:
        return None if data is None else read_sheet(data)
    except FormatError:
        return None


def offer(files: PictureFiles, picture: Picture, document: SightingSheet, form: str | None) -> SightingSheet:
    """A sheet with what was found in its photo of one ``form``, as it is called on the sheet, or of all, as proposals:
    on forms of their own, and without what is laid already. Raises ``Missing`` where the photo has not been looked at.
    """
    found = looked(files, picture)
    if found is None:
        raise Missing(say("This photo has not been looked at yet."))
    size = found.picture
    assert size is not None
    diagonal = float(np.hypot(size.width_px, size.height_px))
    asked = [s for s in found.sightings if form is None or (s.form is not None and on_sheet(s.form) == form)]
    offered = [s for s in asked if not laid_already(s, document.sightings, diagonal)]
    offered = offered[: MOST_SIGHTINGS - len(document.sightings)]
    wanted = {s.form for s in offered}
    forms = {f.id: f for f in document.forms}
    for f in found.forms:
        if f.id in wanted:
            forms.setdefault(on_sheet(f.id), f.model_copy(update={"id": on_sheet(f.id)}))
    added = [s.model_copy(update={"form": s.form and on_sheet(s.form)}) for s in offered]
    number(added, document.sightings)
    update = {
        "found": document.found or found.found,
        "forms": list(forms.values()),
        "sightings": [*document.sightings, *added],
    }
    return document.model_copy(update=update)


def on_sheet(form: str) -> str:
    """What a form that was found is called on a sheet that it comes to, beside the sheet's own."""
    return f"found-{form}"


def laid_already(proposed: AnySighting, there: list[AnySighting], diagonal_px: float) -> bool:
    """Whether an edge or a rim of the same place is on the sheet."""
    if isinstance(proposed, EdgeSighting):
        laid = [s for s in there if isinstance(s, EdgeSighting) and s.p is not None and s.q is not None]
        p, q = (np.array([getattr(s, end) for s in laid], float).reshape(-1, 2) for end in "pq")
        return bool(lies_again(np.array(proposed.p), np.array(proposed.q), p, q, diagonal_px).any())
    places = np.array(proposed.points) if isinstance(proposed, RimSighting) else np.zeros((0, 2))
    return any(isinstance(s, RimSighting) and (s.points or s.ends) and lies_on(places, s) for s in there)


def lies_on(places: Floats, rim: RimSighting) -> bool:
    """Whether places lie round a laid rim."""
    try:
        oval = fit_rim(tuple(rim.points), RIM_SD_PX, rim.ends, rim.near).ellipse
    except ValueError:
        return False
    off = off_round(places, oval.centre_px, oval.major_px / 2, oval.minor_px / 2, math.radians(90.0 - oval.axis_deg))
    return bool(np.median(off) < SAME_RIM)
