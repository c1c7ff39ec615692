"""All sightings of a sheet, arranged for the solver.

Sightings are counted edges first, then rims: flags of shape (n + R,).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from aspectum.core.plane.lines import Flags, Floats, Ints, tilt_difference
from aspectum.core.plane.meet import Segments
from aspectum.core.plane.rim_fit import RimFit
from aspectum.core.sightings import BEARING_OFFSET_DEG, Edge, Family, Plane, Rim, Setup, SlotKey
from aspectum.core.tolerance import beyond
from aspectum.core.view.camera import FIRST_BEARING, PITCH, Slots
from aspectum.core.view.circles import RimBank
from aspectum.core.view.effort import Effort


@dataclass(frozen=True)
class OwnParameters:
    """Which edges turn with a bearing (``level``) and which slope, by index; the parameters they do it
    with, and of sloping ones the row of their slot among the sloping slots.
    """

    level: Ints
    bearing: Ints
    sloping: Ints
    slope: Ints
    group: Ints

    @classmethod
    def of(cls, slots: Slots, slot: Ints) -> OwnParameters:
        slope = slots.slope[slot]
        level, sloping = np.flatnonzero(slope > -2), np.flatnonzero(slope >= 0)
        group = np.searchsorted(slots.sloping, slot[sloping])
        return cls(level, slots.bearing[slot[level]], sloping, slope[sloping], group)


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

    @property
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
    def own(self) -> OwnParameters:
        return OwnParameters.of(self.slots, self.slot)


FittedRims = tuple[tuple[Rim, RimFit], ...]


def gather(setup: Setup, edges: tuple[Edge, ...], plans: dict[str, Family], rims: FittedRims = (), effort: Effort | None = None) -> Evidence:
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
        slot.append(known(e.slot, e.form, plan, FIRST_BEARING + len(forms) + slopes.index(slope_key(e)) if sloping else -1))
    for rim, _ in rims:
        # an axle's vanishing point is wanted even where no edge runs along it
        known(rim.slot, rim.form, rim.plane.family, -1)
    slots = Slots(np.array(bearing, np.intp), np.array(offset, float), np.array(slope_at, np.intp))
    bank = None
    if rims:
        follows = [-1 if r.plane is Plane.LEVEL else FIRST_BEARING + forms.index(r.form) for r, _ in rims]
        turned = [0.0 if r.plane is Plane.LEVEL else np.radians(BEARING_OFFSET_DEG[r.plane.family]) for r, _ in rims]
        bank = RimBank(tuple(r for r, _ in rims), tuple(f for _, f in rims), np.array(follows, np.intp), np.array(turned, float), setup.centre, scale, effort)
    return Evidence(setup, edges, a, b, np.array(slot, np.intp), slots, tuple(keys), forms, slopes, scale, effort, bank)


def slope_key(edge: Edge) -> str:
    return f"{edge.form}/{edge.slope or 'slope'}"


def own_points(evidence: Evidence, active: Flags) -> list[Floats | None]:
    """Each slot's vanishing point from its own edges alone (unit homogeneous vector), or None
    with fewer than two edges: the least-squares meet of the lines, each weighted by its length.
    """
    lines = evidence.segments.line.T
    member = (np.arange(len(evidence.slot_keys))[:, None] == evidence.slot[None]) & active[None, : len(evidence.edges)]
    squares = lines[:, :, None] * lines[:, None, :]
    weight = np.ones(len(lines))
    for _ in range(3):
        vectors = np.linalg.eigh(np.einsum("mn,nij->mij", member * weight, squares))[1][:, :, 0]
        mine = vectors[evidence.slot]
        reach = evidence.middle * mine[:, 2:] - mine[:, :2]
        weight = 1.0 / np.maximum(np.einsum("ni,ni->n", reach, reach), 1e-18)
    return [vectors[m] if member[m].sum() >= 2 else None for m in range(len(vectors))]


def nearly_parallel(evidence: Evidence, members: np.ndarray) -> bool:
    tilts = np.degrees(np.arctan2(-(evidence.b - evidence.a)[members, 1], (evidence.b - evidence.a)[members, 0]))
    spread = np.abs(tilt_difference(tilts, tilts[0]))
    reading = np.degrees(evidence.sd * np.sqrt(2.0) / np.hypot(*(evidence.b - evidence.a)[members].T))
    return not beyond(spread, np.hypot(reading, reading[0]), 0.0).any()
