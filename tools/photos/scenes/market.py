"""A view along the fish market (one-point: the far wall stands parallel to the picture)."""

from __future__ import annotations

import numpy as np
import textures
from camera import Camera
from scenery import Edge, Frame, Scene

from scenes.surroundings import common_materials, water_and_shore

EXPOSURE = 1.7


def build() -> Scene:
    rng = np.random.default_rng(53)
    camera = Camera((0.35, 0.0, 1.55), pitch_deg=0.0, roll_deg=0.0, focal_35mm=28.0)
    scene = Scene(camera, rng, sun=(0.72, -0.45, 0.75), sky=textures.sky(rng, 0.4), sky_scale=1.2)
    common_materials(scene)
    tiles, tile_height = textures.courses(rng, 8, 8, 2.0, (0.34, 0.36, 0.36), (0.50, 0.52, 0.51), (0.2, 0.2, 0.19))
    scene.material("floor", tiles, metres=(3.2, 3.2), bump=tile_height, bump_scale=0.008, shine=0.2)

    hall = Frame((-3.4, 2.0, 0.0), 0.0)  # right family = straight away, left family = across to the left

    def at(x: float, y: float, z: float) -> np.ndarray:
        return np.array([x, y, z], float)

    def slab(name: str, low: tuple[float, float, float], high: tuple[float, float, float]) -> None:
        """A box given by its lowest and highest corner in world axes."""
        frame = Frame((high[0], low[1], low[2]), 0.0)
        scene.block(name, frame, (0, 0, 0), (high[1] - low[1], high[0] - low[0], high[2] - low[2]))

    scene.quad("floor", [at(-9, -3, 0), at(9, -3, 0), at(9, 20, 0), at(-9, 20, 0)])
    scene.quad("setts", [at(-30, 20, -0.02), at(30, 20, -0.02), at(30, 24, -0.02), at(-30, 24, -0.02)])
    water_and_shore(scene, 24.0, -1.4)
    slab("brick", (-4.4, -3, 0), (-4.0, 17.0, 4.4))
    slab("stone", (-4.42, -3, 0), (-3.94, 17.0, 0.5))
    slab("painted", (-4.0, -3, 2.55), (-3.93, 17.0, 2.75))
    # far wall with an opening towards the water
    slab("brick", (-4.4, 17.0, 0), (-1.3, 17.4, 4.4))
    slab("brick", (2.3, 17.0, 0), (5.2, 17.4, 4.4))
    slab("brick", (-1.3, 17.0, 2.9), (2.3, 17.4, 4.4))
    slab("stone", (-1.45, 16.96, 2.7), (2.45, 17.4, 2.95))
    # open colonnade on the right
    for y in (3.2, 6.6, 10.0, 13.4, 16.8):
        slab("painted", (3.7, y, 0.0), (3.98, y + 0.28, 3.6))
        slab("stone", (3.62, y - 0.08, 0.0), (4.06, y + 0.36, 0.3))
    slab("wood0", (3.62, -3, 3.6), (4.06, 17.0, 3.95))
    slab("wood0", (-4.0, -3, 3.75), (-3.7, 17.0, 4.05))
    for y in (1.5, 3.2, 4.9, 6.6, 8.3, 10.0, 11.7, 13.4, 15.1):
        slab("wood1", (-4.0, y + 0.04, 3.95), (4.06, y + 0.24, 4.2))
    for x0, x1 in ((-4.6, -2.9), (-0.6, 4.7)):  # the gap between is the roof light
        scene.quad("tarred", [at(x0, -3, 4.25), at(x1, -3, 4.25), at(x1, 17.3, 4.25), at(x0, 17.3, 4.25)])

    # the counter along the left wall, fish boxes on it and on the floor
    slab("stone", (-3.3, 4.2, 0.0), (-2.0, 12.6, 0.78))
    slab("concrete", (-3.4, 4.0, 0.78), (-1.85, 12.8, 0.9))
    boxes = [
        ("box-a", "Fish box on the counter", (-2.85, 4.9, 0.9), (0.8, 0.55, 0.3)),
        ("box-b", "Second fish box", (-2.8, 6.4, 0.9), (0.8, 0.55, 0.3)),
        ("box-c", "Stacked fish box", (-2.8, 6.45, 1.2), (0.75, 0.52, 0.3)),
        ("box-d", "Third fish box", (-2.85, 8.2, 0.9), (0.8, 0.55, 0.3)),
        ("floor-a", "Floor box", (1.35, 4.3, 0.0), (0.95, 0.7, 0.42)),
        ("floor-b", "Floor box on top", (1.38, 4.36, 0.42), (0.85, 0.62, 0.38)),
        ("floor-c", "Far floor box", (2.2, 7.4, 0.0), (1.0, 0.75, 0.5)),
        ("floor-d", "High stack", (2.3, 9.2, 0.0), (0.9, 0.8, 1.0)),
    ]
    known = {}
    for n, (id, name, (x, y, z), (deep, wide, high)) in enumerate(boxes):
        frame = Frame((x + wide, y, z), 0.0)
        scene.crate(id, name, frame, (deep, wide, high), f"wood{n % 3}", "COD" if id == "floor-a" else None)
        known[id] = frame
    scene.forms.clear()
    scene.edges.clear()
    scene.tin((-0.9, 9.0, 0.0), 0.16, 0.34, (0.32, 0.34, 0.35))
    scene.tin((-1.2, 5.1, 0.0), 0.17, 0.36, (0.10, 0.20, 0.24))
    scene.coil((2.9, 5.6, 0.0), 0.14, 8, 0.028)

    scene.form("hall", "Fish market", hall, kind="building")
    add = scene.edges.append
    for id, family, name, near, far in (
        ("beam-right", "depth", "colonnade beam, lower edge", at(3.62, 3.6, 3.6), at(3.62, 17.0, 3.6)),
        ("plinth-left", "depth", "wall plinth, upper edge", at(-3.94, 5.6, 0.5), at(-3.94, 17.0, 0.5)),
        ("rail-left", "depth", "painted rail, lower edge", at(-3.93, 5.6, 2.55), at(-3.93, 17.0, 2.55)),
        ("counter-top", "depth", "counter, upper edge", at(-1.85, 4.0, 0.9), at(-1.85, 12.8, 0.9)),
        ("counter-under", "depth", "counter, lower edge", at(-1.85, 4.0, 0.78), at(-1.85, 12.8, 0.78)),
        ("counter-front", "across", "counter end, upper edge", at(-1.85, 4.0, 0.9), at(-3.4, 4.0, 0.9)),
        ("lintel", "across", "opening, lower edge of the lintel", at(-1.45, 16.96, 2.7), at(2.45, 16.96, 2.7)),
        ("lintel-top", "across", "opening, upper edge of the lintel", at(-1.45, 16.96, 2.95), at(2.45, 16.96, 2.95)),
        ("post-1", "upright", "first post", at(3.7, 3.2, 0.32), at(3.7, 3.2, 3.58)),
        ("post-2", "upright", "second post", at(3.7, 6.6, 0.32), at(3.7, 6.6, 3.58)),
        ("opening-left", "upright", "opening, left side", at(-1.3, 17.0, 0.0), at(-1.3, 17.0, 2.68)),
        ("opening-right", "upright", "opening, right side", at(2.3, 17.0, 0.0), at(2.3, 17.0, 2.68)),
    ):
        add(Edge(id, "hall", family, name, near, far))
    for id, name, _, size in boxes:
        start = len(scene.edges)
        scene.hull("hall", known[id], size, names=("across", "depth"))
        for edge in scene.edges[start:]:
            edge.id = edge.id.replace("hall", id)
            edge.name = f"{name.lower()}, {edge.name}"
    return scene
