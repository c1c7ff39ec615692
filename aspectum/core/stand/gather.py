"""From set-up and view to the arrays that hiding is worked out on: surfaces with their boxes in the picture, and lines
before its plane.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.lines import Flags, Floats, Ints
from aspectum.core.stand.camera import NEAREST_M, View
from aspectum.core.stand.crossings import Occluders, Pieces
from aspectum.core.stand.hidden import seen_parts
from aspectum.core.stand.solid import Solid, extent_of

AWAY = 4.0  # spans of the whole set-up by which the eye of a parallel view stands off
BOX_PX = 0.01  # by which a patch's box is widened against rounding
# places at which the boxes of a band's circles are measured; what bulges out between is at most this share of their
# size:
ROUND = 32
BULGE = 0.005  # of a box's sides: a curve between two of its points bows out by less


def gather(solids: list[Solid], view: View) -> Occluders:
    """Surfaces of all things, bounded in the picture of ``view``. Faces turned away from the eye hide nothing that a
    face turned to it does not hide: theirs is an empty box, unless the eye may be inside.
    """
    matrix = view.matrix
    faces, bands = [0], [0]
    sides = [0]
    for s in solids:
        faces.append(faces[-1] + s.faces)
        bands.append(bands[-1] + len(s.bands))
        sides.append(sides[-1] + len(s.sides))
    all_bands = _stack([s.bands for s in solids], 10)
    boxes = np.empty((faces[-1] + bands[-1], 4))
    for s, first in zip(solids, faces, strict=False):
        if s.faces:
            _face_boxes(s, view, boxes[first : first + s.faces])
    ways = _stack([w for s in solids for w in _across_ways(s)], 6)
    band_boxes(all_bands, ways, matrix, NEAREST_M, boxes[faces[-1] :])
    thing_box = np.empty((len(solids), 4))
    room = np.empty((len(solids), 6))
    for t, s in enumerate(solids):
        own = np.vstack([boxes[faces[t] : faces[t + 1]], boxes[faces[-1] + bands[t] : faces[-1] + bands[t + 1]]])
        thing_box[t, :2], thing_box[t, 2:] = own[:, :2].min(axis=0), own[:, 2:].max(axis=0)
        room[t, :3], room[t, 3:] = extent_of(s.corners, s.lathes)
    return Occluders(
        normal=_stack([s.normal for s in solids], 3),
        offset=np.concatenate([s.offset for s in solids]) if solids else np.empty(0),
        across=_stack([s.across for s in solids], 3),
        along=_stack([s.along for s in solids], 3),
        sides=_stack([s.sides for s in solids], 4),
        side_start=np.concatenate(
            [np.zeros(1, dtype=np.intp), *(s.side_start[1:] + n for s, n in zip(solids, sides, strict=False))]
        ),
        bands=all_bands,
        patch_box=boxes,
        thing_box=thing_box,
        face_of=np.array(faces, dtype=np.intp),
        band_of=np.array(bands, dtype=np.intp),
        room_box=room,
    )


def _stack(parts: list[Floats], width: int) -> Floats:
    return np.ascontiguousarray(np.vstack([np.empty((0, width)), *parts]))


def _across_ways(solid: Solid) -> list[Floats]:
    return [np.tile(np.concatenate([m.first_way, m.second_way]), (len(m.normals), 1)) for m in solid.lathes]


def turned_to_eye(solid: Solid, view: View) -> Flags:
    """Which faces (F,) of a placed surface show their outside."""
    if view.parallel is not None:
        return np.asarray(solid.normal @ view.towards < 0)
    return np.asarray(solid.normal @ np.array(view.eye_m) > solid.offset)


def eye_within(solid: Solid, view: View) -> bool:
    """Whether the eye is inside the room's box round a placed surface, and so perhaps inside that."""
    if view.parallel is not None:
        return False
    low, high = extent_of(solid.corners, solid.lathes)
    eye = np.array(view.eye_m)
    return bool((eye > low).all() and (eye < high).all())


def _face_boxes(solid: Solid, view: View, boxes: Floats) -> None:
    matrix = view.matrix
    seen = solid.corners @ matrix[:, :3].T + matrix[:, 3]
    w = seen[:, 2]
    before = w >= NEAREST_M
    xy = seen[:, :2] / np.where(before, w, 1.0)[:, None]
    used, start = solid.face_corner, solid.face_start[:-1]
    any_before = np.logical_or.reduceat(before[used], start)
    all_before = np.logical_and.reduceat(before[used], start)
    for k in range(2):
        boxes[:, k] = np.minimum.reduceat(xy[used, k], start) - BOX_PX
        boxes[:, 2 + k] = np.maximum.reduceat(xy[used, k], start) + BOX_PX
    boxes[~all_before] = (-np.inf, -np.inf, np.inf, np.inf)
    boxes[~(any_before & (turned_to_eye(solid, view) | eye_within(solid, view)))] = (np.inf, np.inf, -np.inf, -np.inf)


