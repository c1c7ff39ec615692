"""Random set-ups for the model stand, their surfaces as meshes of a library, and how far its rays and the exact drawing
agree.
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np
import shapely
import trimesh
from numpy.typing import NDArray

from aspectum.core.stand.camera import View
from aspectum.core.stand.drawing import draw
from aspectum.core.stand.drawn import Curve, Drawing, DrawnRim, Line
from aspectum.core.stand.kinds import Parallel, RoofKind, Wall
from aspectum.core.stand.paths import Path
from aspectum.core.stand.solid import Solid
from aspectum.core.stand.things import (
    AnyThing,
    Box,
    Building,
    Chimney,
    Cone,
    Cylinder,
    Figure,
    Flight,
    Hull,
    Opening,
    Outline,
    Ramp,
    Stand,
    Tube,
    Turned,
    Wheels,
)

Floats = NDArray[np.float64]
SAMPLES = 20
LEFT_OUT_PX = 0.5
FACETS = 1440
# share of the way to the eye by which a ray starts off its line, so that it does not meet the face that the line bounds
OFF_SURFACE = 2e-4

VASE = Path(((0.0, 0.0), (0.5, 0.0), (0.9, 0.5), (0.8, 1.2), (0.35, 1.7), (0.45, 2.0)), (2, 3, 4))
LAMP = Path(
    ((0.0, 0.0), (0.6, 0.0), (0.6, 0.15), (0.2, 0.3), (0.2, 0.8), (0.5, 1.2), (0.65, 1.6), (0.4, 2.1), (0.3, 2.8)),
    (5, 6, 7),
)
ARCH = Path(((-0.5, 0.0), (0.5, 0.0), (0.5, 0.8), (0.0, 1.2), (-0.5, 0.8)), (3,))
ELL = Path(((-0.5, 0.0), (0.5, 0.0), (0.5, 0.3), (-0.1, 0.3), (-0.1, 1.0), (-0.5, 1.0)))
WINDOW = Path(((-0.2, 0.3), (0.2, 0.3), (0.2, 0.6), (-0.2, 0.6)), (0, 1, 2, 3))
DINGHY = (
    (-1.0, ((0.05, 0.1), (0.3, 0.15), (0.4, 0.45))),
    (-0.2, ((0.0, 0.0), (0.4, 0.08), (0.5, 0.42))),
    (0.6, ((0.0, 0.0), (0.28, 0.1), (0.4, 0.5))),
    (1.1, ((0.0, 0.3), (0.0, 0.4), (0.0, 0.6))),
)


def scaled(path: Path, size: float) -> Path:
    return Path(tuple((x * size, y * size) for x, y in path.points), path.smooth)


def random_thing(rng: np.random.Generator, name: str, at: tuple[float, float], turn: float) -> AnyThing:
    """One thing of any kind, half a metre to a metre in size."""
    a, b, c = (float(v) for v in rng.uniform(0.25, 0.8, 3))
    place = {"id": name, "at_m": at, "turn_deg": turn}
    kinds: list[AnyThing] = [
        Box(**place, size_m=(a, b, c)),  # type: ignore[arg-type]
        Box(**place, size_m=(2 * a, b, c / 2)),  # type: ignore[arg-type]
        Cylinder(**place, radius_m=a / 2, height_m=b, bands_m=(b / 3,)),  # type: ignore[arg-type]
        Cylinder(**place, radius_m=a / 2, height_m=b, lean_deg=90.0),  # type: ignore[arg-type]
        Cylinder(**place, radius_m=a / 3, height_m=2 * b, lean_deg=float(rng.uniform(5, 60))),  # type: ignore[arg-type]
        Cone(**place, radius_m=a / 2, top_radius_m=float(rng.choice([0.0, a / 4, a])), height_m=c),  # type: ignore[arg-type]
        Tube(
            **place,  # type: ignore[arg-type]
            radius_m=a / 2,
            top_radius_m=0.6 * a,
            height_m=c,
            wall_m=a / 15,
            floor_m=float(rng.choice([0.0, 0.05])),
        ),
        Tube(**place, radius_m=a / 2, height_m=c, wall_m=a / 10, lean_deg=90.0),  # type: ignore[arg-type]
        Turned(**place, profile=scaled(LAMP, c / 3)),  # type: ignore[arg-type]
        Turned(**place, profile=scaled(VASE, c / 3), wall_m=c / 40),  # type: ignore[arg-type]
        Outline(**place, outline=scaled(ARCH, c), holes=(scaled(WINDOW, c),), depth_m=b / 2),  # type: ignore[arg-type]
        Outline(**place, outline=scaled(ELL, c), depth_m=b),  # type: ignore[arg-type]
        Outline(**place, outline=scaled(ARCH, c), depth_m=b, widths=((0.0, b / 3), (0.3, b), (1.0, b / 2))),  # type: ignore[arg-type]
        Hull(**place, stations=DINGHY),  # type: ignore[arg-type]
        Wheels(**place, radius_m=a / 2, gauge_m=b + 0.1),  # type: ignore[arg-type]
        Figure(**place, height_m=1.0 + a),  # type: ignore[arg-type]
        Ramp(**place, size_m=(a, 2 * b, c / 2)),  # type: ignore[arg-type]
    ]
    return kinds[int(rng.integers(len(kinds)))]


def random_house(rng: np.random.Generator, name: str, at: tuple[float, float], turn: float) -> Building:
    return Building(
        name,
        at,
        turn_deg=turn,
        size_m=(2.0, 1.4, 1.2),
        roof=RoofKind(rng.choice(list(RoofKind))),
        rise_m=float(rng.uniform(0.3, 0.8)),
        eaves_m=float(rng.choice([0.0, 0.15])),
        openings=(
            Opening(Wall.FRONT, 0.3, 0.0, 0.35, 0.7),
            Opening(Wall.FRONT, 0.9, 0.3, 0.4, 0.4, 0.0),
            Opening(Wall.RIGHT, 0.4, 0.3, 0.5, 0.4),
        ),
        flights=(Flight(Wall.LEFT, 0.7, 0.5, 3, 0.1, 0.15),),
        chimney=Chimney((0.4, 0.05), (0.25, 0.3), 0.2),
    )


def random_stand(rng: np.random.Generator, most: int = 12) -> Stand:
    """Up to ``most`` things, some on others, some running into one another."""
    things: list[AnyThing] = []
    for i in range(int(rng.integers(1, most + 1))):
        x, y = (float(v) for v in rng.uniform(-2.0, 2.0, 2))
        turn = float(rng.uniform(-180, 180))
        if rng.random() < 0.15:
            things.append(random_house(rng, f"t{i}", (2 * x, 2 * y), turn))
            continue
        under = next((t for t in things if isinstance(t, Box) and t.on is None), None)
        thing = random_thing(rng, f"t{i}", (x, y), turn)
        if under is not None and rng.random() < 0.25:
            thing = random_thing(rng, f"t{i}", under.at_m, turn)
            object.__setattr__(thing, "on", under.id)
        things.append(thing)
    return Stand(tuple(things))


def random_view(rng: np.random.Generator, parallel: bool = False) -> View:
    """From anywhere round the set-up, from worm's to bird's eye."""
    bearing, away = rng.uniform(-180, 180), rng.uniform(4.5, 9.0)
    height = float(rng.uniform(0.1, 6.0))
    eye = (float(-away * np.sin(np.radians(bearing))), float(-away * np.cos(np.radians(bearing))), height)
    pitch = float(np.degrees(np.arctan2(0.5 - height, away)) + rng.uniform(-5, 5)) if rng.random() < 0.7 else 0.0
    heading = float(bearing + rng.uniform(-8, 8))
    view = View(eye, heading, pitch, float(rng.normal(0, 3)), float(rng.uniform(24, 50)))
    if parallel:
        kind = Parallel.ISOMETRIC if rng.random() < 0.5 else Parallel.OBLIQUE
        return View((0.0, 0.0, 0.5), heading, parallel=kind, px_per_m=200.0)
    return view


def mesh_of(solid: Solid) -> trimesh.Trimesh:
    """The surface as triangles: faces by a constrained triangulation, bands as ``FACETS`` facets."""
    triangles: list[Floats] = []
    for f in range(solid.faces):
        rings = rings_of(solid, f)
        polygon = shapely.Polygon(rings[0], rings[1:])
        at = solid.normal[f] * solid.offset[f]
        for part in shapely.constrained_delaunay_triangles(polygon).geoms:
            uv = np.array(part.exterior.coords)[:3]
            if shapely.LinearRing(uv).is_ccw is False:
                uv = uv[::-1]
            triangles.append(at + uv[:, :1] * solid.across[f] + uv[:, 1:] * solid.along[f])
    for lathe in solid.lathes:
        turns = np.linspace(0, 2 * np.pi, FACETS + 1)
        out = np.cos(turns)[:, None] * lathe.first_way + np.sin(turns)[:, None] * lathe.second_way
        rows = lathe.origin + lathe.height[:, None, None] * lathe.axis + lathe.radius[:, None, None] * out
        for a, b in pairwise(rows):
            quads = np.stack([a[:-1], a[1:], b[1:], b[:-1]], axis=1)
            triangles += list(quads[:, [0, 1, 2]]) + list(quads[:, [0, 2, 3]])
    corners = np.array(triangles).reshape(-1, 3)
    return trimesh.Trimesh(corners, np.arange(len(corners)).reshape(-1, 3), process=False)


def rings_of(solid: Solid, face: int) -> list[Floats]:
    """The closed rings (k, 2) of a face, from its sides."""
    rings: list[list[Floats]] = []
    for side in solid.sides[solid.side_start[face] : solid.side_start[face + 1]]:
        if rings and np.array_equal(rings[-1][-1], side[:2]):
            rings[-1].append(side[2:])
        else:
            rings.append([side[:2], side[2:]])
    return [np.array(ring) for ring in rings]


@dataclass
class Samples:
    """Places on drawn lines: in the picture and in the room, of which line, and whether they are said to be seen."""

    at_px: Floats
    at_m: Floats
    line: NDArray[np.intp]
    seen: NDArray[np.bool_]
    kind: list[str]


def straight_shown(drawing: Drawing, least_px: float) -> int:
    """How many level and upright edges show that much of their length inside the picture."""
    size, count = np.array([drawing.view.width_px, drawing.view.height_px]), 0
    for edge in drawing.edges:
        way = edge.room[1] - edge.room[0]
        if 1e-6 < abs(way[2]) / np.linalg.norm(way) < 1 - 1e-6:
            continue
        p, q = np.array(edge.p), np.array(edge.q)
        shares = np.concatenate(
            [np.linspace(a, b, SAMPLES, endpoint=False) + (b - a) / (2 * SAMPLES) for a, b in edge.visible]
            or [np.zeros(0)]
        )
        within = ((p + shares[:, None] * (q - p) > 0) & (p + shares[:, None] * (q - p) < size)).all(axis=1)
        part = np.repeat([(b - a) / SAMPLES for a, b in edge.visible], SAMPLES)
        count += float(np.hypot(*(q - p)) * part[within].sum()) >= least_px
    return count


def seen_at(visible: tuple[tuple[float, float], ...], share: float) -> bool:
    return any(a <= share <= b for a, b in visible)


def samples_of(drawing: Drawing, per_line: int = SAMPLES) -> Samples:
    shares = (np.arange(per_line) + 0.5) / per_line
    px, room, line, seen, kind = [], [], [], [], []
    lines: list[Line | DrawnRim | Curve] = [*drawing.edges, *drawing.outlines, *drawing.rims, *drawing.curves]
    for number, drawn in enumerate(lines):
        for share in shares.tolist():
            if isinstance(drawn, Line):
                d = drawing.view.depths(drawn.room)
                at = share * d[0] / ((1 - share) * d[1] + share * d[0])
                m = drawn.room[0] + at * (drawn.room[1] - drawn.room[0])
                p = np.array(drawn.at(share))
            elif isinstance(drawn, DrawnRim):
                p = np.array(drawn.at(share))
                m = on_plane(drawing.view, p, drawn.room)
            else:
                points = np.array(drawn.points)
                along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
                k = int(np.clip(np.searchsorted(along, share * along[-1]) - 1, 0, len(points) - 2))
                part = (share * along[-1] - along[k]) / max(along[k + 1] - along[k], 1e-12)
                p = points[k] + part * (points[k + 1] - points[k])
                m = drawn.room[k] + part * (drawn.room[k + 1] - drawn.room[k])
            px.append(p)
            room.append(m)
            line.append(number)
            seen.append(seen_at(drawn.visible, share))
            kind.append(type(drawn).__name__)
    return Samples(
        np.array(px).reshape(-1, 2),
        np.array(room).reshape(-1, 3),
        np.array(line, dtype=np.intp),
        np.array(seen, dtype=bool),
        kind,
    )


def on_plane(view: View, point: Floats, circle: Floats) -> Floats:
    """Where the line of sight through a point of the picture meets a circle's plane."""
    matrix = view.matrix
    way = np.linalg.solve(matrix[:, :3], [*point, 1.0]) if view.parallel is None else view.towards
    start = (
        np.array(view.eye_m)
        if view.parallel is None
        else np.linalg.lstsq(matrix[:2, :3], point - matrix[:2, 3], rcond=None)[0]
    )
    normal = np.cross(circle[1], circle[2])
    return np.asarray(start + way * (normal @ (circle[0] - start)) / (normal @ way))


