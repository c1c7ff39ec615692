"""Parallel drawing (isometric and oblique): nothing converges, so each family shares one tilt."""

from __future__ import annotations

from aspectum.core.findings import Finding, Note, NoteCode, VanishingPoint, places_of
from aspectum.core.judge.leave_one_out import ParallelFamily
from aspectum.core.judge.parallel_rims import Directions, rim_findings
from aspectum.core.reasons import Rule
from aspectum.core.sightings import Edge, Setup, SlotKey
from aspectum.core.tolerance import Tolerances
from aspectum.core.view.evidence import FittedRims


def parallel_findings(
    setup: Setup, edges: list[Edge], tolerances: Tolerances, fitted: FittedRims = ()
) -> tuple[list[Finding], list[VanishingPoint], list[Note]]:
    """Check each edge's tilt against the weighted mean of its family's other edges, and each rim
    against its form's axes or the other rims of its plane. Edges come first, in the order given;
    every family's point lies at infinity.
    """
    notes = [] if edges or fitted else [Note(NoteCode.NO_EDGES)]
    members: dict[SlotKey, list[Edge]] = {}
    for edge in edges:
        members.setdefault(edge.slot, []).append(edge)
    families = []
    directions: Directions = {}
    points = []
    for (form, name, slope), mine in members.items():
        family = ParallelFamily(mine, setup.point_sd_px, tolerances, Rule.NOT_PARALLEL)
        direction, sd = family.mean(family.kept)
        points.append(VanishingPoint(form, name, slope, None, None, direction, None))
        directions.setdefault((form, name), (direction, sd))
        if len(mine) == 1:
            notes.append(Note(NoteCode.FAMILY_OF_ONE, (mine[0].id,), text=name))
        families.append(family)
    places = places_of(points)
    findings = {id: finding for family in families for id, finding in family.findings(places).items()}
    return [findings[e.id] for e in edges] + rim_findings(fitted, directions, tolerances, places), points, notes
