"""Camera, bearings and corners through all sighted ends at once.

The unknowns are those of the view and one value for every coordinate that the ends come down to; each end
must fall where it was laid (bundle adjustment; Triggs et al., Bundle Adjustment - A Modern Synthesis, 1999).
Solved together because the lines alone leave the camera wider than the corners do: measuring under a camera
held still nearly doubles the error and says a ± that does not hold. Coordinates are counted from the eye, so that
a corner's picture is linear in them: (right, left, up) times the vanishing points of the form's families.

No picture fixes the scale of a piece: it is held along the solution, and enters no ratio.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from aspectum.core.form.corners import Layout
from aspectum.core.form.look import LEAST_DEPTH, EndLook, LaidEnds, algebraic, form_axes, look_at_ends
from aspectum.core.plane.algebra import inverse
from aspectum.core.plane.lines import Flags, Floats
from aspectum.core.sightings import BEARING_OFFSET_DEG, Face, Family
from aspectum.core.view.camera import FIRST_BEARING, camera_matrix, eye_level_height
from aspectum.core.view.descent import edge_rows
from aspectum.core.view.solve import Solution, known_matrix

STEPS, TRIES = 25, 8  # most steps, and most dampings tried for each, before what is found so far is taken
MANY_VALUES, FEW_STEPS = (
    200,
    6,
)  # on sheets that large each step costs tenths of a second, and the lines have come close already
ENOUGH = 1e-4  # share of the chi-square that the last step may still promise
DAMPING = 1e-4  # to begin with
LONGEST_STEP = 0.4  # of a camera's parameter
SETTLED = 2  # rounds of weighing by depth
STRAINED = 3.0  # deviations of the chi-square beyond which the ends do not agree with any form under this view


@dataclass(frozen=True)
class SolvedForms:
    """Forms solved with their camera. ``values`` (N,): the coordinates, each piece at a scale of its own;
    ``covariance`` (F + N, F + N) of the free unknowns, then the values, and ``loose`` with the faint hold on open
    questions loosened tenfold; ``seen``: all ends at the solution; ``cost``: their chi-square with that of all else
    that is known, and ``strain``: by how much it is beyond what the point error explains, which widens the covariance,
    or one; ``dropped``: faces whose corners fit no flat face of their form, with the miss (px) of the worst.
    """

    solution: Solution
    layout: Layout
    laid: LaidEnds
    params: Floats
    values: Floats
    covariance: Floats
    loose: Floats
    seen: EndLook
    cost: float
    strain: float
    dropped: dict[str, float] = field(default_factory=dict)

    @property
    def first_value(self) -> int:
        """Where the values begin among the unknowns."""
        return self.laid.first

    @cached_property
    def frames(self) -> tuple[Floats, Floats]:
        """Images (m, 3, 3) of each form's axes, a row an axis, and their derivatives (m, 3, 3, F)."""
        frames, by = form_axes(self.params, self.laid.bearing)
        whole = np.zeros((*frames.shape, self.laid.first))
        place = self.laid.place
        for m, turn in enumerate(self.laid.bearing):
            for c, column in enumerate([*place[:FIRST_BEARING].tolist(), int(place[turn])]):
                if column >= 0:
                    whole[m, :, :, column] += by[m, :, :, c]
        return frames, whole

    def pixels(self, image: Floats) -> Floats:
        """Pixels (..., 2) of homogeneous picture points (..., 3)."""
        evidence = self.solution.evidence
        return np.asarray(image[..., :2] / image[..., 2:] * evidence.scale + np.array(evidence.setup.centre), float)

    def units(self, at: tuple[float, float]) -> Floats:
        """A pixel in camera units, (2,)."""
        evidence = self.solution.evidence
        return np.asarray((np.array(at) - np.array(evidence.setup.centre)) / evidence.scale, float)


