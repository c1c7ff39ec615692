"""Boxes and posts on level ground, hiding one another, seen and measured without the code under test."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from aspectum.core.sightings import Division, Edge, Face, Height, PartAlong, Point, Setup, Tip
from tests.scenes import FAMILIES, Box, Pinhole, Vec, seen_edges

STEPS = 400  # along an edge, where what hides it is looked for


@dataclass(frozen=True)
class Laid:
    """One edge as it is seen: ends (2, 3) in space of its seen part, and which of them are its true ends."""

    id: str
    box: int
    axis: int
    ends: Vec
    true: tuple[bool, bool]


@dataclass(frozen=True)
class GroundScene:
    """``camera`` stands at the origin, ``eye_m`` above the ground. ``faces``: box, axis across and axis up, and its
    four corners (4, 3); ``parts``: face, along, share and the point in space; ``posts``: foot and top (2, 3).
    """

    camera: Pinhole
    eye_m: float
    boxes: list[Box]
    laid: list[Laid]
    faces: list[tuple[int, int, int, Vec]] = field(default_factory=list)
    parts: list[tuple[int, PartAlong, float, Vec]] = field(default_factory=list)
    posts: list[Vec] = field(default_factory=list)
    lens_given: bool = False

    @property
    def setup(self) -> Setup:
        focal = self.camera.focal_px * 36.0 / 1280.0 if self.lens_given else None
        return Setup(self.camera.width_px, self.camera.height_px, focal_35mm=focal, eye_height_m=self.eye_m)

    def sighted(
        self, rng: np.random.Generator, sd_px: float = 1.5, told: bool = False
    ) -> tuple[list[Edge], list[Face], list[Division], list[Height]]:
        """The sightings as a hand lays them; ``told``: the person says which ends are cut off."""

        def lay(points: Vec) -> list[Point]:
            return [
                (float(x), float(y)) for x, y in self.camera.project(points) + rng.normal(0, sd_px, (len(points), 2))
            ]

        edges = []
        for e in self.laid:
            p, q = lay(e.ends)
            hidden = tuple(tip for tip, true in zip(Tip, e.true, strict=True) if not true) if told else ()
            edges.append(Edge(e.id, f"b{e.box}", FAMILIES[e.axis], p, q, hidden=hidden))
        faces = []
        for k, (box, across, up, corners) in enumerate(self.faces):
            a, b, c, d = lay(corners)
            faces.append(Face(f"f{k}", f"b{box}", (FAMILIES[across], FAMILIES[up]), (a, b, c, d)))
        divisions = [
            Division(f"d{k}", f"f{face}", along, lay(at[None])[0]) for k, (face, along, _, at) in enumerate(self.parts)
        ]
        heights = [Height(f"h{k}", *lay(post)) for k, post in enumerate(self.posts)]  # type: ignore[arg-type]  # foot and top
        return edges, faces, divisions, heights


def hit_by(box: Box, points: Vec, short: float = 0.999) -> Vec:
    """Whether the sight from the origin to each point (n, 3) meets a box before it gets there."""
    axes, size = box.axes(), np.array(box.size)
    start, run = -np.array(box.corner) @ axes.T, points @ axes.T
    with np.errstate(all="ignore"):
        a, b = (0.0 - start) / run, (size - start) / run
    enter, leave = np.nanmax(np.minimum(a, b), axis=1), np.nanmin(np.maximum(a, b), axis=1)
    return np.asarray((enter < leave - 1e-9) & (enter < short) & (leave > 0))


def ground_scene(
    rng: np.random.Generator,
    pitch_deg: tuple[float, float],
    shortest_px: float = 40.0,
    posts: int = 2,
    bearing_deg: tuple[float, float] = (12.0, 78.0),
    sides: tuple[float, float] = (0.6, 2.6),
) -> GroundScene:
    """One to three boxes on the ground, view 30-72°, with what is seen of their edges, whole faces with parts on them,
    and posts.
    """
    while True:
        view = rng.uniform(30.0, 72.0)
        focal = 640.0 / np.tan(np.radians(view / 2))
        pitch = float(rng.uniform(*pitch_deg) * (rng.choice([-1, 1]) if pitch_deg[0] < 4 else -1))
        camera = Pinhole(float(focal), pitch, float(rng.normal(0, 0.5)))
        eye = float(rng.uniform(1.2, 2.4))
        boxes: list[Box] = []
        for _ in range(int(rng.integers(1, 4))):
            for _ in range(80):
                ray = np.linalg.inv(camera.matrix()) @ np.array([rng.uniform(150, 1130), rng.uniform(300, 900), 1.0])
                if ray[2] >= -0.02:
                    continue
                x, y, _ = (ray * (-eye / ray[2])).tolist()
                box = Box((x, y, -eye), float(rng.uniform(*bearing_deg)), tuple(rng.uniform(*sides, 3).tolist()))
                corners = np.array([box.at(u, v, w) for u in (0, 1) for v in (0, 1) for w in (0, 1)])
                if (corners @ camera.matrix()[2]).min() < 0.8 or y > 14:
                    continue
                seen = camera.project(corners)
                if (
                    seen.min() < 8
                    or seen[:, 0].max() > 1272
                    or seen[:, 1].max() > 952
                    or np.ptp(seen, axis=0).min() < 90
                ):
                    continue
                if any(apart(box, other) < 0.1 for other in boxes):
                    continue
                boxes.append(box)
                break
        laid = [piece for k, box in enumerate(boxes) for piece in seen_parts(camera, boxes, k, box, shortest_px)]
        if len(laid) < 7:
            continue
        whole = whole_faces(camera, boxes)
        parts = []
        for k, (_, _across, _up, corners) in enumerate(whole):
            for _ in range(2):
                along = PartAlong.ACROSS if rng.random() < 0.7 else PartAlong.UP
                share, other = float(rng.uniform(0.1, 0.9)), float(rng.uniform(0.1, 0.9))
                u, v = (share, other) if along is PartAlong.ACROSS else (other, share)
                parts.append(
                    (k, along, share, corners[0] + u * (corners[1] - corners[0]) + v * (corners[3] - corners[0]))
                )
        stood: list[Vec] = []
        for _ in range(60 if posts else 0):
            ray = np.linalg.inv(camera.matrix()) @ np.array([rng.uniform(60, 1220), rng.uniform(300, 940), 1.0])
            if len(stood) == posts or ray[2] >= -0.03:
                continue
            foot = ray * (-eye / ray[2])
            post = np.array([foot, foot + np.array([0.0, 0.0, rng.uniform(0.8, 2.2)])])
            flat = camera.project(post)
            clear = not any(hit_by(box, post).any() for box in boxes)
            if (
                clear
                and flat.min() > 5
                and flat[:, 0].max() < 1275
                and flat[:, 1].max() < 955
                and np.hypot(*(flat[1] - flat[0])) > 60
            ):
                stood.append(post)
        return GroundScene(camera, eye, boxes, laid, whole, parts, stood, bool(rng.random() < 0.5))


def apart(a: Box, b: Box) -> float:
    """About how far two boxes stand from each other on the ground: by circles through their plan corners."""
    middle = [np.array(box.at(0.5, 0.5, 0))[:2] for box in (a, b)]
    return (
        float(np.hypot(*(middle[0] - middle[1])))
        - sum(float(np.hypot(box.size[0], box.size[1])) / 2 for box in (a, b)) * 0.9
    )


def seen_parts(camera: Pinhole, boxes: list[Box], k: int, box: Box, shortest_px: float) -> list[Laid]:
    """Of each edge turned to the eye the longest part that no box hides."""
    found = []
    for n, (family, start, stop) in enumerate(seen_edges(box)):
        share = np.linspace(0, 1, STEPS)
        points = start + share[:, None] * (stop - start)
        hidden = np.zeros(STEPS, bool)
        for other in boxes:
            if other is not box:
                hidden |= hit_by(other, points)
        best, begin = (0, 0), None
        for i, out in enumerate([*hidden.tolist(), True]):
            if not out and begin is None:
                begin = i
            elif out and begin is not None:
                if i - begin > best[1] - best[0]:
                    best = (begin, i)
                begin = None
        a, b = best[0], best[1] - 1
        if b <= a:
            continue
        ends = points[[a, b]]
        if np.hypot(*(np.diff(camera.project(ends), axis=0)[0])) >= shortest_px:
            found.append(Laid(f"b{k}e{n}", k, FAMILIES.index(family), ends, (a == 0, b == STEPS - 1)))
    return found


def whole_faces(camera: Pinhole, boxes: list[Box]) -> list[tuple[int, int, int, Vec]]:
    """Walls turned to the eye whose corners nothing hides, from their bottom left corner anticlockwise as seen."""
    found = []
    for k, box in enumerate(boxes):
        for across, other in ((0, 1), (1, 0)):
            for side in (0.0, 1.0):
                at = np.zeros((4, 3))
                at[:, other], at[[1, 2], across], at[[2, 3], 2] = side, 1.0, 1.0
                corners = np.array([box.at(*row) for row in at])
                normal = box.axes()[other] * (1 if side else -1)
                if float(normal @ corners[0]) >= 0 or any(hit_by(b, corners).any() for b in boxes if b is not box):
                    continue
                flat = camera.project(corners)
                if flat[0, 0] > flat[1, 0]:
                    corners, flat = corners[[1, 0, 3, 2]], flat[[1, 0, 3, 2]]
                if flat[1, 0] - flat[0, 0] > 50:
                    found.append((k, across, 2, corners))
    return found