@compiled
def band_boxes(bands: Floats, ways: Floats, matrix: Floats, nearest: float, boxes: Floats) -> None:
    """The box (B, 4) round each of ``bands`` (B, 10) in the picture; ``ways`` (B, 6) lie across its axis. A band is
    inside the hull of its two circles.
    """
    point = np.empty(3)
    for m in range(len(bands)):
        low_x, low_y, high_x, high_y = np.inf, np.inf, -np.inf, -np.inf
        behind, before = False, False
        for end in range(2):
            z, r = bands[m, 6 + 2 * end], bands[m, 7 + 2 * end]
            for k in range(ROUND):
                t = 2.0 * np.pi * k / ROUND
                c, s = r * np.cos(t), r * np.sin(t)
                for i in range(3):
                    point[i] = bands[m, i] + z * bands[m, 3 + i] + c * ways[m, i] + s * ways[m, 3 + i]
                w = matrix[2, 0] * point[0] + matrix[2, 1] * point[1] + matrix[2, 2] * point[2] + matrix[2, 3]
                if w < nearest:
                    behind = True
                    continue
                before = True
                x = (matrix[0, 0] * point[0] + matrix[0, 1] * point[1] + matrix[0, 2] * point[2] + matrix[0, 3]) / w
                y = (matrix[1, 0] * point[0] + matrix[1, 1] * point[1] + matrix[1, 2] * point[2] + matrix[1, 3]) / w
                low_x, low_y, high_x, high_y = min(low_x, x), min(low_y, y), max(high_x, x), max(high_y, y)
        if behind and before:
            low_x, low_y, high_x, high_y = -np.inf, -np.inf, np.inf, np.inf
        elif before:
            pad = BULGE * (high_x - low_x + high_y - low_y) + BOX_PX
            low_x, low_y, high_x, high_y = low_x - pad, low_y - pad, high_x + pad, high_y + pad
        boxes[m, 0], boxes[m, 1], boxes[m, 2], boxes[m, 3] = low_x, low_y, high_x, high_y


def before_picture(view: View, p: Floats, q: Floats) -> tuple[Flags, Floats, Floats]:
    """Lines from ``p`` to ``q`` (k, 3) cut at the picture's plane, and which of them (k,) reach before it at all."""
    a, b = view.depths(p), view.depths(q)
    whole = (a >= NEAREST_M) | (b >= NEAREST_M)
    with np.errstate(divide="ignore", invalid="ignore"):
        from_p, from_q = ((NEAREST_M - a) / (b - a))[:, None], ((NEAREST_M - b) / (a - b))[:, None]
        cut_p = np.where((whole & (a < NEAREST_M))[:, None], p + from_p * (q - p), p)
        cut_q = np.where((whole & (b < NEAREST_M))[:, None], q + from_q * (p - q), q)
    return whole, cut_p, cut_q


NOWHERE = -1  # number of a piece that lies behind the picture's plane


