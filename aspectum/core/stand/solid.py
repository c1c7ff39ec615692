"""A thing's surface in its own frame: flat faces, bands of a lathe, and the edges and rims between them.

Every surface is made of two kinds of patch, both of which a line of sight meets in closed form: flat faces with
straight sides, and bands, the part of a cone, cylinder or disc between two circles about one axis. Smooth outlines and
profiles are cut into pieces finer than the eye can tell (``paths.flat``), and from then on that is what the thing is:
what is drawn and what hides it are the same.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import pairwise

import numpy as np

from aspectum.core.plane.lines import Flags, Floats, Ints
from aspectum.core.stand.paths import Flat

SAME_M = 1e-9  # corners nearer than this are one
COPLANAR = 1e-10  # by which the cosine between faces may fall short of one and they are one face
SLOPING = 3  # an edge that runs along none of its thing's three axes
ALONG_AXIS = 1.0 - 1e-12  # share of a direction along one axis from which an edge is of that axis


@dataclass(frozen=True)
class Lathe:
    """A profile turned about an axis: circles at ``height`` (n,) along ``axis`` from ``origin``, of ``radius`` (n,);
    band i lies between circles i and i + 1, its outside to the right of the profile's run. ``corner`` (n,): circles
    that show as rims. ``first``: its first band's number in the solid.
    """

    origin: Floats
    axis: Floats
    first_way: Floats
    radius: Floats
    height: Floats
    corner: Flags
    first: int

    @cached_property
    def second_way(self) -> Floats:
        return crossed(self.axis, self.first_way)

    @cached_property
    def normals(self) -> Floats:
        """Outward normals of the bands (n - 1, 2), out from the axis and along it, unit length."""
        dr, dz = np.diff(self.radius), np.diff(self.height)
        size = np.maximum(np.hypot(dr, dz), 1e-300)
        return np.stack([dz / size, -dr / size], axis=1)


@dataclass(frozen=True)
class Rim:
    """A circle that shows: where ``lathe``'s profile turns a corner, or a line drawn round it; ``bands`` are the
    patches that it lies on.
    """

    lathe: int
    height: float
    radius: float
    name: str
    bands: tuple[int, ...]


@dataclass(frozen=True)
class Solid:
    """Arrays of a thing's surface, in metres; a patch's number counts the faces first, then the bands.

    ``corners`` (V, 3). Faces (F): unit ``normal``, ``offset`` along it, two ways in the plane ``across``, ``along`` (F,
    3), and their sides as ``sides`` (S, 4) in those coordinates, the f-th from ``side_start[f]``. ``face_corner``,
    ``face_start``: their corners. Edges (E): ``edge`` (E, 2) corners, ``edge_faces`` (E, 2), -1 where there is one
    only, ``edge_axis`` (E,) 0, 1, 2 or ``SLOPING``, ``soft`` (E,) those that show only as outline, ``run`` (E,) which
    smooth line they belong to, or -1. ``bands`` (B, 10): origin, axis, height and radius of both circles.
    """

    corners: Floats
    normal: Floats
    offset: Floats
    across: Floats
    along: Floats
    sides: Floats
    side_start: Ints
    face_corner: Ints
    face_start: Ints
    face_name: tuple[str, ...]
    edge: Ints
    edge_faces: Ints
    edge_axis: Ints
    soft: Flags
    run: Ints
    edge_name: tuple[str, ...]
    bands: Floats
    lathes: tuple[Lathe, ...]
    rims: tuple[Rim, ...]
    low: Floats
    high: Floats

    @property
    def faces(self) -> int:
        return len(self.offset)

    def rings(self, face: int) -> list[Floats]:
        """Corners (k, 3) of a face's rings: the outer one anticlockwise seen from outside, then its holes."""
        sides = self.sides[self.side_start[face] : self.side_start[face + 1]]
        corners = (
            self.offset[face] * self.normal[face] + sides[:, :1] * self.across[face] + sides[:, 1:2] * self.along[face]
        )
        # a ring ends where the next side does not begin at its end
        ends = 1 + np.flatnonzero(np.any(sides[:-1, 2:4] != sides[1:, 0:2], axis=1))
        return np.split(corners, ends)

    def placed(self, turn: Floats, at: Floats) -> Solid:
        """The same surface turned by ``turn`` (3, 3) and carried to ``at`` (3,); its box (``low``, ``high``) stays in
        its own frame.
        """
        normal = self.normal @ turn.T
        across, along = self.across @ turn.T, self.along @ turn.T
        # plane coordinates count from the origin of the room: the sides shift with it
        sides = self.sides.copy()
        if self.faces:
            of = np.repeat(np.arange(self.faces), np.diff(self.side_start))
            shift = np.stack([across @ at, along @ at], axis=1)[of]
            sides[:, 0:2] += shift
            sides[:, 2:4] += shift
        bands = self.bands.copy()
        bands[:, 0:3] = self.bands[:, 0:3] @ turn.T + at
        bands[:, 3:6] = self.bands[:, 3:6] @ turn.T
        lathes = tuple(
            replace(m, origin=turn @ m.origin + at, axis=turn @ m.axis, first_way=turn @ m.first_way)
            for m in self.lathes
        )
        return replace(
            self,
            corners=self.corners @ turn.T + at,
            normal=normal,
            offset=self.offset + normal @ at,
            across=across,
            along=along,
            sides=sides,
            bands=bands,
            lathes=lathes,
        )


