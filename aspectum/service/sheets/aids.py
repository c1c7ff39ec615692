"""Questions about a sheet's view that are about none of its sightings: probes and fans."""

from __future__ import annotations

from functools import lru_cache

from aspectum.core.aids.divide import Construction, Step, construct
from aspectum.core.aids.fan import Fan, fan
from aspectum.core.aids.figure import Figure
from aspectum.core.aids.guide import Held, ends_on, hold_guide
from aspectum.core.aids.probe import Probe
from aspectum.core.form.ease import EasedEdge, EasedRim
from aspectum.core.look import Look, look
from aspectum.core.sightings import Guide, PartAlong, Perspective, Point
from aspectum.formats.reading import FormatError
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import FaceSighting
from aspectum.language import say
from aspectum.service.sheets.from_sheet import core_edges, core_face, laid_on

KEPT = 4  # sheets whose view is kept: a probe asks for the same one over and over as the hand moves


def probe_sheet(sheet: SightingSheet, at: Point) -> Probe:
    """What must run at ``at`` (px) of the picture. Raises ``FormatError`` without a picture."""
    return view_of(sheet).probe(at)


def fan_on(sheet: SightingSheet, first: str, second: str, count: int) -> Fan:
    """``count`` lines between two laid edges, given by id. Raises ``FormatError`` where none run between them."""
    edges = {edge.id: edge for edge in core_edges(sheet)}
    for field, id in (("first", first), ("second", second)):
        if id not in edges:
            raise FormatError(say("{field}: no edge '{id}' is laid on the picture", field=field, id=id))
    points = view_of(sheet).points
    try:
        return fan(edges[first], edges[second], count, points)
    except ValueError as error:
        raise FormatError(str(error)) from error


def figure_on(sheet: SightingSheet, foot: Point, height_m: float) -> Figure | None:
    """A figure with its foot at ``foot`` (px), None where that is no ground. Raises ``FormatError`` where no view or
    measure is known.
    """
    try:
        return view_of(sheet).figure(foot, height_m)
    except ValueError as error:
        raise FormatError(str(error)) from error


def eased_form(sheet: SightingSheet, form: str, times: float) -> tuple[list[EasedEdge], list[EasedRim]]:
    """The edges and level rims of a solved form as from further away. Raises ``FormatError`` where it has none."""
    view = view_of(sheet)
    edges, rims = view.eased(form, times), view.eased_rims(form, times)
    if not edges and not rims:
        raise FormatError(say("form: '{form}' is not solved, so it cannot be seen from elsewhere", form=form))
    return edges, rims


def construct_on(
    sheet: SightingSheet, face: str, wanted: Construction, along: PartAlong, count: int, place: float
) -> list[Step]:
    """The steps of a construction on a laid face, given by id. Raises ``FormatError`` where there is no such face."""
    found = next((s for s in sheet.accepted if isinstance(s, FaceSighting) and s.id == face), None)
    if found is None:
        raise FormatError(say("face: no face '{face}' is laid on the picture", face=face))
    try:
        return construct(core_face(found), wanted, along, count, place, sheet.perspective is Perspective.PARALLEL)
    except ValueError as error:
        raise FormatError(str(error)) from error


def guide_on(sheet: SightingSheet, along: Guide, at_px: float) -> Held:
    """What a plumb or level line held at ``at_px`` passes through. Raises ``FormatError`` without a picture, and along
    a tilt.
    """
    laid = laid_on(sheet)
    if laid.setup is None:
        raise FormatError(say("picture: a line is held before a picture, and this sheet has none"))
    if along is Guide.TILT:
        raise FormatError(say("along: a line is held plumb or level"))
    return hold_guide(
        ends_on(laid.edges, laid.measured.faces, laid.measured.heights), along, at_px, laid.setup.point_sd_px
    )


def view_of(sheet: SightingSheet) -> Look:
    return _view_of(sheet.model_dump_json())


@lru_cache(maxsize=KEPT)
def _view_of(document: str) -> Look:
    laid = laid_on(SightingSheet.model_validate_json(document))
    if laid.setup is None:
        raise FormatError(say("picture: nothing can be asked about a sheet without one"))
    return look(laid.setup, laid.edges, laid.rims, laid.measured)
