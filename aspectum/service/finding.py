"""What a picture shows, as a sheet of proposals."""

from __future__ import annotations

from collections import Counter

from aspectum.core.sightings import FormKind
from aspectum.formats.sheet import FoundEyeLevel, FoundView, SightingSheet
from aspectum.formats.sightings import AnySighting, EdgeSighting, Form, PictureInfo, RimSighting
from aspectum.pictures.finding import FoundInPicture, find_in
from aspectum.pictures.opening import read_pixels

CALLED = {FormKind.BOX: "Box", FormKind.BUILDING: "Building", FormKind.CYLINDER: "Cylinder", FormKind.OTHER: "Form"}


def find_sheet(data: bytes, file: str | None = None) -> SightingSheet:
    """A sheet of what is found in a photo (the bytes of its file), all of it proposed, the surest first. Raises ``PictureError``."""
    return proposals(find_in(*read_pixels(data)), file)


def proposals(found: FoundInPicture, file: str | None = None) -> SightingSheet:
    """What was found, in the open format."""
    sightings: list[AnySighting] = []
    for edge in found.edges:
        slope = None if edge.slope is None else f"slope-{edge.slope + 1}"
        p, q = rounded(edge.p), rounded(edge.q)
        sure = round(edge.confidence, 3)
        sightings.append(
            EdgeSighting(id="e", form=form_id(edge.form), family=edge.family, slope=slope, plan=edge.plan, p=p, q=q, proposed=True, confidence=sure)  # type: ignore[arg-type]
        )
    for rim in found.rims:
        points = [rounded(p) for p in rim.points]
        sightings.append(
            RimSighting(id="r", kind="rim", form=form_id(rim.form), plane=rim.plane, points=points, proposed=True, confidence=round(rim.confidence, 3))  # type: ignore[arg-type]
        )
    sightings.sort(key=lambda s: -(s.confidence or 0.0))
    numbers: Counter[str] = Counter()
    for s in sightings:
        what = s.family.value if isinstance(s, EdgeSighting) else "rim"
        numbers[s.id] += 1
        numbers[what] += 1
        s.id, s.name = f"{s.id}{numbers[s.id]}", f"{what} {numbers[what]}"
    return SightingSheet(
        title=(file or "").rsplit(".", 1)[0],
        picture=PictureInfo(width_px=found.width_px, height_px=found.height_px, file=file, focal_35mm=found.focal_35mm),
        found=found_view(found),
        forms=named(found.forms),
        sightings=sightings,
    )


def found_view(found: FoundInPicture) -> FoundView | None:
    if found.eye_level is None or found.focal_px is None:
        return None
    left, right, sd = found.eye_level
    level = FoundEyeLevel(left_y_px=round(left, 2), right_y_px=round(right, 2), sd_px=round(max(sd, 0.01), 2))
    return FoundView(eye_level=level, focal_px=round(found.focal_px[0], 1), focal_sd_px=round(max(found.focal_px[1], 0.1), 1))


def named(kinds: list[FormKind]) -> list[Form]:
    """Forms called by what they are, with a number where there are several."""
    many, numbers = Counter(kinds), Counter[FormKind]()
    forms = []
    for k, kind in enumerate(kinds):
        numbers[kind] += 1
        forms.append(Form(id=form_id(k), kind=kind, name=CALLED[kind] if many[kind] == 1 else f"{CALLED[kind]} {numbers[kind]}"))
    return forms


def form_id(number: int) -> str:
    return f"form-{number + 1}"


def rounded(point: tuple[float, float]) -> tuple[float, float]:
    return round(point[0], 2), round(point[1], 2)