@dataclass(frozen=True)
class Beside:
    """What else is known of the view: slope edges, rims as they stand at the view of the lines, and what was known
    beforehand.
    """

    solution: Solution
    sloping: Flags
    z: Floats
    by: Floats

    @classmethod
    def of(cls, solution: Solution) -> Beside:
        evidence, free = solution.evidence, solution.view.free
        count = len(evidence.edges)
        sloping = np.array([e.family is Family.SLOPE for e in evidence.edges], bool) & solution.active[:count]
        step = solution.rim_step
        if step is None:
            return cls(solution, sloping, np.zeros(0), np.zeros((0, len(free))))
        on = solution.active[count:]
        return cls(solution, sloping, step.z[on].reshape(-1), step.by[on][:, :, free].reshape(-1, len(free)))

    @property
    def count(self) -> int:
        """How many rows there are, what was known beforehand one for each parameter."""
        return (
            len(self.z) + int(self.sloping.sum()) + len(self.solution.view.free) + len(self.solution.view.hold.levels)
        )

    def add(self, params: Floats, matrix: Floats, slope: Floats) -> float:
        """Add all of it to normal equations whose first unknowns are the view's; returns its cost."""
        solution, evidence = self.solution, self.solution.evidence
        known, root = self.known(params)
        r, jac = [known], [root]
        if len(self.z):
            r.append(self.z + self.by @ (params - solution.params)[solution.view.free])
            jac.append(self.by)
        if self.sloping.any():
            edge_r, edge_jac = edge_rows(evidence.laid_edges, solution.view.hold, params)
            r.append(edge_r[self.sloping])
            jac.append(edge_jac[self.sloping])
        gap, by = np.concatenate(r), np.concatenate(jac)
        count = by.shape[1]
        matrix[:count, :count] += by.T @ by
        slope[:count] += by.T @ gap
        return float(gap @ gap)

    def known(self, params: Floats) -> tuple[Floats, Floats]:
        """What was known beforehand, as residuals and their derivatives."""
        hold = self.solution.view.hold
        stiff = np.sqrt(hold.pull[hold.free])
        r, jac = [stiff * (params - hold.mean)[hold.free]], [np.diag(stiff)]
        for x, y, stiffness in hold.levels:
            height, slope = eye_level_height(params, x)
            r.append(np.array([stiffness * (height - y)]))
            jac.append(stiffness * slope[hold.free][None])
        return np.concatenate(r), np.concatenate(jac)


def settle(solution: Solution, layout: Layout, faces: list[Face], start: Floats | None = None) -> SolvedForms | None:
    """Least squares (Levenberg-Marquardt) from the view of ``solution``, or from the parameters ``start``; None where
    the ends have no place before the eye.
    """
    size = len(solution.params)
    laid, begin = unknowns_of(solution, layout, faces)
    params = begin if start is None else start
    values = first_values(laid, params, layout.values)
    if values is None:
        return None
    beside, free = Beside.of(solution), np.flatnonzero(laid.place >= 0)

    def look(params: Floats, values: Floats) -> tuple[float, EndLook] | None:
        seen = look_at_ends(laid, params, values)
        return (seen.cost + beside.add(params[:size], seen.matrix, seen.slope), seen) if seen.front else None

    here, damping = look(params, values), DAMPING
    if here is None:
        return None
    for _ in range(STEPS if layout.values <= MANY_VALUES else FEW_STEPS):
        cost, seen = here
        for _ in range(TRIES):
            step = damped(seen.matrix, seen.slope, damping)
            step[: laid.first] = np.clip(step[: laid.first], -LONGEST_STEP, LONGEST_STEP)
            there = params.copy()
            there[free] += step[: laid.first]
            tried = look(there, values + step[laid.first :])
            if tried is not None and tried[0] <= cost:
                break
            damping *= 10.0
        else:
            break
        assert tried is not None
        params, values, here, damping = there, values + step[laid.first :], tried, damping / 10.0
        if cost - here[0] < ENOUGH * max(here[0], 1.0):
            break
    cost, seen = here
    known = beside.known(params[:size])[1]
    spare = 2 * int(layout.fresh.sum()) + beside.count - laid.first - layout.values + int(layout.piece.max()) + 1
    strain = cost / max(spare, 1) if cost > spare + STRAINED * np.sqrt(2.0 * max(spare, 1)) else 1.0
    spread = []
    for widen in (1.0, 10.0):
        held = seen.matrix.copy()
        held[: known.shape[1], : known.shape[1]] += (
            known_matrix(solution.view.hold, params[:size], widen) - known.T @ known
        )
        spread.append(strain * inverse(held))
    return SolvedForms(solution, layout, laid, params, values, spread[0], spread[1], seen, cost, strain)