def clear_of_crossings(drawing: Drawing, samples: Samples) -> NDArray[np.bool_]:
    """Samples that no other line of the drawing comes within ``LEFT_OUT_PX`` of."""
    lines: list[Line | DrawnRim | Curve] = [*drawing.edges, *drawing.outlines, *drawing.rims, *drawing.curves]
    starts, ends, owner = [], [], []
    for number, drawn in enumerate(lines):
        if isinstance(drawn, Line):
            points = np.array([drawn.p, drawn.q])
        elif isinstance(drawn, DrawnRim):
            points = np.array([drawn.at(float(t)) for t in np.linspace(0, 1, 121)])
        else:
            points = np.array(drawn.points)
        starts.append(points[:-1])
        ends.append(points[1:])
        owner += [number] * (len(points) - 1)
    a, b, own = np.vstack(starts), np.vstack(ends), np.array(owner)
    clear = np.ones(len(samples.at_px), dtype=bool)
    way = b - a
    size = np.maximum(np.sum(way**2, axis=1), 1e-18)
    for i, p in enumerate(samples.at_px):
        near = (
            (np.minimum(a, b) <= p + 1).all(axis=1) & (np.maximum(a, b) >= p - 1).all(axis=1) & (own != samples.line[i])
        )
        if near.any():
            share = np.clip(np.sum((p - a[near]) * way[near], axis=1) / size[near], 0, 1)
            gap = np.hypot(*(a[near] + share[:, None] * way[near] - p).T)
            clear[i] = gap.min() > LEFT_OUT_PX
    return clear