@dataclass
class Maker:
    """Gathers faces and lathes of one thing."""

    _corners: list[Floats] = field(default_factory=list)
    _at: dict[tuple[int, int, int], int] = field(default_factory=dict)
    _faces: list[tuple[list[list[int]], str]] = field(default_factory=list)
    _soft: set[tuple[int, int]] = field(default_factory=set)
    _runs: dict[tuple[int, int], int] = field(default_factory=dict)
    _names: dict[tuple[int, int], str] = field(default_factory=dict)
    _lathes: list[Lathe] = field(default_factory=list)
    _bands: list[Floats] = field(default_factory=list)
    _rims: list[Rim] = field(default_factory=list)
    _run_count: int = 0

    def corner(self, point: Floats) -> int:
        """Number of the corner at ``point`` (3,)."""
        x, y, z = (round(float(v) / SAME_M) for v in point)
        key = (x, y, z)
        if key not in self._at:
            self._at[key] = len(self._corners)
            self._corners.append(np.asarray(point, dtype=float))
        return self._at[key]

    def face(self, rings: list[Floats], name: str = "") -> None:
        """A flat face: its outer ring (k, 3) anticlockwise seen from outside, then its holes clockwise."""
        made = []
        for ring in rings:
            numbers = [self.corner(p) for p in ring]
            made.append([a for a, b in zip(numbers, numbers[1:] + numbers[:1], strict=True) if a != b])
        if len(made[0]) >= 3:
            self._faces.append((made, name))

    def name_edge(self, a: Floats, b: Floats, name: str) -> None:
        """Call the edge from ``a`` to ``b`` by ``name``."""
        self._names[_key(self.corner(a), self.corner(b))] = name

    def soften(self, a: Floats, b: Floats) -> None:
        """Let the edge from ``a`` to ``b`` show only where it is an outline."""
        self._soft.add(_key(self.corner(a), self.corner(b)))

    def run(self, points: Floats) -> None:
        """Let the edges along ``points`` (k, 3) be one smooth line."""
        numbers = [self.corner(p) for p in points]
        for a, b in pairwise(numbers):
            self._runs[_key(a, b)] = self._run_count
        self._run_count += 1

    def prism(
        self,
        rings: list[Flat],
        near: float,
        far: float,
        place: Frame,
        names: tuple[str, str, str] = ("front", "back", "side"),
    ) -> None:
        """Outlines (x, z), the first outside, the others holes in it, carried through from ``near`` to ``far`` along y,
        all in ``place``.
        """
        turned = [_turning(ring, clockwise=bool(i)) for i, ring in enumerate(rings)]
        front = [
            place.points(np.column_stack([r.points[:, 0], np.full(len(r.points), near), r.points[:, 1]]))
            for r in turned
        ]
        back = [
            place.points(np.column_stack([r.points[:, 0], np.full(len(r.points), far), r.points[:, 1]])) for r in turned
        ]
        self.face(front, names[0])
        self.face([ring[::-1] for ring in back], names[1])
        for ring, a, b in zip(turned, front, back, strict=True):
            n = len(a)
            for i in range(n):
                j = (i + 1) % n
                self.face([np.array([a[j], a[i], b[i], b[j]])], names[2])
                if not ring.corner[i]:
                    self.soften(a[i], b[i])
            for points in (a, b):
                for piece in _smooth_runs(ring.corner):
                    self.run(points[piece])

    def turn(
        self,
        profile: Flat,
        place: Frame,
        names: dict[int, str],
        lines: tuple[tuple[float, str], ...] = (),
        closed: bool = False,
    ) -> None:
        """A ``profile`` of (radius, height) about the z of ``place``, its outside to the right of its run; ``names`` of
        its circles by their point. ``lines``: heights of lines drawn round its outside, with their names.
        """
        r, z, corner = profile.points[:, 0], profile.points[:, 1], profile.corner
        if closed:
            r, z, corner = np.append(r, r[0]), np.append(z, z[0]), np.append(corner, corner[0])
        axis, way = place.turn[:, 2], place.turn[:, 0]
        first, n = len(self._bands), len(r)
        self._lathes.append(Lathe(place.at, axis, way, r, z, corner, first))
        lathe = len(self._lathes) - 1
        for i in range(n - 1):
            self._bands.append(np.array([*place.at, *axis, z[i], r[i], z[i + 1], r[i + 1]]))
        for i in range(n - 1 if closed else n):
            before = first + i - 1 if i > 0 else first + n - 2 if closed else None
            after = first + i if i < n - 1 else None
            if corner[i] and r[i] > SAME_M:
                self._rims.append(
                    Rim(
                        lathe,
                        float(z[i]),
                        float(r[i]),
                        names.get(i, ""),
                        tuple(b for b in (before, after) if b is not None),
                    )
                )
        for height, name in lines:
            i = next(i for i in range(n - 1) if z[i] <= height <= z[i + 1] and z[i] < z[i + 1])
            radius = float(np.interp(height, z[i : i + 2], r[i : i + 2]))
            self._rims.append(Rim(lathe, height, radius, name, (first + i,)))

    def mend(self) -> None:
        """Let faces meet corner to corner: a side that another face's corner lies on is parted there."""
        corners = np.array(self._corners)
        for rings, _ in self._faces:
            for ring in rings:
                found: list[int] = []
                for a, b in zip(ring, ring[1:] + ring[:1], strict=True):
                    found.append(a)
                    way = corners[b] - corners[a]
                    size = float(np.linalg.norm(way))
                    along = (corners - corners[a]) @ way / size
                    off = np.linalg.norm(corners - corners[a] - along[:, None] * way / size, axis=1)
                    on = np.flatnonzero((off < SAME_M) & (along > SAME_M) & (along < size - SAME_M))
                    found += [int(i) for i in on[np.argsort(along[on])]]
                ring[:] = found

    def solid(self) -> Solid:
        """All of it as arrays."""
        corners = np.array(self._corners).reshape(-1, 3)
        normals, offsets, ways, sides, starts = [], [], [], [], [0]
        used, used_start, names = [], [0], []
        between: dict[tuple[int, int], list[int]] = {}
        for f, (rings, name) in enumerate(self._faces):
            normal = _newell(corners[rings[0]])
            across = _unit(corners[rings[0][1]] - corners[rings[0][0]])
            along = crossed(normal, across)
            for ring in rings:
                flat_ring = np.stack([corners[ring] @ across, corners[ring] @ along], axis=1)
                sides.append(np.hstack([flat_ring, np.roll(flat_ring, -1, axis=0)]))
                for a, b in zip(ring, ring[1:] + ring[:1], strict=True):
                    between.setdefault(_key(a, b), []).append(f)
            normals.append(normal)
            offsets.append(float((corners[rings[0]] @ normal).sum()) / len(rings[0]))
            ways.append((across, along))
            starts.append(starts[-1] + sum(len(ring) for ring in rings))
            used += rings[0]
            used_start.append(len(used))
            names.append(name)
        edges = [
            (pair, faces)
            for pair, faces in between.items()
            if len(faces) != 2 or float(normals[faces[0]] @ normals[faces[1]]) < 1.0 - COPLANAR
        ]
        pairs = np.array([pair for pair, _ in edges], dtype=np.intp).reshape(-1, 2)
        faces = len(self._faces)
        bands = np.array(self._bands).reshape(-1, 10)
        low, high = extent_of(corners, self._lathes)
        return Solid(
            corners=corners,
            normal=np.array(normals).reshape(-1, 3),
            offset=np.array(offsets),
            across=np.array([a for a, _ in ways]).reshape(-1, 3),
            along=np.array([b for _, b in ways]).reshape(-1, 3),
            sides=np.concatenate(sides) if sides else np.empty((0, 4)),
            side_start=np.array(starts, dtype=np.intp),
            face_corner=np.array(used, dtype=np.intp),
            face_start=np.array(used_start, dtype=np.intp),
            face_name=tuple(names),
            edge=pairs,
            edge_faces=np.array([[f[0], f[1] if len(f) > 1 else -1] for _, f in edges], dtype=np.intp).reshape(-1, 2),
            edge_axis=_axes(corners[pairs[:, 1]] - corners[pairs[:, 0]]) if len(pairs) else np.empty(0, dtype=np.intp),
            soft=np.array([pair in self._soft for pair, _ in edges], dtype=bool),
            run=np.array([self._runs.get(pair, -1) for pair, _ in edges], dtype=np.intp),
            edge_name=tuple(self._names.get(pair, "") for pair, _ in edges),
            bands=bands,
            lathes=tuple(self._lathes),
            rims=tuple(replace(rim, bands=tuple(faces + b for b in rim.bands)) for rim in self._rims),
            low=low,
            high=high,
        )


