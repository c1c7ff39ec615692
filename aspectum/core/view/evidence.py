"""All sightings of a sheet, arranged for the solver.

Sightings are counted edges first, then rims: flags of shape (n + R,).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.factor import cholesky, solve_with
from aspectum.core.plane.lines import Flags, Floats, Ints, tilt_difference
from aspectum.core.plane.meet import Segments
from aspectum.core.plane.rim_fit import RimFit
from aspectum.core.sightings import BEARING_OFFSET_DEG, Edge, Family, Plane, Rim, Setup, SlotKey
from aspectum.core.tolerance import beyond
from aspectum.core.view.camera import FIRST_BEARING, PITCH, Slots
from aspectum.core.view.circles import RimBank
from aspectum.core.view.descent import LaidEdges
from aspectum.core.view.effort import Effort
from aspectum.core.view.rim_images import NO_RIMS, LaidRims


@dataclass(frozen=True)
class Evidence:
    """All edges in camera units, with the direction slot each belongs to.

    ``a``, ``b``: ends (n, 2); ``slot``: (n,) index into ``slots``; ``scale``: pixels per unit.
    """

    setup: Setup
    edges: tuple[Edge, ...]
    a: Floats
    b: Floats
    slot: Ints
    slots: Slots
    slot_keys: tuple[SlotKey, ...]
    forms: tuple[str, ...]
    slopes: tuple[str, ...]
    scale: float
    effort: Effort
    rims: RimBank | None = None

    @property
    def count(self) -> int:
        """How many sightings, edges and rims."""
        return len(self.edges) + (0 if self.rims is None else len(self.rims))

    @property
    def readings(self) -> int:
        """How many independent readings of the view: one an edge, two a rim."""
        return len(self.edges) + (0 if self.rims is None else 2 * len(self.rims))

    @cached_property
    def ids(self) -> list[str]:
        """Of all sightings, edges then rims."""
        return [e.id for e in self.edges] + [r.id for r in (self.rims.rims if self.rims else ())]

    @property
    def size(self) -> int:
        return FIRST_BEARING + len(self.forms) + len(self.slopes)

    @property
    def sd(self) -> float:
        return self.setup.point_sd_px / self.scale

    @cached_property
    def middle(self) -> Floats:
        return (self.a + self.b) / 2

    @cached_property
    def segments(self) -> Segments:
        return Segments.of(self.a, self.b)

    @cached_property
    def laid_edges(self) -> LaidEdges:
        """The edges as compiled code takes them."""
        segments, slots = self.segments, self.slots
        return LaidEdges(
            segments.line, segments.total, segments.square, self.slot, slots.bearing, slots.offset, slots.slope, self.sd
        )

    @property
    def laid_rims(self) -> LaidRims:
        """The rims as compiled code takes them."""
        return NO_RIMS if self.rims is None else self.rims.laid


FittedRims = tuple[tuple[Rim, RimFit], ...]


def gather(
    setup: Setup, edges: tuple[Edge, ...], plans: dict[str, Family], rims: FittedRims = (), effort: Effort | None = None
) -> Evidence:
    """Arrange ``edges`` and ``rims`` for the solver; ``plans`` names each slope group's plan family,
    ``effort`` is what the check has left to spend.
    """
    effort = effort or Effort.for_sheet(len(edges), len(rims))
    scale = float(np.hypot(setup.width_px, setup.height_px)) / 2
    centre = np.array(setup.centre)
    a = (np.array([e.p for e in edges], float).reshape(-1, 2) - centre) / scale
    b = (np.array([e.q for e in edges], float).reshape(-1, 2) - centre) / scale
    standing = [r.form for r, _ in rims if r.plane is not Plane.LEVEL]
    forms = tuple(dict.fromkeys([e.form for e in edges if e.family != Family.UPRIGHT] + standing))
    slopes = tuple(dict.fromkeys(slope_key(e) for e in edges if e.family == Family.SLOPE))
    keys: dict[SlotKey, int] = {}
    bearing, offset, slope_at, slot = [], [], [], []

    def known(key: SlotKey, form: str, plan: Family, slope: int) -> int:
        """The number of a direction's slot, laid out when it is first met."""
        if key not in keys:
            keys[key] = len(keys)
            upright = key[1] is Family.UPRIGHT
            bearing.append(PITCH if upright else FIRST_BEARING + forms.index(form))
            offset.append(0.0 if upright else np.radians(BEARING_OFFSET_DEG[plan]))
            slope_at.append(-2 if upright else slope)
        return keys[key]

    for e in edges:
        sloping = e.family == Family.SLOPE
        plan = plans[slope_key(e)] if sloping else e.family
        slot.append(
            known(e.slot, e.form, plan, FIRST_BEARING + len(forms) + slopes.index(slope_key(e)) if sloping else -1)
        )
    for rim, _ in rims:
        # an axle's vanishing point is wanted even where no edge runs along it
        known(rim.slot, rim.form, rim.plane.family, -1)
    slots = Slots(np.array(bearing, np.intp), np.array(offset, float), np.array(slope_at, np.intp))
    bank = None
    if rims:
        follows = [-1 if r.plane is Plane.LEVEL else FIRST_BEARING + forms.index(r.form) for r, _ in rims]
        turned = [0.0 if r.plane is Plane.LEVEL else np.radians(BEARING_OFFSET_DEG[r.plane.family]) for r, _ in rims]
        bank = RimBank(
            tuple(r for r, _ in rims),
            tuple(f for _, f in rims),
            np.array(follows, np.intp),
            np.array(turned, float),
            setup.centre,
            scale,
            effort,
        )
    return Evidence(setup, edges, a, b, np.array(slot, np.intp), slots, tuple(keys), forms, slopes, scale, effort, bank)


