"""From the open format into the core."""

from __future__ import annotations

from dataclasses import dataclass

from aspectum.core.sightings import (
    Alignment,
    Division,
    Edge,
    Face,
    FormKind,
    FoundView,
    Height,
    Length,
    Measured,
    Rim,
    Setup,
)
from aspectum.core.tolerance import OF_SCHOOL, School, Tolerances
from aspectum.formats.sheet import FoundView as FoundInFormat
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import (
    AlignmentSighting,
    DivisionSighting,
    EdgeSighting,
    FaceSighting,
    HeightSighting,
    LengthSighting,
    PictureInfo,
    RimSighting,
    read_from_life,
)


@dataclass(frozen=True)
class Laid:
    """What is laid on a sheet's picture, sorted for the core. ``setup`` is None without a picture."""

    setup: Setup | None
    edges: list[Edge]
    rims: list[Rim]
    measured: Measured
    round_forms: frozenset[str]


def laid_on(sheet: SightingSheet) -> Laid:
    return Laid(
        None if sheet.picture is None else core_setup(sheet, sheet.picture),
        core_edges(sheet),
        [core_rim(s) for s in sheet.accepted if isinstance(s, RimSighting) and not read_from_life(s)],
        core_measured(sheet),
        frozenset(f.id for f in sheet.forms if f.kind is FormKind.CYLINDER),
    )


def core_measured(sheet: SightingSheet) -> Measured:
    """Everything laid on the picture beside edges and rims."""
    measured = Measured()
    for s in sheet.accepted:
        if isinstance(s, LengthSighting) and s.p is not None and s.q is not None:
            measured.lengths.append(Length(s.id, s.p, s.q, s.along, s.unit, s.judged_ratio))
        elif isinstance(s, AlignmentSighting) and s.p is not None and s.q is not None:
            measured.alignments.append(Alignment(s.id, s.p, s.q, s.along, s.judged_tilt_deg))
        elif isinstance(s, FaceSighting):
            measured.faces.append(core_face(s))
        elif isinstance(s, DivisionSighting):
            measured.divisions.append(Division(s.id, s.face, s.along, s.point, s.judged_part))
        elif isinstance(s, HeightSighting):
            measured.heights.append(Height(s.id, s.foot, s.top, s.judged_m, s.known_m))
    return measured


def core_face(s: FaceSighting) -> Face:
    return Face(s.id, s.form or "form", s.families, s.corners)


def core_setup(sheet: SightingSheet, picture: PictureInfo) -> Setup:
    given = sheet.eye_level
    return Setup(
        width_px=picture.width_px,
        height_px=picture.height_px,
        perspective=sheet.perspective,
        point_sd_px=sheet.point_sd_px,
        focal_35mm=picture.focal_35mm,
        centre_px=picture.centre_px,
        eye_level_px=None if given is None else (given.left_y_px, given.right_y_px),
        level_camera=sheet.level_camera,
        looking=sheet.looking,
        eye_height_m=sheet.eye_height_m,
        found=None if sheet.found_standing is None else found_view(sheet.found_standing),
    )


def found_view(found: FoundInFormat) -> FoundView:
    level = found.eye_level
    return FoundView(level.left_y_px, level.right_y_px, level.sd_px, found.focal_px, found.focal_sd_px)


def kept_tolerances(sheet: SightingSheet) -> Tolerances:
    """The tolerances that the sheet says it is judged by."""
    own = sheet.tolerance
    return (
        OF_SCHOOL[own]
        if isinstance(own, School)
        else Tolerances(own.tilt_deg, own.length_percent / 100.0, own.degree_deg)
    )


def core_edges(sheet: SightingSheet) -> list[Edge]:
    """The edges laid on the picture."""
    return [
        Edge(s.id, s.form or "form", s.family, s.p, s.q, s.slope, s.plan, s.judged_tilt_deg, tuple(s.hidden or ()))
        for s in sheet.accepted
        if isinstance(s, EdgeSighting) and s.p is not None and s.q is not None
    ]


def core_rim(s: RimSighting) -> Rim:
    return Rim(s.id, s.form or "form", s.plane, tuple(s.points), s.ends, s.near, s.judged_degree_deg)