@dataclass(frozen=True)
class Frame:
    """A place in a thing's frame: the columns of ``turn`` (3, 3) are its x, y and z, ``at`` (3,) its origin."""

    turn: Floats
    at: Floats

    def points(self, local: Floats) -> Floats:
        """``local`` (k, 3) carried out of this frame."""
        return np.asarray(local @ self.turn.T + self.at)


HOME = Frame(np.eye(3), np.zeros(3))  # the world's own axes
SIDEWAYS = Frame(
    np.array([[0.0, -1.0, 0.0], [1.0, 0.0, 0.0], [0.0, 0.0, 1.0]]), np.zeros(3)
)  # an outline along y, carried through along −x


def about_z(degrees: float) -> Floats:
    """Turn (3, 3) anticlockwise seen from above."""
    c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    return np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])


def tipped(degrees: float) -> Floats:
    """Turn (3, 3) that tips z towards x: by 90 it lies along x."""
    c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    return np.array([[c, 0.0, s], [0.0, 1.0, 0.0], [-s, 0.0, c]])


def _key(a: int, b: int) -> tuple[int, int]:
    return (a, b) if a < b else (b, a)


def _unit(v: Floats) -> Floats:
    return np.asarray(v / np.linalg.norm(v))


def _newell(ring: Floats) -> Floats:
    """Unit normal (3,) of a ring (k, 3), anticlockwise seen from its tip; exact for flat rings of any shape."""
    x, y, z = (ring - ring[0]).T
    u, v, w = np.roll(x, -1), np.roll(y, -1), np.roll(z, -1)
    return _unit(np.array([y @ w - z @ v, z @ u - x @ w, x @ v - y @ u]))