def slope_key(edge: Edge) -> str:
    return f"{edge.form}/{edge.slope or 'slope'}"


def own_points(evidence: Evidence, active: Flags) -> list[Floats | None]:
    """Each slot's vanishing point from its own edges alone (unit homogeneous vector), or None
    with fewer than two edges: the least-squares meet of the lines, each weighted by its length.
    """
    points = meeting_points(
        evidence.segments.line, evidence.middle, evidence.slot, active[: len(evidence.edges)], len(evidence.slot_keys)
    )
    return [point if point.any() else None for point in points]


@compiled
def meeting_points(lines: Floats, middle: Floats, slot: Ints, active: Flags, slots: int) -> Floats:
    """The unit vector (m, 3) that the ``active`` of ``lines`` (n, 3) of each of ``slots`` come closest to, each line
    weighted by how near to its ``middle`` (n, 2) it lies; zero with fewer than two lines. The least eigenvector, by
    inverse iteration (Golub & Van Loan, Matrix Computations, 4th ed., section 7.6).
    """
    points, square, root = np.zeros((slots, 3)), np.zeros((3, 3)), np.zeros((3, 3))
    at, there = np.empty(3), np.empty(3)
    for m in range(slots):
        members = 0
        for i in range(len(slot)):
            members += 1 if slot[i] == m and active[i] else 0
        if members < 2:
            continue
        for turn in range(3):
            square[:] = 0.0
            for i in range(len(slot)):
                if slot[i] != m or not active[i]:
                    continue
                weight = 1.0
                if turn > 0:
                    dx, dy = middle[i, 0] * at[2] - at[0], middle[i, 1] * at[2] - at[1]
                    weight = 1.0 / max(dx * dx + dy * dy, 1e-18)
                for j in range(3):
                    for k in range(3):
                        square[j, k] += weight * lines[i, j] * lines[i, k]
            faint = 1e-9 * (square[0, 0] + square[1, 1] + square[2, 2]) + 1e-300
            for j in range(3):
                square[j, j] += faint
            if turn == 0:
                at[0], at[1], at[2] = 0.48, 0.6, 0.64
            if not cholesky(square, root):
                break
            for _ in range(INVERSE_STEPS):
                solve_with(root, at, there)
                size = np.sqrt(there[0] * there[0] + there[1] * there[1] + there[2] * there[2])
                for j in range(3):
                    at[j] = there[j] / size
        for j in range(3):
            points[m, j] = at[j]
    return points


INVERSE_STEPS = 12  # the gap between the two least eigenvalues is wide where lines meet at all


def nearly_parallel(evidence: Evidence, members: np.ndarray) -> bool:
    tilts = np.degrees(np.arctan2(-(evidence.b - evidence.a)[members, 1], (evidence.b - evidence.a)[members, 0]))
    spread = np.abs(tilt_difference(tilts, tilts[0]))
    reading = np.degrees(evidence.sd * np.sqrt(2.0) / np.hypot(*(evidence.b - evidence.a)[members].T))
    return not beyond(spread, np.hypot(reading, reading[0]), 0.0).any()