def unknowns_of(solution: Solution, layout: Layout, faces: list[Face]) -> tuple[LaidEnds, Floats]:
    """The ends with their unknowns, and the parameters to begin from: the view's, then the bearings of forms that only
    faces show, each beginning where a pair of sides points, and last a bearing of zero for posts.
    """
    evidence, params = solution.evidence, solution.params
    own = {
        f.form: f
        for f in faces
        if f.form not in evidence.forms and any(family is not Family.UPRIGHT for family in f.families)
    }
    extra, matrix = list(own), camera_matrix(params)
    last = len(params) + len(extra)
    bearing = [
        FIRST_BEARING + evidence.forms.index(f)
        if f in evidence.forms
        else len(params) + extra.index(f)
        if f in own
        else last
        for f in layout.forms
    ]
    place = np.concatenate([solution.view.hold.place, len(solution.view.free) + np.arange(len(extra)), [-1]]).astype(
        np.intp
    )
    at = (layout.at - np.array(evidence.setup.centre)) / evidence.scale
    first = len(solution.view.free) + len(extra)
    laid = LaidEnds(
        at, layout.form, layout.node, layout.fresh, layout.piece, np.array(bearing, np.intp), place, first, evidence.sd
    )
    begin = [bearing_of(matrix, own[form], evidence.scale, evidence.setup.centre) for form in extra]
    return laid, np.concatenate([params, begin, [0.0]])


def bearing_of(matrix: Floats, face: Face, scale: float, centre: tuple[float, float]) -> float:
    """Bearing (radians) of a form by where a level pair of its face's sides meets."""
    a, b, c, d = (np.append((np.array(corner) - np.array(centre)) / scale, 1.0) for corner in face.corners)
    first = face.families[0] is not Family.UPRIGHT
    pair = (np.cross(a, b), np.cross(d, c)) if first else (np.cross(b, c), np.cross(a, d))
    east, north, _ = np.linalg.solve(matrix, np.cross(*pair))
    family = face.families[0 if first else 1]
    return float(np.arctan2(east, north) - np.radians(BEARING_OFFSET_DEG.get(family, 0.0)))


def first_values(laid: LaidEnds, params: Floats, count: int) -> Floats | None:
    """Coordinates (N,) under ``params``: piece by piece the least algebraic error, each end weighed by its depth in
    turn; the depths of a piece are one in the middle. None where ends of a piece lie on both sides of the eye.
    """
    frames = form_axes(params, laid.bearing)[0]
    depth_by = frames[laid.form, :, 2]
    piece_of, members = (
        laid.piece[laid.node[:, 0]],
        [np.flatnonzero(laid.piece == n) for n in range(int(laid.piece.max(initial=-1)) + 1)],
    )
    values, matrix = np.zeros(count), np.zeros((count, count))
    for _ in range(SETTLED):
        algebraic(laid, frames, values, matrix)
        for n, nodes in enumerate(members):
            values[nodes] = np.linalg.eigh(matrix[np.ix_(nodes, nodes)])[1][:, 0]
            mine = piece_of == n
            depth = (values[laid.node[mine]] * depth_by[mine]).sum(axis=1)
            values[nodes] /= float(np.median(depth))
    if not (values[laid.node] * depth_by).sum(axis=1).min() > LEAST_DEPTH:
        return None
    return values


def damped(matrix: Floats, slope: Floats, damping: float) -> Floats:
    """A Levenberg-Marquardt step, each unknown scaled by its own stiffness."""
    size = 1.0 / np.sqrt(np.maximum(np.diag(matrix), 1e-12))
    scaled = matrix * size[:, None] * size + (damping + 1e-12) * np.eye(len(slope))
    return np.asarray(-size * np.linalg.solve(scaled, size * slope), float)


def difference(found: SolvedForms, a: int, b: int) -> tuple[float, float]:
    """Value ``b`` less value ``a``, and its standard deviation."""
    by, first = np.zeros(len(found.covariance)), found.first_value
    by[first + b], by[first + a] = 1.0, -1.0
    return float(found.values[b] - found.values[a]), deviation(by, found.covariance)


def deviation(by: Floats, covariance: Floats) -> float:
    """Standard deviation of what has the derivatives ``by``."""
    return float(np.sqrt(max(float(by @ covariance @ by), 0.0)))
