"""Solve the forms of a sheet: from the view that its lines have to camera, bearings and corners that agree."""

from __future__ import annotations

import math
from dataclasses import replace

from aspectum.core.form.agreement import face_miss, misfit, one_plane, same_reach, worst_face
from aspectum.core.form.bundle import SolvedForms, settle
from aspectum.core.form.corners import POST, ends_of, lay_out
from aspectum.core.form.heights import plumbed
from aspectum.core.sightings import Edge, Face, Family, Height, Perspective
from aspectum.core.view.find import fit_view
from aspectum.core.view.solve import Solution

MOST_RELEASED = 6


def solve_forms(solution: Solution, edges: list[Edge], faces: list[Face], heights: list[Height]) -> SolvedForms | None:
    """Solve all forms of a sheet from the view that its lines have; None where nothing is left to solve.

    Edges that stray from the view are left out. An end that does not fit its corner is let go of; lone ends of parallel edges that stop at
    one plane within their error are taken to, and so are separate pieces of a form that reach equally far. Where the corners, or a face,
    refuse the view, others are tried in its stead, since few lines may have misled it: the pitched one where the lines had
    shifted its centre of vision, and one that counts the sides of faces as lines.
    """
    found = solve_under(solution, edges, faces, heights)
    if found is None or (found.strain <= 1.0 and not found.dropped):
        return found
    return min([found, *(other for view in other_views(solution, faces) if (other := solve_under(view, edges, faces, heights)) is not None)], key=trouble)


def trouble(found: SolvedForms) -> tuple[int, float]:
    """How badly a view fits: by how many faces it refuses, then by its chi-square."""
    return len(found.dropped), found.cost


def other_views(solution: Solution, faces: list[Face]) -> list[Solution]:
    """Views that may fit better than one that the corners refuse."""
    setup, evidence = solution.evidence.setup, solution.evidence
    rims = () if evidence.rims is None else tuple(zip(evidence.rims.rims, evidence.rims.fits, strict=True))
    pitched = replace(setup, perspective=Perspective.THREE_POINT) if setup.perspective is Perspective.AUTO else setup
    views = []
    if solution.view.perspective is not pitched.perspective:
        views.append(fit_view(pitched, evidence.edges, rims, evidence.effort.half())[0])
    if faces:
        views.append(fit_view(pitched, evidence.edges + lines_of(faces, []), rims, evidence.effort.half())[0])
    return views


def solve_under(solution: Solution, edges: list[Edge], faces: list[Face], heights: list[Height]) -> SolvedForms | None:
    """As ``solve_forms``, beginning from ``solution`` and keeping its kind of view."""
    evidence, heights = solution.evidence, [plumbed(solution, h) for h in heights]
    stray = {e.id for e, active in zip(evidence.edges, solution.active, strict=False) if not active}
    dropped: dict[str, float] = {}
    while True:
        ends = ends_of([e for e in edges if e.id not in stray], faces, heights)
        found = settle(solution, lay_out(evidence.setup, ends, edges, faces), faces) if ends else None
        unfit = None if found is None else worst_face(found, faces)
        if unfit is None or found is None:
            break
        dropped[unfit.id] = face_miss(found, unfit)
        faces = [f for f in faces if f is not unfit]
    released: frozenset[int] = frozenset()
    while found is not None and len(released) < MOST_RELEASED:
        worst = misfit(found)
        if worst is None:
            break
        released |= {worst}
        found = settle(solution, lay_out(evidence.setup, ends, edges, faces, released), faces, found.params)
    if found is not None and (level := one_plane(found) | same_reach(found)):
        found = settle(solution, lay_out(evidence.setup, ends, edges, faces, released, level), faces, found.params)
    return None if found is None else replace(found, dropped=dropped)


def lines_of(faces: list[Face], heights: list[Height]) -> tuple[Edge, ...]:
    """The sides of faces and the heights as edges to find a first view by, where no edge is sighted."""
    sides = [
        Edge(f"{f.id}/{k}", f.form, f.families[k % 2], f.corners[k], f.corners[(k + 1) % 4])
        for f in faces
        for k in range(4)
        if math.dist(f.corners[k], f.corners[(k + 1) % 4]) > 0
    ]
    return (*sides, *(Edge(h.id, POST, Family.UPRIGHT, h.foot, h.top) for h in heights))