@dataclass
class Lines:
    """Gathers pieces of line; what lies behind the picture's plane is cut off or left out."""

    view: View
    _arc: list[Flags] = field(default_factory=list)
    _geometry: list[Floats] = field(default_factory=list)
    _span: list[Floats] = field(default_factory=list)
    _beside: list[Ints] = field(default_factory=list)
    _owner: list[Ints] = field(default_factory=list)
    _cut_of: list[int] = field(default_factory=list)
    _cut_at: list[float] = field(default_factory=list)
    _count: int = 0

    def __len__(self) -> int:
        return self._count

    def straights(self, p: Floats, q: Floats, owner: int, beside: Ints) -> Ints:
        """Pieces from ``p`` to ``q`` (k, 3) with the patches ``beside`` (k, ≤ 4) them; their numbers (k,), ``NOWHERE``
        for those wholly behind.
        """
        whole, p, q = before_picture(self.view, p, q)
        geometry = np.zeros((int(whole.sum()), 9))
        geometry[:, :3], geometry[:, 3:6] = p[whole], q[whole]
        return self._add(False, whole, geometry, np.tile((0.0, 1.0), (len(geometry), 1)), owner, beside)

    def arcs(self, centre: Floats, first: Floats, second: Floats, span: Floats, owner: int, beside: Ints) -> Ints:
        """Arcs (k) of ellipses round ``centre`` with the ways ``first`` and ``second`` (k, 3) over ``span`` (k, 2) of
        turns; ``NOWHERE`` for those of whose ellipse some lies behind.
        """
        reach = np.zeros(len(centre))
        if self.view.parallel is None:
            last = self.view.matrix[2, :3]
            reach = np.hypot(first @ last, second @ last)
        whole = self.view.depths(centre) - reach >= NEAREST_M
        return self._add(True, whole, np.hstack([centre, first, second])[whole], span[whole], owner, beside)

    def circle(
        self,
        centre: Floats,
        first: Floats,
        second: Floats,
        owner: int,
        beside: tuple[int, ...],
        cuts: tuple[float, ...] = (),
    ) -> int:
        """One ellipse all the way round, or as much of it as lies before the picture's plane. ``cuts``: turns at which
        its visibility may change.
        """
        span = (0.0, 2 * np.pi)
        if self.view.parallel is None:
            last = self.view.matrix[2]
            w0, w1, w2 = float(last[:3] @ centre + last[3]), float(last[:3] @ first), float(last[:3] @ second)
            reach = float(np.hypot(w1, w2))
            if w0 + reach < NEAREST_M:
                return NOWHERE
            if w0 - reach < NEAREST_M:
                middle, half = float(np.arctan2(w2, w1)), float(np.arccos((NEAREST_M - w0) / reach))
                span = (middle - half, middle + half)
        geometry = np.concatenate([centre, first, second])[None]
        number = int(
            self._add(
                True, np.ones(1, dtype=bool), geometry, np.array([span]), owner, np.array([beside], dtype=np.intp)
            )[0]
        )
        for cut in cuts:
            turned = span[0] + (cut - span[0]) % (2 * np.pi)
            if turned < span[1]:
                self._cut_of.append(number)
                self._cut_at.append(turned)
        return number

    def _add(self, arc: bool, whole: Flags, geometry: Floats, span: Floats, owner: int, beside: Ints) -> Ints:
        count = len(geometry)
        numbers = np.full(len(whole), NOWHERE, dtype=np.intp)
        numbers[whole] = np.arange(self._count, self._count + count)
        self._count += count
        room = np.full((count, 4), -1, dtype=np.intp)
        room[:, : beside.shape[1]] = beside[whole]
        self._arc.append(np.full(count, arc))
        self._geometry.append(geometry)
        self._span.append(span)
        self._beside.append(room)
        self._owner.append(np.full(count, owner, dtype=np.intp))
        return numbers

    def pieces(self) -> Pieces:
        """All of them as arrays."""
        if not self._arc:
            return Pieces(
                np.empty(0, dtype=bool),
                np.empty((0, 9)),
                np.empty((0, 2)),
                np.empty((0, 4), dtype=np.intp),
                np.empty(0, dtype=np.intp),
            )
        return Pieces(
            np.concatenate(self._arc),
            np.vstack(self._geometry),
            np.vstack(self._span),
            np.vstack(self._beside),
            np.concatenate(self._owner),
        )

    def seen(self, pieces: Pieces, occluders: Occluders, through: bool = False) -> tuple[Ints, Floats]:
        """What nothing hides of ``pieces``: their numbers (K,) in order, and from where to where (K, 2), in shares of
        the drawn line or in turns.

        ``through``: what nothing covers, whether before or behind.
        """
        eye = np.array(self.view.eye_m, dtype=float)
        if self.view.parallel is not None:
            room = occluders.room_box
            span = float(np.linalg.norm(room[:, 3:].max(axis=0) - room[:, :3].min(axis=0))) if len(room) else 1.0
            eye = -self.view.towards * (AWAY * span + 1.0)
        cuts = np.array(self._cut_of, dtype=np.intp), np.array(self._cut_at)
        return seen_parts(pieces, cuts, occluders, self.view.matrix, eye, self.view.parallel is not None, through)


def patch_numbers(solids: list[Solid]) -> list[tuple[int, int]]:
    """For each thing the number of its first face and of its first band among all patches: faces of all things come
    first.
    """
    faces, bands = [s.faces for s in solids], [len(s.bands) for s in solids]
    first_face, first_band = np.cumsum([0, *faces]), np.cumsum([0, *bands]) + sum(faces)
    return [(int(f), int(b)) for f, b in zip(first_face[:-1], first_band[:-1], strict=True)]


def beside_of(solid: Solid, first: tuple[int, int], patches: Ints) -> Ints:
    """``patches`` (any shape) numbered as those of the whole set-up; those under nought are none and stay so."""
    return np.where(
        patches < 0, patches, np.where(patches < solid.faces, first[0] + patches, first[1] + patches - solid.faces)
    )