def disagreements(stand: Stand, view: View) -> tuple[int, list[str]]:
    """How many samples were compared with the library's rays, and those that differ, in words."""
    drawing = draw(stand, view)
    samples = samples_of(drawing)
    if not len(samples.at_px):
        return 0, []
    mesh: Any = trimesh.util.concatenate([mesh_of(p.body) for p in drawing.placed if p.own is not None])
    kept = clear_of_crossings(drawing, samples)
    kept &= (samples.at_px > -view.width_px).all(axis=1) & (samples.at_px < 2 * view.width_px).all(axis=1)
    way = view.to_viewer(samples.at_m)
    if view.parallel is not None:
        way = way * 8.0
    off = np.where([k == "Curve" for k in samples.kind], 10.0, 1.0)[:, None] * OFF_SURFACE
    start = samples.at_m + way * off
    hidden = mesh.ray.intersects_any(start, way)
    if view.parallel is None:  # what lies behind the eye hides nothing
        places, rays, _ = mesh.ray.intersects_location(start, way, multiple_hits=False)
        before = np.linalg.norm(places - start[rays], axis=1) < np.linalg.norm(way[rays], axis=1) * (1 - OFF_SURFACE)
        hidden = np.zeros(len(start), dtype=bool)
        hidden[rays] = before
    wrong = np.flatnonzero(kept & (hidden == samples.seen))
    lines = [*drawing.edges, *drawing.outlines, *drawing.rims, *drawing.curves]
    words = [
        f"{samples.kind[i]} {lines[samples.line[i]].thing} {lines[samples.line[i]].name} at "
        f"{samples.at_px[i].round(1)} said {samples.seen[i]}"
        for i in wrong
    ]
    return int(kept.sum()), words
