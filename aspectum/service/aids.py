"""Questions about a sheet's view that are about none of its sightings: probes and fans."""

from __future__ import annotations

from functools import lru_cache

from aspectum.core.aids.fan import Fan, fan
from aspectum.core.aids.probe import Probe
from aspectum.core.check import Look, look
from aspectum.core.sightings import Point
from aspectum.formats.sheet import FormatError, SightingSheet
from aspectum.service.from_sheet import core_edges, laid_on

KEPT = 4  # sheets whose view is kept: a probe asks for the same one over and over as the hand moves


def probe_sheet(sheet: SightingSheet, at: Point) -> Probe:
    """What must run at ``at`` (px) of the picture. Raises ``FormatError`` without a picture."""
    return view_of(sheet).probe(at)


def fan_on(sheet: SightingSheet, first: str, second: str, count: int) -> Fan:
    """``count`` lines between two laid edges, given by id. Raises ``FormatError`` where none run between them."""
    edges = {edge.id: edge for edge in core_edges(sheet)}
    for field, id in (("first", first), ("second", second)):
        if id not in edges:
            raise FormatError(f"{field}: no edge '{id}' is laid on the picture")
    points = view_of(sheet).points
    try:
        return fan(edges[first], edges[second], count, points)
    except ValueError as error:
        raise FormatError(str(error)) from error


def view_of(sheet: SightingSheet) -> Look:
    return _view_of(sheet.model_dump_json())


@lru_cache(maxsize=KEPT)
def _view_of(document: str) -> Look:
    laid = laid_on(SightingSheet.model_validate_json(document))
    if laid.setup is None:
        raise FormatError("picture: nothing can be asked about a sheet without one")
    return look(laid.setup, laid.edges, laid.rims)
