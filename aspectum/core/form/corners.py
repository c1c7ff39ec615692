"""Which sighted ends are one corner, and which coordinates of a form's corners are one value.

Every end has three coordinates in its form's frame: along right (or depth), along left (or across) and up. An
edge ties the two that do not change along it; a corner ties all three of its ends. A box so comes down
to two values an axis.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

import numpy as np

from aspectum.core.form.look import AXES
from aspectum.core.plane.lines import Flags, Floats, Ints
from aspectum.core.sightings import AXIS, Edge, Face, Family, Height, Setup, Tip

UP = AXIS[Family.UPRIGHT]
POST = "\0"  # begins the form that a height is of its own: a form's id holds no such character
SAME_CORNER = 6.0  # point errors within which ends of one form and different families are one corner
SAME_CORNER_OF_STEPS = 3.0  # the same where a plinth or an eaves may stand as little beside the wall
A_BOX_HAS = 6  # edges along each axis, with a door or a shelf
TOUCHES = 6.0  # point errors within which a lone end touches another form's edge, or the picture's border
SAME_CLICK = 0.05  # point errors: ends this near were laid in one go, and are one reading


@dataclass(frozen=True)
class End:
    """One end laid on the picture. ``owner``: the edge, face or height whose ``tip`` it is, ``along``: the axes that
    run from it there.
    """

    at: tuple[float, float]
    form: str
    owner: str
    tip: int
    along: frozenset[int]
    hidden: bool = False
    of_face: bool = False


@dataclass(frozen=True)
class Layout:
    """K ends and the N values that they come down to. ``at`` (K, 2): px; ``form`` (K,): index into ``forms``; ``node``
    (K, 3): the value of each coordinate; ``corner`` (K,): which ends are one; ``cut`` (K,): ends that are none of the
    form's corners, or may be none; ``doubtful`` (K,): those of them at which several ends of the form meet all the
    same; ``fresh`` (K,): ends that are readings of their own; ``piece`` (N,): values of one piece hang together and
    share one scale.
    """

    ends: tuple[End, ...]
    forms: tuple[str, ...]
    at: Floats
    form: Ints
    node: Ints
    corner: Ints
    cut: Flags
    doubtful: Flags
    fresh: Flags
    piece: Ints
    places: dict[tuple[str, int], int] = field(repr=False)

    @property
    def values(self) -> int:
        return len(self.piece)

    def end(self, owner: str, tip: int) -> int:
        """The place of an end among all."""
        return self.places[owner, tip]


class Groups:
    """Things joined together, by their numbers (union-find)."""

    def __init__(self, count: int) -> None:
        self.parent = list(range(count))

    def find(self, k: int) -> int:
        while self.parent[k] != k:
            self.parent[k] = self.parent[self.parent[k]]
            k = self.parent[k]
        return k

    def join(self, a: int, b: int) -> None:
        self.parent[self.find(a)] = self.find(b)

    def numbered(self) -> Ints:
        """The number of each thing's group, from zero on in order of appearance."""
        seen: dict[int, int] = {}
        return np.array([seen.setdefault(self.find(k), len(seen)) for k in range(len(self.parent))], np.intp)


def ends_of(edges: Iterable[Edge], faces: Iterable[Face], heights: Iterable[Height]) -> tuple[End, ...]:
    """All ends of edges that run along an axis, of faces and of heights; each height is a form of its own."""
    ends = [
        End(at, e.form, e.id, k, frozenset({AXIS[e.family]}), tip in e.hidden)
        for e in edges
        if e.family in AXIS
        for k, (at, tip) in enumerate(((e.p, Tip.P), (e.q, Tip.Q)))
    ]
    for f in faces:
        both = frozenset(AXIS[family] for family in f.families)
        ends += [End(at, f.form, f.id, k, both, of_face=True) for k, at in enumerate(f.corners)]
    for h in heights:
        ends += [End(at, f"{POST}{h.id}", h.id, k, frozenset({UP})) for k, at in enumerate((h.foot, h.top))]
    return tuple(ends)


