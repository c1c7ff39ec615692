"""Forms told apart by bearing and place, and named by what they are."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.finding.settle import UPRIGHT
from aspectum.core.plane.lines import Floats, Ints
from aspectum.core.sightings import Family, FormKind

NEAR = 0.02  # of the picture's diagonal: lines that come so close to each other belong together
LEAST_EDGES = 3  # of a form of its own; what is less joins the nearest of its bearing
LARGE = 0.3  # of the picture's height: a form that stands so tall and reaches above eye level is a building
FAR_WIDTHS = 4.0  # picture widths beyond which a vanishing point is as good as none: its family runs across


@dataclass(frozen=True)
class Grouped:
    """``form`` (n,): of each line; ``kinds``: of each form what it is."""

    form: Ints
    kinds: tuple[FormKind, ...]


def group(p: Floats, q: Floats, slot: Ints, piles: int, eye_level_y: float, size_px: tuple[int, int]) -> Grouped:
    """Lines by their ends (n, 2), px, in families ``slot`` as in ``settle.Found``; slopes count with the pile of their
    plan.
    """
    reach = NEAR * float(np.hypot(*size_px))
    close = gaps(p, q) < reach
    form = np.full(len(p), -1, np.intp)
    kinds: list[FormKind] = []
    uprights = np.flatnonzero(slot == UPRIGHT)
    for pile in range(piles):
        members = np.flatnonzero((slot >= 0) & (slot // 2 == pile))
        if not len(members):
            continue
        # uprights tie together what they touch
        both = np.concatenate([members, uprights])
        label = components(close[np.ix_(both, both)])[: len(members)]
        sizes = np.bincount(label)
        large = [k for k in np.argsort(-sizes) if sizes[k] >= LEAST_EDGES] or [int(np.argmax(sizes))]
        middles = {k: (p[members[label == k]] + q[members[label == k]]).mean(axis=0) / 2 for k in large}
        first = len(kinds)
        for i, k in zip(members, label, strict=True):
            if k not in middles:
                here = (p[i] + q[i]) / 2
                k = min(large, key=lambda o: float(np.hypot(*(middles[o] - here))))
            form[i] = first + large.index(k)
        for k in large:
            mine = members[[form[i] == first + large.index(k) for i in members]]
            kinds.append(kind_of(p[mine], q[mine], eye_level_y, size_px[1]))
    level = np.flatnonzero(form >= 0)
    if len(uprights) and not len(level):
        form[uprights] = 0
        return Grouped(form, (kind_of(p[uprights], q[uprights], eye_level_y, size_px[1]),))
    for i in uprights:
        if len(level):
            form[i] = form[level[int(np.argmin(gaps(p[[i]], q[[i]], p[level], q[level])[0]))]]
    return Grouped(form, tuple(kinds))


def kind_of(p: Floats, q: Floats, eye_level_y: float, height_px: int) -> FormKind:
    """A building stands tall in the picture and reaches above the eye; whatever else has edges is a box."""
    heights = np.concatenate([p[:, 1], q[:, 1]])
    tall = float(np.ptp(heights)) > LARGE * height_px
    return FormKind.BUILDING if tall and heights.min() < eye_level_y - 0.05 * height_px else FormKind.BOX


def components(joined: np.ndarray) -> Ints:
    """Numbers (n,) of the groups that ``joined`` (n, n) ties together."""
    label, count = np.full(len(joined), -1, np.intp), 0
    for i in range(len(joined)):
        if label[i] >= 0:
            continue
        todo = [i]
        while todo:
            k = todo.pop()
            if label[k] < 0:
                label[k] = count
                todo.extend(np.flatnonzero(joined[k] & (label < 0)).tolist())
        count += 1
    return label


def gaps(p: Floats, q: Floats, p2: Floats | None = None, q2: Floats | None = None) -> Floats:
    """Shortest distances (n, m) between segments."""
    p2, q2 = (p, q) if p2 is None or q2 is None else (p2, q2)

    def to(points: Floats, a: Floats, b: Floats) -> Floats:
        run = b - a
        t = np.clip(
            ((points[:, None] - a[None]) * run[None]).sum(axis=2) / np.maximum((run**2).sum(axis=1), 1e-9)[None], 0, 1
        )
        return np.asarray(np.linalg.norm(points[:, None] - (a[None] + t[..., None] * run[None]), axis=2), float)

    near = np.minimum(np.minimum(to(p, p2, q2), to(q, p2, q2)), np.minimum(to(p2, p, q).T, to(q2, p, q).T))
    u, v = (q - p)[:, None], (q2 - p2)[None]
    w = p2[None] - p[:, None]
    cross = u[..., 0] * v[..., 1] - u[..., 1] * v[..., 0]
    safe = np.where(np.abs(cross) < 1e-9, 1.0, cross)
    s = (w[..., 0] * v[..., 1] - w[..., 1] * v[..., 0]) / safe
    t = (w[..., 0] * u[..., 1] - w[..., 1] * u[..., 0]) / safe
    crossing = (np.abs(cross) > 1e-9) & (s >= 0) & (s <= 1) & (t >= 0) & (t <= 1)
    return np.where(crossing, 0.0, near)


def families_of(camera: Floats, bearing: float, scale: float, width_px: int) -> tuple[Family, Family]:
    """What the two families of a form are called whose first runs at ``bearing`` (radians; -45° to 45° and beyond by
    quarter turns are one): the one at it, and the one a quarter turn to the left.
    """
    far = []
    for b in (bearing, bearing - np.pi / 2):
        x, y, w = camera @ np.array([np.sin(b), np.cos(b), 0.0])
        far.append(abs(w) < 1e-9 or np.hypot(x, y) / abs(w) * scale > FAR_WIDTHS * width_px)
    if far[1]:
        return Family.DEPTH, Family.ACROSS
    if far[0]:
        return Family.ACROSS, Family.DEPTH
    return Family.RIGHT, Family.LEFT


def to_the_right(bearing: float) -> float:
    """The bearing (radians) among its quarter turns that runs away to the right, 0 to 90°."""
    return float(bearing % (np.pi / 2))
