"""Solve the forms of a sheet: from the view that its lines have to camera, bearings and corners that agree."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from aspectum.core.form.agreement import face_miss, misfit, one_plane, same_reach, worst_face
from aspectum.core.form.bundle import SolvedForms, settle
from aspectum.core.form.corners import POST, ends_of, lay_out
from aspectum.core.form.heights import plumbed
from aspectum.core.plane.lines import Floats
from aspectum.core.sightings import Edge, Face, Family, Height, Perspective
from aspectum.core.view.find import fit_view
from aspectum.core.view.sides import MISNAMED
from aspectum.core.view.solve import Solution

MOST_RELEASED = 6  # places of uprights freed in turn: a sheet that needs more has other troubles, and is told so
AS_NAMED = -2.0 * math.log(
    MISNAMED
)  # chi-square that a form standing as its names say may cost, as they are seldom wrong
MANY_ENDS = 200  # beyond which no other view is tried
# times the point error's chi-square, beyond which no corner of so large a sheet is mended: all of it contradicts itself
HOPELESS = 25.0


def solve_forms(solution: Solution, edges: list[Edge], faces: list[Face], heights: list[Height]) -> SolvedForms | None:
    """Solve all forms of a sheet from the view that its lines have; None where nothing is left to solve.

    Edges that stray from the view are left out. An end that does not fit its corner is let go of; lone ends of parallel
    edges that stop at one plane within their error are taken to, and so are separate pieces of a form that reach
    equally far. Where the corners, or a face, refuse the view, others are tried in its stead, since few lines may have
    misled it: the pitched one where the lines had shifted its centre of vision, and one that counts the sides of faces
    as lines.
    """
    found = solve_under(solution, edges, faces, heights)
    if found is None or (found.strain <= 1.0 and not found.dropped) or len(found.layout.ends) > MANY_ENDS:
        return found
    return min(
        [
            found,
            *(
                other
                for view in other_views(solution, faces)
                if (other := solve_under(view, edges, faces, heights)) is not None
            ),
        ],
        key=trouble,
    )


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
    on = {e.id for e, active in zip(evidence.edges, solution.active, strict=False) if active}
    dropped: dict[str, float] = {}
    while True:
        ends = ends_of([e for e in edges if e.id in on], faces, heights)
        found = settle(solution, lay_out(evidence.setup, ends, edges, faces), faces) if ends else None
        unfit = None if found is None else worst_face(found, faces)
        if unfit is None or found is None:
            break
        dropped[unfit.id] = face_miss(found, unfit)
        faces = [f for f in faces if f is not unfit]
    if found is None:
        return None
    if found.strain > HOPELESS and len(ends) > MANY_ENDS:
        return replace(found, dropped=dropped)

    def again(
        start: SolvedForms, released: frozenset[int], level: frozenset[tuple[int, int, int]] = frozenset()
    ) -> SolvedForms | None:
        return settle(solution, lay_out(evidence.setup, ends, edges, faces, released, level), faces, start.params)

    if (turned := as_named(solution, found)) is not None:
        other = settle(solution, found.layout, faces, turned)
        if other is not None and other.cost < found.cost + AS_NAMED:
            found = other
    released: frozenset[int] = frozenset()
    while len(released) < MOST_RELEASED and (worst := misfit(found)) is not None:
        released |= {worst}
        other = again(found, released)
        if other is None:
            break
        found = other
    if level := one_plane(found) | same_reach(found):
        found = again(found, released, level) or found
    return replace(found, dropped=dropped)


def as_named(solution: Solution, found: SolvedForms) -> Floats | None:
    """Parameters to begin anew from where a form stands otherwise than its names say, as ``view.sides`` has it: turned
    to the middle of what they allow; None where all stand as named.
    """
    columns, between = solution.view.sides
    params = found.params.copy()
    for column, (low, high) in zip(columns.tolist(), between.tolist(), strict=True):
        at, middle = int(solution.view.free[column]), (low + high) / 2
        # bearings repeat after half a turn
        away = (params[at] - middle + np.pi / 2) % np.pi - np.pi / 2
        if abs(away) > (high - low) / 2 + 2.0 * float(np.sqrt(found.covariance[column, column])):
            params[at] = middle
    return None if np.array_equal(params, found.params) else params


def lines_of(faces: list[Face], heights: list[Height]) -> tuple[Edge, ...]:
    """The sides of faces and the heights as edges to find a first view by, where no edge is sighted."""
    sides = [
        Edge(f"{f.id}/{k}", f.form, f.families[k % 2], f.corners[k], f.corners[(k + 1) % 4])
        for f in faces
        for k in range(4)
        if math.dist(f.corners[k], f.corners[(k + 1) % 4]) > 0
    ]
    return (*sides, *(Edge(h.id, POST, Family.UPRIGHT, h.foot, h.top) for h in heights))
