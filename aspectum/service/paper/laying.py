"""The lines of a drawing found on its sheet of paper: proposed for a subject's names, and laid again where the drawing
was brought in before.
"""

from __future__ import annotations

import logging
import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from aspectum.core.drawing.expected import Expected, everything_of, expected_places
from aspectum.core.sightings import Point
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import (
    AlignmentSighting,
    AnySighting,
    EdgeSighting,
    FaceSighting,
    LengthSighting,
    RimSighting,
)
from aspectum.language import say
from aspectum.pictures.isolated import follow_again_isolated, follow_isolated
from aspectum.pictures.opening import PictureError
from aspectum.pictures.pencil import LINED_IN
from aspectum.service.paper.critique import core_laid, on_paper
from aspectum.service.sheets import pictures
from aspectum.store.models import Picture
from aspectum.store.picture_files import PictureFiles

log = logging.getLogger(__name__)

CORNER_MM = 3.0  # within which what is measured stands at the corner of lines that are drawn
POINTS = ("p", "q", "points", "ends", "near", "corners", "point", "foot", "top")
ROUND = (
    30,
    60,
    120,
    150,
    210,
    240,
    270,
    300,
    330,
)  # degrees from an end of the major axis, beside the ends and the near point


@dataclass(frozen=True)
class Proposed:
    """A sighting laid where the drawing has it; ``snapped``: on a pencil line that is there, whose tilt is known to
    ``sd_deg``; ``light``: on one that is much lighter than the others, as construction is; ``others``: the ends of
    lines that restate it, lighter ones last; ``doubtful``: it may be another's line, as of a drawing brought in again
    what was not laid by itself may be.
    """

    sighting: dict[str, Any]
    snapped: bool
    sd_deg: float | None = None
    light: bool = False
    others: list[tuple[Point, Point]] = field(default_factory=list)
    doubtful: bool = False


def propose(
    files: PictureFiles,
    flat: Picture,
    subject: SightingSheet | None,
    drawing: SightingSheet,
    before: SightingSheet | None = None,
) -> list[Proposed]:
    """What is missing on a drawing, at its expected place and brought to the pencil lines: expected by the subject, or
    where it lay ``before``. Before anything is laid the whole subject is brought to the pencil lines of the sheet;
    nothing where they are not a drawing of it.
    """
    paper = on_paper(drawing)
    old = None if before is None else as_before(before, drawing)
    named = names_of(subject, old)
    theirs = core_laid(subject or drawing, say("the subject"))
    unplaced = not paper.laid.edges and not paper.laid.rims
    expected = everything_of(theirs) if unplaced else expected_places(theirs, paper.laid)
    if old is not None:
        earlier = core_laid(old, say("the drawing"))
        expected = instead(expected, everything_of(earlier) if unplaced else expected_places(earlier, paper.laid))
        unplaced = False
    if not expected.edges and not expected.rims and not expected.measured:
        return []
    lines, rims = as_lines(expected)
    data = pictures.picture_path(files, flat, "").read_bytes()
    followed = follow_isolated(data, 1.0 / paper.mm_per_px, lines, rims, unplaced)
    if followed is None:
        return []
    on_lines, on_rims = followed
    usual = float(np.median([line[0]["dark"] for line in on_lines.values() if line] or [0.0]))
    laid_before = set() if old is None else {s.id for s in old.accepted}
    found = []
    for s in named:
        plain = {
            key: value
            for key, value in s.model_dump(mode="json", exclude_none=True).items()
            if not key.startswith("judged_")
        }
        doubtful = s.id in laid_before
        if s.id in lines:
            if on_lines[s.id]:
                first, *rest = on_lines[s.id]
                others = [(line["p"], line["q"]) for line in rest]
                place = {"p": first["p"], "q": first["q"]}
                found.append(
                    Proposed(plain | place, True, first["sd_deg"], first["dark"] < LINED_IN * usual, others, doubtful)
                )
            elif not unplaced:
                found.append(Proposed(plain | {"p": lines[s.id][0], "q": lines[s.id][1]}, False, doubtful=doubtful))
        elif isinstance(s, RimSighting) and s.id in rims:
            rim = on_rims[s.id]
            if rim is not None:
                found.append(Proposed(plain | laid_rim(*round_of(rim)), True, doubtful=doubtful))
            elif not unplaced:
                found.append(Proposed(plain | laid_rim(*rims[s.id]), False, doubtful=doubtful))
        elif s.id in expected.measured:
            # between corners that are drawn: there is no line to snap to
            found.append(Proposed(plain | measured_places(expected.measured[s.id]), False, doubtful=doubtful))
    return found


def names_of(subject: SightingSheet | None, old: SightingSheet | None) -> list[AnySighting]:
    """What may be laid on a drawing: what its subject has, and from imagination what was laid on it before."""
    if subject is not None:
        return subject.accepted
    return [] if old is None else old.accepted


def instead(expected: Expected, better: Expected) -> Expected:
    """Places by ``better`` where it has any, else as they were expected."""
    return Expected(expected.edges | better.edges, expected.rims | better.rims, expected.measured | better.measured)