def lay_out(
    setup: Setup,
    ends: tuple[End, ...],
    edges: Sequence[Edge],
    faces: Sequence[Face],
    released: frozenset[int] = frozenset(),
    level: frozenset[tuple[int, int, int]] = frozenset(),
) -> Layout:
    """Tie ``ends`` to one another. ``edges``: all that are sighted, which may cut a lone end off; ``released``: ends
    that did not fit the corner they lie at; ``level``: coordinates known to be one value, as end, end and axis.
    """
    at = np.array([e.at for e in ends], float).reshape(-1, 2)
    owners: dict[str, list[int]] = {}
    for k, end in enumerate(ends):
        owners.setdefault(end.owner, []).append(k)
    built = more_than_boxes(ends)
    near = np.array([SAME_CORNER_OF_STEPS if e.form in built else SAME_CORNER for e in ends]) * setup.point_sd_px
    corner = corners(ends, at, near, released)
    size = np.bincount(corner, minlength=len(ends))
    lone = size[corner] == 1
    hidden = np.array([e.hidden for e in ends], bool)
    stops, ends_there = cut_off(setup, ends, at, edges)
    free_of = np.bincount(corner, ~stops, minlength=len(ends))[corner] > 0
    # two edges that the same thing cuts off may end near each other and be no corner
    doubtful = ~lone & ~free_of
    cut = hidden | doubtful | (lone & (stops | ends_there))
    cut[list(released)] = True
    nodes = Groups(AXES * len(ends))
    first: dict[int, int] = {}
    for k in range(len(ends)):
        other = first.setdefault(int(corner[k]), k)
        for axis in range(AXES) if other != k else ():
            nodes.join(AXES * k + axis, AXES * other + axis)
    of_face = {f.id: f for f in faces}
    for owner, mine in owners.items():
        face = of_face.get(owner)
        if face is None:
            sides = [(mine[0], mine[1], next(iter(ends[mine[0]].along)))]
        else:
            sides = [(mine[i], mine[(i + 1) % 4], AXIS[face.families[i % 2]]) for i in range(4)]
        for a, b, along in sides:
            for axis in range(AXES):
                if axis != along:
                    nodes.join(AXES * a + axis, AXES * b + axis)
    for a, b, axis in level:
        nodes.join(AXES * a + axis, AXES * b + axis)
    node = nodes.numbered().reshape(-1, AXES)
    count = int(node.max(initial=-1)) + 1
    pieces = Groups(count)
    for row in node.tolist():
        pieces.join(row[0], row[1])
        pieces.join(row[0], row[2])
    forms = tuple(dict.fromkeys(e.form for e in ends))
    form = np.array([forms.index(e.form) for e in ends], np.intp)
    fresh = np.ones(len(ends), bool)
    for k in np.flatnonzero(~lone).tolist():
        same = np.flatnonzero((corner == corner[k]) & (np.hypot(*(at - at[k]).T) < SAME_CLICK * setup.point_sd_px))
        fresh[k] = same[0] == k
    places = {(e.owner, e.tip): k for k, e in enumerate(ends)}
    return Layout(ends, forms, at, form, node, corner, cut, doubtful, fresh, pieces.numbered(), places)


def more_than_boxes(ends: Iterable[End]) -> set[str]:
    """The forms with more edges along an axis than a box has: windows, steps and roofs have planes of their own."""
    along: dict[tuple[str, int], set[str]] = {}
    for end in ends:
        for axis in () if end.of_face else end.along:
            along.setdefault((end.form, axis), set()).add(end.owner)
    return {form for (form, _), owners in along.items() if len(owners) > A_BOX_HAS}


def corners(ends: tuple[End, ...], at: Floats, near: Floats, released: frozenset[int]) -> Ints:
    """Which ends (K,) are one corner: those of one form that lie within ``near`` (K,; px), the nearest first, as long
    as no two of them run the same way or belong to one thing.
    """
    groups, members = Groups(len(ends)), {k: [k] for k in range(len(ends))}
    if not len(ends):
        return groups.numbered()
    apart = np.hypot(at[:, None, 0] - at[None, :, 0], at[:, None, 1] - at[None, :, 1])
    a, b = np.nonzero(np.triu(apart <= near[:, None], 1))
    for i, k in sorted(zip(a.tolist(), b.tolist(), strict=True), key=lambda pair: float(apart[pair])):
        one, two = groups.find(i), groups.find(k)
        if one == two or ends[i].form != ends[k].form or {i, k} & released or ends[i].hidden or ends[k].hidden:
            continue
        if any(not may_meet(ends[x], ends[y]) for x in members[one] for y in members[two]):
            continue
        groups.join(one, two)
        members[two] += members.pop(one)
    return groups.numbered()


def may_meet(a: End, b: End) -> bool:
    """Whether two ends of one form may be one corner: an edge goes on from another of its family, it does
    not meet it.
    """
    return a.owner != b.owner and (a.of_face or b.of_face or not a.along & b.along)


def cut_off(setup: Setup, ends: tuple[End, ...], at: Floats, edges: Sequence[Edge]) -> tuple[Flags, Flags]:
    """Which ends (K,) of edges stop at another form's edge, and which at the picture's border: alone there, they are no
    corners.
    """
    near = TOUCHES * setup.point_sd_px
    border = np.minimum(np.abs(at), np.abs(at - [setup.width_px, setup.height_px])).min(axis=1) <= near
    may = np.array([not (e.of_face or e.hidden or e.form[:1] == POST) for e in ends], bool)
    if not edges:
        return np.zeros(len(ends), bool), may & border
    p, q = np.array([e.p for e in edges], float), np.array([e.q for e in edges], float)
    run = q - p
    away = at[:, None] - p[None]
    share = np.clip((away * run).sum(axis=2) / np.maximum((run * run).sum(axis=1), 1e-12), 0.0, 1.0)
    gap = away - share[..., None] * run
    names = {form: n for n, form in enumerate(dict.fromkeys([e.form for e in ends] + [e.form for e in edges]))}
    other = np.array([names[e.form] for e in ends])[:, None] != np.array([names[e.form] for e in edges])[None]
    touches = (other & ((gap * gap).sum(axis=2) <= near * near)).any(axis=1)
    return may & touches, may & border