def crossed(a: Floats, b: Floats) -> Floats:
    """Vector product of two vectors (3,), without the toll of the general one."""
    (ax, ay, az), (bx, by, bz) = a.tolist(), b.tolist()
    return np.array([ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx])


def _axes(ways: Floats) -> Ints:
    """Which axis each of ``ways`` (E, 3) runs along, ``SLOPING`` where none."""
    share = np.abs(ways) / np.maximum(np.linalg.norm(ways, axis=1, keepdims=True), 1e-300)
    return np.where(share.max(axis=1) > ALONG_AXIS, share.argmax(axis=1), SLOPING)


def area(points: Floats) -> float:
    """Signed area of a ring (k, 2), positive anticlockwise."""
    x, y = points[:, 0], points[:, 1]
    return float(np.sum(x * np.roll(y, -1) - y * np.roll(x, -1)) / 2)


def _turning(ring: Flat, clockwise: bool) -> Flat:
    if (area(ring.points) < 0) == clockwise:
        return ring
    return Flat(ring.points[::-1], ring.corner[::-1])


def _smooth_runs(corner: Flags) -> list[list[int]]:
    """Indices round a ring of each run of smooth points with the corners at its ends; the whole ring, closed, where it
    has no corner.
    """
    n = len(corner)
    at = np.flatnonzero(corner)
    if not len(at):
        return [[*range(n), 0]]
    runs = []
    for a, b in zip(at, np.append(at[1:], at[0] + n), strict=True):
        if b - a > 1:
            runs.append([int(i % n) for i in range(a, b + 1)])
    return runs


def extent_of(corners: Floats, lathes: Sequence[Lathe]) -> tuple[Floats, Floats]:
    """Least and largest coordinates (3,) of everything, exact for circles too."""
    lows, highs = [corners], [corners]
    for m in lathes:
        centres = m.origin + m.height[:, None] * m.axis
        reach = m.radius[:, None] * np.sqrt(np.maximum(0.0, 1.0 - m.axis**2))
        lows.append(centres - reach)
        highs.append(centres + reach)
    return np.vstack(lows).min(axis=0), np.vstack(highs).max(axis=0)