def laid_rim(centre: list[float], major: float, minor: float, angle: float) -> dict[str, Any]:
    """A rim as it is laid: the ends of its major axis, the point on its near, lower arc, and others round it, since all
    of its line was followed.
    """
    c, s = math.cos(angle), math.sin(angle)
    down = (-s, c) if c > 0 else (s, -c)

    def at(turn: float) -> list[float]:
        along, across = major * math.cos(turn), minor * math.sin(turn)
        return [round(centre[0] + along * c + across * down[0], 2), round(centre[1] + along * s + across * down[1], 2)]

    ends = sorted((at(math.pi), at(0.0)))
    return {"ends": ends, "near": at(math.pi / 2), "points": [at(math.radians(turn)) for turn in ROUND]}


def laid_again(
    files: PictureFiles, flat: Picture, before: SightingSheet, subject: SightingSheet | None, document: SightingSheet
) -> SightingSheet:
    """A drawing with those of its lines, as they were laid ``before``, that are surely found on the new photo; what
    stands between their corners with them. What is not sure is left to be accepted, or laid by hand.
    """
    old = as_before(before, document)
    lines, rims = as_lines(everything_of(core_laid(old, say("the drawing"))))
    of_subject = (
        ({}, {})
        if subject is None or subject.picture is None
        else as_lines(everything_of(core_laid(subject, say("the subject"))))
    )
    data = pictures.picture_path(files, flat, "").read_bytes()
    try:
        found = follow_again_isolated(data, 1.0 / on_paper(document).mm_per_px, lines, rims, of_subject)
    except PictureError:
        log.exception("a drawing's lines could not be looked for again")
        return document
    laid: dict[str, dict[str, Any]] = {}
    for id in found["sure"]:
        laid[id] = (
            {"p": found["lines"][id]["p"], "q": found["lines"][id]["q"]}
            if id in found["lines"]
            else laid_rim(*round_of(found["rims"][id]))
        )
    plain = {s.id: s.model_dump(mode="json", exclude_none=True) for s in old.accepted}
    standing = with_sightings(document, [plain[s.id] | laid[s.id] for s in old.accepted if s.id in laid])
    between = expected_places(core_laid(old, say("the drawing")), core_laid(standing, say("the drawing"))).measured
    ends = [
        at for s in old.accepted if s.id in laid and isinstance(s, EdgeSighting) for at in (s.p, s.q) if at is not None
    ]
    near = CORNER_MM * (document.picture.width_px if document.picture else 1) / on_paper(document).wide_mm
    for s in old.accepted:
        there = places_of(s)
        if s.id in between and there and all(any(math.dist(at, end) < near for end in ends) for at in there):
            laid[s.id] = measured_places(between[s.id])
    return with_sightings(document, [plain[s.id] | laid[s.id] for s in old.accepted if s.id in laid])


def with_sightings(document: SightingSheet, sightings: list[dict[str, Any]]) -> SightingSheet:
    """A sheet with these sightings, read as a file would be; those of a face that is not among them are left out."""
    faces = {s["id"] for s in sightings if s["kind"] == "face"}
    kept = [s for s in sightings if s["kind"] != "division" or s["face"] in faces]
    return SightingSheet.model_validate(document.model_dump(mode="json", exclude_none=True) | {"sightings": kept})


def as_before(before: SightingSheet, document: SightingSheet) -> SightingSheet:
    """The sightings of a drawing as it was before, where they lay on its paper, in the pixels of ``document``."""
    assert before.picture is not None and document.picture is not None
    sx, sy = document.picture.width_px / before.picture.width_px, document.picture.height_px / before.picture.height_px
    plain = [scaled(s.model_dump(mode="json", exclude_none=True), sx, sy) for s in before.accepted]
    return with_sightings(document, plain)


def as_lines(expected: Expected) -> tuple[dict[str, Any], dict[str, Any]]:
    """Lines (p and q) and rims (centre, half axes, direction of the major one) by id, as pencil lines are looked for
    by.
    """
    lines = {id: [list(p), list(q)] for id, (p, q) in expected.edges.items()}
    rims = {
        id: [list(e.centre_px), e.major_px / 2, e.minor_px / 2, math.radians(90.0 - e.axis_deg)]
        for id, e in expected.rims.items()
    }
    return lines, rims


def round_of(rim: dict[str, Any]) -> tuple[list[float], float, float, float]:
    """A rim that was followed, as it is laid."""
    return rim["centre"], rim["major"], rim["minor"], rim["angle"]


def places_of(s: AnySighting) -> list[Point]:
    """Where something between corners stands."""
    if isinstance(s, FaceSighting):
        return list(s.corners)
    if isinstance(s, LengthSighting | AlignmentSighting) and s.p is not None and s.q is not None:
        return [s.p, s.q]
    return []


def measured_places(at: Sequence[Point]) -> dict[str, Any]:
    """Points of what is measured, as its sighting holds them."""
    places = [list(one) for one in at]
    return (
        {"p": places[0], "q": places[1]}
        if len(places) == 2
        else {"corners": places}
        if len(places) == 4
        else {"point": places[0]}
    )


def scaled(value: Any, sx: float, sy: float, name: str = "") -> Any:
    """A sighting with every point (named by its entry) in another picture's pixels."""
    if isinstance(value, dict):
        return {key: scaled(v, sx, sy, key) for key, v in value.items()}
    if name in POINTS and isinstance(value, list):
        if len(value) == 2 and all(isinstance(v, (int, float)) for v in value):
            return [value[0] * sx, value[1] * sy]
        return [scaled(v, sx, sy, name) for v in value]
    return value
